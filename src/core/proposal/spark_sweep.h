// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/evidence/log_review.h"

#include <memory>
#include <optional>
#include <span>
#include <vector>

namespace wheelwright {

struct SweepPoint {
    double sparkDeg = 0;
    double power = 0; ///< of any unit, or torque, over 0
};

/// Power over spark with everything else held: P = P_max − k (θ − θ_best)², by least squares. Handbook of the
/// trade; the shape near the best: Heywood (1988) section 9.1.
struct SparkSweep {
    std::vector<SweepPoint> points;        ///< by spark
    double level = 0, slope = 0, bend = 0; ///< P = level + slope (θ − middle) + bend (θ − middle)²
    double middleDeg = 0, sigma = 0;       ///< of one point about the curve; 0 with three points
    bool stillRising = false; ///< the best lies beyond the latest spark that was tried, as far as points say
    bool pastBest = false;    ///< all that was tried is past it
    /// Empty while it still rises or where all was past it.
    std::optional<double> bestDeg;
    /// 95 % interval of the best, exact for normal errors: Fieller (1954), J. R. Stat. Soc. B 16, 175–185, on
    /// slope/bend. Empty with three points, and where the bend is not distinguishable from none.
    std::optional<double> lowDeg, highDeg;
    /// Least spark that gives 99.5 % of the most power; not under what was tried.
    std::optional<double> leastDeg;
    bool leastIsLowestTried = false;

    double at(double sparkDeg) const {
        const double x = sparkDeg - middleDeg;
        return level + slope * x + bend * x * x;
    }
};
/// Throws InputError with fewer than three sparks that differ by a tenth of a degree, or for power that is
/// not over 0.
SparkSweep fitSweep(std::span<const SweepPoint> points);

inline constexpr double enoughPower = 0.995;

/// Holds, or pulls, of logs through one place with several sparks: what a sweep on a dyno leaves. Needs the
/// roles spark and power, or torque.
struct LoggedSweep {
    bool ofPulls = false;
    double rpm = 0, loadKpa = 0, content = 0; ///< means
    SparkSweep sweep;
    double lambdaMoved = 0;          ///< most less least λ over its points; not a number without λ
    bool lambdaHeld = true;          ///< spark alone moves λ by no more than limit evidence.sweep.lambda
    double loadMoved = 0;            ///< most less least load over its points, as a share
    bool loadHeld = true;            ///< by no more than limit evidence.sweep.load: power goes by it
    std::vector<std::string> logs{}; ///< ids of those that it is of
    bool held() const { return lambdaHeld && loadHeld; }
};
/// By nearest cell of the spark tables and content band, those with three sparks at least. Holds and
/// stretches of pulls with knock are left out. Of a cell with both, holds count: a pull goes through it in a
/// moment.
std::vector<LoggedSweep> sweepsIn(const Study &study, std::span<const std::shared_ptr<const LogReview>> logs);

/// Where a search for spark in one cell ends by power, delivered degrees, by the sparks within eight degrees
/// of the latest: the least that gives 99.5 % of the most, also where the most lies a little beyond, or the
/// first of them where all are past it; while that is not reached, or they lie within five degrees, two more
/// than the latest, so that the next log says more. Degrees are from memory. Nothing where λ or load moved
/// with spark.
struct PowerBound {
    double rpm = 0, loadKpa = 0; ///< of the sweep: not the cell's own
    double deg = 0;
    bool found = false; ///< false: it still rises, as far as anybody has tried
};
std::optional<PowerBound> powerBound(const LoggedSweep &sweep);

/// Of these logs those that ran on the fuel and λ targets of the job as they are: in others λ was another,
/// whatever spark did.
std::vector<std::shared_ptr<const LogReview>>
onThisFuel(const Job &job, std::span<const std::shared_ptr<const LogReview>> logs);

/// The job with what sweeps found as tables of best spark at their contents: in each cell the least spark for
/// 99.5 %, ± half of the interval; other cells of a new table stay what it begins with. Sweeps that still
/// rise say nothing. The correction is noted, made at that time (ISO 8601). Returns the job as it was where
/// none says anything new.
Job withSweeps(const Job &job, std::span<const LoggedSweep> sweeps, const std::string &at);

} // namespace wheelwright
