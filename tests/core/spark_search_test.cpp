// SPDX-License-Identifier: GPL-3.0-or-later
// Knock by cell, and the search for spark step by step: the schools of chapter 1 of the handbook of the
// trade, each told as a story.
#include "core/job/job_schema.h"
#include "core/proposal/knock_proposal.h"
#include "core/study/cell_trust.h"
#include "core/study/load_axis.h"
#include "formats/job_json.h"
#include "support/phrases.h"
#include "support/recorded_log.h"
#include "support/test_main.h"

#include <QFile>

#include <cmath>

using namespace wheelwright;
using namespace wheelwright::testing;

namespace {

using R = ChannelRole;
using P = SearchPhase;

Job demoJob() {
    QFile f(QStringLiteral(DEMO_JOB));
    if (!f.open(QIODevice::ReadOnly)) qFatal("no demo job");
    Job job = jobFromJson(f.readAll().toStdString());
    job.extras.eraseIf([](const ExtraTable &t) { // the search is to go by knock alone
        return t.kind == TableKind::sparkCeiling || t.kind == TableKind::sparkBest ||
               t.kind == TableKind::sparkIntake || t.kind == TableKind::sparkCoolant;
    });
    return job;
}

/// A log that stands in cells of the table, each so long and with so much retard at its end.
struct Stand {
    std::size_t x, y;
    double seconds = 3, retardDeg = 0;
    bool tipIn = false;
    bool carried = false; ///< retard comes in from the cell before
    std::optional<std::size_t> passes =
        {}; ///< comes up through this row at once, and knocks for a moment then
};
Recorded standing(const Job &job, const std::vector<Stand> &stands, double content = 0.10) {
    const Study study(job);
    const Table2D spark = study.blended(CalibratedQuantity::spark, content);
    Recorded r;
    double t = 0;
    const auto add = [&](double rpm, double load, double throttle, double retard) {
        r.add(t, {{R::rpm, rpm},
                  {R::map, load},
                  {R::throttle, throttle},
                  {R::spark, spark.lookup(rpm, load).value - retard},
                  {R::knockRetard, retard},
                  {R::ethanol, content},
                  {R::coolantTemp, 86},
                  {R::intakeTemp, 41},
                  {R::pulseWidth, 6}});
        t += 0.05;
    };
    for (const Stand &s : stands) {
        const double rpm = spark.x()[s.x], load = spark.y()[s.y];
        for (int i = 0; i < 120; ++i) // elsewhere, under the loads that count
            add(1500, 40, 0.1, s.carried ? s.retardDeg : 0);
        const int count = static_cast<int>(s.seconds / 0.05);
        for (int i = 0; s.passes && i < 12; ++i) // long enough that the throttle has stood still
            add(rpm, spark.y()[*s.passes], 0.5, 0);
        for (int i = 0; i < count; ++i) {
            // The throttle opens at once; knock comes with it, or later.
            const double throttle = s.tipIn && i < 2 ? 0.1 + 0.4 * i : 0.5;
            const bool knocks = s.carried || (s.passes && i < 6) ||
                                (!s.passes && s.retardDeg > 0 && (s.tipIn ? i >= 1 && i < 6 : i > count / 2));
            add(rpm, load, throttle, knocks ? s.retardDeg : 0);
        }
    }
    for (int i = 0; i < 120; ++i)
        add(1500, 40, 0.1, 0);
    return r;
}

KnockProposal proposed(const Job &job, const std::vector<Stand> &stands, const std::string &id = "aa",
                       double content = 0.10, const KnockOptions &options = {}) {
    const Recorded r = standing(job, stands, content);
    const Job with = r.in(job, id);
    const std::vector<std::shared_ptr<const LogReview>> logs{r.review(with, id)};
    return proposeSpark(Study(with), logs, options);
}

const KnockCell *cellIn(const KnockProposal &p, std::size_t x, std::size_t y) {
    for (const KnockCell &c : p.cells)
        if (c.cell.x == x && c.cell.y == y) return &c;
    return nullptr;
}

constexpr std::size_t x = 9, y = 10;

} // namespace

class SparkSearchTest : public QObject {
    Q_OBJECT
  private slots:
    void roadGoesUpAndComesBack();
    void dynoLeavesMoreToPower();
    void fixedOnlyTakesAway();
    void boundsEndTheSearch();
    void powerEndsTheSearch();
    void powerIsReadFromTheLogs();
    void farUnderWhatItStandsStepsAreLarge();
    void theRoadTakesUpWhatWasLeftAlone();
    void lowerLoadFollows();
    void bandsDoNotAddUp();
    void knockIsFoundWhereItBegins();
    void cellsThatPassAreBlamed();
    void tipInsAreMaybeFalse();
    void whatComesAgainIsBelieved();
    void retardFromElsewhereIsNoVerdict();
    void onlyThePowerArea();
    void stepsGoIntoTheTables();
    void logsCountOnce();
    void logsThatSayNothingSayWhy();
    void knockIsOfAFuelThatIsRead();
    void correctionsAsTextComeBack();
};

// + 2, + 1, + 1, it knocks by 1.5: − 1.5; clean, + 1 is under where it knocked … and at last a degree less.
void SparkSearchTest::roadGoesUpAndComesBack() {
    SparkSearch s;
    double table = 20;
    constexpr double limit = 24.4; // it knocks over that
    std::vector<double> steps;
    std::vector<P> phases;
    for (int log = 0; log < 12 && s.phase != P::done; ++log) {
        SparkSeen seen;
        seen.tableDeg = table;
        seen.knocked = table > limit;
        seen.retardDeg = seen.knocked ? 1.5 : 0;
        seen.knockedDeg = seen.cleanDeg = table;
        const SparkStep step = nextSparkStep(s, SparkSchool::road, seen, {}, 2);
        table += step.deg;
        steps.push_back(step.deg);
        s = step.now;
        phases.push_back(s.phase);
        QVERIFY(!step.next.empty());
    }
    // 20 → 22 → 23 → 24 → 25 knocks → 23.5 → 24.5 knocks → 23 → 24 → (25 would be where it knocked) …
    const std::vector<double> expected{2, 1, 1, 1, -1.5, 1, -1.5, 1, 0, -1};
    QCOMPARE(steps, expected);
    QCOMPARE(table, 23.0);
    QVERIFY(s.phase == P::done);
    QCOMPARE(s.knockedDeg, 24.5);
    QCOMPARE(s.cleanDeg, 24.0);
    QCOMPARE(s.steps, 9.0);
    QVERIFY(phases[0] == P::raiseOne && phases[4] == P::recheck && phases[5] == P::raiseOne);
    // Knock after all: it is taken back and begins to be counted anew.
    SparkSeen late{table, 0, true, 2, table, true, 0};
    const SparkStep again = nextSparkStep(s, SparkSchool::road, late, {}, 2);
    QCOMPARE(again.deg, -2.0);
    QVERIFY(again.now.phase == P::recheck && again.now.clean == 0);
    QCOMPARE(again.now.knockedDeg, 23.0);
}

void SparkSearchTest::dynoLeavesMoreToPower() {
    const SparkSeen clean{20, 0, false, 0, 0, true, 20}, knock{22, 0, true, 2.5, 22, true, 0};
    SparkStep s = nextSparkStep({}, SparkSchool::dyno, clean, {}, 2);
    QCOMPARE(s.deg, 0.0);
    QVERIFY(s.now.phase == P::sweep);
    s = nextSparkStep(s.now, SparkSchool::dyno, knock, {}, 2);
    QCOMPARE(s.deg, -2.5);
    s = nextSparkStep(s.now, SparkSchool::dyno, clean, {}, 2);
    QCOMPARE(s.deg, 0.0);
    QCOMPARE(s.now.clean, 1.0);
    s = nextSparkStep(s.now, SparkSchool::dyno, clean, {}, 2);
    QCOMPARE(s.deg, -1.0);
    QVERIFY(s.now.phase == P::done);
}

void SparkSearchTest::fixedOnlyTakesAway() {
    const SparkSeen clean{20, 0, false, 0, 0, true, 20}, knock{20, 0, true, 3, 20, true, 0};
    SparkStep s = nextSparkStep({}, SparkSchool::fixed, clean, {}, 2);
    QVERIFY(s.deg == 0 && s.now.phase == P::done);
    s = nextSparkStep(s.now, SparkSchool::fixed, knock, {}, 2);
    QVERIFY(s.deg == -3 && s.now.phase == P::recheck);
    for (int i = 0; i < 5; ++i) {
        s = nextSparkStep(s.now, SparkSchool::fixed, clean, {}, 2);
        QVERIFY(s.deg <= 0);
    }
}

// Best spark and ceilings: nothing is added beyond, and no distance taken from a knock that nobody has seen.
void SparkSearchTest::boundsEndTheSearch() {
    const SparkSeen clean{20, 0, false, 0, 0, true, 20};
    for (const bool best : {true, false}) {
        SparkBounds bounds;
        (best ? bounds.bestDeg : bounds.ceilingDeg) = 21.5;
        SparkStep s = nextSparkStep({}, SparkSchool::road, clean, bounds, 2);
        QCOMPARE(s.deg, 1.0); // two would be over
        SparkSeen higher = clean;
        higher.tableDeg = 21;
        s = nextSparkStep(s.now, SparkSchool::road, higher, bounds, 2);
        QCOMPARE(s.deg, 0.0);
        s = nextSparkStep(s.now, SparkSchool::road, higher, bounds, 2);
        QCOMPARE(s.deg, 0.0);
        QVERIFY(s.now.phase == P::done);
    }
    // Corrections that take spark keep it from where it knocked: 22 − 3 is under 20.
    SparkSearch knocked;
    knocked.knockedDeg = 20;
    knocked.phase = P::raiseOne;
    SparkSeen cold{21, -3, false, 0, 0, true, 18};
    QCOMPARE(nextSparkStep(knocked, SparkSchool::road, cold, {}, 2).deg, 1.0);
    cold.offsetDeg = 0;
    QVERIFY(nextSparkStep(knocked, SparkSchool::road, cold, {}, 2).deg <= 0);
}

// To what it stands with 95 %, by five degrees at the most; from there on by trying, as ever.
// Where a dyno read that power is there with less, the cell comes down to it; an estimate takes nothing away.
void SparkSearchTest::powerEndsTheSearch() {
    const SparkSeen clean{24, 0, false, 0, 0, true, 24};
    SparkBounds bounds;
    bounds.bestDeg = 21.5;
    QCOMPARE(nextSparkStep({}, SparkSchool::road, clean, bounds, 2).deg, 0.0);
    bounds.bestIsRead = true;
    const SparkStep s = nextSparkStep({}, SparkSchool::road, clean, bounds, 2);
    QCOMPARE(s.deg, -2.5);
    QVERIFY(s.now.phase == P::recheck && s.now.clean == 0);
    QVERIFY(says(s.next, "past what brings power"));
    // Also a cell that had been found, and one that goes by what logs have taught.
    SparkSearch done;
    done.phase = P::done;
    QCOMPARE(nextSparkStep(done, SparkSchool::road, clean, bounds, 2).deg, -2.5);
    bounds.targetDeg = 26;
    QCOMPARE(nextSparkStep({}, SparkSchool::road, clean, bounds, 2).deg, -2.5);
    bounds.bestDeg = 23.6; // as near as anybody reads it
    QCOMPARE(nextSparkStep({}, SparkSchool::road, clean, bounds, 2).deg, 0.0);
    bounds.bestDeg = 21.5;
    QCOMPARE(nextSparkStep({}, SparkSchool::fixed, clean, bounds, 2).deg, 0.0);
}

// Clean, far from knock, with power still rising over where spark is estimated best: the search goes on; and
// comes back where it has been found.
void SparkSearchTest::powerIsReadFromTheLogs() {
    const Job job = demoJob();
    const KnockProposal plain = proposed(job, {{x, y, 3, 0}});
    const KnockCell *c = cellIn(plain, x, y);
    QVERIFY(c);
    LoggedSweep s;
    s.rpm = c->rpm;
    s.loadKpa = c->loadKpa;
    s.content = c->content;
    const auto with = [&](const std::vector<SweepPoint> &points, double content) {
        s.sweep = fitSweep(points);
        s.content = content;
        const std::vector<LoggedSweep> sweeps{s};
        KnockOptions options;
        options.sweeps = sweeps;
        const KnockProposal p = proposed(job, {{x, y, 3, 0}}, "aa", 0.10, options);
        return cellIn(p, x, y)->proposedDeg - c->nowDeg;
    };
    const double now = c->nowDeg;
    std::vector<SweepPoint> falls;
    for (const double d : {-8.0, -6.0, -4.0, -2.0, 0.0, 2.0})
        falls.push_back(
            {now + d, 300 - 0.4 * (d + 5) * (d + 5) + (falls.size() % 2 ? 0.1 : -0.1)}); // best 5° under
    s.sweep = fitSweep(falls);
    const double least = powerBound(s)->deg;
    QVERIFY(powerBound(s)->found && least < now - 5);
    COMPARE_NEAR(with(falls, c->content), least - now, 1e-9);
    COMPARE_NEAR(with(falls, 0.8), c->proposedDeg - c->nowDeg, 1e-9); // of another content
    // Read at more load, where the table holds less: the cell is as far off as the place where it was read.
    const Table2D blend = Study(job).blended(CalibratedQuantity::spark, c->content);
    s.loadKpa = c->loadKpa + 4;
    const double there = blend.lookup(c->rpm, s.loadKpa).value;
    QVERIFY(std::abs(there - now) > 0.2);
    COMPARE_NEAR(with(falls, c->content), least - there, 1e-6);
    s.loadKpa = c->loadKpa;
    // Still rising, as far as sparks went that lie far under the table: no reason to stop.
    std::vector<SweepPoint> rises;
    for (const double d : {-14.0, -13.0, -12.0, -11.0, -10.0})
        rises.push_back({now + d, 300 + 2 * d});
    COMPARE_NEAR(with(rises, c->content), c->proposedDeg - c->nowDeg, 1e-9);
    QVERIFY(c->proposedDeg > c->nowDeg);
}

void SparkSearchTest::farUnderWhatItStandsStepsAreLarge() {
    SparkBounds bounds;
    bounds.surelyDeg = 27.5;
    SparkSeen seen{15, 0, false, 0, 0, true, 15};
    SparkStep s = nextSparkStep({}, SparkSchool::road, seen, bounds, 2);
    QCOMPARE(s.deg, 5.0);
    seen.tableDeg = seen.cleanDeg = 24;
    s = nextSparkStep(s.now, SparkSchool::road, seen, bounds, 2);
    QCOMPARE(s.deg, 3.5);
    seen.tableDeg = seen.cleanDeg = 27.5;
    s = nextSparkStep(s.now, SparkSchool::road, seen, bounds, 2);
    QCOMPARE(s.deg, 1.0);
    // Two at first are no less than what it surely stands there.
    seen.tableDeg = seen.cleanDeg = 26;
    QCOMPARE(nextSparkStep({}, SparkSchool::road, seen, bounds, 2).deg, 2.0);
    // Not over best spark, nor to where it has knocked, nor by the other schools.
    seen.tableDeg = seen.cleanDeg = 15;
    bounds.bestDeg = 18;
    QCOMPARE(nextSparkStep({}, SparkSchool::road, seen, bounds, 2).deg, 2.0);
    bounds.bestDeg.reset();
    SparkSearch knocked;
    knocked.knockedDeg = 17;
    knocked.phase = P::raiseOne;
    QCOMPARE(nextSparkStep(knocked, SparkSchool::road, seen, bounds, 2).deg, 1.0);
    QCOMPARE(nextSparkStep({}, SparkSchool::fixed, seen, bounds, 2).deg, 0.0);
    // Known to a degree, it still goes there at once as far as it is sure.
    bounds.targetDeg = 28.3;
    QCOMPARE(nextSparkStep({}, SparkSchool::road, seen, bounds, 2).deg, 5.0);
    seen.tableDeg = seen.cleanDeg = 24;
    QCOMPARE(nextSparkStep({}, SparkSchool::road, seen, bounds, 2).deg, 3.5);
    seen.tableDeg = seen.cleanDeg = 27.4;
    COMPARE_NEAR(nextSparkStep({}, SparkSchool::road, seen, bounds, 2).deg, 0.9, 1e-9);
}

// A fixed value that was clean has been left alone, not found; what the road itself has ended stays ended.
void SparkSearchTest::theRoadTakesUpWhatWasLeftAlone() {
    const SparkSeen clean{20, 0, false, 0, 0, true, 20};
    const SparkStep left = nextSparkStep({}, SparkSchool::fixed, clean, {}, 2);
    QVERIFY(left.now.phase == P::done);
    QCOMPARE(nextSparkStep(left.now, SparkSchool::road, clean, {}, 2).deg, 1.0);
    SparkBounds best;
    best.bestDeg = 20.5;
    const SparkStep bounded = nextSparkStep(left.now, SparkSchool::road, clean, best, 2);
    QVERIFY(bounded.deg == 0 && bounded.now.phase == P::done);
    SparkSearch found;
    found.phase = P::done;
    found.knockedDeg = 22;
    QCOMPARE(nextSparkStep(found, SparkSchool::road, clean, {}, 2).deg, 0.0);
}

// What is clean at more load is no less at lower load; under 100 kPa it follows a step behind.
void SparkSearchTest::lowerLoadFollows() {
    Job job = demoJob();
    Table2D &t = job.calibration.of(CalibratedQuantity::spark).base;
    const std::size_t below = y - 1;
    QVERIFY(t.y()[below] >= 100);
    t.setCell({x, below}, t.cell(x, y) - 3);
    t.setCell({x + 3, below}, t.cell(x + 3, y) - 3);
    t.setCell({x + 1, y}, t.cell(x, y) - 9); // what is beside it at that load proves nothing without a log
    const auto besideIn = [](const KnockProposal &p, std::size_t atX, std::size_t atY) -> const BesideCell * {
        for (const BesideCell &b : p.beside)
            if (b.cell.x == atX && b.cell.y == atY) return &b;
        return nullptr;
    };
    const KnockProposal p = proposed(job, {{x, y, 3, 0}, {x + 3, y, 3, 2.5}});
    const BesideCell *follows = besideIn(p, x, below);
    QVERIFY(follows);
    COMPARE_NEAR(follows->proposedDeg, cellIn(p, x, y)->proposedDeg, 1e-9);
    COMPARE_NEAR(follows->nowDeg, t.cell(x, below), 1e-9);
    QVERIFY(!follows->next.empty());
    QVERIFY(!besideIn(p, x + 3, below));   // over it, it knocks
    for (const BesideCell &b : p.beside) { // without what logs have taught, nothing else
        QCOMPARE(b.cell.x, x);
        QVERIFY(b.cell.y < y && b.proposedDeg > b.nowDeg);
    }
    // The lowest of those from 100 kPa up, and a step behind it the row under them.
    std::size_t lowest = 0;
    while (t.y()[lowest] < 100)
        ++lowest;
    t.setCell({x, lowest}, t.cell(x, y) - 1);
    t.setCell({x, lowest - 1}, t.cell(x, y) - 9);
    const KnockProposal deep = proposed(job, {{x, y, 3, 0}});
    const BesideCell *under = besideIn(deep, x, lowest - 1);
    QVERIFY(under);
    COMPARE_NEAR(under->proposedDeg, cellIn(deep, x, y)->proposedDeg - 4, 1e-9);
    // Retard from elsewhere: it did not run at the spark of its table, and nothing follows that.
    for (const BesideCell &b : proposed(job, {{x, y, 3, 2.5, false, true}}).beside)
        QVERIFY(b.cell.x != x);
    // It goes into the tables with the rest, and no search begins there.
    const Job after = withSpark(job, p, "2026-05-11T09:00:00Z");
    COMPARE_NEAR(after.calibration.of(CalibratedQuantity::spark).base.cell(x, below), follows->proposedDeg,
                 1e-9);
    QCOMPARE(after.sparkSearches.size(), p.cells.size());
    // The other schools add nothing anywhere.
    job.sparkSchool = SparkSchool::fixed;
    QVERIFY(proposed(job, {{x, y, 3, 0}}).beside.empty());
}

// Logs on both sides of the edge of a band are two searches of the same cell: it takes one step, and none
// up where one of them has heard knock.
void SparkSearchTest::bandsDoNotAddUp() {
    Job job = demoJob();
    const auto both = [&](double firstRetard, double secondRetard) {
        const double edge = coverageBands()[2];
        const Recorded low = standing(job, {{x, y, 3, firstRetard}}, edge - 0.004),
                       high = standing(job, {{x, y, 3, secondRetard}}, edge + 0.004);
        Job with = low.in(job, "aa");
        with = high.in(with, "bb");
        const std::vector<std::shared_ptr<const LogReview>> logs{low.review(with, "aa"),
                                                                 high.review(with, "bb")};
        const KnockProposal p = proposeSpark(Study(with), logs);
        const Job after = withSpark(with, p, "2026-05-11T09:00:00Z");
        const auto at = [&](const Job &j) {
            return Study(j).blended(CalibratedQuantity::spark, edge).cell(x, y);
        };
        return at(after) - at(with);
    };
    COMPARE_NEAR(both(0, 0), 2, 0.05);
    COMPARE_NEAR(both(2.5, 0), -2.5, 0.05);
    COMPARE_NEAR(both(0, 2.5), -2.5, 0.05);
    COMPARE_NEAR(both(1, 2.5), -2.5, 0.05);
}

void SparkSearchTest::knockIsFoundWhereItBegins() {
    const Job job = demoJob();
    const KnockProposal p = proposed(job, {{x, y, 3, 2.5}, {x + 3, y, 3, 0}});
    QVERIFY(p.unused.empty());
    const KnockCell *c = cellIn(p, x, y), *quiet = cellIn(p, x + 3, y);
    QVERIFY(c && quiet);
    QCOMPARE(c->knocks, 1);
    QCOMPARE(c->retardDeg, 2.5);
    QVERIFY(!c->transient);
    COMPARE_NEAR(c->hits, 60, 1);
    COMPARE_NEAR(c->content, 0.10, 1e-9);
    COMPARE_NEAR(c->intakeC, 41, 1e-9);
    COMPARE_NEAR(c->proposedDeg, c->nowDeg - 2.5, 1e-9);
    COMPARE_NEAR(c->search.knockedDeg, c->nowDeg, 0.01); // delivered when it began
    QCOMPARE(quiet->knocks, 0);
    COMPARE_NEAR(quiet->proposedDeg, quiet->nowDeg + 2, 1e-9);
    COMPARE_NEAR(quiet->search.cleanDeg, quiet->nowDeg, 0.01);
    QVERIFY(p.changes());
}

// While boost comes up the engine is a row further when it is heard: the cell that held more spark made it.
// Taking from the other one would go on for ever.
void SparkSearchTest::cellsThatPassAreBlamed() {
    const Job job = demoJob();
    const Table2D spark = Study(job).blended(CalibratedQuantity::spark, 0.10);
    QVERIFY(spark.cell(x, y - 4) - spark.cell(x, y) > 2);
    const KnockProposal p = proposed(job, {{x, y, 3, 1.5, false, false, y - 4}});
    const KnockCell *passed = cellIn(p, x, y - 4), *heard = cellIn(p, x, y);
    QVERIFY(passed && heard);
    QCOMPARE(passed->knocks, 1);
    QCOMPARE(passed->retardDeg, 1.5);
    COMPARE_NEAR(passed->proposedDeg, passed->nowDeg - 1.5, 1e-9);
    COMPARE_NEAR(passed->search.knockedDeg, passed->nowDeg, 0.01);
    QCOMPARE(heard->knocks, 0);
    QCOMPARE(heard->carriedDeg, 1.5);
    QVERIFY(heard->proposedDeg >= heard->nowDeg);
    // The other way, spark rises from row to row: it is the cell in which it was heard.
    const KnockProposal down = proposed(job, {{x, y - 4, 3, 1.5, false, false, y}});
    QCOMPARE(cellIn(down, x, y - 4)->knocks, 1);
    QVERIFY(!cellIn(down, x, y) || cellIn(down, x, y)->knocks == 0);
}

void SparkSearchTest::tipInsAreMaybeFalse() {
    const Job job = demoJob();
    const KnockProposal p = proposed(job, {{x, y, 3, 2.5, true}});
    const KnockCell *c = cellIn(p, x, y);
    QVERIFY(c);
    QVERIFY(c->transient && c->knocks == 0 && c->transientKnocks == 1);
    QCOMPARE(c->retardDeg, 2.5); // shown, not acted on
    QCOMPARE(c->proposedDeg, c->nowDeg);
    QVERIFY(c->search.phase == P::raiseTwo);
}

// Heard twice as the throttle opened, at about the same speed, whatever the load: that is no accident.
void SparkSearchTest::whatComesAgainIsBelieved() {
    const Job job = demoJob();
    for (const std::size_t beside : {x, x + 1}) {
        const KnockProposal p = proposed(job, {{x, y, 3, 2.5, true}, {beside, y - 2, 3, 1.5, true}});
        const KnockCell *first = cellIn(p, x, y), *second = cellIn(p, beside, y - 2);
        QVERIFY(first && second);
        QVERIFY(!first->transient && !second->transient);
        COMPARE_NEAR(first->proposedDeg, first->nowDeg - 2.5, 1e-9);
        COMPARE_NEAR(second->proposedDeg, second->nowDeg - 1.5, 1e-9);
    }
    // Far from one another each has come once.
    const KnockProposal apart = proposed(job, {{x, y, 3, 2.5, true}, {x + 3, y, 3, 1.5, true}});
    QVERIFY(cellIn(apart, x, y)->transient && cellIn(apart, x + 3, y)->transient);
    QVERIFY(!apart.changes() || cellIn(apart, x, y)->proposedDeg == cellIn(apart, x, y)->nowDeg);
}

// It ran later than its table says: neither clean nor knocking.
void SparkSearchTest::retardFromElsewhereIsNoVerdict() {
    const Job job = demoJob();
    const KnockProposal p = proposed(job, {{x, y, 3, 2.5, false, true}});
    const KnockCell *c = cellIn(p, x, y);
    QVERIFY(c);
    QCOMPARE(c->knocks, 0);
    QCOMPARE(c->carriedDeg, 2.5);
    QCOMPARE(c->retardDeg, 0.0);
    QCOMPARE(c->proposedDeg, c->nowDeg);
    QCOMPARE(c->search.clean, 0.0);
}

void SparkSearchTest::onlyThePowerArea() {
    Job job = demoJob();
    const Table2D &t = job.calibration.of(CalibratedQuantity::spark).base;
    const std::size_t light = t.y().nearest(60);
    QVERIFY(!cellIn(proposed(job, {{x, light, 3, 2}}), x, light));
    job.limits["evidence.knock_from"] = 50;
    QVERIFY(cellIn(proposed(job, {{x, light, 3, 2}}), x, light));
    // Few samples: nothing is added, but knock is heard.
    KnockOptions many;
    many.leastHits = 500;
    const KnockProposal p = proposed(job, {{x, y, 3, 2}, {x + 3, y, 3, 0}}, "aa", 0.10, many);
    QVERIFY(cellIn(p, x, y) && !cellIn(p, x + 3, y));
    many.content = 0.5;
    QVERIFY(proposed(job, {{x, y, 3, 2}}, "aa", 0.10, many).cells.empty());
}

void SparkSearchTest::stepsGoIntoTheTables() {
    const Job job = demoJob();
    const KnockProposal p = proposed(job, {{x, y, 3, 2.5}, {x + 3, y, 3, 0}});
    const Job after = withSpark(job, p, "2026-05-11T09:00:00Z");
    validate(after);
    const Table2D &was = job.calibration.of(CalibratedQuantity::spark).base,
                  &is = after.calibration.of(CalibratedQuantity::spark).base;
    for (std::size_t i = 0; i < is.cells().size(); ++i) {
        const CellIndex cell{i % is.x().size(), i / is.x().size()};
        double step = cell == CellIndex{x, y} ? -2.5 : cell == CellIndex{x + 3, y} ? 2 : 0;
        for (const BesideCell &b : p.beside)
            if (b.cell == cell) step = b.proposedDeg - b.nowDeg;
        COMPARE_NEAR(is.cell(cell), was.cell(cell) + step, 1e-9);
    }
    QCOMPARE(after.sparkSearches.size(), p.cells.size());
    QCOMPARE(after.corrections.size(), std::size_t{1});
    const CellCorrection last = lastCorrectionOf(after, "calibration.spark.base", is.x()[x], is.y()[y]);
    QVERIFY(last.of && last.of->kind == CorrectionKind::spark);
    QCOMPARE(last.of->logs, std::string("aa"));
    COMPARE_NEAR(last.cell.error, -2.5, 1e-12);
    COMPARE_NEAR(last.cell.hits, 60, 1);
    // A locked cell stays.
    Job locked = job;
    setLocked(locked, "calibration.spark.base", was, {{x, y}}, true);
    const Job held = withSpark(locked, proposed(locked, {{x, y, 3, 2.5}}), "2026-05-11T09:00:00Z");
    QCOMPARE(held.calibration.of(CalibratedQuantity::spark).base.cell(x, y), was.cell(x, y));
}

void SparkSearchTest::logsCountOnce() {
    const Job job = demoJob();
    const KnockProposal first = proposed(job, {{x, y, 3, 0}});
    Job after = withSpark(job, first, "2026-05-11T09:00:00Z");
    const KnockCell *c = cellIn(first, x, y);
    // The same log once more says nothing new; another one does.
    const KnockProposal same = proposed(after, {{x, y, 3, 0}});
    QCOMPARE(cellIn(same, x, y)->proposedDeg, cellIn(same, x, y)->nowDeg);
    QCOMPARE(withSpark(after, same, "2026-05-11T09:00:00Z").sparkSearches.values(),
             after.sparkSearches.values());
    const KnockProposal next = proposed(after, {{x, y, 3, 0}}, "bb");
    COMPARE_NEAR(cellIn(next, x, y)->proposedDeg, c->nowDeg + 3, 1e-9);
    after = withSpark(after, next, "2026-05-12T09:00:00Z");
    QCOMPARE(after.sparkSearches.size(), first.cells.size());
    QCOMPARE(after.sparkSearches.values().front().logs, std::string("aa bb"));
    // It survives the file: the search goes on from the document.
    const Job read = jobFromJson(jobToJson(after));
    QVERIFY(read == after);
    // At another content it is another search.
    QCOMPARE(cellIn(proposed(after, {{x, y, 3, 0}}, "cc", 0.60), x, y)->search.steps, 1.0);
}

void SparkSearchTest::logsThatSayNothingSayWhy() {
    const Job job = demoJob();
    const auto why = [&](R role) {
        const Recorded r = standing(job, {{x, y, 3, 0}});
        Job with = r.in(job);
        for (std::size_t i = 0; i < with.logChannels.size(); ++i)
            if (with.logChannels[i].role == role) with.logChannels[i].role = R::none;
        if (role == R::ethanol) unstateContent(with, "aa");
        const std::vector<std::shared_ptr<const LogReview>> logs{r.review(with)};
        const KnockProposal p = proposeSpark(Study(with), logs, {});
        return p.unused.empty() ? std::string() : std::string(p.unused[0].why.id);
    };
    QCOMPARE(why(R::oilPressure), std::string());
    QCOMPARE(why(R::knockRetard), std::string("knock.no_retard"));
    QCOMPARE(why(R::spark), std::string("knock.no_spark"));
    QCOMPARE(why(R::ethanol), std::string("knock.unsettled"));
}

// Knock of a fuel that nobody reads is of no band of contents.
void SparkSearchTest::knockIsOfAFuelThatIsRead() {
    const Job job = demoJob();
    const auto cellOf = [&](bool read, std::size_t at) {
        Recorded r = standing(job, {{x, y, 3, 2}, {x + 2, y, 3, 2}});
        for (std::size_t i = 0; i < r.timeS.size(); ++i)
            if (!read && r.of[R::rpm][i] > 1500 && r.timeS[i] > 10) // in the second cell
                r.of[R::ethanol][i] = std::nan("");
        const Job with = r.in(job);
        const std::vector<std::shared_ptr<const LogReview>> logs{r.review(with)};
        const KnockProposal p = proposeSpark(Study(with), logs, {});
        const KnockCell *c = cellIn(p, at, y);
        return c ? c->knocks : -1;
    };
    QVERIFY(cellOf(true, x) > 0 && cellOf(true, x + 2) > 0);
    QCOMPARE(cellOf(false, x), cellOf(true, x));
    QVERIFY(cellOf(false, x + 2) <= 0);
}

void SparkSearchTest::correctionsAsTextComeBack() {
    const std::vector<CorrectedCell> cells{{"calibration.fuel.base", 1200, 45.5, 12.25, 0.004, -0.0312},
                                           {"calibration.extras.A b", -10, 1e-9, 0, 0, 3}};
    QCOMPARE(correctedCells(textOf(cells)), cells);
    QVERIFY(correctedCells("").empty());
    QCOMPARE(
        correctedCells("nonsense\n" + textOf(cells) + "a\t1\t2\t3\t4\nb\t1\t2\t3\t4\tx\nc\t1\t2\t3\t4\tinf"),
        cells);
    // The last one that named a cell is what stands there.
    Job job = demoJob();
    for (const double error : {0.01, 0.02}) {
        Correction c;
        c.at = "2026-05-11T09:00:00Z";
        c.cells = textOf({{"calibration.fuel.base", 1200, 45.5, 9, 0.004, error}});
        job.corrections.push_back(c);
    }
    QCOMPARE(lastCorrectionOf(job, "calibration.fuel.base", 1200, 45.5).cell.error, 0.02);
    QVERIFY(!lastCorrectionOf(job, "calibration.fuel.base", 1300, 45.5).of);
    validate(job);
}

CORE_TEST_MAIN(SparkSearchTest)
#include "spark_search_test.moc"
