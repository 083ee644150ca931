// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/least_squares.h"

#include <cmath>
#include <numeric>

namespace wheelwright {
namespace {

double product(std::span<const double> a, std::span<const double> b) {
    return std::inner_product(a.begin(), a.end(), b.begin(), 0.0);
}

void takeAway(std::vector<double> &from, std::span<const double> what, double times) {
    for (std::size_t i = 0; i < from.size(); ++i)
        from[i] -= times * what[i];
}

} // namespace

LeastSquares::LeastSquares(std::vector<std::vector<double>> columns)
    : m_rows(columns.empty() ? 0 : columns.front().size()), m_columns(std::move(columns)),
      m_r(m_columns.size(), std::vector<double>(m_columns.size(), 0.0)) {
    constexpr double nothingLeft = 1e-10; // of its length, where a column is made up of others
    for (std::size_t k = 0; k < m_columns.size(); ++k) {
        const double length = std::sqrt(product(m_columns[k], m_columns[k]));
        for (int round = 0; round < 2; ++round) // the second takes what rounding left of the first
            for (std::size_t j = 0; j < k; ++j) {
                const double share = product(m_columns[j], m_columns[k]);
                m_r[j][k] += share;
                takeAway(m_columns[k], m_columns[j], share);
            }
        const double left = std::sqrt(product(m_columns[k], m_columns[k]));
        m_r[k][k] = left;
        if (!(left > nothingLeft * length)) {
            m_independent = false;
            return;
        }
        for (double &v : m_columns[k])
            v /= left;
    }
    m_independent = m_rows >= m_columns.size();
}

LeastSquares::Solution LeastSquares::solve(std::span<const double> measured) const {
    const std::size_t n = unknowns();
    std::vector<double> left(measured.begin(), measured.end()), shares(n);
    for (std::size_t k = 0; k < n; ++k) {
        shares[k] = product(m_columns[k], left);
        takeAway(left, m_columns[k], shares[k]);
    }
    Solution out;
    out.squares = product(left, left);
    out.unknowns.resize(n);
    for (std::size_t k = n; k-- > 0;) {
        double v = shares[k];
        for (std::size_t j = k + 1; j < n; ++j)
            v -= m_r[k][j] * out.unknowns[j];
        out.unknowns[k] = v / m_r[k][k];
    }
    return out;
}

double LeastSquares::variance(std::span<const double> factors) const {
    std::vector<double> z(factors.begin(), factors.end());
    for (std::size_t k = 0; k < z.size(); ++k) {
        for (std::size_t j = 0; j < k; ++j)
            z[k] -= m_r[j][k] * z[j];
        z[k] /= m_r[k][k];
    }
    return product(z, z);
}

} // namespace wheelwright
