// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <array>
#include <cstddef>
#include <cstdint>
#include <memory>
#include <string_view>
#include <vector>

namespace wheelwright {

/// Where a point lies between the breakpoints of an axis: value = (1 − t)·at[cell] + t·at[cell + 1], t in [0,
/// 1].
struct AxisPosition {
    std::size_t cell = 0;
    double t = 0;
    bool outside = false; ///< the point was beyond an end and has been held there
};

/// Strictly ascending breakpoints, 1 to 64 of them. Look-ups clamp to the ends and say so. Copies share the
/// points.
class Axis {
  public:
    static constexpr std::size_t mostPoints = 64;

    Axis();
    /// Throws InputError (naming `where` and the position) for none, too many, not finite or not ascending.
    explicit Axis(std::vector<double> points, std::string_view where = "axis");

    const std::vector<double> &points() const { return m_scale->points; }
    std::size_t size() const { return m_scale->points.size(); }
    double operator[](std::size_t i) const { return m_scale->points[i]; }
    double first() const { return m_scale->points.front(); }
    double last() const { return m_scale->points.back(); }

    AxisPosition locate(double x) const;
    std::size_t nearest(double x) const;

    bool operator==(const Axis &other) const {
        return m_scale == other.m_scale || m_scale->points == other.m_scale->points;
    }

  private:
    // The span is cut into equal buckets, each of which knows the cell that its low end lies in: a look-up is
    // a multiplication and a step or two instead of a search.
    static constexpr std::size_t buckets = 256;
    struct Scale {
        std::vector<double> points;
        double bucketsPerUnit = 0;
        std::array<std::uint8_t, buckets> cellAt{};
    };
    std::shared_ptr<const Scale> m_scale;
};

inline AxisPosition Axis::locate(double x) const {
    const Scale &s = *m_scale;
    const std::size_t n = s.points.size();
    const double *points = s.points.data();
    if (n == 1) return {0, 0, x != points[0]};
    if (!(x > points[0])) // also catches not-a-number
        return {0, 0, !(x == points[0])};
    if (x >= points[n - 1]) return {n - 2, 1, x > points[n - 1]};
    const double along = (x - points[0]) * s.bucketsPerUnit;
    std::size_t cell = s.cellAt[along < buckets ? static_cast<std::size_t>(along) : buckets - 1];
    while (x >= points[cell + 1])
        ++cell;
    return {cell, (x - points[cell]) / (points[cell + 1] - points[cell]), false};
}

} // namespace wheelwright
