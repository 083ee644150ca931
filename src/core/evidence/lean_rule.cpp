// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/evidence/witnesses.h"

namespace wheelwright {
namespace {

using R = ChannelRole;
using namespace witnesses;

constexpr double leastS = 0.2;  // common practice
constexpr double behindS = 0.5; // λ comes later than what it speaks of: delay and sensor together
constexpr double afterCutS = 1; // air of a fuel cut is still on its way to the sensor

std::vector<BrokenStretch> find(const WatchedLog &log) {
    const double by = log.limit("watch.lean"), from = log.limit("watch.lean.load");
    std::vector<double> own;
    own.reserve(log.trace().size());
    for (std::size_t i = 0; i < log.trace().size(); ++i)
        own.push_back(log.lambdaTarget(i));
    const std::vector<double> targets = highestLately(log.trace(), own, behindS);
    return stretchesOver(log, leastS, [&](std::size_t i) -> Judgement {
        const double lambda = log.at(R::lambda, i), limit = targets[i] + by;
        const bool asked = log.at(R::map, i) > from && log.sinceCutS(i) > afterCutS;
        return {asked ? lambda - limit : -1, lambda, limit};
    });
}

} // namespace

const WatchRule &leanRule() {
    static const WatchRule rule{
        "lean",
        MARKED("watch.lean.title", "Lean under boost"),
        MARKED("watch.lean.question", "Is λ on its target wherever the engine is loaded?"),
        Dimension::mixture,
        {"watch.lean", "watch.lean.load"},
        {R::lambda, R::map},
        find,
        {{MARKED("cause.rail", "the fuel supply is at its end: pump, filter or voltage"),
          0.5,
          {&railSags, &highFlow}},
         {MARKED("cause.injectors", "the injectors are too small for this"), 0.3, {&injectorsFull}},
         {MARKED("cause.spray", "the spray has run out, and the tables count on it"), 0.2, {&sprayStops}},
         {MARKED("cause.content", "the content is not what the sensor says"),
          0.1,
          {&contentMoves, &leanEverywhere}},
         {MARKED("cause.wideband", "the wideband is on another scale, or off"), 0.1, {&leanEverywhere}},
         {MARKED("cause.leak", "the exhaust leaks before the sensor"), 0, {&leanAtLowFlow}},
         {MARKED("cause.tables", "the fuel table is lean here"), 0.2, {}}},
        MARKED("watch.lean.call", "LEAN — lift"),
        MARKED("watch.lean.look",
               "Stop pulling. Look at rail pressure and duty first, then at the fuel table in this cell."),
        true,
        R::lambdaTarget};
    return rule;
}

} // namespace wheelwright
