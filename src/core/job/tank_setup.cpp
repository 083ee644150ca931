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
            MARKED("tank.capacity_l", "Tank, brim full"), D::displacement, 1, 2000,
            [](auto &j) -> auto & { return j.tank.capacityL; },
            MARKED("tank.capacity_l.help", "All that goes in.")),
        number(
            MARKED("tank.reserve_l", "Pickup needs"), D::displacement, 0, 500,
            [](auto &j) -> auto & { return j.tank.reserveL; },
            MARKED("tank.reserve_l.help", "Under this the pickup may run dry: no pulls.")),
        number(
            MARKED("tank.line_l", "Feed line"), D::displacement, 0, 20,
            [](auto &j) -> auto & { return j.tank.lineL; },
            MARKED("tank.line_l.help", "Tank or surge tank to the rail, or to a sensor on the way.")),
        number(
            MARKED("tank.rail_l", "Rail"), D::displacement, 0, 20,
            [](auto &j) -> auto & { return j.tank.railL; },
            MARKED("tank.rail_l.help", "From the end of the feed line to the last injector.")),
        number(
            MARKED("tank.return_l", "Return line"), D::displacement, 0, 20,
            [](auto &j) -> auto & { return j.tank.returnL; },
            MARKED("tank.return_l.help", "Rail to a content sensor in the return.")),
        choice(
            MARKED("tank.sensor_place", "Content sensor sits in"), {"feed", "return"},
            {MARKED("tank.sensor_place.feed", "The feed"), MARKED("tank.sensor_place.return", "The return")},
            [](auto &j) -> auto & { return j.tank.sensorPlace; },
            MARKED("tank.sensor_place.help",
                   "In the feed it knows before the injectors do, in the return after them.")),
        zeroIs(MARKED("zero.none", "none"),
               number(
                   MARKED("tank.surge_l", "Surge tank"), D::displacement, 0, 50,
                   [](auto &j) -> auto & { return j.tank.surgeL; }, MARKED("tank.surge_l.help", "0: none."))),
        zeroIs(MARKED("zero.surge_flow", "as the line"),
               number(
                   MARKED("tank.surge_flow_l_min", "Lift pump"), D::flowLMin, 0, 100,
                   [](auto &j) -> auto & { return j.tank.surgeFlowLMin; },
                   MARKED("tank.surge_flow_l_min.help",
                          "Into the surge tank. 0: what flows through the line."))),
        number(
            MARKED("tank.idle_flow_l_min", "Flow at idle"), D::flowLMin, 0.001, 100,
            [](auto &j) -> auto & { return j.tank.idleFlowLMin; },
            MARKED("tank.idle_flow_l_min.help",
                   "Through the line: consumption where the rail ends, pump flow where it returns.")),
        number(
            MARKED("tank.cruise_flow_l_min", "Flow at cruise"), D::flowLMin, 0.001, 100,
            [](auto &j) -> auto & { return j.tank.cruiseFlowLMin; },
            MARKED("tank.cruise_flow_l_min.help", "The same, driving steadily.")),
        number(
            MARKED("tank.idle_use_l_min", "Burned at idle"), D::flowLMin, 0, 100,
            [](auto &j) -> auto & { return j.tank.idleUseLMin; },
            MARKED("tank.idle_use_l_min.help", "The return carries what is left of the flow.")),
        number(
            MARKED("tank.cruise_use_l_min", "Burned at cruise"), D::flowLMin, 0, 100,
            [](auto &j) -> auto & { return j.tank.cruiseUseLMin; },
            MARKED("tank.cruise_use_l_min.help", "The same, driving steadily.")),
        scalar(
            MARKED("fuel_system.content_sensor", "Content sensor fitted"),
            [](auto &j) -> auto & { return j.fuelSystem.contentSensor; },
            MARKED("fuel_system.content_sensor.help", "It cannot tell methanol from ethanol.")),
        scalar(
            MARKED("fuel_system.catalyst", "Catalyst or lambda sensor to keep"),
            [](auto &j) -> auto & { return j.fuelSystem.catalyst; },
            MARKED("fuel_system.catalyst.help", "Leaded fuel ruins both.")),
        number(
            MARKED("fuel_system.rated_ethanol", "Rated for ethanol up to"), D::ethanolContent, 0, 1,
            [](auto &j) -> auto & { return j.fuelSystem.ratedEthanol; },
            MARKED("fuel_system.rated_ethanol.help",
                   "By the data sheets of pump, hoses and seals. E10 until you know better.")),
        number(
            MARKED("fuel_system.rated_methanol", "Rated for methanol up to"), D::methanolContent, 0, 1,
            [](auto &j) -> auto & { return j.fuelSystem.ratedMethanol; },
            MARKED("fuel_system.rated_methanol.help", "By the same data sheets.")),
        zeroIs(MARKED("zero.not_known", "not known"),
               number(
                   MARKED("use.l_per_100km", "Uses on the road, per 100 km"), D::displacement, 0, 500,
                   [](auto &j) -> auto & { return j.consumption.litresPer100Km; },
                   MARKED("use.l_per_100km.help", "0: not known."))),
        zeroIs(MARKED("zero.not_known", "not known"),
               number(
                   MARKED("use.l_per_hour", "Uses in an event, per hour"), D::displacement, 0, 2000,
                   [](auto &j) -> auto & { return j.consumption.litresPerHour; },
                   MARKED("use.l_per_hour.help", "0: not known."))),
        number(
            MARKED("use.content", "Measured on"), D::content, 0, 1,
            [](auto &j) -> auto & { return j.consumption.content; },
            MARKED("use.content.help", "Alcohol content of the fuel that the use was measured on.")),
    };
    c.lists = {
        tank.list(
            MARKED("tank.events", "Tank history"), 10000,
            {tank.date(MARKED("tank.events.at", "When"), &TankEvent::at,
                       MARKED("tank.events.at.help", "ISO 8601; may be empty.")),
             tank.choice(
                 MARKED("tank.events.kind", "What"),
                 {"pour", "drain", "burn", "level", "content", "sensor", "tube"},
                 {MARKED("tank.events.kind.pour", "Poured in"), MARKED("tank.events.kind.drain", "Drained"),
                  MARKED("tank.events.kind.burn", "Burned"), MARKED("tank.events.kind.level", "Level read"),
                  MARKED("tank.events.kind.content", "Content believed"),
                  MARKED("tank.events.kind.sensor", "Sensor read"),
                  MARKED("tank.events.kind.tube", "Tube read")},
                 &TankEvent::kind,
                 MARKED("tank.events.kind.help",
                        "Level and believed content set what is known anew; readings are opinions.")),
             tank.unstated(MARKED("tank.events.litres", "Litres"), D::displacement, 0, 2000,
                           &TankEvent::litres, MARKED("tank.events.litres.help", "Not used for a content.")),
             tank.unstated(MARKED("tank.events.ethanol", "Ethanol"), D::ethanolContent, 0, 1,
                           &TankEvent::ethanol,
                           MARKED("tank.events.ethanol.help", "For what is poured, or measured.")),
             tank.field(MARKED("tank.events.note", "Note"), &TankEvent::note,
                        MARKED("tank.events.note.help", "Station, receipt, how it was measured.")),
             tank.unstated(MARKED("tank.events.litres_sigma", "± L"), D::displacement, 0, 500,
                           &TankEvent::litresSigma,
                           MARKED("tank.events.litres_sigma.help",
                                  "Standard uncertainty. 0: what is usual for such an event.")),
             tank.unstated(MARKED("tank.events.methanol", "Methanol"), D::methanolContent, 0, 1,
                           &TankEvent::methanol, MARKED("tank.events.methanol.help", "The same.")),
             tank.unstated(MARKED("tank.events.content_sigma", "±"), D::contentDifference, 0, 0.5,
                           &TankEvent::contentSigma,
                           MARKED("tank.events.content_sigma.help",
                                  "Standard uncertainty of the content. 0: what is usual.")),
             tank.reference(
                 MARKED("tank.events.hydrocarbon", "Hydrocarbon"), &TankEvent::hydrocarbon,
                 "fuel.hydrocarbons",
                 MARKED("tank.events.hydrocarbon.help", "Of what is poured; empty: the job's gasoline."))}),
    };
    c.same = [](const Job &a, const Job &b) {
        return a.tank == b.tank && a.tankEvents == b.tankEvents && a.fuelSystem == b.fuelSystem &&
               a.consumption == b.consumption;
    };
    return c;
}

} // namespace wheelwright
