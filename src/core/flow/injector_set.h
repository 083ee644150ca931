// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/linear.h"

#include <cstddef>
#include <vector>

namespace wheelwright {

/// One line of a data sheet: dead time at a battery voltage and, where it is stated, a pressure across the
/// injector.
struct DeadTimePoint {
    double volts = 13.5;
    double differentialKpa = 0; ///< 0: not stated, holds at any
    double ms = 0;

    bool operator==(const DeadTimePoint &) const = default;
};

/// Dead time between the points: linear in voltage, linear in pressure between the pressures that are stated,
/// held outside. Throws InputError for no points at all.
double deadTimeMs(const std::vector<DeadTimePoint> &points, double volts, double differentialKpa);
/// The same for any pressure across it.
SheetSeries deadTimesAt(const std::vector<DeadTimePoint> &points, double volts);

/// Duty of an injector, share of the cycle. Sequential: one pulse a cycle. Batch: two, each with its dead
/// time and half of the fuel.
constexpr double injectorDutyOf(double openMs, double deadMs, double rpm, bool batch) {
    constexpr double msPerCycleAtOneRpm = 120000;
    return (openMs + (batch ? 2 : 1) * deadMs) * (rpm / msPerCycleAtOneRpm);
}

/// An injector of another fluid density than it was rated with passes another volume at the same pressure:
/// Q ∝ 1/√ρ (Bernoulli). testFluid 0: rated with the fuel itself, no correction.
double volumeFlowOn(double ratedFlow, double testFluidKgM3, double fuelKgM3);

/// Which injector goes to which cylinder.
struct InjectorAssignment {
    std::vector<std::size_t> injectorOf; ///< by cylinder
    std::vector<double> lambdaRatio;     ///< λ of each cylinder over the mean λ that its need asks for
    double spread = 0;                   ///< root mean square of lambdaRatio − 1
    double randomSpread = 0;             ///< the same, expected of an assignment by chance
    double asListedSpread = 0;           ///< the same, of the order in the lists
};

/// flows: measured, one each cylinder, any unit; needs: fuel that a cylinder wants against the others, 1
/// usual, 1.03 for one that runs hot or lean. The best assignment puts the largest flow to the largest need
/// (rearrangement inequality: Hardy, Littlewood, Pólya, Inequalities (1934), theorem 368).
/// Throws InputError unless there are as many of both, from 1 to 16, all above 0.
InjectorAssignment assignInjectors(const std::vector<double> &flows, const std::vector<double> &needs);

/// Power that a fuel flow can make at a brake specific fuel consumption, kW: ṁ / BSFC.
double powerKw(double fuelGS, double bsfcGKwh);

struct BsfcBand {
    double low = 0, high = 0; ///< g/(kW h): the thrifty end and the other
};
/// Common practice: naturally aspirated gasoline 0.45–0.50 lb/(hp h), boosted 0.55–0.65; × 1.35–1.4 at E85
/// and × 2.1 on methanol, linear in volume between.
BsfcBand usualBsfc(bool boosted, double ethanol, double methanol);

} // namespace wheelwright
