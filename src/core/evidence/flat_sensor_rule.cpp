// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/evidence/witnesses.h"

#include <cmath>

namespace wheelwright {
namespace {

using R = ChannelRole;
using namespace witnesses;

constexpr double leastS = 1.5, closed = 0.05, fullyOpen = 0.9, stuckS = 10, movedKpa = 40;

// A throttle that stands still to the last digit while the engine does not.
std::vector<double> stillFor(const WatchedLog &log) {
    const LogTrace &t = log.trace();
    std::vector<double> out;
    std::size_t since = 0;
    double least = 0, most = 0;
    for (std::size_t i = 0; i < t.size(); ++i) {
        const double load = log.at(R::map, i);
        if (i == 0 || log.at(R::throttle, i) != log.at(R::throttle, since)) {
            since = i;
            least = most = load;
        }
        least = std::fmin(least, load);
        most = std::fmax(most, load);
        out.push_back(most - least > movedKpa ? t.timeS(i) - t.timeS(since) : 0);
    }
    return out;
}

std::vector<BrokenStretch> find(const WatchedLog &log) {
    const double shutKpa = log.limit("watch.flat.shut") * log.ambientKpa();
    const double openKpa = log.limit("watch.flat.open") * log.ambientKpa();
    const std::vector<double> still = stillFor(log);
    return stretchesOver(log, leastS, [&](std::size_t i) -> Judgement {
        const double throttle = log.at(R::throttle, i), load = log.at(R::map, i), rpm = log.at(R::rpm, i);
        constexpr double turning = 1500;
        const bool shut = throttle < closed && load > shutKpa && rpm > turning;
        const bool open = throttle > fullyOpen && load < openKpa && rpm > turning;
        const bool between = throttle >= closed && throttle <= fullyOpen && still[i] > stuckS;
        return {shut || open || between ? 1.0 : -1.0, throttle, load};
    });
}

} // namespace

const WatchRule &flatSensorRule() {
    static const WatchRule rule{
        "flat_sensor",
        MARKED("watch.flat.title", "A sensor stands still"),
        MARKED("watch.flat.question", "Does the throttle say what the manifold pressure says?"),
        Dimension::ratio,
        {"watch.flat.shut", "watch.flat.open"},
        {R::throttle, R::map, R::rpm},
        find,
        {{MARKED("cause.unplugged", "the throttle sensor is unplugged, or its wire is broken"), 0.6, {}},
         {MARKED("cause.calibrated", "the throttle sensor is not calibrated"), 0.2, {}},
         {MARKED("cause.map_off", "the pressure sensor is the wrong one, or its hose is off"), 0.2, {}}},
        MARKED("watch.flat.call", "A sensor stands still"),
        MARKED("watch.flat.look", "Open the throttle by hand with the engine off and watch the reading.")};
    return rule;
}

} // namespace wheelwright
