// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/report/spark_reports.h"
#include "core/study/content_tables.h"
#include "core/study/fuel_worth.h"
#include "support/test_window.h"
#include "ui/views/tables/spark_dialogs.h"
#include "ui/views/tables/tables_view.h"
#include "ui/widgets/report_view.h"

#include <QLineEdit>

void wheelwrightResources() {
    Q_INIT_RESOURCE(resources);
}

using namespace wheelwright;
using namespace wheelwright::testing;

class SparkDialogsTest : public QObject {
    Q_OBJECT
  private slots:
    void initTestCase() { dressApplication(); }
    void init() {
        m_window = std::make_unique<TestWindow>();
        m_window->open(demoJob());
        m_view = m_window->view<TablesView>("tables");
        settle();
    }
    void cleanup() { m_window.reset(); }

    void ceilingsArePutInAndTakenBack();
    void contentsAreTyped();
    void nonsenseIsSaid();
    void theCurveShowsTheDifference();
    void worthFollowsTheCursorAndShowsItsWorking();
    void theMenuHasThem();

  private:
    QPushButton *button(QWidget &in, const QString &text) {
        for (QPushButton *b : in.findChildren<QPushButton *>())
            if (b->text() == text) return b;
        return nullptr;
    }
    Session &session() { return m_window->session; }
    std::unique_ptr<TestWindow> m_window;
    TablesView *m_view = nullptr;
};

void SparkDialogsTest::ceilingsArePutInAndTakenBack() {
    const Job before = session().job();
    SparkEstimateDialog dialog(session(), SparkEstimateDialog::Makes::ceilings);
    dialog.show();
    QPushButton *apply = button(dialog, QStringLiteral("Put them in"));
    QVERIFY(apply && !apply->isEnabled()); // nothing is worked out yet
    QTRY_VERIFY_WITH_TIMEOUT(apply->isEnabled(), 20000);
    const QString words = dialog.words();
    // Base, middle and top, by the numbers of the core.
    const EstimateTable t = estimateTable(session().study(), 0.1);
    QVERIFY2(words.contains(QStringLiteral("E10")) && words.contains(QStringLiteral("E48")) &&
                 words.contains(QStringLiteral("E85")),
             qPrintable(words));
    QVERIFY(words.contains(QStringLiteral("clear no question")) &&
            words.contains(QString::number(t.sigmaDeg, 'f', 1)));
    QTest::mouseClick(apply, Qt::LeftButton);
    QCOMPARE(dialog.result(), static_cast<int>(QDialog::Accepted));
    QCOMPARE(session().job().extras.size(), before.extras.size() + 6);
    QVERIFY(whollyEstimated(session().job().extras.back()));
    session().undo();
    QVERIFY(session().job() == before); // one step
}

void SparkDialogsTest::contentsAreTyped() {
    SparkEstimateDialog dialog(session(), SparkEstimateDialog::Makes::ceilings);
    dialog.show();
    auto *contents = dialog.findChild<QLineEdit *>(QStringLiteral("contents"));
    QTest::keyClicks(contents, QStringLiteral("30"));
    emit contents->editingFinished(); // as when the focus leaves it
    QPushButton *apply = button(dialog, QStringLiteral("Put them in"));
    QTRY_VERIFY_WITH_TIMEOUT(apply->isEnabled() && dialog.words().contains(QStringLiteral("E30")) &&
                                 !dialog.words().contains(QStringLiteral("E85")),
                             20000);
    QTest::mouseClick(apply, Qt::LeftButton);
    QCOMPARE(session().job().extras.back().content, 0.3);
}

void SparkDialogsTest::nonsenseIsSaid() {
    SparkEstimateDialog dialog(session(), SparkEstimateDialog::Makes::ceilings);
    dialog.show();
    auto *contents = dialog.findChild<QLineEdit *>(QStringLiteral("contents"));
    QTest::keyClicks(contents, QStringLiteral("lots"));
    emit contents->editingFinished();
    QVERIFY(dialog.words().contains(QStringLiteral("contents")));
    QVERIFY(!button(dialog, QStringLiteral("Put them in"))->isEnabled());
    contents->clear();
    QTest::keyClicks(contents, QStringLiteral("140"));
    emit contents->editingFinished();
    QTRY_VERIFY_WITH_TIMEOUT(dialog.words().contains(QStringLiteral("content")) &&
                                 dialog.words().contains(QStringLiteral("0 to 1")),
                             20000);
    QVERIFY(!button(dialog, QStringLiteral("Put them in"))->isEnabled());
}

void SparkDialogsTest::theCurveShowsTheDifference() {
    session().setQuantity(CalibratedQuantity::spark);
    settle();
    SparkEstimateDialog dialog(session(), SparkEstimateDialog::Makes::curve);
    dialog.show();
    QPushButton *apply = button(dialog, QStringLiteral("Take this curve"));
    QTRY_VERIFY_WITH_TIMEOUT(apply->isEnabled(), 20000);
    const std::optional<KnockShares> s = knockShares(session().study());
    const auto percent = [](double share) { return QString::number(share * 100, 'f', 0); };
    QVERIFY2(dialog.words().contains(percent(s->middle)) &&
                 dialog.words().contains(percent(s->moleFraction)) &&
                 dialog.words().contains(percent(s->withoutCooling)),
             qPrintable(dialog.words()));
    QTest::mouseClick(apply, Qt::LeftButton);
    QCOMPARE(session().job().calibration.of(CalibratedQuantity::spark).shape, WeightShape::custom);
    session().undo();
    QCOMPARE(session().job().calibration.of(CalibratedQuantity::spark).shape, WeightShape::physical);
    // Its button stands beside the curve of spark, and of no other quantity.
    clickButton(*m_view, QStringLiteral("by content"));
    settle();
    QPushButton *knock = button(*m_view, QStringLiteral("Knock limit…"));
    QVERIFY(knock && knock->isVisible());
    session().setQuantity(CalibratedQuantity::fuel);
    QTRY_VERIFY(!knock->isVisible());
}

void SparkDialogsTest::worthFollowsTheCursorAndShowsItsWorking() {
    session().goTo({0.6, 3700, 200}, CalibratedQuantity::spark);
    settle();
    const FuelWorth w = fuelWorth(session().study(), session().place());
    FuelWorthDialog dialog(session());
    dialog.show();
    QVERIFY(!w.lines.empty());
    for (const WorthLine &line : w.lines)
        QVERIFY2(dialog.words().contains(
                     QString::number(line.degrees, 'f', 1).replace('-', QStringLiteral("−"))) ||
                     dialog.words().contains(QString::number(line.degrees, 'f', 1)),
                 qPrintable(dialog.words()));
    QVERIFY(dialog.words().contains(QStringLiteral("E60")) && dialog.words().contains(QStringLiteral("E10")));
    // The number of charge cooling leads to what it was made of.
    auto *words = dialog.findChild<ReportView *>();
    const WorkedReport report = fuelWorthReport(session().sharedStudy(), session().place());
    emit words->explained(report.workings[4]());
    QVERIFY2(dialog.working().contains(QStringLiteral("charge cooling")), qPrintable(dialog.working()));
    session().goTo({0.6, 2500, 40}, CalibratedQuantity::spark);
    QVERIFY(FuelWorthDialog(session()).words().contains(QStringLiteral("never knocks")));
}

void SparkDialogsTest::theMenuHasThem() {
    QStringList titles;
    for (const QAction *a : m_window->shell.findChildren<QAction *>())
        titles << a->text();
    QVERIFY(titles.contains(QStringLiteral("Estimate ceilings and best spark…")) &&
            titles.contains(QStringLiteral("What is this fuel worth here?")));
}

int main(int argc, char **argv) {
    QApplication app(argc, argv);
    return run<SparkDialogsTest>(argc, argv);
}

#include "spark_dialogs_test.moc"
