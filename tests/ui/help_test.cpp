// SPDX-License-Identifier: GPL-3.0-or-later
// The help that ships inside: every page, picture and link is there, words are found, the tour goes round,
// and cautions are said once where the harm is.
#include "core/job/revision.h"
#include "core/study/cautions.h"
#include "pages/language.h"
#include "support/test_window.h"
#include "ui/help_pages.h"
#include "ui/help_window.h"
#include "ui/language.h"
#include "ui/tour_bar.h"
#include "ui/views/view.h"
#include "ui/widgets/page_switch.h"

#include <QAction>
#include <QListWidget>
#include <QRegularExpression>
#include <QScopeGuard>
#include <QScrollBar>
#include <QStandardPaths>
#include <QTextBrowser>

#include <set>

using namespace wheelwright;
using namespace wheelwright::testing;

void wheelwrightResources() {
    Q_INIT_RESOURCE(resources);
}

namespace {

// Every link of a page: [words](where).
QStringList linksOf(const QString &page) {
    static const QRegularExpression link(QStringLiteral("\\]\\(([^)]+)\\)"));
    QStringList out;
    for (auto found = link.globalMatch(helpPage(page)); found.hasNext();)
        out << found.next().captured(1);
    return out;
}

} // namespace

class HelpTest : public QObject {
    Q_OBJECT
  private slots:
    void initTestCase() { dressApplication(); }

    // A link leads to a page, a picture, or a place of the window that is there.
    void everyLinkLeadsSomewhere() {
        TestWindow window;
        window.openWithLog(QStringLiteral(SOURCE_DIR "/data/demo/logs/thistle-e62-pulls.csv"),
                           {{SOURCE_DIR "/data/demo/runs/thistle-01-e10-baseline.csv", {}, {}, {}}});
        std::set<QString> pages, places;
        for (const HelpSection &s : helpSections())
            pages.insert(s.page);
        QVERIFY(pages.size() >= 20);
        QStringList wrong;
        for (const QString &page : pages)
            for (const QString &link : linksOf(page)) {
                if (link.startsWith(QStringLiteral("at:")))
                    places.insert(link.mid(3));
                else if (link.endsWith(QStringLiteral(".png"))) {
                    if (QImage(QStringLiteral(":/help/") + link).isNull()) wrong << page + u' ' + link;
                } else if (!link.startsWith(QStringLiteral("http")) &&
                           !pages.contains(link.section(u'#', 0, 0)))
                    wrong << page + u' ' + link;
            }
        for (const QString &place : places) {
            window.shell.showStation(QStringLiteral("job"));
            window.shell.showPlace(place);
            const QString station = place.section(u'/', 0, 0), page = place.section(u'/', 1);
            if (window.shell.station() != station) wrong << place;
            if (page.isEmpty()) continue;
            auto *pagesOf = window.shell.view(station)->findChild<PageSwitch *>();
            if (!pagesOf || pagesOf->currentPage()->objectName() != page)
                wrong << place + QStringLiteral(" shows ") + pagesOf->currentPage()->objectName();
        }
        QVERIFY(places.size() >= 15);
        QVERIFY2(wrong.isEmpty(), qPrintable(wrong.join(QStringLiteral("; "))));
    }

    // A page for each station, with one picture of it.
    void everyStationHasItsPage() {
        for (const ViewDefinition *v : allViews()) {
            const QString page = helpPage(QLatin1String(v->id));
            QVERIFY2(!page.isEmpty(), v->id);
            QCOMPARE(page.count(QStringLiteral("![")), 1);
        }
    }

    void wordsAreFoundOnAnyPage() {
        HelpWindow help;
        help.open(QStringLiteral("start"));
        auto *list = help.findChild<QListWidget *>();
        auto *typed = help.findChild<QLineEdit *>();
        QCOMPARE(list->count(), [] {
            std::set<QString> pages;
            for (const HelpSection &s : helpSections())
                pages.insert(s.page);
            return static_cast<int>(pages.size());
        }());
        QTest::keyClicks(typed, QStringLiteral("quarter unknown"));
        QCOMPARE(list->count(), 1);
        QVERIFY(list->item(0)->text().contains(QStringLiteral("I have a quarter tank of unknown fuel")));
        QTest::keyClick(typed, Qt::Key_Return);
        QCOMPARE(help.page(), QStringLiteral("tasks"));
        typed->setText(QStringLiteral("rearrangement inequality")); // in no heading
        QVERIFY(list->count() >= 1);
        typed->setText(QStringLiteral("xyzzy"));
        QCOMPARE(list->count(), 0);
        typed->clear();
        help.open(QStringLiteral("tables"));
        // The picture is no wider than the text.
        auto *text = help.findChild<QTextBrowser *>();
        QCOMPARE(text->horizontalScrollBar()->maximum(), 0);
        help.activateWindow();
        QVERIFY(QTest::qWaitForWindowActive(&help));
        QTest::keyClick(&help, Qt::Key_Left, Qt::AltModifier);
        QCOMPARE(help.page(), QStringLiteral("tasks"));
        help.open(QStringLiteral("no such page"));
        QCOMPARE(help.page(), QStringLiteral("start"));
    }

    // In another language the same pages, links, stops and order, said in its words.
    void theHelpSpeaksEveryLanguage() {
        const auto backToEnglish = qScopeGuard([] { useLanguage(QStringLiteral("en")); });
        const std::vector<HelpSection> english = helpSections();
        const std::vector<TourStop> stops = tourStops();
        int languages = 0;
        for (const Language &language : allLanguages()) {
            if (!qstrcmp(language.code, "en")) continue;
            ++languages;
            useLanguage(QString::fromLatin1(language.code));
            const std::vector<HelpSection> theirs = helpSections();
            std::set<QString> pages;
            for (const HelpSection &s : english) {
                if (!pages.insert(s.page).second) continue;
                const auto sizeOf = [&s](const std::vector<HelpSection> &all) {
                    return std::ranges::count(all, s.page, &HelpSection::page);
                };
                const auto theirFirst = std::ranges::find(theirs, s.page, &HelpSection::page);
                QVERIFY2(theirFirst != theirs.end(), qPrintable(s.page));
                if (s.page != QStringLiteral("sources")) QCOMPARE(sizeOf(theirs), sizeOf(english));
                QVERIFY2(theirFirst->words != s.words, qPrintable(s.page));
                for (const QString &link : linksOf(s.page))
                    QVERIFY2(link.startsWith(QStringLiteral("at:")) ||
                                 link.endsWith(QStringLiteral(".png")) ||
                                 !helpPage(link.section(u'#', 0, 0)).isEmpty(),
                             qPrintable(s.page + u' ' + link));
            }
            const std::vector<TourStop> theirStops = tourStops();
            QCOMPARE(theirStops.size(), stops.size());
            for (std::size_t i = 0; i < stops.size(); ++i) {
                QCOMPARE(theirStops[i].place, stops[i].place);
                QVERIFY(theirStops[i].title != stops[i].title && theirStops[i].words != stops[i].words);
            }
        }
        QCOMPARE(languages, 2);
        useLanguage(QStringLiteral("de"));
        HelpWindow help;
        help.open(QStringLiteral("sources"));
        auto *list = help.findChild<QListWidget *>();
        QTest::keyClicks(help.findChild<QLineEdit *>(), QStringLiteral("viertel unbekannt"));
        QCOMPARE(list->count(), 1);
        QVERIFY(list->item(0)->text().contains(QStringLiteral("viertel Tank")));
        help.open(QStringLiteral("en/sources")); // the list itself, in English
        QCOMPARE(help.page(), QStringLiteral("en/sources"));
        QVERIFY(help.findChild<QTextBrowser *>()->toPlainText().contains(
            QStringLiteral("Every formula and every")));
    }

    // Ten stops on the demo, each at its place, round to the end; nothing is changed by it.
    void theTourGoesRound() {
        TestWindow window;
        window.openWithLog(QStringLiteral(SOURCE_DIR "/data/demo/logs/thistle-e62-pulls.csv"));
        const std::vector<TourStop> stops = tourStops();
        QCOMPARE(stops.size(), std::size_t{10});
        const std::uint64_t version = window.session.jobVersion();
        for (QAction *a : window.shell.findChildren<QAction *>())
            if (a->text() == QStringLiteral("Tour of the demo in ten stops")) a->trigger();
        auto *tour = window.shell.findChild<TourBar *>();
        QVERIFY(tour->isVisible());
        std::set<QString> stations;
        for (std::size_t i = 0; i < stops.size(); ++i) {
            QCOMPARE(tour->stop(), static_cast<int>(i));
            QVERIFY(!stops[i].words.isEmpty());
            QCOMPARE(window.shell.station(), stops[i].place.section(u'/', 0, 0));
            stations.insert(window.shell.station());
            if (i == 2) { // back and on again
                clickButton(*tour, QStringLiteral("Back"));
                QCOMPARE(tour->stop(), 1);
                QTest::keyClick(tour->findChild<QPushButton *>(QStringLiteral("tourNext")), Qt::Key_Space);
            }
            QTest::mouseClick(tour->findChild<QPushButton *>(QStringLiteral("tourNext")), Qt::LeftButton);
        }
        QVERIFY(!tour->isVisible());
        QVERIFY(stations.size() >= 9);
        QCOMPARE(window.session.jobVersion(), version);
    }

    // Of another engine its sentences would be of nothing, whatever that is called.
    void theTourGoesOnTheDemo() {
        QFile file(QStringLiteral(":/demo/thistle.json"));
        QVERIFY(file.open(QIODevice::ReadOnly));
        const std::string demo = file.readAll().toStdString();
        TestWindow window;
        QVERIFY(!window.session.beganAs(demo));
        Job other = newJob("Thistle");
        keepRevision(other, "As it came", "2026-11-02T10:00:00Z", {}, false);
        window.open(other);
        QVERIFY(!window.session.beganAs(demo));
        QStandardPaths::setTestModeEnabled(true);
        const auto startTour = [&window] {
            for (QAction *a : window.shell.findChildren<QAction *>())
                if (a->text() == QStringLiteral("Tour of the demo in ten stops")) a->trigger();
        };
        startTour();
        QVERIFY(window.session.beganAs(demo));
        const auto path = window.session.path();
        window.session.perform(QStringLiteral("another gear"), [](Job &j) { j.conditions.ambientKpa = 95; });
        window.shell.findChild<TourBar *>()->end();
        startTour(); // it is the demo still
        QCOMPARE(window.session.path(), path);
        window.session.perform(QStringLiteral("rename"), [](Job &j) { j.name = "Mine"; });
        QVERIFY(!window.session.beganAs(demo));
        window.session.closeJob();
        QVERIFY(QFile::remove(QString::fromStdString(path.string())));
    }

    // In full where the harm is, until it is understood; from then on small, and brought back on demand.
    void cautionsAreSaidOnceAndKeptSmall() {
        QTemporaryDir folder;
        QSettings settings(folder.filePath(QStringLiteral("s.ini")), QSettings::IniFormat);
        const auto bar = [](Shell &shell) { return shell.findChild<CautionBar *>(); };
        const auto small = [](Shell &shell) {
            return shell.findChild<QPushButton *>(QStringLiteral("cautionsSmall"));
        };
        Job job = demoFile("thistle");
        job.sparkDelivery.knockControl = false;
        {
            Session session(TestWindow::fixedTime);
            Shell shell(session, settings);
            shell.show();
            session.createJob(folder.filePath(QStringLiteral("a.wwjob")).toStdString(), job);
            shell.showStation(QStringLiteral("verify"));
            QCOMPARE(bar(shell)->words(), QString());
            QVERIFY(!small(shell)->isVisible());
            shell.showStation(QStringLiteral("tables"));
            QVERIFY(bar(shell)->words().contains(QStringLiteral("Nothing takes spark back")));
            clickButton(*bar(shell), QStringLiteral("Understood"));
            QCOMPARE(bar(shell)->words(), QString());
            QCOMPARE(small(shell)->text(), QStringLiteral("Caution: No knock control"));
            QTest::mouseClick(small(shell), Qt::LeftButton);
            QVERIFY(bar(shell)->words().contains(QStringLiteral("Nothing takes spark back")));
            QTest::mouseClick(small(shell), Qt::LeftButton);
            QCOMPARE(bar(shell)->words(), QString());
            // The one of pulls has not been understood by that.
            shell.showStation(QStringLiteral("cell"));
            QVERIFY(bar(shell)->words().contains(QStringLiteral("closed course")));
            QVERIFY(!bar(shell)->words().contains(QStringLiteral("Nothing takes spark back")));
            // Beside the tour it stands on it.
            shell.findChild<TourBar *>()->start();
            shell.showStation(QStringLiteral("cell"));
            settle();
            const auto placeOf = [&](QWidget *w) { return QRect(w->mapTo(&shell, QPoint()), w->size()); };
            QVERIFY(!placeOf(bar(shell)).intersects(placeOf(shell.findChild<TourBar *>())));
            shell.findChild<TourBar *>()->end();
            // With the engine's knock control it is gone at once.
            shell.showStation(QStringLiteral("tables"));
            session.perform(QStringLiteral("on"), [](Job &j) { j.sparkDelivery.knockControl = true; });
            settle();
            QVERIFY(!small(shell)->isVisible());
        }
        Session session(TestWindow::fixedTime);
        Shell shell(session, settings); // another day
        shell.show();
        session.createJob(folder.filePath(QStringLiteral("b.wwjob")).toStdString(), job);
        shell.showStation(QStringLiteral("tables"));
        QCOMPARE(bar(shell)->words(), QString());
        QVERIFY(small(shell)->isVisible());
    }

    // Each applies to a job that has it and not to one that has not.
    void cautionsApplyWhereTheHarmIs() {
        const auto said = [](const Job &job, const char *station) {
            QStringList out;
            for (const Caution *c : cautionsAt(job, station))
                out << QString::fromUtf8(c->id.data(), static_cast<qsizetype>(c->id.size()));
            return out.join(u' ');
        };
        Job job = newJob("plain");
        job.shelf.clear();
        job.tankEvents.clear();
        QCOMPARE(said(job, "fuel"), QStringLiteral("fuel"));
        QCOMPARE(said(job, "tables"), QString());
        ShelfEntry racing;
        racing.leaded = true;
        job.shelf.push_back(racing);
        QCOMPARE(said(job, "fuel"), QStringLiteral("leaded fuel"));
        racing.leaded = false;
        racing.methanol = 0.1;
        job.shelf.push_back(racing);
        QCOMPARE(said(job, "fuel"), QStringLiteral("methanol leaded fuel"));
        QCOMPARE(said(job, "handover"), QStringLiteral("methanol"));
        QCOMPARE(said(demoFile("moorhen"), "flow"), QStringLiteral("methanol"));
        Job spraying = newJob("spray"), blended = spraying;
        for (Job *j : {&spraying, &blended}) {
            j->shelf.clear();
            j->tankEvents.clear();
        }
        spraying.aux.spray.ratedFlowCcMin = 500;
        spraying.aux.spray.methanol = 0.5;
        QCOMPARE(said(spraying, "flow"), QStringLiteral("methanol"));
        spraying.aux.spray.methanol = 0; // water
        QCOMPARE(said(spraying, "flow"), QString());
        Hydrocarbon old;
        old.leaded = true;
        blended.hydrocarbons.push_back(old);
        QCOMPARE(said(blended, "fuel"), QStringLiteral("leaded fuel"));
        job.sparkDelivery.knockControl = false;
        QCOMPARE(said(job, "tables"), QStringLiteral("knock"));
        QCOMPARE(said(job, "evidence"), QStringLiteral("knock"));
        QCOMPARE(said(job, "cell"), QStringLiteral("dyno"));
        for (const Caution &c : allCautions())
            QVERIFY(!c.title.empty() && !c.text.empty() && !c.stations.empty());
    }
};

int main(int argc, char **argv) {
    QApplication app(argc, argv);
    return run<HelpTest>(argc, argv);
}
#include "help_test.moc"
