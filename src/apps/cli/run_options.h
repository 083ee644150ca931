// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/runs/run_differences.h"

#include <nlohmann/json_fwd.hpp>

#include <string>
#include <vector>

namespace wheelwright {

/// As a number where it is one.
nlohmann::ordered_json runId(const std::string &id);
/// A run by its id. Throws InputError naming those there are.
const Run &runNamed(const Job &job, const std::string &id);
MeasuredRuns measuredRuns(const Job &job, const std::vector<std::string> &ids);
/// Of those that cannot be read, standard error tells.
MeasuredRuns allMeasuredRuns(const Job &job);

} // namespace wheelwright
