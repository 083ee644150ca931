// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/error.h"
#include "core/base/limits.h"
#include "core/job/job_schema.h"
#include "core/job/old_ceilings.h"
#include "core/job/revision.h"
#include "core/study/content_tables.h"
#include "core/study/extra_tables.h"
#include "core/study/spark_budget.h"
#include "core/verify/spark_delivered.h"
#include "core/verify/troubled_places.h"
#include "core/verify/verdict.h"
#include "support/phrases.h"
#include "support/random_job.h"
#include "support/test_main.h"

#include <array>

using namespace wheelwright;
using namespace wheelwright::testing;
using enum CalibratedQuantity;

namespace {

ExtraTable standing(TableKind kind, const std::string &name, double content, Table2D table) {
    ExtraTable e;
    e.kind = kind;
    e.name = name;
    e.content = content;
    e.table = std::move(table);
    return e;
}

// The demo without what it says of its fuels.
Job withoutCeilings() {
    Job job = demoJob();
    job.extras.eraseIf([](const ExtraTable &e) { return definitionOf(e.kind).atContent; });
    return job;
}

// Between four cells by hand.
double byHand(const std::array<double, 4> &cells, double x, double y) {
    const double low = cells[0] + x * (cells[1] - cells[0]), high = cells[2] + x * (cells[3] - cells[2]);
    return low + y * (high - low);
}

WorstPlace at(const Verdict &v, std::string_view id, double content) {
    return findRow(v, id)->outcome.byContent[sliceNearest(v, content)];
}

CheckState stateAt(const Verdict &v, std::string_view id, double content) {
    return findRow(v, id)->byContent[sliceNearest(v, content)];
}

Verdict::Answer knock(const Job &job) {
    return *answerTo(*verify(job), QuestionId::knock);
}

} // namespace

/// What spark each fuel stands and where it is at its best: tables over speed and load, found at contents.
class CeilingsTest : public QObject {
    Q_OBJECT
  private slots:
    void betweenContentsAStraightLine();
    void theLeastOfTwoAtOneContent();
    void deliveredAtBestIsTheBudgets();
    void judgedCellByCellWithItsOwnCorrections();
    void theLargerOfMarginAndPlusMinus();
    void lessAlcoholThanAnyIsOpen();
    void guessesAndMissingRowsAreOpen();
    void lightLoadIsNotAsked();
    void pastBestSpark();
    void bestSparkWhereNobodyGoes();
    void fullLoadInThinAirIsAsked();
    void cautionsAreSaidBesideWhatIsNotJudged();
    void theFaultOfASensorMeetsTheCeilingOfTheTank();
    void oldCeilingsAreSpread();
    void oldStatesAreRead();
};

// Mid-points and contents between against arithmetic by hand.
void CeilingsTest::betweenContentsAStraightLine() {
    const std::array<double, 4> low{20, 24, 12, 18}, high{28, 30, 21, 26};
    Job job = withoutCeilings();
    const Axis x({3000, 5000}), y({100, 200});
    job.extras.push_back(
        standing(TableKind::sparkCeiling, "b", 0.7, Table2D(x, y, {high.begin(), high.end()})));
    job.extras.push_back(
        standing(TableKind::sparkCeiling, "a", 0.2, Table2D(x, y, {low.begin(), low.end()})));
    const ContentTables tables(job, TableKind::sparkCeiling);
    QCOMPARE(tables.levels().size(), std::size_t{2});
    QCOMPARE(tables.lowest(), 0.2);
    COMPARE_NEAR(tables.at({0.2, 4000, 150}), byHand(low, 0.5, 0.5), 1e-12);
    COMPARE_NEAR(tables.at({0.45, 4000, 150}), (byHand(low, 0.5, 0.5) + byHand(high, 0.5, 0.5)) / 2, 1e-12);
    COMPARE_NEAR(tables.at({0.3, 3500, 180}), 0.8 * byHand(low, 0.25, 0.8) + 0.2 * byHand(high, 0.25, 0.8),
                 1e-12);
    COMPARE_NEAR(tables.at({0.05, 3000, 100}), 20, 1e-12); // beyond the ends the nearer one
    COMPARE_NEAR(tables.at({1, 9000, 900}), 26, 1e-12);
    // The sweep reads the same.
    const Study study(job);
    const Evaluation &e = study.evaluation();
    const SampledContentTables sampled(e, TableKind::sparkCeiling);
    for (std::size_t c = 0; c < e.slices().size(); c += 9) {
        const ContentSlice &s = e.slices()[c];
        const BlendedPoints blended = sampled.at(s.content);
        visitReachable(e, s, [&](const auto &p) {
            COMPARE_NEAR(p.of(blended), tables.at({s.content, p.rpm, p.loadKpa}), 1e-9);
        });
    }
}

void CeilingsTest::theLeastOfTwoAtOneContent() {
    Job job = withoutCeilings();
    const Axis x({3000, 5000}), y({100});
    job.extras.push_back(standing(TableKind::sparkCeiling, "north", 0.1, Table2D(x, y, {20, 30})));
    job.extras.push_back(standing(TableKind::sparkCeiling, "south", 0.1, Table2D(x, y, {24, 26})));
    job.extras[job.extras.size() - 1].plusMinus = 2;
    const ContentTables tables(job, TableKind::sparkCeiling);
    QCOMPARE(tables.levels().size(), std::size_t{1});
    COMPARE_NEAR(tables.at({0.1, 3000, 100}), 20, 1e-12);
    COMPARE_NEAR(tables.at({0.5, 5000, 100}), 26, 1e-12);
    QCOMPARE(tables.plusMinusAt(0.1), 2.0);
    const Study study(job);
    const SampledContentTables sampled(study.evaluation(), TableKind::sparkCeiling);
    const GridPoint p = study.evaluation().gridPoint(0, 0);
    COMPARE_NEAR(p.of(sampled.at(0.3)), tables.at({0.3, p.rpm, p.loadKpa}), 1e-12);
}

// The same as the chain that the Tables station shows, at every point and with every kind of step.
void CeilingsTest::deliveredAtBestIsTheBudgets() {
    Job job = demoJob();
    const Axis rpm({1000, 4000, 7000}), load({60, 150, 240});
    std::vector<double> low;
    for (int i = 0; i < 9; ++i)
        low.push_back(3 + i * 1.5);
    job.extras.push_back(standing(TableKind::sparkFallback, "low octane", 0, Table2D(rpm, load, low)));
    job.extras.push_back(standing(TableKind::sparkCylinder, "cylinders", 0,
                                  Table2D(Axis({1, 2, 3, 4}), Axis({0}), {-1, 0.5, 0, 1})));
    for (ExtraTable &e : job.extras)
        if (e.kind == TableKind::sparkIntake)
            e.table = Table2D(Axis({0, 40, 80}), Axis({60, 130, 220}), {3, 0, -2, 1, 0, -3, -1, 1, -4});
    job.sparkDelivery.fallbackUsual = 0.8;
    job.sparkDelivery.fallbackWorst = 0.3;
    job.sparkDelivery.baseTimingErrorDeg = -0.75;
    validate(job);
    const Study study(job);
    const Evaluation &e = study.evaluation();
    const BestDelivered best(e);
    for (std::size_t c = 5; c < e.slices().size(); c += 31) {
        const ContentSlice &s = e.slices()[c];
        visitReachable(e, s, [&](const auto &p) {
            COMPARE_NEAR(best.at(p, p.of(s.spark)), sparkBudget(study, {s.content, p.rpm, p.loadKpa}).bestDeg,
                         1e-9);
        });
    }
}

// A ceiling that is low in one cell fails there, by what that cell delivers.
void CeilingsTest::judgedCellByCellWithItsOwnCorrections() {
    Job job = withoutCeilings();
    const Axis rpm({2000, 4000, 6000}), load({100, 180, 260});
    Table2D stands = Table2D::uniform(rpm, load, 55);
    job.extras.push_back(standing(TableKind::sparkCeiling, "E10", 0.1, stands));
    job.extras.push_back(standing(TableKind::sparkCeiling, "E85", 0.85, stands));
    QVERIFY(at(*verify(job), "spark.ceiling", 0.5).margin == 1);
    job.extras[job.extras.size() - 1].table.setCell({1, 1}, 14);
    const auto v = verify(job);
    const WorstPlace worst = at(*v, "spark.ceiling", 0.85);
    QCOMPARE(worst.rpm, 4000.0);
    QCOMPARE(worst.loadKpa, 180.0);
    const double delivered = sparkBudget(*v->study, {0.85, 4000, 180}).bestDeg;
    COMPARE_NEAR(worst.value, delivered, 1e-9);
    COMPARE_NEAR(worst.limit, 14 - limitOf(job, "spark.ceiling.margin"), 1e-9);
    COMPARE_NEAR(worst.margin, 13 - delivered, 1e-9);
    QVERIFY(worst.margin < 0 && at(*v, "spark.ceiling", 0.1).margin == 1);
    // The working is the same arithmetic, and names the tables.
    const Explanation x = findRow(*v, "spark.ceiling")->check->explain(v->study->evaluation(), worst);
    const std::vector<Measured> &n = x.substituted.values;
    QCOMPARE(n.size(), std::size_t{5});
    COMPARE_NEAR(n[0].value + n[1].value, n[2].value, 1e-9);
    COMPARE_NEAR(n[2].value, delivered, 1e-9);
    COMPARE_NEAR(n[3].value, 14, 1e-9);
    COMPARE_NEAR(n[3].value - n[4].value, worst.limit, 1e-9);
    QVERIFY(std::ranges::any_of(x.inputs, [](const ExplanationInput &i) {
        return testing::said(i.title) == "E85, found at E85" && i.value.value == 14;
    }));
}

void CeilingsTest::theLargerOfMarginAndPlusMinus() {
    Job job = withoutCeilings();
    job.extras.push_back(
        standing(TableKind::sparkCeiling, "c", 0, Table2D::uniform(Axis({3000}), Axis({100, 300}), 50)));
    const double bare = at(*verify(job), "spark.ceiling", 0.5).limit;
    COMPARE_NEAR(bare, 49, 1e-9);
    job.extras[job.extras.size() - 1].plusMinus = 0.4; // better known than the margin asks
    COMPARE_NEAR(at(*verify(job), "spark.ceiling", 0.5).limit, 49, 1e-9);
    job.extras[job.extras.size() - 1].plusMinus = 2.5;
    COMPARE_NEAR(at(*verify(job), "spark.ceiling", 0.5).limit, 47.5, 1e-9);
}

// A fuel with less alcohol than any that was looked at has less octane: nobody knows what it stands. It still
// fails where it is over the ceiling of the better fuel.
void CeilingsTest::lessAlcoholThanAnyIsOpen() {
    Job job = withoutCeilings();
    job.extras.push_back(
        standing(TableKind::sparkCeiling, "c", 0.2, Table2D::uniform(Axis({3000}), Axis({100, 300}), 55)));
    const auto v = verify(job);
    QCOMPARE(stateAt(*v, "spark.ceiling", 0.19), CheckState::notJudged);
    QCOMPARE(stateAt(*v, "spark.ceiling", 0.2), CheckState::held);
    QCOMPARE(stateAt(*v, "spark.ceiling", 1), CheckState::held);
    QVERIFY(says(inWords(*v),
                 "Knock is not judged from E0 to E19: no ceiling was found on a fuel with as little "
                 "alcohol"));
    QVERIFY(!answered(*v)); // the base tables are for E10
    job.extras[job.extras.size() - 1].table = Table2D::uniform(Axis({3000}), Axis({100, 300}), 8);
    QCOMPARE(stateAt(*verify(job), "spark.ceiling", 0.05), CheckState::failing);
}

void CeilingsTest::guessesAndMissingRowsAreOpen() {
    Job job = withoutCeilings();
    job.extras.push_back(newExtraTable(TableKind::sparkCeiling, "new"));
    QCOMPARE(knock(job).state, CheckState::notJudged); // 40° everywhere, which nobody has said
    const std::size_t last = job.extras.size() - 1;
    const Axis rpm({3000});
    job.extras[last].table = Table2D::uniform(rpm, Axis({100, 180}), 55);
    const Verdict::Answer low = knock(job); // said up to 180 kPa; the engine goes past it
    QVERIFY(low.open[50] && low.byContent[50] == CheckState::notJudged);
    job.extras[last].table = Table2D::uniform(rpm, Axis({100, 260}), 55);
    QVERIFY(!knock(job).open[50]);
    job.extras[last].table.setOrigin({0, 1}, CellOrigin::estimated);
    QVERIFY(knock(job).open[50]);
    for (const CellOrigin how : {CellOrigin::typed, CellOrigin::knockSeen, CellOrigin::sweep}) {
        job.extras[last].table.setOrigin({0, 1}, how);
        QVERIFY(!knock(job).open[50]);
    }
}

void CeilingsTest::lightLoadIsNotAsked() {
    Job job = withoutCeilings();
    // 30° where somebody began to look, and more than that is delivered at 40 kPa.
    job.extras.push_back(
        standing(TableKind::sparkCeiling, "c", 0, Table2D::uniform(Axis({3000}), Axis({100, 300}), 32)));
    QVERIFY(sparkBudget(Study(job), {0.5, 6000, 40}).bestDeg > 32);
    QVERIFY(at(*verify(job), "spark.ceiling", 0.5).loadKpa >= 100);
    job.extras[job.extras.size() - 1].table = Table2D::uniform(Axis({3000}), Axis({20, 300}), 32);
    QVERIFY(at(*verify(job), "spark.ceiling", 0.5).loadKpa < 100);
    // One that begins under boost holds its first row from 100 kPa on.
    job.extras[job.extras.size() - 1].table = Table2D::uniform(Axis({3000}), Axis({200, 300}), 25);
    const WorstPlace worst = at(*verify(job), "spark.ceiling", 0.5);
    QVERIFY(worst.loadKpa >= 100 && worst.loadKpa < 200 && worst.margin < 0);
}

void CeilingsTest::pastBestSpark() {
    Job job = withoutCeilings();
    const auto best = [&](double deg) {
        job.extras.eraseIf([](const ExtraTable &e) { return e.kind == TableKind::sparkBest; });
        job.extras.push_back(standing(TableKind::sparkBest, "best", 0.5,
                                      Table2D::uniform(Axis({4000}), Axis({100, 150}), deg)));
        return at(*verify(job), "spark.best", 0.85);
    };
    const double tolerance = limitOf(job, "spark.best.tolerance");
    const WorstPlace held = best(40);
    QVERIFY(held.loadKpa >= 100 && held.loadKpa <= 150); // no sweep was made elsewhere
    COMPARE_NEAR(held.limit, 40 + tolerance, 1e-9);
    const double most = held.value;
    QCOMPARE(checkById("spark.best")->state(held), CheckState::held);
    const WorstPlace past = best(most - 1);
    QCOMPARE(checkById("spark.best")->state(past), CheckState::caution);
    COMPARE_NEAR(past.margin, (tolerance - 1) / tolerance, 1e-6);
    QCOMPARE(checkById("spark.best")->state(best(most - tolerance - 0.5)), CheckState::failing);
    const auto v = verify(job);
    const Explanation x =
        findRow(*v, "spark.best")->check->explain(v->study->evaluation(), at(*v, "spark.best", 0.85));
    COMPARE_NEAR(x.substituted.values[3].value + x.substituted.values[4].value,
                 at(*v, "spark.best", 0.85).limit, 1e-9);
    QVERIFY(says(x.change, "less costs no torque here"));
}

// A sweep over all that the engine reaches says nothing of this engine.
void CeilingsTest::bestSparkWhereNobodyGoes() {
    Job job = withoutCeilings();
    job.extras.push_back(
        standing(TableKind::sparkBest, "best", 0.5, Table2D::uniform(Axis({4000}), Axis({600, 700}), 10)));
    const auto v = verify(job);
    const Verdict::Row &row = *findRow(*v, "spark.best");
    QVERIFY(!row.outcome.worst().asked);
    QCOMPARE(row.state, CheckState::notJudged);
    for (std::size_t i = 0; i < v->contents.size(); ++i)
        QVERIFY(row.byContent[i] == CheckState::notJudged && worstAt(*v, v->contents[i]).row != &row);
    QVERIFY(says(missingFor(*row.check, *v), "where spark is at its best"));
    QVERIFY(std::ranges::any_of(v->next, [](const Need *n) { return n->id == "best_spark"; }));
}

// At 82 kPa of air a natural engine is at full load long before 100: ceilings and heat are asked there.
void CeilingsTest::fullLoadInThinAirIsAsked() {
    Job job = withoutCeilings();
    job.conditions.ambientKpa = 82;
    for (Table2D *t : {&job.calibration.of(boost).base, &job.calibration.of(boost).top})
        *t = Table2D::uniform(t->x(), t->y(), 82);
    job.extras.push_back(
        standing(TableKind::sparkCeiling, "c", 0, Table2D::uniform(Axis({3000}), Axis({100, 300}), 5)));
    job.extras.eraseIf([](const ExtraTable &e) { return e.kind == TableKind::sparkIntake; });
    ExtraTable air = standing(TableKind::sparkIntake, "air", 0,
                              Table2D(Axis({20, 80}), Axis({50, 100}), std::vector<double>{0, 3, 0, 3}));
    job.extras.push_back(air);
    const auto v = verify(job);
    const WorstPlace knocks = at(*v, "spark.ceiling", 0.5), hot = at(*v, "correct.protect", 0.5);
    QVERIFY(knocks.asked && knocks.margin < 0);
    COMPARE_NEAR(knocks.loadKpa, 82, 1e-9);
    QVERIFY(hot.asked && hot.margin < 0);
    COMPARE_NEAR(hot.loadKpa, 82, 1e-9);
}

// What is not judged at one content does not hide a caution at another, however near its limit it is.
void CeilingsTest::cautionsAreSaidBesideWhatIsNotJudged() {
    Job job = flatJob();
    job.extras.eraseIf([](const ExtraTable &e) { return e.kind == TableKind::sparkBest; });
    const Axis rpm({1000, 7000}), load({20, 400});
    const double tolerance = limitOf(job, "spark.best.tolerance"), spark = 15;
    ExtraTable guess =
        standing(TableKind::sparkBest, "guess", 0.3, Table2D::uniform(rpm, load, spark - 0.9 * tolerance));
    ExtraTable stated =
        standing(TableKind::sparkBest, "said", 0.6, Table2D::uniform(rpm, load, spark - 0.5 * tolerance));
    stated.table.setOrigins(std::vector(4, CellOrigin::typed));
    guess.table.setOrigins({CellOrigin::typed, CellOrigin::estimated, CellOrigin::typed, CellOrigin::typed});
    job.extras.push_back(guess);
    job.extras.push_back(stated);
    const auto v = verify(job);
    QCOMPARE(stateAt(*v, "spark.best", 0.3), CheckState::notJudged);
    QCOMPARE(stateAt(*v, "spark.best", 0.8), CheckState::caution);
    QVERIFY(at(*v, "spark.best", 0.3).uncapped < at(*v, "spark.best", 0.8).uncapped);
    const Verdict::Row &row = *findRow(*v, "spark.best");
    QCOMPARE(row.state, CheckState::notJudged);
    COMPARE_NEAR(row.worstIn(CheckState::caution, 0, v->contents.size() - 1)->margin, 0.5, 1e-6);
    QVERIFY(!row.worstIn(CheckState::failing, 0, v->contents.size() - 1));
    const auto places = troubledPlaces(*v);
    QVERIFY(std::ranges::any_of(places, [&](const TroubledPlace &p) { return p.check == row.check; }));
    // Every content with a caution and nothing worse is named with it.
    QVERIFY2(std::ranges::any_of(v->sentences,
                                 [](const Phrase &p) { return says(p, "caution") && says(p, "best spark"); }),
             said(inWords(*v)).c_str());
}

// The sensor says 10 % more than there is: what is delivered for that is held against what the tank stands.
void CeilingsTest::theFaultOfASensorMeetsTheCeilingOfTheTank() {
    Job job = withoutCeilings();
    job.contentSensing = {SensorFaultRule::holdLast, 0, 0.01, 0.01, 0.99, true};
    job.limits["content.fault.lean"] = 1;
    const Axis rpm({3000}), load({100, 300});
    job.extras.push_back(standing(TableKind::sparkCeiling, "E10", 0.1, Table2D::uniform(rpm, load, 40)));
    job.extras.push_back(standing(TableKind::sparkCeiling, "E60", 0.6, Table2D::uniform(rpm, load, 25)));
    const auto v = verify(job);
    const WorstPlace fault = at(*v, "content.sensor_fault", 0.6);
    QVERIFY(fault.other == Dimension::sparkAngle);
    COMPARE_NEAR(fault.limit, 25, 1e-9);
    // Under the lowest content, and on guesses, no ceiling counts: a degree over what that fuel gets.
    const auto ofFuel = [&](const Job &of, double content) {
        const auto judged = verify(of);
        const WorstPlace p = at(*judged, "content.sensor_fault", content);
        return p.limit - blendedPoint(*judged->study, {p.content, p.rpm, p.loadKpa}).sparkDeg;
    };
    COMPARE_NEAR(ofFuel(job, 0.05), 1, 1e-9);
    Job guess = job;
    guess.extras[guess.extras.size() - 1].table.setOrigin({0, 0}, CellOrigin::assumed);
    COMPARE_NEAR(ofFuel(guess, 0.6), 1, 1e-9);
    // The engine goes where the believed content takes it, and is given the spark of that.
    double most = 0;
    for (const double content : {0.5, 0.7}) {
        const Study &study = *v->study;
        const auto slice = std::ranges::find_if(study.evaluation().slices(), [&](const ContentSlice &s) {
            return std::abs(s.content - content) < 1e-9;
        });
        visitReachable(study.evaluation(), *slice, [&](const auto &p) {
            if (p.loadKpa >= 100)
                most = std::max(most, sparkBudget(study, {content, p.rpm, p.loadKpa}).bestDeg);
        });
    }
    COMPARE_NEAR(fault.value, most, 0.2); // looked at its breakpoints and its edge
}

// Over content and load before version 10: each content becomes a table, the same at all speeds.
void CeilingsTest::oldCeilingsAreSpread() {
    Job job = withoutCeilings();
    const std::size_t others = job.extras.size();
    ExtraTable old = standing(TableKind::sparkCeiling, "Stands", 0,
                              Table2D(Axis({0.1, 0.5, 0.85}), Axis({100, 200}), {30, 34, 38, 20, 25.5, 31}));
    old.table.setOrigins({CellOrigin::typed, CellOrigin::typed, CellOrigin::typed, CellOrigin::unknown,
                          CellOrigin::estimated, CellOrigin::unknown});
    job.extras.insertAt(1, old);
    job.cellMarks.push_back({"calibration.extras.Stands", 0.5, 200, true, "heard it here"});
    const std::size_t marks = job.cellMarks.size();
    spreadOldCeilings(job);
    QCOMPARE(job.extras.size(), others + 3);
    const Axis &rpm = job.calibration.of(spark).base.x();
    for (std::size_t c = 0; c < 3; ++c) {
        const ExtraTable &e = job.extras[1 + c];
        QCOMPARE(e.content, old.table.x()[c]);
        QVERIFY(e.table.x() == rpm && e.table.y() == old.table.y());
        for (std::size_t y = 0; y < 2; ++y)
            for (std::size_t x = 0; x < rpm.size(); ++x) {
                QCOMPARE(e.table.cell(x, y), old.table.cell(c, y));
                QVERIFY(e.table.origin({x, y}) == old.table.origin({c, y}));
            }
    }
    QCOMPARE(job.extras[2].name, std::string("Stands, 50 %"));
    QCOMPARE(job.cellMarks.size(), marks - 1 + rpm.size());
    QCOMPARE(job.cellMarks[marks - 1].table, std::string("calibration.extras.Stands, 50 %"));
    validate(job);
    const Job once = job;
    spreadOldCeilings(job); // those of today stay
    QVERIFY(job == once);
}

// A state kept before tables had a content ends before it.
void CeilingsTest::oldStatesAreRead() {
    Job job = demoJob();
    keepRevision(job, "now", "2001-02-03T04:05:06Z", "", false);
    std::string state = job.revisions[0].state.text();
    const std::size_t line = state.find("calibration.extras\tspark_coolant\t"), end = state.find('\n', line);
    const std::string now = state.substr(line, end - line);
    QVERIFY(now.ends_with("\t0\t0"));
    state.replace(line, end - line, now.substr(0, now.size() - 4));
    state += "calibration.extras\tspark_ceiling\tOld\tx 0.1 0.85; y 100 300; cells 29 37 11 23\n";
    job.revisions[0].state = state;
    const Job back = restored(job, job.revisions[0]);
    QVERIFY(*extraInUse(back, TableKind::sparkCoolant) == *extraInUse(demoJob(), TableKind::sparkCoolant));
    const ContentTables ceilings(back, TableKind::sparkCeiling);
    COMPARE_NEAR(ceilings.at({0.85, 3000, 300}), std::min(23.0, ceilings.at({0.85, 3000, 300})), 1e-12);
    QCOMPARE(back.extras.size(), demoJob().extras.size() + 2);
    // What it never had is no reason to take a damaged line for an old one.
    state.replace(state.find("\tspark_coolant\t"), 15, "\t");
    job.revisions[0].state = state;
    EXPECT_INPUT_ERROR(restored(job, job.revisions[0]), "calibration.extras 2 kind");
}

CORE_TEST_MAIN(CeilingsTest)
#include "ceilings_test.moc"
