// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/phrase.h"
#include "core/fuel/tank.h"
#include "core/job/job.h"

#include <optional>
#include <string_view>

namespace wheelwright {

/// Something about a fuel that the user must know before it is poured.
struct ShelfFlag {
    std::string id; ///< "opened_too_long", "leaded_with_catalyst", "methanol_with_sensor", "not_rated"
    Phrase words;
};

/// A fuel of the shelf with what its lots and tubes say about it.
struct Fuel {
    std::string name;
    FuelKind kind = FuelKind::pump;
    Blend content;
    std::string hydrocarbon; ///< of its gasoline part; empty: the job's
    Uncertain alcohol;       ///< 0–1
    bool byTube = false;     ///< a tube result stands behind it
    bool leaded = false;
    bool inPlans = true;
    double oxygen = 0; ///< mass fraction in the hydrocarbon part, as its data sheet states it
    double pricePerL = 0;
    std::optional<double> leftL; ///< empty: as much as is wanted
    double canL = 0;
    double treatRate = 0, treatedRon = 0; ///< of a booster
    int lots = 0;
    std::vector<ShelfFlag> flags;
};

/// Every fuel of the shelf, in its order. Where there are lots, what is left is theirs together, and price
/// and content are theirs by what is left of each; a lot with a tube result has that content, else the
/// shelf's. today: ISO 8601 date, for what was opened too long ago; empty: not judged.
std::vector<Fuel> shelfOf(const Job &job, std::string_view today);

/// Its parts by volume, with the job's components.
BlendProperties propertiesOf(const Job &job, const Fuel &fuel);

/// How to handle what stands on the shelf, in the product's own words: the general rule first, then what one
/// of the fuels asks for.
std::vector<Phrase> handlingCautions(const std::vector<Fuel> &shelf);

/// Days from one ISO 8601 date to another; empty when either is not a date.
std::optional<int> daysBetween(std::string_view from, std::string_view to);

/// Content by a tube record, with its ±. Empty when its lines are out of order.
std::optional<Uncertain> contentBy(const TubeRecord &record);

} // namespace wheelwright
