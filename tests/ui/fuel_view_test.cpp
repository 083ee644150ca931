// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/error.h"
#include "core/job/tank_history.h"
#include "core/report/pour_sheet.h"
#include "support/phrases.h"
#include "support/test_window.h"
#include "ui/text.h"
#include "ui/views/fuel/compare_page.h"
#include "ui/views/fuel/component_model.h"
#include "ui/views/fuel/fuel_view.h"
#include "ui/views/fuel/measure_drawings.h"
#include "ui/views/fuel/measure_page.h"
#include "ui/views/fuel/opinion_strip.h"
#include "ui/views/fuel/pour_drawing.h"
#include "ui/views/fuel/pour_page.h"
#include "ui/views/fuel/settling_page.h"
#include "ui/views/fuel/shelf_page.h"
#include "ui/widgets/field_form.h"
#include "ui/widgets/notice_bar.h"
#include "ui/widgets/record_table.h"
#include "ui/widgets/report_text.h"

#include <QAbstractItemModelTester>
#include <QClipboard>
#include <QFile>
#include <QLineEdit>
#include <QProcess>
#include <QTableView>
#include <QTemporaryDir>
#include <QTextBrowser>

using namespace wheelwright;
using namespace wheelwright::testing;

void wheelwrightResources() {
    Q_INIT_RESOURCE(resources);
}

/// The Fuel station in the real window, by mouse and keyboard, with the demo's story.
class FuelViewTest : public QObject {
    Q_OBJECT
  private slots:
    void initTestCase() { dressApplication(); }
    void init() {
        m_window = std::make_unique<TestWindow>();
        m_window->open(demoJob());
    }
    void cleanup() { m_window.reset(); }
    void fuelSaysWhatToPour();
    void planIsPrintedCopiedAndExplained();
    void theSheetIsSavedInEveryForm();
    void plansAreDrawn();
    void believingAnOpinionIsOneStep();
    void shelfIsEditedInPlace();
    void historyIsEditedInPlace();
    void componentsAreEditedAndReset();
    void measuringIsNoted();
    void drawingsAreCopied();
    void theTubeIsReadByDragging();
    void settlingFollowsTheContent();
    void fuelsSideBySide();

  private:
    FuelView *fuel() { return m_window->view<FuelView>("fuel"); }
    std::unique_ptr<TestWindow> m_window;
};

void FuelViewTest::fuelSaysWhatToPour() {
    PourPage *pour = fuel()->pour();
    m_window->session.setContent(0.40);
    settle();
    // The demo's story: 30 L of E26.2 (22 L of E35 and 12 L of E10, 4 burned) to E40 with E98 by arithmetic:
    // 30 · (0.40 − 0.2618)/(0.98 − 0.40), and in whole cans.
    const QString plans = pour->plansText();
    for (const char *words :
         {"Least added", "Pour 7.15 L of Sealed ethanol", "Pour 1 whole can (10.00 L) of Seasonal, in cans",
          "E39", "Misses the target by 1.1 %", "If it is just filled up"})
        QVERIFY2(plans.contains(QString::fromUtf8(words)), qPrintable(plans));
    m_window->session.setContent(0.05); // less alcohol than anything within reach has
    settle();
    QVERIFY2(pour->plansText().contains(QStringLiteral("tank and shelf do not mix to it")),
             qPrintable(pour->plansText()));
    m_window->session.setContent(0.11);
    settle();
    QVERIFY2(pour->plansText().contains(QStringLiteral("1 fill,")),
             qPrintable(pour->plansText())); // flushed down
    QTest::keyClicks(pour->level(), QStringLiteral("lots"));
    QVERIFY(pour->plansText().contains(QStringLiteral("Level")));
    const auto emptied = [](Job &j) {
        j.shelf.clear();
        j.lots.clear();
        j.tubes.clear();
        j.mixtures.clear();
    };
    QVERIFY(m_window->session.perform(QStringLiteral("empty"), emptied));
    settle();
    pour->level()->clear();
    QVERIFY(pour->plansText().contains(QStringLiteral("on the shelf")));
}

// The outside referee of the PDF: pdftotext (poppler).
void FuelViewTest::theSheetIsSavedInEveryForm() {
    const QTemporaryDir folder;
    const Job &job = m_window->session.job();
    const PourRequest r = pourRequestOf(job, 0.4);
    const Report sheet = pourSheet(job.name, false, r, planPour(r), "2026-05-16");
    const auto saved = [&](const char *name) {
        const QString path = folder.filePath(QLatin1String(name));
        saveReport(path, sheet, m_window->session.units());
        QFile file(path);
        return file.open(QIODevice::ReadOnly) ? file.readAll() : QByteArray();
    };
    QCOMPARE(QString::fromUtf8(saved("a.txt")), text(plainText(sheet, wordingOf(m_window->session.units()))));
    QVERIFY(saved("a.html").startsWith("<!DOCTYPE html>"));
    QVERIFY(saved("a.pdf").startsWith("%PDF-"));
    QProcess reader;
    reader.start(QStringLiteral("pdftotext"),
                 {QStringLiteral("-layout"), folder.filePath(QStringLiteral("a.pdf")), QStringLiteral("-")});
    QVERIFY(reader.waitForFinished() && reader.exitCode() == 0);
    const QString inPdf = QString::fromUtf8(reader.readAll());
    for (const char *words : {"Thistle", "7.15 L of Sealed ethanol", "no ignition source", "poisonous"})
        QVERIFY2(inPdf.contains(QString::fromUtf8(words)), qPrintable(inPdf));
    // Never over a job, whatever the name ends in.
    const auto bytes = [&] {
        QFile open(QString::fromStdString(m_window->session.path().string()));
        return open.open(QIODevice::ReadOnly) ? open.readAll() : QByteArray();
    };
    const QByteArray before = bytes();
    EXPECT_INPUT_ERROR(saveReport(QString::fromStdString(m_window->session.path().string()), sheet, {}),
                       "job");
    QVERIFY(!before.isEmpty() && bytes() == before);
    EXPECT_INPUT_ERROR(saveReport(folder.filePath(QStringLiteral("none/a.pdf")), sheet, {}), "a.pdf");
}

void FuelViewTest::planIsPrintedCopiedAndExplained() {
    PourPage *pour = fuel()->pour();
    m_window->session.setContent(0.40);
    settle();
    clickButton(*pour, QStringLiteral("Copy"));
    const QString sheet = QApplication::clipboard()->text();
    for (const char *words : {"Thistle", "7.15 L of Sealed ethanol", "±", "no ignition source", "poisonous"})
        QVERIFY2(sheet.contains(QString::fromUtf8(words)), qPrintable(sheet));
    auto *plans = pour->findChild<QTextBrowser *>(); // the tank, which has workings of its own
    for (const char *link : {"plan:0", "effect:1", "flush:", "working:0", "working:1"}) {
        m_window->session.explain({});
        emit plans->anchorClicked(QUrl(QString::fromLatin1(link)));
        QVERIFY2(!m_window->session.explanation()->title.empty(), link);
        for (const ExplanationInput &input : m_window->session.explanation()->inputs) {
            bool found = input.link.empty();
            for (const char *id : {"job", "tables", "fuel"})
                found =
                    found ||
                    m_window->shell.view(QLatin1String(id))->showInput(QString::fromStdString(input.link));
            QVERIFY2(found, input.link.c_str());
        }
    }
}

// The tank before and after, and each can between, with the numbers of the plan.
void FuelViewTest::plansAreDrawn() {
    PourPage *pour = fuel()->pour();
    for (const QSize size : {QSize(1024, 700), QSize(1280, 800), QSize(2560, 1440)}) {
        m_window->shell.resize(size);
        m_window->session.setContent(0.40);
        settle();
        PourDrawing *drawing = pour->drawing();
        const Job &job = m_window->session.job();
        const PourRequest request =
            pourRequestOf(job, 0.40, std::nullopt, m_window->session.today().toStdString());
        const PourAnswer answer = planPour(request);
        const std::vector<SaidPlan> plans = saidPlans(request, answer);
        QVERIFY(plans.size() >= 3);
        QCOMPARE(drawing->count(), plans.size());
        int bottom = 0;
        for (std::size_t i = 0; i < plans.size(); ++i) {
            const QRect row = drawing->rowRect(i);
            QVERIFY(row.top() >= bottom && row.right() < drawing->width());
            bottom = row.bottom();
            COMPARE_NEAR(drawing->levelShown(i, false), tankNow(job).volumeL / job.tank.capacityL, 1e-9);
            COMPARE_NEAR(drawing->levelShown(i, true),
                         answer.plans[plans[i].plan].volumeL / job.tank.capacityL, 1e-6);
            double right = 0;
            for (std::size_t k = 0; k < plans[i].steps.size(); ++k) {
                const QRectF step = drawing->stepRect(i, k);
                QVERIFY(step.left() >= right && QRectF(row).contains(step));
                right = step.right();
            }
        }
        QVERIFY(drawing->height() >= bottom);
        // A click on a plan asks for its arithmetic; so do the arrows.
        m_window->session.explainNothing();
        QTest::mouseClick(drawing, Qt::LeftButton, {}, drawing->stepRect(0, 0).center().toPoint());
        QVERIFY(m_window->session.explanation());
        const std::string first = said(m_window->session.explanation()->substituted);
        QTest::keyClick(drawing, Qt::Key_Down);
        QCOMPARE(drawing->chosen(), std::size_t(1));
        QVERIFY(said(m_window->session.explanation()->substituted) != first);
        // What must be read before it is poured stands in the words of the picture too.
        for (const SaidPlan &plan : plans)
            for (const Sentence &s : plan.remarks)
                QVERIFY2(drawing->words().contains(text(s.words)), said(s.words).c_str());
    }
    pour->level()->setText(QStringLiteral("nonsense"));
    settle();
    QCOMPARE(pour->drawing()->count(), std::size_t(0)); // nothing is drawn that was not planned
    pour->level()->clear();
}

void FuelViewTest::believingAnOpinionIsOneStep() {
    OpinionStrip *strip = fuel()->pour()->opinions();
    QVERIFY(strip->believeButton(OpinionSource::tube)->isEnabled());
    QTest::mouseClick(strip->believeButton(OpinionSource::tube), Qt::LeftButton);
    COMPARE_NEAR(tankNow(m_window->session.job()).content.ethanol.fraction(), 0.27, 1e-12);
    QTest::mouseClick(strip, Qt::LeftButton, {}, QPoint(40, 45)); // the sensor's row shows its working
    QCOMPARE(said(m_window->session.explanation()->title), std::string("The sensor says"));
    m_window->session.undo();
    QVERIFY(m_window->session.job() == demoJob());
}

void FuelViewTest::shelfIsEditedInPlace() {
    FuelView *view = fuel();
    view->showPage(view->shelf());
    QAbstractItemModel *shelf = view->shelf()->shelf()->view()->model();
    const QAbstractItemModelTester tester(shelf, QAbstractItemModelTester::FailureReportingMode::QtTest);
    const auto column = [&](const char *title) {
        for (int c = 0; c < shelf->columnCount(); ++c)
            if (shelf->headerData(c, Qt::Horizontal).toString() == QLatin1String(title)) return c;
        return -1;
    };
    const int row = static_cast<int>(demoJob().shelf.size());
    QCOMPARE(shelf->rowCount(), row + 1); // and the blank one
    QVERIFY(shelf->setData(shelf->index(row, 0), QStringLiteral("Winter blend")));
    QVERIFY(shelf->setData(shelf->index(row, column("Ethanol")), QStringLiteral("5")));
    COMPARE_NEAR(m_window->session.job().shelf.back().ethanol, 0.05, 1e-12);
    QVERIFY(shelf->setData(shelf->index(row, column("Leaded")), Qt::Checked, Qt::CheckStateRole));
    QVERIFY(m_window->session.job().shelf.back().leaded);
    settle();
    QVERIFY(view->shelf()->flagsText().contains(QStringLiteral("Winter blend")));
    // What stands against a fuel stands in its row, and only there.
    const std::vector<Fuel> fuels = shelfOf(m_window->session.job(), m_window->session.today().toStdString());
    const QAbstractItemModel *rows = view->shelf()->findChild<RecordTable *>()->view()->model();
    int marked = 0;
    for (std::size_t i = 0; i < fuels.size(); ++i) {
        const QModelIndex at = rows->index(static_cast<int>(i), 0);
        QCOMPARE(at.data(Qt::DecorationRole).isValid(), !fuels[i].flags.empty());
        for (const ShelfFlag &flag : fuels[i].flags)
            QVERIFY(at.data(Qt::ToolTipRole).toString().contains(text(flag.words)));
        marked += !fuels[i].flags.empty();
    }
    QVERIFY(marked >= 2 && marked < static_cast<int>(fuels.size()));
    QVERIFY(!shelf->setData(shelf->index(row, column("Ethanol")), QStringLiteral("150")));
    QVERIFY2(m_window->shell.notice().sentence().contains(QStringLiteral("0 to 1")),
             qPrintable(m_window->shell.notice().sentence()));
    QVERIFY(shelf->removeRows(row, 1));
    QVERIFY(!shelf->removeRows(row, 1)); // the blank row is not there to be taken away
    QVERIFY(m_window->session.job() == demoJob());
    // Who refers to a fuel by its name follows when it gets another, in the same step.
    QVERIFY(shelf->setData(shelf->index(3, 0), QStringLiteral("Pure")));
    QCOMPARE(m_window->session.job().lots[1].fuel, std::string("Pure"));
    m_window->session.undo();
    QVERIFY(m_window->session.job() == demoJob());
    QVERIFY(!shelf->removeRows(3, 1)); // lots refer to it
    QVERIFY(m_window->shell.notice().sentence().contains(QStringLiteral("fuel.lots")));
    QCOMPARE(shelf->index(0, column("Left")).data().toString(), QString()); // nothing stated
    QVERIFY(shelf->setData(shelf->index(3, column("Left")), QString()));
    QCOMPARE(m_window->session.job().shelf[3].leftL, 0.0);
    m_window->session.undo();
}

void FuelViewTest::historyIsEditedInPlace() {
    FuelView *station = fuel();
    QTableView *view = station->pour()->history()->view();
    QAbstractItemModel *history = view->model();
    const int row = static_cast<int>(demoJob().tankEvents.size());
    QVERIFY(history->setData(history->index(row, 2), QStringLiteral("10")));
    QVERIFY(history->setData(history->index(row, 1), QStringLiteral("burn")));
    COMPARE_NEAR(tankNow(m_window->session.job()).volumeL, 20, 1e-9);
    // It happened now, until somebody says when; what was there before keeps its time.
    QCOMPARE(m_window->session.job().tankEvents.back().at, std::string("2001-02-03T04:05:06Z"));
    QVERIFY(history->setData(history->index(row, 0), QStringLiteral("2001-02-02T10:00:00Z")));
    QCOMPARE(m_window->session.job().tankEvents.back().at, std::string("2001-02-02T10:00:00Z"));
    const std::string first = demoJob().tankEvents[0].at;
    QVERIFY(history->setData(history->index(0, 2), QStringLiteral("31")));
    QCOMPARE(m_window->session.job().tankEvents[0].at, first);
    m_window->session.undo();
    QVERIFY(!history->setData(history->index(row, 2), QStringLiteral("500"))); // more than there was
    QVERIFY(m_window->shell.notice().sentence().contains(QStringLiteral("at most")));
    view->setFocus();
    view->setCurrentIndex(history->index(row, 2));
    QTest::keyClick(view, Qt::Key_C, Qt::ControlModifier);
    QVERIFY(QApplication::clipboard()->text().contains(QStringLiteral("10 L")));
    QTest::keyClick(view, Qt::Key_Delete);
    QVERIFY(m_window->session.job() == demoJob());
}

void FuelViewTest::componentsAreEditedAndReset() {
    FuelView *view = fuel();
    ComponentModel *components = view->shelf()->components();
    const QAbstractItemModelTester tester(components, QAbstractItemModelTester::FailureReportingMode::QtTest);
    QVERIFY(components->setData(components->index(1, 1), QStringLiteral("794"), Qt::EditRole));
    QCOMPARE(m_window->session.job().ethanol.densityKgM3, 794.0);
    QVERIFY(m_window->session.job().ethanol.origin.starts_with("Own values"));
    QVERIFY(components->index(1, 1).data(Qt::ToolTipRole).toString().contains(QStringLiteral("789")));
    QVERIFY(!components->setData(components->index(1, 1), QStringLiteral("3"), Qt::EditRole));
    m_window->shell.view(QStringLiteral("fuel"))->showInput(QStringLiteral("fuel.ethanol.ron"));
    auto *reset = view->shelf()->findChild<QPushButton *>(QStringLiteral("reset-1"));
    QTest::mouseClick(reset, Qt::LeftButton);
    QVERIFY(m_window->session.job() == demoJob());
}

void FuelViewTest::measuringIsNoted() {
    FuelView *view = fuel();
    MeasurePage *measure = view->measure();
    view->showPage(measure);
    const auto type = [&](const char *name, const char *typed) {
        measure->field(name)->clear();
        QTest::keyClicks(measure->field(name), QLatin1String(typed));
    };
    type("layer", "63.5");
    QVERIFY2(measure->resultText("tube").contains(QStringLiteral("E27")),
             qPrintable(measure->resultText("tube")));
    clickButton(*measure, QStringLiteral("Note it"));
    QCOMPARE(m_window->session.job().tankEvents.back().kind, TankEventKind::tube);
    QCOMPARE(m_window->session.job().tubes.back().layerTop, 63.5);
    m_window->session.undo(); // both in one step
    QVERIFY(m_window->session.job() == demoJob());
    type("layer", "over");
    QVERIFY(measure->resultText("tube").contains(QStringLiteral("Layer")));
    type("hz", "135");
    type("ms", "3");
    QVERIFY(measure->resultText("sensor").contains(QStringLiteral("E85")));
    QVERIFY2(measure->resultText("sensor").contains(QStringLiteral("42 °C")) ||
                 measure->resultText("sensor").contains(QStringLiteral("43 °C")),
             qPrintable(measure->resultText("sensor")));
    clickButton(*measure, QStringLiteral("Note it for the tank"));
    COMPARE_NEAR(m_window->session.job().tankEvents.back().ethanol, 0.85, 1e-12);
    m_window->session.undo();
    type("hz", "185");
    QVERIFY(measure->resultText("sensor").contains(QStringLiteral("ontaminated")));
    // Handbook chapter 2: 11.0 on the gasoline scale is λ 0.748.
    QVERIFY2(measure->resultText("afr").contains(QStringLiteral("λ 0.748")),
             qPrintable(measure->resultText("afr")));
    type("afr", "-1");
    QVERIFY(measure->resultText("afr").contains(QStringLiteral("more than 0")));
}

// As numbers and as a picture, by the keys that copy anywhere.
void FuelViewTest::drawingsAreCopied() {
    const auto trigger = [&](const char *title) {
        for (QAction *a : m_window->shell.allActions())
            if (a->text().remove(u'&') == QLatin1String(title)) a->trigger();
        return QApplication::clipboard()->text();
    };
    FuelView *view = fuel();
    QTest::qWait(20);
    view->pour()->opinions()->believeButton(OpinionSource::tube)->setFocus();
    const QString opinions = trigger("Copy");
    const ContentOpinions expected = opinionsOf(m_window->session.job());
    QCOMPARE(opinions.count(u'\n'), static_cast<qsizetype>(expected.all.size()));
    for (const Opinion &o : expected.all)
        QVERIFY2(
            opinions.contains(QLatin1Char('\t') + QStringLiteral("E%1").arg(qRound(o.content.value * 100))),
            qPrintable(opinions));
    trigger("Copy as picture");
    QCOMPARE(QApplication::clipboard()->pixmap().size(), view->pour()->opinions()->size());
    m_window->shell.showPlace(QStringLiteral("fuel/settling"));
    QTest::qWait(20);
    auto *plot = view->findChild<SettlingPage *>()->findChild<QCustomPlot *>();
    plot->setFocus();
    const QStringList rows = trigger("Copy").split(u'\n', Qt::SkipEmptyParts);
    QCOMPARE(rows.size(), 242); // a head, and each point
    QCOMPARE(rows.front().count(u'\t'), 4);
    // The first number is the tank's content, the last the content looked at, as nearly as it has settled.
    const double before = alcoholOf(tankNow(m_window->session.job()).content) * 100;
    COMPARE_NEAR(rows[1].section(u'\t', 1, 1).toDouble(), before, 0.01);
    COMPARE_NEAR(rows.back().section(u'\t', 3, 3).toDouble(), m_window->session.content() * 100, 1.0);
    trigger("Copy as picture");
    QVERIFY(!QApplication::clipboard()->pixmap().isNull());
}

// Drag and number give the same reading; what is no tube is not drawn as one.
void FuelViewTest::theTubeIsReadByDragging() {
    FuelView *view = fuel();
    MeasurePage *measure = view->measure();
    m_window->shell.showPlace(QStringLiteral("fuel/measure"));
    QTest::qWait(20);
    QVERIFY(measure->isVisible());
    auto *tube = measure->findChild<TubeDrawing *>();
    for (const double h : {0.0, 50.0, 80.0, 100.0})
        COMPARE_NEAR(tube->heightOf(tube->yOf(h)), h, 1e-9);
    QVERIFY(tube->yOf(80) < tube->yOf(50)); // upwards
    QVERIFY(tube->rect().contains(QPoint(tube->width() / 2, static_cast<int>(tube->yOf(100)))));
    const QPoint at(tube->width() / 2, static_cast<int>(std::lround(tube->yOf(70))));
    QTest::mousePress(tube, Qt::LeftButton, {}, at);
    const double dragged = measure->field("layer")->text().toDouble();
    COMPARE_NEAR(dragged, 70, 100.0 / tube->height() + 0.25); // a pixel, and half a half division
    COMPARE_NEAR(std::remainder(dragged, 0.5), 0, 1e-9);
    const QString byDrag = measure->resultText("tube");
    measure->field("layer")->setText(QStringLiteral("80"));
    QVERIFY(measure->resultText("tube") != byDrag);
    measure->field("layer")->setText(QString::number(dragged));
    QCOMPARE(measure->resultText("tube"), byDrag);
    // Held between the lines.
    QTest::mousePress(tube, Qt::LeftButton, {}, QPoint(tube->width() / 2, 0));
    QCOMPARE(measure->field("layer")->text().toDouble(), 100.0);
    QTest::mousePress(tube, Qt::LeftButton, {}, QPoint(tube->width() / 2, tube->height() - 1));
    QCOMPARE(measure->field("layer")->text().toDouble(), 50.0);
    measure->field("fuel")->setText(QStringLiteral("lots"));
    QVERIFY(tube->accessibleDescription().isEmpty());
    // A scale's pointer stands where its number is, and at the end for one beyond it.
    auto scales = measure->findChildren<ScaleDrawing *>();
    QCOMPARE(scales.size(), 2);
    const double middle = (scales[0]->xOf(50) + scales[0]->xOf(150)) / 2;
    COMPARE_NEAR(scales[0]->xOf(100), middle, 1e-9);
    QCOMPARE(scales[0]->xOf(400), scales[0]->xOf(160));
    QCOMPARE(scales[0]->accessibleDescription(), QStringLiteral("100 Hz"));
}

void FuelViewTest::settlingFollowsTheContent() {
    FuelView *view = fuel();
    SettlingPage *settling = view->settling();
    view->showPage(settling);
    m_window->session.setContent(0.60);
    settle();
    QVERIFY2(settling->wordsText().contains(QStringLiteral("E60")), qPrintable(settling->wordsText()));
    const QString before = settling->wordsText();
    QVERIFY(view->showInput(QStringLiteral("tank.surge_l")));
    auto *surge = qobject_cast<QLineEdit *>(settling->form()->editor(QStringLiteral("tank.surge_l")));
    QTest::keyClicks(surge, QStringLiteral("4 L"));
    QTest::keyClick(surge, Qt::Key_Return);
    QCOMPARE(m_window->session.job().tank.surgeL, 4.0);
    QVERIFY(settling->wordsText() != before);
    m_window->session.undo();
    settle();
    QCOMPARE(settling->wordsText(), before);
}

void FuelViewTest::fuelsSideBySide() {
    FuelView *view = fuel();
    ComparePage *compare = view->compare();
    view->showPage(compare);
    QTableView *table = compare->table();
    QCOMPARE(table->model()->rowCount(), 8); // six fuels that an engine runs on, two mixtures
    table->setFocus();
    table->setCurrentIndex(table->model()->index(1, 0));
    QVERIFY2(compare->changeText().contains(QStringLiteral("Cold start")), qPrintable(compare->changeText()));
    QVERIFY(said(m_window->session.explanation()->title).starts_with("Seasonal high-ethanol"));
    compare->slider()->setFocus();
    compare->slider()->setValue(50);
    QVERIFY2(compare->mixText().contains(QStringLiteral("E44")), qPrintable(compare->mixText()));
    QTest::keyClick(compare->slider(), Qt::Key_Right);
    QVERIFY(compare->mixText().contains(QStringLiteral("51 %")));
}

int main(int argc, char **argv) {
    QApplication app(argc, argv);
    return wheelwright::testing::run<FuelViewTest>(argc, argv);
}
#include "fuel_view_test.moc"
