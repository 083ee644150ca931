// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/operating_point.h"
#include "core/study/evaluation.h"

#include <vector>

namespace wheelwright {

/// The tables of a kind that stand at contents (TableKindDefinition::atContent): what spark each fuel stands,
/// where each is at its best. Between two contents that somebody found out, a straight line over content, as
/// a school of levels blends: octane rises faster than that at first, so the line is on the careful side.
/// Beyond the ends the nearer one is held. Where several stand at one content, the least of them counts.
///
/// What the program has estimated steps back where somebody has said anything of the kind: a guess between
/// two things that were found out would only spoil them.
class ContentTables {
  public:
    enum class Estimates { stepBack, stay };
    /// Keeps references to the job's tables.
    ContentTables(const Job &job, TableKind kind, Estimates estimates = Estimates::stepBack);
    bool empty() const { return m_levels.empty(); }
    /// Nobody has said any of it: the program's own estimates are all there is.
    bool estimatesOnly() const { return m_estimatesOnly; }
    double lowest() const { return m_levels.front().content; }
    double highest() const { return m_levels.back().content; }

    /// Throws nothing; not to be asked where empty().
    double at(const OperatingPoint &point) const;
    /// ± of what counts at a content: the larger of those between which it lies; 0 where nobody has stated
    /// it.
    double plusMinusAt(double content) const;

    /// Rows that all of them have: from the highest first row to the lowest last one, kPa.
    double firstRow() const;
    double lastRow() const;

    struct Level {
        double content;
        std::vector<const ExtraTable *> tables;
    };
    const std::vector<Level> &levels() const { return m_levels; } ///< by content

    struct Between {
        std::size_t low, high; ///< of levels()
        double weight;         ///< of high
    };
    Between between(double content) const;

  private:
    std::vector<Level> m_levels;
    bool m_estimatesOnly = false;
};

/// Whether every cell of a table is an estimate.
bool whollyEstimated(const ExtraTable &table);

/// The same at every point of an evaluation.
class SampledContentTables {
  public:
    SampledContentTables(const Evaluation &evaluation, TableKind kind);
    bool empty() const { return m_tables.empty(); }
    BlendedPoints at(double content) const;
    const ContentTables &tables() const { return m_tables; }

  private:
    ContentTables m_tables;
    std::vector<std::vector<double>> m_samples; ///< by level
};

} // namespace wheelwright
