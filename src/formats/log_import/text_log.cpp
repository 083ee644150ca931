// SPDX-License-Identifier: GPL-3.0-or-later
// Delimited text: see LogImporter. Found out once (text_form), read in blocks of whole lines by several
// threads (text_rows), handed on in order.
#include "core/base/error.h"
#include "formats/log_import/log_import.h"
#include "formats/log_import/text_rows.h"
#include "formats/log_import/word_places.h"

#include <algorithm>
#include <deque>
#include <future>

namespace wheelwright {
namespace {

constexpr std::size_t blockSize = std::size_t{1} << 20, largestBlock = std::size_t{64} << 20;

Measured count(std::size_t n) {
    return {static_cast<double>(n), Dimension::count};
}

// Where the last whole line of a block ends; 0 where none does.
std::size_t wholeLines(std::string_view text, char lineEnd) {
    if (text.find('"') == std::string_view::npos) {
        const std::size_t at = text.rfind(lineEnd);
        return at == std::string_view::npos ? 0 : at + 1;
    }
    bool quoted = false;
    std::size_t last = 0;
    for (std::size_t i = 0; i < text.size(); ++i) {
        quoted ^= text[i] == '"';
        if (text[i] == lineEnd && !quoted) last = i + 1;
    }
    return last;
}

// Cuts a text into blocks of whole lines.
class Blocks {
  public:
    Blocks(const LogBytes &bytes, const TextForm &form)
        : m_stream(bytes, form.encoding, form.textBegins), m_lineEnd(form.lineEnd) {
        while (m_rest.size() < form.headBytes && m_stream.next(m_rest, blockSize)) {
        }
        m_rest.erase(0, form.headBytes);
    }

    bool next(std::string &to) {
        to.assign(m_rest); // into the room that it has
        for (;;) {
            const bool more = to.size() < largestBlock && m_stream.next(to, blockSize);
            const std::size_t whole = more ? wholeLines(to, m_lineEnd) : to.size();
            if (more && whole == 0) continue;
            m_rest.assign(to, whole);
            to.resize(whole);
            return !to.empty();
        }
    }
    std::uint64_t at() const { return m_stream.at(); }

  private:
    TextStream m_stream;
    char m_lineEnd;
    std::string m_rest;
};

// Blocks on their way through the threads, in order.
class Pipeline {
  public:
    Pipeline(const LogBytes &bytes, const TextForm &form, unsigned threads)
        : m_blocks(bytes, form), m_form(form), m_threads(threads) {}

    /// nullptr at the end. What was handed out before is used again.
    TextBlock *next() {
        if (m_current) m_spare.push_back(std::move(m_current));
        fill();
        if (m_under.empty()) return nullptr;
        m_current = m_under.front().get();
        m_under.pop_front();
        return m_current.get();
    }
    std::uint64_t at() const { return m_blocks.at(); }
    bool wasLast() const { return m_under.empty(); } ///< what next() gave

  private:
    using Owned = std::unique_ptr<TextBlock>;

    void fill() {
        while (m_under.size() < m_threads + 1) {
            Owned block = take();
            if (!m_blocks.next(block->text)) return;
            // One thread works where it is asked, so that one processor is what it takes.
            const auto policy = m_threads > 1 ? std::launch::async : std::launch::deferred;
            m_under.push_back(std::async(policy, [&form = m_form, b = std::move(block)]() mutable {
                readRows(form, *b);
                return std::move(b);
            }));
        }
    }
    Owned take() {
        if (m_spare.empty()) return std::make_unique<TextBlock>();
        Owned block = std::move(m_spare.back());
        m_spare.pop_back();
        return block;
    }

    Blocks m_blocks;
    const TextForm &m_form;
    unsigned m_threads;
    std::deque<std::future<Owned>> m_under;
    std::vector<Owned> m_spare;
    Owned m_current;
};

// Hands blocks on: numbers as they are, words by their place among those of their column.
class Handing {
  public:
    Handing(const TextForm &form, SampleSink &sink) : m_form(form), m_sink(sink) {
        m_places.resize(form.columns.size());
        m_kinds = form.columns;
    }

    void take(TextBlock &block) {
        decideOpen(block);
        for (const TextBlock::Word &w : block.words)
            place(block, w);
        for (std::size_t c = 0; c < m_kinds.size(); ++c)
            m_sink.put(c, block.column(c));
        if (block.infinite > 0 && m_infinite == 0) {
            m_infiniteRow = m_read.rows + block.infiniteRow + 1;
            m_infiniteColumn = block.infiniteColumn;
        }
        m_infinite += block.infinite;
        m_read.rows += block.rows;
        m_heads += block.heads;
    }

    std::size_t rows() const { return m_read.rows; }
    void warn(Phrase warning) { m_read.warnings.push_back(std::move(warning)); }

    LogRead finish() {
        for (const TextColumn kind : m_kinds)
            m_read.kinds.push_back(kind == TextColumn::words ? ChannelKind::words : ChannelKind::number);
        if (m_form.leftOut > 0)
            warn({MARKED("log.warn.columns", "Only the first {0} columns are taken, {1} are left out"),
                  {count(m_form.columns.size()), count(m_form.leftOut)}});
        if (m_infinite > 0)
            warn({MARKED("log.warn.infinite", "{0} numbers are infinite or beyond what is kept, first in row "
                                              "{1}, column {2}: taken as missing"),
                  {count(m_infinite), count(m_infiniteRow), count(m_infiniteColumn + 1)}});
        if (m_heads > 0)
            warn({MARKED("log.warn.heads",
                         "The names of the columns stand {0} times more among the rows: left out"),
                  {count(m_heads)}});
        for (std::size_t c = 0; c < m_places.size(); ++c) {
            m_read.texts.push_back(m_places[c].texts());
            if (m_places[c].dropped() > 0)
                warn({MARKED("log.warn.texts",
                             "'{a}' has more than {0} different texts: {1} samples are taken as missing"),
                      {count(WordPlaces::most), count(m_places[c].dropped())},
                      {m_form.names[c]}});
        }
        return std::move(m_read);
    }

  private:
    // The first thing that stands in a column says what all of it is.
    void decideOpen(const TextBlock &block) {
        for (const TextBlock::Word &w : block.words)
            if (m_kinds[w.column] == TextColumn::open)
                m_kinds[w.column] =
                    textNumber(w.text, m_form.decimal) ? TextColumn::number : TextColumn::words;
    }

    void place(TextBlock &block, const TextBlock::Word &w) {
        double &to = block.numbers[w.column * block.room + w.row];
        if (m_kinds[w.column] == TextColumn::number) {
            if (const auto v = textNumber(w.text, m_form.decimal)) {
                to = *v;
                return;
            }
            throw InputError("row " + std::to_string(m_read.rows + w.row + 1) + ", column " +
                                 std::to_string(w.column + 1),
                             MARKED("expected.a_number", "a number"), "'" + echoed(w.text, 30) + "'");
        }
        to = m_places[w.column].place(w.text);
    }

    const TextForm &m_form;
    SampleSink &m_sink;
    LogRead m_read;
    std::vector<TextColumn> m_kinds;
    std::vector<WordPlaces> m_places;
    std::size_t m_infinite = 0, m_infiniteRow = 0, m_infiniteColumn = 0, m_heads = 0;
};

class TextLog : public LogSource {
  public:
    TextLog(const LogBytes &bytes, const LogForm &form)
        : m_bytes(bytes), m_form(findForm(bytes, form.delimiter, form.decimal, form.partly)) {
        m_layout.format = "text";
        m_layout.delimiter = m_form.delimiter;
        m_layout.decimal = m_form.decimal;
        m_layout.firstLine = m_form.firstLine;
        m_layout.firstRows = m_form.firstRows;
        for (std::size_t c = 0; c < m_form.columns.size(); ++c) {
            LogColumn column;
            column.name = m_form.names[c];
            column.unit = m_form.units[c];
            column.kind = m_form.columns[c] == TextColumn::words ? ChannelKind::words : ChannelKind::number;
            m_layout.columns.push_back(std::move(column));
        }
        preview();
    }

    const LogLayout &layout() const override { return m_layout; }

    LogRead read(SampleSink &sink, const LogReading &how) const override {
        Pipeline pipeline(m_bytes, m_form, std::max(1u, how.threads));
        Handing handing(m_form, sink);
        std::size_t line = m_form.firstLine;
        while (TextBlock *block = pipeline.next()) {
            if (how.stop.stop_requested()) {
                LogRead read = handing.finish();
                read.stopped = true;
                return read;
            }
            try {
                handing.take(*block);
            } catch (const InputError &e) {
                if (!how.partly) refuse(e.where(), e.expected(), e.found(), handing.rows());
                handing.warn(stopsAt(e.where(), e.expected(), e.found()));
                break;
            }
            if (block->trouble && !goOn(*block->trouble, pipeline.wasLast(), line, handing, how.partly))
                break;
            line += block->lines;
            if (how.progress && m_bytes.size() > 0)
                how.progress(static_cast<double>(pipeline.at()) / static_cast<double>(m_bytes.size()));
        }
        if (handing.rows() == 0)
            throw InputError("file", MARKED("expected.rows_of_numbers", "rows of numbers"),
                             MARKED("found.no_rows", "none: no line of numbers with delimiters between"));
        return handing.finish();
    }

  private:
    [[noreturn]] static void refuse(const std::string &where, const Phrase &expected, const Phrase &found,
                                    std::size_t rows) {
        throw InputError(where, expected,
                         Phrase{MARKED("found.rows_before", "{A}; {0} rows before it can be read, and "
                                                            "--partly takes those alone"),
                                {count(rows)},
                                {},
                                {found}});
    }

    static Phrase stopsAt(const std::string &where, const Phrase &expected, const Phrase &found) {
        return {MARKED("log.warn.partly", "Read only up to {a}: expected {A}, found {B}"),
                {},
                {where},
                {expected, found}};
    }

    // Of a line that was cut at the end of the file nothing is kept; any other is refused.
    static bool goOn(const RowTrouble &trouble, bool lastBlock, std::size_t firstLine, Handing &handing,
                     bool partly) {
        const std::size_t line = firstLine + trouble.line;
        if (trouble.lastLine && lastBlock) {
            handing.warn(
                {MARKED("log.warn.cut", "The last line, {0}, is not whole: left out"), {count(line)}});
            return false;
        }
        const std::string where = "line " + std::to_string(line) + " (row " +
                                  std::to_string(handing.rows() + 1) + "), column " +
                                  std::to_string(trouble.column + 1);
        if (!partly) refuse(where, trouble.expected, trouble.found, handing.rows());
        handing.warn(stopsAt(where, trouble.expected, trouble.found));
        return false;
    }

    // Rows from the beginning, and from some places further on: the first minutes of a log are idle.
    void preview() {
        constexpr std::size_t atFirst = 200, places = 8, each = 100;
        TextBlock block;
        Blocks blocks(m_bytes, m_form);
        if (!blocks.next(block.text)) return;
        readRows(m_form, block);
        show(block, atFirst);
        const std::size_t step = std::max<std::size_t>(1, block.rows / (places * each));
        for (std::size_t row = atFirst; row < block.rows; row += step)
            for (std::size_t c = 0; c < m_layout.columns.size(); ++c)
                m_layout.columns[c].preview.push_back(block.column(c)[row]);
        if (m_form.encoding != TextEncoding::utf8 || blocks.at() >= m_bytes.size()) return;
        constexpr std::size_t piece = std::size_t{64} << 10;
        for (std::size_t i = 1; i <= places; ++i) {
            std::string text(piece, '\0');
            const std::uint64_t from = m_bytes.size() / (places + 1) * i;
            text.resize(m_bytes.read(from, text));
            const std::size_t begin = text.find(m_form.lineEnd), end = text.rfind(m_form.lineEnd);
            if (begin == std::string::npos || end <= begin) continue;
            block.text = text.substr(begin + 1, end - begin);
            readRows(m_form, block);
            show(block, each);
        }
    }
    void show(const TextBlock &block, std::size_t most) {
        for (std::size_t c = 0; c < m_layout.columns.size(); ++c) {
            const auto samples = block.column(c).first(std::min(most, block.rows));
            std::vector<double> &to = m_layout.columns[c].preview;
            to.insert(to.end(), samples.begin(), samples.end());
        }
    }

    const LogBytes &m_bytes;
    TextForm m_form;
    LogLayout m_layout;
};

} // namespace

LogImporter textLogImporter() {
    return {"text", MARKED("importer.text", "Delimited text"), "csv tsv txt log dat",
            [](std::string_view) { return true; },
            [](const LogBytes &bytes, const LogForm &form) -> std::unique_ptr<LogSource> {
                return std::make_unique<TextLog>(bytes, form);
            }};
}

} // namespace wheelwright
