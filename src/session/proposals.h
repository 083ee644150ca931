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
    /// Other than what the job's limits say; of the kinds that ask for it.
    struct How {
        bool learned = false; ///< spark goes by what all logs have taught
        std::optional<double> damping, clamp, leastHits, delayMs;
        int neighbours = 1;
        bool nearest = false;
        std::optional<FuelRegion> region;
        bool operator==(const How &) const = default;
    };
    const How &how() const { return m_how; }
    void setHow(const How &how);
    /// Nothing is worked out while nobody looks.
    void setWatched(bool watched);

    /// Of the newest that has ended; nullptr before it, and where it could not be worked out.
    const ProposedMap *map() const { return m_work.result(); }
    /// The map is of the job, the logs and the content as they are now, and nothing newer is under way.
    bool current() const;
    /// What the last request rests on; nullptr before one.
    const ProposalBasis *basis() const { return m_basis.get(); }
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
    How m_how;
    bool m_watched = false;
    /// Kept from one request to the next: a drag of the content handle solves nothing again.
    std::shared_ptr<ProposalBasis> m_basis;
    std::size_t m_logs = 0;
    Work<ProposedMap> m_work;
};

} // namespace wheelwright
