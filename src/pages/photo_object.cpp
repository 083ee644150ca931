// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/photo_object.h"

#include <QImage>
#include <QPainter>
#include <QTextDocument>

namespace wheelwright {

QSizeF PhotoObject::intrinsicSize(QTextDocument *document, int, const QTextFormat &format) {
    const QSizeF picture = format.property(photo).value<QImage>().size();
    const QSizeF page = document->pageSize();
    constexpr double share = 0.42; // of the page's height
    return picture.scaled(page.width(), page.height() * share, Qt::KeepAspectRatio);
}

void PhotoObject::drawObject(QPainter *painter, const QRectF &rect, QTextDocument *, int,
                             const QTextFormat &format) {
    painter->setRenderHint(QPainter::SmoothPixmapTransform);
    painter->drawImage(rect, format.property(photo).value<QImage>());
}

} // namespace wheelwright
