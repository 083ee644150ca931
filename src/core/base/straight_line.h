// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <span>

namespace wheelwright {

/// A straight line through points, by least squares, with standard errors that go by what they scatter about
/// it (Draper and Smith, Applied Regression Analysis (1998), sections 1.2 to 1.4).
struct StraightLine {
    double slope = 0, slopeError = 0;
    double middle = 0;                ///< mean of x
    double level = 0, levelError = 0; ///< there
    double rms = 0;                   ///< of what is left, by the number of points

    double at(double x) const { return level + slope * (x - middle); }
};

/// As many of both. Points at one x leave the slope 0; of fewer than three the errors are 0: nothing says
/// them.
StraightLine lineThrough(std::span<const double> x, std::span<const double> y);

} // namespace wheelwright
