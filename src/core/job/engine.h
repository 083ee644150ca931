// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/combustion/charge.h"
#include "core/tables/curve.h"

#include <string>

namespace wheelwright {

/// Who meters the fuel.
enum class FuelControl { controller, mechanical };

/// What makes the boost: a turbine has to be spun up first, a blower on the crank has its boost at once.
enum class Charging { turbo, blower, none };

/// What takes heat out of the charge between compressor and throttle.
enum class ChargeCooler { notStated, air, water, none };

/// The engine and the limits that it sets.
struct Engine {
    double displacementL = 2.0;
    double cylinders = 4; ///< whole number, 1–16
    double compressionRatio = 9.5;
    double rodRatio = 3.2; ///< length of the connecting rod over radius of the crank
    InjectionPlace fuelPlace = InjectionPlace::port;
    Charging charging = Charging::turbo;
    ChargeCooler chargeCooler = ChargeCooler::notStated;
    double revLimitRpm = 7000;
    double mapSensorMinKpa = 10;                    ///< absolute
    double mapSensorMaxKpa = 300;                   ///< absolute
    Curve boostLimitKpa = Curve::constant(200);     ///< absolute, over content: what engine and fuel stand
    Curve throttleKpa = Curve({0, 100}, {30, 100}); ///< absolute, over throttle in per cent, for such tables

    bool operator==(const Engine &) const = default;
};

/// A cylinder against the others: one that runs hot or lean needs more.
struct CylinderNeed {
    std::string label = "Cylinder";
    double need = 1; ///< 1 usual, 1.03: three per cent more

    bool operator==(const CylinderNeed &) const = default;
};

/// Something that was looked at on the engine (intake/part.h says what there is to look at).
struct InspectionMark {
    std::string item;   ///< id: "leak_test"
    std::string at;     ///< ISO 8601
    bool wrong = false; ///< not as it should be
    std::string note;   ///< what was seen

    bool operator==(const InspectionMark &) const = default;
};

} // namespace wheelwright
