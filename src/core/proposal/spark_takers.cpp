// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/proposal/spark_takers.h"

#include "core/base/error.h"
#include "core/study/extra_tables.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace wheelwright {
namespace {

using R = ChannelRole;

// In the order of the budget.
enum Taker : std::size_t { byIntake, byCoolant, byFuel, byKnock, byFallback, unexplained, takerCount };

std::array<SparkTaker, takerCount> emptyTakers() {
    return {
        SparkTaker{"intake_air", MARKED("taken.intake_air", "Intake air"), 0, 0, 0, 0, "calibration.extras"},
        SparkTaker{"coolant", MARKED("taken.coolant", "Coolant"), 0, 0, 0, 0, "calibration.extras"},
        SparkTaker{"fuel", MARKED("taken.fuel", "Fuel temperature"), 0, 0, 0, 0, "calibration.extras"},
        SparkTaker{"knock", MARKED("taken.knock", "Knock control"), 0, 0, 0, 0,
                   "spark.knock_retard_worst_deg"},
        SparkTaker{"fallback", MARKED("taken.fallback", "Fallback table"), 0, 0, 0, 0,
                   "spark.fallback_worst"},
        SparkTaker{"unexplained", MARKED("taken.unexplained", "Something unknown"), 0, 0, 0, 0, {}}};
}

struct Moment {
    double asked = 0, delivered = 0;
    std::array<double, takerCount> deg{};
};

class TakerReader {
  public:
    explicit TakerReader(const LogReview &log)
        : m_log(log), m_t(log.trace()), m_job(log.watched().job()),
          m_fallback(extraInUse(m_job, TableKind::sparkFallback)),
          m_fallbackShare(1 -
                          std::min(m_job.sparkDelivery.fallbackUsual, m_job.sparkDelivery.fallbackWorst)) {}

    SparkTaken read() {
        const double from = limitOf(m_job, "evidence.knock_from");
        std::vector<std::size_t> under;
        for (std::size_t i = 0; i < m_t.size(); ++i)
            if (m_t.at(R::map, i) >= from && !m_log.watched().fuelCut(i) &&
                std::isfinite(m_t.at(R::spark, i)) &&
                std::isfinite(m_log.watched().tableBlendAt(CalibratedQuantity::spark, i)))
                under.push_back(i);
        constexpr std::size_t most = 2000;
        const std::size_t every = std::max<std::size_t>(1, (under.size() + most - 1) / most);
        for (std::size_t k = 0; k < under.size(); ++k)
            add(under[k], k % every == 0);
        return finish();
    }

  private:
    Moment at(std::size_t i) const {
        using enum TableKind;
        Moment m;
        m.asked = m_log.watched().tableBlendAt(CalibratedQuantity::spark, i);
        m.delivered = m_t.at(R::spark, i);
        const auto temperature = [&](TableKind kind, R role) {
            const double c = m_t.at(role, i);
            return std::isfinite(c) ? extraAt(m_job, kind, c, m_t.at(R::map, i)) : 0;
        };
        m.deg[byIntake] = temperature(sparkIntake, R::intakeTemp);
        m.deg[byCoolant] = temperature(sparkCoolant, R::coolantTemp);
        m.deg[byFuel] = temperature(sparkFuel, R::fuelTemp);
        const double retard = m_t.at(R::knockRetard, i);
        m.deg[byKnock] = std::isfinite(retard) ? -retard : 0;
        double rest = m.delivered - m.asked;
        for (const Taker t : {byIntake, byCoolant, byFuel, byKnock})
            rest -= m.deg[t];
        if (m_fallback) {
            // As much as it may take, and no more than is missing.
            const double table = m_fallback->table.lookup(m_t.at(R::rpm, i), m_t.at(R::map, i)).value;
            m.deg[byFallback] = std::clamp(rest, m_fallbackShare * std::min(0.0, table - m.asked), 0.0);
        }
        m.deg[unexplained] = rest - m.deg[byFallback];
        return m;
    }

    void add(std::size_t i, bool drawn) {
        const Moment m = at(i);
        ++m_out.samples;
        m_out.askedDeg += m.asked;
        m_out.deliveredDeg += m.delivered;
        constexpr double worthCounting = 0.25;
        for (std::size_t t = 0; t < takerCount; ++t) {
            m_takers[t].meanDeg += m.deg[t];
            m_takers[t].share += std::abs(m.deg[t]) > worthCounting;
            if (m.deg[t] < m_takers[t].mostDeg) {
                m_takers[t].mostDeg = m.deg[t];
                m_takers[t].mostAtS = m_t.timeS(i);
            }
        }
        if (!drawn) return;
        const double air = m.asked + m.deg[byIntake] + m.deg[byCoolant] + m.deg[byFuel];
        m_out.timeS.push_back(m_t.timeS(i));
        m_out.asked.push_back(m.asked);
        m_out.afterAir.push_back(air);
        m_out.afterKnock.push_back(air + m.deg[byKnock]);
        m_out.delivered.push_back(m.delivered);
    }

    SparkTaken finish() {
        const auto n = static_cast<double>(std::max<std::size_t>(1, m_out.samples));
        m_out.askedDeg /= n;
        m_out.deliveredDeg /= n;
        for (SparkTaker &t : m_takers) {
            t.meanDeg /= n;
            t.share /= n;
            m_out.takers.push_back(t);
        }
        say();
        return std::move(m_out);
    }

    void say() {
        std::vector<Phrase> &said = m_out.said;
        const auto deg = [](double v) { return Measured{v, Dimension::sparkAngle}; };
        if (m_out.samples == 0) {
            said.push_back(MARKED("taken.none", "The engine was never under load with fuel on here."));
            return;
        }
        said.push_back({MARKED("taken.all", "Asked {0}, delivered {1}: the means under load."),
                        {deg(m_out.askedDeg), deg(m_out.deliveredDeg)}});
        for (const SparkTaker &t : m_takers) {
            constexpr double worthSaying = 0.1, atOnce = 0.5;
            if (t.mostDeg > -atOnce && std::abs(t.meanDeg) < worthSaying) continue;
            said.push_back(
                {t.meanDeg <= 0
                     ? MARKED("taken.took",
                              "{A} took {0} on the average, {1} at the most, in {2} of the time.")
                     : MARKED("taken.gave",
                              "{A} gave {0} on the average, took {1} at the most, in {2} of the time."),
                 {deg(std::abs(t.meanDeg)), deg(-t.mostDeg), {t.share, Dimension::ratio}},
                 {},
                 {t.title}});
        }
        constexpr double muchDeg = 0.5;
        if (std::abs(m_takers[unexplained].meanDeg) > muchDeg)
            said.push_back(
                MARKED("taken.unknown.why",
                       "What is unknown may be a correction that the job has not been told of, a "
                       "table that is not the one sent, or another content than the controller took."));
        if (!m_t.has(R::knockRetard))
            said.push_back(
                MARKED("taken.no_retard",
                       "The log does not say what knock control took: it is among what is unknown."));
        if (!m_job.sparkDelivery.baseTimingChecked)
            said.push_back(MARKED("taken.base_timing",
                                  "Base timing was not checked with a light: the log says what "
                                  "was commanded, not what the engine got."));
    }

    const LogReview &m_log;
    const LogTrace &m_t;
    const Job &m_job;
    const ExtraTable *m_fallback;
    double m_fallbackShare;
    std::array<SparkTaker, takerCount> m_takers = emptyTakers();
    SparkTaken m_out;
};

} // namespace

double SparkTaken::mean(std::string_view id) const {
    const auto at = std::ranges::find(takers, id, &SparkTaker::id);
    return at == takers.end() ? 0 : at->meanDeg;
}

SparkTaken sparkTaken(const LogReview &log) {
    const LogTrace &t = log.trace();
    if (!t.has(R::spark) || !t.has(R::map) || !t.has(R::rpm))
        throw InputError("log",
                         MARKED("expected.spark_channels", "spark, engine speed and manifold pressure"),
                         MARKED("found.not_all", "not all of them"));
    if (!log.watched().tablesKnown())
        throw InputError("log", MARKED("expected.kept_calibration", "a log whose calibration is kept"),
                         MARKED("found.no_calibration", "none that the job knows"));
    return TakerReader(log).read();
}

} // namespace wheelwright
