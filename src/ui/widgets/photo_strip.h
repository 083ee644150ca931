// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "session/work.h"

#include <QImage>
#include <QListWidget>

#include <filesystem>
#include <vector>

namespace wheelwright {

/// Pictures of files, small and beside each other; a double click opens one in the desktop's own viewer. They
/// are read beside the window's thread: a camera's picture takes a while.
class PhotoStrip : public QListWidget {
    Q_OBJECT
  public:
    explicit PhotoStrip(QWidget *parent = nullptr);
    /// A path that is not absolute is looked for in the folder.
    void show(const QStringList &paths, const std::filesystem::path &folder = {});
    const QStringList &paths() const { return m_paths; }
    WorkSignals &work() { return m_work; }

    /// A photo that can be ticked, and its name.
    struct Choice {
        QString path, name;
        bool ticked = false;
    };
    void offer(const std::vector<Choice> &choices, const std::filesystem::path &folder = {});

  signals:
    void ticked(const QString &path, bool on); ///< by the user

  private:
    void read();
    void place();
    void say(const QListWidgetItem &item);
    QString fileOf(int row) const;

    std::filesystem::path m_folder;

    QStringList m_paths;
    Work<std::vector<QImage>> m_work;
};

} // namespace wheelwright
