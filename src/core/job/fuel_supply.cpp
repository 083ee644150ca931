// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/job/fuel_supply.h"

#include "core/job/describe.h"

namespace wheelwright {
namespace {
using D = Dimension;
}

Chapter fuelSupplyChapter() {
    const auto pumpPoints = listOf<PumpPoint>([](auto &j) -> auto & { return j.supply.points; });
    const auto pumps = listOf<FittedPump>([](auto &j) -> auto & { return j.supply.pumps; });
    Chapter c;
    c.fields = {
        number(
            MARKED("supply.volts", "Pump voltage"), D::voltage, 6, 20,
            [](auto &j) -> auto & { return j.supply.volts; },
            MARKED("supply.volts.help", "At the pumps, under load.")),
        scalar(
            MARKED("supply.returns", "Fuel returns"), [](auto &j) -> auto & { return j.supply.returns; },
            MARKED("supply.returns.help", "What the engine does not use flows back to the tank.")),
        number(
            MARKED("supply.margin", "Filter margin"), D::ratio, 0, 0.5,
            [](auto &j) -> auto & { return j.supply.margin; },
            MARKED("supply.margin.help", "Demand is counted this much higher. 5 to 10 % is usual.")),
        number(
            MARKED("supply.sensor_return_l_min", "Sensor in the return needs"), D::flowLMin, 0, 50,
            [](auto &j) -> auto & { return j.supply.sensorReturnLMin; },
            MARKED("supply.sensor_return_l_min.help", "Under this its reading is not to be trusted.")),
        guarded(MARKED("guarded.where_content_frozen", "where the content is frozen"),
                zeroIs(MARKED("zero.freeze", "never"),
                       number(
                           MARKED("supply.freeze_load_kpa", "Reading frozen above"), D::pressure, 0, 1000,
                           [](auto &j) -> auto & { return j.supply.freezeLoadKpa; },
                           MARKED("supply.freeze_load_kpa.help",
                                  "Load above which the controller holds the content. 0: it does not.")))),
        guarded(MARKED("guarded.where_content_frozen", "where the content is frozen"),
                number(
                    MARKED("supply.freeze_rpm", "… and above"), D::engineSpeed, 0, 20000,
                    [](auto &j) -> auto & { return j.supply.freezeRpm; },
                    MARKED("supply.freeze_rpm.help",
                           "Engine speed above which the controller holds the content."))),
        zeroIs(MARKED("zero.not_read", "not read"),
               number(
                   MARKED("supply.commanded_kpa", "Log: commanded Δp"), D::pressureDifference, 0, 1500,
                   [](auto &j) -> auto & { return j.supply.commandedKpa; },
                   MARKED("supply.commanded_kpa.help",
                          "Across the injectors, at the highest flow of a log. 0: not read."))),
        zeroIs(MARKED("zero.not_read", "not read"),
               number(
                   MARKED("supply.measured_kpa", "Log: measured Δp"), D::pressureDifference, 0, 1500,
                   [](auto &j) -> auto & { return j.supply.measuredKpa; },
                   MARKED("supply.measured_kpa.help", "The same moment: rail less manifold. 0: not read."))),
    };
    c.lists = {
        referred(MARKED("referred.name_pump_data", "the name of a pump with data"),
                 pumpPoints.list(
                     MARKED("supply.pump_points", "Pump data"), 200,
                     {pumpPoints.field(MARKED("supply.pump_points.pump", "Pump"), &PumpPoint::pump,
                                       MARKED("supply.pump_points.pump.help", "Whose sheet.")),
                      pumpPoints.number(MARKED("supply.pump_points.voltage_v", "Voltage"), D::voltage, 4, 30,
                                        &PumpPoint::volts,
                                        MARKED("supply.pump_points.voltage_v.help", "At the pump.")),
                      pumpPoints.number(MARKED("supply.pump_points.pressure_kpa", "Pressure"),
                                        D::pressureGauge, 0, 3000, &PumpPoint::pressureKpa,
                                        MARKED("supply.pump_points.pressure_kpa.help", "At its outlet.")),
                      pumpPoints.number(
                          MARKED("supply.pump_points.flow_l_min", "Flow"), D::flowLMin, 0, 100,
                          &PumpPoint::flowLMin,
                          MARKED("supply.pump_points.flow_l_min.help", "At that voltage and pressure."))})),
        pumps.list(
            MARKED("supply.pumps", "Fitted pumps"), 8,
            {pumps.reference(MARKED("supply.pumps.pump", "Pump"), &FittedPump::pump, "supply.pump_points",
                             MARKED("supply.pumps.pump.help", "Name of the data.")),
             pumps.number(MARKED("supply.pumps.count", "So many"), D::none, 0, 8, &FittedPump::count,
                          MARKED("supply.pumps.count.help", "Alike, side by side."))}),
    };
    c.same = [](const Job &a, const Job &b) { return a.supply == b.supply; };
    return c;
}

} // namespace wheelwright
