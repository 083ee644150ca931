// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/error.h"
#include "core/job/curve_text.h"
#include "core/job/job_schema.h"
#include "core/tables/cell_expression.h"
#include "core/tables/table_edit.h"
#include "support/test_main.h"

using namespace wheelwright;
using Operation = CellExpression::Operation;

namespace {

// 2x + 3y + 5 on uneven axes: a plane.
Table2D plane() {
    const Axis x({0, 10, 15, 40}), y({0, 1, 5});
    std::vector<double> cells;
    for (double yv : y.points())
        for (double xv : x.points())
            cells.push_back(2 * xv + 3 * yv + 5);
    return Table2D(x, y, cells);
}

constexpr CellRange all{{0, 0}, {3, 2}};

} // namespace

class TableEditTest : public QObject {
    Q_OBJECT
  private slots:
    void expressionsReadAndApply_data();
    void expressionsReadAndApply();
    void expressionsRefuse_data();
    void expressionsRefuse();
    void differencesHaveNoZeroPoint();
    void onlyTheRangeChanges();
    void interpolationRestoresAPlane();
    void interpolatingARowOnly();
    void smoothingLeavesAPlaneAlone();
    void smoothingHandComputed();
    void curvesAsText();
};

void TableEditTest::expressionsReadAndApply_data() {
    QTest::addColumn<QString>("typed");
    QTest::addColumn<double>("result"); // from 20
    QTest::newRow("set") << "14" << 14.0;
    QTest::newRow("equals") << "=14" << 14.0;
    QTest::newRow("negative") << "=-3" << -3.0;
    QTest::newRow("add") << "+2" << 22.0;
    QTest::newRow("take away") << "-2.5" << 17.5;
    QTest::newRow("multiply") << "*1.03" << 20.6;
    QTest::newRow("multiply, comma") << "*0,5" << 10.0;
    QTest::newRow("unit") << "+1.5 °" << 21.5;
    QTest::newRow("blanks") << "  15 " << 15.0;
}

void TableEditTest::expressionsReadAndApply() {
    QFETCH(QString, typed);
    QFETCH(double, result);
    COMPARE_NEAR(parseCellExpression(typed.toStdString(), Dimension::sparkAngle, UnitChoice{}).apply(20),
                 result, 1e-12);
}

void TableEditTest::expressionsRefuse_data() {
    QTest::addColumn<QString>("typed");
    for (const char *typed : {"", "   ", "*", "*abc", "+", "=", "12 kPa", "1e999", "*3%", "--"})
        QTest::newRow(*typed ? typed : "empty") << typed;
}

void TableEditTest::expressionsRefuse() {
    QFETCH(QString, typed);
    EXPECT_INPUT_ERROR(parseCellExpression(typed.toStdString(), Dimension::sparkAngle, UnitChoice{}),
                       "entry");
}

// 2 psi more is 13.79 kPa more, above vacuum as above ambient; 14 psi gauge set is a place, not a step.
void TableEditTest::differencesHaveNoZeroPoint() {
    UnitChoice gauge;
    gauge.pressureUnit = "psi_g";
    COMPARE_NEAR(parseCellExpression("+2", Dimension::pressure, gauge).apply(200), 200 + 2 * 6.894757, 1e-4);
    COMPARE_NEAR(parseCellExpression("-2 psi", Dimension::pressure, UnitChoice{}).apply(200),
                 200 - 2 * 6.894757, 1e-4);
    COMPARE_NEAR(parseCellExpression("=14", Dimension::pressure, gauge).apply(0), 101.325 + 14 * 6.894757,
                 1e-4);
}

void TableEditTest::onlyTheRangeChanges() {
    Table2D t = plane();
    const Table2D before = t;
    applyExpression(t, {{2, 1}, {1, 0}}, {Operation::add, 1}); // corners in any order
    for (std::size_t y = 0; y < 3; ++y)
        for (std::size_t x = 0; x < 4; ++x)
            QCOMPARE(t.cell(x, y), before.cell(x, y) + ((x == 1 || x == 2) && y <= 1 ? 1 : 0));
    QCOMPARE(normalised({{9, 9}, {0, 0}}, t), all);
}

void TableEditTest::interpolationRestoresAPlane() {
    Table2D t = plane();
    for (std::size_t y = 0; y < 3; ++y)
        for (std::size_t x = 0; x < 4; ++x)
            if ((x != 0 && x != 3) || (y != 0 && y != 2)) t.setCell({x, y}, -99);
    interpolateRegion(t, all);
    const Table2D expected = plane();
    for (std::size_t i = 0; i < t.cells().size(); ++i)
        COMPARE_NEAR(t.cells()[i], expected.cells()[i], 1e-12);
}

void TableEditTest::interpolatingARowOnly() {
    Table2D t = plane();
    t.setCell({1, 1}, 0);
    t.setCell({2, 1}, 0);
    interpolateRegion(t, {{0, 1}, {3, 1}});
    COMPARE_NEAR(t.cell(1, 1), plane().cell(1, 1), 1e-12);
    QCOMPARE(t.cell(1, 0), plane().cell(1, 0));
}

void TableEditTest::smoothingLeavesAPlaneAlone() {
    Table2D t = plane();
    smoothRegion(t, all, 1);
    for (std::size_t i = 0; i < t.cells().size(); ++i)
        COMPARE_NEAR(t.cells()[i], plane().cells()[i], 1e-12);
}

void TableEditTest::smoothingHandComputed() {
    Table2D t(Axis({0, 1, 2}), Axis({0, 1, 2}), {0, 0, 0, 0, 8, 0, 0, 0, 0});
    smoothRegion(t, {{1, 1}, {1, 1}}, 0.5);
    QCOMPARE(t.cell(1, 1), 4.0); // neighbours say 0 both ways: half of the way there
    QCOMPARE(t.cell(0, 1), 0.0);
}

void TableEditTest::curvesAsText() {
    const CurveField &field = *curveByPath("engine.boost_limit_kpa");
    const Curve curve({0, 0.305, 1}, {200, 228.5, 270});
    QCOMPARE(curveFromText(curveToText(curve, field, UnitChoice{}), field, UnitChoice{}), curve);
    const Curve typed = curveFromText(" 0: 29 psi ; 50 %: 230; ", field, UnitChoice{});
    COMPARE_NEAR(typed.values()[0], 199.948, 1e-3);
    COMPARE_NEAR(typed.axis()[1], 0.5, 1e-15);
    EXPECT_INPUT_ERROR(curveFromText("0: 200; 30", field, UnitChoice{}), "point 2", "content: value");
    EXPECT_INPUT_ERROR(curveFromText("50: 200; 30: 220", field, UnitChoice{}), "breakpoint 2");
    EXPECT_INPUT_ERROR(curveFromText("0: 9000", field, UnitChoice{}), "point 1", "20 to 800");
    EXPECT_INPUT_ERROR(curveFromText("", field, UnitChoice{}), "1 to 64");
}

CORE_TEST_MAIN(TableEditTest)
#include "table_edit_test.moc"
