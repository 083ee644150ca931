// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/school_conversion.h"
#include "core/tables/region_edit.h"
#include "session/cell_editor.h"
#include "session/session.h"
#include "support/random_job.h"
#include "ui/shell.h"
#include "ui/theme.h"

#include <QApplication>
#include <QSettings>
#include <QTemporaryDir>

#include <benchmark/benchmark.h>

using namespace wheelwright;

void wheelwrightResources() {
    Q_INIT_RESOURCE(resources);
}

namespace {

/// The real window with the demo job, drawn without a display.
struct Window {
    QTemporaryDir folder;
    QSettings settings{folder.filePath(QStringLiteral("s.ini")), QSettings::IniFormat};
    Session session{[] { return QDateTime(QDate(2001, 2, 3), QTime(4, 5, 6)); }};
    Shell shell{session, settings};

    explicit Window(const QString &station, const Job &job = testing::demoJob()) {
        session.createJob(folder.filePath(QStringLiteral("a.wwjob")).toStdString(), job);
        shell.resize(1280, 800);
        shell.showStation(station);
        shell.show();
        while (session.verdictPending())
            QApplication::processEvents(QEventLoop::WaitForMoreEvents, 20);
        QApplication::processEvents();
    }
};

/// Counts what is painted, so that nobody takes a step that painted nothing for a fast one.
class PaintCount : public QObject {
  public:
    explicit PaintCount(benchmark::State &state) : m_state(state) { qApp->installEventFilter(this); }
    ~PaintCount() override {
        qApp->removeEventFilter(this);
        m_state.counters["widgets_painted"] =
            benchmark::Counter(static_cast<double>(m_count), benchmark::Counter::kAvgIterations);
    }

  private:
    bool eventFilter(QObject *watched, QEvent *event) override {
        if (event->type() == QEvent::Paint) ++m_count;
        return QObject::eventFilter(watched, event);
    }
    benchmark::State &m_state;
    long m_count = 0;
};

// A step of the handle until everything is painted. Mark: 6 ms.
void contentToPainted(benchmark::State &state, const char *station) {
    Window window(QString::fromLatin1(station));
    const PaintCount paints(state);
    int percent = 10;
    for (auto _ : state) {
        percent = percent < 85 ? percent + 1 : 10;
        window.session.setContent(percent / 100.0);
        QApplication::processEvents();
    }
}
BENCHMARK_CAPTURE(contentToPainted, tables, "tables")->Unit(benchmark::kMillisecond);
BENCHMARK_CAPTURE(contentToPainted, fuel, "fuel")->Unit(benchmark::kMillisecond);
BENCHMARK_CAPTURE(contentToPainted, verify, "verify")->Unit(benchmark::kMillisecond);
BENCHMARK_CAPTURE(contentToPainted, job, "job")->Unit(benchmark::kMillisecond);

BENCHMARK_CAPTURE(contentToPainted, flow, "flow")->Unit(benchmark::kMillisecond);

// The demo's tables on the largest axes that there are.
Job largest() {
    Job job = testing::demoJob();
    std::vector<double> rpm, load;
    for (int i = 0; i < 64; ++i) {
        rpm.push_back(600 + 108 * i);
        load.push_back(20 + 4 * i);
    }
    for (const CalibratedQuantity q : allQuantities)
        for (Table2D *t : {&job.calibration.of(q).base, &job.calibration.of(q).top})
            *t = regrid(*t, Axis(rpm), q == CalibratedQuantity::boost ? t->y() : Axis(load)).table;
    return job;
}

void largestContentToPainted(benchmark::State &state) {
    Window window(QStringLiteral("tables"), largest());
    const PaintCount paints(state);
    int percent = 10;
    for (auto _ : state) {
        percent = percent < 85 ? percent + 1 : 10;
        window.session.setContent(percent / 100.0);
        QApplication::processEvents();
    }
}
BENCHMARK(largestContentToPainted)->Unit(benchmark::kMillisecond);

void largestCursorToPainted(benchmark::State &state) {
    Window window(QStringLiteral("tables"), largest());
    const PaintCount paints(state);
    std::size_t x = 0;
    for (auto _ : state) {
        window.session.setCell({x = (x + 1) % 64, 20});
        QApplication::processEvents();
    }
}
BENCHMARK(largestCursorToPainted)->Unit(benchmark::kMillisecond);

enum LargestEdit { nudgeOne, smoothAll, fillHalf, lockMany, nudgeLevel };

void largestEditToPainted(benchmark::State &state, LargestEdit edit) {
    const Job job = edit == nudgeLevel
                        ? convertSchool(largest(), {School::stack, {0.1, 0.35, 0.6, 0.85}, 0.03}).job
                        : largest();
    Window window(QStringLiteral("tables"), job);
    Session &s = window.session;
    s.setSide(TableSide::base);
    s.setCell({20, 20});
    if (edit == smoothAll || edit == fillHalf) {
        s.setCell({0, 0});
        s.setCell({63, edit == fillHalf ? 31ul : 63ul}, true);
    }
    if (edit == lockMany) { // two thousand locks, and then an edit beside them
        s.setCell({0, 0});
        s.setCell({63, 31}, true);
        CellEditor(s).toggleLocks();
        s.setCell({40, 40});
    }
    const PaintCount paints(state);
    int step = 1;
    for (auto _ : state) {
        if (edit == smoothAll)
            CellEditor(s).smooth(0.5);
        else if (edit == fillHalf) {
            CellEditor(s).fillFromAround();
            s.undo();
        } else
            CellEditor(s).nudge(step = -step);
        QApplication::processEvents();
    }
}
BENCHMARK_CAPTURE(largestEditToPainted, nudge, nudgeOne)->Unit(benchmark::kMillisecond);
BENCHMARK_CAPTURE(largestEditToPainted, smooth_all, smoothAll)->Unit(benchmark::kMillisecond)->Iterations(20);
BENCHMARK_CAPTURE(largestEditToPainted, fill_half_and_undo, fillHalf)
    ->Unit(benchmark::kMillisecond)
    ->Iterations(20);
BENCHMARK_CAPTURE(largestEditToPainted, nudge_beside_2048_locks, lockMany)->Unit(benchmark::kMillisecond);
BENCHMARK_CAPTURE(largestEditToPainted, nudge_of_a_level, nudgeLevel)->Unit(benchmark::kMillisecond);

// A nudge of one cell: checked, written to the disk and painted.
void nudgeToPainted(benchmark::State &state) {
    Window window(QStringLiteral("tables"));
    window.session.setSide(TableSide::base);
    const PaintCount paints(state);
    int step = 1;
    for (auto _ : state) {
        CellEditor(window.session).nudge(step = -step);
        QApplication::processEvents();
    }
}
BENCHMARK(nudgeToPainted)->Unit(benchmark::kMillisecond);

} // namespace

int main(int argc, char **argv) {
    QApplication app(argc, argv);
    wheelwrightResources();
    QApplication::setStyle(QStringLiteral("Fusion"));
    loadFonts();
    useTheme(false);
    benchmark::Initialize(&argc, argv);
    benchmark::RunSpecifiedBenchmarks();
    return 0;
}
