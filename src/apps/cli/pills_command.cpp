// SPDX-License-Identifier: GPL-3.0-or-later
#include "apps/cli/commands.h"
#include "apps/cli/options.h"
#include "apps/cli/report.h"
#include "core/base/error.h"
#include "core/base/limits.h"
#include "core/job/job_schema.h"
#include "core/study/mechanical_lambda.h"

#include <nlohmann/json.hpp>

#include <algorithm>

namespace wheelwright {
namespace {

using Json = nlohmann::ordered_json;

struct PillArguments {
    std::string job, nozzlePlace = "above_blower";
    MechanicalInjection injection;
    MechanicalEngine engine;
    double rpm = 0, stepMm = 0.127, densityRatio = 1;
    int count = 4;
    CLI::Option *pump = nullptr, *speed = nullptr, *displacement = nullptr, *ratio = nullptr;
    bool json = false;
};

Json describe(const FuelNetwork &n) {
    return {{"pump_l_min", n.pumpLMin},
            {"pressure_kpa", n.pressureKpa},
            {"back_kpa", n.backKpa},
            {"share", n.share},
            {"engine_l_min", n.engineLMin},
            {"main_l_min", n.mainLMin},
            {"high_speed_l_min", n.highSpeedLMin},
            {"port_l_min", n.portLMin}};
}

Json describe(const MixturePoint &p) {
    return {{"rpm", p.rpm},
            {"pressure_kpa", p.network.pressureKpa},
            {"share", p.network.share},
            {"fuel_g_s", p.fuelGS},
            {"air_g_s", p.airGS},
            {"lambda", p.lambda},
            {"afr", p.afr}};
}

Json describe(const std::vector<PillStep> &table) {
    Json steps = Json::array();
    for (const PillStep &s : table)
        steps.push_back({{"main_mm", s.diameterMm},
                         {"bypass_area_mm2", s.areaMm2},
                         {"share", s.point.network.share},
                         {"pressure_kpa", s.point.network.pressureKpa},
                         {"lambda", s.point.lambda},
                         {"leaner_by", s.leanerBy},
                         {"exhaust_trend", s.exhaustTrend}});
    return steps;
}

int pillsOf(const PillArguments &a) {
    const Job job = loadJob(a.job);
    if (job.control != FuelControl::mechanical)
        throw InputError(a.job, verbatim("a job whose fuel is metered mechanically (engine.fuel_control)"),
                         "a controller");
    bool finding = false;
    Json curve = Json::array(), passes = Json::array();
    for (const MixturePoint &p : mixtureOverSpeed(job)) {
        curve.push_back(describe(p));
        finding |= p.lambda > limitOf(job, "mechanical.lambda.lean") ||
                   p.lambda < limitOf(job, "mechanical.lambda.rich");
    }
    for (const PassFinding &f : readPasses(job))
        passes.push_back({{"pass", f.pass + 1}, {"words", format(f.words, written())}});
    Json chart = Json::array();
    for (const PillCombination &c : pillChartOfJob(job))
        chart.push_back({{"area_mm2", c.areaMm2},
                         {"main_mm", c.mainMm},
                         {"high_speed_mm", c.highSpeedMm},
                         {"lambda", c.point.lambda},
                         {"leaner_by", c.leanerBy},
                         {"pressure_kpa", c.point.network.pressureKpa}});
    const WeatherAdvice weather = adviseForWeather(job);
    Json out{{"network", describe(mixtureOfJob(job, job.mechanical.judgedRpm).network)},
             {"pills", describe(pillsOfJob(job, a.count))},
             {"chart", chart},
             {"over_speed", curve},
             {"weather",
              {{"density_then_kg_m3", weather.densityThen},
               {"density_now_kg_m3", weather.densityNow},
               {"main_mm", weather.pillMm}}},
             {"passes", passes}};
    if (a.ratio->count() > 0)
        out["main_mm_for_density"] = pillForDensity(
            job.mechanical.injection, job.mechanical.judgedRpm, a.densityRatio,
            backPressureKpa(job.mechanical.injection, mechanicalEngineAt(job, job.mechanical.judgedRpm)));
    print(out, a.json);
    return finding ? exitFindings : exitGood;
}

int pills(const PillArguments &a) {
    if (!a.job.empty()) return pillsOf(a);
    if (a.pump->count() == 0)
        throw InputError("pills", verbatim("a job, or --pump-l-min and the sizes"), "neither");
    MechanicalInjection m = a.injection;
    if (a.speed->count() == 0) m.pumpRpm = a.engine.displacementL > 0 && a.rpm > 0 ? a.rpm : 1000;
    const double rpm = a.rpm > 0 ? a.rpm : m.pumpRpm;
    const auto &places = fieldByPath("mechanical.nozzle_place")->choices;
    m.nozzlePlace = static_cast<NozzlePlace>(std::ranges::find(places, a.nozzlePlace) - places.begin());
    const double back = backPressureKpa(m, a.engine);
    Json out{{"network", describe(solveNetwork(m, rpm, back))}};
    if (a.displacement->count() > 0) {
        out["mixture"] = describe(mixtureAt(m, a.engine, rpm));
        out["pills"] = describe(pillTable(m, a.engine, rpm, a.stepMm, a.count));
    }
    if (a.ratio->count() > 0) out["main_mm_for_density"] = pillForDensity(m, rpm, a.densityRatio, back);
    print(out, a.json);
    return exitGood;
}

} // namespace

void addPillsCommand(CLI::App &app, int &exitCode) {
    CLI::App *sub = app.add_subcommand(
        "pills", "Mechanical injection: pressures and shares, λ over speed, what the next pill "
                 "does. Exit code 1 when a job's mixture leaves its band");
    auto a = std::make_shared<PillArguments>();
    MechanicalInjection &m = a->injection;
    sub->add_option("job", a->job, "Job file with mechanical injection; otherwise the arguments say it");
    a->pump = addNumber(sub, "--pump-l-min", m.pumpLMin, like("mechanical.pump_l_min"),
                        "Flow of the pump, new, at --pump-rpm");
    a->speed = addNumber(sub, "--pump-rpm", m.pumpRpm, like("mechanical.pump_rpm"),
                         "Engine speed of that flow; otherwise that of --rpm");
    addNumber(sub, "--rpm", a->rpm, between(1, 25000, Dimension::engineSpeed),
              "Engine speed looked at; otherwise --pump-rpm");
    addNumber(sub, "--wear", m.wear, like("mechanical.pump_wear"),
              "Share of its flow that the pump has lost");
    addNumber(sub, "--nozzles", m.nozzles, like("mechanical.nozzles"), "So many")->capture_default_str();
    addNumber(sub, "--nozzle-mm", m.nozzleMm, like("mechanical.nozzle_mm"), "Bore of each")
        ->capture_default_str();
    sub->add_option("--nozzle-place", a->nozzlePlace,
                    "above_blower, below_blower or ports: below a blower and in the ports they spray against "
                    "--manifold-kpa")
        ->check(CLI::IsMember(fieldByPath("mechanical.nozzle_place")->choices))
        ->capture_default_str();
    addNumber(sub, "--main-mm", m.main.diameterMm, like("mechanical.main_mm"), "Main pill");
    addNumber(sub, "--main-opens-kpa", m.main.opensKpa, like("mechanical.main_opens_kpa"),
              "Its poppet; 0: always open");
    addNumber(sub, "--high-speed-mm", m.highSpeed.diameterMm, like("mechanical.high_speed_mm"),
              "High-speed pill");
    addNumber(sub, "--high-speed-opens-kpa", m.highSpeed.opensKpa, like("mechanical.high_speed_opens_kpa"),
              "Its spring");
    addNumber(sub, "--port-mm", m.port.diameterMm, like("mechanical.port_mm"), "Port or idle pill");
    addNumber(sub, "--port-opens-kpa", m.port.opensKpa, like("mechanical.port_opens_kpa"), "Its spring");
    addNumber(sub, "--discharge-nozzles", m.dischargeNozzles, like("mechanical.discharge_nozzles"),
              "Discharge coefficient")
        ->capture_default_str();
    addNumber(sub, "--discharge-jets", m.dischargeJets, like("mechanical.discharge_jets"),
              "Discharge coefficient")
        ->capture_default_str();
    addNumber(sub, "--density-kg-m3", m.densityKgM3, like("mechanical.density_kg_m3"), "Of the fuel")
        ->capture_default_str();
    a->displacement = addNumber(sub, "--displacement-l", a->engine.displacementL,
                                like("engine.displacement_l"), "Engine: prints the mixture and the pills");
    addNumber(sub, "--ve", a->engine.ve, like("mechanical.ve"), "Volumetric efficiency, share")
        ->capture_default_str();
    addNumber(sub, "--manifold-kpa", a->engine.manifoldKpa, between(10, 1000, Dimension::pressure),
              "Absolute")
        ->capture_default_str();
    addNumber(sub, "--intake-c", a->engine.intakeC, like("mechanical.intake_c"), "Charge temperature")
        ->capture_default_str();
    addNumber(sub, "--stoich-afr", a->engine.stoichiometricAfr, between(4, 20, Dimension::airFuelRatio),
              "Of the fuel")
        ->capture_default_str();
    addNumber(sub, "--step-mm", a->stepMm, like("mechanical.pill_step_mm"), "Between pills")
        ->capture_default_str();
    addNumber(sub, "--count", a->count, wholeBetween(1, 40), "Pills to each side")->capture_default_str();
    a->ratio = addNumber(sub, "--density-ratio", a->densityRatio, between(0.3, 3),
                         "Air density against now: prints the pill for equal λ");
    sub->add_flag("--json", a->json, "Print JSON");
    sub->callback([a, sub, &exitCode] {
        if (!a->job.empty())
            refuseOptions(*sub,
                          {"--pump-l-min",
                           "--pump-rpm",
                           "--rpm",
                           "--wear",
                           "--nozzles",
                           "--nozzle-mm",
                           "--nozzle-place",
                           "--main-mm",
                           "--main-opens-kpa",
                           "--high-speed-mm",
                           "--high-speed-opens-kpa",
                           "--port-mm",
                           "--port-opens-kpa",
                           "--discharge-nozzles",
                           "--discharge-jets",
                           "--density-kg-m3",
                           "--displacement-l",
                           "--ve",
                           "--manifold-kpa",
                           "--intake-c",
                           "--stoich-afr",
                           "--step-mm"},
                          verbatim("a job, which says it, or it"));
        else if (sub->count("--displacement-l") == 0)
            refuseOptions(*sub, {"--ve", "--intake-c", "--stoich-afr", "--step-mm", "--count"},
                          verbatim("--displacement-l beside it"));
        exitCode = pills(*a);
    });
}

void addAirCommand(CLI::App &app) {
    CLI::App *sub = app.add_subcommand("air", "Density of the air of a race day");
    struct Arguments {
        double pressureKpa = 0, heightM = 0, temperatureC = 0, humidity = 0;
        bool json = false;
    };
    auto a = std::make_shared<Arguments>();
    CLI::Option *pressure = addNumber(sub, "--pressure-kpa", a->pressureKpa,
                                      between(30, 120, Dimension::pressure), "Station pressure, absolute");
    CLI::Option *height = addNumber(sub, "--height-m", a->heightM, between(-500, 9000),
                                    "Height: the standard atmosphere's pressure");
    pressure->excludes(height);
    addNumber(sub, "--temperature-c", a->temperatureC, between(-60, 70, Dimension::temperature),
              "Temperature")
        ->required();
    addNumber(sub, "--humidity", a->humidity, between(0, 1, Dimension::ratio), "Relative, 0 to 1")
        ->capture_default_str();
    sub->add_flag("--json", a->json, "Print JSON");
    sub->callback([a, pressure, height] {
        if (pressure->count() + height->count() == 0)
            throw InputError("air", verbatim("--pressure-kpa or --height-m"), "neither");
        const double kpa = pressure->count() > 0 ? a->pressureKpa : standardPressureKpa(a->heightM);
        const double density = airDensityKgM3(kpa, a->temperatureC, a->humidity);
        print({{"pressure_kpa", kpa},
               {"density_kg_m3", density},
               {"dry_density_kg_m3", dryAirDensityKgM3(kpa, a->temperatureC, a->humidity)},
               {"density_altitude_m", densityAltitudeM(density)}},
              a->json);
    });
}

} // namespace wheelwright
