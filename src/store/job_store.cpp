#include "store/job_store.h"

#include "core/base/error.h"
#include "core/base/iso_date.h"
#include "store/file_bytes.h"
#include "store/file_lock.h"
#include "store/sql_rows.h"

#include <SQLiteCpp/Backup.h>
#include <SQLiteCpp/SQLiteCpp.h>
#include <SQLiteCpp/VariadicBind.h>
#include <sqlite3.h>

#include <algorithm>
#include <array>
#include <fstream>

#include <unistd.h>

namespace wheelwright {
namespace {

namespace fs = std::filesystem;
using Database = std::unique_ptr<SQLite::Database>;

// A connection is used by one thread: its own lock around every column would be a seventh of the reading.
constexpr int readWrite = SQLITE_OPEN_READWRITE | SQLITE_OPEN_NOMUTEX;
constexpr int readOnlyMode = SQLITE_OPEN_READONLY | SQLITE_OPEN_NOMUTEX;

[[noreturn]] void refuse(const fs::path &path, const std::string &expected, const std::string &found) {
    throw InputError(path.filename().string(), expected, found);
}

std::string inWords(const SQLite::Exception &e) {
    switch (e.getErrorCode() & 0xff) {
    case SQLITE_FULL:
        return "a full disk";
    case SQLITE_READONLY:
        return "a file that may not be written";
    case SQLITE_BUSY:
    case SQLITE_LOCKED:
        return "a file that another program holds locked";
    case SQLITE_CANTOPEN:
        return "a file that cannot be opened";
    case SQLITE_CORRUPT:
    case SQLITE_NOTADB:
    case SQLITE_ERROR: // a table that is not there, a row against its rules
    case SQLITE_CONSTRAINT:
    case SQLITE_MISMATCH:
        return "damage; 'job export --salvage' reads what can be read";
    case SQLITE_IOERR:
        return "an error of the disk";
    default:
        return std::string("an error: ") + e.what();
    }
}

// Runs `work`, turning the library's exceptions into a sentence about this file.
template <class Work>
auto guarded(const fs::path &path, const char *expected, Work work) {
    try {
        return work();
    } catch (const SQLite::Exception &e) {
        refuse(path, expected, inWords(e));
    }
}

int pragmaNumber(SQLite::Database &db, const char *name) {
    return db.execAndGet(std::string("PRAGMA ") + name).getInt();
}

fs::path behindLinks(const fs::path &path) {
    std::error_code problem;
    const fs::path real = fs::weakly_canonical(path, problem);
    return problem ? path : real;
}

fs::path journalOf(const fs::path &file) {
    return file.string() + "-journal";
}

void useSafely(SQLite::Database &db) {
    db.exec("PRAGMA journal_mode = DELETE"); // a closed job is one file
    db.exec("PRAGMA synchronous = FULL");
    db.exec("PRAGMA secure_delete = ON"); // no page holds what was replaced: salvage reads pages
}

// What the first bytes say, before SQLite looks: a sentence is better than an error code.
void requireDatabase(const fs::path &path) {
    try {
        requireReadable(path);
    } catch (const InputError &e) {
        refuse(path, e.expected().starts_with("at most") ? e.expected() : "a job file", e.found());
    }
    std::error_code ignored;
    if (fs::exists(journalOf(behindLinks(path)), ignored)) return; // what is in the file is not what it was
    std::ifstream in(path, std::ios::binary);
    std::array<char, 16> head{};
    in.read(head.data(), head.size());
    if (!in && in.gcount() == 0)
        refuse(path, "a job file",
               fs::file_size(path, ignored) == 0 ? "an empty file" : "a file that cannot be read");
    if (std::string_view(head.data(), 15) != "SQLite format 3")
        refuse(path, "a job file", "a file of another kind");
}

void requireOurs(SQLite::Database &db, const fs::path &path, int known) {
    if (pragmaNumber(db, "application_id") != jobApplicationId)
        refuse(path, "a job file", "a database of another program");
    const int version = pragmaNumber(db, "user_version");
    if (version <= known) return;
    const int reader = db.execAndGet("SELECT value FROM job_info WHERE key = 'min_reader_version'").getInt();
    refuse(path, "schema version " + std::to_string(known) + " or older",
           "version " + std::to_string(version) + ", which needs a newer program (at least for version " +
               std::to_string(reader) + ")");
}

constexpr const char *salvageHint = "; 'job export --salvage' reads what can be read";

void requireSound(SQLite::Database &db, const fs::path &path) {
    const std::string answer = db.execAndGet("PRAGMA quick_check(1)").getString();
    if (answer != "ok") refuse(path, "a sound file", "damage (" + echoed(answer, 60) + ")" + salvageHint);
}

void readSomething(SQLite::Database &db) {
    db.execAndGet("SELECT count(*) FROM sqlite_master");
}

// A reader rolls a journal back too, when nobody is writing: it is the same file that a writer would leave.
void rollBack(const fs::path &real, const JobStoreOptions &options) {
    std::error_code ignored;
    if (!fs::exists(journalOf(real), ignored) || ::access(real.c_str(), W_OK) != 0) return;
    if (const FileLock::Attempt attempt = FileLock::take(real); attempt.lock) {
        SQLite::Database db(real.string(), readWrite, 2000, options.vfs);
        readSomething(db);
    }
}

Database inMemory(SQLite::Database &db) {
    auto copy = std::make_unique<SQLite::Database>(":memory:", readWrite | SQLite::OPEN_CREATE);
    SQLite::Backup(*copy, db).executeStep(-1);
    return copy;
}

// File and journal, copied into a folder of their own, where the journal can be rolled back.
class RolledBackCopy {
  public:
    explicit RolledBackCopy(const fs::path &real) {
        std::string name = (fs::temp_directory_path() / "wheelwright-XXXXXX").string();
        if (!::mkdtemp(name.data())) refuse(real, "a folder for temporary files", diskTrouble(errno));
        m_folder = name;
        copyFile(real, file());
        copyFile(journalOf(real), journalOf(file()));
        SQLite::Database db(file().string(), readWrite);
        readSomething(db);
    }
    RolledBackCopy(const RolledBackCopy &) = delete;
    RolledBackCopy &operator=(const RolledBackCopy &) = delete;
    ~RolledBackCopy() {
        std::error_code ignored;
        fs::remove_all(m_folder, ignored);
    }
    fs::path file() const { return m_folder / "job"; }

  private:
    fs::path m_folder;
};

// A journal that cannot be rolled back in place, since the folder may not be written, is rolled back in a
// copy.
Database openForReading(const fs::path &real, const JobStoreOptions &options) {
    rollBack(real, options);
    try {
        auto db = std::make_unique<SQLite::Database>(real.string(), readOnlyMode, 2000, options.vfs);
        readSomething(*db);
        return db;
    } catch (const SQLite::Exception &e) {
        std::error_code ignored;
        const int code = e.getErrorCode() & 0xff;
        if ((code != SQLITE_READONLY && code != SQLITE_CANTOPEN) || !fs::exists(journalOf(real), ignored))
            throw;
    }
    const RolledBackCopy copy(real);
    SQLite::Database db(copy.file().string(), readOnlyMode);
    return inMemory(db);
}

// Removes what create() has begun, unless it was finished.
struct UnfinishedJob {
    fs::path path;
    bool finished = false;
    ~UnfinishedJob() {
        if (!finished) remove();
    }
    void remove() const {
        std::error_code ignored;
        fs::remove(path, ignored);
        fs::remove(journalOf(path), ignored);
    }
};

} // namespace

struct JobStore::Open {
    fs::path path;                ///< as it was named
    fs::path real;                ///< behind links
    std::optional<FileLock> lock; // released after the database is closed: members go in reverse order
    Database db;
    std::string whyReadOnly;
    std::int64_t lastAction = 0; ///< that was read or written here
    std::optional<Job> fresh;    ///< what opening has read, until somebody asks
    int freshVersion = 0;        ///< SQLite's data_version then: another writer changes it
};

JobStore::JobStore(std::unique_ptr<Open> open) : m_open(std::move(open)) {}
JobStore::JobStore(JobStore &&) noexcept = default;
JobStore &JobStore::operator=(JobStore &&) noexcept = default;
JobStore::~JobStore() = default;

JobStore JobStore::create(const fs::path &path, const Job &job, const std::string &at, Options options) {
    validate(job);
    auto open = std::make_unique<Open>();
    open->path = path;
    open->real = behindLinks(path);
    std::error_code ignored;
    if (fs::exists(fs::symlink_status(path, ignored)))
        refuse(path, "a new name", "a file that is there already");
    FileLock::Attempt attempt = FileLock::take(open->real, options.patienceMs);
    if (!attempt.lock) refuse(path, "a folder that can be written to", attempt.why);
    open->lock = std::move(attempt.lock);
    UnfinishedJob part{open->real.string() + ".part"};
    part.remove(); // of a maker that died
    guarded(path, "a file that can be written", [&] {
        SQLite::Database db(part.path.string(), readWrite | SQLite::OPEN_CREATE, 0, options.vfs);
        useSafely(db);
        SQLite::Transaction transaction(db);
        createSchema(db);
        writeInfo(db, "min_reader_version", minReaderVersion);
        writeWholeJob(db, job);
        writeAction(db, "Created", at);
        writeDigests(db);
        db.exec("PRAGMA application_id = " + std::to_string(jobApplicationId));
        db.exec("PRAGMA user_version = " + std::to_string(schemaVersion));
        transaction.commit();
    });
    try {
        nameNewFile(part.path, open->real);
    } catch (const InputError &e) {
        refuse(path, e.expected(), e.found());
    }
    part.finished = true;
    return guarded(path, "a file that can be written", [&] {
        open->db = std::make_unique<SQLite::Database>(open->real.string(), readWrite, 2000, options.vfs);
        useSafely(*open->db);
        open->lock->lockFile(open->real);
        open->lastAction = wheelwright::lastAction(*open->db);
        return JobStore(std::move(open));
    });
}

namespace {

// Text that was allowed where a date stands now goes into the notes of the job, so that nothing is lost.
void moveOddDatesToNotes(SQLite::Database &db, JobRows &rows) {
    std::string moved;
    for (Row &row : rows.in(RowTable::record)) {
        const auto *path = std::get_if<std::string>(&row[0]);
        const auto *key = std::get_if<std::string>(&row[2]);
        auto *text = std::get_if<std::string>(&row[3]);
        const RecordList *list = path ? recordListByPath(*path) : nullptr;
        if (!list || !key || !text || text->empty() || isIsoDate(*text)) continue;
        const auto field = std::ranges::find(list->fields, *key, &RecordField::key);
        const auto *index = std::get_if<std::int64_t>(&row[1]);
        if (field == list->fields.end() || !field->date || !index) continue;
        moved += "\n" + list->title + " " + std::to_string(*index + 1) + ", " + field->title + ": " + *text;
        SQLite::Statement s(db, "UPDATE record SET value = '' WHERE path = ? AND idx = ? AND key = ?");
        SQLite::bind(s, *path, static_cast<std::int64_t>(*index), *key);
        s.exec();
        text->clear();
    }
    if (moved.empty()) return;
    for (Row &row : rows.in(RowTable::field))
        if (const auto *path = std::get_if<std::string>(&row[0]); path && *path == "notes") {
            const auto *old = std::get_if<std::string>(&row[1]);
            const std::string notes =
                (old && !old->empty() ? *old + "\n" : "") + "Dates that were not ISO 8601:" + moved;
            row[1] = notes;
            SQLite::Statement s(db, "UPDATE field SET value = ? WHERE path = 'notes'");
            s.bind(1, notes);
            s.exec();
        }
}

// Takes the schema forward, all steps in one transaction. What is read and found good gets its digests.
void migrate(SQLite::Database &db, const fs::path &path, const JobStoreOptions &options) {
    int version = pragmaNumber(db, "user_version");
    SQLite::Transaction transaction(db, SQLite::TransactionBehavior::IMMEDIATE);
    const bool withoutDigests = version < digestVersion;
    for (const Migration &m : options.migrations)
        if (m.from == version) {
            db.exec(std::string(m.sql));
            ++version;
        }
    if (version != options.version)
        refuse(path, "a schema that can be brought up to date", "version " + std::to_string(version));
    if (withoutDigests) {
        JobRows rows = readRows(db, false);
        moveOddDatesToNotes(db, rows);
        jobFrom(rows);
        writeDigests(db);
    }
    db.exec("PRAGMA user_version = " + std::to_string(version));
    transaction.commit();
}

// The copy that stands beside a file before it is migrated: made anew, or one of the same bytes.
struct KeptCopy {
    fs::path path;
    bool made = false;
};

KeptCopy keepCopy(const fs::path &real, int version) {
    const std::string bytes = readFile(real);
    std::error_code ignored;
    constexpr int names = 1000;
    for (int i = 1; i < names; ++i) {
        const fs::path copy =
            real.string() + ".v" + std::to_string(version) + (i == 1 ? "" : "-" + std::to_string(i));
        if (!fs::exists(fs::symlink_status(copy, ignored))) {
            copyFile(real, copy);
            return {copy, true};
        }
        if (fs::is_regular_file(copy, ignored) && fs::file_size(copy, ignored) == bytes.size() &&
            readFile(copy) == bytes)
            return {copy, false};
    }
    refuse(real, "a free name for a copy of the old file", "a thousand of them");
}

} // namespace

// A writer keeps a copy beside the file and then changes it. A reader changes nothing on the disk: it works
// on a copy in memory, which no longer follows what another window writes.
void JobStore::bringUpToDate(Open &open, const Options &options) {
    const int version = pragmaNumber(*open.db, "user_version");
    if (version == options.version) return;
    KeptCopy kept;
    if (open.lock) {
        try {
            kept = keepCopy(open.real, version);
        } catch (const InputError &e) {
            refuse(open.path, "room for a copy of the old file beside it", e.found());
        }
    } else {
        open.db = inMemory(*open.db);
    }
    try {
        migrate(*open.db, open.path, options);
    } catch (...) {
        std::error_code ignored;
        if (kept.made) fs::remove(kept.path, ignored);
        throw;
    }
}

std::string JobStore::rolledBackBytes(const fs::path &path) {
    requireReadable(path);
    const fs::path real = behindLinks(path);
    std::error_code ignored;
    if (fs::exists(journalOf(real), ignored)) try {
            return readFile(RolledBackCopy(real).file());
        } catch (const std::exception &) {
            // The pages as they are say more than nothing.
        }
    return readFile(real);
}

Job JobStore::readAll(Open &open, const Options &options) {
    // One transaction, so that a writer between two statements cannot mix two states.
    SQLite::Transaction snapshot(*open.db);
    const JobRows rows = readRows(*open.db, options.version >= digestVersion);
    Job job = jobFrom(rows);
    if (const std::vector<std::string> broken = brokenChapters(rows); !broken.empty())
        refuse(open.path, "what was written",
               "damage: " + broken.front() + " is not what its digest says" + salvageHint);
    open.lastAction = wheelwright::lastAction(*open.db);
    open.freshVersion = pragmaNumber(*open.db, "data_version");
    return job;
}

JobStore JobStore::open(const fs::path &path, Options options) {
    requireDatabase(path);
    auto open = std::make_unique<Open>();
    open->path = path;
    open->real = behindLinks(path);
    if (options.readOnly) {
        open->whyReadOnly = "Opened for reading only.";
    } else if (::access(open->real.c_str(), W_OK) != 0) {
        open->whyReadOnly = "Read-only: this file may not be written.";
    } else if (::access(open->real.parent_path().c_str(), W_OK) != 0) {
        open->whyReadOnly = "Read-only: its folder may not be written, and a change needs a journal there.";
    } else if (FileLock::Attempt attempt = FileLock::take(open->real, options.patienceMs); !attempt.lock) {
        if (options.mustWrite) refuse(path, "a file that can be written", attempt.why);
        open->whyReadOnly = "Read-only: this job is open in another window or command.";
    } else {
        open->lock = std::move(attempt.lock);
    }
    if (options.mustWrite && !open->lock)
        refuse(path, "a file that can be written",
               ::access(open->real.c_str(), W_OK) != 0 ? "one that may not be"
                                                       : "one in a folder that may not be written");
    return guarded(path, "a job file", [&] {
        if (open->lock) {
            open->db = std::make_unique<SQLite::Database>(open->real.string(), readWrite, 2000, options.vfs);
            readSomething(*open->db); // rolls a journal back
        } else {
            open->db = openForReading(open->real, options);
        }
        requireOurs(*open->db, path, options.version);
        requireSound(*open->db, path);
        if (open->lock) useSafely(*open->db);
        bringUpToDate(*open, options);
        open->fresh = readAll(*open, options); // so that damage shows now and not in the middle of a session
        return JobStore(std::move(open));
    });
}

Job JobStore::read() const {
    return guarded(m_open->path, "a job file that can be read", [this] {
        if (m_open->fresh) {
            Job job = std::move(*m_open->fresh);
            m_open->fresh.reset();
            if (pragmaNumber(*m_open->db, "data_version") == m_open->freshVersion) return job;
        }
        return readAll(*m_open, {});
    });
}

bool JobStore::readOnly() const {
    return !m_open->whyReadOnly.empty();
}
std::string JobStore::whyReadOnly() const {
    return m_open->whyReadOnly;
}
const fs::path &JobStore::path() const {
    return m_open->path;
}

std::vector<JobStore::Action> JobStore::actions() const {
    return guarded(m_open->path, "a job file that can be read", [this] {
        std::vector<Action> out;
        SQLite::Statement s(*m_open->db, "SELECT at, what FROM action ORDER BY id");
        while (s.executeStep())
            out.push_back({s.getColumn(0).getString(), s.getColumn(1).getString()});
        return out;
    });
}

void JobStore::commit(const JobChange &change, const std::string &what, const std::string &at) {
    if (readOnly()) refuse(m_open->path, "a file open for writing", "one open for reading only");
    if (!m_open->lock->stillNamed(m_open->real))
        refuse(m_open->path, "the file that was opened",
               "another under its name, or none: it was moved, replaced or removed");
    guarded(m_open->path, "a file that can be written", [&] {
        SQLite::Transaction transaction(*m_open->db, SQLite::TransactionBehavior::IMMEDIATE);
        if (wheelwright::lastAction(*m_open->db) != m_open->lastAction)
            refuse(m_open->path, "the file as it was read", "changes of another program; open it again");
        m_open->fresh.reset();
        writeChange(*m_open->db, change);
        writeAction(*m_open->db, what, at);
        writeDigests(*m_open->db, change);
        const std::int64_t action = wheelwright::lastAction(*m_open->db);
        transaction.commit();
        m_open->lastAction = action;
    });
}

} // namespace wheelwright
