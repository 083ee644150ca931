// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <QFrame>

class QLabel;

namespace wheelwright {

/// A sentence about what went wrong, laid over the foot of its parent until it is taken away (Esc or its
/// button). It neither blocks the work nor moves it.
class NoticeBar : public QFrame {
    Q_OBJECT
  public:
    /// rail: stays to be seen at its left; in the parent.
    NoticeBar(QWidget *parent, const QWidget *rail);
    void say(const QString &sentence);
    QString sentence() const;

  protected:
    bool eventFilter(QObject *watched, QEvent *event) override;

  private:
    void place();
    const QWidget *m_rail;
    QLabel *m_text;
};

} // namespace wheelwright
