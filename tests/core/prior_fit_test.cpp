// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/least_squares.h"
#include "core/base/prior_fit.h"
#include "support/test_main.h"

#include <gsl/gsl_multifit.h>

#include <algorithm>
#include <cmath>
#include <random>

using namespace wheelwright;

namespace {

std::vector<PriorRow> someRows(std::uint32_t seed, int count, double scatter = 1) {
    std::mt19937 random(seed);
    std::normal_distribution<double> normal;
    std::vector<PriorRow> rows;
    for (int i = 0; i < count; ++i) {
        PriorRow r{{1, normal(random), normal(random)}, 0, 0.5 + 0.1 * i};
        r.value = 0.3 - 0.7 * r.factors[1] + 1.1 * r.factors[2] + scatter * r.sigma * normal(random);
        rows.push_back(std::move(r));
    }
    return rows;
}

} // namespace

class PriorFitTest : public QObject {
    Q_OBJECT
  private slots:
    void oneNumberByHand();
    void withoutRowsIsThePrior();
    void agreesWithTheLibrary();
    void widePriorsAreLeastSquares();
    void orderDoesNotMatter();
    void scatterRaisesSigmas();
    void moreRowsNarrowTheBand();
    void holdsNinetyFiveOfAHundred();
};

// Precisions add: prior 0 ± 1 and a measurement 3 ± 0.5 make (3 / 0.25) / (1 + 1 / 0.25) = 2.4 ± 1 / √5.
void PriorFitTest::oneNumberByHand() {
    const std::vector<PriorRow> rows{{{1}, 3, 0.5}};
    const PriorFit fit({1}, rows);
    COMPARE_NEAR(fit.unknowns()[0], 2.4, 1e-12);
    const std::vector<double> twice{2};
    COMPARE_NEAR(fit.of(twice).mean, 4.8, 1e-12);
    COMPARE_NEAR(fit.of(twice).sigma, 2 / std::sqrt(5.0), 1e-12);
}

void PriorFitTest::withoutRowsIsThePrior() {
    const PriorFit fit({2, 3}, {});
    const std::vector<double> at{1, 4};
    QCOMPARE(fit.of(at).mean, 0.0);
    COMPARE_NEAR(fit.of(at).sigma, std::hypot(2.0, 12.0), 1e-12);
    QCOMPARE(fit.raised(), 1.0);
}

// GSL's weighted least squares, a prior being one more measurement of its unknown. Where rows scatter by less
// than they say, nothing is raised.
void PriorFitTest::agreesWithTheLibrary() {
    const std::vector<double> priors{0.4, 1.5, 0.8};
    const std::vector<PriorRow> rows = someRows(5, 9, 0.5);
    const PriorFit fit(priors, rows);
    QCOMPARE(fit.raised(), 1.0);
    const std::size_t n = rows.size() + 3;
    gsl_matrix *x = gsl_matrix_calloc(n, 3), *cov = gsl_matrix_alloc(3, 3);
    gsl_vector *y = gsl_vector_calloc(n), *w = gsl_vector_alloc(n), *c = gsl_vector_alloc(3);
    for (std::size_t i = 0; i < rows.size(); ++i) {
        for (std::size_t k = 0; k < 3; ++k)
            gsl_matrix_set(x, i, k, rows[i].factors[k]);
        gsl_vector_set(y, i, rows[i].value);
        gsl_vector_set(w, i, 1 / (rows[i].sigma * rows[i].sigma));
    }
    for (std::size_t k = 0; k < 3; ++k) {
        gsl_matrix_set(x, rows.size() + k, k, 1);
        gsl_vector_set(w, rows.size() + k, 1 / (priors[k] * priors[k]));
    }
    double chi = 0;
    gsl_multifit_linear_workspace *work = gsl_multifit_linear_alloc(n, 3);
    gsl_multifit_wlinear(x, w, y, c, cov, &chi, work);
    for (std::size_t k = 0; k < 3; ++k) {
        COMPARE_NEAR(fit.unknowns()[k], gsl_vector_get(c, k), 1e-10);
        std::vector<double> unit(3, 0.0);
        unit[k] = 1;
        COMPARE_NEAR(fit.of(unit).sigma, std::sqrt(gsl_matrix_get(cov, k, k)), 1e-10);
    }
    const std::vector<double> at{1, 2, -1};
    double variance = 0;
    for (std::size_t i = 0; i < 3; ++i)
        for (std::size_t k = 0; k < 3; ++k)
            variance += at[i] * at[k] * gsl_matrix_get(cov, i, k);
    COMPARE_NEAR(fit.of(at).sigma, std::sqrt(variance), 1e-10);
    gsl_multifit_linear_free(work);
    gsl_matrix_free(x);
    gsl_matrix_free(cov);
    gsl_vector_free(y);
    gsl_vector_free(w);
    gsl_vector_free(c);
}

void PriorFitTest::widePriorsAreLeastSquares() {
    std::vector<PriorRow> rows = someRows(8, 12);
    for (PriorRow &r : rows)
        r.sigma = 1;
    std::vector<std::vector<double>> columns(3);
    std::vector<double> values;
    for (const PriorRow &r : rows) {
        for (std::size_t k = 0; k < 3; ++k)
            columns[k].push_back(r.factors[k]);
        values.push_back(r.value);
    }
    const auto solved = LeastSquares(columns).solve(values);
    const PriorFit fit({1e6, 1e6, 1e6}, rows);
    for (std::size_t k = 0; k < 3; ++k)
        COMPARE_NEAR(fit.unknowns()[k], solved.unknowns[k], 1e-6);
}

void PriorFitTest::orderDoesNotMatter() {
    std::vector<PriorRow> rows = someRows(11, 7, 3);
    const PriorFit fit({1, 1, 1}, rows);
    std::ranges::reverse(rows);
    const PriorFit back({1, 1, 1}, rows);
    const std::vector<double> at{1, 0.5, 0.2};
    COMPARE_NEAR(fit.of(at).mean, back.of(at).mean, 1e-12);
    COMPARE_NEAR(fit.of(at).sigma, back.of(at).sigma, 1e-12);
}

// Rows at + s and − s about 0, known to 1: their scatter is s, and that is what counts. √(4 s² / 3) of four
// rows and one unknown.
void PriorFitTest::scatterRaisesSigmas() {
    const double s = 3;
    std::vector<PriorRow> rows;
    for (const double v : {s, -s, s, -s})
        rows.push_back({{1}, v, 1});
    const PriorFit fit({1e6}, rows);
    COMPARE_NEAR(fit.raised(), s * std::sqrt(4.0 / 3), 1e-9);
    const std::vector<double> one{1};
    COMPARE_NEAR(fit.of(one).sigma, fit.raised() / 2, 1e-6);
    for (PriorRow &r : rows)
        r.value /= 10; // by less than they say: they stay as they are
    QCOMPARE(PriorFit({1e6}, rows).raised(), 1.0);
    rows.resize(1);
    rows[0].value = 100; // one row says nothing of its scatter
    QCOMPARE(PriorFit({1}, rows).raised(), 1.0);
}

void PriorFitTest::moreRowsNarrowTheBand() {
    const std::vector<PriorRow> rows = someRows(3, 20, 0.5);
    const std::vector<double> at{1, 1, 1};
    double last = std::sqrt(3.0);
    for (std::size_t n = 0; n <= rows.size(); n += 4) {
        const double sigma = PriorFit({1, 1, 1}, std::span(rows).first(n)).of(at).sigma;
        QVERIFY(n == 0 || sigma < last);
        last = sigma;
    }
}

// Unknowns drawn from the prior, rows with the scatter that they state.
void PriorFitTest::holdsNinetyFiveOfAHundred() {
    std::mt19937 random(21);
    std::normal_distribution<double> normal;
    int within = 0;
    constexpr int tries = 2000, rowCount = 2; // too few to raise anything
    for (int t = 0; t < tries; ++t) {
        const std::vector<double> truth{0.5 * normal(random), 2 * normal(random)};
        std::vector<PriorRow> rows;
        for (int i = 0; i < rowCount; ++i) {
            const double x = normal(random);
            rows.push_back({{1, x}, truth[0] + truth[1] * x + 0.3 * normal(random), 0.3});
        }
        const std::vector<double> at{1, 1.5};
        const PriorFit::Band band = PriorFit({0.5, 2}, rows).of(at);
        if (std::abs(band.mean - truth[0] - truth[1] * at[1]) < 1.96 * band.sigma) ++within;
    }
    // 1900 ± 10 of them, four standard errors.
    QVERIFY2(within > 1860 && within < 1940, std::to_string(within).c_str());
}

CORE_TEST_MAIN(PriorFitTest)
#include "prior_fit_test.moc"
