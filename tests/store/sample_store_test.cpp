// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/error.h"
#include "formats/job_json.h"
#include "formats/log_import/log_import.h"
#include "store/job_editor.h"
#include "store/log_intake_store.h"
#include "store/sample_store.h"
#include "support/failing_vfs.h"
#include "support/random_job.h"
#include "support/test_main.h"

#include <QTemporaryDir>

#include <SQLiteCpp/SQLiteCpp.h>

#include <limits>
#include <random>

using namespace wheelwright;
using namespace wheelwright::testing;
namespace fs = std::filesystem;

namespace {

constexpr const char *when = "2001-02-03T04:05:06Z";
constexpr double none = std::numeric_limits<double>::quiet_NaN();

bool same(const std::vector<double> &a, const std::vector<double> &b) {
    return std::ranges::equal(a, b, [](double x, double y) { return x == y || (x != x && y != y); });
}

std::vector<double> walk(std::size_t count, unsigned seed) {
    std::mt19937 random(seed);
    std::normal_distribution<double> step(0, 1);
    std::vector<double> out;
    double v = 100;
    for (std::size_t i = 0; i < count; ++i)
        out.push_back(random() % 50 == 0 ? none : static_cast<float>(v += step(random)));
    return out;
}

int countIn(const fs::path &path, const std::string &sql) {
    SQLite::Database db(path.string(), SQLite::OPEN_READONLY);
    return db.execAndGet(sql).getInt();
}

} // namespace

class SampleStoreTest : public QObject {
    Q_OBJECT
  private slots:
    void init() { m_folder = std::make_unique<QTemporaryDir>(); }
    void chunksComeBack_data();
    void chunksComeBack();
    void levelsAreTheEndsOfTheirSamples();
    void aDamagedChunkIsNeverTakenForAnother();
    void samplesComeBackAndAreNamedByWhatTheyAre();
    void whatIsNotSealedIsNothing();
    void editsGoOnWhileALogComesIn();
    void tidyingTakesWhatNobodyNames();
    void damagedSamplesKeepNobodyFromTheJob();
    void everyFailedOperationLeavesTheJob();
    void aMigrationCopiesNoSamples();
    void aLogIsAJobsOwn();

  private:
    fs::path file(const char *name = "a") const {
        return fs::path(m_folder->path().toStdString()) / (std::string(name) + ".wwjob");
    }
    // A job file with one log of two series.
    std::string withLog(const fs::path &path, std::size_t samples = 1000) const {
        JobStore store = JobStore::create(path, demoJob(), when);
        SampleWriter writer(store, 2, {0});
        std::vector<double> time;
        for (std::size_t i = 0; i < samples; ++i)
            time.push_back(static_cast<double>(i) * 0.01);
        writer.put(0, time);
        writer.put(1, walk(samples, 3));
        return writer.seal();
    }
    std::unique_ptr<QTemporaryDir> m_folder;
};

void SampleStoreTest::chunksComeBack_data() {
    QTest::addColumn<int>("count");
    for (const int count : {0, 1, 63, 64, 65, 1000, 65536})
        QTest::newRow(std::to_string(count).c_str()) << count;
}

void SampleStoreTest::chunksComeBack() {
    QFETCH(int, count);
    const std::vector<double> samples = walk(static_cast<std::size_t>(count), 1);
    for (const SampleWidth width : {SampleWidth::single, SampleWidth::twice}) {
        const PackedChunk c = pack(samples, width);
        QCOMPARE(c.samples, samples.size());
        QVERIFY(same(unpack(c.packed, c.hash), samples));
    }
    // Doubles in 8 bytes are exact, in 4 the nearest that they hold.
    const std::vector<double> third{1.0 / 3, -1e30, 0, none};
    const PackedChunk exact = pack(third, SampleWidth::twice), nearest = pack(third, SampleWidth::single);
    QVERIFY(same(unpack(exact.packed, exact.hash), third));
    QCOMPARE(unpack(nearest.packed, nearest.hash)[0], static_cast<double>(1.0f / 3));
    QVERIFY(exact.hash != nearest.hash);
}

void SampleStoreTest::levelsAreTheEndsOfTheirSamples() {
    std::vector<double> samples = walk(1000, 2);
    for (std::size_t i = 128; i < 192; ++i)
        samples[i] = none;
    samples[5] = 1.0 / 3;
    const std::vector<LevelPair> levels = unpackLevels(pack(samples, SampleWidth::twice).levels);
    QCOMPARE(levels.size(), std::size_t{16});
    for (std::size_t i = 0; i < levels.size(); ++i) {
        double least = INFINITY, most = -INFINITY;
        for (std::size_t k = 64 * i; k < std::min<std::size_t>(64 * i + 64, samples.size()); ++k)
            if (samples[k] == samples[k]) {
                least = std::min(least, samples[k]);
                most = std::max(most, samples[k]);
            }
        if (i == 2) {
            QVERIFY(levels[i].least != levels[i].least && levels[i].most != levels[i].most);
            continue;
        }
        QVERIFY(levels[i].least <= least && levels[i].most >= most);
        QVERIFY(levels[i].least >= least - 1e-4 && levels[i].most <= most + 1e-4);
    }
    QVERIFY(levels[0].least <= 1.0 / 3 &&
            double(levels[0].least) != 1.0 / 3); // outwards, though it is between
}

void SampleStoreTest::aDamagedChunkIsNeverTakenForAnother() {
    const std::vector<double> samples = walk(300, 4);
    const PackedChunk c = pack(samples, SampleWidth::single);
    for (std::size_t at = 0; at < c.packed.size(); ++at) {
        std::string bytes = c.packed;
        bytes[at] = static_cast<char>(bytes[at] ^ 0x10);
        try {
            QVERIFY(same(unpack(bytes, c.hash), samples)); // a bit that means nothing
        } catch (const InputError &e) {
            QVERIFY(std::string(e.what()).find("damage") != std::string::npos);
        }
    }
    EXPECT_INPUT_ERROR(unpack("", c.hash), "damage");
    EXPECT_INPUT_ERROR(unpack(c.packed, Digest{1, 2}), "hash");
    EXPECT_INPUT_ERROR(unpack(c.packed.substr(0, 40), c.hash), "damage");
}

void SampleStoreTest::samplesComeBackAndAreNamedByWhatTheyAre() {
    constexpr std::size_t count = 150'000; // two chunks and a bit
    const std::vector<double> values = walk(count, 5);
    const JobStore store = JobStore::create(file(), demoJob(), when);
    std::vector<std::string> names;
    for (const std::size_t piece : {std::size_t{999}, std::size_t{65536}, count}) {
        SampleWriter writer(store, 2, {0});
        for (std::size_t from = 0; from < count; from += piece) {
            const auto part = std::span(values).subspan(from, std::min(piece, count - from));
            writer.put(0, part);
            writer.put(1, part);
        }
        names.push_back(writer.seal());
    }
    QVERIFY(names[0] == names[1] && names[1] == names[2] && names[0].size() == 12); // however they came
    QCOMPARE(countIn(file(), "SELECT count(*) FROM log_part"), 6);
    QCOMPARE(countIn(file(), "SELECT count(*) FROM sample_chunk"), 6);
    const SampleReader reader(file());
    QVERIFY(reader.has(names[0]) && !reader.has("0"));
    QCOMPARE(reader.samples(names[0], 1), count);
    QVERIFY(same(reader.read(names[0], 0), values) && same(reader.read(names[0], 1), values));
    for (const auto &[from, size] : {std::pair<std::size_t, std::size_t>{0, 10},
                                     {65530, 20},
                                     {70000, 70000},
                                     {149'999, 5},
                                     {150'000, 5},
                                     {5, 0}}) {
        const std::size_t end = std::min(count, from + size);
        QVERIFY(same(reader.read(names[0], 1, from, size),
                     {values.begin() + std::ptrdiff_t(std::min(from, count)),
                      values.begin() + std::ptrdiff_t(std::max(from, end))}));
    }
    QCOMPARE(reader.levels(names[0], 1).size(), std::size_t{1024 + 1024 + (count - 131072 + 63) / 64});
    SampleWriter other(store, 2, {0});
    std::vector<double> changed = values;
    changed[140'000] += 1;
    other.put(0, values);
    other.put(1, changed);
    QVERIFY(other.seal() != names[0]);
    QCOMPARE(countIn(file(), "SELECT count(*) FROM sample_chunk"), 7); // what is the same is there once
}

void SampleStoreTest::whatIsNotSealedIsNothing() {
    const JobStore store = JobStore::create(file(), demoJob(), when);
    {
        SampleWriter writer(store, 1, {});
        for (int i = 0; i < 40; ++i)
            writer.put(0, walk(65536, static_cast<unsigned>(i)));
        QVERIFY(countIn(file(), "SELECT count(*) FROM sample_chunk") > 0); // it does not wait in memory
        QCOMPARE(countIn(file(), "SELECT count(*) FROM log_part"), 0);
    }
    QCOMPARE(countIn(file(), "SELECT count(*) FROM sample_chunk"), 0);
    JobStore::Options reading;
    reading.readOnly = true;
    const JobStore reader = JobStore::open(file(), reading);
    EXPECT_INPUT_ERROR(SampleWriter(reader, 1, {}), "open for reading only");
    fs::rename(file(), file("b"));
    fs::copy_file(file("b"), file());
    EXPECT_INPUT_ERROR(SampleWriter(store, 1, {}), "another under its name");
    EXPECT_INPUT_ERROR(tidySamples(store, demoJob()), "another under its name");
}

void SampleStoreTest::editsGoOnWhileALogComesIn() {
    { JobStore::create(file(), demoJob(), when); }
    JobEditor editor(JobStore::open(file()));
    SampleWriter writer(editor.store(), 1, {});
    for (int i = 0; i < 30; ++i) {
        writer.put(0, walk(65536, static_cast<unsigned>(i)));
        const JobChange change = editor.plan([i](Job &job) { job.notes = std::to_string(i); }, {});
        QVERIFY(editor.write(change, "note", when).empty());
    }
    const std::string id = writer.seal();
    QCOMPARE(editor.job().notes, std::string("29"));
    QCOMPARE(SampleReader(file()).samples(id, 0), std::size_t{30 * 65536});
}

void SampleStoreTest::tidyingTakesWhatNobodyNames() {
    const std::string kept = withLog(file());
    const JobStore store = JobStore::open(file());
    Job job = store.read();
    job.logs.emplace_back().id = kept;
    std::string gone;
    {
        SampleWriter writer(store, 1, {});
        for (unsigned i = 0; i < 400; ++i)
            writer.put(0, walk(65536, 100 + i % 97));
        gone = writer.seal();
    }
    const auto before = fs::file_size(file());
    QVERIFY(before > (16u << 20));
    QVERIFY(tidySamples(store, job) >= 97);
    QVERIFY(fs::file_size(file()) < before / 4); // most of it was free
    const SampleReader reader(file());
    QVERIFY(reader.has(kept) && !reader.has(gone));
    QCOMPARE(reader.read(kept, 1).size(), std::size_t{1000});
    QCOMPARE(tidySamples(store, job), std::size_t{0});
    QVERIFY(store.read() == demoJob());
}

void SampleStoreTest::damagedSamplesKeepNobodyFromTheJob() {
    const std::string id = withLog(file(), 100'000);
    {
        SQLite::Database db(file().string(), SQLite::OPEN_READWRITE);
        db.exec("UPDATE sample_chunk SET packed = zeroblob(length(packed)) WHERE id = 1");
        db.exec("DELETE FROM sample_chunk WHERE id = 2");
    }
    QVERIFY(JobStore::open(file()).read() == demoJob());
    const SampleReader reader(file());
    EXPECT_INPUT_ERROR(reader.read(id, 0), "damage");
    EXPECT_INPUT_ERROR(reader.read(id, 1), "chunk that is not there");
    QVERIFY(JobStore::salvage(file()).job == demoJob());
}

void SampleStoreTest::everyFailedOperationLeavesTheJob() {
    int failures = 0;
    constexpr int each = 20, step = 97; // of a thousand pages that are written not every one
    for (int operation = 1;; operation += operation < each ? 1 : step) {
        const fs::path path = file(("f" + std::to_string(operation)).c_str());
        const JobStore store = JobStore::create(path, demoJob(), when);
        bool threw = false;
        std::string id;
        {
            FailingVfs::failFrom(0);
            SampleWriter writer(store, 1, {}, FailingVfs::name());
            FailingVfs::failFrom(operation, operation % 2 == 0);
            try {
                for (unsigned i = 0; i < 20; ++i)
                    writer.put(0, walk(65536, i));
                id = writer.seal();
            } catch (const InputError &e) {
                threw = true;
                QVERIFY(std::string(e.what()).find(".wwjob") != std::string::npos);
            }
        }
        const bool reached = FailingVfs::operations() >= operation;
        FailingVfs::failFrom(0);
        QVERIFY(store.readAgain().job == demoJob());
        const SampleReader reader(path);
        QCOMPARE(countIn(path, "SELECT count(DISTINCT log) FROM log_part"), threw ? 0 : 1);
        if (!threw) QCOMPARE(reader.samples(id, 0), std::size_t{20 * 65536});
        tidySamples(store, demoJob());
        QCOMPARE(countIn(path, "SELECT count(*) FROM sample_chunk"), 0);
        if (!reached) break;
        failures += threw;
    }
    QVERIFY2(failures >= 10, qPrintable(QString::number(failures)));
}

void SampleStoreTest::aMigrationCopiesNoSamples() {
    const std::string id = withLog(file(), 200'000);
    const auto whole = fs::file_size(file());
    JobStore::Options next;
    next.version = schemaVersion + 1;
    std::vector<Migration> steps(allMigrations().begin(), allMigrations().end());
    steps.push_back({schemaVersion, "UPDATE job_info SET value = 18 WHERE key = 'min_reader_version'"});
    next.migrations = steps;
    {
        JobStore::Options reading = next;
        reading.readOnly = true; // in memory, without samples too
        QVERIFY(JobStore::open(file(), reading).read() == demoJob());
    }
    QVERIFY(JobStore::open(file(), next).read() == demoJob());
    QVERIFY(SampleReader(file()).has(id));
    const fs::path copy = file().string() + ".v" + std::to_string(schemaVersion);
    QVERIFY(fs::file_size(copy) < whole / 2 + 500'000 &&
            countIn(copy, "SELECT count(*) FROM sample_chunk") == 0);
    fs::rename(copy, file("old"));
    QVERIFY(JobStore::open(file("old")).read() == demoJob());
    QVERIFY(!SampleReader(file("old")).has(id));
}

// A log as a user brings it in, by all layers but the window.
void SampleStoreTest::aLogIsAJobsOwn() {
    { JobStore::create(file(), demoJob(), when); }
    JobEditor editor(JobStore::open(file()));
    const LogText bytes("time,rpm,afr\n0,1000,14.7\n1,2000,11.76\n2,3000,\n");
    const auto source = openLog(bytes);
    const TakenLog taken =
        takeLog(editor.store(), bytes, *source, suggestMap(source->layout()), {100, 14.7}, {});
    const auto add = [&](Job &job) { addLog(job, taken.summary, {"pull.csv", when, "", {}, ""}); };
    editor.write(editor.plan(add, {}), "import", when);
    const Job with = editor.job();
    JobStore::Options reading;
    reading.readOnly = true;
    QVERIFY(JobStore::open(file(), reading).read() == with);
    QCOMPARE(with.logs.size(), std::size_t{1});
    const LogInfo &info = with.logs[0];
    QVERIFY(info.rows == 3 && info.beginS == 0 && info.endS == 2 && info.contentBasis == ContentBasis::none);
    const auto channels = channelsOf(with, info.id);
    QVERIFY(channels.size() == 3 && channels[2]->role == ChannelRole::lambda && channels[2]->missing == 1);
    COMPARE_NEAR(channels[2]->internal(channels[2]->least), 0.8, 1e-6);
    EXPECT_INPUT_ERROR(editor.plan(add, {}), "the same samples");
    Job without = with;
    removeLog(without, info.id);
    QVERIFY(without.logs.empty() && without.logChannels.empty());
    EXPECT_INPUT_ERROR(removeLog(without, "x"), "the id of a log");
}

CORE_TEST_MAIN(SampleStoreTest)
#include "sample_store_test.moc"
