// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/job/run_samples.h"

#include <map>
#include <span>
#include <string>
#include <vector>

namespace wheelwright {

/// What a file says of itself in remarks, "# mode: inertia": keys as the practice engine writes them.
using RunRemarks = std::map<std::string, std::string>;

/// A pull out of a file.
struct FoundPull {
    RunSamples samples;
    bool down = false;    ///< from high speed to low
    RunRemarks remarks{}; ///< of its part of the file alone, where each part has some
};

struct FoundPulls {
    std::vector<FoundPull> pulls;
    std::size_t coastedRows = 0; ///< left out: speed fell with next to no torque
};

/// Finds the pulls in a stretch of numbers: where a column counts them, by that; and within it wherever speed
/// turns back by a twentieth of its range, 150 rpm at least. A pull goes over a quarter of the range and 400
/// rpm at least in five rows or more; what rises or falls alone in the file is one whatever its length. A way
/// down with under a third of the torque of the best way up is a coast-down and no pull. Thresholds: common
/// practice. pullNumbers empty: nothing counts them.
FoundPulls findPulls(const RunSamples &samples, std::span<const double> pullNumbers = {});

} // namespace wheelwright
