// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/ladder/gate.h"
#include "core/ladder/pass_ladder.h"

#include <algorithm>

namespace wheelwright {
namespace {

GateAnswer answerOil(const RungEvidence &e) {
    GateAnswer a;
    if (const PullFacts *least = extreme(e, &PullFacts::oilOverKpa, false)) {
        a.used = usesOf(e.pulls);
        const bool low = std::ranges::any_of(e.pulls, [](const PullFacts *p) {
            return std::ranges::any_of(p->found,
                                       [](const PullFacts::Found &f) { return f.rule->id == "oil"; });
        });
        const Measured over{least->oilOverKpa, Dimension::pressureDifference};
        if (!low) {
            if (auto gone = goneSince(e, &PullFacts::oilOverKpa, ChannelRole::oilPressure,
                                      MARKED("gate.channel.oil", "oil pressure")))
                return *gone;
            a.verdict = GateVerdict::passed;
            a.said = {MARKED("gate.oil.held",
                             "Oil pressure keeps up with the speed; nearest to its line with {0}."),
                      {over}};
            return a;
        }
        a.verdict = GateVerdict::failed;
        a.said = MARKED("gate.oil.low", "Oil pressure falls under its line in a pull.");
        a.toPass =
            MARKED("gate.oil.to_pass", "Stop. Level, temperature, fuel in the oil, pickup: then pull again.");
        a.remedy = GateRemedy::findCause;
        return a;
    }
    if (const RungLook *look = e.look("oil")) {
        a.verdict = GateVerdict::passed;
        a.said = {MARKED("gate.looked", "Looked at: {a}"), {}, {look->note.empty() ? look->at : look->note}};
        a.used.push_back({GateUse::Kind::look, "oil", look->at});
        return a;
    }
    if (e.rung.pass) {
        const PassRecord *made = passesWith(e.job(), e.rung.pass->pillMm).made;
        a.said =
            made && !made->oil.empty()
                ? Phrase{MARKED("gate.oil.pass",
                                "The pass says of the oil: {a}. Nobody has said that it is sound."),
                         {},
                         {made->oil}}
                : Phrase(MARKED("gate.oil.no_words", "Nobody has said what the oil looks and smells like."));
        a.toPass = MARKED("gate.oil.methanol",
                          "Look and smell: where methanol is in it, change it before the next pass. Then "
                          "say so.");
        a.remedy = GateRemedy::lookAt;
        return a;
    }
    a.said =
        MARKED("gate.oil.unknown", "No log has oil pressure, and nobody has said that it was looked at.");
    a.toPass = MARKED("gate.oil.look", "Log oil pressure, or look at level, smell and gauge, and say so.");
    a.remedy = GateRemedy::lookAt;
    return a;
}

} // namespace

const Gate &oilGate() {
    static const Gate gate{
        "oil",
        MARKED("gate.oil", "Oil"),
        MARKED("gate.oil.question", "Does oil pressure keep up, and is the oil sound?"),
        {RungKind::pass, RungKind::baseBoost, RungKind::content, RungKind::topBoost, RungKind::wayDown},
        answerOil,
        true,
        {"watch.oil"}};
    return gate;
}

} // namespace wheelwright
