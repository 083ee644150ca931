// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/error.h"
#include "core/job/job_schema.h"
#include "core/job/revision.h"
#include "core/study/extra_tables.h"
#include "core/study/fuel_meaning.h"
#include "core/study/school_conversion.h"
#include "core/study/spark_budget.h"
#include "core/tables/table_kind.h"
#include "core/tables/table_text.h"
#include "core/verify/verdict.h"
#include "formats/table_csv.h"
#include "support/phrases.h"
#include "support/random_job.h"
#include "support/test_main.h"

#include <gsl/gsl_fit.h>

#include <fstream>

using namespace wheelwright;
using testing::said;

namespace {

const SchoolError &errorIn(const SchoolConversion &c, CalibratedQuantity q) {
    return c.errors[static_cast<std::size_t>(q)];
}

// A job whose fuel is exactly a fuel model: one true VE, times c(E).
Job modelJob() {
    Job job = testing::demoJob();
    job.calibration.fuelMeaning = FuelMeaning::trueVe;
    job.calibration.of(CalibratedQuantity::fuel).top = job.calibration.of(CalibratedQuantity::fuel).base;
    job.calibration.learnedFuelCorrection = Curve({0, 0.5, 1}, {1, 1.03, 1.01});
    job.calibration.school = School::fuelModel;
    validate(job);
    return job;
}

} // namespace

/// The five schools, what is lost between them, single-fuel files, meanings, revisions and the spark budget.
class SchoolTest : public QObject {
    Q_OBJECT
  private slots:
    void baseAndAdderIsTwoTables();
    void stackMeetsItsLevels();
    void stackBecomesExactWithItsLevels();
    void windowsHoldTheirTables();
    void fuelModelIsRecovered();
    void everySchoolIntoEveryOther();
    void weightIsLeastSquares();
    void errorIsFoundWhereItIs();
    void windowsOfTheHandbook();
    void bakedFilesAreGolden();
    void meaningsRoundTrip();
    void refusesBadLevels();
    void revisionsRestoreEverything();
    void differencesAreNamedAndGuarded();
    void budgetByHand();
    void budgetOfASchool();
    void kindsAreSound();
    void tableTextIsExact();
};

void SchoolTest::baseAndAdderIsTwoTables() {
    const Job job = testing::demoJob();
    const SchoolConversion c = convertSchool(job, {School::baseAndAdder, {}, 0.03});
    QCOMPARE(c.job.calibration.school, School::baseAndAdder);
    for (const SchoolError &e : c.errors)
        QVERIFY(std::abs(e.worst) < 1e-12);
    // T = base + s · (top − base)
    const SchoolModel a(job), b(c.job);
    for (const double content : {0.0, 0.3, 0.85, 1.0})
        for (CalibratedQuantity q : allQuantities)
            QCOMPARE(blendedTable(a.at(q, content)), blendedTable(b.at(q, content)));
}

void SchoolTest::stackMeetsItsLevels() {
    const Job job = testing::demoJob();
    const SchoolConversion c = convertSchool(job, {School::stack, {0.1, 0.3, 0.6, 0.85}, 0.03});
    QCOMPARE(c.job.calibration.levels.size(), std::size_t{4});
    const SchoolModel was(job), is(c.job);
    for (const ContentLevel &l : c.job.calibration.levels)
        for (CalibratedQuantity q : allQuantities)
            QCOMPARE(blendedTable(is.at(q, l.content)), blendedTable(was.at(q, l.content)));
    // Half-way it is the mean of its neighbours.
    const BlendEnds e = is.at(CalibratedQuantity::spark, 0.45);
    COMPARE_NEAR(e.weight, 0.5, 1e-12);
    COMPARE_NEAR(e.lowContent, 0.3, 0);
    // λ is linear in content, so a stack of it is exact; spark bends by mole fraction.
    QVERIFY(std::abs(errorIn(c, CalibratedQuantity::lambda).worst) < 1e-9);
    QVERIFY(std::abs(errorIn(c, CalibratedQuantity::spark).worst) > 0.01);
    QVERIFY(errorIn(c, CalibratedQuantity::spark).mean <
            std::abs(errorIn(c, CalibratedQuantity::spark).worst));
    // More levels lose less.
    const SchoolConversion fine =
        convertSchool(job, {School::stack, {0.1, 0.15, 0.2, 0.3, 0.4, 0.5, 0.6, 0.7, 0.85}, 0.03});
    QVERIFY(std::abs(errorIn(fine, CalibratedQuantity::spark).worst) <
            std::abs(errorIn(c, CalibratedQuantity::spark).worst));
}

void SchoolTest::stackBecomesExactWithItsLevels() {
    const Job stack = convertSchool(testing::demoJob(), {School::stack, {0.1, 0.5, 0.85}, 0.03}).job;
    const SchoolConversion again = convertSchool(stack, {School::stack, {}, 0.03});
    for (const SchoolError &e : again.errors)
        QCOMPARE(e.worst, 0.0);
}

void SchoolTest::windowsHoldTheirTables() {
    const SchoolConversion c = convertSchool(testing::demoJob(), {School::windowSet, {0.1, 0.7, 0.85}, 0.03});
    const SchoolModel school(c.job);
    for (const ContentLevel &l : c.job.calibration.levels)
        for (const double content : {l.windowLow, l.content, l.windowHigh}) {
            const BlendEnds e = school.at(CalibratedQuantity::fuel, content);
            QVERIFY(e.low == e.high && !e.outside && e.weight == 0);
        }
    QVERIFY(school.at(CalibratedQuantity::fuel, 0.4).outside); // between the windows
    // A step: whatever is between two files is an error, and it is reported.
    QVERIFY(std::abs(errorIn(c, CalibratedQuantity::fuel).worstRelative) > 0.05);
}

void SchoolTest::fuelModelIsRecovered() {
    const Job job = modelJob();
    // Through two tables and back: the rank-one fit finds the table and the curve again.
    const Job stack = convertSchool(job, {School::stack, {0, 0.25, 0.5, 0.75, 1}, 0.03}).job;
    const SchoolConversion back = convertSchool(stack, {School::fuelModel, {}, 0.03});
    QCOMPARE(back.job.calibration.school, School::fuelModel);
    QVERIFY2(std::abs(errorIn(back, CalibratedQuantity::fuel).worstRelative) < 0.005,
             qPrintable(QString::number(errorIn(back, CalibratedQuantity::fuel).worstRelative)));
    const Curve &c = back.job.calibration.learnedFuelCorrection;
    COMPARE_NEAR(c.at(job.calibration.baseContent), 1, 1e-9);
    COMPARE_NEAR(c.at(0.5) / c.at(0.1), 1.03 / 1.006, 0.003);
}

// From each school to each other on random jobs: valid, errors finite, and the same school twice is the same.
void SchoolTest::everySchoolIntoEveryOther() {
    for (unsigned seed : {4u, 8u, 13u}) {
        Job job = testing::randomJob(seed);
        if (job.calibration.fuelMeaning == FuelMeaning::pulseWidth ||
            job.calibration.fuelMeaning == FuelMeaning::fuelMass)
            job.calibration.fuelMeaning = FuelMeaning::trueVe; // random numbers pass for a VE below
        job.calibration.levels.clear();
        job.calibration.school = School::twoTables;
        for (const bool top : {false, true})
            for (CalibratedQuantity q : allQuantities) { // one set of axes, and numbers of an engine
                Table2D &t = tableOf(q, top).of(job);
                const double low = q == CalibratedQuantity::fuel     ? 60
                                   : q == CalibratedQuantity::lambda ? 0.8
                                                                     : 30;
                t = Table2D(
                    Axis({1000, 3000, 6000}), Axis({20, 60, 100}),
                    {low, low * 1.1, low * 1.2, low, low * 1.1, low * 1.1, low * 1.2, low * 1.1, low});
                if (q == CalibratedQuantity::boost)
                    t = Table2D::uniform(t.x(), t.y(), top ? 220 : 180);
                else if (top && q == CalibratedQuantity::fuel)
                    for (std::size_t i = 0; i < 9; ++i)
                        t.setCell({i % 3, i / 3}, t.cell(i % 3, i / 3) * 1.2);
            }
        validate(job);
        for (const SchoolDefinition &from : allSchools()) {
            const Job in = convertSchool(job, {from.school, {}, 0.03}).job;
            QCOMPARE(in.calibration.school, from.school);
            for (const SchoolDefinition &to : allSchools()) {
                const SchoolConversion out = convertSchool(in, {to.school, {}, 0.03});
                for (const SchoolError &e : out.errors)
                    QVERIFY(std::isfinite(e.worst) && std::isfinite(e.mean) &&
                            e.mean <= std::abs(e.worst) + 1e-12);
                const auto judged = verify(out.job); // and every check opens on it
                QVERIFY(judged && !judged->rows.empty());
            }
        }
    }
}

// The weight against GSL's least squares through the origin (gsl_fit_mul), content by content.
void SchoolTest::weightIsLeastSquares() {
    const Job stack = convertSchool(testing::demoJob(), {School::stack, {0.1, 0.45, 0.85}, 0.03}).job;
    const Job two = convertSchool(stack, {School::twoTables, {}, 0.03}).job;
    const SchoolModel was(stack);
    const TwoTable &t = two.calibration.of(CalibratedQuantity::fuel);
    for (const double content : {0.2, 0.45, 0.7}) {
        const Table2D now = blendedTable(was.at(CalibratedQuantity::fuel, content));
        std::vector<double> x, y;
        for (std::size_t i = 0; i < now.cells().size(); ++i) {
            x.push_back(t.top.cells()[i] - t.base.cells()[i]);
            y.push_back(now.cells()[i] - t.base.cells()[i]);
        }
        double weight = 0, variance = 0, squares = 0;
        gsl_fit_mul(x.data(), 1, y.data(), 1, x.size(), &weight, &variance, &squares);
        COMPARE_NEAR(SchoolModel(two).at(CalibratedQuantity::fuel, content).weight, weight, 1e-9);
    }
}

void SchoolTest::errorIsFoundWhereItIs() {
    const Job job = testing::demoJob();
    const SchoolConversion c = convertSchool(job, {School::stack, {0.1, 0.85}, 0.03});
    const SchoolError &e = errorIn(c, CalibratedQuantity::spark);
    const double old = blendedPoint(Study(job), {e.content, e.rpm, e.y}).sparkDeg;
    const double now = blendedPoint(Study(c.job), {e.content, e.rpm, e.y}).sparkDeg;
    COMPARE_NEAR(now - old, e.worst, 1e-12);
    // Over content: the worst of all is the worst of its content, no mean is over a worst, and at its levels
    // a stack is exact.
    QCOMPARE(e.worstAt.size(), std::size_t{101});
    COMPARE_NEAR(e.worstAt[static_cast<std::size_t>(std::lround(e.content * 100))], e.worst, 1e-12);
    double mean = 0;
    for (std::size_t i = 0; i < e.worstAt.size(); ++i) {
        QVERIFY(std::abs(e.worstAt[i]) <= std::abs(e.worst) && e.meanAt[i] <= std::abs(e.worstAt[i]) + 1e-12);
        mean += e.meanAt[i] / 101;
    }
    COMPARE_NEAR(mean, e.mean, 1e-12);
    for (const std::size_t level : {10, 85})
        COMPARE_NEAR(e.worstAt[level], 0, 1e-9);
    // At one content the mean by hand.
    const Table2D was = Study(job).blended(CalibratedQuantity::spark, 0.4),
                  is = Study(c.job).blended(CalibratedQuantity::spark, 0.4);
    double sum = 0;
    for (std::size_t i = 0; i < was.cells().size(); ++i)
        sum += std::abs(is.cells()[i] - was.cells()[i]);
    COMPARE_NEAR(e.meanAt[40], sum / static_cast<double>(was.cells().size()), 1e-9);
}

// The product's handbook, chapter 4: an E70 file on E80 4.9 % lean, an E85 file on E60 11.1 % rich, a pump
// file on E85 37.6 % lean; near E75 one per cent of content is about half a per cent of λ.
void SchoolTest::windowsOfTheHandbook() {
    const Job job = newJob("x");
    COMPARE_NEAR(lambdaOfFileOn(job, 0.70, 0.80), 1.049, 0.0005);
    COMPARE_NEAR(lambdaOfFileOn(job, 0.85, 0.60), 1 - 0.111, 0.0005);
    COMPARE_NEAR(lambdaOfFileOn(job, 0.10, 0.85), 1.376, 0.0005);
    COMPARE_NEAR(lambdaOfFileOn(job, 0.75, 0.76) - 1, 0.005, 0.0006);
    for (const double content : {0.0, 0.4, 0.75, 1.0}) {
        const ContentWindow w = windowOf(job, content, 0.03);
        QVERIFY(w.low <= content && content <= w.high);
        if (w.low > 0) COMPARE_NEAR(lambdaOfFileOn(job, content, w.low), 0.97, 1e-9);
        if (w.high < 1) COMPARE_NEAR(lambdaOfFileOn(job, content, w.high), 1.03, 1e-9);
    }
    const std::vector<BakedFile> files = bake(testing::demoJob(), {0.1, 0.7, 0.85});
    QCOMPARE(gapsBetween(files).size(), std::size_t{2});
    QVERIFY(gapsBetween(bake(testing::demoJob(), {0.7, 0.75, 0.8})).empty());
}

// Frozen files of the demo job at E70, made by `wheelwright-cli bake`, so that a change of blending is seen.
void SchoolTest::bakedFilesAreGolden() {
    const std::vector<BakedFile> files = bake(testing::demoJob(), {0.1, 0.7});
    QCOMPARE(files[0].tables[0], testing::demoJob().calibration.of(CalibratedQuantity::fuel).base);
    for (CalibratedQuantity q : allQuantities) {
        const std::string path = TEST_DATA "/baked/E70-" + std::string(quantityId(q)) + ".csv";
        std::ifstream in(path);
        const Table2D frozen = tableFromCsv(readCsv(in), tableOf(q, false)).table;
        const Table2D &now = files[1].tables[static_cast<std::size_t>(q)];
        QVERIFY(frozen.x() == now.x() && frozen.y() == now.y());
        for (std::size_t i = 0; i < now.cells().size(); ++i)
            COMPARE_NEAR(now.cells()[i], frozen.cells()[i], 1e-9);
    }
}

void SchoolTest::meaningsRoundTrip() {
    const Job job = testing::demoJob();
    using enum FuelMeaning;
    for (const FuelMeaning through : {trueVe, pulseWidth, fuelMass}) {
        const MeaningChange there = changeFuelMeaning(job, through);
        const MeaningChange back = changeFuelMeaning(there.job, contentReferencedVe);
        for (const bool top : {false, true}) {
            const auto &a = tableOf(CalibratedQuantity::fuel, top).of(job).cells();
            const auto &b = tableOf(CalibratedQuantity::fuel, top).of(back.job).cells();
            for (std::size_t i = 0; i < a.size(); ++i)
                COMPARE_NEAR(a[i], b[i], 1e-9 * a[i]);
        }
        // VE is exact between the cells too; volumes bend with load and λ there.
        QVERIFY(std::abs(there.residual.worst) < (through == trueVe ? 1e-9 : 0.05));
    }
    // True VE of a content-referenced table: divided by K(E) at its content.
    const Job ve = changeFuelMeaning(job, trueVe).job;
    const double k = blendModelOf(job).volumeMultiplier(blendAt(job, job.calibration.topContent),
                                                        blendAt(job, job.calibration.fuelReferenceContent));
    COMPARE_NEAR(job.calibration.of(CalibratedQuantity::fuel).top.cell(4, 4) / k,
                 ve.calibration.of(CalibratedQuantity::fuel).top.cell(4, 4), 1e-9);
}

void SchoolTest::refusesBadLevels() {
    const Job job = testing::demoJob();
    EXPECT_INPUT_ERROR(convertSchool(job, {School::stack, {0.5}, 0.03}), "contents", "2 to 12");
    EXPECT_INPUT_ERROR(convertSchool(job, {School::stack, {0.5, 0.4}, 0.03}), "content 2");
    EXPECT_INPUT_ERROR(convertSchool(job, {School::windowSet, {1.5}, 0.03}), "content 1");
    EXPECT_INPUT_ERROR(windowOf(job, 0.5, 0), "tolerance");
    Job bad = job;
    bad.calibration.school = School::stack;
    EXPECT_INPUT_ERROR(validate(bad), "calibration.levels");
    bad = convertSchool(job, {School::stack, {0.1, 0.85}, 0.03}).job;
    bad.calibration.levels[1].of(CalibratedQuantity::spark).setCell({0, 0}, 900);
    EXPECT_INPUT_ERROR(validate(bad), "calibration.levels 2 spark");
    bad = job;
    bad.calibration.school = School::fuelModel;
    EXPECT_INPUT_ERROR(validate(bad), "fuel_meaning");
}

void SchoolTest::revisionsRestoreEverything() {
    Job job = convertSchool(testing::demoJob(), {School::stack, {0.1, 0.5, 0.85}, 0.03}).job;
    job.extras.push_back(newExtraTable(TableKind::prime, "Prime pulse"));
    job.cellMarks.push_back({"calibration.spark.base", 3000, 100, true, "a\ttab and\na line"});
    keepRevision(job, "before", "2001-02-03T04:05:06Z", "note", true);
    Job changed = job;
    changed.calibration = testing::demoJob().calibration;
    changed.extras.clear();
    changed.cellMarks.clear();
    changed.injectors.flowCcMin = 999;
    changed.sparkDelivery.knockControl = false;
    changed.notes = "kept";
    const Job back = restored(changed, job.revisions[0]);
    QVERIFY(back.calibration == job.calibration && back.extras == job.extras &&
            back.cellMarks == job.cellMarks);
    QVERIFY(back.injectors == job.injectors && back.sparkDelivery == job.sparkDelivery);
    QCOMPARE(back.notes, std::string("kept"));
    EXPECT_INPUT_ERROR(keepRevision(job, "before", "", "", false), "revision", "again");
    EXPECT_INPUT_ERROR(keepRevision(job, "", "", "", false), "revision", "nothing");
    job.revisions[0].state = job.revisions[0].state.text() + "nonsense\t1\n";
    EXPECT_INPUT_ERROR(restored(changed, job.revisions[0]), "revision 'before' line");
}

void SchoolTest::differencesAreNamedAndGuarded() {
    const Job job = testing::demoJob();
    Job other = job;
    other.sparkDelivery.knockControl = false;
    other.name = "Other";
    Table2D &t = other.calibration.of(CalibratedQuantity::spark).top;
    t.setCell({2, 3}, t.cell(2, 3) + 1);
    t.setCell({4, 5}, t.cell(4, 5) - 2.5);
    const std::vector<Difference> all = differencesOf(job, other);
    QCOMPARE(all.size(), std::size_t{3});
    for (const Difference &d : all) {
        QCOMPARE(d.guarded, d.path == "spark.knock_control");
        if (d.path != "calibration.spark.top") continue;
        QCOMPARE(d.cells, std::size_t{2});
        COMPARE_NEAR(d.worst, -2.5, 1e-12);
        COMPARE_NEAR(d.rpm, t.x()[4], 0);
    }
    QVERIFY(differencesOf(job, job).empty());
}

// The product's handbook, chapter 4: asked 24°, delivered 19.5°: intake air 50 °C takes 3, coolant 100 °C
// takes 1.5.
void SchoolTest::budgetByHand() {
    Job job = testing::flatJob();
    for (const bool top : {false, true}) {
        Table2D &t = tableOf(CalibratedQuantity::spark, top).of(job);
        t = Table2D::uniform(t.x(), t.y(), top ? 28 : 20);
    }
    job.calibration.of(CalibratedQuantity::spark).shape = WeightShape::straight;
    job.calibration.baseContent = 0.1;
    job.calibration.topContent = 0.9;
    job.conditions.intakeColdestC = 10;
    job.conditions.intakeUsualC = 50;
    SparkDelivery &d = job.sparkDelivery;
    d.intakeHotC = 70;
    d.coolantColdC = 70, d.coolantUsualC = 100, d.coolantHotC = 110;
    job.extras.push_back(
        {TableKind::sparkIntake, "iat", Table2D(Axis({20, 50, 70}), Axis({100}), {0, -3, -6})});
    job.extras.push_back(
        {TableKind::sparkCoolant, "clt", Table2D(Axis({80, 100, 120}), Axis({0}), {0, -1.5, -3})});
    SparkBudget b = sparkBudget(Study(job), {0.5, 4000, 150});
    COMPARE_NEAR(b.askedDeg, 24, 1e-9);
    COMPARE_NEAR(b.usualDeg, 19.5, 1e-9);
    COMPARE_NEAR(b.bestDeg, 24, 1e-9);
    COMPARE_NEAR(b.worstDeg, 24 - 6 - 2.25, 1e-9);
    // Fallback: T = low + q (high − low); knock; base timing; one cylinder that gets less.
    job.extras.push_back({TableKind::sparkFallback, "low", Table2D(Axis({4000}), Axis({150}), {14})});
    job.extras.push_back({TableKind::sparkCylinder, "cyl", Table2D(Axis({1, 2}), Axis({0}), {0, -2})});
    d.fallbackUsual = 0.9, d.fallbackWorst = 0.5, d.knockRetardWorstDeg = 4, d.baseTimingErrorDeg = 1;
    job.engine.cylinders = 2;
    b = sparkBudget(Study(job), {0.5, 4000, 150});
    COMPARE_NEAR(b.usualDeg, 24 - 3 - 1.5 - 1 - 0.1 * 10 + 1, 1e-9);
    COMPARE_NEAR(b.worstDeg, 24 - 6 - 2.25 - 2 - 0.5 * 10 - 4 + 1, 1e-9);
    COMPARE_NEAR(b.bestDeg, 24 - 0.1 * 10 + 1, 1e-9);
    double usual = 0, worst = 0;
    for (const BudgetStep &s : b.steps) { // running totals
        usual += s.usualDeg;
        worst += s.worstDeg;
        COMPARE_NEAR(s.usualTotal, usual, 1e-12);
        COMPARE_NEAR(s.worstTotal, worst, 1e-12);
        QVERIFY(s.worstDeg <= s.usualDeg + 1e-12 && s.usualDeg <= s.bestDeg + 1e-12);
    }
    d.knockControl = false; // it takes nothing when it is off
    COMPARE_NEAR(sparkBudget(Study(job), {0.5, 4000, 150}).worstDeg, b.worstDeg + 4, 1e-9);
    QVERIFY(said(explainBudget(Study(job), {0.5, 4000, 150}).change).starts_with("Intake air takes most"));
}

void SchoolTest::budgetOfASchool() {
    const Job stack = convertSchool(testing::demoJob(), {School::stack, {0.1, 0.5, 0.85}, 0.03}).job;
    for (const double content : {0.2, 0.5, 0.9}) {
        const SparkBudget b = sparkBudget(Study(stack), {content, 4000, 150});
        COMPARE_NEAR(b.askedDeg, blendedPoint(Study(stack), {content, 4000, 150}).sparkDeg, 1e-12);
        COMPARE_NEAR(b.steps[1].usualTotal, b.askedDeg, 1e-12);
    }
}

void SchoolTest::kindsAreSound() {
    std::vector<std::string_view> ids;
    for (const TableKindDefinition &d : allTableKinds()) {
        QVERIFY(std::ranges::find(ids, d.id) == ids.end() && !d.title.empty() && !d.help.empty());
        ids.push_back(d.id);
        QCOMPARE(&definitionOf(d.kind), &d);
        const ExtraTable extra = newExtraTable(d.kind, "x");
        validate(extra, "x");
        QVERIFY(d.neutral >= d.least && d.neutral <= d.most && d.step > 0);
        Job job = newJob("y");
        QCOMPARE(extraAt(job, d.kind, 1, 1), d.neutral);
        job.extras = {extra};
        validate(job);
        QCOMPARE(extraAt(job, d.kind, 1, 1), d.neutral);
        job.extras[0].table.setCell({0, 0}, d.most * 2 + 1);
        EXPECT_INPUT_ERROR(validate(job), "calibration.extras 1 row 1, column 1");
    }
}

void SchoolTest::tableTextIsExact() {
    for (unsigned seed = 1; seed < 6; ++seed) {
        const Table2D t = testing::randomJob(seed).calibration.of(CalibratedQuantity::lambda).base;
        QCOMPARE(tableFromText(tableToText(t)), t);
    }
    EXPECT_INPUT_ERROR(tableFromText("x 1 2; y 1; cells 1"), "table");
    EXPECT_INPUT_ERROR(tableFromText("x 1 two; y 1; cells 1"), "table x");
    EXPECT_INPUT_ERROR(tableFromText("nothing"), "table x");
    EXPECT_INPUT_ERROR(tableFromText("x 1; y 1; cells 1; more"), "table");
}

CORE_TEST_MAIN(SchoolTest)
#include "school_test.moc"
