// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/evidence/log_review.h"
#include "core/proposal/proposed_map.h"
#include "core/report/worked_report.h"

#include <span>

namespace wheelwright {

/// What a proposal comes to: the errors before and after, what is to be heeded, which logs say nothing.
Report proposalReport(const ProposedMap &map);
/// One of its cells, with its working and when logs were in it. Links of visits are "visit:<index>".
WorkedReport proposedCellReport(const ProposedMap &map, std::size_t cell, std::span<const CellVisit> visits);

} // namespace wheelwright
