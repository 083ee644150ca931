// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <QObject>
#include <QTextFormat>
#include <QTextObjectInterface>

#ifdef Q_MOC_RUN // it is run without the library's headers
Q_DECLARE_INTERFACE(QTextObjectInterface, "org.qt-project.Qt.QTextObjectInterface")
#endif

namespace wheelwright {

/// A chart inside of a text, as wide as its page and drawn when the page is: lines stay lines in a PDF. The
/// format of its character has the type, and the drawing as SVG.
class ChartObject : public QObject, public QTextObjectInterface {
    Q_OBJECT
    Q_INTERFACES(QTextObjectInterface)
  public:
    using QObject::QObject;
    static constexpr int width = 640, height = 320; ///< that the drawing was made for
    static constexpr int type = QTextFormat::UserObject + 1, drawing = QTextFormat::UserProperty + 1;

    QSizeF intrinsicSize(QTextDocument *document, int position, const QTextFormat &format) override;
    void drawObject(QPainter *painter, const QRectF &rect, QTextDocument *document, int position,
                    const QTextFormat &format) override;
};

} // namespace wheelwright
