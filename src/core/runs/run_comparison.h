// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/runs/air_correction.h"
#include "core/runs/run_differences.h"
#include "core/runs/run_gain.h"

#include <optional>
#include <utility>
#include <vector>

namespace wheelwright {

/// How runs are laid over each other: all of them alike, from what was measured.
struct RunViewing {
    double smoothRpm = 200; ///< window of the one smoothing; 0: none
    CorrectionStandard standard = CorrectionStandard::none;
    double stepRpm = 50; ///< of the speeds at which they are compared, over 0
    /// Speeds that count; empty: all that every run has.
    std::optional<double> fromRpm, toRpm;
    bool drift = true; ///< a drift from run to run is taken out where it can be told
};

/// A run on the speeds of a comparison.
struct SeenRun {
    std::string id;
    double factor = 1;        ///< from what was measured to the standard that is asked for
    bool uncorrected = false; ///< that its numbers were not corrected already is taken for granted
    CorrectionStandard stated = CorrectionStandard::notSaid;
    std::optional<Weather> air; ///< that it was made in, where somebody says it
    std::vector<double> torqueNm, powerKw;
    std::map<ChannelRole, std::vector<double>> lanes;
    RunPeak rawPower, power, rawTorque, torque; ///< of all its speeds: as measured, and as it is shown
};

/// Runs laid over each other.
struct SeenRuns {
    std::vector<double> rpm;
    std::vector<SeenRun> runs;
    std::vector<Phrase> said; ///< what to know of the correction
};
/// Throws InputError where there are no speeds that all have, where runs on the road stand among those of a
/// dyno, where a run is stated for a standard and nobody
/// says its air, and where runs are to be corrected whose air nobody knows.
SeenRuns seen(std::span<const std::shared_ptr<const MeasuredRun>> runs, const RunViewing &how,
              bool boosted = false);

/// The most of them that are of one dyno, one mode and one direction: what may be looked at together.
MeasuredRuns ofOneKind(const MeasuredRuns &runs);

/// Was it really better, and which change did it?
struct RunComparison {
    std::vector<double> rpm;
    CorrectionStandard standard = CorrectionStandard::none; ///< that all are shown for
    std::vector<SeenRun> before, after;
    ScatterFrom scatterFrom = ScatterFrom::none;
    std::vector<GainEstimate> gainKw, gainNm; ///< at each speed
    GainEstimate averageKw, averageNm;        ///< over all of them
    double areaKwRpm = 0;                     ///< between the mean curves of power, kW·rpm
    RunScatter scatter;                       ///< of the average power
    RunPeak peakBeforeKw, peakAfterKw, peakBeforeNm, peakAfterNm; ///< of the mean curves
    RunDifferences differences;
    std::vector<TellingPair> telling; ///< where more than one thing differs
    std::vector<std::string> heroes;  ///< ids of runs that began cooler than the others of their set
    /// Runs of each kind that would tell this average gain from the scatter; 0: no scatter is known, or it
    /// would take too many.
    int runsNeeded = 0;
    std::vector<Phrase> said;

    /// How the average gain of power and its ± come about.
    Explanation explainGain() const;
    GainEstimate at(double atRpm) const; ///< of power, at the nearest speed
    Phrase answer() const; ///< '+33 ± 4 kW (3 against 3, drift-corrected)', or that it is nothing
    bool oneCause() const { return differences.causes().size() <= 1; }
};

/// b less a. `all`: every run of the job that may serve as a control or tell more; with the compared among
/// them or not. Throws InputError as seen() does, and where a run stands on both sides or a side is empty.
RunComparison compareRuns(const Job &job, const MeasuredRuns &before, const MeasuredRuns &after,
                          const RunViewing &how, const MeasuredRuns &all = {});

/// By how much runs of the same everything differ, over engine speed.
struct RunScatterOverSpeed {
    std::vector<double> rpm, meanKw, sigmaKw; ///< sigma of one run
    RunScatter average;                       ///< of the average power over all of them
};
/// Sets of runs that are each of the same everything; without a set, or with one run each, nothing is known.
RunScatterOverSpeed scatterOf(std::span<const MeasuredRuns> sets, const RunViewing &how);

/// The run of a set of three or more that began cooler than all others by more than limit runs.same.heat, if
/// there is one: what comes out of a run after cooling is not what the engine does again and again.
std::vector<std::string> heroesOf(const Job &job, const MeasuredRuns &set);

/// What is worth a first look: of the runs of one kind the last two sets that were made twice, the earlier
/// one first; else the last two runs. Fewer than two runs: nothing.
std::pair<MeasuredRuns, MeasuredRuns> firstLook(const Job &job, const MeasuredRuns &runs);

/// Where runs stand among each other, by groups.
std::vector<RunPlace> placesOf(std::span<const MeasuredRuns> groups);

} // namespace wheelwright
