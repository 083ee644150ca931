// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/runs/road_run.h"

#include "core/base/error.h"
#include "core/base/straight_line.h"
#include "core/flow/mechanical_injection.h"
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

struct RoadForces {
    double rpm, speedMS, accelerationMS2, inertiaN, dragN, rollingN, kw, halfKw;
};

Explanation explainForces(const RoadForces &f, double massKg, double airKgM3) {
    Explanation e;
    constexpr int digits = 2, thousandths = 3;
    e.title = MARKED("road.power.title", "Highest power at the wheels, by the road");
    e.result = {f.kw, Dimension::power, 1};
    e.formula = MARKED("road.power.formula", "P = (m a + ½ ρ C_d A v² + C_rr m g) v");
    e.substituted = {MARKED("road.power.substituted", "({0} N + {1} N + {2} N) · {3} m/s = {4} ± {5}"),
                     {{f.inertiaN, Dimension::none, 0},
                      {f.dragN, Dimension::none, 0},
                      {f.rollingN, Dimension::none, 0},
                      {f.speedMS, Dimension::none, digits},
                      {f.kw, Dimension::power, 1},
                      {f.halfKw, Dimension::power, 1}}};
    e.inputs = {
        {"m",
         MARKED("road.power.mass", "mass with what rotates, kg"),
         {massKg, Dimension::none, 0},
         "vehicle.mass_kg"},
        {"a",
         MARKED("road.power.acceleration", "acceleration, m/s²"),
         {f.accelerationMS2, Dimension::none, thousandths},
         {}},
        {"v", MARKED("road.power.speed", "road speed, m/s"), {f.speedMS, Dimension::none, digits}, {}},
        {"ρ",
         MARKED("road.power.air", "density of the air, kg/m³"),
         {airKgM3, Dimension::none, thousandths},
         {}},
        {"n", MARKED("road.power.rpm", "engine speed"), {f.rpm, Dimension::engineSpeed, 0}, {}}};
    e.source =
        MARKED("road.power.source",
               "Newton's second law with the usual forces of a road: Gillespie, Fundamentals of Vehicle "
               "Dynamics (1992), chapters 2 and 4");
    e.uncertainty =
        MARKED("road.power.uncertainty",
               "± is 95 %: mass, drag, rolling, tyre, wind and slope by the limits runs.road, and "
               "the scatter of the acceleration, each taken by itself.");
    e.change = MARKED("road.power.change",
                      "The car on a scale, a coast-down, and a run the other way over the same stretch.");
    return e;
}

Explanation explainLoss(const CoastDown &c) {
    Explanation e;
    e.source =
        MARKED("coast.source", "Least squares on the drop of speed over the square of the speed: White and "
                               "Korst, The determination of vehicle drag contributions from coast-down "
                               "tests (1972), SAE 720099");
    e.uncertainty =
        MARKED("coast.uncertainty", "± is one standard error of the straight line; wind and slope "
                                    "are not in it.");
    e.change = MARKED("coast.change", "Roll out both ways on a calm day, from as fast as is allowed.");
    constexpr int digits = 4;
    e.inputs = {
        {"m_r",
         MARKED("coast.all_mass", "mass with what rotates, kg"),
         {c.allMassKg, Dimension::none, 0},
         {}},
        {"m", MARKED("coast.mass", "mass, kg"), {c.massKg, Dimension::none, 0}, "vehicle.mass_kg"},
        {"ρ", MARKED("road.power.air", "density of the air, kg/m³"), {c.airKgM3, Dimension::none, 3}, {}},
        {"a₀", MARKED("coast.rest", "slowing at no speed, m/s²"), {c.atRest, Dimension::none, digits}, {}},
        {"k",
         MARKED("coast.square", "slowing for each 1000 (m/s)², m/s²"),
         {c.perSquare * 1000, Dimension::none, digits},
         {}}};
    return e;
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
    RoadForces highest{};
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
        if (out.kw.back() > highest.kw)
            highest = {motion.rpm[i], v,       k.acceleration, inertia,
                       drag,          rolling, out.kw.back(),  out.half.back()};
        out.carHalf.push_back(sure95 * std::sqrt(ofCar) * v / watts);
    }
    finish(out);
    out.working = explainForces(highest, mass, airKgM3);
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
    const auto top = static_cast<std::size_t>(std::ranges::max_element(out.kw) - out.kw.begin());
    const std::array atTop{out.rpm[top]};
    const Measured one{smoothedAt(there.rpm, there.kw, 0, atTop)[0], Dimension::power, 1},
        other{smoothedAt(back.rpm, back.kw, 0, atTop)[0], Dimension::power, 1},
        mean{out.kw[top], Dimension::power, 1};
    out.working = there.working;
    out.working.result = mean;
    out.working.formula = MARKED("road.power.both", "mean of both directions at one engine speed");
    out.working.substituted = {MARKED("road.power.both_substituted", "({0} + {1}) / 2 = {2} ± {3}"),
                               {one, other, mean, {out.half[top], Dimension::power, 1}}};
    out.working.inputs = {
        {"n", MARKED("road.power.rpm", "engine speed"), {out.rpm[top], Dimension::engineSpeed, 0}, {}}};
    out.working.uncertainty =
        MARKED("road.power.both_uncertainty", "± is 95 %: what is not known of the car stays, slope and a "
                                              "steady wind cancel.");
    // How far apart the two directions lie says what wind and slope came to.
    double apart = 0, sum = 0;
    for (std::size_t i = 0; i < out.rpm.size(); ++i) {
        const std::array at{out.rpm[i]};
        apart +=
            std::abs(smoothedAt(there.rpm, there.kw, 0, at)[0] - smoothedAt(back.rpm, back.kw, 0, at)[0]);
        sum += out.kw[i];
    }
    constexpr double windy = 0.1;
    if (apart > windy * sum)
        out.said.push_back(
            Phrase{MARKED("road.said.wind", "The directions lie {0} apart: wind does not cancel as a slope "
                                            "does. Wait for a calm hour."),
                   {{apart / sum, Dimension::ratio}}});
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

std::optional<std::pair<double, double>> longestCoast(const Job &job, const LogReview &log) {
    const LogTrace &t = log.trace();
    if (t.size() == 0) return std::nullopt;
    const RoadMotion m = motionOf(job, log, t.timeS(0), t.timeS(t.size() - 1));
    constexpr double closed = 0.05, backS = 1, holeS = 1, leastMS = 5;
    std::optional<std::pair<double, double>> best;
    std::size_t from = 0, back = 0;
    for (std::size_t i = 1; i <= m.timeS.size(); ++i) {
        bool goesOn = i < m.timeS.size() && m.timeS[i] - m.timeS[i - 1] < holeS;
        if (goesOn) {
            while (m.timeS[i] - m.timeS[back] > backS)
                ++back;
            const double open = t.has(R::throttle) ? t.at(R::throttle, t.indexAt(m.timeS[i])) : 0;
            // A second before it was faster: one number's noise says nothing.
            goesOn = !(open > closed) && (back < from || m.speedMS[i] < m.speedMS[back] || back == i);
        }
        if (goesOn) continue;
        if (m.speedMS[from] - m.speedMS[i - 1] > leastMS &&
            (!best || m.timeS[i - 1] - m.timeS[from] > best->second - best->first))
            best = {m.timeS[from], m.timeS[i - 1]};
        from = i;
    }
    return best;
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
    out.massKg = car.massKg;
    out.allMassKg = mass;
    out.airKgM3 = airKgM3;
    out.atRest = line.at(0);
    out.perSquare = line.slope;
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

Explanation CoastDown::explainRolling() const {
    Explanation e = explainLoss(*this);
    constexpr int digits = 4;
    e.title = MARKED("coast.rolling.title", "Rolling resistance");
    e.result = {rolling, Dimension::none, digits};
    e.formula = MARKED("coast.rolling.formula", "C_rr = m_r a₀ / (m g)");
    e.substituted = {MARKED("coast.rolling.substituted", "{0} · {1} / ({2} · {3}) = {4} ± {5}"),
                     {{allMassKg, Dimension::none, 0},
                      {atRest, Dimension::none, digits},
                      {massKg, Dimension::none, 0},
                      {gravity, Dimension::none, 3},
                      {rolling, Dimension::none, digits},
                      {rollingError, Dimension::none, digits}}};
    return e;
}

Explanation CoastDown::explainDragArea() const {
    Explanation e = explainLoss(*this);
    constexpr int digits = 3;
    e.title = MARKED("coast.drag.title", "Drag area, m²");
    e.result = {dragAreaM2, Dimension::none, digits};
    e.formula = MARKED("coast.drag.formula", "C_d A = 2 m_r k / ρ");
    e.substituted = {MARKED("coast.drag.substituted", "2 · {0} · {1} / 1000 / {2} = {3} ± {4}"),
                     {{allMassKg, Dimension::none, 0},
                      {perSquare * 1000, Dimension::none, 4},
                      {airKgM3, Dimension::none, digits},
                      {dragAreaM2, Dimension::none, digits},
                      {dragAreaError, Dimension::none, digits}}};
    return e;
}

double roadAirKgM3(const Job &job) {
    constexpr double usual = 1.2;
    const auto air = airOfTheDay(job);
    return air ? airDensityKgM3(air->pressureKpa, air->temperatureC, air->humidity) : usual;
}

FoundPull pullOf(const RoadPower &power) {
    FoundPull pull;
    pull.samples.columns = {{R::rpm, "rpm", "rpm", 1, 0, power.rpm},
                            {R::power, "power", "kW", 1, 0, power.kw}};
    return pull;
}

RunStatement statementOf(const RoadPower &power, const LogReview &log) {
    RunStatement s;
    s.name = "Road, " + log.info().name;
    s.source = log.info().id;
    s.origin = RunOrigin::log;
    s.mode = RunMode::road;
    s.standard = CorrectionStandard::none;
    s.revision = log.info().revision;
    s.knownWithin = power.averageHalfShare;
    if (log.content().known) s.content = log.content().mean;
    return s;
}

} // namespace wheelwright
