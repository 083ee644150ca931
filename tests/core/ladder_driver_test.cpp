// SPDX-License-Identifier: GPL-3.0-or-later
// Twenty engines that nobody has seen, and somebody who does only what the ladder says.
#include "core/study/headroom.h"
#include "formats/job_json.h"
#include "support/ladder_driver.h"
#include "support/test_main.h"

#include <QFile>

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
    return job;
}

} // namespace

class LadderDriverTest : public QObject {
    Q_OBJECT
  private slots:
    void bringsThemToTheTop();
};

void LadderDriverTest::bringsThemToTheTop() {
    const int seeds = qEnvironmentVariableIntValue("SEEDS") > 0 ? qEnvironmentVariableIntValue("SEEDS") : 20;
    for (int seed = 1; seed <= seeds; ++seed) {
        Job job = demoJob();
        job.boost.points.clear();
        job.boost.springKpa = 50;
        job.ladder.baseBoostKpa = 180;
        job.ladder.topBoostKpa = 215;
        job.limits["watch.intake_rise"] = 32; // its cooler is not what this is about
        job.engine.boostLimitKpa = Curve::constant(270);
        job.injectors.flowCcMin *= 1.3;
        const HiddenEngine truth = drawEngine(Study(job), static_cast<std::uint64_t>(seed));
        LadderDriver driver(job, truth);
        driver.climb();
        qInfo().noquote() << seed << driver.atTop() << QString::fromStdString(driver.endedBy())
                          << driver.lastDuty();
        if (!driver.atTop()) qInfo().noquote() << QString::fromStdString(driver.story());
    }
}

CORE_TEST_MAIN(LadderDriverTest)
#include "ladder_driver_test.moc"
