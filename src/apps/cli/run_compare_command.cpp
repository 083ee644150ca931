// SPDX-License-Identifier: GPL-3.0-or-later
// What runs say next to each other: correction, comparison, scatter.
#include "apps/cli/commands.h"
#include "apps/cli/options.h"
#include "apps/cli/report.h"
#include "apps/cli/run_options.h"
#include "core/base/error.h"
#include "core/flow/mechanical_injection.h"
#include "core/runs/run_comparison.h"

#include <nlohmann/json.hpp>

#include <cmath>

namespace wheelwright {
namespace {

using Json = nlohmann::ordered_json;

struct CompareArguments {
    std::string job, standard;
    Weather air;
    std::vector<std::string> a, b, runs;
    RunViewing how;
    double fromRpm = 0, toRpm = 0, atRpm = 0, gainKw = 0;
    bool noDrift = false, json = false;
};

Json knownNumber(double v) {
    return std::isfinite(v) ? Json(v) : Json(nullptr);
}

Json peakJson(const RunPeak &p) {
    return {{"value", knownNumber(p.value)}, {"rpm", knownNumber(p.rpm)}};
}

int correct(const CompareArguments &a) {
    Json out;
    bool outside = false;
    for (const CorrectionDefinition &d : allCorrections()) {
        const double factor = correctionFactor(d.standard, a.air);
        outside = outside || factor < leastCorrection || factor > mostCorrection;
        out[std::string(d.key)] = factor;
    }
    out["saturation_kpa"] = saturationKpa(a.air.temperatureC);
    out["vapour_kpa"] = vapourKpa(a.air);
    out["dry_kpa"] = dryKpa(a.air);
    out["air_kg_m3"] = airDensityKgM3(a.air.pressureKpa, a.air.temperatureC, a.air.humidity);
    Json said = Json::array();
    if (outside) said.push_back("A factor outside of 0.93 to 1.07: the standards do not allow it.");
    out["said"] = said;
    print(out, a.json);
    return outside ? exitFindings : exitGood;
}

RunViewing viewingOf(const CLI::App &sub, const CompareArguments &a) {
    RunViewing how = a.how;
    if (!a.standard.empty()) how.standard = standardByKey(a.standard);
    if (given(sub, "--from-rpm")) how.fromRpm = a.fromRpm;
    if (given(sub, "--to-rpm")) how.toRpm = a.toRpm;
    how.drift = !a.noDrift;
    return how;
}

Json gainsJson(const RunComparison &c, const std::vector<GainEstimate> &gains) {
    Json out = Json::array();
    for (std::size_t k = 0; k < c.rpm.size(); ++k)
        out.push_back({{"rpm", c.rpm[k]},
                       {"mean", gains[k].mean},
                       {"half_width", knownNumber(gains[k].halfWidth())},
                       {"distinguishable", gains[k].distinguishable()}});
    return out;
}

Json differencesJson(const RunDifferences &differences) {
    Json out = Json::array();
    for (const RunDifference &d : differences.found) {
        Json one{{"what", d.what},
                 {"cause", keyOf(d.cause)},
                 {"a", d.before},
                 {"b", d.after},
                 {"accounted", d.accounted}};
        if (std::isfinite(d.from) && std::isfinite(d.to)) {
            one["a_value"] = d.from;
            one["b_value"] = d.to;
        }
        if (!d.details.empty()) one["details"] = d.details;
        out.push_back(std::move(one));
    }
    return out;
}

Json runsJson(const std::vector<SeenRun> &runs) {
    Json out = Json::array();
    for (const SeenRun &r : runs)
        out.push_back({{"id", runId(r.id)},
                       {"factor", r.factor},
                       {"peak_kw", peakJson(r.power)},
                       {"peak_kw_raw", peakJson(r.rawPower)},
                       {"peak_nm", peakJson(r.torque)},
                       {"peak_nm_raw", peakJson(r.rawTorque)},
                       {"peak_kw_moved_rpm", knownNumber(r.power.rpm - r.rawPower.rpm)}});
    return out;
}

int compare(const CLI::App &sub, const CompareArguments &a) {
    const Job job = loadJob(a.job);
    const RunComparison c = compareRuns(job, measuredRuns(job, a.a), measuredRuns(job, a.b),
                                        viewingOf(sub, a), allMeasuredRuns(job));
    Json causes = Json::array(), telling = Json::array(), heroes = Json::array();
    for (const std::string &id : c.heroes)
        heroes.push_back(runId(id));
    for (const RunCause cause : c.differences.causes())
        causes.push_back(keyOf(cause));
    for (const TellingPair &p : c.telling)
        telling.push_back({{"a", runId(p.before)}, {"b", runId(p.after)}, {"cause", keyOf(p.cause)}});
    Json out{{"answer", c.answer()},
             {"average_gain_kw", c.averageKw.mean},
             {"half_width_kw", knownNumber(c.averageKw.halfWidth())},
             {"average_gain_nm", c.averageNm.mean},
             {"half_width_nm", knownNumber(c.averageNm.halfWidth())},
             {"distinguishable", c.averageKw.distinguishable()},
             {"judged", c.averageKw.judged()},
             {"freedom", c.averageKw.freedom},
             {"scatter_from", keyOf(c.scatterFrom)},
             {"scatter_kw", c.scatter.freedom > 0 ? Json(c.scatter.sigma) : Json(nullptr)},
             {"drift_kw_per_run", c.scatter.perRun ? Json(*c.scatter.perRun) : Json(nullptr)},
             {"drift_kw_per_k", c.scatter.perK ? Json(*c.scatter.perK) : Json(nullptr)},
             {"runs_needed", c.runsNeeded > 0 ? Json(c.runsNeeded) : Json(nullptr)},
             {"rpm_from", c.rpm.front()},
             {"rpm_to", c.rpm.back()},
             {"smooth_rpm", a.how.smoothRpm},
             {"standard", keyOf(viewingOf(sub, a).standard)},
             {"area_kw_rpm", c.areaKwRpm}};
    if (given(sub, "--at-rpm")) {
        const GainEstimate g = c.at(a.atRpm);
        out["at"] = {{"rpm", a.atRpm}, {"mean", g.mean}, {"half_width", knownNumber(g.halfWidth())}};
    }
    out["peak_gain_kw"] = c.peakAfterKw.value - c.peakBeforeKw.value; // the least useful: a peak is one point
    out["peak_a_kw"] = peakJson(c.peakBeforeKw);
    out["peak_b_kw"] = peakJson(c.peakAfterKw);
    out["differences"] = differencesJson(c.differences);
    out["causes"] = causes;
    out["one_cause"] = c.oneCause();
    out["not_known"] = c.differences.notKnown;
    out["telling"] = telling;
    out["heroes"] = heroes;
    out["said"] = c.said;
    out["a"] = runsJson(c.before);
    out["b"] = runsJson(c.after);
    out["gain_kw"] = gainsJson(c, c.gainKw);
    out["gain_nm"] = gainsJson(c, c.gainNm);
    print(out, a.json);
    return c.averageKw.distinguishable() && c.oneCause() ? exitGood : exitFindings;
}

int scatter(const CLI::App &sub, const CompareArguments &a) {
    const Job job = loadJob(a.job);
    const MeasuredRuns runs = a.runs.empty() ? allMeasuredRuns(job) : measuredRuns(job, a.runs);
    const RunViewing how = viewingOf(sub, a);
    // Runs that are named are taken for the same everything; of all there are, those that are known to be.
    const RunDifferenceFinder finder(job);
    const std::vector<MeasuredRuns> sets =
        a.runs.empty() ? finder.controlSets(ofOneKind(runs)) : std::vector<MeasuredRuns>{runs};
    const RunScatterOverSpeed s = scatterOf(sets, how);
    Json groups = Json::array(), lines = Json::array(), heroes = Json::array();
    for (const MeasuredRuns &set : sets) {
        Json ids = Json::array();
        for (const auto &r : set)
            ids.push_back(runId(r->run.id));
        groups.push_back(ids);
        for (const std::string &id : heroesOf(job, set))
            heroes.push_back(runId(id));
    }
    for (std::size_t k = 0; k < s.rpm.size(); ++k)
        lines.push_back({{"rpm", s.rpm[k]}, {"mean_kw", s.meanKw[k]}, {"sigma_kw", s.sigmaKw[k]}});
    const auto maybe = [](const std::optional<double> &v) { return v ? Json(*v) : Json(nullptr); };
    Json out{{"sets", groups},
             {"judged", s.average.freedom > 0},
             {"sigma_kw", s.average.freedom > 0 ? Json(s.average.sigma) : Json(nullptr)},
             {"freedom", s.average.freedom},
             {"drift_kw_per_run", maybe(s.average.perRun)},
             {"drift_kw_per_run_standard_error", maybe(s.average.perRunError)},
             {"drift_kw_per_k", maybe(s.average.perK)},
             {"drift_kw_per_k_standard_error", maybe(s.average.perKError)},
             {"heroes", heroes}};
    if (given(sub, "--gain-kw")) {
        const int n =
            s.average.freedom > 0 ? runsToSee(a.gainKw, s.average.sigma, s.average.perRun.has_value()) : 0;
        out["gain_kw"] = a.gainKw;
        out["runs_needed"] = n > 0 ? Json(n) : Json(nullptr);
    }
    out["scatter"] = lines;
    print(out, a.json);
    return s.average.freedom > 0 ? exitGood : exitFindings;
}

void addViewing(CLI::App *sub, CompareArguments &a) {
    addNumber(sub, "--smooth-rpm", a.how.smoothRpm, between(0, 5000, Dimension::engineSpeed),
              "Window of the smoothing, the same for all; 0 for none");
    addNumber(sub, "--step-rpm", a.how.stepRpm, between(1, 2000, Dimension::engineSpeed),
              "Of the speeds that are compared");
    addNumber(sub, "--from-rpm", a.fromRpm, between(0, 30'000, Dimension::engineSpeed),
              "Lowest speed that counts");
    addNumber(sub, "--to-rpm", a.toRpm, between(0, 30'000, Dimension::engineSpeed),
              "Highest speed that counts");
    sub->add_option("--standard", a.standard,
                    "Corrected to: none (as without it), j1349, iso1585, std or din");
    sub->add_flag("--no-drift", a.noDrift, "Takes no drift from run to run out: Welch's interval");
}

} // namespace

void addRunCompareCommands(CLI::App *run, int &exitCode) {
    const auto arguments = std::make_shared<CompareArguments>();
    CompareArguments &a = *arguments;
    CLI::App *corrected =
        run->add_subcommand("correct", "What each standard multiplies power by in some air");
    addNumber(corrected, "--pressure-kpa", a.air.pressureKpa, like("runs.runs", "ambient_kpa"),
              "At the place itself")
        ->required();
    addNumber(corrected, "--temperature-c", a.air.temperatureC, like("runs.runs", "ambient_c"),
              "Where the engine draws it")
        ->required();
    addNumber(corrected, "--humidity", a.air.humidity, like("runs.runs", "humidity"), "Relative")->required();
    corrected->add_flag("--json", a.json, "As JSON");
    corrected->callback([&exitCode, arguments] { exitCode = correct(*arguments); });

    const auto addSub = [&](const char *name, const char *help) {
        CLI::App *sub = run->add_subcommand(name, help);
        sub->add_option("job", a.job, "A job")->required();
        sub->add_flag("--json", a.json, "As JSON");
        addViewing(sub, a);
        return sub;
    };
    CLI::App *compared = addSub("compare", "Gain of some runs over others, and what changed between them");
    compared->add_option("--a", a.a, "Ids of the runs before")->required();
    compared->add_option("--b", a.b, "Ids of the runs after")->required();
    addNumber(compared, "--at-rpm", a.atRpm, between(0, 30'000, Dimension::engineSpeed),
              "Says the gain there too");
    compared->callback([&exitCode, arguments, compared] { exitCode = compare(*compared, *arguments); });

    CLI::App *scattered = addSub("scatter", "By how much runs of the same everything differ, and drift");
    scattered->add_option("--runs", a.runs, "Ids of runs that are the same; without them, those known to be");
    addNumber(scattered, "--gain-kw", a.gainKw, between(0.001, 100'000, Dimension::power),
              "Says how many runs it takes to see such a gain");
    scattered->callback([&exitCode, arguments, scattered] { exitCode = scatter(*scattered, *arguments); });
}

} // namespace wheelwright
