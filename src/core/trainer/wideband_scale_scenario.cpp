// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/trainer/scenario.h"

#include <algorithm>

namespace wheelwright {
namespace {

std::optional<double> signWidebandScale(const Examined &e) {
    constexpr double lean = 0.035, idleKpa = 25, lightKpa = 45, air = 95;
    const auto idle = e.lambdaError(idleKpa, lightKpa), light = e.lambdaError(lightKpa, air);
    if (!idle || !light || idle->value < lean || light->value < lean) return std::nullopt;
    return std::max(idle->atS, light->atS);
}

bool reachedWidebandScale(const Examined &e) {
    return e.pulls().size() <= 1 && !e.tablesTouched();
}

} // namespace

const Scenario &widebandScaleScenario() {
    static const Scenario scenario{
        .id = "wideband_scale",
        .title = MARKED("scenario.wideband_scale.title", "Lean everywhere"),
        .goal =
            MARKED("scenario.wideband_scale.goal",
                   "A new wideband is in, and the whole map reads lean. Find out why before you add fuel."),
        .hints = {MARKED("scenario.wideband_scale.hint1",
                         "Is it off by the same share at idle, at cruise and in the pull?"),
                  MARKED("scenario.wideband_scale.hint2",
                         "What in the engine would be wrong by one factor everywhere?"),
                  MARKED("scenario.wideband_scale.hint3", "What is new? Look at its scale.")},
        .seed = 20,
        .ethanol = 0.1,
        .faults = {{FaultId::widebandScale, 1.08}},
        .cause = "wideband_scale",
        .temptation = "tables",
        .confirm = "wideband",
        .parMinutes = 25,
        .signWords = MARKED("scenario.wideband_scale.sign",
                            "λ is over its target by the same share at idle, at cruise and at load."),
        .signS = signWidebandScale,
        .goalWords = MARKED("scenario.wideband_scale.reached",
                            "Not one full pull more than one, and the tables left as they were"),
        .reached = reachedWidebandScale,
        .lesson = MARKED("scenario.wideband_scale.lesson",
                         "A reading that is off by one factor everywhere is the reading. 11.0 on a gasoline "
                         "scale is λ 0.75 whatever the fuel: read λ.")};
    return scenario;
}

} // namespace wheelwright
