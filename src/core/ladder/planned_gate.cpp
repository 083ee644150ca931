// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/ladder/gate.h"

#include <cmath>

namespace wheelwright {
namespace {

// A tube that was read since it was poured for this rung: where it is far off nobody need pull to see that.
const Opinion *tubeOfThisPour(const RungEvidence &e) {
    const Opinion *tube = e.opinions ? opinionBy(*e.opinions, OpinionSource::tube) : nullptr;
    if (!tube || tube->poursSince > 0 || e.pouredAt.empty()) return nullptr;
    const auto &passed = e.job().ladderPassed.values();
    return passed.empty() || passed.back().at < e.pouredAt ? tube : nullptr;
}

GateAnswer answerPlanned(const RungEvidence &e) {
    // The way down ends near the base fuel, not on it.
    const double within = e.limit(e.rung.kind == RungKind::wayDown ? "ladder.way_down" : "ladder.content");
    double worst = PullFacts::unknown;
    const auto consider = [&](double content) {
        if (!(std::abs(worst - e.rung.content) >= std::abs(content - e.rung.content))) worst = content;
    };
    for (const PullFacts *p : e.pulls)
        consider(p->content);
    for (const LightLoadFacts *l : e.lights)
        consider(l->content);
    GateAnswer a;
    if (!(worst == worst)) {
        const Opinion *tube = tubeOfThisPour(e);
        if (!tube || std::abs(tube->content.value - e.rung.content) <= within) return noPulls(e);
        a.verdict = GateVerdict::failed;
        a.used = {{GateUse::Kind::tank, std::to_string(tube->event + 1), tube->at}};
        a.said = {MARKED("gate.planned.tube", "The tube says {0}; {1} were planned, and {2} are allowed."),
                  {{tube->content.value, Dimension::content},
                   {e.rung.content, Dimension::content},
                   {within, Dimension::contentDifference}}};
        a.toPass = MARKED("gate.planned.to_pass",
                          "Replan from where the tank really is, pour, and pull again; or state "
                          "this content as a rung of its own.");
        a.remedy = GateRemedy::pour;
        return a;
    }
    a.used = usesOf(e.pulls);
    for (const LightLoadFacts *l : e.lights)
        a.used.push_back({GateUse::Kind::log, l->log, l->logName, l->beginS, l->endS});
    const Measured found{worst, Dimension::content}, planned{e.rung.content, Dimension::content},
        allowed{within, Dimension::contentDifference};
    if (std::abs(worst - e.rung.content) <= within) {
        a.verdict = GateVerdict::passed;
        a.said = {MARKED("gate.planned.held", "Ran on {0}; {1} were planned."), {found, planned}};
        return a;
    }
    a.verdict = GateVerdict::failed;
    a.said = {MARKED("gate.planned.off", "Ran on {0}; {1} were planned, and {2} are allowed."),
              {found, planned, allowed}};
    a.toPass =
        MARKED("gate.planned.to_pass", "Replan from where the tank really is, pour, and pull again; or state "
                                       "this content as a rung of its own.");
    a.remedy = GateRemedy::pour;
    return a;
}

} // namespace

const Gate &plannedGate() {
    static const Gate gate{
        "planned",
        MARKED("gate.planned", "Content as planned"),
        MARKED("gate.planned.question", "Is the content that it ran on the one that was planned?"),
        {RungKind::baseBoost, RungKind::content, RungKind::topBoost, RungKind::wayDown},
        answerPlanned,
        false,
        {"ladder.content", "ladder.way_down"}};
    return gate;
}

} // namespace wheelwright
