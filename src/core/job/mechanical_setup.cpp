// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/job/mechanical_setup.h"

#include "core/job/describe.h"

namespace wheelwright {
namespace {
using D = Dimension;
}

Chapter mechanicalSetupChapter() {
    const auto passes = listOf<PassRecord>([](auto &j) -> auto & { return j.mechanical.passes; });
    Chapter c;
    c.fields = {
        number(
            "mechanical.pump_l_min", "Pump flow", D::flowLMin, 0.1, 500,
            [](auto &j) -> auto & { return j.mechanical.injection.pumpLMin; },
            "Of a new pump at the speed below."),
        number(
            "mechanical.pump_rpm", "At engine speed", D::engineSpeed, 100, 20000,
            [](auto &j) -> auto & { return j.mechanical.injection.pumpRpm; }, "Of that flow."),
        number(
            "mechanical.pump_wear", "Pump wear", D::ratio, 0, 0.9,
            [](auto &j) -> auto & { return j.mechanical.injection.wear; },
            "Share of its flow that it has lost."),
        wholeNumber(number(
            "mechanical.nozzles", "Nozzles", D::none, 1, 64,
            [](auto &j) -> auto & { return j.mechanical.injection.nozzles; }, "To the engine, all alike.")),
        number(
            "mechanical.nozzle_mm", "Nozzle bore", D::length, 0.1, 10,
            [](auto &j) -> auto & { return j.mechanical.injection.nozzleMm; }, "Of each."),
        number(
            "mechanical.discharge_nozzles", "Nozzle discharge", D::none, 0.1, 1,
            [](auto &j) -> auto & { return j.mechanical.injection.dischargeNozzles; },
            "Discharge coefficient; 0.8 is usual."),
        number(
            "mechanical.discharge_jets", "Pill discharge", D::none, 0.1, 1,
            [](auto &j) -> auto & { return j.mechanical.injection.dischargeJets; },
            "Discharge coefficient; 0.8 is usual."),
        number(
            "mechanical.density_kg_m3", "Fuel density", D::density, 600, 1000,
            [](auto &j) -> auto & { return j.mechanical.injection.densityKgM3; }, "At its temperature."),
        number(
            "mechanical.main_mm", "Main pill", D::length, 0, 20,
            [](auto &j) -> auto & { return j.mechanical.injection.main.diameterMm; }, "0: blanked off."),
        number(
            "mechanical.main_opens_kpa", "Main poppet opens at", D::pressureGauge, 0, 5000,
            [](auto &j) -> auto & { return j.mechanical.injection.main.opensKpa; }, "0: always open."),
        number(
            "mechanical.high_speed_mm", "High-speed pill", D::length, 0, 20,
            [](auto &j) -> auto & { return j.mechanical.injection.highSpeed.diameterMm; }, "0: none."),
        number(
            "mechanical.high_speed_opens_kpa", "High-speed spring", D::pressureGauge, 0, 5000,
            [](auto &j) -> auto & { return j.mechanical.injection.highSpeed.opensKpa; },
            "Opens at this pressure and leans only the top."),
        number(
            "mechanical.port_mm", "Port or idle pill", D::length, 0, 20,
            [](auto &j) -> auto & { return j.mechanical.injection.port.diameterMm; }, "0: none."),
        number(
            "mechanical.port_opens_kpa", "Its spring", D::pressureGauge, 0, 5000,
            [](auto &j) -> auto & { return j.mechanical.injection.port.opensKpa; }, "0: always open."),
        number(
            "mechanical.ve", "Volumetric efficiency", D::ratio, 0.2, 2,
            [](auto &j) -> auto & { return j.mechanical.ve; }, "Against manifold conditions."),
        number(
            "mechanical.intake_c", "Charge temperature", D::temperature, -40, 150,
            [](auto &j) -> auto & { return j.mechanical.intakeC; }, "In the manifold."),
        number(
            "mechanical.pill_step_mm", "Step of the pills", D::length, 0.01, 2,
            [](auto &j) -> auto & { return j.mechanical.pillStepMm; }, "Between the sizes in the box."),
        number(
            "mechanical.judged_rpm", "Pills compared at", D::engineSpeed, 500, 20000,
            [](auto &j) -> auto & { return j.mechanical.judgedRpm; }, "Engine speed of the pill table."),
        number(
            "mechanical.then_kpa", "Air pressure then", D::pressure, 50, 110,
            [](auto &j) -> auto & { return j.mechanical.then.pressureKpa; },
            "Station pressure, not reduced to sea level."),
        number(
            "mechanical.then_c", "Air temperature then", D::temperature, -40, 55,
            [](auto &j) -> auto & { return j.mechanical.then.temperatureC; }, "In the shade."),
        number(
            "mechanical.then_humidity", "Humidity then", D::ratio, 0, 1,
            [](auto &j) -> auto & { return j.mechanical.then.humidity; }, "Relative."),
        number(
            "mechanical.now_kpa", "Air pressure today", D::pressure, 50, 110,
            [](auto &j) -> auto & { return j.mechanical.now.pressureKpa; },
            "Station pressure, not reduced to sea level."),
        number(
            "mechanical.now_c", "Air temperature today", D::temperature, -40, 55,
            [](auto &j) -> auto & { return j.mechanical.now.temperatureC; }, "In the shade."),
        number(
            "mechanical.now_humidity", "Humidity today", D::ratio, 0, 1,
            [](auto &j) -> auto & { return j.mechanical.now.humidity; }, "Relative."),
    };
    c.curves = {
        curve(
            "mechanical.manifold_kpa", "Manifold pressure over rpm", D::engineSpeed, D::pressure, 20, 800,
            [](auto &j) -> auto & { return j.mechanical.manifoldKpa; }, 0, 25000),
    };
    c.lists = {
        passes.list(
            "mechanical.passes", "Passes", 500,
            {passes.date("at", "When", &PassRecord::at, "ISO 8601."),
             passes.unstated("pill_mm", "Main pill", D::length, 0, 20, &PassRecord::pillMm, "That was in."),
             passes.unstated("exhaust_c", "Exhaust", D::temperature, 0, 1200, &PassRecord::exhaustC,
                             "Hottest; 0: not read."),
             passes.unstated("power", "Power", D::none, 0, 1e6, &PassRecord::power,
                             "In a measure of your own; 0: not read."),
             passes.field("hard_start", "Hard start", &PassRecord::hardStart, "The bottom end was lean."),
             passes.field("plugs", "Plugs", &PassRecord::plugs, "How they looked."),
             passes.field("oil", "Oil", &PassRecord::oil, "Level, smell, changed."),
             passes.field("note", "Note", &PassRecord::note, "Anything else.")}),
    };
    c.same = [](const Job &a, const Job &b) { return a.mechanical == b.mechanical; };
    return c;
}

} // namespace wheelwright
