// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/report/proposal_reports.h"

#include "core/explain/explain_evidence.h"
#include "core/report/log_reports.h"

#include <cmath>

namespace wheelwright {
namespace {

Measured cells(std::size_t n) {
    return {static_cast<double>(n), Dimension::count};
}

} // namespace

Report proposalReport(const ProposedMap &map) {
    Report out;
    const ProposalKindDefinition &kind = definitionOf(map.kind);
    out.title = Phrase(kind.title);
    const bool ceilings = map.kind == ProposalKind::ceilings;
    out.blocks.push_back(
        Heading{map.takes == 0 ? Phrase(ceilings ? MARKED("proposal.none.known", "Nothing is known yet")
                                                 : MARKED("proposal.none", "Nothing to change"))
                : ceilings     ? Phrase{MARKED("proposal.known", "{0} cells known"), {cells(map.takes)}}
                : map.kind == ProposalKind::sweep
                    ? Phrase{MARKED("proposal.swept", "Cells with a best spark: {0}"), {cells(map.takes)}}
                    : Phrase{MARKED("proposal.takes", "{0} cells would change"), {cells(map.takes)}},
                2});
    for (const Phrase &p : map.doubts)
        out.blocks.push_back(Sentence{p, Tone::caution});
    for (const Phrase &p : map.said)
        out.blocks.push_back(Sentence{p});
    out.blocks.push_back(
        Sentence{MARKED("proposal.caution",
                        "Lean mixture and knock destroy engines and can hurt people nearby: small steps, "
                        "cuts set, on a dyno or a closed course."),
                 Tone::quiet});
    if (!map.unused.empty()) {
        out.blocks.push_back(Heading{MARKED("proposal.unused.title", "Logs that take no part"), 3});
        for (const Phrase &p : map.unused)
            out.blocks.push_back(Sentence{p, Tone::quiet});
    }
    return out;
}

WorkedReport proposedCellReport(const ProposedMap &map, std::size_t cell, std::span<const CellVisit> visits) {
    const ProposedCell &c = map.cells[cell];
    WorkedReport out;
    out.report.title = Phrase(MARKED("proposed.cell", "The cell"));
    out.report.blocks.push_back(Heading{{MARKED("proposed.cell.at", "{0}, {1}"),
                                         {{c.rpm, Dimension::engineSpeed}, {c.loadKpa, Dimension::pressure}}},
                                        2});
    out.say(inWords(c.state), Tone::quiet);
    ProposedMap alone; // of the map what the working needs: the rest of it is large
    alone.kind = map.kind;
    alone.dimension = map.dimension;
    const auto explain = [alone, c] { return explainProposedCell(alone, c); };
    if (map.kind == ProposalKind::spark && c.change == c.change)
        out.say({MARKED("proposed.cell.spark", "{0} now, {1} then"),
                 {{c.now, Dimension::sparkAngle}, {c.proposed, Dimension::sparkAngle}}},
                Tone::strong, explain);
    if ((map.kind == ProposalKind::fuel || map.kind == ProposalKind::joint) && c.change == c.change)
        out.say({c.change >= 0 ? MARKED("proposed.cell.more", "{0} more fuel")
                               : MARKED("proposed.cell.less", "{0} less fuel"),
                 {{std::abs(c.change), Dimension::ratio}}},
                Tone::strong, explain);
    if (c.errorNow == c.errorNow)
        out.say({MARKED("proposed.cell.errors", "λ against its target: {0} now, {1} then"),
                 {{c.errorNow, Dimension::ratio}, {c.errorThen, Dimension::ratio}}},
                Tone::plain, explain);
    for (const Phrase &p : c.said)
        out.say(p, Tone::plain, explain);
    const Report seen = visitsReport(visits, c.rpm, c.loadKpa);
    if (!visits.empty())
        out.report.blocks.push_back(Heading{MARKED("proposed.cell.samples", "Its samples"), 3});
    for (const Block &b : seen.blocks)
        if (!std::holds_alternative<Heading>(b)) out.report.blocks.push_back(b);
    return out;
}

} // namespace wheelwright
