#include "core/study/engine_map.h"

namespace wheelwright {

EngineMap dutyMap(const Job &job, double content) {
    constexpr double endless = 99; // no pressure across the injector: nothing flows
    const DutyModel model(job, content, job.conditions.intakeColdestC);
    return mapOverFuelTable(job, content, [&](double rpm, double load, double fuel, double lambda) {
        return std::min(endless, model.at(rpm, load, fuel, lambda).duty);
    });
}

} // namespace wheelwright
