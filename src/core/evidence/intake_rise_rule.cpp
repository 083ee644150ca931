// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/evidence/witnesses.h"

namespace wheelwright {
namespace {

using R = ChannelRole;
using namespace witnesses;

std::vector<BrokenStretch> find(const WatchedLog &log) {
    const double limit = log.limit("watch.intake_rise");
    std::vector<BrokenStretch> found;
    for (const Episode &e : log.episodes()) {
        if (e.kind != EpisodeKind::pull) continue;
        std::size_t hottest = e.from;
        for (std::size_t i = e.from; i <= e.to; ++i)
            if (log.at(R::intakeTemp, i) > log.at(R::intakeTemp, hottest)) hottest = i;
        const double rise = log.at(R::intakeTemp, hottest) - log.at(R::intakeTemp, e.from);
        if (rise > limit) found.push_back({e.from, e.to, hottest, rise, limit});
    }
    return found;
}

} // namespace

const WatchRule &intakeRiseRule() {
    static const WatchRule rule{
        "intake_rise",
        MARKED("watch.intake.title", "Intake air heats up in the pull"),
        MARKED("watch.intake.question", "Does the charge stay as cool as it was?"),
        Dimension::temperatureDifference,
        {"watch.intake_rise"},
        {R::intakeTemp, R::rpm},
        find,
        {{MARKED("cause.cooler", "the charge cooler is soaked with heat"), 0.4, {&hotIntake}},
         {MARKED("cause.compressor", "the compressor is past its map, or it leaks and works harder"),
          0.3,
          {&oneSidedSpeed}},
         {MARKED("cause.spray", "the spray has run out, and the tables count on it"), 0, {&sprayStops}}},
        MARKED("watch.intake.call", "Intake air heats up"),
        MARKED("watch.intake.look", "Let it cool down before the next pull, and compare no pulls that began "
                                    "at different temperatures.")};
    return rule;
}

} // namespace wheelwright
