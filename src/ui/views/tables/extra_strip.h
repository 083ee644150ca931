// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "session/session.h"

#include <QWidget>

class QLabel;
class QLineEdit;
class QPushButton;

namespace wheelwright {

/// What the other table on the bench is, in words, and for one that was found on a fuel: at which content,
/// how well it is known, and where the chosen cells come from.
class ExtraStrip : public QWidget {
    Q_OBJECT
  public:
    explicit ExtraStrip(Session &session, QWidget *parent = nullptr);
    QLineEdit *foundAt() const { return m_foundAt; }
    QLineEdit *plusMinus() const { return m_plusMinus; }
    void sayOrigin(CellOrigin origin); ///< of the chosen cells

  private:
    void refresh();
    void enterContent();
    void enterPlusMinus();
    void enter(const QLineEdit &typed, const QString &what, double ExtraTable::*member, Dimension dimension);

    Session &m_session;
    QLabel *m_words;
    QWidget *m_atContent;
    QLineEdit *m_foundAt, *m_plusMinus;
    QPushButton *m_origin;
};

} // namespace wheelwright
