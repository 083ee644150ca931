// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/limits.h"
#include "core/flow/injector.h"
#include "core/study/fuel_delivery.h"
#include "core/verify/check.h"
#include "core/verify/flow_demand.h"

#include <algorithm>

namespace wheelwright {
namespace {

// The caution line is what is comfortable, the stop line is the limit. A caution at or over the stop leaves
// no scale.
double comfortOf(double caution, double stop) {
    return std::max(stop - caution, 0.01);
}

CheckOutcome run(const Evaluation &e) {
    const double stop = limitOf(e.job(), "flow.duty.stop");
    const double comfort = comfortOf(limitOf(e.job(), "flow.duty.caution"), stop);
    const bool batch = e.job().injectors.batch;
    const InjectorOpening opening(e);
    return judgeReachablePoints(e, comfort, [&](const ContentSlice &s) {
        return [&, demand = FlowDemand(e, s, e.job().conditions.intakeColdestC),
                longer = opening.longerOn(s.mixtureDensity)](const auto &p) {
            const double mm3 = demand.perCycleMm3(p);
            const InjectorOpening::Here here = opening.at(p);
            const double duty = injectorDutyOf(mm3 * longer * here.msPerMm3, here.deadMs, p.rpm, batch);
            // No pressure left across the injector: nothing flows, and the need is never met.
            const double shown = std::min(duty, 99.0);
            return Judged{stop - shown, shown, stop};
        };
    });
}

Explanation explain(const Evaluation &e, const WorstPlace &p) {
    const Job &job = e.job();
    const BlendedPoint point = blendedPoint(e.study(), {p.content, p.rpm, p.loadKpa});
    const double coldest = job.conditions.intakeColdestC;
    const DutyWorking cold = dutyAt(job, p.content, coldest, p.rpm, p.loadKpa, point.fuel, point.lambda);
    const DutyWorking usual =
        dutyAt(job, p.content, job.conditions.intakeUsualC, p.rpm, p.loadKpa, point.fuel, point.lambda);
    const double caution = limitOf(job, "flow.duty.caution");
    const double cycleMs = 120000 / p.rpm;
    const double pulses = job.injectors.batch ? 2 : 1;
    const double room = caution * cycleMs - pulses * cold.deadMs; // ms of flow at the caution line
    const double open = pulses * (cold.pulseMs - cold.deadMs);
    const double needed = job.injectors.flowCcMin * open / room;
    const double load = p.loadKpa * room / open;

    Explanation x;
    x.title = MARKED("flow.duty.working", "Injector duty");
    x.result = {p.value, Dimension::ratio};
    x.formula = MARKED(
        "flow.duty.formula",
        "duty = pulse · rpm / 120 000,  pulse = fuel per cycle / flow + dead time; batch: two dead times");
    x.substituted = {MARKED("flow.duty.numbers",
                            "({0} fuel volume mm³ at {1} flow + {2}) · {3} = {4}; with usual intake air {5}"),
                     {{cold.fuelMm3, Dimension::none},
                      {cold.flowCcMin, Dimension::volumeFlow},
                      {cold.deadMs, Dimension::duration},
                      {p.rpm, Dimension::engineSpeed},
                      {cold.duty, Dimension::ratio},
                      {usual.duty, Dimension::ratio}}};
    x.inputs = {{"T",
                 MARKED("flow.duty.from.blended_fuel_table", "blended fuel table"),
                 {point.fuel, Dimension::volumetricEfficiency},
                 "calibration.fuel"},
                {"λ",
                 MARKED("flow.duty.from.blended_lambda_target", "blended lambda target"),
                 {point.lambda, Dimension::mixture},
                 "calibration.lambda"},
                {"t",
                 MARKED("flow.duty.from.coldest_intake_air", "coldest intake air"),
                 {coldest, Dimension::temperature},
                 "conditions.intake_coldest_c"},
                {"Q",
                 MARKED("flow.duty.from.injector_flow_pressure", "injector flow at this pressure"),
                 {cold.flowCcMin, Dimension::volumeFlow},
                 "injectors.flow_cc_min"},
                {"Δp",
                 MARKED("flow.duty.from.pressure_across_injector", "pressure across the injector"),
                 {cold.differentialKpa, Dimension::pressureDifference},
                 RailPressure(job).link()},
                {"t_d",
                 MARKED("flow.duty.from.dead_time", "dead time"),
                 {cold.deadMs, Dimension::duration},
                 "injectors.dead_time_ms"}};
    x.source = {MARKED("flow.duty.source",
                       "Air: Heywood (1988) eq. 2.27; orifice law Q ∝ √Δp; limits 85 % and 95 %: {A}"),
                {},
                {},
                {limitOrigin(job, "flow.duty.stop")}};
    x.uncertainty = {MARKED("flow.duty.uncertainty",
                            "Injector flows scatter by 1 to 3 %, and dead time moves with battery voltage."),
                     {}};
    x.change = room > 0
                   ? Phrase{MARKED("flow.duty.change",
                                   "Injectors of {0} or more bring it to {1}; so does {2} at this speed."),
                            {{needed, Dimension::volumeFlow},
                             {caution, Dimension::ratio},
                             {load, Dimension::pressure}}}
                   : Phrase{MARKED("flow.duty.change.no_injector",
                                   "No injector size clears this: dead time alone fills the cycle."),
                            {}};
    return x;
}

} // namespace

const Check &flowDutyCheck() {
    static const Check check{
        "flow.duty",
        MARKED("flow.duty.title", "Injector duty"),
        MARKED("flow.duty.named", "injector duty"),
        QuestionId::fuelSupply,
        MARKED("flow.duty.question", "Do the injectors deliver what is asked, with the coldest intake air?"),
        Dimension::ratio,
        {"flow.duty.caution", "flow.duty.stop"},
        CalibratedQuantity::fuel,
        1, // between the caution and the stop line
        MARKED("flow.duty.help",
               "A full mark is at or under the caution line, an empty one at the stop line."),
        run,
        explain,
        {"injectors", "rail_table", "fuel_tables", "lambda_tables", "boost_tables", "engine"}};
    return check;
}

} // namespace wheelwright
