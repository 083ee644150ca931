// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/operating_point.h"
#include "core/job/job.h"

#include <array>
#include <span>

namespace wheelwright {

/// How far an extrapolated weight may go beyond 0 and 1. Common practice is not to go at all; a quarter of
/// the step between the tables keeps a short reach (E85 to E100) honest and a long one from running away.
inline constexpr double furthestExtrapolation = 0.25;

class Study;

/// The four weights at one content, and whether the content lies beyond the calibrated ones.
struct Weights {
    std::array<double, calibratedQuantityCount> of{};
    bool outside = false;      ///< content below base or above top
    bool extrapolated = false; ///< …and the rule is to go on
    double operator[](CalibratedQuantity q) const { return of[static_cast<std::size_t>(q)]; }
};

/// Weights over content for one job: blend properties at both ends are worked out once.
class WeightModel {
  public:
    explicit WeightModel(const Job &job);
    /// content 0–1. At the calibrated contents the weight is exactly 0 and 1.
    Weights at(double content) const;

  private:
    double physical(CalibratedQuantity q, double content) const;
    double weight(CalibratedQuantity q, double content) const;

    const Job &m_job;
    BlendModel m_blends;
    double m_multiplierBase, m_multiplierTop; ///< fuel volume against pure gasoline
    double m_moleBase, m_moleTop;             ///< mole fraction of the alcohol
};

/// What the engine would get at one point.
struct BlendedPoint {
    double fuel = 0; ///< in the unit of the fuel tables
    double sparkDeg = 0;
    double boostKpa = 0; ///< absolute, target at full throttle (the last row of the boost tables)
    double lambda = 0;
    Weights weights;
    bool outsideContent = false;
    std::array<TableLookup, calibratedQuantityCount>
        baseLookup{}; ///< of the low end, with their outside flags
    std::array<TableLookup, calibratedQuantityCount> topLookup{}; ///< of the high end
};

/// Throws InputError for a content outside 0–1 or an rpm or load that is not finite or negative.
BlendedPoint blendedPoint(const Study &study, const OperatingPoint &at);

struct BlendEnds;

/// The whole table at one content, on the low end's axes.
Table2D blendedTable(const BlendEnds &ends);
/// Its cells alone, row by row, into a place of the caller's: as many as the low end has.
void blendCells(const BlendEnds &ends, std::span<double> out);

} // namespace wheelwright
