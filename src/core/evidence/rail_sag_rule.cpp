// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/evidence/witnesses.h"

namespace wheelwright {
namespace {

using R = ChannelRole;
using namespace witnesses;

constexpr double leastS = 0.3;

std::vector<BrokenStretch> find(const WatchedLog &log) {
    const double limit = 1 - log.limit("flow.sag");
    return stretchesOver(log, leastS, [&](std::size_t i) -> Judgement {
        const double share = log.railShare(i);
        return {log.fuelCut(i) ? -1 : limit - share, share, limit};
    });
}

} // namespace

const WatchRule &railSagRule() {
    static const WatchRule rule{
        "rail_sag",
        MARKED("watch.rail.title", "Rail pressure sags"),
        MARKED("watch.rail.question",
               "Is the pressure across the injectors what it should be, where most fuel is asked for?"),
        Dimension::ratio,
        {"flow.sag"},
        {R::railPressure, R::map, R::rpm},
        find,
        {{MARKED("cause.pump", "the pump cannot do more"), 0.5, {&highFlow}},
         {MARKED("cause.filter", "the filter is clogged"), 0.4, {&highFlow}},
         {MARKED("cause.voltage", "the pump gets too little voltage"), 0.2, {&lowVoltage}},
         {MARKED("cause.pickup", "the pickup runs dry"), 0.1, {}},
         {MARKED("cause.regulator", "the regulator does not follow boost"), 0.1, {}}},
        MARKED("watch.rail.call", "FUEL PRESSURE — lift"),
        MARKED("watch.rail.look", "Measure pressure and voltage at the pump under load; then the filter.")};
    return rule;
}

} // namespace wheelwright
