// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <algorithm>
#include <cstddef>
#include <iterator>
#include <vector>

namespace wheelwright {

/// The middle of some numbers, the higher of two. There is at least one.
inline double medianOf(std::vector<double> v) {
    std::ranges::nth_element(v, v.begin() + std::ssize(v) / 2);
    return v[v.size() / 2];
}

} // namespace wheelwright
