// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/proposal/fuel_samples.h"

#include "core/base/error.h"
#include "core/job/revision.h"
#include "core/study/fuel_delivery.h"
#include "core/study/load_axis.h"

#include <algorithm>
#include <cmath>
#include <map>

namespace wheelwright {
namespace {

using R = ChannelRole;

// Fuel that a calibration asks for, per injector and cycle, taken to λ 1 by its own target, whatever its
// tables mean. Contents to the tenth of a per cent, as logs are read through.
class Asked {
  public:
    explicit Asked(const Study &study) : m_study(study) {}
    double atLambdaOne(const FuelSample &s) {
        constexpr double perMille = 1000;
        const int content = static_cast<int>(std::lround(s.content * perMille));
        auto at = m_at.find(content);
        if (at == m_at.end()) {
            const double c = content / perMille;
            const Job &job = m_study.job();
            at = m_at.emplace(content, AtContent{InjectorDemand(job, c, job.conditions.intakeUsualC),
                                                 m_study.blended(CalibratedQuantity::fuel, c),
                                                 m_study.blended(CalibratedQuantity::lambda, c)})
                     .first;
        }
        const double y = axisOfLoad(m_study.job(), s.loadKpa);
        const double lambda = at->second.lambda.lookup(s.rpm, y).value;
        return at->second.demand.mm3(at->second.fuel.lookup(s.rpm, y).value, {s.rpm, s.loadKpa}, lambda) *
               lambda;
    }

  private:
    struct AtContent {
        InjectorDemand demand;
        Table2D fuel, lambda;
    };
    const Study &m_study;
    std::map<int, AtContent> m_at;
};

class Reader {
  public:
    Reader(const Study &now, const std::string &calibration, const LogReview &review,
           const FuelSampleOptions &options)
        : m_now(now), m_review(review), m_log(review.watched()), m_t(review.trace()), m_askedNow(now),
          m_askedThen(review.study()) {
        m_out.info = review.info();
        m_out.current = review.ranWith(calibration);
        m_out.trims = m_t.has(R::fuelTrim);
        const Phrase missing = whyNot();
        m_out.used = missing.empty();
        m_out.why = missing;
        if (m_out.used) place(options);
    }

    FuelSamples::Log read(std::uint32_t place, std::vector<FuelSample> &out, const std::stop_token &stop) {
        for (std::size_t i = 0; m_out.used && i < m_t.size(); ++i) {
            constexpr std::size_t often = 65536;
            if (i % often == 0 && stop.stop_requested()) break;
            if (const std::optional<FuelSample> s = sampleAt(i)) {
                out.push_back(*s);
                out.back().log = place;
                ++(s->supplyAtEnd ? m_out.supplyAtEnd : m_out.samples);
            }
        }
        return m_out;
    }

  private:
    Phrase whyNot() const {
        if (!m_t.has(R::lambda)) return MARKED("fuel_samples.no_lambda", "it has no λ");
        if (!m_t.has(R::map)) return MARKED("fuel_samples.no_map", "it has no manifold pressure");
        if (!m_log.tablesKnown() && !m_review.content().known)
            return MARKED("fuel_samples.no_content", "nobody knows what fuel it ran on");
        if (!m_log.tablesKnown())
            return MARKED("fuel_samples.no_tables", "the calibration that it ran with is not kept");
        if (!m_review.content().usable())
            return MARKED("fuel_samples.unsettled", "its content is not settled: state it, or log again");
        return {};
    }

    void place(const FuelSampleOptions &options) {
        std::optional<LambdaDelay> delay;
        if (options.delayMs) {
            delay.emplace();
            delay->curve = LambdaDelay::Curve{*options.delayMs, 0, 0};
            m_out.delay = DelayBy::stated;
        } else if ((delay = statedDelay(m_log.job()))) {
            m_out.delay = DelayBy::job;
        } else {
            try {
                delay = findDelay(m_log);
                m_out.delay = delay->any() ? DelayBy::log : DelayBy::none;
            } catch (const InputError &) { // slow logs, or without pulses: they cannot say
                delay.reset();
            }
        }
        if (delay && delay->any()) m_places = placesOfLambda(m_log, *delay);
    }

    // What the cleaning took for a rail that sags still says where the supply ends.
    bool atEnd(std::size_t i) const {
        const double duty = m_log.at(R::duty, i), rail = m_log.railShare(i);
        return duty >= m_log.limit("flow.duty.stop") || rail < 1 - m_log.limit("flow.sag");
    }

    std::optional<FuelSample> sampleAt(std::size_t i) {
        const bool kept = m_review.cleaned().kept[i], end = atEnd(i);
        if (!kept && !(end && m_log.inPull(i) && !m_log.fuelCut(i) && !m_log.inTipIn(i))) return {};
        FuelSample s;
        s.rpm = m_log.at(R::rpm, i);
        s.loadKpa = m_log.at(R::map, i);
        const double content =
            m_t.contentStated() || !m_t.has(R::ethanol) ? m_log.contentAt(i) : m_log.contentRead(i);
        // What the sensor reads then must be clean too: the throttle may have shut on the way.
        const std::size_t read = m_places.empty() ? i : m_places[i];
        if (read >= m_t.size() || (kept && !m_review.cleaned().kept[read])) return {};
        const double lambda = m_log.at(R::lambda, read);
        const double target = m_log.lambdaTarget(i);
        const double trim = m_out.trims ? m_log.at(R::fuelTrim, i) : 0;
        s.content = std::clamp(content, 0.0, 1.0);
        s.load = axisOfLoad(m_now.job(), s.loadKpa);
        s.error = lambda / target * (1 + trim) - 1;
        if (!m_out.current)
            s.error = (1 + s.error) * m_askedThen.atLambdaOne(s) / m_askedNow.atLambdaOne(s) - 1;
        s.timeS = m_t.timeS(i);
        s.supplyAtEnd = end;
        const bool known = std::isfinite(s.error) && std::isfinite(s.load) && content == content;
        return known ? std::optional(s) : std::nullopt;
    }

    const Study &m_now;
    const LogReview &m_review;
    const WatchedLog &m_log;
    const LogTrace &m_t;
    Asked m_askedNow, m_askedThen;
    std::vector<std::size_t> m_places; ///< where λ of each sample is read; empty: where it stands
    FuelSamples::Log m_out;
};

} // namespace

std::size_t FuelSamples::usedLogs() const {
    return static_cast<std::size_t>(std::ranges::count_if(logs, [](const Log &l) { return l.used; }));
}

FuelSamples fuelSamples(const Study &now, std::span<const std::shared_ptr<const LogReview>> logs,
                        const FuelSampleOptions &options, std::stop_token stop) {
    FuelSamples out;
    const std::string calibration = calibrationPrint(stateOf(now.job()));
    for (const std::shared_ptr<const LogReview> &review : logs) {
        if (stop.stop_requested()) return {};
        const auto place = static_cast<std::uint32_t>(out.logs.size());
        out.logs.push_back(Reader(now, calibration, *review, options).read(place, out.samples, stop));
    }
    return out;
}

} // namespace wheelwright
