// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/explanation.h"
#include "core/evidence/log_review.h"
#include "core/runs/run_intake.h"

#include <optional>
#include <utility>
#include <vector>

namespace wheelwright {

/// How a car moved: its speed over time, in one gear, without a shift.
struct RoadMotion {
    std::vector<double> timeS, speedMS, rpm; ///< as many of each; times ascend
};

/// What the road and the air add to not knowing the car: standard uncertainties of each, limits
/// "runs.road.…".
struct RoadDoubt {
    double mass = 0.02, drag = 0.1, rolling = 0.2, tyre = 0.015; ///< shares
    double windMS = 2, slope = 0.005;
};
RoadDoubt roadDoubtOf(const Job &job);

/// Power at the wheels from how fast a car gains speed:
/// P = ((m + rotating) a + ½ρ C_dA v² + C_rr m g) v; an estimate, never to be mixed with a dyno's. ± is 95 %:
/// mass, drag, rolling, tyre, wind, slope and the scatter of the acceleration, each taken by itself.
struct RoadPower {
    std::vector<double> rpm, kw, half; ///< by engine speed, ascending
    std::vector<double> carHalf;       ///< of half what is not known of the car alone: wind and slope apart
    bool bothWays = false;             ///< means of runs of both directions: slope and steady wind cancel
    double averageHalfShare = 0;       ///< mean of half over kw
    Explanation working;               ///< of the highest power
    std::vector<Phrase> said;
};

/// The acceleration is that of a parabola through the speeds of a window of time, at its middle. airKgM3:
/// density of the air. Throws InputError for fewer than ten times, or a window that holds fewer than five.
RoadPower roadPower(const Vehicle &vehicle, const RoadMotion &motion, double airKgM3, const RoadDoubt &doubt,
                    double windowS = 0.6);
/// The mean of two directions over the same stretch, at the speeds that both have: what is not known of the
/// car stays, wind and slope go. Throws InputError where they have none in common.
RoadPower bothWays(const RoadPower &there, const RoadPower &back);

/// The motion of an episode of a log: from its road speed, or from engine speed, gear and the job's ratios.
/// Throws InputError where it has neither, saying what is missing.
RoadMotion motionOf(const Job &job, const LogReview &log, double fromS, double toS);

/// Rolling out, clutch out: what slows a car down says what holds it back. v' = −(F₀ + k v²)/(m + rotating),
/// by least squares on the drop of speed over time.
struct CoastDown {
    double rolling = 0, rollingError = 0; ///< coefficient, and its standard error
    double dragAreaM2 = 0, dragAreaError = 0;
    double fromMS = 0, toMS = 0;
    std::size_t windows = 0;
    std::vector<Phrase> said;
    double massKg = 0, allMassKg = 0, airKgM3 = 0; ///< that went into it; all: with what rotates
    double atRest = 0, perSquare = 0;              ///< slowing, m/s²: at no speed, and for each (m/s)²

    Explanation explainRolling() const;
    Explanation explainDragArea() const;
};
/// The longest stretch of a log, in its seconds, over which the car may roll out: its speed falls second by
/// second, by 5 m/s at least, and the throttle is closed where there is one. That the clutch was out nobody
/// can see in it. Empty: none. Throws InputError as motionOf().
std::optional<std::pair<double, double>> longestCoast(const Job &job, const LogReview &log);
/// Throws InputError for a car that does not slow down, or over less than 5 m/s of speed.
CoastDown coastDown(const Vehicle &vehicle, const RoadMotion &motion, double airKgM3, double windowS = 1);

/// Density of the air of a road run: of the job's day, else 1.2 kg/m³, at 20 °C by the sea.
double roadAirKgM3(const Job &job);

/// As the pull of a run, of mode road.
FoundPull pullOf(const RoadPower &power);
/// What is said of it as a run of this job, but when it came in: an estimate known to its own ±.
RunStatement statementOf(const RoadPower &power, const LogReview &log);

} // namespace wheelwright
