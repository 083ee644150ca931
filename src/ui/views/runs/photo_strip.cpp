// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/views/runs/photo_strip.h"

#include <QDesktopServices>
#include <QFileInfo>
#include <QImageReader>
#include <QUrl>

namespace wheelwright {
namespace {

constexpr QSize thumb(120, 80);

QImage readSmall(const QString &path) {
    QImageReader reader(path);
    reader.setAutoTransform(true);
    if (reader.size().isValid()) reader.setScaledSize(reader.size().scaled(thumb, Qt::KeepAspectRatio));
    return reader.read();
}

} // namespace

PhotoStrip::PhotoStrip(QWidget *parent) : QListWidget(parent) {
    setAccessibleName(tr("Photos"));
    setViewMode(QListView::IconMode);
    setFlow(QListView::LeftToRight);
    setWrapping(false);
    setMovement(QListView::Static);
    setWordWrap(true);
    setIconSize(thumb);
    constexpr int room = 36;
    setFixedHeight(thumb.height() + room);
    connect(&m_work, &WorkSignals::finished, this, &PhotoStrip::place);
    connect(this, &QListWidget::itemActivated, this, [this](QListWidgetItem *item) {
        QDesktopServices::openUrl(QUrl::fromLocalFile(m_paths.at(row(item))));
    });
}

void PhotoStrip::show(const QStringList &paths) {
    if (paths == m_paths) return;
    m_paths = paths;
    clear();
    for (const QString &path : paths) {
        auto *item = new QListWidgetItem(QFileInfo(path).fileName(), this);
        item->setToolTip(path);
        item->setSizeHint(thumb + QSize(12, 28));
    }
    m_work.start(0, [paths](const WorkControl &control) {
        std::vector<QImage> out;
        for (const QString &path : paths)
            out.push_back(control.stopped() ? QImage() : readSmall(path));
        return out;
    });
}

void PhotoStrip::place() {
    const std::vector<QImage> *found = m_work.result();
    for (int i = 0; found && i < count() && i < static_cast<int>(found->size()); ++i) {
        const QImage &picture = (*found)[static_cast<std::size_t>(i)];
        if (!picture.isNull())
            item(i)->setIcon(QIcon(QPixmap::fromImage(picture)));
        else
            item(i)->setText(tr("%1\nnot there, or no picture").arg(QFileInfo(m_paths.at(i)).fileName()));
    }
}

} // namespace wheelwright
