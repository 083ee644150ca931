// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/student_t.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace wheelwright {
namespace {

// The incomplete beta function over its whole, for x under its mean: eq. 26.5.8, from the front by Lentz'
// method.
double betaFraction(double a, double b, double x) {
    constexpr double tiny = 1e-300, enough = 1e-16;
    double c = 1, d = 1 - (a + b) * x / (a + 1);
    d = 1 / (std::abs(d) < tiny ? tiny : d);
    double f = d;
    constexpr int most = 10'000;
    for (int m = 1; m < most; ++m) {
        double change = 1;
        for (const double term : {m * (b - m) * x / ((a + 2 * m - 1) * (a + 2 * m)),
                                  -(a + m) * (a + b + m) * x / ((a + 2 * m) * (a + 2 * m + 1))}) {
            d = 1 + term * d;
            d = 1 / (std::abs(d) < tiny ? tiny : d);
            c = 1 + term / c;
            if (std::abs(c) < tiny) c = tiny;
            change = c * d;
            f *= change;
        }
        if (std::abs(change - 1) < enough) break;
    }
    const double front =
        std::lgamma(a + b) - std::lgamma(a) - std::lgamma(b) + a * std::log(x) + b * std::log1p(-x);
    return std::exp(front) * f / a;
}

double incompleteBeta(double a, double b, double x) {
    if (!(x > 0)) return 0;
    if (!(x < 1)) return 1;
    return x < (a + 1) / (a + b + 2) ? betaFraction(a, b, x) : 1 - betaFraction(b, a, 1 - x);
}

double normalBelow(double z) {
    return 0.5 * std::erfc(-z / std::numbers::sqrt2);
}

} // namespace

double studentWithin(double t, double freedom) {
    const double square = t * t;
    return incompleteBeta(0.5, freedom / 2, square / (freedom + square));
}

double studentReach(double probability, double freedom) {
    double low = 0, high = 1;
    while (studentWithin(high, freedom) < probability)
        high *= 2;
    constexpr double enough = 1e-15;
    while (high - low > enough * high) {
        const double middle = (low + high) / 2;
        (studentWithin(middle, freedom) < probability ? low : high) = middle;
    }
    return (low + high) / 2;
}

double studentPower(double standardErrors, double freedom, double reach) {
    // u = s/σ has the density 2 (ν/2)^(ν/2) / Γ(ν/2) · u^(ν−1) exp(−ν u²/2).
    const double half = freedom / 2, front = std::log(2) + half * std::log(half) - std::lgamma(half);
    constexpr int steps = 1000;
    const double most = 1 + 12 / std::sqrt(2 * freedom), step = most / steps;
    double sum = 0;
    for (int i = 0; i < steps; ++i)
        for (const double node :
             {0.5 - 0.5 / std::numbers::sqrt3, 0.5 + 0.5 / std::numbers::sqrt3}) { // Gauss
            const double u = (i + node) * step;
            const double density = std::exp(front + (freedom - 1) * std::log(u) - half * u * u);
            sum += density *
                   (normalBelow(standardErrors - reach * u) + normalBelow(-standardErrors - reach * u)) / 2;
        }
    return std::min(1.0, sum * step);
}

} // namespace wheelwright
