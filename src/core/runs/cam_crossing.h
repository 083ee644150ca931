// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/evidence/log_review.h"
#include "core/runs/run_comparison.h"

#include <optional>

namespace wheelwright {

/// Where the torque of two cams crosses: under it the low cam has more, over it the high one.
struct CamCrossing {
    std::vector<double> rpm;
    std::vector<GainEstimate> highLessLowNm; ///< at each speed
    ScatterFrom scatterFrom = ScatterFrom::none;
    std::optional<double> crossingRpm; ///< of the mean curves; empty where they do not cross that way
    std::size_t crossings = 0;         ///< times that they do
    /// 95 %: the speeds about the crossing at which nobody can tell the cams apart. Empty where nobody knows
    /// the scatter, and where they go on to the end of what was measured.
    std::optional<double> lowRpm, highRpm;
    /// Where to switch up and down again: as far from the crossing as the cams cannot be told apart, 50 rpm
    /// at least and 250 at most (common practice).
    std::optional<double> upRpm, downRpm;
    std::vector<Phrase> said;
};
inline constexpr double leastHysteresisRpm = 50, mostHysteresisRpm = 250;

/// Throws InputError as compareRuns() does.
CamCrossing camCrossing(const MeasuredRuns &low, const MeasuredRuns &high, const RunViewing &how);

/// What speaks against laying these runs over each other as two cams: they differ in more, and, where nobody
/// has said it now (`named`), nobody says which cam each was on. Empty: nothing.
std::vector<Phrase> camCautions(const Job &job, const MeasuredRuns &low, const MeasuredRuns &high,
                                bool named);

/// λ around a switch of the cam in a log.
struct LambdaAtSwitch {
    std::string log; ///< id
    double timeS = 0, rpm = 0;
    bool up = false;              ///< to the higher value of the cam's channel
    double before = 0, after = 0; ///< λ, means of half a second each, the second from 0.3 s on
    double step() const { return after - before; }
};
/// Switches under load, of a log with a cam channel of two values and λ; none of other logs.
std::vector<LambdaAtSwitch> lambdaAtSwitches(const LogReview &log);

} // namespace wheelwright
