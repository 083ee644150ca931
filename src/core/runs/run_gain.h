// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/least_squares.h"

#include <optional>
#include <span>
#include <string_view>

namespace wheelwright {

/// Where a run stands among others.
struct RunPlace {
    std::size_t group = 0;       ///< runs of one group are of the same everything
    double order = 0;            ///< of its day
    std::optional<double> warmC; ///< of the intake air as it began, where somebody knows it
};

/// What the scatter of a gain is taken from.
enum class ScatterFrom {
    none,     ///< nothing: no run was made twice
    drift,    ///< what is left about group means and a common drift over the order
    heat,     ///< and over the start temperature too
    pooled,   ///< about group means alone, of the same scatter in both
    welch,    ///< about group means alone, each with its own scatter
    controls, ///< other runs that were made twice, on the same dyno
};
std::string_view keyOf(ScatterFrom from); ///< stable: "drift"

/// A difference and how sure it is.
struct GainEstimate {
    double mean = 0;
    double standardError = 0; ///< with 0 degrees of freedom: nobody knows
    double freedom = 0;
    bool judged() const { return freedom > 0; }
    /// Half of the 95 % interval; not a number where not judged.
    double halfWidth() const;
    /// Not where not judged.
    bool distinguishable() const;
};

/// How the heat of one run after the other is told from what was changed between groups. Chosen by how the
/// runs stand, never by their values: so the interval holds as often as it says.
struct DriftModel {
    ScatterFrom from = ScatterFrom::none;
    LeastSquares fit{{}}; ///< unknowns: a mean for each group, drift by order, drift by temperature
    std::size_t groups = 0;
    double freedom = 0;
    bool heatTaken =
        false; ///< start temperatures are fitted, hardly differ, or are what the order says already
};
/// Drift over order wherever a degree of freedom is left; over start temperature too where all runs know it,
/// it lies more than warmWorthFitting apart, two degrees are left, and order alone does not already say it.
/// drift false: group means alone.
DriftModel driftModel(std::span<const RunPlace> runs, bool drift = true);

/// Temperatures that differ by less explain little; common practice.
inline constexpr double warmWorthFittingK = 5;

/// One group less another: by the model, a value a run in the same order.
GainEstimate gainBy(const DriftModel &model, std::span<const double> values, std::size_t from = 0,
                    std::size_t to = 1);
/// Of two groups by their own means and scatter: Welch, The generalization of 'Student's' problem (1947),
/// Biometrika 34, 28, with the degrees of freedom of Satterthwaite (1946). Both hold two values at least.
GainEstimate welch(std::span<const double> before, std::span<const double> after);

/// What runs scatter by, and drift by.
struct RunScatter {
    double sigma = 0;                          ///< standard deviation of one run
    double freedom = 0;                        ///< 0: nobody knows
    std::optional<double> perRun, perRunError; ///< drift from run to run
    std::optional<double> perK, perKError;     ///< drift with start temperature
};
RunScatter scatterBy(const DriftModel &model, std::span<const double> values);

/// How well so many runs of each kind, made turn and turn about, see a gain; `sigma` of one run, above 0.
/// drift: one from run to run is taken out as well.
struct GainSight {
    double standardErrors = 0; ///< that the gain is worth
    double freedom = 0;
    double power = 0; ///< probability that it is seen at 95 %
};
GainSight gainSight(double gain, double sigma, int runs, bool drift);

/// Runs of each kind that it takes to see a gain in four tries of five, at 95 %, when they are made turn and
/// turn about; `sigma` of one run. drift: one from run to run is taken out as well. Up to
/// `most`; 0: more than that.
int runsToSee(double gain, double sigma, bool drift = false, int most = 1000);
inline constexpr double powerWanted = 0.8;

} // namespace wheelwright
