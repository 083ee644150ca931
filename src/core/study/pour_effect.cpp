#include "core/study/pour_effect.h"

#include "core/base/limits.h"
#include "core/job/tank_history.h"
#include "core/study/load_axis.h"
#include "core/study/school.h"

#include <algorithm>
#include <cmath>

namespace wheelwright {
namespace {

constexpr double littleSpark = 0.5;  // °, of no account either way: common practice
constexpr double powerAreaKpa = 100; // spark matters from here up: common practice

// The breakpoint under boost, reachable at the old content, where the old spark is most over the new
// content's; where it is nowhere over, the largest step.
void findPlace(const Job &given, PourEffect &e) {
    const Job job = inPressure(given);
    const SchoolModel school(job);
    const Table2D tuned = blendedTable(school.at(CalibratedQuantity::spark, e.before));
    const Table2D low = blendedTable(school.at(CalibratedQuantity::spark, e.content));
    const Table2D boost = blendedTable(school.at(CalibratedQuantity::boost, e.before));
    const double overshoot = limitOf(job, "boost.overshoot");
    // Levels of content may have axes of their own.
    const auto meant = [&](std::size_t x, std::size_t y) {
        return low.lookup(tuned.x()[x], tuned.y()[y]).value;
    };
    constexpr double firstTheRisk = 1000;
    double most = -1;
    for (std::size_t x = 0; x < tuned.x().size(); ++x)
        for (std::size_t y = 0; y < tuned.y().size(); ++y) {
            const double rpm = tuned.x()[x], load = tuned.y()[y];
            const double reach = highestTarget(boost, rpm) + overshoot;
            const double over = tuned.cell(x, y) - meant(x, y);
            const bool judged = load >= powerAreaKpa && load <= reach && rpm <= job.engine.revLimitRpm;
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

PourEffect effectOfPour(const Job &job, const TankState &tank, double litres, const Blend &fuel,
                        const std::string &hydrocarbon) {
    return effectBetween(job, tank, afterPour(tank, litres, fuel, hydrocarbon));
}

PourEffect effectBetween(const Job &job, const TankState &tank, const TankState &after) {
    PourEffect e;
    e.after = after;
    e.before = alcoholOf(tank.content);
    e.content = alcoholOf(e.after.content);
    // The controller delivers the old content's volume: λ grows with what the new fuel needs more.
    e.lambdaFactor = volumeMultiplier(propertiesOf(job, e.after), propertiesOf(job, tank));
    findPlace(job, e);
    const BlendedPoint there = blendedPoint(job, e.before, e.rpm, e.loadKpa);
    e.lambdaTarget = there.lambda;
    e.lambda = there.lambda * e.lambdaFactor;
    return e;
}

Phrase inWords(const PourEffect &e, bool methanolInstead) {
    const double step = e.lambdaFactor - 1;
    Phrase p;
    const auto say = [&](const std::string &words, Measured value) {
        p.text += words;
        p.text += "{" + std::to_string(p.values.size()) + "}";
        p.values.push_back(value);
    };
    constexpr double unnoticed = 0.005;
    if (std::abs(step) < unnoticed)
        p.text = "The mixture stays as it was";
    else
        say(step > 0 ? "Lean by " : "Rich by ", {std::abs(step), Dimension::ratio});
    say(": ", {e.lambda, Dimension::mixture});
    say(" where ", {e.lambdaTarget, Dimension::mixture});
    say(" was meant, at ", {e.rpm, Dimension::engineSpeed});
    say(", ", {e.loadKpa, Dimension::pressure});
    p.text += ". ";
    const double over = e.sparkDeg - e.sparkOfContentDeg;
    if (over > littleSpark) {
        say("Spark stands ", {over, Dimension::sparkAngle});
        say(" over what the tables say for ", {e.content, Dimension::content});
        p.text += ": knock. Do not load the engine on this fuel without changing the calibration.";
    } else if (over < -littleSpark) {
        say("Spark stands ", {-over, Dimension::sparkAngle});
        p.text += " under what this fuel would take: no danger, power left behind.";
    } else {
        p.text += "Spark is about right.";
    }
    constexpr double lean = 0.03; // common practice: the tolerance of a content window
    if (step > lean)
        p.text += " Lean mixture under boost destroys engines: stay off the throttle until the fuel is in "
                  "the tables.";
    if (methanolInstead) p.text += " A content sensor cannot tell methanol from ethanol.";
    return p;
}

} // namespace wheelwright
