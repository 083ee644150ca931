// SPDX-License-Identifier: GPL-3.0-or-later
// Proposals as maps show them: the numbers of what they are made by, in the way that was asked for, and
// worked out once for all contents.
#include "core/proposal/knock_proposal.h"
#include "core/proposal/proposed_map.h"
#include "formats/job_json.h"
#include "support/phrases.h"
#include "support/practice_log.h"
#include "support/test_main.h"

#include <QFile>

#include <cmath>

using namespace wheelwright;
using namespace wheelwright::testing;

namespace {

using S = ProposedState;

Job demo() {
    QFile f(QStringLiteral(DEMO_JOB));
    if (!f.open(QIODevice::ReadOnly)) qFatal("no demo job");
    return jobFromJson(f.readAll().toStdString());
}

struct Logged {
    std::shared_ptr<const Study> study;
    std::vector<std::shared_ptr<const LogReview>> logs;
};

// One day at E40 on an engine that wants other fuel than its tables.
const Logged &logged() {
    static const Logged made = [] {
        const Job job = demo();
        const HiddenEngine engine = drawEngine(Study(job), 5);
        const PracticeLog log(job, engine, R"({"start": "warm", "ethanol": 0.4, "steps": [
            {"do": "hold", "rpm": 2500, "load_kpa": 60, "seconds": 6},
            {"do": "hold", "rpm": 3000, "load_kpa": 80, "seconds": 6},
            {"do": "hold", "rpm": 3500, "load_kpa": 90, "seconds": 6},
            {"do": "pull", "mode": "loaded", "from_rpm": 2500, "to_rpm": 6000}]})",
                              2);
        const Job with = log.in(job, "aa");
        return Logged{std::make_shared<const Study>(with), {log.review(with, "aa")}};
    }();
    return made;
}

// The same engine on both contents that tables were calibrated at: each is known by itself.
const Logged &atBothEnds() {
    static const Logged made = [] {
        Job job = demo();
        const HiddenEngine engine = drawEngine(Study(job), 5);
        std::vector<PracticeLog> logs;
        for (const double content : {job.calibration.baseContent, job.calibration.topContent})
            logs.emplace_back(job, engine,
                              R"({"start": "warm", "ethanol": )" + std::to_string(content) + R"(, "steps": [
                {"do": "hold", "rpm": 2500, "load_kpa": 60, "seconds": 6},
                {"do": "hold", "rpm": 3000, "load_kpa": 80, "seconds": 6}]})",
                              2);
        const Job with = logs[1].in(logs[0].in(job, "aa"), "bb");
        return Logged{std::make_shared<const Study>(with),
                      {logs[0].review(with, "aa"), logs[1].review(with, "bb")}};
    }();
    return made;
}

std::shared_ptr<ProposalBasis> basis(std::optional<double> delayMs = {}) {
    return std::make_shared<ProposalBasis>(logged().study, logged().logs, delayMs);
}

ProposedOptions at(double content) {
    ProposedOptions o;
    o.content = content;
    o.at = "2026-05-10T12:00:00Z";
    return o;
}

// The map's cells against a proposal that was made directly.
void compareFuel(const ProposedMap &map, const FuelProposal &p) {
    QCOMPARE(map.cells.size(), p.cells.size());
    std::size_t takes = 0;
    for (std::size_t i = 0; i < p.cells.size(); ++i) {
        takes += p.cells[i].proposed != p.cells[i].now;
        if (map.cells[i].state == S::nothing) continue;
        COMPARE_NEAR(map.cells[i].change, p.cells[i].proposed / p.cells[i].now - 1, 1e-12);
    }
    QCOMPARE(map.takes, takes);
}

bool saysIt(const ProposedMap &map, std::string_view words) {
    return std::ranges::any_of(map.said, [&](const Phrase &p) { return says(p, words); });
}

} // namespace

class ProposedMapTest : public QObject {
    Q_OBJECT
  private slots:
    void fuelIsMadeAsAsked();
    void aRegionGetsOneCorrection();
    void errorsAreThoseOfTheSamples();
    void allContentsTakeWhatTheyAreToldTo();
    void whatIsSharedIsMadeOnce();
    void stoppedIsEmpty();
    void sweepsSayWhatTheyFound();
};

void ProposedMapTest::fuelIsMadeAsAsked() {
    const auto shared = basis();
    const FuelSamples samples = fuelSamples(*logged().study, logged().logs);
    const auto direct = [&](const ProposedOptions &o) {
        FuelProposalOptions how;
        how.content = o.content;
        how.damping = o.damping;
        how.clamp = o.clamp;
        how.leastHits = o.leastHits;
        how.neighbours = o.neighbours;
        how.nearest = o.nearest;
        return proposeFuel(*logged().study, samples, how);
    };
    const ProposedOptions plain = at(0.4);
    ProposedOptions bold = plain, held = plain, alone = plain, wide = plain, nearest = plain, many = plain;
    bold.damping = 1;
    held.clamp = 0.01;
    alone.neighbours = 0;
    wide.neighbours = 2;
    nearest.nearest = true;
    many.leastHits = 60;
    const ProposedMap usual = proposedMap(ProposalKind::fuel, *shared, plain);
    QVERIFY(usual.takes > 10);
    for (const ProposedOptions &o : {plain, bold, held, alone, wide, nearest, many})
        compareFuel(proposedMap(ProposalKind::fuel, *shared, o), direct(o));
    // Each of them is another map, and says how it was made.
    const ProposedMap b = proposedMap(ProposalKind::fuel, *shared, bold);
    QVERIFY(saysIt(usual, "70") && saysIt(b, "100"));
    QVERIFY(*b.predicted < *usual.predicted);
    double most = 0;
    for (const ProposedCell &c : proposedMap(ProposalKind::fuel, *shared, held).cells)
        if (c.change == c.change) most = std::max(most, std::abs(c.change));
    QVERIFY(most > 0.005 && most < 0.0101);
    const auto inferred = [&](const ProposedOptions &o) {
        const ProposedMap m = proposedMap(ProposalKind::fuel, *shared, o);
        return std::ranges::count(m.cells, S::inferred, &ProposedCell::state);
    };
    QCOMPARE(inferred(alone), 0);
    QVERIFY(inferred(wide) > inferred(plain) && inferred(plain) > 0);
    QVERIFY(saysIt(proposedMap(ProposalKind::fuel, *shared, wide), "2 rings"));
    QVERIFY(saysIt(proposedMap(ProposalKind::fuel, *shared, alone), "around them nothing"));
    QVERIFY(proposedMap(ProposalKind::fuel, *shared, many).takes < usual.takes);
    // A delay of λ is that of the basis: other samples.
    const ProposedMap late = proposedMap(ProposalKind::fuel, *basis(300), plain);
    FuelProposalOptions how;
    how.content = 0.4;
    how.neighbours = 1;
    compareFuel(late, proposeFuel(*logged().study, fuelSamples(*logged().study, logged().logs, {300}), how));
}

void ProposedMapTest::aRegionGetsOneCorrection() {
    const auto shared = basis();
    ProposedOptions o = at(0.4);
    const ProposedMap usual = proposedMap(ProposalKind::fuel, *shared, o);
    o.region = FuelRegion{usual.rpm[6], usual.rpm[9], usual.loadKpa[5], usual.loadKpa[8]};
    const ProposedMap map = proposedMap(ProposalKind::fuel, *shared, o);
    QVERIFY(map.takes > 0 && saysIt(map, "One correction for the marked region"));
    double step = std::numeric_limits<double>::quiet_NaN();
    for (const ProposedCell &c : map.cells) {
        const bool inside = c.rpm >= o.region->rpmFrom && c.rpm <= o.region->rpmTo &&
                            c.loadKpa >= o.region->loadKpaFrom && c.loadKpa <= o.region->loadKpaTo;
        if (!inside) {
            QVERIFY(!(c.change == c.change) || c.change == 0);
            continue;
        }
        if (step != step) step = c.change;
        COMPARE_NEAR(c.change, step, 0.002); // but for the step that the table holds
    }
    QVERIFY(std::abs(step) > 0.001);
}

// By cell the mean of the samples nearest to it, worked out here once more; and what the tables then give.
void ProposedMapTest::errorsAreThoseOfTheSamples() {
    const auto shared = basis();
    const FuelSamples samples = fuelSamples(*logged().study, logged().logs);
    ProposedOptions o = at(0.4);
    o.damping = 1;
    o.clamp = 1;
    const ProposedMap map = proposedMap(ProposalKind::fuel, *shared, o);
    const Table2D now = logged().study->blended(CalibratedQuantity::fuel, 0.4);
    std::vector<double> sums(map.cells.size()), counts(map.cells.size());
    for (const FuelSample &s : samples.samples) {
        if (s.supplyAtEnd || std::abs(s.content - 0.4) > 0.05) continue;
        const std::size_t i = now.y().nearest(s.load) * now.x().size() + now.x().nearest(s.rpm);
        sums[i] += s.error;
        ++counts[i];
    }
    double before = 0, then = 0;
    std::size_t seen = 0;
    for (std::size_t i = 0; i < map.cells.size(); ++i) {
        QCOMPARE(map.cells[i].errorNow == map.cells[i].errorNow, counts[i] > 0);
        if (counts[i] == 0) continue;
        COMPARE_NEAR(map.cells[i].errorNow, sums[i] / counts[i], 1e-12);
        if (counts[i] < 50) continue;
        ++seen;
        before += std::abs(map.cells[i].errorNow);
        then += std::abs(map.cells[i].errorThen);
    }
    QVERIFY(seen >= 3 && then < before / 3); // all of an error taken: hardly any is left
    // One that takes nothing leaves all of it.
    o.damping = 1e-9;
    for (const ProposedCell &c : proposedMap(ProposalKind::fuel, *shared, o).cells)
        if (c.errorNow == c.errorNow) COMPARE_NEAR(c.errorThen, c.errorNow, 1e-6);
    // Of all contents the same samples, and their own prediction.
    const ProposedMap joint = proposedMap(ProposalKind::joint, *shared, at(0.4));
    for (std::size_t i = 0; i < map.cells.size(); ++i)
        if (counts[i] > 0) COMPARE_NEAR(joint.cells[i].errorNow, map.cells[i].errorNow, 1e-12);
}

void ProposedMapTest::allContentsTakeWhatTheyAreToldTo() {
    const Logged &ends = atBothEnds();
    ProposalBasis shared(ends.study, ends.logs);
    const JointFuel joint = solveJointFuel(*ends.study, fuelSamples(*ends.study, ends.logs));
    const double content = ends.study->job().calibration.baseContent;
    const auto most = [&](const ProposedOptions &o) {
        double found = 0;
        for (const ProposedCell &c : proposedMap(ProposalKind::joint, shared, o).cells)
            if (c.change == c.change) found = std::max(found, std::abs(c.change));
        return found;
    };
    ProposedOptions whole = at(content), half = at(content), held = at(content);
    half.damping = 0.5;
    held.clamp = 0.01;
    QVERIFY(most(whole) > 0.02);
    COMPARE_NEAR(most(half), most(whole) / 2, 0.002);
    COMPARE_NEAR(most(held), 0.01, 0.0005);
    QCOMPARE(proposedMap(ProposalKind::joint, shared, whole).takes,
             withJointFuel(ends.study->job(), joint).changed);
}

// The solution, and what was learned, stay where they are from one content to the next; another study, other
// logs or another delay ask for another basis.
void ProposedMapTest::whatIsSharedIsMadeOnce() {
    const auto shared = basis();
    const ProposedMap first = proposedMap(ProposalKind::joint, *shared, at(0.4));
    const JointFuel *joint = shared->joint({});
    const FuelSamples *samples = shared->samples({});
    const ProposedMap second = proposedMap(ProposalKind::joint, *shared, at(0.6));
    QVERIFY(shared->joint({}) == joint && shared->samples({}) == samples);
    QVERIFY(first.content != second.content && first.curve.size() == second.curve.size());
    // The same as if it had been made for that content alone.
    const ProposedMap alone = proposedMap(ProposalKind::joint, *basis(), at(0.6));
    for (std::size_t i = 0; i < alone.cells.size(); ++i) {
        QCOMPARE(second.cells[i].state, alone.cells[i].state);
        if (alone.cells[i].change == alone.cells[i].change)
            QCOMPARE(second.cells[i].change, alone.cells[i].change);
    }
    const auto learned = shared->ceilings({});
    const ProposedMap ceilings = proposedMap(ProposalKind::ceilings, *shared, at(0.4));
    QVERIFY(shared->ceilings({}) == learned && !ceilings.cells.empty());
    QVERIFY(shared->of(logged().study.get(), logged().logs, {}));
    QVERIFY(!shared->of(logged().study.get(), logged().logs, 100));
    QVERIFY(!shared->of(logged().study.get(), {}, {}));
    QVERIFY(!shared->of(nullptr, logged().logs, {}));
}

void ProposedMapTest::stoppedIsEmpty() {
    std::stop_source stop;
    stop.request_stop();
    for (const ProposalKindDefinition &d : allProposalKinds()) {
        const auto shared = basis();
        QVERIFY(proposedMap(d.kind, *shared, at(0.4), stop.get_token()).cells.empty());
        // Nothing half-made is kept: asked again it is whole.
        if (d.kind == ProposalKind::joint)
            QCOMPARE(
                proposedMap(d.kind, *shared, at(0.4)).curve.size(),
                solveJointFuel(*logged().study, fuelSamples(*logged().study, logged().logs)).curve.size());
    }
}

// Without power none, and it says why.
void ProposedMapTest::sweepsSayWhatTheyFound() {
    const ProposedMap none = proposedMap(ProposalKind::sweep, *basis(), at(0.4));
    QVERIFY(none.sweeps.empty() && none.takes == 0 && !none.job && none.unused.size() == 1);
    QVERIFY(says(none.unused[0], "neither torque nor power"));
    QVERIFY(saysIt(none, "three sparks at one place"));
}

CORE_TEST_MAIN(ProposedMapTest)
#include "proposed_map_test.moc"
