// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/live/can_signal.h"

#include <cstdint>
#include <span>
#include <string>
#include <unordered_map>
#include <vector>

namespace wheelwright {

/// Turns frames into numbers by a map. Reads only; nothing here makes a frame.
class CanDecoder {
  public:
    /// Throws InputError as validate().
    explicit CanDecoder(const CanMap &map);

    struct Channel {
        std::string name; ///< of the signal; with that of its message before it where two have it
        const CanSignal *signal;
    };
    const std::vector<Channel> &channels() const { return m_channels; }

    /// Takes a frame into the values of the channels, which keep what they had where the frame says nothing
    /// of them. values: as many as channels. False for a frame that the map does not know, or that is too
    /// short for all of its signals. changed: which were in the frame; may be nullptr.
    bool take(const CanFrame &frame, std::span<double> values,
              std::vector<std::size_t> *changed = nullptr) const;

  private:
    struct Known {
        const CanMessage *message;
        const CanSignal *multiplexer = nullptr;
        std::size_t first; ///< channel of its first signal
    };
    static std::uint64_t keyOf(std::uint32_t id, bool extended) {
        return (std::uint64_t(extended) << 32U) | id;
    }

    CanMap m_map;
    std::vector<Channel> m_channels;
    std::unordered_map<std::uint64_t, Known> m_known;
};

} // namespace wheelwright
