// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/error.h"
#include "core/job/job_schema.h"
#include "core/study/mechanical_lambda.h"
#include "support/test_main.h"

#include <gsl/gsl_errno.h>
#include <gsl/gsl_multiroots.h>

#include <numbers>
#include <random>

using namespace wheelwright;

namespace {

constexpr double mmPerInch = 25.4, litresPerUsGallon = 3.785411784, kpaPerPsi = 6.894757293;

// Handbook chapter 3: 8.5 US gal/min, eight 0.042 in nozzles, one pill.
MechanicalInjection handbookPump(double pillInch) {
    MechanicalInjection m;
    m.pumpLMin = 8.5 * litresPerUsGallon;
    m.pumpRpm = 7500;
    m.nozzles = 8;
    m.nozzleMm = 0.042 * mmPerInch;
    m.main.diameterMm = pillInch * mmPerInch;
    return m;
}

// The network as equations in pressure and the flows of nozzles, main and high-speed jet; written apart from
// the product, SI, for GSL's solver. A jet is either open or shut here.
struct Equations {
    const MechanicalInjection *m;
    double pumpM3S;
    bool mainOpen, highOpen;
    double backPa;
};
double orifice(double discharge, double diameterMm, double pa, double density) {
    const double area = std::numbers::pi / 4 * diameterMm * diameterMm * 1e-6;
    return discharge * area * std::copysign(std::sqrt(2 * std::abs(pa) / density), pa);
}
int residual(const gsl_vector *x, void *data, gsl_vector *f) {
    const auto *e = static_cast<const Equations *>(data);
    const double pa = gsl_vector_get(x, 0) * 1e3, n = gsl_vector_get(x, 1) * 1e-6,
                 a = gsl_vector_get(x, 2) * 1e-6, h = gsl_vector_get(x, 3) * 1e-6;
    const MechanicalInjection &m = *e->m;
    gsl_vector_set(f, 0, (n + a + h - e->pumpM3S) * 1e6);
    gsl_vector_set(
        f, 1, (n - m.nozzles * orifice(m.dischargeNozzles, m.nozzleMm, pa - e->backPa, m.densityKgM3)) * 1e6);
    gsl_vector_set(
        f, 2, (a - (e->mainOpen ? orifice(m.dischargeJets, m.main.diameterMm, pa, m.densityKgM3) : 0)) * 1e6);
    gsl_vector_set(
        f, 3,
        (h - (e->highOpen ? orifice(m.dischargeJets, m.highSpeed.diameterMm, pa, m.densityKgM3) : 0)) * 1e6);
    return GSL_SUCCESS;
}

} // namespace

/// Mechanical injection against the product's handbook (chapter 3), GSL's solver, and balances of mass.
class MechanicalInjectionTest : public QObject {
    Q_OBJECT
  private slots:
    void sharesOfTheHandbook_data();
    void sharesOfTheHandbook();
    void pressureOfTheHandbook();
    void networkAgreesWithGsl();
    void nozzlesSprayAgainstTheManifold();
    void massIsKept();
    void springsOpenInOrder();
    void modulatingJetHoldsItsPressure();
    void mixtureByHand();
    void pillsAreOrdered();
    void weatherKeepsLambda();
    void airOfTheStandardAtmosphere();
    void passesAreRead();
    void chartIsSortedByArea();
    void weatherMovesThePill();
    void refusesNonsense();
};

void MechanicalInjectionTest::sharesOfTheHandbook_data() {
    QTest::addColumn<double>("pillInch");
    QTest::addColumn<double>("share");
    QTest::newRow("0.100") << 0.100 << 0.585;
    QTest::newRow("0.110") << 0.110 << 0.538;
    QTest::newRow("0.120") << 0.120 << 0.495;
    QTest::newRow("0.125") << 0.125 << 0.475;
}

void MechanicalInjectionTest::sharesOfTheHandbook() {
    QFETCH(double, pillInch);
    QFETCH(double, share);
    COMPARE_NEAR(solveNetwork(handbookPump(pillInch), 7500).share, share, 0.0005);
}

void MechanicalInjectionTest::pressureOfTheHandbook() {
    MechanicalInjection m = handbookPump(0.110);
    m.densityKgM3 = 792;
    COMPARE_NEAR(solveNetwork(m, 7500).pressureKpa / kpaPerPsi, 146, 0.5);
}

void MechanicalInjectionTest::networkAgreesWithGsl() {
    std::mt19937 r(31);
    const auto between = [&](double a, double b) { return std::uniform_real_distribution<>(a, b)(r); };
    int shut = 0, open = 0;
    for (int round = 0; round < 200; ++round) {
        MechanicalInjection m;
        m.pumpLMin = between(10, 60);
        m.nozzles = static_cast<double>(2 + r() % 10);
        m.nozzleMm = between(0.8, 1.5);
        m.dischargeNozzles = between(0.6, 0.95);
        m.dischargeJets = between(0.6, 0.95);
        m.main.diameterMm = between(1, 4);
        m.highSpeed = {between(0.5, 2), between(100, 2500)};
        const double back = round % 2 ? between(-40, 150) : 0; // vacuum, or a blower's pressure
        const FuelNetwork n = solveNetwork(m, m.pumpRpm, back);
        if (n.pressureKpa == m.highSpeed.opensKpa) continue; // modulating: another test's
        if (n.engineLMin == 0) continue;
        Equations e{&m, m.pumpLMin / 60000, true, n.highSpeedLMin > 0, back * 1000};
        (e.highOpen ? open : shut)++;
        gsl_multiroot_function f{residual, 4, &e};
        gsl_multiroot_fsolver *solver = gsl_multiroot_fsolver_alloc(gsl_multiroot_fsolver_hybrids, 4);
        gsl_vector *x = gsl_vector_alloc(4);
        const double third = m.pumpLMin / 0.06 / 3;
        for (const auto &[i, v] : {std::pair{0, 500.0}, {1, third}, {2, third}, {3, third}})
            gsl_vector_set(x, static_cast<std::size_t>(i), v);
        gsl_multiroot_fsolver_set(solver, &f, x);
        for (int i = 0; i < 500; ++i)
            if (gsl_multiroot_fsolver_iterate(solver) != GSL_SUCCESS ||
                gsl_multiroot_test_residual(solver->f, 1e-10) == GSL_SUCCESS)
                break;
        const double pressure = gsl_vector_get(solver->x, 0), engine = gsl_vector_get(solver->x, 1) * 0.06;
        gsl_multiroot_fsolver_free(solver);
        gsl_vector_free(x);
        COMPARE_NEAR(n.pressureKpa / pressure, 1, 1e-7);
        COMPARE_NEAR(n.engineLMin / engine, 1, 1e-7);
    }
    QVERIFY(shut > 20 && open > 20);
}

// Moorhen with its nozzles in the ports, by an independent program: 10.9 % leaner at 4000 rpm and 6.0 % at
// 7500 than with nozzles that spray into the surrounding air.
void MechanicalInjectionTest::nozzlesSprayAgainstTheManifold() {
    MechanicalInjection m;
    m.pumpLMin = 32.2;
    m.pumpRpm = 7500;
    m.wear = 0.03;
    m.main.diameterMm = 3.05;
    m.highSpeed = {1.4, 620};
    MechanicalEngine e;
    e.ve = 1.02;
    e.intakeC = 62;
    const auto leanerBy = [&](double rpm, double manifoldKpa, NozzlePlace place) {
        e.manifoldKpa = manifoldKpa;
        MechanicalInjection other = m;
        other.nozzlePlace = place;
        return mixtureAt(other, e, rpm).lambda / mixtureAt(m, e, rpm).lambda - 1;
    };
    COMPARE_NEAR(leanerBy(4000, 190, NozzlePlace::ports), 0.109, 0.0005);
    COMPARE_NEAR(leanerBy(7500, 233.67, NozzlePlace::ports), 0.060, 0.001);
    COMPARE_NEAR(leanerBy(4000, 190, NozzlePlace::belowBlower), leanerBy(4000, 190, NozzlePlace::ports),
                 1e-12);
    COMPARE_NEAR(leanerBy(4000, e.ambientKpa, NozzlePlace::ports), 0, 1e-12);
    // So little pressure that the manifold holds the fuel back: all of it goes to the tank.
    m.nozzlePlace = NozzlePlace::ports;
    const FuelNetwork none = solveNetwork(m, 300, 400);
    QCOMPARE(none.engineLMin, 0.0);
    COMPARE_NEAR(none.mainLMin, none.pumpLMin, 1e-9);
    QVERIFY(std::isfinite(mixtureAt(m, e, 300).lambda));
}

void MechanicalInjectionTest::massIsKept() {
    std::mt19937 r(32);
    const auto between = [&](double a, double b) { return std::uniform_real_distribution<>(a, b)(r); };
    for (int round = 0; round < 3000; ++round) {
        MechanicalInjection m;
        m.pumpLMin = between(5, 80);
        m.wear = between(0, 0.3);
        m.main = {between(0, 4), r() % 2 ? between(0, 900) : 0};
        m.highSpeed = {between(0, 2), between(0, 2500)};
        m.port = {between(0, 1), between(0, 1500)};
        const double rpm = between(800, 9000);
        const FuelNetwork n = solveNetwork(m, rpm, round % 3 == 0 ? between(-50, 300) : 0);
        COMPARE_NEAR(n.pumpLMin, m.pumpLMin * (1 - m.wear) * rpm / m.pumpRpm, 1e-9);
        COMPARE_NEAR((n.engineLMin + n.mainLMin + n.highSpeedLMin + n.portLMin) / n.pumpLMin, 1, 1e-9);
        QVERIFY(n.mainLMin >= 0 && n.highSpeedLMin >= 0 && n.portLMin >= 0 && n.share >= 0 &&
                n.share <= 1 + 1e-12);
        QCOMPARE(n.share == 0, n.pressureKpa <= n.backKpa); // the manifold holds it back
        for (const auto &[jet, flow] :
             {std::pair{m.main, n.mainLMin}, {m.highSpeed, n.highSpeedLMin}, {m.port, n.portLMin}})
            QVERIFY(flow == 0 || n.pressureKpa >= jet.opensKpa - 1e-9); // nothing flows under its spring
    }
}

void MechanicalInjectionTest::springsOpenInOrder() {
    MechanicalInjection m = handbookPump(0.090);
    m.highSpeed = {1.5, 700};
    double pressure = 0;
    bool opened = false;
    for (double rpm = 1500; rpm <= 8000; rpm += 50) {
        const FuelNetwork n = solveNetwork(m, rpm);
        QVERIFY(n.pressureKpa >= pressure - 1e-9); // more flow, never less pressure
        pressure = n.pressureKpa;
        QVERIFY(!opened || n.highSpeedLMin > 0);
        opened = n.highSpeedLMin > 0;
    }
    QVERIFY(opened);
    // It leans the top only.
    MechanicalInjection without = m;
    without.highSpeed = {};
    QCOMPARE(solveNetwork(m, 2000).share, solveNetwork(without, 2000).share);
    QVERIFY(solveNetwork(m, 8000).share < solveNetwork(without, 8000).share - 0.01);
}

void MechanicalInjectionTest::modulatingJetHoldsItsPressure() {
    MechanicalInjection m = handbookPump(0.090);
    const double shut = solveNetwork(m, 7500).pressureKpa;
    m.highSpeed.diameterMm = 1.5;
    const double wide = [&] {
        MechanicalInjection open = m;
        open.highSpeed.opensKpa = 0;
        return solveNetwork(open, 7500).pressureKpa;
    }();
    m.highSpeed.opensKpa = (shut + wide) / 2;
    const FuelNetwork n = solveNetwork(m, 7500);
    COMPARE_NEAR(n.pressureKpa, m.highSpeed.opensKpa, 1e-12);
    QVERIFY(n.highSpeedLMin > 0);
    COMPARE_NEAR(n.engineLMin + n.mainLMin + n.highSpeedLMin, n.pumpLMin, 1e-9);
}

void MechanicalInjectionTest::mixtureByHand() {
    const MechanicalEngine e{7, 0.95, 210, 55, 6.47};
    const MixturePoint p = mixtureAt(handbookPump(0.110), e, 7500);
    const double air = 0.95 * 210 * 7 / (0.28705 * 328.15) * 7500 / 120; // g/s
    const double fuel = 8.5 * litresPerUsGallon * p.network.share * 792 / 60;
    COMPARE_NEAR(p.airGS, air, 1e-6);
    COMPARE_NEAR(p.fuelGS, fuel, 1e-9);
    COMPARE_NEAR(p.lambda, air / fuel / 6.47, 1e-9);
    COMPARE_NEAR(p.afr, p.lambda * 6.47, 1e-12);
}

void MechanicalInjectionTest::pillsAreOrdered() {
    const MechanicalEngine e{7, 0.95, 210, 55, 6.47};
    const auto table = pillTable(handbookPump(0.110), e, 7500, 0.127, 4);
    QCOMPARE(table.size(), std::size_t{9});
    COMPARE_NEAR(table[4].leanerBy, 0, 1e-12);
    for (std::size_t i = 1; i < table.size(); ++i) { // a larger pill is leaner and hotter
        QVERIFY(table[i].areaMm2 > table[i - 1].areaMm2 && table[i].leanerBy > table[i - 1].leanerBy);
        QVERIFY(table[i].point.network.pressureKpa < table[i - 1].point.network.pressureKpa);
        COMPARE_NEAR(table[i].point.lambda / table[4].point.lambda - 1, table[i].leanerBy, 1e-12);
    }
    QVERIFY(table[0].exhaustTrend == -1 && table[8].exhaustTrend == 1);
    COMPARE_NEAR(table[4].areaMm2, std::numbers::pi / 4 * 2.794 * 2.794, 1e-9);
}

void MechanicalInjectionTest::weatherKeepsLambda() {
    const MechanicalInjection m = handbookPump(0.110);
    MechanicalEngine e{7, 0.95, 210, 55, 6.47};
    const double before = mixtureAt(m, e, 7500).lambda;
    for (const double ratio : {0.9, 0.97, 1.04}) {
        MechanicalInjection changed = m;
        changed.main.diameterMm = pillForDensity(m, 7500, ratio);
        MechanicalEngine thin = e;
        thin.manifoldKpa *= ratio;
        COMPARE_NEAR(mixtureAt(changed, thin, 7500).lambda, before, 1e-6);
    }
    COMPARE_NEAR(pillForDensity(m, 7500, 1), m.main.diameterMm, 1e-6);
    QCOMPARE(pillForDensity(m, 7500, 3), 0.0); // not even with the bypass shut
}

// ICAO Doc 7488 (1993): 101.325 kPa and 1.225 kg/m³ at sea level, 15 °C; 89.875 kPa at 1000 m, 79.495 at 2000
// m. Moist air at 30 °C, 100 %: 1.146 kg/m³ (CIPM-2007 gives 1.1462).
void MechanicalInjectionTest::airOfTheStandardAtmosphere() {
    COMPARE_NEAR(standardPressureKpa(0), 101.325, 1e-9);
    COMPARE_NEAR(standardPressureKpa(1000), 89.875, 0.005);
    COMPARE_NEAR(standardPressureKpa(2000), 79.495, 0.005);
    COMPARE_NEAR(airDensityKgM3(101.325, 15, 0), 1.2250, 0.0001);
    COMPARE_NEAR(airDensityKgM3(101.325, 30, 1), 1.146, 0.001);
    QVERIFY(airDensityKgM3(101.325, 30, 1) < airDensityKgM3(101.325, 30, 0)); // moist air is lighter
    COMPARE_NEAR(dryAirDensityKgM3(101.325, 15, 0), airDensityKgM3(101.325, 15, 0), 1e-12);
    QVERIFY(dryAirDensityKgM3(101.325, 30, 0.5) < airDensityKgM3(101.325, 30, 0.5));
    // The table of ICAO Doc 7488: 1.2250 at the sea, 1.0065 at 2000 m, 0.7361 at 5000 m.
    COMPARE_NEAR(densityAltitudeM(1.2250), 0, 0.1);
    COMPARE_NEAR(densityAltitudeM(1.0065), 2000, 1);
    COMPARE_NEAR(densityAltitudeM(0.73612), 5000, 1);
    // And there and back: the standard's pressure and temperature at a height.
    COMPARE_NEAR(densityAltitudeM(airDensityKgM3(standardPressureKpa(1500), 15 - 0.0065 * 1500, 0)), 1500, 2);
    EXPECT_INPUT_ERROR(densityAltitudeM(0), "air density");
}

void MechanicalInjectionTest::passesAreRead() {
    Job job = newJob("x");
    const auto pass = [](double pill, double exhaust, double power, bool hard) {
        PassRecord p;
        p.pillMm = pill;
        p.exhaustC = exhaust;
        p.power = power;
        p.hardStart = hard;
        return p;
    };
    job.mechanical.passes = {pass(2.8, 310, 200, false), pass(2.9, 312, 205, false),
                             pass(3.0, 305, 207, false), pass(3.2, 540, 206, true), pass(3.2, 640, 0, false)};
    std::string all;
    for (const PassFinding &f : readPasses(job))
        all += std::to_string(f.pass + 1) + format(f.words, UnitChoice{}) + "\n";
    for (const char *words : {"1Exhaust 310 °C", "3Three rich passes", "2Leaner made more", "4Hard to start",
                              "5Exhaust 640 °C, over"})
        QVERIFY2(all.find(words) != std::string::npos, all.c_str());
    // Hard to start is the last word on the pill, whatever the power did.
    QVERIFY2(all.find("4Leaner") == std::string::npos, all.c_str());
    job.mechanical.passes[3].hardStart = false;
    const auto findings = readPasses(job);
    QVERIFY(std::ranges::any_of(findings, [](const PassFinding &f) {
        return f.pass == 3 && f.words.text.starts_with("Leaner made no more");
    }));
    QVERIFY(readPasses(newJob("y")).empty());
}

// The chart is sorted by area, holds what is in, and each row is the network solved for it.
void MechanicalInjectionTest::chartIsSortedByArea() {
    MechanicalInjection m;
    m.main.diameterMm = 2.8;
    m.highSpeed = {1.5, 900};
    const MechanicalEngine e;
    const std::vector<PillCombination> chart = pillChart(m, e, 7000, 0.1, 2);
    QCOMPARE(chart.size(), std::size_t{25});
    bool in = false;
    for (std::size_t i = 0; i < chart.size(); ++i) {
        if (i > 0) QVERIFY(chart[i - 1].areaMm2 <= chart[i].areaMm2);
        MechanicalInjection other = m;
        other.main.diameterMm = chart[i].mainMm;
        other.highSpeed.diameterMm = chart[i].highSpeedMm;
        COMPARE_NEAR(chart[i].point.lambda, mixtureAt(other, e, 7000).lambda, 1e-12);
        in |= chart[i].leanerBy == 0 && chart[i].mainMm == 2.8;
    }
    QVERIFY(in);
    m.highSpeed.diameterMm = 0;
    QCOMPARE(pillChart(m, e, 7000, 0.1, 2).size(), std::size_t{5});
}

// Thinner air wants less fuel, so a larger pill; the same air the same pill.
void MechanicalInjectionTest::weatherMovesThePill() {
    Job job = newJob("x");
    job.control = FuelControl::mechanical;
    job.mechanical.injection.main.diameterMm = 2.8;
    COMPARE_NEAR(adviseForWeather(job).pillMm, 2.8, 1e-6);
    job.mechanical.now = {95, 35, 0.8};
    const WeatherAdvice hot = adviseForWeather(job);
    QVERIFY(hot.densityNow < hot.densityThen && hot.pillMm > 2.8);
    COMPARE_NEAR(hot.pillMm,
                 pillForDensity(job.mechanical.injection, job.mechanical.judgedRpm,
                                dryAirDensityKgM3(95, 35, 0.8) / dryAirDensityKgM3(101.325, 20, 0.5)),
                 1e-9);
    // λ follows the oxygen: figures of an independent program (0.909 with the vapour counted in).
    job.mechanical.then = {101.325, 15, 0.3};
    job.mechanical.now = {101.325, 38, 0.8};
    const WeatherAdvice humid = adviseForWeather(job);
    COMPARE_NEAR(humid.densityNow / humid.densityThen, 0.882, 0.0005);
}

void MechanicalInjectionTest::refusesNonsense() {
    MechanicalInjection m;
    EXPECT_INPUT_ERROR(solveNetwork(m, 0), "engine speed");
    m.nozzles = 2.5;
    EXPECT_INPUT_ERROR(solveNetwork(m, 5000), "nozzles", "whole");
    m = {};
    m.pumpLMin = -1;
    EXPECT_INPUT_ERROR(solveNetwork(m, 5000), "pump flow");
    m = {};
    m.main.diameterMm = -1;
    EXPECT_INPUT_ERROR(solveNetwork(m, 5000), "jet");
    EXPECT_INPUT_ERROR(pillTable({}, {}, 5000, 0, 3), "step");
    EXPECT_INPUT_ERROR(pillForDensity({}, 5000, -1), "density ratio");
    EXPECT_INPUT_ERROR(airDensityKgM3(101, 20, 1.5), "humidity");
    EXPECT_INPUT_ERROR(standardPressureKpa(20000), "height");
}

CORE_TEST_MAIN(MechanicalInjectionTest)
#include "mechanical_injection_test.moc"
