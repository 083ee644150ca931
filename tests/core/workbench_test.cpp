// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/error.h"
#include "core/flow/engine_air.h"
#include "core/job/job_schema.h"
#include "core/study/cell_trust.h"
#include "core/study/content_curve.h"
#include "core/study/evaluation.h"
#include "core/study/headroom.h"
#include "core/study/job_template.h"
#include "core/study/load_axis.h"
#include "core/study/school_conversion.h"
#include "core/verify/verdict.h"
#include "support/random_job.h"
#include "support/test_main.h"

#include <algorithm>
#include <random>

using namespace wheelwright;
using namespace wheelwright::testing;

namespace {

const std::string sparkBase = "calibration.spark.base";

Table2D &baseOf(Job &job) {
    return job.calibration.of(CalibratedQuantity::spark).base;
}

// One for each cell, where nothing is recorded too.
std::vector<CellOrigin> originsOf(const Table2D &table) {
    return table.origins().empty() ? std::vector<CellOrigin>(table.cells().size(), CellOrigin::unknown)
                                   : table.origins();
}

std::vector<CellOrigin> originsOfBase(const Job &job) {
    return originsOf(job.calibration.of(CalibratedQuantity::spark).base);
}

std::size_t countOf(const std::vector<CellOrigin> &origins, CellOrigin wanted) {
    return static_cast<std::size_t>(std::ranges::count(origins, wanted));
}

// An engine of 2.4 L and five cylinders with tables over throttle: a bent curve from throttle to pressure.
Job throttleJob() {
    Job job = demoJob();
    job.engine.throttleKpa = Curve({0, 20, 60, 100}, {15, 60, 180, 290});
    return changeLoadAxis(job, LoadAxis::throttle);
}

} // namespace

/// Where cells come from and what locks them, other load axes, curves over content, templates.
class WorkbenchTest : public QObject {
    Q_OBJECT
  private slots:
    void originsAreRunLengths();
    void everyEditLeavesItsOrigin();
    void originsFollowNewBreakpoints();
    void originsOfRandomEditsMatchACellByCellCount();
    void lockedCellsStay();
    void marksGoWhenEmpty();
    void trustKnowsWhereTheEngineGoes();
    void airMassIsTheIdealGas();
    void anotherLoadAxisIsTheSameEngine_data();
    void anotherLoadAxisIsTheSameEngine();
    void throttleNeedsACurveThatRises();
    void boostByGear();
    void curveKeepsItsEndsAndItsDirection();
    void curveShowsWhatWasMeasured();
    void curveOfTheFuelModel();
    void templateIsModestAndMarked_data();
    void templateIsModestAndMarked();
    void templateKnowsItsTorquePeak();
    void templateRefusesWhatIsNoEngine();
};

void WorkbenchTest::originsAreRunLengths() {
    using enum CellOrigin;
    const std::vector<CellOrigin> origins{typed, typed, typed, unknown, log, log};
    QCOMPARE(originsToText(origins), std::string("3t1?2l"));
    QVERIFY(originsFromText("3t1?2l") == origins);
    QVERIFY(originsFromText("ttt?ll") == origins); // a letter each cell says the same
    EXPECT_INPUT_ERROR(originsFromText("3x", "here"), "here", "'x'");
    EXPECT_INPUT_ERROR(originsFromText("99999999999999999999t1t", "here"), "4096");
    Job job = demoJob();
    EXPECT_INPUT_ERROR(setOriginText(job, sparkBase, "3y", "calibration.origins 1 codes"),
                       "calibration.origins", "'y'");
    setOriginText(job, sparkBase, "3t", "here"); // of a table of other axes
    QVERIFY(baseOf(job).origins().empty());
    setOriginText(job, "calibration.levels.0.9.spark", "3t", "here"); // of none
    setOriginText(job, sparkBase, "1t" + std::to_string(baseOf(job).cells().size() - 1) + "?", "here");
    QVERIFY(baseOf(job).origin({0, 0}) == typed && baseOf(job).origin({1, 0}) == unknown);
}

void WorkbenchTest::everyEditLeavesItsOrigin() {
    const Job before = demoJob();
    Job after = before;
    baseOf(after).setCell({2, 3}, 11);
    recordOrigins(before, after, CellOrigin::typed);
    const auto origins = originsOfBase(after);
    QCOMPARE(countOf(origins, CellOrigin::typed), std::size_t{1});
    QVERIFY(origins[3 * baseOf(after).x().size() + 2] == CellOrigin::typed);
    QCOMPARE(originTexts(after).size(), originTexts(before).size() + 1); // untouched tables keep theirs
    validate(after);
    // The next edit keeps what it does not touch.
    Job third = after;
    baseOf(third).setCell({4, 4}, 12);
    recordOrigins(after, third, CellOrigin::log);
    QCOMPARE(countOf(originsOfBase(third), CellOrigin::typed), std::size_t{1});
    QCOMPARE(countOf(originsOfBase(third), CellOrigin::log), std::size_t{1});
    // Levels that a conversion makes are the model's, and their records go when the levels go.
    Job stack = convertSchool(third, {School::stack, {0.1, 0.5, 0.85}, 0.03}).job;
    recordOrigins(third, stack, CellOrigin::model);
    QVERIFY(std::ranges::any_of(originTexts(stack), [](const auto &o) {
        return o.first == "calibration.levels.0.5.spark" && o.second.ends_with("m");
    }));
    Job back = stack;
    back.calibration.levels.clear();
    back.calibration.school = School::twoTables;
    recordOrigins(stack, back, CellOrigin::model);
    QVERIFY(originTexts(back) == originTexts(third));
}

void WorkbenchTest::originsFollowNewBreakpoints() {
    Job job = demoJob();
    Table2D &t = baseOf(job);
    const Job before = job;
    t.setCell({1, 1}, 13);
    recordOrigins(before, job, CellOrigin::log);
    Job finer = job;
    std::vector<double> x = t.x().points();
    x.insert(x.begin() + 1, (x[0] + x[1]) / 2);
    baseOf(finer) = regrid(t, Axis(x), t.y()).table;
    recordOrigins(job, finer, CellOrigin::interpolated);
    const auto origins = originsOfBase(finer);
    QCOMPARE(countOf(origins, CellOrigin::log), std::size_t{1});
    QVERIFY(origins[1 * x.size() + 2] == CellOrigin::log); // it moved with its breakpoint
    QCOMPARE(countOf(origins, CellOrigin::interpolated), t.y().size());
}

// A second method: a plain array of origins kept beside the job, cell by cell.
void WorkbenchTest::originsOfRandomEditsMatchACellByCellCount() {
    std::mt19937 random(21);
    Job job = demoJob();
    const std::size_t columns = baseOf(job).x().size(), cells = baseOf(job).cells().size();
    std::vector<CellOrigin> kept(cells, CellOrigin::unknown);
    for (int round = 0; round < 300; ++round) {
        Job after = job;
        const auto how = static_cast<CellOrigin>(1 + random() % 6);
        for (unsigned n = random() % 8; n > 0; --n) {
            const std::size_t at = random() % cells;
            const double value = 5 + static_cast<double>(random() % 40) / 2;
            if (baseOf(after).cells()[at] == value || baseOf(job).cells()[at] == value) continue;
            baseOf(after).setCell({at % columns, at / columns}, value);
            // What is worked out of a guess is one still.
            const bool arithmetic = how == CellOrigin::interpolated || how == CellOrigin::model;
            const auto before = originsOfBase(job)[at];
            kept[at] = arithmetic && before == CellOrigin::estimated ? CellOrigin::estimated : how;
        }
        recordOrigins(job, after, how);
        job = std::move(after);
    }
    QVERIFY(originsOfBase(job) == kept);
}

void WorkbenchTest::lockedCellsStay() {
    Job job = demoJob();
    setLocked(job, sparkBase, baseOf(job), {{1, 1}, {2, 1}}, true);
    validate(job);
    const std::vector<bool> locks = locksOf(job, sparkBase, baseOf(job));
    QCOMPARE(std::ranges::count(locks, true), 2);
    const double content = (job.calibration.baseContent + job.calibration.topContent) / 2;
    QVERIFY(locksOfBlend(Study(job), CalibratedQuantity::spark, content) == locks);
    QCOMPARE(unlocked({{1, 1}, {3, 1}}, locks, baseOf(job)).size(), std::size_t{1});
    Job after = job;
    for (double v = 1; const CellIndex &i : cellsOf({{0, 0}, {3, 3}}, baseOf(after)))
        baseOf(after).setCell(i, v++);
    keepLocked(job, after);
    QCOMPARE(baseOf(after).cell(1, 1), baseOf(job).cell(1, 1));
    QCOMPARE(baseOf(after).cell(2, 1), baseOf(job).cell(2, 1));
    QCOMPARE(baseOf(after).cell(0, 1), 2.0);
    // On other breakpoints nothing can be kept, and nothing is.
    baseOf(after) = Table2D::uniform(Axis({1000, 2000}), Axis({50, 100}), 7);
    keepLocked(job, after);
    QCOMPARE(baseOf(after).cell(0, 0), 7.0);
}

void WorkbenchTest::marksGoWhenEmpty() {
    Job job = demoJob();
    const double rpm = baseOf(job).x()[2], load = baseOf(job).y()[2];
    setNote(job, sparkBase, rpm, load, "knock");
    QCOMPARE(markAt(job, sparkBase, rpm, load)->note, std::string("knock"));
    setLocked(job, sparkBase, baseOf(job), {{2, 2}}, true);
    QCOMPARE(job.cellMarks.size(), std::size_t{1}); // one mark for both
    setNote(job, sparkBase, rpm, load, "");
    QVERIFY(markAt(job, sparkBase, rpm, load)->locked);
    setLocked(job, sparkBase, baseOf(job), {{2, 2}}, false);
    QVERIFY(job.cellMarks.empty());
}

// Reach by hand: the target and its overshoot, the surrounding air, the rev limit.
void WorkbenchTest::trustKnowsWhereTheEngineGoes() {
    Job job = demoJob();
    const double content = job.calibration.baseContent;
    const Job before = job;
    baseOf(job).setCell({3, 2}, baseOf(job).cell(3, 2) + 0.5);
    recordOrigins(before, job, CellOrigin::log);
    const Study study(job);
    const auto trust = Provenance(study, CalibratedQuantity::spark, content, TableEnd::low).trust();
    const Table2D &t = baseOf(job);
    const Table2D &boost = job.calibration.of(CalibratedQuantity::boost).base;
    constexpr double overshoot = 14; // shipped limit boost.overshoot
    for (std::size_t y = 0; y < t.y().size(); ++y)
        for (std::size_t x = 0; x < t.x().size(); ++x) {
            double reach = job.conditions.ambientKpa;
            for (const double row : boost.y().points())
                reach = std::max(reach, boost.lookup(t.x()[x], row).value + overshoot);
            const bool there = t.y()[y] <= reach && t.x()[x] <= job.engine.revLimitRpm;
            const CellTrust expected = !there             ? CellTrust::never
                                       : x == 3 && y == 2 ? CellTrust::seen
                                                          : CellTrust::inferred;
            QVERIFY(trust[y * t.x().size() + x] == expected);
        }
    // What the engine gets is proven only where both ends are.
    const auto now = Provenance(study, CalibratedQuantity::spark, 0.5, TableEnd::blended).trust();
    QVERIFY(std::ranges::find(now, CellTrust::seen) == now.end());
}

// Ideal gas by hand: 0.48 L at 100 kPa and 313.15 K is 534.0 mg (R = 287.05 J/(kg K)).
void WorkbenchTest::airMassIsTheIdealGas() {
    Job job = demoJob();
    job.engine.displacementL = 2.4;
    job.engine.cylinders = 5;
    job.conditions.intakeUsualC = 40;
    job.calibration.loadAxis = LoadAxis::airMass;
    COMPARE_NEAR(axisOfLoad(job, 100), 100e3 * 0.48e-3 / (287.05 * 313.15) * 1e6, 1e-6);
    COMPARE_NEAR(axisOfLoad(job, 100), 534.0, 0.05);
    for (const double kpa : {20.0, 101.3, 250.0})
        COMPARE_NEAR(loadOfAxis(job, axisOfLoad(job, kpa)), kpa, 1e-9);
}

void WorkbenchTest::anotherLoadAxisIsTheSameEngine_data() {
    QTest::addColumn<int>("axis");
    QTest::newRow("air mass") << static_cast<int>(LoadAxis::airMass);
    QTest::newRow("throttle") << static_cast<int>(LoadAxis::throttle);
}

// The same calibration on another axis: every point at the breakpoints, the verdict, the frontier, and back.
void WorkbenchTest::anotherLoadAxisIsTheSameEngine() {
    QFETCH(int, axis);
    Job job = demoJob();
    // Straight from throttle to pressure, so that lines between breakpoints are the same lines.
    job.engine.throttleKpa = Curve({0, 100}, {10, 300});
    const Job other = changeLoadAxis(job, static_cast<LoadAxis>(axis));
    QCOMPARE(tableIn(other, CalibratedQuantity::spark, false).y.key,
             std::string(axis == static_cast<int>(LoadAxis::airMass) ? "air_mass_mg" : "throttle_percent"));
    std::mt19937 random(4);
    std::uniform_real_distribution<> rpm(500, 7500), load(20, 280), content(0, 1);
    for (int i = 0; i < 200; ++i) {
        const double c = content(random), r = rpm(random), l = load(random);
        const BlendedPoint a = blendedPoint(Study(job), {c, r, l}), b = blendedPoint(Study(other), {c, r, l});
        COMPARE_NEAR(a.sparkDeg, b.sparkDeg, 1e-9);
        COMPARE_NEAR(a.fuel, b.fuel, 1e-9);
        COMPARE_NEAR(a.lambda, b.lambda, 1e-12);
    }
    const auto one = verify(job), two = verify(other);
    QCOMPARE(one->rows.size(), two->rows.size());
    for (std::size_t i = 0; i < one->rows.size(); ++i)
        for (std::size_t c = 0; c < one->contents.size(); ++c)
            COMPARE_NEAR(one->rows[i].outcome.byContent[c].margin, two->rows[i].outcome.byContent[c].margin,
                         1e-6);
    const Frontier f = frontier(Study(job), 5), g = frontier(Study(other), 5);
    for (std::size_t i = 0; i < f.lines.size(); ++i)
        for (std::size_t c = 0; c < f.contents.size(); ++c)
            COMPARE_NEAR(f.lines[i].kpa[c], g.lines[i].kpa[c], 0.05);
    const Job back = changeLoadAxis(other, LoadAxis::manifoldPressure);
    for (std::size_t i = 0; i < baseOf(job).y().size(); ++i) {
        Job b = back;
        COMPARE_NEAR(baseOf(b).y()[i], baseOf(job).y()[i], 1e-9);
    }
}

void WorkbenchTest::throttleNeedsACurveThatRises() {
    Job job = throttleJob();
    // Between its breakpoints a table over throttle is straight in throttle, also across a bend of the curve.
    const Job pressure = inPressure(job);
    for (const double throttle : {5.0, 20.0, 33.0, 60.0, 77.0}) {
        const double kpa = job.engine.throttleKpa.at(throttle);
        const double there = job.calibration.of(CalibratedQuantity::spark).base.lookup(3300, throttle).value;
        COMPARE_NEAR(pressure.calibration.of(CalibratedQuantity::spark).base.lookup(3300, kpa).value, there,
                     1e-9);
        COMPARE_NEAR(blendedPoint(Study(job), {job.calibration.baseContent, 3300, kpa}).sparkDeg, there,
                     1e-9);
    }
    job.engine.throttleKpa = Curve({0, 50, 100}, {30, 90, 90});
    EXPECT_INPUT_ERROR(validate(job), "engine.throttle_kpa point 3", "more pressure");
    Job high = demoJob(); // a curve that ends under the table's loads cannot tell their rows apart
    EXPECT_INPUT_ERROR(changeLoadAxis(high, LoadAxis::throttle), "load");
}

void WorkbenchTest::boostByGear() {
    const Job job = demoJob();
    const Job gears = changeBoostAxis(job, BoostAxis::gear);
    QCOMPARE(tableIn(gears, CalibratedQuantity::boost, false).y.key, std::string("gear"));
    const Table2D &t = gears.calibration.of(CalibratedQuantity::boost).top;
    QCOMPARE(t.y().points(), std::vector<double>({1, 2, 3, 4, 5, 6}));
    const Table2D &was = job.calibration.of(CalibratedQuantity::boost).top;
    for (std::size_t x = 0; x < t.x().size(); ++x)
        QCOMPARE(t.cell(x, 3), was.cell(x, was.y().size() - 1));
    // A gear with more is where the engine goes.
    Job higher = gears;
    Table2D &top = higher.calibration.of(CalibratedQuantity::boost).top;
    for (std::size_t x = 0; x < top.x().size(); ++x)
        top.setCell({x, 2}, top.cell(x, 2) + 20);
    const double content = job.calibration.topContent;
    COMPARE_NEAR(boostTargets(Study(higher), {content})[0], boostTargets(Study(job), {content})[0] + 20,
                 1e-9);
    const Table2D back =
        changeBoostAxis(higher, BoostAxis::throttle).calibration.of(CalibratedQuantity::boost).top;
    QCOMPARE(back.cell(4, 0), top.cell(4, 2));
}

void WorkbenchTest::curveKeepsItsEndsAndItsDirection() {
    Job job = demoJob();
    constexpr auto q = CalibratedQuantity::spark;
    const ContentCurve physical = *contentCurve(job, q);
    QVERIFY(physical.points.empty() && physical.evidence.empty() && !physical.correction);
    makeOwnCurve(job, q);
    validate(job);
    // Straight pieces between points of the default stay near it.
    const ContentCurve own = *contentCurve(job, q);
    for (std::size_t i = 0; i < own.used.size(); ++i)
        COMPARE_NEAR(own.used[i].value, physical.used[i].value, 0.03);
    QCOMPARE(own.points.front().value, 0.0);
    QCOMPARE(own.points.back().value, 1.0);
    moveCurvePoint(job, q, 2, {0.99, 5}); // held before its neighbour, and not over it
    const ContentCurve held = *contentCurve(job, q);
    COMPARE_NEAR(held.points[2].content, held.points[3].content - 0.01, 1e-12);
    QCOMPARE(held.points[2].value, held.points[3].value);
    addCurvePoint(job, q, 0.15);
    QCOMPARE(contentCurve(job, q)->points.size(), own.points.size() + 1);
    addCurvePoint(job, q, 0.152); // too near to another
    addCurvePoint(job, q, 0.95);  // beyond what was calibrated
    QCOMPARE(contentCurve(job, q)->points.size(), own.points.size() + 1);
    removeCurvePoint(job, q, 1);
    EXPECT_INPUT_ERROR(moveCurvePoint(job, q, 0, {0.2, 0.2}), "inner points");
    EXPECT_INPUT_ERROR(removeCurvePoint(job, q, 99), "inner points");
    // Random drags never make it fall.
    std::mt19937 random(8);
    std::uniform_real_distribution<> any(-0.5, 1.5);
    for (int i = 0; i < 200; ++i) {
        const std::size_t count = contentCurve(job, q)->points.size();
        moveCurvePoint(job, q, 1 + random() % (count - 2), {any(random), any(random)});
        const auto points = contentCurve(job, q)->points;
        QVERIFY(std::ranges::is_sorted(points, {}, &CurvePoint::value));
        QVERIFY(std::ranges::is_sorted(points, {}, &CurvePoint::content));
        validate(job);
    }
    resetCurve(job, q, WeightShape::physical);
    QVERIFY(contentCurve(job, q)->points.empty());
}

// A learned correction of +5 % at E50 by hand: w = (K·1.05 − K_A) / (K_B − K_A).
void WorkbenchTest::curveShowsWhatWasMeasured() {
    Job job = demoJob();
    const Calibration &c = job.calibration;
    job.calibration.learnedFuelCorrection = Curve({c.baseContent, 0.5, c.topContent}, {1, 1.05, 1});
    const ContentCurve curve = *contentCurve(job, CalibratedQuantity::fuel);
    QCOMPARE(curve.evidence.size(), std::size_t{3});
    const BlendModel blends = blendModelOf(job);
    const auto k = [&](double content) { return blends.volumeMultiplier(blendAt(job, content), {}); };
    COMPARE_NEAR(curve.evidence[0].value, 0, 1e-12);
    COMPARE_NEAR(curve.evidence[1].value,
                 (k(0.5) * 1.05 - k(c.baseContent)) / (k(c.topContent) - k(c.baseContent)), 1e-12);
    COMPARE_NEAR(curve.evidence[2].value, 1, 1e-12);
    QVERIFY(!curve.extrapolates);
}

void WorkbenchTest::curveOfTheFuelModel() {
    Job job = convertSchool(demoJob(), {School::fuelModel, {}, 0.03}).job;
    const ContentCurve curve = *contentCurve(job, CalibratedQuantity::fuel);
    QVERIFY(curve.correction && curve.straight.empty());
    COMPARE_NEAR(curve.used[50].value, job.calibration.learnedFuelCorrection.at(0.5), 1e-12);
    resetCurve(job, CalibratedQuantity::fuel, WeightShape::physical);
    QVERIFY(job.calibration.learnedFuelCorrection == Curve::constant(1));
    makeOwnCurve(job, CalibratedQuantity::fuel);
    moveCurvePoint(job, CalibratedQuantity::fuel, 0, {0, 0.97}); // its ends may move
    COMPARE_NEAR(job.calibration.learnedFuelCorrection.at(0), 0.97, 1e-12);
    validate(job);
    const Job stack = convertSchool(demoJob(), {School::stack, {0.1, 0.85}, 0.03}).job;
    QVERIFY(!contentCurve(stack, CalibratedQuantity::spark));
    Job changed = stack;
    EXPECT_INPUT_ERROR(makeOwnCurve(changed, CalibratedQuantity::spark), "a school with a curve");
}

void WorkbenchTest::templateIsModestAndMarked_data() {
    QTest::addColumn<double>("litres");
    QTest::addColumn<double>("boost");
    QTest::addColumn<double>("rev");
    QTest::addColumn<double>("top");
    QTest::newRow("boosted four") << 2.0 << 100.0 << 7000.0 << 0.85;
    QTest::newRow("no boost") << 1.6 << 0.0 << 6500.0 << 0.85;
    QTest::newRow("much boost") << 3.0 << 250.0 << 8000.0 << 1.0;
    QTest::newRow("a small fast one") << 0.6 << 40.0 << 14000.0 << 0.5;
}

// It passes the checks that tables alone decide, and no cell claims to be more than an estimate.
void WorkbenchTest::templateIsModestAndMarked() {
    QFETCH(double, litres);
    QFETCH(double, boost);
    QFETCH(double, rev);
    QFETCH(double, top);
    EngineTemplate known;
    known.displacementL = litres;
    known.boostKpa = boost;
    known.revLimitRpm = rev;
    known.topContent = top;
    known.injectorCcMin = 3000; // so that nothing but the tables is judged
    const Job job = templateJob(known);
    for (const NamedTable &t : namedTables(job)) {
        const auto origins = originsOf(*t.table);
        QVERIFY2(countOf(origins, CellOrigin::estimated) * 2 >= origins.size(), t.path.c_str());
        QCOMPARE(countOf(origins, CellOrigin::typed) + countOf(origins, CellOrigin::log), std::size_t{0});
    }
    const auto verdict = verify(job);
    for (const char *id : {"lambda.lean", "lambda.rich", "spark.monotone", "spark.step", "boost.limit",
                           "boost.map_range", "start.cold", "correct.protect", "boost.cut"})
        for (const Verdict::Row &row : verdict->rows)
            if (row.check->id == id)
                for (const WorstPlace &p : row.outcome.byContent)
                    QVERIFY2(p.margin >= -1e-9 || p.content < known.baseContent ||
                                 p.content > known.topContent,
                             qPrintable(QStringLiteral("%1 at %2: %3, %4 rpm, %5 kPa")
                                            .arg(QLatin1String(id))
                                            .arg(p.content)
                                            .arg(p.margin)
                                            .arg(p.rpm)
                                            .arg(p.loadKpa)));
}

// Where it breathes best it is given most fuel and least spark, at full load; where nobody knows the place,
// at 60 % of the rev limit.
void WorkbenchTest::templateKnowsItsTorquePeak() {
    for (const double stated : {0.0, 3500.0, 5250.0}) {
        EngineTemplate known;
        known.torquePeakRpm = stated;
        const Job job = templateJob(known);
        const double peak = stated > 0 ? stated : 0.6 * known.revLimitRpm;
        const Table2D &fuel = job.calibration.of(CalibratedQuantity::fuel).base;
        const Table2D &spark = job.calibration.of(CalibratedQuantity::spark).base;
        const std::size_t at = fuel.x().nearest(peak), row = fuel.y().nearest(100);
        for (std::size_t x = 0; x < fuel.x().size(); ++x)
            QVERIFY(fuel.cell(x, row) <= fuel.cell(at, row));
        const std::size_t half = spark.x().nearest(known.revLimitRpm / 2);
        for (std::size_t x = half; x < spark.x().size(); ++x)
            QVERIFY2(spark.cell(x, row) >= spark.cell(at, row),
                     qPrintable(QStringLiteral("%1: %2").arg(peak).arg(spark.x()[x])));
        const double load = spark.y()[row], rpm = spark.x()[at];
        const double byLoad = load < 100 ? (100 - load) * 0.12 : (100 - load) / 7;
        const double fullness = std::clamp((load - 20) / 80, 0.0, 1.0);
        const double dip = 2 * (1 - std::abs(rpm - peak) / (0.3 * known.revLimitRpm)) * fullness;
        COMPARE_NEAR(spark.cell(at, row), 26 + byLoad - dip, 0.26); // cells are in steps of half a degree
        QVERIFY(spark.cell(at, spark.y().nearest(30)) > spark.cell(at, row)); // a light load is not so full
    }
}

void WorkbenchTest::templateRefusesWhatIsNoEngine() {
    EngineTemplate known;
    known.revLimitRpm = 100;
    EXPECT_INPUT_ERROR(templateJob(known), "rev_limit_rpm", "2000");
    known = {};
    known.boostKpa = -5;
    EXPECT_INPUT_ERROR(templateJob(known), "boost_kpa");
    known = {};
    known.topContent = known.baseContent;
    EXPECT_INPUT_ERROR(templateJob(known), "top_content", "over the base");
    known = {};
    known.torquePeakRpm = 9000;
    EXPECT_INPUT_ERROR(templateJob(known), "torque_peak_rpm", "7000");
    known = {};
    known.cylinders = 2.5;
    EXPECT_INPUT_ERROR(templateJob(known), "engine.cylinders");
}

CORE_TEST_MAIN(WorkbenchTest)
#include "workbench_test.moc"
