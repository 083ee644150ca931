// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/error.h"
#include "core/live/practice_frames.h"
#include "formats/can_map_json.h"
#include "formats/job_json.h"
#include "session/live_seat.h"
#include "session/training_room.h"
#include "store/sample_store.h"
#include "support/test_window.h"
#include "ui/views/cell/call_banner.h"
#include "ui/views/cell/cell_view.h"
#include "ui/views/cell/engine_page.h"
#include "ui/views/cell/seat_map.h"
#include "ui/views/cell/seat_page.h"
#include "ui/views/cell/seat_reading.h"
#include "ui/views/cell/trainer_page.h"
#include "ui/widgets/working_panel.h"

#include <QComboBox>
#include <QFile>
#include <QLineEdit>
#include <QStandardPaths>
#include <QTableWidget>

#include <SQLiteCpp/SQLiteCpp.h>

void wheelwrightResources() {
    Q_INIT_RESOURCE(resources);
}

using namespace wheelwright;
using namespace wheelwright::testing;

namespace {

Job sound() {
    QFile file(QStringLiteral(DEMO_JOB));
    return file.open(QIODevice::ReadOnly) ? jobFromJson(file.readAll().toStdString()) : Job();
}

constexpr int awhileMs = 20000; // for what takes seconds on a machine that is busy

// What happened while a log was recorded. Silence is left out: an engine that the machine gives no time for a
// second is silent indeed, and rightly said to be.
QStringList eventsOf(const Job &job, const std::string &log) {
    QStringList out;
    for (const LogChannel *c : channelsOf(job, log))
        if (c->name == "Event")
            out = QString::fromStdString(c->texts).split(QLatin1Char('\n'), Qt::SkipEmptyParts);
    out.removeAll(QStringLiteral("the bus is silent"));
    return out;
}

} // namespace

/// The driver's seat, driven by keys, with an engine at the other end of the bus.
class CellViewTest : public QObject {
    Q_OBJECT
  private slots:
    void initTestCase() {
        dressApplication();
        QStandardPaths::setTestModeEnabled(true); // scenarios are made in the user's folder of data
        PracticeProcess::setProgram(QStringLiteral(PRACTICE_PROGRAM));
    }
    void init() {
        m_window = std::make_unique<TestWindow>();
        m_window->session.importJob(DEMO_JOB, m_window->path("a.wwjob").toStdString());
        m_view = m_window->view<CellView>("cell");
    }
    void cleanup() { m_window.reset(); }
    void cleanupTestCase() { QVERIFY2(QApplication::topLevelWidgets().isEmpty(), "a window was leaked"); }

    void withoutABusItSaysSo();
    void digitsCanBeReadFromAfar();
    void keysDriveIt();
    void aDeadEngineIsSaid();
    void aRecordingThatWasCutShortComesIn();
    void aLeanEngineIsCalled();
    void anotherReadingIsKept();
    void rolesArePutRight();
    void closingTheJobEndsEverything();
    void aBusThatIsNoneIsRefused();
    void theLastBusIsOfferedAgain();
    void aScenarioIsSolved();
    void aScenarioThatIsLeftIsOver();

  private:
    LiveSeat &live() { return m_window->session.live(); }
    SeatPage &seat() { return m_view->seat(); }
    void start(const QStringList &faults = {}) {
        live().startPractice({{}, 3, faults, {}, -1});
        m_view->showSeat();
        QVERIFY(QTest::qWaitFor([&] { return live().hearing() == LiveSeat::Hearing::hearing; }, awhileMs));
        settle();
    }
    void key(Qt::Key k) {
        QTest::keyClick(&seat(), k);
        settle();
    }
    std::size_t logs() { return m_window->session.job().logs.size(); }

    std::unique_ptr<TestWindow> m_window;
    CellView *m_view = nullptr;
};

void CellViewTest::withoutABusItSaysSo() {
    QCOMPARE(seat().banner().words(), QStringLiteral("Nothing is listened to"));
    QVERIFY(!seat().banner().calling());
    for (const SeatReading *r : seat().readings()) {
        QCOMPARE(r->digits(), QStringLiteral("–"));
        QVERIFY(r->standing() == SeatStanding::notJudged);
        QCOMPARE(r->standingWords().section(QStringLiteral(" · "), 0, 0), QStringLiteral("not on this bus"));
    }
    QVERIFY(!m_window->shell.working().isVisible()); // it makes room
    key(Qt::Key_Space); // there is nothing to record: it leads to where an engine is started
    QVERIFY(m_view->engine().isVisible());
    QCOMPARE(logs(), std::size_t{0});
}

void CellViewTest::digitsCanBeReadFromAfar() {
    QTest::qWait(50);
    for (const SeatReading *r : seat().readings())
        QVERIFY2(r->digitHeight() >= 90, qPrintable(QString::number(r->digitHeight())));
    m_window->shell.resize(1024, 700);
    QTest::qWait(50);
    for (const SeatReading *r : seat().readings())
        QVERIFY2(r->digitHeight() >= 60, qPrintable(QString::number(r->digitHeight())));
}

void CellViewTest::keysDriveIt() {
    start();
    QVERIFY(QTest::qWaitFor([&] { return live().review().atS > 0; }, awhileMs));
    QCOMPARE(seat().banner().words(), QStringLiteral("No rule calls"));
    // What is shown is what the bus says.
    seat().readings()[0]->refresh();
    const double rpm = live().value(ChannelRole::rpm);
    QVERIFY(rpm > 500 && rpm < 1500);
    const double shown = seat().readings()[0]->digits().toDouble();
    QVERIFY2(std::abs(shown - rpm) <= 0.5, qPrintable(QStringLiteral("%1 for %2").arg(shown).arg(rpm)));

    key(Qt::Key_Space);
    QVERIFY(live().logging());
    key(Qt::Key_P);
    QVERIFY(QTest::qWaitFor([&] { return live().review().pulling; }, awhileMs));
    QCOMPARE(seat().banner().words(), QStringLiteral("Pull"));
    key(Qt::Key_M);
    QCOMPARE(live().marks(), 1);
    // The verdict is there within two seconds after the throttle is shut.
    QVERIFY(QTest::qWaitFor([&] { return live().value(ChannelRole::throttle) > 0.5; }, awhileMs));
    QVERIFY(QTest::qWaitFor([&] { return live().value(ChannelRole::throttle) < 0.1; }, 2 * awhileMs));
    QElapsedTimer shut;
    shut.start();
    QVERIFY(QTest::qWaitFor([&] { return live().review().lastPull.has_value(); }, awhileMs));
    settle();
    QVERIFY2(shut.elapsed() <= 2000, qPrintable(QString::number(shut.elapsed())));
    QVERIFY2(seat().lastPull().startsWith(QStringLiteral("Pull ")), qPrintable(seat().lastPull()));
    QVERIFY(seat().map().filled() > 5);

    key(Qt::Key_M);
    key(Qt::Key_PageDown); // a clicker ends it
    QVERIFY(!live().logging());
    QVERIFY(QTest::qWaitFor([&] { return logs() == 1; }, awhileMs));
    const Job &job = m_window->session.job();
    const LogInfo &log = job.logs.front();
    QVERIFY(log.rows > 100);
    QCOMPARE(eventsOf(job, log.id), QStringList({QStringLiteral("mark 1"), QStringLiteral("mark 2")}));
    QVERIFY(!SQLite::Database(m_window->path("a.wwjob").toStdString(), SQLite::OPEN_READONLY)
                 .tableExists("recording"));
    // Its pull is found by who reads it through, too.
    QVERIFY(
        QTest::qWaitFor([&] { return m_window->session.evidence().review(log.id) != nullptr; }, awhileMs));
    QCOMPARE(only(m_window->session.evidence().review(log.id)->episodes(), EpisodeKind::pull).size(),
             std::size_t{1});
    // As one step it can be taken back.
    m_window->session.undo();
    QCOMPARE(logs(), std::size_t{0});
    m_window->session.redo();

    // Escape aborts: it is in the log, and the engine lifts.
    key(Qt::Key_Space);
    key(Qt::Key_P);
    QVERIFY(QTest::qWaitFor([&] { return live().value(ChannelRole::throttle) > 0.5; }, awhileMs));
    key(Qt::Key_Escape);
    QVERIFY(live().lastWords().startsWith(QStringLiteral("ABORTED at")));
    QVERIFY(QTest::qWaitFor([&] { return live().value(ChannelRole::throttle) < 0.1; }, 3000));
    QVERIFY(QTest::qWaitFor([&] { return logs() == 2; }, awhileMs));
    const LogInfo &aborted = m_window->session.job().logs.back();
    QCOMPARE(aborted.note, std::string("aborted"));
    QCOMPARE(eventsOf(m_window->session.job(), aborted.id), QStringList{QStringLiteral("abort")});
}

void CellViewTest::aDeadEngineIsSaid() {
    start();
    key(Qt::Key_Space);
    QTest::qWait(700);
    live().practice().kill();
    QVERIFY(QTest::qWaitFor([&] { return live().hearing() == LiveSeat::Hearing::lost; }, awhileMs));
    QVERIFY(QTest::qWaitFor([&] { return seat().banner().calling(); }, awhileMs));
    QCOMPARE(seat().banner().words(), QStringLiteral("THE BUS IS LOST — lift"));
    QVERIFY(!live().practising());
    QVERIFY(QTest::qWaitFor(
        [&] {
            seat().readings()[0]->refresh();
            return seat().readings()[0]->digits() == QStringLiteral("–");
        },
        awhileMs));
    QVERIFY(live().logging()); // what was heard is not thrown away
    key(Qt::Key_Space);
    QVERIFY(QTest::qWaitFor([&] { return logs() == 1; }, awhileMs));
    const Job &job = m_window->session.job();
    const QString said = eventsOf(job, job.logs.front().id).join(QLatin1Char('\n'));
    QVERIFY2(said.contains(QStringLiteral("the engine has ended")), qPrintable(said));
}

void CellViewTest::aRecordingThatWasCutShortComesIn() {
    start();
    key(Qt::Key_Space);
    QTest::qWait(1500);
    // As a kill leaves it: the file as it is at this moment.
    const QString copy = m_window->path("b.wwjob");
    QVERIFY(QFile::copy(m_window->path("a.wwjob"), copy));
    m_window->session.openJob(copy.toStdString());
    QVERIFY(QTest::qWaitFor([&] { return logs() == 1; }, awhileMs));
    QCOMPARE(m_window->session.job().logs.front().note, std::string("cut short"));
    QVERIFY(m_window->session.job().logs.front().rows >= 25); // at 50 a second, a piece each 0.4 s
    QVERIFY(QTest::qWaitFor(
        [&] { return !SQLite::Database(copy.toStdString(), SQLite::OPEN_READONLY).tableExists("recording"); },
        awhileMs));
    // The first was ended by another job being opened: it comes in with its own.
    m_window->session.openJob(m_window->path("a.wwjob").toStdString());
    QVERIFY(QTest::qWaitFor([&] { return logs() == 1; }, awhileMs));
}

void CellViewTest::aLeanEngineIsCalled() {
    start({QStringLiteral("weak_pump:0.8")});
    key(Qt::Key_P);
    QVERIFY(QTest::qWaitFor([&] { return seat().banner().calling(); }, 2 * awhileMs));
    QStringList words{seat().banner().words()};
    const bool lean =
        QTest::qWaitFor([&] { return seat().banner().words() == QStringLiteral("LEAN — lift"); }, awhileMs);
    words << seat().banner().words();
    QVERIFY2(lean, qPrintable(words.join(u' ')));
    QVERIFY(
        QTest::qWaitFor([&] { return seat().readings()[2]->standing() == SeatStanding::over; }, awhileMs));
    QVERIFY(seat().readings()[2]->standingWords().startsWith(QStringLiteral("PAST ITS LIMIT")));
    key(Qt::Key_Escape);
}

void CellViewTest::anotherReadingIsKept() {
    QCOMPARE(seat().chosen().size(), 6);
    QStringList six = seat().chosen();
    six[5] = QStringLiteral("coolant_temp");
    seat().choose(six);
    emit seat().chosenChanged(); // as choosing in the menu does
    QCOMPARE(m_window->settings.value(QStringLiteral("view/cell")).toByteArray(),
             six.join(u' ').toUtf8() + "||");
    Shell other(m_window->session, m_window->settings);
    other.showStation(QStringLiteral("cell"));
    QCOMPARE(static_cast<CellView *>(other.view(QStringLiteral("cell")))->seat().chosen(), six);
    seat().choose(
        {QStringLiteral("no such"), QStringLiteral("battery")}); // what nobody knows stays as it was
    QCOMPARE(seat().chosen().at(0), six.at(0));
    QCOMPARE(seat().chosen().at(1), QStringLiteral("battery"));
}

void CellViewTest::rolesArePutRight() {
    start();
    m_view->showEngine();
    settle();
    auto *table = m_view->engine().findChild<QTableWidget *>();
    QVERIFY(table && table->rowCount() > 20);
    QCOMPARE(table->item(0, 0)->text(), QStringLiteral("rpm"));
    auto *role = qobject_cast<QComboBox *>(table->cellWidget(2, 1)); // the throttle
    QCOMPARE(role->currentData().toInt(), static_cast<int>(ChannelRole::throttle));
    role->setCurrentIndex(role->findData(static_cast<int>(ChannelRole::none)));
    emit role->activated(role->currentIndex());
    QVERIFY(!live().has(ChannelRole::throttle));
    // Another channel of the same kind takes a role over.
    live().setRole(3, ChannelRole::duty);
    QVERIFY(live().has(ChannelRole::duty));
    QCOMPARE(std::ranges::count(live().channels().columns, ChannelRole::duty, &MappedColumn::role),
             std::ptrdiff_t{1});
}

void CellViewTest::closingTheJobEndsEverything() {
    start();
    key(Qt::Key_Space);
    QTest::qWait(600);
    m_window->session.closeJob();
    QVERIFY(live().hearing() == LiveSeat::Hearing::off);
    QVERIFY(!live().practising());
    QVERIFY(!live().logging());
    live().setLogging(true); // nothing happens
    live().mark();
    live().abort();
    QVERIFY(!live().logging());
}

void CellViewTest::aBusThatIsNoneIsRefused() {
    m_view->showEngine();
    settle();
    clickButton(m_view->engine(), QStringLiteral("Listen")); // without a map
    QVERIFY(live().hearing() == LiveSeat::Hearing::off);
    EXPECT_INPUT_ERROR(live().listenByFile("virtual:10.0.0.1:5", DEMO_JOB), "virtual:PORT of this machine");
    EXPECT_INPUT_ERROR(live().listenByFile("socketcan:can0", DEMO_JOB), "CAN map");
    EXPECT_INPUT_ERROR(live().listenByFile("socketcan:can0", "/no/such/file"), "/no/such/file");
}

// What is refused is not kept.
void CellViewTest::theLastBusIsOfferedAgain() {
    const QString map = m_window->path("a|map.json");
    QFile file(map);
    QVERIFY(file.open(QIODevice::WriteOnly) && file.write(canMapToJson(practiceCanMap()).c_str()) > 0);
    file.close();
    const auto named = [](QWidget &page, const char *name) {
        for (auto *line : page.findChildren<QLineEdit *>())
            if (line->accessibleName() == QLatin1String(name)) return line;
        return static_cast<QLineEdit *>(nullptr);
    };
    const auto nextTime = [&] {
        Session second(TestWindow::fixedTime);
        Shell next(second, m_window->settings);
        EnginePage &page = static_cast<CellView *>(next.view(QStringLiteral("cell")))->engine();
        return QStringList{page.findChildren<QComboBox *>().at(2)->currentData().toString(),
                           named(page, "Interface or port")->text(),
                           named(page, "Map of the frames")->text()};
    };
    m_view->showEngine();
    settle();
    EnginePage &page = m_view->engine();
    auto *kind = page.findChildren<QComboBox *>().at(2);
    kind->setCurrentIndex(kind->findData(QStringLiteral("virtual:")));
    named(page, "Interface or port")->setText(QStringLiteral("4711"));
    clickButton(page, QStringLiteral("Listen")); // without a map
    const QStringList usual{QStringLiteral("socketcan:"), QStringLiteral("can0"), QString()};
    QCOMPARE(nextTime(), usual);
    named(page, "Map of the frames")->setText(map);
    clickButton(page, QStringLiteral("Listen"));
    live().leave();
    const QStringList last{QStringLiteral("virtual:"), QStringLiteral("4711"), map};
    QCOMPARE(nextTime(), last);
}

void CellViewTest::aScenarioIsSolved() {
    m_view->showTrainer();
    settle();
    TrainerPage &page = m_view->trainer();
    TrainingRoom &room = m_window->session.training();
    page.chooseScenario(QStringLiteral("throttle_unplugged"));
    QVERIFY(page.words().startsWith(QStringLiteral("After a repair")));
    clickButton(page, QStringLiteral("Begin"));
    QVERIFY(room.underWay());
    QVERIFY(QTest::qWaitFor([&] { return live().hearing() == LiveSeat::Hearing::hearing; }, awhileMs));
    QCOMPARE(m_window->session.job().name, sound().name); // a sound job: the fault is in the engine
    clickButton(page, QStringLiteral("Hint"));
    QVERIFY(page.words().contains(QStringLiteral("Hint 1: What does the controller know of your foot?")));
    // Driven from the seat.
    m_view->showSeat();
    key(Qt::Key_P);
    QVERIFY(QTest::qWaitFor([&] { return live().value(ChannelRole::rpm) > 5000; }, 2 * awhileMs));
    QVERIFY(QTest::qWaitFor([&] { return live().value(ChannelRole::rpm) < 3000; }, 2 * awhileMs));
    m_view->showTrainer();
    settle();
    auto *look = page.findChildren<QComboBox *>().at(0);
    look->setCurrentIndex(look->findData(QStringLiteral("throttle")));
    clickButton(page, QStringLiteral("Look"));
    QVERIFY(QTest::qWaitFor([&] { return !room.found().empty(); }, awhileMs));
    QVERIFY(page.words().contains(QStringLiteral("Throttle sensor unplugged")));
    auto *answer = page.findChildren<QComboBox *>().at(1);
    answer->setCurrentIndex(answer->findData(QStringLiteral("throttle_unplugged")));
    clickButton(page, QStringLiteral("That is it"));
    QVERIFY(QTest::qWaitFor([&] { return room.result() != nullptr; }, awhileMs));
    settle();
    // All but the hint.
    QCOMPARE(room.result()->score.points, 95);
    QVERIFY(room.result()->score.passed);
    QVERIFY2(page.words().startsWith(QStringLiteral("95 of 100. Passed.")), qPrintable(page.words()));
    QVERIFY(page.words().contains(QStringLiteral("It was: Throttle sensor unplugged.")));
    QVERIFY(!live().practising());
    QCOMPARE(page.progress(), QStringList{QStringLiteral("throttle_unplugged=95+")});
    QCOMPARE(m_window->settings.value(QStringLiteral("view/cell")).toByteArray().split('|').at(1),
             QByteArray("throttle_unplugged=95+"));
    // Kept, and never made worse.
    page.setProgress(
        {QStringLiteral("weak_pump=40"), QStringLiteral("no_such=100+"), QStringLiteral("bad_fuel=900")});
    QCOMPARE(page.progress(),
             (QStringList{QStringLiteral("bad_fuel=100"), QStringLiteral("throttle_unplugged=95+"),
                          QStringLiteral("weak_pump=40")}));
    QCOMPARE(page.passed(), 1);
}

void CellViewTest::aScenarioThatIsLeftIsOver() {
    m_view->showTrainer();
    settle();
    TrainerPage &page = m_view->trainer();
    TrainingRoom &room = m_window->session.training();
    page.chooseScenario(QStringLiteral("content_stuck"));
    clickButton(page, QStringLiteral("Begin"));
    QVERIFY(QTest::qWaitFor([&] { return live().hearing() == LiveSeat::Hearing::hearing; }, awhileMs));
    // Its tank is another than its sensor says.
    auto *look = page.findChildren<QComboBox *>().at(0);
    look->setCurrentIndex(look->findData(QStringLiteral("tube")));
    clickButton(page, QStringLiteral("Look"));
    QVERIFY(QTest::qWaitFor([&] { return !room.found().empty(); }, awhileMs));
    // 35 of 45.75 L at 10 % drained, 40 L at 78 % and its own error poured, by hand: about 65 %.
    const QString tube = text(room.found().front());
    const double read = tube.section(QStringLiteral(": E"), 1).section(QLatin1Char(','), 0, 0).toDouble();
    QVERIFY2(read >= 55 && read <= 72, qPrintable(tube));
    COMPARE_NEAR(live().content(), 0.1, 0.005);
    m_window->session.openJob(m_window->path("a.wwjob").toStdString());
    QVERIFY(!room.underWay());
    QVERIFY(!room.scenario());
    QVERIFY(!live().practising());
    QVERIFY(page.progress().isEmpty());
}

int main(int argc, char **argv) {
    QApplication app(argc, argv);
    return run<CellViewTest>(argc, argv);
}
#include "cell_view_test.moc"
