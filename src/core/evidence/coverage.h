// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/evidence/cleaning.h"
#include "core/study/proof.h"

#include <span>
#include <string>
#include <vector>

namespace wheelwright {

/// What is known of a place.
using CoverageState = BeenThere;
std::string_view coverageKey(CoverageState state); ///< "never"

/// Ends of the content bands, ascending from 0 to 1: ten per cent each, so laid that fuels people buy (E10,
/// E50, E85) stand well inside of one.
std::span<const double> coverageBands();

/// One cell of the engine's load and speed in one content band.
struct CoverageCell {
    double rpm = 0, loadKpa = 0, contentFrom = 0, contentTo = 0;
    double hits = 0;        ///< sum of bilinear weights of the samples of running engine with fuel on
    double cleanHits = 0;   ///< of those that the cleaning has left
    double knockDeg = 0;    ///< the most retard seen
    double lambdaError = 0; ///< weighted mean of λ less its target over clean samples; 0 without λ
    double lambdaHits = 0, knockHits = 0; ///< clean samples of the calibration as it is that say λ, and knock
    double provenHits = 0;                ///< of clean samples of logs that ran with the calibration as it is
    std::string lastSeen;                 ///< when the last of its logs came in
    std::string revision;                 ///< that this log ran with
};

/// Where the engine has been, over the cells of its spark tables (in manifold pressure) and content bands.
/// A cell is seen from evidence.least_hits on; it is proven where so many clean ones are of the calibration
/// as it is now and say λ (in its place, where the job states its delay) and knock: λ within watch.lean of
/// its target, and no knock. A log that does not say whether the engine was warm proves nothing.
class Coverage {
  public:
    explicit Coverage(const Study &study);

    /// current: it ran with the calibration as it is.
    void add(const WatchedLog &log, const CleanLog &cleaned, const LogInfo &info, bool current);

    /// What another coverage of the same cells has counted of one log. current: that log ran with the
    /// calibration as it is now; else it only says where the engine has been. Throws InputError for other
    /// cells.
    void add(const Coverage &one, const LogInfo &info, bool current);
    /// Whether its cells are those of a job.
    bool hasCellsOf(const Study &study) const;

    /// Rpm fastest, then load, then band.
    const std::vector<CoverageCell> &cells() const { return m_cells; }
    CoverageState state(const CoverageCell &cell) const;
    /// The same for those who judge the job.
    Proof proof() const;
    const Axis &rpm() const { return m_rpm; }
    const Axis &load() const { return m_load; }
    std::size_t bandOf(double content) const;
    const CoverageCell &at(std::size_t x, std::size_t y, std::size_t band) const;

  private:
    Limits m_limits;
    Axis m_rpm, m_load;
    std::vector<CoverageCell> m_cells;
};

} // namespace wheelwright
