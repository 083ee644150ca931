// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/job/job_change.h"

#include "core/base/error.h"
#include "core/job/named_tables.h"

#include <algorithm>
#include <functional>
#include <set>
#include <utility>

namespace wheelwright {
namespace {

using RecordStep = JobChange::RecordStep;

void compareTables(const std::string &path, const Table2D &a, const Table2D &b, JobChange &out) {
    if (a.shares(b) && a.x() == b.x() && a.y() == b.y()) return;
    if (a.x() != b.x() || a.y() != b.y()) {
        out.tables.push_back({path, {a, b}});
        return;
    }
    JobChange::CellSteps steps{path, {}};
    for (std::size_t y = 0; y < a.y().size(); ++y)
        for (std::size_t x = 0; x < a.x().size(); ++x) {
            const CellIndex i{x, y};
            if (a.cell(i) != b.cell(i) || a.origin(i) != b.origin(i))
                steps.cells.push_back({i, a.cell(i), b.cell(i), a.origin(i), b.origin(i)});
        }
    if (!steps.cells.empty()) out.cells.push_back(std::move(steps));
}

RecordValue valueOf(const Job &job, const RecordField &f, std::size_t place) {
    if (f.table()) return f.tableIn(job, place);
    if (f.deferred()) return f.deferredIn(job, place);
    return std::visit([](const auto &v) -> RecordValue { return v; }, f.read(job, place));
}

void setValue(Job &job, const RecordField &f, std::size_t place, const RecordValue &value) {
    if (const auto *table = std::get_if<Table2D>(&value))
        f.tableOf(job, place) = *table;
    else if (const auto *text = std::get_if<DeferredText>(&value))
        f.deferredOf(job, place) = *text;
    else if (const auto *number = std::get_if<double>(&value))
        f.write(job, place, *number);
    else if (const auto *flag = std::get_if<bool>(&value))
        f.write(job, place, *flag);
    else
        f.write(job, place, std::get<std::string>(value));
}

RecordStep wholeRecord(const Job &job, const RecordList &list, std::size_t place, RecordStep::Kind kind) {
    RecordStep step;
    step.id = list.ids(job)[place];
    step.kind = kind;
    for (const RecordField &f : list.fields)
        step.whole.push_back(valueOf(job, f, place));
    return step;
}

// One record of both jobs: `id` is what the first calls it.
void compareRecord(const RecordList &list, RecordId id, const Job &a, std::size_t i, const Job &b,
                   std::size_t k, JobChange::RecordSteps &steps, JobChange &out) {
    for (const RecordField &f : list.fields)
        if (f.table()) compareTables(recordTablePath(list, id, f), f.tableIn(a, i), f.tableIn(b, k), out);
    if (list.sameRecord(a, i, b, k)) return;
    RecordStep step;
    step.id = id;
    for (std::size_t n = 0; n < list.fields.size(); ++n) {
        const RecordField &f = list.fields[n];
        if (f.table()) continue;
        RecordValue before = valueOf(a, f, i), after = valueOf(b, f, k);
        if (before != after) step.values.push_back({n, {std::move(before), std::move(after)}});
    }
    if (!step.values.empty()) steps.steps.push_back(std::move(step));
}

bool allSame(const RecordList &list, const Job &a, const Job &b) {
    if (list.size(a) != list.size(b)) return false;
    for (std::size_t i = 0; i < list.size(a); ++i)
        if (!list.sameRecord(a, i, b, i)) return false;
    return true;
}

void compareRecords(const RecordList &list, const Job &a, const Job &b, JobChange &out) {
    if (list.shares(a, b)) return;
    const auto idsA = list.ids(a), idsB = list.ids(b);
    JobChange::RecordSteps steps{list.path, {}};
    // Of another file: the same records under other ids are the same.
    const bool byPlace = !std::ranges::equal(idsA, idsB) && allSame(list, a, b);
    std::size_t i = 0, k = 0;
    while (i < idsA.size() || k < idsB.size()) {
        if (byPlace || (i < idsA.size() && k < idsB.size() && idsA[i] == idsB[k])) {
            compareRecord(list, idsA[i], a, i, b, k, steps, out);
            ++i;
            ++k;
        } else if (k == idsB.size() || (i < idsA.size() && idsA[i] < idsB[k])) {
            steps.steps.push_back(wholeRecord(a, list, i++, RecordStep::Kind::removed));
        } else {
            steps.steps.push_back(wholeRecord(b, list, k++, RecordStep::Kind::inserted));
        }
    }
    if (!steps.steps.empty()) out.records.push_back(std::move(steps));
}

std::optional<double> limitIn(const Job &job, const std::string &id) {
    const auto at = job.limits.find(id);
    return at == job.limits.end() ? std::nullopt : std::optional(at->second);
}

void compareLimits(const Job &before, const Job &after, JobChange &out) {
    if (before.limits == after.limits) return;
    Limits both = before.limits;
    both.insert(after.limits.begin(), after.limits.end());
    for (const auto &[id, unused] : both)
        if (limitIn(before, id) != limitIn(after, id))
            out.limits.push_back({id, {limitIn(before, id), limitIn(after, id)}});
}

std::size_t placeOf(const Job &job, const RecordList &list, const RecordStep &step) {
    const auto ids = list.ids(job);
    const auto at = std::ranges::lower_bound(ids, step.id);
    const bool there = at != ids.end() && *at == step.id;
    if (there == (step.kind == RecordStep::Kind::inserted))
        throw InputError(list.path,
                         there ? MARKED("expected.room_for_record", "room for a record")
                               : MARKED("expected.record_to_change", "the record that is to change"),
                         there ? "another in its place" : "none");
    return static_cast<std::size_t>(at - ids.begin());
}

Table2D &tableFor(Job &job, const std::string &path) {
    if (Table2D *table = tableAt(job, path)) return *table;
    throw InputError(path, MARKED("expected.a_table_to_change", "a table to change"),
                     MARKED("found.none", "none"));
}

// The last goes first and the first comes first, so that a whole list costs no shifting.
void applyRecords(Job &job, const JobChange::RecordSteps &steps) {
    const RecordList &list = *recordListByPath(steps.path);
    for (auto s = steps.steps.rbegin(); s != steps.steps.rend(); ++s)
        if (s->kind == RecordStep::Kind::removed) list.erase(job, placeOf(job, list, *s));
    for (const RecordStep &s : steps.steps) {
        if (s.kind == RecordStep::Kind::removed) continue;
        const std::size_t place = placeOf(job, list, s);
        if (s.kind == RecordStep::Kind::inserted) {
            list.insert(job, place, s.id);
            for (std::size_t n = 0; n < list.fields.size(); ++n)
                setValue(job, list.fields[n], place, s.whole[n]);
        }
        for (const RecordStep::Value &v : s.values)
            setValue(job, list.fields[v.field], place, v.step.after);
    }
}

template <class Steps, class PathOf>
bool anyBelow(const Steps &steps, std::string_view prefix, PathOf pathOf) {
    return std::ranges::any_of(steps,
                               [&](const auto &s) { return std::invoke(pathOf, s).starts_with(prefix); });
}

// The rows that a change writes, by name. A table of which the axes change is one row, as is a record.
std::set<std::string> rowsOf(const JobChange &change) {
    std::set<std::string> rows;
    for (const auto &f : change.fields)
        rows.insert(f.path);
    for (const auto &c : change.curves)
        rows.insert(c.path);
    for (const auto &l : change.limits)
        rows.insert("limits." + l.id);
    for (const auto &t : change.cells)
        for (const JobChange::Cell &c : t.cells)
            rows.insert(t.path + " " + std::to_string(c.at.y) + " " + std::to_string(c.at.x));
    for (const auto &t : change.tables)
        rows.insert(t.path);
    for (const auto &r : change.records)
        for (const RecordStep &s : r.steps)
            rows.insert(r.path + "#" + std::to_string(s.id));
    return rows;
}

// Cells stand and fall with their table, and its tables with a record that comes or goes.
bool coversCells(const JobChange &whole, const JobChange &part) {
    const auto meets = [&](const std::string &table) {
        for (const auto &t : part.cells)
            if (t.path == table) return true;
        return false;
    };
    for (const auto &t : whole.tables)
        if (meets(t.path)) return true;
    for (const auto &r : whole.records)
        for (const RecordStep &s : r.steps) {
            if (s.kind == RecordStep::Kind::set) continue;
            const std::string record = r.path + "#" + std::to_string(s.id) + ".";
            if (anyBelow(part.cells, record, &JobChange::CellSteps::path) ||
                anyBelow(part.tables, record, &JobChange::TableStep::path))
                return true;
        }
    return false;
}

} // namespace

bool JobChange::touches(std::string_view prefix) const {
    return anyBelow(fields, prefix, &FieldStep::path) || anyBelow(curves, prefix, &CurveStep::path) ||
           anyBelow(records, prefix, &RecordSteps::path) || anyBelow(cells, prefix, &CellSteps::path) ||
           anyBelow(tables, prefix, &TableStep::path) ||
           (!limits.empty() && std::string_view("limits.").starts_with(prefix)) ||
           anyBelow(limits, prefix, [](const LimitStep &l) { return "limits." + l.id; });
}

JobChange difference(const Job &before, const Job &after) {
    JobChange out;
    for (const Chapter &chapter : allChapters()) {
        if (!chapter.same(before, after)) {
            for (const Field &f : chapter.fields)
                if (FieldContent a = f.read(before), b = f.read(after); a != b)
                    out.fields.push_back({f.path, {std::move(a), std::move(b)}});
            for (const CurveField &c : chapter.curves)
                if (const Curve &a = c.in(before), &b = c.in(after); a != b)
                    out.curves.push_back({c.path, {a, b}});
        }
        for (const RecordList &l : chapter.lists)
            compareRecords(l, before, after, out);
    }
    for (const TableField &t : allTables())
        compareTables(t.path, t.of(before), t.of(after), out);
    compareLimits(before, after, out);
    return out;
}

JobChange reversed(JobChange change) {
    for (auto &f : change.fields)
        std::swap(f.step.before, f.step.after);
    for (auto &c : change.curves)
        std::swap(c.step.before, c.step.after);
    for (auto &t : change.cells)
        for (auto &cell : t.cells) {
            std::swap(cell.before, cell.after);
            std::swap(cell.originBefore, cell.originAfter);
        }
    for (auto &t : change.tables)
        std::swap(t.step.before, t.step.after);
    for (auto &l : change.limits)
        std::swap(l.step.before, l.step.after);
    for (auto &r : change.records)
        for (RecordStep &s : r.steps) {
            if (s.kind != RecordStep::Kind::set)
                s.kind = s.kind == RecordStep::Kind::inserted ? RecordStep::Kind::removed
                                                              : RecordStep::Kind::inserted;
            for (RecordStep::Value &v : s.values)
                std::swap(v.step.before, v.step.after);
        }
    return change;
}

// Records first: their tables are there then, or gone.
void apply(Job &job, const JobChange &change) {
    for (const auto &f : change.fields)
        fieldByPath(f.path)->write(job, f.step.after);
    for (const auto &c : change.curves)
        curveByPath(c.path)->of(job) = c.step.after;
    for (const auto &r : change.records)
        applyRecords(job, r);
    for (const auto &t : change.cells) {
        Table2D &table = tableFor(job, t.path);
        for (const JobChange::Cell &cell : t.cells) {
            if (cell.at.x >= table.x().size() || cell.at.y >= table.y().size())
                throw InputError(t.path, MARKED("expected.a_cell_to_change", "a cell to change"),
                                 MARKED("found.none", "none"));
            table.setCell(cell.at, cell.after);
            table.setOrigin(cell.at, cell.originAfter);
        }
    }
    for (const auto &t : change.tables)
        tableFor(job, t.path) = t.step.after;
    for (const auto &l : change.limits)
        if (l.step.after)
            job.limits[l.id] = *l.step.after;
        else
            job.limits.erase(l.id);
}

bool overlap(const JobChange &a, const JobChange &b) {
    const std::set<std::string> rowsA = rowsOf(a), rowsB = rowsOf(b);
    return std::ranges::any_of(rowsA, [&](const std::string &row) { return rowsB.contains(row); }) ||
           coversCells(a, b) || coversCells(b, a);
}

} // namespace wheelwright
