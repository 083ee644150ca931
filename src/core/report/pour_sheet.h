// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/report/report.h"
#include "core/study/pour_request.h"

#include <string>
#include <vector>

namespace wheelwright {

/// The sheet that is taken along to the pump: what is in the tank, each plan step by step, what speaks
/// against it, and the cautions of handling. methanol: contents are spoken of as M50. on: date, ISO 8601.
Report pourSheet(const std::string &jobName, bool methanol, const PourRequest &request,
                 const PourAnswer &answer, const std::string &on);

/// What is said before any plan: the target, and why it cannot be reached as it should.
Report pourHead(bool methanol, const PourRequest &request, const PourAnswer &answer);

/// A plan as it is drawn or said: those that come to the same stand together.
struct SaidPlan {
    std::size_t plan = 0; ///< place in the answer
    Phrase title;         ///< "Least added · Nearest without draining · costs 24.31"
    std::vector<PourStep> steps;
    std::vector<Sentence> remarks; ///< cautions of what is poured, what it misses, what the pickup says
};
std::vector<SaidPlan> saidPlans(const PourRequest &request, const PourAnswer &answer);

/// The same in words, with the head: each plan with its link "plan:<index>".
Report pourPlans(bool methanol, const PourRequest &request, const PourAnswer &answer);

/// A fuel of the shelf that is just filled up with.
struct PouredFuel {
    std::string name;
    bool methanol = false; ///< a content sensor takes it for ethanol
    PourEffect effect;
};
/// What happens with each, linked as "effect:<index>".
Report pourEffects(bool methanol, const std::vector<PouredFuel> &fuels);

/// Running down and filling again, linked as "flush:".
Report pourFlush(bool methanol, const FlushPlan &plan, double target);

} // namespace wheelwright
