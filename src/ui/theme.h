// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <QColor>
#include <QFont>
#include <QPalette>
#include <QString>

namespace wheelwright {

/// The look: one light ('paper') and one dark ('shop') theme. Three codes hold everywhere: hue is fuel
/// content, lightness is magnitude, shape and texture are trust and verdict.
struct Theme {
    bool shop = false;
    QColor paper;   ///< background
    QColor raised;  ///< cards and fields
    QColor ink;     ///< text, at least 7:1 on paper
    QColor quiet;   ///< secondary text, at least 4.5:1 on paper
    QColor line;    ///< borders, grids
    QColor trouble; ///< a failing check; never without its shape and word
    QColor heed;    ///< a caution

    /// Slate blue for no alcohol, copper for all of it, the hue between for a blend.
    QColor content(double content) const;
    /// A cell of that content: from paper (0) to ink (1) in one hue.
    QColor shade(double content, double magnitude) const;
    /// The same of a table that belongs to no content: in no hue.
    QColor plainShade(double magnitude) const;
    /// Of a difference from −1 to 1: two hues that no content has, around blank.
    QColor difference(double step) const;
    /// Black or white text, whichever can be read on it.
    QColor textOn(const QColor &background) const;

    QPalette palette() const;
    QString styleSheet() const;
};

const Theme &theme();
/// Sets palette and style sheet of the application; widgets repaint.
void useTheme(bool shop);

/// Loads the fonts that come with the program. Call once, after QApplication.
void loadFonts();
QFont sansFont(int pixelSize, bool bold = false);
QFont monoFont(int pixelSize, bool bold = false);

} // namespace wheelwright
