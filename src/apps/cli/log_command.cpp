// SPDX-License-Identifier: GPL-3.0-or-later
#include "apps/cli/commands.h"
#include "apps/cli/log_evidence.h"
#include "apps/cli/options.h"
#include "apps/cli/report.h"
#include "apps/cli/table_target.h"
#include "core/base/error.h"
#include "core/base/text.h"
#include "core/evidence/lambda_delay.h"
#include "core/evidence/log_review.h"
#include "core/evidence/watch_rule.h"
#include "core/job/revision.h"
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
    std::string role = "lambda", over = "rpm";
    double episode = 1;
    bool partly = false, keep = false, json = false;
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
    return surroundingsIn(Study(job), contentOrTank(job, *sub.get_option("--content"), a.content));
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

LogTrace::Read readerOf(const Job &job, const LogArguments &a) {
    const std::string id = logNamed(job, a.log).id;
    const auto reader = std::make_shared<const SampleReader>(a.job);
    if (!reader->has(id))
        throw InputError(a.job, verbatim("the samples of log " + id),
                         std::string("none of them in this file"));
    return [reader, id](std::size_t series) { return reader->read(id, series); };
}

LogTrace traceOf(const Job &job, const LogArguments &a) {
    return LogTrace(job, logNamed(job, a.log).id, readerOf(job, a));
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

std::optional<Job> calibrationOfLog(const Job &job, const std::string &name) {
    const LogInfo &log = logNamed(job, name);
    return jobThatRan(job, log.revision, log.calibration);
}

int listFindings(const LogArguments &a) {
    const Job job = loadJob(a.job);
    const std::optional<Job> asItWas = calibrationOfLog(job, a.log);
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
    for (const SilentPull &s : findings.silent)
        std::cerr << "not asked: " << s.rule->id << " in the pull from " << s.beginS << " to " << s.endS
                  << " s (" << definitionOf(s.silent).key << " is silent for a part of it)\n";
    // As a question that is not judged, a rule that is not asked holds nothing.
    return findings.found.empty() && findings.allAsked() ? exitGood : exitFindings;
}

int showDelay(const LogArguments &a) {
    const Job job = loadJob(a.job);
    const std::optional<Job> asItWas = calibrationOfLog(job, a.log);
    const Study study(asItWas.value_or(job));
    const LambdaDelay found = findDelay(WatchedLog(study, traceOf(job, a), asItWas.has_value()));
    if (a.keep) {
        if (!found.any())
            throw InputError("--keep", verbatim("a log with steps of fuel that tell a delay"), "none");
        JobEdit edit(a.job, true);
        Job after = edit.before();
        stateDelay(after, found);
        edit.commit(after, "Keep the delay of lambda", CellOrigin::typed);
    }
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
    if (const auto stated = statedDelay(a.keep ? loadJob(a.job) : job))
        out["stated"] = {{"at_once_ms", stated->curve->atOnceMs},
                         {"grams_ms", stated->curve->gramsMs},
                         {"lag_ms", stated->lagMs}};
    print(out, a.json);
    return found.byFlow.empty() ? exitFindings : exitGood;
}

int showContent(const LogArguments &a) {
    const Job job = loadJob(a.job);
    const LogReview review(job, logNamed(job, a.log), readerOf(job, a));
    const LogContent &c = review.content();
    Json stretches = Json::array(), beside = Json::array(), said = Json::array();
    for (const ContentStretch &s : c.stretches)
        stretches.push_back(
            {{"from_s", s.beginS}, {"to_s", s.endS}, {"settled", s.settled}, {"content", s.content}});
    for (const LogContent::Beside &b : c.beside)
        beside.push_back({{"who", b.who}, {"content", b.content}, {"sigma", b.sigma}, {"agrees", b.agrees}});
    for (const Phrase &p : c.said)
        said.push_back(p);
    Json out{{"known", c.known},
             {"stated", c.stated},
             {"settled", c.settled},
             {"usable", c.usable()},
             {"return_dry", c.returnDry}};
    if (c.known) out["content"] = c.mean;
    if (!c.stretches.empty()) {
        out["least"] = c.least;
        out["most"] = c.most;
        out["moved_per_minute"] = c.movedPerMinute;
    }
    out["stretches"] = stretches;
    out["beside"] = beside;
    out["said"] = said;
    print(out, a.json);
    return c.usable() && std::ranges::all_of(c.beside, &LogContent::Beside::agrees) ? exitGood : exitFindings;
}

int showCleaning(const LogArguments &a) {
    const Job job = loadJob(a.job);
    const LogReview review(job, logNamed(job, a.log), readerOf(job, a));
    Json steps = Json::array();
    for (const CleanLog::Step &s : review.cleaned().steps) {
        Json step{{"filter", s.filter->id},
                  {"title", s.filter->title},
                  {"asked", s.asked},
                  {"before", s.before},
                  {"taken", s.taken}};
        for (const std::string_view id : {s.filter->limit, s.filter->second})
            if (!id.empty()) step["limits"][std::string(id)] = limitOf(job, id);
        steps.push_back(std::move(step));
    }
    print({{"samples", review.trace().size()}, {"left", review.cleaned().left}, {"filters", steps}}, a.json);
    return exitGood;
}

int stateContentOf(const CLI::App &sub, const LogArguments &a) {
    JobEdit edit(a.job, true);
    const LogInfo info = logNamed(edit.before(), a.log);
    Job after = edit.before();
    if (sub.count("--content") > 0)
        stateContent(after, info.id, a.content);
    else
        unstateContent(after, info.id);
    edit.commit(after, "Content of " + info.name, CellOrigin::typed);
    print(headOf(*logById(after, info.id)), a.json);
    return exitGood;
}

// An episode on an axis from its start, as two are laid over one another.
int showAlong(const LogArguments &a) {
    constexpr std::array axes{std::pair{"time", EpisodeAxis::time}, std::pair{"rpm", EpisodeAxis::rpm},
                              std::pair{"distance", EpisodeAxis::distance}};
    const Job job = loadJob(a.job);
    const LogTrace trace = traceOf(job, a);
    const std::vector<Episode> episodes = findEpisodes(trace, job.conditions.ambientKpa);
    if (a.episode < 1 || a.episode > static_cast<double>(episodes.size()))
        throw InputError("--episode",
                         verbatim("a number from 1 to " + std::to_string(episodes.size()) +
                                  ", in the order of 'log episodes'"),
                         std::to_string(static_cast<long long>(a.episode)));
    const ChannelRoleDefinition *role = roleByKey(a.role);
    if (!role)
        throw InputError("--role", verbatim("the key of a role, such as lambda"),
                         "'" + echoed(a.role, 40) + "'");
    const auto axis = std::ranges::find(axes, std::string_view(a.over),
                                        [](const auto &x) { return std::string_view(x.first); });
    if (axis == axes.end())
        throw InputError("--over", verbatim("time, rpm or distance"), "'" + echoed(a.over, 40) + "'");
    const Episode &e = episodes[static_cast<std::size_t>(a.episode) - 1];
    const std::vector<double> x = along(trace, e, axis->second);
    constexpr std::array keys{"time_s", "rpm", "distance_m"};
    Json points = Json::array();
    for (std::size_t i = 0; i < x.size(); ++i) {
        const double y = trace.at(role->role, e.from + i);
        if (x[i] == x[i] && y == y)
            points.push_back({{keys[static_cast<std::size_t>(axis - axes.begin())], x[i]}, {"value", y}});
    }
    print({{"kind", definitionOf(e.kind).key}, {"role", role->key}, {"unit", role->unit}, {"points", points}},
          a.json);
    return exitGood;
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
    CLI::App *findings = logSubcommand(
        log, a, "findings",
        "What the watch rules find. Exit code 1 when they do, or when one could not be asked all through",
        true);
    findings->callback([a, &exitCode] { exitCode = listFindings(*a); });
    CLI::App *delay =
        logSubcommand(log, a, "delay", "How late λ comes, by air flow, and how slow its sensor is", true);
    delay->callback([a, &exitCode] { exitCode = showDelay(*a); });
    delay->add_flag("--keep", a->keep, "Write what is found into the job, for all its logs");
    CLI::App *fuel = logSubcommand(
        log, a, "content",
        "Whether the content has settled, and what the tank says of it. Exit code 1 where it does not count",
        true);
    fuel->callback([a, &exitCode] { exitCode = showContent(*a); });
    CLI::App *state = logSubcommand(
        log, a, "state", "States the content of a log's fuel; without one, as its channel says", true);
    addNumber(state, "--content", a->content, fraction(), "Believed over the log's own channel");
    state->callback([a, state, &exitCode] { exitCode = stateContentOf(*state, *a); });
    CLI::App *cleaning =
        logSubcommand(log, a, "cleaning", "What each filter takes before tables are judged", true);
    cleaning->callback([a, &exitCode] { exitCode = showCleaning(*a); });
    CLI::App *along = logSubcommand(log, a, "along", "A channel over an episode, from its start", true);
    addNumber(along, "--episode", a->episode, wholeBetween(1, 1000000),
              "Which, in the order of 'log episodes'");
    along->add_option("--role", a->role, "Which channel; default: lambda");
    along->add_option("--over", a->over, "time, rpm (default) or distance");
    along->callback([a, &exitCode] { exitCode = showAlong(*a); });
    for (CLI::App *sub : {in, list, info, remove, episodes, findings, delay, fuel, state, cleaning, along})
        sub->add_flag("--json", a->json, "As JSON");
}

} // namespace wheelwright
