// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/evidence/witnesses.h"

#include <cmath>

namespace wheelwright {
namespace {

using R = ChannelRole;
using namespace witnesses;

constexpr double leastS = 0.3, openShare = 0.5;

std::vector<BrokenStretch> find(const WatchedLog &log) {
    const double limit = log.limit("watch.target");
    return stretchesOver(log, leastS, [&](std::size_t i) -> Judgement {
        const double off = std::abs(log.at(R::boostTarget, i) - log.tableAt(CalibratedQuantity::boost, i));
        return {log.at(R::throttle, i) < openShare ? -1 : off - limit, off, limit};
    });
}

} // namespace

const WatchRule &targetOffRule() {
    static const WatchRule rule{
        "target_off",
        MARKED("watch.target.title", "Boost target is not what the tables say"),
        MARKED("watch.target.question",
               "Does the controller aim at the boost that the tables of this job ask for?"),
        Dimension::pressureDifference,
        {"watch.target"},
        {R::boostTarget, R::rpm, R::map},
        find,
        {{MARKED("cause.other_file", "the controller holds another calibration than this job"), 0.6, {}},
         {MARKED("cause.other_content", "the controller goes by another content"), 0.2, {&contentMoves}},
         {MARKED("cause.target_correction", "a correction of the target that this job does not know"),
          0.2,
          {&hotIntake}}},
        MARKED("watch.target.call", "Boost target is not as asked"),
        MARKED("watch.target.look",
               "Read the controller back and compare it with the revision that this log ran with."),
        true};
    return rule;
}

} // namespace wheelwright
