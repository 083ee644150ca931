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
    constexpr double rounding = 1 + 1e-9; // a span that is a whole number of steps but for its last bits
    for (const double m : {1.0, 2.0, 5.0, 10.0})
        if (m * power * rounding >= rough) return m * power;
    return rough;
}

} // namespace wheelwright
