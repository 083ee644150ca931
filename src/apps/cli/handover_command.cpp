// SPDX-License-Identifier: GPL-3.0-or-later
#include "apps/cli/commands.h"
#include "apps/cli/log_evidence.h"
#include "apps/cli/options.h"
#include "apps/cli/page_wording.h"
#include "apps/cli/report.h"
#include "core/base/error.h"
#include "core/job/revision.h"
#include "core/report/handover_reports.h"
#include "core/report/owners_page.h"
#include "core/report/pour_tables.h"
#include "pages/fonts.h"
#include "pages/photos.h"
#include "pages/report_pages.h"
#include "pages/seal.h"

#include <nlohmann/json.hpp>

#include <QGuiApplication>

#include <array>
#include <filesystem>
#include <memory>

namespace wheelwright {
namespace {

using Json = nlohmann::ordered_json;

struct HandoverArguments {
    std::string job, file, on, paper = "a4", page = "all";
    double levelL = -1;
    bool json = false;
};

FlowLook lookAt(const HandoverArguments &a) {
    requireDate(a.on);
    FlowLook look{std::make_shared<const Study>(loadJob(a.job)), nullptr, 0};
    look.verdict = verify(look.study, proofOf(*look.study, a.job));
    return look;
}

// Fonts without a display.
std::string pdfOf(const Report &report, const Wording &wording, Paper paper, const std::string &mark) {
    qputenv("QT_QPA_PLATFORM", "offscreen");
    qInstallMessageHandler(
        [](QtMsgType, const QMessageLogContext &, const QString &) {}); // scripts read ours
    int argc = 1;
    std::array name{'w', '\0'};
    std::array<char *, 2> argv{name.data(), nullptr};
    const QGuiApplication fonts(argc, argv.data());
    loadPageFonts();
    return reportPdf(report, wording, paper, mark);
}

bool endsIn(const std::string &file, std::string_view ending) {
    return file.size() > ending.size() && file.ends_with(ending);
}

Report pagesOf(const FlowLook &look, const HandoverArguments &a) {
    if (a.page == "owner") return ownersPage(look, a.on).report;
    if (a.page == "card") return pocketCard(*look.verdict, a.on).report;
    const Coverage coverage = coverageOf(*look.study, a.job);
    const Job &job = look.study->job();
    PhotoReader reader;
    const auto photos = chosenPhotos(job, std::filesystem::path(a.job).parent_path(), reader);
    return handover(look, {&coverage, firstGain(job), photos}, a.on).report;
}

int write(const HandoverArguments &a) {
    const FlowLook look = lookAt(a);
    const Job &job = look.study->job();
    const Report made = pagesOf(look, a);
    const std::string calibration = calibrationPrint(stateOf(job)), mark = unsealedMark(calibration);
    const Wording wording = pageWording();
    const bool pdf = endsIn(a.file, ".pdf"), html = endsIn(a.file, ".html");
    if (!pdf && !html && a.file != "-")
        throw InputError("file", verbatim("a name that ends in .pdf or .html, or -"),
                         "'" + echoed(a.file, 60) + "'");
    const Paper paper = a.paper == "letter" ? Paper::letter : Paper::a4;
    if (pdf)
        writeText(a.file, sealed(pdfOf(made, wording, paper, mark)));
    else if (html)
        writeText(a.file, sealed(htmlPage(made, wording, mark)));
    else
        writeText("-", plainText(made, wording));
    const bool good = answered(*look.verdict);
    if (pdf || html) print({{"file", a.file}, {"calibration", calibration}, {"answered", good}}, a.json);
    return good ? exitGood : exitFindings;
}

int check(const HandoverArguments &a) {
    const std::optional<Seal> seal = sealOf(readText(a.file));
    if (!seal)
        throw InputError("file", verbatim("a hand-over that this program wrote"),
                         "no mark of one in '" + echoed(a.file, 60) + "'");
    const std::string now = calibrationPrint(stateOf(loadJob(a.job)));
    const bool same = seal->calibration == now;
    print({{"intact", seal->intact},
           {"same_calibration", same},
           {"calibration_of_document", seal->calibration},
           {"calibration_of_job", now}},
          a.json);
    return seal->intact && same ? exitGood : exitFindings;
}

Json tableOf(const PourTable &t) {
    return {{"fuel", t.fuel},
            {"level_l", t.levelL},
            {"litres", t.litres},
            {"content_before", t.contents},
            {"content_after", t.after}};
}

int show(const HandoverArguments &a) {
    const FlowLook look = lookAt(a);
    const Verdict &v = *look.verdict;
    const Job &job = look.study->job();
    Json holds = Json::array(), fuels = Json::array(), pours = Json::array();
    for (const auto &[from, to] : v.holdsRanges)
        holds.push_back(Json::array({from, to})); // as verify has them
    for (const OwnersFuel &f : ownersFuels(v, a.on))
        fuels.push_back({{"fuel", f.name},
                         {"content", f.content.value},
                         {"content_sigma", f.content.sigma},
                         {"state", stateName(f.state)}});
    const double level = a.levelL >= 0 ? a.levelL : job.tank.capacityL / 4;
    for (const std::string &fuel : pumpFuels(job, a.on))
        pours.push_back(tableOf(pourTable(job, fuel, level, a.on)));
    const bool good = answered(v);
    print({{"job", job.name},
           {"calibration", calibrationPrint(stateOf(job))},
           {"answered", good},
           {"holds_ranges", holds},
           {"driven", drivenContents(v)},
           {"fuels", fuels},
           {"pour", pours}},
          a.json);
    return good ? exitGood : exitFindings;
}

} // namespace

void addHandoverCommand(CLI::App &app, int &exitCode) {
    CLI::App *handing =
        app.add_subcommand("handover", "What is handed over: pages for the owner and for the next tuner");
    handing->require_subcommand(1);
    const auto a = std::make_shared<HandoverArguments>();
    const auto common = [&a](CLI::App *sub) {
        sub->add_option("--today", a->on,
                        "Date that stands on it, ISO 8601: flags what was opened too long ago");
        sub->add_flag("--json", a->json, "Print JSON");
    };
    CLI::App *writing = handing->add_subcommand(
        "write", "All pages as a file that can be checked later. Exit code 1 where a question is open");
    writing->add_option("job", a->job, "Job file")->required();
    writing
        ->add_option("file", a->file, "Name that ends in .pdf or .html; - for plain text on standard output")
        ->required();
    writing->add_option("--page", a->page, "All of them, the owner's alone, or the card for the pump")
        ->check(CLI::IsMember({"all", "owner", "card"}));
    writing->add_option("--paper", a->paper, "Of the PDF")->check(CLI::IsMember({"a4", "letter"}));
    common(writing);
    addLanguage(writing);
    writing->callback([a, &exitCode] { exitCode = write(*a); });
    CLI::App *checking = handing->add_subcommand(
        "check",
        "Whether a hand-over is as it was written, and of the job's calibration. Exit code 1 where not");
    checking->add_option("file", a->file, "PDF or HTML that was written by handover write")->required();
    checking->add_option("job", a->job, "Job file")->required();
    checking->add_flag("--json", a->json, "Print JSON");
    checking->callback([a, &exitCode] { exitCode = check(*a); });
    CLI::App *showing = handing->add_subcommand(
        "show", "Its numbers: what holds, the fuels, the pour tables. Exit code 1 where a question is open");
    showing->add_option("job", a->job, "Job file")->required();
    addNumber(showing, "--level-l", a->levelL, between(0, 500, Dimension::displacement),
              "In the tank before the fill, litres; a quarter of it without");
    common(showing);
    showing->callback([a, &exitCode] { exitCode = show(*a); });
}

} // namespace wheelwright
