// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/fuel_delivery.h"

#include "core/flow/engine_air.h"
#include "core/flow/injector.h"
#include "core/study/extra_tables.h"
#include "core/tables/table_kind.h"

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

} // namespace

RailPressure::RailPressure(const Job &job)
    : m_regulatorKpa(job.injectors.railPressureKpa), m_ambientKpa(job.conditions.ambientKpa),
      m_boostReferenced(job.injectors.boostReferenced), m_link("injectors.rail_pressure_kpa") {
    const Curve &byLoad = job.injectors.railByLoadKpa;
    if (const ExtraTable *table = extraInUse(job, TableKind::railPressure)) {
        m_table = table->table;
        m_link = "calibration.extras." + table->name;
    } else if (std::ranges::any_of(byLoad.values(), [](double kpa) { return kpa > 0; })) {
        m_byLoad = byLoad;
        m_link = "injectors.rail_by_load_kpa";
    }
}

double RailPressure::gaugeKpa(EnginePoint at) const {
    if (m_table) return m_table->lookup(at.rpm, at.loadKpa).value;
    if (m_byLoad) return m_byLoad->at(at.loadKpa);
    return pumpPressureKpa(m_regulatorKpa, at.loadKpa, m_ambientKpa, m_boostReferenced);
}

double RailPressure::acrossKpa(EnginePoint at) const {
    if (commanded()) return std::max(0.0, gaugeKpa(at) + m_ambientKpa - at.loadKpa);
    return injectorDifferentialKpa(m_regulatorKpa, at.loadKpa, m_ambientKpa, m_boostReferenced);
}

InjectorDemand::InjectorDemand(const Job &job, double content, double intakeC)
    : InjectorDemand(job, job.calibration.fuelMeaning, content, intakeC) {}

InjectorDemand::InjectorDemand(const Job &job, FuelMeaning meaning, double content, double intakeC)
    : m_meaning(meaning) {
    if (meaning == FuelMeaning::pulseWidth)
        m_pulses = Pulses{job.injectors, RailPressure(job), job.injectors.batch ? 2.0 : 1.0,
                          job.calibration.pulsePressureKpa};
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

InjectorDemand::Line InjectorDemand::lineOfOthers(EnginePoint at) const {
    if (m_meaning == FuelMeaning::fuelMass) return {0, m_airFactor / (m_densityKgM3 * mgPerMm3AtOneKgM3)};
    const Injectors &injectors = m_pulses->injectors;
    const double dp = m_pulses->pressureKpa > 0 ? m_pulses->pressureKpa : m_pulses->rail.acrossKpa(at);
    constexpr double mm3PerMsOfCcMin = 1.0 / 60;
    const double flow = volumeFlowOn(injectorFlowAt(injectors.flowCcMin, injectors.ratedPressureKpa, dp),
                                     injectors.testFluidKgM3, m_densityKgM3) *
                        mm3PerMsOfCcMin;
    return {deadTimeOf(injectors, dp), m_pulses->count * flow * m_airFactor};
}

double InjectorDemand::value(double mm3, EnginePoint at, double lambda) const {
    const Line line = lineAt(at);
    return mm3 * (dividesByLambda() ? lambda : 1) / line.gain + line.offset;
}

double engineFlowLMin(const Job &job, double mm3PerCycle, double rpm) {
    constexpr double lMinOfMm3PerCycle = 1e-6 / 2; // a cycle is two turns
    return mm3PerCycle * job.engine.cylinders * rpm * lMinOfMm3PerCycle;
}

PumpFlow::PumpFlow(const Job &job)
    : m_rail(job), m_pumps(job.supply.points, job.supply.pumps, job.supply.volts) {}

double PumpFlow::at(EnginePoint at) const {
    return m_pumps.flowLMin(m_rail.gaugeKpa(at));
}

double pumpFlowAt(const Job &job, EnginePoint at) {
    return PumpFlow(job).at(at);
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
      m_density(blendModelOf(job).properties(blendAt(job, content)).densityKgM3), m_rail(job),
      m_demand(job, content, intakeC) {}

DutyWorking DutyModel::at(double rpm, double loadKpa, double tableFuel, double lambda) const {
    DutyWorking w{};
    const Injectors &inj = m_job.injectors;
    w.airMg = airPerCycleMg(1, loadKpa, cylinderLitres(m_job), m_intakeC);
    w.fuelMm3 = m_demand.mm3(tableFuel, {rpm, loadKpa}, lambda);
    w.differentialKpa = m_rail.acrossKpa({rpm, loadKpa});
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
