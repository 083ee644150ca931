// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/error.h"
#include "core/base/limits.h"
#include "core/explain/explain_cell.h"
#include "core/job/job_change.h"
#include "core/job/job_schema.h"
#include "core/job/tank_history.h"
#include "core/study/two_table_school.h"
#include "support/phrases.h"
#include "support/random_job.h"
#include "support/test_main.h"

#include <limits>
#include <set>

using namespace wheelwright;
using testing::said;

/// The lists that describe a job, and the differences between jobs.
class JobTest : public QObject {
    Q_OBJECT
  private slots:
    void listsAreWellFormed();
    void everyFieldWritesAndReads();
    void everyFieldRefusesNonsense();
    void recordsWriteReadAndRefuse();
    void tankFollowsItsHistory();
    void everyLimitHasAnOrigin();
    void fieldsAreCheckedAgainstEachOther();
    void differencesApplyBothWays();
    void noDifferenceIsEmpty();
    void aCellEditNamesOneCell();
    void explanationsShowTheSum();
};

void JobTest::listsAreWellFormed() {
    std::set<std::string> paths;
    for (const Field &f : allFields()) {
        QVERIFY2(paths.insert(f.path).second, f.path.c_str());
        QVERIFY2(!f.title.empty() && !f.help.empty(), f.path.c_str());
        QCOMPARE(f.choices.size(), f.choiceTitles.size());
    }
    for (const CurveField &c : allCurves())
        QVERIFY2(paths.insert(c.path).second, c.path.c_str());
    for (const TableField &t : allTables()) {
        QVERIFY2(paths.insert(t.path).second, t.path.c_str());
        QCOMPARE(&tableOf(t.quantity, t.top), &t);
    }
    QVERIFY(!fieldByPath("nothing") && !curveByPath("nothing") && !tableByPath("nothing"));
}

void JobTest::everyFieldWritesAndReads() {
    for (const Field &f : allFields()) {
        Job job = newJob("x");
        FieldContent other = f.read(job);
        if (double *v = std::get_if<double>(&other))
            *v = f.whole ? f.least : (f.least + f.most) / 2;
        else if (bool *b = std::get_if<bool>(&other))
            *b = !*b;
        else
            other = f.choices.empty() ? std::string("different") : f.choices.back();
        validate(f, other);
        f.write(job, other);
        QVERIFY2(f.read(job) == other, f.path.c_str());
    }
}

void JobTest::everyFieldRefusesNonsense() {
    for (const Field &f : allFields()) {
        const FieldContent kind = f.read(newJob("x"));
        if (std::holds_alternative<double>(kind)) {
            for (double v :
                 {f.least - 1e-3 - std::abs(f.least) * 0.01, f.most * 1.01 + 1,
                  std::numeric_limits<double>::quiet_NaN(), std::numeric_limits<double>::infinity()})
                EXPECT_INPUT_ERROR(validate(f, FieldContent(v)), f.path.c_str());
            EXPECT_INPUT_ERROR(validate(f, FieldContent(std::string("12"))), f.path.c_str(), "a number");
        } else {
            EXPECT_INPUT_ERROR(validate(f, FieldContent(3.0)), f.path.c_str());
        }
        if (!f.choices.empty())
            EXPECT_INPUT_ERROR(validate(f, FieldContent(std::string("neither"))), f.path.c_str(), "one of",
                               "neither");
    }
    EXPECT_INPUT_ERROR(validate(*fieldByPath("engine.cylinders"), FieldContent(4.5)), "whole");
}

void JobTest::recordsWriteReadAndRefuse() {
    for (const RecordList &l : allRecordLists()) {
        std::set<std::string> keys;
        Job job = newJob("x");
        l.resize(job, 2);
        for (const RecordField &f : l.fields) {
            QVERIFY2(keys.insert(f.key).second && !f.title.empty() && !f.help.empty(), f.key.c_str());
            QCOMPARE(f.choices.size(), f.choiceTitles.size());
            FieldContent other = f.read(job, 1);
            if (double *v = std::get_if<double>(&other)) {
                *v = f.most / 2;
                EXPECT_INPUT_ERROR(validate(l, f, 1, FieldContent(f.most * 2 + 1)), l.path + " 2 " + f.key);
                EXPECT_INPUT_ERROR(validate(l, f, 1, FieldContent(std::nan(""))), "not a number");
            } else if (bool *b = std::get_if<bool>(&other)) {
                *b = !*b;
            } else {
                other = f.table()           ? std::string("x 1 2; y 3; cells 4 5")
                        : f.choices.empty() ? std::string("different")
                                            : f.choices.back();
                if (f.table())
                    EXPECT_INPUT_ERROR(validate(l, f, 1, FieldContent(std::string("no table"))), f.key);
            }
            EXPECT_INPUT_ERROR(validate(l, f, 1, other.index() == 0 ? FieldContent(true) : FieldContent(1.0)),
                               f.key);
            f.write(job, 1, other);
            QVERIFY2(f.read(job, 1) == other && !(f.read(job, 0) == other), f.key.c_str());
        }
        const RecordContents contents = recordsOf(job, l);
        Job copy = newJob("y");
        setRecords(copy, l, contents);
        QVERIFY(recordsOf(copy, l) == contents);
    }
    Job job = newJob("x");
    job.shelf.resize(1);
    job.shelf[0].ethanol = job.shelf[0].methanol = 0.6;
    EXPECT_INPUT_ERROR(validate(job), "fuel.shelf 1", "together");
    job.shelf.resize(9);
    EXPECT_INPUT_ERROR(validate(job), "fuel.shelf", "at most 8");
}

void JobTest::tankFollowsItsHistory() {
    using enum TankEventKind;
    const auto event = [](TankEventKind kind, double litres, double ethanol = 0) {
        TankEvent e;
        e.kind = kind;
        e.litres = litres;
        e.ethanol = ethanol;
        return e;
    };
    Job job = newJob("x");
    QCOMPARE(tankNow(job).volumeL, 0.0);
    job.tankEvents = {event(level, 30), event(content, 0, 0.59), event(burn, 3.16), event(pour, 30)};
    validate(job);
    COMPARE_NEAR(tankNow(job).volumeL, 56.84, 1e-9);
    COMPARE_NEAR(tankNow(job).content.ethanol.fraction(), 26.84 * 0.59 / 56.84, 1e-12);
    job.tankEvents.push_back(event(drain, 60));
    EXPECT_INPUT_ERROR(validate(job), "tank.events 5", "drain", "56.84");
    job.tankEvents.back() = event(pour, 30, 0.85);
    EXPECT_INPUT_ERROR(validate(job), "tank.events 5", "room");
}

void JobTest::everyLimitHasAnOrigin() {
    std::set<std::string_view> ids;
    Job job = newJob("x");
    for (const LimitDefinition &l : allLimits()) {
        QVERIFY2(ids.insert(l.id).second, l.id.data());
        QVERIFY(!l.origin.empty() && !l.title.empty());
        QVERIFY(l.shipped >= l.least && l.shipped <= l.most);
        QCOMPARE(limitOf(job, l.id), l.shipped);
        job.limits[std::string(l.id)] = l.least;
        QCOMPARE(limitOf(job, l.id), l.least);
        QCOMPARE(said(limitOrigin(job, l.id)), std::string("user"));
        EXPECT_INPUT_ERROR(validateLimit(std::string(l.id), l.most + 1), l.id.data());
    }
    EXPECT_INPUT_ERROR(limitOf(job, "flow.dutty"), "flow.dutty");
}

void JobTest::fieldsAreCheckedAgainstEachOther() {
    Job job = newJob("x");
    job.calibration.topContent = job.calibration.baseContent;
    EXPECT_INPUT_ERROR(validate(job), "calibration.top_content");
    job = newJob("x");
    job.engine.mapSensorMaxKpa = 90;
    job.engine.mapSensorMinKpa = 100;
    EXPECT_INPUT_ERROR(validate(job), "map_sensor_max_kpa");
    job = newJob("x");
    job.conditions.intakeColdestC = 60;
    EXPECT_INPUT_ERROR(validate(job), "intake_coldest_c");
    job = newJob("x");
    job.calibration.of(CalibratedQuantity::lambda).top.setCell({2, 3}, 7);
    EXPECT_INPUT_ERROR(validate(job), "calibration.lambda.top row 4, column 3", "0.5 to 1.5");
}

void JobTest::differencesApplyBothWays() {
    for (unsigned seed = 0; seed < 25; ++seed) {
        const Job a = testing::randomJob(seed);
        Job b = testing::randomJob(seed + 100);
        if (seed % 2) { // the same axes, other cells
            b.calibration.tables = a.calibration.tables;
            b.calibration.of(CalibratedQuantity::fuel).base.setCell({0, 1}, 42);
            b.calibration.baseContent = a.calibration.baseContent;
            b.calibration.topContent = a.calibration.topContent;
        }
        const JobChange change = difference(a, b);
        Job forth = a;
        apply(forth, change);
        QVERIFY(forth == b);
        apply(forth, reversed(change));
        QVERIFY(forth == a);
        QVERIFY(reversed(reversed(change)) == change);
        QVERIFY(difference(b, a) == reversed(change));
    }
}

void JobTest::noDifferenceIsEmpty() {
    const Job a = testing::randomJob(1);
    QVERIFY(difference(a, a).empty());
}

void JobTest::aCellEditNamesOneCell() {
    const Job a = testing::demoJob();
    Job b = a;
    b.calibration.of(CalibratedQuantity::spark).top.setCell({5, 7}, 11);
    b.limits["flow.duty.stop"] = 0.9;
    const JobChange change = difference(a, b);
    QCOMPARE(change.cells.size(), std::size_t{1});
    QCOMPARE(change.cells[0].path, std::string("calibration.spark.top"));
    QCOMPARE(change.cells[0].cells.size(), std::size_t{1});
    QCOMPARE(change.limits.size(), std::size_t{1});
    QVERIFY(change.fields.empty() && change.tables.empty() && change.curves.empty());
}

void JobTest::explanationsShowTheSum() {
    const Job job = testing::demoJob();
    const CellIndex cell{14, 16};
    const Explanation now = explainBlendedCell(Study(job), CalibratedQuantity::spark, 0.52, cell);
    COMPARE_NEAR(now.result.value, Study(job).blended(CalibratedQuantity::spark, 0.52).cell(cell), 1e-12);
    // The numbers put in must give the result: (1 − w)·A + w·B.
    const double w = now.substituted.values[0].value;
    COMPARE_NEAR((1 - w) * now.substituted.values[1].value + w * now.substituted.values[2].value,
                 now.result.value, 1e-12);
    for (const Explanation &x :
         {now, explainTableCell(Study(job), CalibratedQuantity::fuel, true, 0.52, cell),
          explainWeight(Study(job), CalibratedQuantity::fuel, 0.52)}) {
        QVERIFY(!x.title.empty() && !x.formula.empty() && !x.source.empty() && !x.inputs.empty());
        QVERIFY(format(x.substituted, UnitChoice{}).find('{') == std::string::npos);
        QVERIFY(format(x.change, UnitChoice{}).find('{') == std::string::npos);
    }
    QVERIFY(format(explainBlendedCell(Study(job), CalibratedQuantity::spark, 0.95, cell).change, UnitChoice{})
                .starts_with("Held"));
}

CORE_TEST_MAIN(JobTest)
#include "job_test.moc"
