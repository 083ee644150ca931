// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/return_flow.h"

#include "core/study/fuel_delivery.h"

#include <algorithm>
#include <limits>
#include <map>

namespace wheelwright {

EngineMap returnFlow(const Study &study, double content) {
    const Job &job = study.job();
    const InjectorDemand demand(job, content, job.conditions.intakeColdestC);
    std::map<double, double> pumps; // by load: data sheets are slow to read
    return mapOverFuelTable(study, content, [&](double rpm, double load, double fuel, double lambda) {
        if (!pumps.contains(load)) pumps[load] = pumpFlowAtLoad(job, load);
        return pumps[load] - engineFlowLMin(job, demand.mm3(fuel, load, lambda), rpm);
    });
}

FreezeLine freezeLine(const Study &study) {
    const double needed = study.job().supply.sensorReturnLMin;
    FreezeLine line{false, std::numeric_limits<double>::max(), std::numeric_limits<double>::max()};
    constexpr int steps = 20;
    for (int i = 0; i <= steps; ++i) {
        const EngineMap map = returnFlow(study, static_cast<double>(i) / steps);
        for (std::size_t x = 0; x < map.rpm.size(); ++x)
            for (std::size_t y = 0; y < map.loadKpa.size(); ++y) {
                const std::size_t at = x * map.loadKpa.size() + y;
                if (!map.reached[at] || map.value[at] >= needed) continue;
                line.needed = true;
                // It begins somewhere after the last good breakpoint.
                line.loadKpa = std::min(line.loadKpa, map.loadKpa[y > 0 ? y - 1 : 0]);
                line.rpm = std::min(line.rpm, map.rpm[x > 0 ? x - 1 : 0]);
            }
    }
    return line.needed ? line : FreezeLine{};
}

} // namespace wheelwright
