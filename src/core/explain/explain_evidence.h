// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/explanation.h"
#include "core/base/limits.h"
#include "core/evidence/coverage.h"
#include "core/evidence/lambda_delay.h"
#include "core/proposal/boost_pulls.h"
#include "core/proposal/fuel_change_proof.h"
#include "core/proposal/proposed_map.h"
#include "core/proposal/spark_takers.h"

#include <cstddef>

namespace wheelwright {

// The working of what logs say. Each takes what the number was worked out from.

/// What a log's samples under load come to: how many, what was asked and what was delivered, degrees.
struct SparkMeans {
    std::size_t samples = 0;
    double askedDeg = 0, deliveredDeg = 0;
};
/// Spark that somebody took, on the average over a log.
Explanation explainTaker(const SparkTaker &taker, const SparkMeans &all);
/// What should have moved with the fuel, and did.
Explanation explainMove(const FuelMove &move);
/// What boost did in a pull: what it held, with spike, drift and wave beside it.
Explanation explainPull(const PullBoost &pull);
/// What a cell would change by.
Explanation explainProposedCell(const ProposedMap &map, const ProposedCell &cell);

/// Cells of a band of contents: seen, proven, or all that the engine can reach.
enum class CoverageNumber { seen, proven, reachable };
Explanation explainCoverage(const Limits &limits, double revLimitRpm, CoverageNumber which, double from,
                            double to, std::size_t cells);

/// How late λ comes at an air flow.
Explanation explainDelay(const DelayAtFlow &delay, const LambdaDelay &all);

} // namespace wheelwright
