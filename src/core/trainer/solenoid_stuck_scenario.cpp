// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/trainer/scenario.h"

namespace wheelwright {
namespace {

std::optional<double> signSolenoidStuck(const Examined &e) {
    constexpr double underKpa = 12, leastS = 1.0, open = 0.8;
    const LogTrace &t = e.log().trace();
    for (const Episode &p : e.pulls()) {
        double s = 0;
        for (std::size_t i = p.from; i <= p.to; ++i) {
            const bool under = t.at(ChannelRole::throttle, i) > open && t.at(ChannelRole::rpm, i) > 3500 &&
                               e.log().boostTarget(i) - t.at(ChannelRole::map, i) > underKpa;
            s = under ? s + t.stepS() : 0;
            if (s >= leastS) return t.timeS(i);
        }
    }
    return std::nullopt;
}

bool reachedSolenoidStuck(const Examined &e) {
    return stoppedInTime(e, signSolenoidStuck(e));
}

} // namespace

const Scenario &solenoidStuckScenario() {
    static const Scenario scenario{
        .id = "solenoid_stuck",
        .title = MARKED("scenario.solenoid_stuck.title", "Boost that does not listen"),
        .goal = MARKED("scenario.solenoid_stuck.goal",
                       "The target rises and boost stays where it is. Find out why."),
        .hints = {MARKED("scenario.solenoid_stuck.hint1", "What does the duty do, and what does boost do?"),
                  MARKED("scenario.solenoid_stuck.hint2", "Boost at any duty is that of the spring. What "
                                                          "lies between the controller and the wastegate?"),
                  MARKED("scenario.solenoid_stuck.hint3",
                         "Drive the solenoid by hand and listen; measure the spring.")},
        .seed = 22,
        .ethanol = 0.6,
        .faults = {{FaultId::solenoidStuck, 0.0}},
        .cause = "solenoid_stuck",
        .temptation = "intake_leak",
        .confirm = "solenoid",
        .parMinutes = 35,
        .signWords = MARKED("scenario.solenoid_stuck.sign",
                            "duty rises, and boost stays far under its target for the whole pull."),
        .signS = signSolenoidStuck,
        .goalWords = MARKED("scenario.solenoid_stuck.reached",
                            "After the sign no more than one pull, and the tables left as they were"),
        .reached = reachedSolenoidStuck,
        .lesson = MARKED("scenario.solenoid_stuck.lesson",
                         "More duty in the table does nothing while the solenoid is stuck, and far too much "
                         "on the day it comes free. First the part, then the table.")};
    return scenario;
}

} // namespace wheelwright
