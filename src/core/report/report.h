// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/phrase.h"

#include <optional>
#include <string>
#include <variant>
#include <vector>

namespace wheelwright {

/// How a sentence is meant; a renderer shows it in its own way. `answer` is what was asked for itself,
/// `leading` takes the reader to another place.
enum class Tone { plain, strong, quiet, caution, trouble, answer, leading };

struct Sentence {
    Sentence(Phrase said, Tone how = Tone::plain, std::string leadsTo = {})
        : words(std::move(said)), tone(how), link(std::move(leadsTo)) {}
    Sentence(PhraseText said, Tone how = Tone::plain, std::string leadsTo = {})
        : Sentence(Phrase(said), how, std::move(leadsTo)) {}

    Phrase words;
    Tone tone;
    std::string link;                ///< what shows its working, "plan:0"; empty: none
    std::optional<double> content{}; ///< what matters in it is this content, 0 to 1: a window shows its hue
};

struct Heading {
    Phrase words;
    int level = 1; ///< under the report's title, 1 to 3; 0: the most important sentence of it
};

/// To be done one after the other.
struct Steps {
    std::vector<Sentence> steps;
};

struct Grid {
    std::vector<Phrase> heads;
    std::vector<std::vector<Sentence>> rows; ///< each as long as heads
};

/// Lines over an axis, in SI; shown in the reader's units.
struct ReportChart {
    struct Line {
        Phrase name;
        std::vector<double> x, y;   ///< as many of both; a y that is no number is a gap in the line
        std::vector<double> half{}; ///< of an interval about it, drawn as a wash; empty: none
        enum class Marks { none, joined, alone } marks = Marks::none; ///< points rather than a curve
    };
    Phrase title, xTitle, yTitle;
    Dimension x = Dimension::none, y = Dimension::none;
    std::vector<Line> lines;
};

/// Numbers over two axes, in SI; shaded by their size in grey, so that they are read at a glance in print.
struct ShadedTable {
    struct Along {
        std::vector<double> points; ///< ascending
        Dimension dimension = Dimension::none;
    };
    Phrase title;
    Along x, y;
    Dimension dimension = Dimension::none;
    std::vector<double> cells; ///< row by row, all x of the lowest y first

    /// How dark a cell is, 0 to 1 from the lowest to the highest; 0 where all are the same.
    double shade(std::size_t cell) const;
};

/// A photo. It travels with the report, so that every rendering of it stands alone.
struct Picture {
    Phrase caption;
    std::string jpegBase64; ///< its bytes as text; never empty
};

/// On paper what follows begins a page.
struct PageBreak {};
/// On paper what follows, up to the next beginning of a page, is to stand on one: set smaller where it must.
struct OnePage {};

using Block =
    std::variant<Heading, Sentence, Steps, Grid, ReportChart, ShadedTable, Picture, PageBreak, OnePage>;

/// A document as a value: what is said, without how it looks. The window, print, plain text and HTML are
/// renderings of it.
struct Report {
    Phrase title;
    std::vector<Block> blocks;
};

/// The last chart of a report, taken out of it with all others: a window draws it beside the words.
std::optional<ReportChart> takeChart(Report &report);

/// For messages and notes: headings underlined, steps numbered, grids in columns; a chart as its numbers.
std::string plainText(const Report &report, const Wording &wording);

/// A page that stands alone, charts as drawings in it; everything from the job is escaped. remark: stands in
/// its head, for programs.
std::string htmlPage(const Report &report, const Wording &wording, std::string_view remark = {});

/// A chart alone, as SVG of this many pixels.
std::string chartSvg(const ReportChart &chart, const Wording &wording, int width, int height);

} // namespace wheelwright
