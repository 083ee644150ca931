// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/ladder/gate.h"

namespace wheelwright {
namespace {

GateAnswer answerBeforeAfter(const RungEvidence &e) {
    GateAnswer a;
    const Run *before = nullptr, *after = nullptr;
    for (const Run &r : e.job().runs) {
        if (r.mode == RunMode::road) continue;
        if (!before) before = &r;
        if (r.calibration == e.calibration) after = &r;
    }
    if (!before || !after || before == after) {
        a.said = MARKED("gate.before_after.none",
                        "There is no run from before beside one with the calibration of now.");
        a.toPass = MARKED("gate.before_after.to_pass",
                          "Take in a run from before and one of now: the curves go with the car.");
        a.remedy = GateRemedy::pull;
        return a;
    }
    a.verdict = GateVerdict::passed;
    a.said = {MARKED("gate.before_after.held", "{a} beside {b}."), {}, {after->name, before->name}};
    a.used = {{GateUse::Kind::run, before->id, before->name}, {GateUse::Kind::run, after->id, after->name}};
    return a;
}

} // namespace

const Gate &beforeAfterGate() {
    static const Gate gate{"before_after",
                           MARKED("gate.before_after", "Curves before and after"),
                           MARKED("gate.before_after.question", "Are there runs from before and after?"),
                           {RungKind::handOver},
                           answerBeforeAfter};
    return gate;
}

} // namespace wheelwright
