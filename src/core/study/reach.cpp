// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/reach.h"

#include "core/base/limits.h"

#include <algorithm>

namespace wheelwright {

Reach::Reach(const Job &job, std::span<const double> rpm)
    : m_rpm(rpm.begin(), rpm.end()), m_overshootKpa(limitOf(job, "boost.overshoot")),
      m_ambientKpa(job.conditions.ambientKpa), m_revLimitRpm(job.engine.revLimitRpm) {
    const std::vector<const Table2D *> tables = tablesOf(job, CalibratedQuantity::boost);
    for (const Table2D *t : tables)
        m_rows.insert(m_rows.end(), t->y().points().begin(), t->y().points().end());
    std::ranges::sort(m_rows);
    m_rows.erase(std::unique(m_rows.begin(), m_rows.end()), m_rows.end());
    for (const Table2D *t : tables) {
        std::vector<double> &samples = m_samples.emplace_back(t, std::vector<double>{}).second;
        samples.reserve(m_rpm.size() * m_rows.size());
        for (const double r : m_rpm)
            for (const double y : m_rows)
                samples.push_back(t->lookup(r, y).value);
    }
}

const std::vector<double> &Reach::samplesOf(const Table2D *table) const {
    return std::ranges::find(m_samples, table, &std::pair<const Table2D *, std::vector<double>>::first)
        ->second;
}

std::vector<ReachAtSpeed> Reach::at(const BlendEnds &boost) const {
    const double *low = samplesOf(boost.low).data(), *high = samplesOf(boost.high).data();
    std::vector<ReachAtSpeed> reach;
    reach.reserve(m_rpm.size());
    for (const double rpm : m_rpm) {
        double target = boost.blend(*low, *high);
        for (std::size_t row = 0; row < m_rows.size(); ++row)
            target = std::max(target, boost.blend(low[row], high[row]));
        low += m_rows.size();
        high += m_rows.size();
        // Full throttle without boost still reaches the surrounding air.
        reach.push_back({target, std::max(target + m_overshootKpa, m_ambientKpa), rpm <= m_revLimitRpm});
    }
    return reach;
}

} // namespace wheelwright
