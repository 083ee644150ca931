// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <cstdint>
#include <random>
#include <string_view>

namespace wheelwright {

/// Chance that is the same on every machine: the generator's numbers are laid down by the language, and the
/// distributions, which are not, are made here of additions. Each user has a stream of its own by name, so
/// that another channel of a log does not move the noise of all others.
class SeededNoise {
  public:
    SeededNoise(std::uint64_t seed, std::string_view stream) : m_random(mixed(seed, stream)) {}

    /// From low to high, evenly.
    double between(double low, double high) {
        constexpr int unused = 11; // of 64 bits a double holds 53
        return low + (high - low) * static_cast<double>(m_random() >> unused) * 0x1p-53;
    }
    /// Mean 0, standard deviation 1, never beyond ±6: the sum of twelve (Irwin and Hall, 1927).
    double normal() {
        constexpr int terms = 12;
        double sum = 0;
        for (int i = 0; i < terms; ++i)
            sum += between(0, 1);
        return sum - terms / 2.0;
    }

  private:
    // FNV-1a over the name, from the seed.
    static std::uint64_t mixed(std::uint64_t seed, std::string_view stream) {
        std::uint64_t hash = 0xcbf29ce484222325 ^ seed;
        for (const char c : stream)
            hash = (hash ^ static_cast<unsigned char>(c)) * 0x100000001b3;
        return hash;
    }
    std::mt19937_64 m_random;
};

} // namespace wheelwright
