// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/error.h"
#include "core/job/tank_history.h"
#include "core/report/calibration_reports.h"
#include "core/report/fuel_reports.h"
#include "core/report/job_reports.h"
#include "core/report/numbers.h"
#include "core/report/working_report.h"
#include "core/study/boost_plan.h"
#include "core/study/fuel_delivery.h"
#include "formats/job_json.h"
#include "support/phrases.h"
#include "support/random_job.h"
#include "support/test_main.h"

#include <QFile>

#include <algorithm>
#include <cmath>
#include <set>

using namespace wheelwright;
using testing::demoJob;
using testing::said;
using testing::says;

namespace {

Job moorhen() {
    QFile document(QStringLiteral(SOURCE_DIR "/data/demo/moorhen.json"));
    if (!document.open(QIODevice::ReadOnly)) qFatal("no moorhen.json");
    return jobFromJson(document.readAll().toStdString());
}

// A demo with a spray, of which the tables know nothing.
Job sprayed() {
    Job job = demoJob();
    job.aux.fitted = true;
    job.aux.trimmed = true;
    job.aux.spray.ratedFlowCcMin = 500;
    job.aux.spray.methanol = 0.5;
    return job;
}

FlowLook lookAt(const Job &job, double content) {
    FlowLook look{std::make_shared<const Study>(job), nullptr, content};
    look.verdict = verify(look.study);
    return look;
}

std::vector<Sentence> sentencesOf(const Report &r) {
    std::vector<Sentence> out;
    for (const Block &b : r.blocks) {
        if (const auto *s = std::get_if<Sentence>(&b)) out.push_back(*s);
        if (const auto *g = std::get_if<Grid>(&b))
            for (const auto &row : g->rows)
                out.insert(out.end(), row.begin(), row.end());
    }
    return out;
}

Grid gridOf(const Report &r) {
    for (const Block &b : r.blocks)
        if (const auto *g = std::get_if<Grid>(&b)) return *g;
    qFatal("no grid");
}

Sentence saying(const std::vector<Sentence> &all, std::string_view id) {
    for (const Sentence &s : all)
        if (s.words.id == id) return s;
    qFatal("nothing says %s", std::string(id).c_str());
}

WorstPlace placeOf(const FlowLook &look, std::string_view check) {
    for (const Verdict::Row &r : look.verdict->rows)
        if (r.check->id == check)
            return *std::ranges::min_element(r.outcome.byContent, {}, [&](const WorstPlace &p) {
                return std::abs(p.content - look.content);
            });
    qFatal("not judged");
}

} // namespace

/// What the pages say: their numbers against what they are made from, and every number's working.
class JobReportsTest : public QObject {
    Q_OBJECT
  private slots:
    void everyReportIsWhole_data();
    void everyReportIsWhole();
    void theWorstOfTheInjectorsIsTheVerdicts();
    void theLeastThatComesBackIsTheMaps();
    void boostStepsAreThePlans();
    void aSprayThatStopsIsSaid();
    void theMixtureStandsOnEveryScale();
    void conversionsSayWhatTheyLose();
    void differencesAreCounted();
    void theBudgetAddsUp();
    void stepsShowThreeDigits();
    void aWorkingSaysAllOfItself();
    void contentIsShownInItsHue();
    void otherInjectorsAreJudged();
    void otherBreakpointsAreCounted();
    void aMixtureNamesItsShares();
    void theVerdictComesFirst();
};

void JobReportsTest::everyReportIsWhole_data() {
    QTest::addColumn<int>("which");
    QTest::addColumn<double>("content");
    for (int which = 0; which < 3; ++which)
        for (const double content : {0.0, 0.4, 0.85, 1.0})
            QTest::addRow("%d at %g", which, content) << which << content;
}

// Whatever the job: every place of a text is filled, rows are as long as their heads, links lead to workings
// that say something.
void JobReportsTest::everyReportIsWhole() {
    QFETCH(int, which);
    QFETCH(double, content);
    const FlowLook look = lookAt(which == 0 ? demoJob() : which == 1 ? moorhen() : sprayed(), content);
    std::set<std::string_view> ids;
    for (const JobReport &kind : allJobReports()) {
        QVERIFY2(ids.insert(kind.id).second, kind.id.data());
        QCOMPARE(&jobReportById(kind.id), &kind);
        const WorkedReport made = kind.make(look, "2026-05-16");
        const std::string text = plainText(made.report, {});
        QVERIFY2(!made.report.blocks.empty() && text.find('{') == std::string::npos &&
                     text.find("nan") == std::string::npos && text.find("inf ") == std::string::npos,
                 text.c_str());
        if (made.report.title.id != "") QCOMPARE(made.report.title.id, kind.title.id);
        std::set<std::string> linked;
        for (const Sentence &s : sentencesOf(made.report))
            if (!s.link.empty()) {
                QVERIFY2(s.link.starts_with("working:"), s.link.c_str());
                QVERIFY2(linked.insert(s.link).second, s.link.c_str());
                const auto at = static_cast<std::size_t>(std::stoi(s.link.substr(8)));
                QVERIFY(at < made.workings.size());
                const Explanation x = made.workings[at]();
                QVERIFY2(!x.title.empty() && !x.formula.empty() && std::isfinite(x.result.value),
                         s.link.c_str());
            }
        QCOMPARE(linked.size(), made.workings.size()); // a working that nothing leads to is none
        for (const Block &b : made.report.blocks)
            if (const auto *g = std::get_if<Grid>(&b))
                for (const auto &row : g->rows)
                    QCOMPARE(row.size(), g->heads.size());
    }
    EXPECT_INPUT_ERROR(jobReportById("flow"), "flow.pumps");
}

void JobReportsTest::theWorstOfTheInjectorsIsTheVerdicts() {
    const FlowLook look = lookAt(demoJob(), 0.8);
    const WorkedReport made = injectorsReport(look);
    const WorstPlace duty = placeOf(look, "flow.duty");
    const Sentence s = sentencesOf(made.report).front();
    COMPARE_NEAR(s.words.values[0].value, duty.value, 1e-12);
    COMPARE_NEAR(s.words.values[1].value, 0.8, 1e-12);
    COMPARE_NEAR(s.words.values[2].value, duty.rpm, 1e-12);
    COMPARE_NEAR(s.words.values[3].value, duty.loadKpa, 1e-12);
    COMPARE_NEAR(made.workings[0]().result.value, duty.value, 1e-12);
    QVERIFY(said(s.words).starts_with("Injector duty 98.3 % at worst, "));
    // Which injector where: the rows are a permutation, the spread is what the rows say.
    const Job &job = look.study->job();
    std::set<std::string> names;
    double sum = 0;
    for (const auto &row : gridOf(made.report).rows) {
        names.insert(said(row[1].words));
        sum += std::pow(row[3].words.values[0].value, 2);
    }
    QCOMPARE(names.size(), job.measuredInjectors.size());
    const double spread = std::sqrt(sum / static_cast<double>(names.size()));
    COMPARE_NEAR(saying(sentencesOf(made.report), "flow.injectors.spread").words.values[0].value, spread,
                 1e-9);
    // Nothing judged yet: no number of it is said.
    const FlowLook early{look.study, nullptr, 0.8};
    QVERIFY(!says(sentencesOf(injectorsReport(early).report).front().words, "duty"));
}

void JobReportsTest::theLeastThatComesBackIsTheMaps() {
    const FlowLook look = lookAt(demoJob(), 0.4);
    const EngineMap map = returnFlow(*look.study, 0.4);
    const WorkedReport made = pumpsReport(look, map, FreezeLine{true, 210, 5000});
    double least = 1e9;
    for (std::size_t i = 0; i < map.value.size(); ++i)
        if (map.reached[i]) least = std::min(least, map.value[i]);
    const auto all = sentencesOf(made.report);
    const Sentence said_ = saying(all, "flow.pumps.least");
    COMPARE_NEAR(said_.words.values[1].value, least, 1e-12);
    const OperatingPoint at{0.4, said_.words.values[2].value, said_.words.values[3].value};
    COMPARE_NEAR(pumpFlowAt(look.study->job(), {at.rpm, at.loadKpa}) -
                     made.workings[0]().substituted.values[1].value,
                 least, 1e-9);
    COMPARE_NEAR(saying(all, "flow.pumps.share").words.values[0].value, placeOf(look, "flow.pump").value,
                 1e-12);
    QVERIFY(says(saying(all, "flow.pumps.freeze").words, "210 kPa and 5000 rpm"));
    QVERIFY(
        says(saying(sentencesOf(pumpsReport(look, map, {}).report), "flow.pumps.no_freeze").words, "enough"));
    Job sagging = demoJob();
    sagging.supply.commandedKpa = 300;
    sagging.supply.measuredKpa = 276; // 8 %
    const auto sag = sentencesOf(pumpsReport(lookAt(sagging, 0.4)).report);
    COMPARE_NEAR(saying(sag, "flow.pumps.sag").words.values[0].value, 0.08, 1e-12);
    QCOMPARE(saying(sag, "flow.pumps.at_its_end").tone, Tone::trouble);
    sagging.supply.measuredKpa = 290; // 3.3 %
    for (const Sentence &s : sentencesOf(pumpsReport(lookAt(sagging, 0.4)).report))
        QVERIFY(s.words.id != "flow.pumps.at_its_end");
}

void JobReportsTest::boostStepsAreThePlans() {
    const FlowLook look = lookAt(demoJob(), 0.85);
    const auto groups = boostGroups(look.study->job());
    const BoostGroup *group = boostGroupFor(groups, 0, 0.85);
    const BoostStepPlan plan = planBoostSteps(*look.study, *group, 0.85);
    const WorkedReport made = boostReport(look);
    const Grid grid = gridOf(made.report);
    QVERIFY(!plan.steps.empty());
    QCOMPARE(grid.rows.size(), plan.steps.size());
    for (std::size_t i = 0; i < plan.steps.size(); ++i) {
        const auto &row = grid.rows[i];
        QCOMPARE(said(row[0].words), std::to_string(i + 1));
        COMPARE_NEAR(row[1].words.values[0].value, plan.steps[i].duty, 1e-12);
        COMPARE_NEAR(row[2].words.values[0].value, plan.steps[i].boostKpa, 1e-12);
        COMPARE_NEAR(row[3].words.values[0].value, 2 * plan.steps[i].sigmaKpa, 1e-12);
        COMPARE_NEAR(row[4].words.values[0].value, plan.steps[i].cutKpa, 1e-12);
        QCOMPARE(row[5].words.empty(), !plan.steps[i].beyond);
    }
    const Sentence spring = sentencesOf(made.report).front();
    COMPARE_NEAR(spring.words.values[1].value, 2 * look.study->job().boost.springKpa, 1e-12);
    COMPARE_NEAR(spring.words.values[2].value, 3 * look.study->job().boost.springKpa, 1e-12);
}

void JobReportsTest::aSprayThatStopsIsSaid() {
    const FlowLook look = lookAt(sprayed(), 0.85);
    const auto cells = sprayMap(*look.study, 0.85);
    const auto all = sentencesOf(sprayReport(look, cells).report);
    const WorstPlace lost = placeOf(look, "aux.loss");
    COMPARE_NEAR(saying(all, "flow.spray.stops").words.values[0].value, lost.value, 1e-12);
    COMPARE_NEAR(saying(all, "flow.spray.full").words.values[0].value,
                 sprayFlowCcMin(look.study->job().aux.spray), 1e-12);
    QCOMPARE(saying(all, "flow.spray.fail_safe").tone, Tone::trouble);
    QVERIFY(says(saying(all, "flow.methanol").words, "poisonous"));
}

// 11.0 on the gasoline scale is λ 0.748: the handbook's chapter 2.
void JobReportsTest::theMixtureStandsOnEveryScale() {
    const double lambda = 11.0 / 14.7;
    const WorkedReport made =
        mixtureReport(lambda, 0.4, {{testing::phrase("gasoline"), 14.7}, {testing::phrase("true"), 12.3}},
                      [] { return explainLambda(1, 14.7, "x"); });
    const auto all = sentencesOf(made.report);
    QCOMPARE(said(all[0].words), std::string("λ 0.748"));
    QCOMPARE(said(all[1].words), std::string("Rich by 25.2 %, whatever the fuel."));
    QCOMPARE(said(all[2].words), std::string("11.00 gasoline"));
    QCOMPARE(said(all[3].words), std::string("9.20 true")); // 0.748299 · 12.3
}

void JobReportsTest::conversionsSayWhatTheyLose() {
    const Job job = demoJob();
    SchoolConversion c = convertSchool(job, {School::fuelModel, {}, 0.03});
    const Report made =
        conversionReport(job, {School::fuelModel, c.errors, TableResidual{0.02, 0.01, 0, 0, 0}, true});
    const Grid grid = gridOf(made);
    QCOMPARE(grid.rows.size(), c.errors.size());
    for (std::size_t i = 0; i < c.errors.size(); ++i) {
        const bool exact = std::abs(c.errors[i].worst) < 1e-9;
        QCOMPARE(grid.rows[i][1].words.id == "convert.exact", exact);
        if (!exact) COMPARE_NEAR(grid.rows[i][1].words.values[0].value, c.errors[i].worst, 1e-12);
    }
    // A chart for each that is not exact: the errors at every per cent, and the levels on its zero.
    ConversionLoss loss{School::stack, convertSchool(job, {School::stack, {0.1, 0.5, 0.85}, 0.03}).errors};
    loss.levels = {0.1, 0.5, 0.85};
    std::size_t charts = 0;
    const std::vector<ReportChart> drawn = conversionCharts(job, loss);
    for (const SchoolError &e : loss.errors) {
        if (std::abs(e.worst) < 1e-9) continue;
        const ReportChart &chart = drawn.at(charts++);
        QCOMPARE(said(chart.title), std::string(quantityTitle(e.quantity).text));
        QVERIFY(chart.lines[0].y == e.worstAt && chart.lines[1].y == e.meanAt);
        QCOMPARE(chart.lines[0].x.size(), std::size_t{101});
        COMPARE_NEAR(chart.lines[0].x[37], 0.37, 1e-12);
        QVERIFY(chart.lines[2].x == loss.levels && chart.lines[2].y == std::vector<double>(3, 0.0));
    }
    QVERIFY(charts > 0);
    QCOMPARE(drawn.size(), charts);
    SchoolError down; // an error downwards is one too
    down.worst = -1.5;
    const Grid one = gridOf(conversionReport(job, {School::stack, {down}}));
    COMPARE_NEAR(one.rows[0][1].words.values[0].value, -1.5, 0);
    const auto all = sentencesOf(made);
    COMPARE_NEAR(saying(all, "convert.fuel").words.values[0].value, 0.02, 1e-12);
    QVERIFY(says(saying(all, "convert.load_axis").words, "exactly"));
    for (const Sentence &s : all)
        QVERIFY(s.words.id != "convert.boost_axis");
}

void JobReportsTest::differencesAreCounted() {
    const Job job = demoJob();
    Job after = job;
    Table2D &spark = after.calibration.of(CalibratedQuantity::spark).base;
    spark.setCell({3, 4}, spark.cell(3, 4) + 2.5);
    spark.setCell({4, 4}, spark.cell(4, 4) - 1);
    after.engine.revLimitRpm += 100;
    const std::vector<Difference> all = differencesOf(job, after);
    QCOMPARE(all.size(), std::size_t{2});
    const auto saidOf = [&](const std::string &path) {
        return saidDifference(job, *std::ranges::find(all, path, &Difference::path));
    };
    const Phrase table = saidOf("calibration.spark.base");
    COMPARE_NEAR(table.values[0].value, 2, 0);
    COMPARE_NEAR(table.values[1].value, 2.5, 1e-12);
    QVERIFY(says(table, "Spark, base: 2 cells, at most 2.50° at "));
    QVERIFY(says(saidOf("engine.rev_limit_rpm"), "guarded"));
}

void JobReportsTest::theBudgetAddsUp() {
    const Job job = demoJob();
    const OperatingPoint at{0.5, 4000, 150};
    const SparkBudget b = sparkBudget(Study(job), at);
    const Grid grid = gridOf(budgetReport(b, at));
    for (std::size_t column = 1; column < 4; ++column) {
        double sum = 0;
        for (std::size_t i = 0; i + 1 < grid.rows.size(); ++i)
            sum += grid.rows[i][column].words.values[0].value;
        COMPARE_NEAR(grid.rows.back()[column].words.values[0].value, sum, 1e-9);
    }
}

void JobReportsTest::stepsShowThreeDigits() {
    QCOMPARE(said(number(stepOf(12.345, Dimension::sparkAngle))), std::string("12.3°"));
    QCOMPARE(said(number(stepOf(-0.012345, Dimension::mixture))), std::string("λ -0.0123"));
    QCOMPARE(said(number(stepOf(1234.5, Dimension::pressure))), std::string("1234 kPa"));
    QCOMPARE(said(number(stepOf(0, Dimension::sparkAngle))), std::string("0.00°"));
    UnitChoice psi;
    psi.pressureUnit = "psi_g"; // a step has no zero of the gauge
    QCOMPARE(format(number(stepOf(6.894757, Dimension::pressureGauge)), psi), std::string("1.00 psi"));
    QCOMPARE(differenceOf(Dimension::temperature), Dimension::temperatureDifference);
    QCOMPARE(differenceOf(Dimension::ratio), Dimension::ratio);
}

void JobReportsTest::aWorkingSaysAllOfItself() {
    const Explanation x = explainTube({50, 100, 80, 0.5, 0, 0.01});
    const Report made = workingReport(x);
    const std::string text = plainText(made, {});
    for (const Phrase &p : {x.title, x.formula, x.substituted, x.source, x.uncertainty, x.change})
        QVERIFY2(text.find(said(p)) != std::string::npos, said(p).c_str());
    const auto all = sentencesOf(made);
    QCOMPARE(all.front().tone, Tone::answer);
    COMPARE_NEAR(all.front().words.values[0].value, x.result.value, 1e-12);
    std::size_t inputs = 0;
    for (const Sentence &s : all)
        if (s.words.id == "working.input") {
            const ExplanationInput &i = x.inputs[inputs++];
            COMPARE_NEAR(s.words.values[0].value, i.value.value, 0);
            QCOMPARE(s.link, i.link);
            QCOMPARE(s.tone == Tone::leading, !i.link.empty());
        }
    QCOMPARE(inputs, x.inputs.size());
}

void JobReportsTest::contentIsShownInItsHue() {
    const WorkedReport made = tubeReport({50, 100, 80, 0.5, 0, 0.01}, false);
    const Sentence first = sentencesOf(made.report).front();
    QVERIFY(first.content.has_value());
    COMPARE_NEAR(*first.content, 0.6, 1e-12); // (80 − 50) / (100 − 50)
    QVERIFY(says(first.words, "E60"));
    QVERIFY(says(sentencesOf(tubeReport({50, 100, 80, 0.5, 0, 0.01}, true).report).front().words, "M60"));
    const Job job = demoJob();
    const Sentence tank = sentencesOf(tankReport(job).report).front();
    COMPARE_NEAR(*tank.content, uncertainTankNow(job).content().value, 1e-12);
    Job low = job;
    low.tank.reserveL = uncertainTankNow(job).volumeL().value + 1;
    const auto words = [](const Job &j) { return sentencesOf(tankWordsReport(j, opinionsOf(j))); };
    QCOMPARE(saying(words(low), "tank.reserve").tone, Tone::trouble);
    QVERIFY(words(job).front().words.id != "tank.reserve");
    const auto settling = gridOf(settlingReport(job, 0.1, 0.6).report);
    COMPARE_NEAR(settling.rows[0][2].words.values[0].value, settlingMinutes(fuelPathOf(job, false), 0.1, 0.6),
                 1e-12);
    COMPARE_NEAR(settling.rows[1][1].words.values[0].value,
                 injectorSettlingMinutes(fuelPathOf(job, true), 0.1, 0.6), 1e-12);
}

void JobReportsTest::otherInjectorsAreJudged() {
    NewInjectors larger;
    larger.flowCcMin = 1000;
    larger.linearMinMs = 3; // longer than any idle pulse of them
    const InjectorChange c = changeInjectors(demoJob(), larger);
    const auto all = sentencesOf(injectorChangeReport(c));
    const Sentence duty = saying(all, "injector_change.duty"), pulse = saying(all, "injector_change.pulse");
    COMPARE_NEAR(duty.words.values[0].value, c.dutyAfter, 0);
    COMPARE_NEAR(duty.words.values[1].value, c.dutyBefore, 0);
    QVERIFY(c.dutyAfter < c.dutyBefore);
    COMPARE_NEAR(pulse.words.values[0].value, c.shortestAfterMs, 0);
    COMPARE_NEAR(pulse.words.values[1].value, c.shortestBeforeMs, 0);
    QCOMPARE(saying(all, "injector_change.not_linear").tone, Tone::trouble);
    // VE tables do not know the injectors: 725 cc/min over 1000.
    QVERIFY(says(saying(all, "injector_change.stay").words, "multiply that by 0.7250"));
    Job pulses = changeFuelMeaning(demoJob(), FuelMeaning::pulseWidth).job;
    const InjectorChange rescaled = changeInjectors(pulses, larger);
    const Sentence remains = saying(sentencesOf(injectorChangeReport(rescaled)), "injector_change.rescaled");
    COMPARE_NEAR(remains.words.values[0].value, rescaled.residual.worst, 0);
    COMPARE_NEAR(remains.words.values[3].value, rescaled.residual.mean, 0);
}

void JobReportsTest::otherBreakpointsAreCounted() {
    const Job job = demoJob();
    const TableField field = tableIn(job, CalibratedQuantity::spark, false);
    const Regridded r = regrid(field.of(job), Axis({1000, 4000, 7000}), Axis({20, 100, 200, 260}));
    const Sentence s = sentencesOf(regridReport(field, r, false)).front();
    QVERIFY(says(s.words, "3 × 4 cells."));
    COMPARE_NEAR(s.words.values[2].value, r.worst, 0);
    COMPARE_NEAR(s.words.values[3].value, r.mean, 0);
    QVERIFY(says(sentencesOf(regridReport(field, r, true)).front().words, "breakpoints it has"));
    // An axis without a unit is named.
    TableField boost = tableIn(job, CalibratedQuantity::boost, false);
    Regridded by;
    by.x = 3000;
    by.y = 80;
    by.worst = 5;
    QVERIFY(says(sentencesOf(regridReport(boost, by, false)).front().words, "(3000 rpm, throttle 80)"));
}

void JobReportsTest::aMixtureNamesItsShares() {
    const Job job = demoJob();
    const std::vector<Fuel> shelf = shelfOf(job, "");
    const ComparedFuel half = mixed(job, shelf[0], shelf[1], 0.25); // 10 % and 78 % alcohol: 27 %
    QCOMPARE(said(sentencesOf(mixReport(shelf[0].name, shelf[1].name, 0.25, half)).front().words),
             std::string("75 % Pump premium, 25 % Seasonal high-ethanol: E27, M0"));
    ComparedFuel leaded = half;
    leaded.leaded = true;
    QVERIFY(says(sentencesOf(mixReport("a", "b", 0.25, leaded)).front().words, ", leaded"));
    const auto fuels = compareFuels(Study(job), "2026-05-16", {});
    for (const ComparedFuel &f : fuels) {
        const auto all = sentencesOf(mustChangeReport(f));
        std::size_t items = 0, cautions = 0;
        for (const Sentence &s : all) {
            items += s.words.id == "report.item";
            cautions += s.tone == Tone::caution;
        }
        QCOMPARE(items, f.mustChange.size());
        QCOMPARE(cautions, f.flags.size());
    }
}

void JobReportsTest::theVerdictComesFirst() {
    const auto v = verify(demoJob());
    const auto head = std::get<Heading>(verdictReport(*v).blocks.front());
    QCOMPARE(head.level, 0);
    QCOMPARE(said(head.words), said(v->sentences.front()));
    const std::string text = plainText(verdictReport(*v), {});
    for (const Phrase &p : v->sentences)
        QVERIFY(text.find(said(p)) != std::string::npos);
    QVERIFY(text.find(said(notJudged(*v))) != std::string::npos);
}

CORE_TEST_MAIN(JobReportsTest)
#include "job_reports_test.moc"
