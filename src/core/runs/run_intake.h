// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/evidence/log_review.h"
#include "core/runs/air_correction.h"
#include "core/runs/run_columns.h"
#include "core/runs/run_pulls.h"

#include <optional>
#include <string>
#include <vector>

namespace wheelwright {

/// What somebody says of runs that come in; what is left out is taken from their file, then from the job.
struct RunStatement {
    std::string name, source; ///< of the file
    RunOrigin origin = RunOrigin::file;
    std::string added; ///< ISO 8601
    std::string day, fuel, revision, dyno, hardware, cam, change, note;
    std::optional<double> content, order, loadShare, gear, smoothedRpm, knownWithin;
    std::optional<RunMode> mode;
    std::optional<CorrectionStandard> standard;
    std::optional<Weather> air;
    std::optional<double> startIntakeC, startCoolantC, startOilC;
};

/// Remark "source" of runs that the practice engine wrote.
inline constexpr std::string_view practiceSource = "practice engine";
/// The statement with what the remarks say where it says nothing. A remark that cannot be read is told of and
/// passed over.
RunStatement withRemarks(RunStatement statement, const RunRemarks &remarks, std::vector<Phrase> &said);

/// "inertia", "loaded", "road"; throws InputError naming them.
RunMode modeByKey(std::string_view key);
std::string_view keyOf(RunMode mode); ///< "not_said" for notSaid

/// Adds a run for each pull, in their order, and returns their ids; what remarks of a pull say fills what the
/// statement leaves out. The dyno comes to the job's list where it
/// is new there. Throws InputError where there is no pull, for a revision that the job has not got, and for
/// more runs than a job holds.
std::vector<std::string> addRuns(Job &job, const std::vector<FoundPull> &pulls,
                                 const RunStatement &statement);

/// An episode of a log as the pull of a run, with all that its log measured at its speeds. Torque and power
/// are those of the log; throws InputError where it has neither.
FoundPull pullFromLog(const LogReview &log, const Episode &episode);

/// A few points as people type them, a line each: two numbers with blanks, a colon, a comma or a semicolon
/// between. Throws InputError naming the line, and for fewer than two points.
std::vector<std::pair<double, double>> pointsFromText(std::string_view text);
/// A few points that somebody typed: speed and torque in N·m or power in kW.
FoundPull pullFromPoints(std::span<const std::pair<double, double>> points, bool power);

} // namespace wheelwright
