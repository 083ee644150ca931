// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/proposal/spark_beside.h"

#include "core/base/limits.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <optional>

namespace wheelwright {
namespace {

constexpr double ofLoadKpa = 100;     // under it spark may rise with load: common practice
constexpr double latestDeg = -5;      // from memory
constexpr double leastDeg = 0.05;     // less is no change
constexpr double distanceDeg = 1;     // under where it has knocked
constexpr double besideContent = 0.1; // what was found so near is of the same tables
constexpr double free = std::numeric_limits<double>::infinity();

class Surroundings {
  public:
    Surroundings(const Study &pressure, std::span<const SearchedCell> searched, double content,
                 double bandContent, double airC, TaughtSpark &taught, const BestSpark &best)
        : m_now(pressure.blended(CalibratedQuantity::spark, content)), m_columns(m_now.x().size()),
          m_stepDeg(limitOf(pressure.job(), "spark.step.cell")), m_content(content), m_band(bandContent),
          m_bestSpark(best) {
        m_deg = m_now.cells();
        m_most.assign(m_deg.size(), free);
        m_best.resize(m_deg.size());
        m_least.assign(m_deg.size(), -free);
        m_likely.assign(m_deg.size(), free);
        m_searched.assign(m_deg.size(), false);
        m_spreads.assign(m_deg.size(), false);
        for (std::size_t y = 0; y < m_now.y().size(); ++y)
            for (std::size_t x = 0; x < m_columns; ++x) {
                const double rpm = m_now.x()[x], load = m_now.y()[y];
                const TaughtSpark::Cell says = taught.of(rpm, load, content, airC);
                if (!says.surely) continue; // by nothing, or at so little load that nobody asks for knock
                m_likely[at(x, y)] = std::max(latestDeg, *says.likely);
                m_least[at(x, y)] = std::max(latestDeg, *says.surely);
                m_most[at(x, y)] = std::min(m_most[at(x, y)], m_least[at(x, y)]);
            }
        for (const SparkSearch &s : pressure.job().sparkSearches) {
            if (std::abs(s.content - bandContent) > besideContent) continue;
            const std::size_t i = at(m_now.x().nearest(s.rpm), m_now.y().nearest(s.loadKpa));
            const double under = s.knockedDeg != 0 ? s.knockedDeg - distanceDeg : free;
            if (s.cleanDeg != 0 && isTaught(i)) { // what was clean needs no other proof
                m_least[i] = std::max(m_least[i], std::min(s.cleanDeg, under));
                m_likely[i] = std::max(m_likely[i], m_least[i]);
                m_most[i] = std::max(m_most[i], m_least[i]);
            }
            m_most[i] = std::min(m_most[i], under);
        }
        for (const SearchedCell &c : searched) {
            const std::size_t i = at(c.cell.x, c.cell.y);
            m_deg[i] = c.deg;
            m_searched[i] = !c.clean || c.deg != m_now.cells()[i]; // what stays as it is may follow others
            m_spreads[i] = c.clean;
        }
    }

    std::vector<BesideCell> cells() {
        for (std::size_t i = 0; i < m_deg.size(); ++i)
            if (!m_searched[i] && isTaught(i)) m_deg[i] = std::min(m_deg[i], m_likely[i]);
        // From one neighbour to the next until nothing rises: as many rounds as the table is long, at most.
        for (bool risen = true; risen;) {
            risen = false;
            for (std::size_t y = m_now.y().size(); y-- > 0;)
                for (std::size_t x = 0; x < m_columns; ++x)
                    if (m_spreads[at(x, y)]) risen = spread(x, y) || risen;
        }
        return changed();
    }

  private:
    std::size_t at(std::size_t x, std::size_t y) const { return y * m_columns + x; }
    bool isTaught(std::size_t i) const { return m_least[i] > -free; }

    bool spread(std::size_t x, std::size_t y) {
        const double deg = m_deg[at(x, y)], behind = deg - m_stepDeg;
        bool risen = false;
        if (y > 0) risen = raise(at(x, y - 1), m_now.y()[y - 1] >= ofLoadKpa ? deg : behind);
        const auto sideways = [&](std::size_t i) {
            if (isTaught(i) || m_now.y()[i / m_columns] < ofLoadKpa) risen = raise(i, behind) || risen;
        };
        if (x > 0) sideways(at(x - 1, y));
        if (x + 1 < m_columns) sideways(at(x + 1, y));
        if (y + 1 < m_now.y().size() && isTaught(at(x, y + 1))) risen = raise(at(x, y + 1), behind) || risen;
        return risen;
    }

    // Asked where it matters: an estimate costs a cylinder's cycle.
    double best(std::size_t i) {
        if (!m_best[i])
            m_best[i] = m_bestSpark.at(m_now.x()[i % m_columns], m_now.y()[i / m_columns], m_content);
        return *m_best[i];
    }

    bool raise(std::size_t i, double deg) {
        if (m_searched[i] || !(std::min(deg, m_most[i]) > m_deg[i] + leastDeg)) return false;
        const double to = std::min({deg, m_most[i], best(i)});
        if (!(to > m_deg[i] + leastDeg)) return false;
        m_deg[i] = to;
        m_spreads[i] = true;
        return true;
    }

    std::vector<BesideCell> changed() const {
        std::vector<BesideCell> out;
        for (std::size_t i = 0; i < m_deg.size(); ++i) {
            const double now = m_now.cells()[i];
            if (m_searched[i] || !(std::abs(m_deg[i] - now) > leastDeg)) continue;
            BesideCell b;
            b.cell = {i % m_columns, i / m_columns};
            b.rpm = m_now.x()[b.cell.x];
            b.loadKpa = m_now.y()[b.cell.y];
            b.content = m_content;
            b.bandContent = m_band;
            b.nowDeg = now;
            b.proposedDeg = m_deg[i];
            if (m_deg[i] < now)
                b.next =
                    MARKED("spark_beside.less",
                           "no log has been here; by what logs have taught it does not stand what it holds");
            else if (m_deg[i] == m_least[i])
                b.next = MARKED("spark_beside.surely",
                                "no log has been here; by what logs have taught it stands so much with 95 %");
            else
                b.next = MARKED("spark_beside.step",
                                "no log has been here; it follows its neighbours, which are clean");
            out.push_back(std::move(b));
        }
        return out;
    }

    Table2D m_now;
    std::size_t m_columns;
    double m_stepDeg, m_content, m_band;
    std::vector<double> m_deg, m_most, m_least, m_likely; ///< cell by cell; least: that it stands with 95 %
    std::vector<std::optional<double>> m_best;
    std::vector<bool> m_searched, m_spreads;
    const BestSpark &m_bestSpark;
};

} // namespace

std::vector<BesideCell> sparkBeside(const Study &pressure, std::span<const SearchedCell> searched,
                                    double content, double bandContent, double airC, TaughtSpark &taught,
                                    const BestSpark &best) {
    return Surroundings(pressure, searched, content, bandContent, airC, taught, best).cells();
}

} // namespace wheelwright
