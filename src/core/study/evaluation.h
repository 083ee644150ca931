// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/study/reach.h"

#include <array>
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

    double operator[](std::size_t at) const { return m_lowShare * m_low[at] + m_highShare * m_high[at]; }
    double low(std::size_t at) const { return m_low[at]; }
    double high(std::size_t at) const { return m_high[at]; }

  private:
    const double *m_low = nullptr, *m_high = nullptr;
    double m_lowShare = 0, m_highShare = 0;
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
};

/// A job seen at every content from 0 to 100 % in 1 % steps and at its own two calibrated contents, at every
/// cell and every mid-point between cells. Checks read from it; building it is the only place where tables
/// are looked up.
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
    /// Index into rpm() and load() of points that are breakpoints; the others are mid-points.
    std::span<const std::size_t> rpmBreakpoints() const { return m_rpmBreakpoints; }
    std::span<const std::size_t> loadBreakpoints() const { return m_loadBreakpoints; }
    std::span<const ContentSlice> slices() const { return m_slices; }
    std::size_t index(std::size_t rpmIndex, std::size_t loadIndex) const {
        return rpmIndex * m_load.size() + loadIndex;
    }

  private:
    void buildGrid();
    void sampleEnds();
    void blendSlices();
    ContentSlice describe(double content) const;
    void fillReach(const Reach &reach, const BlendEnds &boost, ContentSlice &slice) const;

    const Study &m_study;
    const Job &m_job; ///< of the study
    std::vector<double> m_rpm, m_load;
    std::vector<std::size_t> m_rpmBreakpoints, m_loadBreakpoints;
    std::map<const Table2D *, std::vector<double>> m_samples; ///< each table at the grid points
    std::vector<ContentSlice> m_slices;
};

} // namespace wheelwright
