// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/job/logs.h"

#include <QString>

#include <utility>

namespace wheelwright {

// What the strip is measured out by: heights of its parts in pixels, scales of its lanes, words of its times.
namespace strip {

inline constexpr int readingWidth = 76; ///< beside the lanes
inline constexpr int overviewHeight = 30, ribbonHeight = 22, keptHeight = 8, axisHeight = 20, partGap = 3;
inline constexpr double leastSpanS = 0.05; ///< no closer than this

/// Lowest and highest of a lane, in the unit of its role: of the whole log, so that nothing jumps while one
/// goes along. A channel that stands still shows a line, not its noise.
std::pair<double, double> scaleFor(const LogChannel &channel);
/// "12.5", from a minute on "3:20"; so many digits as the step asks for.
QString clockText(double seconds, double stepS, const UnitChoice &units);

} // namespace strip

} // namespace wheelwright
