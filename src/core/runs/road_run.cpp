// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/runs/road_run.h"

#include "core/base/error.h"
#include "core/base/straight_line.h"
#include "core/job/job.h"
#include "core/runs/run_curve.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace wheelwright {
namespace {

using R = ChannelRole;

constexpr double gravity = 9.80665; // CGPM 1901
constexpr double sure95 = 1.96;     // all that is put together here is known as a standard uncertainty alone

struct Kept {
    double speed = 0, acceleration = 0, error = 0; ///< standard error of the acceleration
};

// A straight line through the speeds about a time: its slope is that of the parabola at its middle.
Kept motionAt(const RoadMotion &m, std::size_t i, double windowS) {
    std::vector<double> t, v;
    for (std::size_t k = i; k-- > 0 && m.timeS[i] - m.timeS[k] <= windowS / 2;) {
        t.insert(t.begin(), m.timeS[k] - m.timeS[i]);
        v.insert(v.begin(), m.speedMS[k]);
    }
    for (std::size_t k = i; k < m.timeS.size() && m.timeS[k] - m.timeS[i] <= windowS / 2; ++k) {
        t.push_back(m.timeS[k] - m.timeS[i]);
        v.push_back(m.speedMS[k]);
    }
    constexpr std::size_t fewest = 5;
    if (t.size() < fewest)
        throw InputError("road run", MARKED("expected.five_speeds", "five speeds in each window of time"),
                         std::to_string(t.size()));
    const StraightLine line = lineThrough(t, v);
    return {line.at(0), line.slope, line.slopeError};
}

void requireMotion(const RoadMotion &m) {
    constexpr std::size_t fewest = 10;
    if (m.timeS.size() < fewest)
        throw InputError("road run", MARKED("expected.ten_times", "speeds at ten times at least"),
                         std::to_string(m.timeS.size()));
}

void finish(RoadPower &p) {
    std::vector<std::size_t> order(p.rpm.size());
    for (std::size_t i = 0; i < order.size(); ++i)
        order[i] = i;
    std::ranges::stable_sort(order, {}, [&](std::size_t i) { return p.rpm[i]; });
    RoadPower sorted = p;
    p.rpm.clear();
    p.kw.clear();
    p.half.clear();
    p.carHalf.clear();
    double sum = 0;
    for (const std::size_t i : order) {
        p.rpm.push_back(sorted.rpm[i]);
        p.kw.push_back(sorted.kw[i]);
        p.half.push_back(sorted.half[i]);
        p.carHalf.push_back(sorted.carHalf[i]);
        sum += sorted.half[i] / std::max(sorted.kw[i], 1.0);
    }
    p.averageHalfShare = p.rpm.empty() ? 0 : sum / static_cast<double>(p.rpm.size());
}

} // namespace

RoadDoubt roadDoubtOf(const Job &job) {
    return {limitOf(job, "runs.road.mass"), limitOf(job, "runs.road.drag"), limitOf(job, "runs.road.rolling"),
            limitOf(job, "runs.road.tyre"), limitOf(job, "runs.road.wind"), limitOf(job, "runs.road.slope")};
}

RoadPower roadPower(const Vehicle &car, const RoadMotion &motion, double airKgM3, const RoadDoubt &doubt,
                    double windowS) {
    requireMotion(motion);
    RoadPower out;
    const double mass = car.massKg + car.rotatingKg;
    for (std::size_t i = 0; i < motion.timeS.size(); ++i) {
        // Where the window would reach over an end there is no middle.
        if (motion.timeS[i] - motion.timeS.front() < windowS / 2 ||
            motion.timeS.back() - motion.timeS[i] < windowS / 2)
            continue;
        const Kept k = motionAt(motion, i, windowS);
        const double v = k.speed, inertia = mass * k.acceleration,
                     drag = 0.5 * airKgM3 * car.dragAreaM2 * v * v,
                     rolling = car.rolling * car.massKg * gravity;
        // Speed by the tyre scales speed and acceleration alike.
        const std::array doubts{inertia * doubt.mass + rolling * doubt.mass, drag * doubt.drag,
                                rolling * doubt.rolling, (2 * inertia + 3 * drag + rolling) * doubt.tyre,
                                mass * k.error};
        const std::array outside{airKgM3 * car.dragAreaM2 * v * doubt.windMS,
                                 car.massKg * gravity * doubt.slope};
        const auto squaresOf = [](const auto &forces) {
            double sum = 0;
            for (const double force : forces)
                sum += force * force;
            return sum;
        };
        const double ofCar = squaresOf(doubts);
        constexpr double watts = 1000;
        out.rpm.push_back(motion.rpm[i]);
        out.kw.push_back((inertia + drag + rolling) * v / watts);
        out.half.push_back(sure95 * std::sqrt(ofCar + squaresOf(outside)) * v / watts);
        out.carHalf.push_back(sure95 * std::sqrt(ofCar) * v / watts);
    }
    finish(out);
    out.said.push_back(MARKED("road.said.estimate",
                              "An estimate from the road, at the wheels: several per cent of it are "
                              "not known, and it is never mixed with what a dyno says."));
    if (doubt.windMS > 0 || doubt.slope > 0)
        out.said.push_back(MARKED("road.said.one_way",
                                  "One direction alone: wind and slope are in it. A run the other way "
                                  "over the same stretch takes the slope out."));
    return out;
}

RoadPower bothWays(const RoadPower &there, const RoadPower &back) {
    RoadPower out;
    out.bothWays = true;
    const double from = std::max(there.rpm.front(), back.rpm.front()),
                 to = std::min(there.rpm.back(), back.rpm.back());
    for (std::size_t i = 0; i < there.rpm.size(); ++i) {
        const std::array at{there.rpm[i]};
        if (at[0] < from || at[0] > to) continue;
        out.rpm.push_back(at[0]);
        out.kw.push_back((there.kw[i] + smoothedAt(back.rpm, back.kw, 0, at)[0]) / 2);
        // The car is the same both ways: its mean is known no better than one of them.
        out.carHalf.push_back((there.carHalf[i] + smoothedAt(back.rpm, back.carHalf, 0, at)[0]) / 2);
        out.half.push_back(out.carHalf.back());
    }
    if (out.rpm.size() < 2)
        throw InputError("road run", MARKED("expected.common_speeds", "engine speeds that all of them have"),
                         Phrase{MARKED("found.speeds", "{0} to {1}"),
                                {{from, Dimension::engineSpeed}, {to, Dimension::engineSpeed}}});
    finish(out);
    out.said.push_back(MARKED("road.said.estimate",
                              "An estimate from the road, at the wheels: several per cent of it are "
                              "not known, and it is never mixed with what a dyno says."));
    // How far apart the two directions lie says what wind and slope came to.
    double apart = 0, mean = 0;
    for (std::size_t i = 0; i < out.rpm.size(); ++i) {
        const std::array at{out.rpm[i]};
        apart +=
            std::abs(smoothedAt(there.rpm, there.kw, 0, at)[0] - smoothedAt(back.rpm, back.kw, 0, at)[0]);
        mean += out.kw[i];
    }
    constexpr double windy = 0.1;
    if (apart > windy * mean)
        out.said.push_back(
            Phrase{MARKED("road.said.wind", "The directions lie {0} apart: wind does not cancel as a slope "
                                            "does. Wait for a calm hour."),
                   {{apart / mean, Dimension::ratio}}});
    return out;
}

RoadMotion motionOf(const Job &job, const LogReview &log, double fromS, double toS) {
    const LogTrace &t = log.trace();
    const bool bySpeed = t.has(R::speed);
    const auto ratioOf = [&](double gear) {
        for (const GearRatio &g : job.gears.values())
            if (std::abs(g.gear - gear) < 0.5) return g.ratio;
        throw InputError(log.info().name,
                         MARKED("expected.road_speed",
                                "a channel of road speed, or of the gear with the job's ratio of it"),
                         MARKED("found.neither", "neither of them"));
    };
    if (!bySpeed && !t.has(R::gear)) ratioOf(-1);
    RoadMotion out;
    constexpr double perHour = 3.6, minute = 60;
    for (std::size_t i = t.indexAt(fromS); i < t.size() && t.timeS(i) <= toS; ++i) {
        const double rpm = t.at(R::rpm, i);
        double v = bySpeed ? t.at(R::speed, i) / perHour : std::nan("");
        if (!bySpeed && std::isfinite(t.at(R::gear, i)))
            v = rpm / minute / (ratioOf(t.at(R::gear, i)) * job.vehicle.finalDrive) * job.vehicle.tyreM;
        if (!std::isfinite(v) || !std::isfinite(rpm)) continue;
        out.timeS.push_back(t.timeS(i));
        out.speedMS.push_back(v);
        out.rpm.push_back(rpm);
    }
    return out;
}

CoastDown coastDown(const Vehicle &car, const RoadMotion &motion, double airKgM3, double windowS) {
    requireMotion(motion);
    // Means of windows beside each other: the drop of speed over each, and the square of the speed there.
    std::vector<double> squares, slowing;
    CoastDown out;
    out.fromMS = *std::ranges::max_element(motion.speedMS);
    out.toMS = *std::ranges::min_element(motion.speedMS);
    for (double from = motion.timeS.front(); from + windowS <= motion.timeS.back(); from += windowS) {
        std::vector<double> t, v;
        for (std::size_t i = 0; i < motion.timeS.size(); ++i)
            if (motion.timeS[i] >= from && motion.timeS[i] < from + windowS) {
                t.push_back(motion.timeS[i]);
                v.push_back(motion.speedMS[i]);
            }
        constexpr std::size_t fewest = 3;
        if (t.size() < fewest) continue;
        const StraightLine line = lineThrough(t, v);
        squares.push_back(line.level * line.level);
        slowing.push_back(-line.slope);
    }
    constexpr double leastMS = 5;
    constexpr std::size_t fewestWindows = 4;
    if (out.fromMS - out.toMS < leastMS || slowing.size() < fewestWindows)
        throw InputError(
            "coast-down",
            MARKED("expected.coast", "a car that slows down by 5 m/s at least, over four windows of time"),
            Phrase{MARKED("found.coast", "{a} m/s over {b}"),
                   {},
                   {std::to_string(std::lround(out.fromMS - out.toMS)), std::to_string(slowing.size())}});
    const StraightLine line = lineThrough(squares, slowing);
    const double mass = car.massKg + car.rotatingKg;
    out.windows = slowing.size();
    out.dragAreaM2 = 2 * line.slope * mass / airKgM3;
    out.dragAreaError = 2 * line.slopeError * mass / airKgM3;
    const double force = line.at(0) * mass;
    out.rolling = force / (car.massKg * gravity);
    out.rollingError =
        std::hypot(line.levelError, line.slopeError * line.middle) * mass / (car.massKg * gravity);
    if (!(out.dragAreaM2 > 0) || !(out.rolling > 0))
        throw InputError("coast-down",
                         MARKED("expected.losses", "losses that grow with the square of the speed"),
                         MARKED("found.losses", "none that do: a slope, a brake or the wind"));
    out.said.push_back(MARKED("coast.said.slope",
                              "A slope counts as rolling resistance: one per cent of it is 0.01. Roll "
                              "both ways and take the mean."));
    return out;
}

FoundPull pullOf(const RoadPower &power) {
    FoundPull pull;
    pull.samples.columns = {{R::rpm, "rpm", "rpm", 1, 0, power.rpm},
                            {R::power, "power", "kW", 1, 0, power.kw}};
    return pull;
}

} // namespace wheelwright
