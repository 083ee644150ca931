// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/proposal/knock_trials.h"

#include "core/combustion/cylinder.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <tuple>

namespace wheelwright {
namespace {

using R = ChannelRole;
constexpr double oneStep = 0.02, oneAirK = 3, perContent = 100; // a quarter of a degree, about

// What is the same of samples that count as one trial: content, cell, spark, air.
using TrialKey = std::tuple<int, std::size_t, std::size_t, int, int>;

class TrialReader {
  public:
    TrialReader(KnockSurfaces &surfaces, const LogReview &review, std::uint32_t place)
        : m_surfaces(surfaces), m_review(review), m_t(review.trace()), m_place(place),
          m_fromKpa(limitOf(surfaces.study().job(), "evidence.knock_from")),
          m_usualC(surfaces.study().job().conditions.intakeUsualC),
          m_baseContent(surfaces.study().job().calibration.baseContent) {}

    Phrase whyNot() const {
        if (!m_t.has(R::knockRetard)) return MARKED("knock.no_retard", "it has no knock retard");
        if (!m_t.has(R::spark) || !m_t.has(R::map))
            return MARKED("knock.no_spark", "it has no spark, or no load");
        if (!m_review.content().usable())
            return MARKED("knock.unsettled", "its content is not known or not settled");
        return {};
    }

    // What the sensor reads over a pull, on the average: it is slow, and rises while the engine speeds up.
    void findAir() {
        m_air.assign(m_t.size(), std::numeric_limits<double>::quiet_NaN());
        constexpr double apartS = 5;
        for (std::size_t i = 0; i < m_t.size();) {
            if (!(m_t.at(R::map, i) >= m_fromKpa)) {
                ++i;
                continue;
            }
            std::size_t last = i;
            double sum = 0, count = 0;
            for (std::size_t j = i; j < m_t.size() && m_t.timeS(j) - m_t.timeS(last) < apartS; ++j) {
                if (!(m_t.at(R::map, j) >= m_fromKpa)) continue;
                last = j;
                const double air = m_t.at(R::intakeTemp, j);
                if (!std::isfinite(air)) continue;
                sum += air;
                ++count;
            }
            if (count > 0)
                std::fill(m_air.begin() + static_cast<std::ptrdiff_t>(i),
                          m_air.begin() + static_cast<std::ptrdiff_t>(last) + 1, sum / count);
            i = last + 1;
        }
    }

    void read(KnockTrials::Log &log, std::vector<KnockTrial> &out, const std::stop_token &stop) {
        findAir();
        for (std::size_t i = 0; i + 1 < m_t.size(); ++i) {
            constexpr std::size_t often = 65536;
            if (i % often == 0 && stop.stop_requested()) return;
            add(i, log, out);
        }
        for (const auto &[key, sums] : m_clean) {
            KnockTrial mean = sums;
            for (double KnockTrial::*v : summed)
                mean.*v /= sums.samples;
            out.push_back(mean);
        }
        if (log.samples > 0) log.content /= log.samples;
    }

  private:
    // Spark delivered at a sample, and whether knock has begun by the next one.
    void add(std::size_t i, KnockTrials::Log &log, std::vector<KnockTrial> &out) {
        const double rpm = m_t.at(R::rpm, i), load = m_t.at(R::map, i), spark = m_t.at(R::spark, i);
        const double now = m_t.at(R::knockRetard, i), then = m_t.at(R::knockRetard, i + 1),
                     content = m_review.watched().contentAt(i);
        constexpr double running = 400;
        if (!(rpm >= running) || !(load >= m_fromKpa) || !std::isfinite(spark) || !std::isfinite(now) ||
            !std::isfinite(then) || !std::isfinite(content) || !m_t.follows(i + 1) ||
            m_review.watched().fuelCut(i) || m_review.watched().inTipIn(i) ||
            m_review.watched().inTipIn(i + 1))
            return;
        const int hundredth = static_cast<int>(std::lround(content * perContent));
        if (hundredth != m_hundredth) {
            m_hundredth = hundredth;
            m_here = &m_surfaces.at(content);
            m_base = &m_surfaces.at(m_baseContent);
        }
        const KnockSurface &k = *m_here;
        const double perLog = k.perLogDeg.lookup(rpm, load).value;
        // Where it always or hardly ever knocks, the model has no limit to hold spark against.
        constexpr double leastPerLog = 3, usefulDeg = 52;
        const double limit = k.limitDeg.lookup(rpm, load).value;
        if (perLog < leastPerLog || limit <= latestSparkTried || limit > usefulDeg) return;
        const double hotter = std::isfinite(m_air[i]) ? m_air[i] - m_usualC : 0;
        const double hot = k.perKDeg.lookup(rpm, load).value * hotter;
        const CellIndex cell{k.limitDeg.x().nearest(rpm), k.limitDeg.y().nearest(load)};
        KnockTrial one;
        one.log = m_place;
        one.rpm = k.limitDeg.x()[cell.x];
        one.loadKpa = k.limitDeg.y()[cell.y];
        one.content = content;
        one.hotter = hot / perLog;
        one.over = (spark - limit - hot) / perLog;
        one.perLogDeg = perLog;
        one.octane = octaneOver(k, *m_base, rpm, load);
        constexpr double secondsPerMinute = 60, turnsPerCycle = 2, longestS = 0.1;
        one.cycles =
            rpm / secondsPerMinute / turnsPerCycle * std::min(longestS, m_t.timeS(i + 1) - m_t.timeS(i));
        one.samples = 1;
        one.knocked = then - now > knockBeginsDeg;
        ++log.samples;
        log.content += content;
        if (one.knocked) {
            ++log.knocks;
            out.push_back(one);
            return;
        }
        const auto step = [](double v, double each) { return static_cast<int>(std::lround(v / each)); };
        const auto [at, isNew] = m_clean.try_emplace(
            {hundredth, cell.x, cell.y, step(one.over, oneStep), step(hotter, oneAirK)}, one);
        if (isNew) return;
        for (double KnockTrial::*v : summed)
            at->second.*v += one.*v;
        at->second.cycles += one.cycles;
        at->second.samples += 1;
    }

    static constexpr std::array summed{&KnockTrial::content, &KnockTrial::over, &KnockTrial::octane,
                                       &KnockTrial::perLogDeg, &KnockTrial::hotter};
    KnockSurfaces &m_surfaces;
    const LogReview &m_review;
    const LogTrace &m_t;
    std::uint32_t m_place;
    double m_fromKpa, m_usualC, m_baseContent;
    std::vector<double> m_air; ///< by sample; not a number where the log has none
    int m_hundredth = -1;
    const KnockSurface *m_here = nullptr, *m_base = nullptr;
    std::map<TrialKey, KnockTrial> m_clean; ///< sums, until they are read out
};

} // namespace

double octaneOver(const KnockSurface &here, const KnockSurface &base, double rpm, double loadKpa) {
    return octanePower *
           std::log(here.octane.lookup(rpm, loadKpa).value / base.octane.lookup(rpm, loadKpa).value);
}

const KnockSurface &KnockSurfaces::at(double content) {
    const int hundredth = static_cast<int>(std::lround(content * perContent));
    auto found = m_at.find(hundredth);
    if (found == m_at.end())
        found = m_at.emplace(hundredth, knockSurface(m_study, hundredth / perContent,
                                                     limitOf(m_study.job(), "evidence.knock_from")))
                    .first;
    return found->second;
}

KnockTrials knockTrials(KnockSurfaces &surfaces, std::span<const std::shared_ptr<const LogReview>> logs,
                        std::stop_token stop) {
    KnockTrials out;
    out.baseContent = surfaces.study().job().calibration.baseContent;
    for (const std::shared_ptr<const LogReview> &review : logs) {
        if (stop.stop_requested()) return {};
        const auto place = static_cast<std::uint32_t>(out.logs.size());
        KnockTrials::Log &log = out.logs.emplace_back();
        log.info = review->info();
        TrialReader reader(surfaces, *review, place);
        log.why = reader.whyNot();
        log.used = log.why.empty();
        if (log.used) reader.read(log, out.trials, stop);
    }
    return out;
}

} // namespace wheelwright
