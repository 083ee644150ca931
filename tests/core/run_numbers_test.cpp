// SPDX-License-Identifier: GPL-3.0-or-later
// The arithmetic of runs against what others found: corrections, moist air, smoothing, regression, intervals.
#include "core/base/error.h"
#include "core/base/least_squares.h"
#include "core/base/student_t.h"
#include "core/flow/mechanical_injection.h"
#include "core/runs/air_correction.h"
#include "core/runs/run_columns.h"
#include "core/runs/run_curve.h"
#include "core/runs/run_gain.h"
#include "support/test_main.h"

#include <gsl/gsl_cdf.h>

#include <array>
#include <fstream>
#include <numbers>
#include <random>
#include <sstream>

using namespace wheelwright;
using namespace wheelwright::testing;

namespace {

using S = CorrectionStandard;

// The lines of a file of numbers, without remarks.
std::vector<std::vector<double>> numbersIn(const char *name) {
    std::ifstream file(std::string(TEST_DATA "/") + name);
    std::vector<std::vector<double>> out;
    for (std::string line; std::getline(file, line);) {
        if (line.starts_with('#')) {
            out.emplace_back(); // parts the kinds of lines
            continue;
        }
        std::istringstream words(line);
        out.emplace_back(std::istream_iterator<double>(words), std::istream_iterator<double>());
    }
    return out;
}

double mean(const std::vector<double> &v) {
    double sum = 0;
    for (const double x : v)
        sum += x;
    return sum / static_cast<double>(v.size());
}

} // namespace

class RunNumbersTest : public QObject {
    Q_OBJECT
  private slots:
    void correctionsAreTheHandbooks();
    void correctionsAreOneAtTheirReference();
    void correctionsFallWithThickAir();
    void correctionsGoFromOneToAnother();
    void holesAreFound();
    void moistAirIsPsychrolibs();
    void powerIsTorqueTimesSpeed();
    void unitsAreToldByTheIdentity();
    void smoothingIsSavitzkyAndGolays();
    void smoothingLeavesParabolasAlone();
    void smoothingTakesUnevenSpeeds();
    void regressionIsLongleys();
    void regressionKnowsWhatIsMadeUpOfOthers();
    void studentIsGsls();
    void welchIsSciPys();
    void powerOfATestIsSciPys();
    void runsItTakesAreSciPys();
    void runsItTakesSeeTheGain();
    void driftIsTakenOut();
    void intervalHoldsAsOftenAsItSays_data();
    void intervalHoldsAsOftenAsItSays();
    void modelGoesByHowRunsStand();
    void heatIsFittedWhereItSaysSomething();
};

// Handbook chapter 7, computed there; four digits.
void RunNumbersTest::correctionsAreTheHandbooks() {
    struct Row {
        Weather air;
        double j1349, iso, std, din;
    };
    for (const Row &r : {Row{{100, 35, 0.6}, 1.0491, 1.0501, 1.0833, 1.0386},
                         Row{{101.325, 15, 0}, 0.9534, 0.9528, 0.9990, 0.9912}}) {
        COMPARE_NEAR(correctionFactor(S::j1349, r.air), r.j1349, 5e-5);
        COMPARE_NEAR(correctionFactor(S::iso1585, r.air), r.iso, 5e-5);
        COMPARE_NEAR(correctionFactor(S::std, r.air), r.std, 5e-5);
        COMPARE_NEAR(correctionFactor(S::din, r.air), r.din, 5e-5);
        QCOMPARE(correctionFactor(S::none, r.air), 1.0);
        QCOMPARE(correctionFactor(S::notSaid, r.air), 1.0);
    }
}

// The standards' own: 990 hPa dry and 25 °C, 29.92 inHg and 60 °F, 1013 hPa and 20 °C.
void RunNumbersTest::correctionsAreOneAtTheirReference() {
    for (const CorrectionDefinition &d : allCorrections()) {
        COMPARE_NEAR(correctionFactor(d.standard, d.reference), 1, 1e-9);
        QCOMPARE(standardByKey(d.key), d.standard);
        QCOMPARE(keyOf(d.standard), d.key);
    }
    QCOMPARE(keyOf(S::notSaid), std::string_view("not_said"));
    EXPECT_INPUT_ERROR(standardByKey("sae"), "j1349", "'sae'");
    COMPARE_NEAR(correctionFactor(S::j1349, {99, 25, 0}), 1, 1e-12);
    COMPARE_NEAR(correctionFactor(S::iso1585, {99, 25, 0}), 1, 1e-12);
    // 85 % of the power go with the air: 1 % less pressure is 1.18 % less of them.
    COMPARE_NEAR(correctionFactor(S::j1349, {99 / 1.01, 25, 0}), 1.18 * 1.01 - 0.18, 1e-12);
    COMPARE_NEAR(correctionFactor(S::iso1585, {49.5, 25, 0}), std::pow(2, 1.2), 1e-12);
}

// More pressure, less heat and less water need less correction, whichever standard.
void RunNumbersTest::correctionsFallWithThickAir() {
    const Weather air{98, 25, 0.5};
    for (const S s : {S::j1349, S::iso1585, S::std, S::din}) {
        const double at = correctionFactor(s, air);
        QVERIFY(correctionFactor(s, {99, 25, 0.5}) < at);
        QVERIFY(correctionFactor(s, {98, 24, 0.5}) < at);
        QVERIFY(s == S::din || correctionFactor(s, {98, 25, 0.4}) < at);
        const Explanation e = explainCorrection(s, air);
        QCOMPARE(e.result.value, at);
        QCOMPARE(e.inputs.size(), std::size_t(3));
        COMPARE_NEAR(e.substituted.values[0].value,
                     e.substituted.values[1].value - e.substituted.values[2].value, 1e-12);
        COMPARE_NEAR(e.substituted.values[2].value,
                     e.substituted.values[3].value * e.substituted.values[4].value, 1e-12);
    }
    QCOMPARE(correctionFactor(S::din, {98, 25, 0.4}), correctionFactor(S::din, air)); // of the whole pressure
}

// Back to what was measured first: from one standard to another and back again is nothing.
void RunNumbersTest::correctionsGoFromOneToAnother() {
    const Weather air{97.2, 31, 0.6};
    for (const CorrectionDefinition &from : allCorrections())
        for (const CorrectionDefinition &to : allCorrections()) {
            const double factor = correctionBetween(from.standard, to.standard, air);
            COMPARE_NEAR(factor * correctionBetween(to.standard, from.standard, air), 1, 1e-12);
            COMPARE_NEAR(factor * correctionFactor(from.standard, air), correctionFactor(to.standard, air),
                         1e-12);
            const Explanation e = explainCorrection(from.standard, to.standard, air);
            QCOMPARE(e.result.value, factor);
            if (from.standard == S::none) continue; // its own working, tested above
            COMPARE_NEAR(e.substituted.values[0].value / e.substituted.values[1].value, factor, 1e-12);
            QCOMPARE(e.substituted.values[2].value, factor);
        }
    QCOMPARE(correctionBetween(S::notSaid, S::j1349, air), correctionFactor(S::j1349, air));
}

// A cut has both shores; what climbs as a turbo does, or falls at the limiter, has one.
void RunNumbersTest::holesAreFound() {
    const auto curve = [](const std::function<double(double)> &torque, double step) {
        RunCurve c;
        for (double rpm = 2500; rpm <= 7000; rpm += step) {
            c.rpm.push_back(rpm);
            c.torqueNm.push_back(torque(rpm));
            c.powerKw.push_back(torque(rpm) * rpm / newtonMetreRpmPerKw);
        }
        return c;
    };
    const auto plain = [](double rpm) { return 260 - (rpm - 4600) * (rpm - 4600) * 1.3e-5; };
    const auto cut = [&](double rpm) { return rpm > 4500 && rpm < 4650 ? 0.3 * plain(rpm) : plain(rpm); };
    for (const double step : {0.1, 5.0, 25.0, 60.0}) {
        QVERIFY(cutsOf(curve(plain, step)).empty());
        const std::vector<RunCut> found = cutsOf(curve(cut, step));
        QCOMPARE(found.size(), std::size_t(1));
        COMPARE_NEAR(found[0].fromRpm, 4500, step + 25);
        COMPARE_NEAR(found[0].toRpm, 4650, step + 25);
        COMPARE_NEAR(found[0].share, 0.3, 0.03);
    }
    QCOMPARE(cutsOf(curve([&](double rpm) { return rpm > 3400 && rpm < 3450 ? -40 : cut(rpm); }, 5)).size(),
             std::size_t(2));
    QCOMPARE(
        cutsOf(curve([&](double rpm) { return rpm > 3400 && rpm < 3450 ? -40 : plain(rpm); }, 5))[0].share,
        0.0);
    QVERIFY(cutsOf(curve([](double rpm) { return std::min(80 + (rpm - 2500) * 0.4, 300.0); }, 5)).empty());
    QVERIFY(cutsOf(curve([&](double rpm) { return rpm > 6800 ? 50 : plain(rpm); }, 5)).empty());
    // Fifteen per cent are a dip, not a hole.
    QVERIFY(
        cutsOf(
            curve([&](double rpm) { return rpm > 4500 && rpm < 4650 ? 0.85 * plain(rpm) : plain(rpm); }, 5))
            .empty());
}

// psychrolib 1.1.1 (ASHRAE, after Hyland and Wexler): within the 0.4 % of the Magnus form over water.
void RunNumbersTest::moistAirIsPsychrolibs() {
    int rows = 0;
    for (const auto &r : numbersIn("moist-air-psychrolib.txt")) {
        if (r.size() != 6) continue;
        ++rows;
        const Weather air{r[2] / 1000, r[0], r[1]};
        COMPARE_NEAR(saturationKpa(r[0]) / (r[3] / 1000), 1, 0.004);
        COMPARE_NEAR(dryKpa(air) / (r[4] / 1000), 1, 0.0004);
        COMPARE_NEAR(airDensityKgM3(air.pressureKpa, air.temperatureC, air.humidity) / r[5], 1, 0.0003);
        COMPARE_NEAR(dryKpa(air) + vapourKpa(air), air.pressureKpa, 1e-12);
    }
    QCOMPARE(rows, 9);
}

// 60 000 / 2π; 550 ft·lbf/s to the hp make 33 000 / 2π = 5252.113 (handbook chapter 7).
void RunNumbersTest::powerIsTorqueTimesSpeed() {
    COMPARE_NEAR(newtonMetreRpmPerKw, 60'000 / (2 * std::numbers::pi), 1e-9);
    constexpr double kwPerHp = 0.745699871582, nmPerLbft = 1.3558179483314;
    COMPARE_NEAR(newtonMetreRpmPerKw * kwPerHp / nmPerLbft, 33'000 / (2 * std::numbers::pi), 1e-6);
    RunSamples s;
    s.columns = {{ChannelRole::rpm, "rpm", "rpm", 1, 0, {5252.113, 3000, 4000}},
                 {ChannelRole::torque, "lb-ft", "lbft", nmPerLbft, 0, {100, 50, 80}}};
    const RunCurve fromTorque = curveOf(s, "a run");
    QCOMPARE(fromTorque.rpm, (std::vector<double>{3000, 4000, 5252.113}));
    COMPARE_NEAR(fromTorque.powerKw.back() / kwPerHp, 100, 1e-5); // at that speed both numbers are one
    s.columns[1] = {ChannelRole::power, "kW", "kW", 1, 0, fromTorque.powerKw};
    std::ranges::swap(s.columns[1].numbers[0], s.columns[1].numbers[2]);
    std::ranges::swap(s.columns[1].numbers[1], s.columns[1].numbers[2]);
    const RunCurve back = curveOf(s, "a run");
    for (std::size_t i = 0; i < 3; ++i)
        COMPARE_NEAR(back.torqueNm[i], fromTorque.torqueNm[i], 1e-9);
}

void RunNumbersTest::unitsAreToldByTheIdentity() {
    std::vector<double> rpm, nm;
    for (int i = 0; i < 40; ++i) {
        rpm.push_back(2500 + 100 * i);
        nm.push_back(200 + 80 * std::sin(i * 0.08));
    }
    struct Pair {
        const char *torque, *power;
        double nmPer, kwPer;
    };
    for (const Pair &p :
         {Pair{"nm", "kw", 1, 1}, Pair{"lbft", "hp", 1.3558179483314, 0.745699871582},
          Pair{"nm", "hp", 1, 0.745699871582}, Pair{"nm", "ps", 1, 0.73549875},
          Pair{"lbft", "kw", 1.3558179483314, 1}, Pair{"lbft", "ps", 1.3558179483314, 0.73549875}}) {
        std::vector<double> torque, power;
        for (std::size_t i = 0; i < rpm.size(); ++i) {
            torque.push_back(std::round(nm[i] / p.nmPer * 10) / 10); // as files are rounded
            power.push_back(std::round(nm[i] * rpm[i] / newtonMetreRpmPerKw / p.kwPer * 10) / 10);
        }
        const TorquePowerUnits *found = unitsByIdentity(rpm, torque, power);
        QVERIFY2(found, p.torque);
        QCOMPARE(found->torque, std::string_view(p.torque));
        QCOMPARE(found->power, std::string_view(p.power));
        QVERIFY(!unitsByIdentity(rpm, power, torque) ||
                power == torque); // the other way round they are nothing
        torque[3] *= 1.5;         // one slip of the file
        QCOMPARE(unitsByIdentity(rpm, torque, power), found);
        for (std::size_t i = 0; i < torque.size(); i += 3)
            torque[i] *= 1.2;
        QVERIFY(!unitsByIdentity(rpm, torque, power));
    }
    std::vector<double> off = rpm;
    for (std::size_t i = 0; i < off.size(); ++i)
        off[i] = nm[i] * rpm[i] / 8000; // of no units at all
    QVERIFY(!unitsByIdentity(rpm, nm, off));
}

// scipy.signal.savgol_filter 1.10.1, degree 2, mode 'interp'.
void RunNumbersTest::smoothingIsSavitzkyAndGolays() {
    const auto lines = numbersIn("savgol-scipy.txt");
    int series = 0;
    for (std::size_t i = 1; i + 2 < lines.size(); i += 3, ++series) {
        const double spacing = lines[i][0], points = lines[i][1];
        std::vector<double> rpm;
        for (std::size_t k = 0; k < lines[i + 1].size(); ++k)
            rpm.push_back(2000 + spacing * static_cast<double>(k));
        const auto smooth = smoothedAt(rpm, lines[i + 1], spacing * (points - 1), rpm);
        for (std::size_t k = 0; k < smooth.size(); ++k)
            COMPARE_NEAR(smooth[k], lines[i + 2][k], 1e-9);
    }
    QCOMPARE(series, 4);
}

// What it cannot change: a parabola, whatever the speeds.
void RunNumbersTest::smoothingLeavesParabolasAlone() {
    std::mt19937 random(3);
    std::vector<double> rpm, y;
    const auto parabola = [](double x) { return 150 - (x - 5400) * (x - 5400) * 1e-5; };
    for (double x = 2500; x < 7000; x += std::uniform_real_distribution<double>(3, 60)(random)) {
        rpm.push_back(x);
        y.push_back(parabola(x));
    }
    for (const double window : {100.0, 200.0, 800.0, 10'000.0})
        for (const double at : {rpm.front(), 2600.0, 4321.0, 6900.0, rpm.back()}) {
            const std::array<double, 1> where{at};
            COMPARE_NEAR(smoothedAt(rpm, y, window, where)[0], parabola(at), 1e-7);
        }
}

void RunNumbersTest::smoothingTakesUnevenSpeeds() {
    const std::vector<double> rpm{2000, 2500, 3000, 4000, 5000}, y{1, 2, 3, 5, 7};
    const std::vector<double> at{2250, 3500, 5000};
    const auto straight = smoothedAt(rpm, y, 0, at);
    COMPARE_NEAR(straight[0], 1.5, 1e-12);
    COMPARE_NEAR(straight[1], 4, 1e-12);
    COMPARE_NEAR(straight[2], 7, 1e-12);
    // As wide as it takes: five points are all there are, and they lie on a line.
    const auto smooth = smoothedAt(rpm, y, 100, at);
    COMPARE_NEAR(smooth[1], 4, 1e-9);
    // What is no number is left out; of one point nothing follows.
    const double none = std::numeric_limits<double>::quiet_NaN();
    COMPARE_NEAR(smoothedAt(rpm, std::vector<double>{1, none, none, 5, 7}, 0, at)[0], 1.5, 1e-12);
    QVERIFY(std::isnan(smoothedAt(rpm, std::vector<double>{none, none, none, 5, none}, 0, at)[0]));
    // A hump of 50 rpm is gone under 600, and the peak with it.
    std::vector<double> fine, hump;
    for (double x = 3000; x <= 5000; x += 10) {
        fine.push_back(x);
        hump.push_back(100 - (x - 4500) * (x - 4500) * 1e-5 + (std::abs(x - 3500) < 25 ? 15 : 0));
    }
    const auto smoothed = smoothedAt(fine, hump, 600, fine);
    COMPARE_NEAR(peakOf(fine, hump).rpm, 3500, 25);
    COMPARE_NEAR(peakOf(fine, smoothed).rpm, 4500, 30);
    QVERIFY(std::isnan(peakOf(fine, std::vector<double>()).value));
}

// Longley (1967), J. Am. Stat. Assoc. 62, 819; certified values: NIST Statistical Reference Datasets.
void RunNumbersTest::regressionIsLongleys() {
    const std::vector<std::array<double, 7>> data{
        {60323, 83.0, 234289, 2356, 1590, 107608, 1947},  {61122, 88.5, 259426, 2325, 1456, 108632, 1948},
        {60171, 88.2, 258054, 3682, 1616, 109773, 1949},  {61187, 89.5, 284599, 3351, 1650, 110929, 1950},
        {63221, 96.2, 328975, 2099, 3099, 112075, 1951},  {63639, 98.1, 346999, 1932, 3594, 113270, 1952},
        {64989, 99.0, 365385, 1870, 3547, 115094, 1953},  {63761, 100.0, 363112, 3578, 3350, 116219, 1954},
        {66019, 101.2, 397469, 2904, 3048, 117388, 1955}, {67857, 104.6, 419180, 2822, 2857, 118734, 1956},
        {68169, 108.4, 442769, 2936, 2798, 120445, 1957}, {66513, 110.8, 444546, 4681, 2637, 121950, 1958},
        {68655, 112.6, 482704, 3813, 2552, 123366, 1959}, {69564, 114.2, 502601, 3931, 2514, 125368, 1960},
        {69331, 115.7, 518173, 4806, 2572, 127852, 1961}, {70551, 116.9, 554894, 4007, 2827, 130081, 1962}};
    const std::array certified{-3482258.63459582, 15.0618722713733,    -0.0358191792925910, -2.02022980381683,
                               -1.03322686717359, -0.0511041056535807, 1829.15146461355};
    const std::array errors{890420.383607373,  84.9149257747669,  0.0334910077722432, 0.488399681651699,
                            0.214274163161675, 0.226073200069370, 455.478499142212};
    constexpr double residual = 304.854073561965;
    std::vector<std::vector<double>> columns(7, std::vector<double>(data.size(), 1.0));
    std::vector<double> y;
    for (std::size_t i = 0; i < data.size(); ++i) {
        y.push_back(data[i][0]);
        for (std::size_t k = 1; k < 7; ++k)
            columns[k][i] = data[i][k];
    }
    const LeastSquares fit(columns);
    QVERIFY(fit.independent());
    QCOMPARE(fit.freedom(), 9);
    const auto found = fit.solve(y);
    const double s = std::sqrt(found.squares / fit.freedom());
    COMPARE_NEAR(s / residual, 1, 1e-8);
    for (std::size_t k = 0; k < 7; ++k) {
        COMPARE_NEAR(found.unknowns[k] / certified[k], 1, 1e-7);
        std::vector<double> factors(7, 0.0);
        factors[k] = 1;
        COMPARE_NEAR(s * std::sqrt(fit.variance(factors)) / errors[k], 1, 1e-7);
    }
}

void RunNumbersTest::regressionKnowsWhatIsMadeUpOfOthers() {
    QVERIFY(!LeastSquares({{1, 1, 1, 1}, {1, 2, 3, 4}, {3, 5, 7, 9}}).independent());
    QVERIFY(!LeastSquares({{1, 1}, {1, 2}, {0, 1}}).independent()); // more unknowns than rows
    QVERIFY(!LeastSquares({{0, 0, 0}}).independent());
    const LeastSquares line({{1, 1, 1}, {0, 1, 2}});
    const auto found = line.solve(std::vector<double>{1, 3, 5});
    COMPARE_NEAR(found.unknowns[0], 1, 1e-12);
    COMPARE_NEAR(found.unknowns[1], 2, 1e-12);
    COMPARE_NEAR(found.squares, 0, 1e-20);
    // The variance of y at x = 2: 1/n + (x − x̄)²/Σ(x − x̄)² (Draper and Smith, 1998, section 3.1).
    COMPARE_NEAR(line.variance(std::vector<double>{1, 2}), 1.0 / 3 + 1.0 / 2, 1e-12);
}

// Also with degrees of freedom between whole numbers, as Welch has them.
void RunNumbersTest::studentIsGsls() {
    for (const double freedom : {0.7, 1.0, 2.5, 3.3, 9.0, 41.7, 300.0})
        for (const double t : {0.1, 0.9, 2.2, 7.0}) {
            COMPARE_NEAR(studentWithin(t, freedom), 2 * gsl_cdf_tdist_P(t, freedom) - 1, 1e-10);
            const double p = studentWithin(t, freedom);
            if (p < 0.9999) COMPARE_NEAR(studentReach(p, freedom) / t, 1, 1e-7);
        }
    QCOMPARE(studentWithin(0, 4), 0.0);
}

void RunNumbersTest::welchIsSciPys() {
    const auto lines = numbersIn("gain-scipy.txt");
    int sets = 0;
    for (std::size_t i = 1; i + 2 < lines.size() && !lines[i].empty(); i += 3, ++sets) {
        const GainEstimate g = welch(lines[i], lines[i + 1]);
        const auto &expected = lines[i + 2];
        COMPARE_NEAR(g.mean, expected[0], 1e-10);
        COMPARE_NEAR(g.standardError, expected[1], 1e-10);
        COMPARE_NEAR(g.freedom, expected[2], 1e-8);
        COMPARE_NEAR(g.halfWidth(), expected[3], 1e-8);
        QCOMPARE(g.distinguishable(), std::abs(g.mean) > expected[3]);
        const GainEstimate turned = welch(lines[i + 1], lines[i]);
        COMPARE_NEAR(turned.mean, -g.mean, 1e-12);
        COMPARE_NEAR(turned.halfWidth(), g.halfWidth(), 1e-12);
    }
    QCOMPARE(sets, 4);
}

void RunNumbersTest::powerOfATestIsSciPys() {
    int rows = 0;
    for (const auto &r : numbersIn("gain-scipy.txt"))
        if (r.size() == 3 && r[2] < 1 && rows < 8) {
            ++rows;
            COMPARE_NEAR(studentPower(r[0], r[1], studentReach(0.95, r[1])), r[2], 1e-6);
        }
    QCOMPARE(rows, 8);
    COMPARE_NEAR(studentPower(0, 5, studentReach(0.95, 5)), 0.05, 1e-6); // of no gain at all
}

void RunNumbersTest::runsItTakesAreSciPys() {
    const auto lines = numbersIn("gain-scipy.txt");
    int rows = 0;
    for (std::size_t i = lines.size() - 6; i < lines.size(); ++i, ++rows)
        QCOMPARE(runsToSee(lines[i][0], lines[i][1]), static_cast<int>(lines[i][2]));
    QCOMPARE(rows, 6);
    QCOMPARE(runsToSee(0, 1), 0);
    QCOMPARE(runsToSee(0.01, 1), 0); // more than a thousand
    QCOMPARE(runsToSee(-2, 1), runsToSee(2, 1));
    QCOMPARE(runsToSee(2, 0), 2);
}

// Source-free: so many runs do see the gain in four tries of five, and one less does not.
void RunNumbersTest::runsItTakesSeeTheGain() {
    std::mt19937 random(5);
    std::normal_distribution<double> scatter(0, 1);
    const auto seenShare = [&](int n, double gain) {
        int seen = 0;
        constexpr int tries = 6000;
        for (int i = 0; i < tries; ++i) {
            std::vector<double> values;
            std::vector<RunPlace> places;
            for (int k = 0; k < 2 * n; ++k) {
                places.push_back({static_cast<std::size_t>(k % 2), static_cast<double>(k), {}});
                values.push_back((k % 2) * gain + scatter(random));
            }
            seen += gainBy(driftModel(places, false), values).distinguishable();
        }
        return static_cast<double>(seen) / tries;
    };
    const int n = runsToSee(2, 1);
    // With the drift taken out, of the design itself: what its variance says.
    for (const int each : {2, 3, 7}) {
        std::vector<RunPlace> places;
        for (int k = 0; k < 2 * each; ++k)
            places.push_back({static_cast<std::size_t>(k % 2), static_cast<double>(k), {}});
        const double variance = driftModel(places).fit.variance(std::vector<double>{-1, 1, 0});
        const double freedom = 2 * each - 3;
        const auto sees = [&](double gain) {
            return studentPower(gain / std::sqrt(variance), freedom, studentReach(0.95, freedom)) >=
                   powerWanted;
        };
        for (double gain = 0.3; gain < 60; gain *= 1.1)
            QCOMPARE(runsToSee(gain, 1, true) <= each, sees(gain));
    }
    QVERIFY(runsToSee(2, 1, true) >= n);
    QVERIFY(seenShare(n, 2) > powerWanted - 0.02);
    QVERIFY(seenShare(n - 1, 2) < powerWanted + 0.01);
}

// A drift that is there, without scatter: it comes out whole, and what is left is the gain.
void RunNumbersTest::driftIsTakenOut() {
    std::vector<RunPlace> places;
    std::vector<double> values;
    for (int k = 0; k < 6; ++k) {
        places.push_back({k < 3 ? std::size_t(0) : std::size_t(1), 1.0 + k, {}});
        values.push_back(150 - 2.5 * k + (k < 3 ? 0 : 12));
    }
    const DriftModel model = driftModel(places);
    QCOMPARE(model.from, ScatterFrom::drift);
    const GainEstimate g = gainBy(model, values);
    COMPARE_NEAR(g.mean, 12, 1e-9);
    COMPARE_NEAR(g.halfWidth(), 0, 1e-6);
    QCOMPARE(g.freedom, 3.0);
    COMPARE_NEAR(*scatterBy(model, values).perRun, -2.5, 1e-9);
    QVERIFY(!scatterBy(model, values).perK);
    // Means alone take half of the heat for the change.
    COMPARE_NEAR(gainBy(driftModel(places, false), values).mean, 12 - 3 * 2.5, 1e-9);
    // By hand: of three against three in a row, the slope is known as 1/√4 and counts three times.
    values[1] += 1;
    const GainEstimate rough = gainBy(model, values);
    const RunScatter s = scatterBy(model, values);
    COMPARE_NEAR(rough.standardError, s.sigma * std::sqrt(2.0 / 3 + 9.0 / 4), 1e-12);
    COMPARE_NEAR(*s.perRunError, s.sigma / 2, 1e-12);
}

void RunNumbersTest::intervalHoldsAsOftenAsItSays_data() {
    QTest::addColumn<QString>("order"); // a, b: how they were made
    QTest::addColumn<double>("gain");
    QTest::addColumn<double>("drift");
    QTest::addColumn<bool>("warm");
    QTest::newRow("three, then three") << "aaabbb" << 8.0 << -1.5 << false;
    QTest::newRow("turn about") << "ababab" << 0.0 << -3.0 << false;
    QTest::newRow("two and four") << "aabbbb" << -4.0 << 2.0 << false;
    QTest::newRow("with temperatures") << "abbaabba" << 3.0 << -1.0 << true;
}

// 10,000 series each, with a drift from run to run that nobody is told of: 95 % within 93 to 97 %.
void RunNumbersTest::intervalHoldsAsOftenAsItSays() {
    QFETCH(QString, order);
    QFETCH(double, gain);
    QFETCH(double, drift);
    QFETCH(bool, warm);
    std::mt19937 random(11);
    std::normal_distribution<double> normal(0, 1);
    int held = 0, nothing = 0;
    constexpr int tries = 10'000;
    for (int i = 0; i < tries; ++i) {
        std::vector<RunPlace> places;
        std::vector<double> values;
        for (int k = 0; k < order.size(); ++k) {
            RunPlace p{order[k] == 'b' ? std::size_t(1) : std::size_t(0), 1.0 + k, {}};
            double value = 150 + (p.group == 1 ? gain : 0) + drift * k + 0.8 * normal(random);
            if (warm) {
                p.warmC = 40 + 10 * normal(random);
                value -= 0.3 * (*p.warmC - 40);
            }
            places.push_back(p);
            values.push_back(value);
        }
        const GainEstimate g = gainBy(driftModel(places), values);
        held += std::abs(g.mean - gain) <= g.halfWidth();
        nothing += !g.distinguishable();
    }
    const double share = static_cast<double>(held) / tries;
    QVERIFY2(share > 0.93 && share < 0.97, qPrintable(QString::number(share)));
    if (gain == 0) // a gain of nothing is called nothing in 95 % of cases
        COMPARE_NEAR(static_cast<double>(nothing) / tries, 0.95, 0.01);
}

void RunNumbersTest::modelGoesByHowRunsStand() {
    const auto model = [](std::string_view order, bool drift = true) {
        std::vector<RunPlace> places;
        for (std::size_t k = 0; k < order.size(); ++k)
            places.push_back({order[k] == 'b' ? std::size_t(1) : std::size_t(0), static_cast<double>(k), {}});
        return driftModel(places, drift);
    };
    QCOMPARE(model("aaabbb").from, ScatterFrom::drift);
    QCOMPARE(model("aabb").freedom, 1.0);
    QCOMPARE(model("aab").from, ScatterFrom::pooled); // no degree of freedom is left for a drift
    QCOMPARE(model("aab").freedom, 1.0);
    QCOMPARE(model("ab").from, ScatterFrom::none);
    QCOMPARE(model("aaabbb", false).from, ScatterFrom::pooled);
    QCOMPARE(model("aaabbb", false).freedom, 4.0);
    // All of one order, as of runs that nobody numbered: no drift can be told.
    std::vector<RunPlace> same(6);
    for (std::size_t k = 3; k < 6; ++k)
        same[k].group = 1;
    QCOMPARE(driftModel(same).from, ScatterFrom::pooled);
    const GainEstimate none = gainBy(model("ab"), std::vector<double>{10, 14});
    COMPARE_NEAR(none.mean, 4, 1e-12);
    QVERIFY(!none.judged() && !none.distinguishable() && std::isnan(none.halfWidth()));
    QCOMPARE(keyOf(ScatterFrom::controls), std::string_view("controls"));
}

void RunNumbersTest::heatIsFittedWhereItSaysSomething() {
    const auto places = [](std::vector<double> warm) {
        std::vector<RunPlace> out;
        for (std::size_t k = 0; k < warm.size(); ++k)
            out.push_back({k % 2, static_cast<double>(k), warm[k]});
        return out;
    };
    QCOMPARE(driftModel(places({30, 45, 33, 51, 36, 40})).from, ScatterFrom::heat);
    QCOMPARE(driftModel(places({30, 34, 33, 31, 34, 32})).from, ScatterFrom::drift); // within 5 K
    QCOMPARE(driftModel(places({30, 40, 50, 60, 70, 80})).from, ScatterFrom::drift); // as the order says
    QCOMPARE(driftModel(places({30, 45, 33, 51, 36})).from, ScatterFrom::drift);     // too few
    std::vector<RunPlace> some = places({30, 45, 33, 51, 36, 40});
    some[2].warmC.reset();
    QCOMPARE(driftModel(some).from, ScatterFrom::drift);
    // Heat that is there and could not be fitted was not taken out, whatever the order took.
    QVERIFY(driftModel(places({30, 45, 33, 51, 36, 40})).heatTaken &&
            driftModel(places({30, 34, 33, 31, 34, 32})).heatTaken);
    QVERIFY(driftModel(places({30, 40, 50, 60, 70, 80})).heatTaken &&
            !driftModel(places({30, 45, 33, 51, 36})).heatTaken);
    // A heat that is there comes out whole beside the drift.
    const std::vector<RunPlace> all = places({30, 45, 33, 51, 36, 40, 44, 31});
    std::vector<double> values;
    for (const RunPlace &p : all)
        values.push_back(100 + (p.group == 1 ? 7 : 0) - 0.5 * p.order - 0.2 * *p.warmC);
    const DriftModel model = driftModel(all);
    COMPARE_NEAR(gainBy(model, values).mean, 7, 1e-9);
    COMPARE_NEAR(*scatterBy(model, values).perK, -0.2, 1e-9);
    COMPARE_NEAR(*scatterBy(model, values).perRun, -0.5, 1e-9);
    QVERIFY(mean(values) < 107);
}

CORE_TEST_MAIN(RunNumbersTest)
#include "run_numbers_test.moc"
