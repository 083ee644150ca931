// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/evidence/log_review.h"
#include "core/proposal/fuel_samples.h"
#include "core/proposal/move_verdict.h"

#include <string_view>
#include <vector>

namespace wheelwright {

/// What should move with the fuel, and moved.
struct FuelMove {
    std::string_view quantity; ///< stable: "fuel", "spark", "boost", "solenoid", "spray", "port_injection"
    PhraseText title;
    Dimension dimension;
    double expected = 0, measured = 0; ///< from the lower content to the higher; fuel: as a share
    double residual = 0, sigma = 0;    ///< measured less expected, its standard error over places
    double tolerance = 0;
    int places = 0; ///< that both logs have been in
    MoveVerdict verdict = MoveVerdict::notJudged;
    Phrase why; ///< it is not judged

    double around() const; ///< half of the 95 % interval of the residual, by Student's t; 0 of none
};

/// Two logs at two contents, of one calibration or of two that the job knows: did fuel, spark, boost and
/// spray move as the tables say?
struct FuelChangeProof {
    double fromContent = 0, toContent = 0;
    std::string fromLog, toLog; ///< ids
    /// They ran with different ones: each moved as its own tables say, no calibration was held through the
    /// change.
    bool twoCalibrations = false;
    std::vector<FuelMove> moves;
    bool all(MoveVerdict verdict) const;
    bool any(MoveVerdict verdict) const;
    /// Nothing is off, and fuel and spark are both known to have moved as expected.
    bool holds() const;
};

/// By place: cells of the spark tables where both logs have clean samples enough; of boost, solenoid and
/// spray speeds of pulls with the throttle open. Each sample counts against what its own calibration asks for
/// there, so that different places within a cell do not matter. Tolerances: lambda.model.tolerance,
/// watch.spark, boost.overshoot, boost.step.duty; spray a tenth, and so of the fuel for port injection.
/// Throws InputError for logs of two calibrations of which the job does not know both, or of contents that
/// are not known, or less than limit evidence.content_window apart.
FuelChangeProof proveFuelChange(const Study &study, const LogReview &a, const LogReview &b,
                                const FuelSampleOptions &options = {});

} // namespace wheelwright
