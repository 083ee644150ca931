// SPDX-License-Identifier: GPL-3.0-or-later
#include "apps/cli/commands.h"
#include "apps/cli/log_evidence.h"
#include "apps/cli/options.h"
#include "apps/cli/report.h"
#include "apps/cli/table_target.h"
#include "core/base/error.h"
#include "core/proposal/boost_pulls.h"
#include "core/proposal/boost_sensors.h"
#include "core/proposal/fuel_change_proof.h"
#include "core/proposal/fuel_proposal.h"
#include "core/proposal/joint_fuel.h"
#include "core/proposal/knock_proposal.h"
#include "core/proposal/spark_sweep.h"
#include "core/study/boost_plan.h"
#include "core/study/load_axis.h"

#include <nlohmann/json.hpp>

namespace wheelwright {
namespace {

using Json = nlohmann::ordered_json;

struct ProposalArguments {
    std::string job, delay = "auto", equations;
    std::vector<std::string> logs, points;
    double content = 0, damping = 0, clamp = 0, minHits = 0;
    int neighbours = 0;
    std::vector<double> region;
    bool nearest = false, learned = false, apply = false, json = false;
};

bool given(const CLI::App &sub, const char *option) {
    const CLI::Option *o = sub.get_option_no_throw(option);
    return o && o->count() > 0;
}

std::string_view keyOf(DelayBy by) {
    constexpr std::array<std::string_view, 4> keys{"none", "job", "log", "stated"};
    return keys[static_cast<std::size_t>(by)];
}

FuelSamples samplesOf(const Study &study, const ProposalArguments &a) {
    FuelSampleOptions options;
    constexpr double most = 2000;
    if (a.delay != "auto") options.delayMs = numberFrom("--delay-ms", a.delay, between(0, most));
    return fuelSamples(study, reviewsOf(study.job(), a.job, a.logs), options);
}

// The equations as they were solved, so that anybody can solve them again.
void writeEquations(const std::string &name, const Study &study, const FuelSamples &samples,
                    const JointFuel &joint) {
    const JointSystem system = jointSystemOf(study, samples);
    const JointSolution solution = system.solve(joint.prior);
    Json rows = Json::array(), cells = Json::array(), nodes = Json::array();
    for (const JointEquation &q : system.equations(joint.prior, solution)) {
        Json left = Json::array();
        for (const auto &[unknown, coefficient] : q.left)
            left.push_back({unknown, coefficient});
        rows.push_back({{"left", left}, {"right", q.right}, {"weight", q.weight}});
    }
    for (std::size_t t = 0; t < solution.steps.size(); ++t)
        for (std::size_t c = 0; c < solution.steps[t].size(); ++c)
            cells.push_back({{"unknown", system.unknownOf(t, c)},
                             {"value", solution.steps[t][c]},
                             {"standard_error", solution.errors[t][c]}});
    for (std::size_t k = 0; k < solution.curve.size(); ++k)
        nodes.push_back({{"unknown", system.unknownOfNode(k)},
                         {"value", solution.curve[k]},
                         {"standard_error", solution.curveErrors[k]}});
    const Json out{{"unknowns", system.unknowns()},
                   {"sigma", solution.sigma},
                   {"correlation", solution.correlation},
                   {"cells", cells},
                   {"nodes", nodes},
                   {"equations", rows}};
    writeText(name, out.dump() + "\n");
}

// Each log, and why one counts for nothing.
Json logsOf(const FuelSamples &samples) {
    Json logs = Json::array();
    for (const FuelSamples::Log &l : samples.logs) {
        Json log{{"log", l.info.id}, {"name", l.info.name}, {"used", l.used}};
        if (l.used) {
            log["samples"] = l.samples;
            log["supply_at_end"] = l.supplyAtEnd;
            log["delay_by"] = keyOf(l.delay);
            log["trims_counted"] = l.trims;
        } else {
            log["why"] = format(l.why, UnitChoice{});
        }
        logs.push_back(std::move(log));
    }
    return logs;
}

FuelProposalOptions optionsOf(const CLI::App &sub, const ProposalArguments &a) {
    FuelProposalOptions o;
    if (given(sub, "--content")) o.content = a.content;
    if (given(sub, "--damping")) o.damping = a.damping;
    if (given(sub, "--clamp")) o.clamp = a.clamp;
    if (given(sub, "--min-hits")) o.leastHits = a.minHits;
    o.nearest = a.nearest;
    o.neighbours = a.neighbours;
    if (!a.region.empty()) {
        if (a.region.size() != 4 || a.region[0] > a.region[1] || a.region[2] > a.region[3])
            throw InputError("--region", verbatim("four numbers: rpm from and to, load from and to in kPa"),
                             std::to_string(a.region.size()) + " numbers, or not ascending");
        o.region = FuelRegion{a.region[0], a.region[1], a.region[2], a.region[3]};
    }
    return o;
}

int proposeCells(const CLI::App &sub, const ProposalArguments &a) {
    JobEdit edit(a.job, a.apply);
    const Study study(edit.before());
    const FuelSamples samples = samplesOf(study, a);
    const FuelProposal p = proposeFuel(study, samples, optionsOf(sub, a));
    Json cells = Json::array();
    for (const FuelCell &c : p.cells) {
        if (c.state == FuelCellState::never) continue;
        Json cell{{"rpm", c.rpm},
                  {"load_kpa", c.loadKpa},
                  {"hits", c.hits},
                  {"lambda_error", c.hits > 0 ? Json(c.error) : Json(nullptr)},
                  {"sd", c.hits > 0 ? Json(c.sd) : Json(nullptr)},
                  {"proposed", c.proposed},
                  {"now", c.now},
                  {"state", definitionOf(c.state).key}};
        if (c.hits > 0) {
            cell["plus_minus"] = c.plusMinus;
            cell["least"] = c.least;
            cell["most"] = c.most;
            cell["content_least"] = c.contentLeast;
            cell["content_most"] = c.contentMost;
            cell["last_seen"] = c.lastSeen;
        }
        if (c.atEnd > 0) cell["supply_at_end_hits"] = c.atEnd;
        cells.push_back(std::move(cell));
    }
    Json counts = Json::object();
    for (const FuelCellStateDefinition &s : allFuelCellStates())
        if (p.count(s.state) > 0) counts[std::string(s.key)] = p.count(s.state);
    Json out{{"content", p.content},
             {"damping", p.damping},
             {"clamp", p.clamp},
             {"min_hits", p.leastHits},
             {"samples", p.samples},
             {"rms_before", p.rmsBefore},
             {"rms_predicted", p.rmsPredicted},
             {"counts", counts},
             {"logs", logsOf(samples)},
             {"cells", cells}};
    if (a.apply) {
        out["changed"] = p.changes();
        if (p.changes())
            edit.commit(withFuel(edit.before(), p, samples, timestamp()), "Correct fuel from logs",
                        CellOrigin::log);
    }
    print(out, a.json);
    return p.count(FuelCellState::supply) + p.count(FuelCellState::noNumber) > 0 ? exitFindings : exitGood;
}

Json rowsOf(const Job &job, const JointTable &t) {
    Json cells = Json::array();
    for (std::size_t i = 0; i < t.cells.size(); ++i) {
        const JointUnknown &u = t.cells[i];
        const std::size_t nx = t.now.x().size();
        cells.push_back({{"rpm", t.now.x()[i % nx]},
                         {"load_kpa", loadOfAxis(job, t.now.y()[i / nx])},
                         {"value", u.value},
                         {"standard_error", u.standardError},
                         {"hits", u.hits},
                         {"known", jointKnownKey(u.known)}});
    }
    return cells;
}

int solveJoint(const CLI::App &sub, const ProposalArguments &a) {
    JobEdit edit(a.job, a.apply);
    const Study study(edit.before());
    const FuelSamples samples = samplesOf(study, a);
    JointOptions options;
    if (given(sub, "--min-hits")) options.leastHits = a.minHits;
    const JointFuel joint = solveJointFuel(study, samples, options);
    Json out{{"samples", joint.samples}, {"unknowns", joint.unknowns}, {"contents", joint.contents}};
    Json levels = Json::array(), notSeparable = Json::array();
    const bool two = joint.tables.size() == 2;
    for (const JointTable &t : joint.tables) {
        for (std::size_t i = 0; i < t.cells.size(); ++i)
            if (t.cells[i].known == JointKnown::notSeparable && t.cells[i].hits > 0)
                notSeparable.push_back(
                    {{"table", t.path},
                     {"rpm", t.now.x()[i % t.now.x().size()]},
                     {"load_kpa", loadOfAxis(study.job(), t.now.y()[i / t.now.x().size()])}});
        if (&t == &joint.tables.front()) out["base"] = rowsOf(study.job(), t);
        if (two && &t == &joint.tables.back()) out["top"] = rowsOf(study.job(), t);
        levels.push_back({{"table", t.path}, {"content", t.content}, {"cells", rowsOf(study.job(), t)}});
    }
    if (!two) out["levels"] = levels;
    Json curve = Json::array();
    for (const JointNode &k : joint.curve) {
        curve.push_back({{"content", k.content},
                         {"value", k.of.value},
                         {"standard_error", k.of.standardError},
                         {"hits", k.of.hits},
                         {"known", jointKnownKey(k.of.known)}});
        if (k.of.known == JointKnown::notSeparable && k.of.hits > 0)
            notSeparable.push_back({{"curve", true}, {"content", k.content}});
    }
    out["content_curve"] = curve;
    out["not_separable"] = notSeparable;
    out["explained"] = joint.explained;
    out["left_out_rms"] = joint.leftOutRms ? Json(*joint.leftOutRms) : Json(nullptr);
    out["rms_before"] = joint.rmsBefore;
    out["rms_after"] = joint.rmsAfter;
    out["sigma"] = joint.sigma;
    out["correlation"] = joint.correlation;
    out["outliers"] = joint.outliers;
    out["prior"] = {{"ridge", joint.prior.ridge},
                    {"smooth", joint.prior.smooth},
                    {"curve_ridge", joint.prior.curveRidge},
                    {"curve_smooth", joint.prior.curveSmooth},
                    {"chosen_by_leaving_out", joint.chosen}};
    JointApplyOptions how;
    if (given(sub, "--damping")) how.damping = a.damping;
    if (given(sub, "--clamp")) how.clamp = a.clamp;
    how.at = timestamp();
    for (const FuelSamples::Log &l : samples.logs)
        if (l.used) how.logs.push_back(l.info.id);
    const JointApplied applied = withJointFuel(edit.before(), joint, how);
    Json residuals = Json::array();
    for (const JointApplied::Residual &r : applied.residuals)
        residuals.push_back({{"content", r.content}, {"residual", r.residual}});
    out["residual_by_content"] = residuals;
    if (applied.schoolThatCould) out["school_that_could"] = definitionOf(*applied.schoolThatCould).id;
    out["cells_changed"] = applied.changed;
    out["cells_locked"] = applied.locked;
    out["cells_supply_at_end"] = applied.supply;
    out["cells_out_of_range"] = applied.outOfRange;
    out["logs"] = logsOf(samples);
    if (!a.equations.empty()) writeEquations(a.equations, study, samples, joint);
    if (a.apply) edit.commit(applied.job, "Correct fuel from all logs", CellOrigin::log);
    print(out, a.json);
    return applied.outOfRange + applied.supply > 0 ? exitFindings : exitGood;
}

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

int sweepPoints(const ProposalArguments &a) {
    std::vector<SweepPoint> points;
    for (const auto &[spark, power] : pairsFrom("--points", a.points, between(-40, 80), between(0, 1e6)))
        points.push_back({spark, power});
    print(describe(fitSweep(points)), a.json);
    return exitGood;
}

// Of the points on the command line, or of the holds of a job's logs.
int sweepSpark(const CLI::App &sub, const ProposalArguments &a) {
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

std::string_view unitOf(Dimension dimension) {
    switch (dimension) {
    case Dimension::sparkAngle:
        return "deg";
    case Dimension::pressureDifference:
        return "kpa";
    case Dimension::volumeFlow:
        return "cc_min";
    default:
        return "share";
    }
}

int proveChange(const ProposalArguments &a) {
    const Study study(loadJob(a.job));
    if (a.logs.size() != 2)
        throw InputError("--log", verbatim("two logs, one after the other"), std::to_string(a.logs.size()));
    const auto reviews = reviewsOf(study.job(), a.job, a.logs);
    if (reviews.size() != 2)
        throw InputError("--log", verbatim("two logs that can be read"), std::string("fewer"));
    FuelSampleOptions options;
    if (a.delay != "auto") options.delayMs = numberFrom("--delay-ms", a.delay, between(0, 2000));
    const FuelChangeProof proof = proveFuelChange(study, *reviews[0], *reviews[1], options);
    Json moves = Json::array();
    for (const FuelMove &m : proof.moves) {
        const bool judged = m.verdict != MoveVerdict::notJudged;
        const auto number = [judged](double v) { return judged ? Json(v) : Json(nullptr); };
        Json move{{"quantity", m.quantity},
                  {"unit", unitOf(m.dimension)},
                  {"expected", number(m.expected)},
                  {"measured", number(m.measured)},
                  {"residual", number(m.residual)},
                  {"sigma", number(m.sigma)},
                  {"within_95", number(m.around())},
                  {"tolerance", m.tolerance},
                  {"places", m.places},
                  {"verdict", moveVerdictKey(m.verdict)}};
        if (!m.why.empty()) move["why"] = m.why;
        moves.push_back(std::move(move));
    }
    print(moves, a.json);
    return proof.any(MoveVerdict::off) ? exitFindings : exitGood;
}

int readBoost(const CLI::App &sub, const ProposalArguments &a) {
    JobEdit edit(a.job, a.apply);
    const Study study(edit.before());
    const auto reviews = reviewsOf(study.job(), a.job, a.logs);
    std::vector<PullBoost> pulls = readPulls(reviews);
    const double window = limitOf(study.job(), "evidence.content_window");
    if (given(sub, "--content"))
        std::erase_if(pulls,
                      [&](const PullBoost &p) { return !(std::abs(p.content - a.content) <= window); });
    Json list = Json::array();
    bool odd = false;
    const auto known = [](double v) { return v == v ? Json(v) : Json(nullptr); };
    for (const PullBoost &p : pulls) {
        odd = odd || !p.said.empty();
        Json one{{"log", p.log},   {"from_s", p.beginS},          {"to_s", p.endS},
                 {"gear", p.gear}, {"content", known(p.content)}, {"reached", p.reached}};
        if (p.reached) {
            one["reached_rpm"] = p.reachedRpm;
            one["target_kpa_gauge"] = known(p.targetKpa);
            one["held_kpa_gauge"] = p.heldKpa;
            one["solenoid_duty"] = known(p.duty);
            one["solenoid_moved"] = p.dutyMoved;
            one["overshoot_kpa"] = p.overshootKpa;
            one["drift_kpa"] = p.driftKpa;
            one["drift_sigma_kpa"] = p.driftSigmaKpa;
            one["wave_kpa"] = p.waveKpa;
            one["wave_hz"] = p.waveHz;
            one["said"] = p.said;
        }
        list.push_back(std::move(one));
    }
    Json out{{"pulls", list}};
    const Job after = withBoostPoints(edit.before(), pulls);
    Json groups = Json::array();
    for (const BoostGroup &g : boostGroups(after)) {
        Json group{{"gear", g.gear},
                   {"content", g.content},
                   {"points", g.points.size()},
                   {"fitted", g.fit.has_value()}};
        groups.push_back(std::move(group));
    }
    out["groups"] = groups;
    if (const auto line = boostOverContent(pulls))
        out["content_boost"] = {{"pulls", line->pulls},
                                {"contents_from", line->from},
                                {"contents_to", line->to},
                                {"held_kpa_gauge_per_content", line->held},
                                {"standard_error", line->heldError},
                                {"target_kpa_gauge_per_content", known(line->target)}};
    else
        out["content_boost"] = nullptr;
    Json sensors = Json::array();
    for (const SensorComparison &c : compareBoostSensors(reviews)) {
        odd = odd || c.verdict == MoveVerdict::off;
        const bool judged = c.verdict != MoveVerdict::notJudged;
        const auto number = [judged](double v) { return judged ? Json(v) : Json(nullptr); };
        sensors.push_back({{"log", c.log},
                           {"seconds", c.stretches},
                           {"from_kpa", number(c.fromKpa)},
                           {"to_kpa", number(c.toKpa)},
                           {"at_kpa", number(c.middleKpa)},
                           {"dyno_less_controller_kpa", number(c.offKpa)},
                           {"standard_error", number(c.offError)},
                           {"per_100_kpa", number(c.perKpa * 100)},
                           {"per_100_kpa_standard_error", number(c.perKpaError * 100)},
                           {"tolerance_kpa", c.toleranceKpa},
                           {"verdict", moveVerdictKey(c.verdict)},
                           {"said", c.said}});
    }
    out["sensors"] = sensors;
    out["points_added"] = after.boost.points.size() - edit.before().boost.points.size();
    if (a.apply && after.boost.points.size() > edit.before().boost.points.size())
        edit.commit(after, "Points of boost from pulls", CellOrigin::log);
    print(out, a.json);
    return odd ? exitFindings : exitGood;
}

int proposeKnock(const CLI::App &sub, const ProposalArguments &a) {
    JobEdit edit(a.job, a.apply);
    const Study study(edit.before());
    KnockOptions options;
    if (given(sub, "--content")) options.content = a.content;
    if (given(sub, "--min-hits")) options.leastHits = a.minHits;
    const auto reviews = reviewsOf(study.job(), a.job, a.logs);
    LearnedCeilings learned;
    if (a.learned) {
        learned = learnCeilings(study, reviewsOf(study.job(), a.job, {}, LogsUnnamed::all));
        options.learned = &learned;
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
    for (const KnockProposal::Unused &u : p.unused)
        unused.push_back({{"log", u.log}, {"why", u.why}});
    Json out{{"cells", cells}, {"unused", unused}};
    if (a.apply) {
        Job after = withSpark(edit.before(), p, timestamp());
        out["changed"] = p.changes();
        if (!(after == edit.before()))
            edit.commit(std::move(after), "Correct spark by knock", CellOrigin::log);
    }
    print(out, a.json);
    return knocks ? exitFindings : exitGood;
}

void addLogs(CLI::App *sub, const std::shared_ptr<ProposalArguments> &a, bool jobNeeded = true) {
    sub->add_option("job", a->job, "Job file")->required(jobNeeded);
    sub->add_option("--log", a->logs,
                    "Ids or file names; without it all logs made with the calibration as it is")
        ->delimiter(',');
    sub->add_flag("--json", a->json, "As JSON");
}

void addFuelOptions(CLI::App *sub, const std::shared_ptr<ProposalArguments> &a) {
    addLogs(sub, a);
    addNumber(sub, "--damping", a->damping, between(0.01, 1), "Share of an error that is corrected");
    addNumber(sub, "--clamp", a->clamp, between(0.001, 1), "Correction of a cell, most, as a share");
    addNumber(sub, "--min-hits", a->minHits, between(0.1, 1e6), "Samples in a cell, least");
    sub->add_option("--delay-ms", a->delay, "Delay of λ: auto, or one number for all");
    sub->add_flag("--apply", a->apply, "Write it to the job");
}

} // namespace

void addProposalCommands(CLI::App *evidence, int &exitCode) {
    const auto a = std::make_shared<ProposalArguments>();
    CLI::App *fuel = evidence->add_subcommand("fuel", "Fuel by cell at one content, from logs");
    addFuelOptions(fuel, a);
    addNumber(fuel, "--content", a->content, fraction(),
              "Content to correct at; without it that of the logs");
    addNumber(fuel, "--neighbours", a->neighbours, wholeBetween(0, 5),
              "Rings of cells that follow their corrected neighbours");
    addNumbers(fuel, "--region", a->region, between(0, 30000),
               "rpm from, to, load from, to: one correction for all of it");
    fuel->add_flag("--nearest", a->nearest, "Each sample to its nearest cell, not spread over four");
    fuel->callback([a, fuel, &exitCode] { exitCode = proposeCells(*fuel, *a); });
    CLI::App *joint =
        evidence->add_subcommand("joint", "Fuel of all contents at once: tables and the curve between them");
    addFuelOptions(joint, a);
    joint->add_option("--equations", a->equations, "Write the equations there, as JSON, to be solved again");
    CLI::App *boost =
        evidence->add_subcommand("boost", "What boost did in each pull, and its curve over duty");
    addLogs(boost, a);
    addNumber(boost, "--content", a->content, fraction(), "Only pulls near this content");
    boost->add_flag("--apply", a->apply, "Write the points of pulls that held still");
    boost->callback([a, boost, &exitCode] { exitCode = readBoost(*boost, *a); });
    CLI::App *proof = evidence->add_subcommand(
        "proof", "One calibration, two logs at two contents: did everything move as its tables say?");
    addLogs(proof, a);
    proof->add_option("--delay-ms", a->delay, "Delay of λ: auto, or one number for all");
    proof->callback([a, &exitCode] { exitCode = proveChange(*a); });
    CLI::App *knock =
        evidence->add_subcommand("knock", "Knock by cell, and what the search for spark does next");
    addLogs(knock, a);
    addNumber(knock, "--content", a->content, fraction(), "Only samples near this content");
    addNumber(knock, "--min-hits", a->minHits, between(0.1, 1e6), "Samples in a cell, least");
    knock->add_flag("--learned", a->learned,
                    "On the road, go to what all logs have taught that a cell stands, where that is known");
    knock->add_flag("--apply", a->apply, "Write it to the job");
    knock->callback([a, knock, &exitCode] { exitCode = proposeKnock(*knock, *a); });
    CLI::App *sweep =
        evidence->add_subcommand("sweep", "Best spark of a sweep: of points, or of a job's holds");
    addLogs(sweep, a, false);
    sweep->add_option("--points", a->points, "spark:power, as 12:518,14:548; power of any unit, or torque")
        ->delimiter(',');
    addNumber(sweep, "--content", a->content, fraction(), "Only sweeps near this content");
    sweep->add_flag("--apply", a->apply, "Write what they say as tables of best spark");
    sweep->callback([a, sweep, &exitCode] { exitCode = sweepSpark(*sweep, *a); });
    joint->callback([a, joint, &exitCode] { exitCode = solveJoint(*joint, *a); });
}

} // namespace wheelwright
