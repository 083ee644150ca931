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

    explicit Window(const QString &station) {
        session.createJob(folder.filePath(QStringLiteral("a.wwjob")).toStdString(), testing::demoJob());
        shell.resize(1280, 800);
        shell.showStation(station);
        shell.show();
        while (session.verdictPending())
            QApplication::processEvents(QEventLoop::WaitForMoreEvents, 20);
        QApplication::processEvents();
    }
};

// A step of the handle until everything is painted. The mark: under 16 ms, one frame.
void contentToPainted(benchmark::State &state, const char *station) {
    Window window(QString::fromLatin1(station));
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

// A nudge of one cell: checked, written to the disk and painted.
void nudgeToPainted(benchmark::State &state) {
    Window window(QStringLiteral("tables"));
    window.session.setSide(TableSide::base);
    int step = 1;
    for (auto _ : state) {
        window.session.nudge(step = -step);
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
