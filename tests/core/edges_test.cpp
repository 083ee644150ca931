// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/error.h"
#include "core/base/iso_date.h"
#include "core/base/limits.h"
#include "core/fuel/tank.h"
#include "core/job/job_change.h"
#include "core/job/named_tables.h"
#include "core/job/revision.h"
#include "core/job/tank_history.h"
#include "core/study/boost_plan.h"
#include "core/study/cell_trust.h"
#include "core/study/content_curve.h"
#include "core/study/fuel_delivery.h"
#include "core/study/headroom.h"
#include "core/study/load_axis.h"
#include "core/study/pour_effect.h"
#include "core/study/return_flow.h"
#include "core/study/school.h"
#include "core/study/school_conversion.h"
#include "core/tables/lambda_lines.h"
#include "core/tables/region_edit.h"
#include "core/tables/table_kind.h"
#include "core/verify/verdict.h"
#include "support/phrases.h"
#include "support/random_job.h"
#include "support/test_main.h"

#include <algorithm>

using namespace wheelwright;
using testing::said;
using testing::says;
using namespace wheelwright::testing;
using Q = CalibratedQuantity;

namespace {

const Verdict::Row &rowOf(const Verdict &v, std::string_view id) {
    const auto at = std::ranges::find(v.rows, id, [](const Verdict::Row &r) { return r.check->id; });
    if (at == v.rows.end()) qFatal("no such check");
    return *at;
}

const WorstPlace &placeAt(const Verdict &v, std::string_view id, double content) {
    return *std::ranges::min_element(rowOf(v, id).outcome.byContent, {}, [content](const WorstPlace &p) {
        return std::abs(p.content - content);
    });
}

double inputOf(const Explanation &x, const std::string &title) {
    for (const ExplanationInput &i : x.inputs)
        if (said(i.title) == title) return i.value.value;
    return -99;
}

Job changed(Job job, const std::function<void(Job &)> &change) {
    change(job);
    return job;
}

// Pumps so weak that little comes back at high flow.
Job weakPumps() {
    return changed(demoJob(), [](Job &j) {
        for (PumpPoint &p : j.supply.points)
            p.flowLMin *= 0.8;
        j.supply.freezeLoadKpa = j.supply.freezeRpm = 0;
    });
}

} // namespace

/// What stands at an edge, last in a list, or second of two: the places where slips hide.
class EdgesTest : public QObject {
    Q_OBJECT
  private slots:
    void echoedTextIsOneShortLine();
    void datesOfTheCalendar_data();
    void datesOfTheCalendar();
    void fieldsAgainstEachOther_data();
    void fieldsAgainstEachOther();
    void listsAndWholeNumbers();
    void changesGoBothWays();
    void everyHeldPathIsRestored();
    void locksOfEitherTableHold();
    void locksMoveWithTheLoadAxis();
    void windowsThatOverlap();
    void aStackHoldsBeyondBothEnds();
    void fuelModelToTwoTablesCountsCOnce();
    void searchesIncludeTheirEnds();
    void everyCheckJudgesEveryContent();
    void aValueAtItsLimitIsClear();
    void leanLineOfMethanolOverLoad();
    void readingsAtTheEdgeAreBelieved();
    void theLastSentRevisionCounts();
    void windowsAreAskedUpToTheLastFuel();
    void dutyIsOfTheColdestAir();
    void theFreezeLineClears();
    void pumpsEndTheFrontierByTheirMargin();
    void boostGoesOnAlongTheLastSlope();
    void whatIfCountsTheOvershoot();
    void tanksToTheLastDrop();
};

void EdgesTest::echoedTextIsOneShortLine() {
    QCOMPARE(echoed("plain", 10), std::string("plain"));
    QCOMPARE(echoed("a\nb\tc\x7F"
                    "d",
                    20),
             std::string("a b c d"));
    QCOMPARE(echoed(std::string("a\0b", 3), 20), std::string("a b"));
    QCOMPARE(echoed("1234567890", 10), std::string("1234567890"));
    QCOMPARE(echoed("1234567890A", 10), std::string("12345…7890A"));
    QCOMPARE(echoed("\xC3\x28 \xFF", 20), std::string("?( ?"));
    QCOMPARE(echoed("λ°±", 20), std::string("λ°±"));
    QCOMPARE(echoed("\xED\xA0", 20), std::string("??")); // cut off
    for (std::size_t most = 4; most < 24; ++most) {      // never in the middle of a letter
        const std::string cut = echoed("λλλλλλλλλλλλλλλλλλλλ", most);
        QCOMPARE(QString::fromStdString(cut).toStdString(), cut);
        QVERIFY(!QString::fromStdString(cut).contains(QChar::ReplacementCharacter));
        QVERIFY(cut.size() <= most + 3); // the ellipsis
    }
    QVERIFY(echoed(std::string(10'000'000, 'x'), 40).size() < 50);
    const InputError e(std::string(1000, 'w'), verbatim(std::string(1000, 'e')), std::string(1000, 'f'));
    QVERIFY(std::string(e.what()).size() < 520);
    QCOMPARE(said(e.words()), std::string(e.what()));
    QVERIFY(said(e.wordsAt("there")).starts_with("there: expected eee"));
}

// ISO 8601-1:2019; leap years by the Gregorian rule.
void EdgesTest::datesOfTheCalendar_data() {
    QTest::addColumn<QString>("text");
    QTest::addColumn<bool>("good");
    for (const char *text :
         {"2001-02-03", "2000-02-29", "2024-02-29", "2001-12-31T23:59", "2001-02-03T04:05:06",
          "2001-02-03T04:05:06Z", "2001-02-03T04:05:60Z", "2001-02-03T04:05:06.789Z",
          "2001-02-03T04:05:06+01:00", "2001-02-03T04:05-11:30"})
        QTest::newRow(text) << text << true;
    for (const char *text : {"",
                             "last Tuesday",
                             "1900-02-29",
                             "2001-02-29",
                             "2001-04-31",
                             "2001-13-01",
                             "2001-00-01",
                             "2001-01-00",
                             "2001-1-1",
                             "01-02-2003",
                             "2001-02-03 04:05",
                             "2001-02-03T24:00",
                             "2001-02-03T04:60",
                             "2001-02-03T04:05:61",
                             "2001-02-03T04:05:06.",
                             "2001-02-03T04:05:06Zx",
                             "2001-02-03T04:05:06+1:00",
                             "2001-02-03T",
                             "2001-02-03T04",
                             "2001-02-03x"})
        QTest::newRow(text[0] ? text : "nothing") << text << false;
}

void EdgesTest::datesOfTheCalendar() {
    QFETCH(QString, text);
    QFETCH(bool, good);
    QCOMPARE(isIsoDate(text.toStdString()), good);
    if (good && text.size() == 10)
        QCOMPARE(*dayOf(text.toStdString()),
                 static_cast<int>(QDate(1970, 1, 1).daysTo(QDate::fromString(text, Qt::ISODate))));
    const Job job = changed(demoJob(), [&](Job &j) { j.tankEvents[0].at = text.toStdString(); });
    if (good || text.isEmpty())
        validate(job);
    else
        EXPECT_INPUT_ERROR(validate(job), "tank.events 1 at", "a date");
}

void EdgesTest::fieldsAgainstEachOther_data() {
    QTest::addColumn<int>("which");
    QTest::addColumn<QString>("where");
    int i = 0;
    for (const char *where : {"spark.coolant_usual_c", "spark.coolant_usual_c",
                              "content_sensor.plausible_most", "engine.map_sensor_max_kpa",
                              "conditions.intake_coldest_c", "calibration.top_content", "aux.full_kpa"})
        QTest::addRow("%d %s", i, where) << i << QString::fromLatin1(where), ++i;
}

// Equal is allowed where 'between' is; a little beyond is not.
void EdgesTest::fieldsAgainstEachOther() {
    QFETCH(int, which);
    QFETCH(QString, where);
    const auto with = [&](double beyond) {
        return changed(demoJob(), [&](Job &j) {
            switch (which) {
            case 0:
                j.sparkDelivery.coolantUsualC = j.sparkDelivery.coolantHotC + beyond;
                break;
            case 1:
                j.sparkDelivery.coolantColdC = j.sparkDelivery.coolantUsualC + beyond;
                break;
            case 2:
                j.contentSensing.plausibleLeast = 0.6;
                j.contentSensing.plausibleMost = 0.6 - beyond;
                break;
            case 3:
                j.engine.mapSensorMinKpa = 100;
                j.engine.mapSensorMaxKpa = 100.5 - beyond;
                break;
            case 4:
                j.conditions.intakeColdestC = j.conditions.intakeUsualC + beyond;
                break;
            case 5:
                j.calibration.topContent = j.calibration.baseContent + 0.01 - beyond / 100;
                break;
            default:
                j.aux.spray.startKpa = 150;
                j.aux.spray.fullKpa = 150 - beyond;
            }
        });
    };
    validate(with(0));
    EXPECT_INPUT_ERROR(validate(with(0.6)), where.toUtf8().constData());
}

void EdgesTest::listsAndWholeNumbers() {
    for (const RecordList &l : allRecordLists()) {
        Job job = demoJob();
        l.resize(job, l.most + 1);
        EXPECT_INPUT_ERROR(validate(l, job), l.path, "at most " + std::to_string(l.most));
    }
    for (const Field &f : allFields())
        if (f.whole) {
            validate(f, FieldContent(f.least));
            EXPECT_INPUT_ERROR(validate(f, FieldContent(f.least + 0.5)), f.path, "whole");
        }
}

void EdgesTest::changesGoBothWays() {
    for (unsigned seed = 0; seed < 12; ++seed) {
        Job a = randomJob(seed), b = randomJob(seed + 50);
        a.limits["flow.duty.stop"] = 0.9;
        b.limits.erase("flow.duty.stop");
        b.limits["flow.sag"] = 0.1;
        const JobChange there = difference(a, b);
        Job job = a;
        apply(job, there);
        QVERIFY(job == b && originTexts(job) == originTexts(b));
        QVERIFY(reversed(there) == difference(b, a));
        apply(job, reversed(there));
        QVERIFY(job == a && originTexts(job) == originTexts(a));
    }
}

void EdgesTest::everyHeldPathIsRestored() {
    const std::array held{"calibration.",       "injectors.",          "spark.",
                          "content_sensor.",    "boost.cut_kpa",       "engine.rev_limit_rpm",
                          "engine.map_sensor_", "engine.throttle_kpa", "supply.freeze_"};
    const auto isHeld = [&](const std::string &path) {
        return std::ranges::any_of(held, [&](const char *p) { return path.starts_with(p); });
    };
    for (unsigned seed = 0; seed < 8; ++seed) {
        const Job was = randomJob(seed), other = randomJob(seed + 70);
        const Job back = restored(other, Revision{.name = "r", .state = stateOf(was)});
        int fields = 0;
        for (const Field &f : allFields()) {
            QVERIFY2(f.read(back) == f.read(isHeld(f.path) ? was : other), f.path.c_str());
            fields += isHeld(f.path);
        }
        QVERIFY(fields > 20);
        for (const CurveField &c : allCurves())
            QVERIFY2(c.in(back) == c.in(isHeld(c.path) ? was : other), c.path.c_str());
        for (const TableField &t : allTables())
            QVERIFY2(t.of(back) == t.of(was), t.path.c_str());
        for (const char *list :
             {"calibration.levels", "calibration.extras", "calibration.cell_marks", "injectors.dead_times"})
            QVERIFY2(recordListByPath(list)->same(back, was), list);
        QVERIFY(originTexts(back) == originTexts(was));
    }
}

void EdgesTest::locksOfEitherTableHold() {
    for (const bool top : {false, true}) {
        Job job = demoJob();
        const std::string path = top ? "calibration.spark.top" : "calibration.spark.base";
        const Table2D &table = job.calibration.of(Q::spark).base;
        setLocked(job, path, table, {{3, 4}}, true);
        const std::vector<bool> locks = locksOfBlend(Study(job), Q::spark, 0.5);
        QCOMPARE(std::ranges::count(locks, true), 1);
        QVERIFY(locks[4 * table.x().size() + 3]);
        // Whatever was done to the tables, the locked cell of that one stands, and only that.
        Job after = job;
        after.calibration.of(Q::spark).base = Table2D::uniform(table.x(), table.y(), 3);
        after.calibration.of(Q::spark).top = Table2D::uniform(table.x(), table.y(), 3);
        keepLocked(job, after);
        for (const bool other : {false, true}) {
            const Table2D &now =
                other ? after.calibration.of(Q::spark).top : after.calibration.of(Q::spark).base;
            const Table2D &was = other ? job.calibration.of(Q::spark).top : job.calibration.of(Q::spark).base;
            QCOMPARE(now.cell(3, 4), other == top ? was.cell(3, 4) : 3.0);
            QCOMPARE(std::ranges::count(now.cells(), 3.0),
                     static_cast<std::ptrdiff_t>(now.cells().size()) - (other == top));
        }
    }
}

void EdgesTest::locksMoveWithTheLoadAxis() {
    Job job = demoJob();
    const Table2D before = job.calibration.of(Q::spark).base;
    setLocked(job, "calibration.spark.base", before, {{3, 4}, {7, 9}}, true);
    setNote(job, "calibration.fuel.top", before.x()[2], job.calibration.of(Q::fuel).top.y()[5], "here");
    const Job moved = changeLoadAxis(job, LoadAxis::airMass);
    const Table2D &after = moved.calibration.of(Q::spark).base;
    QVERIFY(after.y() != before.y());
    QVERIFY(locksOf(moved, "calibration.spark.base", after) ==
            locksOf(job, "calibration.spark.base", before));
    QVERIFY(markAt(moved, "calibration.fuel.top", before.x()[2], moved.calibration.of(Q::fuel).top.y()[5]));
}

void EdgesTest::windowsThatOverlap() {
    Job job = convertSchool(demoJob(), {School::windowSet, {0.1, 0.5, 0.85}, 0.03}).job;
    auto &levels = job.calibration.levels;
    levels[0].windowLow = 0;
    levels[0].windowHigh = 0.6; // wide
    levels[1].windowLow = 0.4;
    levels[1].windowHigh = 0.55; // narrow, inside it
    validate(job);
    const SchoolModel school(job);
    const auto fileFor = [&](double content) { return school.at(Q::spark, content).lowContent; };
    QCOMPARE(fileFor(0.2), 0.1);
    QCOMPARE(fileFor(0.4), 0.5); // the narrower one is the more exact; its ends belong to it
    QCOMPARE(fileFor(0.5), 0.5);
    QCOMPARE(fileFor(0.55), 0.5);
    QCOMPARE(fileFor(0.58), 0.1);
    QVERIFY(!school.at(Q::spark, 0.55).outside && school.at(Q::spark, 0.65).outside);
    for (const auto &[low, high] : {std::pair{0.51, 0.6}, std::pair{0.4, 0.49}}) {
        levels[1].windowLow = low;
        levels[1].windowHigh = high;
        EXPECT_INPUT_ERROR(validate(job), "calibration.levels 2 window", "holds its content 0.5");
    }
}

void EdgesTest::aStackHoldsBeyondBothEnds() {
    Job job = convertSchool(demoJob(), {School::stack, {0.1, 0.5, 0.85}, 0.03}).job;
    for (const double content : {0.0, 0.1, 0.3, 0.5, 0.7, 0.85, 0.9, 1.0}) {
        const BlendEnds ends = SchoolModel(job).at(Q::spark, content);
        QCOMPARE(ends.outside, content < 0.1 || content > 0.85);
        const double held = std::clamp(content, 0.1, 0.85);
        COMPARE_NEAR(ends.lowContent + ends.weight * (ends.highContent - ends.lowContent), held, 1e-12);
    }
    job.calibration.outside = OutsideRule::extrapolate;
    QVERIFY(SchoolModel(job).at(Q::spark, 0.9).weight > 1 && SchoolModel(job).at(Q::spark, 0.9).extrapolated);
}

void EdgesTest::fuelModelToTwoTablesCountsCOnce() {
    Job job = convertSchool(demoJob(), {School::fuelModel, {}, 0.03}).job;
    job.calibration.learnedFuelCorrection = Curve({0, 0.1, 0.5, 0.85, 1}, {1.02, 1, 1.04, 1.08, 1.1});
    const Job two = convertSchool(job, {School::twoTables, {}, 0.03}).job;
    for (const double content : {0.1, 0.5, 0.85}) {
        const Table2D was = Study(job).blended(Q::fuel, content), is = Study(two).blended(Q::fuel, content);
        for (std::size_t i = 0; i < was.cells().size(); i += 7)
            COMPARE_NEAR(is.cells()[i], was.cells()[i], content == 0.5 ? 0.01 : 1e-9);
    }
    const double c =
        Study(job).blended(Q::fuel, 0.85).cell(5, 5) / Study(job).blended(Q::fuel, 0.1).cell(5, 5);
    COMPARE_NEAR(c, 1.08, 1e-9); // and the model itself once
    // Back again: the same factor, 1 at the base content, whatever shape it had.
    const Job again = convertSchool(two, {School::fuelModel, {}, 0.03}).job;
    COMPARE_NEAR(again.calibration.learnedFuelCorrection.at(0.1), 1, 1e-9);
}

void EdgesTest::searchesIncludeTheirEnds() {
    const Table2D t(Axis({1000, 2000}), Axis({50, 100}), {10, 20, 30, 40});
    const auto count = [&](const char *query) {
        return find(t, parseCellQuery(query, Dimension::sparkAngle, UnitChoice{})).size();
    };
    QCOMPARE(count("> 20"), std::size_t{2});
    QCOMPARE(count(">= 20"), std::size_t{3});
    QCOMPARE(count("< 20"), std::size_t{1});
    QCOMPARE(count("<= 20"), std::size_t{2});
    QCOMPARE(count("= 20"), std::size_t{1});
}

void EdgesTest::everyCheckJudgesEveryContent() {
    std::vector<Job> jobs{demoJob(), weakPumps(),
                          convertSchool(demoJob(), {School::windowSet, {0.1, 0.85}, 0.03}).job};
    jobs.push_back(
        changed(demoJob(), [](Job &j) { j.contentSensing.onFault = SensorFaultRule::fixedContent; }));
    for (const Job &job : jobs) {
        const auto v = verify(job);
        for (std::size_t i = 0; i < v->contents.size(); ++i) {
            CheckState worst = CheckState::proven;
            for (const Verdict::Row &r : v->rows) {
                QCOMPARE(r.outcome.byContent.size(), v->contents.size());
                QCOMPARE(r.outcome.byContent[i].content, v->contents[i]);
                const CheckState state = r.check->state(r.outcome.byContent[i]);
                if (r.check->essential || state == CheckState::failing) worst = std::max(worst, state);
                QVERIFY(r.byContent[i] >= state); // never kinder than the numbers are
            }
            QVERIFY(v->overall[i] >= worst); // never kinder than its worst check
        }
    }
}

void EdgesTest::aValueAtItsLimitIsClear() {
    const double line = limitById("lambda.rich.gasoline").shipped;
    for (const double under : {0.0, 1e-12, 1e-6}) {
        const Job job = changed(demoJob(), [&](Job &j) {
            TwoTable &t = j.calibration.of(Q::lambda);
            t.base = t.top = Table2D::uniform(t.base.x(), t.base.y(), line - under);
        });
        const auto v = verify(job);
        const WorstPlace &p = placeAt(*v, "lambda.rich", 0);
        COMPARE_NEAR(p.limit, line, 1e-12);
        QCOMPARE(rowOf(*v, "lambda.rich").check->state(p),
                 under > 1e-9 ? CheckState::failing : CheckState::held);
        if (under < 1e-9) QCOMPARE(p.margin, 0.0);
    }
}

void EdgesTest::leanLineOfMethanolOverLoad() {
    const Job job = demoJob();
    const LeanLine line(job.limits);
    const double at100 = limitOf(job, "lambda.lean.100kpa"),
                 at150 = limitOf(job, "lambda.lean.methanol_150kpa");
    COMPARE_NEAR(line.at(100, 0, 1), at100, 1e-12);
    COMPARE_NEAR(line.at(125, 0, 1), (at100 + at150) / 2, 1e-12);
    COMPARE_NEAR(line.at(150, 0, 1), at150, 1e-12);
    COMPARE_NEAR(line.at(300, 0, 1), at150, 1e-12); // held
    COMPARE_NEAR(line.at(40, 0, 1), at100, 1e-12);
    COMPARE_NEAR(line.at(250, 0, 0), limitOf(job, "lambda.lean.250kpa"), 1e-12); // the last point of the axis
    COMPARE_NEAR(line.at(225, 0, 0),
                 (limitOf(job, "lambda.lean.200kpa") + limitOf(job, "lambda.lean.250kpa")) / 2, 1e-12);
    COMPARE_NEAR(line.at(200, 0.5, 0),
                 limitOf(job, "lambda.lean.200kpa") + 0.5 * limitOf(job, "lambda.lean.ethanol_allowance"),
                 1e-12);
    COMPARE_NEAR(richLine(job.limits, 0.25, 0.5),
                 0.25 * limitOf(job, "lambda.rich.gasoline") + 0.25 * limitOf(job, "lambda.rich.ethanol") +
                     0.5 * limitOf(job, "lambda.rich.methanol"),
                 1e-12);
}

void EdgesTest::readingsAtTheEdgeAreBelieved() {
    const auto explained = [](double least, double most, bool compared) {
        const Job job = changed(demoJob(), [&](Job &j) {
            j.contentSensing.onFault = SensorFaultRule::fixedContent;
            j.contentSensing.faultContent = 0.5;
            j.contentSensing.plausibleLeast = least;
            j.contentSensing.plausibleMost = most;
            j.contentSensing.comparedAfterFill = compared;
        });
        const auto v = verify(job);
        const WorstPlace &p = placeAt(*v, "content.sensor_fault", 0.5);
        return rowOf(*v, "content.sensor_fault").check->explain(v->study->evaluation(), p);
    };
    const Explanation all = explained(0, 1, false);
    QVERIFY(std::abs(inputOf(all, "reads 0 %: leaner by")) > 0.05);   // 0 % is a reading like any other
    QVERIFY(std::abs(inputOf(all, "reads 100 %: leaner by")) > 0.05); // and 100 %
    COMPARE_NEAR(inputOf(all, "signal lost: leaner by"), 0, 1e-9);    // falls back to what is in the tank
    QVERIFY(inputOf(all, "stuck: leaner by") != -99);
    const Explanation some = explained(0.001, 0.999, true);
    COMPARE_NEAR(inputOf(some, "reads 0 %: leaner by"), 0, 1e-9);
    COMPARE_NEAR(inputOf(some, "reads 100 %: leaner by"), 0, 1e-9);
    QCOMPARE(inputOf(some, "stuck: leaner by"), -99.0); // compared after every fill: seen
}

void EdgesTest::theLastSentRevisionCounts() {
    Job job = demoJob();
    keepRevision(job, "first", "2001-02-03", "", true);
    job.engine.revLimitRpm -= 100;
    keepRevision(job, "second", "2001-02-04", "", true);
    job.engine.revLimitRpm -= 100;
    keepRevision(job, "third, at home", "2001-02-05", "", false);
    const auto differ = [](const Job &j) {
        return rowOf(*verify(j), "guard.settings").outcome.worst().value;
    };
    QCOMPARE(differ(job), 1.0);
    job.engine.revLimitRpm += 100; // as it was sent last
    QCOMPARE(differ(job), 0.0);
    QCOMPARE(rowOf(*verify(job), "guard.settings").state, CheckState::held);
    job.engine.revLimitRpm += 100; // as it was sent first
    QCOMPARE(differ(job), 1.0);
    // Each kind of guarded setting is seen.
    for (const auto &change : std::vector<std::function<void(Job &)>>{
             [](Job &j) { j.supply.freezeLoadKpa += 5; }, [](Job &j) { j.boost.cutKpa += 5; },
             [](Job &j) { j.sparkDelivery.knockControl = !j.sparkDelivery.knockControl; },
             [](Job &j) { j.injectors.deadTimeMs += 0.1; }, [](Job &j) { j.contentSensing.slewPerS = 0.5; },
             [](Job &j) { j.sparkDelivery.baseTimingErrorDeg = 2; }}) {
        Job other = demoJob();
        keepRevision(other, "sent", "2001-02-03", "", true);
        change(other);
        QCOMPARE(differ(other), 1.0);
    }
}

void EdgesTest::windowsAreAskedUpToTheLastFuel() {
    Job job = convertSchool(demoJob(), {School::windowSet, {0.1, 0.5, 0.7}, 0.03}).job;
    double strongest = 0;
    for (const ShelfEntry &f : job.shelf)
        strongest = std::max(strongest, f.ethanol);
    QVERIFY(strongest > 0.9);
    const auto v = verify(job);
    QVERIFY(placeAt(*v, "content.window", strongest).margin < 0); // sold, and no file fits
    QVERIFY(placeAt(*v, "content.window", strongest - 0.01).margin < 0);
    QCOMPARE(placeAt(*v, "content.window", 1.0).margin, 1.0); // nobody sells it
}

void EdgesTest::dutyIsOfTheColdestAir() {
    for (const bool batch : {false, true}) {
        const Job job = changed(demoJob(), [&](Job &j) { j.injectors.batch = batch; });
        const auto v = verify(job);
        const WorstPlace &p = rowOf(*v, "flow.duty").outcome.worst();
        const BlendedPoint at = blendedPoint(Study(job), {p.content, p.rpm, p.loadKpa});
        const DutyWorking w =
            dutyAt(job, p.content, job.conditions.intakeColdestC, p.rpm, p.loadKpa, at.fuel, at.lambda);
        COMPARE_NEAR(w.duty, p.value, 1e-9);
        // The same pulse as the duty says: of a cycle of two turns, once or twice.
        COMPARE_NEAR(w.pulseMs * (batch ? 2 : 1) * p.rpm / 120000, w.duty, 1e-9);
        COMPARE_NEAR(engineFlowLMin(job, w.fuelMm3, p.rpm),
                     w.fuelMm3 * 1e-6 * job.engine.cylinders * p.rpm / 2, 1e-9);
    }
}

// Applied as it is given, the line leaves nothing to be asked for.
void EdgesTest::theFreezeLineClears() {
    Job job = weakPumps();
    QCOMPARE(rowOf(*verify(job), "content.freeze").state, CheckState::failing);
    const FreezeLine line = freezeLine(Study(job));
    QVERIFY(line.needed);
    job.supply.freezeLoadKpa = line.loadKpa;
    job.supply.freezeRpm = line.rpm;
    QVERIFY(rowOf(*verify(job), "content.freeze").state != CheckState::failing);
    const auto v = verify(weakPumps());
    const WorstPlace &p = rowOf(*v, "content.freeze").outcome.worst();
    const Job weak = weakPumps();
    const BlendedPoint at = blendedPoint(Study(weak), {p.content, p.rpm, p.loadKpa});
    const double engine = engineFlowLMin(weak,
                                         InjectorDemand(weak, p.content, weak.conditions.intakeColdestC)
                                             .mm3(at.fuel, {p.rpm, p.loadKpa}, at.lambda),
                                         p.rpm);
    COMPARE_NEAR(p.value, pumpFlowAt(weak, {p.rpm, p.loadKpa}) - engine, 1e-9);
}

void EdgesTest::pumpsEndTheFrontierByTheirMargin() {
    for (const double margin : {0.0, 0.07, 0.2, 0.1}) {
        const Job job = changed(weakPumps(), [&](Job &j) {
            j.supply.margin = margin;
            if (margin != 0.1) return;
            ExtraTable rail = newExtraTable(TableKind::railPressure, "Rail"); // driven by demand
            rail.table = Table2D(Axis({1000, 7000}), Axis({50, 250}), {280, 330, 360, 420});
            j.extras.push_back(rail);
        });
        for (const double content : {0.5, 0.85}) {
            const double kpa = boostAllowed(Study(job), LimitingPart::pump, content);
            QVERIFY(kpa > 100 && kpa < mostFrontierKpa);
            const InjectorDemand demand(job, content, job.conditions.intakeColdestC);
            const Study study(job);
            std::vector<double> rpms;
            for (double rpm = 700; rpm <= job.engine.revLimitRpm; rpm += 25)
                rpms.push_back(rpm);
            const std::vector<ReachAtSpeed> reach = study.reach(content, rpms);
            const double peak = std::ranges::max(reach, {}, &ReachAtSpeed::highestKpa).highestKpa;
            const auto loadAt = [&](std::size_t i, double at) { // boost peaks there
                return std::max(job.conditions.ambientKpa, reach[i].highestKpa + at - peak);
            };
            double worst = 0;
            for (std::size_t i = 0; i < rpms.size(); ++i) {
                const double load = loadAt(i, kpa);
                const BlendedPoint p = blendedPoint(study, {content, rpms[i], load});
                worst = std::max(worst,
                                 engineFlowLMin(job, demand.mm3(p.fuel, {rpms[i], load}, p.lambda), rpms[i]) *
                                     (1 + margin) / pumpFlowAt(job, {rpms[i], load}));
            }
            COMPARE_NEAR(worst, 1, 2e-3);
            const double duty = boostAllowed(Study(job), LimitingPart::dutyStop, content);
            double most = 0;
            for (std::size_t i = 0; i < rpms.size(); ++i) {
                const double load = loadAt(i, duty);
                const BlendedPoint p = blendedPoint(study, {content, rpms[i], load});
                most = std::max(
                    most, dutyAt(job, content, job.conditions.intakeColdestC, rpms[i], load, p.fuel, p.lambda)
                              .duty);
            }
            if (duty < mostFrontierKpa) COMPARE_NEAR(most, limitOf(job, "flow.duty.stop"), 2e-3);
        }
    }
    // In order: whoever ends the target first is said first; a line just over it never does.
    Job job = demoJob();
    const Frontier f = frontier(Study(job), 11);
    std::vector<double> over = f.peakKpa;
    for (double &kpa : over)
        kpa += 0.5;
    job.engine.boostLimitKpa = Curve(f.contents, over);
    const Frontier close = frontier(Study(job), 11);
    QVERIFY(close.sentences.front().part != LimitingPart::engine);
    for (const Frontier::Sentence &s : close.sentences)
        if (s.part == LimitingPart::engine) {
            QVERIFY2(says(s.words, "never reached"), said(s.words).c_str());
            COMPARE_NEAR(s.words.values.back().value, 0.5, 1e-9);
        }
    for (double &kpa : over)
        kpa -= 1;
    job.engine.boostLimitKpa = Curve(f.contents, over);
    QVERIFY(frontier(Study(job), 11).sentences.front().part == LimitingPart::engine);
}

void EdgesTest::boostGoesOnAlongTheLastSlope() {
    Job job = demoJob();
    job.boost.points.clear();
    for (const auto &[gear, duty, kpa] :
         {std::tuple{4.0, 0.1, 60.0}, std::tuple{3.0, 0.0, 50.0}, std::tuple{3.0, 0.1, 58.0},
          std::tuple{4.0, 0.0, 52.0}, std::tuple{3.0, 0.2, 66.0}}) {
        BoostPoint p;
        p.gear = gear;
        p.duty = duty;
        p.boostKpa = kpa;
        p.content = gear == 4 ? 0.8 : 0.85; // contents the other way round than gears
        job.boost.points.push_back(p);
    }
    const std::vector<BoostGroup> groups = boostGroups(job);
    QCOMPARE(groups.size(), std::size_t{2});
    QCOMPARE(groups[0].gear, 3.0);
    QCOMPARE(groups[1].gear, 4.0);
    QCOMPARE(groups[0].points.size(), std::size_t{3});
    COMPARE_NEAR(groups[0].content, 0.85, 1e-12);
    job.engine.boostLimitKpa = Curve::constant(300);
    const BoostStepPlan plan = planBoostSteps(Study(job), groups[0], 0.85);
    QVERIFY(plan.steps.size() >= 2);
    double from = plan.fromKpa, duty = 0.2;
    for (const BoostStep &s : plan.steps) {
        QVERIFY(s.beyond && s.boostKpa > from && s.duty > duty);
        COMPARE_NEAR((s.boostKpa - 66) / (s.duty - 0.2), 80,
                     1e-6); // 8 kPa for each tenth, as the last logged step
        from = s.boostKpa;
        duty = s.duty;
    }
}

void EdgesTest::whatIfCountsTheOvershoot() {
    Job job = demoJob();
    TwoTable &spark = job.calibration.of(Q::spark), &boost = job.calibration.of(Q::boost);
    boost.base = boost.top = Table2D::uniform(boost.base.x(), boost.base.y(), 190);
    spark.base = Table2D::uniform(Axis({1000, 4000}), Axis({100, 180, 200, 220}), 10);
    spark.top = spark.base;
    spark.top.setCell({1, 2},
                      20); // 10° more on the top fuel at 200 kPa: over the target, within the overshoot
    spark.top.setCell({1, 3}, 30); // and more at 220, beyond both
    const TankState high{40, {VolumeFraction::fraction(0.85), VolumeFraction::fraction(0)}};
    const Blend pump{VolumeFraction::fraction(0.1), VolumeFraction::fraction(0)};
    job.limits["boost.overshoot"] = 14;
    const PourEffect with = effectOfPour(Study(job), high, 20, pump);
    QCOMPARE(with.loadKpa, 200.0);
    QVERIFY(with.sparkDeg > with.sparkOfContentDeg + 2);
    job.limits["boost.overshoot"] = 0;
    QVERIFY(effectOfPour(Study(job), high, 20, pump).loadKpa < 200);
    COMPARE_NEAR(with.lambda, with.lambdaTarget * with.lambdaFactor, 1e-12);
    QVERIFY(with.lambdaFactor < 1); // less alcohol needs less fuel: rich
}

void EdgesTest::tanksToTheLastDrop() {
    const TankState tank{20, {VolumeFraction::fraction(0.5), VolumeFraction::fraction(0)}};
    QCOMPARE(afterDrain(tank, 20).volumeL, 0.0);
    QCOMPARE(afterDrain(tank, 20.04).volumeL, 0.0); // a can is read no better
    EXPECT_INPUT_ERROR(afterDrain(tank, 20.06), "drain", "at most");
    // A tank under the rest is filled as it is: what went in is what was missing.
    const FlushPlan p = planFlush(5, 0.5, 0.1, 10, 60, 0.12, 0.02);
    QCOMPARE(p.fills, 1);
    COMPARE_NEAR(p.fuelL, 55, 1e-12);
    COMPARE_NEAR(p.contents[0], (5 * 0.5 + 55 * 0.1) / 60, 1e-12);
    const FlushPlan two = planFlush(20, 0.9, 0.1, 20, 60, 0.2, 0.02);
    QCOMPARE(two.fills, 2);
    COMPARE_NEAR(two.fuelL, 80, 1e-12);
    // A whole fill would go past it: only so much of it as mixes to the target.
    const FlushPlan over = planFlush(20, 0.6, 0.1, 5, 60, 0.2, 0.01);
    QVERIFY(over.possible && over.fills == 1 && over.contents.size() == 1);
    COMPARE_NEAR(over.lastL, 20, 1e-9); // (5 · 0.6 + 20 · 0.1) / 25 = 0.2
    COMPARE_NEAR(over.fuelL, 20, 1e-9);
    COMPARE_NEAR(over.contents[0], 0.2, 1e-12);
    const FlushPlan up = planFlush(20, 0.1, 0.9, 30, 60, 0.7, 0.001);
    QVERIFY(up.possible && up.fills == 2 && up.lastL > 0 && up.lastL < 30);
    COMPARE_NEAR((30 * up.contents[0] + up.lastL * 0.9) / (30 + up.lastL), 0.7, 1e-9);
    const FlushPlan empty = planFlush(0, 0.1, 0.9, 0, 60, 0.7, 0.001); // nothing to mix it with
    QVERIFY(!empty.possible && empty.contents.empty());
    QCOMPARE(planFlush(50, 0.10, 0.85, 10, 60, 0.83, 0.01).lastL, 0.0);
}

CORE_TEST_MAIN(EdgesTest)
#include "edges_test.moc"
