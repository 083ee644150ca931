// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/ladder/gate.h"
#include "core/ladder/pass_ladder.h"

#include <cmath>

namespace wheelwright {
namespace {

// Boost or content go up by what plugs say. A run's own note counts where it was made on this fuel.
GateAnswer answerPlugs(const RungEvidence &e) {
    GateAnswer a;
    if (const RungLook *look = e.look("plugs")) {
        a.verdict = GateVerdict::passed;
        a.said = {MARKED("gate.looked", "Looked at: {a}"), {}, {look->note.empty() ? look->at : look->note}};
        a.used.push_back({GateUse::Kind::look, "plugs", look->at});
        return a;
    }
    if (e.rung.pass) {
        const PassRecord *made = passesWith(e.job(), e.rung.pass->pillMm).made;
        if (made && !made->plugs.empty()) {
            a.verdict = GateVerdict::passed;
            a.said = {MARKED("gate.looked", "Looked at: {a}"), {}, {made->plugs}};
            a.used = {{GateUse::Kind::setting, "mechanical.passes", made->at}};
            return a;
        }
    }
    const double within = e.limit("ladder.content");
    for (const Run &r : e.job().runs)
        if (!r.plugs.empty() && r.contentBasis != RunContentBasis::none && r.calibration == e.calibration &&
            std::abs(r.content - e.rung.content) <= within) {
            a.verdict = GateVerdict::passed;
            a.said = {MARKED("gate.looked", "Looked at: {a}"), {}, {r.plugs}};
            a.used = {{GateUse::Kind::run, r.id, r.name}};
        }
    if (a.verdict == GateVerdict::passed) return a;
    a.said = MARKED("gate.plugs.unknown", "Nobody has said what the plugs look like.");
    a.toPass =
        MARKED("gate.plugs.look", "Read them after a pull that was shut off clean, and say what they show.");
    a.remedy = GateRemedy::lookAt;
    return a;
}

} // namespace

const Gate &plugsGate() {
    static const Gate gate{"plugs",
                           MARKED("gate.plugs", "Plugs looked at"),
                           MARKED("gate.plugs.question", "What do the plugs say?"),
                           {RungKind::pass, RungKind::baseBoost, RungKind::content, RungKind::topBoost},
                           answerPlugs,
                           true};
    return gate;
}

} // namespace wheelwright
