// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/study/cell_trust.h"

#include <QColor>
#include <QFont>
#include <QPixmap>
#include <QRect>

#include <array>
#include <vector>

namespace wheelwright {

/// The cells of a table as a picture that is kept. Of a change only those cells are drawn again that look
/// different: most edits touch few, and moving the cursor none.
class TableFace {
  public:
    static constexpr int shades = 64; // a palette, since making a colour costs more than filling a cell
    struct Cell {
        int shade = 0;
        CellTrust trust = CellTrust::proven;
        QString text;      ///< empty: no room for numbers
        bool open = false; ///< nobody has said its number: no shade under it
        bool operator==(const Cell &) const = default;
    };
    struct Style {
        QSize size;
        qreal pixelRatio = 1;
        std::size_t columns = 0, rows = 0;
        double left = 0, top = 0, cellWidth = 0, cellHeight = 0;
        bool numbers = false; ///< room for them
        std::array<QColor, shades> fill, pen;
        QColor paper, quiet;
        QFont font;
        bool operator==(const Style &) const = default;
    };

    static QRect cellRect(const Style &style, CellIndex cell);
    /// cells row by row, as many as columns · rows.
    const QPixmap &picture(const Style &style, std::vector<Cell> cells);
    const QPixmap &picture() const { return m_picture; } ///< the last

  private:
    void draw(const std::vector<std::size_t> &which);

    Style m_style;
    std::vector<Cell> m_cells;
    QPixmap m_picture;
};

} // namespace wheelwright
