// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/evidence/episodes.h"

#include <algorithm>
#include <array>
#include <limits>

namespace wheelwright {
namespace {

using E = EpisodeKind;
using R = ChannelRole;

constexpr std::array kinds{
    EpisodeDefinition{E::start, "start", MARKED("episode.start", "Start"),
                      MARKED("episode.start.help", "Thirty seconds from the first turn of the engine.")},
    EpisodeDefinition{E::cold, "cold", MARKED("episode.cold", "Cold"),
                      MARKED("episode.cold.help", "Running with coolant under 70 °C.")},
    EpisodeDefinition{
        E::idle, "idle", MARKED("episode.idle", "Idle"),
        MARKED("episode.idle.help",
               "Under 1300 rpm, throttle under 15 % and load under 60 % of the open air, for two seconds.")},
    EpisodeDefinition{
        E::overrun, "overrun", MARKED("episode.overrun", "Overrun"),
        MARKED("episode.overrun.help", "Throttle under 3 %, over 1300 rpm, for half a second.")},
    EpisodeDefinition{E::cruise, "cruise", MARKED("episode.cruise", "Cruise"),
                      MARKED("episode.cruise.help",
                             "Under 80 kPa, speed within 15 % and load within 25 kPa for five seconds.")},
    EpisodeDefinition{
        E::hold, "hold", MARKED("episode.hold", "Hold"),
        MARKED("episode.hold.help",
               "Speed within 120 rpm and load within 8 kPa for three seconds, from 60 kPa up.")},
    EpisodeDefinition{
        E::tipIn, "tip_in", MARKED("episode.tip_in", "Tip-in"),
        MARKED("episode.tip_in.help", "Throttle opening by 20 % within 0.2 s, and half a second on.")},
    EpisodeDefinition{E::pull, "pull", MARKED("episode.pull", "Pull"),
                      MARKED("episode.pull.help",
                             "Throttle over 80 %, or the manifold within 10 % of the open air or over "
                             "it; at least 600 rpm up, for a second or more.")},
};

constexpr double none = std::numeric_limits<double>::quiet_NaN();
constexpr double runningRpm = 400, warmC = 70, startS = 30;
constexpr double shutShare = 0.03, idleRpm = 1300, idleS = 2, overrunS = 0.5;
constexpr double openShare = 0.8, pullRpm = 600, pullS = 1, shiftRpm = 150;
constexpr double holdRpm = 120, holdKpa = 8, holdS = 3, leastHoldKpa = 60;
constexpr double cruiseKpa = 80, cruiseShare = 0.15, cruiseSpanKpa = 25, cruiseS = 5;
constexpr double tipIn = 0.2, tipInS = 0.2, afterTipInS = 0.5;

class Finder {
  public:
    Finder(const LogTrace &trace, double ambientKpa) : m_t(trace), m_ambientKpa(ambientKpa) {}

    std::vector<Episode> find() {
        findStarts();
        findWhere(E::cold, 1,
                  [this](std::size_t i) { return running(i) && m_t.at(R::coolantTemp, i) < warmC; });
        findWhere(E::idle, idleS,
                  [this](std::size_t i) { return running(i) && m_t.at(R::rpm, i) < idleRpm && isLittle(i); });
        findWhere(E::overrun, overrunS,
                  [this](std::size_t i) { return isShut(i) && m_t.at(R::rpm, i) >= idleRpm; });
        findPulls();
        findTipIns();
        findSteady();
        std::ranges::stable_sort(m_found, {}, &Episode::from);
        return std::move(m_found);
    }

  private:
    bool running(std::size_t i) const { return m_t.at(R::rpm, i) >= runningRpm; }

    bool isShut(std::size_t i) const {
        if (m_t.has(R::throttle)) return m_t.at(R::throttle, i) < shutShare;
        constexpr double vacuum = 0.5; // of the open air
        return m_t.at(R::map, i) < vacuum * m_ambientKpa && m_t.at(R::rpm, i) < idleRpm;
    }

    // Engines without an idle valve idle with the throttle a little open.
    bool isLittle(std::size_t i) const {
        constexpr double littleThrottle = 0.15, littleLoad = 0.6;
        return !(m_t.at(R::throttle, i) >= littleThrottle) &&
               !(m_t.at(R::map, i) >= littleLoad * m_ambientKpa);
    }

    bool isOpen(std::size_t i) const {
        if (m_t.has(R::throttle)) return m_t.at(R::throttle, i) >= openShare;
        constexpr double almost = 0.9;
        return m_t.at(R::map, i) >= almost * m_ambientKpa;
    }

    double meanContent(std::size_t from, std::size_t to) const {
        double sum = 0;
        std::size_t count = 0;
        for (std::size_t i = from; i <= to; ++i)
            if (const double c = m_t.content(i); c == c) {
                sum += c;
                ++count;
            }
        return count > 0 ? sum / static_cast<double>(count) : none;
    }

    void add(EpisodeKind kind, std::size_t from, std::size_t to) {
        double peak = none;
        for (std::size_t i = from; i <= to; ++i)
            if (const double load = m_t.at(R::map, i); load == load && !(load <= peak)) peak = load;
        m_found.push_back({kind, from, to, m_t.timeS(from), m_t.timeS(to), m_t.at(R::rpm, from),
                           m_t.at(R::rpm, to), peak, meanContent(from, to)});
    }

    double lasts(std::size_t from, std::size_t to) const {
        return m_t.timeS(to) - m_t.timeS(from) + m_t.stepS();
    }

    template <class Condition>
    void findWhere(EpisodeKind kind, double leastS, Condition condition) {
        for (std::size_t i = 0; i < m_t.size();) {
            if (!condition(i)) {
                ++i;
                continue;
            }
            std::size_t to = i;
            while (to + 1 < m_t.size() && m_t.follows(to + 1) && condition(to + 1))
                ++to;
            if (lasts(i, to) >= leastS) add(kind, i, to);
            i = to + 1;
        }
    }

    // An engine that runs already when the log begins was not seen to start.
    void findStarts() {
        for (std::size_t i = 1; i < m_t.size(); ++i) {
            const bool stood = m_t.at(R::rpm, i - 1) < runningRpm / 4,
                       turns = m_t.at(R::rpm, i) >= runningRpm / 4;
            if (!stood || !turns) continue;
            std::size_t to = i;
            while (to + 1 < m_t.size() && m_t.timeS(to + 1) - m_t.timeS(i) <= startS)
                ++to;
            add(E::start, i, to);
        }
    }

    // Up through the speeds; a change of gear ends one.
    void findPulls() {
        for (std::size_t i = 0; i < m_t.size();) {
            if (!isOpen(i)) {
                ++i;
                continue;
            }
            std::size_t to = i, top = i;
            while (to + 1 < m_t.size() && m_t.follows(to + 1) && isOpen(to + 1) &&
                   m_t.at(R::rpm, to + 1) > m_t.at(R::rpm, top) - shiftRpm) {
                ++to;
                if (m_t.at(R::rpm, to) >= m_t.at(R::rpm, top)) top = to;
            }
            // It begins where the speed is lowest: before, the dyno or a gear holds it.
            std::size_t from = i;
            for (std::size_t k = i; k <= top; ++k)
                if (m_t.at(R::rpm, k) <= m_t.at(R::rpm, from) + 1) from = k;
            if (m_t.at(R::rpm, top) - m_t.at(R::rpm, from) >= pullRpm && lasts(from, top) >= pullS)
                add(E::pull, from, top);
            i = to + 1;
        }
    }

    void findTipIns() {
        if (!m_t.has(R::throttle)) return;
        std::size_t back = 0, until = 0;
        for (std::size_t i = 1; i < m_t.size(); ++i) {
            const double windowS = std::max(tipInS, m_t.stepS() * 1.01); // slow logs: from one to the next
            while (m_t.timeS(i) - m_t.timeS(back) > windowS)
                ++back;
            if (i < until || !(m_t.at(R::throttle, i) - m_t.at(R::throttle, back) >= tipIn)) continue;
            std::size_t to = i;
            while (to + 1 < m_t.size() && m_t.timeS(to + 1) - m_t.timeS(i) <= afterTipInS)
                ++to;
            add(E::tipIn, back, to);
            until = to + 1;
        }
    }

    // The longest stretches whose ends keep together; shut and pulled ones are something else.
    void findSteady() {
        std::vector<bool> taken(m_t.size(), false);
        for (const Episode &one : m_found)
            if (one.kind == E::idle || one.kind == E::overrun || one.kind == E::pull)
                std::fill(taken.begin() + static_cast<std::ptrdiff_t>(one.from),
                          taken.begin() + static_cast<std::ptrdiff_t>(one.to) + 1, true);
        if (!m_t.has(R::map)) return;
        for (const EpisodeKind kind : {E::hold, E::cruise})
            for (std::size_t i = 0; i < m_t.size();)
                i = steadyFrom(kind, i, taken);
    }

    // Samples from i on that are steady; where the next search begins.
    std::size_t steadyFrom(EpisodeKind kind, std::size_t i, std::vector<bool> &taken) {
        double rpmLow = m_t.at(R::rpm, i), rpmHigh = rpmLow, kpaLow = m_t.at(R::map, i), kpaHigh = kpaLow;
        std::size_t to = i;
        for (std::size_t k = i; k < m_t.size() && !taken[k]; ++k) {
            const double rpm = m_t.at(R::rpm, k), kpa = m_t.at(R::map, k);
            if (!(rpm >= idleRpm / 2) || (k > i && !m_t.follows(k))) break;
            const double lowRpm = std::min(rpmLow, rpm), highRpm = std::max(rpmHigh, rpm);
            const double lowKpa = std::min(kpaLow, kpa), highKpa = std::max(kpaHigh, kpa);
            const bool within =
                kind == E::hold
                    ? highRpm - lowRpm <= holdRpm && highKpa - lowKpa <= holdKpa && lowKpa >= leastHoldKpa
                    : highRpm - lowRpm <= cruiseShare * highRpm && highKpa - lowKpa <= cruiseSpanKpa &&
                          highKpa < cruiseKpa;
            if (!within) break;
            rpmLow = lowRpm, rpmHigh = highRpm, kpaLow = lowKpa, kpaHigh = highKpa;
            to = k;
        }
        if (taken[i] || lasts(i, to) < (kind == E::hold ? holdS : cruiseS)) return i + 1;
        add(kind, i, to);
        std::fill(taken.begin() + static_cast<std::ptrdiff_t>(i),
                  taken.begin() + static_cast<std::ptrdiff_t>(to) + 1, true);
        return to + 1;
    }

    const LogTrace &m_t;
    double m_ambientKpa;
    std::vector<Episode> m_found;
};

} // namespace

std::span<const EpisodeDefinition> allEpisodeKinds() {
    return kinds;
}

const EpisodeDefinition &definitionOf(EpisodeKind kind) {
    return kinds[static_cast<std::size_t>(kind)];
}

std::vector<Episode> findEpisodes(const LogTrace &trace, double ambientKpa) {
    return Finder(trace, ambientKpa).find();
}

std::vector<Episode> only(std::span<const Episode> all, EpisodeKind kind) {
    std::vector<Episode> out;
    std::ranges::copy_if(all, std::back_inserter(out), [kind](const Episode &e) { return e.kind == kind; });
    return out;
}

} // namespace wheelwright
