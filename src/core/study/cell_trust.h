// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/job/named_tables.h"
#include "core/study/proof.h"
#include "core/study/study.h"
#include "core/tables/cell_origin.h"
#include "core/tables/region_edit.h"

#include <string>
#include <vector>

namespace wheelwright {

/// Path of the low or high end of a quantity at a content, as endTable().
std::string endPath(const Job &job, CalibratedQuantity q, double content, bool high);

/// Every cell that differs between two jobs gets an origin; the others keep theirs, also on new breakpoints.
void recordOrigins(const Job &before, Job &after, CellOrigin how);

/// How far a cell can be trusted.
enum class CellTrust {
    never,    ///< the engine cannot get there (reach.h)
    inferred, ///< it can, and no log has been there
    seen,     ///< a log has been there, or made the number
    proven    ///< clean logs ran with it as it is
};

/// Which of the tables of a quantity at a content: one of its ends, or what the engine gets of both.
enum class TableEnd { low, blended, high };

/// Where the numbers of a table come from, cell by cell, and what that is worth. The only place that says so.
/// Keeps a reference to the study.
class Provenance {
  public:
    Provenance(const Study &study, CalibratedQuantity q, double content, TableEnd end);
    /// The table whose cells are asked for: of what the engine gets, the low end's axes.
    const Table2D &table() const { return m_end == TableEnd::high ? *m_ends.high : *m_ends.low; }
    /// Recorded origin at the low or high end, where this cell is.
    CellOrigin originAt(CellIndex cell, bool high) const;
    /// proof: where logs have been; none: nobody has looked.
    /// at: content for which they are asked; none: that of this provenance.
    CellTrust trust(CellIndex cell, const Proof *proof = nullptr, std::optional<double> at = {}) const;
    /// Of all cells, row by row.
    std::vector<CellTrust> trust(const Proof *proof = nullptr, std::optional<double> at = {}) const;

  private:
    const Study &m_study;
    double m_content;
    BlendEnds m_ends;
    bool m_hasLoad; ///< its rows are loads
    TableEnd m_end;
    std::vector<ReachAtSpeed> m_reach; ///< by column
};
/// The same of another table, row by row: never where its axes are speed and load and the engine cannot get
/// there, at the content that it was found at or else at the one looked at.
std::vector<CellTrust> trustIn(const Study &study, const ExtraTable &extra, double content);

/// In words: what a trust means for the number.
PhraseText inWords(CellTrust trust);

/// The notes and locks of one table's cells: nullptr without one.
const CellMark *markAt(const Job &job, const std::string &path, double rpm, double y);
/// Row by row.
std::vector<bool> locksOf(const Job &job, const std::string &path, const Table2D &table);
/// The same for what the engine gets at a content: locked where either end is.
std::vector<bool> locksOfBlend(const Study &study, CalibratedQuantity q, double content);
void setLocked(Job &job, const std::string &path, const Table2D &table, const CellSet &cells, bool locked);
/// An empty note takes it away.
void setNote(Job &job, const std::string &path, double rpm, double y, const std::string &note);
/// Locked cells become again what they were; tables on other axes are left alone.
void keepLocked(const Job &before, Job &after);

} // namespace wheelwright
