// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/widgets/copy_table.h"

#include <QApplication>
#include <QClipboard>
#include <QKeyEvent>

namespace wheelwright {

CopyTable::CopyTable(QWidget *parent) : QTableView(parent) {
    setTabKeyNavigation(false); // arrows go through the cells, Tab goes on: nobody is kept in a table
}

void CopyTable::copy() const {
    const QItemSelection selection = selectionModel()->selection();
    if (selection.isEmpty()) return;
    const QItemSelectionRange &range = selection.first();
    const auto shown = [&](int row, int column) {
        const QModelIndex index = model()->index(row, column);
        const QVariant check = index.data(Qt::CheckStateRole);
        if (!check.isValid()) return index.data(Qt::DisplayRole).toString();
        return check.toInt() == Qt::Checked ? tr("yes") : tr("no");
    };
    QString out;
    for (int row = range.top() - 1; row <= range.bottom(); ++row) {
        const bool head = row < range.top();
        QStringList cells{head ? QString() : model()->headerData(row, Qt::Vertical).toString()};
        for (int column = range.left(); column <= range.right(); ++column)
            cells << (head ? model()->headerData(column, Qt::Horizontal).toString() : shown(row, column));
        out += cells.join(QLatin1Char('\t')) + QLatin1Char('\n');
    }
    QApplication::clipboard()->setText(out);
}

void CopyTable::keyPressEvent(QKeyEvent *event) {
    if (event->key() == Qt::Key_Delete)
        emit removeWanted();
    else if (event->matches(QKeySequence::Copy))
        copy();
    else
        QTableView::keyPressEvent(event);
}

} // namespace wheelwright
