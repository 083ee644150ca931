#include "core/fuel/tank_history.h"

#include "core/error.h"

#include <algorithm>

namespace wheelwright {
namespace {

// Pump and gauge disagree a little: a tank may seem this much fuller than it is before it is called a
// mistake.
constexpr double pumpPlayL = 2;

TankState after(const Job &job, const TankState &tank, const TankEvent &event) {
    const Blend fuel{VolumeFraction::fraction(event.ethanol), VolumeFraction::fraction(event.methanol)};
    switch (event.kind) {
    case TankEventKind::pour:
        if (tank.volumeL + event.litres > job.tank.capacityL + pumpPlayL)
            throw InputError("litres",
                             "room for it in the tank of " + std::to_string(job.tank.capacityL) + " L",
                             std::to_string(tank.volumeL + event.litres) + " L");
        return afterPour(tank, event.litres, fuel);
    case TankEventKind::drain:
    case TankEventKind::burn:
        return afterDrain(tank, event.litres);
    case TankEventKind::level:
        return {event.litres, tank.content};
    case TankEventKind::content:
        return {tank.volumeL, fuel};
    }
    return tank;
}

} // namespace

TankState tankNow(const Job &job) {
    TankState tank;
    for (std::size_t i = 0; i < job.tankEvents.size(); ++i) {
        try {
            tank = after(job, tank, job.tankEvents[i]);
        } catch (const InputError &e) {
            throw InputError("tank.events " + std::to_string(i + 1) + ", " + e.where(), e.expected(),
                             e.found());
        }
    }
    return tank;
}

double alcoholOf(const Blend &b) {
    return std::clamp(b.ethanol.fraction() + b.methanol.fraction(), 0.0, 1.0);
}

} // namespace wheelwright
