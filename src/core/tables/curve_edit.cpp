// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/tables/curve_edit.h"

#include "core/base/error.h"

#include <algorithm>
#include <cmath>

namespace wheelwright {
namespace {

void requirePoint(const Curve &curve, std::size_t point) {
    if (point < curve.axis().size()) return;
    throw InputError("curve",
                     Phrase{MARKED("expected.point_up_to", "a point from 1 to {0}"),
                            {{static_cast<double>(curve.axis().size()), Dimension::count}}},
                     std::to_string(point + 1));
}

} // namespace

Curve withPointAt(const Curve &curve, std::size_t point, double x, double y, const CurveRange &range) {
    requirePoint(curve, point);
    std::vector<double> xs = curve.axis().points(), ys = curve.values();
    const double from = point > 0 ? xs[point - 1] + range.apart : range.leastX;
    const double until = point + 1 < xs.size() ? xs[point + 1] - range.apart : range.mostX;
    if (from <= until) xs[point] = std::clamp(x, from, until); // else it has no room, and stays
    ys[point] = std::clamp(y, range.leastY, range.mostY);
    return Curve(std::move(xs), std::move(ys));
}

Curve withPointAdded(const Curve &curve, double x, const CurveRange &range) {
    std::vector<double> xs = curve.axis().points(), ys = curve.values();
    const auto near = [&](double other) { return std::abs(other - x) < range.apart; };
    if (x < range.leastX || x > range.mostX || xs.size() >= Axis::mostPoints || std::ranges::any_of(xs, near))
        return curve;
    const auto place = std::ranges::lower_bound(xs, x) - xs.begin();
    ys.insert(ys.begin() + place, curve.at(x));
    xs.insert(xs.begin() + place, x);
    return Curve(std::move(xs), std::move(ys));
}

Curve withoutPoint(const Curve &curve, std::size_t point) {
    requirePoint(curve, point);
    std::vector<double> xs = curve.axis().points(), ys = curve.values();
    if (xs.size() == 1)
        throw InputError(
            "curve",
            MARKED("expected.another_point_beside_the_last_one", "another point beside the last one"),
            MARKED("found.one_point", "one point"));
    xs.erase(xs.begin() + static_cast<std::ptrdiff_t>(point));
    ys.erase(ys.begin() + static_cast<std::ptrdiff_t>(point));
    return Curve(std::move(xs), std::move(ys));
}

} // namespace wheelwright
