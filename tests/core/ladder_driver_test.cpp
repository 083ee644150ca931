// SPDX-License-Identifier: GPL-3.0-or-later
// Twenty engines that nobody has seen, and somebody who does only what the ladder says.
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

} // namespace

class LadderDriverTest : public QObject {
    Q_OBJECT
  private slots:
    void bringsThemToTheTop();
    void stopsWhereAPartEnds();
};

// LADDER_ENGINES=20 has twenty of them climb every rung, half a minute each. Without it one climbs a short
// way.
void LadderDriverTest::bringsThemToTheTop() {
    const int asked = qEnvironmentVariableIntValue("LADDER_ENGINES");
    for (int seed = 1; seed <= std::max(1, asked); ++seed) {
        const Job job = asked > 0 ? demoJob() : shortWay(demoJob());
        LadderDriver driver(job, drawEngine(Study(job), static_cast<std::uint64_t>(seed)));
        driver.climb();
        QVERIFY2(!driver.destroyed() && driver.atTop(),
                 (std::to_string(seed) + ": " + driver.endedBy() + "\n" + driver.story()).c_str());
        const auto &passed = driver.job().ladderPassed.values();
        QVERIFY(passed.back().rung.starts_with("top_boost."));
        QVERIFY(std::ranges::all_of(passed, [](const RungPass &p) { return p.by == PassedBy::evidence; }));
        if (asked > 0) qInfo() << seed << "climbed, injectors" << driver.lastDuty();
    }
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
