// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/fuel/can_route.h"

#include "core/fuel/pour_checks.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <optional>
#include <tuple>

namespace wheelwright {
namespace {

constexpr double litreRounding = 1e-9;

double unitOf(const ShelfFuel &fuel) {
    return fuel.canL > 0 ? fuel.canL : 1;
}

struct Cost {
    double drainedL = 0, price = 0, pouredL = 0;
    int drains = 0; ///< times that a tank is drained
};

bool less(const Cost &a, const Cost &b, CanRouteLeast least) {
    const bool money = least == CanRouteLeast::money;
    constexpr double same = 1e-7;
    if (money && std::abs(a.price - b.price) > same) return a.price < b.price;
    if (std::abs(a.drainedL - b.drainedL) > same) return a.drainedL < b.drainedL;
    if (a.drains != b.drains) return a.drains < b.drains;
    if (std::abs(a.price - b.price) > same) return a.price < b.price;
    return a.pouredL < b.pouredL - same;
}

constexpr std::size_t mostFuels = 8;
using Counts = std::array<int, mostFuels>; ///< of each fuel of the shelf

/// One way to a stop. Plain: there are many.
struct State {
    double volumeL = 0, alcoholL = 0; ///< after the pour
    Cost cost;
    Counts used{}, count{}; ///< since the beginning, and here
    std::size_t before = 0;
    double drainL = 0; ///< here

    /// What ends with the same in the tank, and left on the shelf, is the same.
    std::tuple<long long, long long, Counts> key{};
};

/// The ways to one stop: of those that end with the same the least dear one. Where there are more than are
/// followed, the least dear ones at every level of the tank.
class Ways {
  public:
    explicit Ways(const CanRequest &r)
        : m_r(r), m_each(std::max<std::size_t>(1, r.mostStates / (levels + 1))), m_bar(levels + 1) {}

    void add(State s) {
        const std::size_t level = levelOf(s);
        if (m_bar[level] && !less(s.cost, *m_bar[level], m_r.least)) return; // would not be kept
        constexpr double perKey = 1e6;
        s.key = {std::llround(s.volumeL * perKey), std::llround(s.alcoholL * perKey), limited(s.used)};
        m_states.push_back(s);
        constexpr std::size_t gathered = 16; // before it is worth looking through
        if (m_states.size() > gathered * m_r.mostStates) settle();
    }
    std::vector<State> taken() {
        settle();
        return std::move(m_states);
    }
    bool thinned() const { return m_thinned; }

  private:
    static constexpr std::size_t levels = 40;

    std::size_t levelOf(const State &s) const {
        return static_cast<std::size_t>(std::min(s.volumeL / m_r.capacityL, 1.0) *
                                        static_cast<double>(levels));
    }

    // Counts that matter to what is left on the shelf.
    Counts limited(Counts used) const {
        constexpr double endless = 1e8;
        for (std::size_t i = 0; i < m_r.shelf.size(); ++i)
            if (m_r.shelf[i].availableL >= endless) used[i] = 0;
        return used;
    }

    void settle() {
        std::ranges::stable_sort(m_states, [&](const State &a, const State &b) {
            return a.key != b.key ? a.key < b.key : less(a.cost, b.cost, m_r.least);
        });
        m_states.erase(std::unique(m_states.begin(), m_states.end(),
                                   [](const State &a, const State &b) { return a.key == b.key; }),
                       m_states.end());
        if (m_states.size() <= m_r.mostStates) return;
        m_thinned = true;
        std::ranges::stable_sort(
            m_states, [&](const State &a, const State &b) { return less(a.cost, b.cost, m_r.least); });
        std::vector<std::size_t> kept(levels + 1, 0);
        std::erase_if(m_states, [&](const State &s) {
            const std::size_t level = levelOf(s);
            if (++kept[level] == m_each) m_bar[level] = s.cost;
            return kept[level] > m_each;
        });
    }

    const CanRequest &m_r;
    std::size_t m_each;
    std::vector<std::optional<Cost>> m_bar; ///< the dearest that is kept at a level that is full
    std::vector<State> m_states;
    bool m_thinned = false;
};

class CanPlanner {
  public:
    explicit CanPlanner(const CanRequest &r) : m_r(r) {
        for (const ShelfFuel &f : r.shelf)
            m_most.push_back(static_cast<int>(std::min((f.availableL + litreRounding) / unitOf(f),
                                                       (r.capacityL + litreRounding) / unitOf(f) * 100)));
    }

    CanRoute plan() {
        State start;
        start.volumeL = m_r.volumeL;
        start.alcoholL = m_r.volumeL * m_r.content;
        std::vector<std::vector<State>> levels{{start}};
        std::vector<bool> wider;
        CanRoute route;
        double burned = 0;             // since the level before
        const CanStop *held = nullptr; // the stop before, where only its wider limits are kept
        for (const CanStop &stop : m_r.stops) {
            bool wide = held && held->widerLow == stop.widerLow && held->widerHigh == stop.widerHigh;
            std::vector<State> next;
            if (!wide) next = stepTo(levels.back(), burned, stop, stop.low, stop.high);
            if (next.empty()) {
                wide = true;
                next = stepTo(levels.back(), burned, stop, stop.widerLow, stop.widerHigh);
            }
            if (next.empty()) {
                route.why = whyNot(levels.back(), stop);
                break;
            }
            levels.push_back(std::move(next));
            wider.push_back(wide);
            held = wide ? &stop : nullptr;
            burned = stop.burnL;
        }
        route.thinned = m_thinned;
        tell(levels, wider, route);
        return route;
    }

  private:
    // Every way from every state to within two contents.
    std::vector<State> stepTo(const std::vector<State> &from, double burnedL, const CanStop &stop, double low,
                              double high) {
        Ways out(m_r);
        for (std::size_t i = 0; i < from.size(); ++i) {
            const State &s = from[i];
            const double share =
                s.volumeL > 0 ? std::max(0.0, s.volumeL - burnedL) / s.volumeL : 0; // of it left
            const double volume = s.volumeL * share, alcohol = s.alcoholL * share;
            for (const double drained : drainsOf(volume)) {
                const double kept = volume > 0 ? std::max(0.0, volume - drained) / volume : 0;
                pourFrom(s, i, drained, volume * kept, alcohol * kept, stop, low, high, out);
            }
        }
        std::vector<State> taken = out.taken();
        m_thinned |= out.thinned();
        return taken;
    }

    // Whole cans, and all that can be had.
    std::vector<double> drainsOf(double volume) const {
        const int cans = static_cast<int>((volume + litreRounding) / m_r.drainCanL);
        std::vector<double> out;
        for (int d = 0; d <= cans; ++d)
            out.push_back(d * m_r.drainCanL);
        if (const double all = std::floor(volume - leastLeftL + litreRounding); all > out.back())
            out.push_back(all);
        return out;
    }

    void pourFrom(const State &s, std::size_t before, double drained, double volume, double alcohol,
                  const CanStop &stop, double low, double high, Ways &out) const {
        const double least = m_r.reserveL + stop.burnL;
        const auto take = [&](std::size_t i, int ni, std::size_t k, int nk) {
            State to;
            to.before = before;
            to.drainL = drained;
            to.used = s.used;
            to.cost = s.cost;
            to.cost.drainedL += drained;
            to.cost.drains += drained > 0 ? 1 : 0;
            to.volumeL = volume;
            to.alcoholL = alcohol;
            for (const auto &[f, count] : {std::pair(i, ni), std::pair(k, nk)}) {
                const ShelfFuel &fuel = m_r.shelf[f];
                const double litres = count * unitOf(fuel);
                to.count[f] += count;
                to.used[f] += count;
                to.volumeL += litres;
                to.alcoholL += litres * fuel.content;
                to.cost.pouredL += litres;
                to.cost.price += litres * fuel.pricePerL;
            }
            out.add(to);
        };
        for (std::size_t i = 0; i < m_r.shelf.size(); ++i)
            for (std::size_t k = i; k < m_r.shelf.size(); ++k) {
                const double unit = unitOf(m_r.shelf[i]);
                // A fuel alone stands as the pair of it with itself, of which the first is not poured.
                const int mostI =
                    i == k ? 0
                           : std::min(m_most[i] - s.used[i],
                                      static_cast<int>((m_r.capacityL - volume + litreRounding) / unit));
                for (int n = i == k ? 0 : 1; n <= mostI; ++n) {
                    const double v = volume + n * unit, a = alcohol + n * unit * m_r.shelf[i].content;
                    const auto [from, to] = countsOf(k, s, v, a, least, low, high);
                    for (int m = std::max(from, i == k ? 0 : 1); m <= to; ++m)
                        if (i != k || m > 0 || i == 0) // nothing at all is offered once
                            take(i, n, k, m);
                }
            }
    }

    // How many of a fuel keep content and volume within their limits: each of them is a straight line in the
    // count.
    std::pair<int, int> countsOf(std::size_t fuel, const State &s, double volume, double alcohol,
                                 double leastL, double low, double high) const {
        const ShelfFuel &f = m_r.shelf[fuel];
        const double unit = unitOf(f);
        double from = 0, to = m_most[fuel] - s.used[fuel];
        const auto holdOver = [&](double slope, double value) { // slope · n ≥ value
            if (std::abs(slope) < litreRounding) {
                if (value > litreRounding) to = -1;
            } else if (slope > 0) {
                from = std::max(from, value / slope);
            } else {
                to = std::min(to, value / slope);
            }
        };
        holdOver(unit * (f.content - low), low * volume - alcohol);
        holdOver(unit * (high - f.content), alcohol - high * volume);
        holdOver(unit, leastL - volume);
        holdOver(-unit, volume - m_r.capacityL);
        constexpr double slack = 1e-7;
        if (to < from - slack) return {0, -1};
        return {static_cast<int>(std::ceil(from - slack)), static_cast<int>(std::floor(to + slack))};
    }

    void tell(const std::vector<std::vector<State>> &levels, const std::vector<bool> &wider,
              CanRoute &route) const {
        if (levels.size() < 2) return;
        const auto best = std::ranges::min_element(
            levels.back(), [&](const State &a, const State &b) { return less(a.cost, b.cost, m_r.least); });
        route.drainedL = best->cost.drainedL;
        route.pouredL = best->cost.pouredL;
        route.price = best->cost.price;
        std::size_t at = static_cast<std::size_t>(best - levels.back().begin());
        for (std::size_t level = levels.size() - 1; level > 0; --level) {
            const State &s = levels[level][at];
            CanStep step;
            step.drainL = s.drainL;
            step.drainCans = static_cast<int>(std::ceil(s.drainL / m_r.drainCanL - litreRounding));
            for (std::size_t i = 0; i < m_r.shelf.size(); ++i) {
                step.count.push_back(s.count[i]);
                step.pourL.push_back(s.count[i] * unitOf(m_r.shelf[i]));
                step.price += step.pourL.back() * m_r.shelf[i].pricePerL;
            }
            step.volumeL = s.volumeL;
            step.content = s.volumeL > 0 ? s.alcoholL / s.volumeL : 0;
            step.wider = wider[level - 1];
            route.steps.insert(route.steps.begin(), std::move(step));
            at = s.before;
        }
    }

    Phrase whyNot(const std::vector<State> &from, const CanStop &stop) const {
        const auto [weakest, strongest] = std::ranges::minmax(m_r.shelf, {}, &ShelfFuel::content);
        double least = weakest.content, most = strongest.content;
        for (const State &s : from)
            if (s.volumeL > 0) {
                least = std::min(least, s.alcoholL / s.volumeL);
                most = std::max(most, s.alcoholL / s.volumeL);
            }
        if (stop.widerHigh < least || stop.widerLow > most)
            return MARKED("pour.why.content", "tank and shelf do not mix to it");
        if (m_r.reserveL + stop.burnL > m_r.capacityL)
            return MARKED("can_route.why.reserve", "what is used there and the reserve are more than the "
                                                   "tank takes");
        return MARKED("can_route.why.cans", "no whole cans and litres of the shelf come to it");
    }

    const CanRequest &m_r;
    std::vector<int> m_most; ///< of each fuel
    bool m_thinned = false;
};

void check(const CanRequest &r) {
    constexpr double mostContent = 3; // of a litre of another alcohol: BlendModel::otherCountsFor()
    requireTankAndShelf(r.capacityL, r.volumeL, r.shelf, mostContent);
    require(r.drainCanL > 0 && std::isfinite(r.drainCanL), "drain can",
            MARKED("expected.more_than_0_l", "more than 0 L"), r.drainCanL);
    for (std::size_t i = 0; i < r.stops.size(); ++i) {
        const CanStop &s = r.stops[i];
        const std::string where = "stop " + std::to_string(i + 1);
        require(s.low <= s.high && s.widerLow <= s.low && s.widerHigh >= s.high, where,
                MARKED("expected.limits_in_order", "limits in order, the wider ones about the others"),
                s.low);
        require(s.burnL >= 0 && std::isfinite(s.burnL), where + " burned",
                MARKED("expected.0_l_or_more", "0 L or more"), s.burnL);
    }
}

} // namespace

CanRoute planCans(const CanRequest &request) {
    check(request);
    return CanPlanner(request).plan();
}

} // namespace wheelwright
