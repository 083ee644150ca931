// SPDX-License-Identifier: GPL-3.0-or-later
// What spark the engine stands, by knock seen and not seen: the fit against a grid and against simulation,
// then from logs to tables and the verdict.
#include "core/base/error.h"
#include "core/proposal/knock_proposal.h"
#include "core/proposal/learned_ceilings.h"
#include "core/study/spark_estimate.h"
#include "core/verify/verdict.h"
#include "formats/job_json.h"
#include "support/recorded_log.h"
#include "support/test_main.h"

#include <QFile>

#include <cmath>
#include <random>

using namespace wheelwright;
using namespace wheelwright::testing;

namespace {

using R = ChannelRole;

double phi(double x) {
    return std::erfc(-x / std::sqrt(2.0)) / 2;
}

Job demoJob() {
    QFile f(QStringLiteral(DEMO_JOB));
    if (!f.open(QIODevice::ReadOnly)) qFatal("no demo job");
    Job job = jobFromJson(f.readAll().toStdString());
    job.extras.eraseIf([](const ExtraTable &t) {
        return t.kind == TableKind::sparkCeiling || t.kind == TableKind::sparkBest;
    });
    return job;
}

/// Prior without anything that differs from place to place or from tank to tank.
CeilingPrior plainPrior() {
    CeilingPrior p;
    p.slope = p.cell = p.content = p.place = p.log = 1e-3;
    p.heard = 0;
    return p;
}

/// Trials of an engine whose limit is a + b · octane + u(place) + d(log) over the model's.
struct Simulated {
    double a = -0.1, b = 0.2, scatter = 0.07, cycles = 0.8;
    std::vector<double> ofLog = {0};
    std::function<double(double rpm, double loadKpa)> ofPlace = [](double, double) { return 0.0; };
    int perPlace = 60;

    KnockTrials trials(unsigned seed) const {
        std::mt19937 random(seed);
        std::uniform_real_distribution<double> even(0, 1);
        KnockTrials out;
        for (std::uint32_t log = 0; log < ofLog.size(); ++log) {
            out.logs.push_back({});
            out.logs.back().used = true;
            const double octane = log % 3 * 0.2;
            for (double rpm = 2500; rpm <= 6500; rpm += 500)
                for (const double load : {120.0, 150.0, 180.0})
                    for (int i = 0; i < perPlace; ++i) {
                        KnockTrial t;
                        t.log = log;
                        t.rpm = rpm;
                        t.loadKpa = load;
                        t.content = 0.1 + log % 3 * 0.25;
                        t.octane = octane;
                        t.perLogDeg = 14;
                        t.cycles = cycles;
                        t.samples = 1;
                        const double limit = a + b * octane + ofPlace(rpm, load) + ofLog[log];
                        t.over = limit - 0.35 + 0.4 * i / perPlace;
                        const double heard = 1 - std::pow(1 - phi((t.over - limit) / scatter), cycles);
                        t.knocked = even(random) < heard;
                        out.logs.back().knocks += t.knocked;
                        ++out.logs.back().samples;
                        out.trials.push_back(t);
                    }
        }
        return out;
    }
};

/// A log that stands in cells at spark around a limit that the test knows, and knocks by chance.
Recorded knocking(const Job &job, double content, double offDeg, unsigned seed, double airC = 45) {
    const Study study(job);
    const KnockSurface k = knockSurface(study, content, 80);
    std::mt19937 random(seed);
    std::normal_distribution<double> normal;
    Recorded r;
    double t = 0;
    const auto add = [&](double rpm, double load, double spark, double retard) {
        r.add(t, {{R::rpm, rpm},
                  {R::map, load},
                  {R::throttle, 0.8},
                  {R::spark, spark},
                  {R::knockRetard, retard},
                  {R::ethanol, content},
                  {R::coolantTemp, 86},
                  {R::intakeTemp, airC},
                  {R::pulseWidth, 6}});
        t += 0.05;
    };
    for (int i = 0; i < 1300; ++i) // long enough for its content to be settled
        add(1500, 40, 20, 0);
    for (const double rpm : {3100.0, 4000.0, 4900.0})
        for (const double load : {130.0, 150.0, 170.0, 190.0})
            for (int i = 0; i < 120; ++i) {
                const double limit = k.limitDeg.lookup(rpm, load).value + offDeg;
                const double spark = limit - 5 + 0.05 * i;
                add(rpm, load, spark, 0);
                if (spark > limit + normal(random)) add(rpm, load, spark - 1.5, 1.5);
            }
    for (int i = 0; i < 60; ++i)
        add(1500, 40, 20, 0);
    return r;
}

std::vector<std::shared_ptr<const LogReview>> reviews(const Job &job, const std::vector<Recorded> &logs) {
    std::vector<std::shared_ptr<const LogReview>> out;
    for (std::size_t i = 0; i < logs.size(); ++i) {
        const std::string id = "c" + std::to_string(i);
        out.push_back(logs[i].review(logs[i].in(job, id), id));
    }
    return out;
}

LearnedCeiling cellAt(const std::vector<LearnedCeiling> &cells, double rpm, double load) {
    for (const LearnedCeiling &c : cells)
        if (c.rpm == rpm && c.loadKpa == load) return c;
    qFatal("no such cell");
}

} // namespace

class LearnedCeilingsTest : public QObject {
    Q_OBJECT
  private slots:
    void theSurfaceIsTheEstimate();
    void tablesMayBeginAtNoSpeed();
    void likelihoodByHand();
    void mostLikelyAgainstAGrid();
    void bandsHoldWhatIsTrue();
    void scatterIsFound();
    void evidenceShrinksTheBand();
    void nothingSeenIsNotKnown();
    void cleanSamplesAloneAgainstDifferences();
    void farAwayIsKnownLess();
    void badFuelIsNamedAndKeptApart();
    void oneFalseKnockIsNotBelieved();
    void fromLogsToCeilings();
    void hotterAirStandsLess();
    void logsThatSayNothingSayWhy();
    void knockIsOfAFuelThatIsRead();
    void tablesAnswerTheKnockQuestion();
    void theSearchAimsAtWhatIsKnown();
    void whatIsBesideFollowsWhatIsTaught();
};

// The same as the estimate cell by cell, but for smoothed air: two degrees; its slopes by differences of the
// estimate itself.
void LearnedCeilingsTest::theSurfaceIsTheEstimate() {
    const Study study(demoJob());
    const KnockSurface k = knockSurface(study, 0.35, 100);
    const SparkEstimator estimator(study);
    for (const auto &[rpm, load] : {std::pair{3100.0, 150.0}, {4900.0, 180.0}}) {
        const OperatingPoint at{0.35, rpm, load};
        const SparkEstimate e = estimator.at(at);
        COMPARE_NEAR(k.limitDeg.lookup(rpm, load).value, e.knock.deg, 2);
        EstimateAt hot;
        hot.intakeC = study.job().conditions.intakeUsualC + 15;
        COMPARE_NEAR(k.perKDeg.lookup(rpm, load).value, (estimator.at(at, hot).knock.deg - e.knock.deg) / 15,
                     0.03);
        // A unit of ln τ is a factor of e in time; octane to the power of 3.402 makes 0.3 of it.
        ChargeModel harder = estimator.model();
        harder.octaneShift -= k.octane.lookup(rpm, load).value * (1 - std::exp(-0.3 / 3.402));
        COMPARE_NEAR(k.perLogDeg.lookup(rpm, load).value,
                     (e.knock.deg - estimator.with(harder).at(at).knock.deg) / 0.3, 0.7);
        QVERIFY(k.perKDeg.lookup(rpm, load).value < 0);
    }
    QVERIFY(k.limitDeg.y().first() >= 100);
    QCOMPARE(octaneOver(k, k, 4000, 150), 0.0);
}

// A column at 0 rpm, where no engine runs: numbers all the same, and the search asks nothing impossible.
void LearnedCeilingsTest::tablesMayBeginAtNoSpeed() {
    Job job = demoJob();
    TwoTable &spark = job.calibration.of(CalibratedQuantity::spark);
    for (Table2D *t : {&spark.base, &spark.top}) {
        std::vector<double> rpm = t->x().points();
        rpm[0] = 0;
        *t = Table2D(Axis(rpm), t->y(), t->cells());
    }
    const KnockSurface k = knockSurface(Study(job), 0.1, 80);
    for (const Table2D *t : {&k.limitDeg, &k.perLogDeg, &k.perKDeg, &k.octane})
        for (const double v : t->cells())
            QVERIFY(std::isfinite(v));
    Recorded log = knocking(job, 0, -2, 1);
    for (double &rpm : log.of[R::rpm])
        if (rpm > 3000 && rpm < 3200) rpm = 450;
    for (double &content : log.of[R::ethanol])
        content = -0.002; // a sensor's zero
    const Job with = log.in(job, "c0");
    const std::vector<std::shared_ptr<const LogReview>> one{log.review(with, "c0")};
    QVERIFY(!proposeSpark(Study(with), one, {}).cells.empty());
}

// Φ by the C library, one trial after the other.
void LearnedCeilingsTest::likelihoodByHand() {
    KnockTrials trials;
    double byHand = 0;
    for (const auto &[over, cycles, samples, knocked] :
         {std::tuple{0.05, 1.2, 1.0, true}, {-0.1, 24.0, 20.0, false}, {-0.5, 0.8, 1.0, true}}) {
        KnockTrial t;
        t.over = over;
        t.cycles = cycles;
        t.samples = samples;
        t.knocked = knocked;
        t.octane = 0.3;
        t.hotter = -0.1;
        trials.trials.push_back(t);
        const double eta = (over - (0.02 + 0.1 * 0.3 - 0.5 * 0.1)) / 0.08;
        const double heard = 0.99 * (1 - std::pow(1 - phi(eta), cycles / samples)) + 1e-6;
        byHand += samples * std::log(knocked ? heard : 1 - heard);
    }
    COMPARE_NEAR(CeilingFit::logLikelihood(trials, {0.02, 0.1, 0.5}, 0.08), byHand, 1e-9);
}

// Top and spread of posterior over a grid of scale and octane: 161 × 161 points; tolerance: a step of it for
// the top, 5 % for the spread (the posterior is not quite normal).
void LearnedCeilingsTest::mostLikelyAgainstAGrid() {
    Simulated s;
    s.ofLog = {0, 0, 0};
    s.perPlace = 12;
    const KnockTrials trials = s.trials(5);
    const CeilingPrior prior = plainPrior();
    const CeilingFit fit(trials, prior, {}, s.scatter);
    double weight = 0, meanA = 0, meanB = 0, squareA = 0, squareB = 0, best = -1e300, bestA = 0, bestB = 0;
    const double stepA = 0.0005, stepB = 0.002, middleA = fit.scale().value, middleB = fit.octane().value;
    const double top = CeilingFit::logLikelihood(trials, {middleA, middleB, 0}, s.scatter);
    for (int i = -80; i <= 80; ++i)
        for (int j = -80; j <= 80; ++j) {
            const double a = middleA + i * stepA, b = middleB + j * stepB;
            const double log = CeilingFit::logLikelihood(trials, {a, b, 0}, s.scatter) -
                               a * a / (2 * prior.scale * prior.scale) -
                               b * b / (2 * prior.octane * prior.octane);
            if (log > best) {
                best = log;
                bestA = a;
                bestB = b;
            }
            const double w = std::exp(log - top);
            weight += w;
            meanA += w * a;
            meanB += w * b;
            squareA += w * a * a;
            squareB += w * b * b;
        }
    COMPARE_NEAR(middleA, bestA, 1.5 * stepA);
    COMPARE_NEAR(middleB, bestB, 1.5 * stepB);
    const double spreadA = std::sqrt(squareA / weight - meanA * meanA / weight / weight);
    const double spreadB = std::sqrt(squareB / weight - meanB * meanB / weight / weight);
    COMPARE_NEAR(fit.scale().standardError / spreadA, 1, 0.05);
    COMPARE_NEAR(fit.octane().standardError / spreadB, 1, 0.05);
    COMPARE_NEAR(middleA, s.a, 4 * spreadA);
    COMPARE_NEAR(middleB, s.b, 4 * spreadB);
    QCOMPARE(fit.temperature().value, 0.0); // nothing was hotter
    COMPARE_NEAR(fit.temperature().standardError, prior.temperature, 1e-9);
}

// Simulated engines, smooth from place to place as the prior says: how many of their places the 95 % band
// holds.
void LearnedCeilingsTest::bandsHoldWhatIsTrue() {
    int held = 0, all = 0;
    double squares = 0;
    for (unsigned seed = 1; seed <= 5; ++seed) {
        std::mt19937 random(seed);
        std::normal_distribution<double> normal;
        Simulated s;
        s.a = 0.2 * normal(random);
        s.b = 0.3 * normal(random);
        s.ofLog = {0.04 * normal(random), 0.04 * normal(random)};
        s.perPlace = 20;
        const double tilt = 0.1 * normal(random), wave = 0.14 * normal(random), at = 3 * normal(random);
        s.ofPlace = [=](double rpm, double load) {
            return tilt * (load - 150) / 50 + wave * std::sin(rpm / 1200 + at);
        };
        CeilingPrior prior;
        prior.heard = 0;
        const KnockTrials trials = s.trials(100 + seed);
        const CeilingFit fit(trials, prior);
        for (double rpm = 2500; rpm <= 6500; rpm += 250) // between the places too
            for (const double load : {120.0, 135.0, 150.0, 180.0}) {
                const FoundNumber n = fit.at({rpm, load, 0.2, 0.08, 0});
                const double truth = s.a + s.b * 0.08 + s.ofPlace(rpm, load);
                held += std::abs(n.value - truth) < 1.96 * n.standardError;
                squares += std::pow((n.value - truth) / n.standardError, 2);
                ++all;
            }
    }
    const double share = static_cast<double>(held) / all;
    // And the errors are as large as they are said to be: neither is a band of any width.
    const double ratio = std::sqrt(squares / all);
    QVERIFY2(share > 0.90 && ratio > 0.5 && ratio < 1.25,
             qPrintable(QStringLiteral("%1 held, ratio %2").arg(share).arg(ratio)));
}

void LearnedCeilingsTest::scatterIsFound() {
    Simulated s;
    s.ofLog = {0, 0};
    for (const double scatter : {0.04, 0.12}) {
        s.scatter = scatter;
        const CeilingFit fit(s.trials(3), plainPrior());
        COMPARE_NEAR(fit.scatter() / scatter, 1, 0.25);
    }
}

void LearnedCeilingsTest::evidenceShrinksTheBand() {
    double before = CeilingPrior{}.scale;
    for (const int perPlace : {2, 10, 50}) {
        Simulated s;
        s.perPlace = perPlace;
        const KnockTrials trials = s.trials(11);
        const double sigma = CeilingFit(trials, {}, {}, s.scatter).at({4000, 150, 0.1, 0, 0}).standardError;
        QVERIFY2(sigma < before, qPrintable(QString::number(sigma)));
        before = sigma;
    }
    QVERIFY(before >= CeilingPrior{}.heard); // and never under what a sensor hears
}

void LearnedCeilingsTest::nothingSeenIsNotKnown() {
    const Job job = demoJob();
    const Study study(job);
    LearnedCeilings none = learnCeilings(study, {});
    QVERIFY(!none.any());
    for (const LearnedCeiling &c : none.at(0.1)) {
        QVERIFY(!c.known);
        QVERIFY(c.sigmaDeg > 1.5 || c.deg >= 60 || c.sigmaDeg == 0);
    }
    QVERIFY(contentsOf(none).empty());
    QCOMPARE(withLearnedCeilings(job, none, std::vector{0.1}).extras.size(), job.extras.size());
    EXPECT_INPUT_ERROR(none.at(1.2), "content", "0 to 1");
    // Only far from knock: nobody knows where it begins.
    Recorded r = knocking(job, 0.1, 0, 1);
    for (std::size_t i = 0; i < r.timeS.size(); ++i) {
        r.of[R::spark][i] = 2;
        r.of[R::knockRetard][i] = 0;
    }
    LearnedCeilings far = learnCeilings(study, reviews(job, {r}));
    QVERIFY(far.any());
    const LearnedCeiling &c = cellAt(far.at(0.1), 4000, 150);
    QVERIFY(!c.known);
    QCOMPARE(c.knocked, 0);
    QVERIFY(c.clean > 100);
    QVERIFY(std::string(forecastOf(c, 0.1).text).find("not known") != std::string::npos);
    // However much ± somebody puts up with: an estimate that no evidence has halved is not known.
    Job generous = job;
    generous.limits["evidence.ceiling_sigma"] = 6;
    const Study wide(generous);
    LearnedCeilings still = learnCeilings(wide, reviews(generous, {r}));
    const LearnedCeiling &loose = cellAt(still.at(0.1), 4000, 150);
    QVERIFY(loose.sigmaDeg <= 6 && !loose.known);
}

// Samples without any knock bend the likelihood by themselves: the error against its second difference.
void LearnedCeilingsTest::cleanSamplesAloneAgainstDifferences() {
    Simulated s;
    s.cycles = 3;
    KnockTrials trials = s.trials(3);
    std::erase_if(trials.trials, [](const KnockTrial &t) { return t.knocked; });
    const CeilingPrior prior = plainPrior();
    const CeilingFit fit(trials, prior, {}, s.scatter);
    const double a = fit.scale().value, h = 1e-3;
    const auto posterior = [&](double at) {
        return CeilingFit::logLikelihood(trials, {at, 0, 0}, s.scatter) -
               at * at / (2 * prior.scale * prior.scale);
    };
    COMPARE_NEAR((posterior(a + h) - posterior(a - h)) / (2 * h), 0, 0.5); // it is the top
    const double curvature = -(posterior(a + h) - 2 * posterior(a) + posterior(a - h)) / (h * h);
    COMPARE_NEAR(fit.scale().standardError * std::sqrt(curvature), 1, 0.02);
}

// Far from all samples a place is known no better than places differ.
void LearnedCeilingsTest::farAwayIsKnownLess() {
    Simulated s;
    const CeilingFit fit(s.trials(4), {}, {}, s.scatter);
    const double near = fit.at({4000, 150, 0.1, 0, 0}).standardError,
                 far = fit.at({4000, 150, 0.9, 0, 0}).standardError,
                 beyond = fit.at({14000, 400, 0.9, 0, 0}).standardError;
    QVERIFY(far > 1.2 * near && beyond >= far);
    QVERIFY(beyond * beyond >=
            CeilingPrior{}.cell * CeilingPrior{}.cell + CeilingPrior{}.content * CeilingPrior{}.content);
}

// Three good tanks and one that stands 2.5° less: it is named with its own number, and the ceilings are those
// of the others.
void LearnedCeilingsTest::badFuelIsNamedAndKeptApart() {
    const Job job = demoJob();
    const Study study(job);
    const std::vector<Recorded> good{knocking(job, 0.1, -1, 1), knocking(job, 0.35, -1, 2),
                                     knocking(job, 0.1, -1, 3)};
    LearnedCeilings without = learnCeilings(study, reviews(job, good));
    QVERIFY(without.doubts().empty());
    std::vector<Recorded> all = good;
    all.push_back(knocking(job, 0.1, -3.5, 4));
    LearnedCeilings with = learnCeilings(study, reviews(job, all));
    QCOMPARE(with.doubts().size(), std::size_t{1});
    const FuelDoubt &d = with.doubts().front();
    QCOMPARE(d.log, std::string("c3"));
    COMPARE_NEAR(d.off.value, -2.5, 3 * d.off.standardError);
    QVERIFY(d.off.standardError < 1);
    QVERIFY(std::string(d.said.text).find("old, watered or low grade") != std::string::npos);
    QCOMPARE(d.said.values.front().value, -d.off.value);
    for (const double load : {130.0, 170.0})
        COMPARE_NEAR(cellAt(with.at(0.1), 4000, load).deg, cellAt(without.at(0.1), 4000, load).deg, 0.3);
    // One that stands more is named as well, but only two others can tell.
    all.back() = knocking(job, 0.1, 2.5, 4);
    QCOMPARE(learnCeilings(study, reviews(job, all)).doubts().size(), std::size_t{1});
    QVERIFY(learnCeilings(study, reviews(job, {good[0], all.back()})).doubts().size() <= 1);
    const LearnedCeilings two = learnCeilings(study, reviews(job, {good[0], all.back()}));
    for (const FuelDoubt &f : two.doubts())
        QVERIFY(f.off.value < 0);
}

void LearnedCeilingsTest::oneFalseKnockIsNotBelieved() {
    Simulated s;
    KnockTrials trials = s.trials(8);
    const CeilingFit before(trials, {}, {}, s.scatter);
    KnockTrial alarm = trials.trials.front();
    alarm.over = -1.5; // 20° under the limit
    alarm.knocked = true;
    trials.trials.push_back(alarm);
    const CeilingFit after(trials, {}, {}, s.scatter);
    COMPARE_NEAR(after.at({2500, 120, 0.1, 0, 0}).value, before.at({2500, 120, 0.1, 0, 0}).value, 0.02);
}

// The log knocks 2° under the model with a scatter of a degree: that is what comes out, at the contents that
// it ran on and between them.
void LearnedCeilingsTest::fromLogsToCeilings() {
    const Job job = demoJob();
    const Study study(job);
    LearnedCeilings learned =
        learnCeilings(study, reviews(job, {knocking(job, 0.1, -2, 1), knocking(job, 0.5, -2, 2)}));
    QCOMPARE(learned.trials().logs.size(), std::size_t{2});
    for (const double content : {0.1, 0.3, 0.5}) {
        const KnockSurface k = knockSurface(study, content, 80);
        const std::vector<LearnedCeiling> cells = learned.at(content);
        QCOMPARE(cells.size(), k.limitDeg.cells().size());
        for (const double rpm : {3100.0, 4000.0, 4900.0})
            for (const double load : {150.0, 190.0}) {
                const LearnedCeiling &c = cellAt(cells, rpm, load);
                QVERIFY(c.known);
                QVERIFY2(c.sigmaDeg < 1.45, qPrintable(QString::number(c.sigmaDeg)));
                COMPARE_NEAR(c.deg, k.limitDeg.lookup(rpm, load).value - 2, 2.6 * c.sigmaDeg);
                QCOMPARE(c.knocked > 0, content != 0.3);
                QCOMPARE(c.clean > 50, content != 0.3);
            }
        const LearnedCeiling &c = cellAt(cells, 4000, 150);
        const Phrase said = forecastOf(c, content);
        QCOMPARE(said.values[1].value, c.deg);
        COMPARE_NEAR(said.values[2].value, 1.959964 * c.sigmaDeg, 1e-4);
    }
    const std::vector<double> contents = contentsOf(learned);
    QVERIFY(contents.size() >= 4 && contents.front() < 0.101 && contents.back() > 0.499);
    for (std::size_t i = 1; i < contents.size(); ++i)
        QVERIFY(contents[i] - contents[i - 1] < 0.13 && contents[i] > contents[i - 1]);
}

void LearnedCeilingsTest::hotterAirStandsLess() {
    const Job job = demoJob();
    const Study study(job);
    LearnedCeilings learned = learnCeilings(study, reviews(job, {knocking(job, 0.1, -2, 1)}));
    const double usual = cellAt(learned.at(0.1), 4000, 150).deg;
    QCOMPARE(cellAt(learned.at(0.1, job.conditions.intakeUsualC), 4000, 150).deg, usual);
    const double hot = cellAt(learned.at(0.1, job.conditions.intakeUsualC + 20), 4000, 150).deg;
    const double perK = knockSurface(study, 0.1, 80).perKDeg.lookup(4000, 150).value;
    COMPARE_NEAR(hot - usual, 20 * perK, std::abs(20 * perK) * 0.3);
    // The same knock in hotter air means that the engine stands more in the usual.
    LearnedCeilings inHot = learnCeilings(study, reviews(job, {knocking(job, 0.1, -2, 1, 65)}));
    QVERIFY(cellAt(inHot.at(0.1), 4000, 150).deg > usual + std::abs(10 * perK));
}

void LearnedCeilingsTest::logsThatSayNothingSayWhy() {
    const Job job = demoJob();
    const Study study(job);
    Recorded noRetard = knocking(job, 0.1, 0, 1), noSpark = noRetard, noFuel = noRetard;
    noRetard.of.erase(R::knockRetard);
    noSpark.of.erase(R::spark);
    noFuel.of.erase(R::ethanol);
    const LearnedCeilings l = learnCeilings(study, reviews(job, {noRetard, noSpark, noFuel}));
    QVERIFY(!l.any());
    for (const auto &[i, word] : {std::pair{0, "retard"}, {1, "spark"}, {2, "content"}}) {
        QVERIFY(!l.trials().logs[static_cast<std::size_t>(i)].used);
        QVERIFY(std::string(l.trials().logs[static_cast<std::size_t>(i)].why.text).find(word) !=
                std::string::npos);
    }
}

// Where nobody reads the content no fuel has knocked, or not: those samples say nothing, the others what they
// said.
void LearnedCeilingsTest::knockIsOfAFuelThatIsRead() {
    const Job job = demoJob();
    const Study study(job);
    Recorded log = knocking(job, 0.1, 0, 1);
    const auto trialsOf = [&](const Recorded &r) {
        KnockSurfaces surfaces(study);
        return knockTrials(surfaces, reviews(job, {r}));
    };
    const KnockTrials whole = trialsOf(log);
    constexpr double fast = 4500;
    std::size_t last = 0;
    for (std::size_t i = 0; i < log.timeS.size(); ++i)
        if (log.of[R::rpm][i] > fast) {
            if (last > 0 && log.timeS[i] > log.timeS[last] + 0.3) log.of[R::ethanol][i] = std::nan("");
            if (last == 0) last = i;
        }
    const KnockTrials deaf = trialsOf(log);
    QVERIFY(whole.logs[0].used && deaf.logs[0].used);
    const auto samples = [](const KnockTrials &t, bool above) {
        double sum = 0;
        for (const KnockTrial &one : t.trials)
            if ((one.rpm > fast) == above) sum += one.samples;
        return sum;
    };
    QCOMPARE(samples(deaf, false), samples(whole, false));
    QVERIFY(samples(whole, true) > 400);
    QVERIFY2(samples(deaf, true) <= 12, qPrintable(QString::number(samples(deaf, true))));
    COMPARE_NEAR(deaf.logs[0].content, 0.1, 1e-9);
}

// Learned ceilings hold what they stand at the least, cell by cell; where they are not known the number stays
// an estimate, and the question is not judged.
void LearnedCeilingsTest::tablesAnswerTheKnockQuestion() {
    Job job = demoJob();
    const Study study(job);
    LearnedCeilings learned =
        learnCeilings(study, reviews(job, {knocking(job, 0.1, -2, 1), knocking(job, 0.5, -2, 2)}));
    const std::vector<double> contents = contentsOf(learned);
    const Job after = withLearnedCeilings(job, learned, contents);
    const ExtraTable *first = nullptr;
    int tables = 0;
    for (const ExtraTable &e : after.extras.values())
        if (e.kind == TableKind::sparkCeiling) {
            ++tables;
            if (!first) first = &e;
        }
    QVERIFY(first);
    QCOMPARE(static_cast<std::size_t>(tables), contents.size());
    const std::vector<LearnedCeiling> cells = learned.at(first->content);
    bool known = false, open = false;
    for (std::size_t y = 0; y < first->table.y().size(); ++y)
        for (std::size_t x = 0; x < first->table.x().size(); ++x) {
            const LearnedCeiling &c = cells[y * first->table.x().size() + x];
            QCOMPARE(first->table.origin({x, y}), c.known ? CellOrigin::log : CellOrigin::estimated);
            if (c.known) COMPARE_NEAR(first->table.cell(x, y), c.deg - 1.645 * c.sigmaDeg, 0.11);
            known = known || c.known;
            open = open || !c.known;
        }
    QVERIFY(known && open);
    // Again from other evidence: replaced, not added.
    const Job again = withLearnedCeilings(after, learned, std::vector{0.1});
    QCOMPARE(std::ranges::count_if(again.extras.values(),
                                   [](const ExtraTable &e) { return e.kind == TableKind::sparkCeiling; }),
             std::ptrdiff_t{1});
    // What somebody has said stays.
    Job said = job;
    ExtraTable own = newExtraTable(TableKind::sparkCeiling, "Mine");
    said.extras.push_back(own);
    const Job both = withLearnedCeilings(said, learned, std::vector{0.1});
    QCOMPARE(
        std::ranges::count_if(both.extras.values(), [](const ExtraTable &e) { return e.name == "Mine"; }),
        std::ptrdiff_t{1});
}

// The road's search, given what the cell stands: it goes there, comes down there, and ends there when clean.
void LearnedCeilingsTest::theSearchAimsAtWhatIsKnown() {
    SparkBounds bounds;
    bounds.targetDeg = 23.2;
    SparkSeen seen;
    seen.tableDeg = seen.cleanDeg = 20;
    SparkStep step = nextSparkStep({}, SparkSchool::road, seen, bounds, 2);
    QCOMPARE(step.deg, 2.0);
    seen.tableDeg = seen.cleanDeg = 22;
    step = nextSparkStep(step.now, SparkSchool::road, seen, bounds, 2);
    QCOMPARE(step.deg, 1.0); // by no more at a time
    seen.tableDeg = seen.cleanDeg = 23;
    step = nextSparkStep(step.now, SparkSchool::road, seen, bounds, 2);
    QCOMPARE(step.deg, 0.0);
    QCOMPARE(step.now.phase, SearchPhase::recheck);
    step = nextSparkStep(step.now, SparkSchool::road, seen, bounds, 2);
    QCOMPARE(step.now.phase, SearchPhase::done);
    QCOMPARE(step.deg, 0.0);
    // It knocked: to the target, not by all that was taken; and by half a degree at the least.
    seen.tableDeg = 24;
    seen.knocked = true;
    seen.retardDeg = 3;
    step = nextSparkStep({}, SparkSchool::road, seen, bounds, 2);
    COMPARE_NEAR(step.deg, -0.8, 1e-9);
    seen.tableDeg = 23;
    COMPARE_NEAR(nextSparkStep({}, SparkSchool::road, seen, bounds, 2).deg, -0.5, 1e-9);
    seen.tableDeg = 40;
    COMPARE_NEAR(nextSparkStep({}, SparkSchool::road, seen, bounds, 2).deg, -3, 1e-9);
    // Nobody goes over best spark, and the other schools do not aim.
    seen = {};
    seen.tableDeg = seen.cleanDeg = 21;
    bounds.bestDeg = 21.2;
    QCOMPARE(nextSparkStep({}, SparkSchool::road, seen, bounds, 2).deg, 0.0);
    bounds.bestDeg.reset();
    QCOMPARE(nextSparkStep({}, SparkSchool::fixed, seen, bounds, 2).deg, 0.0);
    // What it turns out to stand less than before is taken back without waiting for a knock.
    seen.tableDeg = seen.cleanDeg = 25;
    step = nextSparkStep({}, SparkSchool::road, seen, bounds, 2);
    COMPARE_NEAR(step.deg, -1.8, 1e-9);
    // By logs: what the fit says, less a degree or two scatters, less what corrections add.
    const Job job = demoJob();
    const Recorded log = knocking(job, 0.1, -2, 1);
    Job with = log.in(job, "c0");
    with.sparkSchool = SparkSchool::road;
    const Study study(with);
    const std::vector<std::shared_ptr<const LogReview>> one{log.review(with, "c0")};
    LearnedCeilings learned =
        learnCeilings(study, reviews(job, {log, knocking(job, 0.1, -2, 2), knocking(job, 0.1, -2, 3)}));
    KnockOptions options;
    options.learned = &learned;
    const KnockProposal p = proposeSpark(study, one, options);
    int aimed = 0;
    for (const KnockCell &c : p.cells) {
        const LearnedCeiling &l = cellAt(learned.at(0.1, 45), c.rpm, c.loadKpa);
        if (!(l.sigmaDeg <= 1) || c.knocks == 0) continue;
        const double target = l.deg - std::max(1.0, 2 * l.scatterDeg) - c.offsetDeg;
        COMPARE_NEAR(c.proposedDeg, c.nowDeg + std::clamp(target - c.nowDeg, -c.retardDeg, -0.5), 1e-6);
        ++aimed;
    }
    QVERIFY(aimed >= 6);
    // A degree under what it stands is too near where cycles scatter by more than half of that.
    Job near = with;
    for (Table2D *t : {&near.calibration.of(CalibratedQuantity::spark).base,
                       &near.calibration.of(CalibratedQuantity::spark).top})
        for (const KnockCell &c : p.cells)
            t->setCell(c.cell, cellAt(learned.at(0.1, 45), c.rpm, c.loadKpa).deg - c.offsetDeg - 1.2);
    int wide = 0;
    for (const KnockCell &c : proposeSpark(Study(near), one, options).cells) {
        const LearnedCeiling &l = cellAt(learned.at(0.1, 45), c.rpm, c.loadKpa);
        if (!(l.sigmaDeg <= 1) || c.knocks == 0 || !(l.scatterDeg > 0.9 && l.scatterDeg < 1.3)) continue;
        COMPARE_NEAR(c.proposedDeg - c.nowDeg, 1.2 - 2 * l.scatterDeg, 0.05);
        ++wide;
    }
    QVERIFY(wide >= 2);
}

// Cells that no log has been in: down where they hold more than they are likely to stand, up by no more than
// they stand with 95 % and a step behind a neighbour; never where somebody has searched.
void LearnedCeilingsTest::whatIsBesideFollowsWhatIsTaught() {
    const Job job = demoJob();
    const Study study(job);
    LearnedCeilings learned =
        learnCeilings(study, reviews(job, {knocking(job, 0.1, -2, 1), knocking(job, 0.1, -2, 2)}));
    TaughtSpark taught(&learned);
    const BestSpark best(study);
    const Table2D now = study.blended(CalibratedQuantity::spark, 0.1);
    // What it says of a cell, from the ceilings by themselves.
    int known = 0;
    for (const LearnedCeiling &l : learned.at(0.1, 45)) {
        const TaughtSpark::Cell c = taught.of(l.rpm, l.loadKpa, 0.1, 45);
        const double likely = l.deg - std::max(1.0, 2 * l.scatterDeg);
        COMPARE_NEAR(*c.likely, likely, 1e-9);
        COMPARE_NEAR(*c.surely, likely - 1.644854 * l.sigmaDeg, 1e-9);
        QCOMPARE(c.target.has_value(), l.known && l.sigmaDeg <= 1);
        if (c.target) COMPARE_NEAR(*c.target, likely, 1e-9);
        known += c.target.has_value();
    }
    QVERIFY(known > 3);
    QVERIFY(!taught.of(now.x()[3], 20, 0.1, 45).surely); // no row of the model
    TaughtSpark nothing(nullptr);
    QVERIFY(!nothing.of(now.x()[3], 150, 0.1, 45).surely);

    const std::size_t x = now.x().nearest(4000), y = now.y().nearest(150);
    const double stands = *taught.of(now.x()[x], now.y()[y], 0.1, 45).surely;
    const std::vector<SearchedCell> searched{{{x, y}, stands, true}};
    const std::vector<BesideCell> cells = sparkBeside(study, searched, 0.1, 0.08, 45, taught, best);
    const auto degAt = [&](std::size_t atX, std::size_t atY) {
        for (const BesideCell &b : cells)
            if (b.cell == CellIndex{atX, atY}) return b.proposedDeg;
        return CellIndex{atX, atY} == CellIndex{x, y} ? stands : now.cell(atX, atY);
    };
    int raised = 0, lowered = 0;
    for (const BesideCell &b : cells) {
        QVERIFY((b.cell != CellIndex{x, y}));
        COMPARE_NEAR(b.nowDeg, now.cell(b.cell), 1e-12);
        const TaughtSpark::Cell c = taught.of(b.rpm, b.loadKpa, 0.1, 45);
        if (b.proposedDeg < b.nowDeg) {
            COMPARE_NEAR(b.proposedDeg, std::max(-5.0, *c.likely), 1e-9);
            ++lowered;
            continue;
        }
        ++raised;
        QVERIFY(!c.surely || b.proposedDeg <= std::max(-5.0, *c.surely) + 1e-9);
        QVERIFY(b.proposedDeg <= best.at(b.rpm, b.loadKpa, 0.1) + 1e-9);
        // Somebody beside it holds as much, or a step more.
        double most = b.cell.y + 1 < now.y().size() ? degAt(b.cell.x, b.cell.y + 1) : -99;
        for (const int side : {-1, 1})
            if (const auto to = static_cast<std::ptrdiff_t>(b.cell.x) + side;
                to >= 0 && to < std::ssize(now.x().points()))
                most = std::max(most, degAt(static_cast<std::size_t>(to), b.cell.y) - 4);
        if (b.cell.y > 0) most = std::max(most, degAt(b.cell.x, b.cell.y - 1) - 4);
        QVERIFY(b.proposedDeg <= most + 1e-9);
    }
    QVERIFY2(raised >= 3 && lowered >= 1, qPrintable(QStringLiteral("%1 %2").arg(raised).arg(lowered)));
    // Where it has knocked it stays a degree under that; where it was clean it is not taken down.
    Job seen = job;
    const auto searchAt = [&](const BesideCell &b) {
        SparkSearch s;
        s.rpm = b.rpm;
        s.loadKpa = b.loadKpa;
        s.content = 0.08;
        return s;
    };
    const auto up = std::ranges::find_if(cells,
                                         [](const BesideCell &b) { return b.proposedDeg > b.nowDeg + 2; }),
               down = std::ranges::find_if(cells,
                                           [](const BesideCell &b) { return b.proposedDeg < b.nowDeg - 1; });
    QVERIFY(up != cells.end() && down != cells.end());
    SparkSearch knocked = searchAt(*up), clean = searchAt(*down);
    knocked.knockedDeg = up->nowDeg + 2;
    clean.cleanDeg = down->nowDeg;
    seen.sparkSearches.push_back(knocked);
    seen.sparkSearches.push_back(clean);
    const Study again(seen);
    for (const BesideCell &b : sparkBeside(again, searched, 0.1, 0.08, 45, taught, best)) {
        if (b.cell == up->cell) COMPARE_NEAR(b.proposedDeg, up->nowDeg + 1, 1e-9);
        QVERIFY(!(b.cell == down->cell) || b.proposedDeg > b.nowDeg);
    }
    // However much is clean over it, best spark is enough.
    TaughtSpark none(nullptr);
    const std::vector<SearchedCell> high{{{x, y}, 55, true}};
    const std::vector<BesideCell> follow = sparkBeside(study, high, 0.1, 0.08, 45, none, best);
    const auto under = std::ranges::find_if(follow, [&](const BesideCell &b) {
        return b.cell == CellIndex{x, y - 1};
    });
    QVERIFY(under != follow.end() && under->proposedDeg < 55);
    COMPARE_NEAR(under->proposedDeg, best.at(under->rpm, under->loadKpa, 0.1), 1e-9);
    // What was found at another content is of other tables.
    for (SparkSearch *s : {&knocked, &clean})
        s->content = 0.5;
    Job elsewhere = job;
    elsewhere.sparkSearches.push_back(knocked);
    elsewhere.sparkSearches.push_back(clean);
    const Study other(elsewhere);
    const std::vector<BesideCell> same = sparkBeside(other, searched, 0.1, 0.08, 45, taught, best);
    QCOMPARE(same.size(), cells.size());
    for (std::size_t i = 0; i < cells.size(); ++i)
        QVERIFY(same[i].cell == cells[i].cell && same[i].proposedDeg == cells[i].proposedDeg);
}

CORE_TEST_MAIN(LearnedCeilingsTest)
#include "learned_ceilings_test.moc"
