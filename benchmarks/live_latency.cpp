// SPDX-License-Identifier: GPL-3.0-or-later
// How late the seat is, and what it costs: another process sends 1,000 frames a second over a virtual bus,
// the window of the seat listens, records and draws. Prints the time from a frame's sending to the end of the
// drawing that shows it, and the share of a core that the window's process takes.
//   live_latency [seconds]
#include "core/live/practice_frames.h"
#include "session/live_seat.h"
#include "session/session.h"
#include "ui/shell.h"
#include "ui/theme.h"
#include "ui/views/cell/cell_view.h"
#include "ui/views/cell/seat_page.h"
#include "ui/views/cell/seat_reading.h"

#include <QApplication>
#include <QCanBus>
#include <QElapsedTimer>
#include <QProcess>
#include <QSettings>
#include <QTcpServer>
#include <QTemporaryDir>
#include <QThread>

#include <sys/resource.h>

#include <algorithm>
#include <cstdio>
#include <map>
#include <vector>

void wheelwrightResources() {
    Q_INIT_RESOURCE(resources);
}

using namespace wheelwright;

namespace {

constexpr double framesPerS = 1000;
constexpr int changeEvery = 100; // frames: ten other numbers a second

// Each number is said in a line with the time of its first frame, which is of the same clock in all
// processes.
int send(std::uint16_t port, double seconds) {
    QCanBusDevice *bus = QCanBus::instance()->createDevice(
        QStringLiteral("virtualcan"), QStringLiteral("tcp://127.0.0.1:%1/can0").arg(port));
    bus->connectDevice();
    const LiveClock clock = steadyClock();
    const double begin = clock() + 1;
    PracticeSample sample;
    sample.mapKpa = 60;
    sample.throttlePercent = 20;
    sample.coolantC = 85;
    std::vector<CanFrame> frames;
    for (int i = 0; i < int(seconds * framesPerS); ++i) {
        while (clock() < begin + i / framesPerS) {
            QCoreApplication::processEvents();
            QThread::usleep(100);
        }
        const bool change = i % changeEvery == 0;
        if (change) sample.rpm = 1000 + i / changeEvery;
        // The other readings never stand still.
        sample.mapKpa = 60 + i % 97;
        sample.lambda = 0.8 + i % 89 * 0.002;
        sample.sparkDeg = 10 + i % 83 * 0.2;
        sample.knockRetardDeg = i % 3 * 0.1;
        sample.dutyPercent = 20 + i % 71;
        if (i % 4 == 0 || frames.empty()) {
            frames = practiceFrames(sample, static_cast<std::size_t>(i));
            std::reverse(frames.begin(), frames.end()); // the one with the speed last: sent first
        }
        const CanFrame f =
            change ? practiceFrames(sample, 0).front() : frames[static_cast<std::size_t>(i) % frames.size()];
        QCanBusFrame out(f.id, QByteArray(reinterpret_cast<const char *>(f.data.data()), f.size));
        if (change) std::printf("%d %.6f\n", int(sample.rpm), clock());
        bus->writeFrame(out);
        QCoreApplication::processEvents();
    }
    std::fflush(stdout);
    return 0;
}

double cpuS() {
    rusage u{};
    getrusage(RUSAGE_SELF, &u);
    return double(u.ru_utime.tv_sec + u.ru_stime.tv_sec) +
           1e-6 * double(u.ru_utime.tv_usec + u.ru_stime.tv_usec);
}

/// Notes when a number has been drawn for the first time.
class Drawn : public QObject {
  public:
    Drawn(SeatReading *reading, LiveClock clock) : m_reading(reading), m_clock(std::move(clock)) {
        reading->installEventFilter(this);
    }
    std::map<int, double> atS;

  private:
    bool eventFilter(QObject *watched, QEvent *event) override {
        if (event->type() != QEvent::Paint) return false;
        watched->event(event);
        atS.emplace(m_reading->digits().toInt(), m_clock());
        return true;
    }
    SeatReading *m_reading;
    LiveClock m_clock;
};

} // namespace

int main(int argc, char **argv) {
    if (argc > 3 && std::string_view(argv[1]) == "--send") {
        QCoreApplication app(argc, argv);
        quietBusPlugins();
        return send(static_cast<std::uint16_t>(std::atoi(argv[2])), std::atof(argv[3]));
    }
    const double seconds = argc > 1 ? std::atof(argv[1]) : 20;
    QApplication app(argc, argv);
    wheelwrightResources();
    QApplication::setStyle(QStringLiteral("Fusion"));
    loadFonts();
    useTheme({});
    QTemporaryDir folder;
    QSettings settings(folder.filePath(QStringLiteral("s.ini")), QSettings::IniFormat);
    Session session([] { return QDateTime::currentDateTimeUtc(); });
    Shell shell(session, settings);
    session.importJob(DEMO_JOB, folder.filePath(QStringLiteral("a.wwjob")).toStdString());
    shell.resize(1280, 800);
    shell.show();
    shell.showStation(QStringLiteral("cell"));
    auto *view = static_cast<CellView *>(shell.view(QStringLiteral("cell")));
    QTcpServer server;
    server.listen(QHostAddress::LocalHost);
    const quint16 port = server.serverPort();
    server.close();
    session.live().listen({BusAddress::Kind::loopback, port, {}}, practiceCanMap());
    Drawn drawn(view->seat().readings()[0], steadyClock());
    QProcess sender;
    sender.start(QCoreApplication::applicationFilePath(),
                 {QStringLiteral("--send"), QString::number(port), QString::number(seconds)});
    QElapsedTimer wall;
    double cpu = 0;
    bool begun = false;
    QObject::connect(&session.live(), &LiveSeat::ticked, &app, [&] {
        if (begun || session.live().hearing() != LiveSeat::Hearing::hearing) return;
        begun = true;
        session.live().setLogging(true);
        wall.start();
        cpu = cpuS();
    });
    QObject::connect(&sender, &QProcess::finished, &app, &QCoreApplication::quit);
    app.exec();
    const double share = (cpuS() - cpu) / (1e-3 * double(wall.elapsed()));
    const LiveReader::Moment end = session.live().moment();
    std::vector<double> lateMs;
    for (const QByteArray &line : sender.readAllStandardOutput().split('\n')) {
        const QList<QByteArray> parts = line.split(' ');
        if (parts.size() != 2) continue;
        if (const auto at = drawn.atS.find(parts[0].toInt()); at != drawn.atS.end())
            lateMs.push_back(1000 * (at->second - parts[1].toDouble()));
    }
    std::sort(lateMs.begin(), lateMs.end());
    const auto quantile = [&](double q) {
        return lateMs.empty() ? -1 : lateMs[std::size_t(q * double(lateMs.size() - 1))];
    };
    std::printf("frames %zu, dropped %zu, numbers shown %zu\n", end.heard, end.dropped, lateMs.size());
    std::printf("frame to screen: median %.1f ms, 95 %% %.1f ms, most %.1f ms\n", quantile(0.5),
                quantile(0.95), quantile(1));
    std::printf("share of a core while recording: %.1f %%\n", 100 * share);
    session.closeJob();
    return 0;
}
