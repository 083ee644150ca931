// SPDX-License-Identifier: GPL-3.0-or-later
#include "apps/cli/commands.h"
#include "apps/cli/options.h"
#include "apps/cli/report.h"
#include "core/base/error.h"
#include "core/base/limits.h"
#include "core/flow/injector.h"
#include "core/job/tank_history.h"
#include "core/study/fuel_delivery.h"
#include "core/study/headroom.h"
#include "core/study/return_flow.h"

#include <nlohmann/json.hpp>

namespace wheelwright {
namespace {

using Json = nlohmann::ordered_json;

// injector

struct InjectorArguments {
    double flow = 0, ratedKpa = 300, differentialKpa = 0, deadMs = 0, volts = 13.5, pulseMs = 0, rpm = 0,
           linearMinMs = 0;
    double testFluid = 0, fuelDensity = 745, injectors = 0, bsfc = 0, duty = 0.85;
    std::vector<std::string> deadTimes;
    std::vector<double> measured, needs;
    CLI::Option *flowOption = nullptr, *differential = nullptr, *pulse = nullptr, *bsfcOption = nullptr;
    bool batch = false, deadGiven = false, json = false;
};

Json assignment(const InjectorArguments &a) {
    std::vector<double> needs = a.needs;
    if (needs.empty()) needs.assign(a.measured.size(), 1);
    const InjectorAssignment best = assignInjectors(a.measured, needs);
    Json cylinders = Json::array();
    for (std::size_t c = 0; c < best.injectorOf.size(); ++c)
        cylinders.push_back({{"cylinder", c + 1},
                             {"injector", best.injectorOf[c] + 1},
                             {"flow_cc_min", a.measured[best.injectorOf[c]]},
                             {"lambda_ratio", best.lambdaRatio[c]}});
    return {{"cylinders", cylinders},
            {"lambda_spread", best.spread},
            {"lambda_spread_random", best.randomSpread},
            {"lambda_spread_as_listed", best.asListedSpread}};
}

int injector(const InjectorArguments &a) {
    const auto given = [&](const char *name, double v) {
        if (!(v > 0)) throw InputError(name, verbatim("it beside the others"), "none");
    };
    Json out;
    bool finding = false;
    if (a.flowOption->count() == 0 && a.measured.empty())
        throw InputError("injector", verbatim("--flow-cc-min, or --measured"), "neither");
    if (a.flowOption->count() > 0) {
        const double dp = a.differential->count() > 0 ? a.differentialKpa : a.ratedKpa;
        const double flow = volumeFlowOn(injectorFlowAt(a.flow, a.ratedKpa, dp), a.testFluid, a.fuelDensity);
        out["flow_cc_min"] = flow;
        out["differential_kpa"] = dp;
        double dead = a.deadMs;
        std::vector<DeadTimePoint> points;
        for (const auto &[volts, ms] : pairsFrom("--dead-times", a.deadTimes, like("injectors.battery_v"),
                                                 like("injectors.dead_time_ms")))
            points.push_back({volts, 0, ms});
        if (!points.empty()) dead = deadTimeMs(points, a.volts, dp);
        out["dead_time_ms"] = dead;
        if (a.pulse->count() > 0) {
            if (!a.deadGiven && points.empty())
                throw InputError(
                    "--pulse-ms",
                    verbatim("--dead-time-ms or --dead-times beside it: a pulse holds its dead time"),
                    "neither");
            given("--rpm", a.rpm);
            const double duty = a.pulseMs * (a.batch ? 2 : 1) * a.rpm / 120000;
            out["duty"] = duty;
            out["fuel_mm3"] = std::max(0.0, a.pulseMs - dead) * flow / 60 * (a.batch ? 2 : 1);
            finding |= duty > limitById("flow.duty.caution").shipped;
        }
        if (a.linearMinMs > 0 && a.pulse->count() > 0) {
            out["linear"] = a.pulseMs >= a.linearMinMs;
            finding |= a.pulseMs < a.linearMinMs;
        }
        if (a.bsfcOption->count() > 0) {
            given("--injectors", a.injectors);
            out["power_kw"] = powerKw(a.injectors * flow * a.duty * a.fuelDensity * 1e-3 / 60, a.bsfc);
        }
    }
    if (!a.measured.empty()) out["assignment"] = assignment(a);
    print(out, a.json);
    return finding ? exitFindings : exitGood;
}

void addInjector(CLI::App &app, int &exitCode) {
    CLI::App *sub = app.add_subcommand(
        "injector", "Flow, dead time, duty, power and the assignment of a measured set. Exit "
                    "code 1 over the duty caution or under the linear minimum");
    auto a = std::make_shared<InjectorArguments>();
    a->flowOption = addNumber(sub, "--flow-cc-min", a->flow, like("injectors.flow_cc_min"),
                              "Static flow at its rated pressure");
    addNumber(sub, "--rated-pressure-kpa", a->ratedKpa, like("injectors.rated_pressure_kpa"),
              "Pressure of that flow")
        ->capture_default_str();
    a->differential = addNumber(sub, "--differential-kpa", a->differentialKpa,
                                like("injectors.rated_pressure_kpa"), "Pressure across it in use");
    addNumber(sub, "--dead-time-ms", a->deadMs, like("injectors.dead_time_ms"), "Dead time");
    sub->add_option("--dead-times", a->deadTimes, "Volts and ms, such as 12:1.1,14:0.9")->delimiter(',');
    addNumber(sub, "--battery-v", a->volts, like("injectors.battery_v"), "Battery voltage, with --dead-times")
        ->capture_default_str();
    a->pulse = addNumber(sub, "--pulse-ms", a->pulseMs, between(0, 1000, Dimension::duration),
                         "Pulse width, dead time inside");
    addNumber(sub, "--rpm", a->rpm, between(1, 25000, Dimension::engineSpeed),
              "Engine speed, with --pulse-ms");
    sub->add_flag("--batch", a->batch, "Two pulses a cycle");
    addNumber(sub, "--linear-min-ms", a->linearMinMs, like("injectors.linear_min_ms"),
              "Shortest linear pulse");
    addNumber(sub, "--test-fluid-kg-m3", a->testFluid, like("injectors.test_fluid_kg_m3"),
              "Density of the fluid it was rated with; 0: fuel");
    addNumber(sub, "--fuel-density-kg-m3", a->fuelDensity, like("fuel.gasoline.density_kg_m3"),
              "Density of the fuel")
        ->capture_default_str();
    addNumber(sub, "--injectors", a->injectors, wholeBetween(1, 64), "So many, with --bsfc-g-kwh");
    addNumber(sub, "--duty", a->duty, between(0.01, 1, Dimension::ratio), "Duty that power is counted at")
        ->capture_default_str();
    a->bsfcOption = addNumber(sub, "--bsfc-g-kwh", a->bsfc, between(50, 3000),
                              "Brake specific fuel consumption: prints the power");
    addNumbers(sub, "--measured", a->measured, like("injectors.measured", "flow_cc_min"),
               "Measured flow of each injector, cc/min");
    addNumbers(sub, "--needs", a->needs, like("engine.cylinder_needs", "need"),
               "Fuel that each cylinder needs against the others, such as 1,1.03,1.03,1");
    sub->add_flag("--json", a->json, "Print JSON");
    sub->callback([a, sub, &exitCode] {
        const auto counts = [sub](const char *option) { return sub->count(option) > 0; };
        if (!counts("--flow-cc-min"))
            refuseOptions(*sub,
                          {"--rated-pressure-kpa", "--differential-kpa", "--dead-time-ms", "--dead-times",
                           "--pulse-ms", "--linear-min-ms", "--test-fluid-kg-m3", "--fuel-density-kg-m3",
                           "--bsfc-g-kwh"},
                          verbatim("--flow-cc-min beside it"));
        if (!counts("--pulse-ms"))
            refuseOptions(*sub, {"--rpm", "--batch", "--linear-min-ms"}, verbatim("--pulse-ms beside it"));
        a->deadGiven = counts("--dead-time-ms");
        if (!counts("--dead-times")) refuseOptions(*sub, {"--battery-v"}, verbatim("--dead-times beside it"));
        if (counts("--dead-times")) refuseOptions(*sub, {"--dead-time-ms"}, verbatim("--dead-times or it"));
        if (!counts("--bsfc-g-kwh"))
            refuseOptions(*sub, {"--injectors", "--duty"}, verbatim("--bsfc-g-kwh beside it"));
        if (!counts("--measured")) refuseOptions(*sub, {"--needs"}, verbatim("--measured beside it"));
        exitCode = injector(*a);
    });
}

// pump

struct PumpArguments {
    std::string job;
    std::vector<std::string> points;
    double pressureKpa = 0, count = 1, demand = 0, margin = 0.07, commanded = 0, measured = 0, content = 0,
           sensorNeeds = 0.3;
    CLI::Option *pressure = nullptr, *demandOption = nullptr, *measuredOption = nullptr,
                *contentOption = nullptr;
    bool json = false;
};

int pumpOfJob(const PumpArguments &a) {
    const Job job = loadJob(a.job);
    // Without a word of the content, that of the job's alcohol which needs as much fuel as the tank does.
    const Blend tank = tankNow(job).content;
    const bool methanol = job.alcohol == Alcohol::methanol;
    const bool both =
        a.contentOption->count() == 0 && tank.ethanol.fraction() > 0 && tank.methanol.fraction() > 0;
    const double content = a.contentOption->count() > 0
                               ? a.content
                               : std::min(1.0, blendModelOf(job).asOneAlcohol(tank, methanol));
    if (!(content >= 0 && content <= 1))
        throw InputError("--content", verbatim("a volume fraction from 0 to 1"), std::to_string(content));
    const Study study(job);
    const EngineMap map = returnFlow(study, content);
    const FreezeLine line = freezeLine(study);
    const bool covered = freezeCovers(study);
    Json rows = Json::array();
    for (std::size_t x = 0; x < map.rpm.size(); ++x)
        for (std::size_t y = 0; y < map.loadKpa.size(); ++y) {
            const std::size_t at = x * map.loadKpa.size() + y;
            if (!map.reached[at]) continue;
            rows.push_back(
                {{"rpm", map.rpm[x]}, {"load_kpa", map.loadKpa[y]}, {"return_l_min", map.value[at]}});
        }
    Json out{{"ethanol", content},
             {"least_return_l_min", leastReturnLMin(study, content)},
             {"freeze_needed", line.needed},
             {"freeze_covered", covered}};
    if (both)
        out["note"] =
            "both alcohols are in the tank: looked at as the content of one that needs as much fuel";
    if (line.needed) {
        out["freeze_load_kpa"] = line.loadKpa;
        out["freeze_rpm"] = line.rpm;
    }
    out["points"] = rows;
    print(out, a.json);
    return covered ? exitGood : exitFindings;
}

int pump(const PumpArguments &a) {
    if (!a.job.empty()) return pumpOfJob(a);
    if (a.points.empty() && a.measuredOption->count() == 0)
        throw InputError(
            "pump", verbatim("a job, --points and --pressure-kpa, or --commanded-kpa and --measured-kpa"),
            "none");
    Json out;
    bool finding = false;
    if (!a.points.empty()) {
        if (a.pressure->count() == 0)
            throw InputError("--pressure-kpa", verbatim("the pressure it works against"), "none");
        std::vector<PumpPoint> points;
        for (const auto &[kpa, flow] :
             pairsFrom("--points", a.points, like("supply.pump_points", "pressure_kpa"),
                       like("supply.pump_points", "flow_l_min")))
            points.push_back({"pump", 13.5, kpa, flow});
        const double flow = pumpFlowLMin(points, {{"pump", a.count}}, 13.5, a.pressureKpa);
        out["flow_l_min"] = flow;
        if (a.demandOption->count() > 0) {
            out["share"] = flow > 0 ? a.demand * (1 + a.margin) / flow : 99;
            const double stop = limitById("flow.pump.stop").shipped;
            out["stop"] = stop;
            out["return_l_min"] = flow - a.demand;
            out["sensor_in_return_trusted"] = flow - a.demand >= a.sensorNeeds;
            finding |= a.demand * (1 + a.margin) > stop * flow || flow - a.demand < a.sensorNeeds;
        }
    }
    if (a.measuredOption->count() > 0) {
        const double sag = railSag(a.commanded, a.measured);
        out["sag"] = sag;
        out["supply_limit"] = sag > limitById("flow.sag").shipped;
        finding |= sag > limitById("flow.sag").shipped;
    }
    print(out, a.json);
    return finding ? exitFindings : exitGood;
}

void addPump(CLI::App &app, int &exitCode) {
    CLI::App *sub = app.add_subcommand(
        "pump", "Flow, share, return and rail sag; of a job the return flow and where to freeze "
                "the reading. Exit code 1 when something is short");
    auto a = std::make_shared<PumpArguments>();
    sub->add_option("job", a->job, "Job file: its return flow at the content of its tank");
    a->contentOption = addNumber(sub, "--content", a->content, fraction(), "With a job: at another content");
    sub->add_option("--points", a->points, "kPa and L/min of one pump, such as 300:5.2,400:4.6")
        ->delimiter(',');
    a->pressure = addNumber(sub, "--pressure-kpa", a->pressureKpa, like("supply.pump_points", "pressure_kpa"),
                            "Gauge pressure it works against");
    addNumber(sub, "--count", a->count, like("supply.pumps", "count"), "So many side by side")
        ->capture_default_str();
    a->demandOption = addNumber(sub, "--demand-l-min", a->demand, between(0, 100, Dimension::flowLMin),
                                "What the engine takes");
    addNumber(sub, "--margin", a->margin, like("supply.margin"), "Filter margin")->capture_default_str();
    addNumber(sub, "--sensor-needs-l-min", a->sensorNeeds, like("supply.sensor_return_l_min"),
              "Least return past a content sensor")
        ->capture_default_str();
    addNumber(sub, "--commanded-kpa", a->commanded, between(1, 1500, Dimension::pressureDifference),
              "Commanded pressure across the injectors");
    a->measuredOption = addNumber(sub, "--measured-kpa", a->measured, like("supply.measured_kpa"),
                                  "Measured pressure across them");
    sub->add_flag("--json", a->json, "Print JSON");
    sub->callback([a, sub, &exitCode] {
        if (!a->job.empty())
            refuseOptions(*sub,
                          {"--points", "--pressure-kpa", "--count", "--demand-l-min", "--margin",
                           "--sensor-needs-l-min", "--commanded-kpa", "--measured-kpa"},
                          verbatim("a job, which says it, or it"));
        else
            refuseOptions(*sub, {"--content"}, verbatim("a job beside it"));
        if (sub->count("--points") == 0)
            refuseOptions(*sub, {"--pressure-kpa", "--count", "--demand-l-min"},
                          verbatim("--points beside it"));
        if (sub->count("--demand-l-min") == 0)
            refuseOptions(*sub, {"--margin", "--sensor-needs-l-min"}, verbatim("--demand-l-min beside it"));
        if (sub->count("--commanded-kpa") != sub->count("--measured-kpa"))
            throw InputError("pump", verbatim("--commanded-kpa and --measured-kpa together"), "one of them");
        exitCode = pump(*a);
    });
}

// frontier

int frontierOf(const std::string &path, std::size_t points, bool json) {
    const Job job = loadJob(path);
    const Frontier f = frontier(Study(job), points);
    Json lines = Json::array();
    bool hit = false;
    for (const FrontierLine &line : f.lines) {
        lines.push_back({{"part", limitingPartId(line.part)}, {"kpa", line.kpa}});
        hit |= f.reaches(line);
    }
    Json power = Json::array();
    for (const auto &[low, high] : f.powerKw)
        power.push_back({{"low_kw", low}, {"high_kw", high}});
    Json sentences = Json::array();
    for (const Frontier::Sentence &s : f.sentences)
        sentences.push_back(format(s.words, written()));
    print({{"contents", f.contents},
           {"target_kpa", f.targetKpa},
           {"peak_kpa", f.peakKpa},
           {"lines", lines},
           {"power", power},
           {"sentences", sentences}},
          json);
    return hit ? exitFindings : exitGood;
}

void addFrontier(CLI::App &app, int &exitCode) {
    CLI::App *sub = app.add_subcommand(
        "frontier", "The boost that each part allows over content, and the target. Exit code 1 "
                    "when the target crosses a line");
    auto job = std::make_shared<std::string>();
    auto points = std::make_shared<std::size_t>(51);
    auto json = std::make_shared<bool>(false);
    sub->add_option("job", *job, "Job file")->required();
    addNumber(sub, "--points", *points, wholeBetween(2, 1001), "Contents from 0 to 1")->capture_default_str();
    sub->add_flag("--json", *json, "Print JSON");
    sub->callback([=, &exitCode] { exitCode = frontierOf(*job, *points, *json); });
}

// spray

struct SprayArguments {
    double airGS = 0, lambda = 0, ethanol = 0, mainMethanol = 0, flow = 0, ratedKpa = 0, pressureKpa = 0,
           methanol = 1;
    CLI::Option *rated = nullptr;
    bool json = false;
};

int spray(const SprayArguments &a) {
    const Blend main{VolumeFraction::fraction(a.ethanol), VolumeFraction::fraction(a.mainMethanol)};
    double flow = a.flow;
    if (a.rated->count() > 0) flow = sprayFlowCcMin({a.flow, a.ratedKpa, a.pressureKpa, a.methanol, 0, 0});
    const SprayedMixture m = withSpray(a.airGS, a.lambda, BlendModel().properties(main), flow, a.methanol);
    const double tolerance = limitById("aux.loss.tolerance").shipped;
    print({{"spray_cc_min", flow},
           {"lambda", m.lambda},
           {"trim", m.trim},
           {"lambda_if_lost", m.lambdaIfLost},
           {"main_fuel_g_s", m.mainFuelGS},
           {"spray_fuel_g_s", m.sprayFuelGS},
           {"fail_safe_needed", m.lambdaIfLost > a.lambda * (1 + tolerance)}},
          a.json);
    return m.lambdaIfLost > a.lambda * (1 + tolerance) ? exitFindings : exitGood;
}

void addSpray(CLI::App &app, int &exitCode) {
    CLI::App *sub = app.add_subcommand(
        "spray", "What a methanol spray does to λ, the trim it asks for, and λ when it stops. Exit "
                 "code 1 when that asks for a fail-safe");
    auto a = std::make_shared<SprayArguments>();
    addNumber(sub, "--air-g-s", a->airGS, between(0.1, 5000, Dimension::massFlow), "Air flow")->required();
    addNumber(sub, "--lambda", a->lambda, between(0.1, 10, Dimension::mixture), "λ of the main fuel alone")
        ->required();
    addNumber(sub, "--ethanol", a->ethanol, fraction(), "Ethanol in the main fuel")->capture_default_str();
    addNumber(sub, "--main-methanol", a->mainMethanol, fraction(), "Methanol in the main fuel")
        ->capture_default_str();
    addNumber(sub, "--spray-cc-min", a->flow, between(1, 20000, Dimension::volumeFlow),
              "Spray; with --rated-pressure-kpa: of the nozzle at that pressure")
        ->required();
    a->rated = addNumber(sub, "--rated-pressure-kpa", a->ratedKpa, like("injectors.rated_pressure_kpa"),
                         "Pressure of the nozzle's flow");
    addNumber(sub, "--pressure-kpa", a->pressureKpa, like("supply.pump_points", "pressure_kpa"),
              "Pressure in use")
        ->needs(a->rated);
    addNumber(sub, "--methanol", a->methanol, fraction(), "Methanol in the spray, volume fraction")
        ->capture_default_str();
    sub->add_flag("--json", a->json, "Print JSON");
    sub->callback([a, sub, &exitCode] {
        if (sub->count("--rated-pressure-kpa") > sub->count("--pressure-kpa"))
            throw InputError("--pressure-kpa", verbatim("the pressure in use, with --rated-pressure-kpa"),
                             "none");
        exitCode = spray(*a);
    });
}

} // namespace

void addFlowCommands(CLI::App &app, int &exitCode) {
    addInjector(app, exitCode);
    addPump(app, exitCode);
    addFrontier(app, exitCode);
    addSpray(app, exitCode);
}

} // namespace wheelwright
