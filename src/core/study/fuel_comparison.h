// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/phrase.h"
#include "core/study/shelf.h"
#include "core/study/study.h"

#include <functional>
#include <optional>
#include <span>

namespace wheelwright {

/// A fuel, or two of them mixed, with all that is compared.
struct ComparedFuel {
    std::string name;
    bool mixture = false;
    Blend content;
    double alcohol = 0;
    bool leaded = false;
    BlendProperties properties;
    double multiplier = 1; ///< fuel volume against the fuel in the tank, at equal air and λ
    double energyMjL = 0;
    double energyMjPerKgAir = 0;
    std::optional<double> pricePerL; ///< empty: not known
    std::optional<double> perTank, per100Km, perHour;
    std::optional<double> litresPer100Km;
    std::vector<ShelfFlag> flags;
    std::vector<Phrase> mustChange; ///< against the fuel in the tank
};

/// Two fuels mixed by volume, `share` of the second, 0 to 1. A booster raises the octane towards its treated
/// octane in proportion to its treat rate and no further; its own composition counts as its hydrocarbon.
/// Throws InputError for a share outside 0–1.
ComparedFuel mixed(const Job &job, const Fuel &first, const Fuel &second, double share);

/// The worst injector duty at a content, where somebody has judged it.
using DutyOverContent = std::function<std::optional<double>(double content)>;

/// Every fuel of the shelf and every mixture of the job. duty: of this job; empty: it is left out.
std::vector<ComparedFuel> compareFuels(const Study &study, std::string_view today,
                                       const DutyOverContent &duty);

/// The mixture over its share, evenly spaced from 0 to 1. points: at least 2.
std::vector<ComparedFuel> mixCurve(const Job &job, const Fuel &first, const Fuel &second, std::size_t points);

/// What is compared: one line is a column of the table, a panel of the chart, a key of the command line.
struct FuelColumn {
    std::string_view id; ///< "stoich_afr"
    PhraseText title;
    PhraseText help;
    Dimension dimension;
    int decimals;
    PhraseText formula;
    PhraseText source;
    std::optional<double> (*of)(const ComparedFuel &);
};
std::span<const FuelColumn> allFuelColumns();

} // namespace wheelwright
