// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/proposal/boost_pulls.h"
#include "core/proposal/boost_sensors.h"
#include "core/proposal/fuel_change_proof.h"
#include "core/proposal/learning.h"
#include "core/proposal/spark_takers.h"
#include "core/report/worked_report.h"

#include <span>

namespace wheelwright {

/// Who took the spark that was asked for, with the spark over the time under load. Links of takers are
/// "taken:<index>".
WorkedReport takenReport(const SparkTaken &taken, const LogInfo &log);

/// One calibration, two logs at two contents: a sheet for the record.
WorkedReport proofReport(const FuelChangeProof &proof, const Job &job);

/// Each correction against what was found after it, the last first.
Report learningReport(std::span<const LearningStep> steps, const Job &job);

/// What boost did in each pull, in words and numbers, and what the dyno's sensor says of the controller's.
/// Links of pulls are "pull:<index>".
WorkedReport boostPullsReport(std::span<const PullBoost> pulls, std::span<const SensorComparison> sensors,
                              const Job &job);

} // namespace wheelwright
