// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/evidence/channel_map.h"
#include "core/evidence/log_source.h"
#include "core/job/run_samples.h"

#include <string>
#include <vector>

namespace wheelwright {

/// What a user has said of a column of a run's file.
struct StatedColumn {
    ChannelRole role = ChannelRole::none;
    std::string column; ///< its name, or its place from 1
    std::string unit{}; ///< as people write it; empty: as the file says
};

/// A file of runs with its columns known: one set of numbers, or several where a file holds its pulls side by
/// side, each under the same names with another number.
struct RunColumns {
    std::vector<RunSamples> sides;
    std::vector<std::vector<double>> pullNumbers; ///< by side: a column that counts the pulls; empty: none
    std::vector<Phrase> said;                     ///< what was taken for granted
};

/// Finds speed, torque and power, and what else a pull is judged by: by what was stated, by the names as in a
/// log (suggestMap()), and, where names or units say nothing, by the identity that power is torque times
/// speed. Throws InputError naming what is missing: no speed, neither torque nor power, or a unit that nobody
/// says and nothing tells.
RunColumns runColumns(const LogSource &source, const std::vector<StatedColumn> &stated,
                      const MapSurroundings &around, const LogReading &how = {});

/// Units of torque and power that P = T · n / k tells apart: k for numbers of both units and rpm.
struct TorquePowerUnits {
    std::string_view torque, power; ///< as people write them
    double k = 0;
};
/// The units whose k is that of these numbers, within 0.2 %, where one pair alone is; nullptr: none, or the
/// numbers are not power over torque at all.
const TorquePowerUnits *unitsByIdentity(std::span<const double> rpm, std::span<const double> torque,
                                        std::span<const double> power);

} // namespace wheelwright
