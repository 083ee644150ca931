// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/limits.h"
#include "core/job/job_schema.h"
#include "core/job/revision.h"
#include "core/study/cell_trust.h"
#include "core/study/fuel_delivery.h"
#include "core/study/school_conversion.h"
#include "core/tables/table_kind.h"
#include "core/verify/verdict.h"
#include "support/phrases.h"
#include "support/random_job.h"
#include "support/test_main.h"

#include <QDir>

#include <algorithm>
#include <set>

using namespace wheelwright;
using testing::said;
using testing::says;
using namespace wheelwright::testing;
using enum CalibratedQuantity;

namespace {

const Verdict::Row &rowOf(const Verdict &v, std::string_view id) {
    return *std::ranges::find(v.rows, id, [](const Verdict::Row &r) { return r.check->id; });
}

WorstPlace worstOf(const Verdict &v, std::string_view id) {
    return rowOf(v, id).outcome.worst();
}

WorstPlace placeAt(const Verdict &v, std::string_view id, double content) {
    const auto &places = rowOf(v, id).outcome.byContent;
    return *std::ranges::min_element(
        places, {}, [content](const WorstPlace &p) { return std::abs(p.content - content); });
}

void fill(Job &job, CalibratedQuantity q, double base, double top) {
    TwoTable &t = job.calibration.of(q);
    t.base = Table2D::uniform(t.base.x(), t.base.y(), base);
    t.top = Table2D::uniform(t.top.x(), t.top.y(), top);
}

} // namespace

/// Each check against a job made to break it by a known amount; the sweep against the plain point-by-point
/// method.
class VerifyTest : public QObject {
    Q_OBJECT
  private slots:
    void everyCheckIsWellFormed();
    void checksOpenOnEveryJob();
    void aFlatJobIsClearInside();
    void sweepAgreesWithPointByPoint();
    void gridHoldsCellsAndMidPoints();
    void unreachableCellsAreNotJudged();
    void leanLine();
    void leanLineOfMethanol();
    void richLine();
    void fuelModelSeesTheStraightLine();
    void fuelModelBeyondTheEnds();
    void learnedCorrectionMovesTheNeed();
    void sparkTakenAwayByContent();
    void sparkAddedByLoad();
    void sparkSteps();
    void sparkStepPerContent();
    void boostOverTheEngine();
    void boostOverTheSensor();
    void boostOverTheAxes();
    void dutyOfInjectors();
    void dutyWithoutPressure();
    void ownLimitsCountAndAreNamed();
    void verdictOfTheDemo();
    void checksOfTheCorrections();
    void checksOfTheSensor();
    void unprovenSparkStaysUnderTheProven();
    void theLaterOfTwoProvenTables();
    void guardedSettingsComeBack();
    void checksOfTheHardware();
    void verdictInWords();
    void cancelledRunsGiveNothing();
};

void VerifyTest::everyCheckIsWellFormed() {
    std::set<std::string_view> ids;
    for (const Check *c : allChecks()) {
        QVERIFY2(ids.insert(c->id).second, c->id.data());
        QVERIFY(!c->title.empty() && c->question.text.ends_with("?") && !c->help.empty());
        for (std::string_view id : c->limits)
            limitById(id); // throws when there is none
        QCOMPARE(checkById(c->id), c);
        QVERIFY2(!c->origin(newJob("x")).empty(), c->id.data());
    }
    // Whoever writes a check also lists it.
    const QStringList files = QDir(QStringLiteral(SOURCE_DIR "/src/core/verify"))
                                  .entryList({QStringLiteral("*_check.cpp")}, QDir::Files);
    QVERIFY(!files.isEmpty());
    QCOMPARE(ids.size(), static_cast<std::size_t>(files.size()));
    QVERIFY(!checkById("lambda.purple"));
}

void VerifyTest::checksOpenOnEveryJob() {
    Job tiny = newJob("tiny"), huge = newJob("huge");
    std::vector<double> rpm, load;
    for (std::size_t i = 0; i < Axis::mostPoints; ++i) {
        rpm.push_back(500 + 100.0 * static_cast<double>(i));
        load.push_back(20 + 4.0 * static_cast<double>(i));
    }
    for (const TableField &t : allTables()) {
        const double v = t.of(tiny).cells().front();
        const bool throttle = t.y.key != "load_kpa";
        t.of(tiny) = Table2D::uniform(Axis({3000}), Axis({throttle ? 100.0 : 90.0}), v);
        t.of(huge) = Table2D::uniform(Axis(rpm), throttle ? Axis({0, 100}) : Axis(load), v);
    }
    std::vector<Job> jobs{tiny, huge};
    for (unsigned seed = 0; seed < 12; ++seed)
        jobs.push_back(randomJob(seed));
    for (const Job &job : jobs) {
        const auto v = verify(job);
        for (const Verdict::Row &row : v->rows) {
            QCOMPARE(row.outcome.byContent.size(), v->contents.size());
            for (const WorstPlace &p : row.outcome.byContent)
                QVERIFY2(std::isfinite(p.margin) && p.margin <= 1, row.check->id.data());
            const Explanation x = row.check->explain(v->study->evaluation(), row.outcome.worst());
            QVERIFY(!x.formula.empty() && !x.source.empty() && !x.change.text.empty());
            QVERIFY2(format(x.change, UnitChoice{}).find('{') == std::string::npos, row.check->id.data());
            QVERIFY2(format(x.substituted, UnitChoice{}).find('{') == std::string::npos,
                     row.check->id.data());
        }
    }
}

void VerifyTest::aFlatJobIsClearInside() {
    const auto v = verify(flatJob());
    for (const Verdict::Row &row : v->rows)
        for (const WorstPlace &p : row.outcome.byContent)
            if (p.content >= 0.10 && p.content <= 0.85) QVERIFY2(p.margin >= 0, row.check->id.data());
}

// The sweep samples tables once and blends arrays; here every point is looked up anew.
void VerifyTest::sweepAgreesWithPointByPoint() {
    const Job job = demoJob();
    const Study study(job);
    const Evaluation &e = study.evaluation();
    for (std::size_t c = 0; c < e.slices().size(); c += 13) {
        const ContentSlice &s = e.slices()[c];
        for (std::size_t i = 0; i < e.rpm().size(); i += 3) {
            for (std::size_t j = 0; j < e.load().size(); j += 3) {
                const BlendedPoint p = blendedPoint(Study(job), {s.content, e.rpm()[i], e.load()[j]});
                COMPARE_NEAR(s.fuel[e.index(i, j)], p.fuel, 1e-10);
                COMPARE_NEAR(s.spark[e.index(i, j)], p.sparkDeg, 1e-10);
                COMPARE_NEAR(s.lambda[e.index(i, j)], p.lambda, 1e-12);
                COMPARE_NEAR(s.reach[i].targetKpa, p.boostKpa, 1e-9); // the demo's target rises with throttle
            }
        }
    }
    // And the worst duty, found the long way.
    double worst = 0;
    const double overshoot = limitOf(job, "boost.overshoot");
    const auto look = [&](double content, double rpm, double load) {
        const BlendedPoint p = blendedPoint(study, {content, rpm, load});
        if (rpm > job.engine.revLimitRpm || load > p.boostKpa + overshoot) return;
        worst = std::max(
            worst, dutyAt(job, content, job.conditions.intakeColdestC, rpm, load, p.fuel, p.lambda).duty);
    };
    for (const ContentSlice &s : e.slices())
        for (double rpm : e.rpm()) {
            for (double load : e.load())
                look(s.content, rpm, load);
            const double target = blendedPoint(study, {s.content, rpm, 100}).boostKpa;
            look(s.content, rpm, target);
            look(s.content, rpm, target + overshoot);
        }
    COMPARE_NEAR(worstOf(*verify(job), "flow.duty").value, worst, 1e-10);
}

void VerifyTest::gridHoldsCellsAndMidPoints() {
    const Study study(demoJob());
    const Evaluation &e = study.evaluation();
    QCOMPARE(e.rpm().size(), std::size_t{47 + 4}); // 24 breakpoints, 23 between; four of the ceilings' own
    QCOMPARE(e.load().size(),
             std::size_t{47 + 3}); // the air around, a row of the corrections and one of best spark
    QCOMPARE(e.rpmBreakpoints().size(), std::size_t{24});
    QCOMPARE(e.rpm()[e.rpmBreakpoints()[3]], 1600.0);
    QCOMPARE(e.rpm()[e.rpmBreakpoints()[3] + 1], 1750.0);
    QCOMPARE(e.slices().size(), std::size_t{101}); // both calibrated contents are whole per cents
    Job odd = demoJob();
    odd.calibration.topContent = 0.8333;
    QCOMPARE(Study(odd).evaluation().slices().size(), std::size_t{102});
}

void VerifyTest::unreachableCellsAreNotJudged() {
    Job job = flatJob();                                  // 150 kPa and 14 of overshoot
    job.calibration.of(lambda).base.setCell({5, 9}, 1.4); // 200 kPa: far too lean, never reached
    QVERIFY(worstOf(*verify(job), "lambda.lean").margin > 0);
    job.calibration.of(lambda).base.setCell({5, 7}, 1.4); // 160 kPa: inside the overshoot
    QVERIFY(worstOf(*verify(job), "lambda.lean").margin < 0);
    job.calibration.of(lambda).base.setCell({5, 7}, 0.78);
    job.engine.revLimitRpm = 6500;
    job.calibration.of(lambda).base.setCell({13, 6}, 1.4); // 7000 rpm: over the limit
    const auto clear = worstOf(*verify(job), "lambda.lean");
    QVERIFY2(clear.margin > 0, qPrintable(QString::number(clear.rpm)));
    job.engine.revLimitRpm = 7000; // and there it is
    const auto worst = worstOf(*verify(job), "lambda.lean");
    QVERIFY(worst.margin < 0);
    QVERIFY2(worst.rpm > 6500 && worst.rpm <= 7000, qPrintable(QString::number(worst.rpm)));
}

void VerifyTest::leanLine() {
    Job job = flatJob();
    fill(job, lambda, 0.86, 0.86);
    const auto v = verify(job);
    // At E0 and 150 kPa gasoline may be at 0.86: at the limit there, over it at the target with its
    // overshoot.
    const WorstPlace e0 = placeAt(*v, "lambda.lean", 0);
    QCOMPARE(e0.loadKpa, 164.0);
    COMPARE_NEAR(e0.limit, 0.8488, 1e-12); // between 0.86 at 150 and 0.82 at 200
    COMPARE_NEAR(e0.margin, (0.8488 - 0.86) / 0.05, 1e-9);
    // Pure ethanol may be 0.03 leaner.
    const WorstPlace e100 = placeAt(*v, "lambda.lean", 1);
    COMPARE_NEAR(e100.limit, 0.8788, 1e-12);
    QVERIFY(e100.margin > 0);
}

void VerifyTest::leanLineOfMethanol() {
    Job job = flatJob();
    job.alcohol = Alcohol::methanol;
    const auto v = verify(job);
    COMPARE_NEAR(placeAt(*v, "lambda.lean", 1).limit, 0.90, 1e-12);
}

void VerifyTest::richLine() {
    Job job = flatJob();
    fill(job, lambda, 0.68, 0.68);
    const auto v = verify(job);
    COMPARE_NEAR(placeAt(*v, "lambda.rich", 0).margin, (0.68 - 0.70) / 0.05, 1e-9);
    COMPARE_NEAR(placeAt(*v, "lambda.rich", 1).margin, (0.68 - 0.66) / 0.05, 1e-9);
}

// The classic straight line in volume per cent against the fuel model, from the handbook's multipliers at
// E50.
void VerifyTest::fuelModelSeesTheStraightLine() {
    Job job = flatJob();
    job.calibration.of(fuel).shape = WeightShape::straight;
    const double w = 0.4 / 0.75;
    const double expected = ((1 - w) * 1.0364 + w * 1.4262) / 1.2133 - 1;
    COMPARE_NEAR(placeAt(*verify(job), "lambda.model", 0.5).value, expected, 1e-4);
    job.calibration.of(fuel).shape = WeightShape::physical;
    COMPARE_NEAR(placeAt(*verify(job), "lambda.model", 0.5).value, 0, 1e-12);
    QCOMPARE(placeAt(*verify(job), "lambda.model", 0.85).margin, 1.0);
}

void VerifyTest::fuelModelBeyondTheEnds() {
    const auto v = verify(flatJob());
    COMPARE_NEAR(placeAt(*v, "lambda.model", 0).value, 1.0364 - 1, 1e-4);          // rich on pure gasoline
    COMPARE_NEAR(placeAt(*v, "lambda.model", 1).value, 1.4262 / 1.5422 - 1, 1e-4); // lean on pure ethanol
    QVERIFY(placeAt(*v, "lambda.model", 1).margin < 0);
}

void VerifyTest::learnedCorrectionMovesTheNeed() {
    Job job = flatJob();
    job.calibration.learnedFuelCorrection = Curve({0.10, 0.50, 0.85}, {1, 1.02, 1});
    COMPARE_NEAR(placeAt(*verify(job), "lambda.model", 0.5).value, 1 / 1.02 - 1, 1e-9);
    // What was learned at the calibrated contents is in their tables: the same everywhere says nothing new.
    job.calibration.learnedFuelCorrection = Curve::constant(1.05);
    const auto same = verify(job);
    for (const double content : {0.1, 0.4, 0.85})
        COMPARE_NEAR(placeAt(*same, "lambda.model", content).value, 0, 1e-9);
    job.calibration.learnedFuelCorrection = Curve({0.10, 0.50, 0.85}, {1.04, 1.06, 1.08});
    const auto rising = verify(job);
    COMPARE_NEAR(placeAt(*rising, "lambda.model", 0.1).value, 0, 1e-9);
    COMPARE_NEAR(placeAt(*rising, "lambda.model", 0.85).value, 0, 1e-9);
    const double along = 0.4 / 0.75; // both tables are the same, so their needs are
    const double need = (1 - along) * 1.06 / 1.04 + along * 1.06 / 1.08;
    COMPARE_NEAR(placeAt(*rising, "lambda.model", 0.5).value, 1 / need - 1, 1e-9);
}

void VerifyTest::sparkTakenAwayByContent() {
    Job job = flatJob();
    fill(job, spark, 15, 14);
    const WorstPlace p = worstOf(*verify(job), "spark.monotone");
    COMPARE_NEAR(p.value, 1, 1e-9);
    COMPARE_NEAR(p.margin, -1, 1e-9); // 1° where 0.5° is allowed
    COMPARE_NEAR(p.content, 0.85, 1e-12);
}

void VerifyTest::sparkAddedByLoad() {
    Job job = flatJob();
    for (const bool top : {false, true})
        tableOf(spark, top).of(job).setCell({6, 6}, 17); // 140 kPa, 2° over 120
    const WorstPlace p = worstOf(*verify(job), "spark.monotone");
    COMPARE_NEAR(p.value, 2, 1e-9);
    QCOMPARE(p.loadKpa, 140.0);
    for (const bool top : {false, true}) {
        tableOf(spark, top).of(job).setCell({6, 6}, 15);
        tableOf(spark, top).of(job).setCell({6, 3}, 17); // under 100 kPa it may
    }
    QVERIFY(worstOf(*verify(job), "spark.monotone").margin > 0);
}

void VerifyTest::sparkSteps() {
    Job job = flatJob();
    for (const bool top : {false, true})
        for (std::size_t y = 0; y < 11; ++y)
            tableOf(spark, top).of(job).setCell({6, y}, 20);
    const WorstPlace p = worstOf(*verify(job), "spark.step");
    COMPARE_NEAR(p.value, 5, 1e-9);
    COMPARE_NEAR(p.margin, (4 - 5) / 4.0, 1e-9);
    QVERIFY(p.aspect.text == "between neighbouring cells");
}

void VerifyTest::sparkStepPerContent() {
    Job job = flatJob();
    fill(job, spark, 10, 19);
    job.calibration.of(spark).shape = WeightShape::custom;
    job.calibration.of(spark).customWeight = Curve({0.10, 0.40, 0.50, 0.85}, {0, 0, 1, 1});
    const WorstPlace p = worstOf(*verify(job), "spark.step");
    COMPARE_NEAR(p.value, 0.9, 1e-9); // 9° in ten steps of 1 %
    COMPARE_NEAR(p.margin, (0.5 - 0.9) / 0.5, 1e-9);
}

void VerifyTest::boostOverTheEngine() {
    Job job = flatJob();
    job.engine.boostLimitKpa = Curve({0, 1}, {160, 200});
    const auto v = verify(job);
    COMPARE_NEAR(placeAt(*v, "boost.limit", 0).margin, (160 - 164) / 20.0, 1e-9);
    COMPARE_NEAR(placeAt(*v, "boost.limit", 0.5).margin, (180 - 164) / 20.0, 1e-9);
    QCOMPARE(placeAt(*v, "boost.limit", 1).margin, 1.0);
}

void VerifyTest::boostOverTheSensor() {
    Job job = flatJob();
    job.engine.mapSensorMinKpa = 0;
    job.engine.mapSensorMaxKpa = 170; // 95 % is 161.5, the peak 164
    const WorstPlace p = worstOf(*verify(job), "boost.map_range");
    COMPARE_NEAR(p.limit, 161.5, 1e-9);
    QVERIFY(p.margin < 0 && p.aspect.text == "MAP sensor");
}

void VerifyTest::boostOverTheAxes() {
    Job job = flatJob();
    TwoTable &t = job.calibration.of(spark);
    t.top = Table2D::uniform(t.top.x(), Axis({50, 100, 155}), 15);
    const WorstPlace p = worstOf(*verify(job), "boost.map_range");
    QCOMPARE(p.limit, 155.0);
    QVERIFY(p.margin < 0 && p.aspect.text == "load axis of the tables");
}

void VerifyTest::dutyOfInjectors() {
    Job job = flatJob();
    const double worst = worstOf(*verify(job), "flow.duty").value;
    // Twice the flow halves what is over the dead time.
    const double dead = job.injectors.deadTimeMs * worstOf(*verify(job), "flow.duty").rpm / 120000;
    job.injectors.flowCcMin *= 2;
    COMPARE_NEAR(worstOf(*verify(job), "flow.duty").value - dead, (worst - dead) / 2, 1e-9);
    // What the remedy promises must hold: the named injectors bring the worst place to the caution line.
    job = demoJob();
    const auto v = verify(job);
    const Explanation x =
        rowOf(*v, "flow.duty").check->explain(v->study->evaluation(), worstOf(*v, "flow.duty"));
    job.injectors.flowCcMin = x.change.values[0].value;
    COMPARE_NEAR(worstOf(*verify(job), "flow.duty").value, 0.85, 1e-9);
    QVERIFY(worstOf(*verify(job), "flow.duty").margin >= 1 - 1e-9);
}

void VerifyTest::dutyWithoutPressure() {
    Job job = flatJob();
    job.injectors.boostReferenced = false;
    job.injectors.railPressureKpa = 50; // gone at 151 kPa
    const WorstPlace p = worstOf(*verify(job), "flow.duty");
    QVERIFY(p.margin < 0 && std::isfinite(p.value));
}

void VerifyTest::ownLimitsCountAndAreNamed() {
    Job job = flatJob();
    job.limits["flow.duty.stop"] = 0.31;
    job.limits["flow.duty.caution"] = 0.30;
    QVERIFY(worstOf(*verify(job), "flow.duty").margin < 0);
    QVERIFY(said(checkById("flow.duty")->origin(job)).starts_with("user: flow.duty.caution"));
    QCOMPARE(said(checkById("lambda.lean")->origin(job)), std::string("common practice"));
}

// The demo has flaws on purpose: its injectors end at high content, between the two fuels it gets more spark
// than somebody heard one of them stand, and a corner of the top table is past best spark.
void VerifyTest::verdictOfTheDemo() {
    const auto v = verify(demoJob());
    QCOMPARE(v->holdsRanges.size(), std::size_t{2});
    COMPARE_NEAR(v->holdsRanges[0].first, 0.02, 1e-9);
    COMPARE_NEAR(v->holdsRanges[0].second, 0.29, 1e-9);
    COMPARE_NEAR(v->holdsRanges[1].first, 0.53, 1e-9);
    COMPARE_NEAR(v->holdsRanges[1].second, 0.74, 1e-9);
    QCOMPARE(rowOf(*v, "spark.ceiling").state, CheckState::failing);
    QCOMPARE(rowOf(*v, "spark.best").state, CheckState::failing);
    QCOMPARE(rowOf(*v, "content.freeze").state, CheckState::held);
    QCOMPARE(rowOf(*v, "flow.duty").state, CheckState::failing);
    for (std::string_view id :
         {"lambda.lean", "lambda.rich", "spark.monotone", "spark.step", "boost.limit", "boost.map_range"})
        QCOMPARE(rowOf(*v, id).state, CheckState::held);
}

// Each of them silent without its data, right at its limit, and failing past it by a known amount.
void VerifyTest::checksOfTheCorrections() {
    Job job = flatJob();
    fill(job, spark, 20, 20);
    const auto extra = [&](TableKind kind, Axis x, Axis y, std::vector<double> cells) {
        job.extras.push_back(
            {kind, std::to_string(job.extras.size()), Table2D(std::move(x), std::move(y), std::move(cells))});
        return job.extras.size() - 1;
    };
    const auto judged = [&](const char *id) { return worstOf(*verify(job), id); };
    const std::size_t ceiling = extra(TableKind::sparkCeiling, Axis({3000}), Axis({100}), {22});
    job.extras[extra(TableKind::sparkCeiling, Axis({3000}), Axis({100}), {24})].content = 1;
    COMPARE_NEAR(judged("spark.ceiling").limit, 21, 1e-9); // the worst is at no alcohol
    COMPARE_NEAR(judged("spark.ceiling").margin, 1, 1e-9);
    job.extras[ceiling].table.setCell({0, 0}, 19);
    COMPARE_NEAR(judged("spark.ceiling").margin, -2, 1e-9); // 20 against 19 less a degree
    const std::size_t fallback = extra(TableKind::sparkFallback, Axis({1000}), Axis({100}), {14});
    COMPARE_NEAR(judged("spark.fallback").margin, 1, 1e-9);
    job.extras[fallback].table.setCell({0, 0}, 21);
    COMPARE_NEAR(judged("spark.fallback").margin, -0.5, 1e-9);
    job.extras[fallback].table.setCell({0, 0}, 14);
    job.sparkDelivery.knockControl = false;
    QVERIFY(judged("spark.fallback").margin < 0);
    const double usual = job.conditions.intakeUsualC;
    job.sparkDelivery.intakeHotC = usual + 20;
    const std::size_t air =
        extra(TableKind::sparkIntake, Axis({usual - 10, usual, usual + 20}), Axis({100}), {0, -1, -4});
    COMPARE_NEAR(judged("correct.steals").value, 1, 1e-9);
    QVERIFY(judged("correct.protect").margin < 0); // air does, but no table takes spark for the coolant
    extra(TableKind::sparkCoolant, Axis({60, 90, 105}), Axis({0}), {0, 0, -3});
    COMPARE_NEAR(judged("correct.protect").margin, 1, 1e-9);
    job.extras[air].table.setCell({2, 0}, -1);
    QVERIFY(judged("correct.protect").margin < 0);
    job.extras[air].table.setCell({1, 0}, -2.5);
    COMPARE_NEAR(judged("correct.steals").margin, -0.25, 1e-9);
    const std::size_t again = extra(TableKind::fuelContent, Axis({0, 1}), Axis({0}), {0, 0.43});
    // The handbook's size of it: pure alcohol's need corrected twice.
    COMPARE_NEAR(judged("correct.double").value, 0.43, 1e-9);
    job.extras[again].table.setCell({1, 0}, 0);
    COMPARE_NEAR(judged("correct.double").margin, 1, 1e-9);
    const std::size_t start =
        extra(TableKind::cranking, Axis({-20, 20, 80}), Axis({0, 1}), {3, 2, 1, 6, 3, 1.2});
    QVERIFY(judged("start.cold").margin > 0);
    job.extras[start].table.setCell({0, 1},
                                    2.9); // −20 °C on alcohol: less than on gasoline and than at 20 °C
    QVERIFY(judged("start.cold").margin < 0);
    job.sparkDelivery.baseTimingChecked = true;
    job.sparkDelivery.baseTimingErrorDeg = -1.5;
    COMPARE_NEAR(judged("base.timing").margin, -0.5, 1e-9);
}

void VerifyTest::checksOfTheSensor() {
    Job job = flatJob();
    job.contentSensing.slewPerS = 0.03;
    COMPARE_NEAR(worstOf(*verify(job), "content.slew").margin, -1, 1e-9);
    fill(job, fuel, 80, 80);
    // Equal tables that hold the multiplier know no content: any fault gives the fuel that was right before.
    job.contentSensing.onFault = SensorFaultRule::fixedContent;
    COMPARE_NEAR(worstOf(*verify(job), "content.sensor_fault").margin, 1, 1e-9);
    // True VE: the model falls back to gasoline while the tank holds alcohol, and K(E) is missing.
    job.calibration.fuelMeaning = FuelMeaning::trueVe;
    const BlendModel model = blendModelOf(job);
    const WorstPlace lost = placeAt(*verify(job), "content.sensor_fault", 0.85);
    COMPARE_NEAR(lost.value, model.volumeMultiplier(blendAt(job, 0.85), {}) - 1, 1e-9);
    QVERIFY(lost.margin < 0 && lost.aspect.text == "signal lost");
    const WorstPlace zero = placeAt(*verify(job), "content.sensor_fault", 0.5);
    QVERIFY(zero.margin < 0);
    job.contentSensing.onFault = SensorFaultRule::holdLast;
    // Readings that are believed: nothing, until they are implausible; stuck, until somebody compares.
    QCOMPARE(placeAt(*verify(job), "content.sensor_fault", 0.85).aspect.text, std::string_view("reads 0 %"));
    job.contentSensing.plausibleLeast = 0.02;
    job.contentSensing.plausibleMost = 0.98;
    const WorstPlace stuck = placeAt(*verify(job), "content.sensor_fault", 0.85);
    QCOMPARE(stuck.aspect.text, std::string_view("stuck"));
    COMPARE_NEAR(stuck.value,
                 model.volumeMultiplier(blendAt(job, 0.85), blendAt(job, job.calibration.baseContent)) - 1,
                 1e-9);
    job.contentSensing.comparedAfterFill = true;
    COMPARE_NEAR(placeAt(*verify(job), "content.sensor_fault", 0.85).value,
                 model.volumeMultiplier(blendAt(job, 0.85), blendAt(job, 0.75)) - 1, 1e-9);
    // A set of files: each content by the file whose window is nearest.
    job.calibration.fuelMeaning = FuelMeaning::contentReferencedVe;
    Job set = convertSchool(job, {School::windowSet, {0.1, 0.85}, 0.03}).job;
    QVERIFY(placeAt(*verify(set), "content.window", 0.5).margin < 0);
    COMPARE_NEAR(placeAt(*verify(set), "content.window", 0.85).margin, 1, 1e-9);
    QVERIFY(placeAt(*verify(set), "content.window", 1.0).margin > 0); // nobody sells that: not asked
    COMPARE_NEAR(placeAt(*verify(set), "content.window", 0.86).value, lambdaOfFileOn(set, 0.85, 0.86) - 1,
                 1e-9);
}

// Spark over what a log has proven: only above the proven load, only near the content that was proven.
void VerifyTest::unprovenSparkStaysUnderTheProven() {
    Job job = flatJob();
    const auto id = "spark.unproven";
    QVERIFY(std::ranges::none_of(verify(job)->rows, [&](const auto &r) { return r.check->id == id; }));
    Table2D &t = job.calibration.of(spark).base;
    Job before = job;
    const std::size_t proven = 4;
    for (std::size_t x = 0; x < t.x().size(); ++x)
        t.setCell({x, proven}, t.cell(x, proven) - 1);
    recordOrigins(before, job, CellOrigin::log);
    // The cells above still hold what they held: one degree more than was proven.
    const double base = job.calibration.baseContent;
    const WorstPlace over = placeAt(*verify(job), id, base);
    COMPARE_NEAR(over.margin, -1, 1e-9);
    QVERIFY(over.loadKpa > t.y()[proven]);
    COMPARE_NEAR(over.value - over.limit, 1, 1e-9);
    // Far from what was proven it is not asked and not judged; a table that logs have corrected is at hand,
    // so it is nothing to be found out either.
    const auto verdict = verify(job);
    const Verdict::Row &row = rowOf(*verdict, id);
    QVERIFY(!placeAt(*verdict, id, 0.5).asked && over.asked);
    QCOMPARE(row.byContent[sliceNearest(*verdict, 0.5)], CheckState::notJudged);
    QCOMPARE(row.byContent[sliceNearest(*verdict, base)], CheckState::failing);
    QVERIFY(std::ranges::none_of(verdict->next, [](const Need *n) { return n->id == "proven_spark"; }));
    const auto stretches = openStretches(*verdict);
    const auto open = std::ranges::find(stretches, row.check, &OpenStretch::check);
    QVERIFY(open != stretches.end() && open->missing.size() == 1 && open->missing[0]->id == "proven_spark");
    // The same where nothing is wrong: the place of the row is one that was asked about.
    Job lower = job;
    for (std::size_t y = proven + 1; y < t.y().size(); ++y)
        for (std::size_t x = 0; x < t.x().size(); ++x)
            lower.calibration.of(spark).base.setCell({x, y}, t.cell(x, proven) - 60);
    QVERIFY(worstOf(*verify(lower), id).asked && worstOf(*verify(lower), id).uncapped > 1);
    // Two degrees more at the next load, as a step of a search that no log has run: it proves nothing yet.
    Job searched = job;
    Table2D &stepped = searched.calibration.of(spark).base;
    for (std::size_t x = 0; x < t.x().size(); ++x) {
        stepped.setCell({x, proven + 1}, t.cell(x, proven) + 2);
        searched.sparkSearches.push_back(
            {t.x()[x], t.y()[proven + 1], base, SearchPhase::raiseOne, 1, 0, 0, 0, "aa"});
    }
    recordOrigins(job, searched, CellOrigin::log);
    const WorstPlace step = placeAt(*verify(searched), id, base);
    COMPARE_NEAR(step.value - step.limit, 2, 1e-9);
    QCOMPARE(step.loadKpa, t.y()[proven + 1]);
    // Run once without knock it does, and what is above it is held against it.
    for (std::size_t i = 0; i < searched.sparkSearches.size(); ++i)
        searched.sparkSearches[i].clean = 1;
    QVERIFY(placeAt(*verify(searched), id, base).margin > 0);
    before = job;
    for (std::size_t y = proven + 1; y < t.y().size(); ++y)
        for (std::size_t x = 0; x < t.x().size(); ++x)
            t.setCell({x, y}, t.cell(x, proven) - 1);
    recordOrigins(before, job, CellOrigin::typed);
    QVERIFY(placeAt(*verify(job), id, base).margin >= 0);
}

// Between two levels that logs have corrected the one that was driven to more load counts, whichever comes
// first.
void VerifyTest::theLaterOfTwoProvenTables() {
    for (const bool firstLater : {true, false}) {
        Job job = flatJob();
        job.calibration.school = School::stack;
        for (const double content : {0.10, 0.14}) {
            ContentLevel level;
            level.content = content;
            for (const CalibratedQuantity q : allQuantities)
                level.of(q) = job.calibration.of(q).base;
            job.calibration.levels.push_back(level);
        }
        const Job before = job;
        double later = 0;
        for (std::size_t l = 0; l < 2; ++l) {
            Table2D &t = job.calibration.levels[l].of(spark);
            const std::size_t row = (l == 0) == firstLater ? 6 : 3;
            later = std::max(later, t.y()[row]);
            for (std::size_t x = 0; x < t.x().size(); ++x)
                t.setCell({x, row}, t.cell(x, row) - 2 - static_cast<double>(l));
        }
        recordOrigins(before, job, CellOrigin::log);
        const WorstPlace worst = placeAt(*verify(job), "spark.unproven", 0.12);
        QVERIFY(worst.asked && worst.loadKpa > later);
        COMPARE_NEAR(worst.limit, firstLater ? 13 : 12, 1e-9);
    }
}

void VerifyTest::guardedSettingsComeBack() {
    Job job = demoJob();
    keepRevision(job, "draft", "", "", false);
    QVERIFY(std::ranges::none_of(verify(job)->rows,
                                 [](const Verdict::Row &r) { return r.check->id == "guard.settings"; }));
    keepRevision(job, "sent", "", "", true);
    COMPARE_NEAR(worstOf(*verify(job), "guard.settings").margin, 1, 1e-9);
    Table2D &t = job.calibration.of(spark).base;
    t.setCell({0, 0}, t.cell(0, 0) - 1); // a cell is what a tuner changes: not guarded
    COMPARE_NEAR(worstOf(*verify(job), "guard.settings").margin, 1, 1e-9);
    job.sparkDelivery.knockControl = false;
    job.injectors.deadTimeMs += 0.1;
    COMPARE_NEAR(worstOf(*verify(job), "guard.settings").value, 2, 1e-9);
    const auto verdict = verify(job);
    const Verdict::Row &row = rowOf(*verdict, "guard.settings");
    QCOMPARE(row.check->explain(verdict->study->evaluation(), row.outcome.worst()).inputs.size(),
             std::size_t{2});
}

// Each of the checks of the fuel system, boost control and spray: silent without data, clear with good data,
// failing at the contents where the hardware ends, at a place that its own working confirms.
void VerifyTest::checksOfTheHardware() {
    const auto verdictOf = [](auto change) {
        Job job = demoJob();
        change(job);
        validate(job);
        return verify(job);
    };
    const auto silent = verdictOf([](Job &j) {
        j.supply = {};
        j.boost = {};
        j.injectors.linearMinMs = 0;
        j.extras.clear();
        j.sparkDelivery = {};
        j.contentSensing = {};
    });
    for (const std::string_view id :
         {"spark.ceiling", "base.timing", "boost.spring", "boost.cut", "flow.pump", "flow.min_pulse",
          "content.freeze", "content.sensor_fault", "content.slew"})
        QVERIFY2(std::ranges::find(silent->notJudged, checkById(id)) != silent->notJudged.end(), id.data());
    QVERIFY(says(notJudged(*silent), "the spring has not been measured"));
    for (const QuestionId open :
         {QuestionId::knock, QuestionId::boost, QuestionId::fuelSupply, QuestionId::sensor})
        QVERIFY(answerTo(*silent, open)->state >= CheckState::notJudged);
    QCOMPARE(answerTo(*silent, QuestionId::mixture)->state, CheckState::held);

    const auto weak = verdictOf([](Job &j) {
        for (PumpPoint &p : j.supply.points)
            p.flowLMin *= 0.8;
        j.supply.freezeLoadKpa = 0;
    });
    QCOMPARE(rowOf(*weak, "flow.pump").state, CheckState::failing);
    QCOMPARE(rowOf(*weak, "content.freeze").state, CheckState::failing);
    const WorstPlace &pump = rowOf(*weak, "flow.pump").outcome.worst();
    const Job &w = weak->study->evaluation().job();
    const BlendedPoint point = blendedPoint(Study(w), {pump.content, pump.rpm, pump.loadKpa});
    const DutyWorking asked = dutyAt(w, pump.content, w.conditions.intakeColdestC, pump.rpm, pump.loadKpa,
                                     point.fuel, point.lambda);
    const double demand = asked.fuelMm3 * w.engine.cylinders * pump.rpm / 2 * 1e-6 * (1 + w.supply.margin);
    const double flow = pumpFlowLMin(w.supply.points, w.supply.pumps, w.supply.volts,
                                     300 + pump.loadKpa - w.conditions.ambientKpa);
    COMPARE_NEAR(pump.value, demand / flow, 1e-6);

    const auto large = verdictOf([](Job &j) { j.injectors.flowCcMin = 2500; });
    const WorstPlace &pulse = rowOf(*large, "flow.min_pulse").outcome.worst();
    QCOMPARE(rowOf(*large, "flow.min_pulse").state, CheckState::failing);
    QVERIFY(pulse.loadKpa >= 30 && pulse.value < 1.35); // overrun is not asked about

    const auto soft = verdictOf([](Job &j) { j.boost.springKpa = 40; });
    QCOMPARE(rowOf(*soft, "boost.spring").state, CheckState::failing);
    const auto stiff = verdictOf([](Job &j) { j.boost.springKpa = 100; });
    QVERIFY(rowOf(*stiff, "boost.spring").outcome.worst().aspect.text == "under the spring");
    const auto near = verdictOf([](Job &j) { j.boost.cutKpa = 245; });
    QCOMPARE(rowOf(*near, "boost.cut").state, CheckState::failing);
    COMPARE_NEAR(rowOf(*near, "boost.cut").outcome.worst().limit, 240 + 10.342, 0.01);
    const auto blind = verdictOf([](Job &j) { j.boost.cutKpa = 320; });
    QVERIFY(rowOf(*blind, "boost.cut").outcome.worst().aspect.text == "beyond the MAP sensor");

    const auto spray = [](Job &j) {
        j.aux.fitted = true;
        j.aux.spray = {600, 700, 700, 1, 150, 180};
    };
    const auto lost = verdictOf(spray);
    QCOMPARE(rowOf(*lost, "aux.loss").state, CheckState::failing);
    const auto caught = verdictOf([&](Job &j) {
        spray(j);
        j.aux.failSafe = SprayFailSafe::boostCut;
    });
    QCOMPARE(rowOf(*caught, "aux.loss").state, CheckState::held);
    const auto untrimmed = verdictOf([&](Job &j) {
        spray(j);
        j.aux.trimmed = false;
    });
    QCOMPARE(rowOf(*untrimmed, "aux.loss").state, CheckState::held);

    Job boat = demoJob();
    boat.control = FuelControl::mechanical;
    const auto mechanical = verify(boat);
    QCOMPARE(mechanical->rows.size(), std::size_t{1});
    QVERIFY(mechanical->notJudged.empty());
    QCOMPARE(answerTo(*mechanical, QuestionId::knock)->state, CheckState::notJudged);
    QVERIFY(!answered(*mechanical) && !answerTo(*mechanical, QuestionId::sensor));
    for (const auto &v : {silent, weak, large, soft, stiff, near, blind, lost, caught, mechanical})
        for (const Verdict::Row &row : v->rows) {
            const Explanation x = row.check->explain(v->study->evaluation(), row.outcome.worst());
            QVERIFY(!x.title.empty() && format(x.change, UnitChoice{}).find('{') == std::string::npos);
        }
}

void VerifyTest::verdictInWords() {
    const std::string words = said(inWords(*verify(demoJob())));
    for (const char *part : {"Holds every judged limit from E2 to E29 and from E53 to E74.",
                             "Up to E1: fuel for content (worst ", "; from E91 fuel for content",
                             "From E30 to E52: spark ceiling (worst 12.4° at 4000 rpm, 220 kPa, E40)",
                             "From E75 to E85: injector duty (worst ", " rpm, 248 kPa, E85)",
                             "The tables were never made for this. From E53 to E74, caution: "})
        QVERIFY2(words.find(part) != std::string::npos, words.c_str());
    Job hopeless = flatJob();
    fill(hopeless, lambda, 1.3, 1.3);
    const std::string none = said(inWords(*verify(hopeless)));
    QVERIFY2(none.starts_with("Holds its limits at no content. "), none.c_str());
    UnitChoice psi;
    psi.pressureUnit = "psi_g";
    QVERIFY(format(inWords(*verify(demoJob())), psi).find("psi gauge") != std::string::npos);
}

void VerifyTest::cancelledRunsGiveNothing() {
    std::stop_source stop;
    const auto study = std::make_shared<const Study>(flatJob());
    QVERIFY(verify(study, {}, stop.get_token()));
    stop.request_stop();
    QVERIFY(!verify(study, {}, stop.get_token()));
}

CORE_TEST_MAIN(VerifyTest)
#include "verify_test.moc"
