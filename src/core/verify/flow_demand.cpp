// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/verify/flow_demand.h"

#include "core/flow/injector.h"

namespace wheelwright {

FlowDemand::FlowDemand(const Evaluation &e, const ContentSlice &slice, double intakeC)
    : m_rpm(e.rpm()), m_load(e.load()), m_slice(slice), m_fuel(slice.fuel), m_lambda(slice.lambda),
      m_demand(e.job(), slice.content, intakeC), m_engineLMin(engineFlowLMin(e.job(), 1, 1)) {}

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

double InjectorOpening::longerOn(double fuelKgM3) const {
    return 1 / volumeFlowOn(1, m_testFluidKgM3, fuelKgM3);
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
