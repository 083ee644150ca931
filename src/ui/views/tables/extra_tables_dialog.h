// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/job/job.h"

#include <QDialog>

class QLabel;
class QLineEdit;
class QListWidget;
class QPushButton;
class QTableWidget;
class QVBoxLayout;

namespace wheelwright {

class ReportView;
class Session;

/// The controller's other tables: corrections, starting, acceleration, fallback, cuts. Added from a list of
/// kinds, named, duplicated and taken away; a cell takes a number or an expression. Every edit is one step of
/// undo.
class ExtraTablesDialog : public QDialog {
    Q_OBJECT
  public:
    /// Over the window; one that is open already comes to the front.
    /// which: the name of a table, or the id of a kind, to begin with; empty: none.
    static void bringUp(Session &session, QWidget *window, const QString &which = {});
    explicit ExtraTablesDialog(Session &session, QWidget *parent = nullptr);
    QListWidget *list() const { return m_list; }
    QTableWidget *cells() const { return m_cells; }
    void add(TableKind kind);
    QLineEdit *foundAt() const { return m_foundAt; }
    QLineEdit *plusMinus() const { return m_plusMinus; }
    /// Where the numbers of the selected cells come from.
    void sayOrigin(CellOrigin origin);

  private:
    void refresh();
    void choose(const QString &which);
    void showCells();
    void showBudget();
    void enter(int row, int column);
    void enterContent();
    void enterPlusMinus();
    void addAtContent(QVBoxLayout *to);
    void rename();
    void duplicate();
    void takeAway();
    int chosen() const; ///< -1: none
    std::string freeName(const std::string &wanted) const;

    Session &m_session;
    QListWidget *m_list;
    QTableWidget *m_cells;
    QWidget *m_atContent; ///< of tables that stand at a content
    QLineEdit *m_foundAt, *m_plusMinus;
    QPushButton *m_origin;
    QLabel *m_words;
    ReportView *m_budget; ///< the spark at the cursor of the tables, step by step
    bool m_filling = false;
};

} // namespace wheelwright
