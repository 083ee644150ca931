#include "core/job/job_components.h"

#include <algorithm>
#include <array>

namespace wheelwright {
namespace {

using D = Dimension;

Field number(std::string path, std::string title, D dimension, double least, double most,
             double &(*of)(Job &), std::string help) {
    Field f;
    f.path = std::move(path);
    f.title = std::move(title);
    f.help = std::move(help);
    f.dimension = dimension;
    f.least = least;
    f.most = most;
    f.read = [of](const Job &j) -> FieldContent { return of(const_cast<Job &>(j)); };
    f.write = [of](Job &j, const FieldContent &c) { of(j) = std::get<double>(c); };
    return f;
}

Field text(std::string path, std::string title, std::string &(*of)(Job &), std::string help) {
    Field f;
    f.path = std::move(path);
    f.title = std::move(title);
    f.help = std::move(help);
    f.read = [of](const Job &j) -> FieldContent { return of(const_cast<Job &>(j)); };
    f.write = [of](Job &j, const FieldContent &c) { of(j) = std::get<std::string>(c); };
    return f;
}

Field flag(std::string path, std::string title, bool &(*of)(Job &), std::string help) {
    Field f;
    f.path = std::move(path);
    f.title = std::move(title);
    f.help = std::move(help);
    f.read = [of](const Job &j) -> FieldContent { return of(const_cast<Job &>(j)); };
    f.write = [of](Job &j, const FieldContent &c) { of(j) = std::get<bool>(c); };
    return f;
}

/// The ids stand in the order of the enumeration.
template <class Enum>
Field choice(std::string path, std::string title, std::vector<std::string> ids,
             std::vector<std::string> titles, Enum &(*of)(Job &), std::string help) {
    Field f;
    f.path = std::move(path);
    f.title = std::move(title);
    f.help = std::move(help);
    f.choices = ids;
    f.choiceTitles = std::move(titles);
    f.read = [of, ids](const Job &j) -> FieldContent {
        return ids[static_cast<std::size_t>(of(const_cast<Job &>(j)))];
    };
    f.write = [of, ids](Job &j, const FieldContent &c) {
        const auto at = std::find(ids.begin(), ids.end(), std::get<std::string>(c));
        of(j) = static_cast<Enum>(at - ids.begin());
    };
    return f;
}

template <CalibratedQuantity q>
WeightShape &shapeOf(Job &j) {
    return j.calibration.of(q).shape;
}

Field wholeNumber(Field f) {
    f.whole = true;
    return f;
}

std::vector<Field> makeFields() {
    using enum CalibratedQuantity;
    const std::vector<std::string> shapes{"physical", "straight", "custom"};
    const std::vector<std::string> shapeTitles{"Physical", "Straight line", "Own points"};
    std::vector<Field> fields{
        text(
            "name", "Name", [](Job &j) -> std::string & { return j.name; }, "What this job is called."),
        text(
            "notes", "Notes", [](Job &j) -> std::string & { return j.notes; }, "Anything worth remembering."),
        number(
            "engine.displacement_l", "Displacement", D::displacement, 0.05, 30,
            [](Job &j) -> double & { return j.engine.displacementL; }, "Swept volume of all cylinders."),
        wholeNumber(number(
            "engine.cylinders", "Cylinders", D::none, 1, 16,
            [](Job &j) -> double & { return j.engine.cylinders; }, "One injector each.")),
        number(
            "engine.rev_limit_rpm", "Rev limit", D::engineSpeed, 500, 20000,
            [](Job &j) -> double & { return j.engine.revLimitRpm; }, "Cells above it are never reached."),
        number(
            "engine.map_sensor_min_kpa", "MAP sensor, low end", D::pressure, 0, 110,
            [](Job &j) -> double & { return j.engine.mapSensorMinKpa; },
            "Lowest absolute pressure it can read."),
        number(
            "engine.map_sensor_max_kpa", "MAP sensor, high end", D::pressure, 90, 1000,
            [](Job &j) -> double & { return j.engine.mapSensorMaxKpa; },
            "Highest absolute pressure it can read."),
        number(
            "injectors.flow_cc_min", "Injector flow", D::volumeFlow, 10, 10000,
            [](Job &j) -> double & { return j.injectors.flowCcMin; },
            "Static flow of one injector at its rated pressure."),
        number(
            "injectors.rated_pressure_kpa", "Rated at", D::pressureDifference, 50, 1500,
            [](Job &j) -> double & { return j.injectors.ratedPressureKpa; },
            "Pressure difference at which the flow was measured."),
        number(
            "injectors.rail_pressure_kpa", "Rail pressure, engine off", D::pressureGauge, 50, 1500,
            [](Job &j) -> double & { return j.injectors.railPressureKpa; },
            "Base fuel pressure above the surrounding air."),
        flag(
            "injectors.boost_referenced", "Regulator follows boost",
            [](Job &j) -> bool & { return j.injectors.boostReferenced; },
            "If not, the pressure across the injector falls as boost rises."),
        number(
            "injectors.dead_time_ms", "Dead time", D::duration, 0, 5,
            [](Job &j) -> double & { return j.injectors.deadTimeMs; },
            "Opening delay at the usual battery voltage."),
        number(
            "injectors.battery_v", "Battery voltage", D::voltage, 6, 18,
            [](Job &j) -> double & { return j.injectors.batteryV; }, "Usual, with the engine running."),
        flag(
            "injectors.batch", "Batch fired", [](Job &j) -> bool & { return j.injectors.batch; },
            "Two pulses a cycle, each with its dead time."),
        number(
            "injectors.linear_min_ms", "Linear from", D::duration, 0, 10,
            [](Job &j) -> double & { return j.injectors.linearMinMs; },
            "Shortest pulse of linear flow, by its data sheet. 0: not stated."),
        number(
            "injectors.test_fluid_kg_m3", "Rated with fluid of", D::density, 0, 1000,
            [](Job &j) -> double & { return j.injectors.testFluidKgM3; },
            "Its density. 0: rated with fuel, no correction."),
        flag(
            "spark.base_timing_checked", "Base timing checked",
            [](Job &j) -> bool & { return j.sparkDelivery.baseTimingChecked; },
            "By a timing light, after the last mechanical work."),
        number(
            "spark.base_timing_error_deg", "Base timing error", D::sparkAngle, -20, 20,
            [](Job &j) -> double & { return j.sparkDelivery.baseTimingErrorDeg; },
            "Delivered less commanded, by a timing light."),
        number(
            "spark.fallback_usual", "Fallback share, usual", D::ratio, 0, 1,
            [](Job &j) -> double & { return j.sparkDelivery.fallbackUsual; },
            "Share of the main table: 100 % on a clean fuel."),
        number(
            "spark.fallback_worst", "Fallback share, worst", D::ratio, 0, 1,
            [](Job &j) -> double & { return j.sparkDelivery.fallbackWorst; },
            "How far a knocking fuel pulls it."),
        number(
            "spark.knock_retard_worst_deg", "Knock retard, most", D::sparkAngle, 0, 30,
            [](Job &j) -> double & { return j.sparkDelivery.knockRetardWorstDeg; },
            "The most that knock control takes."),
        number(
            "spark.coolant_cold_c", "Coolant, cold", D::temperature, -40, 150,
            [](Job &j) -> double & { return j.sparkDelivery.coolantColdC; }, "Coldest under load."),
        number(
            "spark.coolant_usual_c", "Coolant, usual", D::temperature, -40, 150,
            [](Job &j) -> double & { return j.sparkDelivery.coolantUsualC; }, "On a usual pull."),
        number(
            "spark.coolant_hot_c", "Coolant, hot", D::temperature, -40, 150,
            [](Job &j) -> double & { return j.sparkDelivery.coolantHotC; }, "Hottest under load."),
        number(
            "spark.intake_hot_c", "Intake air, hot", D::temperature, -40, 200,
            [](Job &j) -> double & { return j.sparkDelivery.intakeHotC; }, "Hottest in the manifold."),
        flag(
            "spark.knock_control", "Knock control on",
            [](Job &j) -> bool & { return j.sparkDelivery.knockControl; },
            "Left on unless it hears something else."),
        choice<SensorFaultRule>(
            "content_sensor.on_fault", "On a fault", {"not_stated", "fixed", "hold"},
            {"Not stated", "A fixed content", "The last content"},
            [](Job &j) -> SensorFaultRule & { return j.contentSensing.onFault; },
            "What the controller takes when the sensor fails."),
        number(
            "content_sensor.fault_content", "Fault content", D::content, 0, 1,
            [](Job &j) -> double & { return j.contentSensing.faultContent; }, "That it falls back to."),
        number(
            "content_sensor.slew_per_s", "Follows a second", D::content, 0, 1,
            [](Job &j) -> double & { return j.contentSensing.slewPerS; },
            "Most that its content changes in a second. 0: at once."),
        number(
            "content_sensor.plausible_least", "Lowest plausible", D::content, 0, 1,
            [](Job &j) -> double & { return j.contentSensing.plausibleLeast; },
            "The controller takes readings under it for a fault. 0: it believes them all."),
        number(
            "content_sensor.plausible_most", "Highest plausible", D::content, 0, 1,
            [](Job &j) -> double & { return j.contentSensing.plausibleMost; },
            "The controller takes readings over it for a fault. 100 %: it believes them all."),
        flag(
            "content_sensor.compared_after_fill", "Compared after every fill",
            [](Job &j) -> bool & { return j.contentSensing.comparedAfterFill; },
            "With a tube or the tank's arithmetic, before any load: a stuck sensor is seen then."),
        number(
            "conditions.ambient_kpa", "Ambient pressure", D::pressure, 50, 110,
            [](Job &j) -> double & { return j.conditions.ambientKpa; }, "Zero of gauge pressures."),
        number(
            "conditions.intake_usual_c", "Intake air, usual", D::temperature, -40, 150,
            [](Job &j) -> double & { return j.conditions.intakeUsualC; },
            "In the manifold, on a usual pull."),
        number(
            "conditions.intake_coldest_c", "Intake air, coldest", D::temperature, -40, 150,
            [](Job &j) -> double & { return j.conditions.intakeColdestC; },
            "Densest charge: most fuel, the worst case for injectors."),
        choice<Alcohol>(
            "fuel.alcohol", "Alcohol", {"ethanol", "methanol"}, {"Ethanol", "Methanol"},
            [](Job &j) -> Alcohol & { return j.alcohol; }, "What the content is a content of."),
        number(
            "tank.capacity_l", "Tank, brim full", D::displacement, 1, 2000,
            [](Job &j) -> double & { return j.tank.capacityL; }, "All that goes in."),
        number(
            "tank.reserve_l", "Pickup needs", D::displacement, 0, 500,
            [](Job &j) -> double & { return j.tank.reserveL; },
            "Under this the pickup may run dry: no pulls."),
        number(
            "tank.line_l", "Feed line", D::displacement, 0, 20,
            [](Job &j) -> double & { return j.tank.lineL; },
            "Tank or surge tank to the rail, or to a sensor on the way."),
        number(
            "tank.rail_l", "Rail", D::displacement, 0, 20, [](Job &j) -> double & { return j.tank.railL; },
            "From the end of the feed line to the last injector."),
        number(
            "tank.return_l", "Return line", D::displacement, 0, 20,
            [](Job &j) -> double & { return j.tank.returnL; }, "Rail to a content sensor in the return."),
        choice<SensorPlace>(
            "tank.sensor_place", "Content sensor sits in", {"feed", "return"}, {"The feed", "The return"},
            [](Job &j) -> SensorPlace & { return j.tank.sensorPlace; },
            "In the feed it knows before the injectors do, in the return after them."),
        number(
            "tank.surge_l", "Surge tank", D::displacement, 0, 50,
            [](Job &j) -> double & { return j.tank.surgeL; }, "0: none."),
        number(
            "tank.surge_flow_l_min", "Lift pump", D::flowLMin, 0, 100,
            [](Job &j) -> double & { return j.tank.surgeFlowLMin; },
            "Into the surge tank. 0: what flows through the line."),
        number(
            "tank.idle_flow_l_min", "Flow at idle", D::flowLMin, 0.001, 100,
            [](Job &j) -> double & { return j.tank.idleFlowLMin; },
            "Through the line: consumption where the rail ends, pump flow where it returns."),
        number(
            "tank.cruise_flow_l_min", "Flow at cruise", D::flowLMin, 0.001, 100,
            [](Job &j) -> double & { return j.tank.cruiseFlowLMin; }, "The same, driving steadily."),
        number(
            "tank.idle_use_l_min", "Burned at idle", D::flowLMin, 0, 100,
            [](Job &j) -> double & { return j.tank.idleUseLMin; },
            "The return carries what is left of the flow."),
        number(
            "tank.cruise_use_l_min", "Burned at cruise", D::flowLMin, 0, 100,
            [](Job &j) -> double & { return j.tank.cruiseUseLMin; }, "The same, driving steadily."),
        flag(
            "fuel_system.content_sensor", "Content sensor fitted",
            [](Job &j) -> bool & { return j.fuelSystem.contentSensor; },
            "It cannot tell methanol from ethanol."),
        flag(
            "fuel_system.catalyst", "Catalyst or lambda sensor to keep",
            [](Job &j) -> bool & { return j.fuelSystem.catalyst; }, "Leaded fuel ruins both."),
        number(
            "fuel_system.rated_ethanol", "Rated for ethanol up to", D::content, 0, 1,
            [](Job &j) -> double & { return j.fuelSystem.ratedEthanol; },
            "By the data sheets of pump, hoses and seals. E10 until you know better."),
        number(
            "fuel_system.rated_methanol", "Rated for methanol up to", D::content, 0, 1,
            [](Job &j) -> double & { return j.fuelSystem.ratedMethanol; }, "By the same data sheets."),
        number(
            "use.l_per_100km", "Uses on the road, per 100 km", D::displacement, 0, 500,
            [](Job &j) -> double & { return j.consumption.litresPer100Km; }, "0: not known."),
        number(
            "use.l_per_hour", "Uses in an event, per hour", D::displacement, 0, 2000,
            [](Job &j) -> double & { return j.consumption.litresPerHour; }, "0: not known."),
        number(
            "use.content", "Measured on", D::content, 0, 1,
            [](Job &j) -> double & { return j.consumption.content; },
            "Alcohol content of the fuel that the use was measured on."),
        number(
            "supply.volts", "Pump voltage", D::voltage, 6, 20,
            [](Job &j) -> double & { return j.supply.volts; }, "At the pumps, under load."),
        flag(
            "supply.returns", "Fuel returns", [](Job &j) -> bool & { return j.supply.returns; },
            "What the engine does not use flows back to the tank."),
        number(
            "supply.margin", "Filter margin", D::ratio, 0, 0.5,
            [](Job &j) -> double & { return j.supply.margin; },
            "Demand is counted this much higher. 5 to 10 % is usual."),
        number(
            "supply.sensor_return_l_min", "Sensor in the return needs", D::flowLMin, 0, 50,
            [](Job &j) -> double & { return j.supply.sensorReturnLMin; },
            "Under this its reading is not to be trusted."),
        number(
            "supply.freeze_load_kpa", "Reading frozen above", D::pressure, 0, 1000,
            [](Job &j) -> double & { return j.supply.freezeLoadKpa; },
            "Load above which the controller holds the content. 0: it does not."),
        number(
            "supply.freeze_rpm", "… and above", D::engineSpeed, 0, 20000,
            [](Job &j) -> double & { return j.supply.freezeRpm; },
            "Engine speed above which the controller holds the content."),
        number(
            "supply.commanded_kpa", "Log: commanded Δp", D::pressureDifference, 0, 1500,
            [](Job &j) -> double & { return j.supply.commandedKpa; },
            "Across the injectors, at the highest flow of a log. 0: not read."),
        number(
            "supply.measured_kpa", "Log: measured Δp", D::pressureDifference, 0, 1500,
            [](Job &j) -> double & { return j.supply.measuredKpa; },
            "The same moment: rail less manifold. 0: not read."),
        number(
            "boost.spring_kpa", "Wastegate spring", D::pressureGauge, 0, 400,
            [](Job &j) -> double & { return j.boost.springKpa; },
            "Measured: the advertised figure is often wrong. 0: not known."),
        number(
            "boost.cut_kpa", "Overboost cut", D::pressure, 0, 1000,
            [](Job &j) -> double & { return j.boost.cutKpa; }, "0: none is set."),
        flag(
            "aux.fitted", "Spray fitted", [](Job &j) -> bool & { return j.aux.fitted; },
            "Water or methanol sprayed into the intake."),
        number(
            "aux.flow_cc_min", "Nozzle flow", D::volumeFlow, 0, 20000,
            [](Job &j) -> double & { return j.aux.spray.ratedFlowCcMin; },
            "All nozzles, at their rated pressure."),
        number(
            "aux.rated_pressure_kpa", "Rated at", D::pressureDifference, 50, 3000,
            [](Job &j) -> double & { return j.aux.spray.ratedPressureKpa; }, "Pressure of that flow."),
        number(
            "aux.pressure_kpa", "Spray pressure", D::pressureDifference, 0, 3000,
            [](Job &j) -> double & { return j.aux.spray.pressureKpa; }, "In use, across the nozzle."),
        number(
            "aux.methanol", "Methanol in it", D::content, 0, 1,
            [](Job &j) -> double & { return j.aux.spray.methanol; }, "By volume, the rest water."),
        number(
            "aux.start_kpa", "Starts at", D::pressure, 20, 1000,
            [](Job &j) -> double & { return j.aux.spray.startKpa; }, "Manifold pressure."),
        number(
            "aux.full_kpa", "Full at", D::pressure, 20, 1000,
            [](Job &j) -> double & { return j.aux.spray.fullKpa; },
            "Manifold pressure; the same as the start: no ramp."),
        choice<SprayPlace>(
            "aux.place", "Sprayed", {"before_compressor", "after_compressor", "ports"},
            {"Before the compressor or blower", "After it", "At the ports"},
            [](Job &j) -> SprayPlace & { return j.aux.place; },
            "Before a blower it evaporates there and cools the sensor, not the charge."),
        flag(
            "aux.trimmed", "Tables trimmed for it", [](Job &j) -> bool & { return j.aux.trimmed; },
            "If so, a spray that stops leaves the engine lean."),
        choice<SprayFailSafe>(
            "aux.fail_safe", "When it stops", {"none", "boost_cut", "spark_retard"},
            {"Nothing happens", "Boost is cut", "Spark is taken back"},
            [](Job &j) -> SprayFailSafe & { return j.aux.failSafe; }, "By a flow or pressure switch."),
        choice<FuelControl>(
            "engine.fuel_control", "Fuel is metered by", {"controller", "mechanical"},
            {"A controller", "Mechanical injection"}, [](Job &j) -> FuelControl & { return j.control; },
            "Mechanical: pump, nozzles and pills; no tables."),
        number(
            "mechanical.pump_l_min", "Pump flow", D::flowLMin, 0.1, 500,
            [](Job &j) -> double & { return j.mechanical.injection.pumpLMin; },
            "Of a new pump at the speed below."),
        number(
            "mechanical.pump_rpm", "At engine speed", D::engineSpeed, 100, 20000,
            [](Job &j) -> double & { return j.mechanical.injection.pumpRpm; }, "Of that flow."),
        number(
            "mechanical.pump_wear", "Pump wear", D::ratio, 0, 0.9,
            [](Job &j) -> double & { return j.mechanical.injection.wear; },
            "Share of its flow that it has lost."),
        wholeNumber(number(
            "mechanical.nozzles", "Nozzles", D::none, 1, 64,
            [](Job &j) -> double & { return j.mechanical.injection.nozzles; }, "To the engine, all alike.")),
        number(
            "mechanical.nozzle_mm", "Nozzle bore", D::length, 0.1, 10,
            [](Job &j) -> double & { return j.mechanical.injection.nozzleMm; }, "Of each."),
        number(
            "mechanical.discharge_nozzles", "Nozzle discharge", D::none, 0.1, 1,
            [](Job &j) -> double & { return j.mechanical.injection.dischargeNozzles; },
            "Discharge coefficient; 0.8 is usual."),
        number(
            "mechanical.discharge_jets", "Pill discharge", D::none, 0.1, 1,
            [](Job &j) -> double & { return j.mechanical.injection.dischargeJets; },
            "Discharge coefficient; 0.8 is usual."),
        number(
            "mechanical.density_kg_m3", "Fuel density", D::density, 600, 1000,
            [](Job &j) -> double & { return j.mechanical.injection.densityKgM3; }, "At its temperature."),
        number(
            "mechanical.main_mm", "Main pill", D::length, 0, 20,
            [](Job &j) -> double & { return j.mechanical.injection.main.diameterMm; }, "0: blanked off."),
        number(
            "mechanical.main_opens_kpa", "Main poppet opens at", D::pressureGauge, 0, 5000,
            [](Job &j) -> double & { return j.mechanical.injection.main.opensKpa; }, "0: always open."),
        number(
            "mechanical.high_speed_mm", "High-speed pill", D::length, 0, 20,
            [](Job &j) -> double & { return j.mechanical.injection.highSpeed.diameterMm; }, "0: none."),
        number(
            "mechanical.high_speed_opens_kpa", "High-speed spring", D::pressureGauge, 0, 5000,
            [](Job &j) -> double & { return j.mechanical.injection.highSpeed.opensKpa; },
            "Opens at this pressure and leans only the top."),
        number(
            "mechanical.port_mm", "Port or idle pill", D::length, 0, 20,
            [](Job &j) -> double & { return j.mechanical.injection.port.diameterMm; }, "0: none."),
        number(
            "mechanical.port_opens_kpa", "Its spring", D::pressureGauge, 0, 5000,
            [](Job &j) -> double & { return j.mechanical.injection.port.opensKpa; }, "0: always open."),
        number(
            "mechanical.ve", "Volumetric efficiency", D::ratio, 0.2, 2,
            [](Job &j) -> double & { return j.mechanical.ve; }, "Against manifold conditions."),
        number(
            "mechanical.intake_c", "Charge temperature", D::temperature, -40, 150,
            [](Job &j) -> double & { return j.mechanical.intakeC; }, "In the manifold."),
        number(
            "mechanical.pill_step_mm", "Step of the pills", D::length, 0.01, 2,
            [](Job &j) -> double & { return j.mechanical.pillStepMm; }, "Between the sizes in the box."),
        number(
            "mechanical.judged_rpm", "Pills compared at", D::engineSpeed, 500, 20000,
            [](Job &j) -> double & { return j.mechanical.judgedRpm; }, "Engine speed of the pill table."),
        number(
            "mechanical.then_kpa", "Air pressure then", D::pressure, 50, 110,
            [](Job &j) -> double & { return j.mechanical.then.pressureKpa; },
            "Station pressure, not reduced to sea level."),
        number(
            "mechanical.then_c", "Air temperature then", D::temperature, -40, 55,
            [](Job &j) -> double & { return j.mechanical.then.temperatureC; }, "In the shade."),
        number(
            "mechanical.then_humidity", "Humidity then", D::ratio, 0, 1,
            [](Job &j) -> double & { return j.mechanical.then.humidity; }, "Relative."),
        number(
            "mechanical.now_kpa", "Air pressure today", D::pressure, 50, 110,
            [](Job &j) -> double & { return j.mechanical.now.pressureKpa; },
            "Station pressure, not reduced to sea level."),
        number(
            "mechanical.now_c", "Air temperature today", D::temperature, -40, 55,
            [](Job &j) -> double & { return j.mechanical.now.temperatureC; }, "In the shade."),
        number(
            "mechanical.now_humidity", "Humidity today", D::ratio, 0, 1,
            [](Job &j) -> double & { return j.mechanical.now.humidity; }, "Relative."),
        choice<School>(
            "calibration.school", "Content enters by",
            {"two_tables", "base_adder", "fuel_model", "window_set", "stack"},
            {"Two tables", "Base and adder", "Fuel model", "A file for each window", "A stack of tables"},
            [](Job &j) -> School & { return j.calibration.school; },
            "How the controller makes its numbers for a content. Switch by converting, which says what is "
            "lost."),
        choice<LoadAxis>(
            "calibration.load_axis", "Load is", {"manifold_pressure", "air_mass", "throttle"},
            {"Manifold pressure", "Air mass", "Throttle"},
            [](Job &j) -> LoadAxis & { return j.calibration.loadAxis; },
            "Of the fuel, spark and lambda tables. Air mass: mg per cylinder and cycle at 100 % VE and usual "
            "intake air. Changed by converting, so that the tables keep their meaning."),
        choice<BoostAxis>(
            "calibration.boost_axis", "Boost tables go by", {"throttle", "gear"}, {"Throttle", "Gear"},
            [](Job &j) -> BoostAxis & { return j.calibration.boostAxis; },
            "The second axis of the boost tables. Changed by converting."),
        choice<FuelMeaning>(
            "calibration.fuel_meaning", "Fuel tables hold",
            {"true_ve", "content_referenced_ve", "pulse_width", "fuel_mass"},
            {"True VE", "Content-referenced VE", "Pulse width", "Fuel mass"},
            [](Job &j) -> FuelMeaning & { return j.calibration.fuelMeaning; },
            "True VE: the controller's fuel model adds the content. Content-referenced VE: the fuel "
            "multiplier is inside the table. Pulse width in ms, dead time inside, and fuel mass in mg per "
            "cylinder and cycle hold at the lambda target."),
        number(
            "calibration.pulse_pressure_kpa", "Pulse widths hold at", D::pressureDifference, 0, 1500,
            [](Job &j) -> double & { return j.calibration.pulsePressureKpa; },
            "Pressure across the injector. 0: what it sees at each load."),
        number(
            "calibration.fuel_reference_content", "Reference content", D::content, 0, 1,
            [](Job &j) -> double & { return j.calibration.fuelReferenceContent; },
            "Where a content-referenced VE is a true VE."),
        number(
            "calibration.base_content", "Base tables calibrated at", D::content, 0, 1,
            [](Job &j) -> double & { return j.calibration.baseContent; },
            "Alcohol content of the base fuel."),
        number(
            "calibration.top_content", "Top tables calibrated at", D::content, 0, 1,
            [](Job &j) -> double & { return j.calibration.topContent; }, "Alcohol content of the top fuel."),
        choice<OutsideRule>(
            "calibration.outside", "Beyond the calibrated contents", {"hold", "extrapolate"},
            {"Hold the nearer table", "Extrapolate (flagged)"},
            [](Job &j) -> OutsideRule & { return j.calibration.outside; },
            "Hold the nearer table, or go on along the curve (flagged)."),
        choice<WeightShape>("calibration.fuel.weight_shape", "Fuel weight", shapes, shapeTitles,
                            shapeOf<fuel>, "Physical: by the mass-weighted fuel model."),
        choice<WeightShape>("calibration.spark.weight_shape", "Spark weight", shapes, shapeTitles,
                            shapeOf<spark>, "Physical: by mole fraction of the alcohol."),
        choice<WeightShape>("calibration.boost.weight_shape", "Boost weight", shapes, shapeTitles,
                            shapeOf<boost>, "Physical: by mole fraction of the alcohol."),
        choice<WeightShape>("calibration.lambda.weight_shape", "Lambda weight", shapes, shapeTitles,
                            shapeOf<lambda>, "Physical: linear."),
    };
    addComponent(fields, "fuel.gasoline", "Gasoline", [](Job &j) -> Component & { return j.gasoline; });
    addComponent(fields, "fuel.ethanol", "Ethanol", [](Job &j) -> Component & { return j.ethanol; });
    addComponent(fields, "fuel.methanol", "Methanol", [](Job &j) -> Component & { return j.methanol; });
    return fields;
}

} // namespace

std::span<const Field> allFields() {
    static const std::vector<Field> fields = makeFields();
    return fields;
}

const Field *fieldByPath(std::string_view path) {
    const auto at = std::ranges::find(allFields(), path, &Field::path);
    return at == allFields().end() ? nullptr : &*at;
}

} // namespace wheelwright
