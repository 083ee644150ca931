// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/study/school.h"

#include <span>
#include <vector>

namespace wheelwright {

/// How far the engine can go at one speed.
struct ReachAtSpeed {
    double targetKpa;  ///< highest boost target, absolute, whatever the gear or the throttle
    double highestKpa; ///< the target with its overshoot, or the air around where that is more
    bool runs;         ///< not over the rev limit
    /// No boost to speak of is had at this speed: what is close to the air around is full throttle.
    bool boosted(double ambientKpa) const { return highestKpa > 1.2 * ambientKpa; }
    bool reaches(double loadKpa) const { return runs && loadKpa <= highestKpa; }
};

/// How far the engine can go at some speeds, at any content. The only place that says so: whoever asks
/// whether a cell can be reached asks here. Common practice.
class Reach {
  public:
    /// The boost tables are looked up here, once for all contents. Keeps no reference.
    Reach(const Job &job, std::span<const double> rpm);
    /// In the order of the speeds. boost: the ends of the boost tables, of the same job.
    std::vector<ReachAtSpeed> at(const BlendEnds &boost) const;

  private:
    const std::vector<double> &samplesOf(const Table2D *table) const;

    std::vector<double> m_rpm, m_rows;                                      ///< all rows of all boost tables
    std::vector<std::pair<const Table2D *, std::vector<double>>> m_samples; ///< at each speed, each row
    double m_overshootKpa, m_ambientKpa, m_revLimitRpm;
};

} // namespace wheelwright
