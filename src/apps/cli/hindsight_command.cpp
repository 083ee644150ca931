// SPDX-License-Identifier: GPL-3.0-or-later
#include "apps/cli/commands.h"
#include "apps/cli/log_evidence.h"
#include "apps/cli/log_options.h"
#include "apps/cli/options.h"
#include "apps/cli/report.h"
#include "apps/cli/table_target.h"
#include "core/base/error.h"
#include "core/proposal/learning.h"
#include "core/proposal/spark_takers.h"

#include <nlohmann/json.hpp>

namespace wheelwright {
namespace {

using Json = nlohmann::ordered_json;

Json takenBy(const LogReview &log) {
    const SparkTaken taken = sparkTaken(log);
    Json takers = Json::array(), said = Json::array();
    for (const SparkTaker &t : taken.takers)
        takers.push_back({{"taker", t.id},
                          {"mean_deg", t.meanDeg},
                          {"most_deg", t.mostDeg},
                          {"most_at_s", t.mostAtS},
                          {"share_of_time", t.share}});
    for (const Phrase &p : taken.said)
        said.push_back(p);
    return {{"log", log.info().id},
            {"samples", taken.samples},
            {"asked_deg", taken.askedDeg},
            {"delivered_deg", taken.deliveredDeg},
            {"takers", takers},
            {"said", said}};
}

// Spark that nobody knows the taker of is a finding.
int listTaken(const ThroughLogs &a) {
    const Job job = loadJob(a.job);
    Json out = Json::array();
    bool odd = false;
    for (const auto &log : reviewsOf(job, a.job, a.logs, LogsUnnamed::all)) {
        try {
            out.push_back(takenBy(*log));
            constexpr double muchDeg = 0.5;
            for (const auto &t : out.back()["takers"])
                odd = odd || (t["taker"] == "unexplained" && std::abs(t["mean_deg"].get<double>()) > muchDeg);
        } catch (const InputError &e) {
            if (!a.logs.empty()) throw;
            out.push_back({{"log", log->info().id}, {"why_not", std::string(e.what())}});
        }
    }
    print(out, a.json);
    return odd ? exitFindings : exitGood;
}

int listLearning(const ThroughLogs &a) {
    const Study study(loadJob(a.job));
    Json out = Json::array();
    bool odd = false;
    for (const LearningStep &s :
         learningSteps(study, reviewsOf(study.job(), a.job, a.logs, LogsUnnamed::all))) {
        const bool judged = s.verdict != LearningVerdict::notYet;
        const auto number = [judged](double v) { return judged ? Json(v) : Json(nullptr); };
        Json cells = Json::array(), said = Json::array();
        for (const LearningStep::Cell &c : s.cells)
            cells.push_back({{"rpm", c.rpm},
                             {"y", c.y},
                             {"before", c.before},
                             {"foretold", c.foretold},
                             {"found", c.found},
                             {"plus_minus", c.plusMinus},
                             {"hits", c.hits},
                             {"off", c.off}});
        for (const Phrase &p : s.said)
            said.push_back(p);
        odd = odd || (judged && s.verdict != LearningVerdict::asForetold);
        const bool spark = s.dimension == Dimension::sparkAngle;
        out.push_back({{"at", s.of->at},
                       {"kind", spark                                 ? "spark"
                                : s.of->kind == CorrectionKind::joint ? "joint"
                                                                      : "fuel"},
                       {"unit", spark ? "deg" : "share"},
                       {"content", s.of->content},
                       {"damping", s.of->damping},
                       {"logs", s.logs},
                       {"before", number(s.before)},
                       {"foretold", number(s.foretold)},
                       {"found", number(s.found)},
                       {"carried", number(s.carried)},
                       {"verdict", learningKey(s.verdict)},
                       {"cells", cells},
                       {"said", said}});
        if (spark) {
            out.back()["raised"] = s.raised;
            out.back()["raised_knock"] = s.raisedKnock;
        }
    }
    print(out, a.json);
    return odd ? exitFindings : exitGood;
}

CLI::App *addOf(CLI::App *evidence, const char *name, const char *help,
                const std::shared_ptr<ThroughLogs> &a) {
    CLI::App *sub = evidence->add_subcommand(name, help);
    addLogOptions(sub, *a, "all logs");
    return sub;
}

} // namespace

void addHindsightCommands(CLI::App *evidence, int &exitCode) {
    const auto a = std::make_shared<ThroughLogs>();
    addOf(evidence, "taken", "Asked and delivered spark over a log, and who took the difference", a)
        ->callback([a, &exitCode] { exitCode = listTaken(*a); });
    addOf(evidence, "learning",
          "What was foretold by each correction of fuel and spark, and what the next logs found", a)
        ->callback([a, &exitCode] { exitCode = listLearning(*a); });
}

} // namespace wheelwright
