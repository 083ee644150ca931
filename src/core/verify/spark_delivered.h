// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/study/evaluation.h"

#include <vector>

namespace wheelwright {

/// What corrections add at best to the table's spark, by load of the evaluation: a ceiling is for what is
/// delivered.
std::vector<double> bestSparkCorrections(const Evaluation &evaluation);

} // namespace wheelwright
