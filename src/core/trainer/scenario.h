// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/evidence/watch_rule.h"
#include "core/practice/inspection.h"
#include "core/practice/practice_run.h"

#include <array>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

namespace wheelwright {

/// What somebody did in a scenario, from its beginning to its end.
struct Training {
    Job given;                           ///< the job as it was handed over
    Job left;                            ///< with the calibration as it is in the end
    std::vector<PracticeSample> samples; ///< all of them, 100 a second
    std::vector<PracticeEvent> events;   ///< what was poured, set and looked at
    PracticeDamage damage;
    std::string destroyedBy;
    double tankContent = 0; ///< true, in the end
    std::string answer;     ///< what he says that it is: of trainingCauses()
    int hints = 0;          ///< that he took
};

/// A training read through as a log is.
class Examined {
  public:
    explicit Examined(const Training &training);
    const Training &training() const { return m_training; }
    const WatchedLog &log() const { return m_log; }
    const LogFindings &findings() const { return m_findings; }
    /// Pulls over more than leastPullRpm.
    const std::vector<Episode> &pulls() const { return m_pulls; }
    const Episode *lastPull() const { return m_pulls.empty() ? nullptr : &m_pulls.back(); }

    /// When a rule was first broken, seconds.
    std::optional<double> firstS(std::string_view rule) const;
    /// Mean of λ less its target where the manifold pressure is in a range, between two times, over at least
    /// three seconds; when it was first known.
    struct Known {
        double value = 0, atS = 0;
    };
    std::optional<Known> lambdaError(double fromKpa, double toKpa, double fromS = 0, double toS = 1e9) const;
    bool looked(std::string_view inspection) const;
    /// When the calibration was changed last; 0: never.
    double lastChangeS() const;
    double firstChangeS() const;
    bool tablesTouched() const; ///< the calibration is not what was given
    double minutes() const;     ///< of driving, cooling down and looking

  private:
    const Training &m_training;
    Study m_study;
    WatchedLog m_log;
    LogFindings m_findings;
    std::vector<Episode> m_pulls;
};
inline constexpr double leastPullRpm = 1500;

/// Something to practise on, with a fault or a trap. Adding one is a file <name>_scenario.cpp that defines
/// `const Scenario &<name>Scenario()` and a line in all_scenarios.def.
struct Scenario {
    std::string_view id;
    PhraseText title, goal; ///< what he is told
    std::array<PhraseText, 3> hints;
    std::uint64_t seed = 1; ///< of the engine
    double ethanol = 0.1;   ///< in tank and lines
    std::vector<FaultSetting> faults{};
    void (*prepare)(Job &) = nullptr; ///< what is wrong with the calibration that he is given
    double drainedL = 0, pouredL = 0; ///< just before he begins …
    std::string_view poured{};        ///< … of this fuel of the shelf
    std::string_view cause;           ///< what it is: of trainingCauses()
    std::string_view temptation;      ///< what the careless take it for
    std::string_view confirm;         ///< the inspection that settles it
    double parMinutes = 30;
    PhraseText signWords;                             ///< the evidence that was there
    std::optional<double> (*signS)(const Examined &); ///< when it was seen first, seconds
    PhraseText goalWords;                             ///< what counted as reaching the goal
    bool (*reached)(const Examined &);
    PhraseText lesson;
    std::string_view tells{}; ///< an inspection that tells of the calibration rather than of the engine …
    PhraseText told{};        ///< … and what it says
};
std::span<const Scenario *const> allScenarios();
/// Throws InputError at `where`, naming those there are.
const Scenario &scenarioById(std::string_view id, const std::string &where);

/// What it may be: every fault, and what is no fault of the engine.
struct TrainingCause {
    std::string_view id;
    PhraseText title;
};
std::span<const TrainingCause> trainingCauses();
const TrainingCause &causeById(std::string_view id, const std::string &where);

/// The job as it is handed over, made from a sound one.
Job givenJob(const Scenario &scenario, const Job &sound);
/// The engine: drawn for the sound job, so that what is wrong with the given one is not in it.
HiddenEngine engineOf(const Scenario &scenario, const Job &sound);
/// What somebody who looks finds here.
Inspected inspectIn(const Scenario &scenario, const Inspection &inspection, const HiddenEngine &engine,
                    double tankContent);
/// What was done to its tank before he came.
std::vector<PracticeStep> stepsBefore(const Scenario &scenario);
/// Drives a scenario by a script whose steps follow what was poured before.
Training drive(const Scenario &scenario, const Job &sound, const PracticeScript &script);

/// Goal of those with a fault that no calibration cures: after its sign was there, at most one pull more, and
/// the tables left alone.
bool stoppedInTime(const Examined &examined, std::optional<double> signS);

/// One thing that counts.
struct TrainingItem {
    std::string_view id; ///< "named"
    PhraseText title;
    int points = 0, most = 0;
    Phrase words; ///< what was found
};
struct TrainingScore {
    std::vector<TrainingItem> items;
    int hintsTaken = 0, points = 0; ///< 0–100
    bool passed = false;
    Phrase verdict;
};
TrainingScore score(const Scenario &scenario, const Training &training);
/// Opens the envelope: what it was, the evidence that was there, what settles it, what to learn.
std::vector<Phrase> debrief(const Scenario &scenario, const Training &training);

inline constexpr int hintCosts = 5,
                     passFrom = 75; ///< with the cause named, the goal reached and the engine alive

} // namespace wheelwright
