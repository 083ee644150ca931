// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/job/named_tables.h"

#include "core/base/text.h"

#include <algorithm>
#include <charconv>
#include <optional>

namespace wheelwright {
namespace {

constexpr std::string_view levelsPath = "calibration.levels.", extrasPath = "calibration.extras.";

std::string levelPath(const ContentLevel &level, CalibratedQuantity q) {
    return std::string(levelsPath) + exactNumber(level.content) + "." + std::string(quantityId(q));
}

// A table of a record: which list, record and field.
struct RecordTable {
    const RecordList *list;
    std::size_t place;
    const RecordField *field;
};

std::optional<RecordTable> recordTable(const Job &job, std::string_view path) {
    const std::size_t hash = path.find('#');
    if (hash == std::string_view::npos) return std::nullopt;
    const std::size_t dot = path.find('.', hash);
    const RecordList *list = recordListByPath(path.substr(0, hash));
    if (!list || dot == std::string_view::npos) return std::nullopt;
    RecordId id = 0;
    const auto [end, problem] = std::from_chars(path.data() + hash + 1, path.data() + dot, id);
    const auto field = std::ranges::find(list->fields, path.substr(dot + 1), &RecordField::key);
    const auto ids = list->ids(job);
    const auto at = std::ranges::lower_bound(ids, id);
    if (problem != std::errc() || end != path.data() + dot || field == list->fields.end() ||
        !field->table() || at == ids.end() || *at != id)
        return std::nullopt;
    return RecordTable{list, static_cast<std::size_t>(at - ids.begin()), &*field};
}

} // namespace

std::vector<NamedTable> namedTables(const Job &job) {
    std::vector<NamedTable> tables;
    for (const TableField &f : allTables())
        tables.push_back({f.path, &f.of(job)});
    for (const ContentLevel &level : job.calibration.levels)
        for (const CalibratedQuantity q : allQuantities)
            tables.push_back({levelPath(level, q), &level.of(q)});
    for (const ExtraTable &extra : job.extras)
        tables.push_back({std::string(extrasPath) + extra.name, &extra.table});
    return tables;
}

// Only the list that has it is taken out of sharing.
Table2D *namedTable(Job &job, std::string_view path) {
    if (const TableField *f = tableByPath(path)) return &f->of(job);
    if (path.starts_with(levelsPath)) {
        const auto &levels = std::as_const(job.calibration.levels);
        for (std::size_t i = 0; i < levels.size(); ++i)
            for (const CalibratedQuantity q : allQuantities)
                if (levelPath(levels[i], q) == path) return &job.calibration.levels[i].of(q);
    }
    const auto &extras = std::as_const(job.extras);
    for (std::size_t i = 0; i < extras.size(); ++i)
        if (path.starts_with(extrasPath) && path.substr(extrasPath.size()) == extras[i].name)
            return &job.extras[i].table;
    return nullptr;
}

void renameExtra(Job &job, std::size_t place, const std::string &name) {
    const std::string from = std::string(extrasPath) + job.extras.values()[place].name;
    job.extras[place].name = name;
    const auto &marks = std::as_const(job.cellMarks);
    for (std::size_t i = 0; i < marks.size(); ++i)
        if (marks[i].table == from) job.cellMarks[i].table = std::string(extrasPath) + name;
}

void removeExtra(Job &job, std::size_t place) {
    const std::string path = std::string(extrasPath) + job.extras.values()[place].name;
    job.extras.eraseAt(place);
    job.cellMarks.eraseIf([&](const CellMark &m) { return m.table == path; });
}

std::string recordTablePath(const RecordList &list, RecordId id, const RecordField &field) {
    return list.path + "#" + std::to_string(id) + "." + field.key;
}

const Table2D *tableAt(const Job &job, std::string_view path) {
    if (const TableField *f = tableByPath(path)) return &f->of(job);
    const auto found = recordTable(job, path);
    return found ? &found->field->tableIn(job, found->place) : nullptr;
}

Table2D *tableAt(Job &job, std::string_view path) {
    if (const TableField *f = tableByPath(path)) return &f->of(job);
    const auto found = recordTable(job, path);
    return found ? &found->field->tableOf(job, found->place) : nullptr;
}

std::vector<std::pair<std::string, std::string>> originTexts(const Job &job) {
    std::vector<std::pair<std::string, std::string>> texts;
    for (const NamedTable &t : namedTables(job))
        if (!t.table->origins().empty()) texts.emplace_back(t.path, originsToText(t.table->origins()));
    return texts;
}

void setOriginText(Job &job, std::string_view path, std::string_view codes, const std::string &where) {
    std::vector<CellOrigin> origins = originsFromText(codes, where);
    if (Table2D *table = namedTable(job, path)) table->setOrigins(std::move(origins));
}

} // namespace wheelwright
