// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/report/working_report.h"

#include "core/report/numbers.h"

namespace wheelwright {
namespace {

void add(Report &out, PhraseText head, const Phrase &body, Tone tone = Tone::plain) {
    if (body.empty()) return;
    out.blocks.push_back(Heading{head, 3});
    out.blocks.push_back(Sentence{body, tone});
}

} // namespace

Report workingReport(const Explanation &x) {
    Report out;
    out.title = x.title;
    out.blocks.push_back(Heading{x.title, 2});
    out.blocks.push_back(Sentence{strongNumber(x.result), Tone::answer});
    add(out, MARKED("working.formula", "Formula"), x.formula);
    add(out, MARKED("working.numbers", "With the numbers"), x.substituted);
    if (!x.inputs.empty()) out.blocks.push_back(Heading{MARKED("working.from", "From"), 3});
    for (const ExplanationInput &i : x.inputs)
        out.blocks.push_back(
            Sentence{{MARKED("working.input", "⟨{0}⟩ {a} · {A}"), {i.value}, {i.symbol}, {i.title}},
                     i.link.empty() ? Tone::plain : Tone::leading,
                     i.link});
    add(out, MARKED("working.change", "What would change it"), x.change);
    add(out, MARKED("working.source", "Source"), x.source);
    add(out, MARKED("working.uncertainty", "Uncertainty"), x.uncertainty);
    return out;
}

} // namespace wheelwright
