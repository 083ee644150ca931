// SPDX-License-Identifier: GPL-3.0-or-later
// Every widget of every page in every usual size: nothing overlaps, nothing is cut. Sizes of text are sizes
// of the window (docs/decisions/0047): 1024 × 700 is 1280 × 875 at 125 %.
#include "support/geometry.h"
#include "support/test_window.h"

#include <QLabel>
#include <QPainter>

using namespace wheelwright;
using namespace wheelwright::testing;

void wheelwrightResources() {
    Q_INIT_RESOURCE(resources);
}

class GeometryTest : public QObject {
    Q_OBJECT
  private slots:
    void initTestCase() { dressApplication(); }
    void nothingOverlapsNothingIsCut_data() {
        QTest::addColumn<QString>("demo");
        QTest::addColumn<QSize>("size");
        for (const char *demo : {"thistle", "moorhen", "bramble"})
            for (const QSize &size : {QSize(1024, 700), QSize(1280, 800), QSize(2560, 1440)})
                QTest::addRow("%s %d", demo, size.width()) << QString::fromLatin1(demo) << size;
    }

    void nothingOverlapsNothingIsCut() {
        QFETCH(QString, demo);
        QFETCH(QSize, size);
        TestWindow window;
        if (demo == QLatin1String("thistle")) // with something on every page
            window.openWithLog(QStringLiteral(SOURCE_DIR "/data/demo/logs/thistle-e62-pulls.csv"),
                               {{SOURCE_DIR "/data/demo/runs/thistle-01-e10-baseline.csv", {}, {}, {}}});
        else
            window.open(demoFile(demo.toLatin1().constData()));
        window.shell.resize(size);
        QStringList wrong;
        const int pagesSeen = eachPage(window.shell, [&](const QString &place, View *view) {
            QStringList here;
            check(view, here);
            checkAllPainted(view, here);
            for (const QString &words : here)
                wrong << place + QStringLiteral(": ") + words;
        });
        QVERIFY(pagesSeen >= 20);
        check(&window.shell, wrong);
        checkAllPainted(&window.shell, wrong);
        COMPARE_NONE(wrong);
    }

    // So does the walk over painted text: words that stick out, words over others.
    void paintedTextIsNoticed() {
        class Painted : public QWidget {
          public:
            QPoint second{4, 60};
            void paintEvent(QPaintEvent *) override {
                QPainter p(this);
                p.drawText(4, 30, QStringLiteral("first words"));
                p.drawText(second, QStringLiteral("second words"));
            }
        };
        Painted page;
        page.resize(200, 100);
        const auto found = [&] {
            QStringList wrong;
            checkPainted(&page, wrong);
            return wrong.join(u'\n');
        };
        QCOMPARE(found(), QString());
        page.second = {10, 34};
        QVERIFY(found().contains(QStringLiteral("'first words' over 'second words'")));
        page.second = {180, 60};
        QVERIFY(found().contains(QStringLiteral("outside of 200×100")));
    }

    // The walk itself notices: a label that is cut, one that sticks out, two that overlap.
    void theWalkNotices() {
        QWidget page;
        page.resize(200, 100);
        auto *label = new QLabel(QStringLiteral("a long enough text"), &page);
        label->setGeometry(0, 0, 150, 30);
        auto *other = new QLabel(QStringLiteral("b"), &page);
        other->setGeometry(0, 40, 50, 30);
        page.show();
        const auto found = [&] {
            QStringList wrong;
            check(&page, wrong);
            return wrong.join(u'\n');
        };
        QCOMPARE(found(), QString());
        label->setGeometry(0, 0, 20, 30);
        QVERIFY(found().contains(QStringLiteral("needs")));
        label->setGeometry(100, 0, 150, 30);
        QVERIFY(found().contains(QStringLiteral("sticks out")));
        label->setGeometry(0, 20, 150, 30);
        QVERIFY(found().contains(QStringLiteral("lies over")));
        label->setGeometry(0, 0, 150, 30);
        label->setWordWrap(true);
        label->setGeometry(0, 0, 60, 16);
        QVERIFY(found().contains(QStringLiteral("needs a height")));
    }
};

int main(int argc, char **argv) {
    QApplication app(argc, argv);
    return wheelwright::testing::run<GeometryTest>(argc, argv);
}
#include "geometry_test.moc"
