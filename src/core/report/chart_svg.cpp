// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/nice_step.h"
#include "core/base/text.h"
#include "core/report/markup.h"
#include "core/report/report.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <vector>

namespace wheelwright {
namespace {

struct Span {
    double low = std::numeric_limits<double>::max(), high = std::numeric_limits<double>::lowest();
    void include(double v) {
        low = std::min(low, v);
        high = std::max(high, v);
    }
    double share(double v) const { return high > low ? (v - low) / (high - low) : 0.5; }
};

// The name of a line, where it ends.
struct Named {
    double x, y;
    std::string name;
};

// Lines that end close to each other keep their names apart.
void spread(std::vector<Named> &names, double top, double bottom) {
    constexpr double line = 13;
    std::ranges::stable_sort(names, {}, &Named::y);
    double least = top;
    for (Named &n : names) {
        n.y = std::max(n.y, least);
        least = n.y + line;
    }
    double most = bottom + line;
    for (auto n = names.rbegin(); n != names.rend(); ++n) {
        n->y = std::min(n->y, most);
        most = n->y - line;
    }
}

// Where a scale is marked, in SI: round numbers of the unit that is shown. A scale of one value has that one.
struct Tick {
    double at;
    std::string words;
};
std::vector<Tick> ticksOf(const Span &span, Dimension dimension, const UnitChoice &units, int most) {
    const double low = toShown(span.low, dimension, units), high = toShown(span.high, dimension, units);
    if (!(std::abs(high - low) > 0)) return {{span.low, format(span.low, dimension, units)}};
    const double step = niceStep(std::abs(high - low), most);
    const int decimals = std::max(0, static_cast<int>(-std::floor(std::log10(step) + 1e-9)));
    std::vector<Tick> out;
    constexpr double rounding = 1e-9; // of a step: the ends of the span are marked too
    const double first = std::ceil(std::min(low, high) / step - rounding);
    for (double n = first; n * step <= std::max(low, high) + rounding * step; ++n) {
        const double at = fromShown(n * step, dimension, units);
        out.push_back({at, formatWith(at, dimension, units, decimals)});
    }
    return out;
}

std::string coordinate(double v) { // as SVG has it, in every language
    return fixedNumber(v, 1);
}

} // namespace

std::string chartSvg(const ReportChart &c, const Wording &wording, int width, int height) {
    Span x, y;
    for (const ReportChart::Line &line : c.lines)
        for (std::size_t i = 0; i < line.x.size(); ++i) {
            const double half = i < line.half.size() && std::isfinite(line.half[i]) ? line.half[i] : 0;
            x.include(line.x[i]);
            if (std::isnan(line.y[i])) continue;
            y.include(line.y[i] - half);
            y.include(line.y[i] + half);
        }
    std::string out = "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"" + std::to_string(width) +
                      "\" height=\"" + std::to_string(height) + "\" font-size=\"12\">";
    const auto text = [&](double px, double py, const char *anchor, const std::string &words) {
        out += "<text x=\"" + coordinate(px) + "\" y=\"" + coordinate(py) + "\" text-anchor=\"" + anchor +
               "\">" + escaped(words) + "</text>";
    };
    if (x.low > x.high || y.low > y.high) return out + "</svg>"; // no points
    const double left = 70, top = 14, right = width - 110, bottom = height - 40;
    out += "<rect x=\"" + coordinate(left) + "\" y=\"" + coordinate(top) + "\" width=\"" +
           coordinate(right - left) + "\" height=\"" + coordinate(bottom - top) +
           "\" fill=\"none\" stroke=\"#777\"/>";
    const auto across = [&](double v) { return left + x.share(v) * (right - left); };
    const auto up = [&](double v) { return bottom - y.share(v) * (bottom - top); };
    const auto rule = [&](double fromX, double fromY, double toX, double toY) {
        out += "<path d=\"M" + coordinate(fromX) + " " + coordinate(fromY) + "L" + coordinate(toX) + " " +
               coordinate(toY) + "\" stroke=\"#ddd\"/>";
    };
    constexpr int acrossMost = 6, upMost = 5, letters = 4; // half of the height of a digit
    for (const Tick &t : ticksOf(x, c.x, wording.units, acrossMost)) {
        const double at = across(t.at);
        rule(at, top, at, bottom);
        text(at, bottom + 16, "middle", t.words);
    }
    for (const Tick &t : ticksOf(y, c.y, wording.units, upMost)) {
        const double at = up(t.at);
        rule(left, at, right, at);
        text(left - 6, at + letters, "end", t.words);
    }
    text((left + right) / 2, bottom + 32, "middle", wording.of(c.xTitle));
    text(left, top - 3, "start", wording.of(c.yTitle));
    // Lines are told apart by their dashes and by a name at their end.
    constexpr std::array<const char *, 7> dashes{"none", "6 3", "2 3", "9 3 2 3", "12 3", "4 6", "1 6"};
    std::vector<Named> names;
    for (std::size_t n = 0; n < c.lines.size(); ++n) {
        const ReportChart::Line &line = c.lines[n];
        if (std::ranges::all_of(line.y, [](double v) { return std::isnan(v); })) continue;
        const auto place = [&](double px, double py) {
            return coordinate(across(px)) + "," + coordinate(up(py)) + " ";
        };
        if (!line.half.empty()) {
            const auto half = [&line](std::size_t i) {
                return std::isfinite(line.half[i]) ? line.half[i] : 0;
            };
            out += "<polygon fill=\"#1d1f24\" fill-opacity=\"0.15\" stroke=\"none\" points=\"";
            for (std::size_t i = 0; i < line.x.size(); ++i)
                out += place(line.x[i], line.y[i] + half(i));
            for (std::size_t i = line.x.size(); i-- > 0;)
                out += place(line.x[i], line.y[i] - half(i));
            out += "\"/>";
        }
        for (std::size_t i = 0; line.marks != ReportChart::Line::Marks::none && i < line.x.size(); ++i)
            if (!std::isnan(line.y[i]))
                out += "<circle r=\"3\" cx=\"" + coordinate(across(line.x[i])) + "\" cy=\"" +
                       coordinate(up(line.y[i])) + "\"/>";
        const std::string begin =
            "<polyline fill=\"none\" stroke=\"" +
            std::string(line.marks == ReportChart::Line::Marks::alone ? "none" : "#1d1f24") +
            "\" stroke-dasharray=\"" + std::string(dashes[n % dashes.size()]) + "\" points=\"";
        bool open = false;
        double px = 0, py = 0;
        for (std::size_t i = 0; i < line.x.size(); ++i) {
            const bool gap = std::isnan(line.y[i]);
            if (gap && open) out += "\"/>";
            if (!gap) {
                px = across(line.x[i]);
                py = up(line.y[i]);
                out += (open ? " " : begin) + coordinate(px) + "," + coordinate(py);
            }
            open = !gap;
        }
        if (open) out += "\"/>";
        names.push_back({px + 4, py + 4, wording.of(line.name)});
    }
    spread(names, top, bottom);
    for (const Named &n : names)
        text(n.x, n.y, "start", n.name);
    return out + "</svg>";
}

} // namespace wheelwright
