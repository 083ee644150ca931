// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/small_programme.h"

#include "core/base/error.h"

#include <cmath>
#include <limits>

namespace wheelwright {
namespace {

constexpr double slack = 1e-9; // of a litre: rounding, not fuel
constexpr std::size_t mostVariables = 12;

/// Tries corners one after the other and keeps the cheapest that is allowed.
class CornerSearch {
  public:
    explicit CornerSearch(const SmallProgramme &p) : m_p(p), m_x(p.cost.size(), 0.0) {}

    std::optional<std::vector<double>> run() {
        const std::size_t n = m_x.size();
        const std::size_t rows = m_p.equations.size();
        for (unsigned atUpper = 0; atUpper < (1u << n); ++atUpper) {
            if (!rest(atUpper)) continue;
            for (std::size_t i = 0; i < n; ++i) {
                if (rows == 1) one(atUpper, i);
                for (std::size_t j = i + 1; rows == 2 && j < n; ++j)
                    two(atUpper, i, j);
            }
        }
        return m_best;
    }

  private:
    // Puts every variable on one of its bounds; false when a bound is infinite.
    bool rest(unsigned atUpper) {
        for (std::size_t i = 0; i < m_x.size(); ++i) {
            const bool up = atUpper >> i & 1u;
            if (up && !std::isfinite(m_p.upper[i])) return false;
        }
        return true;
    }

    void place(unsigned atUpper) {
        for (std::size_t i = 0; i < m_x.size(); ++i)
            m_x[i] = atUpper >> i & 1u ? m_p.upper[i] : 0;
    }

    // What the equation lacks when all but the named variables rest on their bounds.
    double missing(std::size_t equation) const {
        double v = m_p.equations[equation].value;
        for (std::size_t i = 0; i < m_x.size(); ++i)
            v -= m_p.equations[equation].row[i] * m_x[i];
        return v;
    }

    void one(unsigned atUpper, std::size_t i) {
        if (atUpper >> i & 1u) return;
        place(atUpper);
        const double a = m_p.equations[0].row[i];
        const double lack = missing(0);
        m_x[i] = std::abs(a) > slack ? lack / a : 0;
        consider();
    }

    void two(unsigned atUpper, std::size_t i, std::size_t j) {
        if ((atUpper >> i & 1u) || (atUpper >> j & 1u)) return;
        place(atUpper);
        const auto &r = m_p.equations[0].row;
        const auto &s = m_p.equations[1].row;
        const double determinant = r[i] * s[j] - r[j] * s[i];
        if (std::abs(determinant) < 1e-12) return;
        const double b = missing(0), c = missing(1);
        m_x[i] = (b * s[j] - c * r[j]) / determinant;
        m_x[j] = (r[i] * c - s[i] * b) / determinant;
        consider();
    }

    void consider() {
        for (std::size_t i = 0; i < m_x.size(); ++i) {
            if (m_x[i] < -slack || m_x[i] > m_p.upper[i] + slack) return;
            m_x[i] = std::max(0.0, m_x[i]);
        }
        for (std::size_t e = 0; e < m_p.equations.size(); ++e)
            if (std::abs(missing(e)) > 1e-7) return;
        double cost = 0;
        for (std::size_t i = 0; i < m_x.size(); ++i)
            cost += m_p.cost[i] * m_x[i];
        if (cost < m_least - 1e-12) {
            m_least = cost;
            m_best = m_x;
        }
    }

    const SmallProgramme &m_p;
    std::vector<double> m_x;
    double m_least = std::numeric_limits<double>::infinity();
    std::optional<std::vector<double>> m_best;
};

} // namespace

std::optional<std::vector<double>> SmallProgramme::solve() const {
    const std::size_t n = cost.size();
    const bool rowsFit = !equations.empty() && equations.size() <= 2;
    if (n == 0 || n > mostVariables || upper.size() != n || !rowsFit)
        throw InputError("programme",
                         MARKED("expected.1_12_variables_1_2", "1 to 12 variables and 1 or 2 equations"),
                         std::to_string(n) + " and " + std::to_string(equations.size()));
    return CornerSearch(*this).run();
}

} // namespace wheelwright
