// SPDX-License-Identifier: GPL-3.0-or-later
#include "apps/cli/commands.h"
#include "apps/cli/options.h"
#include "apps/cli/report.h"
#include "apps/cli/table_target.h"
#include "core/base/error.h"
#include "core/base/text.h"
#include "core/evidence/lambda_delay.h"
#include "core/evidence/watch_rule.h"
#include "core/study/study.h"
#include "formats/channel_map_json.h"
#include "formats/log_csv.h"
#include "formats/log_import/log_import.h"
#include "store/file_bytes.h"
#include "store/log_intake_store.h"
#include "store/sample_store.h"

#include <nlohmann/json.hpp>

#include <cmath>
#include <filesystem>
#include <iostream>

namespace wheelwright {
namespace {

using Json = nlohmann::ordered_json;
namespace fs = std::filesystem;

struct LogArguments {
    std::string job, file, map, revision, note, log, csv;
    double content = 0;
    bool partly = false, json = false;
    std::size_t threads = 2;
};

Json describe(const LogChannel &c) {
    const ChannelRoleDefinition &role = definitionOf(c.role);
    Json out{{"name", c.name},
             {"role", role.key},
             {"unit", c.role == ChannelRole::none ? c.unit : std::string(role.unit)},
             {"samples", c.samples},
             {"missing", c.missing}};
    for (const char *count : {"samples", "missing"})
        out[count] = static_cast<std::int64_t>(out[count].get<double>());
    if (c.kind == ChannelKind::words) {
        out["texts"] = linesOf(c.texts);
    } else if (c.samples > 0) {
        const double a = c.internal(c.least), b = c.internal(c.most);
        out["min"] = std::min(a, b);
        out["max"] = std::max(a, b);
        out["mean"] = c.internal(c.mean);
    }
    return out;
}

Json channelList(const Job &job, const std::string &id) {
    Json out = Json::array();
    for (const LogChannel *c : channelsOf(job, id))
        out.push_back(describe(*c));
    return out;
}

std::vector<std::string> warningsOf(const LogInfo &info) {
    return linesOf(info.warnings);
}

Json headOf(const LogInfo &info) {
    Json out{{"id", info.id},
             {"name", info.name},
             {"rows", static_cast<std::int64_t>(info.rows)},
             {"span_s", info.endS - info.beginS},
             {"from_s", info.beginS},
             {"to_s", info.endS}};
    if (info.contentBasis != ContentBasis::none) out["content"] = info.content;
    constexpr std::array bases{"none", "channel", "stated"};
    out["content_basis"] = bases[static_cast<std::size_t>(info.contentBasis)];
    out["revision"] = info.revision;
    out["calibration"] = info.calibration;
    out["added"] = info.added;
    out["note"] = info.note;
    return out;
}

const LogInfo &logNamed(const Job &job, const std::string &which) {
    if (const LogInfo *log = logById(job, which)) return *log;
    for (const LogInfo &log : job.logs)
        if (log.name == which) return log;
    std::string known;
    for (const LogInfo &log : job.logs)
        known += (known.empty() ? "" : ", ") + log.id;
    throw InputError("--log", verbatim(known.empty() ? "a job with logs" : "one of " + known),
                     "'" + echoed(which, 40) + "'");
}

// What one cannot know of a file without its name.
template <class Work>
auto naming(const std::string &file, Work work) {
    try {
        return work();
    } catch (const InputError &e) {
        throw InputError(e.where() == "file" ? file : file + ", " + e.where(), e.expected(), e.found());
    }
}

LogForm formOf(const ChannelMap &map, bool partly) {
    return {map.delimiter, map.decimal, partly};
}

int suggest(const LogArguments &a) {
    const OpenFile file(a.file);
    const auto source = naming(a.file, [&] { return openLog(file); });
    ChannelMap map = suggestMap(source->layout());
    if (source->layout().delimiter != 0) {
        map.delimiter = source->layout().delimiter;
        map.decimal = source->layout().decimal;
    }
    std::cout << channelMapToJson(map) << '\n';
    return exitGood;
}

MapSurroundings surroundingsOf(const Job &job, const CLI::App &sub, const LogArguments &a) {
    const double content = contentOrTank(job, *sub.get_option("--content"), a.content);
    return {job.conditions.ambientKpa, Study(job).fuelAt(content).stoichiometricAfr};
}

int importLog(const CLI::App &sub, const LogArguments &a) {
    ChannelMap given;
    if (!a.map.empty()) given = naming(a.map, [&] { return channelMapFromJson(readText(a.map)); });
    JobEdit edit(a.job, true);
    tidySamples(edit.store(), edit.before()); // of an import that died
    const OpenFile file(a.file);
    const TakenLog taken = naming(a.file, [&] {
        const auto source = openLog(file, formOf(given, a.partly));
        const ChannelMap map = a.map.empty() ? suggestMap(source->layout()) : given;
        return takeLog(edit.store(), file, *source, map, surroundingsOf(edit.before(), sub, a),
                       {a.partly, static_cast<unsigned>(a.threads), {}, {}});
    });
    Job after = edit.before();
    LogOrigin made{fs::path(a.file).filename().string(), timestamp(), a.revision, {}, a.note};
    if (sub.count("--content") > 0) made.content = a.content;
    addLog(after, taken.summary, made);
    const std::string id = taken.summary.info.id;
    edit.commit(after, "Import log " + made.name, CellOrigin::typed);
    const LogInfo &info = *logById(after, id);
    Json out = headOf(info);
    out["warnings"] = warningsOf(info);
    out["packed_bytes"] = taken.packedBytes;
    out["channels"] = channelList(after, id);
    print(out, a.json);
    return exitGood;
}

int listLogs(const LogArguments &a) {
    const Job job = loadJob(a.job);
    Json logs = Json::array();
    for (const LogInfo &info : job.logs) {
        Json log = headOf(info);
        log["channels"] = channelsOf(job, info.id).size();
        log["warnings"] = warningsOf(info).size();
        logs.push_back(std::move(log));
    }
    print({{"logs", logs}}, a.json);
    return exitGood;
}

int showLog(const LogArguments &a) {
    const Job job = loadJob(a.job);
    const LogInfo &info = logNamed(job, a.log);
    Json out = headOf(info);
    out["source_hash"] = info.sourceHash;
    out["warnings"] = warningsOf(info);
    out["channels"] = channelList(job, info.id);
    print(out, a.json);
    return exitGood;
}

int removeOne(const LogArguments &a) {
    JobEdit edit(a.job, true);
    const LogInfo gone = logNamed(edit.before(), a.log);
    Job after = edit.before();
    removeLog(after, gone.id);
    edit.commit(after, "Remove log " + gone.name, CellOrigin::typed);
    tidySamples(edit.store(), after);
    print({{"removed", gone.id}, {"name", gone.name}}, a.json);
    return exitGood;
}

int exportLog(const LogArguments &a) {
    const Job job = loadJob(a.job);
    const LogInfo &info = logNamed(job, a.log);
    const SampleReader reader(a.job);
    if (!reader.has(info.id))
        throw InputError(a.job, verbatim("the samples of log " + info.id),
                         std::string("none of them in this file"));
    const ReadSeries read = [&](std::size_t series, std::size_t from, std::size_t count) {
        return reader.read(info.id, series, from, count);
    };
    if (a.csv == "-")
        logToCsv(job, info.id, read, [](std::string_view piece) { std::cout << piece; });
    else
        replaceFile(a.csv, [&](const WritePiece &piece) { logToCsv(job, info.id, read, piece); });
    return exitGood;
}

LogTrace traceOf(const Job &job, const LogArguments &a) {
    const LogInfo &info = logNamed(job, a.log);
    const SampleReader reader(a.job);
    if (!reader.has(info.id))
        throw InputError(a.job, verbatim("the samples of log " + info.id),
                         std::string("none of them in this file"));
    return LogTrace(job, info.id, [&](std::size_t series) { return reader.read(info.id, series); });
}

// Left out where the log does not say.
void put(Json &to, const char *key, double v) {
    if (std::isfinite(v)) to[key] = v;
}

int listEpisodes(const LogArguments &a) {
    const Job job = loadJob(a.job);
    Json out = Json::array();
    for (const Episode &e : findEpisodes(traceOf(job, a), job.conditions.ambientKpa)) {
        Json episode{{"kind", definitionOf(e.kind).key}, {"from_s", e.beginS}, {"to_s", e.endS}};
        put(episode, "rpm_from", e.rpmFrom);
        put(episode, "rpm_to", e.rpmTo);
        put(episode, "peak_load_kpa", e.peakLoadKpa);
        put(episode, "content", e.content);
        out.push_back(std::move(episode));
    }
    print(out, a.json);
    return exitGood;
}

Json causesOf(const LogFinding &f) {
    Json causes = Json::array();
    for (const Cause &c : f.causes)
        causes.push_back(
            {{"cause", c.what}, {"for", c.speaksFor}, {"against", c.speaksAgainst}, {"weight", c.weight}});
    return causes;
}

int listFindings(const LogArguments &a) {
    const Job job = loadJob(a.job);
    const std::optional<Job> asItWas = jobOfLog(job, logNamed(job, a.log));
    const Study study(asItWas.value_or(job));
    const LogFindings findings = watch(WatchedLog(study, traceOf(job, a), asItWas.has_value()));
    Json out = Json::array();
    for (const LogFinding &f : findings.found) {
        Json finding{{"rule", f.rule->id}, {"title", f.rule->title}, {"from_s", f.beginS}, {"to_s", f.endS},
                     {"worst", f.worst},   {"limit", f.limit},       {"worst_s", f.worstS}};
        put(finding, "rpm", f.rpm);
        put(finding, "load_kpa", f.loadKpa);
        put(finding, "content", f.content);
        finding["transient"] = f.transient;
        finding["causes"] = causesOf(f);
        finding["look_at"] = f.rule->lookAt;
        out.push_back(std::move(finding));
    }
    print(out, a.json);
    for (const WatchRule *rule : findings.notAsked)
        std::cerr << "not asked: " << rule->id
                  << " (the log has not got what it needs, or the calibration that it ran with is gone)\n";
    return findings.found.empty() ? exitGood : exitFindings;
}

int showDelay(const LogArguments &a) {
    const Job job = loadJob(a.job);
    const std::optional<Job> asItWas = jobOfLog(job, logNamed(job, a.log));
    const Study study(asItWas.value_or(job));
    const LambdaDelay found = findDelay(WatchedLog(study, traceOf(job, a), asItWas.has_value()));
    Json bins = Json::array();
    for (const DelayAtFlow &d : found.byFlow)
        bins.push_back(
            {{"air_g_s", d.airGS}, {"delay_ms", d.delayMs}, {"sigma_ms", d.sigmaMs}, {"steps", d.steps}});
    Json out{{"delay", bins}};
    if (!found.byFlow.empty()) out["lag_ms"] = found.lagMs;
    if (found.curve)
        out["curve"] = {{"at_once_ms", found.curve->atOnceMs},
                        {"grams_ms", found.curve->gramsMs},
                        {"sigma_ms", found.curve->sigmaMs}};
    print(out, a.json);
    return found.byFlow.empty() ? exitFindings : exitGood;
}

CLI::App *logSubcommand(CLI::App *log, const std::shared_ptr<LogArguments> &a, const char *name,
                        const char *help, bool named) {
    CLI::App *sub = log->add_subcommand(name, help);
    sub->add_option("job", a->job, "Job file")->required();
    if (named) sub->add_option("--log", a->log, "Id of the log, or its name")->required();
    return sub;
}

} // namespace

void addLogCommand(CLI::App &app, int &exitCode) {
    const auto a = std::make_shared<LogArguments>();
    CLI::App *log = app.add_subcommand("log", "Logs of a job: bring in, show, take out");
    log->require_subcommand(1);

    CLI::App *map =
        log->add_subcommand("map", "What the columns of a log file seem to be, as --map takes it");
    map->add_option("file", a->file, "Log file")->required();
    map->callback([a, &exitCode] { exitCode = suggest(*a); });

    CLI::App *in = logSubcommand(log, a, "import", "Bring in a log file", false);
    in->add_option("file", a->file, "Delimited text or MDF 4")->required();
    in->add_option("--map", a->map, "What its columns are, as 'log map' writes it; default: that suggestion");
    in->add_option("--revision", a->revision, "That it ran with; default: the calibration as it is");
    addNumber(in, "--content", a->content, fraction(),
              "Alcohol content of the fuel, where no channel reads it");
    in->add_option("--note", a->note, "Anything worth remembering");
    in->add_flag("--partly", a->partly, "Take what comes before the first row that cannot be read");
    addNumber(in, "--threads", a->threads, wholeBetween(1, 64), "That read the file; default: 2");
    in->callback([a, in, &exitCode] { exitCode = importLog(*in, *a); });

    CLI::App *list = logSubcommand(log, a, "list", "All logs", false);
    list->callback([a, &exitCode] { exitCode = listLogs(*a); });
    CLI::App *info = logSubcommand(log, a, "info", "One log and its channels", true);
    info->callback([a, &exitCode] { exitCode = showLog(*a); });
    CLI::App *remove = logSubcommand(log, a, "remove", "Take a log out of the job", true);
    remove->callback([a, &exitCode] { exitCode = removeOne(*a); });
    CLI::App *out =
        logSubcommand(log, a, "export", "A log as delimited text, in the units of the product", true);
    out->add_option("--csv", a->csv, "File to write; - for standard output")->required();
    out->callback([a, &exitCode] { exitCode = exportLog(*a); });
    CLI::App *episodes =
        logSubcommand(log, a, "episodes", "Pulls, holds, idle and the rest, found by themselves", true);
    episodes->callback([a, &exitCode] { exitCode = listEpisodes(*a); });
    CLI::App *findings = logSubcommand(log, a, "findings", "What the watch rules find", true);
    findings->callback([a, &exitCode] { exitCode = listFindings(*a); });
    CLI::App *delay =
        logSubcommand(log, a, "delay", "How late λ comes, by air flow, and how slow its sensor is", true);
    delay->callback([a, &exitCode] { exitCode = showDelay(*a); });
    for (CLI::App *sub : {in, list, info, remove, episodes, findings, delay})
        sub->add_flag("--json", a->json, "As JSON");
}

} // namespace wheelwright
