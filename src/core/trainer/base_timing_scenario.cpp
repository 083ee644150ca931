// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/trainer/scenario.h"

namespace wheelwright {
namespace {

std::optional<double> signBaseTiming(const Examined &e) {
    return e.firstS("knock");
}

bool reachedBaseTiming(const Examined &e) {
    return stoppedInTime(e, signBaseTiming(e));
}

} // namespace

const Scenario &baseTimingScenario() {
    static const Scenario scenario{
        .id = "base_timing",
        .title = MARKED("scenario.base_timing.title", "Knock from nowhere"),
        .goal = MARKED("scenario.base_timing.goal",
                       "It knocks at spark that every engine of this kind stands. Find out why, gently."),
        .hints = {MARKED("scenario.base_timing.hint1", "Is the commanded spark what the tables say?"),
                  MARKED("scenario.base_timing.hint2", "Is what is commanded what is delivered?"),
                  MARKED("scenario.base_timing.hint3",
                         "Verify base timing with a light against true top dead centre.")},
        .seed = 16,
        .ethanol = 0.1,
        .faults = {{FaultId::baseTiming, 9}},
        .cause = "base_timing",
        .temptation = "bad_fuel",
        .confirm = "timing_light",
        .parMinutes = 35,
        .signWords =
            MARKED("scenario.base_timing.sign", "knock control takes spark away at spark that is not early."),
        .signS = signBaseTiming,
        .goalWords = MARKED("scenario.base_timing.reached",
                            "After the sign no more than one pull, and the tables left as they were"),
        .reached = reachedBaseTiming,
        .lesson = MARKED("scenario.base_timing.lesson",
                         "Spark commanded is not spark delivered. Base timing is looked at before the first "
                         "pull: within 1° is good, 13° out has been seen.")};
    return scenario;
}

} // namespace wheelwright
