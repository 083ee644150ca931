// SPDX-License-Identifier: GPL-3.0-or-later
#include "apps/cli/commands.h"
#include "apps/cli/log_evidence.h"
#include "apps/cli/log_options.h"
#include "apps/cli/options.h"
#include "apps/cli/report.h"
#include "apps/cli/table_target.h"
#include "core/proposal/learned_ceilings.h"

#include <nlohmann/json.hpp>

namespace wheelwright {
namespace {

using Json = nlohmann::ordered_json;

struct CeilingArguments : ThroughLogs {
    double content = 0, intakeC = 0;
    bool contentGiven = false, airGiven = false, apply = false;
};

Json numberOf(const FoundNumber &n) {
    return {{"value", n.value}, {"standard_error", n.standardError}};
}

// Without a content that of the logs, by samples; without logs the base fuel's.
double usualContent(const KnockTrials &trials) {
    double sum = 0, samples = 0;
    for (const KnockTrials::Log &l : trials.logs) {
        sum += l.content * l.samples;
        samples += l.samples;
    }
    return samples > 0 ? sum / samples : trials.baseContent;
}

int learn(const CeilingArguments &a) {
    JobEdit edit(a.job, a.apply);
    const Study study(edit.before());
    LearnedCeilings learned = learnCeilings(study, reviewsOf(study.job(), a.job, a.logs, LogsUnnamed::all));
    const KnockTrials &trials = learned.trials();
    const double content = a.contentGiven ? a.content : usualContent(trials);
    Json cells = Json::array(), doubts = Json::array(), unused = Json::array(), used = Json::array();
    for (const LearnedCeiling &c : learned.at(content, a.airGiven ? std::optional(a.intakeC) : std::nullopt))
        cells.push_back({{"rpm", c.rpm},
                         {"load_kpa", c.loadKpa},
                         {"ceiling_deg", c.known ? Json(c.deg) : Json(nullptr)},
                         {"sigma_deg", c.sigmaDeg},
                         {"knocked", c.knocked},
                         {"clean", c.clean}});
    for (const FuelDoubt &d : learned.doubts())
        doubts.push_back({{"log", d.log},
                          {"content", d.content},
                          {"stands_more_deg", d.off.value},
                          {"standard_error", d.off.standardError},
                          {"said", d.said}});
    for (const KnockTrials::Log &l : trials.logs)
        if (l.used)
            used.push_back(
                {{"log", l.info.id}, {"content", l.content}, {"samples", l.samples}, {"knocks", l.knocks}});
        else
            unused.push_back({{"log", l.info.id}, {"why", l.why}});
    Json out{{"content", content}, {"cells", cells}};
    if (learned.any()) {
        out["scale"] = numberOf(learned.fit().scale());
        out["octane_slope"] = numberOf(learned.fit().octane());
        out["temperature_slope"] = numberOf(learned.fit().temperature());
        out["scatter"] = learned.fit().scatter();
    }
    out["fuel_doubt"] = doubts;
    out["logs"] = used;
    out["unused"] = unused;
    if (a.apply) {
        const std::vector<double> contents = a.contentGiven ? std::vector{a.content} : contentsOf(learned);
        Job after = withLearnedCeilings(edit.before(), learned, contents);
        out["changed"] = !(after.extras == edit.before().extras);
        if (!(after.extras == edit.before().extras))
            edit.commit(std::move(after), "Ceilings from logs", CellOrigin::log);
    }
    print(out, a.json);
    return learned.doubts().empty() ? exitGood : exitFindings;
}

} // namespace

void addCeilingCommand(CLI::App *evidence, int &exitCode) {
    const auto a = std::make_shared<CeilingArguments>();
    CLI::App *sub =
        evidence->add_subcommand("ceilings", "What spark the engine stands, by all knock seen and not seen");
    addLogOptions(sub, *a, "all logs, whatever they ran with");
    addNumber(sub, "--content", a->content, fraction(),
              "Content to say it for; without it that of the logs. With --apply: the only one");
    addNumber(sub, "--intake-c", a->intakeC, between(-40, 150),
              "Intake air to say it for; without it the job's usual, which tables are written for");
    sub->add_flag("--apply", a->apply, "Write it to the job as tables of ceilings");
    sub->callback([a, sub, &exitCode] {
        a->airGiven = sub->count("--intake-c") > 0;
        a->contentGiven = sub->count("--content") > 0;
        exitCode = learn(*a);
    });
}

} // namespace wheelwright
