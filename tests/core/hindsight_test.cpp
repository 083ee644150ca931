// SPDX-License-Identifier: GPL-3.0-or-later
// What became of it: who took the spark that was asked for, and whether corrections did what was foretold.
#include "core/base/error.h"
#include "core/proposal/fuel_proposal.h"
#include "core/proposal/knock_proposal.h"
#include "core/proposal/learning.h"
#include "core/proposal/spark_takers.h"
#include "core/study/extra_tables.h"
#include "formats/job_json.h"
#include "support/recorded_log.h"
#include "support/test_main.h"

#include <QFile>

#include <cmath>

using namespace wheelwright;
using namespace wheelwright::testing;

namespace {

using R = ChannelRole;
using V = LearningVerdict;

Job demoJob() {
    QFile f(QStringLiteral(DEMO_JOB));
    if (!f.open(QIODevice::ReadOnly)) qFatal("no demo job");
    return jobFromJson(f.readAll().toStdString());
}

/// An engine under load whose log says this spark, air and retard for a while each.
struct Stretch {
    double seconds, sparkOffDeg, airC, retardDeg;
};
Recorded underLoad(const Job &job, const std::vector<Stretch> &stretches, bool withRetard = true) {
    const Study study(job);
    const Table2D spark = study.blended(CalibratedQuantity::spark, 0.10);
    Recorded r;
    double t = 0;
    for (const Stretch &s : stretches)
        for (int i = 0; i < static_cast<int>(s.seconds / 0.05); ++i, t += 0.05) {
            const double asked = spark.lookup(4000, 150).value;
            r.add(t, {{R::rpm, 4000},
                      {R::map, 150},
                      {R::throttle, 0.8},
                      {R::spark, asked + s.sparkOffDeg},
                      {R::ethanol, 0.10},
                      {R::intakeTemp, s.airC},
                      {R::pulseWidth, 6}});
            if (withRetard) {
                r.of[R::knockRetard].resize(r.timeS.size() - 1);
                r.of[R::knockRetard].push_back(s.retardDeg);
            }
        }
    return r;
}

SparkTaken takenIn(const Job &job, const Recorded &r) {
    const Job with = r.in(job);
    return sparkTaken(*r.review(with));
}

/// A warm engine that stands in cells, each for so long, and needs so much more fuel there than it gets.
Recorded needing(const Job &job, const std::function<double(double rpm, double load)> &error) {
    const Study study(job);
    const Table2D lambda = study.blended(CalibratedQuantity::lambda, 0.10);
    const Table2D &cells = job.calibration.of(CalibratedQuantity::fuel).base;
    Recorded r;
    double t = 0;
    for (std::size_t x = 4; x < 10; ++x)
        for (std::size_t y = 3; y < 7; ++y)
            for (int i = 0; i < 120; ++i, t += 0.05) {
                const double rpm = cells.x()[x], load = cells.y()[y], e = error(rpm, load);
                r.add(t, {{R::rpm, rpm},
                          {R::map, load},
                          {R::throttle, 0.3},
                          {R::lambda, lambda.lookup(rpm, load).value * (1 + e)},
                          {R::ethanol, 0.10},
                          {R::coolantTemp, 86},
                          {R::intakeTemp, 30},
                          {R::pulseWidth, 6}});
            }
    return r;
}

double errorAt(double rpm, double load) {
    return 0.04 * std::sin(rpm / 700) + 0.0004 * (load - 60);
}

/// The step after a correction of that error, when the next log is off by `next` of it (and by `more`
/// besides).
LearningStep after(double next, double more = 0) {
    Job job = demoJob();
    const Recorded first = needing(job, errorAt);
    job = first.in(job, "aa", "2026-05-10T12:00:00Z");
    const Study study(job);
    const std::vector<std::shared_ptr<const LogReview>> one{first.review(job, "aa")};
    FuelSampleOptions still;
    still.delayMs = 0;
    const FuelSamples samples = fuelSamples(study, one, still);
    job = withFuel(job, proposeFuel(study, samples), samples, "2026-05-11T12:00:00Z");
    const Recorded second = needing(
        job, [&](double rpm, double load) { return next * errorAt(rpm, load) + more * std::cos(rpm / 130); });
    job = second.in(job, "bb", "2026-05-12T12:00:00Z");
    const Study now(job);
    const std::vector<std::shared_ptr<const LogReview>> both{first.review(job, "aa"),
                                                             second.review(job, "bb")};
    // The steps point into the study's job: it must outlive them here.
    static std::vector<std::unique_ptr<Study>> kept;
    kept.push_back(std::make_unique<Study>(job));
    const std::vector<LearningStep> steps = learningSteps(*kept.back(), both);
    if (steps.size() != 1) qFatal("one correction, one step");
    return steps.front();
}

bool says(const LearningStep &s, const char *word) {
    return std::ranges::any_of(
        s.said, [&](const Phrase &p) { return std::string(p.text).find(word) != std::string::npos; });
}

} // namespace

class HindsightTest : public QObject {
    Q_OBJECT
  private slots:
    void whoTookIt();
    void theFallbackTakesWhatItMay();
    void withoutRetardItIsNotKnown();
    void logsThatCannotSayAreRefused();
    void foretoldAndFound();
    void noLogYetIsNotJudged();
    void nothingChanged();
    void offToTheOtherSide();
    void whatBecameOfASparkStep();
    void somethingElseIsNew();
};

// Twelve seconds: three of knock by 2°, six of hot air; the tables of the job say what that takes, and one
// degree nobody knows of.
void HindsightTest::whoTookIt() {
    Job job = demoJob();
    job.extras.eraseIf([](const ExtraTable &t) { return t.kind == TableKind::sparkFallback; });
    const double cold = extraAt(job, TableKind::sparkIntake, 30, 150),
                 hot = extraAt(job, TableKind::sparkIntake, 70, 150);
    QVERIFY(hot < cold - 1);
    const SparkTaken t =
        takenIn(job, underLoad(job, {{3, cold - 1 - 2, 30, 2}, {3, cold - 1, 30, 0}, {6, hot - 1, 70, 0}}));
    QCOMPARE(t.samples, std::size_t{240});
    COMPARE_NEAR(t.mean("intake_air"), (cold + hot) / 2, 1e-6);
    COMPARE_NEAR(t.mean("knock"), -0.5, 1e-6);
    COMPARE_NEAR(t.mean("unexplained"), -1, 1e-6);
    COMPARE_NEAR(t.mean("fallback"), 0, 1e-9);
    double sum = 0;
    for (const SparkTaker &s : t.takers)
        sum += s.meanDeg;
    COMPARE_NEAR(t.deliveredDeg - t.askedDeg, sum, 1e-9); // nobody is left out
    for (const SparkTaker &s : t.takers)
        if (s.id == "knock") {
            COMPARE_NEAR(s.mostDeg, -2, 1e-9);
            COMPARE_NEAR(s.share, 0.25, 1e-9);
            QVERIFY(s.mostAtS < 3);
        }
    QCOMPARE(t.timeS.size(), t.samples);
    for (std::size_t i = 0; i < t.timeS.size(); i += 37) {
        COMPARE_NEAR(t.afterKnock[i] - 1, t.delivered[i], 1e-6);
        QVERIFY(t.afterAir[i] >= t.afterKnock[i]);
    }
    QVERIFY(t.said.size() >= 4);
    QCOMPARE(t.said.front().values[0].value, t.askedDeg);
}

void HindsightTest::theFallbackTakesWhatItMay() {
    Job job = demoJob();
    job.extras.eraseIf([](const ExtraTable &t) { return t.kind == TableKind::sparkFallback; });
    const double asked = Study(job).blended(CalibratedQuantity::spark, 0.10).lookup(4000, 150).value;
    ExtraTable fallback = newExtraTable(TableKind::sparkFallback, "low octane");
    fallback.table = Table2D::uniform(Axis({1000, 8000}), Axis({20, 300}), asked - 4);
    job.extras.push_back(fallback);
    job.sparkDelivery.fallbackUsual = 1;
    job.sparkDelivery.fallbackWorst = 0.5; // it may go half of the way: 2°
    const double air = extraAt(job, TableKind::sparkIntake, 30, 150);
    const SparkTaken little = takenIn(job, underLoad(job, {{5, air - 1.5, 30, 0}}));
    COMPARE_NEAR(little.mean("fallback"), -1.5, 1e-6);
    COMPARE_NEAR(little.mean("unexplained"), 0, 1e-6);
    const SparkTaken much = takenIn(job, underLoad(job, {{5, air - 3, 30, 0}}));
    COMPARE_NEAR(much.mean("fallback"), -2, 1e-6);
    COMPARE_NEAR(much.mean("unexplained"), -1, 1e-6);
}

void HindsightTest::withoutRetardItIsNotKnown() {
    const Job job = demoJob();
    const double air = extraAt(job, TableKind::sparkIntake, 30, 150);
    const SparkTaken t = takenIn(job, underLoad(job, {{5, air - 2, 30, 0}}, false));
    QCOMPARE(t.mean("knock"), 0.0);
    COMPARE_NEAR(t.mean("fallback") + t.mean("unexplained"), -2, 1e-6);
    QVERIFY(std::ranges::any_of(t.said, [](const Phrase &p) {
        return std::string(p.text).find("does not say what knock control took") != std::string::npos;
    }));
}

void HindsightTest::logsThatCannotSayAreRefused() {
    const Job job = demoJob();
    Recorded r = underLoad(job, {{2, 0, 30, 0}});
    r.of.erase(R::spark);
    EXPECT_INPUT_ERROR(takenIn(job, r), "spark");
}

// Damping leaves three tenths of each error, and that is what the next log finds.
void HindsightTest::foretoldAndFound() {
    const LearningStep s = after(0.3);
    QCOMPARE(s.verdict, V::asForetold);
    QCOMPARE(s.logs, std::vector<std::string>{"bb"});
    QVERIFY(s.cells.size() >= 20);
    double before = 0, found = 0;
    for (const LearningStep::Cell &c : s.cells) {
        COMPARE_NEAR(c.before, errorAt(c.rpm, c.y), 0.004);
        COMPARE_NEAR(c.foretold, 0.3 * c.before, 1e-9);
        COMPARE_NEAR(c.found, 0.3 * errorAt(c.rpm, c.y), 1e-6);
        QVERIFY(!c.off);
        before += c.before * c.before;
        found += c.found * c.found;
    }
    COMPARE_NEAR(s.before, std::sqrt(before / static_cast<double>(s.cells.size())), 1e-12);
    COMPARE_NEAR(s.found, std::sqrt(found / static_cast<double>(s.cells.size())), 1e-12);
    COMPARE_NEAR(s.foretold, 0.3 * s.before, 1e-9);
    COMPARE_NEAR(s.carried, 0.3, 0.03);
}

void HindsightTest::noLogYetIsNotJudged() {
    Job job = demoJob();
    const Recorded first = needing(job, errorAt);
    job = first.in(job, "aa", "2026-05-10T12:00:00Z");
    const Study study(job);
    const std::vector<std::shared_ptr<const LogReview>> one{first.review(job, "aa")};
    const FuelSamples samples = fuelSamples(study, one);
    job = withFuel(job, proposeFuel(study, samples), samples, "2026-05-11T12:00:00Z");
    const Study now(job);
    const std::vector<LearningStep> steps = learningSteps(now, one);
    QCOMPARE(steps.size(), std::size_t{1});
    QCOMPARE(steps.front().verdict, V::notYet); // the log that it was made from says nothing of it
    QVERIFY(steps.front().cells.empty());
    // Nor does one that came in before it and was not asked.
    const Recorded earlier = needing(job, errorAt);
    const Job more = earlier.in(job, "ee", "2026-05-09T12:00:00Z");
    const Study also(more);
    const std::vector<std::shared_ptr<const LogReview>> old{one.front(), earlier.review(more, "ee")};
    QCOMPARE(learningSteps(also, old).front().verdict, V::notYet);
    QVERIFY(learningSteps(study, one).empty());
    QCOMPARE(learningKey(V::notYet), std::string_view("not_yet"));
}

void HindsightTest::nothingChanged() {
    const LearningStep s = after(1);
    QCOMPARE(s.verdict, V::notConverging);
    COMPARE_NEAR(s.carried, 1, 0.05);
    QVERIFY(says(s, "as if nothing had been changed"));
    QVERIFY(std::ranges::any_of(s.cells, &LearningStep::Cell::off));
    QVERIFY(says(s, "Cells that are off"));
}

void HindsightTest::offToTheOtherSide() {
    const LearningStep s = after(-0.7);
    QCOMPARE(s.verdict, V::overshot);
    COMPARE_NEAR(s.carried, -0.7, 0.05);
    QVERIFY(says(s, "the other sign"));
}

void HindsightTest::somethingElseIsNew() {
    const LearningStep s = after(0.1, 0.03);
    QCOMPARE(s.verdict, V::partly);
    QVERIFY(std::abs(s.carried) < 0.3);
    QVERIFY(says(s, "the rest is new"));
}

namespace {

// Two places on the road: at the first knock takes so much each time that it begins, the second is clean or
// not.
Recorded onTheRoad(const Job &job, double firstDeg, double secondDeg) {
    const Study study(job);
    const Table2D spark = study.inPressure().blended(CalibratedQuantity::spark, 0.10);
    Recorded r;
    double t = 0;
    for (const auto &[column, takes] : {std::pair{std::size_t{10}, firstDeg}, {std::size_t{13}, secondDeg}})
        for (int i = 0; i < 200; ++i, t += 0.05) {
            const double rpm = spark.x()[column], load = spark.y()[14];
            const bool now = takes > 0 && i % 100 >= 80;
            r.add(t, {{R::rpm, rpm},
                      {R::map, load},
                      {R::throttle, 0.8},
                      {R::spark, spark.lookup(rpm, load).value - (now ? takes : 0)},
                      {R::knockRetard, now ? takes : 0},
                      {R::ethanol, 0.10},
                      {R::coolantTemp, 86},
                      {R::intakeTemp, 35},
                      {R::pulseWidth, 8}});
        }
    return r;
}

// What the step made of the first log comes to by the second.
LearningStep afterSpark(double nowFirst, double nowSecond) {
    Job job = demoJob();
    const Recorded first = onTheRoad(job, 3, 0);
    job = first.in(job, "aa", "2026-05-10T12:00:00Z");
    const std::vector<std::shared_ptr<const LogReview>> one{first.review(job, "aa")};
    const KnockProposal p = proposeSpark(Study(job), one);
    job = withSpark(job, p, "2026-05-11T12:00:00Z");
    const Recorded second = onTheRoad(job, nowFirst, nowSecond);
    job = second.in(job, "bb", "2026-05-12T12:00:00Z");
    const std::vector<std::shared_ptr<const LogReview>> both{one.front(), second.review(job, "bb")};
    static std::vector<std::unique_ptr<Study>> kept; // a step points to its correction
    kept.push_back(std::make_unique<Study>(job));
    const std::vector<LearningStep> steps = learningSteps(*kept.back(), both);
    return steps.size() == 1 ? steps.front() : LearningStep{};
}

} // namespace

void HindsightTest::whatBecameOfASparkStep() {
    const LearningStep clean = afterSpark(0, 0);
    QCOMPARE(clean.verdict, V::asForetold);
    QCOMPARE(clean.dimension, Dimension::sparkAngle);
    QCOMPARE(clean.logs, std::vector<std::string>{"bb"});
    QCOMPARE(clean.cells.size(), std::size_t{1});
    COMPARE_NEAR(clean.before, 3, 1e-9);
    COMPARE_NEAR(clean.found, 0, 1e-12);
    QVERIFY(clean.raised == 1 && clean.raisedKnock == 0);
    const LearningStep less = afterSpark(1, 0), same = afterSpark(3, 0), other = afterSpark(0, 2);
    QCOMPARE(less.verdict, V::partly);
    COMPARE_NEAR(less.found, 1, 1e-9);
    COMPARE_NEAR(less.carried, 1.0 / 3, 1e-9);
    QVERIFY(less.cells.front().off && says(less, "The most at"));
    QCOMPARE(same.verdict, V::notConverging);
    QVERIFY(says(same, "was this file sent") && !says(less, "was this file sent"));
    // What was raised and knocks is where the search turns, and nobody's mistake.
    QCOMPARE(other.verdict, V::asForetold);
    QVERIFY(other.raised == 1 && other.raisedKnock == 1 && says(other, "the search turns"));
}

CORE_TEST_MAIN(HindsightTest)
#include "hindsight_test.moc"
