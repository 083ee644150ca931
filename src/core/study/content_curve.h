// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/job/job.h"

#include <optional>
#include <vector>

namespace wheelwright {

struct CurvePoint {
    double content = 0;
    double value = 0;
};

/// How a quantity goes from the base to the top table over content, as it can be drawn and edited: the weight
/// of the top table (schools A and B), or c(E) of the fuel model's fuel table.
struct ContentCurve {
    bool correction = false; ///< c(E) rather than a weight
    double lowContent = 0, highContent = 1;
    std::vector<CurvePoint> used; ///< in steps of 1 % over 0–1, as the engine gets it, held or extrapolated
    std::vector<CurvePoint> physical; ///< the default; of c(E): 1
    std::vector<CurvePoint> straight; ///< the classic straight line in volume per cent; empty for c(E)
    std::vector<CurvePoint> points;   ///< that can be dragged; empty while the shape is not the job's own
    std::vector<CurvePoint> evidence; ///< what was measured: the learned fuel correction as a weight
    bool extrapolates = false;        ///< beyond the calibrated contents; otherwise held
};

/// Nothing for schools that hold levels (D, E): they have no curve.
std::optional<ContentCurve> contentCurve(const Job &job, CalibratedQuantity q);

/// Edits of the points. The first makes the curve the job's own, from the shape it had, with points every 15
/// % or so. Weights stay 0 and 1 at the calibrated contents, and monotone: a point is held between its
/// neighbours. Throws InputError for schools without a curve, or an index that is no inner point.
void makeOwnCurve(Job &job, CalibratedQuantity q);
void moveCurvePoint(Job &job, CalibratedQuantity q, std::size_t index, CurvePoint to);
/// On the curve as it is; nothing happens within 1 % of another point.
void addCurvePoint(Job &job, CalibratedQuantity q, double content);
void removeCurvePoint(Job &job, CalibratedQuantity q, std::size_t index);
/// The physical default, or the straight line, again.
void resetCurve(Job &job, CalibratedQuantity q, WeightShape shape);

} // namespace wheelwright
