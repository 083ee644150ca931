// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <span>
#include <vector>

namespace wheelwright {

/// One measurement of a sum of unknowns, each times its factor.
struct PriorRow {
    std::vector<double> factors; ///< one for each unknown
    double value = 0;
    double sigma = 1; ///< by which it scatters; over 0
};

/// Unknowns of which something is known before any measurement: each is normally distributed about 0. What is
/// measured moves them as far as it is worth; without any they stay at 0, as badly known as they were. That
/// is why few measurements make a wide band and no wild slope (Bishop, Pattern Recognition and Machine
/// Learning (2006), equations 3.50, 3.51 and 3.59). Where rows scatter more about the fit than their sigmas
/// say, all sigmas are raised until they agree (Birge, Physical Review 40 (1932), 207).
class PriorFit {
  public:
    /// priorSigmas: one for each unknown, over 0; at least one. Rows have as many factors.
    PriorFit(std::vector<double> priorSigmas, std::span<const PriorRow> rows);

    struct Band {
        double mean = 0;
        double sigma = 0; ///< standard error of the sum itself, without the scatter of a measurement
    };
    /// Of a sum with these factors.
    Band of(std::span<const double> factors) const;
    const std::vector<double> &unknowns() const { return m_mean; }
    double raised() const { return m_raised; } ///< by which sigmas were raised, 1 or more

  private:
    void solve(std::span<const PriorRow> rows);

    std::vector<double> m_prior, m_mean;
    std::vector<std::vector<double>> m_covariance;
    double m_raised = 1;
};

} // namespace wheelwright
