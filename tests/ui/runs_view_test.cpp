// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/report/run_reports.h"
#include "session/run_book.h"
#include "support/phrases.h"
#include "support/test_window.h"
#include "ui/text.h"
#include "ui/views/runs/run_chart.h"
#include "ui/views/runs/run_compare_page.h"
#include "ui/views/runs/run_import_dialog.h"
#include "ui/views/runs/run_sheets_page.h"
#include "ui/views/runs/run_table_model.h"
#include "ui/views/runs/runs_view.h"
#include "ui/widgets/chart_plot.h"
#include "ui/widgets/copy_table.h"
#include "ui/widgets/page_switch.h"
#include "ui/widgets/report_text.h"

#include <QClipboard>
#include <QComboBox>
#include <QFile>
#include <QLineEdit>
#include <QProcess>
#include <QRegularExpression>
#include <QSpinBox>
#include <QStandardPaths>

#include <array>
#include <memory>

using namespace wheelwright;
using namespace wheelwright::testing;

void wheelwrightResources() {
    Q_INIT_RESOURCE(resources);
}

/// Power runs in the real window: brought in, chosen, compared, noted, printed as sheets, taken out.
class RunsViewTest : public QObject {
    Q_OBJECT
  private slots:
    void initTestCase() {
        QStandardPaths::setTestModeEnabled(true);
        dressApplication();
    }
    void init() { m_window = std::make_unique<TestWindow>(); }
    void cleanup() { m_window.reset(); }
    void cleanupTestCase() { QVERIFY2(QApplication::topLevelWidgets().isEmpty(), "a window was leaked"); }

    void emptyStationTeaches();
    void filesAreLookedAtAndBroughtIn();
    void filesThatSayTooLittleAreRefused();
    void droppedFilesGoToTheirStation();
    void pointsAreTyped();
    void aLogGivesItsPulls();
    void keysChooseTheSides();
    void theAnswerIsTheComparisons();
    void oneCursorReadsAllLanes();
    void smoothingAndCorrectionAreForAll();
    void theTableSaysWhatDiffers();
    void notesAreEditedInPlace();
    void runsAreTakenOutAndComeBack();
    void sheetsSayWhatCoreSays();
    void theRunSheetIsATable();
    void sheetsArePrinted();
    void manyRunsStayFluid();

  private:
    Session &session() { return m_window->session; }
    RunBook &book() { return session().runBook(); }
    RunsView &view() { return *m_window->view<RunsView>("runs"); }
    static QString demoRun(const char *name) {
        return QStringLiteral(SOURCE_DIR "/data/demo/runs/") + QLatin1String(name);
    }
    static Job withRuns(const std::vector<std::array<double, 3>> &runs) { // gain, content, order
        Job job = demoJob();
        for (const auto &[gain, content, order] : runs) {
            RunStatement s;
            s.name = "made";
            s.content = content;
            s.order = order;
            s.mode = RunMode::inertia;
            s.standard = CorrectionStandard::none;
            s.air = Weather{99, 25, 0};
            s.startIntakeC = 40;
            std::vector<std::pair<double, double>> points;
            for (double rpm = 2500; rpm <= 7000; rpm += 25)
                points.emplace_back(rpm, 100 + 0.01 * rpm + gain);
            addRuns(job, {pullFromPoints(points, true)}, s);
        }
        return job;
    }
    static std::vector<std::array<double, 3>> sixRuns() {
        return {{0.5, 0.1, 1},   {-0.3, 0.1, 2},  {-0.2, 0.1, 3},
                {20.1, 0.85, 4}, {19.4, 0.85, 5}, {20.5, 0.85, 6}};
    }
    bool wait(const std::function<bool()> &what) {
        for (int i = 0; i < 3000; ++i) {
            if (what()) {
                settle();
                return true;
            }
            QTest::qWait(5);
        }
        return false;
    }
    void open(const Job &job) {
        m_window->open(job);
        QVERIFY(wait([&] { return book().runs().size() == job.runs.size() && !book().reading(); }));
    }
    void choose(const std::vector<std::string> &before, const std::vector<std::string> &after) {
        book().setSides(before, after);
        QVERIFY(wait([&] { return view().compare().current(); }));
    }
    /// Whatever keys an earlier test has left pressed.
    void selectRow(int row) {
        view().table().selectionModel()->setCurrentIndex(view().model().index(row, RunTableModel::name),
                                                         QItemSelectionModel::ClearAndSelect |
                                                             QItemSelectionModel::Rows);
    }
    QString cell(int row, int column) { return view().model().index(row, column).data().toString(); }

    std::unique_ptr<TestWindow> m_window;
};

void RunsViewTest::emptyStationTeaches() {
    open(demoJob());
    QVERIFY(view().findChild<QPushButton *>(QStringLiteral("firstRuns"))->isVisible());
    QVERIFY(!view().table().isVisible());
    session().createJob(m_window->path("b.wwjob").toStdString(), withRuns(sixRuns())); // another job
    QVERIFY(wait([&] { return view().table().isVisible(); }));
}

void RunsViewTest::filesAreLookedAtAndBroughtIn() {
    open(demoJob());
    view().takeFiles({demoRun("thistle-01-e10-baseline.csv"), demoRun("thistle-03-e10-hot.csv")});
    auto *dialog = m_window->shell.findChild<RunImportDialog *>();
    QVERIFY(dialog && wait([&] { return !dialog->work().running() && !dialog->found().isEmpty(); }));
    QVERIFY(
        dialog->found().contains(QStringLiteral("A pull from 2500 rpm to 6902 rpm, 153.6 kW at 5611 rpm")));
    // Its power is drawn as well, as the words have it.
    const Chart drawn = dialog->plot().chart();
    QCOMPARE(drawn.series.size(), std::size_t(2));
    QCOMPARE(drawn.series[1].name, QStringLiteral("2"));
    COMPARE_NEAR(*std::ranges::max_element(drawn.series[0].y), 153.6, 0.05);
    QCOMPARE(dialog->findChild<QPushButton *>(QStringLiteral("bring"))->text(),
             QStringLiteral("Bring in 2 runs"));
    dialog->findChild<QLineEdit *>(QStringLiteral("change"))->setText(QStringLiteral("new plugs"));
    dialog->findChild<QLineEdit *>(QStringLiteral("content"))->setText(QStringLiteral("12"));
    dialog->findChild<QLineEdit *>(QStringLiteral("pressure"))->setText(QStringLiteral("98"));
    dialog->bring();
    QVERIFY(dialog->trouble().contains(QStringLiteral("together"))); // nobody says the rest of the air
    QVERIFY(session().job().runs.empty());
    dialog->findChild<QLineEdit *>(QStringLiteral("pressure"))->clear();
    dialog->findChild<QLineEdit *>(QStringLiteral("content"))->setText(QStringLiteral("120"));
    dialog->bring();
    QVERIFY(dialog->trouble().contains(QStringLiteral("Content")));
    dialog->findChild<QLineEdit *>(QStringLiteral("content"))->setText(QStringLiteral("12"));
    dialog->bring();
    QCOMPARE(session().job().runs.size(), std::size_t(2));
    const Run &run = session().job().runs.values()[0];
    QCOMPARE(run.change, std::string("new plugs"));
    COMPARE_NEAR(run.content, 0.12, 1e-9);
    QCOMPARE(run.mode, RunMode::inertia); // as the file says of itself
    QCOMPARE(run.ambientKpa, 100.15);
    session().undo(); // one action
    QVERIFY(session().job().runs.empty());
    QVERIFY(wait([&] { return !m_window->shell.findChild<RunImportDialog *>(); }));
}

void RunsViewTest::filesThatSayTooLittleAreRefused() {
    open(demoJob());
    const QString path = m_window->path("odd.csv");
    QFile file(path);
    QVERIFY(file.open(QIODevice::WriteOnly));
    file.write("rpm,power\n2000,50\n3000,70\n4000,90\n5000,100\n6000,110\n");
    file.close();
    view().takeFiles({path});
    auto *dialog = m_window->shell.findChild<RunImportDialog *>();
    QVERIFY(dialog && wait([&] { return !dialog->work().running() && !dialog->found().isEmpty(); }));
    QVERIFY2(dialog->found().contains(QStringLiteral("such as kW or hp")), qPrintable(dialog->found()));
    QVERIFY(!dialog->findChild<QPushButton *>(QStringLiteral("bring"))->isEnabled());
    dialog->reject();
}

// A dyno's file is no log, and a log no dyno's file.
void RunsViewTest::droppedFilesGoToTheirStation() {
    QVERIFY(RunBook::seemsRuns(demoRun("thistle-01-e10-baseline.csv").toStdString()));
    QVERIFY(!RunBook::seemsRuns(SOURCE_DIR "/data/demo/logs/thistle-e62-road.csv"));
    QVERIFY(!RunBook::seemsRuns(SOURCE_DIR "/README.md"));
    open(demoJob());
    m_window->shell.openPath(demoRun("thistle-01-e10-baseline.csv"));
    auto *dialog = m_window->shell.findChild<RunImportDialog *>();
    QVERIFY(dialog && view().isVisible());
    dialog->reject();
}

void RunsViewTest::pointsAreTyped() {
    open(demoJob());
    view().takePoints(QStringLiteral("3000 120\n\n4000: 160\n5000;170,\n"), true);
    QCOMPARE(session().job().runs.size(), std::size_t(1));
    const RunCurve c = curveOf(session().job().runs.values()[0]);
    QCOMPARE(c.rpm, (std::vector<double>{3000, 4000, 5000}));
    QCOMPARE(c.powerKw, (std::vector<double>{120, 160, 170}));
    QString said;
    connect(&session(), &Session::problem, this, [&said](const QString &words) { said = words; });
    view().takePoints(QStringLiteral("3000 120\n4000 fast\n"), true);
    QVERIFY2(said.contains(QStringLiteral("line 2")), qPrintable(said));
    view().takePoints(QStringLiteral("3000 120"), false);
    QVERIFY(said.contains(QStringLiteral("two engine speeds")));
    QCOMPARE(session().job().runs.size(), std::size_t(1));
}

// A log with torque gives a run for each of its pulls; one without says what it lacks.
void RunsViewTest::aLogGivesItsPulls() {
    const QString path = m_window->path("torque.csv");
    QFile file(path);
    QVERIFY(file.open(QIODevice::WriteOnly));
    file.write("time_s,rpm,throttle_percent,map_kpa,torque_nm,ethanol_percent\n");
    for (int i = 0; i < 240; ++i) {
        const bool pull = i >= 40;
        file.write(QStringLiteral("%1,%2,%3,%4,%5,62\n")
                       .arg(i / 20.0)
                       .arg(pull ? 2500 + (i - 40) * 20 : 2500)
                       .arg(pull ? 100 : 10)
                       .arg(pull ? 180 : 40)
                       .arg(pull ? 220 : 20)
                       .toUtf8());
    }
    file.close();
    m_window->openWithLog(path);
    QVERIFY(wait([&] { return session().evidence().allRead(); }));
    view().takeFromLog();
    QCOMPARE(session().job().runs.size(), std::size_t(1));
    const Run &run = session().job().runs.values()[0];
    COMPARE_NEAR(run.content, 0.62, 1e-6);
    QCOMPARE(run.origin, RunOrigin::log);
    for (const double nm : curveOf(run).torqueNm)
        COMPARE_NEAR(nm, 220, 25); // the first sample of it may be from before
    session().closeJob();
    m_window->settings.sync();
    session().importJob(DEMO_JOB, m_window->path("c.wwjob").toStdString(),
                        {{SOURCE_DIR "/data/demo/logs/thistle-e62-pump.csv", {}, {}}});
    QVERIFY(wait([&] { return session().evidence().allRead(); }));
    QString said;
    connect(&session(), &Session::problem, this, [&said](const QString &words) { said = words; });
    view().takeFromLog();
    QVERIFY2(said.contains(QStringLiteral("torque or power")), qPrintable(said));
    QVERIFY(session().job().runs.empty());
}

void RunsViewTest::keysChooseTheSides() {
    open(withRuns(sixRuns()));
    RunsView &v = view();
    choose({}, {});
    selectRow(0);
    v.table().setFocus();
    QTest::keyClick(&v.table(), Qt::Key_B);
    selectRow(3);
    QTest::keyClick(&v.table(), Qt::Key_A);
    QCOMPARE(book().chosen(RunBook::Side::before), std::vector<std::string>{"1"});
    QCOMPARE(book().chosen(RunBook::Side::after), std::vector<std::string>{"4"});
    QCOMPARE(cell(0, RunTableModel::side), QStringLiteral("before"));
    QCOMPARE(cell(3, RunTableModel::side), QStringLiteral("after"));
    QTest::keyClick(&v.table(), Qt::Key_N);
    QVERIFY(book().chosen(RunBook::Side::after).empty());
    // A click on the side goes from none to before, to after, to none.
    const QPoint at = v.table().visualRect(v.model().index(1, RunTableModel::side)).center();
    for (const RunBook::Side side : {RunBook::Side::before, RunBook::Side::after, RunBook::Side::none}) {
        QTest::mouseClick(v.table().viewport(), Qt::LeftButton, {}, at);
        QCOMPARE(book().side("2"), side);
    }
}

void RunsViewTest::theAnswerIsTheComparisons() {
    const Job job = withRuns(sixRuns());
    open(job);
    QVERIFY(wait([&] { return view().compare().current(); })); // what was made twice is compared at once
    QCOMPARE(book().chosen(RunBook::Side::before), (std::vector<std::string>{"1", "2", "3"}));
    choose({"1", "2", "3"}, {"4", "5", "6"});
    const RunComparison c = compareRuns(session().job(), book().measured(RunBook::Side::before),
                                        book().measured(RunBook::Side::after), {}, book().runs());
    QCOMPARE(view().compare().answer(), text(c.answer()));
    QVERIFY(view().compare().answer().startsWith(QLatin1Char('+')));
    QVERIFY(view().compare().words().contains(QStringLiteral("E85")));
    const RunChart &chart = view().compare().chart();
    QCOMPARE(chart.picture().lines.size(), std::size_t(6));
    for (std::size_t k = 0; k < c.rpm.size(); ++k)
        QCOMPARE(chart.picture().gainKw[k].mean, c.gainKw[k].mean);
    QVERIFY(chart.picture().lines[5].after && !chart.picture().lines[0].after);
    choose({"1", "2", "3"}, {});
    QVERIFY(view().compare().answer().contains(QStringLiteral("One side alone")));
    choose({}, {});
    QVERIFY(view().compare().answer().contains(QStringLiteral("really better")));
    QVERIFY(chart.picture().rpm.empty());
    choose({"1"}, {"4"});
    QVERIFY(view().compare().words().contains(QStringLiteral("made twice"))); // others lend their scatter
    choose({"1", "2", "3"}, {"4", "5", "6"});
    view().compare().corner()->findChild<QPushButton *>(QStringLiteral("copySheet"))->click();
    QVERIFY(QApplication::clipboard()->text().startsWith(text(c.answer())));
}

void RunsViewTest::oneCursorReadsAllLanes() {
    open(withRuns(sixRuns()));
    choose({"1", "2", "3"}, {"4", "5", "6"});
    RunChart &chart = view().compare().chart();
    settle();
    QTest::mouseMove(&chart, QPoint(static_cast<int>(chart.pixelOf(5000)), chart.height() / 2));
    QVERIFY(book().cursorRpm());
    COMPARE_NEAR(*book().cursorRpm(), 5000, 50);
    book().setCursor(5000.0);
    // By hand: the means of 0.5, −0.3, −0.2 and of 20.1, 19.4, 20.5 over 150 kW.
    QVERIFY2(view().compare().reading().contains(QStringLiteral("power 150.0 kW → 170.0 kW")),
             qPrintable(view().compare().reading()));
    chart.setFocus();
    QTest::keyClick(&chart, Qt::Key_Right);
    QCOMPARE(*book().cursorRpm(), 5050.0);
    QTest::keyClick(&chart, Qt::Key_Left, Qt::ShiftModifier);
    QCOMPARE(*book().cursorRpm(), 4550.0);
    chart.copy();
    const QStringList lines = QApplication::clipboard()->text().split(QLatin1Char('\n'));
    QCOMPARE(lines.size(), 93); // names, 91 speeds, and the end
    QCOMPARE(lines[1].split(QLatin1Char('\t')).size(), 9);
    chart.copyPicture();
    QVERIFY(!QApplication::clipboard()->pixmap().isNull());
}

void RunsViewTest::smoothingAndCorrectionAreForAll() {
    open(withRuns(sixRuns()));
    choose({"1", "2", "3"}, {"4", "5", "6"});
    RunComparePage &page = view().compare();
    page.findChild<QSpinBox *>(QStringLiteral("smoothRpm"))->setValue(0);
    QVERIFY(wait([&] { return page.current(); }));
    QCOMPARE(book().viewing().smoothRpm, 0.0);
    auto *standard = page.findChild<QComboBox *>(QStringLiteral("standard"));
    standard->setCurrentIndex(standard->findData(static_cast<int>(CorrectionStandard::std)));
    emit standard->activated(standard->currentIndex());
    QVERIFY(wait([&] { return page.current(); }));
    const double factor = correctionFactor(CorrectionStandard::std, {99, 25, 0});
    COMPARE_NEAR(page.chart().picture().at(5000).afterKw.value(), (100 + 50 + 20.0) * factor, 1e-9);
    QVERIFY(page.words().contains(QStringLiteral("Boost that a controller holds")));
}

void RunsViewTest::theTableSaysWhatDiffers() {
    open(withRuns(sixRuns()));
    RunsView &v = view();
    selectRow(0);
    QVERIFY(wait([&] { return v.model().differencesKnown(); }));
    QCOMPARE(cell(0, RunTableModel::differs), QStringLiteral("this one"));
    QCOMPARE(cell(1, RunTableModel::differs), QStringLiteral("the same"));
    QCOMPARE(cell(3, RunTableModel::differs), QStringLiteral("the fuel"));
    QCOMPARE(cell(3, RunTableModel::content), QStringLiteral("E85"));
    QComboBox &filter = v.filter();
    const auto shown = [&] {
        std::vector<int> rows;
        for (int row = 0; row < v.model().rowCount(); ++row)
            if (!v.table().isRowHidden(row)) rows.push_back(row);
        return rows;
    };
    filter.setCurrentIndex(filter.findData(-1));
    emit filter.activated(filter.currentIndex());
    QCOMPARE(shown(), (std::vector<int>{0, 1, 2}));
    filter.setCurrentIndex(filter.findData(static_cast<int>(RunCause::fuel)));
    emit filter.activated(filter.currentIndex());
    QCOMPARE(shown(), (std::vector<int>{0, 3, 4, 5})); // the same but for the fuel, and the one itself
    filter.setCurrentIndex(filter.findData(-2));
    emit filter.activated(filter.currentIndex());
    QCOMPARE(shown().size(), std::size_t(6));
}

void RunsViewTest::notesAreEditedInPlace() {
    open(withRuns(sixRuns()));
    RunsView &v = view();
    const QModelIndex verdict = v.model().index(2, RunTableModel::verdict);
    QVERIFY(verdict.flags().testFlag(Qt::ItemIsEditable));
    QVERIFY(!v.model().index(2, RunTableModel::peak).flags().testFlag(Qt::ItemIsEditable));
    QVERIFY(v.model().setData(verdict, QStringLiteral(" keeps it "), Qt::EditRole));
    QCOMPARE(session().job().runs.values()[2].verdict, std::string("keeps it"));
    QVERIFY(v.model().setData(v.model().index(2, RunTableModel::hardware), QStringLiteral("cooler"),
                              Qt::EditRole));
    selectRow(0);
    QVERIFY(wait([&] {
        return v.model().differencesKnown() && cell(2, RunTableModel::differs) == QLatin1String("hardware");
    }));
    session().undo();
    session().undo();
    QVERIFY(session().job().runs.values()[2].verdict.empty());
}

void RunsViewTest::runsAreTakenOutAndComeBack() {
    open(withRuns(sixRuns()));
    choose({"1", "2", "3"}, {"4", "5", "6"});
    RunsView &v = view();
    selectRow(1);
    v.table().setFocus();
    QTest::keyClick(&v.table(), Qt::Key_Delete);
    QCOMPARE(session().job().runs.size(), std::size_t(5));
    QVERIFY(wait([&] { return v.compare().current(); }));
    QCOMPARE(book().chosen(RunBook::Side::before), (std::vector<std::string>{"1", "3"}));
    QVERIFY(v.compare().answer().contains(QStringLiteral("2 against 3")));
    session().undo();
    QVERIFY(wait([&] { return book().run("2") != nullptr; }));
}

void RunsViewTest::sheetsSayWhatCoreSays() {
    const Job job = withRuns(sixRuns());
    open(job);
    choose({"1", "2", "3"}, {"4", "5", "6"});
    RunsView &v = view();
    v.pages().showPage(&v.sheets());
    const auto words = [&](RunSheetsPage::Kind kind) {
        v.sheets().setKind(kind);
        return wait([&] { return v.sheets().current(); }) ? v.sheets().words() : QString();
    };
    const RunDifferenceFinder finder(session().job());
    const auto sets = finder.controlSets(book().runs());
    const RunScatterOverSpeed s = scatterOf(sets, {});
    QVERIFY(words(RunSheetsPage::scatter)
                .contains(shown(s.average.sigma, Dimension::power, session().units(), false).left(3)));
    QVERIFY(words(RunSheetsPage::scatter).contains(QStringLiteral("runs 4, 5, 6")));
    QVERIFY(v.sheets().findChild<ChartPlot *>()->isVisible());
    QVERIFY(words(RunSheetsPage::contents).contains(QStringLiteral("E85")));
    QVERIFY(words(RunSheetsPage::cams).contains(QStringLiteral("do not cross")));
    QVERIFY(words(RunSheetsPage::boost).contains(QStringLiteral("no manifold pressure")));
    QVERIFY(words(RunSheetsPage::dynos).contains(QStringLiteral("No two dynos")));
    QVERIFY(!v.sheets().findChild<ChartPlot *>()->isVisible());
    choose({}, {});
    QVERIFY(words(RunSheetsPage::cams).contains(QStringLiteral("Two cams")));
}

void RunsViewTest::theRunSheetIsATable() {
    Job job = withRuns(sixRuns());
    job.runs[0].verdict = "sound";
    job.runs[0].next = "more content";
    open(job);
    RunsView &v = view();
    v.pages().showPage(&v.sheets());
    QVERIFY(wait([&] { return v.sheets().current(); }));
    v.sheets().corner()->findChild<QPushButton *>(QStringLiteral("copySheet"))->click();
    const QStringList lines = QApplication::clipboard()->text().trimmed().split(QLatin1Char('\n'));
    QCOMPARE(lines.size(), 7);
    QCOMPARE(lines[1], QStringLiteral("1\t–\tE10\t170.5 kW at 7000 rpm\t40 °C\tsound\tmore content"));
}

// As PDF, with its title and every run of the day.
void RunsViewTest::sheetsArePrinted() {
    std::vector<Session::RunsOfFile> files;
    for (const char *name :
         {"thistle-01-e10-baseline.csv", "thistle-03-e10-hot.csv", "thistle-10-e78-pulls.csv"}) {
        Session::RunsOfFile file;
        file.path = demoRun(name).toStdString();
        file.statement.change = "one thing";
        file.verdict = "sound";
        files.push_back(file);
    }
    m_window->openWithLog(QStringLiteral(SOURCE_DIR "/data/demo/logs/thistle-e62-pump.csv"), files);
    QVERIFY(wait([&] { return book().runs().size() == 3 && !book().reading(); }));
    RunsView &v = view();
    v.pages().showPage(&v.sheets());
    QVERIFY(wait([&] { return v.sheets().current(); }));
    for (const char *name : {"sheet.pdf", "sheet.html", "sheet.txt"})
        saveReport(m_window->path(name), v.sheets().report(), session().units());
    QFile pdf(m_window->path("sheet.pdf")), html(m_window->path("sheet.html")),
        plain(m_window->path("sheet.txt"));
    QVERIFY(pdf.open(QIODevice::ReadOnly) && html.open(QIODevice::ReadOnly) &&
            plain.open(QIODevice::ReadOnly));
    QVERIFY(pdf.readAll().startsWith("%PDF"));
    // Large enough to be read: words of the sheet are ten points high or so, by poppler.
    QProcess poppler;
    poppler.start(QStringLiteral("pdftotext"),
                  {QStringLiteral("-bbox"), pdf.fileName(), QStringLiteral("-")});
    QVERIFY(poppler.waitForFinished());
    const QString boxes = QString::fromUtf8(poppler.readAllStandardOutput());
    const QRegularExpression word(
        QStringLiteral("yMin=\"([0-9.]+)\" xMax=\"[0-9.]+\" yMax=\"([0-9.]+)\">thing<"));
    const auto found = word.match(boxes);
    QVERIFY2(found.hasMatch(), qPrintable(boxes.left(400)));
    const double height = found.captured(2).toDouble() - found.captured(1).toDouble();
    QVERIFY2(height > 7 && height < 20, qPrintable(QString::number(height)));
    const QString page = QString::fromUtf8(html.readAll()), words = QString::fromUtf8(plain.readAll());
    for (const QString &text : {page, words}) {
        QVERIFY(text.contains(QStringLiteral("Run sheet")) &&
                text.contains(QStringLiteral("153.6 kW at 5611 rpm")));
        QCOMPARE(text.count(QStringLiteral("one thing")), 3);
    }
}

void RunsViewTest::manyRunsStayFluid() {
    std::vector<std::array<double, 3>> many;
    for (int i = 0; i < 300; ++i)
        many.push_back({i % 7 * 0.1, i % 3 * 0.3, i + 1.0});
    open(withRuns(many));
    QCOMPARE(view().model().rowCount(), 300);
    selectRow(299);
    QVERIFY(wait([&] { return view().model().differencesKnown(); }));
    QCOMPARE(cell(296, RunTableModel::differs), QStringLiteral("the same"));
    QCOMPARE(cell(298, RunTableModel::differs), QStringLiteral("the fuel"));
}

int main(int argc, char **argv) {
    QApplication app(argc, argv);
    return run<RunsViewTest>(argc, argv);
}
#include "runs_view_test.moc"
