// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/ladder/gate.h"

namespace wheelwright {
namespace {

// A run on the road, made of a log of this calibration.
GateAnswer answerRoad(const RungEvidence &e) {
    GateAnswer a;
    const Run *found = nullptr;
    std::size_t other = 0;
    for (const Run &r : e.job().runs) {
        if (r.mode != RunMode::road) continue;
        if (r.calibration == e.calibration)
            found = &r;
        else
            ++other;
    }
    if (!found) {
        a.said = other > 0 ? MARKED("gate.road.other",
                                    "The runs on the road are of another calibration than the one of now.")
                           : MARKED("gate.road.none", "No run on the road has been taken in.");
        a.toPass =
            MARKED("gate.road.to_pass", "Log a pull on a closed road and take it in as a run of the road.");
        a.remedy = GateRemedy::pull;
        return a;
    }
    a.used.push_back({GateUse::Kind::run, found->id, found->name});
    std::vector<const PullFacts *> pulls;
    for (const PullFacts &p : e.facts.pulls) {
        if (p.log != found->source) continue;
        pulls.push_back(&p);
        a.used.push_back(useOf(p));
        for (const PullFacts::Found &f : p.found) {
            a.verdict = GateVerdict::failed;
            a.said = {MARKED("gate.road.found", "On the road, {A}: {0} against {1}."),
                      {{f.worst, f.rule->dimension}, {f.limit, f.rule->dimension}},
                      {},
                      {f.rule->title}};
            a.toPass = f.rule->lookAt;
            a.remedy = GateRemedy::findCause;
            return a;
        }
    }
    if (pulls.empty()) {
        a.said = MARKED("gate.road.no_log",
                        "A run on the road is there, and no log of it: watch rules cannot be asked.");
        a.toPass = MARKED("gate.road.take_log", "Take in the log of it, and make the run from it.");
        a.remedy = GateRemedy::pull;
        return a;
    }
    a.verdict = GateVerdict::passed;
    if (const auto &unasked = lastWord(pulls).notAsked; unasked.empty())
        a.said = {MARKED("gate.road.held", "{a}: watch rules are quiet."), {}, {found->name}};
    else
        a.said = {MARKED("gate.road.quiet_but", "{a}: quiet, as far as its log says it. Not asked: {A}."),
                  {},
                  {found->name},
                  {namesOf(unasked)}};
    return a;
}

} // namespace

const Gate &roadGate() {
    static const Gate gate{
        "road",
        MARKED("gate.road", "The road has been driven"),
        MARKED("gate.road.question", "Does it hold on the road, which loads it differently?"),
        {RungKind::road},
        answerRoad};
    return gate;
}

} // namespace wheelwright
