// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/evidence/witnesses.h"

namespace wheelwright {
namespace {

using R = ChannelRole;
using namespace witnesses;

constexpr double leastS = 0.2;

std::vector<BrokenStretch> find(const WatchedLog &log) {
    const double caution = log.limit("flow.duty.caution"), stop = log.limit("flow.duty.stop");
    auto found = stretchesOver(log, leastS, [&](std::size_t i) -> Judgement {
        const double duty = log.at(R::duty, i);
        return {duty - caution, duty, caution};
    });
    for (BrokenStretch &s : found)
        if (s.value > stop) s.limit = stop;
    return found;
}

} // namespace

const WatchRule &dutyRule() {
    static const WatchRule rule{
        "duty",
        MARKED("watch.duty.title", "Injector duty"),
        MARKED("watch.duty.question", "Have the injectors room left?"),
        Dimension::ratio,
        {"flow.duty.caution", "flow.duty.stop"},
        {R::duty},
        find,
        {{MARKED("cause.injectors", "the injectors are too small for this"), 0.5, {}},
         {MARKED("cause.rail_duty", "rail pressure sags and the pulses make up for it"), 0.2, {&railSags}},
         {MARKED("cause.rich_target", "the content asks for more fuel than was planned for"),
          0.1,
          {&contentMoves}}},
        MARKED("watch.duty.call", "INJECTORS FULL — lift"),
        MARKED("watch.duty.look", "Flow shows what boost and content these injectors allow.")};
    return rule;
}

} // namespace wheelwright
