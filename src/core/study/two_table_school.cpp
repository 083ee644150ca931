// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/two_table_school.h"

#include "core/base/error.h"
#include "core/study/load_axis.h"
#include "core/study/study.h"

#include <algorithm>
#include <cmath>

namespace wheelwright {
namespace {

double moleFraction(const BlendProperties &p) {
    return p.ethanolMoleFraction + p.methanolMoleFraction;
}

} // namespace

WeightModel::WeightModel(const Job &job) : m_job(job), m_blends(blendModelOf(job)) {
    const Calibration &c = job.calibration;
    const Blend base = blendAt(job, c.baseContent);
    const Blend top = blendAt(job, c.topContent);
    m_multiplierBase = m_blends.volumeMultiplier(base, {});
    m_multiplierTop = m_blends.volumeMultiplier(top, {});
    m_moleBase = moleFraction(m_blends.properties(base));
    m_moleTop = moleFraction(m_blends.properties(top));
}

double WeightModel::physical(CalibratedQuantity q, double content) const {
    const Calibration &c = m_job.calibration;
    const Blend blend = blendAt(m_job, content);
    switch (q) {
    case CalibratedQuantity::fuel: // so that two content-referenced tables blend exactly like the fuel model
        return (m_blends.volumeMultiplier(blend, {}) - m_multiplierBase) /
               (m_multiplierTop - m_multiplierBase);
    case CalibratedQuantity::spark:
    case CalibratedQuantity::boost: // octane is linear in mole fraction: Anderson et al., SAE 2010-01-2137
        return (moleFraction(m_blends.properties(blend)) - m_moleBase) / (m_moleTop - m_moleBase);
    case CalibratedQuantity::lambda:
        break;
    }
    return (content - c.baseContent) / (c.topContent - c.baseContent);
}

double WeightModel::weight(CalibratedQuantity q, double content) const {
    const Calibration &c = m_job.calibration;
    const TwoTable &tables = c.of(q);
    if (content == c.baseContent) return 0; // exactly, whatever rounding says
    if (content == c.topContent) return 1;
    switch (tables.shape) {
    case WeightShape::physical:
        return physical(q, content);
    case WeightShape::straight:
        return (content - c.baseContent) / (c.topContent - c.baseContent);
    case WeightShape::custom:
        break;
    }
    return tables.customWeight.at(content);
}

Weights WeightModel::at(double content) const {
    const Calibration &c = m_job.calibration;
    Weights w;
    w.outside = content < c.baseContent || content > c.topContent;
    w.extrapolated = w.outside && c.outside == OutsideRule::extrapolate;
    const double held = std::clamp(content, c.baseContent, c.topContent);
    for (CalibratedQuantity q : allQuantities)
        w.of[static_cast<std::size_t>(q)] =
            w.extrapolated ? std::clamp(weight(q, content), -furthestExtrapolation, 1 + furthestExtrapolation)
                           : weight(q, held);
    return w;
}

BlendedPoint blendedPoint(const Study &study, const OperatingPoint &at) {
    const auto [content, rpm, loadKpa] = at;
    if (!(content >= 0 && content <= 1))
        throw InputError("content",
                         MARKED("expected.a_volume_fraction_from_0_to_1", "a volume fraction from 0 to 1"),
                         std::to_string(content));
    if (!(rpm >= 0) || !std::isfinite(rpm))
        throw InputError("rpm", MARKED("expected.a_speed_of_0_or_more", "a speed of 0 or more"),
                         std::to_string(rpm));
    if (!(loadKpa >= 0) || !std::isfinite(loadKpa))
        throw InputError(
            "load_kpa",
            MARKED("expected.an_absolute_pressure_of_0_or_more", "an absolute pressure of 0 or more"),
            std::to_string(loadKpa));
    BlendedPoint p;
    const auto ends = study.ends(content);
    const double y = axisOfLoad(study.job(), loadKpa);
    p.outsideContent = p.weights.outside = ends[0].outside;
    p.weights.extrapolated = ends[0].extrapolated;
    std::array<double, calibratedQuantityCount> blended{};
    for (CalibratedQuantity q : allQuantities) {
        const auto i = static_cast<std::size_t>(q);
        const bool boost = q == CalibratedQuantity::boost;
        p.weights.of[i] = ends[i].weight;
        p.baseLookup[i] = ends[i].low->lookup(rpm, boost ? ends[i].low->y().last() : y);
        p.topLookup[i] = ends[i].high->lookup(rpm, boost ? ends[i].high->y().last() : y);
        blended[i] = ends[i].blend(p.baseLookup[i].value, p.topLookup[i].value);
    }
    p.fuel = blended[0];
    p.sparkDeg = blended[1];
    p.boostKpa = blended[2];
    p.lambda = blended[3];
    return p;
}

void blendCells(const BlendEnds &ends, std::span<double> out) {
    const Table2D &low = *ends.low, &high = *ends.high;
    const double *a = low.cells().data();
    const double lowShare = ends.scale * (1 - ends.weight), highShare = ends.scale * ends.weight;
    if (low.x() == high.x() && low.y() == high.y()) {
        const double *b = high.cells().data();
        for (std::size_t i = 0; i < out.size(); ++i)
            out[i] = lowShare * a[i] + highShare * b[i];
        return;
    }
    std::size_t i = 0;
    for (const double y : low.y().points())
        for (const double x : low.x().points()) {
            out[i] = lowShare * a[i] + highShare * high.lookup(x, y).value;
            ++i;
        }
}

Table2D blendedTable(const BlendEnds &ends) {
    std::vector<double> cells(ends.low->cells().size());
    blendCells(ends, cells);
    return Table2D(ends.low->x(), ends.low->y(), std::move(cells));
}

} // namespace wheelwright
