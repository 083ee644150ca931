// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <QWidget>

class QButtonGroup;
class QHBoxLayout;
class QStackedWidget;

namespace wheelwright {

/// Pages of a station behind a row of words; Ctrl+Page keys go to the next and the one before.
class PageSwitch : public QWidget {
    Q_OBJECT
  public:
    explicit PageSwitch(QWidget *parent = nullptr);
    void addPage(const QString &title, QWidget *page); ///< the page becomes a child
    void showPage(QWidget *page);
    QWidget *currentPage() const;
    QList<QWidget *> pages() const; ///< in their order

  signals:
    void pageShown();

  private:
    void step(int by);

    QButtonGroup *m_buttons;
    QHBoxLayout *m_row;
    QStackedWidget *m_stack;
};

} // namespace wheelwright
