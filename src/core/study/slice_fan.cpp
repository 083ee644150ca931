// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/slice_fan.h"

#include "core/study/content_tables.h"
#include "core/study/load_axis.h"
#include "core/study/spark_budget.h"
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
        FanCurve out{c, {c, Dimension::content}, {}};
        for (double x : fan.x)
            out.y.push_back(alongRpm ? e.at(x, y) : e.at(rpm, x));
        return out;
    };
    for (int percent = 0; percent <= 100; percent += 10)
        fan.curves.push_back(curve(percent / 100.0));
    fan.now = curve(content);
    fan.bounds = boundsOf(study, q, speeds, loads, content);
    return fan;
}

namespace {

FanCurve rowOrColumn(const ExtraTable &extra, bool alongX, std::size_t place) {
    const Table2D &t = extra.table;
    const TableAxis &across = alongX ? definitionOf(extra.kind).y : definitionOf(extra.kind).x;
    const double at = alongX ? t.y()[place] : t.x()[place];
    FanCurve out;
    out.at = {at, across.dimension};
    if (across.key == axes::content.key) out.content = at;
    for (std::size_t i = 0; i < (alongX ? t.x() : t.y()).size(); ++i)
        out.y.push_back(alongX ? t.cell(i, place) : t.cell(place, i));
    return out;
}

// Those of its kind by content, and the spark that they are held against.
void addContentTables(SliceFan &fan, const Study &study, const ExtraTable &extra, bool alongX, CellIndex cell,
                      double content) {
    const double x = extra.table.x()[cell.x], y = extra.table.y()[cell.y];
    const ContentTables tables(study.job(), extra.kind, ContentTables::Estimates::stay);
    const auto curve = [&](double c, auto value) {
        FanCurve out{c, {c, Dimension::content}, {}};
        for (const double v : fan.x)
            out.y.push_back(value(OperatingPoint{c, alongX ? v : x, alongX ? y : v}));
        return out;
    };
    const auto blended = [&](const OperatingPoint &p) { return tables.at(p); };
    for (const ContentTables::Level &level : tables.levels())
        fan.curves.push_back(curve(level.content, blended));
    fan.now = curve(content, blended);
    fan.bounds.push_back(
        {MARKED("fan.delivered", "delivered at best"),
         curve(content, [&](const OperatingPoint &p) { return sparkBudget(study, p).bestDeg; }).y});
}

} // namespace

SliceFan sliceFan(const Study &study, const ExtraTable &extra, bool alongX, CellIndex cell, double content) {
    const TableKindDefinition &kind = definitionOf(extra.kind);
    const Table2D &t = extra.table;
    alongX = alongX || kind.y.single();
    SliceFan fan;
    fan.x = (alongX ? t.x() : t.y()).points();
    if (kind.atContent) {
        addContentTables(fan, study, extra, alongX, cell, content);
        return fan;
    }
    for (std::size_t i = 0; i < (alongX ? t.y() : t.x()).size(); ++i)
        fan.curves.push_back(rowOrColumn(extra, alongX, i));
    fan.now = rowOrColumn(extra, alongX, alongX ? cell.y : cell.x);
    if (!fan.now.content) return fan;
    // The engine gets what lies between the rows.
    fan.now = {content, {content, Dimension::content}, {}};
    for (const double x : fan.x)
        fan.now.y.push_back(t.lookup(x, content).value);
    return fan;
}

} // namespace wheelwright
