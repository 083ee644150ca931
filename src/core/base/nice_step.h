// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <algorithm>
#include <cmath>

namespace wheelwright {

/// The least of 1, 2 and 5 times a power of ten by which a span (> 0) has at most that many steps. Source:
/// common practice of scales.
inline double niceStep(double span, int most) {
    const double rough = span / std::max(1, most);
    const double power = std::pow(10, std::floor(std::log10(rough)));
    for (const double m : {1.0, 2.0, 5.0, 10.0})
        if (m * power >= rough) return m * power;
    return rough;
}

} // namespace wheelwright
