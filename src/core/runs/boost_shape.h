// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/runs/run_differences.h"

#include <optional>

namespace wheelwright {

/// What boost does over a run, over engine speed; kPa.
struct BoostShape {
    std::string run;       ///< id
    bool known = false;    ///< the run has manifold pressure, and more of it than the air around
    double reachedRpm = 0; ///< four fifths of the way from the air around to its last half
    double heldKpa = 0;    ///< absolute: median from there on
    double spikeKpa = 0;   ///< most in the first fifth of the speeds after that, over what it held
    double driftKpa = 0,
           driftErrorKpa = 0;        ///< rise (creep) or fall (sag) behind that fifth to the end, by a line
    double waveKpa = 0, waveRpm = 0; ///< amplitude about that line, and from crest to crest; 0: none
    std::optional<double> sensorOffKpa; ///< dyno's sensor less the controller's, mean; empty: one alone
    /// The solenoid stands at nine tenths and more while boost sags or stays under its target: nothing is
    /// left.
    std::optional<double> solenoidUsedUpRpm;
    std::vector<Phrase> said;
};
/// The air around a run: its own, where somebody says it, else the job's usual.
double ambientOf(const Job &job, const Run &run);
/// ambientKpa: the air around, absolute.
BoostShape boostShape(const MeasuredRun &run, double ambientKpa);

} // namespace wheelwright
