// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/phrase.h"
#include "core/base/unit.h"
#include "core/study/study.h"
#include "core/tables/table2d.h"

#include <cstdint>
#include <span>
#include <string>
#include <string_view>

namespace wheelwright {

/// What an engine really is, which its controller and its tuner do not know: the truth of a practice engine.
/// Everything that the job states (displacement, injectors, pumps, tank, calibration) is taken from the job;
/// here stands how reality differs from it and what no job says. Units stand in the keys of hiddenFields().
struct HiddenEngine {
    std::string name = "Practice engine";
    double seed = 1; ///< of the noise; whole
    Table2D ve;      ///< volumetric efficiency on gasoline, %, over rpm and manifold pressure

    // Air
    double airC = 22, humidity = 0.5, ambientKpa = 101.325;
    // Cylinder
    double compressionRatio = 9.5, rodRatio = 3.2, coolingShare = 0.4, heatingK = 40, residualShare = 0.05,
           wallFactor = 2, delayDeg = 12, burnDeg = 55, octaneShift = 0, sensitivityAtBoost = 0.5,
           veGainPer100K = 0.08, hottestCylinderK = 6, cylinderLambdaSpread = 0.02, cycleScatter = 0.06,
           baseTimingErrorDeg = 0, frictionFactor = 1, engineInertia = 0.2, mechanicalSparkDeg = 30;
    // Fuel
    double injectorFlowFactor = 1, deadTimeErrorMs = 0, pumpFactor = 1, filmShare = 0.15, filmS = 0.3,
           gasolineRonError = 0, highEthanolError = 0, mechanicalPumpFactor = 1;
    // Boost
    double springKpa = 60, dutyGainKpa = 100, creepKpa = 4, spoolFromShare = 0.25, spoolFullShare = 0.45,
           capacityKpa = 220, spoolS = 0.35, wastegateS = 0.05, exhaustGain = 0.3,
           compressorEfficiency = 0.68, coolerShare = 0.75, blowerKpa = 80;
    // Heat
    double soakKPerKw = 0.12, soakS = 90, thermostatC = 86, coolantKPerKw = 0.06;
    // Sensors
    double widebandDelayS = 0.04, widebandLagS = 0.08, intakeLagS = 4, contentLagS = 1.5, mapNoiseKpa = 0.6,
           lambdaNoise = 0.004, contentNoise = 0.003;
    // Vehicle and dyno
    double massKg = 1150, tyreM = 0.31, dragAreaM2 = 0.7, rolling = 0.013, drivelineLoss = 0.13,
           rollerKg = 1300, loadedRpmPerS = 450;
    // What it stands
    double knockS = 2.5, leanS = 8, peakKpa = 14000, peakS = 1.5, overspeedShare = 1.06, coolantC = 118;

    bool operator==(const HiddenEngine &) const = default;
};

/// Boost over the spring goes with this power of the duty.
inline constexpr double dutyPower = 1.2;

/// Ideal cooling of the gasoline that the air of a truth is stated for, K: sources.md.
inline constexpr double gasolineCoolingK = 24;

/// One line of the hidden truth: how it is called, what it may be, and from where to where it is drawn.
struct HiddenField {
    std::string_view key; ///< "boost.spring_kpa": group and name, its unit in the last word
    double HiddenEngine::*member;
    double least, most; ///< allowed
    double drawLow,
        drawHigh; ///< a seed draws evenly between; with `of` these are factors of it, or added to it
    enum class Of { itself, timesJob, plusJob } of = Of::itself;
    PhraseText help;
};
std::span<const HiddenField> hiddenFields();

/// What the job itself says of it, where a field is drawn around that; otherwise the field's usual number.
HiddenEngine engineAsTheJobSays(const Study &study);
/// Everything drawn within the stated ranges from a seed: the same seed, the same engine. VE: what the fuel
/// tables imply at the base content, times a smooth error of up to ± 7 % and another slope over load.
HiddenEngine drawEngine(const Study &study, std::uint64_t seed);
/// Throws InputError naming the field.
void validate(const HiddenEngine &engine);

} // namespace wheelwright
