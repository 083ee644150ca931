#include "core/tables/axis.h"

#include "core/base/error.h"

#include <algorithm>
#include <cmath>

namespace wheelwright {

Axis::Axis(std::vector<double> points, std::string_view where) : m_points(std::move(points)) {
    const std::string place(where);
    if (m_points.empty() || m_points.size() > mostPoints)
        throw InputError(place, "1 to 64 breakpoints", std::to_string(m_points.size()));
    for (std::size_t i = 0; i < m_points.size(); ++i) {
        if (!std::isfinite(m_points[i]))
            throw InputError(place + " breakpoint " + std::to_string(i + 1), "a finite number",
                             "not a number");
        if (i > 0 && m_points[i] <= m_points[i - 1])
            throw InputError(place + " breakpoint " + std::to_string(i + 1),
                             "more than the one before (" + std::to_string(m_points[i - 1]) + ")",
                             std::to_string(m_points[i]));
    }
}

AxisPosition Axis::locate(double x) const {
    const std::size_t n = m_points.size();
    if (n == 1) return {0, 0, x != m_points[0]};
    if (!(x > m_points[0])) // also catches not-a-number
        return {0, 0, !(x == m_points[0])};
    if (x >= m_points[n - 1]) return {n - 2, 1, x > m_points[n - 1]};
    const auto above = std::upper_bound(m_points.begin(), m_points.end(), x);
    const auto cell = static_cast<std::size_t>(above - m_points.begin()) - 1;
    return {cell, (x - m_points[cell]) / (m_points[cell + 1] - m_points[cell]), false};
}

std::size_t Axis::nearest(double x) const {
    const AxisPosition p = locate(x);
    return p.t >= 0.5 && p.cell + 1 < m_points.size() ? p.cell + 1 : p.cell;
}

} // namespace wheelwright
