// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/ladder/gate.h"
#include "core/ladder/ladder_forecast.h"
#include "core/ladder/pass_ladder.h"
#include "core/study/mechanical_lambda.h"

namespace wheelwright {
namespace {

GateAnswer answerExhaust(const RungEvidence &e) {
    const PassPlan &plan = *e.rung.pass;
    const PassesOfPill passes = passesWith(e.job(), plan.pillMm);
    GateAnswer a;
    a.remedy = GateRemedy::pull;
    if (!passes.made || !(passes.made->exhaustC > 0)) {
        a.said = MARKED("gate.exhaust.none", "Nobody has read the exhaust of a pass with this pill.");
        a.toPass = MARKED("gate.exhaust.to_pass", "Make a pass, and record its hottest exhaust.");
        return a;
    }
    const PassRecord &p = *passes.made;
    const Measured read{p.exhaustC, Dimension::temperature},
        forecast{plan.exhaustC.value, Dimension::temperature},
        band{within95 * plan.exhaustC.sigma, Dimension::temperatureDifference};
    a.used = {{GateUse::Kind::setting, "mechanical.passes", p.at}};
    a.verdict = GateVerdict::failed;
    if (p.exhaustC > passHotC) {
        a.said = {MARKED("gate.exhaust.hot", "Exhaust {0}, over {1} ({2} ± {3} was forecast)."),
                  {read, {passHotC, Dimension::temperature}, forecast, band}};
        a.toPass = MARKED("gate.exhaust.go_back", "Stop leaning. Go back one pill, and read the plugs.");
        a.remedy = GateRemedy::stop;
        return a;
    }
    constexpr double readingK = 15; // what a thermocouple differs by from pass to pass; from memory
    const bool leaner = passes.before && p.pillMm > passes.before->pillMm;
    if (leaner && passes.before->exhaustC > 0 && p.exhaustC < passes.before->exhaustC - readingK) {
        a.said = {MARKED("gate.exhaust.fell",
                         "Leaner, and yet cooler: {0} after {1}. A misfire, or past its best."),
                  {read, {passes.before->exhaustC, Dimension::temperature}}};
        a.toPass =
            MARKED("gate.exhaust.find", "Plugs, ignition and nozzles first; then the same pill again.");
        a.remedy = GateRemedy::findCause;
        return a;
    }
    a.verdict = GateVerdict::passed;
    a.remedy = GateRemedy::none;
    a.said = {MARKED("gate.exhaust.held", "Exhaust {0}; {1} ± {2} was forecast, about {3} is wanted."),
              {read, forecast, band, {passWantedC, Dimension::temperature}}};
    return a;
}

} // namespace

const Gate &exhaustGate() {
    static const Gate gate{
        "exhaust",
        MARKED("gate.exhaust", "Exhaust"),
        MARKED("gate.exhaust.question", "Is the exhaust as hot as this pill should make it, and no hotter?"),
        {RungKind::pass},
        answerExhaust};
    return gate;
}

} // namespace wheelwright
