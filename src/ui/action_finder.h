// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <QDialog>

class QLineEdit;
class QListWidget;

namespace wheelwright {

/// Finds any action of the window by a few letters of its name, and runs it.
class ActionFinder : public QDialog {
    Q_OBJECT
  public:
    ActionFinder(const QList<QAction *> &actions, QWidget *parent);

  protected:
    bool eventFilter(QObject *watched, QEvent *event) override;

  private:
    void filter(const QString &typed);
    void run();

    QList<QAction *> m_actions;
    QLineEdit *m_typed;
    QListWidget *m_list;
};

} // namespace wheelwright
