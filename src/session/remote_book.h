// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/report/bundle_reports.h"
#include "session/ladder_book.h"
#include "store/log_intake_store.h"

#include <optional>
#include <string>
#include <vector>

namespace wheelwright {

/// Calibrations that go to somebody far away as folders, and what comes back in them.
class RemoteBook : public QObject {
    Q_OBJECT
  public:
    RemoteBook(Session &session, LadderBook &ladder, QObject *parent = nullptr);

    /// What would be sent now, for the rung that is next.
    Report sheet() const;
    /// Writes a new or empty folder and keeps the calibration as a revision that was sent, as one change of
    /// the job. name: of the revision; empty: one that holds the same already, or "Sent 3". False where
    /// nothing came of it; the reason goes out as a problem.
    bool send(const QString &folder, const QString &name, const QString &note);

    /// Reads a folder that came back, beside the window's thread: all of its logs as one change of the job.
    /// revision: what somebody says that it belongs to. Says cameBack() or revisionWanted(); a problem where
    /// it is refused.
    void takeBack(const QString &folder, const QString &revision = {});
    WorkSignals &work() { return m_work; }
    void cancel() { m_work.cancel(); }

    /// Of the last folder that came back, judged by the gates as they are now; empty before one.
    Report answer() const;
    /// To be sent, in a line or two: of what was sent or what came back last.
    Phrase message() const;

  signals:
    void changed();
    void cameBack();
    void revisionWanted(const QString &folder, const QStringList &sent);

  private:
    struct Arrived {
        std::string folder, revision; ///< name; empty: somebody must be asked
        bool asked = false;
        ReadBack back;
        std::vector<std::pair<std::string, TakenLog>> logs; ///< by the names of their files
    };
    void take();
    std::optional<CameBack> came() const;

    Session &m_session;
    LadderBook &m_ladder;
    Work<std::shared_ptr<const Arrived>> m_work;
    std::optional<CameBack> m_came; ///< without its rung
    Phrase m_sent;
};

} // namespace wheelwright
