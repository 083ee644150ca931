// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/fuel/tank.h"

#include "core/base/error.h"
#include "core/fuel/uncertain_tank.h"

#include <algorithm>
#include <cmath>

namespace wheelwright {
namespace {

void requireVolume(const char *where, double litres) {
    if (!(litres >= 0) || !std::isfinite(litres))
        throw InputError(where, MARKED("expected.a_volume_of_0_l_or_more", "a volume of 0 L or more"),
                         std::to_string(litres));
}

void requireContent(const char *where, double content) {
    if (!(content >= 0 && content <= 1))
        throw InputError(where,
                         MARKED("expected.a_volume_fraction_from_0_to_1", "a volume fraction from 0 to 1"),
                         std::to_string(content));
}

} // namespace

TankState afterPour(const TankState &tank, double litres, const Blend &fuel, const std::string &hydrocarbon) {
    requireVolume("tank volume", tank.volumeL);
    requireVolume("pour", litres);
    validate(fuel);
    const double total = tank.volumeL + litres;
    if (total == 0) return {0, tank.content, tank.others};
    const auto mixed = [&](VolumeFraction in, VolumeFraction added) {
        return VolumeFraction::fraction((tank.volumeL * in.fraction() + litres * added.fraction()) / total);
    };
    TankState after{total,
                    {mixed(tank.content.ethanol, fuel.ethanol), mixed(tank.content.methanol, fuel.methanol)}};
    bool known = false;
    for (TankState::Share share : tank.others) {
        share.fraction *= tank.volumeL / total;
        if (share.hydrocarbon == hydrocarbon) {
            share.fraction += litres * fuel.gasoline().fraction() / total;
            known = true;
        }
        after.others.push_back(share);
    }
    if (!hydrocarbon.empty() && !known)
        after.others.push_back({hydrocarbon, litres * fuel.gasoline().fraction() / total});
    return after;
}

TankState afterDrain(const TankState &tank, double litres) {
    requireVolume("drain", litres);
    constexpr double asReadL = 0.05; // no can is read any better, and plans speak of whole ones: from memory
    if (litres > tank.volumeL + asReadL)
        throw InputError(
            "drain",
            Phrase{MARKED("expected.in_tank", "at most the {0} L in the tank"), {exact(tank.volumeL)}},
            std::to_string(litres));
    return {std::max(0.0, tank.volumeL - litres), tank.content, tank.others};
}

Uncertain contentAfter(Uncertain volume, Uncertain content, const std::vector<UncertainPour> &pours) {
    UncertainTank tank(volume, content);
    for (const UncertainPour &p : pours)
        tank.pour(p.litres, p.content);
    if (!(tank.volumeL().value > 0))
        throw InputError("tank", MARKED("expected.some_fuel", "some fuel"), MARKED("found.none", "none"));
    return tank.content();
}

FlushPlan planFlush(double volumeL, double content, double fillContent, double restL, double capacityL,
                    double target, double tolerance) {
    requireVolume("volume", volumeL);
    requireContent("content", content);
    requireContent("fill content", fillContent);
    requireContent("target", target);
    if (!(capacityL > 0) || !(restL >= 0 && restL < capacityL) || volumeL > capacityL)
        throw InputError("tank",
                         MARKED("expected.rest_under_capacity_volume_fits",
                                "a rest under the capacity and a volume that fits"),
                         std::to_string(restL) + " and " + std::to_string(volumeL) + " of " +
                             std::to_string(capacityL) + " L");
    if (!(tolerance > 0))
        throw InputError("tolerance", MARKED("expected.more_than_0", "more than 0"),
                         std::to_string(tolerance));
    FlushPlan plan;
    constexpr double rounding = 1e-12;
    double volume = std::min(volumeL, restL); // the first run down; a tank under the rest is filled as it is
    double now = content;
    if (std::abs(now - target) <= tolerance + rounding) {
        plan.possible = true;
        return plan;
    }
    // Every fill brings the content nearer to the fill's own. Two hundred fills are for ever.
    for (constexpr int forEver = 200; plan.fills < forEver && std::abs(now - target) > tolerance + rounding;
         ++plan.fills) {
        double poured = capacityL - volume;
        const double full = (volume * now + poured * fillContent) / capacityL;
        const bool passes = (content < target) ? full > target + tolerance : full < target - tolerance;
        if (passes && volume <= 0) break; // nothing is left for it to be mixed with
        if (passes) {
            poured = volume * (now - target) / (target - fillContent);
            plan.lastL = poured;
        }
        now = passes ? target : full;
        plan.fuelL += poured;
        plan.contents.push_back(now);
        volume = restL;
    }
    plan.possible = std::abs(now - target) <= tolerance + rounding;
    return plan;
}

} // namespace wheelwright
