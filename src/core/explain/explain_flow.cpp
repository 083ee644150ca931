// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/explain/explain_flow.h"

#include "core/base/limits.h"
#include "core/job/job_schema.h"
#include "core/study/fuel_delivery.h"
#include "core/study/two_table_school.h"

#include <cmath>

namespace wheelwright {
namespace {

using D = Dimension;

std::string originOf(const Job &job, std::string_view limit) {
    return "; " + std::string(limitById(limit).title) + ": " + limitOrigin(job, limit);
}

} // namespace

Explanation explainLimit(const Study &study, LimitingPart part, double content) {
    const Job &job = study.job();
    Explanation x;
    const double kpa = boostAllowed(study, part, content);
    x.title = std::string(limitingPartTitle(part)) + " allows";
    x.result = {kpa, D::pressure};
    x.inputs = {{"E", "content", {content, D::content}, ""}};
    x.uncertainty = {"As good as the tables at that load: they are held beyond their last row.", {}};
    const Injectors &inj = job.injectors;
    switch (part) {
    case LimitingPart::dutyCaution:
    case LimitingPart::dutyStop: {
        const char *limit = part == LimitingPart::dutyStop ? "flow.duty.stop" : "flow.duty.caution";
        x.formula = "highest p with max over rpm of duty(rpm, p) ≤ limit";
        x.substituted = {"duty reaches {0} at {1}", {{limitOf(job, limit), D::ratio}, {kpa, D::pressure}}};
        x.inputs.push_back({"Q", "injector flow", {inj.flowCcMin, D::volumeFlow}, "injectors.flow_cc_min"});
        x.inputs.push_back({"lim", "limit", {limitOf(job, limit), D::ratio}, "limit:" + std::string(limit)});
        x.source =
            "Air: Heywood (1988) eq. 2.27; orifice law Q ∝ √Δp; coldest intake air" + originOf(job, limit);
        x.change = {"Larger injectors, more rail pressure, or a richer limit of content.", {}};
        break;
    }
    case LimitingPart::pump:
        x.formula = "highest p with max over rpm of demand · (1 + margin) ≤ pump flow(p)";
        x.substituted = {"{0} from the pumps at {1}",
                         {{pumpFlowAtLoad(job, kpa), D::flowLMin}, {kpa, D::pressure}}};
        x.inputs.push_back({"m", "margin", {job.supply.margin, D::ratio}, "supply.margin"});
        x.inputs.push_back(
            {"n", "pumps fitted", {static_cast<double>(job.supply.pumps.size()), D::none}, "supply.pumps"});
        x.source = "The pumps' data sheets, linear between their points; margin: common practice";
        x.change = {"Another pump beside it, more volts, or less pressure to work against.", {}};
        break;
    case LimitingPart::mapSensor:
        x.formula = "p = p_min + share · (p_max − p_min)";
        x.substituted = {"{0} of {1} to {2}",
                         {{limitOf(job, "boost.map_range.span"), D::ratio},
                          {job.engine.mapSensorMinKpa, D::pressure},
                          {job.engine.mapSensorMaxKpa, D::pressure}}};
        x.inputs.push_back({"p_max",
                            "sensor ends at",
                            {job.engine.mapSensorMaxKpa, D::pressure},
                            "engine.map_sensor_max_kpa"});
        x.source = "The sensor's range" + originOf(job, "boost.map_range.span");
        x.change = {"A sensor with a longer range.", {}};
        break;
    case LimitingPart::springRatio:
        x.formula = "p = p_ambient + ratio · spring";
        x.substituted = {"{0} + {1} · {2}",
                         {{job.conditions.ambientKpa, D::pressure},
                          {limitOf(job, "boost.spring_ratio"), D::none},
                          {job.boost.springKpa, D::pressureGauge}}};
        x.inputs.push_back(
            {"s", "spring, measured", {job.boost.springKpa, D::pressureGauge}, "boost.spring_kpa"});
        x.source = "Common practice" + originOf(job, "boost.spring_ratio");
        x.change = {"A stiffer spring.", {}};
        break;
    case LimitingPart::engine:
        x.formula = "the job's own curve over content";
        x.substituted = {"{0} at {1}", {{kpa, D::pressure}, {content, D::content}}};
        x.inputs.push_back({"p", "limit here", {kpa, D::pressure}, "engine.boost_limit_kpa"});
        x.source = "Stated in the job";
        x.change = {"Head, rods and gasket; not a number here.", {}};
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
    x.title = "Power that the fuel is enough for";
    x.result = {(low + high) / 2, D::power};
    x.formula = "P = ṁ_f / BSFC";
    x.substituted = {"{0} at {1} g/kWh, {2} at {3} g/kWh",
                     {{low, D::power}, {band.high, D::none}, {high, D::power}, {band.low, D::none}}};
    x.inputs = {{"E", "content", {f.contents[at], D::content}, ""},
                {"p", "boost target", {f.targetKpa[at], D::pressure}, "calibration.boost.base"},
                {"ṁ", "fuel, g/s", {low * band.high / 3600, D::none}, "calibration.fuel.base"}};
    x.source = "Common practice: 0.45–0.50 lb/hp h, boosted 0.55–0.65; E85 × 1.35–1.4, methanol × 2.1";
    x.uncertainty = {"The band is that of the usual consumption; a dyno says what this engine takes.", {}};
    x.change = {"Boost, and how rich the target is: rich mixtures burn fuel that makes no power.", {}};
    return x;
}

Explanation explainDuty(const Study &study, const OperatingPoint &at) {
    const auto [content, rpm, load] = at;
    const Job &job = study.job();
    const BlendedPoint p = blendedPoint(study, at);
    const DutyWorking w = dutyAt(job, content, job.conditions.intakeColdestC, rpm, load, p.fuel, p.lambda);
    Explanation x;
    x.title = "Injector duty here";
    x.result = {w.duty, D::ratio};
    x.formula = "duty = pulse · rpm / 120 000,  pulse = fuel per cycle / flow + dead time";
    x.substituted = {
        "({0} mm³ at {1} + {2}) · {3}",
        {{w.fuelMm3, D::none}, {w.flowCcMin, D::volumeFlow}, {w.deadMs, D::duration}, {rpm, D::engineSpeed}}};
    x.inputs = {
        {"T",
         "blended fuel table",
         {p.fuel, tableIn(job, CalibratedQuantity::fuel, false).dimension},
         "calibration.fuel.base"},
        {"λ", "blended target", {p.lambda, D::mixture}, "calibration.lambda.base"},
        {"Q", "injector flow here", {w.flowCcMin, D::volumeFlow}, "injectors.flow_cc_min"},
        {"Δp", "pressure across", {w.differentialKpa, D::pressureDifference}, "injectors.rail_pressure_kpa"}};
    x.source = "Air: Heywood (1988) eq. 2.27; orifice law Q ∝ √Δp; coldest intake air" +
               originOf(job, "flow.duty.stop");
    x.uncertainty = {"Injector flows scatter by 1 to 3 %.", {}};
    x.change = {"Larger injectors, less boost or less alcohol.", {}};
    return x;
}

Explanation explainReturn(const Job &job, const OperatingPoint &at, double returnLMin) {
    const auto [content, rpm, load] = at;
    const double pump = pumpFlowAtLoad(job, load);
    Explanation x;
    x.title = "What comes back";
    x.result = {returnLMin, D::flowLMin};
    x.formula = "return = pumps − engine";
    x.substituted = {
        "{0} − {1} at {2}, {3}",
        {{pump, D::flowLMin}, {pump - returnLMin, D::flowLMin}, {rpm, D::engineSpeed}, {load, D::pressure}}};
    x.inputs = {{"Q_p", "pumps at this pressure", {pump, D::flowLMin}, "supply.pump_points"},
                {"E", "content", {content, D::content}, ""},
                {"least",
                 "a sensor in it needs",
                 {job.supply.sensorReturnLMin, D::flowLMin},
                 "supply.sensor_return_l_min"}};
    x.source = "The pumps' data sheets; engine flow with the coldest intake air";
    x.uncertainty = {"Pumps wear and filters clog: the margin of the demand is not taken off here.", {}};
    x.change = {"Freeze the reading where too little comes back, or put the sensor into the feed.", {}};
    return x;
}

Explanation explainSag(const Job &job) {
    const FuelSupply &s = job.supply;
    Explanation x;
    x.title = "Sag of the rail";
    x.result = {railSag(s.commandedKpa, s.measuredKpa), D::ratio};
    x.formula = "sag = 1 − Δp measured / Δp commanded";
    x.substituted = {"1 − {0} / {1}",
                     {{s.measuredKpa, D::pressureDifference}, {s.commandedKpa, D::pressureDifference}}};
    x.inputs = {{"Δp", "measured", {s.measuredKpa, D::pressureDifference}, "supply.measured_kpa"},
                {"Δp_0", "commanded", {s.commandedKpa, D::pressureDifference}, "supply.commanded_kpa"},
                {"lim", "supply is at its end over", {limitOf(job, "flow.sag"), D::ratio}, "limit:flow.sag"}};
    x.source = "Definition" + originOf(job, "flow.sag");
    x.uncertainty = {"Two sensors: check both against each other with the engine off.", {}};
    x.change = {"Pump, its voltage, filter, lines. Fuel added to the table only hides it.", {}};
    return x;
}

Explanation explainAssignment(const Job &job, const InjectorAssignment &a, std::size_t cylinder) {
    const double need = job.cylinderNeeds[cylinder].need;
    const double flow = job.measuredInjectors[a.injectorOf[cylinder]].flowCcMin;
    Explanation x;
    x.title = "Injector for cylinder " + job.cylinderNeeds[cylinder].label;
    x.result = {flow, D::volumeFlow};
    x.formula = "largest flow to the largest need; λ_c ∝ need / flow";
    x.substituted = {"{0} / {1}, over the mean: {2} off",
                     {{need, D::none}, {flow, D::volumeFlow}, {a.lambdaRatio[cylinder] - 1, D::ratio}}};
    x.inputs = {{"need", "of this cylinder", {need, D::none}, "engine.cylinder_needs"},
                {"Q", "measured", {flow, D::volumeFlow}, "injectors.measured"},
                {"s", "spread of λ", {a.spread, D::ratio}, ""},
                {"s_0", "by chance", {a.randomSpread, D::ratio}, ""}};
    x.source = "Rearrangement inequality: Hardy, Littlewood, Pólya (1934), theorem 368";
    x.uncertainty = {"A bench repeats to about 1 %.", {}};
    x.change = {"A better matched set, or trims per cylinder where the controller has them.", {}};
    return x;
}

Explanation explainBoostFit(const Job &job, const BoostGroup &g) {
    Explanation x;
    x.title = "Boost over solenoid duty";
    x.result = {g.fit->sigma(), D::pressureDifference};
    x.formula = "least squares that never fall, then a monotone cubic through them";
    x.substituted = {
        "± {0} about the curve, from {1} points",
        {{g.fit->sigma(), D::pressureDifference}, {static_cast<double>(g.points.size()), D::none}}};
    x.inputs = {{"E", "content of these pulls", {g.content, D::content}, "boost.points"},
                {"s", "spring", {job.boost.springKpa, D::pressureGauge}, "boost.spring_kpa"}};
    if (g.gear > 0) x.inputs.push_back({"g", "gear", {g.gear, D::none}, "boost.points"});
    x.source = "Barlow et al. (1972), ch. 1; Fritsch and Butland, SIAM J. Sci. Stat. Comput. 5 (1984) 300";
    x.uncertainty = {"Twice the scatter is drawn. Weather, gear and content move the whole curve.", {}};
    x.change = {"More pulls at the same duty say what the scatter is.", {}};
    return x;
}

Explanation explainBoostStep(const Job &job, const BoostGroup &g, const BoostStep &s) {
    Explanation x;
    x.title = "Next boost step";
    x.result = {s.boostKpa, D::pressureGauge};
    x.formula = "p + least of the step and what the duty step gives; cut = p + ambient + step";
    x.substituted = {"{0} of duty, cut at {1}", {{s.duty, D::ratio}, {s.cutKpa, D::pressure}}};
    x.inputs = {{"Δp", "step", {limitOf(job, "boost.step"), D::pressureDifference}, "limit:boost.step"},
                {"Δd", "duty step", {limitOf(job, "boost.step.duty"), D::ratio}, "limit:boost.step.duty"},
                {"cut",
                 "room over it, least",
                 {limitOf(job, "boost.cut.room"), D::pressureDifference},
                 "limit:boost.cut.room"},
                {"E", "from pulls on", {g.content, D::content}, "boost.points"}};
    x.source = "Common practice: 2 to 3 psi or 10 % duty a pull" + originOf(job, "boost.step");
    x.uncertainty =
        s.beyond ? Phrase{"Past every logged pull: the last rise is drawn on, and may well steepen.", {}}
                 : Phrase{"± {0}, as the logged pulls scatter.", {{s.sigmaKpa, D::pressureDifference}}};
    x.change = {"Log the pull, and the plan starts from there.", {}};
    return x;
}

Explanation explainSprayCell(const Study &study, double content, const SprayCell &c) {
    const Job &job = study.job();
    Explanation x;
    x.title = "Trim for the spray here";
    x.result = {c.trim, D::ratio};
    x.formula = "trim = 1 − ṁ_spray AFR_M / (ṁ_main AFR),  λ_lost = λ / trim";
    x.substituted = {"λ {0} meant; {1} of spray; {2} when it stops",
                     {{c.lambdaMeant, D::mixture},
                      {c.sprayCcMin, D::volumeFlow},
                      {std::isfinite(c.lambdaIfLost) ? c.lambdaIfLost : 99, D::mixture}}};
    x.inputs = {
        {"Q", "spray at full", {sprayFlowCcMin(job.aux.spray), D::volumeFlow}, "aux.flow_cc_min"},
        {"M", "methanol in it", {job.aux.spray.methanol, D::content}, "aux.methanol"},
        {"α", "spark commanded, with or without", {c.sparkDeg, D::sparkAngle}, "calibration.spark.base"},
        {"c", "alcohol in all of the fuel", {c.alcoholWith, D::content}, ""},
        {"Δα",
         "spark tables: this mixture over the fuel alone",
         {sparkOnSpray(study, content, c), D::sparkAngle},
         "calibration.spark.top"}};
    x.source = "λ of two fuels: air over the sum of fuel times its AFR; √ pressure law of the nozzle";
    x.uncertainty = {"Sprays wander between cylinders. The water's cooling is not counted.", {}};
    x.change = {"A smaller nozzle, a later start, or tables that are not trimmed.", {}};
    return x;
}

Explanation explainPill(const Job &job, double mainMm, double areaMm2, const MixturePoint &p,
                        double leanerBy) {
    const MechanicalInjection &m = job.mechanical.injection;
    Explanation x;
    x.title = "Mixture with this pill";
    x.result = {p.lambda, D::mixture};
    x.formula = "Q = C_d A √(2Δp/ρ) through every orifice; share = A_nozzles / ΣA open";
    x.substituted = {"pill {0}: {1} in the lines, {2} of {3} reaches the engine, {4} leaner",
                     {{mainMm, D::length},
                      {p.network.pressureKpa, D::pressureGauge},
                      {p.network.share, D::ratio},
                      {p.network.pumpLMin, D::flowLMin},
                      {leanerBy, D::ratio}}};
    x.inputs = {{"A", "mm² leading back", {areaMm2, D::none}, "mechanical.main_mm"},
                {"n", "nozzles", {m.nozzles, D::none}, "mechanical.nozzles"},
                {"d", "nozzle", {m.nozzleMm, D::length}, "mechanical.nozzle_mm"},
                {"C_d", "discharge, jets", {m.dischargeJets, D::none}, "mechanical.discharge_jets"},
                {"rpm", "judged at", {p.rpm, D::engineSpeed}, "mechanical.judged_rpm"}};
    x.source = "Orifice law (Bernoulli) and continuity; air: Heywood (1988) eq. 2.27";
    x.uncertainty = {"Discharge coefficients and pump wear: flow the system on a bench.", {}};
    x.change = {"One pill at a time, then read plugs and exhaust temperature.", {}};
    return x;
}

Explanation explainWeather(const Job &job, const WeatherAdvice &a) {
    const auto input = [](const char *symbol, const char *title, const Weather &w, const char *link) {
        return ExplanationInput{symbol, title, {w.temperatureC, D::temperature}, link};
    };
    Explanation x;
    x.title = "Pill for today's air";
    x.result = {a.pillMm, D::length};
    x.formula = "fuel ∝ air: engine flow · ρ_now / ρ_then";
    x.substituted = {
        "{0} / {1} = {2} of the fuel then",
        {{a.densityNow, D::density}, {a.densityThen, D::density}, {a.densityNow / a.densityThen, D::none}}};
    x.inputs = {input("t_0", "air then", job.mechanical.then, "mechanical.then_c"),
                input("t", "air now", job.mechanical.now, "mechanical.now_c"),
                {"d",
                 "pill that is in",
                 {job.mechanical.injection.main.diameterMm, D::length},
                 "mechanical.main_mm"}};
    x.source = "Moist air by partial pressures; saturation: WMO-No. 8 (2018), annex 4.B";
    x.uncertainty = {"A blower's charge does not follow the surrounding air exactly.", {}};
    x.change = {"Take the nearest pill on the rich side.", {}};
    return x;
}

Explanation explainPass(const Job &job, const PassFinding &f) {
    const PassRecord &p = job.mechanical.passes[f.pass];
    Explanation x;
    x.title = "Pass " + std::to_string(f.pass + 1);
    x.result = {p.exhaustC, D::temperature};
    x.formula = "what was read against what is usual";
    x.substituted = f.words;
    x.inputs = {{"d", "pill", {p.pillMm, D::length}, "mechanical.passes"},
                {"P", "power, own measure", {p.power, D::none}, "mechanical.passes"}};
    x.source = "Common practice: about 1000 °F at the target, 600 °F is far rich";
    x.uncertainty = {"A thermocouple lags, and reads one cylinder.", {}};
    x.change = {"The next pass.", {}};
    return x;
}

} // namespace wheelwright
