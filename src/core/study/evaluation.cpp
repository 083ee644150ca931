// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/evaluation.h"

#include "core/study/mechanical_lambda.h"
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
    if (job.control == FuelControl::mechanical) return {mechanicalContent(job)};
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

Evaluation::Evaluation(const Study &inPressure)
    : m_study(inPressure), m_job(inPressure.job()), m_rpm(speedsOf(m_job, m_rpmBreakpoints)),
      m_reach(m_job, m_rpm) {
    buildLoads();
    sampleEnds();
    for (const double content : contentsOf(job()))
        m_slices.push_back(sliceAt(content));
}

// The boost target bends at its own breakpoints, what is held against the blended tables at its own; at the
// rev limit everything is at its fastest.
std::vector<double> Evaluation::speedsOf(const Job &job, std::vector<std::size_t> &breakpoints) {
    std::vector<double> own, further{job.engine.revLimitRpm}, grid;
    for (const CalibratedQuantity q : gridQuantities)
        for (const Table2D *t : tablesOf(job, q))
            append(own, t->x().points());
    for (const Table2D *t : tablesOf(job, CalibratedQuantity::boost))
        append(further, t->x().points());
    for (const ExtraTable &extra : job.extras) {
        const TableKindDefinition &kind = definitionOf(extra.kind);
        if (kind.x.dimension == Dimension::engineSpeed && kind.y.dimension == Dimension::pressure)
            append(further, extra.table.x().points());
    }
    unite(std::move(own), std::move(further), closeRpm, grid, breakpoints);
    return grid;
}

// The air around is what any throttle reaches.
void Evaluation::buildLoads() {
    std::vector<double> own, further{job().conditions.ambientKpa};
    for (const CalibratedQuantity q : gridQuantities)
        for (const Table2D *t : tablesOf(job(), q))
            append(own, t->y().points());
    for (const ExtraTable &extra : job().extras) {
        const TableKindDefinition &kind = definitionOf(extra.kind);
        if (kind.y.dimension == Dimension::pressure && kind.dimension == Dimension::sparkAngle)
            append(further, extra.table.y().points());
    }
    unite(std::move(own), std::move(further), closeKpa, m_load, m_loadBreakpoints);
}

std::vector<double> Evaluation::sampled(const Table2D &table) const {
    std::vector<double> out;
    out.reserve(m_rpm.size() * m_load.size());
    std::vector<AxisPosition> loads; // found once for all speeds
    for (const double load : m_load)
        loads.push_back(table.y().locate(load));
    for (const double rpm : m_rpm) {
        const AxisPosition speed = table.x().locate(rpm);
        for (const AxisPosition &load : loads)
            out.push_back(table.at(speed, load).value);
    }
    return out;
}

void Evaluation::sampleEnds() {
    m_ones.assign(m_rpm.size() * m_load.size(), 1);
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

EdgeOfReach Evaluation::edgeAt(std::size_t rpmIndex, double load) const {
    const auto above = std::ranges::upper_bound(m_load, load);
    if (above == m_load.begin()) return {rpmIndex, 0, 0, load};
    const auto below = static_cast<std::size_t>(above - m_load.begin()) - 1;
    if (above == m_load.end()) return {rpmIndex, below, 0, load};
    return {rpmIndex, below, (load - m_load[below]) / (*above - m_load[below]), load};
}

void Evaluation::fillReach(const BlendEnds &boost, ContentSlice &s) const {
    s.reach = m_reach.at(boost);
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
            const EdgeOfReach edge = edgeAt(i, load);
            const bool onGrid = m_load[edge.below] == load;
            const bool again =
                !s.edges.empty() && s.edges.back().rpmIndex == i && s.edges.back().loadKpa == load;
            if (!onGrid && !again) s.edges.push_back(edge);
        }
    }
}

ContentSlice Evaluation::sliceAt(double content) const {
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
    fillReach(ends[static_cast<std::size_t>(CalibratedQuantity::boost)], s);
    return s;
}

} // namespace wheelwright
