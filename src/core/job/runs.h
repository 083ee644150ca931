// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/deferred_text.h"
#include "core/job/logs.h"

#include <string>
#include <string_view>

namespace wheelwright {

struct Job;

/// Where the numbers of a run come from.
enum class RunOrigin {
    file,     ///< of a dyno
    log,      ///< an episode of a log of this job
    practice, ///< the practice engine
    typed
};

/// How a dyno holds the engine; of the road all is an estimate.
enum class RunMode { notSaid, inertia, loaded, road };

/// What weather the numbers of a run are stated for (runs/air_correction.h).
enum class CorrectionStandard { notSaid, none, j1349, iso1585, std, din };
inline constexpr std::size_t correctionStandardCount = static_cast<std::size_t>(CorrectionStandard::din) + 1;

/// Who says what air a run was made in.
enum class AmbientBasis {
    none,   ///< nobody: it cannot be corrected
    stated, ///< typed, or said by its file
    job,    ///< the air of today, as the job states it
    channel ///< its own columns
};

/// Who says what fuel a run was made on.
enum class RunContentBasis {
    none,    ///< nobody
    channel, ///< mean of its own column
    stated,  ///< by the user, or by its file
    tank     ///< what the tank of the job held by its arithmetic when the run came in
};

/// One pull from low to high speed, or down again, as it was measured: raw stays raw. What follows from it is
/// in core/runs.
struct Run {
    std::string id;   ///< "1", "2" … in the order in which they came
    std::string name; ///< of its file, and which pull of it
    RunOrigin origin = RunOrigin::file;
    std::string source; ///< the file, or the id of the log
    std::string added;  ///< ISO 8601
    std::string day;    ///< ISO 8601, when it was made; empty: nobody says
    double order = 0;   ///< on its day, from 1; 0: nobody says
    std::string fuel;   ///< as people call it
    double content = 0; ///< volume fraction
    RunContentBasis contentBasis = RunContentBasis::none;
    std::string revision;    ///< that it ran with; empty: the calibration as it was when it came in
    std::string calibration; ///< fingerprint of that state (calibrationPrint())
    std::string dyno;        ///< of the job's list; empty: nobody says
    RunMode mode = RunMode::notSaid;
    double loadShare = 0;                                      ///< of the brake, 0–1; 0: nobody says
    double gear = 0;                                           ///< 0: nobody says
    bool down = false;                                         ///< from high speed to low
    CorrectionStandard standard = CorrectionStandard::notSaid; ///< that its numbers are already stated for
    double smoothedRpm = 0; ///< smoothing that was already applied, rpm; 0: none that anybody knows of
    /// What its numbers are known to beside the scatter of runs, as a share, 95 %; 0: nobody says. Of the
    /// road several per cent.
    double knownWithin = 0;
    AmbientBasis ambient = AmbientBasis::none;
    double ambientKpa = 101.325, ambientC = 20, humidity = 0.4; ///< absolute, °C, 0–1; as `ambient` says
    double startIntakeC = 0, startCoolantC = 0, startOilC = 0;  ///< 0: nobody says
    std::string hardware;                                       ///< what is on the engine that matters
    std::string cam;                                            ///< which one, where it has two
    std::string change, verdict, next;                          ///< of the run sheet
    std::string plugs, oil, note;
    std::string photos; ///< paths, a line each
    double rows = 0, rpmFrom = 0, rpmTo = 0;
    DeferredText samples; ///< text made by runSamplesText() (runs/run_samples.h)

    bool operator==(const Run &) const = default;
};

/// A dyno that runs were made on.
struct Dyno {
    std::string name = "Dyno"; ///< unique
    std::string note;

    bool operator==(const Dyno &) const = default;
};

/// The car, for what a run on the road is worth.
struct Vehicle {
    double massKg = 1300;    ///< with driver and fuel, as it ran
    double dragAreaM2 = 0.7; ///< drag coefficient times frontal area
    double rolling = 0.013;  ///< coefficient of rolling resistance
    double tyreM = 1.95;     ///< rolling circumference
    double finalDrive = 3.9; ///< turns of the propeller shaft for one of the wheels
    double rotatingKg = 40;  ///< that wheels and driveline stand for beside the mass
    bool operator==(const Vehicle &) const = default;
};

struct GearRatio {
    double gear = 1;
    double ratio = 1; ///< turns of the engine for one of the propeller shaft
    bool operator==(const GearRatio &) const = default;
};

/// nullptr where the job has no such run.
const Run *runById(const Job &job, std::string_view id);
/// The id of the next run that comes.
std::string nextRunId(const Job &job);
/// Throws InputError where there is none.
void removeRun(Job &job, std::string_view id);

} // namespace wheelwright
