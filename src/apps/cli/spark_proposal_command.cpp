// SPDX-License-Identifier: GPL-3.0-or-later
#include "apps/cli/commands.h"
#include "apps/cli/log_evidence.h"
#include "apps/cli/log_options.h"
#include "apps/cli/options.h"
#include "apps/cli/report.h"
#include "apps/cli/table_target.h"
#include "core/base/error.h"
#include "core/proposal/knock_proposal.h"
#include "core/proposal/spark_sweep.h"

#include <nlohmann/json.hpp>

namespace wheelwright {
namespace {

using Json = nlohmann::ordered_json;

struct SparkProposalArguments : ThroughLogs {
    std::vector<std::string> points;
    double content = 0, minHits = 0;
    bool learned = false, apply = false;
};

Json numberOr(const std::optional<double> &v) {
    return v ? Json(*v) : Json(nullptr);
}

Json describe(const SparkSweep &s) {
    Json out{{"best_deg", numberOr(s.bestDeg)},
             {"best_low_deg", numberOr(s.lowDeg)},
             {"best_high_deg", numberOr(s.highDeg)},
             {"still_rising", s.stillRising},
             {"past_best", s.pastBest},
             {"least_for_995_deg", numberOr(s.leastDeg)},
             {"power_per_deg", s.slope},
             {"sigma", s.sigma},
             {"points", s.points.size()}};
    if (s.leastIsLowestTried) out["least_is_lowest_tried"] = true;
    return out;
}

int sweepPoints(const SparkProposalArguments &a) {
    std::vector<SweepPoint> points;
    for (const auto &[spark, power] : pairsFrom("--points", a.points, between(-40, 80), between(0, 1e6)))
        points.push_back({spark, power});
    print(describe(fitSweep(points)), a.json);
    return exitGood;
}

// Of the points on the command line, or of the holds of a job's logs.
int sweepSpark(const CLI::App &sub, const SparkProposalArguments &a) {
    if (!a.points.empty()) {
        refuseOptions(sub, {"--log", "--apply", "--content"}, verbatim("--points alone, which say it all"));
        return sweepPoints(a);
    }
    if (a.job.empty())
        throw InputError("sweep", verbatim("a job with logs, or --points"), std::string("neither"));
    JobEdit edit(a.job, a.apply);
    const Study study(edit.before());
    std::vector<LoggedSweep> sweeps = sweepsIn(study, reviewsOf(study.job(), a.job, a.logs));
    const double window = limitOf(study.job(), "evidence.content_window");
    if (given(sub, "--content"))
        std::erase_if(sweeps, [&](const LoggedSweep &s) { return std::abs(s.content - a.content) > window; });
    Json list = Json::array();
    for (const LoggedSweep &s : sweeps) {
        Json one{{"rpm", s.rpm}, {"load_kpa", s.loadKpa}, {"content", s.content}};
        one.update(describe(s.sweep));
        one["lambda_moved"] = s.lambdaMoved == s.lambdaMoved ? Json(s.lambdaMoved) : Json(nullptr);
        one["lambda_held"] = s.lambdaHeld;
        one["load_moved"] = s.loadMoved;
        one["load_held"] = s.loadHeld;
        one["of_pulls"] = s.ofPulls;
        list.push_back(std::move(one));
    }
    Json out{{"sweeps", list}};
    if (a.apply) {
        Job after = withSweeps(edit.before(), sweeps, timestamp());
        out["changed"] = !(after.extras == edit.before().extras);
        if (!(after.extras == edit.before().extras))
            edit.commit(std::move(after), "Best spark from sweeps", CellOrigin::sweep);
    }
    print(out, a.json);
    return std::ranges::all_of(sweeps, &LoggedSweep::held) ? exitGood : exitFindings;
}

int proposeKnock(const CLI::App &sub, const SparkProposalArguments &a) {
    JobEdit edit(a.job, a.apply);
    const Study study(edit.before());
    KnockOptions options;
    if (given(sub, "--content")) options.content = a.content;
    if (given(sub, "--min-hits")) options.leastHits = a.minHits;
    const auto reviews = reviewsOf(study.job(), a.job, a.logs);
    LearnedCeilings learned;
    std::vector<LoggedSweep> sweeps;
    if (a.learned) {
        const auto all = reviewsOf(study.job(), a.job, {}, LogsUnnamed::all);
        learned = learnCeilings(study, all);
        options.learned = &learned;
        sweeps = sweepsIn(study, onThisFuel(study.job(), all));
        options.sweeps = sweeps;
    }
    const KnockProposal p = proposeSpark(study, reviews, options);
    const auto known = [](double v) { return v == v ? Json(v) : Json(nullptr); };
    Json cells = Json::array(), unused = Json::array();
    bool knocks = false;
    for (const KnockCell &c : p.cells) {
        knocks = knocks || c.knocks > 0;
        Json cell{{"rpm", c.rpm},
                  {"load_kpa", c.loadKpa},
                  {"content", c.content},
                  {"hits", c.hits},
                  {"most_retard_deg", c.retardDeg},
                  {"transient", c.transient},
                  {"knocks", c.knocks},
                  {"carried_deg", c.carriedDeg},
                  {"now_deg", c.nowDeg},
                  {"proposed_deg", c.proposedDeg},
                  {"phase", searchPhaseKey(c.search.phase)},
                  {"steps", c.search.steps},
                  {"clean", c.search.clean},
                  {"next", c.next}};
        if (c.retardDeg > 0) {
            cell["intake_c"] = known(c.intakeC);
            cell["content_at_worst"] = known(c.worstContent);
        }
        if (c.transient)
            cell["why_transient"] = "it began while the throttle opened: a sensor hears that too";
        cells.push_back(std::move(cell));
    }
    Json beside = Json::array();
    for (const BesideCell &b : p.beside)
        beside.push_back({{"rpm", b.rpm},
                          {"load_kpa", b.loadKpa},
                          {"content", b.content},
                          {"now_deg", b.nowDeg},
                          {"proposed_deg", b.proposedDeg},
                          {"next", b.next}});
    for (const KnockProposal::Unused &u : p.unused)
        unused.push_back({{"log", u.log}, {"why", u.why}});
    Json out{{"cells", cells}, {"beside", beside}, {"unused", unused}};
    if (a.apply) {
        Job after = withSpark(edit.before(), p, timestamp());
        out["changed"] = p.changes();
        if (!(after == edit.before()))
            edit.commit(std::move(after), "Correct spark by knock", CellOrigin::log);
    }
    print(out, a.json);
    return knocks ? exitFindings : exitGood;
}

} // namespace

void addSparkProposalCommands(CLI::App *evidence, int &exitCode) {
    const auto a = std::make_shared<SparkProposalArguments>();
    CLI::App *knock =
        evidence->add_subcommand("knock", "Knock by cell, and what the search for spark does next");
    addLogOptions(knock, *a, currentLogs);
    addNumber(knock, "--content", a->content, fraction(), "Only samples near this content");
    addNumber(knock, "--min-hits", a->minHits, between(0.1, 1e6), "Samples in a cell, least");
    knock->add_flag("--learned", a->learned,
                    "On the road, go to what all logs have taught that a cell stands, where that is known");
    knock->add_flag("--apply", a->apply, "Write it to the job");
    knock->callback([a, knock, &exitCode] { exitCode = proposeKnock(*knock, *a); });
    CLI::App *sweep = evidence->add_subcommand(
        "sweep", "Best spark of a sweep: of points, or of the holds and pulls of a job's logs");
    addLogOptions(sweep, *a, currentLogs, false);
    sweep->add_option("--points", a->points, "spark:power, as 12:518,14:548; power of any unit, or torque")
        ->delimiter(',');
    addNumber(sweep, "--content", a->content, fraction(), "Only sweeps near this content");
    sweep->add_flag("--apply", a->apply, "Write what they say as tables of best spark");
    sweep->callback([a, sweep, &exitCode] { exitCode = sweepSpark(*sweep, *a); });
}

} // namespace wheelwright
