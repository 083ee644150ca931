// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/report/worked_report.h"
#include "core/runs/boost_shape.h"
#include "core/runs/cam_crossing.h"
#include "core/runs/run_worth.h"

#include <span>

namespace wheelwright {

/// Was it really better, and which change did it? The answer first, then what differs, what each unit of it
/// is worth, peaks last.
WorkedReport comparisonReport(const RunComparison &comparison, const Job &job);

/// Runs in their order with change, result, verdict and next step: the record.
Report runSheetReport(const Job &job, std::span<const std::shared_ptr<const MeasuredRun>> runs);

/// By how much runs of the same differ, and what gains could be seen.
Report scatterReport(std::span<const MeasuredRuns> sets, const RunScatterOverSpeed &scatter);

/// Power over content, as rungs.
Report contentsReport(const ContentLadder &ladder, const Job &job);

Report camReport(const CamCrossing &crossing);

/// What boost did in each run.
Report boostShapesReport(std::span<const BoostShape> shapes);

Report dynosReport(std::span<const DynoFactor> factors);

} // namespace wheelwright
