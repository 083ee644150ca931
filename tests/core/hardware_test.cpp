// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/error.h"
#include "core/base/limits.h"
#include "core/explain/explain_flow.h"
#include "core/flow/injector.h"
#include "core/job/job_schema.h"
#include "core/study/engine_map.h"
#include "core/study/return_flow.h"
#include "core/verify/check.h"
#include "core/verify/injector_change.h"
#include "support/phrases.h"
#include "support/random_job.h"
#include "support/test_main.h"

using namespace wheelwright;
using testing::phrase;
using testing::said;

namespace {

// A job whose fuel tables ask for the same fuel in another meaning, at the usual intake air.
Job inMeaning(const Job &job, FuelMeaning meaning) {
    Job other = job;
    other.calibration.fuelMeaning = meaning;
    for (const bool top : {false, true}) {
        const double content = top ? job.calibration.topContent : job.calibration.baseContent;
        const InjectorDemand from(job, content, job.conditions.intakeUsualC);
        const InjectorDemand to(other, content, job.conditions.intakeUsualC);
        Table2D &t = tableOf(CalibratedQuantity::fuel, top).of(other);
        const Table2D &lambda = tableOf(CalibratedQuantity::lambda, top).of(job);
        for (std::size_t y = 0; y < t.y().size(); ++y)
            for (std::size_t x = 0; x < t.x().size(); ++x) {
                const double l = lambda.lookup(t.x()[x], t.y()[y]).value;
                t.setCell({x, y},
                          to.value(from.mm3(t.cell(x, y), {t.x()[x], t.y()[y]}, l), {t.x()[x], t.y()[y]}, l));
            }
    }
    return other;
}

Job jobWithPulls() {
    Job job = testing::flatJob();
    job.conditions.ambientKpa = 100;
    job.engine.mapSensorMaxKpa = 400;
    job.boost.springKpa = 50;
    for (const bool top : {false, true}) {
        Table2D &t = tableOf(CalibratedQuantity::boost, top).of(job);
        for (std::size_t y = 0; y < t.y().size(); ++y)
            for (std::size_t x = 0; x < t.x().size(); ++x)
                t.setCell({x, y}, top ? 260 : 200);
    }
    for (const double gear : {3.0, 4.0})
        for (int i = 0; i <= 4;
             ++i) // 50 kPa and 1 kPa for each per cent of duty; the taller gear makes 4 more
            job.boost.points.push_back({i * 0.1, 50 + i * 10.0 + (gear == 4 ? 4 : 0), gear, 0.1, ""});
    job.boost.points.push_back({0.2, 74, 4, 0.85, ""});
    job.boost.points.push_back({0.4, 100, 4, 0.83, ""});
    return job;
}

} // namespace

/// What the hardware of a job is asked for, changed and planned: other meanings of the fuel tables, other
/// injectors, boost steps, the spray cell by cell.
class HardwareTest : public QObject {
    Q_OBJECT
  private slots:
    void meaningsAskForTheSameFuel();
    void pulseWidthIsTheInjectorsOwn();
    void meaningsPassTheSameChecks();
    void coldAirAsksForMore();
    void injectorChangeLeavesVeAlone();
    void injectorChangeRescalesPulseWidths();
    void injectorChangeRefuses();
    void pullsAreGroupedByGearAndContent();
    void boostGoesUpInSteps();
    void boostStepsStopAtTheSolenoid();
    void sprayMapIsTheCheck();
    void mapsAgreeWithTheirParts();
    void everyNumberHasItsWorking();
};

void HardwareTest::meaningsAskForTheSameFuel() {
    for (unsigned seed = 1; seed <= 20; ++seed) {
        const Job job = testing::randomJob(seed);
        for (const FuelMeaning meaning : {FuelMeaning::trueVe, FuelMeaning::contentReferencedVe,
                                          FuelMeaning::pulseWidth, FuelMeaning::fuelMass}) {
            const InjectorDemand demand(job, meaning, 0.4, 35);
            for (const double mm3 : {5.0, 30.0, 90.0})
                COMPARE_NEAR(demand.mm3(demand.value(mm3, {3000, 160}, 0.85), {3000, 160}, 0.85), mm3,
                             1e-9 * mm3);
        }
    }
}

// 14.2 ms less 1.0 ms of dead time on 1000 cc/min is 13.2 · 1000/60 mm³ (handbook, chapter 3: pulse width =
// fuel per cycle / static flow + dead time); in mass by the density of the fuel.
void HardwareTest::pulseWidthIsTheInjectorsOwn() {
    Job job = testing::flatJob();
    job.injectors = Injectors{};
    job.injectors.flowCcMin = 1000;
    job.injectors.deadTimeMs = 1;
    const double usual = job.conditions.intakeUsualC;
    const InjectorDemand pulse(job, FuelMeaning::pulseWidth, 0.1, usual);
    COMPARE_NEAR(pulse.mm3(14.2, {3000, 180}, 0.8), 13.2 * 1000 / 60, 1e-9);
    QCOMPARE(pulse.mm3(0.5, {3000, 180}, 0.8), 0.0); // shorter than the dead time: nothing
    job.injectors.batch = true;
    COMPARE_NEAR(InjectorDemand(job, FuelMeaning::pulseWidth, 0.1, usual).mm3(14.2, {3000, 180}, 0.8),
                 2 * 13.2 * 1000 / 60, 1e-9);
    job.injectors.batch = false;
    job.calibration.pulsePressureKpa = 1200; // four times the rated pressure: twice the flow
    COMPARE_NEAR(InjectorDemand(job, FuelMeaning::pulseWidth, 0.1, usual).mm3(14.2, {3000, 180}, 0.8),
                 13.2 * 2000 / 60, 1e-9);
    const double density = blendModelOf(job).properties(blendAt(job, 0.1)).densityKgM3;
    COMPARE_NEAR(InjectorDemand(job, FuelMeaning::fuelMass, 0.1, usual).mm3(60, {3000, 180}, 0.8),
                 60 / (density * 1e-3), 1e-9);
}

// At the calibrated contents every cell asks for the same, so each check of the fuel finds the same there.
void HardwareTest::meaningsPassTheSameChecks() {
    const Job job = testing::demoJob();
    const Study study(job);
    const Evaluation &as = study.evaluation();
    for (const FuelMeaning meaning : {FuelMeaning::pulseWidth, FuelMeaning::fuelMass}) {
        const Job other = inMeaning(job, meaning);
        validate(other);
        const Study otherStudy(other);
        const Evaluation &now = otherStudy.evaluation();
        for (const char *check : {"flow.duty", "flow.pump", "lambda.model"}) {
            const CheckOutcome a = checkById(check)->run(as), b = checkById(check)->run(now);
            for (std::size_t i = 0; i < a.byContent.size(); ++i) {
                const double content = a.byContent[i].content;
                if (content != job.calibration.baseContent && content != job.calibration.topContent) continue;
                // Between the cells a VE is bilinear in load where a volume is not: a few per mille.
                COMPARE_NEAR(a.byContent[i].value, b.byContent[i].value, 0.02);
            }
        }
    }
}

void HardwareTest::coldAirAsksForMore() {
    const Job job = testing::demoJob();
    const double usual = job.conditions.intakeUsualC;
    const double ratio = (usual + 273.15) / (usual - 30 + 273.15);
    for (const FuelMeaning meaning : {FuelMeaning::trueVe, FuelMeaning::fuelMass})
        COMPARE_NEAR(InjectorDemand(job, meaning, 0.5, usual - 30).mm3(50, {3000, 150}, 0.9) /
                         InjectorDemand(job, meaning, 0.5, usual).mm3(50, {3000, 150}, 0.9),
                     ratio, 1e-12);
}

void HardwareTest::injectorChangeLeavesVeAlone() {
    const Job job = testing::demoJob();
    NewInjectors n;
    n.flowCcMin = job.injectors.flowCcMin * 1.5;
    n.ratedPressureKpa = job.injectors.ratedPressureKpa;
    n.deadTimeMs = job.injectors.deadTimeMs;
    const InjectorChange c = changeInjectors(job, n);
    QVERIFY(!c.rescaled && c.job.calibration == job.calibration);
    QCOMPARE(c.residual.worst, 0.0);
    COMPARE_NEAR(c.requiredFuelFactor, 1 / 1.5, 1e-9);
    QVERIFY(c.dutyAfter < c.dutyBefore && c.shortestAfterMs < c.shortestBeforeMs);
    QVERIFY(c.job.measuredInjectors.empty() && c.job.injectors.deadTimes.empty());
    n.linearMinMs = c.shortestAfterMs + 0.1;
    QVERIFY(!changeInjectors(job, n).shortestLinear);
}

void HardwareTest::injectorChangeRescalesPulseWidths() {
    Job job = inMeaning(testing::demoJob(), FuelMeaning::pulseWidth);
    NewInjectors n;
    n.flowCcMin = 1500;
    n.deadTimeMs = 0.6;
    const InjectorChange c = changeInjectors(job, n);
    QVERIFY(c.rescaled && c.job.calibration != job.calibration);
    // A boost-referenced rail sees the same pressure everywhere, so the pulse is linear in the fuel.
    QVERIFY2(std::abs(c.residual.worst) < 1e-9, qPrintable(QString::number(c.residual.worst)));
    // By hand: open time goes with the flow ratio, dead time is exchanged.
    const Injectors &old = job.injectors;
    const double dp = old.railPressureKpa;
    const double density =
        blendModelOf(job).properties(blendAt(job, job.calibration.baseContent)).densityKgM3;
    const double ratio = injectorFlowOn(job, dp, density) / injectorFlowOn(c.job, dp, density);
    const double was = job.calibration.of(CalibratedQuantity::fuel).base.cell(3, 3);
    COMPARE_NEAR(c.job.calibration.of(CalibratedQuantity::fuel).base.cell(3, 3),
                 (was - usualDeadTimeMs(job, dp)) * ratio + 0.6, 1e-9);
    // A rail that does not follow boost: flow bends with load between the cells, and that is what remains.
    job.injectors.boostReferenced = false;
    job.injectors.deadTimes = {{13.5, 200, 0.8}, {13.5, 500, 1.4}}; // dead time grows with pressure
    const InjectorChange bent = changeInjectors(job, n);
    QVERIFY(std::abs(bent.residual.worst) > 1e-6 && std::abs(bent.residual.worst) < 0.05);
    QVERIFY(bent.residual.mean > 0 && bent.residual.mean < std::abs(bent.residual.worst));
}

void HardwareTest::injectorChangeRefuses() {
    const Job job = testing::demoJob();
    NewInjectors n;
    n.flowCcMin = -3;
    EXPECT_INPUT_ERROR(changeInjectors(job, n), "injectors.flow_cc_min");
    Job pulses = inMeaning(job, FuelMeaning::pulseWidth);
    n = {};
    n.flowCcMin = 10; // pulses of seconds
    EXPECT_INPUT_ERROR(changeInjectors(pulses, n), "calibration.fuel");
}

void HardwareTest::pullsAreGroupedByGearAndContent() {
    const Job job = jobWithPulls();
    const std::vector<BoostGroup> groups = boostGroups(job);
    QCOMPARE(groups.size(), std::size_t{3});
    QVERIFY(groups[0].gear == 3 && groups[1].gear == 4 && groups[2].gear == 4);
    COMPARE_NEAR(groups[2].content, 0.84, 1e-12);
    std::size_t points = 0;
    for (const BoostGroup &g : groups)
        points += g.points.size();
    QCOMPARE(points, job.boost.points.size());
    QCOMPARE(boostGroupFor(groups, 3, 0.9)->gear, 3.0);
    COMPARE_NEAR(boostGroupFor(groups, 0, 0.7)->content, 0.84, 1e-12);
    QVERIFY(boostGroupFor(groups, 6, 0.1) == nullptr);
    QVERIFY(boostGroups(newJob("x")).empty());
}

void HardwareTest::boostGoesUpInSteps() {
    Job job = jobWithPulls();
    // The cut must come before the engine's limit: with no room for it there is no step.
    const BoostStepPlan none = planBoostSteps(Study(job), *boostGroupFor(boostGroups(job), 3, 0.1), 0.1);
    QVERIFY(none.steps.empty() && none.remark.text.starts_with("The engine's limit"));
    job.engine.boostLimitKpa = Curve::constant(215);
    QCOMPARE(planBoostSteps(Study(job), *boostGroupFor(boostGroups(job), 3, 0.1), 0.1).steps[0].cutKpa,
             215.0);
    job.engine.boostLimitKpa = Curve::constant(280);
    const std::vector<BoostGroup> groups = boostGroups(job);
    const BoostStepPlan plan = planBoostSteps(Study(job), *boostGroupFor(groups, 3, 0.1), 0.1);
    COMPARE_NEAR(plan.fromKpa, 90, 1e-9);
    COMPARE_NEAR(plan.targetKpa, 100, 1e-9);
    // One kPa for a per cent of duty: ten kPa are one step of duty, under the 17.2 of one pull.
    QCOMPARE(plan.steps.size(), std::size_t{1});
    COMPARE_NEAR(plan.steps[0].duty, 0.5, 1e-9);
    COMPARE_NEAR(plan.steps[0].boostKpa, 100, 1e-9);
    QVERIFY(plan.steps[0].beyond && plan.remark.text.empty());
    job.limits["boost.step"] = 4;
    double last = plan.fromKpa, duty = 0.4;
    for (const BoostStep &s : planBoostSteps(Study(job), groups[0], 0.1).steps) {
        QVERIFY(s.boostKpa - last <= 4 + 1e-9 && s.duty - duty <= 0.1 + 1e-9);
        QVERIFY(s.cutKpa >= s.boostKpa + 100 + 10.342 - 1e-9); // handbook: never under target + 1.5 psi
        last = s.boostKpa;
        duty = s.duty;
    }
    COMPARE_NEAR(last, 100, 1e-9);
}

void HardwareTest::boostStepsStopAtTheSolenoid() {
    Job job = jobWithPulls();
    for (BoostPoint &p : job.boost.points)
        p.boostKpa = 50 + (p.boostKpa - 50) * 0.2; // a soft spring: 0.2 kPa for a per cent
    const std::vector<BoostGroup> groups = boostGroups(job);
    const BoostStepPlan plan = planBoostSteps(Study(job), groups[0], 0.1);
    QVERIFY(plan.steps.back().boostKpa < plan.targetKpa && plan.steps.back().duty <= 1);
    QVERIFY(plan.remark.text.starts_with("The solenoid comes to its end"));
    job.engine.mapSensorMaxKpa = 170;
    job.boost = jobWithPulls().boost;
    QVERIFY(planBoostSteps(Study(job), groups[1], 0.85).remark.text.find("MAP sensor") != std::string::npos);
    for (BoostPoint &p : job.boost.points)
        p.boostKpa += 200;
    QVERIFY(planBoostSteps(Study(job), boostGroups(job)[0], 0.1).steps.empty());
}

// The map's worst is what the check finds, and each cell is withSpray() by itself.
void HardwareTest::sprayMapIsTheCheck() {
    Job job = testing::demoJob();
    job.aux.fitted = true;
    job.aux.spray = {300, 700, 900, 0.5, 140, 180};
    const double content = job.calibration.baseContent;
    double worst = 1;
    const BlendProperties fuel = blendModelOf(job).properties(blendAt(job, content));
    for (const SprayCell &c : sprayMap(Study(job), content)) {
        if (!c.reached) continue;
        worst = std::max(worst, c.lambdaIfLost / c.lambdaMeant);
        if (c.sprayCcMin <= 0) {
            QCOMPARE(c.trim, 1.0);
            continue;
        }
        const BlendedPoint p = blendedPoint(Study(job), {content, c.rpm, c.loadKpa});
        const double fuelLMin = engineFlowLMin(job,
                                               InjectorDemand(job, content, job.conditions.intakeUsualC)
                                                   .mm3(p.fuel, {c.rpm, c.loadKpa}, p.lambda),
                                               c.rpm);
        const double airGS = fuelLMin * fuel.densityKgM3 / 60 * fuel.stoichiometricAfr * p.lambda;
        const SprayedMixture m = withSpray(airGS, p.lambda, fuel, c.sprayCcMin, 0.5, job.methanol);
        COMPARE_NEAR(c.trim, m.trim, 1e-9);
        COMPARE_NEAR(c.lambdaIfLost, m.lambdaIfLost, 1e-9);
        QCOMPARE(c.sparkDeg, p.sparkDeg);
        QVERIFY(c.alcoholWith > content && sparkOnSpray(Study(job), content, c) >= -1e-9);
    }
    const Study study(job);
    const Evaluation &e = study.evaluation();
    double judged = 1;
    for (const WorstPlace &p : checkById("aux.loss")->run(e).byContent)
        if (p.content == content) judged = p.value / (p.limit / (1 + limitOf(job, "aux.loss.tolerance")));
    QVERIFY2(judged >= worst - 1e-9 && judged < worst * 1.05,
             qPrintable(QStringLiteral("%1 %2").arg(judged).arg(worst))); // it also asks between the cells
}

void HardwareTest::mapsAgreeWithTheirParts() {
    const Job job = testing::demoJob();
    const EngineMap duty = dutyMap(Study(job), 0.5), back = returnFlow(Study(job), 0.5);
    const std::size_t loads = duty.loadKpa.size();
    QCOMPARE(duty.value.size(), duty.rpm.size() * loads);
    for (const auto &[x, y] : {std::pair{0u, 0u}, {5u, 3u}, {8u, 9u}}) {
        const double rpm = duty.rpm[x], load = duty.loadKpa[y];
        const BlendedPoint p = blendedPoint(Study(job), {0.5, rpm, load});
        const double cold = job.conditions.intakeColdestC;
        COMPARE_NEAR(duty.value[x * loads + y], dutyAt(job, 0.5, cold, rpm, load, p.fuel, p.lambda).duty,
                     1e-12);
        COMPARE_NEAR(
            back.value[x * loads + y],
            pumpFlowAt(job, {rpm, load}) -
                engineFlowLMin(job, InjectorDemand(job, 0.5, cold).mm3(p.fuel, {rpm, load}, p.lambda), rpm),
            1e-9);
    }
}

void HardwareTest::everyNumberHasItsWorking() {
    Job job = testing::demoJob();
    job.aux.fitted = true;
    job.aux.spray.ratedFlowCcMin = 300;
    job.mechanical.passes.push_back({});
    job.supply.commandedKpa = 300;
    job.supply.measuredKpa = 276;
    const Frontier f = frontier(Study(job), 11);
    const std::vector<BoostGroup> groups = boostGroups(job);
    const BoostGroup *g = boostGroupFor(groups, 0, 0.85);
    std::vector<Explanation> all{explainPower(job, f, 5),
                                 explainDuty(Study(job), {0.5, 5000, 200}),
                                 explainReturn(job, {0.5, 5000, 200}, 1),
                                 explainSag(Study(job), 0.4),
                                 explainBoostFit(job, *g),
                                 explainBoostStep(job, *g, {0.5, 100, 1, 215, true}),
                                 explainSprayCell(Study(job), 0.5, sprayMap(Study(job), 0.5).back()),
                                 explainPill(job, 2.8, 6, mixtureOfJob(job, 7000), 0.02),
                                 explainWeather(job, adviseForWeather(job)),
                                 explainPass(job, {0, phrase("words")})};
    COMPARE_NEAR(explainSag(Study(job), 0.4).result.value, 0.08, 1e-12);
    for (const FrontierLine &line : f.lines) {
        all.push_back(explainLimit(Study(job), line.part, 0.5));
        COMPARE_NEAR(all.back().result.value, boostAllowed(Study(job), line.part, 0.5), 1e-9);
    }
    std::vector<double> flows, needs(job.measuredInjectors.size(), 1);
    for (const MeasuredInjector &m : job.measuredInjectors)
        flows.push_back(m.flowCcMin);
    all.push_back(explainAssignment(job, assignInjectors(flows, needs), 0));
    for (const Explanation &x : all) {
        QVERIFY2(!x.title.empty() && !x.formula.empty() && !x.source.empty() && !x.substituted.text.empty() &&
                     !x.uncertainty.text.empty() && !x.change.text.empty(),
                 said(x.title).c_str());
        for (const ExplanationInput &i : x.inputs) // a link leads somewhere
            QVERIFY2(i.link.empty() || fieldByPath(i.link) || curveByPath(i.link) || tableByPath(i.link) ||
                         recordListByPath(i.link) || i.link.starts_with("limit:"),
                     i.link.c_str());
        for (std::size_t v = 0; v < x.substituted.values.size(); ++v)
            QVERIFY2(x.substituted.text.find("{" + std::to_string(v) + "}") != std::string::npos,
                     std::string(x.substituted.text).c_str());
    }
}

CORE_TEST_MAIN(HardwareTest)
#include "hardware_test.moc"
