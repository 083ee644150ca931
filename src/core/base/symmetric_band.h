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

    std::size_t size() const { return m_size; }
    std::size_t band() const { return m_band; }
    /// column ≤ row ≤ column + band; the other half follows.
    double &at(std::size_t row, std::size_t column) { return rowOf(row)[column + m_band - row]; }
    double at(std::size_t row, std::size_t column) const {
        return m_rows[row * (m_band + 1) + column + m_band - row];
    }
    /// Of the same size and band.
    void add(const SymmetricBand &other, double times = 1);
    /// A x.
    std::vector<double> times(const std::vector<double> &x) const;
    /// x with A x = b. Leaves the factor in place of A, so it can be asked once. Not a number where A is not
    /// positive definite.
    std::vector<double> solve(std::vector<double> b) &&;

  private:
    friend class BandFactor;
    double *rowOf(std::size_t row) { return m_rows.data() + row * (m_band + 1); }

    std::size_t m_size, m_band;
    std::vector<double> m_rows; ///< each with its band, the diagonal last
};

/// The Cholesky factor of such a matrix A, to be asked often.
class BandFactor {
  public:
    explicit BandFactor(SymmetricBand a);
    /// x with A x = b; not a number where A is not positive definite.
    std::vector<double> solve(std::vector<double> b) const;
    /// ln det A.
    double logDeterminant() const;
    /// Diagonal of A⁻¹, without the rest of it: Takahashi's recurrence within the band (Takahashi, Fagan and
    /// Chin, 1973; as in Rue and Held, Gaussian Markov Random Fields, 2005, section 2.4.5).
    std::vector<double> inverseDiagonal() const;

  private:
    SymmetricBand m_l;
};

} // namespace wheelwright
