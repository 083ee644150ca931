// SPDX-License-Identifier: GPL-3.0-or-later
// What the grid tells of its cells to who does not see them.
#include "session/session.h"
#include "ui/text.h"
#include "ui/views/tables/table_grid.h"

namespace wheelwright {

QString TableGrid::placeWords(const TableAxis &axis, double at) const {
    return axis.dimension == Dimension::none
               ? tr("%1 %2").arg(text(axis.title), briefText(at, m_session.units()))
               : shown(at, axis.dimension, m_session.units());
}

QString TableGrid::cellWords(const Table2D &t, CellIndex c) const {
    const TableField f = field();
    const QString across = placeWords(f.x, t.x()[c.x]);
    const QString number =
        m_reference ? cellText(shownValue(t, c)) : shown(t.cell(c), f.dimension, m_session.units());
    return f.y.single() ? tr("%1: %2").arg(across, number)
                        : tr("%1, %2: %3").arg(across, placeWords(f.y, t.y()[c.y]), number);
}

int TableGrid::partColumns() const {
    return m_session.hasJob() ? static_cast<int>(shownTable().x().size()) : 0;
}

int TableGrid::partCount() const {
    return m_session.hasJob() ? partColumns() * static_cast<int>(shownTable().y().size()) : 0;
}

PaintedPart TableGrid::part(int index) const {
    const Table2D &t = shownTable();
    const CellIndex c{static_cast<std::size_t>(index % partColumns()),
                      static_cast<std::size_t>(index / partColumns())};
    return {cellWords(t, c), TableFace::cellRect(layoutOf(t), c)};
}

int TableGrid::chosenPart() const {
    if (!m_session.hasJob()) return -1;
    const CellIndex c = cursorIn(shownTable(), m_session.cell());
    return static_cast<int>(c.y) * partColumns() + static_cast<int>(c.x);
}

void TableGrid::choosePart(int index) {
    m_session.setSide(m_side);
    if (m_session.hasKept()) m_session.forgetKept();
    m_session.setCell(
        {static_cast<std::size_t>(index % partColumns()), static_cast<std::size_t>(index / partColumns())},
        false);
}

QString TableGrid::columnName(int column) const {
    return placeWords(field().x, shownTable().x()[static_cast<std::size_t>(column)]);
}

QString TableGrid::rowName(int row) const {
    return placeWords(field().y, shownTable().y()[static_cast<std::size_t>(row)]);
}

} // namespace wheelwright
