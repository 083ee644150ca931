// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <QObject>
#include <QTextFormat>
#include <QTextObjectInterface>

#ifdef Q_MOC_RUN // it is run without the library's headers
Q_DECLARE_INTERFACE(QTextObjectInterface, "org.qt-project.Qt.QTextObjectInterface")
#endif

namespace wheelwright {

/// A photo inside of a text, with all its pixels and so large that two stand on a page with their words. The
/// format of its character has the type, and the picture.
class PhotoObject : public QObject, public QTextObjectInterface {
    Q_OBJECT
    Q_INTERFACES(QTextObjectInterface)
  public:
    using QObject::QObject;
    static constexpr int type = QTextFormat::UserObject + 2, photo = QTextFormat::UserProperty + 2;

    QSizeF intrinsicSize(QTextDocument *document, int position, const QTextFormat &format) override;
    void drawObject(QPainter *painter, const QRectF &rect, QTextDocument *document, int position,
                    const QTextFormat &format) override;
};

} // namespace wheelwright
