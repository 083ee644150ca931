// SPDX-License-Identifier: GPL-3.0-or-later
#include "apps/cli/completion.h"
#include "apps/cli/options.h"
#include "apps/cli/report.h"
#include "apps/practice/bus_run.h"
#include "core/base/error.h"
#include "core/live/practice_frames.h"
#include "core/practice/practice_run.h"
#include "core/practice/truth_by_cell.h"
#include "formats/can_map_json.h"
#include "formats/practice_csv.h"
#include "formats/practice_json.h"

#include <nlohmann/json.hpp>

#include <array>
#include <cmath>
#include <filesystem>
#include <iostream>
#include <memory>

namespace wheelwright {
namespace {

using Json = nlohmann::ordered_json;

constexpr double rowsPerS = 100;
constexpr int exitGood = 0, exitBadInput = 2, exitDestroyed = 3;

struct Arguments {
    std::string job, engine, script, log, runs, envelope, bus;
    std::vector<std::string> faults;
    double seed = 1, logHz = 100, leadS = 1, ethanol = 0;
    bool dyno = false, ethanolGiven = false, cells = false;
    bool json = false;
};

std::shared_ptr<const Study> studyOf(const Arguments &a) {
    return std::make_shared<Study>(loadJob(a.job));
}

template <class Of>
auto at(const std::string &name, Of of) {
    try {
        return of();
    } catch (const InputError &e) {
        throw InputError(name + ", " + e.where(), e.expected(), e.found());
    }
}

EngineDocument engineOf(const Arguments &a, const Study &study) {
    EngineDocument document;
    if (a.engine.empty()) {
        document.engine = drawEngine(study, static_cast<std::uint64_t>(a.seed));
    } else {
        const std::string text = readText(a.engine);
        document = at(a.engine, [&] { return engineFromJson(text, engineAsTheJobSays(study)); });
    }
    for (const std::string &fault : a.faults)
        document.faults.push_back(faultFrom(fault, "--fault"));
    return document;
}

Json describe(const PracticeResult &r) {
    Json runs = Json::array(), events = Json::array();
    for (const DynoRun &run : r.runs)
        runs.push_back({{"run", run.number},
                        {"mode", dynoModeIds()[static_cast<std::size_t>(run.mode) - 1]},
                        {"gear", run.gear},
                        {"start_s", run.startS},
                        {"start_intake_c", run.startIntakeC},
                        {"ethanol_percent", run.startContentPercent},
                        {"peak_torque_nm", run.peakTorqueNm},
                        {"peak_power_kw", run.peakPowerKw},
                        {"rows", run.rows.size()}});
    for (const PracticeEvent &event : r.events)
        events.push_back({{"time_s", event.timeS}, {"what", event.what}});
    const PracticeDamage &d = r.damage;
    Json out{{"destroyed", !r.destroyedBy.empty()}};
    if (!r.destroyedBy.empty()) out["destroyed_by"] = r.destroyedBy;
    out["seconds"] = r.seconds;
    out["rows"] = r.rows;
    out["burned_l"] = r.burnedL;
    out["tank_l"] = r.tankL;
    out["ethanol"] = r.content;
    out["tank_ethanol"] = r.tankContent;
    out["damage"] = {{"knock", d.knock},         {"lean_mixture", d.lean}, {"cylinder_pressure", d.pressure},
                     {"overspeed", d.overspeed}, {"heat", d.heat},         {"oil_dilution", d.oilDilution}};
    out["runs"] = std::move(runs);
    out["events"] = std::move(events);
    return out;
}

Json describe(const std::vector<TruthCell> &cells) {
    Json out = Json::array();
    for (const TruthCell &c : cells)
        out.push_back({{"rpm", c.rpm},
                       {"load_kpa", c.loadKpa},
                       {"rows", c.rows},
                       {"content", c.content},
                       {"lambda", c.lambda},
                       {"lambda_target", c.lambdaTarget > 0 ? Json(c.lambdaTarget) : Json(nullptr)},
                       {"spark_deg", c.sparkDeg},
                       {"knock_limit_deg", c.limitDeg},
                       {"clean_deg", c.cleanDeg},
                       {"best_deg", c.bestDeg},
                       {"least_deg", c.leastDeg},
                       {"best_safe_deg", c.bestSafeDeg()},
                       {"least_safe_deg", c.leastSafeDeg()},
                       {"knocked_share", c.knockedShare}});
    return out;
}

int run(const Arguments &a) {
    const auto study = studyOf(a);
    const EngineDocument engine = engineOf(a, *study);
    PracticeScript script;
    if (!a.script.empty()) {
        const std::string text = readText(a.script);
        script = at(a.script, [&] { return scriptFromJson(text); });
    }
    std::string log = practiceLogHeader(a.dyno);
    const auto every = static_cast<std::size_t>(std::lround(rowsPerS / a.logHz));
    std::size_t row = 0;
    if (a.ethanolGiven) script.ethanol = a.ethanol;
    TruthByCell opened(*study, engine.engine);
    const PracticeRowTaker take = [&](const PracticeSample &s, const PracticeTruth &truth) {
        if (a.cells) opened.add(s, truth);
        if (row++ % every == 0 && !a.log.empty()) appendPracticeRow(log, s, a.dyno ? &truth : nullptr);
    };
    const PracticeResult result = at(a.script.empty() ? "standard input" : a.script, [&] {
        if (a.bus.empty()) return runPractice(study->job(), engine.engine, engine.faults, script, take);
        return runOnBus({practiceBusFrom(a.bus), a.leadS, [&] { return loadJob(a.job); }}, study->job(),
                        engine, script, take);
    });
    // Nothing is written before all of it is there.
    if (!a.log.empty()) writeText(a.log, log);
    if (!a.runs.empty()) {
        std::error_code problem;
        std::filesystem::create_directories(a.runs, problem);
        if (problem) throw InputError(a.runs, verbatim("a folder that can be made"), problem.message());
        for (const DynoRun &r : result.runs) {
            const std::string number = std::to_string(r.number);
            writeText((std::filesystem::path(a.runs) /
                       ("run-" + std::string(number.size() < 2 ? "0" : "") + number + ".csv"))
                          .string(),
                      dynoRunCsv(r));
        }
    }
    if (!a.envelope.empty()) writeText(a.envelope, engineToJson(engine));
    Json said = describe(result);
    if (a.cells) said["cells"] = describe(opened.cells());
    if (!a.bus.empty())
        std::cout << Json{{"result", said}}.dump() << std::endl;
    else if (a.log != "-" && a.envelope != "-")
        print(said, a.json);
    if (!result.destroyedBy.empty())
        std::cerr << "wheelwright-practice: the engine was destroyed by " << result.destroyedBy << '\n';
    return result.destroyedBy.empty() ? exitGood : exitDestroyed;
}

void draw(const Arguments &a) {
    writeText("-", engineToJson(engineOf(a, *studyOf(a))));
}

void listFaults(bool json) {
    Json out = Json::array();
    for (const Fault &f : allFaults())
        out.push_back({{"fault", f.name},
                       {"title", f.title.text},
                       {"strength", std::string(f.name) + "_" + std::string(f.unit)},
                       {"usual", f.usual},
                       {"least", f.least},
                       {"most", f.most},
                       {"sign", f.sign.text}});
    print({{"faults", out}}, json);
}

void listFields(bool json) {
    constexpr std::array from{"itself", "times_job", "plus_job"};
    Json out = Json::array();
    for (const HiddenField &f : hiddenFields())
        out.push_back({{"key", f.key},
                       {"least", f.least},
                       {"most", f.most},
                       {"usual", HiddenEngine{}.*f.member},
                       {"draw_low", f.drawLow},
                       {"draw_high", f.drawHigh},
                       {"drawn", from[static_cast<std::size_t>(f.of)]},
                       {"help", f.help.text}});
    print({{"fields", out}}, json);
}

void listSteps(bool json) {
    Json out = Json::array();
    for (const StepKind &k : allStepKinds()) {
        Json numbers = Json::array(), texts = Json::array();
        for (const StepNumber &n : k.numbers)
            numbers.push_back({{"key", n.key},
                               {"least", n.least},
                               {"most", n.most},
                               {"usual", PracticeStep{}.*n.member},
                               {"required", n.required}});
        for (const StepText &t : k.texts)
            texts.push_back({{"key", t.key}, {"required", t.required}});
        out.push_back({{"do", k.id},
                       {"help", k.help.text},
                       {"numbers", numbers},
                       {"texts", texts},
                       {"mode", k.takesMode},
                       {"value", k.takesValue}});
    }
    print({{"steps", out}}, json);
}

} // namespace
} // namespace wheelwright

int main(int argc, char **argv) {
    using namespace wheelwright;
    CLI::App app{
        "An engine with a hidden truth, run by the calibration of a job, so that everything can be tried "
        "without one.\nExit codes: 0 good, 2 bad input, 3 the engine was destroyed.",
        "wheelwright-practice"};
    app.require_subcommand(1);
    constexpr std::size_t longest = 300;
    constexpr double mostSeed = 9007199254740991;
    int exitCode = exitGood;
    auto a = std::make_shared<Arguments>();
    const auto common = [&](CLI::App *sub) {
        sub->add_option("job", a->job, "Job file, or its JSON document")->required();
        CLI::Option *engine = sub->add_option("--engine", a->engine,
                                              "Truth of the engine, a JSON document; - for standard input");
        addNumber(sub, "--seed", a->seed, wholeBetween(0, mostSeed), "Draw the truth from a seed instead")
            ->excludes(engine)
            ->capture_default_str();
        sub->add_option("--fault", a->faults,
                        "name, name:strength, name:strength@second>kpa; as often as wanted");
    };
    CLI::App *runs =
        app.add_subcommand("run", "Puts the engine through a script. Exit code 3 when it was destroyed");
    common(runs);
    CLI::Option *script = runs->add_option("--script", a->script,
                                           "What it is put through, a JSON document; - for standard input");
    CLI::Option *bus = runs->add_option(
        "--bus", a->bus,
        "Be the engine at the other end of a virtual bus of this machine, as fast as time goes: "
        "virtual:PORT, "
        "0 for a free one, which is said on standard output. Without --script it does what standard input "
        "says, a step a line, and \"lift\", \"load\" (the job file anew) or \"end\"");
    CLI::Option *ethanol =
        addNumber(runs, "--ethanol", a->ethanol, fraction(),
                  "What tank and lines begin with, where no script says it; else the job's tank");
    ethanol->needs(bus)->excludes(script);
    addNumber(runs, "--lead-s", a->leadS, between(0, 60, Dimension::seconds),
              "Idles on the bus so long before the script, s")
        ->needs(bus)
        ->needs(script)
        ->capture_default_str();
    runs->add_option("--log", a->log, "Write the log there as CSV; - for standard output");
    addNumber(runs, "--log-hz", a->logHz, wholeBetween(1, rowsPerS),
              "Rows of the log in a second: each so many steps of 100 is written")
        ->capture_default_str();
    runs->add_flag("--dyno", a->dyno, "Write the dyno's torque and its own sensor of boost into the log");
    runs->add_option("--runs", a->runs, "Write each pull into this folder as a dyno's CSV");
    runs->add_option("--envelope", a->envelope, "Write the truth there: open it at the end");
    runs->add_flag(
        "--cells", a->cells,
        "Tell by cell of the spark table what it really did, and what it stands: the envelope opened");
    runs->add_flag("--json", a->json, "Print JSON");
    runs->callback([a, ethanol, &exitCode] {
        a->ethanolGiven = ethanol->count() > 0;
        if (a->script.empty() && a->bus.empty())
            throw InputError("--script", verbatim("what the engine is put through, or --bus"), "neither");
        if (!a->bus.empty() && (a->log == "-" || a->envelope == "-"))
            throw InputError(
                "--bus", verbatim("a file for what is written, since standard output says how it goes"), "-");
        exitCode = run(*a);
    });
    CLI::App *map =
        app.add_subcommand("map", "Writes the map of the frames that it sends to standard output");
    map->callback([] { std::cout << canMapToJson(practiceCanMap()); });
    CLI::App *drawn = app.add_subcommand("draw", "Writes the truth of an engine to standard output");
    common(drawn);
    drawn->callback([a] { draw(*a); });
    CLI::App *faults = app.add_subcommand("faults", "The faults there are, and what each leaves in the log");
    faults->add_flag("--json", a->json, "Print JSON");
    faults->callback([a] { listFaults(a->json); });
    CLI::App *fields = app.add_subcommand(
        "fields", "The numbers of a hidden truth, and from where to where a seed draws them");
    fields->add_flag("--json", a->json, "Print JSON");
    fields->callback([a] { listFields(a->json); });
    CLI::App *steps = app.add_subcommand("steps", "What a script can do");
    steps->add_flag("--json", a->json, "Print JSON");
    steps->callback([a] { listSteps(a->json); });
    addGeneralOptions(app); // after the subcommands: the help of all is no option of each
    try {
        app.parse(argc, argv);
    } catch (const CLI::Success &help) {
        return app.exit(help);
    } catch (const std::exception &e) {
        std::cerr << "wheelwright-practice: " << echoed(e.what(), longest) << '\n';
        return exitBadInput;
    }
    std::cout.flush();
    if (!std::cout) {
        std::cerr << "wheelwright-practice: standard output: expected room to write, found none\n";
        return exitBadInput;
    }
    return exitCode;
}
