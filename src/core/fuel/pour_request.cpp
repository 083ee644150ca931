#include "core/fuel/pour_request.h"

#include "core/error.h"
#include "core/fuel/tank_history.h"

#include <algorithm>
#include <array>

namespace wheelwright {

PourRequest pourRequestOf(const Job &job, double target, std::optional<double> levelL) {
    const TankState tank = tankNow(job);
    PourRequest r;
    r.capacityL = job.tank.capacityL;
    r.volumeL = std::min(tank.volumeL, r.capacityL); // the gauge may say a little more than there is room for
    r.content = alcoholOf(tank.content);
    r.target = target;
    r.levelL = levelL;
    for (const ShelfEntry &s : job.shelf) {
        ShelfFuel f;
        f.name = s.name;
        f.content = std::min(1.0, s.ethanol + s.methanol);
        f.pricePerL = s.pricePerL;
        if (s.leftL > 0) f.availableL = s.leftL;
        f.canL = s.canL;
        r.shelf.push_back(f);
    }
    if (r.shelf.empty()) throw InputError("fuel.shelf", "a fuel to pour", "none");
    return r;
}

std::vector<PourStep> stepsOf(const PourPlan &plan, const PourRequest &r) {
    std::vector<PourStep> steps;
    double volume = r.volumeL, alcohol = r.volumeL * r.content;
    constexpr double nothing = 0.005;
    if (plan.drainL > nothing) {
        volume -= plan.drainL;
        alcohol = volume * r.content;
        steps.push_back({{"Drain {0}", {{plan.drainL, Dimension::displacement}}}, volume, r.content});
    }
    for (std::size_t i = 0; i < plan.pourL.size(); ++i) {
        if (plan.pourL[i] <= nothing) continue;
        volume += plan.pourL[i];
        alcohol += plan.pourL[i] * r.shelf[i].content;
        Phrase words{"Pour {0} of " + r.shelf[i].name, {{plan.pourL[i], Dimension::displacement}}};
        if (!plan.cans.empty())
            words.text = "Pour " + std::to_string(plan.cans[i]) + " cans ({0}) of " + r.shelf[i].name;
        steps.push_back({words, volume, alcohol / volume});
    }
    return steps;
}

std::string_view strategyTitle(PourStrategy s) {
    constexpr std::array<std::string_view, 6> titles{
        "Least added", "Fullest tank", "Cheapest", "Nearest without draining", "Least drain", "Whole cans"};
    return titles[static_cast<std::size_t>(s)];
}

} // namespace wheelwright
