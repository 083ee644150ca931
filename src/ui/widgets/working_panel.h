// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <QFrame>

namespace wheelwright {

class ReportView;
class Session;

/// The working of the number that was selected last: formula, numbers put in, inputs, source, uncertainty,
/// what would change it. Inputs are links to where they can be changed.
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
    ReportView *m_text;
};

} // namespace wheelwright
