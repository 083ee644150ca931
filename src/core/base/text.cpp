// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/text.h"

#include <algorithm>
#include <array>
#include <charconv>

namespace wheelwright {
namespace {

constexpr std::size_t mostDigits = 400; // of 1.8e308 with some behind the point

template <class... How>
std::string digitsOf(double v, char decimalPoint, How... how) {
    std::array<char, mostDigits> buffer{};
    const auto end = std::to_chars(buffer.data(), buffer.data() + buffer.size(), v, how...).ptr;
    std::string text(buffer.data(), end);
    if (decimalPoint != '.') std::ranges::replace(text, '.', decimalPoint);
    return text;
}

} // namespace

std::string fixedNumber(double v, int decimals, char decimalPoint) {
    std::string text = digitsOf(v, decimalPoint, std::chars_format::fixed, decimals);
    const char zero[] = {'-', '0', decimalPoint, '\0'};
    if (text.front() == '-' && text.find_first_not_of(zero) == std::string::npos) text.erase(0, 1);
    return text;
}

std::string generalNumber(double v, int digits, char decimalPoint) {
    return digitsOf(v, decimalPoint, std::chars_format::general, digits);
}

std::string exactNumber(double v, char decimalPoint) {
    return digitsOf(v, decimalPoint);
}

std::size_t utf8SequenceAt(std::string_view s, std::size_t at) {
    const auto byte = [&](std::size_t i) -> unsigned {
        return at + i < s.size() ? static_cast<unsigned char>(s[at + i]) : 0u;
    };
    const auto follows = [&](std::size_t i) { return (byte(i) & 0xC0) == 0x80; };
    const unsigned c = byte(0);
    if (c < 0x80) return 1;
    if (c >= 0xC2 && c < 0xE0 && follows(1)) return 2;
    if (c >= 0xE0 && c < 0xF0 && follows(1) && follows(2) && !(c == 0xE0 && byte(1) < 0xA0) &&
        !(c == 0xED && byte(1) >= 0xA0))
        return 3;
    if (c >= 0xF0 && c < 0xF5 && follows(1) && follows(2) && follows(3) && !(c == 0xF0 && byte(1) < 0x90) &&
        !(c == 0xF4 && byte(1) >= 0x90))
        return 4;
    return 0;
}

std::vector<std::string> linesOf(std::string_view text) {
    std::vector<std::string> lines;
    for (std::size_t from = 0; from < text.size();) {
        const std::size_t to = std::min(text.find('\n', from), text.size());
        lines.emplace_back(text.substr(from, to - from));
        from = to + 1;
    }
    return lines;
}

} // namespace wheelwright
