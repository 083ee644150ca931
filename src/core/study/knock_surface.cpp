// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/knock_surface.h"

#include "core/study/spark_estimate.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <span>

namespace wheelwright {
namespace {

constexpr double logStep = 0.3, hotterK = 15;
constexpr double idleRpm = 400; // tables may begin at 0, and no engine runs there

Axis rowsFrom(const Axis &load, double fromKpa) {
    std::vector<double> rows;
    for (std::size_t y = 0; y < load.size(); ++y)
        if (load[y] >= fromKpa || y + 2 >= load.size()) rows.push_back(load[y]);
    return Axis(std::move(rows));
}

// A single cell of a fuel table that is off says nothing of the air: the median of nine, then their mean by
// 1 2 1. Row by row.
std::vector<double> smoothed(const std::vector<double> &v, std::size_t columns) {
    const auto rows = static_cast<std::ptrdiff_t>(v.size() / columns),
               wide = static_cast<std::ptrdiff_t>(columns);
    const auto near = [&](const std::vector<double> &of, std::ptrdiff_t y, std::ptrdiff_t x) {
        return of[static_cast<std::size_t>(std::clamp<std::ptrdiff_t>(y, 0, rows - 1) * wide +
                                           std::clamp<std::ptrdiff_t>(x, 0, wide - 1))];
    };
    std::vector<double> middle, out;
    for (std::ptrdiff_t y = 0; y < rows; ++y)
        for (std::ptrdiff_t x = 0; x < wide; ++x) {
            std::array<double, 9> nine{};
            for (std::size_t i = 0; i < nine.size(); ++i)
                nine[i] = near(v, y + static_cast<std::ptrdiff_t>(i / 3) - 1,
                               x + static_cast<std::ptrdiff_t>(i % 3) - 1);
            std::ranges::nth_element(nine, nine.begin() + 4);
            middle.push_back(nine[4]);
        }
    for (std::ptrdiff_t y = 0; y < rows; ++y)
        for (std::ptrdiff_t x = 0; x < wide; ++x) {
            double sum = 0;
            for (std::ptrdiff_t dy = -1; dy <= 1; ++dy)
                for (std::ptrdiff_t dx = -1; dx <= 1; ++dx)
                    sum += static_cast<double>((2 - std::abs(dy)) * (2 - std::abs(dx))) / 16 *
                           near(middle, y + dy, x + dx);
            out.push_back(sum);
        }
    return out;
}

} // namespace

KnockSurface knockSurface(const Study &given, double content, double fromKpa, std::stop_token stop) {
    const Study &study = given.inPressure();
    const Table2D &axes = *study.ends(CalibratedQuantity::spark, content).low;
    const Axis &rpm = axes.x();
    const Axis load = rowsFrom(axes.y(), fromKpa);
    KnockSurface s{content, Table2D::uniform(rpm, load, 0), Table2D::uniform(rpm, load, 0),
                   Table2D::uniform(rpm, load, 0), Table2D::uniform(rpm, load, 0)};
    const SparkEstimator estimator(study);
    std::vector<Breath> all;
    std::vector<double> air;
    for (std::size_t y = 0; y < load.size(); ++y)
        for (std::size_t x = 0; x < rpm.size(); ++x) {
            if (stop.stop_requested()) return s;
            all.push_back(estimator.breath({content, std::max(idleRpm, rpm[x]), load[y]}));
            air.push_back(all.back().ve);
        }
    air = smoothed(air, rpm.size());
    for (std::size_t i = 0; i < all.size(); ++i)
        all[i].ve = air[i];
    for (std::size_t y = 0; y < load.size(); ++y) {
        if (stop.stop_requested()) break;
        const std::span<Breath> row(all.data() + y * rpm.size(), rpm.size());
        const std::vector<double> limits = estimator.limits(row),
                                  harder = estimator.limits(row, std::exp(-logStep / octanePower));
        for (Breath &breath : row)
            breath.intakeC += hotterK;
        const std::vector<double> hotter = estimator.limits(row);
        for (std::size_t x = 0; x < rpm.size(); ++x) {
            s.limitDeg.setCell({x, y}, limits[x]);
            s.perLogDeg.setCell({x, y}, (limits[x] - harder[x]) / logStep);
            s.octane.setCell({x, y}, octaneIndex(row[x].fuel, sensitivityKAt(estimator.model(), load[y])));
            s.perKDeg.setCell({x, y}, std::min(0.0, (hotter[x] - limits[x]) / hotterK));
        }
    }
    return s;
}

} // namespace wheelwright
