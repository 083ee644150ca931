// SPDX-License-Identifier: GPL-3.0-or-later
#include "apps/cli/commands.h"
#include "apps/cli/log_evidence.h"
#include "apps/cli/options.h"
#include "apps/cli/report.h"
#include "core/base/error.h"
#include "core/evidence/log_review.h"
#include "store/sample_store.h"

#include <nlohmann/json.hpp>

#include <iostream>

namespace wheelwright {
namespace {

using Json = nlohmann::ordered_json;

struct EvidenceArguments {
    std::string job;
    double rpm = 0, loadKpa = 0;
    bool visited = false, json = false;
};

// A log that cannot be read through is told of, not passed over.
template <class Take>
void forEachReview(const Job &job, const std::string &file, std::span<const LogInfo> logs, Take take) {
    if (logs.empty()) return;
    const SampleReader reader(file);
    RanStudies ran(job);
    for (const LogInfo &info : logs) {
        try {
            if (!reader.has(info.id))
                throw InputError(info.id, verbatim("its samples in this file"), std::string("none"));
            take(std::make_shared<const LogReview>(*ran.now(), ran.of(info), info, [&](std::size_t series) {
                return reader.read(info.id, series);
            }));
        } catch (const InputError &e) {
            std::cerr << "not counted: " << info.id << " (" << e.what() << ")\n";
        }
    }
}

} // namespace

Coverage coverageOf(const Study &study, const std::string &file) {
    Coverage coverage(study);
    const std::string calibration = calibrationPrint(stateOf(study.job()));
    forEachReview(study.job(), file, study.job().logs.values(),
                  [&](const std::shared_ptr<const LogReview> &review) {
                      coverage.add(review->coverage(), review->info(), review->ranWith(calibration));
                  });
    return coverage;
}

Proof proofOf(const Study &study, const std::string &file) {
    return study.job().logs.empty() ? Proof() : coverageOf(study, file).proof();
}

const LogInfo &logNamed(const Job &job, const std::string &which) {
    if (const LogInfo *log = logById(job, which)) return *log;
    for (const LogInfo &log : job.logs)
        if (log.name == which) return log;
    std::string known;
    for (const LogInfo &log : job.logs)
        known += (known.empty() ? "" : ", ") + log.id;
    throw InputError("--log", verbatim(known.empty() ? "a job with logs" : "one of " + known),
                     "'" + echoed(which, 40) + "'");
}

std::vector<std::shared_ptr<const LogReview>> reviewsOf(const Job &job, const std::string &file,
                                                        const std::vector<std::string> &named,
                                                        LogsUnnamed otherwise) {
    std::vector<LogInfo> wanted;
    wanted.reserve(named.size());
    for (const std::string &name : named)
        wanted.push_back(logNamed(job, name));
    const std::string now = calibrationPrint(stateOf(job));
    for (const LogInfo &info : job.logs.values())
        if (named.empty() && (otherwise == LogsUnnamed::all || info.calibration == now))
            wanted.push_back(info);
    std::vector<std::shared_ptr<const LogReview>> out;
    forEachReview(job, file, wanted,
                  [&](const std::shared_ptr<const LogReview> &review) { out.push_back(review); });
    return out;
}

namespace {

int listCoverage(const EvidenceArguments &a) {
    const Job job = loadJob(a.job);
    const Study study(job);
    const Coverage coverage = coverageOf(study, a.job);
    Json out = Json::array();
    for (const CoverageCell &c : coverage.cells()) {
        if (a.visited && c.hits == 0) continue;
        Json cell{{"rpm", c.rpm},
                  {"load_kpa", c.loadKpa},
                  {"content_from", c.contentFrom},
                  {"content_to", c.contentTo},
                  {"hits", c.hits},
                  {"state", coverageKey(coverage.state(c))}};
        if (c.hits > 0) {
            cell["clean_hits"] = c.cleanHits;
            cell["last_seen"] = c.lastSeen;
            cell["revision"] = c.revision;
        }
        out.push_back(std::move(cell));
    }
    print(out, a.json);
    return exitGood;
}

// When logs were in the cell nearest to a place.
int listVisits(const EvidenceArguments &a) {
    const Study study(loadJob(a.job));
    const Job &job = study.job();
    const Coverage cells(study);
    const std::size_t x = cells.rpm().nearest(a.rpm), y = cells.load().nearest(a.loadKpa);
    std::vector<std::shared_ptr<const LogReview>> logs;
    forEachReview(job, a.job, job.logs.values(),
                  [&](const std::shared_ptr<const LogReview> &review) { logs.push_back(review); });
    Json visits = Json::array();
    for (const CellVisit &v : visitsOf(logs, areaOf(cells.rpm(), cells.load(), x, y))) {
        Json visit{{"log", v.log->info().id},
                   {"name", v.log->info().name},
                   {"from_s", v.beginS},
                   {"to_s", v.endS},
                   {"hits", v.hits}};
        if (v.episode) visit["episode"] = definitionOf(v.episode->kind).key;
        if (v.content == v.content) visit["content"] = v.content;
        if (v.lambdaError == v.lambdaError) visit["lambda_error"] = v.lambdaError;
        if (v.knockDeg == v.knockDeg) visit["knock_retard_deg"] = v.knockDeg;
        visits.push_back(std::move(visit));
    }
    print({{"rpm", cells.rpm()[x]}, {"load_kpa", cells.load()[y]}, {"visits", visits}}, a.json);
    return exitGood;
}

} // namespace

void addEvidenceCommand(CLI::App &app, int &exitCode) {
    const auto a = std::make_shared<EvidenceArguments>();
    CLI::App *evidence = app.add_subcommand("evidence", "What all logs of a job say together");
    evidence->require_subcommand(1);
    CLI::App *coverage = evidence->add_subcommand("coverage", "Where the engine has been, by content");
    coverage->add_option("job", a->job, "Job file")->required();
    coverage->add_flag("--visited", a->visited, "Only cells with samples");
    coverage->add_flag("--json", a->json, "As JSON");
    coverage->callback([a, &exitCode] { exitCode = listCoverage(*a); });
    CLI::App *visits = evidence->add_subcommand("visits", "When logs were in a cell, the latest first");
    visits->add_option("job", a->job, "Job file")->required();
    addNumber(visits, "--rpm", a->rpm, between(0, 30000), "Engine speed")->required();
    addNumber(visits, "--load-kpa", a->loadKpa, between(0, 1000), "Manifold pressure, absolute")->required();
    visits->add_flag("--json", a->json, "As JSON");
    visits->callback([a, &exitCode] { exitCode = listVisits(*a); });
    addProposalCommands(evidence, exitCode);
    addSparkProposalCommands(evidence, exitCode);
    addProofCommands(evidence, exitCode);
    addCeilingCommand(evidence, exitCode);
    addHindsightCommands(evidence, exitCode);
}

} // namespace wheelwright
