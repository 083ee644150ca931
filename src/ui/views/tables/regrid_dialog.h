// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/tables/region_edit.h"

#include <QDialog>

class QCheckBox;
class QLineEdit;
class QPushButton;

namespace wheelwright {

class ReportView;
class Session;

/// The table in front on other breakpoints: says the worst and the mean change at the old ones before it is
/// done, as one step of undo.
class RegridDialog : public QDialog {
    Q_OBJECT
  public:
    explicit RegridDialog(Session &session, QWidget *parent = nullptr);
    QString words() const;

  private:
    void preview();
    void apply();
    const Table2D &front() const;
    Axis typed(const QLineEdit &edit, const TableAxis &axis) const; ///< throws InputError

    Session &m_session;
    QLineEdit *m_x, *m_y;
    QCheckBox *m_all;
    ReportView *m_words;
    QPushButton *m_apply;
};

} // namespace wheelwright
