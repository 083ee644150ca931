#pragma once
#include <cstddef>
#include <string>
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

/// Strictly ascending breakpoints, 1 to 64 of them. Look-ups clamp to the ends and say so.
class Axis {
  public:
    static constexpr std::size_t mostPoints = 64;

    Axis() : m_points{0} {}
    /// Throws InputError (naming `where` and the position) for none, too many, not finite or not ascending.
    explicit Axis(std::vector<double> points, std::string_view where = "axis");

    const std::vector<double> &points() const { return m_points; }
    std::size_t size() const { return m_points.size(); }
    double operator[](std::size_t i) const { return m_points[i]; }
    double first() const { return m_points.front(); }
    double last() const { return m_points.back(); }

    AxisPosition locate(double x) const;
    std::size_t nearest(double x) const;

    bool operator==(const Axis &) const = default;

  private:
    std::vector<double> m_points;
};

} // namespace wheelwright
