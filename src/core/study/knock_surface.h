// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/study/study.h"
#include "core/tables/table2d.h"

#include <stop_token>

namespace wheelwright {

/// The knock limit of a content over the spark table's cells in manifold pressure, by the physics of one
/// cylinder (spark_estimate.h), and how it answers to what the model may be wrong about. Rows from a load up;
/// at least the last two.
struct KnockSurface {
    double content = 0;
    Table2D limitDeg;  ///< at the job's usual intake air; where it never knocks, earliestSparkTried
    Table2D perLogDeg; ///< degrees more for a unit of ln τ, by a step that knocks earlier: 0.3 in ln τ
    Table2D octane;    ///< octane index of the charge
    Table2D perKDeg;   ///< degrees more for a kelvin of intake air, by a step of 15 K: 0 or less
};
/// ln τ goes with this power of the octane index: Douaud and Eyzat, SAE 780080 (1978).
inline constexpr double octanePower = 3.402;
/// Throws InputError for a content outside 0–1. Stopped: with tables of nothing but 0.
KnockSurface knockSurface(const Study &study, double content, double fromKpa, std::stop_token stop = {});

} // namespace wheelwright
