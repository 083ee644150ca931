// SPDX-License-Identifier: GPL-3.0-or-later
// What runs say beyond a gain: contents, cams, sweeps, the road, boost, dynos.
#include "core/explain/explain_runs.h"
#include "core/job/job.h"
#include "core/report/run_reports.h"
#include "core/report/run_words.h"

#include <algorithm>
#include <memory>

namespace wheelwright {
namespace {

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

} // namespace

WorkedReport contentsReport(const ContentLadder &ladder, const Job &job) {
    const auto name = [&job](double content) {
        return contentName(content, job.alcohol == Alcohol::methanol);
    };
    WorkedReport out;
    out.report.title = MARKED("runs.contents.title", "Power over content");
    if (ladder.sweetSpot)
        out.report.blocks.push_back(Heading{
            {MARKED("runs.contents.sweet", "From {a} on the next step cannot be told from the scatter"),
             {},
             {name(*ladder.sweetSpot)}},
            0});
    else if (ladder.scatterKw > 0)
        out.report.blocks.push_back(Heading{
            MARKED("runs.contents.more", "Every step of content brought more, beyond the scatter"), 0});
    else
        out.report.blocks.push_back(
            Heading{MARKED("runs.contents.not_judged", "Not judged: no content was run twice"), 0});
    if (!ladder.alsoDiffers.empty()) {
        std::vector<Phrase> names;
        for (const RunCause c : ladder.alsoDiffers)
            names.emplace_back(titleOf(c));
        out.report.blocks.push_back(
            Sentence{{MARKED("runs.contents.also", "Not the content alone: between the rungs differ {A}."),
                      {},
                      {},
                      {listed(names)}},
                     Tone::caution});
    }
    const auto all = std::make_shared<const ContentLadder>(ladder);
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
        const auto step = [r, all] { return explainContentStep(r, *all); };
        constexpr int digits = 2;
        std::string ids;
        for (const std::string &id : r.runs)
            ids += (ids.empty() ? "" : ", ") + id;
        Sentence content{verbatim(name(r.content))};
        content.content = r.content;
        grid.rows.push_back(
            {content, words(ids),
             out.worked(withHalf(kilowatts(r.meanKw), r.halfKw > 0 ? r.halfKw : std::nan("")), Tone::plain,
                        [r, all] { return explainContentRung(r, *all); }),
             last ? quietDash() : out.worked(gainPhrase(r.next), Tone::plain, step),
             last ? quietDash()
                  : out.worked(number({r.perPercentKw, Dimension::power, digits}), Tone::plain, step)});
        chart.lines[0].x.push_back(r.content);
        chart.lines[0].y.push_back(r.meanKw);
        chart.lines[0].half.push_back(r.halfKw); // of the first rung, which the others stand against, none
    }
    out.report.blocks.push_back(std::move(grid));
    out.report.blocks.push_back(Sentence{
        MARKED("runs.contents.half", "± (95 %) against the first rung, the drift from run to run taken out."),
        Tone::quiet});
    out.report.blocks.push_back(std::move(chart));
    return out;
}

WorkedReport camReport(const CamCrossing &c, std::span<const LambdaAtSwitch> switches,
                       std::span<const Phrase> cautions) {
    WorkedReport out;
    out.report.title = MARKED("runs.cam.title", "Where the cams cross");
    if (c.crossingRpm) {
        out.report.blocks.push_back(Heading{
            {MARKED("runs.cam.crossing", "The torque of the cams crosses at {0}"), {speedOf(*c.crossingRpm)}},
            0});
        if (c.lowRpm && c.highRpm)
            out.report.blocks.push_back(Sentence{
                {MARKED("runs.cam.between", "Between {0} and {1} nobody can tell them apart (95 %)."),
                 {speedOf(*c.lowRpm), speedOf(*c.highRpm)}}});
        out.report.blocks.push_back(Sentence{
            {MARKED("runs.cam.switch", "Switch up at {0} and down at {1}: no torque is lost in between."),
             {speedOf(*c.upRpm), speedOf(*c.downRpm)}},
            Tone::strong});
        out.say(MARKED("runs.compare.how", "How this comes about"), Tone::leading,
                [c] { return explainCrossing(c); });
    } else {
        out.report.blocks.push_back(
            Heading{MARKED("runs.cam.none", "The cams do not cross where both ran"), 0});
    }
    for (const Phrase &p : cautions)
        out.report.blocks.push_back(Sentence{p, Tone::caution});
    for (const Phrase &p : c.said)
        out.report.blocks.push_back(Sentence{p});
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
    addSwitches(switches, out.report);
    out.report.blocks.push_back(std::move(chart));
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

WorkedReport boostShapesReport(std::span<const BoostShape> shapes) {
    WorkedReport out;
    out.report.title = MARKED("runs.boost.title", "What boost did");
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
        const auto cell = [&](Measured v, BoostNumber which) {
            return out.worked(number(v), Tone::plain, [s, which] { return explainBoostShape(s, which); });
        };
        grid.rows.push_back({words(s.run), cell(speedOf(s.reachedRpm), BoostNumber::reached),
                             cell(pressureOf(s.heldKpa), BoostNumber::held),
                             cell({s.spikeKpa, d}, BoostNumber::spike),
                             cell({s.driftKpa, d}, BoostNumber::drift), inWords});
    }
    out.report.blocks.push_back(std::move(grid));
    return out;
}

WorkedReport dynosReport(std::span<const DynoFactor> factors) {
    WorkedReport out;
    out.report.title = MARKED("runs.dynos.title", "Dynos against each other");
    if (factors.empty()) {
        out.report.blocks.push_back(Heading{MARKED("runs.dynos.none", "No two dynos have run the same"), 0});
        out.report.blocks.push_back(Sentence{MARKED(
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
                             out.worked(withHalf({f.factor, Dimension::none, digits}, f.half), Tone::plain,
                                        [f] { return explainDyno(f); }),
                             Sentence{number(countOf(f.runs))}});
    out.report.blocks.push_back(std::move(grid));
    return out;
}

} // namespace wheelwright
