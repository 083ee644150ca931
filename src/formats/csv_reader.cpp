// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/csv_reader.h"

#include "core/base/error.h"

#include <algorithm>
#include <charconv>
#include <cmath>
#include <istream>
#include <optional>
#include <sstream>

namespace wheelwright {
namespace {

constexpr std::size_t longestField = 1000, longestText = 256u << 20; // bytes

std::string trimmed(std::string_view s) {
    const std::size_t from = s.find_first_not_of(" \t");
    if (from == std::string_view::npos) return {};
    return std::string(s.substr(from, s.find_last_not_of(" \t") - from + 1));
}

// Characters of a stream, one ahead, with the line that the next stands in.
class Source {
  public:
    explicit Source(std::istream &in) : m_in(in) { fill(); }

    /// What comes next, a buffer of it, or all there is.
    std::string_view ahead() {
        std::copy(m_buffer.begin() + static_cast<std::ptrdiff_t>(m_at),
                  m_buffer.begin() + static_cast<std::ptrdiff_t>(m_filled), m_buffer.begin());
        m_before += m_at;
        m_filled -= m_at;
        m_at = 0;
        m_in.read(m_buffer.data() + m_filled, static_cast<std::streamsize>(m_buffer.size() - m_filled));
        m_filled += static_cast<std::size_t>(m_in.gcount());
        return {m_buffer.data(), m_filled};
    }
    bool atEnd() const { return m_at == m_filled; }
    char peek() const { return m_buffer[m_at]; }
    std::size_t line() const { return m_line; }
    void skip(std::size_t bytes) { m_at += bytes; } // of what is ahead

    char take() {
        const char c = m_buffer[m_at++];
        if (c == '\0')
            throw InputError("byte " + std::to_string(m_before + m_at),
                             MARKED("expected.utf_8_text", "UTF-8 text"),
                             MARKED("found.binary_data_or_text_in_utf_16", "binary data, or text in UTF-16"));
        if (m_at == m_filled) fill();
        // A CRLF is one end of a line, counted with its LF.
        if (c == '\n' || (c == '\r' && (atEnd() || peek() != '\n'))) ++m_line;
        return c;
    }

  private:
    void fill() {
        m_before += m_filled;
        if (m_before > longestText)
            throw InputError("file", MARKED("expected.at_most_256_mib", "at most 256 MiB"),
                             MARKED("found.more", "more"));
        m_in.read(m_buffer.data(), static_cast<std::streamsize>(m_buffer.size()));
        m_filled = static_cast<std::size_t>(m_in.gcount());
        m_at = 0;
    }

    std::istream &m_in;
    std::vector<char> m_buffer = std::vector<char>(std::size_t{64} * 1024);
    std::size_t m_filled = 0, m_at = 0, m_before = 0, m_line = 1;
};

// Of the first row, outside quotes: a tab or a semicolon is never part of a number, a comma may be, and wins
// only alone.
char likelyDelimiter(std::string_view row) {
    bool quoted = false, semicolon = false;
    for (const char c : row) {
        if (c == '"') quoted = !quoted;
        if (quoted) continue;
        if (c == '\t') return '\t';
        if (c == '\n' || c == '\r') break;
        semicolon |= c == ';';
    }
    return semicolon ? ';' : ',';
}

class Splitter {
  public:
    explicit Splitter(std::istream &text) : m_source(text) {}

    CsvText split() {
        nameEncoding();
        skipRemarks();
        CsvText out;
        out.delimiter = likelyDelimiter(m_source.ahead());
        for (; !m_source.atEnd(); skipRemarks()) {
            CsvRow row{m_source.line(), {}};
            readRow(row, out.delimiter);
            if (std::ranges::all_of(row.fields, [](const std::string &f) { return f.empty(); })) continue;
            if (out.rows.size() == mostCsvRows)
                throw InputError(
                    "line " + std::to_string(row.line),
                    Phrase{MARKED("expected.rows", "at most {a} rows"), {}, {std::to_string(mostCsvRows)}},
                    MARKED("found.another", "another"));
            out.rows.push_back(std::move(row));
        }
        if (out.rows.empty())
            throw InputError("file", MARKED("expected.rows_of_numbers", "rows of numbers"),
                             MARKED("found.nothing", "nothing"));
        return out;
    }

  private:
    void nameEncoding() {
        const std::string_view head = m_source.ahead();
        if (head.starts_with("\xFF\xFE") || head.starts_with("\xFE\xFF"))
            throw InputError("file", MARKED("expected.utf_8_text", "UTF-8 text"),
                             MARKED("found.text_utf_16_save_utf", "text in UTF-16; save it as UTF-8"));
        if (head.starts_with("\xEF\xBB\xBF")) m_source.skip(3);
    }

    // Also blank lines.
    void skipRemarks() {
        while (!m_source.atEnd() && (m_source.peek() == '#' || lineEnd(m_source.peek())))
            while (!m_source.atEnd() && !lineEnd(m_source.take())) {
            }
    }

    static bool lineEnd(char c) { return c == '\n' || c == '\r'; }

    void readRow(CsvRow &row, char delimiter) {
        std::string field;
        bool quoted = false;
        const auto finish = [&] {
            if (row.fields.size() == mostCsvColumns)
                throw InputError("line " + std::to_string(row.line),
                                 Phrase{MARKED("expected.columns", "at most {a} columns"),
                                        {},
                                        {std::to_string(mostCsvColumns)}},
                                 MARKED("found.more", "more"));
            row.fields.push_back(quoted ? field : trimmed(field));
        };
        while (!m_source.atEnd()) {
            if (m_source.peek() == '"' && !quoted && trimmed(field).empty()) {
                field = readQuoted();
                quoted = true;
                continue;
            }
            const char c = m_source.take();
            if (c == delimiter) {
                finish();
                field.clear();
                quoted = false;
            } else if (lineEnd(c)) {
                if (c == '\r' && !m_source.atEnd() && m_source.peek() == '\n') m_source.take();
                break;
            } else if (quoted && c != ' ' && c != '\t') {
                throw InputError("line " + std::to_string(row.line),
                                 MARKED("expected.a_delimiter_after_the_closing_quote",
                                        "a delimiter after the closing quote"),
                                 std::string("'") + c + "'");
            } else if (!quoted) {
                append(field, c);
            }
        }
        finish();
    }

    void append(std::string &field, char c) const {
        if (field.size() == longestField)
            throw InputError("line " + std::to_string(m_source.line()),
                             Phrase{MARKED("expected.bytes", "fields of at most {a} bytes"),
                                    {},
                                    {std::to_string(longestField)}},
                             MARKED("found.a_longer_one", "a longer one"));
        field += c;
    }

    std::string readQuoted() {
        const std::size_t opened = m_source.line();
        std::string field;
        m_source.take();
        while (!m_source.atEnd()) {
            const char c = m_source.take();
            if (c != '"') {
                append(field, c);
            } else if (m_source.atEnd() || m_source.peek() != '"') {
                return field;
            } else {
                field += m_source.take(); // a doubled quote is one quote
            }
        }
        throw InputError("line " + std::to_string(opened),
                         MARKED("expected.a_closing_quote", "a closing quote"),
                         MARKED("found.the_end_of_the_text", "the end of the text"));
    }

    Source m_source;
};

// Whether a point or comma in a number is a decimal sign or parts thousands.

struct Signs {
    std::size_t points = 0, commas = 0;
    bool maybeThousands = false; ///< one sign, 1 to 3 digits before it and 3 after
    char sign() const { return points > 0 ? '.' : ','; }
};

// Empty for what is no number of digits, points and commas.
std::optional<Signs> signsOf(std::string_view field) {
    if (field.starts_with('+') || field.starts_with('-')) field.remove_prefix(1);
    Signs out;
    std::size_t digits = 0;
    for (const char c : field) {
        out.points += c == '.';
        out.commas += c == ',';
        digits += c >= '0' && c <= '9';
        const bool exponent = (c == 'e' || c == 'E' || c == '+' || c == '-') && digits > 0;
        if (c != '.' && c != ',' && !(c >= '0' && c <= '9') && !exponent) return std::nullopt;
    }
    if (digits == 0 || out.points + out.commas == 0) return std::nullopt;
    const std::size_t at = field.find_first_of(".,");
    constexpr std::size_t group = 3;
    out.maybeThousands = out.points + out.commas == 1 && digits + 1 == field.size() && at >= 1 &&
                         at <= group && field.size() - at - 1 == group && field.front() != '0';
    return out;
}

void requireOneDecimalSign(const CsvText &csv) {
    if (csv.delimiter == ',') return; // the comma has its work
    bool pointProven = false, commaProven = false;
    const auto each = [&csv](const auto &look) {
        for (const CsvRow &row : csv.rows)
            for (std::size_t c = 0; c < row.fields.size(); ++c)
                if (const auto signs = signsOf(row.fields[c])) look(*signs, row, c);
    };
    each([&](const Signs &s, const CsvRow &, std::size_t) {
        if (s.points + s.commas != 1 || s.maybeThousands) return;
        pointProven |= s.points == 1;
        commaProven |= s.commas == 1;
    });
    each([&](const Signs &s, const CsvRow &row, std::size_t c) {
        const bool proven = s.points > 0 ? pointProven : commaProven;
        const bool other = s.points > 0 ? commaProven : pointProven;
        if (s.points + s.commas == 1 && (!s.maybeThousands || (proven && !other))) return;
        throw InputError("line " + std::to_string(row.line) + ", column " + std::to_string(c + 1),
                         MARKED("expected.decimal_sign_no_marks_between",
                                "one decimal sign and no marks between thousands, such as 1000 or 1000.5"),
                         "'" + echoed(row.fields[c], 30) + "', which may be either");
    });
}

std::optional<double> numberAt(const CsvText &csv, std::size_t row, std::size_t column) {
    const CsvRow &r = csv.rows[row];
    if (column >= r.fields.size() || r.fields[column].empty()) return std::nullopt;
    std::string s = r.fields[column];
    if (csv.delimiter != ',') std::ranges::replace(s, ',', '.');
    if (s.starts_with('+')) s.erase(0, 1);
    if (s.empty() || (s.front() == '-' && r.fields[column].front() == '+')) return std::nullopt;
    double v = 0;
    const auto [end, problem] = std::from_chars(s.data(), s.data() + s.size(), v);
    if (problem != std::errc{} || end != s.data() + s.size() || !std::isfinite(v)) return std::nullopt;
    return v;
}

} // namespace

CsvText readCsv(std::istream &text) {
    CsvText csv = Splitter(text).split();
    requireOneDecimalSign(csv);
    return csv;
}

CsvText readCsv(std::string_view text) {
    std::istringstream in{std::string(text)};
    return readCsv(in);
}

bool isCsvNumber(const CsvText &csv, std::size_t row, std::size_t column) {
    return numberAt(csv, row, column).has_value();
}

double csvNumber(const CsvText &csv, std::size_t row, std::size_t column, const Phrase &expected) {
    if (const std::optional<double> v = numberAt(csv, row, column)) return *v;
    const CsvRow &r = csv.rows[row];
    constexpr std::size_t longest = 30;
    const bool none = column >= r.fields.size() || r.fields[column].empty();
    throw InputError("line " + std::to_string(r.line) + ", column " + std::to_string(column + 1), expected,
                     none ? "nothing" : "'" + echoed(r.fields[column], longest) + "'");
}

} // namespace wheelwright
