// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/flow/engine_air.h"

namespace wheelwright {
namespace {

constexpr double gasConstantAir = 287.05; // J/(kg K), dry air
constexpr double kelvinAtZeroC = 273.15;

} // namespace

double airPerCycleMg(double ve, double manifoldKpa, double cylinderL, double intakeC) {
    // kPa · L = J, so J / (J/(kg K) · K) is kg.
    return ve * manifoldKpa * cylinderL / (gasConstantAir * (intakeC + kelvinAtZeroC)) * 1e6;
}

double airFlowGS(double ve, double manifoldKpa, double displacementL, double intakeC, double rpm) {
    return airPerCycleMg(ve, manifoldKpa, displacementL, intakeC) * 1e-3 * rpm / 120; // a cycle is two turns
}

} // namespace wheelwright
