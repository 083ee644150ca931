// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

namespace wheelwright {

/// Static flow at another differential pressure, in the unit of the rated flow: Q = Q_rated √(Δp/Δp_rated),
/// the orifice law. A Δp of 0 or less gives 0: nothing flows.
double injectorFlowAt(double ratedFlow, double ratedKpa, double differentialKpa);

/// Pressure across the injector, kPa. rail is gauge with the engine off, manifold and ambient absolute. A
/// regulator that follows boost keeps it constant.
double injectorDifferentialKpa(double railGaugeKpa, double manifoldKpa, double ambientKpa,
                               bool boostReferenced);

/// Pulse width, ms, for a fuel volume per cycle (mm³) from an injector of static flow (cc/min) and dead time
/// (ms).
double pulseWidthMs(double fuelMm3, double flowCcMin, double deadTimeMs);

} // namespace wheelwright
