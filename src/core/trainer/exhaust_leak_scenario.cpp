// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/trainer/scenario.h"

#include <algorithm>

namespace wheelwright {
namespace {

std::optional<double> signExhaustLeak(const Examined &e) {
    constexpr double lean = 0.04, idleKpa = 25, lightKpa = 45, loadKpa = 80, highKpa = 400, fades = 0.5;
    const auto idle = e.lambdaError(idleKpa, lightKpa), load = e.lambdaError(loadKpa, highKpa);
    if (!idle || !load || idle->value < lean || load->value > fades * idle->value) return std::nullopt;
    return std::max(idle->atS, load->atS);
}

bool reachedExhaustLeak(const Examined &e) {
    return !e.tablesTouched();
}

} // namespace

const Scenario &exhaustLeakScenario() {
    static const Scenario scenario{
        .id = "exhaust_leak",
        .title = MARKED("scenario.exhaust_leak.title", "Lean when it loafs"),
        .goal =
            MARKED("scenario.exhaust_leak.goal", "At idle and light load it reads lean, at full load it is "
                                                 "right. Find out why before you richen the cruise cells."),
        .hints = {MARKED("scenario.exhaust_leak.hint1", "Compare idle, cruise and a hold at load."),
                  MARKED("scenario.exhaust_leak.hint2",
                         "What adds air to the exhaust when little flows, and next to none when much does?"),
                  MARKED("scenario.exhaust_leak.hint3", "Look at the joints before the wideband.")},
        .seed = 21,
        .ethanol = 0.1,
        .faults = {{FaultId::exhaustLeak, 0.3}},
        .cause = "exhaust_leak",
        .temptation = "tables",
        .confirm = "exhaust",
        .parMinutes = 35,
        .signWords = MARKED("scenario.exhaust_leak.sign",
                            "λ reads lean where little flows and right where much does."),
        .signS = signExhaustLeak,
        .goalWords = MARKED("scenario.exhaust_leak.reached", "The tables left as they were"),
        .reached = reachedExhaustLeak,
        .lesson = MARKED(
            "scenario.exhaust_leak.lesson",
            "Air that leaks into the exhaust reads lean and is not: fuel added for it washes the bores.")};
    return scenario;
}

} // namespace wheelwright
