// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/phrase.h"

#include <iosfwd>
#include <string>
#include <string_view>
#include <vector>

namespace wheelwright {

/// A line of a delimited text, with where it stood.
struct CsvRow {
    std::size_t line = 0;            ///< counted from 1 in the text
    std::vector<std::string> fields; ///< without quotes and outer blanks
};

/// A delimited text. Its delimiter is the tab, else the semicolon, that its first row holds outside quotes,
/// else the comma; a comma is a decimal sign where another delimiter is in use.
struct CsvText {
    char delimiter = ',';
    std::vector<CsvRow> rows;
};

/// A table has at most 64 breakpoints on each axis; what is larger is refused as soon as that shows.
inline constexpr std::size_t mostCsvRows = 65, mostCsvColumns = 65;

/// Reads the text as it comes, without holding more than its rows. Byte-order mark, CRLF, blank lines and
/// lines that begin with # are skipped; quoted fields may hold delimiters, line ends and doubled quotes.
/// Throws InputError for an empty text, text that is not UTF-8, binary data, a quote that never closes, more
/// rows or columns than a table has, and for numbers of which nobody can say whether their point or comma is
/// a decimal sign or parts thousands (1.000 beside 10,5).
CsvText readCsv(std::istream &text);
CsvText readCsv(std::string_view text);

/// A number with decimal point, or decimal comma where the delimiter allows. csvNumber throws InputError with
/// row and column when it is none.
bool isCsvNumber(const CsvText &csv, std::size_t row, std::size_t column);
double csvNumber(const CsvText &csv, std::size_t row, std::size_t column, const Phrase &expected);

} // namespace wheelwright
