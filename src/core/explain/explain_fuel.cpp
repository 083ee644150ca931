// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/explain/explain_fuel.h"

#include "core/job/tank_history.h"

#include <cmath>

namespace wheelwright {
namespace {

using D = Dimension;

Measured litres(double v) {
    return {v, D::displacement};
}
Measured content(double v) {
    return {v, D::content};
}

constexpr const char *balance = "Volume balance; contraction on mixing (under 0.5 %) is ignored";
constexpr const char *propagation = "first-order propagation: JCGM 100:2008, eq. 13";

} // namespace

Explanation explainTankLevel(const Job &job) {
    const UncertainTank tank = uncertainTankNow(job);
    Explanation x;
    x.title = "In the tank";
    x.result = litres(tank.volumeL().value);
    x.formula = "V = last level + poured − drained − burned";
    x.substituted = {"{0} of {1}", {litres(tank.volumeL().value), litres(job.tank.capacityL)}};
    x.inputs = {{"V_cap", "brim full", litres(job.tank.capacityL), "tank.capacity_l"},
                {"V_res", "pickup needs", litres(job.tank.reserveL), "tank.reserve_l"},
                {"n", "events", {static_cast<double>(job.tankEvents.size()), D::none}, "tank.events"}};
    x.source = "Volume balance";
    x.uncertainty = {std::string("± {0}, ") + propagation, {litres(tank.volumeL().sigma)}};
    x.change = {"Read the gauge again and note the level, or fill to the brim.", {}};
    return x;
}

Explanation explainOpinion(const Job &job, const Opinion &o) {
    Explanation x;
    x.title = std::string(opinionTitle(o.source)) + " says";
    x.result = content(o.content.value);
    x.formula = "c' = (V·c + V_a·c_a) / (V + V_a)";
    x.source = balance;
    x.uncertainty = {std::string("± {0}, ") + propagation +
                         ". Where an event states none, what is usual counts.",
                     {content(o.content.sigma)}};
    x.inputs = {{"n", "events", {static_cast<double>(job.tankEvents.size()), D::none}, "tank.events"}};
    if (o.source == OpinionSource::arithmetic) {
        const UncertainTank tank = uncertainTankNow(job);
        x.substituted = {"alcohol {0} in {1}",
                         {litres(tank.volumeL().value * o.content.value), litres(tank.volumeL().value)}};
        x.change = {"A level read, a content believed, or another pour.", {}};
        return x;
    }
    x.substituted = o.poursSince == 0 ? Phrase{"read as {0}, nothing poured since", {content(o.read.value)}}
                                      : Phrase{"read as {0} ± {1}, carried through {2} pours",
                                               {content(o.read.value),
                                                content(o.read.sigma),
                                                {static_cast<double>(o.poursSince), D::none}}};
    x.inputs.push_back({"c", "as read", content(o.read.value), "tank.events"});
    x.change = {o.maybeUnsettled ? "Run the engine until the line holds the new fuel, then read again."
                                 : "Read it again. Believing it makes it the tank's content.",
                {}};
    return x;
}

Explanation explainPlan(const PourPlan &plan, const PourRequest &r) {
    Explanation x;
    x.title = strategyWords(plan.strategy).text;
    x.result = content(plan.content);
    x.formula = "Σ aᵢ = V* − V + d,   Σ aᵢ cᵢ = V* c* − (V − d) c";
    const double alcohol = plan.volumeL * plan.content;
    x.substituted = {"{0} of alcohol in {1}; before: {2} at {3}",
                     {litres(alcohol), litres(plan.volumeL), litres(r.volumeL), content(r.content)}};
    x.inputs = {{"V", "in the tank", litres(r.volumeL), "tank.events"},
                {"c", "its content", content(r.content), "tank.events"},
                {"c*", "wanted", content(r.target), ""},
                {"V_cap", "brim full", litres(r.capacityL), "tank.capacity_l"}};
    if (plan.drainL > 0) x.inputs.push_back({"d", "drained first", litres(plan.drainL), ""});
    for (std::size_t i = 0; i < plan.pourL.size(); ++i)
        if (plan.pourL[i] > 0)
            x.inputs.push_back(
                {"a" + std::to_string(i + 1), r.shelf[i].name, litres(plan.pourL[i]), "fuel.shelf"});
    x.source = std::string(balance) + "; the choice among plans is a linear programme, solved exactly";
    const auto steps = stepsOf(plan, r);
    if (!steps.empty())
        x.uncertainty = {std::string("± {0} at the end, ") + propagation + ", from gauge, meter and fuels.",
                         {content(steps.back().content.sigma)}};
    const double miss = std::abs(plan.content - r.target);
    x.change = plan.exact ? Phrase{"Another wanted content or level, or another fuel on the shelf.", {}}
                          : Phrase{"Misses the wanted content by {0}.", {{miss, D::ratio}}};
    return x;
}

Explanation explainFlush(const FlushPlan &plan, const TankState &tank, double fill, double restL,
                         double capacityL, double target, double tolerance) {
    Explanation x;
    x.title = "Fills until it is near";
    x.result = {static_cast<double>(plan.fills), D::none};
    x.formula = "c_n = c_a + (c_0 − c_a) (r / V)ⁿ";
    x.substituted = {"{0} + ({1} − {0}) · ({2} / {3})ⁿ",
                     {content(fill), content(alcoholOf(tank.content)), litres(restL), litres(capacityL)}};
    x.inputs = {{"c_a", "of each fill", content(fill), "fuel.shelf"},
                {"r", "run down to", litres(restL), ""},
                {"V", "brim full", litres(capacityL), "tank.capacity_l"},
                {"c*", "wanted", content(target), ""},
                {"±", "near enough", {tolerance, D::ratio}, ""}};
    x.source = balance;
    x.uncertainty = {
        "The rest in the tank before each fill decides: a litre more left makes each step shorter.", {}};
    x.change = plan.possible ? Phrase{"Running further down before each fill.", {}}
                             : Phrase{"No number of fills gets there: the fill itself is {0} away from it.",
                                      {{std::abs(fill - target), D::ratio}}};
    return x;
}

Explanation explainSettling(const FuelPath &p, double before, double after, bool atInjector) {
    const double delay = atInjector ? injectorDelayMinutes(p) : sensorDelayMinutes(p);
    const double settled =
        atInjector ? injectorSettlingMinutes(p, before, after) : settlingMinutes(p, before, after);
    const double surge = p.surgeFlowLMin > 0 ? p.surgeFlowLMin : p.lineFlowLMin;
    Explanation x;
    x.title = atInjector ? "New fuel at the injectors" : "Sensor settled";
    x.result = {settled, D::minutes};
    x.formula = "t = V_line / Q + (V_surge / Q_surge) · ln(|Δc| / 1 %)";
    x.substituted = {"{0} of delay + {1} · ln({2} / 1 %)",
                     {{delay, D::minutes},
                      {p.surgeL > 0 ? p.surgeL / surge : 0, D::minutes},
                      {std::abs(after - before), D::ratio}}};
    x.inputs = {{"V_line", "feed line", litres(p.lineL), "tank.line_l"},
                {"V_rail", "rail", litres(p.railL), "tank.rail_l"},
                {"Q", "through the line", {p.lineFlowLMin, D::flowLMin}, "tank.idle_flow_l_min"},
                {"V_surge", "surge tank", litres(p.surgeL), "tank.surge_l"},
                {"Q_surge", "that stirs it", {surge, D::flowLMin}, "tank.surge_flow_l_min"}};
    if (p.place == SensorPlace::returnLine)
        x.inputs.push_back({"V_ret", "return line", litres(p.returnL), "tank.return_l"});
    x.source = "Line as plug flow, surge tank as a stirred vessel: dc/dt = Q (c_tank − c) / V";
    x.uncertainty = {
        "A model: tanks stir badly and lines have pockets. Wait until the reading itself stands still.", {}};
    x.change = {p.surgeL > 0 ? "More flow: drive rather than idle. The surge tank takes most of the time."
                             : "More flow: drive rather than idle.",
                {}};
    return x;
}

Explanation explainTube(const TubeReading &r) {
    const TubeResult t = tubeContent(r);
    Explanation x;
    x.title = "Content by tube";
    x.result = content(t.content.value);
    x.formula = "c = (S / (1 − k) − W) / (T − W)";
    x.substituted = {
        "({0} / (1 − {1}) − {2}) / ({3} − {2})",
        {{r.layerTop, D::none}, {r.contraction, D::none}, {r.waterLine, D::none}, {r.fuelLine, D::none}}};
    x.inputs = {{"W", "water line", {r.waterLine, D::none}, ""},
                {"T", "fuel line", {r.fuelLine, D::none}, ""},
                {"S", "top of the layer", {r.layerTop, D::none}, ""},
                {"k", "contraction", {r.contraction, D::ratio}, ""},
                {"u", "± of a reading", {r.reading, D::none}, ""}};
    x.source =
        std::string("Common practice; contraction up to 3–4 % of the layer: common practice; ") + propagation;
    x.uncertainty = {"± {0}. Methanol counts as ethanol.", {content(t.content.sigma)}};
    x.change = {"Without contraction it would be {0}. A longer tube, read at eye level, is surer.",
                {content(t.raw)}};
    return x;
}

Explanation explainSensor(double hertz, double pulseMs) {
    const SensorReading s = readContentSensor(hertz, pulseMs);
    Explanation x;
    x.title = "Content by sensor";
    x.result = content(s.content);
    x.formula = "c = (f − 50 Hz) / 100 Hz,   t = −40 + (p − 1 ms) · 41.25 °C/ms";
    x.substituted = {"({0} − 50) / 100", {{hertz, D::frequency}}};
    x.inputs = {{"f", "frequency", {hertz, D::frequency}, ""},
                {"p", "low pulse", {pulseMs, D::duration}, ""}};
    x.source = "Common practice, from memory: 50 Hz is 0 %, 150 Hz is 100 %; 1 ms is −40 °C, 5 ms is 125 °C";
    x.uncertainty = {"A few per cent; it cannot tell methanol from ethanol.", {}};
    x.change = {std::string(faultWords(s.fault)), {}};
    return x;
}

Explanation explainLambda(double lambda, double stoichiometry, const std::string &scaleName) {
    Explanation x;
    x.title = "Mixture";
    x.result = {lambda, D::mixture};
    x.formula = "λ = AFR shown / stoichiometry of its scale";
    x.substituted = {"{0} / {1}", {{lambda * stoichiometry, D::none}, {stoichiometry, D::airFuelRatio}}};
    x.inputs = {{"AFR₀", "scale: " + scaleName, {stoichiometry, D::airFuelRatio}, ""}};
    x.source = "Definition; a wideband measures λ and multiplies by the stoichiometry that it has been told";
    x.uncertainty = {"A scale that is not the display's own makes the whole number wrong.", {}};
    x.change = {lambda > 1 ? "Lean by {0}, whatever the fuel." : "Rich by {0}, whatever the fuel.",
                {{std::abs(lambda - 1), D::ratio}}};
    return x;
}

Explanation explainComparison(const ComparedFuel &f, const FuelColumn &column, const std::string &against) {
    Explanation x;
    x.title = f.name + ": " + std::string(column.title);
    x.result = {column.of(f).value_or(0), column.dimension};
    x.formula = std::string(column.formula);
    const BlendProperties &p = f.properties;
    x.substituted = {"ethanol {0}, methanol {1}, the rest hydrocarbon; ρ {2}, AFR {3}",
                     {content(f.content.ethanol.fraction()),
                      content(f.content.methanol.fraction()),
                      {p.densityKgM3, D::density},
                      {p.stoichiometricAfr, D::airFuelRatio}}};
    x.inputs = {{"c", "alcohol", content(f.alcohol), "fuel.shelf"},
                {"K", "volume against " + against, {f.multiplier, D::none}, "tank.events"}};
    if (f.pricePerL) x.inputs.push_back({"p", "price of a litre", {*f.pricePerL, D::money}, "fuel.shelf"});
    if (f.litresPer100Km)
        x.inputs.push_back({"use", "per 100 km on it", litres(*f.litresPer100Km), "use.l_per_100km"});
    x.source = std::string(column.source);
    x.uncertainty = {
        "Measured corrections differ from theory by a few per cent: charge cooling changes the air.", {}};
    x.change = {std::string(column.help) + ".", {}};
    return x;
}

Explanation explainEffect(const PourEffect &e) {
    Explanation x;
    x.title = "Just poured in";
    x.result = {e.lambda, D::mixture};
    x.formula = "λ = λ_target · K(new) / K(old)";
    x.substituted = {"{0} · {1}", {{e.lambdaTarget, D::mixture}, {e.lambdaFactor, D::none}}};
    x.inputs = {{"c_0", "calibrated for", content(e.before), "tank.events"},
                {"c", "after the pour", content(e.content), "fuel.shelf"},
                {"α", "spark as it stands", {e.sparkDeg, D::sparkAngle}, "calibration.spark"},
                {"α*", "spark for this content", {e.sparkOfContentDeg, D::sparkAngle}, "calibration.spark"}};
    x.source = "Mass-weighted fuel model, Heywood (1988) eq. 3.6; spark from the job's own tables";
    x.uncertainty = {"With a working content sensor the controller follows, and none of this happens.", {}};
    x.change = {"At {0}, {1}: the place under boost where the spark is most over.",
                {{e.rpm, D::engineSpeed}, {e.loadKpa, D::pressure}}};
    return x;
}

} // namespace wheelwright
