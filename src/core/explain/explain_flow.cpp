// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/explain/explain_flow.h"

#include "core/base/limits.h"
#include "core/job/job_schema.h"
#include "core/study/evaluation.h"
#include "core/study/fuel_delivery.h"
#include "core/study/rail_sag.h"
#include "core/study/two_table_school.h"

#include <algorithm>
#include <cmath>

namespace wheelwright {
namespace {

using D = Dimension;

// "…; Injector duty, stop: common practice"
Phrase withOrigin(PhraseText source, const Job &job, std::string_view limit) {
    return listed({source,
                   {MARKED("working.limit_origin", "{A}: {B}"),
                    {},
                    {},
                    {limitById(limit).title, limitOrigin(job, limit)}}});
}

// Where boost is highest: a rail that is commanded by speed has its pressure there.
double speedOfPeak(const Study &given, double content) {
    const Evaluation &e = given.inPressure().evaluation();
    const ContentSlice s = e.sliceAt(content);
    const auto at = std::ranges::max_element(s.reach, {}, &ReachAtSpeed::highestKpa);
    return e.rpm()[static_cast<std::size_t>(at - s.reach.begin())];
}

void explainBoostByDuty(const Job &job, LimitingPart part, double kpa, Explanation &x) {
    const char *limit = part == LimitingPart::dutyStop ? "flow.duty.stop" : "flow.duty.caution";
    x.formula = MARKED("working.limit.formula", "highest peak p with max over rpm of duty(rpm, p(rpm)) ≤ "
                                                "limit, p(rpm) as far under p as the boost "
                                                "tables have it");
    x.substituted = {MARKED("working.limit.numbers", "duty reaches {0} at {1}"),
                     {{limitOf(job, limit), D::ratio}, {kpa, D::pressure}}};
    x.inputs.push_back({"Q",
                        MARKED("working.limit.from.injector_flow", "injector flow"),
                        {job.injectors.flowCcMin, D::volumeFlow},
                        "injectors.flow_cc_min"});
    x.inputs.push_back({"lim",
                        MARKED("working.limit.from.limit", "limit"),
                        {limitOf(job, limit), D::ratio},
                        "limit:" + std::string(limit)});
    x.source = withOrigin(MARKED("working.limit.source",
                                 "Air: Heywood (1988) eq. 2.27; orifice law Q ∝ √Δp; coldest intake air"),
                          job, limit);
    x.change = {
        MARKED("working.limit.change", "Larger injectors, more rail pressure, or a richer limit of content."),
        {}};
}

void explainBoostByPumps(const Study &study, double content, double kpa, Explanation &x) {
    const Job &job = study.job();
    x.formula =
        MARKED("working.limit.formula.highest_p",
               "highest peak p with demand(rpm, p(rpm)) · (1 + margin) ≤ pump flow(p(rpm)) at every rpm");
    x.substituted = {
        MARKED("working.limit.numbers.from_pumps", "{0} from the pumps at {1}"),
        {{pumpFlowAt(job, {speedOfPeak(study, content), kpa}), D::flowLMin}, {kpa, D::pressure}}};
    x.inputs.push_back(
        {"m", MARKED("working.limit.from.margin", "margin"), {job.supply.margin, D::ratio}, "supply.margin"});
    x.inputs.push_back({"n",
                        MARKED("working.limit.from.pumps_fitted", "pumps fitted"),
                        {static_cast<double>(job.supply.pumps.size()), D::count},
                        "supply.pumps"});
    x.source = MARKED("working.limit.source.pumps_data",
                      "The pumps' data sheets, linear between their points; margin: common practice");
    x.change = {MARKED("working.limit.change.another_pump",
                       "Another pump beside it, more volts, or less pressure to work against."),
                {}};
}

void explainBoostBySensor(const Job &job, Explanation &x) {
    x.formula = MARKED("working.limit.formula.p_p", "p = p_min + share · (p_max − p_min)");
    x.substituted = {MARKED("working.limit.numbers.of_to", "{0} of {1} to {2}"),
                     {{limitOf(job, "boost.map_range.span"), D::ratio},
                      {job.engine.mapSensorMinKpa, D::pressure},
                      {job.engine.mapSensorMaxKpa, D::pressure}}};
    x.inputs.push_back({"p_max",
                        MARKED("working.limit.from.sensor_ends", "sensor ends at"),
                        {job.engine.mapSensorMaxKpa, D::pressure},
                        "engine.map_sensor_max_kpa"});
    x.source = withOrigin(MARKED("working.limit.source.sensor_s", "The sensor's range"), job,
                          "boost.map_range.span");
    x.change = {MARKED("working.limit.change.sensor_longer", "A sensor with a longer range."), {}};
}

void explainBoostBySpring(const Job &job, Explanation &x) {
    x.formula = MARKED("working.limit.formula.p_p_ambient", "p = p_ambient + ratio · spring");
    x.substituted = {MARKED("working.limit.numbers.plain", "{0} + {1} · {2}"),
                     {{job.conditions.ambientKpa, D::pressure},
                      {limitOf(job, "boost.spring_ratio"), D::none},
                      {job.boost.springKpa, D::pressureGauge}}};
    x.inputs.push_back({"s",
                        MARKED("working.limit.from.spring_measured", "spring, measured"),
                        {job.boost.springKpa, D::pressureGauge},
                        "boost.spring_kpa"});
    x.source = withOrigin(MARKED("working.limit.source.common_practice", "Common practice"), job,
                          "boost.spring_ratio");
    x.change = {MARKED("working.limit.change.stiffer_spring", "A stiffer spring."), {}};
}

void explainBoostByEngine(double content, double kpa, Explanation &x) {
    x.formula = MARKED("working.limit.formula.job_s", "the job's own curve over content");
    x.substituted = {MARKED("working.limit.numbers.at", "{0} at {1}"),
                     {{kpa, D::pressure}, {content, D::content}}};
    x.inputs.push_back({"p",
                        MARKED("working.limit.from.limit_here", "limit here"),
                        {kpa, D::pressure},
                        "engine.boost_limit_kpa"});
    x.source = MARKED("working.limit.source.stated_job", "Stated in the job");
    x.change = {MARKED("working.limit.change.head_rods", "Head, rods and gasket; not a number here."), {}};
}

} // namespace

Explanation explainLimit(const Study &study, LimitingPart part, double content) {
    Explanation x;
    const double kpa = boostAllowed(study, part, content);
    x.title = {MARKED("working.limit.title", "{A}: allowed"), {}, {}, {limitingPartTitle(part)}};
    x.result = {kpa, D::pressure};
    x.inputs = {{"E", MARKED("working.limit.from.content", "content"), {content, D::content}, ""}};
    x.uncertainty = {MARKED("working.limit.uncertainty",
                            "As good as the tables at that load: they are held beyond their last row."),
                     {}};
    switch (part) {
    case LimitingPart::dutyCaution:
    case LimitingPart::dutyStop:
        explainBoostByDuty(study.job(), part, kpa, x);
        break;
    case LimitingPart::pump:
        explainBoostByPumps(study, content, kpa, x);
        break;
    case LimitingPart::mapSensor:
        explainBoostBySensor(study.job(), x);
        break;
    case LimitingPart::springRatio:
        explainBoostBySpring(study.job(), x);
        break;
    case LimitingPart::engine:
        explainBoostByEngine(content, kpa, x);
        break;
    }
    return x;
}

Explanation explainPower(const Job &job, const Frontier &f, std::size_t at) {
    const auto [low, high] = f.powerKw.at(at);
    const Blend blend = blendAt(job, f.contents[at]);
    const BsfcBand band = usualBsfc(f.targetKpa[at] > job.conditions.ambientKpa * 1.05,
                                    blend.ethanol.fraction(), blend.methanol.fraction());
    Explanation x;
    x.title = MARKED("working.power.title", "Power that the fuel is enough for");
    x.result = {(low + high) / 2, D::power};
    x.formula = MARKED("working.power.formula", "P = ṁ_f / BSFC");
    x.substituted = {MARKED("working.power.numbers", "{0} at {1} g/kWh, {2} at {3} g/kWh"),
                     {{low, D::power}, {band.high, D::none}, {high, D::power}, {band.low, D::none}}};
    x.inputs = {{"E", MARKED("working.power.from.content", "content"), {f.contents[at], D::content}, ""},
                {"p",
                 MARKED("working.power.from.boost_target", "boost target"),
                 {f.targetKpa[at], D::pressure},
                 "calibration.boost.base"},
                {"ṁ",
                 MARKED("working.power.from.fuel_g_s", "fuel, g/s"),
                 {low * band.high / 3600, D::none},
                 "calibration.fuel.base"}};
    x.source =
        MARKED("working.power.source",
               "Common practice: 0.45–0.50 lb/hp h, boosted 0.55–0.65; E85 × 1.35–1.4, methanol × 2.1");
    x.uncertainty = {MARKED("working.power.uncertainty",
                            "The band is that of the usual consumption; a dyno says what this engine takes."),
                     {}};
    x.change = {MARKED("working.power.change",
                       "Boost, and how rich the target is: rich mixtures burn fuel that makes no power."),
                {}};
    return x;
}

Explanation explainDuty(const Study &study, const OperatingPoint &at) {
    const auto [content, rpm, load] = at;
    const Job &job = study.job();
    const BlendedPoint p = blendedPoint(study, at);
    const DutyWorking w = dutyAt(job, content, job.conditions.intakeColdestC, rpm, load, p.fuel, p.lambda);
    Explanation x;
    x.title = MARKED("working.duty.title", "Injector duty here");
    x.result = {w.duty, D::ratio};
    x.formula = MARKED("working.duty.formula",
                       "duty = pulse · rpm / 120 000,  pulse = fuel per cycle / flow + dead time");
    x.substituted = {
        MARKED("working.duty.numbers", "({0} mm³ at {1} + {2}) · {3}"),
        {{w.fuelMm3, D::none}, {w.flowCcMin, D::volumeFlow}, {w.deadMs, D::duration}, {rpm, D::engineSpeed}}};
    x.inputs = {{"T",
                 MARKED("working.duty.from.blended_fuel_table", "blended fuel table"),
                 {p.fuel, tableIn(job, CalibratedQuantity::fuel, false).dimension},
                 "calibration.fuel.base"},
                {"λ",
                 MARKED("working.duty.from.blended_target", "blended target"),
                 {p.lambda, D::mixture},
                 "calibration.lambda.base"},
                {"Q",
                 MARKED("working.duty.from.injector_flow_here", "injector flow here"),
                 {w.flowCcMin, D::volumeFlow},
                 "injectors.flow_cc_min"},
                {"Δp",
                 MARKED("working.duty.from.pressure_across", "pressure across"),
                 {w.differentialKpa, D::pressureDifference},
                 RailPressure(job).link()}};
    x.source = withOrigin(MARKED("working.duty.source",
                                 "Air: Heywood (1988) eq. 2.27; orifice law Q ∝ √Δp; coldest intake air"),
                          job, "flow.duty.stop");
    x.uncertainty = {MARKED("working.duty.uncertainty", "Injector flows scatter by 1 to 3 %."), {}};
    x.change = {MARKED("working.duty.change", "Larger injectors, less boost or less alcohol."), {}};
    return x;
}

Explanation explainReturn(const Job &job, const OperatingPoint &at, double returnLMin) {
    const auto [content, rpm, load] = at;
    const double pump = pumpFlowAt(job, {rpm, load});
    Explanation x;
    x.title = MARKED("working.return.title", "What comes back");
    x.result = {returnLMin, D::flowLMin};
    x.formula = MARKED("working.return.formula", "return = pumps − engine");
    x.substituted = {
        MARKED("working.return.numbers", "{0} − {1} at {2}, {3}"),
        {{pump, D::flowLMin}, {pump - returnLMin, D::flowLMin}, {rpm, D::engineSpeed}, {load, D::pressure}}};
    x.inputs = {{"Q_p",
                 MARKED("working.return.from.pumps_pressure", "pumps at this pressure"),
                 {pump, D::flowLMin},
                 "supply.pump_points"},
                {"E", MARKED("working.return.from.content", "content"), {content, D::content}, ""},
                {"least",
                 MARKED("working.return.from.sensor_needs", "a sensor in it needs"),
                 {job.supply.sensorReturnLMin, D::flowLMin},
                 "supply.sensor_return_l_min"}};
    x.source =
        MARKED("working.return.source", "The pumps' data sheets; engine flow with the coldest intake air");
    x.uncertainty = {MARKED("working.return.uncertainty",
                            "Pumps wear and filters clog: the margin of the demand is not taken off here."),
                     {}};
    x.change = {MARKED("working.return.change",
                       "Freeze the reading where too little comes back, or put the sensor into the feed."),
                {}};
    return x;
}

Explanation explainSag(const Study &study, double content) {
    const Job &job = study.job();
    const FuelSupply &s = job.supply;
    const CommandedAcross commanded = commandedAcross(study, content);
    Explanation x;
    x.title = MARKED("working.sag.title", "Sag of the rail");
    x.result = {railSag(commanded.kpa, s.measuredKpa), D::ratio};
    x.formula = MARKED("working.sag.formula", "sag = 1 − Δp measured / Δp commanded");
    x.substituted = {MARKED("working.sag.numbers", "1 − {0} / {1}"),
                     {{s.measuredKpa, D::pressureDifference}, {commanded.kpa, D::pressureDifference}}};
    x.inputs = {{"Δp",
                 MARKED("working.sag.from.measured", "measured"),
                 {s.measuredKpa, D::pressureDifference},
                 "supply.measured_kpa"},
                {"Δp_0",
                 commanded.at
                     ? Phrase{MARKED("working.sag.from.rail", "commanded at {0}, {1}"),
                              {{commanded.at->rpm, D::engineSpeed}, {commanded.at->loadKpa, D::pressure}}}
                     : Phrase{MARKED("working.sag.from.commanded", "commanded")},
                 {commanded.kpa, D::pressureDifference},
                 commanded.at ? RailPressure(job).link() : "supply.commanded_kpa"},
                {"lim",
                 MARKED("working.sag.from.supply_end_over", "supply is at its end over"),
                 {limitOf(job, "flow.sag"), D::ratio},
                 "limit:flow.sag"}};
    x.source = withOrigin(MARKED("working.sag.source", "Definition"), job, "flow.sag");
    x.uncertainty = {
        MARKED("working.sag.uncertainty", "Two sensors: check both against each other with the engine off."),
        {}};
    x.change = {MARKED("working.sag.change",
                       "Pump, its voltage, filter, lines. Fuel added to the table only hides it."),
                {}};
    return x;
}

Explanation explainAssignment(const Job &job, const InjectorAssignment &a, std::size_t cylinder) {
    const double need = job.cylinderNeeds[cylinder].need;
    const double flow = job.measuredInjectors[a.injectorOf[cylinder]].flowCcMin;
    Explanation x;
    x.title = {MARKED("working.assignment.title", "Injector for cylinder {a}"),
               {},
               {job.cylinderNeeds[cylinder].label}};
    x.result = {flow, D::volumeFlow};
    x.formula = MARKED("working.assignment.formula", "largest flow to the largest need; λ_c ∝ need / flow");
    x.substituted = {MARKED("working.assignment.numbers", "{0} / {1}, over the mean: {2} off"),
                     {{need, D::none}, {flow, D::volumeFlow}, {a.lambdaRatio[cylinder] - 1, D::ratio}}};
    x.inputs = {
        {"need",
         MARKED("working.assignment.from.cylinder", "of this cylinder"),
         {need, D::none},
         "engine.cylinder_needs"},
        {"Q",
         MARKED("working.assignment.from.measured", "measured"),
         {flow, D::volumeFlow},
         "injectors.measured"},
        {"s", MARKED("working.assignment.from.spread_lambda", "spread of λ"), {a.spread, D::ratio}, ""},
        {"s_0", MARKED("working.assignment.from.chance", "by chance"), {a.randomSpread, D::ratio}, ""}};
    x.source = MARKED("working.assignment.source",
                      "Rearrangement inequality: Hardy, Littlewood, Pólya (1934), theorem 368");
    x.uncertainty = {MARKED("working.assignment.uncertainty", "A bench repeats to about 1 %."), {}};
    x.change = {MARKED("working.assignment.change",
                       "A better matched set, or trims per cylinder where the controller has them."),
                {}};
    return x;
}

Explanation explainBoostFit(const Job &job, const BoostGroup &g) {
    Explanation x;
    x.title = MARKED("working.boost_fit.title", "Boost over solenoid duty");
    x.result = {g.fit->sigma(), D::pressureDifference};
    x.formula = MARKED("working.boost_fit.formula",
                       "least squares that never fall, then a monotone cubic through them");
    x.substituted = {
        MARKED("working.boost_fit.numbers", "± {0} about the curve, from {1} points"),
        {{g.fit->sigma(), D::pressureDifference}, {static_cast<double>(g.points.size()), D::count}}};
    x.inputs = {{"E",
                 MARKED("working.boost_fit.from.content_these_pulls", "content of these pulls"),
                 {g.content, D::content},
                 "boost.points"},
                {"s",
                 MARKED("working.boost_fit.from.spring", "spring"),
                 {job.boost.springKpa, D::pressureGauge},
                 "boost.spring_kpa"}};
    if (g.gear > 0)
        x.inputs.push_back(
            {"g", MARKED("working.boost_fit.from.gear", "gear"), {g.gear, D::count}, "boost.points"});
    x.source =
        MARKED("working.boost_fit.source",
               "Barlow et al. (1972), ch. 1; Fritsch and Butland, SIAM J. Sci. Stat. Comput. 5 (1984) 300");
    x.uncertainty = {MARKED("working.boost_fit.uncertainty",
                            "Twice the scatter is drawn. Weather, gear and content move the whole curve."),
                     {}};
    x.change = {MARKED("working.boost_fit.change", "More pulls at the same duty say what the scatter is."),
                {}};
    return x;
}

Explanation explainBoostStep(const Job &job, const BoostGroup &g, const BoostStep &s) {
    Explanation x;
    x.title = MARKED("working.boost_step.title", "Next boost step");
    x.result = {s.boostKpa, D::pressureGauge};
    x.formula = MARKED("working.boost_step.formula",
                       "p + least of the step and what the duty step gives; cut = p + ambient + step");
    x.substituted = {MARKED("working.boost_step.numbers", "{0} of duty, cut at {1}"),
                     {{s.duty, D::ratio}, {s.cutKpa, D::pressure}}};
    x.inputs = {{"Δp",
                 MARKED("working.boost_step.from.step", "step"),
                 {limitOf(job, "boost.step"), D::pressureDifference},
                 "limit:boost.step"},
                {"Δd",
                 MARKED("working.boost_step.from.duty_step", "duty step"),
                 {limitOf(job, "boost.step.duty"), D::ratio},
                 "limit:boost.step.duty"},
                {"cut",
                 MARKED("working.boost_step.from.room_over_least", "room over it, least"),
                 {limitOf(job, "boost.cut.room"), D::pressureDifference},
                 "limit:boost.cut.room"},
                {"±",
                 MARKED("working.boost_step.from.sigma", "of the curve through the pulls, twice its scatter"),
                 {2 * s.sigmaKpa, D::pressureDifference},
                 ""},
                {"E",
                 MARKED("working.boost_step.from.from_pulls", "from pulls on"),
                 {g.content, D::content},
                 "boost.points"}};
    x.source =
        withOrigin(MARKED("working.boost_step.source", "Common practice: 2 to 3 psi or 10 % duty a pull"),
                   job, "boost.step");
    x.uncertainty =
        s.beyond ? Phrase{MARKED("working.boost_step.uncertainty",
                                 "Past every logged pull: the last rise is drawn on, and may well steepen."),
                          {}}
                 : Phrase{MARKED("working.boost_step.uncertainty.sigma_logged",
                                 "± {0}, as the logged pulls scatter."),
                          {{s.sigmaKpa, D::pressureDifference}}};
    x.change = {MARKED("working.boost_step.change", "Log the pull, and the plan starts from there."), {}};
    return x;
}

Explanation explainSprayCell(const Study &study, double content, const SprayCell &c) {
    const Job &job = study.job();
    Explanation x;
    x.title = MARKED("working.spray_cell.title", "Trim for the spray here");
    x.result = {c.trim, D::ratio};
    x.formula =
        MARKED("working.spray_cell.formula", "trim = 1 − ṁ_spray AFR_M / (ṁ_main AFR),  λ_lost = λ / trim");
    x.substituted = {MARKED("working.spray_cell.numbers", "{0} meant; {1} of spray; {2} when it stops"),
                     {{c.lambdaMeant, D::mixture},
                      {c.sprayCcMin, D::volumeFlow},
                      {std::isfinite(c.lambdaIfLost) ? c.lambdaIfLost : 99, D::mixture}}};
    x.inputs = {
        {"Q",
         MARKED("working.spray_cell.from.spray_full", "spray at full"),
         {sprayFlowCcMin(job.aux.spray), D::volumeFlow},
         "aux.flow_cc_min"},
        {"M",
         MARKED("working.spray_cell.from.methanol", "methanol in it"),
         {job.aux.spray.methanol, D::methanolContent},
         "aux.methanol"},
        {"α",
         MARKED("working.spray_cell.from.spark_commanded_without", "spark commanded, with or without"),
         {c.sparkDeg, D::sparkAngle},
         "calibration.spark.base"},
        {"c",
         MARKED("working.spray_cell.from.alcohol_all_fuel", "alcohol in all of the fuel"),
         {c.alcoholWith, D::content},
         ""},
        {"Δα",
         MARKED("working.spray_cell.from.spark_tables_mixture",
                "spark tables: this mixture over the fuel alone"),
         {sparkOnSpray(study, content, c), D::sparkAngle},
         "calibration.spark.top"}};
    x.source = MARKED("working.spray_cell.source",
                      "λ of two fuels: air over the sum of fuel times its AFR; √ pressure law of the nozzle");
    x.uncertainty = {MARKED("working.spray_cell.uncertainty",
                            "Sprays wander between cylinders. The water's cooling is not counted."),
                     {}};
    x.change = {MARKED("working.spray_cell.change",
                       "A smaller nozzle, a later start, or tables that are not trimmed."),
                {}};
    return x;
}

Explanation explainPill(const Job &job, double mainMm, double areaMm2, const MixturePoint &p,
                        double leanerBy) {
    const MechanicalInjection &m = job.mechanical.injection;
    Explanation x;
    x.title = MARKED("working.pill.title", "Mixture with this pill");
    x.result = {p.lambda, D::mixture};
    x.formula = MARKED("working.pill.formula",
                       "Q = C_d A √(2Δp/ρ) through every orifice; share = A_nozzles / ΣA open");
    x.substituted = {MARKED("working.pill.numbers",
                            "pill {0}: {1} in the lines, {2} of {3} reaches the engine, {4} leaner"),
                     {{mainMm, D::length},
                      {p.network.pressureKpa, D::pressureGauge},
                      {p.network.share, D::ratio},
                      {p.network.pumpLMin, D::flowLMin},
                      {leanerBy, D::ratio}}};
    x.inputs = {
        {"A",
         MARKED("working.pill.from.mm_leading_back", "mm² leading back"),
         {areaMm2, D::none},
         "mechanical.main_mm"},
        {"n", MARKED("working.pill.from.nozzles", "nozzles"), {m.nozzles, D::none}, "mechanical.nozzles"},
        {"d", MARKED("working.pill.from.nozzle", "nozzle"), {m.nozzleMm, D::length}, "mechanical.nozzle_mm"},
        {"C_d",
         MARKED("working.pill.from.discharge_jets", "discharge, jets"),
         {m.dischargeJets, D::none},
         "mechanical.discharge_jets"},
        {"rpm",
         MARKED("working.pill.from.judged", "judged at"),
         {p.rpm, D::engineSpeed},
         "mechanical.judged_rpm"}};
    x.source =
        MARKED("working.pill.source", "Orifice law (Bernoulli) and continuity; air: Heywood (1988) eq. 2.27");
    x.uncertainty = {MARKED("working.pill.uncertainty",
                            "Discharge coefficients and pump wear: flow the system on a bench."),
                     {}};
    x.change = {MARKED("working.pill.change", "One pill at a time, then read plugs and exhaust temperature."),
                {}};
    return x;
}

Explanation explainWeather(const Job &job, const WeatherAdvice &a) {
    const auto input = [](const char *symbol, PhraseText title, const Weather &w, const char *link) {
        return ExplanationInput{symbol, title, {w.temperatureC, D::temperature}, link};
    };
    Explanation x;
    x.title = MARKED("working.weather.title", "Pill for today's air");
    x.result = {a.pillMm, D::length};
    x.formula =
        MARKED("working.weather.formula", "fuel ∝ oxygen: engine flow · ρ_now / ρ_then of the dry air");
    x.substituted = {
        MARKED("working.weather.numbers", "{0} / {1} = {2} of the fuel then"),
        {{a.densityNow, D::density}, {a.densityThen, D::density}, {a.densityNow / a.densityThen, D::none}}};
    x.inputs = {
        input("t_0", MARKED("working.weather.from.air_then", "air then"), job.mechanical.then,
              "mechanical.then_c"),
        input("t", MARKED("working.weather.from.air_now", "air now"), job.mechanical.now, "mechanical.now_c"),
        {"d",
         MARKED("working.weather.from.pill", "pill that is in"),
         {job.mechanical.injection.main.diameterMm, D::length},
         "mechanical.main_mm"}};
    x.source = MARKED(
        "working.weather.source",
        "Dry air by partial pressures, since λ follows the oxygen; saturation: WMO-No. 8 (2018), annex 4.B");
    x.uncertainty = {MARKED("working.weather.uncertainty",
                            "A blower's charge does not follow the surrounding air exactly."),
                     {}};
    x.change = {MARKED("working.weather.change", "Take the nearest pill on the rich side."), {}};
    return x;
}

Explanation explainPass(const Job &job, const PassFinding &f) {
    const PassRecord &p = job.mechanical.passes[f.pass];
    Explanation x;
    x.title = {MARKED("working.pass.title", "Pass {0}"), {{static_cast<double>(f.pass + 1), D::count}}};
    x.result = {p.exhaustC, D::temperature};
    x.formula = MARKED("working.pass.formula", "what was read against what is usual");
    x.substituted = f.words;
    x.inputs = {{"d", MARKED("working.pass.from.pill", "pill"), {p.pillMm, D::length}, "mechanical.passes"},
                {"P",
                 MARKED("working.pass.from.power_own_measure", "power, own measure"),
                 {p.power, D::none},
                 "mechanical.passes"}};
    x.source =
        MARKED("working.pass.source", "Common practice: about 1000 °F at the target, 600 °F is far rich");
    x.uncertainty = {MARKED("working.pass.uncertainty", "A thermocouple lags, and reads one cylinder."), {}};
    x.change = {MARKED("working.pass.change", "The next pass."), {}};
    return x;
}

} // namespace wheelwright
