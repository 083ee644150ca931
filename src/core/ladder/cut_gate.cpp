// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/ladder/gate.h"
#include "core/study/headroom.h"

#include <cmath>

namespace wheelwright {
namespace {

// A cut a step higher than the rung wants protects nothing on this rung.
GateAnswer answerCut(const RungEvidence &e) {
    GateAnswer a;
    const double set = e.job().boost.cutKpa;
    a.used.push_back({GateUse::Kind::setting, "boost.cut_kpa", {}});
    if (e.rung.cutKpa <= 0) {
        a.verdict = GateVerdict::passed;
        a.said = MARKED("gate.cut.none", "There is no boost to be cut.");
        return a;
    }
    constexpr double play = 1; // kPa
    const Measured wanted{e.rung.cutKpa, Dimension::pressure}, found{set, Dimension::pressure};
    if (set > 0 && set <= e.rung.cutKpa + play) {
        // With boost of the rung before, pulls are none of this one.
        const double target = boostTargets(e.study, {e.rung.content}).front();
        if (e.rung.boostKpa && std::abs(target - *e.rung.boostKpa) > play) {
            a.verdict = GateVerdict::failed;
            a.said = {MARKED("gate.cut.target", "The boost tables ask for {0}; this rung wants {1}."),
                      {{target, Dimension::pressure}, {*e.rung.boostKpa, Dimension::pressure}}};
            a.toPass = MARKED("gate.cut.target.to_pass",
                              "Set boost and cut, here and in the controller, before the pull.");
            a.remedy = GateRemedy::set;
            a.link = boostTables;
            a.toSet = *e.rung.boostKpa;
            return a;
        }
        a.verdict = GateVerdict::passed;
        a.said = {MARKED("gate.cut.held", "The overboost cut stands at {0}."), {found}};
        return a;
    }
    a.verdict = GateVerdict::failed;
    a.said =
        set > 0
            ? Phrase{MARKED("gate.cut.high", "The overboost cut stands at {0}; this rung wants {1}."),
                     {found, wanted}}
            : Phrase{MARKED("gate.cut.missing", "No overboost cut is set; this rung wants {0}."), {wanted}};
    a.toPass = MARKED("gate.cut.to_pass", "Set it, here and in the controller, before the pull.");
    a.remedy = GateRemedy::set;
    a.link = "boost.cut_kpa";
    a.toSet = e.rung.cutKpa;
    return a;
}

} // namespace

const Gate &cutGate() {
    static const Gate gate{
        "cut",
        MARKED("gate.cut", "Boost and cut set"),
        MARKED("gate.cut.question", "Does the controller ask for this boost, and cut just over it?"),
        {RungKind::baseBoost, RungKind::content, RungKind::topBoost},
        answerCut,
        false,
        {"boost.step", "boost.cut.room"}};
    return gate;
}

} // namespace wheelwright
