// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/job/run_samples.h"
#include "core/job/runs.h"

#include <map>
#include <span>
#include <vector>

namespace wheelwright {

/// P in kW = T in N·m · rpm / this: 60 000 / 2π.
inline constexpr double newtonMetreRpmPerKw = 9549.296585513721;

/// A run over engine speed as it was measured, ascending whichever way it ran; internal units.
struct RunCurve {
    std::vector<double> rpm; ///< each once: of several rows at one speed the mean
    std::vector<double> torqueNm, powerKw;
    /// What else was measured; not a number where there is none.
    std::map<ChannelRole, std::vector<double>> lanes;

    bool has(ChannelRole role) const { return lanes.contains(role); }
    /// Torque, power or a lane; empty where there is none.
    std::span<const double> of(ChannelRole role) const;
};

/// Of a run's numbers: rows without speed, or with neither torque nor power, are left out; of torque and
/// power each follows from the other where it is not there. Throws InputError naming the run where fewer than
/// two speeds are left.
RunCurve curveOf(const Run &run);
RunCurve curveOf(const RunSamples &samples, const std::string &where);

/// The highest of some values, and where; not numbers where there are none.
struct RunPeak {
    double value = 0, rpm = 0;
};
RunPeak peakOf(std::span<const double> rpm, std::span<const double> values);

/// A hole in a run: torque falls away and comes back, as with a cut.
struct RunCut {
    double fromRpm = 0, toRpm = 0;
    double share = 0; ///< of the torque around it, at its lowest
};
/// Where torque falls under four fifths of the median over 500 rpm to either side and has nine tenths of it
/// on both sides; thresholds: common practice. By speed.
std::vector<RunCut> cutsOf(const RunCurve &curve);

/// A curve at speeds within its own, through the values as they are or smoothed: at each speed a parabola by
/// least squares through those within half of a window on either side, the window shifted where the curve
/// ends. With speeds that are evenly spaced that is the filter of Savitzky and Golay, Smoothing and
/// differentiation of data by simplified least squares procedures (1964), Anal. Chem. 36, 1627, with
/// degree 2. Where fewer than five speeds lie in the window, it is as wide as it takes for five. windowRpm 0:
/// straight lines from value to value. Values that are no numbers are left out; not a number where too few
/// are left.
std::vector<double> smoothedAt(std::span<const double> rpm, std::span<const double> values, double windowRpm,
                               std::span<const double> at);

} // namespace wheelwright
