// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "formats/job_json.h"
#include "session/evidence.h"
#include "session/session.h"
#include "support/random_job.h"
#include "support/test_main.h"
#include "ui/shell.h"
#include "ui/theme.h"
#include "ui/widgets/caution_bar.h"

#include <QApplication>
#include <QFile>
#include <QPushButton>
#include <QSettings>
#include <QTemporaryDir>

/// Defined by each test executable: Q_INIT_RESOURCE does not work inside a namespace.
void wheelwrightResources();

namespace wheelwright::testing {

/// A demo job by its name: "thistle".
inline Job demoFile(const char *name) {
    QFile file(QStringLiteral(SOURCE_DIR "/data/demo/%1.json").arg(QLatin1String(name)));
    if (!file.open(QIODevice::ReadOnly)) qFatal("no such demo");
    return jobFromJson(file.readAll().toStdString());
}

/// The real window in a folder of its own, active before anything is typed; at a time that stands still where
/// nothing else is wanted.
class TestWindow {
  public:
    explicit TestWindow(Session::Clock clock = fixedTime) : session(std::move(clock)) {
        shell.resize(1280, 800);
        shell.show();
        QTest::qWaitForWindowActive(&shell) ? void() : qFatal("the window did not become active");
    }

    void open(const Job &job) {
        session.createJob(path("a.wwjob").toStdString(), job);
        for (int i = 0; i < 500 && session.verdictPending(); ++i)
            QTest::qWait(10);
    }
    /// The demo job with one of its logs, read through.
    void openWithLog(const QString &log, const std::vector<Session::RunsOfFile> &runs = {}) {
        session.importJob(DEMO_JOB, path("a.wwjob").toStdString(), {{log.toStdString(), std::nullopt, {}}},
                          runs);
        for (int i = 0; i < 3000 && (session.verdictPending() || !session.evidence().proof()); ++i)
            QTest::qWait(10);
    }
    template <class V>
    V *view(const char *id) {
        shell.showStation(QLatin1String(id));
        return static_cast<V *>(shell.view(QLatin1String(id)));
    }
    QString path(const char *name) const { return folder.filePath(QString::fromLatin1(name)); }

    static QDateTime fixedTime() { return QDateTime(QDate(2001, 2, 3), QTime(4, 5, 6), Qt::UTC); }

    QTemporaryDir folder;
    QSettings settings{folder.filePath(QStringLiteral("settings.ini")), QSettings::IniFormat};
    Session session;
    const bool understood = [this] {
        CautionBar::understandAll(settings); // they lie over what is clicked
        return true;
    }();
    Shell shell{session, settings};
};

/// Lets the views catch up with what happened: they do so once a turn of the event loop.
inline void settle() {
    QApplication::processEvents();
}

/// Style, fonts and theme as the program sets them.
inline void dressApplication() {
    wheelwrightResources();
    QApplication::setStyle(QStringLiteral("Fusion"));
    loadFonts();
    useTheme({});
}

/// Clicks the button with this text, by mouse; the test fails when there is none.
inline void clickButton(QWidget &in, const QString &text) {
    for (QPushButton *b : in.findChildren<QPushButton *>())
        if (b->text() == text) {
            QTest::mouseClick(b, Qt::LeftButton);
            return;
        }
    QFAIL(qPrintable(QStringLiteral("no button '%1'").arg(text)));
}

} // namespace wheelwright::testing
