// SPDX-License-Identifier: GPL-3.0-or-later
// What is said of a log once it has come in: its outline, fuel, visits of cells, what it proves. Logs are
// made by hand, so that every number is known.
#include "core/base/error.h"
#include "core/evidence/lambda_delay.h"
#include "core/evidence/log_intake.h"
#include "core/evidence/log_review.h"
#include "core/evidence/map_answers.h"
#include "core/evidence/series_outline.h"
#include "core/evidence/witnesses.h"
#include "core/job/revision.h"
#include "core/report/log_reports.h"
#include "core/study/cell_trust.h"
#include "core/verify/verdict.h"
#include "support/phrases.h"
#include "support/random_job.h"
#include "support/recorded_log.h"
#include "support/test_main.h"

#include <limits>
#include <map>
#include <random>

using namespace wheelwright;
using namespace wheelwright::testing;

namespace {

using R = ChannelRole;
const double none = std::numeric_limits<double>::quiet_NaN();

/// A warm engine that stands at a place, on its target.
Recorded steady(double rpm, double load, double content, double seconds, double stepS = 0.1) {
    Recorded r;
    for (int i = 0; i * stepS <= seconds; ++i)
        r.add(i * stepS, {{R::rpm, rpm},
                          {R::map, load},
                          {R::throttle, 0.4},
                          {R::lambda, 0.9},
                          {R::lambdaTarget, 0.9},
                          {R::knockRetard, 0},
                          {R::ethanol, content},
                          {R::coolantTemp, 85},
                          {R::pulseWidth, 6},
                          {R::speed, 72}});
    return r;
}

bool saidAnywhere(const LogContent &c, std::string_view words) {
    return std::ranges::any_of(c.said, [&](const Phrase &p) { return says(p, words); });
}

} // namespace

class LogReviewTest : public QObject {
    Q_OBJECT
  private slots:
    void outlinesMissNothing();
    void holesStayOpen();
    void formulasAreWorkedOut();
    void badFormulasSayWhere();
    void workedChannelsComeIn();
    void answersCloseTheQuestion();
    void theCalibrationIsKept();
    void eachCalibrationIsMadeOnce();
    void limitsAreTodays();
    void contentSettlesOrMoves();
    void contentIsHeldAgainstTheTank();
    void statedContentIsUsed();
    void visitsAreEverySample();
    void episodesLieAlongAnAxis();
    void delayIsStatedAndTakenOut();
    void coveragesAddUp();
    void aSampleStandsAsLongAsItsChannelPauses();
    void silenceOfASensorIsNoAnswer();
    void samplesCanBeLaidAside();
    void theShortestEpisodeSpeaks();
    void proofIsReadByPlace();
    void cleanPullsProveMixtureAndKnock();
    void sparkIsHeldUnderWhatLogsProved();
    void findingsAreExplainedByTheirNumbers();
};

// Against a plain loop over all samples; random clocks and values, gaps among them.
void LogReviewTest::outlinesMissNothing() {
    for (unsigned seed = 1; seed <= 20; ++seed) {
        std::mt19937 random(seed);
        std::uniform_real_distribution<double> step(0.001, 0.05), value(-5, 5);
        const std::size_t count = 200 + seed * 997;
        std::vector<double> times, samples;
        double t = 3;
        for (std::size_t i = 0; i < count; ++i) {
            times.push_back(t += step(random));
            samples.push_back(random() % 11 == 0 ? none : value(random));
        }
        ClockMarks marks;
        std::vector<LevelPair> levels;
        marks.samples = count;
        for (std::size_t i = 0; i < count; i += samplesPerLevel) {
            const std::size_t end = std::min(count, i + samplesPerLevel);
            marks.timeS.push_back(times[i]);
            marks.lastS.push_back(times[end - 1]);
            LevelPair pair{static_cast<float>(none), static_cast<float>(none)};
            for (std::size_t k = i; k < end; ++k)
                if (const auto v = static_cast<float>(samples[k]); v == v)
                    pair = pair.least != pair.least
                               ? LevelPair{v, v}
                               : LevelPair{std::min(pair.least, v), std::max(pair.most, v)};
            levels.push_back(pair);
        }
        const double from = times[count / 5], to = times[count - count / 7];
        constexpr std::size_t columns = 37;
        const SeriesOutline fine = outlineOfSamples(times, samples, from, to, columns);
        const SeriesOutline coarse = outlineOfLevels(marks, levels, from, to, columns);
        const SeriesOutline far = outlineOfLevels(coarser(marks), coarser(levels), from, to, columns);
        for (std::size_t c = 0; c < columns; ++c) {
            float least = std::numeric_limits<float>::infinity(), most = -least;
            for (std::size_t i = 0; i < count; ++i) {
                if (times[i] < from || times[i] > to || samples[i] != samples[i]) continue;
                const auto at = std::min(columns - 1,
                                         static_cast<std::size_t>((times[i] - from) / (to - from) * columns));
                if (at != c) continue;
                least = std::min(least, static_cast<float>(samples[i]));
                most = std::max(most, static_cast<float>(samples[i]));
            }
            if (least > most) {
                QVERIFY(fine[c].least != fine[c].least);
                continue;
            }
            QCOMPARE(fine[c].least, least);
            QCOMPARE(fine[c].most, most);
            QVERIFY(coarse[c].least <= least && coarse[c].most >= most); // wider, never narrower
            QVERIFY(far[c].least <= coarse[c].least && far[c].most >= coarse[c].most);
        }
    }
    QVERIFY(outlineOfSamples({}, {}, 0, 1, 3)[0].least != 0);
    const std::vector<double> ends{0, 1}, at{5, 6}; // both ends belong to what is seen
    QCOMPARE(outlineOfSamples(ends, at, 0, 1, 4).front().least, 5.0F);
    QCOMPARE(outlineOfSamples(ends, at, 0, 1, 4).back().most, 6.0F);
    QVERIFY(outlineOfSamples(std::vector{0.5}, std::vector{1.0}, 0, 1, 0).empty());
    QVERIFY(outlineOfLevels({}, {}, 1, 1, 2)[1].most != 0); // no time at all
}

void LogReviewTest::holesStayOpen() {
    ClockMarks marks{{0, 100}, {1, 101}, 2 * samplesPerLevel};
    const std::vector<LevelPair> levels{{1, 2}, {3, 4}};
    const SeriesOutline o = outlineOfLevels(marks, levels, 0, 101, 101);
    QCOMPARE(o[0].least, 1.0F);
    QCOMPARE(o[100].most, 4.0F);
    for (std::size_t c = 3; c < 98; ++c)
        QVERIFY(o[c].least != o[c].least);
    const auto between = marks.levelsBetween(50, 60);
    QVERIFY(between.second - between.first <= 1); // the one before leads in
    QCOMPARE(marks.levelsBetween(200, 300), (std::pair<std::size_t, std::size_t>{0, 0}));
}

void LogReviewTest::formulasAreWorkedOut() {
    const auto value = [](const char *text, std::vector<double> values) { return Formula(text)(values); };
    // By hand.
    QCOMPARE(value("2 + 3 * rpm", {4}), 14.0);
    QCOMPARE(value("(2 + 3) * rpm", {4}), 20.0);
    QCOMPARE(value("rpm - 1 - 2", {10}), 7.0);
    QCOMPARE(value("rpm / 2 / 5", {100}), 10.0);
    QCOMPARE(value("-rpm * -[Col A] + +1", {3, 5}), 16.0);
    QCOMPARE(value("- - rpm", {3}), 3.0);
    QCOMPARE(value("-rpm", {3}), -3.0);
    QCOMPARE(value("5 - -rpm", {3}), 8.0);
    QCOMPARE(value("[a] / 14.7", {13.23}), 13.23 / 14.7);
    QCOMPARE(value("min(rpm, 3) + max([x], abs([y]))", {5, 2, -9}), 12.0);
    QCOMPARE(value("[a] * [a] - 1.5e2", {20}), 250.0);
    QCOMPARE(value("pulse_width*rpm/120000", {12, 6000}), 0.6);
    // A long one goes as deep as it must.
    std::string deep = "rpm", flat = "rpm";
    for (int i = 0; i < 50; ++i)
        deep = "(1 + " + deep + ")";
    QCOMPARE(value(deep.c_str(), {0}), 50.0);
    std::string waiting = "rpm"; // two operands wait at each depth
    for (int i = 0; i < 50; ++i)
        waiting = "1 + 2 * (" + waiting + ")";
    QCOMPARE(value(waiting.c_str(), {0}), std::pow(2.0, 50) - 1);
    for (int i = 0; i < 500; ++i)
        flat += " + (rpm * 2)";
    QCOMPARE(value(flat.c_str(), {1}), 1001.0);
    // Missing stays missing, and nothing endless comes out.
    for (const char *text : {"rpm + [x]", "min(rpm, [x])", "max([x], rpm)", "abs([x]) + rpm"}) {
        const Formula f(text);
        for (std::size_t missing = 0; missing < 2; ++missing) {
            std::vector<double> values{1, 2};
            values[missing] = none;
            QVERIFY2(f(values) != f(values), text);
        }
    }
    QVERIFY(std::isnan(value("1 / rpm", {0})));
    const Formula twice("[b] + rpm + [b] + [rpm]");
    QCOMPARE(twice.names().size(), std::size_t{3});
    QVERIFY(twice.names()[0].column && !twice.names()[1].column && twice.names()[2].column);
}

void LogReviewTest::badFormulasSayWhere() {
    EXPECT_INPUT_ERROR(Formula(""), "place 1", "its end");
    EXPECT_INPUT_ERROR(Formula("rpm +"), "place 6", "its end");
    EXPECT_INPUT_ERROR(Formula("rpm rpm"), "place 5", "operator");
    EXPECT_INPUT_ERROR(Formula("(rpm"), "closing bracket");
    EXPECT_INPUT_ERROR(Formula("[rpm"), "place 2", "]");
    EXPECT_INPUT_ERROR(Formula("[]"), "name of a column");
    EXPECT_INPUT_ERROR(Formula("Rpm * 2"), "place 1", "role");
    EXPECT_INPUT_ERROR(Formula("speed_of_light"), "speed_of_light");
    EXPECT_INPUT_ERROR(Formula("none"), "role");
    EXPECT_INPUT_ERROR(Formula("min(rpm)"), "comma");
    EXPECT_INPUT_ERROR(Formula("1 + 2"), "at least one channel");
    EXPECT_INPUT_ERROR(Formula("rpm * 1e999"), "number");
    EXPECT_INPUT_ERROR(Formula(std::string(5000, '(') + "rpm"), "brackets");
    EXPECT_INPUT_ERROR(workedFrom("rpm * 2"), "name, = and a formula");
    EXPECT_INPUT_ERROR(workedFrom(" = rpm"), "name");
}

// λ of an AFR and duty of pulses, held against the product's own ways to the same numbers.
void LogReviewTest::workedChannelsComeIn() {
    LogLayout layout;
    layout.columns = {{.name = "time", .unit = "s"},
                      {.name = "rpm", .unit = "rpm"},
                      {.name = "pw", .unit = "ms"},
                      {.name = "afr", .unit = "AFR", .preview = {14.7, 29.4}},
                      {.name = "word", .kind = ChannelKind::words}};
    ChannelMap map;
    map.columns = {{.name = "time", .role = R::time, .unit = "s"},
                   {.name = "rpm", .role = R::rpm, .unit = "rpm"},
                   {.name = "pw", .role = R::pulseWidth, .unit = "ms"},
                   {.name = "afr", .skipped = true},
                   {.name = "word"}};
    map.columns.push_back(workedFrom("lambda = [afr] / 14.7"));
    map.columns.push_back(workedFrom("duty = pulse_width * rpm / 120000"));
    map.columns.push_back(workedFrom("Mean piston speed = rpm * 0.086 / 30"));
    const ChannelMap whole = fitted(map, layout);
    QCOMPARE(whole.columns.size(), std::size_t{8});
    const LogColumn look = workedPreview(whole.columns[5], whole, layout, {});
    QCOMPARE(look.preview, (std::vector<double>{1, 2}));

    struct Sink : SampleSink {
        std::map<std::size_t, std::vector<double>> got;
        void put(std::size_t series, std::span<const double> samples) override {
            got[series].insert(got[series].end(), samples.begin(), samples.end());
        }
    } sink;
    LogIntake intake(whole, layout, {});
    intake.handTo(sink);
    QCOMPARE(intake.series(), std::size_t{7}); // all but the column that is left out
    const std::vector<std::vector<double>> stretches[2]{
        {{0, 0.1}, {3000, 6000}, {4, 8}, {14.7, 11.76}, {0, 0}}, {{0.2}, {none}, {5}, {13.23}, {0}}};
    for (const auto &stretch : stretches)
        for (std::size_t c = 0; c < stretch.size(); ++c)
            intake.put(c, stretch[c]);
    LogRead read;
    read.rows = 3;
    read.kinds = {ChannelKind::clock, ChannelKind::number, ChannelKind::number, ChannelKind::number,
                  ChannelKind::words};
    read.texts.resize(5);
    const LogIntake::Summary s = intake.summary(read);
    const auto series = [&](R role, const char *name) {
        const auto at = std::ranges::find_if(s.channels, [&](const LogChannel &c) {
            return role == R::none ? c.name == name : c.role == role;
        });
        return *at;
    };
    const LogChannel lambda = series(R::lambda, ""), duty = series(R::duty, ""),
                     piston = series(R::none, "Mean piston speed");
    QCOMPARE(lambda.formula, std::string("[afr] / 14.7"));
    const auto &l = sink.got[static_cast<std::size_t>(lambda.series)];
    QCOMPARE(l.size(), std::size_t{3});
    // The same through the unit of an AFR on that scale.
    const ChannelConversion c =
        conversionOf({.name = "afr", .role = R::lambda, .unit = "AFR", .scale = AfrScale::gasoline}, {});
    for (std::size_t i = 0; i < 3; ++i)
        COMPARE_NEAR(l[i], (std::vector{14.7, 11.76, 13.23}[i]) * c.scale + c.offset, 1e-12);
    const auto &d = sink.got[static_cast<std::size_t>(duty.series)];
    COMPARE_NEAR(d[0], 4 * 3000 / 120000.0, 1e-12); // one pulse in two turns
    COMPARE_NEAR(d[1], 8 * 6000 / 120000.0, 1e-12);
    QVERIFY(std::isnan(d[2]));
    QCOMPARE(duty.missing, 1.0);
    COMPARE_NEAR(sink.got[static_cast<std::size_t>(piston.series)][1], 17.2, 1e-9);

    // A role is in the unit of the product, whatever the file has: °F and gauge have an offset.
    const SourceConversion kelvin =
        sourceConversion({"coolant_temp", false}, {.name = "ect", .role = R::coolantTemp, .unit = "°F"}, {});
    COMPARE_NEAR(kelvin(212), 100, 1e-9);
    QCOMPARE(sourceConversion({"ect", true}, {.name = "ect", .role = R::coolantTemp, .unit = "°F"}, {})(212),
             212.0);

    map.columns[5].formula = "[nothing] * 2";
    EXPECT_INPUT_ERROR(fitted(map, layout), "lambda", "nothing");
    map.columns[5].formula = "[word] * 2";
    EXPECT_INPUT_ERROR(fitted(map, layout), "numbers", "word");
    map.columns[5] = workedFrom("rpm = pulse_width * 2"); // a second engine speed
    EXPECT_INPUT_ERROR(fitted(map, layout), "Engine speed");
    layout.columns[2].clock = 2;
    layout.columns[2].knownClock = true;
    EXPECT_INPUT_ERROR(fitted(map, layout), "rpm");
}

void LogReviewTest::answersCloseTheQuestion() {
    const LogColumn file{.name = "AFR", .preview = {11.76, 14.7}};
    MappedColumn afr{.name = "AFR", .role = R::lambda, .unit = "AFR", .scale = AfrScale::gasoline};
    afr.question = Phrase(MARKED("map.ask.time", "Is this the time?"));
    const MapSurroundings around{.ambientKpa = 98, .fuelStoichiometry = 9.8};
    std::vector<double> least;
    for (const MapAnswer &a : answersFor(afr)) {
        QVERIFY(a.column.question.empty());
        QCOMPARE(a.column.confidence, 1.0);
        least.push_back(outlookOf(a.column, file, around).least);
    }
    QCOMPARE(least.size(), std::size_t{3});
    COMPARE_NEAR(least[0], 0.8, 1e-12);
    COMPARE_NEAR(least[1], 1.2, 1e-12); // of a fuel with 9.8
    COMPARE_NEAR(least[2], 11.76, 1e-12);
    const MappedColumn boost{.name = "b", .role = R::map, .unit = "kPa"};
    const std::vector<MapAnswer> pressure = answersFor(boost);
    QCOMPARE(pressure.size(), std::size_t{2});
    const LogColumn kpa{.name = "b", .preview = {10, none, 120}};
    COMPARE_NEAR(outlookOf(pressure[0].column, kpa, around).most, 120, 1e-12);
    COMPARE_NEAR(outlookOf(pressure[1].column, kpa, around).most, 218, 1e-12);
    const ColumnOutlook wrong = outlookOf({.name = "b", .role = R::lambda, .unit = "lambda"}, kpa, around);
    QVERIFY(!wrong.plausible && says(wrong.said, "cannot be"));
    QVERIFY(!outlookOf({.name = "b", .role = R::map, .unit = "°C"}, kpa, around).plausible);
    QVERIFY(says(outlookOf(boost, {.name = "b", .preview = {none}}, around).said, "No number"));
    // A unit that the file states stays where it fits the new role.
    QCOMPARE(withRole({.name = "x"}, R::coolantTemp, {.name = "x", .unit = "°F"}).unit, std::string("°F"));
    QCOMPARE(withRole({.name = "x"}, R::rpm, {.name = "x", .unit = "°F"}).unit, std::string("rpm"));
    QVERIFY(withRole({.name = "x"}, R::lambda, {.name = "x", .unit = "AFR"}).scale.has_value());
    for (const ChannelRoleDefinition &role : allChannelRoles()) // of every role an answer can be read
        for (const MapAnswer &a : answersFor(withRole({.name = "x"}, role.role, {.name = "x"})))
            QVERIFY(std::isfinite(conversionOf(a.column, around).scale));
}

// Tables go on; what a log says of them stays known.
void LogReviewTest::theCalibrationIsKept() {
    const Recorded r = steady(3000, 90, 0.5, 20);
    Job job = r.in(demoJob());
    QCOMPARE(job.revisions.size(), std::size_t{1} + demoJob().revisions.size());
    job = steady(3500, 90, 0.5, 20).in(job, "bb");
    QCOMPARE(job.revisions.size(), std::size_t{1} + demoJob().revisions.size()); // the same calibration
    const std::string print = calibrationPrint(stateOf(job));
    Job edited = job;
    edited.limits["clean.coolant"] = 60;
    QCOMPARE(calibrationPrint(stateOf(edited)), print);
    setNote(edited, "calibration.spark.base", 700, 20, "a note");
    QCOMPARE(calibrationPrint(stateOf(edited)), print);
    Table2D &spark = edited.calibration.of(CalibratedQuantity::spark).base;
    const double before = spark.cell(3, 3);
    spark.setCell({3, 3}, before + 2);
    QVERIFY(calibrationPrint(stateOf(edited)) != print);
    const auto ran = jobThatRan(edited, logById(edited, "aa")->revision, logById(edited, "aa")->calibration);
    QVERIFY(ran);
    QCOMPARE(ran->calibration.of(CalibratedQuantity::spark).base.cell(3, 3), before);
    QVERIFY(!r.review(edited)->ranWith(calibrationPrint(stateOf(edited))));
    QVERIFY(r.review(edited)->ranWith(print));
    QVERIFY(r.review(edited)->watched().tablesKnown());
    edited.revisions.eraseIf([](const Revision &) { return true; });
    QVERIFY(!jobThatRan(edited, logById(edited, "aa")->revision, logById(edited, "aa")->calibration));
    QVERIFY(!r.review(edited)->watched().tablesKnown());
}

// What was found of logs together is what is found of each alone (jobThatRan()), and logs of one calibration
// share one study.
void LogReviewTest::eachCalibrationIsMadeOnce() {
    Job job = steady(3000, 90, 0.5, 5).in(demoJob(), "aa");
    job = steady(3000, 90, 0.5, 5).in(job, "ab");
    Table2D &spark = job.calibration.of(CalibratedQuantity::spark).base;
    spark.setCell({3, 3}, spark.cell(3, 3) + 2);
    keepRevision(job, "Named", "2026-05-10T12:00:00Z", "", true);
    job = steady(3000, 90, 0.5, 5).in(job, "ba");
    job.logs[2].revision = "Named";
    spark.setCell({3, 3}, spark.cell(3, 3) + 1);
    job = steady(3000, 90, 0.5, 5).in(job, "ca"); // as it is
    job = steady(3000, 90, 0.5, 5).in(job, "da");
    job.logs[4].calibration = "0123456789abcdef"; // nobody has it any more
    RanStudies ran(job);
    const auto of = [&](const char *id) { return ran.of(*logById(job, id)); };
    std::vector<double> cells;
    for (const LogInfo &info : job.logs.values()) {
        const auto alone = jobThatRan(job, info.revision, info.calibration);
        const RanStudies::Ran together = ran.of(info);
        QCOMPARE(together.known, alone.has_value());
        QCOMPARE(stateOf(together.study->job()), stateOf(alone.value_or(job)));
        cells.push_back(together.study->job().calibration.of(CalibratedQuantity::spark).base.cell(3, 3));
    }
    QCOMPARE(cells[0], cells[1]);
    QCOMPARE(cells[2] - cells[0], 2.0);
    QCOMPARE(cells[3] - cells[2], 1.0);
    QCOMPARE(cells[4], cells[3]);
    QCOMPARE(of("aa").study.get(), of("ab").study.get());
    QCOMPARE(of("ca").study.get(), ran.now().get());
    QVERIFY(!of("da").known);
    // A revision that was taken out: its logs go by their fingerprints, each by its own.
    job.logs[0].revision = job.logs[3].revision = "Gone";
    RanStudies gone(job);
    QVERIFY(gone.of(*logById(job, "ca")).study == gone.now());
    QVERIFY(gone.of(*logById(job, "aa")).known && gone.of(*logById(job, "aa")).study != gone.now());
}

void LogReviewTest::limitsAreTodays() {
    Job job = demoJob();
    job.limits["watch.lean"] = 0.2; // when the log came in
    job.limits["watch.knock"] = 3;
    job = steady(3000, 90, 0.5, 20).in(job);
    job.calibration.of(CalibratedQuantity::spark).base.setCell({0, 0}, 5);
    job.limits["watch.lean"] = 0.123;
    job.limits.erase("watch.knock");
    QVERIFY(jobThatRan(job, logById(job, "aa")->revision, logById(job, "aa")->calibration)->limits ==
            job.limits);
    QCOMPARE(limitOf(*jobThatRan(job, logById(job, "aa")->revision, logById(job, "aa")->calibration),
                     "watch.lean"),
             0.123);
}

void LogReviewTest::contentSettlesOrMoves() {
    const Job job = demoJob();
    const Recorded still = steady(3000, 90, 0.62, 60);
    LogContent c = still.review(still.in(job))->content();
    QVERIFY(c.known && c.settled && c.usable() && !c.stated && !c.returnDry);
    COMPARE_NEAR(c.mean, 0.62, 1e-9);
    QCOMPARE(c.stretches.size(), std::size_t{1});
    QVERIFY(saidAnywhere(c, "settled at E62.0"));
    // From 30 to 36 % in a minute: 6 % a minute, over the half a per cent that the job allows.
    Recorded moving = steady(3000, 90, 0.3, 120);
    auto &e = moving.of[R::ethanol];
    for (std::size_t i = 0; i < e.size(); ++i)
        e[i] = 0.3 + 0.06 * std::clamp((moving.timeS[i] - 30) / 60, 0.0, 1.0);
    c = moving.review(moving.in(job))->content();
    QVERIFY(c.known && !c.settled && !c.usable());
    COMPARE_NEAR(c.movedPerMinute, 0.06, 0.002);
    COMPARE_NEAR(c.most - c.least, 0.06, 1e-3);
    const auto unsettled = std::ranges::find(c.stretches, false, &ContentStretch::settled);
    QVERIFY(unsettled != c.stretches.end());
    QVERIFY(unsettled->beginS < 31 && unsettled->endS > 89);
    double covered = 0;
    for (const ContentStretch &s : c.stretches)
        covered += static_cast<double>(s.to - s.from + 1);
    QCOMPARE(covered, static_cast<double>(moving.timeS.size()));
    // Either side of the half a per cent in a minute.
    for (const auto &[perMinute, settles] : {std::pair{0.003, true}, {0.008, false}}) {
        Recorded slow = steady(3000, 90, 0.3, 120);
        for (std::size_t i = 0; i < slow.timeS.size(); ++i)
            slow.of[R::ethanol][i] = 0.3 + perMinute / 60 * slow.timeS[i];
        QCOMPARE(slow.review(slow.in(job))->content().settled, settles);
    }
    // A signal lost for a row, at the start or later, has not moved the fuel; nor has noise beside a stop.
    Recorded lost = still;
    lost.of[R::ethanol][0] = 0;
    lost.of[R::ethanol][lost.timeS.size() / 2] = 0;
    c = lost.review(lost.in(job))->content();
    QVERIFY(c.settled && c.movedPerMinute < 1e-9);
    Recorded stopped = steady(3000, 90, 0.62, 60);
    for (std::size_t i = 0; i < stopped.timeS.size(); ++i) {
        stopped.of[R::ethanol][i] += i % 2 == 0 ? 0.003 : -0.003;
        if (stopped.timeS[i] > 35) stopped.timeS[i] += 240;
    }
    QVERIFY(stopped.review(stopped.in(job))->content().settled);
    // Another fuel after it is seen all the same.
    for (std::size_t i = 0; i < stopped.timeS.size(); ++i)
        if (stopped.timeS[i] > 200) stopped.timeS[i] -= 225, stopped.of[R::ethanol][i] = 0.66;
    QVERIFY(!stopped.review(stopped.in(job))->content().settled);
    // Too short to say is not settled.
    const Recorded brief = steady(3000, 90, 0.62, 3);
    c = brief.review(brief.in(job))->content();
    QVERIFY(!c.settled && !c.usable() && saidAnywhere(c, "too short"));
    // Nobody has said it.
    Recorded dumb = still;
    dumb.of.erase(R::ethanol);
    c = dumb.review(dumb.in(job))->content();
    QVERIFY(!c.known && !c.usable() && saidAnywhere(c, "Nobody has said"));
}

void LogReviewTest::contentIsHeldAgainstTheTank() {
    Job job = demoJob();
    job.tankEvents.eraseIf([](const TankEvent &) { return true; });
    const auto happened = [&](const char *at, TankEventKind kind, double litres, double ethanol,
                              double sigma = 0) {
        TankEvent e;
        e.at = at;
        e.kind = kind;
        e.litres = litres;
        e.ethanol = ethanol;
        e.contentSigma = sigma;
        job.tankEvents.push_back(e);
    };
    happened("2026-05-01", TankEventKind::content, 0, 0.1);
    happened("2026-05-01", TankEventKind::level, 20, 0);
    happened("2026-05-09", TankEventKind::tube, 0, 0.12, 0.02);
    happened("2026-05-20", TankEventKind::pour, 20, 0.85);
    const Recorded r = steady(3000, 90, 0.1, 60);
    LogContent c = r.review(r.in(job))->content();
    QCOMPARE(c.beside.size(), std::size_t{2}); // the pour came later, and says nothing of this fuel
    COMPARE_NEAR(c.beside[0].content, 0.1, 1e-9);
    COMPARE_NEAR(c.beside[1].content, 0.12, 1e-9);
    QVERIFY(c.beside[0].agrees && c.beside[1].agrees);
    // Of the day itself all counts, at whatever hour; days are all that a log says of when it was.
    Job sameDay = job;
    TankEvent evening = sameDay.tankEvents.values()[2];
    evening.at = "2026-05-10T18:00:00Z";
    evening.ethanol = 0.2;
    sameDay.tankEvents.push_back(evening);
    COMPARE_NEAR(r.review(r.in(sameDay))->content().beside[1].content, 0.2, 1e-9);
    const Recorded other = steady(3000, 90, 0.3, 60);
    c = other.review(other.in(job))->content();
    QVERIFY(!c.beside[0].agrees && !c.beside[1].agrees);
    QVERIFY(saidAnywhere(c, "find out which is wrong"));
    // A history that cannot have happened says nothing, and breaks nothing.
    happened("2026-05-05", TankEventKind::drain, 500, 0);
    QVERIFY(r.review(r.in(job))->content().beside.empty());
}

void LogReviewTest::statedContentIsUsed() {
    Recorded brief = steady(3000, 90, 0.62, 3);
    Job job = brief.in(demoJob());
    stateContent(job, "aa", 0.4);
    LogContent c = brief.review(job)->content();
    QVERIFY(c.stated && c.usable());
    COMPARE_NEAR(c.mean, 0.4, 1e-12);
    COMPARE_NEAR(brief.review(job)->trace().content(0), 0.4, 1e-12);
    EXPECT_INPUT_ERROR(stateContent(job, "aa", 1.2), "0 to 100");
    EXPECT_INPUT_ERROR(stateContent(job, "nope", 0.2), "nope");
    unstateContent(job, "aa");
    COMPARE_NEAR(logById(job, "aa")->content, 0.62, 1e-9);
    QVERIFY(logById(job, "aa")->contentBasis == ContentBasis::channel);

    // The cleaning believes it too: a channel that moves takes its samples only while it is believed.
    Recorded moving;
    for (int i = 0; i < 1200; ++i)
        moving.add(i * 0.1, {{R::rpm, 3000}, {R::map, 90}, {R::lambda, 0.9}, {R::ethanol, 0.3 + i * 2e-4}});
    Job told = moving.in(demoJob());
    const auto takenBy = [&](const Job &of) {
        const CleanLog clean = moving.review(of)->cleaned();
        return std::ranges::find(clean.steps, "content",
                                 [](const CleanLog::Step &step) { return step.filter->id; })
            ->taken;
    };
    const std::size_t unsettled = takenBy(told);
    QVERIFY(unsettled > 800);
    stateContent(told, "aa", 0.4);
    QCOMPARE(takenBy(told), std::size_t{0});
    unstateContent(told, "aa");
    QCOMPARE(takenBy(told), unsettled);
}

// Every sample is in one cell and no other; two visits lie apart.
void LogReviewTest::visitsAreEverySample() {
    Recorded r;
    std::mt19937 random(7);
    double rpm = 3000, load = 90;
    for (int i = 0; i < 2000; ++i) {
        rpm = std::clamp(rpm + std::uniform_real_distribution<double>(-200, 200)(random), 900.0, 7000.0);
        load = std::clamp(load + std::uniform_real_distribution<double>(-8, 8)(random), 25.0, 240.0);
        r.add(i * 0.1, {{R::rpm, rpm},
                        {R::map, load},
                        {R::lambda, 0.95},
                        {R::lambdaTarget, 0.9},
                        {R::knockRetard, i == 700 ? 3.0 : 0.0}});
    }
    const Job job = r.in(demoJob());
    const auto review = r.review(job);
    const std::vector<std::shared_ptr<const LogReview>> logs{review, nullptr};
    const Coverage cells(review->study());
    double all = 0, most = 0;
    for (std::size_t y = 0; y < cells.load().size(); ++y)
        for (std::size_t x = 0; x < cells.rpm().size(); ++x) {
            const CellArea area = areaOf(cells.rpm(), cells.load(), x, y);
            double here = 0;
            for (std::size_t i = 0; i < r.timeS.size(); ++i) // the nearest breakpoints, by the axis itself
                here +=
                    cells.rpm().nearest(r.of[R::rpm][i]) == x && cells.load().nearest(r.of[R::map][i]) == y
                        ? 1
                        : 0;
            double hits = 0, last = -1e9;
            for (const CellVisit &v : visitsOf(logs, area)) {
                hits += v.hits;
                QVERIFY(v.beginS > last + 0.5);
                last = v.endS;
                COMPARE_NEAR(v.lambdaError, 0.05, 1e-9);
                most = std::max(most, v.knockDeg);
                QVERIFY(v.content != v.content); // nobody knows it
            }
            COMPARE_NEAR(hits, here, 1e-9);
            all += hits;
        }
    QCOMPARE(all, static_cast<double>(r.timeS.size()));
    QCOMPARE(most, 3.0);
    const Report none = visitsReport({}, 3000, 90);
    QVERIFY(says(std::get<Sentence>(none.blocks.back()).words, "No log has been here"));
}

// A car that gains 2 m/s every second from rest has gone t² metres.
void LogReviewTest::episodesLieAlongAnAxis() {
    Recorded r;
    for (int i = 0; i <= 100; ++i)
        r.add(5 + i * 0.1, {{R::rpm, 2000 + i * 40.0}, {R::map, 100}, {R::speed, 2 * i * 0.1 * 3.6}});
    const auto review = r.review(r.in(demoJob()));
    const Episode e{EpisodeKind::pull, 0, 100, 5, 15, 2000, 6000, 100, none};
    const std::vector<double> metres = along(review->trace(), e, EpisodeAxis::distance);
    const std::vector<double> seconds = along(review->trace(), e, EpisodeAxis::time);
    const std::vector<double> rpm = along(review->trace(), e, EpisodeAxis::rpm);
    for (std::size_t i = 0; i <= 100; ++i) {
        COMPARE_NEAR(seconds[i], static_cast<double>(i) * 0.1, 1e-9);
        COMPARE_NEAR(metres[i], seconds[i] * seconds[i], 1e-9);
        COMPARE_NEAR(rpm[i], r.of[R::rpm][i], 1e-12);
    }
    Recorded standing = steady(3000, 90, 0.5, 10);
    standing.of.erase(R::speed);
    QVERIFY(along(standing.review(standing.in(demoJob()))->trace(), e, EpisodeAxis::distance).empty());
}

void LogReviewTest::delayIsStatedAndTakenOut() {
    Job job = demoJob();
    QVERIFY(!statedDelay(job));
    LambdaDelay found;
    stateDelay(job, found); // of nothing comes nothing
    QVERIFY(!statedDelay(job));
    found.curve = LambdaDelay::Curve{195, 0, 1};
    found.lagMs = 100;
    stateDelay(job, found);
    const auto stated = statedDelay(job);
    QVERIFY(stated && stated->stated);
    QCOMPARE(stated->curve->at(50), 195.0);
    QCOMPARE(stated->lagMs, 100.0);
    // λ comes 0.295 s late: the third sample on.
    Recorded r = steady(3000, 90, 0.5, 20);
    for (std::size_t i = 0; i < r.timeS.size(); ++i)
        r.of[R::lambda][i] = static_cast<double>(i) * 0.001 + 0.8;
    const auto review = r.review(r.in(job));
    const std::vector<double> placed = lambdaInItsPlace(review->watched(), *stated);
    for (std::size_t i = 0; i + 3 < placed.size(); ++i)
        COMPARE_NEAR(placed[i], r.of[R::lambda][i + 3], 1e-9);
    QVERIFY(std::isnan(placed.back()));
    // Counted where it belongs: every λ is 0.3 s of the slope higher.
    const auto meanError = [&](const Job &of) {
        const Study study(of);
        const auto rv = r.review(of);
        Coverage cover(study);
        cover.add(rv->watched(), rv->cleaned(), rv->info(), true);
        double sum = 0, hits = 0;
        for (const CoverageCell &c : cover.cells()) {
            sum += c.lambdaError * c.lambdaHits;
            hits += c.lambdaHits;
        }
        return sum / hits;
    };
    const Job with = r.in(job), without = r.in(demoJob());
    COMPARE_NEAR(meanError(with) - meanError(without), 0.003, 0.0016); // less the last three samples
    QVERIFY(meanError(with) > meanError(without));
}

// Counted log by log and put together, or all samples at once: the same, current or not.
void LogReviewTest::coveragesAddUp() {
    Recorded a = steady(3000, 90, 0.5, 30), b = steady(3100, 95, 0.52, 40);
    for (std::size_t i = 0; i < a.timeS.size(); ++i)
        a.of[R::lambda][i] = 0.9 + 0.0001 * static_cast<double>(i);
    b.of[R::knockRetard][100] = 2;
    Job job = a.in(demoJob());
    job = b.in(job, "bb", "2026-05-11T12:00:00Z");
    const auto ra = a.review(job), rb = b.review(job, "bb");
    const Study study(job);
    for (const bool currentA : {true, false})
        for (const bool currentB : {true, false}) {
            Coverage whole(study), parts(study);
            whole.add(ra->watched(), ra->cleaned(), ra->info(), currentA);
            whole.add(rb->watched(), rb->cleaned(), rb->info(), currentB);
            parts.add(ra->coverage(), ra->info(), currentA);
            parts.add(rb->coverage(), rb->info(), currentB);
            std::size_t visited = 0;
            for (std::size_t i = 0; i < whole.cells().size(); ++i) {
                const CoverageCell &w = whole.cells()[i], &p = parts.cells()[i];
                visited += w.hits > 0 ? 1 : 0;
                COMPARE_NEAR(p.hits, w.hits, 1e-9);
                COMPARE_NEAR(p.cleanHits, w.cleanHits, 1e-9);
                COMPARE_NEAR(p.lambdaHits, w.lambdaHits, 1e-9);
                COMPARE_NEAR(p.lambdaError, w.lambdaError, 1e-9);
                COMPARE_NEAR(p.knockHits, w.knockHits, 1e-9);
                COMPARE_NEAR(p.provenHits, w.provenHits, 1e-9);
                COMPARE_NEAR(p.knockDeg, w.knockDeg, 1e-12);
                QCOMPARE(p.lastSeen, w.lastSeen);
                QCOMPARE(parts.state(p), whole.state(w));
            }
            QVERIFY(visited >= 3);
        }
    Job other = job;
    for (Table2D *t : {&other.calibration.of(CalibratedQuantity::spark).base})
        *t = Table2D::uniform(Axis({1000, 5000}), t->y(), 10);
    Coverage elsewhere{Study(other)};
    EXPECT_INPUT_ERROR(elsewhere.add(ra->coverage(), ra->info(), true), "same cells");
    QVERIFY(!ra->coverage().hasCellsOf(Study(other)));
    QVERIFY(ra->coverage().hasCellsOf(study));
}

// Three of the longer pauses of a channel, between a quarter of a second and five seconds.
void LogReviewTest::aSampleStandsAsLongAsItsChannelPauses() {
    constexpr double stepS = 0.02, endS = 20;
    // A channel that speaks at each so many rows, for ten seconds; for how long it stands after its last
    // word.
    const auto stands = [&](const std::function<bool(std::size_t)> &speaks) {
        Recorded r = steady(3000, 90, 0.5, endS, stepS);
        double lastS = 0;
        for (std::size_t i = 0; i < r.timeS.size(); ++i)
            if (r.timeS[i] > 10 || !speaks(i))
                r.of[R::coolantTemp][i] = none;
            else
                lastS = r.timeS[i];
        const auto review = r.review(r.in(demoJob()));
        const LogTrace &t = review->trace();
        std::size_t i = t.indexAt(lastS);
        while (i + 1 < t.size() && std::isfinite(t.at(R::coolantTemp, i + 1)))
            ++i;
        return t.timeS(i) - lastS;
    };
    COMPARE_NEAR(stands([](std::size_t) { return true; }), 0.24, 1e-9); // rows of 0.02 s within 0.25 s
    COMPARE_NEAR(stands([](std::size_t i) { return i % 10 == 0; }), 0.6, 1e-9);
    COMPARE_NEAR(stands([](std::size_t i) { return i % 50 == 0; }), 3, 1e-9);
    COMPARE_NEAR(stands([](std::size_t i) { return i % 100 == 0; }), 5, 1e-9);
    COMPARE_NEAR(stands([](std::size_t i) { return i == 200; }), 5, 1e-9); // it has no pauses
    // One that speaks as it changes: of each twenty pauses seventeen are of a row and three of half a second.
    COMPARE_NEAR(stands([](std::size_t i) {
                     const std::size_t in = i % 92;
                     return in < 18 || in == 42 || in == 67;
                 }),
                 1.5, 1e-9);

    // Silence counts from the last word on, also where it lasts to the end, and none of a role that is not
    // there.
    std::vector<double> times, values;
    for (int i = 0; i < 100; ++i) {
        times.push_back(i * 0.05);
        values.push_back((i > 20 && i < 25) || (i > 40 && i < 48) || i > 97 ? none : 1);
    }
    const LogTrace t(times, {{R::rpm, values}});
    QVERIFY(!t.silentIn(R::rpm, 0, 39)); // 0.25 s from word to word
    QVERIFY(t.silentIn(R::rpm, 40, 48)); // 0.4 s
    QVERIFY(t.silentIn(R::rpm, 0, 99));
    QVERIFY(t.silentIn(R::rpm, 41, 48) && !t.silentIn(R::rpm, 43, 48)); // of what is looked at
    QVERIFY(t.silentIn(R::rpm, 40, 47) && !t.silentIn(R::rpm, 40, 45));
    QVERIFY(!t.silentIn(R::rpm, 90, 99)); // too short at the end
    QVERIFY(t.silentIn(R::map, 0, 1));
}

// A sensor of the coolant that falls silent after ten seconds is held for three of its pauses: what comes
// later proves nothing, and of a content that nobody has read lately no witness says that it stands still.
void LogReviewTest::silenceOfASensorIsNoAnswer() {
    Recorded r = steady(3000, 90, 0.5, 40);
    for (std::size_t i = 0; i < r.timeS.size(); ++i) {
        if (r.timeS[i] > 10.01) r.of[R::coolantTemp][i] = none;
        if (r.timeS[i] > 10.01 && r.timeS[i] < 30) r.of[R::ethanol][i] = none;
        r.of[R::sprayFlow].push_back(r.timeS[i] < 5 ? 200 : r.timeS[i] < 15 ? 10 : none);
        if (r.timeS[i] > 25) r.of[R::throttle][i] = none;
    }
    Job job = r.in(demoJob());
    for (std::size_t i = 0; i < job.logs.size(); ++i) {
        job.logs[i].contentBasis = ContentBasis::stated;
        job.logs[i].content = 0.5;
    }
    const auto review = r.review(job);
    const Study study(job);
    Coverage cover(study);
    cover.add(review->watched(), review->cleaned(), review->info(), true);
    double clean = 0, proven = 0, kept = 0, keptWarm = 0;
    for (const CoverageCell &c : cover.cells()) {
        clean += c.cleanHits;
        proven += c.provenHits;
    }
    for (std::size_t i = 0; i < r.timeS.size(); ++i)
        if (review->cleaned().kept[i]) {
            ++kept;
            keptWarm += r.timeS[i] < 10.35 ? 1 : 0;
        }
    COMPARE_NEAR(clean, kept, 1e-6);
    COMPARE_NEAR(proven, keptWarm, 1e-6);
    QVERIFY(keptWarm > 50 && keptWarm < kept);
    const auto at = [&](double s) {
        const std::size_t i = review->watched().trace().indexAt(s);
        return witnesses::contentMoves.asked(review->watched(), {i, i, i, 0, 0});
    };
    QCOMPARE(at(5), std::optional(false)); // it was read, and stood still
    QCOMPARE(at(22), std::optional<bool>());
    const auto asked = [&](const Witness &w, double s) {
        const std::size_t i = review->watched().trace().indexAt(s);
        return w.asked(review->watched(), {i, i, i, 0, 0});
    };
    QCOMPARE(asked(witnesses::sprayStops, 4), std::optional(false)); // it runs
    QCOMPARE(asked(witnesses::sprayStops, 12), std::optional(true)); // it has stopped
    QCOMPARE(asked(witnesses::sprayStops, 20), std::optional<bool>());
    QCOMPARE(asked(witnesses::opensFast, 20), std::optional(false));
    QCOMPARE(asked(witnesses::opensFast, 30), std::optional<bool>());
}

// What was said of it stays; what needs its samples has none.
void LogReviewTest::samplesCanBeLaidAside() {
    Recorded r = steady(3000, 160, 0.5, 20);
    r.of[R::lambda][100] = r.of[R::lambda][101] = r.of[R::lambda][102] = r.of[R::lambda][103] = 1.1;
    const Job job = r.in(demoJob());
    const auto whole = r.review(job), light = whole->withoutSamples();
    QVERIFY(whole->hasSamples() && !light->hasSamples());
    QCOMPARE(light->findings().found.size(), whole->findings().found.size());
    QVERIFY(!light->findings().found.empty());
    QCOMPARE(light->episodes().size(), whole->episodes().size());
    QCOMPARE(light->cleaned().left, whole->cleaned().left);
    QCOMPARE(light->cleaned().steps.size(), whole->cleaned().steps.size());
    QCOMPARE(light->content().mean, whole->content().mean);
    QCOMPARE(light->coverage().cells().size(), whole->coverage().cells().size());
    const std::vector<std::shared_ptr<const LogReview>> logs{light};
    QVERIFY(visitsOf(logs, {0, 1e9, 0, 1e9}).empty());
}

// Cold lies over all of it; what the engine does says more.
void LogReviewTest::theShortestEpisodeSpeaks() {
    Recorded r = steady(3000, 90, 0.5, 40);
    for (std::size_t i = 0; i < r.timeS.size(); ++i) {
        r.of[R::coolantTemp][i] = 30;
        if (r.timeS[i] > 20) r.of[R::rpm][i] = 4500;
    }
    const auto review = r.review(r.in(demoJob()));
    QVERIFY(!only(review->episodes(), EpisodeKind::cold).empty());
    QVERIFY(!only(review->episodes(), EpisodeKind::hold).empty());
    for (const double at : {10.0, 30.0}) {
        QVERIFY(review->episodeAt(at));
        QCOMPARE(static_cast<int>(review->episodeAt(at)->kind), static_cast<int>(EpisodeKind::hold));
    }
    QVERIFY(!review->episodeAt(-5));
}

void LogReviewTest::proofIsReadByPlace() {
    QVERIFY(Proof().empty());
    QCOMPARE(Proof().at({0.5, 3000, 90}), BeenThere::never);
    QVERIFY(!Proof().highestProven(0.5, 3000));
    QCOMPARE(Proof().pulls(Study(demoJob()), 0.5), BeenThere::never);
    // 2 speeds × 3 loads × 2 bands.
    using B = BeenThere;
    const Proof p(Axis({1000, 3000}), Axis({50, 100, 200}), {0, 0.4, 1},
                  {B::proven, B::never, B::seen, B::proven, B::never, B::seen, //
                   B::never, B::never, B::never, B::never, B::proven, B::never});
    QCOMPARE(p.at({0.1, 1200, 60}), B::proven);
    QCOMPARE(p.at({0.1, 2900, 110}), B::proven);
    QCOMPARE(p.at({0.1, 2900, 400}), B::seen);
    QCOMPARE(p.at({0.4, 1000, 200}), B::proven); // a band ends where the next begins
    QCOMPARE(p.at({1.0, 1000, 200}), B::proven);
    QCOMPARE(p.highestProven(0.39, 3000), std::optional<double>(100));
    QCOMPARE(p.highestProven(0.39, 1000), std::optional<double>(50));
    QVERIFY(!p.highestProven(0.9, 3000));
    QVERIFY(p.anyProven());
}

namespace {

// A proof with the same state everywhere but in what `except` names.
Proof everywhere(const Study &study, BeenThere state,
                 const std::function<bool(double rpm, double load)> &except = {},
                 BeenThere there = BeenThere::never) {
    const Coverage c(study);
    std::vector<BeenThere> cells;
    for (const CoverageCell &cell : c.cells())
        cells.push_back(except && except(cell.rpm, cell.loadKpa) ? there : state);
    return {c.rpm(), c.load(), {coverageBands().begin(), coverageBands().end()}, std::move(cells)};
}

} // namespace

void LogReviewTest::cleanPullsProveMixtureAndKnock() {
    const auto study = std::make_shared<const Study>(demoJob());
    const auto plain = verify(study), proven = verify(study, everywhere(*study, BeenThere::proven));
    const auto seen = verify(study, everywhere(*study, BeenThere::seen));
    // One speed without a proof near the top of its reach: no clean pull.
    const double limit = study->job().engine.revLimitRpm;
    const auto holed = verify(study, everywhere(*study, BeenThere::proven, [&](double rpm, double load) {
                                  return std::abs(rpm - 0.7 * limit) < 200 && load > 120;
                              }));
    for (std::size_t q = 0; q < plain->answers.size(); ++q) {
        const Question &question = *plain->answers[q].question;
        const bool provable = question.id == QuestionId::mixture || question.id == QuestionId::knock;
        for (std::size_t i = 0; i < plain->contents.size(); ++i) {
            const CheckState before = plain->answers[q].byContent[i];
            QVERIFY(before != CheckState::proven); // without logs nothing is
            // Proof never makes anything better than it was but for what held; what a check newly judges may
            // be worse.
            if (provable && before == CheckState::held &&
                proven->answers[q].byContent[i] < CheckState::caution)
                QCOMPARE(proven->answers[q].byContent[i], CheckState::proven);
            if (!provable) QVERIFY(proven->answers[q].byContent[i] != CheckState::proven);
            QVERIFY(seen->answers[q].byContent[i] != CheckState::proven);
            QVERIFY(holed->answers[q].byContent[i] != CheckState::proven);
        }
    }
    QVERIFY(std::ranges::all_of(proven->pulls, [](BeenThere b) { return b == BeenThere::proven; }));
    QVERIFY(std::ranges::all_of(seen->pulls, [](BeenThere b) { return b == BeenThere::seen; }));
    QVERIFY(std::ranges::all_of(holed->pulls, [](BeenThere b) { return b == BeenThere::never; }));
    QVERIFY(std::ranges::all_of(plain->pulls, [](BeenThere b) { return b == BeenThere::never; }));
}

void LogReviewTest::sparkIsHeldUnderWhatLogsProved() {
    Job job = demoJob();
    const auto proofTo = [](const Study &study, double highest) {
        return everywhere(study, BeenThere::proven, [=](double, double load) { return load > highest; });
    };
    auto study = std::make_shared<const Study>(job);
    QVERIFY(!findRow(*verify(study), "spark.unproven")); // nothing has been proven: it cannot be asked
    auto row = findRow(*verify(study, proofTo(*study, 100)), "spark.unproven");
    auto verdict = verify(study, proofTo(*study, 100));
    row = findRow(*verdict, "spark.unproven");
    QVERIFY(row);
    QVERIFY(row->state != CheckState::failing); // spark falls with load in this job
    // More spark above the proven load than at it.
    for (Table2D *t : {&job.calibration.of(CalibratedQuantity::spark).base,
                       &job.calibration.of(CalibratedQuantity::spark).top})
        for (std::size_t y = 0; y < t->y().size(); ++y)
            for (std::size_t x = 0; x < t->x().size(); ++x)
                if (t->y()[y] > 105) t->setCell({x, y}, t->cell(x, t->y().nearest(100)) + 3);
    study = std::make_shared<const Study>(job);
    verdict = verify(study, proofTo(*study, 100));
    row = findRow(*verdict, "spark.unproven");
    QVERIFY(row);
    QCOMPARE(row->state, CheckState::failing);
    const WorstPlace &worst = row->outcome.worst();
    COMPARE_NEAR(worst.value - worst.limit, 3, 0.05);
    QVERIFY(worst.loadKpa > 100);
    // Proven up there as well: nothing is left to ask.
    verdict = verify(study, proofTo(*study, 1000));
    QVERIFY(findRow(*verdict, "spark.unproven")->state != CheckState::failing);
}

void LogReviewTest::findingsAreExplainedByTheirNumbers() {
    // Lean by 0.1 for two seconds under boost.
    Recorded r = steady(3000, 160, 0.5, 20);
    for (std::size_t i = 0; i < r.timeS.size(); ++i)
        if (r.timeS[i] > 9.95 && r.timeS[i] < 12.05) r.of[R::lambda][i] = 1.0;
    const Job job = r.in(demoJob());
    const auto review = r.review(job);
    const auto &found = review->findings().found;
    const auto lean =
        std::ranges::find(found, std::string_view("lean"), [](const LogFinding &f) { return f.rule->id; });
    QVERIFY(lean != found.end());
    const Explanation x = explain(*review, *lean);
    COMPARE_NEAR(x.result.value, lean->worst, 0);
    QVERIFY(!x.inputs.empty());
    QCOMPARE(x.inputs[0].link, std::string("limits.watch.lean"));
    COMPARE_NEAR(x.inputs[0].value.value, limitOf(job, "watch.lean"), 0);
    COMPARE_NEAR(x.inputs[1].value.value, 3000, 1e-9);
    COMPARE_NEAR(x.inputs[2].value.value, 160, 1e-9);
    COMPARE_NEAR(x.inputs[3].value.value, 0.5, 1e-9);
    COMPARE_NEAR(x.substituted.values[2].value, lean->worstS, 0);
    QVERIFY(!x.change.empty() && !x.uncertainty.empty() && !x.source.empty());
    // What could not be asked is said to be so.
    const std::string words = plainText(findingsReport(*review), {});
    QVERIFY(words.find("could be asked") != std::string::npos);
    QVERIFY(words.find("Not asked") != std::string::npos);
    const std::size_t asked = allWatchRules().size() - review->findings().notAsked.size();
    QVERIFY(words.find(std::to_string(asked) + " of " + std::to_string(allWatchRules().size())) !=
            std::string::npos);
}

CORE_TEST_MAIN(LogReviewTest)
#include "log_review_test.moc"
