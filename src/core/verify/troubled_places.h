// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/job/job.h"
#include "core/verify/verdict.h"

#include <string>
#include <vector>

namespace wheelwright {

/// Where the working of a check leads that fails, or asks for caution, at its worst place.
struct TroubledPlace {
    std::string link; ///< of the working: "calibration.spark.base", "calibration.extras.spark_ceiling"
    CheckState state;
    const Check *check;
};

/// All of them, the failing ones first.
std::vector<TroubledPlace> troubledPlaces(const Verdict &verdict);

/// The worst that leads to a table; nullptr: none does.
const TroubledPlace *troubleOf(const std::vector<TroubledPlace> &places, CalibratedQuantity quantity);
const TroubledPlace *troubleOf(const std::vector<TroubledPlace> &places, const ExtraTable &extra);

} // namespace wheelwright
