// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/tables/curve.h"

#include <cstddef>

namespace wheelwright {

/// Where the points of a curve may go, in its own units.
struct CurveRange {
    double leastX = 0, mostX = 1;
    double leastY = 0, mostY = 1;
    double apart = 0.01; ///< least distance of two points along x
};

/// The curve with a point elsewhere: held to the range and between its neighbours. Throws InputError for a
/// point that is not there.
Curve withPointAt(const Curve &curve, std::size_t point, double x, double y, const CurveRange &range);

/// With one more point on the curve as it is; the same where another is nearer than two points may be, where
/// x is outside the range, or where the curve holds all that it can.
Curve withPointAdded(const Curve &curve, double x, const CurveRange &range);

/// Without a point. The last one stays: throws InputError.
Curve withoutPoint(const Curve &curve, std::size_t point);

} // namespace wheelwright
