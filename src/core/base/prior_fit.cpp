// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/prior_fit.h"

#include "core/base/symmetric_band.h"

#include <algorithm>
#include <cmath>
#include <numeric>
#include <utility>

namespace wheelwright {
namespace {

double sumOf(std::span<const double> a, std::span<const double> b) {
    return std::inner_product(a.begin(), a.end(), b.begin(), 0.0);
}

} // namespace

PriorFit::PriorFit(std::vector<double> priorSigmas, std::span<const PriorRow> rows)
    : m_prior(std::move(priorSigmas)) {
    solve(rows);
    if (rows.size() <= m_prior.size()) return; // nothing says what they scatter by
    double squares = 0;
    for (const PriorRow &r : rows) {
        const double off = (r.value - sumOf(r.factors, m_mean)) / r.sigma;
        squares += off * off;
    }
    m_raised = std::max(1.0, std::sqrt(squares / static_cast<double>(rows.size() - m_prior.size())));
    if (m_raised > 1) solve(rows);
}

void PriorFit::solve(std::span<const PriorRow> rows) {
    const std::size_t n = m_prior.size();
    SymmetricBand precision(n, n - 1);
    std::vector<double> right(n, 0.0);
    for (std::size_t i = 0; i < n; ++i)
        precision.at(i, i) = 1 / (m_prior[i] * m_prior[i]);
    for (const PriorRow &r : rows) {
        const double weight = 1 / (r.sigma * r.sigma * m_raised * m_raised);
        for (std::size_t i = 0; i < n; ++i) {
            for (std::size_t j = 0; j <= i; ++j)
                precision.at(i, j) += weight * r.factors[i] * r.factors[j];
            right[i] += weight * r.factors[i] * r.value;
        }
    }
    m_covariance.clear();
    for (std::size_t i = 0; i < n; ++i) {
        std::vector<double> unit(n, 0.0);
        unit[i] = 1;
        m_covariance.push_back(SymmetricBand(precision).solve(std::move(unit)));
    }
    m_mean = std::move(precision).solve(std::move(right));
}

PriorFit::Band PriorFit::of(std::span<const double> factors) const {
    double variance = 0;
    for (std::size_t i = 0; i < m_prior.size(); ++i)
        variance += factors[i] * sumOf(m_covariance[i], factors);
    return {sumOf(factors, m_mean), std::sqrt(std::max(0.0, variance))};
}

} // namespace wheelwright
