// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/knock_surface.h"

#include "core/study/spark_estimate.h"

#include <algorithm>
#include <cmath>

namespace wheelwright {
namespace {

constexpr double logStep = 0.3, hotterK = 15;
constexpr double octanePower = 3.402; // of τ: Douaud and Eyzat

Axis rowsFrom(const Axis &load, double fromKpa) {
    std::vector<double> rows;
    for (std::size_t y = 0; y < load.size(); ++y)
        if (load[y] >= fromKpa || y + 2 >= load.size()) rows.push_back(load[y]);
    return Axis(std::move(rows));
}

} // namespace

KnockSurface knockSurface(const Study &given, double content, double fromKpa, std::stop_token stop) {
    const Study &study = given.inPressure();
    const Table2D &axes = *study.ends(CalibratedQuantity::spark, content).low;
    const Axis &rpm = axes.x();
    const Axis load = rowsFrom(axes.y(), fromKpa);
    KnockSurface s{content, Table2D::uniform(rpm, load, 0), Table2D::uniform(rpm, load, 0),
                   Table2D::uniform(rpm, load, 0)};
    const SparkEstimator estimator(study);
    std::vector<double> speeds;
    std::vector<Breath> breaths;
    for (std::size_t x = 0; x < rpm.size(); ++x)
        speeds.push_back(rpm[x]);
    std::vector<double> limits, harder, hotter;
    for (std::size_t y = 0; y < load.size(); ++y) {
        if (stop.stop_requested()) break;
        breaths.clear();
        for (const double n : speeds)
            breaths.push_back(estimator.breath({content, n, load[y]}));
        limits = estimator.limits(breaths);
        harder = estimator.limits(breaths, std::exp(-logStep / octanePower));
        for (Breath &b : breaths)
            b.intakeC += hotterK;
        hotter = estimator.limits(breaths);
        for (std::size_t x = 0; x < rpm.size(); ++x) {
            s.limitDeg.setCell({x, y}, limits[x]);
            s.perLogDeg.setCell({x, y}, (limits[x] - harder[x]) / logStep);
            s.perKDeg.setCell({x, y}, std::min(0.0, (hotter[x] - limits[x]) / hotterK));
        }
    }
    return s;
}

} // namespace wheelwright
