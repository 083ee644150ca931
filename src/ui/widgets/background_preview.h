// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/job/job.h"
#include "core/report/report.h"
#include "session/work.h"

#include <functional>
#include <optional>

namespace wheelwright {

/// What a change would do, in words, and the job that it would make.
struct Preview {
    Report words;
    std::optional<Job> job; ///< none: there is nothing to apply
    std::vector<ReportChart> charts{};
};

/// Works previews out beside the window's thread. Only the newest counts.
class BackgroundPreview : public QObject {
    Q_OBJECT
  public:
    explicit BackgroundPreview(QObject *parent);
    /// The work may throw InputError, which becomes the words. It must not touch the window. version: of the
    /// job that it is about.
    void start(std::uint64_t version, std::function<Preview()> work);
    void forget();          ///< what is under way counts no more
    void cancel();          ///< the same, because the user says so
    Preview result() const; ///< of the newest that has ended
    std::uint64_t version() const { return m_work.version(); }
    WorkSignals &work() { return m_work; }

  signals:
    void ready();

  private:
    Work<Preview> m_work;
};

} // namespace wheelwright
