// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/error.h"
#include "core/fuel/pour_plan.h"

#include <cmath>
#include <string>

namespace wheelwright {

/// Throws InputError naming the place, what was expected and the number that was found.
inline void require(bool holds, const std::string &where, PhraseText expected, double found) {
    if (!holds) throw InputError(where, expected, std::to_string(found));
}

/// A tank and a shelf that plans can be made of; mostContent: over 1 where another alcohol counts for more.
inline void requireTankAndShelf(double capacityL, double volumeL, const std::vector<ShelfFuel> &shelf,
                                double mostContent = 1) {
    require(capacityL > 0 && std::isfinite(capacityL), "capacity",
            MARKED("expected.more_than_0_l", "more than 0 L"), capacityL);
    require(volumeL >= 0 && volumeL <= capacityL, "volume",
            MARKED("expected.0_l_up_to_the_capacity", "0 L up to the capacity"), volumeL);
    constexpr std::size_t mostFuels = 8;
    require(!shelf.empty() && shelf.size() <= mostFuels, "shelf",
            MARKED("expected.1_to_8_fuels", "1 to 8 fuels"), static_cast<double>(shelf.size()));
    for (std::size_t i = 0; i < shelf.size(); ++i) {
        const ShelfFuel &f = shelf[i];
        const std::string where = "shelf fuel " + std::to_string(i + 1);
        require(f.content >= 0 && f.content <= mostContent, where + " content",
                MARKED("expected.a_volume_fraction_from_0_to_1", "a volume fraction from 0 to 1"), f.content);
        require(f.pricePerL >= 0 && std::isfinite(f.pricePerL), where + " price",
                MARKED("expected.0_or_more", "0 or more"), f.pricePerL);
        require(f.availableL >= 0, where + " left", MARKED("expected.0_l_or_more", "0 L or more"),
                f.availableL);
        require(f.canL >= 0 && std::isfinite(f.canL), where + " can",
                MARKED("expected.0_l_or_more", "0 L or more"), f.canL);
    }
}

} // namespace wheelwright
