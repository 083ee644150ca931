// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/ladder/ladder_status.h"
#include "core/report/worked_report.h"

namespace wheelwright {

/// "Content 25 %", "Boost 180 kPa at the top".
Phrase rungName(const Rung &rung);

/// The same by its id, of a rung that was passed and is in no plan any more; as it is where it is no rung's.
Phrase rungName(std::string_view id);

/// What it asks for in a few lines, for a drawing: pour, wait, set, pull.
Phrase rungInBrief(const Rung &rung);
/// The same in one.
Phrase rungInLine(const Rung &rung);

/// What is done for a rung, one step after the other: drain, pour, wait, confirm, set, pull, judge.
Steps rungSteps(const Rung &rung);

/// A rung as a page: what to do, what is expected, and what to mind.
WorkedReport rungReport(const Rung &rung);

/// Its light, and what to do first. laidAside: logs whose samples are not at hand.
Report lightReport(const Rung &rung, const RungStatus &status, std::size_t laidAside = 0,
                   bool withNext = true);
/// By what a rung was passed, if it was.
Report passReport(const Job &job, const Rung &rung);
/// All that was passed, in its order, with the reasons.
Report passedReport(const Job &job);
/// One gate: question, answer, what would pass it, what it went by.
Report gateReport(const GateResult &gate);

/// What every gate of a rung says, and what to do next.
Report gatesReport(const Rung &rung, const RungStatus &status);

/// The whole ladder as a sheet: rungs, what to have at hand, cost and time.
WorkedReport ladderReport(const Ladder &ladder);

/// What to have at hand, alone.
Report shoppingReport(const Ladder &ladder);

} // namespace wheelwright
