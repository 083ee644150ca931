// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/error.h"
#include "core/base/limits.h"
#include "core/explain/explain_flow.h"
#include "core/flow/engine_air.h"
#include "core/flow/injector.h"
#include "core/job/job_schema.h"
#include "core/study/fuel_delivery.h"
#include "core/study/headroom.h"
#include "core/study/rail_sag.h"
#include "core/study/return_flow.h"
#include "core/study/two_table_school.h"
#include "core/tables/table_kind.h"
#include "core/verify/verdict.h"
#include "support/random_job.h"
#include "support/test_main.h"

#include <algorithm>
#include <numeric>
#include <random>

using namespace wheelwright;

namespace {

std::vector<double> randomNumbers(std::mt19937 &r, std::size_t n, double low, double high) {
    std::vector<double> out;
    for (std::size_t i = 0; i < n; ++i)
        out.push_back(std::uniform_real_distribution<>(low, high)(r));
    return out;
}

// λ spread of an order of injectors, by its definition.
double spreadOf(const std::vector<double> &flows, const std::vector<double> &needs,
                const std::vector<std::size_t> &order) {
    std::vector<double> lambda;
    for (std::size_t i = 0; i < needs.size(); ++i)
        lambda.push_back(needs[i] / flows[order[i]]);
    const double mean =
        std::accumulate(lambda.begin(), lambda.end(), 0.0) / static_cast<double>(lambda.size());
    double squares = 0;
    for (const double l : lambda)
        squares += std::pow(l / mean - 1, 2);
    return std::sqrt(squares / static_cast<double>(lambda.size()));
}

} // namespace

/// Injectors, pumps, spray and headroom against the product's handbook (chapter 3), brute force and second
/// ways.
class FuelSupplyTest : public QObject {
    Q_OBJECT
  private slots:
    void numbersOfTheHandbook();
    void deadTimeIsBetweenItsPoints();
    void batchDoublesTheDeadTime();
    void testFluidKeepsTheOrificeLaw();
    void bestAssignmentIsBest();
    void chanceIsTheMeanOfAllOrders();
    void pumpsFollowTheirSheets();
    void sprayOfTheHandbook();
    void sprayIsFuel();
    void sprayRampsUp();
    void returnIsPumpLessEngine();
    void frontierIsWhereTheLimitIs();
    void frontierFollowsTheHardware();
    void aCommandedRailIsFollowed();
    void aRailTableGoesBySpeed();
    void batchPulsesAreHalf();
    void guessesOfTheRailAreNotJudged();
    void sagFollowsTheCommandedRail();
    void targetMovesWhereItIsDragged();
    void refusesNonsense();
};

void FuelSupplyTest::numbersOfTheHandbook() {
    COMPARE_NEAR(injectorFlowAt(1, 43.5, 58), 1.1547, 0.00005);
    COMPARE_NEAR(injectorDutyOf(14.2, 0, 6500, false), 0.769, 0.0005);
    // Five 1000 cc/min at 85 %, 1 lb/h = 10.5 cc/min at 0.72 kg/L: 623 hp at BSFC 0.65, 476 hp at 0.85.
    const double gS = 5 * 1000 * 0.85 * 0.72 / 60, gKwh = 608.277388, kwPerHp = 0.745699872;
    COMPARE_NEAR(powerKw(gS, 0.65 * gKwh) / kwPerHp, 623, 1.5); // 10.5 is itself rounded
    COMPARE_NEAR(powerKw(gS, 0.85 * gKwh) / kwPerHp, 476, 1.5);
    COMPARE_NEAR(usualBsfc(true, 0, 0).low, 0.55 * gKwh, 1e-6);
    COMPARE_NEAR(usualBsfc(true, 0.85, 0).high, 0.65 * 1.40 * gKwh, 1e-6);
    COMPARE_NEAR(usualBsfc(false, 0, 1).low, 0.45 * 2.1 * gKwh, 1e-6);
    // MAP sensors: 3 bar absolute ends at 28.8 psi over one standard atmosphere.
    COMPARE_NEAR((300 - 101.325) / 6.894757293, 28.8, 0.05);
}

void FuelSupplyTest::deadTimeIsBetweenItsPoints() {
    const std::vector<DeadTimePoint> byVoltage{{14, 0, 0.8}, {12, 0, 1.2}};
    QCOMPARE(deadTimeMs(byVoltage, 12, 300), 1.2);
    COMPARE_NEAR(deadTimeMs(byVoltage, 13, 900), 1.0, 1e-12);
    QCOMPARE(deadTimeMs(byVoltage, 8, 300), 1.2); // held
    const std::vector<DeadTimePoint> both{{12, 300, 1.2}, {14, 300, 0.8}, {12, 400, 1.4}, {14, 400, 0.9}};
    COMPARE_NEAR(deadTimeMs(both, 13, 350), (1.0 + 1.15) / 2, 1e-12);
    Job job = newJob("x");
    QCOMPARE(usualDeadTimeMs(job, 300), job.injectors.deadTimeMs);
    job.injectors.deadTimes = byVoltage;
    job.injectors.batteryV = 13;
    COMPARE_NEAR(usualDeadTimeMs(job, 300), 1.0, 1e-12);
}

void FuelSupplyTest::batchDoublesTheDeadTime() {
    COMPARE_NEAR(injectorDutyOf(8, 1, 6000, true) - injectorDutyOf(8, 1, 6000, false), 6000.0 / 120000,
                 1e-12);
    Job job = testing::demoJob();
    const DutyWorking one = dutyAt(job, 0.5, 20, 6000, 200, 100, 0.85);
    job.injectors.batch = true;
    const DutyWorking two = dutyAt(job, 0.5, 20, 6000, 200, 100, 0.85);
    COMPARE_NEAR(two.duty - one.duty, one.deadMs * 6000 / 120000, 1e-12);
    COMPARE_NEAR(2 * (two.pulseMs - two.deadMs), one.pulseMs - one.deadMs, 1e-12);
}

void FuelSupplyTest::testFluidKeepsTheOrificeLaw() {
    QCOMPARE(volumeFlowOn(500, 0, 745), 500.0);
    // ρ Q² is the same for both fluids at one pressure.
    const double q = volumeFlowOn(500, 690, 780);
    COMPARE_NEAR(780 * q * q, 690 * 500.0 * 500.0, 1e-6);
}

void FuelSupplyTest::bestAssignmentIsBest() {
    std::mt19937 r(8);
    for (int round = 0; round < 120; ++round) {
        const std::size_t n = 2 + r() % 6;
        const auto flows = randomNumbers(r, n, 690, 760), needs = randomNumbers(r, n, 0.97, 1.05);
        const InjectorAssignment a = assignInjectors(flows, needs);
        COMPARE_NEAR(a.spread, spreadOf(flows, needs, a.injectorOf), 1e-12);
        std::vector<std::size_t> order(n);
        std::iota(order.begin(), order.end(), std::size_t{0});
        COMPARE_NEAR(a.asListedSpread, spreadOf(flows, needs, order), 1e-12);
        do
            QVERIFY(spreadOf(flows, needs, order) >=
                    a.spread - 1e-5); // the mean λ of an order moves by the spread's square
        while (std::ranges::next_permutation(order).found);
    }
    // Eight cylinders, once through all 40,320 orders.
    const auto flows = randomNumbers(r, 8, 690, 760), needs = randomNumbers(r, 8, 0.97, 1.05);
    const InjectorAssignment a = assignInjectors(flows, needs);
    std::vector<std::size_t> order{0, 1, 2, 3, 4, 5, 6, 7};
    double best = 1;
    do
        best = std::min(best, spreadOf(flows, needs, order));
    while (std::ranges::next_permutation(order).found);
    COMPARE_NEAR(a.spread, best, 1e-5);
}

void FuelSupplyTest::chanceIsTheMeanOfAllOrders() {
    std::mt19937 r(18);
    for (int round = 0; round < 20; ++round) {
        const auto flows = randomNumbers(r, 6, 690, 760), needs = randomNumbers(r, 6, 0.97, 1.05);
        std::vector<std::size_t> order{0, 1, 2, 3, 4, 5};
        double squares = 0;
        int count = 0;
        do {
            squares += std::pow(spreadOf(flows, needs, order), 2);
            ++count;
        } while (std::ranges::next_permutation(order).found);
        QCOMPARE(count, 720);
        COMPARE_NEAR(assignInjectors(flows, needs).randomSpread / std::sqrt(squares / count), 1, 0.002);
    }
}

void FuelSupplyTest::pumpsFollowTheirSheets() {
    const std::vector<PumpPoint> points{
        {"a", 13.5, 300, 5}, {"a", 13.5, 400, 4}, {"a", 12, 300, 4}, {"a", 12, 400, 3}, {"b", 13.5, 300, 2}};
    const std::vector<FittedPump> one{{"a", 1}};
    QCOMPARE(pumpFlowLMin(points, one, 13.5, 300), 5.0);
    COMPARE_NEAR(pumpFlowLMin(points, one, 12.75, 350), 4.0, 1e-12);
    COMPARE_NEAR(pumpFlowLMin(points, one, 13.5, 600), 2.0, 1e-12); // goes on falling
    QCOMPARE(pumpFlowLMin(points, one, 13.5, 2000), 0.0);           // never backwards
    QCOMPARE(pumpFlowLMin(points, one, 9, 300), 4.0);               // held
    COMPARE_NEAR(pumpFlowLMin(points, {{"a", 2}, {"b", 1}}, 13.5, 300), 12.0, 1e-12);
    EXPECT_INPUT_ERROR(pumpFlowLMin(points, {{"c", 1}}, 13.5, 300), "'c'");
    QCOMPARE(pumpPressureKpa(300, 240, 100, true), 440.0);
    QCOMPARE(pumpPressureKpa(300, 240, 100, false), 300.0);
    COMPARE_NEAR(railSag(300, 276), 0.08, 1e-12);
}

// 300 g/s of air, E60 at λ 0.82, 600 cc/min of methanol → λ 0.719, main fuel to 86.0 %; half water → λ 0.766.
// And 375 cc/min at 7 bar is 448 at 10 bar.
void FuelSupplyTest::sprayOfTheHandbook() {
    const BlendProperties e60 = BlendModel().properties({VolumeFraction::percent(60)});
    const SprayedMixture pure = withSpray(300, 0.82, e60, 600, 1);
    COMPARE_NEAR(pure.lambda, 0.719, 0.0005);
    COMPARE_NEAR(pure.trim, 0.860, 0.0005);
    COMPARE_NEAR(withSpray(300, 0.82, e60, 600, 0.5).lambda, 0.766, 0.0005);
    COMPARE_NEAR(sprayFlowCcMin({375, 700, 1000, 1, 150, 150}), 448, 0.5);
}

void FuelSupplyTest::sprayIsFuel() {
    std::mt19937 r(4);
    for (int i = 0; i < 500; ++i) {
        const double lambda = randomNumbers(r, 1, 0.7, 1)[0], flow = randomNumbers(r, 1, 0, 500)[0];
        const BlendProperties main =
            BlendModel().properties({VolumeFraction::fraction(randomNumbers(r, 1, 0, 1)[0])});
        const SprayedMixture m = withSpray(250, lambda, main, flow, 1);
        QVERIFY(m.lambda <= lambda + 1e-12);
        COMPARE_NEAR(m.trim * m.lambdaIfLost, lambda, 1e-12);
        // Trimmed, with the spray on: the λ that was meant.
        const double trimmed = 250 / (m.trim * m.mainFuelGS * main.stoichiometricAfr +
                                      m.sprayFuelGS * methanol().stoichiometricAfr);
        COMPARE_NEAR(trimmed, lambda, 1e-12);
    }
    QCOMPARE(withSpray(250, 0.8, BlendModel().properties({}), 500, 0).lambda, 0.8); // water is no fuel
}

void FuelSupplyTest::sprayRampsUp() {
    const Spray spray{400, 700, 700, 1, 150, 200};
    QCOMPARE(sprayFlowAt(spray, 149), 0.0);
    COMPARE_NEAR(sprayFlowAt(spray, 175), 200, 1e-9);
    QCOMPARE(sprayFlowAt(spray, 300), 400.0);
    QCOMPARE(sprayFlowAt({400, 700, 700, 1, 150, 150}, 150), 400.0); // no ramp
}

void FuelSupplyTest::returnIsPumpLessEngine() {
    Job job = testing::demoJob();
    const double content = 0.6;
    const EngineMap map = returnFlow(Study(job), content);
    const std::size_t x = map.rpm.size() / 2, y = map.loadKpa.size() / 2;
    const double rpm = map.rpm[x], load = map.loadKpa[y];
    // A second way: by the air the engine breathes, from the need and λ of the blended point.
    const BlendedPoint point = blendedPoint(Study(job), {content, rpm, load});
    const DutyWorking w =
        dutyAt(job, content, job.conditions.intakeColdestC, rpm, load, point.fuel, point.lambda);
    const double engine = w.fuelMm3 * job.engine.cylinders * rpm / 2 * 1e-6;
    const double pump = pumpFlowLMin(job.supply.points, job.supply.pumps, job.supply.volts,
                                     300 + load - job.conditions.ambientKpa);
    COMPARE_NEAR(map.value[x * map.loadKpa.size() + y], pump - engine, 1e-9);
    // Behind the freeze line enough comes back everywhere.
    const FreezeLine line = freezeLine(Study(job));
    for (const double c : {0.0, 0.3, 0.85, 1.0}) {
        const EngineMap all = returnFlow(Study(job), c);
        for (std::size_t i = 0; i < all.value.size(); ++i) {
            const double r = all.rpm[i / all.loadKpa.size()], l = all.loadKpa[i % all.loadKpa.size()];
            const bool held = line.needed && r >= line.rpm && l >= line.loadKpa;
            QVERIFY(!all.reached[i] || held || all.value[i] >= job.supply.sensorReturnLMin);
        }
    }
    job.supply.points[0].flowLMin = 0;
    for (PumpPoint &p : job.supply.points)
        p.flowLMin = 20;
    QVERIFY(!freezeLine(Study(job)).needed);
}

// At the frontier's pressure the limit is met, a little above it is not; by the working that the check shows.
void FuelSupplyTest::frontierIsWhereTheLimitIs() {
    const Job job = testing::demoJob();
    const auto worstDuty = [&](double content, double kpa) {
        // Boost peaks at kpa, other speeds as far under it as the tables have them.
        const Study study(job);
        std::vector<double> rpms;
        for (double rpm = 700; rpm <= job.engine.revLimitRpm; rpm += 50)
            rpms.push_back(rpm);
        const std::vector<ReachAtSpeed> reach = study.reach(content, rpms);
        const double peak = std::ranges::max(reach, {}, &ReachAtSpeed::highestKpa).highestKpa;
        double worst = 0;
        for (std::size_t i = 0; i < rpms.size(); ++i) {
            const double load = std::max(job.conditions.ambientKpa, reach[i].highestKpa + kpa - peak);
            const BlendedPoint p = blendedPoint(study, {content, rpms[i], load});
            worst = std::max(
                worst,
                dutyAt(job, content, job.conditions.intakeColdestC, rpms[i], load, p.fuel, p.lambda).duty);
        }
        return worst;
    };
    for (const double content : {0.1, 0.5, 0.85}) {
        const double kpa = boostAllowed(Study(job), LimitingPart::dutyStop, content);
        QVERIFY(worstDuty(content, kpa) <= 0.95 + 1e-9);
        QVERIFY(worstDuty(content, kpa + 0.5) > 0.95);
        QVERIFY(boostAllowed(Study(job), LimitingPart::dutyCaution, content) < kpa);
        COMPARE_NEAR(boostAllowed(Study(job), LimitingPart::springRatio, content),
                     job.conditions.ambientKpa + 3 * job.boost.springKpa, 1e-9);
        COMPARE_NEAR(boostAllowed(Study(job), LimitingPart::engine, content),
                     job.engine.boostLimitKpa.at(content), 1e-9);
    }
    const Frontier f = frontier(Study(job), 21);
    QCOMPARE(f.contents.size(), std::size_t{21});
    QCOMPARE(f.sentences.size(), f.lines.size());
    QVERIFY(format(f.sentences.front().words, UnitChoice{}).starts_with("Injectors, caution: reached at"));
    for (const FrontierLine &line : f.lines)
        for (std::size_t i = 0; i < f.contents.size(); ++i)
            COMPARE_NEAR(line.kpa[i], boostAllowed(Study(job), line.part, f.contents[i]), 1e-9);
    for (std::size_t i = 0; i < f.contents.size(); ++i)
        COMPARE_NEAR(
            f.targetKpa[i],
            [&] {
                const Table2D t = Study(job).blended(CalibratedQuantity::boost, f.contents[i]);
                double most = 0;
                for (std::size_t x = 0; x < t.x().size(); ++x)
                    if (t.x()[x] <= job.engine.revLimitRpm)
                        most = std::max(most, t.cell(x, t.y().size() - 1));
                return most;
            }(),
            1e-9);
}

void FuelSupplyTest::frontierFollowsTheHardware() {
    Job job = testing::demoJob();
    const double before = boostAllowed(Study(job), LimitingPart::dutyStop, 0.85);
    job.injectors.flowCcMin *= 1.3;
    QVERIFY(boostAllowed(Study(job), LimitingPart::dutyStop, 0.85) > before);
    const double pump = boostAllowed(Study(job), LimitingPart::pump, 0.85);
    job.supply.pumps[0].count = 2;
    QVERIFY(boostAllowed(Study(job), LimitingPart::pump, 0.85) > pump);
    job.supply.pumps.clear();
    EXPECT_INPUT_ERROR(boostAllowed(Study(job), LimitingPart::pump, 0.85), "Pumps");
    job.boost.springKpa = 0;
    QCOMPARE(frontier(Study(job), 3).lines.size(), std::size_t{4}); // what is not known is left out
}

// A returnless supply: the pressure is commanded over load, 300 kPa at light load to 620 under boost. By
// hand: the orifice law at Δp = p_rail + p_ambient − p_manifold, and the pumps at p_rail.
void FuelSupplyTest::aCommandedRailIsFollowed() {
    const Job regulated = testing::demoJob();
    Job job = regulated;
    job.injectors.railByLoadKpa = Curve({100, 250}, {300, 620});
    validate(job);
    const double load = 200, rpm = 6000, content = 0.7;
    const double rail = 300 + 320 * 2.0 / 3, across = rail + job.conditions.ambientKpa - load;
    COMPARE_NEAR(RailPressure(job).gaugeKpa({rpm, load}), rail, 1e-9);
    COMPARE_NEAR(RailPressure(job).acrossKpa({rpm, load}), across, 1e-9);
    const auto duty = [&](const Job &of) {
        const BlendedPoint p = blendedPoint(Study(of), {content, rpm, load});
        return dutyAt(of, content, of.conditions.intakeColdestC, rpm, load, p.fuel, p.lambda);
    };
    const DutyWorking now = duty(job), before = duty(regulated);
    COMPARE_NEAR(now.differentialKpa, across, 1e-9);
    COMPARE_NEAR(now.flowCcMin / before.flowCcMin, std::sqrt(across / before.differentialKpa), 1e-9);
    QVERIFY(now.duty < before.duty);
    COMPARE_NEAR(pumpFlowAt(job, {rpm, load}),
                 pumpFlowLMin(job.supply.points, job.supply.pumps, job.supply.volts, rail), 1e-9);
    // Verify and the frontier go by it: more pressure, more flow of the injectors, less of the pumps.
    const auto kpa = [&](const Job &of, LimitingPart part) { return boostAllowed(Study(of), part, 0.85); };
    QVERIFY(kpa(job, LimitingPart::dutyStop) > kpa(regulated, LimitingPart::dutyStop));
    QVERIFY(kpa(job, LimitingPart::pump) < kpa(regulated, LimitingPart::pump));
    // Commanded as the regulator would hold it, it changes nothing.
    Job same = regulated;
    const double ambient = same.conditions.ambientKpa, base = same.injectors.railPressureKpa;
    same.injectors.railByLoadKpa = Curve({0, 1000}, {base - ambient, base + 1000 - ambient});
    COMPARE_NEAR(duty(same).duty, before.duty, 1e-9);
    COMPARE_NEAR(kpa(same, LimitingPart::pump), kpa(regulated, LimitingPart::pump), 1e-6);
}

namespace {

// 300 kPa at low speed and load to 620 at the corner, bilinear: "driven by demand".
Job withRailTable() {
    Job job = testing::demoJob();
    ExtraTable rail = newExtraTable(TableKind::railPressure, "Rail");
    rail.table = Table2D(Axis({1000, 7000}), Axis({50, 250}), {300, 400, 450, 620});
    job.extras.push_back(rail);
    validate(job);
    return job;
}

} // namespace

// By hand between the four corners; the table goes before the curve. Verify, frontier and the maps agree with
// single points worked out by it, at every speed.
void FuelSupplyTest::aRailTableGoesBySpeed() {
    Job job = withRailTable();
    job.injectors.railByLoadKpa = Curve({100, 250}, {200, 210});
    const double load = 200, ambient = job.conditions.ambientKpa, content = 0.7;
    const auto byHand = [&](double rpm) {
        const double x = (rpm - 1000) / 6000, y = (load - 50) / 200;
        return (1 - y) * ((1 - x) * 300 + x * 400) + y * ((1 - x) * 450 + x * 620);
    };
    for (const double rpm : {1000.0, 3400.0, 6200.0}) {
        COMPARE_NEAR(RailPressure(job).gaugeKpa({rpm, load}), byHand(rpm), 1e-9);
        COMPARE_NEAR(RailPressure(job).acrossKpa({rpm, load}), byHand(rpm) + ambient - load, 1e-9);
        COMPARE_NEAR(pumpFlowAt(job, {rpm, load}),
                     pumpFlowLMin(job.supply.points, job.supply.pumps, job.supply.volts, byHand(rpm)), 1e-9);
    }
    const Study study(job);
    const auto verdict = verify(job);
    for (const char *id : {"flow.duty", "flow.pump", "flow.min_pulse"})
        for (const WorstPlace &p : findRow(*verdict, id)->outcome.byContent) {
            const BlendedPoint at = blendedPoint(study, {p.content, p.rpm, p.loadKpa});
            const double intake = id == std::string("flow.min_pulse") ? job.conditions.intakeUsualC
                                                                      : job.conditions.intakeColdestC;
            const DutyWorking w = dutyAt(job, p.content, intake, p.rpm, p.loadKpa, at.fuel, at.lambda);
            const double share = engineFlowLMin(job, w.fuelMm3, p.rpm) * (1 + job.supply.margin) /
                                 pumpFlowAt(job, {p.rpm, p.loadKpa});
            COMPARE_NEAR(p.value,
                         id == std::string("flow.duty")   ? w.duty
                         : id == std::string("flow.pump") ? share
                                                          : w.pulseMs,
                         1e-9);
        }
    // No other point that is reached at this content is worse.
    const WorstPlace worst =
        findRow(*verdict, "flow.duty")->outcome.byContent[sliceNearest(*verdict, content)];
    for (const double rpm : {2000.0, 3500.0, 5000.0, 6400.0, 7000.0})
        for (double kpa = 40; kpa <= study.reach(content, std::vector{rpm})[0].highestKpa; kpa += 20) {
            const BlendedPoint at = blendedPoint(study, {content, rpm, kpa});
            QVERIFY(dutyAt(job, content, job.conditions.intakeColdestC, rpm, kpa, at.fuel, at.lambda).duty <=
                    worst.value + 1e-12);
        }
    // A table that says the same at every speed is the curve.
    Job flat = testing::demoJob(), curve = flat;
    ExtraTable even = newExtraTable(TableKind::railPressure, "Even");
    even.table = Table2D(Axis({1000, 7000}), Axis({50, 250}), {300, 300, 620, 620});
    flat.extras.push_back(even);
    curve.injectors.railByLoadKpa = Curve({50, 250}, {300, 620});
    const auto one = verify(flat), other = verify(curve);
    for (const char *id : {"flow.duty", "flow.pump", "flow.min_pulse"})
        for (std::size_t i = 0; i < one->contents.size(); ++i)
            COMPARE_NEAR(findRow(*one, id)->outcome.byContent[i].value,
                         findRow(*other, id)->outcome.byContent[i].value, 1e-9);
    for (const LimitingPart part : {LimitingPart::dutyStop, LimitingPart::pump})
        COMPARE_NEAR(boostAllowed(Study(flat), part, 0.6), boostAllowed(Study(curve), part, 0.6), 1e-6);
    // Pulse widths hold the rail too: rewritten as true VE and back they ask for the same fuel.
    Job pulses = job;
    pulses.calibration.fuelMeaning = FuelMeaning::pulseWidth;
    const InjectorDemand demand(pulses, content, 30);
    QVERIFY(demand.bySpeed());
    QVERIFY(demand.mm3(8, {6500, load}, 0.85) > demand.mm3(8, {1500, load}, 0.85));
    COMPARE_NEAR(demand.value(demand.mm3(8, {6500, load}, 0.85), {6500, load}, 0.85), 8, 1e-9);
}

// Fired in batches each pulse brings half of the fuel; the check says the pulse that the single point has.
void FuelSupplyTest::batchPulsesAreHalf() {
    Job job = testing::demoJob();
    job.injectors.batch = true;
    const auto verdict = verify(job);
    for (const WorstPlace &p : findRow(*verdict, "flow.min_pulse")->outcome.byContent) {
        const BlendedPoint at = blendedPoint(Study(job), {p.content, p.rpm, p.loadKpa});
        COMPARE_NEAR(
            p.value,
            dutyAt(job, p.content, job.conditions.intakeUsualC, p.rpm, p.loadKpa, at.fuel, at.lambda).pulseMs,
            1e-9);
    }
}

// A new rail table holds what nobody has said: the fuel supply is not judged by it.
void FuelSupplyTest::guessesOfTheRailAreNotJudged() {
    Job job = testing::demoJob();
    const auto supply = [](const Job &of) { return *answerTo(*verify(of), QuestionId::fuelSupply); };
    const auto missesRail = [](const Verdict::Answer &a) {
        return std::ranges::any_of(a.missing, [](const Need *n) { return n->id == "rail_table"; });
    };
    QVERIFY(!missesRail(supply(job)));
    job.extras.push_back(newExtraTable(TableKind::railPressure, "Rail"));
    const Verdict::Answer open = supply(job);
    QVERIFY(missesRail(open) && open.open[open.open.size() / 2]);
    Table2D &table = job.extras.back().table;
    table.setOrigins(std::vector(table.cells().size(), CellOrigin::typed));
    QVERIFY(!missesRail(supply(job)));
}

// Nobody has typed what was commanded: the rail knows it, where the engine takes most.
void FuelSupplyTest::sagFollowsTheCommandedRail() {
    Job job = withRailTable();
    job.supply.commandedKpa = 0;
    job.supply.measuredKpa = 400;
    const CommandedAcross commanded = commandedAcross(Study(job), 0.85);
    QVERIFY(commanded.at && commanded.at->rpm > 5000);
    COMPARE_NEAR(commanded.kpa, RailPressure(job).acrossKpa({commanded.at->rpm, commanded.at->loadKpa}),
                 1e-9);
    const Explanation x = explainSag(Study(job), 0.85);
    COMPARE_NEAR(x.result.value, 1 - 400 / commanded.kpa, 1e-12);
    QCOMPARE(x.inputs[1].link, std::string("calibration.extras.Rail"));
    job.supply.commandedKpa = 410; // the log's own goes before it
    COMPARE_NEAR(explainSag(Study(job), 0.85).result.value, 1 - 400 / 410.0, 1e-12);
    Job regulated = testing::demoJob();
    regulated.supply.commandedKpa = 0;
    QCOMPARE(commandedAcross(Study(regulated), 0.85).kpa, 0.0);
}

void FuelSupplyTest::targetMovesWhereItIsDragged() {
    for (const double content : {0.0, 0.1, 0.4, 0.85, 1.0}) {
        Job job = testing::demoJob();
        const Job before = job;
        moveBoostTarget(job, content, 205);
        validate(job);
        const Table2D t = Study(job).blended(CalibratedQuantity::boost, content);
        double most = 0;
        for (std::size_t x = 0; x < t.x().size(); ++x)
            if (t.x()[x] <= job.engine.revLimitRpm) most = std::max(most, t.cell(x, t.y().size() - 1));
        COMPARE_NEAR(most, 205, 1e-6);
        for (std::size_t x = 0; x < t.x().size(); ++x) // nothing at closed throttle
            QCOMPARE(job.calibration.of(CalibratedQuantity::boost).base.cell(x, 0),
                     before.calibration.of(CalibratedQuantity::boost).base.cell(x, 0));
    }
    Job job = testing::demoJob();
    moveBoostTarget(job, job.calibration.baseContent, 190); // at an end only that end's table moves
    QVERIFY(job.calibration.of(CalibratedQuantity::boost).top ==
            testing::demoJob().calibration.of(CalibratedQuantity::boost).top);
}

void FuelSupplyTest::refusesNonsense() {
    EXPECT_INPUT_ERROR(deadTimeMs({}, 12, 300), "dead times");
    EXPECT_INPUT_ERROR(assignInjectors({500, 510}, {1}), "as many");
    EXPECT_INPUT_ERROR(assignInjectors({500, 0}, {1, 1}), "measured flow 2");
    EXPECT_INPUT_ERROR(assignInjectors({500, 510}, {1, -1}), "cylinder 2");
    EXPECT_INPUT_ERROR(railSag(0, 100), "commanded");
    const BlendProperties e0 = BlendModel().properties({});
    EXPECT_INPUT_ERROR(withSpray(0, 0.8, e0, 100, 1), "air flow");
    EXPECT_INPUT_ERROR(withSpray(300, 0.8, e0, 100, 1.2), "methanol");
    EXPECT_INPUT_ERROR(withSpray(10, 0.8, e0, 5000, 1), "spray", "whole mixture");
    EXPECT_INPUT_ERROR(frontier(Study(testing::demoJob()), 1), "points");
    EXPECT_INPUT_ERROR(boostAllowed(Study(testing::demoJob()), LimitingPart::engine, 2), "content");
}

CORE_TEST_MAIN(FuelSupplyTest)
#include "fuel_supply_test.moc"
