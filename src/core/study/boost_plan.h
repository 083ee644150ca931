// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/monotone_fit.h"
#include "core/base/phrase.h"
#include "core/study/study.h"

#include <optional>
#include <vector>

namespace wheelwright {

/// Pulls that belong together: one gear, one content.
struct BoostGroup {
    double gear = 0;    ///< 0: not stated
    double content = 0; ///< mean of its points
    std::vector<BoostPoint> points;
    std::optional<MonotoneFit> fit; ///< with at least two different duties
};

/// The logged points by gear and by content, gears first. Contents that lie within 7.5 % of the next belong
/// to one group.
std::vector<BoostGroup> boostGroups(const Job &job);

/// The group to plan with: the gear that is asked for (0: any) and the nearest content. nullptr without one
/// that has a fit.
const BoostGroup *boostGroupFor(const std::vector<BoostGroup> &groups, double gear, double content);

/// The duty, 0–1, at which pulls came to that boost, kPa gauge: the logged curve, and on along its last rise
/// beyond them; over 1 where none does.
double dutyFor(const MonotoneFit &fit, double boostKpa);

struct BoostStep {
    double duty = 0;     ///< 0–1
    double boostKpa = 0; ///< gauge, expected
    double sigmaKpa = 0; ///< scatter of the points about their curve
    double cutKpa = 0;   ///< overboost cut for this pull, absolute
    bool beyond = false; ///< past every logged point, along the last slope
};

/// The overboost cut for a pull at a boost, absolute: a step over it, never less than boost.cut.room and just
/// over the overshoot that the job allows for, under the engine's limit at that content and what the MAP
/// sensor reads.
struct OverboostCut {
    double kpa = 0; ///< absolute
    Phrase why;     ///< there is no room for one; empty: there is
};
OverboostCut overboostCut(const Job &job, double boostKpa, double content);

/// One small step a pull from the highest boost that was logged up to the target.
struct BoostStepPlan {
    double fromKpa = 0;   ///< gauge, the highest logged
    double targetKpa = 0; ///< gauge, at the content
    std::vector<BoostStep> steps;
    Phrase remark; ///< why there are none, or why they end before the target; empty text: they reach it
};

/// Steps of at most the limits boost.step (pressure) and boost.step.duty, whichever is less, each with its
/// cut. The logged curve goes on along its last rise. group: from boostGroupFor().
BoostStepPlan planBoostSteps(const Study &study, const BoostGroup &group, double content);

} // namespace wheelwright
