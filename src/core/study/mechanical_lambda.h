// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/phrase.h"
#include "core/flow/mechanical_injection.h"
#include "core/job/job.h"

#include <vector>

namespace wheelwright {

/// Exhaust of a pass, °C: far too rich under, wanted about, and over which nobody leans on: 600 °F and about
/// 1000 °F are common practice of the trade, 1100 °F is from memory.
inline constexpr double passFarRichC = 315.6, passWantedC = 537.8, passHotC = 593.3;

/// The content of the one fuel that such a job runs on: nothing reads it.
double mechanicalContent(const Job &job);
/// The job's mechanical injection and engine at one speed.
MixturePoint mixtureOfJob(const Job &job, double rpm);
/// From a quarter of the rev limit to it, evenly. points: at least 2.
std::vector<MixturePoint> mixtureOverSpeed(const Job &job, std::size_t points = 41);
/// Pills about the one that is in, at the speed the job judges them.
std::vector<PillStep> pillsOfJob(const Job &job, int count = 4);
MechanicalEngine mechanicalEngineAt(const Job &job, double rpm);

/// Today's air against that when the pills were chosen: ratio of densities, and the main pill for equal λ.
struct WeatherAdvice {
    double densityThen = 0, densityNow = 0; ///< of the dry air, kg/m³
    double pillMm = 0;                      ///< 0: none does
};
WeatherAdvice adviseForWeather(const Job &job);

/// Main and high-speed pills about those that are in, at the speed the job judges them.
std::vector<PillCombination> pillChartOfJob(const Job &job, int count = 2);

/// What the passes say: far too rich, near the target, leaner made more, hard to start, oil. Oldest first,
/// with the number of the pass it is about.
struct PassFinding {
    std::size_t pass;
    Phrase words;
};
std::vector<PassFinding> readPasses(const Job &job);

} // namespace wheelwright
