// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/trainer/scenario.h"

#include <cmath>

namespace wheelwright {
namespace {

std::optional<double> signContentStuck(const Examined &e) {
    const LogTrace &t = e.log().trace();
    constexpr double calmS = 20, still = 1e-4;
    std::size_t from = 0;
    for (std::size_t i = 1; i < t.size(); ++i) {
        if (std::abs(t.content(i) - t.content(from)) > still) from = i;
        if (t.timeS(i) - t.timeS(from) >= calmS) return t.timeS(i);
    }
    return std::nullopt;
}

bool reachedContentStuck(const Examined &e) {
    return e.pulls().empty() && !e.tablesTouched();
}

} // namespace

const Scenario &contentStuckScenario() {
    static const Scenario scenario{
        .id = "content_stuck",
        .title = MARKED("scenario.content_stuck.title", "A reading too calm"),
        .goal = MARKED("scenario.content_stuck.goal",
                       "High-ethanol fuel was poured yesterday and driven. The content still says what it "
                       "said. Find out whom to believe."),
        .hints = {MARKED("scenario.content_stuck.hint1", "How much does a healthy reading move by itself?"),
                  MARKED("scenario.content_stuck.hint2", "Ask somebody else what is in the tank."),
                  MARKED("scenario.content_stuck.hint3", "A test tube against the sensor.")},
        .seed = 19,
        .ethanol = 0.1,
        .faults = {{FaultId::contentStuck, 0.1}},
        .drainedL = 35,
        .pouredL = 40,
        .poured = "Seasonal high-ethanol",
        .cause = "content_stuck",
        .temptation = "not_settled",
        .confirm = "tube",
        .parMinutes = 25,
        .signWords = MARKED("scenario.content_stuck.sign",
                            "the content never moves, not by its noise, and the mixture is lean."),
        .signS = signContentStuck,
        .goalWords =
            MARKED("scenario.content_stuck.reached", "No full pull on a content that nobody has confirmed"),
        .reached = reachedContentStuck,
        .lesson = MARKED("scenario.content_stuck.lesson",
                         "A frozen reading looks like a good one. Sensor, tank arithmetic and tube must "
                         "agree before the first pull on a new content.")};
    return scenario;
}

} // namespace wheelwright
