// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/error.h"
#include "core/job/job_schema.h"
#include "core/study/content_tables.h"
#include "core/study/school.h"
#include "core/study/slice_fan.h"
#include "support/random_job.h"
#include "support/test_main.h"

using namespace wheelwright;
using namespace wheelwright::testing;
using enum CalibratedQuantity;

/// School A. The physical fuel weight must make two content-referenced tables blend exactly like the fuel
/// model.
class TwoTableSchoolTest : public QObject {
    Q_OBJECT
  private slots:
    void fuelBlendsLikePhysics();
    void sparkWeightOfTheHandbook();
    void weightsAtTheEndsAreExact();
    void straightLineIsStraight();
    void customPointsAreUsed();
    void holdsBeyondTheEnds();
    void extrapolatesFlaggedAndBounded();
    void tableAndPointAgree();
    void differentAxesBlend();
    void cellsBlendAsPointsDo();
    void sliceFanFollowsTheTables();
    void refusesPlacesThatCannotBe();
};

void TwoTableSchoolTest::fuelBlendsLikePhysics() {
    Job job = newJob("physics");
    const BlendModel model(job.gasoline);
    const double ve = 91.5;
    TwoTable &fuel = job.calibration.of(CalibratedQuantity::fuel);
    fuel.base =
        Table2D::uniform(fuel.base.x(), fuel.base.y(), ve * model.volumeMultiplier(blendAt(job, 0.10), {}));
    fuel.top =
        Table2D::uniform(fuel.top.x(), fuel.top.y(), ve * model.volumeMultiplier(blendAt(job, 0.85), {}));
    for (double e = 0.10; e <= 0.85; e += 0.01)
        COMPARE_NEAR(blendedPoint(Study(job), {e, 4000, 100}).fuel,
                     ve * model.volumeMultiplier(blendAt(job, e), {}), 1e-10);
}

// Handbook, chapter 2: at E50 spark and boost are 0.688 of the way from E10 to E85.
void TwoTableSchoolTest::sparkWeightOfTheHandbook() {
    const Job job = newJob("weights");
    const Weights w = WeightModel(job).at(0.50);
    COMPARE_NEAR(w[spark], 0.688, 0.0005);
    QCOMPARE(w[boost], w[spark]);
    COMPARE_NEAR(w[lambda], 0.4 / 0.75, 1e-12);
    COMPARE_NEAR(w[fuel], (1.2133 - 1.0364) / (1.4262 - 1.0364), 0.0005); // from the handbook's multipliers
}

void TwoTableSchoolTest::weightsAtTheEndsAreExact() {
    for (unsigned seed = 0; seed < 40; ++seed) {
        const Job job = testing::randomJob(seed);
        const WeightModel model(job);
        for (CalibratedQuantity q : allQuantities) {
            QCOMPARE(model.at(job.calibration.baseContent)[q], 0.0);
            QCOMPARE(model.at(job.calibration.topContent)[q], 1.0);
            for (double e = job.calibration.baseContent; e < job.calibration.topContent; e += 0.02)
                QVERIFY(model.at(e)[q] >= 0 && model.at(e)[q] <= 1);
        }
    }
}

void TwoTableSchoolTest::straightLineIsStraight() {
    Job job = newJob("straight");
    job.calibration.of(spark).shape = WeightShape::straight;
    COMPARE_NEAR(WeightModel(job).at(0.475)[spark], 0.5, 1e-12);
}

void TwoTableSchoolTest::customPointsAreUsed() {
    Job job = newJob("custom");
    job.calibration.of(spark).shape = WeightShape::custom;
    job.calibration.of(spark).customWeight = Curve({0.10, 0.40, 0.85}, {0, 0.9, 1});
    validate(job);
    COMPARE_NEAR(WeightModel(job).at(0.25)[spark], 0.45, 1e-12);
    job.calibration.of(spark).customWeight = Curve({0.10, 0.85}, {0.1, 1});
    EXPECT_INPUT_ERROR(validate(job), "calibration.spark.weight_points", "0 at the base");
    job.calibration.of(spark).customWeight = Curve({0.10, 0.40, 0.85}, {0, 1.1, 1});
    EXPECT_INPUT_ERROR(validate(job), "weight_points", "point 2", "0 to 1");
}

void TwoTableSchoolTest::holdsBeyondTheEnds() {
    const Job job = newJob("hold");
    const Weights below = WeightModel(job).at(0.0), above = WeightModel(job).at(1.0);
    for (CalibratedQuantity q : allQuantities) {
        QCOMPARE(below[q], 0.0);
        QCOMPARE(above[q], 1.0);
    }
    QVERIFY(below.outside && above.outside && !above.extrapolated);
    QVERIFY(!WeightModel(job).at(0.5).outside);
}

void TwoTableSchoolTest::extrapolatesFlaggedAndBounded() {
    Job job = newJob("extrapolate");
    job.calibration.outside = OutsideRule::extrapolate;
    const Weights above = WeightModel(job).at(0.95);
    QVERIFY(above.outside && above.extrapolated);
    QVERIFY(above[fuel] > 1 && above[fuel] <= 1.25);
    job.calibration.topContent = 0.12; // two tables close together: the line would run far away
    QCOMPARE(WeightModel(job).at(1.0)[lambda], 1.25);
}

void TwoTableSchoolTest::tableAndPointAgree() {
    const Job job = testing::demoJob();
    for (double e : {0.0, 0.10, 0.33, 0.52, 0.85, 1.0}) {
        const Table2D now = Study(job).blended(CalibratedQuantity::spark, e);
        for (std::size_t y = 0; y < now.y().size(); y += 5)
            for (std::size_t x = 0; x < now.x().size(); x += 5)
                COMPARE_NEAR(now.cell(x, y), blendedPoint(Study(job), {e, now.x()[x], now.y()[y]}).sparkDeg,
                             1e-12);
    }
}

void TwoTableSchoolTest::differentAxesBlend() {
    Job job = newJob("axes");
    TwoTable &t = job.calibration.of(spark);
    t.base = Table2D(Axis({1000, 3000}), Axis({50, 150}), {10, 20, 10, 20});
    t.top = Table2D(Axis({1000, 2000, 3000}), Axis({50, 150}), {12, 20, 22, 12, 20, 22});
    t.shape = WeightShape::straight;
    BlendEnds ends;
    ends.low = &t.base;
    ends.high = &t.top;
    ends.weight = 0.5;
    const Table2D now = blendedTable(ends);
    QCOMPARE(now.x().size(), std::size_t{2});
    QCOMPARE(now.cell(1, 0), 21.0);
    COMPARE_NEAR(blendedPoint(Study(job), {0.475, 2000, 100}).sparkDeg, 17.5, 1e-12); // (15 + 20) / 2
}

// A second method: each cell by itself, at its own breakpoints, whatever the school and the axes.
void TwoTableSchoolTest::cellsBlendAsPointsDo() {
    for (unsigned seed = 0; seed < 24; ++seed) {
        const Job job = randomJob(seed);
        const SchoolModel school(job);
        for (const double content : {0.0, 0.1, 0.37, 0.5, 0.85, 1.0})
            for (const BlendEnds &ends : school.at(content)) {
                std::vector<double> out(ends.low->cells().size());
                blendCells(ends, out);
                const Table2D table = blendedTable(ends);
                QVERIFY(table.cells() == out && table.x() == ends.low->x() && table.y() == ends.low->y());
                std::size_t i = 0;
                for (const double y : ends.low->y().points())
                    for (const double x : ends.low->x().points()) {
                        const double expected =
                            ends.blend(ends.low->lookup(x, y).value, ends.high->lookup(x, y).value);
                        COMPARE_NEAR(out[i], expected, 1e-12 * std::max(1.0, std::abs(expected)));
                        ++i;
                    }
            }
    }
}

void TwoTableSchoolTest::sliceFanFollowsTheTables() {
    const Job job = testing::demoJob();
    for (const bool alongRpm : {true, false})
        for (CalibratedQuantity q : allQuantities) {
            const SliceFan fan = sliceFan(Study(job), q, alongRpm, {3, 4}, 0.52);
            QCOMPARE(fan.curves.size(), std::size_t{11});
            const Table2D now = Study(job).blended(q, 0.52), e30 = Study(job).blended(q, 0.30);
            for (std::size_t i = 0; i < fan.x.size(); ++i) {
                const CellIndex cell = alongRpm ? CellIndex{i, 4} : CellIndex{3, i};
                COMPARE_NEAR(fan.now.y[i], now.cell(cell), 1e-12);
                COMPARE_NEAR(fan.curves[3].y[i], e30.cell(cell), 1e-12);
            }
            QCOMPARE(fan.bounds.size(), q == lambda || q == spark ? std::size_t{2}
                                        : q == boost              ? std::size_t{1}
                                                                  : std::size_t{0});
            if (q != spark) continue; // the ceiling and best spark, along the same row or column
            const ContentTables ceilings(job, TableKind::sparkCeiling), best(job, TableKind::sparkBest);
            for (std::size_t i = 0; i < fan.x.size(); ++i) {
                const double rpm = alongRpm ? fan.x[i] : now.x()[3], load = alongRpm ? now.y()[4] : fan.x[i];
                COMPARE_NEAR(fan.bounds[0].y[i], ceilings.at({0.52, rpm, load}), 1e-12);
                COMPARE_NEAR(fan.bounds[1].y[i], best.at({0.52, rpm, load}), 1e-12);
            }
        }
}

void TwoTableSchoolTest::refusesPlacesThatCannotBe() {
    const Job job = newJob("bad");
    EXPECT_INPUT_ERROR(blendedPoint(Study(job), {1.2, 4000, 100}), "content");
    EXPECT_INPUT_ERROR(blendedPoint(Study(job), {0.5, -1, 100}), "rpm");
    EXPECT_INPUT_ERROR(blendedPoint(Study(job), {0.5, 4000, std::nan("")}), "load_kpa");
}

CORE_TEST_MAIN(TwoTableSchoolTest)
#include "two_table_school_test.moc"
