// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <array>
#include <cstdint>
#include <optional>
#include <string>
#include <vector>

namespace wheelwright {

/// One data frame of a CAN bus (ISO 11898-1:2015): 11 bits of identifier, or 29; at most 8 bytes, with
/// flexible data rate 64.
struct CanFrame {
    double timeS = 0;
    std::uint32_t id = 0;
    bool extended = false;
    std::uint8_t size = 0; ///< bytes
    std::array<std::uint8_t, 64> data{};
};
inline constexpr std::uint32_t mostShortId = 0x7FF, mostLongId = 0x1FFFFFFF;
inline constexpr int mostFrameBytes = 64;

/// Which end of a number comes first.
enum class CanOrder {
    little, ///< startBit is that of its least significant bit; it goes on upwards
    big     ///< startBit is that of its most significant bit; it goes on downwards, then into the next byte
};
enum class CanNumber { plain, twosComplement, floating }; ///< floating: IEEE 754, 32 or 64 bits

/// A number in a frame. Bit n is bit n % 8 of byte n / 8, 0 the least significant: as the common text
/// description of frames counts them.
struct CanSignal {
    std::string name;
    int startBit = 0;
    int length = 8; ///< bits, 1–64
    CanOrder order = CanOrder::little;
    CanNumber number = CanNumber::plain;
    double scale = 1, offset = 0;                  ///< value = number × scale + offset
    std::string unit;                              ///< as people write it
    bool multiplexer = false;                      ///< says which of the others are in this frame
    std::optional<std::uint64_t> multiplexValue{}; ///< it is there only where the multiplexer is this

    bool operator==(const CanSignal &) const = default;
};

/// All numbers of the frames with one identifier.
struct CanMessage {
    std::uint32_t id = 0;
    bool extended = false;
    std::string name;
    int size = 8; ///< bytes
    std::vector<CanSignal> numbers;

    bool operator==(const CanMessage &) const = default;
};

/// What the frames of a bus mean. What a number is to the engine (its role) is said by a ChannelMap of its
/// names and units, as for a log.
struct CanMap {
    std::vector<CanMessage> messages;

    bool operator==(const CanMap &) const = default;
};
/// Throws InputError naming message and signal: an identifier twice or too large, bits outside of the frame,
/// a floating number of other than 32 or 64 bits, a scale of 0, two multiplexers, a multiplexed signal
/// without one, a name twice in a message, or no name.
void validate(const CanMap &map);

/// The bits of a signal as they stand in the frame; nothing where the frame is too short for them.
std::optional<std::uint64_t> bitsOf(const CanFrame &frame, const CanSignal &signal);
/// What it measures, in its unit. Not a number where the frame is too short.
double valueOf(const CanFrame &frame, const CanSignal &signal);
/// Puts a value into a frame, to the nearest step, held to what the bits can say. Other bits stay.
void putValue(CanFrame &frame, const CanSignal &signal, double value);

} // namespace wheelwright
