// SPDX-License-Identifier: GPL-3.0-or-later
#include "session/live_seat.h"

#include "core/base/error.h"
#include "core/job/tank_history.h"
#include "core/live/practice_frames.h"
#include "formats/dbc_import.h"
#include "session/session.h"
#include "session/words.h"
#include "store/file_bytes.h"
#include "store/job_store.h"
#include "store/live_recording.h"
#include "store/log_intake_store.h"

#include <algorithm>
#include <limits>

namespace wheelwright {
namespace {

constexpr int tickMs = 30;
constexpr double reviewEveryS = 0.2, silentS = 1;
constexpr double judgedS = 40; // a pull, and what stood still before it
constexpr double rowsPerS = 50;

} // namespace

LiveSeat::LiveSeat(Session &session)
    : QObject(&session), m_session(session), m_clock(steadyClock()),
      m_bringing(WorkSignals::Length::lengthy) {
    quietBusPlugins();
    m_timer.setTimerType(Qt::PreciseTimer);
    m_timer.setInterval(tickMs);
    connect(&m_timer, &QTimer::timeout, this, &LiveSeat::tick);
    connect(&m_judging, &WorkSignals::finished, this, &LiveSeat::takeReview);
    connect(&m_bringing, &WorkSignals::finished, this, &LiveSeat::takeBrought);
    connect(&m_practice, &PracticeProcess::ready, this, [this](quint16 port) {
        listen({BusAddress::Kind::loopback, port, {}}, practiceCanMap());
        say(tr("The practice engine runs."));
    });
    connect(&m_practice, &PracticeProcess::looked, this,
            [this](const QString &, double, double, const QString &found) { say(found); });
    connect(&m_practice, &PracticeProcess::refused, this,
            [this](const QString &what, const QString &why) { say(tr("Not done: %1. %2").arg(what, why)); });
    connect(&m_practice, &PracticeProcess::ended, this, [this](const QString &why) {
        if (!why.isEmpty()) {
            if (m_reader) m_reader->event("the engine has ended");
            m_session.report(why);
            say(why);
        }
        emit changed();
    });
    // What is recorded lies in the file of the job. What has ended and is not in it yet comes in when it is
    // opened again.
    connect(&session, &Session::jobLeaving, this, [this] {
        leave();
        m_bringing.forgetAndWait();
        m_ended.clear();
    });
    connect(&session, &Session::jobReplaced, this, &LiveSeat::recover);
    connect(&session, &Session::jobChanged, this, &LiveSeat::refreshTank);
}

LiveSeat::~LiveSeat() {
    m_judging.forgetAndWait();
    m_bringing.forgetAndWait();
}

void LiveSeat::listen(const BusAddress &address, const CanMap &map,
                      const std::optional<ChannelMap> &channels) {
    if (m_reader) {
        setLogging(false);
        m_listener.reset();
    }
    auto queue = std::make_unique<FrameQueue>();
    auto reader =
        std::make_unique<LiveReader>(map, *queue, m_clock, LiveReader::Settings{rowsPerS, 0.4, judgedS});
    const LogLayout layout = liveLayout(reader->decoder());
    ChannelMap given = fitted(channels ? *channels : suggestMap(layout), layout);
    m_roles.emplace(layout, given, surroundings());
    m_judging.forgetAndWait();
    m_layout = layout;
    m_channels = std::move(given);
    m_reader = std::move(reader);
    m_queue = std::move(queue);
    m_listener = std::make_unique<BusListener>(address, *m_queue, m_clock);
    m_bus = {};
    m_review = {};
    m_lastPull.reset();
    m_coverage = {};
    m_coveredS = m_lastPullS = -1;
    m_called.clear();
    m_moment = m_reader->moment();
    m_timer.start();
    emit changed();
}

void LiveSeat::listenByFile(const std::string &bus, const std::string &mapFile) {
    const BusAddress address = busAddressFrom(bus, tr("Bus").toStdString());
    const DbcImport dbc = canMapFromEither(MappedFile(mapFile).bytes());
    listen(address, dbc.map);
    if (!dbc.warnings.empty()) m_session.report(text(together(dbc.warnings)));
}

void LiveSeat::leave() {
    setLogging(false);
    m_timer.stop();
    m_judging.forgetAndWait();
    m_listener.reset();
    m_reader.reset();
    m_queue.reset();
    m_roles.reset();
    m_moment = {};
    m_bus = {};
    m_review = {};
    m_coverage = {};
    m_practice.end();
    emit changed();
}

LiveSeat::Hearing LiveSeat::hearing() const {
    if (!m_reader) return Hearing::off;
    if (!m_bus.connected && m_bus.losses > 0) return Hearing::lost;
    if (m_moment.lastHeardS < 0) return Hearing::waiting;
    return m_moment.atS - m_moment.lastHeardS > silentS ? Hearing::silent : Hearing::hearing;
}

QString LiveSeat::stateWords() const {
    QString said;
    switch (hearing()) {
    case Hearing::off:
        return tr("No bus.");
    case Hearing::waiting:
        said = !m_bus.trouble.empty() ? text(m_bus.trouble)
               : m_moment.unknown > 0 ? tr("%1 frames, none of which the map knows.").arg(m_moment.unknown)
                                      : tr("Nothing has come yet.");
        break;
    case Hearing::hearing:
        said = tr("%1 frames.").arg(m_moment.heard);
        break;
    case Hearing::silent:
        said = tr("SILENT for %1 s.").arg(m_moment.atS - m_moment.lastHeardS, 0, 'f', 0);
        break;
    case Hearing::lost:
        said = tr("The bus is LOST; it is tried again.");
        break;
    }
    if (m_moment.dropped > 0) said += QLatin1Char(' ') + tr("%1 frames were dropped.").arg(m_moment.dropped);
    if (m_bus.errors > 0) said += QLatin1Char(' ') + tr("%1 error frames.").arg(m_bus.errors);
    return said;
}

void LiveSeat::setRole(std::size_t column, ChannelRole role) {
    if (column >= m_channels.columns.size() || !m_reader) return;
    ChannelMap changed = m_channels;
    for (MappedColumn &c : changed.columns)
        if (role != ChannelRole::none && c.role == role) c.role = ChannelRole::none;
    changed.columns[column].role = role;
    try {
        m_roles.emplace(m_layout, changed, surroundings());
        m_channels = std::move(changed);
        m_lastReviewS = 0;
        emit this->changed();
    } catch (const InputError &e) {
        m_roles.emplace(m_layout, m_channels, surroundings());
        m_session.report(text(e.words()));
    }
}

void LiveSeat::startPractice(const PracticeSetup &setup) {
    if (!m_session.hasJob()) return;
    leave();
    m_practice.start(QString::fromStdString(m_session.path().string()), setup);
    emit changed();
}

double LiveSeat::value(ChannelRole role) const {
    return m_roles ? m_roles->value(role, m_moment.values) : std::numeric_limits<double>::quiet_NaN();
}

bool LiveSeat::judged() const {
    constexpr double latelyS = 2;
    return m_review.atS >= 0 && m_moment.atS - m_reviewedS <= latelyS;
}

bool LiveSeat::contentRead() const {
    const double read = value(ChannelRole::ethanol);
    return read == read;
}

double LiveSeat::content() const {
    return contentRead() ? std::clamp(value(ChannelRole::ethanol), 0.0, 1.0) : m_tankContent;
}

std::optional<double> LiveSeat::stated() const {
    return has(ChannelRole::ethanol) ? std::nullopt : std::optional(m_tankContent);
}

MapSurroundings LiveSeat::surroundings() const {
    return surroundingsIn(m_session.study(), m_tankContent);
}

void LiveSeat::tick() {
    if (!m_reader) return;
    const bool logged = m_moment.recording;
    const Hearing before = hearing();
    m_moment = m_reader->moment();
    m_bus = m_listener->state();
    if (logged && !m_moment.recording && !m_moment.trouble.empty()) {
        m_session.report(text(m_moment.trouble));
        endLog(tr("The recording has ended: it could not be written."));
    }
    if (before == Hearing::hearing && hearing() != Hearing::hearing) {
        m_reader->event("the bus is silent");
        say(stateWords());
    }
    if (before != hearing()) emit changed();
    if (m_moment.atS - m_lastReviewS >= reviewEveryS && !m_judging.running()) judge();
    emit ticked();
}

void LiveSeat::judge() {
    m_lastReviewS = m_moment.atS;
    m_judging.start(m_session.jobVersion(),
                    [study = m_session.sharedStudy(), rows = m_reader->rows(), roles = *m_roles,
                     content = stated(), from = m_coveredS](const WorkControl &) {
                        auto out = std::make_shared<Reviewed>();
                        LogTrace trace = roles.trace(rows, content);
                        out->coverage = coverageOf(*study, trace, from);
                        out->lastRowS = trace.size() > 0 ? trace.times().back() : from;
                        out->review = reviewSeat(*study, std::move(trace));
                        return std::shared_ptr<const Reviewed>(std::move(out));
                    });
}

void LiveSeat::takeReview() {
    if (!m_judging.result() || !m_reader) return;
    const Reviewed &r = **m_judging.result();
    m_review = r.review;
    m_reviewedS = m_moment.atS;
    // One that has begun to leave the rows that are judged stays what it was.
    constexpr double apartS = 0.5;
    if (m_review.lastPull && m_review.lastPull->endS > m_lastPullS + apartS) {
        m_lastPullS = m_review.lastPull->endS;
        m_lastPull = m_review.lastPull;
    }
    m_review.lastPull = m_lastPull;
    if (r.lastRowS >= m_coveredS) {
        SeatCoverage sum = r.coverage;
        if (m_coverage.samples.size() == sum.samples.size() && m_coverage.rpm == sum.rpm &&
            m_coverage.loadKpa == sum.loadKpa)
            for (std::size_t i = 0; i < sum.samples.size(); ++i)
                sum.samples[i] += m_coverage.samples[i];
        m_coverage = std::move(sum);
        m_coveredS = r.lastRowS;
    }
    std::set<const WatchRule *> now;
    for (const SeatReview::Call &c : m_review.calls)
        if (now.insert(c.rule).second && !m_called.contains(c.rule)) emit called(c.rule);
    m_called = std::move(now);
    emit reviewed();
}

void LiveSeat::setLogging(bool on) {
    if (on == logging() || !m_reader) return;
    if (!on) return endLog(tr("Recorded."));
    if (!m_session.store() || m_session.readOnly())
        return m_session.report(tr("This job cannot be written to: nothing is recorded."));
    if (hearing() != Hearing::hearing)
        return m_session.report(tr("Nothing is heard: there is nothing to record."));
    try {
        m_begun = m_session.now().toStdString();
        m_recording = std::make_shared<LiveRecording>(*m_session.store(),
                                                      RecordingHead{m_begun, m_layout.columns, {}, {}});
    } catch (const InputError &e) {
        return m_session.report(text(e.words()));
    }
    m_judging.forgetAndWait(); // its rows are of before
    m_reader->record(m_recording);
    m_marks = 0;
    m_coverage = {};
    m_coveredS = m_lastPullS = -1;
    m_moment = m_reader->moment();
    say(tr("Recording."));
    emit changed();
}

void LiveSeat::mark() {
    if (!logging()) return;
    ++m_marks;
    m_reader->event("mark " + std::to_string(m_marks));
    say(tr("Mark %1 at %2 s.").arg(m_marks).arg(fixedText(m_moment.recordedS, 1, m_session.units())));
}

void LiveSeat::abort() {
    if (practising()) m_practice.tell(QStringLiteral("lift"));
    const bool logged = logging();
    if (logged) m_reader->event("abort");
    if (logged)
        endLog(tr("ABORTED at %1 s: lift.").arg(fixedText(m_moment.recordedS, 1, m_session.units())));
    else if (m_reader)
        say(tr("ABORTED: lift."));
    if (logged && !m_ended.empty()) m_ended.back().note = "aborted";
}

void LiveSeat::endLog(const QString &words) {
    m_reader->endRecording();
    m_moment = m_reader->moment();
    if (m_recording) {
        m_ended.push_back({m_recording->name(), m_layout, m_channels, {}});
        m_recording.reset();
    }
    say(words);
    emit changed();
    // In a turn of its own: what belongs to this end is still to be said.
    QMetaObject::invokeMethod(this, &LiveSeat::bringNext, Qt::QueuedConnection);
}

void LiveSeat::bringNext() {
    if (m_ended.empty() || m_bringing.running() || !m_session.store()) return;
    const Ended &next = m_ended.front();
    m_bringing.start(m_session.jobVersion(), [store = m_session.store(), name = next.name,
                                              map = next.channels ? *next.channels : suggestMap(next.layout),
                                              around = surroundings()](const WorkControl &) {
        return std::make_shared<const TakenLog>(takeRecording(*store, name, map, around));
    });
    emit changed();
}

void LiveSeat::takeBrought() {
    if (m_ended.empty() || !m_session.store()) return;
    const Ended done = m_ended.front();
    m_ended.erase(m_ended.begin());
    bool isIn = false;
    if (m_bringing.result()) {
        const TakenLog &taken = **m_bringing.result();
        isIn = m_session.perform(tr("Record from the bus"), [&](Job &job) {
            addLog(job, taken.summary,
                   {"bus " + done.name, m_session.now().toStdString(), {}, std::nullopt, done.note});
        });
    } else {
        m_session.report(m_bringing.error());
    }
    try {
        // What could not come in stays for another time.
        if (isIn) forgetRecording(*m_session.store(), done.name);
    } catch (const InputError &e) {
        m_session.report(text(e.words()));
    }
    if (isIn) emit recorded((*m_bringing.result())->summary.info.id);
    emit changed();
    bringNext();
}

// Recordings that were cut short.
void LiveSeat::recover() {
    m_lastWords.clear();
    m_ended.clear();
    if (!m_session.store() || m_session.readOnly()) return;
    refreshTank();
    try {
        for (const FoundRecording &r : recordingsIn(m_session.path())) {
            if (r.pieces == 0) {
                forgetRecording(*m_session.store(), r.name);
                continue;
            }
            LogLayout layout;
            layout.format = "bus";
            layout.columns = r.head.columns;
            m_ended.push_back({r.name, std::move(layout), std::nullopt, "cut short"});
        }
    } catch (const InputError &e) {
        m_session.report(text(e.words()));
    }
    if (m_ended.empty()) return;
    say(tr("A recording that was cut short is brought in."));
    bringNext();
}

void LiveSeat::refreshTank() {
    try {
        m_tankContent = std::clamp(alcoholOf(tankNow(m_session.job()).content), 0.0, 1.0);
    } catch (const InputError &) { // nobody can have filled it so
        m_tankContent = m_session.job().calibration.baseContent;
    }
}

void LiveSeat::say(const QString &words) {
    m_lastWords = words;
    emit changed();
}

} // namespace wheelwright
