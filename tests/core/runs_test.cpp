// SPDX-License-Identifier: GPL-3.0-or-later
// Runs as files bring them, and what they say next to each other.
#include "core/base/error.h"
#include "core/job/job_schema.h"
#include "core/job/revision.h"
#include "core/job/tank_history.h"
#include "core/runs/run_comparison.h"
#include "core/runs/run_intake.h"
#include "formats/job_json.h"
#include "formats/log_import/log_import.h"
#include "formats/run_csv.h"
#include "formats/run_file.h"
#include "support/phrases.h"
#include "support/random_job.h"
#include "support/test_main.h"

#include <array>
#include <random>

using namespace wheelwright;
using namespace wheelwright::testing;

namespace {

using R = ChannelRole;

double torqueOf(double rpm) {
    return 240 - (rpm - 4500) * (rpm - 4500) * 1.2e-5;
}

RunColumns columnsOf(const std::string &text, const std::vector<StatedColumn> &stated = {}) {
    const LogText bytes(text);
    return runColumns(*openLog(bytes), stated, {100, 14.7});
}

FoundPulls pullsOf(const std::string &text, const std::vector<StatedColumn> &stated = {}) {
    const RunColumns columns = columnsOf(text, stated);
    FoundPulls out;
    for (std::size_t i = 0; i < columns.sides.size(); ++i) {
        FoundPulls some = findPulls(columns.sides[i], columns.pullNumbers[i]);
        out.coastedRows += some.coastedRows;
        for (FoundPull &p : some.pulls)
            out.pulls.push_back(std::move(p));
    }
    return out;
}

/// Rows of a pull from one speed to another.
std::string rows(double from, double to, double step, const std::function<std::string(double)> &row) {
    std::string out;
    for (double rpm = from; from < to ? rpm <= to : rpm >= to; rpm += from < to ? step : -step)
        out += row(rpm) + "\n";
    return out;
}

std::string number(double v, int decimals = 2) {
    return QString::number(v, 'f', decimals).toStdString();
}

std::string metric(double rpm) {
    return number(rpm, 0) + "," + number(torqueOf(rpm)) + "," +
           number(torqueOf(rpm) * rpm / newtonMetreRpmPerKw);
}

struct Made {
    double gainKw = 0, order = 1, content = 0.1, spark = 14, boostKpa = 180, lambda = 0.8, noiseKw = 0;
    double warmC = 40;
    std::string fuel = "Pump";
};

/// A run whose power is a known curve, raised by a gain.
Run madeRun(const Made &m, unsigned seed = 1) {
    std::mt19937 random(seed);
    std::normal_distribution<double> normal(0, 1);
    const double shift = m.noiseKw * normal(random);
    RunSamples s;
    s.columns = {{R::rpm, "rpm", "rpm", 1, 0, {}},
                 {R::power, "kW", "kW", 1, 0, {}},
                 {R::spark, "spark", "deg", 1, 0, {}},
                 {R::map, "map", "kPa", 1, 0, {}},
                 {R::lambda, "lambda", "", 1, 0, {}}};
    for (double rpm = 2500; rpm <= 7000; rpm += 25) {
        const std::array values{rpm, torqueOf(rpm) * rpm / newtonMetreRpmPerKw + m.gainKw + shift, m.spark,
                                m.boostKpa, m.lambda};
        for (std::size_t k = 0; k < values.size(); ++k)
            s.columns[k].numbers.push_back(values[k]);
    }
    Run r;
    r.samples = DeferredText(runSamplesText(s));
    r.order = m.order;
    r.content = m.content;
    r.contentBasis = RunContentBasis::stated;
    r.fuel = m.fuel;
    r.mode = RunMode::inertia;
    r.startIntakeC = m.warmC;
    r.calibration = "0123";
    r.ambient = AmbientBasis::stated;
    r.standard = CorrectionStandard::none;
    return r;
}

MeasuredRuns made(const std::vector<Made> &all, int firstId = 1, unsigned seed = 1) {
    MeasuredRuns out;
    for (const Made &m : all) {
        Run r = madeRun(m, seed++);
        r.id = std::to_string(firstId++);
        out.push_back(measured(r));
    }
    return out;
}

std::vector<std::string> namesOf(const RunDifferences &d) {
    std::vector<std::string> out;
    for (const RunDifference &one : d.found)
        out.emplace_back(one.what);
    return out;
}

bool saysAny(const std::vector<Phrase> &said, std::string_view words) {
    return std::ranges::any_of(said,
                               [&](const Phrase &p) { return format(p).find(words) != std::string::npos; });
}

using Names = std::vector<std::string>;
using Causes = std::vector<RunCause>;

} // namespace

class RunsTest : public QObject {
    Q_OBJECT
  private slots:
    void columnsHaveNamesAndUnits();
    void columnsWithoutNamesAreToldByTheIdentity();
    void unitsWithoutAnySayAreRefused();
    void columnsCanBeStated();
    void whatDoesNotGoTogetherIsSaid();
    void pullsLieOneAfterTheOther();
    void pullsGoDownToo();
    void pullsLieSideBySide();
    void pullsAreCounted();
    void roughSpeedIsOnePull();
    void remarksAreTaken();
    void partsHaveTheirOwnRemarks();
    void thePracticeEngineIsNamed();
    void runsStandInTheJob();
    void fuelComesFromTheTank();
    void runsComeBackFromTheirOwnText();
    void aJobKeepsThemThroughItsDocument();
    void brokenSamplesAreRefused();
    void airComesFromTheJobsDay();
    void airComesFromTheRunsColumns();
    void lookedAtAlikeFromWhatWasMeasured();
    void correctionNeedsTheAir();
    void gainIsFoundWithItsInterval();
    void oneAgainstOneIsNotJudged();
    void controlsLendTheirScatter();
    void differencesAreListed();
    void oneChangeIsOneCause();
    void calibrationsTellTheirCause();
    void aPairThatTellsIsFound();
    void heroesAreMarked();
    void compareRefusesNonsense();
};

void RunsTest::columnsHaveNamesAndUnits() {
    // Names and units in every way that people write them; the same pull each time.
    const auto lbft = [](double rpm) { return torqueOf(rpm) / 1.3558179483314; };
    const auto hp = [](double rpm) { return torqueOf(rpm) * rpm / newtonMetreRpmPerKw / 0.745699871582; };
    struct Form {
        std::string head;
        std::function<std::string(double)> row;
    };
    const std::vector<Form> forms{
        {"rpm,torque_nm,power_kw\n", metric},
        {"Engine Speed [rpm];Power [hp];Torque [lb-ft]\n",
         [&](double v) { return number(v, 0) + ";" + number(hp(v)) + ";" + number(lbft(v)); }},
        {"RPM\tHP\tTorque (ft-lbs)\n",
         [&](double v) { return number(v, 0) + "\t" + number(hp(v)) + "\t" + number(lbft(v)); }},
        {"speed;torque\n1/min;Nm\n",
         [](double v) {
             std::string row = number(v, 1) + ";" + number(torqueOf(v));
             std::ranges::replace(row, '.', ',');
             return row;
         }},
        {"krpm,PS\n",
         [](double v) {
             return number(v / 1000, 4) + "," + number(torqueOf(v) * v / newtonMetreRpmPerKw / 0.73549875, 3);
         }},
        {"1/min,kW,Nm\n",
         [](double v) {
             return number(v, 0) + "," + number(torqueOf(v) * v / newtonMetreRpmPerKw) + "," +
                    number(torqueOf(v));
         }},
        {"time,rpm,Power WHP\n",
         [&](double v) { return number((v - 2500) / 500, 3) + "," + number(v, 0) + "," + number(hp(v), 3); }},
    };
    for (const Form &f : forms) {
        const bool thousands = f.head.starts_with("krpm"), plainSpeed = f.head.starts_with("speed");
        std::vector<StatedColumn> stated;
        if (thousands) stated = {{R::rpm, "krpm", "krpm"}, {R::power, "PS", "PS"}};
        if (plainSpeed) stated = {{R::rpm, "speed", ""}};
        const FoundPulls found = pullsOf(f.head + rows(2500, 7000, 50, f.row), stated);
        QVERIFY2(found.pulls.size() == 1, f.head.c_str());
        const RunCurve c = curveOf(found.pulls[0].samples, f.head);
        QCOMPARE(c.rpm.size(), std::size_t(91));
        for (std::size_t i = 0; i < c.rpm.size(); ++i) {
            COMPARE_NEAR(c.rpm[i], 2500 + 50 * static_cast<double>(i), 0.1);
            COMPARE_NEAR(c.torqueNm[i], torqueOf(c.rpm[i]), 0.02);
            COMPARE_NEAR(c.powerKw[i], torqueOf(c.rpm[i]) * c.rpm[i] / newtonMetreRpmPerKw, 0.02);
        }
    }
}

void RunsTest::columnsWithoutNamesAreToldByTheIdentity() {
    const std::string text = rows(2500, 7000, 50, [](double v) {
        return number(v, 0) + "," + number(torqueOf(v) * v / newtonMetreRpmPerKw / 0.745699871582) + "," +
               number(torqueOf(v) / 1.3558179483314);
    });
    const RunColumns found = columnsOf(text);
    const RunCurve c = curveOf(found.sides[0], "file");
    COMPARE_NEAR(c.torqueNm[40], torqueOf(4500), 0.02);
    QVERIFY(saysAny(found.said, "engine speed"));
    QVERIFY(saysAny(found.said, "torque in lbft"));
    // Named, but with no unit at all: the same.
    const RunColumns named = columnsOf("rpm,torque,power\n" + rows(2500, 7000, 50, metric));
    COMPARE_NEAR(curveOf(named.sides[0], "file").torqueNm[40], torqueOf(4500), 0.02);
    QVERIFY(saysAny(named.said, "power in kw"));
    // One unit is said, the other follows.
    const RunColumns half =
        columnsOf("rpm,torque,power hp\n" + rows(2500, 7000, 50, [](double v) {
                      return number(v, 0) + "," + number(torqueOf(v)) + "," +
                             number(torqueOf(v) * v / newtonMetreRpmPerKw / 0.745699871582);
                  }));
    QCOMPARE(half.sides[0].of(R::torque)->unit, std::string("nm"));
    COMPARE_NEAR(curveOf(half.sides[0], "file").torqueNm[40], torqueOf(4500), 0.02);
}

void RunsTest::unitsWithoutAnySayAreRefused() {
    EXPECT_INPUT_ERROR(
        columnsOf("rpm,power\n" + rows(2500, 7000, 50, [](double v) { return number(v) + ",100"; })), "power",
        "its unit", "kW or hp");
    EXPECT_INPUT_ERROR(columnsOf("rpm,spark\n2500,10\n3000,11\n4000,12\n"), "torque or power");
    EXPECT_INPUT_ERROR(columnsOf("a,b\n1,2\n2,3\n3,4\n"), "engine speed in rpm");
    EXPECT_INPUT_ERROR(columnsOf("no numbers at all\n"), "rows of numbers");
}

void RunsTest::columnsCanBeStated() {
    const std::string text = "n,x,y\n" + rows(2500, 7000, 50, metric);
    const RunColumns byName = columnsOf(text, {{R::rpm, "n", ""}, {R::torque, "x", "lbft"}});
    COMPARE_NEAR(byName.sides[0].of(R::torque)->internal(40), torqueOf(4500) * 1.3558179483314, 0.02);
    const RunColumns byPlace = columnsOf(text, {{R::rpm, "1", "rpm"}, {R::power, "3", "kW"}});
    COMPARE_NEAR(curveOf(byPlace.sides[0], "file").torqueNm[40], torqueOf(4500), 0.02);
    EXPECT_INPUT_ERROR(columnsOf(text, {{R::rpm, "4", ""}}), "n, x, y", "'4'");
    EXPECT_INPUT_ERROR(columnsOf(text, {{R::torque, "x", "kPa"}}), "unit");
}

void RunsTest::whatDoesNotGoTogetherIsSaid() {
    const auto wrong = columnsOf("rpm,torque_nm,power_kw\n" + rows(2500, 7000, 50, [](double v) {
                                     return number(v) + "," + number(torqueOf(v)) + "," +
                                            number(torqueOf(v) * v / newtonMetreRpmPerKw * 1.15);
                                 }));
    QVERIFY(saysAny(wrong.said, "0.870 times the power"));
    QVERIFY(columnsOf("rpm,torque_nm,power_kw\n" + rows(2500, 7000, 50, metric)).said.empty());
}

void RunsTest::pullsLieOneAfterTheOther() {
    const std::string head = "rpm,torque_nm,power_kw\n", pull = rows(2500, 7000, 50, metric);
    QCOMPARE(pullsOf(head + pull + pull + pull).pulls.size(), std::size_t(3));
    // The names again, remarks and empty lines between make no difference.
    const FoundPulls parted = pullsOf("# first\n" + head + pull + "\n# second\n" + head + pull);
    QCOMPARE(parted.pulls.size(), std::size_t(2));
    for (const FoundPull &p : parted.pulls)
        QCOMPARE(p.samples.rows(), std::size_t(91));
    // A few points are a pull as well.
    QCOMPARE(pullsOf(head + rows(3000, 4500, 500, metric)).pulls.size(), std::size_t(1));
}

void RunsTest::pullsGoDownToo() {
    const std::string head = "rpm,torque_nm,power_kw\n";
    const FoundPulls both = pullsOf(head + rows(2500, 7000, 50, metric) + rows(6990, 2510, 40, metric));
    QCOMPARE(both.pulls.size(), std::size_t(2));
    QVERIFY(!both.pulls[0].down && both.pulls[1].down);
    QCOMPARE(both.coastedRows, std::size_t(0));
    const RunCurve c = curveOf(both.pulls[1].samples, "down");
    QVERIFY(std::ranges::is_sorted(c.rpm));
    COMPARE_NEAR(c.torqueNm.front(), torqueOf(c.rpm.front()), 0.02);
    // Rolling out is no pull.
    const FoundPulls coasted =
        pullsOf(head + rows(2500, 7000, 50, metric) + rows(6990, 2510, 40, [](double v) {
                    return number(v) + ",-20," + number(-20 * v / 9549.3);
                }));
    QCOMPARE(coasted.pulls.size(), std::size_t(1));
    QCOMPARE(coasted.coastedRows,
             std::size_t(114)); // the turning point belongs to the pull, and to the way out
}

void RunsTest::pullsLieSideBySide() {
    const std::string text =
        "RPM,Power 1 (kW),Torque 1 (Nm),Power 2 (kW),Torque 2 (Nm)\n" + rows(2500, 7000, 50, [](double v) {
            const double t = torqueOf(v);
            const std::string second =
                v > 6000 ? std::string(",")
                         : number(t * 1.1 * v / newtonMetreRpmPerKw) + "," + number(t * 1.1);
            return number(v, 0) + "," + number(t * v / newtonMetreRpmPerKw) + "," + number(t) + "," + second;
        });
    const FoundPulls found = pullsOf(text);
    QCOMPARE(found.pulls.size(), std::size_t(2));
    COMPARE_NEAR(curveOf(found.pulls[0].samples, "").torqueNm[40], torqueOf(4500), 0.02);
    COMPARE_NEAR(curveOf(found.pulls[1].samples, "").torqueNm[40], 1.1 * torqueOf(4500), 0.02);
    QCOMPARE(found.pulls[0].samples.rows(), std::size_t(91));
    QCOMPARE(found.pulls[1].samples.rows(), std::size_t(71)); // shorter: it ends at 6000
}

// Three pulls that each go on where the one before stopped: only their numbers part them.
void RunsTest::pullsAreCounted() {
    std::string text = "run,rpm,torque_nm\n";
    for (int pull = 1; pull <= 3; ++pull)
        text += rows(2000 + 1500 * (pull - 1), 2000 + 1500 * pull - 10, 10, [&](double v) {
            return std::to_string(pull) + "," + number(v, 0) + "," + number(torqueOf(v));
        });
    const FoundPulls found = pullsOf(text);
    QCOMPARE(found.pulls.size(), std::size_t(3));
    QCOMPARE(curveOf(found.pulls[1].samples, "").rpm.front(), 3500.0);
}

void RunsTest::roughSpeedIsOnePull() {
    std::mt19937 random(2);
    std::normal_distribution<double> noise(0, 30);
    std::string text = "rpm,torque_nm\n";
    for (double rpm = 2500; rpm <= 7000; rpm += 12)
        text += number(rpm + noise(random), 1) + "," + number(torqueOf(rpm)) + "\n";
    QCOMPARE(pullsOf(text).pulls.size(), std::size_t(1));
}

void RunsTest::remarksAreTaken() {
    const std::string text =
        "\xEF\xBB\xBF# Mode: loaded\r\n// ambient_kpa = 98.5\n; ambient_c: 31\n% humidity: 0.4\n# "
        "correction: j1349\n"
        "# mode: road\n# start_intake_c: 44.5\n# gear: fourth\nrpm,torque_nm\n2000,100\n";
    const RunRemarks remarks = runRemarks(LogText(text));
    QCOMPARE(remarks.at("mode"), std::string("loaded")); // the first of them
    std::vector<Phrase> said;
    const RunStatement s = withRemarks({}, remarks, said);
    QCOMPARE(*s.mode, RunMode::loaded);
    QCOMPARE(s.air->pressureKpa, 98.5);
    QCOMPARE(s.air->temperatureC, 31.0);
    QCOMPARE(s.air->humidity, 0.4);
    QCOMPARE(*s.standard, CorrectionStandard::j1349);
    QCOMPARE(*s.startIntakeC, 44.5);
    QVERIFY(!s.gear && saysAny(said, "gear: fourth"));
    RunStatement stated;
    stated.mode = RunMode::inertia;
    stated.air = Weather{100, 20, 0.5};
    stated.standard = CorrectionStandard::none;
    const RunStatement kept =
        withRemarks(stated, remarks, said); // what is typed goes over what the file says
    QCOMPARE(*kept.mode, RunMode::inertia);
    QCOMPARE(kept.air->pressureKpa, 100.0);
    QCOMPARE(*kept.standard, CorrectionStandard::none);
    said.clear();
    QVERIFY(!withRemarks({}, {{"correction", "sae"}}, said).standard && saysAny(said, "correction: sae"));
}

// Several runs in one file, each with its own remarks: what says how the day is holds on, the rest does not.
void RunsTest::partsHaveTheirOwnRemarks() {
    const auto numbers = [](double gain) {
        return rows(2500, 7000, 50,
                    [gain](double v) { return number(v) + "," + number(torqueOf(v) + gain); });
    };
    const std::string text =
        "# mode: loaded\n# correction: none\n# note: control\n# ambient_kpa: 99\n# ambient_c: "
        "20\n# humidity: 0.4\n# start_intake_c: 41\nrpm,torque_nm\n" +
        numbers(0) + "\n# start_intake_c: 52\n# change: other plugs\n" + numbers(4) +
        "# mode: inertia\n# ambient_c: 25\nrpm,torque_nm\n" + numbers(9);
    const std::vector<RunPart> parts = runParts(LogText(text));
    QCOMPARE(parts.size(), std::size_t(3));
    QVERIFY(parts[1].text.starts_with("rpm,torque_nm\n2500")); // the names of the part before
    const RunFile file = readRunFile(LogText(text), "day.csv", {}, {}, {});
    QCOMPARE(file.pulls.size(), std::size_t(3));
    Job job = demoJob();
    job.runs.clear();
    RunStatement s = file.statement;
    s.added = "2026-05-10T12:00:00Z";
    addRuns(job, file.pulls, s);
    const std::vector<Run> &runs = job.runs.values();
    QCOMPARE(runs[0].note, std::string("control"));
    QVERIFY(runs[1].note.empty() && runs[2].change.empty());
    QCOMPARE(runs[1].change, std::string("other plugs"));
    QCOMPARE(runs[0].startIntakeC, 41.0);
    QCOMPARE(runs[1].startIntakeC, 52.0);
    QCOMPARE(runs[2].startIntakeC, 0.0);
    QVERIFY(runs[0].mode == RunMode::loaded && runs[1].mode == RunMode::loaded &&
            runs[2].mode == RunMode::inertia);
    QVERIFY(runs[2].standard == CorrectionStandard::none);
    QCOMPARE(runs[1].ambientC, 20.0);
    QCOMPARE(runs[2].ambientC, 25.0);
    QCOMPARE(runs[2].ambientKpa, 99.0);
    COMPARE_NEAR(curveOf(runs[1]).torqueNm[20] - curveOf(runs[0]).torqueNm[20], 4, 1e-3);
    // What is typed goes over what any part says.
    s.mode = RunMode::road;
    Job other = demoJob();
    addRuns(other, file.pulls, s);
    QVERIFY(std::ranges::all_of(other.runs.values(), [](const Run &r) { return r.mode == RunMode::road; }));
    // One place of remarks is the file's; numbers before any remark belong to all.
    QVERIFY(runParts(LogText("# mode: loaded\nrpm,torque_nm\n" + numbers(0))).empty());
    QVERIFY(runParts(LogText("rpm,torque_nm\n" + numbers(0) + "# mode: loaded\n" + numbers(0))).empty());
    QVERIFY(runParts(LogText("# mode: loaded\n\n# gear: 4\nrpm,torque_nm\n" + numbers(0))).empty());
    // A remark in the middle of a pull is one of that pull.
    const auto rough = [](double v) {
        return number(v) + "," + number(torqueOf(v)) + "," + (std::lround(v / 50) % 2 == 0 ? "13.9" : "14.1");
    };
    const std::string split = "# mode: loaded\nrpm,torque_nm,battery_v\n" + rows(2500, 4700, 50, rough) +
                              "# note: cam here\n" + rows(4750, 7000, 50, rough);
    QVERIFY(runParts(LogText(split)).empty());
    const RunFile one = readRunFile(LogText(split), "one.csv", {}, {}, {});
    QCOMPARE(one.pulls.size(), std::size_t(1));
    QCOMPARE(one.pulls[0].samples.rows(), std::size_t(91));
    EXPECT_INPUT_ERROR(
        readRunFile(LogText("# gear: 3\nrpm,torque_nm\n" + numbers(0) + "# gear: 4\nrpm,boost\n2000,3\n"),
                    "day.csv", {}, {}, {}),
        "day.csv, run 2");
}

// What the practice engine wrote says so.
void RunsTest::thePracticeEngineIsNamed() {
    const std::string text =
        "# source: practice engine\n# known_within_percent: 7\nrpm,torque_nm\n" +
        rows(2500, 7000, 50, [](double v) { return number(v) + "," + number(torqueOf(v)); });
    const RunFile file = readRunFile(LogText(text), "p.csv", {}, {}, {});
    QCOMPARE(file.statement.origin, RunOrigin::practice);
    COMPARE_NEAR(*file.statement.knownWithin, 0.07, 1e-12);
    RunStatement typed;
    typed.origin = RunOrigin::typed; // what is known better stays
    QCOMPARE(readRunFile(LogText(text), "p.csv", typed, {}, {}).statement.origin, RunOrigin::typed);
}

void RunsTest::runsStandInTheJob() {
    Job job = demoJob();
    job.runs.clear();
    const std::string text =
        "rpm,torque_nm,power_kw,ethanol_percent,intake_c,coolant_c\n" +
        rows(2500, 7000, 50, [](double v) { return metric(v) + ",62," + number(40 + v / 1000) + ",88"; });
    const FoundPulls found = pullsOf(text + text);
    RunStatement s;
    s.name = "day.csv";
    s.added = "2026-05-10T12:00:00Z";
    s.dyno = "Roller";
    s.mode = RunMode::inertia;
    s.air = Weather{99.1, 21, 0.4};
    QCOMPARE(addRuns(job, found.pulls, s), (Names{"1", "2"}));
    QCOMPARE(addRuns(job, found.pulls, s), (Names{"3", "4"}));
    validate(job);
    QCOMPARE(job.dynos.size(), std::size_t(1));
    const Run &r = *runById(job, "2");
    QCOMPARE(r.name, std::string("day.csv 2"));
    QCOMPARE(r.order, 2.0);
    QCOMPARE(r.rows, 91.0);
    QCOMPARE(r.rpmFrom, 2500.0);
    QCOMPARE(r.rpmTo, 7000.0);
    QCOMPARE(r.contentBasis, RunContentBasis::channel);
    COMPARE_NEAR(r.content, 0.62, 1e-9);
    COMPARE_NEAR(r.startIntakeC, 42.5, 1e-9);
    QCOMPARE(r.startCoolantC, 88.0);
    QCOMPARE(r.ambient, AmbientBasis::stated);
    QCOMPARE(r.calibration, calibrationPrint(stateOf(job)));
    QCOMPARE(runById(job, "4")->order, 4.0);
    RunStatement ordered = s;
    ordered.order = 9; // of the first of them
    Job other = job;
    QCOMPARE(addRuns(other, found.pulls, ordered), (Names{"5", "6"}));
    QCOMPARE(runById(other, "5")->order, 9.0);
    QCOMPARE(runById(other, "6")->order, 10.0);
    removeRun(job, "2");
    QVERIFY(!runById(job, "2"));
    QCOMPARE(nextRunId(job), std::string("5")); // what is gone is not named again while later ones stand
    EXPECT_INPUT_ERROR(removeRun(job, "2"), "run of this job", "'2'");
    EXPECT_INPUT_ERROR(addRuns(job, {}, s), "day.csv", "a pull");
    // Of a revision its own fingerprint, whatever the tables have become.
    keepRevision(job, "Monday", "2026-05-10T12:00:00Z", "", false);
    const std::string monday = calibrationPrint(stateOf(job));
    Table2D &spark = job.calibration.of(CalibratedQuantity::spark).base;
    spark.setCell({2, 2}, spark.cell(2, 2) + 1);
    s.revision = "Monday";
    const auto later = addRuns(job, found.pulls, s);
    QCOMPARE(runById(job, later[0])->calibration, monday);
    QVERIFY(monday != calibrationPrint(stateOf(job)));
    const auto ran = jobThatRan(job, "Monday", "");
    QVERIFY(ran && calibrationPrint(stateOf(*ran)) == monday);
    QVERIFY(calibrationPrint(stateOf(*jobThatRan(job, "", monday))) == monday); // by its fingerprint too
    s.revision = "none such";
    EXPECT_INPUT_ERROR(addRuns(job, found.pulls, s), "revision");
}

// Without a word and without a column, what the tank holds by its arithmetic; and it says so.
void RunsTest::fuelComesFromTheTank() {
    Job job = demoJob();
    job.runs.clear();
    const auto pulls =
        pullsOf("rpm,torque_nm\n" +
                rows(2500, 7000, 500, [](double v) { return number(v) + "," + number(torqueOf(v)); }))
            .pulls;
    addRuns(job, pulls, {});
    QCOMPARE(job.runs.values()[0].contentBasis, RunContentBasis::tank);
    COMPARE_NEAR(job.runs.values()[0].content, alcoholOf(tankNow(job).content), 1e-12);
    job.tankEvents.clear();
    addRuns(job, pulls, {});
    QCOMPARE(job.runs.values()[1].contentBasis, RunContentBasis::none);
    QCOMPARE(job.runs.values()[0].contentBasis, RunContentBasis::tank); // it keeps what it was
}

void RunsTest::runsComeBackFromTheirOwnText() {
    Run r = madeRun({});
    r.id = "7";
    r.gear = 4;
    r.ambientKpa = 98.7;
    r.startCoolantC = 91;
    r.note = "two lines\nof it";
    r.dyno = "Roller, left";
    r.knownWithin = 0.08;
    r.smoothedRpm = 150;
    r.origin = RunOrigin::practice;
    const std::string text = runToCsv(r);
    std::vector<Phrase> said;
    const RunStatement s = withRemarks({}, runRemarks(LogText(text)), said);
    QVERIFY(said.empty());
    Job job = demoJob();
    job.runs.clear();
    addRuns(job, pullsOf(text).pulls, s);
    const Run &back = job.runs.values().front();
    QCOMPARE(back.gear, 4.0);
    QCOMPARE(back.ambientKpa, 98.7);
    QCOMPARE(back.startCoolantC, 91.0);
    QCOMPARE(back.startIntakeC, 40.0);
    QCOMPARE(back.note, std::string("two lines of it"));
    QCOMPARE(back.dyno, r.dyno);
    COMPARE_NEAR(back.knownWithin, 0.08, 1e-12);
    QCOMPARE(back.smoothedRpm, 150.0);
    QCOMPARE(back.origin, RunOrigin::practice);
    QCOMPARE(back.standard, r.standard);
    QCOMPARE(back.mode, r.mode);
    QCOMPARE(back.content, r.content);
    const RunCurve a = curveOf(r), b = curveOf(back);
    QCOMPARE(a.rpm, b.rpm);
    QCOMPARE(a.powerKw, b.powerKw);
    QCOMPARE(a.lanes.at(R::map), b.lanes.at(R::map));
    QCOMPARE(a.lanes.at(R::lambda), b.lanes.at(R::lambda));
}

void RunsTest::aJobKeepsThemThroughItsDocument() {
    Job job = demoJob();
    Run r = madeRun({});
    r.id = "1";
    job.runs = {r};
    job.dynos = {{"Roller", "left hall"}};
    job.gears = {{3, 1.36}, {4, 1}};
    job.vehicle.massKg = 1234;
    validate(job);
    const Job back = jobFromJson(jobToJson(job));
    QVERIFY(back.runs == job.runs && back.dynos == job.dynos && back.gears == job.gears);
    QVERIFY(back.vehicle == job.vehicle);
    QCOMPARE(back.runs.values().front().samples.text(), r.samples.text());
}

void RunsTest::brokenSamplesAreRefused() {
    const std::string good = "rpm\trpm\trpm\t1\t0\ntorque\tT\tnm\t1\t0\n\n2000\t100\n3000\t\n";
    const RunSamples s = runSamplesFrom(good, "run 1");
    QCOMPARE(s.rows(), std::size_t(2));
    QVERIFY(std::isnan(s.columns[1].numbers[1]));
    QCOMPARE(runSamplesText(s), good);
    EXPECT_INPUT_ERROR(runSamplesFrom("spd\trpm\trpm\t1\t0\n", "run 1"), "run 1, line 1", "role, name");
    EXPECT_INPUT_ERROR(runSamplesFrom("rpm\trpm\trpm\tx\t0\n", "run 1"), "line 1", "a number");
    EXPECT_INPUT_ERROR(runSamplesFrom("rpm\trpm\trpm\t0\t0\n", "run 1"), "line 1", "scale");
    EXPECT_INPUT_ERROR(runSamplesFrom("rpm\trpm\trpm\t1\t0\n\n2000\t1\n", "run 1"), "line 3",
                       "a field for each column");
    EXPECT_INPUT_ERROR(runSamplesFrom("rpm\trpm\trpm\t1\t0\n\nfast\n", "run 1"), "line 3", "a number",
                       "'fast'");
    EXPECT_INPUT_ERROR(runSamplesFrom("rpm\trpm\trpm\t1\t0\n\ninf\n", "run 1"), "line 3");
    const RecordList &list = *recordListByPath("runs.runs");
    const auto field = std::ranges::find(list.fields, "samples", &RecordField::key);
    EXPECT_INPUT_ERROR(validate(list, *field, 2, FieldContent(std::string("rpm"))), "runs.runs 3 samples",
                       "line 1");
    Run r;
    r.id = "9";
    EXPECT_INPUT_ERROR(curveOf(r), "run 9", "engine speed");
    r.samples = DeferredText("rpm\trpm\trpm\t1\t0\ntorque\tT\tnm\t1\t0\n\n2000\t100\n3000\t\n");
    EXPECT_INPUT_ERROR(curveOf(r), "run 9", "two engine speeds", "1");
}

void RunsTest::airComesFromTheJobsDay() {
    Job job = newJob("Day");
    QVERIFY(!airOfTheDay(job)); // defaults are nobody's word
    const auto pulls =
        pullsOf("rpm,torque_nm\n" +
                rows(2500, 7000, 500, [](double v) { return number(v) + "," + number(torqueOf(v)); }))
            .pulls;
    addRuns(job, pulls, {});
    QCOMPARE(job.runs.values()[0].ambient, AmbientBasis::none);
    for (const char *path : {"mechanical.now_kpa", "mechanical.now_c", "mechanical.now_humidity"})
        state(job, path);
    job.mechanical.now.temperatureC = 33;
    addRuns(job, pulls, {});
    QCOMPARE(job.runs.values()[1].ambient, AmbientBasis::job);
    QCOMPARE(airOf(job.runs.values()[1])->temperatureC, 33.0);
    job.mechanical.now.temperatureC = 10; // the run keeps the air of its own day
    QCOMPARE(airOf(job.runs.values()[1])->temperatureC, 33.0);
}

// What a run's own columns say of the air goes before the job's day, and after what is stated.
void RunsTest::airComesFromTheRunsColumns() {
    const auto text = [](bool humid) {
        return std::string("rpm,torque_nm,baro_kpa,ambient_c") + (humid ? ",humidity (%)\n" : "\n") +
               rows(2500, 7000, 50, [&](double v) {
                   return number(v) + "," + number(torqueOf(v)) + "," + (v < 4750 ? "97.0" : "97.2") + ",31" +
                          (humid ? ",55" : "");
               });
    };
    const auto runOf = [&](Job job, bool humid, const RunStatement &s) {
        job.runs.clear();
        addRuns(job, pullsOf(text(humid)).pulls, s);
        return job.runs.values()[0];
    };
    const Job silent = newJob("Day");
    Job says = silent;
    says.mechanical.now = {99.5, 18, 0.35};
    for (const char *path : {"mechanical.now_kpa", "mechanical.now_c", "mechanical.now_humidity"})
        state(says, path);
    const Run own = runOf(says, true, {});
    QVERIFY(own.ambient == AmbientBasis::channel);
    COMPARE_NEAR(own.ambientKpa, 97.1, 0.01);
    QCOMPARE(own.ambientC, 31.0);
    COMPARE_NEAR(own.humidity, 0.55, 1e-12);
    const Run dry = runOf(says, false, {});
    QVERIFY(dry.ambient == AmbientBasis::channel);
    QCOMPARE(dry.humidity, 0.35);
    QVERIFY(runOf(silent, false, {}).ambient == AmbientBasis::none); // a third of it is a guess
    RunStatement typed;
    typed.air = Weather{100, 20, 0.5};
    const Run stated = runOf(says, true, typed);
    QVERIFY(stated.ambient == AmbientBasis::stated);
    QCOMPARE(stated.ambientKpa, 100.0);
}

void RunsTest::lookedAtAlikeFromWhatWasMeasured() {
    // The same engine, stated as measured and for two standards: what is seen is the same of all.
    MeasuredRuns runs;
    for (const CorrectionStandard standard :
         {CorrectionStandard::none, CorrectionStandard::j1349, CorrectionStandard::din}) {
        Run r = madeRun({});
        r.id = std::to_string(runs.size() + 1);
        r.standard = standard;
        r.ambientKpa = 97;
        r.ambientC = 32;
        r.humidity = 0.5;
        RunSamples s = runSamplesFrom(r.samples.text(), "");
        for (double &v : s.columns[1].numbers)
            v *= correctionFactor(standard, *airOf(r));
        r.samples = DeferredText(runSamplesText(s));
        runs.push_back(measured(r));
    }
    for (const CorrectionStandard asked : {CorrectionStandard::none, CorrectionStandard::iso1585}) {
        RunViewing how;
        how.standard = asked;
        const SeenRuns view = seen(runs, how);
        QCOMPARE(view.rpm.front(), 2500.0);
        QCOMPARE(view.rpm.back(), 7000.0);
        for (const SeenRun &r : view.runs)
            for (std::size_t k = 0; k < view.rpm.size(); ++k)
                COMPARE_NEAR(r.powerKw[k],
                             correctionFactor(asked, {97, 32, 0.5}) * torqueOf(view.rpm[k]) * view.rpm[k] /
                                 newtonMetreRpmPerKw,
                             1e-3); // what smoothing takes of a curve of the third degree
        QVERIFY(saysAny(view.said, "worked out again"));
        QCOMPARE(saysAny(seen(runs, how, true).said, "Boost that"), asked != CorrectionStandard::none);
    }
    // The peak of what is shown stands beside that of what was measured.
    Run rough = madeRun({});
    rough.id = "4";
    RunSamples s = runSamplesFrom(rough.samples.text(), "");
    s.columns[1].numbers[40] += 60; // a spike at 3500
    rough.samples = DeferredText(runSamplesText(s));
    RunViewing how;
    how.smoothRpm = 600;
    const SeenRuns view = seen(MeasuredRuns{measured(rough)}, how);
    COMPARE_NEAR(view.runs[0].rawPower.rpm, 3500, 1);
    QVERIFY(view.runs[0].power.rpm > 5000);
}

void RunsTest::correctionNeedsTheAir() {
    Run r = madeRun({});
    r.id = "1";
    r.ambient = AmbientBasis::none;
    const MeasuredRuns runs{measured(r)};
    QCOMPARE(seen(runs, {}).runs[0].factor, 1.0);
    RunViewing how;
    how.standard = CorrectionStandard::std;
    EXPECT_INPUT_ERROR(seen(runs, how), "run 1", "pressure, temperature and humidity", "none stated");
    r.standard = CorrectionStandard::std;
    const MeasuredRuns stated{measured(r)};
    QCOMPARE(seen(stated, how).runs[0].factor, 1.0); // it is what is asked for
    EXPECT_INPUT_ERROR(seen(stated, {}), "run 1");
    r.standard = CorrectionStandard::notSaid;
    const SeenRuns view = seen(MeasuredRuns{measured(r)}, {});
    QVERIFY(view.runs[0].uncorrected && saysAny(view.said, "taken as measured"));
    r.ambient = AmbientBasis::stated;
    r.ambientKpa = 85;
    QVERIFY(saysAny(seen(MeasuredRuns{measured(r)}, how).said, "outside"));
}

void RunsTest::gainIsFoundWithItsInterval() {
    // Six runs by hand: three of each, a drift of −1 a run, known offsets about it.
    const std::array offsets{0.3, -0.2, 0.1, -0.4, 0.2, 0.1};
    std::vector<Made> before, after;
    for (int i = 0; i < 6; ++i) {
        Made m;
        m.order = 1 + i;
        m.gainKw = -i + offsets[static_cast<std::size_t>(i)] + (i < 3 ? 0 : 10);
        m.content = i < 3 ? 0.1 : 0.85;
        (i < 3 ? before : after).push_back(m);
    }
    const Job job = demoJob();
    const RunComparison c = compareRuns(job, made(before), made(after, 4), {});
    QCOMPARE(c.scatterFrom, ScatterFrom::drift);
    // By hand, with the slope of both sides in common: (Σ within of order · offset) / 4.
    const double slope = ((-1) * 0.3 + 1 * 0.1 + (-1) * -0.4 + 1 * 0.1) / 4;
    const double meanA = (0.3 - 0.2 + 0.1) / 3, meanB = (-0.4 + 0.2 + 0.1) / 3;
    COMPARE_NEAR(c.averageKw.mean, 10 + meanB - meanA - 3 * slope, 1e-9);
    COMPARE_NEAR(*c.scatter.perRun, -1 + slope, 1e-9);
    double squares = 0;
    for (int i = 0; i < 6; ++i) {
        const double group = i < 3 ? meanA : meanB, place = i < 3 ? i - 1 : i - 4;
        squares += std::pow(offsets[static_cast<std::size_t>(i)] - group - slope * place, 2);
    }
    const double half =
        3.182446305 * std::sqrt(squares / 3 * (2.0 / 3 + 9.0 / 4)); // t of 3 at 95 %: every table
    COMPARE_NEAR(c.averageKw.halfWidth(), half, 1e-6);
    QVERIFY(c.averageKw.distinguishable());
    for (std::size_t k = 0; k < c.rpm.size(); ++k) // the same at every speed: it was put in so
        COMPARE_NEAR(c.gainKw[k].mean, c.averageKw.mean, 1e-6);
    COMPARE_NEAR(c.areaKwRpm, c.averageKw.mean * 4500, 1e-3);
    COMPARE_NEAR(c.at(5210).mean, c.averageKw.mean, 1e-6);
    const Phrase answer = c.answer();
    QCOMPARE(answer.values[0].value, c.averageKw.mean);
    QCOMPARE(answer.values[1].value, c.averageKw.halfWidth());
    QVERIFY(says(answer, "3 against 3, drift-corrected"));
    RunViewing welched;
    welched.drift = false;
    const RunComparison w = compareRuns(job, made(before), made(after, 4), welched);
    QCOMPARE(w.scatterFrom, ScatterFrom::welch);
    COMPARE_NEAR(w.averageKw.mean, 10 - 3 + meanB - meanA, 1e-9);
    // Two sets of the same are nothing, and are called so.
    for (Made &m : after)
        m.gainKw -= 10;
    const RunComparison nothing = compareRuns(job, made(before), made(after, 4), {});
    QVERIFY(!nothing.averageKw.distinguishable());
    QVERIFY(says(nothing.answer(), "not distinguishable"));
    QVERIFY(nothing.runsNeeded >= 2);
}

void RunsTest::oneAgainstOneIsNotJudged() {
    Made after;
    after.gainKw = 30;
    after.order = 2;
    after.content = 0.85;
    const RunComparison c = compareRuns(demoJob(), made({{}}), made({after}, 2), {});
    COMPARE_NEAR(c.averageKw.mean, 30, 1e-6);
    QVERIFY(!c.averageKw.judged() && !c.averageKw.distinguishable() && c.runsNeeded == 0);
    QVERIFY(says(c.answer(), "Not judged"));
    QVERIFY(saysAny(c.said, "no run was made twice"));
}

void RunsTest::controlsLendTheirScatter() {
    std::vector<Made> controls(4);
    for (std::size_t i = 0; i < controls.size(); ++i) {
        controls[i].order = static_cast<double>(i + 3);
        controls[i].gainKw =
            std::array{0.5, -0.5, -0.5, 0.5}[i]; // no slope, and one σ that anybody can work out
    }
    MeasuredRuns all = made(controls, 3);
    Made after;
    after.gainKw = 30;
    after.order = 2;
    after.content = 0.85;
    const MeasuredRuns a = made({{}}), b = made({after}, 2);
    const RunComparison c = compareRuns(demoJob(), a, b, {}, all);
    QCOMPARE(c.scatterFrom, ScatterFrom::controls);
    const double sigma = std::sqrt(4 * 0.25 / 2); // mean and slope are taken out of four
    COMPARE_NEAR(c.scatter.sigma, sigma, 1e-6);
    COMPARE_NEAR(c.averageKw.standardError, sigma * std::sqrt(2.0), 1e-6);
    QCOMPARE(c.averageKw.freedom, 2.0);
    COMPARE_NEAR(c.averageKw.mean, 30, 1e-6);
    QVERIFY(c.averageKw.distinguishable() && saysAny(c.said, "that of runs that were made twice"));
    // Of another mode they say nothing.
    MeasuredRuns other;
    for (const auto &r : all) {
        Run run = r->run;
        run.mode = RunMode::loaded;
        other.push_back(measured(run));
    }
    QCOMPARE(compareRuns(demoJob(), a, b, {}, other).scatterFrom, ScatterFrom::none);
}

void RunsTest::differencesAreListed() {
    const Job job = demoJob();
    const RunDifferenceFinder finder(job);
    const auto names = [&](const std::function<void(Run &)> &change) {
        Run a = madeRun({}), b = madeRun({});
        a.id = "1";
        b.id = "2";
        change(b);
        const MeasuredRuns one{measured(a)}, two{measured(b)};
        return namesOf(finder.between(one, two));
    };
    QCOMPARE(names([](Run &) {}), Names{});
    QCOMPARE(names([](Run &r) { r.fuel = "Blend"; }), Names{"fuel"});
    QCOMPARE(names([](Run &r) { r.content = 0.5; }), Names{"content"});
    QCOMPARE(names([](Run &r) { r.content = 0.119; }), Names{}); // within 2 %
    QCOMPARE(names([](Run &r) { r.content = 0.121; }), Names{"content"});
    QCOMPARE(names([](Run &r) { r.hardware = "cooler"; }), Names{"hardware"});
    QCOMPARE(names([](Run &r) { r.cam = "high"; }), Names{"cam"});
    QCOMPARE(names([](Run &r) { r.dyno = "other"; }), Names{"dyno"});
    QCOMPARE(names([](Run &r) { r.mode = RunMode::loaded; }), Names{"mode"});
    QCOMPARE(names([](Run &r) { r.gear = 3; }), Names{"gear"});
    QCOMPARE(names([](Run &r) { r.down = true; }), Names{"direction"});
    QCOMPARE(names([](Run &r) { r.loadShare = 0.2; }), Names{"load_share"});
    QCOMPARE(names([](Run &r) { r.smoothedRpm = 300; }), Names{"smoothing"});
    QCOMPARE(names([](Run &r) { r.ambientKpa -= 0.6; }), Names{"ambient_kpa"});
    QCOMPARE(names([](Run &r) { r.ambientC += 4; }), Names{"ambient_c"});
    QCOMPARE(names([](Run &r) { r.humidity += 0.2; }), Names{"humidity"});
    QCOMPARE(names([](Run &r) { r.startIntakeC += 6; }), Names{"start_intake_c"});
    QCOMPARE(names([](Run &r) { r.calibration = "4567"; }), Names{"revision"});
    const auto lanes = [&](const Made &m) { return namesOf(finder.between(made({{}}), made({m}, 2))); };
    Made m;
    m.spark = 14.7;
    QCOMPARE(lanes(m), Names{});
    m.spark = 14.8;
    QCOMPARE(lanes(m), Names{"spark"});
    m = {};
    m.boostKpa = 184;
    QCOMPARE(lanes(m), Names{"boost"});
    m = {};
    m.lambda = 0.815;
    QCOMPARE(lanes(m), Names{"lambda"});
    // What nobody has said is told of, and is no difference.
    Run silent = madeRun({});
    silent.contentBasis = RunContentBasis::none;
    silent.ambient = AmbientBasis::none;
    silent.mode = RunMode::notSaid;
    silent.startIntakeC = 0;
    silent.calibration.clear();
    const MeasuredRuns one{measured(silent)}, two{measured(madeRun({}))};
    const RunDifferences d = finder.between(one, two);
    QCOMPARE(namesOf(d), Names{"mode"});
    QCOMPARE(d.notKnown.size(), std::size_t(5));
    // Runs that differ among themselves are no set of anything.
    Made strong;
    strong.content = 0.85;
    const RunDifferences mixed = finder.between(made({{}, strong}), made({{}, strong}, 3));
    QCOMPARE(namesOf(mixed), Names{"content"});
    QCOMPARE(said(mixed.found[0].before), std::string("E10 – E85"));
}

void RunsTest::oneChangeIsOneCause() {
    const Job job = demoJob();
    const RunDifferenceFinder finder(job);
    Made m;
    m.content = 0.85;
    m.fuel = "Blend";
    QCOMPARE(finder.between(made({{}}), made({m}, 2)).causes(),
             Causes{RunCause::fuel}); // name and content: one thing
    m.spark = 20;
    QCOMPARE(finder.between(made({{}}), made({m}, 2)).causes(), (Causes{RunCause::fuel, RunCause::spark}));
    const RunComparison c = compareRuns(job, made({{}}), made({m}, 2), {});
    QVERIFY(!c.oneCause() && saysAny(c.said, "nobody can say which did it"));
    QVERIFY(saysAny(c.said, "would tell"));
    // Heat and weather count unless they are taken out.
    Made hot;
    hot.warmC = 60;
    hot.order = 2;
    QCOMPARE(finder.between(made({{}}), made({hot}, 2)).causes(), Causes{RunCause::heat});
    QCOMPARE(finder.between(made({{}}), made({hot}, 2), {false, true}).causes(), Causes{});
    QVERIFY(finder.same(made({{}})[0], made({hot}, 2)[0]));
    QVERIFY(!finder.same(made({{}})[0], made({m}, 2)[0]));
}

void RunsTest::calibrationsTellTheirCause() {
    Job job = demoJob();
    Run before = madeRun({}), after = madeRun({});
    before.id = "1";
    after.id = "2";
    before.revision.clear();
    before.calibration = calibrationThatRan(job, "", "first", "2026-05-10T12:00:00Z");
    Table2D &spark = job.calibration.of(CalibratedQuantity::spark).base;
    spark.setCell({2, 3}, spark.cell(2, 3) + 2);
    after.calibration = calibrationThatRan(job, "", "second", "2026-05-10T12:30:00Z");
    QVERIFY(before.calibration != after.calibration);
    before.revision = "Ran first";
    after.revision = "Ran second";
    const auto differ = [&] {
        const RunDifferenceFinder finder(job);
        const MeasuredRuns one{measured(before)}, two{measured(after)};
        return finder.between(one, two);
    };
    RunDifferences d = differ();
    QCOMPARE(namesOf(d), Names{"revision"});
    QCOMPARE(d.causes(), Causes{RunCause::spark}); // its tables alone
    QCOMPARE(d.found[0].details.size(), std::size_t(1));
    job.engine.revLimitRpm += 100;
    after.calibration = calibrationThatRan(job, "", "third", "2026-05-10T12:40:00Z");
    after.revision = "Ran third";
    d = differ();
    QCOMPARE(d.causes(), Causes{RunCause::calibration});
    QCOMPARE(d.found[0].details.size(), std::size_t(2));
}

void RunsTest::aPairThatTellsIsFound() {
    Made strong;
    strong.content = 0.85;
    Made both = strong;
    both.spark = 20;
    const MeasuredRuns a = made({{}}), b = made({both}, 2), third = made({strong}, 3);
    const MeasuredRuns all{a[0], b[0], third[0]};
    const RunComparison c = compareRuns(demoJob(), a, b, {}, all);
    QCOMPARE(c.telling.size(), std::size_t(2));
    QCOMPARE(c.telling[0].before, std::string("1"));
    QCOMPARE(c.telling[0].after, std::string("3"));
    QCOMPARE(c.telling[0].cause, RunCause::fuel);
    QCOMPARE(c.telling[1].before, std::string("2"));
    QCOMPARE(c.telling[1].after, std::string("3"));
    QCOMPARE(c.telling[1].cause, RunCause::spark);
}

void RunsTest::heroesAreMarked() {
    const auto warm = [](std::vector<double> c) {
        std::vector<Made> out;
        for (const double v : c) {
            Made m;
            m.warmC = v;
            m.order = static_cast<double>(out.size() + 1);
            out.push_back(m);
        }
        return made(out);
    };
    const Job job = demoJob();
    QCOMPARE(heroesOf(job, warm({44, 46, 32})), Names{"3"});
    QCOMPARE(heroesOf(job, warm({44, 46, 41})), Names{});
    QCOMPARE(heroesOf(job, warm({38, 38, 58})), Names{}); // one is hot, none is a hero
    QCOMPARE(heroesOf(job, warm({44, 30})), Names{});
    const RunComparison c = compareRuns(job, warm({44, 46, 32}), made({{}}, 4), {});
    QCOMPARE(c.heroes, Names{"3"});
    QVERIFY(saysAny(c.said, "Run 3 began cooler"));
}

void RunsTest::compareRefusesNonsense() {
    const Job job = demoJob();
    EXPECT_INPUT_ERROR(compareRuns(job, made({{}}), {}, {}), "a run on each side");
    EXPECT_INPUT_ERROR(compareRuns(job, made({{}}), made({{}}), {}), "run 1", "once");
    RunViewing how;
    how.fromRpm = 7100;
    EXPECT_INPUT_ERROR(compareRuns(job, made({{}}), made({{}}, 2), how),
                       "engine speeds that all of them have");
    how = {};
    how.fromRpm = 3000;
    how.toRpm = 4000;
    how.stepRpm = 250;
    QCOMPARE(compareRuns(job, made({{}}), made({{}}, 2), how).rpm,
             (std::vector<double>{3000, 3250, 3500, 3750, 4000}));
}

CORE_TEST_MAIN(RunsTest)
#include "runs_test.moc"
