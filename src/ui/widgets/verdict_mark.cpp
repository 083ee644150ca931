// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/widgets/verdict_mark.h"

#include "ui/theme.h"

#include <QPainterPath>

namespace wheelwright {

void drawVerdictMark(QPainter &painter, const QRectF &box, CheckState state) {
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    constexpr int sixteenth = 16; // Qt counts angles in sixteenths of a degree
    switch (state) {
    case CheckState::proven:
        painter.setPen(Qt::NoPen);
        painter.setBrush(theme().ink);
        painter.drawEllipse(box);
        break;
    case CheckState::held: {
        QPainterPath disc;
        disc.addEllipse(box.adjusted(0.5, 0.5, -0.5, -0.5));
        painter.setPen(QPen(theme().ink, 1.2));
        painter.drawPath(disc);
        painter.setClipPath(disc, Qt::IntersectClip);
        constexpr double pitch = 3.2; // rising lines, as in the band of the ruler
        for (double x = box.left() - box.height(); x < box.right(); x += pitch)
            painter.drawLine(QPointF(x, box.bottom()), QPointF(x + box.height(), box.top()));
        break;
    }
    case CheckState::notJudged:
        painter.setPen(QPen(theme().quiet, 1.2, Qt::DotLine));
        painter.setBrush(Qt::NoBrush);
        painter.drawEllipse(box.adjusted(0.5, 0.5, -0.5, -0.5));
        break;
    case CheckState::caution: {
        painter.setPen(Qt::NoPen);
        painter.setBrush(theme().heed);
        painter.drawPie(box, 120 * sixteenth, 300 * sixteenth); // a wedge is missing at the top
        break;
    }
    case CheckState::failing: {
        const double width = box.width() * 0.24;
        const QRectF ring = box.adjusted(width / 2, width / 2, -width / 2, -width / 2);
        painter.setPen(QPen(theme().trouble, width, Qt::SolidLine, Qt::FlatCap));
        painter.setBrush(Qt::NoBrush);
        painter.drawArc(ring, 20 * sixteenth, 140 * sixteenth);
        painter.drawArc(ring, 200 * sixteenth, 140 * sixteenth);
        break;
    }
    }
    painter.restore();
}

QPixmap verdictPicture(std::optional<CheckState> state, int side, qreal ratio) {
    QPixmap picture((QSizeF(side, side) * ratio).toSize());
    picture.setDevicePixelRatio(ratio);
    picture.fill(Qt::transparent);
    if (state) {
        QPainter p(&picture);
        drawVerdictMark(p, QRectF(1, 1, side - 2, side - 2), *state);
    }
    return picture;
}

} // namespace wheelwright
