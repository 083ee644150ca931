// SPDX-License-Identifier: GPL-3.0-or-later
#include "apps/cli/commands.h"
#include "apps/cli/log_evidence.h"
#include "apps/cli/page_wording.h"
#include "apps/cli/report.h"
#include "apps/cli/table_target.h"
#include "core/report/sheet_reports.h"

#include <nlohmann/json.hpp>

#include <memory>

namespace wheelwright {
namespace {

using Json = nlohmann::ordered_json;

struct PartArguments {
    std::string job, what, note;
    bool wrong = false, json = false;
};

Json describe(const PartState &p) {
    Json figures = Json::array(), inspections = Json::array();
    for (const FigureState &f : p.figures)
        figures.push_back({{"path", f.path}, {"said", f.said}, {"known", knowledgeKey(f.known)}});
    for (const InspectionState &i : p.inspections) {
        Json one{{"item", i.item->id}, {"title", i.item->title}, {"good", i.item->help}};
        one["last_at"] = i.last ? Json(i.last->at) : Json(nullptr);
        one["wrong"] = i.last ? Json(i.last->wrong) : Json(nullptr);
        one["note"] = i.last ? i.last->note : std::string();
        inspections.push_back(std::move(one));
    }
    return {{"id", p.part->id},
            {"title", p.part->title},
            {"fitted", p.fitted},
            {"can_fit", p.canFit},
            {"can_remove", p.canRemove},
            {"known", knowledgeKey(p.known)},
            {"inspected", lookedAtKey(p.inspected)},
            {"verdict", p.verdict ? Json(stateName(*p.verdict)) : Json(nullptr)},
            {"figures", std::move(figures)},
            {"fields", p.part->fields},
            {"lists", p.part->lists},
            {"inspections", std::move(inspections)}};
}

void show(const std::vector<PartState> &sheet, bool json) {
    if (!json) return writeText("-", plainText(sheetReport(sheet), pageWording()));
    Json parts = Json::array();
    for (const PartState &p : sheet)
        parts.push_back(describe(p));
    print(Json{{"complete", sheetComplete(sheet)}, {"parts", std::move(parts)}}, true);
}

int showJob(const PartArguments &a) {
    const Job job = loadJob(a.job);
    const auto study = std::make_shared<const Study>(job);
    const std::vector<PartState> sheet = intakeSheet(job, verify(study, proofOf(*study, a.job)).get());
    show(sheet, a.json);
    return sheetComplete(sheet) ? exitGood : exitFindings;
}

// The sheet after a change; what Verify says of it is not worked out again.
void change(const PartArguments &a, const std::string &what, const std::function<void(Job &)> &f) {
    JobEdit edit(a.job, true);
    Job after = edit.before();
    f(after);
    edit.commit(after, what, CellOrigin::typed);
    show(intakeSheet(loadJob(a.job)), a.json);
}

} // namespace

void addSheetCommand(CLI::App &app, int &exitCode) {
    CLI::App *sheet =
        app.add_subcommand("sheet", "The engine, part by part: what is known and what was looked at");
    sheet->require_subcommand(1);
    const auto add = [&](const char *name, const char *help) {
        CLI::App *sub = sheet->add_subcommand(name, help);
        auto a = std::make_shared<PartArguments>();
        sub->add_option("job", a->job, "Job file")->required();
        sub->add_flag("--json", a->json, "Print JSON");
        return std::pair{sub, a};
    };
    const auto [all, forAll] =
        add("show", "All parts. Exit code 1 while a number of one is not stated, or one was found wrong");
    addLanguage(all);
    all->callback([a = forAll, &exitCode] { exitCode = showJob(*a); });

    const auto [looked, forLook] = add("inspect", "Says that something was looked at");
    looked->add_option("item", forLook->what, "Id of what was looked at: leak_test")->required();
    looked->add_flag("--wrong", forLook->wrong, "It is not as it should be");
    looked->add_option("--note", forLook->note, "What was seen");
    looked->callback([a = forLook] {
        change(*a, "Looked at " + a->what,
               [&](Job &job) { markInspected(job, a->what, timestamp(), a->wrong, a->note); });
    });

    const auto [sure, forSure] = add("confirm", "Says that all numbers of a part are as they stand");
    sure->add_option("part", forSure->what, "Id of the part: injectors")->required();
    sure->callback([a = forSure] {
        change(*a, "Confirm " + a->what, [&](Job &job) { confirmPart(job, partById(a->what)); });
    });

    for (const bool fitted : {true, false}) {
        const auto [fit, a] =
            add(fitted ? "fit" : "remove", fitted ? "Adds a part that the engine has; what it fills in is "
                                                    "an estimate until it is stated"
                                                  : "Takes a part off that the engine does not have");
        fit->add_option("part", a->what, "Id of the part: surge_tank")->required();
        fit->callback([a = a, fitted] {
            change(*a, (fitted ? "Fit " : "Take off ") + a->what,
                   [&](Job &job) { fitPart(job, partById(a->what), fitted); });
        });
    }
}

} // namespace wheelwright
