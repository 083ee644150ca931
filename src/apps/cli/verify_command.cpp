// SPDX-License-Identifier: GPL-3.0-or-later
#include "apps/cli/commands.h"
#include "apps/cli/log_evidence.h"
#include "apps/cli/report.h"
#include "core/verify/verdict.h"

#include <nlohmann/json.hpp>

namespace wheelwright {
namespace {

nlohmann::ordered_json describe(const Verdict &v, const Verdict::Row &row) {
    const WorstPlace &w = row.outcome.worst();
    const Evaluation &evaluation = v.study->evaluation();
    nlohmann::ordered_json out{{"id", row.check->id},
                               {"title", row.check->title},
                               {"question", definitionOf(row.check->answers).name},
                               {"state", stateName(row.state)},
                               {"worst_margin", nullptr},
                               {"worst", nullptr},
                               {"origin", row.check->origin(evaluation.job())},
                               {"remedy", ""}};
    if (!w.asked) return out; // there is no place: it asks nothing of this engine
    out["worst_margin"] = w.margin;
    out["worst"] = {{"content", w.content},
                    {"rpm", w.rpm},
                    {"load_kpa", w.loadKpa},
                    {"value", w.value},
                    {"limit", w.limit}};
    out["remedy"] = format(row.check->explain(evaluation, w).change, written());
    return out;
}

nlohmann::ordered_json describe(const Verdict &v, const Verdict::Answer &answer) {
    nlohmann::ordered_json missing = nlohmann::ordered_json::array(),
                           byContent = nlohmann::ordered_json::array();
    for (const Need *n : answer.missing)
        missing.push_back({{"id", n->id}, {"why", n->missing}, {"find", n->find}, {"place", n->place}});
    for (std::size_t i = 0; i < v.contents.size(); ++i)
        byContent.push_back({{"content", v.contents[i]}, {"state", stateName(answer.byContent[i])}});
    return {{"id", answer.question->name},
            {"title", answer.question->title},
            {"state", stateName(answer.state)},
            {"missing", missing},
            {"by_content", byContent}};
}

int run(const std::string &path, bool json) {
    const auto study = std::make_shared<const Study>(loadJob(path));
    const std::shared_ptr<const Verdict> v = verify(study, proofOf(*study, path));
    nlohmann::ordered_json ranges = nlohmann::ordered_json::array();
    for (const auto &[from, to] : v->holdsRanges)
        ranges.push_back({from, to});
    nlohmann::ordered_json checks = nlohmann::ordered_json::array();
    for (const Verdict::Row &row : v->rows)
        checks.push_back(describe(*v, row));
    nlohmann::ordered_json questions = nlohmann::ordered_json::array(),
                           beside = nlohmann::ordered_json::array();
    for (const Verdict::Answer &answer : v->answers)
        (answer.question->beside ? beside : questions).push_back(describe(*v, answer));
    nlohmann::ordered_json next = nlohmann::ordered_json::array();
    for (const Need *n : v->next)
        next.push_back({{"id", n->id}, {"find", n->find}, {"place", n->place}});
    nlohmann::ordered_json notJudged = nlohmann::ordered_json::array();
    for (const Check *check : v->notJudged)
        notJudged.push_back({{"id", check->id}, {"question", definitionOf(check->answers).name}});
    print({{"verdict", format(inWords(*v), written())},
           {"holds_ranges", ranges},
           {"questions", questions},
           {"beside", beside},
           {"next", next},
           {"checks", checks},
           {"not_judged", notJudged}},
          json);
    return answered(*v) ? exitGood : exitFindings;
}

} // namespace

void addVerifyCommand(CLI::App &app, int &exitCode) {
    CLI::App *sub = app.add_subcommand(
        "verify",
        "What holds at which content, by question. Exit code 1 when a question fails or is not judged "
        "anywhere between the calibrated contents");
    auto path = std::make_shared<std::string>();
    auto json = std::make_shared<bool>(false);
    sub->add_option("job", *path, "Job file")->required();
    sub->add_flag("--json", *json, "Print JSON");
    sub->callback([path, json, &exitCode] { exitCode = run(*path, *json); });
}

} // namespace wheelwright
