// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/operating_point.h"
#include "core/study/reach.h"

#include <concepts>
#include <functional>
#include <map>
#include <span>
#include <vector>

namespace wheelwright {

class Study;

/// A quantity at the grid points of one content, made of its ends when it is read: two numbers that stay in
/// the processor's cache, where a blended copy for every content would not.
class BlendedPoints {
  public:
    BlendedPoints() = default;
    BlendedPoints(const BlendEnds &ends, std::span<const double> low, std::span<const double> high)
        : m_low(low.data()), m_high(high.data()), m_lowShare(ends.scale * (1 - ends.weight)),
          m_highShare(ends.scale * ends.weight) {}

    double operator[](std::size_t at) const { return blend(m_low[at], m_high[at]); }
    double blend(double low, double high) const { return m_lowShare * low + m_highShare * high; }
    double lowShare() const { return m_lowShare; }
    double highShare() const { return m_highShare; }
    double low(std::size_t at) const { return m_low[at]; }
    double high(std::size_t at) const { return m_high[at]; }

  private:
    const double *m_low = nullptr, *m_high = nullptr;
    double m_lowShare = 0, m_highShare = 0;
};

/// Where reach ends at one speed of one content: between two loads of the grid, or past its ends.
struct EdgeOfReach {
    std::size_t rpmIndex;
    std::size_t below; ///< load of the grid at or under it; the first where it is under them all
    double
        share; ///< of the way to the next load of the grid, where tables are straight lines; 0 past the ends
    double loadKpa;
};

/// The four quantities at every grid point for one content, and how far the engine can go there.
struct ContentSlice {
    double content = 0;
    BlendEnds fuelEnds;
    double fuelMultiplier = 1; ///< volume need against the reference content: K(E)
    double mixtureDensity = 0; ///< kg/m³ of the fuel
    double stoichiometricAfr = 0;
    double ethanolMoles = 0; ///< mole fractions
    double methanolMoles = 0;
    double boostLimitKpa = 0;           ///< absolute
    BlendedPoints fuel, spark, lambda;  ///< rpm-major: index = rpmIndex · loads + loadIndex
    std::vector<ReachAtSpeed> reach;    ///< by rpmIndex
    std::vector<std::size_t> reachable; ///< by rpmIndex: so many of the lowest loads can be reached
    std::vector<EdgeOfReach>
        edges; ///< by rpmIndex: the target and the highest load, where no load of the grid is there
};

class Evaluation;

/// Something that the fuel does not change: by manifold pressure alone, or by speed as well. Known at the
/// points of the grid, and worked out at any between.
class ByPoint {
  public:
    /// of: a function of the load, kPa.
    template <class Of>
    requires std::invocable<Of, double> ByPoint(const Evaluation &evaluation, Of of)
        : ByPoint(evaluation, false, [of](EnginePoint p) { return of(p.loadKpa); }) {}
    /// of: a function of an EnginePoint; bySpeed: whether the speed makes a difference.
    template <class Of>
    ByPoint(const Evaluation &evaluation, bool bySpeed, Of of);

    /// Of one speed, by load.
    const double *row(std::size_t rpmIndex) const { return m_grid.data() + rpmIndex * m_perSpeed; }
    double at(EnginePoint point) const {
        if (m_perSpeed == 0) point.rpm = 0;
        if (point != m_lastAt) { // neighbouring speeds often aim at the same boost
            m_last = m_of(point);
            m_lastAt = point;
        }
        return m_last;
    }

  private:
    std::function<double(EnginePoint)> m_of;
    std::size_t m_perSpeed; ///< numbers for each speed; 0: the same for all
    std::vector<double> m_grid;
    mutable EnginePoint m_lastAt{-1, -1};
    mutable double m_last = 0;
};

/// A point of the grid, for the judges of checks.
struct GridPoint {
    std::size_t rpmIndex, loadIndex, index;
    double rpm, loadKpa;
    double of(const BlendedPoints &q) const { return q[index]; }
    double lowOf(const BlendedPoints &q) const { return q.low(index); }
    double highOf(const BlendedPoints &q) const { return q.high(index); }
    double of(const ByPoint &f) const { return f.row(rpmIndex)[loadIndex]; }
    double of(const std::vector<double> &samples) const {
        return samples[index];
    } ///< of a table, over the grid
};

/// A point where reach ends: the same questions, answered between two points of the grid.
struct EdgePoint {
    std::size_t rpmIndex, loadIndex, index; ///< of the grid point at or under it
    std::size_t next;                       ///< grid point over it
    double share, rpm, loadKpa;
    double between(double low, double high) const { return low + share * (high - low); }
    double of(const BlendedPoints &q) const { return between(q[index], q[next]); }
    double lowOf(const BlendedPoints &q) const { return between(q.low(index), q.low(next)); }
    double highOf(const BlendedPoints &q) const { return between(q.high(index), q.high(next)); }
    double of(const ByPoint &f) const { return f.at({rpm, loadKpa}); }
    double of(const std::vector<double> &samples) const { return between(samples[index], samples[next]); }
};

/// A job seen at every content from 0 to 100 % in 1 % steps and at its own calibrated contents (of a
/// mechanical one, at its own fuel), at every cell and at points between cells (half-way, closer where cells
/// are far apart), at the air around it, at the rev limit, and at each content's own boost target, without
/// and with its overshoot. Checks read from it; building it is the only place where tables are looked up.
class Evaluation {
  public:
    /// Keeps a reference to the study, which makes it (Study::evaluation) and whose tables go by manifold
    /// pressure. Throws nothing for a job that passes validate().
    explicit Evaluation(const Study &inPressure);
    Evaluation(const Evaluation &) = delete;
    Evaluation &operator=(const Evaluation &) = delete;

    const Job &job() const { return m_job; }
    const Study &study() const { return m_study; }
    std::span<const double> rpm() const { return m_rpm; }
    std::span<const double> load() const { return m_load; }
    /// Index into rpm() and load() of points that are breakpoints of fuel, spark or lambda.
    std::span<const std::size_t> rpmBreakpoints() const { return m_rpmBreakpoints; }
    std::span<const std::size_t> loadBreakpoints() const { return m_loadBreakpoints; }
    std::span<const ContentSlice> slices() const { return m_slices; }
    std::size_t index(std::size_t rpmIndex, std::size_t loadIndex) const {
        return rpmIndex * m_load.size() + loadIndex;
    }
    GridPoint gridPoint(std::size_t rpmIndex, std::size_t loadIndex) const {
        return {rpmIndex, loadIndex, index(rpmIndex, loadIndex), m_rpm[rpmIndex], m_load[loadIndex]};
    }
    /// Any load at a speed of the grid.
    EdgePoint pointAt(std::size_t rpmIndex, double loadKpa) const {
        return edgePoint(edgeAt(rpmIndex, loadKpa));
    }
    EdgePoint edgePoint(const EdgeOfReach &edge) const {
        const std::size_t at = index(edge.rpmIndex, edge.below);
        return {edge.rpmIndex, edge.below,           at,          edge.share > 0 ? at + 1 : at,
                edge.share,    m_rpm[edge.rpmIndex], edge.loadKpa};
    }
    /// The same for any content, 0–1. It reads from this evaluation.
    ContentSlice sliceAt(double content) const;
    /// 1 at every point of the grid: where something is divided by what it must not be.
    BlendedPoints ones() const { return {BlendEnds{}, m_ones, m_ones}; }
    /// A table at every point of the grid.
    std::vector<double> sampled(const Table2D &table) const;

  private:
    EdgeOfReach edgeAt(std::size_t rpmIndex, double loadKpa) const;
    static std::vector<double> speedsOf(const Job &job, std::vector<std::size_t> &breakpoints);
    void buildLoads();
    void sampleEnds();
    ContentSlice describe(double content) const;
    void fillReach(const BlendEnds &boost, ContentSlice &slice) const;

    const Study &m_study;
    const Job &m_job; ///< of the study
    std::vector<std::size_t> m_rpmBreakpoints, m_loadBreakpoints;
    std::vector<double> m_rpm;
    Reach m_reach; ///< at each speed of the grid
    std::vector<double> m_load;
    std::vector<double> m_ones;
    std::map<const Table2D *, std::vector<double>> m_samples; ///< each table at the grid points
    std::vector<ContentSlice> m_slices;
};

/// Every point that can be reached at a content: `visit` takes a GridPoint or an EdgePoint.
template <class Visit>
void visitReachable(const Evaluation &e, const ContentSlice &s, Visit visit) {
    for (std::size_t i = 0; i < s.reachable.size(); ++i)
        for (std::size_t j = 0; j < s.reachable[i]; ++j)
            visit(e.gridPoint(i, j));
    for (const EdgeOfReach &edge : s.edges)
        visit(e.edgePoint(edge));
}

/// Every load that can be reached at a content, each once, at the lowest speed that reaches it; and where
/// reach ends: for what goes by load alone, but is worst at different loads.
template <class Visit>
void visitReachableLoads(const Evaluation &e, const ContentSlice &s, Visit visit) {
    std::size_t seen = 0;
    for (std::size_t i = 0; i < s.reachable.size(); ++i)
        for (; seen < s.reachable[i]; ++seen)
            visit(e.gridPoint(i, seen));
    for (const EdgeOfReach &edge : s.edges)
        visit(e.edgePoint(edge));
}

template <class Of>
ByPoint::ByPoint(const Evaluation &e, bool bySpeed, Of of)
    : m_of(of), m_perSpeed(bySpeed ? e.load().size() : 0) {
    m_grid.reserve(e.load().size() * (bySpeed ? e.rpm().size() : 1));
    for (const double rpm : e.rpm().first(bySpeed ? e.rpm().size() : 1))
        for (const double load : e.load())
            m_grid.push_back(of(EnginePoint{bySpeed ? rpm : 0, load}));
}

} // namespace wheelwright
