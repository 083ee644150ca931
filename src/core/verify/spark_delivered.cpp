// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/verify/spark_delivered.h"

#include "core/study/spark_budget.h"

namespace wheelwright {

std::vector<double> bestSparkCorrections(const Evaluation &e) {
    constexpr double anySpeed =
        3000; // no correction depends on it but the fallback, which takes nothing at best
    std::vector<double> best;
    for (const double load : e.load()) {
        const SparkBudget b = sparkBudget(e.study(), {e.job().calibration.baseContent, anySpeed, load});
        best.push_back(b.bestDeg - b.askedDeg);
    }
    return best;
}

} // namespace wheelwright
