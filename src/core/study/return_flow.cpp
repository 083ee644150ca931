// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/return_flow.h"

#include "core/study/evaluation.h"
#include "core/study/fuel_delivery.h"

#include <algorithm>
#include <limits>

namespace wheelwright {

EngineMap returnFlow(const Study &study, double content) {
    const Job &job = study.job();
    const InjectorDemand demand(job, content, job.conditions.intakeColdestC);
    const PumpFlow pumps(job);
    return mapOverFuelTable(study, content, [&](double rpm, double load, double fuel, double lambda) {
        return pumps.at({rpm, load}) - engineFlowLMin(job, demand.mm3(fuel, {rpm, load}, lambda), rpm);
    });
}

namespace {

// Every point that can be reached, at any content, where too little comes back.
template <class Visit>
void visitTooLittle(const Study &study, Visit visit) {
    const Evaluation &e = study.evaluation();
    const Job &job = study.job();
    const PumpFlow flow(job);
    const ByPoint pumps(e, flow.bySpeed(), [flow](EnginePoint at) { return flow.at(at); });
    for (const ContentSlice &s : e.slices()) {
        const InjectorDemand demand(job, s.content, job.conditions.intakeColdestC);
        visitReachable(e, s, [&](const auto &p) {
            const double mm3 = demand.mm3(p.of(s.fuel), {p.rpm, p.loadKpa}, p.of(s.lambda));
            if (p.of(pumps) - engineFlowLMin(job, mm3, p.rpm) < job.supply.sensorReturnLMin) visit(e, p);
        });
    }
}

} // namespace

double leastReturnLMin(const Study &given, double content) {
    const Study &study = given.inPressure();
    const Job &job = study.job();
    const EngineMap map = returnFlow(study, content);
    double least = std::numeric_limits<double>::infinity();
    for (std::size_t i = 0; i < map.value.size(); ++i)
        if (map.reached[i]) least = std::min(least, map.value[i]);
    const InjectorDemand demand(job, content, job.conditions.intakeColdestC);
    std::vector<double> speeds = map.rpm;
    speeds.push_back(job.engine.revLimitRpm);
    const std::vector<ReachAtSpeed> reach = study.reach(content, speeds);
    for (std::size_t i = 0; i < speeds.size(); ++i) {
        if (!reach[i].runs) continue;
        const double load = reach[i].highestKpa;
        const BlendedPoint p = blendedPoint(study, {content, speeds[i], load});
        const EnginePoint at{speeds[i], load};
        const double back =
            pumpFlowAt(job, at) - engineFlowLMin(job, demand.mm3(p.fuel, at, p.lambda), at.rpm);
        least = std::min(least, back);
    }
    return least;
}

FreezeLine freezeLine(const Study &study) {
    FreezeLine line{false, std::numeric_limits<double>::max(), std::numeric_limits<double>::max()};
    visitTooLittle(study.inPressure(), [&](const Evaluation &e, const auto &p) {
        line.needed = true;
        // It begins somewhere after the last good point of the grid.
        const bool onGrid = p.loadKpa == e.load()[p.loadIndex];
        line.loadKpa = std::min(line.loadKpa, e.load()[p.loadIndex - (onGrid && p.loadIndex > 0 ? 1 : 0)]);
        line.rpm = std::min(line.rpm, e.rpm()[p.rpmIndex > 0 ? p.rpmIndex - 1 : 0]);
    });
    return line.needed ? line : FreezeLine{};
}

bool freezeCovers(const Study &study) {
    bool covered = true;
    const FuelSupply &supply = study.job().supply;
    visitTooLittle(study.inPressure(), [&](const Evaluation &, const auto &p) {
        covered = covered && frozenAt(supply, p.rpm, p.loadKpa);
    });
    return covered;
}

} // namespace wheelwright
