// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/study/spark_estimate.h"

#include <string>
#include <vector>

namespace wheelwright {

/// What one thing is worth at a place.
struct WorthLine {
    std::string id; ///< stable: "content", "octane", "sensitivity", "cooling", "burn", "lambda", "intake",
                    ///< "compression"
    Explanation working; ///< its result are the degrees that the knock limit moves by, earlier over 0
    double degrees = 0;
    double kpa = 0; ///< manifold pressure that it stands more at the spark that it stood before
};

/// 'What is this fuel worth here?' The fuel at a content against the job's base fuel, at one speed and load
/// and each at its own λ target; of it octane, sensitivity, cooling and burn; and what 0.05 of λ, 10 K of
/// intake air and one of compression are worth on it. From the estimate, so with its ±.
struct FuelWorth {
    SparkEstimate base, here;
    double sigmaDeg = 0;
    double degPerKpa = 0; ///< how fast the limit falls with pressure here; 0: it does not
    /// Empty where one of the two never knocks: there best spark is what counts.
    std::vector<WorthLine> lines;
};
FuelWorth fuelWorth(const Study &study, const OperatingPoint &point, const EstimateAt &asked = {});

} // namespace wheelwright
