#pragma once
#include "core/job/job.h"
#include "core/study/school.h"

#include <array>
#include <map>
#include <span>
#include <vector>

namespace wheelwright {

/// The four quantities at every grid point for one content, and how far the engine can go there.
struct ContentSlice {
    double content = 0;
    BlendEnds fuelEnds; ///< of the fuel tables: contents and weight; its tables are not to be read here
    double fuelMultiplier = 1; ///< volume need against the reference content: K(E)
    double mixtureDensity = 0; ///< kg/m³ of the fuel
    double stoichiometricAfr = 0;
    double ethanolMoles = 0; ///< mole fractions
    double methanolMoles = 0;
    double boostLimitKpa = 0; ///< absolute
    std::span<const double> fuel, spark,
        lambda; ///< at grid points, rpm-major: index = rpmIndex · loads + loadIndex
    std::span<const double> fuelLow, fuelHigh, lambdaLow, lambdaHigh; ///< both ends, at grid points
    std::span<const double> targetKpa;                                ///< highest boost target by rpmIndex
    std::span<const std::size_t> reachable; ///< by rpmIndex: so many of the lowest loads can be reached
};

/// A job seen at every content from 0 to 100 % in 1 % steps and at its own two calibrated contents, at every
/// cell and every mid-point between cells. Checks read from it; building it is the only place where tables
/// are looked up.
class Evaluation {
  public:
    /// The job is copied: an evaluation may outlive a window's job. Its tables go by manifold pressure
    /// here, whatever the job's load axis is. Throws nothing for a job that passes
    /// validate().
    explicit Evaluation(Job job);
    Evaluation(Evaluation &&) = default; // slices look into the vectors, which keep their place when moved
    Evaluation(const Evaluation &) = delete;
    Evaluation &operator=(const Evaluation &) = delete;

    const Job &job() const { return m_job; }
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
    void sampleBoost();
    void blendSlices();
    ContentSlice describe(const BlendModel &blends, double content) const;
    void fillReach(std::size_t sliceIndex, const BlendEnds &boost, ContentSlice &slice);

    Job m_job;
    std::vector<double> m_rpm, m_load;
    std::vector<std::size_t> m_rpmBreakpoints, m_loadBreakpoints;
    std::map<const Table2D *, std::vector<double>> m_samples; ///< each table at the grid points
    std::map<const Table2D *, std::vector<double>> m_boost; ///< highest target at each rpm, all throttle rows
    std::vector<double> m_values;
    std::vector<double> m_targets;
    std::vector<std::size_t> m_reach;
    std::vector<ContentSlice> m_slices;
};

} // namespace wheelwright
