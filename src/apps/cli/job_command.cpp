#include "apps/cli/commands.h"
#include "apps/cli/report.h"
#include "core/error.h"
#include "core/job/job_schema.h"
#include "core/job/job_template.h"
#include "formats/job_json.h"
#include "store/job_store.h"

#include <nlohmann/json.hpp>

#include <iostream>

namespace wheelwright {
namespace {

namespace fs = std::filesystem;

struct NewArguments {
    std::string path, alcohol = "ethanol";
    EngineTemplate engine;
    bool estimate = false, json = false;
};

void create(NewArguments a) {
    if (a.engine.name.empty()) a.engine.name = fs::path(a.path).stem().string();
    if (a.alcohol != "ethanol" && a.alcohol != "methanol")
        throw InputError("--alcohol", "ethanol or methanol", "'" + a.alcohol + "'");
    a.engine.alcohol = a.alcohol == "methanol" ? Alcohol::methanol : Alcohol::ethanol;
    const Job job = a.estimate ? templateJob(a.engine) : newJob(a.engine.name);
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
        out["last_action"] = {{"at", actions.back().at}, {"what", actions.back().what}};
    }
    print(out, json);
}

int exportJob(const std::string &path, const std::string &target, bool salvage) {
    Job job;
    bool lossy = false;
    if (salvage) {
        JobStore::Salvage found = JobStore::salvage(path);
        job = std::move(found.job);
        lossy = !found.lost.empty();
        for (const std::string &what : found.lost)
            std::cerr << "lost: " << what << '\n';
    } else {
        job = loadJob(path);
    }
    const std::string text = jobToJson(job);
    if (target == "-")
        std::cout << text;
    else
        writeText(target, text);
    return lossy ? exitFindings : exitGood;
}

void importJob(const std::string &path, const std::string &source, bool json) {
    Job job;
    try {
        job = jobFromJson(readText(source));
    } catch (const InputError &e) {
        if (e.where().starts_with(source)) throw;
        throw InputError(source + " " + e.where(), e.expected(), e.found());
    }
    JobStore::create(path, job, timestamp());
    print({{"created", path}, {"name", job.name}}, json);
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
    fresh->add_option("--displacement-l", engine.displacementL, "Litres")->capture_default_str();
    fresh->add_option("--cylinders", engine.cylinders, "")->capture_default_str();
    fresh->add_option("--rev-limit-rpm", engine.revLimitRpm, "")->capture_default_str();
    fresh->add_option("--boost-kpa", engine.boostKpa, "Gauge, wanted on the top fuel; 0: none")
        ->capture_default_str();
    fresh->add_option("--alcohol", forNew->alcohol, "ethanol or methanol")->capture_default_str();
    fresh->add_option("--base-content", engine.baseContent, "Of the base fuel, 0 to 1")
        ->capture_default_str();
    fresh->add_option("--top-content", engine.topContent, "Of the top fuel, 0 to 1")->capture_default_str();
    fresh->add_option("--injector-cc-min", engine.injectorCcMin, "Each, at 300 kPa")->capture_default_str();
    fresh->add_flag("--json", forNew->json, "Print JSON");
    fresh->callback([a = forNew] { create(*a); });

    CLI::App *info = job->add_subcommand("info", "What is in a job");
    info->callback([a = arguments(info)] { describe(a->job, a->json); });

    CLI::App *out = job->add_subcommand("export", "Write the whole job as one JSON document");
    auto forExport = arguments(out);
    forExport->file = "-";
    out->add_option("file,--file", forExport->file, "File to write, - for standard output")
        ->capture_default_str();
    out->add_flag("--salvage", forExport->salvage, "Read what can be read of a damaged file");
    out->callback([a = forExport, &exitCode] { exitCode = exportJob(a->job, a->file, a->salvage); });

    CLI::App *in = job->add_subcommand("import", "Make a job file from a JSON document");
    auto forImport = arguments(in);
    in->add_option("file,--file", forImport->file, "JSON document to read")->required();
    in->callback([a = forImport] {
        // Both orders read naturally; a document never is the job file.
        if (fs::path(a->job).extension() == ".json" && fs::path(a->file).extension() != ".json")
            std::swap(a->job, a->file);
        importJob(a->job, a->file, a->json);
    });
}

} // namespace wheelwright
