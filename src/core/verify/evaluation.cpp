#include "core/verify/evaluation.h"

#include "core/base/limits.h"
#include "core/study/load_axis.h"

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

Evaluation::Evaluation(Job job)
    : m_job(job.calibration.loadAxis == LoadAxis::manifoldPressure ? std::move(job) : inPressure(job)) {
    buildGrid();
    sampleEnds();
    sampleBoost();
    blendSlices();
}

void Evaluation::buildGrid() {
    std::vector<double> rpm, load;
    for (CalibratedQuantity q : gridQuantities)
        for (const Table2D *t : tablesOf(m_job, q)) {
            append(rpm, t->x().points());
            append(load, t->y().points());
        }
    unite(std::move(rpm), m_rpm, m_rpmBreakpoints);
    unite(std::move(load), m_load, m_loadBreakpoints);
}

void Evaluation::sampleEnds() {
    for (const CalibratedQuantity q : gridQuantities)
        for (const Table2D *t : tablesOf(m_job, q))
            sample(*t, m_rpm, m_load, m_samples[t]);
}

void Evaluation::sampleBoost() {
    for (const Table2D *t : tablesOf(m_job, CalibratedQuantity::boost))
        for (double r : m_rpm)
            m_boost[t].push_back(highestTarget(*t, r));
}

ContentSlice Evaluation::describe(const BlendModel &blends, double content) const {
    ContentSlice s;
    s.content = content;
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

void Evaluation::fillReach(std::size_t sliceIndex, const BlendEnds &boost, ContentSlice &s) {
    const double overshoot = limitOf(m_job, "boost.overshoot");
    const std::size_t first = sliceIndex * m_rpm.size();
    const std::vector<double> &low = m_boost.at(boost.low), &high = m_boost.at(boost.high);
    for (std::size_t i = 0; i < m_rpm.size(); ++i) {
        const double target = boost.blend(low[i], high[i]);
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
    const SchoolModel school(m_job);
    const BlendModel blends = blendModelOf(m_job);
    const std::vector<double> contents = contentsOf(m_job);
    const std::size_t points = m_rpm.size() * m_load.size();
    m_values.resize(contents.size() * points * gridQuantities.size());
    m_targets.resize(contents.size() * m_rpm.size());
    m_reach.resize(contents.size() * m_rpm.size());
    double *out = m_values.data();
    for (std::size_t c = 0; c < contents.size(); ++c) {
        ContentSlice s = describe(blends, contents[c]);
        const auto ends = school.at(contents[c]);
        std::array<std::span<const double> *, 3> views{&s.fuel, &s.spark, &s.lambda};
        for (std::size_t q = 0; q < gridQuantities.size(); ++q) {
            const BlendEnds &e = ends[static_cast<std::size_t>(gridQuantities[q])];
            const double low = e.scale * (1 - e.weight), high = e.scale * e.weight;
            const double *base = m_samples.at(e.low).data();
            const double *top = m_samples.at(e.high).data();
            for (std::size_t i = 0; i < points; ++i)
                out[i] = low * base[i] + high * top[i];
            *views[q] = {out, points};
            out += points;
        }
        s.fuelEnds = ends[static_cast<std::size_t>(CalibratedQuantity::fuel)];
        const BlendEnds &lambda = ends[static_cast<std::size_t>(CalibratedQuantity::lambda)];
        s.fuelLow = m_samples.at(s.fuelEnds.low);
        s.fuelHigh = m_samples.at(s.fuelEnds.high);
        s.lambdaLow = m_samples.at(lambda.low);
        s.lambdaHigh = m_samples.at(lambda.high);
        s.fuelEnds.low = s.fuelEnds.high = nullptr; // the job moves with the evaluation
        fillReach(c, ends[static_cast<std::size_t>(CalibratedQuantity::boost)], s);
        m_slices.push_back(s);
    }
}

} // namespace wheelwright
