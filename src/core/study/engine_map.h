#pragma once
#include "core/base/limits.h"
#include "core/study/fuel_delivery.h"
#include "core/study/load_axis.h"
#include "core/study/school.h"

#include <algorithm>
#include <vector>

namespace wheelwright {

/// A number in each cell of the fuel table at one content.
struct EngineMap {
    std::vector<double> rpm, loadKpa;
    std::vector<double> value; ///< rpm-major
    std::vector<bool> reached; ///< the boost target (with its overshoot) and the rev limit let it go there
};

/// valueOf(rpm, loadKpa, blended fuel table there, blended lambda target there), asked in rpm-major order.
template <class ValueOf>
EngineMap mapOverFuelTable(const Job &given, double content, ValueOf valueOf) {
    const Job job = inPressure(given);
    const auto ends = SchoolModel(job).at(content);
    const auto table = [&](CalibratedQuantity q) { return blendedTable(ends[static_cast<std::size_t>(q)]); };
    const Table2D fuel = table(CalibratedQuantity::fuel), lambda = table(CalibratedQuantity::lambda),
                  boost = table(CalibratedQuantity::boost);
    const double overshoot = limitOf(job, "boost.overshoot");
    EngineMap map{fuel.x().points(), fuel.y().points(), {}, {}};
    for (std::size_t x = 0; x < map.rpm.size(); ++x) {
        const double rpm = map.rpm[x];
        const double reach = std::max(highestTarget(boost, rpm) + overshoot, job.conditions.ambientKpa);
        for (std::size_t y = 0; y < map.loadKpa.size(); ++y) {
            const double load = map.loadKpa[y];
            map.value.push_back(valueOf(rpm, load, fuel.cell(x, y), lambda.lookup(rpm, load).value));
            map.reached.push_back(load <= reach && rpm <= job.engine.revLimitRpm);
        }
    }
    return map;
}

/// Injector duty in every cell, with the coldest intake air; held to 99.
EngineMap dutyMap(const Job &job, double content);

} // namespace wheelwright
