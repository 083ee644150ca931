// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "ui/widgets/copy_table.h"

#include <QFrame>

namespace wheelwright {

class RecordModel;
class Session;

/// A table of records with its title, a hint, and a button that takes rows away. Choices and names of other
/// records are offered in the cell; Delete takes rows away, Ctrl+C copies what is selected.
class RecordTable : public QFrame {
    Q_OBJECT
  public:
    RecordTable(Session &session, const QString &title, const QString &hint, const char *list,
                QWidget *parent = nullptr);

    /// Its rows scroll: it gives way before words that do not. With the wrapped hint in it, a layout would
    /// take its wanted height for its least.
    bool hasHeightForWidth() const override { return false; }

    CopyTable *view() const { return m_view; }
    void removeSelected();
    RecordModel *records() const { return m_model; }

  private:
    CopyTable *m_view;
    RecordModel *m_model;
};

} // namespace wheelwright
