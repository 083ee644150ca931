// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/job/job.h"

#include <array>
#include <string>
#include <vector>

namespace wheelwright {

/// What is known of an engine before anything was measured.
struct EngineTemplate {
    std::string name = "New job";
    double displacementL = 2;
    double cylinders = 4;
    double revLimitRpm = 7000;
    double torquePeakRpm = 0; ///< where it breathes best; 0: nobody knows, 60 % of the rev limit
    double boostKpa = 100;    ///< gauge, wanted on the top fuel; 0: naturally aspirated
    Charging charging = Charging::turbo;
    Alcohol alcohol = Alcohol::ethanol;
    double baseContent = 0.10;
    double topContent = 0.85;
    double injectorCcMin = 550; ///< each, at 300 kPa
    double compressionRatio = 9.5;
    std::vector<std::string>
        stated{}; ///< fields of the job that these say; of the others nobody has said anything
};

/// The fields that an EngineTemplate can say, but its boost, which no flat table holds.
inline constexpr std::array templateFields{
    "engine.displacement_l", "engine.cylinders",         "engine.rev_limit_rpm",
    "fuel.alcohol",          "calibration.base_content", "calibration.top_content",
    "injectors.flow_cc_min", "engine.compression_ratio", "engine.charging"};

/// Flat tables, and what was stated of the engine; the rest has its defaults. Throws InputError as
/// validate().
Job flatJob(const EngineTemplate &known);

/// A first calibration of two tables from that, every cell marked as estimated: a modest place to begin
/// measuring from, not a calibration. VE: a hump over speed, 92 % at the torque peak, less when throttled.
/// Spark: 26° at 100 kPa from half the rev limit on, 2° less at the torque peak, where the cylinders are
/// fullest, a degree less for each 7 kPa of boost on the base fuel and for each 14 on the top fuel, 4° at
/// least. Boost: 60 % of the wanted on the base fuel; from a
/// quarter to half of the rev limit a turbine spins up, a blower is there from the start. λ: 0.03 under the
/// lean line of Verify, 0.88 at full throttle without boost. Starting fuel doubles near 0 °C on the top fuel.
/// All common practice, from memory. Throws InputError for what no engine is.
Job templateJob(const EngineTemplate &known);

} // namespace wheelwright
