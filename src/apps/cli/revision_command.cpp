// SPDX-License-Identifier: GPL-3.0-or-later
#include "apps/cli/commands.h"
#include "apps/cli/options.h"
#include "apps/cli/report.h"
#include "apps/cli/table_target.h"
#include "core/base/error.h"
#include "core/job/work_line.h"
#include "core/study/extra_tables.h"

#include <nlohmann/json.hpp>

#include <algorithm>

namespace wheelwright {

using Json = nlohmann::ordered_json;

Json toJson(const Job &job, const Difference &d) {
    Json out{{"path", d.path}, {"before", d.before}, {"after", d.after}, {"guarded", d.guarded}};
    if (!d.is.empty()) out["said"] = d.is;
    if (d.cells == 0) return out;
    out["changed_cells"] = d.cells;
    out["worst"] = d.worst;
    const TableField *field = tableByPath(d.path);
    if (!field) return out; // a table whose axes are its own
    out["rpm"] = d.rpm;
    out[tableIn(job, field->quantity, field->top).y.key] = d.y;
    return out;
}

namespace {

struct RevisionArguments {
    std::string job, name, other, note;
    bool sent = false, json = false;
};

Json listed(const Job &job) {
    Json all = Json::array();
    for (const Revision &r : job.revisions)
        all.push_back({{"name", r.name},
                       {"at", r.at},
                       {"parent", r.parent},
                       {"current", r.current},
                       {"sent", r.sent},
                       {"came_back", r.cameBack},
                       {"released", r.released},
                       {"note", r.note}});
    return Json{{"revisions", all}};
}

std::size_t placeOf(const Job &job, const std::string &name) {
    const std::vector<Revision> &all = job.revisions.values();
    const auto at = std::ranges::find(all, name, &Revision::name);
    if (at == all.end())
        throw InputError("revision", verbatim("the name of one that is kept"), "'" + name + "'");
    return static_cast<std::size_t>(at - all.begin());
}

void change(const RevisionArguments &a, const std::string &what, const std::function<void(Job &)> &f) {
    JobEdit edit(a.job, true);
    Job after = edit.before();
    f(after);
    edit.commit(after, what, CellOrigin::copied);
    print(listed(after), a.json);
}

Json differences(const Job &job, const std::vector<Difference> &all) {
    Json out = Json::array();
    for (const Difference &d : all)
        out.push_back(toJson(job, d));
    return out;
}

void showLine(const RevisionArguments &a) {
    const Job job = loadJob(a.job);
    const WorkLine line = workLineOf(job);
    const auto nameOf = [&](const WorkMark &mark) {
        return mark.revision ? Json(job.revisions.values()[*mark.revision].name) : Json(nullptr);
    };
    const auto ids = [](const auto &records, const std::vector<std::size_t> &places, auto id) {
        Json out = Json::array();
        for (const std::size_t i : places)
            out.push_back(records.values()[i].*id);
        return out;
    };
    Json marks = Json::array();
    for (const WorkMark &mark : line.marks) {
        Json out{{"name", nameOf(mark)},
                 {"now", mark.now},
                 {"lane", mark.lane},
                 {"made_from", mark.from ? nameOf(line.marks[*mark.from]) : Json(nullptr)}};
        if (mark.from && mark.unread.empty()) out["changed"] = differences(job, mark.changed);
        if (!mark.unread.empty()) out["unread"] = mark.unread;
        out["logs"] = ids(job.logs, mark.logs, &LogInfo::id);
        out["runs"] = ids(job.runs, mark.runs, &Run::id);
        out["rungs"] = ids(job.ladderPassed, mark.rungs, &RungPass::rung);
        marks.push_back(std::move(out));
    }
    print({{"marks", marks},
           {"lanes", line.lanes},
           {"stray_logs", ids(job.logs, line.strayLogs, &LogInfo::id)},
           {"stray_runs", ids(job.runs, line.strayRuns, &Run::id)},
           {"stray_rungs", ids(job.ladderPassed, line.strayRungs, &RungPass::rung)}},
          a.json);
}

int compare(const RevisionArguments &a) {
    const Job job = loadJob(a.job);
    const std::optional<std::size_t> second =
        a.other.empty() ? std::nullopt : std::optional(placeOf(job, a.other));
    const std::vector<Difference> all = differencesBetween(job, placeOf(job, a.name), second);
    print({{"first", a.name},
           {"second", a.other.empty() ? Json(nullptr) : Json(a.other)},
           {"differences", differences(job, all)},
           {"same", all.empty()}},
          a.json);
    return all.empty() ? exitGood : exitFindings;
}

using RevisionAsked = std::shared_ptr<RevisionArguments>;

RevisionAsked add(CLI::App *revision, const char *name, const char *help, bool named,
                  CLI::App **added = nullptr) {
    CLI::App *sub = revision->add_subcommand(name, help);
    auto a = std::make_shared<RevisionArguments>();
    sub->add_option("job", a->job, "Job file")->required();
    sub->add_flag("--json", a->json, "Print JSON");
    if (named) sub->add_option("name", a->name, "Of the revision")->required();
    if (added) *added = sub;
    return a;
}

void addChange(CLI::App *revision, const char *name, const char *help, const char *what,
               void (*f)(Job &, std::size_t)) {
    CLI::App *sub = nullptr;
    const RevisionAsked a = add(revision, name, help, true, &sub);
    sub->callback([a, what, f] {
        change(*a, "Revision " + a->name + what, [&](Job &job) { f(job, placeOf(job, a->name)); });
    });
}

} // namespace

void addRevisionCommand(CLI::App &app, int &exitCode) {
    CLI::App *revision = app.add_subcommand("revision", "Calibrations kept under a name");
    revision->require_subcommand(1);
    CLI::App *sub = nullptr;

    const RevisionAsked forKeep = add(revision, "keep", "Keep the calibration as it is", false, &sub);
    sub->add_option("name", forKeep->name, "Once only")->required();
    sub->add_option("--note", forKeep->note, "Why it is kept");
    sub->add_flag("--sent", forKeep->sent, "It is what the controller has");
    sub->callback([a = forKeep] {
        change(*a, "Keep revision " + a->name,
               [&](Job &job) { keepRevision(job, a->name, timestamp(), a->note, a->sent); });
    });

    const RevisionAsked forList = add(revision, "list", "Those that are kept", false, &sub);
    sub->callback([a = forList] { print(listed(loadJob(a->job)), a->json); });

    const RevisionAsked forLine = add(
        revision, "line", "From the first to now: what each changed, and what was made with it", false, &sub);
    sub->callback([a = forLine] { showLine(*a); });

    const RevisionAsked forCompare = add(revision, "compare",
                                         "What another has, or the calibration of now, and this one has not. "
                                         "Exit code 1 when anything differs",
                                         true, &sub);
    sub->add_option("other", forCompare->other, "Another revision; without one, now");
    sub->callback([a = forCompare, &exitCode] { exitCode = compare(*a); });

    const RevisionAsked forRestore =
        add(revision, "restore", "The calibration as it was; the rest of the job stays", true, &sub);
    sub->callback([a = forRestore] {
        change(*a, "Restore revision " + a->name,
               [&](Job &job) { job = takenBack(job, placeOf(job, a->name)); });
    });

    const RevisionAsked forRename =
        add(revision, "rename", "Another name; logs and runs that name it follow", true, &sub);
    sub->add_option("to", forRename->other, "Once only")->required();
    sub->callback([a = forRename] {
        change(*a, "Rename revision " + a->name,
               [&](Job &job) { renameRevision(job, placeOf(job, a->name), a->other); });
    });

    const RevisionAsked forNote =
        add(revision, "note", "Say why it was kept, or what came of it", true, &sub);
    sub->add_option("text", forNote->note, "In place of what stands there")->required();
    sub->callback([a = forNote] {
        change(*a, "Note on revision " + a->name,
               [&](Job &job) { job.revisions[placeOf(job, a->name)].note = a->note; });
    });

    addChange(revision, "mark-sent", "Say that the controller has it", " was sent",
              [](Job &job, std::size_t at) { job.revisions[at].sent = true; });
    addChange(revision, "mark-returned", "Say that it was read back from the controller and found the same",
              " came back", [](Job &job, std::size_t at) { job.revisions[at].cameBack = timestamp(); });
    addChange(revision, "release", "Say that it was handed over to be driven", " was released",
              [](Job &job, std::size_t at) { job.revisions[at].released = timestamp(); });
    addChange(revision, "remove", "Take it away; what was made from it was then made from the one before it",
              " taken away", [](Job &job, std::size_t at) { removeRevision(job, at); });
}

} // namespace wheelwright
