// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/proposal/boost_sensors.h"

#include "core/base/straight_line.h"
#include "core/base/student_t.h"

#include <algorithm>
#include <cmath>

namespace wheelwright {
namespace {

using R = ChannelRole;
constexpr double stretchS = 1, shareOfStretch = 0.8, calmKpaPerS = 15;
constexpr std::size_t fewestStretches = 6;

// Means of the two sensors over one second.
struct Stretch {
    double beginS = 0, lastS = 0, count = 0, controller = 0, dyno = 0, least = 0, most = 0;
    void add(double at, double ofController, double ofDyno) {
        lastS = at;
        ++count;
        controller += (ofController - controller) / count;
        dyno += (ofDyno - dyno) / count;
        least = count == 1 ? ofController : std::min(least, ofController);
        most = count == 1 ? ofController : std::max(most, ofController);
    }
    bool calm() const {
        return count > 1 && lastS - beginS >= shareOfStretch * stretchS &&
               most - least <= calmKpaPerS * stretchS;
    }
};

std::vector<Stretch> stretchesOf(const LogTrace &t) {
    std::vector<Stretch> out;
    Stretch now;
    const auto close = [&] {
        if (now.calm()) out.push_back(now);
        now = {};
    };
    for (std::size_t i = 0; i < t.size(); ++i) {
        const double controller = t.at(R::map, i), dyno = t.at(R::dynoMap, i), at = t.timeS(i);
        const bool both = controller == controller && dyno == dyno;
        if (!both || !t.follows(i) || (now.count > 0 && at - now.beginS >= stretchS)) close();
        if (!both) continue;
        if (now.count == 0) now.beginS = at;
        now.add(at, controller, dyno);
    }
    close();
    return out;
}

void speak(SensorComparison &c) {
    constexpr Dimension d = Dimension::pressureDifference;
    constexpr double hundred = 100;
    const double size = std::abs(c.offKpa), reach = c.reach95();
    constexpr double same = 0.05; // of what is shown with one decimal
    const Measured around{reach * c.offError, d, 1}, at{c.middleKpa, Dimension::pressure};
    if (size < same)
        c.said.push_back({MARKED("boost_sensors.same",
                                 "the dyno's sensor reads what the controller's does, ± {0}, at {1}"),
                          {around, at}});
    else
        c.said.push_back({c.offKpa < 0
                              ? MARKED("boost_sensors.less",
                                       "the dyno's sensor reads {0} ± {1} less than the controller's at {2}")
                              : MARKED("boost_sensors.more",
                                       "the dyno's sensor reads {0} ± {1} more than the controller's at {2}"),
                          {{size, d, 1}, around, at}});
    if (c.span)
        c.said.push_back(
            {c.perKpa < 0
                 ? MARKED("boost_sensors.span_less", "and {0} ± {1} less with every {2} of pressure: a "
                                                     "span that differs, not only a zero")
                 : MARKED("boost_sensors.span_more", "and {0} ± {1} more with every {2} of pressure: a "
                                                     "span that differs, not only a zero"),
             {{std::abs(c.perKpa) * hundred, d, 1}, {reach * c.perKpaError * hundred, d, 1}, {hundred, d}}});
    if (c.verdict == MoveVerdict::off)
        c.said.push_back(
            MARKED("boost_sensors.off",
                   "which of them is right neither can say: compare both with the air around, "
                   "engine off, and with a gauge. Load, boost targets and the overboost cut go by "
                   "the controller's"));
    else if (c.verdict == MoveVerdict::notSure)
        c.said.push_back(MARKED("boost_sensors.not_sure", "too uncertain to say whether that matters"));
}

SensorComparison compared(const LogReview &log) {
    SensorComparison out;
    out.log = log.info().id;
    out.toleranceKpa = log.watched().limit("boost.sensors");
    const std::vector<Stretch> stretches = stretchesOf(log.trace());
    out.stretches = stretches.size();
    if (stretches.size() < fewestStretches) {
        out.said.push_back({MARKED("boost_sensors.few", "{0} calm seconds with both sensors: {1} are needed"),
                            {{static_cast<double>(stretches.size()), Dimension::count},
                             {static_cast<double>(fewestStretches), Dimension::count}}});
        return out;
    }
    std::vector<double> pressure, difference;
    for (const Stretch &s : stretches) {
        pressure.push_back(s.controller);
        difference.push_back(s.dyno - s.controller);
    }
    out.fromKpa = std::ranges::min(pressure);
    out.toKpa = std::ranges::max(pressure);
    const StraightLine line = lineThrough(pressure, difference);
    out.middleKpa = line.middle;
    out.offKpa = line.level;
    out.offError = line.levelError;
    out.perKpa = line.slope;
    out.perKpaError = line.slopeError;
    out.span = std::abs(line.slope) > out.reach95() * line.slopeError;
    // Without a slope that is beyond doubt the two differ by one number everywhere.
    if (out.span) {
        const double end =
            std::abs(line.at(out.fromKpa)) > std::abs(line.at(out.toKpa)) ? out.fromKpa : out.toKpa;
        const double error = std::hypot(line.levelError, line.slopeError * (end - line.middle));
        out.verdict = judgeResidual(line.at(end), out.reach95() * error, out.toleranceKpa);
    } else {
        out.verdict = judgeResidual(line.level, out.reach95() * line.levelError, out.toleranceKpa);
    }
    speak(out);
    return out;
}

} // namespace

double SensorComparison::reach95() const {
    return studentReach(0.95, static_cast<int>(stretches) - 2);
}

std::vector<SensorComparison> compareBoostSensors(std::span<const std::shared_ptr<const LogReview>> logs) {
    std::vector<SensorComparison> out;
    for (const std::shared_ptr<const LogReview> &log : logs)
        if (log->trace().has(R::map) && log->trace().has(R::dynoMap)) out.push_back(compared(*log));
    return out;
}

} // namespace wheelwright
