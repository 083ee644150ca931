// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/explanation.h"
#include "core/runs/boost_shape.h"
#include "core/runs/cam_crossing.h"
#include "core/runs/run_gain.h"
#include "core/runs/run_pulls.h"
#include "core/runs/run_worth.h"

#include <cstddef>

namespace wheelwright {

// The working of the numbers that sheets of runs show. Each takes what the number was worked out from.

/// The standard deviation of one run, from so many sets of the same everything.
Explanation explainScatter(const RunScatter &scatter, std::size_t sets);
/// How many runs of each kind tell a gain from the scatter: two or more, as runsToSee() found them.
Explanation explainRunsToSee(double gainKw, int runs, const RunScatter &scatter);
/// The average power at a content, and the step to the rung above it.
Explanation explainContentRung(const ContentRung &rung, const ContentLadder &ladder);
Explanation explainContentStep(const ContentRung &rung, const ContentLadder &ladder);
Explanation explainCrossing(const CamCrossing &crossing);

enum class BoostNumber { reached, held, spike, drift };
Explanation explainBoostShape(const BoostShape &shape, BoostNumber which);

Explanation explainDyno(const DynoFactor &factor);
/// The peak of a run as it was measured.
Explanation explainPeak(const MeasuredRun &run);

} // namespace wheelwright
