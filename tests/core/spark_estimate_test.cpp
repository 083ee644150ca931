// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/error.h"
#include "core/study/content_tables.h"
#include "core/study/fuel_meaning.h"
#include "core/study/fuel_worth.h"
#include "core/study/job_template.h"
#include "core/study/spark_estimate.h"
#include "core/verify/verdict.h"
#include "formats/job_json.h"
#include "support/random_job.h"
#include "support/test_main.h"

#include <QFile>

using namespace wheelwright;
using namespace wheelwright::testing;

namespace {

const OperatingPoint hard{0.1, 3700, 200};

double degrees(const SparkEstimate &e) {
    return e.knock.kind == KnockLimit::Kind::at ? e.knock.deg : std::nan("");
}

Job estimated(const Job &job, std::vector<double> contents) {
    return withEstimatedCeilings(Study(job), contents);
}

CheckState knockAt(const Job &job, double content) {
    const auto verdict = verify(std::make_shared<Study>(job));
    const auto answer = std::ranges::find(verdict->answers, QuestionId::knock,
                                          [](const Verdict::Answer &a) { return a.question->id; });
    const auto near =
        std::ranges::min_element(verdict->contents, {}, [&](double c) { return std::abs(c - content); });
    return answer->byContent[static_cast<std::size_t>(near - verdict->contents.begin())];
}

} // namespace

class SparkEstimateTest : public QObject {
    Q_OBJECT
  private slots:
    void itIsTheCylinderWithTheJobsCharge();
    void impliedAirIsTheSameInEveryMeaning();
    void whatIsAskedOtherwiseMovesIt();
    void sigmaSaysItsParts();
    void tableIsThePointsOfIt();
    void ceilingsAreEstimatesAndClearNothing();
    void whatSomebodySaidStays();
    void estimatesStepBack();
    void stopsWithoutATrace();
    void worthAddsUp();
    void knockShapeBecomesTheCurve();
    void workingsAreTheNumbers();
    void mechanicalJobsHaveOneFuel();
};

// By hand: the demo's VE table is content-referenced, so VE is the number over K(E); the rest is chapter 10.
void SparkEstimateTest::itIsTheCylinderWithTheJobsCharge() {
    const Study study(demoJob());
    const Job &job = study.job();
    const SparkEstimate e = SparkEstimator(study).at(hard);
    const BlendedPoint p = blendedPoint(study, hard);
    const double k = study.blends().volumeMultiplier(blendAt(job, 0.1),
                                                     blendAt(job, job.calibration.fuelReferenceContent));
    QVERIFY(std::abs(e.breath.ve - p.fuel / 100 / k) < 1e-9);
    QCOMPARE(e.breath.lambda, p.lambda);
    QCOMPARE(e.breath.intakeC, job.conditions.intakeUsualC);
    CylinderShape s;
    s.compressionRatio = job.engine.compressionRatio;
    s.rodRatio = job.engine.rodRatio;
    s.displacementL = job.engine.displacementL / job.engine.cylinders;
    const TrappedCharge t =
        trap(s, ChargeModel{}, {study.fuelAt(0.1), p.lambda, hard.rpm, hard.loadKpa, 45, e.breath.ve});
    const Cylinder fine(s, 0.1);
    QVERIFY(std::abs(degrees(e) - fine.knockLimit(t.charge, t.burn, hard.rpm).deg) < 0.02);
    QVERIFY(std::abs(e.bestDeg - bestSparkDeg(t.burn)) < 1e-12);
    const CycleResult r = fine.cycle(t.charge, t.burn, hard.rpm, e.sparkDeg);
    QVERIFY(std::abs(r.peakKpa / e.cycle.peakKpa - 1) < 1e-3);
    // Nobody takes more than best spark, however much the fuel stands.
    bool easy = false;
    for (double kpa = 100; kpa < 230 && !easy; kpa += 10) {
        const SparkEstimate top = SparkEstimator(study).at({0.85, 4500, kpa});
        easy = top.knock.kind == KnockLimit::Kind::at && top.knock.deg > top.bestDeg + 1;
        QVERIFY(!easy || top.sparkDeg == top.bestDeg);
    }
    QVERIFY(easy);
    QCOMPARE(e.sparkDeg, e.knock.deg);
    // A turbine holds back what it gives: nothing for pumping. T = (work − friction) V / 4π.
    const double friction = 97 + 15 * 3.7 + 5 * 3.7 * 3.7;
    QVERIFY(std::abs(e.torqueNm - (e.cycle.workKpa - friction) * 2.4 / (4 * 3.14159265358979)) < 0.01);
}

void SparkEstimateTest::impliedAirIsTheSameInEveryMeaning() {
    const Job demo = demoJob();
    const double ve = SparkEstimator(Study(demo)).at({0.1, 4000, 160}).breath.ve;
    for (const FuelMeaning meaning : {FuelMeaning::trueVe, FuelMeaning::fuelMass, FuelMeaning::pulseWidth}) {
        Job other = demo;
        other.calibration.fuelMeaning = meaning;
        rescaleFuelTables(demo, other);
        QVERIFY(std::abs(SparkEstimator(Study(other)).at({0.1, 4000, 160}).breath.ve / ve - 1) < 1e-6);
    }
}

void SparkEstimateTest::whatIsAskedOtherwiseMovesIt() {
    const Study study(demoJob());
    const SparkEstimator estimator(study);
    const double here = degrees(estimator.at(hard));
    EstimateAt asked;
    asked.compressionRatio = study.job().engine.compressionRatio + 1;
    const double squeezed = degrees(estimator.at(hard, asked));
    Job other = study.job();
    other.engine.compressionRatio += 1;
    QVERIFY(squeezed < here - 1 &&
            std::abs(squeezed - degrees(SparkEstimator(Study(other)).at(hard))) < 1e-9);
    asked = {};
    asked.intakeC = 65;
    QVERIFY(degrees(estimator.at(hard, asked)) < here - 1);
    asked = {};
    asked.lambda = 0.72;
    QVERIFY(degrees(estimator.at(hard, asked)) > here);
    asked = {};
    asked.sparkDeg = 12;
    QVERIFY(estimator.at(hard, asked).sparkDeg == 12 && degrees(estimator.at(hard, asked)) == here);
    QVERIFY(estimator.at(hard, asked).torqueNm < estimator.at(hard).torqueNm);
    Job direct = study.job();
    direct.engine.fuelPlace = InjectionPlace::direct;
    QVERIFY(degrees(SparkEstimator(Study(direct)).at(hard)) > here + 1);
    asked = {};
    asked.compressionRatio = 1;
    EXPECT_INPUT_ERROR(estimator.at(hard, asked), "compression: expected 4 to 25");
    EXPECT_INPUT_ERROR(estimator.at({1.2, 3000, 100}), "content: expected 0 to 1");
    EXPECT_INPUT_ERROR(estimator.at({0.2, 0, 100}), "rpm");
}

// The demo states its engine: 4° of the model alone. Unstated, each thing adds by its square.
void SparkEstimateTest::sigmaSaysItsParts() {
    Job job = demoJob();
    const Study study(job);
    const EstimateSigma all = estimateSigma(SparkEstimator(study), job, hard);
    QCOMPARE(all.parts.size(), 1u);
    QCOMPARE(all.deg, 4.0);
    job.stated.eraseIf([](const Statement &s) {
        return s.path == "engine.compression_ratio" || s.path == "fuel.gasoline.ron";
    });
    const Study less(job);
    const SparkEstimator estimator(less);
    const EstimateSigma sigma = estimateSigma(estimator, job, hard);
    QCOMPARE(sigma.parts.size(), 3u);
    EstimateAt ratio;
    ratio.compressionRatio = job.engine.compressionRatio + 1;
    ChargeModel octane;
    octane.octaneShift = -2;
    const double here = degrees(estimator.at(hard));
    const double a = degrees(estimator.at(hard, ratio)) - here,
                 b = degrees(estimator.with(octane).at(hard)) - here;
    QVERIFY(std::abs(sigma.deg - std::sqrt(16 + a * a + b * b)) < 1e-9 && sigma.deg > 4.5);
    // A new job has stated nothing, and its cells are guesses.
    EngineTemplate known;
    const Job guess = templateJob(known);
    const Study guessed(guess);
    QVERIFY(estimateSigma(SparkEstimator(guessed), guess, {0.1, 3500, 150}).deg > 5);
}

void SparkEstimateTest::tableIsThePointsOfIt() {
    const Study study(demoJob());
    const EstimateTable t = estimateTable(study, 0.5);
    QCOMPARE(t.knockDeg.size(), t.rpm.size() * t.loadKpa.size());
    const SparkEstimator estimator(study);
    int knocking = 0;
    for (std::size_t y = 0; y < t.loadKpa.size(); y += 5)
        for (std::size_t x = 0; x < t.rpm.size(); x += 5) {
            const SparkEstimate e = estimator.at({0.5, t.rpm[x], t.loadKpa[y]});
            const std::size_t i = y * t.rpm.size() + x;
            QCOMPARE(static_cast<bool>(t.knocks[i]), e.knock.kind != KnockLimit::Kind::never);
            QVERIFY(!t.knocks[i] || std::abs(t.knockDeg[i] - e.knock.deg) < 0.05);
            QVERIFY(t.knocks[i] || t.knockDeg[i] == earliestSparkTried);
            QVERIFY(std::abs(t.bestDeg[i] - e.bestDeg) < 1e-12);
            knocking += t.knocks[i];
        }
    QVERIFY(knocking > 5 && t.sigmaDeg >= 4);
}

// An estimate never answers the question of knock: without a word of anybody it stays not judged.
void SparkEstimateTest::ceilingsAreEstimatesAndClearNothing() {
    Job job = demoJob();
    job.extras.clear();
    const Job with = estimated(job, {0.1, 0.5, 0.85});
    QCOMPARE(with.extras.size(), 6u);
    for (const ExtraTable &e : with.extras) {
        QVERIFY(whollyEstimated(e) && e.plusMinus >= 4);
        QVERIFY(std::ranges::all_of(e.table.y().points(), [&](double load) {
            return e.kind == TableKind::sparkBest || load >= 100;
        }));
        validate(e, "estimate");
    }
    QCOMPARE(with.extras[0].name, std::string("Estimated ceiling E10"));
    for (const double content : {0.1, 0.3, 0.5, 0.7, 0.85}) {
        QCOMPARE(knockAt(job, content), CheckState::notJudged);
        QCOMPARE(knockAt(with, content), CheckState::notJudged);
    }
    // Made again they take their own place.
    QVERIFY(estimated(with, {0.1, 0.5, 0.85}) == with);
    QCOMPARE(estimated(with, {0.3}).extras.size(), 8u);
    EXPECT_INPUT_ERROR(estimated(job, {1.5}), "content");
}

void SparkEstimateTest::whatSomebodySaidStays() {
    Job job = demoJob();
    const Job with = estimated(job, {0.1, 0.85});
    for (const ExtraTable &e : job.extras)
        QVERIFY(std::ranges::any_of(with.extras.values(), [&](const ExtraTable &o) { return o == e; }));
    // One cell typed: it is not the program's any more.
    Job typed = estimated(job, {0.1});
    for (ExtraTable &e : typed.extras)
        if (e.name == "Estimated ceiling E10") e.table.setOrigin({0, 0}, CellOrigin::typed);
    const Job again = estimated(typed, {0.1});
    QVERIFY(std::ranges::any_of(again.extras.values(),
                                [](const ExtraTable &e) { return e.name == "Estimated ceiling E10 2"; }));
    QVERIFY(std::ranges::any_of(again.extras.values(), [](const ExtraTable &e) {
        return e.name == "Estimated ceiling E10" && !whollyEstimated(e);
    }));
}

// Where somebody has said ceilings, an estimate between them changes no answer.
void SparkEstimateTest::estimatesStepBack() {
    const Job job = demoJob();
    const Job with = estimated(job, {0.25, 0.6});
    const ContentTables before(job, TableKind::sparkCeiling), after(with, TableKind::sparkCeiling);
    QCOMPARE(after.levels().size(), before.levels().size());
    const ContentTables all(with, TableKind::sparkCeiling, ContentTables::Estimates::stay);
    QCOMPARE(all.levels().size(), before.levels().size() + 2);
    for (const double content : {0.1, 0.25, 0.4, 0.6, 0.85})
        QCOMPARE(knockAt(with, content), knockAt(job, content));
}

void SparkEstimateTest::stopsWithoutATrace() {
    std::stop_source source;
    source.request_stop();
    const Study study(demoJob());
    QVERIFY(estimateTable(study, 0.3, source.get_token()).knockDeg.empty());
    QVERIFY(withEstimatedCeilings(study, std::vector{0.3}, source.get_token()) == study.job());
}

void SparkEstimateTest::worthAddsUp() {
    const Study study(demoJob());
    const FuelWorth w = fuelWorth(study, {0.6, 3700, 210});
    const auto of = [&](const char *id) {
        const auto line = std::ranges::find(w.lines, id, &WorthLine::id);
        return line == w.lines.end() ? std::nan("") : line->degrees;
    };
    QVERIFY(std::abs(of("octane") + of("sensitivity") + of("cooling") + of("burn") - of("content")) < 1e-9);
    QVERIFY(std::abs(of("content") - (degrees(w.here) - degrees(w.base))) < 1e-9);
    QVERIFY(of("octane") > 1 && of("cooling") > 1 && of("sensitivity") > 0 && of("intake") > 0 &&
            of("compression") > 1 && of("lambda") > 0);
    // kPa: at that much more pressure the limit is what the base fuel's was, to the straightness of the line.
    const auto line = std::ranges::find(w.lines, "content", &WorthLine::id);
    QVERIFY(std::abs(line->kpa * w.degPerKpa - line->degrees) < 1e-9);
    EstimateAt same;
    same.lambda = w.here.breath.lambda;
    const double there = degrees(SparkEstimator(study).at({0.6, 3700, 210 + line->kpa}, same));
    QVERIFY2(std::abs(there - degrees(w.base)) < 1.5, qPrintable(QString::number(there - degrees(w.base))));
    for (const WorthLine &l : w.lines) {
        QCOMPARE(l.working.result.value, l.degrees);
        QVERIFY(std::abs(l.working.substituted.values[0].value - l.working.substituted.values[1].value -
                         l.degrees) < 1e-9);
    }
    // Against itself a fuel is worth nothing.
    const FuelWorth none = fuelWorth(study, hard);
    QCOMPARE(none.lines[0].degrees, 0.0);
    QVERIFY(fuelWorth(study, {0.5, 3000, 40}).lines.empty()); // never knocks
}

void SparkEstimateTest::knockShapeBecomesTheCurve() {
    Job job = demoJob();
    const std::optional<KnockShares> s = knockShares(Study(job));
    QVERIFY(s && s->contents.front() == job.calibration.baseContent &&
            s->contents.back() == job.calibration.topContent);
    QVERIFY(s->shares.front() == 0 && s->shares.back() == 1 && std::ranges::is_sorted(s->shares));
    // Each by hand from the limits at that place.
    const Study before(job);
    const SparkEstimator estimator(before);
    const double cap = estimator.at({0.85, s->at.rpm, s->at.loadKpa}).bestDeg;
    const auto limit = [&](double content) {
        return std::min(cap, degrees(estimator.at({content, s->at.rpm, s->at.loadKpa})));
    };
    for (const std::size_t i : {2u, 5u, 8u})
        QVERIFY(std::abs(s->shares[i] - (limit(s->contents[i]) - limit(0.1)) / (limit(0.85) - limit(0.1))) <
                1e-9);
    // Without cooling octane rules, and that goes by mole fraction: more of it early.
    QVERIFY(s->withoutCooling > s->middle && s->middle > 0.4 && s->moleFraction > 0.6);
    takeKnockShape(job);
    const TwoTable &spark = job.calibration.of(CalibratedQuantity::spark);
    QCOMPARE(spark.shape, WeightShape::custom);
    const Study after(job);
    for (std::size_t i = 0; i < s->contents.size(); ++i)
        QVERIFY(std::abs(after.weights().at(s->contents[i])[CalibratedQuantity::spark] - s->shares[i]) <
                1e-12);
    Job stack = demoJob();
    stack.calibration.school = School::stack;
    EXPECT_INPUT_ERROR(takeKnockShape(stack), "curve over content");
}

void SparkEstimateTest::workingsAreTheNumbers() {
    const Study study(demoJob());
    const SparkEstimate e = SparkEstimator(study).at(hard);
    const Explanation knock = explainKnockLimit(study, hard), best = explainBestSpark(study, hard);
    QCOMPARE(knock.result.value, e.knock.deg);
    QCOMPARE(best.result.value, e.bestDeg);
    const auto input = [](const Explanation &x, const char *symbol) {
        const auto i = std::ranges::find(x.inputs, symbol, &ExplanationInput::symbol);
        return i == x.inputs.end() ? std::nan("") : i->value.value;
    };
    const Charge &c = e.trapped.charge;
    QVERIFY(input(knock, "ON") == c.octane && input(knock, "p") == c.pressureKpa &&
            input(knock, "r") == study.job().engine.compressionRatio);
    QVERIFY(std::abs(input(knock, "T") - (c.temperatureK - 273.15)) < 1e-9);
    QVERIFY(std::abs(input(best, "delay") + input(best, "Δθ") * 0.51754 - 10 - best.result.value) < 1e-3);
    const Explanation never = explainKnockLimit(study, {0.85, 3000, 40});
    QCOMPARE(never.result.value, earliestSparkTried);
    QCOMPARE(std::string(never.substituted.id), std::string("spark_estimate.knock.never"));
}

void SparkEstimateTest::mechanicalJobsHaveOneFuel() {
    QFile file(QStringLiteral(SOURCE_DIR "/data/demo/moorhen.json"));
    QVERIFY(file.open(QIODevice::ReadOnly));
    const Study study(jobFromJson(file.readAll().toStdString()));
    const SparkEstimator estimator(study);
    const SparkEstimate a = estimator.at({0.1, 6000, 220}), b = estimator.at({1, 6000, 220});
    QVERIFY(a.bestDeg == b.bestDeg && a.trapped.charge == b.trapped.charge);
    QCOMPARE(a.breath.ve, study.job().mechanical.ve);
    QVERIFY(std::abs(a.breath.fuel.stoichiometricAfr - 6.47) < 1e-9);
}

CORE_TEST_MAIN(SparkEstimateTest)
#include "spark_estimate_test.moc"
