// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/error.h"
#include "core/study/headroom.h"
#include "formats/job_json.h"
#include "support/phrases.h"
#include "support/test_window.h"
#include "ui/views/flow/flow_view.h"
#include "ui/views/flow/frontier_plot.h"
#include "ui/views/flow/injector_change_dialog.h"
#include "ui/widgets/chart_plot.h"
#include "ui/widgets/shaded_map.h"

#include <QClipboard>
#include <QFile>
#include <QLineEdit>
#include <QPushButton>
#include <QTextBrowser>

using namespace wheelwright;
using namespace wheelwright::testing;

void wheelwrightResources() {
    Q_INIT_RESOURCE(resources);
}

/// The Flow station in the real window.
class FlowViewTest : public QObject {
    Q_OBJECT
  private slots:
    void initTestCase() { dressApplication(); }
    void init() { m_window = std::make_unique<TestWindow>(); }
    void cleanup() { m_window.reset(); }

    void frontierNamesTheFirstLimit();
    void targetIsDraggedAndTheTablesFollow();
    void everyPageSpeaks();
    void mapsAndChartsAnswer();
    void injectorsAreChanged();
    void mechanicalJobNeedsNoTables();

  private:
    FlowView *flow() { return m_window->view<FlowView>("flow"); }
    std::unique_ptr<TestWindow> m_window;
};

void FlowViewTest::frontierNamesTheFirstLimit() {
    m_window->open(demoJob());
    FlowView *view = flow();
    QTRY_VERIFY2(view->wordsOf("frontier").startsWith(QStringLiteral("Injectors, caution: reached at")),
                 qPrintable(view->wordsOf("frontier")));
    const QString words = view->wordsOf("frontier");
    QVERIFY2(words.contains(QStringLiteral("kW")), qPrintable(words));
    view->plot()->setFocus();
    view->plot()->copy();
    QVERIFY(QApplication::clipboard()->text().contains(QStringLiteral("duty_stop_kpa")));
}

void FlowViewTest::targetIsDraggedAndTheTablesFollow() {
    m_window->open(demoJob());
    FrontierPlot *plot = flow()->plot();
    QTRY_VERIFY(flow()->wordsOf("frontier").contains(QStringLiteral("kW")));
    QTest::qWait(50);
    // Contents have their letter along both pictures.
    for (const QCPAxisRect *rect : plot->axisRects()) {
        QVector<double> ticks;
        QVector<QString> labels;
        const QCPAxis *x = rect->axis(QCPAxis::atBottom);
        x->ticker()->generate(x->range(), QLocale::c(), u'g', 6, ticks, nullptr, &labels);
        QVERIFY(labels.contains(QStringLiteral("E40")));
    }
    const auto targetAt = [&](double content) {
        return boostTargets(Study(m_window->session.job()), {content}).front();
    };
    const double content = 0.5, before = targetAt(content);
    const auto at = [&](double kpa) {
        return QPoint(static_cast<int>(plot->xAxis->coordToPixel(content * 100)),
                      static_cast<int>(std::lround(plot->yAxis->coordToPixel(kpa))));
    };
    QTest::mousePress(plot, Qt::LeftButton, {}, at(before));
    QTest::mouseMove(plot, at(before - 10));
    QCOMPARE(targetAt(content), before); // only a preview
    QTest::mouseMove(plot, at(before - 20));
    QTest::mouseRelease(plot, Qt::LeftButton, {}, at(before - 20));
    QVERIFY2(std::abs(targetAt(content) - (before - 20)) < 2, qPrintable(QString::number(targetAt(content))));
    m_window->session.undo();
    QVERIFY(m_window->session.job() == demoJob());
    QTest::mousePress(plot, Qt::LeftButton, {},
                      at(before - 60)); // away from the line nothing is taken hold of
    QTest::mouseMove(plot, at(before - 90));
    QTest::mouseRelease(plot, Qt::LeftButton, {}, at(before - 90));
    QVERIFY(m_window->session.job() == demoJob());
}

void FlowViewTest::everyPageSpeaks() {
    m_window->open(demoJob());
    FlowView *view = flow();
    for (const auto &[page, words] : {std::pair{"injectors", "λ spread"},
                                      {"pumps", "freeze its reading above"},
                                      {"boost", "Spring"},
                                      {"spray", "No spray is fitted"},
                                      {"pills", "metered by a controller"}}) {
        view->showPage(page);
        QVERIFY2(view->wordsOf(page).contains(QString::fromUtf8(words)), qPrintable(view->wordsOf(page)));
    }
    // A click on a number shows its working.
    view->showPage("injectors");
    auto *browser = view->findChild<QWidget *>(QStringLiteral("injectors"))->findChild<QTextBrowser *>();
    emit browser->anchorClicked(QUrl(QStringLiteral("working:0")));
    QCOMPARE(said(m_window->session.explanation()->title), std::string("Injector duty"));
    QVERIFY(m_window->session.perform(QStringLiteral("spray"), [](Job &job) {
        job.aux.fitted = true;
        job.aux.spray.ratedFlowCcMin = 500;
    }));
    for (int i = 0; i < 500 && m_window->session.verdictPending(); ++i)
        QTest::qWait(10);
    view->showPage("spray");
    QVERIFY2(view->wordsOf("spray").contains(QStringLiteral("fail-safe")),
             qPrintable(view->wordsOf("spray")));
    QVERIFY(view->showInput(QStringLiteral("supply.pump_points")) &&
            view->showInput(QStringLiteral("boost.cut_kpa")));
    QVERIFY(!view->showInput(QStringLiteral("nothing")));
}

// The map in front, its cells by mouse and keys, and what it copies.
void FlowViewTest::mapsAndChartsAnswer() {
    m_window->open(demoJob());
    FlowView *view = flow();
    view->showPage("injectors");
    auto *map = view->findChild<QWidget *>(QStringLiteral("injectors"))->findChild<ShadedMap *>();
    QTest::mouseClick(map, Qt::LeftButton, {}, QPoint(map->width() - 5, 25)); // highest speed, lowest load
    QCOMPARE(said(m_window->session.explanation()->title), std::string("Injector duty here"));
    const double light = m_window->session.explanation()->result.value;
    for (int i = 0; i < 3; ++i)
        QTest::keyClick(map, Qt::Key_Down);
    QVERIFY(m_window->session.explanation()->result.value > light);
    map->copy();
    QCOMPARE(QApplication::clipboard()->text().count(QLatin1Char('\n')),
             static_cast<qsizetype>(map->cells().loadKpa.size()) + 1);
    m_window->session.setContent(0.85);
    view->showPage("boost");
    auto *chart = view->findChild<QWidget *>(QStringLiteral("boost"))->findChild<ChartPlot *>();
    QVERIFY(chart->isVisible() && chart->graphCount() > 3 && !chart->chart().levels.empty());
    chart->copy();
    QVERIFY(QApplication::clipboard()->text().contains(QStringLiteral("solenoid duty")));
    QVERIFY2(view->wordsOf("boost").contains(QStringLiteral("overboost cut")),
             qPrintable(view->wordsOf("boost")));
}

// Pulse widths are rescaled for other injectors, as one step of undo.
void FlowViewTest::injectorsAreChanged() {
    Job job = demoJob();
    job.calibration.fuelMeaning = FuelMeaning::fuelMass; // their numbers pass for milligrams
    m_window->open(job);
    InjectorChangeDialog dialog(m_window->session);
    QTRY_VERIFY2(dialog.words().contains(QStringLiteral("stay as they are")), qPrintable(dialog.words()));
    auto *flowEdit = dialog.findChild<QLineEdit *>(QStringLiteral("flow"));
    flowEdit->setText(QStringLiteral("nonsense"));
    QTRY_VERIFY2(dialog.words().contains(QStringLiteral("Flow of one")), qPrintable(dialog.words()));
    flowEdit->setText(QStringLiteral("1600 cc/min"));
    const auto buttons = dialog.findChildren<QPushButton *>();
    const auto apply = std::ranges::find(buttons, QStringLiteral("Change them"), &QPushButton::text);
    QVERIFY(apply != buttons.end());
    QTRY_VERIFY((*apply)->isEnabled());
    QTest::mouseClick(*apply, Qt::LeftButton);
    QCOMPARE(m_window->session.job().injectors.flowCcMin, 1600.0);
    QVERIFY(m_window->session.job().measuredInjectors.empty());
    m_window->session.undo();
    QVERIFY(m_window->session.job() == job);
}

void FlowViewTest::mechanicalJobNeedsNoTables() {
    QFile document(QStringLiteral(SOURCE_DIR "/data/demo/moorhen.json"));
    QVERIFY(document.open(QIODevice::ReadOnly));
    m_window->open(jobFromJson(document.readAll().toStdString()));
    FlowView *view = flow();
    QCOMPARE(m_window->session.content(), 1.0);   // the one fuel that it runs on
    const QString words = view->wordsOf("pills"); // what its fuel goes by stands in front
    view->showPage("frontier");
    QVERIFY(view->wordsOf("frontier").contains(QStringLiteral("mechanically")));
    view->showPage("pills");
    for (const char *part : {"main pill", "now in", "Pass 1: Exhaust 305 °C", "Hard to start", "poisonous"})
        QVERIFY2(words.contains(QString::fromUtf8(part)), qPrintable(words));
    for (const char *station : {"job", "fuel", "tables", "verify"}) // all of them open on it
        m_window->shell.showStation(QLatin1String(station));
    QTest::qWait(50);
    QCOMPARE(m_window->session.verdict()->rows.size(), std::size_t{1});
    QCOMPARE(m_window->session.verdict()->rows[0].check->id, std::string_view("mechanical.lambda"));
}

int main(int argc, char **argv) {
    QApplication app(argc, argv);
    return wheelwright::testing::run<FlowViewTest>(argc, argv);
}
#include "flow_view_test.moc"
