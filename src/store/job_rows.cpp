#include "store/job_rows.h"

#include "core/base/error.h"
#include "core/base/limits.h"

#include <xxhash.h>

#include <algorithm>
#include <optional>

namespace wheelwright {
namespace {

const std::string &textOf(const Row &row, std::size_t column) {
    static const std::string none;
    const auto *text = std::get_if<std::string>(&row[column]);
    return text ? *text : none;
}

std::string typeOf(const RowValue &v) {
    switch (v.index()) {
    case 0:
        return "nothing";
    case 1:
        return "the whole number " + std::to_string(std::get<std::int64_t>(v));
    case 2:
        return "the number " + std::to_string(std::get<double>(v));
    case 3:
        return "the text '" + echoed(std::get<std::string>(v), 30) + "'";
    default:
        return "bytes";
    }
}

std::optional<double> numberIn(const RowValue &v) {
    if (const auto *real = std::get_if<double>(&v)) return *real;
    if (const auto *whole = std::get_if<std::int64_t>(&v)) return static_cast<double>(*whole);
    return std::nullopt;
}

double numberFrom(const RowValue &v, const std::string &where) {
    if (const auto number = numberIn(v)) return *number;
    throw InputError(where, "a number", typeOf(v));
}

// `where` is asked only when something is wrong: there are hundreds of thousands of rows.
template <class Where>
FieldContent contentFrom(const RowValue &v, const FieldContent &kind, Where where) {
    if (std::holds_alternative<std::string>(kind)) {
        if (const auto *text = std::get_if<std::string>(&v)) return *text;
        throw InputError(where(), "text", typeOf(v));
    }
    if (std::holds_alternative<double>(kind)) {
        if (const auto number = numberIn(v)) return *number;
        throw InputError(where(), "a number", typeOf(v));
    }
    const auto *whole = std::get_if<std::int64_t>(&v);
    if (!whole || (*whole != 0 && *whole != 1)) throw InputError(where(), "0 or 1", typeOf(v));
    return *whole == 1;
}

// The row of this place in a list that is numbered from 0.
void requireIndex(const RowValue &v, std::size_t expected, const std::string &where) {
    const auto *whole = std::get_if<std::int64_t>(&v);
    if (!whole || *whole != static_cast<std::int64_t>(expected))
        throw InputError(where, "row number " + std::to_string(expected), typeOf(v));
}

std::string numbered(const std::string &path, const char *what, std::size_t from0) {
    return path + " " + what + std::to_string(from0 + 1);
}

// The rows of one axis: a table's are sorted by axis, then index.
Axis axisFrom(std::span<const Row> rows, const std::string &path, const char *name) {
    std::vector<double> points;
    const std::string where = path + " " + name;
    for (const Row &row : rows) {
        if (textOf(row, 1) != name) continue;
        requireIndex(row[2], points.size(), where + " breakpoint");
        points.push_back(numberFrom(row[3], numbered(where, "breakpoint ", points.size())));
    }
    return Axis(std::move(points), where);
}

// Axes of a table whose breakpoints are all of them its own.
std::pair<Axis, Axis> axesFrom(const JobRows &rows, const std::string &path) {
    const auto points = rows.at(RowTable::breakpoint, path);
    std::pair axes{axisFrom(points, path, "x"), axisFrom(points, path, "y")};
    if (points.size() != axes.first.size() + axes.second.size())
        throw InputError(path, "breakpoints of x and y",
                         std::to_string(points.size() - axes.first.size() - axes.second.size()) +
                             " of others");
    return axes;
}

std::string recordPlace(const RecordList &list, std::size_t record, const std::string &key) {
    return list.path + " " + std::to_string(record + 1) + " " + key;
}

std::vector<FieldContent> kindsOf(const RecordList &list) {
    std::vector<FieldContent> kinds;
    for (const RecordField &f : list.fields)
        kinds.push_back(f.read(sampleJob(), 0));
    return kinds;
}

// Keys of a list in the order of the file, and where each stands in the list.
std::vector<std::pair<std::string, std::size_t>> keysOf(const RecordList &list) {
    std::vector<std::pair<std::string, std::size_t>> keys;
    for (std::size_t k = 0; k < list.fields.size(); ++k)
        keys.emplace_back(list.fields[k].key, k);
    std::ranges::sort(keys);
    return keys;
}

template <class List>
void requireKnownPaths(const JobRows &rows, RowTable table, const List &known) {
    const std::string *last = nullptr;
    for (const Row &row : rows.in(table)) {
        const std::string &path = textOf(row, 0);
        if (last && *last == path) continue;
        last = &path;
        if (!known(path))
            throw InputError(std::string("table ") + definitionOf(table).name, "known paths",
                             "'" + echoed(path, 40) + "'");
    }
}

} // namespace

const RowTableDefinition &definitionOf(RowTable table) {
    static constexpr std::array<RowTableDefinition, rowTables> all{{
        {"job_info", 2, "SELECT key, value FROM job_info ORDER BY key"},
        {"field", 2, "SELECT path, value FROM field ORDER BY path"},
        {"limit_override", 2, "SELECT id, value FROM limit_override ORDER BY id"},
        {"curve_point", 4, "SELECT path, idx, x, y FROM curve_point ORDER BY path, idx"},
        {"breakpoint", 4, "SELECT path, axis, idx, value FROM breakpoint ORDER BY path, axis, idx"},
        {"cell", 4, "SELECT path, y, x, value FROM cell ORDER BY path, y, x"},
        {"record", 4, "SELECT path, idx, key, value FROM record ORDER BY path, idx, key"},
        {"action", 3, "SELECT id, at, what FROM action ORDER BY id"},
        {"digest", 2, "SELECT chapter, value FROM digest ORDER BY chapter"},
    }};
    return all[static_cast<std::size_t>(table)];
}

std::span<const Row> JobRows::at(RowTable t, const std::string &path) const {
    const std::vector<Row> &all = in(t);
    const auto from = std::ranges::lower_bound(
        all, path, {}, [](const Row &r) -> const std::string & { return textOf(r, 0); });
    auto to = from;
    while (to != all.end() && textOf(*to, 0) == path)
        ++to;
    return {from, to};
}

FieldContent fieldFrom(const JobRows &rows, const Field &field) {
    const auto found = rows.at(RowTable::field, field.path);
    if (found.size() != 1)
        throw InputError(field.path, "a row in the table field",
                         found.empty() ? "none" : std::to_string(found.size()));
    FieldContent content = contentFrom(found[0][1], field.read(sampleJob()), [&] { return field.path; });
    validate(field, content);
    return content;
}

Curve curveFrom(const JobRows &rows, const CurveField &field) {
    std::vector<double> x, y;
    for (const Row &row : rows.at(RowTable::curvePoint, field.path)) {
        const std::string where = numbered(field.path, "point ", x.size());
        requireIndex(row[1], x.size(), where);
        x.push_back(numberFrom(row[2], where + " x"));
        y.push_back(numberFrom(row[3], where + " y"));
    }
    Curve curve(std::move(x), std::move(y), field.path);
    validate(field, curve);
    return curve;
}

Table2D tableFrom(const JobRows &rows, const TableField &field) {
    auto [x, y] = axesFrom(rows, field.path);
    const auto found = rows.at(RowTable::cell, field.path);
    if (found.size() != x.size() * y.size())
        throw InputError(field.path, std::to_string(x.size() * y.size()) + " cells",
                         std::to_string(found.size()));
    std::vector<double> cells;
    cells.reserve(found.size());
    for (std::size_t i = 0; i < found.size(); ++i) {
        const std::size_t row = i / x.size(), column = i % x.size();
        const auto where = [&] {
            return numbered(field.path, "row ", row) + ", column " + std::to_string(column + 1);
        };
        const auto *atY = std::get_if<std::int64_t>(&found[i][1]);
        const auto *atX = std::get_if<std::int64_t>(&found[i][2]);
        if (!atY || !atX || *atY != static_cast<std::int64_t>(row) ||
            *atX != static_cast<std::int64_t>(column))
            throw InputError(where(), "a cell of that place",
                             "y " + typeOf(found[i][1]) + ", x " + typeOf(found[i][2]));
        const auto *real = std::get_if<double>(&found[i][3]);
        cells.push_back(real ? *real : numberFrom(found[i][3], where()));
    }
    Table2D table(std::move(x), std::move(y), std::move(cells), field.path);
    validate(field, table);
    return table;
}

void recordsFrom(const JobRows &rows, const RecordList &list, Job &job) {
    const auto found = rows.at(RowTable::record, list.path);
    const std::size_t keys = list.fields.size(), records = found.size() / keys;
    if (records > list.most)
        throw InputError(list.path, "at most " + std::to_string(list.most) + " records",
                         std::to_string(records));
    const std::vector<FieldContent> kinds = kindsOf(list);
    const auto order = keysOf(list);
    list.resize(job, 0); // what a longer list held there is no default
    list.resize(job, records);
    for (std::size_t i = 0; i < found.size(); ++i) {
        const std::size_t record = i / keys;
        const auto &[key, at] = order[i % keys];
        const auto *index = std::get_if<std::int64_t>(&found[i][1]);
        if (!index || *index != static_cast<std::int64_t>(record) || textOf(found[i], 2) != key ||
            record == records)
            throw InputError(recordPlace(list, record, key), "a row in the table record",
                             "row " + typeOf(found[i][1]) + ", key " + typeOf(found[i][2]));
        const FieldContent content =
            contentFrom(found[i][3], kinds[at], [&] { return recordPlace(list, record, key); });
        validate(list, list.fields[at], record, content);
        list.fields[at].write(job, record, content);
    }
}

Limits limitsFrom(const JobRows &rows) {
    Limits limits;
    for (const Row &row : rows.in(RowTable::limit)) {
        const std::string &id = textOf(row, 0);
        const double v = numberFrom(row[1], "limit " + id);
        validateLimit(id, v);
        limits[id] = v;
    }
    return limits;
}

Job jobFrom(const JobRows &rows) {
    Job job = newJob("");
    for (const Field &f : allFields())
        f.write(job, fieldFrom(rows, f));
    for (const CurveField &c : allCurves())
        c.of(job) = curveFrom(rows, c);
    for (const TableField &t : allTables())
        t.of(job) = tableFrom(rows, tableIn(job, t.quantity, t.top));
    for (const RecordList &l : allRecordLists())
        recordsFrom(rows, l, job);
    job.limits = limitsFrom(rows);
    requireKnownPaths(rows, RowTable::field, [](const std::string &p) { return fieldByPath(p); });
    requireKnownPaths(rows, RowTable::curvePoint, [](const std::string &p) { return curveByPath(p); });
    requireKnownPaths(rows, RowTable::breakpoint, [](const std::string &p) { return tableByPath(p); });
    requireKnownPaths(rows, RowTable::cell, [](const std::string &p) { return tableByPath(p); });
    requireKnownPaths(rows, RowTable::record, [](const std::string &p) { return recordListByPath(p); });
    validate(job);
    return job;
}

std::optional<PartOfTable> partOfTable(const JobRows &rows, const TableField &field) {
    auto [x, y] = axesFrom(rows, field.path);
    std::vector<std::optional<double>> cells(x.size() * y.size());
    std::size_t there = 0;
    for (const Row &row : rows.at(RowTable::cell, field.path)) {
        const auto *atY = std::get_if<std::int64_t>(&row[1]);
        const auto *atX = std::get_if<std::int64_t>(&row[2]);
        const auto *v = std::get_if<double>(&row[3]);
        if (!atY || !atX || !v || *atY < 0 || *atX < 0) continue;
        const auto iy = static_cast<std::size_t>(*atY), ix = static_cast<std::size_t>(*atX);
        if (iy >= y.size() || ix >= x.size() || *v < field.least || *v > field.most) continue;
        auto &cell = cells[iy * x.size() + ix];
        there += !cell;
        cell = *v;
    }
    if (there == 0 || 2 * there < cells.size()) return std::nullopt;
    std::vector<double> whole(cells.size());
    for (std::size_t i = 0; i < cells.size(); ++i) {
        std::size_t best = cells.size(), least = cells.size();
        for (std::size_t k = 0; k < cells.size(); ++k) {
            if (!cells[k]) continue;
            const auto apart = [](std::size_t a, std::size_t b) { return a > b ? a - b : b - a; };
            const std::size_t far = apart(i / x.size(), k / x.size()) + apart(i % x.size(), k % x.size());
            if (far < least) {
                least = far;
                best = k;
            }
        }
        whole[i] = *cells[best];
    }
    const std::size_t missing = cells.size() - there;
    return PartOfTable{Table2D(std::move(x), std::move(y), std::move(whole), field.path), missing};
}

PartOfRecords partOfRecords(const JobRows &rows, const RecordList &list) {
    const std::vector<FieldContent> kinds = kindsOf(list);
    std::map<std::int64_t, std::vector<std::optional<FieldContent>>> found;
    for (const Row &row : rows.at(RowTable::record, list.path)) {
        const auto *index = std::get_if<std::int64_t>(&row[1]);
        if (!index || *index < 0) continue;
        const auto field = std::ranges::find(list.fields, textOf(row, 2), &RecordField::key);
        if (field == list.fields.end()) continue;
        const auto at = static_cast<std::size_t>(field - list.fields.begin());
        auto &record = found[*index];
        record.resize(list.fields.size());
        try {
            FieldContent content = contentFrom(row[3], kinds[at], [&] { return list.path; });
            validate(list, *field, 0, content);
            record[at] = std::move(content);
        } catch (const InputError &) {
            continue; // as if it were not there
        }
    }
    PartOfRecords out{{}, 0};
    for (const auto &[index, record] : found) {
        if (out.contents.size() == list.most ||
            std::ranges::any_of(record, [](const auto &c) { return !c; })) {
            ++out.dropped;
            continue;
        }
        std::vector<FieldContent> whole;
        for (const auto &c : record)
            whole.push_back(*c);
        out.contents.push_back(std::move(whole));
    }
    if (!found.empty()) // those between, of which not one row is left
        out.dropped += static_cast<std::size_t>(found.rbegin()->first + 1) - found.size();
    return out;
}

// Digests

namespace {

void feed(std::string &buffer, const RowValue &v) {
    const auto bytes = [&buffer](const auto &number) {
        buffer.append(reinterpret_cast<const char *>(&number), sizeof number);
    };
    buffer += static_cast<char>(v.index());
    if (const auto *whole = std::get_if<std::int64_t>(&v)) {
        bytes(*whole);
    } else if (const auto *real = std::get_if<double>(&v)) {
        bytes(*real);
    } else if (v.index() >= 3) {
        const std::string &text = v.index() == 3 ? std::get<std::string>(v) : std::get<Blob>(v).bytes;
        bytes(static_cast<std::uint64_t>(text.size()));
        buffer += text;
    }
}

} // namespace

Blob digestOf(std::span<const Row> rows, const Blob &before) {
    std::string buffer = before.bytes;
    for (const Row &row : rows)
        for (const RowValue &v : row)
            feed(buffer, v);
    XXH128_canonical_t bytes;
    XXH128_canonicalFromHash(&bytes, XXH3_128bits(buffer.data(), buffer.size()));
    return {std::string(reinterpret_cast<const char *>(bytes.digest), sizeof bytes.digest)};
}

std::map<std::string, Blob> digestsOf(const JobRows &rows) {
    std::map<std::string, Blob> out;
    out[infoChapter] = digestOf(rows.in(RowTable::info));
    out[fieldChapter] = digestOf(rows.in(RowTable::field));
    out[limitChapter] = digestOf(rows.in(RowTable::limit));
    Blob &chain = out[actionChapter];
    for (const Row &row : rows.in(RowTable::action))
        chain = digestOf({&row, 1}, chain);
    for (const CurveField &c : allCurves())
        out[c.path] = digestOf(rows.at(RowTable::curvePoint, c.path));
    for (const TableField &t : allTables())
        out[t.path] =
            digestOf(rows.at(RowTable::cell, t.path), digestOf(rows.at(RowTable::breakpoint, t.path)));
    for (const RecordList &l : allRecordLists())
        out[l.path] = digestOf(rows.at(RowTable::record, l.path));
    return out;
}

std::vector<std::string> brokenChapters(const JobRows &rows) {
    std::map<std::string, Blob> stated;
    for (const Row &row : rows.in(RowTable::digest))
        if (const auto *value = std::get_if<Blob>(&row[1])) stated[textOf(row, 0)] = *value;
    std::vector<std::string> broken;
    for (const auto &[chapter, digest] : digestsOf(rows)) {
        const auto at = stated.find(chapter);
        if (at == stated.end() || at->second != digest) broken.push_back(chapter);
        if (at != stated.end()) stated.erase(at);
    }
    for (const auto &[chapter, unused] : stated)
        broken.push_back("digest of " + echoed(chapter, 40));
    if (rows.in(RowTable::action).empty()) broken.emplace_back(actionChapter);
    return broken;
}

} // namespace wheelwright
