// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/proposal/learned_ceilings.h"
#include "core/study/content_tables.h"
#include "core/study/spark_estimate.h"

#include <map>
#include <optional>
#include <utility>
#include <vector>

namespace wheelwright {

/// What cells should hold by learned ceilings: a degree under what they stand, or as much as two in a hundred
/// cycles knock earlier by. Ceilings are asked for by whole hundredths of content and degrees of air, and
/// kept.
class TaughtSpark {
  public:
    /// nullptr: nothing was learned.
    explicit TaughtSpark(LearnedCeilings *learned) : m_learned(learned) {}

    struct Cell {
        std::optional<double> target; ///< most likely, where that is known to a degree
        std::optional<double> likely; ///< most likely, however well that is known
        std::optional<double> surely; ///< with 95 %
    };
    /// airC: that the logs had; not a number: the job's usual.
    Cell of(double rpm, double loadKpa, double content, double airC);

  private:
    LearnedCeilings *m_learned;
    std::map<std::pair<int, int>, std::vector<LearnedCeiling>> m_at;
};

/// Where more spark brings no power, as far as anybody knows: by sweeps, else estimated.
class BestSpark {
  public:
    explicit BestSpark(const Study &pressure)
        : m_best(pressure.job(), TableKind::sparkBest), m_estimator(pressure) {}
    /// unsureDeg: added to what is only estimated.
    double at(double rpm, double loadKpa, double content, double unsureDeg = 0) const;

  private:
    ContentTables m_best;
    SparkEstimator m_estimator;
};

} // namespace wheelwright
