// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/error.h"
#include "core/tables/curve.h"
#include "core/tables/table2d.h"
#include "support/test_main.h"

#include <gsl/gsl_interp.h>
#include <gsl/gsl_interp2d.h>

#include <limits>
#include <random>

using namespace wheelwright;

namespace {

constexpr double notANumber = std::numeric_limits<double>::quiet_NaN();

struct RandomTable {
    std::vector<double> x, y, cells;
    Table2D table;
};

std::vector<double> ascending(std::mt19937 &r, std::size_t count) {
    std::vector<double> v{std::uniform_real_distribution<>(-50, 50)(r)};
    while (v.size() < count)
        v.push_back(v.back() + std::uniform_real_distribution<>(0.01, 30)(r));
    return v;
}

RandomTable randomTable(unsigned seed) {
    std::mt19937 r(seed);
    std::uniform_int_distribution<std::size_t> size(2, 64);
    RandomTable t{ascending(r, size(r)), ascending(r, size(r)), {}, {}};
    for (std::size_t i = 0; i < t.x.size() * t.y.size(); ++i)
        t.cells.push_back(std::uniform_real_distribution<>(-100, 100)(r));
    t.table = Table2D(Axis(t.x), Axis(t.y), t.cells);
    return t;
}

} // namespace

/// Bilinear look-up against GSL, beside what must hold of any bilinear surface.
class Table2DTest : public QObject {
    Q_OBJECT
  private slots:
    void lookupAgreesWithGsl();
    void curveAgreesWithGsl();
    void bucketsFindWhatASearchFinds();
    void breakpointsAreExact();
    void transposingSwapsTheAxes();
    void clampsAndSaysSo();
    void aSinglePointIsConstant();
    void refusesBadAxesAndCells();
};

void Table2DTest::lookupAgreesWithGsl() {
    for (unsigned seed = 0; seed < 60; ++seed) {
        const RandomTable t = randomTable(seed);
        gsl_interp2d *gsl = gsl_interp2d_alloc(gsl_interp2d_bilinear, t.x.size(), t.y.size());
        gsl_interp2d_init(gsl, t.x.data(), t.y.data(), t.cells.data(), t.x.size(), t.y.size());
        std::mt19937 r(seed + 1000);
        for (int i = 0; i < 200; ++i) {
            const double x = std::uniform_real_distribution<>(t.x.front(), t.x.back())(r);
            const double y = std::uniform_real_distribution<>(t.y.front(), t.y.back())(r);
            const TableLookup ours = t.table.lookup(x, y);
            COMPARE_NEAR(
                ours.value,
                gsl_interp2d_eval(gsl, t.x.data(), t.y.data(), t.cells.data(), x, y, nullptr, nullptr),
                1e-11);
            QVERIFY(!ours.outsideX && !ours.outsideY);
        }
        gsl_interp2d_free(gsl);
    }
}

void Table2DTest::curveAgreesWithGsl() {
    std::mt19937 r(7);
    const std::vector<double> x = ascending(r, 30), y = ascending(r, 30);
    const Curve curve(x, y);
    gsl_interp *gsl = gsl_interp_alloc(gsl_interp_linear, x.size());
    gsl_interp_init(gsl, x.data(), y.data(), x.size());
    for (int i = 0; i < 500; ++i) {
        const double at = std::uniform_real_distribution<>(x.front(), x.back())(r);
        COMPARE_NEAR(curve.at(at), gsl_interp_eval(gsl, x.data(), y.data(), at, nullptr), 1e-11);
    }
    gsl_interp_free(gsl);
}

// A second method: a binary search over the points. Axes from even to wildly uneven.
void Table2DTest::bucketsFindWhatASearchFinds() {
    std::mt19937 random(12);
    std::uniform_real_distribution<double> part(0, 1);
    for (int round = 0; round < 400; ++round) {
        std::vector<double> points{round % 3 == 0 ? 0.0 : -1000 * part(random)};
        const std::size_t count = 2 + random() % 63;
        while (points.size() < count)
            points.push_back(points.back() +
                             std::pow(10, round % 7 == 0 ? 12 * part(random) - 6 : 2 * part(random)));
        const Axis axis(points);
        const auto expected = [&](double x) {
            return static_cast<std::size_t>(std::upper_bound(points.begin(), points.end(), x) -
                                            points.begin()) -
                   1;
        };
        std::vector<double> asked(points.begin(), points.end() - 1);
        for (std::size_t i = 0; i + 1 < points.size(); ++i) {
            asked.push_back(std::nextafter(points[i + 1], points[i]));
            asked.push_back(points[i] + part(random) * (points[i + 1] - points[i]));
        }
        for (const double x : asked)
            if (x < points.back()) QCOMPARE(axis.locate(x).cell, expected(x));
    }
    const Axis huge(std::vector<double>{-1.7e308, 0, 1.7e308}); // its span is no number
    QCOMPARE(huge.locate(1e300).cell, std::size_t{1});
    QCOMPARE(huge.locate(-1e300).cell, std::size_t{0});
    QVERIFY(huge.locate(std::nan("")).outside);
}

void Table2DTest::breakpointsAreExact() {
    const RandomTable t = randomTable(3);
    for (std::size_t yi = 0; yi < t.y.size(); ++yi)
        for (std::size_t xi = 0; xi < t.x.size(); ++xi)
            QCOMPARE(t.table.lookup(t.x[xi], t.y[yi]).value, t.table.cell(xi, yi));
}

void Table2DTest::transposingSwapsTheAxes() {
    const RandomTable t = randomTable(11);
    std::vector<double> turned;
    for (std::size_t xi = 0; xi < t.x.size(); ++xi)
        for (std::size_t yi = 0; yi < t.y.size(); ++yi)
            turned.push_back(t.table.cell(xi, yi));
    const Table2D other(Axis(t.y), Axis(t.x), turned);
    std::mt19937 r(5);
    for (int i = 0; i < 200; ++i) {
        const double x = std::uniform_real_distribution<>(t.x.front() - 9, t.x.back() + 9)(r);
        const double y = std::uniform_real_distribution<>(t.y.front() - 9, t.y.back() + 9)(r);
        COMPARE_NEAR(t.table.lookup(x, y).value, other.lookup(y, x).value, 1e-11);
    }
}

void Table2DTest::clampsAndSaysSo() {
    const Table2D t(Axis({1000, 2000}), Axis({50, 100}), {1, 2, 3, 4});
    const TableLookup low = t.lookup(500, 75), high = t.lookup(1500, 300), corner = t.lookup(9999, -5);
    QVERIFY(low.outsideX && !low.outsideY);
    QCOMPARE(low.value, 2.0);
    QVERIFY(!high.outsideX && high.outsideY);
    QCOMPARE(high.value, 3.5);
    QVERIFY(corner.outsideX && corner.outsideY);
    QCOMPARE(corner.value, 2.0);
    QVERIFY(t.lookup(notANumber, 75).outsideX);
}

void Table2DTest::aSinglePointIsConstant() {
    const Table2D t(Axis({1000}), Axis({50}), {7});
    QCOMPARE(t.lookup(1000, 50).value, 7.0);
    QVERIFY(!t.lookup(1000, 50).outsideX);
    QVERIFY(t.lookup(2000, 50).outsideX);
    QCOMPARE(Curve::constant(3).at(0.7), 3.0);
    QCOMPARE(t.x().nearest(99999), std::size_t{0});
}

void Table2DTest::refusesBadAxesAndCells() {
    EXPECT_INPUT_ERROR(Axis({1, 2, 2}), "breakpoint 3", "more than");
    EXPECT_INPUT_ERROR(Axis(std::vector<double>{}), "1 to 64");
    EXPECT_INPUT_ERROR(Axis(std::vector<double>(65, 1)), "65");
    EXPECT_INPUT_ERROR(Axis({1, notANumber}, "rpm"), "rpm", "finite");
    EXPECT_INPUT_ERROR(Table2D(Axis({1, 2}), Axis({1}), {1}), "2 cells", "1");
    EXPECT_INPUT_ERROR(Table2D(Axis({1, 2}), Axis({1}), {1, notANumber}), "row 1, column 2");
    EXPECT_INPUT_ERROR(Curve({1, 2}, {1}), "2 values");
}

CORE_TEST_MAIN(Table2DTest)
#include "table2d_test.moc"
