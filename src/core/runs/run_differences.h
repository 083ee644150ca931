// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/runs/run_curve.h"

#include <map>
#include <memory>
#include <span>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

namespace wheelwright {

struct Job;

/// A run that was read.
struct MeasuredRun {
    Run run;
    RunCurve curve;
};
using MeasuredRuns = std::vector<std::shared_ptr<const MeasuredRun>>;
/// Throws InputError as curveOf() does.
std::shared_ptr<const MeasuredRun> measured(const Run &run);
/// All runs of a job whose numbers can be read, in their order.
MeasuredRuns readableRuns(const Job &job);

/// What may have made a difference between runs: one of these is one cause.
enum class RunCause { fuel, spark, boost, mixture, calibration, hardware, weather, heat, dyno };
std::string_view keyOf(RunCause cause); ///< stable: "mixture"
PhraseText titleOf(RunCause cause);

/// One thing in which some runs differ from others.
struct RunDifference {
    std::string_view what; ///< stable: "content"
    PhraseText title;
    RunCause cause = RunCause::fuel;
    Phrase before, after;    ///< what it was
    double from = 0, to = 0; ///< where it is a number, means; else not numbers
    Dimension dimension = Dimension::none;
    bool accounted = false;      ///< the comparison takes it out: weather by a correction, heat by a drift
    std::vector<Phrase> details; ///< of a calibration: what of it
};

struct RunDifferences {
    std::vector<RunDifference> found;
    std::vector<PhraseText> notKnown; ///< what would matter, and nobody has said of all runs
    /// Causes that the comparison does not take out, each once.
    std::vector<RunCause> causes() const;
};

/// What a comparison takes out by itself.
struct Accounted {
    bool weather = false, heat = false;
};

/// Two runs that differ in nothing but one cause, weather apart: what would tell whether that did it. Of two
/// alone nobody can take heat out.
struct TellingPair {
    std::string before, after; ///< ids
    RunCause cause = RunCause::fuel;
};

/// In what runs differ from others, from what the product knows: fields of the runs, their calibrations, and
/// boost, spark and λ where they were measured, as means over the upper half of the speeds that all have.
/// Tolerances are limits "runs.same.…". What it finds of two calibrations it keeps: not for several threads.
class RunDifferenceFinder {
  public:
    using Runs = std::span<const std::shared_ptr<const MeasuredRun>>;
    /// Keeps a reference to the job.
    explicit RunDifferenceFinder(const Job &job) : m_job(job) {}

    RunDifferences between(Runs before, Runs after, Accounted accounted = {}) const;
    /// Made with the same everything, as far as anybody knows: weather and heat apart.
    bool same(const std::shared_ptr<const MeasuredRun> &a, const std::shared_ptr<const MeasuredRun> &b) const;
    /// All runs in sets of the same everything, in the order of the first of each.
    std::vector<MeasuredRuns> sets(Runs runs) const;
    /// Those that were made twice: of two runs at least.
    std::vector<MeasuredRuns> controlSets(Runs runs) const;
    /// For each of these causes the first pair of the runs that tells of it, where there is one.
    std::vector<TellingPair> tellingPairs(Runs runs, std::span<const RunCause> causes) const;

  private:
    struct Calibrations {
        RunCause cause = RunCause::calibration;
        std::vector<Phrase> details;
    };
    const Calibrations &calibrations(const Run &before, const Run &after) const;
    void addCalibration(Runs before, Runs after, RunDifferences &out) const;

    const Job &m_job;
    mutable std::map<std::pair<std::string, std::string>, Calibrations> m_calibrations;
};

} // namespace wheelwright
