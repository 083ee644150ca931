// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/error.h"
#include "core/base/monotone_fit.h"
#include "support/test_main.h"

#include <QFile>

#include <algorithm>
#include <numeric>
#include <random>

using namespace wheelwright;

namespace {

std::vector<double> numbersOf(const QByteArray &line) {
    std::vector<double> out;
    for (const QByteArray &word : line.mid(2).split(' '))
        out.push_back(word.toDouble());
    return out;
}

// The min-max formula (Barlow et al. (1972), eq. 1.9): a second way to the same fit, cubic in time.
std::vector<double> byMinMax(const std::vector<double> &y, const std::vector<double> &w) {
    const auto mean = [&](std::size_t a, std::size_t b) {
        double sum = 0, weight = 0;
        for (std::size_t i = a; i <= b; ++i) {
            sum += y[i] * w[i];
            weight += w[i];
        }
        return sum / weight;
    };
    std::vector<double> fit;
    for (std::size_t i = 0; i < y.size(); ++i) {
        double most = -1e300;
        for (std::size_t a = 0; a <= i; ++a) {
            double least = 1e300;
            for (std::size_t b = i; b < y.size(); ++b)
                least = std::min(least, mean(a, b));
            most = std::max(most, least);
        }
        fit.push_back(most);
    }
    return fit;
}

} // namespace

/// The monotone fit against SciPy, the pooled fit against the min-max formula.
class MonotoneFitTest : public QObject {
    Q_OBJECT
  private slots:
    void interpolationAgreesWithScipy();
    void poolingAgreesWithTheMinMaxFormula();
    void neverFalls();
    void bandIsTheScatter();
    void reachesIsTheInverse();
    void refusesNonsense();
};

void MonotoneFitTest::interpolationAgreesWithScipy() {
    QFile file(QStringLiteral(TEST_DATA "/pchip-scipy.txt"));
    QVERIFY(file.open(QIODevice::ReadOnly));
    int cases = 0;
    while (!file.readLine().isEmpty()) {
        const auto x = numbersOf(file.readLine().trimmed()), y = numbersOf(file.readLine().trimmed());
        const auto q = numbersOf(file.readLine().trimmed()), p = numbersOf(file.readLine().trimmed());
        const MonotoneFit fit(x, y); // the points never fall, so the fit goes through them
        for (std::size_t i = 0; i < q.size(); ++i)
            COMPARE_NEAR(fit.at(q[i]), p[i], 1e-12 * std::max(1.0, std::abs(p[i])));
        ++cases;
    }
    QCOMPARE(cases, 6);
}

void MonotoneFitTest::poolingAgreesWithTheMinMaxFormula() {
    std::mt19937 r(3);
    std::uniform_real_distribution<> value(-5, 5), weight(0.5, 4);
    for (int round = 0; round < 300; ++round) {
        std::vector<double> y, w;
        for (unsigned i = 0; i < 1 + r() % 15; ++i) {
            y.push_back(value(r));
            w.push_back(weight(r));
        }
        const auto fit = isotonic(y, w), other = byMinMax(y, w);
        for (std::size_t i = 0; i < y.size(); ++i)
            COMPARE_NEAR(fit[i], other[i], 1e-12);
        // What is pooled keeps its weighted mean.
        COMPARE_NEAR(std::inner_product(fit.begin(), fit.end(), w.begin(), 0.0),
                     std::inner_product(y.begin(), y.end(), w.begin(), 0.0), 1e-10);
    }
}

void MonotoneFitTest::neverFalls() {
    std::mt19937 r(5);
    std::uniform_real_distribution<> value(0, 10);
    for (int round = 0; round < 100; ++round) {
        std::vector<double> x, y;
        for (int i = 0; i < 12; ++i) {
            x.push_back(std::floor(value(r)));
            y.push_back(value(r));
        }
        if (std::ranges::min(x) == std::ranges::max(x)) continue;
        const MonotoneFit fit(x, y);
        double before = fit.at(-1);
        for (double at = -1; at < 11; at += 0.05) {
            QVERIFY(fit.at(at) >= before - 1e-12);
            before = fit.at(at);
        }
    }
}

void MonotoneFitTest::bandIsTheScatter() {
    std::mt19937 r(9);
    std::normal_distribution<> noise(0, 2);
    std::vector<double> x, y;
    for (int i = 0; i < 4000; ++i) {
        x.push_back((i % 10) / 10.0);
        y.push_back(50 + 100 * x.back() + noise(r));
    }
    COMPARE_NEAR(MonotoneFit(x, y).sigma(), 2, 0.1); // 4000 samples
    QCOMPARE(MonotoneFit({0, 1}, {3, 4}).sigma(), 0.0);
}

void MonotoneFitTest::reachesIsTheInverse() {
    const MonotoneFit fit({0, 0.2, 0.5, 0.8}, {60, 70, 110, 150});
    for (double y = 60; y < 150; y += 3)
        COMPARE_NEAR(fit.at(fit.reaches(y)), y, 1e-9);
    QVERIFY(std::isnan(fit.reaches(151)));
    QCOMPARE(fit.reaches(10), 0.0);
}

void MonotoneFitTest::refusesNonsense() {
    EXPECT_INPUT_ERROR(MonotoneFit({1}, {1}), "two different");
    EXPECT_INPUT_ERROR(MonotoneFit({1, 1}, {1, 2}), "two different");
    EXPECT_INPUT_ERROR(MonotoneFit({1, 2}, {1}), "as many");
    EXPECT_INPUT_ERROR(MonotoneFit({1, 2}, {1, std::nan("")}), "point 2");
}

CORE_TEST_MAIN(MonotoneFitTest)
#include "monotone_fit_test.moc"
