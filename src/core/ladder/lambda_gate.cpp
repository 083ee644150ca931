// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/ladder/gate.h"

#include <cmath>

namespace wheelwright {
namespace {

GateAnswer answerLambda(const RungEvidence &e) {
    if (e.pulls.empty()) return noPulls(e);
    const PullFacts *worst = nullptr;
    for (const PullFacts *p : e.pulls)
        if (p->lambdaError == p->lambdaError &&
            (!worst || std::abs(p->lambdaError) > std::abs(worst->lambdaError)))
            worst = p;
    constexpr PhraseText channel = MARKED("gate.channel.lambda", "λ with its target");
    if (!worst) return noChannel(e, channel);
    const double within = e.limit("ladder.lambda"), off = worst->lambdaError;
    GateAnswer a;
    a.used = usesOf(e.pulls);
    const Measured by{std::abs(off), Dimension::mixture, 3}, allowed{within, Dimension::mixture, 3},
        at{worst->lambdaErrorRpm, Dimension::engineSpeed};
    if (std::abs(off) <= within) {
        if (auto gone = goneSince(e, &PullFacts::lambdaError, ChannelRole::lambda, channel)) return *gone;
        a.verdict = GateVerdict::passed;
        a.said = {MARKED("gate.lambda.held", "At load within {0} of its target; furthest off at {1}."),
                  {by, at}};
        return a;
    }
    a.verdict = GateVerdict::failed;
    a.said =
        off > 0
            ? Phrase{MARKED("gate.lambda.lean", "Lean by {0} at {1}; {2} are allowed."), {by, at, allowed}}
            : Phrase{MARKED("gate.lambda.rich", "Rich by {0} at {1}; {2} are allowed."), {by, at, allowed}};
    a.toPass = MARKED("gate.lambda.to_pass", "Correct the fuel by these logs, then pull again.");
    a.remedy = GateRemedy::correctFuel;
    return a;
}

} // namespace

const Gate &lambdaGate() {
    static const Gate gate{"lambda",
                           MARKED("gate.lambda", "λ on target"),
                           MARKED("gate.lambda.question", "Is λ at load where the tables want it?"),
                           pullRungs(),
                           answerLambda,
                           false,
                           {"ladder.lambda"}};
    return gate;
}

} // namespace wheelwright
