// SPDX-License-Identifier: GPL-3.0-or-later
#include "apps/cli/commands.h"
#include "apps/cli/options.h"
#include "apps/cli/report.h"
#include "apps/cli/table_target.h"
#include "core/base/error.h"
#include "core/job/revision.h"
#include "core/study/fuel_meaning.h"
#include "core/study/load_axis.h"
#include "core/study/school_conversion.h"
#include "core/study/spark_budget.h"
#include "core/tables/region_edit.h"
#include "formats/table_csv.h"

#include <nlohmann/json.hpp>

#include <algorithm>
#include <cmath>
#include <filesystem>

namespace wheelwright {
namespace {

using Json = nlohmann::ordered_json;

// convert

struct ConvertArguments {
    std::string job, school, meaning, loadAxis, boostAxis;
    SchoolRequest request;
    bool apply = false, json = false;
};

std::size_t chosen(const char *path, const std::string &id, const char *option) {
    const auto &choices = fieldByPath(path)->choices;
    const auto at = std::ranges::find(choices, id);
    if (at == choices.end()) {
        std::string known;
        for (const std::string &c : choices)
            known += (known.empty() ? "" : ", ") + c;
        throw InputError(option, verbatim("one of " + known), "'" + id + "'");
    }
    return static_cast<std::size_t>(at - choices.begin());
}

int convert(const ConvertArguments &a) {
    const int asked = !a.school.empty() + !a.meaning.empty() + !a.loadAxis.empty() + !a.boostAxis.empty();
    if (asked != 1)
        throw InputError("convert", verbatim("one of --school, --meaning, --load-axis and --boost-axis"),
                         std::to_string(asked) + " of them");
    JobEdit edit(a.job, a.apply);
    const Job &job = edit.before();
    Json out;
    Job after;
    bool exact = true;
    if (!a.school.empty()) {
        SchoolRequest request = a.request;
        request.school = static_cast<School>(chosen("calibration.school", a.school, "--school"));
        SchoolConversion c = convertSchool(job, request);
        Json errors = Json::array();
        for (const SchoolError &e : c.errors) {
            errors.push_back({{"table", quantityId(e.quantity)},
                              {"worst", e.worst},
                              {"worst_relative", e.worstRelative},
                              {"mean", e.mean},
                              {"content", e.content},
                              {"rpm", e.rpm},
                              {tableIn(job, e.quantity, false).y.key, e.y},
                              {"worst_by_percent", e.worstAt},
                              {"mean_by_percent", e.meanAt}});
            exact &= std::abs(e.worst) < 1e-9 || std::abs(e.worstRelative) < 1e-9;
        }
        Json levels = Json::array();
        for (const ContentLevel &l : c.job.calibration.levels)
            levels.push_back(
                {{"content", l.content}, {"window_low", l.windowLow}, {"window_high", l.windowHigh}});
        out = {{"school", a.school}, {"errors", errors}, {"levels", levels}, {"exact", exact}};
        after = std::move(c.job);
    } else if (!a.loadAxis.empty()) {
        after = changeLoadAxis(
            job, static_cast<LoadAxis>(chosen("calibration.load_axis", a.loadAxis, "--load-axis")));
        const TableField spark = tableIn(after, CalibratedQuantity::spark, false);
        out = {{"load_axis", a.loadAxis}, {spark.y.key, spark.of(after).y().points()}};
    } else if (!a.boostAxis.empty()) {
        after = changeBoostAxis(
            job, static_cast<BoostAxis>(chosen("calibration.boost_axis", a.boostAxis, "--boost-axis")));
        const TableField boost = tableIn(after, CalibratedQuantity::boost, false);
        out = {{"boost_axis", a.boostAxis}, {boost.y.key, boost.of(after).y().points()}};
    } else {
        MeaningChange c = changeFuelMeaning(
            job, static_cast<FuelMeaning>(chosen("calibration.fuel_meaning", a.meaning, "--meaning")));
        out = {{"meaning", a.meaning},
               {"worst_residual", c.residual.worst},
               {"mean_residual", c.residual.mean},
               {"content", c.residual.content},
               {"rpm", c.residual.rpm},
               {"load_kpa", c.residual.loadKpa}};
        after = std::move(c.job);
    }
    edit.commit(after, "Convert", CellOrigin::model);
    out["applied"] = a.apply;
    print(out, a.json);
    return exitGood;
}

void addConvert(CLI::App &app, int &exitCode) {
    CLI::App *sub = app.add_subcommand(
        "convert",
        "A job's calibration in another school, its fuel tables in another meaning, with the worst and mean "
        "error and where; or its tables on another axis");
    auto a = std::make_shared<ConvertArguments>();
    sub->add_option("job", a->job, "Job file")->required();
    sub->add_option("--school", a->school, "two_tables, base_adder, fuel_model, window_set or stack");
    sub->add_option("--meaning", a->meaning, "true_ve, content_referenced_ve, pulse_width or fuel_mass");
    sub->add_option("--load-axis", a->loadAxis, "manifold_pressure, air_mass or throttle");
    sub->add_option("--boost-axis", a->boostAxis, "throttle or gear");
    addNumbers(sub, "--contents", a->request.contents, fraction(), "Of the levels, such as 0.1,0.5,0.85");
    addNumber(sub, "--tolerance", a->request.windowTolerance, between(0.0001, 0.5, Dimension::ratio),
              "Of λ, for windows")
        ->capture_default_str();
    sub->add_flag("--apply", a->apply, "Change the job, as one action");
    sub->add_flag("--json", a->json, "Print JSON");
    sub->callback([a, sub, &exitCode] {
        if (a->school != "stack" && a->school != "window_set")
            refuseOptions(*sub, {"--contents"}, verbatim("--school stack or window_set beside it"));
        if (a->school != "window_set")
            refuseOptions(*sub, {"--tolerance"}, verbatim("--school window_set beside it"));
        exitCode = convert(*a);
    });
}

// bake

struct BakeArguments {
    std::string job, folder;
    std::vector<double> contents;
    double tolerance = 0.03;
    bool json = false;
};

int bakeFiles(const BakeArguments &a) {
    const Job job = loadJob(a.job);
    const std::vector<BakedFile> files = bake(job, a.contents, a.tolerance);
    Json list = Json::array();
    for (const BakedFile &f : files) {
        const std::string stem = contentName(f.content, job.alcohol == Alcohol::methanol);
        Json written = Json::array();
        for (CalibratedQuantity q : allQuantities) {
            if (a.folder.empty()) continue;
            const std::filesystem::path path =
                std::filesystem::path(a.folder) / (stem + "-" + std::string(quantityId(q)) + ".csv");
            std::filesystem::create_directories(a.folder);
            writeText(path.string(),
                      tableToCsv(f.tables[static_cast<std::size_t>(q)], tableIn(job, q, false)));
            written.push_back(path.string());
        }
        list.push_back({{"content", f.content},
                        {"window_low", f.window.low},
                        {"window_high", f.window.high},
                        {"files", written}});
    }
    Json gaps = Json::array();
    for (const auto &[low, high] : gapsBetween(files))
        gaps.push_back({{"low", low}, {"high", high}});
    print({{"tolerance", a.tolerance}, {"files", list}, {"gaps", gaps}}, a.json);
    return gaps.empty() ? exitGood : exitFindings;
}

void addBake(CLI::App &app, int &exitCode) {
    CLI::App *sub = app.add_subcommand(
        "bake",
        "Single-fuel tables for controllers without a content sensor, with the window of contents that each "
        "may be used for. Exit code 1 when windows leave gaps");
    auto a = std::make_shared<BakeArguments>();
    sub->add_option("job", a->job, "Job file")->required();
    addNumbers(sub, "--contents", a->contents, fraction(), "One file each, such as 0.1,0.7,0.85")->required();
    addNumber(sub, "--tolerance", a->tolerance, between(0.0001, 0.5, Dimension::ratio), "Of λ")
        ->capture_default_str();
    sub->add_option("--folder", a->folder, "Writes the tables there as CSV");
    sub->add_flag("--json", a->json, "Print JSON");
    sub->callback([a, &exitCode] { exitCode = bakeFiles(*a); });
}

// budget

struct BudgetArguments {
    std::string job;
    double content = 0, rpm = 0, loadKpa = 0;
    CLI::Option *contentOption = nullptr;
    bool json = false;
};

int budget(const BudgetArguments &a) {
    const Job job = loadJob(a.job);
    const double content = contentOrTank(job, *a.contentOption, a.content);
    const SparkBudget b = sparkBudget(Study(job), {content, a.rpm, a.loadKpa});
    Json steps = Json::array();
    for (const BudgetStep &s : b.steps)
        steps.push_back({{"id", s.id},
                         {"usual_deg", s.usualDeg},
                         {"best_deg", s.bestDeg},
                         {"worst_deg", s.worstDeg},
                         {"usual_total_deg", s.usualTotal},
                         {"best_total_deg", s.bestTotal},
                         {"worst_total_deg", s.worstTotal}});
    print({{"ethanol", content},
           {"asked_deg", b.askedDeg},
           {"usual_deg", b.usualDeg},
           {"best_deg", b.bestDeg},
           {"worst_deg", b.worstDeg},
           {"steps", steps}},
          a.json);
    return exitGood;
}

void addBudget(CLI::App &app, int &exitCode) {
    CLI::App *sub = app.add_subcommand(
        "budget",
        "The spark that is delivered at a point: table, content, corrections, fallback, knock and base "
        "timing, with running totals; usual, best and worst");
    auto a = std::make_shared<BudgetArguments>();
    sub->add_option("job", a->job, "Job file")->required();
    a->contentOption =
        addNumber(sub, "--content", a->content, fraction(), "Alcohol, 0 to 1; otherwise the tank's");
    addNumber(sub, "--rpm", a->rpm, between(1, 25000, Dimension::engineSpeed), "Engine speed")->required();
    addNumber(sub, "--load-kpa", a->loadKpa, between(1, 1000, Dimension::pressure),
              "Manifold pressure, absolute")
        ->required();
    sub->add_flag("--json", a->json, "Print JSON");
    sub->callback([a, &exitCode] { exitCode = budget(*a); });
}

// diff

struct DiffArguments {
    std::string first, second;
    bool guarded = false, json = false;
};

int diff(const DiffArguments &a) {
    Json list = Json::array();
    const Job first = loadJob(a.first);
    for (const Difference &d : differencesOf(first, loadJob(a.second))) {
        if (a.guarded && !d.guarded) continue;
        list.push_back(toJson(first, d));
    }
    const bool same = list.empty();
    print({{"differences", list}, {"same", same}}, a.json);
    return same ? exitGood : exitFindings;
}

void addDiff(CLI::App &app, int &exitCode) {
    CLI::App *sub =
        app.add_subcommand("diff", "What differs between two jobs. Exit code 1 when anything does");
    auto a = std::make_shared<DiffArguments>();
    sub->add_option("first", a->first, "Job file")->required();
    sub->add_option("second", a->second, "Job file")->required();
    sub->add_flag("--guarded", a->guarded,
                  "Only settings that must come back from a controller as they went");
    sub->add_flag("--json", a->json, "Print JSON");
    sub->callback([a, &exitCode] { exitCode = diff(*a); });
}

// regrid

struct RegridArguments {
    std::string job, table;
    std::vector<double> rpm, y;
    bool apply = false, json = false;
};

int regridTable(const RegridArguments &a) {
    JobEdit edit(a.job, a.apply);
    Job job = edit.before();
    const TableTarget target(job, a.table);
    const TableField *field = &target.field();
    Table2D &table = target.of(job);
    const Regridded r = regrid(table, a.rpm.empty() ? table.x() : Axis(a.rpm, "--rpm"),
                               a.y.empty() ? table.y() : Axis(a.y, "--y"));
    table = r.table;
    edit.commit(job, "Re-grid " + format(field->title), CellOrigin::interpolated);
    print({{"table", field->path},
           {"columns", r.table.x().size()},
           {"rows", r.table.y().size()},
           {"worst", r.worst},
           {"mean", r.mean},
           {"rpm", r.x},
           {field->y.key, r.y},
           {"cells", r.table.cells()},
           {"applied", a.apply}},
          a.json);
    return exitGood;
}

void addRegrid(CLI::App &app, int &exitCode) {
    CLI::App *sub = app.add_subcommand(
        "regrid", "A table on other breakpoints, bilinear, with the worst change at the old ones");
    auto a = std::make_shared<RegridArguments>();
    sub->add_option("job", a->job, "Job file")->required();
    sub->add_option("table", a->table, "Such as spark.base; spark.0.35 of a job with levels")->required();
    addNumbers(sub, "--rpm", a->rpm, between(1, 25000, Dimension::engineSpeed),
               "Breakpoints; otherwise as they are");
    addNumbers(sub, "--y", a->y, between(0, 10000),
               "Breakpoints of load or throttle, in the unit of the axis");
    sub->add_flag("--apply", a->apply, "Change the job, as one action");
    sub->add_flag("--json", a->json, "Print JSON");
    sub->callback([a, &exitCode] { exitCode = regridTable(*a); });
}

} // namespace

void addCalibrationCommands(CLI::App &app, int &exitCode) {
    addConvert(app, exitCode);
    addBake(app, exitCode);
    addBudget(app, exitCode);
    addDiff(app, exitCode);
    addRegrid(app, exitCode);
}

} // namespace wheelwright
