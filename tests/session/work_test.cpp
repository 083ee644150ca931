// SPDX-License-Identifier: GPL-3.0-or-later
#include "session/work.h"
#include "support/test_main.h"

#include <QSemaphore>
#include <QSignalSpy>

#include <atomic>
#include <stdexcept>

using namespace wheelwright;

/// Newest wins, stop, progress, errors as values, nothing after the end. Semaphores instead of waiting times.
class WorkTest : public QObject {
    Q_OBJECT
  private slots:
    void aResultComesWithItsVersion();
    void theNewestWins();
    void anErrorIsAValue();
    void whateverIsThrownIsAnError();
    void whatIsCancelledComesToNothing();
    void progressIsSaidOnlyWhileWanted();
    void longWorkIsAnnounced();
    void theEndStopsAndWaits();
    void lengthyWorkKeepsNobodyWaiting();
};

void WorkTest::aResultComesWithItsVersion() {
    Work<int> work;
    QSignalSpy finished(&work, &WorkSignals::finished);
    QVERIFY(!work.result() && !work.running());
    work.start(7, [](const WorkControl &) { return 41; });
    QVERIFY(work.running());
    QVERIFY(finished.wait());
    QVERIFY(work.result() && !work.running());
    QCOMPARE(*work.result(), 41);
    QCOMPARE(work.version(), std::uint64_t{7});
}

void WorkTest::theNewestWins() {
    QSemaphore begun, go;
    std::atomic<int> ran = 0, sawStop = 0;
    Work<int> work;
    QSignalSpy finished(&work, &WorkSignals::finished);
    work.start(1, [&](const WorkControl &control) {
        begun.release();
        go.acquire();
        sawStop += control.stopped();
        ++ran;
        return 1;
    });
    begun.acquire();
    for (int i = 2; i <= 9; ++i)
        work.start(static_cast<std::uint64_t>(i), [&ran, i](const WorkControl &) {
            ++ran;
            return i;
        });
    go.release();
    QVERIFY(finished.wait());
    QCOMPARE(*work.result(), 9);
    QCOMPARE(work.version(), std::uint64_t{9});
    QCOMPARE(ran.load(), 2); // those between never began
    QCOMPARE(sawStop.load(), 1);
    QCOMPARE(finished.count(), 1);
}

void WorkTest::anErrorIsAValue() {
    Work<int> work;
    QSignalSpy finished(&work, &WorkSignals::finished);
    work.start(
        1, [](const WorkControl &) -> int { throw InputError("here", verbatim("one thing"), "another"); });
    QVERIFY(finished.wait());
    QVERIFY(!work.result());
    QCOMPARE(work.error(), QStringLiteral("here: expected one thing, found another"));
    work.start(2, [](const WorkControl &) { return 5; });
    QVERIFY(finished.wait());
    QVERIFY(work.error().isEmpty());
    QCOMPARE(*work.result(), 5);
}

void WorkTest::whateverIsThrownIsAnError() {
    Work<int> work;
    QSignalSpy finished(&work, &WorkSignals::finished);
    work.start(1, [](const WorkControl &) -> int { throw std::length_error("too long"); });
    QVERIFY(finished.wait());
    QVERIFY(!work.result());
    QCOMPARE(work.error(), QStringLiteral("too long"));
    work.start(2, [](const WorkControl &) { return 2; });
    QVERIFY(finished.wait());
    QVERIFY(work.error().isEmpty() && *work.result() == 2);
}

void WorkTest::whatIsCancelledComesToNothing() {
    QSemaphore begun, go;
    Work<int> work;
    QSignalSpy finished(&work, &WorkSignals::finished), stopped(&work, &WorkSignals::stopped);
    work.start(1, [&](const WorkControl &) {
        begun.release();
        go.acquire();
        return 1;
    });
    begun.acquire();
    work.forget(); // the job was closed
    QCOMPARE(stopped.count(), 1);
    QVERIFY(!work.running());
    // What comes next waits for the old one to leave the pool, and is not mixed up with it.
    work.start(2, [](const WorkControl &) { return 2; });
    go.release();
    QVERIFY(finished.wait());
    QCOMPARE(finished.count(), 1);
    QCOMPARE(*work.result(), 2);
    work.cancel();
    QCOMPARE(*work.result(), 2); // the last result stays
    QCOMPARE(stopped.count(), 1);
}

void WorkTest::progressIsSaidOnlyWhileWanted() {
    QSemaphore begun, go;
    Work<int> work;
    QSignalSpy progressed(&work, &WorkSignals::progressed), finished(&work, &WorkSignals::finished);
    work.start(1, [](const WorkControl &control) {
        control.progress(0.25);
        return 1;
    });
    QVERIFY(finished.wait());
    QTRY_COMPARE(progressed.count(), 1);
    QCOMPARE(progressed[0][0].toDouble(), 0.25);
    work.start(2, [&](const WorkControl &control) {
        begun.release();
        go.acquire();
        control.progress(0.5);
        return 2;
    });
    begun.acquire();
    work.start(3, [](const WorkControl &) { return 3; });
    go.release();
    QVERIFY(finished.wait());
    QCoreApplication::processEvents();
    QCOMPARE(progressed.count(), 1);
}

void WorkTest::longWorkIsAnnounced() {
    QSemaphore go;
    Work<int> work;
    QSignalSpy tookLong(&work, &WorkSignals::tookLong), finished(&work, &WorkSignals::finished);
    work.start(1, [](const WorkControl &) { return 1; });
    QVERIFY(finished.wait());
    work.start(2, [&](const WorkControl &) {
        go.acquire();
        return 2;
    });
    QVERIFY(tookLong.wait());
    QCOMPARE(tookLong.count(), 1);
    go.release();
    QVERIFY(finished.wait());
    QCOMPARE(tookLong.count(), 1);
}

void WorkTest::theEndStopsAndWaits() {
    std::atomic<bool> ended = false;
    QSemaphore begun;
    {
        Work<int> work;
        work.start(1, [&](const WorkControl &control) {
            begun.release();
            while (!control.stopped())
                QThread::yieldCurrentThread();
            ended = true;
            return 1;
        });
        begun.acquire();
    }
    QVERIFY(ended);
}

void WorkTest::lengthyWorkKeepsNobodyWaiting() {
    QSemaphore go;
    Work<int> lengthy(WorkSignals::Length::lengthy), other(WorkSignals::Length::lengthy), brief;
    QSignalSpy briefEnded(&brief, &WorkSignals::finished), otherEnded(&other, &WorkSignals::finished);
    lengthy.start(1, [&](const WorkControl &) {
        go.acquire();
        return 1;
    });
    other.start(1, [](const WorkControl &) { return 1; });
    brief.start(1, [](const WorkControl &) { return 1; });
    QVERIFY(briefEnded.wait());
    QCOMPARE(otherEnded.count(), 0); // one at a time
    go.release();
    QVERIFY(otherEnded.wait());
}

CORE_TEST_MAIN(WorkTest)
#include "work_test.moc"
