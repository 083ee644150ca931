// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/report/worked_report.h"
#include "core/study/shelf.h"
#include "core/verify/verdict.h"

#include <string>
#include <string_view>
#include <vector>

namespace wheelwright {

/// Content after litres of one fuel go onto what is in the tank.
struct PourTable {
    std::string fuel;
    double fuelContent = 0;                 ///< of the job's alcohol, 0 to 1
    double levelL = 0;                      ///< that is in the tank before
    std::vector<double> contents;           ///< before, a row each
    std::vector<double> litres;             ///< poured, a column each; all of them go into the tank
    std::vector<std::vector<double>> after; ///< 0 to 1
};
/// The steps in litres are of a size that a pump shows. Throws InputError for a level that the tank does not
/// hold, and for a fuel that is not on the shelf.
PourTable pourTable(const Job &job, const std::string &fuel, double levelL, std::string_view today);

/// Whether it stands in a tank by itself: a booster is an additive.
bool isPoured(const Fuel &fuel);

/// The weakest and the strongest fuel of the shelf, by their alcohol; one where there is no other.
std::vector<std::string> pumpFuels(const Job &job, std::string_view today);

/// Of the pump's fuels, from each share of a full tank, and what its signs mean. every: so many rows on; all
/// of them with 1.
WorkedReport pourTablesReport(const Verdict &verdict, std::string_view today,
                              const std::vector<double> &shares, std::size_t every);

/// To be printed small and carried along: from a quarter of a tank and from half of one.
WorkedReport pocketCard(const Verdict &verdict, std::string_view today);

} // namespace wheelwright
