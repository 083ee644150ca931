// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/ladder/ladder_facts.h"

#include "core/base/error.h"
#include "core/base/limits.h"
#include "core/job/revision.h"

#include <algorithm>
#include <iterator>

namespace wheelwright {
namespace {

bool hasPulls(const LogReview &log) {
    return std::ranges::any_of(log.episodes(), [](const Episode &e) { return e.kind == EpisodeKind::pull; });
}

void proveWayDown(const Study &study, std::span<const std::shared_ptr<const LogReview>> logs,
                  LadderFacts &out) {
    const Job &job = study.job();
    const double low = job.calibration.baseContent + limitOf(job, "ladder.way_down");
    const LogReview *down = nullptr, *top = nullptr;
    for (const auto &log : logs) {
        if (!log->hasSamples() || !log->content().known || !hasPulls(*log)) continue;
        if (log->content().mean > low && (!top || log->content().mean >= top->content().mean)) {
            top = log.get();
            down = nullptr; // it must come after
        } else if (top && log->content().mean <= low) {
            down = log.get();
        }
    }
    if (!top || !down) {
        out.wayDownTrouble = MARKED("ladder.way_down.no_logs",
                                    "no log near the base content came in after one at a higher content");
        return;
    }
    try {
        out.wayDown = proveFuelChange(study, *down, *top);
    } catch (const InputError &e) {
        out.wayDownTrouble = e.words();
    }
}

} // namespace

LadderFacts ladderFacts(const Study &study, std::span<const std::shared_ptr<const LogReview>> logs) {
    LadderFacts out;
    const std::string calibration = calibrationPrint(stateOf(study.job()));
    for (const auto &log : logs) {
        std::ranges::move(pullFacts(study, *log, calibration), std::back_inserter(out.pulls));
        if (auto light = lightLoadFacts(*log, calibration)) out.lights.push_back(std::move(*light));
    }
    proveWayDown(study, logs, out);
    return out;
}

} // namespace wheelwright
