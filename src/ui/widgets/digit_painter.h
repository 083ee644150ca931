// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <QColor>
#include <QFont>
#include <QGlyphRun>
#include <QHash>
#include <QPainter>
#include <QRawFont>

#include <vector>

namespace wheelwright {

/// Draws many short numbers fast: glyphs are looked up once, and all numbers of one colour go out as one run.
/// Laying out six hundred texts a frame would cost more than all the rest of a table.
class DigitPainter {
  public:
    explicit DigitPainter(const QFont &font);

    /// Notes a number to be drawn in the middle of the box, or at its right.
    void add(const QRectF &box, QStringView number, const QColor &color,
             Qt::AlignmentFlag at = Qt::AlignHCenter);
    void draw(QPainter &painter);

  private:
    struct Glyph {
        quint32 index;
        qreal advance;
    };
    struct Run {
        QRgb color;
        QVector<quint32> indexes;
        QVector<QPointF> positions;
    };
    const Glyph &glyph(QChar c);
    Run &runOf(QRgb color);

    QRawFont m_font;
    qreal m_baseline; ///< from the middle of a box
    QHash<QChar, Glyph> m_glyphs;
    std::vector<Run> m_runs;
};

} // namespace wheelwright
