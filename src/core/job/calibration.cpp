// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/job/calibration.h"

#include "core/job/describe.h"

namespace wheelwright {
namespace {
using D = Dimension;
}

Chapter calibrationChapter() {
    using enum CalibratedQuantity;
    const std::vector<std::string> shapes{"physical", "straight", "custom"};
    const std::vector<std::string> shapeTitles{"Physical", "Straight line", "Own points"};
    const auto levels = listOf<ContentLevel>([](auto &j) -> auto & { return j.calibration.levels; });
    const auto extras = listOf<ExtraTable>([](auto &j) -> auto & { return j.extras; });
    const auto levelTable = [&](CalibratedQuantity q) {
        return levels.table(
            std::string(quantityId(q)),
            std::string(quantityId(q)), [q](auto &level) -> auto & { return level.of(q); },
            "Its table, as text.");
    };
    std::vector<std::string> kindIds, kindTitles;
    for (const TableKindDefinition &d : allTableKinds()) {
        kindIds.emplace_back(d.id);
        kindTitles.emplace_back(d.title);
    }
    Chapter c;
    c.fields = {
        guarded("how content enters", choice(
                                          "calibration.school", "Content enters by",
                                          {"two_tables", "base_adder", "fuel_model", "window_set", "stack"},
                                          {"Two tables", "Base and adder", "Fuel model",
                                           "A file for each window", "A stack of tables"},
                                          [](auto &j) -> auto & { return j.calibration.school; },
                                          "How the controller makes its numbers for a content. Switch by "
                                          "converting, which says what is "
                                          "lost.")),
        guarded("what the rows of the tables are",
                choice(
                    "calibration.load_axis", "Load is", {"manifold_pressure", "air_mass", "throttle"},
                    {"Manifold pressure", "Air mass", "Throttle"},
                    [](auto &j) -> auto & { return j.calibration.loadAxis; },
                    "Of the fuel, spark and lambda tables. Air mass: mg per cylinder and cycle at 100 % VE "
                    "and usual "
                    "intake air. Changed by converting, so that the tables keep their meaning.")),
        guarded("what the rows of the boost tables are",
                choice(
                    "calibration.boost_axis", "Boost tables go by", {"throttle", "gear"},
                    {"Throttle", "Gear"}, [](auto &j) -> auto & { return j.calibration.boostAxis; },
                    "The second axis of the boost tables. Changed by converting.")),
        guarded("what the fuel tables mean",
                choice(
                    "calibration.fuel_meaning", "Fuel tables hold",
                    {"true_ve", "content_referenced_ve", "pulse_width", "fuel_mass"},
                    {"True VE", "Content-referenced VE", "Pulse width", "Fuel mass"},
                    [](auto &j) -> auto & { return j.calibration.fuelMeaning; },
                    "True VE: the controller's fuel model adds the content. Content-referenced VE: the fuel "
                    "multiplier is inside the table. Pulse width in ms, dead time inside, and fuel mass in "
                    "mg per "
                    "cylinder and cycle hold at the lambda target.")),
        held(number(
            "calibration.pulse_pressure_kpa", "Pulse widths hold at", D::pressureDifference, 0, 1500,
            [](auto &j) -> auto & { return j.calibration.pulsePressureKpa; },
            "Pressure across the injector. 0: what it sees at each load.")),
        held(number(
            "calibration.fuel_reference_content", "Reference content", D::content, 0, 1,
            [](auto &j) -> auto & { return j.calibration.fuelReferenceContent; },
            "Where a content-referenced VE is a true VE.")),
        held(number(
            "calibration.base_content", "Base tables calibrated at", D::content, 0, 1,
            [](auto &j) -> auto & { return j.calibration.baseContent; },
            "Alcohol content of the base fuel.")),
        held(number(
            "calibration.top_content", "Top tables calibrated at", D::content, 0, 1,
            [](auto &j) -> auto & { return j.calibration.topContent; }, "Alcohol content of the top fuel.")),
        held(choice(
            "calibration.outside", "Beyond the calibrated contents", {"hold", "extrapolate"},
            {"Hold the nearer table", "Extrapolate (flagged)"},
            [](auto &j) -> auto & { return j.calibration.outside; },
            "Hold the nearer table, or go on along the curve (flagged).")),
        held(choice(
            "calibration.fuel.weight_shape", "Fuel weight", shapes, shapeTitles,
            [](auto &j) -> auto & { return j.calibration.of(fuel).shape; },
            "Physical: by the mass-weighted fuel model.")),
        held(choice(
            "calibration.spark.weight_shape", "Spark weight", shapes, shapeTitles,
            [](auto &j) -> auto & { return j.calibration.of(spark).shape; },
            "Physical: by mole fraction of the alcohol.")),
        held(choice(
            "calibration.boost.weight_shape", "Boost weight", shapes, shapeTitles,
            [](auto &j) -> auto & { return j.calibration.of(boost).shape; },
            "Physical: by mole fraction of the alcohol.")),
        held(choice(
            "calibration.lambda.weight_shape", "Lambda weight", shapes, shapeTitles,
            [](auto &j) -> auto & { return j.calibration.of(lambda).shape; }, "Physical: linear.")),
    };
    c.curves = {
        held(curve(
            "calibration.learned_fuel_correction", "Learned fuel correction", D::content, D::none, 0.5, 2,
            [](auto &j) -> auto & { return j.calibration.learnedFuelCorrection; })),
        held(curve(
            "calibration.fuel.weight_points", "Fuel weight, own points", D::content, D::none, -0.25, 1.25,
            [](auto &j) -> auto & { return j.calibration.of(fuel).customWeight; })),
        held(curve(
            "calibration.spark.weight_points", "Spark weight, own points", D::content, D::none, -0.25, 1.25,
            [](auto &j) -> auto & { return j.calibration.of(spark).customWeight; })),
        held(curve(
            "calibration.boost.weight_points", "Boost weight, own points", D::content, D::none, -0.25, 1.25,
            [](auto &j) -> auto & { return j.calibration.of(boost).customWeight; })),
        held(curve(
            "calibration.lambda.weight_points", "Lambda weight, own points", D::content, D::none, -0.25, 1.25,
            [](auto &j) -> auto & { return j.calibration.of(lambda).customWeight; })),
    };
    c.lists = {
        held(levels.list("calibration.levels", "Levels of content", 12,
                         {levels.number("content", "Content", D::content, 0, 1, &ContentLevel::content,
                                        "That its tables were calibrated at."),
                          levels.number("window_low", "Used from", D::content, 0, 1, &ContentLevel::windowLow,
                                        "Window sets only."),
                          levels.number("window_high", "Used to", D::content, 0, 1, &ContentLevel::windowHigh,
                                        "Window sets only."),
                          levelTable(CalibratedQuantity::fuel), levelTable(CalibratedQuantity::spark),
                          levelTable(CalibratedQuantity::boost), levelTable(CalibratedQuantity::lambda)})),
        guarded("corrections and protections",
                extras.list(
                    "calibration.extras", "Other tables", 64,
                    {extras.choice("kind", "Kind", kindIds, kindTitles, &ExtraTable::kind, "What it holds."),
                     extras.field("name", "Name", &ExtraTable::name, "Once only."),
                     extras.table(
                         "table", "Table", [](auto &e) -> auto & { return e.table; }, "As text.")})),
    };
    c.same = [](const Job &a, const Job &b) {
        return a.calibration == b.calibration && a.extras == b.extras;
    };
    return c;
}

} // namespace wheelwright
