// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/verify/flow_demand.h"

#include "core/flow/injector.h"

namespace wheelwright {

FlowDemand::FlowDemand(const Evaluation &e, const ContentSlice &slice, double intakeC)
    : m_fuel(slice.fuel), m_lambda(slice.lambda), m_demand(e.job(), slice.content, intakeC),
      m_engineLMin(engineFlowLMin(e.job(), 1, 1)) {}

InjectorOpening::InjectorOpening(const Evaluation &e)
    : m_testFluidKgM3(e.job().injectors.testFluidKgM3),
      m_deadMs(e, [&job = e.job(), dead = UsualDeadTime(e.job().injectors)](
                      double load) { return dead.at(differentialKpa(job, load)); }),
      m_msPerMm3(e, [&job = e.job()](double load) {
          return pulseWidthMs(1,
                              injectorFlowAt(job.injectors.flowCcMin, job.injectors.ratedPressureKpa,
                                             differentialKpa(job, load)),
                              0);
      }) {}

double InjectorOpening::longerOn(double fuelKgM3) const {
    return 1 / volumeFlowOn(1, m_testFluidKgM3, fuelKgM3);
}

ByLoad pumpFlowByLoad(const Evaluation &e) {
    return {e, [pumps = PumpFlow(e.job())](double load) { return pumps.atLoad(load); }};
}

bool pumpsKnown(const Job &job) {
    for (const FittedPump &p : job.supply.pumps)
        if (p.count > 0 && !p.pump.empty()) return true;
    return false;
}

} // namespace wheelwright
