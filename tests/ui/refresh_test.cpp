// SPDX-License-Identifier: GPL-3.0-or-later
#include "session/cell_editor.h"
#include "support/test_window.h"
#include "ui/views/tables/table_face.h"
#include "ui/widgets/content_ruler.h"
#include "ui/widgets/refresh.h"

#include <QImage>
#include <QSignalSpy>

void wheelwrightResources() {
    Q_INIT_RESOURCE(resources);
}

using namespace wheelwright;
using namespace wheelwright::testing;

/// Views work once a turn, while they are seen, and for what they show; pictures of tables are the same
/// whether they were drawn at once or cell by cell.
class RefreshTest : public QObject {
    Q_OBJECT
  private slots:
    void init() {
        m_window = std::make_unique<TestWindow>();
        m_window->open(demoJob());
        m_view = std::make_unique<QWidget>();
        m_view->show();
        m_all = m_light = 0;
        m_refresh = new Refresh(session(), m_view.get());
        m_refresh->on(Refresh::job | Refresh::units, [this] { ++m_all; }, {"tank.", "name"})
            .on(Refresh::content, [this] { ++m_light; });
        settle();
        QCOMPARE(m_all, 1); // what nobody has seen yet is due
        QCOMPARE(m_light, 0);
        m_all = 0;
    }
    void onceATurn();
    void onlyWhileSeen();
    void onlyWhatItShows();
    void theFirstPartDoesTheOthersWork();
    void whatIsPressedGoesByWhatIsShown();
    void othersChangesCount();
    void theRulerFollowsItsLimits();
    void aPictureIsTheSameCellByCell();

  private:
    Session &session() { return m_window->session; }
    void rename(const char *to) {
        QVERIFY(session().perform(QStringLiteral("rename"), [to](Job &job) { job.name = to; }));
    }
    std::unique_ptr<TestWindow> m_window;
    std::unique_ptr<QWidget> m_view;
    Refresh *m_refresh = nullptr;
    int m_all = 0, m_light = 0;
};

void RefreshTest::onceATurn() {
    for (const char *name : {"a", "b", "c"})
        rename(name);
    session().undo();
    QCOMPARE(m_all, 0);
    settle();
    QCOMPARE(m_all, 1);
    for (const double content : {0.2, 0.3, 0.4})
        session().setContent(content);
    settle();
    QCOMPARE(m_light, 1);
    settle();
    QCOMPARE(m_all + m_light, 2);
}

void RefreshTest::onlyWhileSeen() {
    m_view->hide();
    rename("hidden");
    session().setContent(0.33);
    settle();
    QCOMPARE(m_all + m_light, 0);
    m_view->show(); // right before it is painted
    QCOMPARE(m_all, 1);
    settle();
    QCOMPARE(m_all, 1);
    QCOMPARE(m_light, 0);
}

void RefreshTest::onlyWhatItShows() {
    QVERIFY(CellEditor(session()).nudge(2));
    QVERIFY(session().perform(QStringLiteral("air"), [](Job &job) { job.conditions.ambientKpa = 99; }));
    settle();
    QCOMPARE(m_all, 0);
    QVERIFY(session().perform(QStringLiteral("tank"), [](Job &job) { job.tank.reserveL = 7; }));
    settle();
    QCOMPARE(m_all, 1);
    session().createJob(m_window->path("another.wwjob").toStdString(), demoJob());
    settle();
    QCOMPARE(m_all, 2); // another job counts whatever is shown
}

void RefreshTest::theFirstPartDoesTheOthersWork() {
    session().setContent(0.21);
    rename("both");
    settle();
    QCOMPARE(m_all, 1);
    QCOMPARE(m_light, 0);
}

void RefreshTest::whatIsPressedGoesByWhatIsShown() {
    rename("pressed");
    QTest::keyPress(m_view.get(), Qt::Key_A); // faster than a turn
    QCOMPARE(m_all, 1);
    settle();
    QCOMPARE(m_all, 1);
}

// What another program wrote and was taken in with an edit is told as well.
void RefreshTest::othersChangesCount() {
    QSignalSpy changes(&session(), &Session::jobChanged);
    QVERIFY(CellEditor(session()).nudge(2));
    QCOMPARE(changes.size(), 1);
    const auto change = changes[0][0].value<JobChange>();
    QVERIFY(change.touches("calibration.spark") && !change.touches("tank."));
    session().undo();
    QCOMPARE(changes.size(), 2);
    QVERIFY(changes[1][0].value<JobChange>() == reversed(change));
}

// What is said of the tank goes by limits, too.
void RefreshTest::theRulerFollowsItsLimits() {
    const ContentRuler &ruler = m_window->shell.ruler();
    const QString before = ruler.accessibleDescription();
    QVERIFY2(before.contains(QStringLiteral("disagree")), qPrintable(before));
    QVERIFY(session().perform(QStringLiteral("generous"), [](Job &job) {
        job.limits["content.disagreement"] = limitById("content.disagreement").most;
    }));
    settle();
    QVERIFY2(ruler.accessibleDescription() != before, qPrintable(before));
    session().undo();
    settle();
    QCOMPARE(ruler.accessibleDescription(), before);
}

void RefreshTest::aPictureIsTheSameCellByCell() {
    TableFace::Style style;
    style.size = {200, 120};
    style.columns = 5;
    style.rows = 4;
    style.left = 10.5;
    style.top = 8;
    style.cellWidth = 37.3;
    style.cellHeight = 27.1;
    style.numbers = true;
    style.paper = Qt::white;
    style.font = sansFont(11);
    for (int i = 0; i < TableFace::shades; ++i) {
        style.fill[static_cast<std::size_t>(i)] = QColor(4 * i, 255 - 4 * i, 128);
        style.pen[static_cast<std::size_t>(i)] = i % 2 ? Qt::black : Qt::yellow;
    }
    std::vector<TableFace::Cell> cells(20);
    for (int i = 0; i < 20; ++i)
        cells[static_cast<std::size_t>(i)] = {3 * i, CellTrust::proven, QString::number(10 + i)};
    TableFace stepped;
    stepped.picture(style, cells);
    for (int i = 0; i < 20; i += 3) { // some cells, one after the other
        cells[static_cast<std::size_t>(i)] = {60 - 2 * i, static_cast<CellTrust>(i % 3), QString::number(i)};
        stepped.picture(style, cells);
    }
    cells[7].shade = 33; // each of what makes a look, alone
    stepped.picture(style, cells);
    cells[8].trust = CellTrust::never;
    stepped.picture(style, cells);
    TableFace whole;
    const QImage expected = whole.picture(style, cells).toImage();
    QVERIFY(stepped.picture().toImage() == expected);
    style.fill[3] = Qt::red; // another palette: all of it again
    QVERIFY(stepped.picture(style, cells).toImage() == TableFace().picture(style, cells).toImage());
    QVERIFY(stepped.picture().toImage() != expected);
}

int main(int argc, char **argv) {
    QApplication app(argc, argv);
    dressApplication();
    return wheelwright::testing::run<RefreshTest>(argc, argv);
}
#include "refresh_test.moc"
