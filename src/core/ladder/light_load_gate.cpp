// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/ladder/gate.h"

#include <cmath>

namespace wheelwright {
namespace {

constexpr double leastS = 10; // common practice

bool firstAtItsContent(const RungEvidence &e) {
    for (const Rung &r : e.ladder.rungs)
        if (hasPulls(r.kind) && r.content == e.rung.content) return r.id == e.rung.id;
    return false;
}

GateAnswer answerLightLoad(const RungEvidence &e) {
    GateAnswer a;
    double seconds = 0;
    const LightLoadFacts *last = nullptr;
    for (const LightLoadFacts *l : e.lights)
        if (l->lambdaError == l->lambdaError) {
            seconds += l->lambdaS;
            last = l;
            a.used.push_back({GateUse::Kind::log, l->log, l->logName, l->beginS, l->endS});
        }
    if (!last || seconds < leastS) {
        a.said = {
            MARKED("gate.light_load.none",
                   "{0} of cruise or holds without boost are logged with λ at this content; {1} are wanted."),
            {{seconds, Dimension::seconds}, {leastS, Dimension::seconds}}};
        a.toPass =
            MARKED("gate.light_load.to_pass",
                   "Idle, cruise and part throttle first, in a high gear, logged: no boost before that.");
        a.remedy = GateRemedy::lightLoad;
        return a;
    }
    const double within = e.limit("lambda.model.tolerance"), off = last->lambdaError;
    const Measured by{std::abs(off), Dimension::mixture, 3};
    if (std::abs(off) <= within) {
        a.verdict = GateVerdict::passed;
        a.said = {MARKED("gate.light_load.held", "Without boost {0} from its target, over {1}."),
                  {by, {seconds, Dimension::seconds}}};
        return a;
    }
    a.verdict = GateVerdict::failed;
    a.said = off > 0
                 ? Phrase{MARKED("gate.light_load.lean", "Lean before there is any boost, by {0}."), {by}}
                 : Phrase{MARKED("gate.light_load.rich", "Rich before there is any boost, by {0}."), {by}};
    a.toPass = MARKED("gate.light_load.correct",
                      "Correct the fuel by these logs, over all of the table, before any boost.");
    a.remedy = GateRemedy::correctFuel;
    return a;
}

} // namespace

const Gate &lightLoadGate() {
    static const Gate gate{"light_load",
                           MARKED("gate.light_load", "Light load first"),
                           MARKED("gate.light_load.question", "Is λ right before there is any boost?"),
                           {RungKind::baseBoost, RungKind::content},
                           answerLightLoad,
                           false,
                           {"lambda.model.tolerance"},
                           firstAtItsContent};
    return gate;
}

} // namespace wheelwright
