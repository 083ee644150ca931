// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/live/seat.h"
#include "devices/live_reader.h"
#include "session/practice_process.h"
#include "session/work.h"

#include <QObject>
#include <QTimer>

#include <memory>
#include <optional>
#include <set>
#include <string>
#include <vector>

namespace wheelwright {

class LiveRecording;
class Session;
struct RecordingHead;
struct TakenLog;

/// The live engine of the open job: what its bus says, what the rules say to that, and its recordings, which
/// become logs of the job. Listens only. Another job, or none, lets the bus go.
class LiveSeat : public QObject {
    Q_OBJECT
  public:
    explicit LiveSeat(Session &session);
    ~LiveSeat() override;

    // The bus.
    enum class Hearing {
        off,     ///< no bus was asked for
        waiting, ///< nothing that the map knows has come yet
        hearing,
        silent, ///< it has said nothing for a while
        lost    ///< the bus is gone; it is tried again
    };
    /// Throws InputError for a map that makes no sense. channels: what they are to the engine; none: by their
    /// names.
    void listen(const BusAddress &address, const CanMap &map,
                const std::optional<ChannelMap> &channels = std::nullopt);
    /// The same by "socketcan:can0" and a file: a map of ours or a common text description. Throws
    /// InputError.
    void listenByFile(const std::string &bus, const std::string &mapFile);
    void leave();
    Hearing hearing() const;
    QString stateWords() const; ///< of the bus, in a sentence
    const LiveReader::Moment &moment() const { return m_moment; }
    /// What the channels are to the engine; empty without a bus.
    const ChannelMap &channels() const { return m_channels; }
    const LogLayout &layout() const { return m_layout; }
    void setRole(std::size_t column, ChannelRole role); ///< a role that another has leaves it

    // An engine to practise with.
    void startPractice(const PracticeSetup &setup);
    bool practising() const { return m_practice.running(); }
    /// One step as in scripts: {"do": "pull", "mode": "loaded"}.
    void drive(const QString &step) { m_practice.tell(step); }
    PracticeProcess &practice() { return m_practice; }

    // What it comes to.
    double value(ChannelRole role) const; ///< now; not a number: nobody says
    bool has(ChannelRole role) const { return m_roles && m_roles->has(role); }
    const SeatReview &review() const { return m_review; }
    /// The rules have been asked lately: what an older review says is no verdict on now.
    bool judged() const;
    /// Where it has been since it began to be listened to, or to be recorded.
    const SeatCoverage &coverage() const { return m_coverage; }
    /// Content for the hue: as the bus reads it, else by the arithmetic of the tank.
    double content() const;
    bool contentRead() const;

    // Recording.
    bool logging() const { return m_moment.recording; }
    void setLogging(bool on);
    void mark();
    int marks() const { return m_marks; }
    /// Ends the recording and says so in it; a practice engine lifts.
    void abort();
    const QString &lastWords() const { return m_lastWords; } ///< what was done last
    bool bringingIn() const { return !m_ended.empty(); }

  signals:
    void ticked();                      ///< another moment: thirty times a second while a bus is listened to
    void reviewed();                    ///< the rules have been asked anew
    void changed();                     ///< bus, engine or recording began or ended
    void called(const WatchRule *rule); ///< a rule that was not broken before is now
    void recorded(std::string log);     ///< it is in the job

  private:
    struct Reviewed {
        SeatReview review;
        SeatCoverage coverage;
        double lastRowS = 0;
    };
    struct Ended {
        std::string name;
        LogLayout layout;
        std::optional<ChannelMap> channels;
        std::string note;
    };
    void tick();
    void judge();
    void takeReview();
    void endLog(const QString &words);
    void bringNext();
    void takeBrought();
    void recover();
    void refreshTank();
    MapSurroundings surroundings() const;
    std::optional<double> stated() const;
    void say(const QString &words);

    Session &m_session;
    LiveClock m_clock;
    PracticeProcess m_practice;
    LogLayout m_layout;
    ChannelMap m_channels;
    std::optional<LiveRoles> m_roles;
    // In this order: whoever hears goes first, then who reads, then what lies between.
    std::unique_ptr<FrameQueue> m_queue;
    std::unique_ptr<LiveReader> m_reader;
    std::unique_ptr<BusListener> m_listener;
    LiveReader::Moment m_moment;
    BusListener::State m_bus;
    double m_tankContent = 0, m_lastReviewS = 0, m_coveredS = -1, m_lastPullS = -1, m_reviewedS = -1;
    std::optional<PullVerdict> m_lastPull;
    SeatReview m_review;
    SeatCoverage m_coverage;
    std::set<const WatchRule *> m_called;
    std::shared_ptr<LiveRecording> m_recording;
    std::string m_begun;
    int m_marks = 0;
    QString m_lastWords;
    std::vector<Ended> m_ended;
    QTimer m_timer;
    Work<std::shared_ptr<const Reviewed>> m_judging;
    Work<std::shared_ptr<const TakenLog>> m_bringing;
};

} // namespace wheelwright
