// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/study/evaluation.h"
#include "core/study/fuel_delivery.h"

#include <algorithm>
#include <vector>

namespace wheelwright {

/// What the whole engine is asked for at the points of one content: shared by the checks of the fuel system.
/// Asked for at every point of every content: hence laid out so that the grid's points are plain arithmetic
/// on rows of numbers, whatever the fuel tables mean.
class FlowDemand {
  public:
    FlowDemand(const Evaluation &evaluation, const ContentSlice &slice, double intakeC);

    /// One injector.
    double perCycleMm3(const GridPoint &p) const {
        const std::size_t row = p.rpmIndex * m_perSpeed + p.loadIndex;
        return std::max(0.0, p.of(m_fuel) - m_offset[row]) * m_gain[row] / p.of(m_divisor);
    }
    double perCycleMm3(const EdgePoint &p) const {
        return m_demand.mm3(p.of(m_fuel), {p.rpm, p.loadKpa}, p.of(m_divisor));
    }
    double lMin(const auto &point) const { return m_engineLMin * perCycleMm3(point) * point.rpm; }

  private:
    BlendedPoints m_fuel, m_divisor; ///< the divisor: λ, or 1 where the tables hold it already
    InjectorDemand m_demand;
    std::vector<double> m_offset, m_gain; ///< InjectorDemand::lineAt() by load, and by speed where it must
    std::size_t m_perSpeed;
    double m_engineLMin; ///< of one mm³ a cycle at one rpm
};

/// How long an injector is open for a fuel volume: worked out once for an evaluation, since data sheets are
/// slow to read and only the density of the fuel changes with content.
class InjectorOpening {
  public:
    explicit InjectorOpening(const Evaluation &evaluation);
    InjectorOpening(const InjectorOpening &) = delete;
    InjectorOpening &operator=(const InjectorOpening &) = delete;
    struct Here {
        double deadMs;
        double msPerMm3; ///< on a fuel like the one it was rated with
    };
    Here at(const GridPoint &p) const { return {p.of(m_deadMs), p.of(m_msPerMm3)}; }
    Here at(const EdgePoint &p) const { return at(m_rail.acrossKpa({p.rpm, p.loadKpa})); }
    /// How much longer it is open on a fuel of this density.
    double longerOn(double fuelKgM3) const;

  private:
    Here at(double acrossKpa) const;

    RailPressure m_rail;
    UsualDeadTime m_dead;
    double m_flowCcMin, m_ratedKpa, m_testFluidKgM3;
    ByPoint m_deadMs, m_msPerMm3; ///< on the grid
};

/// Flow of all pumps, L/min.
ByPoint pumpFlowOver(const Evaluation &evaluation);

} // namespace wheelwright
