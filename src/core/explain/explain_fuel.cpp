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
Measured contentStep(double v) {
    return {v, D::contentDifference};
}

constexpr PhraseText balance =
    MARKED("source.volume_balance", "Volume balance; contraction on mixing (under 0.5 %) is ignored");
constexpr PhraseText propagation =
    MARKED("source.propagation", "first-order propagation: JCGM 100:2008, eq. 13");

} // namespace

Explanation explainTankLevel(const Job &job) {
    const UncertainTank tank = uncertainTankNow(job);
    Explanation x;
    x.title = MARKED("working.tank_level.title", "In the tank");
    x.result = litres(tank.volumeL().value);
    x.formula = MARKED("working.tank_level.formula", "V = last level + poured − drained − burned");
    x.substituted = {MARKED("working.tank_level.numbers", "{0} of {1}"),
                     {litres(tank.volumeL().value), litres(job.tank.capacityL)}};
    x.inputs = {{"V_cap", MARKED("working.tank_level.from.brim_full", "brim full"),
                 litres(job.tank.capacityL), "tank.capacity_l"},
                {"V_res", MARKED("working.tank_level.from.pickup_needs", "pickup needs"),
                 litres(job.tank.reserveL), "tank.reserve_l"},
                {"n",
                 MARKED("working.tank_level.from.events", "events"),
                 {static_cast<double>(job.tankEvents.size()), D::count},
                 "tank.events"}};
    x.source = MARKED("working.tank_level.source", "Volume balance");
    x.uncertainty = {MARKED("working.tank_level.uncertainty", "± {0}, {A}"),
                     {litres(tank.volumeL().sigma)},
                     {},
                     {propagation}};
    x.change = {
        MARKED("working.tank_level.change", "Read the gauge again and note the level, or fill to the brim."),
        {}};
    return x;
}

Explanation explainOpinion(const Job &job, const Opinion &o) {
    Explanation x;
    x.title = {MARKED("working.opinion.title", "{A} says"), {}, {}, {opinionTitle(o.source)}};
    x.result = content(o.content.value);
    x.formula = MARKED("working.opinion.formula", "c' = (V·c + V_a·c_a) / (V + V_a)");
    x.source = balance;
    x.uncertainty = {MARKED("working.opinion.uncertainty",
                            "± {0}, {A}. Where an event states none, what is usual counts."),
                     {content(o.content.sigma)},
                     {},
                     {propagation}};
    x.inputs = {{"n",
                 MARKED("working.opinion.from.events", "events"),
                 {static_cast<double>(job.tankEvents.size()), D::count},
                 "tank.events"}};
    if (o.source == OpinionSource::arithmetic) {
        const UncertainTank tank = uncertainTankNow(job);
        x.substituted = {MARKED("working.opinion.numbers", "alcohol {0} in {1}"),
                         {litres(tank.volumeL().value * o.content.value), litres(tank.volumeL().value)}};
        x.change = {MARKED("working.opinion.change", "A level read, a content believed, or another pour."),
                    {}};
        return x;
    }
    x.substituted =
        o.poursSince == 0
            ? Phrase{MARKED("working.opinion.numbers.read_nothing", "read as {0}, nothing poured since"),
                     {content(o.read.value)}}
            : Phrase{MARKED("working.opinion.numbers.read_sigma",
                            "read as {0} ± {1}, carried through {2} pours"),
                     {content(o.read.value),
                      content(o.read.sigma),
                      {static_cast<double>(o.poursSince), D::count}}};
    x.inputs.push_back(
        {"c", MARKED("working.opinion.from.read", "as read"), content(o.read.value), "tank.events"});
    x.change = {o.maybeUnsettled
                    ? MARKED("working.opinion.change.run_engine",
                             "Run the engine until the line holds the new fuel, then read again.")
                    : MARKED("working.opinion.change.read_again",
                             "Read it again. Believing it makes it the tank's content."),
                {}};
    return x;
}

Explanation explainPlan(const PourPlan &plan, const PourRequest &r) {
    Explanation x;
    x.title = strategyWords(plan.strategy);
    x.result = content(plan.content);
    x.formula = MARKED("working.plan.formula", "Σ aᵢ = V* − V + d,   Σ aᵢ cᵢ = V* c* − (V − d) c");
    const double alcohol = plan.volumeL * plan.content;
    x.substituted = {MARKED("working.plan.numbers", "{0} of alcohol in {1}; before: {2} at {3}"),
                     {litres(alcohol), litres(plan.volumeL), litres(r.volumeL), content(r.content)}};
    x.inputs = {{"V", MARKED("working.plan.from.tank", "in the tank"), litres(r.volumeL), "tank.events"},
                {"c", MARKED("working.plan.from.content", "its content"), content(r.content), "tank.events"},
                {"c*", MARKED("working.plan.from.wanted", "wanted"), content(r.target), ""},
                {"V_cap", MARKED("working.plan.from.brim_full", "brim full"), litres(r.capacityL),
                 "tank.capacity_l"}};
    if (plan.drainL > 0)
        x.inputs.push_back(
            {"d", MARKED("working.plan.from.drained_first", "drained first"), litres(plan.drainL), ""});
    for (std::size_t i = 0; i < plan.pourL.size(); ++i)
        if (plan.pourL[i] > 0)
            x.inputs.push_back({"a" + std::to_string(i + 1), verbatim(r.shelf[i].name), litres(plan.pourL[i]),
                                "fuel.shelf"});
    x.source = listed({balance, MARKED("working.plan.source",
                                       "the choice among plans is a linear programme, solved exactly")});
    const auto steps = stepsOf(plan, r);
    if (!steps.empty())
        x.uncertainty = {
            MARKED("working.plan.uncertainty", "± {0} at the end, {A}, from gauge, meter and fuels."),
            {content(steps.back().content.sigma)},
            {},
            {propagation}};
    const double miss = std::abs(plan.content - r.target);
    x.change = plan.exact
                   ? Phrase{MARKED("working.plan.change",
                                   "Another wanted content or level, or another fuel on the shelf."),
                            {}}
                   : Phrase{MARKED("working.plan.change.misses_wanted", "Misses the wanted content by {0}."),
                            {{miss, D::ratio}}};
    return x;
}

Explanation explainFlush(const FlushPlan &plan, const TankState &tank, double fill, double restL,
                         double capacityL, double target, double tolerance) {
    Explanation x;
    x.title = MARKED("working.flush.title", "Fills until it is near");
    x.result = {static_cast<double>(plan.fills), D::count};
    x.formula = MARKED("working.flush.formula", "c_n = c_a + (c_0 − c_a) (r / V)ⁿ");
    x.substituted = {MARKED("working.flush.numbers", "{0} + ({1} − {0}) · ({2} / {3})ⁿ"),
                     {content(fill), content(alcoholOf(tank.content)), litres(restL), litres(capacityL)}};
    if (plan.lastL > 0) { // of what stands in the tank before it
        const bool first = plan.fills == 1;
        const double before = first ? std::min(tank.volumeL, restL) : restL;
        const double was = first ? alcoholOf(tank.content) : plan.contents[plan.contents.size() - 2];
        x.formula = MARKED("working.flush.formula.last",
                           "c_n = c_a + (c_0 − c_a) (r / V)ⁿ; the last one l = v (c − c*) / (c* − c_a)");
        x.substituted = {
            MARKED("working.flush.numbers.last", "the last one {0} ({1} − {2}) / ({2} − {3}) = {4}"),
            {litres(before), content(was), content(target), content(fill), litres(plan.lastL)}};
    }
    x.inputs = {
        {"c_a", MARKED("working.flush.from.each_fill", "of each fill"), content(fill), "fuel.shelf"},
        {"r", MARKED("working.flush.from.run_down", "run down to"), litres(restL), ""},
        {"V", MARKED("working.flush.from.brim_full", "brim full"), litres(capacityL), "tank.capacity_l"},
        {"c*", MARKED("working.flush.from.wanted", "wanted"), content(target), ""},
        {"±", MARKED("working.flush.from.near_enough", "near enough"), {tolerance, D::ratio}, ""}};
    x.source = balance;
    x.uncertainty = {
        MARKED("working.flush.uncertainty",
               "The rest in the tank before each fill decides: a litre more left makes each step shorter."),
        {}};
    x.change = plan.possible
                   ? Phrase{MARKED("working.flush.change", "Running further down before each fill."), {}}
                   : Phrase{MARKED("working.flush.change.no_number",
                                   "No number of fills gets there: the fill itself is {0} away from it."),
                            {{std::abs(fill - target), D::ratio}}};
    return x;
}

Explanation explainSettling(const FuelPath &p, double before, double after, bool atInjector) {
    const double delay = atInjector ? injectorDelayMinutes(p) : sensorDelayMinutes(p);
    const double settled =
        atInjector ? injectorSettlingMinutes(p, before, after) : settlingMinutes(p, before, after);
    const double surge = p.surgeFlowLMin > 0 ? p.surgeFlowLMin : p.lineFlowLMin;
    Explanation x;
    x.title = atInjector ? MARKED("working.settling.title", "New fuel at the injectors")
                         : MARKED("working.settling.title.sensor_settled", "Sensor settled");
    x.result = {settled, D::minutes};
    x.formula = MARKED("working.settling.formula", "t = V_line / Q + (V_surge / Q_surge) · ln(|Δc| / 1 %)");
    x.substituted = {MARKED("working.settling.numbers", "{0} of delay + {1} · ln({2} / 1 %)"),
                     {{delay, D::minutes},
                      {p.surgeL > 0 ? p.surgeL / surge : 0, D::minutes},
                      {std::abs(after - before), D::ratio}}};
    x.inputs = {
        {"V_line", MARKED("working.settling.from.feed_line", "feed line"), litres(p.lineL), "tank.line_l"},
        {"V_rail", MARKED("working.settling.from.rail", "rail"), litres(p.railL), "tank.rail_l"},
        {"Q",
         MARKED("working.settling.from.through_line", "through the line"),
         {p.lineFlowLMin, D::flowLMin},
         "tank.idle_flow_l_min"},
        {"V_surge", MARKED("working.settling.from.surge_tank", "surge tank"), litres(p.surgeL),
         "tank.surge_l"},
        {"Q_surge",
         MARKED("working.settling.from.stirs", "that stirs it"),
         {surge, D::flowLMin},
         "tank.surge_flow_l_min"}};
    if (p.place == SensorPlace::returnLine)
        x.inputs.push_back({"V_ret", MARKED("working.settling.from.return_line", "return line"),
                            litres(p.returnL), "tank.return_l"});
    x.source = MARKED("working.settling.source",
                      "Line as plug flow, surge tank as a stirred vessel: dc/dt = Q (c_tank − c) / V");
    x.uncertainty = {
        MARKED(
            "working.settling.uncertainty",
            "A model: tanks stir badly and lines have pockets. Wait until the reading itself stands still."),
        {}};
    x.change = {p.surgeL > 0
                    ? MARKED("working.settling.change",
                             "More flow: drive rather than idle. The surge tank takes most of the time.")
                    : MARKED("working.settling.change.more_flow", "More flow: drive rather than idle."),
                {}};
    return x;
}

Explanation explainTube(const TubeReading &r) {
    const TubeResult t = tubeContent(r);
    Explanation x;
    x.title = MARKED("working.tube.title", "Content by tube");
    x.result = content(t.content.value);
    x.formula = MARKED("working.tube.formula", "c = (S / (1 − k) − W) / (T − W)");
    x.substituted = {
        MARKED("working.tube.numbers", "({0} / (1 − {1}) − {2}) / ({3} − {2})"),
        {{r.layerTop, D::none}, {r.contraction, D::none}, {r.waterLine, D::none}, {r.fuelLine, D::none}}};
    x.inputs = {{"W", MARKED("working.tube.from.water_line", "water line"), {r.waterLine, D::none}, ""},
                {"T", MARKED("working.tube.from.fuel_line", "fuel line"), {r.fuelLine, D::none}, ""},
                {"S", MARKED("working.tube.from.top_layer", "top of the layer"), {r.layerTop, D::none}, ""},
                {"k", MARKED("working.tube.from.contraction", "contraction"), {r.contraction, D::ratio}, ""},
                {"u", MARKED("working.tube.from.sigma_reading", "± of a reading"), {r.reading, D::none}, ""}};
    x.source = listed({MARKED("working.tube.source",
                              "Common practice; contraction up to 3–4 % of the layer: common practice"),
                       propagation});
    x.uncertainty = {MARKED("working.tube.uncertainty", "± {0}. Methanol counts as ethanol."),
                     {content(t.content.sigma)}};
    x.change = {MARKED("working.tube.change",
                       "Without contraction it would be {0}. A longer tube, read at eye level, is surer."),
                {content(t.raw)}};
    return x;
}

Explanation explainSensor(double hertz, double pulseMs) {
    const SensorReading s = readContentSensor(hertz, pulseMs);
    Explanation x;
    x.title = MARKED("working.sensor.title", "Content by sensor");
    x.result = content(s.content);
    x.formula =
        MARKED("working.sensor.formula", "c = (f − 50 Hz) / 100 Hz,   t = −40 + (p − 1 ms) · 41.25 °C/ms");
    x.substituted = {MARKED("working.sensor.numbers", "({0} − 50) / 100"), {{hertz, D::frequency}}};
    x.inputs = {{"f", MARKED("working.sensor.from.frequency", "frequency"), {hertz, D::frequency}, ""},
                {"p", MARKED("working.sensor.from.low_pulse", "low pulse"), {pulseMs, D::duration}, ""}};
    x.source =
        MARKED("working.sensor.source",
               "Common practice, from memory: 50 Hz is 0 %, 150 Hz is 100 %; 1 ms is −40 °C, 5 ms is 125 °C");
    x.uncertainty = {
        MARKED("working.sensor.uncertainty", "A few per cent; it cannot tell methanol from ethanol."), {}};
    x.change = faultWords(s.fault);
    return x;
}

Explanation explainLambda(double lambda, double stoichiometry, const std::string &scaleName) {
    Explanation x;
    x.title = MARKED("working.lambda.title", "Mixture");
    x.result = {lambda, D::mixture};
    x.formula = MARKED("working.lambda.formula", "λ = AFR shown / stoichiometry of its scale");
    x.substituted = {MARKED("working.lambda.numbers", "{0} / {1}"),
                     {{lambda * stoichiometry, D::none}, {stoichiometry, D::airFuelRatio}}};
    x.inputs = {{"AFR₀",
                 Phrase{MARKED("working.lambda.from.scale", "scale: {a}"), {}, {scaleName}},
                 {stoichiometry, D::airFuelRatio},
                 ""}};
    x.source =
        MARKED("working.lambda.source",
               "Definition; a wideband measures λ and multiplies by the stoichiometry that it has been told");
    x.uncertainty = {MARKED("working.lambda.uncertainty",
                            "A scale that is not the display's own makes the whole number wrong."),
                     {}};
    x.change = {lambda > 1 ? MARKED("working.lambda.change", "Lean by {0}, whatever the fuel.")
                           : MARKED("working.lambda.change.rich_whatever", "Rich by {0}, whatever the fuel."),
                {{std::abs(lambda - 1), D::ratio}}};
    return x;
}

Explanation explainComparison(const ComparedFuel &f, const FuelColumn &column, const std::string &against) {
    Explanation x;
    x.title = {MARKED("working.comparison.title", "{a}: {A}"), {}, {f.name}, {column.title}};
    x.result = {column.of(f).value_or(0), column.dimension};
    x.formula = column.formula;
    const BlendProperties &p = f.properties;
    x.substituted = {MARKED("working.comparison.numbers", "{0}, {1}, the rest hydrocarbon; ρ {2}, AFR {3}"),
                     {{f.content.ethanol.fraction(), D::ethanolContent},
                      {f.content.methanol.fraction(), D::methanolContent},
                      {p.densityKgM3, D::density},
                      {p.stoichiometricAfr, D::airFuelRatio}}};
    x.inputs = {{"c", MARKED("working.comparison.from.alcohol", "alcohol"), content(f.alcohol), "fuel.shelf"},
                {"K",
                 Phrase{MARKED("working.comparison.from.volume", "volume against {a}"), {}, {against}},
                 {f.multiplier, D::none},
                 "tank.events"}};
    if (f.pricePerL)
        x.inputs.push_back({"p",
                            MARKED("working.comparison.from.price_litre", "price of a litre"),
                            {*f.pricePerL, D::money},
                            "fuel.shelf"});
    if (f.litresPer100Km)
        x.inputs.push_back({"use", MARKED("working.comparison.from.per_100_km", "per 100 km on it"),
                            litres(*f.litresPer100Km), "use.l_per_100km"});
    x.source = column.source;
    x.uncertainty = {
        MARKED("working.comparison.uncertainty",
               "Measured corrections differ from theory by a few per cent: charge cooling changes the air."),
        {}};
    x.change = {MARKED("working.comparison.change", "{A}."), {}, {}, {column.help}};
    return x;
}

Explanation explainPour(const PouredContent &p) {
    Explanation x;
    x.title = MARKED("working.pour.title", "Content after the fill");
    x.result = content(p.after);
    x.formula = MARKED("working.opinion.formula", "c' = (V·c + V_a·c_a) / (V + V_a)");
    x.substituted = {MARKED("working.pour.numbers", "({0} · {1} + {2} · {3}) / ({0} + {2})"),
                     {litres(p.levelL), content(p.before), litres(p.litres), content(p.fuel)}};
    x.inputs = {{"V", MARKED("working.pour.from.level", "in the tank before"), litres(p.levelL), {}},
                {"c", MARKED("working.pour.from.before", "its content before"), content(p.before), {}},
                {"V_a", MARKED("working.pour.from.litres", "poured in"), litres(p.litres), {}},
                {"c_a", MARKED("working.pour.from.fuel", "content of what is poured"), content(p.fuel),
                 "fuel.shelf"}};
    x.source = balance;
    x.uncertainty = MARKED("working.pour.uncertainty",
                           "As good as the level that was read and the content of the pump's fuel, which "
                           "varies: after the fill a tube, or the reading once it has settled.");
    x.change = MARKED("working.pour.change", "Other litres, another fuel, or the shelf's content put right.");
    return x;
}

Explanation explainFuelContent(const std::string &name, const Uncertain &of) {
    Explanation x;
    x.title = verbatim(name);
    x.result = content(of.value);
    x.formula = MARKED("working.fuel_content.formula", "c ± 2·σ");
    x.substituted = {MARKED("working.fuel_content.numbers", "{0} ± 2 · {1} = ± {2}"),
                     {content(of.value), contentStep(of.sigma), contentStep(2 * of.sigma)}};
    x.inputs = {
        {"c", MARKED("working.fuel_content.from", "content of the fuel"), content(of.value), "fuel.shelf"}};
    x.source = MARKED("working.fuel_content.source",
                      "The shelf, or a tube of the lot where there is one; two standard uncertainties hold "
                      "about 95 % (common practice)");
    x.uncertainty = {MARKED("working.fuel_content.uncertainty", "σ is {0}."), {contentStep(of.sigma)}};
    x.change = MARKED("working.fuel_content.change", "A tube of the lot that is poured.");
    return x;
}

Explanation explainEffect(const PourEffect &e) {
    Explanation x;
    x.title = MARKED("working.effect.title", "Just poured in");
    x.result = {e.lambda, D::mixture};
    x.formula = MARKED("working.effect.formula", "λ = λ_target · K(new) / K(old)");
    x.substituted = {MARKED("working.effect.numbers", "{0} · {1}"),
                     {{e.lambdaTarget, D::mixture}, {e.lambdaFactor, D::none}}};
    x.inputs = {
        {"c_0", MARKED("working.effect.from.calibrated", "calibrated for"), content(e.before), "tank.events"},
        {"c", MARKED("working.effect.from.after_pour", "after the pour"), content(e.content), "fuel.shelf"},
        {"α",
         MARKED("working.effect.from.spark_stands", "spark as it stands"),
         {e.sparkDeg, D::sparkAngle},
         "calibration.spark"},
        {"α*",
         MARKED("working.effect.from.spark_content", "spark for this content"),
         {e.sparkOfContentDeg, D::sparkAngle},
         "calibration.spark"}};
    x.source = MARKED("working.effect.source",
                      "Mass-weighted fuel model, Heywood (1988) eq. 3.6; spark from the job's own tables");
    x.uncertainty = {
        MARKED("working.effect.uncertainty",
               "Until the reading has settled; a working content sensor is followed from then on."),
        {}};
    if (e.follows)
        x.inputs.push_back({"λ'",
                            MARKED("working.effect.from.settled", "λ once the sensor has read it"),
                            {e.settledLambda, D::mixture},
                            "content_sensor.on_fault"});
    x.change = {
        MARKED("working.effect.change", "At {0}, {1}: the place under boost where the spark is most over."),
        {{e.rpm, D::engineSpeed}, {e.loadKpa, D::pressure}}};
    return x;
}

} // namespace wheelwright
