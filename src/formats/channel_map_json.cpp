// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/channel_map_json.h"

#include "core/base/error.h"
#include "formats/json_text.h"

#include <nlohmann/json.hpp>

#include <cmath>

namespace wheelwright {
namespace {

using Json = nlohmann::ordered_json;

[[noreturn]] void refuseAt(const std::string &where, const std::string &expected, const Json &found) {
    throw InputError(where, verbatim(expected), echoed(found.dump(), 40));
}

std::string requireText(const Json &v, const std::string &where) {
    if (!v.is_string()) refuseAt(where, "text", v);
    return v.get<std::string>();
}

std::string roleKeyList() {
    std::string all = "skip";
    for (const ChannelRoleDefinition &d : allChannelRoles())
        all += ", " + std::string(d.key);
    return all;
}

void readRole(const Json &v, const std::string &where, MappedColumn &to) {
    const std::string key = requireText(v, where);
    to.skipped = key == "skip";
    if (to.skipped || key.empty()) return;
    const ChannelRoleDefinition *role = roleByKey(key);
    if (!role) refuseAt(where, "one of " + roleKeyList(), v);
    to.role = role->role;
}

AfrBasis readScale(const Json &v, const std::string &where) {
    constexpr double least = 4, most = 40; // of any fuel, with room
    if (v == "gasoline") return AfrScale::gasoline;
    if (v == "true") return AfrScale::trueOfFuel;
    if (v.is_number() && v.get<double>() >= least && v.get<double>() <= most) return v.get<double>();
    refuseAt(where, "\"gasoline\", \"true\" or a stoichiometry from 4 to 40", v);
}

MappedColumn readColumn(const Json &v, const std::string &where) {
    if (!v.is_object()) refuseAt(where, "an object", v);
    MappedColumn c;
    bool named = false;
    for (const auto &[key, value] : v.items()) {
        const std::string at = where + " " + key;
        if (key == "name") {
            c.name = requireText(value, at);
            named = true;
        } else if (key == "role") {
            readRole(value, at, c);
        } else if (key == "unit") {
            c.unit = requireText(value, at);
        } else if (key == "scale") {
            if (!value.is_null()) c.scale = readScale(value, at);
        } else if (key == "reference") {
            const std::string said = requireText(value, at);
            if (said == "absolute")
                c.reference = PressureReference::absolute;
            else if (said == "gauge")
                c.reference = PressureReference::gauge;
            else
                refuseAt(at, "\"absolute\" or \"gauge\"", value);
        } else if (key == "formula") {
            c.formula = requireText(value, at);
        } else if (key == "sign") {
            if (value != "reversed") refuseAt(at, "\"reversed\"", value);
            c.reversed = true;
        } else if (key != "confidence" && key != "question") {
            refuseAt(where, "name, role, unit, scale, reference, sign, formula", Json(key));
        }
    }
    if (!named) throw InputError(where, verbatim("a name"), std::string("none"));
    return c;
}

char oneLetter(const Json &v, const std::string &where, std::string_view allowed) {
    const std::string text = requireText(v, where);
    if (text.size() != 1 || allowed.find(text[0]) == std::string_view::npos)
        refuseAt(where, "one of the letters '" + std::string(allowed) + "'", v);
    return text[0];
}

} // namespace

std::string channelMapToJson(const ChannelMap &map) {
    Json columns = Json::array();
    for (const MappedColumn &c : map.columns) {
        Json column{{"name", c.name},
                    {"role", c.skipped ? "skip" : std::string(definitionOf(c.role).key)},
                    {"unit", c.unit}};
        if (c.scale) {
            if (const double *number = std::get_if<double>(&*c.scale))
                column["scale"] = *number;
            else
                column["scale"] = std::get<AfrScale>(*c.scale) == AfrScale::gasoline ? "gasoline" : "true";
        }
        if (c.reference != PressureReference::notSaid)
            column["reference"] = c.reference == PressureReference::gauge ? "gauge" : "absolute";
        if (c.reversed) column["sign"] = "reversed";
        if (!c.formula.empty()) column["formula"] = c.formula;
        if (c.confidence < 1) column["confidence"] = std::round(c.confidence * 100) / 100;
        if (!c.question.empty()) column["question"] = format(c.question);
        columns.push_back(std::move(column));
    }
    Json out{{"columns", std::move(columns)}};
    if (map.decimal) out["decimal"] = std::string(1, *map.decimal);
    if (map.delimiter) out["delimiter"] = std::string(1, *map.delimiter);
    return out.dump(2);
}

ChannelMap channelMapFromJson(std::string_view text) {
    const Json document = jsonFrom(text, "map");
    if (!document.is_object()) refuseAt("map", "an object", document);
    ChannelMap map;
    for (const auto &[key, value] : document.items()) {
        if (key == "columns") {
            if (!value.is_array()) refuseAt("columns", "a list", value);
            for (std::size_t i = 0; i < value.size(); ++i)
                map.columns.push_back(readColumn(value[i], "columns " + std::to_string(i + 1)));
        } else if (key == "decimal") {
            map.decimal = oneLetter(value, key, ".,");
        } else if (key == "delimiter") {
            map.delimiter = oneLetter(value, key, "\t;,| ");
        } else {
            refuseAt("map", "columns, decimal, delimiter", Json(key));
        }
    }
    return map;
}

} // namespace wheelwright
