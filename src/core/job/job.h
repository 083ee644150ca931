#pragma once
#include "core/base/limits.h"
#include "core/flow/fuel_pump.h"
#include "core/flow/injector_set.h"
#include "core/flow/mechanical_injection.h"
#include "core/flow/spray.h"
#include "core/fuel/blend.h"
#include "core/fuel/settling.h"
#include "core/tables/curve.h"
#include "core/tables/table2d.h"
#include "core/tables/table_kind.h"
#include "core/tables/two_table.h"

#include <array>
#include <string>
#include <vector>

namespace wheelwright {

/// The engine and the limits that it sets.
struct Engine {
    double displacementL = 2.0;
    double cylinders = 4; ///< whole number, 1–16
    double revLimitRpm = 7000;
    double mapSensorMinKpa = 10;                    ///< absolute
    double mapSensorMaxKpa = 300;                   ///< absolute
    Curve boostLimitKpa = Curve::constant(200);     ///< absolute, over content: what engine and fuel stand
    Curve throttleKpa = Curve({0, 100}, {30, 100}); ///< absolute, over throttle in per cent, for such tables

    bool operator==(const Engine &) const = default;
};

struct Injectors {
    double flowCcMin = 440;        ///< each, static, at the rated differential pressure
    double ratedPressureKpa = 300; ///< differential pressure at which the flow was measured
    double railPressureKpa = 300;  ///< gauge, with the engine off
    bool boostReferenced = true;   ///< the regulator adds manifold pressure
    double deadTimeMs = 0.9;       ///< at the usual battery voltage, where no table states it
    double batteryV = 13.5;        ///< usual, with the engine running
    bool batch = false;            ///< two pulses a cycle instead of one
    double linearMinMs = 0;        ///< pulse under which the flow is not linear any more; 0: not stated
    double testFluidKgM3 = 0;      ///< rated with a fluid of this density; 0: with fuel, no correction
    std::vector<DeadTimePoint> deadTimes;

    bool operator==(const Injectors &) const = default;
};

/// An injector's own flow, as measured on a bench.
struct MeasuredInjector {
    std::string label = "Injector";
    double flowCcMin = 440;

    bool operator==(const MeasuredInjector &) const = default;
};

/// A cylinder against the others: one that runs hot or lean needs more.
struct CylinderNeed {
    std::string label = "Cylinder";
    double need = 1; ///< 1 usual, 1.03: three per cent more

    bool operator==(const CylinderNeed &) const = default;
};

/// Pumps, rail and return.
struct FuelSupply {
    double volts = 13.5;           ///< at the pumps
    bool returns = true;           ///< what the engine does not use flows back
    double margin = 0.07;          ///< demand is counted this much higher: filter, ageing
    double sensorReturnLMin = 0.3; ///< a content sensor in the return needs so much
    double freezeLoadKpa = 0;      ///< the controller freezes the content above both; 0: it does not
    double freezeRpm = 0;
    double commandedKpa = 0; ///< across the injectors, from a log at its highest flow; 0: not read
    double measuredKpa = 0;
    std::vector<PumpPoint> points;
    std::vector<FittedPump> pumps;

    bool operator==(const FuelSupply &) const = default;
};

/// One pull: solenoid duty and the boost that came of it.
struct BoostPoint {
    double duty = 0;     ///< 0–1
    double boostKpa = 0; ///< gauge
    double gear = 0;     ///< 0: not stated
    double content = 0;
    std::string note;

    bool operator==(const BoostPoint &) const = default;
};

struct BoostControl {
    double springKpa = 0; ///< gauge, measured; 0: not known
    double cutKpa = 0;    ///< absolute; 0: none is set
    std::vector<BoostPoint> points;

    bool operator==(const BoostControl &) const = default;
};

enum class SprayPlace { beforeCompressor, afterCompressor, ports };
enum class SprayFailSafe { none, boostCut, sparkRetard };

struct AuxiliaryInjection {
    bool fitted = false;
    Spray spray;
    SprayPlace place = SprayPlace::afterCompressor;
    bool trimmed = true; ///< the fuel tables are trimmed for it
    SprayFailSafe failSafe = SprayFailSafe::none;

    bool operator==(const AuxiliaryInjection &) const = default;
};

/// Who meters the fuel.
enum class FuelControl { controller, mechanical };

/// One pass with mechanical injection.
struct PassRecord {
    std::string at;
    double pillMm = 0;
    double exhaustC = 0; ///< hottest; 0: not read
    double power = 0;    ///< in the user's own measure: kW, speed at the end …; 0: not read
    bool hardStart = false;
    std::string plugs, oil, note;

    bool operator==(const PassRecord &) const = default;
};

/// The surrounding air of a day.
struct Weather {
    double pressureKpa = 101.325; ///< station pressure, absolute
    double temperatureC = 20;
    double humidity = 0.5; ///< relative, 0–1

    bool operator==(const Weather &) const = default;
};

struct MechanicalSetup {
    MechanicalInjection injection;
    double ve = 1;
    Curve manifoldKpa = Curve::constant(200); ///< absolute, over rpm
    double intakeC = 60;
    double pillStepMm = 0.127;
    double judgedRpm = 7500; ///< where pills are compared
    Weather then;            ///< when these pills were chosen
    Weather now;             ///< today
    std::vector<PassRecord> passes;

    bool operator==(const MechanicalSetup &) const = default;
};

/// The air that the engine is judged in.
struct Conditions {
    double ambientKpa = 101.325;
    double intakeUsualC = 40;
    double intakeColdestC = 10; ///< densest charge: the worst case for injectors
    bool operator==(const Conditions &) const = default;
};

enum class Alcohol { ethanol, methanol };

/// What stands between the commanded spark and the delivered one, beside the tables.
struct SparkDelivery {
    bool baseTimingChecked = false; ///< by a timing light, after the last mechanical work
    double baseTimingErrorDeg = 0;  ///< delivered less commanded, as it was seen then
    double fallbackUsual = 1;       ///< share of the main table against the fallback table: 1 clean fuel
    double fallbackWorst = 1;
    double knockRetardWorstDeg = 0; ///< most that knock control takes
    double coolantColdC = 70, coolantUsualC = 90, coolantHotC = 105;
    double intakeHotC = 60;
    bool knockControl = true;

    bool operator==(const SparkDelivery &) const = default;
};

enum class SensorFaultRule { notStated, fixedContent, holdLast };

/// What the controller does with the content sensor.
struct ContentSensing {
    SensorFaultRule onFault = SensorFaultRule::notStated;
    double faultContent = 0;        ///< that it falls back to
    double slewPerS = 0;            ///< most that its content follows in a second; 0: at once
    double plausibleLeast = 0;      ///< readings under it are taken for a fault
    double plausibleMost = 1;       ///< and over it
    bool comparedAfterFill = false; ///< with tube or arithmetic before any load, so that a stuck one is seen

    bool operator==(const ContentSensing &) const = default;
};

/// The calibration as it was, under a name. `state` is text made by stateOf() (job/revision.h).
struct Revision {
    std::string name = "Revision"; ///< unique
    std::string at;                ///< ISO 8601
    std::string note;
    bool sent = false; ///< handed to the controller
    std::string state;

    bool operator==(const Revision &) const = default;
};

/// A note on one cell, or its lock. The cell is named by its breakpoints, so it survives other tables.
struct CellMark {
    std::string table; ///< path
    double rpm = 0, y = 0;
    bool locked = false;
    std::string note;

    bool operator==(const CellMark &) const = default;
};

/// Where the numbers of a table come from, as run lengths of codes, row by row (tables/cell_trust.h).
struct CellOrigins {
    std::string table; ///< path
    std::string codes;

    bool operator==(const CellOrigins &) const = default;
};

/// What the load axis of fuel, spark and lambda tables holds.
enum class LoadAxis {
    manifoldPressure, ///< kPa absolute
    airMass,          ///< mg per cylinder and cycle that would be drawn at 100 % VE and usual intake air
    throttle          ///< per cent; engine.throttle_kpa says what pressure that is
};

/// What the second axis of the boost tables holds.
enum class BoostAxis { throttle, gear };

/// What a number in the fuel tables means.
enum class FuelMeaning {
    trueVe,              ///< volumetric efficiency in %; the controller's fuel model knows the content
    contentReferencedVe, ///< % of the reference fuel's need: the fuel multiplier of the content is inside
    pulseWidth,          ///< ms of one pulse, dead time inside, at the lambda target and usual intake air
    fuelMass             ///< mg per cylinder and cycle, at the lambda target and usual intake air
};

/// How content enters the tables (tables/school.h).
enum class School {
    twoTables,    ///< A: T = (1 − w) · base + w · top
    baseAndAdder, ///< B: T = base + s · Δ; held as base and base + Δ, so s is w
    fuelModel,    ///< C: one true VE table times c(E); the other quantities as A
    windowSet,    ///< D: one calibration for each window of contents
    stack         ///< E: tables at several contents, linear between
};

/// The tables of one content, for schools D and E.
struct ContentLevel {
    double content = 0;   ///< that they were calibrated at
    double windowLow = 0; ///< school D: contents that they are used for
    double windowHigh = 1;
    std::array<Table2D, calibratedQuantityCount> tables;

    const Table2D &of(CalibratedQuantity q) const { return tables[static_cast<std::size_t>(q)]; }
    Table2D &of(CalibratedQuantity q) { return tables[static_cast<std::size_t>(q)]; }
    bool operator==(const ContentLevel &) const = default;
};

/// How content enters the calibration, and its tables: two of each quantity and a weight curve, or levels.
struct Calibration {
    School school = School::twoTables;
    std::vector<ContentLevel> levels; ///< ascending in content; schools D and E need one and two
    FuelMeaning fuelMeaning = FuelMeaning::contentReferencedVe;
    LoadAxis loadAxis = LoadAxis::manifoldPressure;
    BoostAxis boostAxis = BoostAxis::throttle;
    double fuelReferenceContent = 0; ///< content at which a content-referenced VE is a true VE
    double pulsePressureKpa = 0; ///< across the injector, that pulse widths hold at; 0: what it sees there
    double baseContent = 0.10;   ///< content that the base tables were calibrated at
    double topContent = 0.85;    ///< content that the top tables were calibrated at
    OutsideRule outside = OutsideRule::hold;
    std::array<TwoTable, calibratedQuantityCount> tables;
    Curve learnedFuelCorrection = Curve::constant(1); ///< measured need over the model's, by content

    const TwoTable &of(CalibratedQuantity q) const { return tables[static_cast<std::size_t>(q)]; }
    TwoTable &of(CalibratedQuantity q) { return tables[static_cast<std::size_t>(q)]; }
    bool operator==(const Calibration &) const = default;
};

/// A hydrocarbon other than the job's gasoline: a race gasoline, a pump grade of another octane.
struct Hydrocarbon : Component {
    Hydrocarbon() : Component(defaultGasoline()) { name = "Hydrocarbon", origin.clear(); }
    bool leaded = false;
    double oxygen = 0; ///< mass fraction of oxygen, as data sheets state it

    bool operator==(const Hydrocarbon &) const = default;
};

enum class FuelKind { pump, highEthanol, methanol, raceGasoline, booster };

/// A fuel within reach: at the station, or in a can.
struct ShelfEntry {
    std::string name = "Fuel";
    FuelKind kind = FuelKind::pump;
    double ethanol = 0;      ///< volume fraction
    double methanol = 0;     ///< volume fraction
    std::string hydrocarbon; ///< name of the Hydrocarbon in it; empty: the job's gasoline
    double contentSigma = 0; ///< standard uncertainty of its alcohol; 0: what is usual for its kind
    double pricePerL = 0;    ///< in the user's money
    double leftL = 0;        ///< 0: as much as is wanted
    double canL = 0;         ///< size of a sealed can; 0: by the litre
    bool leaded = false;
    bool inPlans = true;   ///< may be poured by a plan
    double treatRate = 0;  ///< of a booster: volume per volume of fuel
    double treatedRon = 0; ///< octane that the fuel has then, as the user knows it
    std::string supplier;  ///< station or supplier, as the user calls it
    std::string opened;    ///< date of opening, ISO 8601; empty: sealed

    bool operator==(const ShelfEntry &) const = default;
};

/// One purchase of a fuel of the shelf.
struct FuelLot {
    std::string label = "Lot"; ///< unique among the lots
    std::string fuel;          ///< name of the shelf's fuel
    std::string supplier;
    std::string bought;   ///< date, ISO 8601
    double pricePerL = 0; ///< 0: the shelf's
    double leftL = 0;
    std::string opened; ///< date, ISO 8601; empty: sealed
    std::string note;

    bool operator==(const FuelLot &) const = default;
};

/// One test by tube, of a lot or of the tank.
struct TubeRecord {
    std::string at; ///< ISO 8601
    std::string of; ///< label of a lot; empty: what is in the tank
    double waterLine = 50, fuelLine = 100, layerTop = 50;
    double reading = 0.5; ///< standard uncertainty of each reading
    double contraction = 0;
    double contractionSigma = 0.01;
    std::string station, batch, photo, note;

    bool operator==(const TubeRecord &) const = default;
};

/// Two fuels of the shelf mixed, as a fuel to compare with.
struct MixtureEntry {
    std::string name = "Mixture";
    std::string first, second; ///< names of the shelf's fuels
    double share = 0;          ///< of the second, by volume; 0 with a booster: its treat rate

    bool operator==(const MixtureEntry &) const = default;
};

enum class TankEventKind {
    pour,    ///< litres of a fuel are added
    drain,   ///< litres are taken out
    burn,    ///< litres are used
    level,   ///< the volume is known anew: litres
    content, ///< the content is known anew, and believed
    sensor,  ///< the sensor was read: an opinion, the arithmetic goes on without it
    tube     ///< a tube was read: an opinion
};

/// What happened to the tank. Its state is what follows from all events in their order.
struct TankEvent {
    std::string at; ///< ISO 8601; may be empty
    TankEventKind kind = TankEventKind::pour;
    double litres = 0;      ///< for contents: ignored
    double litresSigma = 0; ///< standard uncertainty; 0: what is usual for such an event
    double ethanol = 0;     ///< for pour and contents
    double methanol = 0;
    double contentSigma = 0; ///< standard uncertainty; 0: what is usual
    std::string hydrocarbon; ///< of what is poured; empty: the job's gasoline
    std::string note;

    bool operator==(const TankEvent &) const = default;
};

/// What may go into the tank.
struct FuelSystem {
    bool contentSensor = true;
    bool catalyst = false;     ///< or an oxygen sensor that must last
    double ratedEthanol = 0.1; ///< highest content that pump, hoses and seals are rated for
    double ratedMethanol = 0;

    bool operator==(const FuelSystem &) const = default;
};

/// What the engine uses, measured on a fuel of this content.
struct Consumption {
    double litresPer100Km = 0; ///< 0: not known
    double litresPerHour = 0;  ///< of an event; 0: not known
    double content = 0.1;

    bool operator==(const Consumption &) const = default;
};

struct TankSetup {
    double capacityL = 60;
    double reserveL = 8; ///< under it the pickup may run dry: no pulls
    double lineL = 0.5;  ///< feed line; with the sensor in it, up to the sensor
    double railL = 0;    ///< from there to the last injector
    double returnL = 0;  ///< return line up to a sensor in it
    SensorPlace sensorPlace = SensorPlace::feed;
    double surgeL = 0;          ///< surge tank; 0: none
    double surgeFlowLMin = 0;   ///< of its lift pump; 0: what flows through the line
    double idleFlowLMin = 0.05; ///< through the line at idle
    double cruiseFlowLMin = 0.2;
    double idleUseLMin = 0; ///< of it the engine burns: matters to a sensor in the return
    double cruiseUseLMin = 0;

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
    Component ethanol = wheelwright::ethanol();
    Component methanol = wheelwright::methanol();
    std::vector<Hydrocarbon> hydrocarbons;
    Alcohol alcohol = Alcohol::ethanol;
    Calibration calibration;
    TankSetup tank;
    std::vector<TankEvent> tankEvents;
    std::vector<ShelfEntry> shelf;
    std::vector<FuelLot> lots;
    std::vector<TubeRecord> tubes;
    std::vector<MixtureEntry> mixtures;
    FuelControl control = FuelControl::controller;
    std::vector<MeasuredInjector> measuredInjectors;
    std::vector<CylinderNeed> cylinderNeeds;
    FuelSupply supply;
    BoostControl boost;
    AuxiliaryInjection aux;
    MechanicalSetup mechanical;
    std::vector<ExtraTable> extras;
    SparkDelivery sparkDelivery;
    ContentSensing contentSensing;
    std::vector<Revision> revisions;
    std::vector<CellMark> cellMarks;
    std::vector<CellOrigins> cellOrigins;
    FuelSystem fuelSystem;
    Consumption consumption;
    Limits limits; ///< the user's own limits by id; others are the shipped ones

    bool operator==(const Job &) const = default;
};

/// The job's own limit, or the shipped one, and where it comes from (base/limits.h).
double limitOf(const Job &job, std::string_view id);
std::string limitOrigin(const Job &job, std::string_view id);

/// Blends of the job's own gasoline, ethanol and methanol.
BlendModel blendModelOf(const Job &job);

/// The fuel of a content: that much of the job's alcohol, the rest its gasoline.
Blend blendAt(const Job &job, double content);

/// A job that passes validate(), with flat tables to begin from. Not a calibration.
Job newJob(std::string name);
/// The tables that a new job begins with, for the fuel and the contents that the job states.
void makeTablesFlat(Job &job);

} // namespace wheelwright
