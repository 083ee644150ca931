// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/practice_json.h"

#include "core/base/error.h"
#include "formats/json_text.h"

#include <nlohmann/json.hpp>

#include <algorithm>

namespace wheelwright {
namespace {

using Json = nlohmann::ordered_json;

constexpr const char *engineFormat = "wheelwright-practice-engine";

std::string jsonKind(const Json &v) {
    return v.is_number()    ? "a number"
           : v.is_string()  ? "text"
           : v.is_object()  ? "an object"
           : v.is_array()   ? "a list"
           : v.is_boolean() ? "true or false"
                            : "null";
}

void requireObject(const Json &v, const std::string &where) {
    if (!v.is_object()) throw InputError(where, MARKED("expected.an_object", "an object"), jsonKind(v));
}

double number(const Json &v, const std::string &where) {
    if (!v.is_number()) throw InputError(where, MARKED("expected.a_number", "a number"), jsonKind(v));
    return v.get<double>();
}

double numberWithin(const Json &v, const std::string &where, double least, double most) {
    const double n = number(v, where);
    if (!(n >= least && n <= most)) throw InputError(where, fromTo(least, most), exactly(n));
    return n;
}

std::string textOf(const Json &v, const std::string &where) {
    if (!v.is_string()) throw InputError(where, MARKED("expected.text", "text"), jsonKind(v));
    return v.get<std::string>();
}

std::vector<double> numberList(const Json &v, const std::string &where) {
    if (!v.is_array())
        throw InputError(where, MARKED("expected.a_list_of_numbers", "a list of numbers"), jsonKind(v));
    std::vector<double> out;
    for (std::size_t i = 0; i < v.size(); ++i)
        out.push_back(number(v[i], where + "[" + std::to_string(i) + "]"));
    return out;
}

[[noreturn]] void unknownKey(const std::string &where, const std::string &key, const std::string &known) {
    throw InputError(where, Phrase{MARKED("expected.one_of", "one of {a}"), {}, {known}}, "'" + key + "'");
}

Table2D veFrom(const Json &v) {
    requireObject(v, "ve");
    for (const auto &[key, unused] : v.items())
        if (key != "rpm" && key != "load_kpa" && key != "percent")
            unknownKey("ve", key, "rpm, load_kpa, percent");
    for (const char *key : {"rpm", "load_kpa", "percent"})
        if (!v.contains(key))
            throw InputError("ve", Phrase{MARKED("expected.exactly", "{a}"), {}, {key}}, "none");
    const Axis rpm(numberList(v["rpm"], "ve.rpm"), "ve.rpm"),
        load(numberList(v["load_kpa"], "ve.load_kpa"), "ve.load_kpa");
    const Json &rows = v["percent"];
    if (!rows.is_array() || rows.size() != load.size())
        throw InputError("ve.percent",
                         Phrase{MARKED("expected.a_row_for_each", "a row for each of {a} loads"),
                                {},
                                {std::to_string(load.size())}},
                         rows.is_array() ? std::to_string(rows.size()) : jsonKind(rows));
    std::vector<double> cells;
    for (std::size_t i = 0; i < rows.size(); ++i) {
        const std::vector<double> row = numberList(rows[i], "ve.percent[" + std::to_string(i) + "]");
        if (row.size() != rpm.size())
            throw InputError("ve.percent[" + std::to_string(i) + "]",
                             Phrase{MARKED("expected.a_number_for_each", "a number for each of {a} speeds"),
                                    {},
                                    {std::to_string(rpm.size())}},
                             std::to_string(row.size()));
        cells.insert(cells.end(), row.begin(), row.end());
    }
    return Table2D(rpm, load, std::move(cells), "ve");
}

std::vector<FaultSetting> faultsFrom(const Json &v) {
    if (!v.is_array()) throw InputError("faults", MARKED("expected.a_list", "a list"), jsonKind(v));
    std::vector<FaultSetting> out;
    for (std::size_t i = 0; i < v.size(); ++i) {
        const std::string where = "faults[" + std::to_string(i) + "]";
        requireObject(v[i], where);
        if (!v[i].contains("fault"))
            throw InputError(where, Phrase{MARKED("expected.exactly", "{a}"), {}, {"fault"}}, "none");
        FaultSetting s = faultFrom(textOf(v[i]["fault"], where + ".fault"), where + ".fault");
        for (const auto &[key, value] : v[i].items()) {
            if (key == "fault") continue;
            const std::string at = where + "." + key;
            if (key == "strength")
                s.strength = number(value, at);
            else if (key == "from_s")
                s.startS = number(value, at);
            else if (key == "above_kpa")
                s.aboveKpa = number(value, at);
            else
                unknownKey(where, key, "fault, strength, from_s, above_kpa");
        }
        validate(s, where);
        out.push_back(s);
    }
    return out;
}

void readStepKey(PracticeStep &step, const StepKind &kind, const std::string &key, const Json &value,
                 const std::string &where) {
    const std::string at = where + "." + key;
    if (const auto n = std::ranges::find(kind.numbers, key, &StepNumber::key); n != kind.numbers.end()) {
        step.*n->member = numberWithin(value, at, n->least, n->most);
    } else if (const auto t = std::ranges::find(kind.texts, key, &StepText::key); t != kind.texts.end()) {
        step.*t->member = textOf(value, at);
    } else if (kind.takesMode && key == "mode") {
        const std::string id = textOf(value, at);
        const auto modes = dynoModeIds();
        const auto found = std::ranges::find(modes, id);
        if (found == modes.end()) unknownKey(at, id, "inertia, loaded, road");
        step.mode = static_cast<DynoMode>(found - modes.begin() + 1);
    } else if (kind.takesValue && key == "value") {
        if (value.is_boolean())
            step.value = value.get<bool>();
        else if (value.is_string())
            step.value = value.get<std::string>();
        else
            step.value = number(value, at);
    } else {
        std::string known = "do";
        for (const StepNumber &k : kind.numbers)
            known += ", " + std::string(k.key);
        for (const StepText &k : kind.texts)
            known += ", " + std::string(k.key);
        if (kind.takesMode) known += ", mode";
        if (kind.takesValue) known += ", value";
        unknownKey(where, key, known);
    }
    step.given.push_back(key);
}

PracticeStep stepFrom(const Json &v, const std::string &where) {
    requireObject(v, where);
    if (!v.contains("do"))
        throw InputError(where, Phrase{MARKED("expected.exactly", "{a}"), {}, {"do"}}, "none");
    PracticeStep step;
    step.what = textOf(v["do"], where + ".do");
    const StepKind &kind = stepKindById(step.what, where + ".do");
    for (const auto &[key, value] : v.items())
        if (key != "do") readStepKey(step, kind, key, value, where);
    const auto require = [&](std::string_view key, bool required) {
        if (required && !step.says(key))
            throw InputError(where, Phrase{MARKED("expected.exactly", "{a}"), {}, {std::string(key)}},
                             "none");
    };
    for (const StepNumber &n : kind.numbers)
        require(n.key, n.required);
    for (const StepText &t : kind.texts)
        require(t.key, t.required);
    return step;
}

} // namespace

std::string engineToJson(const EngineDocument &document) {
    const HiddenEngine &e = document.engine;
    Json out{{"format", engineFormat}, {"version", 1}, {"name", e.name}, {"seed", e.seed}};
    for (const HiddenField &f : hiddenFields()) {
        const std::size_t dot = f.key.find('.');
        out[std::string(f.key.substr(0, dot))][std::string(f.key.substr(dot + 1))] = e.*f.member;
    }
    Json rows = Json::array();
    for (std::size_t y = 0; y < e.ve.y().size(); ++y) {
        Json row = Json::array();
        for (std::size_t x = 0; x < e.ve.x().size(); ++x)
            row.push_back(e.ve.cell(x, y));
        rows.push_back(std::move(row));
    }
    out["ve"] = {{"rpm", e.ve.x().points()}, {"load_kpa", e.ve.y().points()}, {"percent", std::move(rows)}};
    Json faults = Json::array();
    for (const FaultSetting &f : document.faults)
        faults.push_back({{"fault", definitionOf(f.id).name},
                          {"strength", f.strength},
                          {"from_s", f.startS},
                          {"above_kpa", f.aboveKpa}});
    out["faults"] = std::move(faults);
    return out.dump(1) + "\n";
}

EngineDocument engineFromJson(std::string_view text, const HiddenEngine &usual) {
    const Json json = jsonFrom(text, "document");
    requireObject(json, "document");
    if (!json.contains("format") || json["format"] != engineFormat)
        throw InputError("format", Phrase{MARKED("expected.exactly", "{a}"), {}, {engineFormat}},
                         json.contains("format") && json["format"].is_string()
                             ? json["format"].get<std::string>()
                             : "none");
    EngineDocument out{usual, {}};
    for (const auto &[group, value] : json.items()) {
        if (group == "format") continue;
        if (group == "version") {
            if (number(value, group) != 1)
                throw InputError(group, Phrase{MARKED("expected.exactly", "{a}"), {}, {"1"}}, value.dump());
        } else if (group == "name") {
            out.engine.name = textOf(value, group);
        } else if (group == "seed") {
            out.engine.seed = number(value, group);
        } else if (group == "ve") {
            out.engine.ve = veFrom(value);
        } else if (group == "faults") {
            out.faults = faultsFrom(value);
        } else {
            requireObject(value, group);
            for (const auto &[key, v] : value.items()) {
                const std::string path = group + "." + key;
                const auto fields = hiddenFields();
                const auto field = std::ranges::find(fields, path, &HiddenField::key);
                if (field == fields.end())
                    throw InputError(
                        path, MARKED("expected.a_key_of_an_engine", "a key of docs/practice-engine.md"),
                        "none of them");
                out.engine.*field->member = numberWithin(v, path, field->least, field->most);
            }
        }
    }
    validate(out.engine);
    return out;
}

PracticeScript scriptFromJson(std::string_view text) {
    const Json json = jsonFrom(text, "document");
    requireObject(json, "script");
    PracticeScript script;
    for (const auto &[key, value] : json.items()) {
        if (key == "start") {
            const std::string start = textOf(value, key);
            if (start != "warm" && start != "cold") unknownKey(key, start, "warm, cold");
            script.cold = start == "cold";
        } else if (key == "cold_c") {
            script.coldC = numberWithin(value, key, -40, 60);
        } else if (key == "ethanol") {
            script.ethanol = numberWithin(value, key, 0, 1);
        } else if (key == "steps") {
            if (!value.is_array())
                throw InputError(key, MARKED("expected.a_list", "a list"), jsonKind(value));
            for (std::size_t i = 0; i < value.size(); ++i)
                script.steps.push_back(stepFrom(value[i], "steps[" + std::to_string(i) + "]"));
        } else {
            unknownKey("script", key, "start, cold_c, ethanol, steps");
        }
    }
    if (script.steps.empty())
        throw InputError("steps", MARKED("expected.a_step", "at least one step"), "none");
    return script;
}

} // namespace wheelwright
