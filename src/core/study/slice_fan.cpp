// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/slice_fan.h"

#include "core/study/content_tables.h"
#include "core/study/load_axis.h"
#include "core/tables/lambda_lines.h"

namespace wheelwright {
namespace {

std::vector<FanBound> boundsOf(const Study &study, CalibratedQuantity q, const std::vector<double> &speeds,
                               const std::vector<double> &loads, double content) {
    const Job &job = study.job();
    std::vector<FanBound> bounds;
    if (q == CalibratedQuantity::boost)
        bounds.push_back({MARKED("fan.engine_limit", "engine limit"),
                          std::vector<double>(loads.size(), job.engine.boostLimitKpa.at(content))});
    if (q == CalibratedQuantity::spark)
        for (const auto &[kind, title] :
             {std::pair(TableKind::sparkCeiling, MARKED("fan.ceiling", "ceiling")),
              std::pair(TableKind::sparkBest, MARKED("fan.best_spark", "best spark"))})
            if (const ContentTables tables(job, kind); !tables.empty()) {
                FanBound &bound = bounds.emplace_back(FanBound{title, {}});
                for (std::size_t i = 0; i < loads.size(); ++i)
                    bound.y.push_back(tables.at({content, speeds[i], loads[i]}));
            }
    if (q != CalibratedQuantity::lambda) return bounds;
    const BlendProperties fuel = study.fuelAt(content);
    const LeanLine lean(job.limits);
    FanBound &leanBound = bounds.emplace_back(FanBound{MARKED("fan.lean_line", "lean line"), {}});
    const double ambient = job.conditions.ambientKpa;
    const std::vector<ReachAtSpeed> reach = study.reach(content, speeds);
    for (std::size_t i = 0; i < loads.size(); ++i)
        leanBound.y.push_back(reach[i].boosted(ambient)
                                  ? lean.at(loads[i], fuel.ethanolMoleFraction, fuel.methanolMoleFraction)
                                  : lean.atFullThrottle(loads[i], ambient, fuel.ethanolMoleFraction,
                                                        fuel.methanolMoleFraction));
    const double rich = richLine(job.limits, fuel.ethanolMoleFraction, fuel.methanolMoleFraction);
    bounds.push_back({MARKED("fan.rich_line", "rich line"), std::vector<double>(loads.size(), rich)});
    return bounds;
}

} // namespace

SliceFan sliceFan(const Study &study, CalibratedQuantity q, bool alongRpm, CellIndex cell, double content) {
    const BlendEnds here = study.ends(q, content);
    const double rpm = here.low->x()[cell.x], y = here.low->y()[cell.y];
    SliceFan fan;
    fan.x = alongRpm ? here.low->x().points() : here.low->y().points();
    std::vector<double> loads, speeds;
    for (double x : fan.x)
        speeds.push_back(alongRpm ? x : rpm);
    for (double x : fan.x)
        loads.push_back(q == CalibratedQuantity::boost ? 0 : loadOfAxis(study.job(), alongRpm ? y : x));
    // A short row, blended as often as wanted.
    const auto curve = [&](double c) {
        const BlendEnds e = study.ends(q, c);
        FanCurve out{c, {}};
        for (double x : fan.x)
            out.y.push_back(e.blend(e.low->lookup(alongRpm ? x : rpm, alongRpm ? y : x).value,
                                    e.high->lookup(alongRpm ? x : rpm, alongRpm ? y : x).value));
        return out;
    };
    for (int percent = 0; percent <= 100; percent += 10)
        fan.curves.push_back(curve(percent / 100.0));
    fan.now = curve(content);
    fan.bounds = boundsOf(study, q, speeds, loads, content);
    return fan;
}

} // namespace wheelwright
