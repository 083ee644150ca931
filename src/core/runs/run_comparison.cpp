// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/runs/run_comparison.h"

#include "core/base/error.h"
#include "core/job/job.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <map>
#include <numeric>
#include <set>
#include <tuple>

namespace wheelwright {
namespace {

using RunsSeen = std::span<const std::shared_ptr<const MeasuredRun>>;
using S = CorrectionStandard;

// From what a run's numbers are stated for to what is asked for.
double factorOf(const Run &run, S asked, bool &uncorrected) {
    const std::string where = "run " + run.id;
    uncorrected = run.standard == S::notSaid;
    const S stated = uncorrected ? S::none : run.standard;
    if (stated == asked) return 1;
    const auto air = airOf(run);
    if (!air)
        throw InputError(
            where,
            MARKED("expected.air_of_run", "pressure, temperature and humidity of the air it was made in"),
            MARKED("found.air_of_run", "none stated"));
    return correctionBetween(stated, asked, *air);
}

std::vector<double> speedsOf(RunsSeen runs, const RunViewing &how) {
    double from = how.fromRpm.value_or(0), to = how.toRpm.value_or(std::numeric_limits<double>::infinity());
    for (const auto &r : runs) {
        from = std::max(from, r->curve.rpm.front());
        to = std::min(to, r->curve.rpm.back());
    }
    std::vector<double> out;
    constexpr double rounding = 1e-9;
    for (double k = std::ceil(from / how.stepRpm - rounding); k * how.stepRpm <= to + rounding; ++k)
        out.push_back(k * how.stepRpm);
    if (out.size() < 2)
        throw InputError("runs", MARKED("expected.common_speeds", "engine speeds that all of them have"),
                         Phrase{MARKED("found.speeds", "{0} to {1}"),
                                {{from, Dimension::engineSpeed}, {to, Dimension::engineSpeed}}});
    return out;
}

std::vector<double> times(std::vector<double> v, double factor) {
    for (double &x : v)
        x *= factor;
    return v;
}

SeenRun seenOne(const MeasuredRun &r, std::span<const double> rpm, const RunViewing &how) {
    SeenRun s;
    s.id = r.run.id;
    s.factor = factorOf(r.run, how.standard, s.uncorrected);
    s.stated = r.run.standard;
    s.air = airOf(r.run);
    const auto shown = [&](std::span<const double> values, std::span<const double> at, double factor) {
        return times(smoothedAt(r.curve.rpm, values, how.smoothRpm, at), factor);
    };
    s.torqueNm = shown(r.curve.torqueNm, rpm, s.factor);
    s.powerKw = shown(r.curve.powerKw, rpm, s.factor);
    for (const auto &[role, values] : r.curve.lanes)
        s.lanes[role] = shown(values, rpm, 1);
    const auto peaks = [&](std::span<const double> values, RunPeak &raw, RunPeak &smooth) {
        raw = peakOf(r.curve.rpm, times({values.begin(), values.end()}, s.factor));
        smooth = peakOf(r.curve.rpm, shown(values, r.curve.rpm, s.factor));
    };
    peaks(r.curve.powerKw, s.rawPower, s.power);
    peaks(r.curve.torqueNm, s.rawTorque, s.torque);
    return s;
}

void sayCorrections(RunsSeen runs, const SeenRuns &view, const RunViewing &how, bool boosted,
                    std::vector<Phrase> &said) {
    std::set<S> stated;
    bool taken = false, outside = false;
    double worst = 1;
    for (std::size_t i = 0; i < runs.size(); ++i) {
        stated.insert(runs[i]->run.standard);
        taken = taken || view.runs[i].uncorrected;
        const auto air = airOf(runs[i]->run);
        const double factor = air ? correctionFactor(how.standard, *air) : 1;
        if (factor < leastCorrection || factor > mostCorrection) {
            outside = true;
            if (std::abs(factor - 1) > std::abs(worst - 1)) worst = factor;
        }
    }
    if (taken)
        said.push_back(MARKED("runs.said.uncorrected", "Of some runs nobody says whether their numbers are "
                                                       "corrected: they are taken as measured."));
    if (stated.size() > 1)
        said.push_back(MARKED("runs.said.standards",
                              "These runs were stated in different ways: all of them are "
                              "worked out again from what was measured."));
    constexpr int digits = 3;
    if (outside)
        said.push_back(
            Phrase{MARKED("runs.said.outside", "The correction is {0}: outside of {1} to {2} the standards "
                                               "do not allow it."),
                   {{worst, Dimension::none, digits},
                    {leastCorrection, Dimension::none, 2},
                    {mostCorrection, Dimension::none, 2}}});
    if (boosted && how.standard != S::none)
        said.push_back(MARKED("runs.said.boosted",
                              "Boost that a controller holds does not fall with the weather: a "
                              "correction says too much here."));
}

std::vector<double> valuesAt(std::span<const SeenRun> runs, std::vector<double> SeenRun::*curve,
                             std::size_t k) {
    std::vector<double> out;
    for (const SeenRun &r : runs)
        out.push_back((r.*curve)[k]);
    return out;
}

double meanOver(const std::vector<double> &v) {
    return std::accumulate(v.begin(), v.end(), 0.0) / static_cast<double>(v.size());
}

std::vector<double> averages(std::span<const SeenRun> runs, std::vector<double> SeenRun::*curve) {
    std::vector<double> out;
    for (const SeenRun &r : runs)
        out.push_back(meanOver(r.*curve));
    return out;
}

RunPeak peakOfMean(std::span<const double> rpm, std::span<const SeenRun> runs,
                   std::vector<double> SeenRun::*curve) {
    std::vector<double> mean;
    for (std::size_t k = 0; k < rpm.size(); ++k)
        mean.push_back(meanOver(valuesAt(runs, curve, k)));
    return peakOf(rpm, mean);
}

// How a difference is told from scatter, whatever is compared.
class Judge {
  public:
    Judge(DriftModel model, std::size_t before, bool welched)
        : m_model(std::move(model)), m_before(before), m_welch(welched) {}
    ScatterFrom from() const { return m_welch ? ScatterFrom::welch : m_model.from; }
    const DriftModel &model() const { return m_model; }
    GainEstimate of(std::span<const double> values) const {
        if (m_welch) return welch(values.first(m_before), values.subspan(m_before));
        return gainBy(m_model, values);
    }

  private:
    DriftModel m_model;
    std::size_t m_before;
    bool m_welch;
};

// Of runs that were made twice, on the dyno and in the mode of those that are compared.
std::vector<MeasuredRuns> controlsFor(const RunDifferenceFinder &finder, const MeasuredRuns &all,
                                      const Run &like) {
    MeasuredRuns able;
    std::ranges::copy_if(all, std::back_inserter(able), [&](const auto &r) {
        return r->run.dyno == like.dyno && r->run.mode == like.mode && r->run.down == like.down;
    });
    return finder.controlSets(able);
}

// The scatter that other runs had takes the place of what these cannot tell.
void judgeByControls(RunComparison &out, const std::vector<MeasuredRuns> &controls, const RunViewing &how) {
    MeasuredRuns flat;
    for (const MeasuredRuns &set : controls)
        flat.insert(flat.end(), set.begin(), set.end());
    RunViewing same = how;
    same.fromRpm = out.rpm.front();
    same.toRpm = out.rpm.back();
    const SeenRuns view = seen(flat, same);
    if (view.rpm.size() != out.rpm.size()) return; // they do not cover these speeds
    const DriftModel model = driftModel(placesOf(controls), how.drift);
    const double share =
        std::sqrt(1 / static_cast<double>(out.before.size()) + 1 / static_cast<double>(out.after.size()));
    const auto lend = [&](GainEstimate &g, std::span<const double> values) {
        const RunScatter s = scatterBy(model, values);
        g.freedom = s.freedom;
        g.standardError = s.sigma * share;
    };
    for (std::size_t k = 0; k < out.rpm.size(); ++k) {
        lend(out.gainKw[k], valuesAt(view.runs, &SeenRun::powerKw, k));
        lend(out.gainNm[k], valuesAt(view.runs, &SeenRun::torqueNm, k));
    }
    lend(out.averageKw, averages(view.runs, &SeenRun::powerKw));
    lend(out.averageNm, averages(view.runs, &SeenRun::torqueNm));
    out.scatter = scatterBy(model, averages(view.runs, &SeenRun::powerKw));
    out.scatterFrom = ScatterFrom::controls;
}

void requireApart(const MeasuredRuns &before, const MeasuredRuns &after) {
    std::set<std::string> ids;
    for (const MeasuredRuns *side : {&before, &after}) {
        if (side->empty())
            throw InputError("runs", MARKED("expected.runs_of_both", "a run on each side at least"),
                             MARKED("found.none", "none"));
        for (const auto &r : *side)
            if (!ids.insert(r->run.id).second)
                throw InputError("run " + r->run.id,
                                 MARKED("expected.run_once", "each run once, on one of both sides"),
                                 MARKED("found.twice", "it stands there twice"));
    }
}

void sayScatter(RunComparison &out) {
    switch (out.scatterFrom) {
    case ScatterFrom::none:
        out.said.push_back(MARKED("runs.said.no_scatter",
                                  "Not judged: no run was made twice, so nobody knows by how "
                                  "much two runs of the same differ."));
        break;
    case ScatterFrom::pooled:
        out.said.push_back(MARKED("runs.said.pooled",
                                  "Too few runs to tell a drift from what was changed: none is "
                                  "taken out."));
        break;
    case ScatterFrom::controls:
        out.said.push_back(MARKED("runs.said.controls",
                                  "These runs alone say nothing of their scatter: that of runs "
                                  "that were made twice stands for it, and no drift is taken "
                                  "out."));
        break;
    default:
        break;
    }
}

void sayCauses(RunComparison &out) {
    const std::vector<RunCause> causes = out.differences.causes();
    if (causes.size() > 1) {
        out.said.push_back(
            MARKED("runs.said.which", "More than one thing differs: nobody can say which did it."));
        for (const TellingPair &p : out.telling)
            out.said.push_back(
                Phrase{MARKED("runs.said.telling", "Runs {a} and {b} differ in {A} alone: they tell."),
                       {},
                       {p.before, p.after},
                       {titleOf(p.cause)}});
        if (out.telling.empty())
            out.said.push_back(
                Phrase{MARKED("runs.said.make", "A run as those before with {A} of those after, and "
                                                "nothing else changed, would tell."),
                       {},
                       {},
                       {titleOf(causes.front())}});
    } else if (causes.empty()) {
        out.said.push_back(MARKED("runs.said.nothing_differs",
                                  "As far as anybody has said, nothing was changed between "
                                  "these runs."));
    }
    if (!out.differences.notKnown.empty()) {
        std::vector<Phrase> names;
        for (const PhraseText &t : out.differences.notKnown)
            names.emplace_back(t);
        out.said.push_back(
            Phrase{MARKED("runs.said.not_known", "Not known of all of them, and it would matter: {A}."),
                   {},
                   {},
                   {listed(names)}});
    }
}

void sayHoles(RunsSeen runs, std::vector<Phrase> &said) {
    for (const auto &r : runs)
        for (const RunCut &cut : cutsOf(r->curve))
            said.push_back(Phrase{
                MARKED("runs.said.hole", "Run {a} has a hole at {0}: its torque falls to {1} of what is "
                                         "around it and comes back, as with a cut. It is in the gain and "
                                         "in the scatter; without this run they are of whole pulls."),
                {{(cut.fromRpm + cut.toRpm) / 2, Dimension::engineSpeed, 0}, {cut.share, Dimension::ratio}},
                {r->run.id}});
}

// What is not known of the car is the same in all its runs: it scales the gain rather than moving it.
void sayRoad(RunsSeen runs, std::vector<Phrase> &said) {
    double within = 0;
    for (const auto &r : runs)
        within = std::max(within, r->run.knownWithin);
    if (within > 0)
        said.push_back(Phrase{MARKED("runs.said.known_within",
                                     "These numbers are known to {0} at best beside their scatter: so is "
                                     "every power here, and the gain as a share of itself."),
                              {{within, Dimension::ratio}}});
}

} // namespace

std::vector<RunPlace> placesOf(std::span<const MeasuredRuns> groups) {
    std::vector<RunPlace> out;
    for (std::size_t g = 0; g < groups.size(); ++g)
        for (const auto &r : groups[g]) {
            RunPlace p{g, r->run.order, {}};
            if (r->run.startIntakeC != 0) p.warmC = r->run.startIntakeC;
            out.push_back(p);
        }
    return out;
}

MeasuredRuns ofOneKind(const MeasuredRuns &runs) {
    std::map<std::tuple<std::string, RunMode, bool>, MeasuredRuns> kinds;
    for (const auto &r : runs)
        kinds[{r->run.dyno, r->run.mode, r->run.down}].push_back(r);
    MeasuredRuns most;
    for (const auto &[kind, some] : kinds)
        if (some.size() > most.size()) most = some;
    return most;
}

SeenRuns seen(RunsSeen runs, const RunViewing &how, bool boosted) {
    const auto onRoad =
        std::ranges::count_if(runs, [](const auto &r) { return r->run.mode == RunMode::road; });
    if (onRoad > 0 && onRoad < std::ssize(runs))
        throw InputError(
            "runs", MARKED("expected.dyno_or_road", "runs of a dyno, or of the road alone"),
            MARKED("found.dyno_and_road", "both: an estimate from the road is no dyno's number"));
    SeenRuns out;
    out.rpm = speedsOf(runs, how);
    for (const auto &r : runs)
        out.runs.push_back(seenOne(*r, out.rpm, how));
    sayCorrections(runs, out, how, boosted, out.said);
    return out;
}

RunScatterOverSpeed scatterOf(std::span<const MeasuredRuns> sets, const RunViewing &how) {
    RunScatterOverSpeed out;
    if (sets.empty()) return out;
    MeasuredRuns flat;
    for (const MeasuredRuns &set : sets)
        flat.insert(flat.end(), set.begin(), set.end());
    const SeenRuns view = seen(flat, how);
    const DriftModel model = driftModel(placesOf(sets), how.drift);
    for (std::size_t k = 0; k < view.rpm.size(); ++k) {
        const std::vector<double> values = valuesAt(view.runs, &SeenRun::powerKw, k);
        out.meanKw.push_back(meanOver(values));
        out.sigmaKw.push_back(scatterBy(model, values).sigma);
    }
    out.rpm = view.rpm;
    out.average = scatterBy(model, averages(view.runs, &SeenRun::powerKw));
    return out;
}

std::vector<std::string> heroesOf(const Job &job, const MeasuredRuns &set) {
    std::vector<std::pair<double, std::string>> starts;
    for (const auto &r : set)
        if (r->run.startIntakeC != 0) starts.emplace_back(r->run.startIntakeC, r->run.id);
    constexpr std::size_t fewest = 3; // of two, nobody knows which one is usual
    if (starts.size() < fewest) return {};
    std::ranges::sort(starts);
    if (starts[1].first - starts[0].first > limitOf(job, "runs.same.heat")) return {starts[0].second};
    return {};
}

std::pair<MeasuredRuns, MeasuredRuns> firstLook(const Job &job, const MeasuredRuns &runs) {
    const MeasuredRuns alike = ofOneKind(runs);
    const std::vector<MeasuredRuns> sets = RunDifferenceFinder(job).controlSets(alike);
    if (sets.size() > 1) return {sets.front(), sets.back()};
    if (alike.size() > 1) return {{alike[alike.size() - 2]}, {alike.back()}};
    return {};
}

RunComparison compareRuns(const Job &job, const MeasuredRuns &before, const MeasuredRuns &after,
                          const RunViewing &how, const MeasuredRuns &all) {
    requireApart(before, after);
    MeasuredRuns both = before;
    both.insert(both.end(), after.begin(), after.end());
    SeenRuns view = seen(both, how, job.engine.charging != Charging::none);
    const auto split = static_cast<std::ptrdiff_t>(before.size());
    RunComparison out;
    out.rpm = std::move(view.rpm);
    out.standard = how.standard;
    const std::array groups{before, after};
    const bool welched = !how.drift && before.size() > 1 && after.size() > 1;
    const Judge judge(driftModel(placesOf(groups), how.drift), before.size(), welched);
    for (std::size_t k = 0; k < out.rpm.size(); ++k) {
        out.gainKw.push_back(judge.of(valuesAt(view.runs, &SeenRun::powerKw, k)));
        out.gainNm.push_back(judge.of(valuesAt(view.runs, &SeenRun::torqueNm, k)));
    }
    out.averageKw = judge.of(averages(view.runs, &SeenRun::powerKw));
    out.averageNm = judge.of(averages(view.runs, &SeenRun::torqueNm));
    out.scatterFrom = judge.from();
    out.scatter = scatterBy(judge.model(), averages(view.runs, &SeenRun::powerKw));
    out.before.assign(view.runs.begin(), view.runs.begin() + split);
    out.after.assign(view.runs.begin() + split, view.runs.end());
    for (std::size_t k = 1; k < out.rpm.size(); ++k) // trapezoids
        out.areaKwRpm += (out.gainKw[k - 1].mean + out.gainKw[k].mean) / 2 * (out.rpm[k] - out.rpm[k - 1]);
    out.peakBeforeKw = peakOfMean(out.rpm, out.before, &SeenRun::powerKw);
    out.peakAfterKw = peakOfMean(out.rpm, out.after, &SeenRun::powerKw);
    out.peakBeforeNm = peakOfMean(out.rpm, out.before, &SeenRun::torqueNm);
    out.peakAfterNm = peakOfMean(out.rpm, out.after, &SeenRun::torqueNm);

    const RunDifferenceFinder finder(job);
    if (out.scatterFrom == ScatterFrom::none)
        if (const auto controls = controlsFor(finder, all, before.front()->run); !controls.empty())
            judgeByControls(out, controls, how);
    out.differences =
        finder.between(before, after, {how.standard != S::none, judge.model().heatTaken && !welched});
    const std::vector<RunCause> causes = out.differences.causes();
    if (causes.size() > 1) out.telling = finder.tellingPairs(all.empty() ? both : all, causes);
    for (const MeasuredRuns &side : groups)
        for (std::string &id : heroesOf(job, side))
            out.heroes.push_back(std::move(id));
    if (out.scatter.freedom > 0) out.runsNeeded = runsToSee(out.averageKw.mean, out.scatter.sigma, how.drift);
    out.said = std::move(view.said);
    sayScatter(out);
    for (const std::string &id : out.heroes)
        out.said.push_back(
            Phrase{MARKED("runs.said.hero", "Run {a} began cooler than the others of its set: a run after "
                                            "cooling, not what the engine does again and again."),
                   {},
                   {id}});
    sayHoles(both, out.said);
    sayRoad(both, out.said);
    sayCauses(out);
    return out;
}

Explanation RunComparison::explainGain() const {
    const Measured gain{averageKw.mean, Dimension::power, 2};
    Explanation e;
    e.title = MARKED("gain.title", "Average gain of power");
    e.result = gain;
    e.formula =
        MARKED("gain.formula", "mean after − mean before ± t(95 %, degrees of freedom) · standard error");
    const double reach = averageKw.judged() ? averageKw.halfWidth() / averageKw.standardError : 0;
    const bool exact = averageKw.judged() && averageKw.standardError > 0;
    e.substituted = exact ? Phrase{MARKED("gain.substituted", "{0} ± {1} · {2} = {0} ± {3}"),
                                   {gain,
                                    {reach, Dimension::none, 3},
                                    {averageKw.standardError, Dimension::power, 2},
                                    {averageKw.halfWidth(), Dimension::power, 2}}}
                          : Phrase{MARKED("gain.alone", "{0}; nobody knows the scatter"), {gain}};
    e.inputs = {
        {"n",
         MARKED("gain.runs", "runs after and before"),
         {static_cast<double>(after.size() + before.size()), Dimension::count},
         {}},
        {"f", MARKED("gain.freedom", "degrees of freedom"), {averageKw.freedom, Dimension::none, 1}, {}}};
    if (scatter.freedom > 0)
        e.inputs.push_back(
            {"s", MARKED("gain.sigma", "scatter of one run"), {scatter.sigma, Dimension::power, 2}, {}});
    if (scatter.perRun)
        e.inputs.push_back({"d",
                            MARKED("gain.drift", "drift from run to run, taken out"),
                            {*scatter.perRun, Dimension::power, 2},
                            {}});
    if (scatter.perK)
        e.inputs.push_back({"h",
                            MARKED("gain.heat", "for each K of intake air at the start, taken out"),
                            {*scatter.perK, Dimension::power, 2},
                            {}});
    e.source =
        scatterFrom == ScatterFrom::welch
            ? Phrase(MARKED(
                  "gain.source.welch",
                  "Welch (1947), Biometrika 34, 28; Student's t: Abramowitz and Stegun (1964), eq. 26.7.1"))
            : Phrase(MARKED("gain.source.regression", "Linear regression on set, order and heat: Draper and "
                                                      "Smith (1998), section 3.1; Student's t: "
                                                      "Abramowitz and Stegun (1964), eq. 26.7.1"));
    e.uncertainty = MARKED("gain.uncertainty",
                           "Holds in 95 of 100 such days, where runs scatter alike and the drift is even.");
    e.change = MARKED("gain.change", "More runs of each, made turn and turn about.");
    return e;
}

GainEstimate RunComparison::at(double atRpm) const {
    const auto nearest = std::ranges::min_element(rpm, {}, [atRpm](double v) { return std::abs(v - atRpm); });
    return gainKw[static_cast<std::size_t>(nearest - rpm.begin())];
}

Phrase RunComparison::answer() const {
    const std::string a = std::to_string(before.size()), b = std::to_string(after.size());
    const std::string plus = averageKw.mean > 0 ? "+" : "";
    const Measured gain{averageKw.mean, Dimension::power, 1},
        half{averageKw.halfWidth(), Dimension::power, 1};
    if (!averageKw.judged())
        return {MARKED("runs.answer.not_judged",
                       "Not judged: {c}{0} ({a} against {b}), and nobody knows the scatter"),
                {gain},
                {a, b, plus}};
    const bool corrected = scatterFrom == ScatterFrom::drift || scatterFrom == ScatterFrom::heat;
    if (!averageKw.distinguishable())
        return {MARKED("runs.answer.nothing",
                       "{c}{0} ± {1}: not distinguishable from run-to-run scatter ({a} against {b})"),
                {gain, half},
                {a, b, plus}};
    if (corrected)
        return {MARKED("runs.answer.corrected", "{c}{0} ± {1} ({a} against {b}, drift-corrected)"),
                {gain, half},
                {a, b, plus}};
    return {MARKED("runs.answer.gain", "{c}{0} ± {1} ({a} against {b})"), {gain, half}, {a, b, plus}};
}

} // namespace wheelwright
