// SPDX-License-Identifier: GPL-3.0-or-later
#include "store/sample_store.h"

#include "core/base/error.h"
#include "store/file_bytes.h"
#include "store/job_store.h"
#include "store/sql_errors.h"

#include <SQLiteCpp/SQLiteCpp.h>
#include <sqlite3.h>
#include <xxhash.h>

#include <algorithm>
#include <memory>
#include <optional>

namespace wheelwright {
namespace {

namespace fs = std::filesystem;

// Others wait for a transaction of samples no longer than a frame or two: some milliseconds of writing.
constexpr std::size_t bytesPerTransaction = std::size_t{4} << 20;
constexpr int patienceMs = 10000;

SQLite::Database openBeside(const fs::path &jobFile, bool write, const std::string &vfs) {
    const int mode = write ? SQLITE_OPEN_READWRITE : SQLITE_OPEN_READONLY;
    return {behindLinks(jobFile).string(), mode | SQLITE_OPEN_NOMUTEX, patienceMs, vfs};
}

// Nothing that was private is overwritten with zeros here: samples are large, and pages that go are used
// again by the next log.
void useForSamples(SQLite::Database &db) {
    db.exec("PRAGMA journal_mode = DELETE");
    db.exec("PRAGMA synchronous = FULL");
    db.exec("PRAGMA secure_delete = OFF");
}

bool hasSampleTables(SQLite::Database &db) {
    return db.tableExists("log_part") && db.tableExists("sample_chunk");
}

std::string_view bytesOf(const SQLite::Column &c) {
    return {static_cast<const char *>(c.getBlob()), static_cast<std::size_t>(c.getBytes())};
}

Digest digestIn(const SQLite::Column &c) {
    const auto digest = digestFrom(Blob{std::string(bytesOf(c))});
    if (!digest)
        throw InputError("samples", MARKED("expected.a_digest", "a digest"),
                         MARKED("found.something_else", "something else"));
    return *digest;
}

// The same samples in the same series, whatever the file was called.
std::string nameOf(const std::vector<std::vector<SamplePart>> &series) {
    std::string all;
    for (const std::vector<SamplePart> &parts : series) {
        feedDigest(all, static_cast<std::int64_t>(parts.size()));
        for (const SamplePart &p : parts)
            feedDigest(all, p.chunk.bytes());
    }
    std::uint64_t hash = XXH3_64bits(all.data(), all.size());
    constexpr std::size_t digits = 12;
    std::string name(digits, '0');
    for (std::size_t i = 0; i < digits; ++i, hash <<= 4)
        name[i] = "0123456789abcdef"[hash >> 60];
    return name;
}

} // namespace

struct SampleWriter::Writing {
    fs::path path;
    SQLite::Database db;
    std::vector<SampleWidth> widths;
    std::vector<std::vector<double>> buffers;
    std::vector<std::vector<SamplePart>> parts;
    std::vector<PackedChunk> waiting;
    std::size_t waitingBytes = 0;
    std::uintmax_t packedBytes = 0;
    std::vector<std::int64_t> made; ///< rows of chunks that were not there before
    bool sealed = false;

    void chunk(std::size_t series, std::span<const double> samples) {
        PackedChunk c = pack(samples, widths[series]);
        parts[series].push_back({c.hash, c.samples});
        waitingBytes += c.packed.size() + c.levels.size();
        waiting.push_back(std::move(c));
        if (waitingBytes >= bytesPerTransaction) flush();
    }

    void flush() {
        if (waiting.empty()) return;
        guarded(path, MARKED("expected.a_file_that_can_be_written", "a file that can be written"), [&] {
            SQLite::Transaction transaction(db, SQLite::TransactionBehavior::IMMEDIATE);
            SQLite::Statement insert(
                db, "INSERT OR IGNORE INTO sample_chunk (hash, levels, packed) VALUES (?, ?, ?)");
            std::vector<std::int64_t> rows;
            for (const PackedChunk &c : waiting) {
                const Blob hash = c.hash.bytes();
                insert.bindNoCopy(1, hash.bytes.data(), static_cast<int>(hash.bytes.size()));
                insert.bindNoCopy(2, c.levels.data(), static_cast<int>(c.levels.size()));
                insert.bindNoCopy(3, c.packed.data(), static_cast<int>(c.packed.size()));
                if (insert.exec() > 0) rows.push_back(db.getLastInsertRowid());
                insert.reset();
            }
            transaction.commit();
            made.insert(made.end(), rows.begin(), rows.end());
        });
        packedBytes += waitingBytes;
        waiting.clear();
        waitingBytes = 0;
    }

    void takeBack() {
        SQLite::Transaction transaction(db, SQLite::TransactionBehavior::IMMEDIATE);
        SQLite::Statement remove(db, "DELETE FROM sample_chunk WHERE id = ?");
        for (const std::int64_t row : made) {
            remove.bind(1, row);
            remove.exec();
            remove.reset();
        }
        transaction.commit();
    }
};

SampleWriter::SampleWriter(const JobStore &store, std::size_t series, const std::set<std::size_t> &wide,
                           const std::string &vfs) {
    store.requireWritable();
    m_open = guarded(
        store.path(), MARKED("expected.a_file_that_can_be_written", "a file that can be written"), [&] {
            return std::make_unique<Writing>(
                Writing{store.path(), openBeside(store.path(), true, vfs), {}, {}, {}, {}, 0, 0, {}, false});
        });
    useForSamples(m_open->db);
    for (std::size_t i = 0; i < series; ++i)
        m_open->widths.push_back(wide.contains(i) ? SampleWidth::twice : SampleWidth::single);
    m_open->buffers.resize(series);
    m_open->parts.resize(series);
}

SampleWriter::~SampleWriter() {
    if (m_open->sealed || m_open->made.empty()) return;
    try {
        m_open->takeBack();
    } catch (const SQLite::Exception &) {
        // Nobody names them: tidying takes them.
    }
}

void SampleWriter::put(std::size_t series, std::span<const double> samples) {
    std::vector<double> &buffer = m_open->buffers[series];
    while (!samples.empty()) {
        if (buffer.empty() && samples.size() >= samplesPerChunk) { // no need to copy
            m_open->chunk(series, samples.first(samplesPerChunk));
            samples = samples.subspan(samplesPerChunk);
            continue;
        }
        const auto some = samples.first(std::min(samples.size(), samplesPerChunk - buffer.size()));
        buffer.insert(buffer.end(), some.begin(), some.end());
        samples = samples.subspan(some.size());
        if (buffer.size() < samplesPerChunk) continue;
        m_open->chunk(series, buffer);
        buffer.clear();
    }
}

std::string SampleWriter::seal() {
    for (std::size_t i = 0; i < m_open->buffers.size(); ++i)
        if (!m_open->buffers[i].empty()) {
            m_open->chunk(i, m_open->buffers[i]);
            m_open->buffers[i].clear();
        }
    m_open->flush();
    std::string name = nameOf(m_open->parts);
    guarded(m_open->path, MARKED("expected.a_file_that_can_be_written", "a file that can be written"), [&] {
        SQLite::Transaction transaction(m_open->db, SQLite::TransactionBehavior::IMMEDIATE);
        SQLite::Statement insert(
            m_open->db,
            "INSERT OR REPLACE INTO log_part (log, series, seq, samples, chunk) VALUES (?, ?, ?, ?, ?)");
        for (std::size_t series = 0; series < m_open->parts.size(); ++series)
            for (std::size_t seq = 0; seq < m_open->parts[series].size(); ++seq) {
                const SamplePart &p = m_open->parts[series][seq];
                const Blob hash = p.chunk.bytes();
                insert.bind(1, name);
                insert.bind(2, static_cast<std::int64_t>(series));
                insert.bind(3, static_cast<std::int64_t>(seq));
                insert.bind(4, static_cast<std::int64_t>(p.samples));
                insert.bindNoCopy(5, hash.bytes.data(), static_cast<int>(hash.bytes.size()));
                insert.exec();
                insert.reset();
            }
        transaction.commit();
    });
    m_open->sealed = true;
    return name;
}

std::uintmax_t SampleWriter::packedBytes() const {
    return m_open->packedBytes + m_open->waitingBytes;
}

struct SampleReader::Reading {
    fs::path path;
    SQLite::Database db;
    bool tables = false; ///< a file of an older version has none
    // Hundreds of series are read by it, one after the other.
    std::optional<SQLite::Statement> series;
};

SampleReader::SampleReader(const fs::path &jobFile)
    : m_open(guarded(jobFile, MARKED("expected.a_job_file", "a job file"), [&] {
          auto reading = std::make_unique<Reading>(
              Reading{jobFile, openBeside(jobFile, false, {}), false, std::nullopt});
          reading->tables = hasSampleTables(reading->db);
          return reading;
      })) {}
SampleReader::SampleReader(SampleReader &&) noexcept = default;
SampleReader::~SampleReader() = default;

bool SampleReader::has(const std::string &log) const {
    if (!m_open->tables) return false;
    return guarded(m_open->path, MARKED("expected.a_job_file", "a job file"), [&] {
        SQLite::Statement s(m_open->db, "SELECT 1 FROM log_part WHERE log = ? LIMIT 1");
        s.bind(1, log);
        return s.executeStep();
    });
}

std::size_t SampleReader::samples(const std::string &log, std::size_t series) const {
    if (!m_open->tables) return 0;
    return guarded(m_open->path, MARKED("expected.a_job_file", "a job file"), [&] {
        SQLite::Statement s(m_open->db,
                            "SELECT coalesce(sum(samples), 0) FROM log_part WHERE log = ? AND series = ?");
        s.bind(1, log);
        s.bind(2, static_cast<std::int64_t>(series));
        s.executeStep();
        return static_cast<std::size_t>(s.getColumn(0).getInt64());
    });
}

namespace {

// A chunk that a log names and the file has not got is damage: none is taken out while it is named.
[[noreturn]] void refuseHole(const fs::path &path) {
    throw InputError(path.filename().string(), MARKED("expected.samples_of_log", "the samples of this log"),
                     MARKED("found.chunk_missing", "a chunk that is not there"));
}

} // namespace

std::vector<double> SampleReader::read(const std::string &log, std::size_t series, std::size_t from,
                                       std::size_t count) const {
    std::vector<double> out;
    if (!m_open->tables || count == 0) return out;
    guarded(m_open->path, MARKED("expected.a_job_file", "a job file"), [&] {
        if (!m_open->series)
            m_open->series.emplace(m_open->db,
                                   "SELECT p.samples, p.chunk, c.packed FROM log_part p LEFT JOIN "
                                   "sample_chunk c ON c.hash = p.chunk WHERE p.log = ? AND "
                                   "p.series = ? AND p.seq >= ? ORDER BY p.seq");
        SQLite::Statement &s = *m_open->series;
        // Also where damage ends it: a statement that is under way keeps writers out.
        const std::unique_ptr<SQLite::Statement, void (*)(SQLite::Statement *)> ends(
            &s, [](SQLite::Statement *read) { read->tryReset(); });
        s.bind(1, log);
        s.bind(2, static_cast<std::int64_t>(series));
        s.bind(3, static_cast<std::int64_t>(from / samplesPerChunk));
        std::size_t skip = from % samplesPerChunk;
        while (out.size() < count && s.executeStep()) {
            if (s.getColumn(2).isNull()) refuseHole(m_open->path);
            const std::vector<double> chunk = unpack(bytesOf(s.getColumn(2)), digestIn(s.getColumn(1)));
            if (chunk.size() != static_cast<std::size_t>(s.getColumn(0).getInt64())) refuseHole(m_open->path);
            const std::size_t begin = std::min(skip, chunk.size());
            const std::size_t end = std::min(chunk.size(), begin + (count - out.size()));
            out.insert(out.end(), chunk.begin() + static_cast<std::ptrdiff_t>(begin),
                       chunk.begin() + static_cast<std::ptrdiff_t>(end));
            skip = 0;
        }
    });
    return out;
}

std::vector<LevelPair> SampleReader::levels(const std::string &log, std::size_t series) const {
    std::vector<LevelPair> out;
    if (!m_open->tables) return out;
    guarded(m_open->path, MARKED("expected.a_job_file", "a job file"), [&] {
        SQLite::Statement s(m_open->db,
                            "SELECT c.levels FROM log_part p LEFT JOIN sample_chunk c ON c.hash = "
                            "p.chunk WHERE p.log = ? AND p.series = ? ORDER BY p.seq");
        s.bind(1, log);
        s.bind(2, static_cast<std::int64_t>(series));
        while (s.executeStep()) {
            if (s.getColumn(0).isNull()) refuseHole(m_open->path);
            const std::vector<LevelPair> pairs = unpackLevels(bytesOf(s.getColumn(0)));
            out.insert(out.end(), pairs.begin(), pairs.end());
        }
    });
    return out;
}

namespace {

// Worth the copying: more than half of the file is free, and more than a photo's worth.
void shrinkWhereWorth(SQLite::Database &db) {
    const auto number = [&db](const char *pragma) { return db.execAndGet(pragma).getInt64(); };
    const std::int64_t free = number("PRAGMA freelist_count"), all = number("PRAGMA page_count");
    constexpr std::int64_t least = std::int64_t{16} << 20;
    if (2 * free > all && free * number("PRAGMA page_size") > least) db.exec("VACUUM");
}

} // namespace

std::size_t tidySamples(const JobStore &store, const Job &job) {
    if (store.readOnly()) return 0;
    store.requireWritable();
    return guarded(store.path(), MARKED("expected.a_file_that_can_be_written", "a file that can be written"),
                   [&]() -> std::size_t {
                       SQLite::Database db = openBeside(store.path(), true, {});
                       if (!hasSampleTables(db)) return 0;
                       useForSamples(db);
                       SQLite::Transaction transaction(db, SQLite::TransactionBehavior::IMMEDIATE);
                       std::vector<std::string> gone;
                       for (SQLite::Statement s(db, "SELECT DISTINCT log FROM log_part"); s.executeStep();) {
                           const std::string log = s.getColumn(0).getString();
                           if (!logById(job, log)) gone.push_back(log);
                       }
                       for (const std::string &log : gone) {
                           SQLite::Statement s(db, "DELETE FROM log_part WHERE log = ?");
                           s.bind(1, log);
                           s.exec();
                       }
                       // By the index of hashes: the chunks themselves are not read to find them.
                       const int chunks = db.exec(
                           "DELETE FROM sample_chunk WHERE hash IN (SELECT hash FROM sample_chunk EXCEPT "
                           "SELECT chunk FROM log_part)");
                       transaction.commit();
                       if (chunks > 0) shrinkWhereWorth(db);
                       return static_cast<std::size_t>(chunks);
                   });
}

} // namespace wheelwright
