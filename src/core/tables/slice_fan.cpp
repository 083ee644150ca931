#include "core/tables/slice_fan.h"

#include "core/tables/two_table_school.h"
#include "core/verify/lambda_lines.h"

namespace wheelwright {
namespace {

// Base and top of the slice: two short rows, blended as often as wanted.
struct SliceEnds {
    std::vector<double> base, top;

    FanCurve at(double content, double weight) const {
        FanCurve curve{content, {}};
        for (std::size_t i = 0; i < base.size(); ++i)
            curve.y.push_back((1 - weight) * base[i] + weight * top[i]);
        return curve;
    }
};

std::vector<FanBound> boundsOf(const Job &job, CalibratedQuantity q, const std::vector<double> &loads,
                               double content) {
    std::vector<FanBound> bounds;
    if (q == CalibratedQuantity::boost)
        bounds.push_back(
            {"engine limit", std::vector<double>(loads.size(), job.engine.boostLimitKpa.at(content))});
    if (q != CalibratedQuantity::lambda) return bounds;
    const BlendProperties fuel = blendModelOf(job).properties(blendAt(job, content));
    const LeanLine lean(job);
    FanBound &leanBound = bounds.emplace_back(FanBound{"lean line", {}});
    for (double load : loads)
        leanBound.y.push_back(lean.at(load, fuel.ethanolMoleFraction, fuel.methanolMoleFraction));
    const double rich = richLine(job, fuel.ethanolMoleFraction, fuel.methanolMoleFraction);
    bounds.push_back({"rich line", std::vector<double>(loads.size(), rich)});
    return bounds;
}

} // namespace

SliceFan sliceFan(const Job &job, CalibratedQuantity q, bool alongRpm, CellIndex cell, double content) {
    const TwoTable &t = job.calibration.of(q);
    const double rpm = t.base.x()[cell.x], y = t.base.y()[cell.y];
    SliceFan fan;
    fan.x = alongRpm ? t.base.x().points() : t.base.y().points();
    SliceEnds ends;
    std::vector<double> loads;
    for (double x : fan.x) {
        ends.base.push_back(t.base.lookup(alongRpm ? x : rpm, alongRpm ? y : x).value);
        ends.top.push_back(t.top.lookup(alongRpm ? x : rpm, alongRpm ? y : x).value);
        loads.push_back(alongRpm ? y : x);
    }
    const WeightModel weights(job);
    for (int percent = 0; percent <= 100; percent += 10)
        fan.curves.push_back(ends.at(percent / 100.0, weights.at(percent / 100.0)[q]));
    fan.now = ends.at(content, weights.at(content)[q]);
    fan.bounds = boundsOf(job, q, loads, content);
    return fan;
}

} // namespace wheelwright
