// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/ladder/gate.h"
#include "core/ladder/pass_ladder.h"

namespace wheelwright {
namespace {

GateAnswer answerStarts(const RungEvidence &e) {
    const PassesOfPill passes = passesWith(e.job(), e.rung.pass->pillMm);
    GateAnswer a;
    if (!passes.made) {
        a.said = MARKED("gate.starts.none", "No pass with this pill says how it started.");
        a.toPass = MARKED("gate.starts.to_pass", "Record the pass, and whether it was hard to start.");
        a.remedy = GateRemedy::pull;
        return a;
    }
    a.used = {{GateUse::Kind::setting, "mechanical.passes", passes.made->at}};
    if (!passes.made->hardStart) {
        a.verdict = GateVerdict::passed;
        a.said = MARKED("gate.starts.held", "It started well.");
        return a;
    }
    a.verdict = GateVerdict::failed;
    a.said = MARKED("gate.starts.hard", "Hard to start: the bottom end is lean.");
    a.toPass = MARKED("gate.starts.stop",
                      "No larger main pill. Lean only the top, by a high-speed bypass or the pump spring.");
    a.remedy = GateRemedy::stop;
    return a;
}

} // namespace

const Gate &startsGate() {
    static const Gate gate{"starts",
                           MARKED("gate.starts", "Starts well"),
                           MARKED("gate.starts.question", "Does it start as it did?"),
                           {RungKind::pass},
                           answerStarts};
    return gate;
}

} // namespace wheelwright
