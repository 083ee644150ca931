// SPDX-License-Identifier: GPL-3.0-or-later
#include "apps/cli/commands.h"
#include "apps/cli/log_evidence.h"
#include "apps/cli/options.h"
#include "apps/cli/page_wording.h"
#include "apps/cli/report.h"
#include "apps/cli/table_target.h"
#include "core/base/error.h"
#include "core/evidence/channel_map.h"
#include "core/evidence/log_intake.h"
#include "core/job/tank_history.h"
#include "core/report/bundle_reports.h"
#include "formats/bundle.h"
#include "formats/log_import/log_import.h"
#include "store/bundle_folder.h"
#include "store/log_intake_store.h"
#include "store/sample_store.h"

#include <nlohmann/json.hpp>

#include <algorithm>
#include <memory>
#include <optional>

namespace wheelwright {
namespace {

using Json = nlohmann::ordered_json;
namespace fs = std::filesystem;

struct BundleArguments {
    std::string job, folder, rung, name, note, revision, on;
    double content = 0;
    bool json = false;
};

// The rung that is named, else the next one; nullptr where none is open.
const Rung *rungFor(const Ladder &ladder, const std::string &id) {
    if (id.empty()) return ladder.next();
    if (const Rung *rung = ladder.byId(id)) return rung;
    throw InputError("--rung", verbatim("a rung of this ladder"), "'" + echoed(id, 40) + "'");
}

Json differences(const std::vector<Difference> &changed) {
    Json out = Json::array();
    for (const Difference &d : changed) {
        Json one{{"path", d.path},
                 {"title", d.title},
                 {"sent", d.before},
                 {"came_back", d.after},
                 {"guarded", d.guarded}};
        if (d.cells > 0) {
            one["changed_cells"] = d.cells;
            one["worst"] = d.worst;
            one["rpm"] = d.rpm;
            one["y"] = d.y;
        }
        out.push_back(std::move(one));
    }
    return out;
}

void bundleOut(const BundleArguments &a) {
    JobEdit edit(a.job, true);
    Job after = edit.before();
    const Study study(after);
    const Ladder ladder = planLadder(study, a.on);
    const Rung *rung = rungFor(ladder, a.rung);
    BundleHead head;
    head.job = after.name;
    head.made = timestamp();
    head.note = a.note;
    head.rung = rung ? rung->id : "";
    head.revision = keepSent(after, a.name, head.made, a.note);
    head.calibration = calibrationPrint(stateOf(after));
    const Wording wording = pageWording();
    const std::string message = wording.of(bundleMessage(head, rung));
    const std::vector<BundleFile> files =
        bundleFiles(after, head, plainText(bundleReport(after, head, rung), wording), message + "\n");
    NewFolder folder(a.folder, files);
    edit.commit(after, "Send " + head.revision, CellOrigin::typed);
    folder.keep();
    Json names = Json::array();
    for (const BundleFile &f : files)
        names.push_back(f.name);
    print({{"revision", head.revision},
           {"calibration", head.calibration},
           {"rung", rung ? Json(rung->id) : Json(nullptr)},
           {"folder", a.folder},
           {"files", names},
           {"message", message}},
          a.json);
}

BundleTie tie(const Job &job, const ReturnedFolder &folder, const std::string &named) {
    std::optional<BundleHead> head;
    if (folder.head) head = bundleHeadFromJson(*folder.head);
    std::vector<std::string> names;
    for (const fs::path &log : folder.logs)
        names.push_back(log.filename().string());
    BundleTie out = tieOf(job, head, names, named);
    if (out.revision.empty()) {
        const std::string sent = sentRevisions(job);
        throw InputError("bundle back",
                         verbatim("bundle.json, a log with the fingerprint in its name, or --revision: " +
                                  (sent.empty() ? "none was sent" : sent)),
                         "none of them");
    }
    return out;
}

// Every log of the folder as one change of the job; those that are there already are left.
Job withLogs(const JobEdit &edit, const BundleArguments &a, bool contentGiven, const ReturnedFolder &folder,
             const Revision &revision, CameBack &came) {
    Job after = edit.before();
    const double content = a.content;
    for (const fs::path &path : folder.logs) {
        const std::string name = path.filename().string();
        try {
            const OpenFile file(path);
            const auto source = openLog(file, {});
            const ChannelMap map = suggestMap(source->layout());
            const double of = contentGiven ? content : alcoholOf(tankNow(after).content);
            const MapSurroundings around{after.conditions.ambientKpa,
                                         Study(after).fuelAt(of).stoichiometricAfr};
            const TakenLog taken = takeLog(edit.store(), file, *source, map, around, {false, 0, {}, {}});
            if (logById(after, taken.summary.info.id)) {
                came.known.push_back(name);
                continue;
            }
            LogOrigin made{name, timestamp(), revision.name, {}, {}};
            if (contentGiven) made.content = content;
            addLog(after, taken.summary, made);
            came.logs.push_back(name);
        } catch (const InputError &e) {
            throw InputError(name + " " + e.where(), e.expected(), e.found());
        }
    }
    return after;
}

int bundleBack(const CLI::App &sub, const BundleArguments &a) {
    JobEdit edit(a.job, true);
    tidySamples(edit.store(), edit.before()); // of an import that died
    const ReturnedFolder folder = readReturnedFolder(a.folder);
    const BundleTie tied = tie(edit.before(), folder, a.revision);
    const Revision revision =
        *std::ranges::find(edit.before().revisions.values(), tied.revision, &Revision::name);
    CameBack came;
    came.job = edit.before().name;
    came.revision = revision.name;
    came.asked = tied.asked;
    const Job sent = restored(edit.before(), revision);
    std::vector<std::string> compared;
    const Job back = withReadBack(sent, folder.back, compared);
    came.back = readBackOf(sent, back, compared);
    const Job after = withLogs(edit, a, sub.count("--content") > 0, folder, revision, came);
    edit.commit(after, "What came back of " + revision.name, CellOrigin::typed);
    came.goneOn = calibrationPrint(stateOf(after)) != calibrationPrint(revision.state.text());
    const Study study(after);
    const Ladder ladder = planLadder(study, a.on);
    came.rung = ladder.next();
    std::optional<RungStatus> status;
    if (came.rung) {
        status = rungStatus(study, ladder, *came.rung,
                            ladderFacts(study, reviewsOf(after, a.job, {}, LogsUnnamed::all)));
        came.status = &*status;
    }
    const RungLight light = came.light();
    const Wording wording = pageWording();
    const std::string message = wording.of(cameBackMessage(came));
    if (a.json) {
        Json out{{"revision", came.revision},
                 {"tied_by", came.asked ? "asked" : "fingerprint"},
                 {"gone_on", came.goneOn},
                 {"logs", came.logs},
                 {"known_logs", came.known},
                 {"left_alone", folder.leftAlone},
                 {"compared", came.back.compared},
                 {"not_read_back", came.back.missing},
                 {"changed", differences(came.back.changed)},
                 {"alarm", came.back.alarm()},
                 {"rung", came.rung ? Json(came.rung->id) : Json(nullptr)},
                 {"gates", came.status ? Json(rungLightKey(came.status->light())) : Json(nullptr)},
                 {"light", rungLightKey(light)},
                 {"message", message}};
        print(out, true);
    } else {
        writeText("-", plainText(cameBackReport(came), wording) + "\n" + message + "\n");
    }
    return light == RungLight::green ? exitGood : exitFindings;
}

} // namespace

void addBundleCommand(CLI::App &app, int &exitCode) {
    CLI::App *bundle =
        app.add_subcommand("bundle", "A calibration for somebody far away, and what comes back");
    bundle->require_subcommand(1);
    const auto part = [&](const char *name, const char *help) {
        auto a = std::make_shared<BundleArguments>();
        CLI::App *sub = bundle->add_subcommand(name, help);
        sub->add_option("job", a->job, "Job file")->required();
        sub->add_option("--folder", a->folder, "Where its files are")->required();
        sub->add_option("--today", a->on, "Date, ISO 8601: flags what was opened too long ago");
        sub->add_flag("--json", a->json, "Print JSON");
        addLanguage(sub);
        return std::pair(sub, a);
    };
    const auto [out, o] =
        part("out", "Writes the calibration into a new folder: tables, settings, what to do and what to log; "
                    "keeps it as a revision that was sent");
    out->add_option("--rung", o->rung, "Id of the rung that it is for; without one the next");
    out->add_option("--name", o->name, "Of the revision");
    out->add_option("--note", o->note, "To whoever loads it");
    out->callback([o = o] {
        requireDate(o->on);
        bundleOut(*o);
    });
    const auto [back, b] =
        part("back", "Takes in what came back: logs, and what was read out of the controller, held against "
                     "what was sent. Exit code 1 unless the light is green");
    back->add_option("--revision", b->revision, "That it belongs to, where the folder does not say it");
    addNumber(back, "--content", b->content, fraction(), "Of the logs, where they have no channel of it");
    back->callback([b = b, back = back, &exitCode] {
        requireDate(b->on);
        exitCode = bundleBack(*back, *b);
    });
}

} // namespace wheelwright
