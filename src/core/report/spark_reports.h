// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/report/worked_report.h"
#include "core/study/spark_estimate.h"

#include <memory>
#include <span>

namespace wheelwright {

/// What estimated ceilings would say, by content, before they are put into a job.
Report sparkEstimateReport(const Study &study, std::span<const EstimateTable> tables);

/// The share of spark that each content brings by the estimated knock limit, beside that of the mole
/// fraction.
Report knockShapeReport(const Study &study, const KnockShares &shares);

/// 'What is this fuel worth here?', each number with its working.
WorkedReport fuelWorthReport(std::shared_ptr<const Study> study, const OperatingPoint &point);

} // namespace wheelwright
