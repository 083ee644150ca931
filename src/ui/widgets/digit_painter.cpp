// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/widgets/digit_painter.h"

#include <cmath>

namespace wheelwright {

DigitPainter::DigitPainter(const QFont &font) : m_font(QRawFont::fromFont(font)) {
    // Digits are as tall as capitals: centre those, not the line with its descenders.
    m_baseline = m_font.capHeight() / 2;
}

const DigitPainter::Glyph &DigitPainter::glyph(QChar c) {
    auto at = m_glyphs.find(c);
    if (at == m_glyphs.end()) {
        const QVector<quint32> index = m_font.glyphIndexesForString(QString(c));
        const QVector<QPointF> advance = m_font.advancesForGlyphIndexes(index);
        at = m_glyphs.insert(c, {index.value(0), advance.value(0).x()});
    }
    return *at;
}

DigitPainter::Run &DigitPainter::runOf(QRgb color) {
    for (Run &r : m_runs)
        if (r.color == color) return r;
    return m_runs.emplace_back(Run{color, {}, {}});
}

void DigitPainter::add(const QRectF &box, QStringView number, const QColor &color, Qt::AlignmentFlag at) {
    qreal width = 0;
    for (QChar c : number)
        width += glyph(c).advance;
    Run &run = runOf(color.rgba());
    qreal x = std::round(at == Qt::AlignRight ? box.right() - width : box.center().x() - width / 2);
    const qreal y = std::round(box.center().y() + m_baseline);
    for (QChar c : number) {
        const Glyph g = glyph(c);
        run.indexes.push_back(g.index);
        run.positions.push_back({x, y});
        x += g.advance;
    }
}

void DigitPainter::draw(QPainter &painter) {
    for (const Run &r : m_runs) {
        QGlyphRun glyphs;
        glyphs.setRawFont(m_font);
        glyphs.setGlyphIndexes(r.indexes);
        glyphs.setPositions(r.positions);
        painter.setPen(QColor::fromRgba(r.color));
        painter.drawGlyphRun({0, 0}, glyphs);
    }
    m_runs.clear();
}

} // namespace wheelwright
