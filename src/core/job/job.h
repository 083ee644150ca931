#pragma once
#include "core/fuel/blend.h"
#include "core/tables/curve.h"
#include "core/tables/table2d.h"
#include "core/tables/two_table.h"

#include <array>
#include <map>
#include <string>

namespace wheelwright {

/// The engine and the limits that it sets.
struct Engine {
    double displacementL = 2.0;
    double cylinders = 4; ///< whole number, 1–16
    double revLimitRpm = 7000;
    double mapSensorMinKpa = 10;                ///< absolute
    double mapSensorMaxKpa = 300;               ///< absolute
    Curve boostLimitKpa = Curve::constant(200); ///< absolute, over content: what engine and fuel stand

    bool operator==(const Engine &) const = default;
};

struct Injectors {
    double flowCcMin = 440;        ///< each, static, at the rated differential pressure
    double ratedPressureKpa = 300; ///< differential pressure at which the flow was measured
    double railPressureKpa = 300;  ///< gauge, with the engine off
    bool boostReferenced = true;   ///< the regulator adds manifold pressure
    double deadTimeMs = 0.9;       ///< at the usual battery voltage

    bool operator==(const Injectors &) const = default;
};

/// The air that the engine is judged in.
struct Conditions {
    double ambientKpa = 101.325;
    double intakeUsualC = 40;
    double intakeColdestC = 10; ///< densest charge: the worst case for injectors
    bool operator==(const Conditions &) const = default;
};

enum class Alcohol { ethanol, methanol };

/// What a number in the fuel tables means.
enum class FuelMeaning {
    trueVe,             ///< volumetric efficiency in %; the controller's fuel model knows the content
    contentReferencedVe ///< % of the reference fuel's need: the fuel multiplier of the content is inside
};

/// How content enters the calibration: school A, two full tables of each quantity and a weight curve.
struct Calibration {
    FuelMeaning fuelMeaning = FuelMeaning::contentReferencedVe;
    double fuelReferenceContent = 0; ///< content at which a content-referenced VE is a true VE
    double baseContent = 0.10;       ///< content that the base tables were calibrated at
    double topContent = 0.85;        ///< content that the top tables were calibrated at
    OutsideRule outside = OutsideRule::hold;
    std::array<TwoTable, calibratedQuantityCount> tables;
    Curve learnedFuelCorrection = Curve::constant(1); ///< measured need over the model's, by content

    const TwoTable &of(CalibratedQuantity q) const { return tables[static_cast<std::size_t>(q)]; }
    TwoTable &of(CalibratedQuantity q) { return tables[static_cast<std::size_t>(q)]; }
    bool operator==(const Calibration &) const = default;
};

/// One customer's engine with everything about it. A plain value: copy it, change the copy, compare.
/// Invariants are checked by validate() (job_schema.h), which every way into the program calls.
struct Job {
    std::string name = "New job";
    std::string notes;
    Engine engine;
    Injectors injectors;
    Conditions conditions;
    Component gasoline = defaultGasoline();
    Alcohol alcohol = Alcohol::ethanol;
    Calibration calibration;
    std::map<std::string, double> limits; ///< the user's own limits by id; others are the shipped ones

    bool operator==(const Job &) const = default;
};

/// The fuel of a content: that much of the job's alcohol, the rest its gasoline.
Blend blendAt(const Job &job, double content);

/// A job that passes validate(), with flat tables to begin from. Not a calibration.
Job newJob(std::string name);

} // namespace wheelwright
