// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/error.h"
#include "core/job/revision.h"
#include "core/job/run_samples.h"
#include "core/ladder/ladder_forecast.h"
#include "core/ladder/ladder_status.h"
#include "core/ladder/preflight.h"
#include "core/ladder/rung_demand.h"
#include "core/report/ladder_reports.h"
#include "core/study/engine_map.h"
#include "core/study/headroom.h"
#include "formats/job_json.h"
#include "support/phrases.h"
#include "support/test_main.h"

#include <QFile>

#include <map>
#include <set>

using namespace wheelwright;
using testing::said;
using testing::says;

namespace {

using R = ChannelRole;

const std::string when = "2026-05-10T12:00:00Z";

Job demoJob() {
    QFile f(QStringLiteral(DEMO_JOB));
    if (!f.open(QIODevice::ReadOnly)) qFatal("no demo job");
    return jobFromJson(f.readAll().toStdString());
}

TankEvent tankEvent(TankEventKind kind, double litres, double ethanol) {
    TankEvent e;
    e.at = when;
    e.kind = kind;
    e.litres = litres;
    e.ethanol = ethanol;
    return e;
}

ShelfEntry fuelOf(const char *name, double ethanol, double price, double canL = 0) {
    ShelfEntry f;
    f.name = name;
    f.kind = ethanol > 0.3 ? FuelKind::highEthanol : FuelKind::pump;
    f.ethanol = ethanol;
    f.pricePerL = price;
    f.canL = canL;
    return f;
}

// The demo's engine with larger injectors, a tank of 60 L with 20 L of E10 and two fuels by the litre. What
// the demo kept of its own work is not of this ladder.
Job plainJob() {
    Job job = demoJob();
    job.revisions.clear();
    job.injectors.flowCcMin *= 1.3;
    job.engine.boostLimitKpa = Curve::constant(300);
    job.engine.mapSensorMaxKpa = 400;
    job.boost.points.clear();
    job.boost.springKpa = 60;
    job.conditions.ambientKpa = 100;
    job.tank = {};
    job.tank.capacityL = 60;
    job.tank.reserveL = 8;
    job.tank.cruiseFlowLMin = 0.2;
    job.lots.clear();
    job.tubes.clear();
    job.mixtures.clear();
    job.shelf = {fuelOf("Pump", 0.10, 1.8), fuelOf("Strong", 0.85, 1.2)};
    job.tankEvents = {tankEvent(TankEventKind::level, 20, 0), tankEvent(TankEventKind::content, 0, 0.10)};
    job.calibration.baseContent = 0.10;
    job.calibration.topContent = 0.85;
    job.ladder.baseBoostKpa = 190;
    job.ladder.topBoostKpa = 220;
    return job;
}

std::vector<std::string> idsOf(const Ladder &l) {
    std::vector<std::string> out;
    for (const Rung &r : l.rungs)
        out.push_back(r.id);
    return out;
}

RungPass passed(const std::string &rung, double content = 0.1, double powerKw = 0) {
    RungPass p;
    p.rung = rung;
    p.at = when;
    p.content = content;
    p.powerKw = powerKw;
    return p;
}

// A pull that every gate likes.
PullFacts goodPull(const Job &job, double content, double boostKpa, const std::string &log = "a") {
    PullFacts p;
    p.log = log;
    p.logName = log + ".csv";
    p.current = p.tablesKnown = p.full = true;
    p.beginS = 10;
    p.endS = 20;
    p.content = content;
    p.contentByChannel = p.contentUsable = true;
    p.contentMoved = 0.004;
    p.heldKpa = p.aimedKpa = p.targetKpa = boostKpa;
    p.peakKpa = boostKpa + 8;
    p.overshootKpa = 8;
    p.solenoidDuty = 0.3;
    p.lambdaError = 0.012;
    p.lambdaErrorRpm = 4250;
    p.knockDeg = 0;
    p.dutyMost = 0.7;
    p.dutyRpm = 6500;
    p.dutyLoadKpa = boostKpa;
    p.railLeast = 0.99;
    p.coolantMost = 92;
    p.intakeRise = 12;
    p.oilOverKpa = 40;
    (void)job;
    return p;
}

LightLoadFacts goodLight(double content, const std::string &log = "a") {
    LightLoadFacts l;
    l.log = log;
    l.logName = log + ".csv";
    l.current = true;
    l.lambdaS = 30;
    l.content = content;
    l.contentMoved = 0.003;
    l.lambdaError = 0.01;
    return l;
}

/// A job that stands on a rung, with evidence that lets it pass.
struct Made {
    Job job;
    LadderFacts facts;
    std::string rung;

    RungStatus status() const {
        const Study study(job);
        const Ladder ladder = planLadder(study);
        const Rung *r = ladder.byId(rung);
        if (!r) throw std::runtime_error("no rung " + rung);
        return rungStatus(study, ladder, *r, facts);
    }
};

Made onRung(const std::string &id, double content, double boostKpa) {
    Made m;
    m.job = plainJob();
    const Ladder planned = planLadder(Study(m.job));
    if (const Rung *r = planned.byId(id)) setForRung(m.job, *r);
    m.rung = id;
    m.job.boost.cutKpa = boostKpa + 17.2;
    m.job.tankEvents.push_back(tankEvent(TankEventKind::tube, 0, content));
    m.job.ladderLooks.push_back({id, "plugs", when, "light tan"});
    for (int i = 0; i < 3; ++i)
        m.facts.pulls.push_back(goodPull(m.job, content, boostKpa));
    m.facts.lights.push_back(goodLight(content));
    return m;
}

Made onBase() {
    return onRung("base_boost.160", 0.10, 160);
}

// How a gate is made to fail, and to have nothing to go by; the remedy that it names then.
struct Spoiling {
    const char *gate;
    const char *rung;
    GateVerdict verdict;
    std::function<void(Made &)> spoil;
    GateRemedy remedy;
    const char *says;
};

void all(Made &m, const std::function<void(PullFacts &)> &change) {
    for (PullFacts &p : m.facts.pulls)
        change(p);
}

Made made(const std::string &rung);

Run runOf(const Job &job, const char *id, double content, RunMode mode, const std::string &source) {
    Run r;
    r.id = id;
    r.name = std::string("run ") + id;
    r.content = content;
    r.contentBasis = RunContentBasis::stated;
    r.mode = mode;
    r.source = source;
    r.calibration = calibrationPrint(stateOf(job));
    return r;
}

FuelMove moveOf(std::string_view quantity, MoveVerdict verdict) {
    FuelMove m;
    m.quantity = quantity;
    m.title = MARKED("fuel_move.fuel", "Fuel");
    m.dimension = Dimension::ratio;
    m.verdict = verdict;
    m.expected = 0.2;
    m.measured = verdict == MoveVerdict::off ? 0.1 : 0.2;
    return m;
}

Made made(const std::string &rung) {
    if (rung == "base_boost.160") return onBase();
    if (rung == "base_boost") { // of a blower
        Made m = onRung(rung, 0.10, 160);
        m.job.engine.charging = Charging::blower;
        return m;
    }
    if (rung == "preflight") {
        Made m = onBase();
        m.rung = rung;
        for (const PreflightItem &item : allPreflightItems())
            m.job.ladderLooks.push_back({rung, std::string(item.id), when, ""});
        return m;
    }
    if (rung == "way_down") {
        Made m = onRung("way_down", 0.10, 190);
        FuelChangeProof proof;
        proof.moves = {moveOf("fuel", MoveVerdict::asExpected), moveOf("spark", MoveVerdict::asExpected)};
        m.facts.wayDown = proof;
        return m;
    }
    // Base fuel first, whose pulls say what to expect of the next content.
    if (rung == "content.25") {
        Made m = onRung(rung, 0.25, 190);
        for (int i = 0; i < 3; ++i)
            m.facts.pulls.insert(m.facts.pulls.begin(), goodPull(m.job, 0.10, 190, "z"));
        const auto study = std::make_shared<const Study>(m.job);
        for (PullFacts &p : m.facts.pulls) {
            p.ran = study;
            p.fullest = {6500, 192, 45};
            p.fullest.duty = tablesDuty(*study, p.content, p.fullest);
            p.fullest.lambda = study->blended(CalibratedQuantity::lambda, p.content).lookup(6500, 192).value;
        }
        return m;
    }
    // The second of four passes, on what the trade calls a pill.
    if (rung.starts_with("pass.")) {
        QFile f(QStringLiteral(SOURCE_DIR "/data/demo/moorhen.json"));
        if (!f.open(QIODevice::ReadOnly)) qFatal("no demo job");
        Made m{jobFromJson(f.readAll().toStdString()), {}, rung};
        for (const Rung &r : planLadder(Study(m.job)).rungs)
            if (r.pass && std::abs(r.pass->pillMm - 2.79) < 0.02) m.rung = r.id;
        m.job.ladderLooks = {{m.rung, "oil", when, "changed"}};
        return m;
    }
    Made m = onBase();
    m.rung = rung;
    Run before = runOf(m.job, "1", 0.10, RunMode::inertia, "");
    before.calibration = "0123456789abcdef";
    m.job.runs = {before, runOf(m.job, "2", 0.10, RunMode::inertia, ""),
                  runOf(m.job, "3", 0.10, RunMode::road, "a")};
    m.job.ladderFuels = {{"Strong"}};
    m.job.ladderPassed = {passed("content.85", 0.84)};
    Job earlier = m.job;
    moveBoostTarget(earlier, 0.1, 150);
    keepRevision(earlier, "As it came", when, "", false);
    m.job.revisions = earlier.revisions;
    keepRevision(m.job, "Now", when, "", true);
    return m;
}

const std::vector<Spoiling> &spoilings() {
    using enum GateVerdict;
    static const std::vector<Spoiling> list{
        {"looked_over", "preflight", notJudged, [](Made &m) { m.job.ladderLooks.pop_back(); },
         GateRemedy::lookAt, "Fire and fuel"},
        {"cut", "base_boost.160", failed, [](Made &m) { m.job.boost.cutKpa = 0; }, GateRemedy::set,
         "No overboost cut"},
        {"cut", "base_boost.160", failed, [](Made &m) { m.job.boost.cutKpa = 179; }, GateRemedy::set,
         "179 kPa"},
        {"cut", "base_boost.160", failed,
         [](Made &m) {
             for (int i = 0; i < 8; ++i)
                 for (const double c : {m.job.calibration.baseContent, m.job.calibration.topContent})
                     moveBoostTarget(m.job, c, 150);
         },
         GateRemedy::set, "ask for 150 kPa; this rung wants 160 kPa"},
        {"tube", "base_boost.160", notJudged, [](Made &m) { m.job.tankEvents.pop_back(); },
         GateRemedy::testTube, "No tube"},
        {"tube", "base_boost.160", notJudged,
         [](Made &m) { m.job.tankEvents.push_back(tankEvent(TankEventKind::pour, 5, 0.1)); },
         GateRemedy::testTube, "before the last pour"},
        {"tube", "base_boost.160", failed, [](Made &m) { m.job.tankEvents.back().ethanol = 0.135; },
         GateRemedy::findCause, "The tube says E14"},
        // On the way down: what was poured says where it should stand, not the base fuel.
        {"tube", "way_down", failed,
         [](Made &m) {
             m.job.fuelSystem.contentSensor = false;
             m.facts.pulls.clear();
             m.facts.lights.clear();
             m.job.tankEvents.push_back(tankEvent(TankEventKind::content, 0, 0.22));
             m.job.tankEvents.push_back(tankEvent(TankEventKind::tube, 0, 0.10));
         },
         GateRemedy::findCause, "beside it stands E22"},
        {"tube", "way_down", notJudged,
         [](Made &m) {
             m.facts.pulls.clear();
             m.facts.lights.clear();
         },
         GateRemedy::lightLoad, "no sensor has been read"},
        // Nothing that runs on too strong a fuel belongs to the way down: the tube says it first.
        {"planned", "way_down", failed,
         [](Made &m) {
             m.facts.pulls.clear();
             m.facts.lights.clear();
             m.job.tankEvents.push_back(tankEvent(TankEventKind::pour, 5, 0.1));
             m.job.tankEvents.back().at = when;
             m.job.tankEvents.push_back(tankEvent(TankEventKind::tube, 0, 0.29));
         },
         GateRemedy::pour, "The tube says E29"},
        {"light_load", "base_boost.160", notJudged, [](Made &m) { m.facts.lights[0].lambdaS = 9; },
         GateRemedy::lightLoad, "9.0"},
        {"light_load", "base_boost.160", failed, [](Made &m) { m.facts.lights[0].lambdaError = 0.031; },
         GateRemedy::correctFuel, "Lean"},
        {"light_load", "base_boost.160", failed, [](Made &m) { m.facts.lights[0].lambdaError = -0.031; },
         GateRemedy::correctFuel, "Rich"},
        {"planned", "base_boost.160", failed,
         [](Made &m) {
             all(m, [](PullFacts &p) { p.content = 0.131; });
             m.facts.lights[0].content = 0.131;
         },
         GateRemedy::pour, "E13"},
        // Half way to another rung no log belongs to this one: the tube says it. Read before the pour it does
        // not.
        {"planned", "base_boost.160", failed,
         [](Made &m) {
             m.facts = {};
             m.job.tankEvents.insert(m.job.tankEvents.begin() + 2, tankEvent(TankEventKind::pour, 1, 0.85));
             m.job.tankEvents.back().ethanol = 0.14;
         },
         GateRemedy::pour, "The tube says E14; E10 were planned"},
        {"planned", "base_boost.160", notJudged,
         [](Made &m) {
             m.facts = {};
             m.job.tankEvents.back().ethanol = 0.14;
             m.job.tankEvents.push_back(tankEvent(TankEventKind::pour, 1, 0.85));
         },
         GateRemedy::shortPull, "No log has a pull"},
        {"planned", "base_boost.160", notJudged,
         [](Made &m) {
             m.facts = {};
             m.job.tankEvents.back().ethanol = 0.14; // of before: nothing was poured for this rung
             m.job.tankEvents.insert(m.job.tankEvents.begin() + 2, tankEvent(TankEventKind::pour, 1, 0.85));
             m.job.ladderPassed = {::passed("preflight")};
         },
         GateRemedy::shortPull, "No log has a pull"},
        {"settled", "base_boost.160", failed, [](Made &m) { m.facts.pulls[1].contentMoved = 0.021; },
         GateRemedy::wait, "2.1 %"},
        {"settled", "base_boost.160", failed,
         [](Made &m) { all(m, [](PullFacts &p) { p.contentMoved = 0.03; }); }, GateRemedy::findCause,
         "runs dry"},
        {"settled", "base_boost.160", failed,
         [](Made &m) {
             all(m, [](PullFacts &p) { p.contentMoved = 0.03; });
             m.facts.lights[0].contentMoved = 0.03;
         },
         GateRemedy::wait, "3.0 %"},
        {"settled", "base_boost.160", failed, [](Made &m) { m.facts.pulls[1].contentUsable = false; },
         GateRemedy::wait, "moves over the log"},
        // Nobody has read or stated it.
        {"settled", "way_down", notJudged,
         [](Made &m) {
             m.facts.pulls.clear();
             m.facts.lights[0].content = m.facts.lights[0].contentMoved = PullFacts::unknown;
             m.job.ladderPassed = {::passed("content.85", 0.84)};
             m.job.ladderPassed[0].at = "2001-01-01T00:00:00";
             m.job.tankEvents.push_back(tankEvent(TankEventKind::pour, 5, 0.1));
             m.job.tankEvents.back().at = when;
             m.facts.lights[0].added = "2999-01-01T00:00:00";
         },
         GateRemedy::pull, "they have no content"},
        {"oil", "base_boost.160", notJudged,
         [](Made &m) { m.facts.pulls[2].oilOverKpa = PullFacts::unknown; }, GateRemedy::pull,
         "it has no oil pressure"},
        // A sensor that has gone since vouches for nothing; a short pull after it need not have all.
        {"lambda", "base_boost.160", notJudged,
         [](Made &m) { m.facts.pulls[2].lambdaError = PullFacts::unknown; }, GateRemedy::pull,
         "it has no λ with its target"},
        {"rail", "base_boost.160", notJudged,
         [](Made &m) { m.facts.pulls[2].railLeast = PullFacts::unknown; }, GateRemedy::pull,
         "it has no rail pressure"},
        {"duty", "base_boost.160", notJudged, [](Made &m) { m.facts.pulls[2].dutyMost = PullFacts::unknown; },
         GateRemedy::pull, "it has no injector duty"},
        {"temperatures", "base_boost.160", notJudged,
         [](Made &m) { m.facts.pulls[2].coolantMost = PullFacts::unknown; }, GateRemedy::pull,
         "it has no coolant temperature"},
        {"temperatures", "base_boost.160", notJudged,
         [](Made &m) { m.facts.pulls[2].intakeRise = PullFacts::unknown; }, GateRemedy::pull,
         "it has no intake air temperature"},
        // Nor does one that falls silent in the last pull, whatever it said before.
        {"lambda", "base_boost.160", notJudged, [](Made &m) { m.facts.pulls[2].silent = {R::lambda}; },
         GateRemedy::pull, "for a part of it there is no λ with its target"},
        {"rail", "base_boost.160", notJudged, [](Made &m) { m.facts.pulls[2].silent = {R::railPressure}; },
         GateRemedy::pull, "for a part of it there is no rail pressure"},
        {"duty", "base_boost.160", notJudged, [](Made &m) { m.facts.pulls[2].silent = {R::duty}; },
         GateRemedy::pull, "for a part of it there is no injector duty"},
        {"temperatures", "base_boost.160", notJudged,
         [](Made &m) { m.facts.pulls[2].silent = {R::coolantTemp}; }, GateRemedy::pull,
         "for a part of it there is no coolant temperature"},
        {"temperatures", "base_boost.160", notJudged,
         [](Made &m) { m.facts.pulls[2].silent = {R::intakeTemp}; }, GateRemedy::pull,
         "for a part of it there is no intake air temperature"},
        {"oil", "base_boost.160", notJudged, [](Made &m) { m.facts.pulls[2].silent = {R::oilPressure}; },
         GateRemedy::pull, "for a part of it there is no oil pressure"},
        {"boost", "base_boost.160", notJudged, [](Made &m) { m.facts.pulls[2].silent = {R::map}; },
         GateRemedy::pull, "for a part of it there is no manifold pressure"},
        {"settled", "base_boost.160", notJudged, [](Made &m) { m.facts.pulls[2].silent = {R::ethanol}; },
         GateRemedy::pull, "for a part of it there is no reading of the content"},
        {"knock", "base_boost.160", notJudged, [](Made &m) { m.facts.pulls[2].silent = {R::knockRetard}; },
         GateRemedy::pull, "2 of 3 full pulls in a row without knock; in the last one"},
        {"knock", "base_boost.160", notJudged, [](Made &m) { m.facts.pulls[0].silent = {R::knockRetard}; },
         GateRemedy::pull, "2 of 3 full pulls in a row without knock."},
        // What it said is bad enough as it is.
        {"knock", "base_boost.160", failed,
         [](Made &m) {
             m.facts.pulls[2].silent = {R::knockRetard};
             m.facts.pulls[2].knockDeg = 2;
         },
         GateRemedy::takeSpark, "It knocked"},
        {"lambda", "base_boost.160", failed, [](Made &m) { m.facts.pulls[2].lambdaError = 0.021; },
         GateRemedy::correctFuel, "Lean"},
        {"lambda", "base_boost.160", failed, [](Made &m) { m.facts.pulls[0].lambdaError = -0.021; },
         GateRemedy::correctFuel, "Rich"},
        {"lambda", "base_boost.160", notJudged,
         [](Made &m) { all(m, [](PullFacts &p) { p.lambdaError = PullFacts::unknown; }); }, GateRemedy::pull,
         "do not say it"},
        {"lambda", "base_boost.160", notJudged,
         [](Made &m) { all(m, [](PullFacts &p) { p.current = false; }); }, GateRemedy::shortPull,
         "another calibration"},
        {"knock", "base_boost.160", failed, [](Made &m) { m.facts.pulls[2].knockDeg = 0.6; },
         GateRemedy::takeSpark, "It knocked"},
        {"knock", "base_boost.160", notJudged, [](Made &m) { m.facts.pulls[0].knockDeg = 0.6; },
         GateRemedy::pull, "2 of 3"},
        {"knock", "base_boost.160", notJudged, [](Made &m) { m.facts.pulls[0].full = false; },
         GateRemedy::pull, "2 of 3"},
        {"boost", "base_boost.160", failed, [](Made &m) { m.facts.pulls[2].heldKpa = 175; },
         GateRemedy::findCause, "175 kPa"},
        {"boost", "base_boost.160", failed,
         [](Made &m) {
             m.facts.pulls[2].heldKpa = 175;
             m.facts.pulls[2].solenoidDuty = 0.01;
         },
         GateRemedy::set, "spring is stated as 60"},
        {"boost", "base_boost", failed,
         [](Made &m) {
             m.facts.pulls[1].heldKpa = 175;
             m.facts.pulls[1].targetKpa = 160;
             m.facts.pulls[1].solenoidDuty = 0;
         },
         GateRemedy::set, "The blower gives 175 kPa; the tables count with 160 kPa"},
        {"boost", "base_boost.160", failed, [](Made &m) { m.facts.pulls[2].cutAtKpa = 178; }, GateRemedy::set,
         "18 kPa over its target"},
        {"boost", "base_boost.160", failed, [](Made &m) { m.facts.pulls[2].cutAtKpa = 191; },
         GateRemedy::findCause, "31 kPa over its target"},
        // Three standard errors and a half over: two bands are allowed. The next pulls do not count.
        {"forecast", "content.25", failed, [](Made &m) { m.facts.pulls[3].fullest.duty *= 1.2; },
         GateRemedy::lookAt, "injectors, λ on target"},
        {"forecast", "content.25", failed, [](Made &m) { m.facts.pulls[3].fullest.lambda *= 1.2; },
         GateRemedy::lookAt, "injectors, λ on target"},
        {"forecast", "content.25", failed, [](Made &m) { m.facts.pulls[3].heldKpa = 215; },
         GateRemedy::lookAt, "boost 215 kPa where 190 kPa"},
        {"forecast", "content.25", failed, [](Made &m) { m.facts.pulls[3].solenoidDuty = 0.7; },
         GateRemedy::lookAt, "solenoid 70"},
        {"forecast", "content.25", failed,
         [](Made &m) {
             m.facts.pulls[3].heldKpa = 215;
             m.job.ladderLooks.push_back({"content.25", "forecast", when, ""}); // says nothing
         },
         GateRemedy::lookAt, "boost 215 kPa"},
        {"forecast", "content.25", notJudged, [](Made &m) { m.facts.pulls[3].ran = nullptr; },
         GateRemedy::pull, "not known"},
        {"forecast", "content.25", notJudged,
         [](Made &m) {
             for (int i = 3; i < 6; ++i)
                 m.facts.pulls[i].full = false;
         },
         GateRemedy::pull, "full pull"},
        {"forecast", "content.25", notJudged,
         [](Made &m) { m.facts.pulls[3].fullest.lambda = m.facts.pulls[3].heldKpa = PullFacts::unknown; },
         GateRemedy::pull, "do not say it"},
        {"pass_made", "pass.", notJudged,
         [](Made &m) { m.job.mechanical.passes = std::vector{m.job.mechanical.passes[0]}; }, GateRemedy::pull,
         "No pass with a 2.80 mm pill"},
        {"exhaust", "pass.", notJudged, [](Made &m) { m.job.mechanical.passes[1].exhaustC = 0; },
         GateRemedy::pull, "Nobody has read"},
        {"exhaust", "pass.", failed, [](Made &m) { m.job.mechanical.passes[1].exhaustC = 594; },
         GateRemedy::stop, "Exhaust 594"},
        {"exhaust", "pass.", failed, [](Made &m) { m.job.mechanical.passes[1].exhaustC = 289; },
         GateRemedy::findCause, "289 °C after 305"},
        {"pass_power", "pass.", notJudged, [](Made &m) { m.job.mechanical.passes[1].power = 0; },
         GateRemedy::pull, "Nobody has recorded"},
        {"pass_power", "pass.", failed, [](Made &m) { m.job.mechanical.passes[1].power = 174.2; },
         GateRemedy::stop, "Leaner made less"},
        {"starts", "pass.", failed, [](Made &m) { m.job.mechanical.passes[1].hardStart = true; },
         GateRemedy::stop, "bottom end is lean"},
        {"starts", "pass.", notJudged,
         [](Made &m) { m.job.mechanical.passes = std::vector{m.job.mechanical.passes[0]}; }, GateRemedy::pull,
         "how it started"},
        {"oil", "pass.", notJudged, [](Made &m) { m.job.ladderLooks.clear(); }, GateRemedy::lookAt,
         "changed. Nobody has said that it is sound"},
        {"plugs", "pass.", notJudged, [](Made &m) { m.job.mechanical.passes[1].plugs.clear(); },
         GateRemedy::lookAt, "Nobody has said"},
        {"duty", "base_boost.160", failed, [](Made &m) { m.facts.pulls[1].dutyMost = 0.851; },
         GateRemedy::stop, "85.1 %"},
        {"rail", "base_boost.160", failed, [](Made &m) { m.facts.pulls[1].railLeast = 0.949; },
         GateRemedy::stop, "94.9 %"},
        {"rail", "base_boost.160", notJudged,
         [](Made &m) { all(m, [](PullFacts &p) { p.railLeast = PullFacts::unknown; }); }, GateRemedy::pull,
         "rail pressure"},
        {"temperatures", "base_boost.160", failed, [](Made &m) { m.facts.pulls[1].coolantMost = 106; },
         GateRemedy::cool, "106 °C"},
        {"temperatures", "base_boost.160", failed, [](Made &m) { m.facts.pulls[1].intakeRise = 21; },
         GateRemedy::cool, "21 K"},
        {"temperatures", "base_boost.160", failed,
         [](Made &m) {
             int i = 0;
             all(m, [&](PullFacts &p) {
                 p.intakeRise = 21, p.log = std::string(1, static_cast<char>('a' + i++));
             });
         },
         GateRemedy::stop, "21 K"},
        {"oil", "base_boost.160", failed,
         [](Made &m) {
             m.facts.pulls[1].found.push_back({watchRuleById("oil"), 100, 200, 12});
         },
         GateRemedy::findCause, "falls under"},
        {"oil", "base_boost.160", notJudged,
         [](Made &m) { all(m, [](PullFacts &p) { p.oilOverKpa = PullFacts::unknown; }); }, GateRemedy::lookAt,
         "No log has oil"},
        {"plugs", "base_boost.160", notJudged, [](Made &m) { m.job.ladderLooks.clear(); }, GateRemedy::lookAt,
         "Nobody has said"},
        {"watch", "base_boost.160", failed,
         [](Made &m) {
             m.facts.pulls[1].found.push_back({watchRuleById("lean"), 0.9, 0.83, 12});
         },
         GateRemedy::correctFuel, "0.9"},
        {"watch", "base_boost.160", failed,
         [](Made &m) {
             m.facts.pulls[1].found.push_back({watchRuleById("battery"), 11.2, 12, 12});
         },
         GateRemedy::findCause, "11.2"},
        {"came_down", "way_down", notJudged, [](Made &m) { m.facts.wayDown.reset(); }, GateRemedy::pull,
         "Not to be said"},
        {"came_down", "way_down", notJudged, [](Made &m) { m.facts.wayDown->twoCalibrations = true; },
         GateRemedy::pull, "the calibration has changed"},
        {"came_down", "way_down", failed,
         [](Made &m) { m.facts.wayDown->moves[1] = moveOf("spark", MoveVerdict::off); },
         GateRemedy::findCause, "10.0 %"},
        {"came_down", "way_down", notJudged,
         [](Made &m) { m.facts.wayDown->moves[1] = moveOf("spark", MoveVerdict::notSure); }, GateRemedy::pull,
         "Not known"},
        {"road", "road", notJudged, [](Made &m) { m.job.runs.pop_back(); }, GateRemedy::pull,
         "No run on the road"},
        {"road", "road", notJudged, [](Made &m) { m.facts.pulls.clear(); }, GateRemedy::pull, "no log of it"},
        {"road", "road", failed,
         [](Made &m) {
             m.facts.pulls[1].found.push_back({watchRuleById("overboost"), 230, 220, 12});
         },
         GateRemedy::findCause, "230 kPa"},
        {"fuels", "hand_over", notJudged, [](Made &m) { m.job.ladderPassed.clear(); }, GateRemedy::pour,
         "Strong"},
        {"fuels", "hand_over", notJudged, [](Made &m) { m.job.ladderPassed[0].by = PassedBy::hand; },
         GateRemedy::pour, "by evidence"},
        {"fuels", "hand_over", notJudged, [](Made &m) { m.job.ladderPassed[0].rung = "preflight"; },
         GateRemedy::pour, "Strong"},
        {"before_after", "hand_over", notJudged, [](Made &m) { m.job.runs.eraseAt(1); }, GateRemedy::pull,
         "no run"},
        {"way_back", "hand_over", notJudged, [](Made &m) { m.job.revisions.eraseAt(0); }, GateRemedy::set,
         "no way back"},
        {"way_back", "hand_over", notJudged, [](Made &m) { m.job.revisions.pop_back(); }, GateRemedy::set,
         "has not been kept"},
    };
    return list;
}

} // namespace

class LadderTest : public QObject {
    Q_OBJECT
  private slots:
    void isTheHandWorkedPlan();
    void demandIsThatOfTheDutyMap();
    void boostWithinDutyIsItsInverse();
    void settingGoesToBothEnds();
    void anAnswerIsDone();
    void enoughIsEnough();
    void mustRunFuelsStay();
    void bothEndsLeaveOutTheMiddle();
    void endsWherePartsEnd();
    void plansFromWhereTheTankIs();
    void moneyIsSaid();
    void everyGatePasses();
    void everyGateFails_data();
    void everyGateFails();
    void everyGateIsSpoilt();
    void whatTheLastPullWasNotAskedIsSaid_data();
    void whatTheLastPullWasNotAskedIsSaid();
    void aShortPullNeedNotHaveAll();
    void aStatedContentHasSettled();
    void whatIsExplainedPasses();
    void oneInTwentyIsBeside();
    void nothingIsForecastOfTheFirst();
    void takingSparkSaysWhatElseItDoes();
    void passesByEvidenceOnly();
    void powerIsOfThisCalibration();
    void handNeedsAReason();
    void onlyTheNextMayPass();
    void higherBoostPassedIsPassed();
    void pullsCountForTheNearestContent();
    void tooStrongForTheWayDownIsSaid();
    void anotherPourMakesAnotherFill();
    void lastPullsCount();
    void reportsSayWhatIsThere();
    void listsAreSound();
};

// Worked by hand. Air 100 kPa, spring 60 kPa: the first rung is 160 kPa. To 190 kPa in even steps of at most
// 17.2: two of 15. At the top from 190 to 220: two of 15. E10 in the tank: no rung for it.
// Fuel: E25 from 20 L of E10 that pulls have made fewer. All of it is walked below.
void LadderTest::isTheHandWorkedPlan() {
    const Job job = plainJob();
    const Study study(job);
    const Ladder l = planLadder(study);
    const std::vector<std::string> expected{
        "preflight",     "base_boost.160", "base_boost.175", "base_boost.190", "content.25",
        "content.40",    "content.50",     "content.60",     "content.70",     "content.85",
        "top_boost.205", "top_boost.220",  "way_down",       "road",           "hand_over"};
    QCOMPARE(idsOf(l), expected);
    QVERIFY2(l.ends.empty(), said(l.ends).c_str());
    QVERIFY(l.next() && l.next()->id == "preflight");
    for (const Rung &r : l.rungs) {
        if (r.kind == RungKind::baseBoost || r.kind == RungKind::topBoost || r.kind == RungKind::content) {
            QVERIFY(std::abs(r.cutKpa - (*r.boostKpa + 17.2)) < 1e-9); // a step over it
            QCOMPARE(r.pulls, 3.0);
        }
        if (r.kind == RungKind::content) QCOMPARE(*r.boostKpa, 190.0);
    }
    QVERIFY(l.byId("base_boost.160")->solenoidDuty == 0.0);
    // What needs how much of each fuel: from the components' data, AFR · density by volume.
    const BlendModel &blends = study.blends();
    const Rung &top = *l.byId("content.85");
    QVERIFY(std::abs(top.multiplier - blends.volumeMultiplier(blendAt(job, 0.85), blendAt(job, 0.10))) <
            1e-12);
    QVERIFY(top.multiplier > 1.33 && top.multiplier < 1.42); // handbook: about 1.4 against gasoline
    // The tank, walked: every pour in whole litres, every content within its limits, never under the reserve.
    double volume = 20, alcohol = 2, price = 0, poured = 0;
    std::map<std::string, double> bought;
    for (const Rung &r : l.rungs) {
        if (r.kind == RungKind::preflight || r.kind == RungKind::handOver) continue;
        alcohol *= 1 - r.drainL / volume;
        volume -= r.drainL;
        QVERIFY(r.drainL == r.drainCans * 10.0 || volume < 1.5);
        for (const RungPour &p : r.pours) {
            QCOMPARE(p.litres, double(p.count));
            volume += p.litres;
            alcohol += p.litres * (p.name == "Pump" ? 0.10 : 0.85);
            price += p.litres * (p.name == "Pump" ? 1.8 : 1.2);
            poured += p.litres;
            bought[p.name] += p.litres;
        }
        QVERIFY2(std::abs(volume - r.volumeL) < 1e-6, r.id.c_str());
        QVERIFY2(std::abs(alcohol / volume - r.expected.value) < 1e-6, r.id.c_str());
        if (hasPulls(r.kind) && r.kind != RungKind::wayDown)
            QVERIFY2(std::abs(r.expected.value - r.content) <= 0.03 + 1e-9, r.id.c_str());
        QVERIFY(r.burnL > 0);
        alcohol *= 1 - r.burnL / volume;
        volume -= r.burnL;
        QVERIFY2(volume >= 8 - 1e-6 && volume <= 60, r.id.c_str());
    }
    QVERIFY(std::abs(price - l.price) < 1e-9 && std::abs(poured - l.pouredL) < 1e-9);
    for (const ShoppingItem &i : l.shopping)
        QCOMPARE(i.litres, bought[i.name]);
    // What a rung burns: three pulls of 12 s at the highest flow, and what settling takes, at 0.2 L/min.
    const Rung &e25 = *l.byId("content.25");
    const double settle = std::max(e25.settleMin, e25.settleInjectorsMin);
    const double burned = settle * 0.2 * e25.multiplier + 3 * e25.demand.flowLMin * 12 / 60;
    QVERIFY(std::abs(e25.burnL - burned) < 0.05);
    QVERIFY(std::abs(e25.minutes - (6 + settle + 3 * 4)) < 1e-9);
}

// At the tables' own boost the demand is what the duty map has at the loads that are reached.
void LadderTest::demandIsThatOfTheDutyMap() {
    Job job = plainJob();
    const Study study(job);
    for (const double content : {0.10, 0.5, 0.85}) {
        const double target = boostTargets(study, {content}).front();
        const RungDemand own = rungDemand(study, content, std::nullopt),
                         same = rungDemand(study, content, target);
        QVERIFY(std::abs(own.duty - same.duty) < 1e-12);
        const EngineMap map = dutyMap(study, content);
        double reached = 0, all = 0;
        for (std::size_t i = 0; i < map.value.size(); ++i) {
            all = std::max(all, map.value[i]);
            if (map.reached[i]) reached = std::max(reached, map.value[i]);
        }
        QVERIFY2(own.duty >= reached - 1e-9 && own.duty <= all + 1e-9, "peaks lie between cells");
        QVERIFY(rungDemand(study, content, target - 20).duty < own.duty);
        QVERIFY(rungDemand(study, content, target + 20).duty > own.duty);
        // Spark is that of the tables at the boost of the rung, where it is first had.
        const RungDemand less = rungDemand(study, content, target - 20);
        QVERIFY(std::abs(less.sparkLoadKpa - (target - 20)) < 0.51);
        const Table2D spark = study.blended(CalibratedQuantity::spark, content);
        QVERIFY(std::abs(less.sparkDeg - spark.lookup(less.sparkRpm, less.sparkLoadKpa).value) < 1e-9);
        QVERIFY(less.sparkRpm <= own.sparkRpm);
    }
}

void LadderTest::boostWithinDutyIsItsInverse() {
    const Job job = plainJob();
    const Study study(job);
    for (const double content : {0.1, 0.85}) {
        const double kpa = boostWithinDuty(study, content, 0.85);
        QVERIFY(std::abs(rungDemand(study, content, kpa).duty - 0.85) < 0.002);
    }
    QCOMPARE(boostWithinDuty(study, 0.85, 0.01), 100.0);
}

void LadderTest::settingGoesToBothEnds() {
    Job job = plainJob();
    const Ladder l = planLadder(Study(job));
    setForRung(job, *l.byId("base_boost.160"));
    for (const double content : {0.10, 0.4, 0.85})
        QVERIFY(std::abs(boostTargets(Study(job), {content}).front() - 160) < 0.5);
    QVERIFY(std::abs(job.boost.cutKpa - 177.2) < 1e-9);
    // The goal is what the tables asked for, where nobody has stated one.
    Job unstated = plainJob();
    unstated.ladder.baseBoostKpa = unstated.ladder.topBoostKpa = 0;
    const std::vector<double> asked = boostTargets(Study(unstated), {0.10, 0.85});
    const std::vector<std::string> rungs = idsOf(planLadder(Study(unstated)));
    setForRung(unstated, *planLadder(Study(unstated)).byId("base_boost.160"));
    QCOMPARE(unstated.ladder.baseBoostKpa, asked[0]);
    QCOMPARE(unstated.ladder.topBoostKpa, asked[1]);
    QCOMPARE(idsOf(planLadder(Study(unstated))), rungs);
    setForRung(job, *l.byId("top_boost.220"));
    QVERIFY(std::abs(boostTargets(Study(job), {0.85}).front() - 220) < 0.5);
    QVERIFY(std::abs(boostTargets(Study(job), {0.10}).front() - 160) < 1.5); // the base stays
    const Job before = job;
    setForRung(job, *l.byId("road"));
    QVERIFY(job == before);
}

// What a gate asks for: of a rung with boost its target with its cut, else both ends; a field; a limit.
void LadderTest::anAnswerIsDone() {
    const Job job = plainJob();
    const Ladder l = planLadder(Study(job));
    GateAnswer answer;
    answer.remedy = GateRemedy::set;
    answer.link = boostTables;
    answer.toSet = 130;
    const Job own = withAnswer(job, *l.byId("base_boost.160"), answer);
    QVERIFY(std::abs(boostTargets(Study(own), {0.10}).front() - 160) < 0.5);
    QVERIFY(std::abs(own.boost.cutKpa - 177.2) < 1e-9);
    const Job both = withAnswer(job, *l.byId("road"), answer);
    for (const double content : {0.10, 0.85})
        QVERIFY(std::abs(boostTargets(Study(both), {content}).front() - 130) < 0.5);
    QCOMPARE(both.boost.cutKpa, job.boost.cutKpa);
    answer.link = "boost.cut_kpa";
    QCOMPARE(withAnswer(job, *l.byId("road"), answer).boost.cutKpa, 130.0);
    answer.link = "ladder.way_down";
    answer.toSet = 0.05;
    QCOMPARE(limitOf(withAnswer(job, *l.byId("road"), answer), "ladder.way_down"), 0.05);
    answer.toSet = -5;
    QVERIFY_THROWS_EXCEPTION(InputError, withAnswer(job, *l.byId("road"), answer));
    answer.link.clear();
    QVERIFY_THROWS_EXCEPTION(InputError, withAnswer(job, *l.byId("road"), answer));
}

void LadderTest::enoughIsEnough() {
    Job job = plainJob();
    job.ladder.powerKw = 200;
    for (const char *id : {"preflight", "base_boost.190", "content.25"})
        job.ladderPassed.push_back(passed(id, 0.1, 199));
    QVERIFY(planLadder(Study(job)).next()->id == "content.40");
    job.ladderPassed.back().powerKw = 200;
    const Ladder l = planLadder(Study(job));
    QCOMPARE(l.next()->id, std::string("way_down"));
    for (const char *id : {"content.40", "content.85", "top_boost.205"}) {
        QVERIFY(l.byId(id)->state == RungState::notNeeded);
        QVERIFY(says(l.byId(id)->why, "Enough is enough"));
        QVERIFY(l.byId(id)->pours.empty());
    }
    QVERIFY(l.byId("content.25")->state == RungState::passed);
}

void LadderTest::mustRunFuelsStay() {
    Job job = plainJob();
    job.ladder.powerKw = 200;
    job.shelf.push_back(fuelOf("Middle", 0.55, 1.5));
    job.ladderFuels = {{"Middle"}};
    for (const char *id : {"preflight", "base_boost.190"})
        job.ladderPassed.push_back(passed(id, 0.1, 210));
    const Ladder l = planLadder(Study(job));
    QVERIFY(l.byId("content.55"));
    QVERIFY(l.byId("content.50") && l.byId("content.60"));
    QVERIFY(l.byId("content.55")->state == RungState::later);
    QVERIFY(l.byId("content.60")->state == RungState::notNeeded);
    QVERIFY(l.byId("top_boost.220")->state == RungState::notNeeded);
}

void LadderTest::bothEndsLeaveOutTheMiddle() {
    Job job = plainJob();
    job.ladder.route = LadderRoute::bothEnds;
    const Ladder l = planLadder(Study(job));
    QVERIFY(l.byId("content.85") && !l.byId("content.40"));
    job.ladder.route = LadderRoute::steps;
    job.ladderContents = {{0.3}, {0.65}};
    const std::vector<double> up = ladderContents(Study(job)).up;
    QCOMPARE(up, (std::vector<double>{0.3, 0.65, 0.85}));
    job.ladder.topContent = 0.6;
    QCOMPARE(ladderContents(Study(job)).up, (std::vector<double>{0.3, 0.6}));
    job.ladder.topContent = 0.1;
    QVERIFY(ladderContents(Study(job)).up.empty());
    const Ladder flat = planLadder(Study(job));
    QVERIFY(!flat.byId("way_down") && flat.byId("base_boost.190") && !flat.byId("top_boost.220"));
    // The strongest fuel of the shelf ends it where the job says no top of its own.
    job.ladder.topContent = 0;
    job.ladderContents.clear();
    job.shelf[1].ethanol = 0.72;
    QCOMPARE(ladderContents(Study(job)).top, 0.72);
}

void LadderTest::endsWherePartsEnd() {
    // Injectors: at the top content they are at their caution somewhere under the goal.
    Job job = plainJob();
    job.injectors.flowCcMin /= 1.3;
    Ladder l = planLadder(Study(job));
    QVERIFY(says(l.ends, "Injectors"));
    QVERIFY(l.byId("top_boost.220")->state == RungState::outOfReach);
    QVERIFY(l.byId("top_boost.220")->demand.duty > 0.85);
    QVERIFY(l.byId("way_down")->state == RungState::later); // it still comes down
    for (const Rung &r : l.rungs)
        if (r.state == RungState::later && hasPulls(r.kind)) QVERIFY(r.demand.duty <= 0.85);
    // The engine's own limit leaves no room for a cut.
    job = plainJob();
    job.engine.boostLimitKpa = Curve::constant(210);
    l = planLadder(Study(job));
    QVERIFY(l.byId("top_boost.205")->state == RungState::outOfReach);
    QVERIFY(says(l.byId("top_boost.205")->why, "no room for a cut"));
    // On the base fuel already: more content is made of what it stands.
    job.engine.boostLimitKpa = Curve::constant(190);
    l = planLadder(Study(job));
    QVERIFY(l.byId("base_boost.190")->state == RungState::outOfReach);
    QCOMPARE(*l.byId("content.25")->boostKpa, 175.0);
    QVERIFY(l.byId("content.25")->state == RungState::later);
    // Not even on the base fuel: then nothing comes down, and nothing is driven or handed over.
    job.engine.boostLimitKpa = Curve::constant(130);
    l = planLadder(Study(job));
    for (const char *id : {"way_down", "road", "hand_over"}) {
        QVERIFY2(l.byId(id)->state == RungState::outOfReach, id);
        QVERIFY(says(l.byId(id)->why, "no room for a cut"));
    }
    QCOMPARE(l.next()->id, std::string("preflight"));
    job.ladderPassed = {passed("preflight")};
    QVERIFY(!planLadder(Study(job)).next());
    // Only the contents are: the base fuel is driven and handed over, and there is no way down.
    job = plainJob();
    job.shelf[1].leftL = 0.1;
    l = planLadder(Study(job));
    QVERIFY(l.byId("content.25")->state == RungState::outOfReach);
    QVERIFY(l.byId("way_down")->state == RungState::outOfReach);
    QVERIFY(l.byId("road")->state == RungState::later && l.byId("hand_over")->state == RungState::later);
    // What cannot be poured ends it too: two litres of the strong fuel are left.
    job = plainJob();
    job.shelf[1].leftL = 2;
    l = planLadder(Study(job));
    QVERIFY(says(l.ends, "cannot be poured"));
    QVERIFY(l.byId("content.85")->state == RungState::outOfReach);
    // Without a controller it goes pass by pass (pass_ladder_test).
    job = plainJob();
    job.control = FuelControl::mechanical;
    QVERIFY(planLadder(Study(job)).passes && !l.passes);
    // The spring.
    job = plainJob();
    job.boost.springKpa = 39;
    l = planLadder(Study(job));
    QVERIFY(says(l.ends, "Spring"));
}

void LadderTest::plansFromWhereTheTankIs() {
    Job job = plainJob();
    for (const char *id : {"preflight", "base_boost.190", "content.25"})
        job.ladderPassed.push_back(passed(id));
    job.tankEvents = {tankEvent(TankEventKind::level, 15, 0), tankEvent(TankEventKind::content, 0, 0.40)};
    Ladder l = planLadder(Study(job));
    QCOMPARE(l.next()->id, std::string("content.40"));
    QVERIFY(!l.next()->moves()); // it is there
    job.tankEvents = {tankEvent(TankEventKind::level, 15, 0), tankEvent(TankEventKind::content, 0, 0.25)};
    l = planLadder(Study(job));
    QVERIFY(l.next()->moves() && l.next()->pours[0].name == "Strong");
    QVERIFY(l.byId("content.25")->pours.empty());
    // An empty tank before the road: no stronger than the way down may end, though the strong fuel is
    // cheaper.
    Job down = plainJob();
    for (const Rung &r : planLadder(Study(down)).rungs)
        if (r.kind != RungKind::road && r.kind != RungKind::handOver)
            down.ladderPassed.push_back(passed(r.id));
    down.tankEvents = {tankEvent(TankEventKind::level, 3, 0), tankEvent(TankEventKind::content, 0, 0.20)};
    l = planLadder(Study(down));
    QCOMPARE(l.next()->id, std::string("road"));
    QVERIFY(l.next()->volumeL >= 8 && l.next()->expected.value <= 0.25 + 1e-9);
    // Without a fuel that plans may use there is a ladder all the same.
    job.shelf.clear();
    l = planLadder(Study(job));
    QVERIFY(l.shopping.empty() && !l.remarks.empty() && says(l.remarks[0], "No fuel of the shelf"));
    QCOMPARE(l.next()->id, std::string("content.40"));
}

void LadderTest::moneyIsSaid() {
    Job job = plainJob();
    const double price = planLadder(Study(job)).price;
    job.ladder.money = price + 1;
    QVERIFY(planLadder(Study(job)).remarks.empty());
    job.ladder.money = price / 3;
    const Ladder l = planLadder(Study(job));
    QVERIFY(!l.remarks.empty());
    QVERIFY(l.price <= price + 1e-9);
    QVERIFY(l.price <= job.ladder.money || says(l.remarks[0], "more than it may"));
    // What has been spent counts.
    job.ladder.money = price + 1;
    job.ladderPassed = {passed("preflight")};
    job.ladderPassed[0].price = 5;
    const Ladder spent = planLadder(Study(job));
    QCOMPARE(spent.spent, 5.0);
    QVERIFY(!spent.remarks.empty());
}

void LadderTest::everyGatePasses() {
    std::set<std::string_view> seen;
    for (const char *rung :
         {"preflight", "pass.", "base_boost.160", "content.25", "way_down", "road", "hand_over"}) {
        const RungStatus status = made(rung).status();
        for (const GateResult &g : status.gates) {
            QVERIFY2(
                g.answer.verdict == GateVerdict::passed,
                (std::string(rung) + " " + std::string(g.gate->id) + ": " + said(g.answer.said)).c_str());
            QVERIFY(!g.answer.said.empty());
            QVERIFY(g.answer.toPass.empty() && g.answer.remedy == GateRemedy::none);
            seen.insert(g.gate->id);
        }
        QVERIFY(status.passes() && !status.first());
    }
    QCOMPARE(seen.size(), allGates().size());
}

void LadderTest::everyGateFails_data() {
    QTest::addColumn<int>("which");
    for (std::size_t i = 0; i < spoilings().size(); ++i)
        QTest::addRow("%s %d", spoilings()[i].gate, static_cast<int>(i)) << static_cast<int>(i);
}

void LadderTest::everyGateFails() {
    QFETCH(int, which);
    const Spoiling &s = spoilings()[static_cast<std::size_t>(which)];
    Made m = made(s.rung);
    s.spoil(m);
    const RungStatus status = m.status();
    const auto at = std::ranges::find(status.gates, s.gate, [](const GateResult &g) { return g.gate->id; });
    QVERIFY(at != status.gates.end());
    const GateAnswer &a = at->answer;
    QVERIFY2(a.verdict == s.verdict, said(a.said).c_str());
    QVERIFY2(says(a.said, s.says), said(a.said).c_str());
    QVERIFY2(a.remedy == s.remedy, said(a.toPass).c_str());
    QVERIFY(!a.toPass.empty());
    QVERIFY(!status.passes() && status.first());
    QVERIFY(status.light() == (s.verdict == GateVerdict::failed ? RungLight::red : RungLight::amber));
}

void LadderTest::everyGateIsSpoilt() {
    for (const Gate *g : allGates())
        QVERIFY2(std::ranges::any_of(spoilings(), [&](const Spoiling &s) { return s.gate == g->id; }),
                 std::string(g->id).c_str());
}

// Quiet is what was asked: rules that the last full pull has not got the channels for are named, whatever the
// others say.
void LadderTest::whatTheLastPullWasNotAskedIsSaid_data() {
    QTest::addColumn<QString>("rung");
    QTest::addColumn<QString>("gate");
    QTest::addColumn<bool>("shortAfterIt");
    for (const bool after : {false, true}) {
        QTest::addRow("road %d", after) << QStringLiteral("road") << QStringLiteral("road") << after;
        QTest::addRow("watch %d", after)
            << QStringLiteral("base_boost.160") << QStringLiteral("watch") << after;
    }
}

void LadderTest::whatTheLastPullWasNotAskedIsSaid() {
    QFETCH(QString, rung);
    QFETCH(QString, gate);
    QFETCH(bool, shortAfterIt);
    const WatchRule *battery = watchRuleById("battery"), *spark = watchRuleById("spark_off");
    for (const bool unasked : {false, true}) {
        Made m = made(rung.toLatin1().constData());
        for (PullFacts &p : m.facts.pulls)
            p.notAsked = unasked ? std::vector<const WatchRule *>{} : std::vector{spark, battery};
        m.facts.pulls.back().notAsked = unasked ? std::vector{battery} : std::vector<const WatchRule *>{};
        if (shortAfterIt) {
            m.facts.pulls.push_back(m.facts.pulls.back());
            m.facts.pulls.back().full = false;
            m.facts.pulls.back().notAsked = {spark};
        }
        const RungStatus status = m.status();
        const auto at = std::ranges::find(status.gates, gate.toStdString(),
                                          [](const GateResult &g) { return std::string(g.gate->id); });
        QVERIFY(at->answer.verdict == GateVerdict::passed);
        const std::string words = said(at->answer.said);
        QCOMPARE(words.find("Not asked") != std::string::npos, unasked);
        if (unasked)
            QVERIFY2(says(at->answer.said, "Not asked: " + said(battery->title) + "."), words.c_str());
    }
}

// λ at load of a full pull stands, whatever a short one after it has not reached.
void LadderTest::aShortPullNeedNotHaveAll() {
    Made m = onBase();
    m.facts.pulls.push_back(goodPull(m.job, 0.10, 160));
    m.facts.pulls.back().full = false;
    m.facts.pulls.back().lambdaError = PullFacts::unknown;
    const RungStatus status = m.status();
    const auto at = std::ranges::find(status.gates, std::string_view("lambda"),
                                      [](const GateResult &g) { return g.gate->id; });
    QVERIFY2(at->answer.verdict == GateVerdict::passed, said(at->answer.said).c_str());
    // With short ones alone the last of them must say it.
    for (PullFacts &p : m.facts.pulls)
        p.full = false;
    const RungStatus none = m.status();
    QVERIFY(std::ranges::find(none.gates, std::string_view("lambda"), [](const GateResult &g) {
                return g.gate->id;
            })->answer.verdict == GateVerdict::notJudged);
}

// Without a sensor who states the content answers for it; where pulls have one, cruise need not.
void LadderTest::aStatedContentHasSettled() {
    for (const bool pulled : {true, false}) {
        Made m = onBase();
        for (PullFacts &p : m.facts.pulls) {
            p.contentByChannel = false;
            p.contentMoved = PullFacts::unknown;
        }
        if (!pulled) m.facts.pulls.clear();
        m.facts.lights[0].contentMoved = PullFacts::unknown;
        const RungStatus status = m.status();
        const auto at = std::ranges::find(status.gates, std::string_view("settled"),
                                          [](const GateResult &g) { return g.gate->id; });
        QVERIFY2(at->answer.verdict == GateVerdict::passed && says(at->answer.said, "the content is stated"),
                 said(at->answer.said).c_str());
    }
}

// What came out otherwise and was explained passes, with what was said.
void LadderTest::whatIsExplainedPasses() {
    Made m = made("content.25");
    m.facts.pulls[3].fullest.duty *= 1.2;
    m.job.ladderLooks.push_back({"content.25", "forecast", when, "the can was mislabelled"});
    const RungStatus status = m.status();
    const auto at = std::ranges::find(status.gates, std::string_view("forecast"),
                                      [](const GateResult &g) { return g.gate->id; });
    QVERIFY(at->answer.verdict == GateVerdict::passed);
    QVERIFY2(says(at->answer.said, "explained (the can was mislabelled)"), said(at->answer.said).c_str());
}

// Beside its band, but not by two.
void LadderTest::oneInTwentyIsBeside() {
    Made m = made("content.25");
    const PullTrends trends(*m.facts.pulls[3].ran, std::vector<const PullFacts *>{&m.facts.pulls[0]});
    const Uncertain over = trends.fuelOver(0.25, 192);
    m.facts.pulls[3].fullest.duty *= std::exp(over.value + 1.5 * within95 * over.sigma);
    const RungStatus status = m.status();
    const auto at = std::ranges::find(status.gates, std::string_view("forecast"),
                                      [](const GateResult &g) { return g.gate->id; });
    QVERIFY(at->answer.verdict == GateVerdict::passed);
    QVERIFY2(says(at->answer.said, "Beside its band"), said(at->answer.said).c_str());
}

// Of the first rung nothing was forecast.
void LadderTest::nothingIsForecastOfTheFirst() {
    const RungStatus status = onBase().status();
    QVERIFY(std::ranges::none_of(status.gates, [](const GateResult &g) { return g.gate->id == "forecast"; }));
}

// The search of the road raises what was clean in the same step that takes away what knocked.
void LadderTest::takingSparkSaysWhatElseItDoes() {
    for (const auto school : {SparkSchool::road, SparkSchool::fixed, SparkSchool::dyno}) {
        Made m = onBase();
        m.job.sparkSchool = school;
        m.facts.pulls[2].knockDeg = 0.6;
        const RungStatus status = m.status();
        const auto knock =
            std::ranges::find_if(status.gates, [](const GateResult &g) { return g.gate->id == "knock"; });
        QVERIFY(knock != status.gates.end() && knock->answer.remedy == GateRemedy::takeSpark);
        QCOMPARE(says(knock->answer.toPass, "adds spark elsewhere"), school == SparkSchool::road);
    }
}

void LadderTest::passesByEvidenceOnly() {
    Made m = onBase();
    m.job.ladderPassed = {passed("preflight")};
    const auto pass = [&](const std::string &reason = {}) {
        const Study study(m.job);
        return passOf(study, planLadder(study), m.facts, m.rung, when, reason);
    };
    const RungPass p = pass();
    QVERIFY(p.by == PassedBy::evidence);
    QCOMPARE(p.content, 0.10);
    QCOMPARE(p.boostKpa, 160.0);
    QCOMPARE(p.logs, std::string("a\n"));
    QCOMPARE(p.calibration, calibrationPrint(stateOf(m.job)));
    QVERIFY(p.gates.find("knock: passed") != std::string::npos);
    m.facts.pulls[2].knockDeg = 2;
    EXPECT_INPUT_ERROR(pass(), "gate knock");
    const RungPass byHand = pass("the sensor hears the starter");
    QVERIFY(byHand.by == PassedBy::hand);
    QCOMPARE(byHand.reason, std::string("the sensor hears the starter"));
    m.facts.pulls[2].knockDeg = 0;
    QVERIFY(pass("to be sure").by == PassedBy::evidence); // a reason makes it no weaker
    QVERIFY(byHand.gates.find("knock: failed") != std::string::npos);
}

// The best run of this fuel with this calibration, of the road less what it is known to.
void LadderTest::powerIsOfThisCalibration() {
    Job job = plainJob();
    const std::string print = calibrationPrint(stateOf(job));
    const auto run = [&](const char *id, double kw, double content, const std::string &calibration,
                         double within) {
        Run r = runOf(job, id, content, within > 0 ? RunMode::road : RunMode::inertia, "");
        r.calibration = calibration;
        r.knownWithin = within;
        RunSamples s;
        s.columns = {{ChannelRole::rpm, "rpm", "rpm", 1, 0, {3000, 4000, 5000}},
                     {ChannelRole::power, "power", "kW", 1, 0, {kw / 2, kw, kw / 2}}};
        r.samples = DeferredText(runSamplesText(s));
        job.runs.push_back(r);
    };
    run("1", 200, 0.11, print, 0);
    run("2", 210, 0.10, print, 0.1); // 189 at least
    run("3", 300, 0.10, "0123456789abcdef", 0);
    run("4", 300, 0.20, print, 0);
    QVERIFY(std::abs(powerAt(Study(job), 0.10, print) - 200) < 1e-9);
    QCOMPARE(powerAt(Study(job), 0.5, print), 0.0);
    job.runs.eraseAt(0);
    QVERIFY(std::abs(powerAt(Study(job), 0.10, print) - 189) < 1e-9);
}

void LadderTest::handNeedsAReason() {
    Made m = onBase();
    const Study study(m.job);
    const Ladder l = planLadder(study);
    EXPECT_INPUT_ERROR(passOf(study, l, {}, "preflight", when), "gate looked_over");
    QVERIFY(passOf(study, l, {}, "preflight", when, "done last week").by == PassedBy::hand);
}

void LadderTest::onlyTheNextMayPass() {
    Made m = onBase();
    const Study study(m.job);
    const Ladder l = planLadder(study);
    EXPECT_INPUT_ERROR(passOf(study, l, m.facts, "base_boost.160", when, "why not"), "rung");
    EXPECT_INPUT_ERROR(passOf(study, l, m.facts, "content.99", when, "why not"), "rung");
}

void LadderTest::higherBoostPassedIsPassed() {
    Job job = plainJob();
    job.ladderPassed = {passed("preflight"), passed("base_boost.176")};
    const Ladder l = planLadder(Study(job));
    QVERIFY(l.byId("base_boost.160")->state == RungState::passed);
    QVERIFY(l.byId("base_boost.175")->state == RungState::passed);
    QCOMPARE(l.next()->id, std::string("base_boost.190"));
    QVERIFY(l.byId("top_boost.205")->state != RungState::passed);
}

void LadderTest::pullsCountForTheNearestContent() {
    const Job job = plainJob();
    const Ladder l = planLadder(Study(job));
    const auto counts = [&](double content, double boost, const char *rung) {
        return belongsTo(goodPull(job, content, boost), *l.byId(rung), l, job);
    };
    QVERIFY(counts(0.10, 160, "base_boost.160") && counts(0.10, 190, "base_boost.160"));
    QVERIFY(!counts(0.10, 160, "base_boost.175"));
    QVERIFY(counts(0.42, 190, "content.40") && !counts(0.42, 190, "content.50"));
    QVERIFY(!counts(0.42, 180, "content.40"));
    QVERIFY(counts(0.85, 220, "content.85") && counts(0.85, 220, "top_boost.220"));
    QVERIFY(counts(0.24, 150, "way_down") && !counts(0.26, 150, "way_down"));
    QVERIFY(!counts(0.10, 160, "road"));
}

// On the way down a fuel that is still too strong is not nothing: its logs count, and the gate says so.
void LadderTest::tooStrongForTheWayDownIsSaid() {
    Made m = onRung("way_down", 0.10, 190);
    const auto answerOf = [&](const Made &of, std::string_view gate) -> GateAnswer {
        for (const GateResult &g : of.status().gates)
            if (g.gate->id == gate) return g.answer;
        return {};
    };
    for (PullFacts &p : m.facts.pulls)
        p.content = 0.27, p.added = "2026-06-02T10:00:00Z";
    for (LightLoadFacts &l : m.facts.lights)
        l.content = 0.27, l.added = "2026-06-02T10:00:00Z";
    RungPass top = passed("top_boost.220");
    top.at = "2026-06-01T10:00:00Z";
    m.job.ladderPassed = {top};
    TankEvent pour;
    pour.kind = TankEventKind::pour;
    pour.litres = 20;
    pour.at = "2026-06-01T12:00:00Z";
    m.job.tankEvents.push_back(pour);
    const GateAnswer strong = answerOf(m, "planned");
    QVERIFY(strong.verdict == GateVerdict::failed);
    QVERIFY(strong.remedy == GateRemedy::pour);
    // Of before that pour it is the fuel of the top, and says nothing of the way down.
    Made before = m;
    for (PullFacts &p : before.facts.pulls)
        p.added = "2026-06-01T11:00:00Z";
    for (LightLoadFacts &l : before.facts.lights)
        l.added = "2026-06-01T11:00:00Z";
    QVERIFY(answerOf(before, "planned").verdict != GateVerdict::failed ||
            answerOf(before, "planned").used.empty());
    QVERIFY(answerOf(before, "lambda").verdict == GateVerdict::notJudged);
}

// Logs of a fill that missed are left out once it was put right; those that were on plan still count, but say
// nothing beside a tube of now.
void LadderTest::anotherPourMakesAnotherFill() {
    Made m = onBase();
    for (PullFacts &p : m.facts.pulls)
        p.added = "2026-05-10T11:00:00Z", p.content = 0.135;
    m.facts.lights[0].added = "2026-05-10T11:00:00Z";
    m.facts.lights[0].content = 0.135;
    const auto verdictOf = [&](std::string_view gate) {
        for (const GateResult &g : m.status().gates)
            if (g.gate->id == gate) return g.answer.verdict;
        return GateVerdict::passed;
    };
    QVERIFY(verdictOf("planned") == GateVerdict::failed);
    TankEvent pour = tankEvent(TankEventKind::pour, 5, 0.05);
    m.job.tankEvents.insert(m.job.tankEvents.begin() + 2, pour); // at noon, before the tube
    QVERIFY(verdictOf("planned") == GateVerdict::notJudged);
    QVERIFY(verdictOf("lambda") == GateVerdict::notJudged);
    for (PullFacts &p : m.facts.pulls)
        p.content = 0.101;
    m.facts.lights[0].content = 0.101;
    QVERIFY(verdictOf("planned") == GateVerdict::passed);
    QVERIFY(verdictOf("lambda") == GateVerdict::passed);
    QVERIFY(verdictOf("tube") == GateVerdict::notJudged); // what it was read beside is of the fill before
    m.facts.lights[0].added = "2026-05-10T12:30:00Z";
    QVERIFY(verdictOf("tube") == GateVerdict::passed);
}

void LadderTest::lastPullsCount() {
    Made m = onBase();
    PullFacts bad = goodPull(m.job, 0.10, 160);
    bad.dutyMost = 0.9;
    bad.lambdaError = 0.05;
    m.facts.pulls.insert(m.facts.pulls.begin(), bad);
    QVERIFY(m.status().passes()); // three good ones since
    m.facts.pulls.push_back(bad);
    QVERIFY(m.status().light() == RungLight::red);
    QCOMPARE(m.status().pulls, std::size_t(3));
}

void LadderTest::reportsSayWhatIsThere() {
    const Job job = plainJob();
    const Ladder l = planLadder(Study(job));
    const std::string sheet = plainText(ladderReport(l).report, {});
    for (const Rung &r : l.rungs)
        QVERIFY2(sheet.find(format(rungName(r))) != std::string::npos, r.id.c_str());
    const Rung &e25 = *l.byId("content.25");
    const std::string page = plainText(rungReport(e25).report, {});
    QVERIFY(page.find("Strong") != std::string::npos);
    QVERIFY(page.find("207 kPa") != std::string::npos); // its cut
    QVERIFY(page.find("3 clean pulls") != std::string::npos);
    const Made m = onBase();
    const Study study(m.job);
    const Ladder own = planLadder(study);
    const std::string gates =
        plainText(gatesReport(*own.byId(m.rung), rungStatus(study, own, *own.byId(m.rung), m.facts)), {});
    QVERIFY(gates.find("every gate has passed") != std::string::npos);
    QVERIFY(gates.find("a.csv") != std::string::npos);
}

void LadderTest::listsAreSound() {
    std::set<std::string_view> ids;
    for (const Gate *g : allGates()) {
        QVERIFY(ids.insert(g->id).second && gateById(g->id) == g);
        QVERIFY(!g->title.empty() && !g->question.empty() && !g->asked.empty() && g->answer);
        for (const std::string_view limit : g->limits)
            limitById(limit); // throws
    }
    QVERIFY(!gateById("nothing"));
    std::set<std::string_view> items;
    for (const PreflightItem &i : allPreflightItems())
        QVERIFY(items.insert(i.id).second && !i.title.empty() && !i.help.empty());
}

CORE_TEST_MAIN(LadderTest)
#include "ladder_test.moc"
