#include "store/job_store.h"

#include "core/error.h"
#include "core/verify/limits.h"
#include "store/file_lock.h"

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
        return "damage";
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

void bind(SQLite::Statement &s, int at, const FieldContent &content) {
    if (const double *v = std::get_if<double>(&content))
        s.bind(at, *v);
    else if (const bool *b = std::get_if<bool>(&content))
        s.bind(at, static_cast<int>(*b));
    else
        s.bind(at, std::get<std::string>(content));
}

FieldContent contentFrom(const std::string &where, const FieldContent &kind, const SQLite::Column &column) {
    if (std::holds_alternative<std::string>(kind)) {
        if (!column.isText()) throw InputError(where, "text", "something else");
        return column.getString();
    }
    if (column.isText() || column.isBlob())
        throw InputError(where, "a number", "'" + column.getString() + "'");
    if (std::holds_alternative<bool>(kind)) return column.getInt() != 0;
    return column.getDouble();
}

void writeField(SQLite::Database &db, const std::string &path, const FieldContent &content) {
    SQLite::Statement s(db, "INSERT OR REPLACE INTO field (path, value) VALUES (?, ?)");
    s.bind(1, path);
    bind(s, 2, content);
    s.exec();
}

void writeCurve(SQLite::Database &db, const std::string &path, const Curve &curve) {
    SQLite::Statement clear(db, "DELETE FROM curve_point WHERE path = ?");
    clear.bind(1, path);
    clear.exec();
    SQLite::Statement s(db, "INSERT INTO curve_point (path, idx, x, y) VALUES (?, ?, ?, ?)");
    for (std::size_t i = 0; i < curve.axis().size(); ++i) {
        SQLite::bind(s, path, static_cast<int>(i), curve.axis()[i], curve.values()[i]);
        s.exec();
        s.reset();
    }
}

void writeAxis(SQLite::Database &db, const std::string &path, const char *name, const Axis &axis) {
    SQLite::Statement s(db, "INSERT INTO breakpoint (path, axis, idx, value) VALUES (?, ?, ?, ?)");
    for (std::size_t i = 0; i < axis.size(); ++i) {
        SQLite::bind(s, path, name, static_cast<int>(i), axis[i]);
        s.exec();
        s.reset();
    }
}

void writeTable(SQLite::Database &db, const std::string &path, const Table2D &table) {
    for (const char *sql : {"DELETE FROM breakpoint WHERE path = ?", "DELETE FROM cell WHERE path = ?"}) {
        SQLite::Statement clear(db, sql);
        clear.bind(1, path);
        clear.exec();
    }
    writeAxis(db, path, "x", table.x());
    writeAxis(db, path, "y", table.y());
    SQLite::Statement s(db, "INSERT INTO cell (path, y, x, value) VALUES (?, ?, ?, ?)");
    for (std::size_t y = 0; y < table.y().size(); ++y)
        for (std::size_t x = 0; x < table.x().size(); ++x) {
            SQLite::bind(s, path, static_cast<int>(y), static_cast<int>(x), table.cell(x, y));
            s.exec();
            s.reset();
        }
}

void writeCells(SQLite::Database &db, const JobChange::CellSteps &steps) {
    SQLite::Statement s(db, "UPDATE cell SET value = ? WHERE path = ? AND y = ? AND x = ?");
    for (const JobChange::Cell &c : steps.cells) {
        SQLite::bind(s, c.after, steps.path, static_cast<int>(c.at.y), static_cast<int>(c.at.x));
        if (s.exec() != 1) throw InputError(steps.path, "a cell to change", "none");
        s.reset();
    }
}

void writeLimit(SQLite::Database &db, const std::string &id, std::optional<double> value) {
    SQLite::Statement s(db, value ? "INSERT OR REPLACE INTO limit_override (id, value) VALUES (?, ?)"
                                  : "DELETE FROM limit_override WHERE id = ?");
    s.bind(1, id);
    if (value) s.bind(2, *value);
    s.exec();
}

void writeRecords(SQLite::Database &db, const RecordList &list, const RecordContents &contents) {
    SQLite::Statement clear(db, "DELETE FROM record WHERE path = ?");
    clear.bind(1, list.path);
    clear.exec();
    SQLite::Statement s(db, "INSERT INTO record (path, idx, key, value) VALUES (?, ?, ?, ?)");
    for (std::size_t i = 0; i < contents.size(); ++i)
        for (std::size_t k = 0; k < list.fields.size(); ++k) {
            SQLite::bind(s, list.path, static_cast<int>(i), list.fields[k].key);
            bind(s, 4, contents[i][k]);
            s.exec();
            s.reset();
        }
}

void readRecords(SQLite::Database &db, const RecordList &list, Job &job) {
    list.resize(job, 0);
    SQLite::Statement count(db, "SELECT coalesce(max(idx) + 1, 0) FROM record WHERE path = ?");
    count.bind(1, list.path);
    count.executeStep();
    const auto records = static_cast<std::size_t>(count.getColumn(0).getInt());
    if (records > list.most)
        throw InputError(list.path, "at most " + std::to_string(list.most) + " records",
                         std::to_string(records));
    list.resize(job, records);
    SQLite::Statement s(db, "SELECT value FROM record WHERE path = ? AND idx = ? AND key = ?");
    for (std::size_t i = 0; i < records; ++i)
        for (const RecordField &f : list.fields) {
            const std::string where = list.path + " " + std::to_string(i + 1) + " " + f.key;
            SQLite::bind(s, list.path, static_cast<int>(i), f.key);
            if (!s.executeStep()) throw InputError(where, "a row in the table record", "none");
            const FieldContent content = contentFrom(where, f.read(job, i), s.getColumn(0));
            validate(list, f, i, content);
            f.write(job, i, content);
            s.reset();
        }
}

void writeChange(SQLite::Database &db, const JobChange &change) {
    for (const auto &f : change.fields)
        writeField(db, f.path, f.step.after);
    for (const auto &c : change.curves)
        writeCurve(db, c.path, c.step.after);
    for (const auto &t : change.cells)
        writeCells(db, t);
    for (const auto &t : change.tables)
        writeTable(db, t.path, t.step.after);
    for (const auto &r : change.records)
        writeRecords(db, *recordListByPath(r.path), r.step.after);
    for (const auto &l : change.limits)
        writeLimit(db, l.id, l.step.after);
}

void writeAction(SQLite::Database &db, const std::string &what, const std::string &at) {
    SQLite::Statement s(db, "INSERT INTO action (at, what) VALUES (?, ?)");
    SQLite::bind(s, at, what);
    s.exec();
}

void writeInfo(SQLite::Database &db, const char *key, int value) {
    SQLite::Statement s(db, "INSERT OR REPLACE INTO job_info (key, value) VALUES (?, ?)");
    SQLite::bind(s, key, value);
    s.exec();
}

void writeWholeJob(SQLite::Database &db, const Job &job) {
    for (const Field &f : allFields())
        writeField(db, f.path, f.read(job));
    for (const CurveField &c : allCurves())
        writeCurve(db, c.path, c.of(const_cast<Job &>(job)));
    for (const TableField &t : allTables())
        writeTable(db, t.path, t.of(job));
    for (const RecordList &l : allRecordLists())
        writeRecords(db, l, recordsOf(job, l));
    for (const auto &[id, v] : job.limits)
        writeLimit(db, id, v);
}

FieldContent readField(SQLite::Database &db, const Field &field) {
    SQLite::Statement s(db, "SELECT value FROM field WHERE path = ?");
    s.bind(1, field.path);
    if (!s.executeStep()) throw InputError(field.path, "a row in the table field", "none");
    FieldContent content = contentFrom(field.path, field.read(Job{}), s.getColumn(0));
    validate(field, content);
    return content;
}

Curve readCurve(SQLite::Database &db, const CurveField &field) {
    SQLite::Statement s(db, "SELECT x, y FROM curve_point WHERE path = ? ORDER BY idx");
    s.bind(1, field.path);
    std::vector<double> x, y;
    while (s.executeStep()) {
        x.push_back(s.getColumn(0).getDouble());
        y.push_back(s.getColumn(1).getDouble());
    }
    Curve curve(std::move(x), std::move(y), field.path);
    validate(field, curve);
    return curve;
}

std::vector<double> readAxis(SQLite::Database &db, const std::string &path, const char *name) {
    SQLite::Statement s(db, "SELECT value FROM breakpoint WHERE path = ? AND axis = ? ORDER BY idx");
    SQLite::bind(s, path, name);
    std::vector<double> points;
    while (s.executeStep())
        points.push_back(s.getColumn(0).getDouble());
    return points;
}

Table2D readTable(SQLite::Database &db, const TableField &field) {
    Axis x(readAxis(db, field.path, "x"), field.path + " rpm");
    Axis y(readAxis(db, field.path, "y"), field.path + " " + field.yKey);
    SQLite::Statement s(db, "SELECT value FROM cell WHERE path = ? ORDER BY y, x");
    s.bind(1, field.path);
    std::vector<double> cells;
    while (s.executeStep())
        cells.push_back(s.getColumn(0).getDouble());
    Table2D table(std::move(x), std::move(y), std::move(cells), field.path);
    validate(field, table);
    return table;
}

std::map<std::string, double> readLimits(SQLite::Database &db) {
    std::map<std::string, double> limits;
    SQLite::Statement s(db, "SELECT id, value FROM limit_override");
    while (s.executeStep()) {
        validateLimit(s.getColumn(0).getString(), s.getColumn(1).getDouble());
        limits[s.getColumn(0).getString()] = s.getColumn(1).getDouble();
    }
    return limits;
}

void useSafely(SQLite::Database &db) {
    db.exec("PRAGMA journal_mode = DELETE"); // a closed job is one file
    db.exec("PRAGMA synchronous = FULL");
    db.exec("PRAGMA foreign_keys = ON");
}

// What the first bytes say, before SQLite looks: a sentence is better than an error code.
void requireDatabase(const fs::path &path) {
    std::error_code ignored;
    if (!fs::exists(path, ignored)) refuse(path, "a job file", "no file of that name");
    if (fs::is_directory(path, ignored)) refuse(path, "a job file", "a folder");
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

void requireSound(SQLite::Database &db, const fs::path &path) {
    const std::string answer = db.execAndGet("PRAGMA quick_check(1)").getString();
    if (answer != "ok")
        refuse(path, "a sound file",
               "damage (" + answer + "); export what can be read with 'job export --salvage'");
}

} // namespace

struct JobStore::Open {
    fs::path path;
    std::optional<FileLock> lock; // released after the database is closed: members go in reverse order
    std::unique_ptr<SQLite::Database> db;
    std::string whyReadOnly;
};

JobStore::JobStore(std::unique_ptr<Open> open) : m_open(std::move(open)) {}
JobStore::JobStore(JobStore &&) noexcept = default;
JobStore &JobStore::operator=(JobStore &&) noexcept = default;
JobStore::~JobStore() = default;

JobStore JobStore::create(const fs::path &path, const Job &job, const std::string &at, Options options) {
    validate(job);
    std::error_code ignored;
    if (fs::exists(path, ignored)) refuse(path, "a new name", "a file that is there already");
    auto open = std::make_unique<Open>();
    open->path = path;
    open->lock = FileLock::take(path);
    if (!open->lock)
        refuse(path, "a folder that can be written to",
               "one that cannot, or a job that someone else is making there");
    try {
        open->db = std::make_unique<SQLite::Database>(
            path.string(), SQLite::OPEN_READWRITE | SQLite::OPEN_CREATE, 0, options.vfs);
        useSafely(*open->db);
        SQLite::Transaction transaction(*open->db);
        createSchema(*open->db);
        writeInfo(*open->db, "min_reader_version", minReaderVersion);
        writeWholeJob(*open->db, job);
        writeAction(*open->db, "Created", at);
        // Last, so that a half-made file is never taken for a job.
        open->db->exec("PRAGMA application_id = " + std::to_string(jobApplicationId));
        open->db->exec("PRAGMA user_version = " + std::to_string(schemaVersion));
        transaction.commit();
    } catch (const SQLite::Exception &e) {
        open->db.reset();
        fs::remove(path, ignored);
        fs::remove(path.string() + "-journal", ignored);
        refuse(path, "a file that can be written", inWords(e));
    }
    return JobStore(std::move(open));
}

namespace {

// Takes the schema forward, all steps in one transaction.
void migrate(SQLite::Database &db, const fs::path &path, const JobStoreOptions &options) {
    int version = pragmaNumber(db, "user_version");
    SQLite::Transaction transaction(db);
    for (const Migration &m : options.migrations)
        if (m.from == version) {
            db.exec(std::string(m.sql));
            ++version;
        }
    if (version != options.version)
        refuse(path, "a schema that can be brought up to date", "version " + std::to_string(version));
    db.exec("PRAGMA user_version = " + std::to_string(version));
    transaction.commit();
}

} // namespace

// A writer keeps a copy beside the file and then changes it. A reader changes nothing on the disk: it works
// on a copy in memory, which no longer follows what another window writes.
void JobStore::bringUpToDate(Open &open, const Options &options) {
    const int version = pragmaNumber(*open.db, "user_version");
    if (version == options.version) return;
    if (open.lock) {
        fs::copy_file(open.path, open.path.string() + ".v" + std::to_string(version),
                      fs::copy_options::overwrite_existing);
    } else {
        auto copy =
            std::make_unique<SQLite::Database>(":memory:", SQLite::OPEN_READWRITE | SQLite::OPEN_CREATE);
        SQLite::Backup(*copy, *open.db).executeStep(-1);
        open.db = std::move(copy);
    }
    migrate(*open.db, open.path, options);
}

JobStore JobStore::open(const fs::path &path, Options options) {
    requireDatabase(path);
    auto open = std::make_unique<Open>();
    open->path = path;
    const bool writable = ::access(path.c_str(), W_OK) == 0;
    if (options.readOnly)
        open->whyReadOnly = "Opened for reading only.";
    else if (!writable)
        open->whyReadOnly = "Read-only: this file may not be written.";
    else if (open->lock = FileLock::take(path); !open->lock)
        open->whyReadOnly = "Read-only: this job is open in another window.";
    return guarded(path, "a job file", [&] {
        // A journal that a crash left behind can only be rolled back by an opener that may write.
        const int mode = open->lock ? SQLite::OPEN_READWRITE : SQLite::OPEN_READONLY;
        open->db = std::make_unique<SQLite::Database>(path.string(), mode, 2000, options.vfs);
        requireOurs(*open->db, path, options.version);
        requireSound(*open->db, path);
        if (open->lock) {
            useSafely(*open->db);
        }
        bringUpToDate(*open, options);
        JobStore store(std::move(open));
        store.read(); // all of it, so that damage shows now and not in the middle of a session
        return store;
    });
}

JobStore::Salvage JobStore::salvage(const fs::path &path) {
    requireDatabase(path);
    Salvage out{newJob(path.stem().string()), {}};
    std::unique_ptr<SQLite::Database> db;
    guarded(path, "a job file of which something can be read", [&] {
        db = std::make_unique<SQLite::Database>(path.string(), SQLite::OPEN_READONLY);
        if (pragmaNumber(*db, "application_id") != jobApplicationId)
            refuse(path, "a job file", "a database of another program");
    });
    const auto attempt = [&](const std::string &what, auto read) {
        try {
            read();
        } catch (const std::exception &e) {
            out.lost.push_back(what + " (" + e.what() + ")");
        }
    };
    for (const Field &f : allFields())
        attempt(f.title, [&] { f.write(out.job, readField(*db, f)); });
    for (const CurveField &c : allCurves())
        attempt(c.title, [&] { c.of(out.job) = readCurve(*db, c); });
    for (const TableField &t : allTables())
        attempt(t.title, [&] { t.of(out.job) = readTable(*db, tableIn(out.job, t.quantity, t.top)); });
    for (const RecordList &l : allRecordLists())
        attempt(l.title, [&] {
            Job read = out.job; // half a list is worse than none
            readRecords(*db, l, read);
            validate(read);
            out.job = std::move(read);
        });
    attempt("Limits", [&] { out.job.limits = readLimits(*db); });
    return out;
}

Job JobStore::read() const {
    return guarded(m_open->path, "a job file that can be read", [this] {
        // One transaction, so that a writer between two statements cannot mix two states.
        SQLite::Transaction snapshot(*m_open->db);
        Job job = newJob("");
        for (const Field &f : allFields())
            f.write(job, readField(*m_open->db, f));
        for (const CurveField &c : allCurves())
            c.of(job) = readCurve(*m_open->db, c);
        for (const TableField &t : allTables())
            t.of(job) = readTable(*m_open->db, tableIn(job, t.quantity, t.top));
        for (const RecordList &l : allRecordLists())
            readRecords(*m_open->db, l, job);
        job.limits = readLimits(*m_open->db);
        validate(job);
        return job;
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
    guarded(m_open->path, "a file that can be written", [&] {
        SQLite::Transaction transaction(*m_open->db, SQLite::TransactionBehavior::IMMEDIATE);
        writeChange(*m_open->db, change);
        writeAction(*m_open->db, what, at);
        transaction.commit();
    });
}

} // namespace wheelwright
