// SPDX-License-Identifier: GPL-3.0-or-later
#include "apps/cli/commands.h"
#include "apps/cli/log_evidence.h"
#include "apps/cli/options.h"
#include "apps/cli/page_wording.h"
#include "apps/cli/report.h"
#include "core/base/error.h"
#include "core/report/job_reports.h"
#include "core/report/working_report.h"

#include <nlohmann/json.hpp>

namespace wheelwright {
namespace {

using Json = nlohmann::ordered_json;

struct ReportArguments {
    std::string job, id, on;
    double content = 0;
    bool workings = false, html = false, json = false;
};

// Shares are held as fractions, whatever unit they are shown in.
std::string_view heldIn(Dimension d) {
    const Unit &u = internalUnit(d);
    return u.scale == 1 ? u.id : "fraction";
}

Json describe(const Explanation &x) {
    Json inputs = Json::array();
    for (const ExplanationInput &i : x.inputs)
        inputs.push_back({{"symbol", i.symbol},
                          {"title", i.title},
                          {"value", i.value.value},
                          {"unit", heldIn(i.value.dimension)},
                          {"link", i.link}});
    return {{"title", x.title},     {"result", x.result.value},      {"unit", heldIn(x.result.dimension)},
            {"formula", x.formula}, {"with_numbers", x.substituted}, {"inputs", inputs},
            {"source", x.source},   {"uncertainty", x.uncertainty},  {"change", x.change}};
}

int run(const ReportArguments &a) {
    requireDate(a.on);
    const JobReport &kind = jobReportById(a.id);
    FlowLook look{std::make_shared<const Study>(loadJob(a.job)), nullptr, a.content};
    look.verdict = verify(look.study, proofOf(*look.study, a.job));
    WorkedReport made = kind.make(look, a.on);
    Json workings = Json::array();
    for (std::size_t i = 0; a.workings && i < made.workings.size(); ++i) {
        const Explanation x = made.workings[i]();
        workings.push_back(describe(x));
        const Report own = workingReport(x);
        if (!a.json)
            made.report.blocks.insert(made.report.blocks.end(), own.blocks.begin(), own.blocks.end());
    }
    // A verdict that leaves a question open, or failing, is a finding here too.
    const bool finding = kind.id == "verdict" && !answered(*look.verdict);
    const int exitCode = finding ? exitFindings : exitGood;
    const Wording wording = pageWording();
    const std::string text = a.html ? htmlPage(made.report, wording) : plainText(made.report, wording);
    if (!a.json) {
        writeText("-", text);
        return exitCode;
    }
    Json out{{"id", kind.id}, {"title", kind.title}, {a.html ? "html" : "text", text}};
    if (a.workings) out["workings"] = std::move(workings);
    print(out, true);
    return exitCode;
}

} // namespace

void addReportCommand(CLI::App &app, int &exitCode) {
    std::string known;
    for (const JobReport &r : allJobReports())
        known += (known.empty() ? "" : ", ") + std::string(r.id);
    CLI::App *sub =
        app.add_subcommand("report", "What a page of the window says of a job, as a document. Exit code 1 "
                                     "for a verdict that does not answer every question");
    auto a = std::make_shared<ReportArguments>();
    sub->add_option("job", a->job, "Job file")->required();
    sub->add_option("report", a->id, "One of " + known)->required();
    addNumber(sub, "--content", a->content, fraction(), "Content looked at, volume fraction 0 to 1");
    sub->add_option("--today", a->on, "Date, ISO 8601: flags what was opened too long ago");
    sub->add_flag("--workings", a->workings, "With the working of every number that has one");
    sub->add_flag("--html", a->html, "As a page that stands alone");
    addLanguage(sub);
    sub->add_flag("--json", a->json, "Print JSON, the document as one text in it");
    sub->callback([a, &exitCode] { exitCode = run(*a); });
}

} // namespace wheelwright
