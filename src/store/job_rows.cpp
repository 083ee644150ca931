// SPDX-License-Identifier: GPL-3.0-or-later
#include "store/job_rows.h"

#include "core/base/error.h"
#include "core/base/limits.h"
#include "core/job/named_tables.h"
#include "core/job/old_ceilings.h"
#include "core/tables/table_text.h"

#include <xxhash.h>

#include <algorithm>
#include <limits>
#include <optional>
#include <utility>

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
    throw InputError(where, MARKED("expected.a_number", "a number"), typeOf(v));
}

// `where` is asked only when something is wrong: there are hundreds of thousands of rows.
template <class Where>
FieldContent contentFrom(const RowValue &v, const FieldContent &kind, Where where) {
    if (std::holds_alternative<std::string>(kind)) {
        if (const auto *text = std::get_if<std::string>(&v)) return *text;
        throw InputError(where(), MARKED("expected.text", "text"), typeOf(v));
    }
    if (std::holds_alternative<double>(kind)) {
        if (const auto number = numberIn(v)) return *number;
        throw InputError(where(), MARKED("expected.a_number", "a number"), typeOf(v));
    }
    const auto *whole = std::get_if<std::int64_t>(&v);
    if (!whole || (*whole != 0 && *whole != 1))
        throw InputError(where(), MARKED("expected.0_or_1", "0 or 1"), typeOf(v));
    return *whole == 1;
}

// The row of this place in a list that is numbered from 0.
void requireIndex(const RowValue &v, std::size_t expected, const std::string &where) {
    const auto *whole = std::get_if<std::int64_t>(&v);
    if (!whole || *whole != static_cast<std::int64_t>(expected))
        throw InputError(
            where, Phrase{MARKED("expected.row_number", "row number {a}"), {}, {std::to_string(expected)}},
            typeOf(v));
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
        throw InputError(path, MARKED("expected.breakpoints_of_x_and_y", "breakpoints of x and y"),
                         std::to_string(points.size() - axes.first.size() - axes.second.size()) +
                             " of others");
    return axes;
}

template <class Where>
CellOrigin originFrom(const RowValue &v, Where where) {
    if (v.index() == 0) return CellOrigin::unknown;
    const auto *code = std::get_if<std::string>(&v);
    const auto at = std::ranges::find_if(allCellOrigins(), [&](const CellOriginDefinition &d) {
        return code && code->size() == 1 && d.code == (*code)[0] && d.origin != CellOrigin::unknown;
    });
    if (at == allCellOrigins().end())
        throw InputError(where() + " origin", MARKED("expected.a_letter_of_timlce", "a letter of timlce"),
                         typeOf(v));
    return at->origin;
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

template <class List>
void requireKnownPaths(const JobRows &rows, RowTable table, const List &known) {
    const std::string *last = nullptr;
    for (const Row &row : rows.in(table)) {
        const std::string &path = textOf(row, 0);
        if (last && *last == path) continue;
        last = &path;
        if (!known(path))
            throw InputError(std::string("table ") + definitionOf(table).name,
                             MARKED("expected.known_paths", "known paths"), "'" + echoed(path, 40) + "'");
    }
}

} // namespace

const RowTableDefinition &definitionOf(RowTable table) {
    static const std::array<RowTableDefinition, rowTables> all{{
        {"job_info", {"key", "value"}, 1},
        {"field", {"path", "value"}, 1},
        {"limit_override", {"id", "value"}, 1},
        {"curve_point", {"path", "idx", "x", "y"}, 2},
        {"breakpoint", {"path", "axis", "idx", "value"}, 3},
        {"cell", {"path", "y", "x", "value", "origin"}, 3},
        {"record", {"path", "idx", "key", "value"}, 3},
        {"action", {"id", "at", "what"}, 1},
        {"digest", {"chapter", "value"}, 1},
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
    if (found.empty()) return field.read(sampleJob());
    FieldContent content = contentFrom(found[0][1], field.read(sampleJob()), [&] { return field.path; });
    validate(field, content);
    return content;
}

Curve curveFrom(const JobRows &rows, const CurveField &field) {
    std::vector<double> x, y;
    const auto points = rows.at(RowTable::curvePoint, field.path);
    if (points.empty()) return field.in(sampleJob());
    for (const Row &row : points) {
        const std::string where = numbered(field.path, "point ", x.size());
        requireIndex(row[1], x.size(), where);
        x.push_back(numberFrom(row[2], where + " x"));
        y.push_back(numberFrom(row[3], where + " y"));
    }
    Curve curve(std::move(x), std::move(y), field.path);
    validate(field, curve);
    return curve;
}

Table2D tableFrom(const JobRows &rows, const TableField &field, bool judged) {
    auto [x, y] = axesFrom(rows, field.path);
    const auto found = rows.at(RowTable::cell, field.path);
    if (found.size() != x.size() * y.size())
        throw InputError(
            field.path,
            Phrase{MARKED("expected.cells", "{a} cells"), {}, {std::to_string(x.size() * y.size())}},
            std::to_string(found.size()));
    std::vector<double> cells;
    std::vector<CellOrigin> origins;
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
            throw InputError(where(), MARKED("expected.a_cell_of_that_place", "a cell of that place"),
                             "y " + typeOf(found[i][1]) + ", x " + typeOf(found[i][2]));
        const auto *real = std::get_if<double>(&found[i][3]);
        cells.push_back(real ? *real : numberFrom(found[i][3], where()));
        if (found[i][4].index() == 0 && origins.empty()) continue; // nothing is recorded so far
        origins.resize(i, CellOrigin::unknown);
        origins.push_back(originFrom(found[i][4], where));
    }
    if (!origins.empty()) origins.resize(cells.size(), CellOrigin::unknown);
    Table2D table(std::move(x), std::move(y), std::move(cells), field.path);
    table.setOrigins(std::move(origins));
    if (judged) validate(field, table);
    return table;
}

namespace {

// The table of a record: rows of its own, or text in files before version 8.
Table2D recordTableFrom(const JobRows &rows, const RecordList &list, RecordId id, const RecordField &f,
                        const RowValue *old, const std::string &where) {
    if (rows.version < rowDigestVersion && old) {
        const auto *text = std::get_if<std::string>(old);
        if (!text) throw InputError(where, MARKED("expected.text", "text"), typeOf(*old));
        return tableFromText(*text, where);
    }
    TableField whole; // its numbers are judged with the job: their range depends on the rest
    whole.path = recordTablePath(list, id, f);
    whole.least = -std::numeric_limits<double>::infinity();
    whole.most = std::numeric_limits<double>::infinity();
    return tableFrom(rows, whole, false);
}

// One record: `found` are its rows, all of one id, in the order of keys.
void recordFrom(const JobRows &rows, const RecordList &list, std::span<const Row> found, RecordId id,
                std::size_t place, const std::vector<FieldContent> &kinds, Job &job) {
    std::vector<const RowValue *> values(list.fields.size());
    for (const Row &row : found) {
        const auto f = std::ranges::find(list.fields, textOf(row, 2), &RecordField::key);
        if (f == list.fields.end() || (f->table() && rows.version >= rowDigestVersion))
            throw InputError(recordPlace(list, place, "key"),
                             MARKED("expected.a_key_of_this_list", "a key of this list"), typeOf(row[2]));
        values[static_cast<std::size_t>(f - list.fields.begin())] = &row[3];
    }
    for (std::size_t k = 0; k < list.fields.size(); ++k) {
        const RecordField &f = list.fields[k];
        const auto where = [&] { return recordPlace(list, place, f.key); };
        if (f.table()) {
            f.tableOf(job, place) = recordTableFrom(rows, list, id, f, values[k], where());
            continue;
        }
        if (!values[k]) continue; // the default
        if (f.deferred() && values[k]->index() == 0 && rows.later) {
            f.deferredOf(job, place) =
                rows.later(textChapterOf(RowTable::record, {list.path, id, f.key, {}, {}}));
            continue;
        }
        const FieldContent content = contentFrom(*values[k], kinds[k], where);
        validate(list, f, place, content);
        f.write(job, place, content);
    }
}

// The rows of each record of a list, by id.
std::vector<std::pair<RecordId, std::span<const Row>>> recordRows(const JobRows &rows,
                                                                  const RecordList &list) {
    const auto found = rows.at(RowTable::record, list.path);
    std::vector<std::pair<RecordId, std::span<const Row>>> records;
    for (std::size_t i = 0; i < found.size();) {
        const auto *id = std::get_if<std::int64_t>(&found[i][1]);
        if (!id || *id < 0)
            throw InputError(recordPlace(list, records.size(), "idx"),
                             MARKED("expected.a_whole_number_from_0", "a whole number from 0"),
                             typeOf(found[i][1]));
        std::size_t end = i;
        while (end < found.size() && found[end][1] == found[i][1])
            ++end;
        records.emplace_back(*id, found.subspan(i, end - i));
        i = end;
    }
    return records;
}

} // namespace

void recordsFrom(const JobRows &rows, const RecordList &list, Job &job) {
    const auto found = recordRows(rows, list);
    if (found.size() > list.most)
        throw InputError(
            list.path,
            Phrase{MARKED("expected.records", "at most {a} records"), {}, {std::to_string(list.most)}},
            std::to_string(found.size()));
    const std::vector<FieldContent> kinds = kindsOf(list);
    list.resize(job, 0); // what a longer list held there is no default
    list.resize(job, found.size());
    std::vector<RecordId> ids;
    for (const auto &[id, of] : found) {
        recordFrom(rows, list, of, id, ids.size(), kinds, job);
        ids.push_back(id);
    }
    if (!ids.empty()) list.setIds(job, std::move(ids));
}

void oldOriginsFrom(const JobRows &rows, Job &job) {
    std::map<RowValue, std::pair<std::string, std::string>> records;
    for (const Row &row : rows.at(RowTable::record, oldOriginsPath)) {
        auto &[table, codes] = records[row[1]];
        (textOf(row, 2) == "table" ? table : codes) = textOf(row, 3);
    }
    std::size_t record = 0;
    for (const auto &[unused, origin] : records)
        setOriginText(job, origin.first, origin.second, numbered(oldOriginsPath, "", record++) + " codes");
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
    if (rows.version < rowDigestVersion) oldOriginsFrom(rows, job);
    if (rows.version < ceilingsVersion) spreadOldCeilings(job);
    if (rows.version < statementsVersion) stateWhatDiffers(job);
    const auto knownTable = [&](const std::string &p) { return tableAt(std::as_const(job), p) != nullptr; };
    requireKnownPaths(rows, RowTable::field, [](const std::string &p) { return fieldByPath(p); });
    requireKnownPaths(rows, RowTable::curvePoint, [](const std::string &p) { return curveByPath(p); });
    requireKnownPaths(rows, RowTable::breakpoint, knownTable);
    requireKnownPaths(rows, RowTable::cell, knownTable);
    requireKnownPaths(rows, RowTable::record, [&](const std::string &p) {
        return recordListByPath(p) || (rows.version < rowDigestVersion && p == oldOriginsPath);
    });
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
        if (iy >= y.size() || ix >= x.size())
            return std::nullopt; // a breakpoint is gone: nothing is in its place
        if (*v < field.least || *v > field.most) continue;
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

PartOfRecords partOfRecords(const JobRows &rows, const RecordList &list, Job &job) {
    const std::vector<FieldContent> kinds = kindsOf(list);
    std::map<std::int64_t, std::vector<Row>> found;
    for (const Row &row : rows.at(RowTable::record, list.path))
        if (const auto *id = std::get_if<std::int64_t>(&row[1]); id && *id >= 0) found[*id].push_back(row);
    // A record of which a row is missing would come back with a default that nobody chose.
    const std::size_t keys = static_cast<std::size_t>(std::ranges::count_if(
        list.fields, [&](const RecordField &f) { return !f.table() || rows.version < rowDigestVersion; }));
    PartOfRecords part;
    std::vector<RecordId> ids;
    list.resize(job, 0);
    for (const auto &[id, of] : found) {
        const std::size_t place = ids.size();
        bool whole = place < list.most && of.size() == keys;
        if (whole) try {
                list.resize(job, place + 1);
                recordFrom(rows, list, of, id, place, kinds, job);
                ids.push_back(id);
            } catch (const InputError &) {
                list.resize(job, place);
                whole = false;
            }
        ++(whole ? part.kept : part.dropped);
    }
    if (!ids.empty()) list.setIds(job, std::move(ids));
    return part;
}

// Digests

void feedDigest(std::string &buffer, const RowValue &v) {
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

namespace {

Digest digestOfBytes(const std::string &bytes) {
    const XXH128_hash_t hash = XXH3_128bits(bytes.data(), bytes.size());
    return {hash.low64, hash.high64};
}

} // namespace

Blob Digest::bytes() const {
    XXH128_canonical_t canonical;
    XXH128_canonicalFromHash(&canonical, {low, high});
    return {std::string(reinterpret_cast<const char *>(canonical.digest), sizeof canonical.digest)};
}

std::optional<Digest> digestFrom(const RowValue &v) {
    const auto *blob = std::get_if<Blob>(&v);
    XXH128_canonical_t canonical;
    if (!blob || blob->bytes.size() != sizeof canonical.digest) return std::nullopt;
    std::ranges::copy(blob->bytes, canonical.digest);
    const XXH128_hash_t hash = XXH128_hashFromCanonical(&canonical);
    return Digest{hash.low64, hash.high64};
}

Digest digestOf(const Row &row) {
    thread_local std::string buffer; // hundreds of thousands of rows
    buffer.clear();
    for (const RowValue &v : row)
        feedDigest(buffer, v);
    return digestOfBytes(buffer);
}

Digest digestOf(const std::string &text) {
    return digestOfBytes(text);
}

std::string chapterOf(RowTable table, const Row &row) {
    switch (table) {
    case RowTable::info:
        return infoChapter;
    case RowTable::field:
        return fieldChapter;
    case RowTable::limit:
        return limitChapter;
    case RowTable::action:
        return actionChapter;
    default:
        return textOf(row, 0);
    }
}

std::string textChapterOf(RowTable table, const Row &row) {
    if (table != RowTable::record) return {};
    const RecordList *list = recordListByPath(textOf(row, 0));
    const auto *id = std::get_if<std::int64_t>(&row[1]);
    if (!list || !id) return {};
    const auto f = std::ranges::find(list->fields, textOf(row, 2), &RecordField::key);
    return f == list->fields.end() || !f->deferred() ? std::string() : recordTablePath(*list, *id, *f);
}

Digest digestOfDigests(const std::vector<Row> &digestRows) {
    Digest sum;
    for (const Row &row : digestRows)
        if (textOf(row, 0) != digestChapter) sum += digestOf(row);
    return sum;
}

std::map<std::string, Digest> digestsOf(const JobRows &rows) {
    std::map<std::string, Digest> stated;
    for (const Row &row : rows.in(RowTable::digest))
        if (const auto digest = digestFrom(row[1])) stated[textOf(row, 0)] = *digest;
    std::map<std::string, Digest> out{{infoChapter, {}}, {fieldChapter, {}}, {limitChapter, {}}};
    for (const CurveField &c : allCurves())
        out[c.path];
    for (const TableField &t : allTables())
        out[t.path];
    for (const RecordList &l : allRecordLists())
        out[l.path];
    for (std::size_t t = 0; t < rowTables; ++t) {
        const auto table = static_cast<RowTable>(t);
        if (table == RowTable::digest) continue;
        Digest *sum = nullptr;
        const std::string *last = nullptr;
        for (const Row &row : rows.of[t]) {
            if (!sum || (last && textOf(row, 0) != *last)) sum = &out[chapterOf(table, row)];
            last = table >= RowTable::curvePoint && table <= RowTable::record ? &textOf(row, 0) : nullptr;
            const std::string text = table == RowTable::record ? textChapterOf(table, row) : std::string();
            if (text.empty()) {
                *sum += digestOf(row);
                continue;
            }
            const Digest own = row[3].index() == 0 ? stated[text] : digestOf(textOf(row, 3));
            out[text] = own;
            Row vouched = row;
            vouched[3] = own.bytes();
            *sum += digestOf(vouched);
        }
    }
    return out;
}

std::vector<std::string> brokenChapters(const JobRows &rows) {
    std::map<std::string, Digest> stated;
    std::vector<std::string> broken;
    for (const Row &row : rows.in(RowTable::digest)) {
        if (const auto digest = digestFrom(row[1]))
            stated[textOf(row, 0)] = *digest;
        else
            broken.push_back("digest of " + echoed(textOf(row, 0), 40));
    }
    const auto whole = stated.find(digestChapter);
    const bool digestsHold =
        whole != stated.end() && whole->second == digestOfDigests(rows.in(RowTable::digest));
    stated.erase(digestChapter);
    if (rows.in(RowTable::action).empty() && !rows.withoutActions) broken.emplace_back(actionChapter);
    if (rows.withoutActions) stated.erase(actionChapter);
    for (const auto &[chapter, digest] : digestsOf(rows)) {
        const auto at = stated.find(chapter);
        // A list or curve that came with a newer program has neither rows nor a digest in an older file.
        if (at == stated.end() ? digest != Digest{} : at->second != digest) broken.push_back(chapter);
        if (at != stated.end()) stated.erase(at);
    }
    for (const auto &[chapter, unused] : stated)
        broken.push_back("digest of " + echoed(chapter, 40));
    if (!digestsHold) broken.emplace_back(digestChapter); // the last: the others say more
    return broken;
}

} // namespace wheelwright
