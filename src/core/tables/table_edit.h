// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/tables/table2d.h"

namespace wheelwright {

/// What is typed into a table: "=14" or "14" sets, "+2" and "-2" add, "*1.03" multiplies.
struct CellExpression {
    enum class Operation { set, add, multiply } operation = Operation::set;
    double operand = 0; ///< in the table's internal unit for set and add, plain for multiply
    double apply(double old) const;
};

/// Changes of a region. None of them clips: the caller validates the result against the table's range.
void applyExpression(Table2D &table, const CellRange &range, const CellExpression &expression);

/// Fills the inside of the region from its border: along x, along y, or bilinearly from its four corners when
/// it spans more than one row and one column. Positions count in axis units, so uneven axes stay straight.
void interpolateRegion(Table2D &table, const CellRange &range);

/// One pass of weighted neighbours: each cell moves by `strength` (0–1) towards the mean of its neighbours
/// inside the table, all cells at once. The mean counts neighbours by axis distance, so a plane stays a
/// plane.
void smoothRegion(Table2D &table, const CellRange &range, double strength);

/// The range with its corners in order and inside the table.
CellRange normalised(const CellRange &range, const Table2D &table);

} // namespace wheelwright
