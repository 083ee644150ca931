// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/intake/sheet.h"
#include "ui/widgets/part_glyph.h"

#include <QAbstractButton>

namespace wheelwright {

/// A part of the intake sheet: its drawing, its name, its two or three numbers, and the tag that says how far
/// it was looked at. Chosen by a click or Enter. A part that the engine does not have is a dashed place to
/// put it.
class PartButton : public QAbstractButton {
    Q_OBJECT
  public:
    /// stacked: the drawing over its words; otherwise beside them.
    enum class Shape { stacked, beside };
    PartButton(const Part &part, Shape shape, QWidget *parent = nullptr);

    const Part &part() const { return m_part; }
    void show(const PartState &state, const GlyphLook &look, const UnitChoice &units);
    void setLook(const GlyphLook &look); ///< another content is looked at
    const PartState &state() const { return m_state; }
    void setChosen(bool chosen);
    /// How large everything is drawn: 1 is as small as it can be read.
    void setScale(double scale);
    double scale() const { return m_scale; }
    void setWideDrawing(bool wide); ///< of several cylinders beside each other
    QRectF glyphBox() const;        ///< in the coordinates of the button
    bool wordsFit() const;          ///< none of its words is cut
    QSize sizeHint() const override;
    QSize minimumSizeHint() const override { return sizeHint(); }

  signals:
    void stepWanted(int by); ///< arrow keys

  protected:
    void paintEvent(QPaintEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;

  private:
    void paintFitted(QPainter &painter);
    void paintPlace(QPainter &painter);
    QFont fitting(const QString &words, QFont font) const; ///< smaller where there is no room for it
    double roomForWords() const;
    QString title() const;
    QStringList lines() const;
    int px(double size) const;

    const Part &m_part;
    Shape m_shape;
    PartState m_state;
    UnitChoice m_units{};
    GlyphLook m_look;
    bool m_chosen = false, m_wide = false;
    double m_scale = 1;
};

} // namespace wheelwright
