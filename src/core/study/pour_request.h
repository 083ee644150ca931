// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/phrase.h"
#include "core/fuel/pour_plan.h"
#include "core/study/pour_effect.h"

#include <optional>

namespace wheelwright {

/// The request that follows from the job: its tank as it is now and the fuels of its shelf that plans may
/// use, for a wanted alcohol content. today: for the cautions of what was opened too long ago. Throws
/// InputError when there is no such fuel.
PourRequest pourRequestOf(const Job &job, double target, std::optional<double> levelL = std::nullopt,
                          std::string_view today = {});

/// A plan as steps that a person can follow at the pump, and what the tank holds after each. The uncertainty
/// of tank, meter and fuels is carried through to first order.
struct PourStep {
    bool drain = false;
    std::size_t fuel = 0; ///< on the shelf; not for a drain
    std::string name;     ///< of that fuel
    double litres = 0;
    int cans = 0;
    double volumeL = 0;
    Uncertain content;
    bool underReserve = false; ///< with this in the tank the pickup may run dry
};
std::vector<PourStep> stepsOf(const PourPlan &plan, const PourRequest &request);

/// What the tank's level means for the pickup, before, during and after a plan; no text when all is well.
Phrase pickupWarning(const PourPlan &plan, const PourRequest &request);

/// What a strategy is for, as a title.
Phrase strategyWords(PourStrategy strategy);

} // namespace wheelwright
