// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "core/fuel/blend.h"

namespace wheelwright {

/// Water and methanol sprayed into the intake.
struct Spray {
    double ratedFlowCcMin = 0; ///< of all nozzles at the rated pressure
    double ratedPressureKpa = 700;
    double pressureKpa = 700; ///< in use, across the nozzle
    double methanol = 1;      ///< volume fraction of methanol, the rest water
    double startKpa = 150;    ///< manifold, absolute: nothing under it
    double fullKpa = 150;     ///< all of it from here; between, in proportion. At or over startKpa

    bool operator==(const Spray &) const = default;
};

/// Flow at full spray, cc/min: √ of the pressure, as every orifice.
double sprayFlowCcMin(const Spray &spray);
/// Flow at a manifold pressure, with the ramp.
double sprayFlowAt(const Spray &spray, double manifoldKpa);

/// Share that the main fuel must come down to so that λ stays what it was: 1 − ṁ_spray AFR_M / (ṁ_main AFR).
/// 0 and under: the spray brings more than the whole mixture asks for.
double sprayTrim(double mainFuelLMin, const BlendProperties &mainFuel, double sprayCcMin, double methanol,
                 const Component &methanolFuel);

struct SprayedMixture {
    double lambda = 0;       ///< of all fuel together: ṁ_air / Σ ṁᵢ AFRᵢ
    double trim = 1;         ///< share that the main fuel must come down to for the λ without spray
    double lambdaIfLost = 0; ///< λ with the trimmed main fuel when the spray stops
    double mainFuelGS = 0;
    double sprayFuelGS = 0; ///< methanol only; water is no fuel
};

/// Throws InputError for air, λ, flow or fractions that make no sense, and for a spray that brings more fuel
/// than the whole mixture asks for.
SprayedMixture withSpray(double airGS, double lambda, const BlendProperties &mainFuel, double sprayCcMin,
                         double methanol, const Component &methanolFuel = wheelwright::methanol());

} // namespace wheelwright
