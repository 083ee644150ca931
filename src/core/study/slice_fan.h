// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/study/study.h"

#include <string>
#include <vector>

namespace wheelwright {

/// One row or column of a quantity's tables, seen at several contents.
struct FanCurve {
    double content = 0;
    std::vector<double> y; ///< internal unit, one for each x of the fan
};

/// A ceiling or floor that checks hold against the slice at one content.
struct FanBound {
    PhraseText title;
    std::vector<double> y;
};

struct SliceFan {
    std::vector<double> x; ///< breakpoints of the base table along the slice
    std::vector<FanCurve> curves;
    FanCurve now;
    std::vector<FanBound> bounds; ///< at the content looked at
};

/// alongRpm: the row through the cell; otherwise the column. Curves at 0, 10 … 100 %.
SliceFan sliceFan(const Study &study, CalibratedQuantity q, bool alongRpm, CellIndex cell, double content);

} // namespace wheelwright
