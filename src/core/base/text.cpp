// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/text.h"

#include <algorithm>

namespace wheelwright {

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
