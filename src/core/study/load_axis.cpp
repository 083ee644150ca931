// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/load_axis.h"

#include "core/base/error.h"
#include "core/flow/engine_air.h"
#include "core/job/job_schema.h"
#include "core/study/cell_trust.h"

#include <algorithm>
#include <cmath>

namespace wheelwright {
namespace {

// mg per kPa.
double airPerKpa(const Job &job) {
    return airPerCycleMg(1, 1, job.engine.displacementL / job.engine.cylinders, job.conditions.intakeUsualC);
}

Curve throttleOverKpa(const Job &job) {
    return Curve(job.engine.throttleKpa.values(), job.engine.throttleKpa.axis().points(),
                 "engine.throttle_kpa");
}

bool overLoad(CalibratedQuantity q) {
    return q != CalibratedQuantity::boost;
}

// Calls change(table, path) for every table of a quantity.
template <class Change>
void eachTable(Job &job, CalibratedQuantity q, Change change) {
    change(job.calibration.of(q).base);
    change(job.calibration.of(q).top);
    for (ContentLevel &l : job.calibration.levels)
        change(l.of(q));
}

Table2D withRows(const Table2D &t, std::vector<double> rows) {
    rows.insert(rows.end(), t.y().points().begin(), t.y().points().end());
    std::ranges::sort(rows);
    rows.erase(std::unique(rows.begin(), rows.end()), rows.end());
    std::erase_if(rows, [&](double y) { return y < t.y().first() || y > t.y().last(); });
    if (rows.size() > Axis::mostPoints || rows.size() == t.y().size()) return t;
    return regrid(t, t.x(), Axis(std::move(rows))).table;
}

template <class Map>
Table2D onAxis(const Table2D &t, Map map) {
    std::vector<double> y;
    for (const double v : t.y().points())
        y.push_back(map(v));
    return Table2D(t.x(), Axis(std::move(y), "load"), t.cells());
}

} // namespace

double axisOfLoad(const Job &job, double loadKpa) {
    switch (job.calibration.loadAxis) {
    case LoadAxis::airMass:
        return loadKpa * airPerKpa(job);
    case LoadAxis::throttle:
        return throttleOverKpa(job).at(loadKpa);
    case LoadAxis::manifoldPressure:
        break;
    }
    return loadKpa;
}

double loadOfAxis(const Job &job, double y) {
    switch (job.calibration.loadAxis) {
    case LoadAxis::airMass:
        return y / airPerKpa(job);
    case LoadAxis::throttle:
        return job.engine.throttleKpa.at(y);
    case LoadAxis::manifoldPressure:
        break;
    }
    return y;
}

Job inPressure(const Job &job) {
    if (job.calibration.loadAxis == LoadAxis::manifoldPressure) return job;
    Job out = job;
    out.calibration.loadAxis = LoadAxis::manifoldPressure;
    const bool throttle = job.calibration.loadAxis == LoadAxis::throttle;
    const Curve &curve = job.engine.throttleKpa;
    for (const CalibratedQuantity q : allQuantities) {
        if (!overLoad(q)) continue;
        eachTable(out, q, [&](Table2D &t) {
            if (throttle) {
                // Beyond the curve all pressures are one: such rows cannot be told apart, the nearest stays.
                t = withRows(t, curve.axis().points());
                std::vector<double> rows;
                for (const double y : t.y().points())
                    if (rows.empty() || curve.at(y) > curve.at(rows.back())) rows.push_back(y);
                if (rows.size() < t.y().size()) t = regrid(t, t.x(), Axis(std::move(rows))).table;
            }
            // To a millionth of a kPa: a breakpoint that lies at the boost target must not slip over it.
            constexpr double fine = 1e6;
            t = onAxis(t, [&](double y) { return std::round(loadOfAxis(job, y) * fine) / fine; });
        });
    }
    return out;
}

namespace {

// Several rows at one throttle are one: where the curve from throttle to pressure is flat, or ends below the
// boost.
void requireThrottleForEveryRow(const Job &job) {
    const Curve kpa = throttleOverKpa(job);
    for (const CalibratedQuantity q : allQuantities) {
        if (!overLoad(q)) continue;
        for (const Table2D *t : tablesOf(job, q))
            for (std::size_t y = 1; y < t->y().size(); ++y) {
                const double from = loadOfAxis(job, t->y()[y - 1]), to = loadOfAxis(job, t->y()[y]);
                if (kpa.at(to) > kpa.at(from)) continue;
                throw InputError(
                    "engine.throttle_kpa",
                    Phrase{MARKED("expected.throttle_for_rows",
                                  "a throttle of its own for every row of the tables, so the curve from "
                                  "throttle to manifold pressure has to rise from {0} to {1} kPa"),
                           {exact(t->y().first()), exact(t->y().last())}},
                    Phrase{MARKED("found.one_throttle",
                                  "one throttle for {0} and {1} kPa; under boost throttle does not say "
                                  "the pressure: keep pressure as load, or enter the curve up to the boost"),
                           {exact(from), exact(to)}});
            }
    }
}

} // namespace

Job changeLoadAxis(const Job &job, LoadAxis axis) {
    if (axis == LoadAxis::throttle && job.calibration.loadAxis != axis) requireThrottleForEveryRow(job);
    Job out = job;
    out.calibration.loadAxis = axis;
    const auto moved = [&](double y) { return axisOfLoad(out, loadOfAxis(job, y)); };
    for (const CalibratedQuantity q : allQuantities)
        if (overLoad(q)) eachTable(out, q, [&](Table2D &t) { t = onAxis(t, moved); });
    for (CellMark &m : out.cellMarks)
        for (const CalibratedQuantity q : allQuantities)
            if (overLoad(q) && (m.table.ends_with("." + std::string(quantityId(q))) ||
                                m.table.starts_with("calibration." + std::string(quantityId(q)) + ".")))
                m.y = moved(m.y);
    validate(out);
    return out;
}

Job changeBoostAxis(const Job &job, BoostAxis axis) {
    Job out = job;
    if (axis == job.calibration.boostAxis) return out;
    out.calibration.boostAxis = axis;
    constexpr std::size_t gears = 6;
    eachTable(out, CalibratedQuantity::boost, [&](Table2D &t) {
        std::vector<double> rows, cells;
        const std::size_t count = axis == BoostAxis::gear ? gears : 1;
        for (std::size_t y = 0; y < count; ++y) {
            rows.push_back(axis == BoostAxis::gear ? static_cast<double>(y + 1) : 100);
            for (std::size_t x = 0; x < t.x().size(); ++x) {
                double most = t.cell(x, t.y().size() - 1);
                for (std::size_t gear = 0; axis == BoostAxis::throttle && gear < t.y().size(); ++gear)
                    most = std::max(most, t.cell(x, gear));
                cells.push_back(most);
            }
        }
        t = Table2D(t.x(), Axis(std::move(rows), "gear"), std::move(cells));
    });
    validate(out);
    return out;
}

} // namespace wheelwright
