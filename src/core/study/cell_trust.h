#pragma once
#include "core/job/named_tables.h"
#include "core/tables/cell_origin.h"
#include "core/tables/region_edit.h"

#include <span>
#include <string>
#include <string_view>
#include <vector>

namespace wheelwright {

/// Path of the low or high end of a quantity at a content, as endTable().
std::string endPath(const Job &job, CalibratedQuantity q, double content, bool high);

/// Where the numbers of a table's cells come from, row by row; unknown where nothing is recorded.
std::vector<CellOrigin> originsOf(const Table2D &table);

/// Every cell that differs between two jobs gets an origin; the others keep theirs, also on new breakpoints.
void recordOrigins(const Job &before, Job &after, CellOrigin how);

/// How far a cell can be trusted.
enum class CellTrust {
    never,    ///< the engine cannot get there: over the boost target with its overshoot, or the rev limit
    inferred, ///< it can, and no log has been there
    proven    ///< corrected from a log
};
/// Row by row, of the low or high end (ends) or of what the engine gets at a content, where both ends must be
/// proven.
std::vector<CellTrust> trustOf(const Job &job, CalibratedQuantity q, double content, bool ends, bool high);

/// The notes and locks of one table's cells: nullptr without one.
const CellMark *markAt(const Job &job, const std::string &path, double rpm, double y);
/// Row by row.
std::vector<bool> locksOf(const Job &job, const std::string &path, const Table2D &table);
/// The same for what the engine gets at a content: locked where either end is.
std::vector<bool> locksOfBlend(const Job &job, CalibratedQuantity q, double content);
void setLocked(Job &job, const std::string &path, const Table2D &table, const CellSet &cells, bool locked);
/// An empty note takes it away.
void setNote(Job &job, const std::string &path, double rpm, double y, const std::string &note);
/// Locked cells become again what they were; tables on other axes are left alone.
void keepLocked(const Job &before, Job &after);

} // namespace wheelwright
