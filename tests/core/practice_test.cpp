// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/error.h"
#include "core/fuel/settling.h"
#include "core/job/tank_history.h"
#include "core/practice/practice_run.h"
#include "core/practice/truth_by_cell.h"
#include "core/study/mechanical_lambda.h"
#include "core/study/spark_estimate.h"
#include "formats/job_json.h"
#include "formats/practice_csv.h"
#include "formats/practice_json.h"
#include "support/random_job.h"
#include "support/test_main.h"

#include <QFile>

#include <functional>
#include <map>
#include <numeric>
#include <set>

using namespace wheelwright;
using namespace wheelwright::testing;

namespace {

struct Log {
    std::vector<PracticeSample> rows;
    std::vector<PracticeTruth> truth;
    PracticeResult result;

    /// Mean of a channel over the rows that a condition chooses.
    double mean(double PracticeSample::*what,
                const std::function<bool(const PracticeSample &)> &where) const {
        double sum = 0;
        int count = 0;
        for (const PracticeSample &s : rows)
            if (where(s)) {
                sum += s.*what;
                ++count;
            }
        return count > 0 ? sum / count : std::nan("");
    }
    double most(double PracticeSample::*what) const {
        double most = -1e9;
        for (const PracticeSample &s : rows)
            most = std::max(most, s.*what);
        return most;
    }
    double spread(double PracticeSample::*what,
                  const std::function<bool(const PracticeSample &)> &where) const {
        const double middle = mean(what, where);
        double sum = 0;
        int count = 0;
        for (const PracticeSample &s : rows)
            if (where(s)) {
                sum += (s.*what - middle) * (s.*what - middle);
                ++count;
            }
        return count > 0 ? std::sqrt(sum / count) : std::nan("");
    }
};

Log drive(const Job &job, const HiddenEngine &engine, const PracticeScript &script,
          std::vector<FaultSetting> faults = {}) {
    Log log;
    log.result =
        runPractice(job, engine, faults, script, [&](const PracticeSample &s, const PracticeTruth &t) {
            log.rows.push_back(s);
            log.truth.push_back(t);
        });
    return log;
}

PracticeScript script(const char *text) {
    return scriptFromJson(text);
}

// The demo's engine as its tables say, without scatter: what differs is what was changed.
HiddenEngine plain(const Job &job) {
    HiddenEngine e = engineAsTheJobSays(Study(job));
    e.cycleScatter = 0;
    return e;
}

Job moorhen() {
    QFile file(QStringLiteral(SOURCE_DIR "/data/demo/moorhen.json"));
    if (!file.open(QIODevice::ReadOnly)) return {};
    return jobFromJson(file.readAll().toStdString());
}

const auto everywhere = [](const PracticeSample &) { return true; };
const auto pulling = [](const PracticeSample &s) {
    return s.throttlePercent > 99 && s.rpm > 3500 && s.pulseMs > 0;
};
const auto idling = [](const PracticeSample &s) { return s.rpm < 1100 && s.timeS > 3 && s.pulseMs > 0; };
const auto cruising = [](const PracticeSample &s) { return s.timeS > 10 && s.timeS < 15; };

const char *const aDrive = R"({"ethanol": 0.6, "steps": [
    {"do": "idle", "seconds": 5}, {"do": "hold", "rpm": 3000, "load_kpa": 70, "seconds": 10},
    {"do": "pull", "from_rpm": 2500, "to_rpm": 6900, "mode": "loaded"},
    {"do": "hold", "rpm": 3000, "load_kpa": 60, "seconds": 4}]})";

} // namespace

class PracticeTest : public QObject {
    Q_OBJECT
  private slots:
    void aLiftEndsAPullAndItCoasts();
    void theSameSeedIsTheSameRun();
    void drawnWithinTheirRanges();
    void fuelIsPouredBurnedDrainedOrThere();
    void settlesAsTheFormulaSays();
    void runsTheJobsOwnCalibration();
    void lambdaIsWhatTheTruthMakesOfThePulse();
    void laterSparkRaisesBoostAndLeavesLambda();
    void sprayInAnUnchangedCalibrationGoesRichAndLosesPower();
    void raceFuelAtUnchangedSparkGainsNothing();
    void bestSparkOnTheDynoIsWhereTheModelSays();
    void everyFaultLeavesItsSign_data();
    void everyFaultLeavesItsSign();
    void everyFaultHasASign();
    void faultsBeginWhenTheySay();
    void pullAfterPullHeatsIt();
    void tipInGoesLeanFirst();
    void coldStartsAreEnriched();
    void pullsEndAtTheLimiter();
    void mechanicalEnginesRun();
    void pipesOfMethanolAreCool();
    void theEnvelopeIsOpenedByCell();
    void enginesAreDestroyedByWhatTheyDoNotStand();
    void theControllerForgetsATrimThatOverboosted();
    void sprayFailSafesAreTheJobs();
    void setChangesTheCalibration();
    void documentsRoundTrip();
    void badDocumentsSayWhere_data();
    void badDocumentsSayWhere();
    void csvIsReadable();
};

void PracticeTest::theSameSeedIsTheSameRun() {
    const Job job = demoJob();
    const Study study(job);
    const auto bytes = [&](std::uint64_t seed) {
        const PracticeScript s =
            script(R"({"ethanol": 0.3, "steps": [{"do": "hold", "rpm": 2500, "load_kpa": 60, "seconds": 2},
            {"do": "pull", "from_rpm": 3000, "to_rpm": 5500}]})");
        std::string text = practiceLogHeader();
        const PracticeResult r = runPractice(
            job, drawEngine(study, seed), {}, s,
            [&](const PracticeSample &row, const PracticeTruth &) { appendPracticeRow(text, row); });
        return text + dynoRunCsv(r.runs.at(0));
    };
    const std::string once = bytes(7);
    QVERIFY(once == bytes(7));
    QVERIFY(once != bytes(8));
    QVERIFY(once.size() > 30000);
}

void PracticeTest::drawnWithinTheirRanges() {
    const Study study(demoJob());
    const HiddenEngine said = engineAsTheJobSays(study);
    std::map<std::string_view, std::set<double>> seen;
    for (std::uint64_t seed = 1; seed <= 40; ++seed) {
        const HiddenEngine e = drawEngine(study, seed);
        QVERIFY(e == drawEngine(study, seed));
        validate(e);
        for (const HiddenField &f : hiddenFields()) {
            const double v = e.*f.member, base = said.*f.member;
            const double low = f.of == HiddenField::Of::itself     ? f.drawLow
                               : f.of == HiddenField::Of::timesJob ? base * f.drawLow
                                                                   : base + f.drawLow;
            const double high = f.of == HiddenField::Of::itself     ? f.drawHigh
                                : f.of == HiddenField::Of::timesJob ? base * f.drawHigh
                                                                    : base + f.drawHigh;
            QVERIFY2(v >= low - 1e-6 && v <= high + 1e-6, f.key.data());
            seen[f.key].insert(v);
        }
        for (std::size_t i = 0; i < e.ve.cells().size(); ++i)
            QVERIFY(std::abs(e.ve.cells()[i] / said.ve.cells()[i] - 1) < 0.095);
    }
    for (const HiddenField &f : hiddenFields())
        QVERIFY2(f.drawLow == f.drawHigh || seen[f.key].size() > 30, f.key.data());
    // An engine as the job says it has the air that its tables imply: chapter 10's truth begins there.
    QVERIFY(std::abs(said.springKpa - study.job().boost.springKpa) < 1e-12 && said.dutyGainKpa > 50 &&
            said.dutyGainKpa < 130);
}

// Volumes of each component, to 1e-9 of what was there: tank, surge tank, lines, and what was burned.
void PracticeTest::fuelIsPouredBurnedDrainedOrThere() {
    const Job job = demoJob();
    PracticeEngine engine(std::make_shared<Study>(job), plain(job));
    engine.fill(0.1);
    const FuelMix before = engine.circuit().volumes();
    const double litres = std::accumulate(before.begin(), before.end(), 0.0);
    engine.circuit().drain(5);
    engine.circuit().pour(8, engine.components().ofEthanol(0.8));
    Drive d;
    d.throttlePercent = 60;
    d.heldRpm = 4000;
    for (int i = 0; i < 6000; ++i)
        engine.step(d);
    const FuelMix after = engine.circuit().volumes();
    const double now = std::accumulate(after.begin(), after.end(), 0.0);
    QVERIFY(engine.burnedL() > 0.2);
    QVERIFY2(std::abs(now + engine.burnedL() - (litres + 3)) < 1e-9 * litres,
             qPrintable(QString::number(now + engine.burnedL() - litres - 3)));
    // Of ethanol no more was burned than at the contents that it can have had.
    const double burnedEthanol = before[1] - 0.1 * 5 + 0.8 * 8 - after[1];
    QVERIFY(burnedEthanol > 0.1 * engine.burnedL() - 1e-9 && burnedEthanol < 0.3 * engine.burnedL());
    EXPECT_INPUT_ERROR(engine.circuit().pour(1000, engine.components().ofEthanol(1)),
                       "litres: expected at most");
    EXPECT_INPUT_ERROR(engine.circuit().drain(1000), "all that the tank holds");
}

// Chapter 2's formula (core/fuel/settling, itself checked against GSL) for a step of content in a tank too
// large to be changed by the return: the same delay and time constant, to 1.5 % content.
void PracticeTest::settlesAsTheFormulaSays() {
    TankSetup tank;
    tank.capacityL = 2000;
    tank.lineL = 0.6;
    tank.railL = 0.15;
    tank.returnL = 0.35;
    tank.surgeL = 1.5;
    tank.surgeFlowLMin = 2.5;
    tank.sensorPlace = SensorPlace::returnLine;
    FuelCircuit circuit(tank, true);
    constexpr double feed = 1.9, use = 0.2, seconds = 0.01;
    circuit.fill(100, {1 - 0.1, 0.1});
    circuit.pour(1800, {1 - 0.8, 0.8});
    const double after = circuit.inTank()[1];
    FuelPath path{tank.lineL, feed,         tank.surgeL, tank.surgeFlowLMin, SensorPlace::returnLine,
                  tank.railL, tank.returnL, use};
    for (int i = 0; i < 60000; ++i) {
        circuit.flow(feed * seconds / 60, use * seconds / 60, seconds);
        if (i % 1000 != 999) continue;
        const double minutes = (i + 1) * seconds / 60;
        // The surge tank is stirred by the lift pump and by what comes back.
        path.surgeFlowLMin = 2.5;
        const double sensor = sensorContent(path, 0.1, after, minutes),
                     injector = injectorContent(path, 0.1, after, minutes);
        // What returns still has the old content and goes through the surge tank once more: slower by its
        // share.
        QVERIFY2(circuit.atInjectors()[1] <= injector + 0.015, qPrintable(QString::number(minutes)));
        QVERIFY(minutes > injectorDelayMinutes(path) || std::abs(circuit.atInjectors()[1] - 0.1) < 1e-9);
        QVERIFY(minutes > sensorDelayMinutes(path) || std::abs(circuit.atSensor()[1] - 0.1) < 1e-9);
        QVERIFY(circuit.atSensor()[1] <= sensor + 0.015);
    }
    QVERIFY(std::abs(circuit.atInjectors()[1] - after) < 0.02);
    // Without a surge tank: plug flow alone, exactly.
    tank.surgeL = tank.surgeFlowLMin = 0;
    FuelCircuit pipe(tank, false);
    pipe.fill(100, {1});
    pipe.drain(100);
    pipe.pour(100, {0, 1});
    double used = 0;
    while (pipe.atInjectors()[1] < 0.5) {
        pipe.flow(0, 0.001, seconds);
        used += 0.001;
    }
    QVERIFY(std::abs(used - (tank.lineL + tank.railL)) < 0.003);
}

// What the log says was commanded is what the product's own blending says for those sensors.
void PracticeTest::runsTheJobsOwnCalibration() {
    const Job job = demoJob();
    const Study study(job);
    const Log log = drive(job, plain(job), script(aDrive));
    int compared = 0;
    for (std::size_t i = 50; i < log.rows.size(); i += 97) {
        const PracticeSample &s = log.rows[i];
        if (s.pulseMs <= 0) continue;
        const BlendedPoint p = blendedPoint(study, {s.contentPercent / 100, s.rpm, s.mapKpa});
        // A row's speed is that after the step, its content and pressure those that the controller saw.
        QVERIFY2(std::abs(s.lambdaTarget - p.lambda) < 0.006,
                 qPrintable(QStringLiteral("%1 %2 %3").arg(s.timeS).arg(s.lambdaTarget).arg(p.lambda)));
        ++compared;
    }
    QVERIFY(compared > 10);
    // Of a true VE the model's λ follows its target where the truth is what the tables say, warm and steady.
    const double target = log.mean(&PracticeSample::lambdaTarget, cruising),
                 found = log.mean(&PracticeSample::lambda, cruising);
    QVERIFY2(std::abs(found - target) < 0.04, qPrintable(QStringLiteral("%1 %2").arg(found).arg(target)));
}

// By hand: air by VE, fuel by the pulse less dead time through the injector, λ their ratio over AFR. Held
// long enough that no film is left to fill. 0.5 %.
void PracticeTest::lambdaIsWhatTheTruthMakesOfThePulse() {
    Job job = demoJob();
    HiddenEngine e = plain(job);
    e.injectorFlowFactor = 0.95;
    e.deadTimeErrorMs = 0.05;
    e.veGainPer100K = 0;
    const Log log = drive(
        job, e,
        script(R"({"ethanol": 0.5, "steps": [{"do": "hold", "rpm": 3200, "load_kpa": 80, "seconds": 15}]})"));
    const PracticeSample &s = log.rows.back();
    const PracticeTruth &t = log.truth.back();
    const BlendProperties fuel =
        BlendModel(job.gasoline, job.ethanol).properties({VolumeFraction::fraction(0.5)});
    const double air =
        e.ve.lookup(s.rpm, t.mapKpa).value / 100 * t.mapKpa * 0.48 / (0.28705 * (t.intakeC + 273.15)) * 1000;
    const double mm3 = (s.pulseMs - 0.85 - 0.05) * 725 * 0.95 / 60; // dead time of the sheet is for 13.8 V
    const double lambda = air / (mm3 * fuel.densityKgM3 * 1e-3 * fuel.stoichiometricAfr);
    QVERIFY2(std::abs(t.lambda / lambda - 1) < 0.01,
             qPrintable(QStringLiteral("%1 %2").arg(t.lambda).arg(lambda)));
    QVERIFY(
        std::abs(log.mean(&PracticeSample::lambda, [&](const PracticeSample &r) { return r.timeS > 10; }) /
                     lambda -
                 1) < 0.02);
}

// Common practice: at one duty later spark makes hotter exhaust and more boost; λ stays within 0.02.
void PracticeTest::laterSparkRaisesBoostAndLeavesLambda() {
    const Job job = demoJob();
    const auto pullWith = [&](const char *change) {
        return drive(job, plain(job),
                     script((std::string(R"({"ethanol": 0.6, "steps": [{"do": "set", "solenoid_duty": 0.2},
            {"do": "set", "table": "spark.base", "change": ")") +
                             change + R"("}, {"do": "set", "table": "spark.top", "change": ")" + change +
                             R"("}, {"do": "pull", "from_rpm": 2500, "to_rpm": 6500, "mode": "loaded"}]})")
                                .c_str()));
    };
    const Log usual = pullWith("+0"), late = pullWith("-8");
    const auto high = [](const PracticeSample &s) { return s.throttlePercent > 99 && s.rpm > 4500; };
    QVERIFY(late.mean(&PracticeSample::mapKpa, high) > usual.mean(&PracticeSample::mapKpa, high) + 1);
    QVERIFY(late.mean(&PracticeSample::exhaustC, high) > usual.mean(&PracticeSample::exhaustC, high) + 15);
    QVERIFY(std::abs(late.mean(&PracticeSample::lambda, high) - usual.mean(&PracticeSample::lambda, high)) <
            0.02);
    QVERIFY(late.result.runs[0].peakPowerKw < usual.result.runs[0].peakPowerKw);
}

// Chapter 1's mistake: methanol is fuel.
void PracticeTest::sprayInAnUnchangedCalibrationGoesRichAndLosesPower() {
    Job job = demoJob();
    const Log dry = drive(job, plain(job), script(aDrive));
    job.aux.fitted = true;
    job.aux.spray = {600, 700, 700, 1, 130, 150};
    const Log wet = drive(job, plain(job), script(aDrive));
    const auto high = [](const PracticeSample &s) { return s.throttlePercent > 99 && s.rpm > 4500; };
    QVERIFY(wet.mean(&PracticeSample::lambda, high) < dry.mean(&PracticeSample::lambda, high) - 0.05);
    QVERIFY(wet.result.runs[0].peakPowerKw < dry.result.runs[0].peakPowerKw);
    QVERIFY(wet.most(&PracticeSample::sprayCcMin) > 590 && dry.most(&PracticeSample::sprayCcMin) == 0);
}

// More octane than the engine needs makes no power by itself.
void PracticeTest::raceFuelAtUnchangedSparkGainsNothing() {
    const Job job = demoJob();
    const auto powerOn = [&](const FuelMix &mix) {
        PracticeEngine engine(std::make_shared<Study>(job), plain(job));
        engine.fill(mix);
        engine.controller().holdSolenoid(0);
        Drive d;
        d.throttlePercent = 100;
        d.heldRpm = 5000;
        double sum = 0;
        for (int i = 0; i < 800; ++i) {
            engine.step(d);
            if (i >= 400) sum += engine.truth().torqueNm;
        }
        return sum / 400;
    };
    FuelMix pump{1}, race{};
    race[3] = 1; // the demo's race gasoline
    const double usual = powerOn(pump), raced = powerOn(race);
    QVERIFY2(raced <= usual && raced > 0.9 * usual,
             qPrintable(QStringLiteral("%1 %2").arg(usual).arg(raced)));
}

// A sweep of spark as a dyno makes it: most torque within 4° of what the estimate calls best, half burned at
// 10° (Heywood section 9.1).
void PracticeTest::bestSparkOnTheDynoIsWhereTheModelSays() {
    const Job job = demoJob();
    const HiddenEngine e = plain(job);
    double best = 0, most = 0;
    for (double spark = 14; spark <= 40; spark += 2) {
        Job swept = job;
        for (Table2D *t : tablesOf(swept, CalibratedQuantity::spark))
            *t = Table2D::uniform(t->x(), t->y(), spark);
        swept.extras.clear();
        const Log log = drive(
            swept, e,
            script(
                R"({"ethanol": 0.85, "steps": [{"do": "set", "solenoid_duty": 0}, {"do": "hold", "rpm": 4000, "load_kpa": 100, "seconds": 4}]})"));
        double torque = 0;
        for (std::size_t i = log.truth.size() - 100; i < log.truth.size(); ++i)
            torque += log.truth[i].torqueNm / log.truth[i].airMg;
        if (torque > most) {
            most = torque;
            best = spark;
        }
    }
    const double said = SparkEstimator(Study(job)).at({0.85, 4000, 100}).bestDeg;
    QVERIFY2(std::abs(best - said) <= 4, qPrintable(QStringLiteral("%1 %2").arg(best).arg(said)));
}

namespace {

using Sign = std::function<bool(const Log &without, const Log &with)>;

struct FaultCase {
    FaultId id;
    const char *script;
    Sign sign;
};

const char *const pourAndWait =
    R"({"ethanol": 0.2, "steps": [{"do": "idle", "seconds": 5}, {"do": "pour", "litres": 14, "fuel": "Sealed ethanol"},
    {"do": "hold", "rpm": 2500, "load_kpa": 60, "seconds": 170}]})";
const char *const aFullPull =
    R"({"ethanol": 0.85, "steps": [{"do": "idle", "seconds": 5}, {"do": "pull", "from_rpm": 2500, "to_rpm": 7000, "mode": "loaded"}]})";

#define OF(channel) &PracticeSample::channel
const std::vector<FaultCase> &faultCases() {
    using P = PracticeSample;
    static const std::vector<FaultCase> cases{
        {FaultId::throttleUnplugged, aDrive,
         [](const Log &a, const Log &b) {
             return b.spread(OF(throttlePercent), everywhere) == 0 &&
                    b.mean(OF(boostTargetKpa), [](const P &s) { return s.mapKpa > 120; }) <
                        a.mean(OF(boostTargetKpa), pulling) - 50;
         }},
        {FaultId::baseTiming, aDrive,
         [](const Log &a, const Log &b) {
             return std::abs(b.mean(OF(sparkDeg), cruising) - a.mean(OF(sparkDeg), cruising)) < 0.5 &&
                    b.mean(OF(exhaustC), cruising) < a.mean(OF(exhaustC), cruising) - 15;
         }},
        {FaultId::returnDry, aDrive,
         [](const Log &a, const Log &b) {
             return b.spread(OF(contentPercent), pulling) > 3 * a.spread(OF(contentPercent), pulling) + 0.5;
         }},
        {FaultId::contentStuck, pourAndWait,
         [](const Log &a, const Log &b) {
             const auto late = [](const P &s) { return s.timeS > 100; };
             return b.spread(OF(contentPercent), late) < 1e-9 && a.spread(OF(contentPercent), late) > 0.05;
         }},
        {FaultId::contentLag, pourAndWait,
         [](const Log &a, const Log &b) {
             return b.rows.back().contentPercent < a.rows.back().contentPercent - 2;
         }},
        {FaultId::contentOff, aDrive,
         [](const Log &a, const Log &b) {
             const double light = b.mean(OF(lambda), cruising) / a.mean(OF(lambda), cruising),
                          full = b.mean(OF(lambda), pulling) / a.mean(OF(lambda), pulling);
             return light < 0.97 && full < 0.97 && std::abs(light - full) < 0.03; // it believes more alcohol
         }},
        {FaultId::weakPump, aFullPull,
         [](const Log &a, const Log &b) {
             const auto top = [](const P &s) { return pulling(s) && s.rpm > 6000; };
             return b.mean(OF(railKpa), top) - b.mean(OF(mapKpa), top) <
                        a.mean(OF(railKpa), top) - a.mean(OF(mapKpa), top) - 15 &&
                    b.mean(OF(lambda), top) > a.mean(OF(lambda), top) + 0.03;
         }},
        {FaultId::cloggedFilter, aFullPull,
         [](const Log &a, const Log &b) {
             const auto top = [](const P &s) { return pulling(s) && s.rpm > 6000; };
             return b.mean(OF(railKpa), top) - b.mean(OF(mapKpa), top) <
                        a.mean(OF(railKpa), top) - a.mean(OF(mapKpa), top) - 10 &&
                    std::abs(b.mean(OF(railKpa), idling) - a.mean(OF(railKpa), idling)) < 2;
         }},
        {FaultId::injectorBankWeak, aDrive,
         [](const Log &a, const Log &b) {
             const double light = b.mean(OF(lambda), cruising) / a.mean(OF(lambda), cruising),
                          full = b.mean(OF(lambda), pulling) / a.mean(OF(lambda), pulling);
             return light > 1.025 && light < 1.06 && full > 1.025 && full < 1.06; // half of 8 %
         }},
        {FaultId::injectorWeak, aDrive,
         [](const Log &a, const Log &b) {
             const double full = b.mean(OF(lambda), pulling) / a.mean(OF(lambda), pulling);
             return full > 1.01 && full < 1.035; // a tenth of one in five
         }},
        {FaultId::solenoidStuck, aDrive,
         [](const Log &a, const Log &b) {
             return b.mean(OF(mapKpa), pulling) < a.mean(OF(mapKpa), pulling) - 10 &&
                    b.mean(OF(solenoidPercent), pulling) > a.mean(OF(solenoidPercent), pulling) + 2;
         }},
        {FaultId::springOff,
         R"({"ethanol": 0.6, "steps": [{"do": "set", "solenoid_duty": 0}, {"do": "pull", "from_rpm": 2500, "to_rpm": 6500, "mode": "loaded"}]})",
         [](const Log &a, const Log &b) {
             return b.mean(OF(mapKpa), pulling) < a.mean(OF(mapKpa), pulling) - 10 &&
                    b.mean(OF(solenoidPercent), pulling) == 0;
         }},
        {FaultId::sprayEmpty, aDrive,
         [](const Log &a, const Log &b) {
             return b.most(OF(sprayCcMin)) == 0 && a.most(OF(sprayCcMin)) > 100 &&
                    b.mean(OF(lambda), pulling) > a.mean(OF(lambda), pulling) + 0.02;
         }},
        {FaultId::badFuel,
         R"({"ethanol": 0.1, "steps": [{"do": "set", "table": "spark.base", "change": "+6"}, {"do": "pull", "from_rpm": 2500, "to_rpm": 5500, "mode": "loaded"}]})",
         [](const Log &a, const Log &b) {
             return b.most(OF(knockRetardDeg)) > a.most(OF(knockRetardDeg)) + 1;
         }},
        {FaultId::earlyRevLimit, aFullPull,
         [](const Log &a, const Log &b) { return a.most(OF(rpm)) > 6950 && b.most(OF(rpm)) < 6600; }},
        {FaultId::widebandLag, aDrive,
         [](const Log &a, const Log &b) {
             // After the pull fuel is cut and λ runs out to air: how long that takes.
             const auto rises = [](const Log &log) {
                 for (std::size_t i = 1; i < log.rows.size(); ++i)
                     if (log.rows[i].pulseMs <= 0 && log.rows[i - 1].pulseMs > 0 && log.rows[i].rpm > 5000)
                         for (std::size_t k = i; k < log.rows.size(); ++k)
                             if (log.rows[k].lambda > 1.6) return static_cast<double>(k - i);
                 return 1e9;
             };
             return rises(b) > rises(a) + 10 && rises(a) < 60;
         }},
        {FaultId::widebandScale, aDrive,
         [](const Log &a, const Log &b) {
             for (const auto &where :
                  {std::function<bool(const P &)>(idling), std::function<bool(const P &)>(cruising),
                   std::function<bool(const P &)>(pulling)})
                 if (std::abs(b.mean(OF(lambda), where) / a.mean(OF(lambda), where) - 1.06) > 0.005)
                     return false;
             return true;
         }},
        {FaultId::exhaustLeak, aDrive,
         [](const Log &a, const Log &b) {
             return b.mean(OF(lambda), idling) > a.mean(OF(lambda), idling) + 0.06 &&
                    b.mean(OF(lambda), pulling) < a.mean(OF(lambda), pulling) + 0.03;
         }},
        {FaultId::intakeLeak,
         R"({"ethanol": 0.6, "steps": [{"do": "set", "solenoid_duty": 0.3}, {"do": "pull", "from_rpm": 2500, "to_rpm": 6500, "mode": "loaded"}]})",
         [](const Log &a, const Log &b) {
             return b.mean(OF(mapKpa), pulling) < a.mean(OF(mapKpa), pulling) - 5 &&
                    b.mean(OF(intakeC), pulling) > a.mean(OF(intakeC), pulling) + 0.5;
         }},
        {FaultId::coolantLeak, aDrive,
         [](const Log &a, const Log &b) { return b.rows.back().coolantC > a.rows.back().coolantC + 4; }},
        {FaultId::hotIntake, aDrive,
         [](const Log &a, const Log &b) {
             return b.mean(OF(intakeC), pulling) > a.mean(OF(intakeC), pulling) + 15 &&
                    b.mean(OF(sparkDeg), pulling) < a.mean(OF(sparkDeg), pulling) - 0.3;
         }},
        {FaultId::alternatorSag, aDrive,
         [](const Log &a, const Log &b) {
             return b.mean(OF(batteryV), pulling) < a.mean(OF(batteryV), pulling) - 1.2;
         }},
        {FaultId::fileChanged, aDrive,
         [](const Log &a, const Log &b) {
             return b.mean(OF(boostTargetKpa), pulling) > a.mean(OF(boostTargetKpa), pulling) + 19 &&
                    b.most(OF(mapKpa)) > a.most(OF(mapKpa)) + 15; // up to the cut
         }},
    };
    return cases;
}
#undef OF

} // namespace

void PracticeTest::everyFaultLeavesItsSign_data() {
    QTest::addColumn<int>("which");
    for (std::size_t i = 0; i < faultCases().size(); ++i)
        QTest::newRow(definitionOf(faultCases()[i].id).name.data()) << static_cast<int>(i);
}

void PracticeTest::everyFaultLeavesItsSign() {
    QFETCH(int, which);
    const FaultCase &c = faultCases()[static_cast<std::size_t>(which)];
    Job job = demoJob();
    if (c.id == FaultId::sprayEmpty) {
        job.aux.fitted = true;
        job.aux.spray = {300, 700, 700, 1, 130, 150};
    }
    const PracticeScript s = script(c.script);
    const Log without = drive(job, plain(job), s);
    const Log with = drive(job, plain(job), s, {faultFrom(std::string(definitionOf(c.id).name), "fault")});
    QVERIFY(c.sign(without, with));
    QVERIFY(!c.sign(without, without)); // the sign is the fault's, not the engine's
}

void PracticeTest::everyFaultHasASign() {
    std::set<std::string_view> names;
    for (const Fault &f : allFaults()) {
        QVERIFY2(std::ranges::any_of(faultCases(), [&](const FaultCase &c) { return c.id == f.id; }),
                 f.name.data());
        QVERIFY(names.insert(f.name).second && !f.sign.empty() && f.usual >= f.least && f.usual <= f.most);
    }
}

void PracticeTest::faultsBeginWhenTheySay() {
    const Job job = demoJob();
    const PracticeScript s = script(
        R"({"ethanol": 0.3, "steps": [{"do": "hold", "rpm": 2500, "load_kpa": 60, "seconds": 6}, {"do": "hold", "rpm": 2500, "load_kpa": 95, "seconds": 6}]})");
    const Log late = drive(job, plain(job), s, {faultFrom("content_off:0.2@4", "fault")});
    const auto between = [](double from, double to) {
        return [from, to](const PracticeSample &r) { return r.timeS > from && r.timeS < to; };
    };
    QVERIFY(std::abs(late.mean(&PracticeSample::contentPercent, between(2, 4)) - 30) < 1);
    QVERIFY(late.mean(&PracticeSample::contentPercent, between(9, 12)) >
            33); // the demo's controller follows slowly
    // One per cent a second, as the demo says: not at once.
    QVERIFY(late.mean(&PracticeSample::contentPercent, between(4.9, 5.1)) < 32);
    const Log high = drive(job, plain(job), s, {faultFrom("wideband_scale:1.2>80", "fault")});
    QVERIFY(high.mean(&PracticeSample::lambda, between(3, 6)) < 1.1 &&
            high.mean(&PracticeSample::lambda, between(9, 12)) > 1.1);
    QCOMPARE(faultFrom("weak_pump:0.3@12>150", "f"), (FaultSetting{FaultId::weakPump, 0.3, 12, 150}));
    EXPECT_INPUT_ERROR(faultFrom("weak_pump:3", "--fault"),
                       "--fault weak_pump strength_share: expected 0 to 1");
    EXPECT_INPUT_ERROR(faultFrom("nothing", "--fault"), "one of throttle_unplugged");
    EXPECT_INPUT_ERROR(faultFrom("weak_pump:x", "--fault"), "the strength");
}

// Pull after pull loses power; fans and time give it back.
void PracticeTest::pullAfterPullHeatsIt() {
    const Job job = demoJob();
    std::string steps = R"({"ethanol": 0.1, "steps": [)";
    for (int i = 0; i < 5; ++i)
        steps += R"({"do": "pull", "from_rpm": 2500, "to_rpm": 6900, "mode": "loaded"},)";
    const Log log = drive(
        job, plain(job),
        script(
            (steps +
             R"({"do": "cool_down", "seconds": 600}, {"do": "pull", "from_rpm": 2500, "to_rpm": 6900, "mode": "loaded"}]})")
                .c_str()));
    const auto &runs = log.result.runs;
    QCOMPARE(runs.size(), 6u);
    QVERIFY(runs[4].peakPowerKw < runs[0].peakPowerKw - 0.5 &&
            runs[4].startIntakeC > runs[0].startIntakeC + 2);
    QVERIFY(runs[5].peakPowerKw > runs[4].peakPowerKw);
    QVERIFY(runs[0].rows.size() > 100 && runs[0].peakTorqueNm > 150);
    for (const DynoRow &r : runs[0].rows)
        QVERIFY(std::abs(r.powerKw - r.torqueNm * r.rpm / 9549.297) < 1e-9);
}

// The wall of the port takes its share first.
void PracticeTest::tipInGoesLeanFirst() {
    Job job = demoJob();
    job.extras.eraseIf([](const ExtraTable &t) { return t.kind == TableKind::acceleration; });
    HiddenEngine e = plain(job);
    e.filmShare = 0.3;
    const char *const tip =
        R"({"ethanol": 0.1, "steps": [{"do": "tip_in", "rpm": 2500, "from_kpa": 40, "to_kpa": 98, "seconds": 4}]})";
    const auto leanest = [&](double film) {
        e.filmShare = film;
        const Log log = drive(job, e, script(tip));
        double most = 0;
        for (std::size_t i = 0; i < log.rows.size(); ++i)
            if (log.rows[i].timeS > 2 && log.rows[i].timeS < 2.6)
                most = std::max(most, log.truth[i].lambda / log.rows[i].lambdaTarget);
        return most;
    };
    QVERIFY(leanest(0.3) > leanest(0) + 0.05);
}

void PracticeTest::coldStartsAreEnriched() {
    const Job job = demoJob();
    const Log log = drive(
        job, plain(job),
        script(
            R"({"start": "cold", "cold_c": 5, "ethanol": 0.1, "steps": [{"do": "cold_start", "coolant_c": 5, "seconds": 20}]})"));
    QVERIFY(std::abs(log.rows.front().coolantC - 5) < 1 &&
            log.rows.back().coolantC > log.rows.front().coolantC);
    const auto early = [](const PracticeSample &s) { return s.timeS > 1.5 && s.timeS < 4; };
    const auto late = [](const PracticeSample &s) { return s.timeS > 18; };
    QVERIFY(log.mean(&PracticeSample::pulseMs, early) > log.mean(&PracticeSample::pulseMs, late));
    QVERIFY(log.rows.back().rpm > 900 && log.rows.back().fuelC > 5);
}

// A pull that is asked for past the limiter ends there, and does no harm.
void PracticeTest::pullsEndAtTheLimiter() {
    const Job job = demoJob();
    const Log log = drive(
        job, plain(job),
        script(
            R"({"ethanol": 0.3, "steps": [{"do": "pull", "from_rpm": 5500, "to_rpm": 9000, "mode": "road"}]})"));
    QVERIFY(log.result.seconds < 30 && log.most(&PracticeSample::rpm) < job.engine.revLimitRpm + 150);
    QVERIFY(log.result.destroyedBy.empty() && log.result.damage.overspeed == 0);
}

void PracticeTest::mechanicalEnginesRun() {
    const Job job = moorhen();
    const Log log =
        drive(job, plain(job), script(R"({"steps": [{"do": "pull", "from_rpm": 3000, "to_rpm": 7500}]})"));
    const auto high = [](const PracticeSample &s) { return s.throttlePercent > 99 && s.rpm > 5000; };
    // As the product's own formula has it for that engine, at its speed: 3 %.
    double worst = 0;
    for (std::size_t i = 0; i < log.rows.size(); ++i)
        if (high(log.rows[i]) && i % 40 == 0) {
            MechanicalEngine engine = mechanicalEngineAt(job, log.rows[i].rpm);
            engine.manifoldKpa = log.truth[i].mapKpa;
            engine.intakeC = log.truth[i].intakeC;
            worst = std::max(
                worst, std::abs(log.truth[i].lambda /
                                    mixtureAt(job.mechanical.injection, engine, log.rows[i].rpm).lambda -
                                1));
        }
    QVERIFY2(worst < 0.12, qPrintable(QString::number(worst)));
    QVERIFY(log.result.runs[0].peakPowerKw > 200 && log.rows.back().pulseMs == 0 &&
            log.mean(&PracticeSample::exhaustC, high) > 200);
}

// The trade's two temperatures: about 1000 °F at the target, 600 °F far rich (handbook chapters 1 and 3).
void PracticeTest::pipesOfMethanolAreCool() {
    const auto hottest = [](double pumpShare) {
        Job job = moorhen();
        job.mechanical.injection.pumpLMin *= pumpShare;
        const Log log = drive(
            job, plain(job),
            script(R"({"steps": [{"do": "pull", "from_rpm": 3000, "to_rpm": 7500, "mode": "loaded"}]})"));
        const auto top = [](const PracticeSample &s) { return s.throttlePercent > 99 && s.rpm > 6800; };
        return std::pair(log.mean(&PracticeSample::lambda, top), log.mean(&PracticeSample::exhaustC, top));
    };
    const auto [lean, hot] = hottest(1);
    const auto [rich, cool] = hottest(1.25);
    QVERIFY2(lean > 0.8 && lean < 0.95, qPrintable(QString::number(lean)));
    QVERIFY2(hot > 480 && hot < 620, qPrintable(QString::number(hot)));
    QVERIFY2(rich < 0.72, qPrintable(QString::number(rich)));
    QVERIFY2(cool > 250 && cool < 430, qPrintable(QString::number(cool)));
    // And what an idle burns is a number.
    const Job job = moorhen();
    const Log idle = drive(job, plain(job), script(R"({"steps": [{"do": "idle", "seconds": 3}]})"));
    QVERIFY(idle.result.burnedL > 0 && idle.result.tankL > 20);
}

// Against a plain loop over the rows, and the knock that the engine itself had there.
void PracticeTest::theEnvelopeIsOpenedByCell() {
    const Job job = demoJob();
    const auto study = std::make_shared<const Study>(job);
    HiddenEngine e = plain(job);
    e.cycleScatter = 0;
    TruthByCell opened(*study, e);
    std::map<std::pair<double, double>, std::pair<double, int>> lambda;
    const Table2D &grid = job.calibration.of(CalibratedQuantity::spark).base;
    double still = 0, throttle = 0;
    int knockedOver = 0, cleanUnder = 0, wrong = 0;
    runPractice(
        job, e, {}, script(R"({"ethanol": 0.1, "steps": [
        {"do": "set", "table": "spark.base", "change": "+3"},
        {"do": "pull", "from_rpm": 2500, "to_rpm": 6800, "mode": "loaded"}]})"),
        [&](const PracticeSample &s, const PracticeTruth &t) {
            opened.add(s, t);
            still = std::abs(s.throttlePercent - throttle) < 0.5 ? still + 0.01 : 0;
            throttle = s.throttlePercent;
            if (still < 0.7 || s.pulseMs <= 0 || s.mapKpa < 80 || t.lambda > 1.4) return;
            auto &sum = lambda[{grid.x()[grid.x().nearest(s.rpm)], grid.y()[grid.y().nearest(s.mapKpa)]}];
            sum.first += t.lambda;
            ++sum.second;
        });
    const std::vector<TruthCell> cells = opened.cells();
    QVERIFY(cells.size() > 5);
    for (const TruthCell &c : cells) {
        const auto &[sum, count] = lambda.at({c.rpm, c.loadKpa});
        QCOMPARE(c.rows, static_cast<std::size_t>(count));
        COMPARE_NEAR(c.lambda, sum / count, 1e-9);
        COMPARE_NEAR(c.content, 0.1, 0.005);
        COMPARE_NEAR(c.cleanDeg, c.limitDeg, 0.1); // no scatter
        QVERIFY(c.bestSafeDeg() <= c.limitDeg - 1 + 1e-9 && c.bestSafeDeg() <= c.bestDeg);
        // Clear of its limit on either side it knocks always, or never.
        if (c.sparkDeg > c.limitDeg + 1) knockedOver += c.knockedShare > 0.3, wrong += c.knockedShare == 0;
        if (c.sparkDeg < c.limitDeg - 1) cleanUnder += c.knockedShare == 0, wrong += c.knockedShare > 0.3;
    }
    QCOMPARE(wrong, 0);
    QVERIFY(cleanUnder > 0);
    // Half a per cent of torque is a few degrees, as power falls with the square of the distance.
    for (const TruthCell &c : cells) {
        QVERIFY(c.leastDeg < c.bestDeg - 0.5 && c.leastDeg > c.bestDeg - 8);
        QCOMPARE(c.leastSafeDeg(), std::min(c.bestSafeDeg(), c.leastDeg));
    }
    // Driven: with the least spark it gives 99.5 % of the torque that it gives with the best.
    const auto held = [&](double more, TruthCell &told) {
        TruthByCell of(*study, e);
        double torque = 0, rows = 0;
        const std::string change = (more < 0 ? "" : "+") + std::to_string(more);
        const std::string steps =
            R"({"ethanol": 0.1, "steps": [{"do": "set", "table": "spark.base", "change": ")" + change +
            R"("}, {"do": "hold", "rpm": 3000, "load_kpa": 95, "seconds": 6}]})";
        runPractice(job, e, {}, script(steps.c_str()), [&](const PracticeSample &s, const PracticeTruth &t) {
            of.add(s, t);
            if (s.timeS < 3) return;
            torque += t.torqueNm;
            ++rows;
        });
        const std::vector<TruthCell> there = of.cells();
        told = *std::ranges::max_element(there, {}, &TruthCell::rows);
        return torque / rows;
    };
    TruthCell as, then;
    held(0, as);
    const double best = held(as.bestDeg - as.sparkDeg, then), least = held(as.leastDeg - as.sparkDeg, then);
    COMPARE_NEAR(then.sparkDeg, as.leastDeg, 0.3);
    COMPARE_NEAR(least / best, 0.995, 0.001);
    // Mechanical injection commands nothing, and is opened all the same.
    const Job pills = moorhen();
    TruthByCell bare(Study(pills), plain(pills));
    runPractice(pills, plain(pills), {},
                script(R"({"steps": [{"do": "pull", "from_rpm": 4000, "to_rpm": 7000, "mode": "loaded"}]})"),
                [&](const PracticeSample &s, const PracticeTruth &t) { bare.add(s, t); });
    QVERIFY(!bare.cells().empty() && bare.cells()[0].lambdaTarget == 0 && bare.cells()[0].lambda > 0.5);
    // With scatter the clean spark lies lower, and nothing else moves.
    e.cycleScatter = 0.06;
    TruthByCell scattered(*study, e);
    PracticeTruth t;
    t.hottest = {180, 340, 2500, 95, 0};
    t.hottestBurn = {12, 55};
    PracticeSample s;
    s.rpm = 4000;
    s.mapKpa = 180;
    s.pulseMs = 8;
    for (int i = 0; i < 200; ++i)
        scattered.add(s, t);
    const TruthCell cell = scattered.cells().at(0);
    QVERIFY(cell.cleanDeg < cell.limitDeg - 1);
    // Handbook chapter 10, first row of its check values, at the compression of the job.
    Cylinder own(hiddenCylinder(job, e), 1);
    COMPARE_NEAR(cell.limitDeg, own.knockLimit(t.hottest, t.hottestBurn, 4000).deg, 0.1);
}

void PracticeTest::enginesAreDestroyedByWhatTheyDoNotStand() {
    const Job job = demoJob();
    const auto endOf = [&](const HiddenEngine &e, const char *text, std::vector<FaultSetting> faults = {}) {
        return drive(job, e, script(text), std::move(faults)).result;
    };
    const char *const wild =
        R"({"ethanol": 0.1, "steps": [{"do": "set", "field": "spark.knock_control", "value": false},
        {"do": "set", "table": "spark.base", "change": "+14"}, {"do": "pull", "from_rpm": 2500, "to_rpm": 6900, "mode": "loaded"},
        {"do": "pull", "from_rpm": 2500, "to_rpm": 6900, "mode": "loaded"}, {"do": "pull", "from_rpm": 2500, "to_rpm": 6900, "mode": "loaded"}]})";
    HiddenEngine e = plain(job);
    const PracticeResult knocked = endOf(e, wild);
    QVERIFY2(knocked.destroyedBy == "knock" || knocked.destroyedBy == "cylinder_pressure",
             knocked.destroyedBy.c_str());
    QVERIFY(knocked.runs.size() <= 3);
    e.leanS = 0.5;
    QCOMPARE(endOf(e, aFullPull, {faultFrom("injector_bank_weak:0.15", "f")}).destroyedBy,
             std::string("lean_mixture"));
    e = plain(job);
    e.coolantC = 95;
    QCOMPARE(
        endOf(e,
              R"({"ethanol": 0.1, "steps": [{"do": "hold", "rpm": 3000, "load_kpa": 60, "seconds": 200}]})",
              {faultFrom("coolant_leak:60", "f")})
            .destroyedBy,
        std::string("heat"));
    QVERIFY(endOf(plain(job), aDrive).destroyedBy.empty());
}

// A little under its target it asks for more and more duty; once the overboost cut has come, none of that is
// left.
void PracticeTest::theControllerForgetsATrimThatOverboosted() {
    const auto study = std::make_shared<const Study>(demoJob());
    const auto controllerAt60 = [&] {
        PracticeController c(study);
        c.load(0.6);
        return c;
    };
    Sensed s;
    s.rpm = 5000;
    s.throttlePercent = 100;
    s.contentHz = 110;
    const double target = controllerAt60().step(s, 0.01).boostTargetKpa;
    s.mapKpa = target;
    const double fresh = controllerAt60().step(s, 0.01).solenoidDuty;
    PracticeController c = controllerAt60();
    s.mapKpa = target - 15;
    double wound = 0;
    for (int i = 0; i < 1000; ++i)
        wound = c.step(s, 0.01).solenoidDuty;
    QVERIFY(wound > fresh + 0.1 && wound <= 1);
    s.mapKpa = study->job().boost.cutKpa + 5;
    c.step(s, 0.01);
    const Commanded cut = c.step(s, 0.01);
    QVERIFY(cut.fuelCut && cut.pulseMs == 0 && cut.solenoidDuty == 0);
    s.mapKpa = target;
    Commanded after;
    for (int i = 0; i < 60; ++i)
        after = c.step(s, 0.01);
    QVERIFY(!after.fuelCut && std::abs(after.solenoidDuty - fresh) < 0.01);
}

// What the job says that it does when the spray stops; nothing where it says nothing.
void PracticeTest::sprayFailSafesAreTheJobs() {
    const auto lost = [](SprayFailSafe failSafe) {
        Job job = demoJob();
        job.aux.fitted = true;
        job.aux.spray = {300, 700, 700, 1, 130, 150};
        job.aux.failSafe = failSafe;
        return drive(job, plain(job), script(aDrive), {faultFrom("spray_empty", "fault")});
    };
    const Log none = lost(SprayFailSafe::none), boost = lost(SprayFailSafe::boostCut),
              retard = lost(SprayFailSafe::sparkRetard);
    const double spring = demoJob().conditions.ambientKpa + demoJob().boost.springKpa;
    QVERIFY(none.mean(&PracticeSample::mapKpa, pulling) > spring + 20);
    QVERIFY(std::abs(boost.mean(&PracticeSample::boostTargetKpa, pulling) - spring) < 1 &&
            boost.mean(&PracticeSample::mapKpa, pulling) < none.mean(&PracticeSample::mapKpa, pulling) - 15);
    QVERIFY(retard.mean(&PracticeSample::sparkDeg, pulling) <
            none.mean(&PracticeSample::sparkDeg, pulling) - 6);
}

void PracticeTest::setChangesTheCalibration() {
    const Job job = demoJob();
    const Log log =
        drive(job, plain(job),
              script(R"({"ethanol": 0.1, "steps": [{"do": "hold", "rpm": 3000, "load_kpa": 70, "seconds": 4},
        {"do": "set", "table": "spark.base", "from_x": 2500, "to_x": 3500, "from_y": 60, "to_y": 80, "change": "=11"},
        {"do": "hold", "rpm": 3000, "load_kpa": 70, "seconds": 4}]})"));
    const auto before = [](const PracticeSample &s) { return s.timeS > 2 && s.timeS < 4; };
    const auto after = [](const PracticeSample &s) { return s.timeS > 4.2; };
    QVERIFY(log.mean(&PracticeSample::sparkDeg, before) > 20 &&
            std::abs(log.mean(&PracticeSample::sparkDeg, after) - 11) < 1);
    const auto refused = [&](const char *step, const char *words) {
        EXPECT_INPUT_ERROR(
            drive(
                job, plain(job),
                script((std::string(R"({"steps": [{"do": "idle", "seconds": 1}, )") + step + "]}").c_str())),
            "step 2: ", words);
    };
    refused(R"({"do": "set"})", "one of field, table and solenoid_duty");
    refused(R"({"do": "set", "field": "no.such", "value": 1})", "a field of the job");
    refused(R"({"do": "set", "field": "boost.cut_kpa", "value": "high"})", "value");
    refused(R"({"do": "set", "field": "boost.cut_kpa", "value": -5})", "boost.cut_kpa");
    refused(R"({"do": "set", "table": "spark.nowhere", "change": "+1"})", "a table of the job");
    refused(R"({"do": "set", "table": "spark.base", "change": "quickly"})", "entry");
    refused(R"({"do": "set", "table": "spark.base", "from_x": 3010, "to_x": 3020, "change": "+1"})",
            "a range with a breakpoint");
    refused(R"({"do": "pour", "litres": 5, "fuel": "Lamp oil"})", "Pump premium");
    refused(R"({"do": "drain", "litres": 500})", "litres");
    refused(R"({"do": "pull", "from_rpm": 5000, "to_rpm": 4000})", "to_rpm");
}

void PracticeTest::documentsRoundTrip() {
    const Study study(demoJob());
    const EngineDocument drawn{drawEngine(study, 12),
                               {faultFrom("weak_pump:0.25@3>150", "f"), faultFrom("bad_fuel", "f")}};
    const std::string text = engineToJson(drawn);
    const EngineDocument read = engineFromJson(text, engineAsTheJobSays(study));
    QVERIFY(read.engine == drawn.engine && read.faults == drawn.faults);
    QVERIFY(engineToJson(read) == text);
    const EngineDocument little = engineFromJson(
        R"({"format": "wheelwright-practice-engine", "boost": {"spring_kpa": 55}})", drawn.engine);
    QVERIFY(little.engine.springKpa == 55 && little.engine.airC == drawn.engine.airC &&
            little.faults.empty());
    // Every field stands in its document, and each is read back.
    for (const HiddenField &f : hiddenFields())
        QVERIFY2(text.find('"' + std::string(f.key.substr(f.key.find('.') + 1)) + '"') != std::string::npos,
                 f.key.data());
}

void PracticeTest::badDocumentsSayWhere_data() {
    QTest::addColumn<bool>("engine");
    QTest::addColumn<QString>("text");
    QTest::addColumn<QString>("words");
    const auto row = [](const char *name, bool engine, const char *text, const char *words) {
        QTest::newRow(name) << engine << QString(text) << QString(words);
    };
    row("not json", true, "{", "JSON");
    row("no format", true, "{}", "wheelwright-practice-engine");
    row("unknown key", true, R"({"format": "wheelwright-practice-engine", "boost": {"spring": 1}})",
        "boost.spring");
    row("unknown group", true, R"({"format": "wheelwright-practice-engine", "boosts": {"spring_kpa": 1}})",
        "boosts.spring_kpa");
    row("out of range", true, R"({"format": "wheelwright-practice-engine", "boost": {"spring_kpa": -1}})",
        "boost.spring_kpa: expected 0 to 400");
    row("text", true, R"({"format": "wheelwright-practice-engine", "boost": {"spring_kpa": "a"}})",
        "a number");
    row("ve rows", true,
        R"({"format": "wheelwright-practice-engine", "ve": {"rpm": [1000, 2000], "load_kpa": [50, 100], "percent": [[80, 90]]}})",
        "ve.percent");
    row("ve numbers", true,
        R"({"format": "wheelwright-practice-engine", "ve": {"rpm": [1000, 2000], "load_kpa": [50], "percent": [[80]]}})",
        "ve.percent[0]");
    row("fault", true,
        R"({"format": "wheelwright-practice-engine", "faults": [{"fault": "bad_fuel", "strength": 99}]})",
        "faults[0]");
    row("fault key", true,
        R"({"format": "wheelwright-practice-engine", "faults": [{"fault": "bad_fuel", "when": 1}]})", "when");
    row("script list", false, "[]", "script: expected an object");
    row("no steps", false, "{}", "at least one step");
    row("no do", false, R"({"steps": [{"rpm": 3000}]})", "steps[0]: expected do");
    row("unknown step", false, R"({"steps": [{"do": "jump"}]})", "steps[0].do");
    row("needed", false, R"({"steps": [{"do": "hold", "rpm": 3000}]})", "load_kpa");
    row("step range", false, R"({"steps": [{"do": "idle"}, {"do": "hold", "rpm": 3000, "load_kpa": 5000}]})",
        "steps[1].load_kpa: expected 15 to 800");
    row("step key", false, R"({"steps": [{"do": "idle", "gear": 3}]})", "'gear'");
    row("mode", false, R"({"steps": [{"do": "pull", "mode": "flying"}]})", "inertia, loaded, road");
    row("start", false, R"({"start": "hot", "steps": [{"do": "idle"}]})", "warm, cold");
    row("content", false, R"({"ethanol": 2, "steps": [{"do": "idle"}]})", "ethanol: expected 0 to 1");
}

void PracticeTest::badDocumentsSayWhere() {
    QFETCH(bool, engine);
    QFETCH(QString, text);
    QFETCH(QString, words);
    if (engine)
        EXPECT_INPUT_ERROR(engineFromJson(text.toStdString(), HiddenEngine{}), words.toStdString());
    else
        EXPECT_INPUT_ERROR(scriptFromJson(text.toStdString()), words.toStdString());
}

void PracticeTest::csvIsReadable() {
    PracticeSample s;
    s.timeS = 1.25;
    s.rpm = 2999.6;
    s.lambda = 0.8214;
    s.sparkDeg = -0.04;
    std::string row;
    appendPracticeRow(row, s);
    const QStringList cells = QString::fromStdString(row).trimmed().split(','),
                      names = QString::fromStdString(practiceLogHeader()).trimmed().split(',');
    QCOMPARE(cells.size(), names.size());
    QCOMPARE(cells[names.indexOf("time_s")], QString("1.25"));
    QCOMPARE(cells[names.indexOf("rpm")], QString("3000"));
    QCOMPARE(cells[names.indexOf("lambda")], QString("0.821"));
    QCOMPARE(cells[names.indexOf("spark_deg")], QString("0.0")); // no zero with a sign
    QVERIFY(names.contains("pulse_ms") && names.contains("ethanol_percent") &&
            QSet<QString>(names.begin(), names.end()).size() == names.size());
    DynoRun run;
    run.mode = DynoMode::road;
    run.note = "two\nlines";
    run.rows = {{3000, 200, 62.8, 80, 0.82, 20, 60, 40, 88}};
    const QString text = QString::fromStdString(dynoRunCsv(run));
    QVERIFY(text.contains("# mode: road\n") && text.contains("# note: two lines\n") &&
            text.contains("# correction: none\n") &&
            text.endsWith("3000,200.0,62.80,80.0,0.820,20.0,60.0,40.0,88.0\n"));
}

// Foot off in the middle of a pull: it turns no faster, coasts with the throttle shut, and the next thing is
// done.
void PracticeTest::aLiftEndsAPullAndItCoasts() {
    const Job job = demoJob();
    PracticeDriver *at = nullptr;
    double fastest = 0, last = 100, lastRpm = 0;
    std::size_t coasting = 0;
    bool lifted = false;
    PracticeDriver driver(job, engineAsTheJobSays(Study(job)), {},
                          [&](const PracticeSample &s, const PracticeTruth &) {
                              fastest = std::max(fastest, s.rpm);
                              last = s.throttlePercent;
                              lastRpm = s.rpm;
                              if (lifted) ++coasting;
                              if (s.rpm > 4000 && !lifted) {
                                  lifted = true;
                                  at->lift();
                              }
                          });
    at = &driver;
    driver.fill(script(R"({"ethanol": 0.3, "steps": [{"do": "idle"}]})"));
    driver.doStep(script(R"({"steps": [{"do": "pull", "mode": "loaded", "from_rpm": 3000}]})").steps.front());
    QVERIFY(lifted);
    QVERIFY(fastest < 4200);
    QVERIFY(last < 1);
    QVERIFY(coasting >= 300 && coasting <= 302); // three seconds
    QVERIFY(lastRpm < 3300);
    driver.doStep(script(R"({"steps": [{"do": "idle", "seconds": 2}]})").steps.front());
    QVERIFY(coasting >= 500 && coasting <= 503);
    Job other = job;
    other.injectors.flowCcMin = -1;
    EXPECT_INPUT_ERROR(driver.load(other), "flow");
    QCOMPARE(driver.job().injectors.flowCcMin, job.injectors.flowCcMin); // it runs on with what it had
    other = job;
    other.boost.cutKpa += 7;
    driver.load(other);
    QCOMPARE(driver.job().boost.cutKpa, job.boost.cutKpa + 7);
}

CORE_TEST_MAIN(PracticeTest)
#include "practice_test.moc"
