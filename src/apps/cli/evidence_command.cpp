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
    bool visited = false, json = false;
};

} // namespace

Coverage coverageOf(const Study &study, const std::string &file) {
    const Job &job = study.job();
    Coverage coverage(study);
    if (job.logs.empty()) return coverage;
    const SampleReader reader(file);
    for (const LogInfo &info : job.logs) {
        if (!reader.has(info.id)) {
            std::cerr << "not counted: " << info.id << " (its samples are not in this file)\n";
            continue;
        }
        try {
            const LogReview review(job, info,
                                   [&](std::size_t series) { return reader.read(info.id, series); });
            coverage.add(review.watched(), review.cleaned(), info, review.current());
        } catch (const InputError &e) {
            std::cerr << "not counted: " << info.id << " (" << e.what() << ")\n";
        }
    }
    return coverage;
}

Proof proofOf(const Study &study, const std::string &file) {
    return study.job().logs.empty() ? Proof() : coverageOf(study, file).proof();
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
}

} // namespace wheelwright
