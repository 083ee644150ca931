// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/ladder/ladder_status.h"
#include "session/work.h"

#include <QObject>

#include <map>
#include <memory>
#include <string>

namespace wheelwright {

class Session;

/// The ladder of the open job with what its logs say to it, worked out beside the window's thread while
/// somebody looks.
class LadderBook : public QObject {
    Q_OBJECT
  public:
    explicit LadderBook(Session &session, QObject *parent = nullptr);

    struct Shown {
        std::shared_ptr<const Study> study;
        Ladder ladder;
        LadderFacts facts;
        std::map<std::string, RungStatus> status; ///< by rung; of those that gates are asked of
        std::size_t laidAside = 0;                ///< logs whose samples are not at hand
    };
    /// Of the newest that has ended; nullptr before it.
    const Shown *shown() const { return m_work.result() ? m_work.result()->get() : nullptr; }
    /// It is of the job and the logs as they are now, and nothing newer is under way.
    bool current() const;
    const QString &trouble() const { return m_work.error(); }
    WorkSignals &work() { return m_work; }
    void cancel() { m_work.cancel(); }
    /// Nothing is worked out while nobody looks.
    void setWatched(bool watched);

    // Each is one change of the job. False where nothing came of it; the reason goes out as a problem.
    bool pass(const std::string &rung, const QString &reason = {}); ///< by hand with a reason
    bool look(const std::string &rung, const std::string &gate, const QString &note);
    bool setBoost(const std::string &rung); ///< target and cut
    bool set(const GateAnswer &answer);     ///< what the remedy of a gate says
    bool takeBack();                        ///< the last pass

  signals:
    void changed();

  private:
    void restart();
    const Rung *rung(const std::string &id) const;

    Session &m_session;
    bool m_watched = false;
    std::size_t m_logs = 0; ///< that the last request went by
    Work<std::shared_ptr<const Shown>> m_work;
};

} // namespace wheelwright
