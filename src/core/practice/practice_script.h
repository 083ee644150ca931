// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/phrase.h"
#include "core/job/job_schema.h"
#include "core/practice/practice_engine.h"

#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

namespace wheelwright {

/// One thing that a script does. Which of the numbers count is said by the step's definition.
struct PracticeStep {
    std::string what = "idle"; ///< "hold", "pull" …: of allStepKinds()
    double rpm = 3000, loadKpa = 60, seconds = 10, gear = 4, fromRpm = 2500, toRpm = 6500, fromKpa = 50,
           toKpa = 100, throttlePercent = 100, litres = 10, coolantC = 10, fromX = 0, toX = 0, fromY = 0,
           toY = 0, solenoidDuty = 0;
    DynoMode mode = DynoMode::inertia;
    std::string fuel, note, field, table, change, at;
    FieldContent value = 0.0;
    std::vector<std::string> given; ///< the keys that were said
    bool says(std::string_view key) const;

    bool operator==(const PracticeStep &) const = default;
};

/// A number that a step may be told.
struct StepNumber {
    std::string_view key; ///< unit in its last word: "load_kpa"
    double PracticeStep::*member;
    double least, most;
    bool required = false;
};
/// A text that a step may be told.
struct StepText {
    std::string_view key;
    std::string PracticeStep::*member;
    bool required = false;
};
struct StepKind {
    std::string_view id;
    PhraseText help;
    std::vector<StepNumber> numbers;
    std::vector<StepText> texts{};
    bool takesMode = false, takesValue = false;
};
std::span<const StepKind> allStepKinds();
/// Throws InputError at `where`, naming the kinds there are.
const StepKind &stepKindById(std::string_view id, const std::string &where);

/// What an engine is put through.
struct PracticeScript {
    bool cold = false;
    double coldC = 10;             ///< of everything, then
    std::optional<double> ethanol; ///< content of tank and lines; nothing: the job's tank by its arithmetic
    std::vector<PracticeStep> steps;

    bool operator==(const PracticeScript &) const = default;
};
/// Ids of the modes, in the order of DynoMode but `held`, which no pull has: "inertia", "loaded", "road".
std::span<const std::string_view> dynoModeIds();

/// One row of a dyno's table.
struct DynoRow {
    double rpm = 0, torqueNm = 0, powerKw = 0, boostKpa = 0, lambda = 0, sparkDeg = 0, contentPercent = 0,
           intakeC = 0, coolantC = 0;
    bool operator==(const DynoRow &) const = default;
};
struct DynoColumn {
    std::string_view key;
    double DynoRow::*member;
    int decimals;
};
std::span<const DynoColumn> dynoColumns();

/// A pull as a dyno writes it down: uncorrected, unsmoothed, at the wheels.
struct DynoRun {
    int number = 0;
    DynoMode mode = DynoMode::inertia;
    double gear = 4, startS = 0, ambientKpa = 0, ambientC = 0, humidity = 0, startIntakeC = 0,
           startCoolantC = 0, startContentPercent = 0, peakTorqueNm = 0, peakPowerKw = 0;
    std::string note;
    std::vector<DynoRow> rows;
};

struct PracticeEvent {
    double timeS = 0;
    std::string what;       ///< "pour 10 L Pump premium", "look tube"
    double tankContent = 0; ///< alcohol in the tank then, 0–1
};

/// What came of a script.
struct PracticeResult {
    std::vector<DynoRun> runs;
    std::vector<PracticeEvent> events;
    PracticeDamage damage;
    std::string destroyedBy; ///< empty: it lives
    double seconds = 0, burnedL = 0, content = 0, tankL = 0, tankContent = 0;
    std::size_t rows = 0;
};

} // namespace wheelwright
