// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/evidence/log_review.h"

#include <algorithm>
#include <limits>
#include <memory>
#include <optional>
#include <string>
#include <vector>

namespace wheelwright {

/// What one pull of a log says to the gates of a ladder: numbers, so that its samples are read once. Not a
/// number where the log does not say.
struct PullFacts {
    static constexpr double unknown = std::numeric_limits<double>::quiet_NaN();

    std::string log, logName; ///< id, and name of its file
    std::string added;        ///< when the log came in
    bool current = false;     ///< it ran with the calibration as it is
    bool tablesKnown = false; ///< that calibration is still known
    double beginS = 0, endS = 0;
    double content = unknown;      ///< mean
    bool contentByChannel = false; ///< a sensor read it, else its user stated it
    double contentMoved = unknown; ///< by which the reading moved there, without its noise
    bool contentUsable = false;    ///< it stood still around the pull, or its user answers for it
    double rpmFrom = 0, rpmTo = 0;
    bool full = false; ///< from pullsFromShare of the rev limit, or under it, to pullsToShare (study/proof.h)
    double heldKpa = unknown, targetKpa = unknown; ///< absolute, means from where it came to its boost
    double aimedKpa = unknown; ///< highest boost target of it, absolute; also where it did not come to it
    double peakKpa = unknown;  ///< highest manifold pressure
    double overshootKpa = unknown;
    double cutAtKpa = unknown;     ///< fuel was cut under the rev limit, at this manifold pressure
    double solenoidDuty = unknown; ///< mean where it held
    double gear = 0;               ///< 0: the log does not say
    double lambdaError = unknown;  ///< λ less its target: of the window of speeds where it is furthest off
    double lambdaErrorRpm = 0;     ///< middle of that window
    double lambdaMean = unknown;   ///< the same over all of it
    double knockDeg = unknown;     ///< most retard
    double knockRpm = 0;
    double dutyMost = unknown, dutyRpm = 0, dutyLoadKpa = 0;
    /// Where its injectors are fullest: that place, or, without a duty, its highest speed at load.
    struct Fullest {
        double rpm = unknown, loadKpa = unknown;
        double intakeC = unknown; ///< the job's usual where the log does not say
        double duty = unknown;    ///< by the log, else by the tables that it ran with
        double lambda = unknown;  ///< mean over the last fullestWindowRpm up to there
    };
    Fullest fullest;
    double railLeast = unknown; ///< pressure across the injectors, as a share of what it should be
    double coolantMost = unknown, intakeRise = unknown, oilOverKpa = unknown; ///< least over its line
    double sparkDeg = unknown; ///< delivered, mean where it held
    double powerKw = unknown;  ///< the log's own channel, most

    struct Found {
        const WatchRule *rule;
        double worst = 0, limit = 0, atS = 0;
    };
    std::vector<Found> found; ///< by watch rules, within this pull
    /// Of the calibration that it ran with; nullptr: not known.
    std::shared_ptr<const Study> ran;
    std::vector<const WatchRule *> notAsked; ///< the log has not got what they need, or not all through it
    /// Of the channels that gates judge by: those that the log has, and that are silent for a part of it.
    std::vector<ChannelRole> silent;
    bool silentOn(ChannelRole role) const { return std::ranges::find(silent, role) != silent.end(); }
};

inline constexpr double fullestWindowRpm = 500; ///< as windows of λ are

/// Duty that a calibration asks for at that place, in that air, by the model of dutyMap().
double tablesDuty(const Study &study, double content, const PullFacts::Fullest &place);

/// What cruise and holds without boost of one log say: what is looked at before a pull.
struct LightLoadFacts {
    std::string log, logName, added;
    bool current = false;
    double beginS = 0, endS = 0; ///< from the first to the last of it
    double lambdaS = 0;          ///< of it with λ and its target, s
    double content = PullFacts::unknown;
    double contentMoved = PullFacts::unknown; ///< by which the reading moved over it
    double lambdaError = PullFacts::unknown;  ///< mean of λ less its target
};
/// One for the log; nothing where it has none. calibration: fingerprint of the one of now.
std::optional<LightLoadFacts> lightLoadFacts(const LogReview &log, const std::string &calibration);

/// Pulls with the throttle open, by time. λ stands where the job's delay puts it; windows are 500 rpm wide
/// and count from limit evidence.least_hits on. The review must have its samples. study: the job as it is;
/// calibration: its fingerprint.
std::vector<PullFacts> pullFacts(const Study &study, const LogReview &log, const std::string &calibration);

} // namespace wheelwright
