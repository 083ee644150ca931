// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <cstddef>
#include <string>
#include <string_view>
#include <vector>

namespace wheelwright {

/// Bytes of the well-formed UTF-8 sequence that begins there; 0 when none does (RFC 3629, section 4).
std::size_t utf8SequenceAt(std::string_view text, std::size_t at);

/// The lines of a text, parted by LF; what ends in one ends no empty line.
std::vector<std::string> linesOf(std::string_view text);

} // namespace wheelwright
