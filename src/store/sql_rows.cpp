#include "store/sql_rows.h"

#include "core/base/error.h"

#include <SQLiteCpp/SQLiteCpp.h>
#include <SQLiteCpp/VariadicBind.h>
#include <sqlite3.h>

namespace wheelwright {
namespace {

// Hundreds of thousands of rows at every opening: read through the library below, whose columns cost no
// allocation.
class Reader {
  public:
    Reader(SQLite::Database &db, const std::string &sql) : m_db(db) {
        if (sqlite3_prepare_v2(db.getHandle(), sql.c_str(), -1, &m_statement, nullptr) != SQLITE_OK) fail();
    }
    Reader(const Reader &) = delete;
    Reader &operator=(const Reader &) = delete;
    ~Reader() { sqlite3_finalize(m_statement); }

    void bind(const std::string &text) {
        sqlite3_bind_text(m_statement, 1, text.c_str(), static_cast<int>(text.size()), SQLITE_TRANSIENT);
    }

    std::vector<Row> rows(std::size_t expected = 0) {
        std::vector<Row> out;
        out.reserve(expected);
        const int columns = sqlite3_column_count(m_statement);
        int result = SQLITE_ROW;
        while ((result = sqlite3_step(m_statement)) == SQLITE_ROW) {
            Row &row = out.emplace_back();
            for (int i = 0; i < columns; ++i)
                row[static_cast<std::size_t>(i)] = value(i);
        }
        if (result != SQLITE_DONE) fail();
        return out;
    }

  private:
    [[noreturn]] void fail() const { throw SQLite::Exception(m_db.getHandle()); }

    RowValue value(int i) const {
        const auto bytes = [&] { return static_cast<std::size_t>(sqlite3_column_bytes(m_statement, i)); };
        switch (sqlite3_column_type(m_statement, i)) {
        case SQLITE_INTEGER:
            return static_cast<std::int64_t>(sqlite3_column_int64(m_statement, i));
        case SQLITE_FLOAT:
            return sqlite3_column_double(m_statement, i);
        case SQLITE_TEXT:
            return std::string(reinterpret_cast<const char *>(sqlite3_column_text(m_statement, i)), bytes());
        case SQLITE_BLOB:
            return Blob{std::string(static_cast<const char *>(sqlite3_column_blob(m_statement, i)), bytes())};
        default:
            return std::monostate{};
        }
    }

    SQLite::Database &m_db;
    sqlite3_stmt *m_statement = nullptr;
};

// The rows of one path, or of a whole table where it has none.
std::vector<Row> chapterRows(SQLite::Database &db, RowTable table, const std::string &path = {}) {
    std::string sql = definitionOf(table).select;
    if (!path.empty()) sql.insert(sql.find(" ORDER BY"), " WHERE path = ?");
    Reader reader(db, sql);
    if (!path.empty()) {
        reader.bind(path);
        return reader.rows();
    }
    const std::string count = std::string("SELECT count(*) FROM ") + definitionOf(table).name;
    return reader.rows(static_cast<std::size_t>(db.execAndGet(count).getInt64()));
}

void bind(SQLite::Statement &s, int at, const FieldContent &content) {
    if (const double *v = std::get_if<double>(&content))
        s.bind(at, *v);
    else if (const bool *b = std::get_if<bool>(&content))
        s.bind(at, static_cast<int>(*b));
    else
        s.bind(at, std::get<std::string>(content));
}

void writeField(SQLite::Database &db, const std::string &path, const FieldContent &content) {
    SQLite::Statement s(db, "INSERT OR REPLACE INTO field (path, value) VALUES (?, ?)");
    s.bind(1, path);
    bind(s, 2, content);
    s.exec();
}

void clear(SQLite::Database &db, const char *sql, const std::string &path) {
    SQLite::Statement s(db, sql);
    s.bind(1, path);
    s.exec();
}

void writeCurve(SQLite::Database &db, const std::string &path, const Curve &curve) {
    clear(db, "DELETE FROM curve_point WHERE path = ?", path);
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
    clear(db, "DELETE FROM breakpoint WHERE path = ?", path);
    clear(db, "DELETE FROM cell WHERE path = ?", path);
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
    clear(db, "DELETE FROM record WHERE path = ?", list.path);
    SQLite::Statement s(db, "INSERT INTO record (path, idx, key, value) VALUES (?, ?, ?, ?)");
    for (std::size_t i = 0; i < contents.size(); ++i)
        for (std::size_t k = 0; k < list.fields.size(); ++k) {
            SQLite::bind(s, list.path, static_cast<int>(i), list.fields[k].key);
            bind(s, 4, contents[i][k]);
            s.exec();
            s.reset();
        }
}

void writeDigest(SQLite::Database &db, const std::string &chapter, const Blob &digest) {
    SQLite::Statement s(db, "INSERT OR REPLACE INTO digest (chapter, value) VALUES (?, ?)");
    s.bind(1, chapter);
    s.bind(2, digest.bytes.data(), static_cast<int>(digest.bytes.size()));
    s.exec();
}

Blob digestIn(SQLite::Database &db, const std::string &chapter) {
    for (const Row &row : chapterRows(db, RowTable::digest))
        if (row[0] == RowValue(chapter))
            if (const auto *digest = std::get_if<Blob>(&row[1])) return *digest;
    throw InputError(chapter, "a digest", "none");
}

Blob tableDigest(SQLite::Database &db, const std::string &path) {
    return digestOf(chapterRows(db, RowTable::cell, path),
                    digestOf(chapterRows(db, RowTable::breakpoint, path)));
}

} // namespace

JobRows readRows(SQLite::Database &db, bool digests) {
    JobRows rows;
    for (std::size_t t = 0; t < rowTables; ++t)
        if (const auto table = static_cast<RowTable>(t); table != RowTable::digest || digests)
            rows.of[t] = chapterRows(db, table);
    return rows;
}

void writeInfo(SQLite::Database &db, const char *key, int value) {
    SQLite::Statement s(db, "INSERT OR REPLACE INTO job_info (key, value) VALUES (?, ?)");
    SQLite::bind(s, key, value);
    s.exec();
}

void writeAction(SQLite::Database &db, const std::string &what, const std::string &at) {
    SQLite::Statement s(db, "INSERT INTO action (at, what) VALUES (?, ?)");
    SQLite::bind(s, at, what);
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

void writeDigests(SQLite::Database &db) {
    for (const auto &[chapter, digest] : digestsOf(readRows(db, false)))
        writeDigest(db, chapter, digest);
}

void writeDigests(SQLite::Database &db, const JobChange &change) {
    if (!change.fields.empty()) writeDigest(db, fieldChapter, digestOf(chapterRows(db, RowTable::field)));
    if (!change.limits.empty()) writeDigest(db, limitChapter, digestOf(chapterRows(db, RowTable::limit)));
    for (const auto &c : change.curves)
        writeDigest(db, c.path, digestOf(chapterRows(db, RowTable::curvePoint, c.path)));
    for (const auto &t : change.cells)
        writeDigest(db, t.path, tableDigest(db, t.path));
    for (const auto &t : change.tables)
        writeDigest(db, t.path, tableDigest(db, t.path));
    for (const auto &r : change.records)
        writeDigest(db, r.path, digestOf(chapterRows(db, RowTable::record, r.path)));
    Reader last(db, "SELECT id, at, what FROM action ORDER BY id DESC LIMIT 1");
    writeDigest(db, actionChapter, digestOf(last.rows(), digestIn(db, actionChapter)));
}

std::int64_t lastAction(SQLite::Database &db) {
    return db.execAndGet("SELECT coalesce(max(id), 0) FROM action").getInt64();
}

} // namespace wheelwright
