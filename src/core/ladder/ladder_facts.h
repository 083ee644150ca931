// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/ladder/pull_facts.h"
#include "core/proposal/fuel_change_proof.h"

#include <optional>

namespace wheelwright {

/// What the logs of a job say to its ladder, without their samples.
struct LadderFacts {
    std::vector<PullFacts> pulls; ///< of all logs, by log and time
    std::vector<LightLoadFacts> lights;
    /// The last log near the base content against the one before it that was highest in content.
    std::optional<FuelChangeProof> wayDown;
    Phrase wayDownTrouble; ///< why there is none
};

/// study: the job as it is. Reviews with their samples, in the order of the job.
LadderFacts ladderFacts(const Study &study, std::span<const std::shared_ptr<const LogReview>> logs);

} // namespace wheelwright
