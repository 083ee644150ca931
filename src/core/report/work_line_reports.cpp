// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/report/work_line_reports.h"

#include "core/intake/sheet.h"
#include "core/report/calibration_reports.h"
#include "core/report/ladder_reports.h"
#include "core/report/numbers.h"

#include <algorithm>

namespace wheelwright {
namespace {

const Revision *revisionOf(const Job &job, const WorkMark &mark) {
    return mark.revision ? &job.revisions.values()[*mark.revision] : nullptr;
}

Phrase dayOf(const std::string &at) {
    constexpr std::size_t day = 10; // of ISO 8601
    return verbatim(at.substr(0, day));
}

void addMade(Report &out, const Job &job, const std::vector<std::size_t> &logs,
             const std::vector<std::size_t> &runs, const std::vector<std::size_t> &rungs) {
    const auto add = [&](Phrase words, std::string link) {
        out.blocks.push_back(Sentence{std::move(words), Tone::leading, std::move(link)});
    };
    for (const std::size_t i : logs) {
        const LogInfo &log = job.logs.values()[i];
        if (log.contentBasis == ContentBasis::none)
            add({MARKED("work_line.log", "Log {a}"), {}, {log.name}}, "log:" + log.id);
        else
            add({MARKED("work_line.log_at", "Log {a}, {0}"), {contentOf(log.content)}, {log.name}},
                "log:" + log.id);
    }
    for (const std::size_t i : runs) {
        const Run &run = job.runs.values()[i];
        add({MARKED("work_line.run", "Run {a}: {b}"), {}, {run.id, run.name}}, "run:" + run.id);
    }
    for (const std::size_t i : rungs) {
        const RungPass &pass = job.ladderPassed.values()[i];
        add({MARKED("work_line.rung", "Rung passed: {A}, {B}"),
             {},
             {},
             {rungName(pass.rung), dayOf(pass.at)}},
            "rung:" + pass.rung);
    }
}

} // namespace

Phrase nameOf(const Job &job, const WorkMark &mark) {
    const Revision *r = revisionOf(job, mark);
    return r ? verbatim(r->name) : Phrase{MARKED("work_line.now", "Now")};
}

Phrase stagesOf(const Job &job, const WorkMark &mark) {
    const Revision *r = revisionOf(job, mark);
    if (!r) return {};
    std::vector<Phrase> stages;
    if (r->sent) stages.push_back(MARKED("work_line.sent", "sent"));
    if (!r->cameBack.empty()) stages.push_back(MARKED("work_line.came_back", "came back"));
    if (!r->released.empty()) stages.push_back(MARKED("work_line.released", "released"));
    return listed(stages);
}

Phrase intakeWords(const Job &job) {
    std::size_t all = 0, looked = 0;
    for (const PartState &part : intakeSheet(job)) {
        if (!part.fitted) continue;
        all += part.inspections.size();
        looked += static_cast<std::size_t>(std::ranges::count_if(
            part.inspections, [](const InspectionState &i) { return i.last.has_value(); }));
    }
    return {MARKED("work_line.intake", "Intake: {0} of {1} looked at"), {countOf(looked), countOf(all)}};
}

Report workMarkReport(const Job &job, const WorkLine &line, std::size_t place) {
    const WorkMark &mark = line.marks.at(place);
    Report out;
    out.title = nameOf(job, mark);
    if (const Revision *r = revisionOf(job, mark)) {
        out.blocks.push_back(
            Sentence{{MARKED("work_line.kept", "Kept on {A}."), {}, {}, {dayOf(r->at)}}, Tone::quiet});
        if (mark.now)
            out.blocks.push_back(
                Sentence{MARKED("work_line.is_now", "This is what the job holds now."), Tone::strong});
        if (r->sent) out.blocks.push_back(Sentence{MARKED("work_line.is_sent", "Sent to the controller.")});
        if (!r->cameBack.empty())
            out.blocks.push_back(
                Sentence{{MARKED("work_line.is_back", "Read back on {A}, and found the same."),
                          {},
                          {},
                          {dayOf(r->cameBack)}}});
        if (!r->released.empty())
            out.blocks.push_back(Sentence{{MARKED("work_line.is_released", "Released to be driven on {A}."),
                                           {},
                                           {},
                                           {dayOf(r->released)}}});
    } else {
        out.blocks.push_back(Sentence{MARKED("work_line.not_kept", "Kept under no name yet."), Tone::quiet});
    }
    if (!mark.unread.empty())
        out.blocks.push_back(
            Sentence{{MARKED("work_line.unread", "What it changed is not known: {A}"), {}, {}, {mark.unread}},
                     Tone::trouble});
    else if (!mark.from)
        out.blocks.push_back(
            Sentence{MARKED("work_line.first", "Nothing says what it was made from."), Tone::quiet});
    else {
        out.blocks.push_back(Heading{
            {MARKED("work_line.changed", "Against {A}"), {}, {}, {nameOf(job, line.marks[*mark.from])}}, 3});
        if (mark.changed.empty())
            out.blocks.push_back(Sentence{MARKED("differences.none", "Nothing differs.")});
        for (const Difference &d : mark.changed)
            out.blocks.push_back(Sentence{saidDifference(job, d), Tone::leading, d.path});
    }
    if (!mark.logs.empty() || !mark.runs.empty() || !mark.rungs.empty())
        out.blocks.push_back(Heading{MARKED("work_line.made", "Made with it"), 3});
    addMade(out, job, mark.logs, mark.runs, mark.rungs);
    return out;
}

Report strayWorkReport(const Job &job, const WorkLine &line) {
    Report out;
    out.title = MARKED("work_line.stray", "Made with a calibration that nobody kept");
    addMade(out, job, line.strayLogs, line.strayRuns, line.strayRungs);
    return out;
}

} // namespace wheelwright
