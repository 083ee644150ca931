// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/evidence/witnesses.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace wheelwright {
namespace {

using R = ChannelRole;
using namespace witnesses;

constexpr double calmS = 5, calmSpan = 0.03, withinS = 3, loadedKpa = 100;

struct Span {
    double least = 1, most = 0, sum = 0, count = 0;
    double mean() const { return sum / count; }
    double width() const { return most - least; }
};

Span spanOf(const WatchedLog &log, double beginS, double endS) {
    Span s;
    for (std::size_t i = log.trace().indexAt(beginS); i < log.trace().size() && log.trace().timeS(i) <= endS;
         ++i)
        if (const double c = log.contentRead(i); c == c) {
            s.least = std::min(s.least, c);
            s.most = std::max(s.most, c);
            s.sum += c;
            ++s.count;
        }
    return s;
}

// Steady before, and away from there under load: it is the flow past the sensor that has changed.
std::vector<BrokenStretch> find(const WatchedLog &log) {
    const double limit = log.limit("watch.content.jump");
    const LogTrace &t = log.trace();
    std::vector<double> before(t.size(), std::numeric_limits<double>::quiet_NaN());
    double loadedSince = -1;
    double calm = std::numeric_limits<double>::quiet_NaN();
    for (std::size_t i = 0; i < t.size(); ++i) {
        const bool loaded = log.at(R::map, i) > loadedKpa;
        if (loaded && loadedSince < 0) {
            loadedSince = t.timeS(i);
            const Span s = spanOf(log, loadedSince - calmS, loadedSince);
            calm =
                s.width() >= 0 && s.width() <= calmSpan ? s.mean() : std::numeric_limits<double>::quiet_NaN();
        }
        if (!loaded && loadedSince >= 0 && t.timeS(i) - loadedSince > withinS) loadedSince = -1;
        if (!loaded) loadedSince = -1;
        if (loaded) before[i] = calm;
    }
    return stretchesOver(log, 0, [&](std::size_t i) -> Judgement {
        const double off = std::abs(log.contentRead(i) - before[i]);
        return {off - limit, off, limit};
    });
}

} // namespace

const WatchRule &contentJumpRule() {
    static const WatchRule rule{
        "content_jump",
        MARKED("watch.jump.title", "Content jumps under load"),
        MARKED("watch.jump.question", "Does the reading stay where it was when the load comes?"),
        Dimension::contentDifference,
        {"watch.content.jump"},
        {R::ethanol, R::map},
        find,
        {{MARKED("cause.return_dry",
                 "the return line runs dry: what the sensor sees there is no longer the fuel"),
          0.6,
          {&highFlow}},
         {MARKED("cause.surge", "another fuel comes from tank or surge tank"), 0.2, {}},
         {MARKED("cause.sensor_noise", "the sensor's signal is disturbed"), 0.1, {}}},
        MARKED("watch.jump.call", "Content jumps — lift"),
        MARKED("watch.jump.look",
               "Hold the content over this load, and move the sensor into the feed or give it flow.")};
    return rule;
}

} // namespace wheelwright
