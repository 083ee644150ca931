// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/pour_request.h"

#include "core/base/error.h"
#include "core/base/limits.h"
#include "core/job/tank_history.h"
#include "core/study/content_opinions.h"
#include "core/study/shelf.h"

#include <algorithm>
#include <array>

namespace wheelwright {

PourRequest pourRequestOf(const Job &job, double target, std::optional<double> levelL,
                          std::string_view today) {
    const TankState tank = tankNow(job);
    const bool methanol = job.alcohol == Alcohol::methanol;
    const BlendModel blends = blendModelOf(job);
    const auto otherIn = [&](const Blend &b) { return (methanol ? b.ethanol : b.methanol).fraction() > 0; };
    const auto inPlan = [](const Fuel &s) { return s.kind != FuelKind::booster && s.inPlans; };
    const std::vector<Fuel> shelf = shelfOf(job, today);
    // With both alcohols about, a plan of litres that ends at the wanted share of alcohol can miss the need
    // of fuel by several per cent: what each needs is what counts then.
    const bool both = otherIn(tank.content) || std::ranges::any_of(shelf, [&](const Fuel &s) {
                          return inPlan(s) && otherIn(s.content);
                      });
    PourRequest r;
    if (both) r.otherCountsFor = blends.otherCountsFor(methanol);
    r.capacityL = job.tank.capacityL;
    r.volumeL = std::min(tank.volumeL, r.capacityL); // the gauge may say a little more than there is room for
    r.content = both ? blends.asOneAlcohol(tank.content, methanol) : alcoholOf(tank.content);
    r.target = target;
    r.levelL = levelL;
    r.reserveL = job.tank.reserveL;
    r.known = uncertainTankNow(job);
    if (both) r.known = UncertainTank(r.known->volumeL(), {r.content, r.known->content().sigma});
    for (const Fuel &s : shelf) {
        if (!inPlan(s)) continue; // an additive fills no tank
        ShelfFuel f;
        f.name = s.name;
        f.content = both ? blends.asOneAlcohol(s.content, methanol) : std::clamp(s.alcohol.value, 0.0, 1.0);
        f.contentSigma = s.alcohol.sigma;
        f.meterSigma = limitOf(job, "usual.pour");
        f.pricePerL = s.pricePerL;
        if (s.leftL) f.availableL = *s.leftL;
        f.canL = s.canL;
        for (const ShelfFlag &flag : s.flags)
            f.cautions.push_back({MARKED("pour.caution", "{a}: {A}"), {}, {s.name}, {flag.words}});
        r.shelf.push_back(f);
    }
    if (r.shelf.empty())
        throw InputError("fuel.shelf",
                         MARKED("expected.a_fuel_that_plans_may_use", "a fuel that plans may use"),
                         MARKED("found.none", "none"));
    return r;
}

std::vector<PourStep> stepsOf(const PourPlan &plan, const PourRequest &r) {
    std::vector<PourStep> steps;
    UncertainTank tank = r.known.value_or(UncertainTank({r.volumeL, 0}, {r.content, 0}));
    const auto keep = [&](PourStep step) {
        step.volumeL = tank.volumeL().value;
        step.content = tank.content();
        step.underReserve = step.volumeL < r.reserveL;
        steps.push_back(std::move(step));
    };
    constexpr double nothing = 0.005;
    if (plan.drainL > nothing) {
        PourStep step;
        step.drain = true;
        step.litres = plan.drainL;
        tank.take({plan.drainL, 0});
        keep(std::move(step));
    }
    for (std::size_t i = 0; i < plan.pourL.size(); ++i) {
        if (plan.pourL[i] <= nothing) continue;
        const ShelfFuel &fuel = r.shelf[i];
        PourStep step;
        step.fuel = i;
        step.litres = plan.pourL[i];
        step.name = fuel.name;
        if (!plan.cans.empty()) step.cans = plan.cans[i];
        tank.pour({plan.pourL[i], fuel.meterSigma * plan.pourL[i]}, {fuel.content, fuel.contentSigma});
        keep(std::move(step));
    }
    return steps;
}

Phrase pickupWarning(const PourPlan &plan, const PourRequest &r) {
    const Measured reserve{r.reserveL, Dimension::displacement};
    if (plan.volumeL < r.reserveL)
        return Phrase(
            MARKED("pour.pickup.after", "Still under the {0} that the pickup needs afterwards: no pulls."),
            {reserve});
    if (r.volumeL - plan.drainL < r.reserveL)
        return Phrase(
            MARKED("pour.pickup.before",
                   "Until this is poured the tank is under the {0} that the pickup needs: do not run "
                   "the engine hard."),
            {reserve});
    return {};
}

Phrase strategyWords(PourStrategy s) {
    constexpr std::array titles{MARKED("pour.strategy.least_added", "Least added"),
                                MARKED("pour.strategy.fullest", "Fullest tank"),
                                MARKED("pour.strategy.cheapest", "Cheapest"),
                                MARKED("pour.strategy.nearest", "Nearest without draining"),
                                MARKED("pour.strategy.least_drain", "Least drain"),
                                MARKED("pour.strategy.cans", "Whole cans")};
    return titles[static_cast<std::size_t>(s)];
}

} // namespace wheelwright
