// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/study/study.h"

#include <optional>
#include <vector>

namespace wheelwright {

/// One row or column of a table.
struct FanCurve {
    std::optional<double> content; ///< that it belongs to; none: to all
    Measured at;                   ///< what it stands at: that content, or its breakpoint
    std::vector<double> y;         ///< internal unit, one for each x of the fan
};

/// A ceiling or floor that checks hold against the slice at one content.
struct FanBound {
    PhraseText title;
    std::vector<double> y;
};

struct SliceFan {
    std::vector<double> x; ///< breakpoints of the table along the slice
    std::vector<FanCurve> curves;
    FanCurve now;                 ///< what stands out
    std::vector<FanBound> bounds; ///< at the content looked at
};

/// alongRpm: the row through the cell; otherwise the column. Curves at 0, 10 … 100 %.
SliceFan sliceFan(const Study &study, CalibratedQuantity q, bool alongRpm, CellIndex cell, double content);

/// The same of another table of the controller. Of one that was found at a content: a curve for each of its
/// kind, and what lies between them at the content looked at, with the spark that is delivered at best. Of
/// one with content down: its rows, and what lies between them. Of others all rows (or columns), and the one
/// through the cell.
SliceFan sliceFan(const Study &study, const ExtraTable &extra, bool alongX, CellIndex cell, double content);

} // namespace wheelwright
