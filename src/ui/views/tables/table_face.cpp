// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/tables/table_face.h"

#include "ui/widgets/digit_painter.h"

#include <QPainter>

#include <cmath>
#include <numeric>

namespace wheelwright {

QRect TableFace::cellRect(const Style &s, CellIndex cell) {
    // Each edge is rounded from its own index, so that neighbours share it: no seams between cells of uneven
    // pixel widths.
    const auto edge = [](double first, double pitch, std::size_t i) {
        return static_cast<int>(std::round(first + pitch * static_cast<double>(i)));
    };
    return QRect(
        QPoint(edge(s.left, s.cellWidth, cell.x), edge(s.top, s.cellHeight, cell.y)),
        QPoint(edge(s.left, s.cellWidth, cell.x + 1) - 1, edge(s.top, s.cellHeight, cell.y + 1) - 1));
}

const QPixmap &TableFace::picture(const Style &style, std::vector<Cell> cells) {
    std::vector<std::size_t> changed;
    if (style != m_style || m_picture.isNull()) {
        const QSize pixels = (QSizeF(style.size) * style.pixelRatio).toSize();
        if (pixels != m_picture.size()) m_picture = QPixmap(pixels);
        m_picture.setDevicePixelRatio(style.pixelRatio);
        m_picture.fill(style.paper);
        m_style = style;
        changed.resize(cells.size());
        std::iota(changed.begin(), changed.end(), std::size_t{0});
    } else {
        for (std::size_t i = 0; i < cells.size(); ++i)
            if (cells[i] != m_cells[i]) changed.push_back(i);
    }
    m_cells = std::move(cells);
    if (!changed.empty()) draw(changed);
    return m_picture;
}

// Where been. Solid: a log has corrected or proven it. Dotted: one has been there. Hatched: the engine goes
// there, nothing proves it. Blank: it cannot go there.
void TableFace::draw(const std::vector<std::size_t> &which) {
    QPainter p(&m_picture);
    QColor hatch = m_style.paper;
    hatch.setAlpha(150);
    DigitPainter digits(m_style.font);
    for (const std::size_t i : which) {
        const Cell &c = m_cells[i];
        const auto shade = static_cast<std::size_t>(c.shade);
        const QRect cell = cellRect(m_style, {i % m_style.columns, i / m_style.columns});
        const QRect inside = m_style.numbers ? cell.adjusted(0, 0, -1, -1) : cell;
        if (c.trust == CellTrust::never) {
            p.fillRect(inside, m_style.paper);
            continue;
        }
        if (c.open) {
            p.fillRect(inside, m_style.paper);
            if (!c.text.isEmpty()) digits.add(cell, c.text, m_style.quiet);
            continue;
        }
        p.fillRect(inside, m_style.fill[shade]);
        if (c.trust == CellTrust::inferred) p.fillRect(inside, QBrush(hatch, Qt::BDiagPattern));
        if (c.trust == CellTrust::seen) p.fillRect(inside, QBrush(hatch, Qt::Dense6Pattern));
        if (!c.text.isEmpty()) digits.add(cell, c.text, m_style.pen[shade]);
    }
    digits.draw(p);
}

} // namespace wheelwright
