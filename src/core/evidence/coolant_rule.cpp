// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/evidence/witnesses.h"

namespace wheelwright {
namespace {

using R = ChannelRole;
using namespace witnesses;

constexpr double leastS = 1;

std::vector<BrokenStretch> find(const WatchedLog &log) {
    const double limit = log.limit("watch.coolant");
    return stretchesOver(log, leastS, [&](std::size_t i) -> Judgement {
        const double c = log.at(R::coolantTemp, i);
        return {c - limit, c, limit};
    });
}

} // namespace

const WatchRule &coolantRule() {
    static const WatchRule rule{
        "coolant",
        MARKED("watch.coolant.title", "Coolant hot"),
        MARKED("watch.coolant.question", "Does the engine keep its temperature?"),
        Dimension::temperature,
        {"watch.coolant"},
        {R::coolantTemp},
        find,
        {{MARKED("cause.airflow", "too little air through the radiator"), 0.4, {}},
         {MARKED("cause.coolant_level", "too little coolant, or air in it"), 0.3, {}},
         {MARKED("cause.thermostat", "thermostat or pump"), 0.2, {}},
         {MARKED("cause.late_spark", "late spark or lean mixture heats it"), 0.1, {&lambdaLean}}},
        MARKED("watch.coolant.call", "HOT — cool down"),
        MARKED("watch.coolant.look", "Stop pulling and let it cool down at idle with the fans on.")};
    return rule;
}

} // namespace wheelwright
