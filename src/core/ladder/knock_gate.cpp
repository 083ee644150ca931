// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/ladder/gate.h"

namespace wheelwright {
namespace {

// The last pulls count: what knocked before was taken back since, or it would knock still.
GateAnswer answerKnock(const RungEvidence &e) {
    if (e.pulls.empty()) return noPulls(e);
    const double allowed = e.limit("watch.knock");
    std::size_t clean = 0, said = 0;
    const PullFacts *knocked = nullptr;
    for (const PullFacts *p : e.pulls) {
        if (!(p->knockDeg == p->knockDeg)) continue;
        ++said;
        if (p->knockDeg > allowed) {
            clean = 0;
            knocked = p;
        } else if (p->full && !p->silentOn(ChannelRole::knockRetard)) { // a short one proves nothing
            ++clean;
        }
    }
    if (said == 0) return noChannel(e, MARKED("gate.channel.knock", "knock retard"));
    GateAnswer a;
    a.used = usesOf(e.pulls);
    const Measured count{static_cast<double>(clean), Dimension::count},
        wanted{e.rung.pulls, Dimension::count};
    if (clean >= e.wanted()) {
        a.verdict = GateVerdict::passed;
        a.said = {MARKED("gate.knock.held", "{0} full pulls in a row without knock; {1} are wanted."),
                  {count, wanted}};
        return a;
    }
    if (knocked && clean == 0) {
        a.verdict = GateVerdict::failed;
        a.said = {MARKED("gate.knock.knocked", "It knocked at {0}: {1} were taken away."),
                  {{knocked->knockRpm, Dimension::engineSpeed}, {knocked->knockDeg, Dimension::sparkAngle}}};
        a.toPass = {
            e.job().sparkSchool == SparkSchool::road
                ? MARKED("gate.knock.to_pass.road",
                         "Take spark away where it knocked, then make {0} clean pulls. On the road the "
                         "same step adds spark elsewhere: look at its map first.")
                : MARKED("gate.knock.to_pass",
                         "Take spark away where it knocked, then make {0} clean pulls."),
            {wanted}};
        a.remedy = GateRemedy::takeSpark;
        return a;
    }
    a.said = {MARKED("gate.knock.few", "{0} of {1} full pulls in a row without knock."), {count, wanted}};
    if (e.pulls.back()->silentOn(ChannelRole::knockRetard))
        a.said = {
            MARKED("gate.knock.silent",
                   "{0} of {1} full pulls in a row without knock; in the last one knock control is silent "
                   "for a part of it, and it does not count."),
            {count, wanted}};
    a.toPass = MARKED("gate.knock.more", "More clean pulls, one at a time, from low speed to the top.");
    a.remedy = GateRemedy::pull;
    return a;
}

} // namespace

const Gate &knockGate() {
    static const Gate gate{"knock",
                           MARKED("gate.knock", "No knock"),
                           MARKED("gate.knock.question", "Have so many pulls in a row been without knock?"),
                           pullRungs(),
                           answerKnock,
                           false,
                           {"watch.knock"}};
    return gate;
}

} // namespace wheelwright
