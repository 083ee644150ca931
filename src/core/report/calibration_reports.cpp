// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/report/calibration_reports.h"

#include "core/job/school_definition.h"
#include "core/report/numbers.h"

#include <cmath>

namespace wheelwright {
namespace {

using D = Dimension;

Measured angleOf(double degrees) {
    return {degrees, D::sparkAngle};
}

// "2500 rpm, 180 kPa"; an axis without a unit is named, and one row needs no naming.
Phrase placeOf(const TableField &field, double x, double y) {
    const auto along = [](const TableAxis &axis, double v) {
        return axis.dimension == D::none
                   ? Phrase{MARKED("place.along_named", "{A} {0}"), {{v, D::count}}, {}, {axis.title}}
                   : Phrase{MARKED("place.along", "{0}"), {{v, axis.dimension}}};
    };
    if (field.y.single()) return along(field.x, x);
    return {MARKED("place.of_two", "{A}, {B}"), {}, {}, {along(field.x, x), along(field.y, y)}};
}

} // namespace

Report verdictReport(const Verdict &v) {
    Report out;
    out.title = MARKED("verdict.title", "Verdict");
    for (std::size_t i = 0; i < v.sentences.size(); ++i)
        if (i == 0)
            out.blocks.push_back(Heading{v.sentences[i], 0});
        else
            out.blocks.push_back(Sentence{v.sentences[i]});
    if (Phrase missing = notJudged(v); !missing.empty())
        out.blocks.push_back(Sentence{std::move(missing), Tone::quiet});
    return out;
}

namespace {

bool isExact(const SchoolError &e) {
    constexpr double rounding = 1e-9;
    return std::abs(e.worst) < rounding;
}

} // namespace

std::vector<ReportChart> conversionCharts(const Job &before, const ConversionLoss &loss) {
    std::vector<ReportChart> out;
    for (const SchoolError &e : loss.errors) {
        if (isExact(e)) continue;
        std::vector<double> contents;
        for (std::size_t i = 0; i < e.worstAt.size(); ++i)
            contents.push_back(static_cast<double>(i) / static_cast<double>(e.worstAt.size() - 1));
        ReportChart chart;
        chart.title = quantityTitle(e.quantity);
        chart.xTitle = MARKED("convert.chart.content", "Content");
        chart.yTitle = quantityTitle(e.quantity);
        chart.x = D::content;
        chart.y = differenceOf(tableIn(before, e.quantity, false).dimension);
        chart.lines.push_back({MARKED("convert.chart.worst", "worst cell"), contents, e.worstAt});
        chart.lines.push_back({MARKED("convert.chart.mean", "mean size"), contents, e.meanAt});
        if (!loss.levels.empty())
            chart.lines.push_back({MARKED("convert.chart.levels", "levels"),
                                   loss.levels,
                                   std::vector<double>(loss.levels.size(), 0.0),
                                   {},
                                   ReportChart::Line::Marks::alone});
        out.push_back(std::move(chart));
    }
    return out;
}

Report conversionReport(const Job &before, const ConversionLoss &loss) {
    Report out;
    out.title = MARKED("convert", "Convert");
    out.blocks.push_back(Sentence{definitionOf(loss.school).help});
    Grid grid{{MARKED("convert.table", "table"), MARKED("convert.worst", "worst error"),
               MARKED("convert.mean", "mean"), MARKED("convert.where", "where")},
              {}};
    for (const SchoolError &e : loss.errors) {
        const TableField field = tableIn(before, e.quantity, false);
        if (isExact(e))
            grid.rows.push_back(
                {quantityTitle(e.quantity), MARKED("convert.exact", "exact"), Phrase{}, Phrase{}});
        else
            grid.rows.push_back({quantityTitle(e.quantity), strongNumber(stepOf(e.worst, field.dimension)),
                                 number(stepOf(e.mean, field.dimension)),
                                 Phrase{MARKED("convert.at", "{0}, {A}"),
                                        {contentOf(e.content)},
                                        {},
                                        {placeOf(field, e.rpm, e.y)}}});
    }
    out.blocks.push_back(std::move(grid));
    if (loss.fuel)
        out.blocks.push_back(Sentence{
            {MARKED("convert.fuel", "Fuel rewritten: between the cells {0} at worst, {1} on average."),
             {shareOf(loss.fuel->worst), shareOf(loss.fuel->mean)}}});
    if (loss.loadAxis)
        out.blocks.push_back(Sentence{
            MARKED("convert.load_axis", "Breakpoints of load are rewritten, exactly; the cells stay.")});
    if (loss.boostAxis)
        out.blocks.push_back(Sentence{MARKED(
            "convert.boost_axis", "Boost: each gear begins with the row of full throttle, or full throttle "
                                  "with the highest gear's; part throttle is lost.")});
    return out;
}

Report injectorChangeReport(const InjectorChange &c) {
    Report out;
    out.title = MARKED("injector_change", "Change injectors");
    const auto ms = [](double v) { return Measured{v, D::duration}; };
    const auto say = [&](Phrase words, Tone tone = Tone::plain) {
        out.blocks.push_back(Sentence{std::move(words), tone});
    };
    say({MARKED("injector_change.duty", "Worst duty over all contents: ⟨{0}⟩, now {1}."),
         {shareOf(c.dutyAfter), shareOf(c.dutyBefore)}},
        Tone::strong);
    say({MARKED("injector_change.pulse", "Shortest pulse: {0}, now {1}."),
         {ms(c.shortestAfterMs), ms(c.shortestBeforeMs)}});
    if (c.deadTimesDropped > 0)
        say({MARKED("injector_change.dead_times", "The {0} rows of dead times were the old ones' and go: one "
                                                  "number stands for all voltages and "
                                                  "pressures until the new ones' are entered."),
             {{static_cast<double>(c.deadTimesDropped), Dimension::count}}},
            Tone::caution);
    if (!c.linearKnown)
        say(MARKED("injector_change.linear_unknown",
                   "Whether they are linear at idle is not judged: their linear minimum is not stated."),
            Tone::caution);
    else if (!c.shortestLinear)
        say(MARKED("injector_change.not_linear", "That is under their linear flow: idle will wander."),
            Tone::trouble);
    if (c.rescaled)
        say({MARKED(
                 "injector_change.rescaled",
                 "The fuel tables hold pulse widths: every cell is rescaled. What remains between the cells: "
                 "{0} at worst ({1}, {2}), {3} on average."),
             {shareOf(c.residual.worst), speedOf(c.residual.rpm), pressureOf(c.residual.loadKpa),
              shareOf(c.residual.mean)}});
    else
        say({MARKED("injector_change.stay",
                    "The fuel tables stay as they are: what they hold does not depend on the injectors. Tell "
                    "the "
                    "controller the new flow and dead time. One that knows only a required-fuel constant: "
                    "multiply that by {0}."),
             {{c.requiredFuelFactor, D::none, 4}}});
    say(MARKED("injector_change.go", "Measured set and dead-time table belong to the old ones and go. Check "
                                     "lambda at idle, cruise and low boost before a pull."),
        Tone::quiet);
    return out;
}

Phrase saidDifference(const Job &job, const Difference &d) {
    Phrase words{MARKED("differences.value", "{A}: {B}, was {C}"), {}, {}, {d.title, d.is, d.was}};
    if (d.was.empty()) words = {MARKED("differences.changed", "{A}: {B}"), {}, {}, {d.title, d.is}};
    if (const TableField *f = d.cells > 0 ? tableByPath(d.path) : nullptr) {
        const TableField field = tableIn(job, f->quantity, f->top);
        words = {MARKED("differences.table", "{A}: {0} cells, at most {1} at {B}"),
                 {countOf(d.cells), stepOf(d.worst, field.dimension)},
                 {},
                 {d.title, placeOf(field, d.rpm, d.y)}};
    } else if (d.cells > 0) { // a table whose unit is its own
        words = {MARKED("differences.other_table", "{A}: {0} cells, at most {1}"),
                 {countOf(d.cells), stepOf(d.worst, D::none)},
                 {},
                 {d.title}};
    }
    if (d.guarded) words = {MARKED("differences.guarded", "⟨guarded⟩ {A}"), {}, {}, {words}};
    return words;
}

Report regridReport(const TableField &field, const Regridded &r, bool same) {
    Report out;
    out.title = MARKED("regrid", "Other breakpoints");
    if (same)
        out.blocks.push_back(Sentence{MARKED("regrid.same", "These are the breakpoints it has.")});
    else
        out.blocks.push_back(Sentence{
            {MARKED("regrid.changes", "{0} × {1} cells. At the old breakpoints it changes at worst by ⟨{2}⟩ "
                                      "({A}), on average by {3}."),
             {countOf(r.table.x().size()), countOf(r.table.y().size()), stepOf(r.worst, field.dimension),
              stepOf(r.mean, field.dimension)},
             {},
             {placeOf(field, r.x, r.y)}}});
    return out;
}

Report budgetReport(const SparkBudget &b, const OperatingPoint &at) {
    Report out;
    out.title = MARKED("budget", "Spark at the cursor");
    out.blocks.push_back(Heading{out.title, 3});
    out.blocks.push_back(Sentence{{MARKED("budget.at", "{0}, {1}, {2}"),
                                   {speedOf(at.rpm), pressureOf(at.loadKpa), contentOf(at.content)}}});
    out.blocks.push_back(Sentence{{MARKED("budget.asked", "asked ⟨{0}⟩"), {angleOf(b.askedDeg)}}});
    Grid grid{{Phrase{}, MARKED("budget.usual", "usual"), MARKED("budget.best", "best"),
               MARKED("budget.worst", "worst")},
              {}};
    for (const BudgetStep &s : b.steps)
        grid.rows.push_back(
            {s.title, number(angleOf(s.usualDeg)), number(angleOf(s.bestDeg)), number(angleOf(s.worstDeg))});
    grid.rows.push_back({Phrase{MARKED("budget.delivered", "⟨delivered⟩")}, number(angleOf(b.usualDeg)),
                         number(angleOf(b.bestDeg)), number(angleOf(b.worstDeg))});
    out.blocks.push_back(std::move(grid));
    return out;
}

} // namespace wheelwright
