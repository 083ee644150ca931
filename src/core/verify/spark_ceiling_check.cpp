// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/limits.h"
#include "core/study/spark_budget.h"
#include "core/verify/check.h"
#include "core/verify/spark_delivered.h"

#include <cmath>

namespace wheelwright {
namespace {

CheckOutcome run(const Evaluation &e) {
    constexpr double comfort = 1; // degree under what is allowed: common practice
    const BestDelivered best(e);
    const SparkCeilings ceilings(e);
    return judgeReachablePoints(e, comfort, [&](const ContentSlice &s) {
        return [&, ceiling = ceilings.at(s.content), margin = ceilings.marginAt(s.content)](const auto &p) {
            const double delivered = best.at(p, p.of(s.spark)), most = p.of(ceiling) - margin;
            return askedIf(ceilings.asked(p.loadKpa), {most - delivered, delivered, most});
        };
    });
}

Explanation explain(const Evaluation &e, const WorstPlace &p) {
    const Job &job = e.job();
    Explanation x;
    const ContentTables ceilings(job, TableKind::sparkCeiling);
    const double ceiling = ceilings.at({p.content, p.rpm, p.loadKpa}), margin = ceiling - p.limit;
    const SparkBudget budget = sparkBudget(e.study(), {p.content, p.rpm, p.loadKpa});
    x.title = MARKED("spark.ceiling.working", "Delivered spark under its ceiling");
    x.result = {p.value, Dimension::sparkAngle};
    x.formula =
        MARKED("spark.ceiling.formula", "spark + corrections at best ≤ ceiling(E, rpm, load) − margin");
    x.substituted = {ceilings.estimatesOnly()
                         ? MARKED("spark.ceiling.numbers.estimate",
                                  "{0} + {1} = {2} against {3}, an estimate, and its {4} beyond")
                         : MARKED("spark.ceiling.numbers", "{0} + {1} = {2} against {3} less {4}"),
                     {{budget.askedDeg, Dimension::sparkAngle},
                      {p.value - budget.askedDeg, Dimension::sparkAngle},
                      {p.value, Dimension::sparkAngle},
                      {ceiling, Dimension::sparkAngle},
                      {std::abs(margin), Dimension::sparkAngle}}};
    x.inputs = {{"α",
                 MARKED("spark.ceiling.from.spark_tables", "spark tables"),
                 {budget.askedDeg, Dimension::sparkAngle},
                 "calibration.spark.base"},
                {"Σ",
                 MARKED("spark.ceiling.from.corrections", "corrections at best"),
                 {p.value - budget.askedDeg, Dimension::sparkAngle},
                 "calibration.extras"}};
    const ContentTables::Between between = ceilings.between(p.content);
    const auto addLevel = [&](std::size_t level) {
        for (const ExtraTable *t : ceilings.levels()[level].tables)
            x.inputs.push_back({"max",
                                Phrase{MARKED("spark.ceiling.from.ceiling_at", "{a}, found at {0}"),
                                       {{t->content, Dimension::content}},
                                       {t->name}},
                                {t->table.lookup(p.rpm, p.loadKpa).value, Dimension::sparkAngle},
                                "calibration.extras." + t->name});
    };
    addLevel(between.low);
    if (between.high != between.low) addLevel(between.high);
    const double stated = ceilings.plusMinusAt(p.content), least = limitOf(job, "spark.ceiling.margin");
    x.inputs.push_back(stated > least || ceilings.estimatesOnly()
                           ? ExplanationInput{"±",
                                              MARKED("spark.ceiling.from.plus_minus", "how well it is known"),
                                              {stated, Dimension::sparkAngle},
                                              "calibration.extras"}
                           : ExplanationInput{"m",
                                              MARKED("spark.ceiling.from.margin", "margin"),
                                              {least, Dimension::sparkAngle},
                                              "limit:spark.ceiling.margin"});
    x.source = {
        MARKED("spark.ceiling.source",
               "The job's own ceilings, in a straight line between the contents they were found at; the "
               "larger of their ± and the margin: {A}"),
        {},
        {},
        {limitOrigin(job, "spark.ceiling.margin")}};
    x.uncertainty = {
        MARKED("spark.ceiling.uncertainty",
               "A ceiling from one day holds for that day's air and fuel. Beyond its columns the nearest "
               "is held; below its first row, under 100 kPa, nothing is asked."),
        {}};
    x.change = p.value > p.limit
                   ? Phrase{MARKED("spark.ceiling.change", "{0} less here, or a fuel that stands more."),
                            {{p.value - p.limit, Dimension::sparkAngle}}}
                   : Phrase{MARKED("spark.ceiling.change.room", "{0} more would be allowed here."),
                            {{p.limit - p.value, Dimension::sparkAngle}}};
    return x;
}

} // namespace

const Check &sparkCeilingCheck() {
    static const Check check{
        "spark.ceiling",
        MARKED("spark.ceiling.title", "Spark ceiling"),
        MARKED("spark.ceiling.named", "spark ceiling"),
        QuestionId::knock,
        MARKED("spark.ceiling.question", "Does the delivered spark stay under what each fuel stands?"),
        Dimension::sparkAngle,
        {"spark.ceiling.margin"},
        CalibratedQuantity::spark,
        0,
        MARKED("spark.ceiling.help", "A full mark is a degree or more under the ceiling and its margin."),
        run,
        explain,
        {"ceilings", "ceiling_reach", "spark_tables", "boost_tables", "engine"}};
    return check;
}

} // namespace wheelwright
