// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/symmetric_band.h"
#include "core/explain/explain_cell.h"
#include "core/study/cell_trust.h"
#include "core/study/engine_map.h"
#include "core/study/load_axis.h"
#include "core/study/pour_effect.h"
#include "support/phrases.h"
#include "support/random_job.h"
#include "support/test_main.h"

#include <gsl/gsl_linalg.h>

#include <random>
#include <thread>

using namespace wheelwright;
using testing::demoJob;
using testing::said;
using testing::says;
using enum CalibratedQuantity;

namespace {

// No boost anywhere: full throttle reaches the air around and no more.
Job atmospheric() {
    Job job = demoJob();
    for (Table2D *t : tablesOf(job, boost))
        *t = Table2D::uniform(t->x(), t->y(), 60);
    job.conditions.ambientKpa = 101;
    job.limits["boost.overshoot"] = 14;
    return job;
}

} // namespace

/// What follows from one version of a job: each truth once, and the same for whoever asks.
class StudyTest : public QObject {
    Q_OBJECT
  private slots:
    void reachIsTheHighestBlendOfAllRows();
    void everyoneSeesTheSameReach();
    void aPourReachesTheAirAround();
    void originsStandInTheWorking_data();
    void originsStandInTheWorking();
    void betweenBreakpointsTheNeighboursMustAgree();
    void partsAreMadeOnce();
    void bandsAreSolvedAsByLu();
};

// By hand: two tables whose highest rows are not the same, half and half. Blending what each reaches at most
// would say 200; no throttle gives that.
void StudyTest::reachIsTheHighestBlendOfAllRows() {
    Job job = demoJob();
    job.limits["boost.overshoot"] = 10;
    job.engine.revLimitRpm = 5000;
    const Axis rpm({2000, 6000}), rows({1, 2});
    job.calibration.boostAxis = BoostAxis::gear;
    job.calibration.of(boost).base = Table2D(rpm, rows, {200, 200, 150, 150});
    job.calibration.of(boost).top = Table2D(rpm, rows, {120, 120, 200, 200});
    BlendEnds ends{&job.calibration.of(boost).base, &job.calibration.of(boost).top, 0, 1, 0.5};
    const std::vector<double> at{1000, 4000, 5001, 5000};
    const auto reach = Reach(job, at).at(ends);
    for (const ReachAtSpeed &r : reach) {
        COMPARE_NEAR(r.targetKpa, 175, 1e-12); // (150 + 200) / 2, the second row
        COMPARE_NEAR(r.highestKpa, 185, 1e-12);
    }
    QVERIFY(reach[1].reaches(185) && !reach[1].reaches(185.1));
    QVERIFY(!reach[2].runs && !reach[2].reaches(20)); // over the rev limit
    QVERIFY(reach[3].runs);                           // at it
    ends.weight = 0;                                  // the first row alone
    COMPARE_NEAR(Reach(job, at).at(ends)[0].targetKpa, 200, 1e-12);
    ends.weight = 1.25; // extrapolated: the first row falls, the second rises
    COMPARE_NEAR(Reach(job, at).at(ends)[0].targetKpa, -0.25 * 150 + 1.25 * 200, 1e-12);
}

// The verdict's grid, the maps of the flow and the trust of cells say the same of the same place.
void StudyTest::everyoneSeesTheSameReach() {
    for (const Job &job : {demoJob(), atmospheric()}) {
        const Study study(job);
        const Evaluation &e = study.evaluation();
        for (const double content : {0.10, 0.47, 0.85}) {
            const auto slice = std::ranges::min_element(
                e.slices(), {}, [&](const ContentSlice &s) { return std::abs(s.content - content); });
            const EngineMap map = dutyMap(study, slice->content);
            const Provenance trust(study, spark, slice->content, TableEnd::blended);
            for (std::size_t x = 0; x < e.rpmBreakpoints().size(); ++x)
                for (std::size_t y = 0; y < e.loadBreakpoints().size(); ++y) {
                    const bool judged = e.loadBreakpoints()[y] < slice->reachable[e.rpmBreakpoints()[x]];
                    QCOMPARE(bool(map.reached[x * map.loadKpa.size() + y]), judged);
                    QCOMPARE(trust.trust({x, y}) != CellTrust::never, judged);
                }
        }
    }
}

// An engine without boost is loaded to the air around: the worst place of a pour lies there.
void StudyTest::aPourReachesTheAirAround() {
    const Job job = atmospheric();
    const PourEffect e =
        effectOfPour(Study(job), {30, {VolumeFraction::fraction(0.85)}}, 25, {VolumeFraction::fraction(0)});
    QVERIFY2(e.loadKpa >= 100 && e.loadKpa <= 101, qPrintable(QString::number(e.loadKpa)));
    QVERIFY(e.rpm > 0);
}

void StudyTest::originsStandInTheWorking_data() {
    QTest::addColumn<int>("origin");
    for (const CellOriginDefinition &d : allCellOrigins())
        QTest::newRow(std::string(d.id).c_str()) << static_cast<int>(d.origin);
}

void StudyTest::originsStandInTheWorking() {
    QFETCH(int, origin);
    const auto recorded = static_cast<CellOrigin>(origin);
    const std::string title(definitionOf(recorded).title.text);
    const CellIndex cell{6, 8};
    Job job = demoJob();
    job.calibration.of(spark).top.setOrigin(cell, recorded);
    const Study study(job);
    const Explanation top = explainTableCell(study, spark, true, 0.5, cell);
    QCOMPARE(said(top.source), "Origin: " + title);
    const bool proven = recorded == CellOrigin::log;
    QCOMPARE(says(top.uncertainty, "made this number"), proven);
    QCOMPARE(says(top.uncertainty, "nothing proves"), !proven);
    // Of what the engine gets both ends must be of logs; the base is not.
    const Explanation now = explainBlendedCell(study, spark, 0.5, cell);
    QVERIFY(says(now.inputs[2].title, title));
    QVERIFY(says(now.uncertainty, "nothing proves"));
    job.calibration.of(spark).base.setOrigin(cell, CellOrigin::log);
    const Study both(job);
    QCOMPARE(says(explainBlendedCell(both, spark, 0.5, cell).uncertainty, "made this number"), proven);
    // Where the engine cannot go nothing is proven, whatever is recorded.
    const CellIndex beyond{study.job().calibration.of(spark).top.x().size() - 1, 23};
    job.calibration.of(spark).top.setOrigin(beyond, CellOrigin::log);
    job.engine.revLimitRpm = 6000;
    QVERIFY(explainTableCell(Study(job), spark, true, 0.5, beyond)
                .uncertainty.text.starts_with("The engine does not get here"));
}

// A top table of other breakpoints: a number between four cells is of a log when one corrected all four.
void StudyTest::betweenBreakpointsTheNeighboursMustAgree() {
    Job job = demoJob();
    Table2D &base = job.calibration.of(spark).base;
    const CellIndex at{6, 8};
    base.setOrigin(at, CellOrigin::log);
    const double rpm = base.x()[at.x], load = base.y()[at.y];
    Table2D top(Axis({rpm - 100, rpm + 100}), Axis({load - 5, load + 5}), {30, 30, 30, 30});
    for (int corrected = 0; corrected <= 4; ++corrected) {
        if (corrected > 0)
            top.setOrigin({static_cast<std::size_t>((corrected - 1) % 2),
                           static_cast<std::size_t>((corrected - 1) / 2)},
                          CellOrigin::log);
        job.calibration.of(spark).top = top;
        const Study study(job);
        const Provenance from(study, spark, 0.5, TableEnd::blended);
        QCOMPARE(from.trust(at) == CellTrust::seen, corrected == 4);
        QCOMPARE(from.originAt(at, true), corrected == 0   ? CellOrigin::unknown
                                          : corrected == 4 ? CellOrigin::log
                                                           : CellOrigin::interpolated);
    }
}

// Whoever asks first, also from two threads at once.
void StudyTest::partsAreMadeOnce() {
    const Study study(changeLoadAxis(demoJob(), LoadAxis::airMass));
    const Evaluation *seen[2] = {};
    std::thread other([&] { seen[0] = &study.evaluation(); });
    seen[1] = &study.evaluation();
    other.join();
    QVERIFY(seen[0] && seen[0] == seen[1]);
    QVERIFY(&study.inPressure() != &study);
    QVERIFY(&study.inPressure() == &study.inPressure().inPressure());
    QVERIFY(study.inPressure().job().calibration.loadAxis == LoadAxis::manifoldPressure);
}

// Random systems against GSL's LU; and A x = b by multiplication.
void StudyTest::bandsAreSolvedAsByLu() {
    std::mt19937 random(7);
    std::uniform_real_distribution<> number(-1, 1);
    for (const auto &[size, band] : {std::pair<std::size_t, std::size_t>{1, 0}, {2, 1}, {9, 3}, {40, 11}}) {
        SymmetricBand system(size, band);
        gsl_matrix *a = gsl_matrix_calloc(size, size);
        gsl_vector *b = gsl_vector_calloc(size), *x = gsl_vector_calloc(size);
        std::vector<double> right;
        for (std::size_t i = 0; i < size; ++i) {
            for (std::size_t j = i > band ? i - band : 0; j < i; ++j) {
                const double v = system.at(i, j) = number(random);
                gsl_matrix_set(a, i, j, v);
                gsl_matrix_set(a, j, i, v);
            }
            const double diagonal = system.at(i, i) = 2.5 * static_cast<double>(band) + 1;
            gsl_matrix_set(a, i, i, diagonal);
            right.push_back(number(random));
            gsl_vector_set(b, i, right.back());
        }
        const gsl_matrix *whole = a;
        const std::vector<double> solved = std::move(system).solve(right);
        for (std::size_t i = 0; i < size; ++i) {
            double product = 0;
            for (std::size_t j = 0; j < size; ++j)
                product += gsl_matrix_get(whole, i, j) * solved[j];
            COMPARE_NEAR(product, right[i], 1e-12);
        }
        gsl_permutation *p = gsl_permutation_alloc(size);
        int sign = 0;
        gsl_linalg_LU_decomp(a, p, &sign);
        gsl_linalg_LU_solve(a, p, b, x);
        for (std::size_t i = 0; i < size; ++i)
            COMPARE_NEAR(solved[i], gsl_vector_get(x, i), 1e-12);
        gsl_permutation_free(p);
        gsl_matrix_free(a);
        gsl_vector_free(b);
        gsl_vector_free(x);
    }
}

CORE_TEST_MAIN(StudyTest)
#include "study_test.moc"
