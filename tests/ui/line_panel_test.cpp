// SPDX-License-Identifier: GPL-3.0-or-later
// The line of work in the window: what is done on a dyno day with it, by keys and by mouse.
#include "core/job/revision.h"
#include "session/cell_editor.h"
#include "support/test_window.h"
#include "ui/finder.h"
#include "ui/line/line_panel.h"
#include "ui/text.h"
#include "ui/theme.h"
#include "ui/views/tables/table_grid.h"
#include "ui/views/tables/table_tools.h"
#include "ui/views/tables/tables_view.h"
#include "ui/widgets/notice_bar.h"
#include "ui/widgets/report_view.h"

#include <QClipboard>
#include <QLineEdit>
#include <QPushButton>
#include <QSignalSpy>

using namespace wheelwright;
using namespace wheelwright::testing;

void wheelwrightResources() {
    Q_INIT_RESOURCE(resources);
}

class LinePanelTest : public QObject {
    Q_OBJECT
  private slots:
    void initTestCase() { dressApplication(); }
    void init() {
        m_window = std::make_unique<TestWindow>();
        Job job = demoJob();
        m_window->open(job);
    }
    void cleanup() { m_window.reset(); }

    void keepsAndGoesBackByKeys() {
        Session &session = m_window->session;
        press(Qt::Key_R, Qt::ControlModifier);
        QVERIFY(panel().isVisible());
        QCOMPARE(panel().sinceWords(), QStringLiteral("No revision kept"));
        type("keepName", "First");
        QTest::keyClick(edit("keepName"), Qt::Key_Return);
        QCOMPARE(session.job().revisions.size(), std::size_t{1});
        QCOMPARE(edit("keepName")->text(), QString());
        settle();
        QCOMPARE(panel().sinceWords(), QStringLiteral("Revision First"));

        session.setSide(TableSide::base);
        session.setCell({4, 5});
        QVERIFY(CellEditor(session).nudge(4));
        settle();
        QCOMPARE(panel().sinceWords(), QStringLiteral("From First · 1 cell since"));
        QCOMPARE(m_window->shell.findChild<QPushButton *>(QStringLiteral("since"))->text(),
                 panel().sinceWords());
        type("keepName", "First"); // has been given
        QTest::mouseClick(button("keep"), Qt::LeftButton);
        QCOMPARE(session.job().revisions.size(), std::size_t{1});
        QVERIFY(m_window->shell.notice().sentence().contains(QStringLiteral("a name of its own")));
        type("keepName", "Second");
        type("keepNote", "two more");
        QTest::mouseClick(button("keep"), Qt::LeftButton);
        QCOMPARE(session.job().revisions.values()[1].parent, std::string("First"));
        QCOMPARE(session.job().revisions.values()[1].note, std::string("two more"));
        settle();

        // Back to the one before, as on every dyno day.
        panel().drawing().setFocus();
        QTest::keyClick(&panel().drawing(), Qt::Key_Home);
        QVERIFY(panel().drawing().chosen() == std::size_t{0});
        const Job later = session.job();
        QVERIFY(button("takeBack")->isEnabled());
        QTest::mouseClick(button("takeBack"), Qt::LeftButton);
        QCOMPARE(calibrationPrint(stateOf(session.job())),
                 calibrationPrint(session.job().revisions.values()[0].state.text()));
        settle();
        QCOMPARE(panel().sinceWords(), QStringLiteral("Revision First"));
        QVERIFY(!button("takeBack")->isEnabled()); // it is there
        session.undo();
        QVERIFY(session.job() == later);

        QTest::keyClick(&panel().drawing(), Qt::Key_Escape);
        QVERIFY(!panel().isVisible());
        press(Qt::Key_R, Qt::ControlModifier);
        press(Qt::Key_R, Qt::ControlModifier);
        QVERIFY(!panel().isVisible());
    }

    void marksNamesAndNotes() {
        Session &session = m_window->session;
        keepThree();
        open();
        // What lies under it does not look through.
        const QImage all = m_window->shell.grab().toImage();
        for (const QPoint &in : {QPoint(6, 3), QPoint(panel().width() - 4, panel().height() - 4)})
            QCOMPARE(all.pixelColor(panel().mapTo(&m_window->shell, in)), theme().raised);
        choose(1);
        const auto revision = [&]() -> const Revision & { return session.job().revisions.values()[1]; };
        const std::vector<std::pair<const char *, std::function<bool()>>> stages{
            {"sent", [&] { return revision().sent; }},
            {"cameBack", [&] { return !revision().cameBack.empty(); }},
            {"released", [&] { return !revision().released.empty(); }}};
        for (const auto &[name, is] : stages) {
            QVERIFY(!is());
            QTest::mouseClick(button(name), Qt::LeftButton);
            QVERIFY(is());
            settle();
            QVERIFY(button(name)->isChecked());
            QVERIFY(words().contains(QString::fromLatin1(name) == QLatin1String("sent")
                                         ? QStringLiteral("Sent to")
                                     : QString::fromLatin1(name) == QLatin1String("cameBack")
                                         ? QStringLiteral("Read back on 2001-02-03")
                                         : QStringLiteral("Released to be driven on 2001-02-03")));
        }
        QTest::mouseClick(button("sent"), Qt::LeftButton); // said by mistake
        QVERIFY(!revision().sent);
        settle();

        type("name", "Better");
        QTest::keyClick(edit("name"), Qt::Key_Return);
        QCOMPARE(revision().name, std::string("Better"));
        QCOMPARE(session.job().revisions.values()[2].parent, std::string("Better"));
        settle();
        QVERIFY(panel().drawing().chosen() == std::size_t{2} || panel().drawing().chosen() == std::size_t{1});
        choose(1);
        type("note", "pulls clean");
        QTest::keyClick(edit("note"), Qt::Key_Return);
        QCOMPARE(revision().note, std::string("pulls clean"));
        settle();
        choose(1);
        QTest::mouseClick(button("remove"), Qt::LeftButton);
        QCOMPARE(session.job().revisions.size(), std::size_t{2});
        QCOMPARE(session.job().revisions.values()[1].parent, std::string("One"));
        while (session.undoStack().canUndo())
            session.undo();
        QVERIFY(session.job().revisions.empty());
    }

    void anyTwoAreComparedInTables() {
        Session &session = m_window->session;
        keepThree(); // +2° at {4, 5} in Two, another 2° in Three
        open();
        choose(0);
        const QPoint second = panel().drawing().rectOf(1).center();
        QTest::mouseClick(&panel().drawing(), Qt::LeftButton, Qt::ShiftModifier, second);
        QVERIFY(panel().drawing().second() == std::size_t{1});
        QTest::mouseClick(button("compare"), Qt::LeftButton);
        QCOMPARE(m_window->shell.station(), QStringLiteral("tables"));
        QVERIFY(session.looksBack());
        QTest::qWait(20);
        TableTools &tools = *m_window->view<TablesView>("tables")->findChild<TableTools *>();
        const auto step = [&] {
            const auto of = tools.subject(TableSide::base);
            return (of ? *of : session.tableAt(TableSide::base)).cell(4, 5) -
                   tools.reference(TableSide::base)->cell(4, 5);
        };
        COMPARE_NEAR(step(), 2.0, 1e-12);
        // What is on the screen are not the numbers of now: nothing of them is edited.
        TableGrid *base = m_window->view<TablesView>("tables")->findChildren<TableGrid *>().front();
        base->setFocus();
        const Job before = session.job();
        for (const Qt::Key key : {Qt::Key_Plus, Qt::Key_Slash, Qt::Key_Space})
            QTest::keyClick(base, key);
        QVERIFY(!CellEditor(session).enterExpression(QStringLiteral("=14")));
        QVERIFY(CellEditor(session).pasteCells(QStringLiteral("7")) == CellEditor::PasteResult::refused);
        QVERIFY(session.job() == before);
        QVERIFY(m_window->shell.notice().sentence().contains(QStringLiteral("not the numbers of now")));
        QTest::keyClick(base, Qt::Key_D);
        QVERIFY(!session.looksBack() && !tools.reference(TableSide::base));
        QVERIFY(CellEditor(session).nudge(1));
        session.undo();

        // One alone is held against now, and now against what it was made from.
        settle();
        choose(0);
        QTest::keyClick(&panel().drawing(), Qt::Key_Return);
        QTest::qWait(20);
        COMPARE_NEAR(step(), 4.0, 1e-12);
        QVERIFY(!session.looksBack());
        choose(2);
        QTest::keyClick(&panel().drawing(), Qt::Key_Return);
        QTest::qWait(20);
        COMPARE_NEAR(step(), 2.0, 1e-12);
        // What is compared goes: the tables show themselves.
        choose(1);
        QTest::mouseClick(button("remove"), Qt::LeftButton);
        QTest::qWait(20);
        QVERIFY(!session.comparison() && !tools.reference(TableSide::base));
    }

    void keysChooseTwo() {
        keepThree();
        open();
        LineDrawing &line = panel().drawing();
        line.setFocus();
        QTest::keyClick(&line, Qt::Key_End);
        QVERIFY(line.chosen() == std::size_t{2});
        QTest::keyClick(&line, Qt::Key_Left, Qt::ShiftModifier);
        QVERIFY(line.chosen() == std::size_t{2} && line.second() == std::size_t{1});
        QTest::keyClick(&line, Qt::Key_Left, Qt::ShiftModifier);
        QVERIFY(line.second() == std::size_t{0});
        QTest::keyClick(&line, Qt::Key_Left);
        QVERIFY(line.chosen() == std::size_t{1} && !line.second());
        QTest::keyClick(&line, Qt::Key_Left, Qt::ShiftModifier);
        QTest::keyClick(&line, Qt::Key_Right, Qt::ShiftModifier); // over the chosen one
        QVERIFY(line.second() == std::size_t{2});
        line.copy();
        for (const char *word : {"One", "Two", "Three", "Spark, base: 1 cells, at most 2.00°"})
            QVERIFY2(QApplication::clipboard()->text().contains(QString::fromUtf8(word)), word);
        line.copyPicture();
        QVERIFY(!QApplication::clipboard()->pixmap().isNull());
    }

    void nothingOverlapsAndEverythingIsInItsColumn() {
        Session &session = m_window->session;
        keepThree();
        QVERIFY(session.perform(
            QStringLiteral("back"), [](Job &job) { job = takenBack(job, 0); }, std::nullopt));
        QVERIFY(session.perform(QStringLiteral("much"), [](Job &job) {
            for (const CalibratedQuantity q : allQuantities)
                for (Table2D *t : {&job.calibration.of(q).base, &job.calibration.of(q).top})
                    t->setCell({2, 2}, t->cell(2, 2) * 1.01);
        }));
        open();
        LineDrawing &line = panel().drawing();
        QCOMPARE(line.rectOf(3).isValid(), true);
        for (std::size_t i = 0; i < 4; ++i) {
            QVERIFY(line.rect().contains(line.rectOf(i)));
            QVERIFY(line.rectOf(i).contains(line.nodeOf(i).toPoint()));
            for (std::size_t k = 0; k < 2; ++k)
                if (const QRect map = line.mapOf(i, k); map.isValid()) {
                    QVERIFY(line.rectOf(i).contains(map));
                    QVERIFY(map.top() > line.nodeOf(i).y() + 10);
                    if (k == 1) QVERIFY(!map.intersects(line.mapOf(i, 0)));
                }
            if (i > 0) QVERIFY(!line.rectOf(i).intersects(line.rectOf(i - 1)));
        }
        QVERIFY(line.nodeOf(1).y() < line.nodeOf(0).y()); // left for the first: above the line
        QCOMPARE(line.nodeOf(3).y(), line.nodeOf(0).y());
        QVERIFY(line.mapOf(3, 1).isValid() && !line.mapOf(3, 2).isValid());
        // The step is seen in the map, in the hue of more.
        const QImage picture = line.grab().toImage();
        const QRect map = line.mapOf(1, 0);
        const Table2D &spark = session.job().calibration.of(CalibratedQuantity::spark).base;
        const QPoint at(
            map.left() + static_cast<int>(4.5 * map.width() / static_cast<double>(spark.x().size())),
            map.top() + static_cast<int>(5.5 * map.height() / static_cast<double>(spark.y().size())));
        const QColor seen = picture.pixelColor(at), more = theme().difference(1);
        QVERIFY2(std::abs(seen.red() - more.red()) + std::abs(seen.green() - more.green()) +
                         std::abs(seen.blue() - more.blue()) <
                     24,
                 qPrintable(seen.name()));
        QVERIFY(picture.pixelColor(map.center() + QPoint(20, 15)) != more);
        for (const QSize &size : {QSize(1024, 700), QSize(1280, 800), QSize(2560, 1440)}) {
            m_window->shell.resize(size);
            QTest::qWait(20);
            for (const char *name :
                 {"keep", "compare", "takeBack", "remove", "sent", "cameBack", "released"}) {
                QWidget *b = button(name);
                const QRect at2(b->mapTo(&m_window->shell, QPoint(0, 0)), b->size());
                QVERIFY2(m_window->shell.rect().contains(at2), name);
                QVERIFY2(b->width() >= b->sizeHint().width(), name);
            }
            QVERIFY(panel().y() > 0); // the station is still seen above it
        }
    }

    void finderAndLinksLeadHere() {
        keepThree();
        m_window->shell.showPlace(QStringLiteral("revision:Two"));
        settle();
        QVERIFY(panel().isVisible() && panel().drawing().chosen() == std::size_t{1});
        QSignalSpy wanted(&panel(), &LinePanel::placeWanted);
        emit panel().findChild<ReportView *>()->linkWanted(QStringLiteral("calibration.spark.base"));
        QCOMPARE(wanted.count(), 1);
        QCOMPARE(m_window->shell.station(), QStringLiteral("tables"));
        QCOMPARE(m_window->session.quantity(), CalibratedQuantity::spark);
        m_window->session.closeJob();
        QVERIFY(!panel().isVisible());
        press(Qt::Key_R, Qt::ControlModifier);
        QVERIFY(!panel().isVisible());
    }

  private:
    LinePanel &panel() { return m_window->shell.line(); }
    QPushButton *button(const char *name) { return panel().findChild<QPushButton *>(QLatin1String(name)); }
    QLineEdit *edit(const char *name) { return panel().findChild<QLineEdit *>(QLatin1String(name)); }
    QString words() { return panel().findChild<ReportView *>()->words(); }
    void press(Qt::Key key, Qt::KeyboardModifiers with) {
        QTest::keyClick(&m_window->shell, key, with);
        QTest::qWait(1);
        settle();
    }
    void type(const char *name, const char *text) {
        edit(name)->setFocus();
        edit(name)->selectAll();
        QTest::keyClicks(edit(name), QString::fromLatin1(text));
    }
    void settle() {
        for (int i = 0; i < 500; ++i) {
            QTest::qWait(4);
            if (!panel().isVisible() || panel().isCurrent()) {
                QTest::qWait(20);
                return;
            }
        }
        QFAIL("the line was not drawn");
    }
    void open() {
        panel().open();
        settle();
    }
    void choose(std::size_t mark) {
        QTest::mouseClick(&panel().drawing(), Qt::LeftButton, {}, panel().drawing().rectOf(mark).center());
        QVERIFY(panel().drawing().chosen() == mark);
    }
    void keepThree() {
        Session &session = m_window->session;
        session.setQuantity(CalibratedQuantity::spark);
        session.setSide(TableSide::base);
        session.setCell({4, 5});
        for (const char *name : {"One", "Two", "Three"}) {
            if (std::string(name) != "One") QVERIFY(CellEditor(session).nudge(4));
            QVERIFY(session.perform(QStringLiteral("keep"), [&](Job &job) {
                keepRevision(job, name, "2001-02-03T04:05:06Z", "", false);
            }));
        }
    }

    std::unique_ptr<TestWindow> m_window;
};

int main(int argc, char **argv) {
    QApplication app(argc, argv);
    return wheelwright::testing::run<LinePanelTest>(argc, argv);
}
#include "line_panel_test.moc"
