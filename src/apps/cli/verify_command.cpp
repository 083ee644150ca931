// SPDX-License-Identifier: GPL-3.0-or-later
#include "apps/cli/commands.h"
#include "apps/cli/report.h"
#include "core/verify/verdict.h"

#include <nlohmann/json.hpp>

namespace wheelwright {
namespace {

nlohmann::ordered_json describe(const Verdict &v, const Verdict::Row &row) {
    const WorstPlace &w = row.outcome.worst();
    const Explanation x = row.check->explain(v.study->evaluation(), w);
    return {{"id", row.check->id},
            {"title", row.check->title},
            {"state", stateWord(row.state)},
            {"worst_margin", w.margin},
            {"worst",
             {{"content", w.content},
              {"rpm", w.rpm},
              {"load_kpa", w.loadKpa},
              {"value", w.value},
              {"limit", w.limit}}},
            {"origin", row.check->origin(v.study->evaluation().job())},
            {"remedy", format(x.change, UnitChoice{})}};
}

int run(const std::string &path, bool json) {
    const std::shared_ptr<const Verdict> v = verify(loadJob(path));
    nlohmann::ordered_json ranges = nlohmann::ordered_json::array();
    for (const auto &[from, to] : v->safeRanges)
        ranges.push_back({from, to});
    nlohmann::ordered_json checks = nlohmann::ordered_json::array();
    bool findings = false;
    for (const Verdict::Row &row : v->rows) {
        checks.push_back(describe(*v, row));
        findings = findings || row.state == CheckState::failing;
    }
    nlohmann::ordered_json notJudged = nlohmann::ordered_json::array();
    for (const Check *check : v->notJudged)
        notJudged.push_back({{"id", check->id}, {"why", check->unknown}});
    print({{"verdict", format(inWords(*v))},
           {"safe_ranges", ranges},
           {"checks", checks},
           {"not_judged", notJudged}},
          json);
    return findings ? exitFindings : exitGood;
}

} // namespace

void addVerifyCommand(CLI::App &app, int &exitCode) {
    CLI::App *sub = app.add_subcommand(
        "verify", "Is the calibration safe and on target at every content? Exit code 1 when a check fails");
    auto path = std::make_shared<std::string>();
    auto json = std::make_shared<bool>(false);
    sub->add_option("job", *path, "Job file")->required();
    sub->add_flag("--json", *json, "Print JSON");
    sub->callback([path, json, &exitCode] { exitCode = run(*path, *json); });
}

} // namespace wheelwright
