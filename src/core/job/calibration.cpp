// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/job/calibration.h"

#include "core/job/describe.h"

#include <array>

namespace wheelwright {
namespace {
using D = Dimension;
}

Chapter calibrationChapter() {
    using enum CalibratedQuantity;
    const std::vector<std::string> shapes{"physical", "straight", "custom"};
    const std::vector<PhraseText> shapeTitles{MARKED("weight_shape.physical", "Physical"),
                                              MARKED("weight_shape.straight", "Straight line"),
                                              MARKED("weight_shape.custom", "Own points")};
    const auto levels = listOf<ContentLevel>([](auto &j) -> auto & { return j.calibration.levels; });
    const auto extras = listOf<ExtraTable>([](auto &j) -> auto & { return j.extras; });
    const auto levelTable = [&](CalibratedQuantity q) {
        constexpr std::array titles{
            MARKED("calibration.levels.fuel", "fuel"), MARKED("calibration.levels.spark", "spark"),
            MARKED("calibration.levels.boost", "boost"), MARKED("calibration.levels.lambda", "lambda")};
        return levels.table(
            titles[static_cast<std::size_t>(q)], [q](auto &level) -> auto & { return level.of(q); },
            MARKED("calibration.levels.table.help", "Its table, as text."));
    };
    std::vector<std::string> kindIds;
    std::vector<PhraseText> kindTitles;
    for (const TableKindDefinition &d : allTableKinds()) {
        kindIds.emplace_back(d.id);
        kindTitles.push_back(d.title);
    }
    Chapter c;
    c.fields = {
        guarded(MARKED("guarded.how_content_enters", "how content enters"),
                choice(
                    MARKED("calibration.school", "Content enters by"),
                    {"two_tables", "base_adder", "fuel_model", "window_set", "stack"},
                    {MARKED("calibration.school.two_tables", "Two tables"),
                     MARKED("calibration.school.base_adder", "Base and adder"),
                     MARKED("calibration.school.fuel_model", "Fuel model"),
                     MARKED("calibration.school.window_set", "A file for each window"),
                     MARKED("calibration.school.stack", "A stack of tables")},
                    [](auto &j) -> auto & { return j.calibration.school; },
                    MARKED("calibration.school.help",
                           "How the controller makes its numbers for a content. Switch by "
                           "converting, which says what is "
                           "lost."))),
        guarded(
            MARKED("guarded.what_rows_tables_are", "what the rows of the tables are"),
            choice(
                MARKED("calibration.load_axis", "Load is"), {"manifold_pressure", "air_mass", "throttle"},
                {MARKED("calibration.load_axis.manifold_pressure", "Manifold pressure"),
                 MARKED("calibration.load_axis.air_mass", "Air mass"),
                 MARKED("calibration.load_axis.throttle", "Throttle")},
                [](auto &j) -> auto & { return j.calibration.loadAxis; },
                MARKED(
                    "calibration.load_axis.help",
                    "Of the fuel, spark and lambda tables. Air mass: mg per cylinder and cycle at 100 % VE "
                    "and usual "
                    "intake air. Changed by converting, so that the tables keep their meaning."))),
        guarded(MARKED("guarded.what_rows_boost_tables_are", "what the rows of the boost tables are"),
                choice(
                    MARKED("calibration.boost_axis", "Boost tables go by"), {"throttle", "gear"},
                    {MARKED("calibration.boost_axis.throttle", "Throttle"),
                     MARKED("calibration.boost_axis.gear", "Gear")},
                    [](auto &j) -> auto & { return j.calibration.boostAxis; },
                    MARKED("calibration.boost_axis.help",
                           "The second axis of the boost tables. Changed by converting."))),
        guarded(
            MARKED("guarded.what_fuel_tables_mean", "what the fuel tables mean"),
            choice(
                MARKED("calibration.fuel_meaning", "Fuel tables hold"),
                {"true_ve", "content_referenced_ve", "pulse_width", "fuel_mass"},
                {MARKED("calibration.fuel_meaning.true_ve", "True VE"),
                 MARKED("calibration.fuel_meaning.content_referenced_ve", "Content-referenced VE"),
                 MARKED("calibration.fuel_meaning.pulse_width", "Pulse width"),
                 MARKED("calibration.fuel_meaning.fuel_mass", "Fuel mass")},
                [](auto &j) -> auto & { return j.calibration.fuelMeaning; },
                MARKED(
                    "calibration.fuel_meaning.help",
                    "True VE: the controller's fuel model adds the content. Content-referenced VE: the fuel "
                    "multiplier is inside the table. Pulse width in ms, dead time inside, and fuel mass in "
                    "mg per "
                    "cylinder and cycle hold at the lambda target."))),
        held(zeroIs(MARKED("zero.pulse_pressure", "what it sees"),
                    number(
                        MARKED("calibration.pulse_pressure_kpa", "Pulse widths hold at"),
                        D::pressureDifference, 0, 1500,
                        [](auto &j) -> auto & { return j.calibration.pulsePressureKpa; },
                        MARKED("calibration.pulse_pressure_kpa.help",
                               "Pressure across the injector. 0: what it sees at each load.")))),
        held(number(
            MARKED("calibration.fuel_reference_content", "Reference content"), D::content, 0, 1,
            [](auto &j) -> auto & { return j.calibration.fuelReferenceContent; },
            MARKED("calibration.fuel_reference_content.help",
                   "Where a content-referenced VE is a true VE."))),
        held(number(
            MARKED("calibration.base_content", "Base tables calibrated at"), D::content, 0, 1,
            [](auto &j) -> auto & { return j.calibration.baseContent; },
            MARKED("calibration.base_content.help", "Alcohol content of the base fuel."))),
        held(number(
            MARKED("calibration.top_content", "Top tables calibrated at"), D::content, 0, 1,
            [](auto &j) -> auto & { return j.calibration.topContent; },
            MARKED("calibration.top_content.help", "Alcohol content of the top fuel."))),
        held(choice(
            MARKED("calibration.outside", "Beyond the calibrated contents"), {"hold", "extrapolate"},
            {MARKED("calibration.outside.hold", "Hold the nearer table"),
             MARKED("calibration.outside.extrapolate", "Extrapolate (flagged)")},
            [](auto &j) -> auto & { return j.calibration.outside; },
            MARKED("calibration.outside.help",
                   "Hold the nearer table, or go on along the curve (flagged)."))),
        held(choice(
            MARKED("calibration.fuel.weight_shape", "Fuel weight"), shapes, shapeTitles,
            [](auto &j) -> auto & { return j.calibration.of(fuel).shape; },
            MARKED("calibration.fuel.weight_shape.help", "Physical: by the mass-weighted fuel model."))),
        held(choice(
            MARKED("calibration.spark.weight_shape", "Spark weight"), shapes, shapeTitles,
            [](auto &j) -> auto & { return j.calibration.of(spark).shape; },
            MARKED("calibration.spark.weight_shape.help", "Physical: by mole fraction of the alcohol."))),
        held(choice(
            MARKED("calibration.boost.weight_shape", "Boost weight"), shapes, shapeTitles,
            [](auto &j) -> auto & { return j.calibration.of(boost).shape; },
            MARKED("calibration.boost.weight_shape.help", "Physical: by mole fraction of the alcohol."))),
        held(choice(
            MARKED("calibration.lambda.weight_shape", "Lambda weight"), shapes, shapeTitles,
            [](auto &j) -> auto & { return j.calibration.of(lambda).shape; },
            MARKED("calibration.lambda.weight_shape.help", "Physical: linear."))),
    };
    c.curves = {
        held(curve(
            MARKED("calibration.learned_fuel_correction", "Learned fuel correction"), D::content, D::none,
            0.5, 2, [](auto &j) -> auto & { return j.calibration.learnedFuelCorrection; })),
        held(curve(
            MARKED("calibration.fuel.weight_points", "Fuel weight, own points"), D::content, D::none, -0.25,
            1.25, [](auto &j) -> auto & { return j.calibration.of(fuel).customWeight; })),
        held(curve(
            MARKED("calibration.spark.weight_points", "Spark weight, own points"), D::content, D::none, -0.25,
            1.25, [](auto &j) -> auto & { return j.calibration.of(spark).customWeight; })),
        held(curve(
            MARKED("calibration.boost.weight_points", "Boost weight, own points"), D::content, D::none, -0.25,
            1.25, [](auto &j) -> auto & { return j.calibration.of(boost).customWeight; })),
        held(curve(
            MARKED("calibration.lambda.weight_points", "Lambda weight, own points"), D::content, D::none,
            -0.25, 1.25, [](auto &j) -> auto & { return j.calibration.of(lambda).customWeight; })),
    };
    c.lists = {
        held(levels.list(
            MARKED("calibration.levels", "Levels of content"), 12,
            {levels.number(MARKED("calibration.levels.content", "Content"), D::content, 0, 1,
                           &ContentLevel::content,
                           MARKED("calibration.levels.content.help", "That its tables were calibrated at.")),
             levels.number(MARKED("calibration.levels.window_low", "Used from"), D::content, 0, 1,
                           &ContentLevel::windowLow,
                           MARKED("calibration.levels.window_low.help", "Window sets only.")),
             levels.number(MARKED("calibration.levels.window_high", "Used to"), D::content, 0, 1,
                           &ContentLevel::windowHigh,
                           MARKED("calibration.levels.window_high.help", "Window sets only.")),
             levelTable(CalibratedQuantity::fuel), levelTable(CalibratedQuantity::spark),
             levelTable(CalibratedQuantity::boost), levelTable(CalibratedQuantity::lambda)})),
        guarded(
            MARKED("guarded.corrections_protections", "corrections and protections"),
            extras.list(
                MARKED("calibration.extras", "Other tables"), 64,
                {extras.choice(MARKED("calibration.extras.kind", "Kind"), kindIds, kindTitles,
                               &ExtraTable::kind, MARKED("calibration.extras.kind.help", "What it holds.")),
                 extras.field(MARKED("calibration.extras.name", "Name"), &ExtraTable::name,
                              MARKED("calibration.extras.name.help", "Once only.")),
                 extras.table(
                     MARKED("calibration.extras.table", "Table"), [](auto &e) -> auto & { return e.table; },
                     MARKED("calibration.extras.table.help", "As text.")),
                 later(extras.number(
                     MARKED("calibration.extras.content", "Found at"), D::content, 0, 1, &ExtraTable::content,
                     MARKED("calibration.extras.content.help",
                            "Content of the fuel it was found on. Ceilings and best spark only."))),
                 later(extras.number(MARKED("calibration.extras.plus_minus", "Known to ±"), D::none, 0, 30,
                                     &ExtraTable::plusMinus,
                                     MARKED("calibration.extras.plus_minus.help",
                                            "In degrees; 0: not stated. Ceilings and best spark only.")))})),
    };
    c.same = [](const Job &a, const Job &b) {
        return a.calibration == b.calibration && a.extras == b.extras;
    };
    return c;
}

} // namespace wheelwright
