// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/job_json.h"

#include "core/base/error.h"
#include "core/base/limits.h"
#include "core/job/job_schema.h"
#include "core/job/named_tables.h"
#include "core/job/old_ceilings.h"
#include "formats/json_text.h"

#include <nlohmann/json.hpp>

#include <algorithm>
#include <set>

namespace wheelwright {
namespace {

using Json = nlohmann::ordered_json;

constexpr const char *formatName = "wheelwright-job";
constexpr int formatVersion = 1;
constexpr std::size_t mostEchoed = 40; // bytes of the document that a sentence repeats

Json::json_pointer pointer(std::string path) {
    for (char &c : path)
        if (c == '.') c = '/';
    return Json::json_pointer("/" + path);
}

Json toJson(const FieldContent &content) {
    return std::visit([](const auto &v) { return Json(v); }, content);
}

Json toJson(const Curve &curve) {
    return {{"x", curve.axis().points()}, {"y", curve.values()}};
}

Json toJson(const TableField &field, const Table2D &table) {
    Json rows = Json::array();
    for (std::size_t y = 0; y < table.y().size(); ++y) {
        Json row = Json::array();
        for (std::size_t x = 0; x < table.x().size(); ++x)
            row.push_back(table.cell(x, y));
        rows.push_back(std::move(row));
    }
    return {{"rpm", table.x().points()}, {field.y.key, table.y().points()}, {"rows", std::move(rows)}};
}

std::string kindOf(const Json &v) {
    switch (v.type()) {
    case Json::value_t::null:
        return "null";
    case Json::value_t::object:
        return "an object";
    case Json::value_t::array:
        return "a list";
    case Json::value_t::string:
        return "text";
    case Json::value_t::boolean:
        return "true or false";
    default:
        return "a number";
    }
}

std::vector<double> numbers(const Json &v, const std::string &where) {
    if (!v.is_array())
        throw InputError(where, MARKED("expected.a_list_of_numbers", "a list of numbers"), kindOf(v));
    std::vector<double> out;
    for (std::size_t i = 0; i < v.size(); ++i) {
        if (!v[i].is_number())
            throw InputError(where + " number " + std::to_string(i + 1),
                             MARKED("expected.a_number", "a number"), kindOf(v[i]));
        out.push_back(v[i].get<double>());
    }
    return out;
}

const Json &member(const Json &object, const char *key, const std::string &where) {
    if (!object.is_object())
        throw InputError(where, MARKED("expected.an_object", "an object"), kindOf(object));
    if (!object.contains(key))
        throw InputError(where, Phrase{MARKED("expected.key", "a key '{a}'"), {}, {std::string(key)}},
                         MARKED("found.none", "none"));
    return object.at(key);
}

void onlyKeys(const Json &object, const std::set<std::string> &known, const std::string &where) {
    for (const auto &[key, unused] : object.items())
        if (!known.contains(key))
            throw InputError(where, MARKED("expected.known_keys", "known keys"),
                             "'" + echoed(key, mostEchoed) + "'");
}

FieldContent contentFrom(const std::string &where, const Json &v) {
    if (v.is_boolean()) return v.get<bool>();
    if (v.is_number()) return v.get<double>();
    if (v.is_string()) return v.get<std::string>();
    throw InputError(where,
                     MARKED("expected.a_number_true_or_false_or_text", "a number, true or false, or text"),
                     kindOf(v));
}

FieldContent fieldFrom(const Field &field, const Json &v) {
    FieldContent content = contentFrom(field.path, v);
    validate(field, content);
    return content;
}

// What a record leaves out keeps its default.
void readRecords(const RecordList &list, const Json &v, Job &job) {
    if (!v.is_array())
        throw InputError(list.path, MARKED("expected.a_list_of_records", "a list of records"), kindOf(v));
    if (v.size() > list.most)
        throw InputError(
            list.path,
            Phrase{MARKED("expected.records", "at most {a} records"), {}, {std::to_string(list.most)}},
            std::to_string(v.size()));
    list.resize(job, 0); // what a longer list held there is no default
    list.resize(job, v.size());
    for (std::size_t i = 0; i < v.size(); ++i) {
        const std::string where = list.path + " " + std::to_string(i + 1);
        if (!v[i].is_object())
            throw InputError(where, MARKED("expected.an_object", "an object"), kindOf(v[i]));
        std::set<std::string> known;
        for (const RecordField &f : list.fields) {
            known.insert(f.key);
            if (!v[i].contains(f.key)) continue;
            const FieldContent content = contentFrom(where + " " + f.key, v[i].at(f.key));
            validate(list, f, i, content);
            f.write(job, i, content);
        }
        onlyKeys(v[i], known, where);
    }
}

Curve curveFrom(const Json &v, const std::string &where) {
    onlyKeys(v, {"x", "y"}, where);
    return Curve(numbers(member(v, "x", where), where + ".x"), numbers(member(v, "y", where), where + ".y"),
                 where);
}

Table2D tableFrom(const TableField &field, const Json &v) {
    Axis x(numbers(member(v, "rpm", field.path), field.path + ".rpm"), field.path + ".rpm");
    const std::string down(field.y.key);
    Axis y(numbers(member(v, down.c_str(), field.path), field.path + "." + down), field.path + "." + down);
    onlyKeys(v, {"rpm", down, "rows"}, field.path);
    const Json &rows = member(v, "rows", field.path);
    if (!rows.is_array() || rows.size() != y.size())
        throw InputError(field.path + ".rows",
                         Phrase{MARKED("expected.rows_for", "{a} rows, one for each {b}"),
                                {},
                                {std::to_string(y.size()), down}},
                         rows.is_array() ? std::to_string(rows.size()) : kindOf(rows));
    std::vector<double> cells;
    for (std::size_t r = 0; r < rows.size(); ++r) {
        const std::string where = field.path + " row " + std::to_string(r + 1);
        const std::vector<double> row = numbers(rows[r], where);
        if (row.size() != x.size())
            throw InputError(where,
                             Phrase{MARKED("expected.numbers_for_rpm", "{a} numbers, one for each rpm"),
                                    {},
                                    {std::to_string(x.size())}},
                             std::to_string(row.size()));
        cells.insert(cells.end(), row.begin(), row.end());
    }
    return Table2D(std::move(x), std::move(y), std::move(cells), field.path);
}

// Every key of the document must lead to something known: a misspelt limit would otherwise silently not hold.
void refuseUnknownKeys(const Json &object, const std::string &prefix, const std::set<std::string> &known) {
    for (const auto &[key, v] : object.items()) {
        const std::string path = prefix.empty() ? key : prefix + "." + key;
        if (known.contains(path)) continue;
        const auto below = known.lower_bound(path + ".");
        if (below == known.end() || !below->starts_with(path + "."))
            throw InputError(prefix.empty() ? "job" : prefix, MARKED("expected.known_keys", "known keys"),
                             "'" + echoed(key, mostEchoed) + "'");
        if (!v.is_object()) throw InputError(path, MARKED("expected.an_object", "an object"), kindOf(v));
        refuseUnknownKeys(v, path, known);
    }
}

// Where the numbers of tables come from stands beside the tables; a document has it as a list.
constexpr const char *originsPath = "calibration.origins";
constexpr std::size_t mostOrigins = 400;

Json originsToJson(const Job &job) {
    Json origins = Json::array();
    for (const auto &[table, codes] : originTexts(job))
        origins.push_back({{"table", table}, {"codes", codes}});
    return origins;
}

void readOrigins(const Json &origins, Job &job) {
    if (!origins.is_array())
        throw InputError(originsPath, MARKED("expected.a_list", "a list"), kindOf(origins));
    if (origins.size() > mostOrigins)
        throw InputError(
            originsPath,
            Phrase{MARKED("expected.records", "at most {a} records"), {}, {std::to_string(mostOrigins)}},
            std::to_string(origins.size()));
    std::set<std::string> tables;
    for (std::size_t i = 0; i < origins.size(); ++i) {
        const std::string where = std::string(originsPath) + " " + std::to_string(i + 1);
        const Json &record = origins[i];
        if (!record.is_object())
            throw InputError(where, MARKED("expected.an_object", "an object"), kindOf(record));
        for (const auto &[key, v] : record.items()) {
            if (key != "table" && key != "codes")
                throw InputError(where, MARKED("expected.known_keys", "known keys"),
                                 "'" + echoed(key, mostEchoed) + "'");
            if (!v.is_string())
                throw InputError(where + " " + key, MARKED("expected.text", "text"), kindOf(v));
        }
        const std::string table = record.value("table", std::string());
        if (!tables.insert(table).second)
            throw InputError(where, MARKED("expected.a_name_of_its_own", "a name of its own"),
                             "'" + echoed(table, mostEchoed) + "' again");
        setOriginText(job, table, record.value("codes", std::string()), where + " codes");
    }
}

std::set<std::string> knownPaths() {
    std::set<std::string> known{"format", "version", "limits"};
    for (const Field &f : allFields())
        known.insert(f.path);
    for (const CurveField &c : allCurves())
        known.insert(c.path);
    for (const TableField &t : allTables())
        known.insert(t.path);
    for (const RecordList &l : allRecordLists())
        known.insert(l.path);
    known.insert(originsPath);
    return known;
}

// A scalar as it stood; of a list or an object only what it is.
std::string shortly(const Json &v) {
    return v.is_structured() ? kindOf(v)
                             : echoed(v.dump(-1, ' ', false, Json::error_handler_t::replace), mostEchoed);
}

void checkHead(const Json &document) {
    if (!document.is_object())
        throw InputError("job", MARKED("expected.a_json_object", "a JSON object"), kindOf(document));
    const Json &format = member(document, "format", "job");
    if (format != formatName)
        throw InputError("format", verbatim(std::string("\"") + formatName + "\""), shortly(format));
    const Json &version = member(document, "version", "job");
    if (version != formatVersion)
        throw InputError("version", verbatim(std::to_string(formatVersion)), shortly(version));
}

} // namespace

std::string jobToJson(const Job &job) {
    Json out{{"format", formatName}, {"version", formatVersion}};
    for (const Field &f : allFields())
        out[pointer(f.path)] = toJson(f.read(job));
    for (const CurveField &c : allCurves())
        out[pointer(c.path)] = toJson(c.in(job));
    for (const TableField &t : allTables())
        out[pointer(t.path)] = toJson(tableIn(job, t.quantity, t.top), t.of(job));
    for (const RecordList &l : allRecordLists()) {
        Json records = Json::array();
        for (const auto &contents : recordsOf(job, l)) {
            Json record;
            for (std::size_t k = 0; k < l.fields.size(); ++k)
                record[l.fields[k].key] = toJson(contents[k]);
            records.push_back(std::move(record));
        }
        out[pointer(l.path)] = std::move(records);
    }
    out[pointer(originsPath)] = originsToJson(job);
    out["limits"] = Json::object();
    for (const auto &[id, v] : job.limits)
        out["limits"][id] = v;
    // Rows of numbers on one line each: a table can be read, and compared line by line.
    std::string text = out.dump(1, ' ', false, Json::error_handler_t::replace);
    std::string compact;
    int depthOfLists = 0;
    for (std::size_t i = 0; i < text.size(); ++i) {
        const char c = text[i];
        if (c == '"') { // copy a string whole
            std::size_t end = i + 1;
            while (text[end] != '"')
                end += text[end] == '\\' ? 2 : 1;
            compact.append(text, i, end - i + 1);
            i = end;
            continue;
        }
        if (c == '[') ++depthOfLists;
        if (c == ']') --depthOfLists;
        const bool layout = c == '\n' || c == ' ';
        const bool rowStart = depthOfLists == 1 && c == '\n' &&
                              text.find_first_not_of(" \n", i) != std::string::npos &&
                              text[text.find_first_not_of(" \n", i)] == '[';
        if (depthOfLists == 0 || !layout || rowStart) compact += c;
    }
    return compact + "\n";
}

Job jobFromJson(std::string_view text) {
    if (text.starts_with("\xEF\xBB\xBF")) text.remove_prefix(3);
    const Json document = jsonFrom(text);
    checkHead(document);
    refuseUnknownKeys(document, "", knownPaths());
    Job job = newJob("Unnamed");
    for (const Field &f : allFields())
        if (document.contains(pointer(f.path))) f.write(job, fieldFrom(f, document.at(pointer(f.path))));
    for (const CurveField &c : allCurves())
        if (document.contains(pointer(c.path))) c.of(job) = curveFrom(document.at(pointer(c.path)), c.path);
    for (const TableField &t : allTables())
        if (document.contains(pointer(t.path)))
            t.of(job) = tableFrom(tableIn(job, t.quantity, t.top), document.at(pointer(t.path)));
    for (const RecordList &l : allRecordLists())
        if (document.contains(pointer(l.path))) readRecords(l, document.at(pointer(l.path)), job);
    // A document of somebody's own states what it names; ours says so in a list.
    const bool listed = document.contains(pointer("stated"));
    if (!listed) {
        for (const Field &f : allFields())
            if (document.contains(pointer(f.path))) state(job, f.path);
        for (const CurveField &c : allCurves())
            if (document.contains(pointer(c.path))) state(job, c.path);
    }
    if (document.contains(pointer(originsPath))) readOrigins(document.at(pointer(originsPath)), job);
    if (document.contains("limits"))
        for (const auto &[id, v] : document.at("limits").items()) {
            if (!v.is_number())
                throw InputError("limits." + id, MARKED("expected.a_number", "a number"), kindOf(v));
            limitById(id);
            job.limits[id] = v.get<double>();
        }
    spreadOldCeilings(job);
    if (listed)
        stateWhatDiffers(job); // one of ours into which somebody has written
    else
        believeTables(job);
    validate(job);
    return job;
}

} // namespace wheelwright
