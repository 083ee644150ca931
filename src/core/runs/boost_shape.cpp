// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/runs/boost_shape.h"

#include "core/base/median.h"
#include "core/base/straight_line.h"
#include "core/base/student_t.h"
#include "core/job/job.h"
#include "core/proposal/boost_pulls.h"

#include <algorithm>
#include <cmath>

namespace wheelwright {
namespace {

using R = ChannelRole;

constexpr double spikeWorthSayingKpa = 7, leastBoostKpa = 10;

// Up and down about a line: crests that are far enough out, between crossings of it.
void findWave(std::span<const double> rpm, std::span<const double> rest, BoostShape &out) {
    std::vector<double> crossings;
    double square = 0;
    for (std::size_t i = 0; i < rest.size(); ++i) {
        square += rest[i] * rest[i];
        if (i > 0 && (rest[i] > 0) != (rest[i - 1] > 0)) crossings.push_back(rpm[i]);
    }
    const double amplitude = std::sqrt(2 * square / static_cast<double>(rest.size()));
    // Two waves at least, and regular: noise crosses at every other sample.
    constexpr std::size_t fewest = 4;
    constexpr double noisy = 4;
    if (amplitude < waveWorthSayingKpa || crossings.size() < fewest ||
        static_cast<double>(crossings.size()) * noisy > static_cast<double>(rest.size()))
        return;
    out.waveKpa = amplitude;
    out.waveRpm = 2 * (crossings.back() - crossings.front()) / static_cast<double>(crossings.size() - 1);
}

void sayShape(BoostShape &s) {
    const Dimension d = Dimension::pressureDifference;
    if (s.spikeKpa > spikeWorthSayingKpa)
        s.said.push_back({MARKED("boost_shape.spike", "spike: {0} over what it held"), {{s.spikeKpa, d}}});
    if (s.driftErrorKpa < std::abs(s.driftKpa) && std::abs(s.driftKpa) > driftWorthSayingKpa)
        s.said.push_back(
            s.driftKpa > 0
                ? Phrase{MARKED("boost_pull.creep", "creep: it rises by {0} to the end"), {{s.driftKpa, d}}}
                : Phrase{MARKED("boost_pull.sag", "sag: it falls by {0} to the end"), {{-s.driftKpa, d}}});
    if (s.waveKpa > 0)
        s.said.push_back({MARKED("boost_shape.wave", "wave: {0} up and down, every {1}"),
                          {{s.waveKpa, d}, {s.waveRpm, Dimension::engineSpeed}}});
    if (s.sensorOffKpa && std::abs(*s.sensorOffKpa) > spikeWorthSayingKpa)
        s.said.push_back(
            {MARKED("boost_shape.sensor", "the dyno's sensor reads {0} more than the controller's"),
             {{*s.sensorOffKpa, d}}});
    if (s.solenoidUsedUpRpm)
        s.said.push_back({MARKED("boost_shape.used_up", "the solenoid is used up from {0} on"),
                          {{*s.solenoidUsedUpRpm, Dimension::engineSpeed}}});
    if (s.said.empty()) s.said.push_back(MARKED("boost_shape.flat", "no spike, sag, creep or wave"));
}

} // namespace

double ambientOf(const Job &job, const Run &run) {
    return run.ambient == AmbientBasis::none ? job.conditions.ambientKpa : run.ambientKpa;
}

BoostShape boostShape(const MeasuredRun &run, double ambientKpa) {
    BoostShape out;
    out.run = run.run.id;
    const RunCurve &c = run.curve;
    std::vector<double> rpm, kpa;
    std::vector<std::size_t> rows;
    const std::span<const double> map = c.of(R::map);
    for (std::size_t i = 0; i < map.size(); ++i)
        if (std::isfinite(map[i])) {
            rpm.push_back(c.rpm[i]);
            kpa.push_back(map[i]);
            rows.push_back(i);
        }
    constexpr std::size_t fewest = 10;
    if (kpa.size() < fewest) {
        out.said.push_back(MARKED("boost_shape.unknown", "this run has no manifold pressure to speak of"));
        return out;
    }
    const double top = medianOf(std::vector<double>(kpa.begin() + std::ssize(kpa) / 2, kpa.end()));
    if (top - ambientKpa < leastBoostKpa) {
        out.said.push_back(MARKED("boost_shape.none", "no boost"));
        return out;
    }
    constexpr double nearly = 0.8, early = 0.2;
    std::size_t reached = 0;
    while (reached + fewest < kpa.size() && kpa[reached] - ambientKpa < nearly * (top - ambientKpa))
        ++reached;
    out.known = true;
    out.reachedRpm = rpm[reached];
    out.heldKpa =
        medianOf(std::vector<double>(kpa.begin() + static_cast<std::ptrdiff_t>(reached), kpa.end()));
    const double settled = rpm[reached] + early * (rpm.back() - rpm[reached]);
    std::size_t after = reached;
    double most = 0;
    for (; after < kpa.size() && rpm[after] <= settled; ++after)
        most = std::max(most, kpa[after]);
    out.spikeKpa = std::max(0.0, most - out.heldKpa);
    const std::span<const double> x = std::span(rpm).subspan(after), y = std::span(kpa).subspan(after);
    constexpr std::size_t lined = 5;
    if (x.size() >= lined) {
        const StraightLine line = lineThrough(x, y);
        const double run95 = studentReach(0.95, static_cast<double>(x.size()) - 2);
        out.driftKpa = line.slope * (x.back() - x.front());
        out.driftErrorKpa = run95 * line.slopeError * (x.back() - x.front());
        std::vector<double> rest;
        for (std::size_t i = 0; i < x.size(); ++i)
            rest.push_back(y[i] - line.at(x[i]));
        findWave(x, rest, out);
    }
    double off = 0, count = 0;
    const std::span<const double> dyno = c.of(R::dynoMap), duty = c.of(R::solenoidDuty),
                                  target = c.of(R::boostTarget);
    for (std::size_t k = reached; k < rows.size(); ++k) {
        const std::size_t i = rows[k];
        if (!dyno.empty() && std::isfinite(dyno[i])) {
            off += dyno[i] - map[i];
            ++count;
        }
        constexpr double spent = 0.9;
        const bool under = target.empty() || !std::isfinite(target[i])
                               ? map[i] < out.heldKpa - driftWorthSayingKpa / 2
                               : map[i] < target[i] - driftWorthSayingKpa / 2;
        if (!out.solenoidUsedUpRpm && !duty.empty() && duty[i] >= spent && under)
            out.solenoidUsedUpRpm = c.rpm[i];
    }
    if (count > 0) out.sensorOffKpa = off / count;
    sayShape(out);
    return out;
}

} // namespace wheelwright
