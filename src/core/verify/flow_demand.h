// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/study/evaluation.h"
#include "core/study/fuel_delivery.h"

namespace wheelwright {

/// What the whole engine is asked for at the points of one content: shared by the checks of the fuel system.
class FlowDemand {
  public:
    FlowDemand(const Evaluation &evaluation, const ContentSlice &slice, double intakeC);

    /// One injector, at a GridPoint or an EdgePoint. Asked for at every point of every content: hence here,
    /// where it is taken in.
    double perCycleMm3(const auto &point) const {
        return m_demand.mm3(point.of(m_fuel), point.loadKpa, point.of(m_lambda));
    }
    double lMin(const auto &point) const { return m_engineLMin * perCycleMm3(point) * point.rpm; }

  private:
    BlendedPoints m_fuel, m_lambda;
    InjectorDemand m_demand;
    double m_engineLMin; ///< of one mm³ a cycle at one rpm
};

/// How long an injector is open for a fuel volume, by load: worked out once for an evaluation, since data
/// sheets are slow to read and only the density of the fuel changes with content.
class InjectorOpening {
  public:
    explicit InjectorOpening(const Evaluation &evaluation);
    const ByLoad &deadMs() const { return m_deadMs; }
    /// ms per mm³ on a fuel like the one it was rated with.
    const ByLoad &msPerMm3() const { return m_msPerMm3; }
    /// How much longer it is open on a fuel of this density.
    double longerOn(double fuelKgM3) const;

  private:
    double m_testFluidKgM3;
    ByLoad m_deadMs, m_msPerMm3;
};

/// Flow of all pumps, L/min.
ByLoad pumpFlowByLoad(const Evaluation &evaluation);

/// The pumps and their data are known.
bool pumpsKnown(const Job &job);

} // namespace wheelwright
