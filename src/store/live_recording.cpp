// SPDX-License-Identifier: GPL-3.0-or-later
#include "store/live_recording.h"

#include "core/base/error.h"
#include "store/file_bytes.h"
#include "store/job_store.h"
#include "store/log_intake_store.h"
#include "store/sample_chunk.h"
#include "store/sample_store.h"
#include "store/sql_errors.h"

#include <SQLiteCpp/SQLiteCpp.h>
#include <sqlite3.h>

#include <algorithm>
#include <array>
#include <optional>

namespace wheelwright {
namespace {

namespace fs = std::filesystem;

constexpr int patienceMs = 10000;
constexpr const char *makeTable =
    "CREATE TABLE IF NOT EXISTS recording (name TEXT NOT NULL, seq INTEGER NOT NULL, events TEXT NOT NULL, "
    "hash BLOB NOT NULL, packed BLOB NOT NULL, PRIMARY KEY (name, seq)) WITHOUT ROWID";
constexpr PhraseText writable = MARKED("expected.a_file_that_can_be_written", "a file that can be written");
constexpr PhraseText aJobFile = MARKED("expected.a_job_file", "a job file");

SQLite::Database beside(const fs::path &jobFile, bool write) {
    SQLite::Database db(behindLinks(jobFile).string(),
                        (write ? SQLITE_OPEN_READWRITE : SQLITE_OPEN_READONLY) | SQLITE_OPEN_NOMUTEX,
                        patienceMs);
    if (write) {
        db.exec("PRAGMA journal_mode = DELETE");
        db.exec("PRAGMA synchronous = FULL");
        db.exec("PRAGMA secure_delete = OFF");
    }
    return db;
}

// One line each: what would end it becomes a blank.
std::string plain(std::string_view text) {
    std::string out(text);
    std::ranges::replace_if(
        out, [](char c) { return static_cast<unsigned char>(c) < ' '; }, ' ');
    return out;
}

constexpr std::array<std::string_view, 3> kinds{"number", "clock", "words"};

std::string textOf(const RecordingHead &head) {
    std::string out = plain(head.begun) + '\n' + plain(head.revision) + '\n' + plain(head.note) + '\n';
    for (const LogColumn &c : head.columns)
        out += std::string(kinds[static_cast<std::size_t>(c.kind)]) + '\t' + plain(c.unit) + '\t' +
               plain(c.name) + '\n';
    return out;
}

std::vector<std::string> linesIn(const std::string &text) {
    std::vector<std::string> out;
    for (std::size_t at = 0; at < text.size();) {
        const std::size_t end = std::min(text.find('\n', at), text.size());
        out.push_back(text.substr(at, end - at));
        at = end + 1;
    }
    return out;
}

std::optional<RecordingHead> headFrom(const std::string &text) {
    const std::vector<std::string> lines = linesIn(text);
    constexpr std::size_t before = 3;
    if (lines.size() < before + 1) return std::nullopt;
    RecordingHead head{lines[0], {}, lines[1], lines[2]};
    for (std::size_t i = before; i < lines.size(); ++i) {
        const std::size_t a = lines[i].find('\t'), b = lines[i].find('\t', a + 1);
        if (a == std::string::npos || b == std::string::npos) return std::nullopt;
        const auto kind = std::ranges::find(kinds, std::string_view(lines[i]).substr(0, a));
        if (kind == kinds.end()) return std::nullopt;
        LogColumn column;
        column.name = lines[i].substr(b + 1);
        column.unit = lines[i].substr(a + 1, b - a - 1);
        column.knownClock = true;
        column.kind = static_cast<ChannelKind>(kind - kinds.begin());
        head.columns.push_back(std::move(column));
    }
    if (head.columns.front().kind != ChannelKind::clock) return std::nullopt;
    return head;
}

std::string bytesIn(const SQLite::Column &c) {
    return {static_cast<const char *>(c.getBlob()), static_cast<std::size_t>(c.getBytes())};
}

std::optional<RecordingHead> headIn(SQLite::Database &db, const std::string &name) {
    SQLite::Statement s(db, "SELECT events FROM recording WHERE name = ? AND seq = 0");
    s.bind(1, name);
    return s.executeStep() ? headFrom(s.getColumn(0).getString()) : std::nullopt;
}

/// A recording as a log that can be read through.
class RecordedSource : public LogSource {
  public:
    RecordedSource(const fs::path &jobFile, std::string name) : m_path(jobFile), m_name(std::move(name)) {
        guarded(m_path, aJobFile, [&] {
            SQLite::Database db = beside(m_path, false);
            const auto head = db.tableExists("recording") ? headIn(db, m_name) : std::nullopt;
            if (!head)
                throw InputError(m_path.filename().string(),
                                 MARKED("expected.a_recording", "a recording that was begun in it"),
                                 "'" + m_name + "'");
            m_layout.format = "bus";
            m_layout.columns = head->columns;
        });
    }
    const LogLayout &layout() const override { return m_layout; }

    LogRead read(SampleSink &sink, const LogReading &) const override {
        const std::size_t width = m_layout.columns.size();
        LogRead out;
        out.texts.resize(width);
        for (const LogColumn &c : m_layout.columns)
            out.kinds.push_back(c.kind);
        std::vector<std::string> events;
        guarded(m_path, aJobFile, [&] {
            SQLite::Database db = beside(m_path, false);
            SQLite::Statement s(db,
                                "SELECT seq, events, hash, packed FROM recording WHERE name = ? AND seq >= ? "
                                "ORDER BY seq LIMIT 1");
            for (std::int64_t wanted = 1; const auto piece = pieceFrom(s, wanted); ++wanted)
                if (piece->seq != wanted || !give(*piece, sink, width, out, events)) {
                    out.warnings.push_back({MARKED("recording.damaged",
                                                   "The recording is damaged after {0} rows: it ends there"),
                                            {Measured{static_cast<double>(out.rows), Dimension::count}}});
                    break;
                }
        });
        for (std::size_t i = 0; i < width; ++i)
            if (m_layout.columns[i].kind == ChannelKind::words) out.texts[i] = events;
        return out;
    }

  private:
    struct Piece {
        std::int64_t seq;
        std::string events, hash, packed;
    };

    // Whole, and the statement has ended: what takes the samples writes into the same file, and no more than
    // its cache holds would get in beside a read that is under way.
    std::optional<Piece> pieceFrom(SQLite::Statement &s, std::int64_t wanted) const {
        s.bind(1, m_name);
        s.bind(2, wanted);
        std::optional<Piece> out;
        if (s.executeStep())
            out = Piece{s.getColumn(0).getInt64(), s.getColumn(1).getString(), bytesIn(s.getColumn(2)),
                        bytesIn(s.getColumn(3))};
        s.reset();
        return out;
    }

    static bool give(const Piece &piece, SampleSink &sink, std::size_t width, LogRead &out,
                     std::vector<std::string> &events) {
        const auto hash = digestFrom(Blob{piece.hash});
        std::vector<double> numbers;
        try {
            if (!hash) return false;
            numbers = unpack(piece.packed, *hash);
        } catch (const InputError &) {
            return false;
        }
        if (numbers.empty() || numbers.size() % width != 0) return false;
        const std::vector<std::string> more = linesIn(piece.events);
        events.insert(events.end(), more.begin(), more.end());
        const std::size_t rows = numbers.size() / width;
        std::vector<double> column(rows);
        for (std::size_t i = 0; i < width; ++i) {
            for (std::size_t r = 0; r < rows; ++r)
                column[r] = numbers[r * width + i];
            sink.put(i, column);
        }
        out.rows += rows;
        return true;
    }

    fs::path m_path;
    std::string m_name;
    LogLayout m_layout;
};

} // namespace

struct LiveRecording::Open {
    fs::path path;
    SQLite::Database db;
    std::string name;
    std::int64_t seq = 0;
    std::size_t events = 0;

    void insert(const std::string &said, const std::string &hash, const std::string &packed) {
        SQLite::Statement s(db,
                            "INSERT INTO recording (name, seq, events, hash, packed) VALUES (?, ?, ?, ?, ?)");
        s.bind(1, name);
        s.bind(2, seq++);
        s.bind(3, said);
        s.bind(4, hash.data(), static_cast<int>(hash.size()));
        s.bind(5, packed.data(), static_cast<int>(packed.size()));
        s.exec();
    }
};

LiveRecording::LiveRecording(const JobStore &store, const RecordingHead &head) {
    store.requireWritable();
    guarded(store.path(), writable, [&] {
        m_open = std::make_unique<Open>(Open{store.path(), beside(store.path(), true), {}, 0, 0});
        SQLite::Transaction transaction(m_open->db, SQLite::TransactionBehavior::IMMEDIATE);
        m_open->db.exec(makeTable);
        SQLite::Statement taken(m_open->db, "SELECT 1 FROM recording WHERE name = ?");
        for (int i = 1; m_open->name.empty(); ++i) {
            const std::string name = plain(head.begun) + (i > 1 ? "-" + std::to_string(i) : "");
            taken.bind(1, name);
            if (!taken.executeStep()) m_open->name = name;
            taken.reset();
        }
        m_open->insert(textOf(head), {}, {});
        transaction.commit();
    });
}

LiveRecording::~LiveRecording() = default;

const std::string &LiveRecording::name() const {
    return m_open->name;
}

void LiveRecording::keep(const LiveRows &rows, std::span<const std::string> events) {
    const std::int64_t seqBefore = m_open->seq;
    try {
        guarded(m_open->path, writable, [&] {
            SQLite::Transaction transaction(m_open->db, SQLite::TransactionBehavior::IMMEDIATE);
            const std::size_t atOnce = std::max<std::size_t>(1, samplesPerChunk / rows.width) * rows.width;
            std::string said;
            for (std::size_t i = m_open->events; i < events.size(); ++i)
                said += plain(events[i]) + '\n';
            for (std::size_t at = 0; at < rows.numbers.size(); at += atOnce) {
                const auto some =
                    std::span(rows.numbers).subspan(at, std::min(atOnce, rows.numbers.size() - at));
                const PackedChunk chunk = pack(some, SampleWidth::twice);
                m_open->insert(said, chunk.hash.bytes().bytes, chunk.packed);
                said.clear();
            }
            transaction.commit();
            if (!rows.numbers.empty()) m_open->events = events.size();
        });
    } catch (...) {
        m_open->seq = seqBefore;
        throw;
    }
}

std::vector<FoundRecording> recordingsIn(const fs::path &jobFile) {
    return guarded(jobFile, aJobFile, [&] {
        std::vector<FoundRecording> out;
        SQLite::Database db = beside(jobFile, false);
        if (!db.tableExists("recording")) return out;
        for (SQLite::Statement s(db, "SELECT name, count(*) FROM recording GROUP BY name ORDER BY name");
             s.executeStep();) {
            const std::string name = s.getColumn(0).getString();
            if (auto head = headIn(db, name))
                out.push_back(
                    {name, std::move(*head), static_cast<std::size_t>(s.getColumn(1).getInt64() - 1)});
        }
        return out;
    });
}

TakenLog takeRecording(const JobStore &store, const std::string &name, const ChannelMap &map,
                       const MapSurroundings &around) {
    const RecordedSource source(store.path(), name);
    // What it is called by stands for a file's bytes: no two recordings have it.
    TakenLog taken = takeLog(store, LogText(name), source, map, around, {});
    if (taken.summary.info.rows < 1)
        throw InputError(name, MARKED("expected.rows_of_a_recording", "rows"), MARKED("found.none", "none"));
    return taken;
}

void forgetRecording(const JobStore &store, const std::string &name) {
    store.requireWritable();
    guarded(store.path(), writable, [&] {
        SQLite::Database db = beside(store.path(), true);
        if (!db.tableExists("recording")) return;
        SQLite::Transaction transaction(db, SQLite::TransactionBehavior::IMMEDIATE);
        SQLite::Statement s(db, "DELETE FROM recording WHERE name = ?");
        s.bind(1, name);
        s.exec();
        if (db.execAndGet("SELECT count(*) FROM recording").getInt() == 0) db.exec("DROP TABLE recording");
        transaction.commit();
    });
}

} // namespace wheelwright
