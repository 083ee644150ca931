// SPDX-License-Identifier: GPL-3.0-or-later
// Two sensors of one pressure: zeros and spans that were put in by hand, found again with their errors.
#include "core/base/straight_line.h"
#include "core/proposal/boost_sensors.h"
#include "core/report/hindsight_reports.h"
#include "support/phrases.h"
#include "support/random_job.h"
#include "support/recorded_log.h"
#include "support/test_main.h"

#include <gsl/gsl_fit.h>

#include <cmath>
#include <random>

using namespace wheelwright;
using namespace wheelwright::testing;

namespace {

using R = ChannelRole;
using V = MoveVerdict;

struct Sensors {
    double zeroKpa = 0, span = 0, noiseKpa = 0.5, lagS = 0;
    int seconds = 30;
};

/// Steps of two seconds from 40 to 190 kPa with a quick rise between them; the dyno's sensor after its own
/// filter.
Recorded logOf(const Sensors &s, unsigned seed = 1) {
    std::mt19937 random(seed);
    std::normal_distribution<double> noise(0, 1);
    Recorded r;
    double dyno = 40;
    for (int i = 0; i < s.seconds * 50; ++i) {
        const double t = i * 0.02, within = std::fmod(t, 2.0);
        const double level = 40 + 150 * std::fmod(std::floor(t / 2) * 0.37, 1.0);
        const double before = 40 + 150 * std::fmod(std::max(0.0, std::floor(t / 2) - 1) * 0.37, 1.0);
        const double truth = before + (level - before) * std::min(1.0, within / 0.5);
        const double reads = truth + s.zeroKpa + s.span * truth;
        dyno = s.lagS > 0 ? dyno + (reads - dyno) * std::min(1.0, 0.02 / s.lagS) : reads;
        r.add(t, {{R::rpm, 3000},
                  {R::throttle, 0.5},
                  {R::map, truth + s.noiseKpa * noise(random)},
                  {R::dynoMap, dyno + s.noiseKpa * noise(random)},
                  {R::ethanol, 0.5}});
    }
    return r;
}

SensorComparison compare(const Recorded &r) {
    const Job job = r.in(demoJob());
    const std::vector<std::shared_ptr<const LogReview>> logs{r.review(job)};
    const std::vector<SensorComparison> out = compareBoostSensors(logs);
    return out.size() == 1 ? out[0] : SensorComparison();
}

bool saysOf(const SensorComparison &c, std::string_view word) {
    return std::ranges::any_of(c.said, [&](const Phrase &s) { return says(s, word); });
}

} // namespace

class BoostSensorsTest : public QObject {
    Q_OBJECT
  private slots:
    void aLineIsTheReferenceLibrarys();
    void aZeroIsFoundWithItsError();
    void aSpanIsToldFromAZero();
    void theErrorIsWhatRepeatedLogsScatter();
    void aRiseIsNoDifference();
    void aResidualIsJudgedWithItsInterval();
    void tooLittleIsNotJudged();
    void theSheetSaysIt();
};

// GSL's line through the same points: slope, level in the middle, and their covariances.
void BoostSensorsTest::aLineIsTheReferenceLibrarys() {
    std::mt19937 random(7);
    std::uniform_real_distribution<double> any(-3, 8);
    std::vector<double> x, y, centred;
    for (int i = 0; i < 23; ++i) {
        x.push_back(any(random));
        y.push_back(1.5 - 0.4 * x.back() + any(random));
    }
    const StraightLine line = lineThrough(x, y);
    for (const double v : x)
        centred.push_back(v - line.middle);
    double level = 0, slope = 0, levels = 0, both = 0, slopes = 0, squares = 0;
    gsl_fit_linear(centred.data(), 1, y.data(), 1, x.size(), &level, &slope, &levels, &both, &slopes,
                   &squares);
    COMPARE_NEAR(line.slope, slope, 1e-12);
    COMPARE_NEAR(line.level, level, 1e-12);
    COMPARE_NEAR(line.slopeError, std::sqrt(slopes), 1e-12);
    COMPARE_NEAR(line.levelError, std::sqrt(levels), 1e-12);
    COMPARE_NEAR(line.rms, std::sqrt(squares / 23), 1e-12);
    COMPARE_NEAR(line.at(2), level + slope * (2 - line.middle), 1e-12);
    // Nothing to go by, and too little for errors.
    QCOMPARE(lineThrough({}, {}).slope, 0.0);
    const std::vector<double> two{1, 3}, of{5, 9};
    COMPARE_NEAR(lineThrough(two, of).slope, 2, 1e-12);
    QCOMPARE(lineThrough(two, of).slopeError, 0.0);
    const std::vector<double> same{2, 2, 2}, other{1, 2, 6};
    QCOMPARE(lineThrough(same, other).slope, 0.0);
}

void BoostSensorsTest::aZeroIsFoundWithItsError() {
    const SensorComparison c = compare(logOf({.zeroKpa = -8}, 2));
    QVERIFY(c.stretches >= 10 && c.stretches <= 30);
    COMPARE_NEAR(c.offKpa, -8, 4 * c.offError);
    // Means of some fifty samples with noise in both: 0.5 √2 / √50, over the root of the seconds.
    COMPARE_NEAR(c.offError, 0.1 / std::sqrt(static_cast<double>(c.stretches)), 0.012);
    QVERIFY(c.verdict == V::off && !c.span);
    QVERIFY((saysOf(c, "8.0 kPa") || saysOf(c, "7.9 kPa") || saysOf(c, "8.1 kPa")) && saysOf(c, "less") &&
            saysOf(c, "overboost cut"));
    COMPARE_NEAR(c.toleranceKpa, 5, 1e-12);
    const SensorComparison fine = compare(logOf({.zeroKpa = 2}));
    QVERIFY(fine.verdict == V::asExpected && saysOf(fine, "more") && !saysOf(fine, "overboost"));
    COMPARE_NEAR(fine.offKpa, 2, 4 * fine.offError);
}

void BoostSensorsTest::aSpanIsToldFromAZero() {
    // Right with the air around it, and 4 kPa off for a hundred more: 1.4 in the middle, 3.5 at the end.
    const SensorComparison c = compare(logOf({.zeroKpa = -4, .span = 0.04}));
    QVERIFY(c.span);
    COMPARE_NEAR(c.perKpa, 0.04, 4 * c.perKpaError);
    COMPARE_NEAR(c.offKpa, -4 + 0.04 * c.middleKpa, 4 * c.offError);
    QVERIFY(c.fromKpa < 50 && c.toKpa > 180 && saysOf(c, "span"));
    QVERIFY(c.verdict == V::asExpected);
    // It is judged where it is worst, not in the middle.
    const SensorComparison worse = compare(logOf({.zeroKpa = -8, .span = 0.08}));
    QVERIFY(std::abs(worse.offKpa) < 5 && worse.verdict == V::off);
}

// The scatter of what many logs find is the error that each of them says.
void BoostSensorsTest::theErrorIsWhatRepeatedLogsScatter() {
    double sum = 0, squares = 0, said = 0, slopes = 0, slopeSaid = 0, spans = 0;
    constexpr int logs = 60;
    for (unsigned seed = 1; seed <= logs; ++seed) {
        const SensorComparison c = compare(logOf({.zeroKpa = 3, .noiseKpa = 2}, seed));
        sum += c.offKpa / logs;
        squares += c.offKpa * c.offKpa / logs;
        said += c.offError / logs;
        slopes += c.perKpa * c.perKpa / logs;
        slopeSaid += c.perKpaError / logs;
        spans += c.span;
    }
    COMPARE_NEAR(sum, 3, 0.05);
    COMPARE_NEAR(std::sqrt(squares - sum * sum) / said, 1, 0.3);
    COMPARE_NEAR(std::sqrt(slopes) / slopeSaid, 1, 0.3);
    COMPARE_NEAR(spans / logs, 0.05, 0.07); // none is there: one in twenty finds one
}

void BoostSensorsTest::aRiseIsNoDifference() {
    const SensorComparison c = compare(logOf({.lagS = 0.15}));
    QVERIFY(c.stretches >= 6);
    COMPARE_NEAR(c.offKpa, 0, 0.3);
    QVERIFY(c.verdict == V::asExpected);
    // Nothing but rises, which a slow filter reads low all the way: nothing to compare.
    Recorded rises;
    double dyno = 40;
    for (int i = 0; i < 2000; ++i) {
        const double truth = 40 + 150 * std::fmod(i * 0.02, 5.0) / 5;
        dyno += (truth - dyno) * 0.05;
        rises.add(
            i * 0.02,
            {{R::rpm, 3000}, {R::throttle, 0.5}, {R::map, truth}, {R::dynoMap, dyno}, {R::ethanol, 0.5}});
    }
    QVERIFY(compare(rises).verdict == V::notJudged);
}

// The three regions of a residual with its ±, and their edges.
void BoostSensorsTest::aResidualIsJudgedWithItsInterval() {
    for (const double sign : {1.0, -1.0}) {
        QVERIFY(judgeResidual(sign * 3, 1.9, 5) == V::asExpected);
        QVERIFY(judgeResidual(sign * 3, 2.1, 5) == V::notSure);
        QVERIFY(judgeResidual(sign * 6, 1.1, 5) == V::notSure);
        QVERIFY(judgeResidual(sign * 6, 0.9, 5) == V::off);
    }
    QVERIFY(judgeResidual(3, 2, 5) == V::asExpected);
}

void BoostSensorsTest::tooLittleIsNotJudged() {
    const SensorComparison c = compare(logOf({.zeroKpa = 20, .seconds = 5}));
    QVERIFY(c.verdict == V::notJudged && saysOf(c, "6 are needed"));
    // A log with one sensor alone is none of its business.
    Recorded one = logOf({});
    one.of.erase(R::dynoMap);
    const Job job = one.in(demoJob());
    const std::vector<std::shared_ptr<const LogReview>> logs{one.review(job)};
    QVERIFY(compareBoostSensors(logs).empty());
}

void BoostSensorsTest::theSheetSaysIt() {
    const Recorded r = logOf({.zeroKpa = -8});
    const Job job = r.in(demoJob());
    const std::vector<std::shared_ptr<const LogReview>> logs{r.review(job)};
    const std::string text = plainText(boostPullsReport({}, compareBoostSensors(logs), job).report, {});
    QVERIFY2(text.find("dyno's sensor") != std::string::npos && text.find(".0 kPa ±") != std::string::npos &&
                 text.find("aa.csv: off") != std::string::npos,
             text.c_str());
}

CORE_TEST_MAIN(BoostSensorsTest)
#include "boost_sensors_test.moc"
