// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/report/report.h"

#include <QColor>

#include <vector>

class QTextDocument;

namespace wheelwright {

/// How a report looks on a screen. On paper there is none: it is black, and sizes are points.
struct ScreenInk {
    QColor quiet, trouble, heed, link;
    QColor (*content)(double content);
    int (*pixels)(int designed);
};

/// Writes the blocks of a report as rich text; links are anchors. What stood there is gone. The title is left
/// out: where it is shown, the window says what it is.
void writeForScreen(QTextDocument &document, const Report &report, const Wording &wording,
                    const ScreenInk &ink);

/// How a report is set on paper.
struct PaperSetting {
    bool links = false; ///< kept as anchors, which a PDF would take for addresses
    /// How large what is to stand on one page is set, in the order of those: 1 as it was meant.
    std::vector<double> onePages{};
};
/// The same for paper, with its title. Charts stay drawings, whatever the resolution.
void writeForPaper(QTextDocument &document, const Report &report, const Wording &wording,
                   const PaperSetting &setting = {});

} // namespace wheelwright
