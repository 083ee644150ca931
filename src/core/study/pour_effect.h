// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/base/phrase.h"
#include "core/fuel/tank.h"
#include "core/study/study.h"

namespace wheelwright {

/// What happens when a fuel is just poured in and the calibration goes on for the content it had before: no
/// sensor, or one that cannot tell. Fuel is delivered for the old content, the new one needs another volume.
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
};

/// The calibration goes on for what was in the tank before.
PourEffect effectBetween(const Study &study, const TankState &before, const TankState &after);

/// The tank's content is the one the calibration is for. Throws InputError as afterPour().
PourEffect effectOfPour(const Study &study, const TankState &tank, double litres, const Blend &fuel,
                        const std::string &hydrocarbon = {});

/// In sentences: lean or rich by how much, spark too much or to spare, and what follows.
std::vector<Phrase> inWords(const PourEffect &effect, bool methanolInstead);

} // namespace wheelwright
