// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/fuel_delivery.h"

#include "core/flow/engine_air.h"
#include "core/flow/injector.h"

#include <algorithm>

namespace wheelwright {
namespace {

constexpr double mgPerMm3AtOneKgM3 = 1e-3;

double cylinderLitres(const Job &job) {
    return job.engine.displacementL / job.engine.cylinders;
}

double deadTimeOf(const Injectors &inj, double differentialKpa) {
    return inj.deadTimes.empty() ? inj.deadTimeMs : deadTimeMs(inj.deadTimes, inj.batteryV, differentialKpa);
}

double differentialOf(const Injectors &inj, double loadKpa, double ambientKpa) {
    if (railCommanded(inj)) return std::max(0.0, inj.railByLoadKpa.at(loadKpa) + ambientKpa - loadKpa);
    return injectorDifferentialKpa(inj.railPressureKpa, loadKpa, ambientKpa, inj.boostReferenced);
}

} // namespace

InjectorDemand::InjectorDemand(const Job &job, double content, double intakeC)
    : InjectorDemand(job, job.calibration.fuelMeaning, content, intakeC) {}

InjectorDemand::InjectorDemand(const Job &job, FuelMeaning meaning, double content, double intakeC)
    : m_meaning(meaning), m_pulses(job.injectors.batch ? 2 : 1), m_injectors(job.injectors),
      m_ambientKpa(job.conditions.ambientKpa), m_pulsePressureKpa(job.calibration.pulsePressureKpa) {
    constexpr double zeroCelsius = 273.15;
    const BlendModel blends = blendModelOf(job);
    m_densityKgM3 = blends.properties(blendAt(job, content)).densityKgM3;
    m_airFactor = (job.conditions.intakeUsualC + zeroCelsius) / (intakeC + zeroCelsius);
    if (meaning == FuelMeaning::fuelMass || meaning == FuelMeaning::pulseWidth) return;
    // A content-referenced table holds the need in volumes of the reference fuel; a true VE meets the fuel in
    // the tank.
    const bool referenced = meaning == FuelMeaning::contentReferencedVe;
    const BlendProperties fuel =
        blends.properties(blendAt(job, referenced ? job.calibration.fuelReferenceContent : content));
    const double airPerVeKpa = airPerCycleMg(0.01, 1, cylinderLitres(job), intakeC);
    m_volumePerVeKpa = airPerVeKpa / (fuel.stoichiometricAfr * fuel.densityKgM3 * mgPerMm3AtOneKgM3);
}

double InjectorDemand::pulseFlow(double loadKpa, double &deadMs) const {
    const double dp =
        m_pulsePressureKpa > 0 ? m_pulsePressureKpa : differentialOf(m_injectors, loadKpa, m_ambientKpa);
    deadMs = deadTimeOf(m_injectors, dp);
    constexpr double mm3PerMsOfCcMin = 1.0 / 60;
    return volumeFlowOn(injectorFlowAt(m_injectors.flowCcMin, m_injectors.ratedPressureKpa, dp),
                        m_injectors.testFluidKgM3, m_densityKgM3) *
           mm3PerMsOfCcMin;
}

double InjectorDemand::mm3OfOthers(double value, double loadKpa) const {
    if (m_meaning == FuelMeaning::fuelMass) return value / (m_densityKgM3 * mgPerMm3AtOneKgM3) * m_airFactor;
    double deadMs = 0;
    const double flow = pulseFlow(loadKpa, deadMs);
    return std::max(0.0, value - deadMs) * m_pulses * flow * m_airFactor;
}

double InjectorDemand::value(double mm3, double loadKpa, double lambda) const {
    if (m_volumePerVeKpa > 0) return mm3 * lambda / (m_volumePerVeKpa * loadKpa);
    const double usual = mm3 / m_airFactor;
    if (m_meaning == FuelMeaning::fuelMass) return usual * m_densityKgM3 * mgPerMm3AtOneKgM3;
    double deadMs = 0;
    const double flow = pulseFlow(loadKpa, deadMs);
    return usual / (m_pulses * flow) + deadMs;
}

bool railCommanded(const Injectors &inj) {
    return std::ranges::any_of(inj.railByLoadKpa.values(), [](double kpa) { return kpa > 0; });
}

double railPressureKpa(const Injectors &inj, double loadKpa, double ambientKpa) {
    if (railCommanded(inj)) return inj.railByLoadKpa.at(loadKpa);
    return pumpPressureKpa(inj.railPressureKpa, loadKpa, ambientKpa, inj.boostReferenced);
}

double differentialKpa(const Job &job, double loadKpa) {
    return differentialOf(job.injectors, loadKpa, job.conditions.ambientKpa);
}

double engineFlowLMin(const Job &job, double mm3PerCycle, double rpm) {
    constexpr double lMinOfMm3PerCycle = 1e-6 / 2; // a cycle is two turns
    return mm3PerCycle * job.engine.cylinders * rpm * lMinOfMm3PerCycle;
}

PumpFlow::PumpFlow(const Job &job)
    : m_job(job), m_pumps(job.supply.points, job.supply.pumps, job.supply.volts) {}

double PumpFlow::atLoad(double loadKpa) const {
    return m_pumps.flowLMin(railPressureKpa(m_job.injectors, loadKpa, m_job.conditions.ambientKpa));
}

double pumpFlowAtLoad(const Job &job, double loadKpa) {
    return PumpFlow(job).atLoad(loadKpa);
}

UsualDeadTime::UsualDeadTime(const Injectors &inj) : m_ms(inj.deadTimeMs) {
    if (!inj.deadTimes.empty()) m_series = deadTimesAt(inj.deadTimes, inj.batteryV);
}

double usualDeadTimeMs(const Job &job, double differentialKpa) {
    return deadTimeOf(job.injectors, differentialKpa);
}

double injectorFlowOn(const Job &job, double differentialKpa, double fuelKgM3) {
    const Injectors &inj = job.injectors;
    return volumeFlowOn(injectorFlowAt(inj.flowCcMin, inj.ratedPressureKpa, differentialKpa),
                        inj.testFluidKgM3, fuelKgM3);
}

DutyModel::DutyModel(const Job &job, double content, double intakeC)
    : m_job(job), m_intakeC(intakeC),
      m_density(blendModelOf(job).properties(blendAt(job, content)).densityKgM3),
      m_demand(job, content, intakeC) {}

DutyWorking DutyModel::at(double rpm, double loadKpa, double tableFuel, double lambda) const {
    DutyWorking w{};
    const Injectors &inj = m_job.injectors;
    w.airMg = airPerCycleMg(1, loadKpa, cylinderLitres(m_job), m_intakeC);
    w.fuelMm3 = m_demand.mm3(tableFuel, loadKpa, lambda);
    w.differentialKpa = differentialKpa(m_job, loadKpa);
    w.flowCcMin = injectorFlowOn(m_job, w.differentialKpa, m_density);
    w.deadMs = usualDeadTimeMs(m_job, w.differentialKpa);
    const double openMs = pulseWidthMs(w.fuelMm3, w.flowCcMin, 0);
    w.pulseMs = (inj.batch ? openMs / 2 : openMs) + w.deadMs;
    w.duty = injectorDutyOf(openMs, w.deadMs, rpm, inj.batch);
    return w;
}

DutyWorking dutyAt(const Job &job, double content, double intakeC, double rpm, double loadKpa,
                   double tableFuel, double lambda) {
    return DutyModel(job, content, intakeC).at(rpm, loadKpa, tableFuel, lambda);
}

} // namespace wheelwright
