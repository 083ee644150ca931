// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/phrase.h"
#include "core/proposal/taught_spark.h"
#include "core/tables/table2d.h"

#include <span>
#include <vector>

namespace wheelwright {

/// A cell that the search for spark has judged, at one content.
struct SearchedCell {
    CellIndex cell;
    double deg = 0; ///< that it is to hold
    bool clean = false;
};

/// A cell that no log has been in, beside cells that were searched.
struct BesideCell {
    CellIndex cell;
    double rpm = 0, loadKpa = 0;
    double content = 0, bandContent = 0; ///< mean of the samples of its band, and the band's middle
    double nowDeg = 0, proposedDeg = 0;
    Phrase next;
};

/// What surrounds searched cells, so that they are no island. Never over best spark, nor over where a cell
/// has knocked before.
///
/// A cell stands what is clean at more load at its speed (load provokes knock: common practice), and from
/// 100 kPa down what stays a limit's step (spark.step.cell) behind it. By what logs have taught, also in all
/// other directions: up to a step behind its neighbour, where it stands that with 95 %; and down to what it
/// most likely stands, with its distance, where it holds more, but not under −5°, where spark only heats the
/// exhaust (from memory). Cells of the spark table of now in manifold pressure, by row and column; airC: of
/// the logs.
std::vector<BesideCell> sparkBeside(const Study &pressure, std::span<const SearchedCell> searched,
                                    double content, double bandContent, double airC, TaughtSpark &taught,
                                    const BestSpark &best);

} // namespace wheelwright
