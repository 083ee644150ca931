// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/evidence/witnesses.h"

namespace wheelwright {
namespace {

using R = ChannelRole;
using namespace witnesses;

constexpr double leastS = 1, askedFromRpm = 1000;

std::vector<BrokenStretch> find(const WatchedLog &log) {
    const double limit = log.limit("watch.battery");
    return stretchesOver(log, leastS, [&](std::size_t i) -> Judgement {
        const double v = log.at(R::battery, i);
        return {log.at(R::rpm, i) > askedFromRpm ? limit - v : -1, v, limit};
    });
}

} // namespace

const WatchRule &batteryRule() {
    static const WatchRule rule{
        "battery",
        MARKED("watch.battery.title", "Battery low"),
        MARKED("watch.battery.question", "Does the alternator keep the voltage up?"),
        Dimension::voltage,
        {"watch.battery"},
        {R::battery, R::rpm},
        find,
        {{MARKED("cause.alternator", "the alternator, its belt or its cable"), 0.5, {}},
         {MARKED("cause.load", "pumps and fans take more than it gives"), 0.3, {&highFlow}},
         {MARKED("cause.ground", "a poor ground of the controller"), 0.2, {}}},
        MARKED("watch.battery.call", "Battery low"),
        MARKED("watch.battery.look",
               "Dead times grow and pumps slow down: put the voltage right before you trust any mixture.")};
    return rule;
}

} // namespace wheelwright
