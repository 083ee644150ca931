// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/evidence/lambda_delay.h"
#include "core/evidence/log_review.h"
#include "session/strip_samples.h"
#include "session/work.h"

#include <QObject>

#include <map>
#include <memory>
#include <mutex>
#include <optional>
#include <string>
#include <vector>

namespace wheelwright {

struct JobChange;
class Session;

/// What the logs of the open job say, read through beside the window's thread, and the moment of a log that
/// all stations look at.
class Evidence : public QObject {
    Q_OBJECT
  public:
    explicit Evidence(Session &session);

    /// nullptr while it is being read through, and where it cannot be. Of long logs only those looked at last
    /// keep their samples (setMostSamples).
    std::shared_ptr<const LogReview> review(const std::string &log) const;
    /// Logs whose samples are not at hand: they are read again when one is looked at.
    std::size_t laidAside() const;
    /// Samples of all logs together that are kept in memory, each of all its channels; three million of 20
    /// channels take 700 MB.
    void setMostSamples(std::size_t most);
    /// Why a log cannot be read through; empty where it can, or nobody knows yet.
    QString trouble(const std::string &log) const;
    /// Those that are there, in the order of the job.
    std::vector<std::shared_ptr<const LogReview>> reviews() const;
    bool allRead() const; ///< every log is either there or in trouble
    WorkSignals &reading() { return m_reading; }
    /// Nothing more is on its way: all are read and counted, as far as they can be.
    bool settled() const;

    /// Over all logs, of the job as it is; nullptr while it is not worked out.
    std::shared_ptr<const Coverage> coverage() const { return m_coverage; }
    /// Of that coverage; nullptr while there is none for this very version of the job: what was proven for
    /// another is not proven.
    std::shared_ptr<const Proof> proof() const;

    /// The log that is looked at; empty: the job has none.
    const std::string &log() const { return m_log; }
    void setLog(const std::string &id);
    /// The moment of it, in seconds of its clock.
    double momentS() const { return m_momentS; }
    void setMoment(double timeS);                        ///< held to the log
    bool momentChosen() const { return m_momentChosen; } ///< somebody has looked at a moment of this log
    void setMoment(const std::string &log, double timeS);
    /// Sample of the review of that log at the moment; none before it is there.
    std::optional<std::size_t> sampleNow() const;
    /// The episode at the moment, the shortest; nullptr: none.
    const Episode *episodeNow() const;

    StripSamples &samples() { return m_samples; }

    /// How late λ comes in a log, worked out when it is first asked for; nullptr until then.
    const LambdaDelay *delay(const std::string &log);
    /// λ of the log where it belongs, sample by sample of its trace; empty without a delay.
    const std::vector<double> &movedLambda(const std::string &log) const;
    QString delayTrouble(const std::string &log) const;

  signals:
    void logsChanged();    ///< other logs, or another log is looked at
    void reviewsChanged(); ///< one has been read through
    void coverageChanged();
    void momentChanged();
    void delayChanged();

  private:
    using Review = std::shared_ptr<const LogReview>;
    /// A reading that was told to stop may still ask while the next one does.
    struct Ran {
        explicit Ran(std::shared_ptr<const Study> now) : studies(std::move(now)) {}
        RanStudies::Ran of(const LogInfo &info) {
            const std::lock_guard alone(asked);
            return studies.of(info);
        }
        RanStudies studies;
        std::mutex asked;
    };
    struct Read {
        std::string log;
        Review review; ///< nullptr: stopped
    };
    struct Delayed {
        std::string log;
        LambdaDelay delay;
        std::vector<double> moved;
    };
    void restart();
    void jobChanged(const JobChange &change);
    void holdLog();
    void openSamples();
    void readNext();
    bool waits(const std::string &log) const;
    void layAside();
    void take();
    void count();

    Session &m_session;
    std::string m_log;
    double m_momentS = 0;
    bool m_momentChosen = false;
    std::map<std::string, Review> m_reviews;
    std::map<std::string, QString> m_trouble;
    std::size_t m_mostSamples = 3'000'000;
    std::vector<std::string> m_lately; ///< logs in the order in which they were read or looked at
    std::string m_underWay;
    std::shared_ptr<Ran> m_ran; ///< for one reading after the other
    std::shared_ptr<const Coverage> m_coverage;
    std::shared_ptr<const Proof> m_proof;
    std::uint64_t m_coverageVersion = 0;
    std::map<std::string, Delayed> m_delays;
    std::map<std::string, QString> m_delayTrouble;
    std::string m_delayUnderWay;
    StripSamples m_samples;
    Work<Read> m_reading;
    Work<std::shared_ptr<const Coverage>> m_counting;
    Work<Delayed> m_delaying;
};

} // namespace wheelwright
