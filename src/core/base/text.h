// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <cstddef>
#include <string>
#include <string_view>
#include <vector>

namespace wheelwright {

/// Bytes of the well-formed UTF-8 sequence that begins there; 0 when none does (RFC 3629, section 4).
std::size_t utf8SequenceAt(std::string_view text, std::size_t at);

/// Digits behind the point as many as asked for, without a negative zero; in the same way whatever the locale
/// of the process is, which the C library's functions are not.
std::string fixedNumber(double v, int decimals, char decimalPoint = '.');
/// So many digits that count at most: 3000, 0.333333, 1e-09.
std::string generalNumber(double v, int digits = 6, char decimalPoint = '.');
/// The shortest text that reads back as the same number.
std::string exactNumber(double v, char decimalPoint = '.');

/// The lines of a text, parted by LF; what ends in one ends no empty line.
std::vector<std::string> linesOf(std::string_view text);

} // namespace wheelwright
