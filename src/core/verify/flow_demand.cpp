#include "core/verify/flow_demand.h"

#include "core/flow/injector.h"

namespace wheelwright {

FlowDemand::FlowDemand(const Evaluation &e, const ContentSlice &slice, double intakeC)
    : m_evaluation(e), m_slice(slice), m_demand(e.job(), slice.content, intakeC) {}

double FlowDemand::perCycleMm3(std::size_t loadIndex, std::size_t at) const {
    return m_demand.mm3(m_slice.fuel[at], m_evaluation.load()[loadIndex], m_slice.lambda[at]);
}

double FlowDemand::lMin(std::size_t rpmIndex, std::size_t loadIndex, std::size_t at) const {
    return engineFlowLMin(m_evaluation.job(), perCycleMm3(loadIndex, at), m_evaluation.rpm()[rpmIndex]);
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
    std::vector<double> flow;
    for (const double load : e.load())
        flow.push_back(pumpFlowAtLoad(e.job(), load));
    return flow;
}

bool pumpsKnown(const Job &job) {
    for (const FittedPump &p : job.supply.pumps)
        if (p.count > 0 && !p.pump.empty()) return true;
    return false;
}

} // namespace wheelwright
