// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/practice/truth_by_cell.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace wheelwright {
namespace {

double degreesOf(const KnockLimit &limit) {
    return limit.kind == KnockLimit::Kind::never ? earliestSparkTried : limit.deg;
}

} // namespace

double TruthCell::bestSafeDeg() const {
    constexpr double leastMarginDeg = 1;
    return std::min({limitDeg - leastMarginDeg, cleanDeg, bestDeg});
}

double TruthCell::leastSafeDeg() const {
    return std::min(bestSafeDeg(), leastDeg);
}

TruthByCell::TruthByCell(const Study &study, const HiddenEngine &truth)
    : m_grid(study.job().calibration.of(CalibratedQuantity::spark).base),
      m_cylinder(hiddenCylinder(study.job(), truth), 1), m_scatter(truth.cycleScatter),
      m_displacementL(study.job().engine.displacementL), m_sums(m_grid.x().size() * m_grid.y().size()) {}

// Work less what friction and breathing take of it, halved towards 99.5 % of what the best spark gives.
double TruthByCell::leastFor(const PracticeTruth &truth, double rpm, double best) const {
    constexpr double enough = 0.995, furthestDeg = 15, toDeg = 0.05, turns = 2; // for one cycle
    const auto work = [&](double deg) {
        return m_cylinder.cycle(truth.hottest, truth.hottestBurn, rpm, deg).workKpa;
    };
    const double brake = 2 * std::numbers::pi * turns * truth.torqueNm / m_displacementL;
    const double taken = work(std::clamp(truth.sparkDeg, latestSparkTried, earliestSparkTried)) - brake;
    const double wanted = taken + enough * (work(best) - taken);
    double low = std::max(latestSparkTried, best - furthestDeg), high = best;
    while (high - low > toDeg) {
        const double middle = (low + high) / 2;
        (work(middle) < wanted ? low : high) = middle;
    }
    return high;
}

void TruthByCell::add(const PracticeSample &row, const PracticeTruth &truth) {
    constexpr double stillPercent = 0.5, settledS = 0.7;
    m_steadyS =
        std::abs(row.throttlePercent - m_lastThrottle) < stillPercent ? m_steadyS + PracticeEngine::stepS : 0;
    m_lastThrottle = row.throttlePercent;
    constexpr double misfires = 1.4;                           // no charge to speak of
    const bool cut = row.pulseMs <= 0 && row.lambdaTarget > 0; // without a controller nobody commands either
    if (m_steadyS < settledS || cut || row.mapKpa < leastKpa || truth.lambda > misfires) return;
    Sum &s = m_sums[m_grid.y().nearest(row.mapKpa) * m_grid.x().size() + m_grid.x().nearest(row.rpm)];
    ++s.rows;
    s.knocked += truth.knock > 0;
    s.content += truth.content;
    s.lambda += truth.lambda;
    s.target += row.lambdaTarget;
    s.spark += truth.sparkDeg;
    // A limit costs as much as many rows: ten a second say it as well.
    constexpr std::size_t every = 10;
    if (m_rows++ % every != 0) return;
    constexpr double octanePower = 3.402; // of the delay of knock, Douaud and Eyzat (1978), as in Cylinder
    Charge early = truth.hottest;
    early.octane *= std::pow(1 + 2 * m_scatter, -1 / octanePower);
    s.limit += degreesOf(m_cylinder.knockLimit(truth.hottest, truth.hottestBurn, row.rpm));
    s.clean += degreesOf(m_cylinder.knockLimit(early, truth.hottestBurn, row.rpm));
    const double best = bestSparkDeg(truth.hottestBurn);
    s.best += best;
    s.least += leastFor(truth, row.rpm, best);
    ++s.limited;
}

std::vector<TruthCell> TruthByCell::cells() const {
    constexpr double enough = 10; // a tenth of a second
    std::vector<TruthCell> out;
    out.reserve(m_sums.size());
    for (std::size_t i = 0; i < m_sums.size(); ++i) {
        const Sum &s = m_sums[i];
        if (s.rows < enough || s.limited == 0) continue;
        const std::size_t nx = m_grid.x().size();
        out.push_back({m_grid.x()[i % nx], m_grid.y()[i / nx], static_cast<std::size_t>(s.rows),
                       s.content / s.rows, s.lambda / s.rows, s.target / s.rows, s.spark / s.rows,
                       s.limit / s.limited, s.clean / s.limited, s.best / s.limited, s.least / s.limited,
                       s.knocked / s.rows});
    }
    return out;
}

} // namespace wheelwright
