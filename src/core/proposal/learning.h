// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/evidence/log_review.h"
#include "core/job/corrections.h"

#include <memory>
#include <span>
#include <string>
#include <string_view>
#include <vector>

namespace wheelwright {

/// What became of a correction by the logs that came after it.
enum class LearningVerdict {
    notYet,        ///< no log has been there since
    asForetold,    ///< the next logs found what was foretold, or less
    partly,        ///< better than before, and not as good as foretold
    notConverging, ///< no better than before
    overshot       ///< off to the other side
};
std::string_view learningKey(LearningVerdict verdict); ///< "as_foretold"
PhraseText inWords(LearningVerdict verdict);

/// One correction, held against what was found after it.
struct LearningStep {
    const Correction *of = nullptr;
    std::vector<std::string> logs; ///< ids of those after it and before the next
    /// Of the numbers below: shares of fuel, or degrees of retard.
    Dimension dimension = Dimension::ratio;
    double before = 0; ///< root mean square over the cells below
    double foretold = 0, found = 0;
    double carried = 0; ///< share of a cell's error that was found again; of fuel 1 − damping was foretold
    std::size_t raised = 0,
                raisedKnock = 0; ///< cells that got more spark, and knock now: the search turns there
    struct Cell {
        double rpm = 0, y = 0;
        double before = 0, foretold = 0, found = 0;
        double plusMinus = 0; ///< of what was found, 95 %
        double hits = 0;
        bool off = false; ///< further from what was foretold than both ± allow
    };
    std::vector<Cell> cells; ///< that were corrected by their own samples and have been visited since
    LearningVerdict verdict = LearningVerdict::notYet;
    std::vector<Phrase> said; ///< what that means
};

/// Of corrections of fuel (cells and all contents) and of spark by knock, in their order. A log belongs to
/// the last correction of its kind before it came in, and is held against the calibration that it ran with.
/// Of spark the cells are those that knocked and were taken back: no knock was foretold. Common practice.
std::vector<LearningStep> learningSteps(const Study &study,
                                        std::span<const std::shared_ptr<const LogReview>> logs);

} // namespace wheelwright
