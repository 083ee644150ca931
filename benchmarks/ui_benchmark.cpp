// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/evidence/log_intake.h"
#include "core/job/revision.h"
#include "core/study/school_conversion.h"
#include "core/tables/region_edit.h"
#include "session/cell_editor.h"
#include "session/session.h"
#include "session/work.h"
#include "store/sample_store.h"
#include "support/random_job.h"
#include "ui/shell.h"
#include "ui/theme.h"
#include "ui/views/evidence/time_strip.h"

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

// A log of ten million samples a channel, made without a text: 28 hours at 100 Hz.
struct LongLog {
    Window window{QStringLiteral("evidence")};
    TimeStrip *strip = nullptr;

    LongLog() {
        constexpr std::size_t rows = 10'000'000, step = 65536, series = 7;
        Session &session = window.session;
        LogIntake::Summary log;
        {
            SampleWriter writer(*session.store(), series, {0});
            std::vector<double> samples(step);
            for (std::size_t from = 0; from < rows; from += step)
                for (std::size_t c = 0; c < series; ++c) {
                    samples.resize(std::min(step, rows - from));
                    for (std::size_t i = 0; i < samples.size(); ++i) {
                        const double s = static_cast<double>(from + i) * 0.01;
                        samples[i] = c == 0 ? s : 50 + 40 * std::sin(s / (3.0 * static_cast<double>(c)));
                    }
                    writer.put(c, samples);
                }
            log.info.id = writer.seal();
        }
        log.info.endS = static_cast<double>(rows) * 0.01;
        log.info.rows = rows;
        const std::array roles{ChannelRole::time,     ChannelRole::spark,       ChannelRole::map,
                               ChannelRole::throttle, ChannelRole::coolantTemp, ChannelRole::fuelTemp,
                               ChannelRole::battery};
        for (std::size_t c = 0; c < series; ++c) {
            LogChannel channel;
            channel.name = definitionOf(roles[c]).key;
            channel.role = roles[c];
            channel.kind = c == 0 ? ChannelKind::clock : ChannelKind::number;
            channel.series = static_cast<double>(c);
            channel.samples = rows;
            channel.least = 10;
            channel.most = 90;
            log.channels.push_back(channel);
        }
        session.perform(QStringLiteral("log"), [&](Job &job) {
            addLog(job, log, {"long", "2001-02-03", {}, {}, {}});
        });
        strip = window.shell.findChild<TimeStrip *>();
        strip->setLanes({roles.begin() + 1, roles.end()});
        settle(3000);
    }
    static void settle(int turns) {
        for (int i = 0; i < turns; ++i)
            QApplication::processEvents(QEventLoop::AllEvents, 1);
        WorkSignals::pool(WorkSignals::Length::brief).waitForDone();
        QApplication::processEvents();
    }
};

// Along and closer over ten million samples, until it is painted. Mark: 16 ms.
void stripToPainted(benchmark::State &state) {
    static LongLog &log = *new LongLog; // its window must not outlive the application: it is left to the end
    const PaintCount paints(state);
    const double span = static_cast<double>(state.range(0));
    double at = 1000;
    log.strip->setWindow(at, at + span);
    LongLog::settle(50);
    for (auto _ : state) {
        at += span * 0.02;
        if (at + span > 90000) at = 1000;
        log.strip->setWindow(at, at + span);
        log.strip->repaint();
    }
}
BENCHMARK(stripToPainted)->Arg(90000)->Arg(10000)->Arg(1000)->Arg(100)->Arg(5)->Unit(benchmark::kMillisecond);

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

// One of many revisions of the largest tables taken back, written to the disk and painted. Mark: 100 ms.
void takeBackToPainted(benchmark::State &state) {
    Job job = largest();
    Table2D &spark = job.calibration.of(CalibratedQuantity::spark).top;
    for (std::int64_t i = 0; i < state.range(0); ++i) {
        const CellIndex cell{static_cast<std::size_t>(i) % spark.x().size(), 3};
        spark.setCell(cell, spark.cell(cell) - 0.5);
        keepRevision(job, "Day " + std::to_string(i), "2001-02-03", "", false);
    }
    Window window(QStringLiteral("tables"), job);
    const PaintCount paints(state);
    std::size_t to = 0;
    for (auto _ : state) {
        to = to == 0 ? window.session.job().revisions.size() - 1 : 0;
        window.session.perform(
            QStringLiteral("back"), [&](Job &j) { j = takenBack(j, to); }, std::nullopt);
        QApplication::processEvents();
    }
}
BENCHMARK(takeBackToPainted)->Arg(5)->Arg(200)->Unit(benchmark::kMillisecond)->Iterations(20);

} // namespace

int main(int argc, char **argv) {
    QApplication app(argc, argv);
    wheelwrightResources();
    QApplication::setStyle(QStringLiteral("Fusion"));
    loadFonts();
    useTheme({});
    benchmark::Initialize(&argc, argv);
    benchmark::RunSpecifiedBenchmarks();
    return 0;
}
