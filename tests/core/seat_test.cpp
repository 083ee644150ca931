// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/limits.h"
#include "core/evidence/log_review.h"
#include "core/live/live_sampler.h"
#include "core/live/practice_frames.h"
#include "core/live/seat.h"
#include "formats/job_json.h"
#include "formats/practice_json.h"
#include "support/practice_log.h"
#include "support/test_main.h"

#include <QFile>

#include <set>

using namespace wheelwright;
using namespace wheelwright::testing;

namespace {

using R = ChannelRole;

Job demo() {
    QFile file(QStringLiteral(DEMO_JOB));
    return file.open(QIODevice::ReadOnly) ? jobFromJson(file.readAll().toStdString()) : Job();
}

/// A practice engine heard over its bus: rows as they are when a moment has come.
class Heard {
  public:
    Heard(const Job &job, const std::string &script, const std::vector<FaultSetting> &faults = {})
        : m_decoder(practiceCanMap()), m_sampler(m_decoder, 50),
          m_roles(liveLayout(m_decoder), suggestMap(liveLayout(m_decoder)), {job.conditions.ambientKpa, 14}) {
        m_rows.width = m_sampler.width();
        m_sampler.begin(0);
        std::size_t step = 0;
        HiddenEngine engine = engineAsTheJobSays(Study(job));
        engine.ve = drawEngine(Study(job), 1).ve;
        runPractice(job, engine, faults, scriptFromJson(script),
                    [&](const PracticeSample &s, const PracticeTruth &) {
                        samples.push_back(s);
                        for (const CanFrame &f : practiceFrames(s, step++))
                            m_sampler.take(f);
                    });
        m_sampler.until(samples.back().timeS);
        m_rows = m_sampler.takeRows();
    }
    /// As it was at that time, seconds.
    LiveRows until(double timeS) const {
        LiveRows out{m_rows.width, {}};
        for (std::size_t r = 0; r < m_rows.count() && m_rows.row(r)[0] <= timeS; ++r)
            out.numbers.insert(out.numbers.end(), m_rows.row(r).begin(), m_rows.row(r).end());
        return out;
    }
    LogTrace trace(double timeS = 1e9) const { return m_roles.trace(until(timeS), {}); }
    const LiveRoles &roles() const { return m_roles; }
    std::vector<PracticeSample> samples;

  private:
    CanDecoder m_decoder;
    LiveSampler m_sampler;
    LiveRoles m_roles;
    LiveRows m_rows;
};

constexpr const char *onePull = R"({"ethanol": 0.1, "steps": [{"do": "idle", "seconds": 4},
    {"do": "pull", "mode": "loaded", "gear": 4, "from_rpm": 2500, "to_rpm": 6000}, {"do": "idle", "seconds": 4}]})";

const SeatMark *markOf(const SeatReview &review, R role, SeatMark::Kind kind) {
    for (const SeatMark &m : review.marksOf(role))
        if (m.kind == kind) return &m;
    return nullptr;
}

bool calls(const SeatReview &review, std::string_view id) {
    return std::ranges::any_of(review.calls, [&](const SeatReview::Call &c) { return c.rule->id == id; });
}

} // namespace

class SeatTest : public QObject {
    Q_OBJECT
  private slots:
    void standings();
    void rolesHaveSpansAndTitles();
    void whatIsHeardIsWhatTheEngineSays();
    void marksAreTargetsAndLimits();
    void aPullIsJudgedAsItsLogIs();
    void theVerdictComesWithinASecond();
    void leanIsCalledWhileItIs();
    void silenceIsNotClean();
    void coverageFills();
    void everyRuleHasFewWords();
};

void SeatTest::standings() {
    using K = SeatMark::Kind;
    const std::vector<SeatMark> duty{{K::target, 0.5}, {K::caution, 0.85}, {K::stop, 0.95}};
    QCOMPARE(standingOf(0.85, duty), SeatStanding::within);
    QCOMPARE(standingOf(0.851, duty), SeatStanding::caution);
    QCOMPARE(standingOf(0.951, duty), SeatStanding::over);
    QCOMPARE(standingOf(std::nan(""), duty), SeatStanding::notJudged);
    QCOMPARE(standingOf(0.5, std::vector<SeatMark>{{K::target, 0.5}}), SeatStanding::notJudged);
    const std::vector<SeatMark> battery{{K::stop, 13, true}};
    QCOMPARE(standingOf(13, battery), SeatStanding::within);
    QCOMPARE(standingOf(12.9, battery), SeatStanding::over);
}

void SeatTest::rolesHaveSpansAndTitles() {
    const Study study(demo());
    std::set<R> once;
    for (const R role : seatRoles()) {
        QVERIFY(once.insert(role).second);
        const SeatSpan span = spanOf(role, study);
        QVERIFY2(span.from < span.to, std::string(definitionOf(role).key).c_str());
    }
    QCOMPARE(usualSeatRoles().size(), std::size_t{6});
    for (const R role : usualSeatRoles())
        QVERIFY(once.contains(role));
}

void SeatTest::whatIsHeardIsWhatTheEngineSays() {
    const Job job = demo();
    const Heard heard(
        job, R"({"ethanol": 0.3, "steps": [{"do": "hold", "rpm": 3000, "load_kpa": 80, "seconds": 8}]})");
    const LogTrace t = heard.trace();
    const PracticeSample &s = heard.samples.back();
    const std::size_t last = t.size() - 1;
    // Absolute and gauge as the roles want them; shares; a step of the frames is the tolerance.
    COMPARE_NEAR(t.at(R::rpm, last), s.rpm, 10);
    COMPARE_NEAR(t.at(R::map, last), s.mapKpa, 5);
    COMPARE_NEAR(t.at(R::duty, last), s.dutyPercent / 100, 0.01);
    COMPARE_NEAR(t.at(R::railPressure, last), s.railKpa + job.conditions.ambientKpa, 3);
    COMPARE_NEAR(t.at(R::oilPressure, last), s.oilKpa + job.conditions.ambientKpa, 3);
    COMPARE_NEAR(t.content(last), s.contentPercent / 100, 0.005);
    COMPARE_NEAR(t.at(R::coolantTemp, last), s.coolantC, 0.2);
    QVERIFY(t.contentKnown() && !t.contentStated());
    const LogTrace stated = heard.roles().trace(heard.until(5), 0.7);
    QCOMPARE(stated.content(3), 0.7);
}

void SeatTest::marksAreTargetsAndLimits() {
    Job job = demo();
    const Heard heard(
        job, R"({"ethanol": 0.1, "steps": [{"do": "hold", "rpm": 3000, "load_kpa": 80, "seconds": 6}]})");
    const Study study(job);
    const SeatReview review = reviewSeat(study, heard.trace());
    const PracticeSample &s = heard.samples.back();
    using K = SeatMark::Kind;
    QVERIFY(markOf(review, R::lambda, K::target));
    COMPARE_NEAR(markOf(review, R::lambda, K::target)->value, s.lambdaTarget, 2e-3);
    QVERIFY(!markOf(review, R::lambda, K::stop)); // no rule speaks of λ at light load
    COMPARE_NEAR(markOf(review, R::duty, K::caution)->value, 0.85, 1e-12); // handbook chapter 1
    COMPARE_NEAR(markOf(review, R::duty, K::stop)->value, 0.95, 1e-12);
    COMPARE_NEAR(markOf(review, R::coolantTemp, K::stop)->value, limitOf(job, "watch.coolant"), 1e-12);
    QVERIFY(markOf(review, R::battery, K::stop)->least);
    // Oil in bars per thousand turns, over the air.
    COMPARE_NEAR(markOf(review, R::oilPressure, K::stop)->value,
                 job.conditions.ambientKpa + limitOf(job, "watch.oil") * 3, 1);
    // The rail sags from so much of what stands across the injectors.
    const double target = markOf(review, R::railPressure, K::target)->value;
    COMPARE_NEAR(target, s.railKpa + job.conditions.ambientKpa, 6);
    COMPARE_NEAR(target - markOf(review, R::railPressure, K::stop)->value,
                 limitOf(job, "flow.sag") * (target - s.mapKpa), 4);
    QCOMPARE(markOf(review, R::rpm, K::stop)->value, job.engine.revLimitRpm);
    QVERIFY(markOf(review, R::map, K::stop)->value > job.conditions.ambientKpa + job.boost.springKpa);
    job.limits["flow.duty.caution"] = 0.7; // the job's own
    COMPARE_NEAR(markOf(reviewSeat(Study(job), heard.trace()), R::duty, K::caution)->value, 0.7, 1e-12);
}

// The same rules on the same samples, read through as a log is.
void SeatTest::aPullIsJudgedAsItsLogIs() {
    const Job job = demo();
    for (const std::vector<FaultSetting> &faults :
         {std::vector<FaultSetting>{}, {faultFrom("weak_pump:0.7", "")}}) {
        const Heard heard(job, onePull, faults);
        const Study study(job);
        const SeatReview review = reviewSeat(study, heard.trace());
        QVERIFY(review.lastPull);
        const PullVerdict &v = *review.lastPull;
        const WatchedLog log(study, heard.trace());
        const auto pulls = only(log.episodes(), EpisodeKind::pull);
        QCOMPARE(pulls.size(), std::size_t{1});
        QCOMPARE(v.beginS, pulls[0].beginS);
        std::set<std::string_view> here, there;
        for (const LogFinding &f : v.found)
            here.insert(f.rule->id);
        for (const LogFinding &f : watch(log).found)
            if (f.endS >= v.beginS && f.beginS <= v.endS) there.insert(f.rule->id);
        QCOMPARE(here, there);
        QCOMPARE(here.contains("lean"), !faults.empty());
        double peak = 0, duty = 0;
        for (std::size_t i = pulls[0].from; i <= pulls[0].to; ++i) {
            peak = std::max(peak, log.at(R::map, i));
            duty = std::max(duty, log.at(R::duty, i));
        }
        COMPARE_NEAR(v.peakKpa, peak, 1e-9);
        COMPARE_NEAR(v.duty, duty, 1e-9);
        const std::string numbers = format(numbersOf(v));
        QVERIFY2(numbers.find("duty " + format(duty, Dimension::ratio, {}) + " at most") != std::string::npos,
                 numbers.c_str());
        if (here.contains("lean")) QVERIFY(v.lambdaOver > limitOf(job, "watch.lean"));
        const std::string said = format(inWords(v));
        QVERIFY2(said.starts_with("Pull "), said.c_str());
        if (!faults.empty()) QVERIFY2(said.find("Lean under boost") != std::string::npos, said.c_str());
    }
}

void SeatTest::theVerdictComesWithinASecond() {
    const Job job = demo();
    const Heard heard(job, onePull);
    const Study study(job);
    const SeatReview whole = reviewSeat(study, heard.trace());
    QVERIFY(whole.lastPull);
    const double endS = whole.lastPull->endS;
    const SeatReview within = reviewSeat(study, heard.trace(endS - 1));
    QVERIFY(within.pulling);
    QVERIFY(!within.lastPull);
    const SeatReview after = reviewSeat(study, heard.trace(endS + 1));
    QVERIFY(!after.pulling);
    QVERIFY(after.lastPull);
    COMPARE_NEAR(after.lastPull->endS, endS, 0.05);
}

void SeatTest::leanIsCalledWhileItIs() {
    const Job job = demo();
    const Heard heard(job, onePull, {faultFrom("weak_pump:0.7", "")});
    const Study study(job);
    const SeatReview whole = reviewSeat(study, heard.trace());
    const auto lean = std::ranges::find(whole.lastPull->found, std::string_view("lean"),
                                        [](const LogFinding &f) { return f.rule->id; });
    QVERIFY(lean != whole.lastPull->found.end());
    QVERIFY(!calls(reviewSeat(study, heard.trace(lean->beginS - 0.5)), "lean"));
    QVERIFY(calls(reviewSeat(study, heard.trace(lean->beginS + 0.4)), "lean")); // the rule itself waits 0.2 s
    const SeatReview now = reviewSeat(study, heard.trace(lean->endS));
    QVERIFY(calls(now, "lean"));
    QCOMPARE(format(now.calls.front().rule->call), std::string("LEAN — lift")); // the gravest first
    QVERIFY(!calls(reviewSeat(study, heard.trace(lean->endS + callHeldS + 0.5)), "lean"));
}

void SeatTest::silenceIsNotClean() {
    const Job job = demo();
    const Heard heard(job, onePull);
    const Study study(job);
    const LogTrace full = heard.trace();
    const SeatReview sound = reviewSeat(study, heard.trace());
    const auto unasked = [](const auto &rules, std::string_view id) {
        return std::ranges::any_of(rules, [&](const WatchRule *r) { return r->id == id; });
    };
    QVERIFY(!unasked(sound.notAsked, "knock"));
    QVERIFY(!unasked(sound.lastPull->notAsked, "knock"));
    // Knock control falls silent after the pull, then within it, then for all of it.
    for (const double fromS : {sound.lastPull->endS + 0.5, sound.lastPull->endS - 1, 0.0}) {
        std::vector<std::pair<R, std::vector<double>>> columns;
        for (const R role : {R::rpm, R::map, R::throttle, R::lambda, R::lambdaTarget, R::knockRetard,
                             R::pulseWidth, R::coolantTemp}) {
            std::vector<double> c(full.of(role).begin(), full.of(role).end());
            if (role == R::knockRetard)
                for (std::size_t i = full.indexAt(fromS); i < c.size(); ++i)
                    c[i] = std::nan("");
            columns.emplace_back(role, std::move(c));
        }
        const SeatReview review = reviewSeat(study, LogTrace(full.times(), columns));
        QVERIFY(unasked(review.notAsked, "knock"));
        QCOMPARE(unasked(review.lastPull->notAsked, "knock"), fromS < sound.lastPull->endS);
        QVERIFY(unasked(review.lastPull->notAsked, "oil")); // no such channel
        QVERIFY(!clean(*review.lastPull));
        if (review.lastPull->found.empty())
            QVERIFY(format(inWords(*review.lastPull)).find("not judged: ") != std::string::npos);
    }
}

void SeatTest::coverageFills() {
    const Job job = demo();
    const Heard heard(
        job, R"({"ethanol": 0.3, "steps": [{"do": "hold", "rpm": 3000, "load_kpa": 80, "seconds": 8}]})");
    const Study study(job);
    const LogTrace t = heard.trace();
    const SeatCoverage c = coverageOf(study, t);
    double all = 0;
    for (const double n : c.samples)
        all += n;
    std::size_t running = 0;
    for (std::size_t i = 0; i < t.size(); ++i)
        running += t.at(R::rpm, i) >= 400 && t.at(R::pulseWidth, i) > 0 ? 1 : 0;
    QCOMPARE(all, double(running)); // every sample is in one cell
    QVERIFY(c.now);
    // The nearest by hand.
    const auto nearest = [](const Axis &axis, double v) {
        std::size_t best = 0;
        for (std::size_t i = 0; i < axis.size(); ++i)
            if (std::abs(axis[i] - v) < std::abs(axis[best] - v)) best = i;
        return best;
    };
    QCOMPARE(c.now->x, nearest(c.rpm, t.at(R::rpm, t.size() - 1)));
    QCOMPARE(c.now->y, nearest(c.loadKpa, t.at(R::map, t.size() - 1)));
    // In two halves it comes to the same.
    const SeatCoverage first = coverageOf(study, heard.trace(4)), second = coverageOf(study, t, 4);
    for (std::size_t i = 0; i < c.samples.size(); ++i)
        QCOMPARE(first.samples[i] + second.samples[i], c.samples[i]);
}

void SeatTest::everyRuleHasFewWords() {
    std::set<std::string_view> calls;
    for (const WatchRule *rule : allWatchRules()) {
        QVERIFY2(!rule->call.empty() && rule->call.text.size() <= 36, std::string(rule->id).c_str());
        QVERIFY(calls.insert(rule->call.text).second);
    }
}

CORE_TEST_MAIN(SeatTest)
#include "seat_test.moc"
