// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/evidence/witnesses.h"

namespace wheelwright {
namespace {

using R = ChannelRole;
using namespace witnesses;

constexpr double leastS = 0.5, askedFromRpm = 1500, perRpm = 1000;

std::vector<BrokenStretch> find(const WatchedLog &log) {
    const double slope = log.limit("watch.oil") / perRpm;
    return stretchesOver(log, leastS, [&](std::size_t i) -> Judgement {
        const double rpm = log.at(R::rpm, i), oil = log.at(R::oilPressure, i);
        const double limit = slope * rpm + log.ambientKpa(); // the sensor reads against the air
        return {rpm > askedFromRpm ? limit - oil : -1, oil, limit};
    });
}

} // namespace

const WatchRule &oilRule() {
    static const WatchRule rule{
        "oil",
        MARKED("watch.oil.title", "Oil pressure low"),
        MARKED("watch.oil.question", "Does oil pressure keep up with the engine's speed?"),
        Dimension::pressure,
        {"watch.oil"},
        {R::oilPressure, R::rpm},
        find,
        {{MARKED("cause.oil_level", "too little oil, or it has gone away from the pickup"), 0.4, {}},
         {MARKED("cause.oil_hot", "the oil is hot and thin"), 0.2, {&hotCoolant}},
         {MARKED("cause.oil_fuel", "fuel in the oil: alcohol and rich mixtures thin it"), 0.2, {}},
         {MARKED("cause.oil_pump", "pump or bearings"), 0.2, {&oneSidedSpeed}},
         {MARKED("cause.oil_sensor", "the sensor or its scale"), 0.1, {}}},
        MARKED("watch.oil.call", "OIL PRESSURE — lift, engine off"),
        MARKED("watch.oil.look",
               "Stop the engine. Look at the level, and at the oil itself, before it runs again.")};
    return rule;
}

} // namespace wheelwright
