// SPDX-License-Identifier: GPL-3.0-or-later
// What boost did in a pull: spikes, creep, sag and waves that were drawn by hand, found again by their
// numbers.
#include "core/job/job_schema.h"
#include "core/proposal/boost_pulls.h"
#include "core/study/boost_plan.h"
#include "support/phrases.h"
#include "support/random_job.h"
#include "support/recorded_log.h"
#include "support/test_main.h"

#include <cmath>
#include <numbers>

using namespace wheelwright;
using namespace wheelwright::testing;

namespace {

using R = ChannelRole;
constexpr double ambient = 101.325, targetGauge = 90;

struct Shape {
    double spikeKpa = 0, driftKpa = 0, waveKpa = 0, waveHz = 0, duty = 0.4, dutyMoves = 0;
};

/// A pull from 2000 to 7000 rpm in ten seconds: on target from the third second on, with a shape.
Recorded pull(const Shape &s, double content = 0.60) {
    Recorded r;
    double t = 0;
    const auto add = [&](double rpm, double load, double throttle, double duty) {
        r.add(t, {{R::rpm, rpm},
                  {R::map, load},
                  {R::throttle, throttle},
                  {R::ethanol, content},
                  {R::coolantTemp, 86},
                  {R::gear, 4},
                  {R::solenoidDuty, duty},
                  {R::pulseWidth, 8},
                  {R::boostTarget, ambient + targetGauge}});
        t += 0.02;
    };
    for (int i = 0; i < 250; ++i)
        add(2000, 50, 0.15, 0);
    for (int i = 0; i <= 500; ++i) {
        const double at = i * 0.02, rpm = 2000 + 500 * at;
        double gauge = targetGauge * std::min(1.0, at / 3);
        if (at >= 3) {
            gauge += s.spikeKpa * std::exp(-(at - 3) / 0.15) + s.driftKpa * (at - 3) / 7;
            gauge += s.waveKpa * std::sin(2 * std::numbers::pi * s.waveHz * (at - 3));
        }
        add(rpm, ambient + gauge, 1, s.duty + s.dutyMoves * at / 10);
    }
    for (int i = 0; i < 250; ++i)
        add(2500, 45, 0.02, 0);
    return r;
}

PullBoost read(const Shape &s) {
    const Recorded r = pull(s);
    const Job job = r.in(demoJob());
    const std::vector<std::shared_ptr<const LogReview>> logs{r.review(job)};
    const std::vector<PullBoost> pulls = readPulls(logs);
    return pulls.size() == 1 ? pulls[0] : PullBoost();
}

bool saysOf(const PullBoost &p, std::string_view word) {
    return std::ranges::any_of(p.said, [&](const Phrase &s) { return says(s, word); });
}

} // namespace

class BoostPullsTest : public QObject {
    Q_OBJECT
  private slots:
    void aQuietPullIsItsTarget();
    void spikesAreMeasured();
    void creepAndSag();
    void waves();
    void quietPullsBecomePoints();
    void boostOverContentIsALine();
};

void BoostPullsTest::aQuietPullIsItsTarget() {
    const PullBoost p = read({});
    QVERIFY(p.reached && p.said.empty());
    COMPARE_NEAR(p.heldKpa, targetGauge, 0.5);
    COMPARE_NEAR(p.targetKpa, targetGauge, 1e-9);
    COMPARE_NEAR(p.reachedRpm, 2000 + 500 * 2.7, 30); // nine tenths of it
    COMPARE_NEAR(p.duty, 0.4, 1e-9);
    COMPARE_NEAR(p.driftKpa, 0, 0.5);
    COMPARE_NEAR(p.overshootKpa, 0, 0.1);
    QCOMPARE(p.gear, 4.0);
    COMPARE_NEAR(p.content, 0.6, 1e-6);
    QCOMPARE(p.waveHz, 0.0);
}

void BoostPullsTest::spikesAreMeasured() {
    const PullBoost p = read({.spikeKpa = 22});
    COMPARE_NEAR(p.overshootKpa, 22, 0.5);
    QVERIFY(saysOf(p, "spike") && saysOf(p, "22 kPa"));
    QVERIFY(!saysOf(read({.spikeKpa = 10}), "spike")); // 14 kPa are allowed for
}

void BoostPullsTest::creepAndSag() {
    const PullBoost up = read({.driftKpa = 14}), down = read({.driftKpa = -14});
    // By straight line from half a second after it was reached: 6.8 of the 7 seconds.
    COMPARE_NEAR(up.driftKpa, 13.8, 0.6);
    COMPARE_NEAR(down.driftKpa, -13.8, 0.6);
    QVERIFY(saysOf(up, "creep") && !saysOf(up, "sag"));
    QVERIFY(saysOf(down, "sag") && !saysOf(down, "creep"));
    QVERIFY(read({.driftKpa = 4}).said.empty());
}

void BoostPullsTest::waves() {
    const PullBoost p = read({.waveKpa = 8, .waveHz = 1.5});
    COMPARE_NEAR(p.waveKpa, 8, 0.5);
    COMPARE_NEAR(p.waveHz, 1.5, 0.15);
    QVERIFY(saysOf(p, "wave"));
    QVERIFY(!saysOf(read({.waveKpa = 2, .waveHz = 1.5}), "wave"));
}

void BoostPullsTest::quietPullsBecomePoints() {
    Job job = demoJob();
    const PullBoost quiet = read({}), odd = read({.driftKpa = 14}), moving = read({.dutyMoves = 0.2});
    const std::size_t before = job.boost.points.size();
    const Job after = withBoostPoints(job, std::vector<PullBoost>{quiet, odd, moving, quiet});
    validate(after);
    QCOMPARE(after.boost.points.size(), before + 1); // the second time says nothing new
    const BoostPoint &p = after.boost.points.values().back();
    COMPARE_NEAR(p.duty, 0.4, 1e-9);
    COMPARE_NEAR(p.boostKpa, targetGauge, 0.5);
    QCOMPARE(p.gear, 4.0);
    // It is part of what boost is planned by from then on.
    std::size_t points = 0, then = 0;
    for (const BoostGroup &g : boostGroups(job))
        points += g.points.size();
    for (const BoostGroup &g : boostGroups(after))
        then += g.points.size();
    QCOMPARE(then, points + 1);
}

// A straight line by hand: 8 kPa more for all of the content, with two pulls off by 1 each way.
void BoostPullsTest::boostOverContentIsALine() {
    std::vector<PullBoost> pulls;
    for (const auto &[content, off] :
         {std::pair{0.1, 0.0}, {0.3, 1.0}, {0.5, -1.0}, {0.7, -1.0}, {0.9, 1.0}}) {
        PullBoost p;
        p.content = content;
        p.reached = true;
        p.heldKpa = 90 + 8 * content + off;
        p.targetKpa = 90 + 12 * content;
        pulls.push_back(p);
    }
    const auto line = boostOverContent(pulls);
    QVERIFY(line);
    QCOMPARE(line->pulls, std::size_t{5});
    // Σ off (E − mean) = 1 · −0.2 − 1 · 0 − 1 · 0.2 + 1 · 0.4 = 0; Σ (E − mean)² = 0.4.
    COMPARE_NEAR(line->held, 8, 1e-9);
    COMPARE_NEAR(line->target, 12, 1e-9);
    COMPARE_NEAR(line->heldError, std::sqrt(4.0 / 3 / 0.4), 1e-9);
    COMPARE_NEAR(line->from, 0.1, 1e-12);
    COMPARE_NEAR(line->to, 0.9, 1e-12);
    pulls[1].reached = pulls[2].reached = pulls[3].reached = false;
    QVERIFY(!boostOverContent(pulls)); // two pulls are no line
    for (PullBoost &p : pulls) {
        p.reached = true;
        p.content = 0.5;
    }
    QVERIFY(!boostOverContent(pulls));
}

CORE_TEST_MAIN(BoostPullsTest)
#include "boost_pulls_test.moc"
