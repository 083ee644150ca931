// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/error.h"
#include "core/base/phrase.h"
#include "core/fuel/content_measurement.h"
#include "core/fuel/settling.h"
#include "core/fuel/tank.h"
#include "core/fuel/uncertain_tank.h"
#include "core/report/pour_sheet.h"
#include "core/study/pour_effect.h"
#include "support/phrases.h"
#include "support/random_job.h"
#include "support/test_main.h"

#include <gsl/gsl_errno.h>
#include <gsl/gsl_odeiv2.h>

#include <cmath>
#include <random>

using namespace wheelwright;

namespace {

Blend e(double fraction) {
    return {VolumeFraction::fraction(fraction)};
}
Blend m(double fraction) {
    return {VolumeFraction::fraction(0), VolumeFraction::fraction(fraction)};
}

struct Spread {
    double mean = 0, sigma = 0;
};

template <class Draw>
Spread monteCarlo(Draw draw) {
    std::mt19937 r(2718);
    constexpr int samples = 200000;
    double sum = 0, squares = 0;
    for (int i = 0; i < samples; ++i) {
        const double v = draw(r);
        sum += v;
        squares += v * v;
    }
    const double mean = sum / samples;
    return {mean, std::sqrt(squares / samples - mean * mean)};
}

double gaussian(std::mt19937 &r, Uncertain u) {
    return std::normal_distribution<>(u.value, u.sigma)(r);
}

} // namespace

/// Tank arithmetic against the product's handbook (chapter 2), settling against GSL's integrator, error
/// propagation against Monte Carlo.
class TankTest : public QObject {
    Q_OBJECT
  private slots:
    void poursOfTheHandbook();
    void pouringInPartsIsPouringAtOnce();
    void drainingKeepsTheContent();
    void errorsAgreeWithMonteCarlo();
    void flushFollowsTheFormula();
    void flushThatCannotBe();
    void settlingAgreesWithAnIntegrator();
    void sensorInTheReturnLagsBehind();
    void historyErrorsAgreeWithMonteCarlo();
    void settlingTimeIsWhereTheCurveSettles();
    void tubeOfTheHandbook();
    void tubeErrorAgreesWithMonteCarlo();
    void sensorOfTheHandbook_data();
    void sensorOfTheHandbook();
    void wrongFuelOfTheHandbook_data();
    void wrongFuelOfTheHandbook();
    void pouringWhatIsThereChangesNothing();
    void onceTheSensorHasReadIt();
    void wordsWarn();
    void refusesNonsense();
};

void TankTest::poursOfTheHandbook() {
    // A 61 L tank at 44 % holds 26.84 L of E59: filled with E0 → E26.0; 35 L of E0 instead → E25.6.
    const TankState tank{61 * 0.44, e(0.59)};
    COMPARE_NEAR(afterPour(tank, 61 - tank.volumeL, {}).content.ethanol.percent(), 26.0, 0.05);
    COMPARE_NEAR(afterPour(tank, 35, {}).content.ethanol.percent(), 25.6, 0.05);
    // 15 L of methanol into 45 L is M25.
    COMPARE_NEAR(afterPour({45, {}}, 15, m(1)).content.methanol.percent(), 25, 1e-9);
}

void TankTest::pouringInPartsIsPouringAtOnce() {
    const TankState tank{20, e(0.3)};
    TankState parts = tank;
    for (int i = 0; i < 10; ++i)
        parts = afterPour(parts, 2.5, m(0.7));
    const TankState once = afterPour(tank, 25, m(0.7));
    COMPARE_NEAR(parts.volumeL, once.volumeL, 1e-12);
    COMPARE_NEAR(parts.content.ethanol.fraction(), once.content.ethanol.fraction(), 1e-12);
    COMPARE_NEAR(parts.content.methanol.fraction(), once.content.methanol.fraction(), 1e-12);
    COMPARE_NEAR(once.volumeL * once.content.ethanol.fraction(), 20 * 0.3,
                 1e-12); // no alcohol is made or lost
    QCOMPARE(afterPour(tank, 0, e(1)).content.ethanol, tank.content.ethanol);
}

void TankTest::drainingKeepsTheContent() {
    const TankState rest = afterDrain({40, e(0.6)}, 15);
    QCOMPARE(rest.volumeL, 25.0);
    QCOMPARE(rest.content.ethanol.fraction(), 0.6);
    EXPECT_INPUT_ERROR(afterDrain({40, e(0.6)}, 41), "drain", "40");
}

void TankTest::errorsAgreeWithMonteCarlo() {
    const Uncertain volume{26.84, 1.5}, content{0.59, 0.02};
    const std::vector<UncertainPour> pours{{{20, 0.2}, {0, 0.005}}, {{8, 0.1}, {0.85, 0.04}}};
    const Uncertain ours = contentAfter(volume, content, pours);
    const Spread sampled = monteCarlo([&](std::mt19937 &r) {
        double total = gaussian(r, volume), alcohol = total * gaussian(r, content);
        for (const UncertainPour &p : pours) {
            const double litres = gaussian(r, p.litres);
            total += litres;
            alcohol += litres * gaussian(r, p.content);
        }
        return alcohol / total;
    });
    COMPARE_NEAR(ours.value, sampled.mean, 5e-4);
    COMPARE_NEAR(ours.sigma, sampled.sigma, 0.02 * sampled.sigma); // first order, 200 000 samples
    QCOMPARE(contentAfter({26.84, 0}, {0.59, 0}, {}).sigma, 0.0);
}

void TankTest::flushFollowsTheFormula() {
    const FlushPlan plan = planFlush(50, 0.10, 0.85, 10, 60, 0.83, 0.01);
    QVERIFY(plan.possible && plan.fills == 2);
    for (std::size_t i = 0; i < plan.contents.size(); ++i) // handbook: c_n = c_a + (c_0 − c_a)(r/V)^n
        COMPARE_NEAR(plan.contents[i], 0.85 + (0.10 - 0.85) * std::pow(10.0 / 60, static_cast<double>(i) + 1),
                     1e-12);
    // The same by pouring, one fill after the other.
    TankState tank{10, e(0.10)};
    for (double expected : plan.contents) {
        tank = afterPour(tank, 50, e(0.85));
        COMPARE_NEAR(tank.content.ethanol.fraction(), expected, 1e-12);
        tank.volumeL = 10;
    }
    COMPARE_NEAR(plan.fuelL, 50.0 * plan.fills, 1e-9);
    const FlushPlan down = planFlush(50, 0.80, 0.10, 10, 60, 0.10, 0.01); // and back
    QVERIFY(down.possible && down.fills == 3);
    QCOMPARE(planFlush(50, 0.40, 0.85, 10, 60, 0.405, 0.01).fills, 0); // near enough already
}

void TankTest::flushThatCannotBe() {
    QVERIFY(!planFlush(50, 0.10, 0.60, 10, 60, 0.80, 0.01).possible); // the fill itself is short of it
    QVERIFY(planFlush(50, 0.10, 0.85, 10, 60, 0.30, 0.01).lastL > 0); // a whole fill would jump over it
    EXPECT_INPUT_ERROR(planFlush(70, 0.10, 0.85, 10, 60, 0.30, 0.01), "tank");
    EXPECT_INPUT_ERROR(planFlush(50, 0.10, 0.85, 60, 60, 0.30, 0.01), "tank");
    EXPECT_INPUT_ERROR(planFlush(50, 0.10, 0.85, 10, 60, 0.30, 0), "tolerance");
}

void TankTest::settlingAgreesWithAnIntegrator() {
    const FuelPath path{0.5, 1.2, 2.0, 3.5};
    struct Vessel {
        double rate, after;
    } vessel{3.5 / 2.0, 0.70};
    const gsl_odeiv2_system system{[](double, const double c[], double d[], void *p) {
                                       const auto *v = static_cast<const Vessel *>(p);
                                       d[0] = v->rate * (v->after - c[0]);
                                       return static_cast<int>(GSL_SUCCESS);
                                   },
                                   nullptr, 1, &vessel};
    gsl_odeiv2_driver *driver =
        gsl_odeiv2_driver_alloc_y_new(&system, gsl_odeiv2_step_rk8pd, 1e-4, 1e-12, 1e-12);
    double t = 0, c[1] = {0.20};
    const double delay = 0.5 / 1.2;
    for (int i = 1; i <= 40; ++i) {
        const double minutes = 0.1 * i;
        QCOMPARE(gsl_odeiv2_driver_apply(driver, &t, minutes, c), static_cast<int>(GSL_SUCCESS));
        COMPARE_NEAR(sensorContent(path, 0.20, 0.70, minutes + delay), c[0], 1e-9);
    }
    gsl_odeiv2_driver_free(driver);
    QCOMPARE(sensorContent(path, 0.20, 0.70, delay * 0.999), 0.20); // plug flow: nothing before the delay
}

// A sensor in the return sees the fuel after the injectors: line, rail and return, the last at what comes
// back. Hand-computed delays, beside the integrator for the shape.
void TankTest::sensorInTheReturnLagsBehind() {
    FuelPath path{0.6, 2.0, 1.5, 3.0};
    path.railL = 0.2;
    path.returnL = 0.45;
    path.useLMin = 0.5;
    COMPARE_NEAR(sensorDelayMinutes(path), 0.6 / 2, 1e-12); // in the feed: before the rail
    COMPARE_NEAR(injectorDelayMinutes(path), 0.8 / 2, 1e-12);
    const double injectors = injectorSettlingMinutes(path, 0.1, 0.7);
    QVERIFY(settlingMinutes(path, 0.1, 0.7) < injectors);
    path.place = SensorPlace::returnLine;
    COMPARE_NEAR(sensorDelayMinutes(path), 0.8 / 2 + 0.45 / 1.5, 1e-12);
    COMPARE_NEAR(injectorSettlingMinutes(path, 0.1, 0.7), injectors,
                 1e-12); // they do not care for the sensor
    const double lag = sensorDelayMinutes(path) - injectorDelayMinutes(path);
    for (double t = 0; t < 5; t += 0.05)
        COMPARE_NEAR(sensorContent(path, 0.1, 0.7, t + lag), injectorContent(path, 0.1, 0.7, t), 1e-12);
    path.useLMin = 2; // everything is burned: nothing comes back
    EXPECT_INPUT_ERROR(sensorDelayMinutes(path), "fuel burned", "comes back");
}

// A dozen random events with uncertain litres and contents: the covariance that pouring makes must be
// carried.
void TankTest::historyErrorsAgreeWithMonteCarlo() {
    struct Event {
        int kind;
        Uncertain litres, content;
    };
    std::mt19937 seed(5);
    const auto between = [&](double a, double b) { return std::uniform_real_distribution<>(a, b)(seed); };
    for (int round = 0; round < 3; ++round) {
        std::vector<Event> events;
        for (int i = 0; i < 8; ++i)
            events.push_back({i % 3,
                              {i % 3 == 1 ? between(1, 4) : between(5, 12), between(0.1, 0.5)},
                              {between(0.1, 0.9), between(0.005, 0.03)}});
        const Uncertain level{30, 1}, content{0.4, 0.03};
        UncertainTank tank(level, content);
        for (const Event &e : events)
            e.kind == 1 ? tank.take(e.litres) : tank.pour(e.litres, e.content);
        const auto draw = [&](std::mt19937 &r, bool volume) {
            double v = gaussian(r, level), c = gaussian(r, content);
            for (const Event &e : events) {
                const double litres = gaussian(r, e.litres), added = gaussian(r, e.content);
                if (e.kind == 1) {
                    v -= litres;
                    continue;
                }
                c = (v * c + litres * added) / (v + litres);
                v += litres;
            }
            return volume ? v : c;
        };
        const Spread drawn = monteCarlo([&](std::mt19937 &r) { return draw(r, false); });
        const Spread volume = monteCarlo([&](std::mt19937 &r) { return draw(r, true); });
        COMPARE_NEAR(tank.content().value, drawn.mean, 0.0005);
        COMPARE_NEAR(tank.content().sigma / drawn.sigma, 1, 0.02); // first order, 200,000 samples
        COMPARE_NEAR(tank.volumeL().value, volume.mean, 0.02);
        COMPARE_NEAR(tank.volumeL().sigma / volume.sigma, 1, 0.02);
    }
    UncertainTank empty; // nothing known: what is poured into nothing is known
    empty.pour({10, 0}, {0.3, 0.01});
    COMPARE_NEAR(empty.content().value, 0.3, 1e-12);
    COMPARE_NEAR(empty.content().sigma, 0.01, 1e-12);
}

void TankTest::settlingTimeIsWhereTheCurveSettles() {
    for (const FuelPath &path :
         {FuelPath{0.5, 1.2, 2, 3.5}, FuelPath{0.4, 0.2, 0, 0}, FuelPath{0.3, 0.5, 1.5, 0}}) {
        const double t = settlingMinutes(path, 0.10, 0.60);
        QVERIFY(std::abs(sensorContent(path, 0.10, 0.60, t + 1e-9) - 0.60) <= 0.01 + 1e-9);
        QVERIFY(std::abs(sensorContent(path, 0.10, 0.60, t - 1e-3) - 0.60) > 0.01);
        const auto curve = settlingCurve(path, 0.10, 0.60, 50);
        QCOMPARE(curve.size(), std::size_t{50});
        QVERIFY(curve.back().minutes > t);
        for (std::size_t i = 1; i < curve.size(); ++i)
            QVERIFY(curve[i].content >= curve[i - 1].content);
    }
    QCOMPARE(settlingMinutes({0.5, 1.2, 2, 3.5}, 0.60, 0.605), 0.0);
}

void TankTest::tubeOfTheHandbook() {
    const TubeResult r = tubeContent({10, 100, 73, 0, 0, 0}); // (S − W)/(T − W)
    COMPARE_NEAR(r.content.value, 63.0 / 90, 1e-12);
    QCOMPARE(r.content.sigma, 0.0);
    // A layer that has lost 3.5 % was larger before: corrected content is higher.
    COMPARE_NEAR(tubeContent({10, 100, 73, 0, 0.035, 0}).content.value, (73 / 0.965 - 10) / 90, 1e-12);
    QCOMPARE(tubeContent({10, 100, 10, 0.5, 0, 0}).content.value, 0.0);
    // Under the water line something was misread: no content follows from it.
    EXPECT_INPUT_ERROR(tubeContent({10, 100, 9.5, 0.5, 0, 0}), "layer");
}

void TankTest::tubeErrorAgreesWithMonteCarlo() {
    const TubeReading reading{10, 100, 73, 0.5, 0.03, 0.01};
    const Spread sampled = monteCarlo([&](std::mt19937 &r) {
        const double w = gaussian(r, {10, 0.5}), t = gaussian(r, {100, 0.5}), s = gaussian(r, {73, 0.5});
        return (s / (1 - gaussian(r, {0.03, 0.01})) - w) / (t - w);
    });
    const Uncertain ours = tubeContent(reading).content;
    COMPARE_NEAR(ours.value, sampled.mean, 5e-4);
    COMPARE_NEAR(ours.sigma, sampled.sigma, 0.02 * sampled.sigma);
}

void TankTest::sensorOfTheHandbook_data() {
    QTest::addColumn<double>("hertz");
    QTest::addColumn<double>("pulse");
    QTest::addColumn<double>("content");
    QTest::addColumn<double>("celsius");
    QTest::addColumn<QString>("fault");
    QTest::newRow("no alcohol, cold") << 50.0 << 1.0 << 0.0 << -40.0 << "none";
    QTest::newRow("all alcohol, hot") << 150.0 << 5.0 << 1.0 << 125.0 << "none";
    QTest::newRow("half way") << 100.0 << 3.0 << 0.5 << 42.5 << "none";
    QTest::newRow("a hair under") << 48.0 << 3.0 << 0.0 << 42.5 << "none";
    QTest::newRow("silent") << 0.0 << 3.0 << 0.0 << 42.5 << "no_signal";
    QTest::newRow("too low") << 30.0 << 3.0 << 0.0 << 42.5 << "low_range";
    QTest::newRow("too high") << 165.0 << 3.0 << 1.0 << 42.5 << "high_range";
    QTest::newRow("water") << 180.0 << 3.0 << 1.0 << 42.5 << "contaminated";
    QTest::newRow("pulse too long") << 100.0 << 6.0 << 0.5 << 166.25 << "temperature_range";
}

void TankTest::sensorOfTheHandbook() {
    QFETCH(double, hertz);
    QFETCH(double, pulse);
    QFETCH(double, content);
    QFETCH(double, celsius);
    QFETCH(QString, fault);
    const SensorReading r = readContentSensor(hertz, pulse);
    COMPARE_NEAR(r.content, content, 1e-12);
    COMPARE_NEAR(r.temperatureC, celsius, 1e-9);
    QCOMPARE(QString::fromStdString(std::string(faultId(r.fault))), fault);
    QVERIFY(!faultWords(r.fault).empty());
}

void TankTest::wrongFuelOfTheHandbook_data() {
    QTest::addColumn<double>("tuned");
    QTest::addColumn<double>("poured");
    QTest::addColumn<double>("percentLean");
    // Handbook, chapter 4: one calibration each content.
    QTest::newRow("E70 file on E80") << 0.70 << 0.80 << 4.9;
    QTest::newRow("E85 file on E60") << 0.85 << 0.60 << -11.1;
    QTest::newRow("pump file on E85") << 0.10 << 0.85 << 37.6;
}

void TankTest::wrongFuelOfTheHandbook() {
    QFETCH(double, tuned);
    QFETCH(double, poured);
    QFETCH(double, percentLean);
    // A tank so nearly empty that what is poured is what is in it.
    const PourEffect effect = effectOfPour(Study(testing::demoJob()), {1e-9, e(tuned)}, 50, e(poured));
    COMPARE_NEAR((effect.lambdaFactor - 1) * 100, percentLean, 0.05);
    COMPARE_NEAR(effect.lambda, effect.lambdaTarget * effect.lambdaFactor, 1e-12);
    QCOMPARE(effect.sparkDeg > effect.sparkOfContentDeg, poured < tuned);
}

void TankTest::pouringWhatIsThereChangesNothing() {
    const PourEffect effect = effectOfPour(Study(testing::demoJob()), {30, e(0.5)}, 20, e(0.5));
    COMPARE_NEAR(effect.lambdaFactor, 1, 1e-12);
    COMPARE_NEAR(effect.sparkDeg, effect.sparkOfContentDeg, 1e-12);
    QVERIFY(format(together(inWords(effect, false)), UnitChoice{}).find("The mixture stays as it was") !=
            std::string::npos);
}

// Two answers for a car with a content sensor. Ethanol: once it is read, all is as meant. Methanol: the
// sensor takes it for as much ethanol, and it needs more; by hand, λ is off by the ratio of ρ · AFR.
void TankTest::onceTheSensorHasReadIt() {
    const Study study(testing::demoJob());
    const PourEffect ethanol = effectOfPour(study, {20, e(0.1)}, 40, e(0.85));
    QVERIFY(ethanol.follows && ethanol.lambdaFactor > 1.1);
    COMPARE_NEAR(ethanol.reading, (20 * 0.1 + 40 * 0.85) / 60, 1e-12);
    COMPARE_NEAR(ethanol.settledFactor(), 1, 1e-9);
    COMPARE_NEAR(ethanol.settledSparkDeg,
                 blendedPoint(study, {ethanol.reading, ethanol.rpm, ethanol.loadKpa}).sparkDeg, 1e-12);
    const PourEffect methanol = effectOfPour(study, {20, e(0)}, 20, m(1));
    COMPARE_NEAR(methanol.reading, 0.5, 1e-12);
    const BlendModel &b = study.blends();
    const auto air = [](const Component &c) { return c.densityKgM3 * c.stoichiometricAfr; };
    COMPARE_NEAR(methanol.settledFactor(),
                 (air(b.gasoline()) + air(b.ethanol())) / (air(b.gasoline()) + air(b.methanol())), 1e-9);
    QVERIFY(testing::says(together(inWords(methanol, true)), "Once it reads E50: lean by 12."));
    Job blind = testing::demoJob();
    blind.fuelSystem.contentSensor = false;
    QVERIFY(!effectOfPour(Study(blind), {20, e(0.1)}, 40, e(0.85)).follows);
    // Spark of the old content is held against what the new one stands.
    const PourEffect down = effectOfPour(study, {10, e(0.85)}, 50, e(0.1));
    QVERIFY(down.ceilingDeg && down.sparkDeg > *down.ceilingDeg);
    QVERIFY(testing::says(together(inWords(down, false)), "was found to stand there"));
}

void TankTest::wordsWarn() {
    const auto words = [](double tuned, const Blend &poured, bool methanol) {
        return format(
            together(inWords(effectOfPour(Study(testing::demoJob()), {20, e(tuned)}, 40, poured), methanol)),
            UnitChoice{});
    };
    const std::string down = words(0.85, e(0), false);
    QVERIFY2(down.find("Rich by") != std::string::npos && down.find("knock") != std::string::npos,
             down.c_str());
    const std::string up = words(0.10, e(0.85), false);
    QVERIFY2(up.find("Lean by") != std::string::npos && up.find("destroys engines") != std::string::npos,
             up.c_str());
    QVERIFY(words(0.10, m(0.5), true).find("cannot tell methanol") != std::string::npos);
    QVERIFY(up.find('{') == std::string::npos);
}

void TankTest::refusesNonsense() {
    EXPECT_INPUT_ERROR(afterPour({-1, {}}, 5, {}), "tank volume");
    EXPECT_INPUT_ERROR(afterPour({1, {}}, std::nan(""), {}), "pour");
    EXPECT_INPUT_ERROR(afterPour({1, {}}, 5, e(1.5)), "ethanol");
    EXPECT_INPUT_ERROR(contentAfter({0, 1}, {0.5, 0}, {}), "tank");
    EXPECT_INPUT_ERROR(sensorContent({0.4, 0, 0, 0}, 0, 1, 1), "line flow");
    EXPECT_INPUT_ERROR(settlingMinutes({0.4, 1, 0, 0}, 0, 1, 0), "within");
    EXPECT_INPUT_ERROR(tubeContent({100, 10, 50, 0.5, 0, 0}), "fuel line");
    EXPECT_INPUT_ERROR(tubeContent({10, 100, 150, 0.5, 0, 0}), "layer");
    EXPECT_INPUT_ERROR(tubeContent({10, 100, 50, 0.5, 0.5, 0}), "contraction");
    EXPECT_INPUT_ERROR(readContentSensor(-5, 3), "frequency");
}

CORE_TEST_MAIN(TankTest)
#include "tank_test.moc"
