// SPDX-License-Identifier: GPL-3.0-or-later
// Runs come in, are listed and go out: what is said of them stands in run_compare_command.cpp.
#include "apps/cli/commands.h"
#include "apps/cli/log_evidence.h"
#include "apps/cli/options.h"
#include "apps/cli/report.h"
#include "apps/cli/run_options.h"
#include "apps/cli/table_target.h"
#include "core/base/error.h"
#include "core/runs/run_intake.h"
#include "core/study/study.h"
#include "formats/run_csv.h"
#include "formats/run_file.h"
#include "store/log_intake_store.h"

#include <nlohmann/json.hpp>

#include <cmath>
#include <filesystem>
#include <iostream>

namespace wheelwright {
namespace {

using Json = nlohmann::ordered_json;

struct RunArguments {
    std::string job, file, log, mode, standard;
    RunStatement said;
    Weather air;
    double content = 0, order = 0, loadShare = 0, gear = 0, smoothedRpm = 0, startIntakeC = 0,
           startCoolantC = 0, startOilC = 0, episode = 0;
    std::vector<std::string> columns, points, runs;
    std::string of = "torque_nm";
    bool json = false;
};

// NaN is nobody's number.
Json known(double v) {
    return std::isfinite(v) ? Json(v) : Json(nullptr);
}

Json headOfRun(const Run &run) {
    const RunCurve curve = curveOf(run);
    const RunPeak power = peakOf(curve.rpm, curve.powerKw), torque = peakOf(curve.rpm, curve.torqueNm);
    constexpr std::array bases{"none", "channel", "stated", "tank"};
    constexpr std::array airs{"none", "stated", "job", "channel"};
    Json out{{"id", runId(run.id)},
             {"name", run.name},
             {"rows", static_cast<std::int64_t>(run.rows)},
             {"rpm_from", run.rpmFrom},
             {"rpm_to", run.rpmTo},
             {"peak_kw", known(power.value)},
             {"peak_kw_rpm", known(power.rpm)},
             {"peak_nm", known(torque.value)},
             {"peak_nm_rpm", known(torque.rpm)},
             {"direction", run.down ? "down" : "up"},
             {"mode", keyOf(run.mode)},
             {"standard", keyOf(run.standard)},
             {"fuel", run.fuel},
             {"content", run.contentBasis == RunContentBasis::none ? Json(nullptr) : Json(run.content)},
             {"content_basis", bases[static_cast<std::size_t>(run.contentBasis)]},
             {"dyno", run.dyno},
             {"order", run.order},
             {"air", airs[static_cast<std::size_t>(run.ambient)]}};
    if (run.ambient != AmbientBasis::none) {
        out["pressure_kpa"] = run.ambientKpa;
        out["temperature_c"] = run.ambientC;
        out["humidity"] = run.humidity;
    }
    if (run.knownWithin != 0) out["known_within"] = run.knownWithin;
    if (run.startIntakeC != 0) out["start_intake_c"] = run.startIntakeC;
    if (run.startCoolantC != 0) out["start_coolant_c"] = run.startCoolantC;
    out["revision"] = run.revision;
    out["note"] = run.note;
    return out;
}

// "torque=Torque (ft-lb):lbft"
StatedColumn columnFrom(const std::string &text) {
    const std::size_t equals = text.find('=');
    const ChannelRoleDefinition *role = roleByKey(text.substr(0, equals));
    if (equals == std::string::npos || !role || role->role == ChannelRole::none)
        throw InputError("--column", verbatim("ROLE=NAME or ROLE=NAME:UNIT, such as torque=Nm:nm"),
                         "'" + echoed(text, 60) + "'");
    StatedColumn c{role->role, text.substr(equals + 1), {}};
    if (const std::size_t colon = c.column.rfind(':'); colon != std::string::npos) {
        c.unit = c.column.substr(colon + 1);
        c.column.resize(colon);
    }
    return c;
}

RunStatement statementOf(const CLI::App &sub, const RunArguments &a, const Job &job) {
    RunStatement s = a.said;
    s.added = timestamp();
    const auto take = [&sub](const char *option, auto &to, const auto &from) {
        if (given(sub, option)) to = from;
    };
    take("--content", s.content, a.content);
    take("--order", s.order, a.order);
    take("--brake", s.loadShare, a.loadShare);
    take("--gear", s.gear, a.gear);
    take("--smoothed-rpm", s.smoothedRpm, a.smoothedRpm);
    take("--start-intake-c", s.startIntakeC, a.startIntakeC);
    take("--start-coolant-c", s.startCoolantC, a.startCoolantC);
    take("--start-oil-c", s.startOilC, a.startOilC);
    if (!a.mode.empty()) s.mode = modeByKey(a.mode);
    if (!a.standard.empty()) s.standard = standardByKey(a.standard);
    const int said = given(sub, "--pressure-kpa") + given(sub, "--temperature-c") + given(sub, "--humidity");
    constexpr int all = 3;
    if (said == all) {
        s.air = a.air;
    } else if (said > 0) {
        // What is left out the job may say of its day.
        const auto day = airOfTheDay(job);
        if (!day)
            throw InputError("--pressure-kpa, --temperature-c, --humidity",
                             verbatim("all three, or a job whose day states the others"),
                             std::to_string(said) + " of them");
        s.air = Weather{given(sub, "--pressure-kpa") ? a.air.pressureKpa : day->pressureKpa,
                        given(sub, "--temperature-c") ? a.air.temperatureC : day->temperatureC,
                        given(sub, "--humidity") ? a.air.humidity : day->humidity};
    }
    return s;
}

int take(const RunArguments &a, const std::vector<FoundPull> &pulls, const RunStatement &statement,
         JobEdit &edit, const std::vector<Phrase> &said) {
    Job after = edit.before();
    const std::vector<std::string> ids = addRuns(after, pulls, statement);
    edit.commit(after, "Import runs " + statement.name, CellOrigin::typed);
    Json out = Json::array();
    for (const std::string &id : ids)
        out.push_back(headOfRun(*runById(after, id)));
    print(out, a.json);
    for (const Phrase &p : said)
        std::cerr << statement.name << ": " << format(p) << '\n';
    return exitGood;
}

int importRuns(const CLI::App &sub, const RunArguments &a) {
    JobEdit edit(a.job, true);
    const OpenFile file(a.file);
    std::vector<StatedColumn> columns;
    for (const std::string &text : a.columns)
        columns.push_back(columnFrom(text));
    const double content = contentOrTank(edit.before(), *sub.get_option("--content"), a.content);
    const MapSurroundings around{edit.before().conditions.ambientKpa,
                                 Study(edit.before()).fuelAt(content).stoichiometricAfr};
    const RunFile found = readRunFile(file, std::filesystem::path(a.file).filename().string(),
                                      statementOf(sub, a, edit.before()), columns, around);
    return take(a, found.pulls, found.statement, edit, found.said);
}

int runsFromLog(const CLI::App &sub, const RunArguments &a) {
    JobEdit edit(a.job, true);
    const auto reviews = reviewsOf(edit.before(), a.job, {a.log}, LogsUnnamed::all);
    if (reviews.empty()) throw InputError("--log", verbatim("a log that can be read"), std::string("none"));
    const LogReview &log = *reviews.front();
    const std::vector<Episode> all = only(log.episodes(), EpisodeKind::pull);
    std::vector<FoundPull> pulls;
    for (std::size_t i = 0; i < all.size(); ++i)
        if (a.episode == 0 || a.episode == static_cast<double>(i + 1))
            pulls.push_back(pullFromLog(log, all[i]));
    RunStatement statement = statementOf(sub, a, edit.before());
    statement.origin = RunOrigin::log;
    statement.name = log.info().name;
    statement.source = log.info().id;
    if (statement.revision.empty()) statement.revision = log.info().revision;
    if (!statement.content && log.info().contentBasis == ContentBasis::stated)
        statement.content = log.info().content;
    return take(a, pulls, statement, edit, {});
}

int typeRun(const CLI::App &sub, const RunArguments &a) {
    JobEdit edit(a.job, true);
    const bool power = a.of == "power_kw";
    const NumberRange values = between(0, 100'000);
    const auto points = pairsFrom("--points", a.points, between(1, 30'000), values);
    RunStatement statement = statementOf(sub, a, edit.before());
    statement.origin = RunOrigin::typed;
    statement.name = "Typed";
    return take(a, {pullFromPoints(points, power)}, statement, edit, {});
}

int listRuns(const RunArguments &a) {
    const Job job = loadJob(a.job);
    Json out = Json::array();
    for (const Run &r : job.runs.values())
        out.push_back(headOfRun(r));
    print(out, a.json);
    return exitGood;
}

int exportRun(const RunArguments &a) {
    const Job job = loadJob(a.job);
    writeText(a.file, runToCsv(runNamed(job, a.runs.front())));
    return exitGood;
}

int removeRuns(const RunArguments &a) {
    JobEdit edit(a.job, true);
    Job after = edit.before();
    for (const std::string &id : a.runs)
        removeRun(after, id);
    edit.commit(after, "Remove runs", CellOrigin::typed);
    print({{"removed", a.runs}, {"left", after.runs.size()}}, a.json);
    return exitGood;
}

void addStatement(CLI::App *sub, RunArguments &a) {
    addNumber(sub, "--content", a.content, like("runs.runs", "content"),
              "Alcohol in the fuel that it ran on");
    sub->add_option("--mode", a.mode, "inertia, loaded or road");
    sub->add_option("--standard", a.standard,
                    "The correction that its numbers already hold: none, j1349, iso1585, std or din");
    addNumber(sub, "--pressure-kpa", a.air.pressureKpa, like("runs.runs", "ambient_kpa"),
              "Pressure of the air, at the place itself");
    addNumber(sub, "--temperature-c", a.air.temperatureC, like("runs.runs", "ambient_c"),
              "Temperature of the air");
    addNumber(sub, "--humidity", a.air.humidity, like("runs.runs", "humidity"), "Of the air, relative");
    sub->add_option("--fuel", a.said.fuel, "What it ran on, as people call it");
    sub->add_option("--revision", a.said.revision, "That it ran with; without one, the calibration as it is");
    sub->add_option("--dyno", a.said.dyno, "Name of the dyno");
    addNumber(sub, "--brake", a.loadShare, like("runs.runs", "load_share"),
              "Share of the brake of a loaded run");
    addNumber(sub, "--gear", a.gear, like("runs.runs", "gear"), "That it was made in");
    addNumber(sub, "--smoothed-rpm", a.smoothedRpm, like("runs.runs", "smoothed_rpm"),
              "Smoothing that its numbers already hold");
    addNumber(sub, "--order", a.order, like("runs.runs", "order"),
              "Which run of its day the first of them was");
    addNumber(sub, "--start-intake-c", a.startIntakeC, like("runs.runs", "start_intake_c"),
              "Intake air as it began");
    addNumber(sub, "--start-coolant-c", a.startCoolantC, like("runs.runs", "start_coolant_c"),
              "Coolant as it began");
    addNumber(sub, "--start-oil-c", a.startOilC, like("runs.runs", "start_oil_c"), "Oil as it began");
    sub->add_option("--day", a.said.day, "When it was made, ISO 8601");
    sub->add_option("--hardware", a.said.hardware, "What is on the engine that matters");
    sub->add_option("--cam", a.said.cam, "Which cam, where the engine has two");
    sub->add_option("--change", a.said.change, "What was changed before it");
    sub->add_option("--note", a.said.note, "Anything worth remembering");
}

} // namespace

Json runId(const std::string &id) {
    constexpr std::size_t most = 9; // digits of a whole number
    const bool whole =
        !id.empty() && id.size() <= most && id.find_first_not_of("0123456789") == std::string::npos;
    return whole ? Json(std::stoi(id)) : Json(id);
}

const Run &runNamed(const Job &job, const std::string &id) {
    if (const Run *run = runById(job, id)) return *run;
    std::string ids;
    for (const Run &r : job.runs.values())
        ids += (ids.empty() ? "" : ", ") + r.id;
    throw InputError(
        "run",
        verbatim("the id of a run of this job (" + (ids.empty() ? "it has none" : echoed(ids, 80)) + ")"),
        "'" + echoed(id, 40) + "'");
}

MeasuredRuns measuredRuns(const Job &job, const std::vector<std::string> &ids) {
    MeasuredRuns out;
    for (const std::string &id : ids)
        out.push_back(measured(runNamed(job, id)));
    return out;
}

MeasuredRuns allMeasuredRuns(const Job &job) {
    MeasuredRuns out;
    for (const Run &r : job.runs.values()) {
        try {
            out.push_back(measured(r));
        } catch (const InputError &e) {
            std::cerr << e.what() << '\n';
        }
    }
    return out;
}

void addRunCommand(CLI::App &app, int &exitCode) {
    CLI::App *run = app.add_subcommand("run", "Power runs: was it really better, and which change did it?");
    run->require_subcommand(1);
    const auto arguments = std::make_shared<RunArguments>();
    RunArguments &a = *arguments;
    const auto addSub = [&](const char *name, const char *help) {
        CLI::App *sub = run->add_subcommand(name, help);
        sub->add_option("job", a.job, "A job")->required();
        sub->add_flag("--json", a.json, "As JSON");
        return sub;
    };
    CLI::App *imported =
        addSub("import", "Takes the pulls of a dyno's file: speed with torque or power, in any units");
    imported->add_option("file", a.file, "Delimited text, with or without names")->required();
    imported->add_option("--column", a.columns, "ROLE=NAME or ROLE=NAME:UNIT; NAME may be its place from 1");
    addStatement(imported, a);
    imported->callback([&exitCode, arguments, imported] { exitCode = importRuns(*imported, *arguments); });

    CLI::App *log = addSub("from-log", "Takes the pulls of a log with torque or power");
    log->add_option("--log", a.log, "Its id or its name")->required();
    addNumber(log, "--pull", a.episode, wholeBetween(1, 100'000), "Which of its pulls; without it, all");
    addStatement(log, a);
    log->callback([&exitCode, arguments, log] { exitCode = runsFromLog(*log, *arguments); });

    CLI::App *type = addSub("type", "Takes a few points as a run");
    type->add_option("--points", a.points, "RPM:VALUE, with commas between")->delimiter(',')->required();
    type->add_option("--of", a.of, "torque_nm or power_kw")->check(CLI::IsMember({"torque_nm", "power_kw"}));
    addStatement(type, a);
    type->callback([&exitCode, arguments, type] { exitCode = typeRun(*type, *arguments); });

    CLI::App *list = addSub("list", "All runs, as measured");
    list->callback([&exitCode, arguments] { exitCode = listRuns(*arguments); });

    CLI::App *exported = addSub("export", "A run as text that comes in again as the same run");
    exported->add_option("run", a.runs, "Its id")->required()->expected(1);
    exported->add_option("--csv", a.file, "File, or - for standard output")->required();
    exported->callback([&exitCode, arguments] { exitCode = exportRun(*arguments); });

    CLI::App *removed = addSub("remove", "Removes runs");
    removed->add_option("runs", a.runs, "Their ids")->required();
    removed->callback([&exitCode, arguments] { exitCode = removeRuns(*arguments); });

    addRunCompareCommands(run, exitCode);
    addRunWorthCommands(run, exitCode);
}

} // namespace wheelwright
