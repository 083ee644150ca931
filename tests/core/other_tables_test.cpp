// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/error.h"
#include "core/explain/explain_cell.h"
#include "core/study/cell_trust.h"
#include "core/study/content_tables.h"
#include "core/study/extra_tables.h"
#include "core/study/slice_fan.h"
#include "core/study/spark_budget.h"
#include "core/tables/region_edit.h"
#include "core/verify/troubled_places.h"
#include "core/verify/verdict.h"
#include "formats/table_csv.h"
#include "support/random_job.h"
#include "support/test_main.h"

#include <random>
#include <set>

using namespace wheelwright;
using namespace wheelwright::testing;

namespace {

ExtraTable filled(TableKind kind, unsigned seed) {
    const TableKindDefinition &d = definitionOf(kind);
    ExtraTable extra = newExtraTable(kind, "Some " + std::string(d.id));
    std::mt19937 random(seed);
    std::uniform_real_distribution<double> any(d.least, d.most);
    for (std::size_t y = 0; y < extra.table.y().size(); ++y)
        for (std::size_t x = 0; x < extra.table.x().size(); ++x)
            extra.table.setCell({x, y}, any(random));
    return extra;
}

const ExtraTable &named(const Job &job, std::string_view name) {
    for (const ExtraTable &e : job.extras)
        if (e.name == name) return e;
    qFatal("no such table");
}

std::size_t foundOf(const ExtraTable &extra, const char *query) {
    const TableField f = fieldOf(extra);
    return find(extra.table, parseCellQuery(query, f.dimension, UnitChoice{}, f.x, f.y)).size();
}

} // namespace

/// The tables of a controller beside the four: what they are, as text, in a slice, and where the verdict
/// leads to them.
class OtherTablesTest : public QObject {
    Q_OBJECT
  private slots:
    void aFieldSaysWhatItHolds();
    void textReadsBackToTheSameTable();
    void aLabelOfAnotherTableIsRefused();
    void searchGoesByTheAxesOfTheTable();
    void aSliceOfOneFoundOnAFuel();
    void aSliceOverContent();
    void aSliceOfACorrection();
    void trustFollowsOriginAndReach();
    void workingOfACell();
    void checksLeadToTheirTables();
    void theCutThatRulesIsShown();
};

// The field of a table allows what validation of the table allows, no more and no less.
void OtherTablesTest::aFieldSaysWhatItHolds() {
    std::set<std::string_view> keys;
    for (const TableKindDefinition &d : allTableKinds()) {
        const ExtraTable extra = newExtraTable(d.kind, "A table");
        const TableField f = fieldOf(extra);
        QCOMPARE(f.path, std::string("calibration.extras.A table"));
        QCOMPARE(format(f.title), std::string("A table"));
        QVERIFY(f.holds == d.id && f.dimension == d.dimension && f.least == d.least && f.most == d.most);
        QVERIFY(f.step > 0 && f.step < f.most - f.least);
        QVERIFY(!f.x.single() && f.y.single() == (extra.table.y().size() == 1));
        validate(f, extra.table);
        Table2D over = extra.table;
        over.setCell({0, 0}, std::nextafter(f.most, f.most + 1));
        EXPECT_INPUT_ERROR(validate(f, over), "row 1, column 1");
        keys.insert(f.x.key);
    }
    QVERIFY(keys.contains("rpm") && keys.contains("coolant_c") && keys.contains("content"));
}

// Round trip to the same bits, for every kind, with both delimiters.
void OtherTablesTest::textReadsBackToTheSameTable() {
    unsigned seed = 1;
    for (const TableKindDefinition &d : allTableKinds()) {
        const ExtraTable extra = filled(d.kind, ++seed);
        for (const char delimiter : {',', ';'}) {
            const std::string text = tableToCsv(extra.table, fieldOf(extra), delimiter);
            const TableImport back = tableFromCsv(readCsv(text), fieldOf(extra));
            QVERIFY2(back.table.x() == extra.table.x() && back.table.y() == extra.table.y() &&
                         back.table.cells() == extra.table.cells(),
                     text.c_str());
            QVERIFY(back.doubt.empty());
        }
    }
    const ExtraTable coolant = filled(TableKind::sparkCoolant, 3);
    QVERIFY(tableToCsv(coolant.table, fieldOf(coolant)).starts_with("spark_coolant_deg / coolant_c,"));
    const ExtraTable prime = filled(TableKind::prime, 3);
    QVERIFY(tableToCsv(prime.table, fieldOf(prime)).starts_with("prime_ms / content / coolant_c,"));
    const ExtraTable cut = filled(TableKind::boostCut, 3);
    QVERIFY(tableToCsv(cut.table, fieldOf(cut)).starts_with("boost_cut_kpa / content,"));
}

void OtherTablesTest::aLabelOfAnotherTableIsRefused() {
    const ExtraTable cranking = filled(TableKind::cranking, 1), after = filled(TableKind::afterStart, 2);
    EXPECT_INPUT_ERROR(tableFromCsv(readCsv(tableToCsv(after.table, fieldOf(after))), fieldOf(cranking)),
                       "after_start", "cranking");
    const Job demo = demoJob();
    const TableField spark = tableIn(demo, CalibratedQuantity::spark, false);
    const ExtraTable ceiling = filled(TableKind::sparkCeiling, 1);
    const std::string main = tableToCsv(spark.of(demo), spark);
    EXPECT_INPUT_ERROR(tableFromCsv(readCsv(main), fieldOf(cranking)), "'spark_deg'", "cranking");
    // What a fuel stands may be begun from what the engine gets, not the other way round.
    QVERIFY(tableFromCsv(readCsv(main), fieldOf(ceiling)).table.cells() == spark.of(demo).cells());
    EXPECT_INPUT_ERROR(tableFromCsv(readCsv(tableToCsv(ceiling.table, fieldOf(ceiling))), spark),
                       "'spark_ceiling_deg'");
    // The right table over other axes.
    EXPECT_INPUT_ERROR(
        tableFromCsv(readCsv("cranking / load_kpa / coolant_c,0,20\n0,1,1\n1,2,2\n"), fieldOf(cranking)),
        "load_kpa");
}

// Counted by hand in a table whose cells say where they are: 100 · column + row.
void OtherTablesTest::searchGoesByTheAxesOfTheTable() {
    ExtraTable cranking = newExtraTable(TableKind::cranking, "c"); // -20 … 100 °C, 0 … 1
    QCOMPARE(foundOf(cranking, "> 0 above 50 °C"), std::size_t{3 * 5});
    QCOMPARE(foundOf(cranking, "> 0 below 0 °C"), std::size_t{1 * 5});
    QCOMPARE(foundOf(cranking, "> 0 above 60 %"), std::size_t{7 * 2});
    QCOMPARE(foundOf(cranking, "> 0 above 60 % below 0 °C"), std::size_t{2});
    const ExtraTable coolant = newExtraTable(TableKind::sparkCoolant, "s"); // one row: there is only across
    QCOMPARE(foundOf(coolant, "= 0 above 50"), std::size_t{3});
    QCOMPARE(foundOf(coolant, "= 0 above 50 °C"), std::size_t{3});
    const ExtraTable ceiling = newExtraTable(TableKind::sparkCeiling, "m"); // as the four
    QCOMPARE(foundOf(ceiling, "> 20 above 180 kPa"), std::size_t{7 * 2});
    QCOMPARE(foundOf(ceiling, "> 20 below 3000 rpm"), std::size_t{2 * 6});
    EXPECT_INPUT_ERROR(foundOf(ceiling, "> 20 above 60 °C"), "search");
}

// Its curves are the tables themselves; what stands out is ContentTables::at at the same places, and the
// bound the best of the budget there.
void OtherTablesTest::aSliceOfOneFoundOnAFuel() {
    const Job job = demoJob();
    const Study study(job);
    const ExtraTable &half = named(job, "Half and half");
    const CellIndex cell{3, 2};
    const double load = half.table.y()[cell.y], rpm = half.table.x()[cell.x];
    const ContentTables tables(job, TableKind::sparkCeiling);
    for (const bool alongX : {true, false}) {
        const SliceFan fan = sliceFan(study, half, alongX, cell, 0.62);
        QCOMPARE(fan.x, (alongX ? half.table.x() : half.table.y()).points());
        QCOMPARE(fan.curves.size(), std::size_t{3});
        QCOMPARE(*fan.curves[1].content, half.content);
        QCOMPARE(*fan.now.content, 0.62);
        QCOMPARE(fan.bounds.size(), std::size_t{1});
        for (std::size_t i = 0; i < fan.x.size(); ++i) {
            const OperatingPoint at{0.62, alongX ? fan.x[i] : rpm, alongX ? load : fan.x[i]};
            COMPARE_NEAR(fan.curves[1].y[i], alongX ? half.table.cell(i, cell.y) : half.table.cell(cell.x, i),
                         1e-9);
            COMPARE_NEAR(fan.now.y[i], tables.at(at), 1e-12);
            COMPARE_NEAR(fan.bounds[0].y[i], sparkBudget(study, at).bestDeg, 1e-12);
        }
    }
}

// Its rows in the hue of their content; between two of them half of both.
void OtherTablesTest::aSliceOverContent() {
    const ExtraTable cranking = filled(TableKind::cranking, 5);
    const Study study(demoJob());
    const SliceFan fan = sliceFan(study, cranking, true, {2, 4}, 0.625); // between the rows of 50 and 75 %
    QCOMPARE(fan.curves.size(), std::size_t{5});
    QCOMPARE(*fan.curves[3].content, 0.75);
    for (std::size_t i = 0; i < fan.x.size(); ++i)
        COMPARE_NEAR(fan.now.y[i], (fan.curves[2].y[i] + fan.curves[3].y[i]) / 2, 1e-9);
    const SliceFan down = sliceFan(study, cranking, false, {2, 4}, 0.625); // its columns belong to no content
    QVERIFY(down.curves.size() == 7 && !down.now.content);
    QCOMPARE(down.x, cranking.table.y().points());
    for (std::size_t i = 0; i < down.x.size(); ++i)
        QCOMPARE(down.now.y[i], cranking.table.cell(2, i));
}

void OtherTablesTest::aSliceOfACorrection() {
    const ExtraTable intake = filled(TableKind::sparkIntake, 9);
    const Study study(demoJob());
    const SliceFan fan = sliceFan(study, intake, true, {1, 3}, 0.4);
    QVERIFY(!fan.now.content && fan.curves.size() == intake.table.y().size() && fan.bounds.empty());
    QCOMPARE(fan.now.at.value, intake.table.y()[3]);
    for (std::size_t i = 0; i < fan.x.size(); ++i)
        QCOMPARE(fan.now.y[i], intake.table.cell(i, 3));
    const ExtraTable cut = filled(TableKind::boostCut, 9); // one row: a column of it would be a point
    QCOMPARE(sliceFan(study, cut, false, {1, 0}, 0.4).x, cut.table.x().points());
}

// Beyond the rev limit and over the boost target nothing gets, asked of reach cell by cell.
void OtherTablesTest::trustFollowsOriginAndReach() {
    Job job = demoJob();
    ExtraTable ceiling = newExtraTable(TableKind::sparkCeiling, "m");
    ceiling.content = 0.1;
    ceiling.table.setOrigin({2, 1}, CellOrigin::log);
    const Study study(job);
    const std::vector<CellTrust> trust = trustIn(study, ceiling, 0.85);
    const auto reach = study.reach(0.1, ceiling.table.x().points());
    std::size_t never = 0;
    for (std::size_t y = 0; y < 6; ++y)
        for (std::size_t x = 0; x < 7; ++x) {
            const CellTrust here = trust[y * 7 + x];
            const bool reached = reach[x].reaches(ceiling.table.y()[y]);
            never += !reached;
            QVERIFY((here == CellTrust::never) == !reached);
            if (reached) QVERIFY((here == CellTrust::seen) == (x == 2 && y == 1));
        }
    QVERIFY(never > 0 && never < 42);
    const ExtraTable coolant = newExtraTable(TableKind::sparkCoolant, "s"); // no place of the engine
    for (const CellTrust t : trustIn(study, coolant, 0.85))
        QVERIFY(t == CellTrust::inferred);
}

void OtherTablesTest::workingOfACell() {
    Job job = demoJob();
    const Study study(job);
    const ExtraTable &half = named(job, "Half and half");
    const Explanation x = explainExtraCell(study, half, 0.62, {4, 3});
    QCOMPARE(x.result.value, half.table.cell(4, 3));
    const double counts =
        ContentTables(job, TableKind::sparkCeiling).at({0.62, half.table.x()[4], half.table.y()[3]});
    COMPARE_NEAR(x.substituted.values[2].value, counts, 1e-12);
    QCOMPARE(x.inputs[0].value.value, half.table.x()[4]);
    QCOMPARE(x.inputs[1].value.value, half.table.y()[3]);
    // All of its kind, each with what it says here, and leading there.
    QCOMPARE(x.inputs.size(), std::size_t{5});
    for (const char *name : {"Pump fuel", "Half and half", "Winter E85"}) {
        const auto at = std::ranges::find(x.inputs, std::string(name), &ExplanationInput::symbol);
        QVERIFY(at != x.inputs.end() && at->link == "calibration.extras." + std::string(name));
        COMPARE_NEAR(at->value.value,
                     named(job, name).table.lookup(half.table.x()[4], half.table.y()[3]).value, 1e-12);
    }
    QVERIFY(format(x.uncertainty)
                .find(format(Phrase{MARKED("", "± {0}"), {{half.plusMinus, Dimension::sparkAngle}}})) !=
            std::string::npos);
    const ExtraTable fresh = newExtraTable(TableKind::revLimit, "r");
    const Explanation guess = explainExtraCell(study, fresh, 0.4, {1, 0});
    QVERIFY(format(guess.uncertainty).starts_with("Nobody has said it"));
    QCOMPARE(guess.inputs.size(), std::size_t{1});
    QCOMPARE(guess.result.value, 7000.0);
}

// The demo's ceilings fail between E30 and E52, its best spark from E78: their workings lead to the tables
// between which those contents lie, and to the spark tables; never to what no failing check reads.
void OtherTablesTest::checksLeadToTheirTables() {
    const Job job = demoJob();
    const auto verdict = verify(job);
    const std::vector<TroubledPlace> places = troubledPlaces(*verdict);
    for (std::size_t i = 1; i < places.size(); ++i)
        QVERIFY(places[i - 1].state >= places[i].state); // the failing first
    const TroubledPlace *half = troubleOf(places, named(job, "Half and half"));
    QVERIFY(half && half->state == CheckState::failing && half->check->id == "spark.ceiling");
    QVERIFY(!troubleOf(places, named(job, "Pump fuel")));
    const TroubledPlace *best = troubleOf(places, named(job, "Best on E85"));
    QVERIFY(best && best->check->id == "spark.best");
    QVERIFY(troubleOf(places, CalibratedQuantity::spark)->state == CheckState::failing);
    QVERIFY(!troubleOf(places, CalibratedQuantity::boost));
    QVERIFY(!troubleOf(places, named(job, "Cranking")));
    Job lean = job; // less fuel for the cold: only starting fails by it
    for (ExtraTable &e : lean.extras)
        if (e.kind == TableKind::cranking) e.table.setCell({0, 3}, 0.5);
    const auto without = troubledPlaces(*verify(lean));
    const TroubledPlace *cranking = troubleOf(without, named(lean, "Cranking"));
    QVERIFY(cranking && cranking->check->id == "start.cold");
}

// A table over content rules over the one number; the working shows the cut that was judged.
void OtherTablesTest::theCutThatRulesIsShown() {
    Job job = demoJob();
    ExtraTable cut = newExtraTable(TableKind::boostCut, "Cut");
    for (std::size_t i = 0; i < cut.table.x().size(); ++i)
        cut.table.setCell({i, 0}, 262);
    job.extras.push_back(cut);
    const auto verdict = verify(job);
    const Verdict::Row *row = findRow(*verdict, "boost.cut");
    const WorstPlace worst = row->outcome.worst();
    QCOMPARE(worst.value, 262.0);
    QVERIFY(job.boost.cutKpa != 262);
    const Explanation x = row->check->explain(verdict->study->evaluation(), worst);
    QCOMPARE(x.substituted.values[2].value, 262.0);
    QCOMPARE(x.inputs[0].value.value, 262.0);
    QCOMPARE(x.inputs[0].link, std::string("calibration.extras.boost_cut"));
    job.extras.pop_back();
    const auto plain = verify(job);
    const Verdict::Row *one = findRow(*plain, "boost.cut");
    const Explanation y = one->check->explain(plain->study->evaluation(), one->outcome.worst());
    QCOMPARE(y.inputs[0].value.value, job.boost.cutKpa);
    QCOMPARE(y.inputs[0].link, std::string("boost.cut_kpa"));
}

CORE_TEST_MAIN(OtherTablesTest)
#include "other_tables_test.moc"
