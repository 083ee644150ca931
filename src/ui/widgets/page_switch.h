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
    /// The page becomes a child, and so does what stands at the end of the row of words while it is shown.
    void addPage(const QString &title, QWidget *page, QWidget *corner = nullptr);
    void showPage(QWidget *page);
    QWidget *currentPage() const;
    QList<QWidget *> pages() const; ///< in their order

  signals:
    void pageShown();

  private:
    void step(int by);

    QButtonGroup *m_buttons;
    QHBoxLayout *m_row;
    QStackedWidget *m_stack, *m_corners;
};

} // namespace wheelwright
