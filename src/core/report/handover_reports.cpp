// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/report/handover_reports.h"

#include "core/base/error.h"
#include "core/intake/sheet.h"
#include "core/job/content_sensing.h"
#include "core/job/revision.h"
#include "core/job/said_content.h"
#include "core/job/tank_history.h"
#include "core/report/calibration_reports.h"
#include "core/report/fuel_reports.h"
#include "core/report/ladder_reports.h"
#include "core/report/log_reports.h"
#include "core/report/numbers.h"
#include "core/report/run_reports.h"
#include "core/report/sheet_reports.h"
#include "core/study/shelf.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <iterator>

namespace wheelwright {
namespace {

using D = Dimension;

bool inMethanol(const Job &job) {
    return job.alcohol == Alcohol::methanol;
}

Phrase nameOfContent(const Job &job, double content) {
    return verbatim(contentName(content, inMethanol(job)));
}

// The worst of the slices from one content to another, the nearest ones included.
CheckState worstBetween(const Verdict &verdict, double from, double to) {
    const std::size_t first = sliceNearest(verdict, std::clamp(from, 0.0, 1.0)),
                      last = sliceNearest(verdict, std::clamp(to, 0.0, 1.0));
    CheckState worst = verdict.overall[first];
    for (std::size_t i = first; i <= last; ++i)
        worst = std::max(worst, verdict.overall[i]);
    return worst;
}

CheckState stateAt(const Verdict &verdict, double content) {
    if (verdict.overall.empty()) return CheckState::notJudged;
    return worstBetween(verdict, content, content);
}

// What stands in a tank by itself: a booster is an additive.
bool isPoured(const Fuel &f) {
    return f.inPlans && f.kind != FuelKind::booster;
}

// Of the sizes that a pump's display is read in, the one that fills the room in at most seven steps.
double pumpStep(double roomL) {
    constexpr std::array steps{0.5, 1.0, 2.0, 5.0, 10.0, 20.0, 50.0, 100.0};
    constexpr double mostColumns = 7;
    const auto *at = std::ranges::find_if(steps, [&](double s) { return roomL <= s * mostColumns; });
    return at == steps.end() ? steps.back() : *at;
}

// Told by a letter, not by colour alone: × fails, ? is not judged.
Sentence contentCell(const Job &job, const Verdict &verdict, double content) {
    const std::vector<std::string> name{contentName(content, inMethanol(job))};
    switch (stateAt(verdict, content)) {
    case CheckState::failing:
        return {{MARKED("handover.cell.fails", "× {a}"), {}, name}, Tone::trouble};
    case CheckState::notJudged:
        return {{MARKED("handover.cell.not_judged", "? {a}"), {}, name}, Tone::quiet};
    default:
        return {{MARKED("handover.cell", "{a}"), {}, name}};
    }
}

// every: so many rows on; all of them with 1.
void addPourTable(const Job &job, const Verdict &verdict, const PourTable &t, std::size_t every,
                  Report &out) {
    out.blocks.push_back(Heading{
        {MARKED("handover.pour.title", "{a} onto {0} in the tank"), {litresOf(t.levelL, 0)}, {t.fuel}}, 3});
    Grid grid;
    grid.heads = {MARKED("handover.pour.now", "In it now")};
    for (const double litres : t.litres)
        grid.heads.push_back({MARKED("handover.pour.litres", "+ {0}"), {shortly(litres, D::displacement)}});
    for (std::size_t r = 0; r < t.contents.size(); r += every) {
        std::vector<Sentence> row{{strongName(contentName(t.contents[r], inMethanol(job)))}};
        for (const double after : t.after[r])
            row.push_back(contentCell(job, verdict, after));
        grid.rows.push_back(std::move(row));
    }
    out.blocks.push_back(std::move(grid));
}

void addPourTables(const Job &job, const Verdict &verdict, std::string_view today,
                   std::initializer_list<double> shares, std::size_t every, Report &out) {
    const std::vector<std::string> fuels = pumpFuels(job, today);
    if (fuels.empty()) {
        out.blocks.push_back(Sentence{
            MARKED("handover.pour.no_fuel", "No pour table: no fuel on the shelf goes into plans.")});
        return;
    }
    for (const std::string &fuel : fuels)
        for (const double share : shares)
            addPourTable(job, verdict, pourTable(job, fuel, job.tank.capacityL * share, today), every, out);
    out.blocks.push_back(Sentence{
        MARKED("handover.pour.legend",
               "×: the calibration fails there, do not go there. ?: nobody has judged it. Contents of a fuel "
               "vary: after every fill a tube, or the reading once it has settled."),
        Tone::quiet});
}

// What logs prove of it: the verdict's first sentence is by the model.
void addDriven(const Verdict &v, Report &out) {
    const Job &job = v.study->job();
    std::vector<Phrase> driven;
    for (std::size_t i = 0; i < v.contents.size() && i < v.pulls.size(); ++i)
        if (v.pulls[i] == BeenThere::proven) driven.push_back(nameOfContent(job, v.contents[i]));
    if (driven.empty())
        out.blocks.push_back(Sentence{
            MARKED("handover.driven.nowhere", "No log proves any of it: it is what the model says.")});
    else
        out.blocks.push_back(
            Sentence{{MARKED("handover.driven", "Driven there, clean, on this calibration: {A}."),
                      {},
                      {},
                      {listed(driven)}}});
}

Phrase fuelWords(CheckState state) {
    switch (state) {
    case CheckState::proven:
        return MARKED("handover.fuel.proven", "may be run, and was");
    case CheckState::held:
        return MARKED("handover.fuel.held", "may be run");
    case CheckState::caution:
        return MARKED("handover.fuel.caution", "near a limit");
    case CheckState::notJudged:
        return MARKED("handover.fuel.not_judged", "not judged");
    case CheckState::failing:
        break;
    }
    return MARKED("handover.fuel.failing", "not to be run");
}

void addFuels(const Verdict &v, std::string_view today, Report &out) {
    const std::vector<OwnersFuel> fuels = ownersFuels(v, today);
    out.blocks.push_back(Heading{MARKED("handover.fuels", "Fuels, a tank of each alone"), 2});
    if (fuels.empty()) {
        out.blocks.push_back(Sentence{MARKED("handover.fuels.none", "None is on the shelf of this job.")});
        return;
    }
    Grid grid;
    grid.heads = {MARKED("handover.fuel", "Fuel"), MARKED("handover.fuel.content", "Content"),
                  MARKED("handover.fuel.may", "Alone in the tank")};
    for (const OwnersFuel &f : fuels) {
        const bool bad = f.state == CheckState::failing;
        grid.rows.push_back({Sentence{strongName(f.name)},
                             Sentence{{MARKED("handover.fuel.about", "{A} ± {0}"),
                                       {{2 * f.content.sigma, D::contentDifference, 0}},
                                       {},
                                       {nameOfContent(v.study->job(), f.content.value)}}},
                             Sentence{fuelWords(f.state), bad ? Tone::trouble : Tone::plain}});
    }
    out.blocks.push_back(std::move(grid));
    for (const OwnersFuel &f : fuels)
        for (const Phrase &flag : f.flags)
            out.blocks.push_back(
                Sentence{{MARKED("shelf.flag", "⟨{a}⟩: {A}"), {}, {f.name}, {flag}}, Tone::caution});
}

// What an owner sees from the seat.
void addWatch(const Job &job, Report &out) {
    out.blocks.push_back(Heading{MARKED("handover.watch", "What to watch"), 2});
    const auto item = [&out](Phrase words) {
        out.blocks.push_back(Sentence{{MARKED("report.item", "· {A}"), {}, {}, {std::move(words)}}});
    };
    item({MARKED("handover.watch.reserve", "No full throttle under {0} in the tank: the pickup may run dry."),
          {litresOf(job.tank.reserveL, 0)}});
    item(MARKED("handover.watch.knock",
                "Rattling, a warning lamp, smoke or a temperature that climbs: off the throttle, and no more "
                "load until somebody has looked at it."));
    if (job.control == FuelControl::mechanical) {
        item(MARKED("handover.watch.pills",
                    "Pills belong to the air of the day: other weather, another pill. Harder to start: the "
                    "bottom end is lean, stop."));
    } else if (followsSensor(job)) {
        item(
            job.contentSensing.onFault == SensorFaultRule::notStated
                ? Phrase(MARKED("handover.watch.sensor_unknown",
                                "Nobody has stated what the controller does when the content sensor fails: a "
                                "reading that stands still after a fill means no load."))
                : Phrase(MARKED("handover.watch.sensor",
                                "A content reading that stands still after another fuel went in: no load, "
                                "and a tube.")));
    } else {
        item(MARKED("handover.watch.window",
                    "There is no content sensor: after every fill a tube, and the file whose window holds "
                    "what it says, before any load."));
    }
    if (job.alcohol == Alcohol::methanol)
        item(MARKED("handover.watch.oil", "Methanol gets into the oil: look at it, and change it often."));
}

void addFuelChange(const Job &job, Report &out) {
    out.blocks.push_back(Heading{MARKED("handover.change", "To change the fuel"), 2});
    const double from = alcoholOf(tankNow(job).content);
    const double to = from < 0.5 ? job.calibration.topContent : job.calibration.baseContent;
    const auto waits = [&](bool cruise) {
        const FuelPath path = fuelPathOf(job, cruise);
        return std::max(settlingMinutes(path, from, to), injectorSettlingMinutes(path, from, to));
    };
    Steps steps;
    steps.steps.push_back(Sentence{MARKED(
        "handover.change.pour", "Look the litres up in the pour table; engine off, no flame, no spark, "
                                "containers earthed.")});
    if (job.control == FuelControl::controller) {
        steps.steps.push_back(Sentence{
            {MARKED("handover.change.wait",
                    "Let it idle ⟨{0}⟩, or drive gently ⟨{1}⟩: until then the old fuel is in the line."),
             {{waits(false), D::minutes, 1}, {waits(true), D::minutes, 1}}}});
        steps.steps.push_back(Sentence{
            MARKED("handover.change.tube", "Fill a tube from the line and read it, or let the reading stand "
                                           "still: is it what the table said?")});
        steps.steps.push_back(Sentence{
            MARKED("handover.change.load",
                   "Only then load, a little at first, on a closed course. Back the same way: weaker fuel "
                   "needs less spark and less boost, which must come down by themselves.")});
    } else {
        steps.steps.push_back(Sentence{
            MARKED("handover.change.pills", "Pills are for one fuel: another one needs other pills first.")});
    }
    out.blocks.push_back(std::move(steps));
}

void addCautions(const Job &job, std::string_view today, Report &out) {
    out.blocks.push_back(Sentence{together(handlingCautions(shelfOf(job, today))), Tone::caution});
    out.blocks.push_back(Sentence{
        MARKED("handover.cautions",
               "Lean mixture, knock and overboost destroy engines and can hurt people. Emissions, road and "
               "series rules are the owner's to check; local codes, data sheets and licensed people come "
               "before this page. Every limit in it is a starting point, not a promise."),
        Tone::caution});
}

void addState(const Job &job, std::string_view today, Report &out) {
    const Revision *r = currentRevision(job);
    out.blocks.push_back(
        Sentence{{MARKED("handover.state", "Calibration {a}, {b}; written on {c}."),
                  {},
                  {calibrationPrint(stateOf(job)), r ? r->name : std::string("-"), std::string(today)}},
                 Tone::quiet});
}

// A line to sign on.
void addSignatures(Report &out) {
    Grid grid;
    grid.heads = {MARKED("handover.sign.by", "Handed over by"), MARKED("handover.sign.to", "Taken by"),
                  MARKED("handover.sign.day", "Day")};
    const std::string line(24, '_');
    grid.rows.push_back({Sentence{verbatim(line)}, Sentence{verbatim(line)}, Sentence{verbatim(line)}});
    out.blocks.push_back(std::move(grid));
}

WorkedReport page(PhraseText title, WorkedReport made) {
    made.report.title = title;
    return made;
}

WorkedReport plainPage(PhraseText title, Report made) {
    made.title = title;
    return {std::move(made), {}};
}

// Every question over every content, by its letter; what nobody has judged stands as that.
Report marginsReport(const Verdict &v) {
    Report out;
    const Job &job = v.study->job();
    Grid grid;
    grid.heads = {MARKED("handover.margins.check", "Check"), MARKED("handover.margins.state", "State"),
                  MARKED("handover.margins.worst", "Worst"), MARKED("handover.margins.limit", "Limit"),
                  MARKED("handover.margins.at", "At"),       MARKED("handover.margins.origin", "Limit from")};
    for (const Verdict::Row &row : v.rows) {
        const WorstPlace &w = row.outcome.worst();
        const D dimension = row.check->dimensionOf(w);
        const bool bad = row.state == CheckState::failing;
        grid.rows.push_back({Sentence{row.check->title},
                             Sentence{stateWord(row.state), bad ? Tone::trouble : Tone::plain},
                             Sentence{number({w.value, dimension})}, Sentence{number({w.limit, dimension})},
                             Sentence{nameOfContent(job, w.content)}, Sentence{row.check->origin(job)}});
    }
    out.blocks.push_back(std::move(grid));
    ReportChart chart;
    chart.title = MARKED("handover.margins.chart", "Margin over content: 1 comfortable, 0 at the limit");
    chart.xTitle = MARKED("handover.fuel.content", "Content");
    chart.yTitle = MARKED("handover.margins.margin", "margin");
    chart.x = D::content;
    // The three that are nearest to their limit: more lines nobody tells apart in grey.
    constexpr std::size_t mostLines = 3;
    std::vector<const Verdict::Row *> nearest;
    for (const Verdict::Row &row : v.rows)
        nearest.push_back(&row);
    std::ranges::stable_sort(nearest, {}, [](const Verdict::Row *r) { return r->outcome.worst().uncapped; });
    for (const Verdict::Row *row : nearest) {
        if (chart.lines.size() == mostLines) break;
        ReportChart::Line line;
        line.name = row->check->title;
        for (const WorstPlace &p : row->outcome.byContent) {
            line.x.push_back(p.content);
            line.y.push_back(std::max(p.margin, -1.0)); // far beyond is beyond
        }
        chart.lines.push_back(std::move(line));
    }
    if (!chart.lines.empty()) out.blocks.push_back(std::move(chart));
    return out;
}

// What nobody has judged stands by itself, so that silence is not taken for a yes.
Report notJudgedReport(const Verdict &v) {
    Report out;
    for (const Check *c : v.notJudged)
        out.blocks.push_back(Sentence{{MARKED("report.item", "· {A}"), {}, {}, {Phrase(c->title)}}});
    for (const Verdict::Row &row : v.rows)
        if (row.state == CheckState::notJudged)
            out.blocks.push_back(Sentence{{MARKED("handover.not_judged.for", "· {A}: {B}"),
                                           {},
                                           {},
                                           {Phrase(row.check->title), missingFor(*row.check, v)}}});
    for (const Verdict::Answer &a : v.answers)
        if (std::ranges::find(a.open, true) != a.open.end())
            out.blocks.push_back(Sentence{{MARKED("handover.not_judged.question", "· Open: {A}"),
                                           {},
                                           {},
                                           {Phrase(a.question->title)}}});
    if (out.blocks.empty())
        out.blocks.push_back(
            Sentence{MARKED("handover.not_judged.nothing", "Every check that this job raises was judged.")});
    return out;
}

Report limitsReport(const Job &job) {
    Report out;
    out.blocks.push_back(Sentence{MARKED("handover.limits.caution",
                                         "Shipped limits are starting points, not promises about an engine."),
                                  Tone::caution});
    Grid grid;
    grid.heads = {MARKED("handover.limits.limit", "Limit"), MARKED("handover.limits.value", "Value"),
                  MARKED("handover.limits.origin", "Origin")};
    for (const LimitDefinition &l : allLimits())
        grid.rows.push_back({Sentence{l.title}, Sentence{number({limitOf(job, l.id), l.dimension})},
                             Sentence{limitOrigin(job, l.id)}});
    out.blocks.push_back(std::move(grid));
    return out;
}

Report linesReport(const Job &job) {
    Report out;
    Grid grid;
    grid.heads = {MARKED("handover.revisions.name", "Revision"), MARKED("handover.revisions.day", "Kept on"),
                  MARKED("handover.revisions.from", "Made from"),
                  MARKED("handover.revisions.stage", "Came to"), MARKED("handover.revisions.note", "Note")};
    for (const Revision &r : job.revisions.values()) {
        std::vector<Phrase> stages;
        if (r.sent) stages.push_back(MARKED("work_line.sent", "sent"));
        if (!r.cameBack.empty()) stages.push_back(MARKED("work_line.came_back", "came back"));
        if (!r.released.empty()) stages.push_back(MARKED("work_line.released", "released"));
        grid.rows.push_back({Sentence{verbatim(r.name), r.current ? Tone::strong : Tone::plain},
                             Sentence{verbatim(r.at.substr(0, 10))}, Sentence{verbatim(r.parent)},
                             Sentence{listed(stages)}, Sentence{verbatim(r.note)}});
    }
    out.blocks.push_back(std::move(grid));
    return out;
}

Report tablesReport(const Job &job) {
    Report out;
    for (const CalibratedQuantity q : allQuantities) {
        if (!out.blocks.empty()) out.blocks.emplace_back(PageBreak{});
        for (const bool top : {false, true}) {
            const TableField &field = tableIn(job, q, top);
            const Table2D &t = field.of(job);
            ShadedTable shown;
            shown.title = field.title;
            shown.x = {t.x().points(), field.x.dimension};
            shown.y = {t.y().points(), field.y.dimension};
            shown.dimension = field.dimension;
            shown.cells = t.cells();
            out.blocks.push_back(std::move(shown));
        }
    }
    return out;
}

} // namespace

std::vector<OwnersFuel> ownersFuels(const Verdict &verdict, std::string_view today) {
    std::vector<OwnersFuel> out;
    for (const Fuel &f : shelfOf(verdict.study->job(), today)) {
        if (!isPoured(f)) continue;
        const double most = 2 * f.alcohol.sigma;
        const CheckState state = verdict.overall.empty()
                                     ? CheckState::notJudged
                                     : worstBetween(verdict, f.alcohol.value - most, f.alcohol.value + most);
        std::vector<Phrase> flags;
        for (const ShelfFlag &flag : f.flags)
            flags.push_back(flag.words);
        out.push_back({f.name, f.alcohol, state, std::move(flags)});
    }
    return out;
}

std::vector<std::string> pumpFuels(const Job &job, std::string_view today) {
    const std::vector<Fuel> shelf = shelfOf(job, today);
    const Fuel *weakest = nullptr, *strongest = nullptr;
    for (const Fuel &f : shelf) {
        if (!isPoured(f)) continue;
        if (!weakest || f.alcohol.value < weakest->alcohol.value) weakest = &f;
        if (!strongest || f.alcohol.value > strongest->alcohol.value) strongest = &f;
    }
    std::vector<std::string> out;
    if (weakest) out.push_back(weakest->name);
    if (strongest && strongest != weakest) out.push_back(strongest->name);
    return out;
}

PourTable pourTable(const Job &job, const std::string &fuel, double levelL, std::string_view today) {
    if (!(levelL >= 0 && levelL <= job.tank.capacityL))
        throw InputError(
            "level", Phrase{MARKED("expected.level_in_tank", "0 L to {0}"), {litresOf(job.tank.capacityL)}},
            std::to_string(levelL));
    const std::vector<Fuel> shelf = shelfOf(job, today);
    const auto poured = std::ranges::find(shelf, fuel, &Fuel::name);
    if (poured == shelf.end())
        throw InputError("fuel", MARKED("expected.fuel_on_shelf", "a fuel of the shelf"), "'" + fuel + "'");
    PourTable out{fuel, levelL, {}, {}, {}};
    const double room = job.tank.capacityL - levelL, step = pumpStep(room);
    constexpr double nearly = 1e-9;
    for (double litres = step; litres <= room + nearly; litres += step)
        out.litres.push_back(litres);
    constexpr int rows = 9;
    for (int i = 0; i < rows; ++i)
        out.contents.push_back(i / 10.0);
    for (const double before : out.contents) {
        std::vector<double> row;
        for (const double litres : out.litres)
            row.push_back(
                contentAfter({levelL, 0}, {before, 0}, {{{litres, 0}, {poured->alcohol.value, 0}}}).value);
        out.after.push_back(std::move(row));
    }
    return out;
}

Report pocketCard(const Verdict &verdict, std::string_view today) {
    const Job &job = verdict.study->job();
    Report out;
    out.title = {MARKED("handover.card", "{a}: what is in it after a fill"), {}, {job.name}};
    addPourTables(job, verdict, today, {0.25, 0.5}, 1, out);
    addState(job, today, out);
    return out;
}

WorkedReport ownersPage(const FlowLook &look, std::string_view today) {
    const Verdict &v = *look.verdict;
    const Job &job = v.study->job();
    WorkedReport out;
    Report &r = out.report;
    r.title = {MARKED("handover.owner.title", "{a}: for the owner"), {}, {job.name}};
    r.blocks.push_back(Heading{v.sentences.empty() ? inWords(v) : v.sentences.front(), 0});
    addDriven(v, r);
    if (!answered(v))
        r.blocks.push_back(
            Sentence{MARKED("handover.open",
                            "Not every question has been answered: what is open stands on a later page."),
                     Tone::caution});
    addFuels(v, today, r);
    addWatch(job, r);
    addFuelChange(job, r);
    addPourTables(job, v, today, {0.25}, 2, r); // the card has them all
    addCautions(job, today, r);
    if (!job.handover.note.empty()) r.blocks.push_back(Sentence{verbatim(job.handover.note)});
    r.blocks.push_back(
        job.handover.call.empty()
            ? Sentence{MARKED("handover.owner.call_nobody", "Nobody is named to call."), Tone::quiet}
            : Sentence{{MARKED("handover.owner.call", "Call ⟨{a}⟩"), {}, {job.handover.call}}, Tone::strong});
    addState(job, today, r);
    addSignatures(r);
    return out;
}

std::optional<RunComparison> firstGain(const Job &job) {
    const MeasuredRuns all = readableRuns(job);
    const auto [before, after] = firstLook(job, all);
    if (before.empty() || after.empty()) return std::nullopt;
    return compareRuns(job, before, after, {}, all);
}

std::vector<WorkedReport> tunersPages(const FlowLook &at, const HandoverSources &sources,
                                      std::string_view today) {
    // The same pages whatever content is looked at.
    FlowLook look = at;
    look.content = (look.study->job().calibration.baseContent + look.study->job().calibration.topContent) / 2;
    const Verdict &v = *look.verdict;
    const Job &job = v.study->job();
    std::vector<WorkedReport> out;
    Report verdict = verdictReport(v);
    verdict.blocks.push_back(Heading{MARKED("handover.page.not_judged", "What was never judged"), 2});
    std::ranges::move(notJudgedReport(v).blocks, std::back_inserter(verdict.blocks));
    out.push_back(plainPage(MARKED("verdict.title", "Verdict"), std::move(verdict)));
    out.push_back(plainPage(MARKED("handover.page.margins", "Margins over content"), marginsReport(v)));
    if (sources.gain)
        out.push_back(
            page(MARKED("handover.page.gain", "Before and after"), comparisonReport(*sources.gain, job)));
    if (job.control == FuelControl::controller) {
        out.push_back(plainPage(MARKED("handover.page.tables", "Tables"), tablesReport(job)));
        out.push_back(page(MARKED("flow.frontier", "What ends the boost first"),
                           frontierReport(look, std::make_shared<const Frontier>(frontier(*look.study)))));
    } else {
        out.push_back(page(MARKED("flow.pills", "Mechanical injection"), pillsReport(look)));
    }
    if (sources.coverage)
        out.push_back(page(MARKED("coverage.title", "Where the engine has been"),
                           coverageReport(*look.study, *sources.coverage)));
    out.push_back(page(MARKED("runs.sheet", "Run sheet"), runSheetReport(job, readableRuns(job))));
    out.push_back(plainPage(MARKED("ladder.passed", "Rungs passed"), passedReport(job)));
    out.push_back(
        plainPage(MARKED("handover.page.limits", "Limits and where they come from"), limitsReport(job)));
    out.push_back(
        plainPage(MARKED("sheet.title", "The engine, part by part"), sheetReport(intakeSheet(job, &v))));
    Report lines = linesReport(job);
    addState(job, today, lines);
    out.push_back(plainPage(MARKED("handover.page.revisions", "Revisions"), std::move(lines)));
    return out;
}

WorkedReport handover(const FlowLook &look, const HandoverSources &sources, std::string_view today) {
    WorkedReport out = ownersPage(look, today);
    out.report.title = {MARKED("handover.document", "{a}: hand-over"), {}, {look.study->job().name}};
    out.report.blocks.emplace_back(PageBreak{});
    const Report card = pocketCard(*look.verdict, today);
    out.report.blocks.push_back(Heading{card.title, 1});
    out.report.blocks.insert(out.report.blocks.end(), card.blocks.begin(), card.blocks.end());
    for (WorkedReport &made : tunersPages(look, sources, today)) {
        out.report.blocks.emplace_back(PageBreak{});
        out.report.blocks.push_back(Heading{made.report.title, 1});
        out.append(std::move(made));
    }
    return out;
}

} // namespace wheelwright
