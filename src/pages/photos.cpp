// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages/photos.h"

#include "core/job/job_photos.h"

#include <QBuffer>
#include <QImage>
#include <QImageReader>
#include <QString>

namespace wheelwright {

std::string photoBase64(const std::filesystem::path &path) {
    constexpr QSize most(1600, 1600); // over a page's width at 200 dots per inch
    QImageReader reader(QString::fromStdString(path.string()));
    reader.setAutoTransform(true);
    const QSize size = reader.size();
    if (size.isValid() && (size.width() > most.width() || size.height() > most.height()))
        reader.setScaledSize(size.scaled(most, Qt::KeepAspectRatio));
    QImage picture = reader.read();
    if (picture.isNull()) return {};
    picture = picture.convertToFormat(QImage::Format_RGB32); // what was transparent has no place in a JPEG
    for (const QString &key : picture.textKeys())
        picture.setText(key, QString());
    QByteArray bytes;
    QBuffer out(&bytes);
    out.open(QIODevice::WriteOnly);
    constexpr int quality = 85;
    picture.save(&out, "JPEG", quality);
    return bytes.toBase64().toStdString();
}

std::string PhotoReader::read(const std::filesystem::path &path) {
    std::error_code gone;
    const auto changed = std::filesystem::last_write_time(path, gone);
    const std::uintmax_t size = gone ? 0 : std::filesystem::file_size(path, gone);
    const std::lock_guard lock(m_mutex);
    if (gone) {
        m_kept.erase(path);
        return {};
    }
    if (const auto kept = m_kept.find(path);
        kept != m_kept.end() && kept->second.changed == changed && kept->second.size == size)
        return kept->second.base64;
    ++m_readings;
    return (m_kept[path] = {changed, size, photoBase64(path)}).base64;
}

std::size_t PhotoReader::readings() const {
    const std::lock_guard lock(m_mutex);
    return m_readings;
}

std::vector<HandoverPhoto> chosenPhotos(const Job &job, const std::filesystem::path &folder,
                                        PhotoReader &reader, const std::function<bool()> &stopped) {
    std::vector<HandoverPhoto> out;
    for (const JobPhoto &p : photosOf(job)) {
        if (stopped && stopped()) return {};
        if (p.chosen) out.push_back({p.path, p.of, reader.read(folder / p.path)}); // absolute stays absolute
    }
    return out;
}

} // namespace wheelwright
