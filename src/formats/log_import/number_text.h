// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <array>
#include <cstdint>

namespace wheelwright {

/// Powers of ten that a double holds exactly.
inline constexpr std::array<double, 23> exactPowersOfTen{1e0,  1e1,  1e2,  1e3,  1e4,  1e5,  1e6,  1e7,
                                                         1e8,  1e9,  1e10, 1e11, 1e12, 1e13, 1e14, 1e15,
                                                         1e16, 1e17, 1e18, 1e19, 1e20, 1e21, 1e22};

/// Reads digits with a decimal sign from text that ends in something else than a digit, and returns what
/// follows them; nullptr for anything that needs a closer look: more than 15 digits, an exponent, no digit.
/// With at most 15 digits number and power are exact, so that one division rounds correctly: the result is
/// the nearest double (Clinger, How to read floating point numbers accurately, 1990, section 3).
inline const char *fastNumber(const char *p, char decimal, double &value) {
    constexpr int exactDigits = 15;
    const bool negative = *p == '-';
    p += negative || *p == '+';
    const char *const begin = p;
    std::uint64_t digits = 0;
    for (unsigned d = 0; (d = static_cast<unsigned char>(*p) - unsigned{'0'}) <= 9; ++p)
        digits = digits * 10 + d;
    auto count = p - begin;
    std::ptrdiff_t behind = 0;
    if (*p == decimal) {
        const char *const point = ++p;
        for (unsigned d = 0; (d = static_cast<unsigned char>(*p) - unsigned{'0'}) <= 9; ++p)
            digits = digits * 10 + d;
        behind = p - point;
        count += behind;
    }
    if (count == 0 || count > exactDigits || *p == 'e' || *p == 'E') return nullptr;
    const double whole = static_cast<double>(digits);
    const double v = behind == 0 ? whole : whole / exactPowersOfTen[static_cast<std::size_t>(behind)];
    value = negative ? -v : v;
    return p;
}

} // namespace wheelwright
