#pragma once
#include "core/verify/verdict.h"

#include <QFutureWatcher>
#include <QObject>

#include <atomic>
#include <memory>

namespace wheelwright {

/// Works out the verdict of a job away from the window's thread. A newer request makes an older one's answer
/// void.
class VerdictTask : public QObject {
    Q_OBJECT
  public:
    explicit VerdictTask(QObject *parent = nullptr);
    ~VerdictTask() override; ///< cancels, and waits for the running check to end

    void start(const Job &job);
    bool running() const { return m_running; }

  signals:
    void finished(std::shared_ptr<const wheelwright::Verdict> verdict);

  private:
    using Answer = std::shared_ptr<const Verdict>;
    void startPending();
    void take();

    QFutureWatcher<Answer> m_watcher;
    std::shared_ptr<std::atomic<bool>> m_cancelled;
    std::unique_ptr<Job> m_pending;
    bool m_running = false;
};

} // namespace wheelwright
