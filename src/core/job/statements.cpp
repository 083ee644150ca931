// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/job/statements.h"

#include "core/base/fingerprint.h"
#include "core/job/describe.h"
#include "core/job/job_change.h"
#include "core/job/named_tables.h"

#include <algorithm>
#include <array>
#include <cstdint>
#include <iterator>
#include <utility>

namespace wheelwright {

Chapter statementsChapter() {
    const auto statements = listOf<Statement>([](auto &j) -> auto & { return j.stated; });
    constexpr std::size_t most = 1000; // several times what there are fields
    Chapter c;
    c.lists = {
        statements.list(MARKED("stated", "What somebody has stated"), most,
                        {statements.field(MARKED("stated.path", "Field"), &Statement::path,
                                          MARKED("stated.path.help",
                                                 "A field or curve that was typed, imported or confirmed.")),
                         statements.field(MARKED("stated.estimated", "Estimated"), &Statement::estimated,
                                          MARKED("stated.estimated.help",
                                                 "A template made it up, and nobody has stated it yet."))})};
    c.same = [](const Job &a, const Job &b) { return a.stated == b.stated; };
    return c;
}

namespace {

// Place in the list; its size where there is none.
std::size_t placeOf(const Job &job, std::string_view path) {
    const std::vector<Statement> &all = job.stated;
    return static_cast<std::size_t>(std::ranges::find(all, path, &Statement::path) - all.begin());
}

// The id of a statement follows from its path, so that two programs that state different fields
// write different rows, and neither refuses the other.
RecordId idOf(std::string_view path) {
    constexpr std::uint64_t positive = (std::uint64_t{1} << 48) - 1;
    return static_cast<RecordId>(fingerprint(path) & positive) + 1;
}

void put(Job &job, std::string_view path, bool estimated) {
    const std::size_t at = placeOf(job, path);
    if (at == job.stated.size()) {
        RecordId id = idOf(path);
        const auto ids = job.stated.ids();
        auto place = std::ranges::lower_bound(ids, id) - ids.begin();
        for (; place < std::ssize(ids) && ids[static_cast<std::size_t>(place)] == id; ++place)
            ++id;
        job.stated.insertAt(static_cast<std::size_t>(place), {std::string(path), estimated}, id);
    } else if (std::as_const(job.stated)[at].estimated != estimated)
        job.stated[at].estimated = estimated;
}

} // namespace

Knowledge knowledgeOf(const Job &job, std::string_view path) {
    const std::size_t at = placeOf(job, path);
    if (at == job.stated.size()) return Knowledge::unknown;
    return job.stated[at].estimated ? Knowledge::estimated : Knowledge::stated;
}

bool isStated(const Job &job, std::string_view path) {
    return knowledgeOf(job, path) == Knowledge::stated;
}

void state(Job &job, std::string_view path) {
    put(job, path, false);
}

void estimate(Job &job, std::string_view path) {
    put(job, path, true);
}

void believeTables(Job &job) {
    Job flat = job;
    makeTablesFlat(flat);
    for (const TableField &f : allTables()) {
        Table2D &mine = f.of(job);
        const Table2D &theirs = f.of(flat);
        if (mine.origins().empty() && mine.x() == theirs.x() && mine.y() == theirs.y() &&
            mine.cells() == theirs.cells())
            mine.setOrigins(theirs.origins());
        const auto flatCell = [&mine](double v) { return v == mine.cells().front(); };
        if (!mine.origins().empty() &&
            std::ranges::count(mine.origins(), CellOrigin::assumed) ==
                static_cast<std::ptrdiff_t>(mine.cells().size()) &&
            !std::ranges::all_of(mine.cells(), flatCell))
            mine.setOrigins({});
    }
}

void stateWhatDiffers(Job &job) {
    const std::vector<NamedTable> tables = namedTables(job);
    const bool estimated = std::ranges::any_of(tables, [](const NamedTable &t) {
        return std::ranges::find(t.table->origins(), CellOrigin::estimated) != t.table->origins().end();
    });
    const auto madeUp = [&](const std::string &path) {
        constexpr std::array byTemplate{"engine.boost_limit_kpa", "engine.map_sensor_max_kpa",
                                        "boost.cut_kpa", "injectors.flow_cc_min",
                                        "injectors.rated_pressure_kpa"};
        return estimated && std::ranges::find(byTemplate, path) != byTemplate.end();
    };
    Job fresh;
    const auto say = [&](const std::string &path) {
        if (placeOf(job, path) == job.stated.size()) put(job, path, madeUp(path));
    };
    for (const Field &f : allFields())
        if (f.read(job) != f.read(fresh)) say(f.path);
    for (const CurveField &c : allCurves())
        if (c.in(job) != c.in(fresh)) say(c.path);
    believeTables(job);
}

void stateChanged(const Job &before, Job &after, const JobChange &change) {
    const auto isEstimate = [](const Job &job, std::string_view path) {
        return knowledgeOf(job, path) == Knowledge::estimated;
    };
    const auto say = [&](std::string_view path) {
        if (!isEstimate(after, path) || isEstimate(before, path)) state(after, path);
    };
    for (const auto &f : change.fields)
        say(f.path);
    for (const auto &c : change.curves)
        say(c.path);
}

} // namespace wheelwright
