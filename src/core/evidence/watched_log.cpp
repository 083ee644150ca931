// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/evidence/watch_rule.h"

#include "core/base/median.h"
#include "core/study/extra_tables.h"
#include "core/study/fuel_delivery.h"
#include "core/study/load_axis.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace wheelwright {
namespace {

using R = ChannelRole;

} // namespace

WatchedLog::WatchedLog(const Study &study, LogTrace trace, bool tablesKnown)
    : m_study(study), m_trace(std::move(trace)), m_tablesKnown(tablesKnown && m_trace.contentKnown()),
      m_episodes(findEpisodes(m_trace, study.job().conditions.ambientKpa)), m_inTipIn(m_trace.size(), false),
      m_inPull(m_trace.size(), false) {
    for (const Episode &e : m_episodes) {
        std::vector<bool> &in = e.kind == EpisodeKind::tipIn ? m_inTipIn : m_inPull;
        if (e.kind == EpisodeKind::tipIn || e.kind == EpisodeKind::pull)
            std::fill(in.begin() + static_cast<std::ptrdiff_t>(e.from),
                      in.begin() + static_cast<std::ptrdiff_t>(e.to) + 1, true);
    }
    if (m_trace.has(R::ethanol)) {
        double sum = 0, count = 0, when = 0;
        for (std::size_t i = 0; i < m_trace.size(); ++i) {
            m_contentSum.push_back(sum);
            m_contentCount.push_back(count);
            m_contentWhen.push_back(when);
            const double c = steadyReading(i);
            sum += c == c ? c : 0;
            count += c == c;
            when += c == c ? m_trace.timeS(i) : 0;
        }
        m_contentSum.push_back(sum);
        m_contentCount.push_back(count);
        m_contentWhen.push_back(when);
    }
    if (m_trace.has(R::pulseWidth)) {
        double last = -std::numeric_limits<double>::infinity();
        for (std::size_t i = 0; i < m_trace.size(); ++i) {
            if (fuelCut(i)) last = m_trace.timeS(i);
            m_sinceCutS.push_back(m_trace.timeS(i) - last);
        }
    }
    findRail();
}

double WatchedLog::missing() {
    return std::numeric_limits<double>::quiet_NaN();
}

// Means of two halves of its samples over the time between them: noise of single readings counts for little,
// also beside a stretch that was not logged.
double WatchedLog::contentPerMinute(std::size_t sample) const {
    constexpr double halfWindowS = 30, leastS = 5, secondsPerMinute = 60;
    if (m_contentSum.empty()) return missing();
    const double from = std::max(m_trace.times().front(), m_trace.timeS(sample) - halfWindowS);
    const double to = std::min(m_trace.times().back(), m_trace.timeS(sample) + halfWindowS);
    if (to - from < leastS) return missing();
    const std::size_t first = m_trace.indexAt(from), end = m_trace.indexAt(to), middle = (first + end) / 2;
    const auto mean = [this](const std::vector<double> &sum, std::size_t a, std::size_t b) {
        return (sum[b] - sum[a]) / (m_contentCount[b] - m_contentCount[a]);
    };
    const double apart = mean(m_contentWhen, middle, end) - mean(m_contentWhen, first, middle);
    return (mean(m_contentSum, middle, end) - mean(m_contentSum, first, middle)) / apart * secondsPerMinute;
}

double WatchedLog::contentRead(std::size_t i) const {
    constexpr double halfWindowS = 0.25;
    if (m_contentSum.empty()) return missing();
    const std::size_t first = m_trace.indexAt(m_trace.timeS(i) - halfWindowS);
    const std::size_t end = std::min(m_trace.size(), m_trace.indexAt(m_trace.timeS(i) + halfWindowS) + 1);
    return (m_contentSum[end] - m_contentSum[first]) / (m_contentCount[end] - m_contentCount[first]);
}

// A signal that is lost for one row (a start, a loose plug) has not moved the fuel: the middle one of three.
double WatchedLog::steadyReading(std::size_t i) const {
    const std::size_t last = m_trace.size() - 1,
                      middle = last < 2 ? i : std::clamp<std::size_t>(i, 1, last - 1);
    const double here = at(R::ethanol, i);
    if (last < 2) return here;
    const double a = at(R::ethanol, middle - 1), b = at(R::ethanol, middle), c = at(R::ethanol, middle + 1);
    if (here != here || a != a || b != b || c != c) return here;
    return std::max(std::min(a, b), std::min(std::max(a, b), c));
}

double WatchedLog::contentAt(std::size_t i) const {
    if (!m_trace.contentKnown()) return job().calibration.baseContent;
    return std::clamp(m_trace.content(i), 0.0, 1.0);
}

bool WatchedLog::fuelCut(std::size_t i) const {
    constexpr double turning = 300;
    return m_trace.at(R::pulseWidth, i) <= 0 && m_trace.at(R::rpm, i) > turning;
}

double WatchedLog::tableAt(CalibratedQuantity q, std::size_t i) const {
    const double v = tableBlendAt(q, i);
    return q == CalibratedQuantity::spark ? v + extraSpark(i) : v;
}

double WatchedLog::tableBlendAt(CalibratedQuantity q, std::size_t i) const {
    const double rpm = at(R::rpm, i), load = at(R::map, i), content = contentAt(i);
    if (!m_tablesKnown || rpm != rpm || load != load || content != content) return missing();
    // Contents to the tenth of a per cent: a log stays at few of them, and spark moves by 0.05° between.
    const Table2D *table = blendAt(q, static_cast<int>(std::lround(content * 1000)));
    double y = axisOfLoad(job(), load);
    if (q == CalibratedQuantity::boost) {
        constexpr double full = 100;
        y = m_trace.has(R::throttle) ? at(R::throttle, i) * full : table->y().last();
        if (job().calibration.boostAxis != BoostAxis::throttle)
            y = m_trace.has(R::gear) ? at(R::gear, i) : table->y().last();
    }
    return y == y ? table->lookup(rpm, y).value : missing();
}

// Several threads may ask; a table that was made stays where it is.
const Table2D *WatchedLog::blendAt(CalibratedQuantity q, int perMille) const {
    const std::scoped_lock lock(m_blendsMutex);
    std::unique_ptr<Table2D> &table = m_blends[perMille][static_cast<std::size_t>(q)];
    if (!table) table = std::make_unique<Table2D>(m_study.blended(q, perMille / 1000.0));
    return table.get();
}

// What the controller adds by temperatures, as the job says, and takes for knock.
double WatchedLog::extraSpark(std::size_t i) const {
    using enum TableKind;
    double deg = 0;
    const double intake = at(R::intakeTemp, i), coolant = at(R::coolantTemp, i), fuel = at(R::fuelTemp, i);
    if (intake == intake) deg += extraAt(job(), sparkIntake, intake, at(R::map, i));
    if (coolant == coolant) deg += extraAt(job(), sparkCoolant, coolant);
    if (fuel == fuel) deg += extraAt(job(), sparkFuel, fuel);
    const double retard = at(R::knockRetard, i);
    return deg - (retard == retard ? retard : 0);
}

double WatchedLog::lambdaTarget(std::size_t i) const {
    const double logged = at(R::lambdaTarget, i);
    return logged == logged ? logged : tableAt(CalibratedQuantity::lambda, i);
}

double WatchedLog::boostTarget(std::size_t i) const {
    const double logged = at(R::boostTarget, i);
    return logged == logged ? logged : tableAt(CalibratedQuantity::boost, i);
}

// Sensors read a little off and regulators are set by hand: where little is asked for, the rail is right by
// definition.
void WatchedLog::findRail() {
    if (!m_trace.has(R::railPressure) || !m_trace.has(R::map)) return;
    const RailPressure rail(job());
    std::vector<double> calm;
    for (std::size_t i = 0; i < m_trace.size(); ++i) {
        const EnginePoint point{at(R::rpm, i), at(R::map, i)};
        const double expected = rail.acrossKpa(point), found = at(R::railPressure, i) - at(R::map, i);
        const bool known = expected > 0 && found == found && point.rpm > 0;
        m_railShare.push_back(known ? found / expected : missing());
        constexpr double lightDuty = 0.3;
        const double duty = at(R::duty, i);
        if (known && (duty == duty ? duty < lightDuty : point.loadKpa < ambientKpa()))
            calm.push_back(found / expected);
    }
    if (calm.empty()) return;
    const double usual = medianOf(std::move(calm));
    if (!(usual > 0)) return;
    for (double &share : m_railShare)
        share /= usual;
}

} // namespace wheelwright
