// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/evidence/witnesses.h"
#include "core/study/boost_plan.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace wheelwright {
namespace {

using R = ChannelRole;
using namespace witnesses;

constexpr double leastS = 1;
constexpr double settledS = 1.5; // after a pull has begun the turbine still comes up to speed

// How far boost is from what the job's logged points say of this duty; past their ends only what is too
// little above them, and too much below. Without a fit nothing.
double beside(const std::vector<BoostGroup> &groups, const WatchedLog &log, std::size_t i) {
    const double none = std::numeric_limits<double>::quiet_NaN();
    const double gear = log.at(R::gear, i), duty = log.at(R::solenoidDuty, i), content = log.contentAt(i);
    if (duty != duty || content != content) return none;
    const BoostGroup *group = boostGroupFor(groups, gear == gear ? gear : 0, content);
    if (!group || !group->fit || group->points.empty()) return none;
    const auto [least, most] = std::ranges::minmax(group->points, {}, &BoostPoint::duty);
    const double usual = group->fit->at(std::clamp(duty, least.duty, most.duty));
    const double off = log.at(R::map, i) - log.ambientKpa() - usual;
    if (duty > most.duty) return std::fmax(0, -off);
    if (duty < least.duty) return std::fmax(0, off);
    return std::abs(off);
}

std::vector<BrokenStretch> find(const WatchedLog &log) {
    const double limit = log.limit("watch.solenoid");
    const std::vector<BoostGroup> groups = boostGroups(log.job());
    const LogTrace &t = log.trace();
    std::vector<bool> asked(t.size(), false);
    for (const Episode &e : log.episodes())
        if (e.kind == EpisodeKind::pull)
            for (std::size_t i = e.from; i <= e.to; ++i)
                asked[i] = t.timeS(i) - e.beginS > settledS;
    return stretchesOver(log, leastS, [&](std::size_t i) -> Judgement {
        const double off = asked[i] ? beside(groups, log, i) : std::numeric_limits<double>::quiet_NaN();
        return {off - limit, off, limit};
    });
}

} // namespace

const WatchRule &boostOddRule() {
    static const WatchRule rule{
        "boost_odd",
        MARKED("watch.solenoid.title", "Boost is far from what this duty usually gives"),
        MARKED("watch.solenoid.question", "Does the solenoid still do what it did?"),
        Dimension::pressureDifference,
        {"watch.solenoid"},
        {R::map, R::solenoidDuty, R::rpm},
        find,
        {{MARKED("cause.solenoid_stuck", "the solenoid sticks, or its wire is off"), 0.4, {&solenoidHigh}},
         {MARKED("cause.boost_leak", "boost leaks away"), 0.3, {}},
         {MARKED("cause.spring", "the spring is stronger than it is said to be"), 0.2, {}},
         {MARKED("cause.gate_hose", "a hose between compressor, solenoid and wastegate"), 0.2, {}}},
        MARKED("watch.solenoid.call", "Boost is odd — lift"),
        MARKED("watch.solenoid.look",
               "One pull on the spring alone says whether the solenoid or the gate is at fault.")};
    return rule;
}

} // namespace wheelwright
