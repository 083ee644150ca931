// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/student_t.h"

#include <cmath>
#include <numbers>

namespace wheelwright {

double studentWithin(double t, int freedom) {
    const double angle = std::atan(t / std::sqrt(freedom)), cosine = std::cos(angle), sine = std::sin(angle);
    const bool odd = freedom % 2 == 1;
    // Sums of powers of the cosine with the products of the numbers before them.
    double term = odd ? cosine : 1, sum = 0;
    for (int power = odd ? 1 : 0; power <= freedom - 2; power += 2) {
        sum += term;
        term *= cosine * cosine * (power + 1) / (power + 2);
    }
    return odd ? 2 / std::numbers::pi * (angle + sine * sum) : sine * sum;
}

double studentReach(double probability, int freedom) {
    double low = 0, high = 1;
    while (studentWithin(high, freedom) < probability)
        high *= 2;
    constexpr int halvings = 100;
    for (int i = 0; i < halvings; ++i) {
        const double middle = (low + high) / 2;
        (studentWithin(middle, freedom) < probability ? low : high) = middle;
    }
    return (low + high) / 2;
}

} // namespace wheelwright
