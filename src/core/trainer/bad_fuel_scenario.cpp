// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/trainer/scenario.h"

namespace wheelwright {
namespace {

std::optional<double> signBadFuel(const Examined &e) {
    return e.firstS("knock");
}

bool reachedBadFuel(const Examined &e) {
    return stoppedInTime(e, signBadFuel(e));
}

} // namespace

const Scenario &badFuelScenario() {
    static const Scenario scenario{
        .id = "bad_fuel",
        .title = MARKED("scenario.bad_fuel.title", "A new tank of the same"),
        .goal = MARKED("scenario.bad_fuel.goal",
                       "Filled up yesterday with the same fuel as ever, and now it knocks. Find out why."),
        .hints = {MARKED("scenario.bad_fuel.hint1", "What has changed since it was clean?"),
                  MARKED("scenario.bad_fuel.hint2", "λ is right, spark is what it was. What is left?"),
                  MARKED("scenario.bad_fuel.hint3",
                         "Try the same pull on fuel of another station, with less spark until then.")},
        .seed = 18,
        .ethanol = 0.1,
        .faults = {{FaultId::badFuel, 9}},
        .cause = "bad_fuel",
        .temptation = "base_timing",
        .confirm = "other_fuel",
        .parMinutes = 90,
        .signWords =
            MARKED("scenario.bad_fuel.sign", "it knocks at spark that was clean, with λ on its target."),
        .signS = signBadFuel,
        .goalWords = MARKED("scenario.bad_fuel.reached",
                            "After the sign no more than one pull, and the tables left as they were"),
        .reached = reachedBadFuel,
        .lesson = MARKED("scenario.bad_fuel.lesson",
                         "Fuel is the one part that is another every week. When nothing else has changed, "
                         "believe the knock and not the label.")};
    return scenario;
}

} // namespace wheelwright
