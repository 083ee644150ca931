// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/live/can_signal.h"

#include <cstddef>
#include <deque>
#include <mutex>
#include <vector>

namespace wheelwright {

/// Frames on their way from a bus to who reads them. It holds so many; when the reader falls behind, the
/// oldest go, and are counted. Used by two threads.
class FrameQueue {
  public:
    explicit FrameQueue(std::size_t most = 20000) : m_most(most) {}

    void push(const CanFrame &frame) {
        const std::scoped_lock lock(m_mutex);
        if (m_frames.size() >= m_most) {
            m_frames.pop_front();
            ++m_dropped;
        }
        m_frames.push_back(frame);
        ++m_heard;
    }
    /// All that are there; `to` is emptied first.
    void takeInto(std::vector<CanFrame> &to) {
        const std::scoped_lock lock(m_mutex);
        to.assign(m_frames.begin(), m_frames.end());
        m_frames.clear();
    }
    std::size_t heard() const {
        const std::scoped_lock lock(m_mutex);
        return m_heard;
    }
    std::size_t dropped() const {
        const std::scoped_lock lock(m_mutex);
        return m_dropped;
    }

  private:
    mutable std::mutex m_mutex;
    std::deque<CanFrame> m_frames;
    std::size_t m_most, m_heard = 0, m_dropped = 0;
};

} // namespace wheelwright
