// SPDX-License-Identifier: GPL-3.0-or-later
#include "session/evidence.h"
#include "session/log_arrival.h"
#include "session/strip_samples.h"
#include "store/sample_store.h"
#include "support/test_window.h"
#include "ui/views/evidence/cleaning_page.h"
#include "ui/views/evidence/column_model.h"
#include "ui/views/evidence/coverage_page.h"
#include "ui/views/evidence/evidence_view.h"
#include "ui/views/evidence/log_import_dialog.h"
#include "ui/views/evidence/log_slips.h"
#include "ui/views/evidence/pulls_page.h"
#include "ui/views/evidence/strip_page.h"
#include "ui/views/evidence/time_strip.h"
#include "ui/views/tables/tables_view.h"
#include "ui/widgets/chart_plot.h"
#include "ui/widgets/content_ruler.h"
#include "ui/widgets/limit_edit.h"
#include "ui/widgets/notice_bar.h"
#include "ui/widgets/page_switch.h"
#include "ui/widgets/report_view.h"
#include "ui/widgets/working_panel.h"

#include <QCheckBox>
#include <QClipboard>
#include <QDialog>
#include <QLabel>
#include <QLineEdit>
#include <QMimeData>
#include <QStandardPaths>

#include <memory>

using namespace wheelwright;
using namespace wheelwright::testing;

void wheelwrightResources() {
    Q_INIT_RESOURCE(resources);
}

/// Logs in the real window: from the file that is dropped on it to the cell that it speaks of.
class EvidenceViewTest : public QObject {
    Q_OBJECT
  private slots:
    void initTestCase() {
        QStandardPaths::setTestModeEnabled(true);
        dressApplication();
    }
    void init() {
        QDir(QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + QStringLiteral("/maps"))
            .removeRecursively();
        m_window = std::make_unique<TestWindow>();
    }
    void cleanup() { m_window.reset(); }
    void cleanupTestCase() { QVERIFY2(QApplication::topLevelWidgets().isEmpty(), "a window was leaked"); }

    void anEmptyStationTeaches();
    void fromTheDropToTheCell();
    void theQuestionIsAsked();
    void aConfirmedMapIsRemembered();
    void theSameLogAgainIsRefused();
    void aChannelIsWorkedOut();
    void aBrokenFileSaysWhere();
    void cancelLeavesNothing();
    void undoTakesTheLogOut();
    void theStripIsDrivenByKeys();
    void holesAreFolded();
    void cleaningIsEditedAndUndone();
    void outlinesOfFallingNumbersAreTurned();
    void silenceInAPullIsNotClean();
    void contentIsStated();
    void aCellKnowsItsLogs();
    void whereBeenIsTheCoverage();
    void theVerdictHeedsTheLogs();
    void twoStretchesAreLaidOver();
    void longLogsAreLaidAside();
    void aTableIsStillATable();
    void closingStopsWhatComesIn();

  private:
    Session &session() { return m_window->session; }
    Evidence &evidence() { return session().evidence(); }
    EvidenceView &view() { return *m_window->view<EvidenceView>("evidence"); }
    TimeStrip &strip() { return view().strip().strip(); }
    static QString demoLog(const char *name) {
        return QStringLiteral(SOURCE_DIR "/data/demo/logs/") + QLatin1String(name);
    }
    /// A log of the demo with other text in it.
    QString changed(const char *name, const std::function<void(QStringList &)> &change) {
        QFile from(demoLog(name));
        if (!from.open(QIODevice::ReadOnly)) return {};
        QStringList lines = QString::fromUtf8(from.readAll()).split(QLatin1Char('\n'), Qt::SkipEmptyParts);
        change(lines);
        const QString path = m_window->path("changed.csv");
        QFile to(path);
        if (!to.open(QIODevice::WriteOnly)) return {};
        to.write(lines.join(QLatin1Char('\n')).toUtf8() + '\n');
        return path;
    }
    void drop(const QStringList &files) {
        QMimeData data;
        QList<QUrl> urls;
        for (const QString &f : files)
            urls << QUrl::fromLocalFile(f);
        data.setUrls(urls);
        QDragEnterEvent enter(QPoint(5, 5), Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
        QApplication::sendEvent(&m_window->shell, &enter);
        QDropEvent event(QPointF(5, 5), Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
        QApplication::sendEvent(&m_window->shell, &event);
    }
    LogImportDialog *dialog() { return m_window->shell.findChild<LogImportDialog *>(); }
    LogImportDialog *shownDialog() {
        for (int i = 0; i < 500; ++i) {
            if (LogImportDialog *d = dialog(); d && d->arrival().preview()) return d;
            QTest::qWait(10);
        }
        return nullptr;
    }
    bool bring(LogImportDialog &d) {
        const std::size_t before = session().job().logs.size();
        d.findChild<QPushButton *>(QStringLiteral("bring"))->click();
        for (int i = 0; i < 1000 && session().job().logs.size() == before && d.trouble().isEmpty(); ++i)
            QTest::qWait(10);
        return session().job().logs.size() > before;
    }
    bool allRead() {
        for (int i = 0; i < 3000; ++i) {
            if (evidence().allRead() && evidence().coverage() && !session().verdictPending()) {
                settle();
                return true;
            }
            QTest::qWait(10);
        }
        return false;
    }
    /// The demo job with some of its logs, read through.
    bool openWith(std::initializer_list<const char *> logs) {
        m_window->open(demoJob());
        for (const char *log : logs) {
            drop({demoLog(log)});
            LogImportDialog *d = shownDialog();
            if (!d || !bring(*d)) return false;
            QTest::qWait(20); // it closes
        }
        return allRead();
    }

    std::unique_ptr<TestWindow> m_window;
};

void EvidenceViewTest::anEmptyStationTeaches() {
    m_window->open(demoJob());
    view();
    settle();
    QVERIFY(!view().slips().isVisible());
    bool teaches = false;
    for (const QLabel *l : view().findChildren<QLabel *>())
        teaches =
            teaches || (l->isVisible() && l->text().contains(QStringLiteral("Drag a log onto the window")));
    QVERIFY(teaches);
}

// Drop a file, map it, find the fault, jump to the cell.
void EvidenceViewTest::fromTheDropToTheCell() {
    m_window->open(demoJob());
    drop({demoLog("thistle-e62-pump.csv")});
    QCOMPARE(m_window->shell.station(), QStringLiteral("evidence"));
    LogImportDialog *d = shownDialog();
    QVERIFY(d);
    QCOMPARE(d->columns().rowCount(), 23);
    const QModelIndex map = d->columns().index(2, ColumnModel::role);
    QCOMPARE(map.data().toString(), QStringLiteral("Manifold pressure"));
    QVERIFY2(d->columns().index(4, ColumnModel::outlook).data().toString().contains(QStringLiteral("0.")),
             qPrintable(d->columns().index(4, ColumnModel::outlook).data().toString()));
    QVERIFY(bring(*d));
    QVERIFY(allRead());
    QCOMPARE(session().job().logs.size(), std::size_t{1});
    QVERIFY(view().slips().isVisible());
    QVERIFY(view().slips().words(0).contains(QStringLiteral("E61")));

    // The finding that this log was made for, by its link.
    const auto review = evidence().review(evidence().log());
    const auto &found = review->findings().found;
    const auto sag = std::ranges::find(found, std::string_view("rail_sag"),
                                       [](const LogFinding &f) { return f.rule->id; });
    QVERIFY(sag != found.end());
    QVERIFY(view().strip().found().contains(QString::fromUtf8(sag->rule->title.text.data())));
    const auto index = static_cast<std::size_t>(sag - found.begin());
    auto *report = view().strip().findChild<ReportView *>();
    emit report->linkWanted(QStringLiteral("finding:%1").arg(index));
    QCOMPARE(evidence().momentS(), sag->worstS);
    QVERIFY(strip().fromS() <= sag->beginS && strip().toS() >= sag->endS);
    QVERIFY(session().explanation());
    QCOMPARE(session().explanation()->result.value, sag->worst);
    settle();
    QVERIFY(m_window->shell.working().shownText().contains(QStringLiteral("What would change it")));

    view().strip().findChild<QPushButton *>(QStringLiteral("toTables"))->click();
    QCOMPARE(m_window->shell.station(), QStringLiteral("tables"));
    const Table2D &t = session().table();
    QCOMPARE(session().cell().x, t.x().nearest(sag->rpm));
    QCOMPARE(session().cell().y, t.y().nearest(sag->loadKpa));
    COMPARE_NEAR(session().content(), sag->content, 1e-9);
}

void EvidenceViewTest::theQuestionIsAsked() {
    m_window->open(demoJob());
    // λ as AFR, and the manifold pressure above the air: only the user can know.
    const QString file = changed("thistle-e62-road.csv", [](QStringList &lines) {
        lines[0]
            .replace(QStringLiteral("map_kpa"), QStringLiteral("boost_kpa"))
            .replace(QStringLiteral(",lambda,"), QStringLiteral(",afr,"));
        for (qsizetype i = 1; i < lines.size(); ++i) {
            QStringList cells = lines[i].split(QLatin1Char(','));
            cells[2] = QString::number(cells[2].toDouble() - 98.0, 'f', 1);
            cells[4] = QString::number(cells[4].toDouble() * 14.7, 'f', 2);
            lines[i] = cells.join(QLatin1Char(','));
        }
    });
    drop({file});
    LogImportDialog *d = shownDialog();
    QVERIFY(d);
    QVERIFY2(d->question().contains(QStringLiteral("afr")), qPrintable(d->question()));
    QPushButton *own = nullptr;
    for (QPushButton *b : d->findChildren<QPushButton *>())
        if (b->text() == QStringLiteral("The fuel's own")) own = b;
    QVERIFY(own);
    const QString before = d->columns().index(4, ColumnModel::outlook).data().toString();
    own->click();
    QVERIFY(d->columns().index(4, ColumnModel::outlook).data().toString() != before);
    QVERIFY(!d->question().contains(QStringLiteral("afr")));
    // A role of one's own: by the list in the cell.
    QVERIFY(d->columns().setData(d->columns().index(9, ColumnModel::role),
                                 static_cast<int>(ChannelRole::none), Qt::EditRole));
    QVERIFY(
        !d->columns().setData(d->columns().index(9, ColumnModel::file), QStringLiteral("x"), Qt::EditRole));
    // A unit that is none is said, and nothing comes in.
    QVERIFY(d->columns().setData(d->columns().index(10, ColumnModel::unit), QStringLiteral("furlongs"),
                                 Qt::EditRole));
    QVERIFY(!bring(*d));
    QVERIFY2(d->trouble().contains(QStringLiteral("furlongs")), qPrintable(d->trouble()));
    QVERIFY(session().job().logs.empty());
    QVERIFY(
        d->columns().setData(d->columns().index(10, ColumnModel::unit), QStringLiteral("°C"), Qt::EditRole));
    d->findChild<QLineEdit *>(QStringLiteral("content"))->setText(QStringLiteral("62"));
    QVERIFY(bring(*d));
    const LogChannel *lambda = nullptr, *map = nullptr;
    for (const LogChannel *c : channelsOf(session().job(), evidence().log())) {
        if (c->role == ChannelRole::lambda) lambda = c;
        if (c->role == ChannelRole::map) map = c;
        QVERIFY(c->name != "fuel_c" || c->role == ChannelRole::none);
    }
    QVERIFY(lambda && map);
    // Stoichiometry of the stated content, by the fuel model itself.
    COMPARE_NEAR(lambda->scale, 1 / session().study().fuelAt(0.62).stoichiometricAfr, 1e-12);
    COMPARE_NEAR(map->offset, session().job().conditions.ambientKpa, 1e-9);
    QCOMPARE(logById(session().job(), evidence().log())->content, 0.62);
}

void EvidenceViewTest::aConfirmedMapIsRemembered() {
    m_window->open(demoJob());
    drop({demoLog("thistle-e10-hot.csv")});
    LogImportDialog *d = shownDialog();
    QVERIFY(d);
    QVERIFY(!d->arrival().preview()->remembered);
    QVERIFY(d->columns().setData(d->columns().index(17, ColumnModel::role),
                                 static_cast<int>(ChannelRole::none), Qt::EditRole));
    QVERIFY(bring(*d));
    QTest::qWait(20);
    drop({demoLog("thistle-e41-pulls.csv")});
    d = shownDialog();
    QVERIFY(d);
    QVERIFY(d->arrival().preview()->remembered);
    QCOMPARE(d->columns().mapped(17).role, ChannelRole::none);
    d->reject();
}

void EvidenceViewTest::theSameLogAgainIsRefused() {
    QVERIFY(openWith({"thistle-e10-hot.csv"}));
    drop({demoLog("thistle-e10-hot.csv")});
    LogImportDialog *d = shownDialog();
    QVERIFY(d);
    QVERIFY(!bring(*d));
    QVERIFY2(d->trouble().contains(QStringLiteral("the same samples")), qPrintable(d->trouble()));
    QCOMPARE(session().job().logs.size(), std::size_t{1});
    QVERIFY(SampleReader(session().path()).has(session().job().logs.values().front().id));
}

void EvidenceViewTest::aChannelIsWorkedOut() {
    m_window->open(demoJob());
    drop({demoLog("thistle-e62-road.csv")});
    LogImportDialog *d = shownDialog();
    QVERIFY(d);
    const int rows = d->columns().rowCount();
    d->columns().addWorked(workedFrom("torque = pulse_width * 10"));
    QCOMPARE(d->columns().rowCount(), rows + 1);
    const QModelIndex name = d->columns().index(rows, ColumnModel::file);
    QCOMPARE(name.data().toString(), QStringLiteral("torque = pulse_width * 10"));
    QVERIFY(!d->columns().index(rows, ColumnModel::outlook).data().toString().isEmpty());
    EXPECT_INPUT_ERROR(d->columns().addWorked(workedFrom("x = [nothing] + 1")), "nothing");
    QCOMPARE(d->columns().rowCount(), rows + 1);
    // What it is made of has another role: it looks like nothing, and does not come in.
    QVERIFY(d->columns().setData(d->columns().index(12, ColumnModel::role),
                                 static_cast<int>(ChannelRole::none), Qt::EditRole));
    QVERIFY(d->columns()
                .index(rows, ColumnModel::outlook)
                .data()
                .toString()
                .contains(QStringLiteral("No number")));
    QVERIFY(!bring(*d));
    QVERIFY(d->trouble().contains(QStringLiteral("pulse_width")));
    QVERIFY(d->columns().setData(d->columns().index(12, ColumnModel::role),
                                 static_cast<int>(ChannelRole::pulseWidth), Qt::EditRole));
    QVERIFY(bring(*d));
    QVERIFY(allRead());
    const LogTrace &t = evidence().review(evidence().log())->trace();
    for (std::size_t i = 0; i < t.size(); i += 50)
        COMPARE_NEAR(t.at(ChannelRole::torque, i), t.at(ChannelRole::pulseWidth, i) * 10,
                     1e-3); // kept in 4 bytes
}

void EvidenceViewTest::aBrokenFileSaysWhere() {
    m_window->open(demoJob());
    const QString file =
        changed("thistle-e62-road.csv", [](QStringList &lines) { lines[300] += QStringLiteral(",7,8"); });
    drop({file});
    LogImportDialog *d = shownDialog();
    QVERIFY(d);
    QVERIFY(!bring(*d));
    QVERIFY2(d->trouble().contains(QStringLiteral("301")), qPrintable(d->trouble()));
    QVERIFY(session().job().logs.empty());
    QVERIFY(d->isVisible()); // nothing that was said of it is lost
    d->findChild<QCheckBox *>()->setChecked(true);
    for (int i = 0; i < 300 && d->arrival().looking().running(); ++i)
        QTest::qWait(10);
    QVERIFY(bring(*d));
    QCOMPARE(session().job().logs.values().front().rows, 299.0);
    QVERIFY(!session().job().logs.values().front().warnings.empty());
}

void EvidenceViewTest::cancelLeavesNothing() {
    m_window->open(demoJob());
    // Long enough to be caught at it; or a file of somebody's own, of any size.
    const QString own = qEnvironmentVariable("WHEELWRIGHT_BIG_LOG");
    const QString file = !own.isEmpty() ? own : changed("thistle-e62-road.csv", [](QStringList &lines) {
        const QStringList rows = lines.mid(1);
        for (int turn = 1; turn < 400; ++turn)
            for (const QString &row : rows) {
                const qsizetype comma = row.indexOf(QLatin1Char(','));
                lines << QString::number(row.left(comma).toDouble() + turn * 60.0, 'f', 2) + row.mid(comma);
            }
    });
    drop({file});
    LogImportDialog *d = shownDialog();
    QVERIFY(d);
    d->findChild<QPushButton *>(QStringLiteral("bring"))->click();
    QVERIFY(d->arrival().bringing().running());
    double share = 0;
    connect(&d->arrival().bringing(), &WorkSignals::progressed, d, [&](double s) { share = s; });
    for (int i = 0; i < 600 && !own.isEmpty() && share < 0.1; ++i)
        QTest::qWait(50);
    d->findChild<QPushButton *>(QStringLiteral("cancel"))->click();
    QVERIFY(!d->arrival().bringing().running());
    QVERIFY(d->isVisible());
    QVERIFY(session().job().logs.empty());
    WorkSignals::pool(WorkSignals::Length::lengthy).waitForDone();
    settle();
    QVERIFY(session().job().logs.empty());
    d->findChild<QPushButton *>(QStringLiteral("cancel"))->click();
    QTest::qWait(20);
    QVERIFY(!dialog());
    QCOMPARE(session().undoStack().count(), 0);
}

void EvidenceViewTest::undoTakesTheLogOut() {
    QVERIFY(openWith({"thistle-e10-hot.csv", "thistle-e62-pump.csv"}));
    const std::string second = evidence().log();
    const auto first = evidence().review(session().job().logs.values().front().id);
    session().undo();
    QCOMPARE(session().job().logs.size(), std::size_t{1});
    QVERIFY(evidence().log() != second);
    QCOMPARE(evidence().review(evidence().log()), first); // what one log says stays
    session().redo();
    QCOMPARE(session().job().logs.size(), std::size_t{2});
    QVERIFY(allRead());
    evidence().setLog(second);
    QVERIFY(evidence().review(second));
    // The same by the button and by Delete.
    view().findChild<QPushButton *>(QStringLiteral("removeLog"))->click();
    QCOMPARE(session().job().logs.size(), std::size_t{1});
    view().slips().setFocus();
    QTest::keyClick(&view().slips(), Qt::Key_Delete);
    QVERIFY(session().job().logs.empty());
    session().undo();
    session().undo();
    QCOMPARE(session().job().logs.size(), std::size_t{2});
    QVERIFY(SampleReader(session().path()).has(second));
}

void EvidenceViewTest::theStripIsDrivenByKeys() {
    QVERIFY(openWith({"thistle-e62-pump.csv"}));
    TimeStrip &s = strip();
    s.setFocus();
    const auto review = evidence().review(evidence().log());
    const LogTrace &t = review->trace();
    const double whole = s.toS() - s.fromS();
    QTest::keyClick(&s, Qt::Key_Home);
    COMPARE_NEAR(evidence().momentS(), t.timeS(0), 1e-9);
    QTest::keyClick(&s, Qt::Key_Right);
    COMPARE_NEAR(evidence().momentS(), t.timeS(1), 1e-9);
    QTest::keyClick(&s, Qt::Key_Right, Qt::ShiftModifier);
    COMPARE_NEAR(evidence().momentS(), t.timeS(11), 1e-9);
    QTest::keyClick(&s, Qt::Key_Plus);
    COMPARE_NEAR(s.toS() - s.fromS(), whole / 2, whole * 1e-6);
    QVERIFY(s.fromS() <= evidence().momentS() && evidence().momentS() <= s.toS());
    QTest::keyClick(&s, Qt::Key_End); // the moment stays in view
    QVERIFY(s.toS() >= t.timeS(t.size() - 1) - 1e-9);
    QTest::keyClick(&s, Qt::Key_0);
    COMPARE_NEAR(s.toS() - s.fromS(), whole, 1e-9);
    QTest::keyClick(&s, Qt::Key_Home);
    QTest::keyClick(&s, Qt::Key_Period);
    double firstWorst = 1e9;
    for (const LogFinding &f : review->findings().found)
        firstWorst = std::min(firstWorst, f.worstS);
    COMPARE_NEAR(evidence().momentS(), firstWorst, 1e-9);
    // By mouse: where it is pressed is the moment.
    QTest::keyClick(&s, Qt::Key_0);
    const QPoint place = s.laneRect(1).center();
    QTest::mouseClick(&s, Qt::LeftButton, {}, place);
    COMPARE_NEAR(evidence().momentS(), s.timeAt(place.x()), 1e-6);
    COMPARE_NEAR(s.positionOf(evidence().momentS()), place.x(), 0.5);
    s.copy();
    const QStringList rows = QApplication::clipboard()->text().split(QLatin1Char('\n'), Qt::SkipEmptyParts);
    QCOMPARE(static_cast<std::size_t>(rows.size()), t.size() + 1);
    QVERIFY(!s.accessibleDescription().isEmpty());
    QVERIFY(!s.grab().isNull());
}

// Three pulls with minutes between them stand side by side, and every place still knows its time.
void EvidenceViewTest::holesAreFolded() {
    QVERIFY(openWith({"thistle-e78-pulls.csv"}));
    TimeStrip &s = strip();
    const auto review = evidence().review(evidence().log());
    const LogTrace &t = review->trace();
    double run = 0, previous = s.positionOf(t.timeS(0));
    for (std::size_t i = 1; i < t.size(); ++i) {
        if (t.follows(i)) run += t.timeS(i) - t.timeS(i - 1);
        const double at = s.positionOf(t.timeS(i));
        QVERIFY(at >= previous);
        COMPARE_NEAR(s.timeAt(at), t.timeS(i), 1e-6);
        previous = at;
    }
    QVERIFY(run < 0.3 * (t.timeS(t.size() - 1) - t.timeS(0))); // most of this log is holes …
    const double shown = previous - s.positionOf(t.timeS(0));
    double ran = 0;
    for (std::size_t i = 1; i < t.size(); ++i)
        if (t.follows(i)) ran += s.positionOf(t.timeS(i)) - s.positionOf(t.timeS(i - 1));
    QVERIFY(ran > 0.9 * shown); // … and little of the strip
}

void EvidenceViewTest::cleaningIsEditedAndUndone() {
    QVERIFY(openWith({"thistle-e10-baseline.csv"}));
    CleaningPage &page = view().cleaning();
    view().pages().showPage(&page);
    const QStringList before = page.words();
    const auto review = evidence().review(evidence().log());
    for (std::size_t i = 0; i < review->cleaned().steps.size(); ++i) {
        const CleanLog::Step &step = review->cleaned().steps[i];
        QVERIFY(!step.asked || before[static_cast<int>(i)].contains(
                                   QLocale().toString(static_cast<qulonglong>(step.taken))));
    }
    auto *coolant = page.findChild<QLineEdit *>(QStringLiteral("clean.coolant"));
    coolant->setFocus();
    coolant->selectAll();
    QTest::keyClicks(coolant, QStringLiteral("200 °F"));
    QTest::keyClick(coolant, Qt::Key_Return);
    COMPARE_NEAR(limitOf(session().job(), "clean.coolant"), (200 - 32) / 1.8, 1e-9);
    QVERIFY(allRead());
    QVERIFY(page.words() != before);
    QVERIFY(evidence().review(evidence().log())->cleaned().left < review->cleaned().left);
    session().undo();
    QVERIFY(allRead());
    QCOMPARE(page.words(), before);
}

// Columns of an outline from 0 on that hold just what was logged in them; of those beside a border nothing is
// asked.
static int columnsAsSampled(const LogTrace &log, const SeriesOutline &outline, double columnS) {
    int right = 0;
    for (std::size_t k = 0; k < outline.size(); ++k) {
        const double from = static_cast<double>(k) * columnS, to = from + columnS;
        double least = 1e9, most = -1e9;
        for (std::size_t i = 0; i < log.size(); ++i)
            if (log.timeS(i) >= from && log.timeS(i) < to) {
                least = std::min(least, log.at(ChannelRole::map, i));
                most = std::max(most, log.at(ChannelRole::map, i));
            }
        constexpr double ofFloats = 1e-3;
        right += least <= most && std::abs(double{outline[k].least} - least) < ofFloats &&
                 std::abs(double{outline[k].most} - most) < ofFloats;
    }
    return right;
}

// A channel whose numbers fall when what it measures rises (a vacuum) is drawn from its least to its most.
void EvidenceViewTest::outlinesOfFallingNumbersAreTurned() {
    QVERIFY(openWith({"thistle-e10-hot.csv"}));
    const std::string id = evidence().log();
    const auto all = channelsOf(session().job(), id);
    const auto map = std::ranges::find(all, ChannelRole::map, &LogChannel::role);
    QVERIFY(map != all.end());
    LogChannel rising = **map, falling = rising;
    falling.scale = -rising.scale;
    falling.offset = -rising.offset;
    std::vector<LogChannel> channels{falling};
    for (const LogChannel *c : all)
        channels.push_back(*c);
    StripSamples samples;
    samples.open(session().path(), id, channels);
    QTRY_VERIFY(samples.ready());
    const auto drawn = [&](const LogChannel &c, double from, double to) {
        (void)QTest::qWaitFor([&] { return samples.outline(c, from, to, 40).has_value(); }, 10000);
        return samples.outline(c, from, to, 40);
    };
    for (const double to : {65.0, 2.0}) { // of levels, and of the samples themselves
        const auto up = drawn(rising, 0, to), down = drawn(falling, 0, to);
        QVERIFY(up && down && up->size() == down->size());
        int spans = 0;
        for (std::size_t i = 0; i < up->size(); ++i) {
            const LevelPair &u = (*up)[i], &d = (*down)[i];
            if (!(u.least <= u.most)) continue; // nothing there
            QCOMPARE(d.least, -u.most);
            QCOMPARE(d.most, -u.least);
            spans += u.least < u.most;
        }
        QVERIFY(spans > 0);
    }
    // Near enough it is drawn from the samples themselves: least and most of those in each column.
    const double near = 2, each = near / 40;
    QTRY_VERIFY(samples.outline(rising, 0, near, 40).has_value());
    const auto review = evidence().review(id);
    const LogTrace &log = review->trace();
    QTRY_VERIFY(columnsAsSampled(log, *samples.outline(rising, 0, near, 40), each) >= 15); // ten a second
}

// λ dies in the pull: neither the slip nor the page beside it says that the log is clean.
void EvidenceViewTest::silenceInAPullIsNotClean() {
    m_window->open(demoJob());
    drop({changed("thistle-e41-pulls.csv", [](QStringList &lines) {
        constexpr int lambda = 4, throttle = 3;
        int open = 0;
        for (qsizetype i = 1; i < lines.size(); ++i) {
            QStringList cells = lines[i].split(QLatin1Char(','));
            open = cells[throttle].toDouble() > 90 ? open + 1 : 0;
            if (open > 20) cells[lambda].clear();
            lines[i] = cells.join(QLatin1Char(','));
        }
    })});
    LogImportDialog *d = shownDialog();
    QVERIFY(d && bring(*d) && allRead());
    const auto review = evidence().review(evidence().log());
    QVERIFY(!review->findings().silent.empty());
    QVERIFY2(view().slips().words(0).contains(QStringLiteral("channels silent in a pull")),
             qPrintable(view().slips().words(0)));
    QVERIFY2(view().strip().found().contains(QStringLiteral("Not asked all through the pull at")),
             qPrintable(view().strip().found()));
}

void EvidenceViewTest::contentIsStated() {
    QVERIFY(openWith({"thistle-pour-to-e41.csv"}));
    QVERIFY(!evidence().review(evidence().log())->content().usable());
    QVERIFY(view().slips().words(0).contains(QStringLiteral("not settled")));
    QVERIFY(view().strip().found().contains(QStringLiteral("does not count")));
    const std::string id = evidence().log();
    QVERIFY(session().perform(QStringLiteral("state"), [&](Job &job) { stateContent(job, id, 0.41); }));
    QVERIFY(allRead());
    QVERIFY(evidence().review(id)->content().usable());
    QVERIFY(view().strip().found().contains(QStringLiteral("is used all the same")));
    session().undo();
    QVERIFY(allRead());
    QVERIFY(!evidence().review(id)->content().usable());
}

void EvidenceViewTest::aCellKnowsItsLogs() {
    QVERIFY(openWith({"thistle-e10-baseline.csv", "thistle-e78-pulls.csv"}));
    const auto review = evidence().review(evidence().log());
    const auto pulls = only(review->episodes(), EpisodeKind::pull);
    QVERIFY(!pulls.empty());
    const std::size_t middle = (pulls[0].from + pulls[0].to) / 2;
    const double rpm = review->trace().at(ChannelRole::rpm, middle),
                 load = review->trace().at(ChannelRole::map, middle);
    auto *tables = m_window->view<TablesView>("tables");
    session().goTo({0.78, rpm, load}, CalibratedQuantity::spark);
    tables->showLogsHere();
    auto *here = m_window->shell.findChild<QDialog *>(QStringLiteral("logsHere"));
    QVERIFY(here);
    auto *words = here->findChild<ReportView *>();
    QVERIFY2(words->words().contains(QStringLiteral("thistle-e78-pulls")), qPrintable(words->words()));
    emit words->linkWanted(QStringLiteral("visit:0"));
    QCOMPARE(m_window->shell.station(), QStringLiteral("evidence"));
    const auto sample = evidence().sampleNow();
    QVERIFY(sample);
    // The moment lies in that very cell.
    const Axis &x = evidence().coverage()->rpm(), &y = evidence().coverage()->load();
    const CellArea area =
        areaOf(x, y, x.nearest(session().place().rpm), y.nearest(session().place().loadKpa));
    const LogTrace &t = evidence().review(evidence().log())->trace();
    QVERIFY(area.holds(t.at(ChannelRole::rpm, *sample), t.at(ChannelRole::map, *sample)));
    // A cell where nothing has been says so.
    m_window->shell.showStation(QStringLiteral("tables"));
    session().goTo({0.78, 7400, 20}, CalibratedQuantity::spark);
    QTest::qWait(20);
    tables->showLogsHere();
    QVERIFY(m_window->shell.findChild<QDialog *>(QStringLiteral("logsHere"))
                ->findChild<ReportView *>()
                ->words()
                .contains(QStringLiteral("No log has been here")));
}

void EvidenceViewTest::whereBeenIsTheCoverage() {
    QVERIFY(openWith({"thistle-e78-pulls.csv"}));
    view().pages().showPage(&view().coverage());
    session().setContent(0.78);
    settle();
    const Coverage &c = *evidence().coverage();
    const std::size_t band = c.bandOf(0.78);
    std::size_t seen = 0, proven = 0;
    CoverageMap &map = view().coverage().map();
    for (std::size_t y = 0; y < c.load().size(); ++y)
        for (std::size_t x = 0; x < c.rpm().size(); ++x) {
            const BeenThere state = c.state(c.at(x, y, band));
            seen += state != BeenThere::never ? 1 : 0;
            proven += state == BeenThere::proven ? 1 : 0;
            if (state == BeenThere::proven)
                QVERIFY2(map.words(x, y).contains(QStringLiteral("proven")), qPrintable(map.words(x, y)));
        }
    QVERIFY(seen > 10 && proven > 5);
    QVERIFY(proven < seen);
    QVERIFY2(view().coverage().words().contains(QString::number(proven)),
             qPrintable(view().coverage().words()));
    QVERIFY(!map.grab().isNull());
    // Return goes to the cell in the tables.
    map.setFocus();
    QTest::keyClick(&map, Qt::Key_Right);
    QTest::keyClick(&map, Qt::Key_Down);
    QTest::keyClick(&map, Qt::Key_Return);
    QCOMPARE(m_window->shell.station(), QStringLiteral("tables"));
    COMPARE_NEAR(session().place().rpm, c.rpm()[1], 1e-9);
}

// Where the logs have been judges spark above it; a change of the calibration takes the proof away.
void EvidenceViewTest::theVerdictHeedsTheLogs() {
    const auto judged = [&] { return findRow(*session().verdict(), "spark.unproven") != nullptr; };
    QVERIFY(openWith({"thistle-e78-pulls.csv"}));
    QVERIFY(judged());
    QVERIFY(session().verdict()->proof.anyProven());
    QVERIFY(session().perform(QStringLiteral("edit"), [](Job &job) {
        Table2D &t = job.calibration.of(CalibratedQuantity::spark).base;
        t.setCell({0, 0}, t.cell(0, 0) - 1);
    }));
    QVERIFY(!evidence().proof());
    QVERIFY(allRead());
    QVERIFY(!session().verdict()->proof.anyProven());
    QVERIFY(!judged());
    // The log still knows the tables that it ran with.
    QVERIFY(evidence().review(evidence().log())->watched().tablesKnown());
    session().undo();
    QVERIFY(allRead());
    QVERIFY(judged());
    session().undo(); // the log itself
    for (int i = 0; i < 500 && session().verdictPending(); ++i)
        QTest::qWait(10);
    QVERIFY(!judged());
}

void EvidenceViewTest::twoStretchesAreLaidOver() {
    QVERIFY(openWith({"thistle-e10-baseline.csv", "thistle-e78-pulls.csv"}));
    PullsPage &page = view().pulls();
    view().pages().showPage(&page);
    settle();
    const Chart &chart = page.plot().chart();
    QCOMPARE(chart.series.size(), std::size_t{2});
    QVERIFY(chart.series[0].color != chart.series[1].color); // hues of their contents
    QVERIFY(chart.series[0].x.size() > 20 && chart.series[1].x.size() > 20);
    QVERIFY(std::ranges::all_of(chart.series[1].y, [](double v) { return v > 0.5 && v < 2.5; }));
    for (QPushButton *b : page.findChildren<QPushButton *>())
        if (b->text() == QStringLiteral("over time")) b->click();
    QCOMPARE(page.plot().chart().series[0].x.front(), 0.0);
    for (QPushButton *b : page.findChildren<QPushButton *>())
        if (b->text() == QStringLiteral("over distance")) b->click();
    const std::vector<double> &metres = page.plot().chart().series[0].x;
    QVERIFY(std::ranges::is_sorted(metres) && metres.back() > 50);
}

// The samples of logs that nobody looks at go; what was said of them, and the count of all, stay.
void EvidenceViewTest::longLogsAreLaidAside() {
    QVERIFY(openWith({"thistle-e10-hot.csv", "thistle-e62-road.csv", "thistle-e78-pulls.csv"}));
    const Proof before = *evidence().proof();
    const std::string latest = evidence().log(), first = session().job().logs.values().front().id;
    evidence().setMostSamples(700);
    QCOMPARE(evidence().laidAside(), std::size_t{2});
    QVERIFY(evidence().review(latest)->hasSamples());
    QVERIFY(!evidence().review(first)->hasSamples());
    QVERIFY(!evidence().review(first)->findings().found.empty());
    QVERIFY(*evidence().proof() == before);
    for (const PullsPage *page : {&view().pulls()}) {
        bool said = false;
        for (const QLabel *l : page->findChildren<QLabel *>())
            said = said || l->text().contains(QStringLiteral("2 long logs are laid aside"));
        QVERIFY(said);
    }
    evidence().setLog(first); // looked at, it is read again
    for (int i = 0; i < 500 && !evidence().review(first)->hasSamples(); ++i)
        QTest::qWait(10);
    QVERIFY(evidence().review(first)->hasSamples());
    QVERIFY(evidence().sampleNow());
    QVERIFY(!evidence().review(latest)->hasSamples()); // and another goes
    QVERIFY(*evidence().proof() == before);
}

// A table is taken for one also when there are logs; a log without an open job says what to do.
void EvidenceViewTest::aTableIsStillATable() {
    QFile table(m_window->path("table.csv"));
    QVERIFY(table.open(QIODevice::WriteOnly));
    table.write("load;1000;2000\r\n50;10,5;12\r\n100;8;9\r\n");
    table.close();
    QVERIFY(!LogArrival::seemsALog(table.fileName().toStdString()));
    QFile speeds(m_window->path("speeds.csv")); // one thing alone that has a meaning
    QVERIFY(speeds.open(QIODevice::WriteOnly));
    speeds.write("rpm,shelf\n1000,3\n2000,4\n3000,5\n");
    speeds.close();
    QVERIFY(!LogArrival::seemsALog(speeds.fileName().toStdString()));
    QVERIFY(LogArrival::seemsALog(demoLog("bramble-premium.csv").toStdString()));
    QVERIFY(!LogArrival::seemsALog(m_window->path("none.csv").toStdString()));
    drop({demoLog("bramble-premium.csv")});
    QVERIFY2(m_window->shell.notice().sentence().contains(QStringLiteral("Open the job")),
             qPrintable(m_window->shell.notice().sentence()));
    QVERIFY(!dialog());
}

// The samples go into the job's file: it is not closed under them, and nothing is left in it.
void EvidenceViewTest::closingStopsWhatComesIn() {
    m_window->open(demoJob());
    drop({demoLog("thistle-e10-baseline.csv")});
    LogImportDialog *d = shownDialog();
    QVERIFY(d);
    const std::filesystem::path file = session().path();
    d->findChild<QPushButton *>(QStringLiteral("bring"))->click();
    session().closeJob();
    QTest::qWait(50);
    session().openJob(file);
    QVERIFY(session().job().logs.empty());
}

int main(int argc, char **argv) {
    QApplication app(argc, argv);
    return run<EvidenceViewTest>(argc, argv);
}

#include "evidence_view_test.moc"
