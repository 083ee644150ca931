// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/study/evaluation.h"
#include "core/study/fuel_delivery.h"

namespace wheelwright {

/// What the whole engine is asked for at the points of one content: shared by the checks of the fuel system.
class FlowDemand {
  public:
    FlowDemand(const Evaluation &evaluation, const ContentSlice &slice, double intakeC);

    /// One injector. Asked for at every point of every content: hence here, where it is taken in.
    double perCycleMm3(std::size_t loadIndex, std::size_t at) const {
        return m_demand.mm3(m_fuel[at], m_load[loadIndex], m_lambda[at]);
    }
    double lMin(std::size_t rpmIndex, std::size_t loadIndex, std::size_t at) const {
        return m_engineLMin * perCycleMm3(loadIndex, at) * m_rpm[rpmIndex];
    }
    double fuelGS(std::size_t rpmIndex, std::size_t loadIndex, std::size_t at) const;
    double airGS(std::size_t rpmIndex, std::size_t loadIndex, std::size_t at) const;

  private:
    std::span<const double> m_rpm, m_load;
    const ContentSlice &m_slice;
    BlendedPoints m_fuel, m_lambda;
    InjectorDemand m_demand;
    double m_engineLMin; ///< of one mm³ a cycle at one rpm
};

/// How long an injector is open for a fuel volume, by load: worked out once for an evaluation, since data
/// sheets are slow to read and only the density of the fuel changes with content.
class InjectorOpening {
  public:
    explicit InjectorOpening(const Evaluation &evaluation);
    double deadMs(std::size_t loadIndex) const { return m_deadMs[loadIndex]; }
    /// ms per mm³ on a fuel like the one it was rated with.
    double msPerMm3(std::size_t loadIndex) const { return m_msPerMm3[loadIndex]; }
    /// How much longer it is open on a fuel of this density.
    double longerOn(double fuelKgM3) const;

  private:
    double m_testFluidKgM3;
    std::vector<double> m_deadMs, m_msPerMm3;
};

/// Flow of all pumps at every load of the evaluation, L/min.
std::vector<double> pumpFlowByLoad(const Evaluation &evaluation);

/// The pumps and their data are known.
bool pumpsKnown(const Job &job);

} // namespace wheelwright
