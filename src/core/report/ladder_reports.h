// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/ladder/ladder_status.h"
#include "core/report/report.h"

namespace wheelwright {

/// "Content 25 %", "Boost 180 kPa at the top".
Phrase rungName(const Rung &rung);

/// What is done for a rung, one step after the other: drain, pour, wait, confirm, set, pull, judge.
Steps rungSteps(const Rung &rung);

/// A rung as a page: what to do, what is expected, and what to mind.
Report rungReport(const Rung &rung);

/// What every gate of a rung says, and what to do next.
Report gatesReport(const Rung &rung, const RungStatus &status);

/// The whole ladder as a sheet: rungs, what to have at hand, cost and time.
Report ladderReport(const Ladder &ladder);

/// What to have at hand, alone.
Report shoppingReport(const Ladder &ladder);

} // namespace wheelwright
