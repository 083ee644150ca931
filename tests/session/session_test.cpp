// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/error.h"
#include "core/job/describe.h"
#include "core/job/statements.h"
#include "core/study/content_curve.h"
#include "core/study/school_conversion.h"
#include "core/study/two_table_school.h"
#include "formats/table_csv.h"
#include "session/cell_editor.h"
#include "session/session.h"
#include "support/random_job.h"
#include "support/test_main.h"

#include <QFile>
#include <QSignalSpy>
#include <QTemporaryDir>

#include <algorithm>
#include <fstream>
#include <functional>
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
    void selectionsOfAnyShape();
    void aTableOnOtherAxesIsEditedAtItsOwnCells();
    void searchSelects();
    void locksAndNotes();
    void blocksWithAxes();
    void regridsOneOrAll();
    void everyActionLeavesItsOrigin();
    void init();
    void cleanup() { m_session.reset(); }
    void startsWithoutAJob();
    void anEditIsSavedBeforeItIsShown();
    void undoAndRedoAreTransactions();
    void whatCannotBeWrittenDoesNotHappen();
    void gaugeUnitsFollowTheAir();
    void exportsWhatIsAskedFor();
    void doubtsAndRefusalsAreSaid();
    void refusedEditsChangeNothing();
    void editsOfNowAreShared();
    void levelsAreLookedAtAndEdited();
    void expressionsActOnTheSelection();
    void pastesBlocks();
    void copiesInTheShownUnit();
    void tableFilesGoOutAndIn();
    void aBadFileLeavesTheJobAlone();
    void aDamagedJobIsReadIntoANewOne();
    void whatCannotBeSalvagedIsSaid();
    void secondSessionIsReadOnly();
    void cursorSurvivesOtherAxes();
    void foundCellsLieOnTheBaseTable();
    void verdictFollowsTheNewestEdit();
    void randomEditsUndo();

  private:
    std::string file(const char *name) const { return m_dir->path().toStdString() + "/" + name; }
    void write(const char *name, const QByteArray &bytes) const {
        QFile f(QString::fromStdString(file(name)));
        QVERIFY(f.open(QIODevice::WriteOnly));
        f.write(bytes);
    }
    QString path(const char *name) const { return m_dir->filePath(QLatin1String(name)); }
    double cell() const { return m_session->frontTable().cell(m_session->cell()); }

    std::unique_ptr<QTemporaryDir> m_dir;
    void standBefore(TableSide side) {
        m_session->setQuantity(CalibratedQuantity::spark);
        m_session->setSide(side);
    }
    void importInto(TableSide side, const std::filesystem::path &csv) {
        standBefore(side);
        m_session->importTable(csv);
    }
    void exportFrom(TableSide side, const std::filesystem::path &csv) {
        standBefore(side);
        m_session->exportTable(csv);
    }
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
    QVERIFY(CellEditor(*m_session).enterExpression(QStringLiteral("=11.5")));
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
    QVERIFY(CellEditor(*m_session).enterExpression(QStringLiteral("+2")));
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

// The file is taken away under the session: no change, undo or redo comes to be that was not written.
void SessionTest::whatCannotBeWrittenDoesNotHappen() {
    QVERIFY(CellEditor(*m_session).enterExpression(QStringLiteral("+2")));
    QVERIFY(CellEditor(*m_session).enterExpression(QStringLiteral("+1")));
    m_session->undo();
    const Job job = m_session->job();
    const int index = m_session->undoStack().index();
    QSignalSpy problems(m_session.get(), &Session::problem), changes(m_session.get(), &Session::jobChanged);
    QVERIFY(QFile::rename(path("a.wwjob"), path("moved.wwjob")));
    const auto nothingHappens = [&](const char *what, int times) {
        QVERIFY2(m_session->job() == job, what);
        QVERIFY2(m_session->undoStack().index() == index, what);
        QVERIFY2(m_session->undoStack().canUndo() && m_session->undoStack().canRedo(), what);
        QCOMPARE(problems.size(), times);
        QCOMPARE(changes.size(), 0);
        QVERIFY2(m_session->stateText().contains(QStringLiteral("NOT saved")), what);
    };
    m_session->undo();
    nothingHappens("undo", 1);
    m_session->redo();
    nothingHappens("redo", 2);
    QVERIFY(!CellEditor(*m_session).enterExpression(QStringLiteral("+5")));
    nothingHappens("edit", 3);
    QVERIFY(QFile::rename(path("moved.wwjob"), path("a.wwjob")));
    m_session->redo(); // and now it can
    QVERIFY(!(m_session->job() == job));
    QVERIFY(m_session->stateText().contains(QStringLiteral("Every change is saved")));
    const Job after = m_session->job();
    m_session->closeJob();
    m_session->openJob(file("a.wwjob"));
    QVERIFY(m_session->job() == after);
}

// Gauge units count from the job's own air, also after it has changed, been undone, or another job was
// opened.
void SessionTest::gaugeUnitsFollowTheAir() {
    UnitChoice gauge;
    gauge.pressureUnit = "psi_g";
    m_session->setUnits(gauge);
    const auto shown = [&] { return toShown(200, Dimension::pressure, m_session->units()); };
    constexpr double psi = 6.894757293168361; // kPa: NIST SP 811, appendix B.8
    COMPARE_NEAR(shown(), (200 - m_session->job().conditions.ambientKpa) / psi, 1e-9);
    QVERIFY(m_session->perform(QStringLiteral("height"), [](Job &job) { job.conditions.ambientKpa = 84.5; }));
    COMPARE_NEAR(shown(), (200 - 84.5) / psi, 1e-9);
    m_session->undo();
    COMPARE_NEAR(shown(), (200 - demoJob().conditions.ambientKpa) / psi, 1e-9);
    Job high = demoJob();
    high.conditions.ambientKpa = 70;
    m_session->createJob(file("high.wwjob"), high);
    COMPARE_NEAR(shown(), (200 - 70) / psi, 1e-9);
}

void SessionTest::exportsWhatIsAskedFor() {
    QVERIFY(m_session->perform(QStringLiteral("stack"), [](Job &job) {
        job = convertSchool(job, {School::stack, {0.1, 0.5, 0.85}, 0.03}).job;
    }));
    m_session->setContent(0.3);
    for (const TableSide side : {TableSide::base, TableSide::now, TableSide::top}) {
        exportFrom(side, file("out.csv"));
        m_session->setQuantity(CalibratedQuantity::spark);
        m_session->setSide(side);
        std::ifstream in(file("out.csv"));
        QVERIFY(tableFromCsv(readCsv(in), m_session->frontField()).table == m_session->frontTable());
    }
    QVERIFY(!(m_session->tableAt(TableSide::base) == m_session->tableAt(TableSide::top)));
}

// A table of something else is taken, and said to be doubtful; an export over a job is refused.
void SessionTest::doubtsAndRefusalsAreSaid() {
    QSignalSpy problems(m_session.get(), &Session::problem);
    write("doubt.csv", "x,1000,2000\n50,0.9,0.88\n100,0.85,0.86\n");
    importInto(TableSide::top, file("doubt.csv"));
    QCOMPARE(problems.size(), 1);
    QVERIFY(problems[0][0].toString().contains(QStringLiteral("λ")));
    QVERIFY(m_session->undoStack().canUndo());
    write("label.csv", "lambda / load_kpa / rpm,1000,2000\n50,0.9,0.88\n100,0.85,0.86\n");
    EXPECT_INPUT_ERROR(importInto(TableSide::top, file("label.csv")), "label.csv", "'lambda'");
    EXPECT_INPUT_ERROR(m_session->exportJob(file("a.wwjob")), "never replaces a job");
    QVERIFY(CellEditor(*m_session).pasteCells(QStringLiteral("lambda / load_kpa / rpm\t1000\n50\t0.9\n")) ==
            CellEditor::PasteResult::refused);
    QVERIFY(CellEditor(*m_session).pasteCells(QStringLiteral("1.000\t2.000\n")) ==
            CellEditor::PasteResult::refused); // or thousands
    m_session->setCell({3, 3});
    QVERIFY(CellEditor(*m_session).enterExpression(QStringLiteral("=12.125")));
    QVERIFY(CellEditor(*m_session).pasteCells(CellEditor(*m_session).copyCells()) ==
                CellEditor::PasteResult::refused ||
            m_session->frontTable().cell(3, 3) == 12.125); // what we copy is never taken for thousands
    QVERIFY(CellEditor(*m_session).copyCells().startsWith(QStringLiteral("12.1250")));
}

void SessionTest::refusedEditsChangeNothing() {
    QSignalSpy problems(m_session.get(), &Session::problem);
    const Job before = m_session->job();
    QVERIFY(!CellEditor(*m_session).enterExpression(QStringLiteral("=99")));
    QVERIFY(!CellEditor(*m_session).enterExpression(QStringLiteral("lots")));
    QCOMPARE(problems.size(), 2);
    QVERIFY2(problems[0][0].toString().contains(QStringLiteral("-20 to 60")),
             qPrintable(problems[0][0].toString()));
    QVERIFY2(problems[0][0].toString().contains(QStringLiteral("Spark, base row 6, column 5")),
             qPrintable(problems[0][0].toString()));
    QVERIFY(m_session->job() == before);
    QVERIFY(!m_session->undoStack().canUndo());
    QVERIFY(
        !CellEditor(*m_session).enterExpression(QStringLiteral("+0"))); // nothing to do is no step of undo
    QVERIFY(!m_session->undoStack().canUndo());
}

// What the engine gets is set by moving both ends, as one step of undo.
void SessionTest::editsOfNowAreShared() {
    const Job before = m_session->job();
    m_session->setContent(0.5);
    m_session->setSide(TableSide::now);
    QVERIFY(CellEditor(*m_session).enterExpression(QStringLiteral("=12")));
    QVERIFY(std::abs(m_session->frontTable().cell(m_session->cell()) - 12) < 1e-9);
    const CellIndex at = m_session->cell();
    for (const TableSide side : {TableSide::base, TableSide::top})
        QVERIFY(m_session->tableAt(side).cell(at) !=
                tableOf(m_session->quantity(), side == TableSide::top).of(before).cell(at));
    m_session->undo();
    QVERIFY(m_session->job() == before);
    QSignalSpy problems(m_session.get(), &Session::problem);
    QVERIFY(!CellEditor(*m_session)
                 .enterExpression(QStringLiteral("=200"))); // neither end can hold what it takes
    QCOMPARE(problems.size(), 1);
    QVERIFY(CellEditor(*m_session).fillFromAround() || m_session->job() == before);
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
    QVERIFY(CellEditor(*m_session).enterExpression(QStringLiteral("+1")));
    QCOMPARE(m_session->job().calibration.levels[1].of(CalibratedQuantity::spark).cell(1, 1), 15.0);
    m_session->undo();
    QCOMPARE(m_session->job().calibration.levels[1].of(CalibratedQuantity::spark).cell(1, 1), 14.0);
    m_session->setSide(TableSide::top);
    QVERIFY(m_session->frontTable() == m_session->job().calibration.levels[2].of(CalibratedQuantity::spark));
}

void SessionTest::expressionsActOnTheSelection() {
    const Table2D before = m_session->frontTable();
    m_session->setCell({6, 7}, true);
    QVERIFY(CellEditor(*m_session).enterExpression(QStringLiteral("*1.1")));
    const Table2D after = m_session->frontTable();
    for (std::size_t y = 0; y < before.y().size(); ++y)
        for (std::size_t x = 0; x < before.x().size(); ++x) {
            const bool inside = x >= 4 && x <= 6 && y >= 5 && y <= 7;
            COMPARE_NEAR(after.cell(x, y), before.cell(x, y) * (inside ? 1.1 : 1), 1e-12);
        }
    m_session->undo();
    QVERIFY(CellEditor(*m_session).nudge(1));
    COMPARE_NEAR(m_session->frontTable().cell(5, 6), before.cell(5, 6) + 0.5, 1e-12);
}

void SessionTest::pastesBlocks() {
    QVERIFY(CellEditor(*m_session).pasteCells(QStringLiteral("10\t11\n12\t13,5\n")) ==
            CellEditor::PasteResult::done);
    QCOMPARE(m_session->frontTable().cell(5, 6), 13.5);
    QCOMPARE(m_session->frontTable().cell(4, 5), 10.0);
    QVERIFY(CellEditor(*m_session).pasteCells(QStringLiteral("1\t2\n3\n")) ==
            CellEditor::PasteResult::refused);
    m_session->setCell({23, 23});
    QSignalSpy problems(m_session.get(), &Session::problem);
    QVERIFY(CellEditor(*m_session).pasteCells(QStringLiteral("1\t2\n")) == CellEditor::PasteResult::refused);
    QVERIFY2(problems[0][0].toString().contains(QStringLiteral("at most 1 columns")),
             qPrintable(problems[0][0].toString()));
    m_session->setCell({0, 0});
    m_session->setCell({3, 3}, true);
    QVERIFY(CellEditor(*m_session).pasteCells(QStringLiteral("21")) == CellEditor::PasteResult::done);
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
    const QString block = CellEditor(*m_session).copyCells();
    QCOMPARE(block.count(QLatin1Char('\n')), 3);
    QCOMPARE(block.count(QLatin1Char('\t')), 9);
    COMPARE_NEAR(block.split(QLatin1Char('\t'))[0].toDouble(),
                 (before.cell(0, 0) - 101.325) / 6.894757293168361, 1e-9);
    QVERIFY(CellEditor(*m_session).enterExpression(QStringLiteral("=10")));
    m_session->setCell({0, 0});
    QVERIFY(CellEditor(*m_session).pasteCells(block) == CellEditor::PasteResult::done);
    for (std::size_t i = 0; i < before.cells().size(); ++i)
        COMPARE_NEAR(m_session->frontTable().cells()[i], before.cells()[i], 1e-10);
}

void SessionTest::tableFilesGoOutAndIn() {
    const Job before = m_session->job();
    exportFrom(TableSide::base, file("spark.csv"));
    exportFrom(TableSide::now, file("now.csv"));
    importInto(TableSide::top, file("spark.csv"));
    QVERIFY(m_session->job().calibration.of(CalibratedQuantity::spark).top ==
            before.calibration.of(CalibratedQuantity::spark).base);
    importInto(TableSide::top, file("now.csv"));
    QVERIFY(m_session->job().calibration.of(CalibratedQuantity::spark).top ==
            Study(before).blended(CalibratedQuantity::spark, m_session->content()));
    m_session->exportJob(file("whole.json"));
    Session other(fixedTime);
    other.importJob(file("whole.json"), file("b.wwjob"));
    QVERIFY(other.job() == m_session->job());
}

void SessionTest::aBadFileLeavesTheJobAlone() {
    const Job before = m_session->job();
    write("bad.csv", "load,1000,2000\n50,10,ten\n");
    EXPECT_INPUT_ERROR(importInto(TableSide::top, file("bad.csv")), "bad.csv, line 2, column 3", "ten");
    write("bad.json", "{\"format\": 3}");
    EXPECT_INPUT_ERROR(m_session->importJob(file("bad.json"), file("c.wwjob")), "bad.json, format");
    EXPECT_INPUT_ERROR(m_session->openJob(file("bad.csv")), "another kind");
    EXPECT_INPUT_ERROR(m_session->exportJob("/nowhere/at/all.json"), "written");
    QVERIFY(m_session->job() == before && m_session->hasJob());
}

// One letter of the file is another: it is refused whole, and what is left of it becomes another job.
void SessionTest::aDamagedJobIsReadIntoANewOne() {
    QVERIFY(m_session->perform(QStringLiteral("x"), [](Job &j) { j.notes = "never seen before"; }));
    const Job before = m_session->job();
    m_session->closeJob();
    std::ifstream in(file("a.wwjob"), std::ios::binary);
    std::string bytes(std::istreambuf_iterator<char>(in), {});
    bytes[bytes.find("never seen before")] = 'f';
    write("a.wwjob", QByteArray::fromStdString(bytes));
    EXPECT_INPUT_ERROR(m_session->openJob(file("a.wwjob")), "damage");
    QSignalSpy opened(m_session.get(), &Session::jobOpened), salvaged(m_session.get(), &Session::salvaged);
    m_session->beginSalvaging(file("a.wwjob"), file("a salvaged.wwjob"));
    QVERIFY(salvaged.wait());
    QCOMPARE(opened.size(), 1);
    QVERIFY(m_session->path() == file("a salvaged.wwjob") && !m_session->readOnly());
    const QStringList lost = salvaged.front().front().toStringList();
    QVERIFY(!lost.isEmpty());
    Job after = m_session->job();
    QCOMPARE(after.notes, std::string("fever seen before"));
    // Which of the settings is another nobody knows: none of them is stated any more.
    QVERIFY(std::ranges::none_of(allFields(), [&](const Field &f) { return isStated(after, f.path); }));
    after.notes = before.notes;
    after.stated = before.stated;
    QVERIFY(after == before);
    std::ifstream again(file("a.wwjob"), std::ios::binary);
    QVERIFY(std::string(std::istreambuf_iterator<char>(again), {}) == bytes);
}

void SessionTest::whatCannotBeSalvagedIsSaid() {
    const Job before = m_session->job();
    write("b.wwjob", "not a job at all");
    QSignalSpy problems(m_session.get(), &Session::problem), salvaged(m_session.get(), &Session::salvaged);
    m_session->beginSalvaging(file("b.wwjob"), file("b salvaged.wwjob"));
    QVERIFY(problems.wait());
    QVERIFY(!QFile::exists(path("b salvaged.wwjob")));
    // A name that is taken is not written over.
    m_session->beginSalvaging(file("a.wwjob"), file("b.wwjob"));
    QVERIFY(problems.wait());
    QCOMPARE(problems.size(), 2);
    QCOMPARE(salvaged.size(), 0);
    QVERIFY(m_session->job() == before && m_session->path() == file("a.wwjob"));
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
    importInto(TableSide::base, file("small.csv"));
    QVERIFY(m_session->cell() == (CellIndex{1, 1}));
    m_session->undo();
    m_session->setCell({20, 20});
    m_session->setQuantity(CalibratedQuantity::boost); // other rows: throttle
    QCOMPARE(m_session->cell().x, std::size_t{20});
    QVERIFY(m_session->cell().y < 8);
    // Where the other table has other speeds, the cursor stays by the speed, not by the number of the column.
    m_session->setQuantity(CalibratedQuantity::spark);
    QVERIFY(CellEditor(*m_session).regridTables(Axis({1000, 3000, 5000, 7000}), Axis({50, 100, 200}), true));
    m_session->setCell({2, 1}); // 5000 rpm, 100 kPa
    m_session->setQuantity(CalibratedQuantity::fuel);
    const Table2D &fuel = m_session->table();
    QCOMPARE(m_session->cell(), (CellIndex{fuel.x().nearest(5000), fuel.y().nearest(100)}));
    QVERIFY(m_session->cell().x > 4);
    m_session->setQuantity(CalibratedQuantity::spark);
    QCOMPARE(m_session->cell(), (CellIndex{2, 1}));
}

// The top table may have other axes: what was found there is looked at by its speed and load.
void SessionTest::foundCellsLieOnTheBaseTable() {
    Table2D other = Table2D::uniform(Axis({1000, 4000, 7000}), Axis({50, 150, 250}), 20);
    other.setCell({2, 1}, 33);
    QVERIFY(m_session->perform(QStringLiteral("other axes"),
                               [&](Job &j) { j.calibration.of(CalibratedQuantity::spark).top = other; }));
    m_session->setSide(TableSide::top);
    QVERIFY(m_session->selectWhere(QStringLiteral("> 30")));
    const Table2D &base = m_session->job().calibration.of(CalibratedQuantity::spark).base;
    QCOMPARE(m_session->cell(), (CellIndex{base.x().nearest(7000), base.y().nearest(150)}));
    QVERIFY(m_session->cell().x > 2);
}

void SessionTest::verdictFollowsTheNewestEdit() {
    QVERIFY(!m_session->verdictSettled()); // it has just been opened
    QTRY_VERIFY(m_session->verdict());
    QTRY_VERIFY(m_session->verdictSettled());
    QVERIFY(m_session->perform(QStringLiteral("smaller"), [](Job &j) { j.injectors.flowCcMin = 700; }));
    QVERIFY(m_session->verdict() && !m_session->verdictSettled()); // it is of the job before
    for (int i = 0; i < 20; ++i)
        QVERIFY(m_session->perform(QStringLiteral("bigger"),
                                   [i](Job &j) { j.injectors.flowCcMin = 800 + 20 * i; }));
    QTRY_VERIFY(!m_session->verdictPending());
    QCOMPARE(m_session->verdict()->study->job().injectors.flowCcMin, 1180.0);
    const std::vector<WorstPlace> &duty = findRow(*m_session->verdict(), "flow.duty")->outcome.byContent;
    QVERIFY(duty[85].margin > 0);
}

void SessionTest::randomEditsUndo() {
    const Job before = m_session->job();
    std::mt19937 r(3);
    for (int i = 0; i < 400; ++i) { // region_edit_test does ten thousand without a file
        m_session->setQuantity(allQuantities[r() % 4]);
        m_session->setSide(r() % 2 ? TableSide::base : TableSide::top);
        m_session->setCell({r() % 24, r() % 24});
        if (r() % 2) m_session->setCell({r() % 24, r() % 24}, true);
        if (r() % 4 == 0) m_session->addCell({r() % 24, r() % 24});
        if (r() % 5 == 0) m_session->setSide(TableSide::now);
        if (r() % 5 == 0) m_session->setContent(static_cast<double>(r() % 101) / 100);
        switch (r() % 9) {
        case 4:
            CellEditor(*m_session).toggleLocks();
            break;
        case 5:
            CellEditor(*m_session).setCellNote(QString::number(r() % 3));
            break;
        case 6:
            m_session->perform(QStringLiteral("curve"), [&](Job &j) {
                moveCurvePoint(j, m_session->quantity(), 1 + r() % 3,
                               {static_cast<double>(r() % 100) / 100, static_cast<double>(r() % 100) / 100});
            });
            break;
        case 7:
            CellEditor(*m_session).fillFromAround();
            break;
        case 0:
            CellEditor(*m_session).nudge(r() % 2 ? 1 : -1);
            break;
        case 1:
            CellEditor(*m_session).interpolate();
            break;
        case 2:
            CellEditor(*m_session).smooth();
            break;
        case 3:
            CellEditor(*m_session).enterExpression(QStringLiteral("*1.01"));
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

void SessionTest::selectionsOfAnyShape() {
    const Table2D before = m_session->frontTable();
    m_session->setCell({2, 2});
    m_session->setCell({4, 2}, true);
    m_session->keepSelection();
    m_session->addCell({8, 9});
    m_session->setCell({8, 11}, true);
    QCOMPARE(m_session->chosenCells().size(), std::size_t{6});
    m_session->addCell({3, 2}); // chosen already: out of it
    QCOMPARE(m_session->chosenCells().size(), std::size_t{5});
    QVERIFY(CellEditor(*m_session).enterExpression(QStringLiteral("+1")));
    const Table2D after = m_session->frontTable();
    std::size_t moved = 0;
    for (std::size_t y = 0; y < before.y().size(); ++y)
        for (std::size_t x = 0; x < before.x().size(); ++x)
            moved += after.cell(x, y) != before.cell(x, y);
    QCOMPARE(moved, std::size_t{5});
    QCOMPARE(after.cell(3, 2), before.cell(3, 2));
    m_session->setCell({1, 1}); // what was kept stays
    QCOMPARE(m_session->chosenCells().size(), std::size_t{6});
    m_session->forgetKept();
    QCOMPARE(m_session->chosenCells().size(), std::size_t{1});
    m_session->addCell({5, 5});
    m_session->setCell({1, 1}); // what was only added goes with the next move
    QCOMPARE(m_session->chosenCells().size(), std::size_t{1});
    m_session->setCell({2, 2});
    m_session->keepSelection();
    m_session->setQuantity(CalibratedQuantity::fuel);
    QVERIFY(!m_session->hasKept());
}

// The cursor lives on the base table's 24 × 24; the top table has three columns and two rows.
void SessionTest::aTableOnOtherAxesIsEditedAtItsOwnCells() {
    m_session->setSide(TableSide::top);
    QVERIFY(CellEditor(*m_session).regridTables(Axis({1000, 4000, 7000}), Axis({50, 200}), false));
    m_session->setCell({0, 0});
    m_session->setCell({23, 23}, true);
    m_session->addCell({20, 2}); // out of the set again
    const Table2D before = m_session->frontTable();
    QVERIFY(CellEditor(*m_session).nudge(1));
    for (std::size_t i = 0; i < before.cells().size(); ++i)
        COMPARE_NEAR(m_session->frontTable().cells()[i], before.cells()[i] + 0.5, 1e-12);
    QVERIFY(CellEditor(*m_session).smooth(1) || m_session->frontTable() != before);
    QVERIFY(CellEditor(*m_session).toggleLocks());
    QCOMPARE(m_session->job().cellMarks.size(), std::size_t{6});
    QVERIFY(!CellEditor(*m_session).nudge(1));
    QVERIFY(CellEditor(*m_session).toggleLocks());
    m_session->setCell({23, 23}); // 7400 rpm, 280 kPa: nearest to its last cell
    QVERIFY(CellEditor(*m_session).setCellNote(QStringLiteral("here")));
    QCOMPARE(m_session->job().cellMarks.front().rpm, 7000.0);
    QVERIFY(CellEditor(*m_session).pasteCells(QStringLiteral("9\t9\n")) == CellEditor::PasteResult::refused);
    QVERIFY(CellEditor(*m_session).pasteCells(QStringLiteral("9")) == CellEditor::PasteResult::done);
    QCOMPARE(m_session->frontTable().cell(2, 1), 9.0);
    QCOMPARE(CellEditor(*m_session).copyCells().trimmed(), QStringLiteral("9"));
}

void SessionTest::searchSelects() {
    QSignalSpy problems(m_session.get(), &Session::problem);
    QVERIFY(m_session->selectWhere(QStringLiteral("> 22 above 120 kPa")));
    const Table2D t = m_session->frontTable();
    const CellSet chosen = m_session->chosenCells();
    for (std::size_t y = 0; y < t.y().size(); ++y)
        for (std::size_t x = 0; x < t.x().size(); ++x)
            QCOMPARE(std::ranges::binary_search(chosen, CellIndex{x, y}),
                     t.cell(x, y) > 22 && t.y()[y] > 120);
    UnitChoice psi = m_session->units();
    psi.pressureUnit = "psi";
    m_session->setUnits(psi);
    QVERIFY(m_session->selectWhere(QStringLiteral("> 22 above 17.45"))); // a little over 120 kPa
    QVERIFY(m_session->chosenCells() == chosen);
    QVERIFY(!m_session->selectWhere(QStringLiteral("> 59")));
    QVERIFY(!m_session->selectWhere(QStringLiteral("where knock")));
    QCOMPARE(problems.size(), 2);
    QVERIFY(m_session->chosenCells() == chosen); // neither lost the selection
}

void SessionTest::locksAndNotes() {
    QSignalSpy problems(m_session.get(), &Session::problem);
    m_session->setCell({4, 5});
    QVERIFY(CellEditor(*m_session).toggleLocks());
    const double locked = cell();
    QVERIFY(!CellEditor(*m_session).nudge(1));
    QVERIFY2(problems.last()[0].toString().contains(QStringLiteral("locked")),
             qPrintable(problems.last()[0].toString()));
    m_session->setCell({5, 5}, true);
    QVERIFY(CellEditor(*m_session).nudge(1)); // the other one moves
    QVERIFY(m_session->undoStack().undoText().contains(QStringLiteral("a locked cell left alone")));
    const auto edits = {std::function<bool()>([&] { return CellEditor(*m_session).smooth(1); }),
                        std::function<bool()>([&] { return CellEditor(*m_session).interpolate(); }),
                        std::function<bool()>([&] { return CellEditor(*m_session).fillFromAround(); })};
    for (const auto &edit : edits) {
        m_session->setCell({3, 4});
        m_session->setCell({6, 7}, true);
        QVERIFY(edit());
        QCOMPARE(m_session->frontTable().cell(4, 5), locked);
    }
    m_session->setSide(TableSide::now); // locked at one end: what the engine gets does not move either
    m_session->setContent(0.5);
    m_session->setCell({4, 5});
    const double now = cell();
    QVERIFY(!CellEditor(*m_session).nudge(1));
    QCOMPARE(cell(), now);
    QVERIFY(CellEditor(*m_session).toggleLocks()); // it counts as locked, so this unlocks
    QVERIFY(m_session->job().cellMarks.empty());
    QVERIFY(CellEditor(*m_session).toggleLocks()); // and this locks both ends
    QCOMPARE(m_session->job().cellMarks.size(), std::size_t{2});
    QVERIFY(CellEditor(*m_session).toggleLocks());
    QVERIFY(CellEditor(*m_session).setCellNote(QStringLiteral("  knock at the hairpin ")));
    QCOMPARE(CellEditor(*m_session).cellNote(), QStringLiteral("knock at the hairpin"));
    m_session->undo();
    QVERIFY(CellEditor(*m_session).cellNote().isEmpty());
}

void SessionTest::blocksWithAxes() {
    m_session->setCell({2, 3});
    m_session->setCell({5, 6}, true);
    const QString block = CellEditor(*m_session).copyCells(true);
    QVERIFY2(block.startsWith(QStringLiteral("spark_deg / load_kpa / rpm\t")), qPrintable(block));
    const Table2D before = m_session->frontTable();
    QVERIFY(CellEditor(*m_session).enterExpression(QStringLiteral("=7")));
    m_session->setCell({20, 20}); // it knows where it belongs
    QVERIFY(CellEditor(*m_session).pasteCells(block) == CellEditor::PasteResult::done);
    QVERIFY(m_session->frontTable() == before);
    // Breakpoints of its own: nothing happens before somebody chooses.
    const QString odd = QStringLiteral("\t2050\t4050\n75\t10\t20\n125\t30\t40\n");
    QVERIFY(CellEditor(*m_session).pasteCells(odd) == CellEditor::PasteResult::choiceNeeded);
    QVERIFY(m_session->frontTable() == before);
    QVERIFY(CellEditor(*m_session).pasteCells(odd, CellEditor::BlockAxes::interpolate) ==
            CellEditor::PasteResult::done);
    const Table2D after = m_session->frontTable();
    QVERIFY(after.x() == before.x());
    for (std::size_t y = 0; y < after.y().size(); ++y)
        for (std::size_t x = 0; x < after.x().size(); ++x) {
            const double rpm = after.x()[x], load = after.y()[y];
            if (rpm < 2050 || rpm > 4050 || load < 75 || load > 125)
                QCOMPARE(after.cell(x, y), before.cell(x, y));
            else // a plane: 10 at its corner, 10 more along rpm, 20 more along load
                COMPARE_NEAR(after.cell(x, y), 10 + (rpm - 2050) / 200 + (load - 75) / 2.5, 1e-9);
        }
    QVERIFY(CellEditor(*m_session).pasteCells(odd, CellEditor::BlockAxes::takeOver) ==
            CellEditor::PasteResult::done);
    QCOMPARE(m_session->frontTable().x().points(), std::vector<double>({2050, 4050}));
    QCOMPARE(m_session->frontTable().cell(1, 1), 40.0);
    m_session->setSide(TableSide::now);
    QVERIFY(CellEditor(*m_session).pasteCells(odd, CellEditor::BlockAxes::takeOver) ==
            CellEditor::PasteResult::refused);
}

void SessionTest::regridsOneOrAll() {
    const Axis rpm({1000, 3000, 5000, 7000}), load({50, 100, 200});
    const Job before = m_session->job();
    QVERIFY(CellEditor(*m_session).regridTables(rpm, load, false));
    QVERIFY(m_session->tableAt(TableSide::base).x() == rpm && m_session->tableAt(TableSide::top).x() != rpm);
    m_session->undo();
    QVERIFY(m_session->job() == before);
    QVERIFY(CellEditor(*m_session).regridTables(rpm, load, true));
    QVERIFY(m_session->tableAt(TableSide::base).y() == load &&
            m_session->tableAt(TableSide::top).y() == load);
    m_session->undo();
    QVERIFY(m_session->job() == before);
}

void SessionTest::everyActionLeavesItsOrigin() {
    const auto here = [&] { return m_session->tableAt(TableSide::base).origin({4, 5}); };
    QVERIFY(here() == CellOrigin::unknown);
    QVERIFY(CellEditor(*m_session).nudge(1));
    QVERIFY(here() == CellOrigin::typed);
    QVERIFY(CellEditor(*m_session).smooth(1));
    QVERIFY(here() == CellOrigin::interpolated);
    QVERIFY(CellEditor(*m_session).pasteCells(QStringLiteral("12.5")) == CellEditor::PasteResult::done);
    QVERIFY(here() == CellOrigin::copied);
    m_session->undo();
    QVERIFY(here() == CellOrigin::interpolated);
}

CORE_TEST_MAIN(SessionTest)
#include "session_test.moc"
