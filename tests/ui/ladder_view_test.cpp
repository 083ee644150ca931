// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/ladder/preflight.h"
#include "core/study/headroom.h"
#include "formats/job_json.h"
#include "support/test_window.h"
#include "ui/views/ladder/gate_list.h"
#include "ui/views/ladder/ladder_drawing.h"
#include "ui/views/ladder/ladder_forecast_page.h"
#include "ui/views/ladder/ladder_page.h"
#include "ui/views/ladder/ladder_remote_page.h"
#include "ui/views/ladder/ladder_view.h"
#include "ui/views/ladder/preflight_list.h"
#include "ui/widgets/chart_plot.h"
#include "ui/widgets/field_form.h"
#include "ui/widgets/page_switch.h"

#include <QInputDialog>
#include <QLineEdit>
#include <QPlainTextEdit>
#include <QSignalSpy>
#include <QStandardPaths>
#include <QTimer>

#include <functional>
#include <memory>

using namespace wheelwright;
using namespace wheelwright::testing;

void wheelwrightResources() {
    Q_INIT_RESOURCE(resources);
}

class LadderViewTest : public QObject {
    Q_OBJECT
  private slots:
    void initTestCase() {
        QStandardPaths::setTestModeEnabled(true);
        dressApplication();
    }
    void init() { m_window = std::make_unique<TestWindow>(); }
    void cleanup() { m_window.reset(); }
    void cleanupTestCase() { QVERIFY2(QApplication::topLevelWidgets().isEmpty(), "a window was leaked"); }

    void saysSoWithoutAJob();
    void opensOnWhatIsNext();
    void ticksLetTheFirstRungPass();
    void aReasonLetsItPassByHand();
    void withoutAReasonNothingPasses();
    void boostAndCutAreSetAsOneStep();
    void gatesDoWhatTheyAskFor();
    void logsAreWhatGatesGoBy();
    void pullsOfAnotherCalibrationDoNotCount();
    void forecastIsShown();
    void bundleGoesOutAsOneStep();
    void bundleComesBack();
    void whatNobodyNamesIsAsked();
    void passesGoByPills();
    void goalChangesTheRungs();
    void nothingMovesUnderTheMouse();
    void rungsAreChosenByKeys();

  private:
    Session &session() { return m_window->session; }
    LadderView &view() { return *m_window->view<LadderView>("ladder"); }
    LadderPage &page() { return view().page(); }
    LadderBook &book() { return page().book(); }
    const Job &job() { return session().job(); }

    bool wait(const std::function<bool()> &what) {
        for (int i = 0; i < 6000; ++i) {
            if (what()) {
                settle();
                return true;
            }
            QTest::qWait(5);
        }
        return false;
    }
    bool current() {
        return wait([&] { return book().current(); });
    }
    void open(Job job = demoJob()) {
        m_window->open(job);
        view();
        QVERIFY(current());
    }
    static Job demoWith(const std::vector<std::string> &passed) {
        Job job = demoJob();
        for (const std::string &id : passed) {
            RungPass p;
            p.rung = id;
            p.at = "2001-02-03T04:05:06Z";
            p.content = 0.1;
            job.ladderPassed.push_back(p);
        }
        return job;
    }
    /// Answers the next dialog: types into it and accepts it, or not.
    static void answer(const QString &words, bool accept) {
        QTimer::singleShot(0, [words, accept] {
            auto *dialog = qobject_cast<QInputDialog *>(QApplication::activeModalWidget());
            if (!dialog) return answer(words, accept);
            if (auto *plain = dialog->findChild<QPlainTextEdit *>())
                plain->setPlainText(words);
            else
                dialog->setTextValue(words);
            accept ? dialog->accept() : dialog->reject();
        });
    }
    void chooseGate(std::string_view id) {
        const auto &gates = book().shown()->status.at(page().drawing().chosen()).gates;
        for (std::size_t i = 0; i < gates.size(); ++i)
            if (gates[i].gate->id == id) page().gates().choose(i);
        QVERIFY(page().gates().chosen() && page().gates().chosen()->gate->id == id);
    }

    std::unique_ptr<TestWindow> m_window;
};

void LadderViewTest::saysSoWithoutAJob() {
    view();
    settle();
    QVERIFY(page().words().contains(QStringLiteral("Open a job")));
    QVERIFY(!page().passButton().isEnabled() && !page().handButton().isEnabled());
}

void LadderViewTest::opensOnWhatIsNext() {
    open(demoWith({"preflight", "base_boost.176", "content.25"}));
    QCOMPARE(page().drawing().chosen(), std::string("content.40"));
    const Rung &r = *book().shown()->ladder.next();
    QVERIFY(page().words().contains(QStringLiteral("Pour")));
    QVERIFY(page().words().contains(QStringLiteral("a gate has failed"))); // the cut stands high
    QCOMPARE(page().gates().chosen()->gate->id, std::string_view("cut"));
    QVERIFY(page().words().contains(QStringLiteral("%1 kPa").arg(qRound(r.cutKpa))));
    QVERIFY(!page().passButton().isEnabled() && page().handButton().isEnabled());
    // Another unit: the same, in it.
    UnitChoice units = session().units();
    units.pressureUnit = "psi";
    session().setUnits(units);
    settle();
    QVERIFY(page().words().contains(QStringLiteral("psi")));
}

void LadderViewTest::ticksLetTheFirstRungPass() {
    open();
    QCOMPARE(page().drawing().chosen(), std::string("preflight"));
    QVERIFY(page().preflight().isVisible());
    for (int i = 0; i < page().preflight().count(); ++i) {
        page().preflight().setCurrentRow(i);
        QTest::keyClick(&page().preflight(), Qt::Key_Space);
        QVERIFY(current());
        QCOMPARE(page().passButton().isEnabled(), i + 1 == page().preflight().count());
    }
    QCOMPARE(job().ladderLooks.size(), allPreflightItems().size());
    QCOMPARE(job().ladderLooks[0].at, std::string("2001-02-03T04:05:06Z"));
    QTest::mouseClick(&page().passButton(), Qt::LeftButton);
    QVERIFY(current());
    QCOMPARE(job().ladderPassed.size(), std::size_t(1));
    QVERIFY(job().ladderPassed[0].by == PassedBy::evidence);
    QVERIFY(book().shown()->ladder.next()->id.starts_with("base_boost."));
    // What was passed says by what.
    QTest::keyClick(&page().drawing(), Qt::Key_Down);
    page().drawing().choose("preflight");
    settle();
    QVERIFY(page().words().contains(QStringLiteral("Passed by evidence, 2001-02-03T04:05:06Z")));
    session().undo();
    QVERIFY(job().ladderPassed.empty());
    session().undo();
    QVERIFY(current());
    QCOMPARE(job().ladderLooks.size(), allPreflightItems().size() - 1);
    QCOMPARE(page().preflight().item(page().preflight().count() - 1)->checkState(), Qt::Unchecked);
}

void LadderViewTest::aReasonLetsItPassByHand() {
    open();
    answer(QStringLiteral("  seen last week, on the lift "), true);
    QTest::mouseClick(&page().handButton(), Qt::LeftButton);
    QCOMPARE(job().ladderPassed.size(), std::size_t(1));
    const RungPass &p = job().ladderPassed[0];
    QVERIFY(p.by == PassedBy::hand);
    QCOMPARE(p.reason, std::string("seen last week, on the lift"));
    QVERIFY(p.gates.find("looked_over: not_judged") != std::string::npos);
    view().pages().showPage(view().pages().pages().at(1));
    settle();
    view().pages().showPage(&page());
    QVERIFY(current());
    page().takeBack();
    QVERIFY(job().ladderPassed.empty());
}

void LadderViewTest::withoutAReasonNothingPasses() {
    open();
    QString problem;
    connect(&session(), &Session::problem, this, [&](const QString &p) { problem = p; });
    answer(QStringLiteral("  "), true);
    QTest::mouseClick(&page().handButton(), Qt::LeftButton);
    QVERIFY(job().ladderPassed.empty());
    QVERIFY(problem.contains(QStringLiteral("reason")));
    problem.clear();
    answer(QStringLiteral("a reason"), false);
    QTest::mouseClick(&page().handButton(), Qt::LeftButton);
    QVERIFY(job().ladderPassed.empty() && problem.isEmpty());
}

void LadderViewTest::boostAndCutAreSetAsOneStep() {
    open(demoWith({"preflight"}));
    const Rung r = *book().shown()->ladder.next();
    const int before = session().undoStack().count();
    QTest::mouseClick(&page().boostButton(), Qt::LeftButton);
    QVERIFY(current());
    QCOMPARE(session().undoStack().count(), before + 1);
    QVERIFY(std::abs(boostTargets(session().study(), {0.1}).front() - *r.boostKpa) < 0.5);
    QCOMPARE(job().boost.cutKpa, r.cutKpa);
    QVERIFY(job().ladder.topBoostKpa > 230); // the goal is not forgotten
    QVERIFY(book().shown()->ladder.byId("top_boost.240"));
    chooseGate("cut");
    QVERIFY(page().gates().chosen()->answer.verdict == GateVerdict::passed);
    session().undo();
    QCOMPARE(job().ladder.topBoostKpa, 0.0);
}

void LadderViewTest::gatesDoWhatTheyAskFor() {
    open(demoWith({"preflight"}));
    chooseGate("cut");
    QVERIFY(page().doButton().isEnabled());
    QTest::mouseClick(&page().doButton(), Qt::LeftButton);
    QVERIFY(current());
    QVERIFY(job().boost.cutKpa < 200);
    chooseGate("plugs");
    QCOMPARE(page().doButton().text(), QStringLiteral("Looked at…"));
    answer(QStringLiteral("light tan"), true);
    QTest::mouseClick(&page().doButton(), Qt::LeftButton);
    QVERIFY(current());
    QCOMPARE(job().ladderLooks.back().gate, std::string("plugs"));
    QCOMPARE(job().ladderLooks.back().note, std::string("light tan"));
    QVERIFY(page().gates().chosen()->gate->id == "plugs"); // the choice stays
    QVERIFY(page().gates().chosen()->answer.verdict == GateVerdict::passed);
    QVERIFY(!page().doButton().isEnabled());
    chooseGate("lambda");
    QVERIFY(!page().doButton().isEnabled()); // pulling is not done here
}

void LadderViewTest::logsAreWhatGatesGoBy() {
    m_window->openWithLog(QStringLiteral(SOURCE_DIR "/data/demo/logs/thistle-e41-pulls.csv"));
    QVERIFY(session().perform(QStringLiteral("passes"), [&](Job &j) {
        j.ladderPassed = demoWith({"preflight", "base_boost.176", "content.25"}).ladderPassed;
    }));
    view();
    QVERIFY(current());
    QCOMPARE(page().drawing().chosen(), std::string("content.40"));
    QVERIFY(book().shown()->status.at("content.40").pulls > 0);
    chooseGate("duty");
    QVERIFY(page().gates().chosen()->answer.verdict == GateVerdict::passed);
    QVERIFY(page().words().contains(QStringLiteral("thistle-e41-pulls.csv")));
    clickButton(page(), QStringLiteral("Show the log"));
    settle();
    QVERIFY(m_window->shell.view(QStringLiteral("evidence"))->isVisible());
    QVERIFY(session().evidence().momentS() > 0);
}

// Reviews of logs are kept while tables change; what they ran with is asked anew. Undo brings the pulls back.
void LadderViewTest::pullsOfAnotherCalibrationDoNotCount() {
    m_window->openWithLog(QStringLiteral(SOURCE_DIR "/data/demo/logs/thistle-e41-pulls.csv"));
    QVERIFY(session().perform(QStringLiteral("passes"), [&](Job &j) {
        j.ladderPassed = demoWith({"preflight", "base_boost.176", "content.25"}).ladderPassed;
    }));
    view();
    QVERIFY(current());
    const auto pulls = [&] { return book().shown()->status.at("content.40").pulls; };
    const std::size_t before = pulls();
    QVERIFY(before > 0);
    QVERIFY(session().perform(QStringLiteral("richer"), [](Job &j) {
        Table2D &t = j.calibration.of(CalibratedQuantity::fuel).base;
        t.setCell({3, 3}, t.cell(3, 3) * 1.02);
    }));
    QVERIFY(current());
    QCOMPARE(pulls(), std::size_t(0));
    QVERIFY(!page().passButton().isEnabled());
    session().undo();
    QVERIFY(current());
    QCOMPARE(pulls(), before);
}

// By the logs of the job; what the engine stands of spark comes a little later, on its page.
void LadderViewTest::forecastIsShown() {
    m_window->openWithLog(QStringLiteral(SOURCE_DIR "/data/demo/logs/thistle-e41-pulls.csv"));
    view();
    QVERIFY(wait([&] { return book().current() && book().shown() && !book().shown()->facts.pulls.empty(); }));
    const Rung next = *book().shown()->ladder.byId("content.50");
    page().drawing().choose(next.id);
    const RungForecast quick = *book().shown()->forecast.of(next.id);
    const auto shownAs = [&](double v, Dimension d) {
        return text(Phrase{MARKED("report.number", "{0}"), {{v, d}}}, session().units());
    };
    QVERIFY2(page().words().contains(shownAs(quick.duty.value, Dimension::ratio)),
             qPrintable(page().words()));
    QVERIFY(!quick.standsSparkDeg);
    QVERIFY(!book().forecast()->of(next.id)->standsSparkDeg); // nobody has asked for it
    LadderForecastPage &forecast = view().forecast();
    view().pages().showPage(&forecast);
    QVERIFY(wait([&] { return book().forecast()->of(next.id)->standsSparkDeg.has_value(); }));
    const double stands = book().forecast()->of(next.id)->standsSparkDeg->value;
    QVERIFY2(forecast.words().contains(shownAs(stands, Dimension::sparkAngle)), qPrintable(forecast.words()));
    const std::vector<ChartSeries> &series = forecast.plot().chart().series;
    QVERIFY(!series.empty() && !series[0].band.empty());
    const auto at = std::ranges::find(series[0].x, next.content);
    QVERIFY(at != series[0].x.end());
    COMPARE_NEAR(series[0].y[static_cast<std::size_t>(at - series[0].x.begin())],
                 book().forecast()->of(next.id)->duty.value, 1e-9);
    // Without its log nothing of it is left.
    QVERIFY(session().perform(QStringLiteral("remove"), [](Job &j) { removeLog(j, j.logs.front().id); }));
    QVERIFY(wait([&] { return book().current() && book().forecast() && book().forecast()->rungs == 0; }));
    QVERIFY2(forecast.words().contains(QStringLiteral("Nobody has made a full pull yet")),
             qPrintable(forecast.words()));
}

void LadderViewTest::bundleGoesOutAsOneStep() {
    open();
    LadderRemotePage &remote = view().remote();
    view().pages().showPage(&remote);
    settle();
    QVERIFY2(remote.sheetWords().contains(QStringLiteral("Knock retard")), qPrintable(remote.sheetWords()));
    const std::size_t before = job().revisions.size();
    QTest::keyClicks(&remote.name(), QStringLiteral("First"));
    QTest::keyClicks(&remote.note(), QStringLiteral("mind the pump"));
    const QString folder = m_window->path("out");
    remote.send(folder);
    QCOMPARE(job().revisions.size(), before + 1);
    QCOMPARE(job().revisions.back().name, std::string("First"));
    QVERIFY(job().revisions.back().sent);
    QVERIFY(remote.name().text().isEmpty() && remote.note().text().isEmpty());
    QFile sheet(folder + QStringLiteral("/read-me.txt"));
    QVERIFY(sheet.open(QIODevice::ReadOnly) && sheet.readAll().contains("mind the pump"));
    QVERIFY(QFile::exists(folder + QStringLiteral("/tables/calibration.spark.top.csv")));
    QVERIFY(current());
    QVERIFY2(remote.messageWords().contains(QStringLiteral("revision First")),
             qPrintable(remote.messageWords()));
    clickButton(remote, QStringLiteral("Copy the message"));
    QVERIFY(
        QApplication::clipboard()->text().contains(QString::fromStdString(calibrationPrint(stateOf(job())))));
    // A place that is taken: nothing is kept.
    QString problem;
    connect(&session(), &Session::problem, this, [&problem](const QString &p) { problem = p; });
    QTest::keyClicks(&remote.name(), QStringLiteral("Second"));
    remote.send(folder);
    QVERIFY2(problem.contains(QStringLiteral("something is there already")), qPrintable(problem));
    QCOMPARE(job().revisions.size(), before + 1);
    QCOMPARE(remote.name().text(), QStringLiteral("Second")); // nothing typed is lost
    session().undo();
    QCOMPARE(job().revisions.size(), before);
}

void LadderViewTest::bundleComesBack() {
    open(demoWith({"preflight", "base_boost.176", "content.25"}));
    LadderRemotePage &remote = view().remote();
    view().pages().showPage(&remote);
    settle();
    const QString folder = m_window->path("out");
    remote.send(folder);
    const std::string name = job().revisions.back().name;
    QVERIFY(current());
    QDir(folder).mkdir(QStringLiteral("back"));
    QFile settings(folder + QStringLiteral("/settings.json"));
    QVERIFY(settings.open(QIODevice::ReadOnly));
    const QByteArray sent = settings.readAll();
    const auto writeBack = [&](QByteArray text) {
        QFile back(folder + QStringLiteral("/back/settings.json"));
        QVERIFY(back.open(QIODevice::WriteOnly));
        back.write(text);
    };
    writeBack(sent);
    QVERIFY(QFile::copy(QStringLiteral(SOURCE_DIR "/data/demo/logs/thistle-e41-pulls.csv"),
                        folder + QStringLiteral("/pulls.csv")));
    remote.takeBack(folder);
    QVERIFY(wait(
        [&] { return job().logs.size() == 1 && book().current() && !book().shown()->facts.pulls.empty(); }));
    QCOMPARE(job().logs.front().revision, name);
    QVERIFY2(remote.answerWords().contains(QStringLiteral("Logs taken in: pulls.csv")),
             qPrintable(remote.answerWords()));
    QVERIFY(remote.answerWords().contains(QStringLiteral("by its fingerprint")));
    QVERIFY(!remote.answerWords().contains(QStringLiteral("nobody knows whether")));
    QVERIFY2(remote.messageWords().contains(QStringLiteral("RED: Content E40")),
             qPrintable(remote.messageWords()));
    // It was read back with another setting: the alarm, and no second copy of its log.
    const QByteArray was = "\"injectors.boost_referenced\": true";
    QVERIFY(sent.contains(was));
    writeBack(QByteArray(sent).replace(was, "\"injectors.boost_referenced\": false"));
    remote.takeBack(folder);
    QVERIFY(wait([&] {
        return remote.messageWords().contains(QStringLiteral("came back as another than was sent"));
    }));
    QCOMPARE(job().logs.size(), std::size_t(1));
    QVERIFY(remote.answerWords().contains(QStringLiteral("Logs that were there already: pulls.csv")));
    session().undo(); // the log alone: one step
    QCOMPARE(job().logs.size(), std::size_t(0));
    // Rubbish: a sentence, and nothing else.
    QString problem;
    connect(&session(), &Session::problem, this, [&problem](const QString &p) { problem = p; });
    writeBack("nothing");
    remote.takeBack(folder);
    QVERIFY(wait([&] { return problem.contains(QStringLiteral("settings.json")); }));
    QCOMPARE(job().logs.size(), std::size_t(0));
}

void LadderViewTest::whatNobodyNamesIsAsked() {
    open();
    LadderRemotePage &remote = view().remote();
    view().pages().showPage(&remote);
    settle();
    const QString folder = m_window->path("back");
    QDir().mkdir(folder);
    QVERIFY(QFile::copy(QStringLiteral(SOURCE_DIR "/data/demo/logs/thistle-e10-hot.csv"),
                        folder + QStringLiteral("/a.csv")));
    QString problem;
    connect(&session(), &Session::problem, this, [&problem](const QString &p) { problem = p; });
    remote.takeBack(folder);
    QVERIFY(wait([&] { return problem.contains(QStringLiteral("Nothing was sent of this job")); }));
    remote.send(m_window->path("out"));
    const QString name = QString::fromStdString(job().revisions.back().name);
    QSignalSpy asked(&remote.book(), &RemoteBook::revisionWanted);
    answer(name, false);
    remote.takeBack(folder);
    QVERIFY(wait([&] { return asked.count() == 1 && !QApplication::activeModalWidget(); }));
    QVERIFY(job().logs.empty());
    answer(name, true);
    remote.takeBack(folder);
    QVERIFY(wait([&] { return job().logs.size() == 1; }));
    QCOMPARE(job().logs.front().revision, name.toStdString());
    QVERIFY(wait([&] { return remote.answerWords().contains(QStringLiteral("because somebody said so")); }));
}

// Mechanical injection: a pill is a rung, and fitting it is one step of the job.
void LadderViewTest::passesGoByPills() {
    QFile f(QStringLiteral(SOURCE_DIR "/data/demo/moorhen.json"));
    QVERIFY(f.open(QIODevice::ReadOnly));
    Job job = jobFromJson(f.readAll().toStdString());
    RungPass p;
    p.rung = "preflight";
    job.ladderPassed = {p};
    open(job);
    QVERIFY(book().shown()->ladder.passes);
    const Rung next = *book().shown()->ladder.next();
    QVERIFY(next.pass);
    QCOMPARE(page().drawing().chosen(), next.id);
    QCOMPARE(page().boostButton().text(), QStringLiteral("Fit this pill"));
    page().boostButton().click();
    QCOMPARE(this->job().mechanical.injection.main.diameterMm, next.pass->pillMm);
    QVERIFY(current());
    QCOMPARE(book().shown()->ladder.next()->id, next.id);
    QVERIFY2(page().words().contains(QStringLiteral("Fit the")), qPrintable(page().words()));
    chooseGate("oil");
    answer(QStringLiteral("changed, clean"), true);
    clickButton(page(), QStringLiteral("Looked at…"));
    QVERIFY(current());
    chooseGate("oil");
    QVERIFY(page().gates().chosen()->answer.verdict == GateVerdict::passed);
    session().undo();
    session().undo();
    QCOMPARE(this->job().mechanical.injection.main.diameterMm, job.mechanical.injection.main.diameterMm);
}

void LadderViewTest::goalChangesTheRungs() {
    open();
    QVERIFY(book().shown()->ladder.byId("content.50"));
    QVERIFY(view().showInput(QStringLiteral("ladder.top_content")));
    auto *edit = view().goal().findChild<QLineEdit *>(QStringLiteral("ladder.top_content"));
    if (!edit) edit = qobject_cast<QLineEdit *>(view().goal().editor(QStringLiteral("ladder.top_content")));
    QVERIFY(edit);
    edit->selectAll();
    QTest::keyClicks(edit, QStringLiteral("45"));
    QTest::keyClick(edit, Qt::Key_Return);
    QCOMPARE(job().ladder.topContent, 0.45);
    view().pages().showPage(&page());
    QVERIFY(current());
    QVERIFY(book().shown()->ladder.byId("content.45") && !book().shown()->ladder.byId("content.50"));
    QVERIFY(view().sheet().contains(QStringLiteral("Content E45")));
    QVERIFY(!view().showInput(QStringLiteral("engine.cylinders")));
}

void LadderViewTest::nothingMovesUnderTheMouse() {
    open(demoWith({"preflight"}));
    const QRect pass(page().passButton().mapTo(&page(), QPoint()), page().passButton().size());
    const QRect gates(page().gates().mapTo(&page(), QPoint()), page().gates().size());
    for (const char *id : {"way_down", "top_boost.240", "base_boost.173", "content.85"}) {
        page().drawing().choose(id);
        settle();
        QCOMPARE(QRect(page().passButton().mapTo(&page(), QPoint()), page().passButton().size()), pass);
        if (page().gates().isVisible())
            QCOMPARE(QRect(page().gates().mapTo(&page(), QPoint()), page().gates().size()), gates);
    }
}

void LadderViewTest::rungsAreChosenByKeys() {
    open(demoWith({"preflight"}));
    LadderDrawing &drawing = page().drawing();
    drawing.setFocus();
    const auto &rungs = book().shown()->ladder.rungs;
    QCOMPARE(drawing.chosen(), rungs[1].id);
    QTest::keyClick(&drawing, Qt::Key_Up);
    QCOMPARE(drawing.chosen(), rungs[2].id);
    QTest::keyClick(&drawing, Qt::Key_Down);
    QTest::keyClick(&drawing, Qt::Key_Down);
    QTest::keyClick(&drawing, Qt::Key_Down); // at the bottom it stays
    QCOMPARE(drawing.chosen(), rungs[0].id);
    QVERIFY(drawing.accessibleDescription().contains(QStringLiteral("passed")));
    QTest::keyClick(&drawing, Qt::Key_Home);
    QCOMPARE(drawing.chosen(), rungs[1].id);
    page().drawing().copy();
    const QString copied = QApplication::clipboard()->text();
    QVERIFY(copied.count(u'\n') >= 10 && copied.contains(u'\t'));
    page().drawing().copyPicture();
    QCOMPARE(QApplication::clipboard()->pixmap().size(), page().drawing().size());
    // And by mouse: rows stand from the bottom up and do not overlap.
    for (std::size_t i = 1; i < rungs.size(); ++i) {
        QCOMPARE(drawing.rectOf(i).bottom() + 1, drawing.rectOf(i - 1).top());
        QTest::mouseClick(&drawing, Qt::LeftButton, {}, drawing.rectOf(i).center());
        QCOMPARE(drawing.chosen(), rungs[i].id);
    }
    // The one that is next is the biggest, what is done the smallest.
    QVERIFY(drawing.rectOf(1).height() > 3 * drawing.rectOf(2).height());
    QVERIFY(drawing.rectOf(0).height() < drawing.rectOf(2).height());
}

int main(int argc, char **argv) {
    QApplication app(argc, argv);
    return run<LadderViewTest>(argc, argv);
}
#include "ladder_view_test.moc"
