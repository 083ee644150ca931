// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/evidence/witnesses.h"

#include <cmath>
#include <limits>

namespace wheelwright {
namespace {

using R = ChannelRole;
using namespace witnesses;

constexpr double leastS = 0.3, leastKpa = 40, afterCutS = 0.5, afterKnockS = 3;

std::vector<BrokenStretch> find(const WatchedLog &log) {
    const double limit = log.limit("watch.spark");
    const LogTrace &t = log.trace();
    double lastKnockS = -std::numeric_limits<double>::infinity(); // it takes more than its retard for a while
    return stretchesOver(log, leastS, [&](std::size_t i) -> Judgement {
        if (log.at(R::knockRetard, i) > 0) lastKnockS = t.timeS(i);
        const double off = std::abs(log.at(R::spark, i) - log.tableAt(CalibratedQuantity::spark, i));
        const bool asked = log.at(R::map, i) > leastKpa && log.sinceCutS(i) > afterCutS &&
                           t.timeS(i) - lastKnockS > afterKnockS;
        return {asked ? off - limit : -1, off, limit};
    });
}

} // namespace

const WatchRule &sparkOffRule() {
    static const WatchRule rule{
        "spark_off",
        MARKED("watch.spark.title", "Spark is not what the tables say"),
        MARKED("watch.spark.question",
               "Does the engine get the spark that the tables and corrections of this job come to?"),
        Dimension::sparkAngle,
        {"watch.spark"},
        {R::spark, R::map, R::rpm},
        find,
        {{MARKED("cause.other_file", "the controller holds another calibration than this job"), 0.5, {}},
         {MARKED("cause.other_content", "the controller goes by another content"), 0.2, {&contentMoves}},
         {MARKED("cause.unknown_correction", "a correction that this job does not know"), 0.3, {&hotIntake}},
         {MARKED("cause.torque_cut", "something takes spark away for a moment: traction, shift, idle"),
          0.1,
          {&opensFast}}},
        MARKED("watch.spark.call", "Spark is not as asked"),
        MARKED("watch.spark.look",
               "Read the controller back and compare it with the revision that this log ran with."),
        true};
    return rule;
}

} // namespace wheelwright
