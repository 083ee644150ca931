#include "core/verify/evaluation.h"

#include "core/verify/limits.h"

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

double highestInColumn(const Table2D &table, double rpm) {
    double most = table.lookup(rpm, table.y().first()).value;
    for (double y : table.y().points())
        most = std::max(most, table.lookup(rpm, y).value);
    return most;
}

std::vector<double> contentsOf(const Calibration &c) {
    std::vector<double> contents{c.baseContent, c.topContent};
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

Evaluation::Evaluation(Job job) : m_job(std::move(job)) {
    buildGrid();
    sampleEnds();
    sampleBoost();
    blendSlices();
}

void Evaluation::buildGrid() {
    std::vector<double> rpm, load;
    for (CalibratedQuantity q : gridQuantities)
        for (const Table2D *t : {&m_job.calibration.of(q).base, &m_job.calibration.of(q).top}) {
            append(rpm, t->x().points());
            append(load, t->y().points());
        }
    unite(std::move(rpm), m_rpm, m_rpmBreakpoints);
    unite(std::move(load), m_load, m_loadBreakpoints);
}

void Evaluation::sampleEnds() {
    for (std::size_t i = 0; i < gridQuantities.size(); ++i) {
        const TwoTable &t = m_job.calibration.of(gridQuantities[i]);
        sample(t.base, m_rpm, m_load, m_ends[i].base);
        sample(t.top, m_rpm, m_load, m_ends[i].top);
    }
}

void Evaluation::sampleBoost() {
    const TwoTable &t = m_job.calibration.of(CalibratedQuantity::boost);
    for (double r : m_rpm) {
        m_boost.base.push_back(highestInColumn(t.base, r));
        m_boost.top.push_back(highestInColumn(t.top, r));
    }
}

ContentSlice Evaluation::describe(const WeightModel &weights, const BlendModel &blends,
                                  double content) const {
    ContentSlice s;
    s.content = content;
    s.weights = weights.at(content);
    const Blend blend = blendAt(m_job, content);
    const BlendProperties p = blends.properties(blend);
    s.fuelMultiplier = blends.volumeMultiplier(blend, blendAt(m_job, m_job.calibration.fuelReferenceContent));
    s.mixtureDensity = p.densityKgM3;
    s.stoichiometricAfr = p.stoichiometricAfr;
    s.ethanolMoles = p.ethanolMoleFraction;
    s.methanolMoles = p.methanolMoleFraction;
    s.boostLimitKpa = m_job.engine.boostLimitKpa.at(content);
    return s;
}

void Evaluation::fillReach(std::size_t sliceIndex, ContentSlice &s) {
    const double overshoot = limitOf(m_job, "boost.overshoot");
    const std::size_t first = sliceIndex * m_rpm.size();
    const double w = s.weights[CalibratedQuantity::boost];
    for (std::size_t i = 0; i < m_rpm.size(); ++i) {
        const double target = (1 - w) * m_boost.base[i] + w * m_boost.top[i];
        // Full throttle without boost still reaches the surrounding air.
        const double highest = std::max(target + overshoot, m_job.conditions.ambientKpa);
        const auto end = std::upper_bound(m_load.begin(), m_load.end(), highest);
        m_targets[first + i] = target;
        m_reach[first + i] =
            m_rpm[i] > m_job.engine.revLimitRpm ? 0 : static_cast<std::size_t>(end - m_load.begin());
    }
    s.targetKpa = std::span(m_targets).subspan(first, m_rpm.size());
    s.reachable = std::span(m_reach).subspan(first, m_rpm.size());
}

void Evaluation::blendSlices() {
    const WeightModel weights(m_job);
    const BlendModel blends = blendModelOf(m_job);
    const std::vector<double> contents = contentsOf(m_job.calibration);
    const std::size_t points = m_rpm.size() * m_load.size();
    m_values.resize(contents.size() * points * gridQuantities.size());
    m_targets.resize(contents.size() * m_rpm.size());
    m_reach.resize(contents.size() * m_rpm.size());
    double *out = m_values.data();
    for (std::size_t c = 0; c < contents.size(); ++c) {
        ContentSlice s = describe(weights, blends, contents[c]);
        std::array<std::span<const double> *, 3> views{&s.fuel, &s.spark, &s.lambda};
        for (std::size_t q = 0; q < gridQuantities.size(); ++q) {
            const double w = s.weights[gridQuantities[q]];
            const double *base = m_ends[q].base.data();
            const double *top = m_ends[q].top.data();
            for (std::size_t i = 0; i < points; ++i)
                out[i] = (1 - w) * base[i] + w * top[i];
            *views[q] = {out, points};
            out += points;
        }
        fillReach(c, s);
        m_slices.push_back(s);
    }
}

} // namespace wheelwright
