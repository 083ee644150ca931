// SPDX-License-Identifier: GPL-3.0-or-later
// Which cells of the table in front are selected.
#include "core/base/error.h"
#include "session/session.h"
#include "session/words.h"

#include <algorithm>

namespace wheelwright {

TableField Session::frontField() const {
    if (const ExtraTable *other = extra()) return fieldOf(*other);
    TableField field = tableIn(job(), m_quantity, m_side == TableSide::top);
    const PhraseText quantity = quantityTitle(m_quantity);
    if (m_side == TableSide::now)
        field.title = {
            MARKED("table.at_content", "{A} at {0}"), {{m_content, Dimension::content}}, {}, {quantity}};
    else if (definitionOf(job().calibration.school).levels)
        field.title = {MARKED("table.level", "{A}, level"), {}, {}, {quantity}};
    return field;
}

std::vector<std::string> Session::frontPaths() const {
    if (extra()) return {frontField().path};
    std::vector<std::string> paths;
    for (const bool high : {false, true})
        if (m_side == TableSide::now || high == (m_side == TableSide::top))
            paths.push_back(endPath(job(), m_quantity, m_content, high));
    if (paths.size() == 2 && paths[0] == paths[1]) paths.pop_back();
    return paths;
}

Table2D &Session::frontIn(Job &job) const {
    if (extra()) return job.extras[job.extras.placeOf(*m_extra)].table;
    return endTable(job, m_quantity, m_content, m_side == TableSide::top);
}

void Session::keepSelection() {
    m_kept = chosenCells();
    m_keeping = true;
    m_anchor = m_cell;
    emit selectionChanged();
}

void Session::forgetKept() {
    m_kept.clear();
    m_keeping = false;
    m_anchor = m_cell;
    emit selectionChanged();
}

void Session::addCell(CellIndex cell) {
    const CellIndex held{std::min(cell.x, table().x().size() - 1), std::min(cell.y, table().y().size() - 1)};
    const CellSet chosen = chosenCells();
    m_kept = chosen;
    m_cell = m_anchor = held;
    if (std::ranges::binary_search(chosen, held) && chosen.size() > 1) {
        m_kept = without(chosen, {held});
        m_cell = m_anchor = m_kept.front(); // the cursor is always selected, so it must leave
    }
    emit selectionChanged();
}

CellSet Session::chosenCells() const {
    return united(m_kept, cellsOf(selection(), table()));
}

// The selection lives on the base table's axes; another table answers at its nearest breakpoints.
CellIndex Session::inFront(const Table2D &front, CellIndex cell) const {
    if (front.x() == table().x() && front.y() == table().y()) return cell;
    return {front.x().nearest(table().x()[cell.x]), front.y().nearest(table().y()[cell.y])};
}

CellSet Session::chosenIn(const Table2D &front) const {
    CellSet cells;
    for (const CellIndex &i : chosenCells())
        cells.push_back(inFront(front, i));
    std::ranges::sort(cells);
    cells.erase(std::unique(cells.begin(), cells.end()), cells.end());
    return cells;
}

bool Session::selectWhere(const QString &query) {
    try {
        const TableField field = frontField();
        const Table2D front = frontTable();
        const CellSet found =
            find(front, parseCellQuery(query.toStdString(), field.dimension, m_units, field.x, field.y));
        if (found.empty()) {
            emit problem(tr("No cell of %1 answers '%2'.").arg(text(field.title), query));
            return false;
        }
        // The selection lives on the base table's axes.
        CellSet here;
        for (const CellIndex &i : found)
            here.push_back({table().x().nearest(front.x()[i.x]), table().y().nearest(front.y()[i.y])});
        std::ranges::sort(here);
        here.erase(std::unique(here.begin(), here.end()), here.end());
        m_kept = here;
        m_keeping = false;
        m_cell = m_anchor = here.front();
        emit selectionChanged();
        emit done(found.size() == 1 ? tr("A cell found") : tr("%1 cells found").arg(found.size()));
        return true;
    } catch (const InputError &e) {
        emit problem(text(e.words()));
        return false;
    }
}

} // namespace wheelwright
