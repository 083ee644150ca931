#pragma once
#include "core/study/fuel_delivery.h"
#include "core/verify/evaluation.h"

namespace wheelwright {

/// What the whole engine is asked for at the points of one content: shared by the checks of the fuel system.
class FlowDemand {
  public:
    FlowDemand(const Evaluation &evaluation, const ContentSlice &slice, double intakeC);

    double perCycleMm3(std::size_t loadIndex, std::size_t at) const; ///< one injector
    double lMin(std::size_t rpmIndex, std::size_t loadIndex, std::size_t at) const;
    double fuelGS(std::size_t rpmIndex, std::size_t loadIndex, std::size_t at) const;
    double airGS(std::size_t rpmIndex, std::size_t loadIndex, std::size_t at) const;

  private:
    const Evaluation &m_evaluation;
    const ContentSlice &m_slice;
    InjectorDemand m_demand;
};

/// How long an injector is open for a fuel volume, by load: worked out once for an evaluation, since data
/// sheets are slow to read and only the density of the fuel changes with content.
class InjectorOpening {
  public:
    explicit InjectorOpening(const Evaluation &evaluation);
    double deadMs(std::size_t loadIndex) const { return m_deadMs[loadIndex]; }
    /// ms per mm³ on a fuel of this density.
    double msPerMm3(std::size_t loadIndex, double fuelKgM3) const;

  private:
    double m_testFluidKgM3;
    std::vector<double> m_deadMs, m_msPerMm3; ///< of a fuel like the one it was rated with
};

/// Flow of all pumps at every load of the evaluation, L/min.
std::vector<double> pumpFlowByLoad(const Evaluation &evaluation);

/// The pumps and their data are known.
bool pumpsKnown(const Job &job);

} // namespace wheelwright
