// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/evidence/coverage.h"
#include "core/report/flow_reports.h"
#include "core/runs/run_comparison.h"

#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace wheelwright {

// What somebody keeps when the work is done: a page for the owner, a card for the pump, pages for the next
// tuner. All of it is told from the job and its verdict; what nobody has judged is said to be not judged.

/// A photo that goes along, read by whoever may read files.
struct HandoverPhoto {
    std::string path;
    Phrase of;
    std::string jpegBase64; ///< empty: not there, or no picture
};

/// What pages are made of beside job and verdict.
struct HandoverSources {
    const Coverage *coverage = nullptr;  ///< where logs have been; nullptr: nobody looked
    std::optional<RunComparison> gain{}; ///< before and after, where there are runs of both
    std::vector<HandoverPhoto> photos{};
};
/// Of the runs that are worth a first look (firstLook()); empty where there are none to compare.
std::optional<RunComparison> firstGain(const Job &job);

/// The pages for whoever goes on, each a report of its own.
std::vector<WorkedReport> tunersPages(const FlowLook &look, const HandoverSources &sources,
                                      std::string_view today);

/// All of it as one document, the owner's page first, every page begun anew.
WorkedReport handover(const FlowLook &look, const HandoverSources &sources, std::string_view today);

} // namespace wheelwright
