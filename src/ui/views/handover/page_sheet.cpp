// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/handover/page_sheet.h"

#include "ui/theme.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>

#include <algorithm>
#include <cmath>

namespace wheelwright {

PageSheet::PageSheet(QWidget *parent) : QWidget(parent) {
    setMouseTracking(true);
    setFocusPolicy(Qt::StrongFocus);
    setSizePolicy(QSizePolicy::Fixed, QSizePolicy::Fixed);
}

void PageSheet::show(const PagePicture &page, int number) {
    m_page = page;
    if (m_current >= static_cast<int>(m_page.links.size())) m_current = -1;
    setAccessibleName(tr("Page %1").arg(number));
    setAccessibleDescription(page.words);
    updateGeometry();
    update();
}

QSize PageSheet::sizeHint() const {
    const QSizeF size = QSizeF(m_page.picture.size()) / devicePixelRatioF();
    return {static_cast<int>(std::ceil(size.width())), static_cast<int>(std::ceil(size.height()))};
}

QRect PageSheet::placeOf(std::size_t link) const {
    const QRect at = m_page.links[link].at;
    const double ratio = devicePixelRatioF();
    constexpr int around = 2; // easier to hit, and the frame stands clear of the letters
    return QRectF(QPointF(at.topLeft()) / ratio, QSizeF(at.size()) / ratio)
        .toAlignedRect()
        .adjusted(-around, -around, around, around);
}

int PageSheet::linkAt(const QPoint &at) const {
    for (std::size_t i = 0; i < m_page.links.size(); ++i)
        if (placeOf(i).contains(at)) return static_cast<int>(i);
    return -1;
}

void PageSheet::paintEvent(QPaintEvent *) {
    QPainter painter(this);
    painter.drawImage(QRectF(QPointF(), QSizeF(m_page.picture.size()) / devicePixelRatioF()), m_page.picture);
    painter.setPen(QPen(theme().line, 1));
    painter.drawRect(rect().adjusted(0, 0, -1, -1));
    if (!hasFocus()) return;
    constexpr int thick = 2;
    painter.setPen(QPen(Qt::black, thick)); // on paper, whatever the window's colours
    if (m_current >= 0)
        painter.drawRect(placeOf(static_cast<std::size_t>(m_current)));
    else
        painter.drawRect(rect().adjusted(1, 1, -2, -2));
}

void PageSheet::mouseMoveEvent(QMouseEvent *event) {
    setCursor(linkAt(event->position().toPoint()) >= 0 ? Qt::PointingHandCursor : Qt::ArrowCursor);
}

void PageSheet::mouseReleaseEvent(QMouseEvent *event) {
    const int at = linkAt(event->position().toPoint());
    if (event->button() != Qt::LeftButton || at < 0) return QWidget::mouseReleaseEvent(event);
    m_current = at;
    update();
    emit followed(m_page.links[static_cast<std::size_t>(at)].leadsTo);
}

void PageSheet::keyPressEvent(QKeyEvent *event) {
    const int count = static_cast<int>(m_page.links.size());
    const int key = event->key();
    if (count > 0 && (key == Qt::Key_Left || key == Qt::Key_Right)) {
        m_current = std::clamp(m_current + (key == Qt::Key_Right ? 1 : -1), 0, count - 1);
        partWasChosen(*this);
        update();
    } else if (m_current >= 0 && (key == Qt::Key_Return || key == Qt::Key_Enter)) {
        emit followed(m_page.links[static_cast<std::size_t>(m_current)].leadsTo);
    } else {
        QWidget::keyPressEvent(event);
    }
}

void PageSheet::focusInEvent(QFocusEvent *event) {
    update();
    QWidget::focusInEvent(event);
}

void PageSheet::focusOutEvent(QFocusEvent *event) {
    update();
    QWidget::focusOutEvent(event);
}

int PageSheet::partCount() const {
    return static_cast<int>(m_page.links.size());
}

PaintedPart PageSheet::part(int index) const {
    const auto link = static_cast<std::size_t>(index);
    return {m_page.links[link].words, placeOf(link)};
}

int PageSheet::chosenPart() const {
    return m_current;
}

void PageSheet::choosePart(int index) {
    m_current = index;
    update();
    emit followed(m_page.links[static_cast<std::size_t>(index)].leadsTo);
}

} // namespace wheelwright
