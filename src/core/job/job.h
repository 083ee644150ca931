#pragma once
#include "core/fuel/blend.h"
#include "core/tables/curve.h"
#include "core/tables/table2d.h"
#include "core/tables/two_table.h"

#include <array>
#include <map>
#include <string>
#include <vector>

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

/// A fuel within reach: at the station, or in a can.
struct ShelfEntry {
    std::string name = "Fuel";
    double ethanol = 0;      ///< volume fraction
    double methanol = 0;     ///< volume fraction
    double pricePerL = 0;    ///< in the user's money
    double leftL = 0;        ///< 0: as much as is wanted
    double canL = 0;         ///< size of a sealed can; 0: by the litre
    bool leaded = false;
    std::string supplier;    ///< station or supplier, as the user calls it
    std::string opened;      ///< date of opening, ISO 8601; empty: sealed

    bool operator==(const ShelfEntry &) const = default;
};

enum class TankEventKind {
    pour,    ///< litres of a fuel are added
    drain,   ///< litres are taken out
    burn,    ///< litres are used
    level,   ///< the volume is known anew: litres
    content  ///< the content is known anew, by sensor or tube
};

/// What happened to the tank. Its state is what follows from all events in their order.
struct TankEvent {
    std::string at;          ///< ISO 8601; may be empty
    TankEventKind kind = TankEventKind::pour;
    double litres = 0;       ///< for content: ignored
    double ethanol = 0;      ///< for pour and content
    double methanol = 0;
    std::string note;

    bool operator==(const TankEvent &) const = default;
};

struct TankSetup {
    double capacityL = 60;
    double reserveL = 8;     ///< under it the pickup may run dry: no pulls
    double lineL = 0.5;      ///< line and rail up to the content sensor
    double surgeL = 0;       ///< surge tank; 0: none
    double surgeFlowLMin = 0;   ///< of its lift pump; 0: what flows through the line
    double idleFlowLMin = 0.05; ///< through the line at idle
    double cruiseFlowLMin = 0.2;

    bool operator==(const TankSetup &) const = default;
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
    TankSetup tank;
    std::vector<TankEvent> tankEvents;
    std::vector<ShelfEntry> shelf;
    std::map<std::string, double> limits; ///< the user's own limits by id; others are the shipped ones

    bool operator==(const Job &) const = default;
};

/// The fuel of a content: that much of the job's alcohol, the rest its gasoline.
Blend blendAt(const Job &job, double content);

/// A job that passes validate(), with flat tables to begin from. Not a calibration.
Job newJob(std::string name);

} // namespace wheelwright
