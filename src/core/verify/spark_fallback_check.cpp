// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/limits.h"
#include "core/study/extra_tables.h"
#include "core/study/spark_budget.h"
#include "core/tables/table_kind.h"
#include "core/verify/check.h"

namespace wheelwright {
namespace {

CheckOutcome run(const Evaluation &e) {
    const Job &job = e.job();
    const ExtraTable &fallback = *extraInUse(job, TableKind::sparkFallback);
    const std::vector<double> fallbackDeg = e.sampled(fallback.table);
    const bool on = job.sparkDelivery.knockControl;
    constexpr double comfort = 2; // degrees under the main table
    return judgeReachablePoints(e, comfort, [&](const ContentSlice &s) {
        return [&](const auto &p) {
            const double low = p.of(fallbackDeg), spark = p.of(s.spark);
            // Without knock control nothing ever turns to the fallback table.
            if (!on) return Judged{-comfort, low, spark};
            return Judged{spark - low, low, spark};
        };
    });
}

Explanation explain(const Evaluation &e, const WorstPlace &p) {
    const Job &job = e.job();
    Explanation x;
    x.title = MARKED("spark.fallback.working", "Fallback spark");
    x.result = {p.value, Dimension::sparkAngle};
    x.formula = MARKED("spark.fallback.formula", "fallback ≤ main table everywhere, and knock control on");
    x.substituted = {MARKED("spark.fallback.numbers", "{0} against {1}"),
                     {{p.value, Dimension::sparkAngle}, {p.limit, Dimension::sparkAngle}}};
    x.inputs = {{"low",
                 MARKED("spark.fallback.from.fallback_table", "fallback table"),
                 {p.value, Dimension::sparkAngle},
                 "calibration.extras.spark_fallback"},
                {"high",
                 MARKED("spark.fallback.from.main_table_here", "main table here"),
                 {p.limit, Dimension::sparkAngle},
                 "calibration.spark.base"},
                {"on",
                 MARKED("spark.fallback.from.knock_control", "knock control"),
                 {job.sparkDelivery.knockControl ? 1.0 : 0.0, Dimension::none},
                 "spark.knock_control"}};
    x.source = MARKED("spark.fallback.source",
                      "Common practice: leave the fallback well below the main table, and knock control on");
    x.uncertainty = {
        MARKED("spark.fallback.uncertainty",
               "The share between the tables moves slowly: the first knocks are not caught by it."),
        {}};
    x.change = job.sparkDelivery.knockControl
                   ? Phrase{MARKED("spark.fallback.change", "Fallback spark of {0} or less here."),
                            {{p.limit, Dimension::sparkAngle}}}
                   : Phrase{MARKED("spark.fallback.change.turn_knock",
                                   "Turn knock control on, unless it hears something else."),
                            {}};
    return x;
}

} // namespace

const Check &sparkFallbackCheck() {
    static const Check check{
        "spark.fallback",
        MARKED("spark.fallback.title", "Fallback spark"),
        MARKED("spark.fallback.named", "fallback spark"),
        QuestionId::knock,
        MARKED("spark.fallback.question",
               "Is the fallback table under the main one everywhere, and knock control on?"),
        Dimension::sparkAngle,
        {},
        CalibratedQuantity::spark,
        0,
        MARKED("spark.fallback.help", "A full mark is two degrees or more under the main table."),
        run,
        explain,
        {"fallback_table"},
        false};
    return check;
}

} // namespace wheelwright
