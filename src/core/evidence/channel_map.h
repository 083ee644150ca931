// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/evidence/formula.h"
#include "core/evidence/log_source.h"
#include "core/evidence/unit_text.h"

#include <optional>
#include <string>
#include <variant>
#include <vector>

namespace wheelwright {

class Study;

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
    std::string
        formula{}; ///< it is no column of the file: worked out by this (formula.h) when the log comes in
    double confidence = 1; ///< of a suggestion, 0–1
    Phrase question{};     ///< of a suggestion: what only the user can know; else empty

    bool operator==(const MappedColumn &other) const;
};

/// All columns of a file, and behind them those that are worked out; what a user confirms once and finds
/// again by the names of the columns.
struct ChannelMap {
    std::vector<MappedColumn> columns;
    std::optional<char> decimal, delimiter; ///< of a text; empty: as it is recognised
};

/// What an import needs of the job.
struct MapSurroundings {
    double ambientKpa = 101.325;
    double fuelStoichiometry = 14.7; ///< of the fuel of the log
};
/// The job's air, and the fuel of a content (0–1); without one that of the tank, or the base fuel where
/// nobody can have filled the tank so.
MapSurroundings surroundingsIn(const Study &study, std::optional<double> content = {});

/// What the names, units and some samples say. Columns of which nothing is known have no role.
ChannelMap suggestMap(const LogLayout &layout);

/// The map with a line for each column of the layout, in its order: those that it does not name have no
/// role. Names that stand several times are taken in their order. Those that are worked out follow. Throws
/// InputError for a name that the layout has not got, for a role that stands twice at one clock, and for a
/// formula of channels that are not there or of several clocks.
ChannelMap fitted(const ChannelMap &map, const LogLayout &layout);

/// The column that is the clock of this one by map and layout; empty where there is none.
std::optional<std::size_t> clockOf(const ChannelMap &map, const LogLayout &layout, std::size_t column);

/// Columns that a worked one is made of, in the order of its formula's names. Throws InputError as fitted().
std::vector<std::size_t> sourcesOf(const MappedColumn &worked, const ChannelMap &map,
                                   const LogLayout &layout);
/// How a sample of a source enters a formula: as the file has it, or in the unit of its role.
struct SourceConversion {
    double scale = 1, offset = 0;
    double operator()(double sample) const { return sample * scale + offset; }
};
SourceConversion sourceConversion(const Formula::Name &name, const MappedColumn &column,
                                  const MapSurroundings &around);
/// What a worked column would look like, from the previews of its sources.
LogColumn workedPreview(const MappedColumn &worked, const ChannelMap &map, const LogLayout &layout,
                        const MapSurroundings &around);

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
