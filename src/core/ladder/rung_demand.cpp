// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/ladder/rung_demand.h"

#include "core/base/limits.h"
#include "core/study/fuel_delivery.h"
#include "core/study/headroom.h"

#include <algorithm>

namespace wheelwright {
namespace {

using enum CalibratedQuantity;

bool pumpsKnown(const Job &job) {
    return !job.supply.pumps.empty() && !job.supply.points.empty();
}

// Manifold pressure that each speed peaks at.
std::vector<double> peaks(const Study &study, double content, std::optional<double> boostKpa,
                          const std::vector<double> &rpm, double overKpa, std::vector<double> &targets) {
    const double ambient = study.job().conditions.ambientKpa;
    const std::vector<ReachAtSpeed> reach = study.reach(content, rpm);
    double highest = ambient;
    for (const ReachAtSpeed &r : reach)
        if (r.runs) highest = std::max(highest, r.targetKpa);
    std::vector<double> out;
    for (const ReachAtSpeed &r : reach) {
        double target = r.targetKpa;
        if (boostKpa)
            target = *boostKpa > highest ? target + *boostKpa - highest : std::min(target, *boostKpa);
        targets.push_back(target);
        out.push_back(r.runs ? std::max(ambient, target + overKpa) : 0);
    }
    return out;
}

} // namespace

RungDemand rungDemand(const Study &given, double content, std::optional<double> boostKpa,
                      const DemandAir &air) {
    const Study &study = given.inPressure();
    const Job &job = study.job();
    const Table2D fuelTable = study.blended(fuel, content), lambdaTable = study.blended(lambda, content);
    std::vector<double> rpm = fuelTable.x().points(), targets;
    if (air.mostRpm > 0) {
        std::erase_if(rpm, [&](double r) { return r >= air.mostRpm; });
        rpm.push_back(air.mostRpm);
    }
    const std::vector<double> peak = peaks(study, content, boostKpa, rpm, air.overKpa, targets);
    const DutyModel model(job, content, air.intakeC);
    RungDemand d;
    double mostTarget = 0;
    for (std::size_t i = 0; i < rpm.size(); ++i) {
        if (peak[i] <= 0) continue;
        const DutyWorking w = model.at(rpm[i], peak[i], fuelTable.lookup(rpm[i], peak[i]).value,
                                       lambdaTable.lookup(rpm[i], peak[i]).value);
        const double flow = engineFlowLMin(job, w.fuelMm3, rpm[i]);
        if (pumpsKnown(job)) {
            const double has = pumpFlowAt(job, {rpm[i], peak[i]});
            const double share = has > 0 ? flow * (1 + job.supply.margin) / has : 99;
            d.pumpShare = std::max(d.pumpShare.value_or(0), share);
        }
        d.flowLMin = std::max(d.flowLMin, flow);
        if (w.duty > d.duty) {
            d.duty = w.duty;
            d.rpm = rpm[i];
            d.loadKpa = peak[i];
        }
        constexpr double close = 0.5; // kPa
        if (targets[i] > mostTarget + close) {
            mostTarget = targets[i];
            d.sparkRpm = rpm[i];
            d.sparkLoadKpa = std::max(targets[i], job.conditions.ambientKpa);
        }
        if (targets[i] > job.conditions.ambientKpa) d.peakKpa = std::max(d.peakKpa.value_or(0), peak[i]);
    }
    if (d.sparkRpm > 0) {
        d.sparkDeg = study.blended(spark, content).lookup(d.sparkRpm, d.sparkLoadKpa).value;
        d.lambda = lambdaTable.lookup(d.sparkRpm, d.sparkLoadKpa).value;
    }
    return d;
}

RungDemand rungDemand(const Study &study, double content, std::optional<double> boostKpa) {
    return rungDemand(study, content, boostKpa,
                      {study.job().conditions.intakeColdestC, limitOf(study.job(), "boost.overshoot")});
}

double boostWithinDuty(const Study &study, double content, double duty) {
    const double ambient = study.job().conditions.ambientKpa;
    double good = ambient, bad = mostFrontierKpa;
    if (rungDemand(study, content, ambient).duty > duty) return ambient;
    constexpr double close = 0.1; // kPa
    while (bad - good > close) {
        const double middle = (good + bad) / 2;
        (rungDemand(study, content, middle).duty <= duty ? good : bad) = middle;
    }
    return good;
}

} // namespace wheelwright
