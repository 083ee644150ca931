// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/ladder/gate.h"
#include "core/ladder/pass_ladder.h"

namespace wheelwright {
namespace {

// In the user's own measure: only passes of one engine on one day's measure are held against one another.
GateAnswer answerPassPower(const RungEvidence &e) {
    const PassesOfPill passes = passesWith(e.job(), e.rung.pass->pillMm);
    GateAnswer a;
    if (!passes.made || !(passes.made->power > 0)) {
        a.said = MARKED("gate.pass_power.none",
                        "Nobody has recorded the power, or speed, of a pass with this pill.");
        a.toPass = MARKED("gate.pass_power.to_pass", "Record it, in the same measure for all passes.");
        a.remedy = GateRemedy::pull;
        return a;
    }
    const PassRecord &p = *passes.made;
    a.used = {{GateUse::Kind::setting, "mechanical.passes", p.at}};
    const Measured now{p.power, Dimension::none};
    a.verdict = GateVerdict::passed;
    if (!passes.before || !(passes.before->power > 0) || p.pillMm <= passes.before->pillMm) {
        a.said = {MARKED("gate.pass_power.first", "{0}; there is no richer pass to hold it against."), {now}};
        return a;
    }
    const Measured before{passes.before->power, Dimension::none};
    constexpr double scatter = 0.01; // of the same pass twice; from memory
    if (p.power < passes.before->power * (1 - scatter)) {
        a.verdict = GateVerdict::failed;
        a.said = {MARKED("gate.pass_power.fell", "Leaner made less: {0} after {1}."), {now, before}};
        a.toPass = MARKED("gate.pass_power.go_back", "Go back one pill: that was the one.");
        a.remedy = GateRemedy::stop;
        return a;
    }
    a.said = p.power > passes.before->power * (1 + scatter)
                 ? Phrase{MARKED("gate.pass_power.rose", "Leaner made more: {0} after {1}."), {now, before}}
                 : Phrase{MARKED("gate.pass_power.same",
                                 "Leaner made no more: {0} after {1}. This is about the best."),
                          {now, before}};
    return a;
}

} // namespace

const Gate &passPowerGate() {
    static const Gate gate{
        "pass_power",
        MARKED("gate.pass_power", "Power of the pass"),
        MARKED("gate.pass_power.question", "Does it still make as much as with the richer pill?"),
        {RungKind::pass},
        answerPassPower};
    return gate;
}

} // namespace wheelwright
