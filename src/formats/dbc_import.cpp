// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/dbc_import.h"

#include "core/base/error.h"
#include "core/base/text.h"
#include "formats/can_map_json.h"

#include <algorithm>
#include <charconv>

namespace wheelwright {
namespace {

constexpr std::uint64_t longIdMark = 0x80000000; // in the number of a message: it has 29 bits
constexpr std::uint64_t noMessage = 0xC0000000;  // that holds signals of no message

bool allUtf8(std::string_view text) {
    for (std::size_t at = 0; at < text.size();) {
        const std::size_t n = utf8SequenceAt(text, at);
        if (n == 0) return false;
        at += n;
    }
    return true;
}

std::string fromLatin1(std::string_view text) {
    std::string out;
    constexpr unsigned char ascii = 0x80, top = 0xC0, low = 0x3F;
    constexpr int six = 6;
    for (const char c : text) {
        const auto u = static_cast<unsigned char>(c);
        if (u < ascii) {
            out += c;
        } else {
            out += static_cast<char>(top | (u >> six));
            out += static_cast<char>(ascii | (u & low));
        }
    }
    return out;
}

/// One line, taken apart from the left.
class DbcLine {
  public:
    DbcLine(std::string_view text, std::size_t line) : m_rest(text), m_line(line) {}

    void blanks() {
        while (!m_rest.empty() && (m_rest.front() == ' ' || m_rest.front() == '\t'))
            m_rest.remove_prefix(1);
    }
    bool ends() {
        blanks();
        return m_rest.empty();
    }
    bool takes(char c) {
        blanks();
        if (m_rest.empty() || m_rest.front() != c) return false;
        m_rest.remove_prefix(1);
        return true;
    }
    void need(char c) {
        if (!takes(c)) refuse(Phrase{MARKED("expected.this_sign", "'{a}'"), {}, {std::string(1, c)}});
    }
    std::string word() {
        blanks();
        std::size_t n = 0;
        while (n < m_rest.size() &&
               (std::isalnum(static_cast<unsigned char>(m_rest[n])) != 0 || m_rest[n] == '_'))
            ++n;
        if (n == 0) refuse(MARKED("expected.a_name", "a name"));
        std::string out(m_rest.substr(0, n));
        m_rest.remove_prefix(n);
        return out;
    }
    template <class T>
    T number() {
        blanks();
        if (!m_rest.empty() && m_rest.front() == '+') m_rest.remove_prefix(1);
        T v{};
        const auto [end, error] = std::from_chars(m_rest.data(), m_rest.data() + m_rest.size(), v);
        if (error != std::errc{}) refuse(MARKED("expected.a_number", "a number"));
        m_rest.remove_prefix(static_cast<std::size_t>(end - m_rest.data()));
        return v;
    }
    std::string quoted() {
        need('"');
        const std::size_t end = m_rest.find('"');
        if (end == std::string_view::npos) refuse(MARKED("expected.closing_quote", "a closing quote"));
        std::string out(m_rest.substr(0, end));
        m_rest.remove_prefix(end + 1);
        return out;
    }
    [[noreturn]] void refuse(const Phrase &expected) const {
        throw InputError("line " + std::to_string(m_line), expected,
                         m_rest.empty() ? std::string("its end")
                                        : "'" + echoed(std::string(m_rest), 30) + "'");
    }

  private:
    std::string_view m_rest;
    std::size_t m_line;
};

class DbcReader {
  public:
    DbcImport read(std::string_view text) {
        std::size_t line = 0;
        bool any = false;
        while (!text.empty()) {
            ++line;
            const std::size_t end = text.find('\n');
            std::string_view one = text.substr(0, end);
            text.remove_prefix(end == std::string_view::npos ? text.size() : end + 1);
            if (!one.empty() && one.back() == '\r') one.remove_suffix(1);
            any |= take(one, line);
        }
        if (!any)
            throw InputError(
                "file",
                MARKED("expected.dbc", "a description of CAN frames: lines that begin with BO_ and SG_"),
                std::string("none"));
        validate(m_out.map);
        return std::move(m_out);
    }

  private:
    // Whether it is a line of a message or a signal.
    bool take(std::string_view one, std::size_t number) {
        // A comment in quotes may go over lines, and hold anything.
        const bool inside = m_inQuotes;
        if (std::ranges::count(one, '"') % 2 == 1) m_inQuotes = !m_inQuotes;
        if (inside) return false;
        const std::size_t from = one.find_first_not_of(" \t");
        if (from == std::string_view::npos) return false;
        one.remove_prefix(from);
        const auto begins = [&](std::string_view word) {
            return one.starts_with(word) && one.size() > word.size() &&
                   (one[word.size()] == ' ' || one[word.size()] == '\t');
        };
        if (begins("BO_")) {
            message(DbcLine(one.substr(3), number));
            return true;
        }
        if (begins("SG_")) {
            signal(DbcLine(one.substr(3), number), number);
            return true;
        }
        if (begins("SIG_VALTYPE_")) floating(DbcLine(one.substr(12), number));
        if (begins("SG_MUL_VAL_"))
            m_out.warnings.push_back(
                {MARKED("dbc.extended", "Line {0}: multiplexers of several steps are not known."),
                 {{static_cast<double>(number), Dimension::count}}});
        return false;
    }

    void message(DbcLine line) {
        const auto id = line.number<std::uint64_t>();
        CanMessage m;
        m.name = line.word();
        line.need(':');
        m.size = line.number<int>();
        m_skips = id == noMessage;
        if (m_skips) return;
        if (id > (longIdMark | mostLongId))
            line.refuse(MARKED("expected.can_dbc_id", "an identifier of 29 bits"));
        m.extended = (id & longIdMark) != 0;
        m.id = static_cast<std::uint32_t>(id & ~longIdMark);
        m_out.map.messages.push_back(std::move(m));
    }

    void signal(DbcLine line, std::size_t number) {
        CanSignal s;
        s.name = line.word();
        if (!line.takes(':')) {
            const std::string mark = line.word();
            line.need(':');
            if (mark == "M") {
                s.multiplexer = true;
            } else {
                std::uint64_t value = 0;
                const char *from = mark.data() + 1, *to = mark.data() + mark.size();
                const auto [end, error] = std::from_chars(from, to, value);
                if (mark.front() != 'm' || error != std::errc{} ||
                    (end != to && std::string_view(end, to) != "M"))
                    line.refuse(MARKED("expected.can_mark", "M or m and a number"));
                if (end != to) {
                    m_out.warnings.push_back(
                        {MARKED(
                             "dbc.left_out",
                             "Line {0}: {a} is a multiplexer within another, which is not known; left out."),
                         {{static_cast<double>(number), Dimension::count}},
                         {s.name}});
                    return;
                }
                s.multiplexValue = value;
            }
        }
        s.startBit = line.number<int>();
        line.need('|');
        s.length = line.number<int>();
        line.need('@');
        s.order = line.number<int>() == 0 ? CanOrder::big : CanOrder::little;
        if (line.takes('-'))
            s.number = CanNumber::twosComplement;
        else
            line.need('+');
        line.need('(');
        s.scale = line.number<double>();
        line.need(',');
        s.offset = line.number<double>();
        line.need(')');
        line.need('[');
        line.number<double>();
        line.need('|');
        line.number<double>();
        line.need(']');
        s.unit = line.quoted();
        if (m_skips) return;
        if (m_out.map.messages.empty())
            line.refuse(MARKED("expected.can_message_first", "a message (BO_) before its signals"));
        m_out.map.messages.back().numbers.push_back(std::move(s));
    }

    void floating(DbcLine line) {
        const auto id = line.number<std::uint64_t>();
        const std::string name = line.word();
        line.takes(':');
        const int kind = line.number<int>();
        constexpr int single = 1, twice = 2;
        if (kind != single && kind != twice) return; // whole numbers, as without this line
        for (CanMessage &m : m_out.map.messages)
            if (m.id == (id & ~longIdMark) && m.extended == ((id & longIdMark) != 0))
                for (CanSignal &s : m.numbers)
                    if (s.name == name) s.number = CanNumber::floating;
    }

    DbcImport m_out;
    bool m_inQuotes = false, m_skips = false;
};

} // namespace

DbcImport canMapFromDbc(std::string_view text) {
    if (allUtf8(text)) return DbcReader().read(text);
    return DbcReader().read(fromLatin1(text));
}

DbcImport canMapFromEither(std::string_view text) {
    const std::size_t first = text.find_first_not_of(" \t\r\n");
    if (first != std::string_view::npos && text[first] == '{') return {canMapFromJson(text), {}};
    return canMapFromDbc(text);
}

} // namespace wheelwright
