// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/verify/flow_demand.h"

#include "core/flow/injector.h"

namespace wheelwright {

FlowDemand::FlowDemand(const Evaluation &e, const ContentSlice &slice, double intakeC)
    : m_fuel(slice.fuel), m_demand(e.job(), slice.content, intakeC),
      m_engineLMin(engineFlowLMin(e.job(), 1, 1)) {
    m_divisor = m_demand.dividesByLambda() ? slice.lambda : e.ones();
    m_perSpeed = m_demand.bySpeed() ? e.load().size() : 0;
    m_offset.reserve(e.load().size() * (m_perSpeed > 0 ? e.rpm().size() : 1));
    m_gain.reserve(m_offset.capacity());
    for (const double rpm : e.rpm().first(m_perSpeed > 0 ? e.rpm().size() : 1))
        for (const double load : e.load()) {
            const InjectorDemand::Line line = m_demand.lineAt({rpm, load});
            m_offset.push_back(line.offset);
            m_gain.push_back(line.gain);
        }
}

InjectorOpening::InjectorOpening(const Evaluation &e)
    : m_rail(e.job()), m_dead(e.job().injectors), m_flowCcMin(e.job().injectors.flowCcMin),
      m_ratedKpa(e.job().injectors.ratedPressureKpa), m_testFluidKgM3(e.job().injectors.testFluidKgM3),
      m_deadMs(e, m_rail.bySpeed(), [this](EnginePoint p) { return at(m_rail.acrossKpa(p)).deadMs; }),
      m_msPerMm3(e, m_rail.bySpeed(), [this](EnginePoint p) { return at(m_rail.acrossKpa(p)).msPerMm3; }) {}

InjectorOpening::Here InjectorOpening::at(double acrossKpa) const {
    return {m_dead.at(acrossKpa), pulseWidthMs(1, injectorFlowAt(m_flowCcMin, m_ratedKpa, acrossKpa), 0)};
}

double InjectorOpening::longerOn(double fuelKgM3) const {
    return 1 / volumeFlowOn(1, m_testFluidKgM3, fuelKgM3);
}

ByPoint pumpFlowOver(const Evaluation &e) {
    const PumpFlow pumps(e.job());
    return {e, pumps.bySpeed(), [pumps](EnginePoint at) { return pumps.at(at); }};
}

} // namespace wheelwright
