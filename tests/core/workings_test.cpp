// SPDX-License-Identifier: GPL-3.0-or-later
// Every number that a page shows answers a click with its working, and the working is of that number.
#include "core/base/error.h"
#include "core/evidence/coverage.h"
#include "core/explain/explain_evidence.h"
#include "core/explain/explain_ladder.h"
#include "core/explain/explain_runs.h"
#include "core/report/forecast_reports.h"
#include "core/report/handover_reports.h"
#include "core/report/hindsight_reports.h"
#include "core/report/job_reports.h"
#include "core/report/ladder_reports.h"
#include "core/report/log_reports.h"
#include "core/report/owners_page.h"
#include "core/report/pour_tables.h"
#include "core/report/proposal_reports.h"
#include "core/report/run_reports.h"
#include "formats/job_json.h"
#include "support/phrases.h"
#include "support/random_job.h"
#include "support/test_main.h"

#include <QFile>

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <set>

using namespace wheelwright;
using testing::said;
using testing::says;

namespace {

constexpr double unknown = std::numeric_limits<double>::quiet_NaN();

Job demo(const char *name) {
    QFile document(QStringLiteral(SOURCE_DIR "/data/demo/%1.json").arg(QLatin1String(name)));
    if (!document.open(QIODevice::ReadOnly)) qFatal("no demo");
    return jobFromJson(document.readAll().toStdString());
}

void collect(const Phrase &p, std::vector<Measured> &into) {
    into.insert(into.end(), p.values.begin(), p.values.end());
    for (const Phrase &inner : p.phrases)
        collect(inner, into);
}

std::vector<Measured> numbersOf(const Phrase &p) {
    std::vector<Measured> out;
    collect(p, out);
    return out;
}

std::vector<Measured> numbersOf(const Explanation &x) {
    std::vector<Measured> out{x.result};
    for (const ExplanationInput &i : x.inputs)
        out.push_back(i.value);
    for (const Phrase *p : {&x.formula, &x.substituted, &x.uncertainty})
        collect(*p, out);
    return out;
}

bool among(double v, const std::vector<Measured> &all) {
    return std::ranges::any_of(
        all, [&](const Measured &m) { return std::abs(m.value - v) <= 1e-9 * (1 + std::abs(v)); });
}

// Heads of columns whose numbers somebody stated, or that name their row: a click has nothing to add.
const std::set<std::string_view> statedColumns{
    "ladder.head.content",  "flow.boost.pull",   "ladder.head.rung",     "ladder.head.tank",
    "ladder.head.boost",    "ladder.head.pulls", "runs.sheet.air",       "runs.sheet.run",
    "runs.dynos.runs",      "runs.scatter.gain", "ladder.shopping.what", "ladder.shopping.litres",
    "ladder.shopping.cost", "coverage.band"};

// What is wrong with how a report's numbers answer; empty: nothing.
std::string unanswered(const WorkedReport &made) {
    std::string wrong;
    constexpr std::string_view sentence = "a sentence";
    const auto look = [&](const Sentence &s, std::string_view where) {
        std::vector<Measured> shown = numbersOf(s.words);
        if (where == sentence) // the number of a pass, of pulls
            std::erase_if(shown, [](const Measured &m) { return m.dimension == Dimension::count; });
        if (shown.empty()) return;
        if (s.link.empty()) {
            wrong += std::string(where) + ": no working of " + said(s.words) + "\n";
            return;
        }
        if (!s.link.starts_with("working:")) return; // leads to its place
        const auto at = static_cast<std::size_t>(std::stoul(s.link.substr(8)));
        if (at >= made.workings.size()) {
            wrong += "no such working: " + s.link + "\n";
            return;
        }
        const Explanation x = made.workings[at]();
        const std::string name = said(x.title);
        const std::vector<Measured> its = numbersOf(x);
        if (std::ranges::none_of(shown, [&](const Measured &m) { return among(m.value, its); }))
            wrong += name + " is not about " + said(s.words) + "\n";
        if (!std::isfinite(x.result.value)) wrong += name + ": no result\n";
        for (const Phrase *p : {&x.title, &x.formula, &x.substituted, &x.source, &x.uncertainty, &x.change})
            if (p->empty() || said(*p).find('{') != std::string::npos ||
                said(*p).find("nan") != std::string::npos)
                wrong += name + ": a part of it says nothing: " + said(*p) + "\n";
        for (const ExplanationInput &i : x.inputs)
            if (!std::isfinite(i.value.value))
                wrong += name + ": an input is no number: " + said(i.title) + "\n";
    };
    for (const Block &b : made.report.blocks)
        if (const auto *g = std::get_if<Grid>(&b))
            for (const std::vector<Sentence> &row : g->rows)
                for (std::size_t c = 0; c < row.size(); ++c)
                    if (!statedColumns.contains(g->heads[c].id)) look(row[c], g->heads[c].id);
    for (const Block &b : made.report.blocks)
        if (const auto *s = std::get_if<Sentence>(&b); s && s->link.starts_with("working:"))
            look(*s, sentence);
    return wrong;
}

#define VERIFY_ANSWERS(report)                                                                               \
    do {                                                                                                     \
        const std::string wrongHere = unanswered(report);                                                    \
        QVERIFY2(wrongHere.empty(), wrongHere.c_str());                                                      \
    } while (false)

} // namespace

class WorkingsTest : public QObject {
    Q_OBJECT
  private slots:
    void pagesOfJobs_data();
    void pagesOfJobs();
    void whatIsHandedOver_data() { pagesOfJobs_data(); }
    void whatIsHandedOver();
    void forecasts();
    void rungs();
    void aRungSettlesWhenBothHaveIt();
    void whatLogsSay();
    void whatRunsSay();
    void aSecondReportKeepsItsWorkings();
};

void WorkingsTest::pagesOfJobs_data() {
    QTest::addColumn<QString>("name");
    for (const char *name : {"thistle", "moorhen", "bramble"})
        QTest::addRow("%s", name) << QString::fromLatin1(name);
}

void WorkingsTest::pagesOfJobs() {
    QFETCH(QString, name);
    FlowLook look{std::make_shared<const Study>(demo(name.toLatin1().constData())), nullptr, 0.4};
    look.verdict = verify(look.study);
    for (const JobReport &kind : allJobReports()) {
        const std::string wrong = unanswered(kind.make(look, "2026-11-28"));
        QVERIFY2(wrong.empty(), (std::string(kind.id) + "\n" + wrong).c_str());
    }
}

void WorkingsTest::whatIsHandedOver() {
    QFETCH(QString, name);
    FlowLook look{std::make_shared<const Study>(demo(name.toLatin1().constData())), nullptr, 0.4};
    look.verdict = verify(look.study);
    VERIFY_ANSWERS(ownersPage(look, "2026-11-28"));
    VERIFY_ANSWERS(pocketCard(*look.verdict, "2026-11-28"));
    VERIFY_ANSWERS(handover(look, {}, "2026-11-28"));
    // A pour's working is of its own cell.
    const WorkedReport card = pocketCard(*look.verdict, "2026-11-28");
    std::size_t cells = 0;
    for (const Block &b : card.report.blocks)
        if (const auto *g = std::get_if<Grid>(&b))
            for (const std::vector<Sentence> &row : g->rows)
                for (std::size_t c = 1; c < row.size(); ++c, ++cells) {
                    const Explanation x = card.workings.at(std::stoul(row[c].link.substr(8)))();
                    const std::vector<Measured> n = numbersOf(x.substituted);
                    COMPARE_NEAR((n[0].value * n[1].value + n[2].value * n[3].value) /
                                     (n[0].value + n[2].value),
                                 x.result.value, 1e-12);
                    QVERIFY(says(row[c].words, contentName(x.result.value,
                                                           look.study->job().alcohol == Alcohol::methanol)));
                    QCOMPARE(g->heads[c].values.at(0).value, n[2].value);
                }
    QVERIFY(cells > 30);
}

void WorkingsTest::forecasts() {
    const Study study(demo("thistle"));
    const Ladder ladder = planLadder(study);
    LadderForecast f = forecastLadder(study, ladder, LadderFacts{});
    QVERIFY(!f.open.empty());
    for (RungForecast &r : f.open) { // with all that a forecast can have
        r.standsSparkDeg = {18.5, 1.5};
        r.powerKw = {210, 8};
        r.solenoidDuty = {0.31, 0.04};
        r.heldKpa = {212, 6};
    }
    VERIFY_ANSWERS(forecastReport(ladder, f, 0.85));
    const RungForecast &r = f.open.front();
    VERIFY_ANSWERS(rungForecastReport(r, 3));
    // Each is of its own number, and its sum comes out.
    const Explanation duty = explainForecast(r, ForecastNumber::duty, 3);
    QCOMPARE(duty.result.value, r.duty.value);
    const std::vector<Measured> parts = numbersOf(duty.substituted);
    COMPARE_NEAR(parts[0].value * (1 + parts[1].value), duty.result.value, 1e-12);
    const std::vector<Measured> lambda =
        numbersOf(explainForecast(r, ForecastNumber::lambdaError, 3).substituted);
    COMPARE_NEAR(lambda[0].value * lambda[1].value, r.lambdaError.value, 1e-12);
    QCOMPARE(explainForecast(r, ForecastNumber::boost, 3).result.value, r.heldKpa->value);
    QCOMPARE(explainForecast(r, ForecastNumber::solenoid, 3).result.value, 0.31);
    // The boost that it is for is the one that is held, not the one that the tables ask for.
    QVERIFY(r.heldKpa->value != r.loadKpa);
    QCOMPARE(numbersOf(explainForecast(r, ForecastNumber::solenoid, 3).substituted)[1].value,
             r.heldKpa->value);
    QCOMPARE(explainForecast(r, ForecastNumber::askedSpark, 3).result.value, r.askedSparkDeg);
    QCOMPARE(explainForecast(r, ForecastNumber::standsSpark, 3).result.value, 18.5);
    QCOMPARE(explainForecast(r, ForecastNumber::power, 3).result.value, 210.0);
    // 95 % is 1.96 standard errors, and who has never pulled is told so.
    COMPARE_NEAR(numbersOf(explainForecast(r, ForecastNumber::power, 3).uncertainty)[0].value, 15.68, 1e-9);
    QCOMPARE(numbersOf(explainForecast(r, ForecastNumber::power, 3).uncertainty)[1].value, 3.0);
    QVERIFY(says(explainForecast(r, ForecastNumber::power, 0).uncertainty, "nobody has pulled yet"));
    RungForecast without = r;
    without.powerKw = {};
    EXPECT_INPUT_ERROR(explainForecast(without, ForecastNumber::power, 3), "power");
}

void WorkingsTest::rungs() {
    for (const char *name : {"thistle", "moorhen"}) {
        const Study study(demo(name));
        const Ladder ladder = planLadder(study, "2026-11-28");
        VERIFY_ANSWERS(ladderReport(ladder));
        for (const Rung &r : ladder.rungs)
            VERIFY_ANSWERS(rungReport(r));
        for (const Rung &r : ladder.rungs) {
            if (r.cutKpa > 0) {
                const std::vector<Measured> cut = numbersOf(explainRung(r, RungNumber::cut).substituted);
                COMPARE_NEAR(cut[0].value + cut[1].value, r.cutKpa, 1e-9);
            }
            if (r.volumeL > 0) {
                const Explanation tank = explainRung(r, RungNumber::content);
                const std::vector<Measured> parts = numbersOf(tank.substituted);
                COMPARE_NEAR(parts[0].value / parts[1].value, r.expected.value, 1e-12);
            }
            if (r.price > 0) {
                const Explanation cost = explainRung(r, RungNumber::cost);
                double sum = 0;
                for (const ExplanationInput &i : cost.inputs)
                    sum += i.value.value;
                COMPARE_NEAR(sum, r.price, 1e-9);
            }
            if (r.demand.peakKpa && r.boostKpa) {
                const std::vector<Measured> peak = numbersOf(explainRung(r, RungNumber::peak).substituted);
                COMPARE_NEAR(peak[0].value + peak[1].value, *r.demand.peakKpa, 1e-9);
            }
            if (r.pass) {
                QCOMPARE(explainPassLambda(*r.pass).result.value, r.pass->lambda);
                QCOMPARE(explainPassLambda(*r.pass).inputs.front().value.value, r.pass->pillMm);
                QCOMPARE(explainPassExhaust(*r.pass).result.value, r.pass->exhaustC.value);
            }
        }
    }
}

// The later of both, whichever it is.
void WorkingsTest::aRungSettlesWhenBothHaveIt() {
    Rung r;
    r.settleMin = 2;
    r.settleInjectorsMin = 5;
    QCOMPARE(explainRung(r, RungNumber::settles).result.value, 5.0);
    std::swap(r.settleMin, r.settleInjectorsMin);
    QCOMPARE(explainRung(r, RungNumber::settles).result.value, 5.0);
}

void WorkingsTest::whatLogsSay() {
    const Job job = testing::demoJob();
    const Study study(job);
    SparkTaken taken;
    taken.samples = 400;
    taken.askedDeg = 19.5;
    taken.deliveredDeg = 17.2;
    taken.takers = {{"intake_air", MARKED("test.air", "Intake air"), -2.3, -4.8, 31.5, 0.927, ""}};
    VERIFY_ANSWERS(takenReport(taken, LogInfo{}));
    const std::vector<Measured> took = numbersOf(
        explainTaker(taken.takers[0], {taken.samples, taken.askedDeg, taken.deliveredDeg}).substituted);
    COMPARE_NEAR(took[0].value, -2.3, 1e-12);
    COMPARE_NEAR(took[1].value, 17.2 - 19.5, 1e-12);
    COMPARE_NEAR(took[3].value - took[2].value, took[1].value, 1e-12);

    FuelChangeProof proof;
    proof.fromContent = 0.1;
    proof.toContent = 0.6;
    FuelMove move;
    move.title = MARKED("test.fuel", "Fuel");
    move.dimension = Dimension::ratio;
    move.expected = 0.22;
    move.measured = 0.25;
    move.residual = 0.03;
    move.sigma = 0.01;
    move.tolerance = 0.03;
    move.places = 9;
    move.verdict = MoveVerdict::notSure;
    proof.moves = {move};
    VERIFY_ANSWERS(proofReport(proof, job));
    const std::vector<Measured> moved = numbersOf(explainMove(move).substituted);
    COMPARE_NEAR(moved[0].value - moved[1].value, moved[2].value, 1e-12);
    // Student's t for 8 degrees of freedom, 95 %: 2.306 (Abramowitz and Stegun 1964, table 26.10).
    COMPARE_NEAR(numbersOf(explainMove(move).uncertainty)[0].value, 0.02306, 1e-5);

    PullBoost pull;
    pull.reached = true;
    pull.reachedRpm = 3100;
    pull.heldKpa = 212;
    pull.overshootKpa = 9;
    pull.driftKpa = -6;
    pull.driftSigmaKpa = 1.5;
    pull.waveKpa = 2;
    pull.targetKpa = pull.duty = unknown;
    pull.content = 0.4;
    const std::array pulls{pull};
    VERIFY_ANSWERS(boostPullsReport(pulls, {}, job));
    QCOMPARE(explainPull(pull).inputs.size(), std::size_t(2)); // what nobody says is no input
    COMPARE_NEAR(numbersOf(explainPull(pull).uncertainty)[0].value, 3, 1e-12);
    COMPARE_NEAR(numbersOf(explainPull(pull).substituted)[3].value, 3, 1e-12);

    LambdaDelay delay;
    delay.lagMs = 60;
    delay.curve = LambdaDelay::Curve{40, 900, 5};
    delay.byFlow = {{30, 70, 8, 6}};
    VERIFY_ANSWERS(delayReport(delay));
    const std::vector<Measured> late = numbersOf(explainDelay(delay.byFlow[0], delay).substituted);
    COMPARE_NEAR(late[0].value + late[1].value / late[2].value, 70, 1e-9);

    VERIFY_ANSWERS(coverageReport(study, Coverage(study)));
    const Explanation proven =
        explainCoverage(job.limits, job.engine.revLimitRpm, CoverageNumber::proven, 0.03, 0.13, 8);
    QCOMPARE(proven.result.value, 8.0);
    QVERIFY(among(limitOf(job, "watch.lean"), numbersOf(proven)));
    QVERIFY(among(limitOf(job, "evidence.least_hits"), numbersOf(proven)));
    QVERIFY(
        among(job.engine.revLimitRpm, numbersOf(explainCoverage(job.limits, job.engine.revLimitRpm,
                                                                CoverageNumber::reachable, 0.03, 0.13, 8))));

    ProposedMap map;
    map.rpm = {2500, 3000};
    map.loadKpa = {60, 80};
    ProposedCell cell;
    cell.rpm = 2500;
    cell.loadKpa = 60;
    cell.state = ProposedState::changed;
    cell.now = 70;
    cell.proposed = 66.1;
    cell.change = -0.056;
    cell.plusMinus = 0.007;
    cell.errorNow = -0.081;
    cell.errorThen = -0.028;
    cell.hits = 44;
    map.cells = {cell};
    for (const ProposalKind kind : {ProposalKind::fuel, ProposalKind::joint, ProposalKind::spark,
                                    ProposalKind::sweep, ProposalKind::ceilings}) {
        map.kind = kind;
        const Explanation x = explainProposedCell(map, cell);
        QCOMPARE(x.result.value, cell.change);
        QVERIFY(!x.formula.empty() && !x.source.empty());
        QVERIFY(among(44, numbersOf(x)) && among(-0.028, numbersOf(x)) && among(0.007, numbersOf(x)));
    }
    map.kind = ProposalKind::fuel;
    const WorkedReport one = proposedCellReport(map, 0, {});
    QCOMPARE(one.workings.size(), std::size_t(2));
    QCOMPARE(one.workings[0]().result.value, cell.change);
}

void WorkingsTest::whatRunsSay() {
    RunScatter scatter;
    scatter.sigma = 0.5;
    scatter.freedom = 4;
    scatter.perRun = -0.85;
    scatter.perRunError = 0.29;
    const std::vector<Measured> sum = numbersOf(explainScatter(scatter, 3).substituted);
    COMPARE_NEAR(std::sqrt(sum[0].value / sum[1].value), 0.5, 1e-12);
    // A standard deviation from f degrees of freedom is known to one part in √(2 f).
    COMPARE_NEAR(numbersOf(explainScatter(scatter, 3).uncertainty)[0].value, 1 / std::sqrt(8.0), 1e-12);
    const std::vector<Measured> see = numbersOf(explainRunsToSee(1.0, 6, scatter).substituted);
    COMPARE_NEAR(see[0].value / (see[1].value * std::sqrt(2 / see[2].value)) *
                     std::sqrt(1 - 3 / (4 * see[2].value * see[2].value - 1)),
                 see[3].value, 1e-12);
    // With the runs that it needs a gain is seen in four tries of five, with one less it is not.
    const int needed = runsToSee(1.0, scatter.sigma, true);
    const Explanation runs = explainRunsToSee(1.0, needed, scatter);
    QVERIFY(numbersOf(runs.substituted)[4].value >= powerWanted);
    QVERIFY(runs.inputs.back().value.value < powerWanted);
    scatter.perRun.reset();
    const std::vector<Measured> still = numbersOf(explainRunsToSee(1.0, 6, scatter).substituted);
    COMPARE_NEAR(still[0].value / (still[1].value * std::sqrt(2 / still[2].value)), still[3].value, 1e-12);
    scatter.perRun = -0.85;

    ContentLadder ladder;
    ladder.scatterKw = 0.5;
    ContentRung low, high;
    low.content = 0.1;
    low.runs = {"1", "2"};
    low.meanKw = 120.9;
    low.next = {23.9, 3.1, 4};
    low.perPercentKw = 0.77;
    high.content = 0.41;
    high.runs = {"4"};
    high.meanKw = 144.8;
    high.halfKw = 8.7;
    ladder.rungs = {low, high};
    VERIFY_ANSWERS(contentsReport(ladder, testing::demoJob()));
    const std::vector<Measured> step = numbersOf(explainContentStep(low, ladder).substituted);
    COMPARE_NEAR(step[1].value, 0.31, 1e-12);
    COMPARE_NEAR(step[0].value / (100 * step[1].value), step[2].value, 2e-3); // kW for each per cent
    COMPARE_NEAR(numbersOf(explainContentStep(low, ladder).uncertainty)[0].value, low.next.halfWidth(),
                 1e-12);
    QVERIFY(says(explainContentRung(low, ladder).uncertainty, "held against it"));

    BoostShape shape;
    shape.run = "1";
    shape.known = true;
    shape.reachedRpm = 2585;
    shape.heldKpa = 195;
    shape.spikeKpa = 18;
    shape.driftKpa = -5;
    shape.driftErrorKpa = 1;
    shape.said = {Phrase(MARKED("boost_shape.flat", "no spike, sag, creep or wave"))};
    const std::array shapes{shape};
    VERIFY_ANSWERS(boostShapesReport(shapes));
    const std::vector<Measured> spike = numbersOf(explainBoostShape(shape, BoostNumber::spike).substituted);
    COMPARE_NEAR(spike[0].value - spike[1].value, 18, 1e-12);

    const std::array dynos{DynoFactor{"Left", "Right", 1.05, 0.02, 1, 4}};
    VERIFY_ANSWERS(dynosReport(dynos));

    CamCrossing cams;
    cams.crossingRpm = 5100;
    cams.upRpm = 5200;
    cams.downRpm = 5000;
    cams.crossings = 1;
    QCOMPARE(explainCrossing(cams).result.value, 5100.0);

    MeasuredRun run;
    run.curve.rpm = {5000, 5500, 6000};
    run.curve.powerKw = {140, 153.6, 150};
    run.run.rows = 270;
    const Explanation peak = explainPeak(run);
    QCOMPARE(peak.result.value, 153.6);
    // P = T n / 9549.2966: docs/sources.md.
    const std::vector<Measured> torque = numbersOf(peak.substituted);
    COMPARE_NEAR(torque[0].value * torque[1].value / 9549.2966, 153.6, 1e-6);
}

void WorkingsTest::aSecondReportKeepsItsWorkings() {
    const auto of = [](double v) {
        return [v] {
            Explanation x;
            x.result = {v, Dimension::none};
            return x;
        };
    };
    WorkedReport first, second;
    first.say(MARKED("test.one", "one"), Tone::plain, of(1));
    second.say(MARKED("test.two", "two"), Tone::plain, of(2));
    Grid grid{{MARKED("test.head", "head")}, {}};
    grid.rows.push_back({second.worked(MARKED("test.three", "three"), Tone::plain, of(3))});
    second.report.blocks.push_back(grid);
    first.append(std::move(second));
    QCOMPARE(first.workings.size(), std::size_t(3));
    const auto resultOf = [&](const Sentence &s) {
        return first.workings[std::stoul(s.link.substr(8))]().result.value;
    };
    QCOMPARE(resultOf(std::get<Sentence>(first.report.blocks[0])), 1.0);
    QCOMPARE(resultOf(std::get<Sentence>(first.report.blocks[1])), 2.0);
    QCOMPARE(resultOf(std::get<Grid>(first.report.blocks[2]).rows[0][0]), 3.0);
}

CORE_TEST_MAIN(WorkingsTest)
#include "workings_test.moc"
