// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/flow/engine_air.h"
#include "core/flow/injector.h"
#include "core/fuel/blend.h"
#include "core/study/fuel_delivery.h"
#include "support/random_job.h"
#include "support/test_main.h"

using namespace wheelwright;

/// Check values of the product's handbook, chapter 3, and the orifice law's own identities.
class FlowTest : public QObject {
    Q_OBJECT
  private slots:
    void airFlowOfTheHandbook();
    void fuelFlowAndDutyOfTheHandbook_data();
    void fuelFlowAndDutyOfTheHandbook();
    void squareRootLaw();
    void dutyOfAPulse();
    void boostTakesPressureWhereNothingFollows();
    void bothMeaningsOfTheFuelTableAgree();
};

void FlowTest::airFlowOfTheHandbook() {
    COMPARE_NEAR(airFlowGS(0.95, 220, 2.4, 45, 6500), 297.5, 0.05);
}

void FlowTest::fuelFlowAndDutyOfTheHandbook_data() {
    QTest::addColumn<double>("content");
    QTest::addColumn<double>("lambda");
    QTest::addColumn<double>("massGS");
    QTest::addColumn<double>("volumeCcMin");
    QTest::addColumn<double>("duty");
    QTest::newRow("E10 at 0.80") << 0.10 << 0.80 << 26.38 << 2112.0 << 0.422;
    QTest::newRow("E85 at 0.82") << 0.85 << 0.82 << 36.97 << 2835.0 << 0.567;
}

void FlowTest::fuelFlowAndDutyOfTheHandbook() {
    QFETCH(double, content);
    QFETCH(double, lambda);
    QFETCH(double, massGS);
    QFETCH(double, volumeCcMin);
    QFETCH(double, duty);
    const BlendProperties fuel = BlendModel().properties({VolumeFraction::fraction(content)});
    const double mass = airFlowGS(0.95, 220, 2.4, 45, 6500) / (lambda * fuel.stoichiometricAfr);
    COMPARE_NEAR(mass, massGS, 0.01);
    COMPARE_NEAR(mass / fuel.densityKgM3 * 60000, volumeCcMin, 1.0);
    // The same through the job: five injectors of 1000 cc/min, true VE tables, no dead time.
    Job job = testing::flatJob();
    job.engine.displacementL = 2.4;
    job.engine.cylinders = 5;
    job.injectors.flowCcMin = 1000;
    job.injectors.ratedPressureKpa = job.injectors.railPressureKpa = 300;
    job.injectors.deadTimeMs = 0;
    job.calibration.fuelMeaning = FuelMeaning::trueVe;
    COMPARE_NEAR(dutyAt(job, content, 45, 6500, 220, 95, lambda).duty, duty, 0.0005);
}

void FlowTest::squareRootLaw() {
    COMPARE_NEAR(injectorFlowAt(1, 43.5, 58), 1.1547, 0.00005); // handbook
    for (double p : {100.0, 300.0, 450.0})
        COMPARE_NEAR(injectorFlowAt(injectorFlowAt(440, 300, p), p, 300), 440, 1e-9); // there and back
    QCOMPARE(injectorFlowAt(440, 300, 0), 0.0);
    QCOMPARE(injectorFlowAt(440, 300, -20), 0.0);
}

void FlowTest::dutyOfAPulse() {
    COMPARE_NEAR(pulseWidthMs(1000.0 / 60, 1000, 0), 1, 1e-12); // 1000 cc/min give 16.67 mm³ each ms
    QVERIFY(std::isinf(pulseWidthMs(1, 0, 0.5)));
}

void FlowTest::boostTakesPressureWhereNothingFollows() {
    QCOMPARE(injectorDifferentialKpa(300, 220, 100, true), 300.0);
    QCOMPARE(injectorDifferentialKpa(300, 220, 100, false), 180.0);
    QCOMPARE(injectorDifferentialKpa(300, 40, 100, false), 360.0); // vacuum helps
}

// A content-referenced table that holds VE · K(E) asks for the same volume as a true VE table that holds VE.
void FlowTest::bothMeaningsOfTheFuelTableAgree() {
    Job trueVe = testing::flatJob(), referenced = testing::flatJob();
    trueVe.calibration.fuelMeaning = FuelMeaning::trueVe;
    referenced.calibration.fuelReferenceContent = 0.10;
    const BlendModel model;
    for (double e : {0.0, 0.10, 0.5, 0.85, 1.0}) {
        const double k =
            model.volumeMultiplier({VolumeFraction::fraction(e)}, {VolumeFraction::fraction(0.10)});
        COMPARE_NEAR(dutyAt(trueVe, e, 20, 5000, 150, 90, 0.85).fuelMm3,
                     dutyAt(referenced, e, 20, 5000, 150, 90 * k, 0.85).fuelMm3, 1e-9);
    }
}

CORE_TEST_MAIN(FlowTest)
#include "flow_test.moc"
