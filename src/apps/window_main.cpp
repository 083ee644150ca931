// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/error.h"
#include "core/base/version.h"
#include "session/live_seat.h"
#include "session/session.h"
#include "session/work.h"
#include "ui/language.h"
#include "ui/shell_host.h"
#include "ui/text_size.h"
#include "ui/theme.h"
#include "ui/widgets/caution_bar.h"
#include "ui/widgets/page_switch.h"

#include <QAbstractButton>
#include <QApplication>
#include <QCommandLineParser>
#include <QDir>
#include <QElapsedTimer>
#include <QIcon>
#include <QRegularExpression>
#include <QSettings>

#include <algorithm>
#include <cstdio>
#include <functional>
#include <string_view>
#include <vector>

void wheelwrightResources() {
    Q_INIT_RESOURCE(resources);
}

namespace {

using namespace wheelwright;

bool grabTo(QWidget &window, const QString &file) {
    // Also what is worked out beside this thread, and what is then asked for to draw it.
    for (int turn = 0; turn < 12; ++turn) {
        QApplication::processEvents();
        for (const auto length :
             {WorkSignals::Length::brief, WorkSignals::Length::lengthy, WorkSignals::Length::unasked})
            WorkSignals::pool(length).waitForDone();
        window.grab();
    }
    if (!window.grab().save(file)) {
        std::fprintf(stderr, "wheelwright: %s: expected a file that can be written, found none\n",
                     qPrintable(file));
        return false;
    }
    std::printf("%s\n", qPrintable(file));
    return true;
}

// The seat with an engine in the middle of a pull. False where the engine does not come: the seat is empty
// then.
bool sitDown(Session &session, bool log) {
    LiveSeat &live = session.live();
    const auto waitFor = [](const std::function<bool()> &there) {
        QElapsedTimer since;
        since.start();
        constexpr int patienceMs = 20000;
        while (!there() && since.elapsed() < patienceMs)
            QApplication::processEvents(QEventLoop::WaitForMoreEvents, 20);
        return there();
    };
    if (!live.practising()) live.startPractice({{}, 3, {}, {}, -1});
    if (!waitFor([&] { return live.hearing() == LiveSeat::Hearing::hearing; })) return false;
    live.setLogging(log);
    for (const char *step :
         {R"({"do": "cruise", "from_rpm": 1800, "to_rpm": 3400, "from_kpa": 40, "to_kpa": 95, "seconds": 4})",
          R"({"do": "pull", "mode": "loaded", "to_rpm": 4200})", R"({"do": "pull", "mode": "loaded"})"})
        live.drive(QString::fromLatin1(step));
    constexpr double midway = 4400;
    return waitFor([&] {
        return live.review().lastPull && live.review().pulling && live.value(ChannelRole::rpm) > midway;
    });
}

// Every view in one theme: its first page, and in the light theme the others too.
bool renderTheme(Session &session, Shell &shell, const QString &folder, bool shop, bool live) {
    shell.setLook({.shop = shop});
    const QString theme = shop ? QStringLiteral("shop") : QStringLiteral("paper");
    // The seat comes last: what it records would stand in the other pictures.
    std::vector<const ViewDefinition *> order(allViews().begin(), allViews().end());
    std::stable_sort(order.begin(), order.end(), [](const ViewDefinition *a, const ViewDefinition *b) {
        return (std::string_view(a->id) == "cell") < (std::string_view(b->id) == "cell");
    });
    for (const ViewDefinition *v : order) {
        const QString id = QString::fromLatin1(v->id);
        const bool tables = id == QStringLiteral("tables");
        // Pumps and shelves are looked at by day.
        if (shop &&
            (id == QStringLiteral("fuel") || id == QStringLiteral("flow") || id == QStringLiteral("job")))
            continue;
        shell.showStation(id);
        if (id == QStringLiteral("cell") && live) sitDown(session, shop);
        if (!(tables && shop) && !grabTo(shell, folder + QStringLiteral("/%1-%2.png").arg(id, theme)))
            return false;
        if (tables) { // with another table on the bench, and the drawer open
            for (const char *place : {"calibration.extras", "calibration.extras.spark_ceiling"})
                shell.view(id)->showInput(QLatin1String(place));
            if (!grabTo(shell, folder + QStringLiteral("/tables-drawer-%1.png").arg(theme))) return false;
            shell.view(id)->showInput(QStringLiteral("calibration.spark"));
        }
        auto *pages = shell.view(id)->findChild<PageSwitch *>();
        if (!pages || shop) continue;
        for (QWidget *page : pages->pages().mid(1)) {
            pages->showPage(page);
            if (!grabTo(shell, folder + QStringLiteral("/%1-%2-%3.png").arg(id, page->objectName(), theme)))
                return false;
            // What a page can be switched to.
            const QString propose = QStringLiteral("propose.");
            for (auto *button : page->findChildren<QAbstractButton *>()) {
                if (!button->objectName().startsWith(propose) || button->isChecked()) continue;
                button->click();
                if (!grabTo(shell, folder + QStringLiteral("/%1-%2-%3.png")
                                                .arg(id, button->objectName().mid(propose.size()), theme)))
                    return false;
            }
        }
        pages->showPage(pages->pages().front());
        session.live().leave();
    }
    return true;
}

// Renders the views from the demo job, for the pictures of the documentation.
int renderViews(Session &session, Shell &shell, const QString &folder, const QSize &size, bool live,
                const QStringList &places) {
    QDir().mkpath(folder);
    shell.resize((QSizeF(size) / windowScale()).toSize());
    shell.show();
    while (session.verdictPending())
        QApplication::processEvents(QEventLoop::WaitForMoreEvents, 50);
    constexpr double wanted = 0.40; // of the demo's story; a mechanical engine has its one fuel
    if (session.hasJob() && session.job().control == FuelControl::controller) session.setContent(wanted);
    for (const QString &place : places) {
        shell.showPlace(place);
        if (!grabTo(shell, folder + QStringLiteral("/%1.png").arg(QString(place).replace(u'/', u'-'))))
            return 2;
    }
    if (!places.isEmpty()) return 0;
    return renderTheme(session, shell, folder, false, live) && renderTheme(session, shell, folder, true, live)
               ? 0
               : 2;
}

void addOptions(QCommandLineParser &parser) {
    parser.setApplicationDescription(QStringLiteral("Calibration over every fuel content."));
    parser.addHelpOption();
    parser.addVersionOption();
    parser.addPositionalArgument(QStringLiteral("job"),
                                 QStringLiteral("Job file, JSON document or CSV table to open"),
                                 QStringLiteral("[job]"));
    parser.addOptions(
        {{QStringLiteral("demo"), QStringLiteral("Open the demo job")},
         {QStringLiteral("render"), QStringLiteral("Render every view to <folder> and quit"),
          QStringLiteral("folder")},
         {QStringLiteral("size"), QStringLiteral("Window size for --render, such as 1280x800"),
          QStringLiteral("size"), QStringLiteral("1280x800")},
         {QStringLiteral("at"),
          QStringLiteral("Open at a station, one of its pages or a field of the job: verify, fuel/measure, "
                         "tank.capacity_l. With --render, "
                         "again and again, the pictures of these places alone"),
          QStringLiteral("place")},
         {QStringLiteral("text-size"),
          QStringLiteral("Draw everything at <percent> of its size, 80 to 200, from now on"),
          QStringLiteral("percent")},
         {QStringLiteral("language"), QStringLiteral("Speak <language> from now on: en, de or es"),
          QStringLiteral("language")},
         {QStringLiteral("live"), QStringLiteral("With a practice engine in the seat, for --render")},
         {QStringLiteral("startup-time"),
          QStringLiteral("Print the milliseconds to the first painted window and quit")}});
}

// An option that says something else than it may.
struct Refused {
    QString option, expected, found;
};

void chooseLanguage(const QCommandLineParser &parser, QSettings &settings) {
    const QString code = parser.value(QStringLiteral("language"));
    if (code.isEmpty()) return;
    if (std::ranges::none_of(allLanguages(),
                             [&](const Language &l) { return code == QLatin1String(l.code); }))
        throw Refused{QStringLiteral("language"), QStringLiteral("en, de or es"), code};
    settings.setValue(QStringLiteral("language"), code);
}

void chooseTextSize(const QCommandLineParser &parser, ShellHost &host) {
    const QString option = QStringLiteral("text-size");
    if (!parser.isSet(option)) return;
    bool number = false;
    const int percent = parser.value(option).toInt(&number);
    if (!number || percent < leastTextPercent || percent > mostTextPercent)
        throw Refused{option, QStringLiteral("%1 to %2").arg(leastTextPercent).arg(mostTextPercent),
                      parser.value(option)};
    host.setTextPercent(percent);
}

QSize sizeOfPictures(const QCommandLineParser &parser) {
    const QString said = parser.value(QStringLiteral("size"));
    static const QRegularExpression form(QStringLiteral("^([1-9]\\d{2,3})x([1-9]\\d{2,3})$"));
    const QRegularExpressionMatch match = form.match(said);
    if (!match.hasMatch())
        throw Refused{QStringLiteral("size"), QStringLiteral("width and height, such as 1280x800"), said};
    return {match.captured(1).toInt(), match.captured(2).toInt()};
}

// What quits when it is done needs the job at once; the window does not wait for it. Throws InputError.
void openAll(const QCommandLineParser &parser, Session &session, Shell &shell, bool atOnce) {
    if (parser.isSet(QStringLiteral("demo"))) shell.openDemo();
    for (const QString &path : parser.positionalArguments()) {
        if (atOnce && path.endsWith(QLatin1String(".wwjob")))
            session.openJob(path.toStdString());
        else
            shell.openPath(path);
    }
}

int run(const QCommandLineParser &parser, const QElapsedTimer &sinceStart) {
    const bool render = parser.isSet(QStringLiteral("render")),
               throwAway = render || parser.isSet(QStringLiteral("startup-time"));
    const QSize size = sizeOfPictures(parser);
    QSettings kept;
    QSettings blank(QDir::temp().filePath(QStringLiteral("wheelwright-render.ini")), QSettings::IniFormat);
    if (throwAway) blank.clear();
    if (throwAway) CautionBar::understandAll(blank); // pictures are of every day, not of the first
    QSettings &settings = throwAway ? blank : kept;
    useTheme(lookKept(settings));
    chooseLanguage(parser, settings);

    // Pictures are of the demo's story, on a day of it: they stay the same until something else does.
    Session session([render] {
        return render ? QDateTime(QDate(2026, 5, 16), QTime(12, 0), Qt::UTC) : QDateTime::currentDateTime();
    });
    ShellHost host(session, settings);
    chooseTextSize(parser, host);
    Shell &shell = host.shell(); // until the loop runs
    openAll(parser, session, shell, throwAway);
    if (render)
        return renderViews(session, shell, parser.value(QStringLiteral("render")), size,
                           parser.isSet(QStringLiteral("live")), parser.values(QStringLiteral("at")));
    shell.show();
    for (const QString &place : parser.values(QStringLiteral("at")))
        shell.showPlace(place);
    if (parser.isSet(QStringLiteral("startup-time"))) {
        shell.repaint();
        std::printf("%lld\n", static_cast<long long>(sinceStart.elapsed()));
        return 0;
    }
    return QApplication::exec();
}

} // namespace

int main(int argc, char **argv) {
    QElapsedTimer sinceStart;
    sinceStart.start();
    QApplication app(argc, argv);
    QApplication::setApplicationName(QStringLiteral("wheelwright"));
    QApplication::setApplicationVersion(
        QString::fromUtf8(version.data(), static_cast<qsizetype>(version.size())));
    wheelwrightResources();
    QApplication::setWindowIcon(QIcon(QStringLiteral(":/icons/wheelwright.svg")));
    QGuiApplication::setDesktopFileName(QStringLiteral("local.wheelwright.Wheelwright"));
    QApplication::setStyle(QStringLiteral("Fusion")); // the same everywhere; the style sheet is drawn over it
    QCommandLineParser parser;
    addOptions(parser);
    parser.process(app);
    loadFonts();
    try {
        return run(parser, sinceStart);
    } catch (const Refused &r) {
        std::fprintf(stderr, "wheelwright: --%s: expected %s, found '%s'\n", qPrintable(r.option),
                     qPrintable(r.expected), qPrintable(r.found));
    } catch (const InputError &e) {
        std::fprintf(stderr, "wheelwright: %s\n", e.what());
    }
    return 2;
}
