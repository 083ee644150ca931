// SPDX-License-Identifier: GPL-3.0-or-later
#include "ui/widgets/refresh.h"

#include "session/session.h"

#include <QEvent>
#include <QWidget>

#include <algorithm>

namespace wheelwright {

Refresh::Refresh(Session &session, QWidget *view) : QObject(view), m_session(session), m_view(view) {
    view->installEventFilter(this);
    connect(&session, &Session::jobChanged, this, &Refresh::jobDiffers);
    connect(&session, &Session::jobReplaced, this, &Refresh::ask);
    connect(&session, &Session::contentChanged, this, [this] { happened(content); });
    connect(&session, &Session::selectionChanged, this, [this] { happened(selection); });
    connect(&session, &Session::unitsChanged, this, [this] { happened(units); });
    connect(&session, &Session::verdictChanged, this, [this] { happened(verdict); });
    connect(&session, &Session::stateChanged, this, [this] { happened(state); });
}

Refresh &Refresh::on(Causes causes, std::function<void()> work, Paths paths) {
    m_parts.push_back({causes, std::move(work), std::move(paths)});
    post();
    return *this;
}

void Refresh::happened(Cause cause) {
    for (Part &p : m_parts)
        if (p.causes.testFlag(cause)) {
            p.due = true;
            post();
        }
}

void Refresh::jobDiffers(const JobChange &change) {
    for (Part &p : m_parts)
        if (p.causes.testFlag(job) &&
            (p.paths.empty() ||
             std::ranges::any_of(p.paths, [&](const std::string &path) { return change.touches(path); }))) {
            p.due = true;
            post();
        }
}

void Refresh::ask() {
    for (Part &p : m_parts)
        p.due = true;
    post();
}

void Refresh::post() {
    if (m_posted || !m_view->isVisible()) return;
    m_posted = true;
    QMetaObject::invokeMethod(
        this,
        [this] {
            m_posted = false;
            now();
        },
        Qt::QueuedConnection);
}

void Refresh::now() {
    if (!m_view->isVisible()) return;
    const auto first = std::ranges::find_if(m_parts, &Part::due);
    if (first == m_parts.end()) return;
    for (auto p = first; p != m_parts.end(); ++p)
        p->due = false; // before the work: it may bring about the next one
    first->work();
}

// What becomes visible is right before it is painted for the first time; what is pressed goes by what would
// be shown, since keys can come faster than turns of the event loop.
bool Refresh::eventFilter(QObject *watched, QEvent *event) {
    switch (event->type()) {
    case QEvent::Show:
    case QEvent::KeyPress:
    case QEvent::MouseButtonPress:
        now();
        break;
    case QEvent::PaletteChange:
        ask();
        break;
    default:
        break;
    }
    return QObject::eventFilter(watched, event);
}

} // namespace wheelwright
