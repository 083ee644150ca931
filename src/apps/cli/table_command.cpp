// SPDX-License-Identifier: GPL-3.0-or-later
#include "apps/cli/commands.h"
#include "apps/cli/options.h"
#include "apps/cli/report.h"
#include "apps/cli/table_target.h"
#include "core/base/error.h"
#include "core/study/blend_edit.h"
#include "core/tables/cell_expression.h"
#include "core/tables/region_edit.h"
#include "formats/table_csv.h"

#include <nlohmann/json.hpp>

#include <cmath>
#include <optional>

namespace wheelwright {
namespace {

using Json = nlohmann::ordered_json;

struct TableArguments {
    std::string job, table, csv;
    double content = 0;
    CLI::Option *contentOption = nullptr;
    bool json = false;
};

void requireContent(const TableArguments &a) {
    if (!(a.content >= 0 && a.content <= 1))
        throw InputError("--content", verbatim("a volume fraction from 0 to 1"), std::to_string(a.content));
}

void exportTable(const TableArguments &a) {
    Job job = loadJob(a.job);
    CalibratedQuantity quantity{};
    const bool whole = isQuantity(a.table, quantity), blended = a.contentOption->count() > 0;
    if (blended && !whole)
        throw InputError("--content", verbatim("a quantity as a whole, such as spark"), "'" + a.table + "'");
    if (!blended && whole)
        throw InputError("table", verbatim("one of its tables, or --content to blend at"),
                         "'" + a.table + "'");
    Table2D table;
    TableField field;
    if (whole) {
        requireContent(a);
        table = Study(job).blended(quantity, a.content);
        field = tableIn(job, quantity, false);
    } else {
        const TableTarget target(job, a.table);
        table = target.of(job);
        field = target.field();
    }
    const std::string text = tableToCsv(table, field);
    writeText(a.csv, text);
    if (a.json) print({{"table", a.table}, {"columns", table.x().size()}, {"rows", table.y().size()}}, true);
}

// A content names the table that was calibrated at it; a blend cannot be imported, since two tables could
// make it.
TableTarget importTarget(const TableArguments &a, const Job &job) {
    CalibratedQuantity quantity{};
    if (!isQuantity(a.table, quantity) || a.contentOption->count() == 0) return {job, a.table};
    requireContent(a);
    const BlendEnds ends = SchoolModel(job).at(quantity, a.content);
    constexpr double same = 1e-9;
    for (const bool high : {false, true}) {
        if (std::abs(a.content - (high ? ends.highContent : ends.lowContent)) >= same) continue;
        const std::string path = endPath(job, quantity, a.content, high);
        std::string name = path.substr(std::string("calibration.").size());
        if (name.starts_with("levels.")) { // "levels.0.35.spark" is "spark.0.35" here
            const std::string id = "." + a.table;
            name = a.table + "." + name.substr(7, name.size() - 7 - id.size());
        }
        return {job, name};
    }
    throw InputError("--content",
                     verbatim("the calibrated content " + std::to_string(ends.lowContent) + " or " +
                              std::to_string(ends.highContent)),
                     std::to_string(a.content));
}

// Cells that differ; all of a table on other axes.
std::size_t changedCells(const Job &before, const Job &after) {
    const std::vector<NamedTable> old = namedTables(before), now = namedTables(after);
    std::size_t changed = 0;
    for (std::size_t i = 0; i < std::min(old.size(), now.size()); ++i) {
        const Table2D &a = *old[i].table, &b = *now[i].table;
        if (a.x() != b.x() || a.y() != b.y())
            changed += b.cells().size();
        else
            for (std::size_t c = 0; c < b.cells().size(); ++c)
                changed += a.cells()[c] != b.cells()[c];
    }
    return changed;
}

int importTable(const TableArguments &a) {
    const CsvText rows = readRows(a.csv); // before the job is locked: it may be slow to come
    JobEdit edit(a.job, true);
    const TableTarget target = importTarget(a, edit.before());
    Job after = edit.before();
    Table2D &table = target.of(after);
    const Table2D old = table;
    TableImport imported;
    try {
        imported = tableFromCsv(rows, target.field());
    } catch (const InputError &e) {
        throw InputError(a.csv + " " + e.where(), e.expected(), e.found());
    }
    table = std::move(imported.table);
    const bool axes = old.x() != table.x() || old.y() != table.y();
    const std::size_t changed = axes ? 0 : changedCells(edit.before(), after);
    edit.commit(after, "Import " + format(target.field().title), CellOrigin::copied);
    Json out{{"table", target.field().path}, {"changed_cells", changed}, {"axes_changed", axes}};
    if (!imported.doubt.empty()) out["doubtful"] = imported.doubt;
    print(out, a.json);
    return imported.doubt.empty() ? exitGood : exitFindings;
}

// table edit

struct EditArguments {
    std::string job, table, expression, where;
    std::vector<double> rpm, y;
    double content = 0;
    CLI::Option *contentOption = nullptr;
    bool dryRun = false, json = false;
};

// Two numbers as an inclusive region of an axis; none: all of it.
void limitTo(const char *option, const std::vector<double> &ends, std::optional<double> &least,
             std::optional<double> &most) {
    if (ends.empty()) return;
    if (ends.size() != 2 || !(ends[0] <= ends[1]))
        throw InputError(option, verbatim("two numbers, the lower one first"),
                         std::to_string(ends.size()) + " numbers");
    constexpr double inclusive = 1e-9; // the ends belong to it
    least = ends[0] - inclusive;
    most = ends[1] + inclusive;
}

// The region that is asked for; without one every number that is there.
CellQuery queryOf(const EditArguments &a, const TableField &field) {
    CellQuery query;
    query.compare = CellQuery::Compare::greater;
    query.value = -1e300;
    if (!a.where.empty()) query = parseCellQuery(a.where, field.dimension, UnitChoice{}, field.x, field.y);
    limitTo("--rpm", a.rpm, query.leastX, query.mostX);
    limitTo("--y", a.y, query.leastY, query.mostY);
    return query;
}

void addRegion(CLI::App *sub, EditArguments &a) {
    addNumbers(sub, "--rpm", a.rpm, between(1, 25000, Dimension::engineSpeed),
               "Region, such as 3000,5000; otherwise all")
        ->expected(1, 2);
    addNumbers(sub, "--y", a.y, between(0, 10000), "Region of load or throttle, in the unit of the axis")
        ->expected(1, 2);
    sub->add_option("--where", a.where, "Only such cells: '> 22 above 180 kPa'");
    sub->add_flag("--dry-run", a.dryRun, "Say what it would do");
    sub->add_flag("--json", a.json, "Print JSON");
}

int editTable(const EditArguments &a) {
    JobEdit edit(a.job, !a.dryRun);
    const Job &before = edit.before();
    Job after = before;
    CalibratedQuantity quantity{};
    const bool now = a.contentOption->count() > 0, whole = isQuantity(a.table, quantity);
    if (now != whole)
        throw InputError("table",
                         verbatim("one of its tables, or a quantity with --content to share the edit"),
                         "'" + a.table + "'");
    if (now && !(a.content >= 0 && a.content <= 1))
        throw InputError("--content", verbatim("a volume fraction from 0 to 1"), std::to_string(a.content));
    std::optional<TableTarget> target;
    if (!now) target.emplace(before, a.table);
    const TableField field = now ? tableIn(before, quantity, false) : target->field();
    const Table2D shown = now ? Study(before).blended(quantity, a.content) : target->of(after);
    const CellQuery query = queryOf(a, field);
    const CellSet found = find(shown, query);
    const CellSet cells = unlocked(
        found, now ? locksOfBlend(Study(before), quantity, a.content) : locksOf(before, field.path, shown),
        shown);
    const CellExpression expression = parseCellExpression(a.expression, field.dimension, UnitChoice{});
    if (now)
        editBlend(after, quantity, a.content, cells, expression);
    else
        applyExpression(target->of(after), cells, expression);
    keepLocked(before, after);
    const std::size_t changed = changedCells(before, after);
    edit.commit(after, "Edit " + format(field.title), CellOrigin::typed);
    // How the search was read: a bare psi or bar is of the axis, which is absolute.
    nlohmann::ordered_json read = nlohmann::ordered_json::object();
    if (!a.where.empty()) {
        read["value"] = query.value;
        const std::string x = "_" + std::string(field.x.key);
        const std::string y = field.y.key == axes::load.key          ? "_kpa"
                              : field.y.dimension == Dimension::none ? ""
                                                                     : "_" + std::string(field.y.key);
        if (query.leastY) read["above" + y] = *query.leastY;
        if (query.mostY) read["below" + y] = *query.mostY;
        if (query.leastX) read["above" + x] = *query.leastX;
        if (query.mostX) read["below" + x] = *query.mostX;
        read["note"] = "pressures are absolute; say psi gauge or bar gauge where that is meant";
    }
    print({{"table", a.table},
           {"where_read", read},
           {"chosen_cells", found.size()},
           {"locked_cells", found.size() - cells.size()},
           {"changed_cells", changed},
           {"applied", !a.dryRun && changed > 0}},
          a.json);
    // That nothing was chosen, or that all of it is locked, is worth a script's notice.
    return cells.empty() ? exitFindings : exitGood;
}

void addEdit(CLI::App *table, int &exitCode) {
    CLI::App *sub = table->add_subcommand("edit", "An expression on a region of a table, as one action. Exit "
                                                  "code 1 when it chose no cell that may change");
    auto a = std::make_shared<EditArguments>();
    sub->add_option("job", a->job, "Job file")->required();
    sub->add_option("table", a->table,
                    "Such as spark.base; spark.0.35 of a job with levels; spark with --content")
        ->required();
    sub->add_option("--expression", a->expression, "=14 sets, +2 adds, -2 takes away, *1.03 multiplies")
        ->required();
    a->contentOption = addNumber(sub, "--content", a->content, fraction(),
                                 "Edit what the engine gets there, shared by weight");
    addRegion(sub, *a);
    sub->callback([a, &exitCode] { exitCode = editTable(*a); });
}

// table state

int stateTable(const EditArguments &a) {
    JobEdit edit(a.job, !a.dryRun);
    Job after = edit.before();
    CalibratedQuantity quantity{};
    std::size_t chosen = 0, stated = 0;
    std::string title;
    const auto state = [&](Table2D &t, const TableField &field) {
        const CellSet cells = find(t, queryOf(a, field));
        chosen += cells.size();
        stated += stateCells(t, cells);
        title = format(field.title);
    };
    if (isQuantity(a.table, quantity)) {
        for (Table2D *t : tablesOf(after, quantity))
            state(*t, tableIn(after, quantity, false));
    } else {
        const TableTarget target(after, a.table);
        state(target.of(after), target.field());
    }
    edit.commit(after, title + ": these are so", CellOrigin::typed);
    print({{"table", a.table},
           {"chosen_cells", chosen},
           {"stated_cells", stated},
           {"applied", !a.dryRun && stated > 0}},
          a.json);
    return chosen == 0 ? exitFindings : exitGood;
}

void addState(CLI::App *table, int &exitCode) {
    CLI::App *sub = table->add_subcommand(
        "state", "Says that numbers are so: what was an estimate or a default is stated. "
                 "Exit code 1 when it chose no cell");
    auto a = std::make_shared<EditArguments>();
    sub->add_option("job", a->job, "Job file")->required();
    sub->add_option("table", a->table, "Such as spark.base; spark for all tables of spark")->required();
    addRegion(sub, *a);
    sub->callback([a, &exitCode] { exitCode = stateTable(*a); });
}

std::shared_ptr<TableArguments> addArguments(CLI::App *sub, const char *csvHelp) {
    auto a = std::make_shared<TableArguments>();
    sub->add_option("job", a->job, "Job file")->required();
    sub->add_option("table", a->table,
                    "Such as spark.base; spark.0.35 of a job with levels; spark with --content")
        ->required();
    sub->add_option("--csv", a->csv, csvHelp)->required();
    a->contentOption = addNumber(sub, "--content", a->content, fraction(), "Alcohol, volume fraction 0 to 1");
    sub->add_flag("--json", a->json, "Print JSON");
    return a;
}

} // namespace

void addTableCommand(CLI::App &app, int &exitCode) {
    CLI::App *table = app.add_subcommand("table", "Tables as CSV, and edits of a region");
    table->require_subcommand(1);
    CLI::App *out = table->add_subcommand("export", "Write a table, or the blend at a content, as CSV");
    out->callback([a = addArguments(out, "File to write, - for standard output")] { exportTable(*a); });
    CLI::App *in = table->add_subcommand(
        "import", "Replace one table from CSV. Exit code 1 when it may be a table of something else");
    in->callback([a = addArguments(in, "File to read, - for standard input"), &exitCode] {
        exitCode = importTable(*a);
    });
    addEdit(table, exitCode);
    addState(table, exitCode);
}

} // namespace wheelwright
