// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/limits.h"
#include "core/verify/check.h"

#include <algorithm>
#include <limits>

namespace wheelwright {
namespace {

constexpr double loadFromKpa = 100; // below it, spark may rise with load: common practice
constexpr PhraseText byContent =
    MARKED("spark.monotone.aspect.more_content_takes", "more content takes spark away");
constexpr PhraseText byLoad = MARKED("spark.monotone.aspect.more_load_adds", "more load adds spark");

// Blending rounds: a billionth of a degree is no step.
double step(double difference) {
    return difference > 1e-9 ? difference : 0;
}

CheckOutcome run(const Evaluation &e) {
    const double tolerance = limitOf(e.job(), "spark.monotone.tolerance");
    // A tolerance of nothing still needs a scale to measure margins on.
    const double comfort = std::max(tolerance, 0.1);
    CheckOutcome out;
    const auto slices = e.slices();
    std::vector<double> mostSoFar(e.rpm().size() * e.load().size(), -std::numeric_limits<double>::infinity());
    std::vector<double> leastBelow(e.rpm().size());
    for (std::size_t c = 0; c < slices.size(); ++c) {
        const ContentSlice &s = slices[c];
        WorstFinder worst(e, s, comfort);
        const auto considerLoad = [&](std::size_t i, double load, double spark) {
            if (load <= loadFromKpa) return;
            const double added = step(spark - leastBelow[i]);
            worst.consider(tolerance - added, i, load, added, tolerance, byLoad);
            leastBelow[i] = std::min(leastBelow[i], spark);
        };
        for (std::size_t i = 0; i < e.rpm().size(); ++i) {
            leastBelow[i] = std::numeric_limits<double>::infinity();
            for (std::size_t j = 0; j < s.reachable[i]; ++j) {
                const std::size_t at = e.index(i, j);
                const double spark = s.spark[at];
                const double taken = step(mostSoFar[at] - spark);
                worst.consider(tolerance - taken, i, e.load()[j], taken, tolerance, byContent);
                mostSoFar[at] = std::max(mostSoFar[at], spark);
                considerLoad(i, e.load()[j], spark);
            }
        }
        for (const EdgeOfReach &edge : s.edges) {
            if (edge.below + 1 < s.reachable[edge.rpmIndex])
                continue; // what is left and right of it says it all
            const EdgePoint p = e.edgePoint(edge);
            const double spark = p.of(s.spark);
            double most = spark;
            for (std::size_t before = 0; before < c; ++before)
                if (slices[before].reach[p.rpmIndex].highestKpa >= p.loadKpa)
                    most = std::max(most, p.of(slices[before].spark));
            const double taken = step(most - spark);
            worst.consider(tolerance - taken, p.rpmIndex, p.loadKpa, taken, tolerance, byContent);
            considerLoad(p.rpmIndex, p.loadKpa, spark);
        }
        out.byContent.push_back(worst.place());
    }
    return out;
}

Explanation explain(const Evaluation &, const WorstPlace &p) {
    Explanation x;
    x.title = MARKED("spark.monotone.working", "Spark the wrong way");
    x.result = {p.value, Dimension::sparkAngle};
    x.formula =
        p.aspect == byLoad
            ? MARKED("spark.monotone.formula", "most spark above the least at any lower load over 100 kPa")
            : MARKED("spark.monotone.formula.most_spark", "most spark at any lower content − spark here");
    x.substituted = {MARKED("spark.monotone.numbers", "{0} against {1} allowed"),
                     {{p.value, Dimension::sparkAngle}, {p.limit, Dimension::sparkAngle}}};
    x.inputs = {{"°",
                 MARKED("spark.monotone.from.spark_goes_wrong", "spark that goes the wrong way"),
                 {p.value, Dimension::sparkAngle},
                 "calibration.spark"},
                {"±",
                 MARKED("spark.monotone.from.tolerance", "tolerance"),
                 {p.limit, Dimension::sparkAngle},
                 "limit:spark.monotone.tolerance"}};
    x.source = MARKED("spark.monotone.source", "Common practice: alcohol resists knock, load provokes it");
    x.uncertainty = {MARKED("spark.monotone.uncertainty", "Computed from the tables; no measurement in it."),
                     {}};
    if (p.value <= p.limit) {
        x.change = MARKED("spark.monotone.change.none", "Nothing to clear: it goes the right way.");
        return x;
    }
    x.change =
        p.aspect == byLoad
            ? Phrase{MARKED("spark.monotone.change", "Clears with {0} less spark at {1}, {2}."),
                     {{p.value, Dimension::sparkAngle},
                      {p.rpm, Dimension::engineSpeed},
                      {p.loadKpa, Dimension::pressure}}}
            : Phrase{
                  MARKED(
                      "spark.monotone.change.clears_more",
                      "Clears with {0} more spark in the top table, or less in the base table, at {1}, {2}."),
                  {{p.value, Dimension::sparkAngle},
                   {p.rpm, Dimension::engineSpeed},
                   {p.loadKpa, Dimension::pressure}}};
    return x;
}

} // namespace

const Check &sparkMonotoneCheck() {
    static const Check check{
        "spark.monotone",
        MARKED("spark.monotone.title", "Spark direction"),
        MARKED("spark.monotone.named", "spark direction"),
        QuestionId::knock,
        MARKED("spark.monotone.question",
               "Does more content never take spark away, and more load (above 100 kPa) never add it?"),
        Dimension::sparkAngle,
        {"spark.monotone.tolerance"},
        CalibratedQuantity::spark,
        0,
        MARKED("spark.monotone.help",
               "A full mark is no step the wrong way; an empty one is the whole tolerance."),
        run,
        explain,
        {"spark_tables"}};
    return check;
}

} // namespace wheelwright
