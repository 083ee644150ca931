// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/practice/practice_engine.h"

#include "core/base/portable_math.h"
#include "core/flow/engine_air.h"
#include "core/flow/spray.h"
#include "core/study/fuel_delivery.h"
#include "core/study/mechanical_lambda.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace wheelwright {
namespace {

constexpr double dt = PracticeEngine::stepS, stepsPerS = 100;
constexpr double zeroC = 273.15, mgPerG = 1000, percent = 100, secondsPerMinute = 60;
constexpr double cylinderStepDeg = 2;
// Crank over wheels, first to sixth.
constexpr std::array overallRatio{13.5, 8.3, 5.6, 4.2, 3.4, 2.8};
constexpr double tankK = 6;     // fuel over the surrounding air, in the long run
constexpr double stopped = 150; // rpm: under it nothing burns
constexpr double leanMisfire = 1.4, richMisfire = 0.5;

constexpr std::array channels{
    PracticeChannel{"time_s", &PracticeSample::timeS, 2},
    PracticeChannel{"rpm", &PracticeSample::rpm, 0},
    PracticeChannel{"map_kpa", &PracticeSample::mapKpa, 1},
    PracticeChannel{"throttle_percent", &PracticeSample::throttlePercent, 1},
    PracticeChannel{"lambda", &PracticeSample::lambda, 3},
    PracticeChannel{"lambda_target", &PracticeSample::lambdaTarget, 3},
    PracticeChannel{"spark_deg", &PracticeSample::sparkDeg, 1},
    PracticeChannel{"knock_retard_deg", &PracticeSample::knockRetardDeg, 1},
    PracticeChannel{"ethanol_percent", &PracticeSample::contentPercent, 1},
    PracticeChannel{"fuel_c", &PracticeSample::fuelC, 1},
    PracticeChannel{"intake_c", &PracticeSample::intakeC, 1},
    PracticeChannel{"coolant_c", &PracticeSample::coolantC, 1},
    PracticeChannel{"pulse_ms", &PracticeSample::pulseMs, 3},
    PracticeChannel{"duty_percent", &PracticeSample::dutyPercent, 1},
    PracticeChannel{"rail_kpa", &PracticeSample::railKpa, 1},
    PracticeChannel{"oil_kpa", &PracticeSample::oilKpa, 0},
    PracticeChannel{"battery_v", &PracticeSample::batteryV, 2},
    PracticeChannel{"exhaust_c", &PracticeSample::exhaustC, 0},
    PracticeChannel{"boost_target_kpa", &PracticeSample::boostTargetKpa, 1},
    PracticeChannel{"solenoid_percent", &PracticeSample::solenoidPercent, 1},
    PracticeChannel{"speed_km_h", &PracticeSample::speedKmH, 1},
    PracticeChannel{"gear", &PracticeSample::gear, 0},
    PracticeChannel{"spray_cc_min", &PracticeSample::sprayCcMin, 0},
};

// A first-order lag over one step.
double follow(double from, double to, double lagS) {
    return lagS > 0 ? to + (from - to) * portable::exp(-dt / lagS) : to;
}

ChargeModel modelOf(const HiddenEngine &e) {
    ChargeModel m;
    m.coolingShare = e.coolingShare;
    m.heatingK = e.heatingK;
    m.residualShare = e.residualShare;
    m.wallFactor = e.wallFactor;
    m.delayDeg = e.delayDeg;
    m.durationDeg = e.burnDeg;
    m.octaneShift = e.octaneShift;
    m.sensitivityAtBoost = e.sensitivityAtBoost;
    return m;
}

double gearRatio(double gear) {
    const auto last = static_cast<double>(overallRatio.size());
    return overallRatio[static_cast<std::size_t>(std::clamp(gear, 1.0, last)) - 1];
}

HiddenEngine checked(const HiddenEngine &e, const std::vector<FaultSetting> &faults) {
    validate(e);
    for (const FaultSetting &f : faults)
        validate(f, "fault");
    return e;
}

// What methanol that finds no air takes from the exhaust: its heat of evaporation, that of falling apart into
// carbon monoxide and hydrogen (91 kJ/mol) and what warms it; and what a thick pipe and its slow probe do not
// show of a short pass. So about 540 °C stands at λ 0.85, and 320 °C at 0.65, as the trade has it. From
// memory.
double richMethanolK(double lambda, double stoichiometricAfr) {
    constexpr double takesKjKg = 5760, gasKjKgK = 1.3, pipeK = 137;
    if (!(lambda < 1)) return pipeK;
    const double fuel = 1 / (stoichiometricAfr * lambda); // kg per kg of air
    const double leftOver = fuel * (1 - lambda) / (1 + fuel);
    return leftOver * takesKjKg / gasKjKgK + pipeK;
}

} // namespace

CylinderShape hiddenCylinder(const Job &job, const HiddenEngine &e) {
    CylinderShape s;
    s.compressionRatio = e.compressionRatio;
    s.rodRatio = e.rodRatio;
    s.displacementL = job.engine.displacementL / job.engine.cylinders;
    return s;
}

std::span<const PracticeChannel> practiceChannels() {
    return channels;
}

std::string_view PracticeDamage::destroyedBy() const {
    if (knock >= 1) return "knock";
    if (lean >= 1) return "lean_mixture";
    if (pressure >= 1) return "cylinder_pressure";
    if (overspeed >= 1) return "overspeed";
    if (heat >= 1) return "heat";
    return {};
}

PracticeEngine::PracticeEngine(std::shared_ptr<const Study> study, const HiddenEngine &truth,
                               std::vector<FaultSetting> faults)
    : m_study(std::move(study)), m_hidden(checked(truth, faults)), m_faults(std::move(faults)),
      m_components(m_study->job(), truth.gasolineRonError),
      m_circuit(m_study->job().tank, m_study->job().supply.returns), m_controller(m_study),
      m_cylinder(hiddenCylinder(m_study->job(), truth), cylinderStepDeg), m_model(modelOf(truth)),
      m_lean(m_study->job().limits), m_rail(m_study->job()),
      m_chanceKnock(static_cast<std::uint64_t>(truth.seed), "knock"),
      m_chanceMap(static_cast<std::uint64_t>(truth.seed), "map"),
      m_chanceLambda(static_cast<std::uint64_t>(truth.seed), "lambda"),
      m_chanceContent(static_cast<std::uint64_t>(truth.seed), "content"),
      m_chanceTorque(static_cast<std::uint64_t>(truth.seed), "torque"),
      m_chanceRail(static_cast<std::uint64_t>(truth.seed), "rail"),
      m_chanceExhaust(static_cast<std::uint64_t>(truth.seed), "exhaust") {
    m_lambdaOnTheWay.fill(1);
    m_mapKpa = truth.ambientKpa;
    fill(mechanical() ? mechanicalContent(job()) : job().calibration.baseContent);
    warm();
}

void PracticeEngine::fill(double content) {
    fill(m_components.ofAlcohol(job(), content));
}

void PracticeEngine::fill(const FuelMix &mix) {
    constexpr double usual = 0.75;
    m_circuit.fill(usual * job().tank.capacityL, mix);
    m_contentSensor = FuelComponents::alcohol(mix);
    m_controller.load(m_contentSensor);
}

void PracticeEngine::warm() {
    m_coolantC = m_hidden.thermostatC;
    m_oilC = m_hidden.thermostatC;
    constexpr double underBonnetK = 12;
    m_intakeC = m_intakeSensorC = m_hidden.airC + underBonnetK;
    m_fuelC = m_hidden.airC + tankK;
    m_sinceStartS = secondsPerMinute;
}

void PracticeEngine::cold(double celsius) {
    m_coolantC = m_oilC = m_intakeC = m_intakeSensorC = m_fuelC = celsius;
    m_soakK = 0;
    m_sinceStartS = 0;
    m_rpm = 0;
}

void PracticeEngine::setStudy(std::shared_ptr<const Study> study) {
    m_study = std::move(study);
    m_controller.setStudy(m_study);
    m_rail = RailPressure(job());
    m_lean = LeanLine(job().limits);
}

double PracticeEngine::cycles() const {
    return m_rpm / 120 * dt;
}

// Throttle, boost and what the compressor makes of the air.
void PracticeEngine::breathe(const Drive &drive) {
    const HiddenEngine &e = m_hidden;
    const Curve &throttle = job().engine.throttleKpa;
    constexpr double leastOpen = 0.08;
    const double open = std::clamp(throttle.at(drive.throttlePercent) / throttle.at(percent), leastOpen, 1.0);
    const double speed = m_rpm / job().engine.revLimitRpm;
    double boost = 0, lagS = 0.03;
    if (mechanical() || job().engine.charging == Charging::blower) {
        constexpr double low = 0.85, fullAt = 0.5;
        const double atLimit = job().mechanical.manifoldKpa.at(job().engine.revLimitRpm) - e.ambientKpa;
        const double shape = mechanical() && atLimit > 1
                                 ? (job().mechanical.manifoldKpa.at(m_rpm) - e.ambientKpa) / atLimit
                                 : low + (1 - low) * std::min(1.0, speed / fullAt);
        boost = std::max(0.0, e.blowerKpa * shape) * open;
    } else if (job().engine.charging == Charging::turbo) {
        const double leak = m_faults.of(FaultId::intakeLeak);
        // Hotter exhaust turns the turbine harder: kelvins over 900, a usual 700 of them.
        constexpr double coldK = 900, usualK = 700;
        const double exhaust = 1 + e.exhaustGain * ((m_openK - coldK) / usualK - 1);
        const double spun = std::clamp(
            (speed - e.spoolFromShare) / std::max(0.01, e.spoolFullShare - e.spoolFromShare), 0.0, 1.0);
        const double potential = e.capacityKpa * spun * open * exhaust * (1 - leak);
        const double duty = m_faults.of(FaultId::solenoidStuck, m_commanded.solenoidDuty);
        const double spring = e.springKpa * m_faults.of(FaultId::springOff, 1);
        constexpr double creepFrom = 0.5, leakAtGate = 0.5;
        const double gate = (spring + e.dutyGainKpa * (duty > 0 ? portable::pow(duty, dutyPower) : 0)) *
                                exhaust * (1 - leakAtGate * leak) +
                            e.creepKpa * std::max(0.0, speed - creepFrom) / (1 - creepFrom);
        constexpr double mostOver = 0.05; // of what the gate holds
        boost =
            std::min(potential, gate + std::min(mostOver * gate, e.wastegateS * std::max(0.0, m_boostRate)));
        lagS = e.spoolS * std::clamp(0.5 / std::max(0.1, speed), 0.5, 3.0);
        if (boost < m_boostKpa) lagS = std::min(lagS, 0.1);
    }
    const double before = m_boostKpa;
    m_boostKpa = follow(m_boostKpa, boost, lagS);
    m_boostRate = (m_boostKpa - before) / dt;
    constexpr double plenumS = 0.04;
    m_mapKpa = follow(m_mapKpa, (e.ambientKpa + m_boostKpa) * open, plenumS);
    // Isentropic compression over its efficiency, and what the cooler leaves of it.
    constexpr double exponent = 0.2857, underBonnetK = 6;
    const double ratio = (e.ambientKpa + m_boostKpa) / e.ambientKpa;
    const double heated = (e.airC + zeroC) * (portable::pow(ratio, exponent) - 1) / e.compressorEfficiency;
    m_intakeC = e.airC + underBonnetK + heated * (1 - e.coolerShare) + m_soakK +
                m_faults.of(FaultId::hotIntake) + heated * 0.4 * m_faults.of(FaultId::intakeLeak);
    m_intakeSensorC = follow(m_intakeSensorC, m_intakeC, e.intakeLagS);
}

void PracticeEngine::sense(const Drive &drive) {
    m_sensed.rpm = m_rpm;
    m_sensed.mapKpa = std::clamp(m_mapKpa + m_hidden.mapNoiseKpa * m_chanceMap.normal(),
                                 job().engine.mapSensorMinKpa, job().engine.mapSensorMaxKpa);
    m_sensed.throttlePercent = m_faults.of(FaultId::throttleUnplugged, drive.throttlePercent);
    m_sensed.intakeC = m_intakeSensorC;
    m_sensed.coolantC = m_coolantC;
    m_sensed.fuelC = m_fuelC;
    m_sensed.batteryV = m_batteryV;
    m_sensed.contentHz = m_contentHz;
    m_sensed.knock = m_truth.knock;
    m_sensed.gear = drive.gear;
    m_sensed.sinceStartS = m_sinceStartS;
    const AuxiliaryInjection &aux = job().aux;
    m_sensed.sprayLost =
        aux.fitted && sprayFlowAt(aux.spray, m_mapKpa) > 0 && m_faults.of(FaultId::sprayEmpty) > 0.5;
    m_sensed.targetOffsetKpa = m_faults.of(FaultId::fileChanged);
    m_commanded = m_controller.step(m_sensed, dt);
    const double early = m_faults.of(FaultId::earlyRevLimit);
    if (early > 0 && m_rpm > job().engine.revLimitRpm - early) {
        m_commanded.fuelCut = true;
        m_commanded.pulseMs = 0;
    }
}

// Where pump and injectors meet: the rail falls until both flow alike. Returns kPa that it fell.
double PracticeEngine::railDrop(double useAtRegulatedL, double across, double gauge, double &useL) const {
    useL = useAtRegulatedL;
    const FuelSupply &supply = job().supply;
    const double factor = m_hidden.pumpFactor * (1 - m_faults.of(FaultId::weakPump));
    const double margin =
        1.6 * job().engine.cylinders * job().injectors.flowCcMin / 1000; // of a supply that nobody described
    const bool known = !supply.pumps.empty();
    std::optional<PumpsAtVoltage> pumps;
    if (known) pumps.emplace(supply.points, supply.pumps, std::min(supply.volts, m_batteryV));
    const double clogged = m_faults.of(FaultId::cloggedFilter);
    constexpr double filterFlowLMin = 4;
    const auto flowAt = [&](double kpa, double wanted) {
        const double filter = clogged * (wanted / filterFlowLMin) * (wanted / filterFlowLMin);
        return factor * (known ? pumps->flowLMin(kpa + filter) : margin);
    };
    if (flowAt(gauge, useAtRegulatedL) >= useAtRegulatedL || across <= 0) return 0;
    double low = 0, high = across; // pressure across the injectors that is left
    constexpr int halvings = 24;
    for (int i = 0; i < halvings; ++i) {
        const double left = (low + high) / 2, use = useAtRegulatedL * std::sqrt(left / across);
        (flowAt(gauge - (across - left), use) >= use ? low : high) = left;
    }
    useL = useAtRegulatedL * std::sqrt(low / across);
    return across - low;
}

double PracticeEngine::mechanicalFuelMg() const {
    MechanicalInjection pump = job().mechanical.injection;
    pump.pumpLMin *= m_hidden.mechanicalPumpFactor;
    MechanicalEngine engine = mechanicalEngineAt(job(), m_rpm);
    engine.manifoldKpa = m_mapKpa;
    constexpr double leastRpm = 300, closedShare = 0.3;
    const double gS = m_rpm < leastRpm ? 0 : mixtureAt(pump, engine, m_rpm).fuelGS;
    // The barrel valve meters with the throttle.
    const double barrel = std::clamp(m_mapKpa / job().mechanical.manifoldKpa.at(m_rpm), closedShare, 1.0);
    return m_rpm < leastRpm ? 0 : gS * barrel / (m_rpm / 120 * job().engine.cylinders) * mgPerG;
}

PracticeEngine::Injected PracticeEngine::inject() {
    Injected out;
    const Injectors &inj = job().injectors;
    const double n = job().engine.cylinders;
    if (mechanical()) {
        out.meanMg = m_sensed.rpm > 0 ? mechanicalFuelMg() : 0;
        // Before the first step the rail has not been filled.
        out.useL = m_fuel.densityKgM3 > 0 ? out.meanMg / m_fuel.densityKgM3 * 1e-3 * n * cycles() : 0;
        if (m_rpm > stopped)
            out.railKpa = mixtureAt(job().mechanical.injection, mechanicalEngineAt(job(), m_rpm), m_rpm)
                              .network.pressureKpa;
        return out;
    }
    const EnginePoint at{m_rpm, m_mapKpa};
    const double across = m_rail.acrossKpa(at), gauge = m_rail.gaugeKpa(at);
    const double flow = injectorFlowOn(job(), across, m_fuel.densityKgM3) * m_hidden.injectorFlowFactor;
    const double dead =
        (inj.deadTimes.empty() ? inj.deadTimeMs : deadTimeMs(inj.deadTimes, m_batteryV, across)) +
        m_hidden.deadTimeErrorMs;
    const double pulses = inj.batch ? 2 : 1;
    constexpr double mm3PerCc = 1000, msPerMinute = 60000, mm3PerL = 1e6;
    const double period = m_rpm > stopped ? 120000 / m_rpm / pulses : 1e9; // ms
    const double open = std::clamp(m_commanded.pulseMs - dead, 0.0, period);
    const double wantedMm3 = pulses * open * flow * mm3PerCc / msPerMinute;
    const double bank = m_faults.of(FaultId::injectorBankWeak), one = m_faults.of(FaultId::injectorWeak);
    const double mean = (1 - bank / 2) * (1 - one / n);
    const double wantedLMin = wantedMm3 * mean * n * m_rpm / 120 / mm3PerL * secondsPerMinute;
    double useLMin = wantedLMin;
    const double drop = m_starved ? across : railDrop(wantedLMin, across, gauge, useLMin);
    if (m_starved) useLMin = 0;
    const double share = wantedLMin > 0 ? useLMin / wantedLMin : 0;
    constexpr double mgPerMm3AtOneKgM3 = 1e-3;
    out.meanMg = wantedMm3 * mean * share * m_fuel.densityKgM3 * mgPerMm3AtOneKgM3;
    const double weakest = one > bank ? (1 - one) : (1 - bank);
    out.leanestFactor = mean / weakest * (1 + m_hidden.cylinderLambdaSpread);
    out.useL = useLMin * dt / secondsPerMinute;
    out.railKpa = gauge - drop;
    out.dutyShare = m_rpm > stopped ? m_commanded.pulseMs / period : 0;
    return out;
}

// Methanol is fuel, water only cools.
void PracticeEngine::spray() {
    const AuxiliaryInjection &aux = job().aux;
    m_sprayCcMin = aux.fitted ? sprayFlowAt(aux.spray, m_mapKpa) * (1 - m_faults.of(FaultId::sprayEmpty)) : 0;
    m_sprayMethanolMg = m_sprayCoolingK = 0;
    if (!(m_sprayCcMin > 0) || m_rpm < stopped) return;
    const double perCycle = m_sprayCcMin / (m_rpm / 2 * job().engine.cylinders); // cc
    const double methanolMg = perCycle * aux.spray.methanol * job().methanol.densityKgM3;
    const double waterMg = perCycle * (1 - aux.spray.methanol) * 998;
    constexpr double waterKjKg = 2257, heatOfAir = 1.005, share = 0.6;
    m_sprayMethanolMg = methanolMg;
    const double airMg = std::max(1.0, m_truth.airMg);
    m_sprayCoolingK =
        share * (methanolMg * job().methanol.latentHeatKjKg + waterMg * waterKjKg) / (airMg * heatOfAir);
}

// Mean torque of a mean pressure of the closed part, at the crank.
double PracticeEngine::brake(double workKpa) const {
    constexpr double muffler = 1.05, turbineHolds = 0.9;
    double exhaust = m_hidden.ambientKpa * muffler;
    if (job().engine.charging == Charging::turbo) exhaust += turbineHolds * m_boostKpa;
    double taken = frictionKpa(m_rpm) * m_hidden.frictionFactor + std::max(0.0, exhaust - m_mapKpa);
    if (mechanical() || job().engine.charging == Charging::blower) {
        constexpr double byBoost = 0.55; // what turning the blower takes
        taken += byBoost * m_boostKpa;
    }
    return torqueNm(workKpa - taken, job().engine.displacementL);
}

void PracticeEngine::burn(const Injected &in) {
    PracticeTruth &t = m_truth;
    t.knock = t.knockIntegral = t.peakKpa = 0;
    t.sparkDeg = (mechanical() ? m_hidden.mechanicalSparkDeg : m_commanded.sparkDeg) +
                 m_hidden.baseTimingErrorDeg + m_faults.of(FaultId::baseTiming);
    if (m_rpm < stopped) {
        t.torqueNm = t.airMg = t.fuelMg = 0;
        return;
    }
    wetWall(in);
    Breath b = breath();
    t.airMg = airPerCycleMg(b.ve, m_mapKpa, m_cylinder.shape().displacementL, m_intakeC);
    const double asked =
        t.fuelMg * m_fuel.stoichiometricAfr + m_sprayMethanolMg * job().methanol.stoichiometricAfr;
    constexpr double leanest = 3;
    t.lambda = asked > 0 ? std::min(leanest, t.airMg / asked) : leanest;
    t.leanestLambda = std::min(leanest, t.lambda * in.leanestFactor);
    if (t.lambda < leanMisfire && t.lambda > richMisfire) {
        fire(b);
    } else {
        t.torqueNm = brake(0);
        constexpr double airOnlyK = 700;
        m_openK = follow(m_openK, airOnlyK, 0.2);
    }
    senseLambda();
    // Blown down to the exhaust, and what the pipe takes of it.
    constexpr double expanded = 0.66, pipeShare = 0.88, exhaustS = 0.7;
    double leavesC = (m_openK * expanded - zeroC) * pipeShare;
    if (mechanical()) leavesC -= richMethanolK(t.lambda, m_fuel.stoichiometricAfr);
    m_exhaustC = follow(m_exhaustC, leavesC, exhaustS);
}

// The wall of the port keeps some and gives it back; cold it keeps more, longer.
void PracticeEngine::wetWall(const Injected &in) {
    constexpr double coldFrom = 70, coldOver = 80, coldTimes = 4;
    const double cold = std::clamp((coldFrom - m_coolantC) / coldOver, 0.0, 1.0);
    const double filmS = m_hidden.filmS * (1 + coldTimes * cold);
    const double wets = std::min(0.8, m_hidden.filmShare * (1 + cold));
    const double perStep = cycles();
    const double given = perStep > 0 ? m_filmMg * (1 - portable::exp(-dt / filmS)) : 0; // mg in this step
    m_filmMg += wets * in.meanMg * perStep - given;
    m_truth.fuelMg = (1 - wets) * in.meanMg + (perStep > 0 ? given / perStep : 0);
}

Breath PracticeEngine::breath() const {
    Breath b;
    b.fuel = m_fuel;
    b.rpm = m_rpm;
    b.manifoldKpa = m_mapKpa;
    b.intakeC = m_intakeC;
    constexpr double perK = 100;
    const double ve = m_hidden.ve.lookup(m_rpm, m_mapKpa).value / percent;
    b.ve = ve *
           (1 + m_hidden.veGainPer100K * (m_fuel.idealCoolingK + m_sprayCoolingK - gasolineCoolingK) / perK);
    return b;
}

// A cycle of the mean cylinder and one of the hottest and leanest.
void PracticeEngine::fire(Breath b) {
    PracticeTruth &t = m_truth;
    constexpr double weakest = 0.45, soft = 0.12;
    b.lambda = std::max(weakest, t.lambda);
    ChargeModel model = m_model;
    model.octaneShift -= m_faults.of(FaultId::badFuel);
    TrappedCharge mean = trap(m_cylinder.shape(), model, b);
    const auto cool = [&](TrappedCharge &c, double kelvin) {
        constexpr double coldestK = 230;
        const double before = c.charge.temperatureK;
        c.charge.temperatureK = std::max(coldestK, before - kelvin);
        c.charge.pressureKpa *= c.charge.temperatureK / before;
    };
    cool(mean, m_sprayCoolingK);
    Breath lean = b;
    lean.lambda = std::clamp(t.leanestLambda, weakest, leanMisfire);
    TrappedCharge hottest = trap(m_cylinder.shape(), model, lean);
    cool(hottest, m_sprayCoolingK - m_hidden.hottestCylinderK);
    t.hottest = hottest.charge;
    t.hottestBurn = hottest.burn;
    const double spark = std::clamp(t.sparkDeg, latestSparkTried, earliestSparkTried);
    // Side by side they take hardly longer than one.
    std::array<CycleResult, 2> made;
    m_cylinder.cycles(std::array{mean.charge, hottest.charge}, std::array{mean.burn, hottest.burn},
                      std::array{m_rpm, m_rpm}, std::array{spark, spark}, made);
    const auto &[usual, worst] = made;
    m_openK = usual.openK;
    // Near the edge of firing some cycles do nothing.
    const double edge = std::min((leanMisfire - t.lambda) / soft, (t.lambda - richMisfire) / soft);
    t.torqueNm = brake(usual.workKpa * std::clamp(edge, 0.0, 1.0));
    t.knockIntegral = worst.knockIntegral * (1 + m_hidden.cycleScatter * m_chanceKnock.normal());
    constexpr double fullKnock = 0.6;
    t.knock = std::clamp((t.knockIntegral - 1) / fullKnock, 0.0, 1.0);
    t.peakKpa = worst.peakKpa * (1 + 0.3 * t.knock);
}

// On its way to the sensor: longer at low flow.
void PracticeEngine::senseLambda() {
    m_lambdaOnTheWay[m_wayAt] = m_truth.lambda;
    const double airGS = m_truth.airMg / mgPerG * job().engine.cylinders * m_rpm / 120;
    constexpr double pipeG = 0.9; // of gas before the sensor
    const double way = m_hidden.widebandDelayS + pipeG / std::max(1.0, airGS);
    const auto back =
        static_cast<std::size_t>(std::min(way / dt, static_cast<double>(m_lambdaOnTheWay.size() - 1)));
    const double arriving =
        m_lambdaOnTheWay[(m_wayAt + m_lambdaOnTheWay.size() - back) % m_lambdaOnTheWay.size()];
    m_wayAt = (m_wayAt + 1) % m_lambdaOnTheWay.size();
    constexpr double leakFlowGS = 30;
    const double leaked = m_faults.of(FaultId::exhaustLeak) * leakFlowGS / (leakFlowGS + airGS);
    m_lambdaSensor = follow(m_lambdaSensor, (arriving + leaked) * m_faults.of(FaultId::widebandScale, 1),
                            m_hidden.widebandLagS + m_faults.of(FaultId::widebandLag));
}

void PracticeEngine::turn(const Drive &drive) {
    const double ratio = gearRatio(drive.gear), before = m_rpm;
    constexpr double radiansPerRpm = std::numbers::pi / 30;
    const double net = m_truth.torqueNm * (1 - (m_truth.torqueNm > 0 ? m_hidden.drivelineLoss : 0));
    const auto turned = [&](double kg, double resists) {
        const double inertia =
            m_hidden.engineInertia + kg * m_hidden.tyreM * m_hidden.tyreM / (ratio * ratio);
        m_rpm = std::max(0.0, m_rpm + (net - resists) / inertia * dt / radiansPerRpm);
    };
    switch (drive.mode) {
    case DynoMode::held: {
        constexpr double heldS = 0.35;
        m_rpm = follow(m_rpm, drive.heldRpm, heldS);
        break;
    }
    case DynoMode::inertia:
        turned(m_hidden.rollerKg, 0);
        break;
    case DynoMode::loaded: // lets it rise at its own pace while there is torque
        m_rpm += m_truth.torqueNm > 0 ? m_hidden.loadedRpmPerS * dt : 0;
        break;
    case DynoMode::road: {
        constexpr double airKgM3 = 1.2, g = 9.80665, wheels = 1.04;
        const double v = m_rpm * radiansPerRpm / ratio * m_hidden.tyreM;
        const double force =
            0.5 * airKgM3 * m_hidden.dragAreaM2 * v * v + m_hidden.rolling * m_hidden.massKg * g;
        turned(m_hidden.massKg * wheels, force * m_hidden.tyreM / ratio);
        break;
    }
    }
    const double alpha = (m_rpm - before) * radiansPerRpm / dt;
    constexpr double torqueNoise = 0.004;
    const double accelerating = drive.mode == DynoMode::held ? 0 : m_hidden.engineInertia * alpha;
    m_truth.dynoTorqueNm = (m_truth.torqueNm - accelerating) * (1 - m_hidden.drivelineLoss) *
                           (1 + torqueNoise * m_chanceTorque.normal());
}

void PracticeEngine::warmUp(const Drive &drive) {
    const double kw = std::max(0.0, m_truth.torqueNm) * m_rpm / 9549.297;
    constexpr double warmS = 60, coldS = 150, oilS = 120, oilOverK = 8, oilPerKw = 0.06;
    const double target = m_hidden.thermostatC + m_hidden.coolantKPerKw * kw;
    m_coolantC = follow(m_coolantC, target, m_coolantC < m_hidden.thermostatC - 5 ? coldS : warmS) +
                 m_faults.of(FaultId::coolantLeak) / secondsPerMinute * dt;
    m_oilC = follow(m_oilC, m_coolantC + oilOverK + oilPerKw * kw, oilS);
    m_soakK = follow(m_soakK, m_hidden.soakKPerKw * kw,
                     drive.mode == DynoMode::road ? m_hidden.soakS / 2 : m_hidden.soakS);
    constexpr double fuelS = 600;
    m_fuelC = follow(m_fuelC, m_hidden.airC + tankK, fuelS);
    constexpr double usualV = 13.9, fullKw = 150;
    m_batteryV = usualV - m_faults.of(FaultId::alternatorSag) * std::min(1.0, 0.3 + kw / fullKw);
}

void PracticeEngine::flowFuel(const Injected &in) {
    m_burnedL += in.useL;
    double feed = in.useL;
    if (job().supply.returns && !mechanical()) {
        const double gauge = m_rail.gaugeKpa({m_rpm, m_mapKpa});
        constexpr double unknownLMin = 2.5;
        const double pump = job().supply.pumps.empty()
                                ? unknownLMin
                                : PumpsAtVoltage(job().supply.points, job().supply.pumps,
                                                 std::min(job().supply.volts, m_batteryV))
                                      .flowLMin(gauge);
        feed = std::max(in.useL, pump * m_hidden.pumpFactor * (1 - m_faults.of(FaultId::weakPump)) * dt /
                                     secondsPerMinute);
    }
    m_starved = !m_circuit.flow(feed, in.useL, dt);
    const double returnLMin = (feed - in.useL) * secondsPerMinute / dt;
    m_fuel = m_components.properties(m_circuit.atInjectors());
    m_truth.content = FuelComponents::alcohol(m_circuit.atInjectors());

    // The sensor: lag, noise, and nonsense where its line runs dry.
    const double lag = m_faults.of(FaultId::contentLag, m_hidden.contentLagS);
    m_contentSensor = follow(m_contentSensor, FuelComponents::alcohol(m_circuit.atSensor()), lag);
    double read =
        m_contentSensor + m_hidden.contentNoise * m_chanceContent.normal() + m_faults.of(FaultId::contentOff);
    const double needs = std::max(job().supply.sensorReturnLMin, m_faults.of(FaultId::returnDry));
    const bool inReturn = job().tank.sensorPlace == SensorPlace::returnLine && job().supply.returns;
    if (inReturn && returnLMin < needs) {
        constexpr double jumps = 0.15, falls = 0.2;
        read += jumps * m_chanceContent.normal() - falls;
    }
    read = m_faults.of(FaultId::contentStuck, read);
    constexpr double zeroHz = 50, hzForAll = 100;
    m_contentHz = zeroHz + hzForAll * std::clamp(read, 0.0, 1.0);
}

void PracticeEngine::wear() {
    const PracticeTruth &t = m_truth;
    m_damage.knock += t.knock * dt / m_hidden.knockS;
    constexpr double boosted = 110, tenth = 0.1;
    if (m_mapKpa > boosted && !m_commanded.fuelCut && m_rpm > stopped) {
        const double over =
            t.leanestLambda - m_lean.at(m_mapKpa, m_fuel.ethanolMoleFraction, m_fuel.methanolMoleFraction);
        constexpr double mostOver = 0.3; // leaner burns too slowly to melt anything
        if (over > 0 && over < mostOver) m_damage.lean += over / tenth * dt / m_hidden.leanS;
    }
    const double over = t.peakKpa / m_hidden.peakKpa - 1;
    if (over > 0) m_damage.pressure += over / tenth * dt / m_hidden.peakS;
    constexpr double overspeedS = 0.3, heatS = 60;
    if (m_rpm > m_hidden.overspeedShare * job().engine.revLimitRpm) m_damage.overspeed += dt / overspeedS;
    if (m_coolantC > m_hidden.coolantC) m_damage.heat += dt / heatS;
    constexpr double richFrom = 0.68, byRich = 2e-4;
    if (t.lambda < richFrom) m_damage.oilDilution += byRich * (richFrom - t.lambda) * dt * (m_rpm > stopped);
}

void PracticeEngine::record(const Drive &drive, const Injected &in) {
    PracticeSample &s = m_sample;
    s.timeS = m_timeS;
    s.rpm = m_rpm;
    s.mapKpa = m_sensed.mapKpa;
    s.throttlePercent = m_sensed.throttlePercent;
    constexpr double richest = 0.5, leanest = 2; // that the sensor shows
    s.lambda = std::clamp(m_lambdaSensor + m_hidden.lambdaNoise * m_chanceLambda.normal(), richest, leanest);
    s.lambdaTarget = mechanical() ? 0 : m_commanded.lambdaTarget;
    s.sparkDeg = mechanical() ? m_hidden.mechanicalSparkDeg : m_commanded.sparkDeg;
    s.knockRetardDeg = m_commanded.knockRetardDeg;
    s.contentPercent = m_commanded.content * percent;
    s.fuelC = m_fuelC;
    s.intakeC = m_intakeSensorC;
    s.coolantC = m_coolantC;
    s.pulseMs = mechanical() ? 0 : m_commanded.pulseMs;
    s.dutyPercent = in.dutyShare * percent;
    constexpr double railNoise = 1.5, exhaustNoise = 2;
    s.railKpa = in.railKpa + railNoise * m_chanceRail.normal();
    constexpr double idleKpa = 90, byRpm = 420, fullRpm = 5500, byC = 0.004, warmC = 90, byDilution = 3;
    s.oilKpa = (idleKpa + byRpm * std::min(1.0, m_rpm / fullRpm)) * (1 - byC * (m_oilC - warmC)) *
               std::max(0.3, 1 - byDilution * m_damage.oilDilution) * (m_rpm > stopped);
    s.batteryV = m_batteryV;
    s.exhaustC = m_exhaustC + exhaustNoise * m_chanceExhaust.normal();
    s.boostTargetKpa = mechanical() ? 0 : m_commanded.boostTargetKpa;
    s.solenoidPercent = m_commanded.solenoidDuty * percent;
    constexpr double kmHPerMs = 3.6, radiansPerRpm = std::numbers::pi / 30;
    s.speedKmH = m_rpm * radiansPerRpm / gearRatio(drive.gear) * m_hidden.tyreM * kmHPerMs;
    s.gear = drive.gear;
    s.sprayCcMin = m_sprayCcMin;
    m_truth.mapKpa = m_mapKpa;
    m_truth.intakeC = m_intakeC;
}

const PracticeSample &PracticeEngine::step(const Drive &drive) {
    ++m_steps; // a sum of hundredths would drift
    m_timeS = m_restedS + static_cast<double>(m_steps) / stepsPerS;
    m_sinceStartS += dt;
    m_faults.at(m_timeS, m_mapKpa);
    breathe(drive);
    sense(drive);
    if (!drive.running) {
        m_commanded.pulseMs = 0;
        m_commanded.fuelCut = true;
    }
    spray();
    const Injected injected = inject();
    burn(injected);
    turn(drive);
    warmUp(drive);
    flowFuel(injected);
    wear();
    record(drive, injected);
    return m_sample;
}

void PracticeEngine::rest(double seconds) {
    const double coolerS = m_hidden.soakS / 2;
    constexpr double blockS = 1500;
    m_soakK *= portable::exp(-seconds / coolerS);
    m_coolantC = m_hidden.airC + (m_coolantC - m_hidden.airC) * portable::exp(-seconds / blockS);
    m_oilC = m_hidden.airC + (m_oilC - m_hidden.airC) * portable::exp(-seconds / blockS);
    constexpr double underBonnetK = 6;
    m_intakeC = m_hidden.airC + underBonnetK + m_soakK;
    m_intakeSensorC = m_intakeC;
    m_restedS += seconds;
    m_timeS = m_restedS + static_cast<double>(m_steps) / stepsPerS;
    m_filmMg = 0;
    m_boostKpa = 0;
}

} // namespace wheelwright
