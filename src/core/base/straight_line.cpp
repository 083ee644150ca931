// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/straight_line.h"

#include <cmath>

namespace wheelwright {

StraightLine lineThrough(std::span<const double> x, std::span<const double> y) {
    StraightLine l;
    if (x.empty()) return l;
    const auto n = static_cast<double>(x.size());
    for (std::size_t i = 0; i < x.size(); ++i) {
        l.middle += x[i] / n;
        l.level += y[i] / n;
    }
    double xx = 0, xy = 0, rest = 0;
    for (std::size_t i = 0; i < x.size(); ++i) {
        xx += (x[i] - l.middle) * (x[i] - l.middle);
        xy += (x[i] - l.middle) * (y[i] - l.level);
    }
    if (xx > 0) l.slope = xy / xx;
    for (std::size_t i = 0; i < x.size(); ++i)
        rest += (y[i] - l.at(x[i])) * (y[i] - l.at(x[i]));
    l.rms = std::sqrt(rest / n);
    if (n <= 2) return l;
    const double scatter = rest / (n - 2);
    l.levelError = std::sqrt(scatter / n);
    if (xx > 0) l.slopeError = std::sqrt(scatter / xx);
    return l;
}

} // namespace wheelwright
