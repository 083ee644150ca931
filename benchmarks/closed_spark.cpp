// SPDX-License-Identifier: GPL-3.0-or-later
// What the search for spark is worth on engines whose knock limit is known: hidden ones, drawn from seeds.
// On the road, content by content, until nothing more is proposed: a few logs by steps, then by what they
// have taught (with STEPS in the environment by steps alone). Then what all of those logs teach of
// ceilings, at contents that were logged and between them, against the truth.
#include "closed_engines.h"
#include "core/proposal/knock_proposal.h"
#include "core/proposal/learned_ceilings.h"

using namespace wheelwright;
using namespace wheelwright::closed;

namespace {

struct Score {
    double count = 0, inside = 0, over = 0, sum = 0, square = 0, worst = 0;
    void add(double error, double within) {
        ++count;
        inside += std::abs(error) <= within;
        over += error > within;
        sum += error;
        square += error * error;
        if (std::abs(error) > std::abs(worst)) worst = error;
    }
    void add(const Score &o) {
        count += o.count;
        inside += o.inside;
        over += o.over;
        sum += o.sum;
        square += o.square;
        if (std::abs(o.worst) > std::abs(worst)) worst = o.worst;
    }
    double mean() const { return count > 0 ? sum / count : 0; }
    double rms() const { return count > 0 ? std::sqrt(square / count) : 0; }
};

constexpr double steadyDeg = 0.75;

} // namespace

int main(int argc, char **argv) {
    const int seeds = argc > 1 ? std::atoi(argv[1]) : 20;
    const bool dump = std::getenv("DUMP"), aim = !std::getenv("STEPS");
    const Job start = demoWithSpark(-5);
    int destroyed = 0;
    Score spark, steady, distant, clean, bands, guesses, sameAir;
    double sigma = 0;
    for (int seed = argc > 2 ? std::atoi(argv[2]) : 1; seed <= seeds; ++seed) {
        const HiddenEngine engine = drawEngine(Study(start), static_cast<std::uint64_t>(seed));
        Job job = start;
        std::vector<std::shared_ptr<const LogReview>> all;
        std::map<double, TrueAir> airs;
        std::printf("seed %2d:", seed);
        for (const double content : {0.10, 0.60, 0.85}) {
            std::string dead;
            int rounds = 0;
            TrueAir air(start.calibration.of(CalibratedQuantity::spark).base);
            KnockProposal last;
            for (int round = 1; round <= 30 && dead.empty(); ++round) {
                const PracticeLog log(job, engine, pullsAt(content), 2);
                dead = log.result().destroyedBy;
                const std::string id = "a" + std::to_string(all.size()) + "_" + std::to_string(round);
                Job with = log.in(job, id);
                stateContent(with, id, content); // by a tube
                const std::vector<std::shared_ptr<const LogReview>> reviews{log.review(with, id)};
                const Study study(job);
                if (round <= 3) { // fuel first, spark far from knock
                    job = withFuel(job, proposeFuel(study, fuelSamples(study, reviews), {}));
                    continue;
                }
                all.push_back(reviews.front());
                KnockOptions options;
                LearnedCeilings learned;
                if (round > 8 && aim) {
                    learned = learnCeilings(study, all);
                    options.learned = &learned;
                }
                last = proposeSpark(study, reviews, options);
                air = TrueAir(start.calibration.of(CalibratedQuantity::spark).base);
                air.add(log);
                job = withSpark(job, last, "2026-05-10T12:00:00Z");
                rounds = round;
                const bool found = std::ranges::all_of(last.cells, [](const KnockCell &c) {
                    return c.search.phase == SearchPhase::done || c.hits < 25;
                });
                if (found && round > 6) break;
            }
            destroyed += !dead.empty();
            Score here, judged;
            const Study study(job);
            const KnockSurface surface = knockSurface(study, content, 80);
            for (const KnockCell &c : last.cells) {
                // At best spark, and it never knocked: that is another mark.
                if (c.hits < 25 || c.search.knockedDeg == 0 || !air.knows(c.rpm, c.loadKpa)) continue;
                const double limit =
                    hiddenKnockLimit(study, engine, {content, c.rpm, c.loadKpa}, air.lambda(c.rpm, c.loadKpa),
                                     air.intakeC(c.rpm, c.loadKpa));
                // Found, or clean in the last log though it has not been often enough.
                if (c.search.phase == SearchPhase::done) {
                    const double found = c.proposedDeg + c.offsetDeg;
                    here.add(found - (limit - 1), 1.5);
                    // By how much cycles knock earlier and later: a spark at which every pull stays clean
                    // lies two of them under the limit, and where one is small, a degree.
                    const double scatter =
                        engine.cycleScatter * surface.perLogDeg.lookup(c.rpm, c.loadKpa).value;
                    if (scatter <= steadyDeg) steady.add(found - (limit - 1), 1.5);
                    distant.add(found - (limit - std::max(1.0, 2 * scatter)), 1.5);
                } else if (c.knocks > 0 || c.transientKnocks > 0)
                    continue;
                judged.add(c.proposedDeg + c.offsetDeg - (limit - 1), 1.5);
                if (dump)
                    std::printf("\n   %5.0f rpm %4.0f kPa spark %.1f limit %.1f knocked %.1f clean %.1f hits "
                                "%.0f steps %.0f retard %.1f  %s",
                                c.rpm, c.loadKpa, c.proposedDeg, limit, c.search.knockedDeg,
                                c.search.cleanDeg, c.hits, c.search.steps, c.retardDeg,
                                std::string(c.next.text).c_str());
            }
            std::printf("  E%.0f rounds %d done %.0f/%zu within 1.5: %.0f mean %+.1f worst %+.1f, of clean "
                        "%.0f: %.0f mean %+.1f%s%s",
                        content * 100, rounds, here.count, last.cells.size(), here.inside, here.mean(),
                        here.worst, judged.count, judged.inside, judged.mean(),
                        dead.empty() ? "" : " destroyed by ", dead.c_str());
            std::fflush(stdout);
            spark.add(here);
            clean.add(judged);
            airs.emplace(content, air);
        }
        const Study study(job);
        LearnedCeilings learned = learnCeilings(study, all);
        Score here, sameAirHere;
        for (const double content : {0.10, 0.30, 0.45, 0.60, 0.72, 0.85}) {
            const TrueAir &air = content < 0.35  ? airs.at(0.10)
                                 : content < 0.8 ? airs.at(0.60)
                                                 : airs.at(0.85);
            const KnockSurface model = knockSurface(study, content, 80);
            for (const LearnedCeiling &c : learned.at(content)) {
                if (!c.known || !air.knows(c.rpm, c.loadKpa)) continue;
                // In the air that the sensor, which is slow, takes for the usual one.
                const double limit =
                    hiddenKnockLimit(study, engine, {content, c.rpm, c.loadKpa}, air.lambda(c.rpm, c.loadKpa),
                                     start.conditions.intakeUsualC + air.overSensorK(c.rpm, c.loadKpa));
                const double inLogs =
                    hiddenKnockLimit(study, engine, {content, c.rpm, c.loadKpa}, air.lambda(c.rpm, c.loadKpa),
                                     air.intakeC(c.rpm, c.loadKpa));
                for (const LearnedCeiling &d :
                     learned.at(content, air.intakeC(c.rpm, c.loadKpa) - air.overSensorK(c.rpm, c.loadKpa)))
                    if (d.rpm == c.rpm && d.loadKpa == c.loadKpa)
                        sameAirHere.add(d.deg - inLogs, 1.96 * d.sigmaDeg);
                const double guess = model.limitDeg.lookup(c.rpm, c.loadKpa).value;
                here.add(c.deg - limit, 1.96 * c.sigmaDeg);
                guesses.add(guess - limit, 8);
                sigma += c.sigmaDeg;
                if (dump)
                    std::printf("\n   E%.0f %5.0f rpm %4.0f kPa %5.1f +- %.1f true %5.1f model %5.1f %d/%.0f",
                                content * 100, c.rpm, c.loadKpa, c.deg, c.sigmaDeg, limit, guess, c.knocked,
                                c.clean);
            }
        }
        std::printf(
            "\n   ceilings of %zu logs: %.0f cells, %.1f %% held, mean %+.2f rms %.2f worst %+.1f; scale "
            "%+.2f octane %+.2f air %+.2f scatter %.2f doubts %zu; in the air of the logs %.1f %% held, mean "
            "%+.2f rms %.2f\n",
            all.size(), here.count, 100 * here.inside / here.count, here.mean(), here.rms(), here.worst,
            learned.fit().scale().value, learned.fit().octane().value, learned.fit().temperature().value,
            learned.fit().scatter(), learned.doubts().size(), 100 * sameAirHere.inside / sameAirHere.count,
            sameAirHere.mean(), sameAirHere.rms());
        for (const FuelDoubt &d : learned.doubts())
            if (dump)
                std::printf("   doubt E%.0f %+.2f +- %.2f\n", 100 * d.content, d.off.value,
                            d.off.standardError);
        bands.add(here);
        sameAir.add(sameAirHere);
        std::fflush(stdout);
    }
    std::printf(
        "spark: destroyed %d; of %.0f cells found %.0f within 1.5 deg of the hidden limit less 1 deg, "
        "%.0f over it; mean %+.2f\n",
        destroyed, spark.count, spark.inside, spark.over, spark.mean());
    std::printf(
        "of %.0f where cycles scatter by %.2f deg at the most: %.0f, mean %+.2f; of all %.0f within 1.5 deg "
        "of the limit less two scatters, 1 deg at least: mean %+.2f\n",
        steady.count, steadyDeg, steady.inside, steady.mean(), distant.inside, distant.mean());
    std::printf(
        "ceilings: of %.0f cells the 95 %% band holds the hidden limit in %.1f %%; mean %+.2f rms %.2f "
        "deg, mean sigma %.2f; the model alone: mean %+.2f rms %.2f\n",
        bands.count, 100 * bands.inside / bands.count, bands.mean(), bands.rms(), sigma / bands.count,
        guesses.mean(), guesses.rms());
    return 0;
}
