// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/limits.h"
#include "core/verify/check.h"

#include <algorithm>
#include <cmath>
#include <span>
#include <vector>

namespace wheelwright {
namespace {

constexpr PhraseText betweenCells =
    MARKED("spark.step.aspect.between_neighbouring_cells", "between neighbouring cells");
constexpr PhraseText perPercent = MARKED("spark.step.aspect.per_per_cent", "per per cent of content");

struct StepLimits {
    double cell, content;
};

// Steps from one breakpoint to the next, both reached.
void considerCells(const Evaluation &e, const ContentSlice &s, double limit,
                   std::span<const std::size_t> breakpointUnder, WorstFinder &worst) {
    const auto rpmAt = e.rpmBreakpoints();
    const auto loadAt = e.loadBreakpoints();
    const BlendedPoints spark = s.spark;
    double most = -1; // the largest step is the worst: found first, then put into words
    std::size_t mostRpm = 0;
    double mostLoad = 0;
    const auto keep = [&](double step, std::size_t i, double load) {
        if (!(step > most)) return;
        most = step;
        mostRpm = i;
        mostLoad = load;
    };
    const auto consider = [&](std::size_t i, std::size_t j, double other) {
        keep(std::abs(spark[e.index(i, j)] - other), i, e.load()[j]);
    };
    for (std::size_t a = 0; a < rpmAt.size(); ++a)
        for (std::size_t b = 0; b < loadAt.size(); ++b) {
            const std::size_t i = rpmAt[a], j = loadAt[b];
            if (j >= s.reachable[i]) break;
            if (b > 0) consider(i, j, spark[e.index(i, loadAt[b - 1])]);
            if (a > 0 && j < s.reachable[rpmAt[a - 1]]) consider(i, j, spark[e.index(rpmAt[a - 1], j)]);
        }
    // And from the last one reached to where reach ends.
    for (const EdgeOfReach &edge : s.edges) {
        if (edge.below < loadAt.front()) continue;
        const EdgePoint p = e.edgePoint(edge);
        keep(std::abs(p.of(spark) - spark[e.index(p.rpmIndex, breakpointUnder[edge.below])]), p.rpmIndex,
             p.loadKpa);
    }
    if (most >= 0) worst.consider((limit - most) / limit, mostRpm, mostLoad, most, limit, betweenCells);
}

// The largest step is the worst: found first, then put into words.
void considerContents(const Evaluation &e, const ContentSlice &s, const ContentSlice &before, double limit,
                      std::size_t &likely, WorstFinder &worst) {
    const WorstPoint most = worstPoint(e, s, likely, [here = s.spark, there = before.spark](const auto &p) {
        const double step = std::abs(p.of(here) - p.of(there));
        return Judged{-step, step, 0};
    });
    if (most.headroom() == notAsked.headroom) return; // nothing can be reached
    likely = most.rpmIndex();
    const double step = -most.headroom() / ((s.content - before.content) * 100);
    worst.consider((limit - step) / limit, most.rpmIndex(), most.loadKpa(), step, limit, perPercent);
}

CheckOutcome run(const Evaluation &e) {
    const StepLimits limits{limitOf(e.job(), "spark.step.cell"), limitOf(e.job(), "spark.step.content")};
    CheckOutcome out;
    const auto slices = e.slices();
    std::vector<std::size_t> breakpointUnder(e.load().size()); // at or under a load of the grid
    for (const std::size_t at : e.loadBreakpoints())
        std::fill(breakpointUnder.begin() + static_cast<std::ptrdiff_t>(at), breakpointUnder.end(), at);
    std::size_t likely = 0; // speed of the largest step
    for (std::size_t c = 0; c < slices.size(); ++c) {
        WorstFinder worst(e, slices[c], 1); // headrooms are shares of their own limit
        considerCells(e, slices[c], limits.cell, breakpointUnder, worst);
        if (c > 0) considerContents(e, slices[c], slices[c - 1], limits.content, likely, worst);
        out.byContent.push_back(worst.place());
    }
    return out;
}

Explanation explain(const Evaluation &, const WorstPlace &p) {
    Explanation x;
    x.title = {MARKED("spark.step.now", "Spark step {A}"), {}, {}, {p.aspect}};
    x.result = {p.value, Dimension::sparkAngle};
    x.formula = MARKED("spark.step.formula", "margin = (limit − step) / limit");
    x.substituted = {MARKED("spark.step.numbers", "a step of {0}: ({1} − {0}) / {1} of the limit is left"),
                     {{p.value, Dimension::sparkAngle}, {p.limit, Dimension::sparkAngle}}};
    x.inputs = {{"step",
                 Phrase{MARKED("spark.step.from.step", "spark step {A}"), {}, {}, {p.aspect}},
                 {p.value, Dimension::sparkAngle},
                 "calibration.spark"},
                {"limit",
                 MARKED("spark.step.from.most_allowed", "most allowed"),
                 {p.limit, Dimension::sparkAngle},
                 p.aspect == perPercent ? "limit:spark.step.content" : "limit:spark.step.cell"}};
    x.source = MARKED("spark.step.source", "Common practice: a smooth table drives and knocks predictably");
    x.uncertainty = {MARKED("spark.step.uncertainty", "Computed from the tables; no measurement in it."), {}};
    x.change =
        p.aspect == perPercent
            ? Phrase{MARKED("spark.step.change",
                            "Flatten the spark weight curve around {0}, or bring the two tables closer."),
                     {{p.content, Dimension::content}}}
            : Phrase{MARKED("spark.step.change.smooth_spark", "Smooth the spark table around {0}, {1}."),
                     {{p.rpm, Dimension::engineSpeed}, {p.loadKpa, Dimension::pressure}}};
    return x;
}

} // namespace

const Check &sparkStepCheck() {
    static const Check check{
        "spark.step",
        MARKED("spark.step.title", "Spark steps"),
        MARKED("spark.step.named", "spark steps"),
        QuestionId::knock,
        MARKED("spark.step.question",
               "Is spark free of steps between neighbouring cells and neighbouring contents?"),
        Dimension::sparkAngle,
        {"spark.step.cell", "spark.step.content"},
        CalibratedQuantity::spark,
        0,
        MARKED("spark.step.help", "The mark is what the largest step leaves of its limit."),
        run,
        explain,
        {"spark_tables"}};
    return check;
}

} // namespace wheelwright
