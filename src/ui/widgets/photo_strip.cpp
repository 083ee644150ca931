// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/widgets/photo_strip.h"

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
        QDesktopServices::openUrl(QUrl::fromLocalFile(fileOf(row(item))));
    });
    connect(this, &QListWidget::itemChanged, this, [this](QListWidgetItem *item) { say(*item); });
}

void PhotoStrip::show(const QStringList &paths, const std::filesystem::path &folder) {
    if (paths == m_paths && folder == m_folder) return;
    m_paths = paths;
    m_folder = folder;
    const QSignalBlocker quiet(this);
    clear();
    for (const QString &path : paths) {
        auto *item = new QListWidgetItem(QFileInfo(path).fileName(), this);
        item->setToolTip(path);
        item->setSizeHint(thumb + QSize(12, 28));
    }
    read();
}

void PhotoStrip::offer(const std::vector<Choice> &choices, const std::filesystem::path &folder) {
    QStringList paths;
    for (const Choice &c : choices)
        paths << c.path;
    show(paths, folder);
    const QSignalBlocker quiet(this);
    for (int i = 0; i < count(); ++i) {
        const Choice &c = choices[static_cast<std::size_t>(i)];
        item(i)->setFlags(item(i)->flags() | Qt::ItemIsUserCheckable);
        item(i)->setCheckState(c.ticked ? Qt::Checked : Qt::Unchecked);
        item(i)->setData(Qt::AccessibleTextRole, c.name);
        if (item(i)->text() == QFileInfo(c.path).fileName()) item(i)->setText(c.name);
    }
}

void PhotoStrip::say(const QListWidgetItem &item) {
    if (item.flags() & Qt::ItemIsUserCheckable)
        emit ticked(m_paths.at(row(&item)), item.checkState() == Qt::Checked);
}

QString PhotoStrip::fileOf(int row) const {
    return QString::fromStdString((m_folder / m_paths.at(row).toStdString()).string());
}

void PhotoStrip::read() {
    QStringList files;
    for (int i = 0; i < count(); ++i)
        files << fileOf(i);
    m_work.start(0, [files](const WorkControl &control) {
        std::vector<QImage> out;
        for (const QString &file : files)
            out.push_back(control.stopped() ? QImage() : readSmall(file));
        return out;
    });
}

void PhotoStrip::place() {
    const std::vector<QImage> *found = m_work.result();
    const QSignalBlocker quiet(this);
    for (int i = 0; found && i < count() && i < static_cast<int>(found->size()); ++i) {
        const QImage &picture = (*found)[static_cast<std::size_t>(i)];
        if (!picture.isNull())
            item(i)->setIcon(QIcon(QPixmap::fromImage(picture)));
        else
            item(i)->setText(tr("%1\nnot there, or no picture").arg(QFileInfo(m_paths.at(i)).fileName()));
    }
}

} // namespace wheelwright
