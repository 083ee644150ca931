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

void SymmetricBand::add(const SymmetricBand &other, double times) {
    for (std::size_t i = 0; i < m_rows.size(); ++i)
        m_rows[i] += times * other.m_rows[i];
}

std::vector<double> SymmetricBand::times(const std::vector<double> &x) const {
    std::vector<double> out(m_size);
    for (std::size_t i = 0; i < m_size; ++i) {
        const std::size_t first = i > m_band ? i - m_band : 0;
        const double *row = m_rows.data() + i * (m_band + 1) + m_band - i; // of column 0, if it were there
        out[i] += product(row + first, x.data() + first, i + 1 - first);
        for (std::size_t j = first; j < i; ++j)
            out[j] += row[j] * x[i];
    }
    return out;
}

std::vector<double> SymmetricBand::solve(std::vector<double> b) && {
    return BandFactor(std::move(*this)).solve(std::move(b));
}

BandFactor::BandFactor(SymmetricBand a) : m_l(std::move(a)) {
    for (std::size_t i = 0; i < m_l.m_size; ++i) {
        const std::size_t first = i > m_l.m_band ? i - m_l.m_band : 0;
        for (std::size_t j = first; j <= i; ++j) {
            const std::size_t from = std::max(first, j > m_l.m_band ? j - m_l.m_band : 0);
            double &here = m_l.at(i, j);
            here -= product(&m_l.at(i, from), &m_l.at(j, from), j - from);
            here = j < i ? here / m_l.at(j, j) : std::sqrt(here);
        }
    }
}

std::vector<double> BandFactor::solve(std::vector<double> x) const {
    const std::size_t band = m_l.m_band;
    for (std::size_t i = 0; i < m_l.m_size; ++i) {
        const double *row = m_l.m_rows.data() + i * (band + 1) + band - i;
        const std::size_t first = i > band ? i - band : 0;
        x[i] = (x[i] - product(row + first, &x[first], i - first)) / row[i];
    }
    for (std::size_t i = m_l.m_size; i-- > 0;) {
        const double *row = m_l.m_rows.data() + i * (band + 1) + band - i;
        x[i] /= row[i];
        for (std::size_t j = i > band ? i - band : 0; j < i; ++j)
            x[j] -= row[j] * x[i];
    }
    return x;
}

double BandFactor::logDeterminant() const {
    double sum = 0;
    for (std::size_t i = 0; i < m_l.m_size; ++i)
        sum += 2 * std::log(m_l.at(i, i));
    return sum;
}

// With A = L Lᵀ, Lᵀ Z = L⁻¹ gives each column of Z = A⁻¹ from those to its right: within the band only what
// is within the band is asked for.
std::vector<double> BandFactor::inverseDiagonal() const {
    const std::size_t n = m_l.m_size, band = m_l.m_band, width = 2 * band + 1;
    std::vector<double> z(n * width), column(band),
        out(n); // rows of both halves, so that each is in one piece
    const auto rowOf = [&](std::size_t i) { return z.data() + i * width + band - i; };
    for (std::size_t j = n; j-- > 0;) {
        const std::size_t last = std::min(n - 1, j + band), count = last - j;
        for (std::size_t k = 0; k < count; ++k)
            column[k] = m_l.at(j + 1 + k, j);
        const double diagonal = m_l.at(j, j);
        for (std::size_t i = last; i > j; --i) {
            const double v = -product(column.data(), rowOf(i) + j + 1, count) / diagonal;
            rowOf(i)[j] = v;
            rowOf(j)[i] = v;
        }
        out[j] = (1 / diagonal - product(column.data(), rowOf(j) + j + 1, count)) / diagonal;
        rowOf(j)[j] = out[j];
    }
    return out;
}

} // namespace wheelwright
