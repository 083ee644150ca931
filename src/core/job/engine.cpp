// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/job/engine.h"

#include "core/job/describe.h"

namespace wheelwright {
namespace {
using D = Dimension;
constexpr std::size_t mostInspections = 5000;
} // namespace

Chapter engineChapter() {
    const auto needs = listOf<CylinderNeed>([](auto &j) -> auto & { return j.cylinderNeeds; });
    const auto inspections = listOf<InspectionMark>([](auto &j) -> auto & { return j.inspections; });
    Chapter c;
    c.fields = {
        number(
            MARKED("engine.displacement_l", "Displacement"), D::displacement, 0.05, 30,
            [](auto &j) -> auto & { return j.engine.displacementL; },
            MARKED("engine.displacement_l.help", "Swept volume of all cylinders.")),
        wholeNumber(number(
            MARKED("engine.cylinders", "Cylinders"), D::none, 1, 16,
            [](auto &j) -> auto & { return j.engine.cylinders; },
            MARKED("engine.cylinders.help", "One injector each."))),
        number(
            MARKED("engine.compression_ratio", "Compression ratio"), D::none, 4, 25,
            [](auto &j) -> auto & { return j.engine.compressionRatio; },
            MARKED("engine.compression_ratio.help", "Volume at the bottom over volume at the top.")),
        number(
            MARKED("engine.rod_ratio", "Rod over crank radius"), D::none, 2, 8,
            [](auto &j) -> auto & { return j.engine.rodRatio; },
            MARKED("engine.rod_ratio.help", "Length of the connecting rod over half of the stroke.")),
        choice(
            MARKED("engine.fuel_place", "Fuel is injected into"), {"port", "direct"},
            {MARKED("engine.fuel_place.port", "The ports"),
             MARKED("engine.fuel_place.direct", "The cylinders")},
            [](auto &j) -> auto & { return j.engine.fuelPlace; },
            MARKED("engine.fuel_place.help",
                   "Into the cylinder the fuel cools the charge about twice as much as into the port.")),
        choice(
            MARKED("engine.charging", "Boost comes from"), {"turbo", "blower", "none"},
            {MARKED("engine.charging.turbo", "A turbine"),
             MARKED("engine.charging.blower", "A blower on the crank"),
             MARKED("engine.charging.none", "Nothing: naturally aspirated")},
            [](auto &j) -> auto & { return j.engine.charging; },
            MARKED("engine.charging.help",
                   "A turbine has to spin up first; a blower has its boost at once.")),
        choice(
            MARKED("engine.charge_cooler", "Charge is cooled by"), {"not_stated", "air", "water", "none"},
            {MARKED("engine.charge_cooler.not_stated", "Not stated"),
             MARKED("engine.charge_cooler.air", "Air"), MARKED("engine.charge_cooler.water", "Water"),
             MARKED("engine.charge_cooler.none", "Nothing")},
            [](auto &j) -> auto & { return j.engine.chargeCooler; },
            MARKED("engine.charge_cooler.help", "Between compressor and throttle.")),
        guarded(MARKED("guarded.rev_limit", "the rev limit"),
                number(
                    MARKED("engine.rev_limit_rpm", "Rev limit"), D::engineSpeed, 500, 20000,
                    [](auto &j) -> auto & { return j.engine.revLimitRpm; },
                    MARKED("engine.rev_limit_rpm.help", "Cells above it are never reached."))),
        held(number(
            MARKED("engine.map_sensor_min_kpa", "MAP sensor, low end"), D::pressure, 0, 110,
            [](auto &j) -> auto & { return j.engine.mapSensorMinKpa; },
            MARKED("engine.map_sensor_min_kpa.help", "Lowest absolute pressure it can read."))),
        held(number(
            MARKED("engine.map_sensor_max_kpa", "MAP sensor, high end"), D::pressure, 90, 1000,
            [](auto &j) -> auto & { return j.engine.mapSensorMaxKpa; },
            MARKED("engine.map_sensor_max_kpa.help", "Highest absolute pressure it can read."))),
        choice(
            MARKED("engine.fuel_control", "Fuel is metered by"), {"controller", "mechanical"},
            {MARKED("engine.fuel_control.controller", "A controller"),
             MARKED("engine.fuel_control.mechanical", "Mechanical injection")},
            [](auto &j) -> auto & { return j.control; },
            MARKED("engine.fuel_control.help", "Mechanical: pump, nozzles and pills; no tables.")),
    };
    c.curves = {
        curve(
            MARKED("engine.boost_limit_kpa", "Boost limit over content"), D::content, D::pressure, 20, 800,
            [](auto &j) -> auto & { return j.engine.boostLimitKpa; }),
        held(curve(
            MARKED("engine.throttle_kpa", "Manifold pressure over throttle"), D::none, D::pressure, 10, 800,
            [](auto &j) -> auto & { return j.engine.throttleKpa; }, 0, 100)),
    };
    c.lists = {
        needs.list(
            MARKED("engine.cylinder_needs", "Cylinders"), 16,
            {needs.field(MARKED("engine.cylinder_needs.label", "Cylinder"), &CylinderNeed::label,
                         MARKED("engine.cylinder_needs.label.help", "Its number.")),
             needs.number(MARKED("engine.cylinder_needs.need", "Needs"), D::none, 0.3, 3, &CylinderNeed::need,
                          MARKED("engine.cylinder_needs.need.help",
                                 "Fuel against the others: 1 usual, 1.03 where it runs hot or lean."))}),
        inspections.list(
            MARKED("engine.inspections", "Inspections"), mostInspections,
            {inspections.field(MARKED("engine.inspections.item", "What"), &InspectionMark::item,
                               MARKED("engine.inspections.item.help", "Its id: leak_test.")),
             inspections.date(MARKED("engine.inspections.at", "When"), &InspectionMark::at,
                              MARKED("engine.inspections.at.help", "ISO 8601.")),
             inspections.field(MARKED("engine.inspections.wrong", "Wrong"), &InspectionMark::wrong,
                               MARKED("engine.inspections.wrong.help", "Not as it should be.")),
             inspections.field(MARKED("engine.inspections.note", "Seen"), &InspectionMark::note,
                               MARKED("engine.inspections.note.help", "What was seen."))}),
    };
    c.same = [](const Job &a, const Job &b) {
        return a.engine == b.engine && a.control == b.control && a.cylinderNeeds == b.cylinderNeeds &&
               a.inspections == b.inspections;
    };
    return c;
}

} // namespace wheelwright
