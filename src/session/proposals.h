// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/proposal/proposed_map.h"
#include "session/work.h"

#include <QObject>

#include <memory>

namespace wheelwright {

class Session;

/// What the logs of the open job make of its tables, worked out beside the window's thread when somebody
/// looks: for one kind of proposal at the content that is looked at.
class Proposals : public QObject {
    Q_OBJECT
  public:
    explicit Proposals(Session &session, QObject *parent = nullptr);

    ProposalKind kind() const { return m_kind; }
    void setKind(ProposalKind kind);
    bool learned() const { return m_learned; }
    void setLearned(bool learned); ///< spark goes by what all logs have taught
    /// Nothing is worked out while nobody looks.
    void setWatched(bool watched);

    /// Of the newest that has ended; nullptr before it, and where it could not be worked out.
    const ProposedMap *map() const { return m_work.result(); }
    /// The map is of the job, the logs and the content as they are now, and nothing newer is under way.
    bool current() const;
    const QString &trouble() const { return m_work.error(); } ///< why there is none
    WorkSignals &work() { return m_work; }
    void cancel() { m_work.cancel(); }

    /// Takes the proposal as one change of the job. False where it is not current, or nothing came of it.
    bool take();

  signals:
    void changed(); ///< another map, or another kind is wanted

  private:
    void restart();

    Session &m_session;
    ProposalKind m_kind = ProposalKind::fuel;
    bool m_learned = false, m_watched = false;
    std::size_t m_logs = 0;
    Work<ProposedMap> m_work;
};

} // namespace wheelwright
