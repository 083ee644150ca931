#include "core/verify/flow_demand.h"

#include "core/flow/injector.h"

namespace wheelwright {

FlowDemand::FlowDemand(const Evaluation &e, const ContentSlice &slice, double intakeC)
    : m_evaluation(e), m_slice(slice), m_demand(e.job(), slice.content, intakeC) {}

double FlowDemand::perCycleMm3(std::size_t loadIndex, std::size_t at) const {
    return m_demand.volumePerVeKpa * m_slice.fuel[at] * m_evaluation.load()[loadIndex] / m_slice.lambda[at];
}

double FlowDemand::lMin(std::size_t rpmIndex, std::size_t loadIndex, std::size_t at) const {
    constexpr double lMinOfMm3PerCycle = 1e-6 / 2; // a cycle is two turns
    return perCycleMm3(loadIndex, at) * m_evaluation.job().engine.cylinders * m_evaluation.rpm()[rpmIndex] *
           lMinOfMm3PerCycle;
}

double FlowDemand::fuelGS(std::size_t rpmIndex, std::size_t loadIndex, std::size_t at) const {
    return lMin(rpmIndex, loadIndex, at) * m_slice.mixtureDensity / 60;
}

double FlowDemand::airGS(std::size_t rpmIndex, std::size_t loadIndex, std::size_t at) const {
    return fuelGS(rpmIndex, loadIndex, at) * m_slice.lambda[at] * m_slice.stoichiometricAfr;
}

InjectorOpening::InjectorOpening(const Evaluation &e) : m_testFluidKgM3(e.job().injectors.testFluidKgM3) {
    const Injectors &inj = e.job().injectors;
    for (const double load : e.load()) {
        const double dp = injectorDifferentialKpa(inj.railPressureKpa, load, e.job().conditions.ambientKpa,
                                                  inj.boostReferenced);
        m_deadMs.push_back(usualDeadTimeMs(e.job(), dp));
        m_msPerMm3.push_back(pulseWidthMs(1, injectorFlowAt(inj.flowCcMin, inj.ratedPressureKpa, dp), 0));
    }
}

double InjectorOpening::msPerMm3(std::size_t loadIndex, double fuelKgM3) const {
    return m_msPerMm3[loadIndex] / volumeFlowOn(1, m_testFluidKgM3, fuelKgM3);
}

std::vector<double> pumpFlowByLoad(const Evaluation &e) {
    const Job &job = e.job();
    std::vector<double> flow;
    for (const double load : e.load())
        flow.push_back(
            pumpFlowLMin(job.supply.points, job.supply.pumps, job.supply.volts,
                         pumpPressureKpa(job.injectors.railPressureKpa, load, job.conditions.ambientKpa,
                                         job.injectors.boostReferenced)));
    return flow;
}

bool pumpsKnown(const Job &job) {
    for (const FittedPump &p : job.supply.pumps)
        if (p.count > 0 && !p.pump.empty()) return true;
    return false;
}

} // namespace wheelwright
