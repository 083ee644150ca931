// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/report/run_reports.h"
#include "session/run_book.h"
#include "support/phrases.h"
#include "support/test_window.h"
#include "ui/text.h"
#include "ui/views/runs/run_chart.h"
#include "ui/views/runs/run_compare_page.h"
#include "ui/views/runs/run_details_page.h"
#include "ui/views/runs/run_road_page.h"
#include "ui/views/runs/run_sheets_page.h"
#include "ui/views/runs/run_table_model.h"
#include "ui/views/runs/runs_view.h"
#include "ui/widgets/chart_plot.h"
#include "ui/widgets/copy_table.h"
#include "ui/widgets/field_form.h"
#include "ui/widgets/page_switch.h"
#include "ui/widgets/photo_strip.h"
#include "ui/widgets/report_view.h"

#include <QComboBox>
#include <QFile>
#include <QLineEdit>
#include <QPlainTextEdit>
#include <QSpinBox>
#include <QStandardPaths>

#include <array>
#include <memory>

using namespace wheelwright;
using namespace wheelwright::testing;

void wheelwrightResources() {
    Q_INIT_RESOURCE(resources);
}

/// What stands under the table of runs beside the comparison itself: its range, the details of a run, sweeps
/// and cams, the road.
class RunPagesTest : public QObject {
    Q_OBJECT
  private slots:
    void initTestCase() {
        QStandardPaths::setTestModeEnabled(true);
        dressApplication();
    }
    void init() { m_window = std::make_unique<TestWindow>(); }
    void cleanup() { m_window.reset(); }
    void cleanupTestCase() { QVERIFY2(QApplication::topLevelWidgets().isEmpty(), "a window was leaked"); }

    void averageGoesOverTheSpeedsThatAreAsked();
    void correctionsHaveTheirWorking();
    void detailsArePutRight();
    void severalRunsArePutRightAtOnce();
    void notesAreKeptWhenAnotherRunIsSelected();
    void photosAreShownWhereTheyAre();
    void sweepsAreDrawn();
    void sweepsThatDifferInMoreAreNotJudged();
    void camsSayWhatLambdaDoes();
    void theRoadGivesARun();
    void rollingOutTellsTheLosses();
    void theRoadIsReachedWithoutRuns();

  private:
    Session &session() { return m_window->session; }
    RunBook &book() { return session().runBook(); }
    RunsView &view() { return *m_window->view<RunsView>("runs"); }
    /// Runs of a straight line of power with what each adds, its order and its spark.
    static Job withRuns(const std::vector<std::array<double, 3>> &runs) {
        Job job = demoJob();
        for (const auto &[gain, order, spark] : runs) {
            RunStatement s;
            s.name = "made";
            s.content = 0.1;
            s.order = order;
            s.mode = RunMode::inertia;
            s.standard = CorrectionStandard::none;
            s.air = Weather{97, 31, 0.5};
            s.startIntakeC = 40;
            FoundPull pull;
            pull.samples.columns = {{ChannelRole::rpm, "rpm", "rpm", 1, 0, {}},
                                    {ChannelRole::power, "power", "kW", 1, 0, {}},
                                    {ChannelRole::spark, "spark", "deg", 1, 0, {}}};
            for (double rpm = 2500; rpm <= 7000; rpm += 25) {
                pull.samples.columns[0].numbers.push_back(rpm);
                pull.samples.columns[1].numbers.push_back(100 + 0.01 * rpm + gain * (rpm < 5000 ? 1 : 3));
                pull.samples.columns[2].numbers.push_back(spark);
            }
            addRuns(job, {pull}, s);
        }
        return job;
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
    void select(const std::vector<int> &rows) {
        QItemSelectionModel &selection = *view().table().selectionModel();
        selection.clearSelection();
        for (const int row : rows)
            selection.select(view().model().index(row, 0),
                             QItemSelectionModel::Select | QItemSelectionModel::Rows);
        settle();
    }
    RunDetailsPage &details() {
        view().pages().showPage(&view().details());
        return view().details();
    }
    void type(const char *key, const char *words) {
        auto *edit = qobject_cast<QLineEdit *>(details().editor(key));
        QVERIFY(edit);
        edit->setFocus();
        edit->selectAll();
        QTest::keyClicks(edit, QString::fromUtf8(words));
        QTest::keyClick(edit, Qt::Key_Return);
        settle();
    }
    const Run &runAt(std::size_t place) { return session().job().runs.values()[place]; }
    /// A log by columns and rows in a file of the test's own.
    QString logFile(const char *name, const QString &columns, const std::function<QString(int)> &row,
                    int rows) {
        QFile file(m_window->path(name));
        if (!file.open(QIODevice::WriteOnly)) return {};
        file.write((columns + QLatin1Char('\n')).toUtf8());
        for (int i = 0; i < rows; ++i)
            file.write((row(i) + QLatin1Char('\n')).toUtf8());
        return file.fileName();
    }

    std::unique_ptr<TestWindow> m_window;
};

void RunPagesTest::averageGoesOverTheSpeedsThatAreAsked() {
    open(withRuns({{0.1, 1, 14}, {-0.1, 2, 14}, {10.1, 3, 14}, {9.9, 4, 14}}));
    book().setSides({"1", "2"}, {"3", "4"});
    RunComparePage &page = view().compare();
    QVERIFY(wait([&] { return page.current(); }));
    const RunPicture &all = page.chart().picture();
    QCOMPARE(all.rpm.front(), 2500.0);
    // The wash lies between the means of both sides: by hand 100 + rpm/100, and ten or thirty more.
    QCOMPARE(all.meanKw(false).size(), all.rpm.size());
    COMPARE_NEAR(all.meanKw(false).front(), 125, 0.2);
    COMPARE_NEAR(all.meanKw(true).front(), 135, 0.2);
    COMPARE_NEAR(all.meanKw(true).back(), 200, 0.2);
    page.findChild<QSpinBox *>(QStringLiteral("fromRpm"))->setValue(5200);
    page.findChild<QSpinBox *>(QStringLiteral("toRpm"))->setValue(6500);
    QVERIFY(wait([&] { return page.current(); }));
    QCOMPARE(page.chart().picture().rpm.front(), 5200.0);
    QCOMPARE(page.chart().picture().rpm.back(), 6500.0);
    // With the drift of the order taken out the gain differs from thirty by what the runs drift.
    RunViewing how = book().viewing();
    const RunComparison c = compareRuns(session().job(), book().measured(RunBook::Side::before),
                                        book().measured(RunBook::Side::after), how, book().runs());
    COMPARE_NEAR(c.averageKw.mean, 30, 2);
    QCOMPARE(page.answer(), text(c.answer(), session().units()));
    QVERIFY(page.words().contains(QStringLiteral("5200 rpm to 6500 rpm")));
    QVERIFY(page.words().contains(QStringLiteral("kW·rpm")));
}

void RunPagesTest::correctionsHaveTheirWorking() {
    open(withRuns({{0.1, 1, 14}, {-0.1, 2, 14}, {10.1, 3, 14}, {9.9, 4, 14}}));
    book().setSides({"1", "2"}, {"3", "4"});
    RunViewing how = book().viewing();
    how.standard = CorrectionStandard::din;
    book().setViewing(how);
    RunComparePage &page = view().compare();
    QVERIFY(wait([&] { return page.current(); }));
    const double factor = correctionFactor(CorrectionStandard::din, {97, 31, 0.5});
    const QString shownFactor = QString::number(factor, 'f', 4);
    QCOMPARE(page.words().count(shownFactor), 4);
    // The same in the details of the run, for every standard; a click shows the sum.
    select({0});
    const QString words = details().words();
    for (const CorrectionDefinition &d : allCorrections())
        QVERIFY2(words.contains(QString::number(correctionFactor(d.standard, {97, 31, 0.5}), 'f', 4)),
                 qPrintable(words));
    QVERIFY(words.contains(QStringLiteral("standards do not allow it"))); // STD is 1.09 here
    auto *report = details().findChild<ReportView *>();
    emit report->explained(correctionsReport(*book().runs()[0]).workings[4]());
    QCOMPARE(session().explanation()->result.value,
             correctionFactor(allCorrections()[4].standard, {97, 31, 0.5}));
}

void RunPagesTest::detailsArePutRight() {
    open(withRuns({{0, 1, 14}, {1, 2, 14}}));
    select({1});
    QVERIFY(details().heading().contains(QStringLiteral("Run 2")));
    type("plugs", "light tan, no speckles");
    QCOMPARE(runAt(1).plugs, std::string("light tan, no speckles"));
    QVERIFY(runAt(0).plugs.empty());
    type("start_oil_c", "96");
    QCOMPARE(runAt(1).startOilC, 96.0);
    type("content", "62");
    COMPARE_NEAR(runAt(1).content, 0.62, 1e-9);
    QCOMPARE(runAt(1).contentBasis, RunContentBasis::stated);
    type("ambient_kpa", "98.4");
    COMPARE_NEAR(runAt(1).ambientKpa, 98.4, 1e-9);
    // Letters that somebody is typing stay while runs are read again.
    auto *oil = qobject_cast<QLineEdit *>(details().editor("oil"));
    oil->setFocus();
    QTest::keyClicks(oil, QStringLiteral("dark"));
    emit book().runsChanged();
    settle();
    QCOMPARE(oil->text(), QStringLiteral("dark"));
    QTest::keyClick(oil, Qt::Key_Return);
    QCOMPARE(runAt(1).oil, std::string("dark"));
    // What cannot be is said, and what stood there stands there again.
    QString said;
    connect(&session(), &Session::problem, this, [&said](const QString &words) { said = words; });
    type("humidity", "140");
    QVERIFY2(said.contains(QStringLiteral("0 to 1 (a fraction)")) && said.contains(QStringLiteral("1.4")),
             qPrintable(said));
    QCOMPARE(runAt(1).humidity, 0.5);
    QCOMPARE(qobject_cast<QLineEdit *>(details().editor("humidity"))->text(), QStringLiteral("50 %"));
    auto *mode = qobject_cast<QComboBox *>(details().editor("mode"));
    mode->setCurrentIndex(mode->findData(QStringLiteral("loaded")));
    emit mode->activated(mode->currentIndex());
    QCOMPARE(runAt(1).mode, RunMode::loaded);
    session().undo();
    QCOMPARE(runAt(1).mode, RunMode::inertia);
}

void RunPagesTest::severalRunsArePutRightAtOnce() {
    open(withRuns({{0, 1, 14}, {1, 2, 14}, {2, 3, 14}}));
    select({0, 2});
    type("hardware", "long intake");
    QCOMPARE(runAt(0).hardware, std::string("long intake"));
    QVERIFY(runAt(1).hardware.empty());
    QCOMPARE(runAt(2).hardware, std::string("long intake"));
    session().undo(); // one change
    QVERIFY(runAt(0).hardware.empty() && runAt(2).hardware.empty());
    auto *order = qobject_cast<QLineEdit *>(details().editor("order"));
    QCOMPARE(order->text(), QString());
    QCOMPARE(order->placeholderText(), QStringLiteral("they differ"));
    select({});
    QVERIFY(!order->isEnabled());
}

// What is half typed belongs to the run that it was typed for.
void RunPagesTest::notesAreKeptWhenAnotherRunIsSelected() {
    open(withRuns({{0, 1, 14}, {1, 2, 14}}));
    select({0});
    auto *note = qobject_cast<QPlainTextEdit *>(details().editor("note"));
    QVERIFY(note);
    note->setFocus();
    QTest::keyClicks(note, QStringLiteral("smells rich"));
    QVERIFY(runAt(0).note.empty()); // a letter is no change of its own
    select({1});
    QCOMPARE(runAt(0).note, std::string("smells rich"));
    QVERIFY(runAt(1).note.empty());
    QCOMPARE(note->toPlainText(), QString());
}

void RunPagesTest::photosAreShownWhereTheyAre() {
    open(withRuns({{0, 1, 14}}));
    select({0});
    QImage picture(400, 300, QImage::Format_RGB32);
    picture.fill(Qt::darkGreen);
    const QString there = m_window->path("plugs.png"), gone = m_window->path("gone.png");
    QVERIFY(picture.save(there));
    details().addPhotos({there, gone});
    QCOMPARE(runAt(0).photos, (there + QLatin1Char('\n') + gone).toStdString());
    PhotoStrip &strip = details().photos();
    QVERIFY(wait(
        [&] { return strip.count() == 2 && !strip.work().running() && !strip.item(0)->icon().isNull(); }));
    QVERIFY(strip.item(1)->icon().isNull());
    QVERIFY(strip.item(1)->text().contains(QStringLiteral("not there")));
    details().addPhotos({there}); // once is enough
    QCOMPARE(strip.count(), 2);
}

// Power is a parabola of spark here: 200 − 0.15 (θ − 17)², the same over all speeds.
void RunPagesTest::sweepsAreDrawn() {
    std::vector<std::array<double, 3>> runs;
    for (int i = 0; i < 6; ++i) {
        const double spark = 11 + 2 * i;
        runs.push_back({-0.15 * (spark - 17) * (spark - 17) + (i % 2 == 0 ? 0.05 : -0.05), i + 1.0, spark});
    }
    open(withRuns(runs));
    book().setSides({}, {});
    RunSheetsPage &sheets = view().sheets();
    view().pages().showPage(&sheets);
    QVERIFY(!sheets.sweepOver().isEnabled());
    sheets.setKind(RunSheetsPage::sweep);
    sheets.sweepRpm().setValue(4000);
    QVERIFY(wait([&] { return sheets.current(); }));
    const SparkSweep s = sweepOf(ofOneKind(book().runs()), SweepOver::spark, 4000, book().viewing());
    COMPARE_NEAR(*s.bestDeg, 17, 0.5);
    QVERIFY2(sheets.words().startsWith(QStringLiteral("Most power at 17.")) ||
                 sheets.words().startsWith(QStringLiteral("Most power at 16.")),
             qPrintable(sheets.words()));
    const Explanation how = sheets.worked().workings[0]();
    QCOMPARE(how.result.value, *s.bestDeg);
    COMPARE_NEAR(how.substituted.values[0].value -
                     how.substituted.values[1].value / (2 * how.substituted.values[2].value),
                 *s.bestDeg, 1e-9);
    const Chart &chart = sheets.findChild<ChartPlot *>()->chart();
    QCOMPARE(chart.series.size(), std::size_t(2));
    QCOMPARE(chart.series[0].x.size(), std::size_t(6));
    QCOMPARE(chart.series[0].line, Qt::NoPen); // points, and a curve through them
    QVERIFY(!sheets.words().contains(QStringLiteral("differ in")));
}

void RunPagesTest::sweepsThatDifferInMoreAreNotJudged() {
    Job job = withRuns({{-5, 1, 11}, {-1, 2, 14}, {0, 3, 17}, {-1, 4, 20}, {-5, 5, 23}});
    job.runs[2].hardware = "another exhaust";
    open(job);
    RunSheetsPage &sheets = view().sheets();
    view().pages().showPage(&sheets);
    book().setSides({}, {});
    sheets.setKind(RunSheetsPage::sweep);
    QVERIFY(wait([&] { return sheets.current(); }));
    QVERIFY2(sheets.words().startsWith(QStringLiteral("Not judged: these runs differ in more than Spark")),
             qPrintable(sheets.words()));
    QVERIFY(sheets.words().contains(QStringLiteral("hardware")));
    sheets.sweepOver().setCurrentIndex(static_cast<int>(SweepOver::lambda));
    emit sheets.sweepOver().activated(sheets.sweepOver().currentIndex());
    QVERIFY(
        wait([&] { return sheets.current() && sheets.words().contains(QStringLiteral("none")); })); // no λ
}

void RunPagesTest::camsSayWhatLambdaDoes() {
    const QString log = logFile(
        "cam.csv", QStringLiteral("time_s,rpm,throttle_percent,map_kpa,cam_deg,lambda,ethanol_percent"),
        [](int i) {
            const double t = i * 0.02;
            const bool high = t >= 4;
            return QStringLiteral("%1,%2,100,180,%3,%4,10")
                .arg(t)
                .arg(3000 + 500 * t)
                .arg(high ? 30 : 5)
                .arg(high ? 0.86 : 0.80);
        },
        400);
    session().importJob(DEMO_JOB, m_window->path("a.wwjob").toStdString(), {{log.toStdString(), {}, {}}});
    QVERIFY(wait([&] { return session().evidence().allRead(); }));
    const Job made = withRuns({{-1, 1, 14}, {1, 2, 14}});
    session().perform(QStringLiteral("runs"), [&](Job &job) { job.runs = made.runs; });
    QVERIFY(wait([&] { return book().runs().size() == 2 && !book().reading(); }));
    book().setSides({"1"}, {"2"});
    RunSheetsPage &sheets = view().sheets();
    view().pages().showPage(&sheets);
    sheets.setKind(RunSheetsPage::cams);
    QVERIFY(wait([&] { return sheets.current(); }));
    const QString words = sheets.words();
    QVERIFY2(words.contains(QStringLiteral("λ where the cam switches")), qPrintable(words));
    QVERIFY(words.contains(QStringLiteral("0.860")) && words.contains(QStringLiteral("5000 rpm")));
    QVERIFY(words.contains(QStringLiteral("Nobody says of all these runs which cam"))); // and so it is said
    QVERIFY(words.contains(QStringLiteral("Not judged")));                              // one against one
}

// A demo log of a pull on the road: the practice engine's own power at the wheels lies in the band.
void RunPagesTest::theRoadGivesARun() {
    m_window->openWithLog(QStringLiteral(SOURCE_DIR "/data/demo/logs/thistle-e62-road.csv"));
    QVERIFY(wait([&] { return session().evidence().allRead(); }));
    QVERIFY(view().findChild<QPushButton *>(QStringLiteral("fromTheRoad"))->isVisible());
    clickButton(view(), QStringLiteral("Estimate it from the road"));
    RunRoadPage &road = view().road();
    QVERIFY(wait([&] { return road.current(); }));
    QVERIFY(road.words().contains(QStringLiteral("Choose a pull"))); // nothing is judged unasked
    QVERIFY(!road.takeButton().isEnabled());
    QCOMPARE(road.there().count(), 2);
    road.there().setCurrentIndex(1);
    emit road.there().activated(1);
    QVERIFY(wait([&] { return road.current() && road.takeButton().isEnabled(); }));
    QVERIFY(road.words().contains(QStringLiteral("at the wheels")));
    QVERIFY(road.words().contains(QStringLiteral("One direction alone")));
    QCOMPARE(road.plot().chart().series.size(), std::size_t(1));
    QVERIFY(!road.plot().chart().series[0].band.empty());
    QTest::mouseClick(&road.takeButton(), Qt::LeftButton);
    QVERIFY(wait([&] { return book().runs().size() == 1; }));
    QCOMPARE(runAt(0).mode, RunMode::road);
    QVERIFY(runAt(0).knownWithin > 0.02 && runAt(0).knownWithin < 0.2);
    const RunCurve taken = curveOf(runAt(0));
    QCOMPARE(taken.powerKw.size(), road.plot().chart().series[0].y.size());
    // Once more: what has changed meanwhile is no reason to do nothing.
    QVERIFY(wait([&] { return road.current(); }));
    QTest::mouseClick(&road.takeButton(), Qt::LeftButton);
    QVERIFY(wait([&] { return book().runs().size() == 2; }));
    // The sheet says it with its ±.
    RunSheetsPage &sheets = view().sheets();
    view().pages().showPage(&sheets);
    sheets.setKind(RunSheetsPage::record);
    QVERIFY(wait([&] { return sheets.current(); }));
    QVERIFY2(sheets.words().contains(QStringLiteral("±")), qPrintable(sheets.words()));
    // A heavier car that gains speed as fast has more power.
    view().pages().showPage(&road);
    QVERIFY(wait([&] { return road.current(); }));
    const double before = road.plot().chart().series[0].y[10];
    auto *mass = qobject_cast<QLineEdit *>(road.car().editor(QStringLiteral("vehicle.mass_kg")));
    mass->setFocus();
    mass->selectAll();
    QTest::keyClicks(mass, QStringLiteral("1500"));
    QTest::keyClick(mass, Qt::Key_Return);
    QVERIFY(wait([&] { return road.current() && road.plot().chart().series[0].y[10] > before * 1.05; }));
}

void RunPagesTest::rollingOutTellsTheLosses() {
    double v = 40;
    std::vector<double> speeds;
    constexpr double dt = 0.001;
    for (int i = 0; i < 60'000; ++i) {
        if (i % 50 == 0) speeds.push_back(v);
        v -= (0.5 * 1.2 * 0.7 * v * v + 0.013 * 1300 * 9.80665) / 1340 * dt;
    }
    const QString log = logFile(
        "coast.csv", QStringLiteral("time_s,rpm,speed_km_h,map_kpa,throttle_percent"),
        [&](int i) {
            return QStringLiteral("%1,900,%2,35,%3")
                .arg(i * 0.05)
                .arg(speeds[static_cast<std::size_t>(i)] * 3.6, 0, 'f', 4)
                .arg(i < 40 ? 60 : 0); // the first two seconds under power
        },
        static_cast<int>(speeds.size()));
    m_window->openWithLog(log);
    QVERIFY(wait([&] { return session().evidence().allRead(); }));
    clickButton(view(), QStringLiteral("Estimate it from the road"));
    RunRoadPage &road = view().road();
    auto *pick = road.findChild<QComboBox *>(QStringLiteral("coastLog"));
    pick->setCurrentIndex(1);
    emit pick->activated(1);
    QVERIFY(wait([&] { return road.current() && road.takeLossesButton().isEnabled(); }));
    COMPARE_NEAR(road.findChild<QDoubleSpinBox *>(QStringLiteral("coastFrom"))->value(), 2, 0.11);
    COMPARE_NEAR(road.findChild<QDoubleSpinBox *>(QStringLiteral("coastTo"))->value(), 60, 0.11);
    QVERIFY2(road.coastWords().contains(QStringLiteral("Rolling resistance 0.0130")),
             qPrintable(road.coastWords()));
    QTest::mouseClick(&road.takeLossesButton(), Qt::LeftButton);
    COMPARE_NEAR(session().job().vehicle.rolling, 0.013, 1e-4);
    COMPARE_NEAR(session().job().vehicle.dragAreaM2, 0.7, 5e-3);
    // Ends that somebody types hold.
    auto *from = road.findChild<QDoubleSpinBox *>(QStringLiteral("coastFrom"));
    from->setValue(20);
    QVERIFY(wait([&] { return road.current() && road.takeLossesButton().isEnabled(); }));
    QVERIFY2(road.coastWords().contains(QStringLiteral("from %1 to").arg(speeds[400] * 3.6, 0, 'f', 0)),
             qPrintable(road.coastWords()));
    from->setValue(2);
    auto *to = road.findChild<QDoubleSpinBox *>(QStringLiteral("coastTo"));
    to->setValue(3);
    QVERIFY(wait([&] { return road.current() && !road.takeLossesButton().isEnabled(); }));
    QVERIFY(road.coastWords().contains(QStringLiteral("slows down")));
}

// Also by its fields: what shows an input of the car opens the station that is empty.
void RunPagesTest::theRoadIsReachedWithoutRuns() {
    open(demoJob());
    QVERIFY(!view().road().isVisible());
    QVERIFY(view().showInput(QStringLiteral("vehicle.drag_area_m2")));
    QVERIFY(view().road().isVisible());
    QVERIFY(!view().showInput(QStringLiteral("engine.bore_mm")));
    session().createJob(m_window->path("b.wwjob").toStdString(), demoJob()); // another job begins anew
    settle();
    QVERIFY(!view().road().isVisible());
}

int main(int argc, char **argv) {
    QApplication app(argc, argv);
    return run<RunPagesTest>(argc, argv);
}
#include "run_pages_test.moc"
