// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/evidence/log_source.h"
#include "core/evidence/unit_text.h"

#include <optional>
#include <span>
#include <string>
#include <variant>
#include <vector>

namespace wheelwright {

/// Which stoichiometry an AFR was counted on: 14.7 whatever the fuel, that of the fuel, or a number.
enum class AfrScale { gasoline, trueOfFuel };
using AfrBasis = std::variant<AfrScale, double>;

/// What a column of a log file measures, and in what.
struct MappedColumn {
    std::string name;
    ChannelRole role = ChannelRole::none;
    std::string unit{}; ///< as people write it; empty: that of the role
    std::optional<AfrBasis> scale{};
    PressureReference reference = PressureReference::notSaid; ///< not said: as the unit says, else absolute
    bool reversed = false; ///< the file counts the other way: retard as a negative number
    bool skipped = false;  ///< is not imported at all
    double confidence = 1; ///< of a suggestion, 0–1
    Phrase question{};     ///< of a suggestion: what only the user can know; else empty

    bool operator==(const MappedColumn &other) const;
};

/// All columns of a file; what a user confirms once and finds again by the names of the columns.
struct ChannelMap {
    std::vector<MappedColumn> columns;
    std::optional<char> decimal, delimiter; ///< of a text; empty: as it is recognised
};

/// What an import needs of the job.
struct MapSurroundings {
    double ambientKpa = 101.325;
    double fuelStoichiometry = 14.7; ///< of the fuel of the log
};

/// What the names, units and some samples say. Columns of which nothing is known have no role.
ChannelMap suggestMap(const LogLayout &layout);

/// The map with a line for each column of the layout, in its order: those that it does not name have no
/// role. Names that stand several times are taken in their order. Throws InputError for a name that the
/// layout has not got, and for a role that stands twice at one clock.
ChannelMap fitted(const ChannelMap &map, const LogLayout &layout);

/// The column that is the clock of this one by map and layout; empty where there is none.
std::optional<std::size_t> clockOf(const ChannelMap &map, const LogLayout &layout, std::size_t column);

/// scale and offset that lead from the file's numbers to the internal unit of the role. Throws InputError
/// naming the column for a unit that is not known, or is none of what the role measures.
struct ChannelConversion {
    double scale = 1, offset = 0;
    PressureReference reference = PressureReference::notSaid;
};
ChannelConversion conversionOf(const MappedColumn &column, const MapSurroundings &around);

/// What stands in the job for each column once it is imported, but for what its samples say.
std::vector<LogChannel> channelsFrom(const ChannelMap &map, const LogLayout &layout,
                                     const MapSurroundings &around);

} // namespace wheelwright
