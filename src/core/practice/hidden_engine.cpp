// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/practice/hidden_engine.h"

#include "core/base/error.h"
#include "core/base/portable_math.h"
#include "core/base/seeded_noise.h"
#include "core/combustion/charge.h"
#include "core/study/headroom.h"
#include "core/study/mechanical_lambda.h"
#include "core/study/spark_estimate.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <optional>

namespace wheelwright {
namespace {

using E = HiddenEngine;
using enum HiddenField::Of;

// Ranges: common practice, from memory, and for the middle of an engine's life.
const std::array hiddenFieldList{
    HiddenField{"air.temperature_c", &E::airC, -30, 50, 12, 30, itself,
                MARKED("hidden.air.temperature_c", "Surrounding air.")},
    HiddenField{"air.humidity", &E::humidity, 0, 1, 0.3, 0.8, itself,
                MARKED("hidden.air.humidity", "Relative.")},
    HiddenField{"air.pressure_kpa", &E::ambientKpa, 50, 110, -2, 1, plusJob,
                MARKED("hidden.air.pressure_kpa", "Surrounding air, absolute.")},
    HiddenField{"cylinder.compression_ratio", &E::compressionRatio, 4, 25, -0.3, 0.3, plusJob,
                MARKED("hidden.cylinder.compression_ratio", "As it is, not as it is said to be.")},
    HiddenField{"cylinder.rod_ratio", &E::rodRatio, 2, 8, 0, 0, plusJob,
                MARKED("hidden.cylinder.rod_ratio", "Rod over radius of the crank.")},
    HiddenField{
        "cylinder.cooling_share", &E::coolingShare, 0, 1, -0.08, 0.08, plusJob,
        MARKED("hidden.cylinder.cooling_share", "Of the ideal cooling of the fuel that the charge gets.")},
    HiddenField{"cylinder.heating_k", &E::heatingK, 0, 120, 34, 48, itself,
                MARKED("hidden.cylinder.heating_k", "That walls and residual gas add.")},
    HiddenField{"cylinder.residual_share", &E::residualShare, 0, 0.3, 0.04, 0.07, itself,
                MARKED("hidden.cylinder.residual_share", "Of the charge, at 100 kPa.")},
    HiddenField{"cylinder.wall_factor", &E::wallFactor, 0, 4, 1.7, 2.3, itself,
                MARKED("hidden.cylinder.wall_factor", "Of what walls take by Woschni's law.")},
    HiddenField{"cylinder.delay_deg", &E::delayDeg, 2, 40, 10.5, 13.5, itself,
                MARKED("hidden.cylinder.delay_deg", "Spark to burn, at 4000 rpm and 180 kPa.")},
    HiddenField{"cylinder.burn_deg", &E::burnDeg, 20, 120, 49, 60, itself,
                MARKED("hidden.cylinder.burn_deg", "Length of the burn there.")},
    HiddenField{
        "cylinder.octane_shift", &E::octaneShift, -20, 20, -3, 2, itself,
        MARKED("hidden.cylinder.octane_shift", "What the engine stands more than its fuel promises.")},
    HiddenField{"cylinder.sensitivity_at_boost", &E::sensitivityAtBoost, 0, 1, 0.35, 0.6, itself,
                MARKED("hidden.cylinder.sensitivity_at_boost", "−K of the octane index at 250 kPa.")},
    HiddenField{"cylinder.ve_gain_per_100k", &E::veGainPer100K, 0, 0.4, 0.05, 0.12, itself,
                MARKED("hidden.cylinder.ve_gain_per_100k",
                       "Share of air that 100 K of ideal fuel cooling bring more.")},
    HiddenField{
        "cylinder.hottest_k", &E::hottestCylinderK, 0, 60, 3, 9, itself,
        MARKED("hidden.cylinder.hottest_k", "How much hotter the charge of the hottest cylinder is.")},
    HiddenField{"cylinder.lambda_spread", &E::cylinderLambdaSpread, 0, 0.3, 0.01, 0.035, itself,
                MARKED("hidden.cylinder.lambda_spread", "How much leaner the leanest cylinder is.")},
    HiddenField{
        "cylinder.cycle_scatter", &E::cycleScatter, 0, 0.5, 0.04, 0.08, itself,
        MARKED("hidden.cylinder.cycle_scatter", "Of the knock integral from cycle to cycle, a share.")},
    HiddenField{"cylinder.base_timing_error_deg", &E::baseTimingErrorDeg, -30, 30, -1, 1, itself,
                MARKED("hidden.cylinder.base_timing_error_deg", "Delivered less commanded spark.")},
    HiddenField{"cylinder.friction_factor", &E::frictionFactor, 0.2, 4, 0.9, 1.1, itself,
                MARKED("hidden.cylinder.friction_factor", "Of the usual friction.")},
    HiddenField{"cylinder.inertia_kg_m2", &E::engineInertia, 0.01, 20, 0.15, 0.3, itself,
                MARKED("hidden.cylinder.inertia_kg_m2", "Of crank, flywheel and clutch.")},
    HiddenField{
        "cylinder.mechanical_spark_deg", &E::mechanicalSparkDeg, -10, 60, 27, 31, itself,
        MARKED("hidden.cylinder.mechanical_spark_deg", "Fixed spark of an engine without a controller.")},
    HiddenField{"fuel.injector_flow_factor", &E::injectorFlowFactor, 0.3, 2, 0.97, 1.03, itself,
                MARKED("hidden.fuel.injector_flow_factor", "Real flow over the data sheet's.")},
    HiddenField{"fuel.dead_time_error_ms", &E::deadTimeErrorMs, -1, 1, -0.06, 0.06, itself,
                MARKED("hidden.fuel.dead_time_error_ms", "Real dead time less the data sheet's.")},
    HiddenField{"fuel.pump_factor", &E::pumpFactor, 0, 2, 0.92, 1.05, itself,
                MARKED("hidden.fuel.pump_factor", "Real flow of the pumps over the data sheet's.")},
    HiddenField{"fuel.film_share", &E::filmShare, 0, 0.8, 0.08, 0.22, itself,
                MARKED("hidden.fuel.film_share", "Of the injected fuel that wets the port first.")},
    HiddenField{"fuel.film_s", &E::filmS, 0.02, 5, 0.15, 0.45, itself,
                MARKED("hidden.fuel.film_s", "How long it stays there when warm.")},
    HiddenField{"fuel.gasoline_ron_error", &E::gasolineRonError, -20, 20, -1.5, 1, itself,
                MARKED("hidden.fuel.gasoline_ron_error", "Of the station's gasoline against its label.")},
    HiddenField{"fuel.high_ethanol_error", &E::highEthanolError, -1, 1, -0.06, 0.03, itself,
                MARKED("hidden.fuel.high_ethanol_error", "Content of high-ethanol fuel less its label's.")},
    HiddenField{
        "fuel.mechanical_pump_factor", &E::mechanicalPumpFactor, 0.2, 2, 0.96, 1.03, itself,
        MARKED("hidden.fuel.mechanical_pump_factor", "Real flow of a mechanical pump over the job's.")},
    HiddenField{"boost.spring_kpa", &E::springKpa, 0, 400, 0.85, 1.08, timesJob,
                MARKED("hidden.boost.spring_kpa", "Gauge, with no duty.")},
    HiddenField{"boost.duty_gain_kpa", &E::dutyGainKpa, 0, 600, 0.9, 1.15, timesJob,
                MARKED("hidden.boost.duty_gain_kpa", "That full duty adds to the spring.")},
    HiddenField{"boost.creep_kpa", &E::creepKpa, 0, 200, 0, 6, itself,
                MARKED("hidden.boost.creep_kpa", "At the rev limit more than at half of it.")},
    HiddenField{"boost.spool_from_share", &E::spoolFromShare, 0.02, 0.9, 0.2, 0.3, itself,
                MARKED("hidden.boost.spool_from_share", "Share of the rev limit from which there is boost.")},
    HiddenField{
        "boost.spool_full_share", &E::spoolFullShare, 0.05, 1, 0.38, 0.5, itself,
        MARKED("hidden.boost.spool_full_share", "Share of the rev limit from which there is all of it.")},
    HiddenField{"boost.capacity_kpa", &E::capacityKpa, 0, 800, 1.1, 1.5, timesJob,
                MARKED("hidden.boost.capacity_kpa", "Gauge, with the wastegate shut.")},
    HiddenField{"boost.spool_s", &E::spoolS, 0.02, 5, 0.2, 0.5, itself,
                MARKED("hidden.boost.spool_s", "Time constant at half of the rev limit.")},
    HiddenField{"boost.wastegate_s", &E::wastegateS, 0, 0.5, 0.02, 0.07, itself,
                MARKED("hidden.boost.wastegate_s", "How late the wastegate is: what boost overshoots by.")},
    HiddenField{
        "boost.exhaust_gain", &E::exhaustGain, 0, 2, 0.2, 0.45, itself,
        MARKED("hidden.boost.exhaust_gain", "Share of boost for each share of exhaust heat, at one duty.")},
    HiddenField{"boost.compressor_efficiency", &E::compressorEfficiency, 0.3, 0.9, 0.62, 0.74, itself,
                MARKED("hidden.boost.compressor_efficiency", "Isentropic.")},
    HiddenField{"boost.cooler_share", &E::coolerShare, 0, 1, 0.65, 0.82, itself,
                MARKED("hidden.boost.cooler_share", "Of the compressor's heat that the cooler takes.")},
    HiddenField{"boost.blower_kpa", &E::blowerKpa, 0, 600, 0.93, 1.05, timesJob,
                MARKED("hidden.boost.blower_kpa", "Gauge, of a blower at the rev limit.")},
    HiddenField{"heat.soak_k_per_kw", &E::soakKPerKw, 0, 2, 0.07, 0.16, itself,
                MARKED("hidden.heat.soak_k_per_kw", "How far the cooler warms, in the long run.")},
    HiddenField{"heat.soak_s", &E::soakS, 5, 2000, 60, 130, itself,
                MARKED("hidden.heat.soak_s", "How long that takes, and to cool with fans.")},
    HiddenField{"heat.thermostat_c", &E::thermostatC, 40, 120, 82, 90, itself,
                MARKED("hidden.heat.thermostat_c", "Coolant, warm and idling.")},
    HiddenField{
        "heat.coolant_k_per_kw", &E::coolantKPerKw, 0, 2, 0.04, 0.08, itself,
        MARKED("hidden.heat.coolant_k_per_kw", "How far the coolant rises with power, in the long run.")},
    HiddenField{"sensor.wideband_delay_s", &E::widebandDelayS, 0, 1, 0.02, 0.06, itself,
                MARKED("hidden.sensor.wideband_delay_s", "From the valve to the sensor at full flow.")},
    HiddenField{"sensor.wideband_lag_s", &E::widebandLagS, 0, 5, 0.05, 0.12, itself,
                MARKED("hidden.sensor.wideband_lag_s", "Its own response.")},
    HiddenField{"sensor.intake_lag_s", &E::intakeLagS, 0, 60, 3, 7, itself,
                MARKED("hidden.sensor.intake_lag_s", "Of the intake air sensor.")},
    HiddenField{"sensor.content_lag_s", &E::contentLagS, 0, 60, 1, 3, itself,
                MARKED("hidden.sensor.content_lag_s", "Of the content sensor's filter.")},
    HiddenField{"sensor.map_noise_kpa", &E::mapNoiseKpa, 0, 20, 0.3, 0.9, itself,
                MARKED("hidden.sensor.map_noise_kpa", "Standard deviation.")},
    HiddenField{"sensor.lambda_noise", &E::lambdaNoise, 0, 0.2, 0.002, 0.006, itself,
                MARKED("hidden.sensor.lambda_noise", "Standard deviation.")},
    HiddenField{"sensor.content_noise", &E::contentNoise, 0, 0.2, 0.001, 0.004, itself,
                MARKED("hidden.sensor.content_noise", "Standard deviation, of a fraction.")},
    HiddenField{"vehicle.mass_kg", &E::massKg, 50, 40000, 950, 1400, itself,
                MARKED("hidden.vehicle.mass_kg", "With the driver.")},
    HiddenField{"vehicle.tyre_m", &E::tyreM, 0.05, 2, 0.29, 0.33, itself,
                MARKED("hidden.vehicle.tyre_m", "Rolling radius.")},
    HiddenField{"vehicle.drag_area_m2", &E::dragAreaM2, 0, 10, 0.6, 0.8, itself,
                MARKED("hidden.vehicle.drag_area_m2", "Drag coefficient times frontal area.")},
    HiddenField{"vehicle.rolling", &E::rolling, 0, 0.3, 0.011, 0.016, itself,
                MARKED("hidden.vehicle.rolling", "Coefficient of rolling resistance.")},
    HiddenField{"vehicle.driveline_loss", &E::drivelineLoss, 0, 0.6, 0.1, 0.16, itself,
                MARKED("hidden.vehicle.driveline_loss", "Share that gearbox and tyres take.")},
    HiddenField{"dyno.roller_kg", &E::rollerKg, 50, 40000, 1100, 1500, itself,
                MARKED("hidden.dyno.roller_kg", "Mass that the rollers stand for.")},
    HiddenField{"dyno.loaded_rpm_per_s", &E::loadedRpmPerS, 20, 5000, 350, 550, itself,
                MARKED("hidden.dyno.loaded_rpm_per_s", "How fast a loaded dyno lets the engine rise.")},
    HiddenField{"stands.knock_s", &E::knockS, 0.01, 1000, 1.5, 4, itself,
                MARKED("hidden.stands.knock_s", "Seconds of full knock.")},
    HiddenField{"stands.lean_s", &E::leanS, 0.01, 1000, 5, 12, itself,
                MARKED("hidden.stands.lean_s", "Seconds at a tenth of λ over the lean line under boost.")},
    HiddenField{"stands.peak_kpa", &E::peakKpa, 2000, 60000, 12500, 16000, itself,
                MARKED("hidden.stands.peak_kpa", "Pressure in the cylinder.")},
    HiddenField{"stands.peak_s", &E::peakS, 0.01, 1000, 1, 2, itself,
                MARKED("hidden.stands.peak_s", "Seconds at a tenth over it.")},
    HiddenField{"stands.overspeed_share", &E::overspeedShare, 1, 3, 1.05, 1.1, itself,
                MARKED("hidden.stands.overspeed_share", "Of the rev limit.")},
    HiddenField{"stands.coolant_c", &E::coolantC, 90, 200, 114, 122, itself,
                MARKED("hidden.stands.coolant_c", "Coolant.")},
};

double highestGauge(const Study &study) {
    const Job &job = study.job();
    double most = 0;
    for (const double kpa : boostTargets(study, {job.calibration.baseContent, job.calibration.topContent}))
        most = std::max(most, kpa);
    return std::max(0.0, most - job.conditions.ambientKpa);
}

// What full duty adds by the pulls that the job has logged, along the curve that the engine follows: least
// squares through the spring.
std::optional<double> loggedGainKpa(const Job &job) {
    double of = 0, all = 0;
    for (const BoostPoint &p : job.boost.points) {
        const double along = p.duty > 0 ? portable::pow(p.duty, dutyPower) : 0;
        of += along * (p.boostKpa - job.boost.springKpa);
        all += along * along;
    }
    return all > 0 && of > 0 ? std::optional(of / all) : std::nullopt;
}

Table2D impliedVe(const Study &given) {
    const Study &study = given.inPressure();
    const Job &job = study.job();
    const double content = job.calibration.baseContent;
    const Table2D &axes = *study.ends(CalibratedQuantity::fuel, content).low;
    std::vector<double> cells;
    constexpr double percent = 100, digits = 100, perK = 100;
    const SparkEstimator estimator(study);
    // What the job knows holds for its own fuel, which cools more than gasoline.
    const double cooling =
        study.fuelAt(job.control == FuelControl::mechanical ? mechanicalContent(job) : content).idealCoolingK;
    const double gain = 1 + HiddenEngine{}.veGainPer100K * (cooling - gasolineCoolingK) / perK;
    for (const double load : axes.y().points())
        for (const double rpm : axes.x().points())
            cells.push_back(std::round(estimator.breath({content, rpm, load}).ve / gain * percent * digits) /
                            digits);
    return Table2D(axes.x(), axes.y(), std::move(cells));
}

} // namespace

std::span<const HiddenField> hiddenFields() {
    return hiddenFieldList;
}

HiddenEngine engineAsTheJobSays(const Study &study) {
    const Job &job = study.job();
    HiddenEngine e;
    e.ve = impliedVe(study);
    e.ambientKpa = job.conditions.ambientKpa;
    e.compressionRatio = job.engine.compressionRatio;
    e.rodRatio = job.engine.rodRatio;
    e.coolingShare = coolingShareOf(job.engine.fuelPlace);
    if (job.engine.fuelPlace == InjectionPlace::direct) e.filmShare = 0;
    const double highest = job.control == FuelControl::mechanical
                               ? job.mechanical.manifoldKpa.at(job.engine.revLimitRpm) - e.ambientKpa
                               : highestGauge(study);
    constexpr double softSpring = 0.55, room = 1.3;
    e.springKpa = job.boost.springKpa > 0 ? job.boost.springKpa : softSpring * highest;
    e.dutyGainKpa =
        loggedGainKpa(job).value_or(std::max(1.0, room * std::max(highest, e.springKpa) - e.springKpa));
    e.capacityKpa = std::max(1.0, room * highest);
    e.blowerKpa = std::max(0.0, highest);
    return e;
}

HiddenEngine drawEngine(const Study &study, std::uint64_t seed) {
    const HiddenEngine said = engineAsTheJobSays(study);
    HiddenEngine e = said;
    e.name = "Engine " + std::to_string(seed);
    e.seed = static_cast<double>(seed);
    for (const HiddenField &f : hiddenFieldList) {
        SeededNoise chance(seed, f.key);
        const double drawn = chance.between(f.drawLow, f.drawHigh);
        double &v = e.*f.member;
        v = f.of == itself ? drawn : f.of == timesJob ? said.*f.member * drawn : said.*f.member + drawn;
        constexpr double digits = 1e6; // so that a document holds all of it
        v = std::clamp(std::round(v * digits) / digits, f.least, f.most);
    }
    // Two waves over speed and a slope over load: what a tuner has to find.
    SeededNoise chance(seed, "ve");
    const double level = chance.between(-0.03, 0.03), first = chance.between(-0.03, 0.03),
                 second = chance.between(-0.015, 0.015), slope = chance.between(-0.03, 0.03);
    const double phase = chance.between(0, 360), rpmSpan = e.ve.x().last() - e.ve.x().first(),
                 loadSpan = e.ve.y().last() - e.ve.y().first();
    for (std::size_t y = 0; y < e.ve.y().size(); ++y)
        for (std::size_t x = 0; x < e.ve.x().size(); ++x) {
            const double along = rpmSpan > 0 ? (e.ve.x()[x] - e.ve.x().first()) / rpmSpan : 0;
            const double up = loadSpan > 0 ? (e.ve.y()[y] - e.ve.y().first()) / loadSpan : 0;
            const double error = level + first * portable::sineCosine(phase + 360 * along).sine +
                                 second * portable::sineCosine(2 * phase + 720 * along).sine +
                                 slope * (up - 0.5);
            constexpr double digits = 100;
            e.ve.setCell({x, y}, std::round(e.ve.cell(x, y) * (1 + error) * digits) / digits);
        }
    return e;
}

void validate(const HiddenEngine &e) {
    const auto require = [](const std::string &where, double v, double least, double most) {
        if (!(v >= least && v <= most)) throw InputError(where, fromTo(least, most), exactly(v));
    };
    for (const HiddenField &f : hiddenFieldList)
        require(std::string(f.key), e.*f.member, f.least, f.most);
    require("seed", e.seed, 0, 9007199254740991); // a double counts that far
    constexpr double leastVe = 5, mostVe = 200;
    for (const double v : e.ve.cells())
        require("ve_percent", v, leastVe, mostVe);
}

} // namespace wheelwright
