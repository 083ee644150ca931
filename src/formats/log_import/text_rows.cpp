// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/log_import/text_rows.h"

#include "core/base/error.h"
#include "formats/log_import/number_text.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace wheelwright {
namespace {

constexpr double noSample = std::numeric_limits<double>::quiet_NaN();
constexpr double mostSingle = std::numeric_limits<float>::max(); // samples are kept in 4 bytes

class RowReader {
  public:
    RowReader(const TextForm &form, TextBlock &block)
        : m_form(form), m_block(block), m_at(block.text.data()), m_end(m_at + block.text.size()),
          m_begin(m_at), m_spaced(form.delimiter == ' ') {}

    void readAll() {
        prepare();
        while (m_at < m_end) {
            const char *const begin = m_at;
            if (!readRow()) {
                if (isHeadAgain(begin)) continue;
                return fail(begin);
            }
        }
        m_block.lines += linesIn(m_begin, m_at);
    }

  private:
    void prepare() {
        m_block.rows = m_block.lines = m_block.infinite = m_block.heads = 0;
        m_block.words.clear();
        m_block.trouble.reset();
        m_block.room = linesIn(m_begin, m_end) + 1;
        m_block.numbers.resize(m_block.room * m_form.columns.size());
    }

    std::size_t linesIn(const char *from, const char *to) const {
        return static_cast<std::size_t>(std::count(from, to, m_form.lineEnd));
    }

    // A CR alone ends a line only where all of them do.
    bool atLineEnd() const {
        return m_at == m_end || *m_at == m_form.lineEnd ||
               (*m_at == '\r' && (m_at + 1 == m_end || m_at[1] == m_form.lineEnd));
    }

    void skipBlanks() {
        while (*m_at == ' ' || (*m_at == '\t' && m_form.delimiter != '\t'))
            ++m_at;
    }

    void skipLineEnd() {
        if (m_at < m_end && *m_at == '\r') ++m_at;
        if (m_at < m_end && *m_at == m_form.lineEnd && m_form.lineEnd != '\r') ++m_at;
    }

    void skipLine() {
        while (m_at < m_end && *m_at != m_form.lineEnd)
            ++m_at;
        if (m_at < m_end) ++m_at;
    }

    // Whether the line is none of a row: blank, or a remark.
    bool skipRemark() {
        const char *const begin = m_at;
        skipBlanks();
        if (atLineEnd() && (m_form.delimiter != '\t' || m_at == begin || *begin != '\t')) {
            skipLineEnd();
            return true;
        }
        if (*m_at == '#' || *m_at == '%' || (*m_at == '/' && m_at + 1 < m_end && m_at[1] == '/')) {
            skipLine();
            return true;
        }
        m_at = begin;
        return false;
    }

    bool readRow() {
        if (skipRemark()) return true;
        const std::size_t width = m_form.columns.size(), words = m_block.words.size();
        const std::size_t infinite = m_block.infinite;
        double *to = m_block.numbers.data() + m_block.rows;
        for (std::size_t c = 0; c < width; ++c, to += m_block.room) {
            skipBlanks();
            if (!readField(c, *to) || !passDelimiter(c, width)) {
                m_block.words.resize(words);
                m_block.infinite = infinite;
                return false;
            }
        }
        ++m_block.rows;
        return true;
    }

    bool readField(std::size_t c, double &to) {
        if (m_form.columns[c] == TextColumn::number) {
            if (const char *behind = fastNumber(m_at, m_form.decimal, to)) {
                m_at = behind;
                skipBlanks();
                if (atLineEnd() || *m_at == m_form.delimiter || m_spaced) return true;
                return trouble(c, MARKED("expected.a_number", "a number"), fieldAround(behind));
            }
        }
        return readSlowly(c, to);
    }

    // Up to the next delimiter outside quotes.
    bool readSlowly(std::size_t c, double &to) {
        const char *const begin = m_at;
        m_field.clear();
        bool quoted = false;
        if (*m_at == '"') {
            quoted = true;
            for (++m_at;; ++m_at) {
                if (m_at == m_end)
                    return trouble(c, MARKED("expected.a_closing_quote", "a closing quote"),
                                   MARKED("found.the_end_of_the_text", "the end of the text"));
                if (*m_at != '"') {
                    m_field += *m_at;
                } else if (m_at[1] == '"') {
                    m_field += *++m_at;
                } else {
                    ++m_at;
                    break;
                }
            }
            skipBlanks();
            if (!atLineEnd() && *m_at != m_form.delimiter)
                return trouble(c,
                               MARKED("expected.a_delimiter_after_the_closing_quote",
                                      "a delimiter after the closing quote"),
                               verbatim("'" + echoed(std::string(1, *m_at), 4) + "'"));
        } else {
            while (!atLineEnd() && *m_at != m_form.delimiter)
                ++m_at;
            const char *last = m_at;
            while (last > begin && (last[-1] == ' ' || last[-1] == '\t'))
                --last;
            m_field.assign(begin, last);
        }
        return take(c, to, quoted);
    }

    bool take(std::size_t c, double &to, bool quoted) {
        to = noSample;
        switch (m_form.columns[c]) {
        case TextColumn::words:
        case TextColumn::open:
            if (!m_field.empty() && (quoted || !isMissing(m_field)))
                m_block.words.push_back({m_block.rows, c, m_field});
            return true;
        case TextColumn::clock:
            if (isMissing(m_field)) return true;
            if (const auto v = textClock(m_field, m_form.decimal)) return to = *v, true;
            return trouble(c, MARKED("expected.a_time", "a time such as 12:34:56.7"),
                           verbatim("'" + echoed(m_field, 30) + "'"));
        case TextColumn::number:
            break;
        }
        if (isMissing(m_field)) return true;
        const auto v = textNumber(m_field, m_form.decimal);
        if (!v)
            return trouble(c, MARKED("expected.a_number", "a number"),
                           verbatim("'" + echoed(m_field, 30) + "'"));
        if (std::abs(*v) <= mostSingle) return to = *v, true;
        if (m_block.infinite++ == 0) {
            m_block.infiniteRow = m_block.rows;
            m_block.infiniteColumn = c;
        }
        return true;
    }

    bool passDelimiter(std::size_t c, std::size_t width) {
        if (c + 1 < width) {
            if (m_at < m_end && *m_at == m_form.delimiter) return ++m_at, true;
            if (m_spaced && !atLineEnd()) return true; // blanks were skipped
            return wrongWidth(c + 1);
        }
        if (m_form.leftOut > 0) return skipLine(), true; // without a look at what is there
        std::size_t more = 0;
        for (; m_at < m_end && !atLineEnd(); ++m_at) { // delimiters that end a row are nothing
            if (*m_at == m_form.delimiter)
                ++more;
            else if (*m_at != ' ' && *m_at != '\t')
                return wrongWidth(width + std::max<std::size_t>(1, countedFields(more)));
        }
        skipLineEnd();
        return true;
    }

    // Fields from here to the end of the line, behind `more` delimiters.
    std::size_t countedFields(std::size_t more) const {
        const char *p = m_at;
        while (p < m_end && *p != m_form.lineEnd)
            more += *p++ == m_form.delimiter;
        return more;
    }

    bool wrongWidth(std::size_t found) {
        m_trouble =
            RowTrouble{0,
                       std::min(found, m_form.columns.size()) - 1,
                       Phrase{MARKED("expected.columns_as_names", "{a} columns, as in the first rows"),
                              {},
                              {std::to_string(m_form.columns.size())}},
                       verbatim(std::to_string(found)),
                       false,
                       false};
        return false;
    }

    bool trouble(std::size_t column, const Phrase &expected, const Phrase &found) {
        m_trouble = RowTrouble{0, column, expected, found, false, false};
        return false;
    }

    Phrase fieldAround(const char *at) const {
        const char *begin = at, *end = at;
        while (begin > m_begin && begin[-1] != m_form.delimiter && begin[-1] != m_form.lineEnd)
            --begin;
        while (end < m_end && *end != m_form.delimiter && *end != m_form.lineEnd && *end != '\r')
            ++end;
        return verbatim("'" + echoed(std::string_view(begin, static_cast<std::size_t>(end - begin)), 30) +
                        "'");
    }

    // A second log behind the first brings its names again.
    bool isHeadAgain(const char *begin) {
        if (m_form.headLine.empty()) return false;
        const char *end = begin;
        while (end < m_end && *end != m_form.lineEnd)
            ++end;
        std::string_view line(begin, static_cast<std::size_t>(end - begin));
        while (!line.empty() && (line.back() == '\r' || line.back() == ' '))
            line.remove_suffix(1);
        if (line != m_form.headLine) return false;
        m_at = end;
        skipLine();
        ++m_block.heads;
        return true;
    }

    void fail(const char *begin) {
        const char *end = begin;
        while (end < m_end && *end != m_form.lineEnd)
            ++end;
        m_trouble.noEnd = end == m_end;
        m_trouble.lastLine =
            std::all_of(end, m_end, [this](char c) { return c == m_form.lineEnd || c == '\r' || c == ' '; });
        m_trouble.line = linesIn(m_begin, begin);
        m_block.trouble = m_trouble;
    }

    const TextForm &m_form;
    TextBlock &m_block;
    const char *m_at, *m_end, *m_begin;
    bool m_spaced;
    std::string m_field;
    RowTrouble m_trouble;
};

} // namespace

void readRows(const TextForm &form, TextBlock &block) {
    RowReader(form, block).readAll();
}

} // namespace wheelwright
