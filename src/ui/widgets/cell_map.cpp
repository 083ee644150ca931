// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/widgets/cell_map.h"

#include "session/session.h"
#include "ui/text.h"
#include "ui/theme.h"

#include <QApplication>
#include <QClipboard>
#include <QHelpEvent>
#include <QKeyEvent>
#include <QPainter>
#include <QToolTip>

#include <algorithm>
#include <cmath>
#include <utility>

namespace wheelwright {
namespace {

constexpr int headHeight = 36, titleHeight = 18, sideWidth = 46;

} // namespace

CellMap::CellMap(Session &session, const QString &name, const char *helpPage, QWidget *parent)
    : QWidget(parent), m_session(session) {
    setFocusPolicy(Qt::StrongFocus);
    setProperty("helpPage", helpPage);
    setAccessibleName(name);
}

void CellMap::setAxes(std::vector<double> rpm, std::vector<double> loadKpa) {
    m_rpm = std::move(rpm);
    m_loadKpa = std::move(loadKpa);
    if (hasCells()) {
        m_x = std::min(m_x, m_rpm.size() - 1);
        m_y = std::min(m_y, m_loadKpa.size() - 1);
    }
    if (m_marked && (m_marked->right >= m_rpm.size() || m_marked->bottom >= m_loadKpa.size())) mark({});
    update();
}

QRectF CellMap::box(std::size_t x, std::size_t y) const {
    const double w = (width() - sideWidth) / static_cast<double>(m_rpm.size());
    const double h = (height() - headHeight) / static_cast<double>(m_loadKpa.size());
    return {sideWidth + static_cast<double>(x) * w, headHeight + static_cast<double>(y) * h, w, h};
}

bool CellMap::fits(int digits) const {
    if (!hasCells()) return false;
    const QRectF first = box(0, 0);
    constexpr double perDigit = 6, least = 12;
    return first.width() >= perDigit * digits && first.height() >= least;
}

void CellMap::paintEvent(QPaintEvent *) {
    QPainter p(this);
    p.fillRect(rect(), theme().raised);
    if (!hasCells()) return;
    p.setFont(sansFont(12, true));
    paintHead(p);
    const QRectF first = box(0, 0);
    p.setFont(monoFont(10));
    p.setPen(theme().quiet);
    constexpr double roomForSpeed = 36, roomForLoad = 13;
    const auto every = static_cast<std::size_t>(std::max(1.0, std::ceil(roomForSpeed / first.width())));
    for (std::size_t x = 0; x < m_rpm.size(); x += every) {
        const QString speed = QString::number(m_rpm[x], 'f', 0);
        const double left = box(x, 0).left();
        if (left + p.fontMetrics().horizontalAdvance(speed) > width()) break; // no room for all of it
        p.drawText(
            QRectF(left, titleHeight, first.width() * static_cast<double>(every), headHeight - titleHeight),
            Qt::AlignLeft | Qt::AlignVCenter, speed);
    }
    const auto everyRow = static_cast<std::size_t>(std::max(1.0, std::ceil(roomForLoad / first.height())));
    for (std::size_t y = 0; y < m_loadKpa.size(); y += everyRow)
        p.drawText(QRectF(0, box(0, y).top(), sideWidth - 5, first.height()),
                   Qt::AlignRight | Qt::AlignVCenter,
                   shown(m_loadKpa[y], Dimension::pressure, m_session.units(), false));
    for (std::size_t y = 0; y < m_loadKpa.size(); ++y)
        for (std::size_t x = 0; x < m_rpm.size(); ++x)
            paintCell(p, box(x, y), x, y);
    p.setPen(QPen(theme().ink, hasFocus() ? 2 : 1));
    p.setBrush(Qt::NoBrush);
    p.drawRect(box(m_x, m_y));
    if (!m_marked) return;
    p.setPen(QPen(theme().ink, 2, Qt::DashLine));
    p.drawRect(box(m_marked->left, m_marked->top).united(box(m_marked->right, m_marked->bottom)));
}

void CellMap::setMarking(bool marking) {
    m_marking = marking;
    if (!marking) mark({});
}

void CellMap::mark(std::optional<Marked> cells) {
    if (cells == m_marked) return;
    m_marked = cells;
    update();
    if (!m_dragged) emit markedChanged();
}

// From where the mark began to here; one cell alone is no region.
void CellMap::extendTo(std::size_t x, std::size_t y) {
    const Marked to{std::min(m_fromX, x), std::max(m_fromX, x), std::min(m_fromY, y), std::max(m_fromY, y)};
    mark(to.left == to.right && to.top == to.bottom ? std::nullopt : std::optional(to));
}

void CellMap::moveTo(std::size_t x, std::size_t y, bool extends) {
    if (extends && m_marking && !m_marked) {
        m_fromX = m_x;
        m_fromY = m_y;
    }
    choose(x, y);
    if (extends && m_marking) extendTo(x, y);
}

bool CellMap::cellAt(QPointF position, std::size_t &x, std::size_t &y) const {
    if (!hasCells()) return false;
    const QRectF first = box(0, 0);
    const double column = (position.x() - sideWidth) / first.width(),
                 row = (position.y() - headHeight) / first.height();
    if (column < 0 || row < 0 || column >= static_cast<double>(m_rpm.size()) ||
        row >= static_cast<double>(m_loadKpa.size()))
        return false;
    x = static_cast<std::size_t>(column);
    y = static_cast<std::size_t>(row);
    return true;
}

void CellMap::choose(std::size_t x, std::size_t y) {
    m_x = x;
    m_y = y;
    setAccessibleDescription(words(x, y));
    partWasChosen(*this);
    update();
    emit chosen();
}

void CellMap::mousePressEvent(QMouseEvent *event) {
    std::size_t x = 0, y = 0;
    if (!cellAt(event->position(), x, y)) return;
    const bool extends = m_marking && event->modifiers().testFlag(Qt::ShiftModifier);
    moveTo(x, y, extends);
    if (extends) return;
    m_fromX = x;
    m_fromY = y;
    emit cellWanted(m_rpm[x], m_loadKpa[y]);
}

void CellMap::mouseMoveEvent(QMouseEvent *event) {
    std::size_t x = 0, y = 0;
    if (!m_marking || !event->buttons().testFlag(Qt::LeftButton) || !cellAt(event->position(), x, y)) return;
    m_dragged = true;
    extendTo(x, y);
}

void CellMap::mouseReleaseEvent(QMouseEvent *) {
    if (!std::exchange(m_dragged, false)) return;
    emit markedChanged();
}

void CellMap::keyPressEvent(QKeyEvent *event) {
    if (!hasCells()) return QWidget::keyPressEvent(event);
    const bool extends = event->modifiers().testFlag(Qt::ShiftModifier);
    switch (event->key()) {
    case Qt::Key_Left:
        return moveTo(m_x > 0 ? m_x - 1 : 0, m_y, extends);
    case Qt::Key_Right:
        return moveTo(std::min(m_x + 1, m_rpm.size() - 1), m_y, extends);
    case Qt::Key_Up:
        return moveTo(m_x, m_y > 0 ? m_y - 1 : 0, extends);
    case Qt::Key_Down:
        return moveTo(m_x, std::min(m_y + 1, m_loadKpa.size() - 1), extends);
    case Qt::Key_Escape:
        if (!m_marked) return QWidget::keyPressEvent(event);
        return mark({});
    case Qt::Key_Return:
    case Qt::Key_Enter:
        emit cellWanted(m_rpm[m_x], m_loadKpa[m_y]);
        return;
    default:
        QWidget::keyPressEvent(event);
    }
}

bool CellMap::event(QEvent *event) {
    if (event->type() != QEvent::ToolTip) return QWidget::event(event);
    const auto *help = static_cast<QHelpEvent *>(event);
    std::size_t x = 0, y = 0;
    if (cellAt(QPointF(help->pos()), x, y)) QToolTip::showText(help->globalPos(), words(x, y), this);
    return true;
}

void CellMap::copy() const {
    if (!hasCells()) return;
    QString out = tr("load / rpm");
    for (const double rpm : m_rpm)
        out += QStringLiteral("\t%1").arg(rpm);
    for (std::size_t y = 0; y < m_loadKpa.size(); ++y) {
        out += QLatin1Char('\n') + shown(m_loadKpa[y], Dimension::pressure, m_session.units(), false);
        for (std::size_t x = 0; x < m_rpm.size(); ++x)
            out += QLatin1Char('\t') + copied(x, y);
    }
    QApplication::clipboard()->setText(out + QLatin1Char('\n'));
}

void CellMap::copyPicture() {
    QApplication::clipboard()->setPixmap(grab());
}

int CellMap::partColumns() const {
    return static_cast<int>(m_rpm.size());
}

int CellMap::partCount() const {
    return hasCells() ? static_cast<int>(m_rpm.size() * m_loadKpa.size()) : 0;
}

PaintedPart CellMap::part(int index) const {
    const auto x = static_cast<std::size_t>(index) % m_rpm.size(),
               y = static_cast<std::size_t>(index) / m_rpm.size();
    return {words(x, y), box(x, y).toAlignedRect()};
}

int CellMap::chosenPart() const {
    return hasCells() ? static_cast<int>(indexOf(m_x, m_y)) : -1;
}

void CellMap::choosePart(int index) {
    choose(static_cast<std::size_t>(index) % m_rpm.size(), static_cast<std::size_t>(index) / m_rpm.size());
}

QString CellMap::columnName(int column) const {
    return shown(m_rpm[static_cast<std::size_t>(column)], Dimension::engineSpeed, m_session.units());
}

QString CellMap::rowName(int row) const {
    return shown(m_loadKpa[static_cast<std::size_t>(row)], Dimension::pressure, m_session.units());
}

} // namespace wheelwright
