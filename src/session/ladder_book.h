// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/ladder/ladder_forecast.h"
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
        LadderForecast forecast;                  ///< without what the engine stands of spark
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

    /// With the spark that the engine stands, once that has been learned from its logs, which takes seconds:
    /// it is begun when somebody wants it. nullptr before there is anything.
    const LadderForecast *forecast() const;
    void setForecastWanted(bool wanted);
    WorkSignals &forecastWork() { return m_forecast; }
    void cancelForecast() { m_forecast.cancel(); }

    // Each is one change of the job. False where nothing came of it; the reason goes out as a problem.
    bool pass(const std::string &rung, const QString &reason = {}); ///< by hand with a reason
    bool look(const std::string &rung, const std::string &gate, const QString &note);
    bool setBoost(const std::string &rung);                      ///< target and cut
    bool set(const std::string &rung, const GateAnswer &answer); ///< what the remedy of a gate says
    bool takeBack();                                             ///< the last pass

  signals:
    void changed();

  private:
    void restart();
    void restartForecast();
    std::vector<std::shared_ptr<const LogReview>> logsWithSamples() const;
    const Rung *rung(const std::string &id) const;

    Session &m_session;
    bool m_watched = false, m_forecastWanted = false;
    std::size_t m_logs = 0; ///< that the last request went by
    Work<std::shared_ptr<const Shown>> m_work;
    struct Learned {
        std::shared_ptr<const Shown> of; ///< what it belongs to
        LadderForecast forecast;
    };
    Work<std::shared_ptr<const Learned>> m_forecast;
};

} // namespace wheelwright
