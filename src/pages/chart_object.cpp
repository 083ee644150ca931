// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/chart_object.h"

#include <QSvgRenderer>
#include <QTextDocument>

namespace wheelwright {

QSizeF ChartObject::intrinsicSize(QTextDocument *document, int, const QTextFormat &) {
    const double page = document->pageSize().isValid() ? document->textWidth() : width;
    const double wide = page > 0 ? page : width;
    return {wide, wide * height / width};
}

void ChartObject::drawObject(QPainter *painter, const QRectF &rect, QTextDocument *, int,
                             const QTextFormat &format) {
    QSvgRenderer(format.property(drawing).toByteArray()).render(painter, rect);
}

} // namespace wheelwright
