// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/evidence/watch_rule.h"

#include <cstddef>
#include <span>
#include <string_view>
#include <vector>

namespace wheelwright {

/// Takes samples out that say nothing of a table. Adding one is a line in cleaning.cpp; its threshold is a
/// limit of the job, so that it can be edited and undone.
struct CleaningFilter {
    std::string_view id; ///< stable: "coolant"
    PhraseText title;
    PhraseText help;
    std::string_view limit; ///< empty: it has none
    ChannelRole needs;      ///< without it the filter takes nothing
    bool (*takes)(const WatchedLog &, std::size_t sample);
    std::string_view second{}; ///< another limit
};
std::span<const CleaningFilter> allCleaningFilters();

/// What is left of a log. Each filter sees what those before it have left.
struct CleanLog {
    struct Step {
        const CleaningFilter *filter;
        std::size_t before = 0, taken = 0;
        bool asked = true; ///< false: the log has not got what it needs
    };
    std::vector<Step> steps;
    std::vector<bool> kept; ///< by sample
    std::size_t left = 0;
};
CleanLog clean(const WatchedLog &log);

} // namespace wheelwright
