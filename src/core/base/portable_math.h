// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <bit>
#include <cstdint>

namespace wheelwright {

// exp, log and power that give the same bits on every machine, which the C library does not promise: it takes
// other instructions on other processors, and one bit in the last place of a pressure can be one knock more
// in a simulated hour. Built of additions, multiplications, divisions and moves of bits alone, so that the
// compiler can also do several at once. For what must repeat and for loops over many numbers; elsewhere the C
// library's are right.

namespace portable {

inline constexpr double log2High = 0x1.62e42fefa3800p-1; ///< ln 2 with its last bits zero: n·it is exact
inline constexpr double log2Low = 0x1.ef35793c76730p-45; ///< the rest of ln 2
inline constexpr double wholeNumber = 0x1.8p52;          ///< added and taken away again it rounds

/// e^x within 1e-15 of it, relative. x is held to ±700.
inline double exp(double x) {
    constexpr double most = 700, log2e = 0x1.71547652b82fep0;
    x = x < -most ? -most : x;
    x = x > most ? most : x;
    const double shifted = x * log2e + wholeNumber;
    const double n = shifted - wholeNumber;
    const double r = (x - n * log2High) - n * log2Low; // |r| < 0.35
    // Taylor: the next term is under 2e-16.
    double sum = 1.0 / 479001600;
    sum = sum * r + 1.0 / 39916800;
    sum = sum * r + 1.0 / 3628800;
    sum = sum * r + 1.0 / 362880;
    sum = sum * r + 1.0 / 40320;
    sum = sum * r + 1.0 / 5040;
    sum = sum * r + 1.0 / 720;
    sum = sum * r + 1.0 / 120;
    sum = sum * r + 1.0 / 24;
    sum = sum * r + 1.0 / 6;
    sum = sum * r + 0.5;
    sum = sum * r + 1;
    sum = sum * r + 1;
    const std::uint64_t power =
        std::bit_cast<std::uint64_t>(shifted) - std::bit_cast<std::uint64_t>(wholeNumber);
    constexpr int fractionBits = 52;
    constexpr std::uint64_t bias = 1023;
    return sum * std::bit_cast<double>((power + bias) << fractionBits);
}

/// ln x within 1e-15 of it, relative or absolute, whichever is more. x over 0 and normal.
inline double log(double x) {
    constexpr int fractionBits = 52;
    constexpr std::uint64_t rootHalf = 0x3fe6a09e667f3bcd; // bits of √½: the mantissa is taken from √½ to √2
    const std::uint64_t bits = std::bit_cast<std::uint64_t>(x);
    constexpr std::uint64_t room = 1024; // keeps the number above zero, where a shift is a division
    const std::uint64_t power = ((bits - rootHalf + (room << fractionBits)) >> fractionBits) - room;
    const double m = std::bit_cast<double>(bits - (power << fractionBits));
    const double e = std::bit_cast<double>(std::bit_cast<std::uint64_t>(wholeNumber) + power) - wholeNumber;
    const double s = (m - 1) / (m + 1), z = s * s; // ln m = 2 artanh s; |s| < 0.172
    double sum = 1.0 / 21;
    sum = sum * z + 1.0 / 19;
    sum = sum * z + 1.0 / 17;
    sum = sum * z + 1.0 / 15;
    sum = sum * z + 1.0 / 13;
    sum = sum * z + 1.0 / 11;
    sum = sum * z + 1.0 / 9;
    sum = sum * z + 1.0 / 7;
    sum = sum * z + 1.0 / 5;
    sum = sum * z + 1.0 / 3;
    sum = sum * z + 1;
    return e * log2High + (e * log2Low + 2 * s * sum);
}

/// x^y of x over 0.
inline double pow(double x, double y) {
    return exp(y * log(x));
}

struct SineCosine {
    double sine, cosine;
};
/// Of an angle in degrees, within 1e-15.
inline SineCosine sineCosine(double degrees) {
    constexpr double quarter = 90, radiansPerDegree = 0x1.1df46a2529d39p-6;
    const double turns = degrees / quarter + wholeNumber - wholeNumber;
    const double r = (degrees - turns * quarter) * radiansPerDegree, z = r * r; // |r| ≤ π/4
    const double sine =
        r * (1 + z * (-1.0 / 6 +
                      z * (1.0 / 120 +
                           z * (-1.0 / 5040 + z * (1.0 / 362880 + z * (-1.0 / 39916800 +
                                                                       z * (1.0 / 6227020800 +
                                                                            z * (-1.0 / 1307674368000))))))));
    const double cosine =
        1 + z * (-0.5 +
                 z * (1.0 / 24 + z * (-1.0 / 720 +
                                      z * (1.0 / 40320 +
                                           z * (-1.0 / 3628800 +
                                                z * (1.0 / 479001600 + z * (-1.0 / 87178291200 +
                                                                            z * (1.0 / 20922789888000))))))));
    constexpr int quarters = 4;
    const int q = ((static_cast<int>(turns) % quarters) + quarters) % quarters;
    if (q == 0) return {sine, cosine};
    if (q == 1) return {cosine, -sine};
    if (q == 2) return {-sine, -cosine};
    return {-cosine, sine};
}

} // namespace portable

} // namespace wheelwright
