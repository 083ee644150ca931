// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <cstddef>
#include <vector>

namespace wheelwright {

/// A symmetric positive definite matrix whose entries lie within a band beside the diagonal. Solved by
/// Cholesky's method, in rows: Golub, Van Loan, Matrix Computations (4th ed., 2013), section 4.3.5; the costs
/// grow with size · band².
class SymmetricBand {
  public:
    /// band: the farthest entry from the diagonal, under size.
    SymmetricBand(std::size_t size, std::size_t band)
        : m_size(size), m_band(band), m_rows(size * (band + 1)) {}

    /// column ≤ row ≤ column + band; the other half follows.
    double &at(std::size_t row, std::size_t column) { return rowOf(row)[column + m_band - row]; }
    /// x with A x = b. Leaves the factor in place of A, so it can be asked once. Not a number where A is not
    /// positive definite.
    std::vector<double> solve(std::vector<double> b) &&;

  private:
    double *rowOf(std::size_t row) { return m_rows.data() + row * (m_band + 1); }

    std::size_t m_size, m_band;
    std::vector<double> m_rows; ///< each with its band, the diagonal last
};

} // namespace wheelwright
