// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/report/sheet_reports.h"

namespace wheelwright {
namespace {

Phrase numbersOf(const PartState &part) {
    std::vector<Phrase> said;
    for (const FigureState &f : part.figures)
        said.push_back(f.said);
    return listed(said);
}

std::vector<Sentence> lineOf(const PartState &p) {
    const Tone known = p.known == Knowledge::stated ? Tone::plain : Tone::caution;
    const Tone looked = p.inspected == LookedAt::wrong ? Tone::trouble : Tone::plain;
    // Its numbers are stated: they lead to where.
    const std::string stated(p.part->fields.empty() ? std::string_view() : p.part->fields.front());
    return {Sentence(p.part->title, Tone::strong), Sentence(numbersOf(p), Tone::plain, stated),
            Sentence(knowledgeWord(p.known), known), Sentence(lookedAtWord(p.inspected), looked),
            p.verdict ? Sentence(stateWord(*p.verdict)) : Sentence(Phrase())};
}

} // namespace

Phrase inspectionWords(const InspectionState &state) {
    if (!state.last) return lookedAtWord(LookedAt::notYet);
    const InspectionMark &m = *state.last;
    constexpr std::size_t day = 10; // of an ISO date with its time
    const std::vector<std::string> words{m.at.substr(0, day), m.note};
    if (m.note.empty())
        return m.wrong ? Phrase{MARKED("inspection.wrong", "found wrong on {a}"), {}, words}
                       : Phrase{MARKED("inspection.good", "found good on {a}"), {}, words};
    return m.wrong ? Phrase{MARKED("inspection.wrong.note", "found wrong on {a}: {b}"), {}, words}
                   : Phrase{MARKED("inspection.good.note", "found good on {a}: {b}"), {}, words};
}

Phrase partStateWords(const PartState &part) {
    std::vector<Phrase> said;
    if (!part.figures.empty()) said.emplace_back(knowledgeWord(part.known));
    if (!part.inspections.empty()) said.emplace_back(lookedAtWord(part.inspected));
    if (part.verdict)
        said.push_back({MARKED("sheet.verdict", "Verify: {A}"), {}, {}, {Phrase(stateWord(*part.verdict))}});
    return listed(said);
}

Phrase nextOnSheet(const std::vector<PartState> &sheet) {
    const PartState *next = nextPart(sheet);
    if (!next) return {};
    if (next->inspected == LookedAt::wrong)
        return {MARKED("sheet.next.wrong", "{A} was found wrong: put it right, then look again."),
                {},
                {},
                {Phrase(next->part->title)}};
    return next->known == Knowledge::estimated
               ? Phrase{MARKED("sheet.next.estimated", "{A} is an estimate: say what it really is."),
                        {},
                        {},
                        {Phrase(next->part->title)}}
               : Phrase{MARKED("sheet.next.unknown", "Not stated yet: {A}."),
                        {},
                        {},
                        {Phrase(next->part->title)}};
}

Report sheetReport(const std::vector<PartState> &sheet) {
    Report out;
    out.title = MARKED("sheet.title", "The engine, part by part");
    Grid grid;
    grid.heads = {MARKED("sheet.head.part", "part"), MARKED("sheet.head.numbers", "numbers"),
                  MARKED("sheet.head.known", "known"), MARKED("sheet.head.looked", "looked at"),
                  MARKED("sheet.head.verdict", "Verify")};
    std::vector<Phrase> missing;
    for (const PartState &p : sheet)
        if (p.fitted)
            grid.rows.push_back(lineOf(p));
        else
            missing.emplace_back(p.part->title);
    out.blocks.emplace_back(std::move(grid));
    if (!missing.empty())
        out.blocks.emplace_back(Sentence(
            Phrase{MARKED("sheet.not_fitted", "Not on this engine: {A}."), {}, {}, {listed(missing)}},
            Tone::quiet));
    return out;
}

} // namespace wheelwright
