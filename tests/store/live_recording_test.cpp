// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/error.h"
#include "core/job/logs.h"
#include "core/live/live_sampler.h"
#include "core/live/practice_frames.h"
#include "formats/job_json.h"
#include "store/job_editor.h"
#include "store/live_recording.h"
#include "store/log_intake_store.h"
#include "store/sample_store.h"
#include "support/random_job.h"
#include "support/test_main.h"

#include <QTemporaryDir>

#include <SQLiteCpp/SQLiteCpp.h>

#include <cmath>
#include <filesystem>
#include <limits>
#include <random>

using namespace wheelwright;
using namespace wheelwright::testing;
namespace fs = std::filesystem;

namespace {

constexpr const char *when = "2001-02-03T04:05:06Z";
constexpr double none = std::numeric_limits<double>::quiet_NaN();

RecordingHead threeColumns() {
    RecordingHead head{when, {}, {}, "first run\nof the day"};
    for (const auto &[name, unit, kind] :
         {std::tuple{"Time", "s", ChannelKind::clock}, std::tuple{"rpm", "rpm", ChannelKind::number},
          std::tuple{"Event", "", ChannelKind::words}}) {
        LogColumn c;
        c.name = name;
        c.unit = unit;
        c.kind = kind;
        c.knownClock = true;
        head.columns.push_back(c);
    }
    return head;
}

// Rows from one number of the row to another, with an event in the first.
LiveRows rows(int from, int to, double event = none) {
    LiveRows out{3, {}};
    for (int i = from; i < to; ++i) {
        out.numbers.insert(out.numbers.end(),
                           {0.02 * i, i % 7 == 3 ? none : 1000.5 + i, i == from ? event : none});
    }
    return out;
}

ChannelMap mapOf(const RecordingHead &head) {
    LogLayout layout;
    layout.columns = head.columns;
    return suggestMap(layout);
}

bool lies(const fs::path &path) {
    return SQLite::Database(path.string(), SQLite::OPEN_READONLY).tableExists("recording");
}

} // namespace

class LiveRecordingTest : public QObject {
    Q_OBJECT
  private slots:
    void init() {
        m_folder = std::make_unique<QTemporaryDir>();
        m_path = m_folder->filePath(QStringLiteral("a.wwjob")).toStdString();
        m_store = std::make_unique<JobStore>(JobStore::create(m_path, newJob("a"), when));
    }
    void cleanup() { m_store.reset(); }
    void becomesALog();
    void hoursOfItBecomeALog();
    void isThereWithoutHavingEnded();
    void aJobWithARecordingOpensAndIsOlderCopied();
    void damageEndsItThere();
    void twoOfOneSecondAreTwo();
    void withoutRowsItIsRefused();
    void aHeadThatIsDamagedIsNone();

  private:
    std::unique_ptr<QTemporaryDir> m_folder;
    fs::path m_path;
    std::unique_ptr<JobStore> m_store;
};

void LiveRecordingTest::becomesALog() {
    const RecordingHead head = threeColumns();
    std::string name;
    {
        LiveRecording r(*m_store, head);
        name = r.name();
        const std::vector<std::string> one{"mark 1"}, two{"mark 1", "abort\nat once"};
        r.keep(rows(0, 20, 0), one);
        r.keep(rows(20, 20), two); // no row yet: its event is not lost by that
        r.keep(rows(20, 35, 1), two);
    }
    QVERIFY(lies(m_path));
    const TakenLog taken = takeRecording(*m_store, name, mapOf(head), {});
    QCOMPARE(taken.summary.info.rows, 35.0);
    COMPARE_NEAR(taken.summary.info.endS, 0.68, 1e-12);
    QCOMPARE(taken.summary.channels.size(), std::size_t{3});
    QCOMPARE(taken.summary.channels[1].role, ChannelRole::rpm);
    QCOMPARE(taken.summary.channels[2].texts, std::string("mark 1\nabort at once"));
    QVERIFY(taken.summary.warnings.empty());
    const SampleReader reader(m_path);
    const std::vector<double> rpm = reader.read(taken.summary.info.id, 1);
    const std::vector<double> events = reader.read(taken.summary.info.id, 2);
    QCOMPARE(rpm.size(), std::size_t{35});
    for (int i = 0; i < 35; ++i) {
        if (i % 7 == 3)
            QVERIFY(std::isnan(rpm[static_cast<std::size_t>(i)]));
        else
            QCOMPARE(rpm[static_cast<std::size_t>(i)], 1000.5 + i);
    }
    QCOMPARE(events[0], 0.0);
    QCOMPARE(events[20], 1.0);
    QVERIFY(std::isnan(events[1]));
    forgetRecording(*m_store, "another");
    QVERIFY(lies(m_path));
    forgetRecording(*m_store, name);
    QVERIFY(!lies(m_path)); // the file is as if it had never been there
    forgetRecording(*m_store, name);
    EXPECT_INPUT_ERROR(takeRecording(*m_store, name, mapOf(head), {}), "expected a recording", name);
}

// More than the cache of the file holds: what is written then needs the file for itself, while the recording
// is still being read out of it. Noise, so that it does not get small.
void LiveRecordingTest::hoursOfItBecomeALog() {
    constexpr int piece = 8000, pieces = 300; // 8 MB as they are packed
    std::mt19937 chance(7);
    const auto noise = [&] { return std::uniform_real_distribution<>(700, 7000)(chance); };
    const RecordingHead head = threeColumns();
    std::string name;
    double sum = 0;
    {
        LiveRecording r(*m_store, head);
        name = r.name();
        for (int p = 0; p < pieces; ++p) {
            LiveRows rows{3, {}};
            for (int i = 0; i < piece; ++i) {
                const double rpm = noise();
                sum += rpm;
                rows.numbers.insert(rows.numbers.end(), {0.02 * (p * piece + i), rpm, none});
            }
            r.keep(rows, {});
        }
    }
    const TakenLog taken = takeRecording(*m_store, name, mapOf(head), {});
    QCOMPARE(taken.summary.info.rows, double(piece) * pieces);
    QVERIFY(taken.summary.warnings.empty());
    COMPARE_NEAR(taken.summary.channels[1].mean, sum / piece / pieces, 1e-6);
}

void LiveRecordingTest::isThereWithoutHavingEnded() {
    LiveRecording r(*m_store, threeColumns());
    r.keep(rows(0, 20), {});
    // Another program looks, while it goes on.
    const std::vector<FoundRecording> found = recordingsIn(m_path);
    QCOMPARE(found.size(), std::size_t{1});
    QCOMPARE(found[0].name, r.name());
    QCOMPARE(found[0].pieces, std::size_t{1});
    QCOMPARE(found[0].head.begun, std::string(when));
    QCOMPARE(found[0].head.note, std::string("first run of the day"));
    QCOMPARE(found[0].head.columns.size(), std::size_t{3});
    QCOMPARE(found[0].head.columns[1].unit, std::string("rpm"));
    QCOMPARE(found[0].head.columns[2].kind, ChannelKind::words);
    QCOMPARE(takeRecording(*m_store, r.name(), mapOf(found[0].head), {}).summary.info.rows, 20.0);
}

// The job itself is read and checked as ever; what is being recorded is no part of it.
void LiveRecordingTest::aJobWithARecordingOpensAndIsOlderCopied() {
    const Job before = m_store->read();
    {
        LiveRecording r(*m_store, threeColumns());
        for (int i = 0; i < 50; ++i)
            r.keep(rows(i * 20, i * 20 + 20), {});
        m_store.reset();
    }
    m_store = std::make_unique<JobStore>(JobStore::open(m_path));
    QVERIFY(!m_store->readOnly());
    QVERIFY(m_store->read() == before);
    QCOMPARE(tidySamples(*m_store, before), std::size_t{0});
    QCOMPARE(recordingsIn(m_path).size(), std::size_t{1});
}

void LiveRecordingTest::damageEndsItThere() {
    const RecordingHead head = threeColumns();
    std::string name;
    for (const char *damage :
         {"UPDATE recording SET packed = zeroblob(40) WHERE seq = 2",
          "UPDATE recording SET hash = zeroblob(16) WHERE seq = 2",
          "UPDATE recording SET hash = zeroblob(3) WHERE seq = 2", "DELETE FROM recording WHERE seq = 2"}) {
        {
            LiveRecording r(*m_store, head);
            name = r.name();
            for (int i = 0; i < 3; ++i)
                r.keep(rows(i * 20, i * 20 + 20), {});
        }
        SQLite::Database(m_path.string(), SQLite::OPEN_READWRITE).exec(damage);
        const TakenLog taken = takeRecording(*m_store, name, mapOf(head), {});
        QCOMPARE(taken.summary.info.rows, 20.0);
        QCOMPARE(taken.summary.warnings.size(), std::size_t{1});
        QVERIFY(format(taken.summary.warnings[0]).find("damaged after 20 rows") != std::string::npos);
        forgetRecording(*m_store, name);
    }
}

void LiveRecordingTest::twoOfOneSecondAreTwo() {
    LiveRecording a(*m_store, threeColumns()), b(*m_store, threeColumns());
    QVERIFY(a.name() != b.name());
    a.keep(rows(0, 10), {});
    b.keep(rows(0, 30), {});
    QCOMPARE(recordingsIn(m_path).size(), std::size_t{2});
    QCOMPARE(takeRecording(*m_store, a.name(), mapOf(threeColumns()), {}).summary.info.rows, 10.0);
    QCOMPARE(takeRecording(*m_store, b.name(), mapOf(threeColumns()), {}).summary.info.rows, 30.0);
    forgetRecording(*m_store, a.name());
    QCOMPARE(recordingsIn(m_path).size(), std::size_t{1});
}

void LiveRecordingTest::withoutRowsItIsRefused() {
    const LiveRecording r(*m_store, threeColumns());
    QCOMPARE(recordingsIn(m_path).front().pieces, std::size_t{0});
    EXPECT_INPUT_ERROR(takeRecording(*m_store, r.name(), mapOf(threeColumns()), {}), "expected rows");
}

void LiveRecordingTest::aHeadThatIsDamagedIsNone() {
    const LiveRecording r(*m_store, threeColumns());
    for (const char *head : {"", "x", "a\nb\nc\n", "a\nb\nc\nclock\ts\n", "a\nb\nc\nodd\ts\tTime\n",
                             "a\nb\nc\nwords\ts\tTime\n"}) {
        SQLite::Database db(m_path.string(), SQLite::OPEN_READWRITE);
        SQLite::Statement s(db, "UPDATE recording SET events = ? WHERE seq = 0");
        s.bind(1, head);
        s.exec();
        QVERIFY2(recordingsIn(m_path).empty(), head);
    }
}

CORE_TEST_MAIN(LiveRecordingTest)
#include "live_recording_test.moc"
