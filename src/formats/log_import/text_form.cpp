// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/log_import/text_form.h"

#include "core/base/error.h"
#include "core/base/iso_date.h"
#include "core/base/text.h"
#include "core/evidence/unit_text.h"

#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>
#include <cstdint>
#include <limits>
#include <map>

namespace wheelwright {
namespace {

constexpr std::size_t headSize = std::size_t{256} << 10; // what is looked at to find the form
constexpr std::size_t longestLine = std::size_t{4} << 20;

bool isBlank(char c) {
    return c == ' ' || c == '\t';
}

std::string_view trimmedView(std::string_view s) {
    while (!s.empty() && (isBlank(s.front()) || s.front() == '\r'))
        s.remove_prefix(1);
    while (!s.empty() && (isBlank(s.back()) || s.back() == '\r'))
        s.remove_suffix(1);
    return s;
}

void appendUtf8(std::string &to, std::uint32_t c) {
    if (c < 0x80) {
        to += static_cast<char>(c);
    } else if (c < 0x800) {
        to += static_cast<char>(0xC0 | c >> 6);
        to += static_cast<char>(0x80 | (c & 0x3F));
    } else if (c < 0x10000) {
        to += static_cast<char>(0xE0 | c >> 12);
        to += static_cast<char>(0x80 | (c >> 6 & 0x3F));
        to += static_cast<char>(0x80 | (c & 0x3F));
    } else {
        to += static_cast<char>(0xF0 | c >> 18);
        to += static_cast<char>(0x80 | (c >> 12 & 0x3F));
        to += static_cast<char>(0x80 | (c >> 6 & 0x3F));
        to += static_cast<char>(0x80 | (c & 0x3F));
    }
}

// Windows-1252 between 0x80 and 0x9F; the rest is Latin 1 (Unicode consortium, CP1252.TXT).
constexpr std::array<std::uint16_t, 32> windowsLetters{
    0x20AC, 0xFFFD, 0x201A, 0x0192, 0x201E, 0x2026, 0x2020, 0x2021, 0x02C6, 0x2030, 0x0160,
    0x2039, 0x0152, 0xFFFD, 0x017D, 0xFFFD, 0xFFFD, 0x2018, 0x2019, 0x201C, 0x201D, 0x2022,
    0x2013, 0x2014, 0x02DC, 0x2122, 0x0161, 0x203A, 0x0153, 0xFFFD, 0x017E, 0x0178};

TextEncoding encodingOf(std::string_view head, std::uint64_t &begins) {
    if (head.starts_with("\xEF\xBB\xBF")) return begins = 3, TextEncoding::utf8;
    if (head.starts_with("\xFF\xFE")) return begins = 2, TextEncoding::utf16LittleEndian;
    if (head.starts_with("\xFE\xFF")) return begins = 2, TextEncoding::utf16BigEndian;
    begins = 0;
    // Every other byte of a Latin text in UTF-16 is nothing.
    std::array<std::size_t, 2> nothing{};
    const std::size_t looked = std::min<std::size_t>(head.size(), 4096);
    for (std::size_t i = 0; i < looked; ++i)
        nothing[i % 2] += head[i] == '\0';
    if (nothing[1] > looked * 2 / 5 && nothing[0] < looked / 20) return TextEncoding::utf16LittleEndian;
    if (nothing[0] > looked * 2 / 5 && nothing[1] < looked / 20) return TextEncoding::utf16BigEndian;
    return TextEncoding::utf8;
}

struct Line {
    std::string_view text;
    std::size_t begins = 0; ///< byte of the decoded text
    bool ended = false;
};

// Line ends within quotes part no lines.
std::vector<Line> linesIn(std::string_view text, char lineEnd) {
    std::vector<Line> lines;
    bool quoted = false;
    std::size_t from = 0;
    for (std::size_t i = 0; i < text.size(); ++i) {
        quoted ^= text[i] == '"';
        if (text[i] != lineEnd || quoted) continue;
        lines.push_back({text.substr(from, i - from), from, true});
        from = i + 1;
    }
    if (from < text.size()) lines.push_back({text.substr(from), from, false});
    return lines;
}

// How many of the lines have the number of fields that most of them have.
struct Agreement {
    std::size_t fields = 0, lines = 0;
};

Agreement agreementOf(const std::vector<Line> &lines, std::size_t from, char delimiter) {
    std::map<std::size_t, std::size_t> counts;
    for (std::size_t i = from; i < lines.size(); ++i)
        if (!isRemark(lines[i].text)) ++counts[fieldsOf(lines[i].text, delimiter).size()];
    Agreement best;
    for (const auto &[fields, count] : counts)
        if (count >= best.lines) best = {fields, count};
    return best;
}

// The last lines are rows for certain, or nothing is; the very last may be cut.
char findDelimiter(const std::vector<Line> &lines) {
    constexpr std::size_t looked = 60;
    const std::size_t from = lines.size() > looked ? lines.size() - looked : lines.size() / 2;
    char best = ',';
    std::size_t agreeing = 0;
    for (const char d : {'\t', ';', ',', '|', ' '}) {
        const Agreement a = agreementOf(lines, from, d);
        if (a.fields < 2 || a.lines <= agreeing) continue;
        if (d == ' ' && agreeing > 0) continue;
        best = d;
        agreeing = a.lines;
    }
    return best;
}

std::vector<std::string> withoutEmptyEnd(std::vector<std::string> fields, std::size_t width) {
    while (fields.size() > width && fields.back().empty())
        fields.pop_back();
    return fields;
}

char findDecimal(const std::vector<Line> &lines, char delimiter) {
    if (delimiter == ',') return '.';
    std::size_t points = 0, commas = 0;
    for (const Line &line : lines)
        for (const std::string &field : fieldsOf(line.text, delimiter)) {
            if (textNumber(field, '.') && field.find('.') != std::string::npos) ++points;
            if (field.find(',') != std::string::npos && (textNumber(field, ',') || textClock(field, ',')))
                ++commas;
        }
    return commas > points ? ',' : '.';
}

bool looksLikeRow(const std::vector<std::string> &fields, char decimal) {
    std::size_t numbers = 0, others = 0;
    for (const std::string &f : fields) {
        if (textNumber(f, decimal) || textClock(f, decimal))
            ++numbers;
        else if (!isMissing(f))
            ++others;
    }
    return numbers > 0 && numbers >= others;
}

// "MAP (kPa)" and "MAP [kPa]": the unit where it is one.
void takeUnit(std::string &name, std::string &unit) {
    const char shut = name.empty() ? '\0' : name.back();
    if (!unit.empty() || (shut != ')' && shut != ']' && shut != '}')) return;
    const std::size_t open = name.rfind(shut == ')' ? '(' : shut == ']' ? '[' : '{');
    if (open == std::string::npos || open == 0) return;
    const std::string inner = name.substr(open + 1, name.size() - open - 2);
    if (!unitFromText(inner)) return;
    unit = inner;
    name = std::string(trimmedView(name.substr(0, open)));
}

bool looksLikeUnits(const std::vector<std::string> &fields) {
    std::size_t units = 0, others = 0;
    for (const std::string &f : fields) {
        if (f.empty() || f == "-") continue;
        unitFromText(f) ? ++units : ++others;
    }
    return units > 0 && units >= 2 * others;
}

class FormFinder {
  public:
    FormFinder(const LogBytes &bytes, std::optional<char> delimiter, std::optional<char> decimal, bool partly)
        : m_bytes(bytes), m_delimiter(delimiter), m_decimal(decimal), m_partly(partly) {}

    TextForm find() {
        readHead();
        m_form.lineEnd = m_head.find('\n') == std::string::npos ? '\r' : '\n';
        m_lines = linesIn(m_head, m_form.lineEnd);
        // What is cut by the end of what was looked at is no whole line.
        if (m_more && m_lines.size() > 1 && !m_lines.back().ended) m_lines.pop_back();
        m_form.delimiter = m_delimiter.value_or(findDelimiter(m_lines));
        m_form.decimal = m_decimal.value_or(findDecimal(m_lines, m_form.delimiter));
        const std::size_t first = findFirstRow();
        nameColumns(first);
        findKinds(first);
        dropEmptyEnd();
        leaveOutTooMany();
        return std::move(m_form);
    }

  private:
    void readHead() {
        std::string raw(static_cast<std::size_t>(std::min<std::uint64_t>(headSize, m_bytes.size())), '\0');
        raw.resize(m_bytes.read(0, raw));
        if (raw.empty())
            throw InputError("file", MARKED("expected.rows_of_numbers", "rows of numbers"),
                             MARKED("found.empty_file", "an empty file"));
        m_form.encoding = encodingOf(raw, m_form.textBegins);
        TextStream text(m_bytes, m_form.encoding, m_form.textBegins);
        while (m_head.size() < headSize && text.next(m_head, headSize)) {
        }
        m_more = text.at() < m_bytes.size();
        if (const std::size_t at = m_head.find('\0'); at != std::string::npos)
            throw InputError("byte " + std::to_string(at + 1),
                             MARKED("expected.log_text", "a log: delimited text or MDF 4"),
                             MARKED("found.binary_data", "binary data"));
    }

    // The first of two lines that look like rows, with as many fields as most lines have.
    std::size_t findFirstRow() {
        const Agreement a = agreementOf(m_lines, m_lines.size() / 2, m_form.delimiter);
        m_width = a.fields;
        const auto isRow = [&](std::size_t i) {
            if (isRemark(m_lines[i].text)) return false;
            const auto fields = fieldsOf(m_lines[i].text, m_form.delimiter);
            return fields.size() == m_width && looksLikeRow(fields, m_form.decimal);
        };
        for (std::size_t i = 0; i < m_lines.size(); ++i) {
            if (!isRow(i)) continue;
            std::size_t next = i + 1;
            while (next < m_lines.size() && isRemark(m_lines[next].text))
                ++next;
            if (next >= m_lines.size() || isRow(next) || !m_lines[next].ended) return i;
        }
        throw InputError("file", MARKED("expected.rows_of_numbers", "rows of numbers"),
                         MARKED("found.no_rows", "none: no line of numbers with delimiters between"));
    }

    // What stands right above the rows with as many fields: names, and perhaps units under them.
    void nameColumns(std::size_t first) {
        m_form.headBytes = m_lines[first].begins;
        for (std::size_t i = 0; i < first; ++i)
            m_form.firstLine +=
                1 + static_cast<std::size_t>(std::ranges::count(m_lines[i].text, m_form.lineEnd));
        std::vector<std::pair<std::string_view, std::vector<std::string>>> heads; // from the rows upwards
        for (std::size_t i = first; i-- > 0 && heads.size() < 4;) {
            std::string_view line = m_lines[i].text;
            if (trimmedView(line).empty()) continue;
            if (isRemark(line)) { // names behind a remark's sign
                if (!heads.empty()) break;
                const std::size_t behind = line.find_first_not_of("#%/ \t");
                if (behind == std::string_view::npos) continue;
                line.remove_prefix(behind);
            }
            auto fields = withoutEmptyEnd(fieldsOf(line, m_form.delimiter), m_width);
            if (fields.size() + 1 == m_width) fields.emplace_back(); // a delimiter at the end of every row
            if (fields.size() != m_width || looksLikeRow(fields, m_form.decimal)) break;
            heads.emplace_back(m_lines[i].text, std::move(fields));
        }
        if (m_width > mostLogColumns && !m_partly)
            throw InputError("line " + std::to_string(m_form.firstLine),
                             Phrase{MARKED("expected.columns", "at most {a} columns"),
                                    {},
                                    {std::to_string(mostLogColumns)}},
                             std::to_string(m_width));
        const bool units = heads.size() > 1 && looksLikeUnits(heads.front().second);
        const std::size_t names = units ? 1 : 0;
        m_form.names.resize(m_width);
        m_form.units.resize(m_width);
        for (std::size_t c = 0; c < m_width; ++c) {
            if (names < heads.size()) m_form.names[c] = asUtf8(heads[names].second[c]);
            if (units) m_form.units[c] = asUtf8(heads.front().second[c]);
            if (!units) takeUnit(m_form.names[c], m_form.units[c]);
            if (m_form.names[c].empty()) m_form.names[c] = "column " + std::to_string(c + 1);
        }
        if (names < heads.size()) m_form.headLine = std::string(trimmedView(heads[names].first));
    }

    void findKinds(std::size_t first) {
        std::vector<std::array<std::size_t, 3>> seen(m_width); // numbers, clocks, words
        constexpr std::size_t shown = 20;
        for (std::size_t i = first; i < m_lines.size(); ++i) {
            if (isRemark(m_lines[i].text) || (i + 1 == m_lines.size() && !m_lines[i].ended && i > first))
                continue;
            const auto fields = fieldsOf(m_lines[i].text, m_form.delimiter);
            if (fields.size() < m_width || trimmedView(m_lines[i].text) == m_form.headLine) continue;
            if (m_form.firstRows.size() < shown) {
                m_form.firstRows.emplace_back(fields.begin(),
                                              fields.begin() + static_cast<std::ptrdiff_t>(m_width));
                for (std::string &f : m_form.firstRows.back())
                    f = asUtf8(f);
            }
            for (std::size_t c = 0; c < m_width; ++c) {
                if (isMissing(fields[c])) continue;
                ++seen[c][textNumber(fields[c], m_form.decimal)  ? 0
                          : textClock(fields[c], m_form.decimal) ? 1
                                                                 : 2];
            }
        }
        for (const auto &[numbers, clocks, words] : seen)
            m_form.columns.push_back(words > 0 || (numbers > 0 && clocks > 0) ? wordsOrNumbers(numbers, words)
                                     : clocks > 0                             ? TextColumn::clock
                                     : numbers > 0                            ? TextColumn::number
                                                                              : TextColumn::open);
    }

    // A delimiter at the end of every row makes no column.
    void dropEmptyEnd() {
        if (m_width < 2 || m_form.columns.back() != TextColumn::open ||
            m_form.names.back() != "column " + std::to_string(m_width))
            return;
        m_form.columns.pop_back();
        m_form.names.pop_back();
        m_form.units.pop_back();
        for (std::vector<std::string> &row : m_form.firstRows)
            row.pop_back();
    }

    void leaveOutTooMany() {
        if (m_form.columns.size() <= mostLogColumns) return;
        m_form.leftOut = m_form.columns.size() - mostLogColumns;
        m_form.columns.resize(mostLogColumns);
        m_form.names.resize(mostLogColumns);
        m_form.units.resize(mostLogColumns);
        for (std::vector<std::string> &row : m_form.firstRows)
            row.resize(mostLogColumns);
    }

    // A word among very many numbers is a slip of the file, not a column of words.
    static TextColumn wordsOrNumbers(std::size_t numbers, std::size_t words) {
        return numbers > 50 * words ? TextColumn::number : TextColumn::words;
    }

    const LogBytes &m_bytes;
    std::optional<char> m_delimiter, m_decimal;
    bool m_partly;
    TextForm m_form;
    std::string m_head;
    bool m_more = false;
    std::vector<Line> m_lines;
    std::size_t m_width = 0;
};

} // namespace

TextStream::TextStream(const LogBytes &bytes, TextEncoding encoding, std::uint64_t from)
    : m_bytes(bytes), m_encoding(encoding), m_at(from) {}

bool TextStream::next(std::string &to, std::size_t bytes) {
    const std::size_t before = to.size();
    const std::uint64_t left = m_bytes.size() - std::min(m_at, m_bytes.size());
    bytes = static_cast<std::size_t>(std::min<std::uint64_t>(bytes, left + 4)); // room is dear
    if (m_encoding == TextEncoding::utf8) {
        to.resize(before + bytes);
        const std::size_t got = m_bytes.read(m_at, std::span(to).subspan(before));
        to.resize(before + got);
        m_at += got;
        return got > 0;
    }
    std::string raw(bytes / 4 * 4, '\0'); // whole pairs
    raw.resize(m_bytes.read(m_at, raw));
    const bool little = m_encoding == TextEncoding::utf16LittleEndian;
    const auto unit = [&](std::size_t i) -> std::uint32_t {
        const auto a = static_cast<unsigned char>(raw[i]), b = static_cast<unsigned char>(raw[i + 1]);
        return little ? a | b << 8 : a << 8 | b;
    };
    std::size_t i = 0;
    for (; i + 1 < raw.size(); i += 2) {
        std::uint32_t c = unit(i);
        if (c >= 0xD800 && c < 0xDC00) { // the first half of a pair
            if (i + 3 >= raw.size()) {
                if (m_at + raw.size() < m_bytes.size()) break; // the other half comes with what follows
                c = 0xFFFD;
            } else if (const std::uint32_t low = unit(i + 2); low >= 0xDC00 && low < 0xE000) {
                c = 0x10000 + ((c - 0xD800) << 10) + (low - 0xDC00);
                i += 2;
            } else {
                c = 0xFFFD;
            }
        } else if (c >= 0xDC00 && c < 0xE000) {
            c = 0xFFFD;
        }
        appendUtf8(to, c);
    }
    m_at += i == 0 ? raw.size() : i; // half a letter at the end is none
    return to.size() > before;
}

TextForm findForm(const LogBytes &bytes, std::optional<char> delimiter, std::optional<char> decimal,
                  bool partly) {
    return FormFinder(bytes, delimiter, decimal, partly).find();
}

std::vector<std::string> fieldsOf(std::string_view line, char delimiter) {
    std::vector<std::string> fields;
    std::string field;
    bool quoted = false, wasQuoted = false;
    const auto end = [&] {
        fields.push_back(wasQuoted ? field : std::string(trimmedView(field)));
        field.clear();
        wasQuoted = false;
    };
    if (delimiter == ' ') line = trimmedView(line);
    for (std::size_t i = 0; i < line.size(); ++i) {
        const char c = line[i];
        if (quoted) {
            if (c != '"')
                field += c;
            else if (i + 1 < line.size() && line[i + 1] == '"')
                field += line[++i];
            else
                quoted = false;
        } else if (c == '"' && trimmedView(field).empty()) {
            quoted = wasQuoted = true;
            field.clear();
        } else if (c == delimiter) {
            end();
            while (delimiter == ' ' && i + 1 < line.size() && line[i + 1] == ' ')
                ++i;
        } else if (!wasQuoted || (!isBlank(c) && c != '\r')) {
            field += c;
        }
    }
    end();
    return fields;
}

std::string asUtf8(std::string_view text) {
    bool wellFormed = true;
    for (std::size_t i = 0; i < text.size() && wellFormed;) {
        const std::size_t n = utf8SequenceAt(text, i);
        wellFormed = n > 0;
        i += n;
    }
    if (wellFormed) return std::string(text);
    std::string out;
    for (const char c : text) {
        const auto byte = static_cast<unsigned char>(c);
        appendUtf8(out, byte >= 0x80 && byte < 0xA0 ? windowsLetters[byte - 0x80] : byte);
    }
    return out;
}

bool isMissing(std::string_view field) {
    constexpr std::size_t longest = 5;
    if (field.empty()) return true;
    if (field.size() > longest) return false;
    std::string s;
    for (const char c : field)
        s += c >= 'A' && c <= 'Z' ? static_cast<char>(c - 'A' + 'a') : c;
    for (const std::string_view none : {"-", "--", "---", "nan", "na", "n/a", "#n/a", "null", "none", "?"})
        if (s == none) return true;
    return false;
}

bool isRemark(std::string_view line) {
    line = trimmedView(line);
    return line.empty() || line.front() == '#' || line.front() == '%' || line.starts_with("//");
}

std::optional<double> textNumber(std::string_view field, char decimal) {
    constexpr std::size_t longest = 400; // digits that a number may have
    if (field.size() > longest) return std::nullopt;
    std::string s(field);
    if (decimal != '.') {
        if (s.find('.') != std::string::npos) return std::nullopt;
        std::ranges::replace(s, decimal, '.');
    }
    const bool plus = s.starts_with('+');
    if (plus && s.size() > 1 && (s[1] == '-' || s[1] == '+')) return std::nullopt;
    double v = 0;
    const char *begin = s.data() + plus, *const end = s.data() + s.size();
    const auto [at, problem] = std::from_chars(begin, end, v);
    if (at != end || begin == end) return std::nullopt;
    if (problem == std::errc::result_out_of_range) { // too large, or so small that it is nothing
        const std::size_t e = s.find_first_of("eE");
        const bool small = (e != std::string::npos && s.find('-', e) != std::string::npos) ||
                           (e == std::string::npos && s.find('.') != std::string::npos && s.find('.') < 3);
        return small ? 0 : std::numeric_limits<double>::infinity();
    }
    if (problem != std::errc{} || std::isnan(v)) return std::nullopt;
    return v;
}

std::optional<double> textClock(std::string_view field, char decimal) {
    constexpr double perDay = 86400, perHour = 3600, perMinute = 60;
    double day = 0;
    constexpr std::size_t dateLength = 10;
    if (field.size() > dateLength && field[4] == '-') {
        const auto days = dayOf(field.substr(0, dateLength));
        if (!days || (field[dateLength] != 'T' && field[dateLength] != ' ')) return std::nullopt;
        day = *days * perDay;
        field.remove_prefix(dateLength + 1);
        if (field.ends_with('Z')) field.remove_suffix(1);
    }
    std::array<double, 3> parts{};
    std::size_t count = 0;
    for (;;) {
        const std::size_t colon = field.find(':');
        const auto v = textNumber(field.substr(0, colon), decimal);
        if (!v || !(*v >= 0) || count == parts.size()) return std::nullopt;
        parts[count++] = *v;
        if (colon == std::string_view::npos) break;
        if (*v != std::floor(*v)) return std::nullopt;
        field.remove_prefix(colon + 1);
    }
    if (count < 2) return std::nullopt;
    // Two parts are hours and minutes beside a date, else minutes and seconds.
    const double seconds = count == 3 ? parts[0] * perHour + parts[1] * perMinute + parts[2]
                           : day > 0  ? parts[0] * perHour + parts[1] * perMinute
                                      : parts[0] * perMinute + parts[1];
    return parts[count - 1] < perMinute ? std::optional(day + seconds) : std::nullopt;
}

} // namespace wheelwright
