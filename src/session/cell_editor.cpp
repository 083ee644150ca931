// SPDX-License-Identifier: GPL-3.0-or-later
#include "session/cell_editor.h"

#include "core/base/error.h"
#include "core/job/named_tables.h"
#include "core/study/blend_edit.h"
#include "core/tables/cell_expression.h"
#include "core/tables/region_edit.h"
#include "formats/table_csv.h"
#include "session/words.h"

#include <algorithm>
#include <cmath>

namespace wheelwright {
namespace {

// What the cells of a copied block are, in the unit that they are shown in: "boost_psi_gauge".
// In the words that whoever reads it back knows, whatever language the window speaks.
std::string shownLabel(const TableField &field, UnitChoice units) {
    units.words.reset();
    units.decimalPoint = '.';
    const std::string unit =
        field.dimension == Dimension::sparkAngle ? "deg" : unitSymbol(field.dimension, units);
    std::string label = std::string(field.holds) + (unit.empty() ? "" : "_" + unit);
    std::ranges::replace(label, ' ', '_');
    std::ranges::replace(label, '/', '_');
    return label;
}

// Where the comma is the decimal mark, a single column has no other delimiter by which it could be told from
// one: "14,5" is a number there, not two.
QString oneColumn(const QString &block, const UnitChoice &units) {
    if (units.decimalPoint != ',' || block.contains(u'\t') || block.contains(u';')) return block;
    for (const QString &line : block.split(u'\n'))
        if (line.count(u',') > 1) return block;
    return QString(block).replace(u',', u'.');
}

// "3000 rpm"; an axis without a unit is named.
QString along(const TableAxis &axis, double v, const UnitChoice &units) {
    return axis.dimension == Dimension::none ? text(axis.title) + QLatin1Char(' ') + briefText(v, units)
                                             : QString::fromStdString(format(v, axis.dimension, units));
}

} // namespace

QString CellEditor::selectionWords() const {
    const std::size_t cells = m_session.chosenCells().size();
    if (cells > 1) return tr("%1 cells").arg(cells);
    const TableField field = m_session.frontField();
    const UnitChoice &units = m_session.units();
    QString x = along(field.x, m_session.table().x()[m_session.cell().x], units);
    if (field.y.single()) return x;
    return x + QStringLiteral(", ") + along(field.y, m_session.table().y()[m_session.cell().y], units);
}

std::vector<bool> CellEditor::frontLocks(const Table2D &front) const {
    return m_session.frontIsBlend()
               ? locksOfBlend(m_session.study(), m_session.quantity(), m_session.content())
               : locksOf(m_session.job(), m_session.frontPaths().front(), front);
}

bool CellEditor::mayEdit() {
    if (!m_session.looksBack()) return true;
    m_session.report(
        tr("Two revisions are compared: these are not the numbers of now. D shows the tables again."));
    return false;
}

bool CellEditor::toggleLocks() {
    if (!mayEdit()) return false;
    const Table2D front = m_session.frontTable();
    const CellSet cells = m_session.chosenIn(front);
    const std::vector<bool> locks = frontLocks(front);
    const bool lock = !unlocked(cells, locks, front).empty();
    return m_session.perform((lock ? tr("Lock %1") : tr("Unlock %1")).arg(selectionWords()), [&](Job &job) {
        for (const std::string &path : m_session.frontPaths())
            setLocked(job, path, front, cells, lock);
    });
}

QString CellEditor::cellNote() const {
    const Table2D front = m_session.frontTable();
    const CellIndex here = m_session.inFront(front, m_session.cell());
    const double rpm = front.x()[here.x], y = front.y()[here.y];
    for (const std::string &path : m_session.frontPaths())
        if (const CellMark *mark = markAt(m_session.job(), path, rpm, y); mark && !mark->note.empty())
            return QString::fromStdString(mark->note);
    return {};
}

bool CellEditor::setCellNote(const QString &note) {
    const Table2D front = m_session.frontTable();
    const CellIndex here = m_session.inFront(front, m_session.cell());
    const double rpm = front.x()[here.x], y = front.y()[here.y];
    return m_session.perform(tr("Note on a cell"), [&](Job &job) {
        for (const std::string &path : m_session.frontPaths())
            setNote(job, path, rpm, y, note.trimmed().toStdString());
    });
}

bool CellEditor::stateSelected() {
    if (!mayEdit() || !m_session.hasJob()) return false;
    std::size_t stated = 0;
    Job trial = m_session.job();
    const auto state = [&](Job &job) {
        stated = 0;
        for (const std::string &path : m_session.frontPaths())
            if (Table2D *t = namedTable(job, path)) stated += stateCells(*t, m_session.chosenIn(*t));
    };
    state(trial);
    if (stated == 0) {
        m_session.report(tr("Nothing done: none of these numbers is an estimate or a default."));
        return false;
    }
    return m_session.perform(
        tr("%1: these are so, %2")
            .arg(text(m_session.frontField().title, m_session.units()), selectionWords()),
        state);
}

// Locked cells stay as they are. What the engine gets is a blend: each cell's step goes to both ends by their
// weights, the least change.
bool CellEditor::editCells(const QString &what, const std::function<void(Table2D &)> &edit, CellOrigin how) {
    if (!mayEdit()) return false;
    if (!m_session.hasJob()) return false;
    const Table2D front = m_session.frontTable();
    const std::vector<bool> locks = frontLocks(front);
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
        m_session.report(tr("Nothing done: every cell that would change is locked. Space unlocks."));
        return false;
    }
    const QString title = text(m_session.frontField().title, m_session.units());
    QString sentence = QStringLiteral("%1: %2, %3").arg(title, what, selectionWords());
    if (held > 0)
        sentence +=
            held == 1 ? tr("; a locked cell left alone") : tr("; %1 locked cells left alone").arg(held);
    return m_session.perform(
        sentence,
        [&](Job &job) {
            if (m_session.frontIsBlend())
                setBlend(job, m_session.quantity(), m_session.content(), wanted);
            else
                m_session.frontIn(job) = wanted;
        },
        how, true);
}

bool CellEditor::enterExpression(const QString &typed) {
    CellExpression expression;
    try {
        expression =
            parseCellExpression(typed.toStdString(), m_session.frontField().dimension, m_session.units());
    } catch (const InputError &e) {
        m_session.report(text(e.words()));
        return false;
    }
    return editCells(typed.trimmed(), [&](Table2D &t) {
        const Table2D before = t;
        applyExpression(t, m_session.chosenIn(t), expression);
        // The very number that a guess holds already, typed: now somebody has said it.
        if (expression.operation != CellExpression::Operation::set) return;
        for (const CellIndex &i : m_session.chosenIn(t))
            if (t.cell(i) == before.cell(i) && guessed(before.origin(i))) t.setOrigin(i, CellOrigin::typed);
    });
}

QString CellEditor::shareOfEntry(const QString &typed) const {
    if (!m_session.frontIsBlend() || typed.trimmed().isEmpty()) return {};
    const Dimension dimension = m_session.frontField().dimension;
    const BlendEnds before = m_session.study().ends(m_session.quantity(), m_session.content());
    if (before.low == before.high) return {};
    try {
        Job after = m_session.job();
        editBlend(after, m_session.quantity(), m_session.content(), {m_session.cell()},
                  parseCellExpression(typed.toStdString(), dimension, m_session.units()));
        const BlendEnds ends = SchoolModel(after).at(m_session.quantity(), m_session.content());
        const double rpm = before.low->x()[m_session.cell().x], y = before.low->y()[m_session.cell().y];
        const auto step = [&](const Table2D *was, const Table2D *is) {
            return QString::fromStdString(
                format(was->lookup(rpm, y).value, dimension, m_session.units(), false) + " → " +
                format(is->lookup(rpm, y).value, dimension, m_session.units()));
        };
        return tr("base %1, top %2").arg(step(before.low, ends.low), step(before.high, ends.high));
    } catch (const InputError &) {
        return {}; // not yet
    }
}

bool CellEditor::nudge(int steps) {
    const double by = steps * m_session.frontField().step;
    return editCells(steps > 0 ? tr("up a step") : tr("down a step"), [&](Table2D &t) {
        applyExpression(t, m_session.chosenIn(t), {CellExpression::Operation::add, by});
    });
}

bool CellEditor::interpolate(Along along) {
    // A rectangle has corners to go between; other shapes are filled row by row.
    const bool both = along == Along::both && !m_session.hasKept();
    return editCells(
        tr("interpolate"),
        [&](Table2D &t) {
            if (both)
                interpolateRegion(t, {m_session.inFront(t, m_session.selection().from),
                                      m_session.inFront(t, m_session.selection().to)});
            else if (along == Along::columns)
                interpolateColumns(t, m_session.chosenIn(t));
            else
                interpolateRows(t, m_session.chosenIn(t));
        },
        CellOrigin::interpolated);
}

bool CellEditor::smooth(double strength) {
    return editCells(
        tr("smooth"), [&](Table2D &t) { smoothCells(t, m_session.chosenIn(t), strength); },
        CellOrigin::interpolated);
}

bool CellEditor::fillFromAround() {
    return editCells(
        tr("fill from neighbours"), [&](Table2D &t) { fillFromNeighbours(t, m_session.chosenIn(t)); },
        CellOrigin::interpolated);
}

bool CellEditor::regridTables(const Axis &x, const Axis &y, bool all) {
    if (!mayEdit()) return false;
    const QString title = text(m_session.frontField().title, m_session.units());
    return m_session.perform(
        tr("Re-grid %1").arg(all ? title.section(QLatin1Char(','), 0, 0) : title),
        [&](Job &job) {
            if (!all) {
                Table2D &front = m_session.frontIn(job);
                front = regrid(front, x, y).table;
            } else if (const ExtraTable *other = m_session.extra()) {
                const TableKind kind = other->kind;
                for (ExtraTable &e : job.extras)
                    if (e.kind == kind) e.table = regrid(e.table, x, y).table;
            } else {
                for (Table2D *t : tablesOf(job, m_session.quantity()))
                    *t = regrid(*t, x, y).table;
            }
        },
        CellOrigin::interpolated);
}

// Where the block's breakpoints are the table's, its cells go there.
bool CellEditor::pasteWithAxes(const CellBlock &block, BlockAxes axes, bool &choiceNeeded) {
    const TableField field = m_session.frontField();
    requireLabel(block.label, shownLabel(field, m_session.units()), field, "clipboard");
    std::vector<double> x, y, cells;
    for (const double v : block.x)
        x.push_back(fromShown(v, field.x.dimension, m_session.units()));
    for (const double v : block.y)
        y.push_back(fromShown(v, field.y.dimension, m_session.units()));
    for (const auto &row : block.rows)
        for (const double v : row)
            cells.push_back(fromShown(v, field.dimension, m_session.units()));
    const Table2D pasted(Axis(std::move(x), "clipboard, " + std::string(field.x.key)),
                         Axis(std::move(y), "clipboard, first column"), std::move(cells), "clipboard");
    const Table2D front = m_session.frontTable();
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
        if (m_session.frontIsBlend())
            throw InputError("clipboard",
                             MARKED("expected.base_top_table_front_which",
                                    "the base or the top table in front, which can take over its axes"),
                             MARKED("found.what_the_engine_gets_now", "what the engine gets now"));
        return m_session.perform(
            tr("Paste %1 with its axes").arg(text(field.title)),
            [&](Job &job) { m_session.frontIn(job) = pasted; }, CellOrigin::copied);
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

CellEditor::PasteResult CellEditor::pasteCells(const QString &text, BlockAxes axes) {
    const Dimension dimension = m_session.frontField().dimension;
    const auto result = [](bool done) { return done ? PasteResult::done : PasteResult::refused; };
    if (!mayEdit()) return PasteResult::refused;
    try {
        const CellBlock block = blockFromCsv(oneColumn(text, m_session.units()).toStdString());
        if (!block.x.empty()) {
            bool choiceNeeded = false;
            const bool done = pasteWithAxes(block, axes, choiceNeeded);
            return choiceNeeded ? PasteResult::choiceNeeded : result(done);
        }
        const Table2D front = m_session.frontTable();
        const CellIndex corner = m_session.inFront(front, m_session.selection().from);
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
                    return applyExpression(t, m_session.chosenIn(t),
                                           {CellExpression::Operation::set,
                                            fromShown(rows[0][0], dimension, m_session.units())});
                for (std::size_t y = 0; y < rows.size(); ++y)
                    for (std::size_t x = 0; x < rows[y].size(); ++x)
                        t.setCell({corner.x + x, corner.y + y},
                                  fromShown(rows[y][x], dimension, m_session.units()));
            },
            CellOrigin::copied));
    } catch (const InputError &e) {
        m_session.report(wheelwright::text(e.words()));
        return PasteResult::refused;
    }
}

QString CellEditor::copyCells(bool withAxes) const {
    const Table2D t = m_session.frontTable();
    const TableField field = m_session.frontField();
    const CellSet cells = m_session.chosenIn(t);
    CellRange r{cells.front(), cells.front()};
    for (const CellIndex &i : cells) {
        r.from = {std::min(r.from.x, i.x), std::min(r.from.y, i.y)};
        r.to = {std::max(r.to.x, i.x), std::max(r.to.y, i.y)};
    }
    r = normalised(r, t);
    // The shortest digits that read back to the same number. Three digits after the point could be taken for
    // thousands where text is pasted; four cannot.
    const auto number = [&](double v, Dimension d) {
        const QString text = exactText(toShown(v, d, m_session.units()), m_session.units());
        const qsizetype point = text.indexOf(QLatin1Char(m_session.units().decimalPoint));
        const bool likeThousands = point >= 0 && text.size() - point == 4;
        return likeThousands ? text + u'0' : text;
    };
    QString text;
    if (withAxes) {
        text = QString::fromStdString(labelOf(field, shownLabel(field, m_session.units())));
        for (std::size_t x = r.from.x; x <= r.to.x; ++x)
            text += QLatin1Char('\t') + number(t.x()[x], field.x.dimension);
        text += QLatin1Char('\n');
    }
    for (std::size_t y = r.from.y; y <= r.to.y; ++y) {
        if (withAxes) text += number(t.y()[y], field.y.dimension) + QLatin1Char('\t');
        for (std::size_t x = r.from.x; x <= r.to.x; ++x) {
            if (std::ranges::binary_search(cells, CellIndex{x, y}))
                text += number(t.cell(x, y), field.dimension);
            text += QLatin1Char(x == r.to.x ? '\n' : '\t');
        }
    }
    return text;
}

} // namespace wheelwright
