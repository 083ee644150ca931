// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/study/content_tables.h"

#include <algorithm>

namespace wheelwright {

/// The spark that is delivered at best, at every point of an evaluation: the same as sparkBudget(), with what
/// does not change from point to point worked out once. Limits are for what is delivered, not for what the
/// table asks.
class BestDelivered {
  public:
    explicit BestDelivered(const Evaluation &evaluation);
    /// asked: the blended table at the point, a GridPoint or an EdgePoint.
    double at(const auto &point, double asked) const {
        return asked + point.of(m_corrections) +
               m_fallbackLeast * std::min(0.0, point.of(m_fallback) - asked);
    }

  private:
    ByPoint m_corrections;
    std::vector<double> m_fallback; ///< over the grid; of a job without one nothing is taken
    double m_fallbackLeast = 0;     ///< share of the way to it that is taken even at best
};

/// The most spark that the fuel of each content stands, where somebody has said it.
class SparkCeilings {
  public:
    explicit SparkCeilings(const Evaluation &evaluation);
    bool known() const { return !m_tables.empty(); }
    /// Whether somebody has said them for this content: not under the lowest that was looked at, whose octane
    /// is less, and no cell of those that count is a guess.
    bool saidAt(double content) const;
    BlendedPoints at(double content) const { return m_tables.at(content); }
    /// Fuels knock under load: under the first row that somebody has looked at, and under 100 kPa or the air
    /// around where that is less, nothing is asked. Common practice.
    bool asked(double loadKpa) const { return loadKpa >= m_fromKpa; }
    /// To be kept under a ceiling: the limit's margin, or the ceiling's own ± where that is more. An estimate
    /// that nobody has looked at only speaks where even its far end says knock: less than 0 then.
    double marginAt(double content) const;

  private:
    SampledContentTables m_tables;
    double m_margin, m_fromKpa;
};

} // namespace wheelwright
