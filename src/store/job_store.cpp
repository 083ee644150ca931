// SPDX-License-Identifier: GPL-3.0-or-later
#include "store/job_store.h"

#include "core/base/error.h"
#include "store/file_bytes.h"
#include "store/file_lock.h"
#include "store/migrate.h"
#include "store/sql_errors.h"
#include "store/sql_rows.h"

#include <SQLiteCpp/Backup.h>
#include <SQLiteCpp/SQLiteCpp.h>
#include <sqlite3.h>

#include <algorithm>
#include <array>
#include <fstream>
#include <mutex>

#include <unistd.h>

namespace wheelwright {
namespace {

namespace fs = std::filesystem;
using Database = std::unique_ptr<SQLite::Database>;

// A connection is used by one thread: its own lock around every column would be a seventh of the reading.
constexpr int readWrite = SQLITE_OPEN_READWRITE | SQLITE_OPEN_NOMUTEX;
constexpr int readOnlyMode = SQLITE_OPEN_READONLY | SQLITE_OPEN_NOMUTEX;

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
        requireReadable(path, UINTMAX_MAX); // samples of logs lie in it: there is no largest size
    } catch (const InputError &e) {
        refuse(path, MARKED("expected.a_job_file", "a job file"), e.found());
    }
    std::error_code ignored;
    if (fs::exists(journalOf(behindLinks(path)), ignored)) return; // what is in the file is not what it was
    std::ifstream in(path, std::ios::binary);
    std::array<char, 16> head{};
    in.read(head.data(), head.size());
    if (!in && in.gcount() == 0)
        refuse(path, MARKED("expected.a_job_file", "a job file"),
               fs::file_size(path, ignored) == 0
                   ? MARKED("found.empty_file", "an empty file")
                   : MARKED("found.unreadable_file", "a file that cannot be read"));
    if (std::string_view(head.data(), 15) != "SQLite format 3")
        refuse(path, MARKED("expected.a_job_file", "a job file"),
               MARKED("found.a_file_of_another_kind", "a file of another kind"));
}

void requireOurs(SQLite::Database &db, const fs::path &path, int known) {
    if (pragmaNumber(db, "application_id") != jobApplicationId)
        refuse(path, MARKED("expected.a_job_file", "a job file"),
               MARKED("found.a_database_of_another_program", "a database of another program"));
    const int version = pragmaNumber(db, "user_version");
    if (version <= known) return;
    const int reader = db.execAndGet("SELECT value FROM job_info WHERE key = 'min_reader_version'").getInt();
    refuse(path,
           Phrase{MARKED("expected.schema", "schema version {a} or older"), {}, {std::to_string(known)}},
           Phrase{MARKED("found.newer_schema",
                         "version {a}, which needs a newer program (at least for version {b})"),
                  {},
                  {std::to_string(version), std::to_string(reader)}});
}

// Of a file with samples of logs the tables that are the job: samples are told by their hashes when they are
// read, and one that is damaged must not keep anybody from the job.
bool hasSamples(SQLite::Database &db) {
    return db.tableExists("sample_chunk") &&
           db.execAndGet("SELECT EXISTS (SELECT 1 FROM sample_chunk)").getInt() != 0;
}

void requireSound(SQLite::Database &db, const fs::path &path) {
    const auto require = [&](const std::string &pragma) {
        const std::string answer = db.execAndGet(pragma).getString();
        if (answer != "ok")
            refuse(path, MARKED("expected.a_sound_file", "a sound file"),
                   Phrase{MARKED("found.damage_said", "damage ({a}); 'job export --salvage', or File › Read "
                                                      "a damaged job…, reads what can be read"),
                          {},
                          {echoed(answer, 60)}});
    };
    if (!hasSamples(db)) return require("PRAGMA quick_check(1)");
    for (std::size_t t = 0; t < rowTables; ++t)
        require(std::string("PRAGMA quick_check('") + definitionOf(static_cast<RowTable>(t)).name + "')");
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

struct Finalise {
    void operator()(sqlite3_stmt *s) const { sqlite3_finalize(s); }
};
using RawStatement = std::unique_ptr<sqlite3_stmt, Finalise>;

RawStatement prepared(SQLite::Database &db, const std::string &sql) {
    sqlite3_stmt *s = nullptr;
    if (sqlite3_prepare_v2(db.getHandle(), sql.c_str(), -1, &s, nullptr) != SQLITE_OK)
        throw SQLite::Exception(db.getHandle());
    return RawStatement(s);
}

// All rows of a table, whatever its columns.
void copyRows(SQLite::Database &from, SQLite::Database &to, const std::string &table) {
    const RawStatement read = prepared(from, "SELECT * FROM \"" + table + "\"");
    const int columns = sqlite3_column_count(read.get());
    std::string places;
    for (int i = 0; i < columns; ++i)
        places += i == 0 ? "?" : ", ?";
    const RawStatement write = prepared(to, "INSERT INTO \"" + table + "\" VALUES (" + places + ")");
    int result = SQLITE_ROW;
    while ((result = sqlite3_step(read.get())) == SQLITE_ROW) {
        for (int i = 0; i < columns; ++i)
            sqlite3_bind_value(write.get(), i + 1, sqlite3_column_value(read.get(), i));
        if (sqlite3_step(write.get()) != SQLITE_DONE) throw SQLite::Exception(to.getHandle());
        sqlite3_reset(write.get());
    }
    if (result != SQLITE_DONE) throw SQLite::Exception(from.getHandle());
}

// The job with no samples: its own tables with their rows, the others empty. Samples may be a hundred times
// the job.
void copyJobAlone(SQLite::Database &from, SQLite::Database &to) {
    const SQLite::Transaction snapshot(from);
    SQLite::Transaction transaction(to);
    std::vector<std::string> tables;
    for (SQLite::Statement s(from, "SELECT name, sql FROM sqlite_master WHERE type = 'table' AND name NOT "
                                   "LIKE 'sqlite_%'");
         s.executeStep();) {
        to.exec(s.getColumn(1).getString());
        tables.push_back(s.getColumn(0).getString());
    }
    for (const std::string &table : tables)
        if (table != "sample_chunk" && table != "log_part" && table != "recording") copyRows(from, to, table);
    for (const char *number : {"application_id", "user_version"})
        to.exec(std::string("PRAGMA ") + number + " = " + std::to_string(pragmaNumber(from, number)));
    transaction.commit();
}

Database inMemory(SQLite::Database &db) {
    auto copy = std::make_unique<SQLite::Database>(":memory:", readWrite | SQLite::OPEN_CREATE);
    if (hasSamples(db))
        copyJobAlone(db, *copy);
    else
        SQLite::Backup(*copy, db).executeStep(-1);
    return copy;
}

// File and journal, copied into a folder of their own, where the journal can be rolled back.
class RolledBackCopy {
  public:
    explicit RolledBackCopy(const fs::path &real) {
        std::string name = (fs::temp_directory_path() / "wheelwright-XXXXXX").string();
        if (!::mkdtemp(name.data()))
            refuse(real, MARKED("expected.a_folder_for_temporary_files", "a folder for temporary files"),
                   diskTrouble(errno));
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

/// What the long texts of a job need of its file: the connection while the job is open, the name afterwards.
/// Texts may be asked for by any thread, so whoever uses the connection holds the lock.
struct TextPlace {
    std::recursive_mutex lock;
    SQLite::Database *db = nullptr; ///< nullptr: closed
    fs::path real;
};

namespace {

class StoredText : public DeferredText::Source {
  public:
    StoredText(std::shared_ptr<TextPlace> place, std::string chapter)
        : m_place(std::move(place)), m_chapter(std::move(chapter)) {}
    const std::string &text() const override {
        const std::scoped_lock held(m_place->lock);
        if (!m_text) m_text = m_place->db ? readText(*m_place->db, m_chapter) : readClosed();
        return *m_text;
    }

  private:
    std::string readClosed() const {
        try {
            SQLite::Database db(m_place->real.string(), readOnlyMode, 2000);
            return readText(db, m_chapter);
        } catch (const SQLite::Exception &e) {
            throw InputError(m_chapter, MARKED("expected.the_file_that_it_is_in", "the file that it is in"),
                             inWords(e));
        }
    }
    std::shared_ptr<TextPlace> m_place;
    std::string m_chapter;
    mutable std::optional<std::string> m_text;
};

} // namespace

struct JobStore::Open {
    fs::path path;                ///< as it was named
    fs::path real;                ///< behind links
    std::optional<FileLock> lock; // released after the database is closed: members go in reverse order
    Database db;
    std::shared_ptr<TextPlace> texts = std::make_shared<TextPlace>();
    Phrase whyReadOnly;
    std::int64_t lastAction = 0; ///< that was read or written here
    std::optional<Job> fresh;    ///< what opening has read, until somebody asks
    int freshVersion = 0;        ///< SQLite's data_version then: another writer changes it

    Open() = default;
    Open(const Open &) = delete;
    Open &operator=(const Open &) = delete;
    ~Open() {
        const std::scoped_lock held(texts->lock);
        texts->db = nullptr;
    }
    void letTextsRead() {
        texts->db = db.get();
        texts->real = real;
    }
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
        refuse(path, MARKED("expected.a_new_name", "a new name"),
               MARKED("found.a_file_that_is_there_already", "a file that is there already"));
    FileLock::Attempt attempt = FileLock::take(open->real, options.patienceMs);
    if (!attempt.lock)
        refuse(path, MARKED("expected.a_folder_that_can_be_written_to", "a folder that can be written to"),
               attempt.why);
    open->lock = std::move(attempt.lock);
    UnfinishedJob part{open->real.string() + ".part"};
    part.remove(); // of a maker that died
    guarded(path, MARKED("expected.a_file_that_can_be_written", "a file that can be written"), [&] {
        SQLite::Database db(part.path.string(), readWrite | SQLite::OPEN_CREATE, 0, options.vfs);
        useSafely(db);
        SQLite::Transaction transaction(db);
        createSchema(db);
        RowWriter writer(db, false);
        writer.info("min_reader_version", minReaderVersion);
        writer.wholeJob(job);
        writer.action("Created", at);
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
    return guarded(path, MARKED("expected.a_file_that_can_be_written", "a file that can be written"), [&] {
        open->db = std::make_unique<SQLite::Database>(open->real.string(), readWrite, 2000, options.vfs);
        useSafely(*open->db);
        open->lock->lockFile(open->real);
        open->lastAction = wheelwright::lastAction(*open->db);
        open->letTextsRead();
        return JobStore(std::move(open));
    });
}

namespace {

// The copy that stands beside a file before it is migrated: made anew, or one of the same bytes.
struct KeptCopy {
    fs::path path;
    bool made = false;
};

// The file as it is, or of one with samples the job alone.
void writeCopy(SQLite::Database &db, const fs::path &real, const fs::path &copy) {
    if (!hasSamples(db)) return copyFile(real, copy);
    UnfinishedJob part{copy.string() + ".part"};
    part.remove();
    {
        SQLite::Database to(part.path.string(), readWrite | SQLite::OPEN_CREATE);
        useSafely(to);
        copyJobAlone(db, to);
    }
    nameNewFile(part.path, copy);
    part.finished = true;
}

KeptCopy keepCopy(SQLite::Database &db, const fs::path &real, int version) {
    const bool samples = hasSamples(db);
    const std::string bytes = samples ? std::string() : readFile(real);
    std::error_code ignored;
    constexpr int names = 1000;
    for (int i = 1; i < names; ++i) {
        const fs::path copy =
            real.string() + ".v" + std::to_string(version) + (i == 1 ? "" : "-" + std::to_string(i));
        if (!fs::exists(fs::symlink_status(copy, ignored))) {
            writeCopy(db, real, copy);
            return {copy, true};
        }
        if (!samples && fs::is_regular_file(copy, ignored) && fs::file_size(copy, ignored) == bytes.size() &&
            readFile(copy) == bytes)
            return {copy, false};
    }
    refuse(real, MARKED("expected.free_name_copy_old_file", "a free name for a copy of the old file"),
           MARKED("found.a_thousand_of_them", "a thousand of them"));
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
            kept = keepCopy(*open.db, open.real, version);
        } catch (const InputError &e) {
            refuse(open.path,
                   MARKED("expected.room_copy_old_file_beside", "room for a copy of the old file beside it"),
                   e.found());
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

MappedFile JobStore::rolledBackBytes(const fs::path &path) {
    requireReadable(path, UINTMAX_MAX);
    const fs::path real = behindLinks(path);
    std::error_code ignored;
    if (fs::exists(journalOf(real), ignored)) try {
            return MappedFile(RolledBackCopy(real).file());
        } catch (const std::exception &) {
            // The pages as they are say more than nothing.
        }
    return MappedFile(real);
}

JobStore::Reading JobStore::readAll(Open &open, int version) {
    // One transaction, so that a writer between two statements cannot mix two states.
    SQLite::Transaction snapshot(*open.db);
    // Texts of a copy in memory cannot wait: there is no file to come back to.
    const bool inMemoryOnly = std::string_view(sqlite3_db_filename(open.db->getHandle(), "main")).empty();
    JobRows rows = readRows(*open.db, version, inMemoryOnly);
    rows.later = [&open](const std::string &chapter) {
        return DeferredText(std::make_shared<StoredText>(open.texts, chapter));
    };
    open.letTextsRead();
    Reading reading{jobFrom(rows), wheelwright::lastAction(*open.db)};
    if (const std::vector<std::string> broken = brokenChapters(rows); !broken.empty())
        refuse(open.path, MARKED("expected.what_was_written", "what was written"),
               notAsDigested(broken.front()));
    if (reading.lastAction == 0)
        refuse(open.path, MARKED("expected.the_action_that_made_it", "the action that made it"),
               MARKED("found.no_action",
                      "none; 'job export --salvage', or File › Read a damaged job…, reads what can be read"));
    open.freshVersion = pragmaNumber(*open.db, "data_version");
    return reading;
}

JobStore JobStore::open(const fs::path &path, Options options) {
    requireDatabase(path);
    auto open = std::make_unique<Open>();
    open->path = path;
    open->real = behindLinks(path);
    if (options.readOnly) {
        open->whyReadOnly = MARKED("read_only.asked", "Opened for reading only.");
    } else if (::access(open->real.c_str(), W_OK) != 0) {
        open->whyReadOnly = MARKED("read_only.file", "Read-only: this file may not be written.");
    } else if (::access(open->real.parent_path().c_str(), W_OK) != 0) {
        open->whyReadOnly =
            MARKED("read_only.folder",
                   "Read-only: its folder may not be written, and a change needs a journal there.");
    } else if (FileLock::Attempt attempt = FileLock::take(open->real, options.patienceMs); !attempt.lock) {
        if (options.mustWrite)
            refuse(path, MARKED("expected.a_file_that_can_be_written", "a file that can be written"),
                   attempt.why);
        open->whyReadOnly =
            MARKED("read_only.open_elsewhere", "Read-only: this job is open in another window or command.");
    } else {
        open->lock = std::move(attempt.lock);
    }
    if (options.mustWrite && !open->lock)
        refuse(path, MARKED("expected.a_file_that_can_be_written", "a file that can be written"),
               ::access(open->real.c_str(), W_OK) != 0
                   ? MARKED("found.one_that_may_not", "one that may not be")
                   : MARKED("found.one_in_folder", "one in a folder that may not be written"));
    return guarded(path, MARKED("expected.a_job_file", "a job file"), [&] {
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
        Reading reading = readAll(*open, options.version); // damage shows now, not in the middle of a session
        open->fresh = std::move(reading.job);
        open->lastAction = reading.lastAction;
        return JobStore(std::move(open));
    });
}

Job JobStore::read() const {
    const std::scoped_lock held(m_open->texts->lock);
    return guarded(m_open->path,
                   MARKED("expected.a_job_file_that_can_be_read", "a job file that can be read"), [this] {
                       if (m_open->fresh) {
                           Job job = std::move(*m_open->fresh);
                           m_open->fresh.reset();
                           if (pragmaNumber(*m_open->db, "data_version") == m_open->freshVersion) return job;
                       }
                       Reading reading = readAll(*m_open, schemaVersion);
                       m_open->lastAction = reading.lastAction;
                       return std::move(reading.job);
                   });
}

bool JobStore::writtenElsewhere() const {
    const std::scoped_lock held(m_open->texts->lock);
    return guarded(m_open->path,
                   MARKED("expected.a_job_file_that_can_be_read", "a job file that can be read"),
                   [this] { return wheelwright::lastAction(*m_open->db) != m_open->lastAction; });
}

JobStore::Reading JobStore::readAgain() const {
    const std::scoped_lock held(m_open->texts->lock);
    return guarded(m_open->path,
                   MARKED("expected.a_job_file_that_can_be_read", "a job file that can be read"),
                   [this] { return readAll(*m_open, schemaVersion); });
}

bool JobStore::readOnly() const {
    return !m_open->whyReadOnly.empty();
}
Phrase JobStore::whyReadOnly() const {
    return m_open->whyReadOnly;
}
const fs::path &JobStore::path() const {
    return m_open->path;
}

namespace {

std::string textIn(const RowValue &v) {
    const auto *text = std::get_if<std::string>(&v);
    return text ? *text : std::string();
}

} // namespace

std::vector<JobStore::Action> JobStore::actions() const {
    const std::scoped_lock held(m_open->texts->lock);
    return guarded(
        m_open->path, MARKED("expected.a_job_file_that_can_be_read", "a job file that can be read"), [this] {
            JobRows rows;
            rows.in(RowTable::action) = readActions(*m_open->db);
            std::vector<Action> out;
            for (const Row &row : rows.in(RowTable::action))
                out.push_back({textIn(row[1]), textIn(row[2])});
            if (!actionsHold(*m_open->db, rows))
                refuse(m_open->path, MARKED("expected.what_was_written", "what was written"),
                       MARKED("found.actions_not_as_digested",
                              "damage: the actions are not what their digest says; 'job export --salvage', "
                              "or File › Read a damaged job…, reads what can be read"));
            return out;
        });
}

void JobStore::requireWritable() const {
    if (readOnly())
        refuse(m_open->path, MARKED("expected.a_file_open_for_writing", "a file open for writing"),
               MARKED("found.one_open_for_reading_only", "one open for reading only"));
    if (!m_open->lock->stillNamed(m_open->real))
        refuse(m_open->path, MARKED("expected.the_file_that_was_opened", "the file that was opened"),
               MARKED("found.another_under_name_none_was",
                      "another under its name, or none: it was moved, replaced or removed"));
}

void JobStore::commit(const JobChange &change, const std::string &what, const std::string &at,
                      std::optional<std::int64_t> after) {
    requireWritable();
    const std::scoped_lock held(m_open->texts->lock);
    // What goes from the file may have to come back: undo needs its words.
    for (const auto &list : change.records)
        for (const JobChange::RecordStep &s : list.steps)
            for (const RecordValue &v : s.whole)
                if (const auto *text = std::get_if<DeferredText>(&v)) text->text();
    guarded(m_open->path, MARKED("expected.a_file_that_can_be_written", "a file that can be written"), [&] {
        SQLite::Transaction transaction(*m_open->db, SQLite::TransactionBehavior::IMMEDIATE);
        if (wheelwright::lastAction(*m_open->db) != after.value_or(m_open->lastAction))
            refuse(m_open->path, MARKED("expected.the_file_as_it_was_read", "the file as it was read"),
                   MARKED("found.changes_of_another_program_open_it_again",
                          "changes of another program; open it again"));
        m_open->fresh.reset();
        RowWriter writer(*m_open->db);
        writer.change(change);
        writer.action(what, at);
        writer.finish();
        const std::int64_t action = wheelwright::lastAction(*m_open->db);
        transaction.commit();
        m_open->lastAction = action;
    });
}

} // namespace wheelwright
