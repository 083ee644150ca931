// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/limits.h"
#include "core/study/extra_tables.h"
#include "core/tables/table_kind.h"
#include "core/verify/check.h"
#include "core/verify/spark_delivered.h"

#include <algorithm>
#include <cmath>

namespace wheelwright {
namespace {

CheckOutcome run(const Evaluation &e) {
    const Job &job = e.job();
    const double margin = limitOf(job, "spark.ceiling.margin");
    const double comfort = std::max(margin, 1.0);
    const std::vector<double> best = bestSparkCorrections(e);
    return judgeReachablePoints(e, comfort, [&](const ContentSlice &s) {
        std::vector<double> ceiling;
        for (const double load : e.load())
            ceiling.push_back(extraAt(job, TableKind::sparkCeiling, s.content, load));
        return [&, ceiling](std::size_t, std::size_t j, std::size_t at) {
            const double delivered = s.spark[at] + best[j];
            return Judged{ceiling[j] - margin - delivered, delivered, ceiling[j] - margin};
        };
    });
}

Explanation explain(const Evaluation &e, const WorstPlace &p) {
    const Job &job = e.job();
    Explanation x;
    const double margin = limitOf(job, "spark.ceiling.margin");
    x.title = MARKED("spark.ceiling.working", "Delivered spark under its ceiling");
    x.result = {p.value, Dimension::sparkAngle};
    x.formula = MARKED("spark.ceiling.formula", "spark + corrections at best ≤ ceiling(E, load) − margin");
    x.substituted = {MARKED("spark.ceiling.numbers", "{0} against {1} less {2}"),
                     {{p.value, Dimension::sparkAngle},
                      {p.limit + margin, Dimension::sparkAngle},
                      {margin, Dimension::sparkAngle}}};
    x.inputs = {{"α",
                 MARKED("spark.ceiling.from.spark_tables", "spark tables"),
                 {p.value, Dimension::sparkAngle},
                 "calibration.spark.base"},
                {"max",
                 MARKED("spark.ceiling.from.ceiling", "ceiling"),
                 {p.limit + margin, Dimension::sparkAngle},
                 "calibration.extras"},
                {"m",
                 MARKED("spark.ceiling.from.margin", "margin"),
                 {margin, Dimension::sparkAngle},
                 "limit:spark.ceiling.margin"}};
    x.source = {MARKED("spark.ceiling.source", "The job's own ceiling; margin: {A}"),
                {},
                {},
                {limitOrigin(job, "spark.ceiling.margin")}};
    x.uncertainty = {
        MARKED("spark.ceiling.uncertainty", "A ceiling from one day holds for that day's air and fuel."), {}};
    x.change = {MARKED("spark.ceiling.change", "{0} less here, or a fuel that stands more."),
                {{p.value - p.limit, Dimension::sparkAngle}}};
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
        {"ceilings", "spark_tables", "boost_tables", "engine"}};
    return check;
}

} // namespace wheelwright
