// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/limits.h"
#include "core/study/extra_tables.h"
#include "core/study/spark_budget.h"
#include "core/tables/table_kind.h"
#include "core/verify/check.h"

#include <algorithm>

namespace wheelwright {
namespace {

CheckOutcome run(const Evaluation &e) {
    const Job &job = e.job();
    const double most = limitOf(job, "correct.steals");
    // Only the one by intake air goes by load.
    const double even = [&] {
        const SparkBudget b = sparkBudget(e.study(), {job.calibration.baseContent, 3000, e.load().front()});
        double sum = 0;
        for (const BudgetStep &s : b.steps)
            if (s.id == "coolant" || s.id == "cylinder") sum -= s.usualDeg;
        return sum;
    }();
    const ByPoint taken(e,
                        [even, usual = ExtraByLoad(job, TableKind::sparkIntake, job.conditions.intakeUsualC)](
                            double load) { return even - usual.at(load); });
    CheckOutcome out;
    for (const ContentSlice &s : e.slices()) {
        WorstFinder worst(e, s, std::max(most, 0.5));
        visitReachableLoads(e, s, [&](const auto &p) {
            worst.consider(most - p.of(taken), p.rpmIndex, p.loadKpa, p.of(taken), most);
        });
        out.byContent.push_back(worst.place());
    }
    return out;
}

Explanation explain(const Evaluation &e, const WorstPlace &p) {
    const Job &job = e.job();
    Explanation x;
    x = explainBudget(e.study(), {p.content, p.rpm, p.loadKpa});
    x.title = MARKED("correct.steals.working", "Spark that corrections take");
    x.result = {p.value, Dimension::sparkAngle};
    x.source = listed(
        {x.source, {MARKED("working.limit_is", "limit: {A}"), {}, {}, {limitOrigin(job, "correct.steals")}}});
    x.change = {MARKED("correct.steals.change", "Corrections that take {0} or less at the usual "
                                                "temperatures; then the table means what it says."),
                {{p.limit, Dimension::sparkAngle}}};
    return x;
}

} // namespace

const Check &correctStealsCheck() {
    static const Check check{
        "correct.steals",
        MARKED("correct.steals.title", "Corrections take"),
        MARKED("correct.steals.named", "corrections take"),
        QuestionId::knock,
        MARKED("correct.steals.question", "Do corrections leave the commanded spark alone on a usual pull?"),
        Dimension::sparkAngle,
        {"correct.steals"},
        CalibratedQuantity::spark,
        0,
        MARKED("correct.steals.help", "A full mark takes nothing; an empty one the whole limit."),
        run,
        explain,
        {"corrections"},
        false};
    return check;
}

} // namespace wheelwright
