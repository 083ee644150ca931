// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/study/evaluation.h"
#include "core/study/proof.h"

#include <optional>
#include <vector>

namespace wheelwright {

/// The highest load that logs have proven at one speed, with the spark that is in use there.
struct ProvenLoad {
    double loadKpa, sparkDeg;
};

/// By speed of the evaluation, at the content of one of its slices: of the cells that a log has corrected
/// within 5 % of it (common practice), and of the places that logs have proven as they stand, the later.
/// Nothing at a speed of which neither is known.
std::vector<std::optional<ProvenLoad>> provenLoads(const Evaluation &evaluation, const Proof &proof,
                                                   const ContentSlice &slice);

/// Whether any cell of the job's spark tables has come from a log.
bool anySparkFromLog(const Job &job);

} // namespace wheelwright
