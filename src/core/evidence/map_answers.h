// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/evidence/channel_map.h"

#include <vector>

namespace wheelwright {

/// One way to read a column, as the answer to what only the user can know.
struct MapAnswer {
    Phrase words;
    MappedColumn column; ///< read so, and without the question
};

/// What a column can be asked: scale of an AFR, what a pressure is against, percent or fraction, °C or °F,
/// which way spark and retard are counted. Empty where role and unit leave nothing open.
std::vector<MapAnswer> answersFor(const MappedColumn &column);
/// The column with a role of the user's own: the unit that the file states where it fits, else the role's.
MappedColumn withRole(const MappedColumn &column, ChannelRole role, const LogColumn &file);

/// A channel that is worked out, as a user writes it: "duty = pulse_width * rpm / 120000". What stands before
/// the sign is the key of a role, or a name of its own. Throws InputError for anything else.
MappedColumn workedFrom(std::string_view text);

/// What a column would mean, from its preview.
struct ColumnOutlook {
    double least = 0, most = 0; ///< internal unit
    bool plausible = true;      ///< inside of what the role can be
    Phrase said;                ///< "λ would run from 0.70 to 1.12"; what is wrong where it cannot be read
};
ColumnOutlook outlookOf(const MappedColumn &column, const LogColumn &file, const MapSurroundings &around);

} // namespace wheelwright
