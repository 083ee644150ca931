// SPDX-License-Identifier: GPL-3.0-or-later
// Larger and smaller text: everything drawn grows with it, and the work does not notice.
#include "support/test_window.h"
#include "ui/rail.h"
#include "ui/shell_host.h"
#include "ui/text_size.h"
#include "ui/widgets/page_switch.h"

#include <QAction>
#include <QApplication>
#include <QLineEdit>
#include <QScrollBar>
#include <QSettings>
#include <QTemporaryDir>
#include <QToolButton>

using namespace wheelwright;
using namespace wheelwright::testing;

void wheelwrightResources() {
    Q_INIT_RESOURCE(resources);
}

namespace {

QDateTime fixedTime() {
    return QDateTime(QDate(2001, 2, 3), QTime(4, 5, 6), Qt::UTC);
}

} // namespace

class TextSizeTest : public QObject {
    Q_OBJECT
  private slots:
    void initTestCase() {
        dressApplication();
        QStandardPaths::setTestModeEnabled(true);
    }
    void cleanup() { setTextPercent(usualTextPercent); }

    void stepsGoUpAndDownAndEnd() {
        std::vector<int> up;
        for (int p = leastTextPercent; up.empty() || p != up.back(); p = largerText(p))
            up.push_back(p);
        QCOMPARE(up.front(), 80);
        QCOMPARE(up.back(), 200);
        QVERIFY(up.size() >= 6);
        for (std::size_t i = 0; i + 1 < up.size(); ++i) {
            QVERIFY(up[i + 1] * 4 <= up[i] * 5); // no step of more than a quarter
            QCOMPARE(smallerText(up[i + 1]), up[i]);
        }
        QCOMPARE(smallerText(80), 80);
        QCOMPARE(largerText(117), 125); // between two steps, as the command line can set it
        QCOMPARE(smallerText(117), 110);
        setTextPercent(10);
        QCOMPARE(textPercent(), 80);
        setTextPercent(1000);
        QCOMPARE(textPercent(), 200);
    }

    // A digit of less than nine pixels is read by nobody; what was designed smaller gets no smaller.
    void noDigitGetsTooSmall() {
        setTextPercent(80);
        QCOMPARE(fontPixels(20), 16);
        QCOMPARE(fontPixels(12), 10);
        QCOMPARE(fontPixels(10), 9);
        QCOMPARE(fontPixels(9), 9);
        QCOMPARE(fontPixels(8), 8);
        setTextPercent(200); // the window scales, its fonts do not
        QCOMPARE(fontPixels(10), 10);
    }

    void keysDrawEverythingLarger() {
        QTemporaryDir folder;
        QSettings settings(folder.filePath(QStringLiteral("s.ini")), QSettings::IniFormat);
        Session session(fixedTime);
        ShellHost host(session, settings);
        host.shell().resize(1280, 800);
        host.shell().show();
        QVERIFY(QTest::qWaitForWindowExposed(&host.shell()));
        QSignalSpy replaced(&host, &ShellHost::shellReplaced);
        const auto press = [&](Qt::Key key) {
            host.shell().activateWindow();
            QVERIFY(QTest::qWaitForWindowActive(&host.shell()));
            const auto before = replaced.count();
            QTest::keyClick(&host.shell(), key, Qt::ControlModifier);
            QTRY_COMPARE(replaced.count(), before + 1);
        };
        const std::vector<std::pair<Qt::Key, int>> keys{{Qt::Key_Plus, 110},
                                                        {Qt::Key_Equal, 125},
                                                        {Qt::Key_Minus, 110},
                                                        {Qt::Key_0, 100},
                                                        {Qt::Key_Minus, 90}};
        for (const auto &[key, percent] : keys) {
            press(key);
            QCOMPARE(textPercent(), percent);
            // Pixels of the screen per pixel of the layout; under one only fonts are smaller.
            const double scale = std::max(percent / 100.0, 1.0);
            QVERIFY(std::abs(host.shell().devicePixelRatioF() - scale) < 1e-3);
            QCOMPARE(QApplication::font().pixelSize(), percent < 100 ? 12 : 13);
            QVERIFY(host.shell().isVisible());
            // As large on the screen as before, to a pixel of rounding at each step.
            QVERIFY(std::abs(host.shell().width() * scale - 1280) <= 5);
            QVERIFY(std::abs(host.shell().height() * scale - 800) <= 5);
            QCOMPARE(settings.value(QStringLiteral("textPercent")).toInt(), percent);
        }
        QCOMPARE(ShellHost(session, settings).shell().devicePixelRatioF(), host.shell().devicePixelRatioF());
    }

    // What is drawn is whole at every size: the last station of the rail and the job's title are in the
    // picture of the window as they are in their own.
    void thePictureIsWhole_data() {
        QTest::addColumn<int>("percent");
        for (const int percent : {80, 90, 100, 125, 200})
            QTest::addRow("%d", percent) << percent;
    }

    void thePictureIsWhole() {
        QFETCH(int, percent);
        QTemporaryDir folder;
        QSettings settings(folder.filePath(QStringLiteral("s.ini")), QSettings::IniFormat);
        Session session(fixedTime);
        ShellHost host(session, settings);
        host.setTextPercent(percent);
        Shell &shell = host.shell();
        shell.openDemo();
        shell.resize((QSizeF(2560, 1600) / windowScale()).toSize());
        shell.show();
        QVERIFY(QTest::qWaitForWindowExposed(&shell));
        shell.showStation(QStringLiteral("fuel"));
        QTest::qWait(200);
        const QImage all = shell.grab().toImage();
        const double ratio = all.devicePixelRatio();
        COMPARE_NEAR(ratio, windowScale(), 1e-3);
        int compared = 0;
        for (QToolButton *b : shell.findChild<Rail *>()->findChildren<QToolButton *>()) {
            if (!b->isVisible()) continue;
            const QRect at(b->mapTo(&shell, QPoint()) * ratio, b->size() * ratio);
            // Letters and lines, against the blank of a picture that was clipped.
            const auto inkOf = [](const QImage &picture) {
                int ink = 0;
                for (int y = 0; y < picture.height(); ++y)
                    for (int x = 0; x < picture.width(); ++x)
                        ink += qGray(picture.pixel(x, y)) < 140 ? 1 : 0;
                return ink;
            };
            const int whole = inkOf(b->grab().toImage()), seen = inkOf(all.copy(at));
            QVERIFY(whole > 20);
            QVERIFY2(seen > whole * 8 / 10,
                     qPrintable(QStringLiteral("%1: %2 of %3").arg(b->text()).arg(seen).arg(whole)));
            ++compared;
        }
        QVERIFY(compared >= 9);
    }

    void workGoesOnWhereItWas() {
        QTemporaryDir folder;
        QSettings settings(folder.filePath(QStringLiteral("s.ini")), QSettings::IniFormat);
        Session session(fixedTime);
        ShellHost host(session, settings);
        host.shell().show();
        host.shell().openDemo();
        QVERIFY(session.hasJob());
        session.setContent(0.33);
        QVERIFY(session.perform(QStringLiteral("tank"), [](Job &job) { job.tank.capacityL = 57; }));
        host.shell().showStation(QStringLiteral("flow"));
        auto *pages = host.shell().view(QStringLiteral("flow"))->findChild<PageSwitch *>();
        pages->showPage(pages->pages().at(2));
        const QString page = pages->currentPage()->objectName();
        QVERIFY(!page.isEmpty());
        host.shell().showStation(QStringLiteral("verify"));

        host.setTextPercent(150);
        QCOMPARE(host.shell().station(), QStringLiteral("verify"));
        pages = host.shell().view(QStringLiteral("flow"))->findChild<PageSwitch *>();
        QCOMPARE(pages->currentPage()->objectName(), page);
        QCOMPARE(session.content(), 0.33);
        QVERIFY(session.undoStack().canUndo());
        session.undo();
        QVERIFY(session.job().tank.capacityL != 57);
        for (const QAction *a : host.shell().allActions()) // the new window knows that there is a job
            if (a->text().contains(QLatin1String("Close job"))) QVERIFY(a->isEnabled());
    }

    void whatIsBeingTypedIsTaken() {
        QTemporaryDir folder;
        QSettings settings(folder.filePath(QStringLiteral("s.ini")), QSettings::IniFormat);
        Session session(fixedTime);
        ShellHost host(session, settings);
        host.shell().show();
        host.shell().openDemo();
        host.shell().activateWindow();
        QVERIFY(QTest::qWaitForWindowActive(&host.shell()));
        host.shell().showPlace(QStringLiteral("tank.capacity_l"));
        auto *edit = qobject_cast<QLineEdit *>(QApplication::focusWidget());
        QVERIFY(edit);
        edit->selectAll();
        QTest::keyClicks(edit, QStringLiteral("57"));
        host.setTextPercent(125);
        QCOMPARE(session.job().tank.capacityL, 57.0);
    }

    // At twice the size a window of 1280 × 800 has the room of one of 640 × 400: it scrolls, and the stations
    // stay in reach.
    void atTwiceTheSizeTheStationsStayInReach() {
        QTemporaryDir folder;
        QSettings settings(folder.filePath(QStringLiteral("s.ini")), QSettings::IniFormat);
        Session session(fixedTime);
        ShellHost host(session, settings);
        host.shell().openDemo();
        host.shell().resize(1280, 800);
        host.shell().show();
        host.setTextPercent(200);
        QTest::qWait(20);
        QCOMPARE(host.shell().size(), QSize(640, 400));
        const auto buttons =
            host.shell().findChildren<QToolButton *>(QRegularExpression(QStringLiteral("^station-")));
        QVERIFY(buttons.size() >= 9);
        for (QToolButton *b : buttons) {
            const QRect at(b->mapTo(&host.shell(), QPoint(0, 0)), b->size());
            QVERIFY2(host.shell().rect().contains(at), qPrintable(b->objectName()));
            QTest::mouseClick(b, Qt::LeftButton);
            QCOMPARE(QStringLiteral("station-") + host.shell().station(), b->objectName());
        }
    }
};

int main(int argc, char **argv) {
    QApplication app(argc, argv);
    return wheelwright::testing::run<TextSizeTest>(argc, argv);
}
#include "text_size_test.moc"
