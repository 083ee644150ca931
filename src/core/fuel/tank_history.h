#pragma once
#include "core/fuel/tank.h"
#include "core/job/job.h"

namespace wheelwright {

/// What the tank holds after all its events, by arithmetic. Throws InputError naming the event that cannot have
/// happened: more drained than there was, more poured than the tank takes.
TankState tankNow(const Job &job);

/// Alcohol of a blend, 0–1.
double alcoholOf(const Blend &blend);

} // namespace wheelwright
