// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/error.h"
#include "core/job/named_tables.h"
#include "formats/job_json.h"
#include "store/job_store.h"
#include "support/failing_vfs.h"
#include "support/phrases.h"
#include "support/random_job.h"
#include "support/test_main.h"

#include <QFile>
#include <QTemporaryDir>

#include <SQLiteCpp/SQLiteCpp.h>

#include <csignal>
#include <random>
#include <sys/wait.h>
#include <unistd.h>

using namespace wheelwright;
using testing::said;
using testing::says;
using namespace wheelwright::testing;
namespace fs = std::filesystem;

namespace {

constexpr const char *when = "2001-02-03T04:05:06Z";

Job withSpark(Job job, double degrees) {
    job.calibration.of(CalibratedQuantity::spark).base.setCell({1, 1}, degrees);
    job.calibration.of(CalibratedQuantity::spark)
        .top.setCell({1, 1}, degrees); // two tables: mixed states would show
    job.engine.revLimitRpm = 5000 + degrees;
    return job;
}

double sparkOf(const Job &job) {
    return job.calibration.of(CalibratedQuantity::spark).base.cell(1, 1);
}

bool consistent(const Job &job) {
    return sparkOf(job) == job.calibration.of(CalibratedQuantity::spark).top.cell(1, 1) &&
           job.engine.revLimitRpm == 5000 + sparkOf(job);
}

Records<Statement> statedByDifference(Job job) {
    job.stated = {};
    stateWhatDiffers(job);
    return job.stated;
}

void execute(const fs::path &path, const std::string &sql) {
    SQLite::Database db(path.string(), SQLite::OPEN_READWRITE);
    db.exec(sql);
}

} // namespace

/// The job file keeps its promises: exact, one transaction an action, old or new and never mixed.
class JobStoreTest : public QObject {
    Q_OBJECT
  private slots:
    void init() {
        m_dir = std::make_unique<QTemporaryDir>();
        FailingVfs::failFrom(0);
    }
    void keepsAJobExactly();
    void commitsOnlyWhatChanged();
    void aClosedJobIsOneFile();
    void recordsActions();
    void secondOpenerReadsOnly();
    void lockEndsWithItsHolder();
    void readOnlyFileOpensReadOnly();
    void refusesOtherFiles_data();
    void refusesOtherFiles();
    void refusesNewerFiles();
    void refusesToReplace();
    void damageIsRecognisedAndSalvaged();
    void migratesAfterACopy();
    void failedMigrationLeavesTheFile();
    void opensTheFrozenFirstVersion();
    void opensTheFrozenSecondVersion();
    void opensTheFrozenThirdVersion();
    void opensTheFrozenFourthVersion();
    void opensTheFrozenFifthVersion();
    void opensTheFrozenSeventhVersion();
    void opensTheFrozenEighthVersion();
    void opensTheFrozenNinthVersion();
    void opensTheFrozenTenthVersion();
    void opensTheFrozenEleventhVersion();
    void opensTheFrozenTwelfthVersion();
    void opensTheFrozenThirteenthVersion();
    void opensTheFrozenFourteenthVersion();
    void opensTheFrozenFifteenthVersion();
    void opensTheFrozenSixteenthVersion();
    void opensTheFrozenSeventeenthVersion();
    void everyFailedOperationLeavesOldOrNew();
    void aFullDiskIsNamed();
    void failedCreationLeavesNothing();
    void killedTwoHundredTimes();

  private:
    fs::path file(const char *name = "a.wwjob") const { return (m_dir->path().toStdString() + "/") + name; }
    std::unique_ptr<QTemporaryDir> m_dir;
};

void JobStoreTest::keepsAJobExactly() {
    for (unsigned seed = 0; seed < 15; ++seed) {
        const Job job = randomJob(seed);
        const fs::path path = file(("r" + std::to_string(seed)).c_str());
        { JobStore::create(path, job, when); }
        QVERIFY(JobStore::open(path).read() == job);
    }
}

void JobStoreTest::commitsOnlyWhatChanged() {
    Job job = randomJob(1);
    JobStore store = JobStore::create(file(), job, when);
    for (unsigned seed = 2; seed < 12; ++seed) {
        const Job next = randomJob(seed);
        store.commit(difference(job, next), "step", when);
        QVERIFY(store.read() == next);
        job = next;
    }
    JobChange nowhere;
    nowhere.cells.push_back({"calibration.spark.base", {{{63, 63}, 0, 1}}});
    EXPECT_INPUT_ERROR(store.commit(nowhere, "cell that is not there", when), "calibration.spark.base");
    QVERIFY(store.read() == job);
}

void JobStoreTest::aClosedJobIsOneFile() {
    {
        JobStore store = JobStore::create(file(), demoJob(), when);
        store.commit(difference(demoJob(), withSpark(demoJob(), 7)), "x", when);
    }
    int entries = 0;
    for ([[maybe_unused]] const auto &entry : fs::directory_iterator(file().parent_path()))
        ++entries;
    QCOMPARE(entries, 1);
}

void JobStoreTest::recordsActions() {
    JobStore store = JobStore::create(file(), demoJob(), when);
    store.commit(difference(demoJob(), withSpark(demoJob(), 7)), "Spark: =7", "2001-02-03T04:05:07Z");
    const auto actions = store.actions();
    QCOMPARE(actions.size(), std::size_t{2});
    QCOMPARE(actions[0].what, std::string("Created"));
    QCOMPARE(actions[1].what, std::string("Spark: =7"));
    QCOMPARE(actions[1].at, std::string("2001-02-03T04:05:07Z"));
}

void JobStoreTest::secondOpenerReadsOnly() {
    JobStore first = JobStore::create(file(), demoJob(), when);
    JobStore second = JobStore::open(file());
    QVERIFY(!first.readOnly() && second.readOnly());
    QVERIFY(says(second.whyReadOnly(), "another window"));
    EXPECT_INPUT_ERROR(second.commit(difference(demoJob(), withSpark(demoJob(), 7)), "x", when),
                       "reading only");
    first.commit(difference(demoJob(), withSpark(demoJob(), 7)), "x", when);
    QCOMPARE(sparkOf(second.read()), 7.0); // the reader sees what is confirmed
}

void JobStoreTest::lockEndsWithItsHolder() {
    { JobStore::create(file(), demoJob(), when); }
    { QVERIFY(!JobStore::open(file()).readOnly()); }
    { QVERIFY(!JobStore::open(file()).readOnly()); }
    const pid_t child = fork();
    if (child == 0) {
        JobStore held = JobStore::open(file());
        kill(getpid(), SIGKILL);
    }
    waitpid(child, nullptr, 0);
    QVERIFY(fs::exists(file().string() + ".lock")); // left behind, held by no one
    QVERIFY(!JobStore::open(file()).readOnly());
}

void JobStoreTest::readOnlyFileOpensReadOnly() {
    { JobStore::create(file(), demoJob(), when); }
    JobStore::Options options;
    options.readOnly = true;
    const JobStore store = JobStore::open(file(), options);
    QVERIFY(store.readOnly());
    QVERIFY(store.read() == demoJob());
}

void JobStoreTest::refusesOtherFiles_data() {
    QTest::addColumn<QByteArray>("bytes");
    QTest::addColumn<QString>("found");
    QTest::newRow("empty") << QByteArray() << "an empty file";
    QTest::newRow("text") << QByteArray("rpm,load\n1000,50\n") << "another kind";
    QTest::newRow("junk") << QByteArray("\0\1\2\3\4\5\6\7\0\1\2\3\4\5\6\7\0\1\2\3", 20) << "another kind";
    QTest::newRow("head only") << QByteArray("SQLite format 3\0", 16) << "a";
    QTest::newRow("head and junk") << QByteArray("SQLite format 3\0", 16) + QByteArray(4000, 'x') << "damage";
}

void JobStoreTest::refusesOtherFiles() {
    QFETCH(QByteArray, bytes);
    QFETCH(QString, found);
    QFile f(QString::fromStdString(file().string()));
    QVERIFY(f.open(QIODevice::WriteOnly));
    f.write(bytes);
    f.close();
    EXPECT_INPUT_ERROR(JobStore::open(file()), "a.wwjob", "a job file", found.toUtf8().constData());
    QCOMPARE(fs::file_size(file()), static_cast<std::uintmax_t>(bytes.size())); // untouched
    EXPECT_INPUT_ERROR(JobStore::open(file("missing.wwjob")), "no file of that name");
    EXPECT_INPUT_ERROR(JobStore::open(m_dir->path().toStdString()), "a folder");
    {
        SQLite::Database(file("other").string(), SQLite::OPEN_READWRITE | SQLite::OPEN_CREATE)
            .exec("CREATE TABLE t (x)");
    }
    EXPECT_INPUT_ERROR(JobStore::open(file("other")), "another program");
}

void JobStoreTest::refusesNewerFiles() {
    { JobStore::create(file(), demoJob(), when); }
    execute(file(), "PRAGMA user_version = 99");
    EXPECT_INPUT_ERROR(JobStore::open(file()), "version 99", "newer program");
}

void JobStoreTest::refusesToReplace() {
    { JobStore::create(file(), demoJob(), when); }
    EXPECT_INPUT_ERROR(JobStore::create(file(), newJob("other"), when), "a new name");
    QVERIFY(JobStore::open(file()).read() == demoJob());
    EXPECT_INPUT_ERROR(JobStore::create("/nowhere/at/all/a.wwjob", newJob("other"), when), "folder");
}

void JobStoreTest::damageIsRecognisedAndSalvaged() {
    { JobStore::create(file(), demoJob(), when); }
    const fs::path cut = file("cut.wwjob");
    fs::copy_file(file(), cut);
    fs::resize_file(cut, fs::file_size(cut) / 2);
    EXPECT_INPUT_ERROR(JobStore::open(cut), "cut.wwjob");
    // A value that no program of ours would have written.
    execute(file(), "UPDATE field SET value = -3 WHERE path = 'engine.displacement_l'; DELETE FROM cell "
                    "WHERE path = 'calibration.spark.top' AND y = 0");
    EXPECT_INPUT_ERROR(JobStore::open(file()), "engine.displacement_l");
    const JobStore::Salvage found = JobStore::salvage(file());
    QCOMPARE(found.lost.size(), std::size_t{3});
    QVERIFY(said(found.lost[0]).starts_with("Displacement") && said(found.lost[1]).starts_with("Settings") &&
            said(found.lost[2]).starts_with("Spark, top"));
    QVERIFY(found.job.calibration.of(CalibratedQuantity::fuel) ==
            demoJob().calibration.of(CalibratedQuantity::fuel));
    // Overwritten in the middle, ten places: recognised or read, never a crash.
    std::mt19937 r(9);
    for (int i = 0; i < 10; ++i) {
        const fs::path path = file(("d" + std::to_string(i)).c_str());
        { JobStore::create(path, demoJob(), when); }
        QFile f(QString::fromStdString(path.string()));
        QVERIFY(f.open(QIODevice::ReadWrite));
        f.seek(static_cast<qint64>(100 + r() % static_cast<unsigned>(f.size() - 5000)));
        f.write(QByteArray(3000, static_cast<char>(r() % 256)));
        f.close();
        try {
            JobStore::open(path).read();
        } catch (const InputError &) {
            try {
                JobStore::salvage(path);
            } catch (const InputError &) {
            }
        }
    }
}

void JobStoreTest::migratesAfterACopy() {
    { JobStore::create(file(), demoJob(), when); }
    const std::array steps{
        Migration{schemaVersion, "ALTER TABLE action ADD COLUMN who TEXT NOT NULL DEFAULT ''"},
        Migration{schemaVersion + 1, "CREATE TABLE later (x)"}};
    JobStore::Options future;
    future.version = schemaVersion + 2;
    future.migrations = steps;
    {
        const JobStore store = JobStore::open(file(), future);
        QVERIFY(store.read() == demoJob());
    }
    SQLite::Database db(file().string());
    QCOMPARE(db.execAndGet("PRAGMA user_version").getInt(), schemaVersion + 2);
    QVERIFY(db.tableExists("later"));
    QVERIFY(fs::exists(file().string() + ".v" + std::to_string(schemaVersion)));
    QVERIFY(JobStore::open(file().string() + ".v" + std::to_string(schemaVersion)).read() == demoJob());
    EXPECT_INPUT_ERROR(JobStore::open(file()), "newer"); // by today's program
}

void JobStoreTest::failedMigrationLeavesTheFile() {
    { JobStore::create(file(), demoJob(), when); }
    const std::array steps{Migration{schemaVersion, "CREATE TABLE half (x)"},
                           Migration{schemaVersion + 1, "THIS IS NOT SQL"}};
    JobStore::Options future;
    future.version = schemaVersion + 2;
    future.migrations = steps;
    EXPECT_INPUT_ERROR(JobStore::open(file(), future), "a.wwjob");
    QVERIFY(JobStore::open(file()).read() == demoJob());
    SQLite::Database db(file().string());
    QVERIFY(!db.tableExists("half"));
}

// Written by the first release of the schema; must open for ever.
void JobStoreTest::opensTheFrozenFirstVersion() {
    fs::copy_file(TEST_DATA "/version-1.wwjob", file());
    JobStore::Options reading;
    reading.readOnly = true;
    QCOMPARE(JobStore::open(file(), reading).read().name,
             std::string("Frozen")); // in memory: nothing on the disk changes
    QVERIFY(!fs::exists(file().string() + ".v1"));
    const JobStore store = JobStore::open(file());
    QCOMPARE(store.read().name, std::string("Frozen"));
    QCOMPARE(sparkOf(store.read()), 12.25);
    QCOMPARE(store.read().tank.capacityL, TankSetup{}.capacityL); // came with version 2
    QVERIFY(store.read().shelf.empty());
    QVERIFY(fs::exists(file().string() + ".v1"));
}

// A shelf of two fuels and a tank history, from before components and uncertainties.
void JobStoreTest::opensTheFrozenSecondVersion() {
    fs::copy_file(TEST_DATA "/version-2.wwjob", file());
    const JobStore store = JobStore::open(file());
    const Job job = store.read();
    QCOMPARE(job.name, std::string("Version two"));
    QCOMPARE(job.shelf.size(), std::size_t{2});
    QCOMPARE(job.shelf[1].opened, std::string("2001-02-03"));
    QVERIFY(job.shelf[1].leaded && job.shelf[1].canL == 5);
    QCOMPARE(job.tankEvents.size(), std::size_t{3});
    QCOMPARE(job.tankEvents[1].ethanol, 0.59);
    // What came with version 3 holds its defaults.
    QVERIFY(job.ethanol == ethanol() && job.methanol == methanol());
    QVERIFY(job.fuelSystem == FuelSystem{} && job.consumption == Consumption{});
    QVERIFY(job.shelf[0].kind == FuelKind::pump && job.tank.sensorPlace == SensorPlace::feed);
    QVERIFY(job.lots.empty() && fs::exists(file().string() + ".v2"));
}

// Lots, tubes and opinions, from before pumps and mechanical injection.
void JobStoreTest::opensTheFrozenThirdVersion() {
    fs::copy_file(TEST_DATA "/version-3.wwjob", file());
    const JobStore store = JobStore::open(file());
    const Job job = store.read();
    QCOMPARE(job.name, std::string("Version three"));
    QVERIFY(job.lots.size() == 1 && job.tubes.size() == 1 && job.mixtures.size() == 1);
    QVERIFY(job.hydrocarbons[0].leaded && job.fuelSystem.catalyst);
    QVERIFY(job.tankEvents[1].kind == TankEventKind::sensor &&
            job.tank.sensorPlace == SensorPlace::returnLine);
    // What came with version 4 holds its defaults.
    QVERIFY(job.injectors == Injectors{} && job.supply == FuelSupply{} && job.boost == BoostControl{});
    QVERIFY(job.aux == AuxiliaryInjection{} && job.mechanical == MechanicalSetup{});
    QVERIFY(job.control == FuelControl::controller && fs::exists(file().string() + ".v3"));
}

// Pumps, boost and injectors, from before pulse widths and the schools of blending.
void JobStoreTest::opensTheFrozenFourthVersion() {
    fs::copy_file(TEST_DATA "/version-4.wwjob", file());
    const JobStore store = JobStore::open(file());
    const Job job = store.read();
    QCOMPARE(job.name, std::string("Thistle"));
    QVERIFY(!job.supply.pumps.empty() && !job.boost.points.empty() && !job.measuredInjectors.empty());
    // What came with version 5 holds its defaults.
    QCOMPARE(job.calibration.pulsePressureKpa, 0.0);
    QVERIFY(job.mechanical.then == Weather{} && job.mechanical.now == Weather{});
    QVERIFY(fs::exists(file().string() + ".v4"));
}

// Schools and other tables, from before other load axes.
void JobStoreTest::opensTheFrozenFifthVersion() {
    fs::copy_file(TEST_DATA "/version-5.wwjob", file());
    const JobStore store = JobStore::open(file());
    const Job job = store.read();
    QCOMPARE(job.name, std::string("Thistle"));
    QVERIFY(!job.extras.empty() && job.contentSensing.slewPerS > 0);
    // What came with version 6 holds its defaults.
    QVERIFY(job.calibration.loadAxis == LoadAxis::manifoldPressure &&
            job.calibration.boostAxis == BoostAxis::throttle);
    QVERIFY(job.engine.throttleKpa == Engine{}.throttleKpa && !job.contentSensing.comparedAfterFill);
    QVERIFY(fs::exists(file().string() + ".v5"));
}

// Tables of records as text, origins as a list: what version 7 exported is what it holds now.
void JobStoreTest::opensTheFrozenSeventhVersion() {
    QFile document(QStringLiteral(TEST_DATA "/version-7.json"));
    QVERIFY(document.open(QIODevice::ReadOnly));
    Job written = jobFromJson(document.readAll().toStdString());
    written.stated = statedByDifference(written);
    QVERIFY(written.calibration.levels.size() == 3 && !written.extras.empty() &&
            originTexts(written).size() > 3);
    fs::copy_file(TEST_DATA "/version-7.wwjob", file());
    JobStore::Options reading;
    reading.readOnly = true;
    QVERIFY(JobStore::open(file(), reading).read() == written); // without changing the file
    {
        SQLite::Database db(file().string(), SQLite::OPEN_READONLY);
        QCOMPARE(db.execAndGet("PRAGMA user_version").getInt(), 7);
    }
    for (int round = 0; round < 2; ++round) {
        const JobStore store = JobStore::open(file());
        const Job job = store.read();
        QVERIFY(job == written && originTexts(job) == originTexts(written));
        QCOMPARE(job.revisions[0].state.text(), written.revisions[0].state.text());
        QVERIFY(store.actions().size() == 1);
    }
    QVERIFY(fs::exists(file().string() + ".v7"));
    // What its own digests do not vouch for is not brought up to date.
    fs::copy_file(TEST_DATA "/version-7.wwjob", file("flipped"));
    execute(file("flipped"),
            "UPDATE cell SET value = value + 0.5 WHERE path = 'calibration.spark.base' AND x = 3");
    EXPECT_INPUT_ERROR(JobStore::open(file("flipped")), "calibration.spark.base is not what its digest says");
    EXPECT_INPUT_ERROR(JobStore::open(file("flipped"), reading), "calibration.spark.base");
    QVERIFY(!fs::exists(file("flipped").string() + ".v7"));
}

// What differs from the defaults was stated: nobody kept more then.
void JobStoreTest::opensTheFrozenEighthVersion() {
    QFile document(QStringLiteral(TEST_DATA "/version-7.json"));
    QVERIFY(document.open(QIODevice::ReadOnly));
    Job written = jobFromJson(document.readAll().toStdString());
    written.stated = statedByDifference(written);
    QVERIFY(isStated(written, "injectors.flow_cc_min") && !isStated(written, "injectors.batch"));
    fs::copy_file(TEST_DATA "/version-8.wwjob", file());
    JobStore::Options reading;
    reading.readOnly = true;
    QVERIFY(JobStore::open(file(), reading).read() == written); // without changing the file
    for (int round = 0; round < 2; ++round) {
        const JobStore store = JobStore::open(file());
        QVERIFY(store.read() == written && originTexts(store.read()) == originTexts(written));
        QVERIFY(store.actions().size() == 1);
    }
    QVERIFY(fs::exists(file().string() + ".v8"));
    fs::copy_file(TEST_DATA "/version-8.wwjob", file("flipped"));
    execute(file("flipped"),
            "UPDATE cell SET value = value + 0.5 WHERE path = 'calibration.spark.base' AND x = 3");
    EXPECT_INPUT_ERROR(JobStore::open(file("flipped")), "calibration.spark.base is not what its digest says");
    QVERIFY(!fs::exists(file("flipped").string() + ".v8"));
}

// Spark ceilings over content become one for each content; a revision's text stays as it was kept.
void JobStoreTest::opensTheFrozenNinthVersion() {
    QFile document(QStringLiteral(TEST_DATA "/version-9.json"));
    QVERIFY(document.open(QIODevice::ReadOnly));
    const Job written = jobFromJson(document.readAll().toStdString());
    QCOMPARE(std::ranges::count(written.extras.values(), TableKind::sparkCeiling, &ExtraTable::kind), 3);
    fs::copy_file(TEST_DATA "/version-9.wwjob", file());
    JobStore::Options reading;
    reading.readOnly = true;
    QVERIFY(JobStore::open(file(), reading).read() == written); // without changing the file
    for (int round = 0; round < 2; ++round) {
        const JobStore store = JobStore::open(file());
        const Job job = store.read();
        QVERIFY(job == written && originTexts(job) == originTexts(written));
        QVERIFY(job.cellMarks == written.cellMarks && job.stated == written.stated);
        QCOMPARE(job.revisions[0].state.text(), written.revisions[0].state.text());
        QVERIFY(store.actions().size() == 1);
    }
    { // nothing is left of the old table
        SQLite::Database db(file().string(), SQLite::OPEN_READONLY);
        QCOMPARE(db.execAndGet("PRAGMA user_version").getInt(), schemaVersion);
        const int tables =
            db.execAndGet("SELECT count(DISTINCT idx) FROM record WHERE path = 'calibration.extras'");
        QCOMPARE(static_cast<std::size_t>(tables), written.extras.size());
        const int paths =
            db.execAndGet("SELECT count(DISTINCT path) FROM cell WHERE path LIKE 'calibration.extras#%'");
        QCOMPARE(static_cast<std::size_t>(paths), written.extras.size());
    }
    QVERIFY(fs::exists(file().string() + ".v9"));
    fs::copy_file(TEST_DATA "/version-9.wwjob", file("flipped"));
    execute(file("flipped"),
            "UPDATE cell SET value = value + 0.5 WHERE path = 'calibration.spark.base' AND x = 3");
    EXPECT_INPUT_ERROR(JobStore::open(file("flipped")), "calibration.spark.base is not what its digest says");
}

// What the engine's estimates need is there with its defaults, and nobody has stated it.
void JobStoreTest::opensTheFrozenTenthVersion() {
    QFile document(QStringLiteral(TEST_DATA "/version-10.json"));
    QVERIFY(document.open(QIODevice::ReadOnly));
    const Job written = jobFromJson(document.readAll().toStdString());
    fs::copy_file(TEST_DATA "/version-10.wwjob", file());
    JobStore::Options reading;
    reading.readOnly = true;
    QVERIFY(JobStore::open(file(), reading).read() == written); // without changing the file
    for (int round = 0; round < 2; ++round) {
        const Job job = JobStore::open(file()).read();
        QVERIFY(job == written && originTexts(job) == originTexts(written) && job.stated == written.stated);
        QCOMPARE(job.engine.compressionRatio, Engine{}.compressionRatio);
        QVERIFY(std::ranges::none_of(job.stated.values(), [](const Statement &s) {
            return s.path == "engine.compression_ratio" || s.path == "engine.charging";
        }));
    }
    { // all of it is in the file now, where a later default cannot change it
        SQLite::Database db(file().string(), SQLite::OPEN_READONLY);
        QCOMPARE(db.execAndGet("SELECT count(*) FROM field WHERE path IN ('engine.compression_ratio', "
                               "'engine.rod_ratio', 'engine.fuel_place', 'engine.charging')")
                     .getInt(),
                 4);
    }
    QVERIFY(fs::exists(file().string() + ".v10"));
}

// Logs begin as none, with a place for their samples.
void JobStoreTest::opensTheFrozenEleventhVersion() {
    QFile document(QStringLiteral(TEST_DATA "/version-11.json"));
    QVERIFY(document.open(QIODevice::ReadOnly));
    const Job written = jobFromJson(document.readAll().toStdString());
    fs::copy_file(TEST_DATA "/version-11.wwjob", file());
    JobStore::Options reading;
    reading.readOnly = true;
    QVERIFY(JobStore::open(file(), reading).read() == written); // without changing the file
    for (int round = 0; round < 2; ++round) {
        const Job job = JobStore::open(file()).read();
        QVERIFY(job == written && job.logs.empty() && job.logChannels.empty());
    }
    SQLite::Database db(file().string(), SQLite::OPEN_READONLY);
    QCOMPARE(db.execAndGet("SELECT count(*) FROM sample_chunk").getInt() +
                 db.execAndGet("SELECT count(*) FROM log_part").getInt(),
             0);
    QVERIFY(fs::exists(file().string() + ".v11"));
}

// Nothing has been corrected from logs yet, and spark is sought on the road.
void JobStoreTest::opensTheFrozenTwelfthVersion() {
    QFile document(QStringLiteral(TEST_DATA "/version-12.json"));
    QVERIFY(document.open(QIODevice::ReadOnly));
    const Job written = jobFromJson(document.readAll().toStdString());
    fs::copy_file(TEST_DATA "/version-12.wwjob", file());
    JobStore::Options reading;
    reading.readOnly = true;
    QVERIFY(JobStore::open(file(), reading).read() == written); // without changing the file
    for (int round = 0; round < 2; ++round) {
        const Job job = JobStore::open(file()).read();
        QVERIFY(job == written && job.corrections.empty() && job.sparkSearches.empty());
        QVERIFY(job.sparkSchool == SparkSchool::road);
    }
    QVERIFY(fs::exists(file().string() + ".v12"));
}

// Corrections, a search for spark and two logs with their samples stay as they are.
void JobStoreTest::opensTheFrozenThirteenthVersion() {
    QFile document(QStringLiteral(TEST_DATA "/version-13.json"));
    QVERIFY(document.open(QIODevice::ReadOnly));
    const Job written = jobFromJson(document.readAll().toStdString());
    QVERIFY(written.corrections.size() == 2 && !written.sparkSearches.empty() && written.logs.size() == 2);
    fs::copy_file(TEST_DATA "/version-13.wwjob", file());
    JobStore::Options reading;
    reading.readOnly = true;
    QVERIFY(JobStore::open(file(), reading).read() == written); // without changing the file
    for (int round = 0; round < 2; ++round)
        QVERIFY(JobStore::open(file()).read() == written);
    SQLite::Database db(file().string(), SQLite::OPEN_READONLY);
    QCOMPARE(db.execAndGet("SELECT value FROM job_info WHERE key = 'min_reader_version'").getInt(),
             minReaderVersion);
    QVERIFY(db.execAndGet("SELECT count(*) FROM log_part").getInt() > 0);
    QVERIFY(fs::exists(file().string() + ".v13"));
}

// The car gets its defaults, and there are no runs.
void JobStoreTest::opensTheFrozenFourteenthVersion() {
    QFile document(QStringLiteral(TEST_DATA "/version-14.json"));
    QVERIFY(document.open(QIODevice::ReadOnly));
    const Job written = jobFromJson(document.readAll().toStdString());
    QVERIFY(written.corrections.size() == 1 && written.logs.size() == 2 && written.runs.empty());
    fs::copy_file(TEST_DATA "/version-14.wwjob", file());
    JobStore::Options reading;
    reading.readOnly = true;
    QVERIFY(JobStore::open(file(), reading).read() == written); // without changing the file
    for (int round = 0; round < 2; ++round)
        QVERIFY(JobStore::open(file()).read() == written);
    QVERIFY(written.vehicle == Vehicle());
    SQLite::Database db(file().string(), SQLite::OPEN_READONLY);
    QCOMPARE(db.execAndGet("SELECT value FROM job_info WHERE key = 'min_reader_version'").getInt(),
             minReaderVersion);
    QVERIFY(fs::exists(file().string() + ".v14"));
}

// Its runs stay as they are; to what they are known nobody has said.
void JobStoreTest::opensTheFrozenFifteenthVersion() {
    QFile document(QStringLiteral(TEST_DATA "/version-15.json"));
    QVERIFY(document.open(QIODevice::ReadOnly));
    const Job written = jobFromJson(document.readAll().toStdString());
    QCOMPARE(written.runs.size(), std::size_t(2));
    QCOMPARE(written.vehicle.massKg, 1412.0);
    QCOMPARE(written.runs[1].plugs, std::string("Light tan"));
    QVERIFY(std::ranges::all_of(written.runs.values(), [](const Run &r) { return r.knownWithin == 0; }));
    fs::copy_file(TEST_DATA "/version-15.wwjob", file());
    JobStore::Options reading;
    reading.readOnly = true;
    QVERIFY(JobStore::open(file(), reading).read() == written); // without changing the file
    for (int round = 0; round < 2; ++round)
        QVERIFY(JobStore::open(file()).read() == written);
    SQLite::Database db(file().string(), SQLite::OPEN_READONLY);
    QCOMPARE(db.execAndGet("SELECT value FROM job_info WHERE key = 'min_reader_version'").getInt(),
             minReaderVersion);
    QVERIFY(fs::exists(file().string() + ".v15"));
}

// Nobody has stated a goal, and no rung has been passed.
void JobStoreTest::opensTheFrozenSixteenthVersion() {
    QFile document(QStringLiteral(TEST_DATA "/version-16.json"));
    QVERIFY(document.open(QIODevice::ReadOnly));
    const Job written = jobFromJson(document.readAll().toStdString());
    QCOMPARE(written.runs.size(), std::size_t(1));
    QCOMPARE(written.vehicle.massKg, 1387.0);
    QVERIFY(written.ladder == LadderGoal() && written.ladderPassed.empty() && written.ladderLooks.empty());
    fs::copy_file(TEST_DATA "/version-16.wwjob", file());
    JobStore::Options reading;
    reading.readOnly = true;
    QVERIFY(JobStore::open(file(), reading).read() == written); // without changing the file
    for (int round = 0; round < 2; ++round)
        QVERIFY(JobStore::open(file()).read() == written);
    SQLite::Database db(file().string(), SQLite::OPEN_READONLY);
    QCOMPARE(db.execAndGet("SELECT value FROM job_info WHERE key = 'min_reader_version'").getInt(),
             minReaderVersion);
    QVERIFY(fs::exists(file().string() + ".v16"));
}

// Nobody has said what cools the charge, or looked anything over; a revision comes from nowhere.
void JobStoreTest::opensTheFrozenSeventeenthVersion() {
    QFile document(QStringLiteral(TEST_DATA "/version-17.json"));
    QVERIFY(document.open(QIODevice::ReadOnly));
    const Job written = jobFromJson(document.readAll().toStdString());
    QCOMPARE(written.ladderLooks.size(), std::size_t(2));
    QCOMPARE(written.vehicle.massKg, 1391.0);
    QVERIFY(written.engine.chargeCooler == ChargeCooler::notStated && written.inspections.empty());
    const Revision sent = written.revisions.values().back();
    QVERIFY(sent.sent && sent.parent.empty() && !sent.current && sent.cameBack.empty() &&
            sent.released.empty());
    fs::copy_file(TEST_DATA "/version-17.wwjob", file());
    JobStore::Options reading;
    reading.readOnly = true;
    QVERIFY(JobStore::open(file(), reading).read() == written); // without changing the file
    for (int round = 0; round < 2; ++round)
        QVERIFY(JobStore::open(file()).read() == written);
    SQLite::Database db(file().string(), SQLite::OPEN_READONLY);
    QCOMPARE(db.execAndGet("SELECT value FROM job_info WHERE key = 'min_reader_version'").getInt(),
             minReaderVersion);
    QVERIFY(fs::exists(file().string() + ".v17"));
}

void JobStoreTest::everyFailedOperationLeavesOldOrNew() {
    const Job before = withSpark(demoJob(), 5);
    Job after = withSpark(demoJob(), 9); // a change of every kind
    after.limits["flow.duty.stop"] = 0.9;
    after.tankEvents.pop_back();
    after.engine.boostLimitKpa = Curve::constant(180);
    after.calibration.of(CalibratedQuantity::lambda).top =
        Table2D::uniform(Axis({1000, 2000}), Axis({50, 100}), 0.9);
    JobStore::Options options;
    options.vfs = FailingVfs::name();
    int failures = 0;
    for (int operation = 1;; ++operation) {
        const fs::path path = file(("f" + std::to_string(operation)).c_str());
        { JobStore::create(path, before, when); }
        bool threw = false;
        {
            JobStore store = JobStore::open(path, options);
            FailingVfs::failFrom(operation);
            try {
                store.commit(difference(before, after), "edit", when);
            } catch (const InputError &) {
                threw = true;
            }
            const bool reached = FailingVfs::operations() >= operation;
            FailingVfs::failFrom(0);
            if (!reached) break; // the commit needed fewer operations: all of them have had their turn
        }
        JobStore::Options reading; // a reader rolls back what is left
        reading.readOnly = operation % 2 == 0;
        const JobStore store = JobStore::open(path, reading);
        // What threw has not happened, what did not has: the job and its history, both.
        QVERIFY2(store.read() == (threw ? before : after),
                 threw ? "threw, but written" : "a confirmed edit was lost");
        QCOMPARE(store.actions().size(), std::size_t(threw ? 1 : 2));
        ++failures;
    }
    QVERIFY2(failures >= 5, qPrintable(QString::number(failures)));
}

void JobStoreTest::aFullDiskIsNamed() {
    { JobStore::create(file(), demoJob(), when); }
    JobStore::Options options;
    options.vfs = FailingVfs::name();
    JobStore store = JobStore::open(file(), options);
    FailingVfs::failFrom(2, true);
    EXPECT_INPUT_ERROR(store.commit(difference(demoJob(), withSpark(demoJob(), 7)), "x", when), "a.wwjob",
                       "a full disk");
    FailingVfs::failFrom(0);
    QVERIFY(store.read() == demoJob());
    store.commit(difference(demoJob(), withSpark(demoJob(), 7)), "x", when); // room again: work goes on
    QCOMPARE(sparkOf(store.read()), 7.0);
}

void JobStoreTest::failedCreationLeavesNothing() {
    JobStore::Options options;
    options.vfs = FailingVfs::name();
    for (int operation = 1; operation < 40; operation += 3) {
        const fs::path path = file(("c" + std::to_string(operation)).c_str());
        FailingVfs::failFrom(operation);
        try {
            JobStore::create(path, demoJob(), when, options);
        } catch (const InputError &) {
            FailingVfs::failFrom(0);
            QVERIFY2(!fs::exists(path), "a half-made file was left");
        }
        FailingVfs::failFrom(0);
    }
}

// A child confirms edits one after the other and is killed at some moment. What it confirmed must be there.
void JobStoreTest::killedTwoHundredTimes() {
    { JobStore::create(file(), withSpark(demoJob(), 0), when); }
    std::mt19937 r(4);
    double confirmed = 0;
    int kills = 0;
    for (int round = 0; round < 200; ++round) {
        int pipes[2];
        QVERIFY(pipe(pipes) == 0);
        const pid_t child = fork();
        if (child == 0) {
            JobStore store = JobStore::open(file());
            Job job = store.read();
            for (double step = 0;; step = step < 40 ? step + 0.25 : 0) {
                const Job next = withSpark(job, step);
                store.commit(difference(job, next), "edit", when);
                if (write(pipes[1], &step, sizeof step) != sizeof step) _exit(0);
                job = next;
            }
        }
        ::close(pipes[1]);
        double first = 0;
        // Let it confirm at least one edit, then strike.
        if (read(pipes[0], &first, sizeof first) == sizeof first) confirmed = first;
        usleep(static_cast<useconds_t>(r() % 3000));
        kill(child, SIGKILL);
        waitpid(child, nullptr, 0);
        double more = 0;
        while (read(pipes[0], &more, sizeof more) == sizeof more)
            confirmed = more;
        ::close(pipes[0]);
        ++kills;
        const Job found = JobStore::open(file()).read();
        QVERIFY2(consistent(found), "mixed state");
        const double next = confirmed < 40 ? confirmed + 0.25 : 0;
        QVERIFY2(sparkOf(found) == confirmed || sparkOf(found) == next,
                 qPrintable(QStringLiteral("%1 after %2").arg(sparkOf(found)).arg(confirmed)));
    }
    QCOMPARE(kills, 200);
}

CORE_TEST_MAIN(JobStoreTest)
#include "job_store_test.moc"
