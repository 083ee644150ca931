// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/error.h"
#include "core/explain/explain_fuel.h"
#include "core/job/job_schema.h"
#include "core/job/tank_history.h"
#include "core/study/content_opinions.h"
#include "core/study/pour_request.h"
#include "support/phrases.h"
#include "support/random_job.h"
#include "support/test_main.h"

using namespace wheelwright;
using testing::said;
using enum TankEventKind;

namespace {

TankEvent did(TankEventKind kind, double litres, double ethanol = 0, double sigma = 0) {
    TankEvent e;
    e.kind = kind;
    e.litres = litres;
    e.ethanol = ethanol;
    e.contentSigma = sigma;
    return e;
}

Job jobWith(std::vector<TankEvent> events) {
    Job job = newJob("x");
    job.tankEvents = std::move(events);
    validate(job);
    return job;
}

std::string words(const Phrase &p) {
    return format(p, UnitChoice{});
}

} // namespace

/// Three opinions on one tank, hand-computed; plans with their ± against the tank arithmetic.
class ContentOpinionsTest : public QObject {
    Q_OBJECT
  private slots:
    void nobodySpeaks();
    void agreementOfTheHandbook();
    void readingsAreCarriedThroughPours();
    void believingEndsTheArgument();
    void believingKeepsTheAlcoholsApart();
    void saysWhenTheLineMayHoldTheOldFuel();
    void unknownHistoryIsWide();
    void planStepsCarryTheirUncertainty();
    void plansUseWhatTheyMay();
    void everyNumberHasItsWorking();
};

void ContentOpinionsTest::nobodySpeaks() {
    const ContentOpinions none = opinionsOf(newJob("x"));
    QVERIFY(none.all.empty() && none.agree);
    QVERIFY(words(none.verdict).find("Nobody") != std::string::npos);
    const ContentOpinions one = opinionsOf(jobWith({did(level, 30)}));
    QCOMPARE(one.all.size(), std::size_t{1});
    QVERIFY(words(one.verdict).find("Only one") != std::string::npos);
}

// Handbook chapter 2: 68 by sensor against 70 by tube is agreement; over 3 % apart asks which to believe.
void ContentOpinionsTest::agreementOfTheHandbook() {
    Job job = jobWith({did(level, 30), did(content, 0, 0.69), did(sensor, 0, 0.68), did(tube, 0, 0.70)});
    ContentOpinions o = opinionsOf(job);
    QCOMPARE(o.all.size(), std::size_t{3});
    QVERIFY(o.agree);
    COMPARE_NEAR(o.apart, 0.02, 1e-12);
    job.tankEvents[2].ethanol = 0.66;
    o = opinionsOf(job);
    QVERIFY(!o.agree);
    QVERIFY(words(o.verdict).find("the sensor and the tube are 4 % apart") != std::string::npos);
    QVERIFY(words(o.verdict).find("no more than their ± allows") != std::string::npos); // 4 % < 2 · 2.8 %
    job.tankEvents[2].ethanol = 0.60;
    QVERIFY(words(opinionsOf(job).verdict).find("One of them is wrong") != std::string::npos);
    job.limits["content.disagreement"] = 0.11;
    QVERIFY(opinionsOf(job).agree);
}

void ContentOpinionsTest::readingsAreCarriedThroughPours() {
    const Job job = jobWith({did(level, 20), did(content, 0, 0.50), did(tube, 0, 0.60, 0.02), did(burn, 4),
                             did(pour, 16, 0.10, 0.01)});
    const ContentOpinions o = opinionsOf(job);
    const Opinion *tubeSays = opinionBy(o, OpinionSource::tube),
                  *sum = opinionBy(o, OpinionSource::arithmetic);
    QVERIFY(tubeSays && sum && !opinionBy(o, OpinionSource::sensor));
    COMPARE_NEAR(tubeSays->content.value, (16 * 0.60 + 16 * 0.10) / 32, 1e-12);
    COMPARE_NEAR(sum->content.value, (16 * 0.50 + 16 * 0.10) / 32, 1e-12);
    COMPARE_NEAR(tubeSays->read.value, 0.60, 1e-12);
    QCOMPARE(tubeSays->poursSince, 1);
    COMPARE_NEAR(sum->content.value, alcoholOf(tankNow(job).content), 1e-12); // the two ways of counting
    // Half of the tube's error is left, and the gauge's enters: ∂c/∂V = (0.6 − 0.35)/32.
    const double gauge = 0.04 * job.tank.capacityL, burned = 0.1 * 4, meter = 0.005 * 16;
    const double expected =
        std::sqrt(std::pow(0.5 * 0.02, 2) + std::pow(0.25 / 32, 2) * (gauge * gauge + burned * burned) +
                  std::pow(0.25 / 32 * meter, 2) + std::pow(0.5 * 0.01, 2));
    COMPARE_NEAR(tubeSays->content.sigma, expected, 1e-12);
}

void ContentOpinionsTest::believingEndsTheArgument() {
    Job job = testing::demoJob();
    const ContentOpinions before = opinionsOf(job);
    QVERIFY(!before.agree);
    for (const Opinion &o : before.all) {
        Job believing = job;
        believing.tankEvents.push_back(adoption(job, o, "2001-02-03"));
        validate(believing);
        COMPARE_NEAR(alcoholOf(tankNow(believing).content), o.content.value, 1e-12);
        const ContentOpinions after = opinionsOf(believing);
        const Opinion *sum = opinionBy(after, OpinionSource::arithmetic);
        COMPARE_NEAR(sum->content.value, o.content.value, 1e-12);
        COMPARE_NEAR(sum->content.sigma, o.content.sigma, 1e-12);
        // The readings stay what they were.
        for (const OpinionSource s : {OpinionSource::sensor, OpinionSource::tube})
            COMPARE_NEAR(opinionBy(after, s)->content.value, opinionBy(before, s)->content.value, 1e-12);
    }
}

void ContentOpinionsTest::believingKeepsTheAlcoholsApart() {
    Job job = jobWith({did(level, 30), did(content, 0, 0.30), did(tube, 0, 0.50)});
    job.tankEvents[1].methanol = 0.10; // three parts of ethanol to one of methanol
    const TankEvent e = adoption(job, *opinionBy(opinionsOf(job), OpinionSource::tube), "");
    COMPARE_NEAR(e.ethanol, 0.375, 1e-12);
    COMPARE_NEAR(e.methanol, 0.125, 1e-12);
    Job fresh = jobWith({did(level, 30), did(tube, 0, 0.50)});
    fresh.alcohol = Alcohol::methanol;
    COMPARE_NEAR(adoption(fresh, *opinionBy(opinionsOf(fresh), OpinionSource::tube), "").methanol, 0.5,
                 1e-12);
}

void ContentOpinionsTest::saysWhenTheLineMayHoldTheOldFuel() {
    Job job = jobWith({did(level, 20), did(content, 0, 0.1), did(pour, 20, 0.8), did(sensor, 0, 0.1)});
    QVERIFY(opinionBy(opinionsOf(job), OpinionSource::sensor)->maybeUnsettled);
    QVERIFY(words(opinionsOf(job).verdict).find("old fuel") != std::string::npos);
    job.tankEvents.insert(job.tankEvents.begin() + 3, did(burn, 1));
    QVERIFY(!opinionBy(opinionsOf(job), OpinionSource::sensor)->maybeUnsettled);
}

// Any content as likely as any other: a rectangle, whose standard deviation is 1/√12.
void ContentOpinionsTest::unknownHistoryIsWide() {
    const Opinion sum = opinionsOf(jobWith({did(level, 30)})).all[0];
    COMPARE_NEAR(sum.content.sigma, 1 / std::sqrt(12.0), 1e-12);
}

void ContentOpinionsTest::planStepsCarryTheirUncertainty() {
    Job job = testing::demoJob();
    const PourRequest r = pourRequestOf(job, 0.40);
    for (const PourPlan &plan : planPour(r).plans) {
        const auto steps = stepsOf(plan, r);
        QVERIFY(!steps.empty());
        // The same history with the plan's pours added says the same.
        Job poured = job;
        for (const PourStep &s : steps) {
            TankEvent e = did(pour, s.litres, r.shelf[s.fuel].content, r.shelf[s.fuel].contentSigma);
            poured.tankEvents.push_back(e);
        }
        const Uncertain expected = uncertainTankNow(poured).content();
        COMPARE_NEAR(steps.back().content.value, expected.value, 1e-9);
        COMPARE_NEAR(steps.back().content.sigma, expected.sigma, 1e-9);
        COMPARE_NEAR(steps.back().content.value, plan.content, 1e-9);
        COMPARE_NEAR(steps.back().volumeL, plan.volumeL, 1e-9);
    }
    job.tankEvents = {did(level, 4), did(content, 0, 0.3)};
    const PourRequest low = pourRequestOf(job, 0.31);
    const PourAnswer answer = planPour(low);
    QVERIFY(words(pickupWarning(*planOf(answer, PourStrategy::leastAdded), low)).find("Still under") == 0);
    QVERIFY(words(pickupWarning(*planOf(answer, PourStrategy::fullest), low)).find("Until") == 0);
    QVERIFY(pickupWarning(*planOf(planPour(r), PourStrategy::fullest), r).text.empty());
}

void ContentOpinionsTest::plansUseWhatTheyMay() {
    Job job = testing::demoJob();
    for (const ShelfFuel &f : pourRequestOf(job, 0.4).shelf)
        QVERIFY(f.name != "Methanol" && f.name != "Octane booster" && f.name != "Race gasoline");
    const auto with = pourRequestOf(job, 0.4, std::nullopt, "2099-01-01").shelf;
    const auto sealed = std::ranges::find(with, "Sealed ethanol", &ShelfFuel::name);
    QCOMPARE(sealed->cautions.size(), std::size_t{1}); // a lot of it was opened long before
    QVERIFY(format(sealed->cautions[0], {}).starts_with(sealed->name + ": The lot '")); // whose it is
    for (ShelfEntry &s : job.shelf)
        s.inPlans = false;
    EXPECT_INPUT_ERROR(pourRequestOf(job, 0.4), "fuel.shelf", "plans");
}

void ContentOpinionsTest::everyNumberHasItsWorking() {
    const Job job = testing::demoJob();
    const ContentOpinions o = opinionsOf(job);
    const PourRequest r = pourRequestOf(job, 0.4);
    const PourAnswer answer = planPour(r);
    std::vector<Explanation> all{explainTankLevel(job), explainTube({50, 100, 80}), explainSensor(100, 2),
                                 explainLambda(0.85, 14.7, "gasoline")};
    for (const Opinion &x : o.all) {
        all.push_back(explainOpinion(job, x));
        COMPARE_NEAR(all.back().result.value, x.content.value, 1e-12);
    }
    for (const PourPlan &p : answer.plans)
        all.push_back(explainPlan(p, r));
    const FlushPlan flush = planFlush(30, 0.26, 0.1, 8, 61, 0.1, 0.02);
    all.push_back(explainFlush(flush, tankNow(job), 0.1, 8, 61, 0.1, 0.02));
    for (const bool atInjector : {false, true})
        all.push_back(explainSettling(fuelPathOf(job, true), 0.2, 0.6, atInjector));
    all.push_back(explainEffect(effectOfPour(Study(job), tankNow(job), 5, {})));
    for (const ComparedFuel &f : compareFuels(Study(job), "", nullptr))
        for (const FuelColumn &c : allFuelColumns())
            if (c.of(f)) all.push_back(explainComparison(f, c, "E26"));
    QVERIFY(all.size() > 60);
    for (const Explanation &x : all) {
        QVERIFY2(!x.title.empty() && !x.formula.empty() && !x.source.empty() && !x.inputs.empty(),
                 said(x.title).c_str());
        for (const Phrase &p : {x.substituted, x.uncertainty, x.change}) {
            QVERIFY2(!p.text.empty(), said(x.title).c_str());
            QVERIFY2(words(p).find('{') == std::string::npos, words(p).c_str());
        }
        QVERIFY(std::isfinite(x.result.value));
        for (const ExplanationInput &i : x.inputs) {
            const bool known = i.link.empty() || fieldByPath(i.link) || recordListByPath(i.link) ||
                               i.link.starts_with("calibration.");
            QVERIFY2(known, i.link.c_str());
        }
    }
}

CORE_TEST_MAIN(ContentOpinionsTest)
#include "content_opinions_test.moc"
