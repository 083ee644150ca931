// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/widgets/shaded_map.h"

#include "session/session.h"
#include "ui/text.h"
#include "ui/theme.h"

#include <QApplication>
#include <QClipboard>
#include <QKeyEvent>
#include <QPainter>

#include <algorithm>
#include <cmath>

namespace wheelwright {
namespace {

constexpr int headHeight = 18, rowHeadWidth = 44;

} // namespace

ShadedMap::ShadedMap(Session &session, const QString &name, const char *helpPage, QWidget *parent)
    : QWidget(parent), m_session(session) {
    setFocusPolicy(Qt::StrongFocus);
    setProperty("helpPage", helpPage);
    setAccessibleName(name);
    setToolTip(tr("Click a cell for its working. A heavy frame: past the limit. Blank: never reached."));
}

void ShadedMap::show(ShadedCells cells) {
    m_cells = std::move(cells);
    m_column = std::min(m_column, m_cells.rpm.empty() ? 0 : m_cells.rpm.size() - 1);
    m_row = std::min(m_row, m_cells.loadKpa.empty() ? 0 : m_cells.loadKpa.size() - 1);
    update();
}

QRectF ShadedMap::box(std::size_t column, std::size_t row) const {
    const double w = (width() - rowHeadWidth) / static_cast<double>(m_cells.rpm.size());
    const double h = (height() - headHeight) / static_cast<double>(m_cells.loadKpa.size());
    return {rowHeadWidth + static_cast<double>(column) * w, headHeight + static_cast<double>(row) * h, w, h};
}

QString ShadedMap::number(std::size_t index) const {
    return fixedText(toShown(m_cells.value[index], m_cells.dimension, m_session.units()), m_cells.decimals,
                     m_session.units());
}

void ShadedMap::paintEvent(QPaintEvent *) {
    QPainter painter(this);
    painter.fillRect(rect(), theme().raised);
    if (m_cells.value.empty()) return;
    const std::size_t rows = m_cells.loadKpa.size();
    double least = 1e300, most = -1e300;
    for (std::size_t i = 0; i < m_cells.value.size(); ++i)
        if (m_cells.reached[i]) {
            least = std::min(least, m_cells.value[i]);
            most = std::max(most, m_cells.value[i]);
        }
    const QRectF first = box(0, 0);
    // No digit is smaller than can be read: numbers that would not fit are left to the shade and the click.
    constexpr int leastSize = 9, mostSize = 12;
    constexpr double flattest = 9.5, narrowest = 20;
    const bool numbers = first.height() >= flattest && first.width() >= narrowest;
    const int size =
        std::clamp(static_cast<int>(std::min(first.height() - 3, first.width() / 3.2)), leastSize, mostSize);
    painter.setFont(monoFont(10));
    painter.setPen(theme().quiet);
    const auto every = static_cast<std::size_t>(std::max(1.0, std::ceil(36 / first.width())));
    for (std::size_t x = 0; x < m_cells.rpm.size(); x += every)
        painter.drawText(QRectF(box(x, 0).left(), 0, first.width() * static_cast<double>(every), headHeight),
                         Qt::AlignLeft | Qt::AlignVCenter, QString::number(m_cells.rpm[x], 'f', 0));
    const auto everyRow = static_cast<std::size_t>(std::max(1.0, std::ceil(12 / first.height())));
    for (std::size_t y = 0; y < rows; y += everyRow)
        painter.drawText(QRectF(0, box(0, y).top(), rowHeadWidth - 5, first.height()),
                         Qt::AlignRight | Qt::AlignVCenter,
                         shown(m_cells.loadKpa[y], Dimension::pressure, m_session.units(), false));
    for (std::size_t x = 0; x < m_cells.rpm.size(); ++x)
        for (std::size_t y = 0; y < rows; ++y) {
            const std::size_t at = x * rows + y;
            const QRectF cell = box(x, y).adjusted(0.5, 0.5, -0.5, -0.5);
            if (!m_cells.reached[at]) continue;
            const double share = most > least ? (m_cells.value[at] - least) / (most - least) : 0.5;
            const QColor ground = theme().shade(m_cells.content, std::clamp(share, 0.0, 1.0));
            painter.fillRect(cell, ground);
            const bool flagged = m_cells.flagged[at];
            if (numbers) {
                painter.setFont(monoFont(size, flagged));
                painter.setPen(theme().textOn(ground));
                painter.drawText(cell, Qt::AlignCenter, number(at));
            }
            if (flagged) {
                painter.setPen(QPen(theme().trouble, 2));
                painter.drawRect(cell.adjusted(1, 1, -1, -1));
            }
        }
    if (hasFocus()) {
        painter.setPen(QPen(theme().ink, 2, Qt::DotLine));
        painter.drawRect(box(m_column, m_row).adjusted(1, 1, -1, -1));
    }
}

void ShadedMap::choose(std::size_t column, std::size_t row) {
    m_column = column;
    m_row = row;
    const std::size_t at = column * m_cells.loadKpa.size() + row;
    setAccessibleDescription(words(column, row));
    partWasChosen(*this);
    update();
    emit chosen(at);
}

void ShadedMap::mousePressEvent(QMouseEvent *event) {
    if (m_cells.value.empty()) return;
    const QRectF first = box(0, 0);
    const double column = (event->position().x() - rowHeadWidth) / first.width();
    const double row = (event->position().y() - headHeight) / first.height();
    if (column < 0 || row < 0 || column >= static_cast<double>(m_cells.rpm.size()) ||
        row >= static_cast<double>(m_cells.loadKpa.size()))
        return;
    choose(static_cast<std::size_t>(column), static_cast<std::size_t>(row));
}

void ShadedMap::keyPressEvent(QKeyEvent *event) {
    if (m_cells.value.empty()) return;
    const std::size_t lastColumn = m_cells.rpm.size() - 1, lastRow = m_cells.loadKpa.size() - 1;
    switch (event->key()) {
    case Qt::Key_Left:
        return choose(m_column > 0 ? m_column - 1 : 0, m_row);
    case Qt::Key_Right:
        return choose(std::min(m_column + 1, lastColumn), m_row);
    case Qt::Key_Up:
        return choose(m_column, m_row > 0 ? m_row - 1 : 0);
    case Qt::Key_Down:
        return choose(m_column, std::min(m_row + 1, lastRow));
    case Qt::Key_Return:
    case Qt::Key_Enter:
        return choose(m_column, m_row);
    default:
        QWidget::keyPressEvent(event);
    }
}

void ShadedMap::copy() const {
    QString out = QStringLiteral("load / rpm");
    for (const double rpm : m_cells.rpm)
        out += QStringLiteral("\t%1").arg(rpm);
    for (std::size_t y = 0; y < m_cells.loadKpa.size(); ++y) {
        out += QLatin1Char('\n') + shown(m_cells.loadKpa[y], Dimension::pressure, m_session.units(), false);
        for (std::size_t x = 0; x < m_cells.rpm.size(); ++x)
            out += QLatin1Char('\t') + number(x * m_cells.loadKpa.size() + y);
    }
    QApplication::clipboard()->setText(out + QLatin1Char('\n'));
}

void ShadedMap::copyPicture() {
    QApplication::clipboard()->setPixmap(grab());
}

QString ShadedMap::words(std::size_t column, std::size_t row) const {
    const std::size_t at = column * m_cells.loadKpa.size() + row;
    const QString number = !m_cells.reached[at]  ? tr("never reached")
                           : m_cells.flagged[at] ? tr("%1, past the limit").arg(shownNumber(at))
                                                 : shownNumber(at);
    return tr("%1, %2: %3").arg(columnName(static_cast<int>(column)), rowName(static_cast<int>(row)), number);
}

QString ShadedMap::shownNumber(std::size_t index) const {
    return text(formatWith(m_cells.value[index], m_cells.dimension, m_session.units(), m_cells.decimals));
}

int ShadedMap::partColumns() const {
    return static_cast<int>(m_cells.rpm.size());
}

int ShadedMap::partCount() const {
    return static_cast<int>(m_cells.value.size());
}

PaintedPart ShadedMap::part(int index) const {
    const auto column = static_cast<std::size_t>(index) % m_cells.rpm.size(),
               row = static_cast<std::size_t>(index) / m_cells.rpm.size();
    return {words(column, row), box(column, row).toAlignedRect()};
}

int ShadedMap::chosenPart() const {
    return m_cells.value.empty() ? -1 : static_cast<int>(m_row * m_cells.rpm.size() + m_column);
}

void ShadedMap::choosePart(int index) {
    choose(static_cast<std::size_t>(index) % m_cells.rpm.size(),
           static_cast<std::size_t>(index) / m_cells.rpm.size());
}

QString ShadedMap::columnName(int column) const {
    return shown(m_cells.rpm[static_cast<std::size_t>(column)], Dimension::engineSpeed, m_session.units());
}

QString ShadedMap::rowName(int row) const {
    return shown(m_cells.loadKpa[static_cast<std::size_t>(row)], Dimension::pressure, m_session.units());
}

} // namespace wheelwright
