// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/ladder/rung.h"
#include "core/study/pour_request.h"
#include "core/study/study.h"

#include <optional>

namespace wheelwright {

/// What is drained, poured, waited for, used and paid for each rung that is still open, from the tank as it
/// is now, and all of it together. Where something cannot be poured, the way up ends there. target: the
/// highest content; today: ISO 8601 date, for cautions.
void planLadderFuel(Ladder &ladder, const Study &study, double target, std::string_view today);

/// Open rungs of the way up from a place on are out of reach, and why.
void endWayUp(Ladder &ladder, std::size_t from, Phrase why);

/// The tank and the fuels that plans may use; empty where the job has none, or its tank does not add up.
std::optional<PourRequest> fuelsForPlans(const Job &job, double target, std::string_view today);

} // namespace wheelwright
