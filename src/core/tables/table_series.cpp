// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/tables/table_series.h"

namespace wheelwright {

void lookUpSeries(const Table2D &table, std::span<const double> x, std::span<const double> y,
                  std::span<double> out) {
    const Axis &xs = table.x(), &ys = table.y();
    for (std::size_t i = 0; i < out.size(); ++i)
        out[i] = table.at(xs.locate(x[i]), ys.locate(y[i])).value;
}

} // namespace wheelwright
