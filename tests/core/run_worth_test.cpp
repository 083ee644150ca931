// SPDX-License-Identifier: GPL-3.0-or-later
// Cams, boost, sweeps, contents, money, dynos and the road, against truths that the test puts in.
#include "core/base/error.h"
#include "core/flow/mechanical_injection.h"
#include "core/practice/hidden_engine.h"
#include "core/report/run_reports.h"
#include "core/runs/boost_shape.h"
#include "core/runs/cam_crossing.h"
#include "core/runs/road_run.h"
#include "core/runs/run_intake.h"
#include "core/runs/run_worth.h"
#include "core/study/study.h"
#include "support/phrases.h"
#include "support/practice_log.h"
#include "support/random_job.h"
#include "support/recorded_log.h"
#include "support/test_main.h"

#include <array>
#include <fstream>
#include <functional>
#include <numbers>
#include <random>

using namespace wheelwright;
using namespace wheelwright::testing;

namespace {

using R = ChannelRole;
using Lanes = std::vector<std::pair<R, std::function<double(double)>>>;

/// A run with torque and lanes as functions of speed.
std::shared_ptr<const MeasuredRun> runOf(const std::string &id, const std::function<double(double)> &torque,
                                         const Lanes &lanes = {},
                                         const std::function<void(Run &)> &say = {}) {
    RunSamples s;
    s.columns = {{R::rpm, "rpm", "rpm", 1, 0, {}}, {R::torque, "Nm", "nm", 1, 0, {}}};
    for (const auto &[role, of] : lanes)
        s.columns.push_back({role, std::string(definitionOf(role).key), "", 1, 0, {}});
    for (double rpm = 2500; rpm <= 7500; rpm += 20) {
        s.columns[0].numbers.push_back(rpm);
        s.columns[1].numbers.push_back(torque(rpm));
        for (std::size_t k = 0; k < lanes.size(); ++k)
            s.columns[k + 2].numbers.push_back(lanes[k].second(rpm));
    }
    Run r;
    r.id = id;
    r.samples = DeferredText(runSamplesText(s));
    r.standard = CorrectionStandard::none;
    r.calibration = "0";
    r.order = std::stod(id);
    if (say) say(r);
    return measured(r);
}

double plain(double rpm) {
    return 250 - (rpm - 4800) * (rpm - 4800) * 1e-5;
}

bool saysOf(const std::vector<Phrase> &said, std::string_view words) {
    return std::ranges::any_of(said, [&](const Phrase &p) { return says(p, words); });
}

constexpr double airKgM3 = 1.2, gravity = 9.80665;

/// A car on a flat road with a constant power at the wheels, or rolling out, by small steps.
RoadMotion driven(const Vehicle &car, double kw, double fromMS, double seconds, double windMS = 0,
                  double slope = 0, double noiseMS = 0, unsigned seed = 1) {
    std::mt19937 random(seed);
    std::normal_distribution<double> noise(0, 1);
    RoadMotion m;
    double v = fromMS;
    constexpr double dt = 0.001;
    for (int i = 0; i * dt < seconds; ++i) {
        if (i % 50 == 0) {
            m.timeS.push_back(i * dt);
            m.speedMS.push_back(v + noiseMS * noise(random));
            m.rpm.push_back(v * 100);
        }
        const double through = v + windMS;
        const double force = kw * 1000 / v - 0.5 * airKgM3 * car.dragAreaM2 * through * std::abs(through) -
                             car.rolling * car.massKg * gravity - car.massKg * gravity * slope;
        v += force / (car.massKg + car.rotatingKg) * dt;
    }
    return m;
}

} // namespace

class RunWorthTest : public QObject {
    Q_OBJECT
  private slots:
    void camsCrossWhereTheyDo();
    void crossingHoldsAsOftenAsItSays();
    void camsThatDoNotCrossAreSaid();
    void camsAreHeldAgainstWhatIsKnown();
    void lambdaStepsAtTheSwitch();
    void boostHasAShape();
    void boostThatIsNoneIsSaid();
    void vertexOfEnginesOnEthanolIsRs();
    void sweepsGoOverWhatWasMeasured();
    void contentsAreALadder();
    void worthGoesByUnits();
    void fuelIsWorthItsPrice();
    void dynosHaveAFactor();
    void roadAndDynoAreNeverMixed();
    void roadPowerIsWhatDroveIt();
    void roadDoubtIsSummedByHand();
    void bothWaysTakeTheSlopeOut();
    void coastDownFindsTheLosses();
    void motionComesFromSpeedOrGear();
    void rollingOutIsFoundInALog();
    void roadHoldsThePracticeEngine();
    void sheetsHoldTheirNumbers();
};

// Two lines of torque that cross at a speed that was put in.
void RunWorthTest::camsCrossWhereTheyDo() {
    constexpr double truth = 5230;
    const auto low = [](double rpm) { return 250 - (rpm - truth) * 0.02; };
    const auto high = [](double rpm) { return 250 + (rpm - truth) * 0.01; };
    const auto up = [](const std::function<double(double)> &of, double by) {
        return [of, by](double rpm) { return of(rpm) + by; };
    };
    const CamCrossing c = camCrossing({runOf("1", up(low, 1)), runOf("2", up(low, -1))},
                                      {runOf("3", up(high, 1)), runOf("4", up(high, -1))}, {});
    QCOMPARE(c.crossings, std::size_t(1));
    // The order drifts by −2 a run: the crossing is where the rest of it crosses. By hand: high − low less 2
    // · slope.
    COMPARE_NEAR(*c.crossingRpm, truth - 4 / 0.03, 1);
    RunViewing still;
    still.drift = false;
    const CamCrossing w = camCrossing({runOf("1", up(low, 1)), runOf("2", up(low, -1))},
                                      {runOf("3", up(high, 1)), runOf("4", up(high, -1))}, still);
    COMPARE_NEAR(*w.crossingRpm, truth, 1);
    // ± by hand: σ = √(4/2), of a difference of two means of two that; t of 2 from a table; 0.03 N·m for each
    // rpm.
    const double half = 4.302653 * std::sqrt(2.0) * std::sqrt(0.5 + 0.5) / 0.03;
    COMPARE_NEAR(*w.highRpm, truth + half, 1);
    COMPARE_NEAR(*w.lowRpm, truth - half, 1);
    COMPARE_NEAR(*w.upRpm, truth + half, 1);
    COMPARE_NEAR(*w.downRpm, truth - half, 1);
    // Of cams that can hardly be told apart the hysteresis is the most there is.
    const auto flat = [](double by) { return [by](double rpm) { return 250 + (rpm - truth) * 0.015 + by; }; };
    const auto level = [](double by) { return [by](double) { return 250 + by; }; };
    const CamCrossing wide = camCrossing({runOf("1", level(1)), runOf("2", level(-1))},
                                         {runOf("3", flat(1)), runOf("4", flat(-1))}, still);
    COMPARE_NEAR(*wide.highRpm - truth, 2 * half, 3);
    COMPARE_NEAR(*wide.upRpm, truth + mostHysteresisRpm, 1);
    COMPARE_NEAR(*wide.downRpm, truth - mostHysteresisRpm, 1);
    // Without scatter the hysteresis is the least one.
    const CamCrossing sharp =
        camCrossing({runOf("1", low), runOf("2", low)}, {runOf("3", high), runOf("4", high)}, still);
    COMPARE_NEAR(*sharp.upRpm - *sharp.crossingRpm, leastHysteresisRpm, 1);
    COMPARE_NEAR(*sharp.crossingRpm - *sharp.downRpm, leastHysteresisRpm, 1);
    // Turned round they cross the other way, which is no switch to a high cam.
    QVERIFY(!camCrossing({runOf("3", high)}, {runOf("1", low)}, still).crossingRpm);
}

// A hidden crossing, 300 days of three runs of each cam that scatter and drift: the interval holds it in 95
// %.
void RunWorthTest::crossingHoldsAsOftenAsItSays() {
    std::mt19937 random(4);
    std::normal_distribution<double> normal(0, 1);
    constexpr double truth = 5170;
    RunViewing how;
    how.smoothRpm = 0;
    how.stepRpm = 250;
    int held = 0, closed = 0;
    constexpr int days = 300;
    for (int day = 0; day < days; ++day) {
        std::array<MeasuredRuns, 2> cams;
        for (int k = 0; k < 6; ++k) {
            const double by = 1.5 * normal(random) - 0.8 * k, side = k % 2 == 0 ? -0.5 : 0.5;
            cams[static_cast<std::size_t>(k % 2)].push_back(runOf(
                std::to_string(k + 1), [=](double rpm) { return 250 + by + side * (rpm - truth) * 0.03; }));
        }
        const CamCrossing c = camCrossing(cams[0], cams[1], how);
        if (!c.crossingRpm) continue; // beyond both ends: counted against it
        held += (!c.lowRpm || *c.lowRpm <= truth) && (!c.highRpm || *c.highRpm >= truth);
        closed += c.lowRpm && c.highRpm;
    }
    COMPARE_NEAR(static_cast<double>(held) / days, 0.95, 0.03);
    QVERIFY(closed > days * 0.9);
}

void RunWorthTest::camsThatDoNotCrossAreSaid() {
    const auto more = [](double rpm) { return plain(rpm) + 20; };
    const CamCrossing high = camCrossing({runOf("1", plain)}, {runOf("2", more)}, {});
    QVERIFY(!high.crossingRpm && !high.upRpm && saysOf(high.said, "the high cam has more"));
    const CamCrossing low = camCrossing({runOf("2", more)}, {runOf("1", plain)}, {});
    QVERIFY(!low.crossingRpm && saysOf(low.said, "the low cam has more"));
    QVERIFY(saysOf(low.said, "Not judged")); // one against one
    // Made twice each and twenty more: everywhere told apart; one more with a scatter of two: nowhere.
    const auto by = [](double nm) { return [nm](double rpm) { return plain(rpm) + nm; }; };
    RunViewing still;
    still.drift = false;
    const CamCrossing sure = camCrossing({runOf("1", by(0.1)), runOf("2", by(-0.1))},
                                         {runOf("3", by(20.1)), runOf("4", by(19.9))}, still);
    QVERIFY(!saysOf(sure.said, "nobody can tell"));
    const CamCrossing blurred =
        camCrossing({runOf("1", by(2)), runOf("2", by(-2))}, {runOf("3", by(3)), runOf("4", by(-1))}, still);
    QVERIFY(saysOf(blurred.said, "At 101 of 101 speeds nobody can tell them apart"));
    const auto cross = [](double rpm) { return plain(rpm) + (rpm - 5000) * 0.02; };
    const CamCrossing alone = camCrossing({runOf("1", plain)}, {runOf("2", cross)}, {});
    COMPARE_NEAR(*alone.crossingRpm, 5000, 1);
    QVERIFY(!alone.lowRpm && saysOf(alone.said, "Not judged"));
    const auto twice = [](double rpm) { return plain(rpm) + 5 * std::sin((rpm - 4000) / 400); };
    QVERIFY(saysOf(camCrossing({runOf("1", plain)}, {runOf("2", twice)}, {}).said, "the last one counts"));
}

// Two runs that differ in fuel are no two cams, whatever their curves do.
void RunWorthTest::camsAreHeldAgainstWhatIsKnown() {
    const Job job = demoJob();
    const auto named = [](const char *id, const char *cam, const char *exhaust) {
        return runOf(id, plain, {}, [=](Run &r) {
            r.cam = cam;
            r.hardware = exhaust;
        });
    };
    const MeasuredRuns low{named("1", "low", "")}, high{named("2", "high", "")};
    QVERIFY(camCautions(job, low, high, false).empty());
    QVERIFY(camCautions(job, low, {named("2", "", "")}, true).empty()); // who chooses them says it
    QVERIFY(saysOf(camCautions(job, low, {named("2", "", "")}, false), "which cam"));
    const auto more = camCautions(job, low, {named("2", "high", "open pipe")}, true);
    QVERIFY(saysOf(more, "Not the cam alone: these runs differ in hardware"));
    const std::vector<Phrase> cautions{more};
    const Report r = camReport(camCrossing(low, high, {}), {}, cautions).report;
    QVERIFY(std::ranges::any_of(r.blocks, [](const Block &b) {
        const auto *s = std::get_if<Sentence>(&b);
        return s && s->tone == Tone::caution && says(s->words, "hardware");
    }));
}

void RunWorthTest::lambdaStepsAtTheSwitch() {
    Recorded r;
    for (int i = 0; i < 400; ++i) {
        const double t = i * 0.02, rpm = 3000 + 500 * t;
        const bool high = t >= 4; // 5000 rpm
        r.add(t, {{R::rpm, rpm},
                  {R::map, 180},
                  {R::throttle, 1},
                  {R::cam, high ? 30 : 5},
                  {R::lambda, high ? 0.86 : 0.80},
                  {R::ethanol, 0.1}});
    }
    const Job job = r.in(demoJob());
    const auto switches = lambdaAtSwitches(*r.review(job));
    QCOMPARE(switches.size(), std::size_t(1));
    COMPARE_NEAR(switches[0].timeS, 4, 0.03);
    COMPARE_NEAR(switches[0].rpm, 5000, 20);
    QVERIFY(switches[0].up);
    COMPARE_NEAR(switches[0].before, 0.80, 0.003); // the sample of the switch itself is in it
    COMPARE_NEAR(switches[0].step(), 0.06, 0.003);
    // The sheet holds them, number by number.
    const auto cross = [](double rpm) { return plain(rpm) + (rpm - 5000) * 0.02; };
    const Report report =
        camReport(camCrossing({runOf("1", plain)}, {runOf("2", cross)}, {}), switches).report;
    for (const Block &b : report.blocks)
        if (const auto *grid = std::get_if<Grid>(&b)) {
            QCOMPARE(grid->rows[0][1].words.values[0].value, switches[0].timeS);
            QCOMPARE(grid->rows[0][2].words.values[0].value, switches[0].rpm);
            QVERIFY(says(grid->rows[0][3].words, "high"));
            QCOMPARE(grid->rows[0][4].words.values[0].value, switches[0].before);
            QCOMPARE(grid->rows[0][5].words.values[0].value, switches[0].after);
            QCOMPARE(grid->rows[0][6].words.values[0].value, switches[0].step());
        }
    Recorded idle = r;
    for (double &kpa : idle.of[R::map])
        kpa = 35;
    QVERIFY(lambdaAtSwitches(*idle.review(idle.in(demoJob()))).empty()); // not under load
}

void RunWorthTest::boostHasAShape() {
    const auto shape = [](const std::function<double(double)> &kpa, const Lanes &more = {}) {
        Lanes lanes{{R::map, kpa}};
        lanes.insert(lanes.end(), more.begin(), more.end());
        return boostShape(*runOf("1", plain, lanes), 100);
    };
    const auto spool = [](double rpm) { return 100 + 100 * std::min(1.0, (rpm - 2500) / 1000); };
    const BoostShape flat = shape(spool);
    QVERIFY(flat.known && saysOf(flat.said, "no spike"));
    COMPARE_NEAR(flat.reachedRpm, 3300, 21); // four fifths of the way
    COMPARE_NEAR(flat.heldKpa, 200, 0.5);
    const BoostShape spike =
        shape([&](double rpm) { return spool(rpm) + (rpm > 3500 && rpm < 3800 ? 18 : 0); });
    COMPARE_NEAR(spike.spikeKpa, 18, 0.5);
    QVERIFY(saysOf(spike.said, "spike"));
    const BoostShape creep = shape([&](double rpm) { return spool(rpm) + std::max(0.0, rpm - 4000) * 0.01; });
    // Reached at four fifths of 122.5 kPa, at 3500 rpm or little before; from a fifth behind that on 0.01 for
    // each rpm.
    COMPARE_NEAR(creep.driftKpa, 0.01 * (7500 - 4290), 0.5);
    QVERIFY(saysOf(creep.said, "creep"));
    const BoostShape sag = shape([&](double rpm) { return spool(rpm) - std::max(0.0, rpm - 4000) * 0.01; },
                                 {{R::solenoidDuty, [](double rpm) { return rpm > 5500 ? 0.95 : 0.6; }},
                                  {R::boostTarget, [](double) { return 200; }}});
    QVERIFY(saysOf(sag.said, "sag") && !saysOf(sag.said, "creep"));
    COMPARE_NEAR(*sag.solenoidUsedUpRpm, 5520, 1);
    const BoostShape wave =
        shape([&](double rpm) { return spool(rpm) + 8 * std::sin(rpm * 2 * std::numbers::pi / 700); });
    COMPARE_NEAR(wave.waveKpa, 8, 0.5);
    COMPARE_NEAR(wave.waveRpm, 700, 30);
    QVERIFY(saysOf(wave.said, "wave"));
    std::mt19937 random(9);
    std::normal_distribution<double> noise(0, 6);
    QCOMPARE(shape([&](double rpm) { return spool(rpm) + noise(random); }).waveKpa, 0.0); // noise is no wave
    const BoostShape sensors = shape(spool, {{R::dynoMap, [&](double rpm) { return spool(rpm) + 9; }}});
    COMPARE_NEAR(*sensors.sensorOffKpa, 9, 1e-6);
    QVERIFY(saysOf(sensors.said, "9 kPa more than the controller"));
}

void RunWorthTest::boostThatIsNoneIsSaid() {
    const BoostShape none = boostShape(*runOf("1", plain), 100);
    QVERIFY(!none.known && saysOf(none.said, "no manifold pressure"));
    const BoostShape free = boostShape(*runOf("1", plain, {{R::map, [](double) { return 98; }}}), 100);
    QVERIFY(!free.known && saysOf(free.said, "no boost"));
}

// NOx over equivalence ratio of an engine on ethanol, 0.7 < E < 1.15: vertex and Fieller's interval by R
// (stats, lattice).
void RunWorthTest::vertexOfEnginesOnEthanolIsRs() {
    std::ifstream file(TEST_DATA "/ethanol-lattice.txt");
    std::string head;
    std::getline(file, head);
    std::vector<SweepPoint> points;
    for (double nox = 0, c = 0, e = 0; file >> nox >> c >> e;)
        if (e > 0.7 && e < 1.15) points.push_back({e * 100, nox});
    QVERIFY(points.size() > 50);
    const SparkSweep s = fitSweep(points);
    COMPARE_NEAR(*s.bestDeg / 100, 0.914506, 1e-6);
    COMPARE_NEAR(*s.lowDeg / 100, 0.906561, 1e-6);
    COMPARE_NEAR(*s.highDeg / 100, 0.921775, 1e-6);
}

void RunWorthTest::sweepsGoOverWhatWasMeasured() {
    MeasuredRuns runs;
    const auto power = [](double x) { return 200 - 0.15 * (x - 17) * (x - 17); }; // kW, best at 17
    for (int i = 0; i < 5; ++i) {
        const double x = 11 + 3 * i;
        runs.push_back(runOf(
            std::to_string(i + 1), [=](double rpm) { return power(x) * newtonMetreRpmPerKw / rpm; },
            {{R::spark, [=](double) { return x; }},
             {R::map, [=](double) { return x * 10; }},
             {R::lambda, [=](double) { return x / 20; }},
             {R::ethanol, [=](double) { return x / 25; }}},
            [=](Run &r) { // stated: that counts before the channel
                r.content = x / 20;
                r.contentBasis = RunContentBasis::stated;
            }));
    }
    for (const auto &[over, best] : {std::pair{SweepOver::spark, 17.0},
                                     {SweepOver::boost, 170.0},
                                     {SweepOver::lambda, 85.0},
                                     {SweepOver::content, 85.0}}) {
        const SparkSweep s = sweepOf(runs, over, 5000, {});
        QVERIFY2(s.bestDeg, std::string(keyOf(over)).c_str());
        COMPARE_NEAR(*s.bestDeg, best, 0.02);
        QCOMPARE(sweepOverByKey(keyOf(over)), over);
    }
    const Job job = demoJob();
    QCOMPARE(alsoDiffering(job, runs, SweepOver::spark),
             (std::vector<RunCause>{RunCause::fuel, RunCause::boost, RunCause::mixture}));
    QCOMPARE(alsoDiffering(job, runs, SweepOver::content),
             (std::vector<RunCause>{RunCause::spark, RunCause::boost, RunCause::mixture}));
    QVERIFY(alsoDiffering(job, {runs[0], runs[0]}, SweepOver::boost).empty());
    // What is said of the best, by hand, in the units that are shown.
    for (const SweepOver over : {SweepOver::spark, SweepOver::content, SweepOver::lambda, SweepOver::boost}) {
        const SparkSweep s = sweepOf(runs, over, 5000, {});
        const Explanation e = explainSweep(s, over);
        const bool share = over == SweepOver::content || over == SweepOver::lambda;
        COMPARE_NEAR(e.result.value, *s.bestDeg * (share ? 0.01 : 1), 1e-12);
        const auto &v = e.substituted.values;
        COMPARE_NEAR(v[0].value - v[1].value / (2 * v[2].value), v[3].value, 1e-9);
        const WorkedReport made = runSweepReport(s, over, 5000);
        QVERIFY(says(std::get<Heading>(made.report.blocks[0]).words, "Most power at"));
        COMPARE_NEAR(std::get<Heading>(made.report.blocks[0]).words.values[0].value, e.result.value, 1e-12);
    }
    const auto between = runOf("9", [&](double rpm) { return power(12.5) * newtonMetreRpmPerKw / rpm; },
                               {{R::spark, [](double) { return 12.5; }}});
    const SparkSweep rising = sweepOf({runs[0], between, runs[1]}, SweepOver::spark, 5000, {});
    QVERIFY(says(std::get<Heading>(runSweepReport(rising, SweepOver::spark, 5000).report.blocks[0]).words,
                 "still rises"));
    const std::array also{RunCause::hardware};
    QVERIFY(
        says(std::get<Heading>(runSweepReport(rising, SweepOver::spark, 5000, also).report.blocks[0]).words,
             "Not judged"));
    EXPECT_INPUT_ERROR(sweepOverByKey("boots"), "boost");
    EXPECT_INPUT_ERROR(sweepOf(runs, SweepOver::spark, 9000, {}), "run 1", "2500 rpm to 7500 rpm");
    EXPECT_INPUT_ERROR(sweepOf({runOf("1", plain)}, SweepOver::spark, 5000, {}), "run 1", "Spark", "none");
}

void RunWorthTest::contentsAreALadder() {
    // Kilowatts over content that run out: + 20, + 8, + 0.2.
    const std::array contents{0.1, 0.4, 0.6, 0.85};
    const std::array gains{0.0, 20.0, 28.0, 28.2};
    MeasuredRuns runs;
    int id = 0;
    for (int round = 0; round < 2; ++round)
        for (std::size_t k = 0; k < contents.size(); ++k) {
            ++id;
            const double off = (round == 0 ? 0.5 : -0.5) * (k % 2 == 0 ? 1 : -1), drift = -0.3 * id;
            runs.push_back(runOf(
                std::to_string(id),
                [=](double rpm) { return plain(rpm) + (gains[k] + off + drift) * newtonMetreRpmPerKw / rpm; },
                {},
                [&](Run &r) {
                    r.content = contents[k];
                    r.contentBasis = RunContentBasis::stated;
                }));
        }
    const ContentLadder ladder = contentLadder(demoJob(), runs, {});
    QCOMPARE(ladder.rungs.size(), std::size_t(4));
    for (std::size_t k = 0; k < 4; ++k) {
        COMPARE_NEAR(ladder.rungs[k].content, contents[k], 1e-9);
        QCOMPARE(ladder.rungs[k].runs.size(), std::size_t(2));
        COMPARE_NEAR(ladder.rungs[k].meanKw - ladder.rungs[0].meanKw, gains[k], 1e-3);
    }
    COMPARE_NEAR(ladder.rungs[0].next.mean, 20, 1e-3);
    COMPARE_NEAR(ladder.rungs[0].perPercentKw, 20.0 / 30, 1e-4);
    COMPARE_NEAR(ladder.rungs[1].perPercentKw, 8.0 / 20, 1e-4);
    QCOMPARE(ladder.rungs[0].halfKw, 0.0);
    COMPARE_NEAR(ladder.rungs[1].halfKw, ladder.rungs[0].next.halfWidth(),
                 1e-9); // both are against the first
    QVERIFY(ladder.scatterKw > 0.3);
    QVERIFY(ladder.sweetSpot && *ladder.sweetSpot == ladder.rungs[2].content);
    QVERIFY(ladder.alsoDiffers.empty());
    Run bare = runs[0]->run;
    bare.contentBasis = RunContentBasis::none;
    EXPECT_INPUT_ERROR(contentLadder(demoJob(), {measured(bare), runs[1]}, {}), "run 1", "content");
    EXPECT_INPUT_ERROR(contentLadder(demoJob(), {runs[0], runs[4]}, {}), "two contents", "1");
    const auto sparked = runOf("9", plain, {{R::spark, [](double) { return 20; }}}, [](Run &r) {
        r.content = 0.1;
        r.contentBasis = RunContentBasis::stated;
    });
    const auto later = runOf("10", plain, {{R::spark, [](double) { return 24; }}}, [](Run &r) {
        r.content = 0.5;
        r.contentBasis = RunContentBasis::stated;
    });
    QCOMPARE(contentLadder(demoJob(), {sparked, later}, {}).alsoDiffers, std::vector{RunCause::spark});
}

void RunWorthTest::worthGoesByUnits() {
    const auto at = [](const char *id, double kw, double spark, double boost) {
        return runOf(id, [=](double rpm) { return plain(rpm) + kw * newtonMetreRpmPerKw / rpm; },
                     {{R::spark, [=](double) { return spark; }}, {R::map, [=](double) { return boost; }}});
    };
    const RunComparison one = compareRuns(demoJob(), {at("1", 0, 14, 180)}, {at("2", 9, 17, 180)}, {});
    const std::vector<WorthOf> spark = worthOf(one);
    QCOMPARE(spark.size(), std::size_t(1));
    QCOMPARE(spark[0].what, std::string_view("spark"));
    COMPARE_NEAR(spark[0].kwPer, 3, 1e-3); // nine kilowatts for three degrees
    QVERIFY(spark[0].alone && std::isnan(spark[0].kwPerHalf));
    const std::vector<WorthOf> two =
        worthOf(compareRuns(demoJob(), {at("1", 0, 14, 180)}, {at("2", 9, 17, 200)}, {}));
    QCOMPARE(two.size(), std::size_t(2));
    QVERIFY(!two[0].alone && !two[1].alone);
    COMPARE_NEAR(two[1].kwPer, 9.0 / 20, 1e-3);
}

void RunWorthTest::fuelIsWorthItsPrice() {
    Job job = demoJob();
    job.lots.clear();
    job.tubes.clear();
    ShelfEntry pump, strong;
    pump.name = "Pump";
    pump.ethanol = 0.1;
    pump.pricePerL = 1.8;
    strong.name = "Strong";
    strong.ethanol = 0.85;
    strong.pricePerL = 4.8;
    job.shelf = {pump, strong};
    job.mixtures.clear();
    job.tankEvents.clear();
    job.tank.capacityL = 60;
    COMPARE_NEAR(*pricePerLitre(job, 0.1), 1.8, 1e-9);
    COMPARE_NEAR(*pricePerLitre(job, 0.475), 3.3, 1e-9); // half of each
    QVERIFY(!pricePerLitre(job, 0.95));
    // What is no fuel to fill up with, or is not to be poured, makes none cheaper.
    Job with = job;
    ShelfEntry booster = pump, kept = strong;
    booster.name = "Booster";
    booster.pricePerL = 0.1;
    booster.treatRate = 0.01;
    kept.name = "Kept";
    kept.pricePerL = 0.2;
    kept.inPlans = false;
    with.shelf = {pump, strong, booster, kept};
    COMPARE_NEAR(*pricePerLitre(with, 0.1), 1.8, 1e-9);
    COMPARE_NEAR(*pricePerLitre(with, 0.475), 3.3, 1e-9);
    const auto at = [](const char *id, double kw, double content) {
        return runOf(
            id, [=](double rpm) { return plain(rpm) + kw * newtonMetreRpmPerKw / rpm; }, {},
            [=](Run &r) {
                r.content = content;
                r.contentBasis = RunContentBasis::stated;
            });
    };
    RunViewing still;
    still.drift = false;
    const RunComparison c = compareRuns(job, {at("1", 0.1, 0.1), at("2", -0.1, 0.1)},
                                        {at("3", 20.1, 0.85), at("4", 19.9, 0.85)}, still);
    const auto money = moneyOf(job, c);
    COMPARE_NEAR(money->morePerTank, 180, 1e-9); // 3 more for each of sixty litres
    COMPARE_NEAR(*money->perKw, 9, 1e-3);
    const RunComparison nothing =
        compareRuns(job, {at("1", 5, 0.1), at("2", -5, 0.1)}, {at("3", 5, 0.85), at("4", -5, 0.85)}, still);
    QVERIFY(moneyOf(job, nothing) && !moneyOf(job, nothing)->perKw); // for nothing no price is worth saying
    QVERIFY(!moneyOf(job, compareRuns(job, {at("1", 0, 0.1)}, {at("2", 1, 0.1)}, {})));
}

void RunWorthTest::dynosHaveAFactor() {
    const auto at = [](int id, const char *dyno, double factor, double content = 0.1) {
        return runOf(
            std::to_string(id), [=](double rpm) { return plain(rpm) * factor; }, {},
            [=](Run &r) {
                r.dyno = dyno;
                r.content = content;
                r.contentBasis = RunContentBasis::stated;
            });
    };
    const MeasuredRuns runs{at(1, "Left", 1.01),         at(2, "Left", 0.99),
                            at(3, "Right", 1.05 * 1.01), at(4, "Right", 1.05 * 0.99),
                            at(5, "Left", 1.2, 0.85),    at(6, "Right", 1.05 * 1.2, 0.85),
                            at(7, "Road", 0.9, 0.5)};
    const std::vector<DynoFactor> factors = dynoFactors(demoJob(), runs, {});
    QCOMPARE(factors.size(), std::size_t(1)); // the third shares nothing with them
    QCOMPARE(factors[0].from + factors[0].to, std::string("LeftRight"));
    COMPARE_NEAR(factors[0].factor, 1.05, 1e-6);
    QCOMPARE(factors[0].shared, std::size_t(2));
    QCOMPARE(factors[0].runs, std::size_t(6));
    // By hand on logarithms: six values, two means and the factor leave three; t of 3 from a table.
    const double off = std::log(1.01) - (std::log(1.01) + std::log(0.99)) / 2, rest = 4 * off * off;
    const double error = std::sqrt(rest / 3 / (1.0 + 0.5)); // the second set counts half as much as the first
    COMPARE_NEAR(factors[0].half, 1.05 * std::expm1(3.182446 * error), 1e-5);
    const std::vector<DynoFactor> alone =
        dynoFactors(demoJob(), {at(1, "Left", 1), at(2, "Right", 1.02)}, {});
    COMPARE_NEAR(alone[0].factor, 1.02, 1e-6);
    QVERIFY(std::isnan(alone[0].half));
    // Compared, they are a difference, and of one kind only the most are taken together.
    const RunDifferences d =
        RunDifferenceFinder(demoJob()).between(MeasuredRuns{runs[0]}, MeasuredRuns{runs[2]});
    QCOMPARE(d.causes(), std::vector{RunCause::dyno});
    QCOMPARE(ofOneKind(runs).size(), std::size_t(3));
}

void RunWorthTest::roadAndDynoAreNeverMixed() {
    const auto road = runOf("2", plain, {}, [](Run &r) { r.mode = RunMode::road; });
    EXPECT_INPUT_ERROR(compareRuns(demoJob(), {runOf("1", plain)}, {road}, {}), "of the road alone", "both");
    EXPECT_INPUT_ERROR(
        contentLadder(demoJob(),
                      {runOf("1", plain, {}, [](Run &r) { r.contentBasis = RunContentBasis::stated; }),
                       runOf("2", plain, {},
                             [](Run &r) {
                                 r.mode = RunMode::road;
                                 r.content = 0.5;
                                 r.contentBasis = RunContentBasis::stated;
                             })},
                      {}),
        "road");
    QVERIFY(
        compareRuns(demoJob(), {road}, {runOf("3", plain, {}, [](Run &r) { r.mode = RunMode::road; })}, {})
            .rpm.size() > 2);
}

// A car that a known power drives, by integration: the same power comes back.
void RunWorthTest::roadPowerIsWhatDroveIt() {
    const Vehicle car;
    for (const double kw : {60.0, 150.0}) {
        const RoadPower p = roadPower(car, driven(car, kw, 15, 8), airKgM3, {});
        for (const double v : p.kw)
            COMPARE_NEAR(v / kw, 1, 0.012); // over 0.6 s the acceleration of a constant power bends
        QVERIFY(p.averageHalfShare > 0.02 && p.averageHalfShare < 0.15);
        QVERIFY(saysOf(p.said, "estimate") && saysOf(p.said, "One direction"));
    }
    // Rough speeds: the band holds what drove it in 95 % of all places.
    int held = 0, all = 0;
    for (unsigned seed = 1; seed <= 20; ++seed) {
        const RoadPower p = roadPower(car, driven(car, 100, 15, 8, 0, 0, 0.02, seed), airKgM3, {});
        for (std::size_t i = 0; i < p.kw.size(); ++i, ++all)
            held += std::abs(p.kw[i] - 100) <= p.half[i];
    }
    QVERIFY(held > 0.95 * all);
    EXPECT_INPUT_ERROR(roadPower(car, {}, airKgM3, {}), "ten times");
    RoadMotion slow = driven(car, 60, 15, 8);
    for (std::size_t i = 0; i < slow.timeS.size(); ++i)
        slow.timeS[i] *= 10;
    EXPECT_INPUT_ERROR(roadPower(car, slow, airKgM3, {}), "five speeds");
    // The working of the highest power is the sum of three forces times the speed.
    const RoadPower p = roadPower(car, driven(car, 120, 15, 8), airKgM3, {});
    const auto &v = p.working.substituted.values;
    COMPARE_NEAR((v[0].value + v[1].value + v[2].value) * v[3].value / 1000, v[4].value, 1e-9);
    COMPARE_NEAR(v[4].value, *std::ranges::max_element(p.kw), 1e-12);
    COMPARE_NEAR(v[1].value, 0.5 * airKgM3 * car.dragAreaM2 * v[3].value * v[3].value, 1e-9);
    COMPARE_NEAR(v[2].value, car.rolling * car.massKg * gravity, 1e-9);
    QVERIFY(v[5].value > 0.02 * v[4].value);
    const WorkedReport sheet = roadReport(p);
    QCOMPARE(std::get<Heading>(sheet.report.blocks[0]).words.values[0].value, v[4].value);
    QCOMPARE(std::get<Heading>(sheet.report.blocks[0]).words.values[1].value, v[5].value);
    const FoundPull pull = pullOf(roadPower(car, driven(car, 60, 15, 8), airKgM3, {}));
    QVERIFY(curveOf(pull.samples, "road").rpm.size() > 50);
}

// At one moment, by hand: each part moved by itself, in squares.
void RunWorthTest::roadDoubtIsSummedByHand() {
    const Vehicle car;
    RoadMotion m; // 2 m/s², through 30 m/s
    for (int i = 0; i <= 40; ++i) {
        m.timeS.push_back(i * 0.05);
        m.speedMS.push_back(28 + 2 * i * 0.05);
        m.rpm.push_back(100 * m.speedMS.back());
    }
    const auto at30 = [&](const Vehicle &v, double air, double speedScale, const RoadDoubt &d) {
        RoadMotion scaled = m;
        for (double &s : scaled.speedMS)
            s *= speedScale;
        const RoadPower p = roadPower(v, scaled, air, d);
        const auto i = static_cast<std::size_t>(
            std::ranges::min_element(p.rpm, {}, [](double r) { return std::abs(r - 3000); }) - p.rpm.begin());
        return std::pair{p.kw[i], p.half[i]};
    };
    const RoadDoubt none{0, 0, 0, 0, 0, 0};
    const double inertia = 1340 * 2, drag = 0.5 * 1.2 * 0.7 * 900, rolling = 0.013 * 1300 * 9.80665;
    const auto [kw, exact] = at30(car, 1.2, 1, none);
    COMPARE_NEAR(kw, (inertia + drag + rolling) * 30 / 1000, 1e-9);
    COMPARE_NEAR(exact, 0, 1e-6);
    const auto half = [&](const RoadDoubt &d) { return at30(car, 1.2, 1, d).second; };
    COMPARE_NEAR(half({0.02, 0, 0, 0, 0, 0}), 1.96 * 0.02 * (inertia + rolling) * 0.03, 1e-9);
    COMPARE_NEAR(half({0, 0.1, 0, 0, 0, 0}), 1.96 * 0.1 * drag * 0.03, 1e-9);
    COMPARE_NEAR(half({0, 0, 0.2, 0, 0, 0}), 1.96 * 0.2 * rolling * 0.03, 1e-9);
    COMPARE_NEAR(half({0, 0, 0, 0, 2, 0}), 1.96 * 1.2 * 0.7 * 30 * 2 * 0.03, 1e-9);
    COMPARE_NEAR(half({0, 0, 0, 0, 0, 0.005}), 1.96 * 1300 * 9.80665 * 0.005 * 0.03, 1e-9);
    // Of the tyre by a second way: a hundredth more speed everywhere.
    const double moved = at30(car, 1.2, 1.001, none).first - kw;
    COMPARE_NEAR(half({0, 0, 0, 0.015, 0, 0}), 1.96 * 0.015 * moved / 0.001, 0.03);
    const double all = half({0.02, 0.1, 0.2, 0.015, 2, 0.005});
    double squares = 0;
    for (const RoadDoubt &d :
         {RoadDoubt{0.02, 0, 0, 0, 0, 0}, RoadDoubt{0, 0.1, 0, 0, 0, 0}, RoadDoubt{0, 0, 0.2, 0, 0, 0},
          RoadDoubt{0, 0, 0, 0.015, 0, 0}, RoadDoubt{0, 0, 0, 0, 2, 0}, RoadDoubt{0, 0, 0, 0, 0, 0.005}})
        squares += std::pow(half(d), 2);
    COMPARE_NEAR(all, std::sqrt(squares), 1e-9);
}

void RunWorthTest::bothWaysTakeTheSlopeOut() {
    const Vehicle car;
    constexpr double kw = 110;
    const RoadPower up = roadPower(car, driven(car, kw, 15, 8, 0, 0.01), airKgM3, {}),
                    down = roadPower(car, driven(car, kw, 15, 8, 0, -0.01), airKgM3, {});
    QVERIFY(up.kw[20] < kw - 1 && down.kw[20] > kw + 1);
    const RoadPower mean = bothWays(up, down);
    QVERIFY(mean.bothWays && mean.averageHalfShare < up.averageHalfShare);
    for (std::size_t i = 0; i < mean.kw.size(); ++i) {
        COMPARE_NEAR(mean.kw[i] / kw, 1, 0.01);
        QCOMPARE(mean.half[i], mean.carHalf[i]); // what is not known of the car stays, and nothing else
        QVERIFY(mean.half[i] < up.half[i]);
    }
    QVERIFY(!saysOf(mean.said, "apart"));
    const auto &v = mean.working.substituted.values;
    COMPARE_NEAR((v[0].value + v[1].value) / 2, v[2].value, 1e-9);
    QVERIFY(v[0].value < v[1].value); // uphill first
    COMPARE_NEAR(v[2].value, *std::ranges::max_element(mean.kw), 1e-12);
    const RoadPower with = roadPower(car, driven(car, kw, 15, 8, -12), airKgM3, {}),
                    against = roadPower(car, driven(car, kw, 15, 8, 12), airKgM3, {});
    QVERIFY(saysOf(bothWays(with, against).said, "calm hour"));
    EXPECT_INPUT_ERROR(bothWays(roadPower(car, driven(car, kw, 10, 2), airKgM3, {}),
                                roadPower(car, driven(car, kw, 40, 2), airKgM3, {})),
                       "engine speeds");
}

void RunWorthTest::coastDownFindsTheLosses() {
    const Vehicle car;
    const CoastDown c = coastDown(car, driven(car, 0, 40, 60), airKgM3);
    COMPARE_NEAR(c.rolling, car.rolling, 1e-4);
    COMPARE_NEAR(c.dragAreaM2, car.dragAreaM2, 2e-3);
    const auto &rolls = c.explainRolling().substituted.values,
               &drags = c.explainDragArea().substituted.values;
    COMPARE_NEAR(rolls[0].value * rolls[1].value / (rolls[2].value * rolls[3].value), c.rolling, 1e-12);
    COMPARE_NEAR(2 * drags[0].value * drags[1].value / 1000 / drags[2].value, c.dragAreaM2, 1e-12);
    QCOMPARE(rolls[5].value, c.rollingError);
    QCOMPARE(drags[4].value, c.dragAreaError);
    QCOMPARE(std::get<Heading>(coastReport(c).report.blocks[0]).words.values[0].value, c.rolling);
    // Rough speeds: the errors hold the truth; a slope counts as rolling, and it says so.
    int held = 0;
    for (unsigned seed = 1; seed <= 200; ++seed) {
        const CoastDown rough = coastDown(car, driven(car, 0, 40, 40, 0, 0, 0.05, seed), airKgM3);
        held += std::abs(rough.dragAreaM2 - car.dragAreaM2) < 2.02 * rough.dragAreaError; // t of 38
    }
    QVERIFY2(held > 184 && held < 198, qPrintable(QString::number(held)));
    COMPARE_NEAR(coastDown(car, driven(car, 0, 40, 50, 0, 0.005), airKgM3).rolling, car.rolling + 0.005,
                 2e-4);
    EXPECT_INPUT_ERROR(coastDown(car, driven(car, 0, 40, 3), airKgM3), "slows down by 5 m/s");
    EXPECT_INPUT_ERROR(coastDown(car, driven(car, 200, 10, 10), airKgM3), "losses");
}

void RunWorthTest::motionComesFromSpeedOrGear() {
    Recorded r;
    for (int i = 0; i < 100; ++i)
        r.add(i * 0.05,
              {{R::rpm, 3000 + 10 * i}, {R::gear, 3}, {R::throttle, 1}, {R::map, 180}, {R::ethanol, 0.1}});
    Job job = r.in(demoJob());
    const auto review = r.review(job);
    EXPECT_INPUT_ERROR(motionOf(job, *review, 0, 5), "gear");
    job.gears = {{3, 1.4}};
    job.vehicle.finalDrive = 4;
    job.vehicle.tyreM = 2;
    const RoadMotion m = motionOf(job, *review, 1, 2);
    QCOMPARE(m.timeS.size(), std::size_t(21));
    COMPARE_NEAR(m.speedMS[0], 3200.0 / 60 / (1.4 * 4) * 2, 1e-9);
    Recorded fast = r;
    fast.of[R::speed] = std::vector<double>(100, 72);
    const Job with = fast.in(demoJob());
    COMPARE_NEAR(motionOf(with, *fast.review(with), 1, 2).speedMS[0], 20, 1e-9);
}

// Under power, then rolling out, then under power: the stretch between is found.
void RunWorthTest::rollingOutIsFoundInALog() {
    Recorded r;
    double v = 30;
    for (int i = 0; i < 600; ++i) {
        const double t = i * 0.1;
        const bool power = t < 10 || t >= 45;
        v += (power ? 0.3 : -0.35) * 0.1;
        r.add(t, {{R::rpm, 2000},
                  {R::throttle, power ? 0.4 : 0.0},
                  {R::map, 60},
                  {R::speed, v * 3.6},
                  {R::ethanol, 0.1}});
    }
    const Job job = r.in(demoJob());
    const auto found = longestCoast(job, *r.review(job));
    QVERIFY(found);
    COMPARE_NEAR(found->first, 10, 0.3);
    COMPARE_NEAR(found->second, 45, 0.3);
    // A foot on the pedal is no rolling out, and neither is a car that hardly slows down.
    Recorded pressed = r, slow = r;
    for (double &open : pressed.of[R::throttle])
        open = 0.3;
    for (double &kmh : slow.of[R::speed])
        kmh = 100 + kmh / 100;
    QVERIFY(!longestCoast(pressed.in(demoJob()), *pressed.review(pressed.in(demoJob()))));
    QVERIFY(!longestCoast(slow.in(demoJob()), *slow.review(slow.in(demoJob()))));
}

// Twenty hidden engines on the road, cars as they are: the band holds the power at the wheels that the engine
// had.
void RunWorthTest::roadHoldsThePracticeEngine() {
    const Job job = demoJob();
    const auto study = std::make_shared<const Study>(job);
    int engines = 0;
    for (std::uint64_t seed = 1; seed <= 20; ++seed) {
        const HiddenEngine engine = drawEngine(*study, seed);
        const PracticeLog log(job, engine, R"({"start": "warm", "steps": [{"do": "idle", "seconds": 3},
            {"do": "pull", "gear": 3, "mode": "road", "from_rpm": 2500, "to_rpm": 6500}]})",
                              2);
        const DynoRun &truth = log.result().runs.front();
        Job with = log.in(job, "aa");
        with.vehicle.massKg = engine.massKg;
        with.vehicle.rotatingKg = 0.04 * engine.massKg; // as the practice engine's wheels
        with.vehicle.dragAreaM2 = engine.dragAreaM2;
        with.vehicle.rolling = engine.rolling;
        const auto review = log.review(with, "aa");
        const auto pulls = only(review->episodes(), EpisodeKind::pull);
        QVERIFY2(!pulls.empty(), qPrintable(QString::number(seed)));
        const RoadPower p = roadPower(with.vehicle, motionOf(with, *review, pulls[0].beginS, pulls[0].endS),
                                      1.2, roadDoubtOf(with));
        std::vector<double> rpm, kw;
        for (const DynoRow &row : truth.rows)
            if (rpm.empty() || row.rpm > rpm.back()) {
                rpm.push_back(row.rpm);
                kw.push_back(row.powerKw);
            }
        double held = 0, all = 0;
        for (std::size_t i = 0; i < p.rpm.size(); ++i) {
            const std::array at{p.rpm[i]};
            if (at[0] < 3200 || at[0] > 6200) continue;
            held += std::abs(p.kw[i] - smoothedAt(rpm, kw, 300, at)[0]) <= p.half[i];
            ++all;
        }
        QVERIFY2(all > 10 && held >= 0.9 * all,
                 qPrintable(QStringLiteral("%1: %2 of %3").arg(seed).arg(held).arg(all)));
        QVERIFY(p.averageHalfShare > 0.02 && p.averageHalfShare < 0.12); // several per cent, and it says so
        ++engines;
    }
    QCOMPARE(engines, 20);
}

// What a sheet shows is what was found, number by number.
void RunWorthTest::sheetsHoldTheirNumbers() {
    const auto gridOf = [](const Report &r) {
        for (const Block &b : r.blocks)
            if (const auto *grid = std::get_if<Grid>(&b)) return *grid;
        return Grid();
    };
    const auto at = [](const char *id, double kw, double content) {
        return runOf(
            id, [=](double rpm) { return plain(rpm) + kw * newtonMetreRpmPerKw / rpm; },
            {{R::map, [](double rpm) { return rpm < 3500 ? 150.0 : 190.0; }}},
            [=](Run &r) {
                r.content = content;
                r.contentBasis = RunContentBasis::stated;
                r.startIntakeC = 41;
                r.change = "one thing";
                r.verdict = "sound";
            });
    };
    const MeasuredRuns before{at("1", 0.4, 0.1), at("2", -0.4, 0.1)},
        after{at("3", 20.4, 0.85), at("4", 19.6, 0.85)};
    MeasuredRuns all = before;
    all.insert(all.end(), after.begin(), after.end());
    const Job job = demoJob();
    RunViewing still;
    still.drift = false;
    const RunComparison c = compareRuns(job, before, after, still);
    const WorkedReport worked = comparisonReport(c, job);
    const Report &compared = worked.report;
    const Explanation how = worked.workings[0]();
    QCOMPARE(how.result.value, c.averageKw.mean);
    // t times the standard error is the ±, and t of two degrees of freedom stands in every table (Welch's are
    // 2 here).
    COMPARE_NEAR(how.substituted.values[1].value * how.substituted.values[2].value,
                 how.substituted.values[3].value, 1e-9);
    COMPARE_NEAR(how.substituted.values[1].value, 4.302653, 1e-5);
    QCOMPARE(how.substituted.values[3].value, c.averageKw.halfWidth());
    QVERIFY(says(how.source, "Welch"));
    const auto &head = std::get<Heading>(compared.blocks.front());
    QCOMPARE(head.words.values[0].value, c.averageKw.mean);
    QCOMPARE(head.words.values[1].value, c.averageKw.halfWidth());
    const Grid differs = gridOf(compared);
    QCOMPARE(differs.rows.size(), c.differences.found.size());
    QVERIFY(says(differs.rows[0][1].words, "E10") && says(differs.rows[0][2].words, "E85"));
    const ContentLadder ladder = contentLadder(job, all, still);
    const Grid rungs = gridOf(contentsReport(ladder, job).report);
    QCOMPARE(rungs.rows.size(), std::size_t(2));
    QCOMPARE(rungs.rows[0][3].words.values[0].value, ladder.rungs[0].next.mean);
    QCOMPARE(rungs.rows[0][3].words.values[1].value, ladder.rungs[0].next.halfWidth());
    QCOMPARE(rungs.rows[0][4].words.values[0].value, ladder.rungs[0].perPercentKw);
    QCOMPARE(rungs.rows[1][2].words.values[0].value, ladder.rungs[1].meanKw);
    const std::array sets{before, after};
    const RunScatterOverSpeed scatter = scatterOf(sets, still);
    const Report scattered = scatterReport(sets, scatter).report;
    QCOMPARE(std::get<Heading>(scattered.blocks.front()).words.values[0].value, scatter.average.sigma);
    for (const auto &row : gridOf(scattered).rows)
        QCOMPARE(runsToSee(row[0].words.values[0].value, scatter.average.sigma, still.drift),
                 static_cast<int>(row[1].words.values[0].value));
    const Grid sheet = gridOf(runSheetReport(job, all).report);
    QCOMPARE(sheet.rows.size(), std::size_t(4));
    const RunPeak peak = peakOf(all[2]->curve.rpm, all[2]->curve.powerKw);
    QCOMPARE(sheet.rows[2][3].words.values[0].value, peak.value);
    QCOMPARE(sheet.rows[2][3].words.values[1].value, peak.rpm);
    QCOMPARE(sheet.rows[2][4].words.values[0].value, 41.0);
    QVERIFY(says(sheet.rows[2][1].words, "one thing") && says(sheet.rows[2][5].words, "sound"));
    const std::vector<BoostShape> shapes{boostShape(*all[0], 100)};
    const Grid boost = gridOf(boostShapesReport(shapes).report);
    QCOMPARE(boost.rows[0][1].words.values[0].value, shapes[0].reachedRpm);
    QCOMPARE(boost.rows[0][2].words.values[0].value, shapes[0].heldKpa);
    QCOMPARE(boost.rows[0][4].words.values[0].value, shapes[0].driftKpa);
    const CamCrossing cams =
        camCrossing({runOf("1", plain)},
                    {runOf("2", [](double rpm) { return plain(rpm) + (rpm - 5000) * 0.02; })}, still);
    QCOMPARE(std::get<Heading>(camReport(cams).report.blocks.front()).words.values[0].value,
             *cams.crossingRpm);
    const std::vector<DynoFactor> dynos{{"Left", "Right", 1.05, 0.02, 1, 4}};
    const Grid factors = gridOf(dynosReport(dynos).report);
    QCOMPARE(factors.rows[0][2].words.values[0].value, 1.05);
    QCOMPARE(factors.rows[0][2].words.values[1].value, 0.02);
}

CORE_TEST_MAIN(RunWorthTest)
#include "run_worth_test.moc"
