// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/ladder/gate.h"

#include <algorithm>
#include <array>

namespace wheelwright {
namespace {

// Gates of their own answer for these.
constexpr std::array<std::string_view, 7> answeredElsewhere{"overboost", "knock",       "duty", "rail_sag",
                                                            "coolant",   "intake_rise", "oil"};

GateAnswer answerWatch(const RungEvidence &e) {
    if (e.pulls.empty()) return noPulls(e);
    GateAnswer a;
    a.used = usesOf(e.pulls);
    const auto elsewhere = [](const WatchRule *r) {
        return std::ranges::find(answeredElsewhere, r->id) != answeredElsewhere.end();
    };
    for (const PullFacts *p : e.pulls)
        for (const PullFacts::Found &f : p->found) {
            if (elsewhere(f.rule)) continue;
            a.verdict = GateVerdict::failed;
            a.said = {MARKED("gate.watch.found", "{A}: {0} against {1}."),
                      {{f.worst, f.rule->dimension}, {f.limit, f.rule->dimension}},
                      {},
                      {f.rule->title}};
            a.used = {{GateUse::Kind::log, p->log, p->logName, f.atS, f.atS}};
            a.toPass = f.rule->lookAt;
            // Rail and injectors have gates before this one: what is left of a lean mixture is the table.
            a.remedy = f.rule->id == "lean" ? GateRemedy::correctFuel : GateRemedy::findCause;
            return a;
        }
    // What could not be asked is said, not passed over.
    std::vector<const WatchRule *> unasked = lastWord(e.pulls).notAsked;
    std::erase_if(unasked, elsewhere);
    a.verdict = GateVerdict::passed;
    if (unasked.empty()) {
        a.said = MARKED("gate.watch.quiet", "All watch rules are quiet.");
    } else {
        a.said = {MARKED("gate.watch.quiet_but", "Quiet, as far as the logs say it. Not asked: {A}."),
                  {},
                  {},
                  {namesOf(unasked)}};
    }
    return a;
}

} // namespace

const Gate &watchGate() {
    static const Gate gate{"watch", MARKED("gate.watch", "Watch rules quiet"),
                           MARKED("gate.watch.question", "Is there nothing else that a log says against it?"),
                           pullRungs(), answerWatch};
    return gate;
}

} // namespace wheelwright
