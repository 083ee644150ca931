// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/ladder/rung.h"
#include "core/study/study.h"

namespace wheelwright {

/// The ladder of mechanical injection: pass by pass from a rich pill to the goal, one pill step each, as the
/// trade does it (common practice; limits ladder.pass.*). A pill is its rung. Where a pass was hard to start
/// no larger main pill follows: the bottom end is lean first.
Ladder planPasses(const Study &study);

/// The record of the last pass with this pill, and the one before it in time; nullptr: none.
struct PassesOfPill {
    const PassRecord *made = nullptr;
    const PassRecord *before = nullptr; ///< with another pill
};
PassesOfPill passesWith(const Job &job, double pillMm);

/// λ at a speed with another main pill, in the air of today.
double passLambda(const Job &job, double pillMm, double rpm);
/// Exhaust of a pass at that λ (at the speed where pills are judged), by a straight line through the passes
/// that have read it, other than those with `without`, and what is usual (docs/sources.md).
Uncertain passExhaust(const Job &job, double lambda, double withoutPillMm = 0);

} // namespace wheelwright
