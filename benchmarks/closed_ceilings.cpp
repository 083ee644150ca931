// SPDX-License-Identifier: GPL-3.0-or-later
// Whether learned ceilings hold what they say: hidden engines, drawn from seeds, logged at some contents with
// spark that now and then knocks; then the true limit of every known cell against its band, at contents that
// were logged and between them.
#include "closed_engines.h"
#include "core/proposal/learned_ceilings.h"

using namespace wheelwright;
using namespace wheelwright::closed;

int main(int argc, char **argv) {
    const int seeds = argc > 1 ? std::atoi(argv[1]) : 20;
    const Job start = demoWithSpark(-8);
    double cells = 0, held = 0, known = 0, all = 0, square = 0, sigma = 0, guessSquare = 0;
    for (int seed = argc > 2 ? std::atoi(argv[2]) : 1; seed <= seeds; ++seed) {
        const HiddenEngine engine = drawEngine(Study(start), static_cast<std::uint64_t>(seed));
        Job job = start;
        std::vector<std::shared_ptr<const LogReview>> reviews;
        std::vector<std::unique_ptr<PracticeLog>> logs;
        TrueAir air(start.calibration.of(CalibratedQuantity::spark).base);
        int knocks = 0;
        std::string dead;
        for (const double content : {0.10, 0.35, 0.60}) {
            for (int round = 0; round < 3; ++round) { // fuel first
                const PracticeLog log(job, engine, pullsAt(content), 2);
                const Job with = log.in(job, "f");
                const std::vector<std::shared_ptr<const LogReview>> one{log.review(with, "f")};
                const Study study(job);
                job = withFuel(job, proposeFuel(study, fuelSamples(study, one), {}));
            }
        }
        for (const double content : {0.10, 0.35, 0.60}) {
            // As a search goes: from low spark up until it knocks, in steps of 2°.
            for (int step = 0; step < 8 && dead.empty(); ++step) {
                Job tried = withSparkMoved(job, 2 * step);
                logs.push_back(std::make_unique<PracticeLog>(tried, engine, pullsAt(content), 2));
                const std::string id = "c" + std::to_string(reviews.size());
                const Job with = logs.back()->in(tried, id);
                reviews.push_back(logs.back()->review(with, id));
                dead = logs.back()->result().destroyedBy;
                air.add(*logs.back());
                int now = 0;
                for (std::size_t i = 1; i < logs.back()->samples().size(); ++i)
                    now += logs.back()->samples()[i].knockRetardDeg >
                           logs.back()->samples()[i - 1].knockRetardDeg + 0.25;
                knocks += now;
                if (now > 12) break;
            }
        }
        const Study study(job);
        LearnedCeilings learned = learnCeilings(study, reviews);
        double inBand = 0, count = 0, off = 0, mean = 0, wide = 0;
        for (const double content : {0.10, 0.22, 0.35, 0.48, 0.60, 0.75}) {
            const KnockSurface model = knockSurface(study, content, 80);
            const std::vector<LearnedCeiling> at = learned.at(content);
            const std::vector<ReachAtSpeed> reach = study.reach(content, model.limitDeg.x().points());
            for (std::size_t i = 0; i < at.size(); ++i) {
                const LearnedCeiling &c = at[i];
                if (!reach[i % reach.size()].reaches(c.loadKpa)) continue;
                ++all;
                if (!c.known) continue;
                if (!air.knows(c.rpm, c.loadKpa)) continue;
                ++known;
                const double limit =
                    hiddenKnockLimit(study, engine, {content, c.rpm, c.loadKpa}, air.lambda(c.rpm, c.loadKpa),
                                     start.conditions.intakeUsualC);
                const double error = c.deg - limit;
                inBand += std::abs(error) <= 1.96 * c.sigmaDeg;
                ++count;
                off += error * error;
                mean += error;
                wide += c.sigmaDeg;
                const double guess = model.limitDeg.lookup(c.rpm, c.loadKpa).value - limit;
                guessSquare += guess * guess;
                if (std::getenv("DUMP"))
                    std::printf("   E%.0f %5.0f rpm %4.0f kPa %5.1f +- %.1f true %5.1f model %5.1f %d/%.0f\n",
                                content * 100, c.rpm, c.loadKpa, c.deg, c.sigmaDeg, limit,
                                model.limitDeg.lookup(c.rpm, c.loadKpa).value, c.knocked, c.clean);
            }
        }
        std::printf("seed %2d: %zu logs, %3d knocks, %4.0f cells, %5.1f %% held, mean %+.2f rms %.2f sigma "
                    "%.2f; scale %+.2f octane %+.2f air %+.2f scatter %.2f doubts %zu%s%s\n",
                    seed, reviews.size(), knocks, count, 100 * inBand / count, mean / count,
                    std::sqrt(off / count), wide / count, learned.fit().scale().value,
                    learned.fit().octane().value, learned.fit().temperature().value,
                    learned.fit().scatterDeg(), learned.doubts().size(), dead.empty() ? "" : " destroyed by ",
                    dead.c_str());
        std::fflush(stdout);
        cells += count;
        held += inBand;
        square += off;
        sigma += wide;
    }
    std::printf(
        "all: of %.0f cells (%.0f %% of those in reach) the band holds the hidden limit in %.1f %%; rms "
        "%.2f deg, mean sigma %.2f; the model alone rms %.2f\n",
        cells, 100 * known / all, 100 * held / cells, std::sqrt(square / cells), sigma / cells,
        std::sqrt(guessSquare / cells));
    return 0;
}
