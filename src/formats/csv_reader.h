#pragma once
#include <string>
#include <string_view>
#include <vector>

namespace wheelwright {

/// A line of a delimited text, with where it stood.
struct CsvRow {
    std::size_t line = 0;            ///< counted from 1 in the text
    std::vector<std::string> fields; ///< without quotes and outer blanks
};

/// Splits text into rows. The delimiter (tab, semicolon or comma) is the one that the first rows use most
/// evenly; a comma is a decimal point where another delimiter is in use. Byte-order mark, CRLF, blank lines
/// and lines that begin with # are skipped; quoted fields may hold delimiters, line ends and doubled quotes.
/// Throws InputError for an empty text, one with NUL bytes, or a quote that never closes.
struct CsvText {
    char delimiter = ',';
    std::vector<CsvRow> rows;
};
CsvText readCsv(std::string_view text);

/// A number with decimal point, or decimal comma where the delimiter allows. csvNumber throws InputError with
/// row and column when it is none.
bool isCsvNumber(const CsvText &csv, std::size_t row, std::size_t column);
double csvNumber(const CsvText &csv, std::size_t row, std::size_t column, const std::string &expected);

} // namespace wheelwright
