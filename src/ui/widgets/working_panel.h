// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <QFrame>

class QStackedWidget;

namespace wheelwright {

class NextList;
class ReportView;
class Session;

/// The working of the number that was selected last: formula, numbers put in, inputs, source, uncertainty,
/// what would change it. Inputs are links to where they can be changed. With no number selected it says what
/// is best found out next.
class WorkingPanel : public QFrame {
    Q_OBJECT
  public:
    explicit WorkingPanel(Session &session, QWidget *parent = nullptr);
    QString shownText() const; ///< for copying, and for tests

  signals:
    void inputWanted(const QString &link);

  private:
    void refresh();

    Session &m_session;
    QStackedWidget *m_stack;
    ReportView *m_text;
    NextList *m_next;
};

} // namespace wheelwright
