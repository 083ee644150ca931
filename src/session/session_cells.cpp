// SPDX-License-Identifier: GPL-3.0-or-later
// Selecting and editing cells of the table in front.
#include "core/base/error.h"
#include "core/study/blend_edit.h"
#include "core/tables/cell_expression.h"
#include "core/tables/region_edit.h"
#include "formats/table_csv.h"
#include "session/session.h"
#include "session/words.h"

#include <QLocale>

#include <algorithm>
#include <cmath>

namespace wheelwright {
namespace {

// What the cells of a copied block are, in the unit that they are shown in: "boost_psi_gauge".
std::string labelOf(const TableField &field, const UnitChoice &units) {
    const std::string unit =
        field.dimension == Dimension::sparkAngle ? "deg" : unitSymbol(field.dimension, units);
    std::string label = std::string(quantityId(field.quantity)) + "_" + unit;
    std::ranges::replace(label, ' ', '_');
    std::ranges::replace(label, '/', '_');
    return label;
}

} // namespace

TableField Session::frontField() const {
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
    std::vector<std::string> paths;
    for (const bool high : {false, true})
        if (m_side == TableSide::now || high == (m_side == TableSide::top))
            paths.push_back(endPath(job(), m_quantity, m_content, high));
    if (paths.size() == 2 && paths[0] == paths[1]) paths.pop_back();
    return paths;
}

QString Session::selectionWords() const {
    const std::size_t cells = chosenCells().size();
    if (cells > 1) return tr("%1 cells").arg(cells);
    return QString::fromStdString(
        format(table().x()[m_cell.x], Dimension::engineSpeed, m_units) + ", " +
        format(table().y()[m_cell.y], tableIn(job(), m_quantity, false).yDimension(), m_units));
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
            find(front, parseCellQuery(query.toStdString(), field.dimension, m_units, field.yDimension()));
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
        emit done(tr("%n cell(s) found", nullptr, static_cast<int>(found.size())));
        return true;
    } catch (const InputError &e) {
        emit problem(text(e.words()));
        return false;
    }
}

bool Session::toggleLocks() {
    const Table2D front = frontTable();
    const CellSet cells = chosenIn(front);
    const std::vector<bool> locks = m_side == TableSide::now ? locksOfBlend(study(), m_quantity, m_content)
                                                             : locksOf(job(), frontPaths().front(), front);
    const bool lock = !unlocked(cells, locks, front).empty();
    return perform((lock ? tr("Lock %1") : tr("Unlock %1")).arg(selectionWords()), [&](Job &job) {
        for (const std::string &path : frontPaths())
            setLocked(job, path, front, cells, lock);
    });
}

QString Session::cellNote() const {
    const Table2D front = frontTable();
    const CellIndex here = inFront(front, m_cell);
    const double rpm = front.x()[here.x], y = front.y()[here.y];
    for (const std::string &path : frontPaths())
        if (const CellMark *mark = markAt(job(), path, rpm, y); mark && !mark->note.empty())
            return QString::fromStdString(mark->note);
    return {};
}

bool Session::setCellNote(const QString &note) {
    const Table2D front = frontTable();
    const CellIndex here = inFront(front, m_cell);
    const double rpm = front.x()[here.x], y = front.y()[here.y];
    return perform(tr("Note on a cell"), [&](Job &job) {
        for (const std::string &path : frontPaths())
            setNote(job, path, rpm, y, note.trimmed().toStdString());
    });
}

// Locked cells stay as they are. What the engine gets is a blend: each cell's step goes to both ends by their
// weights, the least change.
bool Session::editCells(const QString &what, const std::function<void(Table2D &)> &edit, CellOrigin how) {
    if (!m_editor) return false;
    const bool now = m_side == TableSide::now;
    const Table2D front = frontTable();
    const std::vector<bool> locks =
        now ? locksOfBlend(study(), m_quantity, m_content) : locksOf(job(), frontPaths().front(), front);
    Table2D wanted = front;
    edit(wanted);
    std::size_t held = 0;
    for (std::size_t y = 0; y < front.y().size(); ++y)
        for (std::size_t x = 0; x < front.x().size(); ++x) {
            const CellIndex i{x, y};
            if (!locks[y * front.x().size() + x] || wanted.cell(i) == front.cell(i)) continue;
            wanted.setCell(i, front.cell(i));
            ++held;
        }
    if (held > 0 && wanted == front) {
        emit problem(tr("Nothing done: every cell that would change is locked. Space unlocks."));
        return false;
    }
    const QString title = text(frontField().title, m_units);
    QString sentence = QStringLiteral("%1: %2, %3").arg(title, what, selectionWords());
    if (held > 0) sentence += tr("; %n locked cell(s) left alone", nullptr, static_cast<int>(held));
    return perform(
        sentence,
        [&](Job &job) {
            if (now)
                setBlend(job, m_quantity, m_content, wanted);
            else
                endTable(job, m_quantity, m_content, m_side == TableSide::top) = wanted;
        },
        how, true);
}

bool Session::enterExpression(const QString &typed) {
    CellExpression expression;
    try {
        expression =
            parseCellExpression(typed.toStdString(), tableIn(job(), m_quantity, false).dimension, m_units);
    } catch (const InputError &e) {
        emit problem(text(e.words()));
        return false;
    }
    return editCells(typed.trimmed(), [&](Table2D &t) { applyExpression(t, chosenIn(t), expression); });
}

QString Session::shareOfEntry(const QString &typed) const {
    if (m_side != TableSide::now || typed.trimmed().isEmpty()) return {};
    const Dimension dimension = frontField().dimension;
    const BlendEnds before = study().ends(m_quantity, m_content);
    if (before.low == before.high) return {};
    try {
        Job after = job();
        editBlend(after, m_quantity, m_content, {m_cell},
                  parseCellExpression(typed.toStdString(), dimension, m_units));
        const BlendEnds ends = SchoolModel(after).at(m_quantity, m_content);
        const double rpm = before.low->x()[m_cell.x], y = before.low->y()[m_cell.y];
        const auto step = [&](const Table2D *was, const Table2D *is) {
            return QString::fromStdString(format(was->lookup(rpm, y).value, dimension, m_units, false) +
                                          " → " + format(is->lookup(rpm, y).value, dimension, m_units));
        };
        return tr("base %1, top %2").arg(step(before.low, ends.low), step(before.high, ends.high));
    } catch (const InputError &) {
        return {}; // not yet
    }
}

bool Session::nudge(int steps) {
    const double by = steps * tableIn(job(), m_quantity, false).step;
    return editCells(steps > 0 ? tr("up a step") : tr("down a step"), [&](Table2D &t) {
        applyExpression(t, chosenIn(t), {CellExpression::Operation::add, by});
    });
}

bool Session::interpolate(Along along) {
    // A rectangle has corners to go between; other shapes are filled row by row.
    const bool both = along == Along::both && !hasKept();
    return editCells(
        tr("interpolate"),
        [&](Table2D &t) {
            if (both)
                interpolateRegion(t, {inFront(t, selection().from), inFront(t, selection().to)});
            else if (along == Along::columns)
                interpolateColumns(t, chosenIn(t));
            else
                interpolateRows(t, chosenIn(t));
        },
        CellOrigin::interpolated);
}

bool Session::smooth(double strength) {
    return editCells(
        tr("smooth"), [&](Table2D &t) { smoothCells(t, chosenIn(t), strength); }, CellOrigin::interpolated);
}

bool Session::fillFromAround() {
    return editCells(
        tr("fill from neighbours"), [&](Table2D &t) { fillFromNeighbours(t, chosenIn(t)); },
        CellOrigin::interpolated);
}

bool Session::regridTables(const Axis &x, const Axis &y, bool all) {
    const QString title = text(frontField().title, m_units);
    return perform(
        tr("Re-grid %1").arg(all ? title.section(QLatin1Char(','), 0, 0) : title),
        [&](Job &job) {
            std::vector<Table2D *> tables;
            if (all) tables = tablesOf(job, m_quantity);
            if (!all) tables = {&endTable(job, m_quantity, m_content, m_side == TableSide::top)};
            for (Table2D *t : tables)
                *t = regrid(*t, x, y).table;
        },
        CellOrigin::interpolated);
}

// Where the block's breakpoints are the table's, its cells go there.
bool Session::pasteWithAxes(const CellBlock &block, BlockAxes axes, bool &choiceNeeded) {
    const TableField field = frontField();
    requireLabel(block.label, labelOf(field, m_units), field.yKey, "clipboard");
    std::vector<double> y, cells;
    for (const double v : block.y)
        y.push_back(fromShown(v, field.yDimension(), m_units));
    for (const auto &row : block.rows)
        for (const double v : row)
            cells.push_back(fromShown(v, field.dimension, m_units));
    const Table2D pasted(Axis(block.x, "clipboard, rpm"), Axis(std::move(y), "clipboard, first column"),
                         std::move(cells), "clipboard");
    const Table2D front = frontTable();
    const auto known = [](const Axis &in, const Axis &points) {
        constexpr double same = 1e-6;
        return std::ranges::all_of(points.points(), [&](double v) {
            return std::abs(in[in.nearest(v)] - v) <= same * std::max(1.0, std::abs(v));
        });
    };
    if (axes == BlockAxes::ask && !(known(front.x(), pasted.x()) && known(front.y(), pasted.y()))) {
        choiceNeeded = true;
        return false;
    }
    if (axes == BlockAxes::takeOver) {
        if (m_side == TableSide::now)
            throw InputError("clipboard",
                             MARKED("expected.base_top_table_front_which",
                                    "the base or the top table in front, which can take over its axes"),
                             MARKED("found.what_the_engine_gets_now", "what the engine gets now"));
        return perform(
            tr("Paste %1 with its axes").arg(text(field.title)),
            [&](Job &job) { endTable(job, m_quantity, m_content, m_side == TableSide::top) = pasted; },
            CellOrigin::copied);
    }
    const bool exact = axes == BlockAxes::ask;
    return editCells(
        tr("paste"),
        [&](Table2D &t) {
            if (exact) {
                for (std::size_t yi = 0; yi < pasted.y().size(); ++yi)
                    for (std::size_t xi = 0; xi < pasted.x().size(); ++xi)
                        t.setCell({t.x().nearest(pasted.x()[xi]), t.y().nearest(pasted.y()[yi])},
                                  pasted.cell(xi, yi));
                return;
            }
            for (const CellIndex &i : cellsOf({{0, 0}, {t.x().size() - 1, t.y().size() - 1}}, t)) {
                const TableLookup v = pasted.lookup(t.x()[i.x], t.y()[i.y]);
                if (!v.outsideX && !v.outsideY) t.setCell(i, v.value); // nothing is made up beyond the block
            }
        },
        exact ? CellOrigin::copied : CellOrigin::interpolated);
}

Session::PasteResult Session::pasteCells(const QString &text, BlockAxes axes) {
    const Dimension dimension = frontField().dimension;
    const auto result = [](bool done) { return done ? PasteResult::done : PasteResult::refused; };
    try {
        const CellBlock block = blockFromCsv(text.toStdString());
        if (!block.x.empty()) {
            bool choiceNeeded = false;
            const bool done = pasteWithAxes(block, axes, choiceNeeded);
            return choiceNeeded ? PasteResult::choiceNeeded : result(done);
        }
        const Table2D front = frontTable();
        const CellIndex corner = inFront(front, selection().from);
        const auto &rows = block.rows;
        const bool single = rows.size() == 1 && rows[0].size() == 1;
        const std::size_t columns = front.x().size() - corner.x, below = front.y().size() - corner.y;
        if (!single && (rows[0].size() > columns || rows.size() > below))
            throw InputError(
                "clipboard",
                Phrase{MARKED("expected.block", "a block of at most {0} columns and {1} rows from this cell"),
                       {{static_cast<double>(columns), Dimension::count},
                        {static_cast<double>(below), Dimension::count}}},
                Phrase{MARKED("found.block", "{0} columns and {1} rows"),
                       {{static_cast<double>(rows[0].size()), Dimension::count},
                        {static_cast<double>(rows.size()), Dimension::count}}});
        return result(editCells(
            tr("paste"),
            [&](Table2D &t) {
                if (single)
                    return applyExpression(
                        t, chosenIn(t),
                        {CellExpression::Operation::set, fromShown(rows[0][0], dimension, m_units)});
                for (std::size_t y = 0; y < rows.size(); ++y)
                    for (std::size_t x = 0; x < rows[y].size(); ++x)
                        t.setCell({corner.x + x, corner.y + y}, fromShown(rows[y][x], dimension, m_units));
            },
            CellOrigin::copied));
    } catch (const InputError &e) {
        emit problem(wheelwright::text(e.words()));
        return PasteResult::refused;
    }
}

QString Session::copyCells(bool withAxes) const {
    const Table2D t = frontTable();
    const TableField field = frontField();
    const CellSet cells = chosenIn(t);
    CellRange r{cells.front(), cells.front()};
    for (const CellIndex &i : cells) {
        r.from = {std::min(r.from.x, i.x), std::min(r.from.y, i.y)};
        r.to = {std::max(r.to.x, i.x), std::max(r.to.y, i.y)};
    }
    r = normalised(r, t);
    // The shortest digits that read back to the same number. Three digits after the point could be taken for
    // thousands where text is pasted; four cannot.
    const auto number = [&](double v, Dimension d) {
        const QString text = QString::number(toShown(v, d, m_units), 'g', QLocale::FloatingPointShortest);
        const bool likeThousands = text.size() - text.indexOf(u'.') == 4 && text.contains(u'.');
        return likeThousands ? text + u'0' : text;
    };
    QString text;
    if (withAxes) {
        text = QString::fromStdString(labelOf(field, m_units) + " / " + field.yKey + " / rpm");
        for (std::size_t x = r.from.x; x <= r.to.x; ++x)
            text += QLatin1Char('\t') + number(t.x()[x], Dimension::engineSpeed);
        text += QLatin1Char('\n');
    }
    for (std::size_t y = r.from.y; y <= r.to.y; ++y) {
        if (withAxes) text += number(t.y()[y], field.yDimension()) + QLatin1Char('\t');
        for (std::size_t x = r.from.x; x <= r.to.x; ++x) {
            if (std::ranges::binary_search(cells, CellIndex{x, y}))
                text += number(t.cell(x, y), field.dimension);
            text += QLatin1Char(x == r.to.x ? '\n' : '\t');
        }
    }
    return text;
}

} // namespace wheelwright
