// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "session/work.h"

#include <QImage>
#include <QListWidget>

namespace wheelwright {

/// Pictures of files, small and beside each other; a double click opens one in the desktop's own viewer. They
/// are read beside the window's thread: a camera's picture takes a while.
class PhotoStrip : public QListWidget {
    Q_OBJECT
  public:
    explicit PhotoStrip(QWidget *parent = nullptr);
    void show(const QStringList &paths);
    const QStringList &paths() const { return m_paths; }
    WorkSignals &work() { return m_work; }

  private:
    void place();

    QStringList m_paths;
    Work<std::vector<QImage>> m_work;
};

} // namespace wheelwright
