// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "pages/report_pages.h"
#include "ui/widgets/painted_parts.h"

#include <QWidget>

namespace wheelwright {

/// One printed page on the screen. What stands on it can be clicked where it leads somewhere, and reached by
/// Left and Right, Enter follows.
class PageSheet : public QWidget, public PaintedParts {
    Q_OBJECT
  public:
    explicit PageSheet(QWidget *parent = nullptr);
    /// number: from 1.
    void show(const PagePicture &page, int number);
    const PagePicture &page() const { return m_page; }
    QRect placeOf(std::size_t link) const; ///< in the widget
    QSize sizeHint() const override;

    int partCount() const override;
    PaintedPart part(int index) const override;
    int chosenPart() const override;
    void choosePart(int index) override;

  signals:
    void followed(const QString &link);

  protected:
    void paintEvent(QPaintEvent *event) override;
    void mouseMoveEvent(QMouseEvent *event) override;
    void mouseReleaseEvent(QMouseEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;
    void focusInEvent(QFocusEvent *event) override;
    void focusOutEvent(QFocusEvent *event) override;

  private:
    int linkAt(const QPoint &at) const; ///< -1: none

    PagePicture m_page;
    int m_current = -1; ///< link that the keyboard is on
};

} // namespace wheelwright
