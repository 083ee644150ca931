// SPDX-License-Identifier: GPL-3.0-or-later
#include "support/ladder_driver.h"

#include "core/base/error.h"
#include "core/job/revision.h"
#include "core/job/tank_history.h"
#include "core/ladder/preflight.h"
#include "core/proposal/fuel_proposal.h"
#include "core/proposal/knock_proposal.h"

#include <algorithm>
#include <cmath>

namespace wheelwright::testing {
namespace {

PracticeStep stepOf(const std::string &what, double seconds) {
    PracticeStep s;
    s.what = what;
    s.seconds = seconds;
    s.given = {"seconds"};
    return s;
}

TankEvent event(const std::string &at, TankEventKind kind, double litres, double ethanol) {
    TankEvent e;
    e.at = at;
    e.kind = kind;
    e.litres = litres;
    e.ethanol = ethanol;
    return e;
}

} // namespace

LadderDriver::LadderDriver(Job job, HiddenEngine truth) : m_job(std::move(job)), m_truth(std::move(truth)) {
    m_job.sparkSchool = SparkSchool::fixed; // only takes away
    const TankState tank = tankNow(m_job);
    m_trueVolumeL = tank.volumeL;
    m_trueContent = alcoholOf(tank.content);
}

// A minute later each time.
std::string LadderDriver::now() {
    ++m_minutes;
    const auto two = [](int n) { return (n < 10 ? "0" : "") + std::to_string(n); };
    constexpr int hour = 60, day = 24;
    return "2026-05-" + two(1 + m_minutes / hour / day) + "T" + two(m_minutes / hour % day) + ":" +
           two(m_minutes % hour) + ":00Z";
}

void LadderDriver::say(const std::string &what) {
    m_story += what + "\n";
}

void LadderDriver::climb(int mostSteps) {
    for (int i = 0; i < mostSteps; ++i)
        if (!step()) return;
    m_endedBy = "steps";
}

std::vector<std::shared_ptr<const LogReview>> LadderDriver::reviews() const {
    std::vector<std::shared_ptr<const LogReview>> out;
    for (const Kept &k : m_logs)
        out.push_back(k.review);
    return out;
}

LadderFacts LadderDriver::facts() const {
    LadderFacts all = ladderFacts(Study(m_job), reviews());
    all.pulls.insert(all.pulls.begin(), m_old.begin(), m_old.end());
    return all;
}

// Their samples are given up, what they said is kept.
void LadderDriver::retireLogs() {
    const std::string print = calibrationPrint(stateOf(m_job));
    const auto old = [&](const Kept &k) { return logById(m_job, k.id)->calibration != print; };
    for (const Kept &k : m_logs)
        if (old(k))
            for (PullFacts &p : pullFacts(Study(m_job), *k.review, calibrationPrint(stateOf(m_job)))) {
                p.current = false;
                m_old.push_back(std::move(p));
            }
    std::erase_if(m_logs, old);
}

bool LadderDriver::step() {
    retireLogs();
    if (!m_ladder) m_ladder = planLadder(Study(m_job));
    const Ladder &ladder = *m_ladder;
    const Rung *next = ladder.next();
    if (!next || next->kind == RungKind::wayDown || next->kind == RungKind::road) {
        m_atTop = ladder.ends.empty();
        if (!m_atTop) m_endedBy = "plan: " + format(ladder.ends);
        say("no further: " + m_endedBy);
        return false;
    }
    if (next->kind == RungKind::preflight) {
        for (const PreflightItem &item : allPreflightItems())
            m_job.ladderLooks.push_back({next->id, std::string(item.id), now(), "good"});
    } else if (m_rung != next->id) {
        m_rung = next->id;
        m_waits = 0;
        if (beforeRung) beforeRung(*this, ladder, *next);
        say(next->id + ": " + std::to_string(next->pours.size()) + " pours");
        setForRung(m_job, *next);
        doTank(*next);
        readTube();
        return true;
    }
    const Study study(m_job);
    const LadderFacts facts = this->facts();
    const RungStatus status = rungStatus(study, ladder, *next, facts);
    if (status.passes()) {
        const RungPass pass = passOf(study, ladder, facts, next->id, now());
        m_job.ladderPassed.push_back(pass);
        const Rung done = *next;
        m_ladder.reset();
        say("passed " + done.id);
        if (passed) passed(*this, done, pass, facts);
        return true;
    }
    return remedy(*next, *status.first());
}

void LadderDriver::doTank(const Rung &rung) {
    if (rung.drainL > 0) {
        m_job.tankEvents.push_back(event(now(), TankEventKind::drain, rung.drainL, 0));
        m_trueVolumeL -= rung.drainL;
    }
    for (const RungPour &p : rung.pours) {
        const auto fuel = std::ranges::find(m_job.shelf.values(), p.name, &ShelfEntry::name);
        m_job.tankEvents.push_back(event(now(), TankEventKind::pour, p.litres, fuel->ethanol));
        const double high = 0.3; // of it the label is off by what the truth says
        const double really = fuel->ethanol + (fuel->ethanol > high ? m_truth.highEthanolError : 0);
        m_trueContent = (m_trueVolumeL * m_trueContent + p.litres * really) / (m_trueVolumeL + p.litres);
        m_trueVolumeL += p.litres;
    }
}

void LadderDriver::burn(double litres) {
    const double burned = std::min(litres, m_trueVolumeL);
    m_trueVolumeL -= burned;
    m_job.tankEvents.push_back(
        event(now(), TankEventKind::burn, std::min(burned, tankNow(m_job).volumeL), 0));
}

void LadderDriver::readTube() {
    m_job.tankEvents.push_back(event(now(), TankEventKind::tube, 0, m_trueContent));
}

void LadderDriver::drive(const Rung &rung, Driving how) {
    PracticeScript script;
    script.ethanol = m_trueContent; // it has driven until the reading stood still
    script.steps.push_back(stepOf("idle", how == Driving::waitAndPull ? 90 : 8));
    PracticeStep cruise = stepOf("cruise", 12);
    cruise.fromRpm = 1800;
    cruise.toRpm = 4200;
    cruise.fromKpa = 40;
    cruise.toKpa = 90;
    cruise.given = {"seconds", "from_rpm", "to_rpm", "from_kpa", "to_kpa"};
    script.steps.push_back(cruise);
    PracticeStep hold = stepOf("hold", 3);
    hold.given = {"seconds", "rpm", "load_kpa"};
    for (const double load : {45.0, 60.0, 75.0, 90.0}) {
        hold.rpm = 2000 + 25 * load;
        hold.loadKpa = load;
        script.steps.push_back(hold);
    }
    if (how != Driving::light) {
        script.steps.push_back(stepOf("cool_down", 240));
        script.steps.push_back(stepOf("idle", 4));
        PracticeStep pull;
        pull.what = "pull";
        pull.mode = DynoMode::loaded;
        pull.given = {"mode"};
        if (how == Driving::shortPull) {
            pull.toRpm = 4500;
            pull.given.push_back("to_rpm");
        }
        script.steps.push_back(pull);
        script.steps.push_back(stepOf("idle", 2));
    }
    const std::string id = "d" + std::to_string(++m_logNumber);
    HiddenEngine today = m_truth;
    today.seed += m_logNumber; // another noise each time
    PracticeLog log(m_job, today, script, 5);
    m_lastDuty = 0;
    for (const PracticeSample &s : log.samples())
        m_lastDuty = std::max(m_lastDuty, s.dutyPercent / 100);
    m_destroyedBy = log.result().destroyedBy;
    if (destroyed()) {
        say("destroyed by " + m_destroyedBy);
        return;
    }
    m_job = log.in(m_job, id, now());
    burn(rung.burnL > 0 ? rung.burnL / (rung.pulls + 1) : 0.5);
    m_logs.push_back({id, log.review(m_job, id)});
}

bool LadderDriver::correctFuel(double content, bool allOfIt) {
    const Study study(m_job);
    const auto logs = reviews();
    FuelProposalOptions options;
    options.content = content;
    options.neighbours = 1;
    if (allOfIt) { // where there has been no boost yet, the tables get what light load says everywhere
        constexpr double mostRpm = 20000, mostKpa = 800;
        options.region = FuelRegion{0, mostRpm, 0, mostKpa};
        options.damping = 1;
    }
    const FuelSamples samples = fuelSamples(study, logs);
    const FuelProposal proposal = proposeFuel(study, samples, options);
    if (!proposal.changes()) return false;
    m_job = withFuel(m_job, proposal, samples, now());
    return true;
}

bool LadderDriver::takeSpark(double content) {
    const Study study(m_job);
    KnockOptions options;
    options.content = content;
    const KnockProposal proposal = proposeSpark(study, reviews(), options);
    if (!proposal.changes()) return false;
    m_job = withSpark(m_job, proposal, now());
    return true;
}

// Where the proposal holds it for false, since it began as the throttle opened, it is taken away all the
// same.
void LadderDriver::takeSparkByHand(const Rung &rung) {
    const Study study(m_job);
    const LadderFacts facts = ladderFacts(study, reviews());
    const Ladder &ladder = *m_ladder;
    const PullFacts *worst = nullptr;
    for (const PullFacts &p : facts.pulls)
        if (p.current && belongsTo(p, rung, ladder, m_job) && p.knockDeg > 0 &&
            (!worst || p.knockDeg > worst->knockDeg))
            worst = &p;
    if (!worst) return;
    say("    by hand");
    TwoTable &spark = m_job.calibration.of(CalibratedQuantity::spark);
    constexpr double aroundRpm = 700, fromKpa = 110;
    for (Table2D *t : {&spark.base, &spark.top})
        for (std::size_t x = 0; x < t->x().size(); ++x)
            for (std::size_t y = 0; y < t->y().size(); ++y)
                if (std::abs(t->x()[x] - worst->knockRpm) < aroundRpm && t->y()[y] > fromKpa)
                    t->setCell({x, y}, t->cell(x, y) - worst->knockDeg);
}

bool LadderDriver::remedy(const Rung &rung, const GateResult &first) {
    say("  " + std::string(first.gate->id) + ": " + format(first.answer.said));
    if (++m_waits > 40) {
        m_endedBy = "no way past " + std::string(first.gate->id);
        return false;
    }
    const double content = m_trueContent;
    switch (first.answer.remedy) {
    case GateRemedy::lightLoad:
        drive(rung, Driving::light);
        return !destroyed();
    case GateRemedy::wait:
        drive(rung, Driving::waitAndPull);
        return !destroyed();
    case GateRemedy::shortPull:
        drive(rung, Driving::shortPull);
        return !destroyed();
    case GateRemedy::pull:
    case GateRemedy::cool:
        drive(rung, Driving::pull);
        return !destroyed();
    case GateRemedy::correctFuel:
        if (!correctFuel(content, first.gate->id == "light_load")) m_endedBy = "no fuel to correct";
        return m_endedBy.empty();
    case GateRemedy::takeSpark:
        if (!takeSpark(content)) takeSparkByHand(rung);
        return true;
    case GateRemedy::pour: // from where the tank really is
        m_job.tankEvents.push_back(event(now(), TankEventKind::content, 0, m_trueContent));
        m_rung.clear();
        m_ladder.reset();
        return true;
    case GateRemedy::testTube:
        readTube();
        return true;
    case GateRemedy::lookAt:
        m_job.ladderLooks.push_back({rung.id, std::string(first.gate->id), now(), "good"});
        return true;
    case GateRemedy::set:
        if (first.answer.link == "boost.spring_kpa") {
            m_job.boost.springKpa = first.answer.toSet;
            m_rung.clear();
            m_ladder.reset();
        } else if (first.answer.link == "boost.overshoot") {
            m_job.limits["boost.overshoot"] = first.answer.toSet;
            m_rung.clear();
            m_ladder.reset();
        } else {
            setForRung(m_job, rung);
        }
        return true;
    case GateRemedy::stop:
    case GateRemedy::findCause:
    case GateRemedy::none:
        m_endedBy = std::string(first.gate->id) + ": " + format(first.answer.said);
        break;
    }
    return false;
}

} // namespace wheelwright::testing
