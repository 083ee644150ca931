// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/phrase.h"
#include "core/job/corrections.h"

#include <optional>

namespace wheelwright {

/// What a new log says of one cell, as far as a search for spark asks.
struct SparkSeen {
    double tableDeg = 0;   ///< that the cell holds
    double offsetDeg = 0;  ///< that corrections by temperature added or took then
    bool knocked = false;  ///< knock began here, and not in a tip-in
    double retardDeg = 0;  ///< the most that was taken
    double knockedDeg = 0; ///< delivered when it began, for this cell's place
    bool judged = true;    ///< false: it ran with retard from elsewhere, or only in a tip-in
    double cleanDeg = 0;   ///< delivered without retard, for this cell's place
};
/// What may not be passed, as far as anybody knows.
struct SparkBounds {
    std::optional<double> bestDeg;    ///< more brings no power
    bool bestIsRead = false;          ///< by a dyno, not estimated: a cell that holds more comes down to it
    std::optional<double> ceilingDeg; ///< with its margin
    /// What the cell should hold by all that logs have taught: the search goes there instead of trying.
    std::optional<double> targetDeg;
    /// What it stands with 95 % by the same, with its distance: under it steps need not be small.
    std::optional<double> surelyDeg;
};

/// One step of the search: what is added to the cell now, and where the search stands then.
struct SparkStep {
    double deg = 0;
    SparkSearch now;
    Phrase next; ///< in words: "clean 1 of 2: log again"
};

/// Road: + 2°, subtract what knocked, + 1° where clean, a degree less once it has been clean `cleanTimes`
/// times under where it knocked. Dyno: knock is taken away, power decides on more (sweep). Fixed: knock is
/// taken away and nothing is added. Common practice: schools of chapter 1. With a target the road goes to it,
/// by no more at a time, and ends where it has been clean `cleanTimes` times: what knocked now and then in
/// many cycles is told from what knocks, and needs no further distance. Far under what it surely stands the
/// road goes there by up to five degrees at a time (from memory). What another school has left alone, a fixed
/// value that was clean, the road takes up again. Where power was read the road ends at the least spark that
/// gives it, from either side.
SparkStep nextSparkStep(const SparkSearch &was, SparkSchool school, const SparkSeen &seen,
                        const SparkBounds &bounds, int cleanTimes);

} // namespace wheelwright
