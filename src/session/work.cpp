// SPDX-License-Identifier: GPL-3.0-or-later
#include "session/work.h"

#include <QTimerEvent>

namespace wheelwright {

WorkSignals::WorkSignals(QObject *parent) : QObject(parent) {}

QThreadPool &WorkSignals::pool(Length length) {
    static QThreadPool brief, lengthy, unasked;
    if (length == Length::brief) return brief;
    QThreadPool &one = length == Length::lengthy ? lengthy : unasked;
    one.setMaxThreadCount(1);
    return one;
}

void WorkSignals::began() {
    constexpr int longMs = 300;
    if (!m_running) m_timer = startTimer(longMs); // counted from the first of a row of requests
    m_running = true;
}

void WorkSignals::ended() {
    m_running = false;
    if (m_timer != 0) killTimer(m_timer);
    m_timer = 0;
}

void WorkSignals::timerEvent(QTimerEvent *event) {
    if (event->timerId() != m_timer) return QObject::timerEvent(event);
    killTimer(m_timer);
    m_timer = 0;
    emit tookLong();
}

} // namespace wheelwright
