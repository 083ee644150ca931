// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <cstddef>

namespace wheelwright {

/// Samples that one pair of the levels stands for.
inline constexpr std::size_t samplesPerLevel = 64;

/// Least and most of samplesPerLevel samples, rounded outwards; not numbers where all of them are missing.
struct LevelPair {
    float least, most;
};

} // namespace wheelwright
