// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/ladder/ladder_fuel.h"

#include "core/base/error.h"
#include "core/base/limits.h"
#include "core/fuel/can_route.h"
#include "core/fuel/settling.h"
#include "core/job/tank_history.h"
#include "core/study/pour_request.h"

#include <algorithm>
#include <cmath>
#include <map>

namespace wheelwright {
namespace {

constexpr double sameFuelContent = 0.02; // as fuel goes, the same
constexpr double usualCruiseLMin = 0.2;  // on base fuel; from memory
constexpr double moneyRounding = 1e-9;

bool open(const Rung &r) {
    return r.state == RungState::later;
}

/// What is poured, used and paid for the rungs that are still open.
class FuelPlanner {
  public:
    FuelPlanner(Ladder &ladder, const Study &study) : m_ladder(ladder), m_job(study.job()) {}

    void withoutFuels() {
        m_ladder.remarks.push_back(MARKED(
            "ladder.remark.no_fuels", "No fuel of the shelf may be used by plans: pours are not planned."));
        for (Rung &r : m_ladder.rungs)
            if (open(r)) estimate(r, r.content, false);
    }

    void pour(const PourRequest &request) {
        std::vector<std::size_t> which;
        double before = request.content;
        for (std::size_t i = 0; i < m_ladder.rungs.size(); ++i) {
            Rung &r = m_ladder.rungs[i];
            if (!open(r)) continue;
            r.expected = {r.content, 0};
            estimate(r, before, hasPulls(r.kind) && std::abs(r.content - before) > sameFuelContent);
            if (!hasPulls(r.kind) && r.kind != RungKind::road) continue;
            which.push_back(i);
            if (r.kind != RungKind::road) before = r.content;
        }
        CanRequest cans;
        cans.capacityL = request.capacityL;
        cans.volumeL = request.volumeL;
        cans.content = request.content;
        cans.reserveL = request.reserveL;
        cans.shelf = request.shelf;
        cans.drainCanL = m_job.ladder.drainCanL;
        for (const std::size_t i : which)
            cans.stops.push_back(stopOf(m_ladder.rungs[i]));
        CanRoute route = planCans(cans);
        // A way up that cannot be poured still has to come down.
        if (route.steps.size() < which.size()) {
            const std::size_t ended = route.steps.size();
            const Rung &r = m_ladder.rungs[which[ended]];
            const Phrase why{MARKED("ladder.ends.fuel", "It cannot be poured: {A}."), {}, {}, {route.why}};
            if (r.kind == RungKind::content || r.kind == RungKind::topBoost ||
                r.kind == RungKind::baseBoost) {
                endWayUp(m_ladder, which[ended], why);
                return pour(request); // with fewer rungs
            }
            for (std::size_t k = ended; k < which.size(); ++k) {
                m_ladder.rungs[which[k]].state = RungState::outOfReach;
                m_ladder.rungs[which[k]].why = why;
            }
            if (m_ladder.ends.empty()) m_ladder.ends = why;
        }
        const double money = m_job.ladder.money;
        if (money > 0 && m_ladder.spent + route.price > money) {
            cans.least = CanRouteLeast::money;
            if (CanRoute cheap = planCans(cans);
                cheap.steps.size() == route.steps.size() && cheap.price < route.price - moneyRounding)
                route = std::move(cheap);
            if (m_ladder.spent + route.price > money)
                m_ladder.remarks.push_back(
                    {MARKED("ladder.remark.money", "The fuel comes to {0}, which is {1} more than it may."),
                     {{m_ladder.spent + route.price, Dimension::money},
                      {m_ladder.spent + route.price - money, Dimension::money}}});
            else
                m_ladder.remarks.push_back(MARKED("ladder.remark.drained_for_money",
                                                  "More is drained than must be, so that the fuel costs no "
                                                  "more than it may."));
        }
        m_ladder.thinned = route.thinned;
        write(request, route, which);
    }
    void total() {
        for (const Rung &r : m_ladder.rungs) {
            if (r.state != RungState::next && r.state != RungState::later) continue;
            m_ladder.drainedL += r.drainL;
            for (const RungPour &p : r.pours)
                m_ladder.pouredL += p.litres;
            m_ladder.price += r.price;
            m_ladder.burnedL += r.burnL;
            m_ladder.minutes += r.minutes;
        }
    }

  private:
    // What is used and how long it takes.
    void estimate(Rung &r, double before, bool moved) const {
        const double cruise = m_job.tank.cruiseUseLMin > 0
                                  ? m_job.tank.cruiseUseLMin
                                  : std::min(m_job.tank.cruiseFlowLMin, usualCruiseLMin);
        r.minutes = 0;
        if (r.kind == RungKind::preflight) r.minutes = limitOf(m_job, "ladder.preflight_min");
        double driven = 0;
        if (r.kind == RungKind::road) driven = limitOf(m_job, "ladder.road_min");
        if (moved) {
            const FuelPath path = fuelPathOf(m_job, true);
            const double within = limitOf(m_job, "ladder.settled");
            r.settleMin = settlingMinutes(path, before, r.expected.value, within);
            r.settleInjectorsMin = injectorSettlingMinutes(path, before, r.expected.value, within);
            r.minutes += limitOf(m_job, "ladder.pour_min");
            driven += std::max(r.settleMin, r.settleInjectorsMin);
        }
        r.minutes += driven + r.pulls * limitOf(m_job, "ladder.pull_min");
        constexpr double secondsAMinute = 60;
        r.burnL = driven * cruise * r.multiplier +
                  r.pulls * r.demand.flowLMin * limitOf(m_job, "ladder.pull_s") / secondsAMinute;
    }

    CanStop stopOf(const Rung &r) const {
        const double near = limitOf(m_job, "ladder.pour"), far = limitOf(m_job, "ladder.content");
        // The road is driven on what it came down to, never on what happens to be cheap.
        if (r.kind == RungKind::wayDown || r.kind == RungKind::road) {
            const double high = r.content + limitOf(m_job, "ladder.way_down");
            return {r.content - far, high, r.content - far, high, r.burnL};
        }
        return {r.content - near, r.content + near, r.content - std::max(near, far),
                r.content + std::max(near, far), r.burnL};
    }

    void write(const PourRequest &request, const CanRoute &route, const std::vector<std::size_t> &which) {
        UncertainTank tank =
            request.known.value_or(UncertainTank({request.volumeL, 0}, {request.content, 0}));
        double before = request.content, volume = request.volumeL;
        for (std::size_t k = 0; k < route.steps.size(); ++k) {
            Rung &r = m_ladder.rungs[which[k]];
            const CanStep &s = route.steps[k];
            r.drainCans = s.drainCans;
            r.drainL = s.drainL;
            r.drainCanL = m_job.ladder.drainCanL;
            if (s.drainL > 0) tank.take({s.drainL, 0});
            for (std::size_t f = 0; f < s.count.size(); ++f) {
                if (s.count[f] == 0) continue;
                const ShelfFuel &fuel = request.shelf[f];
                r.pours.push_back(
                    {f, fuel.name, s.count[f], s.pourL[f], fuel.canL, s.pourL[f] * fuel.pricePerL});
                tank.pour({s.pourL[f], fuel.meterSigma * s.pourL[f]}, {fuel.content, fuel.contentSigma});
                m_used[f] += s.count[f];
            }
            r.volumeL = s.volumeL;
            r.expected = tank.content();
            r.price = s.price;
            if (s.wider)
                r.remarks.push_back({MARKED("ladder.remark.wider", "Whole cans come no nearer than {0}."),
                                     {{s.content, Dimension::content}}});
            if (volume < request.reserveL && k == 0 && r.moves())
                r.remarks.push_back({MARKED("pour.pickup.before",
                                            "Until this is poured the tank is under the {0} that the pickup "
                                            "needs: do not run the engine hard."),
                                     {{request.reserveL, Dimension::displacement}}});
            const double burned = r.burnL; // that the cans were planned with
            estimate(r, before, r.moves());
            r.burnL = burned;
            const double use = std::min(r.burnL, s.volumeL);
            if (use > 0) tank.take({use, limitOf(m_job, "usual.burn") * use});
            before = s.content;
            volume = s.volumeL - use;
        }
        for (std::size_t f = 0; f < request.shelf.size(); ++f)
            if (m_used[f] > 0) {
                const ShelfFuel &fuel = request.shelf[f];
                const double litres = m_used[f] * (fuel.canL > 0 ? fuel.canL : 1);
                m_ladder.shopping.push_back(
                    {fuel.name, m_used[f], litres, fuel.canL, litres * fuel.pricePerL, fuel.cautions});
            }
    }

    Ladder &m_ladder;
    const Job &m_job;
    std::map<std::size_t, int> m_used; ///< of each fuel, in cans or litres
};

} // namespace

void endWayUp(Ladder &ladder, std::size_t from, Phrase why) {
    for (std::size_t i = from; i < ladder.rungs.size(); ++i) {
        Rung &r = ladder.rungs[i];
        const bool up =
            r.kind == RungKind::baseBoost || r.kind == RungKind::content || r.kind == RungKind::topBoost;
        if (!up || !open(r)) continue;
        r.state = RungState::outOfReach;
        r.why = {MARKED("ladder.ends.below", "The way ends before it. {A}"), {}, {}, {why}};
    }
    if (ladder.ends.empty()) ladder.ends = why;
}

void planLadderFuel(Ladder &ladder, const Study &study, double target, std::string_view today) {
    FuelPlanner planner(ladder, study);
    if (const auto request = fuelsForPlans(study.job(), target, today))
        planner.pour(*request);
    else
        planner.withoutFuels();
    planner.total();
}

std::optional<PourRequest> fuelsForPlans(const Job &job, double target, std::string_view today) {
    try {
        return pourRequestOf(job, target, std::nullopt, today);
    } catch (const InputError &) {
        return std::nullopt;
    }
}

} // namespace wheelwright
