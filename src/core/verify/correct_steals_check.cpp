// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/limits.h"
#include "core/study/extra_tables.h"
#include "core/study/spark_budget.h"
#include "core/tables/table_kind.h"
#include "core/verify/check.h"

#include <algorithm>
#include <cmath>

namespace wheelwright {
namespace {

CheckOutcome run(const Evaluation &e) {
    const Job &job = e.job();
    const double most = limitOf(job, "correct.steals");
    std::vector<double> taken;
    for (const double load : e.load()) {
        const SparkBudget b = sparkBudget(e.study(), {job.calibration.baseContent, 3000, load});
        double sum = 0;
        for (const BudgetStep &s : b.steps)
            if (s.id == "intake_air" || s.id == "coolant" || s.id == "cylinder") sum -= s.usualDeg;
        taken.push_back(sum);
    }
    CheckOutcome out;
    for (const ContentSlice &s : e.slices()) {
        WorstFinder worst(e, s, std::max(most, 0.5));
        // Corrections do not go by speed: the column that reaches highest says it all.
        const auto column =
            static_cast<std::size_t>(std::ranges::max_element(s.reachable) - s.reachable.begin());
        for (std::size_t j = 0; j < s.reachable[column]; ++j)
            worst.consider(most - taken[j], column, e.load()[j], taken[j], most);
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
