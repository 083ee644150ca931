// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/report/handover_reports.h"

#include "core/explain/explain_check.h"
#include "core/intake/sheet.h"
#include "core/job/revision.h"
#include "core/report/calibration_reports.h"
#include "core/report/handover_words.h"
#include "core/report/ladder_reports.h"
#include "core/report/log_reports.h"
#include "core/report/numbers.h"
#include "core/report/owners_page.h"
#include "core/report/pour_tables.h"
#include "core/report/run_reports.h"
#include "core/report/sheet_reports.h"

#include <algorithm>
#include <cmath>
#include <iterator>
#include <limits>
#include <utility>

namespace wheelwright {
namespace {

using D = Dimension;

WorkedReport page(PhraseText title, WorkedReport made) {
    made.report.title = title;
    return made;
}

WorkedReport plainPage(PhraseText title, Report made) {
    made.title = title;
    return {std::move(made), {}};
}

// Every question over every content, by its letter; what nobody has judged stands as that.
WorkedReport marginsReport(const std::shared_ptr<const Verdict> &verdict) {
    const Verdict &v = *verdict;
    WorkedReport made;
    Report &out = made.report;
    const Job &job = v.study->job();
    Grid grid;
    grid.heads = {MARKED("handover.margins.check", "Check"), MARKED("handover.margins.state", "State"),
                  MARKED("handover.margins.worst", "Worst"), MARKED("handover.margins.limit", "Limit"),
                  MARKED("handover.margins.at", "At"),       MARKED("handover.margins.origin", "Limit from")};
    for (const Verdict::Row &row : v.rows) {
        const WorstPlace &w = row.outcome.worst();
        const D dimension = row.check->dimensionOf(w);
        const bool bad = row.state == CheckState::failing;
        const auto working = [verdict, check = row.check, w] {
            return check->explain(verdict->study->evaluation(), w);
        };
        if (!w.asked) {
            const Sentence none{MARKED("handover.margins.nothing", "–")};
            grid.rows.push_back({Sentence{row.check->title}, Sentence{stateWord(row.state)}, none, none, none,
                                 Sentence{row.check->origin(job)}});
            continue;
        }
        grid.rows.push_back({Sentence{row.check->title},
                             Sentence{stateWord(row.state), bad ? Tone::trouble : Tone::plain},
                             made.worked(number({w.value, dimension}), Tone::plain, working),
                             made.worked(number({w.limit, dimension}), Tone::plain,
                                         [verdict, check = row.check, w] {
                                             return explainLimitOf(*check, verdict->study->job(), w);
                                         }),
                             Sentence{nameOfContent(job, w.content)}, Sentence{row.check->origin(job)}});
    }
    out.blocks.push_back(std::move(grid));
    ReportChart chart;
    chart.title = MARKED("handover.margins.chart",
                         "Margin over content: 1 comfortable, 0 at the limit; a gap is not judged");
    chart.xTitle = MARKED("handover.fuel.content", "Content");
    chart.yTitle = MARKED("handover.margins.margin", "margin");
    chart.x = D::content;
    // The three that are nearest to their limit: more lines nobody tells apart in grey.
    constexpr std::size_t mostLines = 3;
    const auto leastJudged = [](const Verdict::Row *r) {
        double least = std::numeric_limits<double>::infinity();
        for (std::size_t i = 0; i < r->byContent.size(); ++i)
            if (r->byContent[i] != CheckState::notJudged)
                least = std::min(least, r->outcome.byContent[i].uncapped);
        return least;
    };
    std::vector<const Verdict::Row *> nearest;
    for (const Verdict::Row &row : v.rows)
        if (std::isfinite(leastJudged(&row))) nearest.push_back(&row);
    std::ranges::stable_sort(nearest, {}, leastJudged);
    for (const Verdict::Row *row : nearest) {
        if (chart.lines.size() == mostLines) break;
        ReportChart::Line line;
        line.name = row->check->title;
        for (std::size_t i = 0; i < v.contents.size(); ++i) {
            const bool judged = row->byContent[i] != CheckState::notJudged;
            line.x.push_back(v.contents[i]);
            line.y.push_back(judged ? std::max(row->outcome.byContent[i].margin, -1.0) // far beyond is beyond
                                    : std::numeric_limits<double>::quiet_NaN());
        }
        chart.lines.push_back(std::move(line));
    }
    if (!chart.lines.empty())
        chart.lines.push_back({MARKED("handover.margins.line", "limit"), {0, 1}, {0, 0}});
    if (!chart.lines.empty()) out.blocks.push_back(std::move(chart));
    return made;
}

// What nobody has judged stands by itself, so that silence is not taken for a yes.
Report notJudgedReport(const Verdict &v) {
    Report out;
    const Job &job = v.study->job();
    Grid grid;
    grid.heads = {MARKED("handover.not_judged.what", "Not judged"), MARKED("handover.not_judged.where", "At"),
                  MARKED("handover.not_judged.why", "Because")};
    const auto add = [&](const Phrase &what, Phrase where, const std::vector<const Need *> &needs) {
        std::vector<Phrase> why;
        why.reserve(needs.size());
        for (const Need *n : needs)
            why.emplace_back(n->missing);
        grid.rows.push_back({Sentence{what}, Sentence{std::move(where)}, Sentence{listed(why)}});
    };
    const Phrase everywhere = MARKED("handover.not_judged.everywhere", "every content");
    for (const Check *c : v.notJudged) {
        std::vector<const Need *> missing;
        for (const std::string_view id : c->needs)
            if (const Need &n = needById(id); n.there && !n.there(job)) missing.push_back(&n);
        add(c->title, everywhere, missing);
    }
    for (const OpenStretch &s : openStretches(v))
        add(s.check->title,
            s.from == v.contents.front() && s.to == v.contents.back() ? everywhere
                                                                      : nameOfContents(job, s.from, s.to),
            s.missing);
    if (grid.rows.empty())
        out.blocks.push_back(
            Sentence{MARKED("handover.not_judged.nothing", "Every check that this job raises was judged.")});
    else
        out.blocks.push_back(std::move(grid));
    for (const Verdict::Answer &a : v.answers)
        if (std::ranges::find(a.open, true) != a.open.end())
            out.blocks.push_back(Sentence{{MARKED("handover.not_judged.question", "· Open: {A}"),
                                           {},
                                           {},
                                           {Phrase(a.question->title)}}});
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
        grid.rows.push_back({Sentence{l.title},
                             Sentence{number({limitOf(job, l.id), l.dimension, allDecimals}), Tone::plain,
                                      "limits." + std::string(l.id)},
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

// The photos that were chosen; one that cannot be shown is named.
Report photosReport(const std::vector<HandoverPhoto> &photos) {
    Report out;
    for (const HandoverPhoto &p : photos)
        if (p.jpegBase64.empty())
            out.blocks.push_back(Sentence{
                {MARKED("handover.photo.none", "{A}: not there, or no picture ({a})."), {}, {p.path}, {p.of}},
                Tone::caution});
        else
            out.blocks.push_back(Picture{p.of, p.jpegBase64});
    return out;
}

} // namespace

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
    out.push_back(page(MARKED("handover.page.margins", "Margins over content"), marginsReport(look.verdict)));
    if (sources.gain)
        out.push_back(
            page(MARKED("handover.page.gain", "Before and after"), comparisonReport(*sources.gain, job)));
    if (job.control == FuelControl::controller) {
        out.push_back(plainPage(MARKED("handover.page.tables", "Tables"), tablesReport(job)));
        const auto line = std::make_shared<const Frontier>(frontier(*look.study));
        WorkedReport ends = frontierReport(look, line);
        if (auto chart = frontierChart(*line)) ends.report.blocks.emplace_back(std::move(*chart));
        out.push_back(page(MARKED("flow.frontier", "What ends the boost first"), std::move(ends)));
    } else {
        out.push_back(page(MARKED("flow.pills", "Mechanical injection"), pillsReport(look)));
    }
    if (sources.coverage)
        out.push_back(page(MARKED("coverage.title", "Where the engine has been"),
                           coverageReport(*look.study, *sources.coverage)));
    out.push_back(page(MARKED("runs.sheet", "Run sheet"), runSheetReport(job, readableRuns(job))));
    if (!sources.photos.empty())
        out.push_back(plainPage(MARKED("handover.page.photos", "Photos"), photosReport(sources.photos)));
    out.push_back(plainPage(MARKED("ladder.passed", "Rungs passed"), passedReport(job)));
    out.push_back(
        plainPage(MARKED("handover.page.limits", "Limits and where they come from"), limitsReport(job)));
    out.push_back(
        plainPage(MARKED("sheet.title", "The engine, part by part"), sheetReport(intakeSheet(job, &v))));
    Report lines = linesReport(job);
    lines.blocks.push_back(stateSentence(job, today));
    out.push_back(plainPage(MARKED("handover.page.revisions", "Revisions"), std::move(lines)));
    return out;
}

WorkedReport handover(const FlowLook &look, const HandoverSources &sources, std::string_view today) {
    WorkedReport out = ownersPage(look, today);
    out.report.title = {MARKED("handover.document", "{a}: hand-over"), {}, {look.study->job().name}};
    out.report.blocks.emplace_back(PageBreak{});
    WorkedReport card = pocketCard(*look.verdict, today);
    out.report.blocks.push_back(Heading{card.report.title, 1});
    out.append(std::move(card));
    for (WorkedReport &made : tunersPages(look, sources, today)) {
        out.report.blocks.emplace_back(PageBreak{});
        out.report.blocks.push_back(Heading{made.report.title, 1});
        out.append(std::move(made));
    }
    return out;
}

} // namespace wheelwright
