// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <algorithm>
#include <iterator>
#include <map>
#include <utility>
#include <vector>

namespace wheelwright {

/// Points of a data sheet, by what they were measured at. Never empty where it is read.
using SheetPoints = std::map<double, double>;

/// Linear between the points, held outside; or, above them, on along the last step.
inline double along(const SheetPoints &points, double x, bool goOnAbove = false) {
    auto above = points.lower_bound(x);
    if (above == points.begin()) return above->second;
    if (above == points.end()) {
        if (!goOnAbove || points.size() < 2) return std::prev(above)->second;
        above = std::prev(above);
    }
    const auto below = std::prev(above);
    return below->second +
           (x - below->first) / (above->first - below->first) * (above->second - below->second);
}

/// The same, made ready to be read often.
class SheetSeries {
  public:
    explicit SheetSeries(const SheetPoints &points, bool goOnAbove = false)
        : m_points(points.begin(), points.end()), m_goOnAbove(goOnAbove) {}
    double at(double x) const {
        auto above =
            std::lower_bound(m_points.begin(), m_points.end(), x,
                             [](const std::pair<double, double> &p, double v) { return p.first < v; });
        if (above == m_points.begin()) return above->second;
        if (above == m_points.end()) {
            if (!m_goOnAbove || m_points.size() < 2) return std::prev(above)->second;
            above = std::prev(above);
        }
        const auto below = std::prev(above);
        return below->second +
               (x - below->first) / (above->first - below->first) * (above->second - below->second);
    }

  private:
    std::vector<std::pair<double, double>> m_points;
    bool m_goOnAbove;
};

} // namespace wheelwright
