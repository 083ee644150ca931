// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/tables/curve.h"
#include "core/tables/table2d.h"

#include <array>
#include <string_view>

namespace wheelwright {

/// What a calibration holds a table of, at each end of the content range.
enum class CalibratedQuantity { fuel, spark, boost, lambda };
inline constexpr std::size_t calibratedQuantityCount = 4;
inline constexpr std::array allQuantities{CalibratedQuantity::fuel, CalibratedQuantity::spark,
                                          CalibratedQuantity::boost, CalibratedQuantity::lambda};

/// "fuel", "spark", "boost", "lambda": stable ids.
std::string_view quantityId(CalibratedQuantity q);

/// How the weight of the top table grows with content.
enum class WeightShape {
    physical, ///< the quantity's default: fuel by the fuel model, spark and boost by mole fraction, lambda
              ///< linear
    straight, ///< a straight line in volume per cent
    custom    ///< the user's points
};

/// What happens at contents beyond the two calibrated ones.
enum class OutsideRule {
    hold,       ///< the nearer table alone
    extrapolate ///< the line goes on, for a weight at most 0.25 beyond
};

/// School A for one quantity: T(E) = (1 − w(E))·base + w(E)·top.
struct TwoTable {
    Table2D base;
    Table2D top;
    WeightShape shape = WeightShape::physical;
    Curve customWeight = Curve({0.10, 0.85}, {0, 1}); ///< used by WeightShape::custom only

    bool operator==(const TwoTable &) const = default;
};

} // namespace wheelwright
