// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/error.h"
#include "core/job/job_change.h"
#include "core/study/blend_edit.h"
#include "core/study/study.h"
#include "core/tables/region_edit.h"
#include "support/random_job.h"
#include "support/test_main.h"

#include <gsl/gsl_interp2d.h>
#include <gsl/gsl_linalg.h>
#include <gsl/gsl_spline2d.h>

#include <random>

using namespace wheelwright;

namespace {

Table2D sample(std::size_t columns, std::size_t rows, unsigned seed) {
    std::mt19937 random(seed);
    std::uniform_real_distribution<> step(0.5, 2), value(5, 40);
    std::vector<double> x{500}, y{20}, cells;
    while (x.size() < columns)
        x.push_back(x.back() + 300 * step(random));
    while (y.size() < rows)
        y.push_back(y.back() + 10 * step(random));
    for (std::size_t i = 0; i < columns * rows; ++i)
        cells.push_back(value(random));
    return Table2D(Axis(x), Axis(y), cells);
}

} // namespace

/// Edits of regions of any shape against GSL and hand-worked cases.
class RegionEditTest : public QObject {
    Q_OBJECT
  private slots:
    void setsOfCells();
    void sayingThatNumbersAreSo();
    void interpolatesRunsByThemselves();
    void regridsAsGslDoes();
    void regridThereAndBack();
    void fillSolvesLaplace();
    void smoothsAsSciPyDoes();
    void smoothLeavesTheOthersAlone();
    void searchSpeaksUnits();
    void searchRefuses();
    void blendIsEditedByWeight_data();
    void blendIsEditedByWeight();
    void tenThousandEditsUndone();
};

void RegionEditTest::setsOfCells() {
    const Table2D t = sample(5, 4, 1);
    const CellSet a = cellsOf({{3, 3}, {1, 1}}, t); // corners in any order
    QCOMPARE(a.size(), std::size_t{9});
    QVERIFY(std::ranges::is_sorted(a));
    const CellSet b = cellsOf({{3, 0}, {4, 1}}, t);
    QCOMPARE(united(a, b).size(), std::size_t{12});
    QCOMPARE(without(a, b).size(), std::size_t{8});
    Table2D changed = t;
    applyExpression(changed, without(a, b), {CellExpression::Operation::multiply, 2});
    QCOMPARE(changed.cell(3, 1), t.cell(3, 1));
    QCOMPARE(changed.cell(2, 1), 2 * t.cell(2, 1));
}

// Guesses become typed, cell by cell; what somebody or a log has said stays as it was, and so do the numbers.
void RegionEditTest::sayingThatNumbersAreSo() {
    Table2D t(Axis({1000, 2000, 3000}), Axis({50, 100}), {1, 2, 3, 4, 5, 6});
    using O = CellOrigin;
    t.setOrigins({O::estimated, O::assumed, O::log, O::estimated, O::typed, O::model});
    QCOMPARE(stateCells(t, {{0, 0}, {1, 0}, {2, 0}, {1, 1}, {2, 1}}), std::size_t{2});
    const std::vector<O> expected{O::typed, O::typed, O::log, O::estimated, O::typed, O::model};
    QVERIFY(t.origins() == expected);
    QVERIFY((t.cells() == std::vector<double>{1, 2, 3, 4, 5, 6}));
    QCOMPARE(stateCells(t, {{0, 0}, {1, 0}}), std::size_t{0});
    Table2D plain(Axis({1000, 2000}), Axis({50, 100}),
                  {1, 2, 3, 4}); // nothing is known of where it comes from
    QCOMPARE(stateCells(plain, {{0, 0}}), std::size_t{0});
}

// Two runs in one row, an L in the columns.
void RegionEditTest::interpolatesRunsByThemselves() {
    Table2D t(Axis({0, 1, 3, 4, 5, 7}), Axis({0, 10}), {0, 9, 6, 1, 9, 3, 5, 5, 5, 5, 5, 5});
    interpolateRows(t, {{0, 0}, {1, 0}, {2, 0}, {3, 0}, {5, 0}});
    // 0–3 in a line from 0 to 1 by position; the lone cell stays.
    for (const auto &[x, v] : {std::pair{1u, 0.25}, {2u, 0.75}, {3u, 1.0}, {4u, 9.0}, {5u, 3.0}})
        COMPARE_NEAR(t.cell(x, 0), v, 1e-12);
    Table2D u = sample(3, 4, 2);
    const Table2D before = u;
    interpolateColumns(u, cellsOf({{1, 0}, {1, 3}}, u));
    for (std::size_t y = 0; y < 4; ++y) {
        const double share = (u.y()[y] - u.y()[0]) / (u.y()[3] - u.y()[0]);
        COMPARE_NEAR(u.cell(1, y), before.cell(1, 0) + share * (before.cell(1, 3) - before.cell(1, 0)),
                     1e-12);
        QCOMPARE(u.cell(0, y), before.cell(0, y));
    }
}

// GSL 2.7, gsl_interp2d_bilinear; tolerance: rounding.
void RegionEditTest::regridsAsGslDoes() {
    for (unsigned seed = 1; seed <= 10; ++seed) {
        const Table2D t = sample(7, 9, seed);
        const Table2D finer = sample(13, 11, seed + 100);
        const Regridded r = regrid(t, finer.x(), finer.y());
        gsl_spline2d *spline = gsl_spline2d_alloc(gsl_interp2d_bilinear, 7, 9);
        gsl_spline2d_init(spline, t.x().points().data(), t.y().points().data(), t.cells().data(), 7, 9);
        for (std::size_t y = 0; y < finer.y().size(); ++y)
            for (std::size_t x = 0; x < finer.x().size(); ++x) {
                const double rpm = std::clamp(finer.x()[x], t.x().first(), t.x().last());
                const double load = std::clamp(finer.y()[y], t.y().first(), t.y().last());
                COMPARE_NEAR(r.table.cell(x, y), gsl_spline2d_eval(spline, rpm, load, nullptr, nullptr),
                             1e-9);
            }
        gsl_spline2d_free(spline);
        double worst = 0;
        for (std::size_t y = 0; y < t.y().size(); ++y)
            for (std::size_t x = 0; x < t.x().size(); ++x)
                worst = std::max(worst, std::abs(r.table.lookup(t.x()[x], t.y()[y]).value - t.cell(x, y)));
        COMPARE_NEAR(std::abs(r.worst), worst, 1e-12);
    }
}

// Breakpoints that are only added lose nothing, and taking them out again gives the table back.
void RegionEditTest::regridThereAndBack() {
    const Table2D t = sample(6, 5, 3);
    std::vector<double> x = t.x().points();
    for (std::size_t i = 0; i + 1 < t.x().size(); ++i)
        x.push_back((t.x()[i] + t.x()[i + 1]) / 2);
    std::ranges::sort(x);
    const Regridded finer = regrid(t, Axis(x), t.y());
    QVERIFY(std::abs(finer.worst) < 1e-12);
    const Table2D back = regrid(finer.table, t.x(), t.y()).table;
    for (std::size_t i = 0; i < t.cells().size(); ++i)
        COMPARE_NEAR(back.cells()[i], t.cells()[i], 1e-12);
}

// The filled cells against the linear system of the same equations solved by GSL's LU decomposition.
void RegionEditTest::fillSolvesLaplace() {
    Table2D t = sample(8, 7, 5);
    const CellSet cells = united(cellsOf({{2, 1}, {5, 3}}, t), cellsOf({{5, 3}, {7, 6}}, t));
    const auto n = cells.size();
    gsl_matrix *a = gsl_matrix_calloc(n, n);
    gsl_vector *b = gsl_vector_calloc(n), *solution = gsl_vector_alloc(n);
    const double spanX = t.x().last() - t.x().first(), spanY = t.y().last() - t.y().first();
    for (std::size_t k = 0; k < n; ++k) {
        const CellIndex c = cells[k];
        double total = 0;
        const auto neighbour = [&](std::size_t x, std::size_t y, double weight) {
            total += weight;
            const auto at = std::ranges::find(cells, CellIndex{x, y});
            if (at != cells.end())
                gsl_matrix_set(a, k, static_cast<std::size_t>(at - cells.begin()), -weight);
            else
                gsl_vector_set(b, k, gsl_vector_get(b, k) + weight * t.cell(x, y));
        };
        if (c.x > 0) neighbour(c.x - 1, c.y, spanX / (t.x()[c.x] - t.x()[c.x - 1]));
        if (c.x + 1 < t.x().size()) neighbour(c.x + 1, c.y, spanX / (t.x()[c.x + 1] - t.x()[c.x]));
        if (c.y > 0) neighbour(c.x, c.y - 1, spanY / (t.y()[c.y] - t.y()[c.y - 1]));
        if (c.y + 1 < t.y().size()) neighbour(c.x, c.y + 1, spanY / (t.y()[c.y + 1] - t.y()[c.y]));
        gsl_matrix_set(a, k, k, total);
    }
    gsl_permutation *p = gsl_permutation_alloc(n);
    int sign = 0;
    gsl_linalg_LU_decomp(a, p, &sign);
    gsl_linalg_LU_solve(a, p, b, solution);
    Table2D filled = t;
    fillFromNeighbours(filled, cells);
    for (std::size_t k = 0; k < n; ++k)
        COMPARE_NEAR(filled.cell(cells[k]), gsl_vector_get(solution, k), 1e-7);
    for (const CellIndex &c : without(cellsOf({{0, 0}, {7, 6}}, t), cells))
        QCOMPARE(filled.cell(c), t.cell(c));
    gsl_permutation_free(p);
    gsl_matrix_free(a);
    gsl_vector_free(b);
    gsl_vector_free(solution);
    // All of a table has nothing to be filled from.
    Table2D all = t;
    fillFromNeighbours(all, cellsOf({{0, 0}, {7, 6}}, t));
    QCOMPARE(all, t);
}

// SciPy 1.10.1 (data/SOURCES.md); tolerance: rounding.
void RegionEditTest::smoothsAsSciPyDoes() {
    QFile file(QStringLiteral(TEST_DATA "/smooth-scipy.txt"));
    QVERIFY(file.open(QIODevice::ReadOnly));
    const auto numbers = [&file] {
        std::vector<double> v;
        for (const QByteArray &part : file.readLine().trimmed().split(' ').mid(1))
            v.push_back(part == "nan" ? std::nan("") : part.toDouble());
        return v;
    };
    int cases = 0;
    while (!file.readLine().isEmpty()) {
        const double strength = numbers()[0];
        const Axis x(numbers()), y(numbers());
        Table2D t(x, y, numbers());
        const std::vector<double> expected = numbers();
        smoothCells(t, cellsOf({{0, 0}, {x.size() - 1, y.size() - 1}}, t), strength);
        for (std::size_t i = 0; i < expected.size(); ++i)
            if (!std::isnan(expected[i])) COMPARE_NEAR(t.cells()[i], expected[i], 1e-12 * 40);
        ++cases;
    }
    QCOMPARE(cases, 4);
}

void RegionEditTest::smoothLeavesTheOthersAlone() {
    const Table2D t = sample(6, 6, 9);
    Table2D whole = t, some = t;
    smoothRegion(whole, {{0, 0}, {5, 5}}, 0.5);
    const CellSet cells{{1, 1}, {3, 2}, {4, 5}};
    smoothCells(some, cells, 0.5);
    for (const CellIndex &c : cellsOf({{0, 0}, {5, 5}}, t))
        QCOMPARE(some.cell(c), std::ranges::find(cells, c) != cells.end() ? whole.cell(c) : t.cell(c));
}

void RegionEditTest::searchSpeaksUnits() {
    const Table2D t(Axis({1000, 3000}), Axis({100, 180, 220}), {10, 22, 24, 23, 30, 21});
    const UnitChoice units;
    const auto count = [&](const char *words) {
        return find(t, parseCellQuery(words, Dimension::sparkAngle, units)).size();
    };
    QCOMPARE(count("spark > 22 above 180 kPa"), std::size_t{1}); // 30 at 1000 rpm, 220 kPa
    QCOMPARE(count("> 22"), std::size_t{3});
    QCOMPARE(count(">= 22"), std::size_t{4});
    QCOMPARE(count("= 24"), std::size_t{1});
    QCOMPARE(count("< 22 below 3000 rpm"), std::size_t{1});
    QCOMPARE(count("> 5 above 100 kPa and below 220 kPa"), std::size_t{2});
    QCOMPARE(find(t, parseCellQuery("> 22 above 26.1 psi", Dimension::sparkAngle, units)).size(),
             std::size_t{3});
}

void RegionEditTest::searchRefuses() {
    const UnitChoice units;
    for (const char *words : {"", "spark", "22", "> ", "> 22 sideways 5", "> 22 above", "> x"})
        EXPECT_INPUT_ERROR(parseCellQuery(words, Dimension::sparkAngle, units), "search");
}

void RegionEditTest::blendIsEditedByWeight_data() {
    QTest::addColumn<double>("content");
    for (const double content : {0.0, 0.1, 0.3, 0.5, 0.85, 1.0})
        QTest::addRow("%g", content) << content;
}

// The blend becomes what was asked, by the least change in squares: along the line of the weights.
void RegionEditTest::blendIsEditedByWeight() {
    QFETCH(double, content);
    const Job job = testing::demoJob();
    Job edited = job;
    const Table2D now = Study(job).blended(CalibratedQuantity::spark, content);
    const CellSet cells = cellsOf({{3, 4}, {6, 8}}, now);
    editBlend(edited, CalibratedQuantity::spark, content, cells, {CellExpression::Operation::add, 1.5});
    const Table2D after = Study(edited).blended(CalibratedQuantity::spark, content);
    for (const CellIndex &c : cells)
        COMPARE_NEAR(after.cell(c), now.cell(c) + 1.5, 1e-9);
    QCOMPARE(after.cell(0, 0), now.cell(0, 0));
    const TwoTable &was = job.calibration.of(CalibratedQuantity::spark);
    const TwoTable &is = edited.calibration.of(CalibratedQuantity::spark);
    const double w = SchoolModel(job).at(CalibratedQuantity::spark, content).weight;
    const double low = is.base.cell(3, 4) - was.base.cell(3, 4),
                 high = is.top.cell(3, 4) - was.top.cell(3, 4);
    COMPARE_NEAR(low * w, high * (1 - w), 1e-9);
    // Any other way to share it is a larger change.
    const double squares = low * low + high * high;
    for (const double shift : {-0.3, 0.3}) {
        const double otherHigh = w < 1 ? high + shift : high;
        const double otherLow = w < 1 ? (1.5 - w * otherHigh) / (1 - w) : low + shift;
        QVERIFY(otherLow * otherLow + otherHigh * otherHigh >= squares - 1e-9);
    }
}

// Ten thousand random edits, each kept as a difference, then all undone: every byte of the job is back.
void RegionEditTest::tenThousandEditsUndone() {
    const Job start = testing::demoJob();
    Job job = start;
    std::mt19937 random(20260101);
    std::vector<JobChange> history;
    const auto pick = [&](std::size_t n) {
        return std::uniform_int_distribution<std::size_t>(0, n - 1)(random);
    };
    for (int i = 0; i < 10000; ++i) {
        Job next = job;
        const CalibratedQuantity q = allQuantities[pick(4)];
        Table2D &t = endTable(next, q, 0.5, pick(2) == 1);
        const CellIndex a{pick(t.x().size()), pick(t.y().size())}, b{pick(t.x().size()), pick(t.y().size())};
        const CellSet cells = cellsOf({a, b}, t);
        switch (pick(6)) {
        case 0:
            applyExpression(t, cells, {CellExpression::Operation::multiply, 1.0 + 1e-3});
            break;
        case 1:
            smoothCells(t, cells, 0.5);
            break;
        case 2:
            interpolateRows(t, cells);
            break;
        case 3:
            interpolateColumns(t, cells);
            break;
        case 4:
            editBlend(next, q, 0.5, {a}, {CellExpression::Operation::add, 0.01});
            break;
        default:
            next.calibration.topContent = 0.85 + 0.001 * static_cast<double>(pick(50));
        }
        JobChange change = difference(job, next);
        apply(job, change);
        QVERIFY(job == next);
        history.push_back(std::move(change));
    }
    for (auto step = history.rbegin(); step != history.rend(); ++step)
        apply(job, reversed(*step));
    QVERIFY(job == start);
}

CORE_TEST_MAIN(RegionEditTest)
#include "region_edit_test.moc"
