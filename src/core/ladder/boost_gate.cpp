// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/ladder/gate.h"

#include <cmath>

namespace wheelwright {
namespace {

// A peak that is known is counted with everywhere; one that is too high is a fault.
GateAnswer answerPeak(const RungEvidence &e, const PullFacts &p, double peakKpa) {
    constexpr double mostKpa = 30, play = 1; // common practice
    const double target = e.rung.boostKpa.value_or(p.targetKpa), over = peakKpa - target;
    GateAnswer a;
    a.used = {useOf(p)};
    a.verdict = GateVerdict::failed;
    a.said = {MARKED("gate.boost.peak", "Boost peaks at {0}: {1} over its target, {2} are allowed for."),
              {{peakKpa, Dimension::pressure},
               {over, Dimension::pressureDifference},
               {e.limit("boost.overshoot"), Dimension::pressureDifference}}};
    if (over > mostKpa) {
        a.toPass = MARKED("gate.boost.over",
                          "Find out why before the next pull: a stuck solenoid, creep, another spring.");
        a.remedy = GateRemedy::findCause;
        return a;
    }
    a.toPass = {MARKED("gate.boost.state_peak",
                       "Take the peak out of it, or allow for {0}: cut and limits then count with it."),
                {{over + play, Dimension::pressureDifference}}};
    a.remedy = GateRemedy::set;
    a.link = "boost.overshoot";
    a.toSet = over + play;
    return a;
}

// A blower's boost goes by its pulley: what is wrong then is the table that all limits count with.
GateAnswer answerBlower(const PullFacts &p, GateAnswer a) {
    a.said = {MARKED("gate.boost.blower", "The blower gives {0}; the tables count with {1}."),
              {{p.heldKpa, Dimension::pressure}, {p.targetKpa, Dimension::pressure}}};
    a.toPass = {MARKED("gate.boost.blower_state",
                       "Put {0} into the boost tables, so that every limit counts with it; "
                       "or look for a slipping belt and leaks."),
                {{p.heldKpa, Dimension::pressure}}};
    a.remedy = GateRemedy::set;
    a.link = boostTables;
    a.toSet = p.heldKpa;
    return a;
}

// With the solenoid at rest boost is what the spring gives: it cannot be asked for less.
GateAnswer answerSpring(const RungEvidence &e) {
    GateAnswer a;
    const double ambient = e.job().conditions.ambientKpa, rest = 0.03;
    const PullFacts *p = e.pulls.back(); // as it is now
    const bool cut = p->cutAtKpa == p->cutAtKpa;
    const double found = cut ? p->cutAtKpa : p->heldKpa, duty = p->solenoidDuty;
    const bool over = cut || p->heldKpa - p->targetKpa > e.limit("boost.overshoot") / 2;
    if (!over) return a;
    a.used = {useOf(*p)};
    a.verdict = GateVerdict::failed;
    if (!(duty > rest) && found - ambient > e.job().boost.springKpa) {
        const Measured gives{found - ambient, Dimension::pressureGauge},
            stated{e.job().boost.springKpa, Dimension::pressureGauge};
        a.said =
            cut ? Phrase{MARKED("gate.boost.spring_cut", "The overboost cut came at {0} with the solenoid at "
                                                         "rest; the spring is stated as {1}."),
                         {gives, stated}}
                : Phrase{MARKED("gate.boost.spring",
                                "With the solenoid at rest boost is {0}; the spring is stated as {1}."),
                         {gives, stated}};
        a.toPass = {MARKED("gate.boost.state_spring",
                           "State the spring as {0}, or fit a softer one: less cannot be asked for."),
                    {gives}};
        a.remedy = GateRemedy::set;
        a.link = "boost.spring_kpa";
        a.toSet = found - ambient;
        return a;
    }
    if (!cut) return {};
    return answerPeak(e, *p, found);
}

GateAnswer answerBoost(const RungEvidence &e) {
    if (e.pulls.empty()) return noPulls(e);
    const bool blower = e.job().engine.charging == Charging::blower;
    if (!blower)
        if (GateAnswer spring = answerSpring(e); !spring.said.empty()) return spring;
    for (const PullFacts *p : e.pulls)
        for (const PullFacts::Found &f : p->found)
            if (f.rule->id == "overboost" && e.rung.boostKpa &&
                f.worst - *e.rung.boostKpa > e.limit("boost.overshoot"))
                return answerPeak(e, *p, f.worst);
    const double allowed = e.limit("boost.overshoot");
    const PullFacts *worst = nullptr;
    for (const PullFacts *p : e.pulls)
        if (const double off = p->heldKpa - p->targetKpa;
            off == off && (!worst || std::abs(off) > std::abs(worst->heldKpa - worst->targetKpa)))
            worst = p;
    if (!worst) return noChannel(e, MARKED("gate.channel.boost", "boost that holds, with its target"));
    const double off = worst->heldKpa - worst->targetKpa;
    GateAnswer a;
    a.used = usesOf(e.pulls);
    const Measured held{worst->heldKpa, Dimension::pressure}, target{worst->targetKpa, Dimension::pressure},
        within{allowed, Dimension::pressureDifference};
    if (std::abs(off) <= allowed) {
        constexpr PhraseText pressure = MARKED("gate.channel.map", "manifold pressure");
        if (auto gone = goneSince(e, &PullFacts::peakKpa, ChannelRole::map, pressure)) return *gone;
        a.verdict = GateVerdict::passed;
        a.said = {MARKED("gate.boost.held", "Boost holds {0} where {1} were aimed at."), {held, target}};
        return a;
    }
    a.verdict = GateVerdict::failed;
    if (blower) return answerBlower(*worst, std::move(a));
    a.said = {MARKED("gate.boost.off", "Boost holds {0} where {1} were aimed at: more than {2} apart."),
              {held, target, within}};
    a.toPass = off > 0
                   ? MARKED("gate.boost.over", "Find out why before the next pull: a stuck solenoid, creep, "
                                               "another spring.")
                   : MARKED("gate.boost.under", "The boost control does not follow: solenoid, spring, leaks. "
                                                "No more boost is asked for until it does.");
    a.remedy = GateRemedy::findCause;
    return a;
}

} // namespace

const Gate &boostGate() {
    static const Gate gate{"boost",
                           MARKED("gate.boost", "Boost as asked for"),
                           MARKED("gate.boost.question", "Does boost hold where it is aimed at?"),
                           {RungKind::baseBoost, RungKind::content, RungKind::topBoost},
                           answerBoost,
                           false,
                           {"boost.overshoot"}};
    return gate;
}

} // namespace wheelwright
