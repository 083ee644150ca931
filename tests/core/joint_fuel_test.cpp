// SPDX-License-Identifier: GPL-3.0-or-later
// All contents at once: the solution against GSL, its errors against Monte Carlo, and steps that were planted
// found again, in every school.
#include "core/base/error.h"
#include "core/proposal/joint_fuel.h"
#include "core/study/cell_trust.h"
#include "core/study/school_conversion.h"
#include "formats/job_json.h"
#include "support/test_main.h"

#include <QFile>
#include <gsl/gsl_blas.h>
#include <gsl/gsl_linalg.h>

#include <cmath>
#include <functional>
#include <random>
#include <tuple>

using namespace wheelwright;
using namespace wheelwright::testing;

namespace {

constexpr auto fuel = CalibratedQuantity::fuel;

/// A system of two small tables and a curve, with random samples of it.
struct Small {
    std::vector<JointTableShape> shapes;
    std::vector<double> nodes{0, 0.1, 0.35, 0.6, 0.85, 1};
    std::vector<bool> pinned{false, true, false, false, true, false};

    explicit Small(bool sameAxes = true) {
        const Axis x(std::vector<double>{1000, 2000, 3500, 5000}),
            y(std::vector<double>{40, 80, 120, 180, 240});
        const Axis otherX(std::vector<double>{900, 2500, 5200}),
            otherY(std::vector<double>{30, 100, 170, 260});
        for (const bool top : {false, true}) {
            JointTableShape s{top && !sameAxes ? otherX : x, top && !sameAxes ? otherY : y, {}};
            for (std::size_t i = 0; i < s.x.size() * s.y.size(); ++i)
                s.value.push_back((top ? 90 : 70) + 3.0 * static_cast<double>(i % 7));
            s.trends = {std::vector<double>(s.value.size(), 1), {}};
            for (std::size_t i = 0; i < s.value.size(); ++i)
                s.trends[1].push_back(s.y[i / s.x.size()] / 100 - 1);
            shapes.push_back(std::move(s));
        }
    }
    double weightAt(double content) const { return std::clamp((content - 0.1) / 0.75, 0.0, 1.0); }
    JointRow row(double rpm, double load, double content, double error, std::uint32_t fold = 0) const {
        JointRow r;
        r.highTable = 1;
        r.lowX = shapes[0].x.locate(rpm);
        r.lowY = shapes[0].y.locate(load);
        r.highX = shapes[1].x.locate(rpm);
        r.highY = shapes[1].y.locate(load);
        const auto at = [](const JointTableShape &s, const AxisPosition &px, const AxisPosition &py) {
            return Table2D(s.x, s.y, s.value).at(px, py).value;
        };
        const double w = weightAt(content);
        const double whole = (1 - w) * at(shapes[0], r.lowX, r.lowY) + w * at(shapes[1], r.highX, r.highY);
        r.lowShare = (1 - w) / whole;
        r.highShare = w / whole;
        r.node = static_cast<std::uint32_t>(std::upper_bound(nodes.begin() + 1, nodes.end() - 1, content) -
                                            nodes.begin() - 1);
        r.along = (content - nodes[r.node]) / (nodes[r.node + 1] - nodes[r.node]);
        r.error = error;
        r.fold = fold;
        return r;
    }
    JointSystem system() const { return {shapes, nodes, pinned}; }
};

std::vector<JointRow> randomRows(const Small &s, std::mt19937 &random, std::size_t count,
                                 const std::vector<double> &contents,
                                 const std::function<double(double, double, double)> &error) {
    std::uniform_real_distribution<double> rpm(900, 5200), load(35, 250);
    std::vector<JointRow> rows;
    for (std::size_t i = 0; i < count; ++i) {
        const std::size_t fold = i * contents.size() / count;
        const double r = rpm(random), l = load(random), c = contents[fold];
        rows.push_back(s.row(r, l, c, error(r, l, c), static_cast<std::uint32_t>(fold)));
    }
    return rows;
}

struct Dense {
    std::vector<double> solution, variance;
};
// The same equations by GSL's Cholesky factor of the dense normal matrix.
Dense byGsl(const std::vector<JointEquation> &equations, std::size_t n) {
    gsl_matrix *a = gsl_matrix_calloc(n, n);
    gsl_vector *b = gsl_vector_calloc(n), *x = gsl_vector_alloc(n);
    for (const JointEquation &q : equations)
        for (const auto &[i, vi] : q.left) {
            *gsl_vector_ptr(b, i) += q.weight * vi * q.right;
            for (const auto &[j, vj] : q.left)
                *gsl_matrix_ptr(a, i, j) += q.weight * vi * vj;
        }
    gsl_linalg_cholesky_decomp1(a);
    gsl_linalg_cholesky_solve(a, b, x);
    gsl_linalg_cholesky_invert(a);
    Dense d;
    for (std::size_t i = 0; i < n; ++i) {
        d.solution.push_back(gsl_vector_get(x, i));
        d.variance.push_back(gsl_matrix_get(a, i, i));
    }
    gsl_matrix_free(a);
    gsl_vector_free(b);
    gsl_vector_free(x);
    return d;
}

Job demoJob() {
    QFile f(QStringLiteral(DEMO_JOB));
    if (!f.open(QIODevice::ReadOnly)) qFatal("no demo job");
    return jobFromJson(f.readAll().toStdString());
}

/// An engine that needs a known share more than its tables give: by place and by content.
double needed(double rpm, double load, double content) {
    const double atBase = 0.03 + 0.02 * std::sin(rpm / 1500) - 0.0001 * (load - 100),
                 atTop = -0.02 + 0.01 * std::cos(rpm / 1800);
    const double bow = 0.03 * std::sin(3.14159265 * std::clamp((content - 0.1) / 0.75, 0.0, 1.0));
    return (1 - content) * atBase + content * atTop + bow;
}

FuelSamples logged(const std::vector<double> &contents, double noise = 0.004, unsigned seed = 5,
                   std::size_t each = 1500) {
    std::mt19937 random(seed);
    std::uniform_real_distribution<double> rpm(1500, 5500), load(45, 170);
    std::normal_distribution<double> sensor(0, noise);
    FuelSamples s;
    for (std::size_t l = 0; l < contents.size(); ++l) {
        FuelSamples::Log log;
        log.info.id = std::to_string(l);
        log.info.name = "log " + std::to_string(l);
        log.used = true;
        s.logs.push_back(log);
        for (std::size_t i = 0; i < each; ++i) {
            FuelSample f;
            f.rpm = rpm(random);
            f.load = f.loadKpa = load(random);
            f.content = contents[l];
            f.log = static_cast<std::uint32_t>(l);
            f.timeS = static_cast<double>(i) / 20;
            f.error = needed(f.rpm, f.load, f.content) + sensor(random);
            s.samples.push_back(f);
        }
    }
    return s;
}

/// Root of the mean square of what is still wrong with a job's tables at some contents, where logs have been.
double stillWrong(const Job &before, const Job &after, const std::vector<double> &contents) {
    const Study was(before), is(after);
    double sum = 0;
    int n = 0;
    for (const double content : contents) {
        const Table2D old = was.blended(fuel, content), now = is.blended(fuel, content);
        for (double rpm = 1600; rpm <= 5400; rpm += 190)
            for (double load = 50; load <= 165; load += 11.5, ++n) {
                const double need = old.lookup(rpm, load).value * (1 + needed(rpm, load, content));
                const double error = need / now.lookup(rpm, load).value - 1;
                sum += error * error;
            }
    }
    return std::sqrt(sum / n);
}

/// With a prior in hand: choosing it takes a hundred solutions.
JointFuel solved(const Job &job, const FuelSamples &samples) {
    JointOptions options;
    options.prior = JointPrior{0.01, 0.1, 0.1, 100};
    return solveJointFuel(Study(job), samples, options);
}

const std::vector<double> logs{0.10, 0.35, 0.60, 0.78}, between{0.10, 0.15, 0.25, 0.35, 0.5, 0.6, 0.7, 0.78};

} // namespace

class JointFuelTest : public QObject {
    Q_OBJECT
  private slots:
    void bandsInvertLikeGsl();
    void solutionIsGsls();
    void errorsAreWhatChanceMakes();
    void outliersCountForLess();
    void neighbouringSamplesAreNotIndependent();
    void leftOutLogsChooseThePrior();
    void plantedStepsAreFound();
    void oneContentCannotBeSeparated();
    void idlingInOnePlaceTiltsNothing();
    void unseenCellsStay();
    void aDampedStepIsAPartOfIt();
    void lockedCellsAndRangesHold();
    void supplyAtItsEndIsNotHidden();
    void everySchoolHoldsWhatItCan_data();
    void everySchoolHoldsWhatItCan();
    void contentsBeyondTheTablesAreResiduals();
    void withoutSamplesItSaysWhy();
};

// Diagonal of the inverse within the band, and products, against GSL's dense ones: 1e-12 of the largest.
void JointFuelTest::bandsInvertLikeGsl() {
    std::mt19937 random(3);
    std::uniform_real_distribution<double> number(-1, 1);
    for (const auto &[size, band] :
         {std::pair<std::size_t, std::size_t>{1, 0}, {2, 1}, {7, 2}, {30, 9}, {45, 44}}) {
        SymmetricBand a(size, band);
        gsl_matrix *dense = gsl_matrix_calloc(size, size);
        std::vector<double> x(size);
        for (std::size_t i = 0; i < size; ++i) {
            x[i] = number(random);
            for (std::size_t j = i > band ? i - band : 0; j <= i; ++j) {
                const double v = a.at(i, j) = i == j ? 2.0 * static_cast<double>(band) + 1.5 : number(random);
                gsl_matrix_set(dense, i, j, v);
                gsl_matrix_set(dense, j, i, v);
            }
        }
        const std::vector<double> product = a.times(x);
        for (std::size_t i = 0; i < size; ++i) {
            double sum = 0;
            for (std::size_t j = 0; j < size; ++j)
                sum += gsl_matrix_get(dense, i, j) * x[j];
            COMPARE_NEAR(product[i], sum, 1e-12);
        }
        const BandFactor factor(a);
        gsl_linalg_cholesky_decomp1(dense);
        gsl_linalg_cholesky_invert(dense);
        const std::vector<double> diagonal = factor.inverseDiagonal(), back = factor.solve(product);
        for (std::size_t i = 0; i < size; ++i) {
            COMPARE_NEAR(diagonal[i], gsl_matrix_get(dense, i, i), 1e-12);
            COMPARE_NEAR(back[i], x[i], 1e-11);
        }
        gsl_matrix_free(dense);
    }
}

// Steps, curve and standard errors to 1e-8; tables on the same axes and on others, robust and plain.
void JointFuelTest::solutionIsGsls() {
    for (const bool sameAxes : {true, false})
        for (const bool robust : {true, false}) {
            const Small small(sameAxes);
            std::mt19937 random(17);
            std::normal_distribution<double> noise(0, 0.01);
            JointSystem system = small.system();
            const auto error = [&](double rpm, double, double c) {
                return 0.03 * std::sin(rpm / 900) + 0.02 * c + noise(random) + (random() % 40 == 0 ? 0.2 : 0);
            };
            // In two parts, the second out of order: sums do not mind.
            const std::vector<JointRow> rows = randomRows(small, random, 900, {0.1, 0.4, 0.7, 0.95}, error);
            system.add(std::span(rows).subspan(400));
            system.add(std::span(rows).first(400));
            const JointPrior prior{0.3, 2, 0.2, 30};
            const JointSolution s = system.solve(prior, robust);
            QCOMPARE(s.weights.empty(), !robust);
            const Dense dense = byGsl(system.equations(prior, s), system.unknowns());
            const double sigma = s.sigma * std::sqrt((1 + s.correlation) / (1 - s.correlation));
            for (std::size_t t = 0; t < 2; ++t)
                for (std::size_t c = 0; c < s.steps[t].size(); ++c) {
                    const std::size_t i = system.unknownOf(t, c);
                    COMPARE_NEAR(s.steps[t][c], dense.solution[i], 1e-8);
                    COMPARE_NEAR(s.errors[t][c], sigma * std::sqrt(dense.variance[i]), 1e-8);
                }
            for (std::size_t k = 0; k < small.nodes.size(); ++k) {
                const std::size_t i = system.unknownOfNode(k);
                if (small.pinned[k]) {
                    QCOMPARE(s.curve[k], 0.0);
                    QCOMPARE(s.curveErrors[k], 0.0);
                    COMPARE_NEAR(dense.solution[i], 0, 1e-12);
                    continue;
                }
                COMPARE_NEAR(s.curve[k], dense.solution[i], 1e-8);
                COMPARE_NEAR(s.curveErrors[k], sigma * std::sqrt(dense.variance[i]), 1e-8);
            }
            // What is foretold of a row is what its equation says.
            const std::vector<JointEquation> equations = system.equations(prior, s);
            for (std::size_t i = 0; i < rows.size(); i += 53) {
                const JointRow &row = rows[(i + 400) % rows.size()]; // in the order in which they were added
                double sum = 0;
                for (const auto &[unknown, v] : equations[i].left)
                    sum += v * dense.solution[unknown];
                COMPARE_NEAR(system.foretold(row, s), sum, 1e-9);
            }
            // Misfit from the normal equations against the residuals themselves.
            double rss = 0;
            for (std::size_t i = 0; i < rows.size(); ++i) {
                double r = equations[i].right;
                for (const auto &[unknown, v] : equations[i].left)
                    r -= v * dense.solution[unknown];
                rss += equations[i].weight * r * r;
            }
            COMPARE_NEAR(s.rss, rss, 1e-9);
        }
}

// Monte Carlo, 200 times: the same truth with other noise. The prior is weak here, so estimates scatter by
// their standard errors: the ratio of both, cell by cell, averages to 1 within 6 % and strays by no more than
// three of its own errors (5 % of 200) and what the prior takes, 20 % in all.
void JointFuelTest::errorsAreWhatChanceMakes() {
    const Small small;
    std::mt19937 random(29);
    std::normal_distribution<double> noise(0, 0.01);
    std::vector<JointRow> rows =
        randomRows(small, random, 1500, {0.1, 0.35, 0.6, 0.85}, [](double, double, double) { return 0; });
    const JointPrior weak{1e-4, 1e-4, 1e-4, 1e-4};
    constexpr int tries = 200;
    std::vector<double> sum, squares, claimed;
    for (int n = 0; n < tries; ++n) {
        for (JointRow &r : rows)
            r.error = 0.02 + noise(random);
        JointSystem system = small.system();
        system.add(rows);
        const JointSolution s = system.solve(weak, false);
        std::vector<double> values = s.steps[0], errors = s.errors[0];
        values.insert(values.end(), s.steps[1].begin(), s.steps[1].end());
        errors.insert(errors.end(), s.errors[1].begin(), s.errors[1].end());
        for (const std::size_t k : {std::size_t{2}, std::size_t{3}}) {
            values.push_back(s.curve[k]);
            errors.push_back(s.curveErrors[k]);
        }
        sum.resize(values.size());
        squares.resize(values.size());
        claimed.resize(values.size());
        for (std::size_t i = 0; i < values.size(); ++i) {
            sum[i] += values[i];
            squares[i] += values[i] * values[i];
            claimed[i] += errors[i] / tries;
        }
    }
    double mean = 0;
    for (std::size_t i = 0; i < sum.size(); ++i) {
        const double scatter = std::sqrt(squares[i] / tries - sum[i] * sum[i] / tries / tries);
        const double ratio = scatter / claimed[i];
        QVERIFY2(ratio > 0.8 && ratio < 1.2, qPrintable(QString::number(ratio)));
        mean += ratio / static_cast<double>(sum.size());
    }
    QVERIFY2(std::abs(mean - 1) < 0.06, qPrintable(QString::number(mean)));
}

void JointFuelTest::outliersCountForLess() {
    const Small small;
    std::mt19937 random(31);
    std::normal_distribution<double> noise(0, 0.005);
    JointSystem system = small.system();
    system.add(randomRows(small, random, 3000, {0.1, 0.35, 0.6, 0.85}, [&](double, double, double) {
        return random() % 20 == 0 ? 0.6 : noise(random); // one in twenty is a misfire
    }));
    const JointPrior prior{0.1, 10, 0.1, 100};
    const JointSolution robust = system.solve(prior), plain = system.solve(prior, false);
    const auto worst = [](const JointSolution &s) {
        double w = 0;
        for (const auto &t : s.steps)
            for (const double v : t)
                w = std::max(w, std::abs(v));
        return w;
    };
    QVERIFY(worst(robust) < 0.012 && worst(plain) > 0.03);
    QVERIFY(robust.left > 0.04 && robust.left < 0.12);
    QCOMPARE(plain.left, 0.0);
    COMPARE_NEAR(robust.sigma, 0.005, 0.0006);
}

// Each sample four times over says no more than once: the errors are those of the single ones.
void JointFuelTest::neighbouringSamplesAreNotIndependent() {
    const Small small;
    std::mt19937 random(37);
    std::normal_distribution<double> noise(0, 0.01);
    double last = 0;
    const auto wandering = [&](double, double, double) {
        constexpr double share = 0.9;
        return last = share * last + std::sqrt(1 - share * share) * noise(random);
    };
    JointSystem system = small.system();
    system.add(randomRows(small, random, 6000, {0.1, 0.35, 0.6, 0.85}, wandering));
    const JointSolution s = system.solve({0.1, 1, 0.1, 100}, false);
    COMPARE_NEAR(s.correlation, 0.9, 0.05);
    COMPARE_NEAR(s.witnessSigma() / s.sigma, std::sqrt(1.9 / 0.1), 1.2);
}

void JointFuelTest::leftOutLogsChooseThePrior() {
    const Study study(demoJob());
    const JointFuel four = solveJointFuel(study, logged(logs));
    QVERIFY(four.chosen && four.leftOutRms);
    // Against leaving each out by hand.
    const FuelSamples samples = logged(logs);
    const JointSystem all = jointSystemOf(study, samples);
    QCOMPARE(all.folds(), logs.size());
    const std::vector<JointRow> rows = jointRowsOf(study, samples);
    double sum = 0;
    const JointPrior prior{0.1, 1, 0.1, 100};
    for (std::uint32_t out = 0; out < logs.size(); ++out) {
        FuelSamples rest = samples;
        std::erase_if(rest.samples, [&](const FuelSample &f) { return f.log == out; });
        const JointSystem others = jointSystemOf(study, rest);
        const JointSolution s = others.solve(prior, false);
        for (const JointRow &r : rows)
            if (r.fold == out) sum += std::pow(r.error - others.foretold(r, s), 2);
    }
    // Robust weights move it a little: those of a plain solution are not all 1.
    COMPARE_NEAR(all.leftOutRms(prior), std::sqrt(sum / static_cast<double>(rows.size())), 4e-4);
    // Nothing near foretells the logs better.
    for (const double factor : {10.0, 0.1})
        for (const auto member : {&JointPrior::smooth, &JointPrior::ridge, &JointPrior::curveSmooth}) {
            JointPrior near = four.prior;
            near.*member *= factor;
            QVERIFY(all.leftOutRms(near) > 0.998 * *four.leftOutRms);
        }
    const JointFuel one = solveJointFuel(study, logged({0.35}));
    QVERIFY(!one.chosen && !one.leftOutRms);
}

// Tables and curve that were planted, found again at contents that nobody has logged.
void JointFuelTest::plantedStepsAreFound() {
    const Job job = demoJob();
    const JointFuel joint = solved(job, logged(logs));
    QCOMPARE(joint.tables.size(), std::size_t{2});
    QCOMPARE(joint.tables[0].path, std::string("calibration.fuel.base"));
    QCOMPARE(joint.tables[1].path, std::string("calibration.fuel.top"));
    QVERIFY(joint.explained > 0.95);
    COMPARE_NEAR(joint.sigma, 0.004, 0.0005);
    COMPARE_NEAR(joint.rmsAfter, 0.004, 0.0005);
    const JointApplied applied = withJointFuel(job, joint);
    const double before = stillWrong(job, job, between), after = stillWrong(job, applied.job, between);
    QVERIFY2(before > 0.02 && after < 0.004, qPrintable(QString::number(after)));
    // The curve between the tables, within three of its errors.
    for (const JointNode &k : joint.curve) {
        if (k.of.known != JointKnown::measured) continue;
        const double bow = 0.03 * std::sin(3.14159265 * (k.content - 0.1) / 0.75);
        COMPARE_NEAR(k.of.value, bow, 3 * k.of.standardError + 0.006);
    }
    // Once more, with what is left: nothing worth a step.
    const JointFuel again = solved(applied.job, [&] {
        FuelSamples s = logged(logs, 0.004, 6);
        const Study was(job), is(applied.job);
        std::map<double, std::pair<Table2D, Table2D>> tables;
        for (FuelSample &f : s.samples) {
            const auto at =
                tables.try_emplace(f.content, was.blended(fuel, f.content), is.blended(fuel, f.content))
                    .first;
            f.error = (1 + f.error) * at->second.first.lookup(f.rpm, f.load).value /
                          at->second.second.lookup(f.rpm, f.load).value -
                      1;
        }
        return s;
    }());
    QVERIFY(again.rmsBefore < 0.0055);
}

// From one content only their blend is known: neither table is touched, and it says so.
void JointFuelTest::oneContentCannotBeSeparated() {
    const Job job = demoJob();
    const JointFuel joint = solved(job, logged({0.47}));
    QCOMPARE(joint.count(JointKnown::measured), std::size_t{0});
    std::size_t visited = 0;
    for (const JointTable &t : joint.tables)
        for (const JointUnknown &u : t.cells)
            visited += u.hits >= 5 && u.known == JointKnown::notSeparable;
    QVERIFY(visited > 50);
    const JointApplied applied = withJointFuel(job, joint);
    QCOMPARE(applied.changed, std::size_t{0});
    QVERIFY(applied.job.calibration.of(fuel) == job.calibration.of(fuel));
    // At the content of a table that table alone is known.
    const JointFuel atBase = solved(job, logged({0.10}));
    for (const JointUnknown &u : atBase.tables[1].cells)
        QVERIFY(u.known == JointKnown::notSeparable);
    QVERIFY(atBase.count(JointKnown::measured) > 50);
}

// An engine idles for minutes between four cells, and what is left of λ goes with the noise of its manifold:
// two per cent for a kilopascal, over a cell of 20 kPa two fifths. All four take what is missing, no more.
void JointFuelTest::idlingInOnePlaceTiltsNothing() {
    const Job job = demoJob();
    FuelSamples s = logged(logs);
    std::mt19937 random(11);
    std::normal_distribution<double> rpm(0, 12), load(0, 0.6), sensor(0, 0.004);
    const Table2D &t = job.calibration.of(fuel).base;
    const std::size_t x = t.x().nearest(1000), y = t.y().nearest(40);
    const double idleRpm = t.x()[x - 1] + 0.8 * (t.x()[x] - t.x()[x - 1]),
                 idleKpa = t.y()[y - 1] + 0.75 * (t.y()[y] - t.y()[y - 1]);
    constexpr double missing = 0.05, perKpa = 0.02, perRpm = -0.001;
    for (std::size_t l = 0; l < logs.size(); ++l)
        for (int i = 0; i < 2000; ++i) {
            FuelSample f;
            const double dRpm = rpm(random), dKpa = load(random);
            f.rpm = idleRpm + dRpm;
            f.load = f.loadKpa = idleKpa + dKpa;
            f.content = logs[l];
            f.log = static_cast<std::uint32_t>(l);
            f.timeS = 100 + i / 20.0;
            f.error = missing + perKpa * dKpa + perRpm * dRpm + sensor(random);
            s.samples.push_back(f);
        }
    const Job after = withJointFuel(job, solved(job, s)).job;
    const Table2D now = Study(after).blended(fuel, 0.35), was = Study(job).blended(fuel, 0.35);
    for (const std::size_t i : {x - 1, x})
        for (const std::size_t j : {y - 1, y})
            COMPARE_NEAR(now.cell(i, j) / was.cell(i, j) - 1, missing, 0.035);
    COMPARE_NEAR(now.lookup(idleRpm, idleKpa).value / was.lookup(idleRpm, idleKpa).value - 1, missing, 0.01);
}

void JointFuelTest::unseenCellsStay() {
    const Job job = demoJob();
    const JointFuel joint = solved(job, logged(logs));
    const JointApplied applied = withJointFuel(job, joint);
    const Table2D &t = job.calibration.of(fuel).base;
    for (std::size_t t2 = 0; t2 < 2; ++t2)
        for (std::size_t i = 0; i < t.cells().size(); ++i) {
            const double rpm = t.x()[i % t.x().size()], load = t.y()[i / t.x().size()];
            // A cell away from the last one that samples touch nothing is known.
            const bool far = rpm < 800 || rpm > 7000 || load > 240;
            if (far) QVERIFY(joint.tables[t2].cells[i].known == JointKnown::notSeparable);
        }
    const Table2D &now = applied.job.calibration.of(fuel).base;
    for (std::size_t i = 0; i < now.cells().size(); ++i) {
        const bool changed = now.cells()[i] != t.cells()[i];
        const JointKnown known = joint.tables[0].cells[i].known;
        QCOMPARE(changed, known == JointKnown::measured || known == JointKnown::inferred);
    }
}

void JointFuelTest::aDampedStepIsAPartOfIt() {
    const Job job = demoJob();
    const JointFuel joint = solved(job, logged(logs));
    const Table2D &was = job.calibration.of(fuel).base;
    const Table2D whole = withJointFuel(job, joint).job.calibration.of(fuel).base,
                  half = withJointFuel(job, joint, {0.5, {}, {}, {}}).job.calibration.of(fuel).base,
                  held = withJointFuel(job, joint, {1, 0.01, {}, {}}).job.calibration.of(fuel).base;
    for (std::size_t i = 0; i < was.cells().size(); ++i) {
        const double step = whole.cells()[i] / was.cells()[i] - 1;
        COMPARE_NEAR(half.cells()[i] / was.cells()[i] - 1, step / 2, 1e-12);
        COMPARE_NEAR(held.cells()[i] / was.cells()[i] - 1, std::clamp(step, -0.01, 0.01), 1e-12);
    }
}

void JointFuelTest::lockedCellsAndRangesHold() {
    Job job = demoJob();
    const Table2D &base = job.calibration.of(fuel).base;
    const std::size_t x = base.x().nearest(3000), y = base.y().nearest(100);
    const JointFuel free = solved(job, logged(logs));
    const std::size_t changes = withJointFuel(job, free).changed;
    setLocked(job, "calibration.fuel.base", base, {{x, y}}, true);
    const JointApplied applied = withJointFuel(job, solved(job, logged(logs)));
    QCOMPARE(applied.locked, std::size_t{1});
    QCOMPARE(applied.changed, changes - 1);
    QCOMPARE(applied.job.calibration.of(fuel).base.cell(x, y), base.cell(x, y));
    JointFuel wild = free;
    for (JointUnknown &u : wild.tables[0].cells)
        u.value = 50;
    const JointApplied refused = withJointFuel(demoJob(), wild);
    QVERIFY(refused.outOfRange > 100);
    QVERIFY(refused.job.calibration.of(fuel).base == demoJob().calibration.of(fuel).base);
}

// A cell that needs more where injectors or rail had no more to give stays, and it says so; one that needs
// less is changed all the same.
void JointFuelTest::supplyAtItsEndIsNotHidden() {
    const Job job = demoJob();
    FuelSamples samples = logged(logs);
    const JointFuel free = solved(job, samples);
    const JointTable &base = free.tables.front();
    std::size_t more = base.cells.size(), less = more;
    for (std::size_t i = 0; i < base.cells.size(); ++i) {
        if (base.cells[i].known != JointKnown::measured) continue;
        if (base.cells[i].value > 0.005) more = i;
        if (base.cells[i].value < -0.005) less = i;
    }
    QVERIFY(more < base.cells.size());
    const std::size_t nx = base.now.x().size();
    const auto cellOf = [&](std::size_t i) { return std::pair{base.now.x()[i % nx], base.now.y()[i / nx]}; };
    for (const std::size_t i : {more, less}) {
        if (i == base.cells.size()) continue;
        FuelSample atEnd;
        std::tie(atEnd.rpm, atEnd.load) = cellOf(i);
        atEnd.loadKpa = atEnd.load;
        atEnd.content = base.content;
        atEnd.error = 0.1;
        atEnd.supplyAtEnd = true;
        for (int k = 0; k < 2000; ++k)
            samples.samples.push_back(atEnd);
    }
    const JointFuel held = solved(job, samples);
    QCOMPARE(held.tables[0].cells[more].value, base.cells[more].value); // they say nothing of the tables
    COMPARE_NEAR(held.tables[0].cells[more].atEnd, 2000, 1);
    QVERIFY(held.tables[0].cells[more].supplyAtEnd());
    const JointApplied applied = withJointFuel(job, held);
    QCOMPARE(applied.supply, std::size_t{1});
    const Table2D &then = applied.job.calibration.of(fuel).base;
    QCOMPARE(then.cells()[more], base.now.cells()[more]);
    if (less < base.cells.size()) QVERIFY(then.cells()[less] < base.now.cells()[less]);
    QCOMPARE(withJointFuel(job, free).supply, std::size_t{0});
}

void JointFuelTest::everySchoolHoldsWhatItCan_data() {
    QTest::addColumn<int>("school");
    for (const School s :
         {School::twoTables, School::baseAndAdder, School::fuelModel, School::windowSet, School::stack})
        QTest::newRow(std::string(definitionOf(s).id).c_str()) << static_cast<int>(s);
}

// The same engine, whatever the school: where a school can hold it, the error at every content goes; what it
// cannot hold is said by content.
void JointFuelTest::everySchoolHoldsWhatItCan() {
    QFETCH(int, school);
    const auto wanted = static_cast<School>(school);
    Job job = demoJob();
    if (wanted == School::windowSet || wanted == School::stack)
        job = convertSchool(job, {wanted, {0.10, 0.35, 0.60}}).job;
    else if (wanted != School::twoTables)
        job = convertSchool(job, {wanted, {}}).job;
    QVERIFY(job.calibration.school == wanted);
    const JointFuel joint = solved(job, logged(logs));
    const JointApplied applied = withJointFuel(job, joint);
    const bool levels = wanted == School::windowSet || wanted == School::stack;
    QCOMPARE(joint.tables.size(), wanted == School::fuelModel ? std::size_t{1}
                                  : levels                    ? std::size_t{3}
                                                              : std::size_t{2});
    if (wanted == School::windowSet) {
        // Each window goes by its own table: at its own content it is right.
        QVERIFY(applied.schoolThatCould && !applied.residuals.empty());
        QVERIFY(stillWrong(job, applied.job, {0.10}) < 0.006);
        return;
    }
    if (wanted == School::stack) {
        const double before = stillWrong(job, job, {0.10, 0.35, 0.47, 0.60}),
                     after = stillWrong(job, applied.job, {0.10, 0.35, 0.47, 0.60});
        QVERIFY2(after < before / 2, qPrintable(QString::number(after)));
        return;
    }
    // One table and a curve by content cannot hold errors of two shapes: half of them go.
    const double before = stillWrong(job, job, between), after = stillWrong(job, applied.job, between);
    const double most = wanted == School::fuelModel ? before / 2 : 0.004;
    QVERIFY2(after < most, qPrintable(QStringLiteral("%1 of %2").arg(after).arg(before)));
    validate(applied.job);
    if (wanted == School::fuelModel)
        QVERIFY(!(applied.job.calibration.learnedFuelCorrection == job.calibration.learnedFuelCorrection));
    else
        QVERIFY(applied.job.calibration.of(fuel).shape == WeightShape::custom);
}

// A curve of two tables holds nothing beyond them: said, with the school that could.
void JointFuelTest::contentsBeyondTheTablesAreResiduals() {
    const Job job = demoJob();
    FuelSamples s = logged({0.10, 0.35, 0.60, 0.78, 0.0});
    for (FuelSample &f : s.samples)
        if (f.content == 0) f.error -= 0.04;
    const JointApplied applied = withJointFuel(job, solved(job, s));
    const auto at = std::ranges::find(applied.residuals, 0.0, &JointApplied::Residual::content);
    QVERIFY(at != applied.residuals.end());
    COMPARE_NEAR(at->residual, -0.04, 0.012);
    QVERIFY(applied.schoolThatCould == School::stack);
}

void JointFuelTest::withoutSamplesItSaysWhy() {
    const Study study(demoJob());
    EXPECT_INPUT_ERROR(solveJointFuel(study, FuelSamples()), "no log of this calibration");
    FuelSamples s = logged({0.1}, 0.004, 5, 0);
    EXPECT_INPUT_ERROR(solveJointFuel(study, s), "log 0", "no clean sample");
    s.logs[0].used = false;
    s.logs[0].why = MARKED("fuel_samples.no_lambda", "it has no λ");
    EXPECT_INPUT_ERROR(solveJointFuel(study, s), "log 0", "it has no λ");
}

CORE_TEST_MAIN(JointFuelTest)
#include "joint_fuel_test.moc"
