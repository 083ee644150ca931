// SPDX-License-Identifier: GPL-3.0-or-later
// What the samples of a pull say to gates, from logs made by hand whose numbers are known.
#include "core/base/limits.h"
#include "core/ladder/ladder_facts.h"
#include "core/report/log_reports.h"
#include "core/study/fuel_delivery.h"
#include "formats/job_json.h"
#include "support/recorded_log.h"
#include "support/test_main.h"

#include <QFile>

#include <cmath>
#include <set>

using namespace wheelwright;
using namespace wheelwright::testing;

namespace {

using R = ChannelRole;
constexpr double ambient = 100, target = 190;

Job demoJob() {
    QFile f(QStringLiteral(DEMO_JOB));
    if (!f.open(QIODevice::ReadOnly)) qFatal("no demo job");
    Job job = jobFromJson(f.readAll().toStdString());
    job.conditions.ambientKpa = ambient;
    job.engine.revLimitRpm = 7000;
    return job;
}

/// Cruise for half a minute, then a pull of ten seconds from 2500 rpm on, which has its boost a second later.
struct Shape {
    double cruiseLambda = 1.01; ///< its target is 1
    double content = 0.30, contentInPull = 0;
    double lambdaAt4k = 0;  ///< off there, 4000 to 4500 rpm
    double lambdaFirst = 0; ///< off in the first 0.7 s at load
    double knockAt = 0;     ///< retard from 5000 rpm on, for a quarter of a second
    double toRpm = 6900;
    double cutAtS = 0;   ///< fuel is cut for 0.2 s, so long after the throttle opened
    double rail = 400;   ///< gauge, at load
    double oilKpa = 500; ///< gauge
    double coolantC = 90, intakeRise = 15, pulseMs = 9;
    double cruiseKpa = 60;
};

Recorded logOf(const Shape &s) {
    Recorded r;
    constexpr double step = 0.02, light = 30, pullS = 10;
    double t = 0;
    for (; t < light; t += step)
        r.add(t, {{R::rpm, 2500},
                  {R::map, s.cruiseKpa},
                  {R::throttle, 0.2},
                  {R::lambda, s.cruiseLambda},
                  {R::lambdaTarget, 1},
                  {R::spark, 28},
                  {R::knockRetard, 0},
                  {R::ethanol, s.content},
                  {R::coolantTemp, 88},
                  {R::intakeTemp, 30},
                  {R::pulseWidth, 2.5},
                  {R::railPressure, 300 + ambient},
                  {R::oilPressure, s.oilKpa + ambient},
                  {R::boostTarget, ambient},
                  {R::solenoidDuty, 0}});
    const double begun = t;
    for (; t < begun + pullS; t += step) {
        const double at = t - begun, rpm = 2500 + (s.toRpm - 2500) * at / pullS;
        const double map = s.cruiseKpa + (target - s.cruiseKpa) * std::min(1.0, at);
        const bool cut = s.cutAtS > 0 && at >= s.cutAtS && at < s.cutAtS + 0.2;
        double lambda = 0.80 + (rpm >= 4000 && rpm < 4500 ? s.lambdaAt4k : 0);
        if (at < 1.2) lambda += s.lambdaFirst;
        if (s.cutAtS > 0 && at >= s.cutAtS && at < s.cutAtS + 0.7)
            lambda = 1.4; // what the sensor reads of a cut
        const bool knocks = s.knockAt > 0 && rpm >= 5000 && rpm < 5110;
        r.add(t, {{R::rpm, rpm},
                  {R::map, map},
                  {R::throttle, 1},
                  {R::lambda, lambda},
                  {R::lambdaTarget, 0.80},
                  {R::spark, 12},
                  {R::knockRetard, knocks ? s.knockAt : 0},
                  {R::ethanol, s.content + s.contentInPull * at / pullS},
                  {R::coolantTemp, s.coolantC},
                  {R::intakeTemp, 30 + s.intakeRise * at / pullS},
                  {R::pulseWidth, cut ? 0 : s.pulseMs},
                  {R::railPressure, s.rail + ambient},
                  {R::oilPressure, s.oilKpa + ambient},
                  {R::boostTarget, target},
                  {R::solenoidDuty, 0.35}});
    }
    for (double end = t + 5; t < end; t += step)
        r.add(t, {{R::rpm, 2500},
                  {R::map, 40},
                  {R::throttle, 0.02},
                  {R::lambda, 1},
                  {R::lambdaTarget, 1},
                  {R::spark, 28},
                  {R::knockRetard, 0},
                  {R::ethanol, s.content},
                  {R::coolantTemp, 88},
                  {R::intakeTemp, 32},
                  {R::pulseWidth, 2},
                  {R::railPressure, 300 + ambient},
                  {R::oilPressure, s.oilKpa + ambient},
                  {R::boostTarget, ambient},
                  {R::solenoidDuty, 0}});
    return r;
}

LadderFacts factsOf(const Shape &s, Job job = demoJob()) {
    const Recorded r = logOf(s);
    job = r.in(job);
    const std::vector<std::shared_ptr<const LogReview>> logs{r.review(job)};
    return ladderFacts(Study(job), logs);
}
PullFacts pullOf(const Shape &s, const Job &job = demoJob()) {
    const LadderFacts f = factsOf(s, job);
    return f.pulls.size() == 1 ? f.pulls[0] : PullFacts();
}

} // namespace

class PullFactsTest : public QObject {
    Q_OBJECT
  private slots:
    void aQuietPullSaysItsNumbers();
    void lambdaIsOfTheWorstWindow();
    void whatComesLateIsLeftOut();
    void shortPullsAreNotFull();
    void aCutIsSeen();
    void contentThatMoves();
    void theWorstOfEachIsKept();
    void silenceInAPullIsKept();
    void dutyIsHeldAgainstTheModel();
    void lightLoadIsWithoutBoost();
    void theWayDownIsTheLogAfterTheTop();
};

void PullFactsTest::aQuietPullSaysItsNumbers() {
    const PullFacts p = pullOf({});
    QCOMPARE(p.log, std::string("aa"));
    QCOMPARE(p.logName, std::string("aa.csv"));
    QCOMPARE(p.added, std::string("2026-05-10T12:00:00Z"));
    QVERIFY(p.current && p.tablesKnown && p.full && p.contentByChannel && p.contentUsable);
    COMPARE_NEAR(p.beginS, 30, 0.5);
    COMPARE_NEAR(p.endS, 40, 0.5);
    COMPARE_NEAR(p.content, 0.30, 1e-6);
    COMPARE_NEAR(p.contentMoved, 0, 1e-6);
    COMPARE_NEAR(p.heldKpa, target, 0.1);
    COMPARE_NEAR(p.targetKpa, target, 1e-9);
    COMPARE_NEAR(p.aimedKpa, target, 1e-9);
    COMPARE_NEAR(p.peakKpa, target, 1e-9);
    COMPARE_NEAR(p.solenoidDuty, 0.35, 1e-9);
    COMPARE_NEAR(p.lambdaError, 0, 1e-9);
    COMPARE_NEAR(p.knockDeg, 0, 1e-9);
    COMPARE_NEAR(p.coolantMost, 90, 1e-9);
    COMPARE_NEAR(p.intakeRise, 15, 0.3);
    COMPARE_NEAR(p.sparkDeg, 12, 1e-9);
    QVERIFY(std::isnan(p.cutAtKpa) && std::isnan(p.powerKw));
    // Oil: 500 kPa against 69 for each 1000 rpm, nearest at the top.
    COMPARE_NEAR(p.oilOverKpa, 500 - 69 * 6.9, 1);
}

void PullFactsTest::lambdaIsOfTheWorstWindow() {
    const PullFacts lean = pullOf({.lambdaAt4k = 0.03}), rich = pullOf({.lambdaAt4k = -0.05});
    COMPARE_NEAR(lean.lambdaError, 0.03, 1e-6);
    COMPARE_NEAR(lean.lambdaErrorRpm, 4250, 1e-9);
    COMPARE_NEAR(rich.lambdaError, -0.05, 1e-6);
    // Over all of it: a window of 500 rpm out of what is at load.
    QVERIFY(lean.lambdaMean > 0.002 && lean.lambdaMean < 0.005);
    QVERIFY(std::isnan(pullOf({.cruiseLambda = 1}).lambdaError) == false);
}

void PullFactsTest::whatComesLateIsLeftOut() {
    // At load from 0.71 s on (four fifths of 190 kPa is 152): what is read until 0.8 s later belongs to
    // before.
    COMPARE_NEAR(pullOf({.lambdaFirst = 0.15}).lambdaError, 0, 1e-6);
    // And so after a cut.
    COMPARE_NEAR(pullOf({.cutAtS = 5}).lambdaError, 0, 1e-6);
}

void PullFactsTest::shortPullsAreNotFull() {
    QVERIFY(!pullOf({.toRpm = 5000}).full);
    QVERIFY(pullOf({.toRpm = 6400}).full);
    Job late = demoJob();
    late.engine.revLimitRpm = 5400; // 45 % of it is less than 2500 rpm
    QVERIFY(!pullOf({.toRpm = 5300}, late).full);
}

void PullFactsTest::aCutIsSeen() {
    const PullFacts p = pullOf({.cutAtS = 5});
    COMPARE_NEAR(p.cutAtKpa, target, 1e-6);
    // At the rev limit it is no overboost cut.
    Job job = demoJob();
    job.engine.revLimitRpm = 4700;
    QVERIFY(std::isnan(pullOf({.cutAtS = 5}, job).cutAtKpa));
}

void PullFactsTest::contentThatMoves() {
    const PullFacts p = pullOf({.contentInPull = 0.05});
    COMPARE_NEAR(p.contentMoved, 0.05, 0.003); // means of half a second
    QVERIFY(!p.contentUsable);
    COMPARE_NEAR(p.content, 0.325, 0.002);
}

void PullFactsTest::theWorstOfEachIsKept() {
    const PullFacts p =
        pullOf({.knockAt = 2.5, .rail = 330, .oilKpa = 300, .coolantC = 108, .intakeRise = 26});
    COMPARE_NEAR(p.knockDeg, 2.5, 1e-9);
    QVERIFY(p.knockRpm >= 5000 && p.knockRpm < 5110);
    COMPARE_NEAR(p.coolantMost, 108, 1e-9);
    COMPARE_NEAR(p.intakeRise, 26, 0.4);
    QVERIFY(p.oilOverKpa < 0);
    QVERIFY(p.railLeast < 0.9 * pullOf({}).railLeast + 0.1);
    const auto found = [&](std::string_view rule) {
        return std::ranges::any_of(p.found, [&](const PullFacts::Found &f) { return f.rule->id == rule; });
    };
    QVERIFY(found("knock") && found("oil") && found("coolant") && found("intake_rise"));
    QVERIFY(pullOf({}).found.empty() || std::ranges::none_of(pullOf({}).found, [](const PullFacts::Found &f) {
                return f.rule->id == "knock" || f.rule->id == "oil";
            }));
}

// Share of the cycle: pulse · rpm / 120 000, highest at the end of the pull.
// What a channel said before it fell silent stands for a quarter of a second (twelve of its pauses); where it
// says nothing for 0.3 s after that, the pull was not heard all through.
void PullFactsTest::silenceInAPullIsKept() {
    QVERIFY(pullOf({}).silent.empty() && !pullOf({}).silentOn(R::lambda));
    const std::size_t usual = pullOf({}).notAsked.size();
    struct Case {
        R logged, judged;
        std::vector<std::string_view> rules;
    };
    const std::vector<Case> cases{
        {R::lambda, R::lambda, {"lean"}},
        {R::knockRetard, R::knockRetard, {"knock"}},
        {R::pulseWidth, R::duty, {"duty", "rev_limit_early"}},
        {R::railPressure, R::railPressure, {"rail_sag"}},
        {R::oilPressure, R::oilPressure, {"oil"}},
        {R::coolantTemp, R::coolantTemp, {"coolant"}},
        {R::intakeTemp, R::intakeTemp, {"intake_rise"}},
        {R::ethanol, R::ethanol, {"spark_off", "content_jump", "content_moved", "target_off"}}};
    for (const Case &c : cases)
        for (const auto &[lengthS, heard] : {std::pair(0.5, true), {0.62, false}, {5.0, false}}) {
            Recorded r = logOf({});
            for (std::size_t i = 0; i < r.timeS.size(); ++i)
                if (r.timeS[i] > 37 && r.timeS[i] < 37 + lengthS) r.of[c.logged][i] = std::nan("");
            const Job job = r.in(demoJob());
            const std::vector<std::shared_ptr<const LogReview>> logs{r.review(job)};
            const LadderFacts facts = ladderFacts(Study(job), logs);
            const std::string what = std::string(definitionOf(c.logged).key) + " " + std::to_string(lengthS);
            QVERIFY2(facts.pulls.size() == 1, what.c_str());
            const PullFacts &p = facts.pulls[0];
            QVERIFY2(p.silent == (heard ? std::vector<R>{} : std::vector{c.judged}), what.c_str());
            std::set<std::string_view> rules;
            for (std::size_t i = usual; i < p.notAsked.size(); ++i)
                rules.insert(p.notAsked[i]->id);
            const std::set<std::string_view> expected(c.rules.begin(), c.rules.end());
            std::string said = what;
            for (const std::string_view rule : rules)
                said += " " + std::string(rule);
            QVERIFY2(rules == (heard ? std::set<std::string_view>{} : expected), said.c_str());
            // Whoever reads what was found reads this beside it.
            const std::string page = plainText(findingsReport(*logs[0]), {});
            const std::string sentence =
                "Not asked all through the pull at 30.0 s, since “" +
                format(Phrase(definitionOf(c.judged).title)) +
                "” is silent for a part of it: " + format(Phrase(watchRuleById(c.rules[0])->title));
            QVERIFY2((page.find(sentence) != std::string::npos) == !heard, page.c_str());
            if (!heard) QVERIFY(page.find(sentence) < page.find("limit ")); // before what was found
            QVERIFY(logs[0]->findings().silent.size() == (heard ? 0 : c.rules.size()));
            QVERIFY(!logs[0]->findings().allAsked());
        }
    // Content that is stated is nobody's reading.
    Recorded r = logOf({});
    for (std::size_t i = 0; i < r.timeS.size(); ++i)
        if (r.timeS[i] > 37) r.of[R::ethanol][i] = std::nan("");
    Job job = r.in(demoJob());
    job.logs.back().contentBasis = ContentBasis::stated;
    job.logs.back().content = 0.3;
    const std::vector<std::shared_ptr<const LogReview>> logs{r.review(job)};
    QVERIFY(ladderFacts(Study(job), logs).pulls.at(0).silent.empty());
}

void PullFactsTest::dutyIsHeldAgainstTheModel() {
    const Job job = demoJob();
    const PullFacts p = pullOf({.pulseMs = 9}, job);
    COMPARE_NEAR(p.dutyMost, 9 * p.dutyRpm / 120'000, 1e-9);
    COMPARE_NEAR(p.dutyRpm, 6900, 30);
    COMPARE_NEAR(p.dutyLoadKpa, target, 1e-9);
    const Study study(job);
    const DutyModel model(study.inPressure().job(), p.content, 45); // what the air has warmed to
    const auto of = [&](CalibratedQuantity q) {
        return study.inPressure().blended(q, p.content).lookup(p.dutyRpm, target).value;
    };
    const double modelled =
        model.at(p.dutyRpm, target, of(CalibratedQuantity::fuel), of(CalibratedQuantity::lambda)).duty;
    COMPARE_NEAR(tablesDuty(study, p.content, p.fullest) / modelled, 1, 0.002);
    QCOMPARE(p.fullest.duty, p.dutyMost);
    QCOMPARE(p.fullest.rpm, p.dutyRpm);
    QCOMPARE(p.fullest.loadKpa, p.dutyLoadKpa);
    COMPARE_NEAR(p.fullest.intakeC, 45, 0.2);
}

void PullFactsTest::lightLoadIsWithoutBoost() {
    const LadderFacts f = factsOf({.cruiseLambda = 1.04});
    QCOMPARE(f.lights.size(), std::size_t(1));
    COMPARE_NEAR(f.lights[0].lambdaError, 0.04, 1e-6);
    QVERIFY(f.lights[0].lambdaS > 20 && f.lights[0].lambdaS < 31);
    COMPARE_NEAR(f.lights[0].content, 0.30, 1e-6);
    QVERIFY(f.lights[0].current && f.lights[0].contentMoved < 1e-6);
    QVERIFY(factsOf({.cruiseKpa = 110}).lights.empty()); // held with boost
    // What λ says of two seconds it does not say of half a minute.
    Recorded r = logOf({.cruiseLambda = 1.04});
    for (std::size_t i = 0; i < r.timeS.size(); ++i)
        if (r.timeS[i] < 10 || r.timeS[i] > 12) r.of[R::lambda][i] = std::nan("");
    const Job job = r.in(demoJob());
    const std::vector<std::shared_ptr<const LogReview>> logs{r.review(job)};
    const LadderFacts deaf = ladderFacts(Study(job), logs);
    QCOMPARE(deaf.lights.size(), std::size_t(1));
    COMPARE_NEAR(deaf.lights[0].lambdaS, 2.24, 0.03); // a sample stands for 0.24 s more
    COMPARE_NEAR(deaf.lights[0].lambdaError, 0.04, 1e-6);
    COMPARE_NEAR(deaf.lights[0].beginS, f.lights[0].beginS, 1e-9);
}

void PullFactsTest::theWayDownIsTheLogAfterTheTop() {
    Job job = demoJob();
    const Recorded low = logOf({.content = 0.10}), top = logOf({.content = 0.80});
    const auto factsIn = [&](const Recorded &first, const Recorded &second) {
        Job with = second.in(first.in(job, "aa"), "bb");
        const std::vector<std::shared_ptr<const LogReview>> logs{first.review(with, "aa"),
                                                                 second.review(with, "bb")};
        return ladderFacts(Study(with), logs);
    };
    const LadderFacts up = factsIn(low, top);
    QVERIFY(!up.wayDown && !up.wayDownTrouble.empty()); // nothing came after the top
    const LadderFacts down = factsIn(top, low);
    QVERIFY(down.wayDown);
    // Up again: what came down before says nothing of it.
    const Recorded higher = logOf({.content = 0.85});
    Job with = higher.in(low.in(top.in(job, "aa"), "bb"), "cc");
    const std::vector<std::shared_ptr<const LogReview>> logs{top.review(with, "aa"), low.review(with, "bb"),
                                                             higher.review(with, "cc")};
    QVERIFY(!ladderFacts(Study(with), logs).wayDown);
    QCOMPARE(down.wayDown->fromContent < 0.2 ? down.wayDown->fromLog : down.wayDown->toLog,
             std::string("bb"));
}

CORE_TEST_MAIN(PullFactsTest)
#include "pull_facts_test.moc"
