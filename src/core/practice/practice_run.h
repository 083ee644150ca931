// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/practice/practice_script.h"

#include <functional>
#include <stop_token>

namespace wheelwright {

/// Puts a practice engine through a script. `row` is called for every row of the log, 100 a second. It ends
/// where the script ends, where the engine is destroyed, or where it is stopped. Throws InputError naming the
/// step that cannot be done ("step 3: litres: …"); rows before it have been given by then.
using PracticeRowTaker = std::function<void(const PracticeSample &, const PracticeTruth &)>;
PracticeResult runPractice(const Job &job, const HiddenEngine &truth, const std::vector<FaultSetting> &faults,
                           const PracticeScript &script, const PracticeRowTaker &row,
                           std::stop_token stop = {});

} // namespace wheelwright
