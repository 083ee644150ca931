// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <cstdint>
#include <string_view>

namespace wheelwright {

/// FNV-1a, 64 bits (Fowler, Noll, Vo: parameters of the 64-bit variant): tells texts apart, the same on every
/// machine. Not for what somebody might forge.
constexpr std::uint64_t fingerprint(std::string_view text) {
    std::uint64_t hash = 14695981039346656037u;
    for (const char c : text)
        hash = (hash ^ static_cast<unsigned char>(c)) * 1099511628211u;
    return hash;
}

} // namespace wheelwright
