// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/explain/explain_ladder.h"

#include "core/base/error.h"

#include <algorithm>

namespace wheelwright {
namespace {

using D = Dimension;

constexpr PhraseText priors = MARKED(
    "source.trend_priors", "Straight lines through the full pulls with normal priors: Bishop (2006), eq. "
                           "3.50, 3.51, 3.59; the priors are from memory (docs/sources.md)");

// "± 4 kPa (95 %), by the full pulls of 3 rungs"
Phrase byEvidence(Measured half, std::size_t evidence) {
    if (evidence == 0)
        return {MARKED("working.forecast.none", "± {0} (95 %): nobody has pulled yet, this is what tables "
                                                "usually have."),
                {half}};
    return {
        MARKED("working.forecast.by", "± {0} (95 %), by the full pulls of {1} rungs and how they scatter."),
        {half, {static_cast<double>(evidence), D::count}}};
}

Measured halfOf(const Uncertain &u, Dimension of, int decimals = -1) {
    return {within95 * u.sigma, differenceOf(of), decimals};
}

const Uncertain &known(const std::optional<Uncertain> &u, const char *what) {
    if (!u)
        throw InputError(what, MARKED("expected.forecast_number", "a number that is forecast"),
                         MARKED("found.no_number", "none"));
    return *u;
}

void placeOf(const RungForecast &f, Explanation &x) {
    x.inputs.push_back(
        {"n", MARKED("working.forecast.from.speed", "engine speed"), {f.rpm, D::engineSpeed}, ""});
    x.inputs.push_back(
        {"p", MARKED("working.forecast.from.load", "manifold pressure"), {f.loadKpa, D::pressure}, ""});
    x.inputs.push_back(
        {"T", MARKED("working.forecast.from.air", "intake air"), {f.intakeC, D::temperature}, ""});
}

constexpr PhraseText pullAgain =
    MARKED("working.forecast.change", "Full pulls on another rung: each one narrows the ±.");

void explainDuty(const RungForecast &f, std::size_t evidence, Explanation &x) {
    x.title = MARKED("working.forecast.duty", "Injectors, λ on target");
    x.result = {f.duty.value, D::ratio};
    x.formula = MARKED("working.forecast.duty.formula", "duty = duty of the tables · (1 + more fuel)");
    x.substituted = {MARKED("working.forecast.duty.numbers", "{0} · (1 + {1})"),
                     {{f.tablesDuty, D::ratio}, {f.fuelOver.value, D::ratio}}};
    placeOf(f, x);
    x.inputs.push_back({"d",
                        MARKED("working.forecast.from.tables", "duty of the tables there"),
                        {f.tablesDuty, D::ratio},
                        "injectors.flow_cc_min"});
    x.inputs.push_back({"k",
                        MARKED("working.forecast.from.over", "more fuel than the tables give"),
                        {f.fuelOver.value, D::ratio},
                        ""});
    x.source = priors;
    x.uncertainty = byEvidence(halfOf(f.duty, D::ratio), evidence);
}

void explainLambdaError(const RungForecast &f, std::size_t evidence, Explanation &x) {
    x.title = MARKED("working.forecast.lambda", "λ beside its target at first");
    x.result = {f.lambdaError.value, D::mixture, 3};
    x.formula =
        MARKED("working.forecast.lambda.formula", "λ − target = target · more fuel that the engine needs");
    x.substituted = {MARKED("working.forecast.lambda.numbers", "{0} · {1}"),
                     {{f.fuelOver.value != 0 ? f.lambdaError.value / f.fuelOver.value : 0, D::mixture, 3},
                      {f.fuelOver.value, D::ratio}}};
    placeOf(f, x);
    x.inputs.push_back({"k",
                        MARKED("working.forecast.from.over", "more fuel than the tables give"),
                        {f.fuelOver.value, D::ratio},
                        ""});
    x.source = priors;
    x.uncertainty = byEvidence(halfOf(f.lambdaError, D::mixture, 3), evidence);
}

void explainBoost(const RungForecast &f, std::size_t evidence, Explanation &x) {
    const Uncertain &u = known(f.heldKpa, "boost");
    x.title = MARKED("working.forecast.boost", "Boost that is held");
    x.result = {u.value, D::pressure};
    x.formula = MARKED("working.forecast.boost.formula", "boost target + what pulls held over theirs");
    x.substituted = {MARKED("working.forecast.held", "{0} held, {1} where the injectors are fullest"),
                     {{u.value, D::pressure}, {f.loadKpa, D::pressure}}};
    x.source = priors;
    x.uncertainty = byEvidence(halfOf(u, D::pressure), evidence);
}

void explainSolenoid(const RungForecast &f, std::size_t evidence, Explanation &x) {
    const Uncertain &u = known(f.solenoidDuty, "solenoid");
    x.title = MARKED("working.forecast.solenoid", "Duty of the solenoid");
    x.result = {u.value, D::ratio};
    x.formula = MARKED("working.forecast.solenoid.formula",
                       "duty over boost and content, by the pulls that held still; 0 at the spring");
    x.substituted = {MARKED("working.forecast.solenoid.numbers", "{0} for {1}"),
                     {{u.value, D::ratio}, {f.heldKpa ? f.heldKpa->value : f.loadKpa, D::pressure}}};
    x.inputs = {
        {"s", MARKED("working.forecast.from.pulls", "boost over duty"), {u.value, D::ratio}, "boost.points"}};
    x.source = priors;
    x.uncertainty = byEvidence(halfOf(u, D::ratio), evidence);
}

void explainAskedSpark(const RungForecast &f, Explanation &x) {
    x.title = MARKED("working.forecast.asked", "Spark that the tables ask for");
    x.result = {f.askedSparkDeg, D::sparkAngle};
    x.formula = MARKED("working.forecast.asked.formula", "the blended spark table at the rung's content");
    x.substituted = {
        MARKED("working.forecast.asked.numbers", "{0} at {1} and {2}"),
        {{f.askedSparkDeg, D::sparkAngle}, {f.sparkRpm, D::engineSpeed}, {f.sparkLoadKpa, D::pressure}}};
    x.source = MARKED("working.forecast.asked.source", "The job's spark tables and their blend");
    x.uncertainty = MARKED("working.forecast.asked.uncertainty", "Read out of the tables: exact.");
    x.change = MARKED("working.forecast.asked.change", "The spark tables, or the weight between them.");
}

void explainStandsSpark(const RungForecast &f, Explanation &x) {
    const Uncertain &u = known(f.standsSparkDeg, "spark");
    x.title = MARKED("working.forecast.stands", "Spark that the engine stands");
    x.result = {u.value, D::sparkAngle};
    x.formula = MARKED("working.forecast.stands.formula",
                       "the ceiling learned from logs nearest to the lowest speed with all boost");
    x.substituted = {MARKED("working.forecast.stands.numbers", "{0} at {1} and {2}; asked: {3}"),
                     {{u.value, D::sparkAngle},
                      {f.sparkRpm, D::engineSpeed},
                      {f.sparkLoadKpa, D::pressure},
                      {f.askedSparkDeg, D::sparkAngle}}};
    x.source = MARKED("working.forecast.stands.source",
                      "Knock and spark of the job's logs, by the shape of its knock surface");
    x.uncertainty = {MARKED("working.forecast.stands.uncertainty", "± {0} (95 %)."),
                     {halfOf(u, D::sparkAngle)}};
    x.change = MARKED("working.forecast.stands.change",
                      "Logs with spark near the ceiling there, or a spark ceiling that is typed.");
}

void explainPower(const RungForecast &f, std::size_t evidence, Explanation &x) {
    const Uncertain &u = known(f.powerKw, "power");
    x.title = MARKED("working.forecast.power", "Power");
    x.result = {u.value, D::power};
    x.formula =
        MARKED("working.forecast.power.formula", "power over content and boost, by pulls and their runs");
    x.substituted = {MARKED("working.forecast.power.numbers", "{0} at {1}"),
                     {{u.value, D::power}, {f.loadKpa, D::pressure}}};
    x.source = priors;
    x.uncertainty = byEvidence(halfOf(u, D::power), evidence);
}

} // namespace

Explanation explainForecast(const RungForecast &f, ForecastNumber which, std::size_t evidence) {
    Explanation x;
    x.change = pullAgain;
    switch (which) {
    case ForecastNumber::duty:
        explainDuty(f, evidence, x);
        break;
    case ForecastNumber::lambdaError:
        explainLambdaError(f, evidence, x);
        break;
    case ForecastNumber::boost:
        explainBoost(f, evidence, x);
        break;
    case ForecastNumber::solenoid:
        explainSolenoid(f, evidence, x);
        break;
    case ForecastNumber::askedSpark:
        explainAskedSpark(f, x);
        break;
    case ForecastNumber::standsSpark:
        explainStandsSpark(f, x);
        break;
    case ForecastNumber::power:
        explainPower(f, evidence, x);
        break;
    }
    return x;
}

namespace {

ExplanationInput contentOf(const Rung &r) {
    return {"E", MARKED("working.rung.from.content", "content aimed at"), {r.content, D::content}, ""};
}

void explainContent(const Rung &r, Explanation &x) {
    x.title = MARKED("working.rung.content", "Content of the tank");
    x.result = {r.expected.value, D::content};
    x.formula = MARKED("working.rung.content.formula", "alcohol that is in it / litres that are in it");
    x.substituted = {MARKED("working.rung.content.numbers", "{0} of alcohol in {1}"),
                     {{r.volumeL * r.expected.value, D::displacement}, {r.volumeL, D::displacement}}};
    x.inputs = {contentOf(r)};
    for (const RungPour &p : r.pours)
        x.inputs.push_back({"a", verbatim(p.name), {p.litres, D::displacement}, "fuel.shelf"});
    if (r.drainL > 0)
        x.inputs.push_back(
            {"d", MARKED("working.rung.from.drained", "drained first"), {r.drainL, D::displacement}, ""});
    x.source =
        MARKED("source.volume_balance", "Volume balance; contraction on mixing (under 0.5 %) is ignored");
    x.uncertainty = {MARKED("working.rung.content.uncertainty",
                            "± {0} (95 %), from gauge, meter and fuels; a tube tells."),
                     {{within95 * r.expected.sigma, D::contentDifference, 1}}};
    x.change = MARKED("working.rung.content.change", "Another fuel on the shelf, or a tube before it.");
}

void explainSettles(const Rung &r, Explanation &x) {
    x.title = MARKED("working.rung.settles", "Until the new fuel is there");
    x.result = {std::max(r.settleMin, r.settleInjectorsMin), D::minutes};
    x.formula =
        MARKED("working.rung.settles.formula", "the later of: the sensor knows it, the injectors have it");
    x.substituted = {MARKED("working.rung.settles.numbers", "sensor {0}, injectors {1}"),
                     {{r.settleMin, D::minutes}, {r.settleInjectorsMin, D::minutes}}};
    x.inputs = {contentOf(r)};
    x.source = MARKED("working.settling.source",
                      "Line as plug flow, surge tank as a stirred vessel: dc/dt = Q (c_tank − c) / V");
    x.uncertainty = MARKED("working.rung.settles.uncertainty",
                           "Lines that nobody has measured are estimates: wait until the reading stands.");
    x.change = MARKED("working.rung.settles.change", "Volumes of the lines and what flows through them.");
}

void explainFuel(const Rung &r, Explanation &x) {
    x.title = MARKED("working.rung.fuel", "Fuel against the base fuel");
    x.result = {r.multiplier, D::none, 3};
    x.formula = MARKED("working.rung.fuel.formula", "volume at this content / volume at the base content");
    x.substituted = {MARKED("working.rung.fuel.numbers", "× {0} at {1}"),
                     {{r.multiplier, D::none, 3}, {r.content, D::content}}};
    x.inputs = {contentOf(r)};
    x.source = MARKED("working.rung.fuel.source",
                      "Stoichiometry and density of the mix: Heywood (1988) eq. 3.6 and table D.4");
    x.uncertainty = MARKED("working.rung.fuel.uncertainty", "A per cent or two: fuels of one name differ.");
    x.change = MARKED("working.rung.fuel.change", "The content of the rung.");
}

void explainSpark(const Rung &r, Explanation &x) {
    const RungDemand &d = r.demand;
    x.title = MARKED("working.rung.spark", "Spark of the tables");
    x.result = {d.sparkDeg, D::sparkAngle};
    x.formula = MARKED("working.rung.spark.formula",
                       "the blended spark table at the lowest speed that has all of the boost");
    x.substituted = {
        MARKED("working.rung.spark.numbers", "{0} at {1} and {2}"),
        {{d.sparkDeg, D::sparkAngle}, {d.sparkRpm, D::engineSpeed}, {d.sparkLoadKpa, D::pressure}}};
    x.inputs = {contentOf(r)};
    x.source = MARKED("working.forecast.asked.source", "The job's spark tables and their blend");
    x.uncertainty = MARKED("working.forecast.asked.uncertainty", "Read out of the tables: exact.");
    x.change = MARKED("working.forecast.asked.change", "The spark tables, or the weight between them.");
}

void explainPeak(const Rung &r, Explanation &x) {
    const RungDemand &d = r.demand;
    x.title = MARKED("working.rung.peak", "Boost at most");
    x.result = {d.peakKpa.value_or(0), D::pressure};
    x.formula = MARKED("working.rung.peak.formula", "boost target + the overshoot that is allowed");
    x.substituted = {MARKED("working.rung.cut.numbers", "{0} + {1}"),
                     {{r.boostKpa.value_or(0), D::pressure},
                      {d.peakKpa.value_or(0) - r.boostKpa.value_or(0), D::pressureDifference}}};
    x.inputs = {{"Δ",
                 MARKED("working.rung.from.overshoot", "overshoot"),
                 {d.peakKpa.value_or(0) - r.boostKpa.value_or(0), D::pressureDifference},
                 "limit:boost.overshoot"}};
    x.source = MARKED("working.rung.cut.source", "Common practice");
    x.uncertainty = MARKED("working.rung.peak.uncertainty", "What pulls showed stands in the forecast.");
    x.change = MARKED("working.rung.peak.change", "A calmer boost control, and the limit after it.");
}

void explainPump(const Rung &r, Explanation &x) {
    const RungDemand &d = r.demand;
    x.title = MARKED("working.rung.pump", "Pumps at their worst");
    x.result = {d.pumpShare.value_or(0), D::ratio};
    x.formula = MARKED("working.rung.pump.formula", "fuel burned · (1 + margin) / what the pumps deliver");
    x.substituted = {MARKED("working.rung.pump.numbers", "{0} of fuel at most, {1} of what they deliver"),
                     {{d.flowLMin, D::flowLMin}, {d.pumpShare.value_or(0), D::ratio}}};
    x.inputs = {contentOf(r)};
    x.source = MARKED("working.limit.source.pumps_data",
                      "The pumps' data sheets, linear between their points; margin: common practice");
    x.uncertainty = MARKED("working.rung.pump.uncertainty",
                           "As good as the data sheets, at the volts that are at the pump.");
    x.change = MARKED("working.limit.change.another_pump",
                      "Another pump beside it, more volts, or less pressure to work against.");
}

void explainCut(const Rung &r, Explanation &x) {
    x.title = MARKED("working.rung.cut", "Overboost cut for it");
    x.result = {r.cutKpa, D::pressure};
    x.formula = MARKED("working.rung.cut.formula",
                       "boost + the most of: the step of one pull, the room of a cut, the overshoot + 3 kPa; "
                       "no higher than the engine's limit");
    x.substituted = {
        MARKED("working.rung.cut.numbers", "{0} + {1}"),
        {{r.boostKpa.value_or(0), D::pressure}, {r.cutKpa - r.boostKpa.value_or(0), D::pressureDifference}}};
    x.inputs = {{"p",
                 MARKED("working.rung.from.boost", "boost target of the rung"),
                 {r.boostKpa.value_or(0), D::pressure},
                 ""},
                {"Δ",
                 MARKED("working.rung.from.step", "over it"),
                 {r.cutKpa - r.boostKpa.value_or(0), D::pressureDifference},
                 "limit:boost.step"}};
    x.source = MARKED("working.rung.cut.source", "Common practice");
    x.uncertainty =
        MARKED("working.rung.cut.uncertainty", "Set by hand: exact, where the sensor reads true.");
    x.change =
        MARKED("working.rung.cut.change",
               "The limits of a step, of the room of a cut and of the overshoot; the engine's own limit.");
}

void explainDuty(const Rung &r, Explanation &x) {
    const RungDemand &d = r.demand;
    x.title = MARKED("working.rung.duty", "Injectors at their worst");
    x.result = {d.duty, D::ratio};
    x.formula = MARKED("working.rung.duty.formula",
                       "duty = pulse · rpm / 120 000, in the coldest air, boost with all of its overshoot");
    x.substituted = {MARKED("working.rung.duty.numbers", "{0} at {1} and {2}"),
                     {{d.duty, D::ratio}, {d.rpm, D::engineSpeed}, {d.loadKpa, D::pressure}}};
    x.inputs = {contentOf(r),
                {"p",
                 MARKED("working.rung.from.peak", "highest manifold pressure"),
                 {d.peakKpa.value_or(d.loadKpa), D::pressure},
                 ""}};
    x.source = MARKED("working.rung.duty.source",
                      "Air: Heywood (1988) eq. 2.27; orifice law Q ∝ √Δp; limits of the job");
    x.uncertainty = MARKED("working.limit.uncertainty",
                           "As good as the tables at that load: they are held beyond their last row.");
    x.change =
        MARKED("working.limit.change", "Larger injectors, more rail pressure, or a richer limit of content.");
}

void explainCost(const Rung &r, Explanation &x) {
    x.title = MARKED("working.rung.cost", "What its fuel costs");
    x.result = {r.price, D::money};
    x.formula = MARKED("working.rung.cost.formula", "Σ litres · price of a litre; whole cans");
    x.substituted = {MARKED("working.rung.cost.numbers", "{0} in all"), {{r.price, D::money}}};
    for (const RungPour &p : r.pours)
        x.inputs.push_back({"", verbatim(p.name), {p.price, D::money}, "fuel.shelf"});
    x.source = MARKED("working.rung.cost.source", "The shelf's prices");
    x.uncertainty = MARKED("working.rung.cost.uncertainty", "As good as the prices that were typed.");
    x.change = MARKED("working.rung.cost.change", "Prices of the shelf, or other fuels to pour.");
}

} // namespace

Explanation explainRung(const Rung &r, RungNumber which) {
    Explanation x;
    switch (which) {
    case RungNumber::content:
        explainContent(r, x);
        break;
    case RungNumber::settles:
        explainSettles(r, x);
        break;
    case RungNumber::fuel:
        explainFuel(r, x);
        break;
    case RungNumber::spark:
        explainSpark(r, x);
        break;
    case RungNumber::peak:
        explainPeak(r, x);
        break;
    case RungNumber::pump:
        explainPump(r, x);
        break;
    case RungNumber::cut:
        explainCut(r, x);
        break;
    case RungNumber::duty:
        explainDuty(r, x);
        break;
    case RungNumber::cost:
        explainCost(r, x);
        break;
    }
    return x;
}

Explanation explainPassLambda(const PassPlan &p) {
    Explanation x;
    x.title = MARKED("working.pass.lambda", "λ of the pass");
    x.result = {p.lambda, D::mixture};
    x.formula =
        MARKED("working.pass.lambda.formula", "air / (fuel of the pump − what pills lead back) / AFR₀");
    x.substituted = {MARKED("working.pass.lambda.numbers", "AFR {0}; leanest {1} at {2}"),
                     {{p.afr, D::none, 2}, {p.leanestLambda, D::mixture}, {p.leanestRpm, D::engineSpeed}}};
    x.inputs = {{"d",
                 MARKED("working.pass.from.main_pill", "main pill"),
                 {p.pillMm, D::length},
                 "mechanical.main_mm"}};
    x.inputs.push_back(
        {"", MARKED("working.pass.from.leaner", "leaner than the pass before"), {p.leanerBy, D::ratio}, ""});
    x.source = MARKED("working.pass.lambda.source",
                      "Orifice law Q ∝ A·√Δp; air: Heywood (1988) eq. 2.27, in the air of today");
    x.uncertainty =
        MARKED("working.pass.lambda.uncertainty", "A model: plugs, exhaust and the next pass judge it.");
    x.change = MARKED("working.pass.lambda.change", "Another pill, or another air.");
    return x;
}

Explanation explainPassExhaust(const PassPlan &p) {
    Explanation x;
    x.title = MARKED("working.pass.exhaust", "Exhaust of the pass");
    x.result = {p.exhaustC.value, D::temperature};
    x.formula = MARKED("working.pass.exhaust.formula", "exhaust of the passes so far + slope · leaner by");
    x.substituted = {MARKED("working.pass.exhaust.numbers", "{0}, {1} leaner than the pass before"),
                     {{p.exhaustC.value, D::temperature}, {p.leanerBy, D::ratio}}};
    x.inputs = {{"λ", MARKED("working.pass.from.lambda", "λ of the pass"), {p.lambda, D::mixture}, ""}};
    x.source =
        MARKED("working.pass.exhaust.source",
               "About 480 °C at λ 0.8 and 11 K for a hundredth of λ, from memory, until passes say better: "
               "Bishop (2006), eq. 3.50, 3.51, 3.59");
    x.uncertainty = {
        MARKED("working.pass.exhaust.uncertainty", "± {0} (95 %), by the passes so far and what is usual."),
        {{within95 * p.exhaustC.sigma, D::temperatureDifference}}};
    x.change = MARKED("working.pass.exhaust.change", "Passes with their exhaust written down.");
    return x;
}

} // namespace wheelwright
