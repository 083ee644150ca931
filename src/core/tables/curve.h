// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/tables/axis.h"

#include <vector>

namespace wheelwright {

/// A value over one axis: straight lines between points, held at the ends.
class Curve {
  public:
    Curve() : m_y{0} {}
    /// Throws InputError for axes that do not ascend, sizes that differ or values that are not finite.
    Curve(std::vector<double> x, std::vector<double> y, std::string_view where = "curve");
    static Curve constant(double y) { return Curve({0}, {y}); }

    double at(double x) const;
    bool outside(double x) const { return m_x.locate(x).outside; }

    const Axis &axis() const { return m_x; }
    const std::vector<double> &values() const { return m_y; }

    bool operator==(const Curve &) const = default;

  private:
    Axis m_x;
    std::vector<double> m_y;
};

} // namespace wheelwright
