// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/fuel/stoichiometry.h"

#include "core/base/error.h"

namespace wheelwright {
namespace {

constexpr double carbonMass = 12.011;   // g/mol, IUPAC conventional atomic weights
constexpr double hydrogenMass = 1.008;  // g/mol
constexpr double oxygenMass = 15.999;   // g/mol
constexpr double airPerOxygen = 4.773;  // mol of air per mol of O2: Heywood (1988) §3.4
constexpr double airMolarMass = 28.966; // g/mol, dry air

} // namespace

double molarMassGPerMol(const ChemicalFormula &f) {
    const double mass = carbonMass * f.carbon + hydrogenMass * f.hydrogen + oxygenMass * f.oxygen;
    if (!(mass > 0) || f.carbon < 0 || f.hydrogen < 0 || f.oxygen < 0)
        throw InputError("chemical formula", MARKED("expected.atoms_none_negative", "atoms, none negative"),
                         "a molar mass of " + std::to_string(mass));
    return mass;
}

double stoichiometricAfr(const ChemicalFormula &f) {
    const double oxygenNeeded = f.carbon + f.hydrogen / 4 - f.oxygen / 2;
    const double mass = molarMassGPerMol(f);
    if (!(oxygenNeeded > 0))
        throw InputError("chemical formula",
                         MARKED("expected.a_fuel_that_burns_with_oxygen", "a fuel that burns with oxygen"),
                         "a need of " + std::to_string(oxygenNeeded));
    return oxygenNeeded * airPerOxygen * airMolarMass / mass; // Heywood (1988) eq. 3.6
}

} // namespace wheelwright
