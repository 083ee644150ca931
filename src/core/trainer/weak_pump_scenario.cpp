// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/trainer/scenario.h"

namespace wheelwright {
namespace {

std::optional<double> signWeakPump(const Examined &e) {
    return e.firstS("rail_sag");
}

bool reachedWeakPump(const Examined &e) {
    return stoppedInTime(e, signWeakPump(e));
}

} // namespace

const Scenario &weakPumpScenario() {
    static const Scenario scenario{
        .id = "weak_pump",
        .title = MARKED("scenario.weak_pump.title", "Lean at the top"),
        .goal = MARKED("scenario.weak_pump.goal",
                       "It goes lean near the red line. Find out why before it melts."),
        .hints = {MARKED("scenario.weak_pump.hint1",
                         "Lean where? At one speed, at one load, or where most fuel is asked for?"),
                  MARKED("scenario.weak_pump.hint2", "Look at rail pressure and duty in the same moment."),
                  MARKED("scenario.weak_pump.hint3",
                         "Fuel in the table would hide it. What feeds the rail?")},
        .seed = 14,
        .ethanol = 0.7,
        .faults = {{FaultId::weakPump, 0.72}},
        .cause = "weak_pump",
        .temptation = "tables",
        .confirm = "pump",
        .parMinutes = 40,
        .signWords = MARKED("scenario.weak_pump.sign",
                            "rail pressure sags where most fuel is asked for, and λ goes lean with it."),
        .signS = signWeakPump,
        .goalWords = MARKED("scenario.weak_pump.reached",
                            "After the sign no more than one pull, and the tables left as they were"),
        .reached = reachedWeakPump,
        .lesson = MARKED("scenario.weak_pump.lesson",
                         "Fuel added to the table makes the injectors open longer on a pressure that falls: "
                         "the next hot day it is lean again. First the supply, then the table.")};
    return scenario;
}

} // namespace wheelwright
