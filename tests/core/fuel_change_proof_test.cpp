// SPDX-License-Identifier: GPL-3.0-or-later
// One calibration at two contents: moves of engines whose need is known, and of logs made by hand.
#include "core/base/error.h"
#include "core/job/revision.h"
#include "core/proposal/fuel_change_proof.h"
#include "formats/job_json.h"
#include "support/phrases.h"
#include "support/practice_log.h"
#include "support/recorded_log.h"
#include "support/test_main.h"

#include <QFile>

#include <cmath>

using namespace wheelwright;
using namespace wheelwright::testing;

namespace {

using R = ChannelRole;
using V = MoveVerdict;

Job demoJob() {
    QFile f(QStringLiteral(DEMO_JOB));
    if (!f.open(QIODevice::ReadOnly)) qFatal("no demo job");
    Job job = jobFromJson(f.readAll().toStdString());
    TwoTable &spark = job.calibration.of(CalibratedQuantity::spark);
    for (Table2D *t : {&spark.base, &spark.top})
        for (std::size_t y = 0; y < t->y().size(); ++y)
            for (std::size_t x = 0; x < t->x().size(); ++x)
                t->setCell({x, y}, t->cell(x, y) - 8); // no knock: it would take spark
    return job;
}

std::string day(double content) {
    return R"({"start": "warm", "ethanol": )" + std::to_string(content) + R"(, "steps": [
        {"do": "idle", "seconds": 5},
        {"do": "hold", "rpm": 2500, "load_kpa": 60, "seconds": 5},
        {"do": "hold", "rpm": 3000, "load_kpa": 80, "seconds": 5},
        {"do": "hold", "rpm": 3500, "load_kpa": 95, "seconds": 5},
        {"do": "pull", "mode": "loaded", "from_rpm": 2500, "to_rpm": 6300},
        {"do": "hold", "rpm": 2000, "load_kpa": 50, "seconds": 5}]})";
}

struct Pair {
    Job job;
    std::shared_ptr<const LogReview> low, high;
};
// The engine of the job's own numbers; on the high content with so much more air.
Pair logged(const Job &job, double low, double high, double airAtHigh = 1) {
    const HiddenEngine engine = engineAsTheJobSays(Study(job));
    HiddenEngine other = engine;
    for (std::size_t y = 0; y < other.ve.y().size(); ++y)
        for (std::size_t x = 0; x < other.ve.x().size(); ++x)
            other.ve.setCell({x, y}, other.ve.cell(x, y) * airAtHigh);
    const PracticeLog a(job, engine, day(low)), b(job, other, day(high));
    const Job with = b.in(a.in(job, "aa"), "bb");
    return {with, a.review(with, "aa"), b.review(with, "bb")};
}

// The one that most tests look at: it takes seconds to drive.
const Pair &sound() {
    static const Pair p = logged(demoJob(), 0.15, 0.60);
    return p;
}

FuelMove moveOf(const FuelChangeProof &p, std::string_view id) {
    return *std::ranges::find(p.moves, id, &FuelMove::quantity);
}

} // namespace

class FuelChangeProofTest : public QObject {
    Q_OBJECT
  private slots:
    void aSoundEngineMovesAsItsTablesSay();
    void needThatDoesNotFollowShowsInTheFuel();
    void sparkThatDoesNotMoveIsOff();
    void onlyKnownCalibrationsAndTwoContents();
    void twoCalibrationsEachCountAgainstTheirOwn();
    void whatNobodySaysIsNotJudged();
    void portInjectionIsAskedWhereThereIsAny();
};

void FuelChangeProofTest::aSoundEngineMovesAsItsTablesSay() {
    const Pair &p = sound();
    const Study study(p.job);
    const FuelChangeProof proof = proveFuelChange(study, *p.low, *p.high);
    COMPARE_NEAR(proof.fromContent, 0.15, 0.005);
    COMPARE_NEAR(proof.toContent, 0.60, 0.005);
    QCOMPARE(proof.fromLog, std::string("aa"));
    const FuelMove fuel = moveOf(proof, "fuel"), &spark = moveOf(proof, "spark"),
                   &boost = moveOf(proof, "boost");
    // By the fuel model: the volume that E60 needs over E15, chapter 2 of the handbook of the trade.
    const double more = study.blends().volumeMultiplier(blendAt(p.job, 0.6), {}) /
                            study.blends().volumeMultiplier(blendAt(p.job, 0.15), {}) -
                        1;
    COMPARE_NEAR(fuel.expected, more, 0.02);
    QVERIFY(fuel.places >= 8);
    QVERIFY(fuel.verdict == V::asExpected);
    COMPARE_NEAR(fuel.residual, fuel.measured - fuel.expected, 1e-12);
    QVERIFY(std::abs(fuel.residual) < 0.03 && fuel.sigma > 0);
    QVERIFY(spark.expected > 0.5 && std::abs(spark.residual) < 0.3 && spark.verdict == V::asExpected);
    QVERIFY(boost.verdict == V::asExpected || boost.verdict == V::notSure);
    QVERIFY(std::ranges::find(proof.moves, "spray", &FuelMove::quantity) == proof.moves.end()); // none fitted
    // The order does not matter.
    const FuelChangeProof other = proveFuelChange(study, *p.high, *p.low);
    QCOMPARE(moveOf(other, "fuel").measured, fuel.measured);
    // Second method for spark: the blend's move at the mean of the places is near the mean move.
    const Table2D low = study.blended(CalibratedQuantity::spark, 0.15),
                  high = study.blended(CalibratedQuantity::spark, 0.60);
    COMPARE_NEAR(spark.expected, high.lookup(3500, 110).value - low.lookup(3500, 110).value, 2.5);
}

// Six per cent less air on the other fuel: so much less was needed than the tables gave.
void FuelChangeProofTest::needThatDoesNotFollowShowsInTheFuel() {
    const Pair p = logged(demoJob(), 0.15, 0.60, 0.94);
    const FuelChangeProof proof = proveFuelChange(Study(p.job), *p.low, *p.high);
    const FuelMove fuel = moveOf(proof, "fuel");
    QVERIFY2(fuel.verdict == V::off, qPrintable(QString::number(fuel.residual)));
    const FuelChangeProof as = proveFuelChange(Study(sound().job), *sound().low, *sound().high);
    COMPARE_NEAR((1 + fuel.measured) / (1 + moveOf(as, "fuel").measured), 0.94, 0.01);
    QVERIFY(proof.any(V::off) && !proof.all(V::asExpected));
}

void FuelChangeProofTest::sparkThatDoesNotMoveIsOff() {
    const Pair &p = sound();
    // The channel of another log stands in: it moved with the other content.
    Job wrong = p.job;
    for (std::size_t i = 0; i < wrong.logChannels.size(); ++i)
        if (wrong.logChannels[i].log == "bb" && wrong.logChannels[i].role == ChannelRole::spark)
            wrong.logChannels[i].offset = -3;
    const PracticeLog b(demoJob(), engineAsTheJobSays(Study(demoJob())), day(0.60));
    const FuelMove spark = moveOf(proveFuelChange(Study(wrong), *p.low, *b.review(wrong, "bb")), "spark");
    QVERIFY(spark.verdict == V::off);
    COMPARE_NEAR(spark.residual, -3, 0.3);
}

void FuelChangeProofTest::onlyKnownCalibrationsAndTwoContents() {
    const Pair &p = sound();
    const Study study(p.job);
    EXPECT_INPUT_ERROR(proveFuelChange(study, *p.low, *p.low), "apart", "E15");
    Job other = p.job;
    for (std::size_t i = 0; i < other.logs.size(); ++i)
        if (other.logs[i].id == "bb") other.logs[i].calibration = "0123456789abcdef";
    const PracticeLog b(demoJob(), engineAsTheJobSays(Study(demoJob())), day(0.60));
    EXPECT_INPUT_ERROR(proveFuelChange(Study(other), *p.low, *b.review(other, "bb")), "one calibration",
                       "bb.csv");
}

// Between the logs the tables of the low fuel were changed, and both states are kept: the fuel that was
// needed is what it was, and each log is held against what it was given.
void FuelChangeProofTest::twoCalibrationsEachCountAgainstTheirOwn() {
    Job job = demoJob();
    const HiddenEngine engine = engineAsTheJobSays(Study(job));
    const PracticeLog a(job, engine, day(0.60));
    job = a.in(job, "aa");
    keepRevision(job, "At the top", "2026-05-10T10:00:00Z", {}, true);
    Table2D &base = job.calibration.of(CalibratedQuantity::fuel).base;
    for (std::size_t y = 0; y < base.y().size(); ++y)
        for (std::size_t x = 0; x < base.x().size(); ++x)
            base.setCell({x, y}, base.cell(x, y) * 1.05);
    const PracticeLog b(job, engine, day(0.15));
    job = b.in(job, "bb");
    const Study study(job);
    const auto top = a.review(job, "aa"), low = b.review(job, "bb");
    QVERIFY(top->info().calibration != low->info().calibration);
    const FuelChangeProof proof = proveFuelChange(study, *low, *top);
    QVERIFY(proof.twoCalibrations);
    const FuelChangeProof as = proveFuelChange(Study(sound().job), *sound().low, *sound().high);
    QVERIFY(!as.twoCalibrations && as.holds());
    // Source-free: the need did not change, so what was measured is the same; the tables gave 5 % more below.
    COMPARE_NEAR(moveOf(proof, "fuel").measured, moveOf(as, "fuel").measured, 0.01);
    COMPARE_NEAR((1 + moveOf(as, "fuel").expected) / (1 + moveOf(proof, "fuel").expected), 1.05, 0.012);
    QVERIFY(moveOf(proof, "fuel").verdict == V::off && !proof.holds());
}

void FuelChangeProofTest::whatNobodySaysIsNotJudged() {
    Job job = demoJob();
    job.boost.points = {};
    job.extras.eraseIf([](const ExtraTable &t) { return t.kind == TableKind::solenoidDuty; });
    const Pair p = logged(job, 0.15, 0.60);
    const FuelChangeProof proof = proveFuelChange(Study(p.job), *p.low, *p.high);
    const FuelMove solenoid = moveOf(proof, "solenoid");
    QVERIFY(solenoid.verdict == V::notJudged && !solenoid.why.empty());
    QCOMPARE(moveVerdictKey(solenoid.verdict), std::string_view("not_judged"));
    for (const V v : {V::asExpected, V::off, V::notSure, V::notJudged})
        QVERIFY(!inWords(v).empty() && !moveVerdictKey(v).empty());
}

// Steps of five seconds over cells of the spark table, made by hand: the share that the injectors at the
// ports take goes from a fifth to a half, as the tables say, or stays.
void FuelChangeProofTest::portInjectionIsAskedWhereThereIsAny() {
    Job job = demoJob();
    const auto share = [](double content, double of) {
        ExtraTable t =
            newExtraTable(TableKind::portShare, "Ports E" + std::to_string(std::lround(content * 100)));
        t.content = content;
        t.table = Table2D::uniform(t.table.x(), t.table.y(), of);
        return t;
    };
    const auto record = [&](double content, std::optional<double> of) {
        Recorded r;
        for (int i = 0; i < 3000; ++i) {
            const double rpm = 2000 + 500 * (i / 600), load = 50 + 15 * (i / 600);
            r.add(i * 0.01, {{R::rpm, rpm},
                             {R::map, load},
                             {R::throttle, 0.3},
                             {R::lambda, 0.95},
                             {R::coolantTemp, 88},
                             {R::intakeTemp, 30},
                             {R::pulseWidth, 6},
                             {R::ethanol, content}});
            if (of) {
                r.of[R::portShare].push_back(*of + 0.01 * (i % 3 - 1));
            }
        }
        return r;
    };
    const auto proved = [](const Job &base, const Recorded &a, const Recorded &b) {
        const Job with = b.in(a.in(base, "aa"), "bb");
        return proveFuelChange(Study(with), *a.review(with, "aa"), *b.review(with, "bb"));
    };
    const auto asked = [](const FuelChangeProof &p) {
        return std::ranges::find(p.moves, "port_injection", &FuelMove::quantity) != p.moves.end();
    };
    QVERIFY(!asked(proved(job, record(0.1, {}), record(0.6, {})))); // there is none
    const FuelChangeProof untold = proved(job, record(0.1, 0.2), record(0.6, 0.5));
    QVERIFY(asked(untold) && moveOf(untold, "port_injection").verdict == V::notJudged);
    QVERIFY(says(moveOf(untold, "port_injection").why, "no table"));
    job.extras.push_back(share(0.1, 0.2));
    job.extras.push_back(share(0.6, 0.5));
    const FuelChangeProof unlogged = proved(job, record(0.1, 0.2), record(0.6, {}));
    QVERIFY(moveOf(unlogged, "port_injection").verdict == V::notJudged);
    QVERIFY(says(moveOf(unlogged, "port_injection").why, "no channel"));
    const FuelMove right = moveOf(proved(job, record(0.1, 0.2), record(0.6, 0.5)), "port_injection");
    QVERIFY(right.verdict == V::asExpected && right.places >= 4);
    COMPARE_NEAR(right.expected, 0.3, 1e-9);
    COMPARE_NEAR(right.measured, 0.3, 0.002);
    COMPARE_NEAR(right.tolerance, 0.1, 1e-12);
    const FuelMove stuck = moveOf(proved(job, record(0.1, 0.2), record(0.6, 0.2)), "port_injection");
    QVERIFY(stuck.verdict == V::off);
    COMPARE_NEAR(stuck.residual, -0.3, 0.002);
    // Between two contents that have tables, a straight line.
    COMPARE_NEAR(moveOf(proved(job, record(0.1, 0.2), record(0.35, 0.35)), "port_injection").expected, 0.15,
                 1e-9);
}

CORE_TEST_MAIN(FuelChangeProofTest)
#include "fuel_change_proof_test.moc"
