// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/tables/axis.h"

#include "core/base/error.h"

#include <cmath>

namespace wheelwright {

Axis::Axis() {
    static const Axis origin(std::vector<double>{0});
    m_scale = origin.m_scale;
}

Axis::Axis(std::vector<double> points, std::string_view where) {
    const std::string place(where);
    if (points.empty() || points.size() > mostPoints)
        throw InputError(place, MARKED("expected.1_to_64_breakpoints", "1 to 64 breakpoints"),
                         std::to_string(points.size()));
    for (std::size_t i = 0; i < points.size(); ++i) {
        if (!std::isfinite(points[i]))
            throw InputError(place + " breakpoint " + std::to_string(i + 1),
                             MARKED("expected.a_finite_number", "a finite number"),
                             MARKED("found.not_a_number", "not a number"));
        if (i > 0 && points[i] <= points[i - 1])
            throw InputError(place + " breakpoint " + std::to_string(i + 1),
                             Phrase{MARKED("expected.ascending", "more than the one before ({0})"),
                                    {exact(points[i - 1])}},
                             exactly(points[i]));
    }
    auto scale = std::make_shared<Scale>();
    const double span = points.back() - points.front();
    // A span that overflows leaves one bucket: the search starts at the first cell then.
    if (span > 0 && std::isfinite(span)) scale->bucketsPerUnit = buckets / span;
    if (!std::isfinite(scale->bucketsPerUnit)) scale->bucketsPerUnit = 0;
    std::size_t cell = 0;
    for (std::size_t b = 0; b < buckets && scale->bucketsPerUnit > 0; ++b) {
        // Half a bucket of doubt: rounding must never start the search beyond the cell.
        const double low = points.front() + (static_cast<double>(b) - 0.5) / scale->bucketsPerUnit;
        while (cell + 2 < points.size() && points[cell + 1] <= low)
            ++cell;
        scale->cellAt[b] = static_cast<std::uint8_t>(cell);
    }
    scale->points = std::move(points);
    m_scale = std::move(scale);
}

std::size_t Axis::nearest(double x) const {
    const AxisPosition p = locate(x);
    return p.t >= 0.5 && p.cell + 1 < size() ? p.cell + 1 : p.cell;
}

} // namespace wheelwright
