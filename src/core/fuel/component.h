// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <string>

namespace wheelwright {

/// What a fuel can be made of, at 20 °C.
struct Component {
    std::string name;
    double densityKgM3 = 0;       ///< over 0
    double stoichiometricAfr = 0; ///< kg air per kg fuel, over 0
    double lowerHeatingValueMjKg = 0;
    double latentHeatKjKg = 0;
    double researchOctane = 0;
    double motorOctane = 0;
    double molarMassGMol = 0; ///< over 0; for a hydrocarbon blend its mean
    std::string origin;       ///< where the numbers come from

    bool operator==(const Component &) const = default;
};

/// Pump gasoline without alcohol: the hydrocarbon part of a pump fuel. Octane of a common European premium
/// grade.
Component defaultGasoline();
Component ethanol();
Component methanol();

} // namespace wheelwright
