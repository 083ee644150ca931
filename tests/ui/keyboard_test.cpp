// SPDX-License-Identifier: GPL-3.0-or-later
// Without a mouse through what the product is for: from a new job to the hand-over, each step by keys alone,
// at whatever has them.
#include "core/tables/table2d.h"
#include "session/run_book.h"
#include "support/test_window.h"
#include "ui/language.h"
#include "ui/text.h"
#include "ui/views/evidence/time_strip.h"
#include "ui/views/fuel/opinion_strip.h"
#include "ui/views/fuel/pour_drawing.h"
#include "ui/views/handover/page_sheet.h"
#include "ui/views/ladder/ladder_drawing.h"
#include "ui/views/ladder/preflight_list.h"
#include "ui/views/tables/table_grid.h"
#include "ui/views/verify/margin_board.h"
#include "ui/views/verify/question_strip.h"
#include "ui/widgets/content_ruler.h"
#include "ui/widgets/copy_table.h"

#include <QDialog>
#include <QFileDialog>
#include <QTimer>

using namespace wheelwright;
using namespace wheelwright::testing;

void wheelwrightResources() {
    Q_INIT_RESOURCE(resources);
}

namespace {

void press(Qt::Key key, Qt::KeyboardModifiers with = Qt::NoModifier) {
    QWidget *at = QApplication::focusWidget();
    QTest::keyClick(at ? at : QApplication::activeWindow(), key, with);
    settle();
}

void type(const QString &words) {
    QTest::keyClicks(QApplication::focusWidget(), words);
    settle();
}

// Tab, until something of that kind has the keys.
template <class W>
W *tabTo(const std::function<bool(const W &)> &wanted = [](const W &) { return true; }) {
    constexpr int most = 400;
    for (int i = 0; i < most; ++i) {
        if (auto *w = qobject_cast<W *>(QApplication::focusWidget()); w && wanted(*w)) return w;
        press(Qt::Key_Tab);
    }
    return nullptr;
}

template <class W>
W *tabToNamed(const QString &name) {
    return tabTo<W>([&](const W &w) { return w.accessibleName() == name || w.objectName() == name; });
}

} // namespace

class KeyboardTest : public QObject {
    Q_OBJECT
  private slots:
    void initTestCase() { dressApplication(); }
    void init() { m_window = std::make_unique<TestWindow>(); }
    void cleanup() { m_window.reset(); }

    void aNewJob() {
        const QString path = m_window->path("typed.wwjob");
        // Dialogs wait for keys of their own.
        QTimer keys;
        bool named = false;
        connect(&keys, &QTimer::timeout, this, [&] {
            QWidget *dialog = QApplication::activeModalWidget();
            if (auto *file = qobject_cast<QFileDialog *>(dialog)) {
                auto *name = file->findChild<QLineEdit *>();
                if (name->text() != path) {
                    name->selectAll();
                    QTest::keyClicks(name, path);
                }
                QTest::keyClick(name, Qt::Key_Return); // the first may go to the list of what fits
            } else if (dialog && !named && dialog->focusWidget()) {
                named = true;
                QTest::keyClicks(dialog->focusWidget(), QStringLiteral("Teasel"));
                QTest::keyClick(dialog->focusWidget(), Qt::Key_Return);
            }
        });
        constexpr int often = 50;
        keys.start(often);
        press(Qt::Key_N, Qt::ControlModifier);
        QVERIFY(m_window->session.hasJob());
        QCOMPARE(m_window->session.job().name, std::string("Teasel"));
        QVERIFY(QFileInfo::exists(path));
    }

    // The owner at the pump: how full, and which plan.
    void whatToPour() {
        open();
        press(Qt::Key_2, Qt::AltModifier);
        QVERIFY(tabToNamed<QLineEdit>(QStringLiteral("Wanted level in litres")));
        type(QStringLiteral("45"));
        auto *plans = tabTo<PourDrawing>();
        QVERIFY(plans && plans->count() >= 2);
        press(Qt::Key_Down);
        QCOMPARE(plans->chosen(), std::size_t{1});
        // Whom to believe: the row of the tube, and its working.
        QVERIFY(tabTo<OpinionStrip>());
        press(Qt::Key_Down);
        press(Qt::Key_Down);
        press(Qt::Key_Return);
        QVERIFY(worked());
        const std::size_t events = m_window->session.job().tankEvents.size();
        QVERIFY(tabToNamed<QPushButton>(QStringLiteral("Believe: The tube")));
        press(Qt::Key_Space);
        QCOMPARE(m_window->session.job().tankEvents.size(), events + 1);
        press(Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(m_window->session.job().tankEvents.size(), events);
    }

    void aCellOfATable() {
        open();
        Session &session = m_window->session;
        press(Qt::Key_4, Qt::AltModifier);
        auto *top = tabTo<TableGrid>([](const TableGrid &g) { return g.side() == TableSide::top; });
        QVERIFY(top);
        press(Qt::Key_Home, Qt::ControlModifier);
        press(Qt::Key_Right);
        press(Qt::Key_Down);
        QCOMPARE(session.cell(), (CellIndex{1, 1}));
        const double was = session.tableAt(TableSide::top).cell(1, 1);
        press(Qt::Key_1);
        type(QStringLiteral("3.5"));
        press(Qt::Key_Return);
        COMPARE_NEAR(session.tableAt(TableSide::top).cell(1, 1), 13.5, 1e-12);
        press(Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(session.tableAt(TableSide::top).cell(1, 1), was);
    }

    // From the ruler's notch, and from the board, to the cell that fails.
    void whereItFails() {
        open();
        Session &session = m_window->session;
        press(Qt::Key_9, Qt::AltModifier);
        auto *questions = tabTo<QuestionStrip>();
        QVERIFY(questions);
        press(Qt::Key_Right);
        auto *board = tabTo<MarginBoard>();
        QVERIFY(board);
        while (board->row() > 0)
            press(Qt::Key_Up);
        press(Qt::Key_Down);
        QCOMPARE(board->row(), std::size_t{1});
        press(Qt::Key_Return);
        QCOMPARE(m_window->shell.station(), QStringLiteral("tables"));
        press(Qt::Key_9, Qt::AltModifier);
        auto *ruler = tabTo<ContentRuler>();
        QVERIFY(ruler);
        press(Qt::Key_End);
        COMPARE_NEAR(session.content(), 1, 1e-9);
        press(Qt::Key_Left);
        COMPARE_NEAR(session.content(), 0.99, 1e-9);
        press(Qt::Key_PageDown);
        COMPARE_NEAR(session.content(), 0.94, 1e-9); // the demo fails there
        session.explainNothing();
        press(Qt::Key_Return);
        QVERIFY(worked());
        QVERIFY(m_window->shell.station() == QStringLiteral("tables") ||
                m_window->shell.station() == QStringLiteral("verify"));
    }

    void theNextRung() {
        open();
        press(Qt::Key_5, Qt::AltModifier);
        LadderDrawing *drawing = nullptr;
        QTRY_VERIFY(
            m_window->shell.view(QStringLiteral("ladder"))->findChild<LadderDrawing *>()->partCount() > 3);
        drawing = tabTo<LadderDrawing>();
        QVERIFY(drawing);
        const std::string next = drawing->chosen();
        press(Qt::Key_Up);
        QVERIFY(drawing->chosen() != next);
        press(Qt::Key_Down);
        QCOMPARE(drawing->chosen(), next);
        auto *list = tabTo<PreflightList>();
        QVERIFY(list);
        const auto looked = [&] { return m_window->session.job().ladderLooks.size(); };
        const std::size_t before = looked();
        press(Qt::Key_Home);
        press(Qt::Key_Space);
        QCOMPARE(looked(), before + 1);
        press(Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(looked(), before);
    }

    void aLogIsRead() {
        open();
        Session &session = m_window->session;
        press(Qt::Key_7, Qt::AltModifier);
        auto *strip = tabTo<TimeStrip>();
        QVERIFY(strip);
        const double at = session.evidence().momentS(), seen = strip->toS() - strip->fromS();
        press(Qt::Key_Plus);
        QVERIFY(strip->toS() - strip->fromS() < seen);
        press(Qt::Key_Right);
        QVERIFY(session.evidence().momentS() > at);
        press(Qt::Key_Return);
        QCOMPARE(m_window->shell.station(), QStringLiteral("tables"));
    }

    // Which runs came before and which after.
    void runsAreHeldAgainstEachOther() {
        m_window->openWithLog(QStringLiteral(SOURCE_DIR "/data/demo/logs/thistle-e62-pulls.csv"),
                              {{SOURCE_DIR "/data/demo/runs/thistle-01-e10-baseline.csv", {}, {}, {}},
                               {SOURCE_DIR "/data/demo/runs/thistle-04-e41-pulls.csv", {}, {}, {}}});
        press(Qt::Key_8, Qt::AltModifier);
        QVERIFY(tabToNamed<CopyTable>(QStringLiteral("runTable")));
        RunBook &book = m_window->session.runBook();
        press(Qt::Key_Home, Qt::ControlModifier);
        press(Qt::Key_N);
        const std::size_t before = book.chosen(RunBook::Side::before).size();
        press(Qt::Key_B);
        QCOMPARE(book.chosen(RunBook::Side::before).size(), before + 1);
        press(Qt::Key_A);
        QCOMPARE(book.chosen(RunBook::Side::before).size(), before);
    }

    void theHandOver() {
        open();
        press(Qt::Key_0, Qt::AltModifier);
        auto *view = m_window->shell.view(QStringLiteral("handover"));
        QTRY_VERIFY_WITH_TIMEOUT(view->findChild<PageSheet *>(), 20000);
        auto *page = tabTo<PageSheet>([](const PageSheet &p) { return !p.page().links.empty(); });
        QVERIFY(page);
        m_window->session.explainNothing();
        press(Qt::Key_Right);
        press(Qt::Key_Return);
        QVERIFY(worked());
    }

    // Anything by its name, help on where one is, and out again.
    void anythingByItsName() {
        open();
        press(Qt::Key_K, Qt::ControlModifier);
        type(QStringLiteral("quarter tank unknown"));
        press(Qt::Key_Return);
        QTRY_VERIFY(QApplication::activeWindow() &&
                    QApplication::activeWindow()->objectName() == QStringLiteral("help"));
        press(Qt::Key_Escape);
        QTRY_VERIFY(!m_window->shell.findChild<QDialog *>(QStringLiteral("help"))->isVisible());
        m_window->shell.activateWindow(); // which a window manager does
        QVERIFY(QTest::qWaitForWindowActive(&m_window->shell));
        press(Qt::Key_R, Qt::ControlModifier);
        QVERIFY(m_window->shell.findChild<QWidget *>(QStringLiteral("lineOfWork"))->isVisible());
        press(Qt::Key_Escape);
        QVERIFY(!m_window->shell.findChild<QWidget *>(QStringLiteral("lineOfWork"))->isVisible());
    }

  private:
    bool worked() const { return m_window->session.explanation().has_value(); }
    void open() {
        m_window->openWithLog(QStringLiteral(SOURCE_DIR "/data/demo/logs/thistle-e62-pulls.csv"),
                              {{SOURCE_DIR "/data/demo/runs/thistle-01-e10-baseline.csv", {}, {}, {}}});
    }
    std::unique_ptr<TestWindow> m_window;
};

int main(int argc, char **argv) {
    QApplication app(argc, argv);
    return run<KeyboardTest>(argc, argv);
}
#include "keyboard_test.moc"
