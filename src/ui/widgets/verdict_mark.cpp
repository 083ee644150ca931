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
    case CheckState::clear:
        painter.setPen(Qt::NoPen);
        painter.setBrush(theme().ink);
        painter.drawEllipse(box);
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

} // namespace wheelwright
