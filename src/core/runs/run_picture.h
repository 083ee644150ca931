// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/runs/run_comparison.h"

#include <optional>
#include <vector>

namespace wheelwright {

/// Runs as they are drawn over each other, with what one cursor reads of them.
struct RunPicture {
    struct Line {
        SeenRun run;
        std::optional<double> content; ///< of its fuel
        bool after = false;
    };
    std::vector<double> rpm;
    std::vector<Line> lines;
    std::vector<GainEstimate> gainKw;             ///< after less before; empty: only one side is there
    std::vector<ChannelRole> lanes() const;       ///< boost, λ and spark, where any run has them
    std::vector<double> meanKw(bool after) const; ///< of a side; empty where it has no run

    struct Reading {
        double rpm = 0;                          ///< of the speeds there are the nearest
        std::optional<double> beforeKw, afterKw; ///< means of each side
        std::optional<double> beforeNm, afterNm;
        std::optional<GainEstimate> gainKw;
        struct Lane {
            ChannelRole role = ChannelRole::none;
            std::optional<double> before, after;
        };
        std::vector<Lane> lanes;
        Phrase words() const; ///< all of it in one line
    };
    Reading at(double rpm) const; ///< there is a speed at least
};

/// With both sides and a comparison of them, or of one side alone. Throws InputError as seen() does.
RunPicture pictureOf(const RunComparison &comparison, const MeasuredRuns &before, const MeasuredRuns &after);
RunPicture pictureOf(const MeasuredRuns &runs, bool after, const RunViewing &how);

} // namespace wheelwright
