// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <vector>

namespace wheelwright {

/// A curve that never falls, through scattered points, with a band that says how much they scatter.
/// First the least-squares fit that never falls (pool adjacent violators: Barlow et al., Statistical
/// Inference under Order Restrictions (1972), ch. 1), then a smooth monotone curve through it (F. N. Fritsch
/// and J. Butland, SIAM J. Sci. Stat. Comput. 5 (1984) 300).
class MonotoneFit {
  public:
    /// Points of equal x count as one, at their mean. Throws InputError for fewer than two different x,
    /// unequal lengths or numbers that are not finite.
    MonotoneFit(std::vector<double> x, std::vector<double> y);

    double at(double x) const;               ///< held outside the points
    double sigma() const { return m_sigma; } ///< standard deviation of the points about the curve
    /// The smallest x whose curve reaches y; not a number when none does.
    double reaches(double y) const;

    const std::vector<double> &x() const { return m_x; }
    const std::vector<double> &fitted() const { return m_y; }

  private:
    std::vector<double> m_x, m_y, m_slope;
    double m_sigma = 0;
};

/// The least-squares fit of y, each with its weight, that never falls.
std::vector<double> isotonic(const std::vector<double> &y, const std::vector<double> &weight);

} // namespace wheelwright
