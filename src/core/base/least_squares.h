// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <cstddef>
#include <span>
#include <vector>

namespace wheelwright {

/// A linear regression with few unknowns, made ready once for any number of measurements of the same design.
/// Modified Gram-Schmidt, twice: Björck, Numerical Methods for Least Squares Problems (1996), section 2.4.
class LeastSquares {
  public:
    /// A column for each unknown, all of one length.
    explicit LeastSquares(std::vector<std::vector<double>> columns);

    std::size_t rows() const { return m_rows; }
    std::size_t unknowns() const { return m_columns.size(); }
    /// No column is made up of others. Where one is, nothing else may be asked.
    bool independent() const { return m_independent; }
    int freedom() const { return static_cast<int>(m_rows) - static_cast<int>(unknowns()); }

    struct Solution {
        std::vector<double> unknowns;
        double squares = 0; ///< of what is left
    };
    Solution solve(std::span<const double> measured) const;
    /// Of a sum of the unknowns, each with its factor: its variance over that of a measurement.
    double variance(std::span<const double> factors) const;

  private:
    std::size_t m_rows = 0;
    bool m_independent = true;
    std::vector<std::vector<double>> m_columns; ///< orthogonal, of length 1
    std::vector<std::vector<double>> m_r;       ///< upper triangle, by row
};

} // namespace wheelwright
