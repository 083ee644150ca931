// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

class QLabel;
class QScrollArea;
class QWidget;

namespace wheelwright {

/// Texts that change while the window is used, in a place that does not: so many lines high, and scrolling
/// where the text is longer. What stands below never jumps under the mouse. 0 lines: as high as the layout
/// gives.
QScrollArea *makeSteady(QWidget *texts, int lines, QWidget *parent);

/// One line that changes with every move of the cursor: its place is given once, so that another text does
/// not have the whole window laid out anew. width 0: what the layout gives.
QWidget *makeStill(QLabel *line, QWidget *parent, int width = 0);

} // namespace wheelwright
