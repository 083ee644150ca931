// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/evidence/watch_rule.h"

namespace wheelwright::witnesses {

/// What a log may say for or against a cause. Each looks at the stretch that a rule has found, and at the
/// rest of the log where that tells more.
extern const Witness railSags, injectorsFull, sprayStops, leanEverywhere, leanAtLowFlow, contentMoves,
    hotIntake, hotCoolant, opensFast, lambdaLean, sparkOverTables, solenoidHigh, highFlow, oneSidedSpeed,
    lowVoltage;

} // namespace wheelwright::witnesses
