// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <QTableView>

namespace wheelwright {

/// A table whose selected cells can be copied: tab-separated, under the titles of their columns.
class CopyTable : public QTableView {
    Q_OBJECT
  public:
    explicit CopyTable(QWidget *parent = nullptr);

  public slots:
    void copy() const;

  signals:
    void removeWanted(); ///< Delete was pressed

  protected:
    void keyPressEvent(QKeyEvent *event) override;
};

} // namespace wheelwright
