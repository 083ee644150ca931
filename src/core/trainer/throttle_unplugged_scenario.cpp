// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/trainer/scenario.h"

namespace wheelwright {
namespace {

std::optional<double> signThrottleUnplugged(const Examined &e) {
    return e.firstS("flat_sensor");
}

bool reachedThrottleUnplugged(const Examined &e) {
    return stoppedInTime(e, signThrottleUnplugged(e));
}

} // namespace

const Scenario &throttleUnpluggedScenario() {
    static const Scenario scenario{
        .id = "throttle_unplugged",
        .title = MARKED("scenario.throttle_unplugged.title", "After a repair"),
        .goal = MARKED("scenario.throttle_unplugged.goal",
                       "The car came back from a repair and makes no boost. Find out why."),
        .hints = {MARKED("scenario.throttle_unplugged.hint1", "What does the controller know of your foot?"),
                  MARKED("scenario.throttle_unplugged.hint2",
                         "Compare the throttle with the manifold pressure over a pull."),
                  MARKED("scenario.throttle_unplugged.hint3",
                         "Move the throttle by hand and watch the reading.")},
        .seed = 15,
        .ethanol = 0.1,
        .faults = {{FaultId::throttleUnplugged, 18}},
        .cause = "throttle_unplugged",
        .temptation = "solenoid_stuck",
        .confirm = "throttle",
        .parMinutes = 25,
        .signWords = MARKED("scenario.throttle_unplugged.sign",
                            "the throttle reads the same at idle and in the pull."),
        .signS = signThrottleUnplugged,
        .goalWords = MARKED("scenario.throttle_unplugged.reached",
                            "After the sign no more than one pull, and the tables left as they were"),
        .reached = reachedThrottleUnplugged,
        .lesson = MARKED("scenario.throttle_unplugged.lesson",
                         "After any repair begin at the beginning: idle, light load, one short pull. The "
                         "first pull tells nothing while a sensor is unplugged.")};
    return scenario;
}

} // namespace wheelwright
