// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/ladder/gate.h"
#include "core/ladder/pass_ladder.h"

namespace wheelwright {
namespace {

GateAnswer answerPassMade(const RungEvidence &e) {
    const PassPlan &plan = *e.rung.pass;
    const PassesOfPill passes = passesWith(e.job(), plan.pillMm);
    const Measured pill{plan.pillMm, Dimension::length};
    GateAnswer a;
    if (!passes.made) {
        a.said = {MARKED("gate.pass_made.none", "No pass with a {0} pill is recorded."), {pill}};
        a.toPass = {MARKED("gate.pass_made.to_pass", "Fit the {0} pill, make one pass, shut off clean; "
                                                     "record exhaust, power, start, plugs and oil."),
                    {pill}};
        a.remedy = GateRemedy::pull;
        return a;
    }
    a.verdict = GateVerdict::passed;
    a.said = {MARKED("gate.pass_made.held", "A pass with the {0} pill is recorded, {a}."),
              {pill},
              {passes.made->at}};
    a.used = {{GateUse::Kind::setting, "mechanical.passes", passes.made->at}};
    return a;
}

} // namespace

const Gate &passMadeGate() {
    static const Gate gate{"pass_made",
                           MARKED("gate.pass_made", "Pass made"),
                           MARKED("gate.pass_made.question", "Has a pass been made with this pill?"),
                           {RungKind::pass},
                           answerPassMade};
    return gate;
}

} // namespace wheelwright
