// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/monotone_fit.h"

#include "core/base/error.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <map>
#include <string>

namespace wheelwright {
namespace {

// The weighted harmonic mean of the slopes to both sides; at the ends the three-point formula, kept from
// overshooting.
double endSlope(double h0, double h1, double d0, double d1) {
    double s = ((2 * h0 + h1) * d0 - h0 * d1) / (h0 + h1);
    if (s * d0 <= 0) return 0;
    if (d0 * d1 <= 0 && std::abs(s) > 3 * std::abs(d0)) s = 3 * d0;
    return s;
}

std::vector<double> monotoneSlopes(const std::vector<double> &x, const std::vector<double> &y) {
    const std::size_t n = x.size();
    std::vector<double> h(n - 1), d(n - 1), s(n);
    for (std::size_t i = 0; i + 1 < n; ++i) {
        h[i] = x[i + 1] - x[i];
        d[i] = (y[i + 1] - y[i]) / h[i];
    }
    if (n == 2) return {d[0], d[0]};
    for (std::size_t i = 1; i + 1 < n; ++i) {
        if (d[i - 1] * d[i] <= 0) continue;
        const double a = 2 * h[i] + h[i - 1], b = h[i] + 2 * h[i - 1];
        s[i] = (a + b) / (a / d[i - 1] + b / d[i]);
    }
    s[0] = endSlope(h[0], h[1], d[0], d[1]);
    s[n - 1] = endSlope(h[n - 2], h[n - 3], d[n - 2], d[n - 3]);
    return s;
}

} // namespace

std::vector<double> isotonic(const std::vector<double> &y, const std::vector<double> &weight) {
    struct Pool {
        double mean, weight;
        std::size_t count;
    };
    std::vector<Pool> pools;
    for (std::size_t i = 0; i < y.size(); ++i) {
        pools.push_back({y[i], weight[i], 1});
        while (pools.size() > 1 && pools[pools.size() - 2].mean > pools.back().mean) {
            const Pool last = pools.back();
            pools.pop_back();
            Pool &p = pools.back();
            p.mean = (p.mean * p.weight + last.mean * last.weight) / (p.weight + last.weight);
            p.weight += last.weight;
            p.count += last.count;
        }
    }
    std::vector<double> fit;
    for (const Pool &p : pools)
        fit.insert(fit.end(), p.count, p.mean);
    return fit;
}

MonotoneFit::MonotoneFit(std::vector<double> x, std::vector<double> y) {
    if (x.size() != y.size())
        throw InputError("points", MARKED("expected.as_many_x_as_y", "as many x as y"),
                         std::to_string(x.size()) + " and " + std::to_string(y.size()));
    std::map<double, std::pair<double, double>> sums; // y, how many
    for (std::size_t i = 0; i < x.size(); ++i) {
        if (!std::isfinite(x[i]) || !std::isfinite(y[i]))
            throw InputError("point " + std::to_string(i + 1),
                             MARKED("expected.finite_numbers", "finite numbers"),
                             MARKED("found.others", "others"));
        sums[x[i]].first += y[i];
        sums[x[i]].second += 1;
    }
    if (sums.size() < 2)
        throw InputError("points",
                         MARKED("expected.at_least_two_different_ones", "at least two different ones"),
                         std::to_string(sums.size()));
    std::vector<double> mean, weight;
    for (const auto &[at, sum] : sums) {
        m_x.push_back(at);
        mean.push_back(sum.first / sum.second);
        weight.push_back(sum.second);
    }
    m_y = isotonic(mean, weight);
    m_slope = monotoneSlopes(m_x, m_y);
    double squares = 0;
    for (std::size_t i = 0; i < x.size(); ++i)
        squares += std::pow(y[i] - at(x[i]), 2);
    m_sigma =
        x.size() > 2 ? std::sqrt(squares / static_cast<double>(x.size() - 2)) : 0; // two of them fix a line
}

double MonotoneFit::at(double x) const {
    if (x <= m_x.front()) return m_y.front();
    if (x >= m_x.back()) return m_y.back();
    const auto above = static_cast<std::size_t>(std::ranges::upper_bound(m_x, x) - m_x.begin());
    const std::size_t i = above - 1;
    const double h = m_x[above] - m_x[i], t = (x - m_x[i]) / h;
    // Cubic Hermite polynomials.
    return (1 + 2 * t) * (1 - t) * (1 - t) * m_y[i] + t * (1 - t) * (1 - t) * h * m_slope[i] +
           t * t * (3 - 2 * t) * m_y[above] + t * t * (t - 1) * h * m_slope[above];
}

double MonotoneFit::reaches(double y) const {
    if (y > m_y.back()) return std::numeric_limits<double>::quiet_NaN();
    if (y <= m_y.front()) return m_x.front();
    double low = m_x.front(), high = m_x.back();
    constexpr int halvings = 60;
    for (int i = 0; i < halvings; ++i) {
        const double middle = (low + high) / 2;
        (at(middle) < y ? low : high) = middle;
    }
    return high;
}

} // namespace wheelwright
