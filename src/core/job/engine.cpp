// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/job/engine.h"

#include "core/job/describe.h"

namespace wheelwright {
namespace {
using D = Dimension;
}

Chapter engineChapter() {
    const auto needs = listOf<CylinderNeed>([](auto &j) -> auto & { return j.cylinderNeeds; });
    Chapter c;
    c.fields = {
        number(
            "engine.displacement_l", "Displacement", D::displacement, 0.05, 30,
            [](auto &j) -> auto & { return j.engine.displacementL; }, "Swept volume of all cylinders."),
        wholeNumber(number(
            "engine.cylinders", "Cylinders", D::none, 1, 16,
            [](auto &j) -> auto & { return j.engine.cylinders; }, "One injector each.")),
        guarded("the rev limit", number(
                                     "engine.rev_limit_rpm", "Rev limit", D::engineSpeed, 500, 20000,
                                     [](auto &j) -> auto & { return j.engine.revLimitRpm; },
                                     "Cells above it are never reached.")),
        held(number(
            "engine.map_sensor_min_kpa", "MAP sensor, low end", D::pressure, 0, 110,
            [](auto &j) -> auto & { return j.engine.mapSensorMinKpa; },
            "Lowest absolute pressure it can read.")),
        held(number(
            "engine.map_sensor_max_kpa", "MAP sensor, high end", D::pressure, 90, 1000,
            [](auto &j) -> auto & { return j.engine.mapSensorMaxKpa; },
            "Highest absolute pressure it can read.")),
        choice(
            "engine.fuel_control", "Fuel is metered by", {"controller", "mechanical"},
            {"A controller", "Mechanical injection"}, [](auto &j) -> auto & { return j.control; },
            "Mechanical: pump, nozzles and pills; no tables."),
    };
    c.curves = {
        curve(
            "engine.boost_limit_kpa", "Boost limit over content", D::content, D::pressure, 20, 800,
            [](auto &j) -> auto & { return j.engine.boostLimitKpa; }),
        held(curve(
            "engine.throttle_kpa", "Manifold pressure over throttle", D::none, D::pressure, 10, 800,
            [](auto &j) -> auto & { return j.engine.throttleKpa; }, 0, 100)),
    };
    c.lists = {
        needs.list("engine.cylinder_needs", "Cylinders", 16,
                   {needs.field("label", "Cylinder", &CylinderNeed::label, "Its number."),
                    needs.number("need", "Needs", D::none, 0.3, 3, &CylinderNeed::need,
                                 "Fuel against the others: 1 usual, 1.03 where it runs hot or lean.")}),
    };
    c.same = [](const Job &a, const Job &b) {
        return a.engine == b.engine && a.control == b.control && a.cylinderNeeds == b.cylinderNeeds;
    };
    return c;
}

} // namespace wheelwright
