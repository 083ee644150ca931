// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/practice/practice_engine.h"

#include <cstddef>
#include <vector>

namespace wheelwright {

/// What a practice engine really did in one cell of the spark table, and what it stands there: means over its
/// rows.
struct TruthCell {
    double rpm = 0, loadKpa = 0; ///< of the cell
    std::size_t rows = 0;
    double content = 0;      ///< alcohol at the injectors, 0–1
    double lambda = 1;       ///< of all cylinders together
    double lambdaTarget = 0; ///< commanded; 0: nobody commands it (mechanical injection)
    double sparkDeg = 0;     ///< delivered
    double limitDeg = 0;     ///< at which the mean cycle of the hottest cylinder begins to knock, delivered
    double cleanDeg = 0; ///< the same for a cycle that knocks two standard deviations of the scatter earlier
    double bestDeg = 0;  ///< for torque: half burned at 10° after top dead centre
    double leastDeg = 0; ///< the least that gives 99.5 % of the brake torque that it gives
    double knockedShare = 0; ///< of rows with any knock

    /// The most that stays clean and is worth anything: a degree under the limit at the least, two scatters
    /// where that is more, and no more than is best for torque. Common practice, from memory.
    double bestSafeDeg() const;
    /// The least that is as good: under it torque is lost that could be had safely. A dyno raises until power
    /// stops rising and goes back to the least that gave it (common practice).
    double leastSafeDeg() const;
};

/// Takes the rows of a run in and tells, cell by cell, what no log can: to be opened when the work is done.
/// Only rows count where the throttle has stood still for a moment, the fuel is not cut and there is more
/// than leastKpa in the manifold.
class TruthByCell {
  public:
    static constexpr double leastKpa = 80;

    explicit TruthByCell(const Study &study, const HiddenEngine &truth);
    /// Every row, 100 a second, in their order.
    void add(const PracticeSample &row, const PracticeTruth &truth);
    /// Those with rows enough to say it, by load and then by speed.
    std::vector<TruthCell> cells() const;

  private:
    struct Sum {
        double rows = 0, knocked = 0, content = 0, lambda = 0, target = 0, spark = 0, limited = 0, limit = 0,
               clean = 0, best = 0, least = 0;
    };
    double leastFor(const PracticeTruth &truth, double rpm, double best) const;

    Table2D m_grid;
    Cylinder m_cylinder;
    double m_scatter, m_displacementL;
    std::vector<Sum> m_sums;
    double m_lastThrottle = 0, m_steadyS = 0;
    std::size_t m_rows = 0;
};

} // namespace wheelwright
