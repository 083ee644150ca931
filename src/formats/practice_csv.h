// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/practice/practice_script.h"

#include <string>
#include <string_view>
#include <vector>

namespace wheelwright {

/// The log of a practice engine as text with commas: a line of names, the unit in each, and a line a row.
/// dyno: with what a dyno adds to it, its torque at the wheels and its own sensor in the manifold, which
/// reads right.
std::string practiceLogHeader(bool dyno = false);
void appendPracticeRow(std::string &to, const PracticeSample &sample, const PracticeTruth *dyno = nullptr);

/// The same text read back. Throws InputError naming the line for anything else.
std::vector<PracticeSample> practiceLogFrom(std::string_view text);

/// A pull as a dyno writes it: lines "# key: value", names, rows.
std::string dynoRunCsv(const DynoRun &run);

} // namespace wheelwright
