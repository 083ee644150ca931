// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/phrase.h"

#include <string>
#include <variant>
#include <vector>

namespace wheelwright {

/// How a sentence is meant; a renderer shows it in its own way.
enum class Tone { plain, strong, quiet, caution, trouble };

struct Sentence {
    Phrase words;
    Tone tone = Tone::plain;
    std::string link{}; ///< what shows its working, "plan:0"; empty: none
};

struct Heading {
    Phrase words;
    int level = 1; ///< under the report's title, 1 to 3
};

/// To be done one after the other.
struct Steps {
    std::vector<Sentence> steps;
};

struct Grid {
    std::vector<Phrase> heads;
    std::vector<std::vector<Phrase>> rows; ///< each as long as heads
};

/// Lines over an axis, in SI; shown in the reader's units.
struct ReportChart {
    struct Line {
        Phrase name;
        std::vector<double> x, y; ///< as many of both
    };
    Phrase title, xTitle, yTitle;
    Dimension x = Dimension::none, y = Dimension::none;
    std::vector<Line> lines;
};

using Block = std::variant<Heading, Sentence, Steps, Grid, ReportChart>;

/// A document as a value: what is said, without how it looks. The window, print, plain text and HTML are
/// renderings of it.
struct Report {
    Phrase title;
    std::vector<Block> blocks;
};

/// For messages and notes: headings underlined, steps numbered, grids in columns; a chart as its numbers.
std::string plainText(const Report &report, const Wording &wording);

/// A page that stands alone, charts as drawings in it; everything from the job is escaped.
std::string htmlPage(const Report &report, const Wording &wording);

/// A chart alone, as SVG of this many pixels.
std::string chartSvg(const ReportChart &chart, const Wording &wording, int width, int height);

} // namespace wheelwright
