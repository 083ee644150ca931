// SPDX-License-Identifier: GPL-3.0-or-later
// The hand-over in the window: what is typed stands on the page, what is saved can be checked.
#include "core/base/error.h"
#include "core/job/revision.h"
#include "pages/seal.h"
#include "session/cell_editor.h"
#include "support/test_window.h"
#include "ui/text.h"
#include "ui/views/handover/handover_view.h"
#include "ui/widgets/field_form.h"

#include <QClipboard>
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QScrollArea>

using namespace wheelwright;
using namespace wheelwright::testing;

void wheelwrightResources() {
    Q_INIT_RESOURCE(resources);
}

class HandoverViewTest : public QObject {
    Q_OBJECT
  private slots:
    void initTestCase() { dressApplication(); }
    void init() { m_window = std::make_unique<TestWindow>(); }
    void cleanup() { m_window.reset(); }

    void pagesAreShownAsTheyArePrinted() {
        open("thistle");
        QVERIFY(view()->pages() >= 10);
        const auto labels = view()->findChild<QScrollArea *>()->widget()->findChildren<QLabel *>();
        QCOMPARE(static_cast<int>(labels.size()), view()->pages());
        for (const QLabel *l : labels)
            QVERIFY(!l->pixmap(Qt::ReturnByValue).isNull() && !l->accessibleName().isEmpty());
        // Letter is wider for its height, so that other pages come of it.
        const QSize a4 = labels.front()->pixmap(Qt::ReturnByValue).size();
        auto *paper = view()->findChild<QComboBox *>();
        paper->setFocus();
        QTest::keyClick(paper, Qt::Key_Down);
        QVERIFY(ready());
        const QSize letter = view()
                                 ->findChild<QScrollArea *>()
                                 ->widget()
                                 ->findChildren<QLabel *>()
                                 .front()
                                 ->pixmap(Qt::ReturnByValue)
                                 .size();
        QVERIFY(letter.height() * a4.width() < a4.height() * letter.width());
    }

    void whatIsTypedStandsOnIt() {
        open("thistle");
        m_window->shell.showPlace(QStringLiteral("handover.call"));
        auto *call = qobject_cast<QLineEdit *>(m_window->shell.focusWidget());
        QVERIFY(call);
        QTest::keyClicks(call, QStringLiteral("The workshop, 555 0100"));
        QTest::keyClick(call, Qt::Key_Return);
        QVERIFY(ready());
        QVERIFY(textOf(view()->report()).contains(QStringLiteral("Call The workshop, 555 0100")));
        m_window->session.undo();
        QVERIFY(ready());
        QVERIFY(textOf(view()->report()).contains(QStringLiteral("Nobody is named to call.")));
    }

    void whatIsSavedCanBeChecked() {
        open("thistle");
        const std::string now = calibrationPrint(stateOf(m_window->session.job()));
        for (const char *name : {"a.pdf", "a.html"}) {
            view()->saveTo(m_window->path(name));
            QFile file(m_window->path(name));
            QVERIFY(file.open(QIODevice::ReadOnly));
            const auto seal = sealOf(file.readAll().toStdString());
            QVERIFY(seal && seal->intact);
            QCOMPARE(seal->calibration, now);
        }
        EXPECT_INPUT_ERROR(view()->saveTo(m_window->path("none/a.pdf")), "a.pdf");
        // Never over a job.
        EXPECT_INPUT_ERROR(view()->saveTo(QString::fromStdString(m_window->session.path().string())), "job");
    }

    void theCardIsCopied() {
        open("thistle");
        QTest::mouseClick(view()->findChild<QPushButton *>(QStringLiteral("copyCard")), Qt::LeftButton);
        QVERIFY(QApplication::clipboard()->text().contains(QStringLiteral("In it now")));
    }

    void anEditIsNeverHandedOverUnseen() {
        open("thistle");
        const std::string before = textOf(view()->report()).toStdString();
        m_window->session.setSide(TableSide::base);
        QVERIFY(CellEditor(m_window->session).nudge(-3));
        // Until the new pages are there, nothing can be saved or printed.
        QTRY_VERIFY(!view()->findChild<QPushButton *>(QStringLiteral("saveHandover"))->isEnabled());
        QVERIFY(ready());
        QVERIFY(textOf(view()->report()).toStdString() != before);
    }

    void everyKindOfEngineHasOne() {
        for (const char *name : {"moorhen", "bramble"}) {
            m_window = std::make_unique<TestWindow>();
            open(name);
            QVERIFY(view()->pages() >= 8);
        }
    }

  private:
    HandoverView *view() { return m_window->view<HandoverView>("handover"); }
    void open(const char *name) {
        m_window->open(demoFile(name));
        view();
        QVERIFY(ready());
    }
    bool ready() {
        for (int i = 0; i < 3000; ++i) {
            QTest::qWait(10);
            if (!m_window->session.verdictPending() && !view()->work().running() && i > 3) return true;
        }
        return false;
    }
    static QString textOf(const Report &report) { return text(plainText(report, {})); }
    std::unique_ptr<TestWindow> m_window;
};

int main(int argc, char **argv) {
    QApplication app(argc, argv);
    return run<HandoverViewTest>(argc, argv);
}
#include "handover_view_test.moc"
