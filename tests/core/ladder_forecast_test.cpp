// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/limits.h"
#include "core/ladder/ladder_forecast.h"
#include "core/ladder/rung_demand.h"
#include "core/report/forecast_reports.h"
#include "core/study/headroom.h"
#include "formats/job_json.h"
#include "support/phrases.h"
#include "support/test_main.h"

#include <QFile>

#include <algorithm>
#include <cmath>

using namespace wheelwright;
using testing::said;
using testing::says;

namespace {

Job forecastJob() {
    QFile f(QStringLiteral(DEMO_JOB));
    if (!f.open(QIODevice::ReadOnly)) qFatal("no demo job");
    Job job = jobFromJson(f.readAll().toStdString());
    job.engine.boostLimitKpa = Curve::constant(300);
    job.engine.mapSensorMaxKpa = 400;
    job.boost.points.clear();
    job.boost.springKpa = 60;
    job.conditions.ambientKpa = 100;
    job.ladder.baseBoostKpa = 180;
    job.ladder.topBoostKpa = 210;
    return job;
}

/// Full pulls of an engine that needs `fuelOver` more fuel than the tables give, which at its place holds
/// `heldOver` over its target.
struct Powertrain {
    double fuelOver = 0, fuelPerContent = 0, heldOver = 0, solenoidPerKpa = 0.006;

    PullFacts pull(const Study &study, double content, double boostKpa, const std::string &log) const {
        PullFacts p;
        p.log = log;
        p.content = content;
        p.contentUsable = p.full = p.current = p.tablesKnown = true;
        p.aimedKpa = p.targetKpa = boostKpa;
        p.heldKpa = boostKpa + heldOver;
        p.solenoidDuty = solenoidPerKpa * (boostKpa + heldOver - 160);
        p.fullest = {6600, boostKpa + heldOver, 48};
        p.fullest.lambda =
            study.blended(CalibratedQuantity::lambda, content).lookup(6600, p.fullest.loadKpa).value;
        const double over = fuelOver + fuelPerContent * (content - study.job().calibration.baseContent);
        p.fullest.duty = tablesDuty(study, content, p.fullest) * std::exp(over);
        p.dutyMost = p.fullest.duty;
        return p;
    }
};

LadderFacts factsOf(const Study &study, const Powertrain &engine, const std::vector<double> &contents,
                    double boostKpa = 180) {
    LadderFacts f;
    for (const double c : contents)
        f.pulls.push_back(engine.pull(study, c, boostKpa, std::to_string(f.pulls.size())));
    return f;
}

std::vector<const PullFacts *> all(const LadderFacts &f) {
    std::vector<const PullFacts *> out;
    for (const PullFacts &p : f.pulls)
        out.push_back(&p);
    return out;
}

} // namespace

class LadderForecastTest : public QObject {
    Q_OBJECT
  private slots:
    void withoutPullsItIsTheTables();
    void followsWhatWasFound();
    void lambdaAndDutySayTheSame();
    void pullsOfOneRungAreOnePiece();
    void weakPullsSayNothing();
    void restingSolenoidSaysLittle();
    void solenoidGoesOverTheSpring();
    void powerGoesWithTheAir();
    void crossingIsWhereDutyIs();
    void crossingIsFoundWithoutBoost();
    void crossingIsSaid();
    void reportsCarryTheNumbers();
};

void LadderForecastTest::withoutPullsItIsTheTables() {
    const Job job = forecastJob();
    const Study study(job);
    const Ladder ladder = planLadder(study);
    const LadderForecast f = forecastLadder(study, ladder, {});
    QCOMPARE(f.rungs, std::size_t(0));
    std::size_t open = 0;
    for (const Rung &r : ladder.rungs)
        if (hasPulls(r.kind)) ++open;
    QCOMPARE(f.open.size(), open);
    const Rung *rung = ladder.byId("content.50");
    const RungForecast *r = f.of("content.50");
    QVERIFY(rung && r);
    const RungDemand d = rungDemand(study, 0.5, rung->boostKpa, {job.conditions.intakeUsualC, 0});
    COMPARE_NEAR(r->duty.value, d.duty, 1e-9);
    QCOMPARE(r->rpm, d.rpm);
    QCOMPARE(r->fuelOver.value, 0.0);
    QVERIFY(r->fuelOver.sigma > 0.05 && r->fuelOver.sigma < 0.15); // what tables are usually good for
    QVERIFY(!r->solenoidDuty && !r->powerKw && !r->standsSparkDeg);
    QVERIFY(!f.of("preflight") && !f.of("nothing"));
}

// What is needed more on five contents is needed on the next ones too; and the slope goes on.
void LadderForecastTest::followsWhatWasFound() {
    const Job job = forecastJob();
    const Study study(job);
    const Powertrain engine{0.06, 0.08, 3};
    const double base = job.calibration.baseContent;
    double last = 1;
    for (const auto &contents :
         {std::vector{base}, {base, 0.25}, {base, 0.25, 0.40}, {base, 0.25, 0.40, 0.50}}) {
        const LadderFacts facts = factsOf(study, engine, contents);
        const PullTrends trends(study, all(facts));
        const Uncertain over = trends.fuelOver(0.6, 183);
        const double truth = 0.06 + 0.08 * (0.6 - base);
        QVERIFY2(std::abs(over.value - truth) < 1.96 * over.sigma, std::to_string(over.value).c_str());
        QVERIFY(over.sigma < last); // more is known with each
        last = over.sigma;
    }
    COMPARE_NEAR(last, 0.0, 0.03);
    const LadderFacts facts = factsOf(study, engine, {base, 0.25, 0.40, 0.50});
    const PullTrends trends(study, all(facts));
    COMPARE_NEAR(trends.fuelOver(0.6, 183).value, 0.06 + 0.08 * (0.6 - base), 0.012);
    COMPARE_NEAR(trends.heldOver(0.6, 180).value, 3, 0.5);
    COMPARE_NEAR(trends.fullestOver(0.6, 180).value, 3, 0.5);
    QCOMPARE(trends.rungs(), std::size_t(4));
    QCOMPARE(trends.fullestRpm(), 6600.0);
    QCOMPARE(trends.intakeC(), 48.0);
    // The rung: the tables there, with that much more.
    const Ladder ladder = planLadder(study);
    const RungForecast r = forecastRung(study, *ladder.byId("content.60"), trends);
    const double boost = *ladder.byId("content.60")->boostKpa;
    const double held = boost + trends.fullestOver(0.6, boost).value;
    COMPARE_NEAR(r.loadKpa, held, 1e-9);
    COMPARE_NEAR(r.tablesDuty, tablesDuty(study, 0.6, {6600, held, 48}), 1e-12);
    COMPARE_NEAR(r.duty.value, r.tablesDuty * std::exp(trends.fuelOver(0.6, held).value), 1e-12);
    COMPARE_NEAR(r.heldKpa->value, boost + trends.heldOver(0.6, boost).value, 1e-12);
    const double target = study.blended(CalibratedQuantity::lambda, 0.6).lookup(6600, held).value;
    COMPARE_NEAR(r.lambdaError.value, target * (r.duty.value / r.tablesDuty - 1), 1e-12);
    // Fuel goes with the air: what is not known of either is not known of duty.
    COMPARE_NEAR(r.duty.sigma / r.duty.value,
                 std::hypot(trends.fuelOver(0.6, held).sigma, trends.fullestOver(0.6, boost).sigma / held),
                 1e-12);
}

// Lean by 5 % with the tables' duty is the same as on target with 5 % more.
void LadderForecastTest::lambdaAndDutySayTheSame() {
    const Job job = forecastJob();
    const Study study(job);
    PullFacts p = Powertrain{}.pull(study, 0.3, 180, "a");
    const PullTrends none(study, {});
    COMPARE_NEAR(none.fuelFound(p), 0, 1e-12);
    p.fullest.lambda *= 1.05;
    COMPARE_NEAR(none.fuelFound(p), std::log(1.05), 1e-12);
    p.fullest.lambda /= 1.05;
    p.fullest.duty *= 1.05;
    COMPARE_NEAR(none.fuelFound(p), std::log(1.05), 1e-12);
    p.fullest.lambda = PullFacts::unknown;
    QVERIFY(std::isnan(none.fuelFound(p)));
}

void LadderForecastTest::pullsOfOneRungAreOnePiece() {
    const Study study(forecastJob());
    const Powertrain engine{0.05};
    const LadderFacts one = factsOf(study, engine, {0.25}),
                      three = factsOf(study, engine, {0.25, 0.252, 0.248});
    const PullTrends a(study, all(one)), b(study, all(three));
    QCOMPARE(b.rungs(), std::size_t(1));
    COMPARE_NEAR(a.fuelOver(0.4, 180).sigma, b.fuelOver(0.4, 180).sigma, 1e-6);
    // Another boost is another piece.
    LadderFacts two = one;
    two.pulls.push_back(engine.pull(study, 0.25, 190, "b"));
    QCOMPARE(PullTrends(study, all(two)).rungs(), std::size_t(2));
    const std::vector<PullTrends::Found> found = PullTrends(study, all(two)).found();
    QCOMPARE(found.size(), std::size_t(2));
    COMPARE_NEAR(found[1].duty, two.pulls[1].dutyMost, 1e-12);
    QCOMPARE(found[1].boostKpa, 190.0);
}

void LadderForecastTest::weakPullsSayNothing() {
    const Study study(forecastJob());
    for (const int how : {0, 1, 2}) {
        LadderFacts f = factsOf(study, {0.05}, {0.25});
        if (how == 0) f.pulls[0].full = false;
        if (how == 1) f.pulls[0].contentUsable = false;
        if (how == 2) f.pulls[0].content = PullFacts::unknown;
        const PullTrends trends(study, all(f));
        QCOMPARE(trends.rungs(), std::size_t(0));
        QCOMPARE(trends.fuelOver(0.25, 180).value, 0.0);
        QCOMPARE(trends.fullestRpm(), 0.0);
    }
}

// What the spring gives is over what was aimed at: the next rung is not forecast as much over its own.
void LadderForecastTest::restingSolenoidSaysLittle() {
    const Study study(forecastJob());
    Powertrain engine{0, 0, 9};
    LadderFacts resting = factsOf(study, engine, {0.1}, 165), working = resting;
    resting.pulls[0].solenoidDuty = 0;
    working.pulls[0].solenoidDuty = 0.2;
    const double rest = PullTrends(study, all(resting)).heldOver(0.1, 180).value,
                 work = PullTrends(study, all(working)).heldOver(0.1, 180).value;
    QVERIFY2(rest > 0 && rest < work / 2, std::to_string(rest).c_str());
}

void LadderForecastTest::solenoidGoesOverTheSpring() {
    const Study study(forecastJob());
    const Powertrain engine{0, 0, 0, 0.007};
    LadderFacts f;
    for (const double kpa : {170.0, 180.0, 190.0, 200.0})
        f.pulls.push_back(engine.pull(study, 0.25, kpa, std::to_string(kpa)));
    const PullTrends trends(study, all(f));
    const auto at = trends.solenoid(0.25, 210);
    QVERIFY(at);
    COMPARE_NEAR(at->value, 0.007 * (210 - 160), 0.02);
    QVERIFY(std::abs(at->value - 0.35) < 1.96 * at->sigma);
}

// P = 200 kW at 180 kPa and twice the pressure gives about twice of it; what was measured sharpens that.
void LadderForecastTest::powerGoesWithTheAir() {
    Job job = forecastJob();
    {
        const Study study(job);
        LadderFacts f = factsOf(study, {}, {0.25});
        f.pulls[0].powerKw = 200;
        const PullTrends trends(study, all(f));
        const auto same = trends.powerKw(0.25, 180), more = trends.powerKw(0.25, 198);
        COMPARE_NEAR(same->value, 200, 0.1);
        COMPARE_NEAR(more->value, 220, 2);
        QVERIFY(more->sigma > same->sigma && same->sigma / same->value < 0.05);
        QVERIFY(trends.powerKw(0.75, 180)->value > 200); // a cool fuel gains a little
    }
    // Without a channel the runs that rungs were passed with.
    RungPass p;
    p.rung = "base_boost.180";
    p.content = job.calibration.baseContent;
    p.boostKpa = 180;
    p.powerKw = 150;
    job.ladderPassed = {p};
    const Study study(job);
    const auto kw = PullTrends(study, {}).powerKw(p.content, 180);
    QVERIFY(kw);
    COMPARE_NEAR(kw->value, 150, 0.1);
}

// At the crossing the duty of the plan, in the coldest air, times what was found is the caution; likewise at
// its ends, 1.96 standard errors away.
void LadderForecastTest::crossingIsWhereDutyIs() {
    Job job = forecastJob();
    job.limits["flow.duty.caution"] = 0.75;
    const Study study(job);
    const double base = job.calibration.baseContent;
    const LadderFacts facts = factsOf(study, {0.05, 0.05}, {base, 0.25, 0.40});
    const LadderForecast f = forecastLadder(study, planLadder(study), facts);
    QCOMPARE(f.crossings.size(), std::size_t(2));
    const PullTrends trends(study, all(facts));
    for (const DutyCrossing &c : f.crossings) {
        const auto duty = [&](double at, double sigmas) {
            const double content = c.overContent ? at : c.content, boost = c.overContent ? c.boostKpa : at;
            const RungDemand d = rungDemand(study, content, boost);
            const Uncertain over = trends.fuelOver(content, d.loadKpa);
            return d.duty * std::exp(over.value + sigmas * over.sigma);
        };
        QCOMPARE(c.duty, 0.75);
        if (c.at == c.at && c.at > base) COMPARE_NEAR(duty(c.at, 0), 0.75, 0.001);
        if (c.earliest == c.earliest && c.earliest > base) COMPARE_NEAR(duty(c.earliest, 1.96), 0.75, 0.001);
        if (c.latest == c.latest) COMPARE_NEAR(duty(c.latest, -1.96), 0.75, 0.001);
        const double end = c.overContent ? c.content : c.boostKpa;
        COMPARE_NEAR(c.atEnd.value, duty(end, 0), 1e-9);
    }
    const DutyCrossing &boost = f.crossings[1];
    QVERIFY(!boost.overContent && boost.at == boost.at);
    QVERIFY(boost.earliest < boost.at && boost.at < boost.latest);
}

// An engine that breathes by itself has injectors too.
void LadderForecastTest::crossingIsFoundWithoutBoost() {
    Job job = forecastJob();
    job.engine.charging = Charging::none;
    for (TwoTable *t : {&job.calibration.of(CalibratedQuantity::boost)})
        for (Table2D *table : {&t->base, &t->top})
            for (std::size_t x = 0; x < table->x().size(); ++x)
                for (std::size_t y = 0; y < table->y().size(); ++y)
                    table->setCell({x, y}, 0);
    job.limits["flow.duty.caution"] = 0.35;
    const Study study(job);
    const LadderForecast f = forecastLadder(study, planLadder(study), {});
    QCOMPARE(f.crossings.size(), std::size_t(1));
    const DutyCrossing &c = f.crossings[0];
    QVERIFY(c.overContent && c.boostKpa == 0);
    QVERIFY2(c.at == c.at, std::to_string(c.atEnd.value).c_str());
    COMPARE_NEAR(rungDemand(study, c.at, std::nullopt).duty, 0.35, 0.002);
    QVERIFY2(says(crossingWords(c).words, "At the pressures of its tables"),
             said(crossingWords(c).words).c_str());
}

void LadderForecastTest::crossingIsSaid() {
    const double unknown = PullFacts::unknown;
    DutyCrossing c{true, 0.85, 180, 0.85, 0.62, 0.59, 0.65, {0.95, 0.02}};
    const Sentence will = crossingWords(c);
    QVERIFY2(says(will.words, "reach 85.0 % of their time at a content of E62 ± 3"),
             said(will.words).c_str());
    QVERIFY(will.tone == Tone::trouble);
    c.latest = unknown; // it may never: the ± is that of the side that is known
    QVERIFY(says(crossingWords(c).words, "E62 ± 3"));
    c.at = 0.9;
    c.earliest = 0.8;
    const Sentence may = crossingWords(c);
    QVERIFY2(says(may.words, "may reach 85.0 % of their time from a content of E80 on"),
             said(may.words).c_str());
    QVERIFY(may.tone == Tone::caution);
    c.at = c.earliest = unknown;
    c.atEnd = {0.7, 0.02};
    const Sentence never = crossingWords(c);
    QVERIFY2(says(never.words, "stay under 85.0 % of their time up to a content of E85: 70.0 % ± 3.9 %"),
             said(never.words).c_str());
    const DutyCrossing boost{false, 0.85, 240, 0.85, 211, 200, 222, {0.95, 0.02}};
    QVERIFY2(says(crossingWords(boost).words, "at 211 kPa ± 11 kPa"),
             said(crossingWords(boost).words).c_str());
}

void LadderForecastTest::reportsCarryTheNumbers() {
    const Study study(forecastJob());
    const Ladder ladder = planLadder(study);
    const LadderForecast f = forecastLadder(study, ladder, factsOf(study, {0.05}, {0.1, 0.25}));
    const std::string all = plainText(forecastReport(ladder, f, 0.85).report, {});
    QVERIFY2(all.find("By the full pulls of 2 rungs.") != std::string::npos, all.c_str());
    const RungForecast *r = f.of("content.50");
    const std::string one = plainText(rungForecastReport(*r, f.rungs).report, {});
    const std::string duty =
        format(Phrase{MARKED("report.number", "{0}"), {{r->duty.value, Dimension::ratio}}});
    QVERIFY2(one.find(duty) != std::string::npos, (duty + one).c_str());
    QVERIFY(all.find("Content E50") != std::string::npos);
    Report drawn = forecastReport(ladder, f, 0.85).report;
    const auto chart = takeChart(drawn);
    QVERIFY(chart && chart->lines.size() == 3);
    const auto at = std::ranges::find(chart->lines[0].x, 0.5);
    QVERIFY(at != chart->lines[0].x.end());
    COMPARE_NEAR(chart->lines[0].y[static_cast<std::size_t>(at - chart->lines[0].x.begin())], r->duty.value,
                 1e-12);
    QCOMPARE(chart->lines[1].x.size(), std::size_t(2));
    const Report none = forecastReport(ladder, {}, 0.85).report;
    QVERIFY(plainText(none, {}).find("No rung with pulls") != std::string::npos);
}

CORE_TEST_MAIN(LadderForecastTest)
#include "ladder_forecast_test.moc"
