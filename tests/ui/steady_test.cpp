// SPDX-License-Identifier: GPL-3.0-or-later
#include "support/test_window.h"
#include "ui/new_job_dialog.h"
#include "ui/views/evidence/coverage_page.h"
#include "ui/views/flow/injector_change_dialog.h"
#include "ui/views/tables/calibration_dialogs.h"
#include "ui/views/tables/regrid_dialog.h"
#include "ui/views/tables/table_grid.h"
#include "ui/views/tables/tables_view.h"
#include "ui/views/view.h"
#include "ui/widgets/fit_dialog.h"
#include "ui/widgets/page_switch.h"

#include <QAbstractSpinBox>
#include <QComboBox>
#include <QLineEdit>
#include <QScrollArea>
#include <QScrollBar>

void wheelwrightResources() {
    Q_INIT_RESOURCE(resources);
}

using namespace wheelwright;
using namespace wheelwright::testing;

namespace {

// Every check that can be made to speak does: the verdict is as long as it gets.
Job troubled(Job job) {
    job.name = "A job of a much longer name than the first one had";
    for (const char *stop : {"flow.duty.stop", "flow.duty.caution"})
        job.limits[stop] = 0.3;
    job.limits["flow.min_pulse.room"] = 5;
    job.conditions.intakeColdestC = -30;
    job.sparkDelivery.baseTimingErrorDeg = 12;
    for (CellIndex i : {CellIndex{3, 3}, CellIndex{9, 9}, CellIndex{12, 20}})
        job.calibration.of(CalibratedQuantity::spark).top.setCell(i, -15);
    job.calibration.of(CalibratedQuantity::lambda).base =
        Table2D::uniform(job.calibration.of(CalibratedQuantity::lambda).base.x(),
                         job.calibration.of(CalibratedQuantity::lambda).base.y(), 1.4);
    return job;
}

bool isInput(const QWidget *w) {
    return qobject_cast<const QLineEdit *>(w) || qobject_cast<const QComboBox *>(w) ||
           qobject_cast<const QAbstractButton *>(w) || qobject_cast<const QAbstractSpinBox *>(w) ||
           qobject_cast<const TableGrid *>(w) || qobject_cast<const CoverageMap *>(w);
}

QString nameOf(const QWidget *w) {
    const auto *button = qobject_cast<const QAbstractButton *>(w);
    return QLatin1String(w->metaObject()->className()) + u' ' + w->objectName() + u' ' + w->accessibleName() +
           u' ' + (button ? button->text() : QString());
}

} // namespace

/// The window while it is used: nothing moves under the mouse, and nothing is out of reach on a small screen.
class SteadyTest : public QObject {
    Q_OBJECT
  private slots:
    void initTestCase() { dressApplication(); }
    void init() {
        m_window = std::make_unique<TestWindow>();
        m_window->openWithLog(QStringLiteral(SOURCE_DIR "/data/demo/logs/thistle-e62-pump.csv"),
                              {{SOURCE_DIR "/data/demo/runs/thistle-01-e10-baseline.csv", {}, {}, {}}});
    }
    void cleanup() { m_window.reset(); }
    void cleanupTestCase() { QVERIFY2(QApplication::topLevelWidgets().isEmpty(), "a window was leaked"); }

    void aPauseEndsTheNudge();
    void nothingMovesUnderTheMouse();
    void aClickMeantForAFieldHitsIt();
    void smallWindowsScroll_data();
    void smallWindowsScroll();
    void stationsBeginAtTheirTop();
    void usualWindowsDoNot();
    void dialogsFitTheScreen();

  private:
    // Each page of each station once.
    void eachPage(const std::function<void(const QString &, QWidget *)> &look);
    void waitForTheVerdict() {
        QTest::qWait(1);
        QTRY_VERIFY_WITH_TIMEOUT(!m_window->session.verdictPending(), 20000);
        QApplication::processEvents();
    }
    std::unique_ptr<TestWindow> m_window;
};

void SteadyTest::eachPage(const std::function<void(const QString &, QWidget *)> &look) {
    for (const ViewDefinition *v : allViews()) {
        auto *view = m_window->view<View>(v->id);
        auto *pages = view->findChild<PageSwitch *>();
        if (!pages) {
            QApplication::processEvents();
            look(QLatin1String(v->id), view);
            continue;
        }
        for (QWidget *page : pages->pages()) {
            pages->showPage(page);
            QApplication::processEvents();
            look(QLatin1String(v->id) + u'/' + QLatin1String(page->metaObject()->className()), page);
        }
    }
}

void SteadyTest::aPauseEndsTheNudge() {
    Session &session = m_window->session;
    auto *view = m_window->view<TablesView>("tables");
    TableGrid *top = nullptr;
    for (TableGrid *g : view->findChildren<TableGrid *>())
        if (g->side() == TableSide::top) top = g;
    top->setFocus();
    const auto value = [&] { return session.frontTable().cell(session.cell()); };
    const double before = value();
    auto type = [&](int pauseMs) {
        QTest::keyClick(top, Qt::Key_Plus);
        QTest::qWait(pauseMs);
        QTest::keyClicks(top, QStringLiteral("2"));
        auto *entry = top->findChild<QLineEdit *>();
        QTest::keyClicks(entry, QStringLiteral("0"));
        const QString typed = entry->text();
        QTest::keyClick(entry, Qt::Key_Return);
        return typed;
    };
    QCOMPARE(type(0), QStringLiteral("+20")); // one motion
    COMPARE_NEAR(value(), before + 20, 1e-12);
    session.undo();
    COMPARE_NEAR(value(), before, 1e-12);
    QCOMPARE(type(1300), QStringLiteral("20"));
    COMPARE_NEAR(value(), 20, 1e-12);
    session.undo();
    COMPARE_NEAR(value(), before + 0.5, 1e-12); // the nudge stays a nudge
    session.undo();
    COMPARE_NEAR(value(), before, 1e-12);
}

void SteadyTest::nothingMovesUnderTheMouse() {
    Session &session = m_window->session;
    std::map<QString, std::map<QWidget *, QPoint>> where;
    const auto places = [&](QWidget *page) {
        std::map<QWidget *, QPoint> out;
        for (QWidget *w : page->findChildren<QWidget *>())
            if (isInput(w) && w->isVisible()) out[w] = w->mapToGlobal(QPoint(0, 0));
        return out;
    };
    eachPage([&](const QString &name, QWidget *page) { where[name] = places(page); });
    const Job sound = session.job();
    for (const bool worse : {true, false}) {
        QVERIFY(session.perform(
            QStringLiteral("change"), [&](Job &job) { job = worse ? troubled(sound) : sound; },
            std::nullopt));
        waitForTheVerdict();
        eachPage([&](const QString &name, QWidget *page) {
            const auto now = places(page);
            for (const auto &[widget, at] : where[name]) {
                const auto same = now.find(widget);
                if (same == now.end()) continue; // a row that went away with its record
                QVERIFY2(same->second.y() == at.y(), qPrintable(QStringLiteral("%1: %2 moved by %3")
                                                                    .arg(name, nameOf(widget))
                                                                    .arg(same->second.y() - at.y())));
            }
            QVERIFY2(!where[name].empty(), qPrintable(name));
        });
    }
}

// What broke: the verdict gained a line between press and click, and a click aimed at a field hit the one
// above.
void SteadyTest::aClickMeantForAFieldHitsIt() {
    auto *view = m_window->view<View>("job");
    QLineEdit *capacity = nullptr;
    for (QLineEdit *e : view->findChildren<QLineEdit *>())
        if (e->accessibleName() == QStringLiteral("Tank, brim full")) capacity = e;
    QVERIFY(capacity);
    QApplication::processEvents();
    const QPoint aimed = capacity->mapTo(&m_window->shell, capacity->rect().center());
    m_window->session.perform(
        QStringLiteral("change"), [](Job &job) { job = troubled(job); }, std::nullopt);
    waitForTheVerdict();
    QCOMPARE(m_window->shell.childAt(aimed), static_cast<QWidget *>(capacity));
}

void SteadyTest::smallWindowsScroll_data() {
    QTest::addColumn<QSize>("size");
    QTest::newRow("a small screen") << QSize(480, 320);
    QTest::newRow("1280 × 800 at 200 %") << QSize(640, 400);
}

void SteadyTest::smallWindowsScroll() {
    QFETCH(QSize, size);
    m_window->shell.resize(size);
    auto *scroll = m_window->shell.findChild<QScrollArea *>(QStringLiteral("content"));
    QVERIFY(scroll);
    eachPage([&](const QString &name, QWidget *page) {
        QCOMPARE(m_window->shell.size(), size);
        const QSize content = scroll->widget()->size(), room = scroll->viewport()->size();
        QVERIFY2(content.width() >= scroll->widget()->minimumSizeHint().width() &&
                     content.height() >= scroll->widget()->minimumSizeHint().height(),
                 qPrintable(name));
        QCOMPARE(scroll->horizontalScrollBar()->maximum(), content.width() - room.width());
        QCOMPARE(scroll->verticalScrollBar()->maximum(), content.height() - room.height());
        // Every control lies inside the content, or inside a scroll area of its own.
        for (QWidget *w : page->findChildren<QWidget *>()) {
            if (!isInput(w) || !w->isVisible()) continue;
            bool own = false;
            for (QWidget *p = w->parentWidget(); p && p != scroll->widget(); p = p->parentWidget())
                own |= qobject_cast<QAbstractScrollArea *>(p) != nullptr;
            const QRect place(w->mapTo(scroll->widget(), QPoint(0, 0)), w->size());
            QVERIFY2(own || scroll->widget()->rect().contains(place), qPrintable(name + u' ' + nameOf(w)));
        }
    });
}

void SteadyTest::stationsBeginAtTheirTop() {
    m_window->shell.resize(480, 320);
    auto *scroll = m_window->shell.findChild<QScrollArea *>(QStringLiteral("content"));
    m_window->shell.showStation(QStringLiteral("fuel"));
    settle();
    m_window->shell.view(QStringLiteral("fuel"))
        ->findChild<QLineEdit *>()
        ->setFocus(); // goes with the station, and the keys go on elsewhere
    for (QScrollBar *bar : {scroll->horizontalScrollBar(), scroll->verticalScrollBar()}) {
        QVERIFY(bar->maximum() > 0);
        bar->setValue(bar->maximum());
    }
    m_window->shell.showStation(QStringLiteral("verify"));
    settle();
    QCOMPARE(QPoint(scroll->horizontalScrollBar()->value(), scroll->verticalScrollBar()->value()),
             QPoint(0, 0));
}

void SteadyTest::usualWindowsDoNot() {
    for (const QSize size : {QSize(1280, 800), QSize(1024, 700), QSize(2560, 1440)}) {
        m_window->shell.resize(size);
        auto *scroll = m_window->shell.findChild<QScrollArea *>(QStringLiteral("content"));
        eachPage([&](const QString &name, QWidget *) {
            QVERIFY2(!scroll->horizontalScrollBar()->isVisible() && !scroll->verticalScrollBar()->isVisible(),
                     qPrintable(QStringLiteral("%1 needs %2 × %3 of %4 × %5")
                                    .arg(name)
                                    .arg(scroll->widget()->minimumSizeHint().width())
                                    .arg(scroll->widget()->minimumSizeHint().height())
                                    .arg(size.width())
                                    .arg(size.height())));
        });
    }
}

void SteadyTest::dialogsFitTheScreen() {
    Session &session = m_window->session;
    const std::vector<std::function<QDialog *()>> all{
        [&]() -> QDialog * { return new NewJobDialog(session); },
        [&]() -> QDialog * { return new ConvertDialog(session); },
        [&]() -> QDialog * { return new RegridDialog(session); },
        [&]() -> QDialog * { return new InjectorChangeDialog(session); }};
    for (const QSize room : {QSize(480, 320), QSize(640, 400), QSize(3000, 2000)})
        for (const auto &make : all) {
            const std::unique_ptr<QDialog> dialog(make());
            const char *name = dialog->metaObject()->className();
            const QSize needed = dialog->minimumSizeHint().expandedTo(dialog->minimumSize());
            fitDialog(*dialog, room);
            fitDialog(*dialog, room); // once is enough
            dialog->show();
            QApplication::processEvents();
            const bool large = room.width() < needed.width() || room.height() < needed.height();
            QVERIFY2(dialog->width() <= room.width() && dialog->height() <= room.height(), name);
            auto *scroll = qobject_cast<QScrollArea *>(dialog->layout()->itemAt(0)->widget());
            QVERIFY2(!large || (scroll && scroll->widget()->width() >= needed.width() &&
                                scroll->widget()->height() >= needed.height()),
                     name);
            if (large)
                QVERIFY2(scroll->verticalScrollBar()->maximum() > 0 ||
                             scroll->horizontalScrollBar()->maximum() > 0,
                         name);
        }
}

int main(int argc, char **argv) {
    QApplication app(argc, argv);
    return wheelwright::testing::run<SteadyTest>(argc, argv);
}
#include "steady_test.moc"
