#pragma once

class QScrollArea;
class QWidget;

namespace wheelwright {

/// Texts that change while the window is used, in a place that does not: so many lines high, and scrolling
/// where the text is longer. What stands below never jumps under the mouse. 0 lines: as high as the layout
/// gives.
QScrollArea *makeSteady(QWidget *texts, int lines, QWidget *parent);

} // namespace wheelwright
