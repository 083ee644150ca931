#pragma once
#include "core/job/job.h"

#include <QFutureWatcher>
#include <QObject>
#include <QString>

#include <functional>
#include <optional>

namespace wheelwright {

/// What a change would do, in words, and the job that it would make.
struct Preview {
    QString html;
    std::optional<Job> job; ///< none: there is nothing to apply
};

/// Works previews out beside the window's thread. Only the newest counts.
class BackgroundPreview : public QObject {
    Q_OBJECT
  public:
    explicit BackgroundPreview(QObject *parent);
    /// The work may throw InputError, which becomes the words. It must not touch the window.
    void start(std::function<Preview()> work);
    void forget(); ///< what is under way counts no more
    const Preview &result() const { return m_result; } ///< of the newest that has ended

  signals:
    void ready();

  private:
    QFutureWatcher<Preview> m_watcher;
    Preview m_result;
};

} // namespace wheelwright
