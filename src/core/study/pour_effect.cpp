// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/pour_effect.h"

#include "core/job/tank_history.h"
#include "core/study/content_tables.h"
#include "core/study/two_table_school.h"

#include <algorithm>
#include <cmath>

namespace wheelwright {
namespace {

constexpr double littleSpark = 0.5;  // °, of no account either way: common practice
constexpr double powerAreaKpa = 100; // spark matters from here up: common practice

// The breakpoint under boost, reachable at the old content, where the old spark is most over the new
// content's; where it is nowhere over, the largest step.
void findPlace(const Study &study, PourEffect &e) {
    const Table2D tuned = study.blended(CalibratedQuantity::spark, e.before);
    const Table2D low = study.blended(CalibratedQuantity::spark, e.content);
    const std::vector<ReachAtSpeed> reach = study.reach(e.before, tuned.x().points());
    // Levels of content may have axes of their own.
    const auto meant = [&](std::size_t x, std::size_t y) {
        return low.lookup(tuned.x()[x], tuned.y()[y]).value;
    };
    constexpr double firstTheRisk = 1000;
    double most = -1;
    for (std::size_t x = 0; x < tuned.x().size(); ++x)
        for (std::size_t y = 0; y < tuned.y().size(); ++y) {
            const double rpm = tuned.x()[x], load = tuned.y()[y];
            const double over = tuned.cell(x, y) - meant(x, y);
            const bool judged = load >= powerAreaKpa && reach[x].reaches(load);
            const double weight = over > littleSpark ? firstTheRisk + over : std::abs(over);
            if (!judged || weight < most || (weight == most && load <= e.loadKpa)) continue;
            most = weight;
            e.rpm = rpm;
            e.loadKpa = load;
            e.sparkDeg = tuned.cell(x, y);
            e.sparkOfContentDeg = meant(x, y);
        }
}

} // namespace

PourEffect effectOfPour(const Study &study, const TankState &tank, double litres, const Blend &fuel,
                        const std::string &hydrocarbon) {
    return effectBetween(study, tank, afterPour(tank, litres, fuel, hydrocarbon));
}

PourEffect effectBetween(const Study &study, const TankState &tank, const TankState &after) {
    const Job &job = study.job();
    PourEffect e;
    e.after = after;
    e.before = alcoholOf(tank.content);
    e.content = alcoholOf(e.after.content);
    // The controller delivers the old content's volume: λ grows with what the new fuel needs more.
    e.lambdaFactor = volumeMultiplier(propertiesOf(job, e.after), propertiesOf(job, tank));
    findPlace(study.inPressure(), e);
    const BlendedPoint there = blendedPoint(study, {e.before, e.rpm, e.loadKpa});
    e.lambdaTarget = there.lambda;
    e.lambda = there.lambda * e.lambdaFactor;
    const ContentTables ceilings(job, TableKind::sparkCeiling);
    if (!ceilings.empty() && e.content >= ceilings.lowest())
        e.ceilingDeg = ceilings.at({e.content, e.rpm, e.loadKpa});
    e.follows = followsSensor(job);
    if (!e.follows) return e;
    // It tells gasoline from alcohol, not one alcohol from the other.
    e.reading = std::clamp(e.content, 0.0, 1.0);
    const BlendedPoint settled = blendedPoint(study, {e.reading, e.rpm, e.loadKpa});
    e.settledLambdaTarget = settled.lambda;
    e.settledSparkDeg = settled.sparkDeg;
    e.settledLambda = settled.lambda * volumeMultiplier(propertiesOf(job, e.after),
                                                        study.blends().properties(blendAt(job, e.reading)));
    return e;
}

std::vector<Phrase> inWords(const PourEffect &e, bool methanolInstead) {
    using D = Dimension;
    const double step = e.lambdaFactor - 1;
    const Measured lambda{e.lambda, D::mixture}, meant{e.lambdaTarget, D::mixture};
    const Measured rpm{e.rpm, D::engineSpeed}, load{e.loadKpa, D::pressure}, off{std::abs(step), D::ratio};
    std::vector<Phrase> words;
    if (e.follows) words.emplace_back(MARKED("pour.effect.until", "Until the content sensor has read it:"));
    constexpr double unnoticed = 0.005;
    if (std::abs(step) < unnoticed)
        words.push_back(Phrase(
            MARKED("pour.effect.same", "The mixture stays as it was: {0} where {1} was meant, at {2}, {3}."),
            {lambda, meant, rpm, load}));
    else if (step > 0)
        words.push_back(
            Phrase(MARKED("pour.effect.lean", "Lean by {0}: {1} where {2} was meant, at {3}, {4}."),
                   {off, lambda, meant, rpm, load}));
    else
        words.push_back(
            Phrase(MARKED("pour.effect.rich", "Rich by {0}: {1} where {2} was meant, at {3}, {4}."),
                   {off, lambda, meant, rpm, load}));
    const double over = e.sparkDeg - e.sparkOfContentDeg;
    if (over > littleSpark)
        words.push_back(
            Phrase(MARKED("pour.effect.knock",
                          "Spark stands {0} over what the tables say for {1}: knock. Do not load the "
                          "engine on this fuel without changing the calibration."),
                   {{over, D::sparkAngle}, {e.content, D::content}}));
    else if (over < -littleSpark)
        words.push_back(
            Phrase(MARKED("pour.effect.spare",
                          "Spark stands {0} under what this fuel would take: no danger, power left "
                          "behind."),
                   {{-over, D::sparkAngle}}));
    else
        words.push_back(Phrase(MARKED("pour.effect.right", "Spark is about right.")));
    constexpr double lean = 0.03; // common practice: the tolerance of a content window
    if (step > lean)
        words.push_back(
            Phrase(MARKED("pour.effect.stay_off",
                          "Lean mixture under boost destroys engines: stay off the throttle until the "
                          "fuel is in the tables.")));
    if (e.ceilingDeg && e.sparkDeg > *e.ceilingDeg)
        words.push_back(
            Phrase(MARKED("pour.effect.ceiling", "Spark stands {0} over what {1} was found to stand there."),
                   {{e.sparkDeg - *e.ceilingDeg, D::sparkAngle}, {e.content, D::content}}));
    if (e.follows) {
        const double after = e.settledFactor() - 1;
        const std::vector<Measured> numbers{{e.reading, D::content},
                                            {e.settledLambda, D::mixture},
                                            {e.settledLambdaTarget, D::mixture},
                                            {e.settledSparkDeg, D::sparkAngle},
                                            {std::abs(after), D::ratio}};
        words.push_back(
            std::abs(after) < unnoticed
                ? Phrase(
                      MARKED("pour.effect.settled", "Once it reads {0}: {1} where {2} is meant, spark {3}."),
                      numbers)
            : after > 0 ? Phrase(MARKED("pour.effect.settled.lean",
                                        "Once it reads {0}: lean by {4}, {1} where {2} is meant, spark {3}."),
                                 numbers)
                        : Phrase(MARKED("pour.effect.settled.rich",
                                        "Once it reads {0}: rich by {4}, {1} where {2} is meant, spark {3}."),
                                 numbers));
    }
    if (methanolInstead)
        words.push_back(
            Phrase(MARKED("pour.effect.methanol", "A content sensor cannot tell methanol from ethanol.")));
    return words;
}

} // namespace wheelwright
