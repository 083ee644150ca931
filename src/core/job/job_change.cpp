#include "core/job/job_change.h"

#include <utility>

namespace wheelwright {
namespace {

void compareTables(const TableField &f, const Table2D &a, const Table2D &b, JobChange &out) {
    if (a.x() != b.x() || a.y() != b.y()) {
        out.tables.push_back({f.path, {a, b}});
        return;
    }
    JobChange::CellSteps steps{f.path, {}};
    for (std::size_t y = 0; y < a.y().size(); ++y)
        for (std::size_t x = 0; x < a.x().size(); ++x)
            if (a.cell(x, y) != b.cell(x, y)) steps.cells.push_back({{x, y}, a.cell(x, y), b.cell(x, y)});
    if (!steps.cells.empty()) out.cells.push_back(std::move(steps));
}

std::optional<double> limitOf(const Job &job, const std::string &id) {
    const auto at = job.limits.find(id);
    return at == job.limits.end() ? std::nullopt : std::optional(at->second);
}

void compareLimits(const Job &before, const Job &after, JobChange &out) {
    Limits both = before.limits;
    both.insert(after.limits.begin(), after.limits.end());
    for (const auto &[id, unused] : both)
        if (limitOf(before, id) != limitOf(after, id))
            out.limits.push_back({id, {limitOf(before, id), limitOf(after, id)}});
}

} // namespace

JobChange difference(const Job &before, const Job &after) {
    JobChange out;
    for (const Field &f : allFields())
        if (const FieldContent a = f.read(before), b = f.read(after); a != b)
            out.fields.push_back({f.path, {a, b}});
    for (const CurveField &c : allCurves())
        if (const Curve &a = c.of(const_cast<Job &>(before)), &b = c.of(const_cast<Job &>(after)); a != b)
            out.curves.push_back({c.path, {a, b}});
    for (const TableField &t : allTables())
        compareTables(t, t.of(before), t.of(after), out);
    compareLimits(before, after, out);
    for (const RecordList &l : allRecordLists())
        if (!l.same(before, after))
            out.records.push_back({l.path, {recordsOf(before, l), recordsOf(after, l)}});
    return out;
}

JobChange reversed(const JobChange &change) {
    JobChange out = change;
    for (auto &f : out.fields)
        std::swap(f.step.before, f.step.after);
    for (auto &c : out.curves)
        std::swap(c.step.before, c.step.after);
    for (auto &t : out.cells)
        for (auto &cell : t.cells)
            std::swap(cell.before, cell.after);
    for (auto &t : out.tables)
        std::swap(t.step.before, t.step.after);
    for (auto &l : out.limits)
        std::swap(l.step.before, l.step.after);
    for (auto &r : out.records)
        std::swap(r.step.before, r.step.after);
    return out;
}

void apply(Job &job, const JobChange &change) {
    for (const auto &f : change.fields)
        fieldByPath(f.path)->write(job, f.step.after);
    for (const auto &c : change.curves)
        curveByPath(c.path)->of(job) = c.step.after;
    for (const auto &t : change.cells)
        for (const auto &cell : t.cells)
            tableByPath(t.path)->of(job).setCell(cell.at, cell.after);
    for (const auto &t : change.tables)
        tableByPath(t.path)->of(job) = t.step.after;
    for (const auto &r : change.records)
        setRecords(job, *recordListByPath(r.path), r.step.after);
    for (const auto &l : change.limits)
        if (l.step.after)
            job.limits[l.id] = *l.step.after;
        else
            job.limits.erase(l.id);
}

} // namespace wheelwright
