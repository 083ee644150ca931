// SPDX-License-Identifier: GPL-3.0-or-later
// The hand-over in the window: what is typed stands on the page, what is saved can be checked.
#include "core/base/error.h"
#include "core/job/revision.h"
#include "pages/seal.h"
#include "session/cell_editor.h"
#include "support/test_window.h"
#include "ui/text.h"
#include "ui/views/handover/handover_view.h"
#include "ui/views/handover/page_sheet.h"
#include "ui/widgets/field_form.h"
#include "ui/widgets/photo_strip.h"

#include <QClipboard>
#include <QComboBox>
#include <QLineEdit>
#include <QPushButton>
#include <QSignalSpy>

#include <algorithm>

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
        for (const PageSheet *s : view()->sheets())
            QVERIFY(!s->page().picture.isNull() && !s->accessibleName().isEmpty() &&
                    !s->accessibleDescription().isEmpty());
        // Letter is wider for its height, so that other pages come of it.
        const QSize a4 = view()->sheets().front()->page().picture.size();
        auto *paper = view()->findChild<QComboBox *>();
        paper->setFocus();
        QTest::keyClick(paper, Qt::Key_Down);
        QVERIFY(ready());
        const QSize letter = view()->sheets().front()->page().picture.size();
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
            QVERIFY(view()->saving().running()); // the window goes on meanwhile
            QVERIFY(saved());
            QFile file(m_window->path(name));
            QVERIFY(file.open(QIODevice::ReadOnly));
            const auto seal = sealOf(file.readAll().toStdString());
            QVERIFY(seal && seal->intact);
            QCOMPARE(seal->calibration, now);
        }
        QSignalSpy problems(&m_window->session, &Session::problem);
        view()->saveTo(m_window->path("none/a.pdf"));
        QVERIFY(saved());
        QCOMPARE(problems.size(), 1);
        QVERIFY(problems[0][0].toString().contains(QStringLiteral("a.pdf")));
        // Never over a job.
        view()->saveTo(QString::fromStdString(m_window->session.path().string()));
        QVERIFY(saved());
        QCOMPARE(problems.size(), 2);
        QVERIFY(problems[1][0].toString().contains(QStringLiteral("job")));
        // What was stopped has written nothing.
        view()->saveTo(m_window->path("late.pdf"));
        view()->stopSaving();
        QTest::qWait(2000);
        QVERIFY(!QFile::exists(m_window->path("late.pdf")));
    }

    // On a large screen the pages grow and what stands beside them does not; no page is wider than its place.
    void pagesAreAsWideAsThereIsRoom() {
        open("thistle");
        const auto width = [this] { return view()->sheets().front()->width(); };
        const auto room = [this] { return view()->findChild<QScrollArea *>()->viewport()->width(); };
        QTRY_VERIFY(width() >= 596 && width() <= room());
        // What logs say draws the pages anew by itself: only what comes after it is drawn because of the
        // room.
        const auto *save = view()->findChild<QPushButton *>(QStringLiteral("saveHandover"));
        QTRY_VERIFY_WITH_TIMEOUT(save->isEnabled(), 20000);
        m_window->shell.resize(2560, 1440);
        QTRY_VERIFY_WITH_TIMEOUT(std::abs(width() - 900) <= 1, 20000); // of whole dots
        for (const PageSheet *sheet : view()->sheets())
            QTRY_COMPARE(sheet->size(), sheet->sizeHint());
        QVERIFY(view()->findChild<QPushButton *>(QStringLiteral("saveHandover"))->width() <= 360);
        m_window->shell.resize(1600, 900);
        QTRY_VERIFY_WITH_TIMEOUT(width() < 900 && width() <= room(), 20000);
        for (const PageSheet *sheet : view()->sheets()) // drawn so, not squeezed
            QTRY_COMPARE_WITH_TIMEOUT(sheet->size(), sheet->sizeHint(), 20000);
    }

    void numbersAnswerByMouseAndByKeys() {
        open("thistle");
        PageSheet &owner = *view()->sheets().front();
        for (const PageSheet *sheet : view()->sheets()) // laid out as large as they were made
            QTRY_COMPARE(sheet->size(), sheet->sizeHint());
        const auto &links = owner.page().links;
        QVERIFY(links.size() > 20);
        // Every one leads to a working, or to a place of the job.
        for (const PageSheet *sheet : view()->sheets())
            for (const auto &link : sheet->page().links)
                QVERIFY2(!link.leadsTo.isEmpty() && sheet->rect().contains(link.at.center()),
                         qPrintable(link.words));
        const auto at = [&](const QString &words) {
            const auto link = std::ranges::find_if(
                links, [&](const PagePicture::Link &l) { return l.words.contains(words); });
            return static_cast<std::size_t>(link - links.begin());
        };
        const std::size_t wait = at(QStringLiteral("Let it idle"));
        QVERIFY(wait < links.size());
        QTest::mouseClick(&owner, Qt::LeftButton, {}, owner.placeOf(wait).center());
        QVERIFY(m_window->session.explanation());
        const std::string first = format(m_window->session.explanation()->title);
        m_window->session.explainNothing();
        QTest::mouseClick(&owner, Qt::LeftButton, {}, QPoint(3, 3)); // the edge leads nowhere
        QVERIFY(!m_window->session.explanation());
        // By keys: from the first to this one.
        owner.setFocus();
        QTest::keyClick(&owner, Qt::Key_Left);
        for (std::size_t i = 0; i < links.size(); ++i)
            QTest::keyClick(&owner, Qt::Key_Left);
        for (std::size_t i = 0; i < wait; ++i)
            QTest::keyClick(&owner, Qt::Key_Right);
        QTest::keyClick(&owner, Qt::Key_Return);
        QVERIFY(m_window->session.explanation());
        QCOMPARE(format(m_window->session.explanation()->title), first);
        // What is stated leads to where it is stated.
        const std::size_t reserve = at(QStringLiteral("No full throttle under"));
        QVERIFY(reserve < links.size());
        QTest::mouseClick(&owner, Qt::LeftButton, {}, owner.placeOf(reserve).center());
        QVERIFY(m_window->shell.station() != QStringLiteral("handover"));
    }

    void photosAreTicked() {
        QImage picture(400, 300, QImage::Format_RGB32);
        picture.fill(Qt::darkGreen);
        QVERIFY(picture.save(m_window->path("plugs.png")));
        open("thistle");
        QVERIFY(!view()->photos().isVisible());
        m_window->session.perform(QStringLiteral("Test"), [&](Job &job) {
            TubeRecord tube;
            tube.at = "2026-11-02T10:00:00Z";
            tube.photo = m_window->path("plugs.png").toStdString();
            job.tubes.push_back(tube);
        });
        QVERIFY(ready());
        PhotoStrip &strip = view()->photos();
        QVERIFY(strip.isVisible());
        QCOMPARE(strip.count(), 1);
        QTRY_VERIFY(!strip.item(0)->icon().isNull());
        QVERIFY(!textOf(view()->report()).contains(QStringLiteral("[Tube of the tank")));
        strip.setFocus();
        strip.setCurrentRow(0);
        QTest::keyClick(&strip, Qt::Key_Space);
        QVERIFY(ready());
        QCOMPARE(m_window->session.job().handover.photos, m_window->path("plugs.png").toStdString());
        QVERIFY(textOf(view()->report()).contains(QStringLiteral("[Tube of the tank, 2026-11-02]")));
        m_window->session.undo();
        QVERIFY(ready());
        QCOMPARE(strip.item(0)->checkState(), Qt::Unchecked);
        QVERIFY(!textOf(view()->report()).contains(QStringLiteral("[Tube of the tank")));
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
    bool saved() {
        for (int i = 0; i < 3000 && view()->saving().running(); ++i)
            QTest::qWait(10);
        return !view()->saving().running();
    }
    static QString textOf(const Report &report) { return text(plainText(report, {})); }
    std::unique_ptr<TestWindow> m_window;
};

int main(int argc, char **argv) {
    QApplication app(argc, argv);
    return run<HandoverViewTest>(argc, argv);
}
#include "handover_view_test.moc"
