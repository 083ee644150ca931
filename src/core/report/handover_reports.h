// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/evidence/coverage.h"
#include "core/fuel/tank.h"
#include "core/report/flow_reports.h"
#include "core/runs/run_comparison.h"

#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace wheelwright {

// What somebody keeps when the work is done: a page for the owner, a card for the pump, pages for the next
// tuner. All of it is told from the job and its verdict; what nobody has judged is said to be not judged.

/// Whether a fuel may be in the tank alone.
struct OwnersFuel {
    std::string name;
    Uncertain content;                        ///< of the job's alcohol, 0 to 1
    CheckState state = CheckState::notJudged; ///< the worst within its content ± two standard uncertainties
    std::vector<Phrase> flags;                ///< of the shelf
};
/// Every fuel of the shelf that goes into plans. today: ISO 8601, for what was opened too long ago.
std::vector<OwnersFuel> ownersFuels(const Verdict &verdict, std::string_view today);

/// Content after litres of one fuel go onto what is in the tank.
struct PourTable {
    std::string fuel;
    double levelL = 0;                      ///< that is in the tank before
    std::vector<double> contents;           ///< before, a row each
    std::vector<double> litres;             ///< poured, a column each; all of them go into the tank
    std::vector<std::vector<double>> after; ///< 0 to 1
};
/// The steps in litres are of a size that a pump shows. Throws InputError for a level that the tank does not
/// hold, and for a fuel that is not on the shelf.
PourTable pourTable(const Job &job, const std::string &fuel, double levelL, std::string_view today);
/// The weakest and the strongest fuel of the shelf, by their alcohol; one where there is no other.
std::vector<std::string> pumpFuels(const Job &job, std::string_view today);

/// Pour tables of the weakest and the strongest fuel, from a quarter of a tank and from half of one.
Report pocketCard(const Verdict &verdict, std::string_view today);

/// One page: what it may run on, what to watch, how to change fuel, and whom to call.
WorkedReport ownersPage(const FlowLook &look, std::string_view today);

/// What pages are made of beside job and verdict.
struct HandoverSources {
    const Coverage *coverage = nullptr;  ///< where logs have been; nullptr: nobody looked
    std::optional<RunComparison> gain{}; ///< before and after, where there are runs of both
};
/// Of the runs that are worth a first look (firstLook()); empty where there are none to compare.
std::optional<RunComparison> firstGain(const Job &job);

/// The pages for whoever goes on, each a report of its own.
std::vector<WorkedReport> tunersPages(const FlowLook &look, const HandoverSources &sources,
                                      std::string_view today);

/// All of it as one document, the owner's page first, every page begun anew.
WorkedReport handover(const FlowLook &look, const HandoverSources &sources, std::string_view today);

} // namespace wheelwright
