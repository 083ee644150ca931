// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/job/named_tables.h"
#include "core/job/revision.h"
#include "core/study/content_curve.h"
#include "core/study/load_axis.h"
#include "core/study/spark_budget.h"
#include "session/cell_editor.h"
#include "support/test_window.h"
#include "ui/new_job_dialog.h"
#include "ui/text.h"
#include "ui/views/tables/regrid_dialog.h"
#include "ui/views/tables/tables_view.h"
#include "ui/widgets/report_view.h"

#include <QClipboard>
#include <QComboBox>
#include <QInputDialog>
#include <QLabel>
#include <QLineEdit>
#include <QMessageBox>
#include <QSignalSpy>
#include <QTimer>

using namespace wheelwright;
using namespace wheelwright::testing;

void wheelwrightResources() {
    Q_INIT_RESOURCE(resources);
}

namespace {

// What is done in a modal window once it is there.
template <class Dialog>
void inModal(const std::function<void(Dialog &)> &act) {
    QTimer::singleShot(50, [act] {
        auto *dialog = qobject_cast<Dialog *>(QApplication::activeModalWidget());
        if (dialog)
            act(*dialog);
        else if (auto *other = qobject_cast<QDialog *>(QApplication::activeModalWidget()))
            other->reject(); // the test fails by what did not happen, not by waiting
    });
}

} // namespace

/// The table bench in the real window: selected, searched, locked, compared and dragged as a person does.
class TablesViewTest : public QObject {
    Q_OBJECT
  private slots:
    void initTestCase() { dressApplication(); }
    void init() {
        m_window = std::make_unique<TestWindow>();
        m_window->open(demoJob());
        m_view = m_window->view<TablesView>("tables");
        session().setQuantity(CalibratedQuantity::spark);
        grid(TableSide::base).setFocus();
        session().setCell({4, 5});
    }
    void cleanup() { m_window.reset(); }

    void cellsAreKeptAndAddedByKeysAndMouse();
    void anEntryIntoNowSaysWhatItDoes();
    void searchIsTyped();
    void spaceLocksAndTheEditSaysSo();
    void aNoteIsWritten();
    void differencesOfFuelAndRevision();
    void whereTheEngineHasBeen();
    void aBlockWithAxesAsks();
    void breakpointsAreTyped();
    void curveIsDragged();
    void curveByKeyboard();
    void aGuessTypedAnewIsSaid();
    void aNewJobIsEstimated();
    void tablesByAirMassShowTheirAxis();

  private:
    Session &session() { return m_window->session; }
    TableGrid &grid(TableSide side) {
        for (TableGrid *g : m_view->findChildren<TableGrid *>())
            if (g->side() == side) return *g;
        qFatal("no such grid");
    }
    QPushButton *button(const QString &text) {
        for (QPushButton *b : m_view->findChildren<QPushButton *>())
            if (b->text() == text) return b;
        return nullptr;
    }
    QComboBox &shows() { return *m_view->findChild<TableTools *>()->findChild<QComboBox *>(); }
    std::unique_ptr<TestWindow> m_window;
    TablesView *m_view = nullptr;
};

void TablesViewTest::cellsAreKeptAndAddedByKeysAndMouse() {
    TableGrid &base = grid(TableSide::base);
    QTest::keyClick(&base, Qt::Key_Right, Qt::ShiftModifier);
    QTest::keyClick(&base, Qt::Key_K);
    for (int i = 0; i < 3; ++i)
        QTest::keyClick(&base, Qt::Key_Down); // what was kept stays, and the cursor's cell is with it
    QCOMPARE(session().chosenCells().size(), std::size_t{3});
    QTest::keyClick(&base, Qt::Key_Down, Qt::ShiftModifier);
    QCOMPARE(session().chosenCells().size(), std::size_t{4});
    QTest::keyClick(&base, Qt::Key_Escape);
    QCOMPARE(session().chosenCells().size(), std::size_t{1});
    session().setCell({4, 5});
    QTest::keyClick(&base, Qt::Key_Right, Qt::ShiftModifier);
    const auto click = [&](CellIndex cell) {
        QTest::mouseClick(&base, Qt::LeftButton, Qt::ControlModifier, base.cellRect(cell).center());
    };
    click({10, 10}); // Ctrl and a click do the same by mouse
    click({12, 10});
    QCOMPARE(session().chosenCells().size(), std::size_t{4});
    click({5, 5});
    QCOMPARE(session().chosenCells().size(), std::size_t{3});
    const Table2D before = session().frontTable();
    QTest::keyClick(&base, Qt::Key_Plus);
    QCOMPARE(session().frontTable().cell(12, 10), before.cell(12, 10) + 0.5);
    QCOMPARE(session().frontTable().cell(5, 5), before.cell(5, 5));
    QTest::keyClick(&base, Qt::Key_Escape);
    QCOMPARE(session().chosenCells().size(), std::size_t{1});
}

// The step is shared by weight; what is said is what happens.
void TablesViewTest::anEntryIntoNowSaysWhatItDoes() {
    TableGrid &now = grid(TableSide::now);
    now.setFocus();
    session().setContent(0.5);
    auto *entry = now.findChild<QLineEdit *>();
    auto *share = now.findChild<QLabel *>();
    QTest::keyClicks(&now, QStringLiteral("="));
    QVERIFY(!share->isVisible()); // nothing to say yet
    QTest::keyClicks(entry, QStringLiteral("25"));
    QVERIFY(share->isVisible());
    const QString said = share->text();
    const auto here = [&](TableSide side) {
        return shown(session().tableAt(side).cell(session().cell()), Dimension::sparkAngle,
                     session().units());
    };
    QTest::keyClick(entry, Qt::Key_Return);
    QVERIFY(!share->isVisible());
    QVERIFY2(said.contains(QStringLiteral("→ ") + here(TableSide::base)) &&
                 said.endsWith(here(TableSide::top)),
             qPrintable(said));
    grid(TableSide::base).setFocus(); // a table by itself needs no words
    QTest::keyClicks(&grid(TableSide::base), QStringLiteral("=25"));
    QVERIFY(!grid(TableSide::base).findChild<QLabel *>()->isVisible());
}

void TablesViewTest::searchIsTyped() {
    QTest::keyClick(&grid(TableSide::base), Qt::Key_F, Qt::ControlModifier);
    auto *line = qobject_cast<QLineEdit *>(m_window->shell.focusWidget());
    QVERIFY(line);
    QTest::keyClicks(line, QStringLiteral("> 22 above 120 kPa"));
    QTest::keyClick(line, Qt::Key_Return);
    const CellSet chosen = session().chosenCells();
    QVERIFY(chosen.size() > 3);
    for (const CellIndex &i : chosen)
        QVERIFY(session().frontTable().cell(i) > 22 && session().table().y()[i.y] > 120);
    QSignalSpy problems(&session(), &Session::problem);
    QTest::keyClick(&grid(TableSide::base), Qt::Key_F, Qt::ControlModifier);
    QTest::keyClicks(line, QStringLiteral("wherever"));
    QTest::keyClick(line, Qt::Key_Return);
    QCOMPARE(problems.size(), 1);
    QVERIFY(session().chosenCells() == chosen);
}

void TablesViewTest::spaceLocksAndTheEditSaysSo() {
    TableGrid &base = grid(TableSide::base);
    QTest::keyClick(&base, Qt::Key_Space);
    QVERIFY(session().job().cellMarks.front().locked);
    settle();
    QVERIFY(m_view->findChild<TableTools *>()->findChildren<QLabel *>().last()->text().contains(
        QStringLiteral("locked")));
    const double before = session().frontTable().cell(4, 5);
    QSignalSpy problems(&session(), &Session::problem);
    QTest::keyClick(&base, Qt::Key_Plus);
    QCOMPARE(session().frontTable().cell(4, 5), before);
    QVERIFY(problems.last()[0].toString().contains(QStringLiteral("Space unlocks")));
    QTest::keyClick(&base, Qt::Key_Space);
    QTest::keyClick(&base, Qt::Key_Plus);
    QCOMPARE(session().frontTable().cell(4, 5), before + 0.5);
}

void TablesViewTest::aNoteIsWritten() {
    inModal<QInputDialog>([](QInputDialog &d) {
        d.setTextValue(QStringLiteral("knock at the hairpin"));
        d.accept();
    });
    QTest::keyClick(&grid(TableSide::base), Qt::Key_N);
    QCOMPARE(CellEditor(session()).cellNote(), QStringLiteral("knock at the hairpin"));
    settle();
    QVERIFY(m_view->findChild<TableTools *>()->findChildren<QLabel *>().last()->text().contains(
        QStringLiteral("hairpin")));
}

void TablesViewTest::differencesOfFuelAndRevision() {
    QVERIFY(session().perform(QStringLiteral("keep"), [](Job &job) {
        keepRevision(job, "before the rain", "2001-02-03T04:05:06Z", "", false);
    }));
    QVERIFY(CellEditor(session()).nudge(4));
    settle();
    TableTools &tools = *m_view->findChild<TableTools *>();
    QTest::keyClick(&grid(TableSide::base), Qt::Key_D); // less the base table, to begin with
    QVERIFY(*tools.reference(TableSide::now) == session().tableAt(TableSide::base));
    const int revision = shows().findText(QStringLiteral("less revision before the rain"));
    QVERIFY(revision > 0);
    shows().setCurrentIndex(revision);
    emit shows().activated(revision);
    const Table2D then = *tools.reference(TableSide::base), now = session().tableAt(TableSide::base);
    QCOMPARE(now.cell(4, 5) - then.cell(4, 5), 2.0);
    QCOMPARE(now.cell(5, 5), then.cell(5, 5));
    // A fuel of the shelf: what the engine gets with it.
    const ShelfEntry &fuel = session().job().shelf.front();
    const int entry = shows().findText(QStringLiteral("less what %1 gets").arg(text(fuel.name)));
    QVERIFY(entry > 0);
    shows().setCurrentIndex(entry);
    QVERIFY(*tools.reference(TableSide::now) ==
            Study(session().job()).blended(CalibratedQuantity::spark, fuel.ethanol));
    QTest::keyClick(&grid(TableSide::base), Qt::Key_D);
    QVERIFY(!tools.reference(TableSide::base));
    QTest::keyClick(&grid(TableSide::base), Qt::Key_D); // the last reference that was chosen by hand
    QCOMPARE(shows().currentIndex(), revision);
    // A number that is edited is the cell's, not the difference.
    QTest::keyClick(&grid(TableSide::base), Qt::Key_F2);
    QCOMPARE(grid(TableSide::base).findChild<QLineEdit *>()->text().toDouble(), now.cell(4, 5));
}

// Blank where the engine cannot go: the corner of low speed and high load turns to paper.
void TablesViewTest::whereTheEngineHasBeen() {
    TableGrid &base = grid(TableSide::base);
    const auto colourAt = [&](CellIndex cell) {
        return base.grab().toImage().pixelColor(base.cellRect(cell).topLeft() + QPoint(2, 2));
    };
    const CellIndex corner{0, session().table().y().size() - 1};
    const QColor before = colourAt(corner);
    QTest::keyClick(&base, Qt::Key_W);
    QVERIFY(m_view->findChild<TableTools *>()->showsTrust());
    QCOMPARE(colourAt(corner), theme().paper);
    QVERIFY(colourAt({10, 8}) != theme().paper);
    QTest::keyClick(&base, Qt::Key_W);
    QCOMPARE(colourAt(corner), before);
}

void TablesViewTest::aBlockWithAxesAsks() {
    QApplication::clipboard()->setText(QStringLiteral("\t2050\t4050\n75\t10\t20\n125\t30\t40\n"));
    const Table2D before = session().frontTable();
    inModal<QMessageBox>(
        [](QMessageBox &d) { QTest::mouseClick(d.button(QMessageBox::Cancel), Qt::LeftButton); });
    grid(TableSide::base).paste();
    QVERIFY(session().frontTable() == before);
    inModal<QMessageBox>([](QMessageBox &d) {
        for (QAbstractButton *b : d.buttons())
            if (b->text().contains(QStringLiteral("Take over"))) QTest::mouseClick(b, Qt::LeftButton);
    });
    grid(TableSide::base).paste();
    QCOMPARE(session().frontTable().y().points(), std::vector<double>({75, 125}));
    session().undo();
    QVERIFY(session().frontTable() == before);
    grid(TableSide::base).copyWithAxes();
    QVERIFY(QApplication::clipboard()->text().startsWith(QStringLiteral("spark_deg / load_kpa / rpm\t")));
}

void TablesViewTest::breakpointsAreTyped() {
    RegridDialog dialog(session());
    dialog.show();
    auto *rpm = dialog.findChild<QLineEdit *>(QStringLiteral("across"));
    auto *load = dialog.findChild<QLineEdit *>(QStringLiteral("down"));
    QVERIFY(dialog.words().contains(QStringLiteral("breakpoints it has")));
    rpm->setText(QStringLiteral("3000 1000"));
    QVERIFY2(dialog.words().contains(QStringLiteral("rpm")), qPrintable(dialog.words()));
    rpm->setText(QStringLiteral("1000 3000 5000 7000"));
    load->setText(QStringLiteral("50 100 200"));
    QVERIFY2(dialog.words().startsWith(QStringLiteral("4 × 3 cells")), qPrintable(dialog.words()));
    for (QPushButton *b : dialog.findChildren<QPushButton *>())
        if (b->text() == QStringLiteral("Re-grid")) QTest::mouseClick(b, Qt::LeftButton);
    QCOMPARE(session().tableAt(TableSide::top).x().points(), std::vector<double>({1000, 3000, 5000, 7000}));
    session().undo();
}

void TablesViewTest::curveIsDragged() {
    QTest::mouseClick(button(QStringLiteral("by content")), Qt::LeftButton);
    auto *plot = m_view->findChild<CurvePlot *>();
    QTRY_VERIFY(plot->isVisible());
    QTest::mouseClick(button(QStringLiteral("Own points")), Qt::LeftButton);
    const auto points = [&] { return contentCurve(session().job(), CalibratedQuantity::spark)->points; };
    const auto before = points();
    QCOMPARE(before.size(), std::size_t{6});
    QTest::qWait(50);
    const int steps = session().undoStack().count();
    const QPoint from = plot->pixelOf(before[2]).toPoint();
    const QPoint to = plot->pixelOf({before[2].content, before[2].value - 0.1}).toPoint();
    QTest::mousePress(plot, Qt::LeftButton, {}, from);
    QTest::mouseMove(plot, (from + to) / 2);
    QTest::mouseMove(plot, to);
    QCOMPARE(session().undoStack().count(), steps); // nothing is written on the way
    QTest::mouseRelease(plot, Qt::LeftButton, {}, to);
    QCOMPARE(session().undoStack().count(), steps + 1);
    COMPARE_NEAR(points()[2].value, before[2].value - 0.1, 0.02); // a pixel or two
    session().undo();
    QCOMPARE(points()[2].value, before[2].value);
    // The ends are the tables: they stay.
    QTest::qWait(50);
    const QPoint end = plot->pixelOf(before.front()).toPoint();
    QTest::mousePress(plot, Qt::LeftButton, {}, end);
    QTest::mouseMove(plot, end + QPoint(30, -30));
    QTest::mouseRelease(plot, Qt::LeftButton, {}, end + QPoint(30, -30));
    QCOMPARE(points().front().value, 0.0);
    QTest::mouseDClick(plot, Qt::LeftButton, {}, plot->pixelOf({0.32, 0.5}).toPoint());
    QCOMPARE(points().size(), std::size_t{7});
    QTest::mouseClick(button(QStringLiteral("Physical")), Qt::LeftButton);
    QVERIFY(points().empty());
    plot->copy();
    QVERIFY(QApplication::clipboard()->text().startsWith(QStringLiteral("content, %\tused\tphysical")));
}

void TablesViewTest::curveByKeyboard() {
    QTest::mouseClick(button(QStringLiteral("by content")), Qt::LeftButton);
    QTest::mouseClick(button(QStringLiteral("Own points")), Qt::LeftButton);
    auto *plot = m_view->findChild<CurvePlot *>();
    plot->setFocus();
    const auto points = [&] { return contentCurve(session().job(), CalibratedQuantity::spark)->points; };
    const auto before = points();
    for (int i = 0; i < 3; ++i)
        QTest::keyClick(plot, Qt::Key_Right);
    QCOMPARE(plot->chosen(), 2);
    QTest::keyClick(plot, Qt::Key_Down);
    COMPARE_NEAR(points()[2].value, before[2].value - 0.01, 1e-12);
    QTest::keyClick(plot, Qt::Key_Right, Qt::ControlModifier);
    COMPARE_NEAR(points()[2].content, before[2].content + 0.01, 1e-12);
    // Digits are typed, one number or two; what may not stand there is refused, and the entry stays.
    QTest::keyClicks(plot, QStringLiteral("0"));
    auto *entry = plot->findChild<QLineEdit *>(QStringLiteral("pointEntry"));
    QVERIFY(entry->isVisible() && entry->hasFocus());
    QTest::keyClicks(entry, QStringLiteral(".41"));
    QTest::keyClick(entry, Qt::Key_Return);
    QCOMPARE(points()[2].value, 0.41);
    COMPARE_NEAR(points()[2].content, before[2].content + 0.01, 1e-12);
    QVERIFY(!entry->isVisible() && plot->hasFocus());
    QTest::keyClick(plot, Qt::Key_Return);
    QVERIFY(entry->text().endsWith(QStringLiteral(" 0.41")) && entry->text().startsWith(u'E'));
    entry->setText(QStringLiteral("E38 0.43"));
    QTest::keyClick(entry, Qt::Key_Return);
    QCOMPARE(points()[2].value, 0.43);
    COMPARE_NEAR(points()[2].content, 0.38, 1e-12);
    const auto kept = points();
    QTest::keyClick(plot, Qt::Key_Return);
    for (const char *wrong : {"", "lots", "M38 0.4", "0.1 0.2 0.3", "E38 7"}) {
        entry->setText(QString::fromLatin1(wrong));
        QTest::keyClick(entry, Qt::Key_Return);
        QVERIFY2(entry->isVisible(), wrong);
        QVERIFY2(points()[2].value == kept[2].value && points()[2].content == kept[2].content, wrong);
    }
    QTest::keyClick(entry, Qt::Key_Escape);
    QVERIFY(!entry->isVisible() && plot->hasFocus());
    QTest::keyClick(plot, Qt::Key_Delete);
    QCOMPARE(points().size(), before.size() - 1);
    session().setContent(0.2);
    QTest::keyClick(plot, Qt::Key_Insert);
    QCOMPARE(points().size(), before.size());
}

// Typing what a guess holds already says it; nothing else of the table is said.
void TablesViewTest::aGuessTypedAnewIsSaid() {
    QVERIFY(session().perform(QStringLiteral("guesses"), [](Job &job) {
        Table2D &t = job.calibration.of(CalibratedQuantity::spark).base;
        t.setOrigins(std::vector(t.cells().size(), CellOrigin::estimated));
    }));
    session().setQuantity(CalibratedQuantity::spark);
    session().setSide(TableSide::base);
    session().setCell({3, 4});
    const auto table = [&]() -> const Table2D & {
        return session().job().calibration.of(CalibratedQuantity::spark).base;
    };
    QVERIFY(guessed(table().origin({3, 4})));
    QVERIFY(CellEditor(session()).enterExpression(QString::number(table().cell(3, 4))));
    QVERIFY(table().origin({3, 4}) == CellOrigin::typed && guessed(table().origin({4, 4})));
    session().undo();
    QVERIFY(guessed(table().origin({3, 4})));
    // All that is selected at once, of 'now' at both ends; one step of undo, and nothing where nothing is
    // guessed.
    QVERIFY(session().perform(QStringLiteral("guesses"), [](Job &job) {
        Table2D &t = job.calibration.of(CalibratedQuantity::spark).top;
        t.setOrigins(std::vector(t.cells().size(), CellOrigin::estimated));
    }));
    session().setSide(TableSide::now);
    session().setContent(0.4);
    session().setCell({3, 4});
    session().setCell({4, 5}, true);
    QVERIFY(CellEditor(session()).stateSelected());
    const Table2D &top = session().job().calibration.of(CalibratedQuantity::spark).top;
    for (const CellIndex i : {CellIndex{3, 4}, CellIndex{4, 5}})
        QVERIFY(table().origin(i) == CellOrigin::typed && top.origin(i) == CellOrigin::typed);
    QVERIFY(guessed(table().origin({5, 5})) && guessed(top.origin({5, 5})));
    QString why;
    const auto heard = connect(&session(), &Session::problem, [&](const QString &said) { why = said; });
    QVERIFY(!CellEditor(session()).stateSelected());
    QVERIFY(why.contains(QStringLiteral("estimate")));
    disconnect(heard);
    session().undo();
    QVERIFY(guessed(table().origin({3, 4})));
    QVERIFY(guessed(session().job().calibration.of(CalibratedQuantity::spark).top.origin({4, 5})));
}

void TablesViewTest::aNewJobIsEstimated() {
    NewJobDialog dialog(session());
    dialog.show();
    const auto type = [&](const char *name, const char *text) {
        auto *line = dialog.findChild<QLineEdit *>(QLatin1String(name));
        line->selectAll();
        QTest::keyClicks(line, QString::fromUtf8(text));
    };
    type("name", "Bramble two");
    type("displacement", "1.8 L");
    type("boost", "12 psi");
    const auto make = [&] {
        for (QPushButton *b : dialog.findChildren<QPushButton *>())
            if (b->text().startsWith(QStringLiteral("Make"))) QTest::mouseClick(b, Qt::LeftButton);
    };
    type("revLimit", "90");
    make();
    QVERIFY(dialog.isVisible()); // and it says why
    type("revLimit", "7200");
    make();
    QVERIFY(!dialog.isVisible());
    const Job &job = dialog.job();
    QCOMPARE(job.name, std::string("Bramble two"));
    QCOMPARE(job.engine.displacementL, 1.8);
    const Table2D &boost = job.calibration.of(CalibratedQuantity::boost).top;
    COMPARE_NEAR(*std::ranges::max_element(boost.cells()), job.conditions.ambientKpa + 12 * 6.894757, 1);
    QVERIFY(!originTexts(job).empty());
}

void TablesViewTest::tablesByAirMassShowTheirAxis() {
    QVERIFY(session().perform(QStringLiteral("air mass"),
                              [](Job &job) { job = changeLoadAxis(job, LoadAxis::airMass); }));
    QTest::qWait(20);
    QVERIFY(button(QStringLiteral("over air mass")));
    session().goTo({0.5, 4000, 150}, CalibratedQuantity::spark);
    COMPARE_NEAR(loadOfAxis(session().job(), session().table().y()[session().cell().y]), 150, 5);
    session().undo();
    settle();
    QVERIFY(button(QStringLiteral("over load")));
}

int main(int argc, char **argv) {
    QApplication app(argc, argv);
    return wheelwright::testing::run<TablesViewTest>(argc, argv);
}
#include "tables_view_test.moc"
