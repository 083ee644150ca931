// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/unit.h"
#include "core/tables/table_axis.h"
#include "core/tables/table_edit.h"

#include <optional>
#include <string_view>
#include <vector>

namespace wheelwright {

/// Cells of any shape, each once, in order.
using CellSet = std::vector<CellIndex>;

/// All cells of a rectangle.
CellSet cellsOf(const CellRange &range, const Table2D &table);
/// Both together; what is only in the first.
CellSet united(const CellSet &a, const CellSet &b);
CellSet without(const CellSet &a, const CellSet &b);
/// Those that no lock (row by row) holds.
CellSet unlocked(const CellSet &cells, const std::vector<bool> &locks, const Table2D &table);

/// Changes of a region. None of them clips: the caller validates the result against the table's range.
void applyExpression(Table2D &table, const CellSet &cells, const CellExpression &expression);

/// Somebody says that the numbers are so: cells that were guessed are typed from now on. How many were.
std::size_t stateCells(Table2D &table, const CellSet &cells);

/// Each run of chosen cells in a row (or column) becomes the straight line between the cells at its ends:
/// those chosen last on either side. Positions count in axis units.
void interpolateRows(Table2D &table, const CellSet &cells);
void interpolateColumns(Table2D &table, const CellSet &cells);

/// As smoothRegion(), of the chosen cells only.
void smoothCells(Table2D &table, const CellSet &cells, double strength);

/// The chosen cells become the smoothest surface that meets the others: each is the mean of its neighbours by
/// axis distance (Laplace's equation, by successive over-relaxation to 1e-12 of the table's span). With every
/// cell chosen there is nothing to fill from, and nothing happens.
void fillFromNeighbours(Table2D &table, const CellSet &cells);

/// A table on other breakpoints.
struct Regridded {
    Table2D table;
    double worst = 0;    ///< new surface less old, at the old breakpoints
    double mean = 0;     ///< of its size
    double x = 0, y = 0; ///< of the worst
};
Regridded regrid(const Table2D &table, const Axis &x, const Axis &y);

/// A question to the cells of a table: "spark > 22 above 180 kPa", "< 0.8", ">= 20 below 3000 rpm".
struct CellQuery {
    enum class Compare { less, lessOrEqual, greater, greaterOrEqual, equal } compare = Compare::greater;
    double value = 0;                    ///< internal unit of the table
    std::optional<double> leastY, mostY; ///< of what runs down: load, throttle
    std::optional<double> leastX, mostX; ///< of what runs across: rpm
};
/// Reads one; the name of a quantity at its front is skipped. Numbers carry a unit or are in the shown one;
/// "above" and "below" ask for what runs down, unless the number has the unit of what runs across, or
/// nothing runs down. Throws InputError at "search".
CellQuery parseCellQuery(std::string_view text, Dimension cells, const UnitChoice &units,
                         const TableAxis &x = axes::engineSpeed, const TableAxis &y = axes::load);
CellSet find(const Table2D &table, const CellQuery &query);

} // namespace wheelwright
