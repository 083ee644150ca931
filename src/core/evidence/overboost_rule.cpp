// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/evidence/witnesses.h"

#include <algorithm>

namespace wheelwright {
namespace {

using R = ChannelRole;
using namespace witnesses;

constexpr double leastS = 0.05; // a cut may end it soon
constexpr double behindS = 0.7; // a throttle that shuts takes the target away at once and the boost later
constexpr double openShare = 0.5;

std::vector<BrokenStretch> find(const WatchedLog &log) {
    const double over = log.limit("boost.overshoot");
    std::vector<double> own;
    own.reserve(log.trace().size());
    for (std::size_t i = 0; i < log.trace().size(); ++i)
        own.push_back(log.boostTarget(i));
    const std::vector<double> targets = highestLately(log.trace(), own, behindS);
    // No duty holds less than the spring does: that a target lies under it is for the checks to say.
    const double least = log.ambientKpa() + log.job().boost.springKpa;
    return stretchesOver(log, leastS, [&](std::size_t i) -> Judgement {
        const double load = log.at(R::map, i), limit = std::max(targets[i], least) + over;
        const double throttle = log.at(R::throttle, i);
        const bool asked = targets[i] == targets[i] && !(throttle < openShare);
        return {asked ? load - limit : -1, load, limit};
    });
}

} // namespace

const WatchRule &overboostRule() {
    static const WatchRule rule{
        "overboost",
        MARKED("watch.overboost.title", "Overboost"),
        MARKED("watch.overboost.question", "Does boost stay at its target?"),
        Dimension::pressure,
        {"boost.overshoot"},
        {R::map},
        find,
        {{MARKED("cause.solenoid", "the solenoid asks for more than it takes"), 0.3, {&solenoidHigh}},
         {MARKED("cause.wastegate", "the wastegate does not open far enough, or sticks"),
          0.3,
          {&oneSidedSpeed}},
         {MARKED("cause.spring", "the spring is stronger than it is said to be"), 0.2, {}},
         {MARKED("cause.hose", "a hose to the wastegate is off, or swapped"), 0.1, {}}},
        MARKED("watch.overboost.call", "OVERBOOST — lift"),
        MARKED("watch.overboost.look", "Take solenoid duty out and look at the hoses before the next pull."),
        true,
        R::boostTarget};
    return rule;
}

} // namespace wheelwright
