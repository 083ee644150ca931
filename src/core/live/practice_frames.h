// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/live/can_signal.h"
#include "core/practice/practice_engine.h"

#include <vector>

namespace wheelwright {

/// What the frames of a practice engine mean: three messages at every step, and a fourth that says in turn
/// what changes slowly. Both byte orders, signed numbers and a multiplexer are in it, as in those of real
/// controllers.
const CanMap &practiceCanMap();

/// The frames of one step of the engine, each with the engine's own time.
std::vector<CanFrame> practiceFrames(const PracticeSample &sample, std::size_t step);

} // namespace wheelwright
