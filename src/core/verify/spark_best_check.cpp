// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/limits.h"
#include "core/study/spark_budget.h"
#include "core/verify/check.h"
#include "core/verify/spark_delivered.h"

#include <algorithm>

namespace wheelwright {
namespace {

constexpr double leastScale = 0.1; // degrees; a tolerance of nothing still needs a scale

double scaleOf(double tolerance) {
    return std::max(tolerance, leastScale);
}

// Of the limit, or of how well best spark is known where that is more.
double toleranceAt(const Job &job, const ContentTables &best, double content) {
    return std::max(limitOf(job, "spark.best.tolerance"), best.plusMinusAt(content));
}

CheckOutcome run(const Evaluation &e) {
    const double tolerance = limitOf(e.job(), "spark.best.tolerance");
    const BestDelivered delivered(e);
    const SampledContentTables tables(e, TableKind::sparkBest);
    const double from = tables.tables().firstRow(), to = tables.tables().lastRow();
    return judgeReachablePoints(e, scaleOf(tolerance), [&](const ContentSlice &s) {
        return [&, best = tables.at(s.content),
                room = toleranceAt(e.job(), tables.tables(), s.content)](const auto &p) {
            const double spark = delivered.at(p, p.of(s.spark)), most = p.of(best) + room;
            // Beyond its rows no sweep was made.
            return askedIf((p.loadKpa >= from) & (p.loadKpa <= to), {most - spark, spark, most});
        };
    });
}

Explanation explain(const Evaluation &e, const WorstPlace &p) {
    constexpr Dimension deg = Dimension::sparkAngle;
    const Job &job = e.job();
    const ContentTables tables(job, TableKind::sparkBest);
    const double tolerance = toleranceAt(job, tables, p.content), best = p.limit - tolerance;
    const bool byPlusMinus = tolerance > limitOf(job, "spark.best.tolerance");
    const SparkBudget budget = sparkBudget(e.study(), {p.content, p.rpm, p.loadKpa});
    Explanation x;
    x.title = MARKED("spark.best.working", "Delivered spark against best spark");
    x.result = {p.value, deg};
    x.formula =
        MARKED("spark.best.formula", "spark + corrections at best ≤ best spark(E, rpm, load) + tolerance");
    x.substituted = {MARKED("spark.best.numbers", "{0} + {1} = {2} against {3} + {4}"),
                     {{budget.askedDeg, deg},
                      {p.value - budget.askedDeg, deg},
                      {p.value, deg},
                      {best, deg},
                      {tolerance, deg}}};
    x.inputs = {
        {"α",
         MARKED("spark.best.from.spark_tables", "spark tables"),
         {budget.askedDeg, deg},
         "calibration.spark.base"},
        {"Σ",
         MARKED("spark.best.from.corrections", "corrections at best"),
         {p.value - budget.askedDeg, deg},
         "calibration.extras"},
        {"best", MARKED("spark.best.from.best", "best spark"), {best, deg}, "calibration.extras.spark_best"},
        byPlusMinus ? ExplanationInput{"±",
                                       MARKED("spark.best.from.plus_minus", "how well it is known"),
                                       {tolerance, deg},
                                       "calibration.extras.spark_best"}
                    : ExplanationInput{"tol",
                                       MARKED("spark.best.from.tolerance", "tolerance"),
                                       {tolerance, deg},
                                       "limit:spark.best.tolerance"}};
    x.source = {
        MARKED("spark.best.source",
               "Best spark: the job's own, in a straight line between contents; torque falls with about "
               "the square of the distance from it: Heywood (1988) section 9.1. Tolerance: {A}"),
        {},
        {},
        {limitOrigin(job, "spark.best.tolerance")}};
    x.uncertainty = {
        MARKED("spark.best.uncertainty",
               "A sweep is flat at its top: best spark is rarely known to better than a degree."),
        {}};
    x.change = p.value > best
                   ? Phrase{MARKED("spark.best.change",
                                   "{0} less costs no torque here, and takes pressure off the engine."),
                            {{p.value - best, deg}}}
                   : Phrase{MARKED("spark.best.change.room",
                                   "{0} more would be at best spark, where the ceiling allows it."),
                            {{best - p.value, deg}}};
    return x;
}

} // namespace

const Check &sparkBestCheck() {
    static const Check check{
        "spark.best",
        MARKED("spark.best.title", "Best spark"),
        MARKED("spark.best.named", "best spark"),
        QuestionId::knock,
        MARKED("spark.best.question", "Does spark stop where more of it makes no more torque?"),
        Dimension::sparkAngle,
        {"spark.best.tolerance"},
        CalibratedQuantity::spark,
        1, // past best spark, and inside the tolerance
        MARKED("spark.best.help",
               "A full mark is at or under best spark, an empty one the tolerance past it."),
        run,
        explain,
        {"best_spark", "spark_tables", "boost_tables", "engine"},
        false};
    return check;
}

} // namespace wheelwright
