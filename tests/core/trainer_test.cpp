// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/error.h"
#include "core/job/revision.h"
#include "core/trainer/scenario.h"
#include "formats/job_json.h"
#include "formats/practice_csv.h"
#include "formats/practice_json.h"
#include "support/test_main.h"

#include <QFile>

#include <map>
#include <set>

using namespace wheelwright;
using namespace wheelwright::testing;

namespace {

Job sound() {
    QFile file(QStringLiteral(DEMO_JOB));
    return file.open(QIODevice::ReadOnly) ? jobFromJson(file.readAll().toStdString()) : Job();
}

// Looks, drives gently, pulls once, looks at what settles it: each scenario's own way.
std::string goodWay(const Scenario &s) {
    const std::string look = R"({"do": "look", "at": ")" + std::string(s.confirm) + R"("})";
    const std::string gently =
        R"({"do": "idle", "seconds": 25}, {"do": "cruise", "from_rpm": 1800, "to_rpm": 3200,
        "from_kpa": 45, "to_kpa": 85, "seconds": 40})";
    const std::string pull = R"({"do": "pull", "mode": "loaded"})";
    static const std::map<std::string_view, std::string> own{
        {"not_settled", R"({"do": "cruise", "from_rpm": 1800, "to_rpm": 3200, "from_kpa": 45, "to_kpa": 90,
                          "seconds": 420}, {"do": "look", "at": "tube"}, {"do": "pull", "mode": "loaded"})"},
        {"correction_twice", gently +
                                 R"(, {"do": "look", "at": "corrections"}, {"do": "set", "table": "fuel.top",
                             "change": "*0.8333"}, )" +
                                 gently + ", " + pull},
        {"content_stuck", gently + R"(, {"do": "look", "at": "tube"})"},
        {"exhaust_leak", gently + R"(, {"do": "hold", "rpm": 3500, "load_kpa": 95, "seconds": 12},
                         {"do": "look", "at": "exhaust"})"},
        {"wideband_scale", gently + ", " + look}};
    const auto at = own.find(s.id);
    return at != own.end() ? at->second : gently + ", " + pull + ", " + look;
}

// Three pulls at once, fuel where it was lean or spark out, and the first thing that comes to mind.
constexpr const char *carelessWay =
    R"({"do": "pull", "mode": "loaded"}, {"do": "set", "table": "fuel.base", "change": "*1.06"},
       {"do": "pull", "mode": "loaded"}, {"do": "pull", "mode": "loaded"})";

Training trained(const Scenario &s, const std::string &steps, std::string_view answer) {
    // The same drive is the same drive: what differs is what is said of it.
    static std::map<std::string, Training> driven;
    const std::string key = std::string(s.id) + steps;
    if (!driven.contains(key))
        driven.emplace(key, drive(s, sound(), scriptFromJson("{\"steps\": [" + steps + "]}")));
    Training t = driven.at(key);
    t.answer = answer;
    return t;
}

std::string asText(const TrainingScore &score) {
    std::string out = std::to_string(score.points) + (score.passed ? " passed:" : " not passed:");
    for (const TrainingItem &i : score.items)
        out += " " + std::string(i.id) + " " + std::to_string(i.points) + "/" + std::to_string(i.most) +
               " (" + format(i.words) + ")";
    return out;
}

int pointsOf(const TrainingScore &score, std::string_view id) {
    for (const TrainingItem &i : score.items)
        if (i.id == id) return i.points;
    return -1;
}

} // namespace

class TrainerTest : public QObject {
    Q_OBJECT
  private slots:
    void twelveAreWhole();
    void aGoodDriverSolves_data();
    void aGoodDriverSolves();
    void aCarelessOneFails_data() { aGoodDriverSolves_data(); }
    void aCarelessOneFails();
    void aGuessIsNotEnough_data() { aGoodDriverSolves_data(); }
    void aGuessIsNotEnough();
    void restraintCounts();
    void hintsCost();
    void aDestroyedEngineIsNeverPassed();
    void timeCounts();
    void whatIsWrongIsNotInTheEngine();
    void inspectionsShowWhatIsThere();
    void whatIsNotThereIsRefused();
    void theEnginesOwnLogScoresTheSame();
};

void TrainerTest::twelveAreWhole() {
    QCOMPARE(allScenarios().size(), std::size_t{12});
    std::set<std::string_view> ids, causes;
    for (const Scenario *s : allScenarios()) {
        QVERIFY(ids.insert(s->id).second);
        QVERIFY(causes.insert(s->cause).second); // none twice: whoever knows one does not know another
        QVERIFY(s->cause != s->temptation);
        QVERIFY(!causeById(s->cause, "").title.empty());
        QVERIFY(!causeById(s->temptation, "").title.empty());
        QVERIFY(!inspectionById(s->confirm, "").title.empty());
        std::set<std::string_view> hints;
        for (const PhraseText &h : s->hints)
            QVERIFY(!h.empty() && hints.insert(h.text).second);
        for (const PhraseText &t : {s->title, s->goal, s->signWords, s->goalWords, s->lesson})
            QVERIFY(!t.empty());
        QVERIFY(s->parMinutes <= 90);
        validate(givenJob(*s, sound()));
        // The goal names nothing that gives it away.
        for (const FaultSetting &f : s->faults)
            QVERIFY(std::string(s->goal.text).find(std::string(definitionOf(f.id).title.text)) ==
                    std::string::npos);
    }
    std::set<std::string_view> all;
    for (const TrainingCause &c : trainingCauses())
        QVERIFY(all.insert(c.id).second);
}

void TrainerTest::aGoodDriverSolves_data() {
    QTest::addColumn<QString>("id");
    for (const Scenario *s : allScenarios())
        QTest::newRow(std::string(s->id).c_str()) << QString::fromUtf8(s->id.data(), qsizetype(s->id.size()));
}

void TrainerTest::aGoodDriverSolves() {
    QFETCH(QString, id);
    const Scenario &s = scenarioById(id.toStdString(), "");
    const Training t = trained(s, goodWay(s), s.cause);
    const TrainingScore score = wheelwright::score(s, t);
    QVERIFY2(score.passed, asText(score).c_str());
    QVERIFY2(score.points >= 90, asText(score).c_str());
    QCOMPARE(pointsOf(score, "evidence"), 20);
    int sum = 0, most = 0;
    for (const TrainingItem &i : score.items) {
        sum += i.points;
        most += i.most;
    }
    QCOMPARE(sum, score.points);
    QCOMPARE(most, 100);
    const std::vector<Phrase> said = debrief(s, t);
    QVERIFY(format(said[0]).find(std::string(causeById(s.cause, "").title.text)) != std::string::npos);
    QVERIFY2(format(said[1]).starts_with("The evidence was there at "), format(said[1]).c_str());
}

void TrainerTest::aCarelessOneFails() {
    QFETCH(QString, id);
    const Scenario &s = scenarioById(id.toStdString(), "");
    const TrainingScore score = wheelwright::score(s, trained(s, carelessWay, s.temptation));
    QVERIFY2(!score.passed && score.points < 60, asText(score).c_str());
    QCOMPARE(pointsOf(score, "named"), 0);
}

// The right word without the work: neither by pulling on, nor by doing nothing.
void TrainerTest::aGuessIsNotEnough() {
    QFETCH(QString, id);
    const Scenario &s = scenarioById(id.toStdString(), "");
    for (const std::string &way :
         {std::string(carelessWay), std::string(R"({"do": "idle", "seconds": 2})")}) {
        const TrainingScore score = wheelwright::score(s, trained(s, way, s.cause));
        QVERIFY2(!score.passed, asText(score).c_str());
    }
}

// The right word and the right look, and yet the engine was pulled on and on.
void TrainerTest::restraintCounts() {
    const Scenario &s = scenarioById("weak_pump", "");
    const std::string pull = R"({"do": "pull", "mode": "loaded"})";
    const std::string look = R"({"do": "look", "at": "pump"})";
    QCOMPARE(pointsOf(score(s, trained(s, pull + "," + pull + "," + look, s.cause)), "goal"), 15);
    const TrainingScore on = score(s, trained(s, pull + "," + pull + "," + pull + "," + look, s.cause));
    QCOMPARE(pointsOf(on, "goal"), 0);
    QVERIFY(!on.passed);
}

void TrainerTest::hintsCost() {
    const Scenario &s = *allScenarios().front();
    Training t = trained(s, goodWay(s), s.cause);
    const int without = score(s, t).points;
    t.hints = 3;
    QCOMPARE(score(s, t).points, without - 15);
    QCOMPARE(score(s, t).hintsTaken, 3);
    t.hints = 100;
    QCOMPARE(score(s, t).points, 0);
}

void TrainerTest::aDestroyedEngineIsNeverPassed() {
    const Scenario &s = *allScenarios().front();
    Training t = trained(s, goodWay(s), s.cause);
    QVERIFY(score(s, t).passed);
    t.destroyedBy = "knock";
    t.damage.knock = 1;
    const TrainingScore dead = score(s, t);
    QVERIFY(!dead.passed);
    QCOMPARE(pointsOf(dead, "lives"), 0);
    QCOMPARE(format(dead.verdict), std::string("The engine is destroyed."));
    t.destroyedBy.clear();
    t.damage.knock = 0.5;
    QCOMPARE(pointsOf(score(s, t), "lives"), 5);
    t.damage.knock = 0.2;
    QCOMPARE(pointsOf(score(s, t), "lives"), 10);
}

void TrainerTest::timeCounts() {
    const Scenario &s = scenarioById("throttle_unplugged", "");
    Training t = trained(s, goodWay(s), s.cause);
    QCOMPARE(pointsOf(score(s, t), "time"), 10);
    // Minutes by hand: what was driven, two for the throttle.
    COMPARE_NEAR(Examined(t).minutes(), t.samples.back().timeS / 60 + 2, 1e-9);
    t.events.push_back({1, "look other_fuel", 0.1}); // an hour on the road
    QCOMPARE(pointsOf(score(s, t), "time"), 0);
    t.events.pop_back();
    t.events.push_back({1, "look pump", 0.1}); // 25 minutes
    QCOMPARE(pointsOf(score(s, t), "time"), 5);
}

void TrainerTest::whatIsWrongIsNotInTheEngine() {
    for (const Scenario *s : allScenarios()) {
        const HiddenEngine e = engineOf(*s, sound());
        QVERIFY(e == drawEngine(Study(sound()), s->seed));
        const bool changed =
            calibrationPrint(stateOf(givenJob(*s, sound()))) != calibrationPrint(stateOf(sound()));
        QCOMPARE(changed, s->prepare != nullptr);
        QVERIFY(changed || !s->faults.empty() || s->pouredL > 0);
    }
}

void TrainerTest::inspectionsShowWhatIsThere() {
    std::set<FaultId> shown;
    for (const Inspection &i : allInspections()) {
        for (const FaultId f : i.shows) {
            shown.insert(f);
            const Inspected found = inspect(i, {{f, definitionOf(f).usual}}, HiddenEngine{}, 0.5);
            QVERIFY2(!found.sound, std::string(i.id).c_str());
            if (f != FaultId::baseTiming)
                QVERIFY(format(found.words).find(std::string(definitionOf(f).title.text)) !=
                        std::string::npos);
        }
        const Inspected sound = inspect(i, {}, HiddenEngine{}, 0.5);
        QVERIFY(sound.sound);
        // Another fault than its own it does not see.
        for (const Fault &f : allFaults())
            if (std::ranges::find(i.shows, f.id) == i.shows.end())
                QVERIFY(inspect(i, {{f.id, f.usual}}, HiddenEngine{}, 0.5).sound);
    }
    QVERIFY(format(inspect(inspectionById("tube", ""), {}, HiddenEngine{}, 0.6249).words)
                .find(": E62, within 1 %") != std::string::npos);
    HiddenEngine e;
    e.baseTimingErrorDeg = -0.6;
    const Inspected light = inspect(inspectionById("timing_light", ""), {{FaultId::baseTiming, 9}}, e, 0);
    QVERIFY2(format(light.words).find("8.4°") != std::string::npos, format(light.words).c_str());
    QVERIFY(inspect(inspectionById("timing_light", ""), {}, e, 0).sound);
    // The scenario's own: of the calibration.
    const Scenario &twice = scenarioById("correction_twice", "");
    QVERIFY(!inspectIn(twice, inspectionById("corrections", ""), e, 0).sound);
    QVERIFY(inspectIn(*allScenarios().front(), inspectionById("corrections", ""), e, 0).sound);
}

void TrainerTest::whatIsNotThereIsRefused() {
    EXPECT_INPUT_ERROR(scenarioById("none", "scenario"), "scenario: expected one of throttle_unplugged",
                       "'none'");
    EXPECT_INPUT_ERROR(causeById("none", "--answer"), "--answer", "not_settled");
    EXPECT_INPUT_ERROR(inspectionById("none", "at"), "timing_light");
    EXPECT_INPUT_ERROR(trained(*allScenarios().front(), R"({"do": "look", "at": "stars"})", ""), "step 1: at",
                       "timing_light");
}

// As the window does it: samples out of the text that the engine wrote.
void TrainerTest::theEnginesOwnLogScoresTheSame() {
    for (const char *id : {"weak_pump", "exhaust_leak"}) {
        const Scenario &s = scenarioById(id, "");
        Training t = trained(s, goodWay(s), s.cause);
        std::string text = practiceLogHeader();
        for (const PracticeSample &sample : t.samples)
            appendPracticeRow(text, sample);
        const std::string before = asText(score(s, t));
        const std::vector<PracticeSample> read = practiceLogFrom(text);
        QCOMPARE(read.size(), t.samples.size());
        COMPARE_NEAR(read.back().railKpa, t.samples.back().railKpa, 0.051);
        COMPARE_NEAR(read.front().lambda, t.samples.front().lambda, 0.00051);
        t.samples = read;
        QCOMPARE(asText(score(s, t)), before);
    }
    EXPECT_INPUT_ERROR(practiceLogFrom("time_s,rpm\n"), "line 1", "the log of a practice engine");
    EXPECT_INPUT_ERROR(practiceLogFrom(practiceLogHeader() + "1,2,x\n"), "line 2", "a number for map_kpa",
                       "'x'");
    QVERIFY(practiceLogFrom(practiceLogHeader()).empty());
}

CORE_TEST_MAIN(TrainerTest)
#include "trainer_test.moc"
