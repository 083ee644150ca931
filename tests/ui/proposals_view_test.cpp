// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/explain/explain_cell.h"
#include "core/job/job_schema.h"
#include "core/proposal/fuel_proposal.h"
#include "core/proposal/joint_fuel.h"
#include "core/proposal/knock_proposal.h"
#include "support/test_window.h"
#include "ui/text.h"
#include "ui/views/evidence/evidence_view.h"
#include "ui/views/evidence/hindsight_page.h"
#include "ui/views/evidence/proposal_how.h"
#include "ui/views/evidence/proposals_page.h"
#include "ui/views/tables/tables_view.h"
#include "ui/widgets/chart_plot.h"
#include "ui/widgets/page_switch.h"
#include "ui/widgets/report_text.h"
#include "ui/widgets/report_view.h"

#include <QCheckBox>
#include <QClipboard>
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QFile>
#include <QSignalSpy>
#include <QSpinBox>
#include <QStandardPaths>

#include <memory>

using namespace wheelwright;
using namespace wheelwright::testing;

void wheelwrightResources() {
    Q_INIT_RESOURCE(resources);
}

/// What logs make of the tables, in the real window: shown, gone into, taken and undone.
class ProposalsViewTest : public QObject {
    Q_OBJECT
  private slots:
    void initTestCase() {
        QStandardPaths::setTestModeEnabled(true);
        dressApplication();
    }
    void init() { m_window = std::make_unique<TestWindow>(); }
    void cleanup() { m_window.reset(); }
    void cleanupTestCase() { QVERIFY2(QApplication::topLevelWidgets().isEmpty(), "a window was leaked"); }

    void fuelIsShownTakenAndUndone();
    void aCellLeadsToItsSamplesAndToTheTables();
    void allContentsTogetherShowTheirCurve();
    void theSearchIsShownOnTheTable();
    void ceilingsAreTaken();
    void whatIsOldCannotBeTaken();
    void nobodyWorksWhileNobodyLooks();
    void whereNoLogCountsItSaysWhy();
    void whoTookTheSparkIsDrawn();
    void aChangeOfFuelIsASheet();
    void correctionsAndBoostAreSaid();
    void aQuietPullBecomesAPoint();
    void howItIsMadeCanBeChosen();
    void aMarkedRegionGetsOneCorrection();
    void aSweepIsDrawnAndNoted();
    void anotherContentSolvesNothingAgain();

  private:
    Session &session() { return m_window->session; }
    EvidenceView &view() { return *m_window->view<EvidenceView>("evidence"); }
    ProposalsPage &page() { return view().proposals(); }
    static QString demoLog(const char *name) {
        return QStringLiteral(SOURCE_DIR "/data/demo/logs/") + QLatin1String(name);
    }
    bool waitForMap() {
        for (int i = 0; i < 6000; ++i) {
            if (page().proposals().current() && !page().proposals().work().running()) {
                settle();
                return true;
            }
            QTest::qWait(10);
        }
        return false;
    }
    bool show(ProposalKind kind, double content, const char *log = "thistle-e41-pulls.csv") {
        if (!session().hasJob()) m_window->openWithLog(demoLog(log));
        session().setContent(content);
        view().pages().showPage(&page());
        page().setKind(kind);
        return waitForMap();
    }
    HindsightPage &hindsight() { return view().hindsight(); }
    bool showHindsight(HindsightPage::Kind kind) {
        view().pages().showPage(&hindsight());
        hindsight().setKind(kind);
        // After a change of the job its logs are gone through again, and then the sheet is made again.
        const auto rests = [this] { return hindsight().current() && session().evidence().allRead(); };
        for (int i = 0, rested = 0; i < 3000 && rested < 3; ++i) {
            QTest::qWait(10);
            rested = rests() ? rested + 1 : 0;
        }
        return rests();
    }
    const ProposedMap &map() { return *page().map().shownMap(); }
    std::vector<std::shared_ptr<const LogReview>> reviews() { return session().evidence().reviews(); }

    std::unique_ptr<TestWindow> m_window;
};

// The same numbers as the proposal itself; taken, they are in the tables and in the history, and undone at
// once.
void ProposalsViewTest::fuelIsShownTakenAndUndone() {
    QVERIFY(show(ProposalKind::fuel, 0.41));
    const FuelSamples samples = fuelSamples(session().study(), reviews());
    FuelProposalOptions how;
    how.content = 0.41;
    how.neighbours = 1;
    const FuelProposal p = proposeFuel(session().study(), samples, how);
    QCOMPARE(map().cells.size(), p.cells.size());
    std::size_t changed = 0;
    for (std::size_t i = 0; i < p.cells.size(); ++i) {
        const ProposedCell &c = map().cells[i];
        QCOMPARE(c.rpm, p.cells[i].rpm);
        QCOMPARE(c.now, p.cells[i].now);
        if (p.cells[i].proposed == p.cells[i].now) continue;
        ++changed;
        COMPARE_NEAR(c.change, p.cells[i].proposed / p.cells[i].now - 1, 1e-12);
        QVERIFY(c.state == ProposedState::changed || c.state == ProposedState::inferred);
        const std::size_t x = i % map().rpm.size(), y = i / map().rpm.size();
        const QString words = page().map().words(x, y);
        QVERIFY2(words.contains(QString::asprintf("%+.1f %%", c.change * 100)), qPrintable(words));
    }
    QVERIFY(changed > 20);
    QCOMPARE(map().takes, changed);
    QCOMPARE(map().before, std::optional(p.rmsBefore));
    QCOMPARE(map().predicted, std::optional(p.rmsPredicted));
    QVERIFY(p.rmsPredicted < p.rmsBefore);
    QVERIFY2(page().words().contains(QStringLiteral("%1 cells would change").arg(changed)),
             qPrintable(page().words()));
    QVERIFY(page().words().contains(QString::asprintf("%.1f", p.rmsBefore * 100)));
    QVERIFY(!page().map().grab().isNull());
    page().map().copy();
    QCOMPARE(QApplication::clipboard()->text().count(QLatin1Char('\n')),
             static_cast<int>(map().loadKpa.size()) + 1);
    auto *take = page().findChild<QPushButton *>(QStringLiteral("takeProposal"));
    QVERIFY(take->isEnabled());
    const Job before = session().job();
    const int steps = session().undoStack().count();
    QTest::mouseClick(take, Qt::LeftButton);
    QCOMPARE(session().undoStack().count(), steps + 1);
    const Table2D now = session().study().blended(CalibratedQuantity::fuel, 0.41);
    for (std::size_t i = 0; i < p.cells.size(); ++i)
        COMPARE_NEAR(now.cells()[i], p.proposed.cells()[i], 0.02);
    QCOMPARE(session().job().corrections.size(), std::size_t{1});
    QCOMPARE(session().job().corrections.values().front().at.substr(0, 10), std::string("2001-02-03"));
    session().undo();
    QVERIFY(session().job() == before);
    QVERIFY(waitForMap());
    QCOMPARE(map().takes, changed);
}

void ProposalsViewTest::aCellLeadsToItsSamplesAndToTheTables() {
    QVERIFY(show(ProposalKind::fuel, 0.41));
    // The cursor begins where most is said.
    const std::size_t at = page().map().row() * map().rpm.size() + page().map().column();
    double most = 0;
    for (const ProposedCell &c : map().cells)
        most = std::max(most, c.hits);
    QCOMPARE(map().cells[at].hits, most);
    QVERIFY2(page().cellWords().contains(QStringLiteral("by %1 samples").arg(std::round(most))),
             qPrintable(page().cellWords()));
    // A click on another cell tells of that one.
    std::size_t x = 0, y = 0;
    for (std::size_t i = 0; i < map().cells.size(); ++i)
        if (i != at && map().cells[i].state == ProposedState::changed) {
            x = i % map().rpm.size();
            y = i / map().rpm.size();
        }
    QTest::mouseClick(&page().map(), Qt::LeftButton, Qt::NoModifier,
                      page().map().box(x, y).center().toPoint());
    QVERIFY(page().cellWords().startsWith(shown(map().rpm[x], Dimension::engineSpeed, session().units())));
    // Its samples: on the strip.
    ReportView *words = nullptr;
    for (ReportView *v : page().findChildren<ReportView *>())
        if (v->words() == page().cellWords()) words = v;
    QVERIFY(words);
    const double before = session().evidence().momentS();
    emit words->linkWanted(QStringLiteral("visit:0"));
    QVERIFY(session().evidence().momentS() != before);
    QCOMPARE(view().pages().currentPage(), static_cast<QWidget *>(view().pages().pages().front()));
    const auto review = session().evidence().review(session().evidence().log());
    const std::size_t sample = review->trace().indexAt(session().evidence().momentS());
    QVERIFY(std::abs(review->trace().at(ChannelRole::rpm, sample) - map().rpm[x]) < 400);
    // And the cell in the tables.
    view().pages().showPage(&page());
    QVERIFY(waitForMap());
    clickButton(page(), QStringLiteral("In the tables"));
    QCOMPARE(session().quantity(), CalibratedQuantity::fuel);
    QCOMPARE(session().place().rpm, map().rpm[x]);
    // By keys as well.
    page().map().choose(0, 0);
    QTest::keyClick(&page().map(), Qt::Key_Right);
    QTest::keyClick(&page().map(), Qt::Key_Down);
    QCOMPARE(page().map().column(), std::size_t{1});
    QCOMPARE(page().map().row(), std::size_t{1});
}

void ProposalsViewTest::allContentsTogetherShowTheirCurve() {
    QVERIFY(show(ProposalKind::joint, 0.41));
    const JointFuel joint = solveJointFuel(session().study(), fuelSamples(session().study(), reviews()));
    QCOMPARE(map().curve.size(), joint.curve.size());
    for (std::size_t i = 0; i < joint.curve.size(); ++i) {
        COMPARE_NEAR(map().curve[i].value, joint.curve[i].of.value, 1e-9);
        COMPARE_NEAR(map().curve[i].plusMinus, 1.96 * joint.curve[i].of.standardError, 1e-9);
    }
    QVERIFY(page().curve().isVisible());
    // From one content neither table is known apart: that is drawn, and nothing is taken.
    QVERIFY(std::ranges::any_of(
        map().cells, [](const ProposedCell &c) { return c.state == ProposedState::notSeparable; }));
    QCOMPARE(map().takes, withJointFuel(session().job(), joint).changed);
    QCOMPARE(page().findChild<QPushButton *>(QStringLiteral("takeProposal"))->isEnabled(), map().takes > 0);
    page().setKind(ProposalKind::fuel);
    QVERIFY(waitForMap());
    QVERIFY(!page().curve().isVisible());
}

void ProposalsViewTest::theSearchIsShownOnTheTable() {
    QVERIFY(show(ProposalKind::spark, 0.41));
    QVERIFY(page().findChild<QCheckBox *>()->isVisible());
    KnockOptions how;
    how.content = 0.41;
    const KnockProposal p = proposeSpark(session().study(), reviews(), how);
    QVERIFY(!p.cells.empty());
    std::size_t knocks = 0;
    for (const KnockCell &c : p.cells) {
        const auto at = std::ranges::find_if(
            map().cells, [&](const ProposedCell &m) { return m.rpm == c.rpm && m.loadKpa == c.loadKpa; });
        COMPARE_NEAR(at->change, c.proposedDeg - c.nowDeg, 1e-9);
        QCOMPARE(at->state == ProposedState::knocks, c.knocks > 0);
        knocks += c.knocks > 0;
    }
    QVERIFY2(page().words().contains(QStringLiteral("in %1 cells").arg(knocks)), qPrintable(page().words()));
    // What changes by less than a half degree is not written as nothing.
    const auto small = std::ranges::find_if(map().cells, [](const ProposedCell &m) {
        return m.state == ProposedState::changed && m.change > 0 && m.change < 0.5;
    });
    QVERIFY(small != map().cells.end());
    QCOMPARE(page().map().fewDigits(*small), QStringLiteral("+"));
    const auto at = static_cast<std::size_t>(small - map().cells.begin());
    const QString said = page().map().words(at % map().rpm.size(), at / map().rpm.size());
    QVERIFY2(said.contains(QString::asprintf("%+.1f°", small->change)), qPrintable(said));
    page().take();
    QCOMPARE(session().job().sparkSearches.size(), p.cells.size());
    // The working of a cell of the spark table says where its search stands, and the table shows its steps.
    const SparkSearch search = session().job().sparkSearches.values().front();
    session().goTo({0.41, search.rpm, search.loadKpa}, CalibratedQuantity::spark);
    session().setSide(TableSide::now);
    m_window->view<TablesView>("tables");
    settle();
    const Explanation x = explainBlendedCell(session().study(), CalibratedQuantity::spark,
                                             session().content(), session().cell());
    const QString words = text(x.change, session().units());
    QVERIFY2(words.contains(QStringLiteral("Search for spark")), qPrintable(words));
    QVERIFY2(words.contains(QString::number(search.steps, 'f', 0)), qPrintable(words));
    QVERIFY(searchAt(session().job(), search.rpm, search.loadKpa, 0.95) == nullptr);
}

void ProposalsViewTest::ceilingsAreTaken() {
    QVERIFY(show(ProposalKind::ceilings, 0.41));
    QVERIFY(page().words().contains(QStringLiteral("cells known")) ||
            page().words().contains(QStringLiteral("Nothing is known")));
    std::size_t known = 0;
    for (const ProposedCell &c : map().cells)
        if (c.proposed == c.proposed) {
            ++known;
            QVERIFY(c.plusMinus <= 1.96 * limitOf(session().job(), "evidence.ceiling_sigma") + 1e-9);
        }
    QCOMPARE(map().takes, known);
    const std::size_t tables = session().job().extras.size();
    page().take();
    QCOMPARE(session().job().extras.size() > tables, map().takes > 0);
    if (session().job().extras.size() > tables) {
        session().undo();
        QCOMPARE(session().job().extras.size(), tables);
    }
}

void ProposalsViewTest::whatIsOldCannotBeTaken() {
    QVERIFY(show(ProposalKind::fuel, 0.41));
    session().setContent(0.43);
    QVERIFY(!page().proposals().current());
    QVERIFY(!page().proposals().take());
    // While it is worked out the map is still that of the content before, and is not taken for current.
    bool sawRunning = false, heldForCurrent = false;
    QObject scope;
    connect(&page().proposals(), &Proposals::changed, &scope, [&] {
        if (!page().proposals().work().running()) return;
        sawRunning = true;
        heldForCurrent = heldForCurrent || page().proposals().current();
    });
    QCOMPARE(session().job().corrections.size(), std::size_t{0});
    QVERIFY(waitForMap());
    QVERIFY(sawRunning && !heldForCurrent);
    QCOMPARE(map().content, 0.43);
    // Where no log has been it says so, and there is nothing to take.
    session().setContent(0.7);
    for (int i = 0; i < 3000 && page().proposals().trouble().isEmpty(); ++i)
        QTest::qWait(10);
    QVERIFY2(page().words().contains(QStringLiteral("E70")), qPrintable(page().words()));
    QVERIFY(!page().proposals().take());
    session().setContent(0.43);
    QVERIFY(waitForMap());
    // Another job of the same file: what was worked out for the older one counts no more.
    session().perform(QStringLiteral("name"), [](Job &job) { job.name = "other"; });
    QVERIFY(!page().proposals().current());
    QVERIFY(waitForMap());
}

void ProposalsViewTest::nobodyWorksWhileNobodyLooks() {
    m_window->openWithLog(demoLog("thistle-e41-pulls.csv"));
    view().pages().showPage(view().pages().pages().front());
    session().setContent(0.42);
    QTest::qWait(400);
    QVERIFY(!page().proposals().work().running());
    QVERIFY(page().proposals().map() == nullptr);
    view().showProposals();
    QVERIFY(waitForMap());
    QVERIFY(page().proposals().map() != nullptr);
}

void ProposalsViewTest::whereNoLogCountsItSaysWhy() {
    m_window->openWithLog(demoLog("thistle-pour-to-e41.csv"));
    view().showProposals();
    for (int i = 0; i < 3000 && page().proposals().trouble().isEmpty(); ++i)
        QTest::qWait(10);
    settle();
    QVERIFY2(page().words().contains(QStringLiteral("not settled")), qPrintable(page().words()));
    QVERIFY(!page().findChild<QPushButton *>(QStringLiteral("takeProposal"))->isEnabled());
    QVERIFY(page().map().shownMap() == nullptr);
    QVERIFY(!page().map().grab().isNull()); // an empty map draws
}

// The numbers are those of the log; a taker's link leads to the moment at which it took most.
void ProposalsViewTest::whoTookTheSparkIsDrawn() {
    m_window->openWithLog(demoLog("thistle-e41-pulls.csv"));
    QVERIFY(showHindsight(HindsightPage::taken));
    const SparkTaken t = sparkTaken(*reviews().front());
    QVERIFY(t.samples > 100 && t.mean("knock") < 0);
    const QString words = hindsight().words();
    QVERIFY2(words.contains(shown(t.askedDeg, Dimension::sparkAngle, session().units())) &&
                 words.contains(shown(t.deliveredDeg, Dimension::sparkAngle, session().units())),
             qPrintable(words));
    QVERIFY(hindsight().plot().isVisible());
    QCOMPARE(hindsight().plot().chart().series.size(), std::size_t{4});
    QVERIFY(!hindsight().grab().isNull());
    std::size_t knock = 0;
    while (t.takers[knock].id != "knock")
        ++knock;
    emit hindsight().findChild<ReportView *>()->linkWanted(QStringLiteral("taken:%1").arg(knock));
    COMPARE_NEAR(session().evidence().momentS(), t.takers[knock].mostAtS, 0.1);
    QCOMPARE(view().pages().currentPage(), static_cast<QWidget *>(view().pages().pages().front()));
}

// Chosen are the two furthest apart; saved, the sheet is what the window shows.
void ProposalsViewTest::aChangeOfFuelIsASheet() {
    session().importJob(DEMO_JOB, m_window->path("a.wwjob").toStdString(),
                        {{demoLog("thistle-e10-baseline.csv").toStdString(), std::nullopt, {}},
                         {demoLog("thistle-e62-pulls.csv").toStdString(), std::nullopt, {}}});
    for (int i = 0; i < 3000 && (session().verdictPending() || !session().evidence().proof()); ++i)
        QTest::qWait(10);
    QVERIFY(showHindsight(HindsightPage::change));
    const std::string low = session().job().logs.values()[0].id, high = session().job().logs.values()[1].id;
    const FuelChangeProof proof = proveFuelChange(session().study(), *session().evidence().review(low),
                                                  *session().evidence().review(high));
    QVERIFY(!proof.moves.empty());
    const QString words = hindsight().words();
    for (const FuelMove &m : proof.moves) {
        QVERIFY2(words.contains(text(m.title)), qPrintable(words));
        QVERIFY(words.contains(text(inWords(m.verdict))));
        if (m.verdict != MoveVerdict::notJudged)
            QVERIFY2(words.contains(shown(m.residual, m.dimension, session().units())), qPrintable(words));
    }
    QVERIFY(!hindsight().plot().isVisible());
    const QString path = m_window->path("proof.html");
    saveReport(path, hindsight().report(), session().units());
    QFile file(path);
    QVERIFY(file.open(QIODevice::ReadOnly));
    const QString page = QString::fromUtf8(file.readAll());
    QVERIFY(page.contains(text(proof.moves.front().title)) &&
            page.contains(QStringLiteral("Change of fuel")));
    // The same log twice: refused in words.
    auto *first = hindsight().findChild<QComboBox *>(QStringLiteral("firstLog"));
    first->setCurrentIndex(first->findData(text(high)));
    emit first->activated(first->currentIndex());
    for (int i = 0; i < 3000 && !hindsight().current(); ++i)
        QTest::qWait(10);
    settle();
    QVERIFY2(hindsight().words().contains(QStringLiteral("expected")), qPrintable(hindsight().words()));
}

void ProposalsViewTest::correctionsAndBoostAreSaid() {
    QVERIFY(show(ProposalKind::fuel, 0.41));
    QVERIFY(showHindsight(HindsightPage::corrections));
    QVERIFY(hindsight().words().contains(QStringLiteral("No correction has been made")));
    QVERIFY(show(ProposalKind::fuel, 0.41));
    page().take();
    QVERIFY(showHindsight(HindsightPage::corrections));
    QVERIFY2(hindsight().words().contains(QStringLiteral("not judged yet")), qPrintable(hindsight().words()));
    QVERIFY(showHindsight(HindsightPage::boost));
    const std::vector<PullBoost> pulls = readPulls(reviews());
    QVERIFY(!pulls.empty());
    QVERIFY2(hindsight().words().contains(
                 shown(pulls.front().heldKpa, Dimension::pressureDifference, session().units())),
             qPrintable(hindsight().words()));
    // None of them held still: there is no point to note.
    QVERIFY(!hindsight().findChild<QPushButton *>(QStringLiteral("notePoints"))->isVisible());
}

// A pull that held still, its solenoid as well, becomes a point: one step, and undone at once.
void ProposalsViewTest::aQuietPullBecomesAPoint() {
    QFile file(m_window->path("pull.csv"));
    QVERIFY(file.open(QIODevice::WriteOnly));
    file.write("time_s,rpm,map_kpa,throttle_percent,ethanol_percent,coolant_c,gear,solenoid_percent,pulse_ms,"
               "boost_target_kpa\n");
    for (int i = 0; i < 1000; ++i) {
        const double at = (i - 250) * 0.02;
        const bool pulls = i >= 250 && i < 750;
        const double kpa = pulls ? 101.325 + 90 * std::min(1.0, at / 3) : 48;
        file.write(QStringLiteral("%1,%2,%3,%4,41,86,4,%5,8,191.3\n")
                       .arg(i * 0.02, 0, 'f', 2)
                       .arg(pulls ? 2000 + 500 * at : 2000, 0, 'f', 0)
                       .arg(kpa, 0, 'f', 2)
                       .arg(pulls ? 100 : 12)
                       .arg(pulls ? 37 : 0)
                       .toUtf8());
    }
    file.close();
    m_window->openWithLog(file.fileName());
    QVERIFY(showHindsight(HindsightPage::boost));
    auto *note = hindsight().findChild<QPushButton *>(QStringLiteral("notePoints"));
    QVERIFY2(note->isVisible() && note->isEnabled(), qPrintable(hindsight().words()));
    const std::size_t before = session().job().boost.points.size();
    QTest::mouseClick(note, Qt::LeftButton);
    QCOMPARE(session().job().boost.points.size(), before + 1);
    const BoostPoint &point = session().job().boost.points.values().back();
    COMPARE_NEAR(point.duty, 0.37, 1e-6);
    COMPARE_NEAR(point.boostKpa, 191.325 - session().job().conditions.ambientKpa, 0.5);
    QVERIFY(showHindsight(HindsightPage::boost));
    QVERIFY(!note->isVisible()); // it is there
    session().undo();
    QCOMPARE(session().job().boost.points.size(), before);
}

// What is chosen is what the proposal is made by, the job stays, and one button goes back to it.
void ProposalsViewTest::howItIsMadeCanBeChosen() {
    QVERIFY(show(ProposalKind::fuel, 0.41));
    const Job before = session().job();
    ProposalHow &how = page().how();
    QVERIFY(how.isVisible() && how.text().contains(QStringLiteral("as the job says")));
    QTest::mouseClick(&how, Qt::LeftButton);
    QVERIFY(how.panel().isVisible());
    const auto box = [&](const char *name) {
        return how.panel().findChild<QDoubleSpinBox *>(QLatin1String(name));
    };
    box("damping")->setValue(100);
    box("clamp")->setValue(2);
    box("leastHits")->setValue(20);
    how.panel().findChild<QSpinBox *>(QStringLiteral("rings"))->setValue(0);
    how.panel().hide();
    QVERIFY(waitForMap());
    FuelProposalOptions by;
    by.content = 0.41;
    by.damping = 1;
    by.clamp = 0.02;
    by.leastHits = 20;
    const FuelProposal p = proposeFuel(session().study(), fuelSamples(session().study(), reviews()), by);
    std::size_t changed = 0;
    for (std::size_t i = 0; i < p.cells.size(); ++i)
        changed += p.cells[i].proposed != p.cells[i].now;
    QVERIFY(changed > 0);
    QCOMPARE(map().takes, changed);
    QCOMPARE(map().predicted, std::optional(p.rmsPredicted));
    QVERIFY2(how.text().contains(QStringLiteral("100 %")) && how.text().contains(QStringLiteral("2 %")) &&
                 how.text().contains(QStringLiteral("20 samples")),
             qPrintable(how.text()));
    QVERIFY(session().job() == before);
    // What stands in the cells: what changes, or how far λ is off, now or then.
    auto *choice = page().findChild<QComboBox *>(QStringLiteral("shown"));
    const std::size_t at = page().map().row() * map().rpm.size() + page().map().column();
    const ProposedCell &cell = map().cells[at];
    const auto number = [](double v) { return QString::asprintf("%+.1f %%", v * 100); };
    const std::array<double, 3> numbers{cell.change, cell.errorNow, cell.errorThen};
    for (int i = 0; i < 3; ++i) {
        choice->setCurrentIndex(i);
        const QString words = page().map().words(page().map().column(), page().map().row());
        QVERIFY2(words.contains(number(numbers[static_cast<std::size_t>(i)])), qPrintable(words));
        QVERIFY(!page().map().grab().isNull());
    }
    choice->setCurrentIndex(0);
    // A delay of λ for all logs.
    box("delay")->setValue(250);
    QVERIFY(waitForMap());
    QCOMPARE(map().before, std::optional(proposeFuel(session().study(),
                                                     fuelSamples(session().study(), reviews(), {250.0}), by)
                                             .rmsBefore));
    QTest::mouseClick(how.panel().findChild<QPushButton *>(QStringLiteral("asTheJobSays")), Qt::LeftButton);
    QVERIFY(waitForMap());
    QVERIFY(page().proposals().how() == Proposals::How{});
    QVERIFY(how.text().contains(QStringLiteral("as the job says")));
    // What stands has no such choice.
    page().setKind(ProposalKind::ceilings);
    QVERIFY(waitForMap());
    QVERIFY(!how.isVisible());
}

// By keys and by the mouse; Escape takes the mark away.
void ProposalsViewTest::aMarkedRegionGetsOneCorrection() {
    QVERIFY(show(ProposalKind::fuel, 0.41));
    const std::size_t usual = map().takes;
    ProposedCells &cells = page().map();
    const std::size_t x = cells.column(), y = cells.row();
    QTest::keyClick(&cells, Qt::Key_Right, Qt::ShiftModifier);
    QTest::keyClick(&cells, Qt::Key_Left, Qt::ShiftModifier);
    QVERIFY(!cells.marked()); // back where it began: one cell is no region
    QTest::keyClick(&cells, Qt::Key_Right, Qt::ShiftModifier);
    QTest::keyClick(&cells, Qt::Key_Down, Qt::ShiftModifier);
    QVERIFY(cells.marked() == CellMap::Marked({x, x + 1, y, y + 1}));
    QVERIFY(waitForMap());
    const auto &region = page().proposals().how().region;
    QVERIFY(region && region->rpmFrom == map().rpm[x] && region->rpmTo == map().rpm[x + 1] &&
            region->loadKpaFrom == map().loadKpa[y] && region->loadKpaTo == map().loadKpa[y + 1]);
    QVERIFY(map().takes <= 4);
    QVERIFY2(page().words().contains(QStringLiteral("marked region")), qPrintable(page().words()));
    QTest::keyClick(&cells, Qt::Key_Escape);
    QVERIFY(waitForMap());
    QVERIFY(!cells.marked() && !page().proposals().how().region);
    QCOMPARE(map().takes, usual);
    // Dragged: worked out once, when the button is let go.
    QSignalSpy marks(&cells, &CellMap::markedChanged);
    const auto middle = [&](std::size_t column, std::size_t row) {
        return cells.box(column, row).center().toPoint();
    };
    QTest::mousePress(&cells, Qt::LeftButton, Qt::NoModifier, middle(x, y));
    QTest::mouseMove(&cells, middle(x + 1, y));
    QTest::mouseMove(&cells, middle(x + 2, y + 1));
    QTest::mouseRelease(&cells, Qt::LeftButton, Qt::NoModifier, middle(x + 2, y + 1));
    QVERIFY(cells.marked() == CellMap::Marked({x, x + 2, y, y + 1}));
    QCOMPARE(marks.count(), 1);
    QVERIFY(waitForMap());
    QVERIFY(page().words().contains(QStringLiteral("marked region")));
    // Other kinds have no regions.
    page().setKind(ProposalKind::spark);
    QVERIFY(waitForMap());
    QVERIFY(!cells.marked() && !page().proposals().how().region);
}

// Five holds with a spark each, of an engine on the dyno: its best, as core says it, drawn and noted.
void ProposalsViewTest::aSweepIsDrawnAndNoted() {
    QFile file(m_window->path("sweep.csv"));
    QVERIFY(file.open(QIODevice::WriteOnly));
    file.write(
        "time_s,rpm,map_kpa,throttle_percent,lambda,spark_deg,knock_retard_deg,ethanol_percent,coolant_c,"
        "pulse_ms,dyno_torque_nm\n");
    double t = 0;
    const auto row = [&](double rpm, double kpa, double spark, double torque) {
        file.write(QStringLiteral("%1,%2,%3,30,0.95,%4,0,41,86,8,%5\n")
                       .arg(t, 0, 'f', 2)
                       .arg(rpm)
                       .arg(kpa)
                       .arg(spark)
                       .arg(torque, 0, 'f', 3)
                       .toUtf8());
        t += 0.1;
    };
    for (const double spark : {18.0, 21.0, 24.0, 27.0, 30.0}) {
        for (int i = 0; i < 100; ++i)
            row(3000 + i % 3, 120, spark, 210 - 0.2 * std::pow(spark - 25, 2));
        for (int i = 0; i < 30; ++i)
            row(1500 + 20 * (i % 3), 45, 25, 20);
    }
    file.close();
    m_window->openWithLog(file.fileName());
    session().setContent(0.41);
    view().pages().showPage(&page());
    page().setKind(ProposalKind::sweep);
    QVERIFY(waitForMap());
    QCOMPARE(map().sweeps.size(), std::size_t{1});
    const std::vector<LoggedSweep> found = sweepsIn(session().study(), reviews());
    QCOMPARE(*map().sweeps[0].sweep.bestDeg, *found[0].sweep.bestDeg);
    COMPARE_NEAR(*found[0].sweep.bestDeg, 25, 0.05);
    // The cursor begins there; its curve has the points, and an upright at the best.
    QVERIFY(page().curve().isVisible());
    const auto &series = page().curve().chart().series;
    QVERIFY(std::ranges::any_of(series, [](const ChartSeries &s) { return s.x.size() == 5; }));
    QVERIFY(std::ranges::any_of(series, [&](const ChartSeries &s) {
        return s.x.size() == 2 && s.x[0] == s.x[1] && s.x[0] == *found[0].sweep.bestDeg;
    }));
    QVERIFY2(page().cellWords().contains(QStringLiteral("best at 25.0")), qPrintable(page().cellWords()));
    QVERIFY(!page().grab().isNull());
    const std::size_t tables = session().job().extras.size();
    QTest::mouseClick(page().findChild<QPushButton *>(QStringLiteral("takeProposal")), Qt::LeftButton);
    QCOMPARE(session().job().extras.size(), tables + 1);
    QCOMPARE(session().job().extras.values().back().kind, TableKind::sparkBest);
    session().undo();
    QCOMPARE(session().job().extras.size(), tables);
    // At another content it is told of, and not shown for one of this.
    session().setContent(0.7);
    QVERIFY(waitForMap());
    QVERIFY(map().sweeps.empty() && !page().curve().isVisible());
    QVERIFY2(page().words().contains(QStringLiteral("other contents")), qPrintable(page().words()));
    session().setContent(0.41);
    QVERIFY(waitForMap());
    // A cell that was not swept has no curve.
    page().map().choose(0, 0);
    QVERIFY(page().curve().chart().series.empty());
}

// The content handle moves over one solution: no log is gone through again.
void ProposalsViewTest::anotherContentSolvesNothingAgain() {
    QVERIFY(show(ProposalKind::joint, 0.41));
    const std::vector<ProposedMap::Node> curve = map().curve;
    const ProposalBasis *basis = page().proposals().basis();
    QVERIFY(basis);
    session().setContent(0.55);
    QVERIFY(waitForMap());
    QCOMPARE(map().content, 0.55);
    QVERIFY(page().proposals().basis() == basis);
    for (std::size_t i = 0; i < curve.size(); ++i)
        QCOMPARE(map().curve[i].value, curve[i].value);
    // Another job asks for another.
    session().perform(QStringLiteral("name"), [](Job &job) { job.name = "other"; });
    QVERIFY(waitForMap());
    QVERIFY(page().proposals().basis() != basis);
}

int main(int argc, char **argv) {
    QApplication app(argc, argv);
    return run<ProposalsViewTest>(argc, argv);
}

#include "proposals_view_test.moc"
