// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/evaluation.h"

#include "core/study/study.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace wheelwright {
namespace {

constexpr std::array gridQuantities{CalibratedQuantity::fuel, CalibratedQuantity::spark,
                                    CalibratedQuantity::lambda};

// Closer than this, what is between two points of a grid holds nothing new: duty and the like bend gently.
constexpr double closeRpm = 200, closeKpa = 10;

void sortOnce(std::vector<double> &points) {
    std::ranges::sort(points);
    points.erase(std::unique(points.begin(), points.end()), points.end());
}

// The breakpoints, further places that matter, and points between: one half-way at least, more where they are
// further apart than twice `close`. Says where the breakpoints are.
void unite(std::vector<double> breakpoints, std::vector<double> further, double close,
           std::vector<double> &grid, std::vector<std::size_t> &where) {
    sortOnce(breakpoints);
    for (std::size_t i = 0; i < breakpoints.size(); ++i) {
        if (i > 0) {
            const double from = breakpoints[i - 1], gap = breakpoints[i] - from;
            const double parts = std::max(2.0, std::ceil(gap / close));
            for (double part = 1; part < parts; ++part)
                further.push_back(from + gap * part / parts);
        }
        further.push_back(breakpoints[i]);
    }
    sortOnce(further);
    grid = std::move(further);
    for (const double b : breakpoints)
        where.push_back(static_cast<std::size_t>(std::ranges::lower_bound(grid, b) - grid.begin()));
}

void append(std::vector<double> &to, const std::vector<double> &points) {
    to.insert(to.end(), points.begin(), points.end());
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
    // The boost target bends at its own breakpoints; at the rev limit everything is at its fastest, and the
    // air around is what any throttle reaches.
    std::vector<double> furtherRpm{job().engine.revLimitRpm}, furtherLoad{job().conditions.ambientKpa};
    for (const Table2D *t : tablesOf(job(), CalibratedQuantity::boost))
        append(furtherRpm, t->x().points());
    // What is held against the blended tables bends at its own.
    for (const ExtraTable &extra : job().extras) {
        const TableKindDefinition &kind = definitionOf(extra.kind);
        if (kind.x.dimension == Dimension::engineSpeed && kind.y.dimension == Dimension::pressure)
            append(furtherRpm, extra.table.x().points());
        if (kind.y.dimension == Dimension::pressure && kind.dimension == Dimension::sparkAngle)
            append(furtherLoad, extra.table.y().points());
    }
    unite(std::move(rpm), std::move(furtherRpm), closeRpm, m_rpm, m_rpmBreakpoints);
    unite(std::move(load), std::move(furtherLoad), closeKpa, m_load, m_loadBreakpoints);
}

std::vector<double> Evaluation::sampled(const Table2D &table) const {
    std::vector<double> out;
    out.reserve(m_rpm.size() * m_load.size());
    for (const double rpm : m_rpm)
        for (const double load : m_load)
            out.push_back(table.lookup(rpm, load).value);
    return out;
}

void Evaluation::sampleEnds() {
    for (const CalibratedQuantity q : gridQuantities)
        for (const Table2D *t : tablesOf(job(), q))
            if (std::vector<double> &samples = m_samples[t]; samples.empty()) samples = sampled(*t);
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
    s.reachable.reserve(s.reach.size());
    s.edges.reserve(2 * s.reach.size());
    for (std::size_t i = 0; i < s.reach.size(); ++i) {
        const ReachAtSpeed &r = s.reach[i];
        if (!r.runs) {
            s.reachable.push_back(0);
            continue;
        }
        const auto end = std::ranges::upper_bound(m_load, r.highestKpa);
        s.reachable.push_back(static_cast<std::size_t>(end - m_load.begin()));
        for (const double load : {r.targetKpa, r.highestKpa}) {
            const auto above = std::ranges::upper_bound(m_load, load);
            const bool onGrid = above != m_load.begin() && *(above - 1) == load;
            const bool again =
                !s.edges.empty() && s.edges.back().rpmIndex == i && s.edges.back().loadKpa == load;
            if (onGrid || again) continue;
            const bool outside = above == m_load.begin() || above == m_load.end();
            const auto below =
                static_cast<std::size_t>(above == m_load.begin() ? 0 : above - 1 - m_load.begin());
            const double share = outside ? 0 : (load - m_load[below]) / (*above - m_load[below]);
            s.edges.push_back({i, below, share, load});
        }
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
