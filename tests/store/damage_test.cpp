// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/error.h"
#include "core/job/statements.h"
#include "core/study/cell_trust.h"
#include "store/file_bytes.h"
#include "store/file_lock.h"
#include "store/job_store.h"
#include "store/page_rows.h"
#include "store/sql_rows.h"
#include "support/phrases.h"
#include "support/random_job.h"
#include "support/test_main.h"

#include <QElapsedTimer>
#include <QFile>
#include <QTemporaryDir>

#include <SQLiteCpp/SQLiteCpp.h>

#include <csignal>
#include <random>
#include <set>
#include <sys/stat.h>
#include <sys/wait.h>
#include <unistd.h>

using namespace wheelwright;
using testing::said;
using testing::says;
using namespace wheelwright::testing;
namespace fs = std::filesystem;

namespace {

constexpr const char *when = "2001-02-03T04:05:06Z";

std::string bytesOf(const fs::path &path) {
    return readFile(path);
}

void write(const fs::path &path, std::string_view bytes) {
    QFile f(QString::fromStdString(path.string()));
    QVERIFY(f.open(QIODevice::WriteOnly));
    QVERIFY(f.write(bytes.data(), static_cast<qint64>(bytes.size())) == static_cast<qint64>(bytes.size()));
}

void execute(const fs::path &path, const std::string &sql) {
    SQLite::Database(path.string(), SQLite::OPEN_READWRITE).exec(sql);
}

JobStore::Options reading() {
    JobStore::Options options;
    options.readOnly = true;
    return options;
}

JobStore::Options writing() {
    JobStore::Options options;
    options.mustWrite = true;
    return options;
}

Job withLimit(Job job, std::optional<double> limit) {
    job.limits.erase("flow.duty.stop");
    if (limit) job.limits["flow.duty.stop"] = *limit;
    return job;
}

// A writer that dies between its first page and its last: file and journal as the disk then holds them.
void dieInTheMiddle(const fs::path &path) {
    const pid_t child = fork();
    if (child == 0) {
        SQLite::Database db(path.string(), SQLite::OPEN_READWRITE);
        db.exec("PRAGMA cache_size = 2; BEGIN IMMEDIATE; UPDATE cell SET value = value + 1");
        kill(getpid(), SIGKILL);
    }
    waitpid(child, nullptr, 0);
}

std::set<std::string> namesIn(const fs::path &folder) {
    std::set<std::string> names;
    for (const auto &entry : fs::directory_iterator(folder))
        names.insert(entry.path().filename().string());
    return names;
}

} // namespace

/// Nothing lost, nothing believed: crashes, other writers, other names, damage and migration.
class DamageTest : public QObject {
    Q_OBJECT
  private slots:
    void init() { m_dir = std::make_unique<QTemporaryDir>(); }
    void aJournalLeftBehindIsRolledBack_data();
    void aJournalLeftBehindIsRolledBack();
    void aJournalIsRolledBackInACopyWhileAnotherHoldsTheLock();
    void noBitIsBelieved();
    void wrongRowsAreRefused_data();
    void wrongRowsAreRefused();
    void everyChapterHasItsDigest();
    void theDocumentedSchemaIsTheOneThatIs();
    void aRemovedLimitLeavesTheFile();
    void aCommitOverAnothersIsRefused();
    void aCommitToAFileThatIsGoneIsRefused();
    void noNameGoesRoundTheLock();
    void pagesAreReadAsTheDatabaseReadsThem();
    void freePagesDoNotComeBack();
    void salvageReadsWhatIsThere();
    void salvageHolds_data();
    void salvageHolds();
    void salvageStatesNothingThatIsUncertain();
    void salvageOfNothingIsRefused();
    void theCopyOfAMigrationReplacesNothing();
    void aFailedMigrationLeavesNothing_data();
    void aFailedMigrationLeavesNothing();
    void oddDatesGoIntoTheNotes();
    void aKilledMakerBlocksNoName();
    void whatAMakerLeftIsInNobodysWay();
    void exportsNeverReplaceAJob_data();
    void exportsNeverReplaceAJob();
    void aReplacedFileIsWholeAndKeepsItsMode();
    void onlyRegularFilesAreRead();

  private:
    fs::path file(const std::string &name = "a.wwjob") const {
        return m_dir->path().toStdString() + "/" + name;
    }
    fs::path demo() const {
        JobStore::create(file(), demoJob(), when);
        return file();
    }
    std::unique_ptr<QTemporaryDir> m_dir;
};

void DamageTest::aJournalLeftBehindIsRolledBack_data() {
    QTest::addColumn<QString>("how");
    for (const char *how : {"reader", "writer", "window", "salvage"})
        QTest::newRow(how) << how;
}

void DamageTest::aJournalLeftBehindIsRolledBack() {
    QFETCH(QString, how);
    const fs::path path = demo();
    const std::string old = bytesOf(path);
    dieInTheMiddle(path);
    QVERIFY(fs::file_size(path.string() + "-journal") > 512);
    QVERIFY(bytesOf(path) != old); // what is there is neither old nor new
    if (how == u"salvage") {
        const JobStore::Salvage found = JobStore::salvage(path);
        QVERIFY2(found.lost.empty(), found.lost.empty() ? "" : said(found.lost.front()).c_str());
        QVERIFY(found.job == demoJob());
        return;
    }
    JobStore store = JobStore::open(path, how == u"reader"   ? reading()
                                          : how == u"writer" ? writing()
                                                             : JobStore::Options());
    QVERIFY(store.read() == demoJob());
    QVERIFY(!fs::exists(path.string() + "-journal"));
    QCOMPARE(store.readOnly(), how == u"reader");
    QVERIFY(bytesOf(path) == old);
}

void DamageTest::aJournalIsRolledBackInACopyWhileAnotherHoldsTheLock() {
    const fs::path path = demo();
    dieInTheMiddle(path);
    const std::string torn = bytesOf(path), journal = bytesOf(path.string() + "-journal");
    const FileLock::Attempt held = FileLock::take(path);
    QVERIFY(held.lock.has_value());
    QVERIFY(JobStore::open(path, reading()).read() == demoJob());
    QVERIFY(bytesOf(path) == torn && bytesOf(path.string() + "-journal") == journal);
}

// One flipped bit anywhere: the job as it was, or a refusal. Seeds are fixed; other ones are tried from
// outside.
void DamageTest::noBitIsBelieved() {
    const Job job = randomJob(3);
    JobStore::create(file("r"), job, when);
    const std::string sound = bytesOf(file("r"));
    std::mt19937 r(17);
    int refused = 0;
    for (int i = 0; i < 400; ++i) {
        std::string bytes = sound;
        const std::size_t at = r() % bytes.size();
        bytes[at] = static_cast<char>(bytes[at] ^ (1 << r() % 8));
        write(file(), bytes);
        try {
            QVERIFY2(JobStore::open(file(), reading()).read() == job, qPrintable(QString::number(at)));
        } catch (const InputError &) {
            ++refused;
        }
    }
    QVERIFY2(refused > 100, qPrintable(QString::number(refused)));
}

void DamageTest::wrongRowsAreRefused_data() {
    QTest::addColumn<QString>("sql");
    QTest::addColumn<QString>("where");
    const auto row = [](const char *name, const char *sql, const char *where) {
        QTest::newRow(name) << sql << where;
    };
    row("text in a cell",
        "UPDATE cell SET value = 'abc' WHERE path = 'calibration.spark.base' AND x = 3 AND y = 2",
        "calibration.spark.base row 3, column 4");
    row("another number in a cell",
        "UPDATE cell SET value = value + 0.5 WHERE path = 'calibration.spark.base' AND x = 3 AND y = 2",
        "calibration.spark.base is not what its digest says");
    row("a cell out of range",
        "UPDATE cell SET value = 99 WHERE path = 'calibration.spark.base' AND x = 3 AND y = 2",
        "calibration.spark.base row 3, column 4");
    row("a cell of another place",
        "UPDATE cell SET x = 99 WHERE path = 'calibration.spark.base' AND x = 3 AND y = 3",
        "calibration.spark.base row 4, column 4");
    row("a cell less", "DELETE FROM cell WHERE path = 'calibration.spark.base' AND x = 3 AND y = 3",
        "calibration.spark.base");
    row("a cell more", "INSERT INTO cell VALUES ('calibration.spark.base', 99, 0, 1.0, NULL)",
        "calibration.spark.base");
    row("cells of no table", "INSERT INTO cell VALUES ('calibration.none.base', 0, 0, 1.0, NULL)",
        "calibration.none.base");
    row("text in a breakpoint",
        "UPDATE breakpoint SET value = 'abc' WHERE path = 'calibration.spark.base' AND axis = 'y' AND idx = "
        "0",
        "calibration.spark.base y breakpoint 1");
    row("a breakpoint less",
        "DELETE FROM breakpoint WHERE path = 'calibration.spark.base' AND axis = 'y' AND idx = 2",
        "calibration.spark.base y breakpoint");
    row("a breakpoint of no table", "INSERT INTO breakpoint VALUES ('calibration.none.base', 'x', 0, 1.0)",
        "calibration.none.base");
    row("a point of a curve less",
        "DELETE FROM curve_point WHERE path = 'engine.boost_limit_kpa' AND idx = 1",
        "engine.boost_limit_kpa point 2");
    row("text in a curve",
        "UPDATE curve_point SET y = 'abc' WHERE path = 'engine.boost_limit_kpa' AND idx = 1",
        "engine.boost_limit_kpa point 2 y");
    row("a curve of nothing", "INSERT INTO curve_point VALUES ('engine.none', 0, 1.0, 1.0)", "engine.none");
    row("a record of 2^32-1", "INSERT INTO record VALUES ('tank.events', 4294967295, 'at', 'x')",
        "tank.events");
    row("a record under 0", "INSERT INTO record VALUES ('tank.events', -1, 'at', 'x')", "tank.events 1 idx");
    row("a key less", "DELETE FROM record WHERE path = 'tank.events' AND idx = 2097152 AND key = 'litres'",
        "tank.events is not what its digest says");
    row("a key of another name",
        "UPDATE record SET key = 'liters' WHERE path = 'tank.events' AND idx = 2097152 AND key = 'litres'",
        "tank.events 2 key");
    row("a number for text",
        "UPDATE record SET value = 7 WHERE path = 'tank.events' AND idx = 2097152 AND key = 'note'",
        "tank.events 2 note");
    row("a list of nothing", "INSERT INTO record VALUES ('tank.others', 0, 'at', '')", "tank.others");
    row("a truth of 2", "UPDATE field SET value = 2 WHERE path = 'fuel_system.catalyst'",
        "fuel_system.catalyst");
    row("another truth", "UPDATE field SET value = 1 - value WHERE path = 'fuel_system.catalyst'",
        "field is not what its digest says");
    row("bytes for text", "UPDATE field SET value = x'4142' WHERE path = 'notes'", "notes");
    row("a field less", "DELETE FROM field WHERE path = 'engine.cylinders'", "field is not");
    row("a field of no name", "INSERT INTO field VALUES ('engine.colour', 1)", "engine.colour");
    row("a limit", "INSERT INTO limit_override VALUES ('flow.duty.stop', 0.9)", "limit_override is not");
    row("another reader", "UPDATE job_info SET value = 2", "job_info is not");
    row("history rewritten", "UPDATE action SET what = 'Something else' WHERE id = 1", "action is not");
    row("history gone", "DELETE FROM action", "action is not");
    row("history gone, and its digest with it",
        "DELETE FROM action; DELETE FROM digest WHERE chapter = 'action'", "action is not");
    row("a record of another id", "UPDATE record SET idx = 9 WHERE path = 'tank.events' AND idx = 7340032",
        "tank.events is not");
    row("an origin that there is not",
        "UPDATE cell SET origin = 'x' WHERE path = 'calibration.spark.base' AND x = 3 AND y = 2",
        "calibration.spark.base row 3, column 4 origin");
    row("another origin",
        "UPDATE cell SET origin = 'l' WHERE path = 'calibration.spark.base' AND x = 3 AND y = 2",
        "calibration.spark.base is not");
    row("history longer", "INSERT INTO action (at, what) VALUES ('', 'x')", "action is not");
    row("a digest less", "DELETE FROM digest WHERE chapter = 'tank.events'", "tank.events is not");
    row("a digest less, of a list that is empty", "DELETE FROM digest WHERE chapter = 'mechanical.passes'",
        "digest is not");
    row("the digest of digests less", "DELETE FROM digest WHERE chapter = 'digest'", "digest is not");
    row("a digest of no chapter", "INSERT INTO digest VALUES ('none', x'00')", "digest of none");
    row("a digest of text", "UPDATE digest SET value = 'abc' WHERE chapter = 'field'", "field is not");
    row("no digests", "DROP TABLE digest", "damage");
}

void DamageTest::wrongRowsAreRefused() {
    QFETCH(QString, sql);
    QFETCH(QString, where);
    const fs::path path = demo();
    execute(path, sql.toStdString());
    const std::string bytes = bytesOf(path);
    EXPECT_INPUT_ERROR(JobStore::open(path, reading()), where.toUtf8().constData());
    EXPECT_INPUT_ERROR(JobStore::open(path), where.toUtf8().constData());
    QVERIFY(bytesOf(path) == bytes); // refused, not repaired
}

void DamageTest::everyChapterHasItsDigest() {
    Job job = randomJob(1);
    JobStore store = JobStore::create(file(), job, when);
    for (unsigned seed = 2; seed < 20; ++seed) { // changes of every kind
        const Job next = randomJob(seed);
        store.commit(difference(job, next), "step", when);
        job = next;
        SQLite::Database db(file().string(), SQLite::OPEN_READONLY);
        const JobRows rows = readRows(db, schemaVersion, true);
        QVERIFY(brokenChapters(rows).empty());
        const auto digests = digestsOf(rows);
        for (const TableField &t : allTables())
            QVERIFY2(digests.contains(t.path), t.path.c_str());
        for (const RecordList &l : allRecordLists())
            QVERIFY2(digests.contains(l.path), l.path.c_str());
        QCOMPARE(rows.in(RowTable::digest).size(), digests.size() + 1); // and that of the digests
        QVERIFY(JobStore::open(file(), reading()).read() == job);
    }
}

// A stranger reads a file from docs/job-file.md: tables, columns and versions must stand there.
void DamageTest::theDocumentedSchemaIsTheOneThatIs() {
    QFile f(QStringLiteral(SOURCE_DIR "/docs/job-file.md"));
    QVERIFY(f.open(QIODevice::ReadOnly));
    const QString page = QString::fromUtf8(f.readAll());
    QVERIFY(page.contains(QStringLiteral("(now %1)").arg(schemaVersion)));
    for (int version = 1; version <= schemaVersion; ++version)
        QVERIFY2(page.contains(QStringLiteral("\n| %1 | ").arg(version)),
                 qPrintable(QString::number(version)));
    demo();
    SQLite::Database db(file().string(), SQLite::OPEN_READONLY);
    SQLite::Statement tables(db, "SELECT name FROM sqlite_master WHERE type = 'table' ORDER BY name");
    int found = 0;
    while (tables.executeStep()) {
        const QString table = QString::fromStdString(tables.getColumn(0).getString());
        const qsizetype from = page.indexOf(QStringLiteral("\n| `%1` | ").arg(table));
        QVERIFY2(from >= 0, qPrintable(table));
        const QString row = page.mid(from + 1, page.indexOf(u'\n', from + 1) - from - 1).section(u'|', 2, 2);
        SQLite::Statement columns(db, "SELECT name FROM pragma_table_info('" + table.toStdString() + "')");
        qsizetype at = 0; // in their order
        while (columns.executeStep()) {
            const QString column = QString::fromStdString(columns.getColumn(0).getString());
            at = row.indexOf(column, at);
            QVERIFY2(at >= 0, qPrintable(table + u' ' + column));
            at += column.size();
        }
        ++found;
    }
    QCOMPARE(found, static_cast<int>(rowTables) + 2); // and the two of samples
}

void DamageTest::aRemovedLimitLeavesTheFile() {
    const Job with = withLimit(demoJob(), 0.9), without = withLimit(demoJob(), std::nullopt);
    JobStore store = JobStore::create(file(), with, when);
    store.commit(difference(with, without), "As shipped", when);
    QVERIFY(store.read() == without);
    QVERIFY(JobStore::open(file(), reading()).read() == without);
    store.commit(difference(without, with), "Again", when);
    QVERIFY(JobStore::open(file(), reading()).read() == with);
}

// The lock keeps our own programs apart; another program, or a copy of a folder synchronised over it, is
// noticed by the last action.
void DamageTest::aCommitOverAnothersIsRefused() {
    const fs::path path = demo();
    JobStore store = JobStore::open(path);
    store.read();
    execute(path, "INSERT INTO action (at, what) VALUES ('2001-02-03', 'Another program')");
    EXPECT_INPUT_ERROR(store.commit(difference(demoJob(), withLimit(demoJob(), 0.9)), "x", when),
                       "another program");
    SQLite::Database db(path.string(), SQLite::OPEN_READONLY);
    QCOMPARE(db.execAndGet("SELECT count(*) FROM limit_override").getInt(), 0);
    QCOMPARE(db.execAndGet("SELECT what FROM action ORDER BY id DESC LIMIT 1").getString(),
             std::string("Another program"));
}

void DamageTest::aCommitToAFileThatIsGoneIsRefused() {
    const fs::path path = demo();
    JobStore store = JobStore::open(path);
    const JobChange change = difference(demoJob(), withLimit(demoJob(), 0.9));
    fs::rename(path, file("moved.wwjob"));
    EXPECT_INPUT_ERROR(store.commit(change, "x", when), "moved, replaced or removed");
    fs::copy_file(file("moved.wwjob"), path);
    EXPECT_INPUT_ERROR(store.commit(change, "x", when), "moved, replaced or removed");
    QVERIFY(JobStore::open(path, reading()).read() == demoJob());
    fs::rename(file("moved.wwjob"), path);
    store.commit(change, "x", when);
    QVERIFY(JobStore::open(path, reading()).read() == withLimit(demoJob(), 0.9));
}

void DamageTest::noNameGoesRoundTheLock() {
    const fs::path path = demo();
    fs::create_directory(file("other"));
    fs::create_symlink(path, file("other/symbolic.wwjob"));
    fs::create_hard_link(path, file("other/hard.wwjob"));
    fs::create_directory_symlink(path.parent_path(), file("folder"));
    {
        JobStore held = JobStore::open(path);
        for (const char *name : {"other/symbolic.wwjob", "other/hard.wwjob", "folder/a.wwjob"}) {
            const JobStore second = JobStore::open(file(name));
            QVERIFY2(second.readOnly() && says(second.whyReadOnly(), "another"), name);
            EXPECT_INPUT_ERROR(JobStore::open(file(name), writing()), "another");
        }
        held.commit(difference(demoJob(), withLimit(demoJob(), 0.9)), "x",
                    when); // those did not take the lock away
    }
    for (const char *name : {"other/symbolic.wwjob", "other/hard.wwjob", "folder/a.wwjob"}) {
        JobStore held = JobStore::open(file(name));
        QVERIFY2(!held.readOnly(), name);
        QVERIFY2(JobStore::open(path).readOnly(), name);
    }
}

// The second method: the file's pages, read without SQLite, give the rows that SQLite reads.
void DamageTest::pagesAreReadAsTheDatabaseReadsThem() {
    for (unsigned seed = 0; seed < 12; ++seed) {
        const fs::path path = file("p" + std::to_string(seed));
        Job job = randomJob(seed);
        JobStore store = JobStore::create(path, job, when);
        for (unsigned step = 1; step < 4; ++step) { // pages split, merge and go free
            const Job next = randomJob(seed + 31 * step);
            store.commit(difference(job, next), "step", when);
            job = next;
        }
        SQLite::Database db(path.string(), SQLite::OPEN_READONLY);
        const PageRows pages = rowsFromPages(bytesOf(path));
        QCOMPARE(pages.version, schemaVersion);
        QVERIFY(pages.rows.of == readRows(db, schemaVersion, true).of);
        QVERIFY(jobFrom(pages.rows) == job);
    }
}

void DamageTest::freePagesDoNotComeBack() {
    Job job = demoJob();
    job.tankEvents = std::vector<TankEvent>(300, job.tankEvents.front());
    JobStore store = JobStore::create(file(), job, when);
    store.commit(difference(job, demoJob()), "fewer", when);
    SQLite::Database db(file().string(), SQLite::OPEN_READONLY);
    QVERIFY(db.execAndGet("PRAGMA freelist_count").getInt() > 3);
    QVERIFY(jobFrom(rowsFromPages(bytesOf(file())).rows) == demoJob());
    // Another program may leave what it deleted in pages that are free.
    JobStore::create(file("left"), job, when);
    SQLite::Database left(file("left").string(), SQLite::OPEN_READWRITE);
    left.exec("PRAGMA secure_delete = OFF; DELETE FROM record WHERE path = 'tank.events' AND idx > 5000000");
    QVERIFY(left.execAndGet("PRAGMA freelist_count").getInt() > 3);
    QVERIFY(bytesOf(file("left")).find("tank.events") != std::string::npos);
    QVERIFY(rowsFromPages(bytesOf(file("left"))).rows.in(RowTable::record) ==
            readRows(left, schemaVersion, true).in(RowTable::record));
}

// Cut at every page: what is not named as lost is as it was, and the more is there, the more is found.
void DamageTest::salvageReadsWhatIsThere() {
    const fs::path path = demo();
    const std::string whole = bytesOf(path);
    const Job job = demoJob();
    std::size_t found = 0, cuts = 0, tables = 0;
    for (std::size_t size = 4096; size < whole.size(); size += 4096 * 3 + 511) {
        write(file("cut"), std::string_view(whole).substr(0, size));
        EXPECT_INPUT_ERROR(JobStore::open(file("cut"), reading()), "cut");
        ++cuts;
        try {
            const JobStore::Salvage salvage = JobStore::salvage(file("cut"));
            ++found;
            validate(salvage.job);
            QVERIFY(!salvage.lost.empty());
            const auto lost = [&](const Phrase &part) {
                const std::string title = said(part);
                return std::ranges::any_of(salvage.lost,
                                           [&](const Phrase &l) { return said(l).starts_with(title + ":"); });
            };
            for (const TableField &t : allTables()) {
                if (lost(t.title)) continue;
                QVERIFY2(t.of(salvage.job) == t.of(job), t.path.c_str());
                ++tables;
            }
            for (const RecordList &l : allRecordLists())
                if (!lost(l.title) && l.path != "stated") QVERIFY2(l.same(salvage.job, job), l.path.c_str());
            // What is read for certain is known as it was, the rest to nobody.
            for (const Field &f : allFields()) {
                const bool certain = !lost(f.title) && !lost(MARKED("salvage.settings", "Settings"));
                QVERIFY2(!isStated(salvage.job, f.path) || (certain && isStated(job, f.path)),
                         f.path.c_str());
                QVERIFY2(f.read(salvage.job) == f.read(job) || !isStated(salvage.job, f.path),
                         f.path.c_str());
            }
        } catch (const InputError &e) {
            QVERIFY2(size < 5 * 4096, e.what()); // the first pages are empty trees
        }
    }
    // Where the tables lie depends on what else is in the job.
    QVERIFY2(found + 2 >= cuts && 2 * tables >= 3 * cuts,
             qPrintable(QStringLiteral("%1 of %2 cuts, %3 tables").arg(found).arg(cuts).arg(tables)));
    // A page in the middle overwritten: one table has holes, and says so; nobody vouches for it.
    std::size_t holed = 0;
    std::string bytes = whole;
    const Table2D &spark = job.calibration.of(CalibratedQuantity::spark).base;
    for (std::size_t page = 5; page < whole.size() / 4096; ++page) {
        std::fill_n(bytes.begin() + static_cast<std::ptrdiff_t>(page * 4096), 4096, '\xAA');
        write(file("hole"), bytes);
        const JobStore::Salvage salvage = JobStore::salvage(file("hole"));
        const auto words = std::ranges::find_if(
            salvage.lost, [](const Phrase &l) { return said(l).starts_with("Spark, base: "); });
        bytes = whole;
        const Table2D &got = salvage.job.calibration.of(CalibratedQuantity::spark).base;
        if (words == salvage.lost.end()) {
            QVERIFY(got == spark);
            continue;
        }
        std::size_t differ = 0;
        for (std::size_t i = 0; i < got.cells().size() && got.x() == spark.x(); ++i)
            differ += got.cells()[i] != spark.cells()[i];
        const std::size_t stated = static_cast<std::size_t>(
            words->phrases[1].values.empty() ? 0 : words->phrases[1].values[0].value);
        if (!says(*words, "cells are gone")) continue;
        ++holed;
        QVERIFY2(differ <= stated && stated > 0, said(*words).c_str());
        QVERIFY(got.origins().size() == got.cells().size() && std::ranges::all_of(got.origins(), guessed));
    }
    QVERIFY(holed > 0);
}

void DamageTest::salvageHolds_data() {
    QTest::addColumn<QString>("sql");
    QTest::addColumn<QString>("lost");
    const auto row = [](const char *name, const char *sql, const char *lost) {
        QTest::newRow(name) << sql << lost;
    };
    row("a limit that no limit is", "INSERT INTO limit_override VALUES ('flow.duty.stop', 70)", "Limits: ");
    row("a limit of no name", "INSERT INTO limit_override VALUES ('flow.purple', 1)", "Limits: ");
    row("a history that cannot be",
        "UPDATE record SET value = 900.0 WHERE path = 'tank.events' AND idx = 3145728 AND key = 'litres'",
        "Tank history: ");
    row("a fuel of no shelf", "UPDATE record SET value = 'none' WHERE path = 'fuel.lots' AND key = 'fuel'",
        "Lots: ");
    row("settings that contradict",
        "UPDATE field SET value = 5.0 WHERE path = 'engine.map_sensor_max_kpa' OR path = "
        "'engine.map_sensor_min_kpa'",
        "MAP");
    row("a school without its levels", "UPDATE field SET value = 'stack' WHERE path = 'calibration.school'",
        "");
    row("a record with a hole",
        "DELETE FROM record WHERE path = 'tank.events' AND idx = 4194304 AND key = 'note'",
        "Tank history: 1 of 7");
    row("one number believed",
        "UPDATE cell SET value = value + 0.5 WHERE path = 'calibration.spark.base' AND x = 3 AND y = 2",
        "Spark, base: read, but not as its digest says");
}

void DamageTest::salvageHolds() {
    QFETCH(QString, sql);
    QFETCH(QString, lost);
    const fs::path path = demo();
    execute(path, sql.toStdString());
    const JobStore::Salvage found = JobStore::salvage(path);
    validate(found.job);
    const bool told = std::ranges::any_of(
        found.lost, [&](const Phrase &l) { return said(l).starts_with(lost.toStdString()); });
    QVERIFY2(told && !found.lost.empty(),
             found.lost.empty() ? "nothing is said to be lost" : said(found.lost.front()).c_str());
}

// A default that took the place of a row is nobody's word, and of the others one may be wrong.
void DamageTest::salvageStatesNothingThatIsUncertain() {
    const std::string flow = "injectors.flow_cc_min";
    const auto others = [&](const Job &job) {
        return std::ranges::count_if(allFields(), [&](const Field &f) { return isStated(job, f.path); });
    };
    QCOMPARE(knowledgeOf(demoJob(), flow), Knowledge::stated);
    const fs::path path = demo();
    execute(path, "UPDATE record SET value = 'x' WHERE path = 'tank.events' AND key = 'note'");
    Job job = JobStore::salvage(path).job; // settings are whole
    QCOMPARE(knowledgeOf(job, flow), Knowledge::stated);
    QCOMPARE(others(job), others(demoJob()));
    execute(path, "DELETE FROM record WHERE path = 'stated' AND idx = (SELECT idx FROM record WHERE path = "
                  "'stated' AND value = 'name')");
    QCOMPARE(others(JobStore::salvage(path).job), 0); // who said what is not certain
    execute(path, "DELETE FROM field WHERE path = '" + flow + "'");
    job = JobStore::salvage(path).job;
    QCOMPARE(knowledgeOf(job, flow), Knowledge::unknown);
    QCOMPARE(knowledgeOf(job, "engine.displacement_l"), Knowledge::estimated);
    QCOMPARE(others(job), 0);
    // Of a table with one number that is not as its digest says any may be wrong; its neighbours are as they
    // were.
    const fs::path one = file("one.wwjob");
    const Job sound = demoJob();
    JobStore::create(one, sound, when);
    execute(one,
            "UPDATE cell SET value = value + 0.5 WHERE path = 'calibration.spark.base' AND x = 3 AND y = 2");
    const Job doubted = JobStore::salvage(one).job;
    const TwoTable &spark = doubted.calibration.of(CalibratedQuantity::spark);
    const TwoTable &was = sound.calibration.of(CalibratedQuantity::spark);
    QCOMPARE(spark.base.origins().size(), spark.base.cells().size());
    QVERIFY(std::ranges::all_of(spark.base.origins(), guessed));
    QVERIFY(spark.base.cells() != was.base.cells() && spark.top == was.top);
    // It stays so when it is written and read once more.
    JobStore::create(file("new"), job, when);
    const Job again = JobStore::open(file("new"), reading()).read();
    QCOMPARE(knowledgeOf(again, flow), Knowledge::unknown);
    QCOMPARE(others(again), 0);
}

void DamageTest::salvageOfNothingIsRefused() {
    write(file(), "SQLite format 3");
    EXPECT_INPUT_ERROR(JobStore::salvage(file()), "no row of a job");
    write(file(), std::string(100000, '\x0A')); // every page says that it is one of a tree
    EXPECT_INPUT_ERROR(JobStore::salvage(file()), "no row of a job");
    EXPECT_INPUT_ERROR(JobStore::salvage(file("none")), "no file of that name");
    std::mt19937 r(5);
    JobStore::create(file("good"), randomJob(2), when);
    const std::string sound = bytesOf(file("good"));
    for (int i = 0; i < 60; ++i) { // pages of noise over pages of a job
        std::string bytes = sound;
        for (int k = 0; k < 200; ++k)
            bytes[r() % bytes.size()] = static_cast<char>(r() % 256);
        write(file(), bytes);
        try {
            validate(JobStore::salvage(file()).job);
        } catch (const InputError &e) {
            QVERIFY(says(e.expected(), "something can be read"));
        }
    }
}

void DamageTest::theCopyOfAMigrationReplacesNothing() {
    const std::string old = bytesOf(TEST_DATA "/version-5.wwjob");
    for (const bool folder : {false, true}) {
        write(file(), old);
        if (folder)
            fs::create_directory(file("a.wwjob.v5"));
        else
            write(file("a.wwjob.v5"), "somebody's own");
        QVERIFY(!JobStore::open(file()).readOnly());
        QVERIFY(folder ? fs::is_directory(file("a.wwjob.v5"))
                       : bytesOf(file("a.wwjob.v5")) == "somebody's own");
        QVERIFY(bytesOf(file("a.wwjob.v5-2")) == old);
        fs::remove_all(file("a.wwjob.v5"));
        fs::remove(file("a.wwjob.v5-2"));
    }
    std::string other = old; // of the same size: not the same file
    other.back() = static_cast<char>(other.back() + 1);
    write(file(), old);
    write(file("a.wwjob.v5"), other);
    { JobStore::open(file()); }
    QVERIFY(bytesOf(file("a.wwjob.v5")) == other && bytesOf(file("a.wwjob.v5-2")) == old);
    fs::remove(file("a.wwjob.v5"));
    fs::remove(file("a.wwjob.v5-2"));
    write(file(), old); // the same file again: one copy is enough
    { JobStore::open(file()); }
    write(file(), old);
    { JobStore::open(file()); }
    QVERIFY(bytesOf(file("a.wwjob.v5")) == old && !fs::exists(file("a.wwjob.v5-2")));
}

void DamageTest::aFailedMigrationLeavesNothing_data() {
    QTest::addColumn<QString>("sql");
    QTest::addColumn<QString>("says");
    QTest::newRow("no copy can be made") << ""
                                         << "copy of the old file";
    QTest::newRow("the job is damaged") << "UPDATE field SET value = -3 WHERE path = 'engine.displacement_l'"
                                        << "engine.displacement_l";
    QTest::newRow("a field is there already") << "INSERT INTO field VALUES ('calibration.load_axis', 'x')"
                                              << "damage";
    QTest::newRow("of no version") << "PRAGMA user_version = -4"
                                   << "brought up to date";
}

void DamageTest::aFailedMigrationLeavesNothing() {
    QFETCH(QString, sql);
    QFETCH(QString, says);
    write(file(), bytesOf(TEST_DATA "/version-5.wwjob"));
    if (!sql.isEmpty())
        execute(file(), sql.toStdString());
    else
        fs::create_directory(file("a.wwjob.v5.part"));
    const std::string old = bytesOf(file());
    const auto before = namesIn(file().parent_path());
    EXPECT_INPUT_ERROR(JobStore::open(file()), says.toUtf8().constData());
    EXPECT_INPUT_ERROR(JobStore::open(file(), writing()), says.toUtf8().constData());
    QVERIFY(bytesOf(file()) == old);
    QVERIFY(namesIn(file().parent_path()) == before);
}

void DamageTest::oddDatesGoIntoTheNotes() {
    for (const bool write : {false, true}) {
        fs::copy_file(TEST_DATA "/version-6.wwjob", file(), fs::copy_options::overwrite_existing);
        const Job job = JobStore::open(file(), write ? writing() : reading()).read();
        QVERIFY(job.notes.find("Tank history 1, When: last Tuesday") != std::string::npos);
        QVERIFY(job.notes.find("Shelf 1, Opened: before the rain") != std::string::npos);
        QVERIFY(job.tankEvents[0].at.empty() && job.shelf[0].opened.empty());
        QCOMPARE(job.lots[0].bought, demoJob().lots[0].bought);
        QVERIFY(job.notes.starts_with(demoJob().notes));
        QCOMPARE(JobStore::open(file(), reading()).read() == job, true);
    }
}

void DamageTest::aKilledMakerBlocksNoName() {
    std::mt19937 r(8);
    int whole = 0, nothing = 0;
    const Job job = demoJob();
    QElapsedTimer
        timer; // machines differ, and sanitizers slow them down: kill within twice what it takes here
    timer.start();
    JobStore::create(file(), job, when);
    fs::remove(file());
    const auto longest = static_cast<unsigned>(2 * timer.nsecsElapsed() / 1000);
    for (int i = 0; i < 40; ++i) {
        const pid_t child = fork();
        if (child == 0) {
            JobStore::create(file(), job, when);
            _exit(0);
        }
        usleep(static_cast<useconds_t>(r() % longest));
        kill(child, SIGKILL);
        waitpid(child, nullptr, 0);
        if (fs::exists(file())) {
            QVERIFY(JobStore::open(file()).read() == demoJob());
            ++whole;
        } else {
            JobStore::create(file(), demoJob(), when); // whatever it left behind is in nobody's way
            ++nothing;
        }
        QVERIFY(namesIn(file().parent_path()) == std::set<std::string>{"a.wwjob"});
        fs::remove(file());
    }
    QVERIFY2(whole > 0 && nothing > 0, qPrintable(QStringLiteral("%1 %2").arg(whole).arg(nothing)));
}

// Whatever a maker left behind: noise, a finished job that had no name yet, a link.
void DamageTest::whatAMakerLeftIsInNobodysWay() {
    const fs::path part = file("a.wwjob.part");
    write(part, std::string(5000, 'x'));
    { JobStore::create(file(), demoJob(), when); }
    QVERIFY(namesIn(file().parent_path()) == std::set<std::string>{"a.wwjob"});
    fs::rename(file(), part); // finished, and killed before it was named
    write(file("a.wwjob.part-journal"), "noise");
    { JobStore::create(file(), newJob("Other"), when); }
    QVERIFY(JobStore::open(file()).read() == newJob("Other"));
    QVERIFY(namesIn(file().parent_path()) == std::set<std::string>{"a.wwjob"});
}

void DamageTest::exportsNeverReplaceAJob_data() {
    QTest::addColumn<QString>("target");
    for (const char *target : {"a.wwjob", "b.wwjob", "link", "database.txt"})
        QTest::newRow(target) << target;
}

void DamageTest::exportsNeverReplaceAJob() {
    QFETCH(QString, target);
    demo();
    fs::create_symlink(file(), file("link"));
    execute(SQLite::Database(file("database.txt").string(), SQLite::OPEN_READWRITE | SQLite::OPEN_CREATE)
                .getFilename(),
            "CREATE TABLE t (x)");
    const auto names = namesIn(file().parent_path());
    const std::string job = bytesOf(file()), other = bytesOf(file("database.txt"));
    EXPECT_INPUT_ERROR(replaceFile(file(target.toStdString()), "{}"), "never replaces a job");
    QVERIFY(bytesOf(file()) == job && bytesOf(file("database.txt")) == other);
    QVERIFY(namesIn(file().parent_path()) == names);
}

void DamageTest::aReplacedFileIsWholeAndKeepsItsMode() {
    write(file("out.json"), "old");
    fs::permissions(file("out.json"), fs::perms::owner_read | fs::perms::owner_write);
    fs::create_symlink(file("out.json"), file("link"));
    replaceFile(file("link"), "new");
    QVERIFY(fs::is_symlink(file("link")));
    QCOMPARE(bytesOf(file("out.json")), std::string("new"));
    QVERIFY(fs::status(file("out.json")).permissions() == (fs::perms::owner_read | fs::perms::owner_write));
    replaceFile("/dev/null", "gone");
    QVERIFY(fs::is_character_file("/dev/null"));
    EXPECT_INPUT_ERROR(replaceFile("/dev/full", "x"), "a full disk");
    EXPECT_INPUT_ERROR(replaceFile(file("no/such/out.json"), "x"), "no such folder");
    EXPECT_INPUT_ERROR(replaceFile(file().parent_path(), "x"), "a folder");
    QVERIFY(namesIn(file().parent_path()) == (std::set<std::string>{"link", "out.json"}));
}

void DamageTest::onlyRegularFilesAreRead() {
    QVERIFY(mkfifo(file("pipe").c_str(), 0600) == 0);
    EXPECT_INPUT_ERROR(readFile(file("pipe")), "a pipe or a device");
    EXPECT_INPUT_ERROR(readFile("/dev/zero"), "a pipe or a device");
    EXPECT_INPUT_ERROR(readFile(file().parent_path()), "a folder");
    EXPECT_INPUT_ERROR(readFile(file("none")), "no file of that name");
    write(file("huge"), "x");
    fs::resize_file(file("huge"), (256u << 20) + 1);
    EXPECT_INPUT_ERROR(readFile(file("huge")), "at most 256 MiB");
    for (const char *name : {"pipe", "none"}) {
        EXPECT_INPUT_ERROR(JobStore::open(file(name)), name, "a job file");
        EXPECT_INPUT_ERROR(JobStore::salvage(file(name)), name);
    }
    EXPECT_INPUT_ERROR(JobStore::open("/dev/zero"), "a job file");
}

CORE_TEST_MAIN(DamageTest)
#include "damage_test.moc"
