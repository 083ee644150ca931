// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/verify/check.h"
#include "core/verify/proven_spark.h"

#include <optional>

namespace wheelwright {
namespace {

CheckOutcome runWith(const Evaluation &e, const Proof &proof) {
    constexpr double comfort = 1; // degree
    return judgeReachablePoints(e, comfort, [&](const ContentSlice &s) {
        return [&s, last = provenLoads(e, proof, s)](const auto &p) {
            const std::optional<ProvenLoad> &known = last[p.rpmIndex];
            if (!known || p.loadKpa <= known->loadKpa) return notAsked;
            const double spark = p.of(s.spark);
            return Judged{known->sparkDeg - spark, spark, known->sparkDeg};
        };
    });
}

CheckOutcome run(const Evaluation &e) {
    return runWith(e, {});
}

Explanation explain(const Evaluation &, const WorstPlace &p) {
    constexpr Dimension deg = Dimension::sparkAngle;
    Explanation x;
    x.title = MARKED("spark.unproven.working", "Spark where no log has been");
    x.result = {p.value, deg};
    x.formula = MARKED("spark.unproven.formula", "spark above the last proven load ≤ spark at that load");
    x.substituted = {
        MARKED("spark.unproven.numbers", "{0} against {1} at {2} and {3}"),
        {{p.value, deg}, {p.limit, deg}, {p.rpm, Dimension::engineSpeed}, {p.loadKpa, Dimension::pressure}}};
    x.inputs = {{"α",
                 MARKED("spark.unproven.from.spark_here", "spark here"),
                 {p.value, deg},
                 "calibration.spark.base"},
                {"α₀",
                 MARKED("spark.unproven.from.spark_last_proven", "spark at the last proven load"),
                 {p.limit, deg},
                 "calibration.origins"}};
    x.source = MARKED("spark.unproven.source",
                      "Common practice: cells that were never driven hold no more than the last that was");
    x.uncertainty = {MARKED("spark.unproven.uncertainty",
                            "Judged only within 5 % of a content whose spark table logs have corrected."),
                     {}};
    x.change = {MARKED("spark.unproven.change", "Spark of {0} or less here, or a clean log that proves it."),
                {{p.limit, deg}}};
    return x;
}

} // namespace

const Check &sparkUnprovenCheck() {
    static const Check check{
        "spark.unproven",
        MARKED("spark.unproven.title", "Unproven spark"),
        MARKED("spark.unproven.named", "unproven spark"),
        QuestionId::knock,
        MARKED("spark.unproven.question",
               "Does spark stay at or under the last proven load's, where no log has been?"),
        Dimension::sparkAngle,
        {},
        CalibratedQuantity::spark,
        0,
        MARKED("spark.unproven.help", "A full mark is one degree or more under the last proven load."),
        run,
        explain,
        {"proven_spark"},
        false,
        nullptr,
        false,
        runWith};
    return check;
}

} // namespace wheelwright
