// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/evidence/sample_levels.h"
#include "store/job_rows.h"

#include <span>
#include <string>
#include <string_view>
#include <vector>

namespace wheelwright {

// A stretch of samples of one series as bytes. Nothing here knows of files.

/// Samples of a whole chunk; the last of a series may hold fewer.
inline constexpr std::size_t samplesPerChunk = 65536;
/// How a sample is kept: 4 bytes hold what sensors say, 8 bytes the time of a long log.
enum class SampleWidth { single = 4, twice = 8 };

struct PackedChunk {
    Digest hash; ///< of width and samples, whatever they were packed with
    std::size_t samples = 0;
    std::string levels, packed;
};

/// packed: one byte for the width, then a zstd frame (RFC 8878) of the samples, little-endian IEEE 754, all
/// first bytes before all second ones and so on. levels: the same of the pairs. What is missing is one and
/// the same quiet NaN. Doubles that 4 bytes do not hold become the nearest that they do.
PackedChunk pack(std::span<const double> samples, SampleWidth width);

/// Throw InputError for bytes that are no such chunk, or not of this hash.
std::vector<double> unpack(std::string_view packed, const Digest &hash);
std::vector<LevelPair> unpackLevels(std::string_view levels);

} // namespace wheelwright
