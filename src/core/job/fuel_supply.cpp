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
            "supply.volts", "Pump voltage", D::voltage, 6, 20,
            [](auto &j) -> auto & { return j.supply.volts; }, "At the pumps, under load."),
        scalar(
            "supply.returns", "Fuel returns", [](auto &j) -> auto & { return j.supply.returns; },
            "What the engine does not use flows back to the tank."),
        number(
            "supply.margin", "Filter margin", D::ratio, 0, 0.5,
            [](auto &j) -> auto & { return j.supply.margin; },
            "Demand is counted this much higher. 5 to 10 % is usual."),
        number(
            "supply.sensor_return_l_min", "Sensor in the return needs", D::flowLMin, 0, 50,
            [](auto &j) -> auto & { return j.supply.sensorReturnLMin; },
            "Under this its reading is not to be trusted."),
        guarded("where the content is frozen",
                number(
                    "supply.freeze_load_kpa", "Reading frozen above", D::pressure, 0, 1000,
                    [](auto &j) -> auto & { return j.supply.freezeLoadKpa; },
                    "Load above which the controller holds the content. 0: it does not.")),
        guarded("where the content is frozen",
                number(
                    "supply.freeze_rpm", "… and above", D::engineSpeed, 0, 20000,
                    [](auto &j) -> auto & { return j.supply.freezeRpm; },
                    "Engine speed above which the controller holds the content.")),
        number(
            "supply.commanded_kpa", "Log: commanded Δp", D::pressureDifference, 0, 1500,
            [](auto &j) -> auto & { return j.supply.commandedKpa; },
            "Across the injectors, at the highest flow of a log. 0: not read."),
        number(
            "supply.measured_kpa", "Log: measured Δp", D::pressureDifference, 0, 1500,
            [](auto &j) -> auto & { return j.supply.measuredKpa; },
            "The same moment: rail less manifold. 0: not read."),
    };
    c.lists = {
        referred("the name of a pump with data",
                 pumpPoints.list("supply.pump_points", "Pump data", 200,
                                 {pumpPoints.field("pump", "Pump", &PumpPoint::pump, "Whose sheet."),
                                  pumpPoints.number("voltage_v", "Voltage", D::voltage, 4, 30,
                                                    &PumpPoint::volts, "At the pump."),
                                  pumpPoints.number("pressure_kpa", "Pressure", D::pressureGauge, 0, 3000,
                                                    &PumpPoint::pressureKpa, "At its outlet."),
                                  pumpPoints.number("flow_l_min", "Flow", D::flowLMin, 0, 100,
                                                    &PumpPoint::flowLMin, "At that voltage and pressure.")})),
        pumps.list(
            "supply.pumps", "Fitted pumps", 8,
            {pumps.reference("pump", "Pump", &FittedPump::pump, "supply.pump_points", "Name of the data."),
             pumps.number("count", "So many", D::none, 0, 8, &FittedPump::count, "Alike, side by side.")}),
    };
    c.same = [](const Job &a, const Job &b) { return a.supply == b.supply; };
    return c;
}

} // namespace wheelwright
