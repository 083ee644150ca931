// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/evidence/log_bytes.h"
#include "core/evidence/log_source.h"

#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace wheelwright {

/// Columns that a log may have.
inline constexpr std::size_t mostLogColumns = 4096;

/// How the letters of a text are kept. Windows-1252 is told from UTF-8 by what is no UTF-8.
enum class TextEncoding { utf8, utf16LittleEndian, utf16BigEndian };

/// A text from its beginning on as UTF-8 (or as it is, where letters beyond ASCII are in Windows-1252).
class TextStream {
  public:
    TextStream(const LogBytes &bytes, TextEncoding encoding, std::uint64_t from);
    /// Appends some of what follows; false at the end.
    bool next(std::string &to, std::size_t bytes);
    std::uint64_t at() const { return m_at; } ///< byte of the file that comes next

  private:
    const LogBytes &m_bytes;
    TextEncoding m_encoding;
    std::uint64_t m_at;
};

enum class TextColumn {
    number,
    clock, ///< 12:34:56.7, or a date and a time
    words,
    open ///< nothing in it so far: whatever comes first decides
};

/// How a delimited text is written, found from its beginning.
struct TextForm {
    TextEncoding encoding = TextEncoding::utf8;
    std::uint64_t textBegins = 0; ///< behind a byte-order mark
    char delimiter = ',', decimal = '.', lineEnd = '\n';
    std::vector<std::string> names, units;
    std::vector<TextColumn> columns;
    std::string headLine;      ///< the names as they stand there: a second log may follow in the same file
    std::size_t leftOut = 0;   ///< columns behind those: there were too many
    std::size_t headBytes = 0; ///< of the decoded text before the first row
    std::size_t firstLine = 1; ///< of the first row, from 1
    std::vector<std::vector<std::string>> firstRows;
};

/// Throws InputError for what is no text, holds no rows of numbers, or has too many columns. What is given
/// is not looked for. partly: of too many columns the first are taken.
TextForm findForm(const LogBytes &bytes, std::optional<char> delimiter, std::optional<char> decimal,
                  bool partly = false);

/// One line as its fields, without quotes and outer blanks.
std::vector<std::string> fieldsOf(std::string_view line, char delimiter);
/// Letters as UTF-8: bytes that are no UTF-8 are taken for Windows-1252.
std::string asUtf8(std::string_view text);
bool isMissing(std::string_view field); ///< empty, "NaN", "-", "N/A" …
bool isRemark(std::string_view line);   ///< empty or blank, or one that begins with #, % or //
/// A number with this decimal sign; not finite ones too.
std::optional<double> textNumber(std::string_view field, char decimal);
/// Seconds of a time of day, or since 1970 of a date and a time (ISO 8601; a blank for the T).
std::optional<double> textClock(std::string_view field, char decimal);

} // namespace wheelwright
