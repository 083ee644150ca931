// SPDX-License-Identifier: GPL-3.0-or-later
// What runs say beyond a gain: cams, boost, sweeps, contents, money, dynos, the road.
#include "apps/cli/commands.h"
#include "apps/cli/log_evidence.h"
#include "apps/cli/options.h"
#include "apps/cli/report.h"
#include "apps/cli/run_options.h"
#include "apps/cli/table_target.h"
#include "core/base/error.h"
#include "core/runs/boost_shape.h"
#include "core/runs/cam_crossing.h"
#include "core/runs/road_run.h"
#include "core/runs/run_intake.h"
#include "core/runs/run_worth.h"

#include <nlohmann/json.hpp>

#include <cmath>

namespace wheelwright {
namespace {

using Json = nlohmann::ordered_json;

struct WorthArguments {
    std::string job, standard, log, over = "spark";
    std::vector<std::string> a, b, runs, low, high;
    RunViewing how;
    double rpm = 0, pull = 0, back = 0, fromS = 0, toS = 0;
    bool noDrift = false, apply = false, json = false;
};

Json orNull(double v) {
    return std::isfinite(v) ? Json(v) : Json(nullptr);
}
Json orNull(const std::optional<double> &v) {
    return v ? orNull(*v) : Json(nullptr);
}

RunViewing viewing(const WorthArguments &a) {
    RunViewing how = a.how;
    if (!a.standard.empty()) how.standard = standardByKey(a.standard);
    how.drift = !a.noDrift;
    return how;
}

MeasuredRuns namedOrAll(const Job &job, const std::vector<std::string> &ids) {
    return ids.empty() ? allMeasuredRuns(job) : measuredRuns(job, ids);
}

int cams(const WorthArguments &a) {
    const Job job = loadJob(a.job);
    const MeasuredRuns low = measuredRuns(job, a.low), high = measuredRuns(job, a.high);
    CamCrossing c = camCrossing(low, high, viewing(a));
    const std::vector<Phrase> cautions = camCautions(job, low, high, true);
    c.said.insert(c.said.end(), cautions.begin(), cautions.end());
    Json curve = Json::array(), switches = Json::array();
    for (std::size_t k = 0; k < c.rpm.size(); ++k)
        curve.push_back({{"rpm", c.rpm[k]},
                         {"high_less_low_nm", c.highLessLowNm[k].mean},
                         {"half_width", orNull(c.highLessLowNm[k].halfWidth())}});
    if (!a.log.empty())
        for (const auto &review : reviewsOf(job, a.job, {a.log}, LogsUnnamed::all))
            for (const LambdaAtSwitch &s : lambdaAtSwitches(*review))
                switches.push_back({{"log", s.log},
                                    {"at_s", s.timeS},
                                    {"rpm", s.rpm},
                                    {"to", s.up ? "high" : "low"},
                                    {"lambda_before", s.before},
                                    {"lambda_after", s.after},
                                    {"lambda_step", s.step()}});
    print({{"crossing_rpm", orNull(c.crossingRpm)},
           {"low_rpm", orNull(c.lowRpm)},
           {"high_rpm", orNull(c.highRpm)},
           {"switch_up_rpm", orNull(c.upRpm)},
           {"switch_down_rpm", orNull(c.downRpm)},
           {"crossings", c.crossings},
           {"judged", c.scatterFrom != ScatterFrom::none},
           {"scatter_from", keyOf(c.scatterFrom)},
           {"said", c.said},
           {"lambda_at_switches", switches},
           {"difference", curve}},
          a.json);
    return c.crossingRpm && c.lowRpm && c.highRpm && cautions.empty() ? exitGood : exitFindings;
}

int shapes(const WorthArguments &a) {
    const Job job = loadJob(a.job);
    Json out = Json::array();
    bool odd = false;
    for (const auto &r : namedOrAll(job, a.runs)) {
        const double ambient = ambientOf(job, r->run);
        const BoostShape s = boostShape(*r, ambient);
        Json one{{"id", runId(s.run)}, {"known", s.known}};
        if (s.known) {
            one["reached_rpm"] = s.reachedRpm;
            one["held_kpa"] = s.heldKpa;
            one["spike_kpa"] = s.spikeKpa;
            one["drift_kpa"] = s.driftKpa;
            one["drift_95_kpa"] = s.driftErrorKpa;
            one["wave_kpa"] = s.waveKpa;
            one["wave_rpm"] = s.waveRpm;
            one["dyno_less_controller_kpa"] = orNull(s.sensorOffKpa);
            one["solenoid_used_up_rpm"] = orNull(s.solenoidUsedUpRpm);
        }
        one["said"] = s.said;
        odd = odd || s.said.front().id != "boost_shape.flat"; // not known is not good
        out.push_back(std::move(one));
    }
    print(out, a.json);
    return odd ? exitFindings : exitGood;
}

int sweep(const WorthArguments &a) {
    const Job job = loadJob(a.job);
    const SweepOver over = sweepOverByKey(a.over);
    const MeasuredRuns runs = measuredRuns(job, a.runs);
    const SparkSweep s = sweepOf(runs, over, a.rpm, viewing(a));
    Json also = Json::array();
    for (const RunCause c : alsoDiffering(job, runs, over))
        also.push_back(keyOf(c));
    constexpr std::array units{"deg", "percent", "hundredths_lambda", "kpa"};
    const std::string unit = std::string("_") + units[static_cast<std::size_t>(over)];
    Json points = Json::array();
    for (const SweepPoint &p : s.points)
        points.push_back({{std::string(keyOf(over)) + unit, p.sparkDeg}, {"kw", p.power}});
    print({{"rpm", a.rpm},
           {"best" + unit, orNull(s.bestDeg)},
           {"low" + unit, orNull(s.lowDeg)},
           {"high" + unit, orNull(s.highDeg)},
           {"least_for_995_permille" + unit, orNull(s.leastDeg)},
           {"still_rising", s.stillRising},
           {"past_best", s.pastBest},
           {"also_differs", also},
           {"points", points}},
          a.json);
    return s.bestDeg && s.lowDeg && also.empty() ? exitGood : exitFindings;
}

int contents(const WorthArguments &a) {
    const Job job = loadJob(a.job);
    const ContentLadder ladder = contentLadder(
        job, a.runs.empty() ? ofOneKind(allMeasuredRuns(job)) : measuredRuns(job, a.runs), viewing(a));
    Json rungs = Json::array(), also = Json::array();
    for (const ContentRung &r : ladder.rungs) {
        Json ids = Json::array();
        for (const std::string &id : r.runs)
            ids.push_back(runId(id));
        Json one{{"content", r.content},
                 {"runs", ids},
                 {"mean_kw", r.meanKw},
                 {"half_width_against_first_kw", orNull(r.halfKw)}};
        if (&r != &ladder.rungs.back()) {
            one["next_gain_kw"] = r.next.mean;
            one["next_half_width_kw"] = orNull(r.next.halfWidth());
            one["kw_per_percent"] = r.perPercentKw;
        }
        rungs.push_back(std::move(one));
    }
    for (const RunCause c : ladder.alsoDiffers)
        also.push_back(keyOf(c));
    print({{"rungs", rungs},
           {"scatter_kw", ladder.scatterKw > 0 ? Json(ladder.scatterKw) : Json(nullptr)},
           {"sweet_spot_content", orNull(ladder.sweetSpot)},
           {"also_differs", also}},
          a.json);
    return ladder.alsoDiffers.empty() && ladder.scatterKw > 0 ? exitGood : exitFindings;
}

int worth(const WorthArguments &a) {
    const Job job = loadJob(a.job);
    const RunComparison c =
        compareRuns(job, measuredRuns(job, a.a), measuredRuns(job, a.b), viewing(a), allMeasuredRuns(job));
    Json lines = Json::array();
    for (const WorthOf &w : worthOf(c))
        lines.push_back({{"what", w.what},
                         {"step", w.step},
                         {"kw_per_unit", w.kwPer},
                         {"half_width", orNull(w.kwPerHalf)},
                         {"alone", w.alone}});
    Json out{{"answer", c.answer()},
             {"average_gain_kw", c.averageKw.mean},
             {"half_width_kw", orNull(c.averageKw.halfWidth())},
             {"worth", lines}};
    if (const auto m = moneyOf(job, c))
        out["money"] = {{"content_a", m->before},
                        {"content_b", m->after},
                        {"tank_l", m->tankL},
                        {"more_per_tank", m->morePerTank},
                        {"per_kw", orNull(m->perKw)}};
    else
        out["money"] = nullptr;
    print(out, a.json);
    return c.averageKw.distinguishable() && c.oneCause() ? exitGood : exitFindings;
}

int dynos(const WorthArguments &a) {
    const Job job = loadJob(a.job);
    Json out = Json::array();
    bool judged = true;
    for (const DynoFactor &f : dynoFactors(job, allMeasuredRuns(job), viewing(a))) {
        judged = judged && std::isfinite(f.half);
        out.push_back({{"from", f.from},
                       {"to", f.to},
                       {"factor", f.factor},
                       {"half_width", orNull(f.half)},
                       {"shared_sets", f.shared},
                       {"runs", f.runs}});
    }
    print({{"factors", out}}, a.json);
    return judged && !out.empty() ? exitGood : exitFindings;
}

int road(const CLI::App &sub, const WorthArguments &a) {
    JobEdit edit(a.job, a.apply);
    const Job &job = edit.before();
    const auto reviews = reviewsOf(job, a.job, {a.log}, LogsUnnamed::all);
    if (reviews.empty()) throw InputError("--log", verbatim("a log that can be read"), std::string("none"));
    const LogReview &log = *reviews.front();
    const std::vector<Episode> pulls = only(log.episodes(), EpisodeKind::pull);
    const auto powerOf = [&](const char *option, double which) {
        if (which < 1 || which > static_cast<double>(pulls.size()))
            throw InputError(
                option,
                verbatim("one of the pulls of this log, of which there are " + std::to_string(pulls.size())),
                std::to_string(std::lround(which)));
        const Episode &e = pulls[static_cast<std::size_t>(which) - 1];
        return roadPower(job.vehicle, motionOf(job, log, e.beginS, e.endS), roadAirKgM3(job),
                         roadDoubtOf(job));
    };
    RoadPower power = powerOf("--pull", a.pull);
    if (given(sub, "--back")) power = bothWays(power, powerOf("--back", a.back));
    Json out{{"estimate", true}, {"both_ways", power.bothWays}, {"half_width_share", power.averageHalfShare}};
    const RunPeak peak = peakOf(power.rpm, power.kw);
    out["peak_kw"] = orNull(peak.value);
    out["peak_kw_rpm"] = orNull(peak.rpm);
    out["said"] = power.said;
    if (a.apply) {
        Job after = job;
        RunStatement s = statementOf(power, log);
        s.added = timestamp();
        const auto ids = addRuns(after, {pullOf(power)}, s);
        edit.commit(after, "Road run from " + log.info().name, CellOrigin::log);
        out["id"] = runId(ids.front());
    }
    Json curve = Json::array();
    for (std::size_t i = 0; i < power.rpm.size(); ++i)
        curve.push_back({{"rpm", power.rpm[i]}, {"kw", power.kw[i]}, {"half_width", power.half[i]}});
    out["power"] = curve;
    print(out, a.json);
    return exitGood;
}

int coast(const WorthArguments &a) {
    JobEdit edit(a.job, a.apply);
    const auto reviews = reviewsOf(edit.before(), a.job, {a.log}, LogsUnnamed::all);
    if (reviews.empty()) throw InputError("--log", verbatim("a log that can be read"), std::string("none"));
    const CoastDown c =
        coastDown(edit.before().vehicle, motionOf(edit.before(), *reviews.front(), a.fromS, a.toS),
                  roadAirKgM3(edit.before()));
    if (a.apply) {
        Job after = edit.before();
        after.vehicle.rolling = c.rolling;
        after.vehicle.dragAreaM2 = c.dragAreaM2;
        edit.commit(after, "Losses by a coast-down", CellOrigin::log);
    }
    print({{"rolling", c.rolling},
           {"rolling_standard_error", c.rollingError},
           {"drag_area_m2", c.dragAreaM2},
           {"drag_area_standard_error_m2", c.dragAreaError},
           {"from_m_s", c.fromMS},
           {"to_m_s", c.toMS},
           {"windows", c.windows},
           {"said", c.said}},
          a.json);
    return exitGood;
}

} // namespace

void addRunWorthCommands(CLI::App *run, int &exitCode) {
    const auto arguments = std::make_shared<WorthArguments>();
    WorthArguments &a = *arguments;
    const auto addSub = [&](const char *name, const char *help, bool viewed) {
        CLI::App *sub = run->add_subcommand(name, help);
        sub->add_option("job", a.job, "A job")->required();
        sub->add_flag("--json", a.json, "As JSON");
        if (viewed) {
            addNumber(sub, "--smooth-rpm", a.how.smoothRpm, between(0, 5000, Dimension::engineSpeed),
                      "Window of the smoothing, the same for all; 0 for none");
            sub->add_option("--standard", a.standard,
                            "Corrected to: none (as without it), j1349, iso1585, std or din");
        }
        return sub;
    };
    const auto addDrift = [&](CLI::App *sub) {
        sub->add_flag("--no-drift", a.noDrift, "Takes no drift from run to run out");
    };
    CLI::App *cam = addSub("cam", "Where the torque of two cams crosses, and where to switch", true);
    addDrift(cam);
    cam->add_option("--low", a.low, "Ids of runs on the low cam")->required();
    cam->add_option("--high", a.high, "Ids of runs on the high cam")->required();
    cam->add_option("--log", a.log, "A log with a cam channel: says the step of λ at its switches");
    cam->callback([&exitCode, arguments] { exitCode = cams(*arguments); });

    CLI::App *shape = addSub("shape", "What boost does over runs: spike, sag, creep, wave", false);
    shape->add_option("--runs", a.runs, "Ids; without them all");
    shape->callback([&exitCode, arguments] { exitCode = shapes(*arguments); });

    CLI::App *swept =
        addSub("sweep", "Power at a speed over spark, content, λ or boost, and where it is most", true);
    swept->add_option("--runs", a.runs, "Ids")->required();
    swept->add_option("--over", a.over, "spark, content, lambda or boost");
    addNumber(swept, "--rpm", a.rpm, between(1, 30'000, Dimension::engineSpeed), "At this speed")->required();
    swept->callback([&exitCode, arguments] { exitCode = sweep(*arguments); });

    CLI::App *ladder = addSub(
        "contents", "Power over content, and where the next step cannot be told from the scatter", true);
    addDrift(ladder);
    ladder->add_option("--runs", a.runs, "Ids; without them all");
    ladder->callback([&exitCode, arguments] { exitCode = contents(*arguments); });

    CLI::App *worths =
        addSub("worth", "What a gain comes to per degree, kPa, per cent of content and tank", true);
    addDrift(worths);
    worths->add_option("--a", a.a, "Ids of the runs before")->required();
    worths->add_option("--b", a.b, "Ids of the runs after")->required();
    worths->callback([&exitCode, arguments] { exitCode = worth(*arguments); });

    CLI::App *factor = addSub("dynos", "What dynos show of each other, from runs that both have", true);
    factor->callback([&exitCode, arguments] { exitCode = dynos(*arguments); });

    CLI::App *roads = addSub("road", "Power at the wheels from a pull on the road: an estimate", false);
    roads->add_option("--log", a.log, "Its id or its name")->required();
    addNumber(roads, "--pull", a.pull, wholeBetween(1, 100'000), "Which pull of the log")->required();
    addNumber(roads, "--back", a.back, wholeBetween(1, 100'000), "A pull of it in the other direction");
    roads->add_flag("--apply", a.apply, "Takes it as a run of the job");
    roads->callback([&exitCode, arguments, roads] { exitCode = road(*roads, *arguments); });

    CLI::App *coasts = addSub("coast", "Rolling resistance and drag area from rolling out", false);
    coasts->add_option("--log", a.log, "Its id or its name")->required();
    addNumber(coasts, "--from-s", a.fromS, between(-1e9, 1e9, Dimension::seconds),
              "From this time of the log")
        ->required();
    addNumber(coasts, "--to-s", a.toS, between(-1e9, 1e9, Dimension::seconds), "To this one")->required();
    coasts->add_flag("--apply", a.apply, "Takes them into the job");
    coasts->callback([&exitCode, arguments] { exitCode = coast(*arguments); });
}

} // namespace wheelwright
