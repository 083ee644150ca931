// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/report/markup.h"
#include "core/report/report.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <utility>

namespace wheelwright {
namespace {

std::string_view classOf(Tone tone) {
    constexpr std::array<std::string_view, 7> names{"plain",   "strong", "quiet", "caution",
                                                    "trouble", "answer", "plain"};
    return names[static_cast<std::size_t>(tone)];
}

// Tone is told by weight and border, not by colour alone: it is printed in black.
constexpr std::string_view style =
    "body{font-family:sans-serif;max-width:44em;margin:2em auto;color:#1d1f24}"
    "h1{font-size:1.5em}h2{font-size:1.15em}h3{font-size:1em}"
    ".strong,.trouble{font-weight:bold}.answer{font-size:1.3em}.quiet{color:#5c6068}"
    ".caution,.trouble{border-left:.3em solid #9a6a00;padding-left:.6em}.trouble{border-color:#a3221a}"
    "img{max-width:100%}table{border-collapse:collapse}td,th{text-align:left;padding:.2em .9em .2em 0}"
    "table.map td,table.map th{text-align:right;padding:.1em .35em;font-size:.75em}"
    "td.caution,td.trouble{border:0;padding-left:0}table.map{display:block;overflow-x:auto}"
    "@media print{table.map{display:table}}"
    "table.map{-webkit-print-color-adjust:exact;print-color-adjust:exact}caption{text-align:left}"
    "h1,h2,h3,caption{break-after:avoid}table,figure{break-inside:avoid}.page{break-before:page}";

class HtmlPage {
  public:
    explicit HtmlPage(const Wording &wording) : m_wording(wording) {}

    void operator()(const Heading &h) {
        const std::string tag = "h" + std::to_string(std::clamp(h.level, 1, 3) + 1);
        element(tag, "", h.words);
    }
    void operator()(const Sentence &s) { element("p", classOf(s.tone), s.words); }
    void operator()(const Steps &s) {
        m_out += "<ol>\n";
        for (const Sentence &step : s.steps)
            element("li", classOf(step.tone), step.words);
        m_out += "</ol>\n";
    }
    void operator()(const Grid &g) {
        m_out += "<table>\n<tr>";
        for (const Phrase &head : g.heads)
            m_out += "<th>" + escaped(m_wording.of(head)) + "</th>";
        for (const auto &row : g.rows) {
            m_out += "</tr>\n<tr>";
            for (const Sentence &cell : row) {
                const std::string_view tone = classOf(cell.tone);
                m_out += tone == "plain" ? "<td>" : "<td class=\"" + std::string(tone) + "\">";
                pieces(cell.words);
                m_out += "</td>";
            }
        }
        m_out += "</tr>\n</table>\n";
    }
    void operator()(const ReportChart &c) {
        constexpr int width = 640, height = 320;
        m_out += "<figure>" + chartSvg(c, m_wording, width, height) + "<figcaption>" +
                 escaped(m_wording.of(c.title)) + "</figcaption></figure>\n";
    }
    void operator()(const ShadedTable &t) {
        const auto cell = [&](const char *tag, const std::string &more, double v, Dimension d) {
            m_out += "<" + std::string(tag) + more + ">" + escaped(format(v, d, m_wording.units, false)) +
                     "</" + tag + ">";
        };
        const auto unit = [&](Dimension d) { return escaped(unitSymbol(d, m_wording.units)); };
        m_out += "<table" + pageMark();
        m_out += std::exchange(m_page, false) ? " class=\"map page\">" : " class=\"map\">";
        m_out += "\n<caption>" + escaped(m_wording.of(t.title)) + ", " + unit(t.dimension) +
                 "</caption>\n<tr><th>" + unit(t.y.dimension) + " \\ " + unit(t.x.dimension) + "</th>";
        for (const double x : t.x.points)
            cell("th", "", x, t.x.dimension);
        // The highest load on top, as the tables of the window have it.
        for (std::size_t y = t.y.points.size(); y-- > 0;) {
            m_out += "</tr>\n<tr>";
            cell("th", "", t.y.points[y], t.y.dimension);
            for (std::size_t x = 0; x < t.x.points.size(); ++x) {
                const std::size_t at = y * t.x.points.size() + x;
                constexpr double white = 255, darkest = 95; // ink stays readable on it
                const std::string grey = std::to_string(std::lround(white - darkest * t.shade(at)));
                cell("td", " style=\"background:rgb(" + grey + "," + grey + "," + grey + ")\"", t.cells[at],
                     t.dimension);
            }
        }
        m_out += "</tr>\n</table>\n";
    }
    void operator()(const Picture &p) {
        const std::string caption = escaped(m_wording.of(p.caption));
        m_out += "<figure><img alt=\"" + caption + "\" src=\"data:image/jpeg;base64," + p.jpegBase64 +
                 "\"><figcaption>" + caption + "</figcaption></figure>\n";
    }
    void operator()(const PageBreak &) { m_page = true; }
    void operator()(const OnePage &) {}
    void element(const std::string &tag, std::string_view tone, const Phrase &words) {
        m_out += "<" + tag;
        m_out += pageMark();
        if (std::exchange(m_page, false)) tone = "page";
        if (!tone.empty() && tone != "plain") m_out += " class=\"" + std::string(tone) + "\"";
        m_out += ">";
        pieces(words);
        m_out += "</" + tag + ">\n";
    }
    void pieces(const Phrase &words) {
        for (const Wording::Piece &piece : m_wording.piecesOf(words))
            m_out += piece.matters ? "<b>" + escaped(piece.text) + "</b>" : escaped(piece.text);
    }
    std::string take() { return std::move(m_out); }

  private:
    // The name of a page that the next element begins.
    std::string pageMark() { return m_page ? " id=\"page-" + std::to_string(++m_pages) + "\"" : ""; }

    const Wording &m_wording;
    std::string m_out;
    bool m_page = false; ///< the next begins one
    int m_pages = 1;
};

} // namespace

std::string htmlPage(const Report &report, const Wording &wording, std::string_view remark) {
    const std::string title = escaped(wording.of(report.title));
    HtmlPage page(wording);
    for (const Block &block : report.blocks)
        std::visit(page, block);
    const std::string meta =
        remark.empty() ? "" : "<meta name=\"remark\" content=\"" + escaped(remark) + "\">";
    return "<!DOCTYPE html>\n<html><head><meta charset=\"utf-8\">" + meta + "<title>" + title +
           "</title><style>" + std::string(style) + "</style></head>\n<body>\n<h1>" + title + "</h1>\n" +
           page.take() + "</body></html>\n";
}

} // namespace wheelwright
