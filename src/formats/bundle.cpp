// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/bundle.h"

#include "core/base/error.h"
#include "core/job/named_tables.h"
#include "formats/json_text.h"
#include "formats/table_csv.h"

#include <nlohmann/json.hpp>

#include <algorithm>

namespace wheelwright {
namespace {

using Json = nlohmann::ordered_json;
constexpr const char *bundleFormat = "wheelwright-bundle";
constexpr int bundleVersion = 1;

/// A table with what it is, and the name of its file.
struct BundleTable {
    std::string path, file;
    TableField field;
    const Table2D *table;
};

TableField fieldOfPath(const Job &job, const std::string &path) {
    if (const TableField *f = tableByPath(path)) return tableIn(job, f->quantity, f->top);
    for (const ExtraTable &e : job.extras)
        if (path.ends_with("." + e.name)) return fieldOf(e);
    const std::string last = path.substr(path.rfind('.') + 1);
    for (const CalibratedQuantity q : allQuantities)
        if (last == quantityId(q)) return tableIn(job, q, false);
    throw InputError(path, MARKED("expected.table_of_job", "a table of this job"), "'" + path + "'");
}

// Of names that users give only what every file system takes; no two alike.
std::string fileOf(const std::string &path, const std::vector<BundleTable> &taken) {
    std::string stem;
    for (const char c : path)
        stem +=
            std::isalnum(static_cast<unsigned char>(c)) != 0 || c == '.' || c == '-' || c == '_' ? c : '_';
    const auto used = [&](const std::string &name) {
        return std::ranges::any_of(taken, [&](const BundleTable &t) { return t.file == name; });
    };
    std::string name = stem + ".csv";
    for (int n = 2; used(name); ++n)
        name = stem + "-" + std::to_string(n) + ".csv";
    return name;
}

std::vector<BundleTable> tablesOf(const Job &job) {
    std::vector<BundleTable> out;
    for (const NamedTable &t : namedTables(job))
        out.push_back({t.path, fileOf(t.path, out), fieldOfPath(job, t.path), t.table});
    return out;
}

Json settingsOf(const Job &job) {
    Json out = Json::object();
    for (const Field &f : allFields())
        if (f.isHeldOf(job)) out[f.path] = std::visit([](const auto &v) { return Json(v); }, f.read(job));
    for (const CurveField &c : allCurves()) {
        if (!c.inRevision) continue;
        Json points = Json::array();
        for (std::size_t i = 0; i < c.in(job).axis().size(); ++i)
            points.push_back({c.in(job).axis()[i], c.in(job).values()[i]});
        out[c.path] = std::move(points);
    }
    return out;
}

Json tableJson(const BundleTable &t) {
    Json rows = Json::array();
    for (std::size_t y = 0; y < t.table->y().size(); ++y) {
        Json row = Json::array();
        for (std::size_t x = 0; x < t.table->x().size(); ++x)
            row.push_back(t.table->cell(x, y));
        rows.push_back(std::move(row));
    }
    return {{t.field.x.key, t.table->x().points()},
            {t.field.y.key, t.table->y().points()},
            {"rows", std::move(rows)}};
}

std::string written(const Json &json) {
    constexpr int indent = 2;
    return json.dump(indent) + "\n";
}

std::string textIn(const Json &json, const char *key) {
    if (!json.contains(key) || !json[key].is_string())
        throw InputError(std::string(bundleHeadName) + " " + key, MARKED("expected.text", "text"),
                         json.contains(key) ? json[key].dump() : std::string("nothing"));
    return json[key].get<std::string>();
}

// Points of a curve: [[x, y], …].
void readCurve(Job &job, const CurveField &curve, const Json &points, const std::string &where) {
    std::vector<double> x, y;
    for (const Json &p : points) {
        if (!p.is_array() || p.size() != 2 || !p[0].is_number() || !p[1].is_number())
            throw InputError(where, MARKED("expected.a_point", "points of two numbers: [x, y]"), p.dump());
        x.push_back(p[0].get<double>());
        y.push_back(p[1].get<double>());
    }
    curve.of(job) = Curve(std::move(x), std::move(y), where);
}

void readSettings(Job &job, const BundleFile &file, std::vector<std::string> &compared) {
    const Json json = jsonFrom(file.bytes, file.name);
    if (!json.is_object())
        throw InputError(file.name, MARKED("expected.an_object", "an object"), std::string(json.type_name()));
    for (const auto &[path, value] : json.items()) {
        if (value.is_null()) continue; // not read back
        const std::string where = file.name + " " + echoed(path, 60);
        if (const CurveField *c = curveByPath(path); c && c->inRevision && value.is_array()) {
            readCurve(job, *c, value, where);
            compared.push_back(path);
            continue;
        }
        const Field *f = fieldByPath(path);
        if (!f || !f->isHeldOf(job))
            throw InputError(where, MARKED("expected.setting_of_calibration", "a setting of the calibration"),
                             "'" + echoed(path, 60) + "'");
        FieldContent content;
        if (value.is_boolean())
            content = value.get<bool>();
        else if (value.is_number())
            content = value.get<double>();
        else if (value.is_string())
            content = value.get<std::string>();
        else
            throw InputError(
                where, MARKED("expected.a_number_true_or_false_or_text", "a number, true or false, or text"),
                std::string(value.type_name()));
        validate(*f, content);
        f->write(job, content);
        compared.push_back(path);
    }
}

void readTable(Job &job, const BundleFile &file, std::vector<std::string> &compared) {
    const std::vector<BundleTable> tables = tablesOf(job);
    const auto at = std::ranges::find(tables, file.name, &BundleTable::file);
    if (at == tables.end())
        throw InputError(
            file.name,
            MARKED("expected.bundle_back", "settings.json, or a table by the name it was sent with"),
            "'" + echoed(file.name, 60) + "'");
    try {
        *namedTable(job, at->path) = tableFromCsv(readCsv(file.bytes), at->field).table;
    } catch (const InputError &e) {
        throw InputError(file.name + " " + e.where(), e.expected(), e.found());
    }
    compared.push_back(at->path);
}

} // namespace

std::vector<BundleFile> bundleFiles(const Job &sent, const BundleHead &head, const std::string &readMe,
                                    const std::string &message) {
    const std::vector<BundleTable> tables = tablesOf(sent);
    Json names = Json::object(), all = Json::object();
    std::vector<BundleFile> out;
    for (const BundleTable &t : tables) {
        const std::string name = std::string(bundleTablesFolder) + "/" + t.file;
        names[t.path] = name;
        all[t.path] = tableJson(t);
        out.push_back({name, tableToCsv(*t.table, t.field)});
    }
    const Json settings = settingsOf(sent);
    out.push_back({std::string(bundleHeadName), written({{"format", bundleFormat},
                                                         {"version", bundleVersion},
                                                         {"job", head.job},
                                                         {"revision", head.revision},
                                                         {"calibration", head.calibration},
                                                         {"made", head.made},
                                                         {"rung", head.rung},
                                                         {"note", head.note},
                                                         {"tables", names}})});
    out.push_back({std::string(bundleSettingsName), written(settings)});
    out.push_back({"calibration.json", written({{"calibration", head.calibration},
                                                {"settings", settings},
                                                {"tables", all},
                                                {"state", stateOf(sent)}})});
    out.push_back({std::string(bundleReadMeName), readMe});
    out.push_back({std::string(bundleMessageName), message});
    return out;
}

BundleHead bundleHeadFromJson(std::string_view text) {
    const Json json = jsonFrom(text, bundleHeadName);
    if (!json.is_object() || !json.contains("format") || json["format"] != bundleFormat)
        throw InputError(std::string(bundleHeadName), MARKED("expected.bundle", "the head of a bundle"),
                         std::string("something else"));
    if (!json.contains("version") || !json["version"].is_number_integer() || json["version"] > bundleVersion)
        throw InputError(std::string(bundleHeadName) + " version",
                         MARKED("expected.bundle_version", "1, which this program knows"),
                         json.contains("version") ? json["version"].dump() : std::string("nothing"));
    return {textIn(json, "job"),  textIn(json, "revision"), textIn(json, "calibration"),
            textIn(json, "made"), textIn(json, "rung"),     textIn(json, "note")};
}

Job withReadBack(Job sent, const std::vector<BundleFile> &back, std::vector<std::string> &compared) {
    // What a table's cells mean goes by settings: those first.
    for (const BundleFile &f : back)
        if (f.name == bundleSettingsName) readSettings(sent, f, compared);
    for (const BundleFile &f : back)
        if (f.name != bundleSettingsName) readTable(sent, f, compared);
    validate(sent);
    return sent;
}

} // namespace wheelwright
