// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/report/run_reports.h"

#include "core/job/job.h"
#include "core/report/numbers.h"

#include <algorithm>
#include <cmath>

namespace wheelwright {
namespace {

Measured kilowatts(double kw) {
    return {kw, Dimension::power, 1};
}
Measured newtonMetres(double nm) {
    return {nm, Dimension::torque, 0};
}

// A number with its ±, or alone where nobody knows it.
Phrase withHalf(Measured mean, double half) {
    if (!std::isfinite(half)) return number(mean);
    Measured around = mean;
    around.value = half;
    return {MARKED("runs.with_half", "{0} ± {1}"), {mean, around}};
}

Phrase gainPhrase(const GainEstimate &g) {
    return withHalf(kilowatts(g.mean), g.halfWidth());
}

Sentence quietDash() {
    return {verbatim("–"), Tone::quiet};
}

Sentence words(const std::string &text) {
    return text.empty() ? quietDash() : Sentence(verbatim(text));
}

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

void addSwitches(std::span<const LambdaAtSwitch> switches, Report &out) {
    if (switches.empty()) return;
    out.blocks.push_back(Heading{MARKED("runs.cam.lambda", "λ where the cam switches"), 2});
    Grid grid;
    grid.heads = {MARKED("runs.cam.log", "Log"),
                  MARKED("runs.cam.time", "At"),
                  MARKED("runs.chart.rpm", "engine speed"),
                  MARKED("runs.cam.to", "To"),
                  MARKED("runs.cam.lambda_before", "λ before"),
                  MARKED("runs.cam.lambda_after", "after"),
                  MARKED("runs.cam.step", "step")};
    constexpr int digits = 3;
    for (const LambdaAtSwitch &s : switches)
        grid.rows.push_back(
            {words(s.log), Sentence{number({s.timeS, Dimension::seconds, 1})},
             Sentence{number(speedOf(s.rpm))},
             Sentence{s.up ? MARKED("runs.cam.high_cam", "high") : MARKED("runs.cam.low_cam", "low")},
             Sentence{number({s.before, Dimension::none, digits})},
             Sentence{number({s.after, Dimension::none, digits})},
             Sentence{number({s.step(), Dimension::none, digits})}});
    out.blocks.push_back(std::move(grid));
    out.blocks.push_back(
        Sentence{MARKED("runs.cam.lambda_how",
                        "Means of half a second before, and from 0.3 s after on. A step says that "
                        "the fuel tables of the two cams do not meet."),
                 Tone::quiet});
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

Report runSheetReport(const Job &job, std::span<const std::shared_ptr<const MeasuredRun>> runs) {
    Report out;
    out.title = MARKED("runs.sheet", "Run sheet");
    out.blocks.push_back(Sentence{verbatim(job.name), Tone::quiet}); // on paper nothing else says whose it is
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
             r->run.knownWithin > 0 ? Sentence{{MARKED("runs.sheet.peak_within", "{0} ± {1} at {2}"),
                                                {kilowatts(kw.value),
                                                 kilowatts(kw.value * r->run.knownWithin), speedOf(kw.rpm)}}}
                                    : Sentence{{MARKED("runs.sheet.peak", "{0} at {1}"),
                                                {kilowatts(kw.value), speedOf(kw.rpm)}}},
             r->run.startIntakeC != 0 ? Sentence{number({r->run.startIntakeC, Dimension::temperature})}
                                      : quietDash(),
             words(r->run.verdict), words(r->run.next)});
    }
    out.blocks.push_back(std::move(grid));
    out.blocks.push_back(
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

Report scatterReport(std::span<const MeasuredRuns> sets, const RunScatterOverSpeed &s) {
    Report out;
    out.title = MARKED("runs.scatter.title", "What runs scatter by");
    if (s.average.freedom <= 0) {
        out.blocks.push_back(Heading{MARKED("runs.scatter.none", "Not judged: no run was made twice"), 0});
        out.blocks.push_back(
            Sentence{MARKED("runs.scatter.how", "Make the same run again, with nothing changed, three times "
                                                "or more: then every gain gets its ±.")});
        return out;
    }
    out.blocks.push_back(
        Heading{{MARKED("runs.scatter.sigma", "± {0} from run to run (one standard deviation)"),
                 {kilowatts(s.average.sigma)}},
                0});
    for (const MeasuredRuns &set : sets) {
        std::string ids;
        for (const auto &r : set)
            ids += (ids.empty() ? "" : ", ") + r->run.id;
        out.blocks.push_back(
            Sentence{{MARKED("runs.scatter.set", "Of the same everything: runs {a}."), {}, {ids}}});
    }
    constexpr int digits = 2;
    if (s.average.perRun)
        out.blocks.push_back(
            Sentence{{MARKED("runs.scatter.drift", "Drift: {0} from run to run, known to {1}."),
                      {{*s.average.perRun, Dimension::power, digits},
                       {*s.average.perRunError, Dimension::power, digits}}}});
    if (s.average.perK)
        out.blocks.push_back(
            Sentence{{MARKED("runs.scatter.heat", "Heat: {0} for each {1} of intake air at the start."),
                      {{*s.average.perK, Dimension::power, digits}, {1, Dimension::temperatureDifference}}}});
    Grid grid;
    grid.heads = {MARKED("runs.scatter.gain", "To see a gain of"),
                  MARKED("runs.scatter.runs", "runs of each kind")};
    for (const double times : {4.0, 2.0, 1.0, 0.5}) {
        const int n = runsToSee(times * s.average.sigma, s.average.sigma, true);
        grid.rows.push_back({Sentence{number(kilowatts(times * s.average.sigma))},
                             Sentence{number(countOf(static_cast<std::size_t>(n)))}});
    }
    out.blocks.push_back(std::move(grid));
    ReportChart chart;
    chart.title = MARKED("runs.scatter.chart", "Scatter over engine speed");
    chart.xTitle = MARKED("runs.chart.rpm", "engine speed");
    chart.yTitle = MARKED("runs.chart.sigma", "standard deviation");
    chart.x = Dimension::engineSpeed;
    chart.y = Dimension::power;
    chart.lines = {{MARKED("runs.chart.one_run", "of one run"), s.rpm, s.sigmaKw}};
    out.blocks.push_back(std::move(chart));
    return out;
}

Report contentsReport(const ContentLadder &ladder, const Job &job) {
    const auto name = [&job](double content) {
        return contentName(content, job.alcohol == Alcohol::methanol);
    };
    Report out;
    out.title = MARKED("runs.contents.title", "Power over content");
    if (ladder.sweetSpot)
        out.blocks.push_back(Heading{
            {MARKED("runs.contents.sweet", "From {a} on the next step cannot be told from the scatter"),
             {},
             {name(*ladder.sweetSpot)}},
            0});
    else if (ladder.scatterKw > 0)
        out.blocks.push_back(Heading{
            MARKED("runs.contents.more", "Every step of content brought more, beyond the scatter"), 0});
    else
        out.blocks.push_back(
            Heading{MARKED("runs.contents.not_judged", "Not judged: no content was run twice"), 0});
    if (!ladder.alsoDiffers.empty()) {
        std::vector<Phrase> names;
        for (const RunCause c : ladder.alsoDiffers)
            names.emplace_back(titleOf(c));
        out.blocks.push_back(
            Sentence{{MARKED("runs.contents.also", "Not the content alone: between the rungs differ {A}."),
                      {},
                      {},
                      {listed(names)}},
                     Tone::caution});
    }
    Grid grid;
    grid.heads = {MARKED("runs.contents.content", "Content"), MARKED("runs.contents.runs", "Runs"),
                  MARKED("runs.contents.power", "Power"), MARKED("runs.contents.next", "To the next"),
                  MARKED("runs.contents.percent", "for each per cent")};
    ReportChart chart;
    chart.title = MARKED("runs.contents.chart", "Average power over content");
    chart.xTitle = MARKED("runs.contents.content", "Content");
    chart.yTitle = MARKED("runs.contents.power", "Power");
    chart.x = Dimension::content;
    chart.y = Dimension::power;
    chart.lines.push_back(
        {MARKED("runs.contents.mean", "mean"), {}, {}, {}, ReportChart::Line::Marks::joined});
    for (const ContentRung &r : ladder.rungs) {
        const bool last = &r == &ladder.rungs.back();
        constexpr int digits = 2;
        std::string ids;
        for (const std::string &id : r.runs)
            ids += (ids.empty() ? "" : ", ") + id;
        Sentence content{verbatim(name(r.content))};
        content.content = r.content;
        grid.rows.push_back(
            {content, words(ids),
             Sentence{withHalf(kilowatts(r.meanKw), r.halfKw > 0 ? r.halfKw : std::nan(""))},
             last ? quietDash() : Sentence{gainPhrase(r.next)},
             last ? quietDash() : Sentence{number({r.perPercentKw, Dimension::power, digits})}});
        chart.lines[0].x.push_back(r.content);
        chart.lines[0].y.push_back(r.meanKw);
        chart.lines[0].half.push_back(r.halfKw); // of the first rung, which the others stand against, none
    }
    out.blocks.push_back(std::move(grid));
    out.blocks.push_back(Sentence{
        MARKED("runs.contents.half", "± (95 %) against the first rung, the drift from run to run taken out."),
        Tone::quiet});
    out.blocks.push_back(std::move(chart));
    return out;
}

Report camReport(const CamCrossing &c, std::span<const LambdaAtSwitch> switches,
                 std::span<const Phrase> cautions) {
    Report out;
    out.title = MARKED("runs.cam.title", "Where the cams cross");
    if (c.crossingRpm) {
        out.blocks.push_back(Heading{
            {MARKED("runs.cam.crossing", "The torque of the cams crosses at {0}"), {speedOf(*c.crossingRpm)}},
            0});
        if (c.lowRpm && c.highRpm)
            out.blocks.push_back(Sentence{
                {MARKED("runs.cam.between", "Between {0} and {1} nobody can tell them apart (95 %)."),
                 {speedOf(*c.lowRpm), speedOf(*c.highRpm)}}});
        out.blocks.push_back(Sentence{
            {MARKED("runs.cam.switch", "Switch up at {0} and down at {1}: no torque is lost in between."),
             {speedOf(*c.upRpm), speedOf(*c.downRpm)}},
            Tone::strong});
    } else {
        out.blocks.push_back(Heading{MARKED("runs.cam.none", "The cams do not cross where both ran"), 0});
    }
    for (const Phrase &p : cautions)
        out.blocks.push_back(Sentence{p, Tone::caution});
    for (const Phrase &p : c.said)
        out.blocks.push_back(Sentence{p});
    ReportChart chart;
    chart.title = MARKED("runs.cam.chart", "High cam less low cam");
    chart.xTitle = MARKED("runs.chart.rpm", "engine speed");
    chart.yTitle = MARKED("runs.chart.torque", "torque");
    chart.x = Dimension::engineSpeed;
    chart.y = Dimension::torque;
    chart.lines.push_back({MARKED("runs.cam.line", "high less low"), c.rpm, {}});
    for (const GainEstimate &g : c.highLessLowNm) {
        chart.lines[0].y.push_back(g.mean);
        chart.lines[0].half.push_back(g.halfWidth());
    }
    addSwitches(switches, out);
    out.blocks.push_back(std::move(chart));
    return out;
}

WorkedReport runSweepReport(const SparkSweep &s, SweepOver over, double rpm,
                            std::span<const RunCause> alsoDiffers) {
    WorkedReport made;
    made.report.title = MARKED("runs.sweep.title", "Power over what was swept");
    const Dimension d = dimensionOf(over);
    const auto shown = [&](double v) { return Measured{v * stepOf(over), d}; };
    const auto head = [&](Phrase words) { made.report.blocks.push_back(Heading{std::move(words), 0}); };
    if (!alsoDiffers.empty()) {
        head({MARKED("runs.sweep.not_alone", "Not judged: these runs differ in more than {A}"),
              {},
              {},
              {titleOf(over)}});
    } else if (s.bestDeg && s.lowDeg && s.highDeg) {
        head({MARKED("runs.sweep.best", "Most power at {0}, between {1} and {2} (95 %)"),
              {shown(*s.bestDeg), shown(*s.lowDeg), shown(*s.highDeg)}});
    } else if (s.bestDeg) {
        head({MARKED("runs.sweep.not_judged", "Not judged: most power at {0}, and nobody knows how surely"),
              {shown(*s.bestDeg)}});
        made.say(
            MARKED("runs.sweep.three", "Three points draw any parabola: a fourth one and a fifth tell."));
    } else {
        head(s.stillRising ? Phrase(MARKED("runs.sweep.rising", "Power still rises where the sweep ends"))
             : s.pastBest  ? Phrase(MARKED("runs.sweep.past", "Power falls from the first step on"))
                           : Phrase(MARKED("runs.sweep.none", "No best that could be told")));
    }
    if (!alsoDiffers.empty()) {
        std::vector<Phrase> names;
        for (const RunCause c : alsoDiffers)
            names.emplace_back(titleOf(c));
        made.say({MARKED("runs.sweep.also", "It may be {A}: that differs too."), {}, {}, {listed(names)}},
                 Tone::caution);
    }
    made.say({MARKED("runs.sweep.at", "At {0}. The drift from run to run is not taken out: make some of them "
                                      "twice, up and down again."),
              {speedOf(rpm)}},
             Tone::quiet);
    if (s.bestDeg && alsoDiffers.empty())
        made.say(MARKED("runs.compare.how", "How this comes about"), Tone::leading,
                 [s, over] { return explainSweep(s, over); });
    Grid grid;
    grid.heads = {titleOf(over), MARKED("runs.contents.power", "Power")};
    ReportChart chart;
    chart.title = MARKED("runs.sweep.chart", "Power over the sweep");
    chart.xTitle = titleOf(over);
    chart.yTitle = MARKED("runs.contents.power", "Power");
    chart.x = d;
    chart.y = Dimension::power;
    chart.lines = {{MARKED("runs.sweep.runs", "runs"), {}, {}, {}, ReportChart::Line::Marks::alone},
                   {MARKED("runs.sweep.parabola", "parabola"), {}, {}}};
    for (const SweepPoint &p : s.points) {
        grid.rows.push_back({Sentence{number(shown(p.sparkDeg))}, Sentence{number(kilowatts(p.power))}});
        chart.lines[0].x.push_back(p.sparkDeg * stepOf(over));
        chart.lines[0].y.push_back(p.power);
    }
    constexpr int steps = 40;
    for (int i = 0; i <= steps && !s.points.empty(); ++i) {
        const double at =
            std::lerp(s.points.front().sparkDeg, s.points.back().sparkDeg, static_cast<double>(i) / steps);
        chart.lines[1].x.push_back(at * stepOf(over));
        chart.lines[1].y.push_back(s.at(at));
    }
    made.report.blocks.push_back(std::move(grid));
    made.report.blocks.push_back(std::move(chart));
    return made;
}

WorkedReport roadReport(const RoadPower &p) {
    WorkedReport made;
    made.report.title = MARKED("runs.road.title", "Power from the road");
    const RunPeak peak = peakOf(p.rpm, p.kw);
    const auto at = static_cast<std::size_t>(std::ranges::find(p.rpm, peak.rpm) - p.rpm.begin());
    made.report.blocks.push_back(Heading{{MARKED("runs.road.peak", "{0} ± {1} at the wheels, at {2}"),
                                          {kilowatts(peak.value), kilowatts(p.half[at]), speedOf(peak.rpm)}},
                                         0});
    made.say(MARKED("runs.compare.how", "How this comes about"), Tone::leading,
             [w = p.working] { return w; });
    for (const Phrase &said : p.said)
        made.say(said, said.id == "road.said.wind" ? Tone::caution : Tone::plain);
    made.say({MARKED("runs.road.average", "On the average known to {0} (95 %)."),
              {{p.averageHalfShare, Dimension::ratio}}},
             Tone::quiet);
    ReportChart chart;
    chart.title = MARKED("runs.road.chart", "Power at the wheels, an estimate");
    chart.xTitle = MARKED("runs.chart.rpm", "engine speed");
    chart.yTitle = MARKED("runs.contents.power", "Power");
    chart.x = Dimension::engineSpeed;
    chart.y = Dimension::power;
    chart.lines = {{MARKED("runs.road.line", "road"), p.rpm, p.kw, p.half}};
    made.report.blocks.push_back(std::move(chart));
    return made;
}

WorkedReport coastReport(const CoastDown &c) {
    WorkedReport made;
    made.report.title = MARKED("runs.coast.title", "What holds the car back");
    constexpr int digits = 4;
    made.report.blocks.push_back(
        Heading{{MARKED("runs.coast.head", "Rolling resistance {0}, drag area {1} m²"),
                 {{c.rolling, Dimension::none, digits}, {c.dragAreaM2, Dimension::none, 3}}},
                0});
    constexpr double perHour = 3.6;
    made.say({MARKED("runs.coast.from", "Rolled out from {0} to {1} km/h, in {2} windows of a second."),
              {{c.fromMS * perHour, Dimension::none, 0},
               {c.toMS * perHour, Dimension::none, 0},
               {static_cast<double>(c.windows), Dimension::count}}},
             Tone::quiet);
    made.say({MARKED("runs.coast.rolling", "Rolling resistance {0} ± {1}"),
              {{c.rolling, Dimension::none, digits}, {c.rollingError, Dimension::none, digits}}},
             Tone::leading, [c] { return c.explainRolling(); });
    made.say({MARKED("runs.coast.drag", "Drag area {0} ± {1} m²"),
              {{c.dragAreaM2, Dimension::none, 3}, {c.dragAreaError, Dimension::none, 3}}},
             Tone::leading, [c] { return c.explainDragArea(); });
    for (const Phrase &said : c.said)
        made.say(said);
    return made;
}

Report boostShapesReport(std::span<const BoostShape> shapes) {
    Report out;
    out.title = MARKED("runs.boost.title", "What boost did");
    Grid grid;
    grid.heads = {MARKED("runs.sheet.run", "Run"),          MARKED("runs.boost.reached", "There at"),
                  MARKED("runs.boost.held", "Held"),        MARKED("runs.boost.spike", "Spike"),
                  MARKED("runs.boost.drift", "To the end"), MARKED("runs.boost.said", "In words")};
    const Dimension d = Dimension::pressureDifference;
    for (const BoostShape &s : shapes) {
        std::vector<Phrase> said = s.said;
        const Sentence inWords{
            listed(said), s.known && s.said.front().id == "boost_shape.flat" ? Tone::quiet : Tone::plain};
        if (!s.known) {
            grid.rows.push_back({words(s.run), quietDash(), quietDash(), quietDash(), quietDash(), inWords});
            continue;
        }
        grid.rows.push_back({words(s.run), Sentence{number(speedOf(s.reachedRpm))},
                             Sentence{number(pressureOf(s.heldKpa))}, Sentence{number({s.spikeKpa, d})},
                             Sentence{number({s.driftKpa, d})}, inWords});
    }
    out.blocks.push_back(std::move(grid));
    return out;
}

Report dynosReport(std::span<const DynoFactor> factors) {
    Report out;
    out.title = MARKED("runs.dynos.title", "Dynos against each other");
    if (factors.empty()) {
        out.blocks.push_back(Heading{MARKED("runs.dynos.none", "No two dynos have run the same"), 0});
        out.blocks.push_back(Sentence{MARKED(
            "runs.dynos.how",
            "Name the dyno of each run. Two of the same everything, one on each dyno, tell a factor; more of "
            "them tell its ±. Until then numbers of one are never held against those of another.")});
        return out;
    }
    Grid grid;
    grid.heads = {MARKED("runs.dynos.to", "This dyno"), MARKED("runs.dynos.from", "shows, of that one,"),
                  MARKED("runs.dynos.factor", "times as much"), MARKED("runs.dynos.runs", "by runs")};
    constexpr int digits = 3;
    for (const DynoFactor &f : factors)
        grid.rows.push_back({words(f.to), words(f.from),
                             Sentence{withHalf({f.factor, Dimension::none, digits}, f.half)},
                             Sentence{number(countOf(f.runs))}});
    out.blocks.push_back(std::move(grid));
    return out;
}

} // namespace wheelwright
