// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/error.h"
#include "core/job/revision.h"
#include "core/study/cell_trust.h"
#include "store/job_editor.h"
#include "store/sql_rows.h"
#include "support/random_job.h"
#include "support/test_main.h"

#include <QTemporaryDir>

#include <SQLiteCpp/SQLiteCpp.h>

#include <atomic>
#include <fstream>
#include <thread>

using namespace wheelwright;
using namespace wheelwright::testing;
namespace fs = std::filesystem;

namespace {

constexpr const char *when = "2001-02-03T04:05:06Z";

Table2D &sparkOf(Job &job) {
    return job.calibration.of(CalibratedQuantity::spark).base;
}

std::string bytesOf(const fs::path &path) {
    std::ifstream in(path, std::ios::binary);
    return {std::istreambuf_iterator<char>(in), {}};
}

std::size_t pagesThatDiffer(const std::string &a, const std::string &b) {
    constexpr std::size_t page = 4096;
    std::size_t count = 0;
    for (std::size_t at = 0; at < std::max(a.size(), b.size()); at += page)
        count += at >= a.size() || at >= b.size() || a.compare(at, page, b, at, page) != 0;
    return count;
}

/// The demo with as much beside its tables as a job may hold.
Job heavyJob() {
    Job job = demoJob();
    for (int i = 0; i < 200; ++i)
        keepRevision(job, "r" + std::to_string(i), "2001-02-03", "", i % 3 == 0);
    const Table2D &t = sparkOf(job);
    for (std::size_t i = 0; i < 20000; ++i)
        job.cellMarks.push_back(
            {i % 2 == 0 ? "calibration.spark.base" : "calibration.none." + std::to_string(i),
             t.x()[i % t.x().size()] + (i < 2 ? 0 : 0.001 * static_cast<double>(i)), 20, false, "seen"});
    return job;
}

/// Another program, which knows the file but heeds no lock.
void writePastTheLock(const fs::path &path, const Job &before, const std::function<void(Job &)> &edit) {
    Job after = before;
    edit(after);
    SQLite::Database db(path.string(), SQLite::OPEN_READWRITE);
    SQLite::Transaction transaction(db);
    RowWriter writer(db);
    writer.change(difference(before, after));
    writer.action("Elsewhere", when);
    writer.finish();
    transaction.commit();
}

} // namespace

/// One editor serves window and command line: what it writes, what it refuses, and what a job may hold
/// beside.
class JobEditorTest : public QObject {
    Q_OBJECT
  private slots:
    void init() { m_dir = std::make_unique<QTemporaryDir>(); }
    void aCellEditWritesThatCell();
    void anEditCopiesWhatItChanges();
    void everyEditGetsItsOriginAndHeedsLocks();
    void aTypedFieldIsStated();
    void anEditThatChangesNothingWritesNothing();
    void aBadEditLeavesAllAsItWas();
    void anotherProgramsRowsAreTakenIn();
    void anotherProgramsSameRowsAreNotOverwritten();
    void historyDoesNotReachBehindAnother();
    void recordsKeepTheirIds();
    void aListIsWrittenRowByRow();
    void tablesOfLevelsAreWrittenCellByCell();
    void revisionsAreReadWhenAskedFor();
    void aDamagedRevisionIsRefusedWhenAskedFor();
    void aRevisionThatWentComesBack();
    void textsAreReadByManyThreads();

  private:
    fs::path file(const std::string &name = "a.wwjob") const {
        return m_dir->path().toStdString() + "/" + name;
    }
    JobEditor editorOf(const Job &job) { return JobEditor(JobStore::create(file(), job, when)); }
    std::unique_ptr<QTemporaryDir> m_dir;
};

// Two hundred revisions and twenty thousand marks beside it: the edit's rows are the cell, the action and two
// digests, each on a page or two of the tree.
void JobEditorTest::aCellEditWritesThatCell() {
    JobEditor editor = editorOf(heavyJob());
    const JobChange change = editor.plan([](Job &job) { sparkOf(job).setCell({3, 2}, 17.25); }, {});
    QCOMPARE(change.cells.size(), std::size_t{1});
    QCOMPARE(change.cells[0].cells.size(), std::size_t{1});
    QVERIFY(change.records.empty() && change.fields.empty() && change.tables.empty());
    const std::string before = bytesOf(file());
    QVERIFY(before.size() > 3'000'000);
    QVERIFY(editor.write(change, "one cell", when).empty());
    const std::string after = bytesOf(file());
    QVERIFY2(pagesThatDiffer(before, after) <= 8,
             qPrintable(QString::number(pagesThatDiffer(before, after))));
    SQLite::Database db(file().string(), SQLite::OPEN_READONLY);
    const JobRows rows = readRows(db, schemaVersion, true);
    QVERIFY(brokenChapters(rows).empty());
    JobStore::Options reading;
    reading.readOnly = true;
    QVERIFY(JobStore::open(file(), reading).read() == editor.job());
    QVERIFY(editor.job().calibration.of(CalibratedQuantity::spark).base.cell(3, 2) == 17.25);
}

// What an edit leaves alone is the same memory before and after.
void JobEditorTest::anEditCopiesWhatItChanges() {
    JobEditor editor = editorOf(heavyJob());
    const Job before = editor.job();
    editor.write(editor.plan([](Job &job) { sparkOf(job).setCell({3, 2}, 17.25); }, {}), "one cell", when);
    const Job &after = editor.job();
    QVERIFY(after.revisions.shares(before.revisions) && after.cellMarks.shares(before.cellMarks));
    QVERIFY(after.tankEvents.shares(before.tankEvents));
    for (const TableField &t : allTables())
        QCOMPARE(t.of(after).shares(t.of(before)), t.path != "calibration.spark.base");
}

void JobEditorTest::everyEditGetsItsOriginAndHeedsLocks() {
    Job job = demoJob();
    setLocked(job, "calibration.spark.base", sparkOf(job), {{1, 1}}, true);
    JobEditor editor = editorOf(job);
    const double locked = sparkOf(job).cell(1, 1);
    const auto raise = [](Job &j) {
        for (const CellIndex i : {CellIndex{1, 1}, CellIndex{2, 1}})
            sparkOf(j).setCell(i, sparkOf(j).cell(i) + 1);
    };
    const JobChange heeding = editor.plan(raise, {CellOrigin::log, true});
    QCOMPARE(heeding.cells.at(0).cells.size(), std::size_t{1});
    editor.write(heeding, "raise", when);
    Job now = editor.job();
    QVERIFY(sparkOf(now).cell(1, 1) == locked);
    QVERIFY(sparkOf(now).origin({2, 1}) == CellOrigin::log);
    QVERIFY(sparkOf(now).origin({1, 1}) == CellOrigin::unknown);
    // Whole tables are not held, and a change that brings its own origins keeps them.
    const JobChange own = editor.plan(
        [&](Job &j) {
            raise(j);
            sparkOf(j).setOrigin({1, 1}, CellOrigin::copied);
        },
        {std::nullopt, false});
    editor.write(own, "raise", when);
    now = editor.job();
    QVERIFY(sparkOf(now).cell(1, 1) == locked + 1);
    QVERIFY(sparkOf(now).origin({1, 1}) == CellOrigin::copied);
    QVERIFY(sparkOf(now).origin({2, 1}) == CellOrigin::log);
    // An edit of the origin alone is a change too, and the file keeps it.
    editor.write(editor.plan(
                     [](Job &j) {
                         sparkOf(j).setOrigin({4, 4}, CellOrigin::model);
                     },
                     {std::nullopt, false}),
                 "origin", when);
    JobStore::Options reading;
    reading.readOnly = true;
    Job read = JobStore::open(file(), reading).read();
    QVERIFY(sparkOf(read).origin({4, 4}) == CellOrigin::model &&
            sparkOf(read).origin({2, 1}) == CellOrigin::log);
}

// What is typed is stated by it, in the same transaction and undo; two programs may state two fields.
void JobEditorTest::aTypedFieldIsStated() {
    const auto limit = [](double rpm) { return [rpm](Job &j) { j.engine.revLimitRpm = rpm; }; };
    JobEditor editor = editorOf(newJob("x"));
    const JobChange change = editor.plan(limit(7200), {});
    editor.write(change, "Rev limit", when);
    QVERIFY(isStated(editor.job(), "engine.rev_limit_rpm"));
    QVERIFY(isStated(JobStore::open(file(),
                                    [] {
                                        JobStore::Options o;
                                        o.readOnly = true;
                                        return o;
                                    }())
                         .read(),
                     "engine.rev_limit_rpm"));
    editor.write(reversed(change), "Undo", when);
    QVERIFY(!isStated(editor.job(), "engine.rev_limit_rpm"));
    writePastTheLock(file(), editor.job(), [](Job &j) {
        j.engine.cylinders = 6;
        state(j, "engine.cylinders");
    });
    editor.write(editor.plan(limit(7300), {}), "Rev limit", when);
    QVERIFY(isStated(editor.job(), "engine.rev_limit_rpm") && isStated(editor.job(), "engine.cylinders"));
    QCOMPARE(editor.job().engine.cylinders, 6.0);
}

void JobEditorTest::anEditThatChangesNothingWritesNothing() {
    JobEditor editor = editorOf(demoJob());
    QVERIFY(editor.plan([](Job &) {}, {}).empty());
    QVERIFY(editor.plan([](Job &job) { job = demoJob(); }, {}).empty());
    // The same records under other ids are the same records.
    QVERIFY(
        editor.plan([](Job &job) { job.tankEvents.setIds(spacedIds(job.tankEvents.size())); }, {}).empty());
}

void JobEditorTest::aBadEditLeavesAllAsItWas() {
    JobEditor editor = editorOf(demoJob());
    const std::string bytes = bytesOf(file());
    EXPECT_INPUT_ERROR(editor.plan(
                           [](Job &job) {
                               sparkOf(job).setCell({0, 0}, 99);
                           },
                           {}),
                       "calibration.spark.base");
    EXPECT_INPUT_ERROR(editor.plan([](Job &job) { job.tankEvents[1].litres = 1e9; }, {}),
                       "tank.events 2 litres");
    EXPECT_INPUT_ERROR(editor.plan([](Job &job) { job.shelf[0].hydrocarbon = "nobody's"; }, {}),
                       "fuel.shelf 1 hydrocarbon");
    EXPECT_INPUT_ERROR(editor.plan([](Job &job) { job.limits["flow.duty.stop"] = 99; }, {}),
                       "flow.duty.stop");
    EXPECT_INPUT_ERROR(
        editor.plan([](Job &job) { job.engine.mapSensorMaxKpa = 95, job.engine.mapSensorMinKpa = 99; }, {}),
        "engine.map_sensor_max_kpa");
    EXPECT_INPUT_ERROR(editor.plan(
                           [](Job &job) { // what made cells sound may change without them
                               job.calibration.fuelMeaning = FuelMeaning::pulseWidth;
                           },
                           {}),
                       "calibration.fuel");
    QVERIFY(editor.job() == demoJob() && bytesOf(file()) == bytes);
}

void JobEditorTest::anotherProgramsRowsAreTakenIn() {
    JobEditor editor = editorOf(demoJob());
    writePastTheLock(file(), editor.job(), [](Job &job) {
        sparkOf(job).setCell({5, 5}, 3.5);
        job.notes = "from elsewhere";
        job.tankEvents.push_back({});
    });
    const JobChange ours = editor.plan([](Job &job) { sparkOf(job).setCell({3, 2}, 17.25); }, {});
    const JobChange theirs = editor.write(ours, "ours", when);
    QCOMPARE(theirs.fields.size(), std::size_t{1});
    QVERIFY(theirs.touches("tank.") && theirs.touches("calibration.spark") && !theirs.touches("fuel."));
    Job now = editor.job();
    QVERIFY(sparkOf(now).cell(3, 2) == 17.25 && sparkOf(now).cell(5, 5) == 3.5);
    QCOMPARE(now.notes, std::string("from elsewhere"));
    JobStore::Options reading;
    reading.readOnly = true;
    QVERIFY(JobStore::open(file(), reading).read() == now);
    QCOMPARE(JobStore::open(file(), reading).actions().size(), std::size_t{3});
}

void JobEditorTest::anotherProgramsSameRowsAreNotOverwritten() {
    const std::pair<std::function<void(Job &)>, std::function<void(Job &)>> pairs[]{
        {[](Job &j) {
             sparkOf(j).setCell({3, 2}, 3.5);
         },
         [](Job &j) {
             sparkOf(j).setCell({3, 2}, 17.25);
         }},
        {[](Job &j) { j.notes = "theirs"; }, [](Job &j) { j.notes = "ours"; }},
        {[](Job &j) { j.tankEvents[2].note = "theirs"; }, [](Job &j) { j.tankEvents[2].litres += 1; }},
        {[](Job &j) { j.tankEvents[2].note = "theirs"; }, [](Job &j) { j.tankEvents.eraseAt(2); }},
        {[](Job &j) {
             sparkOf(j) = regrid(sparkOf(j), Axis({500, 7000}), sparkOf(j).y()).table;
         },
         [](Job &j) {
             sparkOf(j).setCell({0, 0}, 11);
         }},
        {[](Job &j) { j.limits["flow.duty.stop"] = 0.8; }, [](Job &j) { j.limits["flow.duty.stop"] = 0.85; }},
        {[](Job &j) {
             j.engine.boostLimitKpa = Curve({0, 1}, {180, 190});
         },
         [](Job &j) {
             j.engine.boostLimitKpa = Curve({0, 1}, {170, 190});
         }},
    };
    for (const auto &[elsewhere, here] : pairs) {
        fs::remove(file());
        JobEditor editor = editorOf(demoJob());
        const JobChange ours = editor.plan(here, {});
        writePastTheLock(file(), editor.job(), elsewhere);
        const std::string bytes = bytesOf(file());
        EXPECT_INPUT_ERROR(editor.write(ours, "ours", when), "another program has changed the same");
        EXPECT_INPUT_ERROR(editor.write(ours, "ours", when),
                           "another program has changed the same"); // and again
        QVERIFY(bytesOf(file()) == bytes && editor.job() == demoJob());
    }
}

void JobEditorTest::historyDoesNotReachBehindAnother() {
    JobEditor editor = editorOf(demoJob());
    const JobChange first = editor.plan([](Job &job) { sparkOf(job).setCell({3, 2}, 17.25); }, {});
    editor.write(first, "first", when);
    writePastTheLock(file(), editor.job(), [](Job &job) { sparkOf(job).setCell({3, 2}, 12); });
    const JobChange second = editor.plan([](Job &job) { sparkOf(job).setCell({4, 2}, 18.25); }, {});
    editor.write(second, "second", when); // takes theirs in
    EXPECT_INPUT_ERROR(editor.write(reversed(first), "undo", when), "another program has changed the same");
    editor.write(reversed(second), "undo", when);
    Job now = editor.job();
    QVERIFY(sparkOf(now).cell(3, 2) == 12);
}

void JobEditorTest::recordsKeepTheirIds() {
    Records<FuelLot> lots;
    for (const char *label : {"a", "b", "c", "d"}) {
        FuelLot lot;
        lot.label = label;
        lots.push_back(lot);
    }
    const std::vector<RecordId> ids(lots.ids().begin(), lots.ids().end());
    Records<FuelLot> copy = lots;
    QVERIFY(copy.shares(lots));
    copy.insert(copy.begin() + 1, FuelLot{});
    QVERIFY(!copy.shares(lots) && lots.size() == 4);
    QCOMPARE(copy.ids()[0], ids[0]);
    QVERIFY(copy.ids()[1] > ids[0] && copy.ids()[1] < ids[1]);
    copy.eraseIf([](const FuelLot &l) { return l.label == "b"; });
    QVERIFY(copy.ids()[2] == ids[2] && copy.ids()[3] == ids[3]);
    QCOMPARE(copy.placeOf(ids[3]), std::size_t{3});
    QCOMPARE(copy.placeOf(ids[1]), copy.size());
    // A list that is set as a whole keeps the ids of what stays.
    std::vector<FuelLot> whole = lots.values();
    whole.erase(whole.begin() + 1);
    whole.back().note = "other";
    Records<FuelLot> set = lots;
    set = whole;
    QCOMPARE(set.ids()[0], ids[0]);
    QVERIFY(std::ranges::is_sorted(set.ids()));
    // Always between the same two: the room ends, and the list gets new ids.
    Records<FuelLot> crowded = lots;
    for (int i = 0; i < 60; ++i) {
        FuelLot lot;
        lot.label = "n" + std::to_string(i);
        crowded.insertAt(1, lot);
        QVERIFY(std::ranges::adjacent_find(crowded.ids(), std::greater_equal<>()) == crowded.ids().end());
    }
    QCOMPARE(crowded.size(), std::size_t{64});
    QCOMPARE(crowded[1].label, std::string("n59"));
}

void JobEditorTest::aListIsWrittenRowByRow() {
    Job job = demoJob();
    JobEditor editor = editorOf(job);
    const std::size_t events = job.tankEvents.size();
    const JobChange set = editor.plan([](Job &j) { j.tankEvents[1].note = "receipt"; }, {});
    QCOMPARE(set.records.size(), std::size_t{1});
    QCOMPARE(set.records[0].steps.size(), std::size_t{1});
    QCOMPARE(set.records[0].steps[0].values.size(), std::size_t{1});
    editor.write(set, "note", when);
    const JobChange inserted = editor.plan(
        [](Job &j) {
            TankEvent e = j.tankEvents[0];
            e.note = "between";
            j.tankEvents.insert(j.tankEvents.begin() + 1, e);
        },
        {});
    QVERIFY(inserted.records[0].steps[0].kind == JobChange::RecordStep::Kind::inserted);
    QCOMPARE(inserted.records[0].steps.size(), std::size_t{1});
    editor.write(inserted, "between", when);
    JobStore::Options reading;
    reading.readOnly = true;
    const Job read = JobStore::open(file(), reading).read();
    QVERIFY(read == editor.job() && read.tankEvents.size() == events + 1);
    QCOMPARE(read.tankEvents[1].note, std::string("between"));
    QCOMPARE(read.tankEvents[2].note, std::string("receipt"));
    editor.write(reversed(inserted), "undo", when);
    editor.write(reversed(set), "undo", when);
    QVERIFY(editor.job() == job && JobStore::open(file(), reading).read() == job);
}

void JobEditorTest::tablesOfLevelsAreWrittenCellByCell() {
    Job job;
    for (unsigned seed = 0; job.calibration.levels.empty() || job.extras.empty(); ++seed)
        job = randomJob(seed);
    JobEditor editor = editorOf(job);
    const JobChange change = editor.plan(
        [](Job &j) {
            Table2D &t = j.calibration.levels[0].of(CalibratedQuantity::lambda);
            t.setCell({0, 0}, 0.77);
            j.extras[0].table.setCell({0, 0}, j.extras[0].table.cell(0, 0) == 0 ? 1 : 0);
        },
        {std::nullopt, false});
    QCOMPARE(change.cells.size(), std::size_t{2});
    QVERIFY(change.records.empty() && change.tables.empty());
    QVERIFY2(change.cells[0].path.starts_with("calibration.levels#") &&
                 change.cells[0].path.ends_with(".lambda"),
             change.cells[0].path.c_str());
    editor.write(change, "a level", when);
    JobStore::Options reading;
    reading.readOnly = true;
    QVERIFY(JobStore::open(file(), reading).read() == editor.job());
    editor.write(reversed(change), "undo", when);
    QVERIFY(editor.job() == job);
    // A level that goes takes its cells along, and comes back with them.
    const JobChange gone = editor.plan(
        [](Job &j) { j.calibration.levels.clear(), j.calibration.school = School::twoTables; }, {});
    editor.write(gone, "no levels", when);
    {
        SQLite::Database db(file().string(), SQLite::OPEN_READONLY);
        QCOMPARE(db.execAndGet("SELECT count(*) FROM cell WHERE path LIKE 'calibration.levels%'").getInt(),
                 0);
        QVERIFY(brokenChapters(readRows(db, schemaVersion, true)).empty());
    }
    editor.write(reversed(gone), "undo", when);
    QVERIFY(editor.job() == job && JobStore::open(file(), reading).read() == job);
}

void JobEditorTest::revisionsAreReadWhenAskedFor() {
    Job job = demoJob();
    keepRevision(job, "kept", "2001-02-03", "", true);
    const std::string state = job.revisions[0].state.text();
    JobStore::create(file(), job, when);
    Job read;
    {
        const JobStore store = JobStore::open(file());
        read = store.read();
        QCOMPARE(read.revisions[0].state.text(), state);
        read = store.read();
    }
    QCOMPARE(read.revisions[0].state.text(), state); // the file is closed: it is read again by its name
    Job other = JobStore::open(file()).read();
    fs::remove(file());
    EXPECT_INPUT_ERROR(other.revisions[0].state.text(), "revisions#", "the file that it is in");
    QVERIFY(restored(demoJob(), read.revisions[0]) == restored(demoJob(), job.revisions[0]));
}

void JobEditorTest::aDamagedRevisionIsRefusedWhenAskedFor() {
    Job job = demoJob();
    keepRevision(job, "kept", "2001-02-03", "", true);
    JobStore::create(file(), job, when);
    {
        SQLite::Database db(file().string(), SQLite::OPEN_READWRITE);
        db.exec(
            "UPDATE record SET value = replace(value, 'knock_control', 'knock_contral') WHERE key = 'state'");
    }
    const Job read = JobStore::open(file()).read(); // the job's own tables are whole
    EXPECT_INPUT_ERROR(read.revisions[0].state.text(), "revisions#", "not what its digest says");
    EXPECT_INPUT_ERROR(restored(read, read.revisions[0]), "not what its digest says");
}

void JobEditorTest::aRevisionThatWentComesBack() {
    Job job = demoJob();
    keepRevision(job, "one", "2001-02-03", "", true);
    keepRevision(job, "two", "2001-02-03", "", false);
    { JobStore::create(file(), job, when); }
    JobEditor editor(JobStore::open(file()));
    const JobChange gone = editor.plan([](Job &j) { j.revisions.eraseAt(0); }, {});
    editor.write(gone, "one gone", when);
    QCOMPARE(editor.job().revisions.size(), std::size_t{1});
    editor.write(reversed(gone), "undo", when);
    JobStore::Options reading;
    reading.readOnly = true;
    const Job read = JobStore::open(file(), reading).read();
    QCOMPARE(read.revisions[0].name, std::string("one"));
    QCOMPARE(read.revisions[0].state.text(), job.revisions[0].state.text());
    QVERIFY(read == job);
}

void JobEditorTest::textsAreReadByManyThreads() {
    Job job = demoJob();
    for (int i = 0; i < 40; ++i)
        keepRevision(job, "r" + std::to_string(i), "2001-02-03", "", false);
    { JobStore::create(file(), job, when); }
    JobEditor editor(JobStore::open(file()));
    const Job read = editor.job();
    std::atomic<int> wrong = 0;
    std::vector<std::thread> threads;
    for (int t = 0; t < 4; ++t)
        threads.emplace_back([&] {
            for (const Revision &r : read.revisions)
                wrong += r.state.text() != job.revisions[0].state.text();
        });
    for (int i = 0; i < 20; ++i)
        editor.write(editor.plan(
                         [&](Job &j) {
                             sparkOf(j).setCell({0, 0}, 5 + i * 0.5);
                         },
                         {}),
                     "beside", when);
    for (std::thread &t : threads)
        t.join();
    QCOMPARE(wrong.load(), 0);
}

CORE_TEST_MAIN(JobEditorTest)
#include "job_editor_test.moc"
