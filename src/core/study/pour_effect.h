// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/phrase.h"
#include "core/fuel/tank.h"
#include "core/study/study.h"

#include <optional>

namespace wheelwright {

/// What happens when a fuel is just poured in. Until a content sensor has read it, or without one, the
/// calibration goes on for the content it had before: fuel is delivered for that, the new one needs another
/// volume. Once it has been read, the controller works with what the sensor takes it for.
struct PourEffect {
    TankState after;
    double before = 0;       ///< alcohol content that the calibration is for, 0–1
    double content = 0;      ///< alcohol content after the pour
    double lambdaFactor = 1; ///< λ becomes this much of what it was: over 1 is lean
    double lambda = 0;       ///< at the worst place of the high-load area
    double lambdaTarget = 0; ///< there, as it was meant
    double sparkDeg = 0;     ///< of the old content, at the place where it is most over the new one's table
    double sparkOfContentDeg = 0; ///< what the tables say for the new content there
    double rpm = 0, loadKpa = 0;
    std::optional<double> ceilingDeg; ///< that the new content stands there, where somebody has said it

    bool follows = false; ///< there is a sensor that is followed; the rest is of then
    double reading = 0;   ///< that it settles at: methanol is taken for ethanol
    double settledLambda = 0, settledLambdaTarget = 0; ///< at the same place
    double settledSparkDeg = 0;
    double settledFactor() const { return settledLambda / settledLambdaTarget; }
};

/// The calibration goes on for what was in the tank before.
PourEffect effectBetween(const Study &study, const TankState &before, const TankState &after);

/// The tank's content is the one the calibration is for. Throws InputError as afterPour().
PourEffect effectOfPour(const Study &study, const TankState &tank, double litres, const Blend &fuel,
                        const std::string &hydrocarbon = {});

/// In sentences: lean or rich by how much, spark too much or to spare, and what follows.
std::vector<Phrase> inWords(const PourEffect &effect, bool methanolInstead);

} // namespace wheelwright
