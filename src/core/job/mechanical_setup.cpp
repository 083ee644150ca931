// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/job/mechanical_setup.h"

#include "core/job/describe.h"

namespace wheelwright {
namespace {

using D = Dimension;

// What fuel such an engine gets is its pills, springs and nozzles: they are its calibration.
bool fedByPills(const Job &job) {
    return job.control == FuelControl::mechanical;
}

} // namespace

Chapter mechanicalSetupChapter() {
    const auto passes = listOf<PassRecord>([](auto &j) -> auto & { return j.mechanical.passes; });
    Chapter c;
    c.fields = {
        number(
            MARKED("mechanical.pump_l_min", "Pump flow"), D::flowLMin, 0.1, 500,
            [](auto &j) -> auto & { return j.mechanical.injection.pumpLMin; },
            MARKED("mechanical.pump_l_min.help", "Of a new pump at the speed below.")),
        number(
            MARKED("mechanical.pump_rpm", "At engine speed"), D::engineSpeed, 100, 20000,
            [](auto &j) -> auto & { return j.mechanical.injection.pumpRpm; },
            MARKED("mechanical.pump_rpm.help", "Of that flow.")),
        number(
            MARKED("mechanical.pump_wear", "Pump wear"), D::ratio, 0, 0.9,
            [](auto &j) -> auto & { return j.mechanical.injection.wear; },
            MARKED("mechanical.pump_wear.help", "Share of its flow that it has lost.")),
        held(fedByPills, wholeNumber(number(
                             MARKED("mechanical.nozzles", "Nozzles"), D::none, 1, 64,
                             [](auto &j) -> auto & { return j.mechanical.injection.nozzles; },
                             MARKED("mechanical.nozzles.help", "To the engine, all alike.")))),
        held(fedByPills, number(
                             MARKED("mechanical.nozzle_mm", "Nozzle bore"), D::length, 0.1, 10,
                             [](auto &j) -> auto & { return j.mechanical.injection.nozzleMm; },
                             MARKED("mechanical.nozzle_mm.help", "Of each."))),
        choice(
            MARKED("mechanical.nozzle_place", "Nozzles spray"), {"above_blower", "below_blower", "ports"},
            {MARKED("mechanical.nozzle_place.above_blower", "Above the blower"),
             MARKED("mechanical.nozzle_place.below_blower", "Below the blower"),
             MARKED("mechanical.nozzle_place.ports", "Into the ports")},
            [](auto &j) -> auto & { return j.mechanical.injection.nozzlePlace; },
            MARKED("mechanical.nozzle_place.help",
                   "Below a blower and in the ports they spray against the manifold's pressure.")),
        number(
            MARKED("mechanical.discharge_nozzles", "Nozzle discharge"), D::none, 0.1, 1,
            [](auto &j) -> auto & { return j.mechanical.injection.dischargeNozzles; },
            MARKED("mechanical.discharge_nozzles.help", "Discharge coefficient; 0.8 is usual.")),
        number(
            MARKED("mechanical.discharge_jets", "Pill discharge"), D::none, 0.1, 1,
            [](auto &j) -> auto & { return j.mechanical.injection.dischargeJets; },
            MARKED("mechanical.discharge_jets.help", "Discharge coefficient; 0.8 is usual.")),
        number(
            MARKED("mechanical.density_kg_m3", "Fuel density"), D::density, 600, 1000,
            [](auto &j) -> auto & { return j.mechanical.injection.densityKgM3; },
            MARKED("mechanical.density_kg_m3.help", "At its temperature.")),
        held(fedByPills, zeroIs(MARKED("zero.blanked", "blanked off"),
                                number(
                                    MARKED("mechanical.main_mm", "Main pill"), D::length, 0, 20,
                                    [](auto &j) -> auto & { return j.mechanical.injection.main.diameterMm; },
                                    MARKED("mechanical.main_mm.help", "0: blanked off.")))),
        held(fedByPills,
             zeroIs(MARKED("zero.open", "always open"),
                    number(
                        MARKED("mechanical.main_opens_kpa", "Main poppet opens at"), D::pressureGauge, 0,
                        5000, [](auto &j) -> auto & { return j.mechanical.injection.main.opensKpa; },
                        MARKED("mechanical.main_opens_kpa.help", "0: always open.")))),
        held(fedByPills,
             zeroIs(MARKED("zero.none", "none"),
                    number(
                        MARKED("mechanical.high_speed_mm", "High-speed pill"), D::length, 0, 20,
                        [](auto &j) -> auto & { return j.mechanical.injection.highSpeed.diameterMm; },
                        MARKED("mechanical.high_speed_mm.help", "0: none.")))),
        held(fedByPills,
             number(
                 MARKED("mechanical.high_speed_opens_kpa", "High-speed spring"), D::pressureGauge, 0, 5000,
                 [](auto &j) -> auto & { return j.mechanical.injection.highSpeed.opensKpa; },
                 MARKED("mechanical.high_speed_opens_kpa.help",
                        "Opens at this pressure and leans only the top."))),
        held(fedByPills, zeroIs(MARKED("zero.none", "none"),
                                number(
                                    MARKED("mechanical.port_mm", "Port or idle pill"), D::length, 0, 20,
                                    [](auto &j) -> auto & { return j.mechanical.injection.port.diameterMm; },
                                    MARKED("mechanical.port_mm.help", "0: none.")))),
        held(fedByPills,
             zeroIs(MARKED("zero.open", "always open"),
                    number(
                        MARKED("mechanical.port_opens_kpa", "Its spring"), D::pressureGauge, 0, 5000,
                        [](auto &j) -> auto & { return j.mechanical.injection.port.opensKpa; },
                        MARKED("mechanical.port_opens_kpa.help", "0: always open.")))),
        number(
            MARKED("mechanical.ve", "Volumetric efficiency"), D::ratio, 0.2, 2,
            [](auto &j) -> auto & { return j.mechanical.ve; },
            MARKED("mechanical.ve.help", "Against manifold conditions.")),
        number(
            MARKED("mechanical.intake_c", "Charge temperature"), D::temperature, -40, 150,
            [](auto &j) -> auto & { return j.mechanical.intakeC; },
            MARKED("mechanical.intake_c.help", "In the manifold.")),
        number(
            MARKED("mechanical.pill_step_mm", "Step of the pills"), D::length, 0.01, 2,
            [](auto &j) -> auto & { return j.mechanical.pillStepMm; },
            MARKED("mechanical.pill_step_mm.help", "Between the sizes in the box.")),
        number(
            MARKED("mechanical.judged_rpm", "Pills compared at"), D::engineSpeed, 500, 20000,
            [](auto &j) -> auto & { return j.mechanical.judgedRpm; },
            MARKED("mechanical.judged_rpm.help", "Engine speed of the pill table.")),
        number(
            MARKED("mechanical.then_kpa", "Air pressure then"), D::pressure, 50, 110,
            [](auto &j) -> auto & { return j.mechanical.then.pressureKpa; },
            MARKED("mechanical.then_kpa.help", "Station pressure, not reduced to sea level.")),
        number(
            MARKED("mechanical.then_c", "Air temperature then"), D::temperature, -40, 55,
            [](auto &j) -> auto & { return j.mechanical.then.temperatureC; },
            MARKED("mechanical.then_c.help", "In the shade.")),
        number(
            MARKED("mechanical.then_humidity", "Humidity then"), D::ratio, 0, 1,
            [](auto &j) -> auto & { return j.mechanical.then.humidity; },
            MARKED("mechanical.then_humidity.help", "Relative.")),
        number(
            MARKED("mechanical.now_kpa", "Air pressure today"), D::pressure, 50, 110,
            [](auto &j) -> auto & { return j.mechanical.now.pressureKpa; },
            MARKED("mechanical.now_kpa.help", "Station pressure, not reduced to sea level.")),
        number(
            MARKED("mechanical.now_c", "Air temperature today"), D::temperature, -40, 55,
            [](auto &j) -> auto & { return j.mechanical.now.temperatureC; },
            MARKED("mechanical.now_c.help", "In the shade.")),
        number(
            MARKED("mechanical.now_humidity", "Humidity today"), D::ratio, 0, 1,
            [](auto &j) -> auto & { return j.mechanical.now.humidity; },
            MARKED("mechanical.now_humidity.help", "Relative.")),
    };
    c.curves = {
        curve(
            MARKED("mechanical.manifold_kpa", "Manifold pressure over rpm"), D::engineSpeed, D::pressure, 20,
            800, [](auto &j) -> auto & { return j.mechanical.manifoldKpa; }, 0, 25000),
    };
    c.lists = {
        passes.list(
            MARKED("mechanical.passes", "Passes"), 500,
            {passes.date(MARKED("mechanical.passes.at", "When"), &PassRecord::at,
                         MARKED("mechanical.passes.at.help", "ISO 8601.")),
             passes.unstated(MARKED("mechanical.passes.pill_mm", "Main pill"), D::length, 0, 20,
                             &PassRecord::pillMm, MARKED("mechanical.passes.pill_mm.help", "That was in.")),
             passes.unstated(MARKED("mechanical.passes.exhaust_c", "Exhaust"), D::temperature, 0, 1200,
                             &PassRecord::exhaustC,
                             MARKED("mechanical.passes.exhaust_c.help", "Hottest; 0: not read.")),
             passes.unstated(
                 MARKED("mechanical.passes.power", "Power"), D::none, 0, 1e6, &PassRecord::power,
                 MARKED("mechanical.passes.power.help", "In a measure of your own; 0: not read.")),
             passes.field(MARKED("mechanical.passes.hard_start", "Hard start"), &PassRecord::hardStart,
                          MARKED("mechanical.passes.hard_start.help", "The bottom end was lean.")),
             passes.field(MARKED("mechanical.passes.plugs", "Plugs"), &PassRecord::plugs,
                          MARKED("mechanical.passes.plugs.help", "How they looked.")),
             passes.field(MARKED("mechanical.passes.oil", "Oil"), &PassRecord::oil,
                          MARKED("mechanical.passes.oil.help", "Level, smell, changed.")),
             passes.field(MARKED("mechanical.passes.note", "Note"), &PassRecord::note,
                          MARKED("mechanical.passes.note.help", "Anything else."))}),
    };
    c.same = [](const Job &a, const Job &b) { return a.mechanical == b.mechanical; };
    return c;
}

} // namespace wheelwright
