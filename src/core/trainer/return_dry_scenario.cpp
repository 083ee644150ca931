// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/trainer/scenario.h"

namespace wheelwright {
namespace {

std::optional<double> signReturnDry(const Examined &e) {
    return e.firstS("content_jump");
}

bool reachedReturnDry(const Examined &e) {
    return stoppedInTime(e, signReturnDry(e));
}

} // namespace

const Scenario &returnDryScenario() {
    static const Scenario scenario{
        .id = "return_dry",
        .title = MARKED("scenario.return_dry.title", "The reading that jumps"),
        .goal = MARKED("scenario.return_dry.goal",
                       "The content jumps about, and nobody has poured anything. Find out why."),
        .hints = {MARKED("scenario.return_dry.hint1", "Does it jump at idle, or only at load?"),
                  MARKED("scenario.return_dry.hint2",
                         "It comes back when the load goes. What is different at the sensor then?"),
                  MARKED("scenario.return_dry.hint3",
                         "The sensor sits in the return line. How much flows there at full load?")},
        .seed = 12,
        .ethanol = 0.6,
        .faults = {{FaultId::returnDry, 2.5}},
        .cause = "return_dry",
        .temptation = "content_off",
        .confirm = "return_line",
        .parMinutes = 40,
        .signWords =
            MARKED("scenario.return_dry.sign", "the content jumps with the load and comes back with it."),
        .signS = signReturnDry,
        .goalWords = MARKED("scenario.return_dry.reached",
                            "After the sign no more than one pull, and the tables left as they were"),
        .reached = reachedReturnDry,
        .lesson = MARKED("scenario.return_dry.lesson",
                         "A sensor in a return line that runs dry reads air. Freeze the reading above a load "
                         "and speed, or move the sensor to the feed: the tables are not to blame.")};
    return scenario;
}

} // namespace wheelwright
