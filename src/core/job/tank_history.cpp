// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/job/tank_history.h"

#include "core/base/error.h"

#include <algorithm>

namespace wheelwright {
namespace {

// Pump and gauge disagree a little: a tank may seem this much fuller than it is before it is called a
// mistake.
constexpr double pumpPlayL = 2;

// A content measured anew: the hydrocarbons keep their shares of what is not alcohol.
TankState withContent(TankState tank, const Blend &content) {
    const double before = tank.content.gasoline().fraction(), now = content.gasoline().fraction();
    for (TankState::Share &share : tank.others)
        share.fraction = before > 0 ? share.fraction * now / before : 0;
    tank.content = content;
    return tank;
}

TankState after(const Job &job, const TankState &tank, const TankEvent &event) {
    const Blend fuel{VolumeFraction::fraction(event.ethanol), VolumeFraction::fraction(event.methanol)};
    switch (event.kind) {
    case TankEventKind::pour:
        if (tank.volumeL + event.litres > job.tank.capacityL + pumpPlayL)
            throw InputError("litres",
                             Phrase{MARKED("expected.room_in_tank", "room for it in the tank of {0} L"),
                                    {exact(job.tank.capacityL)}},
                             Phrase{MARKED("found.litres", "{0}"),
                                    {{tank.volumeL + event.litres, Dimension::displacement, allDecimals}}});
        return afterPour(tank, event.litres, fuel, event.hydrocarbon);
    case TankEventKind::drain:
    case TankEventKind::burn:
        return afterDrain(tank, event.litres);
    case TankEventKind::level:
        return {event.litres, tank.content, tank.others};
    case TankEventKind::content:
        return withContent(tank, fuel);
    case TankEventKind::sensor:
    case TankEventKind::tube:
        return tank; // an opinion: the arithmetic goes on without it
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

const Component &hydrocarbonOf(const Job &job, std::string_view name) {
    if (name.empty()) return job.gasoline;
    const auto at = std::ranges::find(job.hydrocarbons, name, &Hydrocarbon::name);
    if (at == job.hydrocarbons.end())
        throw InputError("hydrocarbon",
                         MARKED("expected.name_hydrocarbon_job", "the name of a hydrocarbon of this job"),
                         "'" + std::string(name) + "'");
    return *at;
}

BlendProperties propertiesOf(const Job &job, const TankState &tank) {
    std::vector<BlendPart> parts{{&job.ethanol, tank.content.ethanol.fraction()},
                                 {&job.methanol, tank.content.methanol.fraction()}};
    double gasoline = tank.content.gasoline().fraction();
    for (const TankState::Share &share : tank.others) {
        parts.push_back({&hydrocarbonOf(job, share.hydrocarbon), share.fraction});
        gasoline -= share.fraction;
    }
    parts.push_back({&job.gasoline, std::max(0.0, gasoline)});
    return propertiesOf(parts);
}

FuelPath fuelPathOf(const Job &job, bool cruise) {
    const TankSetup &t = job.tank;
    return {t.lineL,       cruise ? t.cruiseFlowLMin : t.idleFlowLMin,
            t.surgeL,      t.surgeFlowLMin,
            t.sensorPlace, t.railL,
            t.returnL,     cruise ? t.cruiseUseLMin : t.idleUseLMin};
}

double alcoholOf(const Blend &b) {
    return std::clamp(b.ethanol.fraction() + b.methanol.fraction(), 0.0, 1.0);
}

} // namespace wheelwright
