// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/job/job.h"

#include <algorithm>
#include <functional>
#include <vector>

namespace wheelwright {

/// The table of a kind that is in use; nullptr without one.
const ExtraTable *extraInUse(const Job &job, TableKind kind);

/// Its value at a place; the kind's neutral without one.
double extraAt(const Job &job, TableKind kind, double x, double y = 0);

/// The same at one x, by y: made ready to be asked often.
class ExtraByLoad {
  public:
    ExtraByLoad(const Job &job, TableKind kind, double x);
    double at(double y) const { return at(m_axis.locate(y)); }
    const Axis &axis() const { return m_axis; }
    /// Nowhere less than another of the same table: between the axis' points both are straight lines.
    bool covers(const ExtraByLoad &other) const {
        return std::ranges::equal(m_values, other.m_values, std::greater_equal{});
    }
    double at(const AxisPosition &here) const {
        const double low = m_values[here.cell];
        return here.t > 0 ? low + here.t * (m_values[here.cell + 1] - low) : low;
    }

  private:
    Axis m_axis;
    std::vector<double> m_values;
};

} // namespace wheelwright
