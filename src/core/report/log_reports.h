// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/explanation.h"
#include "core/evidence/lambda_delay.h"
#include "core/evidence/log_review.h"
#include "core/report/worked_report.h"

#include <span>

namespace wheelwright {

/// What the watch rules find in a log, each with its place, its likeliest causes and what speaks for and
/// against them; and what could not be asked. Links of findings are "finding:<index>".
Report findingsReport(const LogReview &log);
/// The working of a finding: value, limit and its origin, what speaks for which cause, what to look at.
Explanation explain(const LogReview &log, const LogFinding &finding);

/// The fuel of a log: settled or not, and what the tank says.
Report logContentReport(const LogReview &log);

/// Delay of λ over air flow, with ±, and the lag of the sensor; what is missing where there is none.
WorkedReport delayReport(const LambdaDelay &delay);

/// When logs were in a cell. Links of visits are "visit:<index>".
Report visitsReport(std::span<const CellVisit> visits, double rpm, double loadKpa);

/// How much of what the engine can reach has been seen and proven, by content band; what is next to go to.
/// Links of bands are "band:<index>".
WorkedReport coverageReport(const Study &study, const Coverage &coverage);

/// Where the engine can go in a band of a coverage, rpm fastest, as its cells.
std::vector<bool> reachedCells(const Study &study, const Coverage &coverage, double content);

} // namespace wheelwright
