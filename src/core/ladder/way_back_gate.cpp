// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/ladder/gate.h"

#include "core/job/revision.h"

namespace wheelwright {
namespace {

// What goes into the controller is kept, and so is what was in it before.
GateAnswer answerWayBack(const RungEvidence &e) {
    GateAnswer a;
    const Revision *now = nullptr, *before = nullptr;
    for (const Revision &r : e.job().revisions)
        (calibrationPrint(r.state.text()) == e.calibration ? now : before) = &r;
    if (!now || !before) {
        a.said =
            !now ? MARKED("gate.way_back.now", "The calibration as it is has not been kept as a revision.")
                 : MARKED("gate.way_back.before", "No earlier calibration is kept: there is no way back.");
        a.toPass = !now ? MARKED("gate.way_back.keep", "Keep it as a revision.")
                        : MARKED("gate.way_back.keep_before",
                                 "Keep the calibration that it came with as a revision.");
        a.remedy = GateRemedy::set;
        return a;
    }
    a.verdict = GateVerdict::passed;
    a.said = {
        MARKED("gate.way_back.held", "Kept as {a}; the way back is {b}."), {}, {now->name, before->name}};
    a.used = {{GateUse::Kind::setting, "revisions." + now->name, now->name}};
    return a;
}

} // namespace

const Gate &wayBackGate() {
    static const Gate gate{"way_back",
                           MARKED("gate.way_back", "A way back"),
                           MARKED("gate.way_back.question", "Are this calibration and an earlier one kept?"),
                           {RungKind::handOver},
                           answerWayBack};
    return gate;
}

} // namespace wheelwright
