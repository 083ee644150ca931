// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/evidence/witnesses.h"

namespace wheelwright {
namespace {

using R = ChannelRole;
using namespace witnesses;

constexpr double openShare = 0.5, highShare = 0.6;

std::vector<BrokenStretch> find(const WatchedLog &log) {
    const double set = log.job().engine.revLimitRpm, limit = set - log.limit("watch.rev_limit");
    return stretchesOver(log, 0, [&](std::size_t i) -> Judgement {
        const double rpm = log.at(R::rpm, i);
        const bool cut = log.fuelCut(i) && rpm > highShare * set && log.at(R::throttle, i) > openShare;
        return {cut ? limit - rpm : -1, rpm, limit};
    });
}

} // namespace

const WatchRule &revLimitEarlyRule() {
    static const WatchRule rule{
        "rev_limit_early",
        MARKED("watch.rev.title", "Rev limit comes early"),
        MARKED("watch.rev.question", "Is fuel cut where the job says, and not before?"),
        Dimension::engineSpeed,
        {"watch.rev_limit"},
        {R::rpm, R::pulseWidth, R::throttle},
        find,
        {{MARKED("cause.rev_set", "the controller holds another rev limit than this job"), 0.5, {}},
         {MARKED("cause.boost_cut", "it is the overboost cut"), 0.3, {}},
         {MARKED("cause.protection", "some other protection of the controller"), 0.2, {&hotCoolant}},
         {MARKED("cause.trigger", "the speed signal breaks up"), 0.1, {&oneSidedSpeed}}},
        MARKED("watch.rev.call", "Cut too early"),
        MARKED("watch.rev.look", "Compare the guarded settings with what came back from the controller.")};
    return rule;
}

} // namespace wheelwright
