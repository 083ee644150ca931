// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/live/can_signal.h"

#include "core/base/error.h"

#include <algorithm>
#include <bit>
#include <cmath>
#include <limits>
#include <set>
#include <utility>

namespace wheelwright {
namespace {

constexpr int byteBits = 8;

// From the least significant bit up (little) or from the most significant down (big): the bit after one.
int bitAfter(int bit, CanOrder order) {
    if (order == CanOrder::little) return bit + 1;
    return bit % byteBits == 0 ? bit + 2 * byteBits - 1 : bit - 1;
}

int lastBit(const CanSignal &s) {
    int bit = s.startBit;
    for (int i = 1; i < s.length; ++i)
        bit = bitAfter(bit, s.order);
    return bit;
}

// Bytes that a frame must have for it.
int bytesOf(const CanSignal &s) {
    return std::max(s.startBit, lastBit(s)) / byteBits + 1;
}

std::string placeOf(const CanMessage &m) {
    return "message " + (m.name.empty() ? std::to_string(m.id) : m.name);
}

void check(const CanMessage &m, const CanSignal &s, bool hasMultiplexer) {
    const std::string where = placeOf(m) + " signal " + (s.name.empty() ? "without a name" : s.name);
    const auto refuse = [&](const Phrase &expected, const std::string &found) {
        throw InputError(where, expected, found);
    };
    if (s.name.empty()) refuse(MARKED("expected.a_name", "a name"), "nothing");
    if (s.length < 1 || s.length > 64)
        refuse(MARKED("expected.can_length", "a length of 1 to 64 bits"), std::to_string(s.length));
    if (s.startBit < 0 || s.startBit >= m.size * byteBits || bytesOf(s) > m.size)
        refuse(Phrase{MARKED("expected.can_bits", "bits within the {a} bytes of its message"),
                      {},
                      {std::to_string(m.size)}},
               "bit " + std::to_string(s.startBit) + " and " + std::to_string(s.length) + " long");
    if (s.number == CanNumber::floating && s.length != 32 && s.length != 64)
        refuse(MARKED("expected.can_floating", "32 or 64 bits of a floating number"),
               std::to_string(s.length));
    if (!(s.scale != 0) || !std::isfinite(s.scale) || !std::isfinite(s.offset))
        refuse(MARKED("expected.can_scale", "a scale other than 0, and numbers"), std::to_string(s.scale));
    if (s.multiplexValue && !hasMultiplexer)
        refuse(MARKED("expected.can_multiplexer", "a multiplexer in its message"), "none");
    if (s.multiplexer && s.number != CanNumber::plain)
        refuse(MARKED("expected.can_multiplexer_plain", "a multiplexer without a sign"), "another number");
}

} // namespace

void validate(const CanMap &map) {
    std::set<std::pair<bool, std::uint32_t>> ids;
    for (const CanMessage &m : map.messages) {
        const std::string where = placeOf(m);
        if (m.id > (m.extended ? mostLongId : mostShortId))
            throw InputError(where,
                             Phrase{MARKED("expected.can_id", "an identifier of at most {a} bits"),
                                    {},
                                    {m.extended ? "29" : "11"}},
                             std::to_string(m.id));
        if (!ids.emplace(m.extended, m.id).second)
            throw InputError(where, MARKED("expected.can_id_once", "each identifier once"),
                             std::to_string(m.id) + " again");
        if (m.size < 0 || m.size > mostFrameBytes)
            throw InputError(where, MARKED("expected.can_size", "0 to 64 bytes"), std::to_string(m.size));
        const auto multiplexers = std::ranges::count_if(m.numbers, &CanSignal::multiplexer);
        if (multiplexers > 1)
            throw InputError(where, MARKED("expected.can_one_multiplexer", "one multiplexer"),
                             std::to_string(multiplexers));
        std::set<std::string> names;
        for (const CanSignal &s : m.numbers) {
            check(m, s, multiplexers == 1);
            if (!names.insert(s.name).second)
                throw InputError(where, MARKED("expected.can_name_once", "each name once"),
                                 "'" + s.name + "' again");
        }
    }
}

std::optional<std::uint64_t> bitsOf(const CanFrame &frame, const CanSignal &s) {
    if (bytesOf(s) > frame.size) return std::nullopt;
    std::uint64_t bits = 0;
    int at = s.startBit;
    for (int i = 0; i < s.length; ++i, at = bitAfter(at, s.order)) {
        const std::uint64_t bit =
            (frame.data[static_cast<std::size_t>(at / byteBits)] >> (at % byteBits)) & 1U;
        bits |= bit << (s.order == CanOrder::little ? i : s.length - 1 - i);
    }
    return bits;
}

double valueOf(const CanFrame &frame, const CanSignal &s) {
    const std::optional<std::uint64_t> bits = bitsOf(frame, s);
    if (!bits) return std::numeric_limits<double>::quiet_NaN();
    double number = 0;
    switch (s.number) {
    case CanNumber::plain:
        number = static_cast<double>(*bits);
        break;
    case CanNumber::twosComplement: {
        // The sign bit goes on to the left.
        const int unused = 64 - s.length;
        number = static_cast<double>(static_cast<std::int64_t>(*bits << unused) >> unused);
        break;
    }
    case CanNumber::floating:
        number = s.length == 32 ? static_cast<double>(std::bit_cast<float>(static_cast<std::uint32_t>(*bits)))
                                : std::bit_cast<double>(*bits);
        break;
    }
    return number * s.scale + s.offset;
}

void putValue(CanFrame &frame, const CanSignal &s, double value) {
    const double number = (value - s.offset) / s.scale;
    std::uint64_t bits = 0;
    if (s.number == CanNumber::floating) {
        bits = s.length == 32 ? std::bit_cast<std::uint32_t>(static_cast<float>(number))
                              : std::bit_cast<std::uint64_t>(number);
    } else if (number == number) {
        const bool sign = s.number == CanNumber::twosComplement;
        const double most = std::ldexp(1.0, s.length - (sign ? 1 : 0)), least = sign ? -most : 0;
        const double whole = std::nearbyint(number);
        // A double has not got the last bits of 64: the highest that is under `most` is taken there.
        if (whole >= most)
            bits = s.length - (sign ? 1 : 0) == 64 ? ~std::uint64_t(0)
                                                   : (std::uint64_t(1) << (s.length - (sign ? 1 : 0))) - 1;
        else if (sign)
            bits = static_cast<std::uint64_t>(static_cast<std::int64_t>(std::max(whole, least)));
        else
            bits = static_cast<std::uint64_t>(std::max(whole, least));
    }
    int at = s.startBit;
    for (int i = 0; i < s.length; ++i, at = bitAfter(at, s.order)) {
        const bool bit = (bits >> (s.order == CanOrder::little ? i : s.length - 1 - i)) & 1U;
        std::uint8_t &byte = frame.data[static_cast<std::size_t>(at / byteBits)];
        const auto mask = static_cast<std::uint8_t>(1U << (at % byteBits));
        byte = static_cast<std::uint8_t>(bit ? byte | mask : byte & ~mask);
    }
    frame.size = std::max(frame.size, static_cast<std::uint8_t>(bytesOf(s)));
}

} // namespace wheelwright
