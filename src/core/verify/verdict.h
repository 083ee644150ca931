// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/study/study.h"
#include "core/verify/check.h"

#include <functional>
#include <memory>
#include <optional>
#include <stop_token>
#include <string>
#include <utility>
#include <vector>

namespace wheelwright {

/// All checks over all contents, and what follows in words.
struct Verdict {
    struct Row {
        const Check *check;
        CheckOutcome outcome;
        CheckState state; ///< of its worst place
    };
    std::vector<double> contents;                      ///< of the slices, ascending
    std::vector<Row> rows;                             ///< in the order of allChecks()
    std::vector<const Check *> notJudged;              ///< the job says too little for these
    std::vector<CheckState> overall;                   ///< per content: the worst of the rows
    std::vector<std::pair<double, double>> safeRanges; ///< contents where nothing fails, ends included
    std::vector<Phrase> sentences;                     ///< the verdict, to be read one after the other
    std::shared_ptr<const Study> study;                ///< of the job that was judged, with its evaluation
};

/// Runs every check. `stop` is looked at between checks; a run that was stopped returns nullptr.
std::shared_ptr<const Verdict> verify(std::shared_ptr<const Study> study, std::stop_token stop = {});
std::shared_ptr<const Verdict> verify(const Job &job);

/// The worst place at a content (of the nearest slice), and whose it is.
struct WorstAtContent {
    const Verdict::Row *row = nullptr; ///< nullptr: nothing was judged there
    WorstPlace place;
};
WorstAtContent worstAt(const Verdict &verdict, double content);

/// The worst injector duty over content, of the nearest slice; nothing where duty was not judged.
std::function<std::optional<double>(double content)> injectorDutyOver(std::shared_ptr<const Verdict> verdict);

/// The verdict in one line.
Phrase inWords(const Verdict &verdict);

/// What was not judged and why; empty when all was.
Phrase notJudged(const Verdict &verdict);

PhraseText stateWord(CheckState state); ///< "clear", "caution", "fails"

} // namespace wheelwright
