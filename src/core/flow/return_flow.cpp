#include "core/flow/return_flow.h"

#include "core/flow/fuel_delivery.h"
#include "core/tables/two_table_school.h"
#include "core/verify/limits.h"

#include <algorithm>
#include <limits>

namespace wheelwright {

bool frozenAt(const FuelSupply &s, double rpm, double loadKpa) {
    return s.freezeLoadKpa > 0 && loadKpa >= s.freezeLoadKpa && rpm >= s.freezeRpm;
}

ReturnFlowMap returnFlow(const Job &job, double content) {
    const Weights weights = WeightModel(job).at(content);
    const auto table = [&](CalibratedQuantity q) { return blendedTable(job.calibration.of(q), weights[q]); };
    const Table2D fuel = table(CalibratedQuantity::fuel), lambda = table(CalibratedQuantity::lambda),
                  boost = table(CalibratedQuantity::boost);
    const InjectorDemand demand(job, content, job.conditions.intakeColdestC);
    const double overshoot = limitOf(job, "boost.overshoot");
    constexpr double lMinOfMm3PerCycle = 1e-6 / 2;
    ReturnFlowMap map{fuel.x().points(), fuel.y().points(), {}, {}};
    std::vector<double> pump;
    for (const double load : map.loadKpa)
        pump.push_back(
            pumpFlowLMin(job.supply.points, job.supply.pumps, job.supply.volts,
                         pumpPressureKpa(job.injectors.railPressureKpa, load, job.conditions.ambientKpa,
                                         job.injectors.boostReferenced)));
    for (std::size_t x = 0; x < map.rpm.size(); ++x) {
        const double rpm = map.rpm[x];
        const double reach =
            std::max(boost.lookup(rpm, boost.y().last()).value + overshoot, job.conditions.ambientKpa);
        for (std::size_t y = 0; y < map.loadKpa.size(); ++y) {
            const double load = map.loadKpa[y];
            const double mm3 =
                demand.volumePerVeKpa * fuel.cell(x, y) * load / lambda.lookup(rpm, load).value;
            map.lMin.push_back(pump[y] - mm3 * job.engine.cylinders * rpm * lMinOfMm3PerCycle);
            map.reached.push_back(load <= reach && rpm <= job.engine.revLimitRpm);
        }
    }
    return map;
}

FreezeLine freezeLine(const Job &job) {
    FreezeLine line{false, std::numeric_limits<double>::max(), std::numeric_limits<double>::max()};
    constexpr int steps = 20;
    for (int i = 0; i <= steps; ++i) {
        const ReturnFlowMap map = returnFlow(job, static_cast<double>(i) / steps);
        for (std::size_t x = 0; x < map.rpm.size(); ++x)
            for (std::size_t y = 0; y < map.loadKpa.size(); ++y) {
                const std::size_t at = x * map.loadKpa.size() + y;
                if (!map.reached[at] || map.lMin[at] >= job.supply.sensorReturnLMin) continue;
                line.needed = true;
                // It begins somewhere after the last good breakpoint.
                line.loadKpa = std::min(line.loadKpa, map.loadKpa[y > 0 ? y - 1 : 0]);
                line.rpm = std::min(line.rpm, map.rpm[x > 0 ? x - 1 : 0]);
            }
    }
    return line.needed ? line : FreezeLine{};
}

} // namespace wheelwright
