// SPDX-License-Identifier: GPL-3.0-or-later
#include "store/sql_rows.h"

#include "core/base/error.h"
#include "core/job/named_tables.h"

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

std::string columnsOf(const RowTableDefinition &d, std::size_t count, const char *between,
                      const char *after) {
    std::string text;
    for (std::size_t i = 0; i < count; ++i)
        text += (i == 0 ? "" : between) + std::string(d.columns[i]) + after;
    return text;
}

// Long texts as NULL, unless all is wanted.
std::string selectedColumns(RowTable table, bool all) {
    std::string columns = columnsOf(definitionOf(table), definitionOf(table).columns.size(), ", ", "");
    if (table != RowTable::record || all) return columns;
    std::string deferred;
    for (const RecordList &l : allRecordLists())
        for (const RecordField &f : l.fields)
            if (f.deferred())
                deferred += (deferred.empty() ? "" : " OR ") + ("(path = '" + l.path) + "' AND key = '" +
                            f.key + "')";
    return deferred.empty() ? columns : "path, idx, key, iif(" + deferred + ", NULL, value)";
}

RowValue asRow(const FieldContent &content) {
    if (const double *v = std::get_if<double>(&content)) return *v;
    if (const bool *b = std::get_if<bool>(&content)) return static_cast<std::int64_t>(*b);
    return std::get<std::string>(content);
}

void bindValue(SQLite::Statement &s, int at, const RowValue &v) {
    if (const auto *whole = std::get_if<std::int64_t>(&v))
        s.bind(at, *whole);
    else if (const auto *number = std::get_if<double>(&v))
        s.bind(at, *number);
    else if (const auto *text = std::get_if<std::string>(&v))
        s.bindNoCopy(at, *text);
    else if (const auto *blob = std::get_if<Blob>(&v))
        s.bindNoCopy(at, blob->bytes.data(), static_cast<int>(blob->bytes.size()));
    else
        s.bind(at);
}

RowValue valueIn(const SQLite::Column &c) {
    if (c.isInteger()) return c.getInt64();
    if (c.isFloat()) return c.getDouble();
    if (c.isText()) return c.getString();
    if (c.isBlob()) return Blob{c.getString()};
    return std::monostate{};
}

void writeDigest(SQLite::Database &db, const std::string &chapter, const Digest &digest) {
    SQLite::Statement s(db, "INSERT OR REPLACE INTO digest (chapter, value) VALUES (?, ?)");
    s.bind(1, chapter);
    const RowValue blob = digest.bytes(); // bound where it lies
    bindValue(s, 2, blob);
    s.exec();
}

Digest digestIn(SQLite::Database &db, const std::string &chapter) {
    SQLite::Statement s(db, "SELECT value FROM digest WHERE chapter = ?");
    s.bind(1, chapter);
    if (!s.executeStep()) return {};
    const auto digest = digestFrom(valueIn(s.getColumn(0)));
    if (!digest)
        throw InputError(chapter, MARKED("expected.a_digest", "a digest"),
                         MARKED("found.something_else_in_its_place", "something else in its place"));
    return *digest;
}

// So many are checked where they are shown, not at every opening.
bool manyActions(SQLite::Database &db) {
    constexpr int many = 20000;
    return db.execAndGet("SELECT count(*) FROM action").getInt() > many;
}

} // namespace

JobRows readRows(SQLite::Database &db, int version, bool all) {
    JobRows rows;
    rows.version = version;
    for (std::size_t t = 0; t < rowTables; ++t) {
        const auto table = static_cast<RowTable>(t);
        if (table == RowTable::action && !all) rows.withoutActions = manyActions(db);
        if ((table == RowTable::digest && version < digestVersion) ||
            (table == RowTable::action && rows.withoutActions))
            continue;
        const RowTableDefinition &d = definitionOf(table);
        std::string columns = selectedColumns(table, all);
        if (table == RowTable::cell && version < rowDigestVersion) columns = "path, y, x, value";
        const std::string from = std::string(" FROM ") + d.name;
        Reader reader(db, "SELECT " + columns + from + " ORDER BY " + columnsOf(d, d.keys, ", ", ""));
        rows.of[t] =
            reader.rows(static_cast<std::size_t>(db.execAndGet("SELECT count(*)" + from).getInt64()));
    }
    return rows;
}

std::vector<Row> readActions(SQLite::Database &db) {
    return Reader(db, "SELECT id, at, what FROM action ORDER BY id").rows();
}

bool actionsHold(SQLite::Database &db, const JobRows &rows) {
    Digest sum;
    for (const Row &row : rows.in(RowTable::action))
        sum += digestOf(row);
    return sum == digestIn(db, actionChapter);
}

std::string readText(SQLite::Database &db, const std::string &chapter) {
    const std::size_t hash = chapter.find('#'), dot = chapter.find('.', hash);
    SQLite::Statement s(db, "SELECT value FROM record WHERE path = ? AND idx = ? AND key = ?");
    SQLite::bind(s, chapter.substr(0, hash), chapter.substr(hash + 1, dot - hash - 1),
                 chapter.substr(dot + 1));
    if (!s.executeStep() || !s.getColumn(0).isText())
        throw InputError(chapter, MARKED("expected.a_text", "a text"), MARKED("found.none", "none"));
    std::string text = s.getColumn(0).getString();
    if (digestOf(text) != digestIn(db, chapter))
        throw InputError(chapter, MARKED("expected.what_was_written", "what was written"),
                         MARKED("found.damage_not_what_digest_says",
                                "damage: it is not what its digest says; 'job export --salvage', or File › "
                                "Read a damaged job…, reads what can be read"));
    return text;
}

/// Prepared once a table.
struct RowWriter::Statements {
    explicit Statements(SQLite::Database &db) : m_db(db) {}

    SQLite::Statement &select(RowTable t) {
        return of(t, m_select, [](const RowTableDefinition &d) {
            return "SELECT " + columnsOf(d, d.columns.size(), ", ", "") + " FROM " + d.name + " WHERE " +
                   columnsOf(d, d.keys, " AND ", " = ?");
        });
    }
    SQLite::Statement &put(RowTable t) {
        return of(t, m_put, [](const RowTableDefinition &d) {
            std::string marks = "?";
            for (std::size_t i = 1; i < d.columns.size(); ++i)
                marks += ", ?";
            return "INSERT OR REPLACE INTO " + std::string(d.name) + " (" +
                   columnsOf(d, d.columns.size(), ", ", "") + ") VALUES (" + marks + ")";
        });
    }
    SQLite::Statement &remove(RowTable t) {
        return of(t, m_remove, [](const RowTableDefinition &d) {
            return "DELETE FROM " + std::string(d.name) + " WHERE " + columnsOf(d, d.keys, " AND ", " = ?");
        });
    }
    SQLite::Statement &selectAll(RowTable t) {
        return of(t, m_selectAll, [](const RowTableDefinition &d) {
            return "SELECT " + columnsOf(d, d.columns.size(), ", ", "") + " FROM " + d.name +
                   " WHERE path = ?";
        });
    }
    SQLite::Statement &removeAll(RowTable t) {
        return of(t, m_removeAll, [](const RowTableDefinition &d) {
            return "DELETE FROM " + std::string(d.name) + " WHERE path = ?";
        });
    }

  private:
    using Kept = std::map<RowTable, SQLite::Statement>;
    template <class Sql>
    SQLite::Statement &of(RowTable t, Kept &kept, Sql sql) {
        auto at = kept.find(t);
        if (at == kept.end()) at = kept.try_emplace(t, m_db, sql(definitionOf(t))).first;
        at->second.reset();
        return at->second;
    }
    SQLite::Database &m_db;
    Kept m_select, m_put, m_remove, m_selectAll, m_removeAll;
};

RowWriter::RowWriter(SQLite::Database &db, bool digests)
    : m_db(db), m_digests(digests), m_statements(std::make_unique<Statements>(db)) {}
RowWriter::~RowWriter() = default;

namespace {

Row rowIn(SQLite::Statement &s) {
    Row row;
    for (int i = 0; i < s.getColumnCount(); ++i)
        row[static_cast<std::size_t>(i)] = valueIn(s.getColumn(i));
    return row;
}

// What counts for the digest of its chapter: a long text by its own.
Row counted(RowTable table, Row row) {
    if (!textChapterOf(table, row).empty()) row[3] = digestOf(std::get<std::string>(row[3])).bytes();
    return row;
}

} // namespace

namespace {

// SQLite keeps no sign of a zero, and the digest is of what it keeps.
Row asKept(Row row) {
    for (RowValue &v : row)
        if (double *number = std::get_if<double>(&v); number && *number == 0) *number = 0;
    return row;
}

} // namespace

void RowWriter::write(RowTable table, const Row &row) {
    SQLite::Statement &put = m_statements->put(table);
    for (std::size_t i = 0; i < definitionOf(table).columns.size(); ++i)
        bindValue(put, static_cast<int>(i) + 1, row[i]);
    put.exec();
}

bool RowWriter::put(RowTable table, const Row &given) {
    const RowTableDefinition &d = definitionOf(table);
    const Row row = asKept(given);
    bool wasThere = false;
    if (m_digests) {
        SQLite::Statement &select = m_statements->select(table);
        for (std::size_t i = 0; i < d.keys; ++i)
            bindValue(select, static_cast<int>(i) + 1, row[i]);
        const std::string chapter = chapterOf(table, row);
        wasThere = select.executeStep();
        if (wasThere) m_went[chapter] += digestOf(counted(table, rowIn(select)));
        select.reset();
        m_came[chapter] += digestOf(counted(table, row));
        if (const std::string text = textChapterOf(table, row); !text.empty())
            setDigest(text, digestOf(std::get<std::string>(row[3])));
    }
    write(table, row);
    return wasThere;
}

void RowWriter::remove(RowTable table, const Row &key) {
    const RowTableDefinition &d = definitionOf(table);
    SQLite::Statement &select = m_statements->select(table), &remove = m_statements->remove(table);
    for (std::size_t i = 0; i < d.keys; ++i) {
        bindValue(select, static_cast<int>(i) + 1, key[i]);
        bindValue(remove, static_cast<int>(i) + 1, key[i]);
    }
    if (m_digests && select.executeStep()) {
        m_went[chapterOf(table, key)] += digestOf(counted(table, rowIn(select)));
        if (const std::string text = textChapterOf(table, key); !text.empty()) setDigest(text, std::nullopt);
    }
    select.reset();
    remove.exec();
}

void RowWriter::removeAll(RowTable table, const std::string &path) {
    SQLite::Statement &select = m_statements->selectAll(table), &remove = m_statements->removeAll(table);
    select.bind(1, path);
    while (m_digests && select.executeStep()) {
        const Row row = rowIn(select);
        m_went[path] += digestOf(counted(table, row));
        if (const std::string text = textChapterOf(table, row); !text.empty()) setDigest(text, std::nullopt);
    }
    select.reset();
    remove.bind(1, path);
    remove.exec();
}

void RowWriter::info(const char *key, int value) {
    put(RowTable::info, {std::string(key), static_cast<std::int64_t>(value)});
}

void RowWriter::action(const std::string &what, const std::string &at) {
    const Row row{lastAction(m_db) + 1, at, what};
    SQLite::Statement &put = m_statements->put(RowTable::action);
    for (int i = 0; i < 3; ++i)
        bindValue(put, i + 1, row[static_cast<std::size_t>(i)]);
    put.exec();
    m_came[actionChapter] += digestOf(row);
}

void RowWriter::field(const std::string &path, const FieldContent &content) {
    put(RowTable::field, {path, asRow(content)});
}

void RowWriter::curve(const std::string &path, const Curve &curve) {
    removeAll(RowTable::curvePoint, path);
    for (std::size_t i = 0; i < curve.axis().size(); ++i)
        put(RowTable::curvePoint, {path, static_cast<std::int64_t>(i), curve.axis()[i], curve.values()[i]});
}

void RowWriter::axis(const std::string &path, const char *name, const Axis &axis) {
    for (std::size_t i = 0; i < axis.size(); ++i)
        put(RowTable::breakpoint, {path, std::string(name), static_cast<std::int64_t>(i), axis[i]});
}

namespace {

Row cellRow(const std::string &path, CellIndex at, double value, CellOrigin origin) {
    return {path, static_cast<std::int64_t>(at.y), static_cast<std::int64_t>(at.x), value,
            origin == CellOrigin::unknown ? RowValue{} : RowValue{std::string(1, definitionOf(origin).code)}};
}

} // namespace

void RowWriter::table(const std::string &path, const Table2D &table) {
    removeAll(RowTable::breakpoint, path);
    removeAll(RowTable::cell, path);
    axis(path, "x", table.x());
    axis(path, "y", table.y());
    for (std::size_t y = 0; y < table.y().size(); ++y)
        for (std::size_t x = 0; x < table.x().size(); ++x)
            put(RowTable::cell, cellRow(path, {x, y}, table.cell(x, y), table.origin({x, y})));
}

void RowWriter::cells(const JobChange::CellSteps &steps) {
    const auto requireThere = [&](bool there) {
        if (!there)
            throw InputError(steps.path, MARKED("expected.a_cell_to_change", "a cell to change"),
                             MARKED("found.none", "none"));
    };
    constexpr std::size_t few = 200;
    if (steps.cells.size() < few) {
        for (const JobChange::Cell &c : steps.cells)
            requireThere(put(RowTable::cell, cellRow(steps.path, c.at, c.after, c.originAfter)));
        return;
    }
    // What many held before is read in one walk over the table: looking each up costs as much as writing it.
    std::map<std::pair<std::int64_t, std::int64_t>, Row> rows;
    for (const JobChange::Cell &c : steps.cells)
        rows.emplace(std::pair(static_cast<std::int64_t>(c.at.y), static_cast<std::int64_t>(c.at.x)),
                     asKept(cellRow(steps.path, c.at, c.after, c.originAfter)));
    SQLite::Statement &select = m_statements->selectAll(RowTable::cell);
    select.bind(1, steps.path);
    std::size_t found = 0;
    while (select.executeStep()) {
        const auto at = rows.find({select.getColumn(1).getInt64(), select.getColumn(2).getInt64()});
        if (at == rows.end()) continue;
        ++found;
        m_went[steps.path] += digestOf(rowIn(select));
        m_came[steps.path] += digestOf(at->second);
    }
    select.reset();
    requireThere(found == rows.size());
    for (const auto &[at, row] : rows)
        write(RowTable::cell, row);
}

void RowWriter::limit(const std::string &id, std::optional<double> value) {
    if (value)
        put(RowTable::limit, {id, *value});
    else
        remove(RowTable::limit, {id});
}

void RowWriter::value(const RecordList &list, RecordId id, const RecordField &f, const RecordValue &value) {
    if (const auto *t = std::get_if<Table2D>(&value)) return table(recordTablePath(list, id, f), *t);
    Row row{list.path, id, f.key};
    if (const auto *text = std::get_if<DeferredText>(&value))
        row[3] = text->text();
    else if (const auto *flag = std::get_if<bool>(&value))
        row[3] = static_cast<std::int64_t>(*flag);
    else if (const auto *number = std::get_if<double>(&value))
        row[3] = *number;
    else
        row[3] = std::get<std::string>(value);
    put(RowTable::record, row);
}

void RowWriter::removeRecord(const RecordList &list, RecordId id) {
    for (const RecordField &f : list.fields) {
        if (f.table()) {
            removeAll(RowTable::breakpoint, recordTablePath(list, id, f));
            removeAll(RowTable::cell, recordTablePath(list, id, f));
        }
        remove(RowTable::record, {list.path, id, f.key});
    }
}

void RowWriter::removeRecords(const std::string &path) {
    removeAll(RowTable::record, path);
}

void RowWriter::records(const RecordList &list, const Job &job) {
    removeRecords(list.path);
    const auto ids = list.ids(job);
    for (std::size_t i = 0; i < ids.size(); ++i)
        for (const RecordField &f : list.fields) {
            if (f.table())
                table(recordTablePath(list, ids[i], f), f.tableIn(job, i));
            else
                put(RowTable::record, {list.path, ids[i], f.key, asRow(f.read(job, i))});
        }
}

void RowWriter::records(const JobChange::RecordSteps &steps) {
    using Kind = JobChange::RecordStep::Kind;
    const RecordList &list = *recordListByPath(steps.path);
    for (const JobChange::RecordStep &s : steps.steps) {
        if (s.kind == Kind::removed) removeRecord(list, s.id);
        for (std::size_t n = 0; s.kind == Kind::inserted && n < list.fields.size(); ++n)
            value(list, s.id, list.fields[n], s.whole[n]);
        for (const JobChange::RecordStep::Value &v : s.values)
            value(list, s.id, list.fields[v.field], v.step.after);
    }
}

void RowWriter::wholeJob(const Job &job) {
    for (const Field &f : allFields())
        field(f.path, f.read(job));
    for (const CurveField &c : allCurves())
        curve(c.path, c.in(job));
    for (const TableField &t : allTables())
        table(t.path, t.of(job));
    for (const RecordList &l : allRecordLists())
        records(l, job);
    for (const auto &[id, v] : job.limits)
        limit(id, v);
}

void RowWriter::change(const JobChange &change) {
    for (const auto &f : change.fields)
        field(f.path, f.step.after);
    for (const auto &c : change.curves)
        curve(c.path, c.step.after);
    for (const auto &r : change.records)
        records(r);
    for (const auto &t : change.cells)
        cells(t);
    for (const auto &t : change.tables)
        table(t.path, t.step.after);
    for (const auto &l : change.limits)
        limit(l.id, l.step.after);
}

void RowWriter::finish() {
    std::map<std::string, Digest> delta = m_came;
    for (const auto &[chapter, digest] : m_went)
        delta[chapter] -= digest;
    for (const auto &[chapter, digest] : delta)
        if (digest != Digest{}) {
            Digest sum = digestIn(m_db, chapter);
            sum += digest;
            // The table of a record that has gone leaves nothing.
            const bool gone = sum == Digest{} && chapter.find('#') != std::string::npos;
            setDigest(chapter, gone ? std::nullopt : std::optional(sum));
        }
    Digest digests = digestIn(m_db, digestChapter);
    digests += m_digestsCame;
    digests -= m_digestsWent;
    writeDigest(m_db, digestChapter, digests);
    m_came.clear();
    m_went.clear();
    m_digestsCame = m_digestsWent = {};
}

void RowWriter::setDigest(const std::string &chapter, std::optional<Digest> digest) {
    SQLite::Statement &select = m_statements->select(RowTable::digest);
    select.bind(1, chapter);
    if (select.executeStep()) m_digestsWent += digestOf(rowIn(select));
    select.reset();
    if (digest) {
        m_digestsCame += digestOf(Row{chapter, digest->bytes()});
        return writeDigest(m_db, chapter, *digest);
    }
    SQLite::Statement &remove = m_statements->remove(RowTable::digest);
    remove.bind(1, chapter);
    remove.exec();
}

void writeDigests(SQLite::Database &db) {
    db.exec("DELETE FROM digest");
    for (const auto &[chapter, digest] : digestsOf(readRows(db, rowDigestVersion, true)))
        writeDigest(db, chapter, digest);
    writeDigest(db, digestChapter, digestOfDigests(Reader(db, "SELECT chapter, value FROM digest").rows()));
}

int pragmaNumber(SQLite::Database &db, const char *name) {
    return db.execAndGet(std::string("PRAGMA ") + name).getInt();
}

std::int64_t lastAction(SQLite::Database &db) {
    return db.execAndGet("SELECT coalesce(max(id), 0) FROM action").getInt64();
}

} // namespace wheelwright
