// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/proposal/taught_spark.h"

#include <algorithm>
#include <cmath>

namespace wheelwright {

TaughtSpark::Cell TaughtSpark::of(double rpm, double loadKpa, double content, double airC) {
    constexpr double hundred = 100, wellKnownDeg = 1, leastDeg = 1, scatters = 2, oneSided95 = 1.644854;
    if (!m_learned || !m_learned->any()) return {};
    const bool knowsAir = airC == airC;
    const int hundredth = static_cast<int>(std::lround(content * hundred));
    const int air = knowsAir ? static_cast<int>(std::lround(airC)) : -1000;
    auto at = m_at.find({hundredth, air});
    if (at == m_at.end())
        at = m_at.emplace(std::pair{hundredth, air},
                          m_learned->at(std::clamp(content, 0.0, 1.0),
                                        knowsAir ? std::optional<double>(air) : std::nullopt))
                 .first;
    const auto c = std::ranges::find_if(
        at->second, [&](const LearnedCeiling &l) { return l.rpm == rpm && l.loadKpa == loadKpa; });
    if (c == at->second.end()) return {}; // no row of the model
    const double stands = c->deg - std::max(leastDeg, scatters * c->scatterDeg);
    return {c->known && c->sigmaDeg <= wellKnownDeg ? std::optional(stands) : std::nullopt, stands,
            stands - oneSided95 * c->sigmaDeg};
}

double BestSpark::at(double rpm, double loadKpa, double content, double unsureDeg) const {
    constexpr double idleRpm = 400;
    const OperatingPoint place{std::clamp(content, 0.0, 1.0), std::max(idleRpm, rpm), loadKpa};
    if (!m_best.empty() && !m_best.estimatesOnly()) return m_best.at(place);
    return m_estimator.at(place).bestDeg + unsureDeg;
}

} // namespace wheelwright
