// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/report/run_reports.h"

#include "core/explain/explain_runs.h"
#include "core/job/job.h"
#include "core/report/run_words.h"

#include <algorithm>
#include <cmath>

namespace wheelwright {
namespace {

void addDifferences(const RunComparison &c, Report &out) {
    out.blocks.push_back(Heading{MARKED("runs.head.differs", "What differs"), 2});
    if (c.differences.found.empty()) {
        out.blocks.push_back(
            Sentence{MARKED("runs.same", "Nothing that anybody has said or measured."), Tone::quiet});
        return;
    }
    Grid grid;
    grid.heads = {MARKED("runs.head.what", "What"), MARKED("runs.head.before", "Before"),
                  MARKED("runs.head.after", "After"), MARKED("runs.head.counts", "Counts")};
    for (const RunDifference &d : c.differences.found)
        grid.rows.push_back({Sentence{d.title}, Sentence{d.before}, Sentence{d.after},
                             d.accounted ? Sentence{MARKED("runs.accounted", "taken out"), Tone::quiet}
                                         : Sentence{MARKED("runs.counts", "yes")}});
    out.blocks.push_back(std::move(grid));
    for (const RunDifference &d : c.differences.found)
        for (const Phrase &detail : d.details)
            out.blocks.push_back(Sentence{detail, Tone::quiet});
}

void addWorth(const RunComparison &c, const Job &job, Report &out) {
    for (const WorthOf &w : worthOf(c)) {
        constexpr int digits = 2;
        const Measured per{w.kwPer, Dimension::power, digits};
        Phrase line;
        if (w.what == "content")
            line = {MARKED("runs.worth.content", "{A} for each per cent of content"),
                    {},
                    {},
                    {withHalf(per, w.kwPerHalf)}};
        else if (w.what == "spark")
            line = {MARKED("runs.worth.spark", "{A} for each degree of spark"),
                    {},
                    {},
                    {withHalf(per, w.kwPerHalf)}};
        else if (w.what == "boost")
            line = {MARKED("runs.worth.boost", "{A} for each {0} of boost"),
                    {{1, Dimension::pressureDifference}},
                    {},
                    {withHalf(per, w.kwPerHalf)}};
        else
            line = {MARKED("runs.worth.lambda", "{A} for each hundredth of λ"),
                    {},
                    {},
                    {withHalf(per, w.kwPerHalf)}};
        out.blocks.push_back(Sentence{
            w.alone ? line
                    : Phrase{MARKED("runs.worth.not_alone", "{A}, if it were that alone"), {}, {}, {line}},
            w.alone ? Tone::plain : Tone::quiet});
    }
    const auto money = moneyOf(job, c);
    if (!money) return;
    const Measured more{std::abs(money->morePerTank), Dimension::money, 0};
    const bool dearer = money->morePerTank >= 0;
    if (money->perKw)
        out.blocks.push_back(
            Sentence{dearer ? Phrase{MARKED("runs.money.more", "This fuel costs {0} more a tank for {1}."),
                                     {more, kilowatts(c.averageKw.mean)}}
                            : Phrase{MARKED("runs.money.less", "This fuel costs {0} less a tank, for {1}."),
                                     {more, kilowatts(c.averageKw.mean)}}});
    else
        out.blocks.push_back(Sentence{
            dearer ? Phrase{MARKED("runs.money.more_nothing", "This fuel costs {0} more a tank, for nothing "
                                                              "that could be told from the scatter."),
                            {more}}
                   : Phrase{MARKED("runs.money.less_nothing",
                                   "This fuel costs {0} less a tank, and nothing tells the runs apart."),
                            {more}}});
}

// What every run was multiplied by, each with its working.
void addCorrections(const RunComparison &c, WorkedReport &made) {
    const auto corrected = [](const SeenRun &r) { return r.factor != 1; };
    if (std::ranges::none_of(c.before, corrected) && std::ranges::none_of(c.after, corrected)) return;
    made.report.blocks.push_back(Heading{MARKED("runs.head.correction", "Correction"), 2});
    Grid grid;
    grid.heads = {MARKED("runs.sheet.run", "Run"), MARKED("runs.head.stated", "Stated for"),
                  MARKED("runs.head.factor", "Times")};
    constexpr int digits = 4;
    for (const std::vector<SeenRun> *side : {&c.before, &c.after})
        for (const SeenRun &r : *side) {
            Sentence stated(MARKED("runs.stated.not_said", "not said: as measured"), Tone::quiet);
            for (const CorrectionDefinition &d : allCorrections())
                if (d.standard == r.stated) stated = Sentence(d.title);
            const Phrase factor = number({r.factor, Dimension::none, digits});
            grid.rows.push_back({words(r.id), stated,
                                 r.air ? made.worked(factor, Tone::leading,
                                                     [from = r.stated, to = c.standard, air = *r.air] {
                                                         return explainCorrection(from, to, air);
                                                     })
                                       : Sentence{factor}});
        }
    made.report.blocks.push_back(std::move(grid));
}

// The peak that smoothing moves furthest: what it hides.
void sayMovedPeak(const RunComparison &c, Report &out) {
    const SeenRun *worst = nullptr;
    for (const std::vector<SeenRun> *side : {&c.before, &c.after})
        for (const SeenRun &r : *side)
            if (!worst ||
                std::abs(r.power.rpm - r.rawPower.rpm) > std::abs(worst->power.rpm - worst->rawPower.rpm))
                worst = &r;
    if (!worst || (worst->power.rpm == worst->rawPower.rpm && worst->power.value == worst->rawPower.value))
        return;
    out.blocks.push_back(Sentence{
        {MARKED("runs.peaks.moved", "Smoothing moves the peak of run {a} from {0} at {1} to {2} at {3}."),
         {kilowatts(worst->rawPower.value), speedOf(worst->rawPower.rpm), kilowatts(worst->power.value),
          speedOf(worst->power.rpm)},
         {worst->id}},
        Tone::quiet});
}

} // namespace

WorkedReport comparisonReport(const RunComparison &c, const Job &job) {
    WorkedReport made;
    Report &out = made.report;
    out.title = {MARKED("runs.compare.title", "{0} against {1} runs"),
                 {countOf(c.after.size()), countOf(c.before.size())}};
    out.blocks.push_back(Heading{c.answer(), 0});
    out.blocks.push_back(Sentence{{MARKED("runs.compare.range", "On the average over {0} to {1}."),
                                   {speedOf(c.rpm.front()), speedOf(c.rpm.back())}},
                                  Tone::quiet});
    out.blocks.push_back(made.worked(MARKED("runs.compare.how", "How this comes about"), Tone::leading,
                                     [c] { return c.explainGain(); }));
    for (const Phrase &p : c.said)
        out.blocks.push_back(Sentence{
            p, p.id == "runs.said.which" || p.id == "runs.said.no_scatter" ? Tone::caution : Tone::plain});
    if (c.runsNeeded > 0 && !c.averageKw.distinguishable())
        out.blocks.push_back(Sentence{
            {MARKED("runs.needed",
                    "{0} of each, made turn and turn about, would tell such a gain in four tries of five."),
             {countOf(static_cast<std::size_t>(c.runsNeeded))}}});
    const Measured area{std::abs(c.areaKwRpm), Dimension::none, 0};
    out.blocks.push_back(
        Sentence{{c.areaKwRpm < 0
                      ? MARKED("runs.area.less", "Between the curves lie {0} kW·rpm less: the average over "
                                                 "{1} of engine speed.")
                      : MARKED("runs.area.more", "Between the curves lie {0} kW·rpm: the average over {1} of "
                                                 "engine speed."),
                  {area, speedOf(c.rpm.back() - c.rpm.front())}},
                 Tone::quiet});
    addDifferences(c, out);
    addWorth(c, job, out);
    addCorrections(c, made);
    out.blocks.push_back(Heading{MARKED("runs.head.peaks", "Peaks"), 2});
    const auto peaks = [&](const Phrase &who, const RunPeak &kw, const RunPeak &nm) {
        out.blocks.push_back(
            Sentence{{MARKED("runs.peaks", "{A}: {0} at {1}, {2} at {3}"),
                      {kilowatts(kw.value), speedOf(kw.rpm), newtonMetres(nm.value), speedOf(nm.rpm)},
                      {},
                      {who}}});
    };
    peaks(MARKED("runs.head.before", "Before"), c.peakBeforeKw, c.peakBeforeNm);
    peaks(MARKED("runs.head.after", "After"), c.peakAfterKw, c.peakAfterNm);
    sayMovedPeak(c, out);
    out.blocks.push_back(
        Sentence{{MARKED("runs.peaks.last",
                         "Peak to peak {0}: one point of each curve, so the least of all these numbers."),
                  {kilowatts(c.peakAfterKw.value - c.peakBeforeKw.value)}},
                 Tone::quiet});
    return made;
}

WorkedReport runSheetReport(const Job &job, std::span<const std::shared_ptr<const MeasuredRun>> runs) {
    WorkedReport out;
    out.report.title = MARKED("runs.sheet", "Run sheet");
    out.report.blocks.push_back(
        Sentence{verbatim(job.name), Tone::quiet}); // on paper nothing else says whose it is
    Grid grid;
    grid.heads = {MARKED("runs.sheet.run", "Run"),
                  MARKED("runs.sheet.change", "Change"),
                  MARKED("runs.sheet.fuel", "Fuel"),
                  MARKED("runs.sheet.result", "Result"),
                  MARKED("runs.sheet.air", "Intake at start"),
                  MARKED("runs.sheet.verdict", "Verdict"),
                  MARKED("runs.sheet.next", "Next")};
    const bool methanol = job.alcohol == Alcohol::methanol;
    for (const auto &r : runs) {
        const RunPeak kw = peakOf(r->curve.rpm, r->curve.powerKw);
        std::string fuel = r->run.fuel;
        if (r->run.contentBasis != RunContentBasis::none)
            fuel += (fuel.empty() ? "" : ", ") + contentName(r->run.content, methanol);
        grid.rows.push_back(
            {words(r->run.id), words(r->run.change), words(fuel),
             out.worked(r->run.knownWithin > 0
                            ? Phrase{MARKED("runs.sheet.peak_within", "{0} ± {1} at {2}"),
                                     {kilowatts(kw.value), kilowatts(kw.value * r->run.knownWithin),
                                      speedOf(kw.rpm)}}
                            : Phrase{MARKED("runs.sheet.peak", "{0} at {1}"),
                                     {kilowatts(kw.value), speedOf(kw.rpm)}},
                        Tone::plain, [r] { return explainPeak(*r); }),
             r->run.startIntakeC != 0 ? Sentence{number({r->run.startIntakeC, Dimension::temperature})}
                                      : quietDash(),
             words(r->run.verdict), words(r->run.next)});
    }
    out.report.blocks.push_back(std::move(grid));
    out.report.blocks.push_back(
        Sentence{MARKED("runs.sheet.as_measured",
                        "Results are peaks as measured: what a change brought stands in the comparison."),
                 Tone::quiet});
    return out;
}

Phrase runOrigin(const Run &run) {
    const std::vector<Measured> numbers{
        {run.rows, Dimension::count}, speedOf(run.rpmFrom), speedOf(run.rpmTo)};
    switch (run.origin) {
    case RunOrigin::log:
        return {MARKED("runs.origin.log", "Run {a}, from log {b}: {0} rows from {1} to {2}"),
                numbers,
                {run.id, run.source}};
    case RunOrigin::practice:
        return {MARKED("runs.origin.practice",
                       "Run {a}, of the practice engine, from {b}: {0} rows from {1} to {2}"),
                numbers,
                {run.id, run.source}};
    case RunOrigin::typed:
        return {MARKED("runs.origin.typed", "Run {a}, typed: {0} points from {1} to {2}"), numbers, {run.id}};
    case RunOrigin::file:
        break;
    }
    return {MARKED("runs.origin.file", "Run {a}, from {b}: {0} rows from {1} to {2}"),
            numbers,
            {run.id, run.source}};
}

WorkedReport correctionsReport(const MeasuredRun &measured) {
    const Run &run = measured.run;
    WorkedReport made;
    made.report.title = MARKED("runs.corrections.title", "What standards make of it");
    const auto air = airOf(run);
    if (!air) {
        made.say(
            MARKED("runs.corrections.no_air", "Nobody says what air it was made in: it cannot be corrected."),
            Tone::caution);
        return made;
    }
    Grid grid;
    grid.heads = {MARKED("runs.corrections.standard", "Standard"), MARKED("runs.head.factor", "Times"),
                  MARKED("runs.corrections.peak", "Peak")};
    const RunPeak peak = peakOf(measured.curve.rpm, measured.curve.powerKw);
    constexpr int digits = 4;
    bool outside = false;
    for (const CorrectionDefinition &d : allCorrections()) {
        const double factor = correctionBetween(run.standard, d.standard, *air);
        const double own = correctionFactor(d.standard, *air);
        outside = outside || own < leastCorrection || own > mostCorrection;
        grid.rows.push_back({Sentence{d.title},
                             made.worked(number({factor, Dimension::none, digits}), Tone::leading,
                                         [from = run.standard, to = d.standard, air = *air] {
                                             return explainCorrection(from, to, air);
                                         }),
                             Sentence{number(kilowatts(peak.value * factor))}});
    }
    made.report.blocks.push_back(std::move(grid));
    if (run.standard == CorrectionStandard::notSaid)
        made.say(MARKED("runs.corrections.taken",
                        "Nobody says whether its numbers are corrected already: they are "
                        "taken as measured."),
                 Tone::caution);
    if (outside)
        made.say({MARKED("runs.corrections.outside", "Outside of {0} to {1} the standards do not allow it."),
                  {{leastCorrection, Dimension::none, 2}, {mostCorrection, Dimension::none, 2}}},
                 Tone::caution);
    return made;
}

WorkedReport scatterReport(std::span<const MeasuredRuns> sets, const RunScatterOverSpeed &s) {
    WorkedReport out;
    out.report.title = MARKED("runs.scatter.title", "What runs scatter by");
    if (s.average.freedom <= 0) {
        out.report.blocks.push_back(
            Heading{MARKED("runs.scatter.none", "Not judged: no run was made twice"), 0});
        out.report.blocks.push_back(
            Sentence{MARKED("runs.scatter.how", "Make the same run again, with nothing changed, three times "
                                                "or more: then every gain gets its ±.")});
        return out;
    }
    out.report.blocks.push_back(
        Heading{{MARKED("runs.scatter.sigma", "± {0} from run to run (one standard deviation)"),
                 {kilowatts(s.average.sigma)}},
                0});
    out.say(MARKED("runs.compare.how", "How this comes about"), Tone::leading,
            [average = s.average, n = sets.size()] { return explainScatter(average, n); });
    for (const MeasuredRuns &set : sets) {
        std::string ids;
        for (const auto &r : set)
            ids += (ids.empty() ? "" : ", ") + r->run.id;
        out.report.blocks.push_back(
            Sentence{{MARKED("runs.scatter.set", "Of the same everything: runs {a}."), {}, {ids}}});
    }
    constexpr int digits = 2;
    if (s.average.perRun)
        out.report.blocks.push_back(
            Sentence{{MARKED("runs.scatter.drift", "Drift: {0} from run to run, known to {1}."),
                      {{*s.average.perRun, Dimension::power, digits},
                       {*s.average.perRunError, Dimension::power, digits}}}});
    if (s.average.perK)
        out.report.blocks.push_back(
            Sentence{{MARKED("runs.scatter.heat", "Heat: {0} for each {1} of intake air at the start."),
                      {{*s.average.perK, Dimension::power, digits}, {1, Dimension::temperatureDifference}}}});
    Grid grid;
    grid.heads = {MARKED("runs.scatter.gain", "To see a gain of"),
                  MARKED("runs.scatter.runs", "runs of each kind")};
    for (const double times : {4.0, 2.0, 1.0, 0.5}) {
        const double gain = times * s.average.sigma;
        const int n = runsToSee(gain, s.average.sigma, s.average.perRun.has_value());
        if (n == 0) continue; // runs that are the same to the last digit tell nothing
        grid.rows.push_back(
            {Sentence{number(kilowatts(gain))},
             out.worked(number(countOf(static_cast<std::size_t>(n))), Tone::plain,
                        [gain, n, average = s.average] { return explainRunsToSee(gain, n, average); })});
    }
    out.report.blocks.push_back(std::move(grid));
    ReportChart chart;
    chart.title = MARKED("runs.scatter.chart", "Scatter over engine speed");
    chart.xTitle = MARKED("runs.chart.rpm", "engine speed");
    chart.yTitle = MARKED("runs.chart.sigma", "standard deviation");
    chart.x = Dimension::engineSpeed;
    chart.y = Dimension::power;
    chart.lines = {{MARKED("runs.chart.one_run", "of one run"), s.rpm, s.sigmaKw}};
    out.report.blocks.push_back(std::move(chart));
    return out;
}

} // namespace wheelwright
