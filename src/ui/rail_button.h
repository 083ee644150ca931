// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "ui/theme.h"

#include <QPainter>
#include <QToolButton>

namespace wheelwright {

/// A station of the rail, with the digit that opens it.
class RailButton : public QToolButton {
  public:
    RailButton(int digit, QWidget *parent) : QToolButton(parent), m_digit(digit) {}

  protected:
    void paintEvent(QPaintEvent *event) override {
        QToolButton::paintEvent(event);
        QPainter p(this);
        p.setFont(monoFont(10));
        p.setPen(theme().quiet);
        constexpr int edge = 5;
        p.drawText(rect().adjusted(edge, edge - 2, -edge, -edge), Qt::AlignTop | Qt::AlignRight,
                   QString::number(m_digit));
    }

  private:
    int m_digit;
};

} // namespace wheelwright
