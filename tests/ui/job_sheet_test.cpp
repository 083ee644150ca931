// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/job/job_schema.h"
#include "core/job/said_content.h"
#include "core/job/statements.h"
#include "core/study/job_template.h"
#include "formats/job_json.h"
#include "support/random_job.h"
#include "support/test_window.h"
#include "ui/text.h"
#include "ui/views/job/intake_sheet.h"
#include "ui/views/job/job_view.h"
#include "ui/widgets/curve_chart.h"
#include "ui/widgets/limit_edit.h"
#include "ui/widgets/notice_bar.h"
#include "ui/widgets/part_button.h"

#include <QCheckBox>
#include <QComboBox>
#include <QLineEdit>
#include <qcustomplot.h>

void wheelwrightResources() {
    Q_INIT_RESOURCE(resources);
}

using namespace wheelwright;
using namespace wheelwright::testing;

namespace {

// With every part that it could have.
Job withEverything(Job job) {
    for (const Part &part : allParts())
        if (belongsTo(part, job) && part.add && part.id != "controller") fitPart(job, part, true);
    return job;
}

Job bare() {
    EngineTemplate nothing;
    nothing.name = "Foundling";
    return flatJob(nothing);
}

} // namespace

/// The Job station: the engine as a drawing, and the few fields of the part that is chosen.
class JobSheetTest : public QObject {
    Q_OBJECT
  private slots:
    void initTestCase() { dressApplication(); }
    void init() { m_window = std::make_unique<TestWindow>(); }
    void cleanup() { m_window.reset(); }

    void nothingOverlapsAndNothingIsCut_data();
    void nothingOverlapsAndNothingIsCut();
    void everyFieldOfTheJobIsReached();
    void anEngineIsBuiltByKeyboardAlone();
    void anEngineIsBuiltByMouse();
    void aCurveIsTheSameByDragAndByNumber();
    void pointsAreAddedAndTakenAway();
    void inspectionsHangOnTheirPart();
    void aDashedPlaceTakesAPart();
    void whatIsNotStatedLooksSo();
    void nothingIsSaidInAWord();
    void nextLeadsToTheLeastKnownPart();
    void partsSpeakInTheChosenUnits();

  private:
    JobView *job() { return m_window->view<JobView>("job"); }
    PartButton *part(const char *id) { return job()->sheet()->button(id); }
    const Job &now() const { return m_window->session.job(); }
    template <class W>
    W *editor(const char *path) {
        return qobject_cast<W *>(job()->editor(QLatin1String(path)));
    }
    std::unique_ptr<TestWindow> m_window;
};

void JobSheetTest::nothingOverlapsAndNothingIsCut_data() {
    QTest::addColumn<QString>("demo");
    QTest::addColumn<QSize>("size");
    QTest::addColumn<bool>("everything");
    for (const char *demo : {"thistle", "moorhen", "bramble"})
        for (const QSize size : {QSize(1024, 700), QSize(1280, 800), QSize(2560, 1440)})
            for (const bool everything : {false, true})
                QTest::addRow("%s %dx%d %s", demo, size.width(), size.height(),
                              everything ? "all" : "as it is")
                    << QString::fromLatin1(demo) << size << everything;
}

void JobSheetTest::nothingOverlapsAndNothingIsCut() {
    QFETCH(QString, demo);
    QFETCH(QSize, size);
    QFETCH(bool, everything);
    Job which = demoFile(demo.toLatin1().constData());
    m_window->open(everything ? withEverything(which) : which);
    m_window->shell.resize(size);
    IntakeSheet *sheet = job()->sheet();
    settle();
    // All of the drawing is on the screen.
    QTRY_COMPARE(sheet->visibleRegion().boundingRect().size(), sheet->size());
    std::vector<PartButton *> shown;
    for (auto *b : sheet->findChildren<PartButton *>())
        if (b->isVisible()) shown.push_back(b);
    QVERIFY(shown.size() >= 15);
    for (std::size_t i = 0; i < shown.size(); ++i) {
        const PartButton *b = shown[i];
        QVERIFY2(sheet->rect().contains(b->geometry()), qPrintable(b->objectName()));
        for (std::size_t k = i + 1; k < shown.size(); ++k)
            QVERIFY2(!b->geometry().intersects(shown[k]->geometry()),
                     qPrintable(b->objectName() + u' ' + shown[k]->objectName()));
        QVERIFY2(b->rect().contains(b->glyphBox().toAlignedRect()), qPrintable(b->objectName()));
        QVERIFY2(b->wordsFit(), qPrintable(b->objectName()));
        QVERIFY2(!b->accessibleName().isEmpty() && !b->accessibleDescription().isEmpty(),
                 qPrintable(b->objectName()));
    }
}

// What an engine cannot have is not drawn: what one demo does not reach another one does.
void JobSheetTest::everyFieldOfTheJobIsReached() {
    std::set<std::string> left;
    for (const Field &f : allFields())
        left.insert(f.path);
    for (const CurveField &c : allCurves())
        left.insert(c.path);
    const std::size_t all = left.size();
    for (const char *demo : {"thistle", "moorhen"}) {
        m_window = std::make_unique<TestWindow>();
        Job with = withEverything(demoFile(demo));
        // Own points of a weight are edited where a weight has them.
        for (const CalibratedQuantity q : allQuantities)
            with.calibration.of(q).shape = WeightShape::custom;
        m_window->open(with);
        for (auto at = left.begin(); at != left.end();) {
            const QString path = text(*at);
            m_window->shell.showStation(QStringLiteral("verify")); // where no field is
            m_window->shell.showPlace(path);
            const QWidget *focus = m_window->shell.focusWidget();
            const bool there = m_window->shell.station() != QStringLiteral("verify") && focus &&
                               focus->isVisible() && !focus->accessibleName().isEmpty();
            at = there ? left.erase(at) : std::next(at);
        }
    }
    QStringList missing;
    for (const std::string &path : left)
        missing << text(path);
    QVERIFY2(left.empty(),
             qPrintable(QStringLiteral("%1 of %2: ").arg(left.size()).arg(all) + missing.join(u' ')));
    // Limits too.
    for (const LimitDefinition &l : allLimits()) {
        m_window->shell.showPlace(QStringLiteral("limit:") + text(std::string(l.id)));
        QVERIFY2(qobject_cast<LimitEdit *>(m_window->shell.focusWidget()), l.id.data());
    }
}

// Tab, arrows, Enter and what is typed: nothing else.
void JobSheetTest::anEngineIsBuiltByKeyboardAlone() {
    m_window->open(bare());
    IntakeSheet *sheet = job()->sheet();
    part("tank")->setFocus();
    const auto focus = [&] { return m_window->shell.focusWidget(); };
    const auto key = [&](Qt::Key k, Qt::KeyboardModifiers with = {}) {
        QTest::keyClick(focus(), k, with);
        settle();
    };
    // Walks the sheet until that part has the focus, and opens its fields.
    const auto open = [&](const char *id) {
        for (int i = 0; i < 60 && focus() != part(id); ++i)
            key(Qt::Key_Right);
        QCOMPARE(focus(), static_cast<QWidget *>(part(id)));
        key(Qt::Key_Return);
    };
    // Tabs through the fields of the part until the one of that name, and types.
    const auto type = [&](const char *title, const char *typed) {
        for (int i = 0; i < 80 && focus()->accessibleName() != QLatin1String(title); ++i)
            key(Qt::Key_Tab);
        QCOMPARE(focus()->accessibleName(), QLatin1String(title));
        key(Qt::Key_A, Qt::ControlModifier);
        QTest::keyClicks(focus(), QString::fromUtf8(typed));
        key(Qt::Key_Return);
    };
    const auto leave = [&](const char *id) {
        key(Qt::Key_Escape);
        QCOMPARE(focus(), static_cast<QWidget *>(part(id)));
    };
    open("tank");
    type("Tank, brim full", "55");
    type("Pickup needs", "7");
    leave("tank");
    open("surge_tank"); // a dashed place: Enter puts it there
    QVERIFY(part("surge_tank")->state().fitted);
    QCOMPARE(part("surge_tank")->state().figures[0].known, Knowledge::estimated);
    type("Surge tank", "2.5");
    leave("surge_tank");
    open("injectors");
    type("Injector flow", "1000 cc/min");
    type("Dead time", "0.95");
    leave("injectors");
    open("cooler");
    for (int i = 0; i < 20 && !qobject_cast<QComboBox *>(focus()); ++i)
        key(Qt::Key_Tab);
    key(Qt::Key_Down);
    leave("cooler");
    open("cylinders");
    type("Displacement", "1.998");
    type("Cylinders", "4"); // as it stands: typing it states it
    type("Compression ratio", "8.8");
    type("Rev limit", "7600");
    // The curve: a point is added and moved by arrows.
    for (int i = 0; i < 40 && !qobject_cast<QCustomPlot *>(focus()); ++i)
        key(Qt::Key_Tab);
    QVERIFY(qobject_cast<QCustomPlot *>(focus()));
    key(Qt::Key_Insert);
    for (int i = 0; i < 5; ++i)
        key(Qt::Key_Up);
    leave("cylinders");
    QCOMPARE(now().tank.capacityL, 55.0);
    QCOMPARE(now().tank.reserveL, 7.0);
    QCOMPARE(now().tank.surgeL, 2.5);
    QCOMPARE(now().injectors.flowCcMin, 1000.0);
    QCOMPARE(now().injectors.deadTimeMs, 0.95);
    QVERIFY(now().engine.chargeCooler == ChargeCooler::air);
    QCOMPARE(now().engine.displacementL, 1.998);
    QCOMPARE(now().engine.cylinders, 4.0);
    QVERIFY(isStated(now(), "engine.cylinders"));
    QCOMPARE(now().engine.compressionRatio, 8.8);
    QCOMPARE(now().engine.revLimitRpm, 7600.0);
    QCOMPARE(now().engine.boostLimitKpa.axis().size(), std::size_t(2));
    QCOMPARE(now().engine.boostLimitKpa.values().back(), now().engine.boostLimitKpa.values().front() + 5);
    for (const char *id : {"tank", "injectors", "cylinders", "cooler"})
        QVERIFY2(part(id)->state().known == Knowledge::stated, id);
    QCOMPARE(sheet->chosen(), std::string_view("cylinders"));
}

// Pointed at and typed: no Tab, no Enter, no arrow.
void JobSheetTest::anEngineIsBuiltByMouse() {
    m_window->open(bare());
    const auto click = [](QWidget *w) {
        QTest::mouseClick(w, Qt::LeftButton, {}, w->rect().center());
        settle();
    };
    const auto type = [&](const char *path, const char *typed) {
        auto *edit = editor<QLineEdit>(path);
        QVERIFY2(edit && edit->isVisible(), path);
        QTest::mouseDClick(edit, Qt::LeftButton, {}, edit->rect().center());
        edit->selectAll();
        QTest::keyClicks(edit, QString::fromUtf8(typed));
    };
    click(part("tank"));
    QCOMPARE(job()->sheet()->chosen(), std::string_view("tank"));
    type("tank.capacity_l", "48");
    click(part("line")); // what was typed is taken when something else is pointed at
    QCOMPARE(now().tank.capacityL, 48.0);
    type("tank.line_l", "0.9");
    click(part("spray"));
    QVERIFY(now().aux.fitted && part("spray")->state().fitted);
    QCOMPARE(now().tank.lineL, 0.9);
    type("aux.flow_cc_min", "400");
    click(part("content_sensor"));
    QCOMPARE(now().aux.spray.ratedFlowCcMin, 400.0);
    QWidget *panel = part("content_sensor")->window();
    // The engine has none.
    QPushButton *off = nullptr;
    for (auto *b : panel->findChildren<QPushButton *>(QStringLiteral("remove")))
        if (b->isVisible()) off = b;
    QVERIFY(off);
    click(off);
    QVERIFY(!now().fuelSystem.contentSensor && !part("content_sensor")->state().fitted);
    click(part("content_sensor")); // or it has
    QVERIFY(now().fuelSystem.contentSensor);
    click(part("cylinders"));
    QPushButton *confirm = nullptr;
    for (auto *b : panel->findChildren<QPushButton *>(QStringLiteral("confirm")))
        if (b->isVisible()) confirm = b;
    QVERIFY(confirm && confirm->isEnabled());
    click(confirm);
    QCOMPARE(part("cylinders")->state().known, Knowledge::stated);
    QVERIFY(!confirm->isEnabled());
    // Each click was one step.
    m_window->session.undo();
    settle();
    QCOMPARE(part("cylinders")->state().known, Knowledge::unknown);
}

void JobSheetTest::aCurveIsTheSameByDragAndByNumber() {
    Job start = demoFile("thistle");
    start.engine.boostLimitKpa = Curve({0, 0.3, 0.6, 1}, {200, 228, 258, 270});
    m_window->open(start);
    QVERIFY(job()->showInput(QStringLiteral("engine.boost_limit_kpa")));
    settle();
    auto *chart = editor<CurveChart>("engine.boost_limit_kpa");
    QVERIFY(chart);
    const auto steps = m_window->session.undoStack().count();
    const auto drag = [&](std::size_t point, QPointF by) {
        const QPointF from = chart->pixelOf(point);
        QTest::mousePress(chart->plot(), Qt::LeftButton, {}, from.toPoint());
        for (const double share : {0.3, 0.7, 1.0})
            QTest::mouseMove(chart->plot(), (from + by * share).toPoint());
        QTest::mouseRelease(chart->plot(), Qt::LeftButton, {}, (from + by).toPoint());
        settle();
    };
    drag(1, {17, -23});
    const Curve dragged = now().engine.boostLimitKpa;
    QVERIFY(dragged.axis()[1] > 0.3 && dragged.values()[1] > 228);
    QCOMPARE(m_window->session.undoStack().count(), steps + 1); // a drag is one step
    // It landed on what can be read: typing what is read changes nothing more.
    const QString x = chart->findChild<QLineEdit *>(QStringLiteral("x"))->text(),
                  y = chart->findChild<QLineEdit *>(QStringLiteral("y"))->text();
    QVERIFY2(!x.contains(u'.') && !y.contains(u'.'), qPrintable(x + u' ' + y));
    m_window->session.undo();
    settle();
    QVERIFY(now().engine.boostLimitKpa == start.engine.boostLimitKpa);
    for (const auto &[name, words] : {std::pair{"x", x}, std::pair{"y", y}}) {
        auto *edit = chart->findChild<QLineEdit *>(QLatin1String(name));
        edit->setFocus();
        edit->selectAll();
        QTest::keyClicks(edit, words);
        QTest::keyClick(edit, Qt::Key_Return);
        settle();
    }
    QVERIFY(now().engine.boostLimitKpa == dragged);
    // The dragged point never passes its neighbours or leaves the range.
    drag(1, {4000, 4000});
    QVERIFY(now().engine.boostLimitKpa.axis()[1] < 0.6);
    QVERIFY(now().engine.boostLimitKpa.values()[1] >= 20);
    // What cannot be is refused, not held.
    auto *value = chart->findChild<QLineEdit *>(QStringLiteral("y"));
    const Curve before = now().engine.boostLimitKpa;
    value->setFocus();
    value->selectAll();
    QTest::keyClicks(value, QStringLiteral("5000"));
    QTest::keyClick(value, Qt::Key_Return);
    QVERIFY(m_window->shell.notice().sentence().contains(QStringLiteral("20 to 800")));
    QVERIFY(now().engine.boostLimitKpa == before);
}

void JobSheetTest::pointsAreAddedAndTakenAway() {
    Job start = demoFile("thistle");
    start.engine.boostLimitKpa = Curve({0, 1}, {200, 300});
    m_window->open(start);
    QVERIFY(job()->showInput(QStringLiteral("engine.boost_limit_kpa")));
    settle();
    auto *chart = editor<CurveChart>("engine.boost_limit_kpa");
    const QPointF between = (chart->pixelOf(0) + chart->pixelOf(1)) / 2;
    QTest::mouseDClick(chart->plot(), Qt::LeftButton, {}, between.toPoint());
    settle();
    QCOMPARE(now().engine.boostLimitKpa.axis().size(), std::size_t(3));
    COMPARE_NEAR(now().engine.boostLimitKpa.values()[1], 250, 2);
    QCOMPARE(chart->chosen(), 1);
    QTest::keyClick(chart->plot(), Qt::Key_Up);
    QTest::keyClick(chart->plot(), Qt::Key_Right, Qt::ControlModifier);
    settle();
    COMPARE_NEAR(now().engine.boostLimitKpa.axis()[1], 0.51, 0.011);
    QTest::keyClick(chart->plot(), Qt::Key_Delete);
    settle();
    QVERIFY(now().engine.boostLimitKpa == start.engine.boostLimitKpa);
    // Copied with Ctrl+C as numbers that paste into a sheet.
    chart->plot()->setFocus();
    QApplication::clipboard()->clear();
    for (QAction *a : m_window->shell.allActions())
        if (a->shortcut() == QKeySequence(QKeySequence::Copy)) a->trigger();
    QCOMPARE(QApplication::clipboard()->text(), QStringLiteral("%\tkPa\n0\t200\n100\t300\n"));
}

void JobSheetTest::inspectionsHangOnTheirPart() {
    Job start = demoFile("thistle");
    start.inspections.clear();
    start.sparkDelivery.baseTimingChecked = false;
    m_window->open(start);
    QVERIFY(job()->showInput(QStringLiteral("spark.base_timing_checked")));
    settle();
    QCOMPARE(part("ignition")->state().inspected, LookedAt::notYet);
    auto *note = job()->findChild<QLineEdit *>(QStringLiteral("note-base_timing"));
    QVERIFY(note && note->isVisible());
    QTest::keyClicks(note, QStringLiteral("8 degrees, locked"));
    QTest::mouseClick(job()->findChild<QPushButton *>(QStringLiteral("good-base_timing")), Qt::LeftButton);
    settle();
    QCOMPARE(now().inspections.size(), std::size_t(1));
    const InspectionMark mark = now().inspections.values().front();
    QCOMPARE(mark.item, std::string("base_timing"));
    QCOMPARE(mark.at, std::string("2001-02-03T04:05:06Z"));
    QCOMPARE(mark.note, std::string("8 degrees, locked"));
    QVERIFY(!mark.wrong && now().sparkDelivery.baseTimingChecked);
    QVERIFY(editor<QCheckBox>("spark.base_timing_checked")->isChecked());
    QCOMPARE(part("ignition")->state().inspected, LookedAt::partly);
    QVERIFY(note->text().isEmpty());
    QTest::mouseClick(job()->findChild<QPushButton *>(QStringLiteral("wrong-plugs_gap")), Qt::LeftButton);
    settle();
    QCOMPARE(part("ignition")->state().inspected, LookedAt::wrong);
    QVERIFY(part("ignition")->accessibleDescription().contains(QStringLiteral("found wrong")));
    m_window->session.undo();
    m_window->session.undo(); // the mark and the flag were one step
    settle();
    QVERIFY(now().inspections.empty() && !now().sparkDelivery.baseTimingChecked);
}

void JobSheetTest::aDashedPlaceTakesAPart() {
    Job start = demoFile("bramble");
    start.tank.surgeL = 0;
    m_window->open(start);
    job();
    settle();
    const QRect before = part("surge_tank")->geometry();
    QVERIFY(!part("surge_tank")->state().fitted && part("surge_tank")->isVisible());
    QTest::mouseClick(part("surge_tank"), Qt::LeftButton);
    settle();
    QVERIFY(part("surge_tank")->state().fitted);
    QCOMPARE(part("surge_tank")->geometry(), before); // it is put where it was shown
    auto *volume = editor<QLineEdit>("tank.surge_l");
    QVERIFY(volume->hasFocus()); // its number is asked at once
    QCOMPARE(volume->property("known").toString(), QStringLiteral("estimated"));
    m_window->session.undo();
    settle();
    QVERIFY(!part("surge_tank")->state().fitted);
    // What a controller meters is not drawn where there is none.
    QVERIFY(job()->showInput(QStringLiteral("engine.fuel_control")));
    auto *metered = editor<QComboBox>("engine.fuel_control");
    QTest::keyClick(metered, Qt::Key_Down);
    settle();
    QVERIFY(now().control == FuelControl::mechanical);
    QVERIFY(!part("injectors")->isVisible() && part("nozzles")->isVisible());
    QVERIFY(part("controller")->isVisible() && !part("controller")->state().fitted);
}

void JobSheetTest::whatIsNotStatedLooksSo() {
    m_window->open(bare());
    job()->showInput(QStringLiteral("engine.rod_ratio"));
    settle();
    auto *edit = editor<QLineEdit>("engine.rod_ratio");
    QCOMPARE(edit->property("known").toString(), QStringLiteral("unknown"));
    edit->setFocus();
    edit->selectAll();
    QTest::keyClicks(edit, QStringLiteral("3.2")); // what stood there
    QTest::keyClick(edit, Qt::Key_Return);
    settle();
    QCOMPARE(edit->property("known").toString(), QStringLiteral("stated"));
    QVERIFY(isStated(now(), "engine.rod_ratio"));
    m_window->session.undo();
    settle();
    QCOMPARE(edit->property("known").toString(), QStringLiteral("unknown"));
    // The drawing is copied in words, part by part, and as a picture.
    part("tank")->setFocus();
    for (QAction *a : m_window->shell.allActions())
        if (a->text() == QStringLiteral("&Copy")) a->trigger();
    const QString words = QApplication::clipboard()->text();
    for (const PartState &p : job()->sheet()->states())
        if (p.fitted) QVERIFY2(words.contains(text(p.part->title)), qPrintable(text(p.part->title)));
    job()->sheet()->copyPicture();
    QCOMPARE(QApplication::clipboard()->pixmap().size(), job()->sheet()->size());
}

// A 0 that is no quantity is shown as what it says, typed as nothing or as 0, and undone.
void JobSheetTest::nothingIsSaidInAWord() {
    Job start = demoFile("thistle");
    start.boost.cutKpa = 0;
    m_window->open(start);
    job()->showInput(QStringLiteral("boost.cut_kpa"));
    settle();
    auto *edit = editor<QLineEdit>("boost.cut_kpa");
    QVERIFY(edit && edit->text().isEmpty());
    QCOMPARE(edit->placeholderText(), QStringLiteral("none"));
    const auto type = [&](const QString &typed) {
        edit->setFocus();
        edit->selectAll();
        if (typed.isEmpty())
            QTest::keyClick(edit, Qt::Key_Delete);
        else
            QTest::keyClicks(edit, typed);
        QTest::keyClick(edit, Qt::Key_Return);
        settle();
    };
    type(QStringLiteral("250 kPa"));
    QCOMPARE(now().boost.cutKpa, 250.0);
    QVERIFY(edit->text().startsWith(QStringLiteral("250")));
    type({});
    QCOMPARE(now().boost.cutKpa, 0.0);
    QVERIFY(edit->text().isEmpty() && isStated(now(), "boost.cut_kpa"));
    m_window->session.undo();
    settle();
    QCOMPARE(now().boost.cutKpa, 250.0);
    type(QStringLiteral("0"));
    QCOMPARE(now().boost.cutKpa, 0.0);
    QVERIFY(edit->text().isEmpty());
    QCOMPARE(text(saidContent(*fieldByPath("boost.cut_kpa"), 0.0)), QStringLiteral("none"));
    QVERIFY(text(saidContent(*fieldByPath("boost.cut_kpa"), 250.0)).startsWith(QStringLiteral("250")));
    // A field of which 0 is a number like others does not take nothing for it.
    job()->showInput(QStringLiteral("tank.line_l"));
    settle();
    edit = editor<QLineEdit>("tank.line_l");
    const QString was = edit->text();
    QVERIFY(!was.isEmpty() && edit->placeholderText().isEmpty());
    type({});
    QCOMPARE(edit->text(), was);
}

void JobSheetTest::nextLeadsToTheLeastKnownPart() {
    Job start = demoFile("thistle");
    stateEverything(start);
    start.engine.chargeCooler = ChargeCooler::water;
    start.contentSensing.onFault = SensorFaultRule::holdLast;
    start.boost.springKpa = 0;
    m_window->open(start);
    auto *next = job()->findChild<QLabel *>(QStringLiteral("next"));
    auto *go = job()->findChild<QPushButton *>(QStringLiteral("go"));
    settle();
    QVERIFY2(next->text().contains(QStringLiteral("Wastegate")), qPrintable(next->text()));
    QTest::mouseClick(go, Qt::LeftButton);
    settle();
    QCOMPARE(job()->sheet()->chosen(), std::string_view("wastegate"));
    auto *spring = editor<QLineEdit>("boost.spring_kpa");
    QVERIFY(spring->hasFocus());
    QTest::keyClicks(spring, QStringLiteral("70"));
    QTest::keyClick(spring, Qt::Key_Return);
    settle();
    // All is stated: then the verdict speaks, and the way leads to it.
    QVERIFY2(!next->text().contains(QStringLiteral("Not stated")), qPrintable(next->text()));
    QTest::mouseClick(go, Qt::LeftButton);
    QCOMPARE(m_window->shell.station(), QStringLiteral("verify"));
}

// Under the drawing stand the same units as in every field.
void JobSheetTest::partsSpeakInTheChosenUnits() {
    m_window->open(demoFile("thistle"));
    const auto saying = [&](const char *unit) {
        int count = 0;
        for (const auto *b : job()->sheet()->findChildren<PartButton *>())
            count += b->accessibleDescription().contains(QString::fromUtf8(unit));
        return count;
    };
    QVERIFY(saying("kPa") >= 3);
    UnitChoice units = m_window->session.units();
    units.pressureUnit = "psi";
    m_window->session.setUnits(units);
    settle();
    QCOMPARE(saying("kPa"), 0);
    QVERIFY(saying("psi") >= 3);
}

int main(int argc, char **argv) {
    QApplication app(argc, argv);
    return run<JobSheetTest>(argc, argv);
}
#include "job_sheet_test.moc"
