// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/fuel/pour_plan.h"

#include "core/base/small_programme.h"
#include "core/fuel/pour_checks.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numeric>

namespace wheelwright {
namespace {

constexpr double exactContent = 1e-4;

void check(const PourRequest &r) {
    const double most = std::max(1.0, r.otherCountsFor);
    requireTankAndShelf(r.capacityL, r.volumeL, r.shelf, most);
    const auto fraction = [most](double c) { return c >= 0 && c <= most; };
    require(fraction(r.content), "content",
            MARKED("expected.a_volume_fraction_from_0_to_1", "a volume fraction from 0 to 1"), r.content);
    require(fraction(r.target), "target",
            MARKED("expected.a_volume_fraction_from_0_to_1", "a volume fraction from 0 to 1"), r.target);
    if (r.levelL)
        require(*r.levelL > 0 && *r.levelL <= r.capacityL, "level",
                MARKED("expected.more_than_0_l_up", "more than 0 L, up to the capacity"), *r.levelL);
}

/// The request as a linear programme. Variables: each pour, the drain, the room left under the capacity.
class Planner {
  public:
    explicit Planner(const PourRequest &r) : m_r(r), m_n(r.shelf.size()) {}

    PourPlan finish(PourStrategy strategy, double drain, std::vector<double> pours) const {
        PourPlan p;
        p.strategy = strategy;
        p.drainL = drain;
        p.volumeL = m_r.volumeL - drain;
        double alcohol = p.volumeL * m_r.content;
        for (std::size_t i = 0; i < m_n; ++i) {
            p.volumeL += pours[i];
            alcohol += pours[i] * m_r.shelf[i].content;
            p.price += pours[i] * m_r.shelf[i].pricePerL;
        }
        p.content = p.volumeL > 0 ? alcohol / p.volumeL : m_r.content;
        p.pourL = std::move(pours);
        p.exact = std::abs(p.content - m_r.target) <= exactContent;
        return p;
    }

    // Exactly the target content. pourCost of each litre of each fuel, drainCost of each litre drained (none:
    // no drain).
    std::optional<PourPlan> exact(PourStrategy strategy, const std::vector<double> &pourCost,
                                  std::optional<double> drainCost) const {
        SmallProgramme lp;
        lp.cost = pourCost;
        SmallProgramme::Equation content, level;
        for (const ShelfFuel &f : m_r.shelf) {
            lp.upper.push_back(std::min(f.availableL, m_r.capacityL));
            content.row.push_back(f.content - m_r.target);
            level.row.push_back(1);
        }
        lp.cost.push_back(drainCost.value_or(0));
        lp.upper.push_back(drainCost ? m_r.volumeL : 0);
        content.row.push_back(m_r.target - m_r.content);
        level.row.push_back(-1);
        lp.cost.push_back(0);
        lp.upper.push_back(m_r.levelL ? 0 : m_r.capacityL);
        content.row.push_back(0);
        level.row.push_back(1);
        content.value = m_r.volumeL * (m_r.target - m_r.content);
        level.value = m_r.levelL.value_or(m_r.capacityL) - m_r.volumeL;
        lp.equations = {content, level};
        const auto x = lp.solve();
        if (!x) return std::nullopt;
        const PourPlan p =
            finish(strategy, (*x)[m_n],
                   std::vector<double>(x->begin(), x->begin() + static_cast<std::ptrdiff_t>(m_n)));
        return p.volumeL > 0 ? std::optional(p) : std::nullopt;
    }

    // The best that pouring alone can do when the target is out of reach: the furthest content towards it. At
    // a free level that is the strongest fuel first, as much as fits; at a wanted level the strongest mix
    // that fills it.
    std::optional<PourPlan> furthest() const {
        const double room = m_r.levelL.value_or(m_r.capacityL) - m_r.volumeL;
        if (room < 0) return std::nullopt;
        const bool up = m_r.target > m_r.content || m_r.volumeL == 0;
        std::vector<std::size_t> order(m_n);
        std::iota(order.begin(), order.end(), std::size_t{0});
        std::ranges::stable_sort(order, [&](std::size_t a, std::size_t b) {
            return up ? m_r.shelf[a].content > m_r.shelf[b].content
                      : m_r.shelf[a].content < m_r.shelf[b].content;
        });
        std::vector<double> pours(m_n, 0);
        double left = room;
        PourPlan best = finish(PourStrategy::nearest, 0, pours);
        for (std::size_t i : order) {
            pours[i] = std::min(left, m_r.shelf[i].availableL);
            left -= pours[i];
            const PourPlan p = finish(PourStrategy::nearest, 0, pours);
            const bool nearer =
                std::abs(p.content - m_r.target) < std::abs(best.content - m_r.target) - 1e-12;
            if (m_r.levelL || nearer || best.volumeL == 0) best = p;
        }
        if (best.volumeL <= 0 || (m_r.levelL && left > 1e-9)) return std::nullopt;
        return best;
    }

    // Whole cans of one, two or three fuels: more than three a person does not pour, and a fourth could only
    // mend an error that the uncertainty of the contents hides.
    std::optional<PourPlan> cans() const {
        CanSearch best;
        const double room = m_r.levelL.value_or(m_r.capacityL) - m_r.volumeL;
        if (m_r.volumeL > 0) offer(best, {}, {});
        for (std::size_t i = 0; i < m_n; ++i)
            for (std::size_t j = i; j < m_n; ++j)
                for (std::size_t k = j; k < m_n; ++k)
                    if (i < j || j == k) searchOf({i, j, k}, room, best); // a pair stands as i, k, k only
        if (!best.found) return std::nullopt;
        std::vector<double> pours(m_n, 0);
        std::vector<int> count(m_n, 0);
        for (std::size_t m = 0; m < best.fuels.size(); ++m)
            count[best.fuels[m]] += best.count[m];
        for (std::size_t i = 0; i < m_n; ++i)
            pours[i] = count[i] * m_r.shelf[i].canL;
        PourPlan p = finish(PourStrategy::wholeCans, 0, pours);
        p.cans = std::move(count);
        return p;
    }

  private:
    using Three = std::array<std::size_t, 3>;
    using Counts = std::array<int, 3>;
    struct CanSearch {
        bool found = false;
        double error = 0, volume = 0;
        Three fuels{};
        Counts count{};
    };

    int mostCans(std::size_t fuel, double room) const {
        const ShelfFuel &f = m_r.shelf[fuel];
        constexpr double rounding = 1e-9, mostEver = 1e6;
        if (f.canL <= 0 || room < 0) return 0;
        return static_cast<int>(std::min((std::min(room, f.availableL) + rounding) / f.canL, mostEver));
    }

    void offer(CanSearch &best, const Three &fuels, const Counts &count) const {
        double volume = m_r.volumeL, alcohol = m_r.volumeL * m_r.content;
        for (std::size_t m = 0; m < fuels.size(); ++m) {
            const double litres = count[m] * m_r.shelf[fuels[m]].canL;
            volume += litres;
            alcohol += litres * m_r.shelf[fuels[m]].content;
        }
        if (!(volume > 0)) return;
        const double error = std::abs(alcohol / volume - m_r.target);
        constexpr double same = 1e-12;
        const bool better = !best.found || error < best.error - same ||
                            (error < best.error + same && volume < best.volume - same);
        if (better) best = {true, error, volume, fuels, count};
    }

    // A fuel that stands twice counts once: its later places stay at 0.
    void searchOf(const Three &fuels, double room, CanSearch &best) const {
        const auto &[i, j, k] = fuels;
        const int mostI = i == j ? 0 : mostCans(i, room);
        for (int a = 0; a <= mostI; ++a) {
            const double roomJ = room - a * m_r.shelf[i].canL;
            const int mostJ = j == k ? 0 : mostCans(j, roomJ);
            for (int b = 0; b <= mostJ; ++b) {
                const int most = mostCans(k, roomJ - b * m_r.shelf[j].canL);
                // The content only moves towards the last fuel's own: its best counts lie about the crossing,
                // or at an end.
                const int crossing = std::min(crossingOf({i, j, k}, {a, b, 0}), most);
                for (const int c : {0, crossing, std::min(crossing + 1, most), most})
                    offer(best, fuels, {a, b, c});
            }
        }
    }

    // So many whole cans of the last fuel, on top of the counts before it, bring the tank just short of the
    // target.
    int crossingOf(const Three &fuels, const Counts &count) const {
        double volume = m_r.volumeL, alcohol = m_r.volumeL * m_r.content;
        for (std::size_t m = 0; m < 2; ++m) {
            const double litres = count[m] * m_r.shelf[fuels[m]].canL;
            volume += litres;
            alcohol += litres * m_r.shelf[fuels[m]].content;
        }
        const ShelfFuel &last = m_r.shelf[fuels[2]];
        const double pull = last.content - m_r.target;
        if (std::abs(pull) < 1e-12 || last.canL <= 0) return 0;
        return static_cast<int>(std::clamp((m_r.target * volume - alcohol) / pull / last.canL, 0.0, 1e6));
    }

    const PourRequest &m_r;
    std::size_t m_n;
};

PhraseText whyNot(const PourRequest &r) {
    const auto [low, high] = std::ranges::minmax(r.shelf, {}, &ShelfFuel::content);
    const double least = std::min(low.content, r.volumeL > 0 ? r.content : low.content);
    const double most = std::max(high.content, r.volumeL > 0 ? r.content : high.content);
    if (r.target < least - 1e-12 || r.target > most + 1e-12)
        return MARKED("pour.why.content", "tank and shelf do not mix to it");
    if (r.levelL && *r.levelL < r.volumeL)
        return MARKED("pour.why.level", "the tank holds more than the wanted level");
    return MARKED("pour.why.room", "too little room in the tank, or too little on the shelf");
}

} // namespace

std::string_view strategyId(PourStrategy s) {
    constexpr std::array<std::string_view, 6> ids{"least_added", "fullest",     "cheapest",
                                                  "nearest",     "least_drain", "whole_cans"};
    return ids[static_cast<std::size_t>(s)];
}

PourAnswer planPour(const PourRequest &request) {
    check(request);
    PourRequest r = request;
    if (r.volumeL == 0 && !r.levelL)
        r.levelL = r.capacityL; // an empty tank has no content to reach a target with: fill it
    const Planner planner(r);
    PourAnswer answer;
    const auto keep = [&](const std::optional<PourPlan> &p) {
        if (p) answer.plans.push_back(*p);
        return p.has_value();
    };
    const std::size_t n = r.shelf.size();
    std::vector<double> prices;
    for (const ShelfFuel &f : r.shelf)
        prices.push_back(f.pricePerL);
    const auto least = planner.exact(PourStrategy::leastAdded, std::vector<double>(n, 1), std::nullopt);
    if (keep(least)) {
        keep(planner.exact(PourStrategy::fullest, std::vector<double>(n, -1), std::nullopt));
        keep(planner.exact(PourStrategy::cheapest, prices, std::nullopt));
        PourPlan nearest = *least;
        nearest.strategy = PourStrategy::nearest;
        keep(nearest);
    } else {
        answer.why = whyNot(r);
        keep(planner.furthest());
        // Draining costs a thousand times pouring: first as little drain as can be, then as little poured.
        constexpr double drainFirst = 1000;
        auto drained = planner.exact(PourStrategy::leastDrain, std::vector<double>(n, 1), drainFirst);
        constexpr double emptyL = 0.1;
        if (!drained || drained->volumeL < emptyL) {
            // All of it must go: what is poured then is a fresh fill, and the least of that would be nothing.
            PourRequest fresh = r;
            fresh.levelL = r.levelL.value_or(r.capacityL);
            drained = Planner(fresh).exact(PourStrategy::leastDrain, std::vector<double>(n, 1), drainFirst);
        }
        keep(drained);
    }
    if (std::ranges::any_of(r.shelf, [](const ShelfFuel &f) { return f.canL > 0; })) keep(planner.cans());
    return answer;
}

const PourPlan *planOf(const PourAnswer &answer, PourStrategy strategy) {
    const auto at = std::ranges::find(answer.plans, strategy, &PourPlan::strategy);
    return at == answer.plans.end() ? nullptr : &*at;
}

} // namespace wheelwright
