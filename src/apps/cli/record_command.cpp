// SPDX-License-Identifier: GPL-3.0-or-later
#include "apps/cli/commands.h"
#include "apps/cli/options.h"
#include "apps/cli/report.h"
#include "apps/cli/table_target.h"
#include "core/base/error.h"
#include "core/base/limits.h"
#include "core/job/curve_text.h"
#include "core/job/named_tables.h"
#include "core/job/statements.h"
#include "core/study/extra_tables.h"

#include <nlohmann/json.hpp>

#include <algorithm>

namespace wheelwright {
namespace {

using Json = nlohmann::ordered_json;

Json toJson(const FieldContent &content) {
    return std::visit([](const auto &v) { return Json(v); }, content);
}

FieldContent contentFrom(const FieldContent &kind, const std::string &text, const std::string &where,
                         double least, double most, Dimension dimension) {
    if (std::holds_alternative<std::string>(kind)) return text;
    if (std::holds_alternative<bool>(kind)) {
        for (const auto &[word, value] : {std::pair("true", true),
                                          {"yes", true},
                                          {"1", true},
                                          {"false", false},
                                          {"no", false},
                                          {"0", false}})
            if (text == word) return value;
        throw InputError(where, verbatim("true or false"), "'" + text + "'");
    }
    return numberFrom(where, text, between(least, most, dimension));
}

// "fuel.shelf[2].price_per_l": a list, a record from 1 on, and what of it; the record by its first field too.
struct RecordKey {
    const RecordList *list = nullptr;
    std::size_t record = 0;
    const RecordField *field = nullptr; ///< nullptr: all of it
};

std::string firstOf(const RecordList &list, const Job &job, std::size_t i) {
    const FieldContent content = list.fields.front().read(job, i);
    const auto *text = std::get_if<std::string>(&content);
    return text ? *text : std::string();
}

std::size_t recordOf(const RecordList &list, const Job &job, const std::string &which,
                     const std::string &key) {
    const std::size_t count = list.size(job);
    if (!which.empty() && which.find_first_not_of("0123456789") == std::string::npos && which.size() < 6) {
        const std::size_t n = std::stoul(which);
        if (n >= 1 && n <= count) return n - 1;
    }
    for (std::size_t i = 0; i < count; ++i) {
        if (firstOf(list, job, i) == which) return i;
        for (const RecordField &f : list.fields) // tables and revisions are known by a name that is not first
            if (f.key == "name" && f.read(job, i) == FieldContent(which)) return i;
    }
    throw InputError(key,
                     verbatim(count == 0 ? "a list with something in it"
                                         : "a record from 1 to " + std::to_string(count) + ", or its name"),
                     "'" + which + "'");
}

RecordKey recordKey(const Job &job, const std::string &key) {
    const std::size_t open = key.find('['), shut = key.find(']');
    RecordKey k;
    if (open == std::string::npos || shut == std::string::npos || shut < open) return k;
    k.list = recordListByPath(key.substr(0, open));
    if (!k.list) return k;
    k.record = recordOf(*k.list, job, key.substr(open + 1, shut - open - 1), key);
    if (shut + 1 == key.size()) return k;
    const std::string name = key.substr(shut + 2);
    const auto f = std::ranges::find(k.list->fields, name, &RecordField::key);
    if (f == k.list->fields.end()) {
        std::string known;
        for (const RecordField &one : k.list->fields)
            known += (known.empty() ? "" : ", ") + one.key;
        throw InputError(key, verbatim("one of " + known), "'" + name + "'");
    }
    k.field = &*f;
    return k;
}

// "limits.boost.overshoot": what is behind the point; nothing of another key.
std::string limitKey(const std::string &key) {
    constexpr std::string_view prefix = "limits.";
    return key.starts_with(prefix) ? key.substr(prefix.size()) : std::string();
}

[[noreturn]] void refuseKey(const std::string &key) {
    throw InputError("key",
                     verbatim("the path of a field, curve, list or limit, such as engine.rev_limit_rpm or "
                              "fuel.shelf[1].price_per_l; 'job get JOB' lists them"),
                     "'" + key + "'");
}

Json recordToJson(const RecordList &list, const Job &job, std::size_t i) {
    Json record{{"record", i + 1}};
    for (const RecordField &f : list.fields)
        record[f.key] = toJson(f.read(job, i));
    return record;
}

Json valueOf(const Job &job, const std::string &key) {
    if (const Field *f = fieldByPath(key))
        return {{"key", key},
                {"value", toJson(f->read(job))},
                {"title", f->title},
                {"stated", isStated(job, key)}};
    if (const CurveField *c = curveByPath(key)) {
        const Curve &curve = c->in(job);
        return {{"key", key},
                {"x", curve.axis().points()},
                {"y", curve.values()},
                {"title", c->title},
                {"stated", isStated(job, key)}};
    }
    if (const RecordList *l = recordListByPath(key)) {
        Json records = Json::array();
        for (std::size_t i = 0; i < l->size(job); ++i)
            records.push_back(recordToJson(*l, job, i));
        return {{"key", key}, {"title", l->title}, {"records", records}};
    }
    if (const std::string id = limitKey(key); !id.empty())
        return {{"key", key},
                {"value", limitOf(job, id)},
                {"title", limitById(id).title},
                {"origin", limitOrigin(job, id)},
                {"own", job.limits.contains(id)}};
    const RecordKey k = recordKey(job, key);
    if (!k.list) refuseKey(key);
    if (!k.field) return recordToJson(*k.list, job, k.record);
    return {{"key", key}, {"value", toJson(k.field->read(job, k.record))}, {"title", k.field->title}};
}

Json keysOf(const Job &job) {
    Json keys = Json::array();
    const auto add = [&](const std::string &key, const char *what, Json value) {
        keys.push_back({{"key", key}, {"what", what}, {"value", std::move(value)}});
    };
    for (const Field &f : allFields())
        add(f.path, "field", toJson(f.read(job)));
    for (const CurveField &c : allCurves())
        add(c.path, "curve", curveToText(c.in(job), c, written()));
    for (const RecordList &l : allRecordLists())
        add(l.path, "list", std::to_string(l.size(job)) + " records");
    for (const LimitDefinition &l : allLimits())
        add("limits." + std::string(l.id), "limit", limitOf(job, l.id));
    return {{"keys", keys}};
}

void setField(Job &job, const Field &f, const std::string &text) {
    const FieldContent content = contentFrom(f.read(job), text, f.path, f.least, f.most, f.dimension);
    validate(f, content);
    f.write(job, content);
    state(job, f.path); // the very value that it has already is said now
}

void setRecord(Job &job, const RecordList &list, std::size_t record, const RecordField &f,
               const std::string &text) {
    const FieldContent content =
        contentFrom(f.read(job, record), text, list.path + " " + f.key, f.least, f.most, f.dimension);
    validate(list, f, record, content);
    const FieldContent before = f.read(job, record);
    if (list.path == "calibration.extras" && f.key == "name")
        return renameExtra(job, record, std::get<std::string>(content));
    f.write(job, record, content);
    if (&f == &list.fields.front() && std::holds_alternative<std::string>(content)) // as in the window
        renameReferences(job, list.path, std::get<std::string>(before), std::get<std::string>(content));
}

// "shipped" takes the job's own away.
void setLimit(Job &job, const std::string &id, const std::string &text) {
    const LimitDefinition &limit = limitById(id);
    if (text == "shipped")
        job.limits.erase(id);
    else
        job.limits[id] = numberFrom("limits." + id, text, between(limit.least, limit.most, limit.dimension));
}

void setValue(Job &job, const std::string &key, const std::string &text) {
    if (const Field *f = fieldByPath(key)) return setField(job, *f, text);
    if (const CurveField *c = curveByPath(key)) {
        const Curve curve = curveFromText(text, *c, written());
        validate(*c, curve);
        c->of(job) = curve;
        return state(job, key);
    }
    if (const std::string id = limitKey(key); !id.empty()) return setLimit(job, id, text);
    const RecordKey k = recordKey(job, key);
    if (!k.list || !k.field) refuseKey(key);
    setRecord(job, *k.list, k.record, *k.field, text);
}

// "price_per_l=1.85" for a record.
void setPairs(Job &job, const RecordList &list, std::size_t record, const std::vector<std::string> &pairs) {
    for (const std::string &pair : pairs) {
        const std::size_t equals = pair.find('=');
        const auto f = std::ranges::find(list.fields, pair.substr(0, equals), &RecordField::key);
        if (equals == std::string::npos || f == list.fields.end()) {
            std::string known;
            for (const RecordField &one : list.fields)
                known += (known.empty() ? "" : ", ") + one.key;
            throw InputError(list.path, verbatim("key=value, a key being one of " + known), "'" + pair + "'");
        }
        setRecord(job, list, record, *f, pair.substr(equals + 1));
    }
}

const RecordList &listOf(const std::string &path) {
    if (const RecordList *l = recordListByPath(path)) return *l;
    std::string known;
    for (const RecordList &l : allRecordLists())
        known += (known.empty() ? "" : ", ") + l.path;
    throw InputError("list", verbatim("one of " + known), "'" + path + "'");
}

struct RecordArguments {
    std::string job, key, value, list, name, note;
    std::vector<std::string> pairs;
    bool sent = false, json = false;
};

void write(const RecordArguments &a, const std::string &what, const std::string &key,
           const std::function<void(Job &)> &change) {
    JobEdit edit(a.job, true);
    Job after = edit.before();
    change(after);
    // By its place, since it may have got another name.
    std::string place = key;
    if (const RecordKey k = recordKey(edit.before(), key); k.list) {
        place = k.list->path + "[" + std::to_string(k.record + 1) + "]";
        if (k.field) place += "." + k.field->key;
    }
    edit.commit(after, what, CellOrigin::typed);
    Json answer = valueOf(after, place);
    if (answer.contains("key")) answer["key"] = key;
    print(answer, a.json);
}

std::shared_ptr<RecordArguments> jobArguments(CLI::App *sub) {
    auto a = std::make_shared<RecordArguments>();
    sub->add_option("job", a->job, "Job file")->required();
    sub->add_flag("--json", a->json, "Print JSON");
    return a;
}

void addRecord(const RecordArguments &a, const std::string &path) {
    const RecordList &list = listOf(path);
    write(a, "Add to " + format(list.title), path, [&](Job &job) {
        const std::size_t at = list.size(job);
        list.resize(job, at + 1);
        setPairs(job, list, at, a.pairs);
        validate(list, job);
    });
}

void editRecord(const RecordArguments &a, const std::string &path) {
    const RecordList &list = listOf(path);
    write(a, "Edit " + format(list.title), path, [&](Job &job) {
        setPairs(job, list, recordOf(list, job, a.key, path), a.pairs);
        validate(list, job);
    });
}

void removeRecord(const RecordArguments &a, const std::string &path) {
    const RecordList &list = listOf(path);
    write(a, "Take from " + format(list.title), path, [&](Job &job) {
        const std::size_t at = recordOf(list, job, a.key, path);
        if (path == "calibration.extras")
            removeExtra(job, at);
        else
            list.erase(job, at);
    });
}

void addPairs(CLI::App *sub, RecordArguments &a) {
    sub->add_option("values", a.pairs, "key=value, as many as there are to say")->required();
}

} // namespace

void addRecordCommands(CLI::App *job) {
    CLI::App *get =
        job->add_subcommand("get", "A field, curve, list, record or limit of a job; without a key, all");
    auto forGet = jobArguments(get);
    get->add_option(
        "key", forGet->key,
        "Such as engine.rev_limit_rpm, fuel.shelf, fuel.shelf[1].price_per_l or limits.boost.overshoot");
    get->callback([a = forGet] {
        const Job of = loadJob(a->job);
        print(a->key.empty() ? keysOf(of) : valueOf(of, a->key), a->json);
    });

    CLI::App *set =
        job->add_subcommand("set", "Set a field, a curve, a limit or what a record says, as one action");
    auto forSet = jobArguments(set);
    set->add_option("key", forSet->key, "As for get")->required();
    set->add_option(
           "value", forSet->value,
           "In SI, as get prints it; a curve as '0 %: 200 kPa; 85 %: 270 kPa'; of a limit also 'shipped'")
        ->required();
    set->callback([a = forSet] {
        write(*a, "Set " + a->key, a->key, [&](Job &to) { setValue(to, a->key, a->value); });
    });

    CLI::App *add = job->add_subcommand("add", "Add a record to a list of a job");
    auto forAdd = jobArguments(add);
    add->add_option("list", forAdd->list, "Such as fuel.lots")->required();
    addPairs(add, *forAdd);
    add->callback([a = forAdd] { addRecord(*a, a->list); });

    CLI::App *remove = job->add_subcommand("remove", "Take a record from a list of a job");
    auto forRemove = jobArguments(remove);
    remove->add_option("list", forRemove->list, "Such as fuel.lots")->required();
    remove->add_option("record", forRemove->key, "Its number from 1, or its name")->required();
    remove->callback([a = forRemove] { removeRecord(*a, a->list); });
}

void addTankEventCommand(CLI::App *tank) {
    CLI::App *sub = tank->add_subcommand(
        "event",
        "Add to the tank's history: kind=pour litres=20 ethanol=0.85; the time is now where none is said");
    auto a = jobArguments(sub);
    addPairs(sub, *a);
    sub->callback([a] {
        const RecordList &list = listOf("tank.events");
        write(*a, "Tank event", list.path, [&](Job &job) {
            const std::size_t at = list.size(job);
            list.resize(job, at + 1);
            std::vector<std::string> pairs = a->pairs;
            if (std::ranges::none_of(pairs, [](const std::string &p) { return p.starts_with("at="); }))
                pairs.push_back("at=" + timestamp());
            setPairs(job, list, at, pairs);
            validate(list, job);
        });
    });
}

void addShelfEditCommands(CLI::App *shelf) {
    CLI::App *add =
        shelf->add_subcommand("add", "Add a fuel to the shelf: name=Corner kind=pump ethanol=0.1");
    auto forAdd = jobArguments(add);
    addPairs(add, *forAdd);
    add->callback([a = forAdd] { addRecord(*a, "fuel.shelf"); });
    CLI::App *edit = shelf->add_subcommand("edit", "Change what a fuel of the shelf says");
    auto forEdit = jobArguments(edit);
    edit->add_option("fuel", forEdit->key, "Its name, or its number from 1")->required();
    addPairs(edit, *forEdit);
    edit->callback([a = forEdit] { editRecord(*a, "fuel.shelf"); });
}

} // namespace wheelwright
