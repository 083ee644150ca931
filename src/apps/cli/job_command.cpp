// SPDX-License-Identifier: GPL-3.0-or-later
#include "apps/cli/commands.h"
#include "apps/cli/options.h"
#include "apps/cli/report.h"
#include "core/base/error.h"
#include "core/job/job_schema.h"
#include "core/study/cautions.h"
#include "core/study/job_template.h"
#include "formats/job_json.h"
#include "formats/log_csv.h"
#include "store/job_store.h"
#include "store/log_documents.h"

#include <nlohmann/json.hpp>

#include <array>
#include <iostream>

namespace wheelwright {
namespace {

namespace fs = std::filesystem;

struct NewArguments {
    std::string path, alcohol = "ethanol", charging = "turbo";
    EngineTemplate engine;
    bool estimate = false, json = false;
};

std::vector<std::string> statedBy(const CLI::App &said) {
    constexpr std::array fields{std::pair("--displacement-l", "engine.displacement_l"),
                                std::pair("--cylinders", "engine.cylinders"),
                                std::pair("--rev-limit-rpm", "engine.rev_limit_rpm"),
                                std::pair("--alcohol", "fuel.alcohol"),
                                std::pair("--base-content", "calibration.base_content"),
                                std::pair("--top-content", "calibration.top_content"),
                                std::pair("--injector-cc-min", "injectors.flow_cc_min"),
                                std::pair("--compression", "engine.compression_ratio"),
                                std::pair("--charging", "engine.charging")};
    std::vector<std::string> paths;
    for (const auto &[option, path] : fields)
        if (said.count(option) > 0) paths.emplace_back(path);
    return paths;
}

void create(NewArguments a, const CLI::App &said) {
    if (a.engine.name.empty()) a.engine.name = fs::path(a.path).stem().string();
    if (a.alcohol != "ethanol" && a.alcohol != "methanol")
        throw InputError("--alcohol", verbatim("ethanol or methanol"), "'" + a.alcohol + "'");
    a.engine.alcohol = a.alcohol == "methanol" ? Alcohol::methanol : Alcohol::ethanol;
    a.engine.charging = a.charging == "blower" ? Charging::blower : Charging::turbo;
    a.engine.stated = statedBy(said);
    const Job job = a.estimate ? templateJob(a.engine) : flatJob(a.engine);
    JobStore::create(a.path, job, timestamp());
    print({{"created", a.path}, {"name", job.name}, {"estimated", a.estimate}}, a.json);
}

void describe(const std::string &path, bool json) {
    const Job job = loadJob(path);
    nlohmann::ordered_json out{{"name", job.name}};
    for (const Field &f : allFields())
        if (f.path != "name") std::visit([&](const auto &v) { out[f.path] = v; }, f.read(job));
    for (const TableField &t : allTables())
        out[t.path] = {{"columns", t.of(job).x().size()}, {"rows", t.of(job).y().size()}};
    if (fs::path(path).extension() != ".json") {
        JobStore::Options options;
        options.readOnly = true;
        const auto actions = JobStore::open(path, options).actions();
        out["actions"] = actions.size();
        if (!actions.empty()) out["last_action"] = {{"at", actions.back().at}, {"what", actions.back().what}};
    }
    print(out, json);
}

int exportJob(const std::string &path, const std::string &target, bool salvage) {
    if (!salvage) {
        const Job job = loadJob(path);
        writeText(target, jobToJson(job));
        if (target != "-" && fs::path(path).extension() != ".json")
            exportLogs(path, job, target, seriesToCsv);
        return exitGood;
    }
    const JobStore::Salvage found = JobStore::salvage(path);
    for (const Phrase &what : found.lost)
        std::cerr << "lost: " << echoed(format(what), 300) << '\n';
    writeText(target, jobToJson(found.job));
    return found.lost.empty() ? exitGood : exitFindings;
}

void importJob(const std::string &path, const std::string &source, bool json) {
    const Job job = jobFromDocument(source);
    nlohmann::ordered_json out{{"created", path}, {"name", job.name}};
    const ImportedJob imported = wheelwright::importJob(path, job, timestamp(), source, seriesFromCsv);
    if (imported.logsWithoutSamples > 0) out["logs_without_samples"] = imported.logsWithoutSamples;
    print(out, json);
}

struct JobArguments {
    std::string job, name, file;
    bool json = false, salvage = false;
};

std::shared_ptr<JobArguments> arguments(CLI::App *sub) {
    auto a = std::make_shared<JobArguments>();
    sub->add_option("job", a->job, "Job file")->required();
    sub->add_flag("--json", a->json, "Print JSON");
    return a;
}

void showCautions(const std::pair<std::string, bool> &asked) {
    const Job job = loadJob(asked.first);
    nlohmann::ordered_json all = nlohmann::ordered_json::array();
    for (const Caution &c : allCautions())
        if (c.applies(job))
            all.push_back({{"id", c.id}, {"title", c.title}, {"text", c.text}, {"stations", c.stations}});
    print({{"cautions", all}}, asked.second);
}

} // namespace

void addJobCommand(CLI::App &app, int &exitCode) {
    CLI::App *job = app.add_subcommand("job", "Job files");
    job->require_subcommand(1);

    CLI::App *fresh = job->add_subcommand(
        "new",
        "Make a job with flat tables, or with --estimate a first guess from what is known of the engine");
    auto forNew = std::make_shared<NewArguments>();
    EngineTemplate &engine = forNew->engine;
    engine.name.clear();
    fresh->add_option("job", forNew->path, "Job file")->required();
    fresh->add_option("--name", engine.name, "What the job is called");
    fresh->add_flag("--estimate", forNew->estimate, "Estimate tables; every cell is marked as such");
    addNumber(fresh, "--displacement-l", engine.displacementL, like("engine.displacement_l"), "Litres")
        ->capture_default_str();
    addNumber(fresh, "--cylinders", engine.cylinders, like("engine.cylinders"), "")->capture_default_str();
    addNumber(fresh, "--rev-limit-rpm", engine.revLimitRpm, like("engine.rev_limit_rpm"), "")
        ->capture_default_str();
    addNumber(fresh, "--torque-peak-rpm", engine.torquePeakRpm, between(0, 20000, Dimension::engineSpeed),
              "Where it breathes best; 0: not known, 60 % of the rev limit")
        ->capture_default_str();
    addNumber(fresh, "--boost-kpa", engine.boostKpa, between(0, 700, Dimension::pressureGauge),
              "Gauge, wanted on the top fuel; 0: none")
        ->capture_default_str();
    addNumber(fresh, "--compression", engine.compressionRatio, like("engine.compression_ratio"),
              "Compression ratio")
        ->capture_default_str();
    fresh
        ->add_option("--charging", forNew->charging, "turbo, or blower: on the crank, with its boost at once")
        ->check(CLI::IsMember({"turbo", "blower"}))
        ->capture_default_str();
    fresh->add_option("--alcohol", forNew->alcohol, "ethanol or methanol")->capture_default_str();
    addNumber(fresh, "--base-content", engine.baseContent, like("calibration.base_content"),
              "Of the base fuel, 0 to 1")
        ->capture_default_str();
    addNumber(fresh, "--top-content", engine.topContent, like("calibration.top_content"),
              "Of the top fuel, 0 to 1")
        ->capture_default_str();
    addNumber(fresh, "--injector-cc-min", engine.injectorCcMin, like("injectors.flow_cc_min"),
              "Each, at 300 kPa")
        ->capture_default_str();
    fresh->add_flag("--json", forNew->json, "Print JSON");
    fresh->callback([a = forNew, fresh] {
        if (!a->estimate)
            refuseOptions(*fresh, {"--boost-kpa", "--charging", "--torque-peak-rpm"},
                          verbatim("--estimate beside it, since flat tables hold neither boost nor torque"));
        create(*a, *fresh);
    });

    addRecordCommands(job);
    CLI::App *info = job->add_subcommand("info", "What is in a job");
    info->callback([a = arguments(info)] { describe(a->job, a->json); });

    CLI::App *cautions = job->add_subcommand(
        "cautions", "What can hurt people or the engine, and at which station it is done");
    auto ofJob = std::make_shared<std::pair<std::string, bool>>();
    cautions->add_option("job", ofJob->first, "Job file")->required();
    cautions->add_flag("--json", ofJob->second, "Print JSON");
    cautions->callback([ofJob] { showCautions(*ofJob); });
    CLI::App *out = job->add_subcommand("export", "Write the whole job as one JSON document");
    auto forExport = arguments(out);
    forExport->file = "-";
    out->add_option("file,--file", forExport->file, "File to write, - for standard output")
        ->capture_default_str();
    out->add_flag("--salvage", forExport->salvage, "Read what can be read of a damaged file");
    out->callback([a = forExport, &exitCode] { exitCode = exportJob(a->job, a->file, a->salvage); });

    CLI::App *in = job->add_subcommand("import", "Make a job file from a JSON document");
    auto forImport = arguments(in);
    in->add_option("file,--file", forImport->file, "JSON document to read, - for standard input")->required();
    in->callback([a = forImport] {
        // Both orders read naturally; a document never is the job file.
        if (fs::path(a->job).extension() == ".json" && fs::path(a->file).extension() != ".json")
            std::swap(a->job, a->file);
        importJob(a->job, a->file, a->json);
    });
}

} // namespace wheelwright
