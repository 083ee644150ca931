// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/plausible_table.h"

#include <algorithm>

namespace wheelwright {

Phrase doubtAbout(const TableField &field, const Table2D &table) {
    constexpr double leastMixture = 0.5, mostMixture = 1.5, leastVe = 3, leastTargetKpa = 80, lateSpark = 35;
    const auto [least, most] = std::ranges::minmax(table.cells());
    switch (field.quantity) {
    case CalibratedQuantity::spark:
        if (least >= leastMixture && most <= mostMixture)
            return MARKED("doubt.lambda_for_spark",
                          "Every cell lies between 0.5 and 1.5°: is it a table of λ?");
        if (least > lateSpark) return MARKED("doubt.late", "Every cell is over 35°: is it a table of spark?");
        break;
    case CalibratedQuantity::fuel:
        if (field.dimension == Dimension::volumetricEfficiency && most < leastVe)
            return MARKED(
                "doubt.ve",
                "Every cell is under 3 %: is it a table of λ, or a share where per cent is wanted?");
        break;
    case CalibratedQuantity::boost:
        if (most < leastTargetKpa)
            return MARKED("doubt.gauge",
                          "Every cell is under 80 kPa: are they gauge pressures, or another unit?");
        break;
    case CalibratedQuantity::lambda:
        break;
    }
    return {};
}

} // namespace wheelwright
