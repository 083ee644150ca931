// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/cell_trust.h"

#include "core/job/job_schema.h"
#include "core/study/load_axis.h"
#include "core/tables/table_kind.h"

#include <algorithm>
#include <map>
#include <utility>

namespace wheelwright {
namespace {

const Table2D *tableNamed(const std::vector<NamedTable> &tables, const std::string &path) {
    const auto at = std::ranges::find(tables, path, &NamedTable::path);
    return at == tables.end() ? nullptr : at->table;
}

std::size_t placeOf(const Axis &axis, double value) {
    const std::size_t i = axis.nearest(value);
    return axis[i] == value ? i : axis.size();
}

// Origins of a table as it is now, given the table that it was.
std::vector<CellOrigin> stepped(const Table2D &now, const Table2D *was, CellOrigin how) {
    std::vector<CellOrigin> out;
    out.reserve(now.cells().size());
    const bool sameAxes = was && now.x() == was->x() && now.y() == was->y();
    // What is made of guesses by arithmetic is a guess still.
    const bool arithmetic = how == CellOrigin::interpolated || how == CellOrigin::model;
    const bool ofGuesses = arithmetic && was && std::ranges::any_of(was->origins(), guessed);
    for (std::size_t y = 0; y < now.y().size(); ++y)
        for (std::size_t x = 0; x < now.x().size(); ++x) {
            const std::size_t oldX = sameAxes ? x : was ? placeOf(was->x(), now.x()[x]) : 0;
            const std::size_t oldY = sameAxes ? y : was ? placeOf(was->y(), now.y()[y]) : 0;
            const bool kept = was && oldX < was->x().size() && oldY < was->y().size() &&
                              was->cell(oldX, oldY) == now.cell(x, y);
            // What a new table holds before anybody has said it stays a guess.
            if (!was && guessed(now.origin({x, y}))) {
                out.push_back(now.origin({x, y}));
                continue;
            }
            const bool guess = sameAxes ? arithmetic && guessed(was->origin({x, y})) : ofGuesses;
            // The same number may be said anew: where somebody set its origin, that is the edit.
            const bool said =
                kept && sameAxes && !now.origins().empty() && now.origin({x, y}) != was->origin({x, y});
            out.push_back(said    ? now.origin({x, y})
                          : kept  ? was->origin({oldX, oldY})
                          : guess ? CellOrigin::estimated
                                  : how);
        }
    return out;
}

void dropEmptyMarks(Job &job) {
    job.cellMarks.eraseIf([](const CellMark &m) { return !m.locked && m.note.empty(); });
}

} // namespace

std::string endPath(const Job &job, CalibratedQuantity q, double content, bool high) {
    const Table2D *end = &endTable(job, q, content, high);
    for (const NamedTable &t : namedTables(job))
        if (t.table == end) return t.path;
    return {};
}

void recordOrigins(const Job &before, Job &after, CellOrigin how) {
    const std::vector<NamedTable> old = namedTables(before);
    // A table that was not there, such as another school's, is made of those that were.
    const bool arithmetic = how == CellOrigin::interpolated || how == CellOrigin::model;
    const CellOrigin ofNew =
        arithmetic &&
                std::ranges::any_of(
                    old, [](const NamedTable &t) { return std::ranges::any_of(t.table->origins(), guessed); })
            ? CellOrigin::estimated
            : how;
    for (const NamedTable &t : namedTables(after)) {
        const Table2D *was = tableNamed(old, t.path);
        if (was && t.table->shares(*was)) continue; // most tables, most of the time
        if (was && *was == *t.table && t.table->origins() == was->origins()) continue;
        std::vector<CellOrigin> origins = stepped(*t.table, was, was ? how : ofNew);
        namedTable(after, t.path)->setOrigins(std::move(origins));
    }
}

namespace {

// Between breakpoints a number is as good as the cells around it: theirs where they agree.
CellOrigin originIn(const Table2D &t, double rpm, double y) {
    const auto around = [](const Axis &axis, double value) {
        const std::size_t near = axis.nearest(value);
        if (axis[near] == value || value < axis.first() || value > axis.last()) return std::pair{near, near};
        return value > axis[near] ? std::pair{near, near + 1} : std::pair{near - 1, near};
    };
    const auto [left, right] = around(t.x(), rpm);
    const auto [below, above] = around(t.y(), y);
    const CellOrigin first = t.origin({left, below});
    const bool agree = first == t.origin({right, below}) && first == t.origin({left, above}) &&
                       first == t.origin({right, above});
    return agree ? first : CellOrigin::interpolated;
}

} // namespace

Provenance::Provenance(const Study &study, CalibratedQuantity q, double content, TableEnd end)
    : m_study(study), m_content(content), m_ends(study.ends(q, content)),
      m_hasLoad(q != CalibratedQuantity::boost), m_end(end),
      m_reach(study.reach(content, table().x().points())) {}

CellOrigin Provenance::originAt(CellIndex cell, bool high) const {
    return originIn(high ? *m_ends.high : *m_ends.low, table().x()[cell.x], table().y()[cell.y]);
}

CellTrust Provenance::trust(CellIndex cell, const Proof *proof, std::optional<double> at) const {
    const double load = m_hasLoad ? loadOfAxis(m_study.job(), table().y()[cell.y]) : 0;
    if (!m_reach[cell.x].reaches(load)) return CellTrust::never;
    const bool low = m_end == TableEnd::high || fromLog(originAt(cell, false));
    const bool high = m_end == TableEnd::low || fromLog(originAt(cell, true));
    // A log has made the number; whether it holds is for the next log to say.
    const CellTrust otherwise = low && high ? CellTrust::seen : CellTrust::inferred;
    if (!proof || !m_hasLoad) return otherwise;
    switch (proof->at({at.value_or(m_content), table().x()[cell.x], load})) {
    case BeenThere::never:
        return otherwise;
    case BeenThere::seen:
        return CellTrust::seen;
    case BeenThere::proven:
        break;
    }
    return CellTrust::proven;
}

std::vector<CellTrust> Provenance::trust(const Proof *proof, std::optional<double> at) const {
    std::vector<CellTrust> all;
    all.reserve(table().cells().size());
    for (std::size_t y = 0; y < table().y().size(); ++y)
        for (std::size_t x = 0; x < table().x().size(); ++x)
            all.push_back(trust({x, y}, proof, at));
    return all;
}

std::vector<CellTrust> trustIn(const Study &study, const ExtraTable &extra, double content) {
    const TableKindDefinition &kind = definitionOf(extra.kind);
    const Table2D &t = extra.table;
    const bool overEngine = kind.x.key == axes::engineSpeed.key && kind.y.key == axes::load.key;
    const std::vector<ReachAtSpeed> reach =
        overEngine ? study.reach(kind.atContent ? extra.content : content, t.x().points())
                   : std::vector<ReachAtSpeed>();
    std::vector<CellTrust> all;
    for (std::size_t y = 0; y < t.y().size(); ++y)
        for (std::size_t x = 0; x < t.x().size(); ++x)
            all.push_back(overEngine && !reach[x].reaches(t.y()[y]) ? CellTrust::never
                          : fromLog(t.origin({x, y}))               ? CellTrust::seen
                                                                    : CellTrust::inferred);
    return all;
}

PhraseText inWords(CellTrust trust) {
    switch (trust) {
    case CellTrust::never:
        return MARKED(
            "trust.never",
            "The engine does not get here: over the boost target with its overshoot, or over the rev "
            "limit.");
    case CellTrust::inferred:
        return MARKED("trust.inferred", "No log has been here: nothing proves this number yet.");
    case CellTrust::seen:
        return MARKED("trust.seen",
                      "A log has been here, or made this number; whether it holds is not proven.");
    case CellTrust::proven:
        break;
    }
    return MARKED("trust.proven", "Proven by clean logs as it stands: as good as they are.");
}

const CellMark *markAt(const Job &job, const std::string &path, double rpm, double y) {
    const auto at = std::ranges::find_if(
        job.cellMarks, [&](const CellMark &m) { return m.table == path && m.rpm == rpm && m.y == y; });
    return at == job.cellMarks.end() ? nullptr : &*at;
}

std::vector<bool> locksOf(const Job &job, const std::string &path, const Table2D &table) {
    std::vector<bool> locks(table.cells().size());
    for (const CellMark &m : job.cellMarks) {
        if (!m.locked || m.table != path) continue;
        const std::size_t x = placeOf(table.x(), m.rpm), y = placeOf(table.y(), m.y);
        if (x < table.x().size() && y < table.y().size()) locks[y * table.x().size() + x] = true;
    }
    return locks;
}

std::vector<bool> locksOfBlend(const Study &study, CalibratedQuantity q, double content) {
    const Job &job = study.job();
    const BlendEnds ends = study.ends(q, content);
    std::vector<bool> locks = locksOf(job, endPath(job, q, content, false), *ends.low);
    const std::vector<bool> high = locksOf(job, endPath(job, q, content, true), *ends.low);
    for (std::size_t i = 0; i < locks.size(); ++i)
        locks[i] = locks[i] || high[i];
    return locks;
}

void setLocked(Job &job, const std::string &path, const Table2D &table, const CellSet &cells, bool locked) {
    // Marks that are there already, by place: there may be thousands.
    std::map<std::pair<double, double>, std::size_t> known;
    for (std::size_t i = 0; i < job.cellMarks.size(); ++i)
        if (job.cellMarks[i].table == path) known[{job.cellMarks[i].rpm, job.cellMarks[i].y}] = i;
    for (const CellIndex &i : cells) {
        const double rpm = table.x()[i.x], y = table.y()[i.y];
        const auto at = known.find({rpm, y});
        if (at != known.end())
            job.cellMarks[at->second].locked = locked;
        else
            job.cellMarks.push_back({path, rpm, y, locked, {}});
    }
    dropEmptyMarks(job);
}

void setNote(Job &job, const std::string &path, double rpm, double y, const std::string &note) {
    auto at = std::ranges::find_if(
        job.cellMarks, [&](const CellMark &m) { return m.table == path && m.rpm == rpm && m.y == y; });
    if (at == job.cellMarks.end()) at = job.cellMarks.insert(at, {path, rpm, y, false, {}});
    at->note = note;
    dropEmptyMarks(job);
}

void keepLocked(const Job &before, Job &after) {
    if (std::ranges::none_of(before.cellMarks, &CellMark::locked)) return;
    const std::vector<NamedTable> old = namedTables(before);
    for (const NamedTable &t : namedTables(after)) {
        const Table2D *was = tableNamed(old, t.path);
        if (!was || was->shares(*t.table) || was->x() != t.table->x() || was->y() != t.table->y()) continue;
        const std::vector<bool> locks = locksOf(before, t.path, *was);
        Table2D &table = *namedTable(after, t.path);
        for (std::size_t y = 0; y < was->y().size(); ++y)
            for (std::size_t x = 0; x < was->x().size(); ++x)
                if (locks[y * was->x().size() + x] && table.cell(x, y) != was->cell(x, y))
                    table.setCell({x, y}, was->cell(x, y));
    }
}

} // namespace wheelwright
