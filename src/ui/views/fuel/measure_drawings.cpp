// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/fuel/measure_drawings.h"

#include "ui/theme.h"

#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>

#include <algorithm>
#include <array>
#include <cmath>

namespace wheelwright {
namespace {

constexpr double tubeWidth = 58, stopper = 12, foot = 8;

} // namespace

TubeDrawing::TubeDrawing(QWidget *parent) : QWidget(parent) {
    setAccessibleName(tr("The tube, drawn"));
    setToolTip(tr("Drag the line between the layers to where you see it"));
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Expanding);
    setCursor(Qt::SizeVerCursor);
}

void TubeDrawing::show(std::optional<Lines> lines) {
    m_lines = lines;
    setAccessibleDescription(lines ? tr("Water to %1, fuel to %2, lower layer to %3")
                                         .arg(lines->water)
                                         .arg(lines->fuel)
                                         .arg(lines->layer)
                                   : QString());
    update();
}

QRectF TubeDrawing::tube() const {
    return {width() / 2.0 - tubeWidth / 2, stopper, tubeWidth, height() - stopper - foot};
}

// A little air stays under the stopper.
double TubeDrawing::yOf(double h) const {
    constexpr double filled = 0.88;
    const QRectF t = tube();
    return t.bottom() - t.height() * filled * (m_lines && m_lines->fuel > 0 ? h / m_lines->fuel : 0);
}

double TubeDrawing::heightOf(double y) const {
    if (!m_lines) return 0;
    const double empty = yOf(0), full = yOf(m_lines->fuel);
    return (empty - y) / (empty - full) * m_lines->fuel;
}

void TubeDrawing::paintEvent(QPaintEvent *) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const QRectF t = tube();
    QPainterPath glass;
    constexpr double round = 18;
    glass.moveTo(t.topLeft());
    glass.lineTo(t.left(), t.bottom() - round);
    glass.quadTo(t.left(), t.bottom(), t.center().x(), t.bottom());
    glass.quadTo(t.right(), t.bottom(), t.right(), t.bottom() - round);
    glass.lineTo(t.topRight());
    if (m_lines) {
        const double fuel = yOf(m_lines->fuel), layer = yOf(m_lines->layer);
        p.setClipPath(glass);
        QColor upper = theme().content(0), lower = theme().content(1);
        upper.setAlphaF(0.30F);
        lower.setAlphaF(0.42F);
        p.fillRect(QRectF(t.left(), fuel, t.width(), layer - fuel), upper);
        p.fillRect(QRectF(t.left(), layer, t.width(), t.bottom() - layer), lower);
        p.setClipping(false);
    }
    p.setPen(QPen(theme().ink, 1.8));
    p.setBrush(Qt::NoBrush);
    p.drawPath(glass);
    p.setBrush(theme().quiet);
    p.drawRect(QRectF(t.left() + 8, t.top() - stopper + 2, t.width() - 16, stopper));
    if (!m_lines) return;
    p.setFont(sansFont(12));
    const auto line = [&](double at, const QString &words, bool left, const QPen &pen) {
        const double y = yOf(at);
        p.setPen(pen);
        constexpr double over = 12;
        p.drawLine(QPointF(t.left() - (left ? over : 0), y), QPointF(t.right() + (left ? 0 : over), y));
        p.setPen(theme().ink);
        const QRectF box = left ? QRectF(0, y - 9, t.left() - over - 4, 18)
                                : QRectF(t.right() + over + 4, y - 9, width() - t.right() - over - 4, 18);
        p.drawText(box, Qt::AlignVCenter | (left ? Qt::AlignRight : Qt::AlignLeft), words);
    };
    line(m_lines->fuel, tr("fuel"), true, QPen(theme().ink, 1.2));
    line(m_lines->water, tr("water"), true, QPen(theme().ink, 1.2, Qt::DashLine));
    p.setFont(sansFont(12, true));
    line(m_lines->layer, tr("layer"), false, QPen(theme().ink, 2.4));
}

void TubeDrawing::mousePressEvent(QMouseEvent *event) {
    mouseMoveEvent(event);
}

// To half a division of a tube of a hundred: nobody reads it finer.
void TubeDrawing::mouseMoveEvent(QMouseEvent *event) {
    if (!m_lines || !(event->buttons() & Qt::LeftButton)) return;
    const double step = m_lines->fuel / 200;
    const double read = std::round(heightOf(event->position().y()) / step) * step;
    emit layerRead(std::clamp(read, m_lines->water, m_lines->fuel));
}

ScaleDrawing::ScaleDrawing(const QString &name, QWidget *parent) : QWidget(parent) {
    setAccessibleName(name);
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Expanding);
}

void ScaleDrawing::show(Scale scale) {
    m_scale = std::move(scale);
    setAccessibleDescription(m_scale.said);
    update();
}

double ScaleDrawing::xOf(double value) const {
    constexpr double edge = 22;
    const double share = (value - m_scale.least) / (m_scale.most - m_scale.least);
    return edge + std::clamp(share, 0.0, 1.0) * (width() - 2 * edge);
}

void ScaleDrawing::paintEvent(QPaintEvent *) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    if (m_scale.marks.empty()) return;
    const double y = height() / 2.0;
    constexpr double thick = 9, tick = 6;
    const QRectF bar(xOf(m_scale.least), y - thick / 2, xOf(m_scale.most) - xOf(m_scale.least), thick);
    QLinearGradient hue(bar.left(), 0, bar.right(), 0);
    hue.setColorAt(0, m_scale.from);
    hue.setColorAt(1, m_scale.to);
    p.fillRect(bar, hue);
    p.setFont(sansFont(11));
    for (const Mark &m : m_scale.marks) {
        const double x = xOf(m.at);
        p.setPen(QPen(theme().ink, 1));
        p.drawLine(QPointF(x, bar.bottom()), QPointF(x, bar.bottom() + tick));
        p.drawText(QRectF(x - 40, bar.bottom() + tick, 80, 16), Qt::AlignHCenter | Qt::AlignTop, m.words);
    }
    p.setPen(theme().quiet);
    // Side by side where there is room for both, else one under the other.
    constexpr int edge = 4, line = 16;
    QRectF under(edge, bar.bottom() + tick + 15, width() - 2 * edge, line);
    p.drawText(under, Qt::AlignLeft, m_scale.low);
    const double both =
        p.fontMetrics().horizontalAdvance(m_scale.low) + p.fontMetrics().horizontalAdvance(m_scale.high);
    if (both + line > under.width()) under.translate(0, line);
    p.drawText(under, Qt::AlignRight, m_scale.high);
    if (!m_scale.value) return;
    const double x = xOf(*m_scale.value);
    const std::array<QPointF, 3> pointer{QPointF(x, bar.top() - 1), QPointF(x - 7, bar.top() - 13),
                                         QPointF(x + 7, bar.top() - 13)};
    p.setPen(Qt::NoPen);
    p.setBrush(theme().ink);
    p.drawPolygon(pointer.data(), static_cast<int>(pointer.size()));
    p.setPen(theme().ink);
    p.setFont(sansFont(13, true));
    const double half = p.fontMetrics().horizontalAdvance(m_scale.said) / 2.0 + 2;
    const double middle = std::clamp(x, half, std::max(half, width() - half));
    p.drawText(QRectF(middle - half, bar.top() - 32, 2 * half, 18), Qt::AlignCenter, m_scale.said);
}

} // namespace wheelwright
