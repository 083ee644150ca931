// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/practice/practice_script.h"

#include <string>

namespace wheelwright {

/// The log of a practice engine as text with commas: a line of names, the unit in each, and a line a row.
std::string practiceLogHeader();
void appendPracticeRow(std::string &to, const PracticeSample &sample);

/// A pull as a dyno writes it: lines "# key: value", names, rows.
std::string dynoRunCsv(const DynoRun &run);

} // namespace wheelwright
