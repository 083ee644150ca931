// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/content_curve.h"

#include "core/base/error.h"
#include "core/study/school.h"

#include <algorithm>
#include <cmath>

namespace wheelwright {
namespace {

constexpr double apart = 0.01; // of two points

bool isCorrection(const Job &job, CalibratedQuantity q) {
    return job.calibration.school == School::fuelModel && q == CalibratedQuantity::fuel;
}

bool hasCurve(const Job &job) {
    return !definitionOf(job.calibration.school).levels;
}

void requireCurve(const Job &job) {
    if (!hasCurve(job))
        throw InputError(
            "curve",
            MARKED("expected.a_school_with_a_curve_over_content", "a school with a curve over content"),
            std::string(definitionOf(job.calibration.school).title.text));
}

Curve &curveOf(Job &job, CalibratedQuantity q) {
    return isCorrection(job, q) ? job.calibration.learnedFuelCorrection : job.calibration.of(q).customWeight;
}

Curve fromPoints(const std::vector<CurvePoint> &points) {
    std::vector<double> x, y;
    for (const CurvePoint &p : points) {
        x.push_back(p.content);
        y.push_back(p.value);
    }
    return Curve(std::move(x), std::move(y), "curve");
}

std::vector<CurvePoint> toPoints(const Curve &curve) {
    std::vector<CurvePoint> points;
    for (std::size_t i = 0; i < curve.axis().size(); ++i)
        points.push_back({curve.axis()[i], curve.values()[i]});
    return points;
}

// Weights of a shape, whatever the job's is.
std::vector<CurvePoint> shapeOf(Job job, CalibratedQuantity q, WeightShape shape) {
    job.calibration.of(q).shape = shape;
    const WeightModel weights(job);
    std::vector<CurvePoint> points;
    for (int percent = 0; percent <= 100; ++percent)
        points.push_back({percent / 100.0, weights.at(percent / 100.0)[q]});
    return points;
}

// The measured need over the model's, as the weight of the top table that would give it.
std::vector<CurvePoint> fuelEvidence(const Job &job) {
    const Calibration &c = job.calibration;
    std::vector<CurvePoint> evidence;
    if (c.learnedFuelCorrection.axis().size() < 2) return evidence; // nothing was learned
    const BlendModel blends = blendModelOf(job);
    const auto need = [&](double content) {
        return blends.volumeMultiplier(blendAt(job, content), {}) * c.learnedFuelCorrection.at(content);
    };
    const double low = need(c.baseContent), high = need(c.topContent);
    for (const double content : c.learnedFuelCorrection.axis().points())
        evidence.push_back({content, (need(content) - low) / (high - low)});
    return evidence;
}

std::size_t innerPoint(const Job &job, CalibratedQuantity q, std::size_t index, std::size_t count) {
    // A weight's ends are the calibrated contents; c(E) may move everywhere.
    const bool inner = isCorrection(job, q) ? index < count : index > 0 && index + 1 < count;
    if (!inner)
        throw InputError("curve", MARKED("expected.one_of_its_inner_points", "one of its inner points"),
                         "point " + std::to_string(index + 1));
    return index;
}

} // namespace

std::optional<ContentCurve> contentCurve(const Job &job, CalibratedQuantity q) {
    if (!hasCurve(job)) return std::nullopt;
    const Calibration &c = job.calibration;
    ContentCurve out;
    out.lowContent = c.baseContent;
    out.highContent = c.topContent;
    out.extrapolates = c.outside == OutsideRule::extrapolate;
    if (isCorrection(job, q)) {
        out.correction = true;
        out.lowContent = 0;
        out.highContent = 1;
        for (int percent = 0; percent <= 100; ++percent) {
            out.used.push_back({percent / 100.0, c.learnedFuelCorrection.at(percent / 100.0)});
            out.physical.push_back({percent / 100.0, 1});
        }
        out.points = toPoints(c.learnedFuelCorrection);
        return out;
    }
    out.used = shapeOf(job, q, c.of(q).shape);
    out.physical = shapeOf(job, q, WeightShape::physical);
    out.straight = shapeOf(job, q, WeightShape::straight);
    if (c.of(q).shape == WeightShape::custom) out.points = toPoints(c.of(q).customWeight);
    if (q == CalibratedQuantity::fuel) out.evidence = fuelEvidence(job);
    return out;
}

void makeOwnCurve(Job &job, CalibratedQuantity q) {
    requireCurve(job);
    Calibration &c = job.calibration;
    constexpr int steps = 5;
    std::vector<CurvePoint> points;
    if (isCorrection(job, q)) {
        if (c.learnedFuelCorrection.axis().size() > 1) return;
        for (int i = 0; i <= steps; ++i)
            points.push_back({static_cast<double>(i) / steps, c.learnedFuelCorrection.at(0)});
        c.learnedFuelCorrection = fromPoints(points);
        return;
    }
    if (c.of(q).shape == WeightShape::custom) return;
    const WeightModel weights(job);
    for (int i = 0; i <= steps; ++i) {
        const double share = static_cast<double>(i) / steps;
        const double content =
            i == steps ? c.topContent : c.baseContent + share * (c.topContent - c.baseContent);
        points.push_back({content, weights.at(content)[q]});
    }
    c.of(q).customWeight = fromPoints(points);
    c.of(q).shape = WeightShape::custom;
}

void moveCurvePoint(Job &job, CalibratedQuantity q, std::size_t index, CurvePoint to) {
    makeOwnCurve(job, q);
    Curve &curve = curveOf(job, q);
    std::vector<CurvePoint> points = toPoints(curve);
    const std::size_t i = innerPoint(job, q, index, points.size());
    const double from = i > 0 ? points[i - 1].content + apart : 0;
    const double until = i + 1 < points.size() ? points[i + 1].content - apart : 1;
    points[i].content = std::clamp(to.content, from, std::max(from, until));
    if (isCorrection(job, q)) {
        constexpr double least = 0.5, most = 2;
        points[i].value = std::clamp(to.value, least, most);
    } else {
        const auto [low, high] = std::minmax(points[i - 1].value, points[i + 1].value);
        points[i].value = std::clamp(to.value, low, high);
    }
    curve = fromPoints(points);
}

void addCurvePoint(Job &job, CalibratedQuantity q, double content) {
    makeOwnCurve(job, q);
    Curve &curve = curveOf(job, q);
    std::vector<CurvePoint> points = toPoints(curve);
    const auto near = [&](const CurvePoint &p) { return std::abs(p.content - content) < apart; };
    if (std::ranges::any_of(points, near)) return;
    if (!isCorrection(job, q) && (content < points.front().content || content > points.back().content))
        return;
    points.push_back({content, curve.at(content)});
    std::ranges::sort(points, {}, &CurvePoint::content);
    curve = fromPoints(points);
}

void removeCurvePoint(Job &job, CalibratedQuantity q, std::size_t index) {
    requireCurve(job);
    Curve &curve = curveOf(job, q);
    std::vector<CurvePoint> points = toPoints(curve);
    const std::size_t i = innerPoint(job, q, index, points.size());
    if (points.size() == 1)
        throw InputError(
            "curve",
            MARKED("expected.another_point_beside_the_last_one", "another point beside the last one"),
            MARKED("found.one_point", "one point"));
    points.erase(points.begin() + static_cast<std::ptrdiff_t>(i));
    curve = fromPoints(points);
}

void resetCurve(Job &job, CalibratedQuantity q, WeightShape shape) {
    requireCurve(job);
    if (isCorrection(job, q))
        job.calibration.learnedFuelCorrection = Curve::constant(1);
    else
        job.calibration.of(q).shape = shape;
}

} // namespace wheelwright
