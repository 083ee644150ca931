// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/study/fuel_delivery.h"
#include "core/study/study.h"

#include <vector>

namespace wheelwright {

/// A number in each cell of the fuel table at one content.
struct EngineMap {
    std::vector<double> rpm, loadKpa;
    std::vector<double> value; ///< rpm-major
    std::vector<bool> reached; ///< the engine can go there (reach.h)
};

/// valueOf(rpm, loadKpa, blended fuel table there, blended lambda target there), asked in rpm-major order.
template <class ValueOf>
EngineMap mapOverFuelTable(const Study &given, double content, ValueOf valueOf) {
    const Study &study = given.inPressure();
    const auto ends = study.ends(content);
    const auto table = [&](CalibratedQuantity q) { return blendedTable(ends[static_cast<std::size_t>(q)]); };
    const Table2D fuel = table(CalibratedQuantity::fuel), lambda = table(CalibratedQuantity::lambda);
    EngineMap map{fuel.x().points(), fuel.y().points(), {}, {}};
    const std::vector<ReachAtSpeed> reach = study.reach(content, map.rpm);
    for (std::size_t x = 0; x < map.rpm.size(); ++x) {
        const double rpm = map.rpm[x];
        for (std::size_t y = 0; y < map.loadKpa.size(); ++y) {
            const double load = map.loadKpa[y];
            map.value.push_back(valueOf(rpm, load, fuel.cell(x, y), lambda.lookup(rpm, load).value));
            map.reached.push_back(reach[x].reaches(load));
        }
    }
    return map;
}

/// Injector duty in every cell, with the coldest intake air; held to 99.
EngineMap dutyMap(const Study &study, double content);

} // namespace wheelwright
