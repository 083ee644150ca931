// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/evaluation.h"

#include "core/study/study.h"

#include <algorithm>

namespace wheelwright {
namespace {

constexpr std::array gridQuantities{CalibratedQuantity::fuel, CalibratedQuantity::spark,
                                    CalibratedQuantity::lambda};

// All breakpoints of the given axes with a point half-way between each two, and where the breakpoints are.
void unite(std::vector<double> breakpoints, std::vector<double> &grid, std::vector<std::size_t> &where) {
    std::ranges::sort(breakpoints);
    breakpoints.erase(std::unique(breakpoints.begin(), breakpoints.end()), breakpoints.end());
    for (std::size_t i = 0; i < breakpoints.size(); ++i) {
        if (i > 0) grid.push_back((breakpoints[i - 1] + breakpoints[i]) / 2);
        where.push_back(grid.size());
        grid.push_back(breakpoints[i]);
    }
}

void append(std::vector<double> &to, const std::vector<double> &points) {
    to.insert(to.end(), points.begin(), points.end());
}

void sample(const Table2D &table, std::span<const double> rpm, std::span<const double> load,
            std::vector<double> &out) {
    out.reserve(rpm.size() * load.size());
    for (double r : rpm)
        for (double l : load)
            out.push_back(table.lookup(r, l).value);
}

std::vector<double> contentsOf(const Job &job) {
    std::vector<double> contents{job.calibration.baseContent, job.calibration.topContent};
    if (definitionOf(job.calibration.school).levels)
        for (const ContentLevel &l : job.calibration.levels)
            contents.push_back(l.content);
    for (int percent = 0; percent <= 100; ++percent)
        contents.push_back(percent / 100.0);
    std::ranges::sort(contents);
    // A calibrated content that is a whole per cent but for rounding must not stand twice.
    constexpr double same = 1e-9;
    const auto end =
        std::unique(contents.begin(), contents.end(), [](double a, double b) { return b - a < same; });
    contents.erase(end, contents.end());
    return contents;
}

} // namespace

Evaluation::Evaluation(const Study &inPressure) : m_study(inPressure), m_job(inPressure.job()) {
    buildGrid();
    sampleEnds();
    blendSlices();
}

void Evaluation::buildGrid() {
    std::vector<double> rpm, load;
    for (CalibratedQuantity q : gridQuantities)
        for (const Table2D *t : tablesOf(job(), q)) {
            append(rpm, t->x().points());
            append(load, t->y().points());
        }
    unite(std::move(rpm), m_rpm, m_rpmBreakpoints);
    unite(std::move(load), m_load, m_loadBreakpoints);
}

void Evaluation::sampleEnds() {
    for (const CalibratedQuantity q : gridQuantities)
        for (const Table2D *t : tablesOf(job(), q))
            sample(*t, m_rpm, m_load, m_samples[t]);
}

ContentSlice Evaluation::describe(double content) const {
    ContentSlice s;
    s.content = content;
    const Blend blend = blendAt(job(), content);
    const BlendProperties p = m_study.blends().properties(blend);
    s.fuelMultiplier =
        m_study.blends().volumeMultiplier(blend, blendAt(job(), job().calibration.fuelReferenceContent));
    s.mixtureDensity = p.densityKgM3;
    s.stoichiometricAfr = p.stoichiometricAfr;
    s.ethanolMoles = p.ethanolMoleFraction;
    s.methanolMoles = p.methanolMoleFraction;
    s.boostLimitKpa = job().engine.boostLimitKpa.at(content);
    return s;
}

void Evaluation::fillReach(const Reach &reach, const BlendEnds &boost, ContentSlice &s) const {
    s.reach = reach.at(boost);
    for (const ReachAtSpeed &r : s.reach) {
        const auto end = std::upper_bound(m_load.begin(), m_load.end(), r.highestKpa);
        s.reachable.push_back(r.runs ? static_cast<std::size_t>(end - m_load.begin()) : 0);
    }
}

void Evaluation::blendSlices() {
    const std::vector<double> contents = contentsOf(job());
    const Reach reach(job(), m_rpm);
    m_slices.reserve(contents.size());
    for (const double content : contents) {
        ContentSlice s = describe(content);
        const auto ends = m_study.ends(content);
        const auto points = [&](CalibratedQuantity q) {
            const BlendEnds &e = ends[static_cast<std::size_t>(q)];
            return BlendedPoints(e, m_samples.at(e.low), m_samples.at(e.high));
        };
        s.fuelEnds = ends[static_cast<std::size_t>(CalibratedQuantity::fuel)];
        s.fuel = points(CalibratedQuantity::fuel);
        s.spark = points(CalibratedQuantity::spark);
        s.lambda = points(CalibratedQuantity::lambda);
        fillReach(reach, ends[static_cast<std::size_t>(CalibratedQuantity::boost)], s);
        m_slices.push_back(std::move(s));
    }
}

} // namespace wheelwright
