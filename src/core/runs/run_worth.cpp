// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/runs/run_worth.h"

#include "core/base/error.h"
#include "core/base/student_t.h"
#include "core/job/job.h"
#include "core/study/shelf.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numeric>

namespace wheelwright {
namespace {

using R = ChannelRole;

// A unit of each as people count it, in internal units.
double unitOfWorth(std::string_view what) {
    if (what == "content" || what == "lambda") return 0.01;
    return what == "spark" || what == "boost" ? 1 : 0;
}

double averagePower(const SeenRun &r) {
    return std::accumulate(r.powerKw.begin(), r.powerKw.end(), 0.0) / static_cast<double>(r.powerKw.size());
}

double contentOfRun(const Run &run) {
    if (run.contentBasis == RunContentBasis::none)
        throw InputError("run " + run.id, MARKED("expected.content_of_run", "a content"),
                         MARKED("found.not_known", "not known"));
    return run.content;
}

struct SweepDefinition {
    SweepOver over;
    std::string_view key;
    R role;
    double scale; ///< from the internal unit
};
constexpr std::array sweeps{SweepDefinition{SweepOver::spark, "spark", R::spark, 1},
                            SweepDefinition{SweepOver::content, "content", R::ethanol, 100},
                            SweepDefinition{SweepOver::lambda, "lambda", R::lambda, 100},
                            SweepDefinition{SweepOver::boost, "boost", R::map, 1}};

} // namespace

std::vector<WorthOf> worthOf(const RunComparison &c) {
    std::vector<WorthOf> out;
    const std::vector<RunCause> causes = c.differences.causes();
    for (const RunDifference &d : c.differences.found) {
        const double unit = unitOfWorth(d.what), step = d.to - d.from;
        if (unit == 0 || step == 0) continue;
        WorthOf w{d.what, d.title, step, d.dimension, 0, 0, false};
        w.kwPer = c.averageKw.mean / step * unit;
        w.kwPerHalf = c.averageKw.halfWidth() / std::abs(step) * unit;
        w.alone = causes.size() == 1 && causes.front() == d.cause;
        out.push_back(w);
    }
    return out;
}

std::optional<double> pricePerLitre(const Job &job, double content) {
    std::vector<std::pair<double, double>> fuels; // content, price
    for (const Fuel &f : shelfOf(job, {}))
        if (f.pricePerL > 0 && f.inPlans && f.treatRate == 0)
            fuels.emplace_back(f.alcohol.value, f.pricePerL);
    std::optional<double> best;
    constexpr double near = 0.005;
    for (const auto &[a, pa] : fuels)
        for (const auto &[b, pb] : fuels) {
            if (content < std::min(a, b) - near || content > std::max(a, b) + near) continue;
            const double share = std::abs(b - a) < near ? 0 : std::clamp((content - a) / (b - a), 0.0, 1.0);
            const double price = pa + share * (pb - pa);
            if (!best || price < *best) best = price;
        }
    return best;
}

std::optional<FuelMoney> moneyOf(const Job &job, const RunComparison &c) {
    const auto content = std::ranges::find(c.differences.found, "content", &RunDifference::what);
    if (content == c.differences.found.end()) return std::nullopt;
    const auto before = pricePerLitre(job, content->from), after = pricePerLitre(job, content->to);
    if (!before || !after) return std::nullopt;
    FuelMoney m{content->from, content->to, job.tank.capacityL, (*after - *before) * job.tank.capacityL, {}};
    if (c.averageKw.distinguishable()) m.perKw = m.morePerTank / c.averageKw.mean;
    return m;
}

ContentLadder contentLadder(const Job &job, const MeasuredRuns &runs, const RunViewing &how) {
    const double window = limitOf(job, "runs.same.content");
    MeasuredRuns sorted = runs;
    for (const auto &r : runs)
        contentOfRun(r->run);
    std::ranges::stable_sort(sorted, {}, [](const auto &r) { return r->run.content; });
    std::vector<MeasuredRuns> rungs;
    for (const auto &r : sorted) {
        if (rungs.empty() || r->run.content - rungs.back().front()->run.content > window)
            rungs.emplace_back();
        rungs.back().push_back(r);
    }
    if (rungs.size() < 2)
        throw InputError("runs", MARKED("expected.two_contents", "runs of two contents at least"),
                         std::to_string(rungs.size()));
    MeasuredRuns flat;
    for (const MeasuredRuns &rung : rungs)
        flat.insert(flat.end(), rung.begin(), rung.end());
    const SeenRuns view = seen(flat, how);
    const DriftModel model = driftModel(placesOf(rungs), how.drift);
    std::vector<double> values;
    for (const SeenRun &r : view.runs)
        values.push_back(averagePower(r));
    const LeastSquares::Solution found = model.fit.solve(values);
    ContentLadder out;
    for (std::size_t k = 0; k < rungs.size(); ++k) {
        ContentRung rung;
        for (const auto &r : rungs[k]) {
            rung.runs.push_back(r->run.id);
            rung.content += r->run.content / static_cast<double>(rungs[k].size());
        }
        rung.meanKw = found.unknowns[k];
        rung.halfKw = k == 0 ? 0 : gainBy(model, values, 0, k).halfWidth();
        out.rungs.push_back(std::move(rung));
    }
    const RunScatter scatter = scatterBy(model, values);
    out.scatterKw = scatter.sigma;
    for (std::size_t k = 0; k + 1 < out.rungs.size(); ++k) {
        ContentRung &rung = out.rungs[k];
        rung.next = gainBy(model, values, k, k + 1);
        constexpr double percent = 100;
        rung.perPercentKw = rung.next.mean / ((out.rungs[k + 1].content - rung.content) * percent);
        if (!out.sweetSpot && rung.next.judged() && !(rung.next.distinguishable() && rung.next.mean > 0))
            out.sweetSpot = rung.content;
    }
    const RunDifferenceFinder finder(job);
    for (std::size_t k = 1; k < rungs.size(); ++k)
        for (const RunCause cause :
             finder.between(rungs[k - 1], rungs[k], {how.standard != CorrectionStandard::none, how.drift})
                 .causes())
            if (cause != RunCause::fuel && std::ranges::find(out.alsoDiffers, cause) == out.alsoDiffers.end())
                out.alsoDiffers.push_back(cause);
    return out;
}

std::string_view keyOf(SweepOver over) {
    return sweeps[static_cast<std::size_t>(over)].key;
}

SweepOver sweepOverByKey(std::string_view key) {
    for (const SweepDefinition &d : sweeps)
        if (d.key == key) return d.over;
    throw InputError("over",
                     Phrase{MARKED("expected.one_of", "one of {a}"), {}, {"spark, content, lambda, boost"}},
                     "'" + echoed(key, 30) + "'");
}

PhraseText titleOf(SweepOver over) {
    return definitionOf(sweeps[static_cast<std::size_t>(over)].role).title;
}

Dimension dimensionOf(SweepOver over) {
    return definitionOf(sweeps[static_cast<std::size_t>(over)].role).dimension;
}

double stepOf(SweepOver over) {
    return 1 / sweeps[static_cast<std::size_t>(over)].scale;
}

std::vector<RunCause> alsoDiffering(const Job &job, const MeasuredRuns &runs, SweepOver over) {
    const RunCause swept = over == SweepOver::spark     ? RunCause::spark
                           : over == SweepOver::content ? RunCause::fuel
                           : over == SweepOver::lambda  ? RunCause::mixture
                                                        : RunCause::boost;
    const RunDifferenceFinder finder(job);
    std::vector<RunCause> out;
    for (std::size_t i = 1; i < runs.size(); ++i)
        for (const RunCause c :
             finder.between(std::span(runs).first(1), std::span(runs).subspan(i, 1), {true, true}).causes())
            if (c != swept && std::ranges::find(out, c) == out.end()) out.push_back(c);
    return out;
}

Explanation explainSweep(const SparkSweep &s, SweepOver over) {
    constexpr int digits = 3;
    const auto plain = [](double v) { return Measured{v, Dimension::none, digits}; };
    Explanation e;
    e.title = MARKED("sweep.best.title", "Where power is most");
    e.result = {s.bestDeg.value_or(std::nan("")) * stepOf(over), dimensionOf(over)};
    e.formula = MARKED("sweep.best.formula", "P = P₀ + b (x − x̄) + c (x − x̄)², most at x̄ − b / 2c");
    e.substituted = {
        MARKED("sweep.best.substituted", "{0} − {1} / (2 · {2}) = {3}"),
        {plain(s.middleDeg), plain(s.slope), plain(s.bend), plain(s.bestDeg.value_or(std::nan("")))}};
    e.inputs = {
        {"n",
         MARKED("sweep.best.points", "runs"),
         {static_cast<double>(s.points.size()), Dimension::count},
         {}},
        {"x̄",
         MARKED("sweep.best.middle", "their mean; content in per cent, λ in hundredths"),
         plain(s.middleDeg),
         {}},
        {"b", MARKED("sweep.best.slope", "slope there"), plain(s.slope), {}},
        {"c", MARKED("sweep.best.bend", "bend"), plain(s.bend), {}},
        {"s", MARKED("sweep.best.sigma", "scatter about the parabola"), {s.sigma, Dimension::power, 2}, {}}};
    e.source =
        MARKED("sweep.best.source", "A parabola near the best: Heywood (1988) section 9.1; the interval of a "
                                    "ratio: Fieller (1954), J. R. Stat. Soc. B 16, 175");
    e.uncertainty =
        MARKED("sweep.best.uncertainty", "95 % where the scatter of runs is even and no drift goes with "
                                         "the sweep.");
    e.change = MARKED("sweep.best.change", "More steps on both sides of the best, made up and down again.");
    return e;
}

SparkSweep sweepOf(const MeasuredRuns &runs, SweepOver over, double rpm, const RunViewing &how) {
    const SweepDefinition &d = sweeps[static_cast<std::size_t>(over)];
    std::vector<SweepPoint> points;
    const std::array at{rpm};
    for (const auto &r : runs) {
        const std::string where = "run " + r->run.id;
        if (rpm < r->curve.rpm.front() || rpm > r->curve.rpm.back())
            throw InputError(where, MARKED("expected.speed_of_sweep", "the speed of the sweep among its own"),
                             Phrase{MARKED("found.speeds", "{0} to {1}"),
                                    {{r->curve.rpm.front(), Dimension::engineSpeed},
                                     {r->curve.rpm.back(), Dimension::engineSpeed}}});
        double x = std::nan("");
        if (r->curve.has(d.role)) x = smoothedAt(r->curve.rpm, r->curve.of(d.role), how.smoothRpm, at)[0];
        // A content that was stated counts before what a channel reads.
        if (over == SweepOver::content && r->run.contentBasis != RunContentBasis::none) x = r->run.content;
        if (!std::isfinite(x))
            throw InputError(
                where,
                Phrase{MARKED("expected.swept", "a column of {A}"), {}, {}, {definitionOf(d.role).title}},
                MARKED("found.none", "none"));
        RunViewing narrow = how;
        narrow.fromRpm = r->curve.rpm.front();
        narrow.toRpm = r->curve.rpm.back();
        const SeenRuns view = seen(std::span(&r, 1), narrow);
        points.push_back({x * d.scale, smoothedAt(r->curve.rpm, r->curve.powerKw, how.smoothRpm, at)[0] *
                                           view.runs[0].factor});
    }
    return fitSweep(points);
}

std::vector<DynoFactor> dynoFactors(const Job &job, const MeasuredRuns &runs, const RunViewing &how) {
    std::vector<std::string> dynos;
    MeasuredRuns named;
    for (const auto &r : runs) {
        if (r->run.dyno.empty()) continue;
        named.push_back(r);
        if (std::ranges::find(dynos, r->run.dyno) == dynos.end()) dynos.push_back(r->run.dyno);
    }
    // Of the same everything, whatever the dyno: as if all had run on one.
    MeasuredRuns alike;
    for (const auto &r : named) {
        Run run = r->run;
        run.dyno.clear();
        run.mode = RunMode::notSaid;
        run.loadShare = 0;
        alike.push_back(std::make_shared<const MeasuredRun>(MeasuredRun{std::move(run), r->curve}));
    }
    const RunDifferenceFinder finder(job);
    const std::vector<MeasuredRuns> sets = finder.sets(alike);
    const auto dynoOf = [&](const std::string &id) {
        return (*std::ranges::find_if(named, [&](const auto &r) { return r->run.id == id; }))->run.dyno;
    };
    std::vector<DynoFactor> out;
    for (std::size_t a = 0; a < dynos.size(); ++a)
        for (std::size_t b = a + 1; b < dynos.size(); ++b) {
            DynoFactor f{dynos[a], dynos[b], 1, std::nan(""), 0, 0};
            std::vector<std::vector<double>> columns;
            std::vector<double> logs, second;
            std::vector<std::size_t> setOf;
            for (const MeasuredRuns &set : sets) {
                MeasuredRuns both;
                bool hasA = false, hasB = false;
                for (const auto &r : set) {
                    const std::string dyno = dynoOf(r->run.id);
                    hasA = hasA || dyno == dynos[a];
                    hasB = hasB || dyno == dynos[b];
                    if (dyno == dynos[a] || dyno == dynos[b]) both.push_back(r);
                }
                if (!hasA || !hasB) continue;
                const SeenRuns view = seen(both, how);
                for (std::size_t i = 0; i < both.size(); ++i) {
                    logs.push_back(std::log(averagePower(view.runs[i])));
                    second.push_back(dynoOf(both[i]->run.id) == dynos[b] ? 1 : 0);
                    setOf.push_back(f.shared);
                }
                ++f.shared;
            }
            if (f.shared == 0) continue;
            for (std::size_t s = 0; s < f.shared; ++s) {
                columns.emplace_back();
                for (const std::size_t of : setOf)
                    columns.back().push_back(of == s ? 1 : 0);
            }
            columns.push_back(second);
            const LeastSquares fit(columns);
            const LeastSquares::Solution found = fit.solve(logs);
            f.runs = logs.size();
            f.factor = std::exp(found.unknowns.back());
            std::vector<double> contrast(fit.unknowns(), 0.0);
            contrast.back() = 1;
            if (const int freedom = fit.freedom(); freedom > 0) {
                const double error = std::sqrt(found.squares / freedom * fit.variance(contrast));
                f.half = f.factor * std::expm1(studentReach(0.95, freedom) * error);
            }
            out.push_back(std::move(f));
        }
    return out;
}

} // namespace wheelwright
