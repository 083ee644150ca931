// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/job/job_schema.h"
#include "core/study/two_table_school.h"
#include "session/cell_editor.h"
#include "session/work.h"
#include "store/job_store.h"
#include "support/phrases.h"
#include "support/random_job.h"
#include "support/test_main.h"
#include "ui/finder.h"
#include "ui/help_window.h"
#include "ui/rail.h"
#include "ui/salvaged_dialog.h"
#include "ui/shell.h"
#include "ui/theme.h"
#include "ui/views/job/job_view.h"
#include "ui/views/tables/calibration_dialogs.h"
#include "ui/views/tables/tables_view.h"
#include "ui/views/verify/verify_view.h"
#include "ui/widgets/chart_plot.h"
#include "ui/widgets/content_ruler.h"
#include "ui/widgets/notice_bar.h"
#include "ui/widgets/working_panel.h"

#include <QApplication>
#include <QClipboard>
#include <QComboBox>
#include <QDialog>
#include <QFile>
#include <QFileDialog>
#include <QLineEdit>
#include <QListWidget>
#include <QMenuBar>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QSettings>
#include <QTemporaryDir>
#include <QTimer>

#include <set>

using namespace wheelwright;
using namespace wheelwright::testing;

void wheelwrightResources() {
    Q_INIT_RESOURCE(resources);
}

namespace {

QDateTime fixedTime() {
    return QDateTime(QDate(2001, 2, 3), QTime(4, 5, 6), Qt::UTC);
}

double contrast(const QColor &a, const QColor &b) {
    const auto luminance = [](const QColor &c) {
        const auto linear = [](double v) {
            return v <= 0.03928 ? v / 12.92 : std::pow((v + 0.055) / 1.055, 2.4);
        };
        return 0.2126 * linear(c.redF()) + 0.7152 * linear(c.greenF()) + 0.0722 * linear(c.blueF());
    };
    const double la = luminance(a), lb = luminance(b);
    return (std::max(la, lb) + 0.05) / (std::min(la, lb) + 0.05);
}

} // namespace

/// The real window, by mouse and keyboard.
class ShellTest : public QObject {
    Q_OBJECT
  private slots:
    void initTestCase();
    void init();
    void cleanup();
    void cleanupTestCase() { QVERIFY2(QApplication::topLevelWidgets().isEmpty(), "a window was leaked"); }

    void emptyWindowTeaches();
    void demoOpensAndSpeaks();
    void dragTheHandle();
    void keysMoveTheContent();
    void everyViewFollowsTheContent();
    void aNotchLeadsToTheWorstPlace();
    void typeIntoACell();
    void plusAloneNudgesPlusTwoAdds();
    void escapeLeavesTheCell();
    void enteringTheShownNumberKeepsTheCell();
    void aWrongEntryStaysToBePutRight();
    void calibrationWindowsWork();
    void copyAndPasteWithASpreadsheet();
    void badCsvSaysWhere();
    void droppedTableIsImported();
    void closeAndReopen();
    void fieldsTakeOtherUnits();
    void aDamagedJobIsReadIntoANewOne();
    void unitsMenuChangesEverything();
    void boardByKeyboardAndMouse();
    void aRowWithNothingToAskHasNoPlace();
    void workingPanelLeadsToItsInputs();
    void whatToFindOutNextStandsInThePanel();
    void findAnyAction();
    void findAnything();
    void helpFollowsTheFocus();
    void recentFilesAreKept();
    void everythingIsNamed();
    void nothingIsCutOff_data();
    void nothingIsCutOff();
    void textCanBeRead();
    void fontsAreOurs();

  private:
    TablesView &tables() { return *static_cast<TablesView *>(m_shell->view(QStringLiteral("tables"))); }
    TableGrid &grid(TableSide side) {
        for (TableGrid *g : tables().findChildren<TableGrid *>())
            if (g->side() == side) return *g;
        qFatal("no such grid");
    }
    void openDemo();
    std::size_t rowOf(std::string_view check) const { // on the margin board
        const auto &rows = m_session->verdict()->rows;
        const auto at =
            std::ranges::find_if(rows, [&](const Verdict::Row &r) { return r.check->id == check; });
        return static_cast<std::size_t>(at - rows.begin());
    }
    QAction *action(const QString &part) {
        for (QAction *a : m_shell->allActions())
            if (a->text().remove(QLatin1Char('&')).contains(part)) return a;
        return nullptr;
    }
    QString path(const char *name) const { return m_dir->filePath(QString::fromLatin1(name)); }

    std::unique_ptr<QTemporaryDir> m_dir;
    std::unique_ptr<QSettings> m_settings;
    std::unique_ptr<Session> m_session;
    std::unique_ptr<Shell> m_shell;
};

void ShellTest::initTestCase() {
    wheelwrightResources();
    QApplication::setStyle(QStringLiteral("Fusion"));
    loadFonts();
    useTheme({});
}

void ShellTest::init() {
    m_dir = std::make_unique<QTemporaryDir>();
    m_settings = std::make_unique<QSettings>(path("settings.ini"), QSettings::IniFormat);
    m_session = std::make_unique<Session>(fixedTime);
    m_shell = std::make_unique<Shell>(*m_session, *m_settings);
    m_shell->resize(1280, 800);
    m_shell->show();
    QVERIFY(QTest::qWaitForWindowActive(m_shell.get()));
}

void ShellTest::cleanup() {
    m_shell.reset();
    m_session.reset();
}

void ShellTest::openDemo() {
    m_session->createJob(path("thistle.wwjob").toStdString(), demoJob());
    QTRY_VERIFY(m_session->verdict());
}

void ShellTest::emptyWindowTeaches() {
    QCOMPARE(m_shell->station(), QStringLiteral("job"));
    auto *view = m_shell->view(QStringLiteral("job"));
    for (const char *button : {"open", "new", "demo"})
        QVERIFY(view->findChild<QPushButton *>(QLatin1String(button))->isVisible());
    QVERIFY(!m_shell->working().isVisible());
    QVERIFY(!action(QStringLiteral("Export the whole job"))->isEnabled());
    QTest::keyClick(m_shell.get(), Qt::Key_BracketRight); // nothing to look at, nothing happens
    m_shell->openPath(path("table.csv"));
    QVERIFY(m_shell->notice().sentence().contains(QStringLiteral("Open the job")));
}

void ShellTest::demoOpensAndSpeaks() {
    openDemo();
    m_shell->showStation(QStringLiteral("verify"));
    auto *verify = static_cast<VerifyView *>(m_shell->view(QStringLiteral("verify")));
    QVERIFY2(verify->sentence().contains(
                 QStringLiteral("Holds every judged limit from E2 to E29 and from E53 to E74.")),
             qPrintable(verify->sentence()));
    QVERIFY(m_shell->windowTitle().startsWith(QStringLiteral("Thistle")));
    QVERIFY(m_shell->stateWords().startsWith(QStringLiteral("Saved")));
}

void ShellTest::dragTheHandle() {
    openDemo();
    ContentRuler &ruler = m_shell->ruler();
    const auto at = [&](double content) {
        return QPoint(static_cast<int>(std::round(ruler.positionOf(content))), 30);
    };
    QTest::mousePress(&ruler, Qt::LeftButton, {}, at(m_session->content()));
    for (int percent = 48; percent <= 70; percent += 2)
        QTest::mouseMove(&ruler, at(percent / 100.0));
    COMPARE_NEAR(m_session->content(), 0.70, 1e-9);
    QTest::mouseMove(&ruler, QPoint(ruler.width() + 400, 30)); // beyond the end
    QCOMPARE(m_session->content(), 1.0);
    QTest::mouseRelease(&ruler, Qt::LeftButton, {}, at(0.70));
    QTest::mouseMove(&ruler, at(0.20)); // released: the mouse alone moves nothing
    QCOMPARE(m_session->content(), 1.0);
}

void ShellTest::keysMoveTheContent() {
    openDemo();
    const double start = m_session->content();
    m_shell->showStation(QStringLiteral("tables"));
    QTest::keyClick(&grid(TableSide::now), Qt::Key_BracketRight);
    COMPARE_NEAR(m_session->content(), start + 0.01, 1e-9);
    QTest::keyClick(&grid(TableSide::now), Qt::Key_BraceLeft);
    COMPARE_NEAR(m_session->content(), start - 0.04, 1e-9);
    m_shell->ruler().setFocus();
    QTest::keyClick(&m_shell->ruler(), Qt::Key_Home);
    QCOMPARE(m_session->content(), 0.0);
    QTest::keyClick(&m_shell->ruler(), Qt::Key_Left);
    QCOMPARE(m_session->content(), 0.0);
    QTest::keyClick(&m_shell->ruler(), Qt::Key_PageUp);
    COMPARE_NEAR(m_session->content(), 0.05, 1e-9);
}

void ShellTest::everyViewFollowsTheContent() {
    openDemo();
    m_shell->showStation(QStringLiteral("tables"));
    m_session->setContent(0.10);
    QApplication::processEvents();
    const QImage low = grid(TableSide::now).grab().toImage();
    const double shownLow = m_session->explanation()->result.value;
    m_session->setContent(0.85);
    QApplication::processEvents();
    const QImage high = grid(TableSide::now).grab().toImage();
    QVERIFY(low != high);
    QVERIFY(m_session->explanation()->result.value > shownLow);
    // The fields of a job are the same at every content, and so is what logs and runs say, a live engine, and
    // what is handed over;
    // every other page shows another picture, pixel for pixel the same again when the content comes back.
    const QStringList same{QStringLiteral("evidence"), QStringLiteral("runs"), QStringLiteral("cell"),
                           QStringLiteral("handover")};
    for (const ViewDefinition *definition : allViews()) {
        const QString id = QLatin1String(definition->id);
        const auto picture = [&](double content) {
            m_session->setContent(content);
            QApplication::processEvents();
            for (const auto length : {WorkSignals::Length::brief, WorkSignals::Length::lengthy})
                WorkSignals::pool(length).waitForDone();
            for (int turn = 0; turn < 5; ++turn) // what is worked out, drawn and painted
                QTest::qWait(5);
            return m_shell->view(id)->grab().toImage();
        };
        m_shell->showStation(id);
        picture(0.25); // the first time begins what goes on beside the thread
        const QImage before = picture(0.30), there = picture(0.80), back = picture(0.30);
        QVERIFY2((before == there) == same.contains(id), qPrintable(id));
        QVERIFY2(before == back, qPrintable(id));
    }
}

void ShellTest::aNotchLeadsToTheWorstPlace() {
    openDemo();
    ContentRuler &ruler = m_shell->ruler();
    const QPoint notch(static_cast<int>(ruler.positionOf(0.80)), ruler.bandRect().center().y());
    QTest::mouseClick(&ruler, Qt::LeftButton, {}, notch);
    QCOMPARE(m_shell->station(), QStringLiteral("tables"));
    QVERIFY(m_session->quantity() == CalibratedQuantity::fuel);
    COMPARE_NEAR(m_session->content(), 0.80, 0.0051);
    QVERIFY(m_session->table().x()[m_session->cell().x] >= 6700);
    QCOMPARE(m_session->table().y()[m_session->cell().y], 245.0);
    // A click on the clear part of the band only looks there.
    m_shell->showStation(QStringLiteral("job"));
    QTest::mouseClick(&ruler, Qt::LeftButton, {},
                      QPoint(static_cast<int>(ruler.positionOf(0.20)), ruler.bandRect().center().y()));
    QCOMPARE(m_shell->station(), QStringLiteral("job"));
    COMPARE_NEAR(m_session->content(), 0.20, 1e-9);
}

void ShellTest::typeIntoACell() {
    openDemo();
    m_shell->showStation(QStringLiteral("tables"));
    TableGrid &base = grid(TableSide::base);
    QTest::mouseClick(&base, Qt::LeftButton, {}, base.cellRect({3, 4}).center());
    QVERIFY(m_session->side() == TableSide::base);
    QTest::keyClick(&base, Qt::Key_Right); // the table in front has grown by now: move by keys
    const CellIndex cell = m_session->cell();
    QTest::keyClicks(&base, QStringLiteral("2"));
    auto *entry = base.findChild<QLineEdit *>();
    QVERIFY(entry->isVisible());
    QTest::keyClicks(entry, QStringLiteral("1.5"));
    QTest::keyClick(entry, Qt::Key_Return);
    QCOMPARE(m_session->job().calibration.of(CalibratedQuantity::spark).base.cell(cell), 21.5);
    QApplication::processEvents();
    QVERIFY(m_shell->stateWords().contains(QStringLiteral("04:05:06")));
    QVERIFY(base.hasFocus());
    action(QStringLiteral("Undo"))->trigger();
    QVERIFY(m_session->job() == demoJob());
    action(QStringLiteral("Redo"))->trigger();
    QCOMPARE(m_session->job().calibration.of(CalibratedQuantity::spark).base.cell(cell), 21.5);
}

void ShellTest::plusAloneNudgesPlusTwoAdds() {
    openDemo();
    m_shell->showStation(QStringLiteral("tables"));
    TableGrid &top = grid(TableSide::top);
    top.setFocus();
    const auto value = [&] { return m_session->frontTable().cell(m_session->cell()); };
    const double before = value();
    QTest::keyClick(&top, Qt::Key_Plus);
    COMPARE_NEAR(value(), before + 0.5, 1e-12);
    QTest::keyClick(&top, Qt::Key_Minus);
    COMPARE_NEAR(value(), before, 1e-12);
    QTest::keyClick(&top, Qt::Key_Left);
    QTest::keyClick(&top, Qt::Key_Right);
    QTest::keyClick(&top, Qt::Key_Plus);
    QTest::keyClicks(&top, QStringLiteral("2")); // the nudge was the beginning of +2
    auto *entry = top.findChild<QLineEdit *>();
    QCOMPARE(entry->text(), QStringLiteral("+2"));
    QTest::keyClick(entry, Qt::Key_Return);
    COMPARE_NEAR(value(), before + 2, 1e-12);
    QTest::keyClicks(&top, QStringLiteral("*"));
    QTest::keyClicks(entry, QStringLiteral("1.1"));
    QTest::keyClick(entry, Qt::Key_Return);
    COMPARE_NEAR(value(), (before + 2) * 1.1, 1e-12);
    m_session->setCell({2, 2});
    m_session->setCell({8, 8}, true);
    const Table2D rough = m_session->frontTable();
    QTest::keyClick(&top, Qt::Key_Slash);
    QVERIFY(!(m_session->frontTable() == rough));
    QTest::keyClick(&top, Qt::Key_AsciiTilde);
    m_session->undo();
    m_session->undo();
    QVERIFY(m_session->frontTable() == rough);
}

void ShellTest::escapeLeavesTheCell() {
    openDemo();
    m_shell->showStation(QStringLiteral("tables"));
    TableGrid &base = grid(TableSide::base);
    base.setFocus();
    QTest::keyClicks(&base, QStringLiteral("9"));
    auto *entry = base.findChild<QLineEdit *>();
    QVERIFY(entry->isVisible());
    QTest::keyClick(entry, Qt::Key_Escape);
    QVERIFY(!entry->isVisible());
    QVERIFY(m_session->job() == demoJob());
    m_session->setCell({2, 2});
    m_session->setCell({5, 5}, true);
    m_shell->notice().say(QStringLiteral("something"));
    // No higher than its line, and no entry of the rail is under it.
    const auto *rail = m_shell->findChild<Rail *>();
    QVERIFY(m_shell->notice().mapToGlobal(QPoint()).x() >= rail->mapToGlobal(QPoint(rail->width(), 0)).x());
    QVERIFY(m_shell->notice().height() <= 2 * m_shell->notice().findChild<QPushButton *>()->height());
    QTest::keyClick(&base, Qt::Key_Escape); // first the selection …
    QVERIFY(m_session->selection() == (CellRange{{5, 5}, {5, 5}}));
    QVERIFY(!m_shell->notice().sentence().isEmpty());
    QTest::keyClick(&base, Qt::Key_Escape); // … then the notice
    QVERIFY(m_shell->notice().sentence().isEmpty());
}

void ShellTest::enteringTheShownNumberKeepsTheCell() {
    Job fine = demoJob();
    fine.calibration.of(CalibratedQuantity::fuel).base.setCell({3, 3}, 77.123456);
    m_session->createJob(path("fine.wwjob").toStdString(), fine);
    m_shell->showStation(QStringLiteral("tables"));
    m_session->setQuantity(CalibratedQuantity::fuel);
    TableGrid &base = grid(TableSide::base);
    base.setFocus();
    m_session->setCell({3, 3});
    QTest::keyClick(&base, Qt::Key_Return);
    auto *entry = base.findChild<QLineEdit *>();
    QCOMPARE(entry->text(), QStringLiteral("77.1"));
    QTest::keyClick(entry, Qt::Key_Return);
    QVERIFY(m_session->job() == fine); // looking at a rounded number does not round it
}

void ShellTest::aWrongEntryStaysToBePutRight() {
    openDemo();
    m_shell->showStation(QStringLiteral("tables"));
    TableGrid &base = grid(TableSide::base);
    base.setFocus();
    QTest::keyClicks(&base, QStringLiteral("9"));
    auto *entry = base.findChild<QLineEdit *>();
    QTest::keyClicks(entry, QStringLiteral("9"));
    QTest::keyClick(entry, Qt::Key_Return);
    QVERIFY(entry->isVisible());
    QVERIFY2(m_shell->notice().sentence().contains(QStringLiteral("-20 to 60")),
             qPrintable(m_shell->notice().sentence()));
    QTest::keyClicks(entry, QStringLiteral("19"));
    QTest::keyClick(entry, Qt::Key_Return);
    QVERIFY(!entry->isVisible());
    QCOMPARE(m_session->frontTable().cell(m_session->cell()), 19.0);
    QVERIFY(m_shell->notice().sentence().isEmpty()); // a good action takes the notice away
    TableGrid &now = grid(TableSide::now);
    now.setFocus();
    QTest::keyClicks(&now, QStringLiteral("1"));
    entry = now.findChild<QLineEdit *>();
    QTest::keyClicks(entry, QStringLiteral("5"));
    QTest::keyClick(entry, Qt::Key_Return); // shared by both ends
    QVERIFY(std::abs(m_session->frontTable().cell(m_session->cell()) - 15) < 1e-9);
}

// Another school and revisions, through their windows; all of it undone.
void ShellTest::calibrationWindowsWork() {
    openDemo();
    m_shell->showStation(QStringLiteral("tables"));
    const Job before = m_session->job();
    ConvertDialog convert(*m_session, m_shell.get());
    auto *school = convert.findChildren<QComboBox *>().front();
    school->setCurrentIndex(2); // the fuel model, which takes true VE by itself
    QTRY_VERIFY2(convert.words().contains(QStringLiteral("One true VE")), qPrintable(convert.words()));
    school->setCurrentIndex(4);
    QTRY_VERIFY2(convert.words().contains(QStringLiteral("Tables at several")), qPrintable(convert.words()));
    QVERIFY2(convert.words().contains(QStringLiteral("worst error")), qPrintable(convert.words()));
    // What is lost is drawn for each table that is not exact, and only for those.
    convert.show();
    QTest::qWait(20);
    const SchoolConversion worked = convertSchool(before, {School::stack, {}, 0.03});
    std::vector<ChartPlot *> drawn;
    for (ChartPlot *plot : convert.findChildren<ChartPlot *>())
        if (plot->isVisible()) drawn.push_back(plot);
    std::size_t lossy = 0;
    for (const SchoolError &e : worked.errors)
        if (std::abs(e.worst) > 1e-9) QVERIFY(drawn.at(lossy++)->chart().series.front().y == e.worstAt);
    QCOMPARE(drawn.size(), lossy);
    auto *contents = convert.findChild<QLineEdit *>();
    contents->setText(QStringLiteral("10 50 85"));
    emit contents->editingFinished();
    for (QPushButton *b : convert.findChildren<QPushButton *>())
        if (b->text() == QStringLiteral("Convert")) {
            QTRY_VERIFY(b->isEnabled());
            QTest::mouseClick(b, Qt::LeftButton);
        }
    QCOMPARE(m_session->job().calibration.school, School::stack);
    QCOMPARE(m_session->job().calibration.levels.size(), std::size_t{3});
    m_session->setContent(0.6); // the tables beside it are levels now
    m_session->setSide(TableSide::base);
    QVERIFY(m_session->frontTable() == m_session->job().calibration.levels[1].of(m_session->quantity()));
    QVERIFY(CellEditor(*m_session).nudge(1));
    QVERIFY(m_session->job().calibration.levels[1].of(m_session->quantity()) !=
            Study(before).blended(m_session->quantity(), 0.5));

    action(QStringLiteral("Spark budget at the cursor"))->trigger();
    QCOMPARE(said(m_session->explanation()->title), std::string("Spark delivered"));
    while (m_session->undoStack().canUndo())
        m_session->undo();
    QVERIFY(m_session->job() == before);
}

void ShellTest::copyAndPasteWithASpreadsheet() {
    openDemo();
    m_shell->showStation(QStringLiteral("tables"));
    TableGrid &base = grid(TableSide::base);
    base.setFocus();
    m_session->setCell({1, 1});
    m_session->setCell({3, 2}, true);
    action(QStringLiteral("Copy"))->trigger();
    QCOMPARE(QApplication::clipboard()->text().count(QLatin1Char('\t')), 4);
    m_session->setCell({10, 10});
    QApplication::clipboard()->setText(QStringLiteral("7\t7,5\r\n8\t8.5\r\n"));
    action(QStringLiteral("Paste"))->trigger();
    QCOMPARE(m_session->frontTable().cell(11, 11), 8.5);
    action(QStringLiteral("Copy as picture"))->trigger();
    QVERIFY(!QApplication::clipboard()->pixmap().isNull());
}

void ShellTest::badCsvSaysWhere() {
    openDemo();
    m_shell->showStation(QStringLiteral("tables"));
    QFile bad(path("bad.csv"));
    QVERIFY(bad.open(QIODevice::WriteOnly));
    bad.write("load,1000,2000\n50,10,12\n100,8,lots\n");
    bad.close();
    grid(TableSide::now).setFocus();
    m_shell->openPath(path("bad.csv"));
    QVERIFY(m_shell->notice().sentence().contains(QStringLiteral("base or top")));
    grid(TableSide::top).setFocus();
    m_shell->openPath(path("bad.csv"));
    const QString sentence = m_shell->notice().sentence();
    for (const char *word : {"bad.csv", "line 3, column 3", "a number", "'lots'"})
        QVERIFY2(sentence.contains(QLatin1String(word)), qPrintable(sentence));
    QVERIFY(m_session->job() == demoJob());
}

void ShellTest::droppedTableIsImported() {
    openDemo();
    m_shell->showStation(QStringLiteral("tables"));
    grid(TableSide::top).setFocus();
    QFile good(path("good.csv"));
    QVERIFY(good.open(QIODevice::WriteOnly));
    good.write("load;1000;2000\r\n50;10,5;12\r\n100;8;9\r\n");
    good.close();
    QMimeData data;
    data.setUrls({QUrl::fromLocalFile(path("good.csv"))});
    QDragEnterEvent enter(QPoint(5, 5), Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
    QApplication::sendEvent(m_shell.get(), &enter);
    QVERIFY(enter.isAccepted());
    QDropEvent drop(QPointF(5, 5), Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
    QApplication::sendEvent(m_shell.get(), &drop);
    QCOMPARE(m_shell->notice().sentence(), QString());
    QCOMPARE(m_session->job().calibration.of(CalibratedQuantity::spark).top.cell(0, 0), 10.5);
    m_shell->grab(); // tables of different sizes side by side are drawn
    m_session->undo();
    QVERIFY(m_session->job() == demoJob());
}

void ShellTest::closeAndReopen() {
    openDemo();
    QVERIFY(m_session->perform(QStringLiteral("x"), [](Job &j) { j.engine.revLimitRpm = 6900; }));
    const Job job = m_session->job();
    action(QStringLiteral("Close job"))->trigger();
    QCOMPARE(m_shell->station(), QStringLiteral("job"));
    QVERIFY(!m_session->hasJob());
    m_shell->openPath(path("thistle.wwjob"));
    QVERIFY(!m_session->hasJob()); // beside the window's thread
    QTRY_VERIFY(m_session->job() == job);
    m_shell->openPath(path("nothing.wwjob"));
    QTRY_VERIFY(m_shell->notice().sentence().contains(QStringLiteral("no file of that name")));
    QVERIFY(m_session->job() == job);
    // What is open already is not opened again; what is not wanted any more does not come.
    QSignalSpy opened(m_session.get(), &Session::jobOpened), replaced(m_session.get(), &Session::jobReplaced);
    m_shell->openPath(path("thistle.wwjob"));
    QCOMPARE(opened.size(), 1);
    QCOMPARE(replaced.size(), 0);
    m_session->closeJob();
    m_shell->openPath(path("thistle.wwjob"));
    m_session->cancelOpening();
    QTest::qWait(300);
    QVERIFY(!m_session->hasJob());
    // A job that is made meanwhile is the one that stays.
    m_shell->openPath(path("thistle.wwjob"));
    m_session->createJob(path("made.wwjob").toStdString(), demoJob());
    QTest::qWait(300);
    QCOMPARE(m_session->path().filename(), std::filesystem::path("made.wwjob"));
    // Of two the newest wins, and the lock of the other is let go.
    std::filesystem::copy_file(path("thistle.wwjob").toStdString(), path("second.wwjob").toStdString());
    m_shell->openPath(path("thistle.wwjob"));
    m_shell->openPath(path("second.wwjob"));
    QTRY_COMPARE(m_session->path().filename(), std::filesystem::path("second.wwjob"));
    QVERIFY(!JobStore::open(path("thistle.wwjob").toStdString()).readOnly());
}

void ShellTest::fieldsTakeOtherUnits() {
    openDemo();
    m_shell->showStation(QStringLiteral("job"));
    auto *job = static_cast<JobView *>(m_shell->view(QStringLiteral("job")));
    const auto type = [&](const char *field, const char *typed) {
        auto *edit = qobject_cast<QLineEdit *>(job->editor(QLatin1String(field)));
        edit->setFocus();
        edit->selectAll();
        QTest::keyClicks(edit, QString::fromUtf8(typed));
        QTest::keyClick(edit, Qt::Key_Return);
        return edit;
    };
    type("injectors.rail_pressure_kpa", "58 psi");
    COMPARE_NEAR(m_session->job().injectors.railPressureKpa, 399.896, 1e-3);
    type("conditions.intake_coldest_c", "32 F");
    COMPARE_NEAR(m_session->job().conditions.intakeColdestC, 0, 1e-9);
    type("limit:flow.duty.stop", "93");
    COMPARE_NEAR(m_session->job().limits.at("flow.duty.stop"), 0.93, 1e-12);
    auto *value =
        job->editor(QStringLiteral("engine.boost_limit_kpa"))->findChild<QLineEdit *>(QStringLiteral("y"));
    value->setFocus();
    value->selectAll();
    QTest::keyClicks(value, QStringLiteral("38 psia"));
    QTest::keyClick(value, Qt::Key_Return);
    COMPARE_NEAR(m_session->job().engine.boostLimitKpa.values()[0], 262.0, 0.01);
    auto *edit = type("engine.cylinders", "4.5");
    QVERIFY(m_shell->notice().sentence().contains(QStringLiteral("whole number")));
    QCOMPARE(edit->text(), QStringLiteral("5")); // back to what is so
    auto *limit = qobject_cast<QLineEdit *>(job->editor(QStringLiteral("limit:flow.duty.stop")));
    limit->setFocus();
    limit->selectAll();
    QTest::keyClick(limit, Qt::Key_Delete);
    QTest::keyClick(limit, Qt::Key_Return);
    QVERIFY(m_session->job().limits.empty());
    auto *shape = qobject_cast<QComboBox *>(job->editor(QStringLiteral("calibration.spark.weight_shape")));
    shape->setFocus();
    QTest::keyClick(shape, Qt::Key_Down);
    QVERIFY(m_session->job().calibration.of(CalibratedQuantity::spark).shape == WeightShape::straight);
}

void ShellTest::aDamagedJobIsReadIntoANewOne() {
    openDemo();
    m_session->closeJob();
    QFile damaged(path("thistle.wwjob"));
    QVERIFY(damaged.open(QIODevice::ReadWrite));
    const auto at = damaged.readAll().indexOf("Hill-climb");
    QVERIFY(at > 0 && damaged.seek(at) && damaged.putChar('M'));
    damaged.close();
    m_shell->openPath(path("thistle.wwjob"));
    QTRY_VERIFY(m_shell->notice().sentence().contains(QStringLiteral("damage")));
    QTimer answer; // the file is chosen by its name
    connect(&answer, &QTimer::timeout, this, [this] {
        auto *dialog = qobject_cast<QFileDialog *>(QApplication::activeModalWidget());
        if (!dialog) return;
        auto *name = dialog->findChild<QLineEdit *>();
        name->setText(path("thistle.wwjob"));
        QTest::keyClick(name, Qt::Key_Return);
    });
    answer.start(50);
    action(QStringLiteral("damaged job"))->trigger();
    answer.stop();
    const auto said = [this] { return m_shell->findChild<SalvagedDialog *>(); };
    QTRY_VERIFY(said());
    QVERIFY(m_session->path().filename() == "thistle salvaged.wwjob");
    QVERIFY(m_session->job().notes.starts_with("Mill-climb"));
    QVERIFY(!said()->findChild<QPlainTextEdit *>()->toPlainText().isEmpty());
    QTest::keyClick(said(), Qt::Key_Escape);
    QTRY_VERIFY(!said());
}

void ShellTest::unitsMenuChangesEverything() {
    openDemo();
    m_shell->showStation(QStringLiteral("tables"));
    m_session->setQuantity(CalibratedQuantity::boost);
    action(QStringLiteral("psi, gauge"))->trigger();
    QCOMPARE(m_session->units().pressureUnit, std::string("psi_g"));
    QApplication::processEvents();
    QVERIFY(m_shell->working().shownText().contains(QStringLiteral("psi gauge")));
    m_session->setQuantity(CalibratedQuantity::lambda);
    action(QStringLiteral("gasoline scale 14.7"))->trigger();
    QApplication::processEvents();
    QVERIFY(m_shell->working().shownText().contains(QStringLiteral("AFR (gasoline scale 14.7)")));
    // The choice is kept for the next window.
    Session second(fixedTime);
    Shell next(second, *m_settings);
    QVERIFY(second.units().mixtureScale == MixtureScale::gasolineAfr);
}

void ShellTest::boardByKeyboardAndMouse() {
    openDemo();
    m_shell->showStation(QStringLiteral("verify"));
    auto *board = m_shell->findChild<MarginBoard *>();
    board->setFocus();
    for (std::size_t i = 0; i < m_session->verdict()->rows.size(); ++i)
        QTest::keyClick(board, Qt::Key_Up);
    QCOMPARE(board->row(), std::size_t{0});
    QTest::keyClick(board, Qt::Key_Down);
    QCOMPARE(board->row(), std::size_t{1});
    const double content = m_session->content();
    QTest::keyClick(board, Qt::Key_Right);
    COMPARE_NEAR(m_session->content(), content + 0.01, 1e-9);
    const std::size_t duty = rowOf("flow.duty");
    QTest::mouseClick(board, Qt::LeftButton, {}, board->barsRect(duty).center());
    QCOMPARE(board->row(), duty);
    COMPARE_NEAR(m_session->content(), 0.5, 0.011);
    QVERIFY(said(m_session->explanation()->title) == "Injector duty");
    QTest::mouseClick(board, Qt::LeftButton, {}, board->wordsRect(duty).center());
    QCOMPARE(m_shell->station(), QStringLiteral("tables"));
    COMPARE_NEAR(m_session->content(), 0.85, 1e-9);
    m_shell->showStation(QStringLiteral("verify"));
    for (QPushButton *b : m_shell->view(QStringLiteral("verify"))->findChildren<QPushButton *>())
        if (b->text() == QStringLiteral("Show me")) b->click();
    QCOMPARE(m_shell->station(), QStringLiteral("tables"));
    m_shell->showStation(QStringLiteral("verify"));
    board->copy();
    const auto lines = static_cast<std::size_t>(QApplication::clipboard()->text().count(QLatin1Char('\n')));
    QCOMPARE(lines, m_session->verdict()->rows.size() + 1); // and a head
    // A mark is copied where it was judged; elsewhere that it was not.
    const QStringList copied = QApplication::clipboard()->text().split(QLatin1Char('\n'));
    std::size_t open = 0;
    for (std::size_t row = 0; row < m_session->verdict()->rows.size(); ++row) {
        const Verdict::Row &r = m_session->verdict()->rows[row];
        const QStringList cells = copied[static_cast<int>(row) + 1].split(QLatin1Char('\t'));
        for (std::size_t i = 0; i < r.byContent.size(); ++i) {
            const bool notJudged = r.byContent[i] == CheckState::notJudged;
            open += notJudged ? 1 : 0;
            const QString &cell = cells[static_cast<int>(i) + 1];
            QCOMPARE(cell, notJudged ? QStringLiteral("not judged")
                                     : QString::number(r.outcome.byContent[i].margin, 'f', 3));
        }
    }
    QVERIFY(open > 0);
}

// A sweep that was made over all that this engine reaches: the row has no place to go to, and says so.
void ShellTest::aRowWithNothingToAskHasNoPlace() {
    openDemo();
    QVERIFY(m_session->perform(QStringLiteral("a sweep elsewhere"), [](Job &job) {
        job.extras.eraseIf([](const ExtraTable &e) { return e.kind == TableKind::sparkBest; });
        ExtraTable best;
        best.kind = TableKind::sparkBest;
        best.name = "Best";
        best.content = 0.5;
        best.table = Table2D::uniform(Axis({1000, 6000}), Axis({600, 700}), 20);
        job.extras.push_back(best);
    }));
    QTRY_VERIFY(!m_session->verdictPending());
    m_shell->showStation(QStringLiteral("verify"));
    auto *board = m_shell->findChild<MarginBoard *>();
    board->setRow(rowOf("flow.duty"));
    QVERIFY(m_session->explanation().has_value());
    board->setRow(rowOf("spark.best"));
    QVERIFY(!m_session->explanation().has_value()); // a number of another check would mislead
    View *view = m_shell->view(QStringLiteral("verify"));
    QString words;
    for (QLabel *l : view->findChildren<QLabel *>())
        words += l->text() + u'\n';
    QVERIFY2(words.contains(QStringLiteral("nothing to ask of this engine")), qPrintable(words));
    QVERIFY2(words.contains(QStringLiteral("where spark is at its best")), qPrintable(words));
    for (QPushButton *b : view->findChildren<QPushButton *>())
        if (b->text() == QStringLiteral("Show me")) QVERIFY(!b->isEnabled());
    // A mark is of one content, and says so.
    const auto row = static_cast<int>(rowOf("spark.best"));
    const QString mark = board->part(row * board->partColumns()).name;
    QVERIFY2(mark.endsWith(QStringLiteral("not judged, nothing to ask at this content")), qPrintable(mark));
    QTest::keyClick(board, Qt::Key_Return);
    QTest::mouseClick(board, Qt::LeftButton, {}, board->wordsRect(rowOf("spark.best")).center());
    QCOMPARE(m_shell->station(), QStringLiteral("verify"));
    board->setRow(rowOf("flow.duty"));
    for (QPushButton *b : view->findChildren<QPushButton *>())
        if (b->text() == QStringLiteral("Show me")) QVERIFY(b->isEnabled());
}

void ShellTest::workingPanelLeadsToItsInputs() {
    openDemo();
    m_shell->showStation(QStringLiteral("verify"));
    auto *board = m_shell->findChild<MarginBoard *>();
    board->setRow(rowOf("flow.duty"));
    const QString shown = m_shell->working().shownText();
    for (const char *word : {"Injector duty", "Formula", "Heywood", "Dead", "What would change it"})
        QVERIFY2(shown.contains(QLatin1String(word), Qt::CaseInsensitive), qPrintable(shown));
    emit m_shell->working().inputWanted(QStringLiteral("injectors.flow_cc_min"));
    QCOMPARE(m_shell->station(), QStringLiteral("job"));
    auto *job = static_cast<JobView *>(m_shell->view(QStringLiteral("job")));
    QVERIFY(job->editor(QStringLiteral("injectors.flow_cc_min"))->hasFocus());
    emit m_shell->working().inputWanted(QStringLiteral("calibration.spark.top"));
    QCOMPARE(m_shell->station(), QStringLiteral("tables"));
    QVERIFY(m_session->side() == TableSide::top && m_session->quantity() == CalibratedQuantity::spark);
    // Every link of every check leads somewhere.
    for (const Verdict::Row &row : m_session->verdict()->rows)
        for (const ExplanationInput &input :
             row.check->explain(m_session->verdict()->study->evaluation(), row.outcome.worst()).inputs) {
            bool found = input.link.empty();
            for (const char *id : {"job", "fuel", "flow", "tables"})
                found =
                    found || m_shell->view(QLatin1String(id))->showInput(QString::fromStdString(input.link));
            QVERIFY2(found, input.link.c_str());
        }
}

void ShellTest::whatToFindOutNextStandsInThePanel() {
    openDemo();
    m_shell->showStation(QStringLiteral("verify"));
    QVERIFY(m_session->explanation());
    m_shell->showStation(QStringLiteral("fuel")); // the number that it explained is no longer seen
    QVERIFY(!m_session->explanation());
    const QString next = m_shell->working().shownText();
    for (const Need *n : std::span(m_session->verdict()->next).first(3))
        QVERIFY2(next.contains(text(n->find)), qPrintable(next));
    QVERIFY(next.contains(QStringLiteral("For: Knock")));
    // Each leads to its place; so does everything else that can be missing.
    const auto buttons = m_shell->working().findChildren<QPushButton *>();
    QVERIFY(buttons.size() >= 3 && !buttons[1]->isHidden());
    buttons[1]->click();
    QCOMPARE(m_shell->station(), QStringLiteral("job"));
    for (const Need &n : allNeeds()) {
        if (n.place.starts_with("mechanical")) continue; // not on this engine
        if (n.place == "revisions") continue;            // a dialog that waits for an answer
        bool found = false;
        for (const char *id : {"job", "fuel", "flow", "tables"})
            found = found || m_shell->view(QLatin1String(id))->showInput(text(n.place));
        QVERIFY2(found, n.id.data());
    }
}

void ShellTest::findAnyAction() {
    openDemo();
    QTest::keyClick(m_shell.get(), Qt::Key_K, Qt::ControlModifier);
    auto *finder = m_shell->findChild<QDialog *>(QStringLiteral("finder"));
    QVERIFY(finder);
    auto *typed = finder->findChild<QLineEdit *>();
    QTest::keyClicks(typed, QStringLiteral("verify go"));
    // The action of that name stands over the help that speaks of it.
    QVERIFY(finder->findChild<QListWidget *>()->item(0)->text().startsWith(QStringLiteral("Go to Verify")));
    QTest::keyClick(typed, Qt::Key_Return);
    QCOMPARE(m_shell->station(), QStringLiteral("verify"));
    QTest::keyClick(m_shell.get(), Qt::Key_4, Qt::AltModifier);
    QCOMPARE(m_shell->station(), QStringLiteral("tables"));
}

// Ctrl+K finds tables, fields, checks, limits, fuels and help as well, by name or path, and goes there.
void ShellTest::findAnything() {
    openDemo();
    QTRY_VERIFY(m_session->verdict());
    const auto find = [&](const char *words) {
        QTest::keyClick(m_shell.get(), Qt::Key_K, Qt::ControlModifier);
        QPointer<QDialog> finder = m_shell->findChild<QDialog *>(QStringLiteral("finder"));
        auto *typed = finder->findChild<QLineEdit *>();
        QTest::keyClicks(typed, QString::fromUtf8(words));
        const QString first = finder->findChild<QListWidget *>()->item(0)->text();
        QTest::keyClick(typed, Qt::Key_Return);
        QCoreApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
        return first;
    };
    m_shell->showStation(QStringLiteral("fuel"));
    QVERIFY(find("rev limit field").contains(QStringLiteral("field")));
    QCOMPARE(m_shell->station(), QStringLiteral("job"));
    QVERIFY(find("half and half").contains(QStringLiteral("table")));
    QCOMPARE(m_shell->station(), QStringLiteral("tables"));
    QVERIFY(m_session->extra() && m_session->extra()->name == "Half and half");
    QVERIFY(find("injector duty check").contains(QStringLiteral("check")));
    QCOMPARE(m_shell->station(), QStringLiteral("verify"));
    QCOMPARE(m_session->cell().x, m_session->table().x().nearest(7000));
    QVERIFY(find("flow.pump.stop").contains(QStringLiteral("limit")));
    QVERIFY(find("safety help").contains(QStringLiteral("help")));
    QCOMPARE(m_shell->findChild<HelpWindow *>()->page(), QStringLiteral("safety"));
    QCOMPARE(find("no such thing anywhere"), QStringLiteral("Nothing of that name"));
    for (const char *menu : {"&Edit", "&Calibration"}) { // each action of the station is under one of them
        const auto titles = [&] {
            QStringList all;
            for (const QAction *a : m_shell->menuBar()->actions())
                if (a->text() == QLatin1String(menu))
                    for (const QAction *item : a->menu()->actions())
                        all << item->text();
            return all;
        }();
        QCOMPARE(titles.contains(QStringLiteral("Smooth with a strength…")), menu[1] == 'E');
        QCOMPARE(titles.contains(QStringLiteral("Spark budget at the cursor")), menu[1] == 'C');
    }
}

void ShellTest::helpFollowsTheFocus() {
    openDemo();
    for (const ViewDefinition *v : allViews())
        QVERIFY(HelpWindow::pageOf(m_shell->view(QString::fromLatin1(v->id))) == QString::fromLatin1(v->id));
    auto *help = m_shell->findChild<HelpWindow *>();
    for (const char *page : {"start", "job", "fuel", "flow", "tables", "verify", "ruler", "working", "safety",
                             "keys", "sources", "about"}) {
        help->open(QLatin1String(page));
        QCOMPARE(help->page(), QLatin1String(page));
    }
    help->open(QStringLiteral("nonsense"));
    QCOMPARE(help->page(), QStringLiteral("start"));
    help->close();
}

void ShellTest::recentFilesAreKept() {
    openDemo();
    m_session->closeJob();
    m_shell->openPath(path("thistle.wwjob"));
    QTRY_VERIFY(m_session->hasJob());
    QVERIFY(m_settings->value(QStringLiteral("recent")).toStringList().contains(path("thistle.wwjob")));
    m_session->closeJob();
    action(QStringLiteral("thistle   "))->trigger();
    QTRY_VERIFY(m_session->hasJob());
}

void ShellTest::everythingIsNamed() {
    openDemo();
    std::set<QString> shortcuts;
    for (const QAction *a : m_shell->allActions()) {
        QVERIFY(!a->text().isEmpty());
        if (!a->shortcut().isEmpty())
            QVERIFY2(shortcuts.insert(a->shortcut().toString()).second, qPrintable(a->shortcut().toString()));
    }
    for (const ViewDefinition *v : allViews())
        for (const QWidget *w : m_shell->view(QString::fromLatin1(v->id))->findChildren<QWidget *>()) {
            const bool control = qobject_cast<const QLineEdit *>(w) || qobject_cast<const QComboBox *>(w) ||
                                 qobject_cast<const TableGrid *>(w);
            QVERIFY2(!control || !w->accessibleName().isEmpty(),
                     qPrintable(w->parentWidget()->metaObject()->className() + QStringLiteral("/") +
                                w->objectName()));
        }
}

void ShellTest::nothingIsCutOff_data() {
    QTest::addColumn<QSize>("size");
    QTest::newRow("small") << QSize(1024, 700);
    QTest::newRow("usual") << QSize(1280, 800);
    QTest::newRow("large") << QSize(2560, 1440);
}

void ShellTest::nothingIsCutOff() {
    QFETCH(QSize, size);
    openDemo();
    m_shell->resize(size);
    for (const ViewDefinition *v : allViews()) {
        m_shell->showStation(QString::fromLatin1(v->id));
        QApplication::processEvents();
        QCOMPARE(m_shell->size(), size); // no view forces the window to grow
        for (const auto *label : m_shell->view(QString::fromLatin1(v->id))->findChildren<QPushButton *>())
            if (label->isVisible())
                QVERIFY2(label->width() >= label->minimumSizeHint().width(), qPrintable(label->text()));
    }
    m_shell->showStation(QStringLiteral("tables"));
    QApplication::processEvents();
    QVERIFY(grid(m_session->side()).showsNumbers());
    if (size.width() > 2000)
        for (TableSide side : {TableSide::base, TableSide::now, TableSide::top})
            QVERIFY(grid(side).showsNumbers());
}

// WCAG 2.1 AA: 4.5 for text.
void ShellTest::textCanBeRead() {
    for (const bool shop : {false, true}) {
        useTheme({.shop = shop});
        const Theme &t = theme();
        for (const QColor &background : {t.paper, t.raised})
            for (const QColor &text :
                 {t.ink, t.quiet, t.trouble, t.heed, t.content(0), t.content(0.5), t.content(1)})
                QVERIFY2(contrast(text, background) >= 4.5,
                         qPrintable(QStringLiteral("%1 on %2: %3")
                                        .arg(text.name(), background.name())
                                        .arg(contrast(text, background))));
        for (double content = 0; content <= 1; content += 0.1)
            for (double magnitude = 0; magnitude <= 1; magnitude += 0.05) {
                const QColor cell = t.shade(content, magnitude);
                QVERIFY(contrast(t.textOn(cell), cell) >= 4.5);
            }
        // Lightness is magnitude: it moves one way only.
        for (double content : {0.0, 0.5, 1.0})
            for (int i = 1; i <= 20; ++i)
                QVERIFY((t.shade(content, i / 20.0).lightnessF() <
                         t.shade(content, (i - 1) / 20.0).lightnessF()) != shop);
    }
    useTheme({});
}

// By the widths of glyphs, since a font of the same family name may be installed.
void ShellTest::fontsAreOurs() {
    const QFontMetricsF mono(monoFont(100)), sans(sansFont(100));
    QCOMPARE(mono.horizontalAdvance(QLatin1Char('i')), mono.horizontalAdvance(QLatin1Char('W')));
    COMPARE_NEAR(mono.horizontalAdvance(QLatin1Char('0')), 65, 0.6);
    COMPARE_NEAR(sans.horizontalAdvance(QLatin1Char('.')), 30, 0.6);
    for (char digit = '0'; digit <= '9'; ++digit)
        COMPARE_NEAR(sans.horizontalAdvance(QLatin1Char(digit)), 65, 0.6); // columns of digits line up
}

int main(int argc, char **argv) {
    QApplication app(argc, argv);
    return wheelwright::testing::run<ShellTest>(argc, argv);
}
#include "shell_test.moc"
