// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/evidence/log_review.h"
#include "core/proposal/move_verdict.h"

#include <memory>
#include <span>
#include <string>
#include <vector>

namespace wheelwright {

/// The controller's sensor of manifold pressure against another one in the same place, the dyno's, over one
/// log. Where pressure hardly moves: each has its own filter and hose, and a rise would count as a
/// difference. Means of a second each, since samples that follow each other say nearly the same; a straight
/// line through their differences over the controller's pressure, so that a zero that is off is told from a
/// span that is.
struct SensorComparison {
    std::string log;                    ///< id
    std::size_t stretches = 0;          ///< seconds that count
    double fromKpa = 0, toKpa = 0;      ///< absolute: what they span by the controller's sensor
    double middleKpa = 0;               ///< mean of that
    double offKpa = 0, offError = 0;    ///< dyno less controller there, and its standard error
    double perKpa = 0, perKpaError = 0; ///< by which that grows with pressure
    bool span = false;                  ///< it does so beyond doubt: its 95 % interval leaves out 0
    double toleranceKpa = 0;            ///< limit boost.sensors
    /// At the end of what was compared that is further off.
    MoveVerdict verdict = MoveVerdict::notJudged;
    std::vector<Phrase> said;

    /// Standard errors in a ± of 95 %: Student's t. Not to be asked where it is not judged.
    double reach95() const;
};

/// One for each log that has both; without enough calm in it not judged, and it says so.
std::vector<SensorComparison> compareBoostSensors(std::span<const std::shared_ptr<const LogReview>> logs);

} // namespace wheelwright
