// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/live/can_signal.h"

#include <functional>
#include <string_view>

namespace wheelwright {

/// What came of reading a recorded bus.
struct CanTraceRead {
    std::string_view format; ///< "candump", "asc"
    std::size_t frames = 0;  ///< handed on
    std::size_t leftOut = 0; ///< lines of error and remote frames, and of other buses' events
};

/// Reads a text that holds the frames of a bus, line by line, in its order: what candump writes with -L or to
/// the screen, and ASC. Times in seconds as the text has them. Throws InputError naming the line for what is
/// neither, for a frame that ends early and for a text without frames.
CanTraceRead readCanTrace(std::string_view text, const std::function<void(const CanFrame &)> &each);

} // namespace wheelwright
