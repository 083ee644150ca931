// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/report/handover_words.h"

#include "core/job/revision.h"
#include "core/job/said_content.h"

#include <algorithm>

namespace wheelwright {

Phrase nameOfContent(const Job &job, double content) {
    return verbatim(contentName(content, job.alcohol == Alcohol::methanol));
}

Phrase nameOfContents(const Job &job, double from, double to) {
    if (from == to) return nameOfContent(job, from);
    return {MARKED("handover.contents", "{A} to {B}"),
            {},
            {},
            {nameOfContent(job, from), nameOfContent(job, to)}};
}

CheckState worstBetween(const Verdict &verdict, double from, double to) {
    if (verdict.overall.empty()) return CheckState::notJudged;
    const std::size_t first = sliceNearest(verdict, std::clamp(from, 0.0, 1.0)),
                      last = sliceNearest(verdict, std::clamp(to, 0.0, 1.0));
    CheckState worst = verdict.overall[first];
    for (std::size_t i = first; i <= last; ++i)
        worst = std::max(worst, verdict.overall[i]);
    return worst;
}

Sentence stateSentence(const Job &job, std::string_view today) {
    const Revision *r = currentRevision(job);
    return {{MARKED("handover.state", "Calibration {a}, {b}; written on {c}."),
             {},
             {calibrationPrint(stateOf(job)), r ? r->name : std::string("-"), std::string(today)}},
            Tone::quiet};
}

} // namespace wheelwright
