#include "core/error.h"
#include "core/tables/school_conversion.h"
#include "core/tables/two_table_school.h"
#include "session/session.h"
#include "support/random_job.h"
#include "support/test_main.h"

#include <QFile>
#include <QSignalSpy>
#include <QTemporaryDir>

#include <random>

using namespace wheelwright;
using namespace wheelwright::testing;

namespace {

QDateTime fixedTime() {
    return QDateTime(QDate(2001, 2, 3), QTime(4, 5, 6), Qt::UTC);
}

} // namespace

/// Every change is one transaction that can be undone; what fails changes nothing.
class SessionTest : public QObject {
    Q_OBJECT
  private slots:
    void init();
    void cleanup() { m_session.reset(); }
    void startsWithoutAJob();
    void anEditIsSavedBeforeItIsShown();
    void undoAndRedoAreTransactions();
    void refusedEditsChangeNothing();
    void editsOfNowAreShared();
    void levelsAreLookedAtAndEdited();
    void expressionsActOnTheSelection();
    void pastesBlocks();
    void copiesInTheShownUnit();
    void tableFilesGoOutAndIn();
    void aBadFileLeavesTheJobAlone();
    void secondSessionIsReadOnly();
    void cursorSurvivesOtherAxes();
    void verdictFollowsTheNewestEdit();
    void aThousandRandomEditsUndo();

  private:
    std::string file(const char *name) const { return m_dir->path().toStdString() + "/" + name; }
    void write(const char *name, const QByteArray &bytes) const {
        QFile f(QString::fromStdString(file(name)));
        QVERIFY(f.open(QIODevice::WriteOnly));
        f.write(bytes);
    }
    double cell() const { return m_session->frontTable().cell(m_session->cell()); }

    std::unique_ptr<QTemporaryDir> m_dir;
    std::unique_ptr<Session> m_session;
};

void SessionTest::init() {
    m_session.reset();
    m_dir = std::make_unique<QTemporaryDir>();
    m_session = std::make_unique<Session>(fixedTime);
    m_session->createJob(file("a.wwjob"), demoJob());
    m_session->setQuantity(CalibratedQuantity::spark);
    m_session->setSide(TableSide::base);
    m_session->setCell({4, 5});
}

void SessionTest::startsWithoutAJob() {
    Session empty(fixedTime);
    QVERIFY(!empty.hasJob());
    QVERIFY(!empty.perform(QStringLiteral("x"), [](Job &j) { j.name = "y"; }));
    QVERIFY(empty.stateText().contains(QStringLiteral("No job")));
    EXPECT_INPUT_ERROR(empty.openJob(file("missing")), "no file");
}

void SessionTest::anEditIsSavedBeforeItIsShown() {
    QVERIFY(m_session->enterExpression(QStringLiteral("=11.5")));
    QCOMPARE(cell(), 11.5);
    QVERIFY2(m_session->stateText().contains(QStringLiteral("04:05:06")), qPrintable(m_session->stateText()));
    const auto path = file("a.wwjob");
    const Job shown = m_session->job();
    m_session->closeJob();
    m_session->openJob(path);
    QVERIFY(m_session->job() == shown);
}

void SessionTest::undoAndRedoAreTransactions() {
    const Job before = m_session->job();
    QVERIFY(m_session->enterExpression(QStringLiteral("+2")));
    const Job after = m_session->job();
    m_session->undo();
    QVERIFY(m_session->job() == before);
    m_session->redo();
    QVERIFY(m_session->job() == after);
    m_session->undo();
    m_session->closeJob();
    m_session->openJob(file("a.wwjob"));
    QVERIFY(m_session->job() == before); // the undo was written too
}

void SessionTest::refusedEditsChangeNothing() {
    QSignalSpy problems(m_session.get(), &Session::problem);
    const Job before = m_session->job();
    QVERIFY(!m_session->enterExpression(QStringLiteral("=99")));
    QVERIFY(!m_session->enterExpression(QStringLiteral("lots")));
    QCOMPARE(problems.size(), 2);
    QVERIFY2(problems[0][0].toString().contains(QStringLiteral("-20 to 60")),
             qPrintable(problems[0][0].toString()));
    QVERIFY2(problems[0][0].toString().contains(QStringLiteral("Spark, base row 6, column 5")),
             qPrintable(problems[0][0].toString()));
    QVERIFY(m_session->job() == before);
    QVERIFY(!m_session->undoStack().canUndo());
    QVERIFY(!m_session->enterExpression(QStringLiteral("+0"))); // nothing to do is no step of undo
    QVERIFY(!m_session->undoStack().canUndo());
}

// What the engine gets is set by moving both ends, as one step of undo.
void SessionTest::editsOfNowAreShared() {
    const Job before = m_session->job();
    m_session->setContent(0.5);
    m_session->setSide(TableSide::now);
    QVERIFY(m_session->enterExpression(QStringLiteral("=12")));
    QVERIFY(std::abs(m_session->frontTable().cell(m_session->cell()) - 12) < 1e-9);
    const CellIndex at = m_session->cell();
    for (const TableSide side : {TableSide::base, TableSide::top})
        QVERIFY(m_session->tableAt(side).cell(at) !=
                tableOf(m_session->quantity(), side == TableSide::top).of(before).cell(at));
    m_session->undo();
    QVERIFY(m_session->job() == before);
    QSignalSpy problems(m_session.get(), &Session::problem);
    QVERIFY(!m_session->enterExpression(QStringLiteral("=200"))); // neither end can hold what it takes
    QCOMPARE(problems.size(), 1);
    QVERIFY(m_session->fillFromAround() || m_session->job() == before);
}

// Levels may have axes of their own: the cursor stays inside whichever is looked at, and edits go there.
void SessionTest::levelsAreLookedAtAndEdited() {
    QVERIFY(m_session->perform(QStringLiteral("stack"), [](Job &job) {
        job = convertSchool(job, {School::stack, {0.1, 0.5, 0.85}, 0.03}).job;
        Table2D &small = job.calibration.levels[1].of(CalibratedQuantity::spark);
        small = Table2D(Axis({1000, 5000}), Axis({50, 200}), {20, 24, 10, 14});
    }));
    m_session->setContent(0.2);
    m_session->setSide(TableSide::base);
    m_session->setCell({15, 15});
    m_session->setContent(0.6);
    QCOMPARE(m_session->cell(), (CellIndex{1, 1}));
    QVERIFY(m_session->enterExpression(QStringLiteral("+1")));
    QCOMPARE(m_session->job().calibration.levels[1].of(CalibratedQuantity::spark).cell(1, 1), 15.0);
    m_session->undo();
    QCOMPARE(m_session->job().calibration.levels[1].of(CalibratedQuantity::spark).cell(1, 1), 14.0);
    m_session->setSide(TableSide::top);
    QVERIFY(m_session->frontTable() == m_session->job().calibration.levels[2].of(CalibratedQuantity::spark));
}

void SessionTest::expressionsActOnTheSelection() {
    const Table2D before = m_session->frontTable();
    m_session->setCell({6, 7}, true);
    QVERIFY(m_session->enterExpression(QStringLiteral("*1.1")));
    const Table2D after = m_session->frontTable();
    for (std::size_t y = 0; y < before.y().size(); ++y)
        for (std::size_t x = 0; x < before.x().size(); ++x) {
            const bool inside = x >= 4 && x <= 6 && y >= 5 && y <= 7;
            COMPARE_NEAR(after.cell(x, y), before.cell(x, y) * (inside ? 1.1 : 1), 1e-12);
        }
    m_session->undo();
    QVERIFY(m_session->nudge(1));
    COMPARE_NEAR(m_session->frontTable().cell(5, 6), before.cell(5, 6) + 0.5, 1e-12);
}

void SessionTest::pastesBlocks() {
    QVERIFY(m_session->pasteCells(QStringLiteral("10\t11\n12\t13,5\n")));
    QCOMPARE(m_session->frontTable().cell(5, 6), 13.5);
    QCOMPARE(m_session->frontTable().cell(4, 5), 10.0);
    QVERIFY(!m_session->pasteCells(QStringLiteral("1\t2\n3\n")));
    m_session->setCell({23, 23});
    QSignalSpy problems(m_session.get(), &Session::problem);
    QVERIFY(!m_session->pasteCells(QStringLiteral("1\t2\n")));
    QVERIFY2(problems[0][0].toString().contains(QStringLiteral("at most 1 columns")),
             qPrintable(problems[0][0].toString()));
    m_session->setCell({0, 0});
    m_session->setCell({3, 3}, true);
    QVERIFY(m_session->pasteCells(QStringLiteral("21")));
    QCOMPARE(m_session->frontTable().cell(2, 3), 21.0);
}

void SessionTest::copiesInTheShownUnit() {
    m_session->setQuantity(CalibratedQuantity::boost);
    m_session->setCell({0, 0});
    m_session->setCell({3, 2}, true);
    const Table2D before = m_session->frontTable();
    UnitChoice psi = m_session->units();
    psi.pressureUnit = "psi_g";
    m_session->setUnits(psi);
    const QString block = m_session->copyCells();
    QCOMPARE(block.count(QLatin1Char('\n')), 3);
    QCOMPARE(block.count(QLatin1Char('\t')), 9);
    COMPARE_NEAR(block.split(QLatin1Char('\t'))[0].toDouble(),
                 (before.cell(0, 0) - 101.325) / 6.894757293168361, 1e-9);
    QVERIFY(m_session->enterExpression(QStringLiteral("=10")));
    m_session->setCell({0, 0});
    QVERIFY(m_session->pasteCells(block));
    for (std::size_t i = 0; i < before.cells().size(); ++i)
        COMPARE_NEAR(m_session->frontTable().cells()[i], before.cells()[i], 1e-10);
}

void SessionTest::tableFilesGoOutAndIn() {
    const Job before = m_session->job();
    m_session->exportTable(CalibratedQuantity::spark, TableSide::base, file("spark.csv"));
    m_session->exportTable(CalibratedQuantity::spark, TableSide::now, file("now.csv"));
    m_session->importTable(CalibratedQuantity::spark, true, file("spark.csv"));
    QVERIFY(m_session->job().calibration.of(CalibratedQuantity::spark).top ==
            before.calibration.of(CalibratedQuantity::spark).base);
    m_session->importTable(CalibratedQuantity::spark, true, file("now.csv"));
    QVERIFY(m_session->job().calibration.of(CalibratedQuantity::spark).top ==
            blendedTable(before, CalibratedQuantity::spark, m_session->content()));
    m_session->exportJob(file("whole.json"));
    Session other(fixedTime);
    other.importJob(file("whole.json"), file("b.wwjob"));
    QVERIFY(other.job() == m_session->job());
}

void SessionTest::aBadFileLeavesTheJobAlone() {
    const Job before = m_session->job();
    write("bad.csv", "load,1000,2000\n50,10,ten\n");
    EXPECT_INPUT_ERROR(m_session->importTable(CalibratedQuantity::spark, true, file("bad.csv")),
                       "bad.csv, line 2, column 3", "ten");
    write("bad.json", "{\"format\": 3}");
    EXPECT_INPUT_ERROR(m_session->importJob(file("bad.json"), file("c.wwjob")), "bad.json, format");
    EXPECT_INPUT_ERROR(m_session->openJob(file("bad.csv")), "another kind");
    EXPECT_INPUT_ERROR(m_session->exportJob("/nowhere/at/all.json"), "written");
    QVERIFY(m_session->job() == before && m_session->hasJob());
}

void SessionTest::secondSessionIsReadOnly() {
    Session second(fixedTime);
    second.openJob(file("a.wwjob"));
    QVERIFY(second.readOnly() && second.stateText().contains(QStringLiteral("another window")));
    QSignalSpy problems(&second, &Session::problem);
    const Job before = second.job();
    QVERIFY(!second.perform(QStringLiteral("x"), [](Job &j) { j.name = "y"; }));
    QCOMPARE(problems.size(), 1);
    QVERIFY(second.job() == before);
}

void SessionTest::cursorSurvivesOtherAxes() {
    write("small.csv", "load,1000,2000\n50,10,12\n100,8,9\n");
    m_session->setCell({20, 20});
    m_session->importTable(CalibratedQuantity::spark, false, file("small.csv"));
    QVERIFY(m_session->cell() == (CellIndex{1, 1}));
    m_session->undo();
    m_session->setCell({20, 20});
    m_session->setQuantity(CalibratedQuantity::boost); // other rows: throttle
    QCOMPARE(m_session->cell().x, std::size_t{20});
    QVERIFY(m_session->cell().y < 8);
}

void SessionTest::verdictFollowsTheNewestEdit() {
    QTRY_VERIFY(m_session->verdict());
    for (int i = 0; i < 20; ++i)
        QVERIFY(m_session->perform(QStringLiteral("bigger"),
                                   [i](Job &j) { j.injectors.flowCcMin = 800 + 20 * i; }));
    QTRY_VERIFY(!m_session->verdictPending());
    QCOMPARE(m_session->verdict()->evaluation->job().injectors.flowCcMin, 1180.0);
    QVERIFY(m_session->verdict()->safeRanges[0].second > 0.85);
}

void SessionTest::aThousandRandomEditsUndo() {
    const Job before = m_session->job();
    std::mt19937 r(3);
    for (int i = 0; i < 1000; ++i) {
        m_session->setQuantity(allQuantities[r() % 4]);
        m_session->setSide(r() % 2 ? TableSide::base : TableSide::top);
        m_session->setCell({r() % 24, r() % 24});
        if (r() % 2) m_session->setCell({r() % 24, r() % 24}, true);
        switch (r() % 5) {
        case 0:
            m_session->nudge(r() % 2 ? 1 : -1);
            break;
        case 1:
            m_session->interpolate();
            break;
        case 2:
            m_session->smooth();
            break;
        case 3:
            m_session->enterExpression(QStringLiteral("*1.01"));
            break;
        default:
            m_session->perform(QStringLiteral("limit"), [&](Job &j) {
                j.limits["flow.duty.stop"] = 0.9 + static_cast<double>(r() % 10) / 100;
            });
        }
    }
    const Job after = m_session->job();
    QVERIFY(!(after == before));
    while (m_session->undoStack().canUndo())
        m_session->undo();
    QVERIFY(m_session->job() == before);
    while (m_session->undoStack().canRedo())
        m_session->redo();
    QVERIFY(m_session->job() == after);
}

CORE_TEST_MAIN(SessionTest)
#include "session_test.moc"
