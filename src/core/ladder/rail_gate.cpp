// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/ladder/gate.h"

namespace wheelwright {
namespace {

GateAnswer answerRail(const RungEvidence &e) {
    if (e.pulls.empty()) return noPulls(e);
    constexpr PhraseText channel = MARKED("gate.channel.rail", "rail pressure");
    const PullFacts *worst = extreme(e, &PullFacts::railLeast, false);
    if (!worst) return noChannel(e, channel);
    const double least = 1 - e.limit("flow.sag");
    GateAnswer a;
    a.used = usesOf(e.pulls);
    const Measured found{worst->railLeast, Dimension::ratio}, allowed{least, Dimension::ratio};
    if (worst->railLeast >= least) {
        if (auto gone = goneSince(e, &PullFacts::railLeast, ChannelRole::railPressure, channel)) return *gone;
        a.verdict = GateVerdict::passed;
        a.said = {MARKED("gate.rail.held", "Across the injectors never under {0} of what it should be."),
                  {found}};
        return a;
    }
    a.verdict = GateVerdict::failed;
    a.said = {MARKED("gate.rail.sags",
                     "Across the injectors it falls to {0} of what it should be; {1} are allowed."),
              {found, allowed}};
    a.toPass = MARKED("gate.rail.to_pass",
                      "Measure pressure and voltage at the pump under load, then the filter. No "
                      "more boost until it holds.");
    a.remedy = GateRemedy::stop;
    return a;
}

} // namespace

const Gate &railGate() {
    static const Gate gate{"rail",
                           MARKED("gate.rail", "Rail holds"),
                           MARKED("gate.rail.question", "Does the pressure across the injectors hold?"),
                           pullRungs(),
                           answerRail,
                           false,
                           {"flow.sag"}};
    return gate;
}

} // namespace wheelwright
