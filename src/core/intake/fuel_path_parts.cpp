// SPDX-License-Identifier: GPL-3.0-or-later
// The way of the fuel, from the tank to where it burns and back.
#include "core/intake/part.h"

namespace wheelwright {
namespace {

bool metered(const Job &j) {
    return j.control == FuelControl::controller;
}
bool mechanical(const Job &j) {
    return j.control == FuelControl::mechanical;
}

Part tankPart() {
    return {
        .id = "tank",
        .title = MARKED("part.tank", "Tank"),
        .help = MARKED("part.tank.help", "What goes in, and what is left when the pickup runs dry."),
        .figures = {{"tank.capacity_l", MARKED("part.tank.holds", "holds {A}")},
                    {"tank.reserve_l", MARKED("part.tank.reserve", "reserve {A}")}},
        .fields = {"fuel.alcohol", "tank.capacity_l", "tank.reserve_l", "use.l_per_100km", "use.l_per_hour",
                   "use.content"},
        .inspections = {{"tank_clean", MARKED("inspection.tank_clean", "Clean and vented"),
                         MARKED("inspection.tank_clean.help",
                                "No rust, water or old fuel; the vent is open, the cap seals.")}},
        .caution =
            MARKED("part.tank.caution",
                   "Fuel vapour burns: earth the container, no ignition source, closed vessels. Follow "
                   "the supplier's safety data sheet and the local fire code."),
    };
}

Part pumpPart() {
    return {
        .id = "pump",
        .title = MARKED("part.pump", "Pump"),
        .help = MARKED("part.pump.help",
                       "What it delivers falls with pressure and with its own voltage under load."),
        .figures = {{"supply.pumps", MARKED("part.pump.fitted", "fitted: {A}")},
                    {"supply.volts", MARKED("part.pump.volts", "at {A}")}},
        .fields = {"supply.volts"},
        .lists = {"supply.pumps", "supply.pump_points"},
        .inspections = {{"pump_voltage", MARKED("inspection.pump_voltage", "Voltage at the pump"),
                         MARKED("inspection.pump_voltage.help",
                                "Measured at its own terminals, with the engine under load.")}},
        .checks = {"flow.pump"},
        .belongs = metered,
    };
}

Part beltPumpPart() {
    return {
        .id = "belt_pump",
        .title = MARKED("part.belt_pump", "Mechanical pump"),
        .help = MARKED("part.belt_pump.help", "Driven by the engine: its flow goes with speed."),
        .figures = {{"mechanical.pump_l_min", MARKED("part.belt_pump.flow", "{A}")},
                    {"mechanical.pump_rpm", MARKED("part.belt_pump.rpm", "at {A}")}},
        .fields = {"mechanical.pump_l_min", "mechanical.pump_rpm", "mechanical.pump_wear",
                   "mechanical.density_kg_m3"},
        .inspections = {{"belt_pump_leakage", MARKED("inspection.belt_pump_leakage", "Pump leakage measured"),
                         MARKED("inspection.belt_pump_leakage.help",
                                "On a bench, as share of the flow of a new one.")}},
        .checks = {"mechanical.lambda"},
        .belongs = mechanical,
    };
}

Part filterPart() {
    return {
        .id = "filter",
        .title = MARKED("part.filter", "Filter"),
        .help = MARKED("part.filter.help", "What it costs is counted on top of what the engine needs."),
        .figures = {{"supply.margin", MARKED("part.filter.margin", "margin {A}")}},
        .fields = {"supply.margin"},
        .inspections = {{"filter_opened", MARKED("inspection.filter_opened", "Opened or changed"),
                         MARKED("inspection.filter_opened.help",
                                "After a first change to alcohol it catches what the fuel loosens: once "
                                "more after a tank or two.")}},
        .belongs = metered,
    };
}

Part surgePart() {
    return {
        .id = "surge_tank",
        .title = MARKED("part.surge_tank", "Surge tank"),
        .help = MARKED("part.surge_tank.help",
                       "Keeps the pump fed in a bend, and the old fuel in the way of the new."),
        .figures = {{"tank.surge_l", MARKED("part.surge_tank.holds", "holds {A}")},
                    {"tank.surge_flow_l_min", MARKED("part.surge_tank.filled", "fed {A}")}},
        .fields = {"tank.surge_l", "tank.surge_flow_l_min"},
        .inspections = {{"surge_vent", MARKED("inspection.surge_vent", "Vented back to the tank"),
                         MARKED("inspection.surge_vent.help", "Its return flows, and nothing leaks.")}},
        .fitted = [](const Job &j) { return j.tank.surgeL > 0; },
        .add =
            [](Job &j) {
                constexpr double litres = 1.5; // common practice, from memory
                j.tank.surgeL = litres;
            },
        .remove =
            [](Job &j) {
                j.tank.surgeL = 0;
                j.tank.surgeFlowLMin = 0;
            },
        .madeUp = {"tank.surge_l"},
    };
}

Part linePart() {
    return {
        .id = "line",
        .title = MARKED("part.line", "Feed line"),
        .help = MARKED("part.line.help",
                       "What is in it burns before the new fuel comes; hoses and seals have their rating."),
        .figures = {{"tank.line_l", MARKED("part.line.holds", "holds {A}")},
                    {"fuel_system.rated_ethanol", MARKED("part.line.rated", "rated {A}")}},
        .fields = {"tank.line_l", "tank.idle_flow_l_min", "tank.cruise_flow_l_min",
                   "fuel_system.rated_ethanol", "fuel_system.rated_methanol"},
        .inspections = {{"fuel_leaks", MARKED("inspection.fuel_leaks", "Joints tight under pressure"),
                         MARKED("inspection.fuel_leaks.help",
                                "Every joint looked at and felt with the pump running and the engine off.")}},
        .caution = MARKED("part.line.caution",
                          "Hoses, seals and pumps that were not made for alcohol swell and crack. Their data "
                          "sheets say what they stand; an unknown part is not rated."),
    };
}

Part sensorPart() {
    return {
        .id = "content_sensor",
        .title = MARKED("part.content_sensor", "Content sensor"),
        .help = MARKED("part.content_sensor.help",
                       "Tells the controller the alcohol content. It cannot tell methanol from ethanol."),
        .figures = {{"tank.sensor_place", MARKED("part.content_sensor.place", "{A}")},
                    {"content_sensor.on_fault", MARKED("part.content_sensor.fault", "fails: {A}")}},
        .fields = {"fuel_system.content_sensor", "tank.sensor_place", "content_sensor.on_fault",
                   "content_sensor.fault_content", "content_sensor.slew_per_s",
                   "content_sensor.plausible_least", "content_sensor.plausible_most",
                   "content_sensor.compared_after_fill", "supply.sensor_return_l_min",
                   "supply.freeze_load_kpa", "supply.freeze_rpm"},
        .inspections = {{"sensor_tube", MARKED("inspection.sensor_tube", "Compared with a tube"),
                         MARKED("inspection.sensor_tube.help",
                                "On two fuels, settled: the reading and a tube test agree.")}},
        .checks = {"content.sensor_fault", "content.slew", "content.window", "content.freeze"},
        .belongs = metered,
        .fitted = [](const Job &j) { return j.fuelSystem.contentSensor; },
        .add = [](Job &j) { j.fuelSystem.contentSensor = true; },
        .remove = [](Job &j) { j.fuelSystem.contentSensor = false; },
    };
}

Part railPart() {
    return {
        .id = "rail",
        .title = MARKED("part.rail", "Rail"),
        .help = MARKED("part.rail.help",
                       "Holds the pressure that the injectors work with; under boost it must rise with it."),
        .figures = {{"injectors.rail_pressure_kpa", MARKED("part.rail.pressure", "{A}")},
                    {"injectors.boost_referenced", MARKED("part.rail.referenced", "follows boost: {A}")}},
        .fields = {"injectors.rail_pressure_kpa", "injectors.boost_referenced", "injectors.rail_by_load_kpa",
                   "tank.rail_l", "supply.commanded_kpa", "supply.measured_kpa"},
        .inspections =
            {{"rail_gauge", MARKED("inspection.rail_gauge", "Pressure by a gauge"),
              MARKED("inspection.rail_gauge.help",
                     "With the engine off as stated, and with boost as much above it as it should.")}},
        .belongs = metered,
    };
}

Part injectorsPart() {
    return {
        .id = "injectors",
        .title = MARKED("part.injectors", "Injectors"),
        .help = MARKED("part.injectors.help", "Flow, dead time and the shortest pulse that they repeat."),
        .figures = {{"injectors.flow_cc_min", MARKED("part.injectors.flow", "{A} each")},
                    {"injectors.dead_time_ms", MARKED("part.injectors.dead", "dead {A}")}},
        .fields = {"engine.fuel_place", "injectors.flow_cc_min", "injectors.rated_pressure_kpa",
                   "injectors.dead_time_ms", "injectors.battery_v", "injectors.batch",
                   "injectors.linear_min_ms", "injectors.test_fluid_kg_m3"},
        .lists = {"injectors.dead_times", "injectors.measured"},
        .inspections = {{"injectors_bench", MARKED("inspection.injectors_bench", "Measured on a bench"),
                         MARKED("inspection.injectors_bench.help",
                                "Cleaned, flow of each within a few per cent of the set, no drip.")}},
        .checks = {"flow.duty", "flow.min_pulse"},
        .belongs = metered,
    };
}

Part pillsPart() {
    return {
        .id = "pills",
        .title = MARKED("part.pills", "Pills"),
        .help =
            MARKED("part.pills.help", "Return jets: what flows back through them does not reach the engine."),
        .figures = {{"mechanical.main_mm", MARKED("part.pills.main", "main {A}")},
                    {"mechanical.high_speed_mm", MARKED("part.pills.high", "high speed {A}")}},
        .fields = {"mechanical.main_mm", "mechanical.main_opens_kpa", "mechanical.high_speed_mm",
                   "mechanical.high_speed_opens_kpa", "mechanical.port_mm", "mechanical.port_opens_kpa",
                   "mechanical.discharge_jets", "mechanical.pill_step_mm", "mechanical.judged_rpm"},
        .lists = {"mechanical.passes"},
        .inspections = {{"pills_measured", MARKED("inspection.pills_measured", "Bores measured"),
                         MARKED("inspection.pills_measured.help",
                                "By a pin or drill; the stamped number may lie.")}},
        .checks = {"mechanical.lambda"},
        .belongs = mechanical,
    };
}

Part nozzlesPart() {
    return {
        .id = "nozzles",
        .title = MARKED("part.nozzles", "Nozzles"),
        .help = MARKED("part.nozzles.help", "They spray all the time; pressure meters the fuel."),
        .figures = {{"mechanical.nozzles", MARKED("part.nozzles.count", "{A} nozzles")},
                    {"mechanical.nozzle_mm", MARKED("part.nozzles.bore", "of {A}")}},
        .fields = {"engine.fuel_place", "mechanical.nozzles", "mechanical.nozzle_mm",
                   "mechanical.nozzle_place", "mechanical.discharge_nozzles"},
        .inspections = {{"nozzles_flowed", MARKED("inspection.nozzles_flowed", "Flowed as a set"),
                         MARKED("inspection.nozzles_flowed.help", "None is clogged; all give the same.")}},
        .checks = {"mechanical.lambda"},
        .belongs = mechanical,
    };
}

Part returnPart() {
    return {
        .id = "return",
        .title = MARKED("part.return", "Return"),
        .help =
            MARKED("part.return.help",
                   "What the engine does not use flows back: it flushes the rail, and feeds a sensor in it."),
        .figures = {{"tank.return_l", MARKED("part.return.holds", "holds {A}")}},
        .fields = {"supply.returns", "tank.return_l", "tank.idle_use_l_min", "tank.cruise_use_l_min"},
        .inspections = {{"return_free", MARKED("inspection.return_free", "Flows freely"),
                         MARKED(
                             "inspection.return_free.help",
                             "With the pump running and the engine off the rail holds its base pressure.")}},
        .belongs = metered,
        .fitted = [](const Job &j) { return j.supply.returns; },
        .add = [](Job &j) { j.supply.returns = true; },
        .remove = [](Job &j) { j.supply.returns = false; },
    };
}

Part sprayPart() {
    return {
        .id = "spray",
        .title = MARKED("part.spray", "Spray"),
        .help = MARKED("part.spray.help",
                       "Water or methanol cools the charge; what is trimmed for it is lean when it stops."),
        .figures = {{"aux.flow_cc_min", MARKED("part.spray.flow", "{A}"), true},
                    {"aux.fail_safe", MARKED("part.spray.fails", "stops: {A}")}},
        .fields = {"aux.fitted", "aux.flow_cc_min", "aux.rated_pressure_kpa", "aux.pressure_kpa",
                   "aux.methanol", "aux.start_kpa", "aux.full_kpa", "aux.place", "aux.trimmed",
                   "aux.fail_safe"},
        .inspections = {{"spray_stops", MARKED("inspection.spray_stops", "Stopped on purpose once"),
                         MARKED("inspection.spray_stops.help",
                                "The fail-safe acts before the reservoir is empty.")}},
        .checks = {"aux.loss"},
        .caution = MARKED("part.spray.caution",
                          "Methanol is poisonous through the skin and burns with a flame that nobody sees: "
                          "gloves, goggles, water at hand; the supplier's safety data sheet comes first."),
        .fitted = [](const Job &j) { return j.aux.fitted; },
        .add = [](Job &j) { j.aux.fitted = true; },
        .remove = [](Job &j) { j.aux.fitted = false; },
    };
}

} // namespace

std::vector<Part> fuelPathParts() {
    return {tankPart(),    pumpPart(),   beltPumpPart(), filterPart(),    surgePart(),
            linePart(),    sensorPart(), railPart(),     injectorsPart(), pillsPart(),
            nozzlesPart(), returnPart(), sprayPart()};
}

} // namespace wheelwright
