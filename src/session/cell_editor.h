// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "session/session.h"

#include <QCoreApplication>

namespace wheelwright {

/// Edits of the selected cells of the table in front, each one step of undo. An edit of 'now' is shared by
/// both ends by their weights; locked cells stay as they are. Made where it is needed: it holds nothing but
/// the session. False when nothing came of it; the reason goes out as the session's problem().
class CellEditor {
    Q_DECLARE_TR_FUNCTIONS(CellEditor)
  public:
    explicit CellEditor(Session &session) : m_session(session) {}

    /// Locks the selected cells, or unlocks them when all are locked: of 'now' at both ends.
    bool toggleLocks();
    QString cellNote() const;
    bool setCellNote(const QString &note);
    bool enterExpression(const QString &typed);
    /// What an entry into 'now' would do to both ends at the cursor: "base 20.5 → 20.7, top 24.0 → 25.1".
    /// Empty for what cannot be read yet, and where a table is edited by itself.
    QString shareOfEntry(const QString &typed) const;
    /// Says that the selected numbers are so: what was guessed is typed from now on, of 'now' at both ends.
    bool stateSelected();
    bool nudge(int steps);
    enum class Along { both, rows, columns };
    bool interpolate(Along along = Along::both);
    bool smooth(double strength = 0.5); ///< 0–1
    bool fillFromAround();              ///< the smoothest surface that meets the cells around
    /// The table in front, or all tables of the quantity, on other breakpoints.
    bool regridTables(const Axis &x, const Axis &y, bool all);
    /// Rows of numbers in the shown unit; one number fills the selection. A block with axes of its own goes
    /// where its breakpoints are; where the table has not got them, the caller must choose.
    enum class BlockAxes { ask, interpolate, takeOver };
    enum class PasteResult { done, refused, choiceNeeded };
    PasteResult pasteCells(const QString &block, BlockAxes axes = BlockAxes::ask);
    /// The smallest block around the selection of the table in front, in the shown unit, tab-separated; cells
    /// outside the selection are empty.
    QString copyCells(bool withAxes = false) const;

  private:
    bool mayEdit(); ///< the cells show the numbers of now
    bool editCells(const QString &what, const std::function<void(Table2D &)> &edit,
                   CellOrigin how = CellOrigin::typed);
    bool pasteWithAxes(const struct CellBlock &block, BlockAxes axes, bool &choiceNeeded);
    std::vector<bool> frontLocks(const Table2D &front) const; ///< row by row
    QString selectionWords() const;

    Session &m_session;
};

} // namespace wheelwright
