// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/error.h"
#include "core/job/job_change.h"
#include "core/job/job_schema.h"
#include "core/job/named_tables.h"
#include "core/report/calibration_reports.h"
#include "core/study/cell_trust.h"
#include "core/study/job_template.h"
#include "core/tables/region_edit.h"
#include "core/tables/table_kind.h"
#include "core/verify/verdict.h"
#include "formats/job_json.h"
#include "support/phrases.h"
#include "support/random_job.h"
#include "support/test_main.h"

#include <QFile>

#include <algorithm>
#include <set>

using namespace wheelwright;
using namespace wheelwright::testing;
using enum CalibratedQuantity;

namespace {

Job moorhen() {
    QFile file(QStringLiteral(SOURCE_DIR "/data/demo/moorhen.json"));
    if (!file.open(QIODevice::ReadOnly)) qFatal("no mechanical demo");
    return jobFromJson(file.readAll().toStdString());
}

// A job of which nothing is unsaid that a question turns on.
Job everythingSaid() {
    Job job = demoJob();
    job.injectors.flowCcMin = 1100;
    job.injectors.linearMinMs = 0;
    std::vector<FittedPump> pumps = job.supply.pumps;
    pumps[0].count = 2;
    job.supply.pumps = pumps;
    job.limits["content.fault.lean"] = 0.6;
    job.contentSensing = {SensorFaultRule::holdLast, 0, 0.01, 0.01, 0.99, true};
    job.extras.eraseIf([](const ExtraTable &e) { return definitionOf(e.kind).atContent; });
    ExtraTable ceiling = newExtraTable(TableKind::sparkCeiling, "Ceiling");
    ceiling.table = Table2D::uniform(ceiling.table.x(), Axis({100, 300}), 55);
    job.extras.push_back(ceiling);
    validate(job);
    return job;
}

std::string wordsOf(const Verdict &v) {
    return plainText(verdictReport(v), {});
}

std::set<std::string_view> missing(const Verdict &v, QuestionId question) {
    std::set<std::string_view> ids;
    for (const Need *n : answerTo(v, question)->missing)
        ids.insert(n->id);
    return ids;
}

} // namespace

/// What is judged, what is not, and that nothing sounds better than it is.
class QuestionsTest : public QObject {
    Q_OBJECT
  private slots:
    void listsFitTogether();
    void nothingIsCalledClearedWhileAQuestionIsOpen();
    void anEstimatedJobAnswersNothing();
    void aFlatJobAnswersNothing();
    void theDemoFailsAndLeavesTwoOpen();
    void theBoatIsJudgedForItsMixtureOnly();
    void whatIsSaidIsJudged();
    void oneGuessedCellWhereTheEngineGoesIsEnough();
    void arithmeticOnGuessesIsAGuess();
    void aFailureBreaksThroughGuesses();
    void whatUnlocksMostComesFirst();
    void beyondTheTablesIsSaidApart();
    void statementsAreKeptOnce();
};

void QuestionsTest::listsFitTogether() {
    std::set<std::string_view> used, ids;
    for (const Check *c : allChecks())
        for (const std::string_view id : c->needs)
            used.insert(needById(id).id);
    for (const Need &n : allNeeds()) {
        QVERIFY2(ids.insert(n.id).second, n.id.data());
        QVERIFY2(used.contains(n.id) || n.id == "elsewhere" || n.id == "no_sensor", n.id.data());
        QVERIFY(!n.missing.empty() && !n.find.empty());
        // Where it goes is a place of the job.
        const std::string place(n.place);
        const bool quantity = std::ranges::any_of(allQuantities, [&](CalibratedQuantity q) {
            return place == "calibration." + std::string(quantityId(q));
        });
        const bool extra = std::ranges::any_of(allTableKinds(), [&](const TableKindDefinition &d) {
            return place == "calibration.extras." + std::string(d.id);
        });
        QVERIFY2(quantity || extra || fieldByPath(place) || curveByPath(place) || recordListByPath(place),
                 n.id.data());
    }
    for (const Question &q : allQuestions()) {
        QVERIFY(definitionOf(q.id).name == q.name && q.help.text.ends_with("?"));
        QVERIFY(std::ranges::any_of(allChecks(),
                                    [&](const Check *c) { return c->answers == q.id && c->essential; }));
    }
    EXPECT_INPUT_ERROR(needById("luck"), "luck");
}

// No sentence, band, print or exit code: over jobs of every kind.
void QuestionsTest::nothingIsCalledClearedWhileAQuestionIsOpen() {
    std::vector<Job> jobs{newJob("new"), demoJob(), moorhen(), flatJob(), everythingSaid(), templateJob({})};
    for (unsigned seed = 0; seed < 8; ++seed)
        jobs.push_back(randomJob(seed));
    for (const Need &n : allNeeds()) { // each thing unsaid by itself, where a field says it
        Job job = everythingSaid();
        if (!isStated(job, n.place)) continue;
        job.stated.eraseIf([&](const Statement &s) { return s.path == n.place; });
        jobs.push_back(job);
    }
    std::size_t open = 0;
    for (const Job &job : jobs) {
        const auto v = verify(job);
        const std::string words = wordsOf(*v);
        for (const char *kind : {"safe", "Safe", "cleared", "Cleared"})
            QVERIFY2(words.find(kind) == std::string::npos, words.c_str());
        for (const Verdict::Answer &a : v->answers) {
            if (a.question->beside) continue;
            const bool anywhere = std::ranges::any_of(a.open, std::identity{});
            open += anywhere;
            QCOMPARE(anywhere, !a.missing.empty());
            QVERIFY2(!anywhere || words.find(said(a.question->title) + " is not judged") != std::string::npos,
                     words.c_str());
            for (std::size_t i = 0; i < v->contents.size(); ++i) {
                QVERIFY(!a.open[i] || a.byContent[i] >= CheckState::notJudged);
                QVERIFY(v->overall[i] >= a.byContent[i]);
                const bool inside =
                    v->contents[i] >= v->baseContent - 1e-9 && v->contents[i] <= v->topContent + 1e-9;
                QVERIFY(!inside || a.state >= a.byContent[i]);
            }
            QVERIFY(!answered(*v) || a.state <= CheckState::caution);
        }
        for (const auto &[from, to] : v->holdsRanges)
            for (const Verdict::Row &row : v->rows)
                if (!definitionOf(row.check->answers).beside)
                    for (const WorstPlace &p : row.outcome.byContent)
                        QVERIFY(p.content < from || p.content > to || p.margin >= 0);
    }
    QVERIFY(open > 50);
}

void QuestionsTest::anEstimatedJobAnswersNothing() {
    EngineTemplate known;
    known.stated.assign(templateFields.begin(), templateFields.end());
    const auto v = verify(templateJob(known));
    QVERIFY(said(inWords(*v)).starts_with("No question is answered: "));
    QVERIFY(v->holdsRanges.empty() && !answered(*v));
    for (const Verdict::Answer &a : v->answers)
        QVERIFY2(a.state >= CheckState::notJudged, a.question->name.data());
    // What the template made up for its own checks is nobody's word.
    const auto boost = missing(*v, QuestionId::boost);
    for (const std::string_view id : {"boost_limit", "map_sensor", "cut", "spring", "boost_tables"})
        QVERIFY2(boost.contains(id), id.data());
    QVERIFY(!boost.contains("engine")); // that was said
    QVERIFY(missing(*v, QuestionId::knock).contains("ceilings"));
}

void QuestionsTest::aFlatJobAnswersNothing() {
    const auto v = verify(newJob("x"));
    for (const Verdict::Answer &a : v->answers)
        QCOMPARE(a.state, CheckState::notJudged);
    QVERIFY(!answered(*v) && v->holdsRanges.empty());
    // A document that names spark alone says nothing of the rest.
    Job job = newJob("x");
    job.calibration.of(spark).base.setOrigins({});
    job.calibration.of(spark).top.setOrigins({});
    const auto only = verify(job);
    QVERIFY(!missing(*only, QuestionId::knock).contains("spark_tables"));
    QVERIFY(missing(*only, QuestionId::knock).contains("ceilings"));
    QVERIFY(missing(*only, QuestionId::mixture).contains("fuel_tables"));
}

void QuestionsTest::theDemoFailsAndLeavesTwoOpen() {
    const auto v = verify(demoJob());
    QVERIFY(
        said(inWords(*v))
            .starts_with("Holds every judged limit from E2 to E29 and from E53 to E74. Knock is not judged "
                         "from E0 to E9: no ceiling was found on a fuel with as little alcohol, and its "
                         "octane is lower. "
                         "Sensor and fallback is not judged: the job does not say what the controller "
                         "does on a fault. "));
    QCOMPARE(answerTo(*v, QuestionId::mixture)->state, CheckState::held);
    QCOMPARE(answerTo(*v, QuestionId::boost)->state, CheckState::held);
    QCOMPARE(answerTo(*v, QuestionId::fuelSupply)->state, CheckState::failing);
    QCOMPARE(answerTo(*v, QuestionId::fuelSupply)->byContent[sliceNearest(*v, 0.65)], CheckState::caution);
    const Verdict::Answer &knock = *answerTo(*v, QuestionId::knock);
    QCOMPARE(knock.state, CheckState::failing);
    QCOMPARE(knock.byContent[sliceNearest(*v, 0.2)], CheckState::held);
    QCOMPARE(knock.byContent[sliceNearest(*v, 0.4)], CheckState::failing);
    QCOMPARE(knock.byContent[sliceNearest(*v, 0.05)], CheckState::notJudged);
}

void QuestionsTest::theBoatIsJudgedForItsMixtureOnly() {
    const auto v = verify(moorhen());
    QCOMPARE(answerTo(*v, QuestionId::mixture)->state, CheckState::caution);
    QCOMPARE(answerTo(*v, QuestionId::knock)->state, CheckState::notJudged);
    QCOMPARE(answerTo(*v, QuestionId::boost)->state, CheckState::notJudged);
    QVERIFY(!answerTo(*v, QuestionId::fuelSupply) && !answerTo(*v, QuestionId::sensor) && !answered(*v));
    // At its own fuel alone: nothing reads another content.
    QCOMPARE(v->contents, std::vector<double>{1});
    QVERIFY2(said(inWords(*v)).starts_with("Holds every judged limit at M100. Knock is not judged: "),
             said(inWords(*v)).c_str());
    QVERIFY(says(inWords(*v), "At M100, caution: mixture over speed"));
    Job unsaid = moorhen();
    unsaid.stated = {};
    stateEverything(unsaid);
    std::vector<Statement> stated;
    for (const Statement &s : unsaid.stated)
        if (s.path != "mechanical.nozzle_place") stated.push_back(s);
    unsaid.stated = stated;
    QCOMPARE(answerTo(*verify(unsaid), QuestionId::mixture)->state, CheckState::notJudged);
}

void QuestionsTest::whatIsSaidIsJudged() {
    const auto v = verify(everythingSaid());
    for (const Verdict::Answer &a : v->answers)
        if (!a.question->beside)
            QVERIFY2(a.state <= CheckState::caution && a.missing.empty(), a.question->name.data());
    QVERIFY(answered(*v));
    Job blind = everythingSaid(); // two tables blended, and nothing that reads the content
    blind.fuelSystem.contentSensor = false;
    const auto unread = verify(blind);
    QCOMPARE(answerTo(*unread, QuestionId::sensor)->state, CheckState::notJudged);
    QVERIFY(!answered(*unread));
}

void QuestionsTest::oneGuessedCellWhereTheEngineGoesIsEnough() {
    Job job = everythingSaid();
    Table2D &t = job.calibration.of(lambda).base;
    std::vector<double> loads = t.y().points();
    loads.insert(loads.end(), {300, 340}); // the engine never gets near, nor between them
    t = regrid(t, t.x(), Axis(loads)).table;
    const CellIndex far{t.x().size() - 1, t.y().size() - 1};
    t.setOrigin(far, CellOrigin::estimated);
    QCOMPARE(answerTo(*verify(job), QuestionId::mixture)->state, CheckState::held);
    t.setOrigin({3, 3}, CellOrigin::assumed);
    const auto v = verify(job);
    const Verdict::Answer &a = *answerTo(*v, QuestionId::mixture);
    QCOMPARE(a.state, CheckState::notJudged);
    // At the top content, and beyond it, nothing of the base table is left in what the engine gets.
    QVERIFY(a.open[sliceNearest(*v, 0.5)] && a.open[sliceNearest(*v, 0)]);
    QVERIFY(!a.open[sliceNearest(*v, 0.85)] && !a.open[sliceNearest(*v, 1)]);
    QVERIFY(said(inWords(*v)).find("Mixture is not judged from E0 to E84: ") != std::string::npos);
}

void QuestionsTest::arithmeticOnGuessesIsAGuess() {
    const Job before = templateJob({});
    // A blower gives what its pulley gives, on every fuel; a turbocharger's target goes with the fuel.
    for (const Charging charging : {Charging::blower, Charging::turbo}) {
        EngineTemplate known;
        known.boostKpa = 60;
        known.charging = charging;
        const Job job = templateJob(known);
        const TwoTable &boost = job.calibration.of(CalibratedQuantity::boost);
        QCOMPARE(boost.base == boost.top, charging == Charging::blower);
    }
    const auto at = [](const Job &job, CellIndex i) { return job.calibration.of(spark).base.origin(i); };
    for (const CellOrigin how : {CellOrigin::interpolated, CellOrigin::model}) {
        Job after = before;
        after.calibration.of(spark).base.setCell({2, 2}, 17.25);
        recordOrigins(before, after, how);
        QVERIFY(at(after, {2, 2}) == CellOrigin::estimated);
    }
    Job typed = before;
    typed.calibration.of(spark).base.setCell({2, 2}, 17.25);
    recordOrigins(before, typed, CellOrigin::typed);
    QVERIFY(at(typed, {2, 2}) == CellOrigin::typed && at(typed, {2, 3}) == CellOrigin::estimated);
}

void QuestionsTest::aFailureBreaksThroughGuesses() {
    EngineTemplate small;
    small.injectorCcMin = 200;
    const auto v = verify(templateJob(small));
    const Verdict::Answer &supply = *answerTo(*v, QuestionId::fuelSupply);
    QCOMPARE(supply.state, CheckState::failing);
    QVERIFY(supply.open[sliceNearest(*v, 0.5)]); // and it says both
    QVERIFY(said(inWords(*v)).find("injector duty (worst") != std::string::npos);
    const Verdict::Row *duty = findRow(*v, "flow.duty");
    QVERIFY(duty && says(missingFor(*duty->check, *v), "the fuel tables are estimates or defaults"));
}

void QuestionsTest::whatUnlocksMostComesFirst() {
    const auto demo = verify(demoJob());
    QVERIFY(demo->next.size() >= 3);
    QCOMPARE(demo->next[0]->id, std::string_view("ceiling_reach"));
    QCOMPARE(demo->next[1]->id, std::string_view("fault_rule"));
    // What no question waits for comes after what one does.
    const auto blocks = [&](const Need *n) {
        return std::ranges::any_of(demo->answers, [&](const Verdict::Answer &a) {
            return !a.question->beside && std::ranges::find(a.missing, n) != a.missing.end();
        });
    };
    QVERIFY(std::ranges::is_partitioned(demo->next, blocks));
}

void QuestionsTest::beyondTheTablesIsSaidApart() {
    const std::string words = said(inWords(*verify(demoJob())));
    const std::size_t inside = words.find("From E75 to E85: injector duty"),
                      outside = words.find("From E86: ");
    QVERIFY2(inside < outside && outside != std::string::npos, words.c_str());
    QVERIFY(words.substr(inside, outside - inside).find("never made for this") == std::string::npos);
    QVERIFY(words.substr(outside).find("The tables were never made for this.") != std::string::npos);
}

void QuestionsTest::statementsAreKeptOnce() {
    Job job = newJob("x");
    QVERIFY(!isStated(job, "engine.cylinders"));
    estimate(job, "engine.cylinders");
    QVERIFY(!isStated(job, "engine.cylinders"));
    state(job, "engine.cylinders");
    state(job, "engine.cylinders");
    QVERIFY(isStated(job, "engine.cylinders"));
    QCOMPARE(job.stated.size(), std::size_t{1});
    Job changed = job;
    changed.engine.boostLimitKpa = Curve::constant(180);
    changed.engine.displacementL = 3;
    stateChanged(job, changed, difference(job, changed));
    QVERIFY(isStated(changed, "engine.boost_limit_kpa") && isStated(changed, "engine.displacement_l"));
    QCOMPARE(changed.stated.size(), std::size_t{3});
    validate(changed);
}

CORE_TEST_MAIN(QuestionsTest)
#include "questions_test.moc"
