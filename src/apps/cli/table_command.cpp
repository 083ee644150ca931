#include "apps/cli/commands.h"
#include "apps/cli/report.h"
#include "core/error.h"
#include "core/job/job_schema.h"
#include "core/tables/cell_expression.h"
#include "core/tables/region_edit.h"
#include "formats/table_csv.h"
#include "store/job_store.h"

#include <nlohmann/json.hpp>

#include <cmath>
#include <iostream>

namespace wheelwright {
namespace {

struct TableArguments {
    std::string job, table, csv;
    double content = 0;
    CLI::Option *contentOption = nullptr;
    bool json = false;
};

struct TableChoice {
    CalibratedQuantity quantity;
    std::optional<bool> top; ///< empty: the quantity as a whole
};

// "spark.base", "spark.top" or "spark".
TableChoice tableChoice(const std::string &text) {
    for (CalibratedQuantity q : allQuantities) {
        const std::string id(quantityId(q));
        if (text == id) return {q, std::nullopt};
        if (text == id + ".base") return {q, false};
        if (text == id + ".top") return {q, true};
    }
    throw InputError("table", "fuel, spark, boost or lambda, alone or with .base or .top", "'" + text + "'");
}

void requireContent(const TableArguments &a) {
    if (!(a.content >= 0 && a.content <= 1))
        throw InputError("--content", "a volume fraction from 0 to 1", std::to_string(a.content));
}

void exportTable(const TableArguments &a) {
    const Job job = loadJob(a.job);
    const TableChoice choice = tableChoice(a.table);
    const bool blended = a.contentOption->count() > 0;
    if (blended && choice.top)
        throw InputError("--content",
                         "a table without .base or .top, such as " + std::string(quantityId(choice.quantity)),
                         "'" + a.table + "'");
    if (!blended && !choice.top)
        throw InputError("table", "one with .base or .top, or --content to blend at", "'" + a.table + "'");
    if (blended) requireContent(a);
    const TableField &field = tableOf(choice.quantity, choice.top.value_or(false));
    const Table2D table = blended ? blendedTable(job, choice.quantity, a.content) : field.of(job);
    const std::string text = tableToCsv(table, field);
    if (a.csv == "-")
        std::cout << text;
    else
        writeText(a.csv, text);
    if (a.json) print({{"table", a.table}, {"columns", table.x().size()}, {"rows", table.y().size()}}, true);
}

// A content names the table that was calibrated at it; a blend cannot be imported, since two tables could
// make it.
const TableField &importTarget(const TableArguments &a, const Job &job) {
    const TableChoice choice = tableChoice(a.table);
    if (choice.top) return tableOf(choice.quantity, *choice.top);
    if (a.contentOption->count() == 0)
        throw InputError("table", "one with .base or .top", "'" + a.table + "'");
    requireContent(a);
    constexpr double same = 1e-9;
    for (const bool top : {false, true})
        if (std::abs(a.content - (top ? job.calibration.topContent : job.calibration.baseContent)) < same)
            return tableOf(choice.quantity, top);
    throw InputError("--content",
                     "the calibrated content " + std::to_string(job.calibration.baseContent) + " or " +
                         std::to_string(job.calibration.topContent),
                     std::to_string(a.content));
}

void importTable(const TableArguments &a) {
    JobStore store = JobStore::open(a.job);
    const Job before = store.read();
    const TableField &field = importTarget(a, before);
    Job after = before;
    try {
        field.of(after) = tableFromCsv(readText(a.csv), tableIn(before, field.quantity, field.top));
    } catch (const InputError &e) {
        throw InputError(a.csv + " " + e.where(), e.expected(), e.found());
    }
    validate(after);
    const JobChange change = difference(before, after);
    if (!change.empty()) store.commit(change, "Import " + field.title, timestamp());
    std::size_t cells = 0;
    for (const auto &t : change.cells)
        cells += t.cells.size();
    print({{"table", field.path}, {"changed_cells", cells}, {"axes_changed", !change.tables.empty()}},
          a.json);
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
        throw InputError(option, "two numbers, the lower one first",
                         std::to_string(ends.size()) + " numbers");
    constexpr double inclusive = 1e-9; // the ends belong to it
    least = ends[0] - inclusive;
    most = ends[1] + inclusive;
}

void editTable(const EditArguments &a) {
    JobStore store = JobStore::open(a.job);
    const Job before = store.read();
    const TableChoice choice = tableChoice(a.table);
    const bool now = a.contentOption->count() > 0;
    if (now == choice.top.has_value())
        throw InputError("table", "one with .base or .top, or --content to share the edit between both",
                         "'" + a.table + "'");
    if (now && !(a.content >= 0 && a.content <= 1))
        throw InputError("--content", "a volume fraction from 0 to 1", std::to_string(a.content));
    const TableField field = tableIn(before, choice.quantity, choice.top.value_or(false));
    const Table2D shown = now ? blendedTable(before, choice.quantity, a.content) : field.of(before);
    CellQuery query;
    query.compare = CellQuery::Compare::greater;
    query.value = -1e300;
    if (!a.where.empty()) query = parseCellQuery(a.where, field.dimension, UnitChoice{});
    limitTo("--rpm", a.rpm, query.leastX, query.mostX);
    limitTo("--y", a.y, query.leastY, query.mostY);
    const CellSet cells = find(shown, query);
    const CellExpression expression = parseCellExpression(a.expression, field.dimension, UnitChoice{});
    Job after = before;
    if (now)
        editBlend(after, choice.quantity, a.content, cells, expression);
    else
        applyExpression(field.of(after), cells, expression);
    validate(after);
    const JobChange change = difference(before, after);
    if (!a.dryRun && !change.empty()) store.commit(change, "Edit " + field.title, timestamp());
    std::size_t changed = 0;
    for (const auto &t : change.cells)
        changed += t.cells.size();
    print({{"table", a.table},
           {"chosen_cells", cells.size()},
           {"changed_cells", changed},
           {"applied", !a.dryRun}},
          a.json);
}

void addEdit(CLI::App *table) {
    CLI::App *sub = table->add_subcommand("edit", "An expression on a region of a table, as one action");
    auto a = std::make_shared<EditArguments>();
    sub->add_option("job", a->job, "Job file")->required();
    sub->add_option("table", a->table, "fuel, spark, boost or lambda, with .base or .top")->required();
    sub->add_option("--expression", a->expression, "=14 sets, +2 adds, -2 takes away, *1.03 multiplies")
        ->required();
    sub->add_option("--rpm", a->rpm, "Region, such as 3000,5000; otherwise all")
        ->delimiter(',')
        ->expected(1, 2);
    sub->add_option("--y", a->y, "Region of load in kPa or throttle in per cent")
        ->delimiter(',')
        ->expected(1, 2);
    sub->add_option("--where", a->where, "Only such cells: '> 22 above 180 kPa'");
    a->contentOption =
        sub->add_option("--content", a->content, "Edit what the engine gets there, shared by weight");
    sub->add_flag("--dry-run", a->dryRun, "Say what it would do");
    sub->add_flag("--json", a->json, "Print JSON");
    sub->callback([a] { editTable(*a); });
}

std::shared_ptr<TableArguments> addArguments(CLI::App *sub, const char *csvHelp) {
    auto a = std::make_shared<TableArguments>();
    sub->add_option("job", a->job, "Job file")->required();
    sub->add_option("table", a->table, "fuel, spark, boost or lambda, with .base or .top")->required();
    sub->add_option("--csv", a->csv, csvHelp)->required();
    a->contentOption = sub->add_option("--content", a->content, "Alcohol, volume fraction 0 to 1");
    sub->add_flag("--json", a->json, "Print JSON");
    return a;
}

} // namespace

void addTableCommand(CLI::App &app, int &) {
    CLI::App *table = app.add_subcommand("table", "Tables as CSV, and edits of a region");
    table->require_subcommand(1);
    CLI::App *out = table->add_subcommand("export", "Write a table, or the blend at a content, as CSV");
    out->callback([a = addArguments(out, "File to write, - for standard output")] { exportTable(*a); });
    CLI::App *in = table->add_subcommand("import", "Replace a base or top table from CSV");
    in->callback([a = addArguments(in, "File to read")] { importTable(*a); });
    addEdit(table);
}

} // namespace wheelwright
