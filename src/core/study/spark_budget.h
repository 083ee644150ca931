// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/explanation.h"
#include "core/base/operating_point.h"
#include "core/study/extra_tables.h"
#include "core/study/study.h"

#include <string>
#include <vector>

namespace wheelwright {

/// One step of the chain from the table to the spark that is delivered.
struct BudgetStep {
    std::string id;                                       ///< stable: "intake_air"
    PhraseText title;                                     ///< "Intake air"
    double usualDeg = 0, bestDeg = 0, worstDeg = 0;       ///< what it adds
    double usualTotal = 0, bestTotal = 0, worstTotal = 0; ///< running
    std::string link;                                     ///< where it can be changed
};

/// Asked and delivered spark at one operating point. Usual: usual temperatures, usual fallback share, no
/// knock. Best and worst: each step at the end of the job's range that gives most and least, all at once.
struct SparkBudget {
    double askedDeg = 0; ///< the table at this content
    std::vector<BudgetStep> steps;
    double usualDeg = 0, bestDeg = 0, worstDeg = 0;
};

/// Throws InputError as blendedPoint().
SparkBudget sparkBudget(const Study &study, const OperatingPoint &at);

/// What the correction by intake air adds at best over the job's range of temperatures, at any load: the same
/// as in the budget, made ready to be asked often.
class IntakeAirAtBest {
  public:
    explicit IntakeAirAtBest(const Job &job);
    double at(double loadKpa) const;

  private:
    std::vector<ExtraByLoad> m_byTemperature; ///< those between which the best lies
};

/// The chain as the working of the delivered spark.
Explanation explainBudget(const Study &study, const OperatingPoint &at);

} // namespace wheelwright
