// SPDX-License-Identifier: GPL-3.0-or-later
#include "apps/cli/commands.h"
#include "apps/cli/options.h"
#include "apps/cli/report.h"
#include "apps/cli/table_target.h"
#include "core/base/error.h"
#include "core/base/limits.h"
#include "core/study/boost_plan.h"
#include "core/study/spray_map.h"
#include "core/verify/injector_change.h"

#include <nlohmann/json.hpp>

#include <cmath>

namespace wheelwright {
namespace {

using Json = nlohmann::ordered_json;

struct ChangeArguments {
    std::string job;
    NewInjectors injectors;
    bool apply = false, json = false;
};

int change(const ChangeArguments &a) {
    JobEdit edit(a.job, a.apply);
    const Job &before = edit.before();
    const InjectorChange c = changeInjectors(before, a.injectors);
    edit.commit(c.job, "Change injectors", CellOrigin::model);
    nlohmann::ordered_json out{{"rescaled", c.rescaled},
                               {"worst_residual", c.residual.worst},
                               {"mean_residual", c.residual.mean},
                               {"worst_rpm", c.residual.rpm},
                               {"worst_load_kpa", c.residual.loadKpa},
                               {"duty_before", c.dutyBefore},
                               {"duty_after", c.dutyAfter},
                               {"shortest_pulse_before_ms", c.shortestBeforeMs},
                               {"shortest_pulse_after_ms", c.shortestAfterMs},
                               {"linear_known", c.linearKnown},
                               {"dead_time_rows_dropped", c.deadTimesDropped},
                               {"required_fuel_factor", c.requiredFuelFactor},
                               {"applied", a.apply}};
    if (c.linearKnown) out["linear"] = c.shortestLinear; // else it is not judged
    print(out, a.json);
    const bool finding =
        (c.linearKnown && !c.shortestLinear) || c.dutyAfter > limitOf(before, "flow.duty.caution");
    return finding ? exitFindings : exitGood;
}

void addChange(CLI::App &app, int &exitCode) {
    CLI::App *sub = app.add_subcommand(
        "injector-change",
        "Other injectors in a job: duty, shortest pulse, the fuel tables rescaled where they "
        "hold pulse widths, and what remains. Exit code 1 over the duty caution or under the "
        "linear minimum");
    auto a = std::make_shared<ChangeArguments>();
    NewInjectors &n = a->injectors;
    sub->add_option("job", a->job, "Job file")->required();
    addNumber(sub, "--flow-cc-min", n.flowCcMin, like("injectors.flow_cc_min"),
              "Static flow of one at its rated pressure")
        ->required();
    addNumber(sub, "--rated-pressure-kpa", n.ratedPressureKpa, like("injectors.rated_pressure_kpa"),
              "Pressure of that flow")
        ->capture_default_str();
    addNumber(sub, "--dead-time-ms", n.deadTimeMs, like("injectors.dead_time_ms"),
              "At the usual battery voltage")
        ->required();
    addNumber(sub, "--linear-min-ms", n.linearMinMs, like("injectors.linear_min_ms"),
              "Shortest linear pulse; 0: not stated");
    addNumber(sub, "--test-fluid-kg-m3", n.testFluidKgM3, like("injectors.test_fluid_kg_m3"),
              "Density of the fluid it was rated with; 0: fuel");
    sub->add_flag("--apply", a->apply, "Change the job, as one action");
    sub->add_flag("--json", a->json, "Print JSON");
    sub->callback([a, &exitCode] { exitCode = change(*a); });
}

struct BoostArguments {
    std::string job;
    double content = 0, gear = 0;
    CLI::Option *contentOption = nullptr;
    bool json = false;
};

Json describe(const BoostGroup &g) {
    Json out{{"gear", g.gear}, {"ethanol", g.content}, {"points", g.points.size()}};
    if (!g.fit) return out;
    out["sigma_kpa"] = g.fit->sigma();
    out["duty"] = g.fit->x();
    out["boost_kpa"] = g.fit->fitted();
    return out;
}

int boost(const BoostArguments &a) {
    const Job job = loadJob(a.job);
    const double content = contentOrTank(job, *a.contentOption, a.content);
    const std::vector<BoostGroup> groups = boostGroups(job);
    const BoostGroup *used = boostGroupFor(groups, a.gear, content);
    if (!used)
        throw InputError(a.job,
                         verbatim("two pulls of different duty in boost.points, in one gear and on one fuel"),
                         std::to_string(job.boost.points.size()) + " points");
    const BoostStepPlan plan = planBoostSteps(Study(job), *used, content);
    Json all = Json::array(), steps = Json::array();
    for (const BoostGroup &g : groups)
        all.push_back(describe(g));
    for (const BoostStep &s : plan.steps)
        steps.push_back({{"duty", s.duty},
                         {"boost_kpa", s.boostKpa},
                         {"sigma_kpa", s.sigmaKpa},
                         {"cut_kpa", s.cutKpa},
                         {"beyond", s.beyond}});
    print({{"groups", all},
           {"used", describe(*used)},
           {"from_kpa", plan.fromKpa},
           {"target_kpa", plan.targetKpa},
           {"steps", steps},
           {"remark", format(plan.remark, written())}},
          a.json);
    return plan.fromKpa >= plan.targetKpa - 0.5 ? exitGood : exitFindings;
}

void addBoost(CLI::App &app, int &exitCode) {
    CLI::App *sub = app.add_subcommand(
        "boost",
        "Boost over solenoid duty by gear and content, and the steps up to the target with their cuts; "
        "gauge pressures, cuts absolute. Exit code 1 when the pulls have not reached the target yet");
    auto a = std::make_shared<BoostArguments>();
    sub->add_option("job", a->job, "Job file")->required();
    a->contentOption =
        addNumber(sub, "--content", a->content, fraction(), "Alcohol, 0 to 1; otherwise the tank's");
    addNumber(sub, "--gear", a->gear, like("boost.points", "gear"), "Only pulls in this gear");
    sub->add_flag("--json", a->json, "Print JSON");
    sub->callback([a, &exitCode] { exitCode = boost(*a); });
}

struct MapArguments {
    std::string job;
    double content = 0;
    CLI::Option *contentOption = nullptr;
    bool json = false;
};

int sprayCells(const MapArguments &a) {
    const Job job = loadJob(a.job);
    if (!job.aux.fitted) throw InputError(a.job, verbatim("a job with a spray (aux.fitted)"), "none");
    const double content = contentOrTank(job, *a.contentOption, a.content);
    const double tolerance = limitOf(job, "aux.loss.tolerance");
    bool finding = false;
    Json cells = Json::array();
    for (const SprayCell &c : sprayMap(Study(job), content)) {
        if (!c.reached || c.sprayCcMin <= 0) continue;
        const bool lost = std::isfinite(c.lambdaIfLost);
        finding |= job.aux.trimmed && !(c.lambdaIfLost <= c.lambdaMeant * (1 + tolerance));
        Json cell{{"rpm", c.rpm},
                  {"load_kpa", c.loadKpa},
                  {"spray_cc_min", c.sprayCcMin},
                  {"trim", c.trim},
                  {"lambda", c.lambdaMeant},
                  {"lambda_if_lost", nullptr},
                  {"spark_deg", c.sparkDeg},
                  {"alcohol_with_spray", c.alcoholWith},
                  {"spark_on_spray_deg", sparkOnSpray(Study(job), content, c)}};
        if (lost) cell["lambda_if_lost"] = c.lambdaIfLost;
        cells.push_back(cell);
    }
    print({{"ethanol", content}, {"spray_cc_min", sprayFlowCcMin(job.aux.spray)}, {"cells", cells}}, a.json);
    return finding && job.aux.failSafe == SprayFailSafe::none ? exitFindings : exitGood;
}

void addSprayCells(CLI::App &app, int &exitCode) {
    CLI::App *sub = app.add_subcommand(
        "spray-cells",
        "The trim that a job's spray asks for in each cell, λ and spark when it stops. Exit code "
        "1 when that is unsafe without a fail-safe");
    auto a = std::make_shared<MapArguments>();
    sub->add_option("job", a->job, "Job file")->required();
    a->contentOption =
        addNumber(sub, "--content", a->content, fraction(), "Alcohol, 0 to 1; otherwise the tank's");
    sub->add_flag("--json", a->json, "Print JSON");
    sub->callback([a, &exitCode] { exitCode = sprayCells(*a); });
}

} // namespace

void addHardwareCommands(CLI::App &app, int &exitCode) {
    addChange(app, exitCode);
    addBoost(app, exitCode);
    addSprayCells(app, exitCode);
}

} // namespace wheelwright
