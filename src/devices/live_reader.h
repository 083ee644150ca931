// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/live/live_sampler.h"
#include "devices/bus_listener.h"

#include <condition_variable>
#include <memory>
#include <mutex>
#include <string>
#include <thread>
#include <vector>

namespace wheelwright {

/// Reads what a listener hears, in a thread of its own: what each channel says now, rows at even times, and
/// rows kept twice a second while a recording runs. Whoever shows it asks for moments and never waits for a
/// disk.
class LiveReader {
  public:
    struct Settings {
        double hz = 50; ///< rows a second
        double keepEveryS =
            0.4; ///< a recording that is cut short loses no more than this and what is under way
        double remembersS = 120; ///< rows that are there to be judged
    };
    LiveReader(const CanMap &map, FrameQueue &queue, LiveClock clock, Settings settings);
    LiveReader(const CanMap &map, FrameQueue &queue, LiveClock clock)
        : LiveReader(map, queue, std::move(clock), Settings{}) {}
    ~LiveReader(); ///< ends a recording, too
    LiveReader(const LiveReader &) = delete;
    LiveReader &operator=(const LiveReader &) = delete;

    const CanDecoder &decoder() const { return m_decoder; }

    /// What is there now.
    struct Moment {
        double atS = 0;
        std::vector<double> values{}; ///< of the channels; not a number: silent
        double lastHeardS = -1;       ///< when the last frame came that the map knows; −1: none yet
        std::size_t known = 0, unknown = 0, dropped = 0, heard = 0; ///< frames
        bool recording = false;
        double recordedS = 0;
        std::size_t keptRows = 0;
        Phrase trouble{}; ///< why a recording has ended by itself
    };
    Moment moment() const;
    /// Rows that are remembered, the newest last; their times go on while nothing is recorded, too.
    LiveRows rows() const;

    /// Rows go into the sink from now on, at 0 s. What is remembered begins anew.
    void record(std::shared_ptr<RowSink> sink);
    /// All rows until now are kept when it returns.
    void endRecording();
    /// Into the next row.
    void event(const std::string &what);

  private:
    void work(std::stop_token stop);
    void turn(std::unique_lock<std::mutex> &lock);
    void keepRows(std::unique_lock<std::mutex> &lock);

    CanDecoder m_decoder;
    FrameQueue &m_queue;
    LiveClock m_clock;
    Settings m_settings;
    mutable std::mutex m_mutex;
    std::condition_variable_any m_wake;
    LiveSampler m_sampler;
    LiveRows m_remembered, m_waiting;
    std::shared_ptr<RowSink> m_sink;
    Moment m_moment;
    bool m_ending = false;
    double m_keptS = 0, m_rowBeginS = 0;
    std::vector<CanFrame> m_frames;
    std::jthread m_thread;
};

} // namespace wheelwright
