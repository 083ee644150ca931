// SPDX-License-Identifier: GPL-3.0-or-later
#include "apps/cli/commands.h"
#include "apps/cli/log_evidence.h"
#include "apps/cli/log_options.h"
#include "apps/cli/options.h"
#include "apps/cli/report.h"
#include "apps/cli/table_target.h"
#include "core/base/error.h"
#include "core/proposal/fuel_proposal.h"
#include "core/proposal/joint_fuel.h"
#include "core/study/load_axis.h"

#include <nlohmann/json.hpp>

namespace wheelwright {
namespace {

using Json = nlohmann::ordered_json;

struct ProposalArguments : ThroughLogs {
    std::string delay = "auto", equations;
    double content = 0, damping = 0, clamp = 0, minHits = 0;
    int neighbours = 0;
    std::vector<double> region;
    bool nearest = false, apply = false;
};

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
            log["why"] = format(l.why, written());
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

void addFuelOptions(CLI::App *sub, const std::shared_ptr<ProposalArguments> &a) {
    addLogOptions(sub, *a, currentLogs);
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
    joint->callback([a, joint, &exitCode] { exitCode = solveJoint(*joint, *a); });
}

} // namespace wheelwright
