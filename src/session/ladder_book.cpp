// SPDX-License-Identifier: GPL-3.0-or-later
#include "session/ladder_book.h"

#include "core/base/error.h"
#include "session/evidence.h"
#include "session/session.h"

namespace wheelwright {

LadderBook::LadderBook(Session &session, QObject *parent)
    : QObject(parent), m_session(session), m_work(WorkSignals::Length::lengthy),
      m_forecast(WorkSignals::Length::lengthy) {
    connect(&session, &Session::jobReplaced, this, [this] {
        m_work.forget();
        m_forecast.forget();
        restart();
    });
    connect(&session, &Session::jobChanged, this, &LadderBook::restart);
    connect(&session.evidence(), &Evidence::reviewsChanged, this, &LadderBook::restart);
    connect(&m_work, &WorkSignals::finished, this, &LadderBook::restartForecast);
    connect(&m_work, &WorkSignals::finished, this, &LadderBook::changed);
    connect(&m_forecast, &WorkSignals::finished, this, &LadderBook::changed);
    connect(&m_work, &WorkSignals::stopped, this, &LadderBook::changed);
}

void LadderBook::setWatched(bool watched) {
    if (watched == m_watched) return;
    m_watched = watched;
    if (watched && !current()) restart();
}

bool LadderBook::current() const {
    return shown() && !m_work.running() && m_work.version() == m_session.jobVersion() &&
           m_logs == m_session.evidence().reviews().size();
}

void LadderBook::restart() {
    if (!m_watched || !m_session.hasJob()) {
        emit changed();
        return;
    }
    const auto logs = logsWithSamples();
    m_logs = m_session.evidence().reviews().size();
    m_work.start(m_session.jobVersion(),
                 [study = m_session.sharedStudy(), logs, laidAside = m_logs - logs.size(),
                  today = m_session.today().toStdString()](const WorkControl &) {
                     auto out = std::make_shared<Shown>();
                     out->study = study;
                     out->ladder = planLadder(*study, today);
                     out->facts = ladderFacts(*study, logs);
                     out->laidAside = laidAside;
                     for (const Rung &r : out->ladder.rungs)
                         if (r.state == RungState::next || r.state == RungState::later)
                             out->status.emplace(r.id, rungStatus(*study, out->ladder, r, out->facts));
                     out->forecast = forecastLadder(*study, out->ladder, out->facts);
                     return std::shared_ptr<const Shown>(std::move(out));
                 });
    emit changed();
}

// Only they can say anything.
std::vector<std::shared_ptr<const LogReview>> LadderBook::logsWithSamples() const {
    std::vector<std::shared_ptr<const LogReview>> logs;
    for (const auto &r : m_session.evidence().reviews())
        if (r->hasSamples()) logs.push_back(r);
    return logs;
}

const LadderForecast *LadderBook::forecast() const {
    if (!m_work.result()) return nullptr;
    const std::shared_ptr<const Shown> &shown = *m_work.result();
    if (m_forecast.result() && (*m_forecast.result())->of == shown) return &(*m_forecast.result())->forecast;
    return &shown->forecast;
}

void LadderBook::setForecastWanted(bool wanted) {
    if (wanted == m_forecastWanted) return;
    m_forecastWanted = wanted;
    if (wanted)
        restartForecast();
    else
        m_forecast.cancel();
}

void LadderBook::restartForecast() {
    if (!m_forecastWanted || !m_work.result() || !current()) return;
    const std::shared_ptr<const Shown> shown = *m_work.result();
    if (m_forecast.result() && (*m_forecast.result())->of == shown) return;
    m_forecast.start(m_session.jobVersion(), [shown, logs = logsWithSamples()](const WorkControl &control) {
        LearnedCeilings learned = learnCeilings(*shown->study, logs, control.token());
        auto out = std::make_shared<Learned>();
        out->of = shown;
        out->forecast = forecastLadder(*shown->study, shown->ladder, shown->facts,
                                       control.stopped() ? nullptr : &learned);
        return std::shared_ptr<const Learned>(std::move(out));
    });
}

const Rung *LadderBook::rung(const std::string &id) const {
    return current() ? shown()->ladder.byId(id) : nullptr;
}

bool LadderBook::pass(const std::string &id, const QString &reason) {
    if (!rung(id)) return false;
    try {
        const RungPass p = passOf(*shown()->study, shown()->ladder, shown()->facts, id,
                                  m_session.now().toStdString(), reason.trimmed().toStdString());
        return m_session.perform(tr("Pass %1").arg(QString::fromStdString(id)),
                                 [&p](Job &job) { job.ladderPassed.push_back(p); });
    } catch (const InputError &e) {
        m_session.report(text(e.words()));
        return false;
    }
}

bool LadderBook::look(const std::string &id, const std::string &gate, const QString &note) {
    const RungLook look{id, gate, m_session.now().toStdString(), note.trimmed().toStdString()};
    return m_session.perform(tr("Looked at"), [&look](Job &job) { job.ladderLooks.push_back(look); });
}

bool LadderBook::setBoost(const std::string &id) {
    const Rung *r = rung(id);
    if (!r) return false;
    return m_session.perform(tr("Boost and cut of a rung"), [r](Job &job) { setForRung(job, *r); });
}

bool LadderBook::set(const std::string &id, const GateAnswer &answer) {
    const Rung *r = rung(id);
    if (!r || answer.link.empty()) return false;
    return m_session.perform(tr("What a gate asks for"),
                             [r, &answer](Job &job) { job = withAnswer(job, *r, answer); });
}

bool LadderBook::takeBack() {
    if (m_session.job().ladderPassed.empty()) return false;
    return m_session.perform(tr("Take back the last pass"), [](Job &job) { job.ladderPassed.pop_back(); });
}

} // namespace wheelwright
