#pragma once
#include "core/fuel/pour_effect.h"
#include "core/fuel/pour_plan.h"
#include "core/units/phrase.h"

#include <optional>

namespace wheelwright {

/// The request that follows from the job: its tank as it is now and its shelf, for a wanted alcohol content.
/// Throws InputError when the shelf is empty.
PourRequest pourRequestOf(const Job &job, double target, std::optional<double> levelL = std::nullopt);

/// A plan as steps that a person can follow at the pump, and what the tank holds after each.
struct PourStep {
    Phrase words;
    double volumeL = 0;
    double content = 0;
};
std::vector<PourStep> stepsOf(const PourPlan &plan, const PourRequest &request);

/// What a strategy is for, as a title.
std::string_view strategyTitle(PourStrategy strategy);

} // namespace wheelwright
