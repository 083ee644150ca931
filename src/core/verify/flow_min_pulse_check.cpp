// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/limits.h"
#include "core/verify/check.h"
#include "core/verify/flow_demand.h"

#include <algorithm>

namespace wheelwright {
namespace {

constexpr double overrunKpa = 30; // under it the fuel is cut or does not matter: common practice

CheckOutcome run(const Evaluation &e) {
    const Job &job = e.job();
    const double least = job.injectors.linearMinMs;
    const double comfort = std::max(limitOf(job, "flow.min_pulse.room"), 0.01);
    const InjectorOpening opening(e);
    return judgeReachablePoints(e, comfort, [&](const ContentSlice &s) {
        return [&, demand = FlowDemand(e, s, job.conditions.intakeUsualC),
                share = job.injectors.batch ? 0.5 : 1.0,
                longer = opening.longerOn(s.mixtureDensity)](const auto &p) {
            const InjectorOpening::Here here = opening.at(p);
            const double open = demand.perCycleMm3(p) * longer * here.msPerMm3;
            const double pulse = open * share + here.deadMs;
            return askedIf(p.loadKpa >= overrunKpa, {pulse - least, pulse, least});
        };
    });
}

Explanation explain(const Evaluation &e, const WorstPlace &p) {
    const Job &job = e.job();
    const BlendedPoint point = blendedPoint(e.study(), {p.content, p.rpm, p.loadKpa});
    const DutyWorking w =
        dutyAt(job, p.content, job.conditions.intakeUsualC, p.rpm, p.loadKpa, point.fuel, point.lambda);
    Explanation x;
    x.title = MARKED("flow.min_pulse.working", "Shortest pulse");
    x.result = {p.value, Dimension::duration};
    x.formula = MARKED("flow.min_pulse.formula",
                       "pulse = fuel per cycle / flow + dead time; batch: half of the fuel each");
    x.substituted = {MARKED("flow.min_pulse.numbers", "{0} mm³ at {1}, + {2}"),
                     {{w.fuelMm3, Dimension::none},
                      {w.flowCcMin, Dimension::volumeFlow},
                      {w.deadMs, Dimension::duration}}};
    x.inputs = {{"min",
                 MARKED("flow.min_pulse.from.linear_from", "linear from"),
                 {job.injectors.linearMinMs, Dimension::duration},
                 "injectors.linear_min_ms"},
                {"Q",
                 MARKED("flow.min_pulse.from.injector_flow", "injector flow"),
                 {w.flowCcMin, Dimension::volumeFlow},
                 "injectors.flow_cc_min"},
                {"t_d",
                 MARKED("flow.min_pulse.from.dead_time", "dead time"),
                 {w.deadMs, Dimension::duration},
                 "injectors.dead_times"}};
    x.source = MARKED("flow.min_pulse.source",
                      "Linear minimum: the injector's data sheet. Judged from 30 kPa up: common practice");
    x.uncertainty = {MARKED("flow.min_pulse.uncertainty",
                            "Under its linear minimum every injector differs: idle and light load wander."),
                     {}};
    x.change = {MARKED("flow.min_pulse.change",
                       "Smaller injectors, less rail pressure, or one pulse a cycle instead of two."),
                {}};
    return x;
}

} // namespace

const Check &flowMinPulseCheck() {
    static const Check check{
        "flow.min_pulse",
        MARKED("flow.min_pulse.title", "Shortest pulse"),
        MARKED("flow.min_pulse.named", "shortest pulse"),
        QuestionId::fuelSupply,
        MARKED("flow.min_pulse.question", "Are the injectors small enough for idle and light load?"),
        Dimension::duration,
        {"flow.min_pulse.room"},
        CalibratedQuantity::fuel,
        1,
        MARKED("flow.min_pulse.help",
               "A full mark is 0.2 ms or more over the shortest linear pulse, an empty one at it."),
        run,
        explain,
        {"linear_minimum", "injectors", "rail_table"},
        false};
    return check;
}

} // namespace wheelwright
