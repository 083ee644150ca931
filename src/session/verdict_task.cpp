#include "session/verdict_task.h"

#include <QtConcurrentRun>

namespace wheelwright {

VerdictTask::VerdictTask(QObject *parent) : QObject(parent) {
    connect(&m_watcher, &QFutureWatcher<Answer>::finished, this, &VerdictTask::take);
}

VerdictTask::~VerdictTask() {
    m_watcher.disconnect(this);
    if (m_cancelled) *m_cancelled = true;
    m_watcher.waitForFinished();
}

// One run at a time: edits in quick succession leave only the newest job waiting.
void VerdictTask::start(const Job &job) {
    m_pending = std::make_unique<Job>(job);
    if (m_running)
        *m_cancelled = true;
    else
        startPending();
}

void VerdictTask::startPending() {
    m_running = true;
    m_cancelled = std::make_shared<std::atomic<bool>>(false);
    m_watcher.setFuture(QtConcurrent::run([job = std::move(*m_pending), cancelled = m_cancelled]() -> Answer {
        return verify(job, cancelled.get());
    }));
    m_pending.reset();
}

void VerdictTask::take() {
    const Answer answer = m_watcher.result();
    if (m_pending) {
        startPending();
        return;
    }
    m_running = false;
    if (answer) emit finished(answer);
}

} // namespace wheelwright
