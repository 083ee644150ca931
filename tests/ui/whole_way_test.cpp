// SPDX-License-Identifier: GPL-3.0-or-later
// The whole way through the window, by mouse and keys: from the first screen to the hand-over, on a practice
// engine whose truth nobody opens. The ladder says what comes next; logs come out of another program.
#include "core/job/logs.h"
#include "core/job/revision.h"
#include "pages/seal.h"
#include "session/run_book.h"
#include "support/test_window.h"
#include "ui/new_job_dialog.h"
#include "ui/views/evidence/log_import_dialog.h"
#include "ui/views/handover/handover_view.h"
#include "ui/views/ladder/gate_list.h"
#include "ui/views/ladder/ladder_drawing.h"
#include "ui/views/ladder/ladder_page.h"
#include "ui/views/ladder/ladder_view.h"
#include "ui/views/ladder/preflight_list.h"
#include "ui/views/tables/table_grid.h"
#include "ui/widgets/content_ruler.h"
#include "ui/widgets/record_table.h"

#include <QCheckBox>
#include <QComboBox>
#include <QFileDialog>
#include <QInputDialog>
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QProcess>
#include <QTimer>

using namespace wheelwright;
using namespace wheelwright::testing;

void wheelwrightResources() {
    Q_INIT_RESOURCE(resources);
}

namespace {

QJsonObject step(const char *what, std::initializer_list<std::pair<const char *, QJsonValue>> with = {}) {
    QJsonObject s{{QStringLiteral("do"), QLatin1String(what)}};
    for (const auto &[key, value] : with)
        s.insert(QLatin1String(key), value);
    return s;
}

/// The car outside: a practice engine, and what its tank really holds.
class Car {
  public:
    Car(QString job, QString folder) : m_job(std::move(job)), m_folder(std::move(folder)) {}

    bool draw() {
        return run({QStringLiteral("draw"), m_job, QStringLiteral("--seed"), QStringLiteral("7")}, m_truth);
    }

    /// Returns the log; empty where something went wrong, which why() says.
    QString drive(const QJsonArray &steps) {
        ++m_outings;
        const QString name = m_folder + QStringLiteral("/outing-%1").arg(m_outings),
                      log = name + QStringLiteral(".csv");
        QJsonObject truth = QJsonDocument::fromJson(m_truth).object();
        truth[QStringLiteral("seed")] = 7000 + m_outings;
        QJsonArray all = steps;
        constexpr double beginsWith = 45; // three quarters of the tank, as every run of the engine does
        const double spare = std::max(0.0, m_litres - beginsWith); // of the same fuel, waits beside it
        if (m_litres < beginsWith - 0.001) all.prepend(step("drain", {{"litres", beginsWith - m_litres}}));
        if (!write(name + QStringLiteral(".truth"), QJsonDocument(truth).toJson()) ||
            !write(name + QStringLiteral(".json"),
                   QJsonDocument(
                       QJsonObject{{QStringLiteral("ethanol"), m_content}, {QStringLiteral("steps"), all}})
                       .toJson()))
            return {};
        QByteArray said;
        curves = name + QStringLiteral("-curves");
        if (!run({QStringLiteral("run"), m_job, QStringLiteral("--engine"), name + QStringLiteral(".truth"),
                  QStringLiteral("--script"), name + QStringLiteral(".json"), QStringLiteral("--log"), log,
                  QStringLiteral("--log-hz"), QStringLiteral("20"), QStringLiteral("--runs"), curves,
                  QStringLiteral("--json")},
                 said))
            return {};
        const QJsonObject o = QJsonDocument::fromJson(said).object();
        const double left = o[QStringLiteral("tank_l")].toDouble();
        m_litres = left + spare;
        m_content = (left * o[QStringLiteral("tank_ethanol")].toDouble() + spare * m_content) / m_litres;
        burnedL = o[QStringLiteral("burned_l")].toDouble();
        destroyed = o[QStringLiteral("destroyed")].toBool();
        return log;
    }

    void drain(double litres) { m_litres -= litres; }

    double content() const { return m_content; }
    double litres() const { return m_litres; }
    const QString &why() const { return m_why; }
    double burnedL = 0;
    bool destroyed = false;
    QString curves; ///< folder of the dyno's curves of the last outing

  private:
    static bool write(const QString &path, const QByteArray &bytes) {
        QFile f(path);
        return f.open(QIODevice::WriteOnly) && f.write(bytes) == bytes.size();
    }
    bool run(const QStringList &arguments, QByteArray &out) {
        QProcess program;
        program.start(QStringLiteral(PRACTICE_PROGRAM), arguments);
        constexpr int mostMs = 120000;
        if (!program.waitForFinished(mostMs)) return false;
        out = program.readAllStandardOutput();
        m_why = QString::fromUtf8(program.readAllStandardError());
        return program.exitCode() == 0 || program.exitCode() == 3;
    }

    QString m_job, m_folder, m_why;
    QByteArray m_truth;
    double m_litres = 30, m_content = 0.10;
    int m_outings = 0;
};

} // namespace

class WholeWayTest : public QObject {
    Q_OBJECT
  private slots:
    void initTestCase() {
        QStandardPaths::setTestModeEnabled(true);
        dressApplication();
    }
    void fromTheFirstScreenToTheHandOver();
    void cleanup() {
        if (QTest::currentTestFailed() && m_window) picture("failed");
    }

  private:
    Session &session() { return m_window->session; }
    Shell &shell() { return m_window->shell; }
    const Job &job() { return session().job(); }
    LadderPage &ladder() {
        if (auto &page = m_window->view<LadderView>("ladder")->page(); page.isVisible()) return page;
        shell().showPlace(QStringLiteral("ladder/rungs"));
        return m_window->view<LadderView>("ladder")->page();
    }

    /// Where WHOLE_WAY_PICTURES names a folder, what the window shows now goes there.
    void picture(const char *name) {
        settle();
        const QString folder = qEnvironmentVariable("WHOLE_WAY_PICTURES");
        if (!folder.isEmpty()) {
            const QString file =
                folder +
                QStringLiteral("/%1-%2.").arg(++m_pictures, 2, 10, QLatin1Char('0')).arg(QLatin1String(name));
            QVERIFY(shell().grab().save(file + QStringLiteral("png")));
            // The job as it is then, for who wants to know why the window says what it says.
            QFile::copy(m_window->path("bramble-two.wwjob"), file + QStringLiteral("wwjob"));
        }
    }
    bool wait(const std::function<bool()> &what, int ms = 60000) { return QTest::qWaitFor(what, ms); }

    // What dialogs are answered with, in their order.
    void answerDialogs() {
        connect(&m_answers, &QTimer::timeout, this, [this] {
            QWidget *dialog = QApplication::activeModalWidget();
            if (!dialog) dialog = shell().findChild<QDialog *>(QStringLiteral("logImport"));
            if (!dialog || !dialog->isVisible()) return;
            if (auto *file = qobject_cast<QFileDialog *>(dialog)) {
                auto *name = file->findChild<QLineEdit *>();
                if (name->text() != m_path) {
                    name->selectAll();
                    QTest::keyClicks(name, m_path);
                }
                QTest::keyClick(name, Qt::Key_Return); // the first may go to the list of what fits
            } else if (auto *fresh = qobject_cast<NewJobDialog *>(dialog)) {
                typeNewJob(*fresh);
            } else if (auto *logs = qobject_cast<LogImportDialog *>(dialog)) {
                auto *bring = logs->findChild<QPushButton *>(QStringLiteral("bring"));
                if (logs->arrival().preview() && bring->isEnabled()) QTest::mouseClick(bring, Qt::LeftButton);
            } else if (auto *words = qobject_cast<QInputDialog *>(dialog)) {
                QTest::keyClicks(words->findChild<QLineEdit *>(), QStringLiteral("light tan"));
                words->accept();
            } else if (auto *run = dialog->findChild<QPushButton *>(QStringLiteral("bring"));
                       run && run->isEnabled()) {
                QTest::mouseClick(run, Qt::LeftButton);
            }
        });
        constexpr int often = 40;
        m_answers.start(often);
    }
    void typeNewJob(NewJobDialog &dialog) {
        const auto type = [&](const char *name, const char *words) {
            auto *edit = dialog.findChild<QLineEdit *>(QLatin1String(name));
            edit->setFocus();
            QTest::keyClick(edit, Qt::Key_A, Qt::ControlModifier);
            QTest::keyClicks(edit, QString::fromUtf8(words));
        };
        type("name", "Bramble two");
        type("displacement", "2.0 L");
        type("compression", "9.2");
        type("revLimit", "7000");
        type("boost", "80 kPa"); // a step or two above the spring
        type("injectors", "900");
        if (qEnvironmentVariableIsSet("WHOLE_WAY_PICTURES"))
            dialog.grab().save(qEnvironmentVariable("WHOLE_WAY_PICTURES") +
                               QStringLiteral("/00-new-job.png"));
        for (QPushButton *b : dialog.findChildren<QPushButton *>())
            if (b->text().startsWith(QStringLiteral("Make"))) {
                QTest::mouseClick(b, Qt::LeftButton);
                return;
            }
    }

    /// A field, found as by a click on its name anywhere, and typed into.
    void say(const char *path, const QString &value) {
        shell().showPlace(QLatin1String(path));
        settle();
        QWidget *at = shell().focusWidget();
        QVERIFY2(at, path);
        if (auto *box = qobject_cast<QCheckBox *>(at)) {
            QTest::keyClick(box, Qt::Key_Space);
            return;
        }
        if (auto *choice = qobject_cast<QComboBox *>(at)) {
            for (int i = 0; i < choice->count() && choice->currentText() != value; ++i)
                QTest::keyClick(choice,
                                choice->currentIndex() + 1 < choice->count() ? Qt::Key_Down : Qt::Key_Home);
            QCOMPARE(choice->currentText(), value);
            return;
        }
        QTest::keyClick(at, Qt::Key_A, Qt::ControlModifier);
        QTest::keyClicks(at, value);
        QTest::keyClick(at, Qt::Key_Return);
    }

    /// A new row of a list, cell by cell.
    void addRow(const char *list, const std::vector<std::pair<const char *, QString>> &cells) {
        shell().showPlace(QLatin1String(list));
        settle();
        RecordTable *table = nullptr; // the first of that page
        for (RecordTable *t : shell().findChildren<RecordTable *>())
            if (!table && t->isVisible()) table = t;
        QVERIFY2(table, list);
        table->view()->setFocus();
        CopyTable *view = table->view();
        const int row = view->model()->rowCount() - 1;
        for (const auto &[title, value] : cells) {
            int column = 0;
            while (column < view->model()->columnCount() &&
                   view->model()->headerData(column, Qt::Horizontal).toString() != QLatin1String(title))
                ++column;
            const QModelIndex at = view->model()->index(row, column);
            QVERIFY2(at.isValid(), title);
            view->setCurrentIndex(at);
            if (at.flags() & Qt::ItemIsUserCheckable) {
                if (at.data(Qt::CheckStateRole).toInt() != Qt::Checked) QTest::keyClick(view, Qt::Key_Space);
                continue;
            }
            view->edit(at);
            QWidget *editor = shell().focusWidget();
            if (auto *choice = qobject_cast<QComboBox *>(editor)) {
                QVERIFY2(choice->findText(value) >= 0, qPrintable(value));
                choice->setCurrentText(value);
                QTest::keyClick(choice, Qt::Key_Return);
            } else {
                QTest::keyClick(editor, Qt::Key_A, Qt::ControlModifier);
                QTest::keyClicks(editor, value);
                QTest::keyClick(editor, Qt::Key_Return);
            }
            settle();
        }
    }

    void drive(const QJsonArray &steps) {
        const QString log = m_car->drive(steps);
        QVERIFY2(!log.isEmpty(), qPrintable(m_car->why()));
        QVERIFY(!m_car->destroyed);
        addRow("fuel/pour",
               {{"What", QStringLiteral("Burned")}, {"Litres", QString::number(m_car->burnedL, 'f', 2)}});
        const std::size_t before = job().logs.size();
        m_path = log;
        shell().showStation(QStringLiteral("evidence"));
        clickButton(*shell().view(QStringLiteral("evidence")), QStringLiteral("Bring in a log…"));
        QVERIFY(wait([&] { return job().logs.size() == before + 1; }));
    }
    static QJsonArray lightLoad() {
        QJsonArray steps{
            step("idle", {{"seconds", 10}}),
            step("cruise",
                 {{"from_rpm", 1800}, {"to_rpm", 4200}, {"from_kpa", 40}, {"to_kpa", 90}, {"seconds", 12}})};
        for (const int kpa : {45, 60, 75, 90})
            steps.append(step("hold", {{"rpm", 2000 + 25 * kpa}, {"load_kpa", kpa}, {"seconds", 5}}));
        return steps;
    }
    static QJsonArray pull(const char *mode = "loaded", double to = 6790) {
        return {step("cool_down", {{"seconds", 240}}), step("idle", {{"seconds", 8}}),
                step("pull", {{"mode", QLatin1String(mode)}, {"to_rpm", to}}),
                step("idle", {{"seconds", 2}})};
    }

    /// The ruler goes to what is in the tank.
    void toContent(double content) {
        auto *ruler = shell().findChild<ContentRuler *>();
        ruler->setFocus();
        QTest::keyClick(ruler, Qt::Key_Home);
        for (int i = 0; i < qRound(100 * content); ++i)
            QTest::keyClick(ruler, Qt::Key_Right);
    }
    void take(const char *kind) {
        shell().showPlace(QStringLiteral("evidence/proposals"));
        QWidget *page = shell().view(QStringLiteral("evidence"));
        QTest::mouseClick(page->findChild<QPushButton *>(QLatin1String("propose.") + QLatin1String(kind)),
                          Qt::LeftButton);
        auto *take = page->findChild<QPushButton *>(QStringLiteral("takeProposal"));
        const auto before = session().jobVersion();
        toContent(m_car->content());
        if (!wait([&] { return take->isEnabled(); }, 30000)) {
            picture("nothing-to-take");
            return; // the next log may say more
        }
        QTest::mouseClick(take, Qt::LeftButton);
        QVERIFY(wait([&] { return session().jobVersion() != before; }, 20000));
    }
    void keep(const QString &name) {
        QTest::keyClick(&shell(), Qt::Key_R, Qt::ControlModifier);
        settle();
        auto *line = shell().findChild<QLineEdit *>(QStringLiteral("keepName"));
        QTest::keyClicks(line, name);
        const std::size_t before = job().revisions.size();
        QTest::mouseClick(shell().findChild<QPushButton *>(QStringLiteral("keep")), Qt::LeftButton);
        QCOMPARE(job().revisions.size(), before + 1);
        QTest::keyClick(&shell(), Qt::Key_R, Qt::ControlModifier);
    }

    /// The pull that was just made, as a run of the road.
    void takeRoad() {
        shell().showPlace(QStringLiteral("runs/runRoad"));
        QWidget *runs = shell().view(QStringLiteral("runs"));
        auto *there = runs->findChild<QComboBox *>(QStringLiteral("there"));
        auto *take = runs->findChild<QPushButton *>(QStringLiteral("takeRoad"));
        const QString log = QFileInfo(m_path).completeBaseName() + QLatin1Char(' ');
        QVERIFY(wait([&] { return there->itemText(there->count() - 1).startsWith(log); }));
        there->setFocus();
        QTest::keyClick(there, Qt::Key_End);
        const std::size_t before = job().runs.size();
        QVERIFY(wait([&] { return take->isEnabled(); }));
        QVERIFY(wait([&] {
            if (job().runs.size() == before) QTest::mouseClick(take, Qt::LeftButton);
            return job().runs.size() == before + 1;
        }));
    }
    /// The dyno's own curve of the pull that was just made.
    void takeCurve() {
        const QFileInfoList curves =
            QDir(m_car->curves).entryInfoList({QStringLiteral("*.csv")}, QDir::Files, QDir::Name);
        QVERIFY(!curves.isEmpty());
        m_path = curves.last().absoluteFilePath();
        const std::size_t before = job().runs.size();
        shell().showStation(QStringLiteral("runs"));
        settle();
        auto *bring = shell()
                          .view(QStringLiteral("runs"))
                          ->findChild<QPushButton *>(job().runs.empty() ? QStringLiteral("firstRuns")
                                                                        : QStringLiteral("bringRuns"));
        QTest::mouseClick(bring, Qt::LeftButton);
        QVERIFY(wait([&] { return job().runs.size() == before + 1; }));
    }
    /// The first thing of the list beside every view that this button says.
    QPushButton *inNext(const QString &words) {
        for (QPushButton *b : shell().findChildren<QPushButton *>())
            if (b->isVisible() && b->accessibleName().contains(words)) return b;
        return nullptr;
    }
    /// What a new job's tables begin with is an estimate, until somebody says of all of a table that it is
    /// so: what the person wants of this engine, and spark as it was driven.
    void stateTables() {
        for (const char *asked : {"lambda targets", "boost targets", "spark tables"}) {
            ladder(); // a cell that is selected shows its working in that place
            QVERIFY2(wait([&] { return inNext(QLatin1String(asked)); }), asked);
            QTest::mouseClick(inNext(QLatin1String(asked)), Qt::LeftButton);
            settle();
            auto *grid = shell().view(QStringLiteral("tables"))->findChild<TableGrid *>();
            grid->setFocus();
            QTest::keyClick(grid, Qt::Key_A, Qt::ControlModifier);
            const std::uint64_t before = session().jobVersion();
            for (QAction *a : shell().findChildren<QAction *>())
                if (a->text().startsWith(QStringLiteral("Say that the selected"))) a->trigger();
            QVERIFY2(session().jobVersion() != before, asked);
        }
        ladder();
        QVERIFY(wait(
            [&] { return !inNext(QStringLiteral("targets")) && !inNext(QStringLiteral("spark tables")); }));
    }
    /// What the owner gets, as a file.
    void saveHandOver() {
        shell().showStation(QStringLiteral("handover"));
        auto *save = shell()
                         .view(QStringLiteral("handover"))
                         ->findChild<QPushButton *>(QStringLiteral("saveHandover"));
        QVERIFY(wait([&] { return save->isEnabled(); }));
        // Not before the logs have spoken: their proof stands on its first page.
        const QString page =
            text(plainText(m_window->view<HandoverView>("handover")->report(), wordingOf(session().units())));
        QVERIFY2(page.contains(QStringLiteral("Driven there, clean")), qPrintable(page.left(600)));
        m_path = m_window->path("hand-over.pdf");
        QTest::mouseClick(save, Qt::LeftButton);
        QVERIFY(wait([&] { return QFileInfo(m_path).size() > 0; }));
    }

    const Rung *next() {
        ladder();
        QTest::qWait(30); // it sees that it is shown
        if (!wait([&] { return ladder().book().current() && ladder().book().shown(); })) return nullptr;
        const Rung *r = ladder().book().shown()->ladder.next();
        if (r) ladder().drawing().choose(r->id);
        settle();
        return r;
    }
    void readTube() {
        addRow("fuel/pour", {{"What", QStringLiteral("Tube read")},
                             {"Ethanol", QString::number(100 * m_car->content(), 'f', 1)}});
    }
    void pour(const Rung &rung);
    void climb(const std::string &id);
    void answerGate(const GateResult &gate, const Rung &rung);

    std::unique_ptr<TestWindow> m_window;
    std::unique_ptr<Car> m_car;
    QTimer m_answers;
    QString m_path;
    int m_pictures = 0;
};

// Drains and pours what the rung says, drives until the lines hold it, and reads a tube.
void WholeWayTest::pour(const Rung &rung) {
    QJsonArray steps;
    if (rung.drainL > 0) {
        m_car->drain(rung.drainL);
        addRow("fuel/pour", {{"What", QStringLiteral("Drained")}, {"Litres", QString::number(rung.drainL)}});
    }
    for (const RungPour &p : rung.pours) {
        steps.append(step("pour", {{"litres", p.litres}, {"fuel", text(p.name)}}));
        const bool strong = p.name == "Strong";
        addRow("fuel/pour", {{"What", QStringLiteral("Poured in")},
                             {"Litres", QString::number(p.litres)},
                             {"Ethanol", strong ? QStringLiteral("85") : QStringLiteral("10")}});
    }
    if (!steps.isEmpty()) {
        steps.append(
            step("cruise",
                 {{"from_rpm", 1800}, {"to_rpm", 3000}, {"from_kpa", 40}, {"to_kpa", 70}, {"seconds", 180}}));
        QVERIFY2(!m_car->drive(steps).isEmpty(), qPrintable(m_car->why()));
        addRow("fuel/pour",
               {{"What", QStringLiteral("Burned")}, {"Litres", QString::number(m_car->burnedL, 'f', 2)}});
    }
    readTube();
}

void WholeWayTest::answerGate(const GateResult &gate, const Rung &rung) {
    using R = GateRemedy;
    if (gate.gate->id == "before_after") {
        drive(pull());
        return takeCurve();
    }
    switch (gate.answer.remedy) {
    case R::lightLoad:
        return drive(lightLoad());
    case R::shortPull:
        return drive(pull("loaded", 4600));
    case R::pull:
    case R::cool:
    case R::wait:
    case R::findCause: // of a road alone: nobody gets past it otherwise
        if (rung.kind != RungKind::road) {
            QVERIFY2(gate.answer.remedy != R::findCause,
                     qPrintable(text(gate.answer.said, session().units())));
            return drive(pull());
        }
        drive(pull("road", 6000)); // to the end of a gear there is no road for
        if (!QTest::currentTestFailed()) takeRoad();
        return;
    case R::correctFuel:
        return take("fuel");
    case R::takeSpark: {
        const std::size_t before = job().corrections.size();
        take("spark");
        if (job().corrections.size() == before) drive(pull()); // heard once as the throttle opened
        return;
    }
    case R::testTube:
        return readTube();
    case R::pour: { // what the tube says is believed, and planned from
        addRow("fuel/pour", {{"What", QStringLiteral("Content believed")},
                             {"Ethanol", QString::number(100 * m_car->content(), 'f', 1)}});
        const Rung *again = next();
        QVERIFY(again);
        return pour(Rung(*again));
    }
    case R::set:
    case R::lookAt:
        QTest::mouseClick(&ladder().doButton(), Qt::LeftButton);
        return;
    default:
        QFAIL(qPrintable(text(gate.answer.said, session().units())));
    }
}

// Until it is passed by what its gates say.
void WholeWayTest::climb(const std::string &id) {
    for (int i = 0; i < 60; ++i) {
        const Rung *r = next();
        QVERIFY(r);
        if (r->id != id) return; // passed, or planned anew
        const Rung rung = *r;
        if (ladder().passButton().isEnabled()) {
            QTest::mouseClick(&ladder().passButton(), Qt::LeftButton);
            return;
        }
        const RungStatus status = ladder().book().shown()->status.at(id);
        const GateResult *first = status.first();
        if (!first) { // all are passed, which the button learns a moment later
            QVERIFY2(wait([&] { return ladder().passButton().isEnabled(); }), id.c_str());
            continue;
        }
        ladder().gates().choose(static_cast<std::size_t>(first - status.gates.data()));
        settle();
        const GateResult &asked = *first;
        qInfo() << id.c_str() << asked.gate->id.data() << text(asked.answer.said, session().units());
        answerGate(asked, rung);
        if (QTest::currentTestFailed()) return;
    }
    QFAIL(qPrintable(QStringLiteral("no way past ") + text(id)));
}

void WholeWayTest::fromTheFirstScreenToTheHandOver() {
    // A day at the dyno: every time that somebody looks at the clock a minute has passed.
    m_window = std::make_unique<TestWindow>(
        [at = TestWindow::fixedTime()]() mutable { return at = at.addSecs(60); });
    answerDialogs();
    picture("first-screen");
    m_path = m_window->path("bramble-two.wwjob");
    QTest::mouseClick(shell().view(QStringLiteral("job"))->findChild<QPushButton *>(QStringLiteral("new")),
                      Qt::LeftButton);
    QVERIFY(wait([&] { return session().hasJob(); }));
    QCOMPARE(job().name, std::string("Bramble two"));
    picture("new-job");
    // Intake: what the owner knows of it.
    for (const auto &[path, value] : {std::pair{"tank.capacity_l", "60"},
                                      {"boost.spring_kpa", "60"},
                                      {"tank.line_l", "0.5"},
                                      {"fuel_system.rated_ethanol", "100"},
                                      {"ladder.pulls", "1"}})
        say(path, QLatin1String(value));
    for (const char *ticked : {"spark.knock_control", "supply.returns", "fuel_system.content_sensor"}) {
        if (!std::get<bool>(fieldByPath(ticked)->read(job()))) say(ticked, {});
        if (QTest::currentTestFailed()) return;
    }
    say("ladder.route", QStringLiteral("Straight to both ends"));
    say("evidence.spark_school", QStringLiteral("not at all: fixed values")); // knock is taken away, no more
    QVERIFY(job().sparkSchool == SparkSchool::fixed);
    picture("intake");
    addRow("fuel/shelf",
           {{"Fuel", QStringLiteral("Pump")}, {"Ethanol", QStringLiteral("10")}, {"Plan with", {}}});
    addRow("fuel/shelf",
           {{"Fuel", QStringLiteral("Strong")}, {"Ethanol", QStringLiteral("85")}, {"Plan with", {}}});
    picture("shelf");
    addRow("fuel/pour", {{"What", QStringLiteral("Level read")}, {"Litres", QStringLiteral("30")}});
    addRow("fuel/pour", {{"What", QStringLiteral("Content believed")}, {"Ethanol", QStringLiteral("10")}});
    if (QTest::currentTestFailed()) return;
    m_car = std::make_unique<Car>(m_window->path("bramble-two.wwjob"), m_window->folder.path());
    QVERIFY(m_car->draw());
    const Rung *first = next();
    QVERIFY(first && first->kind == RungKind::preflight);
    picture("ladder-preflight");
    for (int i = 0; i < ladder().preflight().count(); ++i) {
        ladder().preflight().setCurrentRow(i);
        QTest::keyClick(&ladder().preflight(), Qt::Key_Space);
        QVERIFY(wait([&] { return ladder().book().current(); }));
    }
    QTest::mouseClick(&ladder().passButton(), Qt::LeftButton);
    bool handed = false;
    for (int i = 0; i < 30 && !handed; ++i) {
        const Rung *r = next();
        if (!r) break;
        const Rung rung = *r;
        if (rung.kind == RungKind::handOver) {
            handed = true;
            stateTables();
            if (QTest::currentTestFailed()) return;
            picture("stated");
            keep(QStringLiteral("Handed over"));
        } else if (rung.kind != RungKind::road) {
            pour(rung);
            next();
            if (rung.boostKpa && rung.kind != RungKind::wayDown && ladder().boostButton().isEnabled())
                QTest::mouseClick(&ladder().boostButton(), Qt::LeftButton);
        }
        climb(rung.id);
        if (QTest::currentTestFailed()) return;
        picture(rung.id.c_str());
        if (rung.kind == RungKind::baseBoost && job().runs.empty()) takeCurve();
    }
    QVERIFY(handed && !next());
    shell().showStation(QStringLiteral("verify"));
    QVERIFY(wait([&] { return session().verdict() != nullptr; }));
    picture("verify");
    saveHandOver();
    picture("hand-over");
    // What was saved is a document of some pages, and carries the mark of the calibration that it is about.
    QFile saved(m_path);
    QVERIFY(saved.open(QIODevice::ReadOnly));
    const QByteArray pdf = saved.readAll();
    QVERIFY(pdf.startsWith("%PDF-"));
    const std::optional<Seal> seal = sealOf(pdf.toStdString());
    QVERIFY(seal && seal->intact);
    QCOMPARE(seal->calibration, calibrationPrint(stateOf(job())));
}

int main(int argc, char **argv) {
    QApplication app(argc, argv);
    return run<WholeWayTest>(argc, argv);
}
#include "whole_way_test.moc"
