// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/job/tank_setup.h"

#include "core/job/describe.h"

namespace wheelwright {
namespace {
using D = Dimension;
}

Chapter tankSetupChapter() {
    const auto tank = listOf<TankEvent>([](auto &j) -> auto & { return j.tankEvents; });
    Chapter c;
    c.fields = {
        number(
            "tank.capacity_l", "Tank, brim full", D::displacement, 1, 2000,
            [](auto &j) -> auto & { return j.tank.capacityL; }, "All that goes in."),
        number(
            "tank.reserve_l", "Pickup needs", D::displacement, 0, 500,
            [](auto &j) -> auto & { return j.tank.reserveL; },
            "Under this the pickup may run dry: no pulls."),
        number(
            "tank.line_l", "Feed line", D::displacement, 0, 20,
            [](auto &j) -> auto & { return j.tank.lineL; },
            "Tank or surge tank to the rail, or to a sensor on the way."),
        number(
            "tank.rail_l", "Rail", D::displacement, 0, 20, [](auto &j) -> auto & { return j.tank.railL; },
            "From the end of the feed line to the last injector."),
        number(
            "tank.return_l", "Return line", D::displacement, 0, 20,
            [](auto &j) -> auto & { return j.tank.returnL; }, "Rail to a content sensor in the return."),
        choice(
            "tank.sensor_place", "Content sensor sits in", {"feed", "return"}, {"The feed", "The return"},
            [](auto &j) -> auto & { return j.tank.sensorPlace; },
            "In the feed it knows before the injectors do, in the return after them."),
        number(
            "tank.surge_l", "Surge tank", D::displacement, 0, 50,
            [](auto &j) -> auto & { return j.tank.surgeL; }, "0: none."),
        number(
            "tank.surge_flow_l_min", "Lift pump", D::flowLMin, 0, 100,
            [](auto &j) -> auto & { return j.tank.surgeFlowLMin; },
            "Into the surge tank. 0: what flows through the line."),
        number(
            "tank.idle_flow_l_min", "Flow at idle", D::flowLMin, 0.001, 100,
            [](auto &j) -> auto & { return j.tank.idleFlowLMin; },
            "Through the line: consumption where the rail ends, pump flow where it returns."),
        number(
            "tank.cruise_flow_l_min", "Flow at cruise", D::flowLMin, 0.001, 100,
            [](auto &j) -> auto & { return j.tank.cruiseFlowLMin; }, "The same, driving steadily."),
        number(
            "tank.idle_use_l_min", "Burned at idle", D::flowLMin, 0, 100,
            [](auto &j) -> auto & { return j.tank.idleUseLMin; },
            "The return carries what is left of the flow."),
        number(
            "tank.cruise_use_l_min", "Burned at cruise", D::flowLMin, 0, 100,
            [](auto &j) -> auto & { return j.tank.cruiseUseLMin; }, "The same, driving steadily."),
        scalar(
            "fuel_system.content_sensor", "Content sensor fitted",
            [](auto &j) -> auto & { return j.fuelSystem.contentSensor; },
            "It cannot tell methanol from ethanol."),
        scalar(
            "fuel_system.catalyst", "Catalyst or lambda sensor to keep",
            [](auto &j) -> auto & { return j.fuelSystem.catalyst; }, "Leaded fuel ruins both."),
        number(
            "fuel_system.rated_ethanol", "Rated for ethanol up to", D::content, 0, 1,
            [](auto &j) -> auto & { return j.fuelSystem.ratedEthanol; },
            "By the data sheets of pump, hoses and seals. E10 until you know better."),
        number(
            "fuel_system.rated_methanol", "Rated for methanol up to", D::content, 0, 1,
            [](auto &j) -> auto & { return j.fuelSystem.ratedMethanol; }, "By the same data sheets."),
        number(
            "use.l_per_100km", "Uses on the road, per 100 km", D::displacement, 0, 500,
            [](auto &j) -> auto & { return j.consumption.litresPer100Km; }, "0: not known."),
        number(
            "use.l_per_hour", "Uses in an event, per hour", D::displacement, 0, 2000,
            [](auto &j) -> auto & { return j.consumption.litresPerHour; }, "0: not known."),
        number(
            "use.content", "Measured on", D::content, 0, 1,
            [](auto &j) -> auto & { return j.consumption.content; },
            "Alcohol content of the fuel that the use was measured on."),
    };
    c.lists = {
        tank.list(
            "tank.events", "Tank history", 10000,
            {tank.date("at", "When", &TankEvent::at, "ISO 8601; may be empty."),
             tank.choice("kind", "What", {"pour", "drain", "burn", "level", "content", "sensor", "tube"},
                         {"Poured in", "Drained", "Burned", "Level read", "Content believed", "Sensor read",
                          "Tube read"},
                         &TankEvent::kind,
                         "Level and believed content set what is known anew; readings are opinions."),
             tank.unstated("litres", "Litres", D::displacement, 0, 2000, &TankEvent::litres,
                           "Not used for a content."),
             tank.unstated("ethanol", "Ethanol", D::content, 0, 1, &TankEvent::ethanol,
                           "For what is poured, or measured."),
             tank.field("note", "Note", &TankEvent::note, "Station, receipt, how it was measured."),
             tank.unstated("litres_sigma", "± L", D::displacement, 0, 500, &TankEvent::litresSigma,
                           "Standard uncertainty. 0: what is usual for such an event."),
             tank.unstated("methanol", "Methanol", D::content, 0, 1, &TankEvent::methanol, "The same."),
             tank.unstated("content_sigma", "±", D::content, 0, 0.5, &TankEvent::contentSigma,
                           "Standard uncertainty of the content. 0: what is usual."),
             tank.reference("hydrocarbon", "Hydrocarbon", &TankEvent::hydrocarbon, "fuel.hydrocarbons",
                            "Of what is poured; empty: the job's gasoline.")}),
    };
    c.same = [](const Job &a, const Job &b) {
        return a.tank == b.tank && a.tankEvents == b.tankEvents && a.fuelSystem == b.fuelSystem &&
               a.consumption == b.consumption;
    };
    return c;
}

} // namespace wheelwright
