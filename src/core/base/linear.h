// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <iterator>
#include <map>

namespace wheelwright {

/// Points of a data sheet, by what they were measured at. Never empty where it is read.
using SheetPoints = std::map<double, double>;

/// Linear between the points, held outside; or, above them, on along the last step.
inline double along(const SheetPoints &points, double x, bool goOnAbove = false) {
    auto above = points.lower_bound(x);
    if (above == points.begin()) return above->second;
    if (above == points.end()) {
        if (!goOnAbove || points.size() < 2) return std::prev(above)->second;
        above = std::prev(above);
    }
    const auto below = std::prev(above);
    return below->second +
           (x - below->first) / (above->first - below->first) * (above->second - below->second);
}

} // namespace wheelwright
