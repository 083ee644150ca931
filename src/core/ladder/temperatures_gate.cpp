// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/ladder/gate.h"

#include <algorithm>

namespace wheelwright {
namespace {

GateAnswer answerTemperatures(const RungEvidence &e) {
    if (e.pulls.empty()) return noPulls(e);
    const PullFacts *coolant = extreme(e, &PullFacts::coolantMost),
                    *intake = extreme(e, &PullFacts::intakeRise);
    constexpr PhraseText coolantChannel = MARKED("gate.channel.coolant", "coolant temperature"),
                         intakeChannel = MARKED("gate.channel.intake", "intake air temperature");
    if (!coolant) return noChannel(e, coolantChannel);
    if (!intake) return noChannel(e, intakeChannel);
    GateAnswer a;
    a.used = usesOf(e.pulls);
    const double most = e.limit("watch.coolant"), rise = e.limit("watch.intake_rise");
    const Measured hot{coolant->coolantMost, Dimension::temperature},
        rose{intake->intakeRise, Dimension::temperatureDifference};
    if (coolant->coolantMost <= most && intake->intakeRise <= rise) {
        if (auto gone = goneSince(e, &PullFacts::coolantMost, ChannelRole::coolantTemp, coolantChannel))
            return *gone;
        if (auto gone = goneSince(e, &PullFacts::intakeRise, ChannelRole::intakeTemp, intakeChannel))
            return *gone;
        a.verdict = GateVerdict::passed;
        a.said = {MARKED("gate.temperatures.held", "Coolant {0} at most; intake air rises by {1} in a pull."),
                  {hot, rose}};
        return a;
    }
    a.verdict = GateVerdict::failed;
    a.said = coolant->coolantMost > most
                 ? Phrase{MARKED("gate.temperatures.coolant", "Coolant {0}; {1} are allowed."),
                          {hot, {most, Dimension::temperature}}}
                 : Phrase{MARKED("gate.temperatures.intake",
                                 "Intake air rises by {0} in a pull; {1} are allowed."),
                          {rose, {rise, Dimension::temperatureDifference}}};
    // Cooled down in between and the same again: it is no soaked heat, and more boost makes more of it.
    std::vector<std::string> logs;
    for (const PullFacts *p : e.pulls)
        if (p->intakeRise > rise && std::ranges::find(logs, p->log) == logs.end()) logs.push_back(p->log);
    if (coolant->coolantMost <= most && logs.size() >= 3) {
        a.toPass =
            MARKED("gate.temperatures.cooler", "It rises log after log, also after a rest: that is where the "
                                               "charge cooler ends. Less boost, or a larger one.");
        a.remedy = GateRemedy::stop;
        return a;
    }
    a.toPass = MARKED("gate.temperatures.to_pass", "Let it cool down with the fans on, then pull again.");
    a.remedy = GateRemedy::cool;
    return a;
}

} // namespace

const Gate &temperaturesGate() {
    static const Gate gate{
        "temperatures",
        MARKED("gate.temperatures", "Temperatures"),
        MARKED("gate.temperatures.question", "Do coolant and intake air stay within limits?"),
        pullRungs(),
        answerTemperatures,
        false,
        {"watch.coolant", "watch.intake_rise"}};
    return gate;
}

} // namespace wheelwright
