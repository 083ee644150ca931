// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/error.h"
#include "session/words.h"

#include <QFutureWatcher>
#include <QObject>
#include <QString>
#include <QThreadPool>
#include <QtConcurrentRun>

#include <cstdint>
#include <functional>
#include <memory>
#include <optional>
#include <stop_token>

namespace wheelwright {

/// What a piece of work is told: whether it is still wanted, and where to say how far it is.
class WorkControl {
  public:
    WorkControl(std::stop_token stop, std::function<void(double)> progress)
        : m_stop(std::move(stop)), m_progress(std::move(progress)) {}
    bool stopped() const { return m_stop.stop_requested(); }
    std::stop_token token() const { return m_stop; }
    /// 0–1.
    void progress(double share) const {
        if (m_progress) m_progress(share);
    }

  private:
    std::stop_token m_stop;
    std::function<void(double)> m_progress;
};

/// What all work has in common, whatever it comes to.
class WorkSignals : public QObject {
    Q_OBJECT
  public:
    /// Short work is what a user waits for while he drags; long work must not keep it waiting; what nobody
    /// has asked for (reading through logs) must keep neither waiting.
    enum class Length { brief, lengthy, unasked };
    static QThreadPool &pool(Length length);

    explicit WorkSignals(QObject *parent = nullptr);
    bool running() const { return m_running; }

  signals:
    void finished();               ///< a result or an error is there
    void progressed(double share); ///< 0–1
    void tookLong();               ///< it has been running for 300 ms: time to show progress and Cancel
    void stopped();                ///< nothing is under way any more, and nothing came of it

  protected:
    void began();
    void ended();

  private:
    void timerEvent(QTimerEvent *event) override;
    bool m_running = false;
    int m_timer = 0;
};

/// Works something out beside the window's thread. The newest request wins: an older one is asked to stop,
/// what it comes to is dropped, and of those that wait only the last is begun. The task gets all that it
/// needs by value and reads nothing of the window. InputError becomes a value. Destruction stops and waits.
template <class T>
class Work : public WorkSignals {
  public:
    using Task = std::function<T(const WorkControl &)>;

    explicit Work(Length length = Length::brief, QObject *parent = nullptr)
        : WorkSignals(parent), m_pool(pool(length)) {
        connect(&m_watcher, &QFutureWatcherBase::finished, this, [this] { take(); });
    }
    ~Work() override {
        m_watcher.disconnect(this);
        m_stop.request_stop();
        m_watcher.waitForFinished();
    }

    /// version: of the job that it is about, to be asked of the result.
    void start(std::uint64_t version, Task task) {
        m_pending = Pending{version, std::move(task)};
        if (m_inPool)
            m_stop.request_stop();
        else
            startPending();
    }
    /// What is under way counts no more; the last result stays.
    void cancel() {
        m_pending.reset();
        m_wanted = false;
        m_stop.request_stop();
        if (running()) {
            ended();
            emit stopped();
        }
    }
    /// The same, and there is no result: another job, or none.
    void forget() {
        cancel();
        m_result.reset();
        m_error.clear();
    }

    /// The same, and it has ended when this returns: what it works with may go.
    void forgetAndWait() {
        forget();
        m_watcher.waitForFinished();
    }

    /// Of the newest that has ended; nullptr before, and where it ended in an error.
    const T *result() const { return m_result ? &*m_result : nullptr; }
    const QString &error() const { return m_error; }
    std::uint64_t version() const { return m_version; }

  private:
    struct Pending {
        std::uint64_t version;
        Task task;
    };
    struct Outcome {
        std::optional<T> result;
        QString error;
    };

    void startPending() {
        const std::shared_ptr<Pending> work = std::make_shared<Pending>(std::move(*m_pending));
        m_pending.reset();
        m_stop = std::stop_source();
        m_runningVersion = work->version;
        m_wanted = m_inPool = true;
        const WorkControl control(m_stop.get_token(), [this, token = m_stop.get_token()](double share) {
            QMetaObject::invokeMethod(
                this,
                [this, token, share] {
                    if (!token.stop_requested()) emit progressed(share);
                },
                Qt::QueuedConnection);
        });
        m_watcher.setFuture(QtConcurrent::run(&m_pool, [work, control]() -> std::shared_ptr<Outcome> {
            auto outcome = std::make_shared<Outcome>();
            try {
                outcome->result = work->task(control);
            } catch (const InputError &e) {
                outcome->error = text(e.words());
            } catch (const std::exception &e) { // too little memory, say: no reason to take the window along
                outcome->error = text(std::string_view(e.what()));
            }
            return outcome;
        }));
        began();
    }
    void take() {
        const std::shared_ptr<Outcome> outcome = m_watcher.result();
        m_inPool = false;
        if (m_pending) return startPending();
        if (!m_wanted) return;
        m_wanted = false;
        m_result = std::move(outcome->result);
        m_error = outcome->error;
        m_version = m_runningVersion;
        ended();
        emit finished();
    }

    QThreadPool &m_pool;
    QFutureWatcher<std::shared_ptr<Outcome>> m_watcher;
    std::stop_source m_stop;
    std::optional<Pending> m_pending;
    std::optional<T> m_result;
    QString m_error;
    std::uint64_t m_version = 0, m_runningVersion = 0;
    bool m_inPool = false; ///< something runs, wanted or not
    bool m_wanted = false;
};

} // namespace wheelwright
