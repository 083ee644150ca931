// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/ladder/gate.h"

#include <algorithm>

#include <cmath>

namespace wheelwright {
namespace {

// On a rung that has none nothing was proven of its fuel.
bool pulled(const RungPass &p) {
    return std::ranges::any_of(pullRungs(),
                               [&](RungKind kind) { return p.rung.starts_with(rungKindKey(kind)); });
}

GateAnswer answerFuels(const RungEvidence &e) {
    GateAnswer a;
    Phrase all;
    for (const LadderFuel &f : e.job().ladderFuels) {
        const auto fuel = std::ranges::find(e.job().shelf.values(), f.fuel, &ShelfEntry::name);
        if (fuel == e.job().shelf.values().end()) continue;
        const double content = std::min(1.0, fuel->ethanol + fuel->methanol),
                     within = e.limit("ladder.content");
        const auto passed = std::ranges::find_if(e.job().ladderPassed.values(), [&](const RungPass &p) {
            return p.by == PassedBy::evidence && pulled(p) && std::abs(p.content - content) <= within;
        });
        if (passed == e.job().ladderPassed.values().end()) {
            a.said = {MARKED("gate.fuels.missing", "{a} ({0}): no rung near it has been passed by evidence."),
                      {{content, Dimension::content}},
                      {f.fuel}};
            a.toPass = MARKED("gate.fuels.to_pass", "Make that rung.");
            a.remedy = GateRemedy::pour;
            return a;
        }
        const Phrase name{MARKED("gate.fuels.one", "{a}"), {}, {f.fuel}};
        all = all.empty() ? name : Phrase{MARKED("ladder.and", "{A}, {B}"), {}, {}, {all, name}};
    }
    a.verdict = GateVerdict::passed;
    a.said = all.empty() ? Phrase(MARKED("gate.fuels.none", "No fuel was named that it must run on."))
                         : Phrase{MARKED("gate.fuels.held", "Proven on {A}."), {}, {}, {all}};
    return a;
}

} // namespace

const Gate &fuelsGate() {
    static const Gate gate{
        "fuels",
        MARKED("gate.fuels", "Fuels it must run on"),
        MARKED("gate.fuels.question", "Has each fuel that it must run on a rung that was passed?"),
        {RungKind::handOver},
        answerFuels,
        false,
        {"ladder.content"}};
    return gate;
}

} // namespace wheelwright
