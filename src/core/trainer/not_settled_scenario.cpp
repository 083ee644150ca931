// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/trainer/scenario.h"

#include <cmath>

namespace wheelwright {
namespace {

std::optional<double> signNotSettled(const Examined &e) {
    const LogTrace &t = e.log().trace();
    constexpr double movedBy = 0.08;
    for (std::size_t i = 0; i < t.size(); ++i)
        if (t.content(i) - t.content(0) > movedBy) return t.timeS(i);
    return std::nullopt;
}

bool reachedNotSettled(const Examined &e) {
    constexpr double same = 0.03;
    const LogTrace &t = e.log().trace();
    if (e.pulls().empty()) return false;
    for (const Episode &p : e.pulls())
        if (std::abs(t.content(p.from) - e.training().tankContent) > same ||
            std::abs(t.content(p.to) - t.content(p.from)) > same)
            return false;
    return true;
}

} // namespace

const Scenario &notSettledScenario() {
    static const Scenario scenario{
        .id = "not_settled",
        .title = MARKED("scenario.not_settled.title", "Poured a moment ago"),
        .goal = MARKED("scenario.not_settled.goal",
                       "Seasonal high-ethanol fuel has just been poured on pump fuel. Find out what the "
                       "engine may be pulled on, then make one full pull that proves it."),
        .hints = {MARKED("scenario.not_settled.hint1",
                         "Watch the content while the engine runs, before you pull."),
                  MARKED("scenario.not_settled.hint2", "Line, rail and surge tank still hold what was in "
                                                       "them. Two or three minutes of driving is usual."),
                  MARKED("scenario.not_settled.hint3",
                         "Cruise until the reading stands still, confirm with a tube, then pull once.")},
        .seed = 11,
        .ethanol = 0.1,
        .drainedL = 25,
        .pouredL = 30,
        .poured = "Seasonal high-ethanol",
        .cause = "not_settled",
        .temptation = "tables",
        .confirm = "tube",
        .parMinutes = 20,
        .signWords =
            MARKED("scenario.not_settled.sign", "the content was still moving when the engine first ran."),
        .signS = signNotSettled,
        .goalWords = MARKED("scenario.not_settled.reached",
                            "Every pull at a content that stood still and is that of the tank"),
        .reached = reachedNotSettled,
        .lesson = MARKED("scenario.not_settled.lesson",
                         "What the tables blend for is what is in the rail, not what is in the tank. A pull "
                         "before the reading stands still is tuned for a fuel that is gone a minute later.")};
    return scenario;
}

} // namespace wheelwright
