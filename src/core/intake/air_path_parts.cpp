// SPDX-License-Identifier: GPL-3.0-or-later
// The way of the air, from outside to the cylinders.
#include "core/intake/part.h"

namespace wheelwright {
namespace {

bool charged(const Job &j) {
    return j.engine.charging != Charging::none;
}

Part airFilterPart() {
    return {
        .id = "air_filter",
        .title = MARKED("part.air_filter", "Air outside"),
        .help = MARKED("part.air_filter.help",
                       "Its pressure is the zero of every gauge; mechanical injection goes by its density."),
        .figures = {{"conditions.ambient_kpa", MARKED("part.air_filter.pressure", "{A}")}},
        .fields = {"conditions.ambient_kpa"},
        .inspections = {{"air_filter", MARKED("inspection.air_filter", "Air filter looked at"),
                         MARKED("inspection.air_filter.help",
                                "Clean and tight, out of the heat, nothing loose before the compressor.")}},
    };
}

Part compressorPart() {
    return {
        .id = "compressor",
        .title = MARKED("part.compressor", "Compressor"),
        .help = MARKED("part.compressor.help",
                       "A turbine has to spin up first; a blower on the crank has its boost at once."),
        .figures = {{"engine.charging", MARKED("part.compressor.by", "{A}")}},
        .fields = {"engine.charging"},
        .inspections = {{"compressor_shaft", MARKED("inspection.compressor_shaft", "Shaft or belt looked at"),
                         MARKED("inspection.compressor_shaft.help",
                                "No play that lets the wheel touch; a belt without cracks, tight.")}},
        .fitted = charged,
        .add = [](Job &j) { j.engine.charging = Charging::turbo; },
        .remove = [](Job &j) { j.engine.charging = Charging::none; },
        .madeUp = {"engine.charging"},
    };
}

Part coolerPart() {
    return {
        .id = "cooler",
        .title = MARKED("part.cooler", "Charge cooler"),
        .help = MARKED("part.cooler.help",
                       "Cold charge is dense: most fuel. Hot charge knocks first. Both are judged."),
        .figures = {{"engine.charge_cooler", MARKED("part.cooler.by", "cooled by: {A}")}},
        .fields = {"engine.charge_cooler"},
        .inspections = {{"leak_test", MARKED("inspection.leak_test", "Leak test of the intake"),
                         MARKED("inspection.leak_test.help",
                                "Closed and under pressure, to the boost that it will see: no hiss, and the "
                                "gauge holds.")}},
        .belongs = charged,
        .fitted = [](const Job &j) { return j.engine.chargeCooler != ChargeCooler::none; },
        .add = [](Job &j) { j.engine.chargeCooler = ChargeCooler::air; },
        .remove = [](Job &j) { j.engine.chargeCooler = ChargeCooler::none; },
        .madeUp = {"engine.charge_cooler"},
    };
}

Part throttlePart() {
    return {
        .id = "throttle",
        .title = MARKED("part.throttle", "Throttle"),
        .help = MARKED("part.throttle.help",
                       "What the manifold holds at which opening, for tables that go by throttle."),
        .figures = {{"engine.throttle_kpa", MARKED("part.throttle.curve", "{A}")}},
        .fields = {"engine.throttle_kpa"},
        .inspections = {{"throttle_stops", MARKED("inspection.throttle_stops", "Shut and open"),
                         MARKED("inspection.throttle_stops.help",
                                "The pedal opens it fully, the reading goes from 0 to 100 %, it closes by "
                                "itself.")}},
    };
}

Part manifoldPart() {
    return {
        .id = "manifold",
        .title = MARKED("part.manifold", "Manifold"),
        .help =
            MARKED("part.manifold.help",
                   "Where the MAP sensor reads what the tables go by, and the temperature of the charge."),
        .figures = {{"engine.map_sensor_max_kpa", MARKED("part.manifold.reads", "reads to {A}")},
                    {"boost.cut_kpa", MARKED("part.manifold.cut", "cut {A}")}},
        .fields = {"engine.map_sensor_min_kpa", "engine.map_sensor_max_kpa", "boost.cut_kpa",
                   "conditions.intake_usual_c", "conditions.intake_coldest_c", "spark.intake_hot_c"},
        .inspections = {{"map_zero", MARKED("inspection.map_zero", "Reads the air outside"),
                         MARKED("inspection.map_zero.help",
                                "With the engine off, within a kPa or two of a barometer.")}},
        .checks = {"boost.map_range", "boost.cut"},
    };
}

Part wastegatePart() {
    return {
        .id = "wastegate",
        .title = MARKED("part.wastegate", "Wastegate"),
        .help = MARKED("part.wastegate.help",
                       "Its spring is the least boost that there is; the solenoid can only add to it."),
        .figures = {{"boost.spring_kpa", MARKED("part.wastegate.spring", "spring {A}"), true},
                    {"boost.points", MARKED("part.wastegate.points", "pulls: {A}")}},
        .fields = {"boost.spring_kpa"},
        .lists = {"boost.points"},
        .inspections = {{"spring_measured", MARKED("inspection.spring_measured", "Spring measured"),
                         MARKED("inspection.spring_measured.help",
                                "Boost of a pull with the solenoid unplugged: the advertised figure is often "
                                "wrong.")}},
        .checks = {"boost.spring"},
        .belongs = [](const Job &j) { return j.engine.charging == Charging::turbo; },
    };
}

Part exhaustPart() {
    return {
        .id = "exhaust",
        .title = MARKED("part.exhaust", "Exhaust"),
        .help =
            MARKED("part.exhaust.help", "Where λ is read; leaded fuel ruins a catalyst and a lambda sensor."),
        .figures = {{"fuel_system.catalyst", MARKED("part.exhaust.catalyst", "catalyst: {A}")}},
        .fields = {"fuel_system.catalyst"},
        .inspections = {{"exhaust_leaks",
                         MARKED("inspection.exhaust_leaks", "Tight before the lambda sensor"),
                         MARKED("inspection.exhaust_leaks.help",
                                "A leak reads lean; looked for cold, with smoke or soapy water.")}},
        .caution = MARKED("part.exhaust.caution",
                          "Exhaust gas kills: run the engine in the open or with an extraction."),
    };
}

Part weatherPart() {
    return {
        .id = "weather",
        .title = MARKED("part.weather", "Air of the day"),
        .help =
            MARKED("part.weather.help", "Mechanical injection does not know the air: the pill follows it."),
        .figures = {{"mechanical.now_kpa", MARKED("part.weather.pressure", "{A}")},
                    {"mechanical.now_c", MARKED("part.weather.temperature", "{A}")}},
        .fields = {"mechanical.then_kpa", "mechanical.then_c", "mechanical.then_humidity",
                   "mechanical.now_kpa", "mechanical.now_c", "mechanical.now_humidity",
                   "mechanical.manifold_kpa", "mechanical.intake_c", "mechanical.ve"},
        .belongs = [](const Job &j) { return j.control == FuelControl::mechanical; },
    };
}

} // namespace

std::vector<Part> airPathParts() {
    return {airFilterPart(), weatherPart(),  compressorPart(), coolerPart(),
            throttlePart(),  manifoldPart(), exhaustPart(),    wastegatePart()};
}

} // namespace wheelwright
