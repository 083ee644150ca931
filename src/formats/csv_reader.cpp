#include "formats/csv_reader.h"

#include "core/error.h"

#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>
#include <optional>

namespace wheelwright {
namespace {

std::string trimmed(std::string_view s) {
    const std::size_t from = s.find_first_not_of(" \t");
    if (from == std::string_view::npos) return {};
    return std::string(s.substr(from, s.find_last_not_of(" \t") - from + 1));
}

char likelyDelimiter(std::string_view text) {
    const std::string_view head = text.substr(0, 64 * 1024);
    // A tab or a semicolon is never part of a number, a comma may be: it wins only alone.
    for (char candidate : {'\t', ';'})
        if (head.find(candidate) != std::string_view::npos) return candidate;
    return ',';
}

class Splitter {
  public:
    explicit Splitter(std::string_view text) : m_text(text) {}

    CsvText split() {
        CsvText out;
        out.delimiter = likelyDelimiter(m_text);
        while (m_at < m_text.size()) {
            CsvRow row{m_line, {}};
            if (m_text[m_at] == '#') {
                skipLine();
                continue;
            }
            readRow(row, out.delimiter);
            const bool blank =
                std::ranges::all_of(row.fields, [](const std::string &f) { return f.empty(); });
            if (!blank) out.rows.push_back(std::move(row));
        }
        return out;
    }

  private:
    void skipLine() {
        while (m_at < m_text.size() && !lineEnd()) {
        }
    }

    // Steps over one character; true when it ended a line.
    bool lineEnd() {
        const char c = m_text[m_at++];
        if (c == '\r' && m_at < m_text.size() && m_text[m_at] == '\n') ++m_at;
        m_line += c == '\n' || c == '\r' ? 1 : 0;
        return c == '\n' || c == '\r';
    }

    void readRow(CsvRow &row, char delimiter) {
        std::string field;
        bool quoted = false;
        while (m_at < m_text.size()) {
            const char c = m_text[m_at];
            if (c == '"' && trimmed(field).empty() && !quoted) {
                field = readQuoted();
                quoted = true;
            } else if (c == delimiter) {
                row.fields.push_back(quoted ? field : trimmed(field));
                field.clear();
                quoted = false;
                ++m_at;
            } else if (c == '\n' || c == '\r') {
                lineEnd();
                break;
            } else {
                if (!quoted || (c != ' ' && c != '\t')) field += c;
                ++m_at;
            }
        }
        row.fields.push_back(quoted ? field : trimmed(field));
    }

    std::string readQuoted() {
        const std::size_t opened = m_line;
        std::string field;
        ++m_at;
        while (m_at < m_text.size()) {
            if (m_text[m_at] == '"') {
                if (m_at + 1 >= m_text.size() || m_text[m_at + 1] != '"') {
                    ++m_at;
                    return field;
                }
                ++m_at; // a doubled quote is one quote
            }
            m_line += m_text[m_at] == '\n' ? 1 : 0;
            field += m_text[m_at++];
        }
        throw InputError("line " + std::to_string(opened), "a closing quote", "the end of the text");
    }

    std::string_view m_text;
    std::size_t m_at = 0;
    std::size_t m_line = 1;
};

} // namespace

CsvText readCsv(std::string_view text) {
    if (text.starts_with("\xEF\xBB\xBF")) text.remove_prefix(3);
    if (const std::size_t nul = text.find('\0'); nul != std::string_view::npos)
        throw InputError("byte " + std::to_string(nul + 1), "text", "binary data");
    CsvText csv = Splitter(text).split();
    if (csv.rows.empty()) throw InputError("file", "rows of numbers", "nothing");
    return csv;
}

namespace {

std::optional<double> numberAt(const CsvText &csv, std::size_t row, std::size_t column) {
    const CsvRow &r = csv.rows[row];
    if (column >= r.fields.size() || r.fields[column].empty()) return std::nullopt;
    std::string s = r.fields[column];
    if (csv.delimiter != ',') std::ranges::replace(s, ',', '.');
    if (s.starts_with('+')) s.erase(0, 1);
    double v = 0;
    const auto [end, problem] = std::from_chars(s.data(), s.data() + s.size(), v);
    if (problem != std::errc{} || end != s.data() + s.size() || !std::isfinite(v)) return std::nullopt;
    return v;
}

} // namespace

bool isCsvNumber(const CsvText &csv, std::size_t row, std::size_t column) {
    return numberAt(csv, row, column).has_value();
}

double csvNumber(const CsvText &csv, std::size_t row, std::size_t column, const std::string &expected) {
    if (const std::optional<double> v = numberAt(csv, row, column)) return *v;
    const CsvRow &r = csv.rows[row];
    constexpr std::size_t longest = 30;
    const bool none = column >= r.fields.size() || r.fields[column].empty();
    throw InputError("line " + std::to_string(r.line) + ", column " + std::to_string(column + 1), expected,
                     none ? "nothing" : "'" + r.fields[column].substr(0, longest) + "'");
}

} // namespace wheelwright
