// SPDX-License-Identifier: GPL-3.0-or-later
// Numbers that have a working show it in the panel when they are clicked, on every page of every demo.
#include "session/work.h"
#include "support/test_window.h"
#include "ui/views/view.h"
#include "ui/widgets/page_switch.h"
#include "ui/widgets/report_view.h"

#include <QTextBlock>
#include <QTextDocument>
#include <QUrl>

using namespace wheelwright;
using namespace wheelwright::testing;

void wheelwrightResources() {
    Q_INIT_RESOURCE(resources);
}

namespace {

constexpr PhraseText asked = MARKED("test.asked", "asked");

// Also what is worked out beside this thread, and what its end asks for.
void letWorkEnd() {
    constexpr int turns = 12, turnMs = 20; // some begins only a moment after it was asked for
    for (int turn = 0; turn < turns; ++turn) {
        QTest::qWait(turnMs);
        for (const auto length :
             {WorkSignals::Length::brief, WorkSignals::Length::lengthy, WorkSignals::Length::unasked})
            WorkSignals::pool(length).waitForDone();
    }
}

QStringList anchorsOf(const QTextDocument &document) {
    QStringList out;
    for (QTextBlock b = document.begin(); b.isValid(); b = b.next())
        for (auto it = b.begin(); !it.atEnd(); ++it)
            if (const QString to = it.fragment().charFormat().anchorHref(); !to.isEmpty()) out << to;
    out.removeDuplicates();
    return out;
}

} // namespace

class AnswersTest : public QObject {
    Q_OBJECT
  private slots:
    void initTestCase() { dressApplication(); }
    void clicksShowWorkings_data() {
        QTest::addColumn<QString>("demo");
        QTest::addColumn<int>("least");
        QTest::addRow("thistle") << QStringLiteral("thistle") << 14;
        QTest::addRow("moorhen") << QStringLiteral("moorhen") << 6;
        QTest::addRow("bramble") << QStringLiteral("bramble") << 6;
    }

    void clicksShowWorkings() {
        QFETCH(QString, demo);
        QFETCH(int, least);
        TestWindow window;
        if (demo == QLatin1String("thistle"))
            window.openWithLog(QStringLiteral(SOURCE_DIR "/data/demo/logs/thistle-e62-pulls.csv"),
                               {{SOURCE_DIR "/data/demo/runs/thistle-01-e10-baseline.csv", {}, {}, {}}});
        else
            window.open(demoFile(demo.toLatin1().constData()));
        int answered = 0;
        for (const ViewDefinition *v : allViews()) {
            const QString id = QLatin1String(v->id);
            window.shell.showStation(id);
            View *view = window.shell.view(id);
            auto *pages = view->findChild<PageSwitch *>();
            for (QWidget *page : pages ? pages->pages() : QList<QWidget *>{view}) {
                if (pages) pages->showPage(page);
                letWorkEnd();
                for (ReportView *words : view->findChildren<ReportView *>()) {
                    if (!words->isVisible()) continue;
                    for (const QString &to : anchorsOf(*words->document())) {
                        if (!to.startsWith(QLatin1String("working:"))) continue;
                        Explanation mark;
                        mark.title = asked;
                        window.session.explain(mark);
                        emit words->anchorClicked(QUrl(to));
                        const auto &shown = window.session.explanation();
                        const QString where = id + u'/' + page->objectName() + u' ' + words->accessibleName();
                        QVERIFY2(shown && shown->title.id != asked.id && !shown->formula.empty(),
                                 qPrintable(where + QStringLiteral(": nobody hears of ") + to));
                        ++answered;
                        break; // one of each text: they go the same way
                    }
                }
            }
        }
        QVERIFY2(answered >= least, qPrintable(QString::number(answered)));
    }
};

int main(int argc, char **argv) {
    QApplication app(argc, argv);
    return wheelwright::testing::run<AnswersTest>(argc, argv);
}
#include "answers_test.moc"
