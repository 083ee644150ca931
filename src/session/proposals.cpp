// SPDX-License-Identifier: GPL-3.0-or-later
#include "session/proposals.h"

#include "session/evidence.h"
#include "session/session.h"

#include <QTimer>

#include <cmath>

namespace wheelwright {

Proposals::Proposals(Session &session, QObject *parent)
    : QObject(parent), m_session(session), m_work(WorkSignals::Length::lengthy) {
    connect(&session, &Session::jobReplaced, this, [this] {
        m_work.forget();
        m_basis.reset();
        restart();
    });
    connect(&session, &Session::jobChanged, this, &Proposals::restart);
    connect(&session.evidence(), &Evidence::reviewsChanged, this, &Proposals::restart);
    // A drag of the content handle starts one when it rests.
    auto *rest = new QTimer(this);
    rest->setSingleShot(true);
    constexpr int restsMs = 250;
    rest->setInterval(restsMs);
    connect(rest, &QTimer::timeout, this, &Proposals::restart);
    connect(&session, &Session::contentChanged, rest, qOverload<>(&QTimer::start));
    connect(&m_work, &WorkSignals::finished, this, &Proposals::changed);
    connect(&m_work, &WorkSignals::stopped, this, &Proposals::changed);
}

void Proposals::setKind(ProposalKind kind) {
    if (kind == m_kind) return;
    m_kind = kind;
    m_work.forget();
    restart();
}

void Proposals::setHow(const How &how) {
    if (how == m_how) return;
    m_how = how;
    restart();
}

void Proposals::setWatched(bool watched) {
    if (watched == m_watched) return;
    m_watched = watched;
    if (watched && !current()) restart();
}

bool Proposals::current() const {
    constexpr double same = 5e-4;
    return m_work.result() && !m_work.running() && m_work.version() == m_session.jobVersion() &&
           m_work.result()->kind == m_kind &&
           std::abs(m_work.result()->content - m_session.content()) < same &&
           m_logs == m_session.evidence().reviews().size();
}

void Proposals::restart() {
    if (!m_watched || !m_session.hasJob()) {
        emit changed();
        return;
    }
    // Only logs with their samples at hand can say anything.
    std::vector<std::shared_ptr<const LogReview>> logs;
    const auto all = m_session.evidence().reviews();
    for (const auto &r : all)
        if (r->hasSamples()) logs.push_back(r);
    m_logs = all.size();
    if (logs.empty()) {
        m_work.forget();
        emit changed();
        return;
    }
    ProposedOptions options;
    options.content = m_session.content();
    options.laidAside = all.size() - logs.size();
    options.learned = m_how.learned;
    options.damping = m_how.damping;
    options.clamp = m_how.clamp;
    options.leastHits = m_how.leastHits;
    options.neighbours = m_how.neighbours;
    options.nearest = m_how.nearest;
    options.region = m_how.region;
    options.at = m_session.now().toStdString();
    const std::shared_ptr<const Study> study = m_session.sharedStudy();
    if (!m_basis || !m_basis->of(study.get(), logs, m_how.delayMs))
        m_basis = std::make_shared<ProposalBasis>(study, std::move(logs), m_how.delayMs);
    m_work.start(m_session.jobVersion(),
                 [basis = m_basis, options, kind = m_kind](const WorkControl &control) {
                     return proposedMap(kind, *basis, options, control.token());
                 });
    emit changed();
}

bool Proposals::take() {
    if (!current() || !map()->job) return false;
    const Job &proposed = *map()->job;
    return m_session.perform(
        text(definitionOf(m_kind).step), [&proposed](Job &job) { job = proposed; }, CellOrigin::log);
}

} // namespace wheelwright
