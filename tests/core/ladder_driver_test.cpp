// SPDX-License-Identifier: GPL-3.0-or-later
// Twenty engines that nobody has seen, and somebody who does only what the ladder says.
#include "core/ladder/ladder_forecast.h"
#include "formats/job_json.h"
#include "support/ladder_driver.h"
#include "support/test_main.h"

#include <QFile>

#include <algorithm>

using namespace wheelwright;
using namespace wheelwright::testing;

namespace {

Job demoJob() {
    QFile f(QStringLiteral(DEMO_JOB));
    if (!f.open(QIODevice::ReadOnly)) qFatal("no demo job");
    Job job = jobFromJson(f.readAll().toStdString());
    job.tankEvents.clear();
    TankEvent level, content;
    level.kind = TankEventKind::level;
    level.litres = 16;
    content.kind = TankEventKind::content;
    content.ethanol = 0.10;
    job.tankEvents = {level, content};
    job.boost.points.clear();
    job.boost.springKpa = 50;
    job.ladder.baseBoostKpa = 180;
    job.ladder.topBoostKpa = 215;
    job.limits["watch.intake_rise"] = 32; // its cooler is not what this is about
    job.engine.boostLimitKpa = Curve::constant(270);
    job.injectors.flowCcMin *= 1.3;
    return job;
}

// Three rungs on the base fuel, one content between, the top and one step of boost.
Job shortWay(Job job) {
    job.ladderContents = {{0.45}};
    job.ladder.baseBoostKpa = 165;
    job.ladder.topBoostKpa = 180;
    return job;
}

/// How often what was found lay within the band that was forecast for it, before its fuel was poured.
class BandCount {
  public:
    void watch(LadderDriver &driver, int seed) {
        driver.beforeRung = [this](const LadderDriver &d, const Ladder &ladder, const Rung &) {
            m_forecast = forecastLadder(Study(d.job()), ladder, d.facts());
        };
        driver.passed = [this, seed](const LadderDriver &, const Rung &rung, const RungPass &,
                                     const LadderFacts &facts) {
            const RungForecast *f = m_forecast.of(rung.id);
            const auto last = std::find_if(facts.pulls.rbegin(), facts.pulls.rend(),
                                           [](const PullFacts &p) { return p.full; });
            if (!f || last == facts.pulls.rend()) return;
            const std::string where = std::to_string(seed) + " " + rung.id;
            note(where, "duty", last->dutyMost, f->duty);
            note(where, "held", last->heldKpa, f->heldKpa);
            note(where, "solenoid", last->solenoidDuty, f->solenoidDuty);
        };
    }
    int all() const { return m_all; }
    double share() const { return static_cast<double>(m_within) / m_all; }
    double worst() const { return m_worst; } ///< standard errors
    const std::string &story() const { return m_story; }

  private:
    void note(const std::string &where, const char *what, double found,
              const std::optional<Uncertain> &forecast) {
        if (!forecast || !(found == found)) return;
        const double off = (found - forecast->value) / forecast->sigma;
        ++m_all;
        if (std::abs(off) <= within95) ++m_within;
        m_worst = std::max(m_worst, std::abs(off));
        m_story += where + " " + what + ": found " + std::to_string(found) + ", forecast " +
                   std::to_string(forecast->value) + ", standard errors " + std::to_string(off) + "\n";
    }

    LadderForecast m_forecast;
    int m_all = 0, m_within = 0;
    double m_worst = 0;
    std::string m_story;
};

} // namespace

class LadderDriverTest : public QObject {
    Q_OBJECT
  private slots:
    void bringsThemToTheTop();
    void stopsWhereAPartEnds();
};

// LADDER_ENGINES=20 has twenty of them climb every rung, half a minute each; LADDER_FIRST=10 begins with that
// one. Without it one climbs a short way.
void LadderDriverTest::bringsThemToTheTop() {
    const int asked = qEnvironmentVariableIntValue("LADDER_ENGINES");
    BandCount count;
    for (int seed = std::max(1, qEnvironmentVariableIntValue("LADDER_FIRST")); seed <= std::max(1, asked);
         ++seed) {
        const Job job = asked > 0 ? demoJob() : shortWay(demoJob());
        LadderDriver driver(job, drawEngine(Study(job), static_cast<std::uint64_t>(seed)));
        count.watch(driver, seed);
        driver.climb();
        if (asked > 0 && !driver.atTop()) std::fputs(driver.story().c_str(), stderr);
        QVERIFY2(!driver.destroyed() && driver.atTop(),
                 (std::to_string(seed) + ": " + driver.endedBy() + "\n" + driver.story()).c_str());
        const auto &passed = driver.job().ladderPassed.values();
        QVERIFY(passed.back().rung.starts_with("top_boost."));
        QVERIFY(std::ranges::all_of(passed, [](const RungPass &p) { return p.by == PassedBy::evidence; }));
        if (asked > 0)
            qInfo() << seed << "climbed, injectors" << driver.lastDuty() << "within" << count.share();
    }
    // An engine gives some thirty numbers: one or two are not enough to say how often they hold.
    constexpr double least = 0.90, most = 0.99, never = 5;
    constexpr int enough = 500;
    QVERIFY(count.all() > 0);
    QVERIFY2(count.worst() < never, count.story().c_str());
    if (count.all() >= enough)
        QVERIFY2(count.share() >= least && count.share() <= most, count.story().c_str());
    if (asked > 0) std::fputs(count.story().c_str(), stderr);
}

// A pump that delivers too little, which nobody knows. Its return line runs dry, and the sensor sits in it:
// that shows before the rail sags and long before the mixture says so.
void LadderDriverTest::stopsWhereAPartEnds() {
    const Job job = shortWay(demoJob());
    HiddenEngine truth = drawEngine(Study(job), 3);
    truth.pumpFactor = 0.33;
    LadderDriver driver(job, truth);
    driver.climb();
    QVERIFY2(!driver.destroyed(), driver.story().c_str());
    QVERIFY2(!driver.atTop() && driver.endedBy().find("runs dry") != std::string::npos,
             (driver.endedBy() + driver.story()).c_str());
    QVERIFY(!driver.job().ladderPassed.empty());
}

CORE_TEST_MAIN(LadderDriverTest)
#include "ladder_driver_test.moc"
