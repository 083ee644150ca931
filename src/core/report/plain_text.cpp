// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/report/report.h"

#include <algorithm>
#include <cmath>

namespace wheelwright {
namespace {

// Letters, not bytes.
std::size_t lettersIn(std::string_view utf8) {
    return static_cast<std::size_t>(
        std::ranges::count_if(utf8, [](char c) { return (static_cast<unsigned char>(c) & 0xC0) != 0x80; }));
}

class PlainText {
  public:
    explicit PlainText(const Wording &wording) : m_wording(wording) {}

    void operator()(const Heading &h) { underlined(h.words, h.level <= 1 ? '-' : '.'); }
    void operator()(const Sentence &s) { m_out += m_wording.of(s.words) + "\n"; }
    void operator()(const Steps &s) {
        for (std::size_t i = 0; i < s.steps.size(); ++i)
            m_out += std::to_string(i + 1) + ". " + m_wording.of(s.steps[i].words) + "\n";
    }
    void operator()(const Grid &g) {
        std::vector<std::vector<std::string>> rows{{}};
        for (const Phrase &head : g.heads)
            rows[0].push_back(m_wording.of(head));
        for (const auto &row : g.rows) {
            rows.emplace_back();
            for (const Sentence &cell : row)
                rows.back().push_back(m_wording.of(cell.words));
        }
        table(rows);
    }
    void operator()(const ReportChart &c) {
        m_out += m_wording.of(c.title) + "\n";
        for (const ReportChart::Line &line : c.lines) {
            m_out += m_wording.of(line.name) + ":";
            for (std::size_t i = 0; i < line.x.size(); ++i)
                m_out += (i > 0 ? "; " : " ") + format(line.x[i], c.x, m_wording.units) + " " +
                         (std::isnan(line.y[i]) ? "–" : format(line.y[i], c.y, m_wording.units)) +
                         (i < line.half.size() && std::isfinite(line.half[i])
                              ? " ± " + format(line.half[i], c.y, m_wording.units)
                              : "");
            m_out += "\n";
        }
    }
    void operator()(const ShadedTable &t) {
        underlined(t.title, '.');
        std::vector<std::vector<std::string>> rows{{unitSymbol(t.y.dimension, m_wording.units) + " \\ " +
                                                    unitSymbol(t.x.dimension, m_wording.units)}};
        for (const double x : t.x.points)
            rows[0].push_back(format(x, t.x.dimension, m_wording.units, false));
        for (std::size_t y = t.y.points.size(); y-- > 0;) {
            rows.push_back({format(t.y.points[y], t.y.dimension, m_wording.units, false)});
            for (std::size_t x = 0; x < t.x.points.size(); ++x)
                rows.back().push_back(
                    format(t.cells[y * t.x.points.size() + x], t.dimension, m_wording.units, false));
        }
        table(rows);
    }
    void operator()(const Picture &p) { m_out += "[" + m_wording.of(p.caption) + "]\n"; }
    void operator()(const PageBreak &) { m_out += "\n" + std::string(60, '=') + "\n"; }
    void operator()(const OnePage &) {}
    void title(const Phrase &words) { underlined(words, '='); }
    std::string take() { return std::move(m_out); }

  private:
    void underlined(const Phrase &words, char with) {
        const std::string line = m_wording.of(words);
        if (!m_out.empty()) m_out += "\n";
        m_out += line + "\n" + std::string(lettersIn(line), with) + "\n";
    }
    void table(const std::vector<std::vector<std::string>> &rows) {
        std::vector<std::size_t> widths(rows[0].size());
        for (const auto &row : rows)
            for (std::size_t c = 0; c < row.size() && c < widths.size(); ++c)
                widths[c] = std::max(widths[c], lettersIn(row[c]));
        for (const auto &row : rows) {
            std::string line;
            for (std::size_t c = 0; c < row.size(); ++c) {
                line += row[c];
                if (c + 1 < row.size()) line += std::string(widths[c] - lettersIn(row[c]) + 2, ' ');
            }
            m_out += line + "\n";
        }
    }

    const Wording &m_wording;
    std::string m_out;
};

} // namespace

double ShadedTable::shade(std::size_t cell) const {
    const auto [least, most] = std::ranges::minmax_element(cells);
    return *most > *least ? (cells[cell] - *least) / (*most - *least) : 0;
}

std::optional<ReportChart> takeChart(Report &report) {
    std::optional<ReportChart> out;
    std::erase_if(report.blocks, [&out](const Block &b) {
        if (const auto *chart = std::get_if<ReportChart>(&b)) out = *chart;
        return std::holds_alternative<ReportChart>(b);
    });
    return out;
}

std::string plainText(const Report &report, const Wording &wording) {
    PlainText out(wording);
    out.title(report.title);
    for (const Block &block : report.blocks)
        std::visit(out, block);
    return out.take();
}

} // namespace wheelwright
