// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/error.h"
#include "core/study/cell_trust.h"
#include "core/study/spark_budget.h"
#include "session/cell_editor.h"
#include "support/test_window.h"
#include "ui/text.h"
#include "ui/views/tables/regrid_dialog.h"
#include "ui/views/tables/tables_view.h"
#include "ui/widgets/report_view.h"

#include <QApplication>
#include <QClipboard>
#include <QComboBox>
#include <QInputDialog>
#include <QLineEdit>
#include <QListWidget>
#include <QSignalSpy>
#include <QTimer>

using namespace wheelwright;
using namespace wheelwright::testing;

void wheelwrightResources() {
    Q_INIT_RESOURCE(resources);
}

/// The other tables of the controller on the bench, from the drawer, in the real window: the same grid, keys,
/// shades, undo and slice as the four of the engine.
class BenchTest : public QObject {
    Q_OBJECT
  private slots:
    void initTestCase() { dressApplication(); }
    void init() {
        m_window = std::make_unique<TestWindow>();
        m_window->open(demoJob());
        m_view = m_window->view<TablesView>("tables");
        settle();
    }
    void cleanup() { m_window.reset(); }

    void theDrawerListsAllTables();
    void itMarksWhereChecksFail();
    void aFewLettersFindATable();
    void sameKeysSameUndo();
    void cellsAreCopiedAndPasted();
    void theCursorStaysOnTheEngine();
    void undoMayTakeTheTableAway();
    void aKindThatIsNotThere();
    void namedDuplicatedTakenAway();
    void aCeilingIsFoundOnAFuel();
    void budgetStandsBesideTablesOfSpark();
    void theSliceFollows();
    void breakpointsOfOneRow();
    void filesGoOutAndIn();
    void differenceToAnotherFuel();
    void whatNobodySaidIsOpen();
    void theDrawerIsThereTheNextTime();
    void anotherJobBringsTheFourBack();

  private:
    Session &session() { return m_window->session; }
    QListWidget &list() { return *m_view->drawer().list(); }
    TableGrid &grid() {
        for (TableGrid *g : m_view->findChildren<TableGrid *>())
            if (g->side() == TableSide::now) return *g;
        qFatal("no such grid");
    }
    QListWidgetItem *item(const QString &part) {
        for (int i = 0; i < list().count(); ++i)
            if (list().item(i)->text().contains(part)) return list().item(i);
        return nullptr;
    }
    void put(const char *name) {
        QVERIFY(m_view->showInput(QStringLiteral("calibration.extras.") + QLatin1String(name)));
        settle();
    }
    const ExtraTable &namedExtra(const char *name) {
        for (const ExtraTable &e : session().job().extras)
            if (e.name == name) return e;
        qFatal("no such table");
    }
    const Table2D &front() { return session().extra()->table; }
    QWidget *focused() { return m_window->shell.focusWidget(); }

    std::unique_ptr<TestWindow> m_window;
    TablesView *m_view = nullptr;
};

void BenchTest::theDrawerListsAllTables() {
    QVERIFY(!m_view->drawer().isVisible());
    QTest::keyClick(&m_window->shell, Qt::Key_T, Qt::ControlModifier);
    QVERIFY(m_view->drawer().isVisible());
    settle();
    for (const ExtraTable &e : session().job().extras)
        QVERIFY2(item(text(e.name)), e.name.c_str());
    for (const TableKindDefinition &d : allTableKinds()) { // of every kind a table, or that there is none
        bool has = false;
        for (const ExtraTable &e : session().job().extras)
            has = has || e.kind == d.kind;
        QCOMPARE(item(QStringLiteral("no ") + text(d.title).toLower()) != nullptr, !has);
    }
    for (const TableGroup g : allTableGroups) { // heads are no choice
        QVERIFY(item(text(titleOf(g))));
        QCOMPARE(item(text(titleOf(g)))->flags(), Qt::NoItemFlags);
    }
    QCOMPARE(list().currentItem()->text(), QStringLiteral("Spark"));
    list().setFocus();
    list().setCurrentItem(item(QStringLiteral("Boost target"))); // a table of the engine as well
    QVERIFY(session().quantity() == CalibratedQuantity::boost && !session().extra());
    QTest::keyClick(&list(), Qt::Key_Down); // over the head, past what is not there, live
    QTest::keyClick(&list(), Qt::Key_Down);
    QCOMPARE(focused(), &list());
    QTest::keyClick(&list(), Qt::Key_Down);
    settle();
    QVERIFY(session().extra());
    QVERIFY(grid().isVisible() && m_view->findChildren<TableGrid *>().size() == 3);
    for (TableGrid *g : m_view->findChildren<TableGrid *>())
        QCOMPARE(g->isVisible(), g->side() == TableSide::now);
    QTest::keyClick(&m_window->shell, Qt::Key_1, Qt::ControlModifier); // the four are a key away
    QTRY_VERIFY(!session().extra() &&
                session().quantity() == CalibratedQuantity::fuel); // a button takes a while
    settle();
    for (TableGrid *g : m_view->findChildren<TableGrid *>())
        QVERIFY(g->isVisible());
}

void BenchTest::itMarksWhereChecksFail() {
    m_view->toggleDrawer();
    settle();
    QVERIFY(item(QStringLiteral("Half and half"))->toolTip().contains(QStringLiteral("fails")));
    QVERIFY(item(QStringLiteral("Half and half"))
                ->data(Qt::AccessibleTextRole)
                .toString()
                .contains(QStringLiteral("Spark ceiling: fails")));
    QVERIFY(!item(QStringLiteral("Pump fuel"))->toolTip().contains(QStringLiteral("fails")));
    const auto picture = [&](const char *name) {
        return item(QLatin1String(name))->icon().pixmap(14, 14).toImage();
    };
    QVERIFY(picture("Half and half") != picture("Pump fuel")); // a shape, not only words
    // Once it stands more, the mark goes with the finding.
    QVERIFY(session().perform(QStringLiteral("it stands more"), [](Job &job) {
        for (ExtraTable &e : job.extras)
            if (definitionOf(e.kind).atContent)
                for (std::size_t y = 0; y < e.table.y().size(); ++y)
                    for (std::size_t x = 0; x < e.table.x().size(); ++x)
                        e.table.setCell({x, y}, 55);
    }));
    QTRY_VERIFY(!session().verdictPending());
    settle();
    QVERIFY(!item(QStringLiteral("Half and half"))->toolTip().contains(QStringLiteral("fails")));
}

void BenchTest::aFewLettersFindATable() {
    m_view->toggleDrawer();
    settle();
    auto *search = m_view->drawer().findChild<QLineEdit *>();
    QCOMPARE(focused(), search);
    QTest::keyClicks(search, QStringLiteral("cran"));
    QVERIFY(!item(QStringLiteral("Cranking"))->isHidden() && item(QStringLiteral("Spark"))->isHidden());
    QVERIFY(!item(QStringLiteral("Starting and throttle"))->isHidden());
    QVERIFY(item(QStringLiteral("Boost and cuts"))->isHidden());
    QTest::keyClick(search, Qt::Key_Return);
    settle();
    QCOMPARE(session().extra()->name, std::string("Cranking"));
    QCOMPARE(focused(), &grid()); // and the keys go to its cells
    QTest::keyClick(&m_window->shell, Qt::Key_T, Qt::ControlModifier);
    QTest::keyClicks(search, QStringLiteral("fuel stands ceil")); // by its group, and what is not there
    search->clear();
    QTest::keyClicks(search, QStringLiteral("nothing like it"));
    for (int i = 0; i < list().count(); ++i)
        QVERIFY(list().item(i)->isHidden());
    QTest::keyClick(search, Qt::Key_Escape); // first what is typed goes, then the drawer
    QVERIFY(search->text().isEmpty() && m_view->drawer().isVisible());
    QTest::keyClick(search, Qt::Key_Escape);
    QVERIFY(!m_view->drawer().isVisible());
    QCOMPARE(focused(), &grid());
}

void BenchTest::sameKeysSameUndo() {
    put("Cranking");
    const Table2D before = front();
    const double step = definitionOf(TableKind::cranking).step;
    session().setCell({1, 2});
    QTest::keyClick(&grid(), Qt::Key_Plus);
    COMPARE_NEAR(front().cell(1, 2), before.cell(1, 2) + step, 1e-12);
    QVERIFY(front().origin({1, 2}) == CellOrigin::typed);
    QTest::qWait(1);
    QTest::keyClick(&grid(), Qt::Key_Right, Qt::ShiftModifier);
    QTest::keyClicks(&grid(), QStringLiteral("*"));
    QTest::keyClicks(grid().findChild<QLineEdit *>(), QStringLiteral("1.5"));
    QTest::keyClick(grid().findChild<QLineEdit *>(), Qt::Key_Return);
    COMPARE_NEAR(front().cell(2, 2), before.cell(2, 2) * 1.5, 1e-12);
    QVERIFY(session().undoStack().undoText().contains(QStringLiteral("Cranking")));
    QTest::keyClick(&grid(), Qt::Key_Space); // locks
    QTest::keyClick(&grid(), Qt::Key_Plus);
    COMPARE_NEAR(front().cell(2, 2), before.cell(2, 2) * 1.5, 1e-12);
    QVERIFY(markAt(session().job(), "calibration.extras.Cranking", before.x()[2], before.y()[2])->locked);
    QTest::keyClick(&grid(), Qt::Key_Space);
    session().setCell({0, 0});
    session().setCell({4, 0}, true);
    QTest::keyClicks(&grid(), QStringLiteral("/"));
    const Axis &x = before.x();
    for (std::size_t i = 0; i < 5; ++i) // the straight line between the ends, by its axis
        COMPARE_NEAR(front().cell(i, 0),
                     before.cell(0, 0) +
                         (x[i] - x[0]) / (x[4] - x[0]) * (before.cell(4, 0) - before.cell(0, 0)),
                     1e-9);
    // A refused entry stays, and the number with it; the table's own range holds.
    session().setCell({1, 1});
    const double here = front().cell(1, 1);
    QTest::keyClicks(&grid(), QStringLiteral("="));
    QTest::keyClicks(grid().findChild<QLineEdit *>(), QStringLiteral("9000"));
    QTest::keyClick(grid().findChild<QLineEdit *>(), Qt::Key_Return);
    QCOMPARE(front().cell(1, 1), here);
    QTest::keyClick(grid().findChild<QLineEdit *>(), Qt::Key_Escape);
    QVERIFY(session().selectWhere(QStringLiteral("> 0 above 60 % below 10 °C")));
    for (const CellIndex &i : session().chosenCells())
        QVERIFY(front().y()[i.y] > 0.6 && front().x()[i.x] < 10);
    while (session().undoStack().canUndo())
        session().undo();
    QVERIFY(session().job() == demoJob());
    QCOMPARE(session().extra()->name, std::string("Cranking")); // what is looked at stays
}

void BenchTest::cellsAreCopiedAndPasted() {
    put("Cranking");
    session().setCell({0, 0});
    session().setCell({1, 1}, true);
    const QString copied = CellEditor(session()).copyCells(true);
    QVERIFY2(copied.startsWith(QStringLiteral("cranking_%")) &&
                 copied.contains(QStringLiteral("coolant_c\t-10\t0")),
             qPrintable(copied));
    const Table2D before = front();
    QVERIFY(CellEditor(session()).nudge(4));
    QVERIFY(CellEditor(session()).pasteCells(copied) == CellEditor::PasteResult::done);
    for (std::size_t i = 0; i < before.cells().size(); ++i)
        COMPARE_NEAR(front().cells()[i], before.cells()[i], 1e-9);
    put("After start"); // the same axes, another table
    QVERIFY(CellEditor(session()).pasteCells(copied) == CellEditor::PasteResult::refused);
    QApplication::clipboard()->setText(QStringLiteral("7"));
    session().setCell({0, 0});
    grid().paste();
    COMPARE_NEAR(front().cell(0, 0), 0.07, 1e-12); // per cent, as it is shown
    QVERIFY(front().origin({0, 0}) == CellOrigin::copied);
}

// Between tables over speed and load the cursor keeps its place; a table over something else keeps it for
// later.
void BenchTest::theCursorStaysOnTheEngine() {
    session().setQuantity(CalibratedQuantity::spark);
    const Table2D &spark = session().table();
    session().setCell({spark.x().nearest(5000), spark.y().nearest(180)});
    put("Half and half");
    QCOMPARE(front().x()[session().cell().x], 5000.0);
    QCOMPARE(front().y()[session().cell().y], 180.0);
    QVERIFY(session().place() == (OperatingPoint{session().content(), 5000, 180}));
    put("Coolant");
    session().setCell({0, 0});
    QCOMPARE(session().place().rpm, spark.x()[spark.x().nearest(5000)]);
    session().setQuantity(CalibratedQuantity::spark);
    QCOMPARE(session().table().x()[session().cell().x], spark.x()[spark.x().nearest(5000)]);
    put("Half and half");
    session().setCell({1, 1});
    session().setQuantity(CalibratedQuantity::lambda); // goes where the cursor went
    COMPARE_NEAR(session().table().x()[session().cell().x], 2000, 200);
}

void BenchTest::undoMayTakeTheTableAway() {
    m_view->drawer().add(TableKind::revLimit);
    settle();
    QCOMPARE(session().extra()->name, std::string("Rev limit"));
    session().setCell({3, 0});
    session().undo();
    settle();
    QVERIFY(!session().extra());
    for (TableGrid *g : m_view->findChildren<TableGrid *>())
        QVERIFY(g->isVisible());
    session().redo();
    QVERIFY(!session().extra() && session().job().extras.back().name == "Rev limit");
}

void BenchTest::aKindThatIsNotThere() {
    QVERIFY(m_view->showInput(QStringLiteral("calibration.extras.spark_fallback")));
    settle();
    QVERIFY(m_view->drawer().isVisible() && !grid().isVisible());
    QCOMPARE(list().currentItem()->text(), QStringLiteral("no fallback spark"));
    QVERIFY(!session().explanation());     // no working of a number that is not there
    QVERIFY(session().job() == demoJob()); // looking adds nothing
    auto *add = qobject_cast<QPushButton *>(focused());
    QVERIFY(add && add->text().contains(QStringLiteral("fallback spark")));
    QTest::keyClick(add, Qt::Key_Space);
    settle();
    QVERIFY(session().extra() && session().extra()->kind == TableKind::sparkFallback);
    QVERIFY(grid().isVisible());
    QVERIFY(guessed(front().origin({0, 0})));
    QCOMPARE(list().currentItem()->text(), QStringLiteral("Fallback spark"));
    session().undo();
    settle();
    QVERIFY(item(QStringLiteral("no fallback spark")));
    // Another way back: any of the four.
    list().setCurrentItem(item(QStringLiteral("no rev limit")));
    settle();
    QVERIFY(!grid().isVisible());
    list().setCurrentItem(item(QStringLiteral("Lambda target")));
    settle();
    QVERIFY(grid().isVisible() && session().quantity() == CalibratedQuantity::lambda);
    // And whoever leads to a place in a table shows the table.
    list().setCurrentItem(item(QStringLiteral("no rev limit")));
    settle();
    session().goTo({0.5, 5000, 180}, CalibratedQuantity::lambda);
    settle();
    QVERIFY(grid().isVisible());
}

void BenchTest::namedDuplicatedTakenAway() {
    put("Half and half");
    const std::size_t count = session().job().extras.size();
    TableDrawer &drawer = m_view->drawer();
    QTimer::singleShot(50, [] {
        auto *dialog = qobject_cast<QInputDialog *>(QApplication::activeModalWidget());
        dialog->setTextValue(QStringLiteral("Race day"));
        dialog->accept();
    });
    session().setCell({2, 2});
    QTest::keyClick(&grid(), Qt::Key_Space);
    drawer.rename();
    settle();
    QCOMPARE(session().extra()->name, std::string("Race day"));
    const auto locked = [&] { // its lock goes with it
        const std::vector<bool> locks = locksOf(session().job(), session().frontPaths().front(), front());
        return std::ranges::count(locks, true);
    };
    QCOMPARE(locked(), 1);
    drawer.duplicate();
    QCOMPARE(locked(), 0);
    QCOMPARE(session().extra()->name, std::string("Race day 2"));
    QCOMPARE(session().job().extras.size(), count + 1);
    QCOMPARE(session().extra()->content, 0.4);
    QVERIFY(session().extra()->table == namedExtra("Race day").table);
    drawer.takeAway();
    QCOMPARE(session().job().extras.size(), count);
    QVERIFY(!session().extra());
    put("Race day"); // with its lock: a later one of that name begins without
    drawer.takeAway();
    QVERIFY(session().job().cellMarks.empty());
    session().undo();
    drawer.takeAway(); // nothing on the bench to take
    QCOMPARE(session().job().extras.size(), count);
    while (session().undoStack().canUndo())
        session().undo();
    QVERIFY(session().job() == demoJob());
}

// A new ceiling holds what nobody has said; its content, its ± and where its numbers come from can be said.
void BenchTest::aCeilingIsFoundOnAFuel() {
    m_view->drawer().add(TableKind::sparkCeiling);
    settle();
    auto &strip = *m_view->findChild<ExtraStrip *>();
    QVERIFY(strip.foundAt()->isVisible() && guessed(front().origin({2, 1})));
    const auto type = [](QLineEdit *line, const char *words) {
        line->setFocus();
        line->selectAll();
        QTest::keyClick(line, Qt::Key_Delete);
        QTest::keyClicks(line, QString::fromUtf8(words));
        QTest::keyClick(line, Qt::Key_Return);
    };
    type(strip.foundAt(), "62");
    type(strip.plusMinus(), "1.5");
    COMPARE_NEAR(session().extra()->content, 0.62, 1e-9);
    QCOMPARE(session().extra()->plusMinus, 1.5);
    session().setCell({2, 1});
    QVERIFY(CellEditor(session()).enterExpression(QStringLiteral("40"))); // the very number that stands there
    QVERIFY(front().origin({2, 1}) == CellOrigin::typed && front().cell(2, 1) == 40);
    QVERIFY(guessed(front().origin({1, 1})));
    session().setCell({0, 0});
    session().setCell({1, 0}, true);
    strip.sayOrigin(CellOrigin::knockSeen);
    QVERIFY(front().origin({0, 0}) == CellOrigin::knockSeen &&
            front().origin({1, 0}) == CellOrigin::knockSeen && guessed(front().origin({2, 0})));
    session().undo();
    QVERIFY(guessed(front().origin({0, 0})));
    QSignalSpy problems(&session(), &Session::problem);
    type(strip.foundAt(), "lots");
    QCOMPARE(problems.size(), 1);
    COMPARE_NEAR(session().extra()->content, 0.62, 1e-9);
    QVERIFY(strip.foundAt()->text().contains(QStringLiteral("62")));
    type(strip.foundAt(), ""); // it was found at something
    QCOMPARE(problems.size(), 2);
    type(strip.plusMinus(), ""); // but how well need not be known
    QCOMPARE(session().extra()->plusMinus, 0.0);
    put("Coolant"); // a correction stands at no content
    QVERIFY(strip.isVisible() && !strip.foundAt()->isVisible());
    session().setQuantity(CalibratedQuantity::spark);
    settle();
    QVERIFY(!strip.isVisible());
}

void BenchTest::budgetStandsBesideTablesOfSpark() {
    put("Half and half");
    session().setCell({4, 3});
    settle();
    const ReportView *budget = nullptr;
    for (const ReportView *r : m_view->findChildren<ReportView *>())
        if (r->accessibleName().contains(QStringLiteral("budget"))) budget = r;
    QVERIFY(budget && budget->isVisible());
    const auto delivered = [&] {
        return shown(
            sparkBudget(Study(session().job()), {session().content(), front().x()[4], front().y()[3]})
                .usualDeg,
            Dimension::sparkAngle, session().units());
    };
    QVERIFY2(budget->words().contains(delivered()), qPrintable(budget->words()));
    const QString before = budget->words();
    QVERIFY(session().perform(QStringLiteral("hot coolant takes more"), [](Job &job) {
        for (ExtraTable &e : job.extras)
            if (e.kind == TableKind::sparkCoolant)
                for (std::size_t x = 0; x < e.table.x().size(); ++x)
                    e.table.setCell({x, 0}, -7);
    }));
    settle();
    QVERIFY(budget->words() != before && budget->words().contains(delivered()));
    session().setContent(0.12);
    settle();
    QVERIFY(budget->words().contains(delivered()));
    put("Cranking");
    QVERIFY(!budget->isVisible());
}

void BenchTest::theSliceFollows() {
    put("Half and half");
    session().setCell({4, 3});
    settle();
    auto *slice = m_view->findChild<SlicePlot *>();
    slice->copy();
    const QStringList lines = QApplication::clipboard()->text().split(u'\n', Qt::SkipEmptyParts);
    QCOMPARE(lines.front(), QStringLiteral("rpm\tE10\tE40\tE85"));
    QCOMPARE(lines.size(), static_cast<int>(front().x().size()) + 1);
    COMPARE_NEAR(lines[5].section(u'\t', 2, 2).toDouble(), front().cell(4, 3), 1e-9);
    put("Cranking");
    slice->copy();
    QVERIFY2(QApplication::clipboard()->text().startsWith(QStringLiteral("coolant\tE0\tE10")),
             qPrintable(QApplication::clipboard()->text()));
    session().setQuantity(CalibratedQuantity::spark);
    settle();
    slice->copy(); // eleven contents again
    QCOMPARE(QApplication::clipboard()->text().section(u'\n', 0, 0).count(u'\t'), 11);
}

void BenchTest::breakpointsOfOneRow() {
    put("Coolant");
    const Table2D before = front();
    RegridDialog dialog(session());
    dialog.show();
    auto *across = dialog.findChild<QLineEdit *>(QStringLiteral("across"));
    QVERIFY(!dialog.findChild<QLineEdit *>(QStringLiteral("down"))->isVisible());
    across->setText(QStringLiteral("-20 30 90"));
    QVERIFY2(dialog.words().contains(QStringLiteral("3 × 1")), qPrintable(dialog.words()));
    for (QPushButton *b : dialog.findChildren<QPushButton *>())
        if (b->text() == QStringLiteral("Re-grid")) QTest::mouseClick(b, Qt::LeftButton);
    QCOMPARE(front().x().size(), std::size_t{3});
    COMPARE_NEAR(front().cell(1, 0), before.lookup(30, 0).value, 1e-12);
    put("Half and half"); // of those at a content all or one
    RegridDialog two(session());
    two.show();
    two.findChild<QLineEdit *>(QStringLiteral("across"))->setText(QStringLiteral("1000 4000 7000"));
    for (QPushButton *b : two.findChildren<QPushButton *>())
        if (b->text() == QStringLiteral("Re-grid")) QTest::mouseClick(b, Qt::LeftButton);
    for (const ExtraTable &e : session().job().extras)
        QCOMPARE(e.table.x().size() == 3,
                 e.kind == TableKind::sparkCeiling || e.kind == TableKind::sparkCoolant);
}

void BenchTest::filesGoOutAndIn() {
    put("Cranking");
    const std::filesystem::path csv = m_window->path("cranking.csv").toStdString();
    session().exportTable(csv);
    const Table2D before = front();
    QVERIFY(CellEditor(session()).nudge(3));
    session().importTable(csv);
    QVERIFY(front() == before);
    put("After start");
    EXPECT_INPUT_ERROR(session().importTable(csv), "cranking.csv, line 1", "after_start");
    session().setQuantity(CalibratedQuantity::spark);
    session().setSide(TableSide::now); // two tables could make a blend
    EXPECT_INPUT_ERROR(session().importTable(csv), "base");
}

void BenchTest::differenceToAnotherFuel() {
    put("Half and half");
    auto *tools = m_view->findChild<TableTools *>();
    QVERIFY(!tools->reference(TableSide::now));
    auto *shows = tools->findChild<QComboBox *>();
    const int at = shows->findText(QStringLiteral("less Winter E85"));
    QVERIFY(at > 0 && shows->findText(QStringLiteral("less the base table")) < 0);
    shows->setCurrentIndex(at);
    emit shows->activated(at);
    const auto reference = tools->reference(TableSide::now);
    QVERIFY(reference);
    for (const ExtraTable &e : session().job().extras)
        if (e.name == "Winter E85") QVERIFY(*reference == e.table);
    session().setQuantity(CalibratedQuantity::spark);
    settle();
    QVERIFY(shows->findText(QStringLiteral("less the base table")) > 0);
    QVERIFY(!tools->reference(TableSide::now)); // what it was held against is not among them
}

// Without a shade, so that a neutral table never looks like one that somebody filled in.
void BenchTest::whatNobodySaidIsOpen() {
    m_view->drawer().add(TableKind::sparkFallback);
    settle();
    const auto colour = [&](CellIndex cell) {
        const QRect box = grid().cellRect(cell);
        return grid().grab().toImage().pixelColor(box.topLeft() + QPoint(4, 4));
    };
    session().setCell({5, 5}); // the cursor elsewhere
    settle();
    QCOMPARE(colour({1, 1}), theme().paper);
    session().setCell({1, 1});
    QVERIFY(CellEditor(session()).enterExpression(QStringLiteral("24")));
    session().setCell({5, 5});
    settle();
    QVERIFY(colour({1, 1}) != theme().paper);
    QCOMPARE(colour({2, 1}), theme().paper);
}

void BenchTest::theDrawerIsThereTheNextTime() {
    const auto openNextTime = [&] {
        Session second(TestWindow::fixedTime);
        Shell next(second, m_window->settings);
        return !static_cast<TablesView *>(next.view(QStringLiteral("tables")))->drawer().isHidden();
    };
    QVERIFY(!openNextTime());
    QTest::keyClick(&m_window->shell, Qt::Key_T, Qt::ControlModifier);
    QVERIFY(openNextTime());
    QTest::keyClick(&m_window->shell, Qt::Key_T, Qt::ControlModifier);
    QVERIFY(!openNextTime());
}

void BenchTest::anotherJobBringsTheFourBack() {
    put("Cranking");
    session().createJob(m_window->path("b.wwjob").toStdString(), newJob("b"));
    settle();
    QVERIFY(!session().extra());
    m_view->toggleDrawer();
    settle();
    QVERIFY(item(QStringLiteral("no cranking fuel")));
}

int main(int argc, char **argv) {
    QApplication app(argc, argv);
    return run<BenchTest>(argc, argv);
}

#include "bench_test.moc"
