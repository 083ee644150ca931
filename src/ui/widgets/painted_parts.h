// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <QAccessible>
#include <QRect>
#include <QString>

class QWidget;

namespace wheelwright {

/// A part that a widget paints by itself, as a reader of the screen finds it: a cell of a grid, a mark on a
/// board, a rung.
struct PaintedPart {
    QString name; ///< where it is and what it says: "3000 rpm, 120 kPa: 14.5"
    QRect where;  ///< in the widget
};

/// What a widget tells of them, beside its paintEvent. With columns it is a table, its parts the cells row by
/// row; without, a list in the order of reading.
class PaintedParts {
  public:
    PaintedParts() = default;
    PaintedParts(const PaintedParts &) = delete;
    PaintedParts &operator=(const PaintedParts &) = delete;
    virtual ~PaintedParts() = default;

    virtual int partCount() const = 0;
    virtual PaintedPart part(int index) const = 0; ///< of 0 to partCount() − 1
    virtual int chosenPart() const { return -1; }  ///< under the cursor; −1: none is
    virtual void choosePart(int /*index*/) {}      ///< as a click on it does
    virtual int partColumns() const { return 0; }
    virtual QString columnName(int /*column*/) const { return {}; }
    virtual QString rowName(int /*row*/) const { return {}; }
};

/// A widget that is one value which the user moves along a scale: a reader of the screen gets it as a slider.
class PaintedValue {
  public:
    PaintedValue() = default;
    PaintedValue(const PaintedValue &) = delete;
    PaintedValue &operator=(const PaintedValue &) = delete;
    virtual ~PaintedValue() = default;

    virtual double shownValue() const = 0;
    virtual void setShownValue(double value) = 0;
    virtual double leastValue() const = 0;
    virtual double mostValue() const = 0;
    virtual double valueStep() const = 0;
};

/// A property of a widget of our own without parts: its QAccessible::Role. Set before its name is.
inline constexpr const char *spokenRole = "spokenRole";

/// From now on readers of the screen find parts, values and charts; more than once does no harm.
void tellOfPaintedParts();

/// The cursor of a widget with parts went to another one: it is read out when the keys go there.
void partWasChosen(QWidget &widget);

} // namespace wheelwright
