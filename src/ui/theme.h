// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <QColor>
#include <QFont>
#include <QPalette>
#include <QString>

class QSettings;

namespace wheelwright {

/// What of the look is chosen.
struct Look {
    bool shop = false;     ///< dark
    bool contrast = false; ///< nothing pale: text 7:1, lines 3:1
    bool still = false;    ///< nothing moves by itself
    bool operator==(const Look &) const = default;
};

/// The look: one light ('paper') and one dark ('shop') theme, each also without anything pale. Three codes
/// hold everywhere: hue is fuel content, lightness is magnitude, shape and texture are trust and verdict.
struct Theme {
    bool shop = false, contrast = false, still = false;
    QColor paper;   ///< background
    QColor raised;  ///< cards and fields
    QColor ink;     ///< text, at least 7:1 on paper
    QColor quiet;   ///< secondary text, at least 4.5:1 on paper; with contrast 7:1
    QColor line;    ///< borders, grids; with contrast at least 3:1
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
    /// What is taken hold of on a scroll bar.
    QColor handle() const;
    /// Black or white text, whichever can be read on it.
    QColor textOn(const QColor &background) const;

    QPalette palette() const;
    QString styleSheet() const;
};

const Theme &theme();
/// Sets palette and style sheet of the application; widgets repaint.
void useTheme(const Look &look);
Look usedLook();
/// As the settings have it; "shopTheme", "highContrast", "lessMotion".
Look lookKept(const QSettings &settings);

/// Loads the fonts that come with the program. Call once, after QApplication.
void loadFonts();
QFont sansFont(int pixelSize, bool bold = false);
QFont monoFont(int pixelSize, bool bold = false);

} // namespace wheelwright
