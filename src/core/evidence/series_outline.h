// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/evidence/sample_levels.h"

#include <cstddef>
#include <span>
#include <utility>
#include <vector>

namespace wheelwright {

/// When the samples of a clock were taken, as coarsely as the levels are: the times of the first and the last
/// sample of every level.
struct ClockMarks {
    std::vector<double> timeS, lastS; ///< ascending
    std::size_t samples = 0;

    /// The levels that may hold samples between two times: first, and one behind the last.
    std::pair<std::size_t, std::size_t> levelsBetween(double fromS, double toS) const;
};

/// So many levels as one: what is looked at from far away needs no more.
inline constexpr std::size_t levelsPerCoarse = 32;
ClockMarks coarser(const ClockMarks &marks);
std::vector<LevelPair> coarser(std::span<const LevelPair> levels);

/// What a series does in each of so many columns of equal time between two times: least and most, or not
/// numbers where it has no sample. Scale and offset are those of the samples that are put in.
using SeriesOutline = std::vector<LevelPair>;

/// Of levels: a level counts in every column that it touches, so nothing is missed.
SeriesOutline outlineOfLevels(const ClockMarks &marks, std::span<const LevelPair> levels, double fromS,
                              double toS, std::size_t columns);
/// Of the samples themselves, with their times.
SeriesOutline outlineOfSamples(std::span<const double> timeS, std::span<const double> samples, double fromS,
                               double toS, std::size_t columns);

} // namespace wheelwright
