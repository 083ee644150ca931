// SPDX-License-Identifier: GPL-3.0-or-later
#include "formats/log_csv.h"

#include "core/base/error.h"
#include "core/base/text.h"
#include "formats/log_import/log_import.h"
#include "formats/log_import/text_form.h"

#include <algorithm>
#include <charconv>
#include <limits>

namespace wheelwright {
namespace {

constexpr std::size_t pieceOfSeries = 65536, pieceOfText = std::size_t{1} << 20;

// A series from its beginning on.
class Cursor {
  public:
    Cursor(std::size_t series, const ReadSeries &read) : m_series(series), m_read(read) { fill(); }
    bool atEnd() const { return m_at == m_samples.size(); }
    double value() const { return m_samples[m_at]; }
    void step() {
        if (++m_at == m_samples.size()) fill();
    }

  private:
    void fill() {
        m_samples = m_read(m_series, m_from, pieceOfSeries);
        m_from += m_samples.size();
        m_at = 0;
    }
    std::size_t m_series;
    const ReadSeries &m_read;
    std::vector<double> m_samples;
    std::size_t m_from = 0, m_at = 0;
};

class Text {
  public:
    explicit Text(const WriteText &write) : m_write(write) {}
    void finish() { flush(); }

    /// As many digits as it takes to read the same number back; of a sample those of its 4 bytes.
    void number(double v, bool single) {
        if (v != v) return;
        char text[40];
        const auto [end, unused] = single ? std::to_chars(text, text + sizeof text, static_cast<float>(v))
                                          : std::to_chars(text, text + sizeof text, v);
        m_text.append(text, end);
    }
    /// Of a number that was worked out of a sample: digits beyond those are of the arithmetic.
    void converted(double v) {
        if (v != v) return;
        char text[40];
        constexpr int digits = 8;
        const auto [end, unused] =
            std::to_chars(text, text + sizeof text, v, std::chars_format::general, digits);
        m_text.append(text, end);
    }
    void words(std::string_view s) {
        if (s.find_first_of(",;\t\"\n\r#") == std::string_view::npos) {
            m_text += s;
            return;
        }
        m_text += '"';
        for (const char c : s)
            m_text += c == '"' ? std::string("\"\"") : std::string(1, c);
        m_text += '"';
    }
    void comma() { m_text += ','; }
    void endRow() {
        m_text += '\n';
        if (m_text.size() >= pieceOfText) flush();
    }

  private:
    void flush() {
        if (!m_text.empty()) m_write(m_text);
        m_text.clear();
    }
    const WriteText &m_write;
    std::string m_text;
};

// A channel on its way out.
struct Column {
    const LogChannel *channel;
    std::size_t clock;
    Cursor at;
    std::vector<std::string> texts;

    void append(Text &to) const {
        const double v = at.value();
        if (channel->kind == ChannelKind::words) {
            if (v >= 0 && v < static_cast<double>(texts.size())) to.words(texts[static_cast<std::size_t>(v)]);
        } else if (channel->scale == 1 && channel->offset == 0) {
            to.number(v, true);
        } else {
            to.converted(channel->internal(v));
        }
    }
};

struct Clock {
    std::size_t series;
    const LogChannel *channel;
    Cursor at;
    double seconds() const { return channel->internal(at.value()); }
};

std::string unitOf(const LogChannel &c) {
    if (c.role == ChannelRole::none) return c.unit;
    return std::string(definitionOf(c.role).unit) +
           (definitionOf(c.role).dimension == Dimension::pressure ? " abs" : "");
}

void appendHead(Text &text, const std::vector<Column> &columns) {
    text.words("time");
    for (const Column &c : columns) {
        text.comma();
        text.words(c.channel->name);
    }
    text.endRow();
    text.words("s");
    for (const Column &c : columns) {
        text.comma();
        text.words(unitOf(*c.channel));
    }
    text.endRow();
}

} // namespace

void logToCsv(const Job &job, const std::string &id, const ReadSeries &read, const WriteText &write) {
    std::vector<Clock> clocks;
    std::vector<Column> columns;
    for (const LogChannel *c : channelsOf(job, id)) {
        const auto series = static_cast<std::size_t>(c->series);
        if (c->kind == ChannelKind::clock)
            clocks.push_back({series, c, Cursor(series, read)});
        else
            columns.push_back(
                {c, static_cast<std::size_t>(c->clock), Cursor(series, read), linesOf(c->texts)});
    }
    Text text(write);
    appendHead(text, columns);
    for (;;) {
        double now = std::numeric_limits<double>::infinity();
        for (const Clock &c : clocks)
            if (!c.at.atEnd()) now = std::min(now, c.seconds());
        std::vector<bool> due;
        due.reserve(clocks.size());
        for (const Clock &c : clocks)
            due.push_back(!c.at.atEnd() && c.seconds() <= now);
        if (std::ranges::find(due, true) == due.end()) break;
        text.number(now, false);
        const auto isDue = [&](std::size_t clock) {
            for (std::size_t i = 0; i < clocks.size(); ++i)
                if (clocks[i].series == clock) return static_cast<bool>(due[i]);
            return false;
        };
        for (Column &c : columns) {
            text.comma();
            if (!isDue(c.clock) || c.at.atEnd()) continue;
            c.append(text);
            c.at.step();
        }
        for (std::size_t i = 0; i < clocks.size(); ++i)
            if (due[i]) clocks[i].at.step();
        text.endRow();
    }
    text.finish();
}

void seriesToCsv(const Job &job, const std::string &id, std::size_t clock, const ReadSeries &read,
                 const WriteText &write) {
    std::vector<std::pair<std::size_t, Cursor>> all{{clock, Cursor(clock, read)}};
    for (const LogChannel *c : channelsOf(job, id)) {
        const auto series = static_cast<std::size_t>(c->series);
        if (series != clock && static_cast<std::size_t>(c->clock) == clock)
            all.emplace_back(series, Cursor(series, read));
    }
    Text text(write);
    for (std::size_t i = 0; i < all.size(); ++i) {
        if (i > 0) text.comma();
        text.words("series " + std::to_string(all[i].first));
    }
    text.endRow();
    while (!all.front().second.atEnd()) {
        for (std::size_t i = 0; i < all.size(); ++i) {
            if (i > 0) text.comma();
            if (all[i].second.atEnd()) continue;
            text.number(all[i].second.value(), i > 0);
            all[i].second.step();
        }
        text.endRow();
    }
    text.finish();
}

namespace {

// Puts what a file calls "series 3" into series 3.
class Renumbered : public SampleSink {
  public:
    Renumbered(const LogLayout &layout, SampleSink &sink) : m_sink(sink) {
        for (const LogColumn &c : layout.columns) {
            std::size_t number = 0;
            const std::string_view digits =
                c.name.starts_with("series ") ? std::string_view(c.name).substr(7) : std::string_view();
            const auto [end, problem] = std::from_chars(digits.data(), digits.data() + digits.size(), number);
            if (digits.empty() || problem != std::errc{} || end != digits.data() + digits.size() ||
                number >= mostLogColumns)
                throw InputError("line 1", MARKED("expected.series_name", "names such as 'series 3'"),
                                 "'" + echoed(c.name, 30) + "'");
            m_numbers.push_back(number);
        }
    }
    void put(std::size_t column, std::span<const double> samples) override {
        m_sink.put(m_numbers[column], samples);
    }

  private:
    SampleSink &m_sink;
    std::vector<std::size_t> m_numbers;
};

} // namespace

void seriesFromCsv(const LogBytes &bytes, SampleSink &sink) {
    const auto source = openLog(bytes, {',', '.'});
    Renumbered to(source->layout(), sink);
    source->read(to, {});
}

} // namespace wheelwright
