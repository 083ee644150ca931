// SPDX-License-Identifier: GPL-3.0-or-later
// What the fuel tables should become, one content at a time: sums by a second, plain loop; engines whose need
// is known; every reason to leave a cell alone.
#include "core/base/error.h"
#include "core/job/revision.h"
#include "core/proposal/fuel_proposal.h"
#include "core/study/cell_trust.h"
#include "core/study/fuel_delivery.h"
#include "core/study/fuel_meaning.h"
#include "core/study/load_axis.h"
#include "formats/job_json.h"
#include "support/practice_log.h"
#include "support/test_main.h"

#include <QFile>

#include <cmath>
#include <random>
#include <set>

using namespace wheelwright;
using namespace wheelwright::testing;

namespace {

constexpr auto fuel = CalibratedQuantity::fuel;
using S = FuelCellState;

Job demoJob() {
    QFile f(QStringLiteral(DEMO_JOB));
    if (!f.open(QIODevice::ReadOnly)) qFatal("no demo job");
    return jobFromJson(f.readAll().toStdString());
}

FuelSamples oneLog(double content = 0.10) {
    FuelSamples s;
    FuelSamples::Log log;
    log.info.id = "aa";
    log.info.name = "a.csv";
    log.info.added = "2026-05-10T12:00:00Z";
    log.info.content = content;
    log.used = true;
    s.logs.push_back(log);
    return s;
}

void add(FuelSamples &s, double rpm, double load, double content, double error, double timeS,
         bool atEnd = false) {
    FuelSample f;
    f.rpm = rpm;
    f.load = f.loadKpa = load;
    f.content = content;
    f.error = error;
    f.timeS = timeS;
    f.supplyAtEnd = atEnd;
    s.samples.push_back(f);
}

/// Samples all over a part of the table, an error of their own each.
FuelSamples scattered(unsigned seed, double content, std::size_t count = 3000) {
    std::mt19937 random(seed);
    std::uniform_real_distribution<double> rpm(1200, 5200), load(45, 140), error(-0.06, 0.09);
    FuelSamples s = oneLog(content);
    for (std::size_t i = 0; i < count; ++i)
        add(s, rpm(random), load(random), content, error(random), static_cast<double>(i) * 0.05);
    return s;
}

FuelCell cellAt(const FuelProposal &p, double rpm, double load) {
    return p.cells[p.now.y().nearest(load) * p.now.x().size() + p.now.x().nearest(rpm)];
}

// A cell of the demo and samples exactly on it.
struct Place {
    double rpm, load;
};
Place placeIn(const Job &job, std::size_t x, std::size_t y) {
    const Table2D &t = job.calibration.of(fuel).base;
    return {t.x()[x], t.y()[y]};
}

} // namespace

class FuelProposalTest : public QObject {
    Q_OBJECT
  private slots:
    void cellsAreSumsOfTheirSamples();
    void plusMinusCoversTheMean();
    void stepsAreDampedAndClamped();
    void predictionIsWhatTheNextLogFinds();
    void neighboursFollowLess();
    void aRegionMovesAsOne();
    void lockedCellsStay();
    void supplyAtItsEndIsRefused();
    void contentsMustAgree();
    void deadTimeStaysOut();
    void everyStateHasAName();
    void anEngineThatNeedsMoreGetsIt();
    void logsThatSayNothingAreLeftOut();
    void anotherCalibrationCountsThroughItsTables();
    void trimsCount();
};

// Second method: for every cell a plain loop over all samples, weights from distances.
void FuelProposalTest::cellsAreSumsOfTheirSamples() {
    const Study study(demoJob());
    const FuelSamples s = scattered(3, 0.10);
    const FuelProposal p = proposeFuel(study, s);
    const Table2D &t = p.now;
    double all = 0;
    for (const FuelCell &c : p.cells) {
        double hits = 0, sum = 0, squares = 0, least = 1e9, most = -1e9;
        const auto share = [](const Axis &axis, std::size_t i, double v) {
            if (v <= axis.first()) return i == 0 ? 1.0 : 0.0;
            if (v >= axis.last()) return i + 1 == axis.size() ? 1.0 : 0.0;
            if (i > 0 && v > axis[i - 1] && v <= axis[i]) return (v - axis[i - 1]) / (axis[i] - axis[i - 1]);
            if (i + 1 < axis.size() && v >= axis[i] && v < axis[i + 1])
                return (axis[i + 1] - v) / (axis[i + 1] - axis[i]);
            return 0.0;
        };
        for (const FuelSample &f : s.samples) {
            const double w = share(t.x(), c.cell.x, f.rpm) * share(t.y(), c.cell.y, f.load);
            if (w <= 0) continue;
            hits += w;
            sum += w * f.error;
            squares += w * f.error * f.error;
            least = std::min(least, f.error);
            most = std::max(most, f.error);
        }
        QVERIFY(near(c.hits, hits, 1e-6));
        all += hits;
        if (hits <= 0) {
            QVERIFY(c.state == S::never);
            continue;
        }
        QVERIFY(near(c.error, sum / hits, 1e-9));
        QVERIFY(near(c.sd, std::sqrt(squares / hits - sum / hits * sum / hits), 1e-6));
        QVERIFY(near(c.least, least, 1e-15) && near(c.most, most, 1e-15));
        QVERIFY(c.state == (hits >= 5 ? S::corrected : S::tooFew));
        const double expected = hits >= 5 ? c.now * (1 + std::clamp(0.7 * sum / hits, -0.08, 0.08)) : c.now;
        QVERIFY(near(c.proposed, expected, 1e-9 * c.now));
    }
    QVERIFY(near(all, static_cast<double>(s.samples.size()), 1e-6)); // no sample is lost or counted twice
    // Nearest: whole samples.
    FuelProposalOptions nearest;
    nearest.nearest = true;
    double whole = 0;
    for (const FuelCell &c : proposeFuel(study, s, nearest).cells) {
        QVERIFY(near(c.hits, std::round(c.hits), 1e-9));
        whole += c.hits;
    }
    QCOMPARE(whole, static_cast<double>(s.samples.size()));
}

// Monte Carlo: errors that follow one another within a second, as those of a log do. The ± holds the truth in
// 95 of 100; fewer than 88 or more than 99.5 of 400 would be no 95 %.
void FuelProposalTest::plusMinusCoversTheMean() {
    const Job job = demoJob();
    const Study study(job);
    const Place at = placeIn(job, 8, 8);
    std::mt19937 random(11);
    std::normal_distribution<double> noise(0, 0.01);
    int held = 0;
    constexpr int tries = 400, seconds = 20, perSecond = 20;
    for (int i = 0; i < tries; ++i) {
        FuelSamples s = oneLog();
        for (int second = 0; second < seconds; ++second) {
            const double shared = 2 * noise(random);
            for (int k = 0; k < perSecond; ++k)
                add(s, at.rpm, at.load, 0.10, 0.03 + shared + noise(random), second + k / 20.0);
        }
        const FuelCell c = cellAt(proposeFuel(study, s), at.rpm, at.load);
        held += std::abs(c.error - 0.03) <= c.plusMinus;
    }
    QVERIFY2(held > 0.88 * tries && held < 0.995 * tries, qPrintable(QString::number(held)));
}

void FuelProposalTest::stepsAreDampedAndClamped() {
    Job job = demoJob();
    const Place at = placeIn(job, 8, 8);
    FuelSamples s = oneLog();
    for (int i = 0; i < 10; ++i)
        add(s, at.rpm, at.load, 0.10, 0.05, i);
    const auto stepOf = [&](const FuelProposalOptions &o) {
        const FuelCell c = cellAt(proposeFuel(Study(job), s, o), at.rpm, at.load);
        return c.proposed / c.now - 1;
    };
    QVERIFY(near(stepOf({}), 0.035, 1e-12));
    FuelProposalOptions o;
    o.damping = 1;
    QVERIFY(near(stepOf(o), 0.05, 1e-12));
    o.clamp = 0.02;
    QVERIFY(near(stepOf(o), 0.02, 1e-12));
    for (FuelSample &f : s.samples)
        f.error = -0.05;
    QVERIFY(near(stepOf(o), -0.02, 1e-12));
    o.leastHits = 11;
    QCOMPARE(stepOf(o), 0.0);
    // By the job's own limits.
    job.limits["evidence.damping"] = 0.5;
    job.limits["evidence.clamp"] = 0.01;
    QVERIFY(near(stepOf({}), -0.01, 1e-12));
    job.limits["evidence.least_hits"] = 11;
    QCOMPARE(stepOf({}), 0.0);
}

// Round trip: an engine that needs what the samples say, logged again with the proposal in its tables, has
// the errors that were foretold.
void FuelProposalTest::predictionIsWhatTheNextLogFinds() {
    const Job job = demoJob();
    const Study study(job);
    const FuelSamples s = scattered(7, 0.10);
    const FuelProposal p = proposeFuel(study, s);
    const Study after(withFuel(job, p));
    double before = 0, then = 0;
    for (const FuelSample &f : s.samples) {
        const double needed = study.blended(fuel, 0.10).lookup(f.rpm, f.load).value * (1 + f.error);
        const double given = after.blended(fuel, 0.10).lookup(f.rpm, f.load).value;
        before += f.error * f.error;
        then += (needed / given - 1) * (needed / given - 1);
    }
    const double n = static_cast<double>(s.samples.size());
    QVERIFY(near(p.rmsBefore, std::sqrt(before / n), 1e-12));
    QVERIFY(near(p.rmsPredicted, std::sqrt(then / n), 1e-9));
    QVERIFY(p.rmsPredicted < p.rmsBefore);
    QCOMPARE(p.samples, s.samples.size());
}

void FuelProposalTest::neighboursFollowLess() {
    const Job job = demoJob();
    const Place at = placeIn(job, 8, 8);
    FuelSamples s = oneLog();
    for (int i = 0; i < 10; ++i)
        add(s, at.rpm, at.load, 0.10, 0.04, i);
    FuelProposalOptions o;
    o.neighbours = 2;
    const FuelProposal p = proposeFuel(Study(job), s, o);
    const double full = 0.028;
    for (const FuelCell &c : p.cells) {
        const auto ring =
            std::max(std::abs(static_cast<int>(c.cell.x) - 8), std::abs(static_cast<int>(c.cell.y) - 8));
        const double expected = ring > 2 ? 0 : full * std::pow(0.5, ring);
        QVERIFY(near(c.proposed / c.now - 1, expected, 1e-12));
        QVERIFY(c.state == (ring == 0 ? S::corrected : ring <= 2 ? S::inferred : S::never));
    }
    QCOMPARE(p.count(S::inferred), std::size_t{24});
}

void FuelProposalTest::aRegionMovesAsOne() {
    const Job job = demoJob();
    FuelSamples s = oneLog();
    const Place a = placeIn(job, 8, 8), b = placeIn(job, 9, 8), out = placeIn(job, 12, 8);
    for (int i = 0; i < 30; ++i)
        add(s, a.rpm, a.load, 0.10, 0.02, i);
    for (int i = 0; i < 10; ++i)
        add(s, b.rpm, b.load, 0.10, 0.06, i);
    for (int i = 0; i < 10; ++i)
        add(s, out.rpm, out.load, 0.10, 0.09, i);
    FuelProposalOptions o;
    o.region = FuelRegion{placeIn(job, 7, 0).rpm, placeIn(job, 10, 0).rpm, placeIn(job, 0, 7).load,
                          placeIn(job, 0, 9).load};
    const FuelProposal p = proposeFuel(Study(job), s, o);
    for (const FuelCell &c : p.cells) {
        const bool in = c.cell.x >= 7 && c.cell.x <= 10 && c.cell.y >= 7 && c.cell.y <= 9;
        QVERIFY(near(c.proposed / c.now - 1, in ? 0.7 * 0.03 : 0, 1e-12)); // (30 · 2 + 10 · 6)/40 = 3 %
    }
    QVERIFY(cellAt(p, a.rpm, a.load).state == S::corrected);
    QVERIFY(cellAt(p, placeIn(job, 7, 7).rpm, placeIn(job, 7, 7).load).state == S::inferred);
    QVERIFY(cellAt(p, out.rpm, out.load).state == S::tooFew);
}

void FuelProposalTest::lockedCellsStay() {
    Job job = demoJob();
    const Place at = placeIn(job, 8, 8);
    setLocked(job, "calibration.fuel.base", job.calibration.of(fuel).base, {{8, 8}}, true);
    FuelSamples s = oneLog();
    for (const Place &p : {at, placeIn(job, 9, 8)})
        for (int i = 0; i < 10; ++i)
            add(s, p.rpm, p.load, 0.10, 0.05, i);
    const FuelProposal p = proposeFuel(Study(job), s);
    QVERIFY(cellAt(p, at.rpm, at.load).state == S::locked);
    QCOMPARE(cellAt(p, at.rpm, at.load).proposed, cellAt(p, at.rpm, at.load).now);
    const Job after = withFuel(job, p);
    QCOMPARE(after.calibration.of(fuel).base.cell(8, 8), job.calibration.of(fuel).base.cell(8, 8));
    QVERIFY(after.calibration.of(fuel).base.cell(9, 8) > job.calibration.of(fuel).base.cell(9, 8));
    QCOMPARE(after.calibration.of(fuel).top,
             job.calibration.of(fuel).top); // at its own content the base alone
}

void FuelProposalTest::supplyAtItsEndIsRefused() {
    const Job job = demoJob();
    const Place at = placeIn(job, 8, 8), fine = placeIn(job, 11, 8), rich = placeIn(job, 14, 8);
    FuelSamples s = oneLog();
    for (int i = 0; i < 20; ++i) {
        add(s, at.rpm, at.load, 0.10, 0.05, i, i % 4 == 0);
        add(s, fine.rpm, fine.load, 0.10, 0.05, i, false);
        add(s, rich.rpm, rich.load, 0.10, -0.05, i, i % 4 == 0);
    }
    add(s, fine.rpm, fine.load, 0.10, 0.05, 21, true); // one in 21 is no end
    const FuelProposal p = proposeFuel(Study(job), s);
    QVERIFY(cellAt(p, at.rpm, at.load).state == S::supply);
    QCOMPARE(cellAt(p, at.rpm, at.load).proposed, cellAt(p, at.rpm, at.load).now);
    QCOMPARE(cellAt(p, at.rpm, at.load).atEnd, 5.0);
    QVERIFY(cellAt(p, fine.rpm, fine.load).state == S::corrected);
    // Fuel may be taken away there: that asks nothing of the supply.
    QVERIFY(cellAt(p, rich.rpm, rich.load).proposed < cellAt(p, rich.rpm, rich.load).now);
    // Where all of it was at its end nothing is known, and it says so.
    FuelSamples only = oneLog();
    for (int i = 0; i < 20; ++i) {
        add(only, at.rpm, at.load, 0.10, 0.05, i, true);
        add(only, fine.rpm, fine.load, 0.10, 0.05, i);
    }
    QVERIFY(cellAt(proposeFuel(Study(job), only), at.rpm, at.load).state == S::supply);
}

void FuelProposalTest::contentsMustAgree() {
    const Study study(demoJob());
    FuelSamples s = scattered(1, 0.10, 200);
    for (std::size_t i = 0; i < 100; ++i)
        s.samples[i].content = 0.60;
    EXPECT_INPUT_ERROR(proposeFuel(study, s));
    FuelProposalOptions o;
    o.content = 0.58;
    const FuelProposal p = proposeFuel(study, s, o);
    QCOMPARE(p.samples, std::size_t{100}); // within 5 % of it
    QCOMPARE(p.content, 0.58);
    o.content = 0.30;
    EXPECT_INPUT_ERROR(proposeFuel(study, s, o));
    EXPECT_INPUT_ERROR(proposeFuel(study, oneLog()));
}

// Of a pulse the injector's dead time is no fuel.
void FuelProposalTest::deadTimeStaysOut() {
    const Job job = changeFuelMeaning(demoJob(), FuelMeaning::pulseWidth).job;
    const Study study(job);
    const Place at = placeIn(job, 8, 8);
    FuelSamples s = oneLog();
    for (int i = 0; i < 10; ++i)
        add(s, at.rpm, at.load, 0.10, 0.05, i);
    FuelProposalOptions o;
    o.damping = 1;
    const FuelProposal p = proposeFuel(study, s, o);
    const FuelCell c = cellAt(p, at.rpm, at.load);
    const double lambda = study.blended(CalibratedQuantity::lambda, 0.10).lookup(at.rpm, at.load).value;
    const InjectorDemand demand(job, 0.10, job.conditions.intakeUsualC);
    const double was = demand.mm3(c.now, {at.rpm, at.load}, lambda),
                 is = demand.mm3(c.proposed, {at.rpm, at.load}, lambda);
    QVERIFY(near(is / was, 1.05, 1e-9));
    QVERIFY(c.proposed / c.now < 1.049); // less of the pulse than of the fuel
}

void FuelProposalTest::everyStateHasAName() {
    std::set<std::string_view> keys;
    for (const FuelCellStateDefinition &d : allFuelCellStates()) {
        QVERIFY(&definitionOf(d.state) == &d);
        QVERIFY(!d.title.empty());
        QVERIFY(keys.insert(d.key).second);
    }
}

namespace {

constexpr const char *holds = R"({"start": "warm", "ethanol": 0.10, "steps": [
    {"do": "idle", "seconds": 8},
    {"do": "hold", "rpm": 2500, "load_kpa": 70, "seconds": 12},
    {"do": "hold", "rpm": 3500, "load_kpa": 85, "seconds": 12},
    {"do": "hold", "rpm": 3000, "load_kpa": 60, "seconds": 12}]})";

// The engine that the job describes, but that its air is so much more.
HiddenEngine needing(const Job &job, double share) {
    HiddenEngine e = engineAsTheJobSays(Study(job));
    for (std::size_t y = 0; y < e.ve.y().size(); ++y)
        for (std::size_t x = 0; x < e.ve.x().size(); ++x)
            e.ve.setCell({x, y}, e.ve.cell(x, y) * share);
    return e;
}

} // namespace

// Two engines that differ by 5 % of air: so much more is what the second one's cells are corrected by.
void FuelProposalTest::anEngineThatNeedsMoreGetsIt() {
    const Job job = demoJob();
    const Study study(job);
    std::array<FuelProposal, 2> p;
    for (const bool more : {false, true}) {
        const PracticeLog log(job, needing(job, more ? 1.05 : 1), holds);
        const Job with = log.in(job, "aa");
        const std::vector<std::shared_ptr<const LogReview>> reviews{log.review(with, "aa")};
        const FuelSamples samples = fuelSamples(study, reviews);
        QVERIFY(samples.logs[0].used && samples.logs[0].current && !samples.logs[0].trims);
        QVERIFY(samples.logs[0].samples > 1000);
        p[more] = proposeFuel(study, samples);
    }
    int compared = 0;
    for (std::size_t i = 0; i < p[0].cells.size(); ++i) {
        if (p[0].cells[i].state != S::corrected || p[1].cells[i].hits < 50) continue;
        QVERIFY(near((1 + p[1].cells[i].error) / (1 + p[0].cells[i].error), 1.05, 0.006));
        ++compared;
    }
    QVERIFY(compared >= 8);
}

void FuelProposalTest::logsThatSayNothingAreLeftOut() {
    Job job = demoJob();
    const PracticeLog log(job, engineAsTheJobSays(Study(job)), holds);
    const auto whyOf = [&](auto change) {
        Job with = log.in(job, "aa");
        change(with);
        const std::vector<std::shared_ptr<const LogReview>> reviews{log.review(with, "aa")};
        const FuelSamples s = fuelSamples(Study(with), reviews);
        if (s.logs[0].used) return std::string();
        QTest::qCompare(s.samples.size(), std::size_t{0}, "samples", "0", __FILE__, __LINE__);
        return std::string(s.logs[0].why.id);
    };
    const auto without = [](ChannelRole role) {
        return [role](Job &j) {
            for (std::size_t i = 0; i < j.logChannels.size(); ++i)
                if (j.logChannels[i].role == role) j.logChannels[i].role = ChannelRole::none;
        };
    };
    QCOMPARE(whyOf([](Job &) {}), std::string());
    QCOMPARE(whyOf(without(ChannelRole::lambda)), std::string("fuel_samples.no_lambda"));
    QCOMPARE(whyOf(without(ChannelRole::map)), std::string("fuel_samples.no_map"));
    QCOMPARE(whyOf([&](Job &j) {
                 without(ChannelRole::ethanol)(j);
                 unstateContent(j, "aa");
             }),
             std::string("fuel_samples.no_content"));
    QCOMPARE(whyOf([](Job &j) {
                 j.calibration.of(fuel).base.setCell({3, 3}, 50);
                 j.revisions = {};
                 j.logs[0].revision = "";
             }),
             std::string("fuel_samples.no_tables"));
}

// A log of tables that have been changed since says what today's tables lack.
void FuelProposalTest::anotherCalibrationCountsThroughItsTables() {
    const Job job = demoJob();
    const PracticeLog log(job, engineAsTheJobSays(Study(job)), holds);
    const Job with = log.in(job, "aa");
    Job changed = with;
    for (Table2D *t : {&changed.calibration.of(fuel).base, &changed.calibration.of(fuel).top})
        for (std::size_t y = 0; y < t->y().size(); ++y)
            for (std::size_t x = 0; x < t->x().size(); ++x)
                t->setCell({x, y}, t->cell(x, y) * 1.04);
    const std::vector<std::shared_ptr<const LogReview>> then{log.review(with, "aa")},
        now{log.review(changed, "aa")};
    const FuelSamples a = fuelSamples(Study(with), then), b = fuelSamples(Study(changed), now);
    QVERIFY(a.logs[0].current && !b.logs[0].current);
    QVERIFY(!a.samples.empty());
    QCOMPARE(a.samples.size(), b.samples.size());
    for (std::size_t i = 0; i < a.samples.size(); i += 97)
        QVERIFY(near((1 + a.samples[i].error) / (1 + b.samples[i].error), 1.04, 1e-9));
}

// What a closed loop adds is need as well.
void FuelProposalTest::trimsCount() {
    const Job job = demoJob();
    const PracticeLog log(job, engineAsTheJobSays(Study(job)), holds);
    Job with = log.in(job, "aa");
    const std::vector<std::shared_ptr<const LogReview>> plain{log.review(with, "aa")};
    // The share of the battery's voltage stands in for a trim of 13.9 V: 6.95 %.
    double volts = 0;
    for (std::size_t i = 0; i < with.logChannels.size(); ++i)
        if (with.logChannels[i].role == ChannelRole::battery) {
            with.logChannels[i].role = ChannelRole::fuelTrim;
            with.logChannels[i].scale = 0.005;
            volts = log.samples()[200].batteryV;
        }
    const std::vector<std::shared_ptr<const LogReview>> trimmed{log.review(with, "aa")};
    FuelSampleOptions still;
    still.delayMs = 0;
    const FuelSamples a = fuelSamples(Study(with), plain, still),
                      b = fuelSamples(Study(with), trimmed, still);
    QVERIFY(b.logs[0].trims && !a.logs[0].trims);
    QVERIFY(b.logs[0].delay == DelayBy::stated);
    QCOMPARE(a.samples.size(), b.samples.size());
    QVERIFY(volts > 12 && !a.samples.empty());
    for (std::size_t i = 0; i < a.samples.size(); i += 101) {
        const double trim = (1 + b.samples[i].error) / (1 + a.samples[i].error) - 1;
        QVERIFY(trim > 0.06 && trim < 0.075);
    }
}

CORE_TEST_MAIN(FuelProposalTest)
#include "fuel_proposal_test.moc"
