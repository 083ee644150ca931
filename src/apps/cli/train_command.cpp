// SPDX-License-Identifier: GPL-3.0-or-later
#include "apps/cli/commands.h"
#include "apps/cli/options.h"
#include "apps/cli/report.h"
#include "core/base/error.h"
#include "core/trainer/scenario.h"
#include "formats/practice_json.h"

#include <nlohmann/json.hpp>

#include <memory>
#include <string>

namespace wheelwright {
namespace {

using Json = nlohmann::ordered_json;

struct TrainArguments {
    std::string job, scenario, script, answer;
    double hints = 0;
    bool json = false;
};

void listScenarios(const TrainArguments &a) {
    Json scenarios = Json::array(), causes = Json::array(), inspections = Json::array();
    for (const Scenario *s : allScenarios())
        scenarios.push_back(
            {{"scenario", s->id}, {"title", s->title}, {"goal", s->goal}, {"par_minutes", s->parMinutes}});
    for (const TrainingCause &c : trainingCauses())
        causes.push_back({{"answer", c.id}, {"title", c.title}});
    for (const Inspection &i : allInspections())
        inspections.push_back({{"look", i.id}, {"title", i.title}, {"minutes", i.minutes}});
    print({{"scenarios", scenarios}, {"answers", causes}, {"looks", inspections}}, a.json);
}

int runScenario(const TrainArguments &a) {
    const Scenario &scenario = scenarioById(a.scenario, "scenario");
    if (!a.answer.empty()) causeById(a.answer, "--answer");
    const Job sound = loadJob(a.job);
    const std::string text = readText(a.script);
    const auto at = [&](auto work) {
        try {
            return work();
        } catch (const InputError &e) {
            throw InputError(a.script + ", " + e.where(), e.expected(), e.found());
        }
    };
    const PracticeScript script = at([&] { return scriptFromJson(text); });
    Training training = at([&] { return drive(scenario, sound, script); });
    training.answer = a.answer;
    training.hints = static_cast<int>(a.hints);
    const TrainingScore result = score(scenario, training);
    Json looked = Json::array(), items = Json::array(), said = Json::array(), hints = Json::array();
    const HiddenEngine engine = engineOf(scenario, sound);
    for (const PracticeEvent &e : training.events)
        for (const Inspection &i : allInspections())
            if (e.what == "look " + std::string(i.id)) {
                const Inspected found = inspectIn(scenario, i, engine, e.tankContent);
                looked.push_back(
                    {{"time_s", e.timeS}, {"look", i.id}, {"sound", found.sound}, {"found", found.words}});
            }
    for (const TrainingItem &i : result.items)
        items.push_back({{"item", i.id}, {"points", i.points}, {"most", i.most}, {"found", i.words}});
    for (int i = 0; i < training.hints; ++i)
        hints.push_back(scenario.hints[static_cast<std::size_t>(i)]);
    Json out{{"scenario", scenario.id}, {"points", result.points},
             {"passed", result.passed}, {"verdict", result.verdict},
             {"hints", hints},          {"looked", looked},
             {"items", items}};
    // The envelope stays shut while nobody has said what it is.
    if (!a.answer.empty()) {
        for (const Phrase &p : debrief(scenario, training))
            said.push_back(p);
        out["debrief"] = said;
    }
    print(out, a.json);
    return result.passed ? exitGood : exitFindings;
}

} // namespace

void addTrainCommand(CLI::App &app, int &exitCode) {
    CLI::App *train =
        app.add_subcommand("train", "Scenarios on the practice engine, with a fault or a trap each");
    train->require_subcommand(1);
    {
        CLI::App *sub =
            train->add_subcommand("list", "The scenarios, what can be looked at, and what it may be");
        auto a = std::make_shared<TrainArguments>();
        sub->add_flag("--json", a->json, "Print JSON");
        sub->callback([a] { listScenarios(*a); });
    }
    CLI::App *sub = train->add_subcommand(
        "run",
        "Puts the engine of a scenario through a script and scores it. Exit code 1 where it is not passed");
    auto a = std::make_shared<TrainArguments>();
    sub->add_option("job", a->job, "A sound job with a controller and a shelf, such as the demo's first")
        ->required();
    sub->add_option("scenario", a->scenario, "Of train list")->required();
    sub->add_option("--script", a->script,
                    "What the engine is put through, a JSON document; - for standard input")
        ->required();
    sub->add_option("--answer", a->answer, "What it is: of train list. It opens the envelope");
    addNumber(sub, "--hints", a->hints, wholeBetween(0, 3), "Shows so many hints, for 5 points each")
        ->capture_default_str();
    sub->add_flag("--json", a->json, "Print JSON");
    sub->callback([a, &exitCode] { exitCode = runScenario(*a); });
}

} // namespace wheelwright
