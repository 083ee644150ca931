// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/explanation.h"
#include "core/report/report.h"

#include <functional>
#include <string>
#include <utility>
#include <vector>

namespace wheelwright {

/// A report whose numbers lead to how they were worked out: the link of a sentence is "working:<index>".
struct WorkedReport {
    using Explain = std::function<Explanation()>;

    Report report;
    std::vector<Explain> workings;

    void say(Phrase words, Tone tone = Tone::plain) {
        report.blocks.push_back(Sentence{std::move(words), tone});
    }
    void say(Phrase words, Tone tone, Explain explain) {
        report.blocks.push_back(worked(std::move(words), tone, std::move(explain)));
    }
    /// Another report's sentences after these, with their workings.
    void append(WorkedReport other);
    /// A sentence to stand in a grid.
    Sentence worked(Phrase words, Tone tone, Explain explain) {
        workings.push_back(std::move(explain));
        return {std::move(words), tone, "working:" + std::to_string(workings.size() - 1)};
    }
};

} // namespace wheelwright
