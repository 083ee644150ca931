// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/tables/table2d.h"

#include <span>

namespace wheelwright {

/// A table looked up along a series of points, as a log has them: x, y and out are of one length. Bilinear,
/// held at the edges, as Table2D::lookup(); what is no number reads the lowest breakpoint.
void lookUpSeries(const Table2D &table, std::span<const double> x, std::span<const double> y,
                  std::span<double> out);

} // namespace wheelwright
