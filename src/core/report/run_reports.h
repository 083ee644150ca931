// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/report/worked_report.h"
#include "core/runs/boost_shape.h"
#include "core/runs/cam_crossing.h"
#include "core/runs/road_run.h"
#include "core/runs/run_worth.h"

#include <span>

namespace wheelwright {

/// Was it really better, and which change did it? The answer first, then what differs, what each unit of it
/// is worth, peaks last.
WorkedReport comparisonReport(const RunComparison &comparison, const Job &job);

/// Runs in their order with change, result, verdict and next step: the record.
WorkedReport runSheetReport(const Job &job, std::span<const std::shared_ptr<const MeasuredRun>> runs);

/// Where the numbers of a run come from, in one sentence.
Phrase runOrigin(const Run &run);

/// What each standard would multiply a run by, each with its working.
WorkedReport correctionsReport(const MeasuredRun &run);

/// By how much runs of the same differ, and what gains could be seen.
WorkedReport scatterReport(std::span<const MeasuredRuns> sets, const RunScatterOverSpeed &scatter);

/// Power over content, as rungs.
WorkedReport contentsReport(const ContentLadder &ladder, const Job &job);

/// Where the cams cross, and what λ does where logs switch them.
WorkedReport camReport(const CamCrossing &crossing, std::span<const LambdaAtSwitch> switches = {},
                       std::span<const Phrase> cautions = {});

/// Power at a speed over what runs were swept by, and where it is most.
WorkedReport runSweepReport(const SparkSweep &sweep, SweepOver over, double rpm,
                            std::span<const RunCause> alsoDiffers = {});

/// Power from the road, with its band.
WorkedReport roadReport(const RoadPower &power);

/// What a coast-down says of the car.
WorkedReport coastReport(const CoastDown &coast);

/// What boost did in each run.
WorkedReport boostShapesReport(std::span<const BoostShape> shapes);

WorkedReport dynosReport(std::span<const DynoFactor> factors);

} // namespace wheelwright
