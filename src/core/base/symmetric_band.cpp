// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/symmetric_band.h"

#include <algorithm>
#include <cmath>

namespace wheelwright {
namespace {

// Four sums side by side, since each alone would wait for its last addition.
double product(const double *a, const double *b, std::size_t count) {
    double s0 = 0, s1 = 0, s2 = 0, s3 = 0;
    std::size_t i = 0;
    for (; i + 4 <= count; i += 4) {
        s0 += a[i] * b[i];
        s1 += a[i + 1] * b[i + 1];
        s2 += a[i + 2] * b[i + 2];
        s3 += a[i + 3] * b[i + 3];
    }
    for (; i < count; ++i)
        s0 += a[i] * b[i];
    return (s0 + s1) + (s2 + s3);
}

} // namespace

std::vector<double> SymmetricBand::solve(std::vector<double> x) && {
    for (std::size_t i = 0; i < m_size; ++i) {
        double *row = rowOf(i);
        const std::size_t first = i > m_band ? i - m_band : 0;
        for (std::size_t j = first; j <= i; ++j) {
            const std::size_t from = std::max(first, j > m_band ? j - m_band : 0);
            double &here = at(i, j);
            here -= product(&at(i, from), &at(j, from), j - from);
            here = j < i ? here / at(j, j) : std::sqrt(here);
        }
        x[i] = (x[i] - product(&at(i, first), &x[first], i - first)) / row[m_band];
    }
    for (std::size_t i = m_size; i-- > 0;) {
        x[i] /= at(i, i);
        for (std::size_t j = i > m_band ? i - m_band : 0; j < i; ++j)
            x[j] -= at(i, j) * x[i];
    }
    return x;
}

} // namespace wheelwright
