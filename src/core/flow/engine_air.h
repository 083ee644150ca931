// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

namespace wheelwright {

/// Air mass drawn into one cylinder each cycle, mg: VE · p · V / (R T), R = 287.05 J/(kg K).
/// Heywood (1988) eq. 2.27 (volumetric efficiency against manifold conditions). ve is a share (0.95),
/// pressure in kPa absolute, displacement in litres of the one cylinder, temperature in °C.
double airPerCycleMg(double ve, double manifoldKpa, double cylinderL, double intakeC);

/// Air mass flow of a four-stroke engine, g/s. displacement in litres of the whole engine.
double airFlowGS(double ve, double manifoldKpa, double displacementL, double intakeC, double rpm);

} // namespace wheelwright
