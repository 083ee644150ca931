// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/ladder/gate.h"

namespace wheelwright {
namespace {

GateAnswer answerDuty(const RungEvidence &e) {
    if (e.pulls.empty()) return noPulls(e);
    constexpr PhraseText channel = MARKED("gate.channel.duty", "injector duty, and no pulses");
    const PullFacts *worst = extreme(e, &PullFacts::dutyMost);
    if (!worst) return noChannel(e, channel);
    const double caution = e.limit("flow.duty.caution");
    GateAnswer a;
    a.used = usesOf(e.pulls);
    const Measured most{worst->dutyMost, Dimension::ratio}, at{worst->dutyRpm, Dimension::engineSpeed},
        load{worst->dutyLoadKpa, Dimension::pressure}, allowed{caution, Dimension::ratio};
    if (worst->dutyMost <= caution) {
        if (auto gone = goneSince(e, &PullFacts::dutyMost, ChannelRole::duty, channel)) return *gone;
        a.verdict = GateVerdict::passed;
        a.said = {MARKED("gate.duty.held", "Injectors: {0} of their time at most, at {1} and {2}."),
                  {most, at, load}};
        return a;
    }
    a.verdict = GateVerdict::failed;
    a.said = {MARKED("gate.duty.over", "Injectors: {0} of their time at {1} and {2}; caution from {3} on."),
              {most, at, load, allowed}};
    a.toPass = MARKED("gate.duty.to_pass",
                      "No more boost and no more content with these injectors: less boost, or larger ones.");
    a.remedy = GateRemedy::stop;
    return a;
}

} // namespace

const Gate &dutyGate() {
    static const Gate gate{"duty",
                           MARKED("gate.duty", "Injectors have room"),
                           MARKED("gate.duty.question", "Do the injectors have room left?"),
                           pullRungs(),
                           answerDuty,
                           false,
                           {"flow.duty.caution"}};
    return gate;
}

} // namespace wheelwright
