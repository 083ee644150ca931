// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/fuel/tank.h"
#include "core/job/job.h"

#include <string_view>

namespace wheelwright {

/// What the tank holds after all its events, by arithmetic. Throws InputError naming the event that cannot
/// have happened: more drained than there was, more poured than the tank takes.
TankState tankNow(const Job &job);

/// Properties of what the tank holds, with all its hydrocarbons. Throws InputError for one that the job does
/// not know.
BlendProperties propertiesOf(const Job &job, const TankState &tank);

/// The component of a hydrocarbon by name; empty: the job's gasoline. Throws InputError when there is none.
const Component &hydrocarbonOf(const Job &job, std::string_view name);

/// The way to sensor and injectors, at idle or at cruise.
FuelPath fuelPathOf(const Job &job, bool cruise);

/// Alcohol of a blend, 0–1.
double alcoholOf(const Blend &blend);

} // namespace wheelwright
