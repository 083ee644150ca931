// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/report/report.h"
#include "core/trainer/scenario.h"

namespace wheelwright {

/// What somebody is told before he begins; with as many hints as he has taken.
Report scenarioReport(const Scenario &scenario, int hints);
/// The score, item by item, and the debrief.
Report trainingReport(const Scenario &scenario, const Training &training);

} // namespace wheelwright
