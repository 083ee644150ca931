// SPDX-License-Identifier: GPL-3.0-or-later
#include "apps/cli/live_record.h"

#include "apps/cli/commands.h"
#include "apps/cli/options.h"
#include "apps/cli/report.h"
#include "apps/cli/table_target.h"
#include "core/job/revision.h"
#include "core/job/tank_history.h"
#include "core/study/study.h"
#include "devices/live_reader.h"
#include "formats/channel_map_json.h"
#include "formats/dbc_import.h"
#include "store/job_store.h"
#include "store/live_recording.h"
#include "store/log_intake_store.h"
#include "store/sample_store.h"

#include <QCoreApplication>

#include <nlohmann/json.hpp>

#include <chrono>
#include <csignal>
#include <iostream>
#include <memory>
#include <thread>

namespace wheelwright {
namespace {

using Json = nlohmann::ordered_json;
using namespace std::chrono_literals;

struct RecordArguments {
    std::string job, bus, map, channels, revision, note, name;
    double seconds = 10, hz = 50, content = 0;
    bool json = false;
};

volatile std::sig_atomic_t interrupted = 0;

ChannelMap channelsFor(const LogLayout &layout, const std::string &file) {
    if (file.empty()) return suggestMap(layout);
    ChannelMap given = inFile(file, [&] { return channelMapFromJson(readText(file)); });
    return fitted(given, layout);
}

LogLayout layoutOf(const RecordingHead &head) {
    LogLayout layout;
    layout.format = "bus";
    layout.columns = head.columns;
    return layout;
}

// A recording that has ended as a log of the job; what it lay in is freed when the job knows of it.
Json intoJob(JobEdit &edit, Job &job, const std::string &recording, const RecordingHead &head,
             const ChannelMap &map, double contentNow, std::optional<double> stated) {
    TakenLog taken = takeRecording(edit.store(), recording, map, surroundingsIn(Study(job), contentNow));
    Job after = job;
    addLog(after, taken.summary, {"bus " + head.begun, timestamp(), head.revision, stated, head.note});
    edit.commit(after, "Record from the bus", CellOrigin::typed);
    forgetRecording(edit.store(), recording);
    job = after;
    const LogInfo &info = *logById(after, taken.summary.info.id);
    Json channels = Json::array();
    for (const LogChannel *c : channelsOf(after, info.id))
        channels.push_back({{"name", c->name},
                            {"role", definitionOf(c->role).key},
                            {"unit", c->unit},
                            {"samples", c->samples}});
    Json out{{"id", info.id},
             {"name", info.name},
             {"rows", static_cast<std::int64_t>(info.rows)},
             {"span_s", info.endS - info.beginS}};
    Json warnings = Json::array();
    for (const Phrase &w : taken.summary.warnings)
        warnings.push_back(w);
    out["warnings"] = std::move(warnings);
    out["channels"] = std::move(channels);
    return out;
}

int record(const CLI::App &sub, const RecordArguments &a) {
    const BusAddress address = busAddressFrom(a.bus, "--bus");
    const CanMap map = canMapIn(a.map);
    JobEdit edit(a.job, true);
    tidySamples(edit.store(), edit.before());
    const double content = contentOrTank(edit.before(), *sub.get_option("--content"), a.content);
    Job job = edit.before();
    if (!a.revision.empty()) calibrationThatRan(job, a.revision, "--revision", timestamp());

    int count = 1;
    char program[] = "wheelwright-cli";
    char *arguments[] = {program, nullptr};
    const QCoreApplication app(count, arguments);
    quietBusPlugins();
    FrameQueue queue;
    const LiveClock clock = steadyClock();
    LiveReader reader(map, queue, clock, {a.hz});
    const LogLayout layout = liveLayout(reader.decoder());
    const ChannelMap channels = channelsFor(layout, a.channels);
    const BusListener listener(address, queue, clock);

    const RecordingHead head{timestamp(), layout.columns, a.revision, a.note};
    auto recording = std::make_shared<LiveRecording>(edit.store(), head);
    interrupted = 0;
    std::signal(SIGINT, [](int) { interrupted = 1; });
    std::signal(SIGTERM, [](int) { interrupted = 1; });
    // What nobody says is not recorded: it begins with the first frame that the map knows.
    const double beganS = clock();
    while (clock() - beganS < a.seconds && interrupted == 0 && reader.moment().known == 0)
        std::this_thread::sleep_for(5ms);
    reader.record(recording);
    double lastLossS = 0;
    std::size_t losses = 0;
    while (clock() - beganS < a.seconds && interrupted == 0) {
        std::this_thread::sleep_for(10ms);
        const LiveReader::Moment now = reader.moment();
        if (!now.recording) break; // the disk
        if (const std::size_t lost = listener.state().losses; lost != losses) {
            losses = lost;
            lastLossS = now.atS - beganS;
            reader.event("the bus was lost");
        }
    }
    reader.endRecording();
    const LiveReader::Moment end = reader.moment();
    const BusListener::State state = listener.state();
    if (end.known == 0) {
        forgetRecording(edit.store(), recording->name());
        const bool heard = end.heard > 0;
        throw InputError(a.bus, heard ? verbatim("frames that the map knows") : verbatim("frames of a bus"),
                         heard                   ? verbatim("none of " + std::to_string(end.heard))
                         : state.trouble.empty() ? verbatim("none in " + std::to_string(a.seconds) + " s")
                                                 : state.trouble);
    }
    std::optional<double> stated;
    if (sub.count("--content") > 0) stated = a.content;
    Json out = intoJob(edit, job, recording->name(), head, channels, content, stated);
    out["frames"] = end.heard;
    out["unknown"] = end.unknown;
    out["dropped"] = end.dropped;
    out["error_frames"] = state.errors;
    out["bus_losses"] = state.losses;
    if (state.losses > 0) out["last_loss_s"] = lastLossS;
    const bool silent = clock() - end.lastHeardS > 1;
    out["silent_at_the_end"] = silent;
    if (!end.trouble.empty()) out["trouble"] = end.trouble;
    print(out, a.json);
    return end.dropped > 0 || state.losses > 0 || silent || !end.trouble.empty() ? exitFindings : exitGood;
}

int recover(const CLI::App &sub, const RecordArguments &a) {
    JobEdit edit(a.job, true);
    Job job = edit.before();
    Json logs = Json::array(), lost = Json::array();
    const double content = contentOrTank(edit.before(), *sub.get_option("--content"), a.content);
    for (const FoundRecording &r : recordingsIn(a.job)) {
        if (r.pieces == 0) { // it was cut short before the first of them
            forgetRecording(edit.store(), r.name);
            lost.push_back(r.name);
            continue;
        }
        logs.push_back(
            intoJob(edit, job, r.name, r.head, channelsFor(layoutOf(r.head), a.channels), content, {}));
    }
    print({{"recovered", logs}, {"empty", lost}}, a.json);
    return exitGood;
}

} // namespace

CanMap canMapIn(const std::string &file) {
    return inFile(file, [&] {
        DbcImport dbc = canMapFromEither(readText(file));
        for (const Phrase &w : dbc.warnings)
            std::cerr << "wheelwright-cli: " << file << ": " << format(w) << '\n';
        return std::move(dbc.map);
    });
}

void addLiveRecordCommands(CLI::App &live, int &exitCode) {
    {
        CLI::App *sub = live.add_subcommand(
            "record",
            "Records a bus into the job, as a log. Exit code 1 where the bus was lost, is silent at "
            "the end, or frames were dropped");
        auto a = std::make_shared<RecordArguments>();
        sub->add_option("job", a->job, "Job file")->required();
        sub->add_option("--bus", a->bus, "virtual:PORT of this machine, or socketcan:INTERFACE")->required();
        sub->add_option("--map", a->map, "Map of the frames, or a description (.dbc)")->required();
        addNumber(sub, "--seconds", a->seconds, between(0.1, 36000, Dimension::seconds),
                  "How long, s; it ends earlier when it is interrupted")
            ->capture_default_str();
        addNumber(sub, "--hz", a->hz, between(1, 100), "Rows a second")->capture_default_str();
        sub->add_option("--channels", a->channels,
                        "What the channels are to the engine, as log suggest writes it; else by their names");
        addNumber(sub, "--content", a->content, fraction(), "Alcohol in the fuel, where no channel reads it");
        sub->add_option("--revision", a->revision,
                        "Revision that the engine runs; else the calibration as it is");
        sub->add_option("--note", a->note, "Stands with the log");
        sub->add_flag("--json", a->json, "Print JSON");
        sub->callback([a, sub, &exitCode] { exitCode = record(*sub, *a); });
    }
    CLI::App *sub = live.add_subcommand(
        "recover", "Makes logs of recordings that were cut short: of what was kept until then");
    auto a = std::make_shared<RecordArguments>();
    sub->add_option("job", a->job, "Job file")->required();
    sub->add_option("--channels", a->channels,
                    "What the channels are to the engine, as log suggest writes it; else by their names");
    addNumber(sub, "--content", a->content, fraction(),
              "Alcohol in the fuel, for an air-fuel ratio that counts on it; else the tank's");
    sub->add_flag("--json", a->json, "Print JSON");
    sub->callback([a, sub, &exitCode] { exitCode = recover(*sub, *a); });
}

} // namespace wheelwright
