// SPDX-License-Identifier: GPL-3.0-or-later
// What the proposals are worth on engines whose truth is known: hidden ones, drawn from seeds. Three rounds
// of logs and corrections, all contents together, against one content after the other.
#include "closed_engines.h"
#include "core/proposal/joint_fuel.h"
#include "core/study/blend_edit.h"
#include "core/study/cell_trust.h"

using namespace wheelwright;
using namespace wheelwright::closed;

namespace {

std::string day(double content) {
    std::string steps = R"({"do": "idle", "seconds": 5})";
    const auto add = [&](const std::string &s) { steps += ", " + s; };
    for (int rpm = 1500; rpm <= 6500; rpm += 1000)
        for (int load = 40; load <= 100; load += 30)
            add(R"({"do": "hold", "rpm": )" + std::to_string(rpm) + R"(, "load_kpa": )" +
                std::to_string(load) + R"(, "seconds": 3})");
    for (int throttle : {100, 60})
        add(R"({"do": "pull", "mode": "loaded", "from_rpm": 2200, "to_rpm": 6700, "throttle_percent": )" +
            std::to_string(throttle) + "}");
    add(R"({"do": "cruise", "from_rpm": 1800, "to_rpm": 4500, "from_kpa": 35, "to_kpa": 110, "seconds": 30})");
    return R"({"start": "warm", "ethanol": )" + std::to_string(content) + R"(, "steps": [)" + steps + "]}";
}

struct Misfit {
    double mean = 0, worst = 0;
    int cells = 0;
};

// True error of λ by cell, where clean samples are and the logs of the last round have been.
Misfit misfitAt(const Job &job, const HiddenEngine &engine, double content, const std::vector<bool> &proven) {
    const PracticeLog log(job, engine, day(content), 2);
    const Job with = log.in(job, "ee");
    const auto review = log.review(with, "ee");
    const Table2D &t = job.calibration.of(CalibratedQuantity::fuel).base;
    std::map<std::size_t, std::pair<double, int>> cells;
    for (std::size_t i = 0; i < log.samples().size(); ++i) {
        if (!review->cleaned().kept[i]) continue;
        const PracticeSample &s = log.samples()[i];
        const std::size_t cell = t.y().nearest(s.mapKpa) * t.x().size() + t.x().nearest(s.rpm);
        if (!proven[cell]) continue;
        cells[cell].first += log.truth()[i].lambda / s.lambdaTarget - 1;
        ++cells[cell].second;
    }
    Misfit m;
    for (const auto &[cell, sum] : cells) {
        if (sum.second < 25) continue; // half a second
        const double error = std::abs(sum.first / sum.second);
        m.mean += error;
        m.worst = std::max(m.worst, error);
        ++m.cells;
    }
    if (m.cells > 0) m.mean /= m.cells;
    return m;
}

constexpr std::array logged{0.10, 0.35, 0.60, 0.78};
constexpr std::array between{0.10, 0.20, 0.35, 0.48, 0.60, 0.70, 0.78, 0.85};

} // namespace

int main(int argc, char **argv) {
    const int seeds = argc > 1 ? std::atoi(argv[1]) : 20;
    const Job start = demoWithSpark(-8); // no fuel minds it: this is about fuel
    double sumJoint = 0, sumOne = 0, sumSame = 0, worstJoint = 0;
    int count = 0;
    for (int seed = argc > 2 ? std::atoi(argv[2]) : 1; seed <= seeds; ++seed) {
        const HiddenEngine engine = drawEngine(Study(start), static_cast<std::uint64_t>(seed));
        Job joint = start, one = start, same = start;
        std::vector<bool> proven;
        for (int round = 1; round <= 3; ++round) {
            std::vector<std::shared_ptr<const LogReview>> reviews;
            Job with = joint;
            std::vector<PracticeLog> logs;
            for (std::size_t i = 0; i < logged.size(); ++i) {
                logs.emplace_back(joint, engine, day(logged[i]), 4);
                with = logs.back().in(with, "a" + std::to_string(i));
            }
            for (std::size_t i = 0; i < logs.size(); ++i)
                reviews.push_back(logs[i].review(with, "a" + std::to_string(i)));
            const Study study(joint);
            const FuelSamples samples = fuelSamples(study, reviews);
            const JointFuel found = solveJointFuel(study, samples);
            const JointApplied applied = withJointFuel(joint, found);
            std::printf("  seed %d round %d: rms %.4f -> %.4f, left out %.4f, sigma %.4f rho %.3f, smooth %g "
                        "curve %g "
                        "ridge %g cridge %g, changed %zu not separable %zu, outliers %.3f\n",
                        seed, round, found.rmsBefore, found.rmsAfter, found.leftOutRms.value_or(0),
                        found.sigma, found.correlation, found.prior.smooth, found.prior.curveSmooth,
                        found.prior.ridge, found.prior.curveRidge, applied.changed,
                        found.count(JointKnown::notSeparable), found.outliers);
            const Table2D &t = joint.calibration.of(CalibratedQuantity::fuel).base;
            proven.assign(t.cells().size(), true);
            for (const auto &r : reviews) {
                std::vector<double> hits(t.cells().size());
                for (std::size_t i = 0; i < r->trace().size(); ++i)
                    if (r->cleaned().kept[i])
                        ++hits[t.y().nearest(r->trace().at(ChannelRole::map, i)) * t.x().size() +
                               t.x().nearest(r->trace().at(ChannelRole::rpm, i))];
                for (std::size_t i = 0; i < hits.size(); ++i)
                    proven[i] = proven[i] && hits[i] >= 5;
            }
            joint = applied.job;
            // The same four logs for all corrections of a round, as joint has them; beside it a patient tuner
            // who logs again after each.
            const Job atRoundStart = same;
            for (const double content : logged) {
                const PracticeLog log(atRoundStart, engine, day(content), 4);
                const Job loggedJob = log.in(atRoundStart, "c");
                const std::vector<std::shared_ptr<const LogReview>> single{log.review(loggedJob, "c")};
                const Study then(atRoundStart), now(same);
                const FuelProposal p = proposeFuel(then, fuelSamples(then, single), {});
                Table2D wanted = now.blended(CalibratedQuantity::fuel, p.content);
                for (const FuelCell &c : p.cells)
                    if (c.proposed != c.now) wanted.setCell(c.cell, wanted.cell(c.cell) * c.proposed / c.now);
                setBlend(same, CalibratedQuantity::fuel, p.content, wanted);
            }
            for (const double content : logged) {
                const PracticeLog log(one, engine, day(content), 4);
                const Job loggedJob = log.in(one, "b");
                const std::vector<std::shared_ptr<const LogReview>> single{log.review(loggedJob, "b")};
                const Study now(one);
                one = withFuel(one, proposeFuel(now, fuelSamples(now, single), {}));
            }
        }
        double j = 0, o = 0, sameLogs = 0;
        std::printf("seed %2d:", seed);
        for (const double content : between) {
            const Misfit mj = misfitAt(joint, engine, content, proven),
                         mo = misfitAt(one, engine, content, proven);
            const Misfit ms = misfitAt(same, engine, content, proven);
            std::printf("  E%.0f %.2f|%.2f|%.2f (%d)", content * 100, mj.mean * 100, ms.mean * 100,
                        mo.mean * 100, mj.cells);
            sameLogs += ms.mean / between.size();
            j += mj.mean / between.size();
            o += mo.mean / between.size();
            worstJoint = std::max(worstJoint, mj.mean);
        }
        std::printf("  mean %.2f|%.2f|%.2f %%\n", j * 100, sameLogs * 100, o * 100);
        std::fflush(stdout);
        sumJoint += j;
        sumOne += o;
        sumSame += sameLogs;
        ++count;
    }
    std::printf(
        "all: together %.3f %%, one content at a time from the same logs %.3f %%, logging again after each "
        "%.3f %%; worst content of a seed, together: %.2f %%\n",
        sumJoint / count * 100, sumSame / count * 100, sumOne / count * 100, worstJoint * 100);
    return 0;
}
