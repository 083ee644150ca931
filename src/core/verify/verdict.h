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
        CheckState state; ///< the worst of those by content
        std::vector<CheckState>
            byContent{}; ///< not judged: inside its limit, by numbers that nobody has stated
        /// The worst place of those in a state, between two contents (indices, ends included); nullptr: none.
        const WorstPlace *worstIn(CheckState at, std::size_t from, std::size_t to) const;
    };
    /// What the checks answer together.
    struct Answer {
        const Question *question;
        std::vector<CheckState> byContent;
        CheckState state;                    ///< the worst between the calibrated contents
        std::vector<bool> open;              ///< by content: something is missing, whatever else fails there
        std::vector<const Need *> missing{}; ///< what would close it, first what it turns on most
    };
    std::vector<double> contents;         ///< of the slices, ascending
    std::vector<Row> rows;                ///< in the order of allChecks()
    std::vector<const Check *> notJudged; ///< asked, and not to be worked out: too much is missing
    std::vector<Answer> answers;          ///< in the order of allQuestions(), those that the job raises
    std::vector<CheckState> overall;      ///< per content: the worst of the answers
    std::vector<BeenThere> pulls;         ///< per content: whether logs hold clean pulls there
    std::vector<const Need *> next;       ///< all that is missing, first what unlocks most
    std::vector<std::pair<double, double>>
        holdsRanges;                        ///< nothing fails, and something is judged; ends included
    double baseContent = 0, topContent = 1; ///< that the tables were calibrated at
    std::vector<Phrase> sentences;          ///< the verdict, to be read one after the other
    std::shared_ptr<const Study> study;     ///< of the job that was judged, with its evaluation
    Proof proof;                            ///< with which it was judged
};

/// Runs every check. proof: where logs of the job have been. `stop` is looked at between checks; a run that
/// was stopped returns nullptr.
std::shared_ptr<const Verdict> verify(std::shared_ptr<const Study> study, const Proof &proof = {},
                                      std::stop_token stop = {});
std::shared_ptr<const Verdict> verify(const Job &job, const Proof &proof = {});

/// Index of the content nearest to one.
std::size_t sliceNearest(const Verdict &verdict, double content);
/// The row of a check; nullptr: it was not worked out.
const Verdict::Row *findRow(const Verdict &verdict, std::string_view checkId);

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

/// What keeps a check that could be worked out from being judged: "the fuel tables are estimates or
/// defaults".
Phrase missingFor(const Check &check, const Verdict &verdict);

/// A check that was worked out and is not judged, and why: contents next to each other with the same reasons.
struct OpenStretch {
    const Check *check;
    double from, to; ///< ends included
    std::vector<const Need *> missing;
};
/// By the order of the checks, then by content.
std::vector<OpenStretch> openStretches(const Verdict &verdict);

/// No question fails or stays open between the calibrated contents: only then does a program exit with 0.
/// Nothing less is ever called cleared.
bool answered(const Verdict &verdict);
const Verdict::Answer *answerTo(const Verdict &verdict,
                                QuestionId question); ///< nullptr: the job does not raise it

} // namespace wheelwright
