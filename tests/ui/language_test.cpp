// SPDX-License-Identifier: GPL-3.0-or-later
// The window in another language: from the menu, at once, and kept; core's sentences and reports go with it.
#include "core/report/calibration_reports.h"
#include "session/cell_editor.h"
#include "session/words.h"
#include "support/test_window.h"
#include "ui/language.h"
#include "ui/shell_host.h"
#include "ui/text.h"

#include <QAbstractButton>
#include <QAction>
#include <QDoubleSpinBox>
#include <QSettings>

#include <algorithm>

using namespace wheelwright;
using namespace wheelwright::testing;

void wheelwrightResources() {
    Q_INIT_RESOURCE(resources);
}

class LanguageTest : public QObject {
    Q_OBJECT
  private slots:
    void initTestCase() { dressApplication(); }
    void cleanup() {
        useLanguage(QStringLiteral("en"));
        useDecimalMark({});
    }

    void everyLanguageSpeaks() {
        const Phrase content{MARKED("axis.content", "content")};
        QCOMPARE(text(content), QStringLiteral("content"));
        useLanguage(QStringLiteral("de"));
        QCOMPARE(text(content), QStringLiteral("Gehalt"));
        useLanguage(QStringLiteral("es"));
        QCOMPARE(text(content), QStringLiteral("contenido"));
        // Numbers and names are put in as ever.
        const Phrase range{MARKED("flow.injectors.spread",
                                  "⟨Which injector where⟩: λ spread {0}; as listed {1}, by chance {2}."),
                           {{0.01, Dimension::ratio}, {0.02, Dimension::ratio}, {0.03, Dimension::ratio}}};
        QVERIFY(text(range).contains(QStringLiteral("Qué inyector dónde")) &&
                text(range).contains(QStringLiteral("1,0 %")));
        useLanguage(QStringLiteral("tlh")); // nobody has made that
        QCOMPARE(usedLanguage(), QStringLiteral("en"));
        QCOMPARE(text(content), QStringLiteral("content"));
    }

    void theMenuChangesItAtOnceAndItIsKept() {
        const QTemporaryDir folder;
        QSettings settings(folder.filePath(QStringLiteral("kept.ini")), QSettings::IniFormat);
        Session session{TestWindow::fixedTime};
        auto host = std::make_unique<ShellHost>(session, settings);
        host->shell().show();
        host->shell().showPlace(QStringLiteral("verify"));
        session.createJob(folder.filePath(QStringLiteral("a.wwjob")).toStdString(), demoFile("thistle"));
        const auto onRail = [&](const QString &word) {
            const auto buttons = host->shell().findChildren<QAbstractButton *>();
            return std::ranges::any_of(buttons, [&](const QAbstractButton *b) { return b->text() == word; });
        };
        QVERIFY(onRail(QStringLiteral("Fuel")));
        action(*host, QStringLiteral("Deutsch"))->trigger();
        QTRY_VERIFY(onRail(QStringLiteral("Kraftstoff")));
        QVERIFY(!onRail(QStringLiteral("Fuel")));
        QCOMPARE(host->shell().station(), QStringLiteral("verify")); // the window stays where it was
        QVERIFY(action(*host, QStringLiteral("Deutsch"))->isChecked());
        while (session.verdictPending())
            QTest::qWait(10);
        const Report verdict = verdictReport(*session.verdict());
        QVERIFY(
            text(plainText(verdict, wordingOf({}))).contains(QStringLiteral("Hält jede beurteilte Grenze")));
        // Another window, another day.
        host.reset();
        useLanguage(QStringLiteral("en"));
        host = std::make_unique<ShellHost>(session, settings);
        QVERIFY(onRail(QStringLiteral("Kraftstoff")));
        action(*host, QStringLiteral("English"))->trigger();
        QTRY_VERIFY(onRail(QStringLiteral("Fuel")));
    }

    // Spanish has a comma; who wants the point chooses it. A field that is typed into takes both.
    void theDecimalMarkGoesWithTheLanguageOrIsChosen() {
        const QTemporaryDir folder;
        QSettings settings(folder.filePath(QStringLiteral("kept.ini")), QSettings::IniFormat);
        Session session{TestWindow::fixedTime};
        ShellHost host(session, settings);
        session.createJob(folder.filePath(QStringLiteral("a.wwjob")).toStdString(), demoFile("thistle"));
        const auto lambda = [&] { return shown(0.82, Dimension::mixture, session.units()); };
        const auto box = [] {
            QDoubleSpinBox b;
            b.setDecimals(1);
            b.setValue(1.5);
            return b.text();
        };
        const auto choose = [&](const char *title) {
            QSignalSpy replaced(&host, &ShellHost::shellReplaced);
            action(host, QString::fromUtf8(title))->trigger();
            QTRY_COMPARE(replaced.count(), 1);
        };
        QCOMPARE(lambda(), QStringLiteral("λ 0.820"));
        QCOMPARE(box(), QStringLiteral("1.5"));
        choose("Español");
        QCOMPARE(lambda(), QStringLiteral("λ 0,820"));
        QCOMPARE(box(), QStringLiteral("1,5"));
        QCOMPARE(text(exactly(2.5)), QStringLiteral("2,5")); // where nobody has chosen units
        choose("Punto decimal: 14.7");
        QCOMPARE(lambda(), QStringLiteral("λ 0.820"));
        QCOMPARE(box(), QStringLiteral("1.5"));
        QVERIFY(action(host, QStringLiteral("Punto decimal: 14.7"))->isChecked());
        choose("English");
        choose("Decimal comma: 14,7");
        QCOMPARE(lambda(), QStringLiteral("λ 0,820"));
        // Cells are copied with the mark that is shown, and read back the same.
        session.setQuantity(CalibratedQuantity::lambda);
        session.setCell({3, 3});
        QVERIFY(CellEditor(session).enterExpression(QStringLiteral("=0,8625")));
        const double was = session.frontTable().cell({3, 3});
        COMPARE_NEAR(was, 0.8625, 1e-12);
        const QString copied = CellEditor(session).copyCells(false);
        QVERIFY2(copied.contains(u','), qPrintable(copied));
        // Three digits after the mark could be taken for thousands where text is pasted: they get a fourth.
        session.setCell({4, 4});
        QVERIFY(CellEditor(session).enterExpression(QStringLiteral("=0,875")));
        QCOMPARE(CellEditor(session).copyCells().trimmed(), QStringLiteral("0,8750"));
        session.setCell({5, 5});
        QVERIFY(CellEditor(session).pasteCells(copied) == CellEditor::PasteResult::done);
        QCOMPARE(session.frontTable().cell({5, 5}), was);
        choose("Decimal mark as the language has it");
        QCOMPARE(lambda(), QStringLiteral("λ 0.820"));
    }

  private:
    static QAction *action(ShellHost &host, const QString &title) {
        const auto all = host.shell().findChildren<QAction *>();
        const auto at = std::ranges::find_if(all, [&](const QAction *a) { return a->text() == title; });
        return at == all.end() ? nullptr : *at;
    }
};

int main(int argc, char **argv) {
    QApplication app(argc, argv);
    return run<LanguageTest>(argc, argv);
}
#include "language_test.moc"
