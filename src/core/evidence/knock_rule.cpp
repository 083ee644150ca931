// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/evidence/witnesses.h"

namespace wheelwright {
namespace {

using R = ChannelRole;
using namespace witnesses;

std::vector<BrokenStretch> find(const WatchedLog &log) {
    const double limit = log.limit("watch.knock");
    return stretchesOver(log, 0, [&](std::size_t i) -> Judgement {
        const double retard = log.at(R::knockRetard, i);
        return {retard - limit, retard, limit};
    });
}

} // namespace

const WatchRule &knockRule() {
    static const WatchRule rule{
        "knock",
        MARKED("watch.knock.title", "Knock"),
        MARKED("watch.knock.question", "Has knock control taken any spark?"),
        Dimension::sparkAngle,
        {"watch.knock"},
        {R::knockRetard},
        find,
        {{MARKED("cause.spark_high", "spark is too early for this fuel in this cell"), 0.5, {}},
         {MARKED("cause.spark_over", "something adds spark to the tables"), 0, {&sparkOverTables}},
         {MARKED("cause.lean_knock", "it knocks because it is lean"), 0, {&lambdaLean}},
         {MARKED("cause.hot_air", "the charge is hot"), 0, {&hotIntake}},
         {MARKED("cause.hot_engine", "the engine is hot"), 0, {&hotCoolant}},
         {MARKED("cause.spray", "the spray has run out, and the tables count on it"), 0, {&sprayStops}},
         {MARKED("cause.bad_fuel", "the fuel stands less than its content says"), 0.2, {}},
         {MARKED("cause.false_knock", "the sensor has heard something else"), 0.1, {&opensFast}}},
        MARKED("watch.knock.call", "KNOCK — lift"),
        MARKED("watch.knock.look",
               "Take the most retard away from this cell, then look at fuel and intake air.")};
    return rule;
}

} // namespace wheelwright
