// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/proposal/boost_pulls.h"

#include "core/base/straight_line.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace wheelwright {
namespace {

using R = ChannelRole;
constexpr double notANumber = std::numeric_limits<double>::quiet_NaN();
constexpr double openThrottle = 0.9, reachedShare = 0.9, settlesS = 0.5, spikeS = 1, leastHeldS = 0.7;

double meanOf(const std::vector<double> &v) {
    double sum = 0;
    for (const double x : v)
        sum += x;
    return v.empty() ? notANumber : sum / static_cast<double>(v.size());
}

class PullReader {
  public:
    PullReader(const LogReview &log, const Episode &e)
        : m_log(log), m_t(log.trace()), m_ambientKpa(log.watched().ambientKpa()), m_episode(e) {
        m_out.log = log.info().id;
        m_out.beginS = e.beginS;
        m_out.endS = e.endS;
        m_out.content = e.content;
    }

    PullBoost read() {
        gather();
        if (m_at.empty()) return std::move(m_out);
        findReached();
        if (m_out.reached) describe();
        return std::move(m_out);
    }

  private:
    void gather() {
        std::vector<double> gears;
        for (std::size_t i = m_episode.from; i <= m_episode.to; ++i) {
            const bool open = !(m_t.at(R::throttle, i) < openThrottle);
            if (!open || m_log.watched().fuelCut(i) || !(m_t.at(R::map, i) > 0)) continue;
            m_at.push_back(i);
            if (m_t.at(R::gear, i) == m_t.at(R::gear, i)) gears.push_back(m_t.at(R::gear, i));
        }
        if (!gears.empty()) m_out.gear = std::round(std::clamp(meanOf(gears), 0.0, 12.0));
    }

    double gauge(std::size_t i) const { return m_t.at(R::map, i) - m_ambientKpa; }
    double target(std::size_t i) const { return m_log.watched().boostTarget(i) - m_ambientKpa; }

    void findReached() {
        double highest = 0;
        for (const std::size_t i : m_at)
            highest = std::max(highest, gauge(i));
        for (std::size_t k = 0; k < m_at.size(); ++k) {
            const double wanted = target(m_at[k]) == target(m_at[k]) ? target(m_at[k]) : highest;
            constexpr double leastBoost = 5;
            if (!(wanted > leastBoost) || gauge(m_at[k]) < reachedShare * wanted) continue;
            m_reached = k;
            m_out.reachedRpm = m_t.at(R::rpm, m_at[k]);
            m_out.reached = m_t.timeS(m_at.back()) - m_t.timeS(m_at[k]) >= settlesS + leastHeldS;
            return;
        }
    }

    void describe() {
        const double begun = m_t.timeS(m_at[m_reached]);
        std::vector<double> rpm, boost, targets, duties, times;
        double spike = -std::numeric_limits<double>::infinity(), least = 1, most = 0;
        for (std::size_t k = m_reached; k < m_at.size(); ++k) {
            const std::size_t i = m_at[k];
            const double since = m_t.timeS(i) - begun, duty = m_t.at(R::solenoidDuty, i);
            if (since >= settlesS) {
                rpm.push_back(m_t.at(R::rpm, i));
                boost.push_back(gauge(i));
                times.push_back(m_t.timeS(i));
                if (target(i) == target(i)) targets.push_back(target(i));
                if (duty == duty) {
                    duties.push_back(duty);
                    least = std::min(least, duty);
                    most = std::max(most, duty);
                }
            }
        }
        m_out.heldKpa = meanOf(boost);
        m_out.targetKpa = meanOf(targets);
        m_out.duty = meanOf(duties);
        m_out.dutyMoved = duties.empty() ? 0 : most - least;
        for (std::size_t k = m_reached; k < m_at.size() && m_t.timeS(m_at[k]) - begun <= spikeS; ++k) {
            const double wanted = target(m_at[k]);
            spike = std::max(spike, gauge(m_at[k]) - (wanted == wanted ? wanted : m_out.heldKpa));
        }
        m_out.overshootKpa = std::max(0.0, spike);
        // Against a target that moves with speed, what boost does by itself.
        std::vector<double> off = boost;
        if (targets.size() == boost.size())
            for (std::size_t k = 0; k < off.size(); ++k)
                off[k] -= targets[k];
        const StraightLine line = lineThrough(rpm, off);
        const double span = rpm.back() - rpm.front();
        m_out.driftKpa = line.slope * span;
        m_out.driftSigmaKpa = line.slopeError * std::abs(span);
        wave(line, rpm, off, times);
        speak();
    }

    // Crossings of the line: two a wave.
    void wave(const StraightLine &line, const std::vector<double> &rpm, const std::vector<double> &off,
              const std::vector<double> &times) {
        m_out.waveKpa = std::sqrt(2.0) * line.rms;
        int crossings = 0;
        bool above = off.front() > line.at(rpm.front());
        for (std::size_t k = 1; k < off.size(); ++k) {
            const double distance = off[k] - line.at(rpm[k]);
            if (std::abs(distance) < line.rms / 2 || (distance > 0) == above) continue; // noise about it
            above = distance > 0;
            ++crossings;
        }
        constexpr int leastCrossings = 4;
        const double seconds = times.back() - times.front();
        if (m_out.waveKpa >= waveWorthSayingKpa && crossings >= leastCrossings && seconds > 0)
            m_out.waveHz = crossings / 2.0 / seconds;
    }

    void speak() {
        constexpr Dimension d = Dimension::pressureDifference;
        constexpr double at95 = 1.96;
        const double most = m_log.watched().limit("boost.overshoot");
        if (m_out.overshootKpa > most)
            m_out.said.push_back({MARKED("boost_pull.spike", "spike: {0} over, {1} are allowed for"),
                                  {{m_out.overshootKpa, d}, {most, d}}});
        const double sure = std::abs(m_out.driftKpa) - at95 * m_out.driftSigmaKpa;
        if (sure > 0 && std::abs(m_out.driftKpa) > driftWorthSayingKpa)
            m_out.said.push_back(m_out.driftKpa > 0
                                     ? Phrase{MARKED("boost_pull.creep", "creep: it rises by {0} to the end"),
                                              {{m_out.driftKpa, d}}}
                                     : Phrase{MARKED("boost_pull.sag", "sag: it falls by {0} to the end"),
                                              {{-m_out.driftKpa, d}}});
        if (m_out.waveHz > 0)
            m_out.said.push_back({MARKED("boost_pull.wave", "wave: {0} up and down, {1}"),
                                  {{m_out.waveKpa, d}, {m_out.waveHz, Dimension::frequency}}});
    }

    const LogReview &m_log;
    const LogTrace &m_t;
    double m_ambientKpa;
    const Episode &m_episode;
    std::vector<std::size_t> m_at;
    std::size_t m_reached = 0;
    PullBoost m_out;
};

} // namespace

std::vector<PullBoost> readPulls(std::span<const std::shared_ptr<const LogReview>> logs) {
    std::vector<PullBoost> out;
    for (const std::shared_ptr<const LogReview> &log : logs) {
        if (!log->trace().has(R::map) || !log->content().known) continue;
        for (const Episode &e : log->episodes())
            if (e.kind == EpisodeKind::pull) out.push_back(PullReader(*log, e).read());
    }
    return out;
}

Job withBoostPoints(const Job &job, std::span<const PullBoost> pulls) {
    Job after = job;
    constexpr double stillDuty = 0.02, sameDuty = 0.01, sameKpa = 3, sameContent = 0.03;
    for (const PullBoost &p : pulls) {
        if (!p.reached || p.duty != p.duty || p.dutyMoved > stillDuty || !p.said.empty()) continue;
        const bool there = std::ranges::any_of(after.boost.points.values(), [&](const BoostPoint &b) {
            return std::abs(b.duty - p.duty) < sameDuty && std::abs(b.boostKpa - p.heldKpa) < sameKpa &&
                   b.gear == p.gear && std::abs(b.content - p.content) < sameContent;
        });
        if (there) continue;
        BoostPoint point;
        point.duty = p.duty;
        point.boostKpa = p.heldKpa;
        point.gear = p.gear;
        point.content = p.content;
        const LogInfo *log = logById(job, p.log);
        point.note = log ? log->name : p.log;
        after.boost.points.push_back(point);
    }
    return after;
}

std::optional<BoostOverContent> boostOverContent(std::span<const PullBoost> pulls) {
    std::vector<double> contents, held, targets;
    for (const PullBoost &p : pulls)
        if (p.reached && p.content == p.content) {
            contents.push_back(p.content);
            held.push_back(p.heldKpa);
            targets.push_back(p.targetKpa);
        }
    if (contents.size() < 3) return {};
    BoostOverContent out;
    out.pulls = contents.size();
    out.from = std::ranges::min(contents);
    out.to = std::ranges::max(contents);
    constexpr double apart = 0.1;
    if (out.to - out.from < apart) return {};
    const StraightLine line = lineThrough(contents, held);
    out.held = line.slope;
    out.heldError = line.slopeError;
    out.target = lineThrough(contents, targets).slope;
    return out;
}

} // namespace wheelwright
