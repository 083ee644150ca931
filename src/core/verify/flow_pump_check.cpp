// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/limits.h"
#include "core/verify/check.h"
#include "core/verify/flow_demand.h"

#include <algorithm>

namespace wheelwright {
namespace {

CheckOutcome run(const Evaluation &e) {
    const Job &job = e.job();
    const double stop = limitOf(job, "flow.pump.stop");
    const double comfort = std::max(stop - limitOf(job, "flow.pump.caution"), 0.01);
    constexpr double farOver = 99; // nothing flows at this pressure
    // What one L/min takes of the pumps; without end where nothing flows.
    const PumpFlow pumps(job);
    const ByPoint shareOfOne(e, pumps.bySpeed(), [pumps, more = 1 + job.supply.margin](EnginePoint at) {
        return more / pumps.at(at);
    });
    return judgeReachablePoints(e, comfort, [&](const ContentSlice &s) {
        return [&, demand = FlowDemand(e, s, job.conditions.intakeColdestC)](const auto &p) {
            // In this order: of nothing wanted where nothing flows it is no number, and then far over.
            const double share = std::min(farOver, demand.lMin(p) * p.of(shareOfOne));
            return Judged{stop - share, share, stop};
        };
    });
}

Explanation explain(const Evaluation &e, const WorstPlace &p) {
    const Job &job = e.job();
    const RailPressure rail(job);
    const double against = rail.gaugeKpa({p.rpm, p.loadKpa});
    const double flow = pumpFlowLMin(job.supply.points, job.supply.pumps, job.supply.volts, against);
    const double demand = p.value * flow / (1 + job.supply.margin);
    Explanation x;
    x.title = MARKED("flow.pump.working", "Pump share");
    x.result = {p.value, Dimension::ratio};
    x.formula = MARKED("flow.pump.formula", "share = demand · (1 + margin) / pump flow at its pressure");
    x.substituted = {
        MARKED("flow.pump.numbers", "{0} · (1 + {1}) / {2}"),
        {{demand, Dimension::flowLMin}, {job.supply.margin, Dimension::ratio}, {flow, Dimension::flowLMin}}};
    x.inputs = {{"Q_p",
                 MARKED("flow.pump.from.pumps_pressure", "pumps at this pressure"),
                 {flow, Dimension::flowLMin},
                 "supply.pump_points"},
                {"p",
                 MARKED("flow.pump.from.they_work_against", "that they work against"),
                 {against, Dimension::pressureGauge},
                 rail.link()},
                {"U",
                 MARKED("flow.pump.from.voltage_pumps", "voltage at the pumps"),
                 {job.supply.volts, Dimension::voltage},
                 "supply.volts"},
                {"m",
                 MARKED("flow.pump.from.filter_margin", "filter margin"),
                 {job.supply.margin, Dimension::ratio},
                 "supply.margin"},
                {"lim",
                 MARKED("flow.pump.from.stop", "stop"),
                 {limitOf(job, "flow.pump.stop"), Dimension::ratio},
                 "limit:flow.pump.stop"},
                {"t",
                 MARKED("flow.pump.from.coldest_intake_air", "coldest intake air"),
                 {job.conditions.intakeColdestC, Dimension::temperature},
                 "conditions.intake_coldest_c"}};
    x.source = MARKED("flow.pump.source", "Pump data as entered; margin 5 to 10 %: common practice");
    x.uncertainty = {MARKED("flow.pump.uncertainty", "Pumps fade with heat and age; filters clog. Log the "
                                                     "rail: a Δp more than 5 % under the commanded "
                                                     "one is a supply at its end."),
                     {}};
    x.change = {MARKED("flow.pump.change", "Pumps of {0} at that pressure, or less boost at {1}."),
                {{demand * (1 + job.supply.margin) / limitOf(job, "flow.pump.caution"), Dimension::flowLMin},
                 {p.rpm, Dimension::engineSpeed}}};
    return x;
}

} // namespace

const Check &flowPumpCheck() {
    static const Check check{
        "flow.pump",
        MARKED("flow.pump.title", "Pumps"),
        MARKED("flow.pump.named", "pumps"),
        QuestionId::fuelSupply,
        MARKED("flow.pump.question", "Do the pumps deliver what is asked at the pressure they work against?"),
        Dimension::ratio,
        {"flow.pump.caution", "flow.pump.stop"},
        CalibratedQuantity::fuel,
        1,
        MARKED("flow.pump.help",
               "A full mark is at or under the caution line, an empty one at the stop line."),
        run,
        explain,
        {"pump_sheet", "rail_table", "fuel_tables", "lambda_tables", "boost_tables", "engine"}};
    return check;
}

} // namespace wheelwright
