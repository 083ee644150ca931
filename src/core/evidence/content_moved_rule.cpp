// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/evidence/witnesses.h"

#include <cmath>
#include <limits>

namespace wheelwright {
namespace {

using R = ChannelRole;
using namespace witnesses;

// Ends of a pull, each as the mean of half a second: a jump within it is another finding.
double meanAround(const WatchedLog &log, double atS) {
    constexpr double halfWindowS = 0.25;
    double sum = 0;
    std::size_t count = 0;
    for (std::size_t i = log.trace().indexAt(atS - halfWindowS);
         i < log.trace().size() && log.trace().timeS(i) <= atS + halfWindowS; ++i)
        if (const double c = log.at(R::ethanol, i); c == c) {
            sum += c;
            ++count;
        }
    return count > 0 ? sum / static_cast<double>(count) : std::numeric_limits<double>::quiet_NaN();
}

std::vector<BrokenStretch> find(const WatchedLog &log) {
    const double limit = log.limit("watch.content.pull");
    std::vector<BrokenStretch> found;
    for (const Episode &e : log.episodes()) {
        if (e.kind != EpisodeKind::pull) continue;
        const double moved = std::abs(meanAround(log, e.endS) - meanAround(log, e.beginS));
        if (moved > limit) found.push_back({e.from, e.to, e.to, moved, limit});
    }
    return found;
}

} // namespace

const WatchRule &contentMovedRule() {
    static const WatchRule rule{
        "content_moved",
        MARKED("watch.moved.title", "Content moves during the pull"),
        MARKED("watch.moved.question", "Is the content at the end of a pull the one at its beginning?"),
        Dimension::contentDifference,
        {"watch.content.pull"},
        {R::ethanol, R::rpm},
        find,
        {{MARKED("cause.unsettled", "the fuel in the line is not settled yet"), 0.5, {&contentMoves}},
         {MARKED("cause.return_dry",
                 "the return line runs dry: what the sensor sees there is no longer the fuel"),
          0.2,
          {&highFlow}},
         {MARKED("cause.slow_sensor", "the sensor is slow and still catches up"), 0.2, {}}},
        MARKED("watch.moved.call", "Content moves — wait"),
        MARKED("watch.moved.look", "Drive until the reading stands still, then pull again: this pull proves "
                                   "nothing of its content.")};
    return rule;
}

} // namespace wheelwright
